#include "core/project/settings/insert_settings.h"

#include "core/project/settings/fields.h"
#include "core/regions/area_text.h"

#include <fmt/format.h>

namespace retinex::project {

namespace {

using inserts::Insert;
using timeline::Blend;

constexpr double kFarthestPx = 1e5;
constexpr double kLargestDistance = 1e12;

#define RETINEX_INSERT(member) RETINEX_MEMBER(Insert, member)
#define RETINEX_INSERT_TEXT(member) RETINEX_TEXT(Insert, member)

Field<Insert> inLayers(Field<Insert> field, const char* help)
{
    return std::move(field).in(Group::inserts, Stage::inserts).says(help);
}
Field<Insert> marked(const std::string& path, const std::string& title, Kind kind, Range range,
                     const char* help, std::function<double(const Insert&)> get,
                     std::function<void(Insert&, double)> set, Blend blend = Blend::plain)
{
    return inLayers(
        numberField<Insert>(path, title, kind, range, std::move(get), std::move(set)).marks(blend), help);
}

std::vector<Field<Insert>> contentFields()
{
    const Range light{0.0, 1e4};
    return {
        textField<Insert>("name", "name", Kind::text, RETINEX_INSERT_TEXT(name))
            .in(Group::inserts, Stage::none)
            .says("On screen"),
        inLayers(switchField<Insert>("on", "on", RETINEX_INSERT(isOn)), "Whether it counts"),
        inLayers(
            wordField<Insert>("content", "content", wordsOf<inserts::Content>(), RETINEX_INSERT(content)),
            "What it shows"),
        marked("red", "red", Kind::plain, light, "Scene-linear, of a plain colour", RETINEX_INSERT(red)),
        marked("green", "green", Kind::plain, light, "Likewise", RETINEX_INSERT(green)),
        marked("blue", "blue", Kind::plain, light, "Likewise", RETINEX_INSERT(blue)),
        inLayers(textField<Insert>("file", "file", Kind::file, RETINEX_INSERT_TEXT(file)),
                 "A still, a sequence or any one frame of it"),
        inLayers(textField<Insert>("inputSpace", "colour space", Kind::text, RETINEX_INSERT_TEXT(inputSpace)),
                 "Of the file; empty: as it says or as is usual for its kind"),
        inLayers(wordField<Insert>("alpha", "alpha", wordsOf<inserts::AlphaKind>(), RETINEX_INSERT(alpha)),
                 "How its colour goes with its alpha"),
        inLayers(wordField<Insert>("ending", "beyond its ends", wordsOf<inserts::Ending>(),
                                   RETINEX_INSERT(ending)),
                 "What a sequence does beyond its ends"),
        inLayers(numberField<Insert>("startFrame", "begins at", Kind::frame, {-1e8, 1e8},
                                     RETINEX_INSERT(startFrame)),
                 "The frame on which a sequence begins"),
        inLayers(textField<Insert>("depthFile", "its depth pass", Kind::file, RETINEX_INSERT_TEXT(depthFile))
                     .where([](const Insert& i) { return !i.depthFile.empty(); }),
                 "Of a backdrop: read as the shot's depth is, and merged by distance"),
        inLayers(textField<Insert>("depthChannel", "channel of its depth", Kind::text,
                                   RETINEX_INSERT_TEXT(depthChannel))
                     .where([](const Insert& i) { return !i.depthChannel.empty(); }),
                 "Empty: the usual one"),
    };
}

std::vector<Field<Insert>> placeFields()
{
    const Range px{-kFarthestPx, kFarthestPx};
    std::vector<Field<Insert>> fields{
        inLayers(
            wordField<Insert>("placing", "laid in", wordsOf<inserts::Placing>(), RETINEX_INSERT(placing)),
            "As the backdrop, upright, or by four corners"),
        inLayers(wordField<Insert>("fit", "fit", wordsOf<inserts::Fit>(), RETINEX_INSERT(fit)),
                 "How a backdrop meets the frame"),
        inLayers(switchField<Insert>("mirrored", "mirrored", RETINEX_INSERT(isMirrored)), "Left is right"),
        marked("moveX", "across", Kind::pixels, px, "Middle of an upright one; shift of a backdrop",
               RETINEX_INSERT(moveX)),
        marked("moveY", "down", Kind::pixels, px, "Likewise", RETINEX_INSERT(moveY)),
        marked("widthPx", "width", Kind::pixels, {1.0, kFarthestPx}, "Of an upright one",
               RETINEX_INSERT(widthPx), Blend::ratio),
        marked("size", "size", Kind::factor, {0.01, 100.0}, "Of a backdrop, about the frame's middle",
               RETINEX_INSERT(size), Blend::ratio),
        marked("turnDeg", "turn", Kind::degrees, {-36000.0, 36000.0}, "Counter-clockwise",
               RETINEX_INSERT(turnDeg)),
    };
    static constexpr std::array<const char*, 4> kNames{"top left", "top right", "bottom right",
                                                       "bottom left"};
    for (std::size_t i = 0; i < 4; ++i) {
        fields.push_back(marked(
            fmt::format("corners/x{}", i + 1), fmt::format("{} across", kNames[i]), Kind::pixels, px,
            "Of its four corners", [i](const Insert& insert) { return insert.corners[i].x; },
            [i](Insert& insert, double value) { insert.corners[i].x = value; }));
        fields.push_back(marked(
            fmt::format("corners/y{}", i + 1), fmt::format("{} down", kNames[i]), Kind::pixels, px,
            "Of its four corners", [i](const Insert& insert) { return insert.corners[i].y; },
            [i](Insert& insert, double value) { insert.corners[i].y = value; }));
    }
    fields.push_back(
        inLayers(textField<Insert>("follows", "follows", Kind::text, RETINEX_INSERT_TEXT(follows)),
                 "One, two or four subjects, separated by \", \""));
    fields.push_back(inLayers(numberField<Insert>("followsFrom", "as placed at", Kind::frame, {-1e8, 1e8},
                                                  RETINEX_INSERT(followsFrom)),
                              "The frame on which it lies as placed"));
    return fields;
}

std::vector<Field<Insert>> distanceFields()
{
    const Range distances{1e-9, kLargestDistance};
    std::vector<Field<Insert>> fields{
        inLayers(wordField<Insert>("distanceFrom", "distance", wordsOf<inserts::DistanceFrom>(),
                                   RETINEX_INSERT(distanceFrom)),
                 "Where its distance comes from"),
        marked("distance", "distance", Kind::distance, distances, "A number", RETINEX_INSERT(distance),
               Blend::dioptre),
    };
    for (std::size_t i = 0; i < 4; ++i)
        fields.push_back(marked(
            fmt::format("cornerDistance{}", i + 1), fmt::format("distance at corner {}", i + 1),
            Kind::distance, distances, "A plane through four: even in 1/distance",
            [i](const Insert& insert) { return insert.cornerDistances[i]; },
            [i](Insert& insert, double value) { insert.cornerDistances[i] = value; }, Blend::dioptre));
    fields.push_back(
        inLayers(textField<Insert>("subject", "subject", Kind::text, RETINEX_INSERT_TEXT(subject)),
                 "Whose distance it has"));
    fields.push_back(marked("offset", "offset", Kind::plain, {-kLargestDistance, kLargestDistance},
                            "From the surface below; below 0 towards the camera", RETINEX_INSERT(offset)));
    fields.push_back(marked("addedPx", "blur of its own", Kind::pixels, {0.0, 500.0},
                            "Radius, on top of the lens's", RETINEX_INSERT(addedPx)));
    return fields;
}

std::vector<Field<Insert>> mixingFields()
{
    return {
        inLayers(
            switchField<Insert>("hiddenByNearer", "behind what is nearer", RETINEX_INSERT(isHiddenByNearer)),
            "What is nearer stands in front"),
        inLayers(textField<Insert>("heldOutBy", "held out by", Kind::text, RETINEX_INSERT_TEXT(heldOutBy)),
                 "Titles of mattes that stand in front, separated by \", \""),
        textField<Insert>(
            "mask", "mask", Kind::area, [](const Insert& i) { return toText(i.mask); },
            [](Insert& i, const std::string& text) { i.mask = regions::areaFromText(text); })
            .in(Group::inserts, Stage::none) // its own fingerprint is quicker
            .copied([](const Insert& from, Insert& to) { to.mask = from.mask; })
            .where([](const Insert& i) { return !i.mask.pieces().empty(); })
            .says("Where it is to be seen; parts as of a region's area"),
        inLayers(switchField<Insert>("maskInverted", "mask inverted", RETINEX_INSERT(maskInverted)),
                 "All but the mask"),
        marked("maskFeatherPx", "feather", Kind::pixels, {0.0, 2000.0}, "Of the mask's edge",
               RETINEX_INSERT(maskFeatherPx)),
        inLayers(wordField<Insert>("blend", "blend", wordsOf<inserts::Blend>(), RETINEX_INSERT(blend)),
                 "How it meets what is below (W3C, Compositing and Blending)"),
        inLayers(wordField<Insert>("blendScale", "blended in", wordsOf<inserts::BlendScale>(),
                                   RETINEX_INSERT(blendScale)),
                 "Linear light, or the sRGB scale"),
        marked("opacity", "opacity", Kind::share, {0.0, 1.0}, "0 is not there", RETINEX_INSERT(opacity)),
        marked("exposureStops", "exposure", Kind::stops, {-20.0, 20.0}, "Brighter or darker",
               RETINEX_INSERT(exposureStops)),
        marked("saturation", "saturation", Kind::share, {0.0, 4.0}, "0 is grey", RETINEX_INSERT(saturation)),
    };
}
#undef RETINEX_INSERT
#undef RETINEX_INSERT_TEXT

} // namespace

const Description<Insert>& insertSettings()
{
    static const Description<Insert> description = [] {
        std::vector<Field<Insert>> all = contentFields();
        for (auto make : {placeFields, distanceFields, mixingFields})
            for (auto& field : make())
                all.push_back(std::move(field));
        return Description<Insert>(std::move(all));
    }();
    return description;
}

} // namespace retinex::project
