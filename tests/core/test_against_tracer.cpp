// The main job against the lens-sampling ray tracer, small enough for every test run. The full table is
// printed by retinex-bench.
#include "bench/measure.h"
#include "bench/peers.h"
#include "bench/probe.h"
#include "bench/rim_trials.h"
#include "core/depth/depth_reading.h"
#include "reference/greenhouse.h"
#include "reference/lamps.h"
#include "reference/scenes.h"

#include <QTest>
#include <cmath>

using namespace retinex;

namespace {

/// A letter F: neither mirrored nor turned over it is itself.
optics::IrisPicture letterIris()
{
    auto picture = std::make_shared<Plane<float>>(40, 40);
    for (int y = 4; y < 36; ++y)
        for (int x = 8; x < 32; ++x)
            if (x < 15 || y < 11 || (y >= 17 && y < 23 && x < 26)) picture->at(x, y) = 1.0F;
    return picture;
}

/// A scene as its passes show it, and through the traced lens.
struct Traced
{
    RgbaImage truth;
    reference::Passes passes;
    Plane<float> distance;
    defocus::LensSettings settings;
    Plane<float> radius;
    Plane<float> band;

    Traced(const QString& scene, int width)
    {
        reference::Trial trial = reference::makeTrial(scene.toStdString());
        trial.camera.width = width;
        trial.camera.height = width * 9 / 16;
        trial.lens.samples = 256;
        truth = reference::renderLens(trial.scene, trial.camera, trial.lens);
        passes = reference::renderPasses(trial.scene, trial.camera, 64);
        distance = depth::toDistance(passes.depth).distance;
        settings = reference::engineSettings(trial.camera, trial.lens);
        radius = defocus::blurRadiusPx(distance, settings);
        band = bench::edgeBand(distance);
    }
    [[nodiscard]] bench::Quality of(const RgbaImage& picture) const
    {
        return bench::compare(picture, truth, band);
    }
    [[nodiscard]] bench::Quality ours() const
    {
        return of(defocus::defocus({passes.colour, distance}, settings));
    }
};

} // namespace

class TestAgainstTracer : public QObject
{
    Q_OBJECT

private slots:
    void aheadOfBothPeers_data()
    {
        QTest::addColumn<QString>("scene");
        for (const char* scene : {"bars, focus behind", "lights", "stalks"})
            QTest::newRow(scene) << QString::fromLatin1(scene);
    }
    void aheadOfBothPeers()
    {
        QFETCH(QString, scene);
        const Traced traced(scene, 384);
        const auto ours = traced.ours();
        const auto gather = traced.of(bench::gather(traced.passes.colour, traced.radius));
        const auto slices =
            traced.of(bench::slicesByFft(traced.passes.colour, traced.radius, traced.settings.iris));
        qInfo("edge band: ours %.2f dB, gather %.2f dB, slices by FFT %.2f dB", ours.psnrEdge,
              gather.psnrEdge, slices.psnrEdge);
        QVERIFY(ours.psnrEdge > gather.psnrEdge && ours.psnrEdge > slices.psnrEdge);
        QVERIFY(ours.psnr > gather.psnr && ours.psnr > slices.psnr);
    }

    // What thin things close to the lens hide is guessed without teeth and shreds.
    void guessesAreCalm_data()
    {
        QTest::addColumn<QString>("scene");
        for (const char* scene :
             {"chain before letters, 60 px", "wire before books, 60 px", "ball behind a bar, 60 px"})
            QTest::newRow(scene) << QString::fromLatin1(scene);
    }
    void guessesAreCalm()
    {
        QFETCH(QString, scene);
        const Traced traced(scene, 480);
        const auto ours = traced.ours();
        const auto probed =
            traced.of(bench::probe(traced.passes.colour, traced.radius, traced.settings.iris));
        qInfo("share of false detail: ours %.3f %%, probe %.3f %%", 100.0 * ours.falseShare,
              100.0 * probed.falseShare);
        QVERIFY(ours.falseShare < 0.5 * probed.falseShare);
        QVERIFY(ours.falseShare < 0.0025);
    }

    // No dark, bright or dotted line around silhouettes that are blurred by 0.5 to 4 px, whatever filter made
    // the passes and wherever in the pixel depth was sampled.
    void silhouettesHaveNoLinesAroundThem()
    {
        for (const auto& row : bench::rims(160, 256))
            QVERIFY2(row.beyondShare < 0.002, qPrintable(QStringLiteral("%1 px, %2: %3, %4 %")
                                                             .arg(row.radiusPx)
                                                             .arg(QString::fromStdString(row.filter))
                                                             .arg(row.beyond)
                                                             .arg(100.0 * row.beyondShare)));
    }

    // Every setting of the iris, near and far side, against the same iris in the tracer: near to it, and much
    // nearer than the plain circle is, so that a setting without effect cannot pass.
    void everyIrisAgainstTheTracer_data()
    {
        QTest::addColumn<QString>("shape");
        QTest::addColumn<double>("least");
        QTest::newRow("triangle") << "triangle" << 36.0;
        QTest::newRow("five blades, turned") << "turned" << 36.0;
        QTest::newRow("five blades, rounded") << "rounded" << 36.0;
        QTest::newRow("squeeze 2") << "tall" << 36.0;
        QTest::newRow("squeeze 0.5") << "wide" << 36.0;
        QTest::newRow("bright rim") << "bright rim" << 36.0;
        QTest::newRow("dark rim") << "dark rim" << 36.0;
        QTest::newRow("centre stop") << "stop" << 36.0;
        QTest::newRow("cat's eye") << "cat" << 36.0;
        QTest::newRow("picture") << "picture" << 34.0;
    }
    void everyIrisAgainstTheTracer()
    {
        QFETCH(QString, shape);
        QFETCH(double, least);
        optics::Iris iris;
        if (shape == "triangle") iris.blades = 3;
        if (shape == "turned") iris.blades = 5, iris.turnDeg = 25.0;
        if (shape == "rounded") iris.blades = 4, iris.rounding = 0.5;
        if (shape == "tall") iris.squeeze = 2.0;
        if (shape == "wide") iris.squeeze = 0.5;
        if (shape == "bright rim") iris.rim = 1.0;
        if (shape == "dark rim") iris.rim = -1.0;
        if (shape == "stop") iris.centreStop = 0.5;
        if (shape == "cat") iris.catsEye = 0.9;
        if (shape == "picture") iris.picture = letterIris();
        reference::Trial trial = reference::lampField(iris);
        trial.camera.width = 240;
        trial.camera.height = 135;
        trial.lens.samples = 768;
        const RgbaImage truth = reference::renderLens(trial.scene, trial.camera, trial.lens);
        const auto passes = reference::renderPasses(trial.scene, trial.camera, 64);
        const auto distance = depth::toDistance(passes.depth).distance;
        auto settings = reference::engineSettings(trial.camera, trial.lens);
        const auto band = bench::edgeBand(distance);
        const auto ours = bench::compare(defocus::defocus({passes.colour, distance}, settings), truth, band);
        settings.iris = {};
        const auto circle =
            bench::compare(defocus::defocus({passes.colour, distance}, settings), truth, band);
        qInfo("%s: %.2f dB, as a circle %.2f dB", qPrintable(shape), ours.psnr, circle.psnr);
        QVERIFY(ours.psnr > least);
        QVERIFY(ours.psnr > circle.psnr + 5.0);
    }

    // The tracer's own disc has the size of the handbook formula: one small light, traced through the lens.
    void theTracerObeysTheThinLensFormula()
    {
        reference::Scene scene;
        const int glow = scene.addMaterial({{}, {}, reference::Pattern::plain, 1.F, {900.F, 900.F, 900.F}});
        const int lamp = scene.addObject("lamp");
        reference::Mesh point;
        point.vertices = {{-0.002F, -0.002F, -6.F}, {0.002F, -0.002F, -6.F}, {0.F, 0.002F, -6.F}};
        point.indices = {0, 1, 2};
        point.material = glow;
        point.object = lamp;
        scene.add(point);
        scene.commit();
        const reference::Camera camera{{0, 0, 0}, {0, 0, -1}, 50.F, 36.F, 300, 200};
        const RgbaImage image = reference::renderLens(scene, camera, {1.4, 1.5, {}, 4096});
        int first = 300;
        int last = 0;
        for (int x = 0; x < 300; ++x) {
            float column = 0.F;
            for (int y = 0; y < 200; ++y)
                column += image.plane(0).at(x, y);
            if (column > 0.F) {
                first = std::min(first, x);
                last = std::max(last, x);
            }
        }
        const double cocPx = optics::circleOfConfusionMm({50.0, 1.4, 1500.0}, 6000.0) / 36.0 * 300.0;
        QVERIFY2(std::abs((last - first + 1) - cocPx) < 2.0, qPrintable(QString::number(cocPx)));
    }

    void passesHoldWhatTheyPromise()
    {
        auto frame = reference::makeGreenhouse(10);
        frame.camera.width = 192;
        frame.camera.height = 108;
        const auto passes = reference::renderPasses(frame.scene, frame.camera, 16);
        bool gaps = false;
        for (int y = 0; y < 108; ++y) {
            for (int x = 0; x < 192; ++x) {
                const float alpha = passes.colour.plane(3).at(x, y);
                gaps = gaps || passes.depth.at(x, y) == 0.F;
                QVERIFY(alpha >= 0.F && alpha <= 1.0001F);
                if (alpha == 0.F)
                    QVERIFY(passes.colour.plane(0).at(x, y) == 0.F && passes.depth.at(x, y) == 0.F);
            }
        }
        QVERIFY(gaps);
        // The can stands at its distance, and its matte covers it.
        const auto can = std::find_if(passes.mattes.begin(), passes.mattes.end(),
                                      [](const auto& m) { return m.first == "can"; });
        QVERIFY(can != passes.mattes.end());
        double sum = 0.0;
        int count = 0;
        for (std::size_t i = 0; i < passes.depth.size(); ++i) {
            if (can->second.pixels()[i] > 0.999F) {
                sum += static_cast<double>(passes.depth.pixels()[i]);
                ++count;
            }
        }
        QVERIFY(count > 200 && std::abs(sum / count - reference::GreenhouseFrame::canDistance) < 0.15);
    }
};

QTEST_APPLESS_MAIN(TestAgainstTracer)
#include "test_against_tracer.moc"
