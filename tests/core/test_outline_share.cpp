// How much of a pixel is whose, by the outline that the depths draw, against the areas that shapes cut from
// pixels, counted with 32 x 32 points each.
#include "core/defocus/repair/outline_share.h"

#include <QTest>
#include <cmath>
#include <functional>

using namespace retinex;
using namespace retinex::defocus;

namespace {

constexpr int kSize = 64;
constexpr TwoSurfaces kPair{-6.0F, 2.0F};

/// Whether a point is on the near surface; pixel (0, 0) is centred at (0, 0).
using Shape = std::function<bool(double, double)>;

Plane<float> radiiOf(const Shape& shape)
{
    Plane<float> radius(kSize, kSize);
    for (int y = 0; y < kSize; ++y)
        for (int x = 0; x < kSize; ++x)
            radius.at(x, y) = shape(x, y) ? kPair.nearRadius : kPair.farRadius;
    return radius;
}

double areaOf(const Shape& shape, int x, int y)
{
    constexpr int points = 32;
    int inside = 0;
    for (int v = 0; v < points; ++v)
        for (int u = 0; u < points; ++u)
            inside += shape(x + (u + 0.5) / points - 0.5, y + (v + 0.5) / points - 0.5) ? 1 : 0;
    return static_cast<double>(inside) / (points * points);
}

struct Errors
{
    double outline = 0.0;  ///< root mean square, of pixels the outline cuts
    double depths = 0.0;   ///< of the share of near pixels around, by 1 2 1
    double ofSpread = 0.0; ///< root mean square error in spreads
    int pixels = 0;
    int told = 0;
};

Errors errorsOf(const Shape& shape)
{
    const Plane<float> radius = radiiOf(shape);
    Errors errors;
    for (int y = 8; y < kSize - 8; ++y) {
        for (int x = 8; x < kSize - 8; ++x) {
            bool isBeside = false;
            around(radius, x, y, 1,
                   [&](int nx, int ny) { isBeside |= radius.at(nx, ny) != radius.at(x, y); });
            const double area = isBeside ? areaOf(shape, x, y) : 1.0;
            if (area == 0.0 || area == 1.0) continue;
            ++errors.pixels;
            const auto share = shareByOutline(radius, kPair, x, y);
            if (!share) continue;
            ++errors.told;
            double depths = 0.0;
            for (int v = -1; v <= 1; ++v)
                for (int u = -1; u <= 1; ++u)
                    depths += (2 - std::abs(u)) * (2 - std::abs(v)) *
                              (kPair.liesNear(radius.at(x + u, y + v)) ? 1.0 : 0.0) / 16.0;
            errors.outline += std::pow(static_cast<double>(share->share) - area, 2);
            errors.depths += std::pow(depths - area, 2);
            errors.ofSpread += std::pow((static_cast<double>(share->share) - area) /
                                            std::hypot(0.03, static_cast<double>(share->spread)),
                                        2);
        }
    }
    errors.outline = std::sqrt(errors.outline / errors.told);
    errors.ofSpread = std::sqrt(errors.ofSpread / errors.told);
    errors.depths = std::sqrt(errors.depths / errors.told);
    return errors;
}

} // namespace

Q_DECLARE_METATYPE(Shape)

class TestOutlineShare : public QObject
{
    Q_OBJECT

private slots:
    void straightEdgesCutPixelsWhereTheyRun_data()
    {
        QTest::addColumn<double>("degrees");
        for (const double degrees :
             {7.0, 14.0, 22.0, 36.0, 41.0, 58.0, 80.0, 101.0, 129.0, 163.0, 200.0, 311.0})
            QTest::addRow("%g degrees", degrees) << degrees;
    }
    void straightEdgesCutPixelsWhereTheyRun()
    {
        QFETCH(double, degrees);
        const double angle = degrees * M_PI / 180.0;
        for (const double offset : {0.1, 0.37, 0.8}) {
            const Errors errors = errorsOf([&](double x, double y) {
                return (x - 32.0) * std::sin(angle) - (y - 32.0) * std::cos(angle) < offset;
            });
            QVERIFY2(errors.told > 0.9 * errors.pixels,
                     qPrintable(QString("%1 of %2").arg(errors.told).arg(errors.pixels)));
            QVERIFY2(errors.outline < 0.07, qPrintable(QString::number(errors.outline)));
            QVERIFY2(errors.outline < 0.6 * errors.depths, qPrintable(QString::number(errors.depths)));
            QVERIFY2(errors.ofSpread < 2.0, qPrintable(QString::number(errors.ofSpread)));
        }
    }

    void roundThingsToo()
    {
        for (const double radius : {11.0, 16.3, 21.2}) {
            const Errors errors =
                errorsOf([&](double x, double y) { return std::hypot(x - 32.2, y - 31.7) < radius; });
            QVERIFY2(errors.told > 0.4 * errors.pixels,
                     qPrintable(QString("%1 of %2").arg(errors.told).arg(errors.pixels)));
            QVERIFY2(errors.outline < errors.depths,
                     qPrintable(QString("%1 %2").arg(errors.outline).arg(errors.depths)));
        }
    }

    // Which side is near does not matter: what one has the other has not.
    void theTwoSidesAddUp()
    {
        const Shape shape = [](double x, double y) { return y < 30.3 + 0.23 * x - 0.004 * x * x; };
        const Plane<float> radius = radiiOf(shape);
        const Plane<float> other = radiiOf([&](double x, double y) { return !shape(x, y); });
        for (int y = 20; y < 44; ++y) {
            for (int x = 8; x < 56; ++x) {
                const auto share = shareByOutline(radius, kPair, x, y);
                const auto rest = shareByOutline(other, kPair, x, y);
                QCOMPARE(share.has_value(), rest.has_value());
                if (share) QVERIFY(std::abs(share->share + rest->share - 1.0F) < 1e-6F);
            }
        }
    }

    // An edge along the rows may lie anywhere between two of them, one at 45 degrees anywhere between two
    // diagonals: the pixels on both sides are as likely to be cut, and nobody can say by how much.
    void edgesAlongPixelsAreUncertain_data()
    {
        QTest::addColumn<Shape>("shape");
        QTest::addRow("level") << Shape([](double, double y) { return y < 20.2; });
        QTest::addRow("upright") << Shape([](double x, double) { return x < 30.4; });
        QTest::addRow("45 degrees") << Shape([](double x, double y) { return x - y < 10.1; });
    }
    void edgesAlongPixelsAreUncertain()
    {
        QFETCH(Shape, shape);
        const Plane<float> radius = radiiOf(shape);
        QVERIFY(!shareByOutline(radius, kPair, 30, 20));
        const auto rest = errorsOf(shape);
        QVERIFY(rest.told < 0.2 * rest.pixels);
    }

    // A thing one pixel thin may be of any width, and where a corner is the outline is not straight.
    void nothingIsSaidOfCorners()
    {
        QVERIFY(
            !shareByOutline(radiiOf([](double, double y) { return y > 19.5 && y < 20.5; }), kPair, 30, 20));
        QVERIFY(!shareByOutline(
            radiiOf([](double x, double y) { return x > 29.5 && y > 19.5 && x < 31.5 && y < 21.5; }), kPair,
            30, 20));
    }

    void wholePixelsAreWhole()
    {
        const Plane<float> radius = radiiOf([](double x, double y) { return x + y < 60.0; });
        QCOMPARE(shareByOutline(radius, kPair, 29, 29)->share, 1.0F); // touches the far side with a corner
        QCOMPARE(shareByOutline(radius, kPair, 31, 31)->share, 0.0F);
    }
};

QTEST_GUILESS_MAIN(TestOutlineShare)
#include "test_outline_share.moc"
