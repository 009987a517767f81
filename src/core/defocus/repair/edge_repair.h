#pragma once

#include "core/defocus/surfaces/surfaces.h"
#include "core/defocus/surfaces/typical_brightness.h"
#include "core/image/object_shares.h"
#include "core/system/run.h"

namespace retinex::defocus {

/// Edge repair. Two things that a single depth per pixel does not tell are estimated from the neighbourhood:
///
/// *Unmixing*: an anti-aliased pixel on a depth edge holds the light of two surfaces under one depth. The
/// near and the far surface's colours are taken from the clean pixels beside it, the share of each from where
/// its colour (and alpha) lies on the line between the two, and each share is given its own radius. In a
/// picture with no blur the parts add up to the pixel again.
///
/// *Uncovering*: a blurred foreground, or a blurred background beside a sharp one, shows what lies behind the
/// foreground's rim. The far surface is continued under the near one, ring by ring from the edge, as far as
/// the two blurs together reach.
///
/// An edge is where the radii of neighbours differ by more than half a pixel: elsewhere none of this can
/// show.
///
/// `objects`, of mattes, says where known how much of a mixed pixel is whose; null without. The light of the
/// surfaces is `gain` times that of the picture: how alike two colours look is told against their alpha and
/// against noise too, so that it should have kDefaultBrightness.
[[nodiscard]] Surfaces repairEdges(const RgbaImage& colour, const Plane<float>& radiusPx,
                                   const ObjectShares* objects, const Run& run,
                                   HiddenFill fill = HiddenFill::withTexture, float gain = 1.0F,
                                   const KnownBehind& known = {});

/// The second half of it alone, for surfaces that come taken apart: continues `hidden` from where it is
/// there, where its colour is not multiplied by evidence yet; that is done here too.
void continueHidden(Surfaces& surfaces, const TypicalBrightness& typical, const Run& run,
                    HiddenFill fill = HiddenFill::withTexture, const KnownBehind& known = {},
                    float gain = 1.0F);

} // namespace retinex::defocus
