#include "core/frame/places/subject_measure.h"

#include "core/frame/depends_on.h"
#include "core/frame/lay_in.h"
#include "core/frame/places/region_places.h"
#include "core/system/error.h"
#include "core/system/say.h"
#include "core/timeline/subject_distance.h"

#include <algorithm>

namespace retinex::frame {

namespace {

using project::Shot;
using timeline::FrameRange;
using timeline::Sample;
using timeline::Subject;

int cameraNode(const passes::SceneFile& scene, const std::string& name)
{
    if (name.empty() && scene.cameras().empty())
        throw Error(say("The scene file has no camera. Export the scene with its camera."));
    return name.empty() ? scene.cameras().front().node : scene.cameraNamed(name);
}

/// A mark rides on it, or a patch has its distance.
bool isBound(const Project& project, const std::string& subject)
{
    for (const Shot& shot : project.shots) {
        for (const regions::Region& region : shot.settings.regions)
            if (region.patch == regions::PatchKind::subject && region.subject == subject) return true;
        for (const inserts::Insert& insert : shot.settings.inserts)
            if (insert.distanceFrom == inserts::DistanceFrom::subject && insert.subject == subject)
                return true;
        for (const auto& mark : shot.marks(project::setting::focusDistance))
            if (mark.subject == subject) return true;
    }
    return false;
}

timeline::FrameSight sightOn(const Project& project, const Subject& subject, int frame,
                             const FrameRange& range, const passes::PassSource& source, const Run& run)
{
    timeline::FrameSight sight{frame, false, {}};
    const auto place = placeAt(subject, frame, range);
    if (!place) return sight;
    sight.isAnchor = std::any_of(subject.places.begin(), subject.places.end(),
                                 [&](const timeline::Place& each) { return each.frame == frame; });
    try {
        const auto depth = frameDistance(source, project, frame, {1, {}, run.stop}, Purpose::subjects);
        sight.surfaces = surfacesUnder(subject, *place, depth.distance, depth.gaps);
    } catch (const Error&) {
        // missing or damaged: hidden, as far as this subject goes
    }
    return sight;
}

const regions::Region* regionNamed(const Project& project, std::size_t shot, const std::string& name)
{
    const auto& all = project.shots[shot].settings.regions;
    const auto found = std::ranges::find(all, name, &regions::Region::name);
    return found == all.end() ? nullptr : &*found;
}

/// What lies under a region's area after all regions: one distance.
timeline::FrameSight sightUnder(const Project& project, const std::string& id, int frame,
                                const passes::PassSource& source, const Run& run)
{
    timeline::FrameSight sight{frame, true, {}};
    const Run quiet{1, {}, run.stop};
    try {
        for (const regions::Region& region : project.valuesAt(frame).regions) {
            if (region.id != id) continue;
            const auto area =
                regionCoverage(source, project, placedRegion(source, project, region, frame), frame, quiet);
            const auto depth = frameDistance(source, project, frame, quiet, Purpose::subjects);
            if (const auto distance = regions::medianUnder(area, depth.distance, depth.gaps))
                sight.surfaces.push_back({*distance, 1.0, true});
        }
    } catch (const Error&) {
        // missing or damaged: hidden, as far as this subject goes
    }
    return sight;
}

} // namespace

SharedList<Sample> measuredSamples(const Project& project, const Subject& subject,
                                   const passes::PassSource& source, const Run& run)
{
    std::vector<Sample> samples;
    const double total = std::max(1, project.lastFrame - project.firstFrame + 1);
    for (std::size_t shot = 0; shot < project.shots.size(); ++shot) {
        const FrameRange range = project.framesOf(shot);
        const auto* region = subject.region.empty() ? nullptr : regionNamed(project, shot, subject.region);
        const bool isThere =
            subject.region.empty() ? placeAt(subject, range.first, range).has_value() : region != nullptr;
        if (range.first > range.last || !isThere) continue;
        std::vector<timeline::FrameSight> sights;
        for (int frame = range.first; frame <= range.last; ++frame) {
            run.throwIfStopped();
            if (run.progress) run.progress((frame - project.firstFrame) / total);
            sights.push_back(region ? sightUnder(project, region->id, frame, source, run)
                                    : sightOn(project, subject, frame, range, source, run));
        }
        const auto followed = timeline::followDistance(sights, subject.bridgesHidden);
        samples.insert(samples.end(), followed.begin(), followed.end());
    }
    return samples;
}

SharedList<Sample> sceneSamples(const Project& project, const Subject& subject,
                                const passes::SceneFile& scene)
{
    const int point = scene.pointNamed(subject.scenePoint);
    std::vector<Sample> samples;
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        const int camera = cameraNode(scene, project.cameraAt(frame));
        const double distance = scene.planarDistance(camera, point, project.scene.secondsAt(frame));
        if (distance > 0.0) samples.push_back({frame, distance});
    }
    return samples;
}

std::optional<timeline::Place> seenPlace(const Project& project, const Subject& subject, int frame,
                                         const passes::SceneFile* scene, double frameWidth,
                                         double frameHeight)
{
    if (subject.scenePoint.empty())
        return placeAt(subject, frame, project.framesOf(project.shotIndexAt(frame)));
    if (!scene) return std::nullopt;
    try {
        const auto seen =
            scene->seenAt(cameraNode(*scene, project.cameraAt(frame)), scene->pointNamed(subject.scenePoint),
                          project.scene.secondsAt(frame), frameWidth / frameHeight);
        if (!seen) return std::nullopt;
        return timeline::Place{frame, seen->at(0) * frameWidth, seen->at(1) * frameHeight};
    } catch (const Error&) {
        return std::nullopt; // said where it is measured
    }
}

std::vector<std::string> measureSubjects(Project& project, const passes::PassSource& source, bool boundOnly,
                                         const Run& run)
{
    std::vector<std::pair<Subject*, std::string>> needed;
    for (Subject& subject : project.subjects) {
        std::string key = subjectFingerprint(project, subject, source);
        if (subject.measuredAs == key || (boundOnly && !isBound(project, subject.name))) continue;
        needed.emplace_back(&subject, std::move(key));
    }
    std::vector<std::string> measured;
    for (const auto& [found, key] : needed) {
        Subject& subject = *found;
        Run part = run;
        if (run.progress)
            part.progress = [&](double share) {
                run.progress((static_cast<double>(measured.size()) + share) /
                             static_cast<double>(needed.size()));
            };
        if (subject.scenePoint.empty()) {
            subject.samples = measuredSamples(project, subject, source, part);
        } else {
            if (project.scene.file.empty())
                throw Error("The subject \"" + subject.name +
                            "\" is a point of a scene, and no scene file is chosen. Choose it in Passes.");
            subject.samples = sceneSamples(project, subject, passes::SceneFile::load(project.scene.file));
        }
        subject.measuredAs = key;
        measured.push_back(subject.name);
    }
    return measured;
}

} // namespace retinex::frame
