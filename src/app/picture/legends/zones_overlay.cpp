#include "app/picture/legends/zones_overlay.h"

#include "app/look/style.h"
#include "core/optics/units.h"
#include "core/system/run.h"

#include <QObject>
#include <QPainter>
#include <cmath>

namespace retinex::app {

int hatchSpacing(double cocOverAccepted)
{
    return cocOverAccepted > kHatchSteps[2] ? 8 : cocOverAccepted > kHatchSteps[1] ? 16 : 32;
}

namespace {

/// Distances that the contours lie on, in scene units.
struct Contours
{
    double nearLimit;
    double focus;
    double farLimit; ///< may be +inf
};

/// True on a hatch line through device px (x, y): every 32 px at the limit, then 16, and at last 8 as CoC
/// grows.
bool onHatch(int x, int y, bool nearSide, double cocOverAccepted)
{
    const int run = nearSide ? x + y : x - y;
    const int spacing = hatchSpacing(cocOverAccepted);
    return ((run % spacing) + spacing) % spacing == 0;
}

/// A contour runs between neighbours on one surface; a jump from one surface to another is no contour.
bool crosses(float a, float b, double level)
{
    return (a < level) != (b < level) && std::abs(a - b) < 0.1F * std::min(a, b);
}

} // namespace

QImage zonesOverlay(const Plane<float>& distance, const BlurShare* blur, const project::Project& project,
                    int frame, const ImageViewMap& map, QSize size, double devicePixelRatio)
{
    QImage overlay(size, QImage::Format_ARGB32_Premultiplied);
    overlay.fill(Qt::transparent);
    const auto lens = project.lensAt(frame, distance.width());
    const double pxPerMm = project.lensSettingsAt(frame).blurModel(distance.width()).pxPerMm;
    const double acceptedCoc = project.valuesAt(frame).acceptedCocMm;
    const auto zone = optics::sharpZone(lens, acceptedCoc);
    const Contours contours{project.fromMillimetres(zone.nearMm), project.focusDistanceAt(frame),
                            project.fromMillimetres(zone.farMm)};
    const QRgb light = qPremultiply(qRgba(245, 245, 245, 84));
    const QRgb dark = qPremultiply(qRgba(0, 0, 0, 90));
    // Lines are two device px wide on a screen of double resolution.
    const int thickness = std::max(1, static_cast<int>(std::lround(devicePixelRatio)));
    const int contour = 3 * thickness; // stands out from the hatching
    const auto at = [&](int x, int y, float& value) {
        const QPointF p = map.toImage(QPointF(x + 0.5, y + 0.5) / devicePixelRatio);
        const int ix = static_cast<int>(std::floor(p.x()));
        const int iy = static_cast<int>(std::floor(p.y()));
        if (!distance.contains(ix, iy)) return false;
        value = distance.at(ix, iy);
        return true;
    };
    parallelFor(size.height(), {}, [&](int y) {
        auto* line =
            reinterpret_cast<QRgb*>(overlay.bits() + static_cast<qsizetype>(y) * overlay.bytesPerLine());
        for (int x = 0; x < size.width(); ++x) {
            float here = 0.0F;
            if (!at(x, y, here)) continue;
            float right = here;
            float below = here;
            (void)at(x + contour, y, right);
            (void)at(x, y + contour, below);
            const auto onContour = [&](double level) {
                return crosses(here, right, level) || crosses(here, below, level);
            };
            if (onContour(contours.focus)) {
                line[x] = style::focal.rgba();
            } else if (onContour(contours.nearLimit)) {
                line[x] = style::nearSide.rgba();
            } else if (onContour(contours.farLimit)) {
                line[x] = style::farSide.rgba();
            } else {
                const bool nearer = here < contours.nearLimit;
                if (!blur && !nearer && !(here > contours.farLimit)) continue;
                double coc = std::abs(circleOfConfusionMm(lens, project.millimetres(here)));
                if (blur) {
                    const QPointF p = map.toImage(QPointF(x + 0.5, y + 0.5) / devicePixelRatio);
                    coc = 2.0 / pxPerMm *
                          std::abs(static_cast<double>(blur->radius(static_cast<float>(0.5 * coc * pxPerMm),
                                                                    static_cast<int>(std::floor(p.x())),
                                                                    static_cast<int>(std::floor(p.y())))));
                    if (coc <= acceptedCoc) continue;
                }
                const int hx = x / thickness;
                const int hy = y / thickness;
                if (onHatch(hx, hy, nearer, coc / acceptedCoc))
                    line[x] = light;
                else if (onHatch(hx - 1, hy, nearer, coc / acceptedCoc))
                    line[x] = dark;
            }
        }
    });
    return overlay;
}

void paintZonesLegend(QPainter& painter, const project::Project& project, int frame, int pictureWidth,
                      int viewHeight)
{
    const auto zone =
        optics::sharpZone(project.lensAt(frame, pictureWidth), project.valuesAt(frame).acceptedCocMm);
    const struct
    {
        QColor colour;
        QString name;
        double metres;
    } rows[3] = {{style::farSide, QObject::tr("far limit"), zone.farMm / 1000.0},
                 {style::focal, QObject::tr("focal plane"), project.metres(project.focusDistanceAt(frame))},
                 {style::nearSide, QObject::tr("near limit"), zone.nearMm / 1000.0}};
    const double accepted = project.valuesAt(frame).acceptedCocMm;
    painter.setFont(style::textFont(8.5));
    int names = painter.fontMetrics().horizontalAdvance(QObject::tr("CoC from"));
    for (const auto& row : rows)
        names = std::max(names, painter.fontMetrics().horizontalAdvance(row.name));
    const QRectF box(10.5, viewHeight - 130.5, std::max(206, names + 128), 120);
    if (box.top() < 0.0) return; // it would hide what it tells of
    style::plate(painter, box);
    for (int i = 0; i < 3; ++i) {
        const double y = box.top() + 15 + 18 * i;
        painter.setPen(QPen(rows[i].colour, 2));
        painter.drawLine(QPointF(box.left() + 8, y), QPointF(box.left() + 30, y));
        painter.setPen(style::text);
        painter.setFont(style::textFont(8.5));
        painter.drawText(QPointF(box.left() + 38, y + 4), rows[i].name);
        painter.setFont(style::numberFont(8.5));
        painter.drawText(QRectF(box.left() + 100, y - 8, box.width() - 108, 16),
                         Qt::AlignRight | Qt::AlignVCenter,
                         QString::fromStdString(optics::formatDistance(rows[i].metres, project.unit)));
    }
    for (int i = 0; i < 3; ++i) {
        const QRectF swatch(box.left() + 8, box.top() + 63 + 18 * i, 22, 12);
        painter.save();
        painter.setClipRect(swatch);
        painter.setPen(QPen(style::dimText, 1));
        const int spacing = hatchSpacing(1.01 * kHatchSteps[i]) / 2; // as it looks, in a small field
        for (double x = swatch.left() - 12; x < swatch.right(); x += spacing)
            painter.drawLine(QPointF(x, swatch.top()), QPointF(x + 12, swatch.bottom()));
        painter.restore();
        painter.setPen(style::text);
        painter.setFont(style::textFont(8.5));
        painter.drawText(QPointF(box.left() + 38, swatch.bottom() - 1), QObject::tr("CoC from"));
        painter.setFont(style::numberFont(8.5));
        painter.drawText(QRectF(box.left() + 100, swatch.top() - 2, box.width() - 108, 16),
                         Qt::AlignRight | Qt::AlignVCenter,
                         QObject::tr("%1 mm").arg(kHatchSteps[i] * accepted, 0, 'g', 3));
    }
}

} // namespace retinex::app
