#include "core/project/fingerprint.h"

#include "core/base/hash.h"
#include "core/defocus/engine_version.h"
#include "core/passes/file_state.h"
#include "core/project/file/shot_json.h"
#include "core/project/finish_sources.h"
#include "core/project/insert_pictures.h"
#include "core/project/region_places.h"
#include "core/project/settings/project_settings.h"

namespace retinex::project {

namespace {

/// The settings that a stage takes, with their values.
template <class Owner>
std::string takenBy(Stage stage, const Description<Owner>& description, const Owner& owner)
{
    Json json = Json::object();
    for (const Field<Owner>& field : description.allOf(owner))
        if (field.stage == stage && (!field.isThere || field.isThere(owner)))
            json[field.path] = toJson(field, owner, {});
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

} // namespace

std::string passesFingerprint(const Project& project)
{
    return takenBy(Stage::passes, projectSettings(), project);
}

std::string fingerprint(const depth::ReadingSettings& reading)
{
    Settings settings;
    settings.reading = reading;
    return takenBy(Stage::distances, shotSettings(), settings);
}

std::string regionsFingerprint(const Project& project, int frame)
{
    return fingerprint(project.readingAt(frame)) +
           takenBy(Stage::regions, shotSettings(), project.valuesAt(frame)) + regionPlaces(project, frame);
}

std::string layersFingerprint(const Project& project, int frame)
{
    std::string text = regionsFingerprint(project, frame);
    if (hasInserts(project, frame))
        text +=
            takenBy(Stage::layers, shotSettings(), project.valuesAt(frame)) + insertPlaces(project, frame);
    return text;
}

std::string throughLensFingerprint(const Project& project, int frame)
{
    Settings values = project.valuesAt(frame);
    std::string text = fmt::format("engine {} ", defocus::kEngineVersion);
    if (values.iris.picture) { // what is in it counts, not its name
        const auto pixels = values.iris.picture->pixels();
        text += hashText({reinterpret_cast<const char*>(pixels.data()), pixels.size_bytes()}) +
                std::to_string(values.iris.picture->width());
    }
    values.irisPicture.clear();
    for (const auto& matte : project.edgeMattesAt(frame))
        text += matte.file.string() + '/' + matte.name + '\n';
    return text + takenBy(Stage::throughLens, projectSettings(), project) +
           layersFingerprint(project, frame) + takenBy(Stage::throughLens, shotSettings(), values);
}

std::string finishFingerprint(const Project& project, int frame)
{
    return throughLensFingerprint(project, frame) +
           takenBy(Stage::finish, shotSettings(), project.valuesAt(frame)) + finishPlaces(project, frame);
}

namespace {

/// A subject by what it is measured from.
std::string bareText(timeline::Subject subject)
{
    subject.name.clear();
    subject.samples = {};
    subject.measuredAs.clear();
    subject.unknown.clear();
    return toJson(subject).dump();
}

std::string sceneText(const Project& project)
{
    const SceneCamera& scene = project.scene;
    std::string text;
    for (const Shot& shot : project.shots)
        text += std::to_string(shot.firstFrame) + shot.camera;
    return text + passes::fileState(scene.file) + scene.file.string() + '\n' + scene.camera +
           fmt::format("\n{} {}", scene.framesPerSecond, scene.frameAtZero);
}

/// What regions of a shot do to the distances that subjects are measured in, and the area of the region named
/// `measured`.
std::string regionsOf(const Project& project, const Shot& shot, const std::string& measured)
{
    std::string text;
    Tracks tracks;
    Settings settings;
    for (const regions::Region& region : shot.settings.regions) {
        using regions::PatchKind;
        const bool counts =
            region.isOn && region.patch != PatchKind::none && region.patch != PatchKind::subject;
        if (!counts && (measured.empty() || region.name != measured)) continue;
        settings.regions.push_back(region);
        if (region.name == measured) text += region.id + '\n';
        for (const std::string& name : placingSubjects(region)) {
            const auto* subject = project.subjectNamed(name);
            text +=
                name + (!subject ? std::string()
                                 : bareText(*subject) +
                                       (subject->scenePoint.empty() ? std::string() : sceneText(project)));
        }
        text += region.area.fingerprint();
        for (const auto& track : shot.tracks)
            if (track.first.text().starts_with("regions/" + region.id + '/')) tracks.insert(track);
    }
    return settings.regions.empty()
               ? std::string()
               : text + takenBy(Stage::regions, shotSettings(), settings) + toJson(tracks).dump();
}

/// What inserts of a shot do to them.
std::string insertsOf(const Shot& shot)
{
    if (shot.settings.inserts.empty()) return {};
    std::string text = takenBy(Stage::layers, shotSettings(), shot.settings);
    Tracks tracks;
    for (const auto& track : shot.tracks)
        if (track.first.text().starts_with("inserts/")) tracks.insert(track);
    for (const layers::Insert& insert : shot.settings.inserts)
        text += insert.mask.fingerprint() + passes::fileState(insert.file);
    return text + toJson(tracks).dump();
}

} // namespace

std::string subjectFingerprint(const Project& project, const timeline::Subject& subject,
                               const passes::PassSource& source)
{
    std::string text =
        bareText(subject) + std::to_string(project.firstFrame) + std::to_string(project.lastFrame);
    if (subject.scenePoint.empty()) {
        text += source.filesState() + passesFingerprint(project);
        for (std::size_t i = 0; i < project.shots.size(); ++i) {
            const Shot& shot = project.shots[i];
            Tracks ends; // where they have marks the reading changes from frame to frame
            for (const auto& track : shot.tracks)
                if (isForReading(track.first)) ends.insert(track);
            text += regionsOf(project, shot, subject.region) + insertsOf(shot);
            text += std::to_string(project.framesOf(i).first) +
                    fingerprint(project.readingAt(project.framesOf(i).first)) + toJson(ends).dump();
        }
    } else {
        text += sceneText(project);
    }
    return hashText(text);
}

} // namespace retinex::project
