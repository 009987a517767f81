#include "core/project/file/migrations.h"

#include "core/project/file/project_file.h"

#include <array>

namespace retinex::project {

namespace {

/// Format 1 had one shot, whose marks were of the focus distance, with one ease for a pull.
void migrateFrom1(const Reader& reader, Json& document)
{
    Json shot = Json::object();
    for (const char* section : {"reading", "lens", "focus", "iris", "glint", "blur", "repair"}) {
        if (!document.contains(section)) continue;
        if (!document[section].is_object()) reader.fail(std::string("/") + section, "is of the wrong kind");
        shot[section] = document[section];
        document.erase(section);
    }
    if (shot.contains("focus") && shot["focus"].contains("marks")) {
        Json marks = Json::array();
        Json arriving = "smooth";
        int index = 0;
        for (const Json& old : shot["focus"]["marks"]) {
            const std::string field = fmt::format("/focus/marks/{}", index++);
            if (!old.is_object() || !old.contains("frame") || !old.contains("distance"))
                reader.fail(field, "is of the wrong kind");
            const Json ease = old.value("ease", Json("smooth"));
            if (ease != "smooth" && ease != "linear" && ease != "hold")
                reader.fail(field + "/ease", "is not smooth, linear or hold");
            marks.push_back({{"frame", old["frame"]},
                             {"value", old["distance"]},
                             {"arriving", arriving},
                             {"leaving", ease},
                             {"blend", "dioptre"}});
            arriving = ease == "hold" ? Json("smooth") : ease;
        }
        shot["focus"].erase("marks");
        shot["marks"]["focusDistance"] = std::move(marks);
    }
    document["shots"] = Json::array({std::move(shot)});
    document["format"] = 2;
}

/// Marks had short names, and the lens was a physical one.
void migrateShotFrom2(Json& shot)
{
    using namespace setting;
    static constexpr std::array<std::pair<const char*, std::string_view>, 22> names{
        {{"focusDistance", focusDistance},
         {"fStop", fStop},
         {"focalLength", focalLength},
         {"strength", strength},
         {"heldNear", heldNear},
         {"heldFar", heldFar},
         {"limitNear", limitNear},
         {"limitFar", limitFar},
         {"simpleRadius", simpleRadius},
         {"blades", blades},
         {"turn", turn},
         {"rounding", rounding},
         {"squeeze", squeeze},
         {"rim", rim},
         {"centreStop", centreStop},
         {"catsEye", catsEye},
         {"glintLevel", glintLevel},
         {"glintLift", glintLift},
         {"nearest", nearest},
         {"farthest", farthest},
         {"storedLow", storedLow},
         {"storedHigh", storedHigh}}};
    if (!shot.is_object()) return; // said when it is read
    if (const auto marks = shot.find("marks"); marks != shot.end() && marks->is_object()) {
        Json renamed = Json::object();
        for (const auto& [name, list] : marks->items()) {
            const std::string& key = name; // clang takes no binding along into a lambda
            const auto found =
                std::find_if(names.begin(), names.end(), [&](const auto& pair) { return key == pair.first; });
            renamed[found == names.end() ? key : std::string(found->second)] = list;
        }
        *marks = std::move(renamed);
    }
    Json& lens = shot["lens"];
    if (lens.is_null()) lens = Json::object();
    if (lens.is_object()) lens["framing"] = "physical";
}

void migrateShotsFrom2(Json& owner)
{
    if (!owner.is_object()) return;
    if (!owner.contains("shots")) owner["shots"] = Json::array({Json::object()});
    if (owner["shots"].is_array())
        for (Json& shot : owner["shots"])
            migrateShotFrom2(shot);
}

void migrateFrom2(Json& document)
{
    migrateShotsFrom2(document);
    if (const auto takes = document.find("takes"); takes != document.end() && takes->is_array())
        for (Json& take : *takes)
            migrateShotsFrom2(take);
    document["format"] = 3;
}

/// An empty frame's frames were its own before any still could be held.
void nameFramesOfStills(Json& document)
{
    const auto passes = document.find("passes");
    if (passes == document.end() || !passes->is_object()) return;
    const auto empty = passes->find("empty");
    if (empty == passes->end() || !empty->is_object()) return;
    for (const char* end : {"first", "last"})
        if (const auto at = empty->find(end); at != empty->end()) {
            const Json value = *at;
            empty->erase(end);
            if (!passes->contains("still")) (*passes)["still"] = Json::object();
            (*passes)["still"][end] = value;
        }
}

} // namespace

void migrate(const fs::path& file, Json& document)
{
    std::vector<std::string> putRight; // ranges are looked at when all is of the present format
    if (document["format"] == 1) migrateFrom1(Reader(file, document, putRight), document);
    if (document["format"] == 2) migrateFrom2(document);
    nameFramesOfStills(document);
}

} // namespace retinex::project
