#include "core/defocus/glints/glint_sight.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

/// Surfaces whose radius differs by less (px, or share of the glint's) are the glint's own.
constexpr float kOwnPx = 1.0F;
constexpr float kOwnShare = 0.08F;

/// Differences in what is seen that nobody sees.
constexpr float kStep = 1.0F / 256.0F;

constexpr float kNothing = 1e30F;

/// A surface with more alpha lets nothing through.
constexpr float kSolid = 0.999F;
/// Pixels are cut out together where they would lie no farther than this from where they belong, in px.
constexpr float kApart = 0.05F;

/// Pixels [from, to) of the picture as they lie in a box that begins at `start`, cut at its ends.
std::pair<float, float> projected(int from, int to, float centre, float scale, int start, int size)
{
    const float shift = centre + 0.5F - static_cast<float>(start);
    const float a = (static_cast<float>(from) - 0.5F - centre) * scale + shift;
    const float b = (static_cast<float>(to) - 0.5F - centre) * scale + shift;
    return {std::max(std::min(a, b), 0.0F), std::min(std::max(a, b), static_cast<float>(size))};
}

void addSpan(float* row, float left, float right, float amount)
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

} // namespace

void GlintSight::Shade::begin(const Group& group, int reachX, int reachY)
{
    m_radius = group.radius;
    m_own = std::max(kOwnPx, kOwnShare * std::abs(m_radius));
    m_centreX = 0.5F * static_cast<float>(group.x0 + group.x1 - 1);
    m_centreY = 0.5F * static_cast<float>(group.y0 + group.y1 - 1);
    m_x0 = group.x0 - reachX;
    m_y0 = group.y0 - reachY;
    m_width = group.x1 + reachX - m_x0;
    m_height = group.y1 + reachY - m_y0;
    m_any = false;
    m_blocked.assign(static_cast<std::size_t>(m_width * m_height), 0.0F);
}

/// Whether surfaces from one radius to another (both in front) can be taken as one.
bool GlintSight::Shade::areAlike(float nearest, float farthest) const
{
    // A pixel at the disc's rim moves by radius / (radius - surface) of the difference.
    return std::abs(m_radius) * 0.5F * (farthest - nearest) <= kApart * (m_radius - farthest);
}

/// How far from the middle surfaces up to so near can cut a box of the given size.
float GlintSight::Shade::reach(int size, float nearest) const
{
    return (m_radius - nearest) / std::abs(m_radius) * (0.5F * static_cast<float>(size) + 1.0F);
}

/// Whether nothing in a box of pixels, up to so near, reaches the discs.
bool GlintSight::Shade::isOutside(int x0, int y0, int x1, int y1, float nearest) const
{
    const auto isBeyond = [&](int from, int to, float centre, int size) {
        const float limit = reach(size, nearest);
        return static_cast<float>(from) - centre > limit || static_cast<float>(to) - centre < -limit;
    };
    return isBeyond(x0, x1, m_centreX, m_width) || isBeyond(y0, y1, m_centreY, m_height);
}

/// A surface that fills a box of pixels, [x0, x1) x [y0, y1) of the picture.
void GlintSight::Shade::add(int x0, int y0, int x1, int y1, float surfaceRadius, float alpha)
{
    const float scale = m_radius / (m_radius - surfaceRadius);
    const auto [left, right] = projected(x0, x1, m_centreX, scale, m_x0, m_width);
    const auto [top, bottom] = projected(y0, y1, m_centreY, scale, m_y0, m_height);
    if (left >= right || top >= bottom) return;
    m_any = true;
    for (int y = static_cast<int>(top); static_cast<float>(y) < bottom; ++y) {
        const auto edge = static_cast<float>(y);
        const float high = alpha * (std::min(bottom, edge + 1.0F) - std::max(top, edge));
        addSpan(m_blocked.data() + y * m_width, left, right, high);
    }
}

/// How much of what arrives at a pixel of the picture is seen, in steps.
float GlintSight::Shade::seen(int x, int y) const
{
    if (x < m_x0 || x >= m_x0 + m_width || y < m_y0 || y >= m_y0 + m_height) return 1.0F;
    const float blocked = m_blocked[static_cast<std::size_t>((y - m_y0) * m_width + x - m_x0)];
    // Rounded: no less than 0.
    return static_cast<float>(static_cast<int>((1.0F - std::min(blocked, 1.0F)) / kStep + 0.5F)) * kStep;
}

void GlintSight::Shade::cut(int x, int y, std::vector<IrisKernel::RowSpan>& spans) const
{
    std::vector<IrisKernel::RowSpan> whole;
    whole.swap(spans);
    for (const IrisKernel::RowSpan& span : whole) {
        // From pixel to pixel; equal neighbours stay one span. Pixel i spans [i - 0.5, i + 0.5).
        double from = span.lo;
        while (from < span.hi) {
            const int first = static_cast<int>(std::floor(from + 0.5));
            const float share = seen(x + first, y + span.dy);
            int last = first;
            while (last + 0.5 < span.hi && seen(x + last + 1, y + span.dy) == share)
                ++last;
            const double to = std::min(span.hi, last + 0.5);
            if (share > 0.0F) spans.push_back({span.dy, from, to, span.weight * static_cast<double>(share)});
            from = to;
        }
    }
}

GlintSight::GlintSight(const Surfaces& surfaces, const Run& run) : m_stop(run.stop)
{
    m_layers.push_back({&surfaces.visible, 0.0F, {}, {}});
    m_layers.push_back({&surfaces.hidden, kGuessEvidenceBack, {}, {}}); // what is guessed has no more
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

void GlintSight::addBlock(const Layer& layer, int bx, int by, Shade& shade)
{
    const int x0 = bx * kBlock;
    const int y0 = by * kBlock;
    const int x1 = std::min(x0 + kBlock, layer.surface->coverage.width());
    const int y1 = std::min(y0 + kBlock, layer.surface->coverage.height());
    const float nearest = layer.nearest.at(bx, by);
    const float farthest = layer.farthest.at(bx, by);
    if (shade.isOutside(x0, y0, x1, y1, nearest)) return;
    if (shade.isBehind(farthest) && shade.areAlike(nearest, farthest)) {
        shade.add(x0, y0, x1, y1, 0.5F * (nearest + farthest), 1.0F);
        return;
    }
    for (int y = y0; y < y1; ++y)
        addRow(layer, x0, x1, y, shade);
}

void GlintSight::addRow(const Layer& layer, int x0, int x1, int y, Shade& shade)
{
    const float* alpha = layer.surface->colour.plane(3).row(y);
    const float* radius = layer.surface->radiusPx.row(y);
    for (int x = x0; x < x1;) {
        const int first = x++;
        if (!shade.isBehind(radius[first]) || alpha[first] <= layer.least) continue;
        float nearest = radius[first];
        float farthest = nearest;
        if (alpha[first] >= kSolid) {
            for (; x < x1 && alpha[x] >= kSolid && shade.isBehind(radius[x]); ++x) {
                const float low = std::min(nearest, radius[x]);
                const float high = std::max(farthest, radius[x]);
                if (!shade.areAlike(low, high)) break;
                nearest = low;
                farthest = high;
            }
        }
        shade.add(first, y, x, y + 1, 0.5F * (nearest + farthest), std::min(alpha[first], 1.0F));
    }
}

bool GlintSight::look(const Group& group, int reachX, int reachY, Shade& shade) const
{
    shade.begin(group, reachX, reachY);
    if (!shade.isBehind(m_nearest)) return false;
    // Surfaces up to the nearest one can stand in the way.
    const auto blocksOf = [&](float centre, int size, int count) {
        const float reach = shade.reach(size, m_nearest);
        const float from = (centre - reach) / kBlock;
        const float to = (centre + reach) / kBlock;
        return std::pair(std::clamp(static_cast<int>(from), 0, count - 1),
                         std::clamp(static_cast<int>(to), 0, count - 1));
    };
    const Plane<float>& blocks = m_layers.front().nearest;
    const auto [bx0, bx1] = blocksOf(shade.m_centreX, shade.m_width, blocks.width());
    const auto [by0, by1] = blocksOf(shade.m_centreY, shade.m_height, blocks.height());
    for (const Layer& layer : m_layers) {
        for (int by = by0; by <= by1; ++by) {
            throwIfStopped(m_stop);
            for (int bx = bx0; bx <= bx1; ++bx)
                if (shade.isBehind(layer.nearest.at(bx, by))) addBlock(layer, bx, by, shade);
        }
    }
    return shade.m_any;
}

} // namespace retinex::defocus
