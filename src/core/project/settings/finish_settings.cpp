#include "core/project/settings/finish_settings.h"

#include "core/colour/input_space.h"
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
                const std::string& label, Range range, const std::string& help, Get array)
{
    static constexpr std::array<const char*, 3> kColours{"red", "green", "blue"};
    for (std::size_t i = 0; i < 3; ++i)
        fields.push_back(finishNumber<Owner>(
                             path + '/' + kColours[i], title + ", " + kColours[i], Kind::plain, range,
                             [array, i](const Owner& o) { return array(const_cast<Owner&>(o))[i]; },
                             [array, i](Owner& o, double value) { array(o)[i] = value; })
                             .says(help)
                             .row(label + ", " + kColours[i], help + '.'));
}

#define RETINEX_FINISH(member) RETINEX_MEMBER(Settings, finish.member)

void addSwitch(std::vector<Field<Settings>>& fields, const char* path, const char* title,
               std::function<double(const Settings&)> get, std::function<void(Settings&, double)> set)
{
    fields.push_back(inFinish(switchField<Settings>(path, title, std::move(get), std::move(set)))
                         .says("Whether the step is done")
                         .row("On", ""));
}

std::vector<Field<Settings>> lensLikeFields()
{
    std::vector<Field<Settings>> fields;
    fields.push_back(inFinish(switchField<Settings>("finish/on", "finish", RETINEX_FINISH(isOn)))
                         .cli("!--no-finish", "Leave the picture as it comes through the lens")
                         .row("On", "All of it. Q shows the picture without, for a look."));
    fields.push_back(finishNumber<Settings>("finish/mix", "mix", Kind::share, {0.0, 1.0}, RETINEX_FINISH(mix))
                         .cli("--finish-mix", "Share of the finished picture: 0 to 1")
                         .row("Mix", "0 % is the picture as it comes through the lens."));
    addSwitch(fields, "finish/glow/on", "glow", RETINEX_FINISH(glowIsOn));
    addSwitch(fields, "finish/fringing/on", "fringing", RETINEX_FINISH(fringing.isOn));
    fields.push_back(
        finishNumber<Settings>("finish/fringing/cornerPx", "fringing at the corner", Kind::pixels,
                               {-200.0, 200.0}, RETINEX_FINISH(fringing.cornerPx))
            .scaled()
            .cli("--fringing", "Red outwards and blue inwards, px of the full frame at its corner")
            .row("At the corner",
                 "Red outwards and blue inwards by so much; ‰ is taken too, of the way to the corner."));
    fields.push_back(
        inFinish(wordField<Settings>("finish/fringing/growth", "growth of fringing",
                                     wordsOf<finish::FringeGrowth>(), RETINEX_FINISH(fringing.growth)))
            .cli("--fringing-growth", "From the middle to the corner: even or square")
            .row("Grows", "From the middle to the corner.", {"evenly", "with the square"}));
    const Range place{-1.0, 2.0};
    fields.push_back(finishNumber<Settings>("finish/fringing/centreX", "centre of fringing, across",
                                            Kind::share, place, RETINEX_FINISH(fringing.centreX))
                         .says("Share of the frame's width")
                         .row("Centre across", "Share of the frame's width."));
    fields.push_back(finishNumber<Settings>("finish/fringing/centreY", "centre of fringing, down",
                                            Kind::share, place, RETINEX_FINISH(fringing.centreY))
                         .says("Share of its height")
                         .row("Centre down", "Share of the frame's height."));
    addSwitch(fields, "finish/vignette/on", "vignette", RETINEX_FINISH(vignette.isOn));
    fields.push_back(finishNumber<Settings>("finish/vignette/stops", "vignette", Kind::stops, {-10.0, 10.0},
                                            RETINEX_FINISH(vignette.stops))
                         .cli("--vignette", "Stops darker at the corner")
                         .row("At the corner", "So many stops darker."));
    fields.push_back(finishNumber<Settings>("finish/vignette/roundness", "roundness of vignette", Kind::share,
                                            {0.0, 1.0}, RETINEX_FINISH(vignette.roundness))
                         .cli("--vignette-roundness", "0: as the frame, 1: a circle")
                         .row("Roundness", "0 %: as the frame is; 100 %: a circle."));
    fields.push_back(finishNumber<Settings>("finish/vignette/softness", "softness of vignette", Kind::share,
                                            {0.0, 1.0}, RETINEX_FINISH(vignette.softness))
                         .cli("--vignette-softness", "1: from the middle on, 0: at the edge alone")
                         .row("Softness", "100 %: from the middle on."));
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

/// What OpenColorIO takes of a range of tones, no more.
void addTones(std::vector<Field<Settings>>& fields, const std::string& path, const std::string& title,
              const std::string& label, Range range, finish::Tones finish::Grade::*member)
{
    static constexpr std::array<const char*, 4> kKeys{"red", "green", "blue", "all"};
    for (const std::size_t i : {3U, 0U, 1U, 2U})
        fields.push_back(finishNumber<Settings>(
                             path + '/' + kKeys[i], i == 3 ? title : title + ", " + kKeys[i], Kind::factor,
                             range, [member, i](const Settings& s) { return (s.finish.grade.*member)[i]; },
                             [member, i](Settings& s, double value) { (s.finish.grade.*member)[i] = value; })
                             .says("1 changes nothing (OpenColorIO's GradingToneTransform, linear)")
                             .row(i == 3 ? label : label + ", " + kKeys[i], "1 changes nothing."));
}

std::vector<Field<Settings>> gradeFields()
{
    std::vector<Field<Settings>> fields;
    addSwitch(fields, "finish/grade/on", "grade", RETINEX_FINISH(grade.isOn));
    fields.push_back(finishNumber<Settings>("finish/grade/exposureStops", "exposure", Kind::stops,
                                            {-20.0, 20.0}, RETINEX_FINISH(grade.exposureStops))
                         .cli("--exposure", "Stops brighter or darker")
                         .row("Exposure", "Of the picture; the stops above it are for a look only."));
    fields.push_back(finishNumber<Settings>("finish/grade/temperatureK", "temperature", Kind::kelvin,
                                            {finish::kCoolestK, finish::kHottestK},
                                            RETINEX_FINISH(grade.white.temperatureK), Blend::dioptre)
                         .cli("--temperature", "Of the light that comes out neutral, K: 1700 to 25000")
                         .row("Temperature", "Of the light that comes out neutral."));
    fields.push_back(finishNumber<Settings>("finish/grade/tint", "tint", Kind::plain, {-100.0, 100.0},
                                            RETINEX_FINISH(grade.white.tint))
                         .cli("--tint", "Of that light, off daylight: above 0 greener")
                         .row("Tint", "Of that light: above 0 greener, below 0 more magenta."));
    fields.push_back(finishNumber<Settings>("finish/grade/contrast", "contrast", Kind::factor, {0.05, 4.0},
                                            RETINEX_FINISH(grade.contrast))
                         .cli("--contrast", "1 changes nothing")
                         .row("Contrast", "1 changes nothing."));
    fields.push_back(finishNumber<Settings>("finish/grade/pivot", "pivot", Kind::plain, {1e-4, 1e4},
                                            RETINEX_FINISH(grade.pivot), Blend::ratio)
                         .cli("--pivot", "Light that contrast leaves as it is, scene-linear")
                         .row("Pivot", "Light that contrast leaves as it is, scene-linear."));
    fields.push_back(finishNumber<Settings>("finish/grade/saturation", "saturation", Kind::share, {0.0, 4.0},
                                            RETINEX_FINISH(grade.saturation))
                         .cli("--saturation", "0 is grey, 1 changes nothing")
                         .row("Saturation", "0 % is grey."));
    addTones(fields, "finish/grade/shadows", "shadows", "Shadows", {0.2, 1.8}, &finish::Grade::shadows);
    addTones(fields, "finish/grade/midtones", "midtones", "Midtones", {0.1, 1.9}, &finish::Grade::midtones);
    addTones(fields, "finish/grade/highlights", "highlights", "Highlights", {0.2, 1.8},
             &finish::Grade::highlights);
    fields.push_back(curveField("finish/grade/curve", "curve", &finish::Grade::curve));
    fields.push_back(curveField("finish/grade/redCurve", "red curve", &finish::Grade::redCurve));
    fields.push_back(curveField("finish/grade/greenCurve", "green curve", &finish::Grade::greenCurve));
    fields.push_back(curveField("finish/grade/blueCurve", "blue curve", &finish::Grade::blueCurve));
    const auto part = [](auto member) {
        return [member](Settings& s) -> std::array<double, 3>& { return s.finish.grade.cdl.*member; };
    };
    addColours<Settings>(fields, "finish/grade/cdl/slope", "CDL slope", "Slope", {0.0, 100.0}, "ASC CDL",
                         part(&finish::Cdl::slope));
    addColours<Settings>(fields, "finish/grade/cdl/offset", "CDL offset", "Offset", {-10.0, 10.0}, "ASC CDL",
                         part(&finish::Cdl::offset));
    addColours<Settings>(fields, "finish/grade/cdl/power", "CDL power", "Power", {0.01, 100.0}, "ASC CDL",
                         part(&finish::Cdl::power));
    fields.push_back(finishNumber<Settings>("finish/grade/cdl/saturation", "CDL saturation", Kind::share,
                                            {0.0, 10.0}, RETINEX_FINISH(grade.cdl.saturation))
                         .says("ASC CDL")
                         .row("Saturation", "ASC CDL."));
    fields.push_back(
        inFinish(wordField<Settings>("finish/grade/cdl/scale", "CDL works on", wordsOf<finish::Cdl::Scale>(),
                                     RETINEX_FINISH(grade.cdl.scale)))
            .says("Linear light, or the log scale of ACEScct")
            .row("Works on", "The numbers that it takes: of light, or on the scale of ACEScct.",
                 {"linear light", "log scale"}));
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
            .cli("--grain", "Standard deviation on a log scale (ACEScct): 0.01 is little, 0.05 much")
            .row("Amount", "Standard deviation on a log scale: 1 % is little, 5 % much."));
    fields.push_back(finishNumber<Settings>("finish/grain/sizePx", "size of grain", Kind::pixels, {0.5, 40.0},
                                            RETINEX_FINISH(grain.sizePx))
                         .scaled()
                         .cli("--grain-size", "Diameter of a grain, px of the full frame")
                         .row("Size", "Diameter of a grain, px of the full frame."));
    fields.push_back(finishNumber<Settings>("finish/grain/softness", "softness of grain", Kind::share,
                                            {0.0, 1.0}, RETINEX_FINISH(grain.softness))
                         .cli("--grain-softness", "0: hard-edged, 1: soft")
                         .row("Softness", "0 %: hard-edged grains."));
    fields.push_back(finishNumber<Settings>("finish/grain/colour", "colour of grain", Kind::share, {0.0, 1.0},
                                            RETINEX_FINISH(grain.colour))
                         .cli("--grain-colour", "0: one noise for all colours, 1: one for each")
                         .row("Colour", "0 %: grey; 100 %: a noise for each colour."));
    fields.push_back(inFinish(wordField<Settings>("finish/grain/kind", "kind of grain",
                                                  wordsOf<finish::GrainKind>(), RETINEX_FINISH(grain.kind)))
                         .cli("--grain-kind", "How its numbers spread: gaussian or uniform")
                         .row("Spread", "How its numbers spread.", {"Gaussian", "uniform"}));
    fields.push_back(finishNumber<Settings>("finish/grain/shadows", "grain in shadows", Kind::share,
                                            {0.0, 4.0}, RETINEX_FINISH(grain.shadows))
                         .says("Share of the amount, from 5 stops below mid grey down")
                         .row("In shadows", "Share of the amount."));
    fields.push_back(finishNumber<Settings>("finish/grain/midtones", "grain in midtones", Kind::share,
                                            {0.0, 4.0}, RETINEX_FINISH(grain.midtones))
                         .says("At mid grey")
                         .row("In midtones", "Share of the amount."));
    fields.push_back(finishNumber<Settings>("finish/grain/highlights", "grain in highlights", Kind::share,
                                            {0.0, 4.0}, RETINEX_FINISH(grain.highlights))
                         .says("From 3.5 stops above mid grey up")
                         .row("In highlights", "Share of the amount."));
    fields.push_back(inFinish(numberField<Settings>("finish/grain/seed", "seed of grain", Kind::frame,
                                                    {0.0, 1e9}, RETINEX_FINISH(grain.seed)))
                         .cli("--grain-seed", "Another number, other noise")
                         .row("Seed", "Another number, other noise."));
    addSwitch(fields, "finish/plate/on", "grain plate", RETINEX_FINISH(plate.isOn));
    fields.push_back(inFinish(textField<Settings>("finish/plate/file", "grain plate", Kind::file,
                                                  RETINEX_TEXT(Settings, finish.plate.file)))
                         .says("A still or a sequence of filmed grain")
                         .row("Picture", "A still or a sequence; beyond its end it runs back."));
    fields.push_back(
        inFinish(textField<Settings>("finish/plate/inputSpace", "colour space of grain plate", Kind::text,
                                     RETINEX_TEXT(Settings, finish.plate.inputSpace)))
            .says("\"\": by the file")
            .oneOf(colour::inputSpaces)
            .row("Colour space", "Which colour space the picture is in."));
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
            .says("How it is laid over")
            .row("Blend", "How it is laid over; mid grey changes nothing.",
                 {"overlay", "soft light", "add"}));
    fields.push_back(finishNumber<Settings>("finish/plate/amount", "amount of grain plate", Kind::share,
                                            {0.0, 2.0}, RETINEX_FINISH(plate.amount))
                         .says("0 is not there")
                         .row("Amount", "0 % is not there."));
    fields.push_back(finishNumber<Settings>("finish/plate/exposureStops", "exposure of grain plate",
                                            Kind::stops, {-10.0, 10.0}, RETINEX_FINISH(plate.exposureStops))
                         .says("Brings its mid grey to that of the screen")
                         .row("Exposure", "Brings its grey to mid grey."));
    fields.push_back(inFinish(numberField<Settings>("finish/plate/offset", "offset of grain plate",
                                                    Kind::frame, {-1e6, 1e6}, RETINEX_FINISH(plate.offset)))
                         .says("Frames that it begins later at")
                         .row("Offset", "Frames that it begins later at."));
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
                .says("Brighter than this glows: the largest of R, G and B, scene-linear")
                .row("Level", "What is brighter, scene-linear, glows. Shown in the picture while you drag."),
            finishNumber<Glow>("softnessStops", "softness", Kind::stops, {0.0, 10.0},
                               RETINEX_MEMBER(Glow, softnessStops))
                .says("Sets in over so many stops around the level")
                .row("Softness", "Sets in over so many stops around the level."),
            finishNumber<Glow>("radius", "radius", Kind::fineShare, {0.001, 0.5},
                               RETINEX_MEMBER(Glow, radius), Blend::ratio)
                .says("Reach, share of the frame's width: 0.001 to 0.5")
                .row("Radius", "How far it reaches, % of the frame's width."),
            finishNumber<Glow>("tail", "tail", Kind::share, {0.0, 1.0}, RETINEX_MEMBER(Glow, tail))
                .says("0: nearly all in the core, 1: far out")
                .row("Tail", "0 %: nearly all of it close by; 100 %: far out."),
        };
        addColours<Glow>(fields, "tint", "tint", "Tint", {0.0, 100.0}, "Factor of the light that glows",
                         [](Glow& glow) -> std::array<double, 3>& { return glow.tint; });
        fields.push_back(finishNumber<Glow>("saturation", "saturation", Kind::share, {0.0, 4.0},
                                            RETINEX_MEMBER(Glow, saturation))
                             .says("Of the light that glows")
                             .row("Saturation", "Of its light."));
        fields.push_back(
            finishNumber<Glow>("amount", "amount", Kind::share, {0.0, 10.0}, RETINEX_MEMBER(Glow, amount))
                .says("Share of the light that glows")
                .row("Amount", "Share of the light that glows."));
        fields.push_back(inFinish(wordField<Glow>("blend", "blend", wordsOf<finish::GlowBlend>(),
                                                  RETINEX_MEMBER(Glow, blend)))
                             .says("How it meets the picture")
                             .row("Blend", "How it meets the picture.", {"add", "screen", "lighten"}));
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
            .says("Any that OpenColorIO reads: .cube, .3dl, .clf, .csp, ...")
            .row("File", "A look-up table: .cube, .3dl, .clf, .csp and others."),
        inFinish(textField<Look>("look", "look", Kind::text, RETINEX_TEXT(Look, look)))
            .says("Of the colour configuration, where there is no file"),
        inFinish(textField<Look>("space", "colour space", Kind::text, RETINEX_TEXT(Look, space)))
            .says("That the file works in; \"\": scene-linear")
            .oneOf(colour::inputSpaces)
            .row("Works in", "The colour space that the table's numbers are in, before and after."),
        finishNumber<Look>("strength", "strength", Kind::share, {0.0, 1.0}, RETINEX_MEMBER(Look, strength))
            .says("0 changes nothing")
            .row("Strength", "0 % changes nothing."),
    });
    return description;
}

} // namespace retinex::project
