#include "app/desk/depth_profile.h"

#include "app/fields/number_formats.h"
#include "app/look/style.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kScaleWidth = 62; ///< px at the left for the distances
constexpr double kSnap = 7.0;   ///< px
constexpr double kGrab = 6.0;   ///< px around a handle

QColor colourOf(DepthProfile::Handle handle)
{
    return handle == DepthProfile::Handle::focus       ? style::focal
           : handle == DepthProfile::Handle::nearLimit ? style::nearSide
                                                       : style::farSide;
}

/// Survey bins that lie in [low, high), summed.
double countBetween(const std::vector<float>& bins, double low, double high)
{
    const double from = DepthSurvey::binPosition(low);
    const double to = DepthSurvey::binPosition(high);
    double sum = 0.0;
    for (int bin = std::max(0, static_cast<int>(from)); bin < std::min<double>(to, DepthSurvey::binCount);
         ++bin) {
        const double share = std::min(to, bin + 1.0) - std::max(from, static_cast<double>(bin));
        sum += static_cast<double>(bins[static_cast<std::size_t>(bin)]) * std::max(0.0, share);
    }
    return sum;
}

} // namespace

DepthProfile::DepthProfile(Document& document, const DepthSurvey& survey, DeskState& state, QWidget* parent)
    : QWidget(parent), m_document(document), m_survey(survey), m_state(state)
{
    setObjectName(QStringLiteral("depthProfile"));
    setAccessibleName(tr("Depth profile"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(180, 80);
    setToolTip(tr("Distances of this frame. Drag the focal plane, or a limit to change the f-stop."));
    connect(&document, &Document::projectChanged, this, qOverload<>(&QWidget::update));
    connect(&document, &Document::frameChanged, this, qOverload<>(&QWidget::update));
    connect(&state, &DeskState::changed, this, qOverload<>(&QWidget::update));
    connect(&survey, &DepthSurvey::restarted, this, qOverload<>(&QWidget::update));
    connect(&survey, &DepthSurvey::changed, this, [this](const std::vector<int>& frames) {
        if (std::find(frames.begin(), frames.end(), m_document.frame()) != frames.end()) update();
    });
}

int DepthProfile::pictureWidth() const
{
    return m_document.source() ? m_document.source()->width() : 1;
}

QRectF DepthProfile::plot() const
{
    return QRectF(kScaleWidth, SharedAxis::topMargin, width() - kScaleWidth - 8,
                  height() - SharedAxis::topMargin - SharedAxis::bottomMargin);
}

double DepthProfile::handleY(Handle handle) const
{
    const auto& project = m_document.project();
    const int frame = m_document.frame();
    const auto zone =
        optics::sharpZone(project.lensAt(frame, pictureWidth()), m_document.values().acceptedCocMm);
    const DistanceAxis a = axis();
    switch (handle) {
    case Handle::nearLimit:
        return a.toY(project.fromMillimetres(zone.nearMm));
    case Handle::farLimit:
        return a.toY(project.fromMillimetres(zone.farMm));
    default:
        return a.toY(project.focusDistanceAt(frame));
    }
}

/// The limits' handles sit at the left, clear of each other and of the subjects' flags, so that they can be
/// taken even where all three lines coincide.
QPoint DepthProfile::handlePoint(Handle handle) const
{
    const QRectF area = plot();
    const double x = handle == Handle::nearLimit  ? area.left() + 22
                     : handle == Handle::farLimit ? area.left() + 56
                                                  : area.right() - 6;
    return QPointF(x, area.top() + handleY(handle)).toPoint();
}

DepthProfile::Handle DepthProfile::handleAt(QPointF pos) const
{
    if (!m_document.isOpen()) return Handle::none;
    for (const Handle handle : {Handle::nearLimit, Handle::farLimit}) {
        const QPointF d = pos - QPointF(handlePoint(handle));
        if (std::abs(d.y()) <= kGrab + 2 && std::abs(d.x()) <= 16) return handle;
    }
    const double y = pos.y() - plot().top();
    if (std::abs(y - handleY(Handle::focus)) <= kGrab) return Handle::focus;
    for (const Handle handle : {Handle::nearLimit, Handle::farLimit})
        if (std::abs(y - handleY(handle)) <= kGrab) return handle;
    return Handle::none;
}

void DepthProfile::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), style::panel);
    painter.fillRect(plot(), style::well);
    painter.setFont(style::textFont(8.5));
    painter.setPen(style::dimText);
    if (!m_document.isOpen()) {
        paintTitle(painter, width() - 18);
        return;
    }
    painter.setRenderHint(QPainter::Antialiasing);
    paintScale(painter);
    painter.setClipRect(plot());
    const double nearY = handleY(Handle::nearLimit);
    const double farY = handleY(Handle::farLimit);
    painter.fillRect(QRectF(plot().left(), plot().top() + farY, plot().width(), nearY - farY),
                     QColor(255, 255, 255, 22));
    paintHistogram(painter);
    paintCocCurve(painter);
    paintHandles(painter);
    paintSubjects(painter); // names on top: no line goes through them
    if (hasFocus()) style::keysFrame(painter, QRectF(rect()));
}

void DepthProfile::paintScale(QPainter& painter) const
{
    const auto& project = m_document.project();
    painter.setFont(style::numberFont(8));
    const double unit = optics::metresPer(project.unit) / project.metresPerUnit;
    for (const auto& tick : axis().ticks(22.0, unit)) {
        const double y = plot().top() + tick.y;
        painter.setPen(QColor(54, 54, 54));
        painter.drawLine(QPointF(plot().left(), y), QPointF(plot().right(), y));
        painter.setPen(style::dimText);
        painter.drawText(QRectF(0, y - 8, kScaleWidth - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QStringLiteral("%1 %2")
                             .arg(tick.distance / unit, 0, 'g', 4)
                             .arg(QString::fromStdString(std::string(optics::symbol(project.unit)))));
    }
}

void DepthProfile::paintHistogram(QPainter& painter) const
{
    const auto it = m_survey.columns().find(m_document.frame());
    if (it == m_survey.columns().end()) return;
    const DistanceAxis a = axis();
    const int rows = static_cast<int>(a.height());
    std::vector<double> counts;
    double largest = 1.0;
    for (int y = 0; y < rows; ++y) {
        counts.push_back(countBetween(it->second.bins, a.toDistance(y + 1.0), a.toDistance(y)));
        largest = std::max(largest, counts.back());
    }
    for (int y = 0; y < rows; ++y) {
        // The root keeps small things visible beside a wall that fills the frame.
        const double width = std::sqrt(counts[static_cast<std::size_t>(y)] / largest) * (plot().width() - 20);
        painter.fillRect(QRectF(plot().left(), plot().top() + y, width, 1.0), QColor(150, 148, 144));
    }
}

void DepthProfile::paintCocCurve(QPainter& painter) const
{
    const auto& project = m_document.project();
    // With strength, held zone and limits: the blur as it will be.
    const passes::PassSource& source = *m_document.source();
    const double pixelAspect = source.colourInfo().part(source.colourLayer().part).pixelAspect;
    const auto model = project.lensSettingsAt(m_document.frame(), pixelAspect).blurModel(source.width());
    const DistanceAxis a = axis();
    QPainterPath path;
    double largest = 0.0;
    std::vector<double> cocs;
    for (int y = 0; y <= static_cast<int>(a.height()); y += 2) {
        cocs.push_back(2.0 * std::abs(model.radiusPx(a.toDistance(y))));
        largest = std::max(largest, cocs.back());
    }
    const double full = std::max(10.0, largest);
    for (std::size_t i = 0; i < cocs.size(); ++i) {
        const QPointF p(plot().left() + cocs[i] / full * (plot().width() - 14),
                        plot().top() + 2.0 * static_cast<double>(i));
        i == 0 ? path.moveTo(p) : path.lineTo(p);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(style::text, 1.2));
    painter.drawPath(path);
    painter.setClipping(false);
    painter.setFont(style::numberFont(8));
    painter.setPen(style::dimText);
    const QString words = tr("curve: CoC, 0 to %1 px").arg(full, 0, 'f', 0);
    painter.drawText(QRectF(10, 0, width() - 18, SharedAxis::topMargin), Qt::AlignVCenter | Qt::AlignRight,
                     words);
    paintTitle(painter, width() - 18 - painter.fontMetrics().horizontalAdvance(words) - 10);
}

/// Where it has room: what it is called stands beside what its curve is.
void DepthProfile::paintTitle(QPainter& painter, int room) const
{
    painter.setFont(style::textFont(8.5));
    painter.setPen(style::dimText);
    if (painter.fontMetrics().horizontalAdvance(tr("Depth profile")) <= room)
        painter.drawText(QRect(10, 0, room, SharedAxis::topMargin), Qt::AlignVCenter | Qt::AlignLeft,
                         tr("Depth profile"));
}

void DepthProfile::paintHandles(QPainter& painter) const
{
    const QRectF area = plot();
    for (const Handle handle : {Handle::farLimit, Handle::nearLimit, Handle::focus}) {
        const double y = handleY(handle);
        if (y < -1.0 || y > area.height() + 1.0) continue;
        const bool strong = handle == m_dragged || (m_dragged == Handle::none && handle == m_hovered);
        const double at = area.top() + y;
        painter.setPen(QPen(colourOf(handle), handle == Handle::focus ? 2.0 : strong ? 1.6 : 1.0));
        painter.drawLine(QPointF(area.left(), at), QPointF(area.right(), at));
        painter.setPen(QPen(style::well, 1)); // stands out from the histogram
        painter.setBrush(colourOf(handle));
        const QPointF grip(handlePoint(handle));
        if (handle == Handle::focus) {
            const QPointF arrow[3] = {{grip.x() - 5, at}, {grip.x() + 6, at - 6}, {grip.x() + 6, at + 6}};
            painter.drawPolygon(arrow, 3);
        } else { // points away from the focal plane: the side can be told without colour
            const double way = handle == Handle::farLimit ? -8.0 : 8.0;
            const QPointF arrow[3] = {{grip.x() - 7, at}, {grip.x() + 7, at}, {grip.x(), at + way}};
            painter.drawPolygon(arrow, 3);
        }
    }
}

/// A flag for each subject at its distance; where they stand close, one below the other.
void DepthProfile::paintSubjects(QPainter& painter) const
{
    const QRectF area = plot();
    painter.setFont(style::textFont(8));
    std::vector<std::pair<double, QString>> flags;
    for (const auto& subject : m_document.project().subjects) {
        const auto distance = timeline::distanceAt(subject, m_document.frame());
        if (!distance) continue;
        const double y = area.top() + axis().toY(*distance);
        if (y >= area.top() && y <= area.bottom())
            flags.emplace_back(y, painter.fontMetrics().elidedText(QString::fromStdString(subject.name),
                                                                   Qt::ElideRight, 90));
    }
    std::sort(flags.begin(), flags.end());
    double lowest = area.top() - 17.0;
    for (const auto& [y, name] : flags) {
        const double middle = std::min(std::max(y, lowest + 17.0), area.bottom() - 8.0);
        lowest = middle;
        const double width = painter.fontMetrics().horizontalAdvance(name) + 10;
        const QRectF flag(area.right() - 30 - width, middle - 8, width, 16);
        painter.setPen(QPen(style::dimText, 1));
        painter.drawLine(QPointF(flag.right(), middle), QPointF(area.right() - 14, y));
        painter.drawLine(QPointF(area.right() - 14, y), QPointF(area.right(), y));
        painter.setBrush(style::panel);
        painter.drawRect(flag);
        painter.setPen(style::text);
        painter.drawText(flag, Qt::AlignCenter, name);
    }
}

void DepthProfile::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton) return;
    m_dragged = handleAt(event->position());
    m_gesture = newGesture();
    update();
}

void DepthProfile::mouseMoveEvent(QMouseEvent* event)
{
    if (m_dragged != Handle::none) {
        dragTo(event->position().y() - plot().top(), !(event->modifiers() & Qt::AltModifier));
        return;
    }
    m_hovered = handleAt(event->position());
    setCursor(m_hovered == Handle::none ? Qt::ArrowCursor : Qt::SizeVerCursor);
    update();
}

void DepthProfile::mouseReleaseEvent(QMouseEvent*)
{
    m_dragged = Handle::none;
    update();
}

void DepthProfile::dragTo(double plotY, bool snaps)
{
    double distance = axis().toDistance(plotY);
    if (m_dragged == Handle::focus) {
        for (const auto& subject : m_document.project().subjects) {
            const auto its = timeline::distanceAt(subject, m_document.frame());
            if (snaps && its && std::abs(axis().toY(*its) - plotY) < kSnap) distance = *its;
        }
        m_document.setFocusDistance(distance, m_gesture);
        return;
    }
    const auto& project = m_document.project();
    const double focus = project.focusDistanceAt(m_document.frame());
    // A limit stays on its side of the focal plane.
    const double held = m_dragged == Handle::nearLimit ? std::min(distance, focus * 0.9995)
                                                       : std::max(distance, focus * 1.0005);
    const optics::ThinLens lens = project.lensAt(m_document.frame(), pictureWidth());
    const double fStop =
        optics::fStopForCoc(lens, project.millimetres(held), m_document.values().acceptedCocMm);
    if (const auto& simple = m_document.values().simpleLens)
        m_document.changeSetting(setting::simpleRadius, simple->radiusPx * lens.fStop / fStop, m_gesture);
    else
        m_document.changeSetting(setting::fStop, fStop, m_gesture);
}

/// Up and down move the focal plane, page up and down open and close the lens.
void DepthProfile::keyPressEvent(QKeyEvent* event)
{
    const double fine = event->modifiers() & Qt::ShiftModifier     ? 10.0
                        : event->modifiers() & Qt::ControlModifier ? 0.1
                                                                   : 1.0;
    const int way = event->key() == Qt::Key_Up || event->key() == Qt::Key_PageUp       ? 1
                    : event->key() == Qt::Key_Down || event->key() == Qt::Key_PageDown ? -1
                                                                                       : 0;
    if (!m_document.isOpen() || way == 0) {
        QWidget::keyPressEvent(event);
        return;
    }
    if (!event->isAutoRepeat()) m_gesture = newGesture();
    const double factor = std::exp(0.01 * way * fine);
    if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down)
        m_document.setFocusDistance(m_document.project().focusDistanceAt(m_document.frame()) * factor,
                                    m_gesture);
    else
        m_document.changeSetting(setting::fStop, m_document.values().fStop * factor, m_gesture);
}

void DepthProfile::contextMenuEvent(QContextMenuEvent* event)
{
    if (!m_document.isOpen()) return;
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("profileMenu"));
    const double here = axis().toDistance(event->pos().y() - plot().top());
    menu.addAction(tr("Focus at %1").arg(shownDistance(m_document.project(), here)), this,
                   [this, here] { m_document.setFocusDistance(here, newGesture()); });
    for (const auto& subject : m_document.project().subjects)
        if (const auto distance = timeline::distanceAt(subject, m_document.frame()))
            menu.addAction(tr("Focus on %1").arg(QString::fromStdString(subject.name)), this,
                           [this, at = *distance] { m_document.setFocusDistance(at, newGesture()); });
    menu.addSeparator();
    menu.addAction(tr("All frames and distances"), &m_state, &DeskState::fit)->setEnabled(m_state.isZoomed());
    menu.exec(event->globalPos());
}

void DepthProfile::wheelEvent(QWheelEvent* event)
{
    if (!m_document.isOpen()) return;
    if (event->modifiers() & Qt::ControlModifier) {
        m_state.zoomDistances(std::pow(1.2, event->angleDelta().y() / 120.0),
                              axis().toDistance(event->position().y() - plot().top()));
        return;
    }
    const double focus = m_document.project().focusDistanceAt(m_document.frame());
    m_document.setFocusDistance(focus * std::exp(0.01 * event->angleDelta().y() / 120.0), newGesture());
}

} // namespace retinex::app
