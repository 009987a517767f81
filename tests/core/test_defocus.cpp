#include "core/defocus/defocus.h"
#include "core/defocus/lens/iris_kernel.h"
#include "core/defocus/repair/edge_repair.h"
#include "core/defocus/slices/slice_grid.h"
#include "core/defocus/spread/span_kernels.h"
#include "core/system/error.h"
#include "support/lenses.h"
#include "support/pictures.h"

#include <QTest>
#include <atomic>
#include <chrono>
#include <cmath>
#include <hwy/targets.h>
#include <numbers>
#include <numeric>
#include <opencv2/imgproc.hpp>
#include <random>
#include <thread>

using namespace retinex;
using namespace retinex::defocus;
using test::filled;
using test::kInf;
using test::lensWithRadius;

namespace {

double sumOf(const Plane<float>& plane)
{
    double sum = 0.0;
    for (const float v : plane.pixels())
        sum += static_cast<double>(v);
    return sum;
}

} // namespace

class TestDefocus : public QObject
{
    Q_OBJECT

private slots:
    void uniformPicturesStayUniform_data()
    {
        QTest::addColumn<int>("kind");
        QTest::newRow("flat, behind") << 0;
        QTest::newRow("flat, in front") << 1;
        QTest::newRow("random depths") << 2;
        QTest::newRow("gaps and edges") << 3;
    }
    void uniformPicturesStayUniform()
    {
        QFETCH(int, kind);
        const int w = 150;
        const int h = 90;
        Plane<float> distance(w, h);
        std::mt19937 random(3);
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x)
                distance.at(x, y) = kind == 0   ? kInf
                                    : kind == 1 ? 0.9F
                                    : kind == 2 ? 1.0F + 6.0F * static_cast<float>(random() % 1000) / 1000.0F
                                    : x < 60    ? 0.8F
                                    : y < 30    ? kInf
                                                : 2.0F;
        LensSettings settings = lensWithRadius(w, 11.3);
        settings.iris.blades = 5;
        const RgbaImage out = defocus::defocus({filled(w, h, 0.7F), distance}, settings);
        for (const float v : out.plane(1).pixels())
            QVERIFY2(std::abs(v - 0.7F) < 0.7e-5F, qPrintable(QString::number(v, 'g', 9)));
    }

    void aPointKeepsItsEnergy_data()
    {
        QTest::addColumn<double>("radius");
        QTest::addColumn<int>("blades");
        for (const double radius : {0.3, 0.8, 1.7, 6.5, 23.0, 47.0})
            for (const int blades : {0, 3, 6})
                QTest::addRow("%g px, %d blades", radius, blades) << radius << blades;
    }
    void aPointKeepsItsEnergy()
    {
        QFETCH(double, radius);
        QFETCH(int, blades);
        const int size = 341; // its disc stays further from the frame's edges than it is wide
        RgbaImage image(size, size);
        image.plane(0).at(170, 170) = 1000.0F;
        LensSettings settings = lensWithRadius(size, radius);
        settings.iris.blades = blades;
        const RgbaImage out = defocus::defocus({image, Plane<float>(size, size, kInf)}, settings);
        QVERIFY(std::abs(sumOf(out.plane(0)) / 1000.0 - 1.0) < 1e-3);
    }

    // General-purpose library: OpenCV's filter2D with a disc made by supersampling. 9 px is a rung of the
    // ladder.
    void aFlatPictureIsTheConvolutionWithADisc()
    {
        const int size = 140;
        RgbaImage image = filled(size, size, 0.0F);
        std::mt19937 random(7);
        cv::Mat source(size, size, CV_32F);
        for (int y = 0; y < size; ++y)
            for (int x = 0; x < size; ++x)
                source.at<float>(y, x) = image.plane(0).at(x, y) =
                    static_cast<float>(random() % 1000) / 1000.0F;
        cv::Mat kernel = cv::Mat::zeros(25, 25, CV_32F);
        const int fine = 16;
        for (int y = 0; y < 25 * fine; ++y)
            for (int x = 0; x < 25 * fine; ++x)
                if (std::hypot((x + 0.5) / fine - 12.5, (y + 0.5) / fine - 12.5) <= 9.0)
                    kernel.at<float>(y / fine, x / fine) += 1.0F;
        kernel /= cv::sum(kernel)[0];
        cv::Mat truth;
        cv::filter2D(source, truth, CV_32F, kernel);
        const RgbaImage out =
            defocus::defocus({image, Plane<float>(size, size, kInf)}, lensWithRadius(size, 9.0));
        double worst = 0.0;
        for (int y = 30; y < size - 30; ++y)
            for (int x = 30; x < size - 30; ++x)
                worst = std::max(
                    worst, std::abs(static_cast<double>(out.plane(0).at(x, y) - truth.at<float>(y, x))));
        QVERIFY2(worst < 0.004, qPrintable(QString::number(worst)));
    }

    // A disc's variance along one axis is r^2 / 4 (second moment of a circle's area).
    void smallBlursHaveTheVarianceOfTheirDisc()
    {
        for (const double radius : {0.4, 0.75, 1.2, 1.9, 2.5, 4.4}) {
            const int size = 61;
            RgbaImage image(size, size);
            image.plane(0).at(30, 30) = 1.0F;
            const RgbaImage out =
                defocus::defocus({image, Plane<float>(size, size, kInf)}, lensWithRadius(size, radius));
            double variance = 0.0;
            for (int y = 0; y < size; ++y)
                for (int x = 0; x < size; ++x)
                    variance += static_cast<double>(out.plane(0).at(x, y)) * (y - 30) * (y - 30);
            QVERIFY2(std::abs(variance - radius * radius / 4.0) < 0.01 * radius * radius,
                     qPrintable(QString::number(radius)));
        }
    }

    void thePentagonTurnsOverInFrontOfTheFocalPlane()
    {
        const int size = 121;
        RgbaImage image(size, size);
        image.plane(0).at(60, 60) = 1.0F;
        LensSettings settings = lensWithRadius(size, 20.0);
        settings.iris.blades = 5;
        const auto topAndBottom = [&](float distance) {
            const RgbaImage out = defocus::defocus({image, Plane<float>(size, size, distance)}, settings);
            int top = size;
            int bottom = 0;
            for (int y = 0; y < size; ++y) {
                for (int x = 0; x < size; ++x) {
                    if (out.plane(0).at(x, y) > 1e-5F) {
                        top = std::min(top, y);
                        bottom = std::max(bottom, y);
                    }
                }
            }
            return std::pair(60 - top, bottom - 60);
        };
        const auto [upBehind, downBehind] = topAndBottom(kInf);
        QVERIFY(upBehind > downBehind + 2);                   // a corner up, a side down
        const auto [upFront, downFront] = topAndBottom(1.0F); // as large a disc, nearer
        QVERIFY(downFront > upFront + 2);
    }

    void aBlurredForegroundUncoversWhatLiesBehind()
    {
        // A bright wall in focus behind a dark bar close to the lens: the bar's rim must become see-through
        // on both sides of its outline, down to about half at the outline.
        const int w = 160;
        const int h = 60;
        RgbaImage image = filled(w, h, 1.0F);
        Plane<float> distance(w, h, 2.0F);
        for (int y = 0; y < h; ++y) {
            for (int x = 60; x < 100; ++x) {
                distance.at(x, y) = 1.0F;
                for (int c = 0; c < 3; ++c)
                    image.plane(c).at(x, y) = 0.0F;
            }
        }
        const RgbaImage out = defocus::defocus({image, distance}, lensWithRadius(w, 10.0));
        const float* row = out.plane(0).row(30);
        QVERIFY(std::abs(0.5F * (row[59] + row[60]) - 0.5F) < 0.03F);
        QVERIFY(row[64] > 0.1F && row[64] < 0.45F); // inside the outline something of the wall shows
        QVERIFY(row[80] < 1e-3F && row[40] > 0.999F);
        for (int x = 46; x < 73; ++x)
            QVERIFY(row[x + 1] <= row[x] + 1e-4F); // no outline, no halo
    }

    void unmixingGivesBackThePictureWhereNothingIsBlurred()
    {
        // An anti-aliased edge: the mixed column belongs half to each side. Its parts must add up to it.
        const int w = 40;
        RgbaImage image = filled(w, 20, 0.2F);
        Plane<float> radius(w, 20, 4.0F);
        for (int y = 0; y < 20; ++y) {
            for (int x = 0; x < 20; ++x)
                radius.at(x, y) = -6.0F;
            for (int x = 0; x < 20; ++x)
                image.plane(0).at(x, y) = 2.0F;
            image.plane(0).at(20, y) = 0.65F; // 25 % near, 75 % far, under the far depth
        }
        const Surfaces parts = repairEdges(image, radius, nullptr, {});
        QVERIFY(std::abs(parts.visible.coverage.at(20, 10) - 0.25F) < 0.01F);
        QVERIFY(parts.visible.radiusPx.at(20, 10) < 0.0F && parts.hidden.radiusPx.at(20, 10) > 0.0F);
        const float near = parts.visible.colour.plane(0).at(20, 10);
        const float far = parts.hidden.colour.plane(0).at(20, 10) / parts.hidden.evidence.at(20, 10);
        QVERIFY(std::abs(near + 0.75F * far - 0.65F) < 1e-4F);
        QVERIFY(std::abs(near - 0.25F * 2.0F) < 0.02F);
        QCOMPARE(parts.visible.coverage.at(30, 10), 1.0F); // away from the edge nothing is touched
        QCOMPARE(parts.hidden.coverage.at(30, 10), 0.0F);
    }

    void squarePixelsAreNotAssumed()
    {
        const int size = 121;
        RgbaImage image(size, size);
        image.plane(0).at(60, 60) = 1.0F;
        LensSettings settings = lensWithRadius(size, 10.0);
        settings.pixelAspect = 2.0; // twice as wide as high: the disc spans 10 px across, 20 px down
        const RgbaImage out = defocus::defocus({image, Plane<float>(size, size, kInf)}, settings);
        QVERIFY(out.plane(0).at(60, 78) > 1e-6F && out.plane(0).at(60, 83) < 1e-12F);
        QVERIFY(out.plane(0).at(68, 60) > 1e-6F && out.plane(0).at(73, 60) < 1e-12F);
    }

    void itStopsWhenAskedAndTellsHowFarItIs()
    {
        const int w = 1200;
        const Plane<float> distance(w, 700, kInf);
        std::stop_source stop;
        std::atomic<int> calls{0};
        Run run{0,
                [&](double share) {
                    QVERIFY(share > 0.0 && share <= 1.0);
                    if (++calls == 2) stop.request_stop();
                },
                stop.get_token()};
        QVERIFY_EXCEPTION_THROWN(
            (void)defocus::defocus({filled(w, 700, 1.0F), distance}, lensWithRadius(w, 40.0), run),
            Cancelled);
        QVERIFY(calls < 12);
        QVERIFY_EXCEPTION_THROWN(
            (void)defocus::defocus({filled(8, 8, 1.0F), Plane<float>(9, 8)}, LensSettings{}), Error);
    }

    // Held zone, strength and limits, in this order, against hand-computed radii: 50 mm, f/2, focus 2 m, 36
    // mm across 3600 px, as rendered: infinity has a radius of 0.5 * 25 * 50 / 2000 * 100 = 31.25 px.
    void blurControlsChangeTheRadiusInTheirOrder()
    {
        LensSettings settings;
        settings.lens = {50.0, 2.0, 2000.0};
        const double inf = std::numeric_limits<double>::infinity();
        const double atInfinity = 0.5 * 25.0 * 50.0 / 2000.0 * 100.0;
        QVERIFY(std::abs(settings.blurModel(3600).radiusPx(inf) - atInfinity) < 1e-9);
        QVERIFY(std::abs(settings.blurModel(3600).radiusPx(1.0) + atInfinity) < 1e-9);
        settings.blur.heldNear = 0.5;
        settings.blur.heldFar = 1.0;
        for (const double held : {1.5, 1.9, 2.0, 2.5, 3.0})
            QCOMPARE(settings.blurModel(3600).radiusPx(held), 0.0);
        // 5 m is taken as 4 m: half the radius of infinity; 0.5 m as 1 m.
        QVERIFY(std::abs(settings.blurModel(3600).radiusPx(5.0) - 0.5 * atInfinity) < 1e-9);
        QVERIFY(std::abs(settings.blurModel(3600).radiusPx(0.5) + atInfinity) < 1e-9);
        settings.blur.strength = 2.0;
        QVERIFY(std::abs(settings.blurModel(3600).radiusPx(5.0) - atInfinity) < 1e-9);
        settings.blur.limitFarPx = 10.0;
        settings.blur.limitNearPx = 20.0;
        QCOMPARE(settings.blurModel(3600).radiusPx(inf), 10.0);
        QCOMPARE(settings.blurModel(3600).radiusPx(0.5), -20.0);
        settings.blur.strength = 2.5;
        QVERIFY_EXCEPTION_THROWN(settings.check(), Error);
    }

    // Blur evenly with 1/distance: 20 px at 8 m with the focus at 1 m; at 2 m (1 - 1/2) / (1 - 1/8) of it.
    void theSimpleLensGrowsWithTheReciprocalDistance()
    {
        LensSettings settings;
        settings.lens = {50.0, 2.0, 1000.0};
        settings.simpleLens = SimpleLens{20.0, 1.0, 8.0};
        QVERIFY(std::abs(settings.blurModel(640).radiusPx(8.0) - 20.0) < 1e-9);
        QVERIFY(std::abs(settings.blurModel(640).radiusPx(2.0) - 20.0 * 0.5 / 0.875) < 1e-9);
        settings.lens.focusDistanceMm = 8000.0;
        QVERIFY(std::abs(settings.blurModel(640).radiusPx(1.0) + 20.0) < 1e-9);
        settings.simpleLens->farthest = 1.0;
        QVERIFY_EXCEPTION_THROWN(settings.check(), Error);
    }

    // Two stops are four times the light, the colour stays; below the level nothing changes.
    void glintsAreLiftedWithTheirColour()
    {
        RgbaImage image = filled(3, 1, 0.5F);
        image.plane(0).at(1, 0) = 2.0F;
        image.plane(1).at(1, 0) = 1.0F;
        const RgbaImage lifted = withGlintsLifted(image, {0.8, 2.0});
        QCOMPARE(lifted.plane(0).at(0, 0), 0.5F);
        QVERIFY(std::abs(lifted.plane(0).at(1, 0) - 8.0F) < 1e-5F);
        QVERIFY(std::abs(lifted.plane(1).at(1, 0) - 4.0F) < 1e-5F);
    }

    // Dark bars below each other, each a little farther off, before a bright wall in focus: past the last of
    // them shows the part of the lens that its edge leaves open, a segment of the disc. (Area of a segment of
    // a circle: any handbook of geometry.)
    void barsJustBehindEachOtherHideNoMoreThanTheirEdge()
    {
        constexpr int size = 96;
        constexpr int end = 60; // of the last bar
        RgbaImage image = filled(size, size, 0.0F);
        Plane<float> distance(size, size);
        defocus::LensSettings settings = lensWithRadius(size, 8.0);
        const auto radiusAt = [&](double metres) { return settings.blurModel(size).radiusPx(metres); };
        double lastRadius = 0.0;
        for (int y = 0; y < size; ++y) {
            const double metres = y < end ? 1.0 + 0.05 * std::max(0, (y - end + 24) / 6) : 2.0;
            if (y < end) lastRadius = -radiusAt(metres);
            for (int x = 0; x < size; ++x) {
                distance.at(x, y) = static_cast<float>(metres);
                for (int c = 0; c < 3; ++c)
                    image.plane(c).at(x, y) = y < end ? 0.0F : 1.0F;
            }
        }
        QVERIFY(lastRadius > 5.0 && lastRadius < 8.0);
        const RgbaImage blurred = defocus::defocus({image, distance}, settings);
        for (int y = end - 4; y < end + 5; ++y) {
            const double edge =
                std::clamp((y + 0.5 - end) / lastRadius, -1.0, 1.0); // in radii, from the middle
            const double hidden = (std::acos(edge) - edge * std::sqrt(1.0 - edge * edge)) / std::numbers::pi;
            const double open = static_cast<double>(blurred.plane(0).at(size / 2, y));
            QVERIFY2(std::abs(open - (1.0 - hidden)) < 0.05,
                     qPrintable(QStringLiteral("row %1: %2, not %3").arg(y).arg(open).arg(1.0 - hidden)));
        }
    }

    // A lamp of any brightness, far from the frame's edge: its light is all there, and is nowhere else.
    void discsHoldTheLightOfTheirPointAtAnyBrightness()
    {
        for (const float lamp : {1.0F, 50.0F, 1e5F}) {
            for (const double radius : {2.3, 9.0, 33.0}) {
                RgbaImage image = filled(160, 120, 0.0F);
                image.plane(0).at(80, 60) = lamp;
                const RgbaImage blurred =
                    defocus::defocus({image, Plane<float>(160, 120, kInf)}, lensWithRadius(160, radius));
                double sum = 0.0;
                for (int y = 0; y < 120; ++y) {
                    for (int x = 0; x < 160; ++x) {
                        sum += static_cast<double>(blurred.plane(0).at(x, y));
                        if (std::hypot(x - 80, y - 60) > radius + 10.0) // two cells
                            QVERIFY(std::abs(blurred.plane(0).at(x, y)) < 1e-9F * lamp);
                    }
                }
                QVERIFY2(std::abs(sum / static_cast<double>(lamp) - 1.0) < 1e-3,
                         qPrintable(QString::number(sum / static_cast<double>(lamp))));
            }
        }
    }

    void ladderPlacesShareBetweenNeighboursInTheSquareOfTheRadius()
    {
        const SliceGrid grid(20.0, 30.0);
        QCOMPARE(grid.radius(grid.focalSlice()), 0.0);
        for (float radius = -20.0F; radius <= 30.0F; radius += 0.37F) {
            const auto place = grid.place(radius);
            const double low = grid.radius(place.slice);
            const double high = grid.radius(place.slice + 1);
            QVERIFY(low <= radius && radius <= high);
            const auto share = static_cast<double>(place.behind);
            const double square = (1.0 - share) * low * low + share * high * high;
            QVERIFY(std::abs(square - static_cast<double>(radius * radius)) < 1e-3 * (1.0 + square));
        }
    }

    void kernelsSumToOneAndKnowTheFrameEdge()
    {
        for (const double radius : {0.0, 0.5, 3.0, -7.0, 25.0}) {
            optics::Iris iris;
            iris.blades = 7;
            iris.turnDeg = 33.0;
            const IrisKernel kernel(iris, {radius});
            QVERIFY(std::abs(kernel.massInside(200, 200, 401, 401) - 1.0) < 1e-12);
            // Against brute force at a corner.
            double inside = 0.0;
            for (const auto& row : kernel.rows()) {
                if (2 - row.dy < 0) continue;
                for (int source = 0; source < 400; ++source) { // source pixel x reaches output pixel 3
                    const double from = 3 - source - 0.5;
                    inside +=
                        row.weight * std::max(0.0, std::min(row.hi, from + 1.0) - std::max(row.lo, from));
                }
            }
            QVERIFY(std::abs(kernel.massInside(3, 2, 400, 400) - inside) < 1e-9);
        }
    }

    /// A far surface whose half is seen (evidence 0.5) beside a near one that covers half: together they fill
    /// the pixel. One that is wholly guessed lies behind the near one, and shows through what that leaves
    /// open.
    void guessesShowThroughWhatIsOpen()
    {
        const auto taken = [](float evidence, float covered, const float* nearer) {
            const float light = evidence;
            float coverage = 0.5F;
            std::array<float, 4> colour{};
            BudgetRow row;
            for (int c = 0; c < 4; ++c) {
                row.light[c] = &light;
                row.colour[c] = &colour[static_cast<std::size_t>(c)];
            }
            row.evidence = &evidence;
            row.covered = &covered;
            row.nearer = nearer;
            row.coverage = &coverage;
            addWithinBudget(row, 1);
            return coverage - 0.5F;
        };
        const float half = 0.5F;
        QCOMPARE(taken(0.5F, 0.5F, &half), 0.5F);
        QCOMPARE(taken(0.05F, 0.5F, &half), 0.25F); // 0.5 of what 0.5 leaves open
        QCOMPARE(taken(0.1F, 1.0F, &half), 0.5F);
        QCOMPARE(taken(0.05F, 0.5F, nullptr), 0.5F);
        // A bar that crosses behind another, of which half is in the way: 0.3 is seen of it beside the other,
        // and 0.3 guessed behind. Half of all of it shows, not all that is seen.
        QVERIFY(std::abs(taken(0.3F + 0.3F * kGuessEvidence, 0.6F, &half) - 0.3F) < 1e-6F);
        // Seen 0.45, guessed 0.15: (0.5 x 0.15) / (0.45 x 0.5) = 1/3 of the way from 0.45 to 0.5 x 0.6.
        QVERIFY(std::abs(taken(0.45F + 0.15F * kGuessEvidence, 0.6F, &half) - 0.4F) < 1e-6F);
    }

    // Every width up to a few vectors, odd starts, and every instruction set of this machine.
    void vectorCodeAgreesWithItsScalarTwin()
    {
        for (const auto target : hwy::SupportedAndGeneratedTargets()) {
            hwy::SetSupportedTargetsForTest(target);
            hwy::GetChosenTarget().Update(hwy::SupportedTargets());
            for (int count = 0; count <= 40; ++count) {
                compareSpans<double>(count, 1e-11);
                compareSpans<float>(count, 2e-4);
                compareBudgets(count);
                compareExpansion(count);
                compareJoining(count);
                compareShared(count);
                compareMixes(count);
            }
        }
        hwy::SetSupportedTargetsForTest(0);
        hwy::GetChosenTarget().Update(hwy::SupportedTargets());
    }

private:
    template <class Real>
    static void compareSpans(int count, double tolerance)
    {
        std::mt19937 random(1);
        std::vector<Real> prefix(800);
        double sum = 0.0;
        for (Real& p : prefix)
            p = static_cast<Real>(sum += static_cast<double>(random() % 1000) / 500.0);
        std::vector<Real> mine(82, Real(0.25));
        std::vector<Real> truth = mine;
        std::vector<Span<Real>> spans;
        for (const double shift : {0.0, 3.4, -20.0}) {
            spans.emplace_back(prefix.data() + 101, -7.3 + shift, 9.85 + shift, 0.31);
            spans.back().to = count;
        }
        SpanRow<Real> row{spans.data(), 3, 400, mine.data() + 1, 41, 2, count};
        addSpans(row);
        row.sums = truth.data() + 1;
        addSpansScalar(row);
        if (count > 0) { // the formula, by hand
            const auto lerp = [&](int whole, double part) {
                const auto* p = prefix.data() + 101 + whole;
                return static_cast<double>(p[0]) + part * static_cast<double>(p[1] - p[0]);
            };
            double first = 0.31 * (lerp(9, 0.85) - lerp(-8, 0.7));
            first += 0.31 * (lerp(13, 0.25) - lerp(-4, 0.1)) + 0.31 * (lerp(-11, 0.85) - lerp(-28, 0.7));
            QVERIFY(std::abs(static_cast<double>(mine[1]) - first) < std::max(1e-9, tolerance));
        }
        for (std::size_t i = 0; i < mine.size(); ++i)
            QVERIFY(std::abs(static_cast<double>(mine[i] - truth[i])) < tolerance);
    }
    static void compareBudgets(int count)
    {
        std::mt19937 random(2);
        const auto some = [&] { return static_cast<float>(random() % 1000) / 700.0F; };
        std::vector<float> light(44);
        std::vector<float> inside(44);
        std::vector<float> covered(44);
        std::vector<float> coverage(44);
        for (auto* row : {&light, &inside, &covered, &coverage})
            for (float& v : *row)
                v = some();
        covered[3] = coverage[7] = 0.0F;
        coverage[5] = 1.0F;
        std::vector<float> evidence = covered;
        std::vector<float> nearer(44);
        for (std::size_t i = 0; i < evidence.size(); ++i) {
            evidence[i] *= static_cast<float>(i % 4) / 3.0F;
            nearer[i] = static_cast<float>(i % 5) / 4.0F;
        }
        for (const int which : {0, 1, 2, 3}) {
            std::vector<float> coverages[2] = {coverage, coverage};
            std::vector<float> colours[2] = {light, light};
            std::vector<float> alphas[2] = {coverage, coverage};
            for (int twin = 0; twin < 2; ++twin) {
                BudgetRow row;
                std::vector<float> sink(44);
                for (int c = 0; c < 4; ++c) {
                    row.light[c] = light.data() + 1;
                    row.colour[c] = (c == 0 ? colours[twin] : c == 3 ? alphas[twin] : sink).data() + 1;
                }
                row.covered = covered.data() + 1;
                row.evidence = evidence.data() + 1;
                if (which & 1) row.nearer = nearer.data() + 1;
                if (which & 2) row.inside = inside.data() + 1;
                row.coverage = coverages[twin].data() + 1;
                twin == 0 ? addWithinBudget(row, count) : addWithinBudgetScalar(row, count);
            }
            for (std::size_t i = 0; i < 44; ++i) {
                QVERIFY(std::abs(coverages[0][i] - coverages[1][i]) < 1e-5F);
                QVERIFY(std::abs(colours[0][i] - colours[1][i]) < 1e-4F);
                QVERIFY(std::abs(alphas[0][i] - alphas[1][i]) < 1e-4F);
                // Alpha is never more than what is covered, whatever light arrives.
                QVERIFY((which & 2) != 0 || alphas[0][i] <= coverages[0][i] + 1e-5F);
            }
        }
    }
    static void compareShared(int count)
    {
        std::mt19937 random(3);
        std::vector<std::uint8_t> rung(44);
        std::vector<float> behind(44);
        std::vector<float> value(44);
        for (std::size_t i = 0; i < rung.size(); ++i) {
            rung[i] = static_cast<std::uint8_t>(random() % 4);
            behind[i] = static_cast<float>(random() % 100) / 99.0F;
            value[i] = static_cast<float>(random() % 1000) / 100.0F;
        }
        for (const int slice : {0, 2, 255}) {
            std::vector<float> sums[2] = {value, value};
            for (int twin = 0; twin < 2; ++twin) {
                SharedRow row{rung.data() + 1,    behind.data() + 1,      slice, 1,
                              {value.data() + 1}, {sums[twin].data() + 2}};
                twin == 0 ? addShared(row, count) : addSharedScalar(row, count);
            }
            for (std::size_t i = 0; i < value.size(); ++i)
                QVERIFY(std::abs(sums[0][i] - sums[1][i]) < 1e-5F);
        }
    }
    static void compareMixes(int count)
    {
        std::vector<float> a(44);
        std::vector<float> b(44);
        for (std::size_t i = 0; i < a.size(); ++i) {
            a[i] = static_cast<float>(i);
            b[i] = 100.0F - static_cast<float>(i * i);
        }
        std::vector<float> out(44, -1.0F);
        mixRows(a.data() + 1, b.data() + 2, 0.25F, out.data(), count);
        for (std::size_t i = 0; i < 42; ++i)
            QVERIFY(std::abs(out[i] - (static_cast<int>(i) < count ? 0.75F * a[i + 1] + 0.25F * b[i + 2]
                                                                   : -1.0F)) < 1e-3F);
    }
    static void compareJoining(int cells)
    {
        for (const int cell : {2, 4, 8, 16, 32}) {
            std::vector<float> row(static_cast<std::size_t>(cell * cells));
            for (std::size_t i = 0; i < row.size(); ++i)
                row[i] = static_cast<float>(i * i % 97);
            const std::vector<float> pixels = row;
            joinCells(row.data(), cell, row.data(), cells, 0.5F);
            for (int i = 0; i < cells; ++i)
                QCOMPARE(
                    row[static_cast<std::size_t>(i)],
                    0.5F * std::accumulate(pixels.begin() + cell * i, pixels.begin() + cell * (i + 1), 0.0F));
        }
    }
    /// Cells of a straight ramp give the ramp again, whatever the size of the cells.
    static void compareExpansion(int count)
    {
        for (const int cell : {2, 4, 8, 16, 32}) {
            std::vector<float> cells(40);
            for (std::size_t i = 0; i < cells.size(); ++i)
                cells[i] = static_cast<float>(cell) * (static_cast<float>(i) - 0.5F);
            std::vector<float> out(44, -1.0F);
            expandCells(cells.data(), cell, out.data(), count);
            for (int x = 0; x < 44; ++x)
                QCOMPARE(out[static_cast<std::size_t>(x)], x < count ? static_cast<float>(x) + 0.5F : -1.0F);
        }
    }
};

QTEST_APPLESS_MAIN(TestDefocus)
#include "test_defocus.moc"
