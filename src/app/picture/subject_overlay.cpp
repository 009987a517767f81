#include "app/picture/subject_overlay.h"

#include "app/look/style.h"
#include "core/frame/places/subject_measure.h"

#include <QObject>
#include <QPolygonF>
#include <cmath>

namespace retinex::app {

namespace {

constexpr double kSubjectGrab = 12.0; ///< px around a place

} // namespace

void SubjectOverlay::paint(QPainter& painter, const project::Project& project, int frame,
                           const ImageViewMap& map, QSizeF frameSize) const
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(style::textFont(8.5));
    for (const auto& subject : project.subjects) {
        const auto place =
            frame::seenPlace(project, subject, frame, m_scene.get(), frameSize.width(), frameSize.height());
        if (!place) continue;
        const QPointF at = map.toView(QPointF(place->x, place->y));
        const double radius = std::max(4.0, subject.radiusPx * map.scale());
        const timeline::Sample* sample = timeline::sampleOn(subject, frame);
        const bool unseen = sample && sample->sight != timeline::Sight::measured;
        QPolygonF outline;
        for (const auto& corner : subject.outline)
            outline.append(map.toView(QPointF(place->x + corner.x, place->y + corner.y)));
        const bool chosen = subject.name == m_chosen;
        painter.setBrush(Qt::NoBrush);
        for (const auto& [colour, width] : {std::pair{QColor(20, 20, 20), chosen ? 4.0 : 3.0},
                                            std::pair{style::text, chosen ? 1.8 : 1.2}}) {
            painter.setPen(QPen(colour, width, unseen ? Qt::DotLine : Qt::SolidLine));
            if (outline.size() >= 3)
                painter.drawPolygon(outline);
            else
                painter.drawEllipse(at, radius, radius);
            painter.setPen(QPen(colour, width));
            for (const QPointF& way : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
                painter.drawLine(at + 2.0 * way, at + 5.0 * way);
        }
        QString words = QString::fromStdString(subject.name);
        if (unseen) words += QObject::tr(" (%1)").arg(QString::fromUtf8(wordOf(sample->sight).data()));
        QRectF box(at.x() + radius + 5, at.y() - 9, painter.fontMetrics().horizontalAdvance(words) + 10, 18);
        if (box.right() > map.view().width()) box.moveRight(at.x() - radius - 5); // on its other side
        painter.fillRect(box, QColor(20, 20, 20, 190));
        painter.setPen(style::text);
        painter.drawText(box, Qt::AlignCenter, words);
    }
    painter.restore();
}

std::string SubjectOverlay::at(QPointF position, const project::Project& project, int frame,
                               const ImageViewMap& map) const
{
    std::string found;
    double nearest = kSubjectGrab;
    for (const auto& subject : project.subjects) {
        if (!subject.scenePoint.empty()) continue;
        const auto place = placeAt(subject, frame, project.framesOf(project.shotIndexAt(frame)));
        if (!place) continue;
        const QPointF d = map.toView(QPointF(place->x, place->y)) - position;
        if (std::hypot(d.x(), d.y()) > nearest) continue;
        nearest = std::hypot(d.x(), d.y());
        found = subject.name;
    }
    return found;
}

} // namespace retinex::app
