#include "core/timeline/mark_edits.h"
#include "core/timeline/marks.h"
#include "core/timeline/transport.h"

#include <QTest>
#include <cmath>
#include <limits>

using namespace retinex::timeline;

class TestTimeline : public QObject
{
    Q_OBJECT

    static constexpr double kInfinity = std::numeric_limits<double>::infinity();

    static Mark mark(int frame, double value, Side arriving = Ease::smooth, Side leaving = Ease::smooth,
                     Blend blend = Blend::dioptre, const char* subject = "")
    {
        return {frame, value, arriving, leaving, blend, subject};
    }
    static double focus(const Marks& marks, double frame, double focalLength = 0.0)
    {
        return focusAt(marks, frame, focalLength,
                       [](const std::string& name, double at) {
                           if (name == "walker") return std::optional(1.0 + 0.1 * at);
                           if (name == "door") return std::optional(4.0);
                           return std::optional<double>();
                       })
            .value_or(-1.0);
    }

private slots:
    void playingGoesRoundStopsOrTurns()
    {
        const FrameRange range{10, 13};
        const auto played = [&](Loop loop, int from, int direction) {
            std::vector<int> frames;
            for (long step = 1; step <= 7; ++step)
                frames.push_back(frameAfter(range, loop, from, direction * step));
            return frames;
        };
        QCOMPARE(played(Loop::once, 11, 1), (std::vector<int>{12, 13, 13, 13, 13, 13, 13}));
        QCOMPARE(played(Loop::round, 11, 1), (std::vector<int>{12, 13, 10, 11, 12, 13, 10}));
        QCOMPARE(played(Loop::round, 11, -1), (std::vector<int>{10, 13, 12, 11, 10, 13, 12}));
        QCOMPARE(played(Loop::backAndForth, 11, 1), (std::vector<int>{12, 13, 12, 11, 10, 11, 12}));
        QCOMPARE(played(Loop::backAndForth, 11, -1), (std::vector<int>{10, 11, 12, 13, 12, 11, 10}));
        QCOMPARE(frameAfter(range, Loop::round, 99, 1), 11); // from elsewhere: as from the first
        QCOMPARE(frameAfter(range, Loop::round, 99, -1), 12);
        QCOMPARE(frameAfter(range, Loop::round, 10, 4'000'000'001L), 11);
        QCOMPARE(frameAfter({7, 7}, Loop::backAndForth, 7, 3), 7);
        QCOMPARE(framesAhead(range, Loop::round, 12, 1, 99), (std::vector<int>{13, 10, 11}));
        QCOMPARE(framesAhead(range, Loop::backAndForth, 12, 1, 99), (std::vector<int>{13, 11, 10}));
        QCOMPARE(framesAhead(range, Loop::round, 12, -1, 2), (std::vector<int>{11, 10}));
        QCOMPARE(framesAhead(range, Loop::once, 13, 1, 99), (std::vector<int>{}));
    }

    void noMarksNoValue()
    {
        QVERIFY(!valueAt({}, 3, Blend::plain).has_value());
        QCOMPARE(focus({}, 3), -1.0);
    }

    void heldBeforeTheFirstAndAfterTheLast()
    {
        const Marks marks{mark(10, 2.0), mark(20, 8.0)};
        QCOMPARE(focus(marks, 1), 2.0);
        QCOMPARE(focus(marks, 10), 2.0);
        QCOMPARE(focus(marks, 20), 8.0);
        QCOMPARE(focus(marks, 99), 8.0);
    }

    // By hand. Halfway from 2 to 8: 5 in distance; in dioptres 5/16, so 3.2. An f-stop from 2 to 8 is four
    // stops: halfway is f/4. Even blur, f 1/20 from 1 to infinity: image distances 1/19 and 1/20, their
    // middle 39/760, and back by s = v f / (v - f): 39/20.
    void whatRunsEvenly()
    {
        QCOMPARE(blended(Blend::plain, 2.0, 8.0, 0.5), 5.0);
        QCOMPARE(blended(Blend::distance, 2.0, 8.0, 0.5), 5.0);
        QCOMPARE(blended(Blend::dioptre, 2.0, 8.0, 0.5), 3.2);
        QCOMPARE(blended(Blend::ratio, 2.0, 8.0, 0.5), 4.0);
        QVERIFY(std::abs(blended(Blend::evenBlur, 1.0, kInfinity, 0.5, 0.05) - 1.95) < 1e-12);
        QCOMPARE(blended(Blend::dioptre, 2.0, kInfinity, 0.5), 4.0);
        QCOMPARE(blended(Blend::distance, 2.0, kInfinity, 0.5), 4.0); // there is no half of infinity
        for (const Blend blend :
             {Blend::plain, Blend::ratio, Blend::distance, Blend::dioptre, Blend::evenBlur}) {
            QCOMPARE(*retinex::fromWord<Blend>(retinex::wordOf(blend)), blend);
            const double value = blended(blend, 2.0, 8.0, 0.3, 0.05);
            QVERIFY(std::abs(shareOfWay(blend, 2.0, 8.0, value, 0.05) - 0.3) < 1e-12);
            QCOMPARE(blended(blend, 2.0, 8.0, 1.0, 0.05), 8.0);
        }
    }

    // The CoC of a point that stands still is linear in an even pull: A f |s - z| / (z (s - f)) for f 50 mm,
    // focus from 0.4 m to 3 m, a point at 0.25 m (Potmesil and Chakravarty 1981, the CoC formula).
    void evenBlurChangesTheCocEvenly()
    {
        const auto coc = [](double s) { return 0.05 * (s - 0.25) / (0.25 * (s - 0.05)); };
        const double first = coc(0.4);
        const double last = coc(3.0);
        for (const double t : {0.2, 0.5, 0.9})
            QVERIFY(std::abs(coc(blended(Blend::evenBlur, 0.4, 3.0, t, 0.05)) -
                             (first + t * (last - first))) < 1e-12);
        // In dioptres it is not, this close to the lens.
        QVERIFY(std::abs(coc(blended(Blend::dioptre, 0.4, 3.0, 0.5)) - 0.5 * (first + last)) > 0.0025);
    }

    // Smooth is 3 t^2 - 2 t^3: 5/32 at a quarter. Handles (1/2, 0) and (1/2, 0): the Bezier point u = 1/4 has
    // x 19/64 and y 5/32. Leaving linear and arriving smooth: y = 3 u (1-u)^2 / 3 + 3 u^2 (1-u) + u^3, 5/8 at
    // 1/2.
    void easesByHand()
    {
        QCOMPARE(progress(Ease::smooth, Ease::smooth, 0.25), 5.0 / 32.0);
        QCOMPARE(progress(Ease::linear, Ease::linear, 0.3), 0.3);
        QCOMPARE(progress(Ease::linear, Ease::smooth, 0.5), 5.0 / 8.0);
        QVERIFY(std::abs(progress(Side{0.5, 0.0}, Side{0.5, 0.0}, 19.0 / 64.0) - 5.0 / 32.0) < 1e-12);
        QCOMPARE(progress(Ease::hold, Ease::linear, 0.999), 0.0);
        QCOMPARE(progress(Ease::hold, Ease::linear, 1.0), 1.0);
        const Marks smooth{mark(0, 2.0), mark(8, 8.0)};
        QVERIFY(std::abs(focus(smooth, 2) - 1.0 / (0.5 - 0.375 * 5.0 / 32.0)) < 1e-12);
        for (const Ease ease : {Ease::smooth, Ease::linear, Ease::hold, Ease::curve})
            QCOMPARE(*retinex::fromWord<Ease>(retinex::wordOf(ease)), ease);
        QVERIFY(!retinex::fromWord<Ease>("wobbly").has_value());
    }

    void curvesCannotOvershootUnlessAsked()
    {
        double most = 0.0;
        double least = 1.0;
        double mostAsked = 0.0;
        double before = -1.0;
        for (int i = 0; i <= 200; ++i) {
            const double t = i / 200.0;
            const double held = progress(Side{0.9, 1.6}, Side{0.9, 1.6}, t);
            most = std::max(most, held);
            least = std::min(least, held);
            mostAsked = std::max(mostAsked, progress(Side{0.3, 1.6, true}, Side{0.3, 0.0, true}, t));
            const double steep =
                progress(Side{1.0, 0.0}, Side{1.0, 0.0}, t); // frames stand still in the middle
            QVERIFY(std::isfinite(steep) && steep >= before);
            before = steep;
        }
        QVERIFY(most <= 1.0 && least >= 0.0);
        QVERIFY(mostAsked > 1.05);
    }

    // The walker is at 1 + frame / 10, the door at 4.
    void focusRidesOnSubjects()
    {
        const Marks marks{mark(0, 9.0, Ease::smooth, Ease::hold, Blend::distance, "walker"),
                          mark(10, 9.0, Ease::linear, Ease::linear, Blend::distance, "walker"),
                          mark(20, 9.0, Ease::linear, Ease::linear, Blend::distance, "door"), mark(30, 7.0)};
        QCOMPARE(focus(marks, -5), 0.5);
        QCOMPARE(focus(marks, 5), 1.5);
        QCOMPARE(focus(marks, 15), 3.25); // from the one at 2.5 to the other at 4, half of the way
        QCOMPARE(focus(marks, 20), 4.0);
        QCOMPARE(focus(marks, 30), 7.0);
        const Marks gone{mark(0, 3.0, Ease::smooth, Ease::smooth, Blend::dioptre, "nobody")};
        QCOMPARE(focus(gone, 12), 3.0); // a subject that is not there: the last distance known
    }

    void marksKeepTheirOrderAndReplaceOnTheirFrame()
    {
        Marks marks;
        for (const int frame : {20, 5, 12})
            setMark(marks, mark(frame, 1.0 * frame));
        setMark(marks, mark(12, 99.0));
        QCOMPARE(marks.size(), std::size_t(3));
        QCOMPARE(marks[1].frame, 12);
        QCOMPARE(markOn(marks, 12)->value, 99.0);
        QVERIFY(removeMark(marks, 12) && !removeMark(marks, 12));
    }

    void manyMarksMoveTogetherAndStopAtOthers()
    {
        Marks marks{mark(5, 1.0), mark(8, 2.0), mark(12, 3.0),
                    mark(20, 4.0, Ease::smooth, Ease::smooth, Blend::dioptre, "door")};
        const FrameRange range{1, 24};
        QCOMPARE(allowedShift(marks, {8, 12}, 10, range), 7);
        QCOMPARE(allowedShift(marks, {8, 12}, -10, range), -2);
        QCOMPARE(allowedShift(marks, {20}, 10, range), 4);
        QCOMPARE(allowedShift(marks, {5, 8, 12, 20}, -10, range), -4);
        ChosenFrames chosen{12, 20};
        moveMarks(marks, chosen, 3, [](double value) { return value * 2.0; });
        QCOMPARE(chosen, (ChosenFrames{15, 23}));
        QCOMPARE(markOn(marks, 15)->value, 6.0);
        QCOMPARE(markOn(marks, 23)->value, 4.0); // bound: its distance is the subject's
        const Marks copies = copiedMarks(marks, {5, 15});
        const ChosenFrames pasted = pasteMarks(marks, copies, 10, range);
        QCOMPARE(pasted, (ChosenFrames{10, 20}));
        QCOMPARE(markOn(marks, 20)->value, 6.0);
        QCOMPARE(pasteMarks(marks, copies, 20, range), (ChosenFrames{20})); // 30 is beyond the shot
        removeMarks(marks, {5, 8});
        QCOMPARE(marks.front().frame, 10);
    }

    // A mark set in the middle of pulls of all kinds leaves every frame as it was.
    void aMarkThatIsInsertedChangesNothing()
    {
        for (const auto& [leaving, arriving] : {std::pair<Side, Side>{Ease::smooth, Ease::smooth},
                                                {Ease::linear, Ease::smooth},
                                                {Ease::linear, Ease::linear},
                                                {Ease::hold, Ease::smooth},
                                                {Side{0.8, 0.1}, Side{0.3, 0.0}},
                                                {Side{0.2, 1.4, true}, Ease::smooth}})
            for (const Blend blend : {Blend::dioptre, Blend::distance, Blend::evenBlur}) {
                const Marks before{mark(0, 2.0, Ease::smooth, leaving, blend), mark(40, 8.0, arriving)};
                Marks after = before;
                insertMark(after, 13, focus(before, 13, 0.05));
                QCOMPARE(after.size(), std::size_t(3));
                for (double frame = 0.0; frame <= 40.0; frame += 0.5)
                    QVERIFY(std::abs(focus(after, frame, 0.05) - focus(before, frame, 0.05)) < 1e-9);
            }
        Marks ride{mark(0, 1.0, Ease::smooth, Ease::hold, Blend::dioptre, "walker"), mark(20, 4.0)};
        insertMark(ride, 10, 2.0);
        QCOMPARE(ride[1].subject, std::string("walker"));
        QCOMPARE(focus(ride, 15), 2.5);
    }

    void bindingKeepsThePull()
    {
        Marks marks{mark(0, 2.0), mark(10, 3.0), mark(20, 5.0)};
        const double halfWay = focus(marks, 15);
        bindMarks(marks, {0, 10}, "walker", [](int) { return 7.0; });
        QCOMPARE(marks[1].subject, std::string("walker"));
        QCOMPARE(marks[1].leaving.ease, Ease::smooth);
        const double bound = focus(marks, 15); // from the walker's distance on 10 to 5.0
        QVERIFY(bound != halfWay);
        marks[1].leaving = Ease::hold;
        QCOMPARE(focus(marks, 19), 2.9); // rides where that is asked for
        bindMarks(marks, {10}, "", [](int) { return 2.0; });
        QCOMPARE(marks[1].leaving.ease, Ease::smooth);
        QCOMPARE(focus(marks, 10), 2.0);
    }

    void bakingKeepsToItsTolerance()
    {
        std::vector<FrameValue> values;
        for (int frame = 1; frame <= 400; ++frame)
            values.push_back({frame, 3.0 + 1.4 * std::sin(0.02 * frame) + 0.002 * frame});
        std::size_t before = values.size();
        for (const double tolerance : {0.0005, 0.005, 0.05}) {
            const Marks marks = thinnedMarks(values, tolerance);
            for (const auto& [frame, value] : values)
                QVERIFY(std::abs(focus(marks, frame) / value - 1.0) <= tolerance + 1e-12);
            QVERIFY(marks.size() < before && marks.size() >= 2);
            before = marks.size();
        }
        QVERIFY(before < 12);
        QVERIFY(thinnedMarks({}, 0.01).empty());
        QCOMPARE(thinnedMarks({{7, 2.0}}, 0.01).size(), std::size_t(1));
    }
};

QTEST_APPLESS_MAIN(TestTimeline)
#include "test_timeline.moc"
