#include "core/defocus/defocus.h"

#include "core/base/error.h"
#include "core/defocus/hole_fill.h"
#include "core/defocus/tile_gather.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <optional>
#include <tbb/enumerable_thread_specific.h>

namespace retinex::defocus {

namespace {

// Wide enough that a tile's prefix rows are much longer than the margins, small enough to stay in L2.
constexpr int kTileWidth = 256;
constexpr int kTileHeight = 64;

void requireRange(double value, double low, double high, const char* name)
{
    if (!(value >= low && value <= high))
        throw Error(fmt::format("The {} is {:g}; give a number from {:g} to {:g}.", name, value, low, high));
}

std::vector<IrisKernel> makeKernels(const SliceGrid& grid, const LensSettings& settings, const Run& run)
{
    std::vector<std::optional<IrisKernel>> made(static_cast<std::size_t>(grid.count()));
    parallelFor(grid.count(), Run{run.threads, {}, run.stop}, [&](int slice) {
        made[static_cast<std::size_t>(slice)].emplace(settings.iris, grid.radius(slice),
                                                      1.0 / settings.pixelAspect);
    });
    std::vector<IrisKernel> kernels;
    for (auto& kernel : made)
        kernels.push_back(std::move(*kernel));
    return kernels;
}

/// The front group over the filled back group.
RgbaImage merged(const Layer& front, FilledLayer&& back, const Run& run)
{
    parallelFor(back.colour.height(), run, [&](int y) {
        const float* coverage = front.coverage.row(y);
        const float* support = back.support.row(y);
        for (int c = 0; c < RgbaImage::channels; ++c) {
            const float* over = front.colour.plane(c).row(y);
            float* value = back.colour.plane(c).row(y);
            for (int x = 0; x < back.colour.width(); ++x) {
                // Where nothing lies behind, the front group stands for itself.
                const float behind = (1.0F - coverage[x]) * support[x];
                const float total = coverage[x] + behind;
                value[x] = total > 1e-6F ? (over[x] + behind * value[x]) / total : 0.0F;
            }
        }
    });
    return std::move(back.colour);
}

} // namespace

void LensSettings::check() const
{
    lens.check();
    iris.check();
    requireRange(sensorWidthMm, 0.1, 1000.0, "sensor width (mm)");
    requireRange(millimetresPerUnit, 1e-6, 1e9, "scene scale (mm per scene unit)");
    requireRange(blurLimitPx, 0.0, SliceGrid::maxRadiusPx, "blur limit (px)");
    requireRange(pixelAspect, 0.1, 10.0, "pixel aspect ratio");
}

Plane<float> blurRadiusPx(const Plane<float>& distance, const LensSettings& settings, const Run& run)
{
    // The sensor's width is that of the frame; a pixel's height is its width over the pixel aspect, and the
    // radius is counted in pixel heights, since rows are what the kernel is made of.
    const double frameWidth = settings.frameWidthPx > 0.0 ? settings.frameWidthPx : distance.width();
    const double radiusPxPerMm = 0.5 * frameWidth * settings.pixelAspect / settings.sensorWidthMm;
    Plane<float> radius(distance.width(), distance.height());
    parallelFor(distance.height(), {run.threads, {}, run.stop}, [&](int y) {
        const float* from = distance.row(y);
        std::transform(from, from + distance.width(), radius.row(y), [&](float d) {
            const double coc =
                circleOfConfusionMm(settings.lens, static_cast<double>(d) * settings.millimetresPerUnit);
            return static_cast<float>(
                std::clamp(coc * radiusPxPerMm, -settings.blurLimitPx, settings.blurLimitPx));
        });
    });
    return radius;
}

RgbaImage defocus(const RgbaImage& colour, const Plane<float>& distance, const LensSettings& settings,
                  const Run& run)
{
    settings.check();
    const int width = colour.width();
    const int height = colour.height();
    if (distance.width() != width || distance.height() != height)
        throw Error(
            fmt::format("The depth pass is {} x {} px and the colour pass {} x {} px. Render both at the "
                        "same size.",
                        distance.width(), distance.height(), width, height));
    if (colour.empty()) return colour;
    const Plane<float> radius = blurRadiusPx(distance, settings, run);
    const auto [nearest, farthest] = std::minmax_element(radius.pixels().begin(), radius.pixels().end());
    const SliceGrid grid(std::max(0.0F, -*nearest), std::max(0.0F, *farthest));
    const Surfaces surfaces = repairEdges(colour, radius, run);
    std::vector<SortedLayer> sorted;
    for (const SurfaceLayer* layer : {&surfaces.visible, &surfaces.hidden})
        sorted.push_back({*layer, SliceMap(layer->radiusPx, layer->coverage, grid, run)});
    const std::vector<IrisKernel> kernels = makeKernels(grid, settings, run);

    LayeredPicture layers(width, height);
    const int columns = (width + kTileWidth - 1) / kTileWidth;
    const int rows = (height + kTileHeight - 1) / kTileHeight;
    const GatherInput input{width, height, sorted, grid, kernels, settings.frameEdge};
    tbb::enumerable_thread_specific<TileGather> workers;
    parallelFor(
        columns * rows, run,
        [&](int index) {
            const int x = index % columns * kTileWidth;
            const int y = index / columns * kTileHeight;
            workers.local().run(
                input, {x, y, std::min(x + kTileWidth, width), std::min(y + kTileHeight, height)}, layers);
        },
        0.0, 0.95);
    FilledLayer back = fillHoles(layers.back, -4.0 * grid.radius(0), run);
    const Run quiet{run.threads, {}, run.stop};
    RgbaImage result = merged(layers.front, std::move(back), quiet);
    if (run.progress) run.progress(1.0);
    return result;
}

} // namespace retinex::defocus
