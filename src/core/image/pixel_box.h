#pragma once

namespace retinex {

/// Pixel rows and columns minY..maxY, minX..maxX, both ends included; may lie beyond the picture. Empty by
/// default.
struct PixelBox
{
    int minX = 0;
    int minY = 0;
    int maxX = -1;
    int maxY = -1;

    [[nodiscard]] static constexpr PixelBox at(int x, int y, int width, int height) noexcept
    {
        return {x, y, x + width - 1, y + height - 1};
    }
    [[nodiscard]] int width() const noexcept { return maxX - minX + 1; }
    [[nodiscard]] int height() const noexcept { return maxY - minY + 1; }
    [[nodiscard]] bool empty() const noexcept { return width() <= 0 || height() <= 0; }
    [[nodiscard]] bool contains(int x, int y) const noexcept
    {
        return x >= minX && y >= minY && x <= maxX && y <= maxY;
    }
    [[nodiscard]] bool contains(const PixelBox& other) const noexcept
    {
        return other.minX >= minX && other.minY >= minY && other.maxX <= maxX && other.maxY <= maxY;
    }

    /// What both have; empty where they have nothing in common.
    [[nodiscard]] constexpr PixelBox intersected(const PixelBox& other) const noexcept
    {
        return {minX > other.minX ? minX : other.minX, minY > other.minY ? minY : other.minY,
                maxX < other.maxX ? maxX : other.maxX, maxY < other.maxY ? maxY : other.maxY};
    }

    friend bool operator==(const PixelBox&, const PixelBox&) = default;
};

} // namespace retinex
