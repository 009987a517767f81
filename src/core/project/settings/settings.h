#pragma once

#include "core/defocus/defocus.h"
#include "core/depth/depth_reading.h"
#include "core/finish/finish_steps.h"
#include "core/inserts/insert.h"
#include "core/optics/iris.h"
#include "core/others/other_frames.h"
#include "core/project/settings/setting.h"
#include "core/regions/region.h"

#include <filesystem>
#include <map>

/// The settings of a shot, and their descriptions.
namespace retinex::project {

/// Plain values: how depth is read, the lens and what is done to its blur. Distances in scene units.
struct Settings
{
    depth::ReadingSettings reading;
    double fStop = 2.8;
    double focalLengthMm = 50.0;
    double sensorWidthMm = 36.0;
    optics::Framing framing = optics::Framing::rendered;
    double acceptedCocMm = 0.03; ///< 0.03 mm on a 36 mm wide sensor: common practice
    double focusDistance = 2.0;
    defocus::BlurControls blur;
    std::optional<defocus::SimpleLens> simpleLens; ///< in place of f-stop and focal length
    optics::Iris iris;
    std::filesystem::path irisPicture; ///< the file of iris.picture; empty: none
    defocus::GlintSettings glint;
    defocus::FrameEdge frameEdge = defocus::FrameEdge::continuePicture;
    others::OtherFrames otherFrames =
        others::OtherFrames::nearFrames;  ///< other frames that show what one hides
    bool mattesAtEdges = true;            ///< edge repair uses the project's mattes
    std::vector<regions::Region> regions; ///< in the order they apply in
    std::vector<inserts::Insert>
        inserts; ///< backdrop and inserts; of those at one distance the first is in front
    inserts::OpenBy openBy = inserts::OpenBy::alpha;            ///< where the scene is open for a backdrop
    std::string openMattes;                                     ///< titles of mattes, separated by ", "
    inserts::AlphaKind colourAlpha = inserts::AlphaKind::found; ///< how the colour pass goes with its alpha
    finish::Finish finish;
    std::vector<finish::Glow> glows;
    std::vector<finish::Look> looks; ///< in their order

    [[nodiscard]] optics::ThinLens lens(double millimetresPerUnit) const noexcept
    {
        return {focalLengthMm, fStop, focusDistance * millimetresPerUnit, framing};
    }
    friend bool operator==(const Settings&, const Settings&) = default;
};

/// Paths that the program names by themselves.
namespace setting {
inline constexpr std::string_view focusDistance = "focus/distance";
inline constexpr std::string_view fStop = "lens/fStop";
inline constexpr std::string_view focalLength = "lens/focalLengthMm";
inline constexpr std::string_view sensorWidth = "lens/sensorWidthMm";
inline constexpr std::string_view acceptedCoc = "lens/acceptedCocMm";
inline constexpr std::string_view framing = "lens/framing";
inline constexpr std::string_view strength = "blur/strength";
inline constexpr std::string_view heldNear = "blur/heldNear";
inline constexpr std::string_view heldFar = "blur/heldFar";
inline constexpr std::string_view limitNear = "blur/limitNearPx";
inline constexpr std::string_view limitFar = "blur/limitFarPx";
inline constexpr std::string_view simpleRadius = "lens/simple/radiusPx";
inline constexpr std::string_view simpleNearest = "lens/simple/nearest";
inline constexpr std::string_view simpleFarthest = "lens/simple/farthest";
inline constexpr std::string_view blades = "iris/blades";
inline constexpr std::string_view turn = "iris/turnDeg";
inline constexpr std::string_view rounding = "iris/rounding";
inline constexpr std::string_view squeeze = "iris/squeeze";
inline constexpr std::string_view rim = "iris/rim";
inline constexpr std::string_view centreStop = "iris/centreStop";
inline constexpr std::string_view catsEye = "iris/catsEye";
inline constexpr std::string_view irisOpening = "iris/opening";
inline constexpr std::string_view irisPicture = "iris/picture";
inline constexpr std::string_view glintLevel = "glint/level";
inline constexpr std::string_view glintLift = "glint/liftStops";
inline constexpr std::string_view nearest = "reading/nearest";
inline constexpr std::string_view farthest = "reading/farthest";
inline constexpr std::string_view storedLow = "reading/storedLow";
inline constexpr std::string_view storedHigh = "reading/storedHigh";
inline constexpr std::string_view gapPlace = "reading/gaps/place";
inline constexpr std::string_view gapDistance = "reading/gaps/distance";
inline constexpr std::string_view mattesAtEdges = "repair/mattes";
inline constexpr std::string_view finishOn = "finish/on";
inline constexpr std::string_view temperature = "finish/grade/temperatureK";
inline constexpr std::string_view tint = "finish/grade/tint";
inline constexpr std::string_view frameEdge = "repair/frameEdge";
} // namespace setting

/// In working order, which is also that of lists on screen.
/// The nearest that a lens of this focal length is focused at here, in the same unit: nothing nearer than its
/// focal length can be, and all is blurred without bound close to that.
[[nodiscard]] constexpr double nearestFocus(double focalLength) noexcept
{
    return 1.05 * focalLength;
}

[[nodiscard]] const Description<Settings>& shotSettings();
/// The same for a picture at 1/divisor of the size: what follows the size, in px, does.
void makeSmaller(Settings& settings, int divisor);

/// The description of a path that is known to be there.
[[nodiscard]] FieldPtr<Settings> infoOf(const SettingPath& path);

/// Whether the distances depend on it: the ends of the reading, and the lens for distances along the ray.
[[nodiscard]] bool isForReading(const SettingPath& path);

/// The marks of each setting that has any.
using Tracks = std::map<SettingPath, timeline::Marks>;

/// Settings with marks have the value of `frame` in the result, held to what the engine takes. `subjects`
/// says where bound focus marks are.
[[nodiscard]] Settings valuesAt(const Settings& settings, const Tracks& tracks, double frame,
                                double millimetresPerUnit, const timeline::SubjectDistance& subjects);

/// Settles what fits alone and not together (ends that cross, a focus inside the lens), with as little change
/// as can be. Returns what was wrong and what it became, a clause each.
std::vector<std::string> reconcile(Settings& settings, double millimetresPerUnit);

/// Throws Error naming the first setting that is out of its range, with what fits.
void checkRanges(const Settings& settings);

} // namespace retinex::project
