#pragma once

#include "core/optics/iris.h"
#include "core/system/shared_list.h"
#include "core/system/words.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Subjects: named points to hold focus on. Places are px of the frame, x right, y down, pixel centres at
/// +0.5.
namespace retinex::timeline {

/// Frames `first` to `last`, both counted. Subjects are followed within a shot, never across a cut.
struct FrameRange
{
    int first = 1;
    int last = 1;
    [[nodiscard]] bool contains(double frame) const noexcept { return frame >= first && frame <= last; }
    friend bool operator==(const FrameRange&, const FrameRange&) = default;
};

/// Where a subject is seen: placed by hand, or found by tracking.
struct Place
{
    int frame = 0;
    double x = 0.0;
    double y = 0.0;
    double confidence = 1.0; ///< 0..1; 1 where placed by hand
    friend bool operator==(const Place&, const Place&) = default;
};

/// What is known of a subject's distance on a frame.
enum class Sight : std::uint8_t {
    measured,  ///< read from the depth pass, or computed from the scene
    bridged,   ///< hidden by something nearer; from before and after
    hidden,    ///< hidden, and to be reported: the last distance stands
    notTracked ///< the subject has no place here: tracking has not come so far, or has lost it
};

struct Sample
{
    int frame = 0;
    double distance = 0.0; ///< scene units, > 0
    Sight sight = Sight::measured;
    friend bool operator==(const Sample&, const Sample&) = default;
};

struct Subject
{
    std::string name;
    std::string scenePoint{};    ///< a named point of the scene file; "": seen in the picture
    std::vector<Place> places{}; ///< set by hand, in rising order of frame
    SharedList<Place> tracked{}; ///< found between and beyond those, in rising order of frame
    double radiusPx = 6.0;       ///< of the disc whose surface is measured
    std::vector<optics::Point>
        outline{};                ///< corners around the place in px, in place of the disc; empty: disc
    std::string region{};         ///< measured over the area of the region with this name, in each shot that
                                  ///< has one; "": where it is seen
    bool bridgesHidden = true;    ///< hidden frames are bridged; otherwise reported
    SharedList<Sample> samples{}; ///< its distance, in rising order of frame
    std::string measuredAs{};     ///< what the samples were measured from; see frame::subjectFingerprint
    std::string unknown{};        ///< what its file holds that this version does not know, as JSON

    friend bool operator==(const Subject&, const Subject&) = default;
};

/// Where a subject is on a frame: set by hand, else tracked, else on the straight way between its places
/// within `shot`; before the first and after the last of them it stays. Nothing where the shot has no place.
[[nodiscard]] std::optional<Place> placeAt(const Subject& subject, double frame, const FrameRange& shot);

/// Its distance at a frame, between frames even in 1/distance; nothing beyond what is known.
[[nodiscard]] std::optional<double> distanceAt(const Subject& subject, double frame) noexcept;
[[nodiscard]] const Sample* sampleOn(const Subject& subject, int frame) noexcept;

/// Adds a place or replaces the one on its frame. What was tracked stays: a new place corrects it there.
void setPlace(Subject& subject, const Place& place);
/// `first` to `last` of what was tracked is replaced by `found` (may be empty).
void replaceTracked(Subject& subject, const FrameRange& range, const std::vector<Place>& found);

} // namespace retinex::timeline

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 4> kWords<timeline::Sight>{"measured", "bridged", "hidden",
                                                                         "not tracked"};

} // namespace retinex
