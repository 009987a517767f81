#include "app/picture/legends/depth_legend.h"

#include "app/fields/number_formats.h"
#include "app/look/style.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kBins = 64;

/// A swatch of a pattern with its words.
void swatch(QPainter& painter, QPointF at, const QColor& ground, const QColor& pen, Qt::BrushStyle pattern,
            const QString& words)
{
    const QRectF box(at, QSizeF(16, 12));
    painter.setPen(style::line);
    painter.fillRect(box, ground);
    painter.setBrush(QBrush(pen, pattern));
    painter.drawRect(box);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(style::text);
    painter.drawText(QPointF(box.right() + 8, box.bottom() - 2), words);
}

QString percent(double share)
{
    return QStringLiteral("%1 %").arg(100.0 * share, 0, 'f', 1);
}

} // namespace

DepthLegend depthLegend(const passes::FramePasses& passes, const DepthTones& tones)
{
    DepthLegend legend{tones, std::vector<float>(kBins, 0.0F), 0.0, 0.0, 0.0};
    std::size_t nearer = 0;
    std::size_t farther = 0;
    std::size_t surfaces = 0;
    for (std::size_t i = 0; i < passes.distance().size(); ++i) {
        if (passes.gaps().pixels()[i] != 0) continue;
        ++surfaces;
        const double t = tones.position(passes.distance().pixels()[i]);
        if (t < -1e-4) ++nearer;
        if (t > 1.0001) ++farther;
        if (t >= 0.0 && t <= 1.0)
            legend.histogram[static_cast<std::size_t>(
                std::min(kBins - 1, static_cast<int>((1.0 - t) * kBins)))] += 1.0F;
    }
    const auto total = static_cast<double>(std::max<std::size_t>(1, surfaces));
    legend.nearerShare = static_cast<double>(nearer) / total;
    legend.fartherShare = static_cast<double>(farther) / total;
    legend.gapShare = 1.0 - static_cast<double>(surfaces) / static_cast<double>(passes.distance().size());
    return legend;
}

void paintDepthLegend(QPainter& painter, const DepthLegend& legend, const project::Project& project,
                      int viewHeight)
{
    const double rampHeight = std::clamp(viewHeight - 140.0, 60.0, 132.0);
    painter.setFont(style::textFont(8.5));
    const QString distance = QObject::tr("distance");
    const QString pixels = QObject::tr("share of pixels");
    const auto wide = [&](const QString& words) { return painter.fontMetrics().horizontalAdvance(words); };
    const QRectF box(10.5, viewHeight - rampHeight - 92.5, std::max(190, wide(distance) + wide(pixels) + 36),
                     rampHeight + 82);
    if (box.top() < 0.0) return; // it would hide what it tells of
    painter.fillRect(box, QColor(20, 20, 20, 215));
    painter.setPen(style::line);
    painter.drawRect(box);
    painter.setPen(style::dimText);
    painter.drawText(QPointF(box.left() + 10, box.top() + 15), distance);
    painter.drawText(QRectF(box.left(), box.top() + 3, box.width() - 10, 15), Qt::AlignRight, pixels);
    const QRectF ramp(box.left() + 10, box.top() + 24, 16, rampHeight);
    for (int i = 0; i < static_cast<int>(ramp.height()); ++i) {
        const int grey = DepthTones::grey(1.0 - i / ramp.height());
        painter.fillRect(QRectF(ramp.left(), ramp.top() + i, ramp.width(), 1.2), QColor(grey, grey, grey));
    }
    // The histogram grows to the left from the right edge of the plate, far at the top.
    const float most = *std::max_element(legend.histogram.begin(), legend.histogram.end());
    QPainterPath path;
    const double right = box.right() - 10.0;
    path.moveTo(right, ramp.top());
    for (int i = 0; i < kBins; ++i) {
        const double share =
            most > 0.0F ? std::sqrt(legend.histogram[static_cast<std::size_t>(i)] / most) : 0.0;
        const double x = right - 62.0 * share;
        path.lineTo(x, ramp.top() + ramp.height() * i / kBins);
        path.lineTo(x, ramp.top() + ramp.height() * (i + 1) / kBins);
    }
    path.lineTo(right, ramp.bottom());
    path.closeSubpath();
    painter.fillPath(path, QColor(110, 110, 110));
    painter.setFont(style::numberFont(8.5));
    painter.setPen(style::text);
    for (int i = 0; i <= 4; ++i) {
        const double y = ramp.top() + ramp.height() * i / 4.0;
        painter.drawLine(QPointF(ramp.right() + 2, y), QPointF(ramp.right() + 6, y));
        painter.drawText(QPointF(ramp.right() + 10, y + 4),
                         shownDistance(project, legend.tones.distance(1.0 - i / 4.0)));
    }
    painter.setFont(style::textFont(8.5));
    const double x = ramp.left();
    double y = ramp.bottom() + 10.0;
    swatch(painter, {x, y}, QColor(40, 40, 40), QColor(130, 130, 130), Qt::HorPattern,
           QObject::tr("farther, %1").arg(percent(legend.fartherShare)));
    swatch(painter, {x, y + 16.0}, QColor(240, 240, 240), QColor(120, 120, 120), Qt::VerPattern,
           QObject::tr("nearer, %1").arg(percent(legend.nearerShare)));
    swatch(painter, {x, y + 32.0}, QColor(20, 20, 20), QColor(90, 90, 90), Qt::BDiagPattern,
           QObject::tr("gap, %1").arg(percent(legend.gapShare)));
}

namespace {

/// Speaks against the present reading, or for it.
void evidenceMark(QPainter& painter, QPointF at, bool against)
{
    if (!against) {
        painter.setPen(QPen(QColor(20, 20, 20), 3));
        painter.drawEllipse(at, 2.6, 2.6);
        painter.setPen(QPen(style::text, 1.2));
        painter.drawEllipse(at, 2.6, 2.6);
        return;
    }
    const QPolygonF triangle{{at + QPointF(0, -5.5), at + QPointF(5, 4), at + QPointF(-5, 4)}};
    painter.setPen(QPen(QColor(20, 20, 20), 1.4));
    painter.setBrush(style::trouble);
    painter.drawPolygon(triangle);
    painter.setBrush(Qt::NoBrush);
}

} // namespace

void paintEvidence(QPainter& painter, const depth::DirectionEvidence& evidence, const ImageViewMap& map,
                   int viewHeight)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    // Few enough to be told apart: no two marks within a few px of each other.
    std::vector<QPointF> drawn;
    for (const auto& sign : evidence.signs) {
        const QPointF at = map.toView(QPointF(sign.x + 0.5, sign.y + 0.5));
        const bool crowded = std::any_of(drawn.begin(), drawn.end(), [&](const QPointF& p) {
            return std::abs(p.x() - at.x()) + std::abs(p.y() - at.y()) < 13.0;
        });
        if (crowded) continue;
        drawn.push_back(at);
        evidenceMark(painter, at, !sign.largerIsFarther); // distances: larger is farther
    }
    painter.setFont(style::textFont(8.5));
    const auto words = [](bool against) {
        return against ? QObject::tr("speaks against this reading") : QObject::tr("agrees with it");
    };
    const QFontMetrics metrics = painter.fontMetrics();
    const QRectF box(
        206.5, viewHeight - 50.5,
        std::max(metrics.horizontalAdvance(words(true)), metrics.horizontalAdvance(words(false))) + 38, 40);
    painter.fillRect(box, QColor(20, 20, 20, 215));
    for (const bool against : {true, false}) {
        const double y = box.top() + (against ? 13.0 : 29.0);
        evidenceMark(painter, {box.left() + 14, y}, against);
        painter.setPen(style::text);
        painter.drawText(QPointF(box.left() + 28, y + 4), words(against));
    }
    painter.restore();
}

} // namespace retinex::app
