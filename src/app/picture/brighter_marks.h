#pragma once

#include "app/jobs/background.h"
#include "app/picture/image_view_map.h"
#include "core/image/image.h"

#include <QImage>
#include <QPainter>
#include <QTimer>

namespace retinex::app {

/// Hatches what is brighter than a level, for a moment: while a level is dragged. The picture is looked
/// through in the background.
class BrighterMarks : public QObject
{
    Q_OBJECT

public:
    explicit BrighterMarks(QObject* parent = nullptr);

    /// `colour` is of the whole frame; of `words` %1 becomes the level and %2 how many pixels there are.
    void show(std::shared_ptr<const RgbaImage> colour, double level, const QString& words);
    [[nodiscard]] bool isShown() const noexcept { return m_shownFor.isActive() || m_work.isBusy(); }
    [[nodiscard]] int count() const noexcept { return m_count; }
    void paint(QPainter& painter, const ImageViewMap& map, int viewWidth) const;

signals:
    void changed(); ///< the picture wants to be painted anew

private:
    Background m_work;
    QTimer m_shownFor;
    QImage m_marks;
    QString m_words;
    int m_count = 0;
};

} // namespace retinex::app
