#include "app/picture/legends/blur_legend.h"

#include "app/look/style.h"

#include <QObject>
#include <array>
#include <cmath>
#include <vector>

namespace retinex::app {

namespace {

const QColor kPlate(20, 20, 20, 215);

void ramp(QPainter& painter, const QRectF& box, bool isFront, const BlurTones& tones)
{
    Plane<float> column(1, static_cast<int>(box.height()));
    for (int y = 0; y < column.height(); ++y) {
        const double coc = tones.largestPx * (1.0 - (y + 0.5) / column.height());
        column.at(0, y) = static_cast<float>((isFront ? -0.5 : 0.5) * coc);
    }
    painter.drawImage(box, blurImage(column, tones));
    painter.setPen(style::line);
    painter.drawRect(box);
}

/// Round numbers, and the largest at the end.
std::vector<double> ticks(double largest)
{
    const double decade = std::pow(10.0, std::floor(std::log10(largest / 3.0)));
    double step = decade;
    for (const double round : {2.0, 5.0, 10.0})
        if (step < largest / 4.5) step = round * decade;
    std::vector<double> values;
    for (double value = 0.0; value < largest - 0.6 * step; value += step)
        values.push_back(value);
    values.push_back(largest);
    return values;
}

} // namespace

void paintBlurLegend(QPainter& painter, const BlurTones& tones, int viewHeight)
{
    painter.setFont(style::textFont(8.5));
    const QString ruled = QObject::tr("ruled: in front; plain: behind the focal plane");
    const QRectF box(10.5, viewHeight - 180.5,
                     std::max(252, painter.fontMetrics().horizontalAdvance(ruled) + 20), 170);
    if (box.top() < 0.0) return; // it would hide what it tells of
    painter.fillRect(box, kPlate);
    painter.setPen(style::line);
    painter.drawRect(box);
    painter.setFont(style::textFont(8.5));
    painter.setPen(style::dimText);
    painter.drawText(QPointF(box.left() + 10, box.top() + 15), QObject::tr("CoC, diameter"));
    const double top = box.top() + 26;
    const double height = 108;
    ramp(painter, QRectF(box.left() + 10, top, 16, height), true, tones);
    ramp(painter, QRectF(box.left() + 30, top, 16, height), false, tones);
    painter.setFont(style::numberFont(8.5));
    for (const double coc : ticks(tones.largestPx)) {
        const double y = top + height * (1.0 - coc / tones.largestPx);
        painter.setPen(style::text);
        painter.drawLine(QPointF(box.left() + 48, y), QPointF(box.left() + 52, y));
        painter.drawText(QRectF(box.left() + 54, y - 8, 80, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QStringLiteral("%1 px").arg(coc, 0, 'g', 3));
        painter.drawText(QRectF(box.left() + 138, y - 8, 102, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QStringLiteral("%1 mm").arg(coc / tones.pxPerMm, 0, 'f', 3));
    }
    painter.setFont(style::textFont(8.5));
    painter.setPen(style::text);
    painter.drawText(QPointF(box.left() + 10, box.bottom() - 12), ruled);
}

void paintRepairLegend(QPainter& painter, QSize view)
{
    constexpr int lineHeight = 18;
    const std::array<QString, 5> rows{QObject::tr("dotted: mixed of several surfaces, taken apart"),
                                      QObject::tr("in colour: filled in behind a foreground"),
                                      QObject::tr("spotted: filled in with what other frames show"),
                                      QObject::tr("striped: two surfaces filled in, one behind the other"),
                                      QObject::tr("grey: as it came")};
    const auto boxHeight = static_cast<double>(lineHeight * rows.size() + 12);
    painter.setFont(style::textFont(8.5));
    int wide = 0;
    for (const QString& row : rows)
        wide = std::max(wide, painter.fontMetrics().horizontalAdvance(row));
    const QRectF box(10.5, view.height() - 10.5 - boxHeight, wide + 50, boxHeight);
    if (box.top() < 0.0 || box.right() > view.width()) return;
    painter.fillRect(box, kPlate);
    painter.setPen(style::line);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(box);
    const auto sample = [&](int row) {
        return QRectF(box.left() + 10.5, box.top() + 9.5 + lineHeight * row, 18, 12);
    };
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    const QColor filled(122, 150, 96);
    const QColor behind(150, 112, 92);
    painter.fillRect(sample(0), QColor::fromRgb(kMixedDark));
    painter.setBrush(QBrush(QColor::fromRgb(kMixedLight), Qt::Dense4Pattern));
    painter.setPen(Qt::NoPen);
    painter.drawRect(sample(0));
    painter.fillRect(sample(1), filled);
    painter.fillRect(sample(2), filled);
    for (int y = 1; y < 12; y += kSeenSpacing)
        for (int x = 2; x < 18; x += kSeenSpacing) {
            const QPointF at = sample(2).topLeft() + QPointF(x, y);
            painter.fillRect(QRectF(at, QSizeF(kSeenSpot, 1)), QColor::fromRgb(kMixedLight));
            painter.fillRect(QRectF(at + QPointF(0, 1), QSizeF(kSeenSpot, 1)), QColor::fromRgb(kMixedDark));
        }
    painter.fillRect(sample(3), filled);
    painter.setClipRect(sample(3));
    painter.setPen(QPen(behind, 3));
    for (int x = -12; x < 24; x += 8)
        painter.drawLine(sample(3).bottomLeft() + QPointF(x, 0),
                         sample(3).bottomLeft() + QPointF(x + 12, -12));
    painter.setClipping(false);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QColor::fromRgb(kFilledEdge));
    painter.drawRect(sample(1));
    painter.drawRect(sample(2));
    painter.drawRect(sample(3));
    painter.fillRect(sample(4), QColor(74, 74, 74));
    painter.restore();
    painter.setFont(style::textFont(8.5));
    painter.setPen(style::text);
    for (std::size_t i = 0; i < rows.size(); ++i)
        painter.drawText(
            QRectF(box.left() + 38, sample(static_cast<int>(i)).top() - 3, box.width() - 44, lineHeight),
            Qt::AlignLeft | Qt::AlignVCenter, rows[i]);
}

} // namespace retinex::app
