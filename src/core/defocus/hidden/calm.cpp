#include "core/defocus/hidden/calm.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace retinex::defocus {

namespace {

constexpr int kMedianReach = 2; ///< px around a pixel that the median is of
constexpr int kRounds = 3;      ///< each may move an edge by a pixel
constexpr float kJump = 0.15F;  ///< share of their brightness by which neighbours across an edge differ
/// Radius of the near part, px, below which its pixels are seen themselves.
constexpr float kBlurred = 3.0F;

class Calming
{
public:
    Calming(Surfaces& surfaces, const Rings& rings, const TypicalBrightness& typical, const Run& run)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_rings(rings), m_typical(typical),
          m_run(run)
    {
    }

    void calm()
    {
        const Torn found = findTorn();
        const std::vector<PixelPlace>& torn = found.places;
        std::vector<Sample> made(torn.size());
        // Where nothing changed around a pixel in the last round, its median is what it was.
        Plane<std::uint8_t> changed(m_rings.width(), m_rings.height());
        changed.expectFewWritten();
        std::vector<char> isMade(torn.size());
        for (std::uint8_t round = 1; round <= kRounds; ++round) {
            m_run.throwIfStopped();
            parallelForMany(torn.size(), m_run, [&](std::size_t i) {
                isMade[i] = round == 1 ? found.isAtJump[i]
                                       : static_cast<char>(changedAround(changed, torn[i], round - 1));
                if (!isMade[i]) return;
                made[i] = medianAt(torn[i]);
                // No lamps where none was guessed.
                m_typical.hold(made[i].colour, made[i].radius, torn[i].x, torn[i].y);
            });
            parallelForMany(torn.size(), m_run, [&](std::size_t i) {
                const auto [x, y] = torn[i];
                if (!isMade[i] || made[i].colour == colourAt(m_hidden.colour, x, y)) return;
                changed.at(x, y) = round;
                setColour(m_hidden.colour, x, y, made[i].colour);
                m_hidden.radiusPx.at(x, y) = made[i].radius;
            });
        }
    }

private:
    static constexpr std::size_t kMost = (2 * kMedianReach + 1) * (2 * kMedianReach + 1);

    struct Sample
    {
        Colour colour;
        float radius;
    };

    /// Guessed, or known from a small part of the pixel alone.
    [[nodiscard]] bool isGuess(int x, int y) const
    {
        return m_rings.isGrown(x, y) || (m_rings.has(x, y) && m_visible.coverage.at(x, y) > kHardlySeen &&
                                         std::abs(m_visible.radiusPx.at(x, y)) > kBlurred);
    }

    /// What lies at a pixel, as far as it can be what goes on behind a thing of radius `before`.
    [[nodiscard]] bool sample(int x, int y, float before, Sample& sample) const
    {
        if (m_rings.has(x, y)) {
            sample = {colourAt(m_hidden.colour, x, y), m_hidden.radiusPx.at(x, y)};
            return true;
        }
        if (m_visible.coverage.at(x, y) < 1.0F) return false;
        sample.radius = m_visible.radiusPx.at(x, y);
        if (!liesBehind(sample.radius, before)) return false;
        sample.colour = colourAt(m_visible.colour, x, y);
        return true;
    }

    [[nodiscard]] static bool differ(const Colour& a, const Colour& b)
    {
        return coloursDiffer(a, b, kJump, 1e-3F);
    }

    [[nodiscard]] bool isTorn(int x, int y) const
    {
        const float before = m_visible.radiusPx.at(x, y);
        const Colour own = colourAt(m_hidden.colour, x, y);
        const auto isJump = [&](int nx, int ny) {
            Sample other;
            return m_rings.contains(nx, ny) && sample(nx, ny, before, other) && differ(own, other.colour);
        };
        return isJump(x + 1, y) || isJump(x - 1, y) || isJump(x, y + 1) || isJump(x, y - 1);
    }

    /// Guesses beside a jump and near one.
    struct Torn
    {
        std::vector<PixelPlace> places;
        std::vector<char> isAtJump;
    };
    [[nodiscard]] Torn findTorn() const
    {
        Plane<std::uint8_t> torn(m_rings.width(), m_rings.height());
        torn.expectFewWritten();
        std::vector<Torn> rows(static_cast<std::size_t>(m_rings.height()));
        parallelFor(m_rings.height(), m_run, [&](int y) {
            for (int x = 0; x < m_rings.width(); ++x)
                if (isGuess(x, y) && isTorn(x, y)) torn.at(x, y) = 1;
        });
        parallelFor(m_rings.height(), m_run, [&](int y) {
            Torn& row = rows[static_cast<std::size_t>(y)];
            for (int x = 0; x < m_rings.width(); ++x) {
                if (!isGuess(x, y)) continue;
                bool near = false;
                around(torn, x, y, kMedianReach, [&](int nx, int ny) { near |= torn.at(nx, ny) != 0; });
                if (!near) continue;
                row.places.push_back({x, y});
                row.isAtJump.push_back(static_cast<char>(torn.at(x, y)));
            }
        });
        Torn all;
        for (const Torn& row : rows) {
            all.places.insert(all.places.end(), row.places.begin(), row.places.end());
            all.isAtJump.insert(all.isAtJump.end(), row.isAtJump.begin(), row.isAtJump.end());
        }
        return all;
    }

    static bool changedAround(const Plane<std::uint8_t>& changed, const PixelPlace& at, int round)
    {
        bool any = false;
        around(changed, at.x, at.y, kMedianReach, [&](int x, int y) { any |= changed.at(x, y) == round; });
        return any;
    }

    [[nodiscard]] Sample medianAt(const PixelPlace& at) const
    {
        std::array<Sample, kMost> samples;
        std::size_t count = 0;
        const float before = m_visible.radiusPx.at(at.x, at.y);
        // Which surface it is, a mixed pixel tells well enough.
        const bool isKnown = !m_rings.isGrown(at.x, at.y);
        const float own = m_hidden.radiusPx.at(at.x, at.y);
        constexpr int reach = kMedianReach * kMedianReach + 1; // round
        Colour mean{};
        around(m_visible.coverage, at.x, at.y, kMedianReach, [&](int x, int y) {
            const int dx = x - at.x;
            const int dy = y - at.y;
            if (dx * dx + dy * dy > reach || !sample(x, y, before, samples[count])) return;
            if (isKnown && isEdge(samples[count].radius, own)) return;
            for (std::size_t c = 0; c < mean.size(); ++c)
                mean[c] += samples[count].colour[c];
            ++count;
        });
        for (float& v : mean)
            v /= static_cast<float>(count);
        // The axis in which they differ most: through the one farthest from the mean.
        std::size_t farthest = 0;
        float most = -1.0F;
        for (std::size_t i = 0; i < count; ++i)
            if (const float away = distanceSquared(samples[i].colour, mean); away > most) {
                most = away;
                farthest = i;
            }
        std::array<float, kMost> along;
        for (std::size_t i = 0; i < count; ++i) {
            along[i] = 0.0F;
            for (std::size_t c = 0; c < mean.size(); ++c)
                along[i] += (samples[i].colour[c] - mean[c]) * (samples[farthest].colour[c] - mean[c]);
        }
        std::array<float, kMost> sorted;
        std::copy_n(along.begin(), count, sorted.begin());
        const auto middle = sorted.begin() + static_cast<std::ptrdiff_t>(count / 2);
        std::nth_element(sorted.begin(), middle, sorted.begin() + static_cast<std::ptrdiff_t>(count));
        return samples[static_cast<std::size_t>(std::find(along.begin(), along.end(), *middle) -
                                                along.begin())];
    }

    const SurfaceLayer& m_visible;
    SurfaceLayer& m_hidden;
    const Rings& m_rings;
    const TypicalBrightness& m_typical;
    const Run m_run;
};

} // namespace

void calmGuesses(Surfaces& surfaces, const Rings& rings, const TypicalBrightness& typical, const Run& run)
{
    Calming(surfaces, rings, typical, run).calm();
}

} // namespace retinex::defocus
