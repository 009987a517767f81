#pragma once

#include "core/image/image.h"
#include "core/system/run.h"
#include "core/system/words.h"

#include <cmath>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

/// From stored numbers to distance. Inside, depth is always planar distance in scene units, +inf where there
/// is no surface. s is a stored number, d the distance, n and f the settings `nearest` and `farthest`.
namespace retinex::depth {

// clang-format off
/// The rule that turns stored numbers into distance.
///
///   distanceFromCameraPlane   d = s
///   distanceBelowZero         d = -s: a camera that looks down its -z axis (OpenGL's and glTF's eye space)
///   distanceAlongRay          d = s / sqrt(1 + u^2 + v^2), (u, v) the pixel's place on the plane at distance 1
///   reciprocalDistance        d = 1 / s
///   greyNearBright            t = (high - s) / (high - low), then by spacing
///   greyNearDark              t = (s - low) / (high - low), then by spacing
///                             even in distance: d = n + t (f - n); even in 1/distance: 1/d = (1-t)/n + t/f
///   clipSpace                 d = n f / (f - w (f - n)), w the stored number brought to 0 (near) .. 1 (far);
///                             f may be +inf: d = n / (1 - w). It inverts the depth row of the perspective
///                             matrix (OpenGL 4.6 core specification, 13.8 "Coordinate Transformations").
// clang-format on
enum class Reading {
    distanceFromCameraPlane,
    distanceBelowZero,
    distanceAlongRay,
    reciprocalDistance,
    greyNearBright,
    greyNearDark,
    clipSpace
};
constexpr int kReadingCount = 7;
/// The vocabulary's words: "distance from camera plane", "grey, near is bright", ...
[[nodiscard]] std::string_view title(Reading reading) noexcept;
[[nodiscard]] bool isGrey(Reading reading) noexcept;
/// True for readings that need `nearest` and `farthest` to give a distance.
[[nodiscard]] bool needsEnds(Reading reading) noexcept;

enum class Spacing { distance, reciprocal }; ///< what a grey runs evenly in
enum class Encoding { linear, sRgb };        ///< how a picture format wrote its numbers
enum class ClipRange { zeroToOne, minusOneToOne, oneToZero };

/// Which pixels are gaps, and the distance they are given. NaN and infinite numbers are gaps always; so are
/// numbers below 0 where distances are read, and above 0 where distances below 0 are.
struct GapRules
{
    enum class Place { far, distance, neighbours };

    bool zero = true;          ///< 0 is a gap
    bool outsideAlpha = false; ///< pixels with alpha 0 are gaps
    /// Stored numbers from this one on are gaps; of distances below 0 those that lie as far the other way.
    double from = std::numeric_limits<double>::infinity();
    Place place = Place::far;
    double distance = 100.0; ///< scene units, for Place::distance
    friend bool operator==(const GapRules&, const GapRules&) = default;
};

/// Mending of a depth pass; nothing by default. See conditioning.h.
struct Conditioning
{
    bool snapEdges = false;
    int smoothLevels = 0;  ///< grey levels whose steps are smoothed (255 for 8 bits); 0: none
    double softenPx = 0.0; ///< reach of the edge-keeping softening; 0: none
    double offset = 0.0;   ///< scene units, added to every distance
    /// Distance before and after, rising in both; straight between, shifted beyond the ends. Empty: none.
    std::vector<std::pair<double, double>> remap;
    friend bool operator==(const Conditioning&, const Conditioning&) = default;
};

struct ReadingSettings
{
    Reading reading = Reading::distanceFromCameraPlane;
    bool reversed = false; ///< the numbers run the other way: s becomes storedLow + storedHigh - s
    Spacing spacing = Spacing::distance;
    Encoding encoding = Encoding::linear;
    ClipRange clipRange = ClipRange::zeroToOne;
    double storedLow = 0.0; ///< the stored numbers of a grey's two ends
    double storedHigh = 1.0;
    /// Scene units; the ends of a grey reading, the clip planes, and what clamp holds to. A grey that is even
    /// in distance may begin at 0.
    double nearest = 1.0;
    double farthest = 10.0;
    bool clamp = false;          ///< hold distances between nearest and farthest
    double fieldOfViewDeg = 0.0; ///< across the frame's width, for distances along the ray; 0: by the lens
    GapRules gaps;
    Conditioning conditioning;

    /// Throws Error naming the setting that is out of range.
    void check() const;
    /// Settles what fits alone and not together (ends that cross, a curve that falls) with as little change
    /// as check() takes. Returns what was wrong and what it became, a clause each: "farthest, 2, is not
    /// beyond nearest, 5: they are exchanged".
    std::vector<std::string> reconcile();
    friend bool operator==(const ReadingSettings&, const ReadingSettings&) = default;
};

/// For hand-made depth: everything lies at one distance, that of gaps.
[[nodiscard]] ReadingSettings handMadeReading() noexcept;

/// Swaps near and far: greys change their kind, clip space its direction, other readings `reversed`. Calling
/// it twice is calling it never.
void reverse(ReadingSettings& settings) noexcept;
/// Sets an end and keeps it from crossing the other one: nearest stays at least 0.1 % below farthest.
void setNearest(ReadingSettings& settings, double distance) noexcept;
void setFarthest(ReadingSettings& settings, double distance) noexcept;

/// The same reading with the ends at their defaults where no distance depends on them (they are a scale to
/// look at then): equal readings make equal distances.
[[nodiscard]] ReadingSettings essential(ReadingSettings settings) noexcept;

/// Where pixels lie in the view, for distances along the ray. Planes may be larger than the frame (overscan).
struct ViewGeometry
{
    double frameWidth = 0.0; ///< px
    double frameHeight = 0.0;
    double left = 0.0; ///< where the frame begins in the plane, px
    double top = 0.0;
    double pixelAspect = 1.0;
    double fieldOfViewDeg = 40.0; ///< across the frame's width
};

/// d / s at a pixel: the cosine of the angle between its ray and the axis.
class PlanarShare
{
public:
    explicit PlanarShare(const ViewGeometry& view) noexcept;
    [[nodiscard]] double operator()(int x, int y) const noexcept
    {
        const double u = (x - m_middleX) * m_perPixelX;
        const double v = (y - m_middleY) * m_perPixelY;
        return 1.0 / std::sqrt(1.0 + u * u + v * v);
    }

private:
    double m_middleX;
    double m_middleY;
    double m_perPixelX;
    double m_perPixelY;
};

/// One number, without gaps, conditioning and clamp: the formula of the reading. +inf where it has no finite
/// answer (a reciprocal of 0, clip space beyond its far plane).
[[nodiscard]] double distanceOf(double stored, const ReadingSettings& settings) noexcept;
/// The inverse: which stored number stands for a distance (planar; along the ray it is that on the axis).
[[nodiscard]] double storedOf(double distance, const ReadingSettings& settings) noexcept;

/// The way from one stored number to a distance, for samples that are no picture (deep passes): formula,
/// offset, remap and clamp, without mending of neighbours. What has no distance is given the far end or the
/// rules' own.
class SampleReading
{
public:
    SampleReading(const ReadingSettings& settings, const ViewGeometry& view) noexcept
        : m_settings(settings), m_share(view)
    {
    }
    /// > 0, +inf for the far end. `x`, `y`: the pixel.
    [[nodiscard]] float operator()(float stored, int x, int y) const noexcept;

private:
    const ReadingSettings& m_settings;
    PlanarShare m_share;
};

struct DistanceResult
{
    Plane<float> distance;    ///< scene units; gaps hold the distance they were given, +inf for the far end
    Plane<std::uint8_t> gaps; ///< 1 where the pass has no depth
    std::size_t gapCount = 0; ///< pixels
};

/// The whole way from a stored pass to distances: gaps, mending, formula, clamp, distances for gaps. `alpha`
/// may be null (opaque); otherwise it has the size of `stored`.
[[nodiscard]] DistanceResult toDistance(const Plane<float>& stored, const Plane<float>* alpha,
                                        const ReadingSettings& settings, const ViewGeometry& view,
                                        const Run& run = {});
/// With the usual settings: distances from the camera plane; 0, below 0, infinite and NaN are gaps.
[[nodiscard]] DistanceResult toDistance(const Plane<float>& stored);

/// The mask of gaps alone, by the rules and on the stored numbers.
[[nodiscard]] Plane<std::uint8_t> gapMask(const Plane<float>& stored, const Plane<float>* alpha,
                                          const ReadingSettings& settings);

} // namespace retinex::depth

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 7> kWords<depth::Reading>{
    "distance", "below-zero", "ray", "reciprocal", "near-bright", "near-dark", "clip"};

template <>
inline constexpr std::array<std::string_view, 2> kWords<depth::Spacing>{"distance", "reciprocal"};

template <>
inline constexpr std::array<std::string_view, 2> kWords<depth::Encoding>{"linear", "srgb"};

template <>
inline constexpr std::array<std::string_view, 3> kWords<depth::ClipRange>{"0..1", "-1..1", "1..0"};

template <>
inline constexpr std::array<std::string_view, 3> kWords<depth::GapRules::Place>{"far", "distance",
                                                                                "neighbours"};

} // namespace retinex
