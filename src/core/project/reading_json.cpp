#include "core/project/shot_json.h"

#include <algorithm>
#include <array>

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
    const Json* list = reader.find("/reading/remap");
    if (!list) return;
    try {
        mend.remap.clear();
        for (const Json& point : *list)
            mend.remap.emplace_back(point.at(0).get<double>(), point.at(1).get<double>());
    } catch (const Json::exception& cause) {
        reader.fail("/reading/remap", "is not a list of pairs of distances", cause.what());
    }
}

} // namespace

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

void writeReading(const depth::ReadingSettings& reading, Json& json)
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
    Json& gaps = section(json, "gaps");
    gaps["zero"] = reading.gaps.zero;
    gaps["outsideAlpha"] = reading.gaps.outsideAlpha;
    gaps["from"] = number(reading.gaps.from);
    gaps["place"] = kPlaces[static_cast<std::size_t>(reading.gaps.place)];
    gaps["distance"] = number(reading.gaps.distance);
    json["snapEdges"] = reading.conditioning.snapEdges;
    json["smoothLevels"] = reading.conditioning.smoothLevels;
    json["softenPx"] = number(reading.conditioning.softenPx);
    json["offset"] = number(reading.conditioning.offset);
    json["remap"] = Json::array();
    for (const auto& [from, to] : reading.conditioning.remap)
        json["remap"].push_back({from, to});
}

} // namespace retinex::project
