#include "core/project/project_file.h"

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/project/json_reader.h"
#include "core/project/lens_json.h"
#include "core/project/passes_json.h"

#include <cmath>
#include <fmt/format.h>
#include <fstream>

namespace retinex::project {

namespace {

void readMarks(const Reader& reader, const Json& document, timeline::Marks& marks)
{
    const Json::json_pointer at("/focus/marks");
    if (!document.contains(at)) return;
    int index = 0;
    for (const Json& entry : document.at(at)) {
        const std::string field = fmt::format("/focus/marks/{}", index++);
        try {
            timeline::Mark mark{entry.at("frame").get<int>(), Reader::number(entry.at("distance")), {}};
            const auto ease = timeline::easeFromName(entry.value("ease", "smooth"));
            if (!ease) reader.fail(field + "/ease", "is not smooth, linear or hold");
            if (!(mark.distance > 0.0)) reader.fail(field + "/distance", "is not above 0");
            mark.ease = *ease;
            timeline::setMark(marks, mark);
        } catch (const Json::exception& cause) {
            reader.fail(field, "is of the wrong kind", cause.what());
        }
    }
}

Json toJson(const timeline::Marks& marks)
{
    Json list = Json::array();
    for (const auto& mark : marks)
        list.push_back({{"frame", mark.frame},
                        {"distance", number(mark.distance)},
                        {"ease", timeline::name(mark.ease)}});
    return list;
}

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
void checkSections(const Reader& reader, const Json& document)
{
    for (const char* section :
         {"/passes", "/passes/colour", "/passes/depth", "/passes/alpha", "/frames", "/scene", "/lens",
          "/focus", "/iris", "/glint", "/blur", "/lens/simple", "/repair", "/reading", "/reading/gaps"}) {
        const Json::json_pointer at(section);
        if (document.contains(at) && !document.at(at).is_object())
            reader.fail(section, "is of the wrong kind");
    }
}

} // namespace

LoadedProject loadProject(const fs::path& file)
{
    LoadedProject loaded;
    loaded.document = parse(file);
    const Json& document = loaded.document;
    checkFormat(file, document);
    const Reader reader(file, document);
    checkSections(reader, document);
    Project& project = loaded.project;
    reader.readPath("/passes/colour/file", project.colour.file);
    reader.read("/passes/colour/layer", project.colour.name);
    reader.readPath("/passes/depth/file", project.depth.file);
    reader.read("/passes/depth/channel", project.depth.name);
    if (project.colour.file.empty()) reader.fail("/passes/colour/file", "is missing");
    readPasses(reader, project);
    reader.read("/frames/first", project.firstFrame);
    reader.read("/frames/last", project.lastFrame);
    reader.read("/scene/metresPerUnit", project.metresPerUnit);
    std::string word = std::string(optics::symbol(project.unit));
    reader.read("/scene/unit", word);
    if (const auto unit = optics::unitFromSymbol(word))
        project.unit = *unit;
    else
        reader.fail("/scene/unit", "is not m, cm, mm, ft or in");
    reader.read("/lens/fStop", project.fStop);
    reader.read("/lens/focalLengthMm", project.focalLengthMm);
    reader.read("/lens/sensorWidthMm", project.sensorWidthMm);
    reader.read("/lens/acceptedCocMm", project.acceptedCocMm);
    reader.readNumber("/focus/distance", project.focusDistance);
    readMarks(reader, document, project.marks);
    readLens(reader, project);
    if (project.firstFrame > project.lastFrame) reader.fail("/frames", "has a first frame after its last");
    try {
        project.settingsAt(project.firstFrame).check();
        project.reading.check();
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
    json["scene"]["metresPerUnit"] = project.metresPerUnit;
    json["scene"]["unit"] = optics::symbol(project.unit);
    json["lens"]["fStop"] = project.fStop;
    json["lens"]["focalLengthMm"] = project.focalLengthMm;
    json["lens"]["sensorWidthMm"] = project.sensorWidthMm;
    json["lens"]["acceptedCocMm"] = project.acceptedCocMm;
    json["focus"]["distance"] = number(project.focusDistance);
    json["focus"]["marks"] = toJson(project.marks);
    writeLens(file, project, json);
    writeFileAtomically(file, json.dump(2) + "\n");
}

fs::path framesFolder(const fs::path& file, const fs::path& out)
{
    return out.empty() ? fs::absolute(file).parent_path() / (file.stem().string() + "-frames") : out;
}

} // namespace retinex::project
