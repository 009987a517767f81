// Playing frames, takes and comparing in the real window, by mouse and keys.
#include "app/dialogs/preferences_dialog.h"
#include "app/window_driver.h"

#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSignalSpy>
#include <QToolButton>

using namespace retinex;
using namespace retinex::app;

class TestWindowPlay : public test::WindowDriver
{
    Q_OBJECT

    Playback& playback() { return m_window->playback(); }
    CacheBar& bar() { return *child<CacheBar>("cacheBar"); }
    CompareBar& compare() { return *child<CompareBar>("compareBar"); }
    PictureView& view() { return m_window->picture(); }
    void key(Qt::Key key, Qt::KeyboardModifiers keys = {}) { QTest::keyClick(m_window.get(), key, keys); }
    QString undoText() { return document().undoStack().undoText(); }
    void openDemo()
    {
        m_window->openAsCopy(QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"));
        settle();
    }
    /// In and out, and all frames between them ready.
    void makeReady(int first, int last)
    {
        openDemo();
        document().setFrame(first);
        key(Qt::Key_I);
        document().setFrame(last);
        key(Qt::Key_O);
        QCOMPARE(project().playedFrames(), (timeline::FrameRange{first, last}));
        QTRY_COMPARE_WITH_TIMEOUT(bar().readyFrames(), last - first + 1, 60'000);
        settle();
    }
    enum class By { doubleClick, f2 };
    void nameTake(int row, const QString& name, By way = By::doubleClick)
    {
        auto* list = child<QListWidget>("takes");
        const QRect place = list->visualItemRect(list->item(row));
        const QPoint at(place.left() + 150, place.center().y());
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, at);
        if (way == By::f2)
            QTest::keyClick(list, Qt::Key_F2);
        else
            QTest::mouseDClick(list->viewport(), Qt::LeftButton, {}, at);
        auto* editor = list->findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClick(editor, Qt::Key_Delete);
        QTest::keyClicks(editor, name);
        QTest::keyClick(editor, Qt::Key_Return);
    }
    void choose(const char* menu, int index) { child<QMenu>(menu)->actions().at(index)->trigger(); }
    QRgb pixelAt(double xShare, double yShare)
    {
        const QImage shown = view().grab().toImage();
        return shown.pixel(static_cast<int>(xShare * shown.width()),
                           static_cast<int>(yShare * shown.height()));
    }

private slots:
    void framesAreMadeReadyWhileNothingElseIsDone()
    {
        m_window->frameStore().clear();
        openDemo();
        QCOMPARE(bar().readyFrames(), 0);
        QTRY_COMPARE_WITH_TIMEOUT(bar().readyFrames(), 48, 120'000);
        // An edit of the second shot leaves the first one's frames; taken back, all are there at once.
        document().setFrame(30);
        child<QAction>("fillWhenIdle")->setChecked(false);
        typeInto(field("lens/fStop"), QStringLiteral("8"));
        QTRY_COMPARE(bar().readyFrames(), 24);
        key(Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(bar().readyFrames(), 48);
        child<QAction>("fillWhenIdle")->setChecked(true);
    }

    void spacePlaysAndTheFrameMovesOn()
    {
        makeReady(4, 15);
        QSignalSpy shown(&playback(), &Playback::shown);
        key(Qt::Key_Space);
        QVERIFY(playback().isPlaying());
        QTRY_VERIFY_WITH_TIMEOUT(shown.size() > 30, 10'000); // more than twice round
        std::set<int> frames;
        for (const auto& each : shown)
            frames.insert(each[0].toInt());
        QCOMPARE(*frames.begin(), 4);
        QCOMPARE(*frames.rbegin(), 15);
        QCOMPARE(document().frame(), shown.back()[0].toInt());
        key(Qt::Key_Space);
        QVERIFY(!playback().isPlaying());
        settle(); // the picture in full
        QCOMPARE(view().picture().frame, document().frame());
    }

    void playingAsksForNothingAnew()
    {
        makeReady(4, 15);
        QSignalSpy shown(&playback(), &Playback::shown);
        QSignalSpy changed(&m_window->filler(), &FrameFiller::changed);
        key(Qt::Key_Space);
        QTRY_VERIFY_WITH_TIMEOUT(shown.size() > 30, 10'000);
        key(Qt::Key_Space);
        QVERIFY2(changed.size() <= 1, qPrintable(QString::number(changed.size()))); // all of it was there
    }

    void editsReachWhatIsPlayedInEveryView()
    {
        makeReady(4, 9);
        m_window->setMode(ViewMode::zones);
        QTRY_COMPARE_WITH_TIMEOUT(bar().readyFrames(), 6, 60'000);
        settle();
        child<QAction>("fillWhenIdle")->setChecked(false);
        typeInto(field("lens/fStop"), QStringLiteral("f/11"));
        QTRY_COMPARE(bar().readyFrames(), 0); // the limits are others
        child<QAction>("fillWhenIdle")->setChecked(true);
    }

    void theRateIsKept_data()
    {
        QTest::addColumn<int>("rateIndex"); // of the Rate menu
        QTest::addColumn<double>("rate");
        QTest::newRow("24") << 2 << 24.0;
        QTest::newRow("25") << 3 << 25.0;
    }
    /// Whatever the machine is busy with: the frame that is shown is the one that is due by the clock. How
    /// many come in time is measured in bench/.
    void theRateIsKept()
    {
        QFETCH(int, rateIndex);
        QFETCH(double, rate);
        makeReady(4, 15);
        for (QAction* action : child<QMenu>("playMenu")->actions())
            if (action->menu() && action->text().contains(QLatin1String("Rate")))
                action->menu()->actions().at(rateIndex)->trigger();
        QCOMPARE(project().playing.framesPerSecond, rate);
        QElapsedTimer clock;
        double first = 0.0;
        int before = 0;
        int steps = 0;
        double farthest = 0.0; // off the clock, in frames
        connect(&playback(), &Playback::shown, this, [&](int frame) {
            const double now = static_cast<double>(clock.nsecsElapsed()) / 1e9;
            if (before == 0) first = now;
            if (before != 0) steps += (frame - before + 12) % 12;
            before = frame;
            farthest = std::max(farthest, std::abs((now - first) * rate - steps));
        });
        clock.start();
        child<QToolButton>("play")->click();
        QTRY_VERIFY_WITH_TIMEOUT(steps > 2 * rate, 20'000);
        press(child<QToolButton>("play"));
        QVERIFY(!playback().isPlaying());
        QVERIFY2(farthest < 1.5, qPrintable(QString::number(farthest)));
    }

    void shuttleKeysAndTheEnds()
    {
        makeReady(4, 9);
        document().setFrame(4);
        choose("play/loop", 0); // stop at the end
        key(Qt::Key_L);
        QCOMPARE(playback().direction(), 1);
        key(Qt::Key_L);
        QCOMPARE(playback().speed(), 2);
        key(Qt::Key_J);
        QCOMPARE(playback().direction(), -1);
        QCOMPARE(playback().speed(), 1);
        key(Qt::Key_K);
        QVERIFY(!playback().isPlaying());
        key(Qt::Key_L);
        QTRY_VERIFY_WITH_TIMEOUT(!playback().isPlaying(), 10'000);
        QCOMPARE(document().frame(), 9);
        key(Qt::Key_L); // from the end it begins anew
        QTRY_VERIFY(playback().isPlaying() && document().frame() < 9);
        QTRY_VERIFY_WITH_TIMEOUT(!playback().isPlaying(), 10'000);
        choose("play/loop", 2); // back and forth
        std::vector<int> frames;
        connect(&playback(), &Playback::shown, this, [&](int frame) { frames.push_back(frame); });
        choose("play/pace", 1); // every frame
        document().setFrame(4);
        key(Qt::Key_L);
        QTRY_VERIFY_WITH_TIMEOUT(frames.size() >= 9, 10'000);
        key(Qt::Key_K);
        frames.resize(9);
        QCOMPARE(frames, (std::vector<int>{5, 6, 7, 8, 9, 8, 7, 6, 5}));
        choose("play/loop", 1);
        choose("play/pace", 0);
        key(Qt::Key_I, Qt::ShiftModifier);
        QCOMPARE(undoText(), QStringLiteral("play all frames"));
        QCOMPARE(project().playedFrames(), (timeline::FrameRange{1, 48}));
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(project().playedFrames(), (timeline::FrameRange{4, 9}));
    }

    void everyFrameIsWaitedForWhereNoneIsReady()
    {
        openDemo();
        m_window->frameStore().clear();
        choose("play/pace", 1);
        std::vector<int> frames;
        connect(&playback(), &Playback::shown, this, [&](int frame) { frames.push_back(frame); });
        key(Qt::Key_Space);
        QTRY_VERIFY_WITH_TIMEOUT(frames.size() >= 4, 30'000);
        key(Qt::Key_Space);
        frames.resize(4);
        QCOMPARE(frames, (std::vector<int>{2, 3, 4, 5}));
        choose("play/pace", 0);
    }

    void steppingAndClickingStopPlaying()
    {
        makeReady(4, 15);
        key(Qt::Key_Space);
        QTRY_VERIFY(document().frame() > 4);
        key(Qt::Key_Home);
        QVERIFY(!playback().isPlaying());
        QCOMPARE(document().frame(), 1);
        key(Qt::Key_Space);
        QSignalSpy shown(&playback(), &Playback::shown);
        QTRY_VERIFY(!shown.isEmpty());
        const double focus = document().marks()[0].value;
        QTest::mouseClick(&view(), Qt::LeftButton, {}, view().rect().center());
        QVERIFY(!playback().isPlaying());
        QCOMPARE(document().marks()[0].value, focus); // a click on what plays only stops it
        QTest::keyClick(&view(), Qt::Key_Space); // with the keyboard in the picture, where it also moves it
        QVERIFY(playback().isPlaying());
        QTest::keyClick(&view(), Qt::Key_Space);
        QVERIFY(!playback().isPlaying());
    }

    void cacheLimitsAreSetInThePreferences()
    {
        makeReady(4, 7);
        QTimer::singleShot(0, this, [&] {
            auto* dialog = qobject_cast<PreferencesDialog*>(QApplication::activeModalWidget());
            QVERIFY(dialog);
            QVERIFY(dialog->findChild<QLabel*>(QStringLiteral("cacheUsed"))
                        ->text()
                        .contains(QLatin1String("in memory")));
            dialog->findChild<QDoubleSpinBox*>(QStringLiteral("cacheMemory"))->setValue(0.5);
            dialog->findChild<QDoubleSpinBox*>(QStringLiteral("cacheDisk"))->setValue(0.0);
            dialog->findChild<QPushButton*>(QStringLiteral("cacheClear"))->click();
            dialog->accept();
        });
        key(Qt::Key_Comma, Qt::ControlModifier);
        QCOMPARE(m_window->frameStore().limits().memory, qint64(1) << 29);
        QCOMPARE(m_window->frameStore().limits().disk, qint64(0));
        QCOMPARE(m_window->frameStore().bytesOnDisk(), qint64(0));
        QSettings().remove(QStringLiteral("play/memoryGigabytes"));
        QSettings().remove(QStringLiteral("play/diskGigabytes"));
    }

    void aTakeIsKeptNamedComparedAndRestored()
    {
        openDemo();
        document().setFrame(12);
        settle();
        key(Qt::Key_T);
        QCOMPARE(undoText(), QStringLiteral("keep Take 1"));
        auto* list = child<QListWidget>("takes");
        QCOMPARE(list->count(), 1);
        const project::Take kept = project().takes.items().front();
        QCOMPARE(kept.frame, 12);
        const QImage small =
            QImage::fromData(QByteArray::fromBase64(QByteArray::fromStdString(kept.picture)), "PNG");
        QCOMPARE(small.width(), 320);
        nameTake(0, QStringLiteral("soft can"));
        QTRY_COMPARE(undoText(), QStringLiteral("name soft can"));
        typeInto(field("lens/fStop"), QStringLiteral("16"));
        settle();
        key(Qt::Key_T);
        QCOMPARE(list->count(), 2);
        QCOMPARE(project().takes.items()[1].name, std::string("Take 1")); // free again
        list->setCurrentRow(0);
        press(child<QPushButton>("restoreTake"));
        QCOMPARE(undoText(), QStringLiteral("restore soft can"));
        QVERIFY(project().shots == kept.shots);
        QCOMPARE(project().takes.size(), std::size_t(2));
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(document().values().fStop, 16.0);
        list->setCurrentRow(1);
        press(child<QPushButton>("deleteTake"));
        QCOMPARE(list->count(), 1);
        const int steps = document().undoStack().index();
        nameTake(0, QString(), By::f2); // no name is no name
        QTest::qWait(50);
        QCOMPARE(document().undoStack().index(), steps);
        QCOMPARE(list->item(0)->text(), QStringLiteral("soft can"));
        // In the project file, picture and all.
        const QString file = m_dir.filePath(QStringLiteral("takes.retinex"));
        document().save(file);
        m_window->open({file});
        settle();
        QCOMPARE(project().takes.items()[0].picture, kept.picture);
        QVERIFY(project().takes.items()[0].shots == kept.shots);
        QCOMPARE(child<QListWidget>("takes")->count(), 1);
    }

    void aWipeShowsOneLeftAndTheOtherRight()
    {
        openDemo();
        document().setFrame(12);
        settle();
        key(Qt::Key_T);
        typeInto(field("lens/fStop"), QStringLiteral("64"));
        settle();
        compare().setSide(1, {CompareSide::Kind::present});
        key(Qt::Key_W);
        settle();
        const QRgb sharp[2] = {pixelAt(0.3, 0.4), pixelAt(0.7, 0.4)};
        child<QListWidget>("takes")->setCurrentRow(0);
        press(child<QPushButton>("compareTake"));
        QVERIFY(compare().isVisible());
        settle();
        QCOMPARE(compare().side(1).take, std::string("Take 1"));
        QCOMPARE(pixelAt(0.3, 0.4), sharp[0]);
        const QRgb soft = pixelAt(0.7, 0.4);
        QVERIFY(soft != sharp[1]);
        const QPoint line(view().width() / 2, view().height() / 3);
        drag(&view(), line, QPoint(view().width() * 9 / 10, line.y()));
        QCOMPARE(pixelAt(0.7, 0.4), sharp[1]); // now on the left of it
        drag(&view(), QPoint(view().width() * 9 / 10, line.y()), QPoint(view().width() / 10, line.y()));
        QCOMPARE(pixelAt(0.7, 0.4), soft);
        QCOMPARE(document().marks()[0].value, 0.74); // dragging the line sets no focus
        // Two that are neither of them the present settings.
        compare().setSide(0, {CompareSide::Kind::source});
        emit compare().changed();
        settle();
        QCOMPARE(view().picture().mode, ViewMode::source);
        key(Qt::Key_W);
        QCOMPARE(compare().mode(), Comparison::Mode::off);
        settle();
        QCOMPARE(view().picture().mode, ViewMode::result);
    }

    void aKeyHeldShowsTheSourceAlone()
    {
        openDemo();
        document().setFrame(12);
        settle();
        const QRgb before = pixelAt(0.5, 0.4);
        QTest::keyPress(m_window.get(), Qt::Key_V);
        settle();
        const QRgb source = pixelAt(0.5, 0.4);
        QVERIFY(source != before);
        QTest::keyRelease(m_window.get(), Qt::Key_V);
        QCOMPARE(pixelAt(0.5, 0.4), before);
        m_window->setMode(ViewMode::source);
        settle();
        QCOMPARE(pixelAt(0.5, 0.4), source);
    }

    void sideBySideZoomsBothAndTheDifferenceIsMeasured()
    {
        openDemo();
        document().setFrame(12);
        settle();
        key(Qt::Key_W);
        press(child<QToolButton>("compareBeside"));
        settle();
        view().oneToOne();
        settle();
        // A place of the source lies half a view right of the same place of the result.
        compare().setSide(0, {CompareSide::Kind::source});
        emit compare().changed();
        settle();
        const QImage shown = view().grab().toImage();
        const int half = shown.width() / 2;
        int same = 0;
        for (int x = 40; x < half - 40; x += 7)
            same += shown.pixel(x, shown.height() / 2) == shown.pixel(x + half, shown.height() / 2);
        QCOMPARE(same, (half - 80 + 6) / 7);
        const double zoom = view().map().scale();
        QTest::mouseMove(&view(), QPoint(half + 100, 100));
        view().zoomStep(2.0);
        QVERIFY(view().map().scale() > 1.5 * zoom);
        press(child<QToolButton>("compareDifference"));
        settle();
        QCOMPARE(pixelAt(0.5, 0.5) & 0xffffff, QRgb(0)); // of a picture and itself
        compare().setSide(0, {CompareSide::Kind::present});
        emit compare().changed();
        settle();
        QImage different = view().grab().toImage();
        int lit = 0;
        for (int x = 0; x < different.width(); x += 5)
            lit += (different.pixel(x, different.height() / 2) & 0xffffff) != 0;
        QVERIFY(lit > different.width() / 10);
        press(child<QToolButton>("compareClose"));
        QCOMPARE(compare().mode(), Comparison::Mode::off);
        // From another view comparing shows results; another view shows one picture.
        m_window->setMode(ViewMode::blur);
        key(Qt::Key_W);
        settle();
        QCOMPARE(view().picture().mode, ViewMode::result);
        m_window->setMode(ViewMode::depth);
        settle();
        QCOMPARE(compare().mode(), Comparison::Mode::off);
        QCOMPARE(view().picture().mode, ViewMode::depth);
    }
};

QTEST_MAIN(TestWindowPlay)
#include "test_window_play.moc"
