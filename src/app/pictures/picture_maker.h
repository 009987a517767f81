#pragma once

#include "app/pictures/blur_picture.h"
#include "app/pictures/depth_tones.h"
#include "app/pictures/looking.h"
#include "core/colour/view_transform.h"
#include "core/frame/render_frame.h"

#include <QImage>
#include <QPoint>
#include <memory>
#include <optional>

namespace retinex::app {

/// What the picture shows. Zones shows the source; the zones themselves are laid over it by the view. In the
/// order of the view strip.
enum class ViewMode { result, source, depth, zones, blur, mattes, repair };

/// How much of a picture there is to be.
struct PictureDetail
{
    int divisor = 1;        ///< 1: every pixel; N: 1/N of the size
    PixelBox part;          ///< in px of the frame; empty: all of it
    bool isPassing = false; ///< for a moment, see frame::FrameRequest

    /// Whether this holds all that the other does.
    [[nodiscard]] bool holds(const PictureDetail& other) const noexcept
    {
        return divisor <= other.divisor &&
               (part.empty() || (!other.part.empty() && part.contains(other.part)));
    }
};

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
    Looking looking;                      ///< of views that show colour
    PictureDetail visible;                ///< what the view shows of the result: no more is computed
    std::shared_ptr<frame::LensPictures>
        lensPictures{};         ///< where pictures through the lens are kept; or null
    bool onlyViewMoved = false; ///< nothing but `visible` has changed: no coarse picture is needed
};

/// The matte that the Mattes view shows; null where the project has none.
[[nodiscard]] const passes::MatteChoice* shownMatte(const PictureRequest& request);

/// A picture ready to be drawn.
struct Picture
{
    quint64 number = 0;
    int frame = 1;
    ViewMode mode = ViewMode::result;
    PictureDetail detail; ///< of image and values
    bool isFinal = true;  ///< nothing better will follow for this request
    QImage image;
    std::shared_ptr<const RgbaImage>
        values; ///< what the image shows in scene-linear values; null for depth, blur and mattes
    std::shared_ptr<const RgbaImage>
        unfinished;         ///< of the result, where it is finished: as it came through the lens
    PixelBox unfinishedBox; ///< of its pixels, px of the frame at this size
    passes::FramePassesPtr passes;
    Looking looking;     ///< how the image shows the values
    DepthTones tones;    ///< of the Depth view
    BlurTones blurTones; ///< of the Blur view

    /// Where `values` and `image` have the pixel (x, y) of the frame; nothing where they do not.
    [[nodiscard]] std::optional<QPoint> placeOf(int x, int y) const;
};

/// Whether smaller passes show all that these hold: overscan and deep samples are left out of them.
[[nodiscard]] bool canBeReduced(const passes::FramePasses& passes);

/// Renders a request; of views other than the result always all of it. Throws Error or Cancelled.
[[nodiscard]] Picture makePicture(const PictureRequest& request, const PictureDetail& detail, const Run& run);

} // namespace retinex::app
