#include "core/project/settings/project_settings.h"

#include "core/project/settings/delivery_settings.h"
#include "core/project/settings/fields.h"
#include "core/project/settings/finish_settings.h"
#include "core/project/settings/insert_settings.h"
#include "core/project/settings/region_settings.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace retinex::project {

namespace {

constexpr Range kFrames{-1e8, 1e8};

Field<Project> optionalFrame(const char* path, const char* title, std::optional<int> Playing::*member)
{
    return numberField<Project>(
               path, title, Kind::frame, kFrames,
               [member](const Project& p) { return (p.playing.*member).value_or(0); },
               [member](Project& p, double value) { p.playing.*member = static_cast<int>(value); })
        .where([member](const Project& p) { return (p.playing.*member).has_value(); });
}

/// Of the empty frame that a project without a colour pass has.
Field<Project> emptyNumber(const std::string& name, const char* title, Kind kind, Range range,
                           int passes::PassOptions::*member)
{
    return numberField<Project>(
               "passes/empty/" + name, title, kind, range,
               [member](const Project& p) { return static_cast<double>(p.passOptions.*member); },
               [member](Project& p, double value) { p.passOptions.*member = static_cast<int>(value); })
        .where([](const Project& p) { return p.passOptions.isEmptyFrame(); });
}

#define RETINEX_FILE(member) RETINEX_TEXT(Project, member)

std::vector<Field<Project>> passFields()
{
    const auto in = [](Field<Project> field) { return std::move(field).in(Group::none, Stage::passes); };
    return {
        in(textField<Project>("passes/colour/file", "colour pass", Kind::file, RETINEX_FILE(colour.file))
               .says("A still, any one frame or a pattern (can.####.exr)")),
        in(textField<Project>("passes/colour/layer", "colour layer", Kind::text, RETINEX_FILE(colour.name))
               .says("\"\" is the first layer")),
        in(textField<Project>("passes/colour/inputSpace", "input colour space", Kind::text,
                              RETINEX_FILE(passOptions.inputSpace))
               .cli("--input-space", "Colour space of the colour pass; by the file otherwise")),
        in(textField<Project>("passes/depth/file", "depth pass", Kind::file, RETINEX_FILE(depth.file))
               .says("\"\" is the colour pass's file")),
        in(textField<Project>("passes/depth/channel", "depth channel", Kind::text, RETINEX_FILE(depth.name))
               .says("\"\" is the channel found by its name")),
        in(switchField<Project>("passes/depth/handMade", "hand-made depth",
                                RETINEX_MEMBER(Project, passOptions.handMadeDepth))
               .says("There is no depth pass: regions make it")),
        in(textField<Project>("passes/alpha/file", "alpha", Kind::file, RETINEX_FILE(passOptions.alpha.file))
               .says("\"\" is the colour layer's own alpha")),
        in(textField<Project>("passes/alpha/channel", "alpha channel", Kind::text,
                              RETINEX_FILE(passOptions.alpha.name))
               .says("Of the alpha file")),
        textField<Project>("passes/motion/file", "motion vectors", Kind::file,
                           RETINEX_FILE(passOptions.motion.file))
            .in(Group::none, Stage::lensInput)
            .says("\"\" means those found in the colour or depth pass"),
        textField<Project>("passes/motion/layer", "motion vector layer", Kind::text,
                           RETINEX_FILE(passOptions.motion.name))
            .in(Group::none, Stage::lensInput)
            .says("\"\" is the layer found by its name"),
        in(wordField<Project>("passes/missing", "missing frames", wordsOf<passes::MissingFrames>(),
                              RETINEX_MEMBER(Project, passOptions.missing))
               .cli("--missing", "Missing frames: stop, hold or black")),
        in(wordField<Project>("passes/sizeFit", "depth of another size", wordsOf<passes::SizeFit>(),
                              RETINEX_MEMBER(Project, passOptions.sizeFit))
               .cli("--size-fit", "Depth of another size: scale or centre")),
        in(emptyNumber("width", "width", Kind::pixels, {1.0, 1e5}, &passes::PassOptions::emptyWidth)
               .says("px of an empty frame: there is no colour pass, inserts make the picture")),
        in(emptyNumber("height", "height", Kind::pixels, {1.0, 1e5}, &passes::PassOptions::emptyHeight)
               .says("Likewise")),
        in(textField<Project>("passes/eye", "eye", Kind::text, RETINEX_FILE(passOptions.eye))
               .cli("--eye",
                    "Of a stereo render: left, right or as the file calls them; the first by default")),
        numberField<Project>("passes/still/first", "first frame of stills", Kind::frame, kFrames,
                             RETINEX_MEMBER(Project, passOptions.stillFirst))
            .says("Frames that a still is held for, or of the empty frame"),
        numberField<Project>("passes/still/last", "last frame of stills", Kind::frame, kFrames,
                             RETINEX_MEMBER(Project, passOptions.stillLast))
            .says("Likewise"),
    };
}

std::vector<Field<Project>> placeAndTimeFields()
{
    return {
        textField<Project>("scene/file", "scene file", Kind::file, RETINEX_FILE(scene.file))
            .says("A glTF scene to take cameras and points from"),
        textField<Project>("scene/camera", "camera", Kind::text, RETINEX_FILE(scene.camera))
            .says("Of the scene file; \"\" is the first"),
        numberField<Project>("scene/framesPerSecond", "frames per second of the scene", Kind::plain,
                             {1e-3, 1e6}, RETINEX_MEMBER(Project, scene.framesPerSecond))
            .says("The scene file's clock"),
        numberField<Project>("scene/frameAtZero", "frame at time 0", Kind::plain, kFrames,
                             RETINEX_MEMBER(Project, scene.frameAtZero))
            .says("The frame that time 0 of the scene file falls on"),
        numberField<Project>("scene/metresPerUnit", "scene scale", Kind::metres, {1e-9, 1e6},
                             RETINEX_MEMBER(Project, metresPerUnit))
            .in(Group::none, Stage::throughLens)
            .says("How many metres one scene unit is"),
        wordField<Project>("scene/unit", "unit of distances", wordsOf<optics::Unit>(),
                           RETINEX_MEMBER(Project, unit))
            .cli("--unit", "What one scene unit is: m, cm, mm, ft or in"),
        numberField<Project>("frames/first", "first frame", Kind::frame, kFrames,
                             RETINEX_MEMBER(Project, firstFrame))
            .says("The frames worked on"),
        numberField<Project>("frames/last", "last frame", Kind::frame, kFrames,
                             RETINEX_MEMBER(Project, lastFrame))
            .says("The frames worked on"),
        numberField<Project>("frames/perSecond", "frames per second", Kind::plain, {1.0, 240.0},
                             RETINEX_MEMBER(Project, playing.framesPerSecond))
            .says("How fast they are played"),
        optionalFrame("frames/in", "in", &Playing::in).says("First frame that is played; absent: the first"),
        optionalFrame("frames/out", "out", &Playing::out).says("Last frame that is played; absent: the last"),
    };
}

std::string kindWords(const SettingInfo& info)
{
    switch (info.kind) {
    case Kind::onOff:
        return "true or false";
    case Kind::word:
        return fmt::format("{}", fmt::join(info.choices, ", "));
    case Kind::text:
        return "text";
    case Kind::file:
        return "file";
    case Kind::pairs:
        return "pairs of numbers";
    case Kind::area:
        return "list of parts";
    case Kind::frame:
        return "frame";
    default:
        return info.allowed();
    }
}

template <class Owner>
std::string rows(const Description<Owner>& description)
{
    std::string table = "| key | values | default | marks | meaning |\n|---|---|---|---|---|\n";
    const Owner usual{};
    for (const Field<Owner>& field : description.fields()) {
        std::string value;
        if (field.kind == Kind::word)
            value = field.choices.at(static_cast<std::size_t>(field.get(usual)));
        else if (field.kind == Kind::onOff)
            value = field.get(usual) != 0.0 ? "true" : "false";
        else if (field.isNumber())
            value = fmt::format("{:g}", field.get(usual));
        table += fmt::format("| `{}` | {} | {} | {} | {} |\n", field.path, kindWords(field), value,
                             field.mayHaveMarks() ? "yes" : "", field.help);
    }
    return table;
}

} // namespace

const Description<Project>& projectSettings()
{
    static const Description<Project> description = [] {
        std::vector<Field<Project>> all = passFields();
        for (auto& field : placeAndTimeFields())
            all.push_back(std::move(field));
        Description<Project> whole(std::move(all));
        whole.list("deliveries", &Project::deliveries, deliverySettings());
        return whole;
    }();
    return description;
}

const Description<Shot>& shotPlace()
{
    static const Description<Shot> description(std::vector<Field<Shot>>{
        textField<Shot>("name", "name", Kind::text, RETINEX_TEXT(Shot, name)).says("Of the shot"),
        numberField<Shot>("firstFrame", "first frame", Kind::frame, kFrames, RETINEX_MEMBER(Shot, firstFrame))
            .says("The cut; of the first shot not looked at"),
        textField<Shot>("camera", "camera", Kind::text, RETINEX_TEXT(Shot, camera))
            .says("Of the scene file; \"\" is the project's"),
    });
    return description;
}

const Description<timeline::Subject>& subjectSettings()
{
    using timeline::Subject;
    static const Description<Subject> description(std::vector<Field<Subject>>{
        textField<Subject>("scenePoint", "point of the scene", Kind::text, RETINEX_TEXT(Subject, scenePoint))
            .where([](const Subject& s) { return !s.scenePoint.empty(); }),
        numberField<Subject>("radiusPx", "radius", Kind::pixels, {0.0, 1e5},
                             RETINEX_MEMBER(Subject, radiusPx)),
        textField<Subject>("region", "measured over a region", Kind::text, RETINEX_TEXT(Subject, region))
            .where([](const Subject& s) { return !s.region.empty(); }),
        switchField<Subject>("bridgesHidden", "hidden frames are bridged",
                             RETINEX_MEMBER(Subject, bridgesHidden)),
        textField<Subject>("measuredAs", "measured as", Kind::text, RETINEX_TEXT(Subject, measuredAs))
            .where([](const Subject& s) { return !s.measuredAs.empty(); }),
    });
    return description;
}

const Description<Take>& takeSettings()
{
    static const Description<Take> description(std::vector<Field<Take>>{
        numberField<Take>("frame", "frame", Kind::frame, kFrames, RETINEX_MEMBER(Take, frame)),
        textField<Take>("picture", "picture", Kind::text, RETINEX_TEXT(Take, picture)),
        numberField<Take>("metresPerUnit", "scene scale", Kind::metres, {1e-9, 1e6},
                          RETINEX_MEMBER(Take, metresPerUnit)),
    });
    return description;
}

std::string settingsTable()
{
    return "Of the project:\n\n" + rows(projectSettings()) + "\nOf a shot:\n\n" + rows(shotPlace()) +
           "\nIts settings:\n\n" + rows(shotSettings()) + "\nOf each of its regions:\n\n" +
           rows(regionSettings()) + "\nOf its backdrop and each of its inserts:\n\n" +
           rows(insertSettings()) + "\nOf each of its glows:\n\n" + rows(glowSettings()) +
           "\nOf each of its looks:\n\n" + rows(lookSettings()) +
           "\nOf each of the project's deliveries:\n\n" + rows(deliverySettings());
}

} // namespace retinex::project
