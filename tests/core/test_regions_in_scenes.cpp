// Regions in traced scenes and at the edges of things: the demo's slanted sign, and what a guard's edge looks
// like.
#include "bench/measure.h"
#include "core/defocus/defocus.h"
#include "core/frame/kept_frames.h"
#include "core/frame/lay_in.h"
#include "core/frame/places/subject_measure.h"
#include "core/optics/thin_lens.h"
#include "core/project/file/project_file.h"
#include "core/project/names.h"
#include "core/regions/apply.h"
#include "reference/greenhouse.h"
#include "reference/scenes.h"

#include <QTest>
#include <cmath>
#include <map>

using namespace retinex;

namespace {

/// A thing before a ground, with an anti-aliased round edge; the colours of both are known everywhere.
struct ThingBeforeGround
{
    static constexpr int width = 200;
    static constexpr int height = 160;
    RgbaImage colour{width, height};
    Plane<float> coverage{width, height};
    Plane<float> thing{width, height}; ///< distances of what covers most
    RgbaImage ground{width, height};   ///< alone

    ThingBeforeGround(float near, float far) : thing(width, height, far)
    {
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                const float away = std::hypot(static_cast<float>(x) - 100.3F, static_cast<float>(y) - 79.6F);
                const float a = std::clamp(40.5F - away, 0.0F, 1.0F);
                coverage.at(x, y) = a;
                if (a >= 0.5F) thing.at(x, y) = near;
                for (int c = 0; c < 3; ++c) {
                    const float front = 0.7F + 0.2F * static_cast<float>((x / 3 + y / 5 + c) % 2);
                    const float back = 0.05F + 0.1F * static_cast<float>((x / 6 + y / 6 + c) % 2);
                    ground.plane(c).at(x, y) = back;
                    colour.plane(c).at(x, y) = a * front + (1.0F - a) * back;
                }
                colour.plane(3).at(x, y) = ground.plane(3).at(x, y) = 1.0F;
            }
    }
};

defocus::LensSettings lens(double focus)
{
    defocus::LensSettings settings;
    settings.lens = {50.0, 1.4, focus * 1000.0}; // framing as rendered: a blur goes by |1/d - 1/focus| alone
    return settings;
}

regions::Region withMatte()
{
    regions::Piece piece;
    piece.kind = regions::PieceKind::mattes;
    piece.mattes = {"matte"};
    regions::Region region;
    region.area = regions::Area({piece});
    return region;
}

regions::Changed applied(const regions::Region& region, const Plane<float>& distance,
                         const Plane<float>& matte)
{
    regions::Changed changed{distance, Plane<std::uint8_t>(distance.width(), distance.height())};
    const auto placed = regions::placed(region, 1, [](const std::string&, int) { return std::nullopt; });
    apply({placed},
          {PixelBox::at(0, 0, distance.width(), distance.height()), &distance, &changed.gaps,
           [&](const std::vector<std::string>&) { return matte; }},
          changed, {});
    return changed;
}

double largestDifference(const RgbaImage& a, const RgbaImage& b)
{
    double most = 0.0;
    for (int c = 0; c < 3; ++c)
        for (std::size_t i = 0; i < a.plane(c).size(); ++i)
            most = std::max(most,
                            static_cast<double>(std::abs(a.plane(c).pixels()[i] - b.plane(c).pixels()[i])));
    return most;
}

} // namespace

class TestRegionsInScenes : public QObject
{
    Q_OBJECT

    static project::Project signProject()
    {
        auto project = project::loadProject(RETINEX_DEMO "/greenhouse_sign.retinex");
        return project;
    }

    /// Frames on which the whole face lies in the sharp zone, and the least share of it that does.
    static std::pair<int, double> framesInTheSharpZone(const project::Project& project,
                                                       const passes::PassSource& source)
    {
        int count = 0;
        double least = 1.0;
        for (int frame = 25; frame <= 48; ++frame) {
            const auto zone =
                optics::sharpZone(project.lensAt(frame, 640), project.valuesAt(frame).acceptedCocMm);
            const auto distances = frame::frameDistance(source, project, frame);
            const auto objects = source.loadObjects(frame, {project.mattes.back()}, {});
            int all = 0;
            int inside = 0;
            for (int y = 0; y < objects->height; ++y)
                for (int x = 0; x < objects->width; ++x)
                    for (std::size_t i = objects->firstOf(x, y); i < objects->endOf(x, y); ++i) {
                        if (objects->samples[i].coverage < 0.5F) continue;
                        ++all;
                        const double at =
                            project.millimetres(static_cast<double>(distances.distance.at(x, y)));
                        if (at >= zone.nearMm && at <= zone.farMm) ++inside;
                    }
            if (all < 4000) return {-1, 0.0}; // the sign is seen in every frame
            least = std::min(least, static_cast<double>(inside) / all);
            if (inside == all) ++count;
        }
        return {count, least};
    }

private slots:
    // The patch hangs on the sign's four corners, which are points of the scene; focus rides on the distance
    // that it gives. Without it the same focus leaves the face leaning out of the zone at both sides.
    void theSlantedSignsFaceStaysInTheSharpZone()
    {
        auto project = signProject();
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        frame::measureSubjects(project, source, false);
        const auto with = framesInTheSharpZone(project, source);
        QCOMPARE(with.first, 24);
        auto without = project;
        without.shots[0].settings.regions[0].isOn = false;
        const auto leaning = framesInTheSharpZone(without, source);
        qInfo(
            "the face is in the sharp zone on %d of 24 frames with the patch, on %d without (%.0f %% of it)",
            with.first, leaning.first, 100.0 * leaning.second);
        QCOMPARE(leaning.first, 0);
        QVERIFY(leaning.second < 0.8);
    }

    // Measured over a region, a subject has the distance of the region's patch, on every frame, and is
    // measured anew when the region changes.
    void aSubjectOverARegionHasThePatchsDistance()
    {
        auto project = signProject();
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        frame::measureSubjects(project, source, false);
        QVERIFY(frame::measureSubjects(project, source, false).empty());
        const timeline::Subject& face = project.subjects.front();
        QCOMPARE(face.samples.size(), std::size_t(24));
        for (const int frame : {25, 33, 48}) {
            const auto depth = frame::frameDistance(source, project, frame);
            const auto place =
                *frame::seenPlace(project, project.subjects[1], frame,
                                  frame::KeptFrames::of(source).scene(project.scene.file).get(), 640, 360);
            const auto flat = depth.distance.at(static_cast<int>(place.x) + 8, static_cast<int>(place.y) + 8);
            QVERIFY(std::abs(sampleOn(face, frame)->distance - static_cast<double>(flat)) < 1e-6);
            // The sign's middle is there; the traced one's, from its corners.
            const auto camera = reference::makeGreenhouse(frame).camera;
            const auto corners = reference::signCorners();
            const auto middle = (corners[0] + corners[2]) * 0.5F;
            const double truth = dot(middle - camera.eye, normalised(camera.target - camera.eye));
            QVERIFY(std::abs(sampleOn(face, frame)->distance - truth) < 0.02);
        }
        auto& region = project.shots[0].settings.regions[0];
        region.patch = regions::PatchKind::number;
        region.distance = 1.75;
        QCOMPARE(frame::measureSubjects(project, source, false), std::vector<std::string>{"face"});
        QCOMPARE(sampleOn(project.subjects[0], 40)->distance, 1.75);
        // Its corners' places count as well: bound to another point, the area is another.
        region.patch = regions::PatchKind::offset;
        frame::measureSubjects(project, source, false);
        project.subjects[1].scenePoint = "orchids";
        const auto anew = frame::measureSubjects(project, source, false);
        QVERIFY(std::ranges::find(anew, "face") != anew.end());
        // A region that is gone: the shot has nothing to measure.
        project.shots[0].settings.regions.clear();
        frame::measureSubjects(project, source, false);
        QVERIFY(project.subjects[0].samples.empty());
    }

    void namesGoOnTogether()
    {
        auto project = signProject();
        auto& region = project.shots[0].settings.regions[0];
        region.follows = "face, sign top left";
        region.subject = "sign top left";
        project::renameSubject(project, "sign top left", "corner");
        project::renameSubject(project, "face", "front");
        QCOMPARE(region.follows, std::string("front, corner"));
        QCOMPARE(region.subject, std::string("corner"));
        QCOMPARE(region.area.pieces()[0].outline[0].points[0].subject, std::string("corner"));
        QCOMPARE(region.area.pieces()[0].outline[0].points[1].subject, std::string("sign top right"));
        QCOMPARE(project.shots[0].marks(project::setting::focusDistance).front().subject,
                 std::string("front"));
        project::renameRegion(project, 0, "sign", "board");
        QCOMPARE(region.name, std::string("board"));
        QCOMPARE(project.subjects[0].region, std::string("board"));
        // Another shot that still has a region of the old name keeps the subject.
        project.shots.push_back(project.shots[0]);
        project::renameRegion(project, 0, "sign", "plate");
        QCOMPARE(project.subjects[0].region, std::string("board"));
    }

    // The same sign built flat on to the camera, through the traced lens: the slanted one's distances with a
    // patch bring the picture as near to it as the flat one's own do. Both look the same through a pinhole.
    void aPatchedSignIsTheSignBuiltFlat()
    {
        constexpr int frame = 36;
        const auto slanted = reference::makeGreenhouse(frame);
        const auto flat = reference::makeGreenhouse(frame, reference::SignPose::flatOn);
        reference::Camera camera = slanted.camera;
        camera.width = 320;
        camera.height = 180;
        reference::LensSampling sampling{1.4, 1.6, {}, 256};
        const RgbaImage truth = reference::renderLens(flat.scene, camera, sampling);
        const auto ofSlanted = reference::renderPasses(slanted.scene, camera, 64);
        const auto ofFlat = reference::renderPasses(flat.scene, camera, 64);
        const Plane<float>* matte = nullptr;
        for (const auto& [name, plane] : ofSlanted.mattes)
            if (name == "sign") matte = &plane;
        QVERIFY(matte);
        auto settings = reference::engineSettings(camera, sampling);
        const auto distanceOf = [](const reference::Passes& passes) {
            return depth::toDistance(passes.depth).distance;
        };
        // Around the sign alone.
        Plane<float> around(camera.width, camera.height);
        for (int y = 12; y < camera.height - 12; ++y)
            for (int x = 12; x < camera.width - 12; ++x)
                for (int dy = -12; dy <= 12; dy += 6)
                    for (int dx = -12; dx <= 12; dx += 6)
                        if (matte->at(x + dx, y + dy) > 0.0F) around.at(x, y) = 1.0F;
        const auto quality = [&](const RgbaImage& colour, const Plane<float>& distance) {
            return bench::compare(defocus::defocus({colour, distance}, settings), truth, around).psnrEdge;
        };
        regions::Region region = withMatte();
        region.patch = regions::PatchKind::number;
        region.distance = reference::GreenhouseFrame::signDistance;
        const Plane<float> leaning = distanceOf(ofSlanted);
        const auto changed = applied(region, leaning, *matte);
        const double patched = quality(ofFlat.colour, changed.distance);
        const double own = quality(ofFlat.colour, distanceOf(ofFlat));
        const double left = quality(ofFlat.colour, leaning);
        qInfo("around the sign: with a patch %.2f dB, from passes built flat %.2f dB, left slanted %.2f dB",
              patched, own, left);
        QVERIFY(patched > own - 0.3);
        QVERIFY(patched > left + 1.5);
    }

    // A guarded thing is as sharp as one in focus, and its edge too: nothing of the blurred ground is left
    // sharp in its rim, and nothing of it runs out. Against the same with the thing put into focus.
    void aGuardedThingsEdgeIsThatOfASharpThing_data()
    {
        QTest::addColumn<double>("near");
        QTest::addColumn<double>("far");
        QTest::addColumn<double>("focus");
        QTest::addColumn<bool>("guardsGround");
        QTest::newRow("thing behind the focal plane, ground far") << 3.0 << 9.0 << 2.0 << false;
        QTest::newRow("thing nearer than focus, ground in front of it too") << 1.4 << 1.7 << 2.0 << false;
        QTest::newRow("ground guarded behind a blurred thing") << 1.2 << 6.0 << 2.0 << true;
    }
    void aGuardedThingsEdgeIsThatOfASharpThing()
    {
        QFETCH(double, near);
        QFETCH(double, far);
        QFETCH(double, focus);
        QFETCH(bool, guardsGround);
        const ThingBeforeGround made(static_cast<float>(near), static_cast<float>(far));
        regions::Region guard = withMatte();
        guard.share = 0.0;
        guard.inverted = guardsGround;
        const auto changed = applied(guard, made.thing, made.coverage);
        defocus::LensInput input(made.colour, made.thing);
        const auto settings = lens(focus);
        const RgbaImage blurred = defocus::defocus(input, settings);
        input.setBlurShare(changed.blur);
        const RgbaImage guarded = defocus::defocus(input, settings);
        // The guarded one in the focal plane, the other with the radius it has here.
        Plane<float> moved = made.thing;
        auto unlike = settings;
        if (guardsGround) {
            for (float& d : moved.pixels())
                if (d > 2.0F) d = static_cast<float>(focus);
        } else if (near > focus) {
            for (float& d : moved.pixels())
                if (d < 5.0F) d = static_cast<float>(focus);
        } else {
            // Focus on the thing; the ground lies behind it by as many dioptres as it has blur here.
            unlike.lens.focusDistanceMm = near * 1000.0;
            const double away = std::abs(1.0 / far - 1.0 / focus);
            for (float& d : moved.pixels())
                if (d > 1.5F) d = static_cast<float>(1.0 / (1.0 / near - away));
        }
        const RgbaImage sharp = defocus::defocus({made.colour, moved}, unlike);
        const double apart = largestDifference(guarded, sharp);
        const double without = largestDifference(blurred, sharp);
        qInfo("at most %.4f from the sharp one; without the guard %.3f", apart, without);
        QVERIFY(apart < 0.03);
        QVERIFY(without > 0.05);
    }
};

QTEST_GUILESS_MAIN(TestRegionsInScenes)
#include "test_regions_in_scenes.moc"
