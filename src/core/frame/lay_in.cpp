#include "core/frame/lay_in.h"

#include "core/frame/apply_regions.h"
#include "core/frame/depends_on.h"
#include "core/frame/kept_frames.h"
#include "core/frame/places/insert_pictures.h"
#include "core/image/reduced.h"
#include "core/image/scene_brightness.h"
#include "core/inserts/blend.h"
#include "core/inserts/over.h"
#include "core/inserts/resample.h"
#include "core/inserts/straight_alpha.h"
#include "core/regions/name_list.h"
#include "core/system/error.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace retinex::frame {

namespace {

using inserts::AlphaKind;
using inserts::DistanceFrom;
using inserts::Insert;
using inserts::Laid;

/// The frame that pictures are laid into, at a size.
struct Target
{
    const passes::PassSource& source;
    const Project& project;
    int frame = 1;
    int divisor = 1;
    PixelBox box; ///< of the planes, px of the frame at this size
    Run run;

    [[nodiscard]] Plane<float> sized(Plane<float> whole) const
    {
        return divisor <= 1 ? std::move(whole) : averaged(whole, divisor);
    }
    /// As large as the planes; `whole` may be of the frame alone.
    [[nodiscard]] Plane<float> onTarget(const Plane<float>& whole) const
    {
        if (whole.width() == box.width() && whole.height() == box.height()) return whole;
        Plane<float> result(box.width(), box.height());
        for (int y = 0; y < whole.height(); ++y)
            for (int x = 0; x < whole.width(); ++x)
                if (result.contains(x - box.minX, y - box.minY))
                    result.at(x - box.minX, y - box.minY) = whole.at(x, y);
        return result;
    }
    /// What mattes cover together, of those whose titles are listed.
    [[nodiscard]] Plane<float> mattes(const std::string& titles) const
    {
        Plane<float> none(box.width(), box.height());
        regions::Region region;
        regions::Piece piece;
        piece.kind = regions::PieceKind::mattes;
        piece.mattes = regions::namesIn(titles);
        region.area = regions::Area({piece});
        return onTarget(sized(coverage(region)));
    }
    [[nodiscard]] Plane<float> coverage(const regions::Region& region) const
    {
        const auto placed = placedRegion(source, project, region, frame);
        return regionCoverage(source, project, placed, frame, run);
    }
};

/// Brightness, saturation, opacity; held out and masked.
void adjust(const Insert& insert, const Target& target, Laid& laid)
{
    Plane<float> left(laid.box.width(), laid.box.height(), static_cast<float>(insert.opacity));
    const auto times = [&](const Plane<float>& cover, bool isInverted) {
        for (int y = 0; y < left.height(); ++y)
            for (int x = 0; x < left.width(); ++x) {
                const int px = x + laid.box.minX - target.box.minX;
                const int py = y + laid.box.minY - target.box.minY;
                const float c = cover.contains(px, py) ? cover.at(px, py) : 0.0F;
                left.at(x, y) *= isInverted ? 1.0F - c : c;
            }
    };
    if (!insert.heldOutBy.empty()) times(target.mattes(insert.heldOutBy), true);
    if (!insert.mask.pieces().empty()) {
        regions::Region region;
        region.area = insert.mask;
        region.inverted = insert.maskInverted;
        region.featherPx = insert.maskFeatherPx;
        times(target.onTarget(target.sized(target.coverage(region))), false);
    }
    const auto gain = static_cast<float>(std::exp2(insert.exposureStops));
    const auto saturation = static_cast<float>(insert.saturation);
    for (int y = 0; y < left.height(); ++y)
        for (int x = 0; x < left.width(); ++x) {
            const float share = left.at(x, y);
            std::array<float, 3> light{};
            for (int c = 0; c < 3; ++c)
                light[static_cast<std::size_t>(c)] = laid.colour.plane(c).at(x, y) * gain;
            // Rec. ITU-R BT.709-6, luminance of linear light.
            const float grey = 0.2126F * light[0] + 0.7152F * light[1] + 0.0722F * light[2];
            for (int c = 0; c < 3; ++c) {
                const float own = light[static_cast<std::size_t>(c)];
                const float value =
                    saturation == 1.0F ? own : std::max(0.0F, grey + saturation * (own - grey));
                laid.colour.plane(c).at(x, y) = value * share;
            }
            laid.colour.plane(3).at(x, y) *= share;
        }
}

std::optional<double> fixedDistance(const Project& project, const Insert& insert, int frame)
{
    switch (insert.distanceFrom) {
    case DistanceFrom::infinity:
        return std::numeric_limits<double>::infinity();
    case DistanceFrom::number:
        return insert.distance;
    case DistanceFrom::subject:
        if (const auto* subject = project.subjectNamed(insert.subject))
            if (const auto distance = timeline::distanceAt(*subject, frame)) return distance;
        return insert.distance; // where it is not known the number stands
    default:
        return std::nullopt;
    }
}

RgbaImage wholeOf(const Laid& laid, const PixelBox& box)
{
    RgbaImage whole(box.width(), box.height());
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (int y = 0; y < laid.box.height(); ++y)
            std::copy_n(laid.colour.plane(c).row(y), laid.box.width(),
                        whole.plane(c).row(y + laid.box.minY - box.minY) + laid.box.minX - box.minX);
    return whole;
}

/// One picture, laid: the layer, or the light that goes onto the scene.
std::optional<LensLayer> layerOf(const Target& target, const Insert& insert,
                                 const Plane<float>& sceneDistance)
{
    const Shown shown = shownOn(target.source, target.project, insert, target.frame, target.run);
    if (!shown.picture) return std::nullopt;
    auto corners = cornersOn(target.source, target.project, insert, target.frame, shown.width, shown.height);
    for (inserts::Point& corner : corners)
        corner = {corner.x / target.divisor, corner.y / target.divisor};
    const auto placement = inserts::placementTo(corners, shown.picture->width(), shown.picture->height());
    if (!placement) return std::nullopt;
    Laid laid = inserts::laidInto(*shown.picture, *placement, target.box, target.run);
    if (laid.box.empty()) return std::nullopt;
    adjust(insert, target, laid);

    LensLayer layer;
    layer.colour = wholeOf(laid, target.box);
    layer.distance = Plane<float>(target.box.width(), target.box.height());
    layer.box = PixelBox::at(laid.box.minX - target.box.minX, laid.box.minY - target.box.minY,
                             laid.box.width(), laid.box.height());
    layer.addedPx = static_cast<float>(insert.addedPx / target.divisor);
    layer.stepsBack = insert.isHiddenByNearer || insert.isBackdrop();
    const auto set = [&](auto distanceAt) {
        for (int y = 0; y < laid.box.height(); ++y)
            for (int x = 0; x < laid.box.width(); ++x)
                layer.distance.at(x + laid.box.minX - target.box.minX, y + laid.box.minY - target.box.minY) =
                    std::max(1e-6F, static_cast<float>(distanceAt(x + laid.box.minX, y + laid.box.minY)));
    };
    if (shown.passes) {
        // Its distances come to lie where its pixels do; between pixels the nearest one's.
        const auto back = placement->inverse();
        const Plane<float>& own = shown.passes->distance();
        set([&](int x, int y) {
            const inserts::Point from = (*back)({x + 0.5, y + 0.5});
            return own.at(std::clamp(static_cast<int>(std::floor(from.x)), 0, own.width() - 1),
                          std::clamp(static_cast<int>(std::floor(from.y)), 0, own.height() - 1));
        });
        layer.isTakenApart = true;
        return layer;
    }
    layer.isBehindAll = insert.isBackdrop();
    if (const auto fixed = fixedDistance(target.project, insert, target.frame)) {
        set([&](int, int) { return *fixed; });
    } else if (insert.distanceFrom == DistanceFrom::corners) {
        auto distances = insert.cornerDistances;
        if (insert.isMirrored) {
            std::swap(distances[0], distances[1]);
            std::swap(distances[2], distances[3]);
        }
        const auto plane = inserts::planeThrough(corners, distances);
        set([&](int x, int y) { return plane.distanceAt(x + 0.5, y + 0.5); });
    } else {
        set([&](int x, int y) {
            return static_cast<double>(sceneDistance.at(x - target.box.minX, y - target.box.minY)) +
                   insert.offset;
        });
    }
    return layer;
}

/// The scene's own light, made ready: multiplied by alpha, open where it is said to be.
void prepareScene(const Target& target, const Settings& values, const passes::RawPasses& raw,
                  const Plane<std::uint8_t>& gaps, RgbaImage& colour)
{
    const bool multiplies =
        raw.hasAlpha && (values.colourAlpha == AlphaKind::notMultiplied ||
                         (values.colourAlpha == AlphaKind::found && inserts::looksUnmultiplied(colour)));
    if (values.colourAlpha == AlphaKind::none) std::ranges::fill(colour.plane(3).pixels(), 1.0F);
    if (multiplies) colour = inserts::multipliedByAlpha(std::move(colour), target.run);
    if (values.openBy == inserts::OpenBy::alpha) return;
    Plane<float> kept(colour.width(), colour.height(), 1.0F);
    if (values.openBy == inserts::OpenBy::mattes) {
        const std::string mattes = openMattesOf(target.project, values);
        if (mattes.empty()) return; // see backdropNotice()
        kept = target.mattes(mattes);
    } else {
        for (std::size_t i = 0; i < gaps.size(); ++i)
            if (gaps.pixels()[i] != 0) kept.pixels()[i] = 0.0F;
    }
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (std::size_t i = 0; i < kept.size(); ++i)
            colour.plane(c).pixels()[i] *= kept.pixels()[i];
}

void paintOntoDeep(DeepPicture& deep, const RgbaImage& light, const Insert& insert)
{
    for (int y = 0; y < deep.height; ++y)
        for (int x = 0; x < deep.width; ++x) {
            const inserts::Pixel above{light.plane(0).at(x, y), light.plane(1).at(x, y),
                                       light.plane(2).at(x, y), light.plane(3).at(x, y)};
            if (above[3] <= 0.0F) continue;
            for (std::size_t i = deep.firstOf(x, y); i < deep.endOf(x, y); ++i)
                deep.samples[i].colour =
                    inserts::paintedOn(insert.blend, insert.blendScale, deep.samples[i].colour, above);
        }
}

/// Passes (after regions; at 1/divisor of the size) with what is laid in.
passes::FramePassesPtr withInserts(const passes::PassSource& source, const Project& project, int frame,
                                   const passes::FramePassesPtr& passes, int divisor, const Run& run,
                                   Purpose purpose = Purpose::picture)
{
    const Settings values = project.valuesAt(frame);
    const Target target{
        source, project, frame, divisor, passes->raw->extent(), Run{run.threads, {}, run.stop}};

    // The scene as it goes through the lens: light on its surfaces goes into it.
    auto raw = std::make_shared<passes::RawPasses>(*passes->raw);
    auto scene = std::make_shared<passes::FramePasses>(*passes);
    RgbaImage& colour = raw->allColour;
    prepareScene(target, values, *passes->raw, passes->allGaps, colour);
    std::shared_ptr<DeepPicture> deep;
    const Plane<float>& sceneDistance = passes->allDistance;

    auto laidIn = std::make_shared<passes::LaidIn>();
    std::vector<LensLayer> backdrops;
    // What lies on a surface is laid from the last to the first, so that the first is on top.
    for (auto insert = values.inserts.rbegin(); insert != values.inserts.rend(); ++insert) {
        run.throwIfStopped();
        if (!isUsed(*insert)) continue;
        if (purpose == Purpose::subjects && insert->distanceFrom == DistanceFrom::subject) continue;
        auto layer = layerOf(target, *insert, sceneDistance);
        if (!layer) continue;
        if (insert->isOnSurface()) {
            inserts::paintOnto(colour, layer->colour, insert->blend, insert->blendScale, run);
            if (passes->deep) {
                if (!deep) deep = std::make_shared<DeepPicture>(*passes->deep);
                paintOntoDeep(*deep, layer->colour, *insert);
            }
            continue;
        }
        auto& list = insert->isBackdrop() ? backdrops : laidIn->layers;
        list.insert(list.begin(), std::move(*layer));
    }
    for (LensLayer& layer : backdrops)
        laidIn->layers.push_back(std::move(layer));
    if (deep) scene->deep = deep;
    scene->raw = raw;
    laidIn->scene = scene;
    laidIn->brightness = sceneBrightness(inserts::flattened(colour, sceneDistance, laidIn->layers, run));

    auto result = std::make_shared<passes::FramePasses>(*passes);
    inserts::mergeDistances(laidIn->layers, colour.plane(3), result->allDistance, result->allGaps);
    result->findRange();
    result->laidIn = std::move(laidIn);
    return result;
}

void addInserts(DependsOn& on)
{
    for (const Insert& insert : on.values().inserts)
        if (isUsed(insert)) addInsert(on, insert);
    if (on.values().openBy != inserts::OpenBy::mattes) return;
    on.mattesTitled(openMattesOf(on.project(), on.values()));
}

} // namespace

const StageInfo kLayIn{Stage::inserts, 2, addInserts,
                       [](const DependsOn& on) { return std::ranges::any_of(on.values().inserts, isUsed); }};

passes::FramePassesPtr framePasses(const passes::PassSource& source, const Project& project, int frame,
                                   const Run& run)
{
    if (!hasInserts(project, frame)) return afterRegions(source, project, frame, run);
    return KeptFrames::of(source).stage(
        fmt::format("{} {}", frame, fingerprint(source, project, frame, Stage::inserts)), [&] {
            const auto scene = afterRegions(source, project, frame, run);
            return withInserts(source, project, frame, scene, 1, run);
        });
}

passes::FramePassesPtr reducedFramePasses(const passes::PassSource& source, const Project& project, int frame,
                                          int divisor, const Run& run)
{
    const auto scene = reducedAfterRegions(source, project, frame, divisor, run);
    if (!hasInserts(project, frame)) return scene;
    return KeptFrames::of(source).stage(
        fmt::format("{} 1/{} {}", frame, divisor, fingerprint(source, project, frame, Stage::inserts)),
        [&] { return withInserts(source, project, frame, scene, divisor, run); });
}

depth::DistanceResult frameDistance(const passes::PassSource& source, const Project& project, int frame,
                                    const Run& run, Purpose purpose)
{
    auto distances = distancesAfterRegions(source, project, frame, run, purpose);
    if (!hasInserts(project, frame)) return distances;
    auto scene = std::make_shared<passes::FramePasses>(*withDistances(source, project, frame, run));
    const PixelBox& box = scene->raw->frame;
    for (int y = 0; y < box.height(); ++y) {
        const int row = box.minY + y;
        std::copy_n(distances.distance.row(y), box.width(), scene->allDistance.row(row) + box.minX);
        std::copy_n(distances.gaps.row(y), box.width(), scene->allGaps.row(row) + box.minX);
    }
    const auto with = withInserts(source, project, frame, scene, 1, run, purpose);
    return {with->distance(), with->gaps(), distances.gapCount};
}

} // namespace retinex::frame
