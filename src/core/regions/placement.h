#pragma once

#include "core/regions/region.h"

#include <array>
#include <functional>
#include <optional>

/// Where a region lies on a frame.
namespace retinex::regions {

/// A projective map of the plane: (x, y, 1) times the matrix, divided by the third number.
class Homography
{
public:
    Homography() = default; ///< nothing moves
    explicit Homography(const std::array<double, 9>& rows) : m_rows(rows) {}
    static Homography shift(double x, double y) { return Homography({1, 0, x, 0, 1, y, 0, 0, 1}); }
    /// Turn (counter-clockwise as seen, y being down) and size about a place.
    static Homography about(const Point& middle, double turnDeg, double size);
    /// Of two places: shift, turn and size.
    static Homography ofTwo(const std::array<Point, 2>& from, const std::array<Point, 2>& to);
    /// Of four: the only one that takes each to each (the 8 equations of Hartley and Zisserman, "Multiple
    /// View Geometry", 4.1). Nothing where three of them lie in one line.
    static std::optional<Homography> ofFour(const std::array<Point, 4>& from, const std::array<Point, 4>& to);

    [[nodiscard]] Point operator()(const Point& point) const noexcept;
    /// First `other`, then this one.
    [[nodiscard]] Homography after(const Homography& other) const noexcept;
    /// Back again; nothing where it lays all onto a line.
    [[nodiscard]] std::optional<Homography> inverse() const noexcept;
    /// How many times longer short lines become at a place, in the mean of directions.
    [[nodiscard]] double sizeAt(const Point& point) const noexcept;
    [[nodiscard]] const std::array<double, 9>& rows() const noexcept { return m_rows; }

private:
    std::array<double, 9> m_rows{1, 0, 0, 0, 1, 0, 0, 0, 1};
};

/// Where a subject is seen on a frame; nothing where that is not known.
using PlaceOf = std::function<std::optional<Point>(const std::string& subject, int frame)>;

/// A piece as it lies on a frame.
struct PlacedPiece
{
    const Piece* piece = nullptr; ///< of the region's area
    std::vector<Point> polygon{}; ///< of an outline: its curves as short sides
    Homography placement{};       ///< of strokes
};

/// A region with its values of a frame, laid onto it.
struct PlacedRegion
{
    Region region;
    std::vector<PlacedPiece> pieces;
    std::array<Point, 2> ramp{};
    /// What the patch puts in place, where that is known before the distances are.
    std::optional<double> distance{};
    std::vector<std::string> problems{}; ///< subjects that are not there or not seen: sentences' ends
};

/// Middle of all that is drawn; what is turned and resized is so about it.
[[nodiscard]] Point middleOf(const Area& area);
/// The points of an outline on a frame, straight on between its marks; as drawn.
[[nodiscard]] std::vector<OutlinePoint> pointsAt(const std::vector<OutlineMark>& outline, double frame);
/// Where what is drawn comes to lie.
[[nodiscard]] Homography placementOf(const Region& region, int frame, const PlaceOf& placeOf,
                                     std::vector<std::string>* problems = nullptr);
[[nodiscard]] PlacedRegion placed(const Region& region, int frame, const PlaceOf& placeOf);

} // namespace retinex::regions
