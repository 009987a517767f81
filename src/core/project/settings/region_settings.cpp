#include "core/project/settings/region_settings.h"

#include "core/project/settings/fields.h"
#include "core/regions/area_text.h"

namespace retinex::project {

namespace {

using regions::PatchKind;
using regions::Region;
using timeline::Blend;

constexpr double kMostPx = 1e5;
constexpr double kMostDistance = 1e12;

#define RETINEX_REGION(member) RETINEX_MEMBER(Region, member)
#define RETINEX_REGION_TEXT(member) RETINEX_TEXT(Region, member)

Field<Region> taken(Field<Region> field)
{
    return std::move(field).in(Group::regions, Stage::regions);
}

/// A number that may have marks.
Field<Region> number(const char* path, const char* title, Kind kind, Range range, const char* help,
                     std::function<double(const Region&)> get, std::function<void(Region&, double)> set,
                     Blend blend = Blend::plain)
{
    return taken(numberField<Region>(path, title, kind, range, std::move(get), std::move(set))
                     .marks(blend)
                     .says(help));
}

Field<Region> areaField()
{
    return textField<Region>(
               "area", "area", Kind::area, [](const Region& r) { return toText(r.area); },
               [](Region& r, const std::string& text) { r.area = regions::areaFromText(text); })
        .in(Group::regions, Stage::none) // its own fingerprint is quicker
        .copied([](const Region& from, Region& to) { to.area = from.area; })
        .says("What is drawn, painted or taken, joined in this order");
}

std::vector<Field<Region>> areaFields()
{
    return {
        textField<Region>("name", "name", Kind::text, RETINEX_REGION_TEXT(name))
            .in(Group::regions, Stage::none)
            .says("On screen"),
        taken(switchField<Region>("on", "on", RETINEX_REGION(isOn)).says("Whether it counts")),
        areaField(),
        taken(switchField<Region>("inverted", "inverted", RETINEX_REGION(inverted))
                  .says("All but what is drawn")),
        number("growPx", "grow", Kind::pixels, {-2000.0, 2000.0}, "How far the edge is moved, either way",
               RETINEX_REGION(growPx)),
        number("featherPx", "feather", Kind::pixels, {0.0, 2000.0}, "Width over which the edge fades",
               RETINEX_REGION(featherPx)),
        taken(switchField<Region>("followsEdges", "follow edges", RETINEX_REGION(followsEdges))
                  .says("The faded edge is pulled onto the depth edge next to it")),
    };
}

std::vector<Field<Region>> movementFields()
{
    return {
        taken(textField<Region>("follows", "follows", Kind::text, RETINEX_REGION_TEXT(follows))
                  .says("One, two or four subjects, separated by \", \"")),
        taken(numberField<Region>("followsFrom", "follows from", Kind::frame, {-1e8, 1e8},
                                  RETINEX_REGION(followsFrom))
                  .says("The frame on which it lies as drawn")),
        number("moveX", "move across", Kind::pixels, {-kMostPx, kMostPx}, "To the right",
               RETINEX_REGION(moveX)),
        number("moveY", "move down", Kind::pixels, {-kMostPx, kMostPx}, "Downward", RETINEX_REGION(moveY)),
        number("turnDeg", "turn", Kind::degrees, {-36000.0, 36000.0}, "Counter-clockwise, about its middle",
               RETINEX_REGION(turnDeg)),
        number("size", "size", Kind::factor, {0.001, 1000.0}, "About its middle", RETINEX_REGION(size),
               Blend::ratio),
    };
}

std::vector<Field<Region>> effectFields()
{
    const Range distances{1e-9, kMostDistance};
    return {
        number("share", "share of blur", Kind::share, {0.0, 3.0}, "Of the lens's blur; 0 is a guard",
               RETINEX_REGION(share)),
        number("addedPx", "added blur", Kind::pixels, {0.0, 500.0}, "Radius; adds as variances do",
               RETINEX_REGION(addedPx)),
        taken(wordField<Region>("patch", "distance", wordsOf<PatchKind>(), RETINEX_REGION(patch))
                  .says("Where the distance inside comes from")),
        taken(switchField<Region>("gapsOnly", "gaps only", RETINEX_REGION(gapsOnly))
                  .says("The distance fills gaps and leaves all else")),
        number("distance", "distance", Kind::distance, distances, "Of patch number", RETINEX_REGION(distance),
               Blend::dioptre),
        taken(textField<Region>("subject", "subject", Kind::text, RETINEX_REGION_TEXT(subject))
                  .says("Of patch subject")),
        taken(switchField<Region>("holdsFrame", "one frame's", RETINEX_REGION(holdsFrame))
                  .says("The median is that of one frame")),
        taken(numberField<Region>("heldFrame", "held frame", Kind::frame, {-1e8, 1e8},
                                  RETINEX_REGION(heldFrame))
                  .says("Which")),
        taken(wordField<Region>("ramp/kind", "ramp", wordsOf<regions::RampKind>(), RETINEX_REGION(ramp))
                  .says("What a ramp is even in; a plane in space is in 1/distance")),
        number("ramp/x1", "ramp, first place across", Kind::pixels, {-kMostPx, kMostPx}, "px of the frame",
               RETINEX_REGION(rampX1)),
        number("ramp/y1", "ramp, first place down", Kind::pixels, {-kMostPx, kMostPx}, "px of the frame",
               RETINEX_REGION(rampY1)),
        number("ramp/distance1", "ramp, first distance", Kind::distance, distances, "At the first place",
               RETINEX_REGION(rampDistance1), Blend::dioptre),
        number("ramp/x2", "ramp, second place across", Kind::pixels, {-kMostPx, kMostPx}, "px of the frame",
               RETINEX_REGION(rampX2)),
        number("ramp/y2", "ramp, second place down", Kind::pixels, {-kMostPx, kMostPx}, "px of the frame",
               RETINEX_REGION(rampY2)),
        number("ramp/distance2", "ramp, second distance", Kind::distance, distances, "At the second place",
               RETINEX_REGION(rampDistance2), Blend::dioptre),
        number("offset", "offset", Kind::plain, {-kMostDistance, kMostDistance}, "Added to the distance",
               RETINEX_REGION(offset)),
        number("factor", "factor", Kind::factor, {1e-3, 1e3}, "Times the distance", RETINEX_REGION(factor),
               Blend::ratio),
    };
}
#undef RETINEX_REGION
#undef RETINEX_REGION_TEXT

} // namespace

const Description<Region>& regionSettings()
{
    static const Description<Region> description = [] {
        std::vector<Field<Region>> all = areaFields();
        for (auto make : {movementFields, effectFields})
            for (auto& field : make())
                all.push_back(std::move(field));
        return Description<Region>(std::move(all));
    }();
    return description;
}

} // namespace retinex::project
