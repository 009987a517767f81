// Mattes tell edge repair whose light a mixed pixel holds.
#include "bench/measure.h"
#include "core/defocus/part.h"
#include "core/defocus/repair/edge_repair.h"
#include "core/defocus/repair/matte_share.h"
#include "core/defocus/repair/unmix.h"
#include "core/depth/depth_reading.h"
#include "core/image/crop.h"
#include "core/image/object_shares.h"
#include "reference/scenes.h"
#include "support/lenses.h"

#include <QTest>
#include <cmath>

using namespace retinex;
using namespace retinex::defocus;

namespace {

constexpr int kSize = 24;

/// A stalk one pixel and a half wide before a wall: every pixel of the stalk is mixed. Columns 12 and 13 hold
/// 80 % and 70 % of it, both with the stalk's depth.
struct Stalk
{
    RgbaImage colour{kSize, kSize};
    Plane<float> radius{kSize, kSize, 4.0F};
    Plane<float> matte{kSize, kSize};
    Colour stalk{0.3F, 0.5F, 0.1F, 1.0F};
    Colour wall{0.45F, 0.4F, 0.5F, 1.0F};

    Stalk()
    {
        for (int y = 0; y < kSize; ++y) {
            matte.at(12, y) = 0.8F;
            matte.at(13, y) = 0.7F;
            radius.at(12, y) = radius.at(13, y) = -9.0F;
            for (int x = 0; x < kSize; ++x) {
                Colour mixed{};
                for (std::size_t c = 0; c < mixed.size(); ++c)
                    mixed[c] = matte.at(x, y) * stalk[c] + (1.0F - matte.at(x, y)) * wall[c];
                setColour(colour, x, y, mixed);
            }
        }
    }
    [[nodiscard]] Plane<std::uint8_t> rim() const
    {
        Plane<std::uint8_t> result(kSize, kSize);
        for (int y = 0; y < kSize; ++y)
            for (int x = 11; x < 15; ++x)
                result.at(x, y) = 1;
        return result;
    }
    [[nodiscard]] ObjectShares objects() const
    {
        const ObjectCoverage coverage{matte, 1};
        return objectSharesOf({&coverage, 1});
    }
};

float farthest(const Colour& a, const Colour& b)
{
    return std::sqrt(distanceSquared(a, b));
}

/// A traced scene small enough for every run, with the mattes of its objects.
struct Traced
{
    reference::Trial trial;
    reference::Passes passes;
    Plane<float> distance;
    LensSettings settings;

    explicit Traced(const std::string& name) : trial(reference::makeTrial(name))
    {
        trial.camera.width = 384;
        trial.camera.height = 216;
        trial.lens.samples = 256;
        passes = reference::renderPasses(trial.scene, trial.camera, 64);
        distance = depth::toDistance(passes.depth).distance;
        settings = reference::engineSettings(trial.camera, trial.lens);
    }
};

} // namespace

class TestMattesAtEdges : public QObject
{
    Q_OBJECT

private slots:
    void coveragesAreBroughtTogether()
    {
        Plane<float> plain(2, 1);
        plain.at(0, 0) = 1.7F;
        plain.at(1, 0) = std::numeric_limits<float>::quiet_NaN();
        Plane<float> first(2, 1, 0.25F);
        Plane<float> second(2, 1, 0.5F);
        Plane<std::uint32_t> objects(2, 1);
        objects.at(1, 0) = 7; // the left pixel names none
        const std::vector<ObjectCoverage> coverages{{plain, 3}, {first, 0, objects}, {second, 0, objects}};
        const ObjectShares shares = objectSharesOf(coverages);
        QCOMPARE(shares.endOf(0, 0) - shares.firstOf(0, 0), std::size_t(1));
        QCOMPARE(shares.samples[shares.firstOf(0, 0)].object, 3U);
        QCOMPARE(shares.samples[shares.firstOf(0, 0)].coverage, 1.0F);
        QCOMPARE(shares.endOf(1, 0) - shares.firstOf(1, 0), std::size_t(1));
        QCOMPARE(shares.samples[shares.firstOf(1, 0)].object, 7U);
        QCOMPARE(shares.samples[shares.firstOf(1, 0)].coverage, 0.75F);
    }

    // The matte may be that of the near object, that of what is behind, or both.
    void anyMatteOfTheTwoTellsTheShare_data()
    {
        QTest::addColumn<bool>("ofStalk");
        QTest::addColumn<bool>("ofWall");
        QTest::newRow("the near object") << true << false;
        QTest::newRow("the far object") << false << true;
        QTest::newRow("both") << true << true;
    }
    void anyMatteOfTheTwoTellsTheShare()
    {
        QFETCH(bool, ofStalk);
        QFETCH(bool, ofWall);
        const Stalk scene;
        std::vector<ObjectCoverage> coverages;
        if (ofStalk) coverages.push_back({scene.matte, 1});
        Plane<float> rest(kSize, kSize, 1.0F);
        for (std::size_t i = 0; i < rest.size(); ++i)
            rest.pixels()[i] -= scene.matte.pixels()[i];
        if (ofWall) coverages.push_back({rest, 2});
        const ObjectShares objects = objectSharesOf(coverages);
        const auto shareAt = [&](int x) {
            return shareByMattes(objects, scene.radius, scene.rim(), {-9.0F, 4.0F}, x, 10);
        };
        QVERIFY(shareAt(13).has_value() && shareAt(14).has_value() && shareAt(12).has_value());
        QVERIFY(std::abs(*shareAt(13) - 0.7F) < 1e-5F);
        QVERIFY(*shareAt(14) < 1e-5F);
        QVERIFY(std::abs(*shareAt(12) - 0.8F) < 1e-5F);
    }

    void mattesOfOneObjectOnBothSidesTellNothing()
    {
        const Stalk scene;
        const ObjectCoverage all{Plane<float>(kSize, kSize, 1.0F), 1};
        const ObjectShares objects = objectSharesOf({&all, 1});
        QVERIFY(!shareByMattes(objects, scene.radius, scene.rim(), {-9.0F, 4.0F}, 13, 10));
        const auto without = unmix(scene.colour, scene.radius, scene.rim(), nullptr, 13, 10);
        const auto with = unmix(scene.colour, scene.radius, scene.rim(), &objects, 13, 10);
        QCOMPARE(with.share, without.share);
        QCOMPARE(with.far, without.far);
    }

    // Where no pixel shows the stalk alone, colours and share come out as they were put in.
    void aMixedPixelComesApartAsItWasMixed()
    {
        const Stalk scene;
        const ObjectShares objects = scene.objects();
        const Unmixed parts = unmix(scene.colour, scene.radius, scene.rim(), &objects, 13, 10);
        const Unmixed guessed = unmix(scene.colour, scene.radius, scene.rim(), nullptr, 13, 10);
        QVERIFY(parts.isKnown);
        QVERIFY2(std::abs(parts.share - 0.7F) < 0.03F, qPrintable(QString::number(parts.share)));
        QVERIFY(farthest(parts.far, scene.wall) < 0.02F);
        QVERIFY(std::abs(parts.share - 0.7F) < std::abs(guessed.share - 0.7F));
    }

    void withoutBlurThePartsAddUp()
    {
        const Stalk scene;
        const ObjectShares objects = scene.objects();
        const Surfaces parts = repairEdges(scene.colour, scene.radius, &objects, {});
        const float share = parts.visible.coverage.at(13, 10);
        const float evidence = parts.hidden.evidence.at(13, 10);
        for (int c = 0; c < 4; ++c) {
            const float sum = parts.visible.colour.plane(c).at(13, 10) +
                              (1.0F - share) * parts.hidden.colour.plane(c).at(13, 10) / evidence;
            QVERIFY(std::abs(sum - scene.colour.plane(c).at(13, 10)) < 1e-5F);
        }
    }

    void nearerToTheTracer_data()
    {
        QTest::addColumn<double>("gain"); // dB
        // Along edges, dB:
        QTest::addColumn<double>("leastWithout");
        QTest::addColumn<double>("leastWith");
        QTest::newRow("bars, focus behind") << 0.1 << 41.55 << 41.7;
        QTest::newRow("bars, focus at the wall") << 0.15 << 41.9 << 42.1;
        QTest::newRow("fence") << 0.0 << 42.6 << 42.65;
    }
    void nearerToTheTracer()
    {
        QFETCH(double, gain);
        QFETCH(double, leastWithout);
        QFETCH(double, leastWith);
        const Traced scene(QTest::currentDataTag());
        const RgbaImage truth =
            reference::renderLens(scene.trial.scene, scene.trial.camera, scene.trial.lens);
        const auto band = bench::edgeBand(scene.distance);
        const ObjectShares objects = reference::objectsOf(scene.passes);
        const auto without = bench::compare(
            defocus::defocus({scene.passes.colour, scene.distance}, scene.settings), truth, band);
        const auto with = bench::compare(
            defocus::defocus({scene.passes.colour, scene.distance, &objects}, scene.settings, {}), truth,
            band);
        qInfo("edge band: %.2f dB, with mattes %.2f dB", without.psnrEdge, with.psnrEdge);
        QVERIFY(with.psnrEdge > without.psnrEdge + gain && with.psnr > without.psnr + gain);
        QVERIFY(without.psnrEdge > leastWithout && with.psnrEdge > leastWith);
    }

    // Mattes go with the pixels where a part is computed, and where the picture is continued.
    void partsAndMirrorsTakeTheirMattesAlong()
    {
        Traced scene("bars, focus behind");
        const ObjectShares objects = reference::objectsOf(scene.passes);
        for (const auto edge : {FrameEdge::continuePicture, FrameEdge::mirror}) {
            scene.settings.frameEdge = edge;
            const PixelBox box = PixelBox::at(192, 64, 150, 100);
            const RgbaImage whole = cropped(
                defocus::defocus({scene.passes.colour, scene.distance, &objects}, scene.settings, {}), box);
            const Plane<float> all(box.width(), box.height(), 1.0F);
            const RgbaImage part =
                defocusPart({scene.passes.colour, scene.distance, &objects}, scene.settings, box, {});
            const RgbaImage bare = defocusPart({scene.passes.colour, scene.distance}, scene.settings, box);
            QVERIFY(bench::compare(part, whole, all).psnr > 70.0);
            QVERIFY(bench::compare(bare, whole, all).psnr < 60.0);
        }
    }

    void mattesOfAnotherSizeAreAnError()
    {
        const Stalk scene;
        const ObjectCoverage small{Plane<float>(kSize, kSize - 1, 1.0F), 1};
        const ObjectShares objects = objectSharesOf({&small, 1});
        QVERIFY_EXCEPTION_THROWN(
            (void)defocus::defocus({scene.colour, Plane<float>(kSize, kSize, 2.0F), &objects},
                                   test::lensWithRadius(kSize, 3.0), {}),
            Error);
    }
};

QTEST_APPLESS_MAIN(TestMattesAtEdges)
#include "test_mattes_at_edges.moc"
