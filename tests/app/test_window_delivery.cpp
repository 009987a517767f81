// Deliveries and the queue by mouse and keys in the real window.
#include "app/delivery/delivery_panel.h"
#include "app/delivery/queue_dialog.h"
#include "core/passes/image_file.h"
#include "window_driver.h"

#include <QMenu>
#include <QSpinBox>
#include <QTreeWidget>

using namespace retinex;
using namespace retinex::app;

class TestWindowDelivery : public test::WindowDriver
{
    Q_OBJECT

    PictureView& view() { return m_window->picture(); }
    DeliveryQueue& queue() { return m_window->queue(); }
    const std::vector<project::Delivery>& deliveries() { return project().deliveries; }
    QString at(const QString& name) const { return m_dir.filePath(name); }

    /// A project of four small frames, saved.
    void openFour()
    {
        for (int frame = 1; frame <= 4; ++frame)
            test::writeScene(
                at(QStringLiteral("in.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))).toStdString());
        m_window->open({at("in.0001.exr")});
        settle();
        document().save(at(QStringLiteral("four.retinex")));
        settle();
    }
    void add(int which)
    {
        QMenu* menu = child<QToolButton>("addDelivery")->menu();
        menu->actions().at(which)->trigger();
        settle();
    }
    void type(const char* name, const QString& text)
    {
        auto* edit = child<QLineEdit>(name);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    void choose(const char* name, int index)
    {
        auto* box = child<QComboBox>(name);
        box->setCurrentIndex(index);
        emit box->activated(index);
    }
    void waitForQueue() { QTRY_VERIFY_WITH_TIMEOUT(!queue().isRunning() && allEnded(), 60'000); }
    bool allEnded()
    {
        for (const auto& entry : queue().entries())
            if (entry.state == DeliveryQueue::State::waiting || entry.state == DeliveryQueue::State::running)
                return false;
        return true;
    }
    void emptyQueue()
    {
        queue().setPaused(false);
        while (!queue().entries().empty()) {
            const int id = queue().entries().front().id;
            queue().cancel(id);
            QTRY_VERIFY(!queue().isRunning());
            queue().remove(id);
        }
    }

private slots:
    void whatIsAskedForIsSetAndUndone()
    {
        openFour();
        add(0);
        QCOMPARE(deliveries().size(), std::size_t(1));
        QCOMPARE(deliveries()[0].name, std::string("frames"));
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("add delivery"));
        choose("delivery/file", 1);
        QCOMPARE(deliveries()[0].file, project::FileKind::png);
        QVERIFY(!child<QComboBox>("delivery/compression")->isVisibleTo(m_window.get()));
        type("delivery/frames", QStringLiteral("1-4x2"));
        QCOMPARE(deliveries()[0].frames, std::string("1-4x2"));
        auto* example = child<QLabel>("deliveryExample");
        QVERIFY2(example->text().contains("four.0001.png") && example->text().contains("2 frames"),
                 qPrintable(example->text()));
        document().save(m_dir.filePath(QStringLiteral("named.retinex"))); // files are named after the project
        QVERIFY2(example->text().contains("named.0001.png"), qPrintable(example->text()));
        type("delivery/frames", QStringLiteral("shot nobody"));
        QVERIFY2(example->text().contains("nobody"), qPrintable(example->text()));
        document().undoStack().undo();
        QCOMPARE(deliveries()[0].frames, std::string("1-4x2"));
        // What: several only as EXR.
        auto* what = child<QToolButton>("delivery/what");
        emit what->menu()->aboutToShow();
        what->menu()->actions().at(5)->trigger();
        QCOMPARE(deliveries()[0].what, std::string("depthmap"));
        QVERIFY(child<QComboBox>("delivery/spacing")->isVisibleTo(m_window.get()));
        choose("delivery/file", 0);
        emit what->menu()->aboutToShow();
        what->menu()->actions().at(0)->trigger();
        QCOMPARE(deliveries()[0].what, std::string("depthmap, finished"));
        press(child<QPushButton>("deleteDelivery"));
        QVERIFY(deliveries().empty());
        document().undoStack().undo();
        QCOMPARE(deliveries().size(), std::size_t(1));
        // It is kept in the project, and a movie shows what movies have.
        add(1);
        QCOMPARE(deliveries()[1].file, project::FileKind::h264);
        QVERIFY(child<QCheckBox>("delivery/burnsIn")->isVisibleTo(m_window.get()));
        document().save(at(QStringLiteral("four.retinex")));
        const auto before = deliveries();
        m_window->open({at("four.retinex")});
        settle();
        QVERIFY(deliveries() == before);
    }

    void deliveriesGoThroughTheQueue()
    {
        emptyQueue();
        openFour();
        add(0);
        add(2);
        QTest::keyClick(m_window.get(), Qt::Key_D, Qt::ControlModifier);
        auto* list = m_window->findChild<QTreeWidget*>(QStringLiteral("queue"));
        QVERIFY(list);
        QCOMPARE(list->topLevelItemCount(), 2);
        waitForQueue();
        for (const auto& entry : queue().entries())
            QVERIFY2(entry.state == DeliveryQueue::State::done, qPrintable(entry.failures.join("; ")));
        QCOMPARE(QDir(at("four-frames")).entryList({"*.exr"}).size(), 4);
        QCOMPARE(QDir(at("four-depth map")).entryList({"*.png"}).size(), 4);
        QTRY_VERIFY2(message().contains("done"), qPrintable(message()));
        QVERIFY2(list->topLevelItem(0)->text(0).contains("four: frames"),
                 qPrintable(list->topLevelItem(0)->text(0)));
        // The window says the same as the command line.
        const auto outcome =
            test::runProgram(QStringLiteral(RETINEX_CLI),
                             {"render", at("four.retinex"), "--out", at("cli"), "--progress", "none"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        // Again: nothing is made that is there.
        queue().retry(queue().entries().front().id);
        waitForQueue();
        QCOMPARE(queue().entries().front().kept, 4);
        QCOMPARE(queue().entries().front().written, 0);
    }

    void twoDeliveriesNeverWriteOneFile()
    {
        emptyQueue();
        openFour();
        add(0);
        add(0);
        project::Project changed = project();
        for (project::Delivery& delivery : changed.deliveries)
            delivery.folder = "both";
        document().edit(QStringLiteral("folder"), changed);
        QTest::keyClick(m_window.get(), Qt::Key_D, Qt::ControlModifier);
        QVERIFY2(message().contains("would both write this file"), qPrintable(message()));
        QVERIFY(queue().entries().empty());
    }

    void whatFailsIsSaidAndMadeAgain()
    {
        emptyQueue();
        openFour();
        // Frames that look at it would be made again as well.
        document().editSettings({}, [](auto& settings) { settings.otherFrames = others::OtherFrames::off; });
        const QByteArray whole = test::bytesOf(at("in.0003.exr"));
        QFile cut(at("in.0003.exr"));
        QVERIFY(cut.open(QIODevice::ReadWrite));
        cut.resize(whole.size() / 2);
        cut.close();
        add(0);
        press(child<QPushButton>("deliver"));
        waitForQueue();
        QCOMPARE(queue().entries().front().state, DeliveryQueue::State::failed);
        QCOMPARE(queue().entries().front().written, 3);
        auto* details = m_window->findChild<QLabel*>(QStringLiteral("queueDetails"));
        QVERIFY2(details->text().contains("in.0003.exr"), qPrintable(details->text()));
        QTRY_VERIFY2(message().contains("1 failed"), qPrintable(message()));
        QVERIFY(cut.open(QIODevice::WriteOnly));
        cut.write(whole);
        cut.close();
        QTest::mouseClick(m_window->findChild<QPushButton*>(QStringLiteral("queueRetry")), Qt::LeftButton);
        waitForQueue();
        QCOMPARE(queue().entries().front().state, DeliveryQueue::State::done);
        QCOMPARE(queue().entries().front().written, 1);
        QCOMPARE(queue().entries().front().kept, 3);
    }

    // A farm that takes jobs and forgets them: what is missing is said; one that refuses is quoted. (A real
    // one: tests/farm.)
    void aDeliveryGoesToTheFarm()
    {
        emptyQueue();
        openFour();
        add(0);
        const auto toTheFarm = [&] {
            for (QAction* action : m_window->findChildren<QAction*>())
                if (action->text().remove(QLatin1Char('&')) == QStringLiteral("To the farm…"))
                    action->trigger();
        };
        toTheFarm();
        QVERIFY2(message().contains("save it first"), qPrintable(message()));
        document().save(at(QStringLiteral("four.retinex")));
        QDir().mkpath(at("bin"));
        const auto program = [&](const char* name, const QByteArray& text) {
            QFile file(at("bin/") + QLatin1String(name));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write("#!/bin/sh\n" + text);
            file.close();
            file.setPermissions(QFile::ReadOwner | QFile::ExeOwner | QFile::WriteOwner);
        };
        program("sbatch", "echo \"$@\" >> " + at("asked").toLocal8Bit() + "\necho 42\n");
        program("squeue", "exit 0\n");
        const QByteArray before = qgetenv("PATH");
        qputenv("PATH", at("bin").toLocal8Bit() + ":" + before);
        const auto submit = [&] {
            QTimer::singleShot(300, this, [] {
                auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
                if (!dialog || dialog->objectName() != "farmDialog") qFatal("no dialog for the farm");
                dialog->findChild<QSpinBox*>(QStringLiteral("farmChunk"))->setValue(3);
                dialog->findChild<QLineEdit*>(QStringLiteral("farmPartition"))
                    ->setText(QStringLiteral("night"));
                for (QPushButton* button : dialog->findChildren<QPushButton*>())
                    if (button->text() == QStringLiteral("Submit")) QTest::mouseClick(button, Qt::LeftButton);
            });
            toTheFarm();
        };
        submit();
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("1-4 are missing"), 20'000);
        const QByteArray asked = test::bytesOf(at("asked"));
        QVERIFY2(asked.contains("--array=0-1") && asked.contains("--partition night") &&
                     asked.contains("afterany:42"),
                 asked.constData());
        QVERIFY(test::bytesOf(at("four-frames/.retinex/farm/chunks.sh")).contains("1) frames='4-4'"));
        program("sbatch", "echo the farm sleeps >&2\nexit 1\n");
        submit();
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("the farm sleeps"), 20'000);
        qputenv("PATH", before);
    }

    // Paused it waits; after the window is gone (or the program crashed) it is there again.
    void theQueueOutlivesTheWindow()
    {
        emptyQueue();
        openFour();
        queue().setPaused(true);
        add(0);
        add(1);
        press(child<QPushButton>("deliver"));
        QCOMPARE(queue().entries().size(), std::size_t(2));
        QVERIFY(!queue().isRunning());
        queue().move(queue().entries()[1].id, -1);
        QCOMPARE(QString::fromStdString(queue().entries()[0].job.delivery.name), QStringLiteral("review"));
        document().setUnmodified();
        m_window = std::make_unique<MainWindow>();
        m_window->show();
        QCOMPARE(queue().entries().size(), std::size_t(2));
        QVERIFY(queue().isPaused());
        QTRY_VERIFY(message().contains("2 deliveries wait from last time"));
        QCOMPARE(QString::fromStdString(queue().entries()[0].job.delivery.name), QStringLiteral("review"));
        queue().cancel(queue().entries()[0].id); // the movie
        queue().setPaused(false);
        waitForQueue();
        QCOMPARE(queue().entries()[0].state, DeliveryQueue::State::cancelled);
        QCOMPARE(queue().entries()[1].state, DeliveryQueue::State::done);
        QCOMPARE(QDir(at("four-frames")).entryList({"*.exr"}).size(), 4);
        emptyQueue();
    }
};

QTEST_MAIN(TestWindowDelivery)
#include "test_window_delivery.moc"
