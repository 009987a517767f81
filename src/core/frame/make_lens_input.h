#pragma once

#include "core/defocus/defocus.h"
#include "core/defocus/lens_input.h"
#include "core/frame/purpose.h"
#include "core/passes/pass_source.h"

/// Fifth stage: all that goes through the lens is put together: the frame with what its files hold beyond it,
/// what is laid in, what mattes say at edges, what other frames show of what this one hides.
namespace retinex::frame {

/// What goes through the lens at full size, and how.
struct LensReady
{
    defocus::LensInput input;
    defocus::LensSettings settings;
};
/// Of a frame after lay_in. Other frames that should have been looked at and could not be are added to
/// `unreadable`. Throws Error naming the file where a matte cannot be read, or Cancelled.
[[nodiscard]] LensReady makeLensInput(const passes::PassSource& source, const Project& project, int frame,
                                      const passes::FramePassesPtr& passes, const Run& run,
                                      std::vector<int>* unreadable = nullptr);
/// The same at 1/divisor of the size, for a coarse picture: without mattes and other frames.
[[nodiscard]] LensReady makeReducedLensInput(const passes::PassSource& source, const Project& project,
                                             int frame, int divisor, const passes::FramePassesPtr& full,
                                             const Run& run);

} // namespace retinex::frame
