#pragma once

#include "app/jobs/blur_picture.h"
#include "app/jobs/depth_tones.h"
#include "core/colour/view_transform.h"
#include "core/delivery/frame_pipeline.h"

#include <QImage>
#include <memory>

namespace retinex::app {

/// What the picture shows. Zones shows the source; the zones themselves are laid over it by the view. In the
/// order of the view strip.
enum class ViewMode { result, source, depth, zones, blur, mattes, repair };

/// One picture as asked for: a snapshot of all it depends on.
struct PictureRequest
{
    quint64 number = 0; ///< rises with every request
    std::shared_ptr<const passes::PassSource> source;
    std::shared_ptr<const project::Project> project;
    std::shared_ptr<const colour::ViewTransform> view;
    int frame = 1;
    ViewMode mode = ViewMode::result;
    ToneScale toneScale = ToneScale::log; ///< of the Depth view
    int matte = 0;                        ///< which of the project's mattes the Mattes view shows
};

/// A picture ready to be drawn.
struct Picture
{
    quint64 number = 0;
    int frame = 1;
    ViewMode mode = ViewMode::result;
    int divisor = 1; ///< 1: final; N: coarse, 1/N of the size
    QImage image;
    std::shared_ptr<const RgbaImage>
        values; ///< what the image shows in scene-linear values; null for depth, blur and mattes
    passes::FramePassesPtr passes;
    DepthTones tones;    ///< of the Depth view
    BlurTones blurTones; ///< of the Blur view
};

/// Renders a request at 1/divisor of the size. Throws Error or Cancelled.
[[nodiscard]] Picture makePicture(const PictureRequest& request, int divisor, const Run& run);

} // namespace retinex::app
