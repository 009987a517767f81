#include "core/delivery/frame_list.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <charconv>
#include <set>

namespace retinex::delivery {

namespace {

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && text.front() == ' ')
        text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ')
        text.remove_suffix(1);
    return text;
}

/// Takes a whole number off the front.
bool takeNumber(std::string_view& text, int& number)
{
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), number);
    if (code != std::errc()) return false;
    text.remove_prefix(static_cast<std::size_t>(end - text.data()));
    return true;
}

void addRange(std::string_view part, const project::Project& project, std::set<int>& frames)
{
    const auto wrong = [part]() -> Error {
        return Error(
            say("\"{}\" is no list of frames. Write 1-24, 30, 40-48x2, shot NAME, in-out or marks.", part));
    };
    std::string_view rest = part;
    int first = 0;
    if (!takeNumber(rest, first)) throw wrong();
    int last = first;
    int step = 1;
    if (rest.starts_with('-')) {
        rest.remove_prefix(1);
        if (!takeNumber(rest, last)) throw wrong();
    }
    if (rest.starts_with('x')) {
        rest.remove_prefix(1);
        if (!takeNumber(rest, step)) throw wrong();
    }
    if (!rest.empty() || step < 1) throw wrong();
    if (first > last) throw Error(say("\"{}\" ends before it begins.", part));
    if (first < project.firstFrame || last > project.lastFrame)
        throw Error(
            say("\"{}\": the project has frames {} to {}.", part, project.firstFrame, project.lastFrame));
    for (long long frame = first; frame <= last; frame += step)
        frames.insert(static_cast<int>(frame));
}

void addShot(std::string_view name, const project::Project& project, std::set<int>& frames)
{
    bool isFound = false;
    for (std::size_t i = 0; i < project.shots.size(); ++i) {
        if (project.shots[i].name != name && std::to_string(i + 1) != name) continue;
        isFound = true;
        const timeline::FrameRange range = project.framesOf(i);
        for (int frame = range.first; frame <= range.last; ++frame)
            frames.insert(frame);
        break;
    }
    if (!isFound) throw Error(say("There is no shot \"{}\".", name));
}

} // namespace

std::vector<int> framesIn(const std::string& list, const project::Project& project)
{
    std::set<int> frames;
    std::string_view rest = trimmed(list);
    if (rest.empty())
        for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame)
            frames.insert(frame);
    while (!rest.empty()) {
        const std::size_t end = std::min(rest.find(','), rest.size());
        const std::string_view part = trimmed(rest.substr(0, end));
        rest.remove_prefix(std::min(end + 1, rest.size()));
        if (part == "marks") {
            for (const project::Shot& shot : project.shots)
                for (const auto& track : shot.tracks)
                    for (const timeline::Mark& mark : track.second)
                        if (mark.frame >= project.firstFrame && mark.frame <= project.lastFrame)
                            frames.insert(mark.frame);
        } else if (part == "in-out") {
            const timeline::FrameRange played = project.playedFrames();
            for (int frame = played.first; frame <= played.last; ++frame)
                frames.insert(frame);
        } else if (part.starts_with("shot ")) {
            addShot(trimmed(part.substr(5)), project, frames);
        } else {
            addRange(part, project, frames);
        }
    }
    if (frames.empty()) throw Error(say("\"{}\" names no frame of the project.", list));
    return {frames.begin(), frames.end()};
}

std::vector<int> framesOf(const Delivery& delivery, const project::Project& project)
{
    try {
        return framesIn(delivery.frames, project);
    } catch (const Error& error) {
        throw Error(say("The frames of the delivery \"{}\": {}", delivery.name, error.what()));
    }
}

} // namespace retinex::delivery
