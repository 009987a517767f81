#include "core/project/shots.h"
#include "core/timeline/cut_detection.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace retinex;
using namespace retinex::timeline;

/// Finding cuts: from pictures made here.
class TestCuts : public QObject
{
    Q_OBJECT

    /// A picture of soft blobs that move; `scene` says which, `at` how far, `light` how bright.
    static RgbaImage picture(int scene, double at, double light = 1.0)
    {
        RgbaImage image(160, 90);
        for (int y = 0; y < 90; ++y)
            for (int x = 0; x < 160; ++x) {
                const double u = 0.05 * (x + 2.0 * at) + 3.1 * scene;
                const double v = 0.07 * y + 1.7 * scene;
                for (int c = 0; c < 3; ++c)
                    image.plane(c).at(x, y) = static_cast<float>(
                        light * (0.25 + 0.12 * scene +
                                 0.2 * std::sin(u + c + scene) * std::cos(v * (1.0 + 0.2 * scene))));
                image.plane(3).at(x, y) = 1.0F;
            }
        return image;
    }
    using Sketches = std::vector<std::optional<FrameSketch>>;

private slots:
    void aPictureIsLikeItselfAndUnlikeAnother()
    {
        const FrameSketch a = sketchOf(picture(0, 0.0));
        QCOMPARE(difference(a, a), 0.0);
        const double moved = difference(a, sketchOf(picture(0, 2.0)));
        const double other = difference(a, sketchOf(picture(3, 0.0)));
        QVERIFY(moved > 0.0 && other > 3.0 * moved && other <= 1.0);
        QCOMPARE(a.fields.size(), std::size_t(3 * FrameSketch::columns * FrameSketch::rows));
        float whole = 0.0F;
        for (const float share : a.spread)
            whole += share;
        QVERIFY(std::abs(whole - 1.0F) < 1e-4F);
    }

    // Reduced pictures are sketched alike: what is played may be small.
    void sketchesDoNotDependOnTheSize()
    {
        const RgbaImage full = picture(1, 0.0);
        RgbaImage half(80, 45);
        for (int c = 0; c < RgbaImage::channels; ++c)
            for (int y = 0; y < 45; ++y)
                for (int x = 0; x < 80; ++x)
                    half.plane(c).at(x, y) = full.plane(c).at(2 * x, 2 * y);
        QVERIFY(difference(sketchOf(full), sketchOf(half)) < 0.02);
    }

    void cutsAreFoundWhereTheyAre()
    {
        Sketches sketches;
        for (int frame = 0; frame < 40; ++frame)
            sketches.emplace_back(sketchOf(picture(frame < 13 ? 0 : frame < 27 ? 3 : 5, frame)));
        QCOMPARE(proposedCuts(sketches, 101), (std::vector<int>{114, 128}));
        QVERIFY(proposedCuts({}, 1).empty());
        QVERIFY(proposedCuts(Sketches(1), 1).empty());
    }

    void movesAndFlickerAreNoCuts()
    {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> flicker(0.6, 1.4);
        Sketches moving;
        Sketches flickering;
        for (int frame = 0; frame < 40; ++frame) {
            moving.emplace_back(sketchOf(picture(2, 9.0 * frame)));
            flickering.emplace_back(sketchOf(picture(2, frame, flicker(random))));
        }
        QVERIFY(proposedCuts(moving, 1).empty());
        QVERIFY(proposedCuts(flickering, 1).empty());
    }

    void aMissingFrameIsNoCutAndHidesNone()
    {
        Sketches sketches;
        for (int frame = 0; frame < 30; ++frame)
            sketches.emplace_back(sketchOf(picture(frame < 15 ? 0 : 3, frame)));
        sketches[7].reset();
        QCOMPARE(proposedCuts(sketches, 1), std::vector<int>{16});
        sketches[14].reset(); // the last before the cut
        const auto cuts = proposedCuts(sketches, 1);
        QCOMPARE(cuts, std::vector<int>{16});
    }

    // Cutting where the finder says so changes no frame's settings; the name stays with the first part.
    void whatIsProposedCanBeCutAndTakenBack()
    {
        project::Project project;
        project.lastFrame = 40;
        project.shots.front().name = "all";
        project.shots.front().tracks[project::setting::fStop] = {{1, 2.0}, {40, 8.0}};
        const project::Project before = project;
        for (const int cut : {14, 28})
            QVERIFY(project::cutAt(project, cut));
        QCOMPARE(project.shots.size(), std::size_t(3));
        QCOMPARE(project.shots[0].name, std::string("all"));
        for (int frame = 1; frame <= 40; ++frame)
            QVERIFY(std::abs(project.valuesAt(frame).fStop / before.valuesAt(frame).fStop - 1.0) < 1e-9);
        QVERIFY(project::removeCut(project, 14) && project::removeCut(project, 28));
        QCOMPARE(project.shots.size(), std::size_t(1));
    }
};

QTEST_GUILESS_MAIN(TestCuts)
#include "test_cuts.moc"
