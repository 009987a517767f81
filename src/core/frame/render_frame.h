#pragma once

#include "core/defocus/repair/edge_repair.h"
#include "core/finish/finish.h"
#include "core/frame/lens_pictures.h"
#include "core/image/pixel_box.h"
#include "core/project/project.h"
#include "core/system/run.h"

#include <memory>

/// All stages in order (stages.h): the one way from passes and settings to a picture; window, command line
/// and tests all go through it.
namespace retinex::frame {

struct FrameRequest
{
    std::shared_ptr<const project::Project> project; ///< an immutable snapshot; not null
    int frame = 1;
    int divisor = 1; ///< 1: full quality; N: a coarse picture at 1/N of the size
    PixelBox part{}; ///< in px of the frame: only this is computed; empty: all of it
    /// A coarse picture for a moment: the passes that come with it are those before regions, which are there.
    bool isPassing = false;
    bool isUnfinished = false; ///< as it comes through the lens
    finish::Quality quality = finish::Quality::exact;
    bool withOverscan = false;            ///< at full quality without a part: all that the files hold
    std::shared_ptr<LensPictures> kept{}; ///< where pictures through the lens are kept; null: nowhere
};

struct FrameResult
{
    RgbaImage image;               ///< finished; the part asked for, at 1/divisor
    PixelBox box;                  ///< of its pixels, px of the frame at this size
    passes::FramePassesPtr passes; ///< of the frame, full size
    /// Where it was finished and pictures are kept: what came through the lens, and where its pixels lie in
    /// the frame at this size.
    std::shared_ptr<const RgbaImage> unfinished;
    PixelBox unfinishedBox;
    std::vector<int> unreadable{}; ///< other frames that should have shown what this one hides and could not
};

/// Pure: the same request gives the same pixels, for any thread count. Throws Error or Cancelled.
[[nodiscard]] FrameResult renderFrame(const passes::PassSource& source, const FrameRequest& request,
                                      const Run& run = {});

/// What edge repair makes of a frame.
struct RepairedFrame
{
    passes::FramePassesPtr passes; ///< of the frame
    defocus::Surfaces surfaces;    ///< of all that the files hold: as large as the overscan's planes
    SeenBehindPtr seen;            ///< what of it other frames showed, as large; null: nothing
    int left = 0;                  ///< where the frame begins in them, px
    int top = 0;
};

/// The first half of renderFrame at full size, for those who want to see it. Throws likewise.
[[nodiscard]] RepairedFrame repairFrame(const passes::PassSource& source, const project::Project& project,
                                        int frame, const Run& run = {});

} // namespace retinex::frame
