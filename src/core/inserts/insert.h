#pragma once

#include "core/regions/region.h"
#include "core/system/words.h"

#include <array>
#include <string>
#include <vector>

/// Other pictures in the scene: a backdrop behind it and inserts in it, each at its distance, so that they go
/// through the lens like all else. Places are px of the frame, x right, y down, pixel centres at +0.5.
namespace retinex::inserts {

using optics::Point;

/// What it shows.
enum class Content { picture, colour };
/// How it is laid into the frame.
enum class Placing {
    backdrop, ///< fitted to the frame, behind all else
    upright,  ///< a middle, a width and a turn
    corners   ///< by its four corners
};
/// How a backdrop meets the frame.
enum class Fit {
    fill,  ///< as large as needed that nothing stays open
    whole, ///< as large as goes in
    centre ///< pixel by pixel
};
/// Where its distance comes from.
enum class DistanceFrom {
    infinity,
    number,
    corners, ///< a plane: 1/distance linear over the picture, through a distance at each corner
    subject,
    surface ///< that of what lies below, moved by the offset
};
/// How colour goes with alpha in its file.
enum class AlphaKind {
    found,         ///< told from its soft pixels (see looksUnmultiplied)
    multiplied,    ///< premultiplied, as renderers write it
    notMultiplied, ///< unassociated, as most painted pictures have it
    none           ///< alpha is left aside
};
/// What a sequence does beyond its ends.
enum class Ending { hold, loop, leave };
/// W3C, "Compositing and Blending Level 1" (2015), section 9 and 10: its modes, and add, which is its
/// *lighter*; dodge and burn are its *color-dodge* and *color-burn*. Linear burn, the sum less 1, is common
/// practice.
enum class Blend {
    normal,
    multiply,
    screen,
    overlay,
    softLight,
    darken,
    lighten,
    add,
    dodge,
    burn,
    linearBurn,
    hardLight,
    colour,    ///< hue and saturation of what is above, luminosity of what is below
    luminosity ///< the other way round
};
/// The numbers that blending works on: of the light, or as they are shown (the sRGB curve, IEC 61966-2-1).
enum class BlendScale { linear, display };

/// A picture of a shot. Its numbers may have marks.
struct Insert
{
    std::string id;
    std::string name{};
    bool isOn = true;

    Content content = Content::picture;
    double red = 0.02; ///< scene-linear, of a plain colour
    double green = 0.02;
    double blue = 0.02;
    std::string file{};       ///< a still, a sequence or any one frame of it
    std::string inputSpace{}; ///< "": by the file
    AlphaKind alpha = AlphaKind::found;
    Ending ending = Ending::hold;
    int startFrame = 1;         ///< the frame of the shot on which a sequence begins
    std::string depthFile{};    ///< of a backdrop: its depth pass, read as the shot's is; "": none
    std::string depthChannel{}; ///< "": the usual one

    Placing placing = Placing::upright;
    Fit fit = Fit::fill;
    bool isMirrored = false;
    double moveX = 0.0; ///< px: of an upright one the middle's place, else a shift
    double moveY = 0.0;
    double widthPx = 400.0; ///< of an upright one
    double size = 1.0;      ///< of a backdrop, about the frame's middle
    double turnDeg = 0.0;   ///< counter-clockwise
    /// Top left, top right, bottom right, bottom left of the picture.
    std::array<Point, 4> corners{Point{100, 100}, {500, 100}, {500, 400}, {100, 400}};
    std::string follows{}; ///< one, two or four subjects, separated by ", "
    int followsFrom = 1;   ///< the frame on which it lies as placed

    DistanceFrom distanceFrom = DistanceFrom::number;
    double distance = 2.0; ///< scene units
    std::array<double, 4> cornerDistances{2.0, 2.0, 2.0, 2.0};
    std::string subject{};
    double offset = 0.0;  ///< of the surface below; towards the camera where negative
    double addedPx = 0.0; ///< radius of a blur of its own; adds as variances do

    bool isHiddenByNearer = true; ///< what is nearer stands in front
    std::string heldOutBy{};      ///< titles of mattes, separated by ", ", which stand in front as well
    regions::Area mask{};         ///< where it is to be seen; empty: all of it
    bool maskInverted = false;
    double maskFeatherPx = 0.0;

    Blend blend = Blend::normal;
    BlendScale blendScale = BlendScale::display;
    double opacity = 1.0;
    double exposureStops = 0.0;
    double saturation = 1.0;

    std::string unknown{}; ///< what its file holds that this version does not know, as JSON

    [[nodiscard]] bool isBackdrop() const noexcept { return placing == Placing::backdrop; }
    /// Whether it lies on what is below, with that one's distance: it goes into its light.
    [[nodiscard]] bool isOnSurface() const noexcept
    {
        return !isBackdrop() &&
               (blend != Blend::normal || (distanceFrom == DistanceFrom::surface && offset == 0.0));
    }
    friend bool operator==(const Insert&, const Insert&) = default;
};

/// Where a scene is open for a backdrop.
enum class OpenBy {
    alpha,
    gaps,  ///< where depth has a gap
    mattes ///< where none of the named mattes is
};

} // namespace retinex::inserts

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 2> kWords<inserts::Content>{"picture", "colour"};
template <>
inline constexpr std::array<std::string_view, 3> kWords<inserts::Placing>{"backdrop", "upright", "corners"};
template <>
inline constexpr std::array<std::string_view, 3> kWords<inserts::Fit>{"fill", "whole", "centre"};
template <>
inline constexpr std::array<std::string_view, 5> kWords<inserts::DistanceFrom>{
    "infinity", "number", "corners", "subject", "surface"};
template <>
inline constexpr std::array<std::string_view, 4> kWords<inserts::AlphaKind>{"found", "multiplied",
                                                                            "not multiplied", "none"};
template <>
inline constexpr std::array<std::string_view, 3> kWords<inserts::Ending>{"hold", "loop", "leave"};
template <>
inline constexpr std::array<std::string_view, 14> kWords<inserts::Blend>{
    "normal", "multiply", "screen", "overlay",     "soft light", "darken", "lighten",
    "add",    "dodge",    "burn",   "linear burn", "hard light", "colour", "luminosity"};
template <>
inline constexpr std::array<std::string_view, 2> kWords<inserts::BlendScale>{"linear", "display"};
template <>
inline constexpr std::array<std::string_view, 3> kWords<inserts::OpenBy>{"alpha", "gaps", "mattes"};

} // namespace retinex
