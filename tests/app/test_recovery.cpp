#include "app/dialogs/missing_files_dialog.h"
#include "app/dialogs/recovery_dialog.h"
#include "app/document/autosave.h"
#include "app/document/opening.h"
#include "app/jobs/export_job.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "support/dice.h"
#include "support/test_files.h"
#include "window_driver.h"

#include <QMessageBox>
#include <QProcess>
#include <QSignalSpy>
#include <fcntl.h>
#include <unistd.h>

using namespace retinex;
using namespace retinex::app;

namespace {

constexpr double kFirstStop = 1.0;
constexpr double kStopStep = 0.001; ///< an edit is told by the f-stop that it leaves

/// A program that edits, saves, keeps copies and exports until it is killed. Each edit is written to a log
/// *before* it is made, with its time, and is on disk then.
int workUntilKilled(const QString& folder)
{
    const QString file = folder + "/work.retinex";
    Opened opened = openLoaded(project::loadProject(file.toStdString()), file);
    Document document;
    document.open(opened.project, opened.source, file);
    Autosave autosave(document, folder + "/recovery");
    QFile log(folder + "/log");
    if (!log.open(QIODevice::Append | QIODevice::Unbuffered)) return 1;
    int edits = static_cast<int>(std::lround((opened.project.base().fStop - kFirstStop) / kStopStep));
    std::unique_ptr<ExportWork> work;
    QTimer editing;
    QObject::connect(&editing, &QTimer::timeout, &document, [&] {
        ++edits;
        log.write(QByteArray::number(QDateTime::currentMSecsSinceEpoch()) + ' ' + QByteArray::number(edits) +
                  '\n');
        ::fdatasync(log.handle());
        document.changeSetting(setting::fStop, kFirstStop + kStopStep * edits);
    });
    editing.start(40);
    QTimer saving;
    QObject::connect(&saving, &QTimer::timeout, &document, [&] { document.save(file); });
    saving.start(edits % 2 == 0 ? 700 : 60'000); // some do not save
    QTimer exporting;
    QObject::connect(&exporting, &QTimer::timeout, &document, [&] {
        if (work) return;
        const auto job = delivery::usualJob(
            *document.source(), std::make_shared<project::Project>(document.project()), {1, 2},
            (folder + "/out/f.####.exr").toStdString(), delivery::Existing::overwrite);
        work = std::make_unique<ExportWork>(document.source(), job);
        QObject::connect(work.get(), &ExportWork::finished, &document,
                         [&](bool, int, const QStringList&) { work.release()->deleteLater(); });
        work->start();
    });
    exporting.start(90);
    return QCoreApplication::exec();
}

} // namespace

class TestRecovery : public test::WindowDriver
{
    Q_OBJECT

    QString recovery() { return Autosave::standardFolder(); }
    QString project(const char* name, double fStop = 2.0)
    {
        project::Project project;
        project.colour = {m_dir.filePath("passes/a.####.exr").toStdString(), {}};
        project.firstFrame = 1;
        project.lastFrame = 2;
        project.base().fStop = fStop;
        const QString file = m_dir.filePath(QLatin1String(name));
        project::saveProject(file.toStdString(), project);
        return file;
    }
    /// An entry of a menu.
    void trigger(const QString& text)
    {
        for (QAction* action : m_window->findChildren<QAction*>())
            if (action->text() == text) {
                action->trigger();
                return;
            }
        qFatal("no entry %s", qPrintable(text));
    }
    /// Presses a button of a message box that is about to open.
    void answer(const char* box, const QString& button)
    {
        QTimer::singleShot(200, this, [box, button] {
            auto* asked = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            if (!asked || (*box && asked->objectName() != QLatin1String(box))) qFatal("not asked: %s", box);
            for (QAbstractButton* each : asked->buttons())
                if (each->text().remove(QLatin1Char('&')) == button) {
                    QTest::mouseClick(each, Qt::LeftButton);
                    return;
                }
            qFatal("no button %s", qPrintable(button));
        });
    }

private slots:
    void initTestCase()
    {
        test::WindowDriver::initTestCase();
        QDir().mkpath(m_dir.filePath("passes"));
        for (const int frame : {1, 2})
            test::writeScene(
                m_dir.filePath(QStringLiteral("passes/a.%1.exr").arg(frame, 4, 10, QLatin1Char('0')))
                    .toStdString());
        QDir(recovery()).removeRecursively();
    }

    void changesAreKeptWithinSecondsAndGoWithASave()
    {
        const QString file = project("kept.retinex");
        Opened opened = openFiles({file});
        Document document;
        document.open(opened.project, opened.source, file);
        Autosave autosave(document, m_dir.filePath("own"));
        QVERIFY(!QFile::exists(autosave.file()));
        document.changeSetting(setting::fStop, 5.6);
        QVERIFY(!QFile::exists(autosave.file())); // not at once
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(autosave.file()), 30'000);
        QCOMPARE(project::loadProject(autosave.file().toStdString()).base().fStop, 5.6);
        QVERIFY(findRecovered(m_dir.filePath("own")).empty()); // its program lives
        document.save(file);
        QVERIFY(!QFile::exists(autosave.file()));
        document.changeSetting(setting::fStop, 8.0);
        document.undoStack().undo(); // back at what is saved: nothing to keep
        QTest::qWait(50);
        QVERIFY(!QFile::exists(autosave.file()));
    }

    // A program that ended with unsaved work; the next one offers it with its time, and opens it as it was.
    void whatAProgramLeftIsOfferedAndOpened()
    {
        const QString original = project("left.retinex", 2.0);
        const project::Project saved = project::loadProject(original.toStdString());
        project::Project left = saved;
        left.base().fStop = 11.0;
        QDir().mkpath(recovery());
        const QString copy = recovery() + "/left-behind.retinex";
        left.unknown = QStringLiteral(R"({"aura":1,"recovery":{"file":"%1","title":"left.retinex",)"
                                      R"("time":"2026-11-20T10:11:12.000Z","frame":2}})")
                           .arg(original)
                           .toStdString();
        project::saveProject(copy.toStdString(), left);
        const auto found = findRecovered();
        QCOMPARE(found.size(), std::size_t(1));
        QCOMPARE(found[0].original, original);
        QCOMPARE(found[0].time.toUTC().time(), QTime(10, 11, 12));
        QTimer::singleShot(300, this, [] {
            auto* dialog = qobject_cast<RecoveryDialog*>(QApplication::activeModalWidget());
            QVERIFY(dialog);
            auto* list = dialog->findChild<QListWidget*>();
            QCOMPARE(list->count(), 1);
            QVERIFY(list->item(0)->text().contains("left.retinex"));
            QTest::mouseClick(dialog->findChild<QPushButton*>("recoveryOpen"), Qt::LeftButton);
        });
        m_window->offerRecovered();
        settle();
        QCOMPARE(document().project().base().fStop, 11.0);
        QCOMPARE(document().file(), original);
        QCOMPARE(document().frame(), 2);
        QVERIFY(document().isModified() && m_window->isWindowModified());
        QVERIFY(!QFile::exists(copy));
        QVERIFY(document().project().unknown.find("recovery") == std::string::npos);
        QVERIFY(document().project().unknown.find("aura") != std::string::npos);
        trigger("&Save");
        QVERIFY(!document().isModified());
        QCOMPARE(project::loadProject(original.toStdString()).base().fStop, 11.0);
    }

    void aProjectThatOthersSavedIsNotReplacedUnasked()
    {
        const QString file = project("shared.retinex", 2.0);
        drop({file});
        document().changeSetting(setting::fStop, 4.0);
        project("shared.retinex", 16.0); // another window saves
        answer("savedElsewhere", "Cancel");
        trigger("&Save");
        QCOMPARE(project::loadProject(file.toStdString()).base().fStop, 16.0);
        QVERIFY(document().isModified());
        answer("savedElsewhere", "Replace it");
        trigger("&Save");
        QCOMPARE(project::loadProject(file.toStdString()).base().fStop, 4.0);
    }

    void revertGoesBackToWhatIsSaved()
    {
        drop({project("revert.retinex", 2.0)});
        document().changeSetting(setting::fStop, 4.0);
        answer("", "Discard");
        trigger("Re&vert to saved");
        settle();
        QCOMPARE(document().project().base().fStop, 2.0);
        QVERIFY(!document().isModified());
    }

    // The passes have moved: the project opens, its settings can be worked on, and the folder is found again.
    void aProjectWhosePassesHaveMovedOpensAndFindsThem()
    {
        const QString file = project("moved.retinex", 2.0);
        project::Project named = project::loadProject(file.toStdString());
        named.mattes = {{m_dir.filePath("passes/a.####.exr").toStdString(), "R"}};
        named.base().irisPicture = m_dir.filePath("passes/iris.png").toStdString();
        std::vector<project::Take> takes{{"old"}};
        takes[0].shots.front().settings.irisPicture = m_dir.filePath("passes/iris2.png").toStdString();
        named.takes = takes;
        project::saveProject(file.toStdString(), named);
        QCOMPARE(project::missingFiles(project::loadProject(file.toStdString())).size(), std::size_t(2));
        QDir().mkpath(m_dir.filePath("elsewhere/deep"));
        QVERIFY(QDir(m_dir.path()).rename("passes", "elsewhere/deep/passes"));
        QImage iris(16, 16, QImage::Format_Grayscale8);
        iris.fill(255);
        for (const char* name : {"iris.png", "iris2.png"})
            QVERIFY(iris.save(m_dir.filePath(QStringLiteral("elsewhere/deep/passes/%1").arg(name))));
        drop({file});
        QVERIFY(document().isOpen());
        QVERIFY2(message().contains("3 files are not there") && message().contains("colour pass"),
                 qPrintable(message()));
        typeInto(field("lens/fStop"), "5.6");
        QCOMPARE(document().project().base().fStop, 5.6);
        const auto cli = test::runProgram(RETINEX_CLI, {"check", file});
        QCOMPARE(cli.exitCode, 1);
        QVERIFY2(cli.err.contains("colour pass") && cli.err.contains("iris"), qPrintable(cli.err));
        QTimer::singleShot(300, this, [this] {
            auto* dialog = qobject_cast<MissingFilesDialog*>(QApplication::activeModalWidget());
            QVERIFY(dialog);
            auto* list = dialog->findChild<QTreeWidget*>();
            QCOMPARE(list->topLevelItemCount(), 3);
            dialog->lookIn(m_dir.filePath("elsewhere"));
            QTRY_COMPARE(list->topLevelItemCount(), 0);
            QCOMPARE(dialog->findChild<QLabel*>("missingState")->text(),
                     QStringLiteral("Everything was found."));
            dialog->accept();
        });
        press(child<QAbstractButton>("messageAction"));
        settle();
        QVERIFY(document().source()->absentBecause().empty());
        QVERIFY(document().project().colour.file.string().find("elsewhere/deep/passes") != std::string::npos);
        QVERIFY(document().project().mattes[0].file.string().find("elsewhere") != std::string::npos);
        QVERIFY(document().project().base().iris.picture);
        QVERIFY(document().project().takes.begin()->shots.front().settings.iris.picture);
        QCOMPARE(document().project().base().fStop, 5.6);
        QVERIFY(m_window->picture().picture().isFinal);
        QVERIFY(QDir(m_dir.path()).rename("elsewhere/deep/passes", "passes"));
    }

    void exportingOverFramesAsksAndOnlyMissingOnesCanBeMade()
    {
        drop({project("export.retinex")});
        QDir().mkpath(m_dir.filePath("exported"));
        const auto exportSequence = [&] {
            answerFileDialog(m_dir.filePath("exported"));
            press(child<QPushButton>("exportSequence"));
        };
        exportSequence();
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("2 frames written"), 20'000);
        const QString first = m_dir.filePath("exported/export_focus.0001.exr");
        const QString second = m_dir.filePath("exported/export_focus.0002.exr");
        QVERIFY(QFile::exists(first) && QFile::remove(second));
        const auto before = QFileInfo(first).lastModified();
        QTimer::singleShot(700, this, [this] { answer("framesAreThere", "Only those that are missing"); });
        exportSequence();
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(second), 20'000);
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("1 frame written"), 20'000);
        QCOMPARE(QFileInfo(first).lastModified(), before);
        const QByteArray bytes = test::bytesOf(first);
        QTimer::singleShot(700, this, [this] { answer("framesAreThere", "Cancel"); });
        exportSequence();
        QTest::qWait(100);
        QCOMPARE(test::bytesOf(first), bytes);
    }

    // SIGKILL at random moments while editing, saving, keeping copies and exporting: nothing that is there is
    // damaged, and at most ten seconds of edits are lost. RETINEX_KILLS says how many, RETINEX_SEED which.
    void killsDamageNothing()
    {
        const int kills = qEnvironmentVariableIntValue("RETINEX_KILLS") > 0
                              ? qEnvironmentVariableIntValue("RETINEX_KILLS")
                              : 5;
        QTemporaryDir folder;
        QDir().mkpath(folder.filePath("out"));
        project::Project project;
        project.colour = {m_dir.filePath("passes/a.####.exr").toStdString(), {}};
        project.lastFrame = 2;
        project.base().fStop = kFirstStop;
        project::saveProject(folder.filePath("work.retinex").toStdString(), project);
        test::Dice dice;
        double worstLoss = 0.0;
        int recovered = 0;
        for (int kill = 0; kill < kills; ++kill) {
            QFile::remove(folder.filePath("log"));
            QProcess worker;
            worker.setProcessChannelMode(QProcess::ForwardedErrorChannel);
            worker.start(QCoreApplication::applicationFilePath(), {"--work-until-killed", folder.path()});
            QVERIFY(worker.waitForStarted());
            QTest::qWait(dice.between(500, kill % 3 == 2 ? 8500 : 2000));
            worker.kill();
            QVERIFY(worker.waitForFinished());
            double fStop = project::loadProject(folder.filePath("work.retinex").toStdString()).base().fStop;
            for (const Recovered& copy : findRecovered(folder.filePath("recovery"))) {
                fStop = std::max(fStop, projectOf(copy).base().fStop);
                discard(copy);
                ++recovered;
            }
            // How long before the last edit of all the first one was made that was not kept.
            const int kept = static_cast<int>(std::lround((fStop - kFirstStop) / kStopStep));
            qint64 firstLost = 0;
            qint64 lastAt = 0;
            for (const QByteArray& line : test::bytesOf(folder.filePath("log")).split('\n')) {
                const auto words = line.split(' ');
                if (words.size() != 2) continue;
                lastAt = words[0].toLongLong();
                if (words[1].toInt() > kept && firstLost == 0) firstLost = lastAt;
            }
            if (firstLost > 0)
                worstLoss = std::max(worstLoss, 0.001 * static_cast<double>(lastAt - firstLost));
            QVERIFY2(worstLoss <= 10.0, qPrintable(QString::number(worstLoss)));
            for (const QFileInfo& frame : QDir(folder.filePath("out")).entryInfoList({"*.exr"}, QDir::Files))
                (void)passes::PassSource({frame.filePath().toStdString(), {}},
                                         {frame.filePath().toStdString(), "A"})
                    .loadRaw(QStringView(frame.fileName()).mid(2, 4).toInt());
        }
        qInfo("%d kills: at most %.1f s of edits lost, %d copies found, %d frames whole", kills, worstLoss,
              recovered,
              static_cast<int>(QDir(folder.filePath("out")).entryList({"*.exr"}, QDir::Files).size()));
    }
};

int main(int argc, char** argv)
{
    if (argc == 3 && QByteArray(argv[1]) == "--work-until-killed") {
        QCoreApplication application(argc, argv);
        return workUntilKilled(QString::fromLocal8Bit(argv[2]));
    }
    QApplication application(argc, argv);
    TestRecovery test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_recovery.moc"
