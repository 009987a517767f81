// What stands between the stages: the memory they share, the fingerprints they are known by, and how reading
// hears the work it is done for.
#include "core/frame/depends_on.h"
#include "core/frame/lay_in.h"
#include "core/passes/pass_source.h"
#include "core/project/settings/project_settings.h"
#include "core/system/error.h"
#include "core/system/memory_budget.h"
#include "core/system/words.h"
#include "core/timeline/marks.h"
#include "support/test_files.h"

#include <QTest>
#include <set>
#include <thread>

using namespace retinex;

namespace {

using Numbers = KeptValues<int, int>;

template <class Enum>
bool wordsGoBackAndForth()
{
    std::set<std::string_view> seen;
    for (std::size_t i = 0; i < kWords<Enum>.size(); ++i) {
        const auto value = static_cast<Enum>(i);
        if (fromWord<Enum>(wordOf(value)) != value || !seen.insert(wordOf(value)).second) return false;
    }
    return !kWords<Enum>.empty() && !fromWord<Enum>("no such word");
}

} // namespace

class TestStages : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;

    std::string path(const char* name) const { return m_dir.filePath(name).toStdString(); }
    passes::PassSource source(passes::Keeping keeping = {}) const
    {
        return passes::PassSource({path("s.0001.exr"), {}}, {}, {}, std::move(keeping));
    }

private slots:
    void initTestCase()
    {
        for (int frame = 1; frame <= 6; ++frame)
            test::writeScene(m_dir.filePath(QStringLiteral("s.000%1.exr").arg(frame)).toStdString());
    }

    void whatWasUsedLongestAgoGoesFirstWhicheverCacheHasIt()
    {
        const auto budget = std::make_shared<MemoryBudget>(100);
        Numbers first(budget, 1.0, 1);
        Numbers second(budget, 1.0, 1);
        const auto number = [](int n) { return std::make_shared<const int>(n); };
        first.put(1, number(1), 40);
        second.put(1, number(2), 40);
        second.put(2, number(3), 10);
        QCOMPARE(budget->bytes(), std::size_t(90));
        QVERIFY(first.find(1)); // used again; of the other shelf the first was used longest ago
        first.put(2, number(4), 30);
        QVERIFY(!second.find(1));
        QCOMPARE(*second.find(2), 3);
        QCOMPARE(*first.find(1), 1);
        QCOMPARE(*first.find(2), 4);
        QCOMPARE(budget->bytes(), std::size_t(80));
    }

    void theNewestStaysHoweverLargeAndAShareIsKept()
    {
        const auto budget = std::make_shared<MemoryBudget>(100);
        Numbers large(budget, 1.0, 1);
        large.put(1, std::make_shared<const int>(1), 500);
        QVERIFY(large.find(1));
        large.put(2, std::make_shared<const int>(2), 400);
        QVERIFY(!large.find(1));
        QVERIFY(large.find(2));
        budget->setLimit(10);
        QVERIFY(large.find(2));
        large.clear();
        QCOMPARE(budget->bytes(), std::size_t(0));

        budget->setLimit(100);
        Numbers small(budget, 0.2, 2);
        for (int i = 0; i < 5; ++i)
            small.put(i, std::make_shared<const int>(i), 8);
        QCOMPARE(small.bytes(), std::size_t(16)); // two fill a fifth of 100
        QVERIFY(small.find(4) && small.find(3) && !small.find(2));
    }

    void aShelfThatGoesTakesItsBytesAlong()
    {
        const auto budget = std::make_shared<MemoryBudget>(100);
        {
            Numbers shelf(budget, 1.0, 1);
            shelf.put(1, std::make_shared<const int>(1), 60);
            QCOMPARE(budget->bytes(), std::size_t(60));
        }
        QCOMPARE(budget->bytes(), std::size_t(0));
        budget->setLimit(1); // nobody is asked who is gone
    }

    void manyThreadsShareABudget()
    {
        const auto budget = std::make_shared<MemoryBudget>(1000);
        {
            std::vector<std::jthread> threads;
            for (int t = 0; t < 4; ++t)
                threads.emplace_back([&budget, t] {
                    Numbers shelf(budget, 0.5, 1);
                    for (int i = 0; i < 2000; ++i) {
                        shelf.put(i, std::make_shared<const int>(i), 10 + static_cast<std::size_t>(t));
                        if (const auto found = shelf.find(i - 3)) (void)*found;
                    }
                });
        }
        QCOMPARE(budget->bytes(), std::size_t(0));
    }

    void framesOfPassesAreCountedInBytes()
    {
        const auto budget = std::make_shared<MemoryBudget>(std::size_t(1) << 30U);
        const auto kept = source({budget, 1.0, 2});
        const auto passes = kept.load(1);
        const std::size_t pixels = 64 * 48;
        // Four planes of colour and one of depth as floats; then distances and a byte for gaps.
        QCOMPARE(bytesOf(*passes->raw), pixels * 20);
        QCOMPARE(bytesOf(*passes), pixels * 5);
        QCOMPARE(budget->bytes(), pixels * 25);
        QCOMPARE(kept.load(1).get(), passes.get());
        depth::ReadingSettings other;
        other.conditioning.offset = 1.0;
        QCOMPARE(kept.load(1, other)->raw.get(), passes->raw.get()); // no file is read for another reading
        QCOMPARE(budget->bytes(), pixels * 30);
        kept.forgetFrames();
        QCOMPARE(budget->bytes(), std::size_t(0));
        QVERIFY(kept.load(1).get() != passes.get());
    }

    void aSmallBudgetKeepsTheLastFramesOnly()
    {
        const auto budget = std::make_shared<MemoryBudget>(1);
        const auto kept = source({budget, 1.0, 2});
        std::vector<const passes::RawPasses*> raw;
        for (int frame = 1; frame <= 4; ++frame)
            raw.push_back(kept.loadRaw(frame).get());
        const auto held = kept.loadRaw(4);
        QCOMPARE(held.get(), raw[3]);
        QCOMPARE(kept.loadRaw(3).get(), raw[2]);
        QCOMPARE(budget->bytes(), std::size_t(2 * 64 * 48 * 20));
    }

    void readingHearsTheStop()
    {
        std::stop_source stop;
        stop.request_stop();
        const auto kept = source();
        QVERIFY_EXCEPTION_THROWN((void)kept.loadRaw(1, {0, {}, stop.get_token()}), Cancelled);
        QVERIFY_EXCEPTION_THROWN((void)kept.loadDistance(1, {}, {1, {}, stop.get_token()}), Cancelled);
        const project::Project project;
        QVERIFY_EXCEPTION_THROWN((void)frame::framePasses(kept, project, 1, {1, {}, stop.get_token()}),
                                 Cancelled);
        QCOMPARE(kept.loadRaw(1)->colour().width(), 64); // nothing half read is kept
    }

    void readingIsTheSameForAnyNumberOfThreads()
    {
        const auto one = source().load(1, {}, {1, {}, {}});
        for (const int threads : {0, 2, 7}) {
            const auto many = source().load(1, {}, {threads, {}, {}});
            for (int c = 0; c < RgbaImage::channels; ++c)
                QVERIFY(
                    std::ranges::equal(one->colour().plane(c).pixels(), many->colour().plane(c).pixels()));
            for (std::size_t i = 0; i < one->distance().size(); ++i)
                QVERIFY(one->distance().pixels()[i] == many->distance().pixels()[i] ||
                        one->gaps().pixels()[i] != 0);
        }
    }

    void stagesLookAtTheReadingOfTheFrame()
    {
        const auto kept = source();
        project::Project project;
        project.firstFrame = 1;
        project.lastFrame = 6;
        project.base().reading.conditioning.offset = 2.0;
        const auto passes = frame::framePasses(kept, project, 3);
        QCOMPARE(passes->distance().at(32, 40), kept.load(3)->distance().at(32, 40) + 2.0F);
        const auto small = frame::reducedFramePasses(kept, project, 3, 2);
        QCOMPARE(small->distance().width(), 32);
        const auto distance = frame::frameDistance(kept, project, 3);
        QCOMPARE(distance.distance.at(32, 40), passes->distance().at(32, 40));
    }

    void aStageIsKnownByItsSettingsAndTheStageBefore()
    {
        project::Project usual;
        const auto kept = source();
        const auto all = [&](const project::Project& p) {
            using project::Stage;
            const auto upTo = [&](Stage last) { return frame::fingerprint(kept, p, 1, last); };
            return std::array{upTo(Stage::regions), upTo(Stage::throughLens), upTo(Stage::finish)};
        };
        project::Project read = usual;
        read.base().reading.conditioning.offset = 1.0;
        project::Project lens = usual;
        lens.base().fStop = 4.0;
        for (std::size_t stage = 0; stage < 3; ++stage)
            QVERIFY(all(read)[stage] != all(usual)[stage]);
        QCOMPARE(all(lens)[0], all(usual)[0]); // the f-stop changes no distance
        QVERIFY(all(lens)[1] != all(usual)[1]);
        QVERIFY(all(lens)[2] != all(usual)[2]);
    }

    void everyWordHasItsValue()
    {
        QVERIFY(wordsGoBackAndForth<depth::Reading>());
        QVERIFY(wordsGoBackAndForth<depth::Spacing>());
        QVERIFY(wordsGoBackAndForth<depth::Encoding>());
        QVERIFY(wordsGoBackAndForth<depth::ClipRange>());
        QVERIFY(wordsGoBackAndForth<depth::GapRules::Place>());
        QVERIFY(wordsGoBackAndForth<passes::MissingFrames>());
        QVERIFY(wordsGoBackAndForth<passes::SizeFit>());
        QVERIFY(wordsGoBackAndForth<passes::SampleType>());
        QVERIFY(wordsGoBackAndForth<optics::Unit>());
        QVERIFY(wordsGoBackAndForth<optics::Framing>());
        QVERIFY(wordsGoBackAndForth<optics::Opening>());
        QVERIFY(wordsGoBackAndForth<defocus::FrameEdge>());
        QVERIFY(wordsGoBackAndForth<timeline::Blend>());
        QVERIFY(wordsGoBackAndForth<timeline::Ease>());
    }

    void manyFramesAreReadAtOnceAndKeptOnce()
    {
        const auto budget = std::make_shared<MemoryBudget>();
        const auto kept = source({budget, 1.0, 2});
        {
            std::vector<std::jthread> threads;
            for (int t = 0; t < 4; ++t)
                threads.emplace_back([&] {
                    for (int frame = 1; frame <= 6; ++frame)
                        (void)kept.load(frame);
                });
        }
        for (int frame = 1; frame <= 6; ++frame)
            QCOMPARE(kept.load(frame).get(), kept.load(frame).get());
    }
};

QTEST_GUILESS_MAIN(TestStages)
#include "test_stages.moc"
