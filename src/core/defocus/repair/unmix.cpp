#include "core/defocus/repair/unmix.h"

#include "core/defocus/hidden/line_direction.h"
#include "core/defocus/repair/matte_share.h"
#include "core/defocus/repair/outline_share.h"

#include <array>
#include <bit>
#include <cmath>

namespace retinex::defocus {

namespace {
/// How far shares stray from what the depths show, as a rule: a pixel whose centre is on the near side is 75
/// % near on average, and between 50 and 100 % (straight edges at any place).
constexpr float kPriorSpread = 0.15F;
/// How far shares stray from what the outline shows.
constexpr float kOutlineSpread = 0.03F;
constexpr float kOutlineTail = 4.0F; ///< likewise, as kTail: not all that looks like an outline is one
/// How far shares stray from what mattes say: their noise, and what they round.
constexpr float kMatteSpread = 0.02F;
/// Variance, in shares of the contrast, of a side of which no clean pixel is in sight.
constexpr float kUnknown = 0.002F;
/// Noise of a pixel, in shares of its brightness.
constexpr float kNoise = 0.01F;
/// How far a pixel may lie from the mixture before it tells less and less of the share, in variances: a lit
/// edge thinner than a pixel is brighter than both sides, and says nothing of how much of it is whose.
constexpr float kTail = 8.0F;
/// How much of what neither colour explains is taken as the far side's, against its most likely part: light
/// wrongly left in a blurred side shows less than in a sharp one. Where a matte tells the share, none.
constexpr float kToSharperFar = 0.5F;
constexpr float kToMoreBlurredFar = 1.0F;
/// So many clean pixels of the sharper near side tell its colour well enough for that.
constexpr int kEnoughClean = 4;
/// With fewer clean pixels around, two surfaces are told apart only where one is so many times as bright.
constexpr int kFewClean = 2;
constexpr float kPlainContrast = 10.0F;

/// A pixel so many times as bright as what it would be mixed of shows a light of its own.
constexpr float kGlint = 2.0F;

/// From this share of the near part on the pixel tells nothing of the far one; below, more and more.
constexpr float kHardlySeen = 0.95F;
constexpr float kFade = 0.15F;

/// So many mixed pixels of the far side that look alike, to this share of their squared distance from any
/// mixture, are a face of it.
constexpr std::size_t kEnoughRim = 4;
constexpr float kAlike = 0.02F;
/// They are of the face that shows beyond if they lie on the way from the rest of their side to it, but for
/// this share (squared), and so far along: from there on they show it whole.
constexpr float kLikeFace = 0.1F;
constexpr float kLeastOfFace = 0.1F;
constexpr float kMostOfFace = 0.7F;

constexpr int kMixReach = 2;
constexpr std::size_t kMostPairs = (2 * kMixReach + 1) * (2 * kMixReach + 1);

/// One side of an edge as its pixels near by show it.
class Side
{
public:
    void add(const Colour& colour, bool isRim)
    {
        if (isRim) {
            m_rim[m_rims++] = colour;
        } else {
            for (std::size_t c = 0; c < colour.size(); ++c)
                m_sum[c] += colour[c];
            m_squares += distanceSquared(colour, {});
            ++m_clean;
        }
    }
    [[nodiscard]] int clean() const { return m_clean; }
    [[nodiscard]] bool hasClean() const { return m_clean > 0; }
    [[nodiscard]] bool hasRim() const { return m_rims > 0; }
    [[nodiscard]] Colour cleanMean() const
    {
        Colour mean = m_sum;
        for (float& v : mean)
            v /= static_cast<float>(m_clean);
        return mean;
    }
    /// Mean squared distance of the clean pixels from their mean.
    [[nodiscard]] float variance() const
    {
        const auto count = static_cast<float>(m_clean);
        return std::max(0.0F, (m_squares - distanceSquared(m_sum, {}) / count) / count);
    }
    /// Of a side so thin that all of its pixels are mixed: the one least like the other side.
    [[nodiscard]] const Colour& least(const Colour& like) const
    {
        return *std::max_element(m_rim.begin(), m_rim.begin() + static_cast<std::ptrdiff_t>(m_rims),
                                 [&](const Colour& a, const Colour& b) {
                                     return distanceSquared(a, like) < distanceSquared(b, like);
                                 });
    }
    [[nodiscard]] std::size_t rims() const { return m_rims; }
    [[nodiscard]] Colour rimMean() const
    {
        Colour mean{};
        for (std::size_t i = 0; i < m_rims; ++i)
            for (std::size_t c = 0; c < mean.size(); ++c)
                mean[c] += m_rim[i][c] / static_cast<float>(m_rims);
        return mean;
    }
    /// Mean squared distance of the mixed pixels from their mean.
    [[nodiscard]] float rimVariance(const Colour& mean) const
    {
        float sum = 0.0F;
        for (std::size_t i = 0; i < m_rims; ++i)
            sum += distanceSquared(m_rim[i], mean);
        return sum / static_cast<float>(m_rims);
    }

private:
    Colour m_sum{};
    float m_squares = 0.0F;
    int m_clean = 0;
    std::array<Colour, kMostPairs> m_rim; ///< the first m_rims
    std::size_t m_rims = 0;
};

/// What is thought of one of two colours before the pixel is looked at.
struct Guess
{
    Colour mean{};
    float variance = 0.0F; ///< below 0: not known, no clean pixel is in sight
};

/// Likewise of the near side's share.
struct SharePrior
{
    float share = 0.0F;
    float spread = kPriorSpread;
    float toFar = kToSharperFar; ///< how much of what neither colour explains is the far side's
    // From how far off, in variances, they tell less and less; 0: never.
    float tail = 0.0F;        ///< shares, against this one
    float colourTail = kTail; ///< colours, of the share
};

/// How a pixel is made of two colours.
struct Mix
{
    float share = 1.0F; ///< of the near one
    float rest = 0.0F;  ///< squared distance from the pixel to the mixture
    Colour far{};
};

/// Natural logarithm of a positive number, to 0.01: enough to tell which of several costs is the least.
float roughLog(float value)
{
    const auto bits = std::bit_cast<std::int32_t>(value);
    const auto exponent = static_cast<float>((bits >> 23) - 127);
    const auto mantissa = std::bit_cast<float>((bits & 0x7fffff) | 0x3f800000); // 1 to 2
    // A parabola through log2 of 1, 1.5 and 2.
    const float part = mantissa - 1.0F;
    return 0.6931472F * (exponent + part * (1.3398500F - 0.3398500F * part));
}

/// How far along the way from one colour to another a third lies, times the length of the way.
float alongWay(const Colour& from, const Colour& to, const Colour& colour)
{
    float along = 0.0F;
    for (std::size_t c = 0; c < colour.size(); ++c)
        along += (colour[c] - from[c]) * (to[c] - from[c]);
    return along;
}

/// Likewise as a share of the way.
float shareOfWay(const Colour& from, const Colour& to, const Colour& colour)
{
    return alongWay(from, to, colour) / std::max(distanceSquared(from, to), 1e-12F);
}

/// The most likely share and far colour, by turns: C = s F + (1 - s) B with F and B normally distributed
/// about what their sides show, and s about what the depths show. Source: Chuang et al., "A Bayesian Approach
/// to Digital Matting", CVPR 2001, with one variance a side; what is left of C has the heavy tails of a
/// t-distribution (Lange et al., "Robust Statistical Modeling Using the t Distribution", JASA 1989), whose
/// spread grows with it.
Mix mixOf(const Colour& here, const Guess& nearGuess, const Guess& farGuess, const SharePrior& prior)
{
    const float contrast = distanceSquared(nearGuess.mean, farGuess.mean);
    const float size = distanceSquared(nearGuess.mean, {}) + distanceSquared(farGuess.mean, {});
    const float noise = kNoise * kNoise * std::min(size, distanceSquared(here, {})) + 1e-12F;
    const float along = alongWay(farGuess.mean, nearGuess.mean, here);
    const float away = distanceSquared(here, farGuess.mean);
    const float certainty = 1.0F / (prior.spread * prior.spread);
    // The near part's alpha is no larger than the pixel's.
    const float most = here[3] < nearGuess.mean[3] ? std::max(0.0F, here[3]) / nearGuess.mean[3] : 1.0F;
    const auto spreadAt = [&](float s) {
        return noise + s * s * nearGuess.variance + (1.0F - s) * (1.0F - s) * farGuess.variance;
    };
    const auto restAt = [&](float s) { return std::max(0.0F, away - 2.0F * s * along + s * s * contrast); };
    const auto strayAt = [&](float s) { return certainty * (s - prior.share) * (s - prior.share); };
    // The variances depend on the share, so that there may be several good ones: look along all of it first.
    // Loops without branches, so that the compiler makes vectors of them.
    constexpr int steps = 16;
    using Costs = std::array<float, steps + 1>;
    Costs spreads;
    Costs rests;
    Costs strays;
    for (std::size_t i = 0; i < spreads.size(); ++i) {
        const float s = most * static_cast<float>(i) / steps;
        spreads[i] = spreadAt(s);
        rests[i] = restAt(s) / spreads[i];
        strays[i] = strayAt(s);
    }
    const auto flatten = [](Costs& costs, float tail) {
        if (tail <= 0.0F) return;
        for (float& cost : costs)
            cost = tail * roughLog(1.0F + cost / tail);
    };
    flatten(rests, prior.colourTail);
    flatten(strays, prior.tail);
    Costs costs;
    for (std::size_t i = 0; i < costs.size(); ++i)
        costs[i] = rests[i] + roughLog(spreads[i]) + strays[i];
    Mix mix;
    mix.share =
        most * static_cast<float>(std::min_element(costs.begin(), costs.end()) - costs.begin()) / steps;
    float spread = noise;
    for (int turn = 0; turn < 2; ++turn) {
        spread =
            spreadAt(mix.share) + (prior.colourTail > 0.0F ? restAt(mix.share) / prior.colourTail : 0.0F);
        const float its =
            prior.tail > 0.0F ? certainty / (1.0F + strayAt(mix.share) / prior.tail) : certainty;
        mix.share = std::clamp((along / spread + prior.share * its) / (contrast / spread + its), 0.0F, most);
    }
    const float isSeen = std::clamp((kHardlySeen - mix.share) / kFade, 0.0F, 1.0F);
    const float toFar = prior.toFar * (1.0F - mix.share) * farGuess.variance / spread;
    for (std::size_t c = 0; c < here.size(); ++c) {
        const float rest = here[c] - mix.share * nearGuess.mean[c] - (1.0F - mix.share) * farGuess.mean[c];
        mix.rest += rest * rest;
        mix.far[c] = std::max(0.0F, farGuess.mean[c] + toFar * rest);
        // Nor has the far part more light than the pixel; where it is hardly seen it is a guess anyway.
        const float limit = std::max(0.0F, here[c]) / std::max(1.0F - kHardlySeen, 1.0F - mix.share);
        mix.far[c] -= isSeen * std::max(0.0F, mix.far[c] - limit);
    }
    return mix;
}

/// What lies behind the near side and shows again beyond it, straight across from the pixel (x, y).
std::optional<Colour> seenBeyond(const RgbaImage& colour, const Plane<float>& radius, const TwoSurfaces& pair,
                                 int x, int y)
{
    int acrossX = 0;
    int acrossY = 0;
    around(radius, x, y, 1, [&](int nx, int ny) {
        const int sign = pair.liesNear(radius.at(nx, ny)) ? 1 : -1;
        acrossX += sign * (nx - x);
        acrossY += sign * (ny - y);
    });
    const bool isAlongX = std::abs(acrossX) > std::abs(acrossY);
    const int stepX = isAlongX ? (acrossX > 0 ? 1 : -1) : 0;
    const int stepY = isAlongX ? 0 : (acrossY > 0 ? 1 : -1);
    bool isBehind = false;
    for (int i = 1; i <= static_cast<int>(kLongestLine); ++i) {
        const int atX = x + i * stepX;
        const int atY = y + i * stepY;
        if (!radius.contains(atX, atY)) break;
        if (pair.liesNear(radius.at(atX, atY))) {
            isBehind = true;
        } else if (isBehind) {
            constexpr int beyondMixed = 2;
            const int toX = atX + beyondMixed * stepX;
            const int toY = atY + beyondMixed * stepY;
            if (!radius.contains(toX, toY) || pair.liesNear(radius.at(toX, toY))) break;
            return colourAt(colour, toX, toY);
        }
    }
    return std::nullopt;
}

/// The far side where it shows another face right beside the edge, as nothing but a line of pixels: they
/// look alike, no mixture of the two sides looks like them, and beyond the near side the face shows again.
/// seenBeyond() tells what shows there. (Where it does not, the line may as well be a lit edge of the near
/// side, thinner than a pixel.)
template <class SeenBeyond>
std::optional<Guess> faceAtEdge(const Guess& near, const Guess& far, const Side& farSide,
                                SeenBeyond seenBeyond)
{
    if (near.variance < 0.0F || far.variance < 0.0F || farSide.rims() < kEnoughRim) return std::nullopt;
    const Colour face = farSide.rimMean();
    const float share = std::clamp(shareOfWay(far.mean, near.mean, face), 0.0F, 1.0F);
    const float rest = distanceSquared(face, between(far.mean, near.mean, share));
    const float spread = share * share * near.variance + (1.0F - share) * (1.0F - share) * far.variance;
    const float variance = farSide.rimVariance(face);
    if (rest < kTail * spread || variance > kAlike * rest) return std::nullopt;
    const std::optional<Colour> beyond = seenBeyond();
    if (!beyond) return std::nullopt;
    const float way = shareOfWay(far.mean, *beyond, face);
    if (way < kLeastOfFace || way > 1.0F / kMostOfFace ||
        distanceSquared(face, between(far.mean, *beyond, way)) > kLikeFace * distanceSquared(face, far.mean))
        return std::nullopt;
    return Guess{way > kMostOfFace ? face : *beyond, variance};
}

float medianOf(std::array<float, 9>& values, int count)
{
    const auto middle = values.begin() + count / 2;
    std::nth_element(values.begin(), middle, values.begin() + count);
    return *middle;
}

/// The pixel's own surface and, of the surfaces in front of it and behind it, the one with more pixels
/// around.
TwoSurfaces surfacesAt(const Plane<float>& radius, int x, int y)
{
    const float own = radius.at(x, y);
    std::array<float, 9> front{};
    std::array<float, 9> behind{};
    int fronts = 0;
    int behinds = 0;
    around(radius, x, y, 1, [&](int nx, int ny) {
        const float r = radius.at(nx, ny);
        if (!isEdge(r, own)) return;
        if (r < own)
            front[static_cast<std::size_t>(fronts++)] = r;
        else
            behind[static_cast<std::size_t>(behinds++)] = r;
    });
    if (fronts > behinds) return {medianOf(front, fronts), own};
    return {own, medianOf(behind, behinds)};
}

} // namespace

Unmixed unmix(const RgbaImage& colour, const Plane<float>& radius, const Plane<std::uint8_t>& rim,
              const ObjectShares* objects, int x, int y)
{
    const TwoSurfaces pair = surfacesAt(radius, x, y);
    Unmixed result;
    result.nearRadius = pair.nearRadius;
    result.farRadius = pair.farRadius;
    const float own = radius.at(x, y);
    const bool isNear = result.nearRadius == own;
    const auto share = objects ? shareByMattes(*objects, radius, rim, pair, x, y) : std::nullopt;
    Side nearSide;
    Side farSide;
    SharePrior prior;
    float priorWeight = 0.0F;
    around(radius, x, y, kMixReach, [&](int nx, int ny) {
        const float r = radius.at(nx, ny);
        if (std::abs(nx - x) <= 1 && std::abs(ny - y) <= 1) {
            const float weight = (nx == x ? 2.0F : 1.0F) * (ny == y ? 2.0F : 1.0F);
            priorWeight += weight;
            if (pair.liesNear(r)) prior.share += weight;
        }
        const auto side = pair.sideOf(r);
        if (side == TwoSurfaces::Side::other) return;
        (side == TwoSurfaces::Side::near ? nearSide : farSide)
            .add(colourAt(colour, nx, ny), rim.at(nx, ny) != 0);
    });
    prior.share /= priorWeight;
    const Colour here = colourAt(colour, x, y);
    const Colour nearMean = nearSide.hasClean() ? nearSide.cleanMean() : nearSide.rimMean();
    const Colour farMean = farSide.hasClean() ? farSide.cleanMean() : farSide.rimMean();
    if (!share && nearSide.clean() + farSide.clean() < kFewClean) {
        const float nearLight = brightnessOf(nearSide.hasRim() ? nearSide.least(farMean) : nearMean);
        const float farLight = brightnessOf(farMean);
        result.isKnown = std::max(nearLight, farLight) >= kPlainContrast * std::min(nearLight, farLight);
        result.share = isNear ? 1.0F : 0.0F;
        if (!result.isKnown) return result;
    }
    if (share)
        prior = {*share, kMatteSpread, 0.0F, 0.0F, 0.0F};
    else if (const auto byOutline = shareByOutline(radius, pair, x, y))
        prior = {byOutline->share, std::hypot(kOutlineSpread, byOutline->spread), kToSharperFar,
                 kOutlineTail};
    result.isNearPlain = !share && nearSide.clean() >= kEnoughClean;
    result.isFarThin = !share && farSide.clean() < kFewClean;
    const bool isNearSharper = std::abs(pair.nearRadius) < std::abs(pair.farRadius);
    if (result.isNearPlain && isNearSharper) prior.toFar = kToMoreBlurredFar;
    const Guess near{nearMean, nearSide.hasClean() ? nearSide.variance() : -1.0F};
    const Guess far{farMean, farSide.hasClean() ? farSide.variance() : -1.0F};
    const auto mixWith = [&](Guess farGuess) {
        Guess nearGuess = near;
        if (!nearSide.hasClean()) nearGuess.mean = nearSide.least(farGuess.mean);
        const float unknown = kUnknown * distanceSquared(nearGuess.mean, farGuess.mean);
        for (Guess* guess : {&nearGuess, &farGuess})
            if (guess->variance < 0.0F) guess->variance = unknown;
        return mixOf(here, nearGuess, farGuess, prior);
    };
    const auto face = faceAtEdge(near, far, farSide, [&] { return seenBeyond(colour, radius, pair, x, y); });
    // A lamp two pixels on is no part of this pixel, unless its light is in it.
    std::array<Mix, 2> mixes;
    std::size_t count = 0;
    if (farSide.hasClean()) mixes[count++] = mixWith(face.value_or(far));
    if (farSide.hasRim()) {
        const Colour& daring = farSide.least(nearMean);
        if (count == 0 || brightnessOf(daring) > kGlint * (brightnessOf(farMean) + brightnessOf(nearMean)))
            mixes[count++] = mixWith({daring, far.variance});
    }
    const bool daring = count > 1 && mixes[0].rest > 1.1F * mixes[1].rest + 1e-4F * distanceSquared(here, {});
    const Mix& chosen = mixes[daring ? 1 : 0];
    result.far = chosen.far;
    result.share = chosen.share;
    const float explained = std::max(brightnessOf(result.far), brightnessOf(nearMean));
    if (!isNear && brightnessOf(here) > kGlint * explained)
        result.share = 0.0F; // light that neither of the two has: a glint of its own, at its own depth
    return result;
}

} // namespace retinex::defocus
