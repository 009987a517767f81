// Subjects: places, distances read robustly, occlusion, tracking, and points of a glTF scene, on made
// pictures and on the demo.
#include "core/frame/depends_on.h"
#include "core/frame/places/subject_measure.h"
#include "core/passes/mattes/mattes.h"
#include "core/project/file/project_file.h"
#include "core/timeline/cut_detection.h"
#include "core/timeline/subject_distance.h"
#include "core/tracking/point_tracker.h"
#include "core/tracking/tracking_picture.h"
#include "reference/greenhouse.h"
#include "support/test_files.h"

#include <QTest>
#include <cmath>

using namespace retinex;
using namespace retinex::timeline;

class TestSubjects : public QObject
{
    Q_OBJECT

    /// A near bar from x 20 to 24 before a tilted plane; the left edge is a gap.
    static void scene(Plane<float>& distance, Plane<std::uint8_t>& gaps)
    {
        distance = Plane<float>(64, 48);
        gaps = Plane<std::uint8_t>(64, 48);
        for (int y = 0; y < 48; ++y)
            for (int x = 0; x < 64; ++x) {
                distance.at(x, y) = x >= 20 && x < 24 ? 1.F : 4.F + 0.01F * static_cast<float>(x);
                gaps.at(x, y) = x < 4 ? 1 : 0;
            }
    }

    static FrameSight sight(int frame, std::vector<SurfaceUnder> surfaces, bool isAnchor = false)
    {
        return {frame, isAnchor, std::move(surfaces)};
    }

    /// Speckles that do not repeat; shifted by whole and part pixels.
    static Plane<float> speckles(double shiftX, double shiftY)
    {
        Plane<float> picture(160, 120);
        for (int y = 0; y < 120; ++y)
            for (int x = 0; x < 160; ++x) {
                const double u = x + 0.5 - shiftX;
                const double v = y + 0.5 - shiftY;
                picture.at(x, y) = static_cast<float>(
                    0.5 + 0.12 * std::sin(0.61 * u + 0.2 * v) + 0.12 * std::sin(0.37 * v - 0.11 * u) +
                    0.12 * std::sin(0.23 * u + 0.71 * v) + 0.1 * std::sin(0.052 * u * v * 0.1));
            }
        return picture;
    }

    static Plane<float> noise(int seed)
    {
        Plane<float> picture(160, 120);
        auto state = static_cast<std::uint32_t>(seed) * 2654435761U;
        for (float& value : picture.pixels()) {
            state = state * 1664525U + 1013904223U; // a linear congruential generator
            value = static_cast<float>(state >> 8) / static_cast<float>(1U << 24);
        }
        return picture;
    }

private slots:
    void placesAreOnTheStraightWayAndStayAtTheEnds()
    {
        Subject subject{"can"};
        setPlace(subject, {10, 100.0, 50.0});
        setPlace(subject, {20, 200.0, 70.0});
        const FrameRange shot{1, 24};
        QCOMPARE(placeAt(subject, 15, shot)->x, 150.0);
        QCOMPARE(placeAt(subject, 15, shot)->y, 60.0);
        QCOMPARE(placeAt(subject, 3, shot)->x, 100.0);
        QCOMPARE(placeAt(subject, 24, shot)->x, 200.0);
        QVERIFY(!placeAt(subject, 30, {25, 48})); // another shot: it was never placed there
        // What was tracked goes before the straight way, what was set by hand before that.
        replaceTracked(subject, {11, 13},
                       {{11, 90.0, 50.0, 0.9}, {12, 80.0, 50.0, 0.8}, {13, 70.0, 50.0, 0.7}});
        QCOMPARE(placeAt(subject, 12, shot)->x, 80.0);
        QCOMPARE(placeAt(subject, 12, shot)->confidence, 0.8);
        QVERIFY(std::abs(placeAt(subject, 16.5, shot)->x - 135.0) < 1e-9); // from 70 at 13 to 200 at 20
        setPlace(subject, {12, 85.0, 51.0});
        QCOMPARE(placeAt(subject, 12, shot)->x, 85.0);
        replaceTracked(subject, {12, 24}, {});
        QCOMPARE(subject.tracked.size(), std::size_t(1));
    }

    void gapsAndOtherSurfacesAreLeftOut()
    {
        Plane<float> distance;
        Plane<std::uint8_t> gaps;
        scene(distance, gaps);
        Subject subject{"plane"};
        subject.radiusPx = 6.0;
        const auto both = surfacesUnder(subject, {1, 26.5, 24.0}, distance, gaps);
        QCOMPARE(both.size(), std::size_t(2));
        QCOMPARE(both[0].distance, 1.0);
        QVERIFY(!both[0].isMiddle && both[1].isMiddle);
        QVERIFY(std::abs(both[1].distance - 4.27) < 0.03);
        const auto onBar = surfacesUnder(subject, {1, 22.0, 24.0}, distance, gaps);
        QVERIFY(onBar[0].isMiddle);
        QVERIFY(surfacesUnder(subject, {1, 1.0, 24.0}, distance, gaps).size() == 1); // the rest are gaps
        QVERIFY(surfacesUnder(subject, {1, -50.0, 24.0}, distance, gaps).empty());
        // An outline of any number of corners: a triangle that leaves the bar out.
        subject.outline = {{0.0, -6.0}, {12.0, 6.0}, {0.0, 6.0}};
        QCOMPARE(surfacesUnder(subject, {1, 26.5, 24.0}, distance, gaps).size(), std::size_t(1));
    }

    // Something at 1 m passes before the subject, which comes from 4 to 3 m, on frames 4 to 6.
    void whatPassesInFrontIsNoticedAndBridged()
    {
        std::vector<FrameSight> sights;
        for (int frame = 1; frame <= 11; ++frame) {
            const double own = 4.0 - 0.1 * (frame - 1);
            if (frame >= 4 && frame <= 6)
                sights.push_back(sight(frame, {{1.0, 1.0, true}}));
            else if (frame == 8) // half hidden: the part of it that shows counts
                sights.push_back(sight(frame, {{1.0, 0.7, true}, {own, 0.3, false}}));
            else
                sights.push_back(sight(frame, {{own, 1.0, true}}, frame == 2));
        }
        const auto bridged = followDistance(sights, true);
        QCOMPARE(bridged.size(), std::size_t(11));
        for (const Sample& sample : bridged) {
            const bool hidden = sample.frame >= 4 && sample.frame <= 6;
            QCOMPARE(sample.sight, hidden ? Sight::bridged : Sight::measured);
            QVERIFY(std::abs(sample.distance - (4.0 - 0.1 * (sample.frame - 1))) < (hidden ? 0.02 : 1e-12));
        }
        const auto reported = followDistance(sights, false);
        QCOMPARE(reported[4].sight, Sight::hidden);
        QCOMPARE(reported[4].distance, 3.8); // the last one seen stands
        QVERIFY(followDistance({sight(1, {}), sight(2, {})}, true).empty());
    }

    // The point moves by (1.37, -0.81) px a frame: found to a twentieth of a px, there and back.
    void aPointIsFollowedToAPartOfAPixel()
    {
        const auto picture = [](int frame) { return speckles(1.37 * frame, -0.81 * frame); };
        const auto track = tracking::trackPoint(picture, {10, 60.0, 80.0}, 30);
        QCOMPARE(track.end, tracking::TrackEnd::done);
        QCOMPARE(track.places.size(), std::size_t(20));
        for (const Place& place : track.places) {
            QVERIFY(std::abs(place.x - (60.0 + 1.37 * (place.frame - 10))) < 0.05);
            QVERIFY(std::abs(place.y - (80.0 - 0.81 * (place.frame - 10))) < 0.05);
            QVERIFY(place.confidence > 0.95);
        }
        const auto back = tracking::trackPoint(picture, {30, 87.4, 63.8}, 10);
        QCOMPARE(back.places.front().frame, 10);
        QVERIFY(std::abs(back.places.front().x - 60.0) < 0.1);
        const auto out = tracking::trackPoint(picture, {10, 140.0, 80.0}, 60);
        QCOMPARE(out.end, tracking::TrackEnd::leftFrame);
        QVERIFY2(out.endFrame > 20 && out.endFrame < 27, qPrintable(QString::number(out.endFrame)));
        // From frame 15 on something else is there.
        const auto lost = tracking::trackPoint(
            [&](int frame) { return frame < 15 ? picture(frame) : noise(frame); }, {10, 60.0, 60.0}, 30);
        QCOMPARE(lost.end, tracking::TrackEnd::lost);
        QCOMPARE(lost.endFrame, 15);
        QCOMPARE(lost.places.size(), std::size_t(4));
    }

    void cutsStandOutFromWhatMoves()
    {
        std::vector<std::optional<FrameSketch>> sketches;
        for (int frame = 1; frame <= 40; ++frame) {
            RgbaImage colour(96, 54);
            for (int y = 0; y < 54; ++y)
                for (int x = 0; x < 96; ++x) {
                    const bool second = frame >= 23;
                    const double wave = std::sin(0.2 * (x + 2 * frame)) * (second ? 0.1 : 0.4);
                    colour.plane(0).at(x, y) = static_cast<float>(0.5 + wave + (second ? 0.4 : 0.0));
                    colour.plane(1).at(x, y) = static_cast<float>(0.5 + wave);
                    colour.plane(2).at(x, y) = second ? 0.9F : 0.1F;
                }
            sketches.emplace_back(sketchOf(colour));
        }
        QCOMPARE(proposedCuts(sketches, 1), std::vector<int>{23});
        sketches[22].reset(); // the first frame of the shot is missing: the cut is where it is seen
        QCOMPARE(proposedCuts(sketches, 1), std::vector<int>{24});
        QVERIFY(proposedCuts({}, 1).empty());
    }

    void theDemosCutIsFound()
    {
        const passes::PassSource source({RETINEX_DEMO "/greenhouse.####.exr", {}}, {{}, "Z"});
        std::vector<std::optional<FrameSketch>> sketches;
        for (int frame = 1; frame <= 48; ++frame)
            sketches.emplace_back(sketchOf(source.load(frame)->colour()));
        QCOMPARE(proposedCuts(sketches, 1), std::vector<int>{25});
    }

    // The demo's can is tracked through the drifting shot, and its distance read on each frame. The depth
    // pass under the can's matte says where it truly is: the distance must lie within the can's own, and
    // within the sharp zone that follows from it.
    void aTrackedSubjectStaysInFocusInTheDemo()
    {
        auto project = project::loadProject(RETINEX_DEMO "/greenhouse.retinex");
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        const auto can = middleOfCan(25);
        Subject subject{"can"};
        setPlace(subject, {25, can.first, can.second});
        const auto track = tracking::trackPoint(
            [&](int frame) { return tracking::trackingPicture(source.load(frame)->colour()); },
            subject.places.front(), 48);
        QVERIFY(track.places.size() >= 20);
        replaceTracked(subject, {25, 48}, track.places);
        project.subjects = {subject};
        QCOMPARE(frame::measureSubjects(project, source, false), std::vector<std::string>{"can"});
        QVERIFY(frame::measureSubjects(project, source, false).empty()); // nothing has changed since
        int followed = 0;
        for (int frame = 25; frame <= 48; ++frame) {
            const auto planes = passes::readExrChannels(QStringLiteral(RETINEX_DEMO "/greenhouse.%1.exr")
                                                            .arg(frame, 4, 10, QLatin1Char('0'))
                                                            .toStdString(),
                                                        0, {"matte.can", "Z"})
                                    .planes;
            float nearest = 1e9F;
            float farthest = 0.F;
            for (int y = 0; y < planes[0].height(); ++y)
                for (int x = 0; x < planes[0].width(); ++x)
                    if (planes[0].at(x, y) > 0.999F) {
                        nearest = std::min(nearest, planes[1].at(x, y));
                        farthest = std::max(farthest, planes[1].at(x, y));
                    }
            const Sample* sample = sampleOn(project.subjects[0], frame);
            QVERIFY2(sample, qPrintable(QString::number(frame)));
            if (sample->distance >= static_cast<double>(nearest) - 1e-3 &&
                sample->distance <= static_cast<double>(farthest) + 1e-3)
                ++followed;
        }
        QCOMPARE(followed, 24);
    }

    // A point of the scene: its distance is the tracer's, dot(point - eye, view axis), to 1e-4, and it is
    // seen where the depth pass holds that distance.
    void aPointOfTheSceneHasTheTracersDistance()
    {
        auto project = project::loadProject(RETINEX_DEMO "/greenhouse.retinex");
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        frame::measureSubjects(project, source, false);
        const auto scene = passes::SceneFile::load(RETINEX_DEMO "/greenhouse.gltf");
        for (const Subject& subject : project.subjects) {
            QCOMPARE(subject.samples.size(), std::size_t(48));
            const auto p = scene.position(scene.pointNamed(subject.scenePoint), 0.0);
            const reference::Vec point{static_cast<float>(p[0]), static_cast<float>(p[1]),
                                       static_cast<float>(p[2])};
            for (const Sample& sample : subject.samples) {
                const auto camera = reference::makeGreenhouse(sample.frame).camera;
                const double traced = dot(point - camera.eye, normalised(camera.target - camera.eye));
                QVERIFY(std::abs(sample.distance - traced) < 1e-4);
            }
            const auto seen = frame::seenPlace(project, subject, 1, &scene, 640, 360);
            const auto depth = source.loadDistance(1);
            QVERIFY(std::abs(static_cast<double>(
                                 depth.distance.at(static_cast<int>(seen->x), static_cast<int>(seen->y))) -
                             sample(subject, 1)) < 1e-3); // the stored pass is rounded to 11 bits
        }
    }

    // The sharp zone follows a bound mark through the drifting shot; with a fixed distance it does not hold.
    void boundFocusHoldsWhereAFixedDistanceDriftsOff()
    {
        auto project = project::loadProject(RETINEX_DEMO "/greenhouse.retinex");
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        frame::measureSubjects(project, source, true);
        const Subject& orchids = *project.subjectNamed("orchids");
        auto fixed = project;
        fixed.shots[1].tracks.clear();
        fixed.shots[1].settings.focusDistance = sample(orchids, 25);
        const auto framesInFocus = [&](const project::Project& which) {
            int count = 0;
            for (int frame = 25; frame <= 48; ++frame) {
                const auto zone =
                    optics::sharpZone(which.lensAt(frame, 640), which.valuesAt(frame).acceptedCocMm);
                const double at = which.millimetres(sample(orchids, frame));
                if (at >= zone.nearMm && at <= zone.farMm) ++count;
            }
            return count;
        };
        QCOMPARE(framesInFocus(project), 24);
        const int held = framesInFocus(fixed);
        QVERIFY2(held < 20, qPrintable(QString::number(held)));
        qInfo("in focus on 24 of 24 frames; with a fixed distance on %d; it comes from %.3f to %.3f m", held,
              sample(orchids, 25), sample(orchids, 48));
    }

    // A flower is tracked; where it truly is follows from the camera: the point that its first pixel shows,
    // seen from each later frame's camera. Focus bound to the tracked subject keeps it within the sharp zone.
    void focusBoundToATrackedSubjectHoldsToo()
    {
        auto project = project::loadProject(RETINEX_DEMO "/greenhouse.retinex");
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        const Place start{25, 331.5, 127.5};
        Subject flower{"flower"};
        flower.radiusPx = 4.0;
        setPlace(flower, start);
        const auto track = tracking::trackPoint(
            [&](int frame) { return tracking::trackingPicture(source.load(frame)->colour()); }, start, 48);
        replaceTracked(flower, {25, 48}, track.places);
        project.subjects = {flower};
        project.shots[1].tracks[project::setting::focusDistance] = {
            {25, 2.0, Ease::smooth, Ease::hold, Blend::evenBlur, "flower"}};
        frame::measureSubjects(project, source, true);
        QCOMPARE(track.end, tracking::TrackEnd::done);
        QCOMPARE(project.subjects[0].samples.size(), std::size_t(24));

        const auto first = reference::makeGreenhouse(25).camera;
        const reference::Vec forward = normalised(first.target - first.eye);
        const reference::Vec right = normalised(cross(forward, reference::Vec{0, 1, 0}));
        const float perPx = first.sensorWidthMm / first.focalLengthMm / 640.F;
        const float z = source.loadDistance(25).distance.at(331, 127);
        const reference::Vec point =
            first.eye + (forward + right * (static_cast<float>(start.x - 320.0) * perPx) +
                         cross(right, forward) * (static_cast<float>(180.0 - start.y) * perPx)) *
                            z;
        auto fixed = project;
        fixed.shots[1].tracks.clear();
        fixed.shots[1].settings.focusDistance = sample(project.subjects[0], 25);
        int bound = 0;
        int still = 0;
        for (int frame = 25; frame <= 48; ++frame) {
            const auto camera = reference::makeGreenhouse(frame).camera;
            const double truth =
                1000.0 * static_cast<double>(dot(point - camera.eye, normalised(camera.target - camera.eye)));
            for (const auto& [which, count] : {std::pair{&project, &bound}, std::pair{&fixed, &still}}) {
                const auto zone =
                    optics::sharpZone(which->lensAt(frame, 640), which->valuesAt(frame).acceptedCocMm);
                if (truth >= zone.nearMm && truth <= zone.farMm) ++*count;
            }
        }
        qInfo("tracked: in focus on %d of 24 frames, with a fixed distance on %d", bound, still);
        QCOMPARE(bound, 24);
        QVERIFY(still < 20);
    }

private:
    static double sample(const Subject& subject, int frame) { return sampleOn(subject, frame)->distance; }

    /// The pixel of the can that is nearest to the middle of its matte.
    static std::pair<double, double> middleOfCan(int frame)
    {
        const auto planes = passes::readExrChannels(QStringLiteral(RETINEX_DEMO "/greenhouse.%1.exr")
                                                        .arg(frame, 4, 10, QLatin1Char('0'))
                                                        .toStdString(),
                                                    0, {"matte.can"})
                                .planes;
        double sx = 0.0;
        double sy = 0.0;
        double count = 0.0;
        for (int y = 0; y < planes[0].height(); ++y)
            for (int x = 0; x < planes[0].width(); ++x)
                if (planes[0].at(x, y) > 0.999F) {
                    sx += x;
                    sy += y;
                    count += 1.0;
                }
        double best = 1e9;
        std::pair<double, double> found;
        for (int y = 0; y < planes[0].height(); ++y)
            for (int x = 0; x < planes[0].width(); ++x) {
                const double away = std::hypot(x - sx / count, y - sy / count);
                if (planes[0].at(x, y) > 0.999F && away < best) {
                    best = away;
                    found = {x + 0.5, y + 0.5};
                }
            }
        return found;
    }
};

QTEST_GUILESS_MAIN(TestSubjects)
#include "test_subjects.moc"
