#include "core/frame/depends_on.h"

#include "core/colour/input_space.h"
#include "core/frame/places/insert_pictures.h"
#include "core/frame/places/region_places.h"
#include "core/passes/file_state.h"
#include "core/project/file/shot_json.h"
#include "core/project/settings/project_settings.h"
#include "core/regions/name_list.h"
#include "core/system/hash.h"

#include <array>

namespace retinex::frame {

namespace {

using project::Json;
using project::Shot;
using project::toJson;
using project::Tracks;

/// Plain fields as they stand, which makes no copies of them, and those of the members that `owner` has.
template <class Owner, class Visit>
void eachField(const project::Description<Owner>& description, const Owner& owner, Visit visit)
{
    for (const project::Field<Owner>& field : description.fields())
        visit(field);
    for (const auto& list : description.lists())
        for (const std::string& id : list.ids(owner))
            for (const project::Field<Owner>& field : list.fields(id))
                visit(field);
}

/// The settings that a stage takes, with their values.
template <class Owner>
std::string takenBy(Stage stage, const project::Description<Owner>& description, const Owner& owner)
{
    Json json = Json::object();
    eachField(description, owner, [&](const project::Field<Owner>& field) {
        if (field.stage == stage && (!field.isThere || field.isThere(owner)))
            json[field.path] = toJson(field, owner, {});
    });
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

} // namespace

std::span<const StageInfo* const> stages()
{
    static constexpr std::array kAll{&kReadPasses,    &kToDistances, &kApplyRegions, &kLayIn,
                                     &kMakeLensInput, &kThroughLens, &kFinishFrame};
    return kAll;
}

const std::string& FileStates::of(const std::filesystem::path& file)
{
    const auto [state, isNew] = m_states.try_emplace(file);
    if (isNew) state->second = passes::fileState(file);
    return state->second;
}

DependsOn::DependsOn(const passes::PassSource& source, const Project& project, int frame, FileStates& files)
    : m_source(source), m_project(project), m_frame(frame), m_files(files), m_values(project.valuesAt(frame))
{
    m_values.reading = project.readingAt(frame);
}

void DependsOn::text(std::string_view text)
{
    m_text += text;
    m_text += '\n';
}

void DependsOn::file(const std::filesystem::path& file)
{
    text(m_files.of(file));
}

void DependsOn::frameOf(const passes::Sequence& files, int frame)
{
    if (const auto there = m_source.fileOf(files, frame))
        file(*there);
    else
        text("missing");
}

void DependsOn::passes(int frame)
{
    passesOf(m_source, frame);
}

void DependsOn::passesOf(const passes::PassSource& other, int frame)
{
    for (const auto& each : other.filesOf(frame))
        file(each);
    if (other.needsConversion()) colourConfiguration();
}

void DependsOn::matte(const passes::MatteChoice& matte, int frame)
{
    text(matte.file.string() + '/' + matte.name);
    if (const passes::Sequence* files = m_source.filesBeside(matte.file))
        frameOf(*files, frame);
    else
        text("missing");
}

void DependsOn::mattesTitled(const std::string& titles)
{
    for (const passes::MatteChoice* each : m_project.mattesTitled(regions::namesIn(titles)))
        if (each) matte(*each, m_frame);
}

void DependsOn::colourConfiguration()
{
    text(colour::configurationState());
}

void DependsOn::settingsOf(Stage stage)
{
    text(takenBy(stage, project::projectSettings(), m_project));
    text(takenBy(stage, project::shotSettings(), m_values));
}

void DependsOn::frameUpTo(int frame, Stage last)
{
    text(frame::fingerprint(m_source, m_project, frame, last, m_files));
}

void DependsOn::stagesUpTo(Stage last)
{
    for (const StageInfo* each : stages()) {
        if (each->stage > last) return;
        if (each->isUsed && !each->isUsed(*this)) continue;
        text(fmt::format("{} {}", static_cast<int>(each->stage), each->version));
        settingsOf(each->stage);
        each->files(*this);
    }
}

std::string DependsOn::fingerprint() const
{
    return hashText(m_text);
}

std::string fingerprint(const passes::PassSource& source, const Project& project, int frame, Stage last,
                        FileStates& files)
{
    DependsOn on(source, project, frame, files);
    on.stagesUpTo(last);
    return on.fingerprint();
}

std::string fingerprint(const passes::PassSource& source, const Project& project, int frame, Stage last)
{
    FileStates files;
    return fingerprint(source, project, frame, last, files);
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

void addScene(DependsOn& on)
{
    const project::SceneCamera& scene = on.project().scene;
    for (const Shot& shot : on.project().shots)
        on.text(std::to_string(shot.firstFrame) + shot.camera);
    on.file(scene.file);
    on.text(fmt::format("{}\n{}\n{} {}", scene.file.string(), scene.camera, scene.framesPerSecond,
                        scene.frameAtZero));
}

/// The marks of a shot on what lies under a path.
std::string tracksUnder(const Shot& shot, const std::string& path)
{
    Tracks tracks;
    for (const auto& track : shot.tracks)
        if (track.first.text().starts_with(path)) tracks.insert(track);
    return toJson(tracks).dump();
}

/// What regions of a shot do to the distances that subjects are measured in, and the area of the region named
/// `measured`.
void addRegions(DependsOn& on, std::size_t index, const std::string& measured)
{
    const Project& project = on.project();
    const Shot& shot = project.shots[index];
    Settings settings;
    for (const regions::Region& region : shot.settings.regions) {
        using regions::PatchKind;
        const bool counts =
            region.isOn && region.patch != PatchKind::none && region.patch != PatchKind::subject;
        if (!counts && (measured.empty() || region.name != measured)) continue;
        settings.regions.push_back(region);
        if (region.name == measured) on.text(region.id);
        for (const std::string& name : placingSubjects(region)) {
            const auto* subject = project.subjectNamed(name);
            on.text(name);
            if (!subject) continue;
            on.text(bareText(*subject));
            if (!subject->scenePoint.empty()) addScene(on);
        }
        on.text(region.area.fingerprint());
        const auto frames = project.framesOf(index);
        for (const auto& matte : mattesOf(project, region))
            for (int frame = frames.first; frame <= frames.last; ++frame)
                on.matte(matte, frame);
        on.text(tracksUnder(shot, "regions/" + region.id + '/'));
    }
    if (!settings.regions.empty()) on.text(takenBy(Stage::regions, project::shotSettings(), settings));
}

/// What inserts of a shot do to them.
void addInserts(DependsOn& on, const Shot& shot)
{
    if (shot.settings.inserts.empty()) return;
    on.text(takenBy(Stage::inserts, project::shotSettings(), shot.settings));
    on.text(tracksUnder(shot, "inserts/"));
    for (const inserts::Insert& insert : shot.settings.inserts) {
        on.text(insert.mask.fingerprint());
        if (insert.file.empty()) continue;
        try {
            on.text(sourceOf(on.source(), insert)->filesState());
        } catch (const Error&) {
            on.text("missing");
        }
    }
}

} // namespace

std::string subjectFingerprint(const Project& project, const timeline::Subject& subject,
                               const passes::PassSource& source)
{
    FileStates files;
    DependsOn on(source, project, project.firstFrame, files);
    on.text(bareText(subject) + std::to_string(project.firstFrame) + std::to_string(project.lastFrame));
    if (subject.scenePoint.empty()) {
        on.text(source.filesState());
        on.text(takenBy(Stage::passes, project::projectSettings(), project));
        for (std::size_t i = 0; i < project.shots.size(); ++i) {
            const Shot& shot = project.shots[i];
            Tracks ends; // where they have marks the reading changes from frame to frame
            for (const auto& track : shot.tracks)
                if (project::isForReading(track.first)) ends.insert(track);
            addRegions(on, i, subject.region);
            addInserts(on, shot);
            Settings reading;
            reading.reading = project.readingAt(project.framesOf(i).first);
            on.text(std::to_string(project.framesOf(i).first) +
                    takenBy(Stage::distances, project::shotSettings(), reading) + toJson(ends).dump());
        }
    } else {
        addScene(on);
    }
    return on.fingerprint();
}

std::vector<std::filesystem::path> filesNamed(const Project& project)
{
    std::vector<std::filesystem::path> files;
    const auto add = [&](const auto& description, const auto& owner) {
        using Owner = std::decay_t<decltype(owner)>;
        using Access = typename project::Field<Owner>::template Access<std::string>;
        eachField(description, owner, [&](const project::Field<Owner>& field) {
            if (field.kind != project::Kind::file || field.path.starts_with("deliveries/")) return;
            if (const std::string file = std::get<Access>(field.access).get(owner); !file.empty())
                files.emplace_back(file);
        });
    };
    add(project::projectSettings(), project);
    for (const Shot& shot : project.shots)
        add(project::shotSettings(), shot.settings);
    for (const passes::MatteChoice& matte : project.mattes)
        files.push_back(matte.file);
    std::ranges::sort(files);
    files.erase(std::unique(files.begin(), files.end()), files.end());
    return files;
}

} // namespace retinex::frame
