#pragma once

#include "core/finish/white_balance.h"

#include <OpenColorIO/OpenColorIO.h>

namespace retinex::finish {

/// A part of a grade: a matrix, or something that takes each colour by itself.
struct GradePiece
{
    Matrix matrix{};
    OCIO_NAMESPACE::ConstTransformRcPtr perColour; ///< null: the matrix
    bool isSteep = false;                          ///< of powers of 2 of the number
};

/// In their order, without those that change nothing. For this folder only, and for tests.
[[nodiscard]] std::vector<GradePiece> gradePieces(const Grade& grade);
/// All of it, one transform.
[[nodiscard]] OCIO_NAMESPACE::ConstTransformRcPtr gradeTransform(const Grade& grade);

} // namespace retinex::finish
