#pragma once

#include "core/system/words.h"
#include "core/timeline/ease.h"

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Marks on frames, and the pulls between them.
namespace retinex::timeline {

// clang-format off
/// What runs evenly in a pull from a to b.
///
///   plain      the value                              turn, strength, percentages
///   ratio      its logarithm                          f-stop: as many stops a frame
///   distance   the distance                           what moves past the focal plane at even speed
///   dioptre    1 / distance                           a focus ring that is even in dioptres
///   evenBlur   the image distance v = f s / (s - f)   the blur of whatever stands still: the CoC of a point with
///                                                     the image distance w is A |v - w| / w, linear in v
///
/// Of a lens as rendered the blur of what stands still is even in 1 / distance: evenBlur with focal length 0 is
/// dioptre. So they are for a focus distance far beyond the focal length.
// clang-format on
enum class Blend { plain, ratio, distance, dioptre, evenBlur };

/// The value a share `progress` of the way from `from` to `to`. Values of all but plain are > 0, +inf
/// allowed; a way through or beyond infinity gives +inf. `focalLength` is in the unit of the distances, for
/// evenBlur. A distance that starts or ends at infinity is blended as dioptre.
[[nodiscard]] double blended(Blend blend, double from, double to, double progress,
                             double focalLength = 0.0) noexcept;

/// The inverse: how far along the way `value` lies, 0 at `from` and 1 at `to`; 0 where they are the same.
[[nodiscard]] double shareOfWay(Blend blend, double from, double to, double value,
                                double focalLength = 0.0) noexcept;

/// A frame at which a setting is set.
struct Mark
{
    int frame = 0;
    double value = 0.0; ///< in the setting's own unit; of a bound mark the last distance known
    Side arriving{};
    Side leaving{};
    /// Of the pull that starts here; for focus distances. Other settings have one way of their own.
    Blend blend = Blend::evenBlur;
    std::string
        subject{}; ///< bound: the value is this subject's distance, frame by frame; "": a plain number
    std::string unknown{}; ///< what its file holds that this version does not know, as JSON

    [[nodiscard]] bool isBound() const noexcept { return !subject.empty(); }
    friend bool operator==(const Mark&, const Mark&) = default;
};

/// Marks in rising order of frame, one per frame at most.
using Marks = std::vector<Mark>;

/// Which marks a frame lies between. Before the first and after the last mark both are that one.
struct Pull
{
    const Mark* from;
    const Mark* to;
    double progress; ///< of the way, with ease
};
/// Nothing without marks.
[[nodiscard]] std::optional<Pull> pullAt(const Marks& marks, double frame) noexcept;

/// The value of a setting at `frame`, held before the first and after the last mark; nothing without marks.
/// Bindings are not looked at.
[[nodiscard]] std::optional<double> valueAt(const Marks& marks, double frame, Blend blend) noexcept;

/// The distance of a subject at a frame, scene units; nothing where it is not known.
using SubjectDistance = std::function<std::optional<double>(const std::string& subject, double frame)>;

/// The focus distance at `frame`. Focus rides on the subject of a bound mark until the pull that starts there
/// leaves it, frame by frame; a pull between two bound marks goes from the one's present distance to the
/// other's. A bound mark whose subject is not known counts with its own value.
[[nodiscard]] std::optional<double> focusAt(const Marks& marks, double frame, double focalLength,
                                            const SubjectDistance& subjects) noexcept;

/// Adds the mark or replaces the one on its frame.
void setMark(Marks& marks, const Mark& mark);
/// A mark on `frame` that changes nothing: of the value there, and where a pull runs through, with its curve
/// in two parts. Bound where focus rides on one subject from the mark before to this frame. `value`: the
/// setting's on the frame. Does nothing where there is a mark.
void insertMark(Marks& marks, int frame, double value);
/// Removes the mark on `frame`; false when there is none.
bool removeMark(Marks& marks, int frame);
[[nodiscard]] const Mark* markOn(const Marks& marks, int frame) noexcept;

} // namespace retinex::timeline

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 5> kWords<timeline::Blend>{"plain", "ratio", "distance",
                                                                         "dioptre", "even-blur"};

} // namespace retinex
