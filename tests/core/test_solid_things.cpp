// Solid things are solid: what lies behind does not shine through the inside of a surface, whatever its shape
// and however its depth was stored.
#include "core/defocus/defocus.h"
#include "support/lenses.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <functional>
#include <half.h>

using namespace retinex;

namespace {

constexpr int kWidth = 960;
constexpr int kHeight = 540;

/// A thing before a wall at 6 m; the lens is focused on what lies between the two.
struct Thing
{
    /// Its distance in m where it is seen, 0 elsewhere. u and v run from -1 to 1 over it.
    std::function<double(double u, double v)> distance;
    /// How far a pixel lies inside its outline, px.
    std::function<double(int x, int y)> inside;
};

constexpr double kHalfWidth = 330.0; ///< of the thing, px
constexpr double kHalfHeight = 250.0;

double insideColumn(int x, int)
{
    return kHalfWidth - std::abs(x - kWidth / 2);
}

double insideBall(int x, int y)
{
    double least = kWidth;
    for (int i = 0; i < 720; ++i) {
        const double angle = i * 3.14159265358979 / 360.0;
        least = std::min(least, std::hypot(x - kWidth / 2 - kHalfWidth * std::cos(angle),
                                           y - kHeight / 2 - kHalfHeight * std::sin(angle)));
    }
    return least;
}

Thing column(std::function<double(double u)> distance)
{
    return {[=](double u, double) { return std::abs(u) < 1.0 ? distance(u) : 0.0; }, insideColumn};
}

/// Rounded as in a file of `levels` steps for a metre.
std::function<double(double)> inSteps(int levels)
{
    return [levels](double u) { return std::round((1.25 + 0.25 * u) * levels) / levels; };
}

struct Picture
{
    RgbaImage colour{kWidth, kHeight};
    Plane<float> distance{kWidth, kHeight, 6.0F};
    defocus::LensSettings settings = test::lensWithRadius(kWidth, 20.0);

    Picture(const Thing& thing, float own, float wall, double radiusPx)
    {
        settings.lens.focusDistanceMm = 3000.0;
        std::fill(colour.plane(3).pixels().begin(), colour.plane(3).pixels().end(), 1.0F);
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const double at =
                    thing.distance((x - kWidth / 2) / kHalfWidth, (y - kHeight / 2) / kHalfHeight);
                if (at > 0.0) distance.at(x, y) = static_cast<float>(at);
                for (int c = 0; c < 3; ++c)
                    colour.plane(c).at(x, y) = at > 0.0 ? own : wall;
            }
        settings.lens.fStop *= largestRadius() / radiusPx;
    }
    [[nodiscard]] double largestRadius() const
    {
        double most = 0.0;
        const Plane<float> radius = defocus::blurRadiusPx(distance, settings);
        for (const float r : radius.pixels())
            most = std::max(most, -static_cast<double>(r));
        return most;
    }
};

} // namespace

class TestSolidThings : public QObject
{
    Q_OBJECT

private slots:
    void nothingShinesThrough_data()
    {
        QTest::addColumn<Thing>("thing");
        QTest::newRow("board") << column([](double) { return 1.0; });
        QTest::newRow("slanted board") << column([](double u) { return 1.25 + 0.25 * u; });
        QTest::newRow("column") << column([](double u) { return 1.5 - 0.5 * std::sqrt(1.0 - u * u); });
        QTest::newRow("ball") << Thing{[](double u, double v) {
                                           const double r = u * u + v * v;
                                           return r < 1.0 ? 1.5 - 0.5 * std::sqrt(1.0 - r) : 0.0;
                                       },
                                       insideBall};
        QTest::newRow("bumps") << Thing{[](double u, double v) {
                                            return std::abs(u) < 1.0
                                                       ? 1.0 + 0.05 * std::sin(37.0 * u) * std::sin(36.0 * v)
                                                       : 0.0;
                                        },
                                        insideColumn};
        QTest::newRow("8 bits") << column(inSteps(60));
        QTest::newRow("16 bits") << column(inSteps(16'000));
        QTest::newRow("half floats") << column(
            [](double u) { return static_cast<double>(half(static_cast<float>(1.25 + 0.25 * u))); });
        QTest::newRow("floor") << Thing{[](double, double v) {
                                            const double t = (v * kHalfHeight + 120.0) / 390.0;
                                            return t > 0.0 ? 1.0 / (0.2 + 0.8 * t) : 0.0;
                                        },
                                        [](int, int y) { return y - kHeight / 2 + 120.0; }};
    }
    // More than a radius inside, 0.0002 of a white wall at most; and a white thing before black loses no
    // more.
    void nothingShinesThrough()
    {
        QFETCH(Thing, thing);
        for (const double radius : {16.0, 64.0, 200.0})
            for (const bool isBlack : {true, false}) {
                if (!isBlack && radius != 64.0) continue;
                const Picture picture(thing, isBlack ? 0.0F : 1.0F, isBlack ? 1.0F : 0.0F, radius);
                const RgbaImage out = defocus::defocus({picture.colour, picture.distance}, picture.settings);
                double most = 0.0;
                int looked = 0;
                for (int y = 0; y < kHeight; y += 3)
                    for (int x = 0; x < kWidth; x += 3) {
                        if (picture.distance.at(x, y) == 6.0F || thing.inside(x, y) < radius + 2.0) continue;
                        const double value = static_cast<double>(out.plane(0).at(x, y));
                        most = std::max(most, isBlack ? value : std::abs(1.0 - value));
                        ++looked;
                    }
                QVERIFY(looked > 400);
                qInfo("%s: %.5f at a radius of %.0f px", isBlack ? "leak" : "loss", most, radius);
                QVERIFY2(most <= 0.0002, qPrintable(QStringLiteral("%1 at %2 px").arg(most).arg(radius)));
            }
    }

    // A floor that runs up to the lens and ends at the frame, before a wall: no row stands out.
    void aFloorHasNoSeam()
    {
        for (const double radius : {36.0, 60.0, 100.0}) {
            const Thing floor{[](double, double v) {
                                  const double t = (v * kHalfHeight + 70.0) / 340.0;
                                  return t > 0.0 ? 1.0 / (1.0 / 6.0 + 1.5 * t) : 0.0;
                              },
                              {}};
            Picture picture(floor, 0.0F, 0.9F, radius);
            for (int y = 200; y < kHeight; ++y)
                for (int x = 0; x < kWidth; ++x)
                    for (int c = 0; c < 3; ++c)
                        picture.colour.plane(c).at(x, y) =
                            0.4F - 0.38F * static_cast<float>(y - 200) / 340.0F;
            const RgbaImage out = defocus::defocus({picture.colour, picture.distance}, picture.settings);
            for (int y = 400; y + 1 < kHeight; ++y) {
                const float bend = out.plane(0).at(480, y - 1) - 2.0F * out.plane(0).at(480, y) +
                                   out.plane(0).at(480, y + 1);
                QVERIFY2(std::abs(bend) < 5e-4F, qPrintable(QStringLiteral("row %1: %2").arg(y).arg(bend)));
            }
        }
    }

    // A sharp thing with smooth edges before an even wall that is blurred: beside it the wall stays as it is.
    void noRimBesideSharpThings_data()
    {
        QTest::addColumn<bool>("isDisc");
        QTest::addColumn<float>("own");
        QTest::addColumn<float>("wall");
        QTest::newRow("slanted edge, pale") << false << 0.9F << 0.05F;
        QTest::newRow("slanted edge, dark") << false << 0.05F << 0.9F;
        QTest::newRow("disc, pale") << true << 0.9F << 0.05F;
        QTest::newRow("disc, dark") << true << 0.05F << 0.9F;
    }
    void noRimBesideSharpThings()
    {
        QFETCH(bool, isDisc);
        QFETCH(float, own);
        QFETCH(float, wall);
        constexpr int width = 240;
        constexpr int height = 180;
        const auto isThing = [&](double x, double y) {
            return isDisc ? std::hypot(x - 120.0, y - 90.0) < 50.0 : x - 120.0 + 0.31 * (y - 90.0) < 0.0;
        };
        RgbaImage colour(width, height);
        Plane<float> distance(width, height, 20.0F);
        Plane<float> share(width, height);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                int hits = 0;
                for (int i = 0; i < 64; ++i) // a box of a pixel
                    hits += isThing(x + (i % 8 + 0.5) / 8.0, y + (i / 8 + 0.5) / 8.0) ? 1 : 0;
                share.at(x, y) = static_cast<float>(hits) / 64.0F;
                if (isThing(x + 0.5, y + 0.5)) distance.at(x, y) = 2.0F;
                for (int c = 0; c < 3; ++c)
                    colour.plane(c).at(x, y) = wall + share.at(x, y) * (own - wall);
                colour.plane(3).at(x, y) = 1.0F;
            }
        const RgbaImage out = defocus::defocus({colour, distance}, test::lensWithRadius(width, 12.0));
        float most = 0.0F;
        for (int y = 20; y < height - 20; ++y)
            for (int x = 20; x < width - 20; ++x)
                if (share.at(x, y) == 0.0F) most = std::max(most, std::abs(out.plane(0).at(x, y) - wall));
        qInfo("rim: %.4f", static_cast<double>(most));
        QVERIFY2(most < 0.0142F, qPrintable(QString::number(most)));
    }

    // Two walls, one farther than the other, both of which may go on behind a board: where the two guesses
    // meet, far from both, the picture has no edge. Near what is seen they stay what they are.
    void guessesFromTwoSidesMeetWithoutARim()
    {
        constexpr int width = 240;
        constexpr int height = 60;
        constexpr int half = 30; // of the board
        constexpr int middle = width / 2;
        RgbaImage colour(width, height);
        Plane<float> distance(width, height);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                const bool isBoard = std::abs(x - middle) < half;
                const bool isLeft = x < middle;
                distance.at(x, y) = isBoard ? 0.4F : isLeft ? 2.6F : 1.8F;
                for (int c = 0; c < 3; ++c)
                    colour.plane(c).at(x, y) = isBoard ? 0.02F : isLeft ? 0.8F : 0.2F;
                colour.plane(3).at(x, y) = 1.0F;
            }
        auto settings = test::lensWithRadius(width, 14.0);
        settings.lens.focusDistanceMm = 2150.0;
        const auto apart = defocus::takeApart({colour, distance}, settings);
        const auto guess = [&](int x) {
            const float evidence = apart.hidden.evidence.at(x, height / 2);
            return evidence > 0.0F ? apart.hidden.colour.plane(0).at(x, height / 2) / evidence : -1.0F;
        };
        float most = 0.0F;
        for (int x = middle - half + 4; x + 1 < middle + half - 4; ++x) {
            QVERIFY2(guess(x) > 0.0F, qPrintable(QString::number(x)));
            most = std::max(most, std::abs(guess(x + 1) - guess(x)));
        }
        QVERIFY2(most < 0.1F, qPrintable(QString::number(most)));
        QVERIFY(std::abs(guess(middle - half + 3) - 0.8F) < 0.02F);
        QVERIFY(std::abs(guess(middle + half - 4) - 0.2F) < 0.02F);
    }
};

QTEST_APPLESS_MAIN(TestSolidThings)
#include "test_solid_things.moc"
