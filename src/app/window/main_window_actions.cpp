// The window's menus and what they do.
#include "app/window/main_window.h"

#include "app/dialogs/shortcut_list.h"
#include "core/base/error.h"
#include "core/passes/image_file.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>
#include <QSplitter>

namespace retinex::app {

namespace {

constexpr int kRecentCount = 8;

QString recentKey()
{
    return QStringLiteral("recent");
}

QString subjectsKey()
{
    return QStringLiteral("window/subjects");
}

} // namespace

QAction* MainWindow::addAction(QMenu* menu, const QString& text, const QKeySequence& keys,
                               std::function<void()> work)
{
    QAction* action = menu->addAction(text);
    action->setShortcut(keys);
    connect(action, &QAction::triggered, this, [work = std::move(work)] { work(); });
    m_actions.append(action);
    return action;
}

void MainWindow::buildMenus()
{
    buildFileMenu();
    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = m_document.undoStack().createUndoAction(this, tr("Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = m_document.undoStack().createRedoAction(this, tr("Redo"));
    redo->setShortcut(QKeySequence(tr("Ctrl+Shift+Z")));
    edit->addActions({undo, redo});
    m_actions.append({undo, redo});
    edit->addSeparator();
    addAction(edit, tr("&Preferences…"), QKeySequence(tr("Ctrl+,")), [this] { showPreferences(); });

    QMenu* view = menuBar()->addMenu(tr("&View"));
    view->addActions(m_strip->modeActions());
    m_actions.append(m_strip->modeActions());
    view->addSeparator();
    addAction(view, tr("&Fit"), QKeySequence(Qt::Key_F2), [this] { m_picture->fit(); });
    addAction(view, tr("&One to one"), QKeySequence(Qt::Key_F3), [this] { m_picture->oneToOne(); });
    addAction(view, tr("Zoom &in"), QKeySequence::ZoomIn, [this] { m_picture->zoomStep(1.25); });
    addAction(view, tr("Zoom o&ut"), QKeySequence::ZoomOut, [this] { m_picture->zoomStep(0.8); });
    view->addSeparator();
    addAction(view, tr("Focus &tool"), QKeySequence(Qt::Key_F), [this] {
        m_depthStrip->setTool(PictureTool::focus);
        m_picture->setTool(PictureTool::focus);
    });
    addAction(view, tr("Sub&ject tool"), QKeySequence(Qt::Key_U),
              [this] { m_picture->setTool(PictureTool::subject); });
    QAction* subjects = addAction(view, tr("Su&bjects in the picture"), QKeySequence(tr("Shift+U")), [] {});
    subjects->setCheckable(true);
    subjects->setChecked(QSettings().value(subjectsKey(), true).toBool());
    m_picture->showSubjects(subjects->isChecked());
    connect(subjects, &QAction::toggled, this, [this](bool shown) {
        QSettings().setValue(subjectsKey(), shown);
        m_picture->showSubjects(shown);
    });
    view->addSeparator();
    addAction(view, tr("Compare by a &wipe"), QKeySequence(Qt::Key_W), [this] {
        m_compare->setMode(m_compare->mode() == Comparison::Mode::wipe ? Comparison::Mode::off
                                                                       : Comparison::Mode::wipe);
    });
    addAction(view, tr("Compare si&de by side"), {},
              [this] { m_compare->setMode(Comparison::Mode::sideBySide); });
    addAction(view, tr("Di&fference"), {}, [this] { m_compare->setMode(Comparison::Mode::difference); });
    // Acts while it is held down, which an action cannot; it is here to be found.
    QAction* held = addAction(view, tr("Source, or what is compared with, while &held"),
                              QKeySequence(Qt::Key_V), [this] { hold(!m_picture->comparison().isHeld); });
    held->setShortcutContext(Qt::WidgetShortcut);
    view->addSeparator();
    addAction(view, tr("F&ull screen"), QKeySequence(Qt::Key_F11),
              [this] { setWindowState(windowState() ^ Qt::WindowFullScreen); });
    buildFrameMenu();
    menuBar()->addMenu(m_playMenu);
    m_actions.append(m_playMenu->shortcuts());
    buildHelpMenu();
}

void MainWindow::buildFileMenu()
{
    QMenu* file = menuBar()->addMenu(tr("&File"));
    addAction(file, tr("&Open…"), QKeySequence::Open, [this] { chooseFiles(); });
    QMenu* recent = file->addMenu(tr("Open &recent"));
    connect(recent, &QMenu::aboutToShow, this, [this, recent] { fillRecent(recent); });
    file->addSeparator();
    addAction(file, tr("&Save"), QKeySequence::Save, [this] { save(); });
    addAction(file, tr("Save &as…"), QKeySequence(tr("Ctrl+Shift+S")), [this] { saveAs(); });
    file->addSeparator();
    addAction(file, tr("&Export this frame…"), QKeySequence(tr("Ctrl+E")), [this] { exportFrame(); });
    addAction(file, tr("Export the se&quence…"), QKeySequence(tr("Ctrl+Shift+E")),
              [this] { exportSequence(); });
    file->addSeparator();
    addAction(file, tr("&Quit"), QKeySequence(tr("Ctrl+Q")), [this] { close(); });
}

void MainWindow::buildFrameMenu()
{
    QMenu* frame = menuBar()->addMenu(tr("F&rame"));
    addAction(frame, tr("One frame &back"), QKeySequence(Qt::Key_Left),
              [this] { m_document.setFrame(m_document.frame() - 1); });
    addAction(frame, tr("One frame &on"), QKeySequence(Qt::Key_Right),
              [this] { m_document.setFrame(m_document.frame() + 1); });
    addAction(frame, tr("&First frame"), QKeySequence(Qt::Key_Home),
              [this] { m_document.setFrame(m_document.project().firstFrame); });
    addAction(frame, tr("&Last frame"), QKeySequence(Qt::Key_End),
              [this] { m_document.setFrame(m_document.project().lastFrame); });
    frame->addSeparator();
    addAction(frame, tr("Set &mark"), QKeySequence(Qt::Key_M),
              [this] { m_document.setMarkHere(setting::focusDistance); });
    addAction(frame, tr("&Delete mark"), QKeySequence(tr("Shift+M")),
              [this] { m_desk->deleteChosenMarks(); });
    addAction(frame, tr("&Cut here"), QKeySequence(Qt::Key_X), [this] { cut(m_document.frame()); });
    addAction(frame, tr("Remove this shot's c&ut"), QKeySequence(tr("Shift+X")), [this] {
        const auto& project = m_document.project();
        removeCut(project.framesOf(project.shotIndexAt(m_document.frame())).first);
    });
    addAction(frame, tr("&Propose cuts"), {}, [this] { proposeCuts(); });
    addAction(frame, tr("&Name this shot…"), {}, [this] { renameShot(); });
    addAction(frame, tr("Cop&y settings to other shots…"), {}, [this] { copyShotSettings(); });
    frame->addSeparator();
    addAction(frame, tr("Keep a &take"), QKeySequence(Qt::Key_T), [this] { keepTake(); });
    addAction(frame, tr("Brac&ket…"), QKeySequence(Qt::Key_B), [this] { showBracket(); });
    addAction(frame, tr("Focus from t&wo positions…"), QKeySequence(tr("Ctrl+2")),
              [this] { focusFromPositions(); });
    frame->addSeparator();
    addAction(frame, tr("Mark b&efore"), QKeySequence(tr("Ctrl+Left")), [this] { m_desk->goToMark(-1); });
    addAction(frame, tr("Mark &after"), QKeySequence(tr("Ctrl+Right")), [this] { m_desk->goToMark(1); });
}

void MainWindow::buildHelpMenu()
{
    QMenu* help = menuBar()->addMenu(tr("&Help"));
    addAction(help, tr("&Manual"), QKeySequence(Qt::Key_F1), [this] { showManual(); });
    addAction(help, tr("&Shortcuts"), QKeySequence(tr("Ctrl+F1")), [this] { showShortcuts(); });
    addAction(help, tr("&About Retinex"), {}, [this] { showAbout(); });
}

QString MainWindow::startFolder() const
{
    if (!m_document.file().isEmpty()) return QFileInfo(m_document.file()).absolutePath();
    return QSettings().value(QStringLiteral("folder"), QDir::homePath()).toString();
}

void MainWindow::chooseFiles()
{
    QStringList pictures;
    for (const std::string& ending : passes::pictureEndings())
        pictures.append(QStringLiteral("*") + QString::fromStdString(ending));
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Open a project, a rendered frame, or colour and depth"), startFolder(),
        tr("Projects and passes (*.retinex %1 *.gltf *.glb);;Projects (*.retinex);;OpenEXR (*.exr);;All "
           "files (*)")
            .arg(pictures.join(QLatin1Char(' '))));
    if (files.isEmpty()) return;
    QSettings().setValue(QStringLiteral("folder"), QFileInfo(files.front()).absolutePath());
    open(files);
}

bool MainWindow::save()
{
    if (!m_document.isOpen()) return false;
    if (m_document.file().isEmpty()) return saveAs();
    try {
        m_document.save(m_document.file());
        return true;
    } catch (const Error& error) {
        m_message->show(MessageBar::Kind::trouble, QString::fromStdString(error.what()));
        return false;
    }
}

bool MainWindow::saveAs()
{
    if (!m_document.isOpen()) return false;
    QString file = QFileDialog::getSaveFileName(this, tr("Save the project"),
                                                startFolder() + QStringLiteral("/untitled.retinex"),
                                                tr("Projects (*.retinex)"));
    if (file.isEmpty()) return false;
    if (!file.endsWith(QLatin1String(".retinex"))) file += QStringLiteral(".retinex");
    try {
        m_document.save(file);
    } catch (const Error& error) {
        m_message->show(MessageBar::Kind::trouble, QString::fromStdString(error.what()));
        return false;
    }
    rememberRecent(file);
    return true;
}

bool MainWindow::mayDiscard()
{
    if (m_document.undoStack().isClean()) return true;
    const auto answer = QMessageBox::question(
        this, tr("Unsaved changes"), tr("\"%1\" has changes that are not saved.").arg(m_document.title()),
        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Save);
    if (answer == QMessageBox::Save) return save();
    return answer == QMessageBox::Discard;
}

void MainWindow::exportFrame()
{
    if (!m_document.isOpen()) return;
    const QString name =
        QStringLiteral("%1/%2_focus.%3.exr")
            .arg(startFolder(),
                 QFileInfo(m_document.title()).completeBaseName().section(QLatin1Char('.'), 0, 0))
            .arg(m_document.frame(), 4, 10, QLatin1Char('0'));
    QString file = QFileDialog::getSaveFileName(this, tr("Export this frame"), name, tr("OpenEXR (*.exr)"));
    if (file.isEmpty()) return;
    if (!file.endsWith(QLatin1String(".exr"))) file += QStringLiteral(".exr");
    startExport(file, {m_document.frame()});
}

void MainWindow::exportSequence()
{
    if (!m_document.isOpen() || !m_document.isSequence()) return;
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("Folder for the exported sequence"), startFolder());
    if (folder.isEmpty()) return;
    std::vector<int> frames;
    for (int frame = m_document.project().firstFrame; frame <= m_document.project().lastFrame; ++frame)
        frames.push_back(frame);
    const QString base = QFileInfo(m_document.title()).completeBaseName().section(QLatin1Char('.'), 0, 0);
    startExport(QDir(folder).filePath(base + QStringLiteral("_focus.####.exr")), std::move(frames));
}

void MainWindow::startExport(const QString& out, std::vector<int> frames)
{
    if (m_export->isRunning()) {
        m_message->show(MessageBar::Kind::notice,
                        tr("An export is running. Wait for its end, or cancel it."));
        return;
    }
    m_message->hide();
    delivery::ExportJob job{std::make_shared<project::Project>(m_document.project()), std::move(frames),
                            out.toStdString()};
    m_export->start(std::make_unique<ExportWork>(m_document.source(), std::move(job)));
    needMachine();
}

void MainWindow::rememberRecent(const QString& file)
{
    QSettings settings;
    QStringList recent = settings.value(recentKey()).toStringList();
    const QString path = QFileInfo(file).absoluteFilePath();
    recent.removeAll(path);
    recent.prepend(path);
    settings.setValue(recentKey(), QStringList(recent.mid(0, kRecentCount)));
}

void MainWindow::fillRecent(QMenu* menu)
{
    menu->clear();
    for (const QString& file : QSettings().value(recentKey()).toStringList())
        menu->addAction(QDir::toNativeSeparators(file), this, [this, file] { open({file}); });
    if (menu->isEmpty()) menu->addAction(tr("Nothing yet"))->setEnabled(false);
}

void MainWindow::showShortcuts()
{
    ShortcutList(m_actions, this).exec();
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
    if (!mayDiscard()) {
        event->ignore();
        return;
    }
    m_export->cancel();
    QSettings settings;
    settings.setValue(QStringLiteral("window/geometry"), saveGeometry());
    settings.setValue(QStringLiteral("window/columns"), m_columns->saveState());
    settings.setValue(QStringLiteral("window/rows"), m_rows->saveState());
    settings.setValue(QStringLiteral("window/desk"), m_deskSplit->saveState());
    event->accept();
}

} // namespace retinex::app
