#include "core/frame/places/insert_pictures.h"

#include "core/frame/depends_on.h"
#include "core/frame/kept_frames.h"
#include "core/frame/places/region_places.h"
#include "core/inserts/straight_alpha.h"
#include "core/regions/name_list.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>

namespace retinex::frame {

namespace {

using inserts::AlphaKind;
using inserts::DistanceFrom;
using inserts::Insert;

constexpr std::int64_t kMostPixels = 300'000'000; ///< 16,000 x 16,000 and a little: 4.8 GB as it is read

Shown colourShown(const Insert& insert, double frameWidth, double frameHeight)
{
    auto picture = std::make_shared<RgbaImage>(2, 2);
    const std::array<double, 4> light{insert.red, insert.green, insert.blue, 1.0};
    for (int c = 0; c < 4; ++c)
        std::ranges::fill(picture->plane(c).pixels(), static_cast<float>(light[static_cast<std::size_t>(c)]));
    return {std::move(picture), nullptr, frameWidth, frameHeight};
}

} // namespace

regions::Region carrierOf(const Insert& insert)
{
    regions::Region carrier;
    carrier.follows = insert.follows;
    carrier.followsFrom = insert.followsFrom;
    return carrier;
}

bool isUsed(const Insert& insert)
{
    return insert.isOn && insert.opacity > 0.0 &&
           (insert.content == inserts::Content::colour || !insert.file.empty());
}

bool hasInserts(const Project& project, int frame)
{
    const auto& inserts = project.shotAt(frame).settings.inserts;
    if (inserts.empty()) return false;
    const Settings values = project.valuesAt(frame);
    return std::ranges::any_of(values.inserts, isUsed);
}

std::shared_ptr<const passes::PassSource> sourceOf(const passes::PassSource& source, const Insert& insert)
{
    passes::PassOptions options;
    options.inputSpace = insert.inputSpace;
    options.handMadeDepth = insert.depthFile.empty();
    options.missing = passes::MissingFrames::hold;
    auto other =
        KeptFrames::of(source).other({insert.file, {}}, {insert.depthFile, insert.depthChannel}, options);
    if (static_cast<std::int64_t>(other->width()) * other->height() > kMostPixels)
        throw Error(say("{}: has {} x {} px, and an insert has {} million at most. Make it smaller.",
                        insert.file, other->width(), other->height(), kMostPixels / 1'000'000));
    if (insert.isBackdrop() && (other->width() < 2 || other->height() < 2))
        throw Error(say("{}: a backdrop has 2 x 2 px at least, and it has {} x {}. For an even colour choose "
                        "the content colour.",
                        insert.file, other->width(), other->height()));
    return other;
}

Shown shownOn(const passes::PassSource& source, const Project& project, const Insert& insert, int frame,
              const Run& run)
{
    if (insert.content == inserts::Content::colour)
        return colourShown(insert, source.width(), source.height());
    if (insert.file.empty()) return {};
    const auto other = sourceOf(source, insert);
    Shown shown;
    shown.width = other->width();
    shown.height = other->height();
    const auto at = inserts::frameShown(insert, frame, other->firstFrame(), other->lastFrame());
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
                          (insert.alpha == AlphaKind::found && inserts::looksUnmultiplied(raw->colour())));
    if (turns) {
        auto opaque = std::make_shared<RgbaImage>(raw->colour());
        std::ranges::fill(opaque->plane(3).pixels(), 1.0F);
        shown.picture = std::move(opaque);
    } else if (multiplies) {
        shown.picture = std::make_shared<RgbaImage>(inserts::multipliedByAlpha(raw->colour(), run));
    } else {
        shown.picture = {raw, &raw->colour()};
    }
    return shown;
}

std::array<inserts::Point, 4> cornersOn(const passes::PassSource& source, const Project& project,
                                        const Insert& insert, int frame, double width, double height)
{
    auto corners = inserts::cornersOnFrame(insert, width, height, source.width(), source.height());
    if (insert.follows.empty()) return corners;
    const auto placement = regionPlacement(source, project, carrierOf(insert), frame);
    for (inserts::Point& corner : corners)
        corner = placement(corner);
    return corners;
}

std::array<inserts::Point, 4> insertCorners(const passes::PassSource& source, const Project& project,
                                            const Insert& insert, int frame)
{
    double width = source.width();
    double height = source.height();
    if (insert.content == inserts::Content::picture && !insert.file.empty()) {
        const auto other = sourceOf(source, insert);
        width = other->width();
        height = other->height();
    }
    return cornersOn(source, project, insert, frame, width, height);
}

std::string openMattesOf(const Project& project, const Settings& values)
{
    return values.openMattes.empty() && project.mattes.size() == 1 ? project.mattes.front().title()
                                                                   : values.openMattes;
}

void addInsert(DependsOn& on, const Insert& insert)
{
    if (insert.content == inserts::Content::picture && !insert.file.empty()) {
        try {
            const auto other = sourceOf(on.source(), insert);
            const auto at = inserts::frameShown(insert, on.frame(), other->firstFrame(), other->lastFrame());
            on.text(at ? std::to_string(*at) : "none");
            if (at) on.passesOf(*other, *at);
        } catch (const Error&) { // said where it is laid in
            on.text("missing");
        }
    }
    on.text(placesOf(on, carrierOf(insert), on.frame()));
    if (insert.distanceFrom == DistanceFrom::subject)
        if (const auto* subject = on.project().subjectNamed(insert.subject))
            if (const auto distance = timeline::distanceAt(*subject, on.frame()))
                on.text(fmt::format("{}", *distance));
    on.mattesTitled(insert.heldOutBy);
    regions::Region mask;
    mask.area = insert.mask;
    addArea(on, mask);
}

} // namespace retinex::frame
