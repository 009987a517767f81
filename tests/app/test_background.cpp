#include "app/jobs/background.h"
#include "core/system/error.h"

#include <QTest>
#include <atomic>
#include <thread>

using namespace retinex;
using namespace retinex::app;

class TestBackground : public QObject
{
    Q_OBJECT

    /// Holds a piece of work until it is let go, or asked to stop.
    struct Gate
    {
        std::atomic<bool> begun{false};
        std::atomic<bool> open{false};
        void pass(const Background::Task& task, bool heedsStop = true)
        {
            begun = true;
            while (!open) {
                if (heedsStop && task.stop().stop_requested()) throw Cancelled{};
                std::this_thread::sleep_for(std::chrono::milliseconds(1));
            }
        }
    };

private slots:
    void workIsDoneElsewhereAndItsResultArrivesHere()
    {
        Background work;
        const auto here = std::this_thread::get_id();
        bool elsewhere = false;
        bool arrivedHere = false;
        QList<bool> busy;
        work.onBusyChanged([&](bool is) { busy << is; });
        work.start("Counting", [&](const Background::Task& task) {
            elsewhere = std::this_thread::get_id() != here;
            task.post([&] { arrivedHere = std::this_thread::get_id() == here && work.isBusy(); });
        });
        QVERIFY(work.isBusy());
        QTRY_VERIFY(!work.isBusy());
        QVERIFY(elsewhere && arrivedHere);
        QCOMPARE(busy, (QList<bool>{true, false}));
    }

    void theNewestWinsAndOneThatWaitedIsNeverBegun()
    {
        Background work;
        Gate gate;
        QStringList arrived;
        const auto piece = [&](const QString& name) {
            return [&, name](const Background::Task& task) {
                gate.pass(task);
                task.post([&, name] { arrived << name; });
            };
        };
        std::atomic<bool> secondRan{false};
        work.start("One", piece("one"));
        QTRY_VERIFY(gate.begun);
        work.start("Two", [&](const Background::Task&) { secondRan = true; });
        gate.begun = false;
        work.start("Three", piece("three"));
        QTRY_VERIFY(gate.begun);
        gate.open = true;
        QTRY_VERIFY(!work.isBusy());
        QCOMPARE(arrived, QStringList{"three"});
        QVERIFY(!secondRan || arrived.size() == 1);
    }

    void anythingThrownBecomesAMessage_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("words");
        QTest::newRow("ours") << 0 << "The lens is open.";
        QTest::newRow("a library's") << 1 << "Rendering failed unexpectedly";
        QTest::newRow("memory") << 2 << "Rendering needs more memory";
        QTest::newRow("unknown") << 3 << "Rendering failed for a reason";
    }
    void anythingThrownBecomesAMessage()
    {
        QFETCH(int, kind);
        QFETCH(QString, words);
        Background work;
        QString message;
        work.start("Rendering",
                   [kind](const Background::Task&) {
                       if (kind == 0) throw Error("The lens is open.");
                       if (kind == 1) throw std::runtime_error("odd");
                       if (kind == 2) throw std::bad_alloc();
                       throw 7;
                   },
                   {[&](const QString& told) { message = told; }});
        QTRY_VERIFY2(message.contains(words), qPrintable(message));
        QVERIFY(!work.isBusy());
    }

    void aStopIsToldAsThatAndNotAsAFailure()
    {
        Background work;
        Gate gate;
        bool cancelled = false;
        QString message;
        work.start("Waiting", [&](const Background::Task& task) { gate.pass(task); },
                   {[&](const QString& told) { message = told; }, [&] { cancelled = true; }});
        QTRY_VERIFY(gate.begun);
        work.requestStop();
        QTRY_VERIFY(cancelled);
        QVERIFY(message.isEmpty());
    }

    // Another document is opened, or the window closes, while work goes on that hears no stop: nobody waits
    // for it, and its result reaches nobody.
    void whatIsDroppedIsNotHeardOf()
    {
        const auto gate = std::make_shared<Gate>();
        const auto ended = std::make_shared<std::atomic<bool>>(false);
        int arrived = 0;
        auto work = std::make_unique<Background>();
        const auto deaf = [&, gate, ended](const Background::Task& task) {
            gate->pass(task, false);
            task.post([&] { ++arrived; });
            task.postEvenIfOld([&] { ++arrived; });
            *ended = true;
        };
        work->start("Old", deaf);
        QTRY_VERIFY(gate->begun);
        work->drop();
        QVERIFY(!work->isBusy());
        bool next = false;
        work->start("New", [&](const Background::Task& task) { task.post([&] { next = true; }); });
        gate->open = true;
        QTRY_VERIFY(next);
        QCOMPARE(arrived, 0);

        gate->open = gate->begun = *ended = false;
        work->start("Last", deaf);
        QTRY_VERIFY(gate->begun);
        work.reset(); // comes back at once: the work still holds the gate
        QVERIFY(!*ended);
        gate->open = true;
        Background::waitForAll();
        QVERIFY(*ended);
        QCoreApplication::processEvents();
        QCOMPARE(arrived, 0);
    }

    void onePieceCanShowSomethingOldUnlessItWasDropped()
    {
        Background work;
        Gate gate;
        QStringList arrived;
        work.start("Coarse", [&](const Background::Task& task) {
            gate.begun = true;
            while (!task.hasNewerWithin(std::chrono::milliseconds(20))) {
            }
            task.post([&] { arrived << "new only"; });
            task.postEvenIfOld([&] { arrived << "coarse"; });
        });
        QTRY_VERIFY(gate.begun);
        work.start("Next", [](const Background::Task&) {});
        QTRY_VERIFY(!work.isBusy());
        QCOMPARE(arrived, QStringList{"coarse"});
    }
};

QTEST_GUILESS_MAIN(TestBackground)
#include "test_background.moc"
