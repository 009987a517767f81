#include "core/regions/area_text.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>

namespace retinex::regions {

namespace {

using Json = nlohmann::ordered_json;

constexpr double kFarthestPlace = 1e6; ///< px from the frame
constexpr double kWidestBrush = 1e5;

Json toJson(const Point& point)
{
    return {point.x, point.y};
}

Json toJson(const OutlinePoint& point)
{
    Json json{{"at", toJson(point.at)}};
    if (point.turn != Turn::smooth) json["turn"] = wordOf(point.turn);
    if (point.turn == Turn::own) {
        json["arriving"] = toJson(point.arriving);
        json["leaving"] = toJson(point.leaving);
    }
    if (!point.subject.empty()) json["subject"] = point.subject;
    return json;
}

/// "412.3,88.1 413,89.25,0.8": x, y and, where it is not 1, the pressure.
std::string toText(const std::vector<StrokePoint>& points)
{
    std::string text;
    for (const StrokePoint& point : points) {
        if (!text.empty()) text += ' ';
        text += fmt::format("{},{}", point.at.x, point.at.y);
        if (point.pressure != 1.0F) text += fmt::format(",{}", point.pressure);
    }
    return text;
}

[[noreturn]] void fail(const std::string& matter)
{
    throw Error(matter);
}

double numberIn(const Json& json, double least, double most, const char* what)
{
    const double value = json.is_number() ? json.get<double>() : std::nan("");
    if (!(value >= least && value <= most))
        fail(say("has {} that is no number from {:g} to {:g}", what, least, most));
    return value;
}

Point pointFrom(const Json& json)
{
    if (!json.is_array() || json.size() != 2) fail(say("has a place that is not two numbers"));
    return {numberIn(json[0], -kFarthestPlace, kFarthestPlace, "a place"),
            numberIn(json[1], -kFarthestPlace, kFarthestPlace, "a place")};
}

template <class Enum>
Enum wordFrom(const Json& json, const char* key, Enum usual)
{
    const auto found = json.find(key);
    if (found == json.end()) return usual;
    const auto word = found->is_string() ? fromWord<Enum>(found->template get<std::string>()) : std::nullopt;
    if (!word) fail(say("has a \"{}\" that is none of {}", key, fmt::join(wordsOf<Enum>(), ", ")));
    return *word;
}

const Json& listIn(const Json& json, const char* key)
{
    static const Json none = Json::array();
    const auto found = json.find(key);
    if (found == json.end()) return none;
    if (!found->is_array()) fail(say("has \"{}\" that is not a list", key));
    return *found;
}

std::string nameFrom(const Json& json, const char* what)
{
    if (!json.is_string()) fail(say("has {} that is not a name", what));
    return json.get<std::string>();
}

std::vector<StrokePoint> strokePoints(const std::string& text)
{
    std::vector<StrokePoint> points;
    const char* at = text.data();
    const char* const end = at + text.size();
    const auto next = [&](double most) {
        double value = 0.0;
        const auto [after, problem] = std::from_chars(at, end, value);
        if (problem != std::errc() || !(std::abs(value) <= most))
            fail(say("has a stroke with a place that is no number"));
        at = after;
        return value;
    };
    while (at < end) {
        StrokePoint point;
        point.at.x = next(kFarthestPlace);
        if (at >= end || *at++ != ',') fail(say("has a stroke with a place that is not two numbers"));
        point.at.y = next(kFarthestPlace);
        if (at < end && *at == ',') {
            ++at;
            point.pressure = static_cast<float>(std::clamp(next(1.0), 0.0, 1.0));
        }
        points.push_back(point);
        if (at < end && *at++ != ' ') fail(say("has a stroke whose places are not separated by blanks"));
    }
    return points;
}

OutlineMark outlineFrom(const Json& json)
{
    OutlineMark mark;
    if (!json.is_object()) fail(say("has an outline that is not a list of marks"));
    if (const auto frame = json.find("frame"); frame != json.end())
        mark.frame = static_cast<int>(numberIn(*frame, -1e8, 1e8, "a frame"));
    for (const Json& entry : listIn(json, "points")) {
        if (!entry.is_object() || !entry.contains("at")) fail(say("has a point without a place"));
        OutlinePoint point;
        point.at = pointFrom(entry["at"]);
        point.turn = wordFrom(entry, "turn", Turn::smooth);
        if (point.turn == Turn::own && entry.contains("arriving"))
            point.arriving = pointFrom(entry["arriving"]);
        if (point.turn == Turn::own && entry.contains("leaving")) point.leaving = pointFrom(entry["leaving"]);
        if (entry.contains("subject")) point.subject = nameFrom(entry["subject"], "a subject");
        mark.points.push_back(std::move(point));
    }
    return mark;
}

Stroke strokeFrom(const Json& json)
{
    Stroke stroke;
    if (!json.is_object()) fail(say("has a stroke of the wrong kind"));
    const auto read = [&](const char* key, double& value, double least, double most) {
        if (const auto found = json.find(key); found != json.end())
            value = numberIn(*found, least, most, key);
    };
    read("radius", stroke.radiusPx, 0.1, kWidestBrush);
    read("softness", stroke.softness, 0.0, 1.0);
    read("strength", stroke.strength, 0.0, 1.0);
    stroke.erases = json.value("erases", false);
    if (json.contains("points")) stroke.points = strokePoints(nameFrom(json["points"], "a stroke"));
    return stroke;
}

Piece partFrom(const Json& json)
{
    if (!json.is_object()) fail(say("has a part of the wrong kind"));
    Piece piece;
    piece.kind = wordFrom(json, "kind", PieceKind::outline);
    piece.joining = wordFrom(json, "joining", Joining::add);
    std::vector<std::string_view> known{"kind", "joining"};
    const auto list = [&](const char* key) -> const Json& {
        known.emplace_back(key);
        return listIn(json, key);
    };
    const auto read = [&](const char* key, double& value, double most) {
        known.emplace_back(key);
        if (const auto found = json.find(key); found != json.end()) value = numberIn(*found, 0.0, most, key);
    };
    switch (piece.kind) {
    case PieceKind::outline:
        for (const Json& mark : list("outline")) {
            piece.outline.push_back(outlineFrom(mark));
            const OutlineMark& last = piece.outline.back();
            if (last.points.size() != piece.outline.front().points.size())
                fail(say("has an outline whose marks differ in their number of points"));
            if (piece.outline.size() > 1 && last.frame <= piece.outline[piece.outline.size() - 2].frame)
                fail(say("has an outline whose marks are not in the order of frames"));
        }
        break;
    case PieceKind::paint:
        for (const Json& stroke : list("strokes"))
            piece.strokes.push_back(strokeFrom(stroke));
        break;
    case PieceKind::mattes:
        for (const Json& matte : list("mattes"))
            piece.mattes.push_back(nameFrom(matte, "a matte"));
        break;
    case PieceKind::span:
        read("nearest", piece.nearest, 1e12);
        read("farthest", piece.farthest, 1e12);
        read("softEnds", piece.softEnds, 10.0);
        break;
    case PieceKind::whole:
        break;
    }
    Json unknown = Json::object();
    for (const auto& [key, value] : json.items())
        if (std::find(known.begin(), known.end(), key) == known.end()) unknown[key] = value;
    if (!unknown.empty()) piece.unknown = unknown.dump(-1, ' ', false, Json::error_handler_t::replace);
    return piece;
}

Json toJson(const Piece& piece)
{
    Json json{{"kind", wordOf(piece.kind)}};
    if (piece.joining != Joining::add) json["joining"] = wordOf(piece.joining);
    if (piece.kind == PieceKind::outline) {
        Json& marks = json["outline"] = Json::array();
        for (const OutlineMark& mark : piece.outline) {
            Json points = Json::array();
            for (const OutlinePoint& point : mark.points)
                points.push_back(toJson(point));
            marks.push_back({{"frame", mark.frame}, {"points", std::move(points)}});
        }
    } else if (piece.kind == PieceKind::paint) {
        Json& strokes = json["strokes"] = Json::array();
        for (const Stroke& stroke : piece.strokes) {
            Json entry{{"radius", stroke.radiusPx},
                       {"softness", stroke.softness},
                       {"strength", stroke.strength},
                       {"points", toText(stroke.points)}};
            if (stroke.erases) entry["erases"] = true;
            strokes.push_back(std::move(entry));
        }
    } else if (piece.kind == PieceKind::mattes) {
        json["mattes"] = piece.mattes;
    } else if (piece.kind == PieceKind::span) {
        json["nearest"] = piece.nearest;
        json["farthest"] = piece.farthest;
        json["softEnds"] = piece.softEnds;
    }
    if (!piece.unknown.empty()) json.update(Json::parse(piece.unknown));
    return json;
}

} // namespace

std::string toText(const Area& area)
{
    Json list = Json::array();
    for (const Piece& piece : area.pieces())
        list.push_back(toJson(piece));
    return list.dump(-1, ' ', false, Json::error_handler_t::replace);
}

Area areaFromText(const std::string& text)
{
    const Json list = Json::parse(text, nullptr, false);
    if (!list.is_array()) fail(say("is not a list of parts"));
    std::vector<Piece> pieces;
    try {
        for (const Json& entry : list)
            pieces.push_back(partFrom(entry));
    } catch (const Json::exception& cause) {
        throw Error(say("has a part of the wrong kind: part {}", pieces.size() + 1), cause.what());
    } catch (const Error& error) {
        throw Error(say("{}, in part {}", error.what(), pieces.size() + 1), error.cause());
    }
    return Area(std::move(pieces));
}

} // namespace retinex::regions
