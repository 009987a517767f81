#pragma once

#include "core/defocus/lens/blur_radius.h"
#include "core/image/seen_behind.h"
#include "core/others/frame_camera.h"
#include "core/system/run.h"

#include <half.h>
#include <span>

namespace retinex::others {

using HalfImage = std::array<Plane<Imath::half>, RgbaImage::channels>;

/// A frame and where it was seen from. What it points to must outlive it.
struct View
{
    const RgbaImage* colour = nullptr;
    const Plane<float>* distance = nullptr; ///< planar, scene units; +inf where nothing is
    FrameCamera camera;
    const Plane<std::uint8_t>* whole = nullptr; ///< wholePixels() of `distance`; null: it is made
    const HalfImage* half = nullptr;            ///< in place of `colour`, for what is kept longer

    [[nodiscard]] float colourAt(int channel, int x, int y) const
    {
        return half ? static_cast<float>((*half)[static_cast<std::size_t>(channel)].at(x, y))
                    : colour->plane(channel).at(x, y);
    }
};

/// 1 where a pixel and those around it show one surface.
[[nodiscard]] Plane<std::uint8_t> wholePixels(const Plane<float>& distance, const Run& run = {});

/// How a neighbour's pixels, placed in a frame by their distances, fit what that shows: where its colour
/// changes within some pixels, or where they would stand before it.
struct Agreement
{
    double agrees = 0.0; ///< share of those pixels that fit, the median of parts of the picture
    int placed = 0;      ///< pixels it was told from
    [[nodiscard]] bool isGood() const noexcept { return placed >= 400 && agrees >= kLeastAgreement; }

    static constexpr double kLeastAgreement = 0.93;
};

/// What `neighbours` show of what lies behind the visible surfaces of `frame`, as far as `model` blurs those
/// enough for it to show. Pixels of each neighbour that show one surface whole are placed in the frame by
/// their distance; those that land behind what is visible there are kept, but for parts of the picture in
/// which a neighbour disagrees with what is visible (things that move), and for places where neighbours
/// disagree with each other. Of neighbours the first that see enough count: those nearest to the frame should
/// come first. Neighbours of which too little agrees (a wrong camera) are left out as a whole;
/// `agreements`, where asked for, says of each. Light that differs between frames is brought to the frame's.
/// Null where nothing was found.
[[nodiscard]] SeenBehindPtr lookBehind(const View& frame, std::span<const View> neighbours,
                                       const defocus::BlurModel& model, const Run& run = {},
                                       std::vector<Agreement>* agreements = nullptr);

} // namespace retinex::others
