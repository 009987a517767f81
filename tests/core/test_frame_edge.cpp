// What lies beyond the picture: more of its edge, the picture turned over, or nothing.
#include "core/defocus/defocus.h"
#include "core/image/crop.h"
#include "support/lenses.h"
#include "support/pictures.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <random>

using namespace retinex;
using namespace retinex::defocus;
using test::filled;
using test::kInf;
using test::lensWithRadius;

class TestFrameEdge : public QObject
{
    Q_OBJECT

private slots:
    void continuedPicturesGoOnAsTheyAreAtTheirEdge_data()
    {
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("most"); // difference
        QTest::newRow("1.5 px") << 1.5 << 1e-5;
        QTest::newRow("9 px") << 9.0 << 1e-5;
        // Of cells the ones at the edge go on, not their outer pixels.
        QTest::newRow("17 px, in cells of 2") << 17.0 << 0.015;
        QTest::newRow("40 px, in cells of 4") << 40.0 << 0.03;
    }
    // Against the same picture made larger by hand: 64 px on each side, of the pixels at its edge.
    void continuedPicturesGoOnAsTheyAreAtTheirEdge()
    {
        QFETCH(double, radius);
        QFETCH(double, most);
        constexpr int margin = 64;
        const int w = 181; // no whole number of cells
        const int h = 103;
        RgbaImage small = filled(w, h, 0.3F);
        Plane<float> distance(w, h, kInf);
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x)
                small.plane(0).at(x, y) = 0.5F + 0.3F * std::sin(0.08F * static_cast<float>(x + 2 * y));
        RgbaImage large = filled(w + 2 * margin, h + 2 * margin, 0.3F);
        for (int y = 0; y < large.height(); ++y)
            for (int x = 0; x < large.width(); ++x)
                large.plane(0).at(x, y) =
                    small.plane(0).at(std::clamp(x - margin, 0, w - 1), std::clamp(y - margin, 0, h - 1));
        LensSettings settings = lensWithRadius(w, radius);
        settings.iris.blades = 5;
        const RgbaImage mine = defocus::defocus({small, distance}, settings);
        settings.frame = {margin, margin, w, h};
        const RgbaImage truth =
            cropped(defocus::defocus({large, Plane<float>(large.width(), large.height(), kInf)}, settings),
                    PixelBox::at(margin, margin, w, h));
        double worst = 0.0;
        for (int c = 0; c < RgbaImage::channels; ++c)
            for (std::size_t i = 0; i < mine.plane(c).size(); ++i)
                worst = std::max(worst, std::abs(static_cast<double>(mine.plane(c).pixels()[i]) -
                                                 static_cast<double>(truth.plane(c).pixels()[i])));
        QVERIFY2(worst < most, qPrintable(QString::number(worst)));
    }

    // A thing at the edge is thought to go on beyond it: there the picture is as if it filled all of the
    // outside.
    void aThingAtTheEdgeGoesOn()
    {
        RgbaImage image = filled(120, 90, 0.1F);
        for (int y = 0; y < 90; ++y)
            for (int x = 116; x < 120; ++x)
                for (int c = 0; c < 3; ++c)
                    image.plane(c).at(x, y) = 0.8F;
        const RgbaImage out =
            defocus::defocus({image, Plane<float>(120, 90, kInf)}, lensWithRadius(120, 8.0));
        // The lens sees 4 px of it and then 4 more for the middle of the last pixel's disc: over half of it.
        QVERIFY(out.plane(0).at(119, 45) > 0.55F);
        QVERIFY(out.plane(0).at(105, 45) < 0.11F);
    }

    void openFrameEdgesLetLightOut()
    {
        LensSettings settings = lensWithRadius(80, 9.0);
        const Plane<float> far(80, 60, kInf);
        settings.frameEdge = FrameEdge::open;
        const RgbaImage open = defocus::defocus({filled(80, 60, 1.0F), far}, settings);
        QVERIFY(open.plane(0).at(0, 30) > 0.4F && open.plane(0).at(0, 30) < 0.65F);
        QVERIFY(std::abs(open.plane(3).at(0, 30) - open.plane(0).at(0, 30)) < 1e-5F); // alpha goes along
        QVERIFY(std::abs(open.plane(0).at(40, 30) - 1.0F) < 1e-5F);
    }

    // A picture that goes on turned over at its edge: the same as blurring one that is so much larger.
    void mirrorIsThePictureTurnedOverAtItsEdge()
    {
        const int size = 40;
        RgbaImage small = filled(size, size, 0.2F);
        RgbaImage large = filled(3 * size, 3 * size, 0.2F);
        std::mt19937 random(4);
        for (int y = 0; y < size; ++y) {
            for (int x = 0; x < size; ++x) {
                const float v = 0.2F + static_cast<float>(random() % 100) / 200.0F;
                small.plane(1).at(x, y) = v;
                for (const int my : {size - 1 - y, size + y, 3 * size - 1 - y})
                    for (const int mx : {size - 1 - x, size + x, 3 * size - 1 - x})
                        large.plane(1).at(mx, my) = v;
            }
        }
        LensSettings settings = lensWithRadius(size, 6.0);
        settings.frameEdge = FrameEdge::mirror;
        const RgbaImage mine = defocus::defocus({small, Plane<float>(size, size, kInf)}, settings);
        settings.frameEdge = FrameEdge::continuePicture;
        settings.frame = {size, size, size, size};
        const RgbaImage truth = defocus::defocus({large, Plane<float>(3 * size, 3 * size, kInf)}, settings);
        for (int y = 0; y < size; ++y)
            for (int x = 0; x < size; ++x)
                QVERIFY(std::abs(mine.plane(1).at(x, y) - truth.plane(1).at(x + size, y + size)) < 1e-4F);
    }
};

QTEST_APPLESS_MAIN(TestFrameEdge)
#include "test_frame_edge.moc"
