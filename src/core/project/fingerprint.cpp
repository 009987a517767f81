#include "core/project/fingerprint.h"

#include "core/project/passes_json.h"
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

std::string fingerprint(const Project& project, int frame)
{
    Json json = Json::object();
    const Settings values = project.valuesAt(frame);
    writeReading(project.readingAt(frame), section(json, "reading"));
    writeLens("/", values, json);
    json["metresPerUnit"] = project.metresPerUnit;
    return passesFingerprint(project) + json.dump();
}

} // namespace retinex::project
