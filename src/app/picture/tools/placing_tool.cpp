#include "app/picture/tools/placing_tool.h"

#include "app/look/style.h"
#include "app/picture/region_shapes.h"
#include "core/frame/places/insert_pictures.h"
#include "core/frame/places/region_places.h"
#include "core/system/error.h"

#include <QPolygonF>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

using inserts::Insert;
using inserts::Placing;
using inserts::Point;

constexpr double kReach = 9.0;     ///< of handles, view px
constexpr double kKnobAway = 26.0; ///< of the turn knob above the upper side, view px
constexpr double kSnap = 7.0;      ///< view px
constexpr int kGridLines = 8;

Point middleOf(const std::array<Point, 4>& corners)
{
    Point sum{};
    for (const Point& corner : corners)
        sum = {sum.x + 0.25 * corner.x, sum.y + 0.25 * corner.y};
    return sum;
}

/// Beyond the middle of the upper side, away from the middle of all.
QPointF knobOf(const std::array<Point, 4>& corners, const ImageViewMap& map)
{
    const QPointF top = 0.5 * (map.toView(toQt(corners[0])) + map.toView(toQt(corners[1])));
    const QPointF away = top - map.toView(toQt(middleOf(corners)));
    const double length = std::hypot(away.x(), away.y());
    return length > 1e-6 ? top + away * (kKnobAway / length) : top - QPointF(0.0, kKnobAway);
}

double near(QPointF a, QPointF b)
{
    return std::hypot(a.x() - b.x(), a.y() - b.y());
}

} // namespace

PlacingTool::PlacingTool(Document& document, QObject* parent) : Tool(parent), m_document(document)
{
    connect(&document, &Document::projectChanged, this, [this] {
        if (!m_chosen.empty() && !insert()) choose({});
        emit changed();
    });
    connect(&document, &Document::opened, this, [this] {
        setPlacing(false);
        choose({});
    });
}

void PlacingTool::choose(const std::string& id)
{
    if (id == m_chosen) return;
    m_chosen = id;
    if (id.empty()) setPlacing(false);
    emit chosenChanged();
    emit changed();
}

void PlacingTool::setPlacing(bool on)
{
    on = on && insert();
    if (on == m_isPlacing) return;
    m_isPlacing = on;
    m_grip = Grip::none;
    emit placingChanged();
    emit changed();
}

std::optional<std::array<Point, 4>> PlacingTool::corners() const
{
    const Insert* its = insert();
    const auto& source = m_document.source();
    if (!its || !source) return std::nullopt;
    try {
        return frame::insertCorners(*source, m_document.project(), *its, m_document.frame());
    } catch (const Error&) { // said where it is rendered
        return std::nullopt;
    }
}

/// As placed: before its subjects move it.
Point PlacingTool::placeOf(QPointF at, const ImageViewMap& map) const
{
    const QPointF image = map.toImage(at);
    const Point place{image.x(), image.y()};
    const Insert* its = insert();
    if (!its || its->follows.empty() || !m_document.source()) return place;
    try {
        const auto back = frame::regionPlacement(*m_document.source(), m_document.project(),
                                                 frame::carrierOf(*its), m_document.frame())
                              .inverse();
        return back ? (*back)(place) : place;
    } catch (const Error&) {
        return place;
    }
}

std::pair<PlacingTool::Grip, std::size_t> PlacingTool::gripAt(QPointF at, const ImageViewMap& map) const
{
    const auto seen = corners();
    if (!seen) return {Grip::none, 0};
    std::array<QPointF, 4> places;
    for (std::size_t i = 0; i < 4; ++i)
        places[i] = map.toView(toQt((*seen)[i]));
    for (std::size_t i = 0; i < 4; ++i)
        if (near(at, places[i]) <= kReach) return {Grip::corner, i};
    if (near(at, knobOf(*seen, map)) <= kReach) return {Grip::turn, 0};
    for (std::size_t i = 0; i < 4; ++i)
        if (near(at, 0.5 * (places[i] + places[(i + 1) % 4])) <= kReach) return {Grip::side, i};
    const QPolygonF outline(QList<QPointF>(places.begin(), places.end()));
    return {outline.containsPoint(at, Qt::OddEvenFill) ? Grip::inside : Grip::none, 0};
}

bool PlacingTool::press(const Hand& hand)
{
    const auto [grip, index] = gripAt(hand.at, hand.map);
    const Insert* its = insert();
    if (grip == Grip::none || !its) return true; // a click beside it does nothing
    m_grip = grip;
    m_index = index;
    m_gesture = newGesture();
    m_from = placeOf(hand.at, hand.map);
    m_before = *its;
    m_before.follows.clear();
    if (const auto& source = m_document.source())
        m_cornersBefore = frame::insertCorners(*source, m_document.project(), m_before, m_document.frame());
    return true;
}

Point PlacingTool::snapped(Point place, const ImageViewMap& map) const
{
    const auto& source = m_document.source();
    if (!source) return place;
    const double reach = kSnap / map.scale();
    const auto one = [reach](double value, double size) {
        for (const double line : {0.0, 0.5 * size, size})
            if (std::abs(value - line) <= reach) return line;
        return value;
    };
    return {one(place.x, source->width()), one(place.y, source->height())};
}

void PlacingTool::move(const Hand& hand)
{
    if (m_grip == Grip::none) return;
    Point place = placeOf(hand.at, hand.map);
    if (m_grip == Grip::corner) place = snapped(place, hand.map);
    drag(place);
}

/// Each corner by itself, two of a side, or all of them.
void PlacingTool::dragByCorners(Insert& changed, const Point& to) const
{
    const Point by{to.x - m_from.x, to.y - m_from.y};
    const auto moved = [&](std::size_t i) {
        changed.corners[i] = {m_before.corners[i].x + by.x, m_before.corners[i].y + by.y};
    };
    // What is dragged is counted as it is seen; a mirrored one has its left on the right.
    const auto own = [&](std::size_t i) { return changed.isMirrored ? (i ^ 1U) : i; };
    switch (m_grip) {
    case Grip::corner:
        changed.corners[own(m_index)] = to;
        break;
    case Grip::side:
        moved(own(m_index));
        moved(own((m_index + 1) % 4));
        break;
    case Grip::turn: {
        const Point middle = middleOf(m_before.corners);
        const double from = std::atan2(m_from.y - middle.y, m_from.x - middle.x);
        const double now = std::atan2(to.y - middle.y, to.x - middle.x);
        const auto turn = regions::Homography::about(middle, (from - now) * 180.0 / std::acos(-1.0), 1.0);
        for (std::size_t i = 0; i < 4; ++i)
            changed.corners[i] = turn(m_before.corners[i]);
        break;
    }
    default:
        for (std::size_t i = 0; i < 4; ++i)
            moved(i);
    }
}

/// Upright ones and backdrops keep their form: a corner or a side resizes about what lies opposite.
void PlacingTool::dragAsAWhole(Insert& changed, const Point& to) const
{
    const Point middle = middleOf(m_cornersBefore);
    if (m_grip == Grip::inside) {
        changed.moveX = m_before.moveX + to.x - m_from.x;
        changed.moveY = m_before.moveY + to.y - m_from.y;
        return;
    }
    if (m_grip == Grip::turn) {
        const double from = std::atan2(m_from.y - middle.y, m_from.x - middle.x);
        const double now = std::atan2(to.y - middle.y, to.x - middle.x);
        changed.turnDeg = m_before.turnDeg + (from - now) * 180.0 / std::acos(-1.0);
        return;
    }
    const auto place = [&](std::size_t i) {
        const Point& corner = m_cornersBefore[i % 4];
        if (m_grip == Grip::corner) return corner;
        const Point& next = m_cornersBefore[(i + 1) % 4];
        return Point{0.5 * (corner.x + next.x), 0.5 * (corner.y + next.y)};
    };
    const Point fixed = place(m_index + 2);
    const Point held = place(m_index);
    const Point along{held.x - fixed.x, held.y - fixed.y};
    const double square = along.x * along.x + along.y * along.y;
    if (square < 1e-9) return;
    const double scale = std::max(0.01, ((to.x - fixed.x) * along.x + (to.y - fixed.y) * along.y) / square);
    if (changed.isBackdrop())
        changed.size = std::clamp(m_before.size * scale, 0.01, 100.0);
    else
        changed.widthPx = std::max(1.0, m_before.widthPx * scale);
    const double kept =
        changed.isBackdrop() ? changed.size / m_before.size : changed.widthPx / m_before.widthPx;
    changed.moveX = m_before.moveX + (kept - 1.0) * (middle.x - fixed.x);
    changed.moveY = m_before.moveY + (kept - 1.0) * (middle.y - fixed.y);
}

void PlacingTool::drag(const Point& to)
{
    placeInsert(
        m_document, tr("place %1").arg(QString::fromStdString(m_before.name)), m_chosen,
        [&](Insert& changed) {
            if (changed.placing == Placing::corners)
                dragByCorners(changed, to);
            else
                dragAsAWhole(changed, to);
        },
        m_gesture);
}

void PlacingTool::release(const Hand&)
{
    const bool was = m_grip != Grip::none;
    m_grip = Grip::none;
    if (was) emit changed();
}

bool PlacingTool::key(int key)
{
    if (key == Qt::Key_Escape || key == Qt::Key_Return || key == Qt::Key_Enter) {
        setPlacing(false);
        return true;
    }
    return false;
}

void PlacingTool::paint(QPainter& painter, const ImageViewMap& map)
{
    const auto seen = corners();
    if (!seen) return;
    QPolygonF outline;
    for (const Point& corner : *seen)
        outline.append(map.toView(toQt(corner)));
    const QPointF knob = knobOf(*seen, map);
    painter.setRenderHint(QPainter::Antialiasing, true);
    // While corners are moved, the plane they span.
    const auto grid = m_grip != Grip::none && insert()->placing == Placing::corners
                          ? inserts::placementTo(*seen, 1.0, 1.0)
                          : std::nullopt;
    for (const auto& [colour, width] : {std::pair{QColor(20, 20, 20), 3.2}, std::pair{style::text, 1.3}}) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(colour, width));
        painter.drawPolygon(outline);
        painter.drawLine(0.5 * (outline[0] + outline[1]), knob);
        if (!grid) continue;
        painter.setPen(QPen(colour, 0.45 * width));
        for (int i = 1; i < kGridLines; ++i) {
            const double t = static_cast<double>(i) / kGridLines;
            for (const auto& [from, to] :
                 {std::pair{Point{t, 0}, Point{t, 1}}, std::pair{Point{0, t}, Point{1, t}}})
                painter.drawLine(map.toView(toQt((*grid)(from))), map.toView(toQt((*grid)(to))));
        }
    }
    painter.setPen(QPen(QColor(20, 20, 20), 1.2));
    painter.setBrush(style::text);
    for (int i = 0; i < 4; ++i) {
        painter.drawRect(QRectF(outline[i] - QPointF(4.5, 4.5), QSizeF(9, 9)));
        const QPointF side = 0.5 * (outline[i] + outline[(i + 1) % 4]);
        painter.drawRect(QRectF(side - QPointF(3.0, 3.0), QSizeF(6, 6)));
    }
    painter.drawEllipse(knob, 5.0, 5.0);
    painter.setRenderHint(QPainter::Antialiasing, false);
}

QString PlacingTool::hint() const
{
    return tr("Drag corners, sides, the knob to turn, or the inside to move; Escape when it lies well");
}

} // namespace retinex::app
