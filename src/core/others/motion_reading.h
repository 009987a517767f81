#pragma once

#include "core/image/motion_vectors.h"
#include "core/others/solve_camera.h"

#include <optional>
#include <string>
#include <vector>

/// Motion vector passes: two channels that say where each pixel's point is in another frame.
namespace retinex::others {

/// Which frame vectors point to.
enum class VectorsTo { next, previous };
/// What they are counted in: px; shares of the width and of the height; or from -1 to 1 across either.
enum class VectorUnit { pixels, shares, halves };

/// How the numbers of a motion vector pass are meant.
struct MotionReading
{
    VectorsTo to = VectorsTo::next;
    VectorUnit unit = VectorUnit::pixels;
    bool isSwapped = false; ///< the first channel is the vertical one
    bool isLeft = false;    ///< the horizontal one counts to the left
    bool isUp = false;      ///< the vertical one counts upwards

    /// "px, to the next frame", and "x counts to the right, y up."
    [[nodiscard]] std::string inWords() const;
    [[nodiscard]] std::string axesInWords() const;
    /// From two numbers to px, x to the right and y down.
    [[nodiscard]] std::array<double, 2> px(float first, float second, int width, int height) const noexcept;
    friend bool operator==(const MotionReading&, const MotionReading&) = default;
};

struct MotionProposal
{
    MotionReading reading;
    double agrees = 0.0; ///< share of what it was told from that looks alike where the vectors lead
    std::vector<std::string> reasons;

    /// Below, vectors are not used.
    static constexpr double kLeast = 0.6;
};

/// What vectors mean, told by what is where they lead: of all ways of reading them the one by which the other
/// frame looks most like this one. `next` and `previous` are the neighbours' colour; null: there is none.
/// Nothing where nothing moves, or too little is seen to tell.
[[nodiscard]] std::optional<MotionProposal> proposeMotion(const RgbaImage& colour,
                                                          const MotionVectors& vectors, const RgbaImage* next,
                                                          const RgbaImage* previous);

/// The points that vectors follow, a thousand or so spread over the frame, away from where surfaces meet.
[[nodiscard]] std::vector<Match> vectorMatches(const MotionVectors& vectors, const Plane<float>& distance,
                                               const MotionReading& reading);

} // namespace retinex::others
