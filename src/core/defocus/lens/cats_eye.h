#pragma once

#include "core/defocus/lens/iris_kernel.h"

namespace retinex::defocus {

/// Clips the kernels of an iris by a circle that moves with the place in the picture (optics::catsEyeClip),
/// and makes up for the light that is lost. A lens clips by where light arrives; so does this.
class CatsEye
{
public:
    /// No clip.
    CatsEye() = default;
    /// `centre` of the frame and half its diagonal, px from the picture's corner.
    CatsEye(const optics::Iris& iris, optics::Point centre, double halfDiagonal);

    [[nodiscard]] bool isOn() const noexcept { return m_amount > 0.0; }

    /// Clips the spans of `kernel` for light arriving at pixel (x, y).
    void clip(const IrisKernel& kernel, bool turnedOver, double x, double y,
              std::vector<IrisKernel::RowSpan>& spans) const;
    /// Clips them for light leaving pixel (x, y), each bit by where it arrives. `cell` of the kernel is 1.
    void clipFrom(const IrisKernel& kernel, bool turnedOver, double x, double y,
                  std::vector<IrisKernel::RowSpan>& spans) const;

private:
    [[nodiscard]] optics::Point placeOf(double x, double y) const noexcept;
    void clipBy(const IrisKernel& kernel, const optics::ClipCircle& circle, double gain,
                std::vector<IrisKernel::RowSpan>& spans) const;
    [[nodiscard]] double gainAt(optics::Point at, bool turnedOver) const;

    static constexpr int kSteps = 24; ///< of the table of gains, from the centre to a corner and beyond

    double m_amount = 0.0;
    double m_squeeze = 1.0;
    optics::Point m_centre;
    double m_halfDiagonal = 1.0;
    std::vector<double> m_gain; ///< [turned over][y][x] over -1..1
};

} // namespace retinex::defocus
