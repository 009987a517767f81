#include "core/optics/iris.h"
#include "core/optics/thin_lens.h"
#include "core/optics/units.h"
#include "core/system/error.h"

#include <QTest>
#include <cmath>
#include <numbers>

using namespace retinex;
using namespace retinex::optics;

namespace {

Iris withBlades(int blades, double turnDeg = 0.0)
{
    Iris iris;
    iris.blades = blades;
    iris.turnDeg = turnDeg;
    return iris;
}

} // namespace

class TestOptics : public QObject
{
    Q_OBJECT

private slots:
    // The f-numbers of ISO 517 as they are engraved: each is the exact step rounded, as the standard has it.
    void fullStopsAreThoseOfIso517()
    {
        const double engraved[] = {1, 1.4, 2, 2.8, 4, 5.6, 8, 11, 16, 22, 32, 45, 64};
        for (int i = 0; i < 13; ++i)
            QVERIFY2(std::abs(fullStop(i) / engraved[i] - 1.0) < 0.03,
                     qPrintable(QString::number(engraved[i])));
        QCOMPARE(fullStop(2), 2.0);
    }

    // Wikipedia, "Hyperfocal distance", worked example (from memory): 50 mm, f/8, CoC 0.03 mm gives 10467 mm.
    void hyperfocalOfThePublishedExample()
    {
        QCOMPARE(std::round(hyperfocalMm({50.0, 8.0, 3000.0, Framing::physical}, 0.03)), 10467.0);
    }

    // Focused at H, the near limit is H / 2 and the far limit infinity (any optics handbook; Ray, "Applied
    // Photographic Optics", depth of field; from memory).
    void focusedAtHyperfocalTheZoneRunsFromHalfToInfinity()
    {
        ThinLens lens{35.0, 5.6, 0.0, Framing::physical};
        lens.focusDistanceMm = hyperfocalMm(lens, 0.03);
        const SharpZone zone = sharpZone(lens, 0.03);
        QVERIFY(std::isinf(zone.farMm));
        QVERIFY(std::abs(zone.nearMm / (lens.focusDistanceMm / 2.0) - 1.0) < 1e-9);
    }

    // "Consecutive depths of field" (C. Welborne Piper, "A First Book of the Lens", 1901; from memory):
    // focused at H / n, the zone runs from H / (n + 1) to H / (n - 1), as far as f is small against H.
    void consecutiveDepthsOfField()
    {
        for (int n = 2; n <= 6; ++n) {
            ThinLens lens{50.0, 4.0, 0.0, Framing::physical};
            const double h = hyperfocalMm(lens, 0.03);
            lens.focusDistanceMm = h / n;
            const SharpZone zone = sharpZone(lens, 0.03);
            QVERIFY(std::abs(zone.nearMm * (n + 1) / h - 1.0) < 0.01);
            QVERIFY(std::abs(zone.farMm * (n - 1) / h - 1.0) < 0.01);
        }
    }

    // The limits are where the CoC formula itself gives the accepted value.
    void limitsAgreeWithTheCocFormula_data()
    {
        QTest::addColumn<double>("focalLength");
        QTest::addColumn<double>("fStop");
        QTest::addColumn<double>("focus");
        QTest::newRow("portrait") << 85.0 << 1.8 << 2500.0;
        QTest::newRow("wide, far") << 24.0 << 2.8 << 4000.0;
        QTest::newRow("macro") << 100.0 << 16.0 << 350.0;
    }
    void limitsAgreeWithTheCocFormula()
    {
        QFETCH(double, focalLength);
        QFETCH(double, fStop);
        QFETCH(double, focus);
        const ThinLens lens{focalLength, fStop, focus};
        const SharpZone zone = sharpZone(lens, 0.03);
        QVERIFY(std::abs(circleOfConfusionMm(lens, zone.nearMm) + 0.03) < 1e-9);
        if (std::isfinite(zone.farMm)) QVERIFY(std::abs(circleOfConfusionMm(lens, zone.farMm) - 0.03) < 1e-9);
        const double stop = fStopForCoc(lens, zone.nearMm, 0.03);
        QVERIFY(std::abs(stop / fStop - 1.0) < 1e-9);
    }

    // 50 mm, f/2, focus 2 m, 36 mm across 3600 px: by hand, A f / (s - f) = 25 * 50 / 1950 = 0.641 mm = 64.1
    // px.
    void cocOfTheHandComputedExample()
    {
        const ThinLens lens{50.0, 2.0, 2000.0, Framing::physical};
        const double infinity = std::numeric_limits<double>::infinity();
        QVERIFY(std::abs(circleOfConfusionMm(lens, infinity) * 100.0 - 64.1) < 0.01);
        QVERIFY(std::abs(circleOfConfusionMm(lens, 1000.0) * 100.0 + 64.1) < 0.01);
        QCOMPARE(circleOfConfusionMm(lens, 2000.0), 0.0);
        for (const double gap : {0.0, -1.0, std::nan("")})
            QCOMPARE(circleOfConfusionMm(lens, gap), circleOfConfusionMm(lens, infinity));
    }

    void focusedAtInfinityOnlyTheNearIsBlurred()
    {
        const ThinLens lens{50.0, 2.0, std::numeric_limits<double>::infinity()};
        QCOMPARE(circleOfConfusionMm(lens, std::numeric_limits<double>::infinity()), 0.0);
        QVERIFY(std::abs(circleOfConfusionMm(lens, 1000.0) + 25.0 * 50.0 / 1000.0) < 1e-12);
        QVERIFY(std::isinf(sharpZone(lens, 0.03).farMm));
    }

    void impossibleLensesAreRefused()
    {
        QVERIFY_EXCEPTION_THROWN((ThinLens{50.0, 0.0, 2000.0}.check()), Error);
        QVERIFY_EXCEPTION_THROWN((ThinLens{50.0, 2.0, 40.0}.check()), Error);
        QVERIFY_EXCEPTION_THROWN((ThinLens{std::nan(""), 2.0, 2000.0}.check()), Error);
        QVERIFY_EXCEPTION_THROWN(withBlades(2).check(), Error);
        QVERIFY_EXCEPTION_THROWN(withBlades(17).check(), Error);
    }

    void distancesAreReadAsPeopleWriteThem_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<double>("metres");
        QTest::newRow("bare") << QByteArray("3.42") << 3.42;
        QTest::newRow("centimetres") << QByteArray("340cm") << 3.4;
        QTest::newRow("comma, space") << QByteArray(" 3,4 m ") << 3.4;
        // The foot is 0.3048 m and the inch 0.0254 m (international yard and pound agreement, 1959).
        QTest::newRow("feet and inches") << QByteArray("11ft 2in") << 11 * 0.3048 + 2 * 0.0254;
        QTest::newRow("signs") << QByteArray("11' 2\"") << 11 * 0.3048 + 2 * 0.0254;
        QTest::newRow("infinity") << QByteArray("inf") << std::numeric_limits<double>::infinity();
    }
    void distancesAreReadAsPeopleWriteThem()
    {
        QFETCH(QByteArray, text);
        QFETCH(double, metres);
        const auto read = parseDistanceMetres(text.toStdString(), Unit::metre);
        QVERIFY(read.has_value());
        QVERIFY(*read == metres || std::abs(*read - metres) < 1e-12);
    }
    void nonsenseIsNoDistance()
    {
        for (const char* text : {"", "wide", "3 parsec", "-2", "3 4 5", "nan"})
            QVERIFY2(!parseDistanceMetres(text, Unit::metre), text);
    }

    // Equal light at equal f-stop: the outline's area is pi for any number of blades.
    void irisAreaDoesNotDependOnBlades()
    {
        for (const int blades : {0, 3, 5, 6, 9, 16}) {
            const auto outline = irisOutline(withBlades(blades, 17.0), false);
            double area = 0.0;
            for (std::size_t i = 0; i < outline.size(); ++i) {
                const Point& a = outline[i];
                const Point& b = outline[(i + 1) % outline.size()];
                area += 0.5 * (a.x * b.y - b.x * a.y);
            }
            QVERIFY(std::abs(std::abs(area) - std::numbers::pi) < 1e-9);
        }
    }
    // At full rounding the blades' arcs are those of one circle; squeeze keeps the height.
    void roundedBladesBecomeACircleAndSqueezeNarrowsIt()
    {
        Iris iris = withBlades(5, 10.0);
        iris.rounding = 1.0;
        for (const Point& p : irisOutline(iris, false))
            QVERIFY(std::abs(std::hypot(p.x, p.y) - 1.0) < 0.01);
        iris.squeeze = 2.0;
        double wide = 0.0;
        double high = 0.0;
        for (const Point& p : irisOutline(iris, false)) {
            wide = std::max(wide, std::abs(p.x));
            high = std::max(high, std::abs(p.y));
        }
        QVERIFY(std::abs(wide - 0.5) < 0.01 && std::abs(high - 1.0) < 0.01);
        iris.rounding = 1.1;
        QVERIFY_EXCEPTION_THROWN(iris.check(), Error);
    }
    // The mean of the rim's weight over the opening is 1: area grows with rho^2.
    void rimKeepsTheLight()
    {
        for (const double rim : {-1.0, -0.3, 0.5, 1.0}) {
            double sum = 0.0;
            for (int i = 0; i < 1000; ++i)
                sum += rimWeight(rim, std::sqrt((i + 0.5) / 1000.0)) / 1000.0;
            QVERIFY(std::abs(sum - 1.0) < 1e-5);
            QVERIFY(rimWeight(rim, 1.0) >= 0.0 && rimWeight(rim, 0.0) >= 0.0);
        }
    }
    void pentagonPointsUpBehindAndDownInFront()
    {
        const auto behind = irisOutline(withBlades(5), false);
        const auto front = irisOutline(withBlades(5), true);
        QVERIFY(behind.front().y < 0.0 && std::abs(behind.front().x) < 1e-12); // y runs down
        QVERIFY(front.front().y > 0.0);
    }
};

QTEST_APPLESS_MAIN(TestOptics)
#include "test_optics.moc"
