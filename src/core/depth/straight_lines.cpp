#include "core/depth/straight_lines.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace retinex::depth {

namespace {

constexpr int kBins = 641;
constexpr double kReach = 2.0;
constexpr double kLeastRise = 0.004;
/// A pole right beside the numbers is what curvature pretends, not what a reading has.
constexpr double kFarthestVote = 1.94;
constexpr int kSmooth = 12; ///< bins about a peak that count for it

int binOf(double q)
{
    return static_cast<int>(std::lround((q + kReach) / (2.0 * kReach) * (kBins - 1)));
}

double positionOf(int bin)
{
    return 2.0 * kReach * bin / (kBins - 1) - kReach;
}

/// Three numbers in a row at equal spacing. p follows from 1/(b-p) = (1/(a-p) + 1/(c-p)) / 2, which is linear
/// in p: p (2b - a - c) = b (a + c) - 2 a c.
double poleOffset(double a, double b, double c, double middle, double span)
{
    const double bend = 2.0 * b - a - c;
    const double moment = b * (a + c) - 2.0 * a * c;
    return span * bend / (moment - middle * bend);
}

/// Five numbers in a row on one surface, and what they say. A flat surface gives the same answer over every
/// part of its length; a curved one does not, and is left out.
class Voter
{
public:
    static constexpr double none = 99.0;

    Voter(NumberRange range, double quantum)
        : m_middle(0.5 * (range.low + range.high)), m_span(range.high - range.low), m_step(quantum * m_span)
    {
    }

    [[nodiscard]] double vote(const double (&v)[5]) const
    {
        const double rise = v[4] - v[0];
        // A small rise says little of the pole and much of any curvature.
        if (std::abs(rise) < std::max(16.0 * m_step, kLeastRise * m_span)) return none;
        for (int i = 0; i < 4; ++i) { // one surface: every quarter is a fair part of the whole
            const double part = (v[i + 1] - v[i]) / rise;
            if (part < 0.1 || part > 0.5) return none;
        }
        const double q = position(v[0], v[2], v[4]);
        const double doubt = std::abs(position(v[0], v[2] + 0.6 * m_step, v[4]) - q);
        if (!(std::abs(q) <= kFarthestVote) || !(doubt < 0.25)) return none;
        // The parts are compared as seen from the middle number: near it a small change of the pole counts.
        const double nudge = 0.6 * m_step;
        const double whole = poleOffset(v[0], v[2], v[4], v[2], m_span);
        const double wholeDoubt = std::abs(poleOffset(v[0], v[2] + nudge, v[4], v[2], m_span) - whole);
        for (int i = 0; i < 3; ++i) {
            const double part = poleOffset(v[i], v[i + 1], v[i + 2], v[2], m_span);
            const double partDoubt =
                std::abs(poleOffset(v[i], v[i + 1] + nudge, v[i + 2], v[2], m_span) - part);
            const double room = 0.04 + 0.12 * std::abs(whole) + 1.5 * (wholeDoubt + partDoubt);
            // Where rounding could make any answer, the parts say nothing.
            if (partDoubt < 0.8 + std::abs(whole) && !(std::abs(part - whole) < room)) return none;
        }
        return q;
    }

private:
    [[nodiscard]] double position(double a, double b, double c) const
    {
        return poleOffset(a, b, c, m_middle, m_span);
    }

    double m_middle;
    double m_span;
    double m_step;
};

} // namespace

double PoleVotes::position(double pole) const noexcept
{
    return (high - low) / (pole - 0.5 * (low + high));
}

double PoleVotes::pole(double q) const noexcept
{
    if (q == 0.0) return std::numeric_limits<double>::infinity();
    return 0.5 * (low + high) + (high - low) / q;
}

double PoleVotes::share(double q, double reach) const noexcept
{
    if (total <= 0.0) return 0.0;
    double sum = 0.0;
    for (int i = std::max(0, binOf(q - reach)); i <= std::min(kBins - 1, binOf(q + reach)); ++i)
        sum += votes[static_cast<std::size_t>(i)];
    return sum / total;
}

double PoleVotes::peak(double from, double to) const noexcept
{
    double best = 0.0;
    double bestSum = -1.0;
    for (int i = std::max(0, binOf(from)); i <= std::min(kBins - 1, binOf(to)); ++i) {
        double sum = 0.0;
        for (int j = std::max(0, i - kSmooth); j <= std::min(kBins - 1, i + kSmooth); ++j)
            sum += votes[static_cast<std::size_t>(j)] * (kSmooth + 1 - std::abs(i - j));
        if (sum > bestSum) {
            bestSum = sum;
            best = positionOf(i);
        }
    }
    return best;
}

NumberRange centralRange(const Plane<float>& stored, const Plane<std::uint8_t>& gaps)
{
    std::vector<float> sample;
    const std::size_t step = std::max<std::size_t>(1, stored.size() / 50'000);
    for (std::size_t i = 0; i < stored.size(); i += step)
        if (gaps.pixels()[i] == 0 && std::isfinite(stored.pixels()[i])) sample.push_back(stored.pixels()[i]);
    if (sample.size() < 16) return {};
    std::sort(sample.begin(), sample.end());
    return {sample[sample.size() / 100], sample[sample.size() - 1 - sample.size() / 100]};
}

std::vector<NumberRow> numberRows(const Plane<float>& stored, const Plane<std::uint8_t>& gaps,
                                  const NumberRange& range, double quantum, double pixelAspect)
{
    std::vector<NumberRow> rows;
    if (!(range.high > range.low)) return rows;
    const int width = stored.width();
    const int height = stored.height();
    const int thin = std::max(1, width / 240);
    // A little less than a vote asks for: numbers change when they are made planar.
    const double span = range.high - range.low;
    const double least = 0.7 * std::max(16.0 * quantum, kLeastRise) * span;
    for (const int quarter : {std::max(1, width / 320), std::max(2, width / 120), std::max(4, width / 48),
                              std::max(8, width / 24)})
        for (int y = 0; y < height; y += thin)
            for (int x = 0; x < width; x += thin) {
                if (gaps.at(x, y) != 0) continue;
                for (const auto& [dx, dy] : {std::pair{quarter, 0}, std::pair{0, quarter}}) {
                    if (x + 4 * dx >= width || y + 4 * dy >= height) continue;
                    NumberRow row{};
                    bool usable = true;
                    for (int i = 0; i < 5 && usable; ++i) {
                        const int sx = x + i * dx;
                        const int sy = y + i * dy;
                        usable = gaps.at(sx, sy) == 0;
                        const auto at = static_cast<std::size_t>(i);
                        row.values[at] = stored.at(sx, sy);
                        const double u = (2.0 * sx + 1.0 - width) / width;
                        const double v = (2.0 * sy + 1.0 - height) / width / pixelAspect;
                        row.away[at] = static_cast<float>(u * u + v * v);
                    }
                    if (!usable) continue;
                    const double rise =
                        static_cast<double>(row.values[4]) - static_cast<double>(row.values[0]);
                    if (!(std::abs(rise) > least)) continue;
                    bool even = true; // one surface
                    for (std::size_t i = 0; i < 4 && even; ++i) {
                        const double part = static_cast<double>(row.values[i + 1] - row.values[i]) / rise;
                        even = part > 0.05 && part < 0.6;
                    }
                    if (even) rows.push_back(row);
                }
            }
    return rows;
}

PoleVotes poleVotes(const std::vector<NumberRow>& rows, const NumberRange& range, double quantum,
                    double fieldOfViewDeg, std::size_t thinning)
{
    PoleVotes result;
    result.votes.assign(kBins, 0.0);
    if (!(range.high > range.low)) return result;
    result.low = range.low;
    result.high = range.high;
    const Voter voter(range, quantum);
    const double side = std::tan(0.5 * fieldOfViewDeg * std::numbers::pi / 180.0);
    for (std::size_t i = 0; i < rows.size(); i += thinning) {
        double v[5];
        for (std::size_t k = 0; k < 5; ++k) {
            v[k] = static_cast<double>(rows[i].values[k]);
            if (side > 0.0) v[k] /= std::sqrt(1.0 + side * side * static_cast<double>(rows[i].away[k]));
        }
        const double q = voter.vote(v);
        if (q == Voter::none) continue;
        result.votes[static_cast<std::size_t>(std::clamp(binOf(q), 0, kBins - 1))] += 1.0;
        result.total += 1.0;
    }
    return result;
}

PoleVotes poleVotes(const Plane<float>& stored, const Plane<std::uint8_t>& gaps, const NumberRange& range,
                    double quantum)
{
    return poleVotes(numberRows(stored, gaps, range, quantum), range, quantum);
}

} // namespace retinex::depth
