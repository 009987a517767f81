#include "core/project/insert_pictures.h"

#include "core/base/error.h"
#include "core/base/reduced.h"
#include "core/base/say.h"
#include "core/base/scene_key.h"
#include "core/layers/blend.h"
#include "core/layers/over.h"
#include "core/layers/resample.h"
#include "core/layers/straight_alpha.h"
#include "core/passes/file_state.h"
#include "core/project/region_places.h"
#include "core/regions/coverage.h"
#include "core/regions/name_list.h"

#include <algorithm>
#include <cmath>

namespace retinex::project {

namespace {

using layers::AlphaKind;
using layers::DistanceFrom;
using layers::Insert;
using layers::Laid;

constexpr std::int64_t kMostPixels = 300'000'000; ///< 16,000 x 16,000 and a little: 4.8 GB as it is read

std::shared_ptr<const passes::PassSource> sourceOf(const passes::PassSource& source, const Insert& insert)
{
    passes::PassOptions options;
    options.inputSpace = insert.inputSpace;
    options.handMadeDepth = insert.depthFile.empty();
    options.missing = passes::MissingFrames::hold;
    auto other = source.other({insert.file, {}}, {insert.depthFile, insert.depthChannel}, options);
    if (static_cast<std::int64_t>(other->width()) * other->height() > kMostPixels)
        throw Error(say("{}: has {} x {} px, and an insert has {} million at most. Make it smaller.",
                        insert.file, other->width(), other->height(), kMostPixels / 1'000'000));
    if (insert.isBackdrop() && (other->width() < 2 || other->height() < 2))
        throw Error(say("{}: a backdrop has 2 x 2 px at least, and it has {} x {}. For an even colour choose "
                        "the content colour.",
                        insert.file, other->width(), other->height()));
    return other;
}

/// A picture of an insert, premultiplied, and its distances where it has any.
struct Shown
{
    std::shared_ptr<const RgbaImage> picture; ///< null: nothing on this frame
    passes::FramePassesPtr passes;            ///< of one with a depth pass
    double width = 0.0;
    double height = 0.0;
};

Shown colourShown(const Insert& insert, double frameWidth, double frameHeight)
{
    auto picture = std::make_shared<RgbaImage>(2, 2);
    const std::array<double, 4> light{insert.red, insert.green, insert.blue, 1.0};
    for (int c = 0; c < 4; ++c)
        std::ranges::fill(picture->plane(c).pixels(), static_cast<float>(light[static_cast<std::size_t>(c)]));
    return {std::move(picture), nullptr, frameWidth, frameHeight};
}

Shown shownOn(const passes::PassSource& source, const Project& project, const Insert& insert, int frame,
              const Run& run)
{
    if (insert.content == layers::Content::colour)
        return colourShown(insert, source.width(), source.height());
    if (insert.file.empty()) return {};
    const auto other = sourceOf(source, insert);
    Shown shown;
    shown.width = other->width();
    shown.height = other->height();
    const auto at = layers::frameShown(insert, frame, other->firstFrame(), other->lastFrame());
    if (!at) return shown;
    passes::RawPassesPtr raw;
    if (insert.depthFile.empty()) {
        raw = other->loadRaw(*at, run);
    } else {
        shown.passes = other->load(*at, project.readingAt(frame), run);
        raw = shown.passes->raw;
    }
    const bool turns = insert.alpha == AlphaKind::none;
    const bool multiplies =
        raw->hasAlpha && (insert.alpha == AlphaKind::notMultiplied ||
                          (insert.alpha == AlphaKind::found && layers::looksUnmultiplied(raw->colour)));
    if (turns) {
        auto opaque = std::make_shared<RgbaImage>(raw->colour);
        std::ranges::fill(opaque->plane(3).pixels(), 1.0F);
        shown.picture = std::move(opaque);
    } else if (multiplies) {
        shown.picture = std::make_shared<RgbaImage>(layers::multipliedByAlpha(raw->colour, run));
    } else {
        shown.picture = {raw, &raw->colour};
    }
    return shown;
}

/// Subjects move it as they move a region.
std::array<layers::Point, 4> cornersOn(const passes::PassSource& source, const Project& project,
                                       const Insert& insert, int frame, double width, double height)
{
    auto corners = layers::cornersOnFrame(insert, width, height, source.width(), source.height());
    if (insert.follows.empty()) return corners;
    regions::Region carrier;
    carrier.follows = insert.follows;
    carrier.followsFrom = insert.followsFrom;
    const auto placement = regionPlacement(source, project, carrier, frame);
    for (layers::Point& corner : corners)
        corner = placement(corner);
    return corners;
}

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
        regions::Part part;
        part.kind = regions::PartKind::mattes;
        part.mattes = regions::namesIn(titles);
        region.area = regions::Area({part});
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
    if (!insert.mask.parts().empty()) {
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
    for (layers::Point& corner : corners)
        corner = {corner.x / target.divisor, corner.y / target.divisor};
    const auto placement = layers::placementTo(corners, shown.picture->width(), shown.picture->height());
    if (!placement) return std::nullopt;
    Laid laid = layers::laidInto(*shown.picture, *placement, target.box, target.run);
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
        const Plane<float>& own = shown.passes->distance;
        set([&](int x, int y) {
            const layers::Point from = (*back)({x + 0.5, y + 0.5});
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
        const auto plane = layers::planeThrough(corners, distances);
        set([&](int x, int y) { return plane.distanceAt(x + 0.5, y + 0.5); });
    } else {
        set([&](int x, int y) {
            return static_cast<double>(sceneDistance.at(x - target.box.minX, y - target.box.minY)) +
                   insert.offset;
        });
    }
    return layer;
}

/// What stands before the backdrop. A lone matte needs no choosing.
std::string openMattesOf(const Project& project, const Settings& values)
{
    return values.openMattes.empty() && project.mattes.size() == 1 ? project.mattes.front().title()
                                                                   : values.openMattes;
}

/// The scene's own light, made ready: multiplied by alpha, open where it is said to be.
void prepareScene(const Target& target, const Settings& values, const passes::RawPasses& raw,
                  const Plane<std::uint8_t>& gaps, RgbaImage& colour)
{
    const bool multiplies =
        raw.hasAlpha && (values.colourAlpha == AlphaKind::notMultiplied ||
                         (values.colourAlpha == AlphaKind::found && layers::looksUnmultiplied(colour)));
    if (values.colourAlpha == AlphaKind::none) std::ranges::fill(colour.plane(3).pixels(), 1.0F);
    if (multiplies) colour = layers::multipliedByAlpha(std::move(colour), target.run);
    if (values.openBy == layers::OpenBy::alpha) return;
    Plane<float> kept(colour.width(), colour.height(), 1.0F);
    if (values.openBy == layers::OpenBy::mattes) {
        const std::string mattes = openMattesOf(target.project, values);
        if (mattes.empty()) return; // see backdropNotice()
        kept = target.mattes(mattes);
    } else {
        for (int y = 0; y < gaps.height(); ++y)
            for (int x = 0; x < gaps.width(); ++x)
                if (gaps.at(x, y) != 0) kept.at(x - target.box.minX, y - target.box.minY) = 0.0F;
    }
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (std::size_t i = 0; i < kept.size(); ++i)
            colour.plane(c).pixels()[i] *= kept.pixels()[i];
}

void paintOntoDeep(DeepPicture& deep, const RgbaImage& light, const Insert& insert)
{
    for (int y = 0; y < deep.height; ++y)
        for (int x = 0; x < deep.width; ++x) {
            const layers::Pixel above{light.plane(0).at(x, y), light.plane(1).at(x, y),
                                      light.plane(2).at(x, y), light.plane(3).at(x, y)};
            if (above[3] <= 0.0F) continue;
            for (std::size_t i = deep.firstOf(x, y); i < deep.endOf(x, y); ++i)
                deep.samples[i].colour =
                    layers::paintedOn(insert.blend, insert.blendScale, deep.samples[i].colour, above);
        }
}

/// A sentence goes on after it.
std::string withoutStop(std::string text)
{
    while (text.ends_with('.'))
        text.pop_back();
    return text;
}

bool isUsed(const Insert& insert)
{
    return insert.isOn && insert.opacity > 0.0 &&
           (insert.content == layers::Content::colour || !insert.file.empty());
}

} // namespace

bool hasInserts(const Project& project, int frame)
{
    const auto& inserts = project.shotAt(frame).settings.inserts;
    if (inserts.empty()) return false;
    const Settings values = project.valuesAt(frame);
    return std::ranges::any_of(values.inserts, isUsed);
}

passes::FramePassesPtr withInserts(const passes::PassSource& source, const Project& project, int frame,
                                   const passes::FramePassesPtr& passes, int divisor, const Run& run,
                                   LookedAtFor what)
{
    const Settings values = project.valuesAt(frame);
    const passes::Overscan* overscan = passes->raw->overscan.get();
    const RgbaImage& before = overscan ? overscan->colour : passes->raw->colour;
    const int left = overscan ? overscan->left : 0;
    const int top = overscan ? overscan->top : 0;
    const Target target{source,
                        project,
                        frame,
                        divisor,
                        PixelBox::at(-left, -top, before.width(), before.height()),
                        Run{run.threads, {}, run.stop}};

    // The scene as it goes through the lens: light on its surfaces goes into it.
    auto raw = std::make_shared<passes::RawPasses>(*passes->raw);
    auto scene = std::make_shared<passes::FramePasses>(*passes);
    std::shared_ptr<passes::Overscan> beyond;
    if (overscan) raw->overscan = beyond = std::make_shared<passes::Overscan>(*overscan);
    RgbaImage& colour = beyond ? beyond->colour : raw->colour;
    prepareScene(target, values, *passes->raw, passes->gaps, colour);
    std::shared_ptr<DeepPicture> deep;
    const Plane<float>& sceneDistance = overscan ? passes->overscanDistance : passes->distance;

    auto laidIn = std::make_shared<passes::LaidIn>();
    std::vector<LensLayer> backdrops;
    // What lies on a surface is laid from the last to the first, so that the first is on top.
    for (auto insert = values.inserts.rbegin(); insert != values.inserts.rend(); ++insert) {
        run.throwIfStopped();
        if (!isUsed(*insert)) continue;
        if (what == LookedAtFor::subjects && insert->distanceFrom == DistanceFrom::subject) continue;
        auto layer = layerOf(target, *insert, sceneDistance);
        if (!layer) continue;
        if (insert->isOnSurface()) {
            layers::paintOnto(colour, layer->colour, insert->blend, insert->blendScale, run);
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
    laidIn->key = sceneKey(layers::flattened(colour, sceneDistance, laidIn->layers, run));

    auto result = std::make_shared<passes::FramePasses>(*passes);
    layers::mergeDistances(laidIn->layers, colour.plane(3), left, top, result->distance, result->gaps);
    result->range = depth::depthRange(result->distance, result->gaps);
    result->laidIn = std::move(laidIn);
    return result;
}

std::array<layers::Point, 4> insertCorners(const passes::PassSource& source, const Project& project,
                                           const Insert& insert, int frame)
{
    double width = source.width();
    double height = source.height();
    if (insert.content == layers::Content::picture && !insert.file.empty()) {
        const auto other = sourceOf(source, insert);
        width = other->width();
        height = other->height();
    }
    return cornersOn(source, project, insert, frame, width, height);
}

std::vector<InsertProblem> insertProblems(const passes::PassSource& source, const Project& project, int frame)
{
    std::vector<InsertProblem> problems;
    for (const Insert& insert : project.valuesAt(frame).inserts) {
        if (!insert.isOn) continue;
        const auto add = [&](std::string what) {
            problems.push_back({insert.id, insert.name, std::move(what)});
        };
        if (insert.content == layers::Content::picture && insert.file.empty()) add(say("has no file"));
        try {
            const auto fault = layers::faultOf(insertCorners(source, project, insert, frame));
            if (!fault.empty()) add(fault);
        } catch (const Error& error) {
            add(say("cannot be read: {}", withoutStop(error.what())));
        }
        for (const std::string& name : regions::namesIn(insert.follows))
            if (!project.subjectNamed(name)) add(say("follows \"{}\", which is no subject any more", name));
        if (insert.distanceFrom == DistanceFrom::subject && !project.subjectNamed(insert.subject))
            add(say("takes its distance from \"{}\", which is no subject any more", insert.subject));
        for (const std::string& title : regions::namesIn(insert.heldOutBy))
            if (std::ranges::none_of(project.mattes,
                                     [&](const auto& matte) { return matte.title() == title; }))
                add(say("is held out by the matte \"{}\", which is not in the list", title));
    }
    return problems;
}

std::string backdropNotice(const passes::PassSource& source, const Project& project, int frame)
{
    const Settings values = project.valuesAt(frame);
    const auto backdrop = std::ranges::find_if(
        values.inserts, [](const Insert& insert) { return insert.isBackdrop() && isUsed(insert); });
    if (backdrop == values.inserts.end()) return {};
    const bool hasAlpha =
        values.colourAlpha != AlphaKind::none &&
        (source.colourLayer().alpha || source.alphaFiles() || source.options().isEmptyFrame());
    if (values.openBy == layers::OpenBy::alpha && !hasAlpha)
        return say(
            "The backdrop is seen nowhere: the colour pass has no alpha. Give it a file for alpha in Passes, "
            "or choose gaps of depth or mattes at \"Seen where\".");
    if (values.openBy == layers::OpenBy::mattes && openMattesOf(project, values).empty())
        return say("The backdrop is seen nowhere: no matte is chosen that stands before it. Choose one at "
                   "\"Mattes\" in Backdrop and inserts{}.",
                   project.mattes.empty() ? say(", after adding it in Passes") : std::string());
    return {};
}

void checkInserts(const passes::PassSource& source, const Project& project, int frame)
{
    const auto problems = insertProblems(source, project, frame);
    if (!problems.empty())
        throw Error(say("The insert \"{}\" {}. Set it right, or switch it off.", problems.front().name,
                        problems.front().what));
}

std::string insertPlaces(const Project& project, int frame)
{
    std::string text;
    for (const Insert& insert : project.valuesAt(frame).inserts) {
        if (!isUsed(insert)) continue;
        text +=
            insert.mask.fingerprint() + passes::fileState(insert.file) + passes::fileState(insert.depthFile);
        regions::Region carrier;
        carrier.follows = insert.follows;
        carrier.followsFrom = insert.followsFrom;
        text += placesOf(project, carrier, frame);
        if (insert.distanceFrom == DistanceFrom::subject)
            if (const auto* subject = project.subjectNamed(insert.subject))
                if (const auto distance = timeline::distanceAt(*subject, frame))
                    text += fmt::format(" {}", *distance);
        text += fmt::format(" {}", frame); // of sequences each frame has a picture of its own
    }
    if (!text.empty())
        for (const passes::MatteChoice& matte : project.mattes)
            text += matte.file.string() + '/' + matte.name + '\n';
    return text;
}

} // namespace retinex::project
