#include "app/desk/distance_axis.h"
#include "app/picture/image_view_map.h"
#include "app/picture/legends/zones_overlay.h"

#include <QTest>
#include <cmath>

using namespace retinex;
using namespace retinex::app;

class TestViewMath : public QObject
{
    Q_OBJECT

private slots:
    void axisGoesThereAndBack_data()
    {
        QTest::addColumn<int>("scale");
        QTest::newRow("log") << 0;
        QTest::newRow("dioptre") << 1;
        QTest::newRow("linear") << 2;
    }
    void axisGoesThereAndBack()
    {
        QFETCH(int, scale);
        const DistanceAxis axis(0.5, 40.0, 200.0, static_cast<AxisScale>(scale));
        QVERIFY(std::abs(axis.toY(0.5) - 200.0) < 1e-9 && std::abs(axis.toY(40.0)) < 1e-9); // distance upward
        for (const double distance : {0.5, 0.7, 2.0, 13.0, 39.0})
            QVERIFY(std::abs(axis.toDistance(axis.toY(distance)) / distance - 1.0) < 1e-9);
        QCOMPARE(axis.toDistance(-50.0), axis.toDistance(0.0)); // held to the ends
        QVERIFY(axis.toY(std::numeric_limits<double>::infinity()) <= 0.0);
        QVERIFY(axis.toY(0.0) > 200.0);
    }

    void scalesMeanWhatTheySay()
    {
        // Log: the geometric mean is the middle. Dioptre: the mean of 1/d is. Linear: the mean is.
        QVERIFY(std::abs(DistanceAxis(1, 16, 100, AxisScale::log).toY(4.0) - 50.0) < 1e-9);
        QVERIFY(std::abs(DistanceAxis(1, 4, 100, AxisScale::dioptre).toY(1.6) - 50.0) < 1e-9);
        QVERIFY(std::abs(DistanceAxis(1, 5, 100, AxisScale::linear).toY(3.0) - 50.0) < 1e-9);
    }

    void ticksAreRoundAndApart()
    {
        for (const double unit : {1.0, 0.3048}) {
            const auto ticks = DistanceAxis(0.4, 90.0, 300.0, AxisScale::log).ticks(20.0, unit);
            QVERIFY(ticks.size() >= 5);
            for (std::size_t i = 0; i < ticks.size(); ++i) {
                const double shown = ticks[i].distance / unit;
                const double mantissa = shown / std::pow(10.0, std::floor(std::log10(shown) + 1e-9));
                QVERIFY(std::abs(mantissa * 2.0 - std::round(mantissa * 2.0)) < 1e-6);
                if (i > 0) QVERIFY(ticks[i - 1].y - ticks[i].y >= 20.0);
            }
        }
    }

    void fitShowsAllAndZoomKeepsThePointInPlace()
    {
        ImageViewMap map;
        map.setImageSize({1920, 1080});
        map.setViewSize({960, 700});
        QCOMPARE(map.scale(), 0.5);
        QCOMPARE(map.imageRect(), QRectF(0, 80, 960, 540));
        const QPointF at(300, 400);
        const QPointF before = map.toImage(at);
        map.zoomBy(3.0, at);
        QVERIFY(QLineF(before, map.toImage(at)).length() < 1e-9);
        QVERIFY(!map.isFitted());
        map.oneToOne(2.0, at);
        QVERIFY(std::abs(map.scale() - 0.5) < 1e-12); // two device px to one of the widget
        map.panBy({5000, 5000});
        QVERIFY(map.imageRect().left() <= 920.0 && map.imageRect().top() <= 660.0); // never out of reach
        map.fit();
        QCOMPARE(map.scale(), 0.5);
        map.setPixelAspect(2.0);
        QCOMPARE(map.imageRect().width() / map.imageRect().height(), 2.0 * 1920 / 1080);
    }

    void zonesHatchEachSideItsOwnWay()
    {
        // A floor from 1 to 9 units, left to right; focus at 3.
        Plane<float> distance(400, 100);
        for (int y = 0; y < 100; ++y)
            for (int x = 0; x < 400; ++x)
                distance.at(x, y) = 1.0F + 8.0F * static_cast<float>(x) / 400.0F;
        project::Project project;
        project.base().fStop = 4.0;
        project.base().focusDistance = 3.0;
        ImageViewMap map;
        map.setImageSize({400, 100});
        map.setViewSize({400, 100});
        const QImage overlay = zonesOverlay(distance, nullptr, project, 1, map, {400, 100}, 1.0);
        const auto zone = optics::sharpZone(project.lensAt(1, 1920), project.base().acceptedCocMm);
        const auto xOf = [](double d) { return static_cast<int>((d - 1.0) / 8.0 * 400.0); };
        // Contours stand where the distances are; nothing is drawn between limit and focal plane.
        QVERIFY(qAlpha(overlay.pixel(xOf(3.0), 50)) == 255 || qAlpha(overlay.pixel(xOf(3.0) - 1, 50)) == 255);
        for (int x = xOf(zone.nearMm / 1000.0) + 3; x < xOf(3.0) - 3; ++x)
            QCOMPARE(qAlpha(overlay.pixel(x, 50)), 0);
        // Along one diagonal the hatching of a side is constant, along the other it changes.
        const auto changes = [&](int x0, int direction) {
            int count = 0;
            for (int i = 1; i < 30; ++i)
                count += overlay.pixel(x0 + i * direction, 20 + i) !=
                         overlay.pixel(x0 + (i - 1) * direction, 20 + i - 1);
            return count;
        };
        QVERIFY(changes(40, -1) < changes(10, 1));   // near side: lines run up to the right
        QVERIFY(changes(340, 1) < changes(380, -1)); // far side: the other way
    }
};

QTEST_APPLESS_MAIN(TestViewMath)
#include "test_view_math.moc"
