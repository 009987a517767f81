// What the focus desk does at a right click and at keys.
#include "app/desk/focus_desk.h"

#include <QContextMenuEvent>
#include <QMenu>
#include <climits>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kNoFrame = INT_MIN;

} // namespace

void FocusDesk::setEase(bool leaving, timeline::Ease ease)
{
    const timeline::ChosenFrames chosen = m_state.chosen();
    m_document.editMarks(tr("change ease"), setting::focusDistance, m_document.frame(),
                         [&](timeline::Marks& marks) {
                             for (timeline::Mark& mark : marks)
                                 if (chosen.contains(mark.frame)) {
                                     timeline::Side& side = leaving ? mark.leaving : mark.arriving;
                                     side.ease = ease;
                                     if (ease == timeline::Ease::curve && side.rise == 0.0) side.reach = 0.5;
                                 }
                         });
}

void FocusDesk::fillMarkMenu(QMenu& menu, int frame)
{
    const timeline::Mark mark = *timeline::markOn(m_document.marks(), frame);
    menu.addAction(tr("Type its values…"), this,
                   [this, frame] { emit markCardAsked(frame, mapFromGlobal(QCursor::pos())); });
    const auto eases = [&](const QString& title, bool leaving, timeline::Ease present) {
        QMenu* sub = menu.addMenu(title);
        const std::pair<timeline::Ease, QString> rows[] = {
            {timeline::Ease::smooth, tr("Smooth")},
            {timeline::Ease::linear, tr("Linear")},
            {timeline::Ease::curve, tr("Curve with a handle")},
            {timeline::Ease::hold, tr("Hold until the next mark")}};
        for (const auto& [ease, words] : rows) {
            if (ease == timeline::Ease::hold && !leaving) continue;
            QAction* action =
                sub->addAction(words, this, [this, leaving, ease = ease] { setEase(leaving, ease); });
            action->setCheckable(true);
            action->setChecked(present == ease);
        }
    };
    eases(tr("Arrive"), false, mark.arriving.ease);
    eases(tr("Leave"), true, mark.leaving.ease);
    QMenu* bind = menu.addMenu(tr("Bind to"));
    for (const auto& subject : m_document.project().subjects) {
        QAction* action = bind->addAction(QString::fromStdString(subject.name), this,
                                          [this, name = subject.name] { emit bindAsked(name); });
        action->setCheckable(true);
        action->setChecked(mark.subject == subject.name);
    }
    if (m_document.project().subjects.empty())
        bind->addAction(tr("There is no subject yet (U)"))->setEnabled(false);
    bind->addSeparator();
    bind->addAction(tr("A plain distance"), this, [this] { emit bindAsked({}); })->setEnabled(mark.isBound());
    menu.addSeparator();
    menu.addAction(tr("Copy"), this, &FocusDesk::copyChosen);
    menu.addAction(m_state.chosen().size() > 1 ? tr("Delete marks") : tr("Delete mark"), this,
                   &FocusDesk::deleteChosenMarks);
}

void FocusDesk::contextMenuEvent(QContextMenuEvent* event)
{
    if (!m_document.isOpen()) return;
    QMenu menu(this);
    if (const int mark = markAt(event->pos()); mark != kNoFrame) {
        pressMark(mark, false);
        m_drag = Drag::none;
        fillMarkMenu(menu, mark);
    } else {
        const int here = frameAt(event->pos().x());
        m_document.setFrame(here);
        menu.addAction(tr("Set mark at %1").arg(here), this,
                       [this] { m_document.setMarkHere(setting::focusDistance); });
        menu.addAction(tr("Paste marks at %1").arg(here), this, &FocusDesk::paste)
            ->setEnabled(!m_copied.empty());
        const bool bound = std::any_of(m_document.marks().begin(), m_document.marks().end(),
                                       [](const timeline::Mark& each) { return each.isBound(); });
        menu.addAction(tr("Turn this shot into plain marks…"), this, &FocusDesk::bakeAsked)
            ->setEnabled(bound);
        menu.addSeparator();
        const auto& project = m_document.project();
        const std::size_t shot = project.shotIndexAt(here);
        menu.addAction(tr("Cut at %1").arg(here), this, [this, here] { emit cutAsked(here); })
            ->setEnabled(here != project.framesOf(shot).first);
        if (shot > 0) {
            const int cut = project.framesOf(shot).first;
            menu.addAction(tr("Remove the cut at %1").arg(cut), this,
                           [this, cut] { emit removeCutAsked(cut); });
        }
        menu.addSeparator();
        menu.addAction(tr("All frames and distances"), &m_state, &DeskState::fit)
            ->setEnabled(m_state.isZoomed());
    }
    update();
    menu.exec(event->globalPos());
}

void FocusDesk::keyPressEvent(QKeyEvent* event)
{
    const double fine = event->modifiers() & Qt::ShiftModifier ? 10.0 : 1.0;
    if (event->matches(QKeySequence::Copy)) {
        copyChosen();
    } else if (event->matches(QKeySequence::Paste)) {
        paste();
    } else if (event->matches(QKeySequence::SelectAll)) {
        timeline::ChosenFrames all;
        for (const auto& mark : m_document.marks())
            all.insert(mark.frame);
        m_state.choose(setting::focusDistance, std::move(all));
    } else if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) {
        deleteChosenMarks();
    } else if (event->key() == Qt::Key_Escape) {
        m_state.choose(setting::focusDistance, {});
    } else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        openMarkHere();
    } else if (event->modifiers() == Qt::NoModifier &&
               (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down)) {
        if (!event->isAutoRepeat()) m_gesture = newGesture();
        m_document.setFocusDistance(m_document.project().focusDistanceAt(m_document.frame()) *
                                        (event->key() == Qt::Key_Up ? 1.01 : 1.0 / 1.01),
                                    m_gesture);
    } else if (event->modifiers() & Qt::AltModifier && event->key() == Qt::Key_Left) {
        nudge(static_cast<int>(-fine), 1.0);
    } else if (event->modifiers() & Qt::AltModifier && event->key() == Qt::Key_Right) {
        nudge(static_cast<int>(fine), 1.0);
    } else if (event->modifiers() & Qt::AltModifier && event->key() == Qt::Key_Up) {
        nudge(0, 1.0 + 0.005 * fine);
    } else if (event->modifiers() & Qt::AltModifier && event->key() == Qt::Key_Down) {
        nudge(0, 1.0 / (1.0 + 0.005 * fine));
    } else {
        QWidget::keyPressEvent(event);
    }
}

/// The card of the mark on this frame; where there is none, one is set.
void FocusDesk::openMarkHere()
{
    if (!m_document.isOpen() || !m_document.isSequence()) return;
    const int frame = m_document.frame();
    const auto* mark = timeline::markOn(m_document.marks(), frame);
    if (!mark) {
        m_document.setMarkHere(setting::focusDistance);
        return;
    }
    m_state.choose(setting::focusDistance, {frame});
    emit markCardAsked(frame, pointFor(frame, m_document.project().focusDistanceAt(frame)));
}

/// By frames, or by a share of the distance.
void FocusDesk::nudge(int frames, double factor)
{
    timeline::ChosenFrames chosen = m_state.chosen();
    if (chosen.empty() || m_state.chosenSetting() != setting::focusDistance) return;
    const int allowed = timeline::allowedShift(m_document.marks(), chosen, frames, shotRange());
    if (allowed == 0 && factor == 1.0) return;
    m_document.editMarks(chosen.size() == 1 ? tr("nudge mark at %1").arg(*chosen.begin() + allowed)
                                            : tr("nudge %1 marks").arg(chosen.size()),
                         setting::focusDistance, m_document.frame(), [&](timeline::Marks& marks) {
                             timeline::moveMarks(marks, chosen, allowed,
                                                 [factor](double distance) { return distance * factor; });
                         });
    m_state.choose(setting::focusDistance, std::move(chosen));
}

void FocusDesk::copyChosen()
{
    m_copied = timeline::copiedMarks(m_document.marks(), m_state.chosen());
}

void FocusDesk::paste()
{
    if (m_copied.empty()) return;
    timeline::ChosenFrames pasted;
    m_document.editMarks(tr("paste marks at %1").arg(m_document.frame()), setting::focusDistance,
                         m_document.frame(), [&](timeline::Marks& marks) {
                             pasted = timeline::pasteMarks(marks, m_copied, m_document.frame(), shotRange());
                         });
    m_state.choose(setting::focusDistance, std::move(pasted));
}

void FocusDesk::deleteChosenMarks()
{
    const SettingPath id = m_state.chosenSetting();
    timeline::ChosenFrames chosen = m_state.chosen();
    if (chosen.empty()) chosen.insert(m_document.frame());
    if (chosen.size() == 1) {
        m_document.removeMark(id, *chosen.begin());
        return;
    }
    m_document.editMarks(tr("delete %1 marks").arg(chosen.size()), id, m_document.frame(),
                         [&](timeline::Marks& marks) { timeline::removeMarks(marks, chosen); });
}

void FocusDesk::goToMark(int direction)
{
    int best = kNoFrame;
    for (const project::Shot& shot : m_document.project().shots)
        for (const auto& mark : shot.marks(setting::focusDistance))
            if ((direction < 0 && mark.frame < m_document.frame()) ||
                (direction > 0 && mark.frame > m_document.frame() && best == kNoFrame))
                best = mark.frame;
    if (best == kNoFrame) return;
    m_document.setFrame(best);
    m_state.choose(setting::focusDistance, {best});
}

} // namespace retinex::app
