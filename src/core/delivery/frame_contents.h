#pragma once

#include "core/frame/render_frame.h"
#include "core/project/delivery.h"

namespace retinex::delivery {

/// What a delivery asks for of a frame, before it is written.
struct FrameContents
{
    struct Channel
    {
        std::string name;
        Plane<float> values;
    };
    std::vector<Channel> channels; ///< all of one size
    bool isColour = false;         ///< the first four are R, G, B and A, multiplied by alpha
    PixelBox box;                  ///< of their pixels, px of the delivered frame
    int frameWidth = 0;
    int frameHeight = 0;
    passes::FramePassesPtr passes; ///< of the frame
    std::vector<int> unreadable;   ///< frame::FrameResult::unreadable
};

/// The words of Delivery::what. Throws Error naming one that is not known, or that does not go into the file.
[[nodiscard]] std::vector<std::string> contentsOf(const project::Delivery& delivery);

/// The colour space that its colour is written in: where it does not say, floats have the primaries that came
/// in, and the rest is for a screen. "" is scene-linear.
[[nodiscard]] std::string spaceOf(const project::Delivery& delivery, const passes::PassSource& source);

/// Renders and gathers: colour in the delivery's space, sized, with its layers. A depth map needs its ends.
/// Throws Error or Cancelled.
[[nodiscard]] FrameContents frameContents(const passes::PassSource& source,
                                          const std::shared_ptr<const project::Project>& project,
                                          const project::Delivery& delivery, int frame, const Run& run);

} // namespace retinex::delivery
