#include "core/timeline/marks.h"

#include <QTest>
#include <cmath>

using namespace retinex::timeline;

class TestTimeline : public QObject
{
    Q_OBJECT

private slots:
    void noMarksNoDistance() { QVERIFY(!distanceAt({}, 3).has_value()); }

    void heldBeforeTheFirstAndAfterTheLast()
    {
        const Marks marks{{10, 2.0, Ease::smooth}, {20, 8.0, Ease::smooth}};
        QCOMPARE(*distanceAt(marks, 1), 2.0);
        QCOMPARE(*distanceAt(marks, 10), 2.0);
        QCOMPARE(*distanceAt(marks, 20), 8.0);
        QCOMPARE(*distanceAt(marks, 99), 8.0);
    }

    // By hand, in dioptres: halfway from 1/2 to 1/8 is 5/16, so 3.2. Smooth at a quarter: 3/16 - 2/64 = 5/32
    // of the way from 0.5 to 0.125, so 0.5 - 0.375 * 5/32 = 0.44140625.
    void pullsRunInDioptres()
    {
        const Marks linear{{0, 2.0, Ease::linear}, {8, 8.0, Ease::linear}};
        QCOMPARE(*distanceAt(linear, 4), 3.2);
        const Marks smooth{{0, 2.0, Ease::smooth}, {8, 8.0, Ease::smooth}};
        QCOMPARE(*distanceAt(smooth, 4), 3.2);
        QVERIFY(std::abs(*distanceAt(smooth, 2) - 1.0 / 0.44140625) < 1e-12);
        const Marks hold{{0, 2.0, Ease::hold}, {8, 8.0, Ease::hold}};
        QCOMPARE(*distanceAt(hold, 7), 2.0);
    }

    void infinityIsADistanceLikeAnyOther()
    {
        const Marks marks{{0, 2.0, Ease::linear},
                          {10, std::numeric_limits<double>::infinity(), Ease::linear}};
        QCOMPARE(*distanceAt(marks, 5), 4.0);
        QVERIFY(std::isinf(*distanceAt(marks, 10)));
    }

    void marksKeepTheirOrderAndReplaceOnTheirFrame()
    {
        Marks marks;
        for (const int frame : {20, 5, 12})
            setMark(marks, {frame, 1.0 * frame, Ease::smooth});
        setMark(marks, {12, 99.0, Ease::hold});
        QCOMPARE(marks.size(), std::size_t(3));
        QCOMPARE(marks[1].frame, 12);
        QCOMPARE(markOn(marks, 12)->distance, 99.0);
        QVERIFY(removeMark(marks, 12) && !removeMark(marks, 12));
        for (const Ease ease : {Ease::smooth, Ease::linear, Ease::hold})
            QCOMPARE(*easeFromName(name(ease)), ease);
        QVERIFY(!easeFromName("wobbly").has_value());
    }
};

QTEST_APPLESS_MAIN(TestTimeline)
#include "test_timeline.moc"
