#pragma once

namespace retinex {

/// A box of pixels.
struct PixelBox
{
    int x = 0;
    int y = 0;
    int width = 0;
    int height = 0;

    [[nodiscard]] bool empty() const noexcept { return width <= 0 || height <= 0; }
    [[nodiscard]] int right() const noexcept { return x + width; } ///< half open
    [[nodiscard]] int bottom() const noexcept { return y + height; }
    [[nodiscard]] bool contains(int px, int py) const noexcept
    {
        return px >= x && py >= y && px < right() && py < bottom();
    }
    [[nodiscard]] bool contains(const PixelBox& other) const noexcept
    {
        return other.x >= x && other.y >= y && other.right() <= right() && other.bottom() <= bottom();
    }

    friend bool operator==(const PixelBox&, const PixelBox&) = default;
};

} // namespace retinex
