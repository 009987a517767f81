#include "core/project/names.h"

#include "core/regions/name_list.h"

#include <algorithm>

namespace retinex::project {

namespace {

/// Of what follows subjects and may have the distance of one.
template <class Follower>
void renameFollowed(Follower& follower, const std::string& from, const std::string& to)
{
    if (follower.subject == from) follower.subject = to;
    auto followed = regions::namesIn(follower.follows);
    std::ranges::replace(followed, from, to);
    follower.follows = regions::listOf(followed);
}

void renameIn(regions::Region& region, const std::string& from, const std::string& to)
{
    renameFollowed(region, from, to);
    std::vector<regions::Piece> pieces = region.area.pieces();
    bool changed = false;
    for (regions::Piece& piece : pieces)
        for (regions::OutlineMark& mark : piece.outline)
            for (regions::OutlinePoint& point : mark.points)
                if (point.subject == from) point.subject = to, changed = true;
    if (changed) region.area = regions::Area(std::move(pieces));
}

} // namespace

void renameSubject(Project& project, const std::string& from, const std::string& to)
{
    if (timeline::Subject* subject = project.subjectNamed(from)) subject->name = to;
    for (Shot& shot : project.shots) {
        if (const auto track = shot.tracks.find(setting::focusDistance); track != shot.tracks.end())
            for (timeline::Mark& mark : track->second)
                if (mark.subject == from) mark.subject = to;
        for (regions::Region& region : shot.settings.regions)
            renameIn(region, from, to);
        for (inserts::Insert& insert : shot.settings.inserts)
            renameFollowed(insert, from, to);
    }
}

void renameRegion(Project& project, std::size_t shot, const std::string& id, const std::string& to)
{
    std::string from;
    for (regions::Region& region : project.shots[shot].settings.regions)
        if (region.id == id) from = std::exchange(region.name, to);
    for (const Shot& each : project.shots)
        if (std::ranges::find(each.settings.regions, from, &regions::Region::name) !=
            each.settings.regions.end())
            return;
    if (from.empty()) return;
    for (Shot& each : project.shots)
        for (finish::Glow& glow : each.settings.glows) {
            auto names = regions::namesIn(glow.regions);
            std::ranges::replace(names, from, to);
            glow.regions = regions::listOf(names);
        }
    for (timeline::Subject& subject : project.subjects)
        if (!from.empty() && subject.region == from) subject.region = to;
}

std::vector<std::string> subjectNames(const Project& project)
{
    std::vector<std::string> names;
    for (const timeline::Subject& subject : project.subjects)
        names.push_back(subject.name);
    return names;
}

} // namespace retinex::project
