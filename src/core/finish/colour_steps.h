#pragma once

#include "core/finish/step.h"

#include <filesystem>
#include <memory>

/// Grade and looks, by OpenColorIO: white balance (MatrixTransform), exposure and contrast
/// (GradingPrimaryTransform, linear style), saturation (a matrix), shadows, midtones and
/// highlights (GradingToneTransform, linear), curves (GradingRGBCurveTransform, linear: its points are stops
/// from 0.18), CDLTransform without clamping, all of them through tables
/// (see grade_tables.h); looks by FileTransform or LookTransform.
namespace retinex::finish {

/// Made once for settings, used for many frames. Immutable and thread-safe.
class ColourSteps
{
public:
    /// The last ones are kept. Throws Error naming the look file, or the look or the space that the
    /// configuration does not have, or the curve whose points do not rise.
    [[nodiscard]] static std::shared_ptr<const ColourSteps> make(const Steps& steps, Quality quality);

    ColourSteps();
    ~ColourSteps();
    ColourSteps(const ColourSteps&) = delete;
    ColourSteps& operator=(const ColourSteps&) = delete;

    /// In place. What is half transparent is divided by its alpha meanwhile; where alpha is 0 light stays
    /// over black: what the steps make of black is taken off again.
    void apply(Canvas& canvas, const Run& run) const;
    /// Of one colour, not multiplied.
    [[nodiscard]] std::array<float, 3> applied(const std::array<float, 3>& rgb) const;

private:
    struct Impl;
    std::unique_ptr<Impl> m_impl;
};

/// Throws Error naming a curve whose points do not rise from one to the next.
void checkCurves(const Grade& grade);

/// A CDL from a `.cc`, `.ccc` (its first, or that named `id`) or `.cdl` file. Throws Error naming the file.
[[nodiscard]] Cdl readCdl(const std::filesystem::path& file, const std::string& id = {});
/// As `.cc`, `.ccc` or `.cdl`, by the name's ending. Throws Error naming the file.
void writeCdl(const std::filesystem::path& file, const Cdl& cdl, const std::string& id);

/// Looks that the colour configuration has, by name.
[[nodiscard]] std::vector<std::string> namedLooks();
/// Endings of look files that can be read: ".cube", ...
[[nodiscard]] std::vector<std::string> lookEndings();

} // namespace retinex::finish
