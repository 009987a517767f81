#include "app/finish/curve_editor.h"

#include "app/document/gesture.h"
#include "app/look/style.h"
#include "core/finish/colour_steps.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr double kApart = 0.05; ///< stops between neighbours
constexpr double kReachPx = 9.0;

/// From here on a line is bent: its ends and the middle stay where a straight one has them.
project::Pairs straight()
{
    return {{-7.0, -7.0}, {7.0, 7.0}};
}

/// As it will be: by the processor that renders it.
std::vector<double> drawn(const project::Pairs& curve, int count, double low, double high)
{
    std::vector<double> values;
    finish::Steps steps;
    steps.finish.grade.curve = curve;
    const auto processor = finish::ColourSteps::make(steps, finish::Quality::screen);
    for (int i = 0; i <= count; ++i) {
        const double stops = low + (high - low) * i / count;
        const auto light = static_cast<float>(0.18 * std::exp2(stops));
        const float after = processor->applied({light, light, light})[1];
        values.push_back(after > 0.0F ? std::log2(static_cast<double>(after) / 0.18) : low);
    }
    return values;
}

} // namespace

CurveEditor::CurveEditor(QWidget* parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(180); // so that nothing moves under the mouse
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Curve"));
    setToolTip(
        tr("Light before, along, and after, up, in stops from mid grey. Press on the line for a point, drag "
           "it, double click takes it away."));
}

void CurveEditor::setCurve(const project::Pairs& curve, const QColor& colour)
{
    m_curve = curve;
    m_colour = colour;
    if (m_chosen && *m_chosen >= m_curve.size()) m_chosen.reset();
    update();
}

QRectF CurveEditor::area() const
{
    return QRectF(rect()).adjusted(30.0, 8.0, -8.0, -20.0);
}

QPointF CurveEditor::placeOf(double before, double after) const
{
    const QRectF box = area();
    return {box.left() + (before - kLow) / (kHigh - kLow) * box.width(),
            box.bottom() - (after - kLow) / (kHigh - kLow) * box.height()};
}

std::pair<double, double> CurveEditor::pairAt(QPointF place) const
{
    const QRectF box = area();
    return {kLow + (place.x() - box.left()) / box.width() * (kHigh - kLow),
            kLow + (box.bottom() - place.y()) / box.height() * (kHigh - kLow)};
}

std::optional<std::size_t> CurveEditor::pointNear(QPointF place) const
{
    for (std::size_t i = 0; i < m_curve.size(); ++i) {
        const QPointF away = placeOf(m_curve[i].first, m_curve[i].second) - place;
        if (std::hypot(away.x(), away.y()) <= kReachPx) return i;
    }
    return std::nullopt;
}

void CurveEditor::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = area();
    painter.fillRect(box, QColor(0x1c, 0x1c, 0x1c));
    painter.setFont(style::textFont(7.5));
    for (int stops = -8; stops <= 8; stops += 4) {
        painter.setPen(QPen(stops == 0 ? QColor(0x5a, 0x5a, 0x5a) : style::line, 1.0));
        const QPointF at = placeOf(stops, stops);
        painter.drawLine(QPointF(at.x(), box.top()), QPointF(at.x(), box.bottom()));
        painter.drawLine(QPointF(box.left(), at.y()), QPointF(box.right(), at.y()));
        painter.setPen(style::dimText);
        const QString text = stops > 0 ? QStringLiteral("+%1").arg(stops)
                                       : QString::number(stops).replace(QLatin1Char('-'), QChar(0x2212));
        painter.drawText(QRectF(at.x() - 20.0, box.bottom() + 3.0, 40.0, 14.0), Qt::AlignCenter, text);
        painter.drawText(QRectF(0.0, at.y() - 7.0, box.left() - 5.0, 14.0), Qt::AlignRight | Qt::AlignVCenter,
                         text);
    }
    painter.drawText(box.adjusted(5.0, 3.0, 0.0, 0.0), Qt::AlignLeft, tr("stops"));
    painter.setClipRect(box);
    painter.setPen(QPen(QColor(0x5a, 0x5a, 0x5a), 1.0, Qt::DashLine));
    painter.drawLine(placeOf(kLow, kLow), placeOf(kHigh, kHigh));
    painter.setPen(QPen(m_colour, 1.6));
    if (m_curve.size() < 2) {
        painter.drawLine(placeOf(kLow, kLow), placeOf(kHigh, kHigh));
    } else {
        constexpr int kSteps = 96;
        const auto values = drawn(m_curve, kSteps, kLow, kHigh);
        QPainterPath path(placeOf(kLow, values[0]));
        for (int i = 1; i <= kSteps; ++i)
            path.lineTo(placeOf(kLow + (kHigh - kLow) * i / kSteps, values[static_cast<std::size_t>(i)]));
        painter.drawPath(path);
    }
    painter.setClipping(false);
    for (std::size_t i = 0; i < m_curve.size(); ++i) {
        const QPointF at = placeOf(m_curve[i].first, m_curve[i].second);
        const bool isChosen = m_chosen == i;
        painter.setPen(QPen(m_colour, 1.4));
        painter.setBrush(isChosen ? m_colour : QColor(0x1c, 0x1c, 0x1c));
        painter.drawRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7.0, 7.0));
    }
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(style::text, 1.0));
        painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

void CurveEditor::moveTo(std::size_t index, std::pair<double, double> to, int gesture)
{
    project::Pairs changed = m_curve;
    const double left = index > 0 ? changed[index - 1].first + kApart : kLow;
    const double right = index + 1 < changed.size() ? changed[index + 1].first - kApart : kHigh;
    const double below = index > 0 ? changed[index - 1].second : kLow;
    const double above = index + 1 < changed.size() ? changed[index + 1].second : kHigh;
    changed[index] = {std::clamp(to.first, left, std::max(left, right)),
                      std::clamp(to.second, below, std::max(below, above))};
    m_curve = changed;
    update();
    emit edited(changed, gesture);
}

void CurveEditor::removePoint(std::size_t index)
{
    project::Pairs changed = m_curve;
    changed.erase(changed.begin() + static_cast<std::ptrdiff_t>(index));
    if (changed.size() < 2) changed.clear();
    m_chosen.reset();
    m_curve = changed;
    update();
    emit edited(changed, 0);
}

void CurveEditor::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || !isEnabled()) return;
    m_gesture = newGesture();
    m_chosen = pointNear(event->position());
    if (!m_chosen) {
        const auto [before, after] = pairAt(event->position());
        const project::Pairs base = m_curve.size() < 2 ? straight() : m_curve;
        const double line = m_curve.size() < 2 ? before : drawn(m_curve, 1, before, before + 1e-6).front();
        if (before < kLow || before > kHigh ||
            std::abs(placeOf(before, line).y() - event->position().y()) > 2 * kReachPx) {
            update();
            return;
        }
        project::Pairs changed = base;
        const auto place =
            std::ranges::find_if(changed, [&](const auto& pair) { return pair.first > before; });
        const bool isCrowded = std::ranges::any_of(
            changed, [&](const auto& pair) { return std::abs(pair.first - before) < 2 * kApart; });
        if (isCrowded) return;
        m_chosen = static_cast<std::size_t>(place - changed.begin());
        changed.insert(place, {before, line});
        m_curve = changed;
        moveTo(*m_chosen, {before, after}, m_gesture);
    }
    m_dragging = true;
    update();
}

void CurveEditor::mouseMoveEvent(QMouseEvent* event)
{
    if (m_dragging && m_chosen) moveTo(*m_chosen, pairAt(event->position()), m_gesture);
}

void CurveEditor::mouseReleaseEvent(QMouseEvent*)
{
    m_dragging = false;
}

void CurveEditor::mouseDoubleClickEvent(QMouseEvent* event)
{
    m_dragging = false;
    if (const auto point = pointNear(event->position())) removePoint(*point);
}

void CurveEditor::keyPressEvent(QKeyEvent* event)
{
    if (!m_chosen || *m_chosen >= m_curve.size()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 1.0 : 0.1;
    auto to = m_curve[*m_chosen];
    switch (event->key()) {
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        removePoint(*m_chosen);
        return;
    case Qt::Key_Left:
        to.first -= step;
        break;
    case Qt::Key_Right:
        to.first += step;
        break;
    case Qt::Key_Up:
        to.second += step;
        break;
    case Qt::Key_Down:
        to.second -= step;
        break;
    default:
        QWidget::keyPressEvent(event);
        return;
    }
    moveTo(*m_chosen, to, 0);
}

} // namespace retinex::app
