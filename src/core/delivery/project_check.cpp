#include "core/delivery/project_check.h"

#include "core/delivery/circles.h"
#include "core/delivery/target_check.h"
#include "core/frame/finish_frame.h"
#include "core/frame/others/other_frames.h"
#include "core/frame/places/insert_checks.h"
#include "core/frame/places/insert_pictures.h"
#include "core/frame/places/region_places.h"
#include "core/frame/places/subject_measure.h"
#include "core/passes/image_file.h"
#include "core/passes/iris_picture.h"
#include "core/passes/scene/scene_file.h"
#include "core/project/missing_files.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <fmt/format.h>
#include <functional>
#include <set>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;

/// Runs a step; what it throws is a reason to stop.
void gather(std::vector<std::string>& stops, const std::function<void()>& step)
{
    try {
        step();
    } catch (const Error& error) {
        // Two steps may stumble over the same thing: it is said once.
        if (std::find(stops.begin(), stops.end(), error.what()) == stops.end())
            stops.emplace_back(error.what());
    }
}

/// A frame's header must hold what the first frame's does.
void checkHeader(const fs::path& file, int part, const std::vector<std::string>& channels,
                 const passes::PartInfo& first)
{
    const passes::FileInfo info = passes::inspectFile(file);
    if (part >= static_cast<int>(info.parts.size()))
        throw Error(
            say("{}: has no part {}, which other frames have. Render it again.", file.string(), part));
    const passes::PartInfo& here = info.part(part);
    passes::checkSizes(file, here);
    for (const std::string& channel : channels)
        if (!here.find(channel))
            throw Error(say("{}: has no channel \"{}\", which other frames have. Render it again.",
                            file.string(), channel));
    if (here.displayWindow.width() != first.displayWindow.width() ||
        here.displayWindow.height() != first.displayWindow.height())
        throw Error(say("{}: is {} x {} px, other frames are {} x {} px. Render it again.", file.string(),
                        here.displayWindow.width(), here.displayWindow.height(), first.displayWindow.width(),
                        first.displayWindow.height()));
}

void checkFrames(const passes::PassSource& source, const project::Project& project, const Run& run,
                 std::vector<std::string>& stops)
{
    if (source.options().isEmptyFrame()) return;
    const auto& layer = source.colourLayer();
    std::vector<std::string> channels{layer.red, layer.green, layer.blue};
    if (layer.alpha) channels.push_back(*layer.alpha);
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        run.throwIfStopped();
        if (source.colourFiles().has(frame))
            gather(stops, [&] {
                checkHeader(source.colourFiles().file(frame), layer.part, channels,
                            source.colourInfo().part(layer.part));
            });
        const auto& depth = source.depthChannel();
        if (source.depthFiles().has(frame) &&
            source.depthFiles().file(frame) != source.colourFiles().file(frame))
            gather(stops, [&] {
                checkHeader(source.depthFiles().file(frame), depth.part, depth.parts,
                            source.depthInfo().part(depth.part));
            });
    }
}

/// What focus rides on and cannot see.
void findHidden(const project::Project& project, std::vector<passes::Finding>& findings)
{
    for (const timeline::Subject& subject : project.subjects) {
        std::vector<int> hidden;
        for (const timeline::Sample& sample : subject.samples)
            if (sample.sight == timeline::Sight::hidden) hidden.push_back(sample.frame);
        if (hidden.empty()) continue;
        const std::string frames = passes::describeFrames(hidden);
        findings.push_back({"hidden-subject", passes::Finding::Weight::note,
                            say("Subject \"{}\" is hidden on frames {}", subject.name, frames),
                            "Focus stays at the last distance it was seen at.",
                            "Let hidden frames be bridged, or set marks there by hand."});
    }
}

/// What hangs on itself by way of others, and what is measured over a region that no shot has.
void findLeaning(const project::Project& project, std::vector<passes::Finding>& findings)
{
    for (std::string& circle : circles(project))
        findings.push_back({"circle", passes::Finding::Weight::trouble, std::move(circle),
                            say("Each is taken without the others."),
                            say("Let one of them stand by itself: place the subject in the picture, or let "
                                "the region follow another.")});
    for (const timeline::Subject& subject : project.subjects) {
        const auto hasRegion = [&](const project::Shot& shot) {
            return std::ranges::find(shot.settings.regions, subject.region, &regions::Region::name) !=
                   shot.settings.regions.end();
        };
        if (subject.region.empty() || std::ranges::any_of(project.shots, hasRegion)) continue;
        findings.push_back({"lost-subject", passes::Finding::Weight::trouble,
                            say("Subject \"{}\" is measured over the region \"{}\", which no shot has",
                                subject.name, subject.region),
                            say("It has no distance."),
                            say("Choose another region, or place the subject in the picture.")});
    }
}

/// What regions hang on and is not there, once for each region.
void findLostRegions(const project::Project& project, const passes::PassSource& source, const Run& run,
                     std::vector<passes::Finding>& findings)
{
    std::set<std::string> told;
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        run.throwIfStopped();
        if (!frame::hasRegions(project, frame)) continue;
        for (const auto& placed : frame::regionsAt(source, project, frame, run)) {
            if (placed.problems.empty() || !told.insert(placed.region.id).second) continue;
            findings.push_back({"lost-region", passes::Finding::Weight::trouble,
                                say("Region \"{}\" {}", placed.region.name, placed.problems.front()),
                                say("It is rendered as if that were not asked for."),
                                say("Choose another subject or matte, or switch the region off.")});
        }
    }
}

/// What inserts need and is not there, or does not fit, once for each.
void findLostInserts(const project::Project& project, const passes::PassSource& source, const Run& run,
                     std::vector<passes::Finding>& findings)
{
    std::set<std::string> told;
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        run.throwIfStopped();
        if (!frame::hasInserts(project, frame)) continue;
        if (const std::string notice = frame::backdropNotice(source, project, frame);
            !notice.empty() && told.insert("backdrop").second)
            findings.push_back({"unseen-backdrop", passes::Finding::Weight::trouble,
                                say("The backdrop is seen nowhere"),
                                say("It is rendered as if there were none."), notice});
        for (const auto& problem : frame::insertProblems(source, project, frame))
            if (told.insert(problem.id).second)
                findings.push_back({"lost-insert", passes::Finding::Weight::trouble,
                                    say("Insert \"{}\" {}", problem.name, problem.what),
                                    say("The frames it is on cannot be rendered with it."),
                                    say("Set it right in Backdrop and inserts, or switch it off.")});
    }
}

} // namespace

std::vector<std::string> contradictions(const project::Project& project)
{
    std::vector<std::string> found;
    for (const project::Shot& shot : project.shots) {
        for (const timeline::Mark& mark : shot.marks(project::setting::focusDistance))
            if (mark.isBound() && !project.subjectNamed(mark.subject))
                found.push_back(say("The mark on frame {} is bound to \"{}\", and there is no such "
                                    "subject. Bind it to another one, or to a plain distance.",
                                    mark.frame, mark.subject));
        const project::Settings& settings = shot.settings;
        if (!settings.irisPicture.empty() && !settings.iris.picture)
            gather(found, [&] {
                (void)passes::readIrisPicture(settings.irisPicture);
                throw Error(say("{}: the iris picture was not there when the project was opened. Open "
                                "the project again.",
                                settings.irisPicture.string()));
            });
    }
    return found;
}

ProjectCheck checkProject(const project::Project& project, const fs::path& out, const Run& run)
{
    ProjectCheck result;
    gather(result.stops, [&] { requireWritableFolder(out); });
    const std::vector<project::MissingFile> missing = project::missingFiles(project);
    for (const project::MissingFile& file : missing)
        result.stops.push_back(say("{}: the {} is not there. Find it again in the window (File, Find "
                                   "missing files), or correct its name.",
                                   file.file.string(), file.what));
    const auto isMissing = [&](const fs::path& file) { // said already
        return std::ranges::any_of(missing, [&](const auto& each) { return each.file == file; });
    };
    std::set<std::pair<fs::path, std::string>> readSets; // of ID mattes, each once for its thousand objects
    for (const auto& matte : project.mattes) {
        if (isMissing(matte.file)) continue;
        if (const auto id = passes::idMatteName(matte); id && !readSets.emplace(matte.file, id->set).second)
            continue;
        gather(result.stops, [&] {
            const auto files =
                isMissing(project.colour.file) || project.colour.file.empty()
                    ? passes::Sequence::find(matte.file)
                    : passes::Sequence::findBeside(passes::Sequence::find(project.colour.file), matte.file);
            (void)passes::readMatte({files.file(files.isStill() ? 1 : files.frames().front()), matte.name});
        });
    }
    if (!project.scene.file.empty() && !isMissing(project.scene.file))
        gather(result.stops, [&] { (void)passes::SceneFile::load(project.scene.file); });
    for (std::string& stop : contradictions(project))
        if (!std::ranges::any_of(missing,
                                 [&](const auto& each) { return stop.starts_with(each.file.string()); }))
            result.stops.push_back(std::move(stop));
    if (isMissing(project.colour.file) || isMissing(project.depth.file) ||
        isMissing(project.passOptions.alpha.file) || isMissing(project.passOptions.motion.file))
        return result;
    gather(result.stops, [&] {
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        std::vector<int> frames;
        for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame)
            frames.push_back(frame);
        gather(result.stops, [&] { source.requireFrames(frames); });
        checkFrames(source, project, run, result.stops);
        gather(result.stops, [&] {
            result.findings =
                passes::analysePasses(source, project.firstFrame, project.readingAt(project.firstFrame))
                    .findings;
            for (auto& finding : frame::othersFindings(
                     frame::reportOthers(source, project, project.firstFrame, run), project.firstFrame))
                result.findings.push_back(std::move(finding));
        });
        gather(result.stops, [&] {
            project::Project measured = project;
            frame::measureSubjects(measured, source, true, run);
            findHidden(measured, result.findings);
            findLeaning(measured, result.findings);
            findLostRegions(measured, source, run, result.findings);
            findLostInserts(measured, source, run, result.findings);
            std::set<std::string> told;
            for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
                std::vector<std::string> stops;
                gather(stops, [&] { frame::checkFinish(source, measured, frame); });
                for (std::string& stop : stops)
                    if (told.insert(stop).second) result.stops.push_back(std::move(stop));
            }
        });
    });
    return result;
}

} // namespace retinex::delivery
