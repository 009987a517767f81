#include "app/document/opening.h"
#include "app/jobs/bracket_job.h"
#include "app/jobs/cut_finder.h"
#include "app/jobs/depth_survey.h"
#include "app/jobs/export_job.h"
#include "app/jobs/frame_watch.h"
#include "app/store/frame_keys.h"
#include "app/store/survey_store.h"
#include "core/frame/depends_on.h"
#include "core/project/takes.h"
#include "support/test_files.h"

#include <ImfInputFile.h>
#include <ImfStandardAttributes.h>
#include <QDateTime>
#include <QDir>
#include <QSignalSpy>
#include <QStandardPaths>
#include <QTest>

using namespace retinex;
using namespace retinex::app;

/// What goes on behind the window, without one.
class TestJobs : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    SourcePtr m_source;
    std::shared_ptr<project::Project> m_project;

    std::string path(const QString& name) const { return m_dir.filePath(name).toStdString(); }

    std::string distancesOf(int frame) const
    {
        return frame::fingerprint(*m_source, *m_project, frame, project::Stage::inserts);
    }

private slots:
    void initTestCase()
    {
        QStandardPaths::setTestModeEnabled(true);
        QDir().mkpath(m_dir.filePath("shot"));
        for (int frame = 1; frame <= 6; ++frame)
            test::writeScene(path(QStringLiteral("shot/s.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))));
        const Opened opened = openFiles({m_dir.filePath("shot/s.0001.exr")});
        m_source = opened.source;
        m_project = std::make_shared<project::Project>(opened.project);
        m_project->base().fStop = 1.4;
    }

    // The survey's columns outlive the program as long as files and reading are the same.
    void columnsAreFoundAgainWhileNothingChanged()
    {
        const std::string reading = distancesOf(3);
        DepthColumn column;
        column.range.nearest = 2.0;
        column.range.farthest = 6.0;
        column.range.gapCount = 5;
        column.range.pixelCount = 100;
        column.bins = {0.0F, 12.0F, 88.0F};
        {
            SurveyStore store(*m_source);
            store.add(3, reading, column);
            store.save();
        }
        SurveyStore again(*m_source);
        const auto found = again.find(3, reading);
        QVERIFY(found);
        QCOMPARE(found->range.nearest, 2.0);
        QCOMPARE(found->range.gapCount, std::size_t(5));
        QCOMPARE(found->bins, column.bins);
        QVERIFY(!again.find(4, reading));
        QVERIFY(!again.find(3, reading + "other"));
        QFile frame(m_dir.filePath("shot/s.0003.exr"));
        QVERIFY(frame.open(QIODevice::ReadWrite));
        QVERIFY(
            frame.setFileTime(QDateTime::currentDateTime().addSecs(5), QFileDevice::FileModificationTime));
        frame.close();
        QVERIFY(!SurveyStore(*m_source).find(3, distancesOf(3))); // rendered anew
    }

    void aDamagedStoreCountsAsEmpty()
    {
        const std::string reading = distancesOf(1);
        SurveyStore store(*m_source);
        store.add(1, reading, {});
        store.save();
        const QDir folder(QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) +
                          "/retinex/depth");
        const auto files = folder.entryList({"*.columns"}, QDir::Files);
        QVERIFY(!files.isEmpty());
        for (const QString& name : files) {
            QFile file(folder.filePath(name));
            QVERIFY(file.open(QIODevice::ReadWrite));
            QVERIFY(file.resize(11));
        }
        QVERIFY(!SurveyStore(*m_source).find(1, reading));
    }

    void theSurveySeesEveryFrameOnce()
    {
        DepthSurvey survey;
        QSignalSpy batches(&survey, &DepthSurvey::changed);
        survey.start(m_source, m_project);
        QVERIFY(survey.isBusy());
        QTRY_VERIFY(!survey.isBusy());
        QCOMPARE(survey.columns().size(), std::size_t(6));
        QCOMPARE(survey.range().nearest, 2.0);
        QCOMPARE(survey.range().farthest, 6.0);
        int told = 0;
        for (const auto& batch : batches)
            told += static_cast<int>(batch.at(0).value<std::vector<int>>().size());
        QCOMPARE(told, 6);
        auto order = spreadOrder(1, 300);
        QCOMPARE(order.front(), 1);
        std::sort(order.begin(), order.end());
        for (int i = 0; i < 300; ++i)
            QCOMPARE(order[static_cast<std::size_t>(i)], i + 1);
    }

    void aBracketRendersEachValueInOrder()
    {
        BracketJob job;
        QList<int> order;
        QList<QImage> pictures;
        connect(&job, &BracketJob::pictureReady, this, [&](int index, const QImage& picture) {
            order << index;
            pictures << picture;
        });
        BracketJob::Request request;
        request.source = m_source;
        request.project = *m_project;
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        request.values = {2.0, 6.0, 1000.0};
        request.width = 64;
        job.start(request);
        QTRY_COMPARE(order, (QList<int>{0, 1, 2}));
        QVERIFY(pictures[0] != pictures[1] && pictures[1] != pictures[2]);
        QCOMPARE(pictures[0].size(), QSize(64, 48));
        QCOMPARE(m_project->base().focusDistance,
                 openFiles({m_dir.filePath("shot/s.0001.exr")}).project.base().focusDistance);
    }

    void bracketsAreEvenInDioptresAndInStops()
    {
        const auto distances = bracketDistances(1.0, 4.0, 4);
        QCOMPARE(distances.front(), 1.0);
        QVERIFY(std::abs(distances.back() - 4.0) < 1e-12);
        for (std::size_t i = 1; i < distances.size(); ++i)
            QVERIFY(std::abs(1.0 / distances[i - 1] - 1.0 / distances[i] - 0.25) < 1e-12);
        QCOMPARE(bracketDistances(2.0, 9.0, 1), std::vector<double>{2.0});
        QCOMPARE(bracketStops(3), (std::vector<double>{1.0, 1.4, 2.0}));
        QCOMPARE(bracketStops(0).size(), std::size_t(1));
        QCOMPARE(bracketStops(99).back(), 45.0);
    }

    void aBracketThatFailsSaysWhy()
    {
        BracketJob job;
        QString message;
        connect(&job, &BracketJob::failed, this, [&](const QString& words) { message = words; });
        BracketJob::Request request;
        request.source =
            passes::PassSource::standIn({"gone.exr", {}}, {}, {}, 1, 2, "gone.exr: there is no such file.");
        request.project = *m_project;
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        request.values = {2.0};
        job.start(request);
        QTRY_VERIFY(message.contains("gone.exr"));
    }

    void lookingForCutsCanBeCancelled()
    {
        CutFinder finder;
        QSignalSpy found(&finder, &CutFinder::found);
        QSignalSpy cancelled(&finder, &CutFinder::cancelled);
        finder.start(m_source, *m_project);
        QTRY_COMPARE(found.size(), 1);
        QVERIFY(found[0][0].value<std::vector<int>>().empty()); // all frames are alike
        QVERIFY(!finder.isBusy());
        finder.start(m_source, *m_project);
        finder.cancel();
        QTRY_VERIFY(!finder.isBusy());
        QVERIFY(cancelled.size() + found.size() == 2);
    }

    // What focus rides on is measured for an export from the window, whatever the window knows of it.
    void anExportMeasuresWhatFocusRidesOn()
    {
        project::Project project = *m_project;
        timeline::Subject square{"square"};
        square.places = {{1, 32.5, 24.5}};
        project.subjects = {square};
        timeline::Mark mark{1, 5.0};
        mark.subject = "square";
        project.shots.front().tracks[project::setting::focusDistance] = {mark};
        const auto job = delivery::usualJob(*m_source, std::make_shared<project::Project>(project), {1, 2},
                                            path("ride/r.####.exr"));
        ExportWork work(m_source, job);
        QSignalSpy finished(&work, &ExportWork::finished);
        work.start();
        QTRY_COMPARE_WITH_TIMEOUT(finished.size(), 1, 20'000);
        QCOMPARE(finished[0][1].toInt(), 2);
        Imf::InputFile file(path("ride/r.0002.exr").c_str());
        QVERIFY(std::abs(Imf::focus(file.header()) - 2.0F) < 1e-3F);
    }

    void anExportTellsOfFramesThatFailWhileItRuns()
    {
        QDir().mkpath(m_dir.filePath("torn"));
        for (int frame = 1; frame <= 3; ++frame)
            test::writeScene(path(QStringLiteral("torn/t.%1.exr").arg(frame)));
        const Opened opened = openFiles({m_dir.filePath("torn/t.1.exr")});
        QFile broken(m_dir.filePath("torn/t.2.exr"));
        QVERIFY(broken.open(QIODevice::ReadWrite) && broken.resize(400));
        broken.close();
        const auto job =
            delivery::usualJob(*opened.source, std::make_shared<project::Project>(opened.project), {1, 2, 3},
                               path("out/t.####.exr"));
        ExportWork work(opened.source, job);
        QStringList events;
        connect(&work, &ExportWork::frameFailed, this, [&](int frame, const QString& message) {
            events << QStringLiteral("failed %1").arg(frame);
            QVERIFY(message.contains("t.2.exr"));
        });
        connect(&work, &ExportWork::finished, this, [&](bool, int written, const QStringList& failures) {
            events << QStringLiteral("%1 written, %2 failed").arg(written).arg(failures.size());
        });
        work.start();
        QTRY_COMPARE_WITH_TIMEOUT(events.size(), 2, 20'000);
        QCOMPARE(events, (QStringList{"failed 2", "2 written, 1 failed"}));
    }

    // Alpha and mattes are watched as colour and depth are.
    void framesOfAlphaAndMattesAreWatched()
    {
        QDir().mkpath(m_dir.filePath("side"));
        test::writeScene(path("side/alpha.exr"));
        QDir().mkpath(m_dir.filePath("mattes"));
        test::writeScene(path("mattes/m.exr"));
        passes::PassOptions options;
        options.alpha = {path("side/alpha.exr"), "A"};
        const auto source = std::make_shared<passes::PassSource>(
            passes::PassChoice{path("shot/s.####.exr"), {}}, passes::PassChoice{}, options);
        FrameWatch watch;
        QSignalSpy changed(&watch, &FrameWatch::changed);
        watch.watch(source, {path("mattes/m.exr")});
        QVERIFY(QFile::remove(m_dir.filePath("side/alpha.exr")));
        test::writeScene(path("side/alpha.exr"), 80, 60);
        QTRY_COMPARE_WITH_TIMEOUT(changed.size(), 1, 10'000);
        QVERIFY(QFile::remove(m_dir.filePath("mattes/m.exr")));
        test::writeScene(path("mattes/m.exr"), 80, 60);
        QTRY_COMPARE_WITH_TIMEOUT(changed.size(), 2, 10'000);
    }

    // A picture's key has all it depends on, the engine's version too.
    void keysOfPlayedFramesChangeWithWhatTheyDependOn()
    {
        PictureRequest request;
        request.source = m_source;
        request.project = m_project;
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        request.mode = ViewMode::result;
        const auto keys = frameKeys(request, 1);
        QCOMPARE(keys.size(), std::size_t(6));
        QCOMPARE(frameKeys(request, 1), keys);
        QVERIFY(frameKeys(request, 2) != keys);
        project::Project changed = *m_project;
        changed.base().framing = optics::Framing::physical;
        request.project = std::make_shared<project::Project>(changed);
        QVERIFY(frameKeys(request, 1) != keys);
        changed = *m_project;
        changed.unit = optics::Unit::inch;
        changed.base().acceptedCocMm = 0.5;
        request.project = std::make_shared<project::Project>(changed);
        QCOMPARE(frameKeys(request, 1), keys);
    }

    // Sources of earlier choices let go of their frames.
    void earlierSourcesKeepNoFrames()
    {
        Document document;
        document.open(*m_project, m_source, {});
        const auto raw = m_source->loadRaw(1);
        QCOMPARE(m_source->loadRaw(1).get(), raw.get()); // kept
        project::Project other = *m_project;
        other.depth.name = "R";
        document.choosePasses(
            "other depth", other,
            std::make_shared<passes::PassSource>(other.colour, other.depth, other.passOptions));
        QVERIFY(document.source() != m_source);
        QVERIFY(m_source->loadRaw(1).get() != raw.get()); // read anew
    }

    void takesAreKeptRestoredAndNamed()
    {
        project::Project project = *m_project;
        QCOMPARE(project::nameForTake(project), std::string("Take 1"));
        std::vector<project::Take> takes{project::takeOf(project, "Take 1", 2)};
        project.takes = takes;
        QCOMPARE(project::nameForTake(project), std::string("Take 2"));
        project.base().fStop = 16.0;
        const project::Project restored = project::withTake(project, *project.takes.begin());
        QCOMPARE(restored.base().fStop, 1.4);
        QCOMPARE(restored.takes.items().size(), std::size_t(1));
    }
};

QTEST_GUILESS_MAIN(TestJobs)
#include "test_jobs.moc"
