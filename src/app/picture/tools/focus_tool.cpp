#include "app/picture/tools/focus_tool.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

namespace retinex::app {

namespace {

/// Median of the finite distances of the 3 x 3 pixels around (x, y) that lie on the surface of the middle
/// one; nothing in a gap.
std::optional<double> distanceUnder(const Plane<float>& distance, int x, int y)
{
    const float middle = distance.at(x, y);
    if (!std::isfinite(middle)) return std::nullopt;
    std::vector<float> values;
    for (int dy = -1; dy <= 1; ++dy) {
        for (int dx = -1; dx <= 1; ++dx) {
            if (!distance.contains(x + dx, y + dy)) continue;
            const float value = distance.at(x + dx, y + dy);
            if (std::isfinite(value) && std::abs(value - middle) < 0.02F * middle) values.push_back(value);
        }
    }
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2),
                     values.end());
    return static_cast<double>(values[values.size() / 2]);
}

} // namespace

QPoint pixelAt(const Hand& hand)
{
    const QPointF image = hand.map.toImage(hand.at);
    return {static_cast<int>(std::floor(image.x())), static_cast<int>(std::floor(image.y()))};
}

bool isInFrame(const Picture& picture, QPoint pixel)
{
    return picture.passes && picture.passes->distance().contains(pixel.x(), pixel.y());
}

bool FocusTool::press(const Hand& hand)
{
    const QPoint pixel = pixelAt(hand);
    if (!isInFrame(m_picture, pixel)) return true;
    const auto distance = m_picture.passes->gaps().at(pixel.x(), pixel.y()) != 0
                              ? std::nullopt
                              : distanceUnder(m_picture.passes->distance(), pixel.x(), pixel.y());
    if (distance)
        emit picked(*distance, pixel);
    else
        emit gapPicked(pixel.x(), pixel.y());
    return true;
}

} // namespace retinex::app
