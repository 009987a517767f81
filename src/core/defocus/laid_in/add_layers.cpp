#include "core/defocus/laid_in/add_layers.h"

#include "core/defocus/laid_in/sources.h"
#include "core/defocus/repair/edge_repair.h"
#include "core/defocus/slices/slice_map.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace retinex::defocus {

namespace {

constexpr int kBlock = LayerSource::kBlock;
constexpr float kAlikePx = 0.5F; ///< radii no further apart blur alike
constexpr float kApartPx = 1.0F;
constexpr float kOpen = 1e-4F;
constexpr std::size_t kMostBetween = 8;

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

/// Puts surfaces of the scene and of what is laid in together, pixel by pixel.
class Assembly
{
public:
    Assembly(Surfaces& surfaces, std::vector<LayerSource> sources, std::size_t sceneCount)
        : m_surfaces(surfaces), m_sources(std::move(sources)), m_sceneCount(sceneCount),
          m_width(surfaces.visible.coverage.width()), m_height(surfaces.visible.coverage.height()),
          m_columns((m_width + kBlock - 1) / kBlock), m_rows((m_height + kBlock - 1) / kBlock)
    {
    }

    void run(const Run& run)
    {
        for (LayerSource& source : m_sources)
            source.summarise(run);
        lookThrough(run);
        m_betweenBefore = m_surfaces.between.size();
        while (m_surfaces.between.size() < kMostBetween)
            m_surfaces.between.emplace_back(m_width, m_height);
        parallelFor(m_rows, run, [&](int by) {
            Pixel pixel;
            pixel.parts.resize(m_sources.size());
            for (int bx = 0; bx < m_columns; ++bx)
                if (isTouched(bx, by)) assemble(bx, by, pixel);
        });
    }

private:
    struct Pixel
    {
        std::vector<LayerPart> parts;
        std::vector<LayerPart> kept;
    };

    /// Whether surface k stands before surface i.
    [[nodiscard]] bool isBefore(std::size_t k, float radius, std::size_t i, float other) const
    {
        // What has been taken apart of the scene is in order already.
        if (k < m_sceneCount && i < m_sceneCount) return false;
        if (m_sources[k].rank() != m_sources[i].rank()) return m_sources[k].rank() < m_sources[i].rank();
        return radius < other || (radius == other && k < i);
    }

    /// For each surface and block, how much of the light from behind passes what stands before it, at most,
    /// within reach of both blurs.
    void lookThrough(const Run& run)
    {
        float reach = 0.0F;
        for (const LayerSource& source : m_sources) {
            reach = std::max(reach, source.largestRadius());
            m_seen.emplace_back(m_columns, m_rows);
        }
        parallelFor(m_rows, run, [&](int by) {
            for (int bx = 0; bx < m_columns; ++bx)
                for (std::size_t i = 0; i < m_sources.size(); ++i)
                    m_seen[i].at(bx, by) = passing(i, bx, by);
        });
        for (Plane<float>& blocks : m_seen)
            blocks = spreadWide(blocks, 2.0F * reach);
    }

    [[nodiscard]] float passing(std::size_t i, int bx, int by) const
    {
        const auto& own = m_sources[i].block(bx, by);
        const bool isThere = own.most > 0.0F;
        const float nearest = isThere ? own.nearest : m_sources[i].usualRadius();
        const float farthest = isThere ? own.farthest : nearest;
        std::array<std::size_t, 32> mixed{};
        std::size_t count = 0;
        for (std::size_t k = 0; k < m_sources.size(); ++k) {
            const auto& other = m_sources[k].block(bx, by);
            if (k == i || other.most <= 0.0F) continue;
            if (!isBefore(k, other.nearest, i, farthest)) continue; // none of it is
            if (other.least >= 1.0F && isBefore(k, other.farthest, i, nearest)) return 0.0F;
            if (count < mixed.size()) mixed[count++] = k;
        }
        if (count == 0) return 1.0F;
        float most = 0.0F;
        for (int y = by * kBlock; y < std::min(m_height, (by + 1) * kBlock); ++y)
            for (int x = bx * kBlock; x < std::min(m_width, (bx + 1) * kBlock); ++x) {
                const float radius = m_sources[i].coverage(x, y) > 0.0F ? m_sources[i].radius(x, y) : nearest;
                float open = 1.0F;
                for (std::size_t m = 0; m < count && open > most; ++m) {
                    const LayerSource& other = m_sources[mixed[m]];
                    const float coverage = other.coverage(x, y);
                    if (coverage > 0.0F && isBefore(mixed[m], other.radius(x, y), i, radius))
                        open *= 1.0F - coverage;
                }
                most = std::max(most, open);
                if (most >= 1.0F) return most;
            }
        return most;
    }

    /// Elsewhere the scene stays as it is taken apart.
    [[nodiscard]] bool isTouched(int bx, int by) const
    {
        for (std::size_t i = 0; i < m_sources.size(); ++i) {
            const bool isThere = m_sources[i].block(bx, by).most > 0.0F;
            const bool isSeen = m_seen[i].at(bx, by) > kOpen;
            if (isThere && (i < m_sceneCount ? !isSeen : isSeen)) return true;
        }
        return false;
    }

    void assemble(int bx, int by, Pixel& pixel)
    {
        std::vector<std::size_t> here;
        for (std::size_t i = 0; i < m_sources.size(); ++i)
            if (m_sources[i].block(bx, by).most > 0.0F && m_seen[i].at(bx, by) > kOpen) here.push_back(i);
        for (int y = by * kBlock; y < std::min(m_height, (by + 1) * kBlock); ++y)
            for (int x = bx * kBlock; x < std::min(m_width, (bx + 1) * kBlock); ++x) {
                pixel.parts.clear();
                for (const std::size_t i : here)
                    if (m_sources[i].coverage(x, y) > 0.0F) pixel.parts.push_back(m_sources[i].part(i, x, y));
                leaveOutAlike(pixel);
                put(pixel, x, y);
            }
    }

    /// Of two that blur alike the hidden part of the farther one cannot show.
    void leaveOutAlike(Pixel& pixel) const
    {
        pixel.kept = pixel.parts;
        for (LayerPart& part : pixel.kept) {
            float left = 1.0F;
            for (const LayerPart& other : pixel.parts) {
                if (other.source == part.source ||
                    !isBefore(other.source, other.radius, part.source, part.radius))
                    continue;
                const float apart = part.radius - other.radius;
                const float t = std::clamp((apart - kAlikePx) / (kApartPx - kAlikePx), 0.0F, 1.0F);
                left *= 1.0F - other.coverage * (1.0F - t * t * (3.0F - 2.0F * t));
            }
            if (left < 1.0F) part.scale(left);
        }
        std::erase_if(pixel.kept, [](const LayerPart& part) { return part.coverage <= 0.0F; });
        std::ranges::stable_sort(pixel.kept, {}, &LayerPart::radius);
    }

    void put(const Pixel& pixel, int x, int y)
    {
        const auto into = [&](SurfaceLayer& layer, std::size_t i) {
            if (i < pixel.kept.size()) {
                const LayerPart& part = pixel.kept[i];
                for (int c = 0; c < RgbaImage::channels; ++c)
                    layer.colour.plane(c).at(x, y) = part.colour[static_cast<std::size_t>(c)];
                layer.coverage.at(x, y) = part.coverage;
                layer.evidence.at(x, y) = part.evidence;
                layer.radiusPx.at(x, y) = part.radius;
            } else if (layer.coverage.at(x, y) != 0.0F) {
                for (int c = 0; c < RgbaImage::channels; ++c)
                    layer.colour.plane(c).at(x, y) = 0.0F;
                layer.coverage.at(x, y) = 0.0F;
                layer.evidence.at(x, y) = 0.0F;
            }
        };
        into(m_surfaces.visible, 0);
        into(m_surfaces.hidden, 1);
        // Fresh ones are empty: they are not even looked at where there is nothing to put in.
        const std::size_t most =
            std::min(m_surfaces.between.size(),
                     std::max(m_betweenBefore, pixel.kept.size() > 2 ? pixel.kept.size() - 2 : 0));
        for (std::size_t i = 0; i < most; ++i)
            into(m_surfaces.between[i], i + 2);
        if (m_surfaces.third) into(*m_surfaces.third, pixel.kept.size());
    }

    Surfaces& m_surfaces;
    std::vector<LayerSource> m_sources;
    std::size_t m_sceneCount;
    int m_width;
    int m_height;
    int m_columns;
    int m_rows;
    std::size_t m_betweenBefore = 0;
    std::vector<Plane<float>> m_seen; ///< of each source and block
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
    const std::vector<SurfaceLayer*> scene = layersOf(surfaces);
    for (SurfaceLayer* layer : scene)
        coverByAlpha(*layer, quiet);
    std::vector<LayerSource> sources;
    for (const SurfaceLayer* layer : scene)
        sources.emplace_back(*layer, LayerSource::Rank::scene);
    for (const LensLayer& layer : layers) {
        const auto rank = layer.isBehindAll ? LayerSource::Rank::behindAll : LayerSource::Rank::scene;
        if (layer.isTakenApart) {
            Surfaces apart = repairEdges(layer.colour, radiusOfEach(layer.distance, model, quiet), nullptr,
                                         quiet, fill, gain);
            for (SurfaceLayer* each : layersOf(apart)) {
                coverByAlpha(*each, quiet);
                if (isThere(*each)) sources.emplace_back(std::move(*each), rank);
            }
            continue;
        }
        sources.emplace_back(layer, model, gain, rank, quiet);
        if (!layer.stepsBack) sources.back().replaceNearer(scene, kApartPx, quiet);
    }
    sources.push_back(
        LayerSource::nothing(surfaces.visible.coverage.width(), surfaces.visible.coverage.height(),
                             static_cast<float>(model.radiusPx(std::numeric_limits<double>::infinity()))));
    Assembly(surfaces, std::move(sources), scene.size()).run(quiet);

    surfaces.isAssembled = true;
    if (surfaces.third && !isThere(*surfaces.third)) surfaces.third.reset();
    std::erase_if(surfaces.between, [](const SurfaceLayer& layer) { return !isThere(layer); });
}

} // namespace retinex::defocus
