#include "app/finish/scope.h"

#include "app/look/style.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kColumns = 256; ///< of a waveform
constexpr int kSamples = 400; ///< of a picture's width and height

const std::array<QColor, 3> kColours{QColor(0xd8, 0x6a, 0x5c), QColor(0x7c, 0xb8, 0x6c),
                                     QColor(0x6c, 0x94, 0xd8)};

} // namespace

Scope::Scope(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("scope"));
    setFixedHeight(104);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Histogram"));
    setToolTip(tr(
        "The picture as it is on the screen: histogram, or how bright each column is. Click for the other."));
}

void Scope::setKind(Kind kind)
{
    m_kind = kind;
    setAccessibleName(kind == Kind::histogram ? tr("Histogram") : tr("Waveform"));
    update();
}

void Scope::mousePressEvent(QMouseEvent*)
{
    setKind(m_kind == Kind::histogram ? Kind::waveform : Kind::histogram);
}

void Scope::setPicture(const QImage& picture)
{
    m_picture = picture;
    m_isMeasured = false;
    update();
}

/// Only once it is seen.
void Scope::measure()
{
    m_isMeasured = true;
    for (auto& channel : m_histogram)
        channel.fill(0.0);
    std::vector<int> columns(kColumns * 256);
    const int stepX = std::max(1, m_picture.width() / kSamples);
    const int stepY = std::max(1, m_picture.height() / kSamples);
    int count = 0;
    for (int y = 0; y < m_picture.height(); y += stepY) {
        const auto* line = reinterpret_cast<const QRgb*>(m_picture.constScanLine(y));
        for (int x = 0; x < m_picture.width(); x += stepX) {
            const QRgb pixel = line[x];
            m_histogram[0][static_cast<std::size_t>(qRed(pixel))] += 1.0;
            m_histogram[1][static_cast<std::size_t>(qGreen(pixel))] += 1.0;
            m_histogram[2][static_cast<std::size_t>(qBlue(pixel))] += 1.0;
            const int luma = (2126 * qRed(pixel) + 7152 * qGreen(pixel) + 722 * qBlue(pixel)) / 10000;
            ++columns[static_cast<std::size_t>(x * kColumns / m_picture.width() * 256 + luma)];
            ++count;
        }
    }
    for (auto& channel : m_histogram)
        for (double& share : channel)
            share /= std::max(1, count);
    m_waveform = QImage(kColumns, 256, QImage::Format_RGB32);
    const double most = std::max(1.0, static_cast<double>(count) / kColumns / 24.0);
    for (int x = 0; x < kColumns; ++x)
        for (int level = 0; level < 256; ++level) {
            const double share = std::min(1.0, columns[static_cast<std::size_t>(x * 256 + level)] / most);
            const int grey = 28 + static_cast<int>(200.0 * std::sqrt(share));
            m_waveform.setPixel(x, 255 - level, qRgb(grey, grey, grey - (share > 0.0 ? 8 : 0)));
        }
}

void Scope::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    const QRectF box = QRectF(rect()).adjusted(30.0, 4.0, -8.0, m_kind == Kind::histogram ? -17.0 : -4.0);
    painter.fillRect(box, QColor(0x1c, 0x1c, 0x1c));
    painter.setFont(style::textFont(7.5));
    if (!m_picture.isNull() && !m_isMeasured) measure();
    const bool isHistogram = m_kind == Kind::histogram;
    if (!m_picture.isNull() && !isHistogram) painter.drawImage(box, m_waveform);
    for (int percent = 0; percent <= 100; percent += 50) {
        const double x = box.left() + 0.01 * percent * box.width();
        const double y = box.bottom() - 0.01 * percent * box.height();
        const QString text = QStringLiteral("%1 %").arg(percent);
        painter.setPen(QPen(style::line, 1.0));
        if (isHistogram)
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
        else
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
        painter.setPen(style::dimText);
        if (isHistogram)
            painter.drawText(QRectF(std::min(x - 20.0, width() - 40.0), box.bottom() + 2.0, 40.0, 14.0),
                             Qt::AlignCenter, text);
        else
            painter.drawText(QRectF(0.0, std::clamp(y - 7.0, 0.0, height() - 14.0), 28.0, 14.0),
                             Qt::AlignRight | Qt::AlignVCenter, text);
    }
    if (m_picture.isNull() || !isHistogram) return;
    double most = 1e-9;
    for (const auto& channel : m_histogram)
        for (std::size_t i = 1; i < 255; ++i) // the ends would make all else small
            most = std::max(most, channel[i]);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(box);
    for (std::size_t c = 0; c < 3; ++c) {
        QPainterPath path(QPointF(box.left(), box.bottom()));
        for (int i = 0; i < 256; ++i)
            path.lineTo(box.left() + i / 255.0 * box.width(),
                        box.bottom() -
                            std::min(1.0, m_histogram[c][static_cast<std::size_t>(i)] / most) * box.height());
        path.lineTo(box.right(), box.bottom());
        QColor fill = kColours[c];
        fill.setAlpha(50);
        painter.fillPath(path, fill);
        painter.setPen(QPen(kColours[c], 1.0));
        painter.drawPath(path);
    }
}

} // namespace retinex::app
