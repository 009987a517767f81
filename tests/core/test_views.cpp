// More than one view: what other frames of a drifting camera show of what a frame hides, against the tracer.
#include "bench/measure.h"
#include "core/delivery/deliver.h"
#include "core/delivery/frame_record.h"
#include "core/delivery/project_check.h"
#include "core/frame/others/other_frames.h"
#include "core/frame/render_frame.h"
#include "core/others/look_behind.h"
#include "reference/camera_header.h"
#include "reference/scenes.h"
#include "reference/shapes.h"
#include "support/drift.h"
#include "support/test_files.h"

#include <ImfHeader.h>
#include <ImfStandardAttributes.h>
#include <QFile>
#include <QTest>
#include <cmath>
#include <functional>

using namespace retinex;
using others::FrameCamera;

namespace {

using test::Frame;
using test::frameOf;
constexpr int kWidth = test::kDriftWidth;
constexpr int kHeight = test::kDriftHeight;

/// A scene that may change from frame to frame, and its lens.
struct Shot
{
    reference::Trial trial;
    std::map<int, Frame> frames;
    RgbaImage truth;
    defocus::LensSettings settings;

    explicit Shot(const std::function<reference::Trial(int)>& at) : trial(at(0))
    {
        for (const int frame : {-5, -2, 0, 1, 2, 5})
            frames[frame] = frameOf(at(frame).scene, trial.camera, frame);
        trial.lens.samples = 256;
        trial.lens.mostRounds = 4;
        truth = reference::renderLens(trial.scene, frames[0].camera, trial.lens);
        settings = reference::engineSettings(frames[0].camera, trial.lens);
    }
    [[nodiscard]] SeenBehindPtr seen(const std::vector<others::View>& neighbours,
                                     std::vector<others::Agreement>* agreements = nullptr) const
    {
        return others::lookBehind(frames.at(0).view(), neighbours, settings.blurModel(kWidth), {},
                                  agreements);
    }
    [[nodiscard]] std::vector<others::View> neighbours() const
    {
        return {frames.at(-2).view(), frames.at(2).view(), frames.at(-5).view(), frames.at(5).view()};
    }
    [[nodiscard]] bench::Quality quality(const SeenBehindPtr& seen) const
    {
        const Frame& frame = frames.at(0);
        defocus::LensInput input(frame.colour, frame.distance);
        input.setSeenBehind(seen);
        return bench::compare(defocus::defocus(input, settings), truth, bench::edgeBand(frame.distance));
    }
};

const Shot& chain()
{
    static const Shot shot([](int) { return reference::makeTrial("chain before letters, 60 px"); });
    return shot;
}

} // namespace

class TestViews : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const QString& name) const { return m_dir.filePath(name).toStdString(); }

    /// Frames 1 to 11 of the chain, with cameras in their headers that drift `scale` times as fast.
    void writeShot(const QString& name, float scale = 1.F)
    {
        for (int frame = 1; frame <= 11; ++frame) {
            const Frame made = frameOf(chain().trial.scene, chain().trial.camera, frame - 6);
            reference::Camera camera = made.camera;
            camera.eye.x *= scale;
            camera.target.x *= scale;
            test::writeFrame(path(name + QStringLiteral(".%1.exr").arg(frame, 4, 10, QLatin1Char('0'))), made,
                             reference::headerOf(camera));
        }
    }
    std::shared_ptr<project::Project> project(const QString& name) const
    {
        return test::projectOf(passes::PassSource({path(name + ".####.exr"), {}}, {}), chain().trial);
    }

    static frame::FrameRequest requestOf(const std::shared_ptr<project::Project>& project, int frame)
    {
        frame::FrameRequest request;
        request.project = project;
        request.frame = frame;
        return request;
    }

private slots:
    // Points go to pixels and back; matrices from -1 to 1, and worldToCamera with a field of view, tell the
    // same.
    void camerasTakePixelsToPointsAndBack()
    {
        reference::Camera camera{{0.3F, -0.2F, 1.F}, {0.1F, 0.F, -2.F}, 40.F, 36.F, kWidth, kHeight};
        const auto header = reference::headerOf(camera);
        const auto view = FrameCamera::of(header, kWidth, kHeight, 0.0);
        QVERIFY(view.has_value());
        const auto point = view->pointAt(123.4, 56.7, 2.5);
        const auto back = view->see(point);
        QVERIFY(std::abs(back.x - 123.4) < 1e-3 && std::abs(back.y - 56.7) < 1e-3 &&
                std::abs(back.distance - 2.5) < 1e-5);
        // The middle of the picture looks at the target; a point above it is seen above.
        const auto middle = view->see({0.1, 0.0, -2.0});
        QVERIFY(std::abs(middle.x - 0.5 * kWidth) < 1e-3 && std::abs(middle.y - 0.5 * kHeight) < 1e-3);
        QVERIFY(view->see({0.1, 0.1, -2.0}).y < middle.y && view->see({0.2, 0.0, -2.0}).x > middle.x);
        auto other = std::make_shared<Imf::Header>(kWidth, kHeight);
        const Imath::M44f centred(2.F, 0.F, 0.F, 0.F, 0.F, -2.F, 0.F, 0.F, 0.F, 0.F, 1.F, 0.F, -1.F, 1.F, 0.F,
                                  1.F);
        Imf::addWorldToNDC(*other, Imf::worldToNDC(*header) * centred);
        auto third = std::make_shared<Imf::Header>(kWidth, kHeight);
        Imf::addWorldToCamera(*third, Imf::worldToCamera(*header));
        const double degrees = 2.0 * std::atan(18.0 / 40.0) * 180.0 / std::numbers::pi;
        for (const auto& same : {FrameCamera::of(other, kWidth, kHeight, 0.0),
                                 FrameCamera::of(third, kWidth, kHeight, degrees)}) {
            QVERIFY(same.has_value());
            const auto seen = same->see(point);
            QVERIFY2(std::abs(seen.x - 123.4) < 1e-2 && std::abs(seen.y - 56.7) < 1e-2 &&
                         std::abs(seen.distance - 2.5) < 1e-4,
                     qPrintable(QStringLiteral("%1 %2 %3").arg(seen.x).arg(seen.y).arg(seen.distance)));
        }
        QVERIFY(!FrameCamera::of(passes::HeaderPtr(), kWidth, kHeight, 40.0));
        QVERIFY(!FrameCamera::of(std::make_shared<Imf::Header>(kWidth, kHeight), kWidth, kHeight, 40.0));
    }

    void neighboursShowWhatIsHidden()
    {
        const auto single = chain().quality(nullptr);
        std::vector<others::Agreement> agreements;
        const auto more = chain().quality(chain().seen(chain().neighbours(), &agreements));
        qInfo("edge band: single %.2f dB, with neighbours %.2f dB", single.psnrEdge, more.psnrEdge);
        QVERIFY(more.psnrEdge > single.psnrEdge + 2.0);
        QVERIFY(more.falseShare <= single.falseShare);
        for (const auto& each : agreements)
            QVERIFY2(each.isGood() && each.agrees > 0.96, qPrintable(QString::number(each.agrees)));
    }

    // What is wrong is noticed, and does no harm.
    void aWrongCameraIsNoticed_data()
    {
        QTest::addColumn<int>("kind");
        QTest::newRow("another scale") << 0;
        QTest::newRow("another axis") << 1;
        QTest::newRow("the next frame's") << 2;
    }
    void aWrongCameraIsNoticed()
    {
        QFETCH(int, kind);
        std::vector<others::View> neighbours;
        for (const int frame : {-2, 2, -5, 5}) {
            reference::Camera camera = chain().frames.at(frame).camera;
            const reference::Camera& own = chain().frames.at(0).camera;
            const auto moved = camera.eye - own.eye;
            if (kind == 0) camera.eye = own.eye + moved * 10.F;
            if (kind == 1) camera.eye = own.eye + reference::Vec{0.F, moved.x, 0.F};
            if (kind == 2) camera.eye = camera.eye + reference::Vec{0.008F, 0.F, 0.F};
            camera.target = camera.eye + (own.target - own.eye);
            neighbours.push_back(chain().frames.at(frame).view(
                FrameCamera::of(reference::headerOf(camera), kWidth, kHeight, 0.0)));
        }
        std::vector<others::Agreement> agreements;
        const auto seen = chain().seen(neighbours, &agreements);
        for (const auto& each : agreements)
            qInfo("agrees %.2f of %d", each.agrees, each.placed);
        QVERIFY(std::ranges::any_of(agreements, [](const auto& each) { return !each.isGood(); }));
        const double loss = chain().quality(nullptr).psnrEdge - chain().quality(seen).psnrEdge;
        QVERIFY2(loss <= 0.05, qPrintable(QString::number(loss)));
    }

    void thingsThatMoveLeaveNoGhosts()
    {
        const Shot shot([](int frame) {
            reference::Trial trial = reference::makeTrial("ball behind a bar, 60 px");
            // A red ball that rolls by behind the bars.
            const int skin =
                trial.scene.addMaterial({{0.8F, 0.05F, 0.04F}, {}, reference::Pattern::plain, 1.F, {}});
            const int object = trial.scene.addObject("roller");
            trial.scene.add(reference::sphere({0.08F * static_cast<float>(frame) - 0.1F, -0.28F, -1.8F},
                                              0.08F, {skin, object}, 48));
            trial.scene.commit();
            return trial;
        });
        const auto single = shot.quality(nullptr);
        const auto more = shot.quality(shot.seen(shot.neighbours()));
        qInfo("single %.2f dB, %.3f %%; more %.2f dB, %.3f %%", single.psnrEdge, 100.0 * single.falseShare,
              more.psnrEdge, 100.0 * more.falseShare);
        QVERIFY(more.falseShare <= single.falseShare + 1e-5);
        QVERIFY(more.psnrEdge > single.psnrEdge - 0.05);
    }

    void lightThatChangesDoesNotFlickerIn()
    {
        std::vector<Frame> brighter;
        std::vector<others::View> neighbours;
        for (const int frame : {-2, 2, -5, 5}) {
            brighter.push_back(chain().frames.at(frame));
            for (int c = 0; c < 3; ++c)
                for (float& value : brighter.back().colour.plane(c).pixels())
                    value *= 1.2F;
        }
        for (const Frame& frame : brighter)
            neighbours.push_back(frame.view());
        const auto same = chain().quality(chain().seen(chain().neighbours()));
        const auto changed = chain().quality(chain().seen(neighbours));
        QVERIFY2(changed.psnrEdge > same.psnrEdge - 0.3, qPrintable(QString::number(changed.psnrEdge)));
    }

    // As part of a frame: the same in any order, within a shot, without neighbours that are missing, made
    // anew as they change.
    void framesLookAtTheirNeighbours()
    {
        writeShot("shot");
        const auto set = project("shot");
        const passes::PassSource source(set->colour, set->depth, set->passOptions);
        const auto render = [&](int frame) {
            return frame::renderFrame(source, requestOf(set, frame)).image;
        };
        const auto same = [](const RgbaImage& a, const RgbaImage& b) {
            return std::ranges::equal(a.plane(0).pixels(), b.plane(0).pixels());
        };
        QVERIFY(frame::othersFindings(frame::reportOthers(source, *set, 6, {}), 6).empty());
        const RgbaImage near = render(6);
        const auto frames = frame::chosenOthers(source, *set, 6, *source.load(6));
        QVERIFY2(frames.size() >= 2, qPrintable(QString::number(frames.size())));
        (void)render(8);
        QVERIFY(same(near, render(6)));
        set->base().otherFrames = others::OtherFrames::off;
        const RgbaImage alone = render(6);
        QVERIFY(!same(near, alone));
        QVERIFY(frame::chosenOthers(source, *set, 6, *source.load(6)).empty());
        set->base().otherFrames = others::OtherFrames::farFrames;
        QVERIFY(frame::chosenOthers(source, *set, 6, *source.load(6)).size() >= frames.size());
        set->base().otherFrames = others::OtherFrames::nearFrames;

        project::Project cutBefore = *set;
        project::Shot second = cutBefore.shots.front();
        second.firstFrame = 6;
        cutBefore.shots.push_back(second);
        for (const int frame : frame::chosenOthers(source, cutBefore, 6, *source.load(6)))
            QVERIFY(frame > 6);

        const project::Delivery delivery;
        const std::string before = delivery::deliveryFingerprint(source, *set, delivery, 6);
        const std::string gone =
            path(QStringLiteral("shot.%1.exr").arg(frames.front(), 4, 10, QLatin1Char('0')));
        QVERIFY(QFile::rename(QString::fromStdString(gone), QString::fromStdString(gone) + ".away"));
        QVERIFY(delivery::deliveryFingerprint(source, *set, delivery, 6) != before);
        const passes::PassSource again(set->colour, set->depth, set->passOptions);
        const RgbaImage without = frame::renderFrame(again, requestOf(set, 6)).image;
        QVERIFY(!without.empty());
        QFile damaged(QString::fromStdString(gone));
        QVERIFY(damaged.open(QIODevice::WriteOnly));
        damaged.write("not a picture");
        damaged.close();
        const passes::PassSource third(set->colour, set->depth, set->passOptions);
        const auto result = frame::renderFrame(third, requestOf(set, 6));
        QVERIFY(same(result.image, without));
        QCOMPARE(result.unreadable, (std::vector<int>{frames.front()}));
        // Said once for all that look at it.
        std::vector<int> others{4, 5, 6, 7, 8};
        std::erase(others, frames.front());
        const auto report =
            delivery::deliver(third, delivery::usualJob(third, set, others, path("out.####.exr")));
        QCOMPARE(report.written, others);
        QCOMPARE(
            QString::fromStdString(frame::unreadableInWords(report.unreadable)),
            QStringLiteral("Frames %1 could not be looked at from others: what they would show is guessed.")
                .arg(frames.front()));
    }

    void camerasThatDoNotFitAreSaid()
    {
        writeShot("wrong", 8.F);
        const auto set = project("wrong");
        const passes::PassSource source(set->colour, set->depth, set->passOptions);
        const auto findings = frame::othersFindings(frame::reportOthers(source, *set, 6, {}), 6);
        QCOMPARE(findings.size(), std::size_t(1));
        QVERIFY2(findings.front().matter.find("do not fit the pictures") != std::string::npos,
                 findings.front().matter.c_str());
        const auto check = delivery::checkProject(*set, path("out"));
        QVERIFY(std::ranges::any_of(check.findings,
                                    [](const auto& each) { return each.key == "cameras-do-not-fit"; }) ||
                frame::chosenOthers(source, *set, 1, *source.load(1)).empty());
    }
};

QTEST_APPLESS_MAIN(TestViews)
#include "test_views.moc"
