#include "core/defocus/glints/glints.h"

#include "core/defocus/surfaces/pixel_colour.h"

#include <cmath>
#include <cstdint>
#include <map>
#include <optional>
#include <tbb/enumerable_thread_specific.h>
#include <unordered_map>

namespace retinex::defocus {

namespace {

constexpr float kOver = 4.0F;        ///< a glint is so many times as bright as what is around it
constexpr float kSeenWholly = 0.98F; ///< evidence for so much of what is covered
constexpr float kFloor = 0.02F;      ///< darker than this nothing is told apart
constexpr float kLeastRadius = 1.5F; ///< below, slices are as exact

/// Radii of glints' kernels: 128 steps from each power of two to the next.
double steppedRadius(float radius)
{
    const double size = std::abs(static_cast<double>(radius));
    const double step = std::exp2(std::floor(std::log2(size)) - 7.0);
    return std::copysign(std::round(size / step) * step, radius);
}

/// Glints of one radius beside each other.
struct Cluster
{
    GlintSight::Group group;
    std::vector<std::size_t> glints;
};

/// What stands before a disc is worked out once for the glints in a square: the side, a tenth to a fifth of
/// the radius.
int clusterSide(double radius)
{
    int side = 2;
    while (10.0 * side <= radius && side < 16)
        side *= 2;
    return side;
}

std::vector<Cluster> clustersOf(const std::vector<Glint>& glints, const std::vector<double>& radii)
{
    std::vector<Cluster> clusters;
    // Row and column of squares: 26 bits are enough for all pictures.
    const auto place = [](int kernel, int row, int column) {
        return static_cast<std::uint64_t>(kernel) << 52U | static_cast<std::uint64_t>(row) << 26U |
               static_cast<std::uint64_t>(column);
    };
    std::unordered_map<std::uint64_t, std::size_t> known;
    for (std::size_t i = 0; i < glints.size(); ++i) {
        const Glint& glint = glints[i];
        const double radius = radii[static_cast<std::size_t>(glint.kernel)];
        const int side = clusterSide(std::abs(radius));
        const auto [at, isNew] =
            known.try_emplace(place(glint.kernel, glint.y / side, glint.x / side), clusters.size());
        if (isNew)
            clusters.push_back(
                {{glint.x, glint.y, glint.x + 1, glint.y + 1, static_cast<float>(radius)}, {}});
        Cluster& cluster = clusters[at->second];
        cluster.glints.push_back(i);
        GlintSight::Group& group = cluster.group;
        group.x0 = std::min(group.x0, glint.x);
        group.y0 = std::min(group.y0, glint.y);
        group.x1 = std::max(group.x1, glint.x + 1);
        group.y1 = std::max(group.y1, glint.y + 1);
    }
    return clusters;
}

struct Found
{
    Glint glint;
    double radius = 0.0;
};

} // namespace

UsualBrightness::UsualBrightness(const std::vector<SurfaceLayer*>& layers, const Run& run)
    : m_log((layers.front()->coverage.width() + kBlock - 1) / kBlock,
            (layers.front()->coverage.height() + kBlock - 1) / kBlock)
{
    const int width = layers.front()->coverage.width();
    const int height = layers.front()->coverage.height();
    const auto brightest = [&](int x, int y) {
        if (layers.size() == 1) return brightnessOf(colourAt(layers.front()->colour, x, y));
        float most = 0.0F;
        for (const SurfaceLayer* layer : layers)
            if (const float seen = layer->evidence.at(x, y); seen > 0.0F)
                most = std::max(most, brightnessOf(colourAt(layer->colour, x, y)) / seen);
        return most;
    };
    Plane<float> blocks(m_log.width(), m_log.height());
    parallelFor(blocks.height(), run, [&](int by) {
        for (int bx = 0; bx < blocks.width(); ++bx) {
            float sum = 0.0F;
            int count = 0;
            for (int y = by * kBlock; y < std::min((by + 1) * kBlock, height); y += 2) {
                for (int x = bx * kBlock; x < std::min((bx + 1) * kBlock, width); x += 2) {
                    sum += std::log2(brightest(x, y) + kFloor);
                    ++count;
                }
            }
            blocks.at(bx, by) = sum / static_cast<float>(count);
        }
    });
    for (int by = 0; by < blocks.height(); ++by) {
        for (int bx = 0; bx < blocks.width(); ++bx) {
            float sum = 0.0F;
            float count = 0.0F;
            around(blocks, bx, by, 1, [&](int nx, int ny) {
                sum += blocks.at(nx, ny);
                count += 1.0F;
            });
            m_log.at(bx, by) = sum / count;
        }
    }
    m_least = Plane<float>(m_log.width(), m_log.height());
    for (int by = 0; by < m_log.height(); ++by) {
        for (int bx = 0; bx < m_log.width(); ++bx) {
            float least = m_log.at(bx, by);
            around(m_log, bx, by, 1, [&](int nx, int ny) { least = std::min(least, m_log.at(nx, ny)); });
            constexpr float rounding = 1e-3F;
            m_least.at(bx, by) = std::exp2(least - rounding);
        }
    }
}

float UsualBrightness::at(int x, int y) const noexcept
{
    const auto place = [](int at, int count) {
        const float block = (static_cast<float>(at) + 0.5F) / kBlock - 0.5F;
        const int first = std::clamp(static_cast<int>(std::floor(block)), 0, std::max(0, count - 2));
        return std::pair(first, std::clamp(block - static_cast<float>(first), 0.0F, 1.0F));
    };
    const auto [x0, fx] = place(x, m_log.width());
    const auto [y0, fy] = place(y, m_log.height());
    const int x1 = std::min(x0 + 1, m_log.width() - 1);
    const int y1 = std::min(y0 + 1, m_log.height() - 1);
    const float top = m_log.at(x0, y0) + fx * (m_log.at(x1, y0) - m_log.at(x0, y0));
    const float bottom = m_log.at(x0, y1) + fx * (m_log.at(x1, y1) - m_log.at(x0, y1));
    return std::exp2(top + fy * (bottom - top));
}

namespace {

/// `guessesToo`: the layer has some of what is guessed, which has no glints.
void findGlints(SurfaceLayer& layer, const UsualBrightness& usual, bool guessesToo,
                std::vector<std::vector<Found>>& rows, const Run& run)
{
    const int width = layer.coverage.width();
    const int height = layer.coverage.height();
    parallelFor(height, run, [&](int y) {
        const std::array<const float*, 3> light{layer.colour.plane(0).row(y), layer.colour.plane(1).row(y),
                                                layer.colour.plane(2).row(y)};
        for (int x = 0; x < width; ++x) {
            const Colour colour{light[0][x], light[1][x], light[2][x]};
            const float brightness = brightnessOf(colour);
            if (brightness <= kOver * usual.least(x, y)) continue; // nearly all
            const float radius = layer.radiusPx.at(x, y);
            if (std::abs(radius) < kLeastRadius || layer.coverage.at(x, y) <= 0.0F) continue;
            if (guessesToo && layer.evidence.at(x, y) < kSeenWholly * layer.coverage.at(x, y)) continue;
            const float most = kOver * usual.at(x, y);
            if (brightness <= most) continue;
            const float over = 1.0F - most / brightness;
            Found found;
            found.glint = {x, y, {over * colour[0], over * colour[1], over * colour[2]}, 0, radius < 0.0F};
            found.radius = steppedRadius(radius);
            rows[static_cast<std::size_t>(y)].push_back(found);
            for (int c = 0; c < 3; ++c)
                layer.colour.plane(c).at(x, y) *= 1.0F - over;
        }
    });
}

} // namespace

GlintList::GlintList(const std::vector<SurfaceLayer*>& layers, const Run& run)
{
    std::vector<std::vector<Found>> rows(static_cast<std::size_t>(layers.front()->coverage.height()));
    const UsualBrightness usual(layers, run);
    for (SurfaceLayer* layer : layers)
        findGlints(*layer, usual, layers.size() > 1, rows, run);
    std::map<double, int> kernelOf;
    for (const auto& row : rows)
        for (const Found& found : row)
            kernelOf.emplace(found.radius, 0);
    for (auto& [radius, index] : kernelOf) {
        index = static_cast<int>(m_radii.size());
        m_radii.push_back(radius);
    }
    for (const auto& row : rows) {
        for (const Found& found : row) {
            m_glints.push_back(found.glint);
            m_glints.back().kernel = kernelOf.at(found.radius);
        }
    }
}

void GlintList::makeDiscs(const IrisOpenings& openings, double widthScale, const CatsEye& catsEye,
                          const GlintSight& sight, const Run& run)
{
    std::vector<std::optional<IrisKernel>> made(m_radii.size());
    parallelFor(static_cast<int>(m_radii.size()), run, [&](int i) {
        const auto index = static_cast<std::size_t>(i);
        made[index].emplace(openings, KernelShape{m_radii[index], widthScale, 1, false});
    });
    m_kernels.clear();
    for (auto& kernel : made)
        m_kernels.push_back(std::move(*kernel));
    const std::vector<Cluster> clusters = clustersOf(m_glints, m_radii);
    m_cut.assign(m_glints.size(), {});
    tbb::enumerable_thread_specific<GlintSight::Shade> workers;
    parallelFor(static_cast<int>(clusters.size()), run, [&](int i) {
        const Cluster& cluster = clusters[static_cast<std::size_t>(i)];
        const IrisKernel& its = kernel(m_glints[cluster.glints.front()]);
        GlintSight::Shade& shade = workers.local();
        if (!sight.look(cluster.group, its.reachX(), its.reachY(), shade)) return;
        for (const std::size_t index : cluster.glints) {
            run.throwIfStopped(); // there may be many of them
            Glint& glint = m_glints[index];
            auto& spans = m_cut[index];
            if (catsEye.isOn())
                catsEye.clipFrom(its, glint.turnedOver, glint.x, glint.y, spans);
            else
                spans = its.rows();
            shade.cut(glint.x, glint.y, spans);
            glint.cut = static_cast<int>(index);
        }
    });
}

} // namespace retinex::defocus
