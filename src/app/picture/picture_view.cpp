#include "app/picture/picture_view.h"

#include "app/look/style.h"
#include "app/picture/legends/blur_legend.h"
#include "app/picture/legends/zones_overlay.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QTabletEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

namespace retinex::app {

namespace {

constexpr int kPartGrid = 64;      ///< parts of the picture begin and end at multiples of this, px
constexpr double kNearlyAll = 0.7; ///< a part with a larger share of the frame is not worth the name

} // namespace

PictureView::PictureView(Document& document, QWidget* parent)
    : QWidget(parent), m_document(document), m_regions(document), m_inserts(document), m_focus(m_picture),
      m_nearest(m_picture, true), m_farthest(m_picture, true), m_white(m_picture, false),
      m_range(m_picture, DragTool::Shape::rectangle), m_span(m_picture, DragTool::Shape::line),
      m_subjectTool(document, m_picture, m_subjects)
{
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(240, 120);
    setObjectName(QStringLiteral("picture"));
    setAccessibleName(tr("Picture"));
    connect(&document, &Document::projectChanged, this, [this] {
        m_legends.mapChanged();
        const auto& project = m_document.project();
        // Drawing the picture takes time that a drag on the desk needs: only when something in it changes.
        const bool same = m_picture.mode != ViewMode::zones && m_picture.mode != ViewMode::depth &&
                          m_subjectsShown == project.subjects;
        m_subjectsShown = project.subjects;
        if (!same || !m_picture.passes) update();
    });
    connectTools();
    connect(&m_brighter, &BrighterMarks::changed, this, qOverload<>(&QWidget::update));
    updateCursor();
}

void PictureView::connectTools()
{
    connect(&m_regions, &RegionTools::changed, this, qOverload<>(&QWidget::update));
    for (Tool* tool : std::initializer_list<Tool*>{&m_inserts, &m_focus, &m_nearest, &m_farthest, &m_white,
                                                   &m_range, &m_span, &m_subjectTool, &m_outlineTool}) {
        connect(tool, &Tool::changed, this, qOverload<>(&QWidget::update));
    }
    connect(&m_inserts, &PlacingTool::placingChanged, this, [this] {
        if (m_inserts.isPlacing()) {
            m_regions.leave();
            setTool(PictureTool::focus);
            setFocus();
            reachHandles();
        }
        takeTool();
    });
    connect(&m_inserts, &PlacingTool::chosenChanged, this, [this] {
        if (m_inserts.isPlacing()) reachHandles();
    });
    connect(&m_regions, &RegionTools::toolChanged, this, [this] {
        if (m_regions.current()) {
            m_inserts.setPlacing(false);
            setTool(PictureTool::focus);
            setFocus();
        }
        takeTool();
    });
    connect(&m_focus, &FocusTool::picked, this, &PictureView::focusPicked);
    connect(&m_focus, &FocusTool::gapPicked, this, &PictureView::gapPicked);
    connect(&m_nearest, &PickTool::picked, this,
            [this](QPoint at) { emit depthPicked(PictureTool::nearest, at, at); });
    connect(&m_farthest, &PickTool::picked, this,
            [this](QPoint at) { emit depthPicked(PictureTool::farthest, at, at); });
    connect(&m_white, &PickTool::picked, this, [this](QPoint at) { emit whitePicked(at.x(), at.y()); });
    connect(&m_range, &DragTool::dragged, this,
            [this](QPoint from, QPoint to) { emit depthPicked(PictureTool::range, from, to); });
    connect(&m_span, &DragTool::dragged, this,
            [this](QPoint from, QPoint to) { emit depthPicked(PictureTool::span, from, to); });
    connect(&m_subjectTool, &SubjectTool::placed, this, &PictureView::subjectPlaced);
    connect(&m_subjectTool, &SubjectTool::dragged, this, &PictureView::subjectDragged);
    connect(&m_outlineTool, &SubjectOutlineTool::drawn, this, &PictureView::outlineDrawn);
}

Tool& PictureView::named(PictureTool tool) noexcept
{
    switch (tool) {
    case PictureTool::focus:
        return m_focus;
    case PictureTool::nearest:
        return m_nearest;
    case PictureTool::farthest:
        return m_farthest;
    case PictureTool::range:
        return m_range;
    case PictureTool::span:
        return m_span;
    case PictureTool::subject:
        return m_subjectTool;
    case PictureTool::outline:
        return m_outlineTool;
    case PictureTool::white:
        return m_white;
    }
    return m_focus;
}

void PictureView::takeTool()
{
    Tool* next = m_inserts.isPlacing() ? &m_inserts : m_regions.current();
    m_tool = next ? next : &named(m_named);
    updateCursor();
    update();
}

void PictureView::show(const Picture& picture)
{
    const bool first = m_picture.image.isNull();
    m_picture = picture;
    m_played = {};
    if (picture.detail.part.empty()) m_whole = picture.image;
    if (picture.passes) {
        m_map.setImageSize(QSizeF(picture.passes->distance().width(), picture.passes->distance().height()));
        m_map.setPixelAspect(picture.passes->raw->pixelAspect);
    }
    m_legends.pictureChanged();
    if (first) mapChanged();
    updateCursor();
    update();
}

void PictureView::showPlayed(int frame, ViewMode mode, const QImage& picture)
{
    m_playedMode = mode;
    m_played = picture;
    m_playedFrame = frame;
    update();
}

void PictureView::showOther(const Picture& picture)
{
    m_comparison.other = picture;
    if (picture.detail.part.empty()) m_otherWhole = picture.image;
    update();
}

void PictureView::setComparison(Comparison::Mode mode)
{
    m_comparison.mode = mode;
    m_map.setViewSize(viewSize());
    mapChanged();
}

QSizeF PictureView::viewSize() const
{
    return m_comparison.isSideBySide() ? QSizeF(width() / 2, height()) : QSizeF(size());
}

QPointF PictureView::local(QPointF at) const
{
    const double half = static_cast<double>(width() / 2);
    return m_comparison.isSideBySide() && at.x() >= half ? at - QPointF(half, 0) : at;
}

void PictureView::clear()
{
    m_picture = {};
    m_played = {};
    m_comparison.other = {};
    m_otherWhole = {};
    m_whole = {};
    m_map.fit();
    updateCursor();
    mapChanged();
}

QPoint PictureView::viewPoint(int imageX, int imageY) const
{
    return m_map.toView(QPointF(imageX + 0.5, imageY + 0.5)).toPoint();
}

void PictureView::updateCursor()
{
    m_cursor = m_panning || m_spaceHeld   ? Qt::ClosedHandCursor
               : m_picture.image.isNull() ? Qt::ArrowCursor
                                          : m_tool->cursor();
    setCursor(m_cursor);
}

void PictureView::mapChanged()
{
    m_legends.mapChanged();
    emit zoomChanged(m_picture.image.isNull() ? 0.0 : m_map.scale() * devicePixelRatioF());
    update();
}

void PictureView::fit()
{
    m_map.fit();
    mapChanged();
}

void PictureView::oneToOne()
{
    m_map.oneToOne(devicePixelRatioF(), QRectF(QPointF(), viewSize()).center());
    mapChanged();
}

void PictureView::zoomStep(double factor)
{
    const QPoint pointer = mapFromGlobal(QCursor::pos());
    m_map.zoomBy(factor,
                 rect().contains(pointer) ? local(QPointF(pointer)) : QRectF(QPointF(), viewSize()).center());
    mapChanged();
}

void PictureView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), style::surround);
    if (m_picture.image.isNull() || !m_idleText.isEmpty()) {
        paintIdle(painter);
        return;
    }
    paintPictures(painter);
    painter.setFont(style::textFont(8.5));
    if (m_picture.passes && m_played.isNull()) m_regions.paint(painter, m_map, size(), shownFrame());
    const bool isPlacing = m_named == PictureTool::subject || m_named == PictureTool::outline;
    if (m_picture.passes && (m_showsSubjects || isPlacing))
        m_subjects.paint(painter, m_document.project(), shownFrame(), m_map,
                         QSizeF(m_picture.passes->distance().width(), m_picture.passes->distance().height()));
    if (m_played.isNull())
        m_legends.paint(painter, m_picture, m_map, size(), m_document);
    else if (m_playedMode == ViewMode::zones) // the zones are in what is played
        paintZonesLegend(painter, m_document.project(), shownFrame(), m_document.source()->width(), height());
    if (m_picture.looking != Looking()) paintLooking(painter, m_picture.looking, size());
    m_brighter.paint(painter, m_map, width());
    if (!m_picture.passes || !m_played.isNull() || m_regions.isAlone()) return;
    painter.setRenderHint(QPainter::Antialiasing);
    m_tool->paint(painter, m_map);
    style::hintPlate(painter, size(), m_tool->hint());
}

/// What is placed may lie outside the view, and so may its handles.
void PictureView::reachHandles()
{
    const auto corners = m_inserts.corners();
    if (!corners) return;
    QPolygonF outline;
    for (const auto& corner : *corners)
        outline << QPointF(corner.x, corner.y);
    m_map.stepBackTo(outline.boundingRect());
    mapChanged();
}

int PictureView::shownFrame() const
{
    return m_played.isNull() ? m_picture.frame : m_playedFrame;
}

void PictureView::paintPictures(QPainter& painter) const
{
    if (!m_played.isNull()) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform, true);
        painter.drawImage(m_map.imageRect(), m_played);
        return;
    }
    m_comparison.paint(painter, m_picture, QSizeF(size()), devicePixelRatioF(),
                       [this](QPainter& onto, const Picture& picture) {
                           paintPicture(onto, picture, &picture == &m_picture ? m_whole : m_otherWhole);
                       });
}

void PictureView::paintPicture(QPainter& painter, const Picture& picture, const QImage& whole) const
{
    // Shown larger than life, pixels are pixels; a coarse picture is always smoothed.
    const bool isLarge = m_map.scale() >= 2.0;
    const PixelBox& part = picture.detail.part;
    if (!part.empty()) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform, true);
        painter.drawImage(m_map.imageRect(), whole);
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform, !isLarge || picture.detail.divisor > 1);
    painter.drawImage(part.empty() ? m_map.imageRect()
                                   : QRectF(m_map.toView(QPointF(part.minX, part.minY)),
                                            m_map.toView(QPointF(part.maxX + 1, part.maxY + 1))),
                      picture.image);
}

PictureDetail PictureView::visibleOf(QSize frame) const
{
    ImageViewMap map = m_map;
    const QSizeF view = viewSize();
    const bool isShown = m_picture.passes && m_picture.passes->distance().width() == frame.width() &&
                         m_picture.passes->distance().height() == frame.height();
    if (!isShown) { // as it will be
        map.setImageSize(QSizeF(frame));
        map.fit();
    }
    PictureDetail detail;
    // A little smaller than a pixel of the screen does not show.
    detail.divisor = std::max(1, static_cast<int>(1.0 / (map.scale() * devicePixelRatioF()) + 0.02));
    // With something around it for small steps aside, in squares.
    const QPointF from = map.toImage(QPointF(0, 0));
    const QPointF to = map.toImage(QPointF(view.width(), view.height()));
    const double border = 0.06 * (to.x() - from.x());
    const int grid = kPartGrid * detail.divisor;
    const auto down = [grid](double at) {
        return std::max(0, static_cast<int>(std::floor(at / grid)) * grid);
    };
    const auto up = [grid](double at, int size) {
        return std::min(size, static_cast<int>(std::ceil(at / grid)) * grid);
    };
    PixelBox& part = detail.part;
    part = {down(from.x() - border), down(from.y() - border), up(to.x() + border, frame.width()) - 1,
            up(to.y() + border, frame.height()) - 1};
    const double share = static_cast<double>(part.width()) * part.height() /
                         (static_cast<double>(frame.width()) * frame.height());
    if (part.empty() || share > kNearlyAll) part = {};
    return detail;
}

void PictureView::setIdleText(const QString& text)
{
    m_idleText = text;
    update();
}

void PictureView::paintIdle(QPainter& painter) const
{
    painter.setPen(style::text);
    if (!m_idleText.isEmpty()) {
        painter.setFont(style::textFont(11));
        painter.drawText(rect(), Qt::AlignCenter, m_idleText);
        return;
    }
}

void PictureView::showGlintLevel(double level)
{
    if (m_picture.passes)
        m_brighter.show({m_picture.passes, &m_picture.passes->colour()}, level,
                        tr("brighter than %1: %2 px are glints"));
}

void PictureView::showGlowLevel(double level)
{
    const bool isWhole = m_picture.unfinishedBox.minX == 0 && m_picture.unfinishedBox.minY == 0;
    std::shared_ptr<const RgbaImage> light = isWhole ? m_picture.unfinished : nullptr;
    if (!light && m_picture.mode == ViewMode::result && m_picture.detail.part.empty())
        light = m_picture.values;
    if (!light && m_picture.passes) light = {m_picture.passes, &m_picture.passes->colour()};
    if (light) m_brighter.show(std::move(light), level, tr("brighter than %1: %2 px glow"));
}

void PictureView::contextMenuEvent(QContextMenuEvent* event)
{
    const QPoint at = local(QPointF(event->pos())).toPoint();
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("pointMenu"));
    if (m_picture.passes && m_tool->fillMenu(menu, handAt(QPointF(at)))) {
        menu.exec(event->globalPos());
        return;
    }
    emit menuAsked(pixelAt(handAt(QPointF(at))), m_map.toImage(QPointF(at)), at);
}

void PictureView::setTool(PictureTool tool)
{
    named(m_named).leave();
    const bool isOther = m_named != tool;
    m_named = tool;
    if (isOther) emit toolChanged();
    if (tool != PictureTool::focus) {
        m_regions.leave();
        m_inserts.setPlacing(false);
    }
    if (tool == PictureTool::subject || tool == PictureTool::outline) setFocus();
    takeTool();
}

void PictureView::showSubjects(bool shown)
{
    m_showsSubjects = shown;
    update();
}

void PictureView::setEvidence(std::shared_ptr<const depth::DirectionEvidence> evidence)
{
    m_legends.setEvidence(std::move(evidence));
    update();
}

void PictureView::resizeEvent(QResizeEvent*)
{
    m_map.setViewSize(viewSize());
    mapChanged();
}

void PictureView::mousePressEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton && m_comparison.isOnWipe(event->position().x(), width())) {
        m_wiping = true;
        return;
    }
    m_panned = event->pos();
    if (event->button() == Qt::MiddleButton || (event->button() == Qt::LeftButton && m_spaceHeld))
        m_panning = true;
    else if (event->button() == Qt::LeftButton && !m_played.isNull())
        emit playedPressed();
    else if (event->button() == Qt::LeftButton && m_picture.passes) {
        const Hand hand = handAt(local(event->position()), event->modifiers());
        if (!m_tool->press(hand)) (void)m_focus.press(hand);
    }
    updateCursor();
}

void PictureView::mouseMoveEvent(QMouseEvent* event)
{
    if (m_wiping) {
        m_comparison.setWipeX(event->position().x(), width());
        update();
        return;
    }
    const QPointF at = local(event->position());
    if (m_panning) {
        m_map.panBy(event->pos() - m_panned);
        m_panned = event->pos();
        m_pannedBySpace |= m_spaceHeld;
        mapChanged();
    }
    setCursor(m_comparison.isOnWipe(event->position().x(), width()) ? Qt::SplitHCursor : m_cursor);
    if (!m_panning) m_tool->move(handAt(at, event->modifiers()));
    const QPoint pixel = pixelAt(handAt(at));
    const bool inside = m_played.isNull() && isInFrame(m_picture, pixel);
    emit pointed(inside ? pixel.x() : -1, inside ? pixel.y() : -1);
}

void PictureView::mouseReleaseEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton && !m_panning && !m_wiping)
        m_tool->release(handAt(local(event->position()), event->modifiers()));
    m_wiping = false;
    m_panning = false;
    updateCursor();
}

void PictureView::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton && m_picture.passes && m_played.isNull() &&
        m_tool->doubleClick(handAt(local(event->position()), event->modifiers())))
        return;
    mousePressEvent(event);
}

/// A pen paints with its pressure; to other tools it is a mouse.
void PictureView::tabletEvent(QTabletEvent* event)
{
    event->ignore();
    if (!m_tool->takesPen() || !m_picture.passes || !m_played.isNull()) return;
    const Hand hand = handAt(local(event->position()), event->modifiers(), event->pressure());
    if (event->type() == QEvent::TabletPress && event->button() == Qt::LeftButton)
        (void)m_tool->press(hand);
    else if (event->type() == QEvent::TabletMove)
        m_tool->move(hand);
    else if (event->type() == QEvent::TabletRelease)
        m_tool->release(hand);
    event->accept();
}

void PictureView::leaveEvent(QEvent*)
{
    emit pointed(-1, -1);
}

void PictureView::wheelEvent(QWheelEvent* event)
{
    m_map.zoomBy(std::pow(1.2, event->angleDelta().y() / 120.0), local(event->position()));
    mapChanged();
    event->accept();
}

void PictureView::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat()) {
        m_spaceHeld = true;
        m_pannedBySpace = false;
        updateCursor();
        return;
    }
    if (event->key() == Qt::Key_A && event->modifiers() == Qt::NoModifier) {
        if (!event->isAutoRepeat()) m_regions.setAlone(true);
        return;
    }
    if (m_tool->key(event->key())) return;
    if (event->key() == Qt::Key_Escape && m_named != PictureTool::focus) {
        setTool(PictureTool::focus);
        return;
    }
    QWidget::keyPressEvent(event);
}

void PictureView::keyReleaseEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat()) {
        m_spaceHeld = false;
        updateCursor();
        if (!m_pannedBySpace) emit spaceTapped();
        return;
    }
    if (event->key() == Qt::Key_A) {
        if (!event->isAutoRepeat()) m_regions.setAlone(false);
        return;
    }
    QWidget::keyReleaseEvent(event);
}

} // namespace retinex::app
