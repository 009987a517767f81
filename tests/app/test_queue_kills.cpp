#include "app/delivery/delivery_queue.h"
#include "core/project/file/project_file.h"
#include "support/dice.h"
#include "support/test_files.h"

#include <QApplication>
#include <QDir>
#include <QDirIterator>
#include <QProcess>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>
#include <memory>

using namespace retinex;
using namespace retinex::app;

namespace {

constexpr int kFrames = 4;

/// The deliveries of the project in `folder`: plates, a depth map, a lossless movie.
std::vector<project::Delivery> deliveries()
{
    project::Delivery plates;
    plates.name = "plates";
    project::Delivery map;
    map.name = "map";
    map.what = "depthmap";
    map.file = project::FileKind::png;
    project::Delivery movie;
    movie.name = "movie";
    movie.file = project::FileKind::ffv1;
    return {plates, map, movie};
}

void addAll(DeliveryQueue& queue, const QString& folder, const QString& out)
{
    const auto project = std::make_shared<const project::Project>(
        project::loadProject((folder + "/work.retinex").toStdString()));
    for (const project::Delivery& delivery : deliveries()) {
        delivery::DeliveryJob job;
        job.project = project;
        job.projectFile = (folder + "/work.retinex").toStdString();
        job.delivery = delivery;
        job.folder = (out + '/' + QString::fromStdString(delivery.name)).toStdString();
        queue.add(job);
    }
}

/// A program with a queue: it goes on with what waits, or begins all anew; ends when nothing waits any more.
int workTheQueue(const QString& folder)
{
    DeliveryQueue queue(folder + "/queue");
    QObject::connect(&queue, &DeliveryQueue::emptied, qApp, [](int, int failed) { qApp->exit(failed); });
    if (queue.entries().empty())
        addAll(queue, folder, folder + "/out");
    else
        queue.setPaused(false);
    return qApp->exec();
}

QMap<QString, QByteArray> filesIn(const QString& folder)
{
    QMap<QString, QByteArray> files;
    QDirIterator it(folder, QDir::Files, QDirIterator::Subdirectories); // not the hidden ones
    while (it.hasNext()) {
        const QString name = it.next();
        files[QDir(folder).relativeFilePath(name)] = test::bytesOf(name);
    }
    return files;
}

} // namespace

class TestQueueKills : public QObject
{
    Q_OBJECT

private slots:
    // SIGKILL at random moments: every file is whole or absent, the queue goes on where it was, and what
    // comes out is bit for bit that of a queue nobody disturbed. RETINEX_KILLS says how many, RETINEX_SEED
    // which.
    void everyFileIsWholeOrAbsent()
    {
        const int kills = std::max(8, qEnvironmentVariableIntValue("RETINEX_KILLS"));
        const QTemporaryDir folder;
        QDir(folder.path()).mkdir("passes");
        for (int frame = 1; frame <= kFrames; ++frame)
            test::writeScene(
                folder.filePath(QStringLiteral("passes/a.%1.exr").arg(frame, 4, 10, QLatin1Char('0')))
                    .toStdString(),
                320, 240);
        project::Project project;
        project.colour = {folder.filePath("passes/a.####.exr").toStdString(), {}};
        project.depth = {{}, "Z"};
        project.lastFrame = kFrames;
        project.base().finish.grain.amount = 0.02;
        project::saveProject(folder.filePath("work.retinex").toStdString(), project);

        DeliveryQueue undisturbed({});
        QSignalSpy emptied(&undisturbed, &DeliveryQueue::emptied);
        QElapsedTimer clock;
        clock.start();
        addAll(undisturbed, folder.path(), folder.filePath("whole"));
        QTRY_COMPARE_WITH_TIMEOUT(emptied.count(), 1, 60'000);
        QCOMPARE(emptied.front()[1].toInt(), 0);
        const auto whole = filesIn(folder.filePath("whole"));
        QCOMPARE(whole.size(), 2 * kFrames + 1);

        const int most = static_cast<int>(2 * clock.elapsed() + 400);
        test::Dice dice;
        int ended = 0;
        for (int kill = 0; kill < kills; ++kill) {
            QProcess worker;
            worker.setProcessChannelMode(QProcess::ForwardedErrorChannel);
            worker.start(QCoreApplication::applicationFilePath(), {"--work-the-queue", folder.path()});
            QVERIFY(worker.waitForStarted());
            if (worker.waitForFinished(dice.between(50, most))) {
                QCOMPARE(worker.exitStatus(), QProcess::NormalExit);
                QCOMPARE(worker.exitCode(), 0);
                QCOMPARE(filesIn(folder.filePath("out")), whole);
                QDir(folder.filePath("out")).removeRecursively();
                ++ended;
                continue;
            }
            worker.kill();
            QVERIFY(worker.waitForFinished());
            const auto there = filesIn(folder.filePath("out"));
            for (auto it = there.begin(); it != there.end(); ++it)
                QVERIFY2(whole.value(it.key()) == it.value(), qPrintable(it.key()));
        }
        QProcess last;
        last.start(QCoreApplication::applicationFilePath(), {"--work-the-queue", folder.path()});
        QVERIFY(last.waitForFinished(60'000));
        QCOMPARE(last.exitCode(), 0);
        QCOMPARE(filesIn(folder.filePath("out")), whole);
        // Nothing hidden stays but the notes.
        for (const char* name : {"plates", "map", "movie"})
            QCOMPARE(QDir(folder.filePath(QStringLiteral("out/%1").arg(name)))
                         .entryList({".*.part*"}, QDir::Files | QDir::Hidden)
                         .size(),
                     0);
        qInfo("%d kills, %d of them after the end", kills, ended);
    }
};

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    if (argc == 3 && QByteArray(argv[1]) == "--work-the-queue")
        return workTheQueue(QString::fromLocal8Bit(argv[2]));
    // Hundreds of kills take longer than a function of a test may.
    if (qEnvironmentVariableIsSet("RETINEX_KILLS")) qputenv("QTEST_FUNCTION_TIMEOUT", "2000000000");
    TestQueueKills test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_queue_kills.moc"
