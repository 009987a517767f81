// Deep pictures and what stands in the way of light: cases whose answer is known in closed form, and the
// tracer.
#include "bench/measure.h"
#include "core/defocus/defocus.h"
#include "core/defocus/repair/deep_surfaces.h"
#include "core/depth/depth_reading.h"
#include "core/frame/render_frame.h"
#include "reference/scenes.h"
#include "support/as_written.h"
#include "support/deep_pictures.h"
#include "support/lenses.h"
#include "support/pictures.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace retinex;
using test::kInf;
using test::lensWithRadius;
using test::sample;
using test::stack;

namespace {

constexpr int kSize = 96;

} // namespace

class TestDeep : public QObject
{
    Q_OBJECT

private slots:
    // Panes of glass over a wall: "over" (Porter and Duff 1984), in focus or not, since each is uniform.
    void panesAddUpByOver_data()
    {
        QTest::addColumn<float>("near");
        QTest::addColumn<float>("middle");
        QTest::addColumn<float>("far");
        QTest::newRow("in focus") << 2.0F << 2.0F << 2.0F;
        QTest::newRow("behind the focal plane") << 3.0F << 5.0F << 50.0F;
        QTest::newRow("before it") << 1.2F << 1.5F << 1.8F;
        QTest::newRow("on both sides") << 1.2F << 2.0F << 9.0F;
    }
    void panesAddUpByOver()
    {
        QFETCH(float, near);
        QFETCH(float, middle);
        QFETCH(float, far);
        const auto deep =
            stack(kSize, {sample(0.3F, 0.5F, near), sample(0.1F, 0.25F, middle), sample(0.8F, 1.0F, far)});
        const RgbaImage result = defocus::defocus(deep, lensWithRadius(kSize, 10.0));
        const float expected = 0.3F + 0.5F * (0.1F + 0.75F * 0.8F);
        for (const int at : {2, 40, 48, 90}) {
            QVERIFY2(std::abs(result.plane(0).at(at, at) - expected) < 2e-4F,
                     qPrintable(QString::number(result.plane(0).at(at, at))));
            QVERIFY(std::abs(result.plane(3).at(at, at) - 1.0F) < 2e-4F);
        }
    }

    // A backdrop can be put behind the result: nothing behind a pane of alpha 0.4 leaves 0.6 open.
    void alphaStaysRightWhereNothingIsBehind()
    {
        const auto pane = stack(kSize, {sample(0.2F, 0.4F, 3.0F)});
        const RgbaImage result = defocus::defocus(pane, lensWithRadius(kSize, 10.0));
        QVERIFY(std::abs(result.plane(3).at(48, 48) - 0.4F) < 1e-4F);
        QVERIFY(std::abs(result.plane(0).at(48, 48) - 0.2F) < 1e-4F);
        QVERIFY(defocus::defocus(stack(4, {}), lensWithRadius(4, 2.0)).plane(3).at(1, 1) == 0.0F);
    }

    void manySamplesAreJoinedAndAMirrorStaysUniform()
    {
        std::vector<DeepPicture::Sample> fog;
        for (int i = 0; i < 40; ++i)
            fog.push_back(sample(0.02F, 0.05F, 1.0F + 0.4F * static_cast<float>(i)));
        fog.push_back(sample(0.5F, 1.0F, 20.0F));
        auto settings = lensWithRadius(kSize, 12.0);
        const auto surfaces = defocus::surfacesOf(stack(8, fog), settings.blurModel(kSize), {});
        QVERIFY(surfaces.between.size() + 2 <= static_cast<std::size_t>(defocus::kMostDeepSurfaces) + 1);
        settings.frameEdge = defocus::FrameEdge::mirror;
        const RgbaImage result = defocus::defocus(stack(48, fog), settings);
        for (const float v : result.plane(1).pixels())
            QVERIFY(std::abs(v - result.plane(1).at(24, 24)) < 1e-4F);
    }

    // Bars before a room: the tracer's own samples from a file are nearer to the traced lens than one depth a
    // pixel is, and the file says the same as memory.
    void deepIsNearerToTheTracerThanFlat()
    {
        reference::Trial trial = reference::makeTrial("bars, focus at the wall");
        trial.camera.width = 384;
        trial.camera.height = 216;
        trial.lens.samples = 256;
        const RgbaImage truth = reference::renderLens(trial.scene, trial.camera, trial.lens);
        const auto passes = reference::renderPasses(trial.scene, trial.camera, 64);
        const auto distance = depth::toDistance(passes.depth).distance;
        const auto deep = reference::renderDeep(trial.scene, trial.camera, 64);
        const auto settings = reference::engineSettings(trial.camera, trial.lens);
        const auto band = bench::edgeBand(distance);
        const auto flat = bench::compare(defocus::defocus({passes.colour, distance}, settings), truth, band);
        const auto fromDeep = bench::compare(defocus::defocus(deep, settings), truth, band);
        qInfo("edge band: deep %.2f dB, flat %.2f dB", fromDeep.psnrEdge, flat.psnrEdge);
        QVERIFY(fromDeep.psnrEdge > flat.psnrEdge + 0.3 && fromDeep.psnr > flat.psnr + 0.3);

        QTemporaryDir folder;
        const std::string file = folder.filePath("deep.exr").toStdString();
        test::writeDeep(file, deep);
        const passes::PassSource source({file, {}}, {}, test::asWritten());
        const auto loaded = source.load(1);
        QVERIFY(loaded->deep && loaded->deep->samples.size() == deep.samples.size());
        float worst = 0.0F;
        for (std::size_t i = 0; i < deep.samples.size(); ++i)
            worst = std::max(worst, std::abs(loaded->deep->samples[i].depth - deep.samples[i].depth));
        QCOMPARE(worst, 0.0F);
        // Flattened it is the colour pass.
        QVERIFY(std::abs(loaded->colour().plane(0).at(200, 100) - passes.colour.plane(0).at(200, 100)) <
                1e-3F);
        project::Project project;
        project.base().focalLengthMm = settings.lens.focalLengthMm;
        project.base().fStop = settings.lens.fStop;
        project.base().focusDistance = trial.lens.focusDistance;
        const auto rendered =
            frame::renderFrame(source, {std::make_shared<project::Project>(project), 1, 1, {}}).image;
        const RgbaImage direct = defocus::defocus(deep, project.lensSettingsAt(1, 1.0));
        for (std::size_t i = 0; i < direct.plane(0).size(); ++i)
            QCOMPARE(rendered.plane(0).pixels()[i], direct.plane(0).pixels()[i]);
    }

    // Distance along the ray is brought to the plane for each sample: s / sqrt(1 + u^2 + v^2).
    void readingsReachEverySample()
    {
        depth::ReadingSettings reading;
        reading.reading = depth::Reading::distanceAlongRay;
        reading.conditioning.offset = 1.0;
        const depth::ViewGeometry view{100.0, 100.0, 0.0, 0.0, 1.0, 90.0};
        const depth::SampleReading distanceOf(reading, view);
        const double u = (10.0 - 49.5) * 2.0 / 100.0;
        QVERIFY(std::abs(static_cast<double>(distanceOf(5.0F, 10, 10)) -
                         (5.0 / std::sqrt(1.0 + 2.0 * u * u) + 1.0)) < 1e-5);
        QCOMPARE(distanceOf(0.0F, 10, 10), kInf);
        reading.gaps.place = depth::GapRules::Place::distance;
        reading.gaps.distance = 42.0;
        QCOMPARE(distanceOf(-1.0F, 10, 10), 42.0F);
    }

    // A lamp of radius r, a dark sheet of radius s (blurred itself) that begins d px beside it: the disc ends
    // at d r / (r - s), and sharply. Similar triangles between the lamp, the sheet and the lens.
    void aDiscIsCutSharplyByWhatStandsBeforeIt_data()
    {
        QTest::addColumn<double>("sheet");
        QTest::newRow("sheet before the focal plane") << 1.6;
        QTest::newRow("sheet in focus") << 2.0;
        QTest::newRow("sheet behind the focal plane") << 3.0;
    }
    void aDiscIsCutSharplyByWhatStandsBeforeIt()
    {
        QFETCH(double, sheet);
        constexpr int size = 160;
        constexpr int lamp = 70;
        constexpr int edge = 80; // the sheet begins here
        RgbaImage colour(size, size);
        Plane<float> distance(size, size, 1000.0F);
        for (int y = 0; y < size; ++y) {
            for (int x = 0; x < size; ++x) {
                colour.plane(3).at(x, y) = 1.0F;
                if (x >= edge) distance.at(x, y) = static_cast<float>(sheet);
            }
        }
        for (int c = 0; c < 3; ++c)
            colour.plane(c).at(lamp, size / 2) = 5000.0F;
        const auto settings = lensWithRadius(size, 24.0);
        const auto model = settings.blurModel(size);
        const double r = model.radiusPx(1000.0);
        const double cut = lamp + (edge - 0.5 - lamp) * r / (r - model.radiusPx(sheet));
        const RgbaImage result = defocus::defocus({colour, distance}, settings);
        const float whole = result.plane(1).at(lamp - 8, size / 2);
        QVERIFY(whole > 1.0F);
        for (int x = lamp; x < lamp + 22; ++x) {
            const float seen = result.plane(1).at(x, size / 2) / whole;
            if (x < cut - 2.0) QVERIFY2(seen > 0.97F, qPrintable(QString::number(x)));
            if (x > cut + 2.0) QVERIFY2(seen < 0.03F, qPrintable(QString::number(x)));
        }
    }

    // Stripes go on behind a bar, whichever way they run.
    void stripesGoOnBehindABar_data()
    {
        QTest::addColumn<double>("slope");
        QTest::newRow("across") << 0.0;
        QTest::newRow("slanted") << 0.5;
        QTest::newRow("the other way") << -0.7;
    }
    void stripesGoOnBehindABar()
    {
        QFETCH(double, slope);
        RgbaImage colour(kSize, kSize);
        Plane<float> radius(kSize, kSize, 0.0F);
        const auto stripe = [&](int x, int y) {
            const double t = y - slope * x; // never twice the same
            return static_cast<float>(0.5 + 0.2 * std::sin(0.21 * t) + 0.2 * std::sin(0.33 * t + 1.0));
        };
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                const bool bar = x >= 43 && x < 53;
                for (int c = 0; c < RgbaImage::channels; ++c)
                    colour.plane(c).at(x, y) = c == 3 ? 1.0F : bar ? 0.05F : stripe(x, y);
                if (bar) radius.at(x, y) = -14.0F;
            }
        }
        const auto surfaces = defocus::repairEdges(colour, radius, nullptr, {});
        double squares = 0.0;
        int count = 0;
        for (int y = 20; y < kSize - 20; ++y) {
            for (int x = 45; x < 51; ++x) {
                QVERIFY(surfaces.hidden.coverage.at(x, y) > 0.0F);
                const float hidden =
                    surfaces.hidden.colour.plane(0).at(x, y) / surfaces.hidden.evidence.at(x, y);
                squares += std::pow(static_cast<double>(hidden - stripe(x, y)), 2.0);
                ++count;
            }
        }
        const double error = std::sqrt(squares / count);
        QVERIFY2(error < 0.09, qPrintable(QString::number(error))); // the stripes' own is 0.2
    }

    // A subject just in front of the focal plane, a bright blurred wall beside it: none of its light comes
    // through the subject.
    void nothingLeaksThroughWhatIsNearlyInFocus()
    {
        RgbaImage colour(kSize, kSize);
        Plane<float> distance(kSize, kSize, 1.97F);
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                const bool wall = x >= 60;
                if (wall) distance.at(x, y) = 100.0F;
                for (int c = 0; c < RgbaImage::channels; ++c)
                    colour.plane(c).at(x, y) = c == 3 ? 1.0F : wall ? 3.0F : 0.2F;
            }
        }
        const auto settings = lensWithRadius(kSize, 20.0);
        QVERIFY(std::abs(settings.blurModel(kSize).radiusPx(1.97)) < 0.5);
        const RgbaImage result = defocus::defocus({colour, distance}, settings);
        for (int x = 20; x < 57; ++x)
            QVERIFY2(std::abs(result.plane(0).at(x, 48) - 0.2F) < 2e-3F,
                     qPrintable(QStringLiteral("%1: %2").arg(x).arg(result.plane(0).at(x, 48))));
    }
};

QTEST_APPLESS_MAIN(TestDeep)
#include "test_deep.moc"
