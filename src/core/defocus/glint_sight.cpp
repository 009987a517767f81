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

/// A surface with more alpha lets nothing through.
constexpr float kSolid = 0.999F;
/// Pixels are cut out together where they would lie no farther than this from where they belong, in px.
constexpr float kApart = 0.05F;

} // namespace

/// How much of each pixel of a disc is cut out, as it grows.
class GlintSight::Disc
{
public:
    Disc(int x, int y, float its, const IrisKernel& kernel, std::vector<float>& blocked)
        : centreX(x), centreY(y), radius(its), reachX(kernel.reachX()), reachY(kernel.reachY()),
          m_own(std::max(kOwnPx, kOwnShare * std::abs(its))), m_width(2 * reachX + 1), m_blocked(blocked)
    {
        m_blocked.assign(static_cast<std::size_t>(m_width * (2 * reachY + 1)), 0.0F);
    }

    int centreX;
    int centreY;
    float radius;
    int reachX;
    int reachY;

    /// Which surfaces stand in the way of it.
    [[nodiscard]] bool isBehind(float surfaceRadius) const { return surfaceRadius < radius - m_own; }

    /// Whether surfaces from one radius to another (both in front) can be taken as one.
    [[nodiscard]] bool areAlike(float nearest, float farthest) const
    {
        // A pixel at the disc's rim moves by radius / (radius - surface) of the difference.
        return std::abs(radius) * 0.5F * (farthest - nearest) <= kApart * (radius - farthest);
    }

    /// Whether nothing in a box of pixels, up to so near, reaches the disc.
    [[nodiscard]] bool isOutside(int x0, int y0, int x1, int y1, float nearest) const
    {
        const float far = (radius - nearest) / std::abs(radius);
        const auto isBeyond = [&](int from, int to, int reach) {
            const float limit = far * static_cast<float>(reach + 1);
            return static_cast<float>(from) > limit || static_cast<float>(to) < -limit;
        };
        return isBeyond(x0 - centreX, x1 - centreX, reachX) || isBeyond(y0 - centreY, y1 - centreY, reachY);
    }

    /// A surface that fills a box of pixels, [x0, x1) x [y0, y1) of the picture.
    void add(int x0, int y0, int x1, int y1, float surfaceRadius, float alpha)
    {
        const float scale = radius / (radius - surfaceRadius);
        // In pixels from the corner of the disc's box; pixel i spans [i, i + 1).
        const auto [left, right] = projected(x0 - centreX, x1 - centreX, scale, reachX);
        const auto [top, bottom] = projected(y0 - centreY, y1 - centreY, scale, reachY);
        if (left >= right || top >= bottom) return;
        m_any = true;
        for (int y = static_cast<int>(top); static_cast<float>(y) < bottom; ++y) {
            const auto edge = static_cast<float>(y);
            const float high = alpha * (std::min(bottom, edge + 1.0F) - std::max(top, edge));
            addSpan(m_blocked.data() + y * m_width, left, right, high);
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
    /// Pixels [from, to) from the glint's, as they lie in the disc's box; half open, cut at its ends.
    static std::pair<float, float> projected(int from, int to, float scale, int reach)
    {
        const float middle = static_cast<float>(reach) + 0.5F;
        const float a = (static_cast<float>(from) - 0.5F) * scale + middle;
        const float b = (static_cast<float>(to) - 0.5F) * scale + middle;
        return {std::max(std::min(a, b), 0.0F), std::min(std::max(a, b), static_cast<float>(2 * reach + 1))};
    }

    static void addSpan(float* row, float left, float right, float amount)
    {
        const int first = static_cast<int>(left);
        const int last = static_cast<int>(right); // its part may be 0, and then it may be beyond the row
        const float firstPart = left - static_cast<float>(first);
        const float lastPart = right - static_cast<float>(last);
        if (first == last) {
            row[first] += amount * (right - left);
            return;
        }
        row[first] += amount * (1.0F - firstPart);
        for (int x = first + 1; x < last; ++x)
            row[x] += amount;
        if (lastPart > 0.0F) row[last] += amount * lastPart;
    }

    float m_own;
    int m_width;
    std::vector<float>& m_blocked;
    bool m_any = false;
};

GlintSight::GlintSight(const Surfaces& surfaces, const Run& run)
{
    m_layers.push_back({&surfaces.visible, 0.0F, {}, {}});
    m_layers.push_back({&surfaces.hidden, kGuessed, {}, {}});
    for (const SurfaceLayer& layer : surfaces.between)
        m_layers.push_back({&layer, 0.0F, {}, {}});
    for (Layer& layer : m_layers) {
        summarise(layer, run);
        for (const float nearest : layer.nearest.pixels())
            m_nearest = std::min(m_nearest, nearest);
    }
}

void GlintSight::summarise(Layer& layer, const Run& run)
{
    const SurfaceLayer& surface = *layer.surface;
    const int width = surface.coverage.width();
    const int height = surface.coverage.height();
    layer.nearest = Plane<float>((width + kBlock - 1) / kBlock, (height + kBlock - 1) / kBlock, kNothing);
    layer.farthest = Plane<float>(layer.nearest.width(), layer.nearest.height(), -kNothing);
    parallelFor(layer.nearest.height(), run, [&](int by) {
        for (int y = by * kBlock; y < std::min((by + 1) * kBlock, height); ++y) {
            const float* alpha = surface.colour.plane(3).row(y);
            const float* radius = surface.radiusPx.row(y);
            for (int x = 0; x < width; ++x) {
                float& nearest = layer.nearest.at(x / kBlock, by);
                float& farthest = layer.farthest.at(x / kBlock, by);
                if (alpha[x] > layer.least) nearest = std::min(nearest, radius[x]);
                farthest = alpha[x] >= kSolid ? std::max(farthest, radius[x]) : kNothing;
            }
        }
    });
}

void GlintSight::addBlock(const Layer& layer, int bx, int by, Disc& disc)
{
    const int x0 = bx * kBlock;
    const int y0 = by * kBlock;
    const int x1 = std::min(x0 + kBlock, layer.surface->coverage.width());
    const int y1 = std::min(y0 + kBlock, layer.surface->coverage.height());
    const float nearest = layer.nearest.at(bx, by);
    const float farthest = layer.farthest.at(bx, by);
    if (disc.isOutside(x0, y0, x1, y1, nearest)) return;
    if (disc.isBehind(farthest) && disc.areAlike(nearest, farthest)) {
        disc.add(x0, y0, x1, y1, 0.5F * (nearest + farthest), 1.0F);
        return;
    }
    for (int y = y0; y < y1; ++y)
        addRow(layer, x0, x1, y, disc);
}

void GlintSight::addRow(const Layer& layer, int x0, int x1, int y, Disc& disc)
{
    const float* alpha = layer.surface->colour.plane(3).row(y);
    const float* radius = layer.surface->radiusPx.row(y);
    for (int x = x0; x < x1;) {
        const int first = x++;
        if (!disc.isBehind(radius[first]) || alpha[first] <= layer.least) continue;
        float nearest = radius[first];
        float farthest = nearest;
        if (alpha[first] >= kSolid) {
            for (; x < x1 && alpha[x] >= kSolid && disc.isBehind(radius[x]); ++x) {
                const float low = std::min(nearest, radius[x]);
                const float high = std::max(farthest, radius[x]);
                if (!disc.areAlike(low, high)) break;
                nearest = low;
                farthest = high;
            }
        }
        disc.add(first, y, x, y + 1, 0.5F * (nearest + farthest), std::min(alpha[first], 1.0F));
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
