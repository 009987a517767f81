#include "core/defocus/hidden/hole_fill.h"
#include "core/defocus/repair/edge_repair.h"
#include "core/defocus/repair/silhouette.h"
#include "core/defocus/repair/unmix.h"
#include "core/defocus/slices/slice_map.h"
#include "core/defocus/surfaces/typical_brightness.h"

#include <QTest>
#include <cmath>

using namespace retinex;
using namespace retinex::defocus;

namespace {

constexpr int kSize = 48;

/// A near surface left of `edge`, a far one right of it.
struct EdgeScene
{
    RgbaImage colour{kSize, kSize};
    Plane<float> radius{kSize, kSize};

    EdgeScene(int edge, float nearValue, float farValue, float nearRadius, float farRadius)
    {
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                paint(x, y, x < edge ? nearValue : farValue);
                radius.at(x, y) = x < edge ? nearRadius : farRadius;
            }
        }
    }
    void paint(int x, int y, float value)
    {
        for (int c = 0; c < 3; ++c)
            colour.plane(c).at(x, y) = value;
        colour.plane(3).at(x, y) = 1.0F;
    }
    [[nodiscard]] Plane<std::uint8_t> rim() const
    {
        Plane<std::uint8_t> result(kSize, kSize);
        for (int y = 0; y < kSize; ++y)
            for (int x = 0; x < kSize; ++x)
                around(radius, x, y, 1, [&](int nx, int ny) {
                    if (isEdge(radius.at(x, y), radius.at(nx, ny))) result.at(x, y) = 1;
                });
        return result;
    }
};

} // namespace

/// A layer with all of its rows filled.
struct Filled
{
    Filled(Layer&& layer, double reachPx) : support(layer.coverage.width(), layer.coverage.height())
    {
        HoleFill fill(std::move(layer), reachPx, {});
        for (int y = 0; y < support.height(); ++y)
            fill.fillRow(y, support.row(y));
        colour = std::move(fill.colour());
    }
    RgbaImage colour;
    Plane<float> support;
};

class TestEdgeRepair : public QObject
{
    Q_OBJECT

private slots:
    void sharesLieOnTheLineBetweenTheTwoColours_data()
    {
        QTest::addColumn<float>("share");
        for (const float share : {0.0F, 0.1F, 0.5F, 0.8F, 1.0F})
            QTest::addRow("%g", static_cast<double>(share)) << share;
    }
    void sharesLieOnTheLineBetweenTheTwoColours()
    {
        QFETCH(float, share);
        EdgeScene scene(24, 0.8F, 0.2F, -5.0F, 3.0F);
        scene.paint(24, 20, share * 0.8F + (1.0F - share) * 0.2F); // mixed, under the far depth
        const Unmixed parts = unmix(scene.colour, scene.radius, scene.rim(), nullptr, 24, 20);
        // What the depths alone would say (a quarter) weighs a little: 1 % where it is most wrong.
        QVERIFY2(std::abs(parts.share - share) < 0.01F, qPrintable(QString::number(parts.share)));
        QVERIFY(std::abs(parts.far[0] - 0.2F) < 5e-3F);
        QCOMPARE(parts.nearRadius, -5.0F);
        QCOMPARE(parts.farRadius, 3.0F);
    }

    // A pixel whose centre is on the near side of a straight edge is 75 % near on average, one beyond 25 %.
    void aPixelIsNeverTakenApartIntoMoreThanItHolds()
    {
        // Empty pixels beside a bright surface, seen against another: they hold no light, so no part of them
        // may. (Far colours were the mean of the far side's, whatever the pixel held.)
        EdgeScene scene(24, 0.02F, 0.2F, 0.27F, 0.83F);
        for (int y = 0; y < 20; ++y)
            for (int x = 24; x < kSize; ++x)
                for (int c = 0; c < RgbaImage::channels; ++c)
                    scene.colour.plane(c).at(x, y) = 0.0F;
        const auto rim = scene.rim();
        for (int y = 17; y < 23; ++y) {
            for (int x = 22; x < 26; ++x) {
                const Unmixed parts = unmix(scene.colour, scene.radius, rim, nullptr, x, y);
                if (!parts.isKnown || rim.at(x, y) == 0) continue;
                if (parts.share > 0.8F) continue; // what is hardly seen is a guess
                for (int c = 0; c < RgbaImage::channels; ++c)
                    QVERIFY((1.0F - parts.share) * parts.far[static_cast<std::size_t>(c)] <=
                            scene.colour.plane(c).at(x, y) + 1e-6F);
            }
        }
        const Unmixed empty = unmix(scene.colour, scene.radius, rim, nullptr, 24, 19);
        QCOMPARE(empty.share, 0.0F);
        QCOMPARE(empty.far, Colour{});
    }

    // Beside an open part alpha tells how much of a pixel is covered, whatever its colour says.
    void noPartCoversMoreThanItsShare()
    {
        EdgeScene scene(24, 0.8F, 0.2F, -2.5F, 1.0F);
        for (int y = 0; y < kSize; ++y) {
            for (int x = 25; x < kSize; ++x)
                scene.colour.plane(3).at(x, y) = y < 24 ? 0.0F : 0.4F;
            scene.paint(24, y, 0.2F + 0.6F * static_cast<float>(y) / kSize);
            scene.colour.plane(3).at(24, y) = 0.9F;
        }
        const Surfaces surfaces = repairEdges(scene.colour, scene.radius, nullptr, {});
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                QVERIFY(surfaces.visible.colour.plane(3).at(x, y) <=
                        surfaces.visible.evidence.at(x, y) + 1e-5F);
                QVERIFY(surfaces.hidden.colour.plane(3).at(x, y) <= 1.0F);
            }
            // All of the pixel's alpha is still there.
            const float share = surfaces.visible.coverage.at(24, y);
            const auto alphaOf = [&](const SurfaceLayer& layer) {
                return layer.colour.plane(3).at(24, y) / layer.evidence.at(24, y);
            };
            QVERIFY2(share >= (y < 24 ? 0.85F : 0.8F), qPrintable(QString::number(share)));
            const float alpha = share * alphaOf(surfaces.visible) + (1.0F - share) * alphaOf(surfaces.hidden);
            QVERIFY2(std::abs(alpha - 0.9F) < 0.01F, qPrintable(QString::number(alpha)));
        }
    }

    void againstNothingAlphaIsTheShare()
    {
        // The radii differ by too little to be an edge; the surface ends at 0.3 of pixel 24.
        EdgeScene scene(25, 0.5F, 0.0F, 0.6F, 0.8F);
        for (int y = 0; y < kSize; ++y) {
            for (int x = 24; x < kSize; ++x) {
                const float alpha = x == 24 ? 0.3F : 0.0F;
                scene.paint(x, y, 0.5F * alpha);
                scene.colour.plane(3).at(x, y) = alpha;
            }
        }
        const Surfaces surfaces = repairEdges(scene.colour, scene.radius, nullptr, {});
        QCOMPARE(surfaces.visible.coverage.at(24, 20), 0.3F);
        QCOMPARE(surfaces.visible.colour.plane(0).at(24, 20), 0.15F);
        QCOMPARE(surfaces.hidden.coverage.at(24, 20), 1.0F);
        QCOMPARE(surfaces.hidden.colour.plane(3).at(24, 20), 0.0F);
        QCOMPARE(surfaces.hidden.radiusPx.at(24, 20), 0.8F);
        // Its light lies 0.7 px from the outer side: a disc of 0.6 px does not reach across.
        QVERIFY(surfaces.visible.radiusPx.at(24, 20) < 0.01F);
        QVERIFY(surfaces.visible.radiusPx.at(24, 20) > 0.0F);
        QCOMPARE(surfaces.visible.coverage.at(23, 20), 1.0F);
    }

    void rimsAreSpreadAsFarAsTheirLightReaches_data()
    {
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("share");
        for (const double radius : {0.3, 0.7, 1.0, -0.7})
            for (const double share : {0.2, 0.5, 0.8})
                QTest::addRow("%g px, %g", radius, share) << radius << share;
    }
    void rimsAreSpreadAsFarAsTheirLightReaches()
    {
        QFETCH(double, radius);
        QFETCH(double, share);
        // What passes the outer side of a pixel of which the inner `share` is covered, summed over points of
        // a uniform disc and places in the pixel.
        const double r = std::abs(radius);
        double passing = 0.0;
        double weights = 0.0;
        constexpr int steps = 400;
        for (int i = 0; i < steps; ++i) {
            const double x = r * (2.0 * (i + 0.5) / steps - 1.0);
            const double weight = std::sqrt(r * r - x * x);
            passing += weight * std::max(0.0, x - (1.0 - share));
            weights += weight;
        }
        const double wanted = std::min(r, std::sqrt(8.0 * passing / weights / share));
        const double made =
            static_cast<double>(rimRadius(static_cast<float>(radius), static_cast<float>(share)));
        QVERIFY2(std::abs(std::abs(made) - std::max(wanted, 1e-3)) < 0.005,
                 qPrintable(QString::number(made)));
        QCOMPARE(std::signbit(made), std::signbit(radius)); // on its side of the focal plane
    }

    void alikeSurfacesAreToldApartByDepthAlone()
    {
        const EdgeScene scene(24, 0.5F, 0.5F, -5.0F, 3.0F);
        QCOMPARE(unmix(scene.colour, scene.radius, scene.rim(), nullptr, 23, 20).share, 0.75F);
        QCOMPARE(unmix(scene.colour, scene.radius, scene.rim(), nullptr, 24, 20).share, 0.25F);
    }

    // Where nothing but mixed pixels of like brightness is in sight, nothing can be told: the pixel stays
    // whole.
    void aFieldOfBladesIsLeftAsItIs()
    {
        EdgeScene scene(24, 0.5F, 0.4F, -5.0F, 3.0F);
        for (int y = 0; y < kSize; ++y)
            for (int x = 0; x < kSize; ++x)
                scene.radius.at(x, y) = x % 2 ? -5.0F : 3.0F;
        const Unmixed parts = unmix(scene.colour, scene.radius, scene.rim(), nullptr, 21, 20);
        QVERIFY(!parts.isKnown && parts.share == 1.0F);
    }

    // A lamp two pixels away is no part of a clean foreground pixel; its light in a mixed one is.
    void lampsAreOnlyInPixelsThatHoldTheirLight()
    {
        EdgeScene scene(24, 0.3F, 0.05F, -9.0F, 2.0F);
        for (int y = 18; y < 23; ++y)
            for (int x = 25; x < 30; ++x)
                scene.paint(x, y, 40.0F);
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        QVERIFY(parts.visible.coverage.at(23, 24) > 0.95F);
        QVERIFY(parts.hidden.colour.plane(0).at(23, 24) < parts.hidden.evidence.at(23, 24));
        scene.paint(23, 20, 0.5F * 0.3F + 0.5F * 40.0F);
        const Unmixed mixed = unmix(scene.colour, scene.radius, scene.rim(), nullptr, 23, 20);
        QVERIFY(mixed.far[0] > 20.0F && std::abs(mixed.share - 0.5F) < 0.3F);
    }

    // A lit edge thinner than a pixel: brighter than both sides, so that no mixture of them explains it. It
    // is no detail of the sharp wall: the near part takes what is too much, and blurs it.
    void aThinLitEdgeIsNoDetailOfTheWallBehind()
    {
        EdgeScene scene(24, 0.20F, 0.27F, -8.0F, 0.0F);
        for (int y = 0; y < kSize; ++y)
            scene.paint(24, y, 0.45F);
        const Unmixed parts = unmix(scene.colour, scene.radius, scene.rim(), nullptr, 24, 20);
        QVERIFY2(parts.share > 0.15F, qPrintable(QString::number(parts.share)));
        QVERIFY2(parts.far[0] < 0.29F, qPrintable(QString::number(parts.far[0])));
        const Surfaces surfaces = repairEdges(scene.colour, scene.radius, nullptr, {});
        QCOMPARE(surfaces.visible.colour.plane(0).at(24, 20),
                 0.45F - (1.0F - surfaces.visible.coverage.at(24, 20)) * parts.far[0]);
        QVERIFY(surfaces.visible.radiusPx.at(24, 20) < -4.0F);
    }

    // The same line where beyond the bar the wall is as light as it: a lit sill of which a row shows below a
    // bar. It is a face of what lies behind, and goes on behind the bar.
    void aFaceOfWhatLiesBehindGoesOnFromALineOfIt()
    {
        EdgeScene scene(24, 0.20F, 0.27F, -8.0F, 0.0F);
        for (int y = 0; y < kSize; ++y) {
            scene.paint(24, y, 0.45F);
            for (int x = 0; x < 10; ++x) {
                scene.paint(x, y, 0.47F);
                scene.radius.at(x, y) = 0.0F;
            }
        }
        const Unmixed line = unmix(scene.colour, scene.radius, scene.rim(), nullptr, 24, 20);
        QVERIFY2(line.share < 0.02F, qPrintable(QString::number(line.share)));
        const Surfaces surfaces = repairEdges(scene.colour, scene.radius, nullptr, {});
        QCOMPARE(surfaces.visible.radiusPx.at(24, 20), 0.0F);
        for (int x = 11; x < 24; ++x)
            QVERIFY(std::abs(colourOf(surfaces.hidden, x, 20) - 0.46F) < 0.02F);
    }

    // Of stripes the mean of what is near by tells little: what it does not explain is blurred with them, not
    // left in the sharp edge.
    void stripesBehindASharpEdgeDoNotStayInIt()
    {
        EdgeScene scene(24, 0.1F, 0.0F, 0.0F, 5.0F);
        // Of one brightness in green, as the near side is, so that a stripe cannot pass for more of that.
        const auto paintRed = [&](int x, int y, float red) { scene.colour.plane(0).at(x, y) = red; };
        for (int y = 0; y < kSize; ++y) {
            const float stripe = y % 4 < 2 ? 0.3F : 0.8F;
            for (int x = 24; x < kSize; ++x) {
                scene.paint(x, y, 0.6F);
                paintRed(x, y, stripe);
            }
            scene.paint(23, y, 0.6F * 0.1F + 0.4F * 0.6F);
            paintRed(23, y, 0.6F * 0.1F + 0.4F * stripe);
        }
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        for (int y = 12; y < 36; ++y) {
            const float share = parts.visible.coverage.at(23, y);
            QVERIFY(std::abs(share - 0.6F) < 0.15F);
            QVERIFY(std::abs(parts.visible.colour.plane(0).at(23, y) - 0.1F * share) < 0.035F);
        }
    }

    // Light that neither surface has stays at its own depth and is not spread with the foreground's blur.
    void glintsOfTheirOwnStayAtTheirDepth()
    {
        EdgeScene scene(24, 0.3F, 0.05F, -9.0F, 2.0F);
        scene.paint(24, 20, 30.0F);
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        QVERIFY(parts.visible.radiusPx.at(24, 20) > 0.0F);
        QVERIFY(std::abs(parts.visible.colour.plane(0).at(24, 20) - 30.0F) < 1e-3F);
    }

    void theFarSurfaceGoesOnBehindWhereItIsSharper()
    {
        const EdgeScene scene(24, 0.9F, 0.4F, -8.0F, 0.0F);
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        for (const int x : {23, 20, 17}) { // as far as the foreground's blur reaches
            QVERIFY(parts.hidden.coverage.at(x, 24) > 0.9F);
            QVERIFY(std::abs(parts.hidden.colour.plane(0).at(x, 24) / parts.hidden.evidence.at(x, 24) -
                             0.4F) < 0.01F);
            QVERIFY(std::abs(parts.hidden.radiusPx.at(x, 24)) < 0.01F);
        }
        QCOMPARE(parts.hidden.coverage.at(5, 24), 0.0F);
        QCOMPARE(parts.hidden.coverage.at(40, 24), 0.0F); // nothing behind the far surface itself
    }

    /// A bar up and down before a bar from side to side, before a sharp wall.
    static EdgeScene crossing()
    {
        EdgeScene scene(0, 0.0F, 0.3F, 0.0F, 0.0F);
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                const bool isNear = x >= 18 && x < 30;
                if (!isNear && (y < 20 || y >= 28)) continue;
                scene.paint(x, y, isNear ? 0.1F : 0.6F);
                scene.radius.at(x, y) = isNear ? -12.0F : -8.0F;
            }
        }
        return scene;
    }
    static float colourOf(const SurfaceLayer& layer, int x, int y)
    {
        return layer.colour.plane(0).at(x, y) / layer.evidence.at(x, y);
    }

    void aBarGoesOnBehindAnother()
    {
        const EdgeScene scene = crossing();
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        QVERIFY(parts.third);
        for (const int x : {21, 24, 27}) {
            QCOMPARE(parts.third->coverage.at(x, 24), 1.0F);
            QVERIFY(parts.third->evidence.at(x, 24) <= kGuessEvidence);
            QVERIFY(std::abs(parts.third->radiusPx.at(x, 24) + 8.0F) < 1e-3F);
            QVERIFY(std::abs(colourOf(*parts.third, x, 24) - 0.6F) < 1e-3F);
            QVERIFY(parts.hidden.coverage.at(x, 24) > 0.9F); // the wall behind both
            QVERIFY(std::abs(parts.hidden.radiusPx.at(x, 24)) < 1e-3F);
        }
        QCOMPARE(parts.third->coverage.at(24, 12), 0.0F); // above it the near bar hides the wall alone
        QCOMPARE(parts.third->coverage.at(8, 24), 0.0F);
    }

    // Of a pixel beside the corner the nearest thing behind is known, and the wall goes on behind that too.
    void theWallGoesOnBehindBothBars()
    {
        const EdgeScene scene = crossing();
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        QVERIFY(std::abs(parts.hidden.radiusPx.at(18, 20) + 8.0F) < 1e-3F);
        QVERIFY(parts.third && parts.third->coverage.at(18, 20) > 0.9F);
        QVERIFY(std::abs(parts.third->radiusPx.at(18, 20)) < 1e-3F);
        QVERIFY(std::abs(colourOf(*parts.third, 18, 20) - 0.3F) < 1e-3F);
    }

    // Things blurred alike hide nothing of each other but what is hidden without blur.
    void barsBlurredAlikeNeedNoGuess()
    {
        EdgeScene scene = crossing();
        for (float& r : scene.radius.pixels())
            if (r == -8.0F) r = -10.9F;
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        QVERIFY(!parts.third || parts.third->coverage.at(24, 24) == 0.0F);
    }

    // Two sharp things equally far, with the blurred bar between them: how long the gap is decides.
    void sharpThingsFarApartAreNotJoined_data()
    {
        QTest::addColumn<int>("width");
        QTest::addColumn<bool>("joined");
        QTest::newRow("thin") << 8 << true;
        QTest::newRow("wide") << 26 << false;
    }
    void sharpThingsFarApartAreNotJoined()
    {
        QFETCH(int, width);
        QFETCH(bool, joined);
        EdgeScene scene(0, 0.0F, 0.3F, 0.0F, 4.0F);
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                const bool isNear = std::abs(x - kSize / 2) <= width / 2;
                if (!isNear && (y < 22 || y >= 26)) continue;
                scene.paint(x, y, isNear ? 0.1F : 0.6F);
                scene.radius.at(x, y) = isNear ? -12.0F : 0.0F;
            }
        }
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        const auto goesOn = [&](const SurfaceLayer& layer) {
            return layer.coverage.at(kSize / 2, 24) > 0.9F &&
                   std::abs(layer.radiusPx.at(kSize / 2, 24)) < 0.1F;
        };
        QCOMPARE(goesOn(parts.hidden) || (parts.third && goesOn(*parts.third)), joined);
    }

    // A sharp post before ground that comes nearer down the picture, and a blurred twig across both: what is
    // hidden of the post ends where its edge goes on straight, to a pixel.
    void anOutlineGoesOnStraightBehindWhatCrossesIt()
    {
        constexpr int edge = 24; // the post's
        EdgeScene scene(0, 0.0F, 0.0F, 0.0F, 0.0F);
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                const bool isTwig = std::abs(x - y) <= 6;
                const bool isPost = x >= edge;
                scene.paint(x, y, isTwig ? 0.1F : isPost ? 0.3F : 0.8F);
                scene.radius.at(x, y) = isTwig   ? -11.0F
                                        : isPost ? 0.0F
                                                 : 2.6F - 0.04F * static_cast<float>(y);
            }
        }
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        int seen = 0;
        for (int y = 0; y < kSize; ++y) {
            for (int x = edge - 8; x < edge + 8; ++x) {
                if (std::abs(x - y) > 4) continue; // the twig's rim shows what is beside it
                if (x == edge - 1 || x == edge) continue;
                ++seen;
                const bool isPost = x >= edge;
                QCOMPARE(std::abs(parts.hidden.radiusPx.at(x, y)) < 0.3F, isPost);
                QVERIFY(std::abs(colourOf(parts.hidden, x, y) - (isPost ? 0.3F : 0.8F)) < 0.01F);
            }
        }
        QVERIFY(seen > 100);
    }

    // A box whose upper edge goes behind an upright rope, with nothing but wall on the rope's other side:
    // lines of wall pass over the box's hidden corner, but its edge goes straight on.
    void anOutlineGoesOnWhereItsOtherEndIsHidden()
    {
        constexpr int top = 22;
        constexpr int left = 16;
        constexpr int right = 30; // of the rope
        EdgeScene scene(0, 0.0F, 0.0F, 0.0F, 0.0F);
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                const bool isRope = x >= left && x < right;
                const bool isBox = x >= right && y >= top;
                scene.paint(x, y, isRope ? 0.1F : isBox ? 0.3F : 0.8F);
                scene.radius.at(x, y) = isRope ? -12.0F : isBox ? 0.6F : 2.5F;
            }
        }
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        for (int x = right - 4; x < right - 2; ++x) {
            for (int y = top - 6; y < top + 6; ++y) {
                if (y == top - 1 || y == top) continue;
                const bool isBox = y > top;
                QVERIFY(std::abs(parts.hidden.radiusPx.at(x, y) - (isBox ? 0.6F : 2.5F)) < 0.1F);
                QVERIFY(std::abs(colourOf(parts.hidden, x, y) - (isBox ? 0.3F : 0.8F)) < 0.02F);
            }
        }
    }

    // A window's bar before the sky, equally far, and a post across. Lines of sky pass behind the post from
    // above the bar to below it, and their ends are more alike than the bar's are; the bar's edges go on.
    void anEdgeBetweenColoursGoesOnStraight()
    {
        constexpr int left = 18;
        constexpr int right = 28; // of the post
        constexpr int top = 20;
        constexpr int bottom = 28; // of the bar
        EdgeScene scene(0, 0.0F, 0.0F, 0.0F, 2.7F);
        for (int y = 0; y < kSize; ++y) {
            for (int x = 0; x < kSize; ++x) {
                const bool isPost = x >= left && x < right;
                const bool isBar = y >= top && y < bottom;
                scene.paint(x, y, isPost ? 0.2F : !isBar ? 3.0F : x < left ? 0.9F : 0.6F);
                if (isPost) scene.radius.at(x, y) = -7.0F;
            }
        }
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        for (int x = left + 2; x < right - 2; ++x) {
            for (int y = top - 6; y < bottom + 6; ++y) {
                if (std::abs(y - top) <= 1 || std::abs(y - bottom) <= 1) continue;
                const float value = colourOf(parts.hidden, x, y);
                if (y > top && y < bottom)
                    QVERIFY2(value > 0.55F && value < 0.95F, qPrintable(QString::number(value)));
                else
                    QVERIFY2(std::abs(value - 3.0F) < 0.05F, qPrintable(QString::number(value)));
            }
        }
    }

    void aWideBlurBehindIsNotContinued()
    {
        const EdgeScene scene(24, 0.9F, 0.4F, 0.0F, 14.0F);
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        QCOMPARE(parts.hidden.coverage.at(18, 24), 0.0F);
    }

    void nothingIsTouchedWithoutEdges()
    {
        EdgeScene scene(24, 0.9F, 0.1F, 4.0F, 4.2F); // less than half a pixel apart: no edge
        const Surfaces parts = repairEdges(scene.colour, scene.radius, nullptr, {});
        for (const float v : parts.hidden.coverage.pixels())
            QCOMPARE(v, 0.0F);
        QVERIFY(std::equal(parts.visible.colour.plane(0).pixels().begin(),
                           parts.visible.colour.plane(0).pixels().end(),
                           scene.colour.plane(0).pixels().begin()));
    }

    void guessesAreHeldToTheBrightnessAround()
    {
        EdgeScene scene(24, 0.1F, 0.1F, -6.0F, 2.0F);
        const TypicalBrightness typical(scene.colour, scene.radius, {});
        Colour lamp{50.0F, 25.0F, 5.0F, 1.0F};
        typical.hold(lamp, 2.0F, 20, 20);
        QVERIFY(brightnessOf(lamp) < 0.6F);
        QVERIFY(std::abs(lamp[0] / lamp[1] - 2.0F) < 1e-4F); // hue kept
        Colour wall{0.12F, 0.1F, 0.1F, 1.0F};
        const Colour before = wall;
        typical.hold(wall, 2.0F, 20, 20);
        QCOMPARE(wall, before);
    }

    void holesAreFilledFromAroundAndFullPixelsStay()
    {
        Layer layer(64, 64);
        for (int y = 0; y < 64; ++y) {
            for (int x = 0; x < 64; ++x) {
                const bool hole = x > 20 && x < 40 && y > 20 && y < 40;
                layer.coverage.at(x, y) = hole ? 0.0F : 1.0F;
                layer.colour.plane(0).at(x, y) = hole ? 0.0F : x < 32 ? 1.0F : 3.0F;
            }
        }
        const Filled filled(Layer(layer), 16.0);
        QVERIFY(std::abs(filled.colour.plane(0).at(10, 10) - 1.0F) < 1e-5F);
        QVERIFY(std::abs(filled.colour.plane(0).at(60, 10) - 3.0F) < 1e-5F);
        QVERIFY(filled.colour.plane(0).at(22, 30) < 1.7F && filled.colour.plane(0).at(38, 30) > 2.3F);
        QVERIFY(filled.support.at(30, 30) > 0.9F);
        const Filled nothing(Layer(33, 17), 8.0);
        for (const float v : nothing.colour.plane(0).pixels())
            QCOMPARE(v, 0.0F);
        for (const float v : nothing.support.pixels())
            QCOMPARE(v, 0.0F);
    }

    void slicesAreFoundWhereTheyAre()
    {
        SurfaceLayer layer(100, 70);
        for (int y = 0; y < 70; ++y)
            for (int x = 0; x < 100; ++x) {
                layer.coverage.at(x, y) = layer.evidence.at(x, y) = 1.0F;
                layer.radiusPx.at(x, y) = x >= 70 && x < 80 && y >= 40 && y < 50 ? 6.0F : 0.0F;
                layer.colour.plane(3).at(x, y) = x < 64 ? 1.0F : 0.5F;
            }
        const SliceGrid grid(0.0, 6.0);
        const SliceMap map(layer, grid, {});
        const int last = grid.count() - 1;
        const auto box = map.find(last, {0, 0, 100, 70});
        QVERIFY(!box.empty() && box.x0 <= 70 && box.x1 >= 80 && box.y0 <= 40 && box.y1 >= 50);
        QVERIFY(map.find(last, {0, 0, 30, 30}).empty());
        QVERIFY(map.find(last, {200, 200, 300, 300}).empty());
        QVERIFY(map.has(last, 2, 1) && !map.has(last, 0, 0) && map.has(grid.focalSlice(), 0, 0));
        QCOMPARE(static_cast<int>(map.rungs(45)[75]) + (map.behind(45)[75] == 1.0F ? 1 : 0), last);
        QCOMPARE(static_cast<int>(map.rungs(45)[10]) + (map.behind(45)[10] == 1.0F ? 1 : 0),
                 grid.focalSlice());
        // Half of it is transparent, and nothing is guessed.
        QVERIFY(map.kind(grid.focalSlice(), {0, 0, 60, 70}).isOpaque);
        QVERIFY(!map.kind(grid.focalSlice(), {0, 0, 100, 70}).isOpaque);
        QVERIFY(map.kind(grid.focalSlice(), {0, 0, 100, 70}).isSeen);
        // A pixel without coverage belongs to no slice.
        const SliceMap none(SurfaceLayer(100, 70), grid, {});
        QVERIFY(none.find(last, {0, 0, 100, 70}).empty());
    }
};

QTEST_APPLESS_MAIN(TestEdgeRepair)
#include "test_edge_repair.moc"
