// What is played, without a window: the store of frames, their keys, the filler and the clock.
#include "app/store/frame_keys.h"
#include "app/store/playback.h"
#include "core/passes/exr/exr_write.h"
#include "core/project/file/project_file.h"
#include "support/test_files.h"

#include <QDir>
#include <QSignalSpy>
#include <QTest>
#include <set>

using namespace retinex;
using namespace retinex::app;

class TestPlaying : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    int m_folders = 0;

    QString newFolder() { return m_dir.filePath(QStringLiteral("store%1").arg(m_folders++)); }
    static QImage picture(int shade, int width = 64, int height = 16)
    {
        QImage image(width, height, QImage::Format_RGB32);
        image.fill(qRgb(shade, 2 * shade % 256, 3 * shade % 256));
        return image;
    }
    static qint64 bytesOf(int count) { return count * picture(0).sizeInBytes(); }
    static PictureRequest requestFor(const project::Project& project)
    {
        PictureRequest request;
        request.project = std::make_shared<project::Project>(project);
        request.source =
            std::make_shared<passes::PassSource>(project.colour, project.depth, project.passOptions);
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        return request;
    }
    static project::Project demo() { return project::loadProject(RETINEX_DEMO "/greenhouse.retinex"); }
    static std::set<int> changedFrames(const project::Project& a, const project::Project& b, ViewMode mode)
    {
        PictureRequest first = requestFor(a);
        PictureRequest second = requestFor(b);
        first.mode = second.mode = mode;
        const auto before = frameKeys(first, 2);
        const auto after = frameKeys(second, 2);
        std::set<int> changed;
        for (std::size_t i = 0; i < before.size(); ++i)
            if (before[i] != after[i]) changed.insert(a.firstFrame + static_cast<int>(i));
        return changed;
    }
    static std::set<int> range(int first, int last)
    {
        std::set<int> frames;
        for (int frame = first; frame <= last; ++frame)
            frames.insert(frame);
        return frames;
    }

private slots:
    void whatWasUsedLongestAgoLeavesTheMemoryFirst()
    {
        FrameStore store(newFolder());
        store.setLimits({bytesOf(3), 1 << 20});
        for (const char* key : {"a", "b", "c"})
            store.put(key, picture(key[0]));
        QVERIFY(!store.find("a").isNull()); // used again
        store.put("d", picture('d'));
        QCOMPARE(store.placeOf("a"), FrameStore::Place::memory);
        QCOMPARE(store.placeOf("b"), FrameStore::Place::disk);
        QVERIFY(store.find("b").isNull());
        QCOMPARE(store.fetch("b"), picture('b')); // back into memory, pixel for pixel
        QCOMPARE(store.placeOf("b"), FrameStore::Place::memory);
        QCOMPARE(store.placeOf("c"), FrameStore::Place::disk);
        QVERIFY(store.bytesInMemory() <= bytesOf(3));
        QCOMPARE(store.placeOf("never"), FrameStore::Place::nowhere);
    }

    void theDiskIsBoundedAndOutlivesTheProgram()
    {
        const QString folder = newFolder();
        {
            FrameStore store(folder);
            store.setLimits({bytesOf(10), 3 * (bytesOf(1) + 12)});
            for (const char* key : {"a", "b", "c", "d"})
                store.put(key, picture(key[0]), false);
            QCOMPARE(store.placeOf("a"), FrameStore::Place::nowhere);
            QCOMPARE(store.placeOf("d"), FrameStore::Place::disk);
            QCOMPARE(QDir(folder).entryList(QDir::Files).size(), 3);
        }
        FrameStore later(folder);
        QCOMPARE(later.fetch("c"), picture('c'));
        later.setLimits({bytesOf(10), bytesOf(1) + 12});
        QCOMPARE(QDir(folder).entryList(QDir::Files).size(), 1);
        later.clear();
        QCOMPARE(QDir(folder).entryList(QDir::Files).size(), 0);
        QCOMPARE(later.bytesInMemory() + later.bytesOnDisk(), qint64(0));
    }

    void aDamagedFileCountsAsMissing()
    {
        const QString folder = newFolder();
        {
            FrameStore store(folder);
            store.put("a", picture('a'), false);
        }
        QFile file(folder + QStringLiteral("/a.frame"));
        QVERIFY(file.resize(file.size() / 2));
        FrameStore later(folder);
        QVERIFY(later.fetch("a").isNull());
        QCOMPARE(later.placeOf("a"), FrameStore::Place::nowhere);
        FrameStore nowhere(QStringLiteral("/proc/nothing/can/be/made/here"));
        nowhere.put("a", picture('a')); // no folder: memory only, and no error
        QCOMPARE(nowhere.placeOf("a"), FrameStore::Place::memory);
    }

    void anEditDropsOnlyTheFramesItTouches()
    {
        const project::Project before = demo(); // marks at 5 and 20; the second shot from 25 to 48
        QVERIFY(changedFrames(before, before, ViewMode::result).empty());
        project::Project after = before;
        after.shots[0].tracks[project::setting::focusDistance][1].value = 5.0; // the mark at 20
        QCOMPARE(changedFrames(before, after, ViewMode::result), range(6, 24));
        QVERIFY(changedFrames(before, after, ViewMode::source).empty());
        after = before;
        after.shots[1].settings.fStop = 8.0;
        QCOMPARE(changedFrames(before, after, ViewMode::result), range(25, 48));
        after = before;
        after.shots[1].name = "renamed";
        after.playing.framesPerSecond = 30.0;
        after.unit = optics::Unit::foot;
        after.shots[0].settings.acceptedCocMm = 0.02; // of what is called sharp; no picture depends on it
        QVERIFY(changedFrames(before, after, ViewMode::result).empty());
        QCOMPARE(changedFrames(before, after, ViewMode::zones), range(1, 24));
        after = before;
        after.base().iris.blades = 5;
        QCOMPARE(changedFrames(before, after, ViewMode::result), range(1, 24));
    }

    void framesRenderedAnewAreOtherFrames()
    {
        project::Project project = demo();
        const QString folder = m_dir.filePath(QStringLiteral("passes"));
        QDir().mkpath(folder);
        for (const int frame : {1, 2, 3}) {
            const QString name = QStringLiteral("frame.%1.exr").arg(frame, 4, 10, QLatin1Char('0'));
            const auto found =
                QDir(QStringLiteral(RETINEX_DEMO)).entryList({"*.000" + QString::number(frame) + ".exr"});
            QVERIFY(!found.isEmpty());
            QVERIFY(QFile::copy(QStringLiteral(RETINEX_DEMO "/") + found.front(), folder + '/' + name));
        }
        project.colour.file = (folder + QStringLiteral("/frame.####.exr")).toStdString();
        project.lastFrame = 3;
        project.base().otherFrames = others::OtherFrames::off; // else a frame depends on those beside it
        const PictureRequest request = requestFor(project);
        const auto before = frameKeys(request, 1);
        QFile touched(folder + QStringLiteral("/frame.0002.exr"));
        QVERIFY(touched.open(QIODevice::ReadWrite));
        QVERIFY(
            touched.setFileTime(QDateTime::currentDateTime().addSecs(60), QFileDevice::FileModificationTime));
        const auto after = frameKeys(request, 1);
        QCOMPARE(after[0], before[0]);
        QVERIFY(after[1] != before[1]);
        QCOMPARE(after[2], before[2]);
        QVERIFY(frameKeys(request, 2)[0] != before[0]); // of another size
    }

    void aPlayedFrameIsThePictureOfThePipeline()
    {
        FrameFiller filler(std::make_shared<FrameStore>(newFolder()));
        PictureRequest request = requestFor(demo());
        filler.setCourse({30, 1, {30, 31}, timeline::Loop::round, false});
        filler.setSubjectMatter(request, 2);
        QTRY_COMPARE_WITH_TIMEOUT(filler.placeOf(31), FrameStore::Place::memory, 20'000);
        request.frame = 31;
        const Picture wanted = makePicture(request, {2, {}}, {});
        QCOMPARE(filler.pictureOf(31), wanted.image);
        QCOMPARE(filler.placeOf(32), FrameStore::Place::nowhere); // not played
        QTRY_VERIFY(filler.isResting());
    }

    void fillingYieldsAndCanBeSwitchedOff()
    {
        FrameFiller filler(std::make_shared<FrameStore>(newFolder()));
        filler.setYielding(true);
        filler.setCourse({1, 1, {1, 4}, timeline::Loop::round, false});
        filler.setSubjectMatter(requestFor(demo()), 4);
        QTRY_VERIFY(filler.isResting());
        QCOMPARE(filler.placeOf(1), FrameStore::Place::nowhere);
        filler.setYielding(false);
        QTRY_COMPARE_WITH_TIMEOUT(filler.placeOf(4), FrameStore::Place::memory, 20'000);
        filler.setFillsWhenIdle(false);
        filler.setCourse({10, 1, {10, 12}, timeline::Loop::round, false});
        QTRY_VERIFY(filler.isResting());
        QCOMPARE(filler.placeOf(10), FrameStore::Place::nowhere);
        filler.setCourse({10, 1, {10, 12}, timeline::Loop::round, true}); // but what is played is made
        QTRY_COMPARE_WITH_TIMEOUT(filler.placeOf(12), FrameStore::Place::memory, 20'000);
    }

    void moreThanTheMemoryHoldsIsPlayedFromDisk()
    {
        const auto shelf = std::make_shared<FrameStore>(newFolder());
        FrameStore& store = *shelf;
        const qint64 passes = 25 * (640 * 360 + 160 * 90); // of a frame and its reduced one: they count too
        store.setLimits({passes + 8 * 160 * 90 * 4, 1 << 24}); // six frames ahead fit, of 24
        FrameFiller filler(shelf);
        filler.setCourse({1, 1, {1, 24}, timeline::Loop::round, false});
        filler.setSubjectMatter(requestFor(demo()), 4);
        const auto count = [&](FrameStore::Place place) {
            int found = 0;
            for (int frame = 1; frame <= 24; ++frame)
                found += filler.placeOf(frame) == place;
            return found;
        };
        QTRY_COMPARE_WITH_TIMEOUT(count(FrameStore::Place::nowhere), 0, 60'000);
        QVERIFY(count(FrameStore::Place::disk) >= 16);
        QVERIFY(static_cast<qint64>(store.budget()->bytes()) <= store.limits().memory);
        filler.setCourse({12, 1, {1, 24}, timeline::Loop::round, false}); // elsewhere: that comes into memory
        QTRY_COMPARE_WITH_TIMEOUT(filler.placeOf(15), FrameStore::Place::memory, 20'000);
    }

    void aFrameThatCannotBeMadeIsToldOnce()
    {
        project::Project project = demo();
        project.lastFrame = 50; // two more than there are
        FrameFiller filler(std::make_shared<FrameStore>(newFolder()));
        QSignalSpy failed(&filler, &FrameFiller::failed);
        filler.setCourse({49, 1, {49, 50}, timeline::Loop::round, true});
        filler.setSubjectMatter(requestFor(project), 4);
        QTRY_COMPARE_WITH_TIMEOUT(failed.size(), 2, 20'000);
        QVERIFY(filler.hasFailed(50));
        QVERIFY(!failed[0][1].toString().isEmpty());
        QTRY_VERIFY(filler.isResting());
    }

    void theRateIsThatOfFramesShownAndAFrameThatStandsIsNone()
    {
        Document document;
        project::Project project = demo();
        const PictureRequest request = requestFor(project);
        document.open(project, request.source, {});
        FrameFiller filler(std::make_shared<FrameStore>(newFolder()));
        filler.setCourse({1, 1, {1, 3}, timeline::Loop::round, false});
        filler.setSubjectMatter(request, 4);
        QTRY_COMPARE_WITH_TIMEOUT(filler.placeOf(3), FrameStore::Place::memory, 20'000);
        project.playing.in = 1;
        project.playing.out = 3;
        document.edit(QStringLiteral("range"), project);
        Playback playback(document, filler);
        QSignalSpy shown(&playback, &Playback::shown);
        QCOMPARE(playback.shownPerSecond(), 0.0);
        playback.toggle();
        QTRY_VERIFY_WITH_TIMEOUT(shown.size() >= 8, 20'000);
        QVERIFY(playback.shownPerSecond() > 0.0);
        QVERIFY(playback.shownPerSecond() < 1.5 * project.playing.framesPerSecond);
        // From here on no frame can be made: the last one stands, and no rate is told.
        project::Project lost = project;
        lost.firstFrame = 60;
        lost.lastFrame = 62;
        filler.setSubjectMatter(requestFor(lost), 4);
        QTRY_COMPARE_WITH_TIMEOUT(playback.shownPerSecond(), 0.0, 20'000);
        QVERIFY(playback.isPlaying());
        playback.stop();
    }
};

QTEST_GUILESS_MAIN(TestPlaying)
#include "test_playing.moc"
