#include "core/views/view_camera.h"

#include <ImfHeader.h>
#include <ImfStandardAttributes.h>
#include <cmath>
#include <numbers>

namespace retinex::views {

namespace {

Imath::V3d column(const Imath::M44f& m, int c)
{
    return {m[0][c], m[1][c], m[2][c]};
}

} // namespace

std::optional<ViewCamera> ViewCamera::of(const passes::HeaderPtr& header, int width, int height,
                                         double fieldOfViewDeg)
{
    if (!header) return std::nullopt;
    ViewCamera camera;
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
    } else if (Imf::hasWorldToCamera(*header) && fieldOfViewDeg > 0.0) {
        const Imath::M44f& m = Imf::worldToCamera(*header);
        const double focal = 0.5 * w / std::tan(0.5 * fieldOfViewDeg * std::numbers::pi / 180.0); // px
        camera.m_w = column(m, 2), camera.m_w0 = m[3][2];
        camera.m_x = column(m, 0) * focal + camera.m_w * (0.5 * w);
        camera.m_x0 = m[3][0] * focal + camera.m_w0 * (0.5 * w);
        camera.m_y = column(m, 1) * -(focal * header->pixelAspectRatio()) + camera.m_w * (0.5 * h);
        camera.m_y0 = m[3][1] * -(focal * header->pixelAspectRatio()) + camera.m_w0 * (0.5 * h);
    } else {
        return std::nullopt;
    }
    const Imath::M33d forth(camera.m_x.x, camera.m_y.x, camera.m_w.x, camera.m_x.y, camera.m_y.y,
                            camera.m_w.y, camera.m_x.z, camera.m_y.z, camera.m_w.z);
    if (!(std::abs(forth.determinant()) > 1e-12)) return std::nullopt;
    camera.m_back = forth.inverse();
    return camera;
}

Imath::V3d ViewCamera::pointAt(double x, double y, double distance) const
{
    return Imath::V3d(x * distance - m_x0, y * distance - m_y0, distance - m_w0) * m_back;
}

ViewCamera::To::To(const ViewCamera& from, const ViewCamera& to)
{
    const Imath::M33d forth(to.m_x.x, to.m_y.x, to.m_w.x, to.m_x.y, to.m_y.y, to.m_w.y, to.m_x.z, to.m_y.z,
                            to.m_w.z);
    m_turn = from.m_back * forth;
    m_shift = Imath::V3d(-from.m_x0, -from.m_y0, -from.m_w0) * m_turn + Imath::V3d(to.m_x0, to.m_y0, to.m_w0);
}

ViewCamera::Seen ViewCamera::see(const Imath::V3d& point) const
{
    const double w = point.dot(m_w) + m_w0;
    return {(point.dot(m_x) + m_x0) / w, (point.dot(m_y) + m_y0) / w, w};
}

} // namespace retinex::views
