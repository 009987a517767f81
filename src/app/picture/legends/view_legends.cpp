#include "app/picture/legends/view_legends.h"

#include "app/look/style.h"
#include "app/picture/legends/blur_legend.h"
#include "app/picture/legends/zones_overlay.h"

#include <QCoreApplication>
#include <QPainter>

namespace retinex::app {

void ViewLegends::pictureChanged()
{
    m_zones = {};
    m_legend.reset();
}

void ViewLegends::paint(QPainter& painter, const Picture& picture, const ImageViewMap& map, QSize view,
                        const Document& document)
{
    switch (picture.mode) {
    case ViewMode::zones:
        paintZones(painter, picture, map, view, document);
        paintZonesLegend(painter, document.project(), picture.frame, document.source()->width(),
                         view.height());
        break;
    case ViewMode::depth:
        if (m_evidence) paintEvidence(painter, *m_evidence, map, view.height());
        if (!m_legend) m_legend = depthLegend(*picture.passes, picture.tones);
        paintDepthLegend(painter, *m_legend, document.project(), view.height());
        break;
    case ViewMode::blur:
        paintBlurLegend(painter, picture.blurTones, view.height());
        break;
    case ViewMode::repair:
        paintRepairLegend(painter, view);
        break;
    default:
        break;
    }
}

void ViewLegends::paintZones(QPainter& painter, const Picture& picture, const ImageViewMap& map, QSize view,
                             const Document& document)
{
    const double ratio = painter.device()->devicePixelRatioF();
    if (m_zones.isNull()) {
        m_zones = zonesOverlay(picture.passes->distance(), picture.passes->blur(), document.project(),
                               picture.frame, map, (QSizeF(view) * ratio).toSize(), ratio);
        m_zones.setDevicePixelRatio(ratio);
    }
    painter.drawImage(QPointF(0, 0), m_zones);
}

void paintLooking(QPainter& painter, const Looking& looking, QSize view)
{
    const QString words =
        QCoreApplication::translate("PictureView", "to look at only: %1").arg(looking.words());
    painter.setFont(style::textFont(8.5));
    const double wide = painter.fontMetrics().horizontalAdvance(words) + 20;
    const QRectF box(view.width() - wide - 10.5, view.height() - 34.5, wide, 24);
    style::plate(painter, box);
    painter.setPen(style::text);
    painter.drawText(box, Qt::AlignCenter, words);
}

} // namespace retinex::app
