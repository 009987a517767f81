#include "core/defocus/slices/slice_grid.h"

namespace retinex::defocus {

namespace {

double nextRung(double radius, double growth)
{
    if (radius < 2.0) return radius + 0.25;
    return radius < 12.0 ? radius + 1.0 : radius * growth;
}

/// Rungs above 0, until one reaches `limit`.
std::vector<double> rungsTo(double limit, double growth)
{
    std::vector<double> rungs;
    limit = std::min(limit, SliceGrid::maxRadiusPx);
    for (double radius = 0.0; radius < limit;) {
        radius = nextRung(radius, growth);
        rungs.push_back(radius);
    }
    return rungs;
}

} // namespace

SliceGrid::SliceGrid(double frontPx, double backPx, double growth)
{
    const auto front = rungsTo(frontPx, growth);
    const auto back = rungsTo(backPx, growth);
    for (auto it = front.rbegin(); it != front.rend(); ++it)
        m_radii.push_back(-*it);
    if (!m_radii.empty()) m_radii.push_back(0.0);
    m_focal = static_cast<int>(m_radii.size());
    m_radii.push_back(0.0);
    m_radii.insert(m_radii.end(), back.begin(), back.end());
    for (const double radius : m_radii)
        m_squares.push_back(signedSquare(radius));
    for (std::size_t i = 0; i + 1 < m_squares.size(); ++i) {
        const double difference = m_squares[i + 1] - m_squares[i];
        m_perSquare.push_back(difference > 0.0 ? 1.0 / difference : 0.0);
    }
}

int SliceGrid::cell(int slice) const noexcept
{
    int cell = 1;
    while (cell < largestCell && std::abs(radius(slice)) >= 2.0 * cell * cellsPerRadius)
        cell *= 2;
    return cell;
}

SliceGrid::Place SliceGrid::place(float radiusPx) const noexcept
{
    if (count() == 1) return {0, 0.0F};
    const double radius = std::clamp<double>(radiusPx, m_radii.front(), m_radii.back());
    const auto above = std::upper_bound(m_radii.begin(), m_radii.end(), radius) - m_radii.begin();
    return placeAt(static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(above, 1, count() - 1) - 1), radius);
}

} // namespace retinex::defocus
