#include "core/defocus/defocus.h"

#include "core/defocus/hidden/front_opening.h"
#include "core/defocus/hidden/hole_fill.h"
#include "core/defocus/laid_in/add_layers.h"
#include "core/defocus/reach.h"
#include "core/defocus/repair/deep_surfaces.h"
#include "core/defocus/spread/tile_gather.h"
#include "core/defocus/spread/tile_order.h"
#include "core/image/crop.h"
#include "core/image/scene_brightness.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <optional>
#include <tbb/enumerable_thread_specific.h>

namespace retinex::defocus {

namespace {

/// Steps in which rim and centre stop are drawn: in discs that stand alone they would be seen.
constexpr int kSliceRings = 6;
constexpr int kGlintRings = 24;

void requireRange(double value, double low, double high, const char* name)
{
    if (!(value >= low && value <= high))
        throw Error(say("The {} is {:g}; give a number from {:g} to {:g}.", name, value, low, high));
}

/// `edgeTables`: for where light is lost beyond the frame's edge.
std::vector<IrisKernel> makeKernels(const SliceGrid& grid, const IrisOpenings& openings, double widthScale,
                                    bool edgeTables, const Run& run)
{
    std::vector<std::optional<IrisKernel>> made(static_cast<std::size_t>(grid.count()));
    parallelFor(grid.count(), run, [&](int slice) {
        made[static_cast<std::size_t>(slice)].emplace(
            openings, KernelShape{grid.radius(slice), widthScale, grid.cell(slice), edgeTables});
    });
    std::vector<IrisKernel> kernels;
    for (auto& kernel : made)
        kernels.push_back(std::move(*kernel));
    return kernels;
}

/// What light is multiplied by before a picture is taken apart, and divided by after it has been spread.
float workingGain(double key)
{
    if (key <= 0.0) return 1.0F;
    // Of so few bits that half floats times it are exact.
    constexpr double steps = 256.0;
    int exponent = 0;
    const double part = std::frexp(std::clamp(kDefaultBrightness / key, 1e-6, 1e6), &exponent);
    return static_cast<float>(std::ldexp(std::round(part * steps) / steps, exponent));
}

/// The front group over the back group, whose holes are filled, and the glints; light divided by `gain`.
RgbaImage merged(const LayeredPicture& layers, HoleFill&& back, const FrontOpening& opening, float gain,
                 const Run& run)
{
    const Layer& front = layers.front;
    const int width = front.coverage.width();
    parallelFor(front.coverage.height(), run, [&](int y) {
        std::vector<float> behind(static_cast<std::size_t>(width)); // support, and then what shows of it
        std::vector<float> scale(behind.size());
        back.fillRow(y, behind.data());
        const float* coverage = front.coverage.row(y);
        const float* open = opening.row(y);
        for (std::size_t x = 0; x < behind.size(); ++x) {
            // Where nothing lies behind, the front group stands for itself.
            behind[x] *= open ? std::min(1.0F - coverage[x], open[x]) : 1.0F - coverage[x];
            const float total = coverage[x] + behind[x];
            scale[x] = total > 1e-6F ? 1.0F / total : 0.0F;
        }
        for (int c = 0; c < RgbaImage::channels; ++c) {
            const float* over = front.colour.plane(c).row(y);
            float* value = back.colour().plane(c).row(y);
            for (std::size_t x = 0; x < behind.size(); ++x)
                value[x] = (over[x] + behind[x] * value[x]) * scale[x];
            if (c == 3) {
                std::for_each(value, value + width, [](float& alpha) { alpha = std::min(alpha, 1.0F); });
                continue;
            }
            const float* glints = layers.glints[static_cast<std::size_t>(c)].row(y);
            for (std::size_t x = 0; x < behind.size(); ++x)
                value[x] = (value[x] + glints[x]) / gain;
        }
    });
    return std::move(back.colour());
}

/// All that comes after the picture is taken apart, with light times `gain`.
RgbaImage spread(Surfaces&& surfaces, const LensSettings& settings, float gain, const Run& run)
{
    const int width = surfaces.visible.coverage.width();
    const int height = surfaces.visible.coverage.height();
    const Run quiet{run.threads, {}, run.stop};
    const SliceGrid grid = gridFor(surfaces, quiet);
    const FrontOpening opening(surfaces.visible, quiet);
    std::vector<SurfaceLayer*> seen{&surfaces.visible};
    if (surfaces.isAssembled) seen = layersOf(surfaces);
    GlintList glints(seen, quiet);
    std::vector<SortedLayer> sorted;
    for (const SurfaceLayer* layer : layersOf(surfaces))
        sorted.push_back({*layer, SliceMap(*layer, grid, run)});
    const double widthScale = 1.0 / settings.pixelAspect;
    const std::vector<IrisKernel> kernels =
        makeKernels(grid, IrisOpenings(settings.iris, kSliceRings), widthScale,
                    settings.frameEdge == FrameEdge::open, quiet);
    const FramePlace frame = settings.frame.width > 0 ? settings.frame : FramePlace{0, 0, width, height};
    const CatsEye catsEye(settings.iris, {frame.left + 0.5 * frame.width, frame.top + 0.5 * frame.height},
                          0.5 * std::hypot(frame.width, frame.height));

    glints.makeDiscs(IrisOpenings(settings.iris, kGlintRings), widthScale, catsEye,
                     GlintSight(surfaces, quiet), quiet);

    LayeredPicture layers(width, height);
    TileOrder tiles(surfaces, sorted, kernels, grid, settings.tilePx);
    const GatherInput input{width,   height, sorted, grid, kernels, glints, catsEye, settings.frameEdge,
                            run.stop};
    tbb::enumerable_thread_specific<TileGather> workers;
    parallelFor(
        tiles.count(), run,
        [&](int) {
            const SliceMap::Box tile = tiles.take();
            workers.local().run(input, tile, layers);
            tiles.done(tile);
        },
        0.0, 0.95);
    RgbaImage result =
        merged(layers, HoleFill(std::move(layers.back), -grid.radius(0), run), opening, gain, quiet);
    if (run.progress) run.progress(1.0);
    return result;
}

} // namespace

void LensSettings::check() const
{
    lens.check();
    iris.check();
    requireRange(sensorWidthMm, 0.1, 1000.0, "sensor width (mm)");
    requireRange(millimetresPerUnit, 1e-6, 1e9, "scene scale (mm per scene unit)");
    requireRange(blur.strength, 0.0, 2.0, "strength");
    requireRange(blur.limitNearPx, 0.0, SliceGrid::maxRadiusPx, "near blur limit (px)");
    requireRange(blur.limitFarPx, 0.0, SliceGrid::maxRadiusPx, "far blur limit (px)");
    requireRange(blur.heldNear, 0.0, 1e9, "held zone in front of the focal plane");
    requireRange(blur.heldFar, 0.0, 1e9, "held zone behind the focal plane");
    requireRange(glint.level, 1e-6, 1e6, "glint level");
    requireRange(glint.liftStops, 0.0, 16.0, "glint lift (stops)");
    if (simpleLens) {
        requireRange(simpleLens->radiusPx, 0.0, SliceGrid::maxRadiusPx, "radius of the simple lens (px)");
        if (!(simpleLens->nearest > 0.0 && simpleLens->farthest > simpleLens->nearest))
            throw Error(
                say("The simple lens needs a nearest distance above 0 and a farthest one beyond it."));
    }
    requireRange(pixelAspect, 0.1, 10.0, "pixel aspect ratio");
}

BlurModel LensSettings::blurModel(int pictureWidth) const noexcept
{
    // The sensor's width is that of the frame; a pixel's height is its width over the pixel aspect, and the
    // radius is counted in pixel heights, since rows are what the kernel is made of.
    const double frameWidth = frame.width > 0 ? frame.width : pictureWidth;
    return {lens, simpleLens, blur, millimetresPerUnit, frameWidth * pixelAspect / sensorWidthMm};
}

double brightnessFor(const LensInput& input, const LensSettings& settings)
{
    return settings.brightness > 0.0 ? settings.brightness : input.sceneBrightness();
}

Plane<float> blurRadiusPx(const Plane<float>& distance, const LensSettings& settings, const Run& run)
{
    return radiusOfEach(distance, settings.blurModel(distance.width()), run);
}

Plane<float> blurRadiusPx(const Plane<float>& distance, const BlurShare* blur, const LensSettings& settings,
                          const Run& run)
{
    Plane<float> radius = blurRadiusPx(distance, settings, run);
    if (blur)
        parallelFor(radius.height(), {run.threads, {}, run.stop}, [&](int y) {
            float* row = radius.row(y);
            for (int x = 0; x < radius.width(); ++x)
                row[x] = blur->radius(row[x], x, y);
        });
    return radius;
}

namespace {

/// The scene taken apart, with light times `gain`.
Surfaces sceneApart(const LensInput& input, const LensSettings& settings, HiddenFill fill, float gain,
                    const Run& run)
{
    const Run quiet{run.threads, {}, run.stop};
    const bool lifts = settings.glint.liftStops > 0.0;
    if (input.isDeep()) {
        const BlurModel model = settings.blurModel(input.width());
        return lifts ? surfacesOf(withGlintsLifted(input.deep(), settings.glint), model, quiet, gain,
                                  input.blurShare())
                     : surfacesOf(input.deep(), model, quiet, gain, input.blurShare());
    }
    const Plane<float> radius = blurRadiusPx(input.distance(), input.blurShare(), settings, run);
    KnownBehind known{input.seenBehind(), nullptr};
    Plane<float> knownRadius;
    if (known.seen) {
        knownRadius = blurRadiusPx(known.seen->distance, settings, quiet);
        known.radiusPx = &knownRadius;
    }
    return lifts ? repairEdges(withGlintsLifted(input.colour(), settings.glint, quiet), radius,
                               input.objects(), run, fill, gain, known)
                 : repairEdges(input.colour(), radius, input.objects(), run, fill, gain, known);
}

/// With the pictures that are laid in.
Surfaces apart(const LensInput& input, const LensSettings& settings, float gain, const Run& run)
{
    const HiddenFill fill = settings.isCoarse ? HiddenFill::plain : HiddenFill::withTexture;
    Surfaces surfaces = sceneApart(input, settings, fill, gain, run);
    if (!input.layers()) return surfaces;
    const BlurModel model = settings.blurModel(input.width());
    if (settings.glint.liftStops <= 0.0) {
        addLayers(surfaces, *input.layers(), model, gain, fill, run);
        return surfaces;
    }
    std::vector<LensLayer> lifted = *input.layers();
    for (LensLayer& layer : lifted)
        layer.colour = withGlintsLifted(layer.colour, settings.glint, {run.threads, {}, run.stop});
    addLayers(surfaces, lifted, model, gain, fill, run);
    return surfaces;
}

/// Frame edge *mirror*: the picture is continued by itself as far as the blur reaches, once its own size at
/// most, and cut out again.
RgbaImage mirroredAtEdge(const LensInput& input, LensSettings settings, const Run& run)
{
    const int width = input.width();
    const int height = input.height();
    const Reach reach = reachOf(input, settings, run);
    const Reach margin{std::min(reach.x, width), std::min(reach.y, height)};
    settings.brightness = brightnessFor(input, settings);
    if (settings.frame.width == 0) settings.frame = {0, 0, width, height};
    settings.frame.left += margin.x;
    settings.frame.top += margin.y;
    settings.frameEdge = FrameEdge::continuePicture;
    const RgbaImage result = defocus(input.mirrored(margin.x, margin.y, run), settings, run);
    return cropped(result, PixelBox::at(margin.x, margin.y, width, height), run);
}

/// Surfaces whose light is times `gain`, as they are.
Surfaces withoutGain(Surfaces&& surfaces, float gain, const Run& run)
{
    for (SurfaceLayer* layer : layersOf(surfaces))
        parallelFor(layer->coverage.height(), {run.threads, {}, run.stop}, [&](int y) {
            for (int c = 0; c < 3; ++c) {
                float* light = layer->colour.plane(c).row(y);
                std::for_each(light, light + layer->coverage.width(), [gain](float& v) { v /= gain; });
            }
        });
    return std::move(surfaces);
}

} // namespace

Surfaces takeApart(const LensInput& input, const LensSettings& settings, const Run& run)
{
    settings.check();
    input.check();
    const float gain = workingGain(brightnessFor(input, settings));
    return withoutGain(apart(input, settings, gain, run), gain, run);
}

RgbaImage defocus(const LensInput& input, const LensSettings& settings, const Run& run)
{
    settings.check();
    input.check();
    if (input.empty()) return {};
    if (settings.frameEdge == FrameEdge::mirror) return mirroredAtEdge(input, settings, run);
    const float gain = workingGain(brightnessFor(input, settings));
    return spread(apart(input, settings, gain, run), settings, gain, run);
}

} // namespace retinex::defocus
