#include "core/project/shot_json.h"

#include <cmath>

namespace retinex::project {

namespace {

using timeline::Mark;
using timeline::Side;

/// "smooth", or {"reach": 0.5, "rise": 0.1} for a curve.
Json toJson(const Side& side)
{
    if (side.ease != timeline::Ease::curve) return timeline::name(side.ease);
    Json json{{"reach", side.reach}, {"rise", side.rise}};
    if (side.mayOvershoot) json["mayOvershoot"] = true;
    return json;
}

void readSide(const Reader& reader, const char* pointer, Side& side)
{
    const Json* json = reader.find(pointer);
    if (!json) return;
    if (json->is_object()) {
        side.ease = timeline::Ease::curve;
        const Reader own = reader.below(pointer);
        own.read("/reach", side.reach);
        own.read("/rise", side.rise);
        own.read("/mayOvershoot", side.mayOvershoot);
        if (!(side.reach >= 0.0 && side.reach <= 1.0)) own.fail("/reach", "is not within 0 and 1");
        if (!std::isfinite(side.rise)) own.fail("/rise", "is not a number");
        return;
    }
    reader.readWord(pointer, side.ease, timeline::easeFromName, "smooth, linear, hold or a curve's handle");
}

Mark readMark(const Reader& reader, const SettingInfo& info)
{
    Mark mark;
    if (!reader.find("/frame")) reader.fail("/frame", "is missing");
    if (!reader.find("/value")) reader.fail("/value", "is missing");
    reader.read("/frame", mark.frame);
    reader.requireFrame("/frame", mark.frame);
    reader.readNumber("/value", mark.value);
    if (!(mark.value >= info.minimum && mark.value <= info.maximum))
        reader.fail("/value", fmt::format("is not within {} and {}", info.minimum, info.maximum));
    readSide(reader, "/arriving", mark.arriving);
    readSide(reader, "/leaving", mark.leaving);
    if (info.id == SettingId::focusDistance) {
        reader.readWord("/blend", mark.blend, timeline::blendFromName, "distance, dioptre or even-blur");
        reader.read("/subject", mark.subject);
    }
    return mark;
}

Json toJson(const Mark& mark, SettingId id)
{
    Json json{{"frame", mark.frame}, {"value", number(mark.value)}};
    if (mark.arriving != Side{}) json["arriving"] = toJson(mark.arriving);
    if (mark.leaving != Side{}) json["leaving"] = toJson(mark.leaving);
    if (id != SettingId::focusDistance) return json;
    if (mark.blend != Mark{}.blend) json["blend"] = timeline::name(mark.blend);
    if (mark.isBound()) json["subject"] = mark.subject;
    return json;
}

} // namespace

void readTracks(const Reader& reader, Tracks& tracks)
{
    for (const SettingInfo& info : allSettings())
        reader.readEach("/marks/" + std::string(info.key), [&](const Reader& entry) {
            timeline::setMark(tracks[info.id], readMark(entry, info));
        });
}

Json toJson(const Tracks& tracks)
{
    Json json = Json::object();
    for (const auto& [id, marks] : tracks) {
        Json& list = json[std::string(infoOf(id).key)] = Json::array();
        for (const Mark& mark : marks)
            list.push_back(toJson(mark, id));
    }
    return json;
}

void readShot(const Reader& reader, Shot& shot)
{
    for (const char* section : {"/reading", "/reading/gaps", "/lens", "/lens/simple", "/focus", "/iris",
                                "/glint", "/blur", "/repair", "/marks"}) {
        const Json* json = reader.find(section);
        if (json && !json->is_object()) reader.fail(section, "is of the wrong kind");
    }
    reader.read("/name", shot.name);
    reader.read("/firstFrame", shot.firstFrame);
    reader.requireFrame("/firstFrame", shot.firstFrame);
    reader.read("/camera", shot.camera);
    readReading(reader, shot.settings.reading);
    readLens(reader, shot.settings);
    readTracks(reader, shot.tracks);
}

void writeShot(const fs::path& file, const Shot& shot, Json& json)
{
    if (!json.is_object()) json = Json::object();
    json["name"] = shot.name;
    json["firstFrame"] = shot.firstFrame;
    json["camera"] = shot.camera;
    writeReading(shot.settings.reading, section(json, "reading"));
    writeLens(file, shot.settings, json);
    json["marks"] = toJson(shot.tracks);
}

} // namespace retinex::project
