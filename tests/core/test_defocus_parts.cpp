// Parts of a picture, threads and tiles: whatever is computed in pieces must come out as the whole does.
#include "bench/measure.h"
#include "core/defocus/part.h"
#include "core/image/crop.h"
#include "support/lenses.h"

#include <QTest>
#include <algorithm>
#include <cmath>
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
