#include "core/timeline/mark_edits.h"

#include <algorithm>
#include <cmath>

namespace retinex::timeline {

int allowedShift(const Marks& marks, const ChosenFrames& chosen, int frames, const FrameRange& range) noexcept
{
    int least = range.first - range.last - 1;
    int most = -least;
    for (std::size_t i = 0; i < marks.size(); ++i) {
        if (!chosen.contains(marks[i].frame)) continue;
        const int frame = marks[i].frame;
        least = std::max(least, range.first - frame);
        most = std::min(most, range.last - frame);
        if (i > 0 && !chosen.contains(marks[i - 1].frame))
            least = std::max(least, marks[i - 1].frame + 1 - frame);
        if (i + 1 < marks.size() && !chosen.contains(marks[i + 1].frame))
            most = std::min(most, marks[i + 1].frame - 1 - frame);
    }
    if (frames < 0) return std::min(0, std::max(frames, least));
    return std::max(0, std::min(frames, most));
}

void moveMarks(Marks& marks, ChosenFrames& chosen, int frames, const std::function<double(double)>& value)
{
    ChosenFrames moved;
    for (Mark& mark : marks) {
        if (!chosen.contains(mark.frame)) continue;
        mark.frame += frames;
        if (!mark.isBound()) mark.value = value(mark.value);
        moved.insert(mark.frame);
    }
    chosen = std::move(moved);
}

void removeMarks(Marks& marks, const ChosenFrames& chosen)
{
    std::erase_if(marks, [&](const Mark& mark) { return chosen.contains(mark.frame); });
}

void bindMarks(Marks& marks, const ChosenFrames& chosen, const std::string& subject,
               const std::function<double(int frame)>& distanceOn)
{
    for (Mark& mark : marks) {
        if (!chosen.contains(mark.frame)) continue;
        mark.value = distanceOn(mark.frame);
        mark.subject = subject;
        if (subject.empty() && mark.leaving.ease == Ease::hold) mark.leaving = Ease::smooth;
    }
}

Marks copiedMarks(const Marks& marks, const ChosenFrames& chosen)
{
    Marks copies;
    std::copy_if(marks.begin(), marks.end(), std::back_inserter(copies),
                 [&](const Mark& mark) { return chosen.contains(mark.frame); });
    return copies;
}

ChosenFrames pasteMarks(Marks& marks, const Marks& copies, int frame, const FrameRange& range)
{
    ChosenFrames pasted;
    for (Mark mark : copies) {
        mark.frame += frame - copies.front().frame;
        if (!range.contains(mark.frame)) continue;
        pasted.insert(mark.frame);
        setMark(marks, mark);
    }
    return pasted;
}

namespace {

/// Adds to `kept` what is needed between two kept values.
void split(const std::vector<FrameValue>& values, std::size_t first, std::size_t last, double tolerance,
           std::vector<bool>& kept)
{
    double farthest = tolerance;
    std::size_t at = 0;
    for (std::size_t i = first + 1; i < last; ++i) {
        const double t = static_cast<double>(values[i].frame - values[first].frame) /
                         (values[last].frame - values[first].frame);
        const double straight = blended(Blend::dioptre, values[first].value, values[last].value, t);
        const double off = std::abs(straight - values[i].value) / values[i].value;
        if (off > farthest) {
            farthest = off;
            at = i;
        }
    }
    if (at == 0) return;
    kept[at] = true;
    split(values, first, at, tolerance, kept);
    split(values, at, last, tolerance, kept);
}

} // namespace

Marks thinnedMarks(const std::vector<FrameValue>& values, double tolerance)
{
    if (values.empty()) return {};
    std::vector<bool> kept(values.size(), false);
    kept.front() = kept.back() = true;
    split(values, 0, values.size() - 1, tolerance, kept);
    Marks marks;
    for (std::size_t i = 0; i < values.size(); ++i)
        if (kept[i])
            marks.push_back({values[i].frame, values[i].value, Ease::linear, Ease::linear, Blend::dioptre});
    return marks;
}

} // namespace retinex::timeline
