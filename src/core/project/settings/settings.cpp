#include "core/project/settings/settings.h"

#include "core/finish/colour_steps.h"
#include "core/passes/iris_picture.h"
#include "core/project/settings/fields.h"
#include "core/project/settings/finish_settings.h"
#include "core/project/settings/insert_settings.h"
#include "core/project/settings/region_settings.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <fmt/format.h>

namespace retinex::project {

namespace {

using timeline::Blend;
constexpr double kInfinity = std::numeric_limits<double>::infinity();
constexpr double kLargest = 1e12; ///< of distances and stored numbers

#define RETINEX_SETTING(member) RETINEX_MEMBER(Settings, member)

Field<Settings> number(const char* path, const char* title, Kind kind, Range range,
                       std::function<double(const Settings&)> get, std::function<void(Settings&, double)> set)
{
    return numberField<Settings>(path, title, kind, range, std::move(get), std::move(set));
}
Field<Settings> onOff(const char* path, const char* title, std::function<double(const Settings&)> get,
                      std::function<void(Settings&, double)> set)
{
    return switchField<Settings>(path, title, std::move(get), std::move(set));
}
Field<Settings> word(const char* path, const char* title, std::vector<std::string_view> choices,
                     std::function<double(const Settings&)> get, std::function<void(Settings&, double)> set)
{
    return wordField<Settings>(path, title, std::move(choices), std::move(get), std::move(set));
}

/// What the simple lens has while it is on; else its defaults.
Field<Settings> simple(const char* path, const char* title, Kind kind, Range range,
                       double defocus::SimpleLens::*member)
{
    return number(
               path, title, kind, range,
               [member](const Settings& s) { return s.simpleLens.value_or(defocus::SimpleLens{}).*member; },
               [member](Settings& s, double value) {
                   if (s.simpleLens) (*s.simpleLens).*member = value;
               })
        .where([](const Settings& s) { return s.simpleLens.has_value(); })
        .in(Group::lens, Stage::throughLens);
}

/// The picture comes with its file. One that cannot be read is told of when its pixels are needed.
void setIrisPicture(Settings& settings, const std::string& file)
{
    settings.irisPicture = file;
    settings.iris.picture.reset();
    if (file.empty()) return;
    try {
        settings.iris.picture = passes::readIrisPicture(file);
    } catch (const Error&) { // see missing_files.h
    }
}

std::vector<Field<Settings>> readingFields()
{
    const auto in = [](Field<Settings> field) {
        return std::move(field).in(Group::reading, Stage::distances);
    };
    return {
        in(word("reading/kind", "depth reading", wordsOf<depth::Reading>(), RETINEX_SETTING(reading.reading))
               .says("How stored numbers become distance")),
        in(onOff("reading/reversed", "reversed", RETINEX_SETTING(reading.reversed))
               .cli("--reversed", "The numbers run the other way")),
        in(word("reading/spacing", "spacing of a grey", wordsOf<depth::Spacing>(),
                RETINEX_SETTING(reading.spacing))
               .cli("--spacing", "What a grey is even in: distance or reciprocal")),
        in(word("reading/encoding", "encoding", wordsOf<depth::Encoding>(), RETINEX_SETTING(reading.encoding))
               .cli("--encoding", "How a picture wrote its numbers: linear or srgb")),
        in(word("reading/clipRange", "clip range", wordsOf<depth::ClipRange>(),
                RETINEX_SETTING(reading.clipRange))
               .cli("--clip-range", "Clip space runs from near to far: 0..1, -1..1 or 1..0")),
        in(number("reading/nearest", "nearest", Kind::distance, {0.0, kLargest},
                  RETINEX_SETTING(reading.nearest))
               .marks(Blend::plain)
               .cli("--nearest",
                    "Distance of the near end of a grey, which may be 0; near clip plane; in --unit")),
        in(number("reading/farthest", "farthest", Kind::distance, {1e-9, kInfinity},
                  RETINEX_SETTING(reading.farthest))
               .marks(Blend::plain)
               .cli("--farthest", "Distance of the far end of a grey; far clip plane; in --unit")),
        in(number("reading/storedLow", "stored number, low", Kind::plain, {-kLargest, kLargest},
                  RETINEX_SETTING(reading.storedLow))
               .marks(Blend::plain)
               .cli("--stored-low", "Stored number of the dark end")),
        in(number("reading/storedHigh", "stored number, high", Kind::plain, {-kLargest, kLargest},
                  RETINEX_SETTING(reading.storedHigh))
               .marks(Blend::plain)
               .cli("--stored-high", "Stored number of the bright end")),
        in(onOff("reading/clamp", "clamp", RETINEX_SETTING(reading.clamp))
               .cli("--clamp", "Hold distances between nearest and farthest")),
        in(number("reading/fieldOfViewDeg", "field of view", Kind::degrees, {0.0, 179.0},
                  RETINEX_SETTING(reading.fieldOfViewDeg))
               .cli("--field-of-view",
                    "Degrees across the width, for distances along the ray; 0: by the lens")),
        in(onOff("reading/gaps/zero", "0 is a gap", RETINEX_SETTING(reading.gaps.zero))
               .cli("!--zero-is-depth", "0 is a number like others, not a gap")),
        in(onOff("reading/gaps/outsideAlpha", "gaps outside alpha",
                 RETINEX_SETTING(reading.gaps.outsideAlpha))
               .cli("--gaps-outside-alpha", "Pixels with alpha 0 are gaps")),
        in(number("reading/gaps/from", "gaps from", Kind::plain, {-kInfinity, kInfinity},
                  RETINEX_SETTING(reading.gaps.from))
               .cli("--gaps-from", "Stored numbers from this one on are gaps")),
        in(word("reading/gaps/place", "place of gaps", wordsOf<depth::GapRules::Place>(),
                RETINEX_SETTING(reading.gaps.place))
               .says("Where gaps lie")),
        in(number("reading/gaps/distance", "distance of gaps", Kind::distance, {1e-9, kInfinity},
                  RETINEX_SETTING(reading.gaps.distance))
               .says("Where gaps lie, for the place distance")),
        in(onOff("reading/snapEdges", "snap edges", RETINEX_SETTING(reading.conditioning.snapEdges))
               .cli("--snap-edges", "Give anti-aliased edge values to one surface")),
        in(number("reading/smoothLevels", "smoothed levels", Kind::levels, {0.0, 65535.0},
                  RETINEX_SETTING(reading.conditioning.smoothLevels))
               .cli("--smooth-levels", "Smooth the steps of this many levels (255)")),
        in(number("reading/softenPx", "softening", Kind::pixels, {0.0, 64.0},
                  RETINEX_SETTING(reading.conditioning.softenPx))
               .cli("--soften", "Edge-keeping softening of noisy depth, px")),
        in(number("reading/offset", "offset", Kind::plain, {-kLargest, kLargest},
                  RETINEX_SETTING(reading.conditioning.offset))
               .cli("--offset", "Added to every distance, in --unit")),
    };
}

/// Where the scene is open, for a backdrop.
std::vector<Field<Settings>> openingFields()
{
    const auto in = [](Field<Settings> field) { return std::move(field).in(Group::inserts, Stage::inserts); };
    return {
        in(word("open/by", "open", wordsOf<inserts::OpenBy>(), RETINEX_SETTING(openBy))
               .cli("--open-by", "Where the backdrop is seen: alpha, gaps of depth, or outside mattes")),
        in(textField<Settings>("open/mattes", "mattes before the backdrop", Kind::text,
                               RETINEX_TEXT(Settings, openMattes))
               .cli("--open-mattes",
                    "What stands before the backdrop, with mattes: their titles, separated by "
                    "\", \"; a lone matte is meant without")),
        in(word("open/colourAlpha", "colour and alpha", wordsOf<inserts::AlphaKind>(),
                RETINEX_SETTING(colourAlpha))
               .cli("--colour-alpha",
                    "Whether the colour pass is multiplied by its alpha: found, multiplied, "
                    "\"not multiplied\" or none")),
    };
}

Field<Settings> remapField()
{
    Field<Settings> field;
    field.path = "reading/remap";
    field.title = "remap";
    field.kind = Kind::pairs;
    field.access = Field<Settings>::Access<Pairs>{
        [](const Settings& s) { return s.reading.conditioning.remap; },
        [](Settings& s, Pairs pairs) { s.reading.conditioning.remap = std::move(pairs); }};
    return std::move(field)
        .in(Group::reading, Stage::distances)
        .says("Curve of distances: pairs of distance before and after, rising");
}

std::vector<Field<Settings>> focusAndLensFields()
{
    const auto lens = [](Field<Settings> field) {
        return std::move(field).in(Group::lens, Stage::throughLens);
    };
    const auto focus = [](Field<Settings> field) {
        return std::move(field).in(Group::focus, Stage::throughLens);
    };
    return {
        focus(number("focus/distance", "focus distance", Kind::distance, {1e-9, kInfinity},
                     RETINEX_SETTING(focusDistance))
                  .marks(Blend::evenBlur)
                  .cli("--focus", "Focus distance, in --unit")),
        lens(number("lens/fStop", "f-stop", Kind::fStop, {0.1, 128.0}, RETINEX_SETTING(fStop))
                 .marks(Blend::ratio)
                 .cli("--fstop", "f-stop")),
        lens(number("lens/focalLengthMm", "focal length", Kind::millimetres, {1.0, 5000.0},
                    RETINEX_SETTING(focalLengthMm))
                 .marks(Blend::ratio)
                 .cli("--focal-length", "Focal length, mm")),
        lens(number("lens/sensorWidthMm", "sensor width", Kind::millimetres, {0.1, 1000.0},
                    RETINEX_SETTING(sensorWidthMm))
                 .cli("--sensor-width", "Sensor width, mm")),
        lens(word("lens/framing", "framing", wordsOf<optics::Framing>(), RETINEX_SETTING(framing))
                 .cli("--framing", "As rendered (the renderer's camera kept its framing) or as a physical "
                                   "lens that moves out to focus: rendered or physical")),
        number("lens/acceptedCocMm", "accepted CoC", Kind::millimetres, {1e-4, 10.0},
               RETINEX_SETTING(acceptedCocMm))
            .in(Group::lens, Stage::none)
            .says("The CoC that still counts as sharp"),
        lens(number("blur/strength", "strength", Kind::share, {0.0, 2.0}, RETINEX_SETTING(blur.strength))
                 .marks(Blend::plain)
                 .cli("--strength", "Share of the lens's blur: 0 to 2")),
        focus(number("blur/heldNear", "held zone in front", Kind::length, {0.0, 1e9},
                     RETINEX_SETTING(blur.heldNear))
                  .marks(Blend::plain)
                  .says("Held zone: kept sharp so far in front of the focal plane")),
        focus(number("blur/heldFar", "held zone behind", Kind::length, {0.0, 1e9},
                     RETINEX_SETTING(blur.heldFar))
                  .marks(Blend::plain)
                  .says("Held zone: kept sharp so far behind the focal plane")),
        lens(number("blur/limitNearPx", "blur limit, near", Kind::pixels, {0.0, 2000.0},
                    RETINEX_SETTING(blur.limitNearPx))
                 .marks(Blend::plain)
                 .scaled()
                 .cli("--limit-near", "Largest radius in front of the focal plane, px of the full frame")),
        lens(number("blur/limitFarPx", "blur limit, far", Kind::pixels, {0.0, 2000.0},
                    RETINEX_SETTING(blur.limitFarPx))
                 .marks(Blend::plain)
                 .scaled()
                 .cli("--limit-far", "Largest radius behind the focal plane, px of the full frame")),
        lens(onOff(
                 "lens/simple/on", "simple lens", [](const Settings& s) { return s.simpleLens ? 1.0 : 0.0; },
                 [](Settings& s, double on) {
                     if (on == 0.0) s.simpleLens.reset();
                     if (on != 0.0 && !s.simpleLens) s.simpleLens = defocus::SimpleLens{};
                 })
                 .says("Blur from a radius in px, for depth without scale")),
        simple("lens/simple/radiusPx", "radius at the far end", Kind::pixels, {0.0, 2000.0},
               &defocus::SimpleLens::radiusPx)
            .marks(Blend::plain)
            .scaled()
            .says("Radius at the far end, with the focus at the near end"),
        simple("lens/simple/nearest", "near end", Kind::distance, {1e-9, kLargest},
               &defocus::SimpleLens::nearest)
            .says("Distance of the near end"),
        simple("lens/simple/farthest", "far end", Kind::distance, {1e-9, kInfinity},
               &defocus::SimpleLens::farthest)
            .says("Distance of the far end"),
    };
}

std::vector<Field<Settings>> irisFields()
{
    const auto in = [](Field<Settings> field) {
        return std::move(field).in(Group::iris, Stage::throughLens);
    };
    return {
        in(number(
               "iris/blades", "blades", Kind::blades, {0.0, 16.0},
               [](const Settings& s) { return static_cast<double>(s.iris.blades); },
               // One or two blades enclose nothing: on the way to or from a circle they count as one.
               [](Settings& s, double value) { s.iris.blades = value < 3.0 ? 0 : static_cast<int>(value); })
               .marks(Blend::plain)
               .cli("--blades", "Iris blades: 0 for a circle, or 3 to 16")),
        in(number("iris/turnDeg", "turn", Kind::degrees, {-360.0, 360.0}, RETINEX_SETTING(iris.turnDeg))
               .marks(Blend::plain)
               .cli("--turn", "Turn of the iris, degrees")),
        in(number("iris/rounding", "rounding", Kind::share, {0.0, 1.0}, RETINEX_SETTING(iris.rounding))
               .marks(Blend::plain)
               .cli("--rounding", "Of the blades: 0 straight to 1 circle")),
        in(number("iris/squeeze", "squeeze", Kind::factor, {0.5, 2.0}, RETINEX_SETTING(iris.squeeze))
               .marks(Blend::ratio)
               .cli("--squeeze", "Height of the disc over its width: 0.5 to 2")),
        in(number("iris/rim", "rim", Kind::share, {-1.0, 1.0}, RETINEX_SETTING(iris.rim))
               .marks(Blend::plain)
               .cli("--rim", "-1 dark edge to 1 bright edge")),
        in(number("iris/centreStop", "centre stop", Kind::share, {0.0, 0.95},
                  RETINEX_SETTING(iris.centreStop))
               .marks(Blend::plain)
               .cli("--centre-stop", "Share of the radius covered in the middle: 0 to 0.95")),
        in(number("iris/catsEye", "cat's eye", Kind::share, {0.0, 1.0}, RETINEX_SETTING(iris.catsEye))
               .marks(Blend::plain)
               .cli("--cats-eye", "Clip towards the corners: 0 to 1")),
        in(word("iris/opening", "f-stop means", wordsOf<optics::Opening>(), RETINEX_SETTING(iris.opening))
               .cli("--opening", "What the f-stop means: the area of the opening, or the circle that its "
                                 "blades stand in: area or blades")),
        in(textField<Settings>(
               "iris/picture", "iris from a picture", Kind::file,
               [](const Settings& s) { return s.irisPicture.string(); }, setIrisPicture)
               .copied([](const Settings& from, Settings& to) {
                   to.irisPicture = from.irisPicture;
                   to.iris.picture = from.iris.picture;
               })
               .cli("--iris-picture", "An image file as the iris")),
        in(number("glint/level", "glint level", Kind::plain, {1e-6, 1e6}, RETINEX_SETTING(glint.level))
               .marks(Blend::plain)
               .cli("--glint-level",
                    "Brighter than this is a glint: the largest of R, G and B, scene-linear")),
        in(number("glint/liftStops", "glint lift", Kind::stops, {0.0, 16.0}, RETINEX_SETTING(glint.liftStops))
               .marks(Blend::plain)
               .cli("--glint-lift", "Stops that glints are raised by")),
        onOff("repair/mattes", "mattes at edges", RETINEX_SETTING(mattesAtEdges))
            .in(Group::repair, Stage::lensInput)
            .cli("!--no-mattes", "Use no mattes at edges"),
        word("repair/frameEdge", "frame edge", wordsOf<defocus::FrameEdge>(), RETINEX_SETTING(frameEdge))
            .in(Group::repair, Stage::throughLens)
            .cli("--frame-edge", "Beyond the picture: continue, mirror or open"),
        word("repair/views", "other frames", wordsOf<others::OtherFrames>(), RETINEX_SETTING(otherFrames))
            .in(Group::repair, Stage::lensInput)
            .cli("--views", "Other frames that show what one hides: off, near or far"),
    };
}
#undef RETINEX_SETTING

Description<Settings> describe()
{
    std::vector<Field<Settings>> all = focusAndLensFields();
    for (auto& field : irisFields())
        all.push_back(std::move(field));
    for (auto& field : readingFields())
        all.push_back(std::move(field));
    all.push_back(remapField());
    for (auto& field : openingFields())
        all.push_back(std::move(field));
    for (auto& field : finishFields())
        all.push_back(std::move(field));
    Description<Settings> description(std::move(all));
    description.list("regions", &Settings::regions, regionSettings(), Group::regions);
    description.list("inserts", &Settings::inserts, insertSettings(), Group::inserts);
    description.list("glows", &Settings::glows, glowSettings(), Group::finish);
    description.list("looks", &Settings::looks, lookSettings(), Group::finish);
    return description;
}

} // namespace

const Description<Settings>& shotSettings()
{
    static const Description<Settings> description = describe();
    return description;
}

void makeSmaller(Settings& settings, int divisor)
{
    for (const Field<Settings>& field : shotSettings().allOf(settings))
        if (field.followsSize && (!field.isThere || field.isThere(settings)))
            field.set(settings, field.get(settings) / divisor);
}

FieldPtr<Settings> infoOf(const SettingPath& path)
{
    auto found = shotSettings().find(path.text());
    if (!found) throw Error("There is no setting \"" + path.text() + "\".");
    return found;
}

bool isForReading(const SettingPath& path)
{
    if (path == setting::focalLength) return true;
    const auto found = shotSettings().find(path.text());
    return found && found->stage == Stage::distances;
}

Settings valuesAt(const Settings& settings, const Tracks& tracks, double frame, double millimetresPerUnit,
                  const timeline::SubjectDistance& subjects)
{
    Settings values = settings;
    for (const auto& [path, marks] : tracks) {
        if (path == setting::focusDistance) continue; // needs the focal length of the frame
        const auto field = shotSettings().find(path.text());
        if (!field || !field->mayHaveMarks()) continue;
        if (const auto value = timeline::valueAt(marks, frame, *field->blend))
            field->set(values, field->held(*value));
    }
    if (!tracks.empty()) (void)reconcile(values, millimetresPerUnit); // marks of two ends may cross
    const auto focus = tracks.find(setting::focusDistance);
    if (focus == tracks.end()) return values;
    const double focalLength = values.focalLengthMm / millimetresPerUnit;
    // As rendered the CoC is even in 1/distance, as a physical lens in the image distance.
    const double evenBlurBy = values.framing == optics::Framing::physical ? focalLength : 0.0;
    if (const auto distance = timeline::focusAt(focus->second, frame, evenBlurBy, subjects))
        // A subject may come closer than a lens can focus: just beyond the focal length is the nearest it
        // can.
        values.focusDistance = std::max(*distance, nearestFocus(focalLength));
    return values;
}

std::vector<std::string> reconcile(Settings& settings, double millimetresPerUnit)
{
    std::vector<std::string> said = settings.reading.reconcile();
    const double focalLength = settings.focalLengthMm / millimetresPerUnit;
    if (!(settings.focusDistance > focalLength)) {
        said.push_back(say("the focus distance, {:g}, lies within the lens: {:g} is taken",
                           settings.focusDistance, nearestFocus(focalLength)));
        settings.focusDistance = nearestFocus(focalLength);
    }
    if (settings.simpleLens && !(settings.simpleLens->farthest > settings.simpleLens->nearest)) {
        said.push_back(
            say("the simple lens's far end, {:g}, is not beyond its near end, {:g}: they are {}",
                settings.simpleLens->farthest, settings.simpleLens->nearest,
                settings.simpleLens->farthest < settings.simpleLens->nearest ? "exchanged" : "moved apart"));
        if (settings.simpleLens->farthest < settings.simpleLens->nearest)
            std::swap(settings.simpleLens->farthest, settings.simpleLens->nearest);
        else
            settings.simpleLens->farthest = 1.001 * settings.simpleLens->nearest;
    }
    try {
        finish::checkCurves(settings.finish.grade);
    } catch (const Error& error) {
        said.push_back(say("{} The curves are straight now", error.what()));
        finish::Grade& grade = settings.finish.grade;
        grade.curve = grade.redCurve = grade.greenCurve = grade.blueCurve = finish::Grade{}.curve;
    }
    return said;
}

void checkRanges(const Settings& settings)
{
    for (const Field<Settings>& field : shotSettings().allOf(settings)) {
        if (!field.isNumber() || (field.isThere && !field.isThere(settings))) continue;
        const double value = field.get(settings);
        if (!field.fits(value))
            throw Error(say("The {} is {:g} and must be {}.", field.title, value, field.allowed()));
    }
}

} // namespace retinex::project
