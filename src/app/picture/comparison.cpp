#include "app/picture/comparison.h"

#include "app/look/style.h"

#include <QObject>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr double kGrab = 6.0; ///< px around the wipe's line

/// On a plate at the top, at the left or the right end of what lies from `left` to `right`.
void paintWords(QPainter& painter, const QString& words, double left, double right, bool atRight,
                Qt::TextElideMode elide = Qt::ElideRight)
{
    painter.setFont(style::textFont(8.5));
    const double room = right - left - 20;
    if (room < 40) return;
    const QString fitting = painter.fontMetrics().elidedText(words, elide, static_cast<int>(room - 16));
    const double width = painter.fontMetrics().horizontalAdvance(fitting) + 16;
    const QRectF box((atRight ? right - width - 10 : left + 10) + 0.5, 10.5, width, 24);
    style::plate(painter, box);
    painter.setPen(style::text);
    painter.drawText(box, Qt::AlignCenter, fitting);
}

} // namespace

void Comparison::setWipeX(double x, double width)
{
    m_wipe = std::clamp(x / std::max(1.0, width), 0.0, 1.0);
}

bool Comparison::isOnWipe(double x, double width) const
{
    return showsWipe() && std::abs(x - wipeX(width)) <= kGrab;
}

void Comparison::paint(QPainter& painter, const Picture& first, QSizeF view, double devicePixelRatio,
                       const Draw& draw) const
{
    const bool ready = !other.image.isNull();
    const double width = view.width();
    const auto clipped = [&](const Picture& picture, double left, double right, double shift) {
        painter.save();
        painter.setClipRect(QRectF(left, 0, right - left, view.height()));
        painter.translate(shift, 0);
        draw(painter, picture);
        painter.restore();
    };
    if (isHeld || mode == Mode::off) {
        draw(painter, isHeld && ready ? other : first);
        if (isHeld) paintWords(painter, names[1], 0, width, false);
        return;
    }
    if (mode == Mode::wipe) {
        const double x = std::round(wipeX(width));
        clipped(first, 0, x, 0);
        if (ready) clipped(other, x, width, 0);
        painter.fillRect(QRectF(x - 1.5, 0, 3, view.height()), QColor(20, 20, 20));
        painter.fillRect(QRectF(x - 0.5, 0, 1, view.height()), style::text);
        // A handle that says what can be done.
        painter.fillRect(QRectF(x - 4, view.height() / 2 - 16, 8, 32), style::text);
        paintWords(painter, names[0], 0, x - 2, false);
        paintWords(painter, names[1], x + 2, width, true);
    } else if (mode == Mode::sideBySide) {
        const double half = std::floor(0.5 * width);
        clipped(first, 0, half, 0);
        if (ready) clipped(other, half, width, half);
        painter.fillRect(QRectF(half - 1, 0, 2, view.height()), style::well);
        paintWords(painter, names[0], 0, half, false);
        paintWords(painter, names[1], half, width, false);
    } else {
        paintDifference(painter, first, view, devicePixelRatio, draw);
    }
}

void Comparison::paintDifference(QPainter& painter, const Picture& first, QSizeF view,
                                 double devicePixelRatio, const Draw& draw) const
{
    if (other.image.isNull()) {
        draw(painter, first);
        return;
    }
    // Of what is seen: the two may be made as different parts and sizes.
    const auto seen = [&](const Picture& picture) {
        QImage image((view * devicePixelRatio).toSize(), QImage::Format_RGB32);
        image.setDevicePixelRatio(devicePixelRatio);
        image.fill(Qt::black);
        QPainter onto(&image);
        draw(onto, picture);
        return image;
    };
    int largest = 0;
    const QImage difference = differenceOf(seen(first), seen(other), gain, largest);
    painter.drawImage(QPointF(0, 0), difference);
    const QString words = QObject::tr("difference of %1 and %2, × %3; the largest in sight is %4 of 255")
                              .arg(names[0], names[1])
                              .arg(gain)
                              .arg(largest);
    paintWords(painter, words, 0, view.width(), false, Qt::ElideMiddle);
}

QImage differenceOf(const QImage& first, const QImage& second, int gain, int& largest)
{
    QImage result(first.size(), QImage::Format_RGB32);
    result.setDevicePixelRatio(first.devicePixelRatio());
    largest = 0;
    for (int y = 0; y < first.height(); ++y) {
        const auto* a = reinterpret_cast<const QRgb*>(first.constScanLine(y));
        const auto* b = reinterpret_cast<const QRgb*>(second.constScanLine(y));
        auto* out = reinterpret_cast<QRgb*>(result.scanLine(y));
        for (int x = 0; x < first.width(); ++x) {
            const int red = std::abs(qRed(a[x]) - qRed(b[x]));
            const int green = std::abs(qGreen(a[x]) - qGreen(b[x]));
            const int blue = std::abs(qBlue(a[x]) - qBlue(b[x]));
            largest = std::max({largest, red, green, blue});
            out[x] = qRgb(std::min(255, red * gain), std::min(255, green * gain), std::min(255, blue * gain));
        }
    }
    return result;
}

} // namespace retinex::app
