#include "core/project/passes_json.h"

namespace retinex::project {

namespace {

using depth::GapRules;

constexpr std::array<std::string_view, 3> kPlaces{"far", "distance", "neighbours"};

std::optional<GapRules::Place> placeFromName(std::string_view text)
{
    const auto it = std::find(kPlaces.begin(), kPlaces.end(), text);
    if (it == kPlaces.end()) return std::nullopt;
    return static_cast<GapRules::Place>(it - kPlaces.begin());
}

void readRemap(const Reader& reader, depth::Conditioning& mend)
{
    const Json::json_pointer at("/reading/remap");
    if (!reader.document().contains(at)) return;
    try {
        mend.remap.clear();
        for (const Json& point : reader.document().at(at))
            mend.remap.emplace_back(point.at(0).get<double>(), point.at(1).get<double>());
    } catch (const Json::exception& cause) {
        reader.fail("/reading/remap", "is not a list of pairs of distances", cause.what());
    }
}

void readMattes(const Reader& reader, std::vector<passes::MatteChoice>& mattes)
{
    const Json::json_pointer at("/passes/mattes");
    if (!reader.document().contains(at)) return;
    try {
        for (const Json& entry : reader.document().at(at))
            mattes.push_back(
                {reader.resolved(entry.at("file").get<std::string>()), entry.at("name").get<std::string>()});
    } catch (const Json::exception& cause) {
        reader.fail("/passes/mattes", "is not a list of files and names", cause.what());
    }
}

void readReading(const Reader& reader, depth::ReadingSettings& reading)
{
    reader.readWord("/reading/kind", reading.reading, depth::readingFromName,
                    "distance, ray, reciprocal, near-bright, near-dark or clip");
    reader.read("/reading/reversed", reading.reversed);
    reader.readWord("/reading/spacing", reading.spacing, depth::spacingFromName, "distance or reciprocal");
    reader.readWord("/reading/encoding", reading.encoding, depth::encodingFromName, "linear or srgb");
    reader.readWord("/reading/clipRange", reading.clipRange, depth::clipRangeFromName, "0..1, -1..1 or 1..0");
    reader.readNumber("/reading/storedLow", reading.storedLow);
    reader.readNumber("/reading/storedHigh", reading.storedHigh);
    reader.readNumber("/reading/nearest", reading.nearest);
    reader.readNumber("/reading/farthest", reading.farthest);
    reader.read("/reading/clamp", reading.clamp);
    reader.readNumber("/reading/fieldOfViewDeg", reading.fieldOfViewDeg);
    reader.read("/reading/gaps/zero", reading.gaps.zero);
    reader.read("/reading/gaps/outsideAlpha", reading.gaps.outsideAlpha);
    reader.readNumber("/reading/gaps/from", reading.gaps.from);
    reader.readWord("/reading/gaps/place", reading.gaps.place, placeFromName, "far, distance or neighbours");
    reader.readNumber("/reading/gaps/distance", reading.gaps.distance);
    reader.read("/reading/snapEdges", reading.conditioning.snapEdges);
    reader.read("/reading/smoothLevels", reading.conditioning.smoothLevels);
    reader.readNumber("/reading/softenPx", reading.conditioning.softenPx);
    reader.readNumber("/reading/offset", reading.conditioning.offset);
    readRemap(reader, reading.conditioning);
}

Json toJson(const depth::ReadingSettings& reading, Json json)
{
    json["kind"] = depth::name(reading.reading);
    json["reversed"] = reading.reversed;
    json["spacing"] = depth::name(reading.spacing);
    json["encoding"] = depth::name(reading.encoding);
    json["clipRange"] = depth::name(reading.clipRange);
    json["storedLow"] = number(reading.storedLow);
    json["storedHigh"] = number(reading.storedHigh);
    json["nearest"] = number(reading.nearest);
    json["farthest"] = number(reading.farthest);
    json["clamp"] = reading.clamp;
    json["fieldOfViewDeg"] = number(reading.fieldOfViewDeg);
    json["gaps"]["zero"] = reading.gaps.zero;
    json["gaps"]["outsideAlpha"] = reading.gaps.outsideAlpha;
    json["gaps"]["from"] = number(reading.gaps.from);
    json["gaps"]["place"] = kPlaces[static_cast<std::size_t>(reading.gaps.place)];
    json["gaps"]["distance"] = number(reading.gaps.distance);
    json["snapEdges"] = reading.conditioning.snapEdges;
    json["smoothLevels"] = reading.conditioning.smoothLevels;
    json["softenPx"] = number(reading.conditioning.softenPx);
    json["offset"] = number(reading.conditioning.offset);
    json["remap"] = Json::array();
    for (const auto& [from, to] : reading.conditioning.remap)
        json["remap"].push_back({from, to});
    return json;
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
    readReading(reader, project.reading);
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
    json["reading"] = toJson(project.reading, json.value("reading", Json::object()));
    json["scene"]["file"] = relativePath(project.scene.file, file);
    json["scene"]["camera"] = project.scene.camera;
    json["scene"]["framesPerSecond"] = project.scene.framesPerSecond;
    json["scene"]["frameAtZero"] = project.scene.frameAtZero;
}

} // namespace retinex::project
