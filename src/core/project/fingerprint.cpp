#include "core/project/fingerprint.h"

#include "core/project/shot_json.h"

namespace retinex::project {

std::string fingerprint(const depth::ReadingSettings& reading)
{
    Json json = Json::object();
    writeReading(reading, json);
    return json.dump();
}

std::string passesFingerprint(const Project& project)
{
    const passes::PassOptions& options = project.passOptions;
    return Json{project.colour.file.string(), project.colour.name,           project.depth.file.string(),
                project.depth.name,           options.alpha.file.string(),   options.alpha.name,
                options.inputSpace,           passes::name(options.missing), passes::name(options.sizeFit)}
        .dump();
}

namespace {

/// FNV-1a, 64 bits (Fowler, Noll, Vo; draft-eastlake-fnv).
std::uint64_t hashOf(std::string_view bytes)
{
    std::uint64_t hash = 0xcbf29ce484222325U;
    for (const char c : bytes)
        hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001b3U;
    return hash;
}

std::string hexadecimal(std::uint64_t hash)
{
    return fmt::format("{:016x}", hash);
}

} // namespace

std::string frameFingerprint(const Project& project, int frame)
{
    Settings values = project.valuesAt(frame);
    values.irisPicture.clear();                      // what is in it counts
    values.acceptedCocMm = Settings{}.acceptedCocMm; // the picture does not depend on it
    Json json = Json::object();
    writeReading(project.readingAt(frame), section(json, "reading"));
    writeLens({}, values, json);
    json["metresPerUnit"] = project.metresPerUnit;
    for (const auto& matte : project.edgeMattesAt(frame))
        json["mattes"].push_back(matte.file.string() + '/' + matte.name);
    if (values.iris.picture) {
        const auto pixels = values.iris.picture->pixels();
        json["picture"] =
            hexadecimal(hashOf({reinterpret_cast<const char*>(pixels.data()), pixels.size_bytes()})) +
            std::to_string(values.iris.picture->width());
    }
    return json.dump();
}

std::string subjectFingerprint(const Project& project, const timeline::Subject& subject)
{
    timeline::Subject bare = subject;
    bare.name.clear();
    bare.samples = {};
    bare.measuredAs.clear();
    Json json = Json::object();
    writeSubjects({bare}, json);
    std::string text = json.dump() + std::to_string(project.firstFrame) + std::to_string(project.lastFrame);
    if (subject.scenePoint.empty()) {
        text += passesFingerprint(project);
        for (std::size_t i = 0; i < project.shots.size(); ++i) {
            const Shot& shot = project.shots[i];
            Tracks ends; // where they have marks the reading changes from frame to frame
            for (const SettingId id : readingSettings())
                if (const auto track = shot.tracks.find(id); track != shot.tracks.end()) ends.insert(*track);
            text += std::to_string(project.framesOf(i).first) +
                    fingerprint(project.readingAt(project.framesOf(i).first)) + toJson(ends).dump();
        }
    } else {
        const SceneCamera& scene = project.scene;
        for (const Shot& shot : project.shots)
            text += std::to_string(shot.firstFrame) + shot.camera;
        text += Json{scene.file.string(), scene.camera, scene.framesPerSecond, scene.frameAtZero}.dump();
    }
    return hexadecimal(hashOf(text));
}

} // namespace retinex::project
