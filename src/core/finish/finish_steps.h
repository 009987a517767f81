#pragma once

#include "core/inserts/insert.h"
#include "core/system/words.h"

#include <array>
#include <string>
#include <utility>
#include <vector>

/// Finish: what is done to the picture after the lens, in the order glow, fringing, vignette, grade, look,
/// grain, grain plate. Colour is scene-linear and premultiplied; alpha stays as it is.
namespace retinex::finish {

/// How light of a glow meets the picture; lighten takes the brighter one.
enum class GlowBlend { add, screen, lighten };

/// Light scattered around bright parts.
struct Glow
{
    std::string id;
    std::string name;
    bool isOn = true;
    double level = 1.0;         ///< brighter than this glows: the largest of R, G and B, scene-linear
    double softnessStops = 1.0; ///< over so many stops around the level it sets in; 0: at once
    double radius = 0.05;       ///< reach: share of the frame's width
    double tail = 0.5;          ///< 0: nearly all in the core; 1: nearly all far out
    std::array<double, 3> tint{1.0, 1.0, 1.0};
    double saturation = 1.0;
    double amount = 0.25; ///< share of the light that glows; the picture keeps its own
    GlowBlend blend = GlowBlend::add;
    std::string mattes;    ///< only what these cover glows: titles, separated by ", "; empty: all
    std::string regions;   ///< likewise, names of regions; with mattes both
    std::string unknown{}; ///< what its file held besides
    friend bool operator==(const Glow&, const Glow&) = default;
};

enum class FringeGrowth { even, square };

/// Colours set apart towards the corners: red outwards, blue inwards.
struct Fringing
{
    bool isOn = true;
    double cornerPx = 0.0; ///< of red and of blue, at the frame's corner; below 0 the other way
    FringeGrowth growth = FringeGrowth::even;
    double centreX = 0.5; ///< share of the frame's width
    double centreY = 0.5;
    friend bool operator==(const Fringing&, const Fringing&) = default;
};

struct Vignette
{
    bool isOn = true;
    double stops = 0.0;     ///< at the corner; above 0 darker
    double roundness = 0.0; ///< 0: as the frame is, 1: a circle
    double softness = 0.7;  ///< 1: from the middle on; 0: at the edge alone
    friend bool operator==(const Vignette&, const Vignette&) = default;
};

/// Factors of a range of tones: red, green, blue and all together; 1 changes nothing.
using Tones = std::array<double, 4>;
/// A curve in stops from mid grey (0.18): pairs before and after, both rising. Fewer than two points: none.
using Curve = std::vector<std::pair<double, double>>;

/// ASC Color Decision List, version 1.2: out = (in * slope + offset) ^ power, then saturation.
struct Cdl
{
    /// The numbers it works on: of the light, or ACEScct (S-2016-001).
    enum class Scale { linear, log };
    std::array<double, 3> slope{1.0, 1.0, 1.0};
    std::array<double, 3> offset{};
    std::array<double, 3> power{1.0, 1.0, 1.0};
    double saturation = 1.0;
    Scale scale = Scale::log;
    /// Changes nothing.
    [[nodiscard]] bool isNeutral() const noexcept
    {
        const Cdl none;
        return slope == none.slope && offset == none.offset && power == none.power && saturation == 1.0;
    }
    friend bool operator==(const Cdl&, const Cdl&) = default;
};

/// A light's white that comes out neutral.
struct WhiteBalance
{
    static constexpr double kNeutralK = 6504.0; ///< D65 (CIE 15)
    double temperatureK = kNeutralK;            ///< of the light in the picture
    double tint = 0.0; ///< off the daylight locus: thousandths of CIE 1960 u, v; above 0 greener light
    [[nodiscard]] bool isNeutral() const noexcept { return temperatureK == kNeutralK && tint == 0.0; }
    friend bool operator==(const WhiteBalance&, const WhiteBalance&) = default;
};

struct Grade
{
    bool isOn = true;
    double exposureStops = 0.0;
    WhiteBalance white;
    double contrast = 1.0;
    double pivot = 0.18; ///< scene-linear light that contrast leaves as it is
    double saturation = 1.0;
    Tones shadows{1.0, 1.0, 1.0, 1.0};
    Tones midtones{1.0, 1.0, 1.0, 1.0};
    Tones highlights{1.0, 1.0, 1.0, 1.0};
    Curve curve; ///< of all three colours
    Curve redCurve;
    Curve greenCurve;
    Curve blueCurve;
    Cdl cdl;
    [[nodiscard]] bool isNeutral() const
    {
        Grade none;
        none.isOn = isOn;
        none.pivot = pivot;
        none.cdl.scale = cdl.scale;
        return *this == none;
    }
    friend bool operator==(const Grade&, const Grade&) = default;
};

/// A look-up table from a file, or a look of the colour configuration.
struct Look
{
    std::string id;
    std::string name;
    bool isOn = true;
    std::string file;  ///< any that OpenColorIO reads
    std::string look;  ///< of the configuration, where there is no file
    std::string space; ///< that the file's numbers are in, before and after; "": scene-linear
    double strength = 1.0;
    std::string unknown{};
    friend bool operator==(const Look&, const Look&) = default;
};

enum class GrainKind { gaussian, uniform };

/// Noise made here, on the scale of ACEScct (S-2016-001), where a stop is 1/17.52.
struct Grain
{
    bool isOn = true;
    double amount = 0.0;   ///< standard deviation, on that scale
    double sizePx = 1.5;   ///< diameter of a grain, px of the full frame
    double softness = 0.5; ///< 0: hard-edged grains, 1: nothing but soft
    double colour = 0.3;   ///< 0: one noise for all three colours, 1: one for each
    GrainKind kind = GrainKind::gaussian;
    double shadows = 1.0; ///< share of the amount, 5 stops below mid grey and deeper
    double midtones = 1.0;
    double highlights = 0.5; ///< 3.5 stops above mid grey and higher
    int seed = 1;
    friend bool operator==(const Grain&, const Grain&) = default;
};

/// A filmed grain picture laid over.
struct GrainPlate
{
    bool isOn = true;
    std::string file;                               ///< a still or a sequence; empty: none
    std::string inputSpace;                         ///< "": by the file
    inserts::Blend blend = inserts::Blend::overlay; ///< overlay, softLight or add
    double amount = 1.0;
    double exposureStops = 0.0;
    int offset = 0; ///< frames that it begins later at
    friend bool operator==(const GrainPlate&, const GrainPlate&) = default;
};

/// The steps that are there once; glows and looks are lists of their own.
struct Finish
{
    bool isOn = true;
    double mix = 1.0; ///< 0: the unfinished picture
    bool glowIsOn = true;
    Fringing fringing;
    Vignette vignette;
    Grade grade;
    bool lookIsOn = true;
    Grain grain;
    GrainPlate plate;
    friend bool operator==(const Finish&, const Finish&) = default;
};

/// All of it, for a frame.
struct Steps
{
    Finish finish;
    std::vector<Glow> glows; ///< each of the picture as it came through the lens
    std::vector<Look> looks; ///< in their order

    /// Those that change anything, of those that have files or take other pictures (see also step.h).
    [[nodiscard]] bool hasGlow() const;
    [[nodiscard]] bool hasGrade() const;
    [[nodiscard]] bool hasLook() const;
    [[nodiscard]] bool hasPlate() const;
    /// False: the picture stays as it is.
    [[nodiscard]] bool any() const;
};

[[nodiscard]] bool isUsed(const Glow& glow);
[[nodiscard]] bool isUsed(const Look& look);

} // namespace retinex::finish

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 3> kWords<finish::GlowBlend>{"add", "screen", "lighten"};
template <>
inline constexpr std::array<std::string_view, 2> kWords<finish::FringeGrowth>{"even", "square"};
template <>
inline constexpr std::array<std::string_view, 2> kWords<finish::Cdl::Scale>{"linear", "log"};
template <>
inline constexpr std::array<std::string_view, 2> kWords<finish::GrainKind>{"gaussian", "uniform"};

} // namespace retinex
