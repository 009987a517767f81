#pragma once

#include "core/base/image.h"
#include "core/base/object_shares.h"
#include "core/base/run.h"
#include "core/base/seen_behind.h"
#include "core/defocus/repair/typical_brightness.h"

#include <optional>
#include <vector>

namespace retinex::defocus {

/// One surface a pixel, as far as it is there.
struct SurfaceLayer
{
    RgbaImage colour;      ///< multiplied by evidence
    Plane<float> coverage; ///< 0..1; how much of the pixel it fills; 0 where there is none
    Plane<float> evidence; ///< > 0 where coverage is; how much of its colour is seen rather than guessed
    Plane<float> radiusPx; ///< signed; of no meaning where coverage is 0
    bool isSparse = false; ///< few pixels have any of it

    SurfaceLayer() = default;
    /// Nothing there.
    SurfaceLayer(int width, int height)
        : colour(width, height), coverage(width, height), evidence(width, height), radiusPx(width, height)
    {
    }

    /// Of a fresh layer: that there will be little of it, and of all that is laid out along with it.
    void expectFewWritten() noexcept
    {
        isSparse = true;
        for (int c = 0; c < RgbaImage::channels; ++c)
            colour.plane(c).expectFewWritten();
        for (Plane<float>* plane : {&coverage, &evidence, &radiusPx})
            plane->expectFewWritten();
    }
};

/// How much of a guessed colour counts as seen: in front of the focal plane, and from it back, where what is
/// seen and what is guessed of a surface need not be told apart again (addWithinBudget).
inline constexpr float kGuessEvidence = 0.1F;
inline constexpr float kGuessEvidenceBack = 0.4F;

/// How much what another frame shows of a surface counts as seen.
inline constexpr float kSeenEvidence = 0.8F;

inline float guessEvidence(float radiusPx)
{
    return radiusPx < 0.0F ? kGuessEvidence : kGuessEvidenceBack;
}

/// The picture taken apart into what each pixel shows and what lies hidden behind it.
struct Surfaces
{
    SurfaceLayer visible; ///< the near one where a pixel mixes two; coverage is its share of the pixel
    SurfaceLayer hidden;  ///< what goes on behind, within reach of the blur
    std::vector<SurfaceLayer> between; ///< of deep pictures: what lies between the two
    bool isAssembled = false;          ///< pictures are laid in among them, sorted by radius (add_layers.h)
    std::optional<SurfaceLayer> third; ///< all of it guessed: what goes on behind several things
};

/// What is known, from elsewhere, of what lies behind the visible surface.
struct KnownBehind
{
    const SeenBehind* seen = nullptr;       ///< null: nothing
    const Plane<float>* radiusPx = nullptr; ///< of seen->distance
};

/// The key (scene_key.h) of a picture that edge repair is made for.
inline constexpr double kUsualKey = 0.12;

/// How what is hidden is continued: with the texture that goes on along lines, or by means alone, which is
/// quicker.
enum class HiddenFill { withTexture, plain };

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
/// against noise too, so that it should have kUsualKey.
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
