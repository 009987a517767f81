#pragma once

#include "core/timeline/marks.h"
#include "core/timeline/subject.h"

#include <functional>
#include <set>

/// What the focus desk does with marks, many at once. Chosen marks are named by their frames.
namespace retinex::timeline {

using ChosenFrames = std::set<int>;

/// How far the chosen marks can be moved when `frames` is wanted: none leaves `range`, passes or lands on a
/// mark that is not chosen. Of the wanted sign, or 0.
[[nodiscard]] int allowedShift(const Marks& marks, const ChosenFrames& chosen, int frames,
                               const FrameRange& range) noexcept;

/// Moves the chosen marks by so many frames (as allowedShift allows) and their values by `value`. Bound marks
/// keep their binding and their value. `chosen` follows.
void moveMarks(Marks& marks, ChosenFrames& chosen, int frames, const std::function<double(double)>& value);

void removeMarks(Marks& marks, const ChosenFrames& chosen);

/// Binds the chosen marks to a subject, or with "" to the distance that `distanceOn` gives for their frame.
/// The pull that leaves a mark stays as long as it was; where it is to ride on its subject until the next
/// mark, it is left by *hold*. One that is unbound is not held any more.
void bindMarks(Marks& marks, const ChosenFrames& chosen, const std::string& subject,
               const std::function<double(int frame)>& distanceOn);

/// The chosen marks alone, for pasting.
[[nodiscard]] Marks copiedMarks(const Marks& marks, const ChosenFrames& chosen);
/// Puts copies in, the first of them on `frame`; those that would lie outside of `range` are left out, marks
/// that are there already are replaced. Returns the frames they came to.
ChosenFrames pasteMarks(Marks& marks, const Marks& copies, int frame, const FrameRange& range);

struct FrameValue
{
    int frame;
    double value;
};

/// As few plain marks as it takes to follow `values` (rising frames, values > 0), straight in 1/value between
/// marks, never farther off than `tolerance` (a share of the value: 0.002 is 0.2 %) on any of the frames.
/// First and last frame have marks. (Ramer 1972, Douglas and Peucker 1973: the farthest point splits.)
[[nodiscard]] Marks thinnedMarks(const std::vector<FrameValue>& values, double tolerance);

} // namespace retinex::timeline
