#include "core/project/settings/finish_settings.h"

#include "core/finish/white_balance.h"
#include "core/project/settings/fields.h"
#include "core/project/settings/settings.h"

#include <fmt/format.h>

namespace retinex::project {

namespace {

using finish::Glow;
using finish::Look;
using timeline::Blend;

template <class Owner>
Field<Owner> inFinish(Field<Owner> field)
{
    return std::move(field).in(Group::finish, Stage::finish);
}

/// A number, which may have marks.
template <class Owner>
Field<Owner> finishNumber(std::string path, std::string title, Kind kind, Range range,
                          std::function<double(const Owner&)> get, std::function<void(Owner&, double)> set,
                          Blend blend = Blend::plain)
{
    return inFinish(
        numberField<Owner>(std::move(path), std::move(title), kind, range, std::move(get), std::move(set))
            .marks(blend));
}

/// Three numbers, one a colour, under `path`/red and so on.
template <class Owner, class Get>
void addColours(std::vector<Field<Owner>>& fields, const std::string& path, const std::string& title,
                Range range, const std::string& help, Get array)
{
    static constexpr std::array<const char*, 3> kColours{"red", "green", "blue"};
    for (std::size_t i = 0; i < 3; ++i)
        fields.push_back(finishNumber<Owner>(
                             path + '/' + kColours[i], title + ", " + kColours[i], Kind::plain, range,
                             [array, i](const Owner& o) { return array(const_cast<Owner&>(o))[i]; },
                             [array, i](Owner& o, double value) { array(o)[i] = value; })
                             .says(help));
}

#define RETINEX_FINISH(member) RETINEX_MEMBER(Settings, finish.member)

void addSwitch(std::vector<Field<Settings>>& fields, const char* path, const char* title,
               std::function<double(const Settings&)> get, std::function<void(Settings&, double)> set)
{
    fields.push_back(inFinish(switchField<Settings>(path, title, std::move(get), std::move(set)))
                         .says("Whether the step is done"));
}

std::vector<Field<Settings>> lensLikeFields()
{
    std::vector<Field<Settings>> fields;
    fields.push_back(inFinish(switchField<Settings>("finish/on", "finish", RETINEX_FINISH(isOn)))
                         .cli("!--no-finish", "Leave the picture as it comes through the lens"));
    fields.push_back(finishNumber<Settings>("finish/mix", "mix", Kind::share, {0.0, 1.0}, RETINEX_FINISH(mix))
                         .cli("--finish-mix", "Share of the finished picture: 0 to 1"));
    addSwitch(fields, "finish/glow/on", "glow", RETINEX_FINISH(glowIsOn));
    addSwitch(fields, "finish/fringing/on", "fringing", RETINEX_FINISH(fringing.isOn));
    fields.push_back(
        finishNumber<Settings>("finish/fringing/cornerPx", "fringing at the corner", Kind::pixels,
                               {-200.0, 200.0}, RETINEX_FINISH(fringing.cornerPx))
            .scaled()
            .cli("--fringing", "Red outwards and blue inwards, px of the full frame at its corner"));
    fields.push_back(
        inFinish(wordField<Settings>("finish/fringing/growth", "growth of fringing",
                                     wordsOf<finish::FringeGrowth>(), RETINEX_FINISH(fringing.growth)))
            .cli("--fringing-growth", "From the middle to the corner: even or square"));
    const Range place{-1.0, 2.0};
    fields.push_back(finishNumber<Settings>("finish/fringing/centreX", "centre of fringing, across",
                                            Kind::share, place, RETINEX_FINISH(fringing.centreX))
                         .says("Share of the frame's width"));
    fields.push_back(finishNumber<Settings>("finish/fringing/centreY", "centre of fringing, down",
                                            Kind::share, place, RETINEX_FINISH(fringing.centreY))
                         .says("Share of its height"));
    addSwitch(fields, "finish/vignette/on", "vignette", RETINEX_FINISH(vignette.isOn));
    fields.push_back(finishNumber<Settings>("finish/vignette/stops", "vignette", Kind::stops, {-10.0, 10.0},
                                            RETINEX_FINISH(vignette.stops))
                         .cli("--vignette", "Stops darker at the corner"));
    fields.push_back(finishNumber<Settings>("finish/vignette/roundness", "roundness of vignette", Kind::share,
                                            {0.0, 1.0}, RETINEX_FINISH(vignette.roundness))
                         .cli("--vignette-roundness", "0: as the frame, 1: a circle"));
    fields.push_back(finishNumber<Settings>("finish/vignette/softness", "softness of vignette", Kind::share,
                                            {0.0, 1.0}, RETINEX_FINISH(vignette.softness))
                         .cli("--vignette-softness", "1: from the middle on, 0: at the edge alone"));
    return fields;
}

Field<Settings> curveField(const char* path, const char* title, finish::Curve finish::Grade::*member)
{
    Field<Settings> field;
    field.path = path;
    field.title = title;
    field.kind = Kind::pairs;
    field.access = Field<Settings>::Access<Pairs>{
        [member](const Settings& s) { return s.finish.grade.*member; },
        [member](Settings& s, Pairs pairs) { s.finish.grade.*member = std::move(pairs); }};
    return inFinish(std::move(field))
        .says("Pairs of stops from 0.18 before and after, rising; none: a straight line");
}

void addTones(std::vector<Field<Settings>>& fields, const std::string& path, const std::string& title,
              finish::Tones finish::Grade::*member)
{
    static constexpr std::array<const char*, 4> kKeys{"red", "green", "blue", "all"};
    for (const std::size_t i : {3U, 0U, 1U, 2U})
        fields.push_back(finishNumber<Settings>(
                             path + '/' + kKeys[i], i == 3 ? title : title + ", " + kKeys[i], Kind::factor,
                             {0.02, 1.98},
                             [member, i](const Settings& s) { return (s.finish.grade.*member)[i]; },
                             [member, i](Settings& s, double value) { (s.finish.grade.*member)[i] = value; })
                             .says("1 changes nothing (OpenColorIO's GradingToneTransform, linear)"));
}

std::vector<Field<Settings>> gradeFields()
{
    std::vector<Field<Settings>> fields;
    addSwitch(fields, "finish/grade/on", "grade", RETINEX_FINISH(grade.isOn));
    fields.push_back(finishNumber<Settings>("finish/grade/exposureStops", "exposure", Kind::stops,
                                            {-20.0, 20.0}, RETINEX_FINISH(grade.exposureStops))
                         .cli("--exposure", "Stops brighter or darker"));
    fields.push_back(finishNumber<Settings>("finish/grade/temperatureK", "temperature", Kind::kelvin,
                                            {finish::kCoolestK, finish::kHottestK},
                                            RETINEX_FINISH(grade.white.temperatureK), Blend::dioptre)
                         .cli("--temperature", "Of the light that comes out neutral, K: 1700 to 25000"));
    fields.push_back(finishNumber<Settings>("finish/grade/tint", "tint", Kind::plain, {-100.0, 100.0},
                                            RETINEX_FINISH(grade.white.tint))
                         .cli("--tint", "Of that light, off daylight: above 0 greener"));
    fields.push_back(finishNumber<Settings>("finish/grade/contrast", "contrast", Kind::factor, {0.05, 4.0},
                                            RETINEX_FINISH(grade.contrast))
                         .cli("--contrast", "1 changes nothing"));
    fields.push_back(finishNumber<Settings>("finish/grade/pivot", "pivot", Kind::plain, {1e-4, 1e4},
                                            RETINEX_FINISH(grade.pivot), Blend::ratio)
                         .cli("--pivot", "Light that contrast leaves as it is, scene-linear"));
    fields.push_back(finishNumber<Settings>("finish/grade/saturation", "saturation", Kind::share, {0.0, 4.0},
                                            RETINEX_FINISH(grade.saturation))
                         .cli("--saturation", "0 is grey, 1 changes nothing"));
    addTones(fields, "finish/grade/shadows", "shadows", &finish::Grade::shadows);
    addTones(fields, "finish/grade/midtones", "midtones", &finish::Grade::midtones);
    addTones(fields, "finish/grade/highlights", "highlights", &finish::Grade::highlights);
    fields.push_back(curveField("finish/grade/curve", "curve", &finish::Grade::curve));
    fields.push_back(curveField("finish/grade/redCurve", "red curve", &finish::Grade::redCurve));
    fields.push_back(curveField("finish/grade/greenCurve", "green curve", &finish::Grade::greenCurve));
    fields.push_back(curveField("finish/grade/blueCurve", "blue curve", &finish::Grade::blueCurve));
    const auto part = [](auto member) {
        return [member](Settings& s) -> std::array<double, 3>& { return s.finish.grade.cdl.*member; };
    };
    addColours<Settings>(fields, "finish/grade/cdl/slope", "CDL slope", {0.0, 100.0}, "ASC CDL",
                         part(&finish::Cdl::slope));
    addColours<Settings>(fields, "finish/grade/cdl/offset", "CDL offset", {-10.0, 10.0}, "ASC CDL",
                         part(&finish::Cdl::offset));
    addColours<Settings>(fields, "finish/grade/cdl/power", "CDL power", {0.01, 100.0}, "ASC CDL",
                         part(&finish::Cdl::power));
    fields.push_back(finishNumber<Settings>("finish/grade/cdl/saturation", "CDL saturation", Kind::share,
                                            {0.0, 10.0}, RETINEX_FINISH(grade.cdl.saturation))
                         .says("ASC CDL"));
    fields.push_back(
        inFinish(wordField<Settings>("finish/grade/cdl/scale", "CDL works on", wordsOf<finish::Cdl::Scale>(),
                                     RETINEX_FINISH(grade.cdl.scale)))
            .says("Linear light, or the log scale of ACEScct"));
    addSwitch(fields, "finish/look/on", "look", RETINEX_FINISH(lookIsOn));
    return fields;
}

std::vector<Field<Settings>> grainFields()
{
    std::vector<Field<Settings>> fields;
    addSwitch(fields, "finish/grain/on", "grain", RETINEX_FINISH(grain.isOn));
    fields.push_back(
        finishNumber<Settings>("finish/grain/amount", "grain", Kind::fineShare, {0.0, 0.5},
                               RETINEX_FINISH(grain.amount))
            .cli("--grain", "Standard deviation on a log scale (ACEScct): 0.01 is little, 0.05 much"));
    fields.push_back(finishNumber<Settings>("finish/grain/sizePx", "size of grain", Kind::pixels, {0.5, 40.0},
                                            RETINEX_FINISH(grain.sizePx))
                         .scaled()
                         .cli("--grain-size", "Diameter of a grain, px of the full frame"));
    fields.push_back(finishNumber<Settings>("finish/grain/softness", "softness of grain", Kind::share,
                                            {0.0, 1.0}, RETINEX_FINISH(grain.softness))
                         .cli("--grain-softness", "0: hard-edged, 1: soft"));
    fields.push_back(finishNumber<Settings>("finish/grain/colour", "colour of grain", Kind::share, {0.0, 1.0},
                                            RETINEX_FINISH(grain.colour))
                         .cli("--grain-colour", "0: one noise for all colours, 1: one for each"));
    fields.push_back(inFinish(wordField<Settings>("finish/grain/kind", "kind of grain",
                                                  wordsOf<finish::GrainKind>(), RETINEX_FINISH(grain.kind)))
                         .cli("--grain-kind", "How its numbers spread: gaussian or uniform"));
    fields.push_back(finishNumber<Settings>("finish/grain/shadows", "grain in shadows", Kind::share,
                                            {0.0, 4.0}, RETINEX_FINISH(grain.shadows))
                         .says("Share of the amount, from 5 stops below mid grey down"));
    fields.push_back(finishNumber<Settings>("finish/grain/midtones", "grain in midtones", Kind::share,
                                            {0.0, 4.0}, RETINEX_FINISH(grain.midtones))
                         .says("At mid grey"));
    fields.push_back(finishNumber<Settings>("finish/grain/highlights", "grain in highlights", Kind::share,
                                            {0.0, 4.0}, RETINEX_FINISH(grain.highlights))
                         .says("From 3.5 stops above mid grey up"));
    fields.push_back(inFinish(numberField<Settings>("finish/grain/seed", "seed of grain", Kind::frame,
                                                    {0.0, 1e9}, RETINEX_FINISH(grain.seed)))
                         .cli("--grain-seed", "Another number, other noise"));
    addSwitch(fields, "finish/plate/on", "grain plate", RETINEX_FINISH(plate.isOn));
    fields.push_back(inFinish(textField<Settings>("finish/plate/file", "grain plate", Kind::file,
                                                  RETINEX_TEXT(Settings, finish.plate.file)))
                         .says("A still or a sequence of filmed grain"));
    fields.push_back(
        inFinish(textField<Settings>("finish/plate/inputSpace", "colour space of grain plate", Kind::text,
                                     RETINEX_TEXT(Settings, finish.plate.inputSpace)))
            .says("\"\": by the file"));
    fields.push_back(
        inFinish(wordField<Settings>(
                     "finish/plate/blend", "blend of grain plate", {"overlay", "soft light", "add"},
                     [](const Settings& s) {
                         return s.finish.plate.blend == inserts::Blend::overlay     ? 0.0
                                : s.finish.plate.blend == inserts::Blend::softLight ? 1.0
                                                                                    : 2.0;
                     },
                     [](Settings& s, double value) {
                         s.finish.plate.blend = value < 0.5   ? inserts::Blend::overlay
                                                : value < 1.5 ? inserts::Blend::softLight
                                                              : inserts::Blend::add;
                     }))
            .says("How it is laid over"));
    fields.push_back(finishNumber<Settings>("finish/plate/amount", "amount of grain plate", Kind::share,
                                            {0.0, 2.0}, RETINEX_FINISH(plate.amount))
                         .says("0 is not there"));
    fields.push_back(finishNumber<Settings>("finish/plate/exposureStops", "exposure of grain plate",
                                            Kind::stops, {-10.0, 10.0}, RETINEX_FINISH(plate.exposureStops))
                         .says("Brings its mid grey to that of the screen"));
    fields.push_back(inFinish(numberField<Settings>("finish/plate/offset", "offset of grain plate",
                                                    Kind::frame, {-1e6, 1e6}, RETINEX_FINISH(plate.offset)))
                         .says("Frames that it begins later at"));
    return fields;
}
#undef RETINEX_FINISH

} // namespace

std::vector<Field<Settings>> finishFields()
{
    std::vector<Field<Settings>> all = lensLikeFields();
    for (auto make : {gradeFields, grainFields})
        for (auto& field : make())
            all.push_back(std::move(field));
    return all;
}

const Description<Glow>& glowSettings()
{
    static const Description<Glow> description = [] {
        std::vector<Field<Glow>> fields{
            textField<Glow>("name", "name", Kind::text, RETINEX_TEXT(Glow, name))
                .in(Group::finish, Stage::none)
                .says("On screen"),
            inFinish(switchField<Glow>("on", "on", RETINEX_MEMBER(Glow, isOn))).says("Whether it counts"),
            finishNumber<Glow>("level", "level", Kind::plain, {1e-6, 1e6}, RETINEX_MEMBER(Glow, level),
                               Blend::ratio)
                .says("Brighter than this glows: the largest of R, G and B, scene-linear"),
            finishNumber<Glow>("softnessStops", "softness", Kind::stops, {0.0, 10.0},
                               RETINEX_MEMBER(Glow, softnessStops))
                .says("Sets in over so many stops around the level"),
            finishNumber<Glow>("radius", "radius", Kind::fineShare, {0.001, 0.5},
                               RETINEX_MEMBER(Glow, radius), Blend::ratio)
                .says("Reach, share of the frame's width: 0.001 to 0.5"),
            finishNumber<Glow>("tail", "tail", Kind::share, {0.0, 1.0}, RETINEX_MEMBER(Glow, tail))
                .says("0: nearly all in the core, 1: far out"),
        };
        addColours<Glow>(fields, "tint", "tint", {0.0, 100.0}, "Factor of the light that glows",
                         [](Glow& glow) -> std::array<double, 3>& { return glow.tint; });
        fields.push_back(finishNumber<Glow>("saturation", "saturation", Kind::share, {0.0, 4.0},
                                            RETINEX_MEMBER(Glow, saturation))
                             .says("Of the light that glows"));
        fields.push_back(
            finishNumber<Glow>("amount", "amount", Kind::share, {0.0, 10.0}, RETINEX_MEMBER(Glow, amount))
                .says("Share of the light that glows"));
        fields.push_back(inFinish(wordField<Glow>("blend", "blend", wordsOf<finish::GlowBlend>(),
                                                  RETINEX_MEMBER(Glow, blend)))
                             .says("How it meets the picture"));
        fields.push_back(
            inFinish(textField<Glow>("mattes", "only mattes", Kind::text, RETINEX_TEXT(Glow, mattes)))
                .says("Only what these cover glows: titles, separated by \", \""));
        fields.push_back(
            inFinish(textField<Glow>("regions", "only regions", Kind::text, RETINEX_TEXT(Glow, regions)))
                .says("Only what these cover glows: names, separated by \", \""));
        return Description<Glow>(std::move(fields));
    }();
    return description;
}

const Description<Look>& lookSettings()
{
    static const Description<Look> description(std::vector<Field<Look>>{
        textField<Look>("name", "name", Kind::text, RETINEX_TEXT(Look, name))
            .in(Group::finish, Stage::none)
            .says("On screen"),
        inFinish(switchField<Look>("on", "on", RETINEX_MEMBER(Look, isOn))).says("Whether it counts"),
        inFinish(textField<Look>("file", "look file", Kind::file, RETINEX_TEXT(Look, file)))
            .says("Any that OpenColorIO reads: .cube, .3dl, .clf, .csp, ..."),
        inFinish(textField<Look>("look", "look", Kind::text, RETINEX_TEXT(Look, look)))
            .says("Of the colour configuration, where there is no file"),
        inFinish(textField<Look>("space", "colour space", Kind::text, RETINEX_TEXT(Look, space)))
            .says("That the file works in; \"\": scene-linear"),
        finishNumber<Look>("strength", "strength", Kind::share, {0.0, 1.0}, RETINEX_MEMBER(Look, strength))
            .says("0 changes nothing"),
    });
    return description;
}

} // namespace retinex::project
