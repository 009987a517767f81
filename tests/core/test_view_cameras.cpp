// Where frames were seen from, where no header says so: a scene file, motion vectors, the picture itself;
// against the tracer's own cameras.
#include "bench/measure.h"
#include "core/frame/depends_on.h"
#include "core/frame/others/other_frames.h"
#include "core/frame/render_frame.h"
#include "core/others/tracked_points.h"
#include "core/passes/file_state.h"
#include "core/passes/pass_roles.h"
#include "core/system/error.h"
#include "support/as_written.h"
#include "support/drift.h"

#include <ImathQuat.h>
#include <ImfHeader.h>
#include <ImfStandardAttributes.h>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <random>

using namespace retinex;
using others::FrameCamera;
using test::Frame;

namespace {

constexpr int kWidth = test::kDriftWidth;
constexpr int kHeight = test::kDriftHeight;

const reference::Trial& chain()
{
    static const reference::Trial trial = reference::makeTrial("chain before letters, 60 px");
    return trial;
}

/// Frames 1 to 11; the scene's own camera is that of frame 6.
const Frame& frameAt(int frame)
{
    static std::map<int, Frame> frames;
    if (!frames.contains(frame)) frames[frame] = test::frameOf(chain().scene, chain().camera, frame - 6);
    return frames.at(frame);
}

double fieldOfView()
{
    return 2.0 *
           std::atan(0.5 * static_cast<double>(chain().camera.sensorWidthMm / chain().camera.focalLengthMm)) *
           180.0 / M_PI;
}

/// How far a step that was solved puts points from where the tracer's cameras see them: px, the largest of
/// those at three distances.
double offBy(const others::CameraStep& step, const Frame& from, const Frame& to)
{
    const auto own = *FrameCamera::of(Imath::M44d(), kWidth, kHeight, fieldOfView());
    const auto solved = *FrameCamera::of(step.firstToSecond, kWidth, kHeight, fieldOfView());
    const auto a = from.view().camera;
    const auto b = to.view().camera;
    double most = 0.0;
    for (const double distance : {0.8, 1.5, 3.0})
        for (const auto& [x, y] : {std::pair(40.0, 30.0), {200.0, 110.0}, {360.0, 200.0}}) {
            const auto told = solved.see(own.pointAt(x, y, distance));
            const auto is = b.see(a.pointAt(x, y, distance));
            most = std::max(most, std::hypot(told.x - is.x, told.y - is.y));
        }
    return most;
}

/// Vectors as some renderer may write them.
MotionVectors asWritten(MotionVectors vectors, const others::MotionReading& reading)
{
    const double share = reading.unit == others::VectorUnit::halves ? 2.0 : 1.0;
    const bool isPx = reading.unit == others::VectorUnit::pixels;
    for (int i = 0; i < 2; ++i) {
        const bool isBack = i == 0 ? reading.isLeft : reading.isUp;
        const double unit = isPx ? 1.0 : share / (i == 0 ? kWidth : kHeight);
        for (float& v : vectors[static_cast<std::size_t>(i)].pixels())
            v *= static_cast<float>(isBack ? -unit : unit);
    }
    if (reading.isSwapped) std::swap(vectors[0], vectors[1]);
    return vectors;
}

} // namespace

class TestViewCameras : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const QString& name) const { return m_dir.filePath(name).toStdString(); }

    enum class Has { headers, vectorsToNext, vectorsToPrevious, nothing };
    void writeShot(const QString& name, Has has)
    {
        for (int frame = 1; frame <= 11; ++frame) {
            const Frame& made = frameAt(frame);
            std::optional<MotionVectors> vectors;
            if (has == Has::vectorsToNext) vectors = test::vectorsTo(made, frameAt(frame + 1));
            if (has == Has::vectorsToPrevious) vectors = test::vectorsTo(made, frameAt(frame - 1));
            test::writeFrame(path(name + QStringLiteral(".%1.exr").arg(frame, 4, 10, QLatin1Char('0'))), made,
                             has == Has::headers ? reference::headerOf(made.camera) : nullptr,
                             vectors ? &*vectors : nullptr);
        }
    }
    struct Opened
    {
        std::shared_ptr<project::Project> project;
        std::unique_ptr<passes::PassSource> source;

        [[nodiscard]] RgbaImage render(int frame) const
        {
            frame::FrameRequest request;
            request.project = project;
            request.frame = frame;
            return frame::renderFrame(*source, request).image;
        }
    };
    Opened open(const QString& name) const
    {
        // The tracer's numbers are compared as they are.
        Opened opened{nullptr,
                      std::make_unique<passes::PassSource>(passes::PassChoice{path(name + ".####.exr"), {}},
                                                           passes::PassChoice{}, test::asWritten())};
        opened.project = test::projectOf(*opened.source, chain());
        opened.project->passOptions = opened.source->options();
        return opened;
    }
    /// Edge band of frame 6 against the tracer.
    double quality(const RgbaImage& image) const
    {
        static const RgbaImage truth = [] {
            reference::LensSampling lens = chain().lens;
            lens.samples = 256;
            lens.mostRounds = 4;
            return reference::renderLens(chain().scene, frameAt(6).camera, lens);
        }();
        return bench::compare(image, truth, bench::edgeBand(frameAt(6).distance)).psnrEdge;
    }

private slots:
    // Points at known places, some of them wrong, tell a camera: turned and moved by known amounts.
    void pointsTellACamera()
    {
        Imath::M44d moved;
        moved.rotate(Imath::V3d(0.01, -0.02, 0.005));
        moved[3][0] = 0.03, moved[3][1] = -0.02, moved[3][2] = 0.05;
        const auto own = *FrameCamera::of(Imath::M44d(), kWidth, kHeight, 40.0, 1.5);
        const auto other = *FrameCamera::of(moved, kWidth, kHeight, 40.0, 1.5);
        std::mt19937 random(7);
        std::uniform_real_distribution<double> any(0.0, 1.0);
        std::vector<others::Match> matches;
        for (int i = 0; i < 200; ++i) {
            const double x = any(random) * kWidth;
            const double y = any(random) * kHeight;
            const double distance = 1.0 + 4.0 * any(random);
            const auto seen = other.see(own.pointAt(x, y, distance));
            const double wrong = i % 5 == 0 ? 5.0 + 20.0 * any(random) : 0.0;
            matches.push_back({x, y, distance, seen.x + wrong, seen.y - wrong});
        }
        const auto step = others::solveCamera(matches, kWidth, kHeight, 40.0, 1.5);
        QVERIFY(step && step->isGood());
        QVERIFY2(step->errorPx < 0.01 && std::abs(step->agree - 0.8) < 0.02,
                 qPrintable(QStringLiteral("%1 px, %2").arg(step->errorPx).arg(step->agree)));
        QVERIFY(step->firstToSecond.equalWithAbsError(moved, 1e-4));
        for (others::Match& match : matches)
            match.toX = any(random) * kWidth;
        const auto lost = others::solveCamera(matches, kWidth, kHeight, 40.0, 1.5);
        QVERIFY(!lost || !lost->isGood());
        QVERIFY(!others::solveCamera(std::span(matches).first(5), kWidth, kHeight, 40.0));
    }

    void thePictureTellsACamera()
    {
        const Frame& from = frameAt(6);
        const Frame& to = frameAt(7);
        const auto matches = others::trackedPoints(from.colour, from.distance, to.colour);
        const auto step = others::solveCamera(matches, kWidth, kHeight, fieldOfView());
        QVERIFY2(step && step->isGood(), qPrintable(QString::number(matches.size())));
        qInfo("%d points, %.3f px by its own account, %.3f px off", static_cast<int>(matches.size()),
              step->errorPx, offBy(*step, from, to));
        QVERIFY(offBy(*step, from, to) < 0.25);
        // Frames of which one is not the other's.
        const RgbaImage black(kWidth, kHeight);
        QVERIFY(others::trackedPoints(from.colour, from.distance, black).size() < 24);
    }

    void vectorsAreRead_data()
    {
        using namespace others;
        QTest::addColumn<MotionReading>("reading");
        const auto row = [](const char* name, const MotionReading& reading) {
            QTest::newRow(name) << reading;
        };
        row("px to next", {VectorsTo::next, VectorUnit::pixels, false, false, false});
        row("px to next, y up", {VectorsTo::next, VectorUnit::pixels, false, false, true});
        row("px to previous, y up", {VectorsTo::previous, VectorUnit::pixels, false, false, true});
        row("px from previous", {VectorsTo::previous, VectorUnit::pixels, false, true, true});
        row("shares to next, swapped", {VectorsTo::next, VectorUnit::shares, true, false, false});
        row("halves to previous", {VectorsTo::previous, VectorUnit::halves, false, false, true});
    }
    // The camera goes right and a little down here, so that both signs show.
    void vectorsAreRead()
    {
        QFETCH(others::MotionReading, reading);
        static const std::array<Frame, 3> frames = [] {
            std::array<Frame, 3> made;
            for (int i = 0; i < 3; ++i) {
                reference::Camera camera = chain().camera;
                const auto at = static_cast<float>(i - 1);
                const float down = 0.004F * at + 0.002F * at * at; // unevenly
                camera.eye.y -= down;
                camera.target.y -= down;
                made[static_cast<std::size_t>(i)] = test::frameOf(chain().scene, camera, i - 1);
            }
            return made;
        }();
        const bool isNext = reading.to == others::VectorsTo::next;
        const MotionVectors exact = test::vectorsTo(frames[1], frames[isNext ? 2 : 0]);
        const auto proposal = others::proposeMotion(frames[1].colour, asWritten(exact, reading),
                                                    &frames[2].colour, &frames[0].colour);
        QVERIFY(proposal.has_value());
        for (const std::string& reason : proposal->reasons)
            qInfo("%s", reason.c_str());
        QVERIFY2(proposal->agrees > others::MotionProposal::kLeast,
                 qPrintable(QString::number(proposal->agrees)));
        QVERIFY2(proposal->reading == reading, proposal->reading.inWords().c_str());
        QCOMPARE(proposal->reasons.size(), std::size_t(2));
        const auto step = others::solveCamera(
            others::vectorMatches(asWritten(exact, reading), frames[1].distance, proposal->reading), kWidth,
            kHeight, fieldOfView());
        QVERIFY(step && step->isGood());
        QVERIFY2(offBy(*step, frames[1], frames[isNext ? 2 : 0]) < 0.05,
                 qPrintable(QString::number(offBy(*step, frames[1], frames[isNext ? 2 : 0]))));
    }

    void stillVectorsTellNothing()
    {
        const MotionVectors none{Plane<float>(kWidth, kHeight), Plane<float>(kWidth, kHeight)};
        QVERIFY(!others::proposeMotion(frameAt(6).colour, none, &frameAt(7).colour, nullptr));
    }

    // Whoever tells the camera, the picture is about as good as with the one in the headers.
    void eachTellsAsMuch()
    {
        writeShot("headers", Has::headers);
        writeShot("next", Has::vectorsToNext);
        writeShot("previous", Has::vectorsToPrevious);
        writeShot("nothing", Has::nothing);
        const Opened headers = open("headers");
        const double best = quality(headers.render(6));
        headers.project->base().otherFrames = others::OtherFrames::off;
        const double single = quality(headers.render(6));
        qInfo("single %.2f dB, cameras in headers %.2f dB", single, best);
        QVERIFY(best > single + 2.0);
        const auto check = [&](const Opened& opened, frame::CameraFrom from, const char* words) {
            const auto report = frame::reportOthers(*opened.source, *opened.project, 6, {});
            const double its = quality(opened.render(6));
            qInfo("%s: %.4f dB. %s", words, its, report.inWords().c_str());
            QCOMPARE(static_cast<int>(report.from), static_cast<int>(from));
            QVERIFY2(report.inWords().find(words) != std::string::npos, report.inWords().c_str());
            QVERIFY2(its > best - 0.5, qPrintable(QString::number(its)));
        };
        const Opened next = open("next");
        check(next, frame::CameraFrom::vectors, "motion vectors");
        check(open("previous"), frame::CameraFrom::vectors, "motion vectors");
        const auto findings =
            frame::othersFindings(frame::reportOthers(*next.source, *next.project, 6, {}), 6);
        QVERIFY(std::ranges::any_of(findings, [](const auto& each) { return each.key == "motion-vectors"; }));
        const Opened nothing = open("nothing");
        check(nothing, frame::CameraFrom::picture, "from the picture");
        // In any order, and with nothing kept.
        const RgbaImage sixth = nothing.render(6);
        const Opened again = open("nothing");
        (void)again.render(9);
        QVERIFY(std::ranges::equal(sixth.plane(1).pixels(), again.render(6).plane(1).pixels()));

        nothing.project->scene.file = writeScene();
        nothing.project->scene.frameAtZero = 1.0;
        check(nothing, frame::CameraFrom::sceneFile, "scene file");
    }

    void aCameraThatStandsStillOrCannotBeToldIsSaid()
    {
        const RgbaImage black(kWidth, kHeight);
        const Frame blank{frameAt(6).camera, black, frameAt(6).distance};
        for (int frame = 1; frame <= 3; ++frame) {
            test::writeFrame(path(QStringLiteral("still.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))),
                             frameAt(6), nullptr);
            test::writeFrame(path(QStringLiteral("blank.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))), blank,
                             nullptr);
        }
        for (const auto& [name, words] : {std::pair("still", "stands still"), {"blank", "tells no camera"}}) {
            const Opened opened = open(QLatin1String(name));
            const auto report = frame::reportOthers(*opened.source, *opened.project, 2, {});
            QVERIFY2(report.inWords().find(words) != std::string::npos, report.inWords().c_str());
            QVERIFY(report.frames.empty());
            QVERIFY(frame::othersFindings(report, 2).empty());
        }
    }

    // Vectors in files of their own are found by name or named, and read; what does not fit is said.
    void vectorsMayHaveFilesOfTheirOwn()
    {
        writeShot("plain", Has::nothing);
        for (int frame = 1; frame <= 11; ++frame) {
            const MotionVectors vectors = test::vectorsTo(frameAt(frame), frameAt(frame + 1));
            passes::ExrOutput output;
            output.channels = {{"X", &vectors[0]}, {"Y", &vectors[1]}};
            output.type = passes::SampleType::float32;
            passes::writeExr(path(QStringLiteral("plain.motion.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))),
                             output);
        }
        const auto sorted = passes::sortIntoRoles({path("plain.motion.0003.exr"), path("plain.0003.exr")});
        QCOMPARE(sorted.colour.file.filename().string(), std::string("plain.####.exr"));
        QCOMPARE(sorted.motion.filename().string(), std::string("plain.motion.####.exr"));
        QVERIFY(sorted.leftAside().empty() && sorted.mattes.empty());
        Opened opened = open("plain");
        opened.project->passOptions.motion.file = sorted.motion;
        const auto reopen = [&] {
            opened.source = std::make_unique<passes::PassSource>(
                opened.project->colour, opened.project->depth, opened.project->passOptions);
        };
        reopen();
        const auto report = frame::reportOthers(*opened.source, *opened.project, 6, {});
        QCOMPARE(static_cast<int>(report.from), static_cast<int>(frame::CameraFrom::vectors));
        QVERIFY(report.vectors && report.fits && !report.isUnsolved);
        const auto ready = [&] {
            return frame::fingerprint(*opened.source, *opened.project, 6, project::Stage::lensInput);
        };
        const std::string before = ready();

        // A frame without: done without from there on. Of another size: said by whoever reads it.
        const RgbaImage small(32, 18);
        passes::ExrOutput other;
        other.image = &small;
        passes::writeExr(path("plain.motion.0007.exr"), other);
        QVERIFY(ready() != before);
        reopen();
        QVERIFY(!opened.render(6).empty());
        QVERIFY_EXCEPTION_THROWN((void)opened.source->loadMotion(7), Error);
        opened.project->passOptions.motion.name = "nowhere";
        try {
            reopen();
            QFAIL("there is no such layer");
        } catch (const Error& error) {
            QVERIFY2(std::string(error.what()).find("nowhere") != std::string::npos, error.what());
        }
    }

private:
    /// The tracer's camera as a glTF 2.0 node below one that moves with the drift, from frame 1 on.
    std::string writeScene() const
    {
        const Imath::M44d toCamera(Imf::worldToCamera(*reference::headerOf(frameAt(6).camera)));
        Imath::M44d toWorld = toCamera.inverse();
        for (int c = 0; c < 3; ++c)
            toWorld[2][c] = -toWorld[2][c]; // a glTF camera looks along its -z
        QStringList numbers;
        for (int r = 0; r < 4; ++r)
            for (int c = 0; c < 4; ++c)
                numbers.append(QString::number(toWorld[r][c], 'g', 17));
        const std::array<float, 8> keys{0.F, 1.F, -5.F * test::kDrift, 0.F, 0.F, 19.F * test::kDrift,
                                        0.F, 0.F};
        const QByteArray data =
            QByteArray(reinterpret_cast<const char*>(keys.data()), sizeof keys).toBase64(); // NOLINT: bytes
        const double yfov = 2.0 * std::atan(std::tan(0.5 * fieldOfView() * M_PI / 180.0) * kHeight / kWidth);
        const QString text = QStringLiteral(R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],
"nodes":[{"name":"track","children":[1]},{"name":"main","camera":0,"matrix":[%1]}],
"cameras":[{"type":"perspective","perspective":{"yfov":%2,"znear":0.1}}],
"buffers":[{"byteLength":32,"uri":"data:application/octet-stream;base64,%3"}],
"bufferViews":[{"buffer":0,"byteOffset":0,"byteLength":8},{"buffer":0,"byteOffset":8,"byteLength":24}],
"accessors":[{"bufferView":0,"componentType":5126,"count":2,"type":"SCALAR","min":[0],"max":[1]},
{"bufferView":1,"componentType":5126,"count":2,"type":"VEC3"}],
"animations":[{"samplers":[{"input":0,"output":1}],
"channels":[{"sampler":0,"target":{"node":0,"path":"translation"}}]}]})")
                                 .arg(numbers.join(QLatin1Char(',')))
                                 .arg(yfov, 0, 'g', 17)
                                 .arg(QString::fromLatin1(data));
        QFile file(m_dir.filePath("scene.gltf"));
        if (!file.open(QIODevice::WriteOnly)) qFatal("cannot write");
        file.write(text.toUtf8());
        return file.fileName().toStdString();
    }
};

QTEST_APPLESS_MAIN(TestViewCameras)
#include "test_view_cameras.moc"
