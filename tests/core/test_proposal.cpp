#include "bench/mend_trials.h"
#include "bench/reading_trials.h"
#include "core/depth/straight_lines.h"

#include <QTest>
#include <cmath>

using namespace retinex;
using namespace retinex::depth;

/// The proposal of readings and the wrong-way check, on passes that the reference tracer writes in many
/// conventions; retinex-bench --readings prints the whole table.
class TestProposal : public QObject
{
    Q_OBJECT

    /// A floor seen in perspective: 1/d runs straight down the picture.
    static Plane<float> floor(int width, int height)
    {
        Plane<float> distance(width, height);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                distance.at(x, y) =
                    1.0F / (0.05F + 0.9F * static_cast<float>(y) / static_cast<float>(height));
        return distance;
    }

private slots:
    // By the law of perspective alone: the pole of a distance is 0, of a reversed one what it was taken from.
    void flatSurfacesTellThePole()
    {
        const Plane<float> distance = floor(160, 120);
        const Plane<std::uint8_t> gaps(160, 120);
        const auto poleOf = [&](auto change) {
            Plane<float> numbers = distance;
            for (float& v : numbers.pixels())
                v = change(v);
            const auto votes = poleVotes(numbers, gaps, centralRange(numbers, gaps), 1e-6);
            return std::pair{votes.pole(votes.peak()), votes.share(votes.peak())};
        };
        const auto [zero, share] = poleOf([](float d) { return d; });
        QVERIFY2(std::abs(zero) < 0.15 && share > 0.9, qPrintable(QString::number(zero)));
        QVERIFY(std::abs(poleOf([](float d) { return 30.0F - d; }).first - 30.0) < 0.3);
        QVERIFY(std::abs(poleOf([](float d) { return (d - 1.0F) / 19.0F; }).first + 1.0 / 19.0) < 0.01);
        const auto reciprocal = poleOf([](float d) { return 1.0F / d; }).first;
        QVERIFY(std::isinf(reciprocal) || std::abs(reciprocal) > 50.0);
    }

    void readingsAreProposedRightOrSaidToBeUnsure_data()
    {
        QTest::addColumn<bool>("heldOut");
        QTest::newRow("scenes tuned on") << false;
        QTest::newRow("scenes kept out while tuning") << true;
    }
    void readingsAreProposedRightOrSaidToBeUnsure()
    {
        QFETCH(bool, heldOut);
        bench::ReadingScore score;
        // A few of the scenes; retinex-bench --readings goes through all of them, and those of another
        // renderer.
        const std::vector<std::string> names = heldOut ? std::vector<std::string>{"corner of a room", "steps"}
                                                       : std::vector<std::string>{"greenhouse, can", "shelf"};
        for (const std::string& name : names)
            for (const auto& trial : bench::readingTrials(bench::tracedScene(name, heldOut, 320))) {
                const auto proposal = trial.propose();
                score.add(trial, proposal, trial.isRight(proposal.settings));
                QVERIFY(!proposal.reasons.empty());
                proposal.settings.check();
            }
        QVERIFY(score.trials() >= 50);
        QVERIFY(100 * score.metric.right >= 90 * score.metric.trials);
        QVERIFY(100 * score.grey.right >= 88 * score.grey.trials);
        QVERIFY(100 * score.wrongAndSure() <= 2 * score.trials());
    }

    void exchangedDepthIsFoundWithoutFalseAlarm()
    {
        const auto score = bench::printDirectionTable(320);
        QCOMPARE(score.falseAlarms, 0);
        QVERIFY(score.found * 10 >= score.scenes * 8);
    }

    // Measured on traced anti-aliased passes: after snapping, distances at edges lie on surfaces.
    void snappedEdgesLieOnSurfaces()
    {
        const auto mend = bench::mendScore("corner of a room", 320);
        QVERIFY2(mend.onSurfaceAfter > 0.9 && mend.onSurfaceAfter > mend.onSurfaceBefore + 0.2,
                 qPrintable(QStringLiteral("%1 to %2").arg(mend.onSurfaceBefore).arg(mend.onSurfaceAfter)));
        QVERIFY2(mend.stepErrorAfter < 0.75 * mend.stepErrorBefore,
                 qPrintable(QStringLiteral("%1 to %2").arg(mend.stepErrorBefore).arg(mend.stepErrorAfter)));
    }

    void gapsAreProposedByWhatEmptyPixelsHold()
    {
        Plane<float> stored = floor(80, 60);
        Plane<float> alpha(80, 60, 1.0F);
        const auto withEmpty = [&](float value) {
            for (int x = 0; x < 80; ++x)
                for (int y = 0; y < 10; ++y) {
                    stored.at(x, y) = value;
                    alpha.at(x, y) = 0.0F;
                }
            return proposeGaps(statisticsOf(stored, &alpha), false);
        };
        QVERIFY(withEmpty(0.0F).zero && !withEmpty(0.0F).outsideAlpha);
        const GapRules far = withEmpty(1e10F);
        QVERIFY(far.from > 1e9 && std::isfinite(far.from));
        QVERIFY(withEmpty(3.0F).outsideAlpha); // a number like any other: only alpha knows
    }

    void mendingIsProposedWhereNumbersCallForIt()
    {
        Plane<float> clean = floor(160, 120);
        const auto mendingOf = [](const Plane<float>& stored) {
            return proposeReading(stored, nullptr, statisticsOf(stored, nullptr)).settings.conditioning;
        };
        QVERIFY(mendingOf(clean) == Conditioning{}); // nothing for a pass that is as it should be
        Plane<float> noisy = clean;
        unsigned state = 7;
        for (float& v : noisy.pixels()) {
            state = state * 1664525U + 1013904223U;
            v *= 1.0F + 0.02F * (static_cast<float>(state >> 8U) / 16777216.0F - 0.5F);
        }
        QVERIFY(mendingOf(noisy).softenPx > 0.0);
        Plane<float> coarse = clean;
        for (float& v : coarse.pixels())
            v = std::round(255.0F * v / 20.0F) / 255.0F;
        QCOMPARE(mendingOf(coarse).smoothLevels, 255);
    }

    void statisticsCountWhatIsThere()
    {
        Plane<float> stored(100, 100, 0.5F);
        stored.at(0, 0) = 0.0F;
        stored.at(1, 0) = std::nanf("");
        stored.at(2, 0) = std::numeric_limits<float>::infinity();
        stored.at(3, 0) = -1.0F;
        for (int x = 0; x < 100; ++x)
            stored.at(x, 50) = static_cast<float>(x + 1) / 255.0F;
        const auto s = statisticsOf(stored, nullptr);
        QCOMPARE(s.zeros, std::size_t(1));
        QCOMPARE(s.nans, std::size_t(1));
        QCOMPARE(s.infinites, std::size_t(1));
        QCOMPARE(s.negatives, std::size_t(1));
        QCOMPARE(s.least, -1.0);
        QCOMPARE(s.most, 0.5);
        QVERIFY(!s.hasAlpha);
        const auto empty = statisticsOf(Plane<float>(8, 8), nullptr);
        QCOMPARE(empty.distinct, std::size_t(0));
        QVERIFY(!proposeReading(Plane<float>(8, 8), nullptr, empty).isSure());
    }
};

QTEST_GUILESS_MAIN(TestProposal)
#include "test_proposal.moc"
