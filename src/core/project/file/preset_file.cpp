#include "core/project/file/preset_file.h"

#include "core/finish/colour_steps.h"
#include "core/project/file/json_reader.h"
#include "core/system/atomic_file.h"
#include "core/system/json_text.h"
#include "core/system/say.h"

namespace retinex::project {

namespace {

constexpr std::array<const char*, 2> kKinds{"lens", "finish"};

Groups groupsOf(PresetKind kind)
{
    return kind == PresetKind::lens ? Groups{Group::lens, Group::iris} : Groups{Group::finish};
}

/// Lays the settings of some groups on others, lists in place of the other's.
void copyGroups(const Groups& groups, const Settings& from, Settings& to)
{
    for (const auto& list : shotSettings().lists())
        if (groups.contains(list.group)) list.copy(from, to);
    for (const Field<Settings>& field : shotSettings().fields())
        if (groups.contains(field.group)) field.copy(from, to);
}

} // namespace

void savePreset(const fs::path& file, PresetKind kind, const Settings& settings)
{
    const Groups groups = groupsOf(kind);
    Settings only; // all others as usual
    copyGroups(groups, settings, only);
    Json all;
    writeDescribed(file, shotSettings(), only, all);
    Json json{{"retinexPreset", kKinds[static_cast<std::size_t>(kind)]}};
    // Only what belongs to it is written: another version may describe the rest otherwise.
    for (const Field<Settings>& field : shotSettings().fields()) {
        if (!groups.contains(field.group)) continue;
        const Json::json_pointer at('/' + field.path);
        if (all.contains(at)) json[at] = all[at];
    }
    for (const auto& list : shotSettings().lists())
        if (groups.contains(list.group)) json[list.name] = all[list.name];
    writeFileAtomically(file, json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
}

void loadPreset(const fs::path& file, PresetKind kind, Settings& settings)
{
    Json json;
    try {
        json = Json::parse(readJsonText(file));
    } catch (const Json::exception& cause) {
        throw Error(say("{}: is damaged. Take another file.", file.string()), cause.what());
    }
    std::vector<std::string> misfits;
    const Reader reader(file, json, misfits);
    std::string found;
    reader.read("/retinexPreset", found);
    if (found != kKinds[static_cast<std::size_t>(kind)])
        throw Error(found.empty() ? say("{}: is no preset. Take another file.", file.string())
                                  : say("{}: is a preset of a {}. Load it there.", file.string(),
                                        found == "lens" ? "lens" : "finish"));
    Settings read;
    readDescribed(reader, shotSettings(), read);
    if (!misfits.empty()) // a preset is made anew in a moment, and nothing of a half right one is wanted
        throw Error(say("{}: {}. Take another file.", file.string(), misfits.front()));
    finish::checkCurves(read.finish.grade);
    Settings changed = settings;
    copyGroups(groupsOf(kind), read, changed);
    settings = std::move(changed);
}

} // namespace retinex::project
