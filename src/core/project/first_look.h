#pragma once

#include "core/project/project.h"

/// What passes are looked at with before anybody has set anything, or when they are read otherwise than
/// before: where focus lies, how far the lens is open.
namespace retinex::project {

struct Pixel
{
    int x = 0;
    int y = 0;
    friend bool operator==(const Pixel&, const Pixel&) = default;
};

/// No first picture has a median CoC beyond this, px: it would be a smear.
constexpr double kCalmCocPx = 20.0;

/// Stops down, or changes to the simple lens where no f-stop is small enough, until the median CoC of
/// `passes` (as `settings` reads and focuses them) is calm. What is calm stays.
void calmLens(Settings& settings, const passes::FramePasses& passes, double metresPerUnit);

/// The distance of the nearest surface that takes more than a fiftieth of what is seen; nothing where all is
/// a gap.
[[nodiscard]] std::optional<double> nearestLargeSurface(const Plane<float>& distance,
                                                        const Plane<std::uint8_t>& gaps);

/// After `settings.reading` was changed from `before` (or the pass, to `raw`): ends that were proposed
/// (`rangeBefore`, or those of a grey that nobody knows) are proposed anew, and those that a person has set
/// stay; focus, where `movesFocus`, keeps to the thing at `clicked`, or else goes to the nearest large
/// surface. Looks at a thinned picture: milliseconds.
void followReading(Settings& settings, const depth::ReadingSettings& before,
                   const depth::DepthRange& rangeBefore, const passes::RawPasses& raw, double metresPerUnit,
                   const std::optional<Pixel>& clicked, bool movesFocus);

} // namespace retinex::project
