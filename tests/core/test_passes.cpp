#include "core/frame/kept_frames.h"
#include "core/passes/frames/reduction.h"
#include "core/passes/pass_source.h"
#include "core/system/error.h"
#include "support/as_written.h"
#include "support/message_of.h"
#include "support/test_files.h"

#include <ImfHeader.h>
#include <QDir>
#include <QFile>
#include <QTest>
#include <cmath>

using namespace retinex;
using namespace retinex::passes;
using retinex::test::runProgram;

class TestPasses : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const char* name) const { return m_dir.filePath(QLatin1String(name)).toStdString(); }

private slots:
    void sequenceIsFoundFromAnyFrameAndFromPatterns()
    {
        for (const int frame : {7, 8, 9, 11})
            test::writeScene(m_dir.filePath(QStringLiteral("shot.%1.exr").arg(frame, 4, 10, QLatin1Char('0')))
                                 .toStdString(),
                             8, 8);
        for (const char* name : {"shot.0008.exr", "shot.####.exr", "shot.%04d.exr"}) {
            const Sequence found = Sequence::find(path(name));
            QCOMPARE(found.frames(), (std::vector<int>{7, 8, 9, 11}));
            QCOMPARE(found.missing(), std::vector<int>{10});
            QCOMPARE(QString::fromStdString(found.file(9).filename().string()),
                     QStringLiteral("shot.0009.exr"));
        }
        const auto message =
            test::messageOf([&] { (void)Sequence::find(path("shot.####.exr")).requireFile(10); });
        QVERIFY(message.find("shot.0010.exr") != std::string::npos &&
                message.find("7-9, 11") != std::string::npos);
    }

    // printf pads -12 to "-012" with %04d; others write "-0012". A dash elsewhere is no sign.
    void negativeNumbersAreFrames()
    {
        QDir().mkpath(m_dir.filePath("neg"));
        for (const char* name :
             {"neg/n.-0002.exr", "neg/n.-0001.exr", "neg/n.0000.exr", "neg/n.0001.exr", "neg/p.-012.exr",
              "neg/p.-011.exr", "neg/p.0003.exr", "neg/dash-0005.exr", "neg/dash-0006.exr"})
            test::writeScene(path(name), 8, 8);
        for (const char* name : {"neg/n.-0001.exr", "neg/n.0001.exr", "neg/n.####.exr"})
            QCOMPARE(Sequence::find(path(name)).frames(), (std::vector<int>{-2, -1, 0, 1}));
        for (const char* name : {"neg/p.-012.exr", "neg/p.0003.exr", "neg/p.%04d.exr"})
            QCOMPARE(Sequence::find(path(name)).frames(), (std::vector<int>{-12, -11, 3}));
        QVERIFY(std::filesystem::exists(Sequence::find(path("neg/p.####.exr")).requireFile(-12)));
        QCOMPARE(Sequence::find(path("neg/dash-0005.exr")).frames(), (std::vector<int>{5, 6}));
        const PassSource source({path("neg/n.####.exr"), {}}, {});
        QCOMPARE(source.firstFrame(), -2);
        QCOMPARE(source.load(-2)->distance().width(), 8);
    }

    void differentRangesShareWhatBothHave()
    {
        QDir().mkpath(m_dir.filePath("ranges"));
        for (const int frame : {1, 2, 3, 4, 5})
            test::writeScene(path(("ranges/c." + std::to_string(frame) + ".exr").c_str()), 8, 8);
        for (const int frame : {3, 4, 5, 6, 7})
            test::writeScene(path(("ranges/z." + std::to_string(frame) + ".exr").c_str()), 8, 8);
        const PassSource source({path("ranges/c.1.exr"), {}}, {path("ranges/z.#.exr"), {}});
        QCOMPARE(source.firstFrame(), 3);
        QCOMPARE(source.lastFrame(), 5);
    }

    void loneNumberedFileIsAStill()
    {
        test::writeScene(path("still_v2.exr"), 8, 8);
        QVERIFY(Sequence::find(path("still_v2.exr")).isStill());
        QCOMPARE(describeFrames({1, 2, 3, 7, 9, 10}), std::string("1-3, 7, 9-10"));
    }

    // Files made by the tools of OpenImageIO (package openimageio-tools).
    void filesOfOiiotoolReadRight()
    {
        const QString folder = m_dir.path();
        const QStringList gradient{
            "--pattern", "fill:top=.1,.2,.5,1:bottom=.9,.6,.1,1", "96x54", "4", "--chnames", "R,G,B,A"};
        const QStringList depth{"--pattern", "fill:top=1:bottom=100", "96x54", "1", "--chnames", "depth.Z",
                                "--chappend"};
        const QStringList types{"-d", "half", "-d", "depth.Z=float"};
        QCOMPARE(runProgram("oiiotool",
                            gradient + depth + types + QStringList{"--compression", "zip", "-o", "ml.exr"},
                            folder)
                     .exitCode,
                 0);
        QCOMPARE(runProgram("oiiotool",
                            QStringList{"ml.exr", "--tile", "16", "16", "--compression", "piz"} + types +
                                QStringList{"-o", "tiled.exr"},
                            folder)
                     .exitCode,
                 0);
        QCOMPARE(runProgram("oiiotool",
                            QStringList{"ml.exr", "--ch", "R,G,B,A", "--attrib", "oiio:subimagename",
                                        "beauty", "ml.exr", "--ch", "depth.Z", "--attrib",
                                        "oiio:subimagename", "depth", "--siappend"} +
                                types + QStringList{"-o", "parts.exr"},
                            folder)
                     .exitCode,
                 0);
        for (const char* name : {"ml.exr", "tiled.exr", "parts.exr"}) {
            // oiiotool says no primaries: the numbers are looked at as they are.
            const PassSource source({path(name), {}}, {}, test::asWritten());
            QCOMPARE(QString::fromStdString(source.depthChannel().channel), QStringLiteral("depth.Z"));
            const auto passes = source.load(1);
            QCOMPARE(passes->colour().width(), 96);
            // fill:top=1:bottom=100 runs linearly from the first row to the last.
            QVERIFY2(std::abs(passes->distance().at(5, 0) - 1.0F) < 1e-4F &&
                         std::abs(passes->distance().at(90, 53) - 100.0F) < 1e-3F,
                     name);
            QVERIFY2(std::abs(passes->colour().plane(2).at(40, 0) - 0.5F) < 1e-3F &&
                         std::abs(passes->colour().plane(0).at(40, 53) - 0.9F) < 1e-3F,
                     name);
        }
        QCOMPARE(
            runProgram("oiiotool", {"ml.exr", "--ch", "R,G,B,A,Z=5", "--deepen", "-o", "deep.exr"}, folder)
                .exitCode,
            0);
        const auto deep = PassSource({path("deep.exr"), {}}, {}, test::asWritten()).load(1);
        QCOMPARE(deep->distance().at(20, 20), 5.0F);
        QVERIFY(std::abs(deep->colour().plane(2).at(40, 0) - 0.5F) < 1e-3F);
    }

    // A data window larger and one smaller than the display window, by oiiotool.
    void dataWindowsAreFittedToTheDisplayWindow()
    {
        const QString folder = m_dir.path();
        QCOMPARE(runProgram("oiiotool",
                            {"--pattern", "fill:top=1:bottom=101", "40x101-10-20", "1", "--chnames", "Z",
                             "--fullsize", "20x60+0+0", "-d", "float", "-o", "over.exr"},
                            folder)
                     .exitCode,
                 0);
        const auto over = readExrChannels(path("over.exr"), 0, {"Z"}).planes[0];
        QCOMPARE(over.width(), 20);
        QCOMPARE(over.height(), 60);
        QVERIFY(std::abs(over.at(0, 0) - 21.0F) < 1e-3F); // 20 rows were above
        QCOMPARE(runProgram("oiiotool",
                            {"--pattern", "constant:color=7", "10x10+5+5", "1", "--chnames", "Z",
                             "--fullsize", "20x20+0+0", "-d", "float", "-o", "under.exr"},
                            folder)
                     .exitCode,
                 0);
        const auto under =
            readExrChannels(path("under.exr"), 0, {"Z"}, {-1.0F, Extent::displayWindow}).planes[0];
        QCOMPARE(under.at(0, 0), -1.0F);
        QCOMPARE(under.at(5, 5), 7.0F);
        QCOMPARE(under.at(15, 15), -1.0F);
    }

    void colourAndDepthFromTwoFiles()
    {
        test::writeChannels(path("beauty.exr"), 16, 12,
                            {{"R", true, [](int, int) { return 0.5F; }},
                             {"G", true, [](int, int) { return 0.25F; }},
                             {"B", true, [](int, int) { return 0.1F; }}});
        test::writeChannels(path("dist.exr"), 16, 12,
                            {{"V", false, [](int x, int) { return 1.0F + static_cast<float>(x); }}});
        const PassSource source({path("beauty.exr"), {}}, {path("dist.exr"), {}});
        const auto passes = source.load(1);
        QCOMPARE(passes->distance().at(3, 3), 4.0F);
        QCOMPARE(passes->colour().plane(3).at(0, 0), 1.0F); // no alpha: opaque
    }

    void gapsAndBadColourAreCountedAndDoNotSpread()
    {
        const float nan = std::nanf("");
        const float inf = std::numeric_limits<float>::infinity();
        test::writeChannels(path("bad.exr"), 4, 1,
                            {{"R", false, [=](int x, int) { return x == 1   ? nan
                                                                   : x == 2 ? inf
                                                                            : 0.5F; }},
                             {"G", false, [](int, int) { return 0.5F; }},
                             {"B", false, [](int, int) { return 0.5F; }},
                             {"Z", false, [=](int x, int) {
                                  return x == 0 ? 0.0F : x == 1 ? inf : x == 2 ? nan : 3.0F;
                              }}});
        const auto passes = PassSource({path("bad.exr"), {}}, {}).load(1);
        QCOMPARE(passes->raw->badColourCount, std::size_t(2));
        QCOMPARE(passes->range.gapCount, std::size_t(3));
        QCOMPARE(passes->range.nearest, 3.0);
        QCOMPARE(passes->colour().plane(0).at(1, 0), 0.5F); // of those around it
        QCOMPARE(passes->colour().plane(3).at(1, 0), 1.0F); // no hole
        QVERIFY(std::isinf(passes->distance().at(0, 0)) && std::isinf(passes->distance().at(2, 0)));
    }

    // The one channel of a layer that speaks of depth is that, whatever its name.
    void aLayerNamedDepthIsADepthPass()
    {
        const auto grey = [](int, int) { return 0.5F; };
        test::writeChannels(
            path("layer.exr"), 8, 8,
            {{"R", true, grey}, {"G", true, grey}, {"B", true, grey}, {"depth.metres", false, [](int, int) {
                                                                           return 3.0F;
                                                                       }}});
        const PassSource source({path("layer.exr"), {}}, {});
        QCOMPARE(source.depthChannel().parts, std::vector<std::string>{"depth.metres"});
        QCOMPARE(source.load(1)->distance().at(4, 4), 3.0F);
    }

    // A black frame lies where the others do.
    void blackFramesKeepTheWindow()
    {
        QDir().mkpath(QString::fromStdString(path("black")));
        for (const int frame : {1, 3})
            test::writeScene(path(("black/b." + std::to_string(frame) + ".exr").c_str()));
        PassOptions options;
        options.missing = MissingFrames::black;
        const PassSource source({path("black/b.#.exr"), {}}, {}, options);
        const auto black = source.loadRaw(2);
        QVERIFY(black->header);
        QVERIFY(black->header->displayWindow() == source.loadRaw(1)->header->displayWindow());
    }

    void everyBadFileIsNamedWithTheMatterAndAWayOut_data()
    {
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("matter");
        test::writeScene(path("good.exr"));
        const QByteArray whole = test::bytesOf(m_dir.filePath("good.exr"));
        const auto put = [&](const char* name, const QByteArray& bytes) {
            QFile file(m_dir.filePath(QLatin1String(name)));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(bytes);
        };
        put("cut.exr", whole.left(whole.size() * 2 / 3));
        put("head.exr", whole.left(60));
        put("text.exr", "this is no picture");
        test::writeChannels(path("nodepth.exr"), 8, 8,
                            {{"R", true, [](int, int) { return 1.F; }},
                             {"G", true, [](int, int) { return 1.F; }},
                             {"B", true, [](int, int) { return 1.F; }}});
        test::writeChannels(path("nocolour.exr"), 8, 8, {{"Z", false, [](int, int) { return 1.F; }}});
        QTest::newRow("missing") << "absent.exr"
                                 << "there is no such file";
        QTest::newRow("truncated") << "cut.exr"
                                   << "rows are missing";
        QTest::newRow("cut in the header") << "head.exr"
                                           << "damaged or cut short";
        QTest::newRow("not an EXR") << "text.exr"
                                    << "damaged or cut short";
        QTest::newRow("without depth") << "nodepth.exr"
                                       << "no depth pass found";
        QTest::newRow("without colour") << "nocolour.exr"
                                        << "no layer with red, green and blue";
        QTest::newRow("folder") << "."
                                << "this is a folder";
    }
    void everyBadFileIsNamedWithTheMatterAndAWayOut()
    {
        QFETCH(QString, file);
        QFETCH(QString, matter);
        const std::string name = m_dir.filePath(file).toStdString();
        const QString message = QString::fromStdString(test::messageOf([&] {
            (void)PassSource({name, {}}, {}).load(1);
        }));
        QVERIFY2(message.contains(file) && message.contains(matter), qPrintable(message));
    }

    void depthOfAnotherSizeIsScaledOrCentredAndNeverBlended()
    {
        test::writeScene(path("small.exr"), 16, 12);
        test::writeScene(path("large.exr"), 32, 24);
        const PassSource scaled({path("large.exr"), {}}, {path("small.exr"), {}});
        const QString notice = QString::fromStdString(scaled.sizeNotice());
        QVERIFY2(notice.contains("16 x 12") && notice.contains("32 x 24"), qPrintable(notice));
        const auto small = PassSource({path("small.exr"), {}}, {}).load(1);
        const auto passes = scaled.load(1);
        QCOMPARE(passes->distance().width(), 32);
        for (int y = 0; y < 24; ++y)
            for (int x = 0; x < 32; ++x) // each value stands for 2 x 2 px
                QCOMPARE(passes->stored().at(x, y), small->stored().at(x / 2, y / 2));
        PassOptions options;
        options.sizeFit = SizeFit::centre;
        const auto centred = PassSource({path("large.exr"), {}}, {path("small.exr"), {}}, options).load(1);
        QCOMPARE(centred->stored().at(8 + 7, 6 + 6), small->stored().at(7, 6));
        QVERIFY(std::isnan(centred->stored().at(0, 0)) && centred->gaps().at(0, 0) == 1);
        QCOMPARE(PassSource({path("large.exr"), {}}, {}).sizeNotice(), std::string());
    }

    // A header that claims a giant picture is refused before memory is taken for it.
    void lyingSizesAreRefused()
    {
        QByteArray bytes = test::bytesOf(m_dir.filePath("good.exr"));
        const QByteArray key = QByteArray("dataWindow\0box2i\0", 17);
        const auto at = bytes.indexOf(key) + key.size() + 4;
        const auto maxX = at + 8;
        bytes.replace(maxX, 8, QByteArray("\xff\xff\xff\x3f\xff\xff\xff\x3f", 8));
        QFile file(m_dir.filePath("lie.exr"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(bytes);
        file.close();
        QVERIFY(!test::messageOf([&] { (void)PassSource({path("lie.exr"), {}}, {}).load(1); }).empty());
    }

    void reducedPicturesAverageColourButPickDepth()
    {
        test::writeScene(path("reduce.exr"), 60, 40);
        const auto full = PassSource({path("reduce.exr"), {}}, {}).load(1);
        const auto small = reduced(*full, 4);
        QCOMPARE(small->distance().width(), 15);
        for (const float d : small->distance().pixels())
            QVERIFY(d == 2.0F || d == 6.0F || std::isinf(d)); // no blend of two surfaces
    }

    // Of a large picture by way of a smaller one: the same, but for what the far edges round.
    void largePicturesAreReducedInTwoSteps()
    {
        QCOMPARE(reductionStep(1920, 1080), 1);
        QCOMPARE(reductionStep(3840, 2160), 2);
        QCOMPARE(reductionStep(7680, 4320), 4);
        test::writeScene(path("large.exr"), 2040, 1200);
        const PassSource source({path("large.exr"), {}}, {});
        const auto full = source.load(1);
        for (const int divisor : {6, 2, 8, 10, 12, 6}) {
            const auto small = frame::KeptFrames::of(source).reduced(source.load(1), divisor);
            const auto direct = reduced(*full, divisor);
            QCOMPARE(small->distance().width(), direct->distance().width());
            QCOMPARE(small->distance().height(), direct->distance().height());
            const auto& a = small->colour().plane(1);
            const auto& b = direct->colour().plane(1);
            for (int y = 0; y + 1 < a.height(); ++y)
                for (int x = 0; x + 1 < a.width(); ++x)
                    QVERIFY(std::abs(a.at(x, y) - b.at(x, y)) < 1e-5F);
            for (const float d : small->distance().pixels())
                QVERIFY(d == 2.0F || d == 6.0F || std::isinf(d));
        }
        QCOMPARE(frame::KeptFrames::of(source).reduced(source.load(1), 6),
                 frame::KeptFrames::of(source).reduced(source.load(1), 6)); // kept
    }
};

QTEST_GUILESS_MAIN(TestPasses)
#include "test_passes.moc"
