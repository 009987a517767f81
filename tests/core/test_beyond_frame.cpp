// Frames whose files hold more than the frame: all planes have one extent, and every stage, view and measure
// sees the frame where it lies in them. The same picture without what lies beyond, by oiiotool, is the check.
#include "core/frame/kept_frames.h"
#include "core/frame/lay_in.h"
#include "core/frame/render_frame.h"
#include "core/passes/mattes/mattes.h"
#include "support/test_files.h"

#include <QTest>
#include <cmath>

using namespace retinex;

class TestBeyondFrame : public QObject
{
    Q_OBJECT

    static constexpr int kWidth = 64;
    static constexpr int kHeight = 48;
    static constexpr int kBeyond = 16; ///< px on each side

    QTemporaryDir m_dir;
    std::string path(const char* name) const { return m_dir.filePath(QLatin1String(name)).toStdString(); }

    struct Shot
    {
        std::shared_ptr<passes::PassSource> source;
        std::shared_ptr<project::Project> project;
    };
    Shot shot(const char* name) const
    {
        Shot made;
        made.source = std::make_shared<passes::PassSource>(passes::PassChoice{path(name), {}},
                                                           passes::PassChoice{{}, "Z"});
        made.project = std::make_shared<project::Project>();
        made.project->colour.file = path(name);
        made.project->depth.name = "Z";
        made.project->firstFrame = made.project->lastFrame = 1;
        made.project->mattes = {{path(name), "thing.a"}};
        made.project->base().focusDistance = 4.0;
        made.project->base().inserts.clear();
        return made;
    }
    /// What covers the matte lies 1 farther.
    static void addPatch(Shot& shot, double share = 1.0)
    {
        regions::Region region;
        region.id = region.name = "a";
        regions::Piece piece;
        piece.kind = regions::PieceKind::mattes;
        piece.mattes = {shot.project->mattes.front().title()};
        region.area = regions::Area({piece});
        region.patch = regions::PatchKind::offset;
        region.offset = 1.0;
        region.share = share;
        shot.project->base().regions = {region};
    }
    /// A card of one colour at a distance, over the middle of the frame.
    static void addCard(Shot& shot, double distance)
    {
        inserts::Insert card;
        card.id = card.name = "1";
        card.content = inserts::Content::colour;
        card.placing = inserts::Placing::upright;
        card.red = 1.0;
        card.moveX = 0.5 * kWidth;
        card.moveY = 0.5 * kHeight;
        card.widthPx = 20.0;
        card.distanceFrom = inserts::DistanceFrom::number;
        card.distance = distance;
        shot.project->base().inserts = {card};
    }

    template <class T>
    static bool same(const Plane<T>& a, const Plane<T>& b)
    {
        return a.width() == b.width() && a.height() == b.height() &&
               std::ranges::equal(a.pixels(), b.pixels());
    }

private slots:
    /// A wall at 5, a thing at 2 with a matte in the frame's upper left, a hole of depth 0 at its right, and
    /// a second thing that lies beyond the left edge.
    void initTestCase()
    {
        const QString folder = m_dir.path();
        const auto tool = [&](const QStringList& arguments) {
            const auto outcome = test::runProgram("oiiotool", arguments, folder);
            if (outcome.exitCode != 0) qWarning("%s", qPrintable(outcome.err));
            return outcome.exitCode;
        };
        const QString size =
            QStringLiteral("%1x%2-%3-%3").arg(kWidth + 2 * kBeyond).arg(kHeight + 2 * kBeyond).arg(kBeyond);
        QCOMPARE(tool({"--pattern", "constant:color=0.1,0.2,0.3,1,5,0", size, "6", "--chnames",
                       "R,G,B,A,Z,thing.a", "--fill:color=0.8,0.7,0.6,1,2,1", "12x10+4+6",
                       "--fill:color=0.3,0.3,0.3,1,0,0", "8x8+50+20", "--fill:color=0.9,0.1,0.1,1,3,1",
                       "6x20-12+10", "--fullsize", QStringLiteral("%1x%2+0+0").arg(kWidth).arg(kHeight), "-d",
                       "float", "-o", "over.exr"}),
                 0);
        QCOMPARE(tool({"over.exr", "--crop", QStringLiteral("%1x%2+0+0").arg(kWidth).arg(kHeight), "-o",
                       "frame.exr"}),
                 0);
    }

    void planesHaveOneExtentAndTheFrameIsAPartOfThem()
    {
        const auto over = shot("over.exr").source->load(1);
        const auto frame = shot("frame.exr").source->load(1);
        QVERIFY(over->raw->hasOverscan() && !frame->raw->hasOverscan());
        const int width = kWidth + 2 * kBeyond;
        QCOMPARE(over->raw->allColour.width(), width);
        QCOMPARE(over->raw->allStored.width(), width);
        QCOMPARE(over->allDistance.width(), width);
        QCOMPARE(over->allGaps.width(), width);
        QVERIFY(over->raw->frame == PixelBox::at(kBeyond, kBeyond, kWidth, kHeight));
        QVERIFY(over->raw->extent() == PixelBox::at(-kBeyond, -kBeyond, width, kHeight + 2 * kBeyond));
        QVERIFY(same(over->distance(), frame->distance()));
        QVERIFY(same(over->gaps(), frame->gaps()));
        QVERIFY(same(over->stored(), frame->stored()));
        for (int c = 0; c < RgbaImage::channels; ++c)
            QVERIFY(same(over->colour().plane(c), frame->colour().plane(c)));
        QCOMPARE(over->range.gapCount, frame->range.gapCount);
        QCOMPARE(over->range.nearest, frame->range.nearest);
        // Without more than the frame nothing is copied; with it, once.
        QCOMPARE(&frame->distance(), &frame->allDistance);
        QCOMPARE(&over->distance(), &over->distance());
        QCOMPARE(over->allDistance.at(kBeyond - 10, kBeyond + 12), 3.0F); // beyond the left edge
    }

    void aCopyThatChangesShowsWhatItHasBecome()
    {
        const auto over = shot("over.exr").source->load(1);
        QCOMPARE(over->distance().at(30, 30), 5.0F);
        passes::FramePasses changed(*over);
        changed.allDistance.at(kBeyond + 30, kBeyond + 30) = 7.0F;
        QCOMPARE(changed.distance().at(30, 30), 7.0F);
        QCOMPARE(over->distance().at(30, 30), 5.0F);
    }

    void regionsLieInTheFrame()
    {
        Shot over = shot("over.exr");
        Shot frame = shot("frame.exr");
        addPatch(over);
        addPatch(frame);
        const auto a = frame::framePasses(*over.source, *over.project, 1);
        const auto b = frame::framePasses(*frame.source, *frame.project, 1);
        QCOMPARE(b->distance().at(8, 8), 3.0F);
        QVERIFY(same(a->distance(), b->distance()));
        QCOMPARE(a->allDistance.at(kBeyond - 10, kBeyond + 12), 3.0F); // mattes end at the frame
        // What subjects are measured in, and the coarse picture.
        QVERIFY(same(frame::frameDistance(*over.source, *over.project, 1).distance, b->distance()));
        const auto small = frame::reducedFramePasses(*over.source, *over.project, 1, 2);
        QVERIFY(same(small->distance(),
                     frame::reducedFramePasses(*frame.source, *frame.project, 1, 2)->distance()));
        QCOMPARE(small->distance().width(), kWidth / 2);
    }

    void whatRegionsDoToBlurIsSeenInTheFrame()
    {
        Shot over = shot("over.exr");
        addPatch(over, 0.25);
        const auto passes = frame::framePasses(*over.source, *over.project, 1);
        QVERIFY(passes->allBlur && passes->blur());
        QCOMPARE(passes->allBlur->width(), kWidth + 2 * kBeyond);
        QCOMPARE(passes->blur()->width(), kWidth);
        QCOMPARE(passes->blur()->share.at(8, 8), 0.25F);
        QCOMPARE(passes->blur()->share.at(30, 30), 1.0F);
        QVERIFY(!frame::framePasses(*shot("over.exr").source, *shot("over.exr").project, 1)->blur());
    }

    void insertsLieInTheFrame()
    {
        for (const double distance : {1.5, 4.0}) {
            Shot over = shot("over.exr");
            Shot frame = shot("frame.exr");
            addCard(over, distance);
            addCard(frame, distance);
            const auto a = frame::framePasses(*over.source, *over.project, 1);
            const auto b = frame::framePasses(*frame.source, *frame.project, 1);
            QCOMPARE(b->distance().at(kWidth / 2, kHeight / 2), static_cast<float>(distance));
            QVERIFY(same(a->distance(), b->distance()));
            QVERIFY(same(a->gaps(), b->gaps()));
            QVERIFY(same(frame::frameDistance(*over.source, *over.project, 1).distance, a->distance()));
            QCOMPARE(a->laidIn->layers.front().colour.width(), kWidth + 2 * kBeyond);
            const auto picture = frame::renderFrame(*over.source, {over.project, 1}).image;
            QCOMPARE(picture.width(), kWidth);
            QVERIFY(picture.plane(0).at(kWidth / 2, kHeight / 2) > 0.8F);
        }
    }

    // Before the gap's patch a gap stays one wherever it lies; the frame's share is what is counted.
    void gapsOfTheFrameAreCounted()
    {
        const auto over = shot("over.exr").source->load(1);
        QCOMPARE(over->range.gapCount, std::size_t(64));
        QCOMPARE(over->range.pixelCount, std::size_t(kWidth) * kHeight);
        const auto alone = shot("over.exr").source->loadDistance(1);
        QCOMPARE(alone.gapCount, std::size_t(64));
        QVERIFY(same(alone.distance, over->distance()));
    }

    // A source keeps what stages make of its frames, of each kind its own, in one budget; letting go of
    // frames lets go of that too.
    void whatStagesMakeIsKeptBySource()
    {
        const auto budget = std::make_shared<MemoryBudget>();
        const passes::PassSource source({path("frame.exr"), {}}, {{}, "Z"}, {}, {budget, 0.5, 2});
        Shot scene = shot("frame.exr");
        addPatch(scene);
        const auto first = frame::framePasses(source, *scene.project, 1);
        QCOMPARE(frame::framePasses(source, *scene.project, 1), first);
        scene.project->base().regions.front().offset = 2.0;
        const auto second = frame::framePasses(source, *scene.project, 1);
        QVERIFY(second != first);
        QCOMPARE(second->distance().at(8, 8), 4.0F);
        QCOMPARE(&frame::KeptFrames::of(source), &frame::KeptFrames::of(source));
        const passes::PassSource other({path("frame.exr"), {}}, {{}, "Z"}, {}, {budget, 0.5, 2});
        QVERIFY(&frame::KeptFrames::of(other) != &frame::KeptFrames::of(source));
        const auto full = source.load(1);
        const auto half = frame::KeptFrames::of(source).reduced(full, 2);
        QCOMPARE(frame::KeptFrames::of(source).reduced(full, 2), half);
        QVERIFY(budget->bytes() > 0);
        source.forgetFrames();
        QCOMPARE(budget->bytes(), std::size_t(0));
        QVERIFY(frame::framePasses(source, *scene.project, 1) != second); // made anew
    }
};

QTEST_GUILESS_MAIN(TestBeyondFrame)
#include "test_beyond_frame.moc"
