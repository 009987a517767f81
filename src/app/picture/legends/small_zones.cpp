#include "app/picture/legends/small_zones.h"

#include "app/look/style.h"
#include "app/picture/legends/zones_overlay.h"
#include "core/project/first_look.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

/// The middle of the pixels from one share of the sorted distances to another; nothing where all are gaps.
std::optional<QPointF> middleOf(const passes::FramePasses& passes, double from, double to)
{
    std::vector<std::pair<float, int>> order;
    for (std::size_t i = 0; i < passes.distance().size(); ++i)
        if (passes.gaps().pixels()[i] == 0)
            order.emplace_back(passes.distance().pixels()[i], static_cast<int>(i));
    if (order.empty()) return std::nullopt;
    std::sort(order.begin(), order.end());
    const auto at = [&](double share) {
        return static_cast<std::size_t>(share * static_cast<double>(order.size() - 1));
    };
    // The median of each direction: things of one distance may lie on both sides of the picture.
    std::vector<int> xs;
    std::vector<int> ys;
    for (std::size_t i = at(from); i <= at(to); ++i) {
        xs.push_back(order[i].second % passes.distance().width());
        ys.push_back(order[i].second / passes.distance().width());
    }
    std::sort(xs.begin(), xs.end());
    std::sort(ys.begin(), ys.end());
    return QPointF(xs[xs.size() / 2], ys[ys.size() / 2]);
}

void write(QPainter& painter, QPointF at, const QString& word, const QColor& colour, const QSize& within)
{
    painter.setFont(style::textFont(8.5));
    const QFontMetricsF metrics(painter.font());
    QRectF box(0, 0, metrics.horizontalAdvance(word) + 8, metrics.height() + 2);
    box.moveCenter(at);
    box.moveLeft(std::clamp(box.left(), 1.0, within.width() - box.width() - 1));
    box.moveTop(std::clamp(box.top(), 1.0, within.height() - box.height() - 1));
    painter.fillRect(box, QColor(20, 20, 20, 220));
    painter.setPen(colour);
    painter.drawText(box, Qt::AlignCenter, word);
}

} // namespace

QImage smallZones(const passes::FramePasses& passes, const project::Project& whole, int frame,
                  const depth::ReadingSettings& reading, const colour::ViewTransform& view, const Run& run)
{
    const int divisor =
        std::max({1, (passes.distance().width() + kSmallZonesSize.width() - 1) / kSmallZonesSize.width(),
                  (passes.distance().height() + kSmallZonesSize.height() - 1) / kSmallZonesSize.height()});
    const auto small = passes::reduced(passes, divisor);
    const auto read = passes::withReading(small->raw, reading, run);
    project::Project project;
    project.metresPerUnit = whole.metresPerUnit;
    project.base() = whole.valuesAt(frame);
    project.base().reading = reading;
    project.base().regions.clear();
    if (const auto nearest = project::nearestLargeSurface(read->distance(), read->gaps()))
        project.base().focusDistance = std::max(*nearest, project.nearestFocus(project.base().focalLengthMm));
    project::calmLens(project.base(), *read, project.metresPerUnit);
    const RgbaImage& colour = small->colour();
    QImage image(colour.width(), colour.height(), QImage::Format_RGB32);
    view.apply(colour, reinterpret_cast<std::uint32_t*>(image.bits()), run);
    const QSize size = image.size();
    ImageViewMap map;
    map.setImageSize(size);
    map.setViewSize(size);
    QPainter painter(&image);
    painter.drawImage(0, 0, zonesOverlay(read->distance(), nullptr, project, frame, map, size, 1.0));
    constexpr double kEnd = 0.08; // of what is seen
    if (const auto far = middleOf(*read, 1.0 - kEnd, 1.0))
        write(painter, *far, QObject::tr("far"), style::farSide, size);
    if (const auto near = middleOf(*read, 0.0, kEnd))
        write(painter, *near, QObject::tr("near"), style::nearSide, size);
    return image;
}

} // namespace retinex::app
