// What the window does about time: marks, cuts, subjects.
#include "app/window/main_window.h"

#include "app/dialogs/bracket_sheet.h"
#include "app/dialogs/copy_settings_dialog.h"
#include "app/dialogs/position_dialog.h"
#include "app/fields/setting_formats.h"
#include "core/project/shots.h"

#include <QInputDialog>
#include <QSplitter>

namespace retinex::app {

namespace {

/// A share of the distance, when a shot is turned into plain marks.
constexpr double kBakePercent = 0.2;

} // namespace

void MainWindow::connectDesk()
{
    connect(m_frameBar, &FrameBar::scaleChosen, &m_deskState, &DeskState::setScale);
    connect(m_frameBar, &FrameBar::fitAsked, &m_deskState, &DeskState::fit);
    connect(m_frameBar, &FrameBar::setMarkAsked, this,
            [this] { m_document.setMarkHere(setting::focusDistance); });
    connect(m_frameBar, &FrameBar::deleteMarkAsked, m_desk, &FocusDesk::deleteChosenMarks);
    connect(m_desk, &FocusDesk::markCardAsked, this, [this](int frame, QPoint at) {
        m_card->openFor(setting::focusDistance, frame, m_desk->mapToGlobal(at));
    });
    connect(m_lanes, &MarkLanes::markCardAsked, this, [this](const SettingPath& id, int frame, QPoint at) {
        m_card->openFor(id, frame, m_lanes->mapToGlobal(at));
    });
    connect(m_desk, &FocusDesk::cutAsked, this, &MainWindow::cut);
    connect(m_desk, &FocusDesk::removeCutAsked, this, &MainWindow::removeCut);
    connect(m_desk, &FocusDesk::bindAsked, this, &MainWindow::bindChosen);
    connect(m_desk, &FocusDesk::bakeAsked, this, &MainWindow::bakeShot);
    connect(&m_document, &Document::markAdded, this, &MainWindow::tellOfMark);
    connect(&m_cutFinder, &CutFinder::progressed, this, [this](int done, int total) {
        m_message->show(MessageBar::Kind::notice,
                        tr("Looking for cuts: %1 of %2 frames").arg(done).arg(total), tr("Cancel"),
                        [this] { m_cutFinder.cancel(); });
    });
    connect(&m_cutFinder, &CutFinder::found, this, &MainWindow::showProposedCuts);
    connect(&m_cutFinder, &CutFinder::cancelled, m_message, &QWidget::hide);
    connect(m_deskSplit, &QSplitter::splitterMoved, this, &MainWindow::alignLanes);
    connect(&m_deskState, &DeskState::changed, this, &MainWindow::alignLanes);
}

/// The lanes lie under the desk, their names under the profile.
void MainWindow::alignLanes()
{
    m_lanes->setDeskPlace(m_desk->x(), m_desk->width());
}

void MainWindow::cut(int frame)
{
    project::Project changed = m_document.project();
    if (!project::cutAt(changed, frame)) return;
    m_document.edit(tr("cut at %1").arg(frame), changed);
}

void MainWindow::removeCut(int frame)
{
    project::Project changed = m_document.project();
    if (!project::removeCut(changed, frame)) {
        m_message->show(MessageBar::Kind::notice, tr("There is no cut at %1.").arg(frame));
        return;
    }
    m_document.edit(tr("remove the cut at %1").arg(frame), changed);
}

void MainWindow::proposeCuts()
{
    if (!m_document.isSequence() || m_cutFinder.isBusy()) return;
    m_message->show(MessageBar::Kind::notice, tr("Looking for cuts…"), tr("Cancel"),
                    [this] { m_cutFinder.cancel(); });
    m_cutFinder.start(m_document.source(), m_document.project());
}

void MainWindow::showProposedCuts(const std::vector<int>& cuts)
{
    if (cuts.empty()) {
        m_message->show(MessageBar::Kind::notice, tr("No cut was found that is not set already."));
        return;
    }
    QStringList frames;
    for (const int cut : cuts)
        frames << QString::number(cut);
    m_message->show(MessageBar::Kind::notice, tr("New shots seem to begin at %1.").arg(frames.join(", ")),
                    tr("Cut there"), [this, cuts] {
                        project::Project changed = m_document.project();
                        for (const int cut : cuts)
                            project::cutAt(changed, cut);
                        m_document.edit(tr("cut where proposed"), changed);
                        m_message->hide();
                    });
}

void MainWindow::renameShot()
{
    bool accepted = false;
    const QString name = QInputDialog::getText(this, tr("Name this shot"), tr("Name"), QLineEdit::Normal,
                                               QString::fromStdString(m_document.shot().name), &accepted);
    if (accepted)
        m_document.editShot(tr("name shot"), [&](project::Shot& shot) { shot.name = name.toStdString(); });
}

void MainWindow::copyShotSettings()
{
    if (m_document.project().shots.size() < 2) {
        m_message->show(MessageBar::Kind::notice, tr("There is one shot only. Cut it first (X)."));
        return;
    }
    CopySettingsDialog(m_document, this).exec();
}

void MainWindow::focusFromPositions()
{
    if (m_document.isOpen()) PositionDialog(m_document, this).exec();
}

void MainWindow::showBracket()
{
    if (!m_document.isOpen()) return;
    const auto& passes = m_picture->picture().passes;
    BracketSheet(m_document, m_transform, passes ? passes->range : depth::DepthRange{}, this).exec();
}

/// A mark that is bound rides on its subject until the next mark; unbound it keeps the distance it has.
void MainWindow::bindChosen(const std::string& subject)
{
    const timeline::ChosenFrames chosen = m_deskState.chosen();
    const project::Project& project = m_document.project();
    m_document.editMarks(subject.empty() ? tr("unbind marks")
                                         : tr("bind to %1").arg(QString::fromStdString(subject)),
                         setting::focusDistance, m_document.frame(), [&](timeline::Marks& marks) {
                             timeline::bindMarks(marks, chosen, subject,
                                                 [&](int frame) { return project.focusDistanceAt(frame); });
                         });
}

void MainWindow::bakeShot()
{
    bool accepted = false;
    const double percent = QInputDialog::getDouble(
        this, tr("Turn into plain marks"),
        tr("As few marks as follow the focus distance of this shot, no frame farther off than this many\nper "
           "cent of its distance:"),
        kBakePercent, 0.01, 10.0, 2, &accepted);
    if (!accepted) return;
    const project::Project& project = m_document.project();
    const timeline::FrameRange range = project.framesOf(project.shotIndexAt(m_document.frame()));
    std::vector<timeline::FrameValue> values;
    for (int frame = range.first; frame <= range.last; ++frame)
        values.push_back({frame, project.focusDistanceAt(frame)});
    m_document.editMarks(
        tr("turn into plain marks"), setting::focusDistance, m_document.frame(),
        [&](timeline::Marks& marks) { marks = timeline::thinnedMarks(values, 0.01 * percent); });
    m_message->show(MessageBar::Kind::notice, tr("%1 marks follow the %2 frames of this shot within %3 %.")
                                                  .arg(m_document.marks().size())
                                                  .arg(values.size())
                                                  .arg(percent));
}

/// A change between marks has added one; the other way to take it is offered.
void MainWindow::tellOfMark(const SettingPath& id, int frame)
{
    const int step = m_document.undoStack().index();
    m_message->show(
        MessageBar::Kind::notice,
        tr("A mark of %1 was added at %2; other frames keep theirs.").arg(settingTitle(id)).arg(frame),
        tr("Shift all marks instead"), [this, id, step] {
            if (m_document.undoStack().index() != step) {
                m_message->show(MessageBar::Kind::notice,
                                tr("Other changes were made since: the mark stays."));
                return;
            }
            const double value = project::infoOf(id)->get(m_document.values());
            m_document.undoStack().undo();
            m_document.setBetweenMarks(BetweenMarks::shiftAll);
            m_document.changeSetting(id, value);
            m_message->hide();
        });
}

} // namespace retinex::app
