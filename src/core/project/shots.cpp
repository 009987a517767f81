#include "core/project/shots.h"

#include <algorithm>

namespace retinex::project {

namespace {

using timeline::Mark;
using timeline::Marks;

bool isOf(SettingId id, const ShotParts& parts)
{
    switch (id) {
    case SettingId::focusDistance:
    case SettingId::heldNear:
    case SettingId::heldFar:
        return parts.focus;
    case SettingId::nearest:
    case SettingId::farthest:
    case SettingId::storedLow:
    case SettingId::storedHigh:
        return parts.reading;
    case SettingId::fStop:
    case SettingId::focalLength:
    case SettingId::strength:
    case SettingId::limitNear:
    case SettingId::limitFar:
    case SettingId::simpleRadius:
        return parts.lens;
    default:
        return parts.iris;
    }
}

Marks movedInto(const Project& project, SettingId id, const Marks& marks, int by,
                const timeline::FrameRange& range)
{
    Marks moved;
    for (Mark mark : marks) {
        mark.frame += by;
        if (range.contains(mark.frame)) timeline::setMark(moved, mark);
    }
    if (!marks.empty() && marks.back().frame + by > range.last && range.first <= range.last) {
        Marks whole = marks;
        timeline::insertMark(whole, range.last - by, infoOf(id).get(project.valuesAt(range.last - by)));
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
    for (const auto& [id, marks] : before.shots[index].tracks) {
        Marks& first = earlier.tracks[id];
        Marks& second = later.tracks[id];
        // Both shots get the value that a pull has at the cut, and their part of its curve; ends that are
        // held need none.
        const auto isBefore = [&](const Mark& mark) { return mark.frame < frame; };
        const bool allBefore = std::all_of(marks.begin(), marks.end(), isBefore);
        const bool noneBefore = std::none_of(marks.begin(), marks.end(), isBefore);
        if (!allBefore) timeline::insertMark(first, frame - 1, infoOf(id).get(before.valuesAt(frame - 1)));
        if (!noneBefore) timeline::insertMark(second, frame, infoOf(id).get(before.valuesAt(frame)));
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
        for (const auto& [id, marks] : project.shots[i].tracks)
            for (const Mark& mark : marks)
                timeline::setMark(project.shots[i - 1].tracks[id], mark);
        project.shots.erase(project.shots.begin() + static_cast<std::ptrdiff_t>(i));
        return true;
    }
    return false;
}

void copySettings(Project& project, std::size_t from, std::size_t to, const ShotParts& parts)
{
    if (from == to) return;
    const Shot source = project.shots[from];
    const int by = project.framesOf(to).first - project.framesOf(from).first;
    Shot& target = project.shots[to];
    Settings& settings = target.settings;
    if (parts.reading) settings.reading = source.settings.reading;
    if (parts.lens) {
        settings.fStop = source.settings.fStop;
        settings.focalLengthMm = source.settings.focalLengthMm;
        settings.sensorWidthMm = source.settings.sensorWidthMm;
        settings.acceptedCocMm = source.settings.acceptedCocMm;
        settings.simpleLens = source.settings.simpleLens;
        settings.blur.strength = source.settings.blur.strength;
        settings.blur.limitNearPx = source.settings.blur.limitNearPx;
        settings.blur.limitFarPx = source.settings.blur.limitFarPx;
    }
    if (parts.focus) {
        settings.focusDistance = source.settings.focusDistance;
        settings.blur.heldNear = source.settings.blur.heldNear;
        settings.blur.heldFar = source.settings.blur.heldFar;
    }
    if (parts.iris) {
        settings.iris = source.settings.iris;
        settings.irisPicture = source.settings.irisPicture;
        settings.glint = source.settings.glint;
    }
    if (parts.repair) {
        settings.frameEdge = source.settings.frameEdge;
        settings.mattesAtEdges = source.settings.mattesAtEdges;
    }
    Tracks tracks;
    for (const SettingInfo& info : allSettings()) {
        const Shot& shot = isOf(info.id, parts) ? source : target;
        const auto track = shot.tracks.find(info.id);
        if (track == shot.tracks.end()) continue;
        Marks marks = &shot == &target ? track->second
                                       : movedInto(project, info.id, track->second, by, project.framesOf(to));
        if (!marks.empty()) tracks[info.id] = std::move(marks);
    }
    target.tracks = std::move(tracks);
}

} // namespace retinex::project
