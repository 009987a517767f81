#include "core/depth/conditioning.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace retinex::depth {

namespace {

/// An edge is a jump of more than this share of the larger number.
constexpr float kEdgeShare = 0.04F;
/// A step belongs to a run while it is at least this share of the whole.
constexpr float kStepShare = 0.12F;
constexpr int kWidestRun = 3;

/// Weighted mean of the pixels `reach` away in eight directions and the middle, by `weight(difference)`.
template <class Weight>
void averageRow(const Plane<float>& from, int y, int reach, Weight weight, float* out)
{
    static constexpr std::array<std::pair<int, int>, 8> ring{
        {{-1, 0}, {1, 0}, {0, -1}, {0, 1}, {-1, -1}, {1, -1}, {-1, 1}, {1, 1}}};
    for (int x = 0; x < from.width(); ++x) {
        const float middle = from.at(x, y);
        out[x] = middle;
        if (!std::isfinite(middle)) continue;
        float sum = 2.0F * middle;
        float total = 2.0F;
        for (const auto& [dx, dy] : ring) {
            const int sx = x + dx * reach;
            const int sy = y + dy * reach;
            if (!from.contains(sx, sy)) continue;
            const float value = from.at(sx, sy);
            if (!std::isfinite(value)) continue;
            const float w = weight(value - middle, middle);
            sum += w * value;
            total += w;
        }
        out[x] = sum / total;
    }
}

constexpr int kBlock = 8; ///< px; more than a run reaches beyond its pixel

struct Span
{
    float least = std::numeric_limits<float>::infinity();
    float most = -std::numeric_limits<float>::infinity();

    void add(const Span& other)
    {
        least = std::min(least, other.least);
        most = std::max(most, other.most);
    }
    /// No two numbers between these ends are an edge.
    [[nodiscard]] bool isEven() const { return least > 0.0F && most - least <= kEdgeShare * least; }
};

/// Blocks that no edge lies in or next to: most of a picture, and quickly told.
Plane<std::uint8_t> evenBlocks(const Plane<float>& stored, const Run& run)
{
    const int columns = (stored.width() + kBlock - 1) / kBlock;
    const int rows = (stored.height() + kBlock - 1) / kBlock;
    Plane<Span> spans(columns, rows);
    parallelFor(rows, {run.threads, {}, run.stop}, [&](int row) {
        for (int y = row * kBlock; y < std::min(stored.height(), (row + 1) * kBlock); ++y)
            for (int x = 0; x < stored.width(); ++x) {
                const float value = stored.at(x, y); // one that is no number leaves the block uneven
                spans.at(x / kBlock, row).add(std::isfinite(value) ? Span{value, value} : Span{0.0F, 0.0F});
            }
    });
    Plane<std::uint8_t> even(columns, rows);
    for (int row = 0; row < rows; ++row)
        for (int column = 0; column < columns; ++column) {
            Span around;
            for (int y = std::max(0, row - 1); y <= std::min(rows - 1, row + 1); ++y)
                for (int x = std::max(0, column - 1); x <= std::min(columns - 1, column + 1); ++x)
                    around.add(spans.at(x, y));
            even.at(column, row) = around.isEven() ? 1 : 0;
        }
    return even;
}

} // namespace

EdgeRun edgeRun(const float* line, int count, std::ptrdiff_t stride, int at)
{
    const auto value = [&](int i) { return line[i * stride]; };
    EdgeRun none{value(at), value(at), -1};
    if (at <= 0 || at >= count - 1 || !std::isfinite(value(at))) return none;
    const float before = value(at) - value(at - 1);
    const float after = value(at + 1) - value(at);
    if (!(before * after > 0.0F)) return none; // NaN too
    const float sign = before > 0.0F ? 1.0F : -1.0F;
    // The whole is not known before its ends are: what lies within reach on both sides bounds it.
    int first = at - 1;
    int last = at + 1;
    const auto goesOn = [&](int i, int j) {
        const float step = sign * (value(j) - value(i));
        return step > kStepShare * sign * (value(last) - value(first));
    };
    while (first > 0 && last - first <= kWidestRun + 1 && goesOn(first - 1, first))
        --first;
    while (last + 1 < count && last - first <= kWidestRun + 1 && goesOn(last, last + 1))
        ++last;
    const float whole = std::abs(value(last) - value(first));
    // Small steps at the ends belong to the surfaces, not to the edge.
    while (first < at && sign * (value(first + 1) - value(first)) < kStepShare * whole)
        ++first;
    while (last > at && sign * (value(last) - value(last - 1)) < kStepShare * whole)
        --last;
    if (first >= at || last <= at) return none;
    if (last - first - 1 > kWidestRun ||
        !(whole > kEdgeShare * std::max(std::abs(value(first)), std::abs(value(last)))))
        return none;
    // A slope goes on beyond the run; an edge does not.
    const float outside = std::max(first > 0 ? std::abs(value(first) - value(first - 1)) : 0.0F,
                                   last + 1 < count ? std::abs(value(last + 1) - value(last)) : 0.0F);
    const auto steps = static_cast<float>(last - first);
    const bool peak = (first > 0 && sign * (value(first) - value(first - 1)) < 0.0F) ||
                      (last + 1 < count && sign * (value(last + 1) - value(last)) < 0.0F);
    if (!peak && outside * steps > 0.5F * whole) return none;
    return {value(first), value(last), last - first - 1};
}

Plane<float> snapped(const Plane<float>& stored, const Run& run)
{
    Plane<float> result = stored;
    const int width = stored.width();
    const int height = stored.height();
    const Plane<std::uint8_t> even = evenBlocks(stored, run);
    parallelFor(height, {run.threads, {}, run.stop}, [&](int y) {
        for (int x = 0; x < width; ++x) {
            if (even.at(x / kBlock, y / kBlock) != 0) {
                x |= kBlock - 1; // on to the next one
                continue;
            }
            // Rows, columns and the two diagonals, each as a line through this pixel.
            const int up = std::min(x, y);
            const int down = std::min(width - 1 - x, y);
            const std::array<EdgeRun, 4> runs{
                edgeRun(stored.row(y), width, 1, x), edgeRun(stored.row(0) + x, height, width, y),
                edgeRun(&stored.at(x - up, y - up), up + 1 + std::min(width - 1 - x, height - 1 - y),
                        width + 1, up),
                edgeRun(&stored.at(x + down, y - down), down + 1 + std::min(x, height - 1 - y), width - 1,
                        down)};
            const auto jump = [](const EdgeRun& r) { return r.inner > 0 ? std::abs(r.to - r.from) : -1.0F; };
            const EdgeRun& best =
                *std::max_element(runs.begin(), runs.end(),
                                  [&](const EdgeRun& a, const EdgeRun& b) { return jump(a) < jump(b); });
            if (best.inner <= 0) continue;
            const float here = stored.at(x, y);
            result.at(x, y) = std::abs(here - best.from) <= std::abs(here - best.to) ? best.from : best.to;
        }
    });
    return result;
}

namespace {

/// Mean of a pixel and of the pairs `reach` away on both its sides, where both and what lies half-way are
/// alike: a pair leaves a slope as it is, and a surface that does not go on as far is not reached over.
float pairedMean(const Plane<float>& values, const Plane<std::uint8_t>& gaps, int x, int y, int reach,
                 float alike)
{
    static constexpr std::array<std::pair<int, int>, 4> directions{{{1, 0}, {0, 1}, {1, 1}, {1, -1}}};
    const float middle = values.at(x, y);
    const auto isAlike = [&](int sx, int sy) {
        return values.contains(sx, sy) && gaps.at(sx, sy) == 0 &&
               std::abs(values.at(sx, sy) - middle) <= alike;
    };
    float sum = middle;
    float total = 1.0F;
    for (const auto& [dx, dy] : directions) {
        bool whole = true;
        for (const int r : {reach / 4, reach / 2, 3 * reach / 4, reach})
            whole = whole && isAlike(x + r * dx, y + r * dy) && isAlike(x - r * dx, y - r * dy);
        if (!whole) continue;
        sum += values.at(x + reach * dx, y + reach * dy) + values.at(x - reach * dx, y - reach * dy);
        total += 2.0F;
    }
    return sum / total;
}

} // namespace

Plane<float> smoothedSteps(const Plane<float>& stored, const Plane<std::uint8_t>& gaps, double step,
                           const Run& run)
{
    Plane<float> values = stored;
    Plane<float> next(stored.width(), stored.height());
    const auto half = static_cast<float>(0.5 * step);
    const auto alike = static_cast<float>(1.5 * step);
    // Wide reaches first: a plateau of a shallow slope may be a hundred pixels across.
    for (const int reach : {48, 32, 24, 16, 12, 8, 6, 4, 3, 2, 1, 1}) {
        parallelFor(stored.height(), {run.threads, {}, run.stop}, [&](int y) {
            for (int x = 0; x < stored.width(); ++x) {
                float& out = next.at(x, y);
                out = stored.at(x, y);
                if (gaps.at(x, y) != 0) continue;
                out = std::clamp(pairedMean(values, gaps, x, y, reach, alike), out - half, out + half);
            }
        });
        std::swap(values, next);
    }
    return values;
}

Plane<float> softened(const Plane<float>& distance, double reachPx, const Run& run)
{
    // In reciprocals a plane is straight, so averaging does not bend it.
    Plane<float> values(distance.width(), distance.height());
    std::transform(distance.pixels().begin(), distance.pixels().end(), values.pixels().begin(), [](float d) {
        return std::isfinite(d) ? 1.0F / d : std::numeric_limits<float>::infinity();
    });
    Plane<float> next(distance.width(), distance.height());
    constexpr float alike = 0.04F; // share of the distance: well above noise, well below an edge
    int reach = 1;
    while (reach * 2 <= static_cast<int>(std::ceil(reachPx)))
        reach *= 2;
    for (; reach >= 1; reach /= 2) {
        parallelFor(values.height(), {run.threads, {}, run.stop}, [&](int y) {
            averageRow(
                values, y, reach,
                [](float difference, float middle) {
                    const float t = difference / (alike * std::max(middle, 1e-12F));
                    return std::exp(-t * t);
                },
                next.row(y));
        });
        std::swap(values, next);
    }
    std::transform(values.pixels().begin(), values.pixels().end(), values.pixels().begin(), [](float r) {
        return std::isfinite(r) ? 1.0F / r : std::numeric_limits<float>::infinity();
    });
    return values;
}

double remapped(double distance, const std::vector<std::pair<double, double>>& points) noexcept
{
    if (points.empty()) return distance;
    if (distance <= points.front().first) return distance + points.front().second - points.front().first;
    if (distance >= points.back().first) return distance + points.back().second - points.back().first;
    const auto next = std::upper_bound(points.begin(), points.end(), distance,
                                       [](double d, const auto& p) { return d < p.first; });
    const auto& [x1, y1] = *next;
    const auto& [x0, y0] = *(next - 1);
    return y0 + (distance - x0) / (x1 - x0) * (y1 - y0);
}

} // namespace retinex::depth
