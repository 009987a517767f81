#include "core/project/missing_files.h"

#include "core/passes/iris_picture.h"
#include "core/passes/sequence.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace retinex::project {

namespace {

namespace fs = std::filesystem;

/// What is done for each file that a project names; true where the name was changed.
using Visit = std::function<bool(const std::string& what, fs::path& file)>;

void visitIrisPictures(std::vector<Shot>& shots, const std::string& where, const Visit& visit)
{
    for (Shot& shot : shots) {
        if (shot.settings.irisPicture.empty() || shot.settings.iris.picture) continue;
        fs::path file = shot.settings.irisPicture;
        if (visit("iris from a picture" + where, file)) {
            const auto field = infoOf(setting::irisPicture);
            std::get<Field<Settings>::Access<std::string>>(field->access).set(shot.settings, file.string());
        }
    }
}

void visitInserts(std::vector<Shot>& shots, const std::string& where, const Visit& visit)
{
    for (Shot& shot : shots)
        for (inserts::Insert& insert : shot.settings.inserts)
            for (std::string* name : {&insert.file, &insert.depthFile}) {
                fs::path file = *name;
                if (!file.empty() && insert.content == inserts::Content::picture &&
                    visit(say("insert \"{}\"{}", insert.name, where), file))
                    *name = file.string();
            }
}

void visitFinish(std::vector<Shot>& shots, const std::string& where, const Visit& visit)
{
    for (Shot& shot : shots) {
        const auto look = [&](const std::string& what, std::string& name) {
            fs::path file = name;
            if (!file.empty() && visit(what + where, file)) name = file.string();
        };
        for (finish::Look& each : shot.settings.looks)
            look(say("look \"{}\"", each.name), each.file);
        look("grain plate", shot.settings.finish.plate.file);
    }
}

void visitFiles(Project& project, const Visit& visit)
{
    const auto named = [&](const char* what, fs::path& file) {
        if (!file.empty()) visit(what, file);
    };
    named("colour pass", project.colour.file);
    named("depth pass", project.depth.file);
    named("alpha", project.passOptions.alpha.file);
    named("motion vectors", project.passOptions.motion.file);
    for (passes::MatteChoice& matte : project.mattes)
        named("matte pass", matte.file);
    named("scene file", project.scene.file);
    visitIrisPictures(project.shots, "", visit);
    visitInserts(project.shots, "", visit);
    visitFinish(project.shots, "", visit);
    std::vector<Take> takes = project.takes.items();
    for (Take& take : takes) {
        const std::string where = say(" (take \"{}\")", take.name);
        visitIrisPictures(take.shots, where, visit);
        visitInserts(take.shots, where, visit);
        visitFinish(take.shots, where, visit);
    }
    if (!(takes == project.takes.items())) project.takes = std::move(takes);
}

bool isThere(const fs::path& file)
{
    try {
        (void)passes::Sequence::find(file);
        return true;
    } catch (const Error&) {
        return false;
    }
}

/// Iris pictures are visited only where they could not be read.
bool isMissing(const std::string& what, const fs::path& file)
{
    return what.starts_with("iris") || !isThere(file);
}

/// How many folders two paths share from their ends on.
int sharedFolders(const fs::path& a, const fs::path& b)
{
    const std::vector<fs::path> first(a.begin(), a.end());
    const std::vector<fs::path> second(b.begin(), b.end());
    int count = 0;
    for (auto x = first.rbegin(), y = second.rbegin(); x != first.rend() && y != second.rend() && *x == *y;
         ++x, ++y)
        ++count;
    return count;
}

std::vector<fs::path> foldersBelow(const fs::path& folder)
{
    constexpr std::size_t kMostFolders = 20'000; // a whole disk is searched for too long
    std::vector<fs::path> folders{folder};
    std::error_code code;
    const auto options = fs::directory_options::skip_permission_denied;
    for (fs::recursive_directory_iterator at(folder, options, code), end; !code && at != end;
         at.increment(code)) {
        std::error_code kind;
        if (at->is_directory(kind) && !kind) folders.push_back(at->path());
        if (folders.size() >= kMostFolders) break;
    }
    return folders;
}

} // namespace

std::vector<MissingFile> missingFiles(const Project& project)
{
    std::vector<MissingFile> missing;
    Project copy = project;
    visitFiles(copy, [&](const std::string& what, fs::path& file) {
        const bool known =
            std::ranges::any_of(missing, [&](const MissingFile& other) { return other.file == file; });
        if (!known && isMissing(what, file)) missing.push_back({what, file});
        return false;
    });
    return missing;
}

std::vector<MissingFile> findAgain(Project& project, const fs::path& folder)
{
    const std::vector<fs::path> folders = foldersBelow(fs::absolute(folder));
    std::map<fs::path, fs::path> moved; // folders, from where to where
    visitFiles(project, [&](const std::string& what, fs::path& file) {
        if (!isMissing(what, file)) return false;
        const fs::path before = file.parent_path();
        std::vector<fs::path> candidates = folders;
        std::stable_sort(candidates.begin(), candidates.end(), [&](const fs::path& a, const fs::path& b) {
            return sharedFolders(a, before) > sharedFolders(b, before);
        });
        if (const auto found = moved.find(before); found != moved.end())
            candidates.insert(candidates.begin(), found->second);
        for (const fs::path& candidate : candidates) {
            const fs::path there = candidate / file.filename();
            if (!isThere(there)) continue;
            moved[before] = candidate;
            file = there;
            return true;
        }
        return false;
    });
    return missingFiles(project);
}

} // namespace retinex::project
