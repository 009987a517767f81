#pragma once

#include "core/project/settings/setting.h"

#include <span>

/// The stages that a frame passes, in order, one file each:
///
///     read_passes -> to_distances -> apply_regions -> lay_in -> make_lens_input -> through_lens ->
///     finish_frame
///
/// Whoever looks at a frame of a project (views, probe, profile, survey, subjects, the lens) looks at what
/// one of them gives. render_frame.h runs them all.
namespace retinex::frame {

class DependsOn;

/// What a stage says of itself. What its pictures depend on follows from that, and from the stages before it
/// (depends_on.h).
struct StageInfo
{
    project::Stage stage; ///< its settings are those described with it
    int version;          ///< grows with every change of what it makes of the same
    /// Its files for a frame, and whatever else is neither file nor setting: where subjects are, say.
    void (*files)(DependsOn& on);
    /// Whether it does anything to a frame; null: always.
    bool (*isUsed)(const DependsOn& on) = nullptr;
};

extern const StageInfo kReadPasses;
extern const StageInfo kToDistances;
extern const StageInfo kApplyRegions;
extern const StageInfo kLayIn;
extern const StageInfo kMakeLensInput;
extern const StageInfo kThroughLens;
extern const StageInfo kFinishFrame;

/// All of them, in order.
[[nodiscard]] std::span<const StageInfo* const> stages();

} // namespace retinex::frame
