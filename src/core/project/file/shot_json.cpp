#include "core/project/file/shot_json.h"

#include "core/project/settings/project_settings.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>

namespace retinex::project {

namespace {

using timeline::Mark;
using timeline::Side;

/// "smooth", or {"reach": 0.5, "rise": 0.1} for a curve.
Json toJson(const Side& side)
{
    if (side.ease != timeline::Ease::curve) return wordOf(side.ease);
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
        const std::string own = pointer;
        reader.read((own + "/reach").c_str(), side.reach);
        reader.read((own + "/rise").c_str(), side.rise);
        reader.read((own + "/mayOvershoot").c_str(), side.mayOvershoot);
        if (!(side.reach >= 0.0 && side.reach <= 1.0)) {
            reader.putRight(own + "/reach", "is not within 0 and 1: it is held to that");
            side.reach = std::clamp(side.reach, 0.0, 1.0);
        }
        if (!std::isfinite(side.rise)) reader.fail(own + "/rise", "is not a number");
        return;
    }
    reader.readWord(pointer, side.ease, fromWord<timeline::Ease>, "smooth, linear, hold or a curve's handle");
}

Mark readMark(const Reader& reader, const Field<Settings>& field)
{
    Mark mark;
    if (!reader.find("/frame")) reader.fail("/frame", "is missing");
    const Json* value = reader.find("/value");
    if (!value) reader.fail("/value", "is missing");
    reader.readFrame("/frame", mark.frame);
    mark.value = reader.numberOf(*value, "/value");
    if (!field.range.contains(mark.value)) {
        const double held = std::clamp(mark.value, field.range.minimum, field.range.maximum);
        reader.putRight("/value", say("({}) is {:g} and must be {}: {:g} is taken", field.title, mark.value,
                                      field.range.words(), held));
        mark.value = held;
    }
    readSide(reader, "/arriving", mark.arriving);
    readSide(reader, "/leaving", mark.leaving);
    if (field.path == setting::focusDistance) {
        reader.readWord("/blend", mark.blend, fromWord<timeline::Blend>, "distance, dioptre or even-blur");
        reader.read("/subject", mark.subject);
    }
    mark.unknown = reader.unknown();
    return mark;
}

Json toJson(const Mark& mark, const SettingPath& path)
{
    Json json{{"frame", mark.frame}, {"value", number(mark.value)}};
    if (mark.arriving != Side{}) json["arriving"] = toJson(mark.arriving);
    if (mark.leaving != Side{}) json["leaving"] = toJson(mark.leaving);
    if (path == setting::focusDistance) {
        if (mark.blend != Mark{}.blend) json["blend"] = wordOf(mark.blend);
        if (mark.isBound()) json["subject"] = mark.subject;
    }
    addUnknown(json, mark.unknown);
    return json;
}

void readTracks(const Reader& reader, Tracks& tracks, const Settings& settings)
{
    const Json* all = reader.find("/marks");
    if (!all) return;
    if (!all->is_object()) reader.fail("/marks", "is of the wrong kind");
    reader.know("/marks", ""); // those of settings that are not described stay what they are: unknown
    for (const auto& field : shotSettings().allOf(settings)) {
        if (!field.mayHaveMarks()) continue;
        const auto list = all->find(field.path);
        reader.know("/marks", field.path);
        if (list == all->end()) continue;
        if (!list->is_array()) reader.fail("/marks/" + field.path, "is not a list");
        std::vector<Mark> marks;
        for (std::size_t i = 0; i < list->size(); ++i)
            marks.push_back(
                readMark(reader.itemOf((*list)[i], fmt::format("/marks/{}/{}", field.path, i)), field));
        // Of several on one frame the last counts.
        std::stable_sort(marks.begin(), marks.end(),
                         [](const Mark& a, const Mark& b) { return a.frame < b.frame; });
        timeline::Marks& track = tracks[field.path];
        for (Mark& mark : marks) {
            if (!track.empty() && track.back().frame == mark.frame) track.pop_back();
            track.push_back(std::move(mark));
        }
    }
}

} // namespace

Json toJson(const Tracks& tracks)
{
    Json json = Json::object();
    for (const auto& [path, marks] : tracks) {
        Json& list = json[path.text()] = Json::array();
        for (const Mark& mark : marks)
            list.push_back(toJson(mark, path));
    }
    return json;
}

void readShot(const Reader& reader, Shot& shot)
{
    readDescribed(reader, shotPlace(), shot);
    readDescribed(reader, shotSettings(), shot.settings);
    readTracks(reader, shot.tracks, shot.settings);
    shot.unknown = reader.unknown();
}

Json toJson(const fs::path& file, const Shot& shot)
{
    Json json = Json::object();
    writeDescribed(file, shotPlace(), shot, json);
    writeDescribed(file, shotSettings(), shot.settings, json);
    json["marks"] = toJson(shot.tracks);
    addUnknown(json, shot.unknown);
    return json;
}

} // namespace retinex::project
