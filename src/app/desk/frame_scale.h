#pragma once

namespace retinex::app {

/// Frames across a width: which of them are seen. Frame f covers f to f + 1. A plain value.
struct FrameScale
{
    double left = 1.0; ///< at the left edge
    double right = 2.0;
    double x0 = 0.0; ///< px of the left edge
    double width = 100.0;

    /// The middle of a frame.
    [[nodiscard]] double toX(double frame) const noexcept
    {
        return x0 + (frame + 0.5 - left) / (right - left) * width;
    }
    /// The frame under a position, with a share: 5.0 is the middle of frame 5.
    [[nodiscard]] double toFrame(double x) const noexcept
    {
        return left + (x - x0) / width * (right - left) - 0.5;
    }
    [[nodiscard]] double pxPerFrame() const noexcept { return width / (right - left); }
    friend bool operator==(const FrameScale&, const FrameScale&) = default;
};

/// Frames between numbers on a ruler: 1, 2, 5, 10 ... so that they stand at least 48 px apart.
[[nodiscard]] inline int rulerStep(double pxPerFrame)
{
    for (int power = 1;; power *= 10)
        for (const int factor : {1, 2, 5})
            if (power * factor * pxPerFrame >= 48.0) return power * factor;
}

} // namespace retinex::app
