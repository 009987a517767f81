#include "core/project/file/preset_file.h"

#include "core/finish/colour_steps.h"
#include "core/project/file/json_reader.h"
#include "core/system/atomic_file.h"
#include "core/system/json_text.h"
#include "core/system/say.h"

namespace retinex::project {

namespace {

constexpr std::array<const char*, 2> kKinds{"lens", "finish"};

bool isOf(PresetKind kind, Group group)
{
    return kind == PresetKind::lens ? group == Group::lens || group == Group::iris : group == Group::finish;
}

/// The settings of a kind as they are, all others as usual.
Settings only(PresetKind kind, const Settings& settings)
{
    Settings kept;
    if (kind == PresetKind::finish) {
        kept.glows = settings.glows;
        kept.looks = settings.looks;
    }
    for (const Field<Settings>& field : shotSettings().fields())
        if (isOf(kind, field.group)) field.copy(settings, kept);
    return kept;
}

} // namespace

void savePreset(const fs::path& file, PresetKind kind, const Settings& settings)
{
    Json all;
    writeDescribed(file, shotSettings(), only(kind, settings), all);
    Json json{{"retinexPreset", kKinds[static_cast<std::size_t>(kind)]}};
    // Only what belongs to it is written: another version may describe the rest otherwise.
    for (const Field<Settings>& field : shotSettings().fields()) {
        if (!isOf(kind, field.group)) continue;
        const Json::json_pointer at('/' + field.path);
        if (all.contains(at)) json[at] = all[at];
    }
    if (kind == PresetKind::finish)
        for (const char* list : {"glows", "looks"})
            json[list] = all[list];
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
    if (kind == PresetKind::finish) {
        changed.glows = read.glows;
        changed.looks = read.looks;
    }
    for (const Field<Settings>& field : shotSettings().fields())
        if (isOf(kind, field.group)) field.copy(read, changed);
    settings = std::move(changed);
}

} // namespace retinex::project
