#include "app/desk/focus_desk.h"

#include "app/look/style.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <climits>
#include <cmath>

namespace retinex::app {

namespace {

constexpr double kMarkGrab = 8.0;
constexpr double kMarkSnap = 7.0; ///< px: a dragged mark takes the distance of a subject this close
constexpr int kNone = INT_MIN;

} // namespace

FocusDesk::FocusDesk(Document& document, const DepthSurvey& survey, DeskState& state, QWidget* parent)
    : QWidget(parent), m_document(document), m_state(state), m_heat(survey)
{
    setObjectName(QStringLiteral("focusDesk"));
    setAccessibleName(tr("Focus desk"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 80);
    const auto refresh = [this] {
        m_focusIsOld = true;
        update();
    };
    connect(&document, &Document::projectChanged, this, refresh);
    connect(&document, &Document::frameChanged, this, qOverload<>(&QWidget::update));
    connect(&state, &DeskState::changed, this, refresh);
    connect(&survey, &DepthSurvey::restarted, this, [this] {
        m_heat.clear();
        m_background = {};
        update();
    });
    connect(&survey, &DepthSurvey::changed, this, [this](const std::vector<int>& frames) {
        m_heat.add(frames);
        m_background = {};
        update();
    });
}

DeskPainter FocusDesk::painterFor() const
{
    return {m_document, m_state,
            QRectF(8, SharedAxis::topMargin, width() - 16,
                   height() - SharedAxis::topMargin - SharedAxis::bottomMargin)};
}

FrameScale FocusDesk::frameScale() const
{
    return painterFor().frames();
}

QPoint FocusDesk::pointFor(double frame, double distance) const
{
    return painterFor().pointFor(frame, distance).toPoint();
}

QPoint FocusDesk::handlePoint(int frame, bool leaving) const
{
    const auto* mark = timeline::markOn(m_document.marks(), frame);
    const auto handle = mark ? painterFor().handleOf(*mark, leaving) : std::nullopt;
    return handle ? handle->toPoint() : QPoint();
}

int FocusDesk::frameAt(double x) const
{
    const auto& project = m_document.project();
    return std::clamp(static_cast<int>(std::lround(painterFor().frames().toFrame(x))), project.firstFrame,
                      project.lastFrame);
}

double FocusDesk::distanceAt(double y) const
{
    const DeskPainter painter = painterFor();
    return painter.axis().toDistance(y - painter.plot().top());
}

timeline::FrameRange FocusDesk::shotRange() const
{
    const auto& project = m_document.project();
    return project.framesOf(project.shotIndexAt(m_document.frame()));
}

/// Marks of all shots can be taken; taking one goes to its shot.
int FocusDesk::markAt(QPointF pos) const
{
    const DeskPainter painter = painterFor();
    int found = kNone;
    double nearest = kMarkGrab;
    for (const project::Shot& shot : m_document.project().shots) {
        for (const auto& mark : shot.marks(setting::focusDistance)) {
            const QPointF d = pos - painter.pointFor(mark);
            const double far = std::hypot(d.x(), d.y());
            if (far > nearest) continue;
            nearest = far;
            found = mark.frame;
        }
    }
    return found;
}

std::optional<FocusDesk::HandleAt> FocusDesk::handleAt(QPointF pos) const
{
    if (m_state.chosenSetting() != setting::focusDistance) return std::nullopt;
    const DeskPainter painter = painterFor();
    for (const auto& mark : m_document.marks()) {
        if (!m_state.chosen().contains(mark.frame)) continue;
        for (const bool leaving : {false, true}) {
            const auto handle = painter.handleOf(mark, leaving);
            if (handle && std::hypot(pos.x() - handle->x(), pos.y() - handle->y()) <= kMarkGrab)
                return HandleAt{mark.frame, leaving};
        }
    }
    return std::nullopt;
}

void FocusDesk::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), style::panel);
    const DeskPainter desk = painterFor();
    painter.fillRect(desk.plot(), style::well);
    if (!m_document.isOpen()) {
        painter.setPen(style::dimText);
        painter.setFont(style::textFont(8.5));
        painter.drawText(QRect(10, 0, width(), SharedAxis::topMargin), Qt::AlignVCenter, tr("Focus desk"));
        return;
    }
    if (!backgroundIsCurrent(desk)) drawBackground(desk);
    if (m_focusIsOld) {
        m_focusIsOld = false;
        m_withFocus = m_background;
        QPainter lines(&m_withFocus);
        lines.setRenderHint(QPainter::Antialiasing);
        lines.setClipRect(desk.plot().adjusted(0, -1, 0, 1));
        desk.paintFocus(lines);
        lines.setClipping(false);
        desk.paintPlayedRange(lines);
    }
    painter.drawPixmap(0, 0, m_withFocus);
    painter.setRenderHint(QPainter::Antialiasing);
    desk.paintPresentFrame(painter);
    if (hasFocus()) style::keysFrame(painter, QRectF(rect()));
    desk.paintMarks(painter);
    if (m_drag != Drag::choose) return;
    painter.setPen(QPen(style::text, 1, Qt::DashLine));
    painter.setBrush(QColor(255, 255, 255, 20));
    painter.drawRect(m_box);
}

namespace {

std::vector<std::pair<int, std::string>> shotsOf(const project::Project& project)
{
    std::vector<std::pair<int, std::string>> shots;
    for (std::size_t i = 0; i < project.shots.size(); ++i)
        shots.emplace_back(project.framesOf(i).first, project.shots[i].name);
    return shots;
}

} // namespace

bool FocusDesk::backgroundIsCurrent(const DeskPainter& desk) const
{
    return !m_background.isNull() && m_background.size() == size() * devicePixelRatioF() &&
           m_backgroundFrames == desk.frames() && m_backgroundAxis == desk.axis() &&
           m_backgroundSubjects == m_document.project().subjects &&
           m_backgroundShots == shotsOf(m_document.project());
}

void FocusDesk::drawBackground(const DeskPainter& desk)
{
    m_focusIsOld = true;
    const auto& project = m_document.project();
    m_backgroundFrames = desk.frames();
    m_backgroundAxis = desk.axis();
    m_backgroundSubjects = project.subjects;
    m_backgroundShots = shotsOf(project);
    m_background = QPixmap(size() * devicePixelRatioF());
    m_background.setDevicePixelRatio(devicePixelRatioF());
    m_background.fill(style::panel);
    QPainter painter(&m_background);
    const QImage& heat = m_heat.image(project.firstFrame, project.lastFrame, desk.axis());
    painter.drawImage(desk.plot(), heat,
                      QRectF(desk.frames().left - project.firstFrame, 0,
                             desk.frames().right - desk.frames().left, heat.height()));
    painter.setRenderHint(QPainter::Antialiasing);
    desk.paintRuler(painter);
    painter.setClipRect(desk.plot().adjusted(0, -1, 0, 1));
    desk.paintSubjects(painter);
    desk.paintShots(painter);
}

bool FocusDesk::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip && m_document.isOpen()) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const int mark = markAt(help->pos());
        QToolTip::showText(help->globalPos(),
                           mark != kNone
                               ? tr("Drag to move the mark. Double click to type its values.")
                               : tr("Drag to go through the frames. Double click sets a mark. Shift and drag "
                                    "chooses marks. The wheel zooms frames, with Ctrl distances."),
                           this);
        return true;
    }
    // Nudging must not step frames or go to other marks.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool nudges = key->modifiers() & Qt::AltModifier;
        const bool copies = key->matches(QKeySequence::Copy) || key->matches(QKeySequence::Paste) ||
                            key->matches(QKeySequence::SelectAll);
        if (nudges || copies) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void FocusDesk::pressMark(int frame, bool toggles)
{
    if (m_document.project().shotIndexAt(frame) != m_document.project().shotIndexAt(m_document.frame()))
        m_document.setFrame(frame); // choices are of the present shot
    if (toggles)
        m_state.toggle(setting::focusDistance, frame);
    else if (!m_state.isChosen(setting::focusDistance, frame))
        m_state.choose(setting::focusDistance, {frame});
    m_pressMarks = m_document.marks();
    m_pressChosen = m_state.chosen();
    m_pressFrame = frame;
    m_drag = toggles ? Drag::none : Drag::marks;
}

void FocusDesk::mousePressEvent(QMouseEvent* event)
{
    if (!m_document.isOpen()) return;
    m_pressed = event->position();
    m_gesture = newGesture();
    if (event->button() == Qt::MiddleButton) {
        m_drag = Drag::pan;
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    if (const auto handle = handleAt(m_pressed)) {
        m_handle = *handle;
        m_drag = Drag::handle;
    } else if (const int mark = markAt(m_pressed); mark != kNone) {
        pressMark(mark, event->modifiers() & Qt::ControlModifier);
    } else if (event->modifiers() & Qt::ShiftModifier) {
        m_drag = Drag::choose;
        m_box = {m_pressed, m_pressed};
    } else {
        m_state.choose(setting::focusDistance, {});
        m_drag = Drag::scrub;
        m_document.setFrame(frameAt(m_pressed.x()));
    }
    update();
}

void FocusDesk::mouseMoveEvent(QMouseEvent* event)
{
    const QPointF pos = event->position();
    switch (m_drag) {
    case Drag::marks:
        dragMarks(pos, !(event->modifiers() & Qt::AltModifier));
        break;
    case Drag::handle:
        dragHandle(pos);
        break;
    case Drag::scrub:
        m_document.setFrame(frameAt(pos.x()));
        break;
    case Drag::choose:
        m_box = QRectF(m_pressed, pos).normalized();
        chooseWithin(m_box);
        update();
        break;
    case Drag::pan:
        m_state.panFrames((m_pressed.x() - pos.x()) / painterFor().frames().pxPerFrame());
        m_state.panDistances((pos.y() - m_pressed.y()) / -painterFor().plot().height());
        m_pressed = pos;
        break;
    default:
        setCursor(handleAt(pos)          ? Qt::CrossCursor
                  : markAt(pos) != kNone ? Qt::SizeAllCursor
                                         : Qt::ArrowCursor);
    }
}

void FocusDesk::mouseReleaseEvent(QMouseEvent*)
{
    m_drag = Drag::none;
    unsetCursor();
    update();
}

void FocusDesk::chooseWithin(const QRectF& box)
{
    const DeskPainter painter = painterFor();
    timeline::ChosenFrames frames;
    for (const auto& mark : m_document.marks())
        if (box.contains(painter.pointFor(mark))) frames.insert(mark.frame);
    m_state.choose(setting::focusDistance, std::move(frames));
}

/// From where they were pressed, so that no rounding adds up on the way.
void FocusDesk::dragMarks(QPointF pos, bool snaps)
{
    const DeskPainter painter = painterFor();
    const double dx = (pos.x() - m_pressed.x()) / painter.frames().pxPerFrame();
    const int frames =
        timeline::allowedShift(m_pressMarks, m_pressChosen, static_cast<int>(std::lround(dx)), shotRange());
    const double dy = pos.y() - m_pressed.y();
    if (dy == 0.0 && frames == 0) return;
    const DistanceAxis& axis = painter.axis();
    auto value = [&](double distance) { return axis.toDistance(axis.toY(distance) + dy); };
    std::optional<double> snapped;
    if (const auto* pressed = timeline::markOn(m_pressMarks, m_pressFrame); pressed && snaps) {
        const double y = axis.toY(pressed->value) + dy;
        for (const auto& subject : m_document.project().subjects) {
            const auto distance = timeline::distanceAt(subject, m_pressFrame + frames);
            if (distance && std::abs(axis.toY(*distance) - y) < kMarkSnap) snapped = distance;
        }
    }
    timeline::ChosenFrames chosen = m_pressChosen;
    const bool one = chosen.size() == 1;
    m_document.editMarks(
        one ? tr("move mark at %1").arg(m_pressFrame + frames) : tr("move %1 marks").arg(chosen.size()),
        setting::focusDistance, m_document.frame(),
        [&](timeline::Marks& marks) {
            marks = m_pressMarks;
            timeline::moveMarks(marks, chosen, frames,
                                [&](double distance) { return one && snapped ? *snapped : value(distance); });
        },
        m_gesture);
    m_state.choose(setting::focusDistance, std::move(chosen));
}

void FocusDesk::dragHandle(QPointF pos)
{
    const auto& marks = m_document.marks();
    const auto it = std::find_if(marks.begin(), marks.end(),
                                 [&](const timeline::Mark& mark) { return mark.frame == m_handle.frame; });
    if (it == marks.end()) return;
    if (m_handle.leaving ? it + 1 == marks.end() : it == marks.begin()) return;
    const timeline::Mark& other = m_handle.leaving ? *(it + 1) : *(it - 1);
    const timeline::Mark& from = m_handle.leaving ? *it : other;
    const double frame = painterFor().frames().toFrame(pos.x());
    timeline::Side side = m_handle.leaving ? it->leaving : it->arriving;
    side.reach = std::clamp((frame - it->frame) / (other.frame - it->frame), 0.0, 1.0);
    side.rise = timeline::shareOfWay(from.blend, it->value, other.value, distanceAt(pos.y()),
                                     m_document.project().fromMillimetres(m_document.values().focalLengthMm));
    if (!side.mayOvershoot) side.rise = std::clamp(side.rise, 0.0, 1.0);
    m_document.editMarks(
        tr("bend the pull at %1").arg(m_handle.frame), setting::focusDistance, m_document.frame(),
        [&](timeline::Marks& edited) {
            for (timeline::Mark& mark : edited)
                if (mark.frame == m_handle.frame) (m_handle.leaving ? mark.leaving : mark.arriving) = side;
        },
        m_gesture);
}

void FocusDesk::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (!m_document.isOpen() || event->button() != Qt::LeftButton) return;
    m_drag = Drag::none;
    if (const int mark = markAt(event->position()); mark != kNone) {
        emit markCardAsked(mark, event->position().toPoint());
        return;
    }
    const int frame = frameAt(event->position().x());
    m_document.setFrame(frame);
    // On the line: a mark that leaves the line where it is. Elsewhere: a mark right there.
    const double here = m_document.values().focusDistance;
    if (std::abs(event->position().y() - pointFor(frame, here).y()) < kMarkGrab) {
        m_document.setMarkHere(setting::focusDistance);
    } else {
        const double distance = distanceAt(event->position().y());
        m_document.editMarks(tr("set mark at %1").arg(frame), setting::focusDistance, frame,
                             [&](timeline::Marks& marks) {
                                 timeline::setMark(marks, {frame, distance});
                             });
    }
    m_state.choose(setting::focusDistance, {frame});
}

void FocusDesk::wheelEvent(QWheelEvent* event)
{
    if (!m_document.isOpen()) return;
    const double turns = (event->angleDelta().y() + event->angleDelta().x()) / 120.0;
    const double factor = std::pow(1.2, turns);
    if (event->modifiers() & Qt::ControlModifier)
        m_state.zoomDistances(factor, distanceAt(event->position().y()));
    else if (event->modifiers() & Qt::ShiftModifier)
        m_state.panFrames(-turns * 0.1 * (m_state.rightFrame() - m_state.leftFrame()));
    else
        m_state.zoomFrames(factor, painterFor().frames().toFrame(event->position().x()));
    event->accept();
}

} // namespace retinex::app
