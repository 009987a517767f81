// Parts of a picture, threads and tiles: whatever is computed in pieces must come out as the whole does.
#include "bench/measure.h"
#include "core/defocus/part.h"
#include "core/image/crop.h"
#include "support/lenses.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <functional>
#include <random>

using namespace retinex;

namespace {

/// A wall with texture and lamps, bars before it, some of both between: several tiles wide and high.
struct Scene
{
    RgbaImage colour{700, 330};
    Plane<float> distance{700, 330, 6.0F};
    defocus::LensSettings settings = test::lensWithRadius(700, 14.0);

    Scene()
    {
        std::mt19937 random(5);
        for (int y = 0; y < colour.height(); ++y) {
            for (int x = 0; x < colour.width(); ++x) {
                const bool isBar = x % 90 < 9;
                const bool isStep = y > 200 && !isBar;
                if (isBar) distance.at(x, y) = 0.9F;
                if (isStep) distance.at(x, y) = 1.6F + 0.004F * static_cast<float>(330 - y);
                const float value = 0.2F + 0.3F * static_cast<float>((x / 5 + y / 7) % 3) +
                                    0.05F * static_cast<float>(random() % 100) / 100.0F;
                for (int c = 0; c < 3; ++c)
                    colour.plane(c).at(x, y) = isBar ? 0.1F : value;
                if (!isBar && !isStep && x % 60 < 3 && y % 50 < 3)
                    for (int c = 0; c < 3; ++c)
                        colour.plane(c).at(x, y) = 40.0F;
                colour.plane(3).at(x, y) = 1.0F;
            }
        }
    }

    [[nodiscard]] RgbaImage whole(const Run& run = {}) const
    {
        return defocus::defocus({colour, distance}, settings, run);
    }
};

/// Two surfaces, one before the other and reaching beyond the frame or standing free in it.
struct TwoSurfaces
{
    static constexpr int width = 320;
    RgbaImage colour;
    Plane<float> distance;

    /// `near` tells the nearer one's distance, 0 where it is not.
    TwoSurfaces(int height, const std::function<double(double x, double y)>& near)
        : colour(width, height), distance(width, height, 8.0F)
    {
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                const double z = near(x, y);
                if (z > 0.0) distance.at(x, y) = static_cast<float>(z);
                const float light = z > 0.0 ? 0.02F + 0.3F * static_cast<float>(height - y) / 300.0F : 0.8F;
                for (int c = 0; c < 3; ++c)
                    colour.plane(c).at(x, y) = light * (1.0F - 0.1F * static_cast<float>(c));
                colour.plane(3).at(x, y) = 1.0F;
            }
    }
};

float largestDifference(const RgbaImage& a, const RgbaImage& b)
{
    float largest = 0.0F;
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (std::size_t i = 0; i < a.plane(c).size(); ++i)
            largest = std::max(largest, std::abs(a.plane(c).pixels()[i] - b.plane(c).pixels()[i]));
    return largest;
}

} // namespace

class TestDefocusParts : public QObject
{
    Q_OBJECT

private slots:
    // Workers take tiles as they come, in another order each time.
    void anyOrderOfTilesGivesTheSameBits()
    {
        const Scene scene;
        const RgbaImage one = scene.whole({1, {}, {}});
        QVERIFY(std::ranges::all_of(one.plane(0).pixels(),
                                    [](float v) { return std::isfinite(v) && v >= 0.0F; }));
        for (const int threads : {2, 3, 8, 0})
            for (int turn = 0; turn < 3; ++turn) {
                const RgbaImage many = scene.whole({threads, {}, {}});
                for (int c = 0; c < RgbaImage::channels; ++c)
                    QVERIFY(std::ranges::equal(one.plane(c).pixels(), many.plane(c).pixels()));
            }
    }

    // Frames of one to three rows of the larger tiles, whose discs reach over the next one and beyond the
    // frame.
    void tilesOfEverySizeGiveTheSamePicture_data()
    {
        QTest::addColumn<std::function<double(double, double)>>("near");
        QTest::addColumn<int>("height");
        using Near = std::function<double(double, double)>;
        const Near floorAtTheFrame = [](double, double y) { return y > 60 ? 1.0 : 0.0; };
        const Near slope = [](double x, double y) { return x > 190 ? 0.8 + 0.002 * y : 0.0; };
        const Near column = [](double x, double) {
            const double u = (x - 150) / 80;
            return std::abs(u) < 1.0 ? 0.7 + 0.3 * u * u : 0.0;
        };
        const Near ball = [](double x, double y) {
            const double r = std::hypot(x - 170, y - 140) / 110;
            return r < 1.0 ? 0.9 * (1.0 + 0.2 * r) : 0.0;
        };
        QTest::newRow("floor, one row") << floorAtTheFrame << 90;
        QTest::newRow("slope, two rows") << slope << 200;
        QTest::newRow("floor, three rows") << floorAtTheFrame << 300;
        QTest::newRow("column, three rows") << column << 300;
        QTest::newRow("ball, three rows") << ball << 300;
    }
    void tilesOfEverySizeGiveTheSamePicture()
    {
        using Near = std::function<double(double, double)>;
        QFETCH(Near, near);
        QFETCH(int, height);
        const TwoSurfaces scene(height, near);
        constexpr double widest = TwoSurfaces::width / 8.0;
        using defocus::FrameEdge;
        for (const auto edge : {FrameEdge::continuePicture, FrameEdge::mirror, FrameEdge::open})
            for (const auto& [focusMm, radius] :
                 {std::pair{2000.0, widest}, {8000.0, widest}, {8000.0, 10.0}}) {
                auto settings = test::lensWithRadius(TwoSurfaces::width, radius);
                settings.lens.focusDistanceMm = focusMm;
                settings.frameEdge = edge;
                settings.tilePx = 512;
                const RgbaImage one = defocus::defocus({scene.colour, scene.distance}, settings);
                settings.tilePx = 32;
                const RgbaImage many = defocus::defocus({scene.colour, scene.distance}, settings);
                settings.tilePx = 0;
                const PixelBox box = PixelBox::at(128, height - 64, 128, 64); // down to the frame's edge
                const RgbaImage part = defocus::defocusPart({scene.colour, scene.distance}, settings, box);
                const float off =
                    std::max(largestDifference(one, many), largestDifference(cropped(one, box), part));
                QVERIFY2(off <= 1e-4F, qPrintable(QString("edge %1, focus %2 mm, radius %3: %4")
                                                      .arg(static_cast<int>(edge))
                                                      .arg(focusMm)
                                                      .arg(radius)
                                                      .arg(static_cast<double>(off))));
            }
    }

    void aPartIsAsInTheWhole_data()
    {
        QTest::addColumn<QRect>("where");
        QTest::addColumn<defocus::FrameEdge>("edge");
        using defocus::FrameEdge;
        QTest::newRow("in the middle") << QRect(256, 64, 192, 128) << FrameEdge::continuePicture;
        QTest::newRow("at a corner") << QRect(0, 0, 128, 128) << FrameEdge::continuePicture;
        QTest::newRow("at the other corner") << QRect(512, 192, 188, 138) << FrameEdge::continuePicture;
        QTest::newRow("in the middle, open") << QRect(256, 64, 192, 128) << FrameEdge::open;
        QTest::newRow("at the other corner, open") << QRect(512, 192, 188, 138) << FrameEdge::open;
        QTest::newRow("at an edge, mirror") << QRect(320, 0, 128, 64) << FrameEdge::mirror;
        QTest::newRow("off the grid") << QRect(301, 77, 133, 99) << FrameEdge::continuePicture;
        QTest::newRow("all of it") << QRect(0, 0, 700, 330) << FrameEdge::continuePicture;
    }
    void aPartIsAsInTheWhole()
    {
        QFETCH(QRect, where);
        QFETCH(defocus::FrameEdge, edge);
        Scene scene;
        scene.settings.frameEdge = edge;
        scene.settings.iris.blades = 6;
        scene.settings.iris.catsEye = 0.5; // which knows where in the frame it is
        const PixelBox box = PixelBox::at(where.x(), where.y(), where.width(), where.height());
        const RgbaImage part = defocus::defocusPart({scene.colour, scene.distance}, scene.settings, box);
        QCOMPARE(part.width(), box.width());
        const RgbaImage whole = cropped(scene.whole(), box);
        const double psnr = bench::compare(part, whole, Plane<float>(box.width(), box.height(), 1.0F)).psnr;
        QVERIFY2(psnr > 70.0, qPrintable(QString::number(psnr)));
        const float worst = largestDifference(part, whole);
        QVERIFY2(worst < 0.02F, qPrintable(QString::number(worst)));
    }

    // Of deep pictures likewise: the samples of a pixel go with it.
    void aPartOfADeepPicture()
    {
        const Scene scene;
        DeepPicture deep;
        deep.width = scene.colour.width();
        deep.height = scene.colour.height();
        deep.first.push_back(0);
        for (int y = 0; y < deep.height; ++y) {
            for (int x = 0; x < deep.width; ++x) {
                const auto add = [&](float value, float alpha, float depth) {
                    deep.samples.push_back({{value * alpha, value * alpha, value * alpha, alpha}, depth});
                };
                if (x % 50 < 6) add(0.8F, 0.5F, 0.9F);
                add(scene.colour.plane(0).at(x, y), 1.0F, scene.distance.at(x, y));
                deep.first.push_back(deep.samples.size());
            }
        }
        const PixelBox box = PixelBox::at(256, 128, 192, 128);
        const RgbaImage part = defocus::defocusPart(deep, scene.settings, box);
        const RgbaImage whole = cropped(defocus::defocus(deep, scene.settings), box);
        const float worst = largestDifference(part, whole);
        QVERIFY2(worst < 0.02F, qPrintable(QString::number(worst)));
    }
};

QTEST_APPLESS_MAIN(TestDefocusParts)
#include "test_defocus_parts.moc"
