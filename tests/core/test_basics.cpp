#include "bench/measure.h"
#include "core/depth/depth_reading.h"
#include "core/depth/histogram.h"
#include "core/image/image.h"
#include "core/passes/layers.h"
#include "core/system/atomic_file.h"
#include "core/system/error.h"
#include "core/system/run.h"
#include "support/test_files.h"

#include <QDir>
#include <QTest>
#include <atomic>
#include <cmath>

using namespace retinex;

class TestBasics : public QObject
{
    Q_OBJECT

    static passes::FileInfo
    fileWith(const std::vector<std::pair<std::string, std::vector<std::string>>>& parts)
    {
        passes::FileInfo info;
        info.file = "render.exr";
        for (const auto& [name, channels] : parts) {
            passes::PartInfo part;
            part.name = name;
            for (const std::string& channel : channels)
                part.channels.push_back({channel, passes::SampleType::half, {}});
            info.parts.push_back(part);
        }
        return info;
    }

private slots:
    /// Planes of all kinds of size start out as zeros, also where memory was used and given back before. The
    /// sizes lie around those from which on it comes from elsewhere (1 MB, and 4 MB in pages of 2 MB).
    void newPlanesAreZero_data()
    {
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("height");
        QTest::newRow("tiny") << 3 << 2;
        QTest::newRow("below 1 MB") << 511 << 512;
        QTest::newRow("1 MB") << 512 << 512;
        QTest::newRow("below 4 MB") << 1023 << 1024;
        QTest::newRow("4 MB") << 1024 << 1024;
        QTest::newRow("just beyond, not worth a page more") << 1025 << 1024;
        QTest::newRow("HD, nearly whole pages") << 1920 << 1080;
    }
    void newPlanesAreZero()
    {
        QFETCH(int, width);
        QFETCH(int, height);
        for (int turn = 0; turn < 3; ++turn) {
            Plane<float> plane(width, height);
            for (float& v : plane.pixels()) {
                if (v != 0.0F) QFAIL("a new plane is not zero");
                v = 1.0F;
            }
            QCOMPARE(plane.at(width - 1, height - 1), 1.0F);
        }
    }

    void everyIndexIsVisitedOnceOnAnyNumberOfThreads()
    {
        for (const int threads : {0, 1, 3}) {
            std::vector<std::atomic<int>> visits(1000);
            std::vector<double> shares;
            parallelFor(
                1000, {threads, [&](double share) { shares.push_back(share); }, {}},
                [&](int i) { ++visits[static_cast<std::size_t>(i)]; }, 0.25, 0.75);
            for (const auto& count : visits)
                QCOMPARE(count.load(), 1);
            QCOMPARE(shares.size(), std::size_t(1000));
            QVERIFY(std::is_sorted(shares.begin(), shares.end()));
            QVERIFY(shares.front() > 0.25 && std::abs(shares.back() - 0.75) < 1e-12);
        }
        parallelFor(0, {}, [](int) { QFAIL("nothing to do"); });
    }

    void whatABodyThrowsComesThrough()
    {
        QVERIFY_EXCEPTION_THROWN(parallelFor(50, {2, {}, {}},
                                             [](int i) {
                                                 if (i == 33) throw Error("x");
                                             }),
                                 Error);
        std::stop_source stop;
        stop.request_stop();
        QVERIFY_EXCEPTION_THROWN(parallelFor(50, {2, {}, stop.get_token()}, [](int) {}), Cancelled);
    }

    void filesAreReplacedWhole()
    {
        const QTemporaryDir dir;
        const std::string file = dir.filePath("a.txt").toStdString();
        writeFileAtomically(file, "first");
        writeFileAtomically(file, std::string(3'000'000, 'b'));
        QCOMPARE(test::bytesOf(dir.filePath("a.txt")).size(), 3'000'000);
        QCOMPARE(QDir(dir.path()).entryList(QDir::Files | QDir::Hidden), QStringList{"a.txt"});
        QVERIFY_EXCEPTION_THROWN(writeFileAtomically(dir.filePath("no/a.txt").toStdString(), "x"), Error);
    }

    void gapsAreZeroNegativeInfiniteAndNan()
    {
        const float inf = std::numeric_limits<float>::infinity();
        const std::vector<float> numbers{0.0F, -0.0F, -3.0F, inf, -inf, std::nanf(""), 1e-6F, 1.0F, 1e12F};
        Plane<float> stored(static_cast<int>(numbers.size()), 1);
        std::copy(numbers.begin(), numbers.end(), stored.row(0));
        const auto result = depth::toDistance(stored);
        for (int i = 0; i < stored.width(); ++i)
            QCOMPARE(result.gaps.at(i, 0), std::uint8_t(i < 6 ? 1 : 0));
        QCOMPARE(result.gapCount, std::size_t(6));
    }

    void histogramCountsEachDistanceInItsStep()
    {
        // Four octaves from 1 to 16 in four bins: one bin an octave.
        Plane<float> distance(8, 1);
        const float values[8] = {1.2F,  1.9F, 2.1F,  5.0F,
                                 15.0F, 0.2F, 99.0F, std::numeric_limits<float>::infinity()};
        std::copy(std::begin(values), std::end(values), distance.row(0));
        QCOMPARE(depth::logHistogram(distance, 1.0, 16.0, 4), (std::vector<float>{3.0F, 1.0F, 1.0F, 2.0F}));
        const auto range = depth::depthRange(distance);
        QCOMPARE(range.gapCount, std::size_t(1));
        QVERIFY(std::abs(range.nearest - 0.2) < 1e-6 && std::abs(range.farthest - 99.0) < 1e-6);
        QVERIFY(!depth::depthRange(Plane<float>(3, 3, std::numeric_limits<float>::infinity())).hasSurface());
    }

    // Channel names as renderers write them (common practice: layers by dots, Z or depth in some spelling).
    void depthChannelsAreFoundByTheirUsualNames_data()
    {
        QTest::addColumn<QString>("channels");
        QTest::addColumn<QString>("expected");
        QTest::newRow("plain") << "A,B,G,R,Z"
                               << "Z";
        QTest::newRow("layer") << "A,B,G,R,depth.Z"
                               << "depth.Z";
        QTest::newRow("layer before plain") << "B,G,R,Z,depth.Z"
                                            << "depth.Z";
        QTest::newRow("as red of a depth layer") << "B,G,R,Depth.R,Depth.G,Depth.B"
                                                 << "Depth.R";
        QTest::newRow("one word") << "B,G,R,zDepth"
                                  << "zDepth";
        QTest::newRow("nested") << "B,G,R,ViewLayer.Depth.Z,ViewLayer.Combined.R"
                                << "ViewLayer.Depth.Z";
    }
    void depthChannelsAreFoundByTheirUsualNames()
    {
        QFETCH(QString, channels);
        QFETCH(QString, expected);
        std::vector<std::string> names;
        for (const QString& name : channels.split(','))
            names.push_back(name.toStdString());
        QCOMPARE(QString::fromStdString(passes::chooseDepth(fileWith({{"", names}}), {}).channel), expected);
    }

    void layersAndPartsAreChosenByName()
    {
        const auto info = fileWith({{"beauty", {"A", "B", "G", "R"}},
                                    {"extra", {"B", "G", "R", "spec.B", "spec.G", "spec.R"}},
                                    {"dist", {"V"}}});
        QCOMPARE(passes::colourLayers(info).size(), std::size_t(3));
        QCOMPARE(passes::chooseColour(info, "extra").part, 1);
        QCOMPARE(QString::fromStdString(passes::chooseColour(info, "spec").red), QStringLiteral("spec.R"));
        QVERIFY(passes::chooseColour(info, "beauty").alpha.has_value() &&
                !passes::chooseColour(info, "spec").alpha);
        QCOMPARE(passes::chooseDepth(info, "dist").part, 2); // a layer with one channel
        QVERIFY_EXCEPTION_THROWN((void)passes::chooseColour(info, "fog"), Error);
        QVERIFY_EXCEPTION_THROWN((void)passes::chooseDepth(info, "fog"), Error);
        QVERIFY_EXCEPTION_THROWN((void)passes::chooseDepth(info, {}), Error); // V says nothing
        QCOMPARE(QString::fromStdString(passes::chooseDepth(fileWith({{"", {"V"}}}), {}).channel),
                 QStringLiteral("V"));
    }

    // The measures by hand: equal pictures, and a constant difference of 0.1 after toning (PSNR = 20 dB).
    void measuresGiveHandComputedValues()
    {
        const auto toned = [](double level) {
            const double x = std::pow(level, 2.2);
            return static_cast<float>(x / (1.0 - x));
        };
        RgbaImage a(64, 64);
        RgbaImage b(64, 64);
        for (int c = 0; c < 3; ++c) {
            std::fill(a.plane(c).pixels().begin(), a.plane(c).pixels().end(), toned(0.5));
            std::fill(b.plane(c).pixels().begin(), b.plane(c).pixels().end(), toned(0.6));
        }
        Plane<float> band(64, 64, 1.0F);
        const auto different = bench::compare(a, b, band);
        QVERIFY(std::abs(different.psnr - 20.0) < 0.01 && std::abs(different.psnrEdge - 20.0) < 0.01);
        // Flat pictures: SSIM is its luminance term, (2 * 0.5 * 0.6 + C1) / (0.25 + 0.36 + C1), C1 = 0.0001.
        QVERIFY(std::abs(different.ssim - 0.6001 / 0.6101) < 1e-3);
        const auto same = bench::compare(a, a, band);
        QVERIFY(same.psnr > 100.0 && std::abs(same.ssim - 1.0) < 1e-6);
    }

    void theEdgeBandSurroundsDepthEdges()
    {
        Plane<float> distance(60, 40, 4.0F);
        for (int y = 0; y < 40; ++y)
            for (int x = 30; x < 60; ++x)
                distance.at(x, y) = 4.1F; // 2.5 %: one surface
        QVERIFY(std::all_of(bench::edgeBand(distance).pixels().begin(),
                            bench::edgeBand(distance).pixels().end(), [](float v) { return v == 0.0F; }));
        for (int y = 0; y < 40; ++y)
            for (int x = 30; x < 60; ++x)
                distance.at(x, y) = 5.0F;
        const auto band = bench::edgeBand(distance, 12);
        QCOMPARE(band.at(29, 20), 1.0F);
        QCOMPARE(band.at(18, 20), 1.0F);
        QCOMPARE(band.at(10, 20), 0.0F);
    }
};

QTEST_GUILESS_MAIN(TestBasics)
#include "test_basics.moc"
