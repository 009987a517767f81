#include "core/others/motion_reading.h"

#include "core/defocus/surfaces/pixel_colour.h"
#include "core/others/one_surface.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>

namespace retinex::others {

namespace {

using defocus::Colour;
using defocus::colourAt;

/// A pixel whose surroundings look different enough for a wrong vector to show, and its two numbers.
struct Told
{
    int x = 0;
    int y = 0;
    float first = 0.0F;
    float second = 0.0F;
};

constexpr float kDark = 1e-4F; ///< squared light below which differences count for less
constexpr std::size_t kFewestTold = 60;

std::vector<Told> tellingPixels(const RgbaImage& colour, const MotionVectors& vectors)
{
    constexpr int aside = 2;
    constexpr float differs = 0.15F;
    const int step = std::max(2, static_cast<int>(std::sqrt(colour.width() * colour.height() / 20000.0)));
    std::vector<Told> samples;
    for (int y = aside; y + aside < colour.height(); y += step)
        for (int x = aside; x + aside < colour.width(); x += step) {
            const Told sample{x, y, vectors[0].at(x, y), vectors[1].at(x, y)};
            if (!std::isfinite(sample.first) || !std::isfinite(sample.second) ||
                (sample.first == 0.0F && sample.second == 0.0F))
                continue;
            const Colour own = colourAt(colour, x, y);
            const auto tells = [&](int dx, int dy) {
                return defocus::coloursDiffer(own, colourAt(colour, x + dx, y + dy), differs, kDark) &&
                       defocus::coloursDiffer(own, colourAt(colour, x - dx, y - dy), differs, kDark);
            };
            if (tells(aside, 0) || tells(0, aside)) samples.push_back(sample);
        }
    return samples;
}

Colour colourBetween(const RgbaImage& image, double x, double y)
{
    const int left = std::clamp(static_cast<int>(std::floor(x - 0.5)), 0, image.width() - 2);
    const int top = std::clamp(static_cast<int>(std::floor(y - 0.5)), 0, image.height() - 2);
    const auto across = static_cast<float>(std::clamp(x - 0.5 - left, 0.0, 1.0));
    const auto down = static_cast<float>(std::clamp(y - 0.5 - top, 0.0, 1.0));
    return defocus::between(
        defocus::between(colourAt(image, left, top), colourAt(image, left + 1, top), across),
        defocus::between(colourAt(image, left, top + 1), colourAt(image, left + 1, top + 1), across), down);
}

struct Score
{
    double alike = 0.0; ///< 1: every sample is found again to the last shade; 0: none
    double agrees = 0.0;
    double moves = 0.0; ///< px, on average
};

Score scoreOf(const RgbaImage& colour, const std::vector<Told>& samples, const RgbaImage& other,
              const MotionReading& reading)
{
    constexpr float alike = 0.2F; // of the light
    Score score;
    for (const Told& sample : samples) {
        const auto v = reading.px(sample.first, sample.second, colour.width(), colour.height());
        score.moves += std::hypot(v[0], v[1]);
        const double x = sample.x + 0.5 + v[0];
        const double y = sample.y + 0.5 + v[1];
        if (!(x > 0.0 && y > 0.0 && x < colour.width() && y < colour.height())) continue;
        const Colour a = colourAt(colour, sample.x, sample.y);
        const Colour b = colourBetween(other, x, y);
        const float off = std::sqrt(defocus::distanceSquared(a, b) /
                                    (defocus::lightSquared(a) + defocus::lightSquared(b) + kDark));
        score.alike += std::max(0.0, 1.0 - static_cast<double>(off) / alike);
        score.agrees += off < alike ? 1.0 : 0.0;
    }
    const auto count = static_cast<double>(samples.size());
    return {score.alike / count, score.agrees / count, score.moves / count};
}

} // namespace

std::string MotionReading::inWords() const
{
    const std::string unitWords = unit == VectorUnit::pixels   ? say("px")
                                  : unit == VectorUnit::shares ? say("shares of the frame")
                                                               : say("-1 to 1 across");
    return say("{}, to the {} frame", unitWords, to == VectorsTo::next ? say("next") : say("previous"));
}

std::string MotionReading::axesInWords() const
{
    return say("x counts to the {}, y {}{}.", isLeft ? say("left") : say("right"),
               isUp ? say("up") : say("down"), isSwapped ? say(", and y comes first") : std::string());
}

std::array<double, 2> MotionReading::px(float first, float second, int width, int height) const noexcept
{
    const double across = isSwapped ? second : first;
    const double down = isSwapped ? first : second;
    const double share = unit == VectorUnit::halves ? 0.5 : 1.0;
    const bool isPx = unit == VectorUnit::pixels;
    return {(isLeft ? -1.0 : 1.0) * across * (isPx ? 1.0 : share * width),
            (isUp ? -1.0 : 1.0) * down * (isPx ? 1.0 : share * height)};
}

std::optional<MotionProposal> proposeMotion(const RgbaImage& colour, const MotionVectors& vectors,
                                            const RgbaImage* next, const RgbaImage* previous)
{
    constexpr double leastMove = 0.25; // px
    const std::vector<Told> samples = tellingPixels(colour, vectors);
    if (samples.size() < kFewestTold) return std::nullopt;
    struct Tried
    {
        MotionReading reading;
        Score score;
    };
    std::vector<Tried> tried;
    for (const bool isSwapped : {false, true})
        for (const VectorUnit unit : {VectorUnit::pixels, VectorUnit::shares, VectorUnit::halves})
            for (const VectorsTo to : {VectorsTo::next, VectorsTo::previous})
                for (const bool isUp : {false, true})
                    for (const bool isLeft : {false, true}) {
                        const RgbaImage* other = to == VectorsTo::next ? next : previous;
                        if (!other) continue;
                        const MotionReading reading{to, unit, isSwapped, isLeft, isUp};
                        tried.push_back({reading, scoreOf(colour, samples, *other, reading)});
                    }
    if (tried.empty()) return std::nullopt;
    // Of those that tell the same, the first.
    constexpr double same = 0.005;
    const Tried* best = &tried.front();
    for (const Tried& each : tried)
        if (each.score.alike > best->score.alike + same) best = &each;
    if (best->score.moves < leastMove) return std::nullopt;
    const auto withOther = [&](auto change) {
        MotionReading other = best->reading;
        change(other);
        const auto it = std::ranges::find(tried, other, &Tried::reading);
        return it == tried.end() ? 0.0 : 100.0 * it->score.agrees;
    };
    MotionProposal proposal{best->reading, best->score.agrees, {}};
    proposal.reasons.push_back(
        say("{:.0f} % of what is seen is found again where they lead, {:.1f} px away on average.",
            100.0 * best->score.agrees, best->score.moves));
    proposal.reasons.push_back(
        say("Turned round it would be {:.0f} %, with y the other way {:.0f} %, with both channels swapped "
            "{:.0f} %.",
            withOther([](MotionReading& r) { r.isLeft = !r.isLeft, r.isUp = !r.isUp; }),
            withOther([](MotionReading& r) { r.isUp = !r.isUp; }),
            withOther([](MotionReading& r) { r.isSwapped = !r.isSwapped; })));
    return proposal;
}

std::vector<Match> vectorMatches(const MotionVectors& vectors, const Plane<float>& distance,
                                 const MotionReading& reading)
{
    const int step = std::max(2, static_cast<int>(std::sqrt(distance.width() * distance.height() / 1200.0)));
    std::vector<Match> matches;
    for (int y = 1; y + 1 < distance.height(); y += step)
        for (int x = 1; x + 1 < distance.width(); x += step) {
            const float own = distance.at(x, y);
            bool isWhole = std::isfinite(own);
            defocus::around(distance, x, y, 1,
                            [&](int nx, int ny) { isWhole &= isOneSurface(own, distance.at(nx, ny)); });
            const float first = vectors[0].at(x, y);
            const float second = vectors[1].at(x, y);
            if (!isWhole || !std::isfinite(first) || !std::isfinite(second)) continue;
            const auto v = reading.px(first, second, distance.width(), distance.height());
            matches.push_back({x + 0.5, y + 0.5, own, x + 0.5 + v[0], y + 0.5 + v[1]});
        }
    return matches;
}

} // namespace retinex::others
