#pragma once

#include "core/defocus/surfaces/pixel_colour.h"
#include "core/system/run.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

/// Straight lines of pixels behind things that have an end on both sides.
namespace retinex::defocus {

inline constexpr int kLineDirections = 20;   ///< over half a turn
inline constexpr float kLongestLine = 48.0F; ///< px from a pixel to an end of its line
inline constexpr int kAcross = 2;            ///< px to each side of a line's end that are compared

/// A pixel and some of those around it: where lines may begin, and which way.
class LineStart
{
public:
    explicit LineStart(const PixelPlace& place) : m_place(place) {}

    [[nodiscard]] const PixelPlace& place() const noexcept { return m_place; }
    void add(const PixelPlace& neighbour) noexcept { m_neighbours |= bit(neighbour); }
    [[nodiscard]] bool has(const PixelPlace& neighbour) const noexcept
    {
        return (m_neighbours & bit(neighbour)) != 0;
    }
    [[nodiscard]] bool hasAny() const noexcept { return m_neighbours != 0; }

private:
    [[nodiscard]] unsigned bit(const PixelPlace& at) const noexcept
    {
        return 1U << static_cast<unsigned>(3 * (at.y - m_place.y + 1) + at.x - m_place.x + 1);
    }

    PixelPlace m_place;
    unsigned m_neighbours = 0; ///< a bit for each, row after row of 3 x 3
};

/// All lines of one direction: a pixel lies on exactly one of them, and a step goes on by one pixel along the
/// axis that the direction is nearer to.
class LineDirection
{
public:
    LineDirection(double angle, int width, int height)
        : m_alongX(std::abs(std::cos(angle)) >= std::abs(std::sin(angle)))
    {
        // In 64ths, so that lines lie alike in a picture that is cut out at multiples of 64 px.
        const double slope = std::round(64.0 * (m_alongX ? std::tan(angle) : 1.0 / std::tan(angle))) / 64.0;
        const int count = m_alongX ? width : height;
        m_sizeAcross = m_alongX ? height : width;
        m_stride = m_alongX ? width : 1;
        m_shift.reserve(static_cast<std::size_t>(count));
        for (int i = 0; i < count; ++i) {
            m_shift.push_back(static_cast<int>(std::floor(slope * i + 0.5)));
            m_pixel.push_back(m_shift.back() * m_stride +
                              (m_alongX ? i : static_cast<std::ptrdiff_t>(i) * width));
        }
        m_step = static_cast<float>(std::hypot(1.0, slope));
        m_slope = static_cast<float>(slope);
        for (int k = -kAcross; k <= kAcross; ++k)
            across[static_cast<std::size_t>(k + kAcross)] = {
                static_cast<int>(std::lround(-k * std::sin(angle))),
                static_cast<int>(std::lround(k * std::cos(angle)))};
    }

    std::array<PixelPlace, 2 * kAcross + 1> across;

    [[nodiscard]] float stepLength() const { return m_step; }

    /// The neighbour across the axis.
    [[nodiscard]] PixelPlace beside(const PixelPlace& at, int side) const
    {
        return m_alongX ? PixelPlace{at.x, at.y + side} : PixelPlace{at.x + side, at.y};
    }

    /// How far, across the axis, the straight line through the middle of `from` passes beside that of `to`,
    /// both on one line of pixels.
    [[nodiscard]] float offset(const PixelPlace& from, const PixelPlace& to) const
    {
        return m_alongX ? static_cast<float>(from.y - to.y) + m_slope * static_cast<float>(to.x - from.x)
                        : static_cast<float>(from.x - to.x) + m_slope * static_cast<float>(to.y - from.y);
    }

    /// The pixel `steps` on; false beyond the picture along the axis.
    [[nodiscard]] bool step(const PixelPlace& from, int steps, PixelPlace& to) const
    {
        const int at = m_alongX ? from.x : from.y;
        const int next = at + steps;
        if (next < 0 || next >= static_cast<int>(m_shift.size())) return false;
        const int shift = m_shift[static_cast<std::size_t>(next)] - m_shift[static_cast<std::size_t>(at)];
        to = m_alongX ? PixelPlace{next, from.y + shift} : PixelPlace{from.x + shift, next};
        return true;
    }

    /// What a walk along a line does at a pixel.
    enum class Walk { on, arrived, lost };

    /// Walks from `from` on, at most `most` steps, as look(number of the pixel in its plane) says: how many
    /// steps away it arrived. 0 where it is lost, leaves the picture, or goes on.
    template <class Look>
    [[nodiscard]] int walk(const PixelPlace& from, int most, Look look) const
    {
        const int at = m_alongX ? from.x : from.y;
        const int aside = (m_alongX ? from.y : from.x) - m_shift[static_cast<std::size_t>(at)];
        const int last = std::min(most, static_cast<int>(m_shift.size()) - 1 - at);
        for (int steps = 1; steps <= last; ++steps) {
            const auto next = static_cast<std::size_t>(at + steps);
            const int beside = aside + m_shift[next];
            if (beside < 0 || beside >= m_sizeAcross) return 0;
            const Walk what = look(static_cast<std::size_t>(aside * m_stride + m_pixel[next]));
            if (what == Walk::lost) return 0;
            if (what == Walk::arrived) return steps;
        }
        return 0;
    }

private:
    bool m_alongX;
    int m_sizeAcross = 0;        ///< of the picture, px
    std::ptrdiff_t m_stride = 1; ///< from one pixel to the next across
    std::vector<int> m_shift;    ///< across, at each place along
    /// The number of the pixel there, of the line through pixel 0: beyond an int in wide pictures.
    std::vector<std::ptrdiff_t> m_pixel;
    float m_step = 1.0F;
    float m_slope = 0.0F;
};

/// All directions, each once.
inline std::vector<LineDirection> lineDirections(int width, int height)
{
    std::vector<LineDirection> directions;
    for (int i = 0; i < kLineDirections; ++i)
        directions.emplace_back(std::numbers::pi * i / kLineDirections, width, height);
    return directions;
}

inline constexpr float kLineSharpness = 30.0F;
inline constexpr float kLengthCosts = 0.004F; ///< a px of length, as so much difference

/// How much a line of `length` px counts whose ends differ by a share of their brightness.
inline float lineWeight(float differ, float length)
{
    return std::exp(-kLineSharpness * (differ + kLengthCosts * length)) / length;
}

/// How alike the ends of a line of that weight look, whatever its length: 1, entirely.
inline float endsAlike(float weight, float length)
{
    return std::min(1.0F, weight * length * std::exp(kLineSharpness * kLengthCosts * length));
}

/// How much a line of so many steps from a to b counts: the more alike its two ends look across it, and the
/// shorter it is, the more. tells(pixel): whether that pixel shows the same surface. A line does not end in
/// the middle of a pixel: the second end is looked at between pixels.
template <class Tells>
[[nodiscard]] float lineWeight(const RgbaImage& colour, const PixelPlace& a, const PixelPlace& b,
                               const LineDirection& direction, Tells tells)
{
    const float offset = direction.offset(a, b);
    const int side = offset < 0.0F ? -1 : 1;
    float differ = 0.0F;
    float size = 1e-4F;
    for (const PixelPlace& step : direction.across) {
        const PixelPlace atA{a.x + step.x, a.y + step.y};
        const PixelPlace atB{b.x + step.x, b.y + step.y};
        if (!tells(atA) || !tells(atB)) continue;
        const Colour ca = colourAt(colour, atA.x, atA.y);
        Colour cb = colourAt(colour, atB.x, atB.y);
        if (const PixelPlace beside = direction.beside(atB, side); tells(beside))
            cb = between(cb, colourAt(colour, beside.x, beside.y), std::abs(offset));
        differ += distanceSquared(ca, cb);
        size += distanceSquared(ca, {}) + distanceSquared(cb, {});
    }
    const float length =
        direction.stepLength() * static_cast<float>(std::max(std::abs(a.x - b.x), std::abs(a.y - b.y)));
    return lineWeight(std::sqrt(differ / size), length);
}

/// Squares of pixels that lines are drawn from: what lies on one line is then near by in memory, lines from
/// squares with another between them never meet, and those of every second square can be drawn at once.
class LineBlocks
{
public:
    static constexpr int size = 192;
    static_assert(size >= 2.0F * (2.0F * kLongestLine));

    LineBlocks(int width, int height)
        : m_width(width), m_height(height), m_columns((width + size - 1) / size),
          m_rows((height + size - 1) / size)
    {
    }

    [[nodiscard]] int count() const { return m_columns * m_rows; }
    [[nodiscard]] int rows() const { return m_rows; }
    /// The square that a pixel lies in.
    [[nodiscard]] int at(int x, int y) const { return y / size * m_columns + x / size; }
    /// Calls visit(x, y) for the pixels of a square, row after row.
    template <class Visit>
    void eachPixel(int block, Visit visit) const
    {
        const int left = block % m_columns * size;
        const int top = block / m_columns * size;
        for (int y = top; y < std::min(top + size, m_height); ++y)
            for (int x = left; x < std::min(left + size, m_width); ++x)
                visit(x, y);
    }
    /// Calls draw(block) for all, at once where lines do not meet.
    template <class Draw>
    void drawEach(const Run& run, Draw draw) const
    {
        for (int phase = 0; phase < 4; ++phase) {
            std::vector<int> blocks;
            for (int y = phase / 2; y < m_rows; y += 2)
                for (int x = phase % 2; x < m_columns; x += 2)
                    blocks.push_back(y * m_columns + x);
            parallelFor(static_cast<int>(blocks.size()), run,
                        [&](int i) { draw(blocks[static_cast<std::size_t>(i)]); });
        }
    }

private:
    int m_width; ///< of the picture
    int m_height;
    int m_columns;
    int m_rows;
};

} // namespace retinex::defocus
