#include "core/defocus/layers/add_layers.h"

#include "core/defocus/spread/slice_map.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace retinex::defocus {

namespace {

constexpr int kBlock = 16;
constexpr float kAlikePx = 0.5F; ///< radii no further apart blur alike
constexpr float kApartPx = 1.0F;
constexpr float kOpen = 1e-4F;
constexpr float kFaintest = 1e-3F; ///< coverage of light that has no alpha

float alphaOf(float alpha, const std::array<float, 3>& light)
{
    const bool isLit = light[0] > 0.0F || light[1] > 0.0F || light[2] > 0.0F;
    return isLit ? std::max(alpha, kFaintest) : alpha;
}

/// Coverage and evidence by alpha. Colour stays: it is multiplied by evidence, and by alpha already.
void coverByAlpha(SurfaceLayer& layer, const Run& run)
{
    parallelFor(layer.coverage.height(), run, [&](int y) {
        float* coverage = layer.coverage.row(y);
        float* evidence = layer.evidence.row(y);
        for (int x = 0; x < layer.coverage.width(); ++x) {
            if (coverage[x] <= 0.0F || evidence[x] <= 0.0F) continue;
            const std::array<float, 3> light{layer.colour.plane(0).at(x, y), layer.colour.plane(1).at(x, y),
                                             layer.colour.plane(2).at(x, y)};
            // Colours that are carried on from beside may have a little more than alpha 1.
            const float a = std::max(0.0F, alphaOf(layer.colour.plane(3).at(x, y) / evidence[x], light));
            if (a == 1.0F) continue;
            const float most = std::min(a, 1.0F / coverage[x]);
            coverage[x] *= most;
            evidence[x] *= most;
            if (most < a)
                for (int c = 0; c < RgbaImage::channels; ++c)
                    layer.colour.plane(c).at(x, y) *= most / a;
        }
    });
}

void scaleAt(SurfaceLayer& layer, int x, int y, float by)
{
    for (int c = 0; c < RgbaImage::channels; ++c)
        layer.colour.plane(c).at(x, y) *= by;
    layer.coverage.at(x, y) *= by;
    layer.evidence.at(x, y) *= by;
}

Plane<float> radiiOf(const LensLayer& layer, const BlurModel& model, const Run& run)
{
    Plane<float> radius = radiusOfEach(layer.distance, model, run);
    if (layer.addedPx > 0.0F)
        for (float& r : radius.pixels())
            r = std::copysign(std::hypot(r, layer.addedPx), r);
    return radius;
}

SurfaceLayer surfaceOf(const LensLayer& layer, Plane<float> radius, float gain, const Run& run)
{
    SurfaceLayer surface(layer.distance.width(), layer.distance.height());
    parallelFor(surface.coverage.height(), run, [&](int y) {
        for (int x = 0; x < surface.coverage.width(); ++x) {
            const std::array<float, 3> light{layer.colour.plane(0).at(x, y), layer.colour.plane(1).at(x, y),
                                             layer.colour.plane(2).at(x, y)};
            const float alpha = layer.colour.plane(3).at(x, y);
            const float a = alphaOf(alpha, light);
            if (a <= 0.0F) continue;
            for (std::size_t c = 0; c < 3; ++c)
                surface.colour.plane(static_cast<int>(c)).at(x, y) = light[c] * gain;
            surface.colour.plane(3).at(x, y) = alpha;
            surface.coverage.at(x, y) = a;
            surface.evidence.at(x, y) = a;
            surface.radiusPx.at(x, y) = radius.at(x, y);
        }
    });
    return surface;
}

/// What is nearer than a layer that does not step back gives way to it.
void giveWay(std::vector<SurfaceLayer*> scene, const SurfaceLayer& layer, const Run& run)
{
    parallelFor(layer.coverage.height(), run, [&](int y) {
        for (int x = 0; x < layer.coverage.width(); ++x) {
            const float a = layer.coverage.at(x, y);
            if (a <= 0.0F) continue;
            for (SurfaceLayer* surface : scene)
                if (surface->coverage.at(x, y) > 0.0F &&
                    surface->radiusPx.at(x, y) < layer.radiusPx.at(x, y) + kApartPx)
                    scaleAt(*surface, x, y, 1.0F - a);
        }
    });
}

/// Nothing at all, as far away as there is.
SurfaceLayer openGround(int width, int height, const BlurModel& model)
{
    SurfaceLayer ground(width, height);
    const auto far = static_cast<float>(model.radiusPx(std::numeric_limits<double>::infinity()));
    std::ranges::fill(ground.coverage.pixels(), 1.0F);
    std::ranges::fill(ground.evidence.pixels(), 1.0F);
    std::ranges::fill(ground.radiusPx.pixels(), far);
    return ground;
}

/// The largest of each block, and of those around it as far as `reach` px.
Plane<float> spreadWide(const Plane<float>& blocks, float reach)
{
    const int steps = static_cast<int>(std::ceil(reach / kBlock)) + 1;
    const auto along = [steps](const Plane<float>& from, bool isRow) {
        Plane<float> to(from.width(), from.height());
        const int length = isRow ? from.width() : from.height();
        const int lines = isRow ? from.height() : from.width();
        for (int line = 0; line < lines; ++line)
            for (int i = 0; i < length; ++i) {
                float most = 0.0F;
                for (int k = std::max(0, i - steps); k <= std::min(length - 1, i + steps); ++k)
                    most = std::max(most, isRow ? from.at(k, line) : from.at(line, k));
                (isRow ? to.at(i, line) : to.at(line, i)) = most;
            }
        return to;
    };
    return along(along(blocks, true), false);
}

/// The parts of surfaces that others hide so that nothing of them can show.
class Hiding
{
public:
    /// `behindAll`: of the surfaces after the scene's.
    Hiding(std::vector<SurfaceLayer*> all, std::size_t sceneCount, const std::vector<char>& behindAll)
        : m_all(std::move(all)), m_sceneCount(sceneCount), m_behindAll(sceneCount, 0),
          m_width(m_all[0]->coverage.width()), m_height(m_all[0]->coverage.height())
    {
        m_behindAll.insert(m_behindAll.end(), behindAll.begin(), behindAll.end());
    }

    void leaveOutHidden(const Run& run)
    {
        const std::vector<Plane<float>> seen = seenThrough(run);
        parallelFor(m_height, run, [&](int y) {
            std::vector<float> before(m_all.size());
            for (int x = 0; x < m_width; ++x) {
                for (std::size_t i = 0; i < m_all.size(); ++i)
                    before[i] = m_all[i]->coverage.at(x, y);
                for (std::size_t i = 0; i < m_all.size(); ++i) {
                    if (before[i] <= 0.0F) continue;
                    if (seen[i].at(x / kBlock, y / kBlock) <= kOpen)
                        scaleAt(*m_all[i], x, y, 0.0F);
                    else
                        leaveOutAlike(i, before, x, y);
                }
            }
        });
    }

private:
    /// Radius of a surface where it is, or else about what it has near there.
    [[nodiscard]] float radiusAt(std::size_t i, int x, int y) const
    {
        return m_all[i]->coverage.at(x, y) > 0.0F ? m_all[i]->radiusPx.at(x, y)
                                                  : m_usual[i].at(x / kBlock, y / kBlock);
    }
    /// Whether surface k, which is there, stands before surface i.
    [[nodiscard]] bool isBefore(std::size_t k, float radius, std::size_t i, float other) const
    {
        // What has been taken apart of the scene is in order already.
        if (k < m_sceneCount && i < m_sceneCount) return false;
        if (m_behindAll[k] != m_behindAll[i]) return m_behindAll[k] < m_behindAll[i];
        return radius < other || (radius == other && k < i);
    }

    void leaveOutAlike(std::size_t i, const std::vector<float>& before, int x, int y) const
    {
        const float radius = m_all[i]->radiusPx.at(x, y);
        float left = 1.0F;
        for (std::size_t k = 0; k < m_all.size(); ++k) {
            if (k == i || before[k] <= 0.0F) continue;
            const float other = m_all[k]->radiusPx.at(x, y);
            if (!isBefore(k, other, i, radius)) continue;
            const float t = std::clamp((radius - other - kAlikePx) / (kApartPx - kAlikePx), 0.0F, 1.0F);
            left *= 1.0F - before[k] * (1.0F - t * t * (3.0F - 2.0F * t));
        }
        if (left < 1.0F) scaleAt(*m_all[i], x, y, left);
    }

    /// For each surface and block, how much of the light from behind passes what stands before it, at most,
    /// within reach of both blurs.
    std::vector<Plane<float>> seenThrough(const Run& run)
    {
        const int columns = (m_width + kBlock - 1) / kBlock;
        const int rows = (m_height + kBlock - 1) / kBlock;
        std::vector<Plane<float>> passing;
        float reach = 0.0F;
        for (const SurfaceLayer* layer : m_all) {
            passing.emplace_back(columns, rows);
            m_usual.push_back(usualRadii(*layer, columns, rows, reach));
        }
        parallelFor(rows, run, [&](int by) {
            for (int y = by * kBlock; y < std::min(m_height, (by + 1) * kBlock); ++y)
                for (int x = 0; x < m_width; ++x)
                    addPassing(x, y, passing);
        });
        for (Plane<float>& blocks : passing)
            blocks = spreadWide(blocks, 2.0F * reach);
        return passing;
    }

    void addPassing(int x, int y, std::vector<Plane<float>>& passing) const
    {
        for (std::size_t i = 0; i < m_all.size(); ++i) {
            const float radius = radiusAt(i, x, y);
            float open = 1.0F;
            for (std::size_t k = 0; k < m_all.size() && open > 0.0F; ++k) {
                const float coverage = m_all[k]->coverage.at(x, y);
                if (k != i && coverage > 0.0F && isBefore(k, m_all[k]->radiusPx.at(x, y), i, radius))
                    open *= 1.0F - coverage;
            }
            float& most = passing[i].at(x / kBlock, y / kBlock);
            most = std::max(most, open);
        }
    }

    static Plane<float> usualRadii(const SurfaceLayer& layer, int columns, int rows, float& reach)
    {
        Plane<float> usual(columns, rows);
        Plane<std::uint8_t> known(columns, rows);
        double sum = 0.0;
        double count = 0.0;
        for (int by = 0; by < rows; ++by)
            for (int bx = 0; bx < columns; ++bx) {
                float inBlock = 0.0F;
                int found = 0;
                for (int y = by * kBlock; y < std::min(layer.coverage.height(), (by + 1) * kBlock); ++y)
                    for (int x = bx * kBlock; x < std::min(layer.coverage.width(), (bx + 1) * kBlock); ++x) {
                        if (layer.coverage.at(x, y) <= 0.0F) continue;
                        const float radius = layer.radiusPx.at(x, y);
                        inBlock += radius;
                        reach = std::max(reach, std::abs(radius));
                        ++found;
                    }
                if (found == 0) continue;
                usual.at(bx, by) = inBlock / static_cast<float>(found);
                known.at(bx, by) = 1;
                sum += static_cast<double>(inBlock);
                count += found;
            }
        const auto mean = static_cast<float>(count > 0.0 ? sum / count : 0.0);
        for (std::size_t i = 0; i < usual.size(); ++i)
            if (known.pixels()[i] == 0) usual.pixels()[i] = mean;
        return usual;
    }

    std::vector<SurfaceLayer*> m_all;
    std::size_t m_sceneCount;
    std::vector<char> m_behindAll;
    int m_width;
    int m_height;
    std::vector<Plane<float>> m_usual;
};

bool isThere(const SurfaceLayer& layer)
{
    return std::ranges::any_of(layer.coverage.pixels(), [](float c) { return c > 0.0F; });
}

} // namespace

void addLayers(Surfaces& surfaces, const std::vector<LensLayer>& layers, const BlurModel& model, float gain,
               HiddenFill fill, const Run& run)
{
    if (layers.empty()) return;
    const Run quiet{run.threads, {}, run.stop};
    const int width = surfaces.visible.coverage.width();
    const int height = surfaces.visible.coverage.height();
    std::vector<SurfaceLayer*> scene = layersOf(surfaces);
    for (SurfaceLayer* layer : scene)
        coverByAlpha(*layer, quiet);
    std::vector<SurfaceLayer> added;
    std::vector<char> behindAll;
    for (const LensLayer& layer : layers) {
        Plane<float> radius = radiiOf(layer, model, quiet);
        if (layer.isTakenApart) {
            Surfaces apart = repairEdges(layer.colour, radius, nullptr, quiet, fill, gain);
            for (SurfaceLayer* each : layersOf(apart)) {
                coverByAlpha(*each, quiet);
                if (isThere(*each)) added.push_back(std::move(*each));
            }
        } else {
            added.push_back(surfaceOf(layer, std::move(radius), gain, quiet));
        }
        if (!layer.stepsBack) giveWay(scene, added.back(), quiet);
        behindAll.resize(added.size(), layer.isBehindAll ? 1 : 0);
    }
    added.push_back(openGround(width, height, model));
    behindAll.push_back(2); // behind backdrops too

    std::vector<SurfaceLayer*> all = scene;
    for (SurfaceLayer& layer : added)
        all.push_back(&layer);
    Hiding(std::move(all), scene.size(), behindAll).leaveOutHidden(quiet);

    std::erase_if(added, [](const SurfaceLayer& layer) { return !isThere(layer); });
    if (surfaces.third && !isThere(*surfaces.third)) surfaces.third.reset();
    std::erase_if(surfaces.between, [](const SurfaceLayer& layer) { return !isThere(layer); });
    if (!isThere(surfaces.visible) && !added.empty()) {
        surfaces.visible = std::move(added.front());
        added.erase(added.begin());
    }
    surfaces.laidIn = added.size();
    for (SurfaceLayer& layer : added)
        surfaces.between.push_back(std::move(layer));
}

} // namespace retinex::defocus
