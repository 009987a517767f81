#include "core/defocus/unmix.h"

#include <vector>

namespace retinex::defocus {

namespace {

/// A pixel so many times as bright as what it would be mixed of shows a light of its own.
constexpr float kGlint = 2.0F;

/// One side of an edge as its pixels near by show it.
class Side
{
public:
    void addClean(const Colour& colour)
    {
        const float darkness = darkWeight(colour);
        for (std::size_t c = 0; c < colour.size(); ++c) {
            m_sum[c] += colour[c];
            m_darkSum[c] += darkness * colour[c];
        }
        m_darkWeight += darkness;
        ++m_clean;
    }
    void addRim(const Colour& colour) { m_rim.push_back(colour); }
    void addRadius(float radius)
    {
        m_radiusSum += radius;
        ++m_radiusCount;
    }
    [[nodiscard]] bool hasClean() const { return m_clean > 0; }
    [[nodiscard]] bool hasRim() const { return !m_rim.empty(); }
    [[nodiscard]] Colour cleanMean() const
    {
        Colour mean = m_sum;
        for (float& v : mean)
            v /= static_cast<float>(m_clean);
        return mean;
    }
    /// The mean with bright points counting little.
    [[nodiscard]] Colour darkMean() const
    {
        Colour mean = m_darkSum;
        for (float& v : mean)
            v /= m_darkWeight;
        return mean;
    }
    /// Of a side so thin that all of its pixels are mixed: the one least like the other side.
    [[nodiscard]] Colour least(const Colour& like) const
    {
        return *std::max_element(m_rim.begin(), m_rim.end(), [&](const Colour& a, const Colour& b) {
            return distanceSquared(a, like) < distanceSquared(b, like);
        });
    }
    [[nodiscard]] Colour rimMean() const
    {
        Colour mean{};
        for (const Colour& colour : m_rim)
            for (std::size_t c = 0; c < colour.size(); ++c)
                mean[c] += colour[c] / static_cast<float>(m_rim.size());
        return mean;
    }
    [[nodiscard]] float radius() const { return m_radiusSum / static_cast<float>(m_radiusCount); }

private:
    Colour m_sum{};
    Colour m_darkSum{};
    float m_darkWeight = 0.0F;
    int m_clean = 0;
    std::vector<Colour> m_rim;
    float m_radiusSum = 0.0F;
    int m_radiusCount = 0;
};

/// How a pixel is made of two colours.
struct Mix
{
    float share = 1.0F; ///< of the near one
    float rest = 0.0F;  ///< squared distance from the pixel to the mixture
};

Mix mixOf(const Colour& here, const Colour& nearColour, const Colour& farColour, bool isNear)
{
    const float contrast = distanceSquared(nearColour, farColour);
    const float size = distanceSquared(nearColour, {}) + distanceSquared(farColour, {});
    Mix mix;
    if (contrast < 1e-3F * size + 1e-12F) { // alike: nothing to see, the depth decides
        mix.share = isNear ? 1.0F : 0.0F;
    } else {
        float along = 0.0F;
        for (std::size_t c = 0; c < here.size(); ++c)
            along += (here[c] - farColour[c]) * (nearColour[c] - farColour[c]);
        mix.share = std::clamp(along / contrast, 0.0F, 1.0F);
    }
    Colour mixture{};
    for (std::size_t c = 0; c < here.size(); ++c)
        mixture[c] = mix.share * nearColour[c] + (1.0F - mix.share) * farColour[c];
    mix.rest = distanceSquared(here, mixture);
    return mix;
}

} // namespace

Unmixed unmix(const RgbaImage& colour, const Plane<float>& radius, const Plane<std::uint8_t>& rim, int x,
              int y)
{
    float nearest = radius.at(x, y);
    float farthest = nearest;
    around(radius, x, y, 1, [&](int nx, int ny) {
        nearest = std::min(nearest, radius.at(nx, ny));
        farthest = std::max(farthest, radius.at(nx, ny));
    });
    const float middle = 0.5F * (nearest + farthest);
    Side nearSide;
    Side farSide;
    around(radius, x, y, 2, [&](int nx, int ny) {
        const float r = radius.at(nx, ny);
        Side& side = r < middle ? nearSide : farSide;
        if (rim.at(nx, ny))
            side.addRim(colourAt(colour, nx, ny));
        else
            side.addClean(colourAt(colour, nx, ny));
        if (std::abs(nx - x) <= 1 && std::abs(ny - y) <= 1) side.addRadius(r);
    });
    Unmixed result;
    result.nearRadius = nearSide.radius();
    result.farRadius = farSide.radius();
    const bool isNear = radius.at(x, y) < middle;
    (isNear ? result.nearRadius : result.farRadius) = radius.at(x, y);
    const Colour here = colourAt(colour, x, y);
    const Colour nearMean = nearSide.hasClean() ? nearSide.cleanMean() : nearSide.rimMean();
    const auto mixWith = [&](const Colour& farColour) {
        return mixOf(here, nearSide.hasClean() ? nearMean : nearSide.least(farColour), farColour, isNear);
    };
    // What may lie behind, the least daring first: a lamp two pixels on is no part of this pixel, unless its
    // light is in it.
    std::vector<Colour> candidates;
    if (farSide.hasClean()) candidates = {farSide.darkMean(), farSide.cleanMean()};
    if (farSide.hasRim()) {
        const Colour daring = farSide.least(nearMean);
        if (candidates.empty() ||
            brightnessOf(daring) > kGlint * (brightnessOf(candidates.back()) + brightnessOf(nearMean)))
            candidates.push_back(daring);
    }
    std::vector<Mix> mixes;
    for (const Colour& candidate : candidates)
        mixes.push_back(mixWith(candidate));
    const auto lessRest = [](const Mix& a, const Mix& b) { return a.rest < b.rest; };
    const float size = distanceSquared(here, {});
    const float best = std::min_element(mixes.begin(), mixes.end(), lessRest)->rest;
    const auto chosen = std::find_if(mixes.begin(), mixes.end(),
                                     [&](const Mix& mix) { return mix.rest <= 1.1F * best + 1e-4F * size; });
    result.far = candidates[static_cast<std::size_t>(chosen - mixes.begin())];
    result.share = chosen->share;
    const float explained = std::max(brightnessOf(result.far), brightnessOf(nearMean));
    if (!isNear && brightnessOf(here) > kGlint * explained)
        result.share = 0.0F; // light that neither of the two has: a glint of its own, at its own depth
    return result;
}

} // namespace retinex::defocus
