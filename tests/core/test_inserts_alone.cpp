// A project without passes: pictures hung before a camera in an empty frame.
#include "core/delivery/deliver.h"
#include "core/delivery/project_check.h"
#include "core/delivery/target_check.h"
#include "core/frame/lay_in.h"
#include "core/frame/render_frame.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <QFile>
#include <QTest>
#include <cmath>
#include <fmt/format.h>

using namespace retinex;

class TestInsertsAlone : public QObject
{
    Q_OBJECT

    static constexpr int kWidth = 96;
    static constexpr int kHeight = 64;
    QTemporaryDir m_dir;
    std::string path(const char* name) const { return m_dir.filePath(QLatin1String(name)).toStdString(); }

    /// Upright stripes of two pixels, opaque.
    void writeStripes(const char* name, float level) const
    {
        const auto light = [level](int x, int) { return x / 2 % 2 == 0 ? level : 0.1F * level; };
        test::writeChannels(
            path(name), kWidth, kHeight,
            {{"R", false, light}, {"G", false, light}, {"B", false, light}, {"A", false, [](int, int) {
                                                                                 return 1.0F;
                                                                             }}});
    }
    project::Project hung(int last = 1) const
    {
        passes::PassOptions empty;
        empty.emptyWidth = kWidth;
        empty.emptyHeight = kHeight;
        empty.stillLast = last;
        project::Project project =
            project::projectOfPictures({path("a.exr"), path("b.exr"), path("c.exr")}, empty);
        project.metresPerUnit = 1.0;
        project.base().focalLengthMm = 200.0;
        project.base().fStop = 2.0;
        // Side by side, so that each is seen.
        for (inserts::Insert& insert : project.base().inserts) {
            insert.widthPx = 30.0;
            insert.moveX = insert.name == "a" ? 16.0 : insert.name == "b" ? 48.0 : 80.0;
        }
        return project;
    }
    static RgbaImage rendered(const project::Project& project, int frame = 1)
    {
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        return frame::renderFrame(source, {std::make_shared<project::Project>(project), frame, 1, {}}).image;
    }
    /// How much a picture changes from pixel to pixel around a place.
    static double detail(const RgbaImage& image, int left, int right)
    {
        double sum = 0.0;
        for (int x = left; x < right; ++x)
            sum += std::abs(static_cast<double>(image.plane(1).at(x + 1, 32)) -
                            static_cast<double>(image.plane(1).at(x, 32)));
        return sum;
    }

private slots:
    void initTestCase()
    {
        writeStripes("a.exr", 0.8F);
        writeStripes("b.exr", 0.8F);
        writeStripes("c.exr", 0.8F);
    }

    void theyHangOneBehindTheOther()
    {
        const project::Project project = hung();
        QCOMPARE(project.base().focusDistance, 2.0);
        QCOMPARE(project.base().inserts.size(), std::size_t(3));
        QCOMPARE(project.base().inserts[0].name, std::string("c")); // drawn first
        QCOMPARE(project.base().inserts[0].distance, 8.0);
        QCOMPARE(project.base().inserts[2].name, std::string("a"));
        QCOMPARE(project.base().inserts[2].distance, 2.0);
        const passes::PassSource source({}, {}, project.passOptions);
        QCOMPARE(source.width(), kWidth);
        QCOMPARE(source.height(), kHeight);
        const auto distances = frame::frameDistance(source, project, 1);
        QCOMPARE(distances.distance.at(16, 32), 2.0F);
        QCOMPARE(distances.distance.at(48, 32), 4.0F);
        QCOMPARE(distances.distance.at(80, 32), 8.0F);
        QVERIFY(distances.gaps.at(16, 32) == 0);
        QVERIFY(distances.gaps.at(48, 2) != 0); // nothing hangs there
    }

    void focusIsPulledBetweenThem()
    {
        project::Project project = hung(24);
        timeline::setMark(project.shots[0].tracks[project::setting::focusDistance], {1, 2.0});
        timeline::setMark(project.shots[0].tracks[project::setting::focusDistance], {24, 8.0});
        const RgbaImage first = rendered(project, 1);
        const RgbaImage last = rendered(project, 24);
        QVERIFY2(detail(first, 6, 26) > 4.0 * detail(first, 70, 90),
                 qPrintable(QStringLiteral("%1 %2").arg(detail(first, 6, 26)).arg(detail(first, 70, 90))));
        QVERIFY(detail(last, 70, 90) > 4.0 * detail(last, 6, 26));
        QVERIFY(detail(first, 6, 26) > 1.2 * detail(last, 6, 26));
    }

    // Where nothing hangs it is open, and light ends where alpha does.
    void alphaIsThatOfThePictures()
    {
        const RgbaImage image = rendered(hung());
        QCOMPARE(image.plane(3).at(48, 1), 0.0F);
        QVERIFY(std::abs(image.plane(3).at(16, 32) - 1.0F) < 1e-5F);
        for (std::size_t i = 0; i < image.plane(3).size(); ++i) {
            QVERIFY(image.plane(3).pixels()[i] <= 1.0F + 1e-5F);
            QVERIFY(image.plane(0).pixels()[i] <= 0.8F * image.plane(3).pixels()[i] + 1e-4F);
        }
    }

    // The same picture as a colour pass at the same distance gives the same.
    void onePictureOverAllIsThatPicture()
    {
        project::Project project = hung();
        project.base().inserts.erase(project.base().inserts.begin(), project.base().inserts.begin() + 2);
        inserts::Insert& insert = project.base().inserts.front();
        insert.placing = inserts::Placing::upright;
        insert.widthPx = kWidth;
        insert.moveX = 0.5 * kWidth;
        insert.moveY = 0.5 * kHeight;
        project.base().focusDistance = 3.0;
        project.base().fStop = 8.0;
        const RgbaImage alone = rendered(project);
        project::Project asPass = project;
        asPass.base().inserts.clear();
        asPass.colour.file = path("a.exr");
        asPass.base().reading.gaps.place = depth::GapRules::Place::distance;
        asPass.base().reading.gaps.distance = 2.0;
        const RgbaImage pass = rendered(asPass);
        for (int c = 0; c < 4; ++c)
            for (std::size_t i = 0; i < alone.plane(c).size(); ++i)
                QCOMPARE(alone.plane(c).pixels()[i], pass.plane(c).pixels()[i]);
    }

    void itIsSavedAndRenderedFromItsFile()
    {
        const project::Project project = hung(3);
        const auto file = path("hung.retinex");
        project::saveProject(file, project);
        const project::Project read = project::loadProject(file);
        QVERIFY(read.passOptions == project.passOptions);
        QVERIFY(read.base() == project.base());
        QCOMPARE(read.lastFrame, 3);
        const auto check = delivery::checkProject(read, path("out/hung.####.exr"));
        QVERIFY2(check.stops.empty(), check.stops.empty() ? "" : check.stops.front().c_str());
        const passes::PassSource source(read.colour, read.depth, read.passOptions);
        const auto report =
            delivery::deliver(source, delivery::usualJob(source, std::make_shared<project::Project>(read),
                                                         {1, 2, 3}, path("out/hung.####.exr")));
        QCOMPARE(report.written, (std::vector<int>{1, 2, 3}));
        const passes::PassSource back({path("out/hung.####.exr"), {}}, {}, [] {
            passes::PassOptions options;
            options.handMadeDepth = true;
            return options;
        }());
        QCOMPARE(back.width(), kWidth);
        QCOMPARE(back.lastFrame(), 3);
    }

    void anInsertIsNotWrittenOver()
    {
        const project::Project project = hung();
        const passes::PassSource source({}, {}, project.passOptions);
        const QByteArray before = test::bytesOf(m_dir.filePath("b.exr"));
        const auto job = delivery::usualJob(source, std::make_shared<project::Project>(project), {1},
                                            path("b.exr"), delivery::Existing::overwrite);
        try {
            (void)delivery::deliver(source, job);
            QFAIL("writes over an insert");
        } catch (const Error& error) {
            QVERIFY2(QString::fromUtf8(error.what()).contains("b.exr"), error.what());
        }
        QCOMPARE(test::bytesOf(m_dir.filePath("b.exr")), before);
    }

    void withoutASizeNothingIsSilentlyMade()
    {
        const auto file = path("bare.retinex");
        project::saveProject(file, hung());
        QByteArray text = test::bytesOf(QString::fromStdString(file));
        QVERIFY(text.contains("\"height\": 64"));
        text.replace("\"height\": 64", "\"height\": 0");
        QFile out(QString::fromStdString(file));
        QVERIFY(out.open(QIODevice::WriteOnly));
        out.write(text);
        out.close();
        std::vector<std::string> putRight;
        (void)project::loadProject(file, &putRight);
        QVERIFY(putRight.size() == 1 && putRight.front().find("height") != std::string::npos);
        QVERIFY_EXCEPTION_THROWN(passes::PassSource({}, {}, {}), Error);
    }

    // Passes that are chosen later take the empty frame's place.
    void aColourPassWins()
    {
        passes::PassOptions options = hung().passOptions;
        const passes::PassSource source({path("a.exr"), {}}, {}, options);
        QVERIFY(!source.options().isEmptyFrame());
        QVERIFY(source.loadRaw(1)->colour().plane(0).at(0, 0) > 0.5F);
    }
};

QTEST_GUILESS_MAIN(TestInsertsAlone)
#include "test_inserts_alone.moc"
