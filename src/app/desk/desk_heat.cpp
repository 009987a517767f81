#include "app/desk/desk_heat.h"

#include "app/look/style.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

void DeskHeat::add(const std::vector<int>& frames)
{
    if (m_image.isNull()) return;
    for (const int frame : frames) {
        const auto it = m_survey.columns().find(frame);
        if (it != m_survey.columns().end()) drawColumn(frame, it->second);
    }
}

const QImage& DeskHeat::image(int first, int last, const DistanceAxis& axis)
{
    const bool same = !m_image.isNull() && first == m_first && last == m_last && axis == m_axis;
    if (same) return m_image;
    m_first = first;
    m_last = last;
    m_axis = axis;
    const int rows = std::max(1, static_cast<int>(axis.height()));
    m_image = QImage(last - first + 1, rows, QImage::Format_RGB32);
    m_image.fill(style::well);
    m_bins.clear();
    for (int y = 0; y < rows; ++y)
        m_bins.push_back(std::clamp(static_cast<int>(DepthSurvey::binPosition(axis.toDistance(y + 0.5))), 0,
                                    DepthSurvey::binCount - 1));
    for (const auto& [frame, column] : m_survey.columns())
        drawColumn(frame, column);
    return m_image;
}

void DeskHeat::drawColumn(int frame, const DepthColumn& column)
{
    if (frame < m_first || frame > m_last || column.range.pixelCount == 0) return;
    const auto pixels = static_cast<float>(column.range.pixelCount);
    for (int y = 0; y < m_image.height(); ++y) {
        const float share =
            column.bins[static_cast<std::size_t>(m_bins[static_cast<std::size_t>(y)])] / pixels;
        const int grey = 28 + static_cast<int>(std::min(110.0F, 700.0F * std::sqrt(share)));
        reinterpret_cast<QRgb*>(m_image.scanLine(y))[frame - m_first] = qRgb(grey, grey, grey);
    }
}

} // namespace retinex::app
