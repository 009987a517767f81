#include "app/picture/brighter_marks.h"

#include "app/look/style.h"
#include "core/system/run.h"

#include <algorithm>

namespace retinex::app {

namespace {

constexpr int kShownMs = 1500;

/// Hatched dark and light, seen on any picture.
int markBrighter(const RgbaImage& colour, double level, const std::stop_token& stop, QImage& marks)
{
    marks = QImage(colour.width(), colour.height(), QImage::Format_ARGB32);
    marks.fill(Qt::transparent);
    int count = 0;
    for (int y = 0; y < colour.height(); ++y) {
        throwIfStopped(stop);
        auto* line = reinterpret_cast<QRgb*>(marks.scanLine(y));
        for (int x = 0; x < colour.width(); ++x) {
            const float brightest =
                std::max({colour.plane(0).at(x, y), colour.plane(1).at(x, y), colour.plane(2).at(x, y)});
            if (static_cast<double>(brightest) <= level) continue;
            ++count;
            line[x] = (x + y) % 4 < 2 ? qRgb(20, 20, 20) : qRgb(240, 233, 220);
        }
    }
    return count;
}

} // namespace

BrighterMarks::BrighterMarks(QObject* parent) : QObject(parent)
{
    m_shownFor.setSingleShot(true);
    connect(&m_shownFor, &QTimer::timeout, this, &BrighterMarks::changed);
}

void BrighterMarks::show(std::shared_ptr<const RgbaImage> colour, double level, const QString& words)
{
    m_work.start(tr("Marking what is brighter"),
                 [this, colour = std::move(colour), level, words](const Background::Task& task) {
                     QImage marks;
                     const int count = markBrighter(*colour, level, task.stop(), marks);
                     task.post([this, marks, count, text = words.arg(level, 0, 'g', 4).arg(count)] {
                         m_marks = marks;
                         m_count = count;
                         m_words = text;
                         m_shownFor.start(kShownMs);
                         emit changed();
                     });
                 });
}

void BrighterMarks::paint(QPainter& painter, const ImageViewMap& map, int viewWidth) const
{
    if (!m_shownFor.isActive()) return;
    painter.drawImage(map.imageRect(), m_marks);
    const QRectF box(0.5 * viewWidth - 150.5, 10.5, 301, 24);
    style::plate(painter, box);
    painter.setPen(style::text);
    painter.drawText(box, Qt::AlignCenter, m_words);
}

} // namespace retinex::app
