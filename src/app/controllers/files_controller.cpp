#include "app/controllers/files_controller.h"

#include "app/dialogs/empty_frame_dialog.h"
#include "app/dialogs/missing_files_dialog.h"
#include "app/dialogs/recovery_dialog.h"
#include "app/fields/number_formats.h"
#include "app/window/recent_pictures.h"
#include "core/passes/image_file.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QMessageBox>
#include <QRegularExpression>
#include <QSettings>

namespace retinex::app {

namespace {

constexpr int kRecentCount = 8;
constexpr int kTellOpeningMs = 500;

/// A picture's or a text's ending is taken for a slip; anything else after a point belongs to the name.
QString projectName(const QString& typed)
{
    const QFileInfo info(typed);
    const QString ending = info.suffix().toLower();
    if (ending == QLatin1String("retinex")) return typed;
    const bool isSlip = passes::looksLikePicture(typed.toStdString()) || ending == QLatin1String("json") ||
                        ending == QLatin1String("txt");
    return (isSlip ? typed.chopped(ending.size() + 1) : typed) + QStringLiteral(".retinex");
}

QString recentKey()
{
    return QStringLiteral("recent");
}

} // namespace

FilesController::FilesController(Workbench& bench, PassesController& passes)
    : QObject(&bench.window), m_bench(bench), m_passes(passes), m_autosave(bench.document)
{
    const auto trouble = [this](const QString& message) {
        m_bench.message->show(MessageBar::Kind::trouble, message);
    };
    connect(&m_opener, &Opener::opened, this, [this](const std::shared_ptr<Opened>& opened) {
        endOpening();
        takeOver(*opened);
    });
    connect(&m_opener, &Opener::failed, this, [this, trouble](const QString& message) {
        endOpening();
        trouble(message);
    });
    m_openingTimer.setSingleShot(true);
    m_openingTimer.setInterval(kTellOpeningMs);
    connect(&m_openingTimer, &QTimer::timeout, this, &FilesController::tellOpening);
    connect(m_bench.start, &StartPage::openAsked, this, &FilesController::chooseFiles);
    connect(m_bench.start, &StartPage::demoAsked, this, [this] { openAsCopy(m_demo); });
    connect(m_bench.start, &StartPage::recentAsked, this, [this](const QString& file) { open({file}); });
    connect(m_bench.start, &StartPage::picturesAsked, this, &FilesController::beginWithPictures);
    m_bench.start->setRecent(QSettings().value(recentKey()).toStringList());
    connect(&m_autosave, &Autosave::failed, this, trouble);
    m_autosave.setPicture([this] { return m_bench.picture->picture().image; });
}

void FilesController::addActions(QMenu& menu)
{
    Actions& actions = m_bench.actions;
    actions.add(menu, tr("&Open…"), QKeySequence::Open, [this] { chooseFiles(); });
    actions.add(menu, tr("&New from pictures…"), QKeySequence::New, [this] { beginWithPictures(); });
    QMenu* recent = menu.addMenu(tr("Open &recent"));
    connect(recent, &QMenu::aboutToShow, this, [this, recent] { fillRecent(recent); });
    menu.addSeparator();
    actions.add(
        menu, tr("&Save"), QKeySequence::Save, [this] { save(); }, When::open);
    actions.add(
        menu, tr("Save &as…"), QKeySequence(tr("Ctrl+Shift+S")), [this] { saveAs(); }, When::open);
    m_revert = actions.add(menu, tr("Re&vert to saved"), {}, [this] { revert(); });
    QAction* find = actions.add(menu, tr("&Find missing files…"), {}, [this] { findMissing(); });
    QAction* recovered = actions.add(menu, tr("Recover &unsaved work…"), {}, [this] { offerRecovered(); });
    connect(&menu, &QMenu::aboutToShow, this, [this, find, recovered] {
        m_revert->setEnabled(m_bench.document.isModified() && !m_bench.document.file().isEmpty());
        find->setEnabled(m_bench.document.isOpen());
        recovered->setEnabled(mayHaveRecovered());
    });
}

QString FilesController::startFolder() const
{
    if (!m_bench.document.file().isEmpty()) return QFileInfo(m_bench.document.file()).absolutePath();
    return QSettings().value(QStringLiteral("folder"), QDir::homePath()).toString();
}

void FilesController::chooseFiles()
{
    const QStringList files = QFileDialog::getOpenFileNames(
        &m_bench.window, tr("Open a project, a rendered frame, or colour and depth"), startFolder(),
        tr("Projects and passes (*.retinex %1 *.gltf *.glb);;Projects (*.retinex);;OpenEXR (*.exr);;All "
           "files (*)")
            .arg(picturePatterns().join(QLatin1Char(' '))));
    if (files.isEmpty()) return;
    QSettings().setValue(QStringLiteral("folder"), QFileInfo(files.front()).absolutePath());
    open(files);
}

void FilesController::open(const QStringList& files)
{
    if (!mayDiscard()) return;
    m_openAsCopy = false;
    beginOpening(files);
}

/// Pictures hung before a camera: there is no colour pass.
void FilesController::beginWithPictures()
{
    if (!mayDiscard()) return;
    const QStringList files = QFileDialog::getOpenFileNames(
        &m_bench.window, tr("Pictures to hang before a camera"), startFolder(), pictureFilter());
    if (files.isEmpty()) return;
    EmptyFrameDialog dialog(files, &m_bench.window);
    if (dialog.exec() != QDialog::Accepted) return;
    try {
        const Opened opened = openPictures(files, dialog.emptyFrame(), m_bench.keeping());
        m_openAsCopy = false;
        takeOver(opened);
    } catch (...) {
        m_bench.tellFailure(tr("Opening"));
    }
}

void FilesController::beginOpening(const QStringList& files)
{
    m_opening = true;
    m_openingName = QFileInfo(files.value(0)).fileName();
    m_bench.start->hide();
    m_bench.picture->setIdleText(tr("Opening %1…").arg(m_openingName));
    m_openingTimer.start();
    m_opener.open(files);
    emit openingChanged();
}

void FilesController::endOpening()
{
    m_opening = false;
    m_openingTimer.stop();
    m_bench.message->hide();
    m_bench.picture->setIdleText({});
    m_bench.start->setVisible(!m_bench.document.isOpen());
    emit openingChanged();
}

void FilesController::keepPicture() const
{
    const Picture& picture = m_bench.picture->picture();
    if (m_bench.document.isOpen() && picture.mode == ViewMode::result)
        keepRecentPicture(m_recentFile, picture.image);
}

void FilesController::tellOpening()
{
    m_bench.message->show(MessageBar::Kind::notice, tr("Opening %1").arg(m_openingName), tr("Cancel"),
                          [this] { cancelOpening(); });
}

void FilesController::cancelOpening()
{
    m_opener.drop();
    endOpening();
}

void FilesController::openAsCopy(const QString& project)
{
    open({project});
    m_openAsCopy = true;
}

void FilesController::takeOver(const Opened& opened)
{
    m_bench.message->hide();
    m_bench.start->hide();
    keepPicture();
    m_recentFile.clear();
    emit aboutToShow(opened);
    m_bench.document.open(opened.project, opened.source, m_openAsCopy ? QString() : opened.file,
                          opened.isUnsaved);
    if (opened.frame) m_bench.document.setFrame(*opened.frame);
    m_passes.begin(opened);
    if (!m_openAsCopy && !opened.isUnsaved)
        if (!opened.file.isEmpty() || !opened.project.colour.file.empty())
            rememberRecent(opened.file.isEmpty()
                               ? QString::fromStdString(
                                     opened.source->colourFiles().file(opened.project.firstFrame).string())
                               : opened.file);
    if (!opened.missing.empty())
        tellMissing(opened.missing);
    else if (opened.lacksDepth)
        tellDepthIsMissing();
    else if (!opened.notice.isEmpty())
        m_bench.message->show(MessageBar::Kind::notice, opened.notice);
    emit shown(opened);
}

bool FilesController::save()
{
    if (!m_bench.document.isOpen()) return false;
    if (m_bench.document.file().isEmpty()) return saveAs();
    if (!saveTo(m_bench.document.file())) return false;
    keepPicture();
    return true;
}

bool FilesController::saveAs()
{
    if (!m_bench.document.isOpen()) return false;
    const QString typed = QFileDialog::getSaveFileName(&m_bench.window, tr("Save the project"),
                                                       startFolder() + QLatin1Char('/') + usualName(),
                                                       tr("Projects (*.retinex)"));
    if (typed.isEmpty()) return false;
    const QString file = projectName(typed);
    const QString name = QFileInfo(file).fileName();
    if (file != typed && QFileInfo::exists(file) &&
        QMessageBox::question(&m_bench.window, tr("Save the project"),
                              tr("\"%1\" is there already. Write over it?").arg(name)) != QMessageBox::Yes)
        return false;
    if (!saveTo(file)) return false;
    if (!file.startsWith(typed))
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("Saved as \"%1\": the name of a project ends in .retinex.").arg(name));
    rememberRecent(file);
    keepPicture();
    return true;
}

/// After its passes: can.####.exr is saved as can.retinex.
QString FilesController::usualName() const
{
    if (!m_bench.document.file().isEmpty()) return QFileInfo(m_bench.document.file()).fileName();
    const QString pattern =
        QString::fromStdString(m_bench.document.project().colour.file.filename().string());
    const QString name =
        pattern.section(QRegularExpression(QStringLiteral("[._-]*(#+|%0?[0-9]*d)?\\.[^.]*$")), 0, 0);
    return (name.isEmpty() ? tr("untitled") : name) + QStringLiteral(".retinex");
}

bool FilesController::saveTo(const QString& file)
{
    if (file == m_bench.document.file() && m_bench.document.fileWasChanged()) {
        QMessageBox ask(QMessageBox::Warning, tr("Saved elsewhere"),
                        tr("\"%1\" was saved by another window or program since it was opened here. Saving "
                           "would replace what is in it now.")
                            .arg(QFileInfo(file).fileName()),
                        QMessageBox::NoButton, &m_bench.window);
        ask.setObjectName(QStringLiteral("savedElsewhere"));
        QAbstractButton* replace = ask.addButton(tr("Replace it"), QMessageBox::DestructiveRole);
        QAbstractButton* other = ask.addButton(tr("Save as…"), QMessageBox::AcceptRole);
        ask.addButton(QMessageBox::Cancel);
        ask.exec();
        if (ask.clickedButton() == other) return saveAs();
        if (ask.clickedButton() != replace) return false;
    }
    try {
        m_bench.document.save(file);
        return true;
    } catch (...) {
        m_bench.tellFailure(tr("Saving"));
        return false;
    }
}

void FilesController::revert()
{
    const QString file = m_bench.document.file();
    if (file.isEmpty() || !m_bench.document.isModified()) return;
    const auto answer = QMessageBox::question(
        &m_bench.window, tr("Revert to saved"),
        tr("All changes since \"%1\" was saved will be lost.").arg(m_bench.document.title()),
        QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Cancel);
    if (answer != QMessageBox::Discard) return;
    m_openAsCopy = false;
    beginOpening({file});
}

bool FilesController::mayDiscard()
{
    if (!m_bench.document.isModified()) return true;
    const auto answer = QMessageBox::question(
        &m_bench.window, tr("Unsaved changes"),
        tr("\"%1\" has changes that are not saved.").arg(m_bench.document.title()),
        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Save);
    if (answer == QMessageBox::Save) return save();
    return answer == QMessageBox::Discard;
}

void FilesController::offerRecovered()
{
    const std::vector<Recovered> found = findRecovered();
    if (found.empty()) return;
    RecoveryDialog dialog(found, &m_bench.window);
    if (dialog.exec() == QDialog::Accepted && dialog.chosen()) openRecovered(*dialog.chosen());
}

void FilesController::openRecovered(const Recovered& recovered)
{
    if (!mayDiscard()) return;
    try {
        Opened opened = openLoaded(projectOf(recovered), recovered.original, m_bench.keeping());
        opened.isUnsaved = true;
        m_openAsCopy = false;
        takeOver(opened);
        m_bench.document.setFrame(recovered.frame);
        discard(recovered); // from now on this window keeps it
    } catch (...) {
        m_bench.tellFailure(tr("Recovering"));
    }
}

void FilesController::tellDepthIsMissing()
{
    const project::Project& project = m_bench.document.project();
    const QString file = QString::fromStdString(project.colour.file.string());
    m_bench.message->show(
        MessageBar::Kind::notice,
        tr("%1 has no depth: everything lies at %2. Regions with a distance or a ramp make it by hand.")
            .arg(QFileInfo(file).fileName(), shownDistance(project, project.base().reading.gaps.distance)),
        tr("Choose its depth pass…"), [this, file] {
            const QString depth = QFileDialog::getOpenFileName(
                &m_bench.window, tr("Depth pass of %1").arg(QFileInfo(file).fileName()),
                QFileInfo(file).absolutePath(), pictureFilter());
            if (!depth.isEmpty()) open({file, depth});
        });
}

void FilesController::tellMissing(const std::vector<project::MissingFile>& missing)
{
    const QString first = QString::fromStdString(missing.front().file.string());
    const QString text =
        missing.size() == 1
            ? tr("The %1 is not there: %2.").arg(QString::fromStdString(missing.front().what), first)
            : tr("%n file(s) are not there, among them the %1: %2.", nullptr,
                 static_cast<int>(missing.size()))
                  .arg(QString::fromStdString(missing.front().what), first);
    m_bench.message->show(MessageBar::Kind::trouble, text, tr("Find…"), [this] { findMissing(); });
}

void FilesController::findMissing()
{
    if (!m_bench.document.isOpen()) return;
    MissingFilesDialog dialog(m_bench.document.project(), startFolder(), &m_bench.window);
    dialog.exec();
    if (dialog.project() == m_bench.document.project()) return;
    m_bench.message->hide();
    m_passes.choose(dialog.project(), tr("find missing files"));
}

void FilesController::rememberRecent(const QString& file)
{
    QSettings settings;
    QStringList recent = settings.value(recentKey()).toStringList();
    const QString path = QFileInfo(file).absoluteFilePath();
    recent.removeAll(path);
    recent.prepend(path);
    recent = recent.mid(0, kRecentCount);
    settings.setValue(recentKey(), recent);
    keepRecentPicturesOf(recent);
    m_recentFile = path;
}

void FilesController::fillRecent(QMenu* menu)
{
    menu->clear();
    for (const QString& file : QSettings().value(recentKey()).toStringList())
        menu->addAction(QDir::toNativeSeparators(file), this, [this, file] { open({file}); });
    if (menu->isEmpty()) menu->addAction(tr("Nothing yet"))->setEnabled(false);
}

} // namespace retinex::app
