#pragma once

#include "core/frame/lens_pictures.h"
#include "core/frame/purpose.h"
#include "core/image/pixel_box.h"
#include "core/passes/pass_source.h"

/// Sixth stage: the picture as the lens makes it.
namespace retinex::frame {

/// What is asked of the lens.
struct LensRequest
{
    const Project& project;
    int frame = 1;
    int divisor = 1; ///< N: a coarse picture at 1/N of the size
    PixelBox part{}; ///< px of the frame at this size, beyond it too where files hold more; empty: all
};

/// `passes` are those of the frame after lay_in, at full size. Frames that should have been looked at and
/// could not be are added to `unreadable`. Throws as makeLensInput().
[[nodiscard]] RgbaImage throughLens(const passes::PassSource& source, const LensRequest& request,
                                    const passes::FramePassesPtr& passes, const Run& run,
                                    std::vector<int>& unreadable);
/// The same, of those that are kept; made from the one of the whole frame where there is that.
[[nodiscard]] std::shared_ptr<const RgbaImage> keptThroughLens(const passes::PassSource& source,
                                                               const LensRequest& request,
                                                               const passes::FramePassesPtr& passes,
                                                               LensPictures& kept, const Run& run,
                                                               std::vector<int>& unreadable);

} // namespace retinex::frame
