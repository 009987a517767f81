#include "core/depth/conditioning.h"
#include "core/depth/depth_reading.h"
#include "core/depth/measure.h"
#include "core/optics/thin_lens.h"
#include "core/optics/two_positions.h"
#include "core/system/error.h"

#include <QTest>
#include <array>
#include <cmath>
#include <random>

using namespace retinex;
using namespace retinex::depth;

namespace {

constexpr double kInfinity = std::numeric_limits<double>::infinity();

Plane<float> row(const std::vector<float>& numbers)
{
    Plane<float> plane(static_cast<int>(numbers.size()), 1);
    std::copy(numbers.begin(), numbers.end(), plane.row(0));
    return plane;
}

ViewGeometry viewOf(const Plane<float>& plane)
{
    return {static_cast<double>(plane.width()), static_cast<double>(plane.height())};
}

DistanceResult read(const std::vector<float>& numbers, const ReadingSettings& settings)
{
    const Plane<float> stored = row(numbers);
    return toDistance(stored, nullptr, settings, viewOf(stored));
}

} // namespace

class TestDepthReading : public QObject
{
    Q_OBJECT

private slots:
    // The stored number is made by the published forward formula, not by storedOf.
    void everyReadingInvertsItsFormula_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("variant");
        for (int kind = 0; kind < kReadingCount; ++kind)
            for (const char* variant : {"", "reciprocal", "srgb", "-1..1", "1..0", "infinite far"})
                QTest::newRow(qPrintable(QStringLiteral("%1 %2").arg(kind).arg(QLatin1String(variant))))
                    << kind << QString::fromLatin1(variant);
    }
    void everyReadingInvertsItsFormula()
    {
        QFETCH(int, kind);
        QFETCH(QString, variant);
        ReadingSettings s;
        s.reading = static_cast<Reading>(kind);
        s.nearest = 0.5;
        s.farthest = variant == "infinite far" && s.reading == Reading::clipSpace ? kInfinity : 40.0;
        if (variant == "reciprocal") s.spacing = Spacing::reciprocal;
        if (variant == "srgb" && isGrey(s.reading)) s.encoding = Encoding::sRgb;
        if (const auto range = fromWord<depth::ClipRange>(variant.toStdString())) s.clipRange = *range;
        s.gaps.zero = false;
        for (const double d : {0.5, 0.8, 2.0, 11.0, 39.0}) {
            double stored = d;
            if (s.reading == Reading::reciprocalDistance) stored = 1.0 / d;
            if (s.reading == Reading::distanceBelowZero) stored = -d;
            if (isGrey(s.reading)) {
                double t =
                    s.spacing == Spacing::distance ? (d - 0.5) / 39.5 : (1 / d - 2.0) / (1 / 40.0 - 2.0);
                if (s.reading == Reading::greyNearBright) t = 1.0 - t;
                // IEC 61966-2-1 (sRGB), from linear to encoded.
                stored = s.encoding == Encoding::linear ? t
                         : t <= 0.0031308               ? 12.92 * t
                                                        : 1.055 * std::pow(t, 1 / 2.4) - 0.055;
            }
            if (s.reading == Reading::clipSpace) {
                // z_ndc of the OpenGL perspective matrix: ((f + n) - 2 f n / d) / (f - n) in -1..1; its limit
                // for f at infinity is 1 - 2 n / d.
                const double ndc = std::isinf(s.farthest)
                                       ? 1.0 - 2.0 * 0.5 / d
                                       : ((40.0 + 0.5) - 2.0 * 40.0 * 0.5 / d) / (40.0 - 0.5);
                stored = s.clipRange == ClipRange::minusOneToOne ? ndc
                         : s.clipRange == ClipRange::oneToZero   ? 0.5 - 0.5 * ndc
                                                                 : 0.5 + 0.5 * ndc;
            }
            QVERIFY2(std::abs(distanceOf(stored, s) / d - 1.0) < 1e-9, qPrintable(QString::number(d)));
            QVERIFY(std::abs(storedOf(d, s) - stored) < 1e-9 * std::max(1.0, std::abs(stored)));
        }
    }

    // A flat wall square to the axis: along the ray its distance grows as 1/cos, planar it is one number.
    void distancesAlongTheRayBecomePlanar()
    {
        const int width = 64;
        const int height = 36;
        const double fieldOfView = 60.0;
        Plane<float> stored(width, height);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                const double half = std::tan(30.0 * M_PI / 180.0);
                const double u = (x + 0.5 - 32.0) / 32.0 * half;
                const double v = (y + 0.5 - 18.0) / 32.0 * half;
                stored.at(x, y) = static_cast<float>(5.0 * std::hypot(u, v, 1.0));
            }
        ReadingSettings s;
        s.reading = Reading::distanceAlongRay;
        ViewGeometry view = viewOf(stored);
        view.fieldOfViewDeg = fieldOfView;
        const auto result = toDistance(stored, nullptr, s, view);
        for (const float d : result.distance.pixels())
            QVERIFY(std::abs(d - 5.0F) < 1e-5F);
        // The corner of a 60 degree wide 16:9 frame lies 33.5 degrees off the axis: 5 / cos = 5.996.
        QVERIFY(std::abs(stored.at(0, 0) - 5.96F) < 0.02F); // half a px inside the corner
    }

    void gapsFollowTheRulesAndGetTheirPlace()
    {
        const float inf = std::numeric_limits<float>::infinity();
        ReadingSettings s;
        s.gaps.from = 1e9;
        const std::vector<float> numbers{0.0F, 2.0F, 1e10F, 4.0F, inf, std::nanf(""), -1.0F};
        auto result = read(numbers, s);
        const std::vector<std::uint8_t> gaps{1, 0, 1, 0, 1, 1, 1};
        QVERIFY(std::equal(gaps.begin(), gaps.end(), result.gaps.pixels().begin()));
        QVERIFY(std::isinf(result.distance.at(0, 0)) && std::isinf(result.distance.at(2, 0)));
        s.gaps.place = GapRules::Place::distance;
        s.gaps.distance = 7.0;
        QCOMPARE(read(numbers, s).distance.at(0, 0), 7.0F);
        s.gaps.place = GapRules::Place::neighbours;
        result = read(numbers, s);
        QCOMPARE(result.distance.at(0, 0), 2.0F);
        QCOMPARE(result.distance.at(6, 0), 4.0F);
        QCOMPARE(result.gapCount, std::size_t(5));
        s.gaps.zero = false; // 0 is nearer than anything then: no distance at all
        QCOMPARE(read(numbers, s).gaps.at(0, 0), std::uint8_t(1));
        const Plane<float> stored = row({3.0F, 4.0F});
        const Plane<float> alpha = row({0.0F, 1.0F});
        s = {};
        s.gaps.outsideAlpha = true;
        QCOMPARE(toDistance(stored, &alpha, s, viewOf(stored)).gaps.at(0, 0), std::uint8_t(1));
        QCOMPARE(toDistance(stored, &alpha, {}, viewOf(stored)).gapCount, std::size_t(0));
        // Nothing but gaps: no neighbour to ask.
        s = {};
        s.gaps.place = GapRules::Place::neighbours;
        QVERIFY(std::isinf(read({0.0F, 0.0F}, s).distance.at(0, 0)));
    }

    void clampReverseOffsetAndRemapDoWhatTheySay()
    {
        ReadingSettings s;
        s.nearest = 2.0;
        s.farthest = 5.0;
        s.clamp = true;
        QCOMPARE(read({1.0F, 3.0F, 9.0F}, s).distance.at(0, 0), 2.0F);
        QCOMPARE(read({1.0F, 3.0F, 9.0F}, s).distance.at(2, 0), 5.0F);
        s = {};
        s.storedLow = 0.0;
        s.storedHigh = 10.0;
        reverse(s);
        QCOMPARE(read({2.5F}, s).distance.at(0, 0), 7.5F);
        reverse(s);
        QCOMPARE(s == ReadingSettings{[] {
                     ReadingSettings same;
                     same.storedHigh = 10.0;
                     return same;
                 }()},
                 true);
        for (int kind = 0; kind < kReadingCount; ++kind) {
            ReadingSettings before;
            before.reading = static_cast<Reading>(kind);
            ReadingSettings after = before;
            reverse(after);
            QVERIFY(!(after == before));
            reverse(after);
            QVERIFY(after == before);
        }
        s = {};
        s.conditioning.offset = 1.0;
        s.conditioning.remap = {{2.0, 2.0}, {10.0, 6.0}};
        const auto moved = read({1.0F, 5.0F, 9.0F, 19.0F}, s).distance;
        QCOMPARE(moved.at(0, 0), 2.0F);
        QCOMPARE(moved.at(1, 0), 4.0F);
        QCOMPARE(moved.at(2, 0), 6.0F);
        QCOMPARE(moved.at(3, 0), 16.0F); // shifted beyond the last point
    }

    void endsNeverCross()
    {
        ReadingSettings s;
        s.nearest = 1.0;
        s.farthest = 10.0;
        for (const double pull : {9.0, 10.0, 11.0, 1e9, 1e300}) {
            setNearest(s, pull);
            QVERIFY(s.nearest < s.farthest);
            QCOMPARE(s.farthest, 10.0);
        }
        setFarthest(s, 0.0);
        QVERIFY(s.farthest > s.nearest);
        s.check();
    }

    void settingsOutOfRangeAreNamed()
    {
        const auto refusal = [](auto change) {
            ReadingSettings s;
            change(s);
            try {
                s.check();
            } catch (const Error& error) {
                return QString::fromUtf8(error.what());
            }
            return QString();
        };
        QVERIFY(refusal([](auto& s) { s.nearest = 20.0; }).contains("farthest"));
        QVERIFY(refusal([](auto& s) { s.nearest = std::nan(""); }).contains("nearest"));
        QVERIFY(refusal([](auto& s) { s.storedHigh = -1.0; }).contains("stored"));
        QVERIFY(refusal([](auto& s) { s.fieldOfViewDeg = 180.0; }).contains("field of view"));
        QVERIFY(refusal([](auto& s) { s.conditioning.remap = {{2, 3}, {1, 4}}; }).contains("rise"));
        QVERIFY(refusal([](auto& s) { s.conditioning.softenPx = -1; }).contains("softening"));
        QCOMPARE(refusal([](auto&) {}), QString());
    }

    // Two surfaces with a step of one, two and three mixed pixels between them, and clean ones that must
    // stay.
    void snappingGivesMixturesToTheNearerSurface()
    {
        for (const auto& [numbers, expected] :
             {std::pair{std::vector<float>{2, 2, 2, 3, 6, 6, 6}, std::vector<float>{2, 2, 2, 2, 6, 6, 6}},
              std::pair{std::vector<float>{2, 2, 2, 3, 5, 6, 6, 6},
                        std::vector<float>{2, 2, 2, 2, 6, 6, 6, 6}},
              std::pair{std::vector<float>{6, 6, 5, 4.1F, 2.5F, 2, 2, 2},
                        std::vector<float>{6, 6, 6, 6, 2, 2, 2, 2}},
              std::pair{std::vector<float>{2, 2, 2, 6, 6, 6}, std::vector<float>{2, 2, 2, 6, 6, 6}},
              // A gap of 0 is a surface here: what is mostly sky becomes sky.
              std::pair{std::vector<float>{4, 4, 4, 1, 0, 0, 0}, std::vector<float>{4, 4, 4, 0, 0, 0, 0}},
              // A steady slope is no edge.
              std::pair{std::vector<float>{2, 2.3F, 2.6F, 2.9F, 3.2F, 3.5F},
                        std::vector<float>{2, 2.3F, 2.6F, 2.9F, 3.2F, 3.5F}}}) {
            const auto result = snapped(row(numbers));
            for (std::size_t i = 0; i < numbers.size(); ++i)
                QVERIFY2(result.at(static_cast<int>(i), 0) == expected[i],
                         qPrintable(QStringLiteral("%1: %2").arg(i).arg(result.at(static_cast<int>(i), 0))));
        }
    }

    // A slanted plane in 256 steps: smoothing brings it back to well within half a step, and leaves an edge
    // alone.
    void smoothingStepsFollowsTheSurfaceAndKeepsEdges()
    {
        const int width = 400;
        const int height = 60;
        Plane<float> exact(width, height);
        Plane<float> stored(width, height);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                exact.at(x, y) = x < 300 ? 0.30F + 0.0001F * static_cast<float>(x) : 0.8F;
                stored.at(x, y) = std::round(exact.at(x, y) * 255.0F) / 255.0F;
            }
        const Plane<std::uint8_t> gaps(width, height);
        const auto smooth = smoothedSteps(stored, gaps, 1.0 / 255.0);
        double before = 0.0;
        double after = 0.0;
        for (int x = 60; x < 240; ++x) {
            before += std::pow(stored.at(x, 30) - exact.at(x, 30), 2);
            after += std::pow(smooth.at(x, 30) - exact.at(x, 30), 2);
        }
        QVERIFY2(after < 0.15 * before, qPrintable(QStringLiteral("%1 of %2").arg(after).arg(before)));
        for (int x = 0; x < width; ++x)
            QVERIFY(std::abs(smooth.at(x, 30) - stored.at(x, 30)) <= 0.5F / 255.0F + 1e-6F);
        QVERIFY(smooth.at(299, 30) < 0.4F && smooth.at(300, 30) > 0.79F);
    }

    void softeningCalmsNoiseAndKeepsEdges()
    {
        const int width = 120;
        const int height = 60;
        std::mt19937 dice(3);
        std::normal_distribution<float> noise(0.0F, 0.01F);
        Plane<float> distance(width, height);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                distance.at(x, y) = (x < 60 ? 2.0F : 5.0F) * (1.0F + noise(dice));
        distance.at(10, 10) = std::numeric_limits<float>::infinity();
        const auto soft = softened(distance, 8.0);
        double before = 0.0;
        double after = 0.0;
        for (int y = 0; y < height; ++y)
            for (int x = 15; x < 55; ++x) {
                before += std::pow(distance.at(x, y) - 2.0F, 2);
                after += std::pow(soft.at(x, y) - 2.0F, 2);
            }
        QVERIFY2(after < 0.3 * before, qPrintable(QString::number(after / before)));
        for (int y = 0; y < height; ++y) {
            QVERIFY(std::abs(soft.at(59, y) - 2.0F) < 0.12F);
            QVERIFY(std::abs(soft.at(60, y) - 5.0F) < 0.3F);
        }
        QVERIFY(std::isinf(soft.at(10, 10)));
        QVERIFY(std::isfinite(soft.at(11, 10)));
    }

    void theSameOnAnyNumberOfThreads()
    {
        std::mt19937 dice(9);
        Plane<float> stored(97, 61);
        for (float& v : stored.pixels())
            v = static_cast<float>(dice() % 1000) / 1000.0F;
        ReadingSettings s;
        s.reading = Reading::greyNearBright;
        s.conditioning = {true, 255, 4.0, 0.1, {}};
        const auto one = toDistance(stored, nullptr, s, viewOf(stored), {1, {}, {}});
        const auto many = toDistance(stored, nullptr, s, viewOf(stored), {5, {}, {}});
        QVERIFY(std::equal(one.distance.pixels().begin(), one.distance.pixels().end(),
                           many.distance.pixels().begin()));
    }

    // A 3-4-5 triangle laid out in space, seen through a 90 degree lens: at distance d the frame is 2 d wide.
    void spansAreMeasuredInSpace()
    {
        ViewGeometry view{200.0, 100.0};
        view.fieldOfViewDeg = 90.0;
        // (0, 0, 4) and (3, 0, 8): 5 apart. x px = 100 + 100 X / Z.
        const double span = spanBetween({100.0, 50.0, 4.0}, {100.0 + 100.0 * 3.0 / 8.0, 50.0, 8.0}, view);
        QVERIFY(std::abs(span - 5.0) < 1e-9);
        const Plane<float> numbers = row({5, 1, 2, 3, 4});
        const Plane<std::uint8_t> gaps(5, 1);
        QCOMPARE(percentilesIn(numbers, gaps, {0, 0, 5, 1}, 0.0, 1.0).value(), (std::pair{1.0, 5.0}));
        QCOMPARE(percentilesIn(numbers, gaps, {1, 0, 3, 1}, 0.5, 1.0).value(), (std::pair{2.0, 3.0}));
        QVERIFY(!percentilesIn(numbers, gaps, {7, 0, 3, 1}, 0.5, 1.0));
    }

    // Worked values of the trade (common practice): what artists tell each other of their scenes.
    void workedValuesOfTheTrade()
    {
        // An object at 500 before a camera at -300 is in focus at 800, one at 1300 at 1600.
        QCOMPARE(optics::distanceAlongAxis({0, 0, -300}, {0, 0, 500}, {0, 0, 1}), 800.0);
        QCOMPARE(optics::distanceAlongAxis({0, 0, -300}, {0, 0, 1300}, {0, 0, 1}), 1600.0);

        // Stored depth of 2 to 3 in front, 16 in the middle, 24 at the far wall, 0 where nothing is; the
        // empty part is put at 30.
        Plane<float> stored(4, 1);
        const float numbers[] = {2.2F, 16.0F, 24.0F, 0.0F};
        std::copy_n(numbers, 4, stored.row(0));
        depth::ReadingSettings plain;
        plain.gaps.place = depth::GapRules::Place::distance;
        plain.gaps.distance = 30.0;
        const auto placed = depth::toDistance(stored, nullptr, plain, {4.0, 1.0});
        QCOMPARE(placed.distance.at(0, 0), 2.2F);
        QCOMPARE(placed.distance.at(2, 0), 24.0F);
        QCOMPARE(placed.distance.at(3, 0), 30.0F);
        QCOMPARE(placed.gapCount, std::size_t(1));
        // Focused at 2.2 everything behind is blurred the more the farther it is, the empty part most; at 18
        // the middle is sharper than front, wall and empty part.
        const auto coc = [](double focus, double distance) {
            return std::abs(optics::circleOfConfusionMm({50.0, 2.0, 1000.0 * focus}, 1000.0 * distance));
        };
        QVERIFY(coc(2.2, 2.2) == 0.0 && coc(2.2, 16.0) < coc(2.2, 24.0) && coc(2.2, 24.0) < coc(2.2, 30.0));
        QVERIFY(coc(18.0, 16.0) < coc(18.0, 24.0) && coc(18.0, 24.0) < coc(18.0, 30.0) &&
                coc(18.0, 30.0) < coc(18.0, 2.2));

        // A raw depth of 1800 to 3108 brought to near 1 and far 0 is a grey, near bright; clamped, and never
        // turned round by ends that overshoot.
        depth::ReadingSettings grey;
        grey.reading = depth::Reading::greyNearBright;
        grey.nearest = 1800.0;
        grey.farthest = 3108.0;
        grey.clamp = true;
        QVERIFY(std::abs(depth::distanceOf(1.0, grey) - 1800.0) < 1e-9);
        QVERIFY(std::abs(depth::distanceOf(0.0, grey) - 3108.0) < 1e-9);
        QVERIFY(std::abs(depth::storedOf(2454.0, grey) - 0.5) < 1e-9);
        Plane<float> beyond(3, 1);
        const float overshoot[] = {1.4F, 0.5F, -0.3F};
        std::copy_n(overshoot, 3, beyond.row(0));
        const auto held = depth::toDistance(beyond, nullptr, grey, {3.0, 1.0});
        QCOMPARE(held.distance.at(0, 0), 1800.0F);
        QCOMPARE(held.distance.at(1, 0), 2454.0F);
        QCOMPARE(held.distance.at(2, 0), 3108.0F);

        // A washed-out grey between 0 and 500 m squeezed to 16.5 m.
        depth::ReadingSettings wide = grey;
        wide.reading = depth::Reading::greyNearDark;
        wide.nearest = 0.0;
        wide.farthest = 500.0;
        wide.clamp = false;
        wide.gaps.zero = false;
        QVERIFY(std::abs(depth::storedOf(16.5, wide) - 0.033) < 1e-9);
        depth::ReadingSettings squeezed = wide;
        squeezed.storedHigh = depth::storedOf(16.5, wide);
        squeezed.farthest = 16.5;
        for (const double stored01 : {0.004, 0.01, 0.03})
            QVERIFY(std::abs(depth::distanceOf(stored01, squeezed) - depth::distanceOf(stored01, wide)) <
                    1e-9);
    }

    // A camera-to-far grey: 0 is a distance of its own, no gap; its steps keep their distances.
    void aGreyMayBeginAtTheCamera()
    {
        depth::ReadingSettings grey;
        grey.reading = depth::Reading::greyNearDark;
        grey.nearest = 0.0;
        grey.farthest = 100.0;
        grey.gaps.zero = false;
        grey.check();
        QVERIFY(std::abs(depth::distanceOf(0.5, grey) - 50.0) < 1e-9);
        Plane<float> stored(3, 1);
        const float numbers[] = {0.0F, 0.25F, 1.0F};
        std::copy_n(numbers, 3, stored.row(0));
        const auto read = depth::toDistance(stored, nullptr, grey, {3.0, 1.0});
        QCOMPARE(read.gapCount, std::size_t(0));
        QVERIFY(read.distance.at(0, 0) > 0.0F && read.distance.at(0, 0) < 0.01F);
        QCOMPARE(read.distance.at(1, 0), 25.0F);
        grey.gaps.zero = true; // as asked
        QCOMPARE(depth::toDistance(stored, nullptr, grey, {3.0, 1.0}).gapCount, std::size_t(1));
        depth::setNearest(grey, 0.0);
        QCOMPARE(grey.nearest, 0.0);
        grey.spacing = depth::Spacing::reciprocal; // 1/0 has no place on it
        QVERIFY_EXCEPTION_THROWN(grey.check(), Error);
        depth::ReadingSettings clip;
        clip.reading = depth::Reading::clipSpace;
        clip.nearest = 0.0;
        QVERIFY_EXCEPTION_THROWN(clip.check(), Error);
    }
};

QTEST_GUILESS_MAIN(TestDepthReading)
#include "test_depth_reading.moc"
