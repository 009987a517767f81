#include "core/others/frame_camera.h"

#include <ImfHeader.h>
#include <ImfStandardAttributes.h>
#include <algorithm>
#include <cmath>
#include <numbers>

namespace retinex::others {

namespace {

template <class Matrix>
Imath::V3d column(const Matrix& m, int c)
{
    return {m[0][c], m[1][c], m[2][c]};
}

} // namespace

std::optional<FrameCamera> FrameCamera::of(const passes::HeaderPtr& header, int width, int height,
                                           double fieldOfViewDeg)
{
    if (!header) return std::nullopt;
    FrameCamera camera;
    const double w = width;
    const double h = height;
    if (Imf::hasWorldToNDC(*header)) {
        const Imath::M44f& m = Imf::worldToNDC(*header);
        camera.m_x = column(m, 0), camera.m_x0 = m[3][0];
        camera.m_y = column(m, 1), camera.m_y0 = m[3][1];
        camera.m_w = column(m, 3), camera.m_w0 = m[3][3];
        const double length = camera.m_w.length();
        if (!(length > 1e-12)) return std::nullopt;
        for (Imath::V3d* v : {&camera.m_x, &camera.m_y, &camera.m_w})
            *v /= length;
        for (double* v : {&camera.m_x0, &camera.m_y0, &camera.m_w0})
            *v /= length;
        if (std::abs(camera.m_x.dot(camera.m_w)) < 0.25) { // from -1 to 1, y up
            camera.m_x = (camera.m_x + camera.m_w) * 0.5;
            camera.m_x0 = (camera.m_x0 + camera.m_w0) * 0.5;
            camera.m_y = (camera.m_w - camera.m_y) * 0.5;
            camera.m_y0 = (camera.m_w0 - camera.m_y0) * 0.5;
        }
        camera.m_x *= w, camera.m_x0 *= w;
        camera.m_y *= h, camera.m_y0 *= h;
        if (camera.findBack()) return camera;
        return std::nullopt;
    }
    if (Imf::hasWorldToCamera(*header))
        return of(Imath::M44d(Imf::worldToCamera(*header)), width, height, fieldOfViewDeg,
                  header->pixelAspectRatio());
    return std::nullopt;
}

std::optional<FrameCamera> FrameCamera::of(const Imath::M44d& worldToCamera, int width, int height,
                                           double fieldOfViewDeg, double pixelAspect)
{
    if (!(fieldOfViewDeg > 0.0)) return std::nullopt;
    const Imath::M44d& m = worldToCamera;
    const double focal = 0.5 * width / std::tan(0.5 * fieldOfViewDeg * std::numbers::pi / 180.0); // px
    FrameCamera camera;
    camera.m_w = column(m, 2), camera.m_w0 = m[3][2];
    camera.m_x = column(m, 0) * focal + camera.m_w * (0.5 * width);
    camera.m_x0 = m[3][0] * focal + camera.m_w0 * (0.5 * width);
    camera.m_y = column(m, 1) * -(focal * pixelAspect) + camera.m_w * (0.5 * height);
    camera.m_y0 = m[3][1] * -(focal * pixelAspect) + camera.m_w0 * (0.5 * height);
    if (camera.findBack()) return camera;
    return std::nullopt;
}

bool FrameCamera::findBack()
{
    const Imath::M33d forth(m_x.x, m_y.x, m_w.x, m_x.y, m_y.y, m_w.y, m_x.z, m_y.z, m_w.z);
    if (!(std::abs(forth.determinant()) > 1e-12)) return false;
    m_back = forth.inverse();
    return true;
}

Imath::V3d FrameCamera::pointAt(double x, double y, double distance) const
{
    return Imath::V3d(x * distance - m_x0, y * distance - m_y0, distance - m_w0) * m_back;
}

FrameCamera::To::To(const FrameCamera& from, const FrameCamera& to)
{
    const Imath::M33d forth(to.m_x.x, to.m_y.x, to.m_w.x, to.m_x.y, to.m_y.y, to.m_w.y, to.m_x.z, to.m_y.z,
                            to.m_w.z);
    m_turn = from.m_back * forth;
    m_shift = Imath::V3d(-from.m_x0, -from.m_y0, -from.m_w0) * m_turn + Imath::V3d(to.m_x0, to.m_y0, to.m_w0);
}

void FrameCamera::To::seeRow(int y, const float* distance, double farthest, std::span<Seen> seen) const
{
    const Imath::V3d first = Imath::V3d(0.5, y + 0.5, 1.0) * m_turn;
    const Imath::V3d each(m_turn[0][0], m_turn[0][1], m_turn[0][2]);
    for (std::size_t x = 0; x < seen.size(); ++x) {
        const double d = std::min(static_cast<double>(distance[x]), farthest);
        const auto across = static_cast<double>(x);
        const double w = (first.z + across * each.z) * d + m_shift.z;
        const double inverse = 1.0 / w;
        seen[x] = {((first.x + across * each.x) * d + m_shift.x) * inverse,
                   ((first.y + across * each.y) * d + m_shift.y) * inverse, w};
    }
}

FrameCamera::Seen FrameCamera::see(const Imath::V3d& point) const
{
    const double w = point.dot(m_w) + m_w0;
    return {(point.dot(m_x) + m_x0) / w, (point.dot(m_y) + m_y0) / w, w};
}

} // namespace retinex::others
