#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

/// From scene-linear colour to the screen, by OpenColorIO. The configuration is the studio's where the OCIO
/// environment variable names one, and the one shipped with the program otherwise.
namespace retinex::colour {

/// A view of a display in the configuration.
struct View
{
    std::string display;
    std::string view;
    friend bool operator==(const View&, const View&) = default;
};

/// The views of the configuration's default display, its default view first.
[[nodiscard]] std::vector<View> availableViews();

/// A view transform baked for speed. For a view that is a matrix and a curve, these are fitted and checked
/// against the exact processor (largest difference 1/255 over a probe set); any other view goes through the
/// exact processor. Immutable and thread-safe. Throws Error when the configuration or the view is not usable.
class ViewTransform
{
public:
    ViewTransform(const View& view, const std::string& inputSpace = "scene_linear");
    ~ViewTransform();
    ViewTransform(ViewTransform&&) noexcept;

    /// Converts to 8-bit 0xffRRGGBB, `width` * `height` of the image, rows tightly packed. Premultiplied
    /// colour stands over black, as it is; alpha is not shown.
    void apply(const RgbaImage& image, std::uint32_t* pixels, const Run& run = {}) const;

    /// Differs where other pixels come out, also from one run of the program to the next.
    [[nodiscard]] std::string id() const;
    /// True when the fast path is in use.
    [[nodiscard]] bool isFast() const noexcept;

private:
    struct Impl;
    std::unique_ptr<const Impl> m_impl;
};

} // namespace retinex::colour
