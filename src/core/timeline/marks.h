#pragma once

#include <optional>
#include <string_view>
#include <vector>

/// Marks on frames and the pulls between them.
namespace retinex::timeline {

/// How a pull leaves one mark for the next.
enum class Ease { smooth, linear, hold };
[[nodiscard]] std::string_view name(Ease ease) noexcept; ///< "smooth", "linear", "hold"
[[nodiscard]] std::optional<Ease> easeFromName(std::string_view text) noexcept;

/// A frame at which the focus distance is set.
struct Mark
{
    int frame = 0;
    double distance = 0.0;    ///< scene units, > 0; may be +inf
    Ease ease = Ease::smooth; ///< of the pull that starts here
    friend bool operator==(const Mark&, const Mark&) = default;
};

/// Marks in rising order of frame, one per frame at most.
using Marks = std::vector<Mark>;

/// The focus distance at `frame`, held before the first and after the last mark; nothing without marks.
///
/// A pull is interpolated in dioptres (1 / distance): the blur of any fixed point is linear in 1/s as long as
/// the focal length is small against s (Potmesil and Chakravarty 1981, the CoC formula), so the blur in the
/// picture changes evenly. *smooth* eases with 3 t^2 - 2 t^3.
[[nodiscard]] std::optional<double> distanceAt(const Marks& marks, double frame);

/// Adds the mark or replaces the one on its frame.
void setMark(Marks& marks, const Mark& mark);
/// Removes the mark on `frame`; false when there is none.
bool removeMark(Marks& marks, int frame);
[[nodiscard]] const Mark* markOn(const Marks& marks, int frame);

} // namespace retinex::timeline
