#include "app/controllers/time_controller.h"

#include "app/dialogs/bracket_sheet.h"
#include "app/dialogs/copy_settings_dialog.h"
#include "app/dialogs/position_dialog.h"
#include "app/fields/setting_formats.h"
#include "core/project/shots.h"

#include <QInputDialog>
#include <QMenu>

namespace retinex::app {

namespace {

/// A share of the distance, when a shot is turned into plain marks.
constexpr double kBakePercent = 0.2;
constexpr int kJump = 10; ///< frames

} // namespace

TimeController::TimeController(Workbench& bench, PictureController& picture)
    : QObject(&bench.window), m_bench(bench), m_picture(picture)
{
    connect(m_bench.frameBar, &FrameBar::scaleChosen, &m_bench.deskState, &DeskState::setScale);
    connect(m_bench.frameBar, &FrameBar::fitAsked, &m_bench.deskState, &DeskState::fit);
    connect(m_bench.frameBar, &FrameBar::setMarkAsked, this,
            [this] { m_bench.document.setMarkHere(setting::focusDistance); });
    connect(m_bench.frameBar, &FrameBar::deleteMarkAsked, m_bench.desk, &FocusDesk::deleteChosenMarks);
    connect(m_bench.desk, &FocusDesk::markCardAsked, this, [this](int frame, QPoint at) {
        m_bench.card->openFor(setting::focusDistance, frame, m_bench.desk->mapToGlobal(at));
    });
    connect(m_bench.lanes, &MarkLanes::markCardAsked, this,
            [this](const SettingPath& id, int frame, QPoint at) {
                m_bench.card->openFor(id, frame, m_bench.lanes->mapToGlobal(at));
            });
    connect(m_bench.desk, &FocusDesk::cutAsked, this, &TimeController::cut);
    connect(m_bench.desk, &FocusDesk::removeCutAsked, this, &TimeController::removeCut);
    connect(m_bench.desk, &FocusDesk::bindAsked, this, &TimeController::bindChosen);
    connect(m_bench.desk, &FocusDesk::bakeAsked, this, &TimeController::bakeShot);
    connect(&m_bench.document, &Document::markAdded, this, &TimeController::tellOfMark);
    connect(&m_cutFinder, &CutFinder::progressed, this, [this](int done, int total) {
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("Looking for cuts: %1 of %2 frames").arg(done).arg(total), tr("Cancel"),
                              [this] { m_cutFinder.cancel(); });
    });
    connect(&m_cutFinder, &CutFinder::found, this, &TimeController::showProposedCuts);
    connect(&m_cutFinder, &CutFinder::failed, this,
            [this](const QString& message) { m_bench.message->show(MessageBar::Kind::trouble, message); });
    connect(&m_cutFinder, &CutFinder::cancelled, m_bench.message, &QWidget::hide);
}

void TimeController::addActions(QMenu& menu)
{
    m_bench.actions.add(
        menu, tr("One frame &back"), QKeySequence(Qt::Key_Left),
        [this] { m_bench.document.setFrame(m_bench.document.frame() - 1); }, When::sequence);
    m_bench.actions.add(
        menu, tr("One frame &on"), QKeySequence(Qt::Key_Right),
        [this] { m_bench.document.setFrame(m_bench.document.frame() + 1); }, When::sequence);
    m_bench.actions.add(
        menu, tr("&First frame"), QKeySequence(Qt::Key_Home),
        [this] { m_bench.document.setFrame(m_bench.document.project().firstFrame); }, When::sequence);
    m_bench.actions.add(
        menu, tr("&Last frame"), QKeySequence(Qt::Key_End),
        [this] { m_bench.document.setFrame(m_bench.document.project().lastFrame); }, When::sequence);
    const auto jump = [this](const QString& text, const QKeySequence& keys, QMenu& in, int by) {
        m_bench.actions.add(
            in, text, keys, [this, by] { m_bench.document.setFrame(m_bench.document.frame() + by); },
            When::sequence);
    };
    jump(tr("Ten frame&s back"), QKeySequence(tr("Shift+Left")), menu, -kJump);
    jump(tr("Ten f&rames on"), QKeySequence(tr("Shift+Right")), menu, kJump);
    m_bench.actions.add(
        menu, tr("&Go to frame…"), QKeySequence(tr("Ctrl+G")), [this] { m_bench.frameBar->typeFrame(); },
        When::sequence);
    menu.addSeparator();
    m_bench.actions.add(
        menu, tr("Set &mark"), QKeySequence(Qt::Key_M),
        [this] { m_bench.document.setMarkHere(setting::focusDistance); }, When::sequence);
    m_bench.actions.add(
        menu, tr("&Delete mark"), QKeySequence(tr("Shift+M")), [this] { m_bench.desk->deleteChosenMarks(); },
        When::sequence);
    m_bench.actions.add(
        menu, tr("&Cut here"), QKeySequence(Qt::Key_X), [this] { cut(m_bench.document.frame()); },
        When::sequence);
    m_bench.actions.add(
        menu, tr("Remove this shot's c&ut"), QKeySequence(tr("Shift+X")),
        [this] {
            const auto& project = m_bench.document.project();
            removeCut(project.framesOf(project.shotIndexAt(m_bench.document.frame())).first);
        },
        When::sequence);
    m_bench.actions.add(
        menu, tr("&Propose cuts"), {}, [this] { proposeCuts(); }, When::sequence);
    m_bench.actions.add(
        menu, tr("&Name this shot…"), {}, [this] { renameShot(); }, When::sequence);
    m_bench.actions.add(
        menu, tr("Cop&y settings to other shots…"), {}, [this] { copyShotSettings(); }, When::sequence);
    menu.addSeparator();
    m_bench.actions.add(
        menu, tr("Keep a &take"), QKeySequence(Qt::Key_T), [this] { emit takeAsked(); }, When::open);
    m_bench.actions.add(
        menu, tr("Brac&ket…"), QKeySequence(Qt::Key_B), [this] { showBracket(); }, When::open);
    m_bench.actions.add(
        menu, tr("Focus from t&wo positions…"), QKeySequence(tr("Ctrl+2")), [this] { focusFromPositions(); },
        When::open);
    menu.addSeparator();
    m_bench.actions.add(
        menu, tr("Mark b&efore"), QKeySequence(tr("Ctrl+Left")), [this] { m_bench.desk->goToMark(-1); },
        When::sequence);
    m_bench.actions.add(
        menu, tr("Mark &after"), QKeySequence(tr("Ctrl+Right")), [this] { m_bench.desk->goToMark(1); },
        When::sequence);
}

void TimeController::cut(int frame)
{
    project::Project changed = m_bench.document.project();
    if (!project::cutAt(changed, frame)) return;
    m_bench.document.edit(tr("cut at %1").arg(frame), changed);
}

void TimeController::removeCut(int frame)
{
    project::Project changed = m_bench.document.project();
    if (!project::removeCut(changed, frame)) {
        m_bench.message->show(MessageBar::Kind::notice, tr("There is no cut at %1.").arg(frame));
        return;
    }
    m_bench.document.edit(tr("remove the cut at %1").arg(frame), changed);
}

void TimeController::proposeCuts()
{
    if (!m_bench.document.isSequence() || m_cutFinder.isBusy()) return;
    m_bench.message->show(MessageBar::Kind::notice, tr("Looking for cuts…"), tr("Cancel"),
                          [this] { m_cutFinder.cancel(); });
    m_cutFinder.start(m_bench.document.source(), m_bench.document.project());
}

void TimeController::showProposedCuts(const std::vector<int>& cuts)
{
    if (cuts.empty()) {
        m_bench.message->show(MessageBar::Kind::notice, tr("No cut was found that is not set already."));
        return;
    }
    QStringList frames;
    for (const int cut : cuts)
        frames << QString::number(cut);
    m_bench.message->show(MessageBar::Kind::notice,
                          tr("New shots seem to begin at %1.").arg(frames.join(", ")), tr("Cut there"),
                          [this, cuts] {
                              project::Project changed = m_bench.document.project();
                              for (const int cut : cuts)
                                  project::cutAt(changed, cut);
                              m_bench.document.edit(tr("cut where proposed"), changed);
                              m_bench.message->hide();
                          });
}

void TimeController::renameShot()
{
    bool accepted = false;
    const QString name =
        QInputDialog::getText(&m_bench.window, tr("Name this shot"), tr("Name"), QLineEdit::Normal,
                              QString::fromStdString(m_bench.document.shot().name), &accepted);
    if (accepted)
        m_bench.document.editShot(tr("name shot"),
                                  [&](project::Shot& shot) { shot.name = name.toStdString(); });
}

void TimeController::copyShotSettings()
{
    if (m_bench.document.project().shots.size() < 2) {
        m_bench.message->show(MessageBar::Kind::notice, tr("There is one shot only. Cut it first (X)."));
        return;
    }
    CopySettingsDialog(m_bench.document, &m_bench.window).exec();
}

void TimeController::focusFromPositions()
{
    if (m_bench.document.isOpen()) PositionDialog(m_bench.document, &m_bench.window).exec();
}

void TimeController::showBracket()
{
    if (!m_bench.document.isOpen()) return;
    const auto& passes = m_bench.picture->picture().passes;
    BracketSheet(m_bench.document, m_picture.transform(), passes ? passes->range : depth::DepthRange{},
                 &m_bench.window)
        .exec();
}

/// The pulls between the marks stay; unbound, a mark keeps the distance it has.
void TimeController::bindChosen(const std::string& subject)
{
    const timeline::ChosenFrames chosen = m_bench.deskState.chosen();
    const project::Project& project = m_bench.document.project();
    m_bench.document.editMarks(
        subject.empty() ? tr("unbind marks") : tr("bind to %1").arg(QString::fromStdString(subject)),
        setting::focusDistance, m_bench.document.frame(), [&](timeline::Marks& marks) {
            timeline::bindMarks(marks, chosen, subject,
                                [&](int frame) { return project.focusDistanceAt(frame); });
        });
}

void TimeController::bakeShot()
{
    bool accepted = false;
    const double percent = QInputDialog::getDouble(
        &m_bench.window, tr("Turn into plain marks"),
        tr("As few marks as follow the focus distance of this shot, no frame farther off than this many\nper "
           "cent of its distance:"),
        kBakePercent, 0.01, 10.0, 2, &accepted);
    if (!accepted) return;
    const project::Project& project = m_bench.document.project();
    const timeline::FrameRange range = project.framesOf(project.shotIndexAt(m_bench.document.frame()));
    std::vector<timeline::FrameValue> values;
    for (int frame = range.first; frame <= range.last; ++frame)
        values.push_back({frame, project.focusDistanceAt(frame)});
    m_bench.document.editMarks(
        tr("turn into plain marks"), setting::focusDistance, m_bench.document.frame(),
        [&](timeline::Marks& marks) { marks = timeline::thinnedMarks(values, 0.01 * percent); });
    m_bench.message->show(MessageBar::Kind::notice,
                          tr("%n mark(s) follow the %1 frames of this shot: no focus distance is off by more "
                             "than %2 % of itself.",
                             nullptr, static_cast<int>(m_bench.document.marks().size()))
                              .arg(values.size())
                              .arg(percent));
}

/// A change between marks has added one; the other way to take it is offered.
void TimeController::tellOfMark(const SettingPath& id, int frame)
{
    const int step = m_bench.document.undoStack().index();
    m_bench.passing->show(MessageBar::Kind::notice,
                          tr("A mark of %1 was added at %2; other frames keep theirs.")
                              .arg(settingTitle(id, m_bench.document.values()))
                              .arg(frame),
                          tr("Shift all marks instead"), [this, id, step] {
                              if (m_bench.document.undoStack().index() != step) {
                                  m_bench.message->show(MessageBar::Kind::notice,
                                                        tr("Other changes were made since: the mark stays."));
                                  return;
                              }
                              const double value = project::infoOf(id)->get(m_bench.document.values());
                              m_bench.document.undoStack().undo();
                              m_bench.document.setBetweenMarks(BetweenMarks::shiftAll);
                              m_bench.document.changeSetting(id, value);
                          });
}

} // namespace retinex::app
