#include "core/passes/scene/camera_data.h"

#include "core/system/say.h"

#include <ImathMatrix.h>
#include <ImfHeader.h>
#include <ImfStandardAttributes.h>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <numbers>
#include <vector>

namespace retinex::passes {

namespace {

constexpr double kDegrees = 180.0 / std::numbers::pi;

std::optional<double> positive(double value)
{
    return std::isfinite(value) && value > 0.0 ? std::optional(value) : std::nullopt;
}

/// NDC x of a point is (p . a) / (p . w), with a and w the first and last columns of worldToNDC. Along the
/// view axis w, a = k right + c w / |w|: k / |w| is how fast x grows across the plane at distance 1. OpenEXR
/// has x run from 0 to 1 over the display window (ImfStandardAttributes.h); a matrix whose centre lies at 0
/// runs from -1.
std::optional<double> fieldOfView(const Imath::M44f& m)
{
    const Imath::V3d a(m[0][0], m[1][0], m[2][0]);
    const Imath::V3d w(m[0][3], m[1][3], m[2][3]);
    const double length = w.length();
    if (!(length > 1e-12) || !std::isfinite(length)) return std::nullopt;
    const double centre = a.dot(w) / (length * length);
    const double slope = (a - w * centre).length() / length;
    if (!(slope > 1e-9) || !std::isfinite(slope)) return std::nullopt;
    const double halfRange = std::abs(centre) < 0.25 ? 1.0 : 0.5;
    const double degrees = 2.0 * std::atan(halfRange / slope) * kDegrees;
    return degrees > 0.1 && degrees < 179.0 ? std::optional(degrees) : std::nullopt;
}

} // namespace

bool CameraData::isEmpty() const noexcept
{
    return !focusMetres && !fStop && !fieldOfViewDeg && !framesPerSecond;
}

std::string CameraData::inWords() const
{
    std::vector<std::string> words;
    if (focusMetres) words.push_back(say("focus {:.4g} m", *focusMetres));
    if (fStop) words.push_back(fmt::format("f/{:.3g}", *fStop));
    if (fieldOfViewDeg) words.push_back(say("field of view {:.4g}°", *fieldOfViewDeg));
    if (framesPerSecond) words.push_back(say("{:g} frames a second", *framesPerSecond));
    return fmt::format("{}", fmt::join(words, ", "));
}

CameraData cameraData(const HeaderPtr& header)
{
    CameraData data;
    if (!header) return data;
    if (Imf::hasFocus(*header)) data.focusMetres = positive(static_cast<double>(Imf::focus(*header)));
    if (Imf::hasAperture(*header)) data.fStop = positive(static_cast<double>(Imf::aperture(*header)));
    if (Imf::hasWorldToNDC(*header)) data.fieldOfViewDeg = fieldOfView(Imf::worldToNDC(*header));
    data.hasWorldToCamera = Imf::hasWorldToCamera(*header);
    if (Imf::hasFramesPerSecond(*header)) {
        const Imf::Rational rate = Imf::framesPerSecond(*header);
        if (rate.d != 0) data.framesPerSecond = positive(static_cast<double>(rate));
    }
    const auto aspect = positive(static_cast<double>(header->pixelAspectRatio()));
    if (aspect && std::abs(*aspect - 1.0) > 1e-6) data.pixelAspect = aspect;
    return data;
}

double focalLengthFor(double fieldOfViewDeg, double sensorWidthMm) noexcept
{
    return 0.5 * sensorWidthMm / std::tan(0.5 * fieldOfViewDeg / kDegrees);
}

double fieldOfViewFor(double focalLengthMm, double sensorWidthMm) noexcept
{
    return 2.0 * std::atan(0.5 * sensorWidthMm / focalLengthMm) * kDegrees;
}

} // namespace retinex::passes
