#include "core/depth/direction_check.h"

#include "core/depth/straight_lines.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace retinex::depth {

namespace {

constexpr std::size_t kMostSigns = 4000;

/// One row or column of the plane.
struct Line
{
    const float* values;
    const std::uint8_t* gaps;
    std::ptrdiff_t stride;
    int count;

    [[nodiscard]] double at(int i) const { return values[i * stride]; }
    [[nodiscard]] bool usable(int first, int last) const
    {
        if (first < 0 || last >= count) return false;
        for (int i = first; i <= last; ++i)
            if (gaps[i * stride] != 0) return false;
        return true;
    }
};

class Collector
{
public:
    Collector(double step, double span, int reach) : m_step(step), m_jump(0.06 * span), m_reach(reach) {}

    void edge(const Line& line, int i, const auto& place)
    {
        if (!line.usable(i - 2 * m_reach, i + 1 + 2 * m_reach)) return;
        const double jump = line.at(i + 1) - line.at(i);
        if (std::abs(jump) < std::max(m_jump, 6.0 * m_step)) return;
        const double before = bend(line, i, -1);
        const double after = bend(line, i + 1, 1);
        // The side that bends towards the other, and clearly more than the other does.
        const double floor = std::max(3.0 * m_step, 0.004 * std::abs(jump));
        const double towardsAfter = before * (jump > 0.0 ? 1.0 : -1.0);
        const double towardsBefore = after * (jump > 0.0 ? -1.0 : 1.0);
        const bool firstBends = towardsAfter > floor && towardsAfter > 3.0 * std::abs(towardsBefore);
        const bool secondBends = towardsBefore > floor && towardsBefore > 3.0 * std::abs(towardsAfter);
        if (firstBends == secondBends) return;
        // The bending side is in front: it is the one with the smaller number when larger is farther.
        add(place(firstBends ? i : i + 1), DirectionSign::Kind::bend, firstBends == (jump > 0.0));
    }

    void strip(const Line& line, int i, const auto& place)
    {
        const double jump = line.at(i + 1) - line.at(i);
        if (std::abs(jump) < std::max(m_jump, 6.0 * m_step)) return;
        for (int w = 1; w <= m_reach + 2; ++w) {
            if (!line.usable(i - 3, i + w + 4)) return;
            const double back = line.at(i + w + 1) - line.at(i + w);
            if (back * jump >= 0.0 || std::abs(back) < 0.6 * std::abs(jump)) continue;
            const double left = line.at(i);
            const double right = line.at(i + w + 1);
            const double slope = std::abs(left - line.at(i - 3)) + std::abs(line.at(i + w + 4) - right);
            if (std::abs(right - left) < 0.12 * std::abs(jump) && slope < 0.12 * std::abs(jump))
                add(place(i + 1 + w / 2), DirectionSign::Kind::strip, jump < 0.0);
            return;
        }
    }

    DirectionEvidence take()
    {
        DirectionEvidence evidence;
        evidence.bendCount = m_count[0];
        evidence.stripCount = m_count[1];
        evidence.bends = share(0);
        evidence.strips = share(1);
        const std::size_t step = m_signs.size() / kMostSigns + 1;
        for (std::size_t i = 0; i < m_signs.size(); i += step)
            evidence.signs.push_back(m_signs[i]);
        return evidence;
    }

private:
    /// How much more the numbers change over the last pixels before the edge than further in.
    [[nodiscard]] double bend(const Line& line, int i, int inward) const
    {
        const double near = line.at(i) - line.at(i + inward * m_reach);
        const double far = line.at(i + inward * m_reach) - line.at(i + 2 * inward * m_reach);
        return near - far;
    }

    void add(std::pair<int, int> at, DirectionSign::Kind kind, bool largerIsFarther)
    {
        const auto index = static_cast<std::size_t>(kind);
        ++m_count[index];
        if (largerIsFarther) ++m_agree[index];
        m_signs.push_back({at.first, at.second, kind, largerIsFarther});
    }

    [[nodiscard]] double share(std::size_t kind) const
    {
        // A handful of signs is little; 20 more of either kind are assumed.
        const auto count = static_cast<double>(m_count[kind]);
        return (2.0 * static_cast<double>(m_agree[kind]) - count) / (count + 20.0);
    }

    double m_step;
    double m_jump;
    int m_reach;
    std::size_t m_count[2] = {0, 0};
    std::size_t m_agree[2] = {0, 0};
    std::vector<DirectionSign> m_signs;
};

double median(std::vector<float>& values)
{
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

/// Do medians of bands rise from the bottom up?
double groundEvidence(const Plane<float>& numbers, const Plane<std::uint8_t>& gaps, double span)
{
    constexpr int bands = 8;
    std::vector<double> medians;
    for (int band = 0; band < bands; ++band) {
        std::vector<float> values;
        const int end = numbers.height() * (band + 1) / bands;
        for (int y = numbers.height() * band / bands; y < end; ++y)
            for (int x = 0; x < numbers.width(); x += 3)
                if (gaps.at(x, y) == 0) values.push_back(numbers.at(x, y));
        if (static_cast<int>(values.size()) > numbers.width() / 4) medians.push_back(median(values));
    }
    if (medians.size() < 4) return 0.0;
    double balance = 0.0;
    for (std::size_t i = 0; i < medians.size(); ++i)
        for (std::size_t j = i + 1; j < medians.size(); ++j)
            balance += std::clamp((medians[i] - medians[j]) / (0.05 * span), -1.0, 1.0);
    return balance / (0.5 * static_cast<double>(medians.size() * (medians.size() - 1)));
}

std::string percent(double share)
{
    return fmt::format("{:.0f} %", 100.0 * share);
}

} // namespace

double DirectionEvidence::verdict() const noexcept
{
    // Flat surfaces obey a law; bends and strips are strong where there are many; the ground is a custom.
    const double sum =
        3.0 * straight * std::min(1.0, 2.0 * straightShare) + 1.6 * bends + 1.2 * strips + 0.5 * ground;
    return std::clamp(sum / 1.6, -1.0, 1.0);
}

bool DirectionEvidence::seemsExchanged() const noexcept
{
    if (straight > 0.0) return false;
    return straight < 0.0 ? verdict() < -0.45 : bends < -0.7 && strips < 0.3 && bendCount > 50;
}

std::vector<std::string> DirectionEvidence::reasons() const
{
    std::vector<std::string> words;
    const auto side = [](double v) {
        return v > 0.0 ? "larger numbers are farther" : "larger numbers are nearer";
    };
    if (std::abs(straight) > 0.5 && straightShare > 0.2)
        words.push_back(say("flat surfaces foreshorten as when {}", side(straight)));
    if (std::abs(bends) > 0.2)
        words.push_back(say("at {} of {} edges the rounded side is in front when {}",
                            percent(0.5 + 0.5 * std::abs(bends)), bendCount, side(bends)));
    if (std::abs(strips) > 0.2)
        words.push_back(say("{} of {} thin strips stand in front when {}",
                            percent(0.5 + 0.5 * std::abs(strips)), stripCount, side(strips)));
    if (std::abs(ground) > 0.3)
        words.push_back(say("the ground comes nearer downwards when {}", side(ground)));
    return words;
}

std::vector<std::string> DirectionEvidence::reasonsForExchange() const
{
    std::vector<std::string> words;
    if (straight < -0.5 && straightShare > 0.2)
        words.emplace_back("flat surfaces foreshorten the other way round");
    if (bends < -0.2)
        words.push_back(say("at {} of {} rounded edges the far side lies in front",
                            percent(0.5 - 0.5 * bends), bendCount));
    if (strips < -0.2)
        words.push_back(
            say("{} of {} thin strips lie behind what they cover", percent(0.5 - 0.5 * strips), stripCount));
    if (ground < -0.3) words.emplace_back("the ground goes away downwards");
    return words;
}

DirectionEvidence directionOf(const Plane<float>& numbers, const Plane<std::uint8_t>& gaps, double quantum)
{
    const PoleVotes votes = poleVotes(numbers, gaps, centralRange(numbers, gaps), quantum);
    const double span = votes.high - votes.low;
    if (!(span > 0.0)) return {};
    const int width = numbers.width();
    const int height = numbers.height();
    Collector collector(quantum * span, span, std::max(2, width / 240));
    for (int y = 1; y < height; y += 2) {
        const Line line{numbers.row(y), gaps.row(y), 1, width};
        for (int x = 1; x + 1 < width; ++x) {
            collector.edge(line, x, [y](int i) { return std::pair{i, y}; });
            collector.strip(line, x, [y](int i) { return std::pair{i, y}; });
        }
    }
    for (int x = 1; x < width; x += 2) {
        const Line line{numbers.row(0) + x, gaps.row(0) + x, width, height};
        for (int y = 1; y + 1 < height; ++y) {
            collector.edge(line, y, [x](int i) { return std::pair{x, i}; });
            collector.strip(line, y, [x](int i) { return std::pair{x, i}; });
        }
    }
    DirectionEvidence evidence = collector.take();
    evidence.ground = groundEvidence(numbers, gaps, span);
    const double q = votes.peak();
    if (std::abs(q) > 0.25 && votes.total > 200.0) {
        // Three times what is there when votes are spread evenly counts as an answer.
        evidence.straightShare = votes.share(q);
        if (evidence.straightShare > 0.13) evidence.straight = q < 0.0 ? 1.0 : -1.0;
    }
    return evidence;
}

} // namespace retinex::depth
