#include "core/project/file/project_file.h"

#include "core/finish/colour_steps.h"
#include "core/project/file/json_reader.h"
#include "core/project/file/migrations.h"
#include "core/project/file/shot_json.h"
#include "core/project/settings/project_settings.h"
#include "core/project/takes.h"
#include "core/system/atomic_file.h"
#include "core/system/error.h"
#include "core/system/json_text.h"
#include "core/system/say.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace retinex::project {

namespace {

Json parse(const fs::path& file)
{
    const std::string text = readJsonText(file);
    try {
        return Json::parse(text);
    } catch (const Json::exception& cause) {
        throw Error(say("{}: this is not a project file, or it is damaged. Choose another, or take "
                        "an earlier copy.",
                        file.string()),
                    cause.what());
    }
}

void checkFormat(const fs::path& file, const Json& document)
{
    const auto format = document.is_object() ? document.find("format") : document.end();
    if (!document.is_object() || format == document.end() || !format->is_number_integer() ||
        (!format->is_number_unsigned() && format->get<std::int64_t>() < 1) || *format == 0)
        throw Error(
            say("{}: this is not a project file: it has no format number. Choose another.", file.string()));
    const auto number = format->get<std::uint64_t>();
    if (number > static_cast<std::uint64_t>(kFormat))
        throw Error(say("{}: written by a newer version (format {}; this one reads up to {}). Open it with "
                        "the newer version.",
                        file.string(), number, kFormat));
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

template <class Items, class ToJson>
Json listOf(const Items& items, ToJson write)
{
    Json list = Json::array();
    for (const auto& item : items)
        list.push_back(write(item));
    return list;
}

Json shotsJson(const fs::path& file, const std::vector<Shot>& shots)
{
    return listOf(shots, [&](const Shot& shot) { return toJson(file, shot); });
}

SharedList<Take> readTakes(const Reader& reader)
{
    std::vector<Take> takes;
    reader.readEach("/takes", [&](const Reader& entry) {
        Take take;
        take.name = entry.readOwnName(takes, "take");
        readDescribed(entry, takeSettings(), take);
        readSubjects(entry, take.subjects);
        readShots(entry, take.shots);
        take.unknown = entry.unknown();
        takes.push_back(std::move(take));
    });
    return takes;
}

Json takeJson(const fs::path& file, const Take& take)
{
    Json entry{{"name", take.name}};
    writeDescribed(file, takeSettings(), take, entry);
    entry["subjects"] = listOf(take.subjects, [](const auto& subject) { return toJson(subject); });
    entry["shots"] = shotsJson(file, take.shots);
    addUnknown(entry, take.unknown);
    return entry;
}

void readMattes(const Reader& reader, std::vector<passes::MatteChoice>& mattes)
{
    reader.readEach("/passes/mattes", [&](const Reader& entry) {
        passes::MatteChoice matte;
        std::string name;
        entry.read("/file", name);
        if (name.empty()) entry.fail("/file", "is missing");
        matte.file = entry.resolved(name);
        entry.read("/name", matte.name);
        entry.read("/atEdges", matte.atEdges);
        matte.unknown = entry.unknown();
        mattes.push_back(std::move(matte));
    });
}

Json matteJson(const fs::path& file, const passes::MatteChoice& matte)
{
    Json entry{{"file", relativePath(matte.file, file)}, {"name", matte.name}};
    if (!matte.atEdges) entry["atEdges"] = false;
    addUnknown(entry, matte.unknown);
    return entry;
}

void checkShots(const Project& project)
{
    for (std::size_t i = 0; i < project.shots.size(); ++i) {
        const timeline::FrameRange frames = project.framesOf(i);
        if (frames.first > frames.last && i > 0) continue; // outside of the frames worked on
        project.lensSettingsAt(frames.first).check();
        project.valuesAt(frames.first).reading.check();
        project.readingAt(frames.first).check();
        finish::checkCurves(project.valuesAt(frames.first).finish.grade);
    }
}

/// Each fits alone; together they may not.
void reconcileShots(Project& project, const std::string& where, std::vector<std::string>& putRight)
{
    for (std::size_t i = 0; i < project.shots.size(); ++i)
        for (const std::string& said : reconcile(project.shots[i].settings, 1000.0 * project.metresPerUnit))
            putRight.push_back(fmt::format("{}/shots/{}: {}", where, i, said));
}

} // namespace

Project loadProject(const fs::path& file, std::vector<std::string>* said)
{
    std::vector<std::string> unheard;
    std::vector<std::string>& putRight = said ? *said : unheard;
    Json document = parse(file);
    checkFormat(file, document);
    migrate(file, document);
    const Reader reader(file, document, putRight);
    (void)reader.find("/format");
    Project project;
    readDescribed(reader, projectSettings(), project);
    if (project.colour.file.empty() && !project.passOptions.isEmptyFrame())
        reader.fail("/passes/colour/file", "is missing");
    if (project.passOptions.isEmptyFrame() && project.passOptions.emptyHeight < 1)
        reader.fail("/passes/empty/height", "is missing");
    if (project.firstFrame > project.lastFrame) {
        reader.putRight("/frames", "has a first frame after its last: they are exchanged");
        std::swap(project.firstFrame, project.lastFrame);
    }
    if (project.lastFrame - project.firstFrame >= kMostFrames) {
        reader.putRight("/frames", say("has more than {} frames: so many are worked on", kMostFrames));
        project.lastFrame = project.firstFrame + kMostFrames - 1;
    }
    readMattes(reader, project.mattes);
    readSubjects(reader, project.subjects);
    readShots(reader, project.shots);
    project.takes = readTakes(reader);
    project.unknown = reader.unknown();
    reconcileShots(project, {}, putRight);
    if (!project.takes.empty()) {
        std::vector<Take> takes(project.takes.begin(), project.takes.end());
        for (std::size_t i = 0; i < takes.size(); ++i) {
            Project with = withTake(project, takes[i]);
            reconcileShots(with, fmt::format("/takes/{}", i), putRight);
            takes[i].shots = with.shots;
        }
        project.takes = takes;
    }
    try {
        checkShots(project);
        for (const Take& take : project.takes)
            checkShots(withTake(project, take));
    } catch (const Error& error) {
        throw Error(fmt::format("{}: {}", file.string(), error.what()));
    }
    return project;
}

std::string putRightNotice(const fs::path& file, const std::vector<std::string>& putRight)
{
    if (putRight.empty()) return {};
    return say("{}: opened with what did not fit put right: {}. Look at it before you save.",
               file.filename().string(), fmt::join(putRight, "; "));
}

std::string projectText(const fs::path& file, const Project& project)
{
    Json json{{"format", kFormat}};
    writeDescribed(file, projectSettings(), project, json);
    json["passes"]["mattes"] =
        listOf(project.mattes, [&](const passes::MatteChoice& matte) { return matteJson(file, matte); });
    json["subjects"] = listOf(project.subjects, [](const auto& subject) { return toJson(subject); });
    json["shots"] = shotsJson(file, project.shots);
    json["takes"] = listOf(project.takes, [&](const Take& take) { return takeJson(file, take); });
    addUnknown(json, project.unknown);
    // Names of files may be of any bytes.
    return json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

void saveProject(const fs::path& file, const Project& project)
{
    writeFileAtomically(file, projectText(file, project));
}

fs::path framesFolder(const fs::path& file, const fs::path& out)
{
    return out.empty() ? fs::absolute(file).parent_path() / (file.stem().string() + "-frames") : out;
}

} // namespace retinex::project
