#include "reference/camera_header.h"

#include <ImathMatrix.h>
#include <ImfHeader.h>
#include <ImfStandardAttributes.h>

namespace retinex::reference {

passes::HeaderPtr headerOf(const Camera& camera)
{
    const Vec forward = normalised(camera.target - camera.eye);
    const Vec right = normalised(cross(forward, Vec{0.F, 1.F, 0.F}));
    const Vec up = cross(right, forward);
    const auto at = [&](Vec axis) { return -dot(axis, camera.eye); };
    Imath::M44f world(right.x, up.x, forward.x, 0.F, right.y, up.y, forward.y, 0.F, right.z, up.z, forward.z,
                      0.F, at(right), at(up), at(forward), 1.F);
    const float width = camera.focalLengthMm / camera.sensorWidthMm;
    const float height = width * static_cast<float>(camera.width) / static_cast<float>(camera.height);
    // x = 0.5 + width X / Z, y = 0.5 - height Y / Z, w = Z
    const Imath::M44f toNdc(width, 0.F, 0.F, 0.F, 0.F, -height, 0.F, 0.F, 0.5F, 0.5F, 1.F, 1.F, 0.F, 0.F, 0.F,
                            0.F);
    auto header = std::make_shared<Imf::Header>(camera.width, camera.height);
    Imf::addWorldToCamera(*header, world);
    Imf::addWorldToNDC(*header, world * toNdc);
    return header;
}

} // namespace retinex::reference
