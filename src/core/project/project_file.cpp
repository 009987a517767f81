#include "core/project/project_file.h"

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/project/json_reader.h"
#include "core/project/passes_json.h"
#include "core/project/shot_json.h"
#include "core/project/takes.h"

#include <cmath>
#include <fmt/format.h>
#include <fstream>

namespace retinex::project {

namespace {

Json parse(const fs::path& file)
{
    std::ifstream stream(file);
    if (!stream)
        throw Error(
            fmt::format("{}: cannot be opened. Check the name and that it may be read.", file.string()));
    try {
        return Json::parse(stream);
    } catch (const Json::exception& cause) {
        throw Error(fmt::format("{}: this is not a project file, or it is damaged.", file.string()),
                    cause.what());
    }
}

void checkFormat(const fs::path& file, const Json& document)
{
    const auto format = document.is_object() ? document.find("format") : document.end();
    if (!document.is_object() || format == document.end() || !format->is_number_integer())
        throw Error(fmt::format("{}: this is not a project file: it has no format number.", file.string()));
    if (format->get<int>() > kFormat)
        throw Error(
            fmt::format("{}: written by a newer version (format {}; this one reads up to {}). Open it with "
                        "the newer version.",
                        file.string(), format->get<int>(), kFormat));
}

/// What is a section here must be one in the file: saving puts fields into it.
void checkSections(const Reader& reader)
{
    for (const char* section :
         {"/passes", "/passes/colour", "/passes/depth", "/passes/alpha", "/frames", "/scene"}) {
        const Json* found = reader.find(section);
        if (found && !found->is_object()) reader.fail(section, "is of the wrong kind");
    }
}

/// Format 1 had one shot, whose marks were of the focus distance, with one ease for a pull.
void migrateFrom1(const Reader& reader, Json& document)
{
    Json shot = Json::object();
    for (const char* section : {"reading", "lens", "focus", "iris", "glint", "blur", "repair"}) {
        if (!document.contains(section)) continue;
        if (!document[section].is_object()) reader.fail(std::string("/") + section, "is of the wrong kind");
        shot[section] = document[section];
        document.erase(section);
    }
    if (shot.contains("focus") && shot["focus"].contains("marks")) {
        Json marks = Json::array();
        Json arriving = "smooth";
        int index = 0;
        for (const Json& old : shot["focus"]["marks"]) {
            const std::string field = fmt::format("/focus/marks/{}", index++);
            if (!old.is_object() || !old.contains("frame") || !old.contains("distance"))
                reader.fail(field, "is of the wrong kind");
            const Json ease = old.value("ease", Json("smooth"));
            if (ease != "smooth" && ease != "linear" && ease != "hold")
                reader.fail(field + "/ease", "is not smooth, linear or hold");
            marks.push_back({{"frame", old["frame"]},
                             {"value", old["distance"]},
                             {"arriving", arriving},
                             {"leaving", ease},
                             {"blend", "dioptre"}});
            arriving = ease == "hold" ? Json("smooth") : ease;
        }
        shot["focus"].erase("marks");
        shot["marks"]["focusDistance"] = std::move(marks);
    }
    document["shots"] = Json::array({std::move(shot)});
    document["format"] = 2;
}

/// The list `shots` of a project or a take.
void readShots(const Reader& reader, std::vector<Shot>& present)
{
    std::vector<Shot> shots;
    reader.readEach("/shots", [&](const Reader& entry) {
        Shot shot;
        readShot(entry, shot);
        if (!shots.empty() && shot.firstFrame <= shots.back().firstFrame && shots.size() > 1)
            entry.fail("/firstFrame", "does not come after that of the shot before");
        shots.push_back(std::move(shot));
    });
    if (!shots.empty()) present = std::move(shots);
}

void writeShots(const fs::path& file, const std::vector<Shot>& shots, Json& json)
{
    Json& list = json["shots"];
    if (!list.is_array()) list = Json::array();
    while (list.size() > shots.size())
        list.erase(list.size() - 1);
    for (std::size_t i = 0; i < shots.size(); ++i)
        writeShot(file, shots[i], list[i]);
}

SharedList<Take> readTakes(const Reader& reader)
{
    std::vector<Take> takes;
    reader.readEach("/takes", [&](const Reader& entry) {
        Take take;
        take.name = entry.readOwnName(takes, "take");
        entry.read("/frame", take.frame);
        entry.requireFrame("/frame", take.frame);
        entry.read("/picture", take.picture);
        entry.read("/metresPerUnit", take.metresPerUnit);
        readSubjects(entry, take.subjects);
        readShots(entry, take.shots);
        takes.push_back(std::move(take));
    });
    return takes;
}

Json toJson(const fs::path& file, const SharedList<Take>& takes)
{
    Json json = Json::array();
    for (const Take& take : takes) {
        Json entry{{"name", take.name},
                   {"frame", take.frame},
                   {"picture", take.picture},
                   {"metresPerUnit", take.metresPerUnit}};
        writeSubjects(take.subjects, entry);
        writeShots(file, take.shots, entry);
        json.push_back(std::move(entry));
    }
    return json;
}

void readPlaying(const Reader& reader, Playing& playing)
{
    reader.read("/frames/perSecond", playing.framesPerSecond);
    if (!(playing.framesPerSecond >= 1.0 && playing.framesPerSecond <= 240.0))
        reader.fail("/frames/perSecond", "is not within 1 and 240");
    for (const auto& [pointer, frame] :
         {std::pair{"/frames/in", &playing.in}, {"/frames/out", &playing.out}}) {
        if (!reader.find(pointer)) continue;
        int number = 0;
        reader.read(pointer, number);
        reader.requireFrame(pointer, number);
        *frame = number;
    }
}

void write(const Playing& playing, Json& frames)
{
    frames["perSecond"] = playing.framesPerSecond;
    for (const auto& [key, frame] : {std::pair{"in", playing.in}, {"out", playing.out}}) {
        frames.erase(key);
        if (frame) frames[key] = *frame;
    }
}

void checkShots(const Project& project)
{
    for (std::size_t i = 0; i < project.shots.size(); ++i) {
        const timeline::FrameRange frames = project.framesOf(i);
        if (frames.first > frames.last && i > 0) continue; // outside of the frames worked on
        project.lensSettingsAt(frames.first).check();
        project.readingAt(frames.first).check();
    }
}

} // namespace

LoadedProject loadProject(const fs::path& file)
{
    LoadedProject loaded;
    loaded.document = parse(file);
    checkFormat(file, loaded.document);
    if (loaded.document["format"] == 1) migrateFrom1(Reader(file, loaded.document), loaded.document);
    const Reader reader(file, loaded.document);
    checkSections(reader);
    Project& project = loaded.project;
    reader.readPath("/passes/colour/file", project.colour.file);
    reader.read("/passes/colour/layer", project.colour.name);
    reader.readPath("/passes/depth/file", project.depth.file);
    reader.read("/passes/depth/channel", project.depth.name);
    if (project.colour.file.empty()) reader.fail("/passes/colour/file", "is missing");
    readPasses(reader, project);
    reader.read("/frames/first", project.firstFrame);
    reader.read("/frames/last", project.lastFrame);
    reader.requireFrame("/frames/first", project.firstFrame);
    reader.requireFrame("/frames/last", project.lastFrame);
    reader.read("/scene/metresPerUnit", project.metresPerUnit);
    std::string word = std::string(optics::symbol(project.unit));
    reader.read("/scene/unit", word);
    if (const auto unit = optics::unitFromSymbol(word))
        project.unit = *unit;
    else
        reader.fail("/scene/unit", "is not m, cm, mm, ft or in");
    readSubjects(reader, project.subjects);
    readShots(reader, project.shots);
    readPlaying(reader, project.playing);
    project.takes = readTakes(reader);
    if (project.firstFrame > project.lastFrame) reader.fail("/frames", "has a first frame after its last");
    try {
        checkShots(project);
        for (const Take& take : project.takes)
            checkShots(withTake(project, take));
    } catch (const Error& error) {
        throw Error(fmt::format("{}: {}", file.string(), error.what()));
    }
    return loaded;
}

void saveProject(const fs::path& file, const Project& project, const Json& document)
{
    Json json = document.is_object() ? document : Json::object();
    json["format"] = kFormat;
    json["passes"]["colour"]["file"] = relativePath(project.colour.file, file);
    json["passes"]["colour"]["layer"] = project.colour.name;
    json["passes"]["depth"]["file"] = relativePath(project.depth.file, file);
    json["passes"]["depth"]["channel"] = project.depth.name;
    writePasses(file, project, json);
    json["frames"]["first"] = project.firstFrame;
    json["frames"]["last"] = project.lastFrame;
    write(project.playing, json["frames"]);
    json["scene"]["metresPerUnit"] = project.metresPerUnit;
    json["scene"]["unit"] = optics::symbol(project.unit);
    writeSubjects(project.subjects, json);
    writeShots(file, project.shots, json);
    json["takes"] = toJson(file, project.takes);
    writeFileAtomically(file, json.dump(2) + "\n");
}

fs::path framesFolder(const fs::path& file, const fs::path& out)
{
    return out.empty() ? fs::absolute(file).parent_path() / (file.stem().string() + "-frames") : out;
}

} // namespace retinex::project
