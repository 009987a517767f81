#pragma once

#include "core/image/blur_share.h"
#include "core/image/deep_picture.h"
#include "core/image/image.h"
#include "core/image/lens_layer.h"
#include "core/image/object_shares.h"
#include "core/image/pixel_box.h"
#include "core/image/seen_behind.h"
#include "core/system/run.h"

#include <memory>
#include <vector>

namespace retinex::defocus {

/// What goes through the lens: one value, flat or deep. Copies share the pixels. All planes have one size.
class LensInput
{
public:
    LensInput() = default;
    /// A flat picture: scene-linear, premultiplied, finite; `distance` in scene units, +inf for gaps.
    LensInput(std::shared_ptr<const RgbaImage> colour, std::shared_ptr<const Plane<float>> distance,
              ObjectSharesPtr objects = nullptr);
    /// A deep picture whose samples hold distances, front to back.
    explicit LensInput(std::shared_ptr<const DeepPicture> deep);
    /// For a short time: what is given must outlive this value and its copies.
    LensInput(const RgbaImage& colour, const Plane<float>& distance, const ObjectShares* objects = nullptr);
    LensInput(const DeepPicture& deep); // NOLINT: a deep picture is a whole input

    [[nodiscard]] bool isDeep() const noexcept { return m_deep != nullptr; }
    [[nodiscard]] int width() const noexcept;
    [[nodiscard]] int height() const noexcept;
    [[nodiscard]] bool empty() const noexcept { return width() <= 0 || height() <= 0; }
    [[nodiscard]] const RgbaImage& colour() const noexcept { return *m_colour; }        ///< of a flat one
    [[nodiscard]] const Plane<float>& distance() const noexcept { return *m_distance; } ///< of a flat one
    [[nodiscard]] const DeepPicture& deep() const noexcept { return *m_deep; }          ///< of a deep one
    /// What mattes say of each pixel; null without.
    [[nodiscard]] const ObjectShares* objects() const noexcept { return m_objects.get(); }
    /// What regions do to the lens's blur; null: nothing.
    [[nodiscard]] const BlurShare* blurShare() const noexcept { return m_blurShare.get(); }
    /// Pictures that are laid in; null: none.
    [[nodiscard]] const std::vector<LensLayer>* layers() const noexcept { return m_layers.get(); }
    void setLayers(std::shared_ptr<const std::vector<LensLayer>> layers) { m_layers = std::move(layers); }
    /// What other frames show of what this one hides; null: nothing. Of flat pictures.
    [[nodiscard]] const SeenBehind* seenBehind() const noexcept { return m_seenBehind.get(); }
    [[nodiscard]] const SeenBehindPtr& seenBehindPtr() const noexcept { return m_seenBehind; }
    void setSeenBehind(SeenBehindPtr seen) { m_seenBehind = std::move(seen); }
    void setBlurShare(BlurSharePtr share) { m_blurShare = std::move(share); }

    /// sceneBrightness() of the picture.
    [[nodiscard]] double sceneBrightness() const;
    /// Throws Error where the planes differ in size, naming which.
    void check() const;

    /// The pixels of `box`, which lies inside.
    [[nodiscard]] LensInput cropped(const PixelBox& box, const Run& run) const;
    /// With a margin on each side, turned over at the edge; once its own size at most.
    [[nodiscard]] LensInput mirrored(int marginX, int marginY, const Run& run) const;
    /// At 1/divisor of the size: colour averaged, distance and share picked, mattes and pictures laid in
    /// left out. Of flat pictures.
    [[nodiscard]] LensInput reduced(int divisor) const;

private:
    /// Every plane, and the pixels of what has samples, as `change` makes them of a plane; `boxOf` says where
    /// a box lies then.
    template <class Change, class BoxOf>
    [[nodiscard]] LensInput changed(const Run& run, Change change, BoxOf boxOf) const;

    std::shared_ptr<const RgbaImage> m_colour;
    std::shared_ptr<const Plane<float>> m_distance;
    std::shared_ptr<const DeepPicture> m_deep;
    ObjectSharesPtr m_objects;
    BlurSharePtr m_blurShare;
    SeenBehindPtr m_seenBehind;
    std::shared_ptr<const std::vector<LensLayer>> m_layers;
};

} // namespace retinex::defocus
