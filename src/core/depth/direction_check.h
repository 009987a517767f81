#pragma once

#include "core/image/image.h"

#include <cstdint>
#include <string>
#include <vector>

/// Which way round a depth pass runs, read from the picture of it alone, whatever its formula.
namespace retinex::depth {

/// What speaks at one place. The larger the number the farther: agrees; otherwise it speaks against.
struct DirectionSign
{
    enum class Kind {
        bend,  ///< at an edge, the side that bends away towards the other is the rounded thing in front
        strip, ///< a thin strip before a surface that goes on on both its sides lies in front of it
    };
    int x = 0;
    int y = 0;
    Kind kind = Kind::bend;
    bool largerIsFarther = true;
};

/// Shares from -1 (larger numbers are nearer for certain) to 1 (larger numbers are farther).
struct DirectionEvidence
{
    double bends = 0.0;
    double strips = 0.0;
    double ground = 0.0; ///< the lower part of the picture is nearer: common practice, not a law
    double straight =
        0.0; ///< from the pole of flat surfaces (straight_lines.h); 0 where s runs straight itself
    double straightShare = 0.0; ///< share of the votes that the pole rests on
    std::size_t bendCount = 0;
    std::size_t stripCount = 0;
    std::vector<DirectionSign> signs; ///< at most 4000, spread over the picture

    /// All of it weighed together, -1 to 1, and in words.
    [[nodiscard]] double verdict() const noexcept;
    /// Distances that seem to run the wrong way. Without flat surfaces to go by, edges must be nearly of one
    /// mind: fields of blades and the like mislead them.
    [[nodiscard]] bool seemsExchanged() const noexcept;
    [[nodiscard]] std::vector<std::string> reasons() const;
    /// What speaks for near and far being exchanged, when the numbers are distances.
    [[nodiscard]] std::vector<std::string> reasonsForExchange() const;
};

/// `quantum` as in poleVotes.
[[nodiscard]] DirectionEvidence directionOf(const Plane<float>& numbers, const Plane<std::uint8_t>& gaps,
                                            double quantum);

} // namespace retinex::depth
