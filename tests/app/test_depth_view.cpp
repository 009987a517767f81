// The parts behind passes and depth in the window, one by one: tones, legend, analysis, choices, notices.
#include "app/document/opening.h"
#include "app/fields/number_formats.h"
#include "app/jobs/analysis_service.h"
#include "app/jobs/frame_watch.h"
#include "app/jobs/opener.h"
#include "app/picture/legends/depth_legend.h"
#include "app/picture/strips/depth_strip.h"
#include "app/pictures/depth_tones.h"
#include "app/sheet/passes/findings_list.h"
#include "app/window/message_bar.h"
#include "core/frame/depends_on.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <QDir>
#include <QPainter>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <QToolButton>
#include <cmath>

using namespace retinex;
using namespace retinex::app;

class TestDepthView : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const char* name) const { return m_dir.filePath(QLatin1String(name)).toStdString(); }

    /// Distances 1, 2, 4, 8 and a gap, one column each.
    static passes::FramePasses columns()
    {
        auto raw = std::make_shared<passes::RawPasses>();
        raw->frame = PixelBox::at(0, 0, 5, 5);
        passes::FramePasses passes;
        passes.raw = raw;
        passes.allDistance = Plane<float>(5, 5);
        passes.allGaps = Plane<std::uint8_t>(5, 5);
        for (int y = 0; y < 5; ++y)
            for (int x = 0; x < 5; ++x) {
                passes.allDistance.at(x, y) =
                    x < 4 ? std::exp2(static_cast<float>(x)) : std::numeric_limits<float>::infinity();
                passes.allGaps.at(x, y) = x == 4 ? 1 : 0;
            }
        return passes;
    }

private slots:
    void initTestCase() { test::writeScene(path("scene.exr")); }

    // By hand: between 2 and 8, 4 lies half-way in log, at 2/3 in dioptres ((1/2 - 1/4) / (1/2 - 1/8)), at
    // 1/3 evenly.
    void tonesFollowTheirScale()
    {
        for (const auto& [scale, share] :
             {std::pair{ToneScale::log, 0.5}, std::pair{ToneScale::dioptre, 2.0 / 3.0},
              std::pair{ToneScale::linear, 1.0 / 3.0}}) {
            const DepthTones tones{scale, 2.0, 8.0};
            QVERIFY(std::abs(tones.position(4.0) - share) < 1e-12);
            QVERIFY(std::abs(tones.position(2.0)) < 1e-12 && std::abs(tones.position(8.0) - 1.0) < 1e-12);
            QVERIFY(tones.position(1.0) < 0.0 && tones.position(9.0) > 1.0);
            for (const double t : {0.0, 0.3, 1.0})
                QVERIFY(std::abs(tones.position(tones.distance(t)) - t) < 1e-9);
        }
        QVERIFY(DepthTones::grey(0.0) > DepthTones::grey(0.5) &&
                DepthTones::grey(0.5) > DepthTones::grey(1.0));
        QCOMPARE(DepthTones::grey(-3.0), DepthTones::grey(0.0));
    }

    void whatIsOutOfRangeAndWhatIsMissingLooksOtherwise()
    {
        const auto passes = columns();
        const QImage image = depthImage(passes, {ToneScale::log, 2.0, 4.0});
        const auto grey = [&](int x, int y) { return qGray(image.pixel(x, y)); };
        QCOMPARE(grey(1, 1), 240); // the ends themselves are within
        QCOMPARE(grey(2, 1), 40);
        QVERIFY(grey(0, 0) != 240 && grey(0, 0) != 40); // nearer: an upright line
        QVERIFY(grey(3, 0) != 40 && grey(3, 1) == 40);  // farther: a level line, and the end's grey between
        QVERIFY(grey(4, 4) == 54 || grey(4, 4) == 20);  // a gap
        const DepthLegend legend = depthLegend(passes, {ToneScale::log, 2.0, 4.0});
        QVERIFY(std::abs(legend.nearerShare - 0.25) < 1e-9 && std::abs(legend.fartherShare - 0.25) < 1e-9);
        QVERIFY(std::abs(legend.gapShare - 0.2) < 1e-9);
        float counted = 0.0F;
        for (const float count : legend.histogram)
            counted += count;
        QCOMPARE(counted, 10.0F);
    }

    void legendAndEvidenceAreDrawn()
    {
        QImage canvas(400, 300, QImage::Format_RGB32);
        canvas.fill(Qt::black);
        QPainter painter(&canvas);
        paintDepthLegend(painter, depthLegend(columns(), {ToneScale::log, 1.0, 8.0}), {}, 300);
        const QImage withLegend = canvas.copy();
        depth::DirectionEvidence evidence;
        evidence.signs = {{50, 50, depth::DirectionSign::Kind::bend, false},
                          {52, 50, depth::DirectionSign::Kind::bend, false}, // too near to be drawn too
                          {90, 50, depth::DirectionSign::Kind::strip, true}};
        ImageViewMap map;
        map.setImageSize({400, 300});
        map.setViewSize({400, 300});
        paintEvidence(painter, evidence, map, 300);
        painter.end();
        const auto lit = [&](QRect area) {
            int count = 0;
            for (int y = area.top(); y <= area.bottom(); ++y)
                for (int x = area.left(); x <= area.right(); ++x)
                    if (canvas.pixel(x, y) != withLegend.pixel(x, y)) ++count;
            return count;
        };
        QVERIFY(lit({44, 44, 14, 14}) > 20);
        QVERIFY(lit({85, 45, 12, 12}) > 10);
        QCOMPARE(lit({150, 40, 100, 100}), 0);
    }

    void mattesAreShownFromBlackToWhite()
    {
        Plane<float> matte(3, 1);
        matte.at(1, 0) = 0.5F;
        matte.at(2, 0) = 7.0F;
        const QImage image = matteImage(matte);
        QCOMPARE(qGray(image.pixel(0, 0)), 0);
        QCOMPARE(qGray(image.pixel(1, 0)), 128);
        QCOMPARE(qGray(image.pixel(2, 0)), 255);
    }

    void theNewestAnalysisWins()
    {
        AnalysisService service;
        QSignalSpy spy(&service, &AnalysisService::changed);
        const auto source = std::make_shared<passes::PassSource>(passes::PassChoice{path("scene.exr"), {}},
                                                                 passes::PassChoice{});
        depth::ReadingSettings reversed;
        reversed.reversed = true;
        reversed.storedHigh = 9.0;
        service.start(source, 1, {});
        service.start(source, 1, reversed);
        QVERIFY(service.isBusy());
        QTRY_VERIFY(!service.isBusy());
        QCOMPARE(spy.count(), 1);
        QVERIFY(service.analysis() != nullptr);
        service.start(source, 99, {}); // a still has every frame
        QTRY_VERIFY(!service.isBusy());
        service.set(nullptr);
        QVERIFY(!service.analysis());
    }

    void choicesAreReadAsideAndFailuresLeaveWhatIs()
    {
        Opener opener;
        QSignalSpy chosen(&opener, &Opener::chosen);
        QSignalSpy failed(&opener, &Opener::choiceFailed);
        project::Project project;
        project.colour.file = path("scene.exr");
        opener.choose(project, "choose");
        QTRY_COMPARE(chosen.count(), 1);
        QCOMPARE(chosen[0][1].toString(), QStringLiteral("choose"));
        project.depth.name = "fog";
        opener.choose(project, "choose");
        QTRY_COMPARE(failed.count(), 1);
        QVERIFY(failed[0][0].toString().contains("fog"));
    }

    void documentsKeepTheSourceOfEveryChoice()
    {
        const Opened opened = openFiles({m_dir.filePath("scene.exr")});
        Document document;
        document.open(opened.project, opened.source, {});
        QSignalSpy sources(&document, &Document::sourceChanged);
        project::Project other = opened.project;
        other.depth.name = "R";
        const auto second =
            std::make_shared<passes::PassSource>(other.colour, other.depth, other.passOptions);
        document.choosePasses("choose depth channel", other, second);
        QCOMPARE(document.source(), second);
        document.undoStack().undo();
        QCOMPARE(document.source(), opened.source);
        document.undoStack().redo();
        QCOMPARE(document.source(), second);
        QCOMPARE(sources.count(), 3);
        const auto fresh = std::make_shared<passes::PassSource>(other.colour, other.depth, other.passOptions);
        document.refreshPasses(fresh); // frames came: no step
        QCOMPARE(document.source(), fresh);
        QCOMPARE(document.undoStack().count(), 1);
    }

    void openingSaysRolesAndTakesTheProposal()
    {
        const Opened opened = openFiles({m_dir.filePath("scene.exr")});
        QCOMPARE(opened.roles.size(), std::size_t(1));
        QVERIFY(opened.analysis != nullptr);
        QCOMPARE(opened.project.base().reading.reading, depth::Reading::distanceFromCameraPlane);
        QCOMPARE(opened.project.base().reading.nearest, 2.0);
        QCOMPARE(opened.project.base().reading.farthest, 6.0);
        QDir().mkpath(m_dir.filePath("folder"));
        QVERIFY_EXCEPTION_THROWN((void)openFiles({m_dir.filePath("folder")}), Error);
        test::writeScene(path("folder/a.exr"));
        QCOMPARE(openFiles({m_dir.filePath("folder")}).project.colour.file.filename().string(),
                 std::string("a.exr"));
    }

    void theWatchSeesFramesComeAndGrow()
    {
        QDir().mkpath(m_dir.filePath("live"));
        for (const int frame : {1, 2})
            test::writeScene(path(("live/f." + std::to_string(frame) + ".exr").c_str()), 8, 8);
        FrameWatch watch;
        QSignalSpy spy(&watch, &FrameWatch::changed);
        watch.watch(std::make_shared<passes::PassSource>(passes::PassChoice{path("live/f.1.exr"), {}},
                                                         passes::PassChoice{}));
        QFile other(m_dir.filePath("live/notes.txt")); // no frame: nothing to tell, before what comes next
        QVERIFY(other.open(QIODevice::WriteOnly));
        test::writeScene(path("live/f.3.exr"), 8, 8);
        QTRY_COMPARE_WITH_TIMEOUT(spy.count(), 1, 20'000);
        QFile grown(m_dir.filePath("live/f.3.exr"));
        QVERIFY(grown.open(QIODevice::Append));
        grown.write("more");
        grown.close();
        QTRY_COMPARE_WITH_TIMEOUT(spy.count(), 2, 20'000);
    }

    // A table is written over in place, which changes no folder.
    void theWatchSeesWhatElseAProjectNames()
    {
        test::writeScene(path("watched.exr"), 8, 8);
        const auto write = [&](const char* text) {
            QFile table(m_dir.filePath("dusk.cube"));
            QVERIFY(table.open(QIODevice::WriteOnly));
            table.write(text);
        };
        write("LUT_1D_SIZE 2\n0 0 0\n1 1 1\n");
        project::Project project;
        finish::Look look;
        look.id = "1";
        look.file = path("dusk.cube");
        project.base().looks = {look};
        FrameWatch watch;
        QSignalSpy spy(&watch, &FrameWatch::changed);
        watch.watch(std::make_shared<passes::PassSource>(passes::PassChoice{path("watched.exr"), {}},
                                                         passes::PassChoice{}),
                    frame::filesNamed(project));
        write("LUT_1D_SIZE 2\n0 0 0\n2 2 2\n");
        QTRY_COMPARE_WITH_TIMEOUT(spy.count(), 1, 20'000);
    }

    void toolsAndScalesAreTold()
    {
        DepthStrip strip;
        QSignalSpy tools(&strip, &DepthStrip::toolChosen);
        QCOMPARE(strip.tool(), PictureTool::focus);
        for (const auto tool :
             {PictureTool::nearest, PictureTool::farthest, PictureTool::range, PictureTool::span}) {
            strip.setTool(tool);
            QCOMPARE(strip.tool(), tool);
        }
        QCOMPARE(tools.count(), 4);
        auto* scale = strip.findChild<QComboBox*>("toneScale");
        scale->setCurrentIndex(1);
        QCOMPARE(strip.scale(), AxisScale::dioptre);
        QSignalSpy evidence(&strip, &DepthStrip::evidenceToggled);
        strip.setEvidence(true);
        QVERIFY(strip.showsEvidence() && evidence.count() == 1);
        strip.setEvidenceAvailable(false);
        QVERIFY(!strip.findChild<QToolButton*>("evidence")->isEnabled());
    }

    void findingsUnfoldAndStayUnfolded()
    {
        FindingsList list;
        list.show();
        list.setFindings({});
        QVERIFY(list.matters().isEmpty() && list.findChild<QLabel*>("noFindings"));
        const std::vector<passes::Finding> findings{
            {"a", passes::Finding::Weight::trouble, "Something is wrong", "It shows.", "Mend it."},
            {"b", passes::Finding::Weight::note, "Something to know", "It is so.", "Keep it."}};
        list.setFindings(findings);
        QCOMPARE(list.matters(), (QStringList{"Something is wrong", "Something to know"}));
        auto words = list.findChildren<QLabel*>("findingWords");
        QCOMPARE(words.size(), 2);
        QVERIFY(!words[0]->isHidden() && words[1]->isHidden()); // troubles are unfolded
        QTest::mouseClick(list.findChild<QToolButton*>("finding-b"), Qt::LeftButton);
        QVERIFY(!words[1]->isHidden() && words[1]->text().contains("Keep it."));
        list.setFindings(findings);
        QVERIFY(!list.findChildren<QLabel*>("findingWords")[1]->isHidden());
    }

    void messagesMayBringTheirRemedy()
    {
        QWidget picture;
        MessageBar bar(&picture);
        int done = 0;
        bar.show(MessageBar::Kind::trouble, "Near and far seem exchanged.", "Reverse", [&] { ++done; });
        auto* action = bar.findChild<QToolButton*>("messageAction");
        QVERIFY(!action->isHidden());
        QTest::mouseClick(action, Qt::LeftButton);
        QCOMPARE(done, 1);
        QVERIFY(bar.isHidden());
        bar.show(MessageBar::Kind::notice, "Frames came.");
        QVERIFY(action->isHidden());
    }

    void distancesAreWrittenAndReadInTheProjectsUnit()
    {
        project::Project project;
        project.unit = optics::Unit::foot;
        project.metresPerUnit = 0.01; // a scene in centimetres
        const NumberFormat format = distanceFormat(project, 1.0, 100.0);
        QCOMPARE(format.toText(304.8), QStringLiteral("10.00 ft"));
        QVERIFY(std::abs(*format.fromText("2m") - 200.0) < 1e-9);
        QVERIFY(!format.fromText("-2m") && !format.fromText("far"));
        const NumberFormat scale = scaleFormat();
        QCOMPARE(*scale.fromText("1mm"), 0.001);
        QCOMPARE(*scale.fromText("1 unit = 2.5 cm"), 0.025);
        QCOMPARE(*scale.fromText("1 unit = 0.01 m"), 0.01);
        QCOMPARE(*scale.fromText("0,3"), 0.3);
        QVERIFY(!scale.fromText("0 mm") && !scale.fromText("inf") && !scale.fromText("1 kg"));
        const NumberFormat plain = plainFormat("f/", {}, 0.1, 100.0, 2.8, 4);
        QCOMPARE(*plain.fromText("f/2,8"), 2.8);
        QCOMPARE(plain.toText(4.0), QStringLiteral("f/4"));
    }
};

QTEST_MAIN(TestDepthView)
#include "test_depth_view.moc"
