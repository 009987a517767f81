#pragma once

#include "core/image/image.h"

#include <algorithm>
#include <array>
#include <cmath>

/// What the parts of edge repair share: single pixels and their neighbourhoods.
namespace retinex::defocus {

using Colour = std::array<float, RgbaImage::channels>;

/// Radii of neighbours on one surface differ by less, in px, or in share of the radius.
inline constexpr float kEdgePx = 0.5F;
inline constexpr float kEdgeShare = 0.08F;

/// Whether two radii differ by more than so many px, and by more than a share of the smaller.
inline bool radiiDiffer(float a, float b, float px, float share)
{
    return std::abs(a - b) > std::max(px, share * std::min(std::abs(a), std::abs(b)));
}

inline bool isEdge(float a, float b)
{
    return radiiDiffer(a, b, kEdgePx, kEdgeShare);
}

/// Whether a surface of that radius lies behind one of radius `other`, across an edge.
inline bool liesBehind(float radius, float other)
{
    return radius > other && isEdge(radius, other);
}

/// A pixel of the picture.
struct PixelPlace
{
    int x = 0;
    int y = 0;
};

inline Colour colourAt(const RgbaImage& image, int x, int y)
{
    Colour colour{};
    for (int c = 0; c < RgbaImage::channels; ++c)
        colour[static_cast<std::size_t>(c)] = image.plane(c).at(x, y);
    return colour;
}

inline void setColour(RgbaImage& image, int x, int y, const Colour& colour)
{
    for (int c = 0; c < RgbaImage::channels; ++c)
        image.plane(c).at(x, y) = colour[static_cast<std::size_t>(c)];
}

inline float distanceSquared(const Colour& a, const Colour& b)
{
    float sum = 0.0F;
    for (std::size_t c = 0; c < a.size(); ++c)
        sum += (a[c] - b[c]) * (a[c] - b[c]);
    return sum;
}

/// How much light there is: what differences are held against, so that exposure changes nothing.
inline float lightSquared(const Colour& colour)
{
    return colour[0] * colour[0] + colour[1] * colour[1] + colour[2] * colour[2];
}

/// Whether two colours differ by more than a share of their brightness; below `dark` that counts for less.
inline bool coloursDiffer(const Colour& a, const Colour& b, float share, float dark)
{
    return distanceSquared(a, b) > share * share * (lightSquared(a) + lightSquared(b) + dark);
}

/// From `a` to `b`, `share` of the way.
inline Colour between(const Colour& a, const Colour& b, float share)
{
    Colour colour = a;
    for (std::size_t c = 0; c < colour.size(); ++c)
        colour[c] += share * (b[c] - a[c]);
    return colour;
}

inline float brightnessOf(const Colour& colour)
{
    return std::max({colour[0], colour[1], colour[2], 0.0F});
}

/// Calls visit(x, y) for the pixels of the picture within `reach` of (x, y), itself included.
template <class T, class Visit>
void around(const Plane<T>& plane, int x, int y, int reach, Visit visit)
{
    for (int ny = std::max(0, y - reach); ny <= std::min(plane.height() - 1, y + reach); ++ny)
        for (int nx = std::max(0, x - reach); nx <= std::min(plane.width() - 1, x + reach); ++nx)
            visit(nx, ny);
}

} // namespace retinex::defocus
