#pragma once

#include "core/optics/iris.h"
#include "core/system/words.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

/// Regions: soft areas of the picture that change the blur or the distance inside them. Places are px of the
/// frame, x right, y down, pixel centres at +0.5.
namespace retinex::regions {

using optics::Point;

/// How the outline runs through a point.
enum class Turn {
    smooth, ///< along the way from the point before to the one after (Catmull and Rom, 1974)
    corner, ///< straight on to the next
    own     ///< by tangents of its own
};

struct OutlinePoint
{
    Point at;
    Turn turn = Turn::smooth;
    Point arriving{};      ///< tangent handles, from the point, px; for Turn::own
    Point leaving{};       ///< the outline between two points is a cubic Bezier curve
    std::string subject{}; ///< the point is where this subject is seen; "": where it is drawn
    friend bool operator==(const OutlinePoint&, const OutlinePoint&) = default;
};

/// An outline as it is on a frame. All of a piece have the same number of points.
struct OutlineMark
{
    int frame = 1;
    std::vector<OutlinePoint> points;
    friend bool operator==(const OutlineMark&, const OutlineMark&) = default;
};

struct StrokePoint
{
    Point at;
    float pressure = 1.0F; ///< 0..1: share of the brush's size and strength
    friend bool operator==(const StrokePoint&, const StrokePoint&) = default;
};

/// A stroke covers each pixel as its nearest place does (see brushProfile); strokes add up as paint does,
/// c + (1 - c) b, or take away, c (1 - b).
struct Stroke
{
    double radiusPx = 40.0;
    double softness = 0.5; ///< 0..1: share of the radius over which it fades
    double strength = 1.0; ///< 0..1
    bool erases = false;
    std::vector<StrokePoint> points;
    friend bool operator==(const Stroke&, const Stroke&) = default;
};

enum class PieceKind { outline, paint, mattes, span, whole };
enum class Joining { add, takeAway, intersect };

/// One piece of an area.
struct Piece
{
    PieceKind kind = PieceKind::outline;
    Joining joining = Joining::add;
    std::vector<OutlineMark> outline{}; ///< in rising order of frame; straight on between them
    std::vector<Stroke> strokes{};
    std::vector<std::string> mattes{}; ///< titles of the project's mattes
    double nearest = 1.0;              ///< of a span: scene units
    double farthest = 2.0;
    double softEnds = 0.0; ///< share of each end's distance over which it fades, outward
    std::string unknown{}; ///< what its file holds that this version does not know, as JSON
    friend bool operator==(const Piece&, const Piece&) = default;
};

/// Pieces in the order they are joined in. Shared between copies of a project, since strokes may be many.
class Area
{
public:
    Area() = default;
    explicit Area(std::vector<Piece> pieces);
    [[nodiscard]] const std::vector<Piece>& pieces() const noexcept { return *m_pieces; }
    /// Of all that is in it; equal areas have equal ones.
    [[nodiscard]] const std::string& fingerprint() const noexcept { return m_fingerprint; }
    friend bool operator==(const Area& a, const Area& b) { return a.m_fingerprint == b.m_fingerprint; }

private:
    std::shared_ptr<const std::vector<Piece>> m_pieces = std::make_shared<const std::vector<Piece>>();
    std::string m_fingerprint;
};

/// Where a patch's distance comes from.
enum class PatchKind {
    none,
    number,  ///< a distance
    subject, ///< a subject's distance
    median,  ///< of the surface under the area, on each frame or on a held one
    ramp,    ///< a plane through two places with a distance each
    offset,  ///< the distance that is there, moved
    factor   ///< times a factor
};
/// What a ramp is even in along its line. A plane in space is even in 1/distance.
enum class RampKind { reciprocal, distance };

/// A region of a shot. Its numbers may have marks.
struct Region
{
    std::string id;
    std::string name{};
    bool isOn = true;
    Area area{};
    bool inverted = false;
    double growPx = 0.0;       ///< either way
    double featherPx = 0.0;    ///< width over which the edge fades, half of it to each side
    bool followsEdges = false; ///< the faded edge is pulled onto the depth edge next to it

    // Movement of what is drawn: first the subjects', then these around the drawing's middle.
    std::string follows{}; ///< names of one, two or four subjects, separated by ", "
    int followsFrom = 1;   ///< the frame on which it lies as it is drawn
    double moveX = 0.0;    ///< px
    double moveY = 0.0;
    double turnDeg = 0.0; ///< counter-clockwise as seen
    double size = 1.0;

    // Effects.
    double share = 1.0;   ///< of the lens's blur
    double addedPx = 0.0; ///< radius
    PatchKind patch = PatchKind::none;
    bool gapsOnly = false; ///< the patch fills gaps and leaves all else
    double distance = 2.0; ///< scene units, of a number
    std::string subject{};
    bool holdsFrame = false; ///< the median is that of `heldFrame`
    int heldFrame = 1;
    RampKind ramp = RampKind::reciprocal;
    double rampX1 = 0.0; ///< px, moved like the drawing
    double rampY1 = 0.0;
    double rampDistance1 = 1.0;
    double rampX2 = 100.0;
    double rampY2 = 0.0;
    double rampDistance2 = 2.0;
    double offset = 0.0; ///< scene units
    double factor = 1.0;

    std::string unknown{}; ///< what its file holds that this version does not know, as JSON

    [[nodiscard]] bool changesBlur() const noexcept { return share != 1.0 || addedPx > 0.0; }
    friend bool operator==(const Region&, const Region&) = default;
};

/// The names in Region::follows.
[[nodiscard]] std::vector<std::string> followedSubjects(const Region& region);

} // namespace retinex::regions

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 3> kWords<regions::Turn>{"smooth", "corner", "own"};
template <>
inline constexpr std::array<std::string_view, 5> kWords<regions::PieceKind>{"outline", "paint", "mattes",
                                                                            "span", "whole"};
template <>
inline constexpr std::array<std::string_view, 3> kWords<regions::Joining>{"add", "take-away", "intersect"};
template <>
inline constexpr std::array<std::string_view, 7> kWords<regions::PatchKind>{
    "none", "number", "subject", "median", "ramp", "offset", "factor"};
template <>
inline constexpr std::array<std::string_view, 2> kWords<regions::RampKind>{"reciprocal", "distance"};

} // namespace retinex
