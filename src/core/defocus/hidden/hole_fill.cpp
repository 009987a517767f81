#include "core/defocus/hidden/hole_fill.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

/// Pixels that are covered so far have no hole; what is missing is rounding.
constexpr float kWhole = 1.0F - 1e-6F;

/// Sums of 2 x 2 pixels; coverage is held at 1 so that a well covered area counts once.
Layer halved(const Layer& fine, const Run& run)
{
    const int width = (fine.coverage.width() + 1) / 2;
    const int height = (fine.coverage.height() + 1) / 2;
    Layer coarse(width, height);
    parallelFor(height, run, [&](int y) {
        const int rows[2] = {2 * y, std::min(2 * y + 1, fine.coverage.height() - 1)};
        for (int x = 0; x < width; ++x) {
            const int columns[2] = {2 * x, std::min(2 * x + 1, fine.coverage.width() - 1)};
            float covered = 0.0F;
            float colour[RgbaImage::channels] = {};
            for (const int row : rows) {
                for (const int column : columns) {
                    covered += fine.coverage.at(column, row);
                    for (int c = 0; c < RgbaImage::channels; ++c)
                        colour[c] += fine.colour.plane(c).at(column, row);
                }
            }
            const float scale = covered > 1.0F ? 1.0F / covered : 1.0F;
            coarse.coverage.at(x, y) = covered * scale;
            for (int c = 0; c < RgbaImage::channels; ++c)
                coarse.colour.plane(c).at(x, y) = colour[c] * scale;
        }
    });
    return coarse;
}

/// Bilinear sample of a plane of half the size, or another share of it, at a fine pixel.
struct Upsample
{
    int first;
    int second;
    float share; ///< of second

    Upsample(int fine, int coarseSize, float scale = 0.5F)
    {
        const float at = (static_cast<float>(fine) + 0.5F) * scale - 0.5F;
        const int whole = static_cast<int>(std::floor(at));
        share = at - static_cast<float>(whole);
        first = std::clamp(whole, 0, coarseSize - 1);
        second = std::clamp(whole + 1, 0, coarseSize - 1);
    }
};

float sample(const Plane<float>& plane, const Upsample& x, const Upsample& y)
{
    const float* top = plane.row(y.first);
    const float* bottom = plane.row(y.second);
    const float a = top[x.first] + x.share * (top[x.second] - top[x.first]);
    const float b = bottom[x.first] + x.share * (bottom[x.second] - bottom[x.first]);
    return a + y.share * (b - a);
}

/// Completes `fine` with `coarse`, which is complete as far as it can be.
void completeFrom(Layer& fine, const Layer& coarse, const Run& run)
{
    parallelFor(fine.coverage.height(), run, [&](int y) {
        const Upsample sy(y, coarse.coverage.height());
        float* coverage = fine.coverage.row(y);
        for (int x = 0; x < fine.coverage.width(); ++x) {
            const float missing = 1.0F - coverage[x];
            if (coverage[x] >= kWhole) continue;
            const Upsample sx(x, coarse.coverage.width());
            coverage[x] += missing * sample(coarse.coverage, sx, sy);
            for (int c = 0; c < RgbaImage::channels; ++c)
                fine.colour.plane(c).at(x, y) += missing * sample(coarse.colour.plane(c), sx, sy);
        }
    });
}

} // namespace

HoleFill::HoleFill(Layer&& layer, double reachPx, const Run& run) : m_layer(std::move(layer))
{
    const Run quiet{run.threads, {}, run.stop};
    m_levels.push_back(halved(m_layer, quiet));
    while (m_levels.back().coverage.width() > 1 || m_levels.back().coverage.height() > 1)
        m_levels.push_back(halved(m_levels.back(), quiet));

    // Support: how far the layer is present on the level whose pixels are about the reach wide.
    const auto supportLevel =
        std::clamp<int>(static_cast<int>(std::ceil(std::log2(std::max(reachPx, 1.0)))) - 1, 0,
                        static_cast<int>(m_levels.size()) - 1);
    m_present = m_levels[static_cast<std::size_t>(supportLevel)].coverage;
    m_presentScale = 1.0F / static_cast<float>(1 << (supportLevel + 1));

    for (std::size_t i = m_levels.size() - 1; i > 0; --i)
        completeFrom(m_levels[i - 1], m_levels[i], quiet);
}

void HoleFill::fillRow(int y, float* support)
{
    const Layer& coarse = m_levels.front();
    const Upsample sy(y, coarse.coverage.height());
    const Upsample presentY(y, m_present.height(), m_presentScale);
    const float* coverage = m_layer.coverage.row(y);
    for (int x = 0; x < m_layer.coverage.width(); ++x) {
        const float covered = coverage[x];
        if (covered >= kWhole) {
            support[x] = 1.0F;
            continue;
        }
        const Upsample sx(x, coarse.coverage.width());
        // Where something is there its own mean counts: around it may lie other surfaces, of which a pale rim
        // would stay beside sharp things.
        const float open = 1.0F - covered;
        const float missing = open * open * open * open;
        const float total = covered + missing * sample(coarse.coverage, sx, sy);
        const float norm = total > 1e-6F ? 1.0F / total : 0.0F;
        for (int c = 0; c < RgbaImage::channels; ++c) {
            float& value = m_layer.colour.plane(c).at(x, y);
            value = norm * (value + missing * sample(coarse.colour.plane(c), sx, sy));
        }
        support[x] = std::min(
            1.0F, std::max(covered, 8.0F * sample(m_present, Upsample(x, m_present.width(), m_presentScale),
                                                  presentY)));
    }
}

} // namespace retinex::defocus
