#pragma once

#include "core/defocus/defocus.h"
#include "core/depth/depth_reading.h"
#include "core/optics/iris.h"
#include "core/timeline/marks.h"

#include <filesystem>
#include <map>
#include <span>

/// The settings of a shot, and which of them may have marks.
namespace retinex::project {

/// Plain values: how depth is read, the lens and what is done to its blur. Distances in scene units.
struct Settings
{
    depth::ReadingSettings reading;
    double fStop = 2.8;
    double focalLengthMm = 50.0;
    double sensorWidthMm = 36.0;
    double acceptedCocMm = 0.03; ///< 0.03 mm on a 36 mm wide sensor: common practice
    double focusDistance = 2.0;
    defocus::BlurControls blur;
    std::optional<defocus::SimpleLens> simpleLens; ///< in place of f-stop and focal length
    optics::Iris iris;
    std::filesystem::path irisPicture; ///< the file of iris.picture; empty: none
    defocus::GlintSettings glint;
    defocus::FrameEdge frameEdge = defocus::FrameEdge::continuePicture;
    bool mattesAtEdges = true; ///< edge repair uses the project's mattes

    friend bool operator==(const Settings&, const Settings&) = default;
};

/// The settings that may have marks.
enum class SettingId {
    focusDistance,
    fStop,
    focalLength,
    strength,
    heldNear,
    heldFar,
    limitNear,
    limitFar,
    simpleRadius,
    blades,
    turn,
    rounding,
    squeeze,
    rim,
    centreStop,
    catsEye,
    glintLevel,
    glintLift,
    nearest,
    farthest,
    storedLow,
    storedHigh
};

struct SettingInfo
{
    SettingId id;
    std::string_view key;   ///< in the project file: "fStop"
    std::string_view title; ///< on screen, in a sentence: "f-stop"
    timeline::Blend blend;  ///< how values between marks come about; the focus distance's is each mark's own
    double minimum;         ///< what the engine takes
    double maximum;
    bool isWhole; ///< whole numbers only
    double (*get)(const Settings&);
    void (*set)(Settings&, double);
};
[[nodiscard]] std::span<const SettingInfo> allSettings() noexcept; ///< in the order of SettingId
[[nodiscard]] const SettingInfo& infoOf(SettingId id) noexcept;
[[nodiscard]] std::optional<SettingId> settingFromKey(std::string_view key) noexcept;

/// Those that the distances depend on: the ends of the reading, and the lens for distances along the ray.
[[nodiscard]] std::span<const SettingId> readingSettings() noexcept;

/// The marks of each setting that has any.
using Tracks = std::map<SettingId, timeline::Marks>;

/// Settings with marks have the value of `frame` in the result, held to what the engine takes. `subjects`
/// says where bound focus marks are.
[[nodiscard]] Settings valuesAt(const Settings& settings, const Tracks& tracks, double frame,
                                double millimetresPerUnit, const timeline::SubjectDistance& subjects);

} // namespace retinex::project
