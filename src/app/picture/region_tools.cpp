#include "app/picture/region_tools.h"

#include "app/picture/region_shapes.h"
#include "core/frame/depends_on.h"
#include "core/frame/places/region_places.h"
#include "core/regions/outline_path.h"
#include "core/system/error.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

using regions::Joining;
using regions::OutlinePoint;
using regions::Part;
using regions::PartKind;
using regions::Point;
using regions::Region;
using regions::Turn;

constexpr double kPointGrab = 10.0; ///< view px around a point
constexpr double kLeastStep = 1.5;  ///< frame px between the places of a stroke
constexpr double kLeastShape = 2.0; ///< frame px: what is smaller was a click
constexpr double kDragStarts = 3.0; ///< view px

double apart(const Point& a, const Point& b)
{
    return std::hypot(a.x - b.x, a.y - b.y);
}

QString brushKey(const char* name)
{
    return QStringLiteral("regions/brush/%1").arg(QLatin1String(name));
}

} // namespace

RegionTools::RegionTools(Document& document, QObject* parent) : QObject(parent), m_document(document)
{
    const QSettings settings;
    m_brush.radiusPx = settings.value(brushKey("radius"), 40.0).toDouble();
    m_brush.softness = settings.value(brushKey("softness"), 0.6).toDouble();
    m_brush.strength = settings.value(brushKey("strength"), 1.0).toDouble();
    connect(&document, &Document::projectChanged, this, &RegionTools::projectChanged);
    connect(&document, &Document::frameChanged, this, &RegionTools::projectChanged);
    connect(&document, &Document::opened, this, [this] {
        m_work.drop();
        m_area = {};
        m_areaKey.clear();
        choose({});
        leave();
    });
}

void RegionTools::begin(RegionTool tool, RegionStart start)
{
    m_isNew = true;
    m_start = start;
    m_joining = Joining::add;
    setTool(tool);
}

void RegionTools::addTo(RegionTool tool, Joining joining)
{
    m_isNew = !region();
    m_start = RegionStart::plain;
    m_joining = joining;
    setTool(tool);
}

void RegionTools::setTool(RegionTool tool)
{
    m_tool = tool;
    m_points.clear();
    m_from.reset();
    m_painting = false;
    m_brush.points.clear();
    m_grip = m_selected = {};
    askForArea();
    emit toolChanged();
    emit changed();
}

void RegionTools::choose(const std::string& id)
{
    if (id == m_chosen) return;
    m_chosen = id;
    m_grip = m_selected = {};
    m_area = {};
    m_areaKey.clear();
    askForArea();
    emit chosenChanged();
    emit changed();
}

void RegionTools::setShown(bool shown)
{
    m_isShown = shown;
    askForArea();
    emit changed();
}

void RegionTools::setAlone(bool alone)
{
    if (alone == m_isAlone) return;
    m_isAlone = alone;
    askForArea();
    emit changed();
}

void RegionTools::setBrush(double radiusPx, double softness, double strength)
{
    m_brush.radiusPx = std::clamp(radiusPx, 1.0, 2000.0);
    m_brush.softness = std::clamp(softness, 0.0, 1.0);
    m_brush.strength = std::clamp(strength, 0.01, 1.0);
    QSettings settings;
    settings.setValue(brushKey("radius"), m_brush.radiusPx);
    settings.setValue(brushKey("softness"), m_brush.softness);
    settings.setValue(brushKey("strength"), m_brush.strength);
    emit brushChanged();
    emit changed();
}

void RegionTools::setErases(bool erases)
{
    m_brush.erases = erases;
    emit brushChanged();
    emit changed();
}

void RegionTools::growBrush(double factor)
{
    setBrush(m_brush.radiusPx * factor, m_brush.softness, m_brush.strength);
}

void RegionTools::projectChanged()
{
    if (!m_chosen.empty() && !region()) choose({});
    askForArea();
    emit changed();
}

/// The area is made in the background; what is drawn shows at once by its outline.
void RegionTools::askForArea()
{
    const Region* chosen = region();
    // A drag has no time for it: the outline shows where it goes.
    if (!chosen || !m_document.isOpen() || !(isShown() || m_isAlone) || m_grip.what != Grip::What::none)
        return;
    const auto& project = m_document.project();
    const int frame = m_document.frame();
    // The area and where it lies, whatever the region does and whether it is on; under an id that has no
    // marks.
    Region asked;
    asked.id = "area";
    asked.area = chosen->area;
    asked.inverted = chosen->inverted;
    asked.growPx = chosen->growPx;
    asked.featherPx = chosen->featherPx;
    asked.followsEdges = chosen->followsEdges;
    asked.follows = chosen->follows;
    asked.followsFrom = chosen->followsFrom;
    asked.moveX = chosen->moveX;
    asked.moveY = chosen->moveY;
    asked.turnDeg = chosen->turnDeg;
    asked.size = chosen->size;
    asked.share = 0.0;
    project::Project alone = project;
    alone.shotAt(frame).settings.regions = {asked};
    std::string key = std::to_string(frame) +
                      frame::fingerprint(*m_document.source(), alone, frame, project::Stage::regions);
    if (key == m_areaKey) return;
    m_areaKey = std::move(key);
    m_work.start(tr("Showing a region"), [this, source = m_document.source(),
                                          project = std::make_shared<const project::Project>(project), asked,
                                          frame](const Background::Task& task) {
        const Run run{0, {}, task.stop()};
        Plane<float> area;
        try {
            area = frame::regionCoverage(*source, *project,
                                         frame::placedRegion(*source, *project, asked, frame), frame, run);
        } catch (const Error&) {
            // the picture says what is wrong with the frame
        }
        task.post([this, made = std::make_shared<Plane<float>>(std::move(area))] {
            m_area = std::move(*made);
            m_hatchingKey.clear();
            emit changed();
        });
    });
}

regions::Homography RegionTools::placement() const
{
    const Region* chosen = region();
    if (!chosen || m_isNew) return {};
    try {
        return frame::regionPlacement(*m_document.source(), m_document.project(), *chosen,
                                      m_document.frame());
    } catch (const Error&) {
        return {};
    }
}

Point RegionTools::drawn(QPointF at, const ImageViewMap& map) const
{
    const Point place = fromQt(map.toImage(at));
    const auto back = placement().inverse();
    return back ? (*back)(place) : place;
}

RegionTools::Grip RegionTools::gripAt(QPointF at, const ImageViewMap& map) const
{
    const Region* chosen = region();
    if (!chosen) return {};
    const regions::Homography place = placement();
    const auto isNear = [&](const Point& point) {
        const QPointF away = map.toView(toQt(place(point))) - at;
        return std::hypot(away.x(), away.y()) <= kPointGrab;
    };
    const auto& parts = chosen->area.parts();
    for (std::size_t part = parts.size(); part-- > 0;) {
        const auto points = regions::pointsAt(parts[part].outline, m_document.frame());
        for (std::size_t i = 0; i < points.size(); ++i)
            if (isNear(points[i].at)) return {Grip::What::point, part, i};
        for (std::size_t i = 0; i < points.size(); ++i) {
            const OutlinePoint& point = points[i];
            if (point.turn != Turn::own) continue;
            if (isNear({point.at.x + point.leaving.x, point.at.y + point.leaving.y}))
                return {Grip::What::leaving, part, i};
            if (isNear({point.at.x + point.arriving.x, point.at.y + point.arriving.y}))
                return {Grip::What::arriving, part, i};
        }
    }
    if (chosen->patch == regions::PatchKind::ramp) {
        if (isNear({chosen->rampX1, chosen->rampY1})) return {Grip::What::rampFrom, 0, 0};
        if (isNear({chosen->rampX2, chosen->rampY2})) return {Grip::What::rampTo, 0, 0};
    }
    const QPointF image = map.toImage(at);
    const int x = static_cast<int>(std::floor(image.x()));
    const int y = static_cast<int>(std::floor(image.y()));
    if (m_area.contains(x, y) && m_area.at(x, y) > 0.05F) return {Grip::What::inside, 0, 0};
    return {};
}

bool RegionTools::press(QPointF at, const ImageViewMap& map, Qt::KeyboardModifiers modifiers, double pressure)
{
    if (m_tool == RegionTool::none) return false;
    m_at = at;
    const Point place = fromQt(map.toImage(at));
    switch (m_tool) {
    case RegionTool::none:
        break;
    case RegionTool::outline: {
        if (m_points.size() >= 3) {
            const QPointF away = map.toView(toQt(m_points.front().at)) - at;
            if (std::hypot(away.x(), away.y()) <= kPointGrab) { // back at the first point
                finishOutline();
                break;
            }
        }
        m_points.push_back({place, modifiers.testFlag(Qt::ControlModifier) ? Turn::corner : Turn::smooth});
        break;
    }
    case RegionTool::ellipse:
    case RegionTool::box:
        m_from = place;
        break;
    case RegionTool::brush:
        m_painting = true;
        m_brush.points = {{place, static_cast<float>(pressure)}};
        break;
    case RegionTool::edit:
        m_grip = m_selected = gripAt(at, map);
        m_gesture = newGesture();
        m_gripFrom = m_grip.what == Grip::What::inside ? place : drawn(at, map);
        if (const Region* chosen = region()) m_moveFrom = {chosen->moveX, chosen->moveY};
        break;
    }
    emit changed();
    return true;
}

bool RegionTools::move(QPointF at, const ImageViewMap& map, double pressure)
{
    if (m_tool == RegionTool::none) return false;
    const QPointF before = std::exchange(m_at, at);
    const Point place = fromQt(map.toImage(at));
    if (m_painting) {
        const double step = std::max(kLeastStep, 0.05 * m_brush.radiusPx);
        if (apart(m_brush.points.back().at, place) >= step)
            m_brush.points.push_back({place, static_cast<float>(pressure)});
    } else if (m_grip.what == Grip::What::inside) {
        const std::string id = m_chosen;
        m_document.changeSetting(regionPath(id, "moveX"), m_moveFrom.x + place.x - m_gripFrom.x, m_gesture);
        m_document.changeSetting(regionPath(id, "moveY"), m_moveFrom.y + place.y - m_gripFrom.y, m_gesture);
    } else if (m_grip.what == Grip::What::rampFrom || m_grip.what == Grip::What::rampTo) {
        const Point end = drawn(at, map);
        const bool isFrom = m_grip.what == Grip::What::rampFrom;
        const std::string id = m_chosen;
        m_document.changeSetting(regionPath(id, isFrom ? "ramp/x1" : "ramp/x2"), end.x, m_gesture);
        m_document.changeSetting(regionPath(id, isFrom ? "ramp/y1" : "ramp/y2"), end.y, m_gesture);
    } else if (m_grip.what != Grip::What::none) {
        dragGrip(drawn(at, map));
    }
    if (m_tool == RegionTool::brush || m_from || !m_points.empty() || before != at) emit changed();
    return true;
}

void RegionTools::dragGrip(const Point& place)
{
    const int frame = m_document.frame();
    changeParts(
        m_document, tr("move point"), m_chosen,
        [&](std::vector<Part>& parts) {
            if (m_grip.part >= parts.size()) return;
            auto& points = pointsToChange(parts[m_grip.part], frame);
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

bool RegionTools::release(QPointF at, const ImageViewMap& map)
{
    if (m_tool == RegionTool::none) return false;
    if (m_painting) finishStroke();
    if (m_from) {
        const Point to = fromQt(map.toImage(at));
        const Point from = *std::exchange(m_from, std::nullopt);
        if (std::abs(to.x - from.x) >= kLeastShape && std::abs(to.y - from.y) >= kLeastShape) {
            Part part;
            part.outline = {{m_document.frame(), m_tool == RegionTool::ellipse
                                                     ? regions::ellipse(from, to)
                                                     : regions::rectangle(from, to)}};
            finishShape(std::move(part));
        }
    }
    m_grip = {};
    askForArea();
    emit changed();
    return true;
}

/// A shape is drawn where it is seen, and kept as it would have to be drawn to come to lie there.
void RegionTools::finishShape(Part part)
{
    part.joining = m_joining;
    if (m_isNew) {
        choose(addRegion(m_document, m_start, std::move(part)));
    } else if (const auto back = placement().inverse()) {
        for (auto& mark : part.outline)
            for (OutlinePoint& point : mark.points) {
                const Point at = (*back)(point.at);
                const auto moved = [&](const Point& handle) {
                    const Point end = (*back)({point.at.x + handle.x, point.at.y + handle.y});
                    return Point{end.x - at.x, end.y - at.y};
                };
                point.arriving = moved(point.arriving);
                point.leaving = moved(point.leaving);
                point.at = at;
            }
        changeParts(m_document, tr("draw in region"), m_chosen,
                    [&](std::vector<Part>& parts) { parts.push_back(std::move(part)); });
    }
    m_isNew = false;
    setTool(RegionTool::edit);
}

void RegionTools::finishOutline()
{
    if (m_points.size() < 3) return;
    Part part;
    part.outline = {{m_document.frame(), std::exchange(m_points, {})}};
    finishShape(std::move(part));
}

/// A stroke goes to the last part where that is paint, so that strokes stay together.
void RegionTools::finishStroke()
{
    m_painting = false;
    regions::Stroke stroke = m_brush;
    m_brush.points.clear();
    if (stroke.points.empty()) return;
    if (m_isNew) {
        Part part;
        part.kind = PartKind::paint;
        part.joining = m_joining;
        part.strokes = {std::move(stroke)};
        choose(addRegion(m_document, m_start, std::move(part)));
        m_isNew = false;
        emit toolChanged();
        return;
    }
    const regions::Homography place = placement();
    const auto back = place.inverse();
    if (!back) return;
    stroke.radiusPx *= back->sizeAt(stroke.points.front().at);
    for (regions::StrokePoint& point : stroke.points)
        point.at = (*back)(point.at);
    changeParts(m_document, stroke.erases ? tr("erase") : tr("paint"), m_chosen,
                [&](std::vector<Part>& parts) {
                    const bool goesOn = !parts.empty() && parts.back().kind == PartKind::paint &&
                                        parts.back().joining == m_joining;
                    if (!goesOn) {
                        Part part;
                        part.kind = PartKind::paint;
                        part.joining = m_joining;
                        parts.push_back(std::move(part));
                    }
                    parts.back().strokes.push_back(std::move(stroke));
                });
}

/// On every mark of its outline.
void RegionTools::changePoint(const QString& what, const Grip& grip,
                              const std::function<void(OutlinePoint&)>& change)
{
    changeParts(m_document, what, m_chosen, [&](std::vector<Part>& parts) {
        if (grip.part >= parts.size()) return;
        for (auto& mark : parts[grip.part].outline)
            if (grip.point < mark.points.size()) change(mark.points[grip.point]);
    });
}

/// Three points are the least an outline has.
void RegionTools::deletePoint(const Grip& grip)
{
    changeParts(m_document, tr("delete point"), m_chosen, [&](std::vector<Part>& parts) {
        if (grip.part >= parts.size()) return;
        for (auto& mark : parts[grip.part].outline)
            if (mark.points.size() > 3 && grip.point < mark.points.size())
                mark.points.erase(mark.points.begin() + static_cast<std::ptrdiff_t>(grip.point));
    });
}

bool RegionTools::fillMenu(QMenu& menu, QPointF at, const ImageViewMap& map)
{
    const Grip grip = m_tool == RegionTool::edit ? gripAt(at, map) : Grip{};
    if (grip.what != Grip::What::point) return false;
    const OutlinePoint point =
        regions::pointsAt(region()->area.parts()[grip.part].outline, m_document.frame())[grip.point];
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
    for (const auto& subject : m_document.project().subjects)
        add(QString::fromStdString(subject.name), subject.name);
    menu.addSeparator();
    menu.addAction(tr("Delete point"), this, [this, grip] { deletePoint(grip); });
    return true;
}

/// On a point: corner or smooth; on an outline: one more point there.
bool RegionTools::doubleClick(QPointF at, const ImageViewMap& map)
{
    if (m_tool == RegionTool::outline) {
        finishOutline();
        return true;
    }
    if (m_tool != RegionTool::edit || !region()) return m_tool != RegionTool::none;
    const Grip grip = gripAt(at, map);
    const int frame = m_document.frame();
    if (grip.what == Grip::What::point) {
        changePoint(tr("turn of point"), grip, [](OutlinePoint& point) {
            point.turn = point.turn == Turn::corner ? Turn::smooth : Turn::corner;
        });
        return true;
    }
    // The nearest side of any outline.
    const regions::Homography place = placement();
    double nearest = kPointGrab;
    std::optional<std::pair<std::size_t, std::size_t>> side;
    const auto& parts = region()->area.parts();
    for (std::size_t part = 0; part < parts.size(); ++part) {
        const auto points = regions::pointsAt(parts[part].outline, frame);
        for (std::size_t i = 0; i < points.size(); ++i) {
            std::vector<OutlinePoint> four; // one side as part of a whole curve
            for (std::size_t k = 0; k < points.size(); ++k)
                four.push_back(points[(i + k) % points.size()]);
            const auto curve = regions::outlineCurve(four);
            for (const Point& point : curve) {
                if (points.size() > 1 && point == points[(i + 1) % points.size()].at) break;
                const QPointF away = map.toView(toQt(place(point))) - at;
                if (std::hypot(away.x(), away.y()) >= nearest) continue;
                nearest = std::hypot(away.x(), away.y());
                side = {part, i};
            }
            // Straight sides have no points between.
            const QPointF a = map.toView(toQt(place(points[i].at)));
            const QPointF b = map.toView(toQt(place(points[(i + 1) % points.size()].at)));
            const QPointF way = b - a;
            const double square = QPointF::dotProduct(way, way);
            const double t =
                square > 0.0 ? std::clamp(QPointF::dotProduct(at - a, way) / square, 0.0, 1.0) : 0.0;
            const QPointF away = a + t * way - at;
            if (points[i].turn == Turn::corner && std::hypot(away.x(), away.y()) < nearest) {
                nearest = std::hypot(away.x(), away.y());
                side = {part, i};
            }
        }
    }
    if (!side) return true;
    const Point here = drawn(at, map);
    changeParts(m_document, tr("add point"), m_chosen, [&](std::vector<Part>& changed) {
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

bool RegionTools::key(int key)
{
    if (m_tool == RegionTool::none) return false;
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
        if (m_tool == RegionTool::outline && m_points.size() >= 3)
            finishOutline();
        else
            leave();
        return true;
    }
    if (key == Qt::Key_Escape) {
        if (!m_points.empty() || m_from || m_painting)
            setTool(m_tool); // what is begun is left
        else
            leave();
        return true;
    }
    if (key == Qt::Key_Backspace && m_tool == RegionTool::outline && !m_points.empty()) {
        m_points.pop_back();
        emit changed();
        return true;
    }
    const bool removes = key == Qt::Key_Delete || key == Qt::Key_Backspace;
    if (!removes || m_tool != RegionTool::edit || m_selected.what != Grip::What::point) return false;
    deletePoint(std::exchange(m_selected, {}));
    return true;
}

QString RegionTools::hint() const
{
    switch (m_tool) {
    case RegionTool::none:
        return {};
    case RegionTool::outline:
        return m_points.size() < 3 ? tr("click round the thing; with Ctrl a corner")
                                   : tr("click the first point or press Enter to close it; Escape leaves it");
    case RegionTool::ellipse:
        return tr("drag an ellipse");
    case RegionTool::box:
        return tr("drag a box");
    case RegionTool::brush:
        return m_brush.erases ? tr("erase; [ and ] change the size, Enter ends")
                              : tr("paint; [ and ] change the size, Enter ends");
    case RegionTool::edit:
        return tr("drag points or the whole; double click: corner, or one more point; Delete; Enter ends");
    }
    return {};
}

} // namespace retinex::app
