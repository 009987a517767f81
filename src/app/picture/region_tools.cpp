#include "app/picture/region_tools.h"

#include "app/document/insert_edits.h"
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
using regions::Piece;
using regions::PieceKind;
using regions::Point;
using regions::Region;
using regions::Turn;

QString brushKey(const char* name)
{
    return QStringLiteral("regions/brush/%1").arg(QLatin1String(name));
}

} // namespace

RegionTools::RegionTools(Document& document, QObject* parent)
    : QObject(parent), m_document(document), m_outline(*this),
      m_ellipse(*this, RegionShapeTool::Shape::ellipse), m_box(*this, RegionShapeTool::Shape::box),
      m_painting(*this), m_points(*this)
{
    for (Tool* tool : std::initializer_list<Tool*>{&m_outline, &m_ellipse, &m_box, &m_painting, &m_points})
        connect(tool, &Tool::changed, this, &RegionTools::changed);
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

const Region* RegionTools::region() const noexcept
{
    if (m_maskOf.empty()) return regionWith(m_document, m_chosen);
    const inserts::Insert* insert = insertWith(m_document, m_maskOf);
    if (!insert) return nullptr;
    m_mask.area = insert->mask;
    m_mask.inverted = insert->maskInverted;
    m_mask.featherPx = insert->maskFeatherPx;
    return &m_mask;
}

void RegionTools::paintMask(const std::string& insert)
{
    if (!insertWith(m_document, insert)) return;
    leave();
    m_maskOf = insert;
    m_isNew = false;
    m_joining = Joining::add;
    setTool(RegionTool::brush);
}

void RegionTools::begin(RegionTool tool, RegionStart start)
{
    m_maskOf.clear();
    m_isNew = true;
    m_start = start;
    m_joining = Joining::add;
    setTool(tool);
}

void RegionTools::addTo(RegionTool tool, Joining joining)
{
    m_maskOf.clear();
    m_isNew = !region();
    m_start = RegionStart::plain;
    m_joining = joining;
    setTool(tool);
}

void RegionTools::setTool(RegionTool tool)
{
    if (Tool* before = current()) before->leave();
    m_tool = tool;
    if (tool != RegionTool::brush) m_maskOf.clear();
    askForArea();
    emit toolChanged();
    emit changed();
}

Tool* RegionTools::current()
{
    switch (m_tool) {
    case RegionTool::none:
        return nullptr;
    case RegionTool::outline:
        return &m_outline;
    case RegionTool::ellipse:
        return &m_ellipse;
    case RegionTool::box:
        return &m_box;
    case RegionTool::brush:
        return &m_painting;
    case RegionTool::edit:
        return &m_points;
    }
    return nullptr;
}

void RegionTools::choose(const std::string& id)
{
    if (id == m_chosen) return;
    m_chosen = id;
    m_points.leave();
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
    if (!m_maskOf.empty() && !region()) leave();
    if (!m_chosen.empty() && !region()) choose({});
    askForArea();
    emit changed();
}

/// The area is made in the background; what is drawn shows at once by its outline.
void RegionTools::askForArea()
{
    const Region* chosen = region();
    // A drag has no time for it: the outline shows where it goes.
    if (!chosen || !m_document.isOpen() || !(isShown() || m_isAlone) || m_points.isDragging()) return;
    const auto& project = m_document.project();
    const int frame = m_document.frame();
    // The area and where it lies, whatever the region does and whether it is on; under an id that has no
    // marks.
    Region asked = *chosen;
    asked.id = "area";
    asked.name.clear();
    asked.isOn = true;
    asked.patch = regions::PatchKind::none;
    asked.addedPx = 0.0;
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

Point RegionTools::drawn(const Hand& hand) const
{
    const Point place = fromQt(hand.map.toImage(hand.at));
    const auto back = placement().inverse();
    return back ? (*back)(place) : place;
}

/// A shape is drawn where it is seen, and kept as it would have to be drawn to come to lie there.
void RegionTools::finishShape(Piece piece)
{
    piece.joining = m_joining;
    if (m_isNew) {
        choose(addRegion(m_document, m_start, std::move(piece)));
    } else if (const auto back = placement().inverse()) {
        for (auto& mark : piece.outline)
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
        changePieces(m_document, tr("draw in region"), m_chosen,
                     [&](std::vector<Piece>& pieces) { pieces.push_back(std::move(piece)); });
    }
    m_isNew = false;
    setTool(RegionTool::edit);
}

/// A stroke goes to the last piece where that is paint, so that strokes stay together.
void RegionTools::finishStroke(regions::Stroke stroke)
{
    if (m_isNew) {
        Piece piece;
        piece.kind = PieceKind::paint;
        piece.joining = m_joining;
        piece.strokes = {std::move(stroke)};
        choose(addRegion(m_document, m_start, std::move(piece)));
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
    changeTarget(stroke.erases ? tr("erase") : tr("paint"), [&](std::vector<Piece>& pieces) {
        const bool goesOn =
            !pieces.empty() && pieces.back().kind == PieceKind::paint && pieces.back().joining == m_joining;
        if (!goesOn) {
            Piece piece;
            piece.kind = PieceKind::paint;
            piece.joining = m_joining;
            pieces.push_back(std::move(piece));
        }
        pieces.back().strokes.push_back(std::move(stroke));
    });
}

void RegionTools::changeTarget(const QString& what, const std::function<void(std::vector<Piece>&)>& change)
{
    if (m_maskOf.empty()) {
        changePieces(m_document, what, m_chosen, change);
        return;
    }
    changeInsert(m_document, tr("%1 mask").arg(what), m_maskOf, [&](inserts::Insert& insert) {
        std::vector<Piece> pieces = insert.mask.pieces();
        change(pieces);
        insert.mask = regions::Area(std::move(pieces));
    });
}

bool RegionTools::endsBy(int key)
{
    if (key != Qt::Key_Return && key != Qt::Key_Enter && key != Qt::Key_Escape) return false;
    leave();
    return true;
}

} // namespace retinex::app
