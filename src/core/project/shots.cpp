#include "core/project/shots.h"

#include <algorithm>

namespace retinex::project {

namespace {

using timeline::Mark;
using timeline::Marks;

Marks movedInto(const Project& project, const SettingPath& path, const Marks& marks, int by,
                const timeline::FrameRange& range)
{
    Marks moved;
    for (Mark mark : marks) {
        mark.frame += by;
        if (range.contains(mark.frame)) timeline::setMark(moved, mark);
    }
    if (!marks.empty() && marks.back().frame + by > range.last && range.first <= range.last) {
        Marks whole = marks;
        timeline::insertMark(whole, range.last - by, infoOf(path)->get(project.valuesAt(range.last - by)));
        Mark last = *timeline::markOn(whole, range.last - by);
        last.frame = range.last;
        timeline::setMark(moved, last);
    }
    return moved;
}

} // namespace

bool cutAt(Project& project, int frame)
{
    const std::size_t index = project.shotIndexAt(frame);
    const timeline::FrameRange range = project.framesOf(index);
    if (frame <= range.first || frame > range.last) return false;
    const Project before = project;
    Shot later = project.shots[index];
    later.firstFrame = frame;
    later.name.clear();
    Shot& earlier = project.shots[index];
    for (const auto& [path, marks] : before.shots[index].tracks) {
        Marks& first = earlier.tracks[path];
        Marks& second = later.tracks[path];
        // Both shots get the value that a pull has at the cut, and their part of its curve; ends that are
        // held need none.
        const auto isBefore = [&](const Mark& mark) { return mark.frame < frame; };
        const bool allBefore = std::all_of(marks.begin(), marks.end(), isBefore);
        const bool noneBefore = std::none_of(marks.begin(), marks.end(), isBefore);
        if (!allBefore) timeline::insertMark(first, frame - 1, infoOf(path)->get(before.valuesAt(frame - 1)));
        if (!noneBefore) timeline::insertMark(second, frame, infoOf(path)->get(before.valuesAt(frame)));
        std::erase_if(first, [&](const Mark& mark) { return mark.frame >= frame; });
        std::erase_if(second, isBefore);
    }
    project.shots.insert(project.shots.begin() + static_cast<std::ptrdiff_t>(index) + 1, std::move(later));
    return true;
}

bool removeCut(Project& project, int frame)
{
    for (std::size_t i = 1; i < project.shots.size(); ++i) {
        if (project.shots[i].firstFrame != frame) continue;
        for (const auto& [path, marks] : project.shots[i].tracks)
            for (const Mark& mark : marks)
                timeline::setMark(project.shots[i - 1].tracks[path], mark);
        project.shots.erase(project.shots.begin() + static_cast<std::ptrdiff_t>(i));
        return true;
    }
    return false;
}

void copySettings(Project& project, std::size_t from, std::size_t to, const Groups& groups)
{
    if (from == to) return;
    const Shot source = project.shots[from];
    const int by = project.framesOf(to).first - project.framesOf(from).first;
    Shot& target = project.shots[to];
    for (const auto& list : shotSettings().lists()) {
        if (!groups.contains(list.group)) continue;
        list.copy(source.settings, target.settings);
        std::erase_if(target.tracks,
                      [&](const auto& track) { return track.first.text().starts_with(list.name + '/'); });
    }
    for (const Field<Settings>& field : shotSettings().allOf(source.settings)) {
        if (!groups.contains(field.group)) continue;
        field.copy(source.settings, target.settings);
        target.tracks.erase(field.path);
        const auto track = source.tracks.find(field.path);
        if (track == source.tracks.end()) continue;
        Marks marks = movedInto(project, field.path, track->second, by, project.framesOf(to));
        if (!marks.empty()) target.tracks[field.path] = std::move(marks);
    }
}

} // namespace retinex::project
