#pragma once

#include "core/finish/canvas.h"
#include "core/finish/finish_steps.h"
#include "core/system/run.h"

#include <span>
#include <string_view>

namespace retinex::finish {

/// Exact for what is saved; for the screen looks use OpenColorIO's quicker powers and logarithms.
enum class Quality { exact, screen };

/// What the steps take besides the picture.
struct Sources
{
    int frame = 1;
    Quality quality = Quality::exact;
    std::vector<Plane<float>> glowMasks; ///< of each glow, for the frame at this size; empty: all of it
    RgbaImage plate;                     ///< of grain, for the frame at this size; empty: none
};

/// A step of the finish, told beside its pixels. A new one is that, a line in the list of them (finish.cpp)
/// and the fields of its settings (project/settings/finish_settings.cpp), which make its rows.
struct Step
{
    std::string_view key;   ///< its settings are "finish/<key>/..."
    std::string_view title; ///< on screen
    std::string_view help;
    /// Whether it is on and changes anything.
    bool (*isUsed)(const Steps& steps);
    void (*apply)(Canvas& canvas, const Steps& steps, const Sources& sources, const Run& run);
    /// The part of the frame at this size that `wanted` is made of; null: each pixel is made of itself alone.
    PixelBox (*needs)(const Steps& steps, const PixelBox& wanted, int frameWidth, int frameHeight) = nullptr;
};

extern const Step kGlow;
extern const Step kFringing;
extern const Step kVignette;
extern const Step kGrade;
extern const Step kLook; ///< where there is a grade, that does both at once
extern const Step kGrain;
extern const Step kPlate;

/// All of them, in the order they are done in. Those that need more than the pixel itself come first.
[[nodiscard]] std::span<const Step* const> allSteps();

/// Numbers that are none become 0, infinite light the largest half (65504).
void makeFinite(RgbaImage& image, const Run& run);

} // namespace retinex::finish
