#pragma once

#include "core/image/image.h"
#include "core/image/seen_behind.h"
#include "core/system/run.h"

#include <optional>
#include <vector>

/// What the steps of the engine hand on: a picture taken apart into surfaces.
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

/// The brightness (scene_brightness.h) of a picture that edge repair is made for.
inline constexpr double kDefaultBrightness = 0.12;

/// How what is hidden is continued: with the texture that goes on along lines, or by means alone, which is
/// quicker.
enum class HiddenFill { withTexture, plain };

} // namespace retinex::defocus
