#include "core/project/passes_json.h"

namespace retinex::project {

namespace {

void readMattes(const Reader& reader, std::vector<passes::MatteChoice>& mattes)
{
    const Json* list = reader.find("/passes/mattes");
    if (!list) return;
    try {
        for (const Json& entry : *list)
            mattes.push_back(
                {reader.resolved(entry.at("file").get<std::string>()), entry.at("name").get<std::string>()});
    } catch (const Json::exception& cause) {
        reader.fail("/passes/mattes", "is not a list of files and names", cause.what());
    }
}

} // namespace

void readPasses(const Reader& reader, Project& project)
{
    passes::PassOptions& options = project.passOptions;
    reader.readPath("/passes/alpha/file", options.alpha.file);
    reader.read("/passes/alpha/channel", options.alpha.name);
    reader.read("/passes/colour/inputSpace", options.inputSpace);
    reader.readWord("/passes/missing", options.missing, passes::missingFromName, "stop, hold or black");
    reader.readWord("/passes/sizeFit", options.sizeFit, passes::sizeFitFromName, "scale or centre");
    readMattes(reader, project.mattes);
    reader.readPath("/scene/file", project.scene.file);
    reader.read("/scene/camera", project.scene.camera);
    reader.read("/scene/framesPerSecond", project.scene.framesPerSecond);
    reader.read("/scene/frameAtZero", project.scene.frameAtZero);
    if (!(project.scene.framesPerSecond > 0.0)) reader.fail("/scene/framesPerSecond", "is not above 0");
}

void writePasses(const fs::path& file, const Project& project, Json& json)
{
    const passes::PassOptions& options = project.passOptions;
    Json& passes = json["passes"];
    passes["colour"]["inputSpace"] = options.inputSpace;
    passes["alpha"]["file"] = relativePath(options.alpha.file, file);
    passes["alpha"]["channel"] = options.alpha.name;
    passes["mattes"] = Json::array();
    for (const auto& matte : project.mattes)
        passes["mattes"].push_back({{"file", relativePath(matte.file, file)}, {"name", matte.name}});
    passes["missing"] = passes::name(options.missing);
    passes["sizeFit"] = passes::name(options.sizeFit);
    json["scene"]["file"] = relativePath(project.scene.file, file);
    json["scene"]["camera"] = project.scene.camera;
    json["scene"]["framesPerSecond"] = project.scene.framesPerSecond;
    json["scene"]["frameAtZero"] = project.scene.frameAtZero;
}

} // namespace retinex::project
