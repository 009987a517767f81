#include "app/views/blur_legend.h"

#include "app/views/style.h"

#include <QObject>
#include <QStringList>

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

} // namespace

void paintBlurLegend(QPainter& painter, const BlurTones& tones, int viewHeight)
{
    const QRectF box(10.5, viewHeight - 180.5, 252, 170);
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
    for (int i = 0; i <= 4; ++i) {
        const double share = i / 4.0;
        const double y = top + height * (1.0 - share);
        const double coc = tones.largestPx * share;
        painter.setPen(style::text);
        painter.drawLine(QPointF(box.left() + 48, y), QPointF(box.left() + 52, y));
        painter.drawText(QRectF(box.left() + 54, y - 8, 80, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QStringLiteral("%1 px").arg(coc, 0, 'g', 3));
        painter.drawText(QRectF(box.left() + 138, y - 8, 102, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QStringLiteral("%1 mm").arg(coc / tones.pxPerMm, 0, 'f', 3));
    }
    painter.setFont(style::textFont(8.5));
    painter.setPen(style::text);
    painter.drawText(QPointF(box.left() + 10, box.bottom() - 12),
                     QObject::tr("ruled: in front; plain: behind the focal plane"));
}

void paintRepairLegend(QPainter& painter, int viewHeight)
{
    const QRectF box(10.5, viewHeight - 68.5, 292, 58);
    painter.fillRect(box, kPlate);
    painter.setPen(style::line);
    painter.drawRect(box);
    painter.setFont(style::textFont(8.5));
    const QRectF mixed(box.left() + 10, box.top() + 8, 16, 12);
    painter.fillRect(mixed, QColor(20, 20, 20));
    painter.setPen(QPen(style::text, 1, Qt::DotLine));
    for (int i = 1; i < 6; ++i)
        painter.drawLine(mixed.topLeft() + QPointF(0, 2 * i), mixed.topRight() + QPointF(0, 2 * i));
    const QStringList rows{QObject::tr("mixed of two surfaces, taken apart"),
                           QObject::tr("bright: filled behind a foreground"),
                           QObject::tr("dark: as it came")};
    painter.setPen(style::text);
    for (int i = 0; i < rows.size(); ++i)
        painter.drawText(QPointF(box.left() + 36, box.top() + 18 + 16 * i), rows[i]);
}

} // namespace retinex::app
