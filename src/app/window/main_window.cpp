#include "app/window/main_window.h"

#include "app/dialogs/manual_window.h"
#include "app/dialogs/shortcut_list.h"
#include "app/layout/flow_row.h"
#include "app/layout/tab_order.h"
#include "app/look/style.h"
#include "app/window/key_return.h"
#include "app/window/message_log.h"

#include <QAbstractButton>
#include <QApplication>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QScreen>
#include <QSettings>
#include <QSplitter>
#include <QVBoxLayout>
#include <algorithm>

namespace retinex::app {

namespace {

constexpr int kDeskHeight = 230; ///< px, with the row above it

} // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), m_bench(*this), m_picture(m_bench), m_passes(m_bench, m_picture),
      m_files(m_bench, m_passes), m_export(m_bench, m_files), m_delivery(m_bench, m_files),
      m_subjects(m_bench), m_regions(m_bench), m_inserts(m_bench), m_finish(m_bench), m_presets(m_bench),
      m_time(m_bench, m_picture),
      m_play(m_bench, m_picture, [this] { return !isSettled() || m_export.isRunning(); }),
      m_compare(m_bench, m_picture), m_columns(new QSplitter(Qt::Horizontal)),
      m_rows(new QSplitter(Qt::Vertical)), m_deskSplit(new QSplitter(Qt::Horizontal))
{
    setAcceptDrops(true);
    buildLayout();
    buildMenus();
    connectParts();
    setMinimumSize(900, 520);
    const QSize room = screen()->availableSize() - QSize(20, 60); // a frame is around the window
    resize(QSize(1280, 800).boundedTo(room));
    const QSettings settings;
    restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
    m_columns->restoreState(settings.value(QStringLiteral("window/columns")).toByteArray());
    m_rowsAreSet = m_rows->restoreState(settings.value(QStringLiteral("window/rows")).toByteArray());
    m_deskSplit->restoreState(settings.value(QStringLiteral("window/desk")).toByteArray());
    updateTitle();
    updateArrangement();
    // A click on a button does not take the keys; Tab reaches all of them.
    for (QAbstractButton* button : findChildren<QAbstractButton*>())
        button->setFocusPolicy(Qt::TabFocus);
    orderTabs(*m_columns);
    new KeyReturn(*this, *m_bench.picture);
    m_bench.picture->setFocus();
}

MainWindow::~MainWindow() = default;

void MainWindow::buildLayout()
{
    auto* bottom = new FlowPane;
    auto* bottomLayout = new QVBoxLayout(bottom);
    bottomLayout->setContentsMargins(0, 0, 0, 0);
    bottomLayout->setSpacing(0);
    m_deskSplit->addWidget(m_bench.profile);
    m_deskSplit->addWidget(m_bench.desk);
    m_deskSplit->setSizes({270, 680});
    m_deskSplit->setStretchFactor(1, 1);
    m_deskSplit->setChildrenCollapsible(false);
    bottomLayout->addWidget(m_bench.frameBar);
    bottomLayout->addWidget(m_deskSplit, 1);
    bottomLayout->addWidget(m_bench.lanes);

    auto* top = new FlowPane;
    auto* topLayout = new QVBoxLayout(top);
    topLayout->setContentsMargins(0, 0, 0, 0);
    topLayout->setSpacing(0);
    topLayout->addWidget(m_bench.strip);
    topLayout->addWidget(m_bench.toolRow);
    topLayout->addWidget(m_bench.picture, 1);
    // An export shows beside the probe, in a row that is always as high: the picture stays as it is.
    QWidget* status = m_status = new QWidget;
    status->setFixedHeight(32);
    auto* statusLayout = new QHBoxLayout(status);
    statusLayout->setContentsMargins(0, 0, 0, 0);
    statusLayout->setSpacing(0);
    statusLayout->addWidget(m_bench.probe, 1);
    statusLayout->addWidget(m_bench.exportBar, 1);
    topLayout->addWidget(status);

    m_rows->addWidget(top);
    m_rows->addWidget(bottom);
    m_rows->setStretchFactor(0, 1);
    m_rows->setChildrenCollapsible(false);
    m_columns->addWidget(m_rows);
    m_columns->addWidget(m_bench.sheet);
    m_columns->setStretchFactor(0, 1);
    m_columns->setSizes({920, 360});
    m_columns->setChildrenCollapsible(false);
    for (QSplitter* splitter : {m_rows, m_columns, m_deskSplit}) {
        splitter->setHandleWidth(1);
        splitter->setStyleSheet(
            QStringLiteral("QSplitter::handle { background: %1; }").arg(style::line.name()));
    }
    setCentralWidget(m_columns);
}

void MainWindow::buildMenus()
{
    const auto menu = [this](const QString& title) -> QMenu& { return *menuBar()->addMenu(title); };
    Actions& actions = m_bench.actions;
    QMenu& file = menu(tr("&File"));
    m_files.addActions(file);
    file.addSeparator();
    m_export.addActions(file);
    m_delivery.addActions(file);
    file.addSeparator();
    actions.add(file, tr("Qui&t"), QKeySequence(tr("Ctrl+Q")), [this] { close(); });

    QMenu& edit = menu(tr("&Edit"));
    QAction* undo = m_bench.document.undoStack().createUndoAction(this, tr("Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = m_bench.document.undoStack().createRedoAction(this, tr("Redo"));
    redo->setShortcut(QKeySequence(tr("Ctrl+Shift+Z")));
    edit.addActions({undo, redo});
    actions.list({undo, redo});
    edit.addSeparator();
    m_presets.addActions(edit);
    edit.addSeparator();
    actions.add(edit, tr("&Preferences…"), QKeySequence(tr("Ctrl+,")), [this] { m_play.showPreferences(); });

    QMenu& view = menu(tr("&View"));
    m_picture.addActions(view);
    m_passes.addActions(view);
    view.addSeparator();
    m_compare.addActions(view);
    m_finish.addActions(view);
    view.addSeparator();
    Sheet& sheet = *m_bench.sheet;
    actions.add(
        view, tr("Find a &setting…"), QKeySequence::Find, [&sheet] { sheet.findSetting(); }, When::open);
    actions.add(
        view, tr("Ne&xt section"), QKeySequence(tr("Ctrl+PgDown")), [&sheet] { sheet.index().step(1); },
        When::open);
    actions.add(
        view, tr("S&ection before"), QKeySequence(tr("Ctrl+PgUp")), [&sheet] { sheet.index().step(-1); },
        When::open);
    actions.add(
        view, tr("Fold the other se&ctions"), QKeySequence(tr("Ctrl+Shift+F")),
        [&sheet] { sheet.index().foldOthers(nullptr); }, When::open);
    view.addSeparator();
    actions.add(view, tr("Fu&ll screen"), QKeySequence(Qt::Key_F11),
                [this] { setWindowState(windowState() ^ Qt::WindowFullScreen); });
    m_time.addActions(menu(tr("F&rame")));
    m_regions.addActions(menu(tr("&Region")));
    m_inserts.addActions(menu(tr("&Insert")));
    menuBar()->addMenu(m_bench.playMenu);
    actions.list(m_bench.playMenu->shortcuts());

    QMenu& help = menu(tr("&Help"));
    actions.add(help, tr("&Manual"), QKeySequence(Qt::Key_F1), [this] { showManual(); });
    actions.add(help, tr("&Shortcuts"), QKeySequence(tr("Ctrl+F1")), [this] { showShortcuts(); });
    actions.add(help, tr("M&essages…"), {}, [this] { MessageLog(m_bench.message->said(), this).exec(); });
    actions.add(help, tr("&About Retinex"), {}, [this] { showAbout(); });
    restoreShortcuts(actions.all());
}

void MainWindow::connectParts()
{
    connect(&m_bench.document, &Document::titleChanged, this, &MainWindow::updateTitle);
    connect(&m_bench.document, &Document::projectChanged, this, &MainWindow::updateTitle);
    connect(&m_bench.document, &Document::sourceChanged, this, &MainWindow::updateArrangement);
    connect(&m_bench.document, &Document::opened, this, &MainWindow::updateArrangement);
    connect(&m_files, &FilesController::aboutToShow, this, [this](const Opened& opened) {
        m_picture.forget();
        m_compare.forget();
        m_time.forget();
        m_bench.subjects.drop();
        m_passes.forget(opened.project);
    });
    connect(&m_files, &FilesController::shown, this, &MainWindow::updateArrangement);
    connect(&m_files, &FilesController::openingChanged, this, &MainWindow::updateArrangement);
    connect(&m_passes, &PassesController::machineNeeded, &m_play, &PlayController::needMachine);
    connect(&m_export, &ExportController::machineNeeded, &m_play, &PlayController::needMachine);
    connect(&m_subjects, &SubjectsController::machineNeeded, &m_play, &PlayController::needMachine);
    connect(&m_time, &TimeController::takeAsked, &m_compare, &CompareController::keepTake);
    connect(m_bench.sheet, &Sheet::notANumber, this,
            [this](const QString& message) { m_bench.message->show(MessageBar::Kind::notice, message); });
    connect(&m_bench.sheet->iris(), &IrisPanel::failed, this,
            [this](const QString& message) { m_bench.message->show(MessageBar::Kind::trouble, message); });
    connect(m_deskSplit, &QSplitter::splitterMoved, this, &MainWindow::alignLanes);
    connect(m_rows, &QSplitter::splitterMoved, this, [this] { m_rowsAreSet = true; });
    connect(&m_bench.deskState, &DeskState::changed, this, &MainWindow::alignLanes);
}

/// The lanes lie under the desk, their names under the profile.
void MainWindow::alignLanes()
{
    m_bench.lanes->setDeskPlace(m_bench.desk->x(), m_bench.desk->width());
}

/// Until the artist shares the height out: the desk has what it needs, in a small window a part of it.
void MainWindow::resizeEvent(QResizeEvent* event)
{
    QMainWindow::resizeEvent(event);
    if (m_rowsAreSet) return;
    const int bottom = std::min(kDeskHeight, height() * 3 / 10);
    m_rows->setSizes({height() - bottom, bottom});
}

bool MainWindow::isSettled() const
{
    return !m_files.isOpening() && !m_passes.isReading() && m_picture.isSettled() && m_compare.isSettled() &&
           !m_bench.analysis.isBusy() && !m_bench.survey.isBusy() && !m_bench.subjects.isMeasuring() &&
           !m_bench.subjects.isTracking() && !m_bench.picture->regions().isBusy() &&
           !m_bench.sheet->passes().isReading() && !m_subjects.isBusy();
}

/// While nothing is open there is only what can be done then. For a still the desk folds away and the profile
/// turns wide.
void MainWindow::updateArrangement()
{
    const bool works = m_bench.document.isOpen() || m_files.isOpening();
    for (QWidget* part : {static_cast<QWidget*>(m_bench.strip), static_cast<QWidget*>(m_bench.toolRow),
                          m_status, m_rows->widget(1), static_cast<QWidget*>(m_bench.sheet)})
        part->setVisible(works);
    m_bench.desk->setVisible(!m_bench.document.isOpen() || m_bench.document.isSequence());
    m_bench.actions.enable(m_bench.document.isOpen(), m_bench.document.isSequence());
}

void MainWindow::updateTitle()
{
    const QString title = m_bench.document.title();
    setWindowTitle(title.isEmpty() ? tr("Retinex") : tr("%1[*] - Retinex").arg(title));
    setWindowModified(m_bench.document.isModified());
}

void MainWindow::showManual(int chapter)
{
    auto* manual = new ManualWindow(this);
    manual->choose(chapter);
    manual->setAttribute(Qt::WA_DeleteOnClose);
    manual->show();
}

void MainWindow::showShortcuts()
{
    ShortcutList(m_bench.actions.all(), this).exec();
}

void MainWindow::showAbout()
{
    QMessageBox::about(
        this, tr("About Retinex"),
        tr("<b>Retinex %1</b><p>Depth of field for rendered pictures, from their depth passes.</p>"
           "<p>Apache License 2.0. Type: B612, SIL Open Font License 1.1.</p>")
            .arg(QApplication::applicationVersion()));
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    if (!m_export.mayStop() || !m_files.mayDiscard()) {
        event->ignore();
        return;
    }
    m_files.keepPicture();
    QSettings settings;
    settings.setValue(QStringLiteral("window/geometry"), saveGeometry());
    settings.setValue(QStringLiteral("window/columns"), m_columns->saveState());
    if (m_rowsAreSet) settings.setValue(QStringLiteral("window/rows"), m_rows->saveState());
    settings.setValue(QStringLiteral("window/desk"), m_deskSplit->saveState());
    m_bench.document.setUnmodified(); // what was not saved was not wanted
    event->accept();
}

/// Keys that no field or button has taken: those that have to be held, or press buttons elsewhere.
void MainWindow::keyPressEvent(QKeyEvent* event)
{
    if (event->modifiers() == Qt::NoModifier && event->key() == Qt::Key_V) {
        if (!event->isAutoRepeat()) m_compare.hold(true);
    } else if (event->modifiers() == Qt::NoModifier && event->key() == Qt::Key_Space) {
        if (!event->isAutoRepeat()) m_bench.playback.toggle();
    } else {
        QMainWindow::keyPressEvent(event);
    }
}

void MainWindow::keyReleaseEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_V) {
        if (!event->isAutoRepeat()) m_compare.hold(false);
    } else {
        QMainWindow::keyReleaseEvent(event);
    }
}

/// A key that was held when the window lost the keyboard is not held any more.
void MainWindow::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::ActivationChange && !isActiveWindow()) m_compare.hold(false);
    QMainWindow::changeEvent(event);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    QStringList files;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) files.push_back(url.toLocalFile());
    if (files.isEmpty()) {
        m_bench.message->show(
            MessageBar::Kind::trouble,
            tr("What was dropped is not a file on this machine. Drop an EXR file, a folder or a project."));
        return;
    }
    event->acceptProposedAction();
    open(files);
}

} // namespace retinex::app
