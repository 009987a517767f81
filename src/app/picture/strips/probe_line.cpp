#include "app/picture/strips/probe_line.h"

#include "app/look/style.h"

#include <QPainter>
#include <cmath>

namespace retinex::app {

ProbeLine::ProbeLine(Document& document, QWidget* parent) : QWidget(parent), m_document(document)
{
    setObjectName(QStringLiteral("probeLine"));
    setFixedHeight(32);
    connect(&document, &Document::projectChanged, this, qOverload<>(&QWidget::update));
}

void ProbeLine::setPicture(const Picture& picture)
{
    m_picture = picture;
    update();
}

void ProbeLine::setPoint(int x, int y)
{
    m_x = x;
    m_y = y;
    update();
}

void ProbeLine::setStatus(const QString& status)
{
    m_status = status;
    update();
}

void ProbeLine::setHint(const QString& hint)
{
    m_hint = hint;
    update();
}

std::vector<ProbeLine::Cell> ProbeLine::cells() const
{
    const auto& passes = m_picture.passes;
    if (m_x < 0 || !passes || !passes->distance().contains(m_x, m_y)) return {};
    std::vector<Cell> cells;
    cells.push_back({tr("x y"), tr("%1 %2").arg(m_x, 4).arg(m_y, 4), 104});
    if (const auto at = m_picture.placeOf(m_x, m_y); at && m_picture.values) {
        QString rgba;
        for (int c = 0; c < RgbaImage::channels; ++c)
            rgba += QString::number(m_picture.values->plane(c).at(at->x(), at->y()), 'f', 3)
                        .rightJustified(c == 0 ? 6 : 8);
        cells.push_back({tr("R G B A"), rgba, 296});
    }
    const float stored = passes->stored().at(m_x, m_y);
    cells.push_back({tr("stored"), QString::number(stored, 'g', 5), 112});
    const float distance = passes->distance().at(m_x, m_y);
    const auto& project = m_document.project();
    const bool gap = passes->gaps().at(m_x, m_y) != 0;
    cells.push_back({tr("distance"),
                     (gap && !std::isfinite(distance)) ? tr("gap")
                                                       : QString::fromStdString(optics::formatDistance(
                                                             project.metres(distance), project.unit)) +
                                                             (gap ? tr(" gap") : QString()),
                     140});
    const auto model = project.lensSettingsAt(m_picture.frame, passes->raw->pixelAspect)
                           .blurModel(passes->distance().width());
    double px = 2.0 * model.radiusPx(distance);
    if (passes->blur())
        px = 2.0 * static_cast<double>(passes->blur()->radius(static_cast<float>(0.5 * px), m_x, m_y));
    const double coc = px / model.pxPerMm;
    cells.push_back(
        {tr("CoC"), tr("%1 px  %2 mm").arg(std::abs(px), 0, 'f', 1).arg(std::abs(coc), 0, 'f', 3), 176});
    return cells;
}

QString ProbeLine::text() const
{
    QStringList parts;
    for (const Cell& cell : cells())
        parts.push_back(cell.name + QLatin1Char(' ') + cell.value.simplified());
    return parts.join(QStringLiteral("  "));
}

void ProbeLine::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), style::panel);
    int x = 10;
    const int statusWidth = m_status.isEmpty() ? 0 : painter.fontMetrics().horizontalAdvance(m_status) + 20;
    for (const Cell& cell : cells()) {
        if (x + cell.width > width() - statusWidth) break;
        painter.setFont(style::textFont(8.5));
        painter.setPen(style::dimText);
        painter.drawText(QRect(x, 0, cell.width, height()), Qt::AlignVCenter | Qt::AlignLeft, cell.name);
        const int nameWidth = painter.fontMetrics().horizontalAdvance(cell.name) + 8;
        painter.setFont(style::columnFont(8.5));
        painter.setPen(style::text);
        painter.drawText(QRect(x + nameWidth, 0, cell.width - nameWidth, height()),
                         Qt::AlignVCenter | Qt::AlignLeft, cell.value);
        x += cell.width + 8;
    }
    painter.setFont(style::textFont(8.5));
    painter.setPen(style::dimText);
    if (x == 10 && m_picture.passes)
        painter.drawText(rect().adjusted(10, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
                         m_hint.isEmpty() ? tr("Click in the picture to put the focal plane there") : m_hint);
    painter.drawText(rect().adjusted(0, 0, -10, 0), Qt::AlignVCenter | Qt::AlignRight, m_status);
}

} // namespace retinex::app
