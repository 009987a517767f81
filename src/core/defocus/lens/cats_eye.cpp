#include "core/defocus/lens/cats_eye.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

double lightOf(const std::vector<IrisKernel::RowSpan>& spans)
{
    double sum = 0.0;
    for (const auto& span : spans)
        sum += span.weight * (span.hi - span.lo);
    return sum;
}

} // namespace

CatsEye::CatsEye(const optics::Iris& iris, optics::Point centre, double halfDiagonal)
    : m_amount(iris.catsEye), m_squeeze(iris.squeeze), m_centre(centre), m_halfDiagonal(halfDiagonal)
{
    if (!isOn()) return;
    constexpr int across = 2 * kSteps + 1;
    m_gain.assign(std::size_t{2} * across * across, 1.0);
    const IrisOpenings openings(iris, 6);
    std::vector<IrisKernel::RowSpan> spans;
    for (const bool turnedOver : {false, true}) {
        const IrisKernel kernel(openings, {turnedOver ? -32.0 : 32.0, 1.0, 1, false});
        for (int y = 0; y < across; ++y) {
            for (int x = 0; x < across; ++x) {
                const optics::Point at{static_cast<double>(x - kSteps) / kSteps,
                                       static_cast<double>(y - kSteps) / kSteps};
                clipBy(kernel, optics::catsEyeClip(m_amount, at, turnedOver), 1.0, spans);
                m_gain[static_cast<std::size_t>(((turnedOver ? 1 : 0) * across + y) * across + x)] =
                    1.0 / std::max(0.02, lightOf(spans));
            }
        }
    }
}

optics::Point CatsEye::placeOf(double x, double y) const noexcept
{
    return {(x + 0.5 - m_centre.x) / m_halfDiagonal, (y + 0.5 - m_centre.y) / m_halfDiagonal};
}

double CatsEye::gainAt(optics::Point at, bool turnedOver) const
{
    constexpr int across = 2 * kSteps + 1;
    const double fx = std::clamp((at.x + 1.0) * kSteps, 0.0, 2.0 * kSteps - 1e-9);
    const double fy = std::clamp((at.y + 1.0) * kSteps, 0.0, 2.0 * kSteps - 1e-9);
    const int x = static_cast<int>(fx);
    const int y = static_cast<int>(fy);
    const double* row = m_gain.data() + ((turnedOver ? 1 : 0) * across + y) * across + x;
    const double top = row[0] + (fx - x) * (row[1] - row[0]);
    const double bottom = row[across] + (fx - x) * (row[across + 1] - row[across]);
    return top + (fy - y) * (bottom - top);
}

void CatsEye::clipBy(const IrisKernel& kernel, const optics::ClipCircle& circle, double gain,
                     std::vector<IrisKernel::RowSpan>& spans) const
{
    spans.clear();
    const double unit = kernel.drawnRadius();
    for (const auto& row : kernel.rows()) {
        const double away = row.dy / unit - circle.centre.y;
        const double square = circle.radius * circle.radius - away * away;
        if (square <= 0.0) continue;
        const double half = std::sqrt(square);
        const double scale = unit * kernel.widthScale() / m_squeeze;
        const double lo = std::max(row.lo, (circle.centre.x - half) * scale);
        const double hi = std::min(row.hi, (circle.centre.x + half) * scale);
        if (lo < hi) spans.push_back({row.dy, lo, hi, row.weight * gain});
    }
}

void CatsEye::clip(const IrisKernel& kernel, bool turnedOver, double x, double y,
                   std::vector<IrisKernel::RowSpan>& spans) const
{
    const optics::Point at = placeOf(x, y);
    if (kernel.drawnRadius() < 0.5) {
        spans = kernel.rows();
        return;
    }
    clipBy(kernel, optics::catsEyeClip(m_amount, at, turnedOver), gainAt(at, turnedOver), spans);
}

void CatsEye::clipFrom(const IrisKernel& kernel, bool turnedOver, double x, double y,
                       std::vector<IrisKernel::RowSpan>& spans) const
{
    // Light that leaves `at` arrives at at + p u, where p is its place in the disc and u the disc's radius in
    // units of half the diagonal. |p - s (at + p u)| <= R, s the clip's shift, is again a circle:
    // |p - s at / (1 - s u)| <= R / (1 - s u).
    const optics::Point at = placeOf(x, y);
    if (kernel.drawnRadius() < 0.5) {
        spans = kernel.rows();
        return;
    }
    optics::ClipCircle circle = optics::catsEyeClip(m_amount, at, turnedOver);
    const optics::ClipCircle unit = optics::catsEyeClip(m_amount, {1.0, 0.0}, turnedOver);
    const double scale = 1.0 / std::max(0.1, 1.0 - unit.centre.x * kernel.drawnRadius() / m_halfDiagonal);
    circle.centre = {circle.centre.x * scale, circle.centre.y * scale};
    circle.radius *= scale;
    clipBy(kernel, circle, gainAt(at, turnedOver), spans);
}

} // namespace retinex::defocus
