#include "app/document/opening.h"
#include "app/pictures/render_service.h"
#include "core/frame/depends_on.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QSignalSpy>
#include <QTest>

using namespace retinex;
using namespace retinex::app;

class TestDocument : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::unique_ptr<Document> m_document;

    const project::Project& project() const { return m_document->project(); }
    void setMark(int frame, double distance)
    {
        m_document->editMarks(QStringLiteral("set mark at %1").arg(frame), setting::focusDistance, frame,
                              [&](timeline::Marks& marks) {
                                  timeline::setMark(marks, {frame, distance});
                              });
    }

private slots:
    void initTestCase()
    {
        QDir().mkpath(m_dir.filePath("a"));
        for (int frame = 1; frame <= 12; ++frame)
            test::writeScene(m_dir.filePath(QStringLiteral("a/in.%1.exr").arg(frame, 4, 10, QLatin1Char('0')))
                                 .toStdString());
    }

    void init()
    {
        m_document = std::make_unique<Document>();
        const Opened opened = openFiles({m_dir.filePath("a")});
        m_document->open(opened.project, opened.source, opened.file);
    }

    // exrstdattr writes the rate of the OpenEXR standard attributes; frames are then played at it.
    void theRateOfTheHeaderIsPlayed()
    {
        QCOMPARE(project().playing.framesPerSecond, 24.0); // where none is said
        QDir().mkpath(m_dir.filePath("rate"));
        QCOMPARE(QProcess::execute(QStringLiteral("exrstdattr"),
                                   {"-framesPerSecond", "30000", "1001", m_dir.filePath("a/in.0001.exr"),
                                    m_dir.filePath("rate/in.0001.exr")}),
                 0);
        const double rate = openFiles({m_dir.filePath("rate/in.0001.exr")}).project.playing.framesPerSecond;
        QVERIFY(std::abs(rate - 30000.0 / 1001.0) < 1e-9);
    }

    // Whatever the window can hold opens again: every described number, driven to both ends through the
    // document.
    void oddValuesOfEverySettingOpenAgain()
    {
        m_document->editSettings("all of it", [](project::Settings& settings) {
            settings.simpleLens = defocus::SimpleLens{};
            settings.regions.emplace_back().id = "1";
            settings.inserts.emplace_back().id = "1";
            settings.glows.emplace_back().id = "1";
            settings.looks.emplace_back().id = "1";
        });
        QDir().mkpath(m_dir.filePath("saved"));
        const std::string file = m_dir.filePath("saved/odd.retinex").toStdString();
        for (const double value : {-1e9, 0.0037, 1e9})
            for (const auto& setting : project::shotSettings().allOf(m_document->values())) {
                if (!setting.isNumber() || setting.kind == project::Kind::word ||
                    setting.kind == project::Kind::onOff)
                    continue;
                m_document->changeSetting(setting.path, value);
                m_document->save(QString::fromStdString(file));
                std::vector<std::string> putRight;
                const project::Project again = project::loadProject(file, &putRight);
                QVERIFY2(again.base().fStop == project().base().fStop, setting.path.c_str());
                if (putRight.empty())
                    QVERIFY2(again == project(), setting.path.c_str());
                else // what fits alone and not together is put right, and said
                    QVERIFY2(!project::putRightNotice(file, putRight).empty(), setting.path.c_str());
                m_document->undoStack().undo();
            }
    }

    void openingAFolderFindsTheSequence()
    {
        QCOMPARE(project().firstFrame, 1);
        QCOMPARE(project().lastFrame, 12);
        QVERIFY(project().base().focusDistance > 2.0 && project().base().focusDistance < 6.0);
        QVERIFY(m_document->undoStack().isClean());
        QVERIFY_EXCEPTION_THROWN((void)openFiles({m_dir.path()}), Error);
    }

    void twoFilesInEitherOrder()
    {
        const auto one = [](int, int) { return 1.0F; };
        test::writeChannels(m_dir.filePath("c.exr").toStdString(), 8, 8,
                            {{"R", true, one}, {"G", true, one}, {"B", true, one}});
        test::writeChannels(m_dir.filePath("d.exr").toStdString(), 8, 8, {{"Z", false, one}});
        for (const QStringList& files : {QStringList{m_dir.filePath("c.exr"), m_dir.filePath("d.exr")},
                                         QStringList{m_dir.filePath("d.exr"), m_dir.filePath("c.exr")}})
            QCOMPARE(QString::fromStdString(openFiles(files).project.depth.file.filename().string()),
                     QStringLiteral("d.exr"));
    }

    void everyEditIsDoneUndoneAndRedone_data()
    {
        QTest::addColumn<int>("edit");
        QTest::addColumn<QString>("words");
        QTest::newRow("focus") << 0 << "set focus distance";
        QTest::newRow("f-stop") << 1 << "set f-stop";
        QTest::newRow("mark") << 2 << "set mark at 7";
    }
    void everyEditIsDoneUndoneAndRedone()
    {
        QFETCH(int, edit);
        QFETCH(QString, words);
        const project::Project before = project();
        edit == 0   ? m_document->setFocusDistance(3.25)
        : edit == 1 ? m_document->changeSetting(setting::fStop, 1.4)
                    : setMark(7, 4.5);
        const project::Project after = project();
        QVERIFY(!(after == before));
        QCOMPARE(m_document->undoStack().undoText(), words);
        m_document->undoStack().undo();
        QVERIFY(project() == before);
        m_document->undoStack().redo();
        QVERIFY(project() == after);
    }

    void aDragIsOneStepAndADragBackIsNone()
    {
        const int gesture = newGesture();
        const double before = project().base().focusDistance;
        for (const double distance : {3.0, 3.1, 3.2})
            m_document->setFocusDistance(distance, gesture);
        QCOMPARE(m_document->undoStack().count(), 1);
        m_document->undoStack().undo();
        QCOMPARE(project().base().focusDistance, before);
        const int second = newGesture();
        m_document->setFocusDistance(5.0, second);
        m_document->setFocusDistance(before, second);
        QCOMPARE(m_document->undoStack().count(), 0);
    }

    void marksAreSetMovedAndDeleted()
    {
        setMark(3, 2.0);
        setMark(9, 6.0);
        m_document->setFrame(6);
        m_document->setFocusDistance(4.0); // with marks, the focus of a frame is a mark of that frame
        QCOMPARE(m_document->marks().size(), std::size_t(3));
        QCOMPARE(m_document->undoStack().undoText(), QStringLiteral("set mark at 6"));
        m_document->undoStack().undo();
        m_document->setMarkHere(setting::focusDistance);
        QCOMPARE(m_document->undoStack().undoText(), QStringLiteral("set mark at 6"));
        for (const int frame : {3, 6, 9})
            m_document->removeMark(setting::focusDistance, frame);
        QVERIFY(m_document->marks().empty());
        QCOMPARE(project().base().focusDistance, 6.0); // the last mark leaves its distance behind
    }

    // On a frame between marks: one is added and announced, or all are shifted; nothing is lost on the next.
    void aChangeBetweenMarksIsNeverLost()
    {
        m_document->setFrame(3);
        m_document->setMarkHere(setting::fStop);
        m_document->setFrame(9);
        m_document->changeSetting(setting::fStop, 8.0);
        QCOMPARE(m_document->marks(setting::fStop).size(), std::size_t(2));
        const double first = m_document->marks(setting::fStop).front().value;
        QSignalSpy added(m_document.get(), &Document::markAdded);
        m_document->setFrame(6);
        m_document->changeSetting(setting::fStop, 5.6);
        QCOMPARE(added.count(), 1);
        QCOMPARE(m_document->values().fStop, 5.6);
        m_document->undoStack().undo();
        m_document->setBetweenMarks(BetweenMarks::shiftAll);
        const double between = m_document->values().fStop;
        m_document->changeSetting(setting::fStop, between / 2.0); // two stops more open
        QVERIFY(std::abs(m_document->marks(setting::fStop).front().value - first / 2.0) < 1e-12);
        QCOMPARE(m_document->marks(setting::fStop).back().value, 4.0);
        QCOMPARE(added.count(), 1);
        // A change of several settings at once goes to the marks where there are any.
        m_document->setBetweenMarks(BetweenMarks::addMark);
        m_document->editSettings("camera", [](project::Settings& settings) {
            settings.fStop = 11.0;
            settings.focalLengthMm = 85.0;
        });
        QCOMPARE(m_document->values().fStop, 11.0);
        QCOMPARE(m_document->shot().settings.focalLengthMm, 85.0);
        QVERIFY(m_document->shot().settings.fStop != 11.0);
        m_document->setFrame(3);
        QVERIFY(std::abs(m_document->values().fStop - first / 2.0) < 1e-12);
    }

    // Samples come without a step to undo; frames that were rendered anew are measured anew.
    void samplesAreNoStepAndEndWithTheFiles()
    {
        project::Project changed = project();
        changed.subjects = {{"square"}, {"point", "of the scene"}};
        m_document->edit("add", changed);
        const int steps = m_document->undoStack().count();
        for (const char* name : {"square", "point"})
            m_document->setSamples(name, std::vector<timeline::Sample>{{1, 2.5}, {2, 2.5}}, "abc");
        QCOMPARE(m_document->undoStack().count(), steps);
        m_document->editMarks("bind", setting::focusDistance, 1, [](timeline::Marks& marks) {
            timeline::setMark(marks, {1, 9.0, {}, {}, timeline::Blend::evenBlur, "square"});
        });
        QCOMPARE(m_document->values().focusDistance, 2.5);
        QCOMPARE(project().subjects[0].measuredAs, std::string("abc"));
        const auto measuredAs = [this](const char* name) {
            return frame::subjectFingerprint(project(), *project().subjectNamed(name), *m_document->source());
        };
        const std::string square = measuredAs("square");
        const std::string point = measuredAs("point");
        m_document->setSamples("square", std::vector<timeline::Sample>{{1, 2.5}, {2, 2.5}}, square);
        QFile frame(QString::fromStdString(project().colour.file.string()).replace("####", "0001"));
        if (!frame.exists())
            frame.setFileName(QString::fromStdString(m_document->source()->colourFiles().file(1).string()));
        QVERIFY(frame.open(QIODevice::ReadWrite));
        QVERIFY(
            frame.setFileTime(QDateTime::currentDateTime().addSecs(60), QFileDevice::FileModificationTime));
        frame.close();
        m_document->refreshPasses(std::make_shared<passes::PassSource>(project().colour, project().depth));
        QVERIFY(project().subjectNamed("square")->measuredAs != measuredAs("square")); // to be measured anew
        QCOMPARE(measuredAs("point"), point);              // the scene file is another matter
        QCOMPARE(m_document->values().focusDistance, 2.5); // until then the last ones count
        m_document->undoStack()
            .undo(); // and after undo likewise: an older project was measured on older files
        QVERIFY(project().subjectNamed("square")->measuredAs != measuredAs("square"));
    }

    void focusNeverGetsInsideTheLens()
    {
        m_document->setFocusDistance(0.001);
        QVERIFY(project().millimetres(m_document->values().focusDistance) > project().base().focalLengthMm);
        project().lensSettingsAt(1).check();
    }

    void savingMakesItClean()
    {
        m_document->changeSetting(setting::fStop, 1.2);
        QVERIFY(!m_document->undoStack().isClean());
        QSignalSpy titles(m_document.get(), &Document::titleChanged);
        m_document->save(m_dir.filePath("a/p.retinex"));
        QVERIFY(m_document->undoStack().isClean() && titles.count() > 0);
        QCOMPARE(m_document->title(), QStringLiteral("p.retinex"));
        QVERIFY(openFiles({m_dir.filePath("a")}).project ==
                project()); // a folder's project goes before its passes
        QFile::remove(m_dir.filePath("a/p.retinex"));
        QVERIFY_EXCEPTION_THROWN(m_document->save(m_dir.filePath("none/p.retinex")), Error);
    }

    // Many requests in a row: the last one is answered, and no older one after it.
    void theNewestRequestWins()
    {
        RenderService service;
        std::vector<quint64> seen;
        QString failure;
        connect(&service, &RenderService::pictureReady, this,
                [&](const Picture& picture) { seen.push_back(picture.number); });
        connect(&service, &RenderService::failed, this,
                [&](quint64, const QString& message) { failure = message; });
        PictureRequest request;
        request.source = m_document->source();
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        quint64 last = 0;
        for (int i = 0; i < 20; ++i) {
            project::Project changed = project();
            changed.base().fStop = 0.5 + 0.1 * i;
            request.project = std::make_shared<project::Project>(changed);
            last = service.request(request);
        }
        QTRY_VERIFY_WITH_TIMEOUT(!service.isBusy(), 10'000);
        QVERIFY(!seen.empty() && seen.back() == last);
        QVERIFY(std::is_sorted(seen.begin(), seen.end()));
        request.frame = 99;
        service.request(request);
        QTRY_VERIFY_WITH_TIMEOUT(!service.isBusy(), 10'000);
        QVERIFY(failure.contains("in.0099.exr"));
    }

    // While a control is dragged requests come faster than pictures can be refined; coarse ones keep coming.
    void coarsePicturesKeepComingWhileRequestsDo()
    {
        const std::string file = m_dir.filePath("large.exr").toStdString();
        test::writeScene(file, 1600, 1200);
        RenderService service;
        int coarse = 0;
        quint64 lastShown = 0;
        connect(&service, &RenderService::pictureReady, this, [&](const Picture& picture) {
            QVERIFY(picture.number >= lastShown);
            lastShown = picture.number;
            if (!picture.isFinal) ++coarse;
        });
        PictureRequest request;
        request.source =
            std::make_shared<passes::PassSource>(passes::PassChoice{file, {}}, passes::PassChoice{});
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        quint64 last = 0;
        // However slow the machine is: as long as it takes, requests never resting.
        for (int i = 0; coarse < 3 && i < 20'000; ++i) {
            project::Project changed = project();
            changed.base().fStop = 0.3 + 0.005 * (i % 120);
            request.project = std::make_shared<project::Project>(changed);
            last = service.request(request);
            QTest::qWait(5);
        }
        QVERIFY2(coarse >= 3, qPrintable(QString::number(coarse)));
        QTRY_VERIFY_WITH_TIMEOUT(!service.isBusy(), 30'000);
        QCOMPARE(lastShown, last);
    }

    // What the view shows is what is computed: a part, or fewer pixels; and no coarse picture first when only
    // the view has moved.
    void onlyWhatIsVisibleIsRefined()
    {
        const std::string file = m_dir.filePath("large.exr").toStdString();
        test::writeScene(file, 1600, 1200);
        RenderService service;
        std::vector<Picture> pictures;
        connect(&service, &RenderService::pictureReady, this,
                [&](const Picture& picture) { pictures.push_back(picture); });
        PictureRequest request;
        request.source =
            std::make_shared<passes::PassSource>(passes::PassChoice{file, {}}, passes::PassChoice{});
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        request.project = std::make_shared<project::Project>(project());
        const auto render = [&](const PictureDetail& visible, bool onlyViewMoved) {
            request.visible = visible;
            request.onlyViewMoved = onlyViewMoved;
            pictures.clear();
            service.request(request);
            QTRY_VERIFY_WITH_TIMEOUT(!service.isBusy(), 30'000);
        };
        render({}, false);
        QVERIFY(pictures.size() == 2 && !pictures[0].isFinal && pictures[1].isFinal);
        const Picture whole = pictures.back();
        const PixelBox box = PixelBox::at(512, 640, 320, 192);
        render({1, box}, true);
        QCOMPARE(pictures.size(), std::size_t(1));
        const Picture part = pictures.back();
        QVERIFY(part.isFinal && part.detail.part == box);
        QCOMPARE(part.image.size(), QSize(320, 192));
        QVERIFY(!part.placeOf(511, 700) && part.placeOf(512, 640) == QPoint(0, 0));
        for (const QPoint at : {QPoint(512, 640), QPoint(700, 700), QPoint(831, 831)}) {
            const QPoint place = *part.placeOf(at.x(), at.y());
            QVERIFY(std::abs(part.values->plane(0).at(place.x(), place.y()) -
                             whole.values->plane(0).at(at.x(), at.y())) < 2e-3F);
        }
        render({3, {}}, true);
        QCOMPARE(pictures.back().image.size(), QSize(534, 400));
        QVERIFY(pictures.back().isFinal && pictures.back().placeOf(1599, 1199) == QPoint(533, 399));
    }
};

QTEST_GUILESS_MAIN(TestDocument)
#include "test_document.moc"
