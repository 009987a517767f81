#include "core/project/settings.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace retinex::project {

namespace {

using timeline::Blend;
constexpr double kInfinity = std::numeric_limits<double>::infinity();

/// Get and set of a plain field, named from the settings on.
#define RETINEX_FIELD(field)                                                                                 \
    [](const Settings& s) { return static_cast<double>(s.field); },                                          \
        [](Settings& s, double value) { s.field = static_cast<decltype(s.field)>(value); }

constexpr std::array<SettingInfo, 22> kSettings{{
    {SettingId::focusDistance, "focusDistance", "focus distance", Blend::evenBlur, 1e-9, kInfinity, false,
     RETINEX_FIELD(focusDistance)},
    {SettingId::fStop, "fStop", "f-stop", Blend::ratio, 0.1, 128.0, false, RETINEX_FIELD(fStop)},
    {SettingId::focalLength, "focalLength", "focal length", Blend::ratio, 1.0, 5000.0, false,
     RETINEX_FIELD(focalLengthMm)},
    {SettingId::strength, "strength", "strength", Blend::plain, 0.0, 2.0, false,
     RETINEX_FIELD(blur.strength)},
    {SettingId::heldNear, "heldNear", "held zone in front", Blend::plain, 0.0, 1e9, false,
     RETINEX_FIELD(blur.heldNear)},
    {SettingId::heldFar, "heldFar", "held zone behind", Blend::plain, 0.0, 1e9, false,
     RETINEX_FIELD(blur.heldFar)},
    {SettingId::limitNear, "limitNear", "blur limit, near", Blend::plain, 0.0, 2000.0, false,
     RETINEX_FIELD(blur.limitNearPx)},
    {SettingId::limitFar, "limitFar", "blur limit, far", Blend::plain, 0.0, 2000.0, false,
     RETINEX_FIELD(blur.limitFarPx)},
    {SettingId::simpleRadius, "simpleRadius", "radius at the far end", Blend::plain, 0.0, 2000.0, false,
     [](const Settings& s) { return s.simpleLens ? s.simpleLens->radiusPx : 0.0; },
     [](Settings& s, double value) {
         if (s.simpleLens) s.simpleLens->radiusPx = value;
     }},
    {SettingId::blades, "blades", "blades", Blend::plain, 0.0, 16.0, true,
     [](const Settings& s) { return static_cast<double>(s.iris.blades); },
     // One or two blades enclose nothing: on the way to or from a circle they count as one.
     [](Settings& s, double value) { s.iris.blades = value < 3.0 ? 0 : static_cast<int>(value); }},
    {SettingId::turn, "turn", "turn", Blend::plain, -360.0, 360.0, false, RETINEX_FIELD(iris.turnDeg)},
    {SettingId::rounding, "rounding", "rounding", Blend::plain, 0.0, 1.0, false,
     RETINEX_FIELD(iris.rounding)},
    {SettingId::squeeze, "squeeze", "squeeze", Blend::ratio, 0.5, 2.0, false, RETINEX_FIELD(iris.squeeze)},
    {SettingId::rim, "rim", "rim", Blend::plain, -1.0, 1.0, false, RETINEX_FIELD(iris.rim)},
    {SettingId::centreStop, "centreStop", "centre stop", Blend::plain, 0.0, 0.95, false,
     RETINEX_FIELD(iris.centreStop)},
    {SettingId::catsEye, "catsEye", "cat's eye", Blend::plain, 0.0, 1.0, false, RETINEX_FIELD(iris.catsEye)},
    {SettingId::glintLevel, "glintLevel", "glint level", Blend::plain, 1e-6, 1e6, false,
     RETINEX_FIELD(glint.level)},
    {SettingId::glintLift, "glintLift", "glint lift", Blend::plain, 0.0, 16.0, false,
     RETINEX_FIELD(glint.liftStops)},
    {SettingId::nearest, "nearest", "nearest", Blend::plain, 1e-9, 1e12, false,
     [](const Settings& s) { return s.reading.nearest; },
     [](Settings& s, double value) { s.reading.nearest = value; }},
    {SettingId::farthest, "farthest", "farthest", Blend::plain, 1e-9, kInfinity, false,
     [](const Settings& s) { return s.reading.farthest; },
     [](Settings& s, double value) { s.reading.farthest = value; }},
    {SettingId::storedLow, "storedLow", "stored number, low", Blend::plain, -1e12, 1e12, false,
     RETINEX_FIELD(reading.storedLow)},
    {SettingId::storedHigh, "storedHigh", "stored number, high", Blend::plain, -1e12, 1e12, false,
     RETINEX_FIELD(reading.storedHigh)},
}};
#undef RETINEX_FIELD

} // namespace

std::span<const SettingInfo> allSettings() noexcept
{
    return kSettings;
}

std::span<const SettingId> readingSettings() noexcept
{
    static constexpr SettingId ids[] = {SettingId::nearest, SettingId::farthest, SettingId::storedLow,
                                        SettingId::storedHigh, SettingId::focalLength};
    return ids;
}

const SettingInfo& infoOf(SettingId id) noexcept
{
    return kSettings[static_cast<std::size_t>(id)];
}

std::optional<SettingId> settingFromKey(std::string_view key) noexcept
{
    const auto it = std::find_if(kSettings.begin(), kSettings.end(),
                                 [&](const SettingInfo& info) { return info.key == key; });
    if (it == kSettings.end()) return std::nullopt;
    return it->id;
}

Settings valuesAt(const Settings& settings, const Tracks& tracks, double frame, double millimetresPerUnit,
                  const timeline::SubjectDistance& subjects)
{
    Settings values = settings;
    for (const auto& [id, marks] : tracks) {
        if (id == SettingId::focusDistance) continue; // needs the focal length of the frame
        const SettingInfo& info = infoOf(id);
        auto value = timeline::valueAt(marks, frame, info.blend);
        if (!value) continue;
        if (info.isWhole) value = std::round(*value);
        info.set(values, std::clamp(*value, info.minimum, info.maximum));
    }
    const auto focus = tracks.find(SettingId::focusDistance);
    if (focus == tracks.end()) return values;
    if (const auto distance =
            timeline::focusAt(focus->second, frame, values.focalLengthMm / millimetresPerUnit, subjects))
        // A subject may come closer than a lens can focus: just beyond the focal length is the nearest it
        // can.
        values.focusDistance = std::max(*distance, 1.05 * values.focalLengthMm / millimetresPerUnit);
    return values;
}

} // namespace retinex::project
