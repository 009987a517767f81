#pragma once

#include "core/passes/exr/exr_file.h"

#include <ImathMatrix.h>
#include <optional>
#include <span>

namespace retinex::others {

/// Where a frame was rendered from: takes its pixels, with their planar distances, to points of the scene,
/// and points to pixels. Distances and points in scene units; pixels from the upper left corner of the
/// display window, the middle of the first at 0.5.
class FrameCamera
{
public:
    /// From `worldToNDC` of the header (OpenEXR, ImfStandardAttributes.h: (0, 0) is the upper left corner of
    /// the display window, (1, 1) the lower right one; matrices whose middle lies at 0 run from -1, y up), or
    /// else from `worldToCamera` (left-handed, z along the view) and the field of view across the width.
    /// Nothing without, or where the matrix cannot be turned round.
    [[nodiscard]] static std::optional<FrameCamera> of(const passes::HeaderPtr& header, int width, int height,
                                                       double fieldOfViewDeg);

    /// From a camera that looks along z with x to the right and y up, and its field of view across the width.
    [[nodiscard]] static std::optional<FrameCamera> of(const Imath::M44d& worldToCamera, int width,
                                                       int height, double fieldOfViewDeg,
                                                       double pixelAspect = 1.0);

    [[nodiscard]] Imath::V3d pointAt(double x, double y, double distance) const;
    struct Seen
    {
        double x = 0.0;
        double y = 0.0;
        double distance = 0.0; ///< below 0: behind the camera
    };
    [[nodiscard]] Seen see(const Imath::V3d& point) const;

    /// From the pixels of one camera, with their distances, to those of another: pointAt() and see() in one.
    class To
    {
    public:
        To(const FrameCamera& from, const FrameCamera& to);
        [[nodiscard]] Seen see(double x, double y, double distance) const
        {
            const Imath::V3d p = Imath::V3d(x * distance, y * distance, distance) * m_turn + m_shift;
            return {p.x / p.z, p.y / p.z, p.z};
        }

        /// A row of pixels at once; distances are held to `farthest`.
        void seeRow(int y, const float* distance, double farthest, std::span<Seen> seen) const;

    private:
        Imath::M33d m_turn;
        Imath::V3d m_shift;
    };

    friend bool operator==(const FrameCamera& a, const FrameCamera& b)
    {
        return a.m_x == b.m_x && a.m_y == b.m_y && a.m_w == b.m_w && a.m_x0 == b.m_x0 && a.m_y0 == b.m_y0 &&
               a.m_w0 == b.m_w0;
    }

private:
    [[nodiscard]] bool findBack();

    // A point p is seen at x = (p . m_x + m_x0) / w, y likewise, w = p . m_w + m_w0 being its distance.
    Imath::V3d m_x, m_y, m_w;
    double m_x0 = 0.0, m_y0 = 0.0, m_w0 = 0.0;
    Imath::M33d m_back;
};

} // namespace retinex::others
