#include "core/defocus/glint_sight.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

/// Surfaces whose radius differs by less (px, or share of the glint's) are the glint's own.
constexpr float kOwnPx = 1.0F;
constexpr float kOwnShare = 0.08F;

/// Evidence of what edge repair only guesses is at most this.
constexpr float kGuessed = 0.1F;

/// Differences in what is seen that nobody sees.
constexpr float kStep = 1.0F / 256.0F;

constexpr float kNothing = 1e30F;

} // namespace

/// How much of each pixel of a disc is cut out, as it grows.
class GlintSight::Disc
{
public:
    Disc(int x, int y, float its, const IrisKernel& kernel, std::vector<float>& blocked)
        : centreX(x), centreY(y), radius(its), reachX(kernel.reachX()), reachY(kernel.reachY()),
          m_width(2 * reachX + 1), m_blocked(blocked)
    {
        m_blocked.assign(static_cast<std::size_t>(m_width * (2 * reachY + 1)), 0.0F);
    }

    int centreX;
    int centreY;
    float radius;
    int reachX;
    int reachY;

    /// A surface at an offset from the glint's pixel.
    void add(int dx, int dy, float surfaceRadius, float alpha)
    {
        const float scale = radius / (radius - surfaceRadius);
        const float half = 0.5F * std::abs(scale);
        // In pixels from the corner of the disc's box; pixel i spans [i, i + 1).
        const float x = static_cast<float>(dx) * scale + static_cast<float>(reachX) + 0.5F;
        const float y = static_cast<float>(dy) * scale + static_cast<float>(reachY) + 0.5F;
        const float x0 = std::max(x - half, 0.0F);
        const float x1 = std::min(x + half, static_cast<float>(m_width));
        const float y0 = std::max(y - half, 0.0F);
        const float y1 = std::min(y + half, static_cast<float>(2 * reachY + 1));
        if (x0 >= x1 || y0 >= y1) return;
        m_any = true;
        for (int py = static_cast<int>(y0); static_cast<float>(py) < y1; ++py) {
            const auto top = static_cast<float>(py);
            const float high = alpha * (std::min(y1, top + 1.0F) - std::max(y0, top));
            float* row = m_blocked.data() + py * m_width;
            for (int px = static_cast<int>(x0); static_cast<float>(px) < x1; ++px) {
                const auto left = static_cast<float>(px);
                row[px] += high * (std::min(x1, left + 1.0F) - std::max(x0, left));
            }
        }
    }
    [[nodiscard]] bool isCut() const { return m_any; }
    /// How much of pixel (dx, dy) from the centre is seen, in steps.
    [[nodiscard]] float seen(int dx, int dy) const
    {
        if (std::abs(dx) > reachX || std::abs(dy) > reachY) return 1.0F;
        const float blocked = m_blocked[static_cast<std::size_t>((dy + reachY) * m_width + dx + reachX)];
        return std::round((1.0F - std::min(blocked, 1.0F)) / kStep) * kStep;
    }

private:
    int m_width;
    std::vector<float>& m_blocked;
    bool m_any = false;
};

GlintSight::GlintSight(const Surfaces& surfaces, const Run& run)
{
    m_layers.push_back({&surfaces.visible, 0.0F, {}});
    m_layers.push_back({&surfaces.hidden, kGuessed, {}});
    for (const SurfaceLayer& layer : surfaces.between)
        m_layers.push_back({&layer, 0.0F, {}});
    for (Layer& layer : m_layers) {
        const SurfaceLayer& surface = *layer.surface;
        const int width = surface.coverage.width();
        const int height = surface.coverage.height();
        layer.nearest = Plane<float>((width + kBlock - 1) / kBlock, (height + kBlock - 1) / kBlock, kNothing);
        parallelFor(layer.nearest.height(), run, [&](int by) {
            for (int y = by * kBlock; y < std::min((by + 1) * kBlock, height); ++y) {
                const float* alpha = surface.colour.plane(3).row(y);
                const float* radius = surface.radiusPx.row(y);
                for (int x = 0; x < width; ++x) {
                    if (alpha[x] <= layer.least) continue;
                    float& nearest = layer.nearest.at(x / kBlock, by);
                    nearest = std::min(nearest, radius[x]);
                }
            }
        });
        for (const float nearest : layer.nearest.pixels())
            m_nearest = std::min(m_nearest, nearest);
    }
}

void GlintSight::addBlock(const Layer& layer, int bx, int by, Disc& disc) const
{
    const SurfaceLayer& surface = *layer.surface;
    const float own = std::max(kOwnPx, kOwnShare * std::abs(disc.radius));
    const int endX = std::min((bx + 1) * kBlock, surface.coverage.width());
    const int endY = std::min((by + 1) * kBlock, surface.coverage.height());
    for (int y = by * kBlock; y < endY; ++y) {
        const float* alpha = surface.colour.plane(3).row(y);
        const float* radius = surface.radiusPx.row(y);
        for (int x = bx * kBlock; x < endX; ++x)
            if (radius[x] < disc.radius - own && alpha[x] > layer.least)
                disc.add(x - disc.centreX, y - disc.centreY, radius[x], std::min(alpha[x], 1.0F));
    }
}

bool GlintSight::cut(int x, int y, float radius, const IrisKernel& kernel, Work& work,
                     std::vector<IrisKernel::RowSpan>& spans) const
{
    const float own = std::max(kOwnPx, kOwnShare * std::abs(radius));
    if (m_nearest >= radius - own) return false;
    // Surfaces up to the nearest one can stand in the way, and these reach so far.
    const float far = (radius - m_nearest) / std::abs(radius);
    const auto blocksOf = [](int centre, float reach, int count) {
        const float from = (static_cast<float>(centre) - reach) / kBlock;
        const float to = (static_cast<float>(centre) + reach) / kBlock;
        return std::pair(std::clamp(static_cast<int>(from), 0, count - 1),
                         std::clamp(static_cast<int>(to), 0, count - 1));
    };
    const Plane<float>& blocks = m_layers.front().nearest;
    const float reachX = far * static_cast<float>(kernel.reachX() + 1);
    const float reachY = far * static_cast<float>(kernel.reachY() + 1);
    const auto [bx0, bx1] = blocksOf(x, reachX, blocks.width());
    const auto [by0, by1] = blocksOf(y, reachY, blocks.height());
    Disc disc(x, y, radius, kernel, work.blocked);
    for (const Layer& layer : m_layers)
        for (int by = by0; by <= by1; ++by)
            for (int bx = bx0; bx <= bx1; ++bx)
                if (layer.nearest.at(bx, by) < radius - own) addBlock(layer, bx, by, disc);
    if (!disc.isCut()) return false;
    std::vector<IrisKernel::RowSpan> whole;
    whole.swap(spans);
    for (const IrisKernel::RowSpan& span : whole) {
        // From pixel to pixel; equal neighbours stay one span. Pixel i spans [i - 0.5, i + 0.5).
        double from = span.lo;
        while (from < span.hi) {
            const int first = static_cast<int>(std::floor(from + 0.5));
            const float seen = disc.seen(first, span.dy);
            int last = first;
            while (last + 0.5 < span.hi && disc.seen(last + 1, span.dy) == seen)
                ++last;
            const double to = std::min(span.hi, last + 0.5);
            if (seen > 0.0F) spans.push_back({span.dy, from, to, span.weight * static_cast<double>(seen)});
            from = to;
        }
    }
    return true;
}

} // namespace retinex::defocus
