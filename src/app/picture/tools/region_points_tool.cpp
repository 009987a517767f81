#include "app/picture/tools/region_points_tool.h"

#include "app/picture/region_shapes.h"
#include "app/picture/region_tools.h"
#include "core/regions/outline_path.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

using regions::OutlinePoint;
using regions::Piece;
using regions::Point;
using regions::Region;
using regions::Turn;

constexpr double kPointSize = 7.0; ///< view px

} // namespace

RegionPointsTool::Grip RegionPointsTool::gripAt(const Hand& hand) const
{
    const Region* chosen = m_regions.region();
    if (!chosen) return {};
    const regions::Homography place = m_regions.placement();
    const auto isNear = [&](const Point& point) {
        const QPointF away = hand.map.toView(toQt(place(point))) - hand.at;
        return std::hypot(away.x(), away.y()) <= kRegionGrab;
    };
    const auto& pieces = chosen->area.pieces();
    for (std::size_t piece = pieces.size(); piece-- > 0;) {
        const auto points = regions::pointsAt(pieces[piece].outline, m_regions.document().frame());
        for (std::size_t i = 0; i < points.size(); ++i)
            if (isNear(points[i].at)) return {Grip::What::point, piece, i};
        for (std::size_t i = 0; i < points.size(); ++i) {
            const OutlinePoint& point = points[i];
            if (point.turn != Turn::own) continue;
            if (isNear({point.at.x + point.leaving.x, point.at.y + point.leaving.y}))
                return {Grip::What::leaving, piece, i};
            if (isNear({point.at.x + point.arriving.x, point.at.y + point.arriving.y}))
                return {Grip::What::arriving, piece, i};
        }
    }
    if (chosen->patch == regions::PatchKind::ramp) {
        if (isNear({chosen->rampX1, chosen->rampY1})) return {Grip::What::rampFrom, 0, 0};
        if (isNear({chosen->rampX2, chosen->rampY2})) return {Grip::What::rampTo, 0, 0};
    }
    const QPointF image = hand.map.toImage(hand.at);
    const int x = static_cast<int>(std::floor(image.x()));
    const int y = static_cast<int>(std::floor(image.y()));
    if (m_regions.area().contains(x, y) && m_regions.area().at(x, y) > 0.05F)
        return {Grip::What::inside, 0, 0};
    return {};
}

bool RegionPointsTool::press(const Hand& hand)
{
    m_grip = m_selected = gripAt(hand);
    m_gesture = newGesture();
    m_gripFrom =
        m_grip.what == Grip::What::inside ? fromQt(hand.map.toImage(hand.at)) : m_regions.drawn(hand);
    if (const Region* chosen = m_regions.region()) m_moveFrom = {chosen->moveX, chosen->moveY};
    emit changed();
    return true;
}

void RegionPointsTool::move(const Hand& hand)
{
    const std::string id = m_regions.chosen();
    if (m_grip.what == Grip::What::inside) {
        const Point place = fromQt(hand.map.toImage(hand.at));
        m_regions.document().changeSetting(regionPath(id, "moveX"), m_moveFrom.x + place.x - m_gripFrom.x,
                                           m_gesture);
        m_regions.document().changeSetting(regionPath(id, "moveY"), m_moveFrom.y + place.y - m_gripFrom.y,
                                           m_gesture);
    } else if (m_grip.what == Grip::What::rampFrom || m_grip.what == Grip::What::rampTo) {
        const Point end = m_regions.drawn(hand);
        const bool isFrom = m_grip.what == Grip::What::rampFrom;
        m_regions.document().changeSetting(regionPath(id, isFrom ? "ramp/x1" : "ramp/x2"), end.x, m_gesture);
        m_regions.document().changeSetting(regionPath(id, isFrom ? "ramp/y1" : "ramp/y2"), end.y, m_gesture);
    } else if (m_grip.what != Grip::What::none) {
        dragGrip(m_regions.drawn(hand));
    }
    if (isDragging()) emit changed();
}

void RegionPointsTool::release(const Hand&)
{
    m_grip = {};
    m_regions.askForArea();
    emit changed();
}

void RegionPointsTool::leave()
{
    m_grip = m_selected = {};
}

bool RegionPointsTool::key(int key)
{
    const bool removes = key == Qt::Key_Delete || key == Qt::Key_Backspace;
    if (removes && m_selected.what == Grip::What::point) {
        deletePoint(std::exchange(m_selected, {}));
        return true;
    }
    return m_regions.endsBy(key);
}

QString RegionPointsTool::hint() const
{
    return tr("drag points or the whole; double click: corner, or one more point; Delete; Enter ends");
}

void RegionPointsTool::dragGrip(const Point& place)
{
    const int frame = m_regions.document().frame();
    changePieces(
        m_regions.document(), tr("move point"), m_regions.chosen(),
        [&](std::vector<Piece>& pieces) {
            if (m_grip.piece >= pieces.size()) return;
            auto& points = pointsToChange(pieces[m_grip.piece], frame);
            if (m_grip.point >= points.size()) return;
            OutlinePoint& point = points[m_grip.point];
            const Point handle{place.x - point.at.x, place.y - point.at.y};
            if (m_grip.what == Grip::What::point) {
                point.at = place;
                return;
            }
            // The other handle stays in line, as long as it was.
            Point& own = m_grip.what == Grip::What::leaving ? point.leaving : point.arriving;
            Point& other = m_grip.what == Grip::What::leaving ? point.arriving : point.leaving;
            const double length = std::hypot(handle.x, handle.y);
            const double kept = std::hypot(other.x, other.y);
            own = handle;
            if (length > 1e-6) other = {-handle.x / length * kept, -handle.y / length * kept};
        },
        m_gesture);
}

/// On every mark of its outline.
void RegionPointsTool::changePoint(const QString& what, const Grip& grip,
                                   const std::function<void(OutlinePoint&)>& change)
{
    changePieces(m_regions.document(), what, m_regions.chosen(), [&](std::vector<Piece>& pieces) {
        if (grip.piece >= pieces.size()) return;
        for (auto& mark : pieces[grip.piece].outline)
            if (grip.point < mark.points.size()) change(mark.points[grip.point]);
    });
}

/// Three points are the least an outline has.
void RegionPointsTool::deletePoint(const Grip& grip)
{
    changePieces(m_regions.document(), tr("delete point"), m_regions.chosen(),
                 [&](std::vector<Piece>& pieces) {
                     if (grip.piece >= pieces.size()) return;
                     for (auto& mark : pieces[grip.piece].outline)
                         if (mark.points.size() > 3 && grip.point < mark.points.size())
                             mark.points.erase(mark.points.begin() + static_cast<std::ptrdiff_t>(grip.point));
                 });
}

bool RegionPointsTool::fillMenu(QMenu& menu, const Hand& hand)
{
    const Grip grip = gripAt(hand);
    if (grip.what != Grip::What::point) return false;
    const OutlinePoint point = regions::pointsAt(m_regions.region()->area.pieces()[grip.piece].outline,
                                                 m_regions.document().frame())[grip.point];
    for (const auto& [turn, words] :
         {std::pair{Turn::smooth, tr("Smooth")}, std::pair{Turn::corner, tr("Corner")}}) {
        QAction* action = menu.addAction(words, this, [this, grip, turn = turn] {
            changePoint(tr("turn of point"), grip, [turn](OutlinePoint& p) { p.turn = turn; });
        });
        action->setCheckable(true);
        action->setChecked(point.turn == turn);
    }
    QMenu* bound = menu.addMenu(tr("Bound to"));
    const auto add = [&](const QString& words, const std::string& subject) {
        QAction* action = bound->addAction(words, this, [this, grip, subject] {
            changePoint(subject.empty() ? tr("unbind point")
                                        : tr("bind point to %1").arg(QString::fromStdString(subject)),
                        grip, [&](OutlinePoint& p) { p.subject = subject; });
        });
        action->setCheckable(true);
        action->setChecked(point.subject == subject);
    };
    add(tr("nothing"), {});
    for (const auto& subject : m_regions.document().project().subjects)
        add(QString::fromStdString(subject.name), subject.name);
    menu.addSeparator();
    menu.addAction(tr("Delete point"), this, [this, grip] { deletePoint(grip); });
    return true;
}

/// On a point: corner or smooth; on an outline: one more point there.
bool RegionPointsTool::doubleClick(const Hand& hand)
{
    if (!m_regions.region()) return true;
    const Grip grip = gripAt(hand);
    const int frame = m_regions.document().frame();
    if (grip.what == Grip::What::point) {
        changePoint(tr("turn of point"), grip, [](OutlinePoint& point) {
            point.turn = point.turn == Turn::corner ? Turn::smooth : Turn::corner;
        });
        return true;
    }
    // The nearest side of any outline.
    const regions::Homography place = m_regions.placement();
    double nearest = kRegionGrab;
    std::optional<std::pair<std::size_t, std::size_t>> side;
    const auto& pieces = m_regions.region()->area.pieces();
    for (std::size_t piece = 0; piece < pieces.size(); ++piece) {
        const auto points = regions::pointsAt(pieces[piece].outline, frame);
        for (std::size_t i = 0; i < points.size(); ++i) {
            std::vector<OutlinePoint> four; // one side as piece of a whole curve
            for (std::size_t k = 0; k < points.size(); ++k)
                four.push_back(points[(i + k) % points.size()]);
            const auto curve = regions::outlineCurve(four);
            for (const Point& point : curve) {
                if (points.size() > 1 && point == points[(i + 1) % points.size()].at) break;
                const QPointF away = hand.map.toView(toQt(place(point))) - hand.at;
                if (std::hypot(away.x(), away.y()) >= nearest) continue;
                nearest = std::hypot(away.x(), away.y());
                side = {piece, i};
            }
            // Straight sides have no points between.
            const QPointF a = hand.map.toView(toQt(place(points[i].at)));
            const QPointF b = hand.map.toView(toQt(place(points[(i + 1) % points.size()].at)));
            const QPointF way = b - a;
            const double square = QPointF::dotProduct(way, way);
            const double t =
                square > 0.0 ? std::clamp(QPointF::dotProduct(hand.at - a, way) / square, 0.0, 1.0) : 0.0;
            const QPointF away = a + t * way - hand.at;
            if (points[i].turn == Turn::corner && std::hypot(away.x(), away.y()) < nearest) {
                nearest = std::hypot(away.x(), away.y());
                side = {piece, i};
            }
        }
    }
    if (!side) return true;
    const Point here = m_regions.drawn(hand);
    changePieces(m_regions.document(), tr("add point"), m_regions.chosen(), [&](std::vector<Piece>& changed) {
        // On every mark of the outline; there it lies on the middle of its side, here where it was put.
        for (auto& mark : changed[side->first].outline) {
            auto& points = mark.points;
            const OutlinePoint& a = points[side->second];
            const OutlinePoint& b = points[(side->second + 1) % points.size()];
            OutlinePoint point{{0.5 * (a.at.x + b.at.x), 0.5 * (a.at.y + b.at.y)}};
            point.turn = a.turn == Turn::corner && b.turn == Turn::corner ? Turn::corner : Turn::smooth;
            if (changed[side->first].outline.size() == 1 || mark.frame == frame) point.at = here;
            points.insert(points.begin() + static_cast<std::ptrdiff_t>(side->second) + 1, point);
        }
    });
    return true;
}

void RegionPointsTool::paint(QPainter& painter, const ImageViewMap& map)
{
    const Region* chosen = m_regions.region();
    if (!chosen) return;
    const int frame = m_regions.document().frame();
    const regions::Homography place = m_regions.placement();
    const auto& pieces = chosen->area.pieces();
    for (std::size_t piece = 0; piece < pieces.size(); ++piece) {
        const auto points = regions::pointsAt(pieces[piece].outline, frame);
        for (std::size_t i = 0; i < points.size(); ++i) {
            const OutlinePoint& point = points[i];
            const QPointF at = map.toView(toQt(place(point.at)));
            if (point.turn == Turn::own) {
                for (const Point& handle : {point.arriving, point.leaving}) {
                    const QPointF end =
                        map.toView(toQt(place({point.at.x + handle.x, point.at.y + handle.y})));
                    twice(painter, 1.0, [&] { painter.drawLine(at, end); });
                    painter.setBrush(style::text);
                    painter.setPen(QPen(QColor(20, 20, 20), 1));
                    painter.drawEllipse(end, 3.5, 3.5);
                }
            }
            const bool isSelected =
                m_selected.what == Grip::What::point && m_selected.piece == piece && m_selected.point == i;
            painter.setPen(QPen(QColor(20, 20, 20), 1.2));
            painter.setBrush(isSelected ? QColor(20, 20, 20) : style::text);
            const double half = 0.5 * kPointSize;
            const QRectF box(at.x() - half, at.y() - half, kPointSize, kPointSize);
            if (isSelected) painter.setPen(QPen(style::text, 1.6));
            if (point.turn == Turn::corner)
                painter.drawRect(box);
            else
                painter.drawEllipse(box);
            painter.setBrush(Qt::NoBrush);
        }
    }
}

} // namespace retinex::app
