#include "core/defocus/laid_in/sources.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

constexpr float kFaintest = 1e-3F; ///< coverage of light that has no alpha

float alphaOf(float alpha, float red, float green, float blue)
{
    return red > 0.0F || green > 0.0F || blue > 0.0F ? std::max(alpha, kFaintest) : alpha;
}

} // namespace

void coverByAlpha(SurfaceLayer& layer, const Run& run)
{
    parallelFor(layer.coverage.height(), run, [&](int y) {
        float* coverage = layer.coverage.row(y);
        float* evidence = layer.evidence.row(y);
        const float* alpha = layer.colour.plane(3).row(y);
        for (int x = 0; x < layer.coverage.width(); ++x) {
            if (coverage[x] <= 0.0F || evidence[x] <= 0.0F || alpha[x] == evidence[x]) continue;
            // Colours that are carried on from beside may have a little more than alpha 1.
            const float a =
                std::max(0.0F, alphaOf(alpha[x] / evidence[x], layer.colour.plane(0).at(x, y),
                                       layer.colour.plane(1).at(x, y), layer.colour.plane(2).at(x, y)));
            const float most = std::min(a, 1.0F / coverage[x]);
            coverage[x] *= most;
            evidence[x] *= most;
            if (most < a)
                for (int c = 0; c < RgbaImage::channels; ++c)
                    layer.colour.plane(c).at(x, y) *= most / a;
        }
    });
}

LayerSource::LayerSource(const LensLayer& layer, const BlurModel& model, float gain, Rank rank,
                         const Run& run)
    : m_layer(&layer), m_gain(gain), m_width(layer.distance.width()), m_height(layer.distance.height()),
      m_box(layer.box.empty() ? PixelBox::at(0, 0, m_width, m_height) : layer.box), m_rank(rank)
{
    const auto radiusAt = [&](float distance) {
        const auto radius = static_cast<float>(model.radiusPx(static_cast<double>(distance)));
        return layer.addedPx > 0.0F ? std::copysign(std::hypot(radius, layer.addedPx), radius) : radius;
    };
    // Most lie at one distance.
    bool isEven = true;
    float first = -1.0F;
    for (int y = m_box.minY; y <= m_box.maxY && isEven; ++y) {
        const float* alpha = layer.colour.plane(3).row(y);
        const float* distance = layer.distance.row(y);
        for (int x = m_box.minX; x <= m_box.maxX && isEven; ++x) {
            if (alpha[x] <= 0.0F) continue;
            if (first < 0.0F) first = distance[x];
            isEven = distance[x] == first;
        }
    }
    if (isEven) {
        m_radius = first < 0.0F ? 0.0F : radiusAt(first);
        return;
    }
    m_radii = Plane<float>(m_width, m_height);
    parallelFor(m_box.height(), run, [&](int row) {
        const int y = m_box.minY + row;
        for (int x = m_box.minX; x <= m_box.maxX; ++x)
            if (covered(x, y) > 0.0F) m_radii.at(x, y) = radiusAt(layer.distance.at(x, y));
    });
}

LayerSource LayerSource::nothing(int width, int height, float radius)
{
    LayerSource source;
    source.m_radius = radius;
    source.m_width = width;
    source.m_height = height;
    source.m_rank = Rank::nothing;
    return source;
}

float LayerSource::covered(int x, int y) const noexcept
{
    const RgbaImage& colour = m_layer->colour;
    return alphaOf(colour.plane(3).at(x, y), colour.plane(0).at(x, y), colour.plane(1).at(x, y),
                   colour.plane(2).at(x, y));
}

LayerPart LayerSource::part(std::size_t index, int x, int y) const noexcept
{
    LayerPart part;
    part.source = index;
    part.radius = radius(x, y);
    part.coverage = part.evidence = coverage(x, y);
    if (m_surface) {
        for (int c = 0; c < RgbaImage::channels; ++c)
            part.colour[static_cast<std::size_t>(c)] = m_surface->colour.plane(c).at(x, y);
        part.evidence = m_surface->evidence.at(x, y);
    } else if (m_layer) {
        for (int c = 0; c < 3; ++c)
            part.colour[static_cast<std::size_t>(c)] = m_layer->colour.plane(c).at(x, y) * m_gain;
        part.colour[3] = m_layer->colour.plane(3).at(x, y);
    }
    return part;
}

void LayerSource::replaceNearer(const std::vector<SurfaceLayer*>& scene, float tolerancePx,
                                const Run& run) const
{
    parallelFor(m_box.height(), run, [&](int row) {
        const int y = m_box.minY + row;
        for (int x = m_box.minX; x <= m_box.maxX; ++x) {
            const float a = coverage(x, y);
            if (a <= 0.0F) continue;
            for (SurfaceLayer* surface : scene) {
                if (surface->coverage.at(x, y) <= 0.0F ||
                    surface->radiusPx.at(x, y) >= radius(x, y) + tolerancePx)
                    continue;
                for (int c = 0; c < RgbaImage::channels; ++c)
                    surface->colour.plane(c).at(x, y) *= 1.0F - a;
                surface->coverage.at(x, y) *= 1.0F - a;
                surface->evidence.at(x, y) *= 1.0F - a;
            }
        }
    });
}

void LayerSource::summarise(const Run& run)
{
    if (m_surface) {
        m_width = m_surface->coverage.width();
        m_height = m_surface->coverage.height();
        m_box = PixelBox::at(0, 0, m_width, m_height);
    }
    m_blocks = Plane<Block>((m_width + kBlock - 1) / kBlock, (m_height + kBlock - 1) / kBlock);
    if (!m_surface && !m_layer) {
        std::ranges::fill(m_blocks.pixels(), Block{1.0F, 1.0F, m_radius, m_radius});
        m_largest = std::abs(m_radius);
        m_usual = m_radius;
        return;
    }
    parallelFor(m_blocks.height(), run, [&](int by) {
        for (int bx = 0; bx < m_blocks.width(); ++bx) {
            Block block{1.0F, 0.0F, 1e9F, -1e9F};
            const PixelBox whole = PixelBox::at(bx * kBlock, by * kBlock, kBlock, kBlock);
            if (whole.intersected(m_box).empty()) {
                block.least = 0.0F;
                m_blocks.at(bx, by) = block;
                continue;
            }
            for (int y = by * kBlock; y < std::min(m_height, (by + 1) * kBlock); ++y)
                for (int x = bx * kBlock; x < std::min(m_width, (bx + 1) * kBlock); ++x) {
                    const float c = coverage(x, y);
                    block.least = std::min(block.least, c);
                    block.most = std::max(block.most, c);
                    if (c <= 0.0F) continue;
                    const float r = radius(x, y);
                    block.nearest = std::min(block.nearest, r);
                    block.farthest = std::max(block.farthest, r);
                }
            m_blocks.at(bx, by) = block;
        }
    });
    double sum = 0.0;
    double count = 0.0;
    for (const Block& block : m_blocks.pixels()) {
        if (block.most <= 0.0F) continue;
        m_largest = std::max({m_largest, std::abs(block.nearest), std::abs(block.farthest)});
        sum += 0.5 * static_cast<double>(block.nearest + block.farthest);
        count += 1.0;
    }
    m_usual = static_cast<float>(count > 0.0 ? sum / count : 0.0);
}

} // namespace retinex::defocus
