// The yardstick itself: shapes, shading and cameras of the reference tracer.
#include "core/system/error.h"
#include "reference/greenhouse.h"
#include "reference/scenes.h"
#include "reference/shapes.h"

#include <QTest>
#include <cmath>
#include <numbers>

using namespace retinex;
using namespace retinex::reference;

namespace {

/// Area of a mesh, and the volume it encloses where it is closed (divergence theorem).
struct Size
{
    double area = 0.0;
    double volume = 0.0;
};

Size sizeOf(const Mesh& mesh)
{
    Size size;
    for (std::size_t i = 0; i < mesh.indices.size(); i += 3) {
        const Vec a = mesh.vertices[mesh.indices[i]];
        const Vec b = mesh.vertices[mesh.indices[i + 1]];
        const Vec c = mesh.vertices[mesh.indices[i + 2]];
        size.area += 0.5 * static_cast<double>(length(cross(b - a, c - a)));
        size.volume += static_cast<double>(dot(a, cross(b, c))) / 6.0;
    }
    size.volume = std::abs(size.volume);
    return size;
}

Hit hitAlong(const Scene& scene, Vec origin, Vec direction)
{
    Vec origins[Scene::packet];
    Vec directions[Scene::packet];
    Hit hits[Scene::packet];
    std::fill(std::begin(origins), std::end(origins), origin);
    std::fill(std::begin(directions), std::end(directions), direction);
    scene.trace(origins, directions, hits);
    return hits[3];
}

} // namespace

class TestReference : public QObject
{
    Q_OBJECT

private slots:
    // Surface of a sphere 4 pi r^2, of a tube 2 pi r l, of a box 2 (ab + bc + ca): school geometry.
    void shapesHaveTheirSizes()
    {
        using std::numbers::pi;
        QVERIFY(std::abs(sizeOf(sphere({1, 2, 3}, 0.5F, {}, 96)).area / (4 * pi * 0.25) - 1.0) < 0.005);
        QVERIFY(std::abs(sizeOf(sphere({0, 0, 0}, 0.5F, {}, 96)).volume / (4.0 / 3.0 * pi * 0.125) - 1.0) <
                0.005);
        QVERIFY(std::abs(sizeOf(box({0, 0, 0}, {1, 2, 3}, {})).area - 22.0) < 1e-5);
        const Mesh pipe = tube(
            [](float t) {
                return Vec{0.F, 2.F * t, 0.F};
            },
            [](float) { return 0.1F; }, {}, 8, 64);
        QVERIFY(std::abs(sizeOf(pipe).area / (2 * pi * 0.1 * 2.0) - 1.0) < 0.005);
        QVERIFY(std::abs(sizeOf(beam({0, 0, 0}, {0, 3, 0}, 0.2F, {})).area - (4 * 0.2 * 3 + 2 * 0.04)) <
                1e-5);
        const Mesh cylinder = lathe({0, 0, 0}, {{0.5F, 0.F}, {0.5F, 1.F}}, {}, 96);
        QVERIFY(std::abs(sizeOf(cylinder).area / pi - 1.0) < 0.005);
    }

    void raysFindTheNearestSurfaceAndItsObject()
    {
        Scene scene;
        const int wall = scene.addObject("");
        const int ball = scene.addObject("ball");
        const int grey = scene.addMaterial({});
        scene.add(box({-5, -5, -4.1F}, {5, 5, -4}, {grey, wall}));
        scene.add(sphere({0, 0, -2}, 0.5F, {grey, ball}, 64));
        scene.commit();
        const Hit front = hitAlong(scene, {0, 0, 0}, {0, 0, -1});
        QCOMPARE(front.object, ball);
        QVERIFY(std::abs(front.distance - 1.5F) < 0.01F && front.normal.z > 0.98F);
        QCOMPARE(hitAlong(scene, {0, 2, 0}, {0, 0, -1}).object, wall);
        QCOMPARE(hitAlong(scene, {0, 0, 0}, {0, 0, 1}).object, -1);
        // The ray's parameter is in lengths of its direction: the planar distance for directions that
        // reach 1.
        QVERIFY(std::abs(hitAlong(scene, {0, 2, 0}, {0.3F, 0, -1}).distance - 4.F) < 1e-4F);
    }

    // Lambert's cosine law and the inverse square; a shadow leaves the ambient light.
    void shadingFollowsLambertAndTheInverseSquare()
    {
        Scene scene;
        const int object = scene.addObject("");
        const int white = scene.addMaterial({{1, 1, 1}, {}, Pattern::plain, 1.F, {}});
        scene.add(box({-5, -1, -5}, {5, 0, 5}, {white, object}));
        scene.add(box({1.9F, 1, -0.1F}, {2.1F, 1.1F, 0.1F}, {white, object}));
        scene.setAmbient({0.01F, 0.01F, 0.01F}, {0.01F, 0.01F, 0.01F});
        scene.addLight({{0, 2, 0}, {4, 4, 4}, true});
        scene.commit();
        const auto lightAt = [&](float x) {
            return scene.shade(hitAlong(scene, {x, 0.5F, 0}, {0, -1, 0})).x;
        };
        QVERIFY(std::abs(lightAt(0.F) - (0.01F + 4.F / 4.F)) < 1e-3F);
        const float slant = 4.F * (2.F / std::sqrt(8.F)) / 8.F; // 2 m aside: 45 degrees, distance squared 8
        QVERIFY(std::abs(lightAt(-2.F) - (0.01F + slant)) < 1e-3F);
        QVERIFY(std::abs(lightAt(4.F) - 0.01F) < 1e-4F); // behind the small box
    }

    // With the lens closed to almost nothing, lens and pinhole give the same picture.
    void aTinyLensIsAPinhole()
    {
        Trial trial = makeTrial("stalks");
        trial.camera.width = 96;
        trial.camera.height = 54;
        trial.lens.fStop = 5000.0;
        trial.lens.samples = 64;
        const auto passes = renderPasses(trial.scene, trial.camera, 64);
        const RgbaImage lens = renderLens(trial.scene, trial.camera, trial.lens);
        double difference = 0.0;
        for (std::size_t i = 0; i < lens.plane(1).size(); ++i)
            difference +=
                std::abs(static_cast<double>(lens.plane(1).pixels()[i] - passes.colour.plane(1).pixels()[i]));
        QVERIFY(difference / static_cast<double>(lens.plane(1).size()) < 1e-3);
    }

    void everyTrialCanBeBuiltAndUnknownOnesAreRefused()
    {
        QVERIFY(trialNames().size() >= 5 && keptOutTrialNames().size() >= 3);
        std::vector<std::string> names = trialNames();
        names.insert(names.end(), keptOutTrialNames().begin(), keptOutTrialNames().end());
        for (const std::string& name : names) {
            Trial trial = makeTrial(name);
            trial.camera.width = 64;
            trial.camera.height = 36;
            const auto passes = renderPasses(trial.scene, trial.camera, 16);
            QVERIFY(*std::max_element(passes.depth.pixels().begin(), passes.depth.pixels().end()) > 0.5F);
            for (const float v : passes.colour.plane(0).pixels())
                QVERIFY(std::isfinite(v) && v >= 0.F);
        }
        QVERIFY_EXCEPTION_THROWN((void)makeTrial("the sea"), Error);
    }

    void theGreenhouseHasTwoShotsWithADriftingCamera()
    {
        const Camera first = makeGreenhouse(1).camera;
        const Camera last = makeGreenhouse(GreenhouseFrame::cutFrame - 1).camera;
        const Camera second = makeGreenhouse(GreenhouseFrame::cutFrame).camera;
        QVERIFY(length(last.eye - first.eye) > 0.05F && length(last.eye - first.eye) < 0.5F);
        QVERIFY(length(second.eye - last.eye) > 0.5F); // the cut
        const GreenhouseFrame frame = makeGreenhouse(1);
        const auto& names = frame.scene.objects();
        for (const char* name : {"can", "orchids", "lattice"})
            QVERIFY(std::find(names.begin(), names.end(), name) != names.end());
    }
};

QTEST_APPLESS_MAIN(TestReference)
#include "test_reference.moc"
