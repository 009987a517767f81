// The focus desk, marks, shots and subjects in the real window, by mouse and keys.
#include "app/window_driver.h"

#include <QComboBox>
#include <QContextMenuEvent>
#include <QInputDialog>
#include <QMenu>
#include <QPushButton>
#include <QSpinBox>
#include <QTimer>
#include <QToolButton>
#include <QWheelEvent>
#include <functional>

using namespace retinex;
using namespace retinex::app;

class TestWindowTime : public test::WindowDriver
{
    Q_OBJECT

    FocusDesk& desk() { return *child<FocusDesk>("focusDesk"); }
    const timeline::Marks& marks(SettingPath id = setting::focusDistance) { return document().marks(id); }
    const timeline::Mark* markOn(int frame) { return timeline::markOn(marks(), frame); }
    QString undoText() { return document().undoStack().undoText(); }
    void openDemo()
    {
        m_window->openAsCopy(QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"));
        settle();
    }
    void clickMark(int frame, Qt::KeyboardModifiers keys = {})
    {
        QTest::mouseClick(&desk(), Qt::LeftButton, keys,
                          desk().pointFor(frame, project().focusDistanceAt(frame)));
    }
    void wheel(QWidget* widget, QPoint at, int turns, Qt::KeyboardModifiers keys)
    {
        QWheelEvent event(at, widget->mapToGlobal(at), {}, {0, 120 * turns}, Qt::NoButton, keys,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(widget, &event);
    }
    /// Chooses the entry of the context menu that opens at a place.
    void choose(QWidget* widget, QPoint at, const QString& entry)
    {
        bool chosen = false;
        QTimer::singleShot(0, this, [&] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (!menu) return;
            for (QAction* action : menu->findChildren<QAction*>()) {
                if (action->text() != entry) continue;
                chosen = true;
                action->trigger();
            }
            for (QAction* action : menu->actions()) {
                if (chosen || action->text() != entry) continue;
                chosen = true;
                action->trigger();
            }
            menu->close();
        });
        QContextMenuEvent event(QContextMenuEvent::Mouse, at, widget->mapToGlobal(at));
        QApplication::sendEvent(widget, &event);
        QVERIFY2(chosen, qPrintable(entry));
    }
    /// One step that is undone and done again, with the project as it was before and after.
    void isOneStep(const QString& words, const std::function<void()>& act)
    {
        const project::Project before = project();
        const int steps = document().undoStack().index();
        act();
        m_window->activateWindow(); // a dialog may have been in front
        QVERIFY(QTest::qWaitForWindowActive(m_window.get()));
        const project::Project after = project();
        QVERIFY2(!(after == before), qPrintable(words));
        QCOMPARE(undoText(), words);
        QCOMPARE(document().undoStack().index(), steps + 1);
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY2(project() == before, qPrintable(words));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY2(project() == after, qPrintable(words));
    }

private slots:
    void everyDeskOperationIsOneStep()
    {
        openDemo();
        document().setFrame(12);
        isOneStep("set mark at 12", [&] { QTest::keyClick(m_window.get(), Qt::Key_M); });
        const double at = project().focusDistanceAt(12);
        isOneStep("move mark at 10",
                  [&] { drag(&desk(), desk().pointFor(12, at), desk().pointFor(10, 5.0)); });
        desk().setFocus();
        clickMark(10);
        isOneStep("nudge mark at 11", [&] { QTest::keyClick(&desk(), Qt::Key_Right, Qt::AltModifier); });
        const double before = markOn(11)->value;
        clickMark(11); // undone, it was elsewhere and is not chosen any more
        isOneStep("nudge mark at 11", [&] { QTest::keyClick(&desk(), Qt::Key_Up, Qt::AltModifier); });
        QVERIFY(std::abs(markOn(11)->value / before - 1.005) < 1e-9);
        clickMark(11);
        clickMark(20, Qt::ControlModifier); // a second one
        isOneStep("nudge 2 marks", [&] { QTest::keyClick(&desk(), Qt::Key_Left, Qt::AltModifier); });
        QVERIFY(markOn(10) && markOn(19));
        clickMark(10);
        clickMark(19, Qt::ControlModifier);
        QTest::keyClick(&desk(), Qt::Key_C, Qt::ControlModifier);
        document().setFrame(14);
        isOneStep("paste marks at 14", [&] { QTest::keyClick(&desk(), Qt::Key_V, Qt::ControlModifier); });
        QVERIFY(markOn(14) && markOn(23)); // as far apart as they were
        clickMark(14);
        clickMark(23, Qt::ControlModifier);
        isOneStep("delete 2 marks", [&] { QTest::keyClick(&desk(), Qt::Key_Delete); });
        QTest::keyClick(&desk(), Qt::Key_A, Qt::ControlModifier);
        isOneStep("delete 3 marks", [&] { QTest::keyClick(&desk(), Qt::Key_Delete); });
        QVERIFY(marks().empty());
        isOneStep("cut at 14", [&] { QTest::keyClick(m_window.get(), Qt::Key_X); });
        QCOMPARE(project().shots.size(), std::size_t(3));
        isOneStep("remove the cut at 14",
                  [&] { QTest::keyClick(m_window.get(), Qt::Key_X, Qt::ShiftModifier); });
    }

    void menusCardAndLanesAreOneStepEach()
    {
        openDemo();
        isOneStep("set mark at 10", [&] {
            QTest::mouseDClick(&desk(), Qt::LeftButton, {}, desk().pointFor(10, 2.3)); // beside the line
        });
        QVERIFY(std::abs(project().focusDistanceAt(10) / 2.3 - 1.0) < 0.05);
        const QPoint mark = desk().pointFor(10, project().focusDistanceAt(10));
        isOneStep("change ease", [&] { choose(&desk(), mark, "Hold until the next mark"); });
        isOneStep("bind to can", [&] { choose(&desk(), mark, "can"); });
        QVERIFY(markOn(10)->isBound());
        const auto onTheCan = [&] { return desk().pointFor(10, project().focusDistanceAt(10)); };
        isOneStep("unbind marks", [&] { choose(&desk(), onTheCan(), "A plain distance"); });
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier); // bound again
        const double between = project().focusDistanceAt(15);
        isOneStep("turn into plain marks", [&] {
            QTimer::singleShot(200, this, [] {
                if (auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget()))
                    dialog->accept();
            });
            choose(&desk(), desk().pointFor(14, 0.9), "Turn this shot into plain marks…");
        });
        QVERIFY(std::abs(project().focusDistanceAt(15) / between - 1.0) < 0.002); // as the dialog says
        QVERIFY(!markOn(5)->isBound());
        auto* card = child<QFrame>("markCard");
        const auto onTheCard = [&](const std::function<void()>& act) {
            QTest::mouseDClick(&desk(), Qt::LeftButton, {}, desk().pointFor(5, project().focusDistanceAt(5)));
            QVERIFY(card->isVisible());
            act();
            card->hide();
        };
        isOneStep("set mark at 5", [&] {
            onTheCard([&] { typeInto(*card->findChild<NumberField*>("markValue"), QStringLiteral("0.8")); });
        });
        isOneStep("change pull", [&] {
            onTheCard([&] {
                auto* blend = card->findChild<QComboBox*>("markBlend");
                const int another = (blend->currentIndex() + 1) % 3;
                blend->setCurrentIndex(another);
                emit blend->activated(another);
            });
        });
        document().setFrame(5);
        isOneStep("set mark at 5", [&] {
            auto& stop = field("lens/fStop");
            choose(&stop, stop.rect().center(), "Set a mark here");
        });
        auto* lanes = child<MarkLanes>("markLanes");
        const QPoint inLane = lanes->pointFor(setting::fStop, 5);
        const auto wide = static_cast<int>(desk().frameScale().pxPerFrame() * 3.0);
        isOneStep("move mark at 8", [&] { drag(lanes, inLane, inLane + QPoint(wide, 0)); });
        isOneStep("play from 8", [&] {
            document().setFrame(8);
            QTest::keyClick(m_window.get(), Qt::Key_I);
        });
        isOneStep("play to 20", [&] {
            document().setFrame(20);
            QTest::keyClick(m_window.get(), Qt::Key_O);
        });
    }

    /// Each subject is measured once, however many there are: one that is done does not make the others begin
    /// anew. (Of a thousand frames that would be the longer part of the work.)
    void subjectsAreMeasuredOnceEach()
    {
        openDemo();
        project::Project changed = project();
        for (const double x : {200.0, 300.0, 400.0}) {
            timeline::Subject subject{"at " + std::to_string(static_cast<int>(x))};
            subject.places = {{1, x, 250.0}};
            changed.subjects.push_back(subject);
        }
        SubjectService service;
        auto source = document().source();
        QStringList measured;
        connect(
            &service, &SubjectService::measured, this,
            [&](const std::string& name, const SharedList<timeline::Sample>& samples, const std::string& as) {
                measured << QString::fromStdString(name);
                timeline::Subject* subject = changed.subjectNamed(name); // as the document does
                subject->samples = samples;
                subject->measuredAs = as;
                service.update(source, std::make_shared<project::Project>(changed));
            });
        service.update(source, std::make_shared<project::Project>(changed));
        QTRY_VERIFY_WITH_TIMEOUT(!service.isMeasuring(), 60'000);
        measured.sort();
        QCOMPARE(measured, (QStringList{"at 200", "at 300", "at 400"}));
        for (const timeline::Subject& subject : changed.subjects)
            QVERIFY(!subject.samples.empty());
    }

    void subjectsInThePictureCanBeHidden()
    {
        openDemo();
        document().setFrame(12);
        settle();
        const QImage with = m_window->picture().grab().toImage();
        QTest::keyClick(m_window.get(), Qt::Key_U, Qt::ShiftModifier);
        const QImage without = m_window->picture().grab().toImage();
        QVERIFY(with != without);
        QTest::keyClick(m_window.get(), Qt::Key_U); // placing one shows them, with a word on what to do
        QVERIFY(m_window->picture().grab().toImage() != without);
        QTest::keyClick(&m_window->picture(), Qt::Key_Escape);
        QCOMPARE(m_window->picture().grab().toImage(), without);
        QTest::keyClick(m_window.get(), Qt::Key_U, Qt::ShiftModifier);
        QCOMPARE(m_window->picture().grab().toImage(), with);
    }

    void shiftAndDragChoosesManyAndTheyMoveTogether()
    {
        openDemo();
        document().setFrame(12);
        QTest::keyClick(m_window.get(), Qt::Key_M);
        const QPoint from = desk().pointFor(10, 0.65);
        QTest::mousePress(&desk(), Qt::LeftButton, Qt::ShiftModifier, from);
        for (const QPoint& to : {desk().pointFor(15, 5.0), desk().pointFor(22, 8.5)})
            QTest::mouseMove(&desk(), to);
        QTest::mouseRelease(&desk(), Qt::LeftButton, Qt::ShiftModifier, desk().pointFor(22, 8.5));
        const double a = markOn(12)->value;
        const double b = markOn(20)->value;
        const QPoint mark = desk().pointFor(12, a);
        drag(&desk(), mark, mark + QPoint(0, 12)); // nearer, both by as much of the axis
        QVERIFY(markOn(12)->value < a && markOn(20)->value < b);
        QVERIFY(std::abs(markOn(12)->value / a - markOn(20)->value / b) < 0.01); // the axis is logarithmic
        QCOMPARE(undoText(), QStringLiteral("move 2 marks"));
        QCOMPARE(markOn(5)->value, 0.74);
    }

    void aCurveIsBentByItsHandleAndCannotOvershoot()
    {
        openDemo();
        const QPoint mark = desk().pointFor(5, 0.74);
        choose(&desk(), mark, "Curve with a handle");
        const bool leaving = markOn(5)->leaving.ease == timeline::Ease::curve;
        QVERIFY(leaving || markOn(5)->arriving.ease == timeline::Ease::curve);
        document().editMarks("curve", setting::focusDistance, 5, [](timeline::Marks& all) {
            all[0].leaving = timeline::Side{0.5, 0.0};
        });
        const QPoint handle = desk().handlePoint(5, true);
        QVERIFY(handle.x() > mark.x() + 20);
        const double before = project().focusDistanceAt(12);
        drag(&desk(), handle, handle - QPoint(30, 60));
        QCOMPARE(undoText(), QStringLiteral("bend the pull at 5"));
        QVERIFY(markOn(5)->leaving.reach < 0.5 && markOn(5)->leaving.rise > 0.1);
        QVERIFY(project().focusDistanceAt(12) > before * 1.05);
        drag(&desk(), desk().handlePoint(5, true), QPoint(desk().handlePoint(5, true).x(), 0));
        QVERIFY(markOn(5)->leaving.rise <= 1.0);
    }

    void theCardTypesExactValues()
    {
        openDemo();
        QTest::mouseDClick(&desk(), Qt::LeftButton, {}, desk().pointFor(20, 8.2));
        auto* card = child<QFrame>("markCard");
        QVERIFY(card->isVisible());
        typeInto(*card->findChild<NumberField*>("markValue"), QStringLiteral("812cm"));
        QCOMPARE(markOn(20)->value, 8.12);
        auto* frame = card->findChild<QSpinBox*>("markFrame");
        frame->setValue(17);
        QVERIFY(!markOn(20) && markOn(17));
        auto* blend = card->findChild<QComboBox*>("markBlend");
        const double even = project().focusDistanceAt(11);
        const project::Project before = project();
        blend->setCurrentIndex(2);
        emit blend->activated(2); // of the mark at 17: nothing follows it in this shot
        QVERIFY(std::abs(project().focusDistanceAt(11) - even) < 1e-12);
        card->hide();
        QTest::mouseDClick(&desk(), Qt::LeftButton, {}, desk().pointFor(5, 0.74));
        emit blend->activated(2);
        QVERIFY(project().focusDistanceAt(11) > even * 1.2); // the difference is on the desk
        card->hide();
    }

    void theDeskZoomsAndPansAndShowsAllAgain()
    {
        openDemo();
        const QPoint middle = desk().rect().center();
        const double frame = desk().frameScale().toFrame(middle.x());
        wheel(&desk(), middle, 4, {});
        QVERIFY(desk().frameScale().pxPerFrame() > 25.0);
        QVERIFY(std::abs(desk().frameScale().toFrame(middle.x()) - frame) < 0.1); // on the pointer
        const int y = desk().pointFor(30, 2.0).y() - desk().pointFor(30, 4.0).y();
        wheel(&desk(), desk().pointFor(30, 3.0), 3, Qt::ControlModifier);
        QVERIFY(desk().pointFor(30, 2.0).y() - desk().pointFor(30, 4.0).y() > 1.5 * y);
        document().setFrame(2); // out of sight: the desk follows
        QVERIFY(desk().frameScale().toX(2) >= 0.0);
        press(child<QToolButton>("fitDesk"));
        QVERIFY(std::abs(desk().frameScale().left - 1.0) < 1e-9 &&
                std::abs(desk().frameScale().right - 49.0) < 1e-9);
    }

    void fieldsHaveDotsAndChangesBetweenMarksAreTold()
    {
        openDemo();
        auto& stop = field("lens/fStop");
        QCOMPARE(stop.marks(), NumberField::Marks::none);
        document().setFrame(5);
        choose(&stop, stop.rect().center(), "Set a mark here");
        QCOMPARE(stop.marks(), NumberField::Marks::here);
        document().setFrame(15);
        QCOMPARE(stop.marks(), NumberField::Marks::elsewhere);
        QVERIFY(stop.toolTip().contains("adds a mark on frame 15"));
        typeInto(stop, QStringLiteral("f/4"));
        QCOMPARE(marks(setting::fStop).size(), std::size_t(2));
        // It is told in the place of the probe line, and leaves when the shot plays.
        QVERIFY(child<QLabel>("passingText")->text().contains("A mark of f-stop was added at 15"));
        QVERIFY(child<QWidget>("passingMessage")->isVisible());
        QVERIFY(!inWindow(m_window->picture()).intersects(inWindow(*child<QWidget>("passingMessage"))));
        QTest::keyClick(&m_window->picture(), Qt::Key_Space);
        QVERIFY(!child<QWidget>("passingMessage")->isVisible());
        QTest::keyClick(&m_window->picture(), Qt::Key_Space);
        settle();
        document().setFrame(10); // halfway in stops
        QVERIFY(std::abs(document().values().fStop - std::sqrt(1.4 * 4.0)) < 1e-9);
        // The lane under the desk has its marks; one is dragged.
        auto* lanes = child<MarkLanes>("markLanes");
        QVERIFY(lanes->isVisible());
        const QPoint mark = lanes->pointFor(setting::fStop, 15);
        const auto wide = static_cast<int>(desk().frameScale().pxPerFrame() * 3.0);
        drag(lanes, mark, mark + QPoint(wide, 0));
        QVERIFY(timeline::markOn(marks(setting::fStop), 18));
        QCOMPARE(undoText(), QStringLiteral("move mark at 18"));
        // The other way to take a change between marks.
        document().setFrame(10);
        const double present = document().values().fStop;
        child<QTimer>("passingLeaves")->setInterval(3'600'000); // a busy machine is given its time
        typeInto(stop, QStringLiteral("f/8"));
        press(child<QToolButton>("passingAction"));
        QCOMPARE(marks(setting::fStop).size(), std::size_t(2));
        QCOMPARE(document().values().fStop, 8.0);
        QVERIFY(std::abs(marks(setting::fStop).front().value - 1.4 * 8.0 / present) < 1e-9);
        QCOMPARE(child<QComboBox>("betweenMarks")->currentIndex(), 1);
        choose(&stop, stop.rect().center(), "Clear all its marks in this shot");
        QVERIFY(marks(setting::fStop).empty());
        QCOMPARE(document().values().fStop, 8.0);
    }

    void shotsHaveSettingsOfTheirOwn()
    {
        openDemo();
        document().setFrame(30);
        QCOMPARE(field("lens/focalLengthMm").text(), QStringLiteral("55 mm"));
        typeInto(field("lens/fStop"), QStringLiteral("f/5.6"));
        document().setFrame(24);
        QCOMPARE(field("lens/focalLengthMm").text(), QStringLiteral("40 mm"));
        QCOMPARE(field("lens/fStop").text(), QStringLiteral("f/1.4"));
        // The mark at 20 is held to the cut, whatever comes after it.
        QCOMPARE(project().focusDistanceAt(24), 8.2);
        QVERIFY(project().focusDistanceAt(25) < 2.4);
        QTimer::singleShot(200, this, [this] {
            auto* dialog = QApplication::activeModalWidget();
            if (!dialog) qFatal("no dialog");
            QTest::mouseClick(dialog->findChild<QPushButton*>("copyNow"), Qt::LeftButton);
        });
        for (QAction* action : m_window->findChildren<QAction*>())
            if (action->text().contains("settings to other shots")) action->trigger();
        QCOMPARE(undoText(), QStringLiteral("copy settings to other shots"));
        document().setFrame(30);
        QCOMPARE(field("lens/fStop").text(), QStringLiteral("f/1.4"));
        QVERIFY(document().marks().front().isBound()); // focus was not copied
    }

    void theCutIsProposedAndSet()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        for (QAction* action : m_window->findChildren<QAction*>())
            if (action->text().remove('&') == "Propose cuts") action->trigger();
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("seem to begin at 25"), 60'000);
        press(child<QToolButton>("messageAction"));
        QCOMPARE(project().shots.size(), std::size_t(2));
        QCOMPARE(project().shots[1].firstFrame, 25);
        QCOMPARE(undoText(), QStringLiteral("cut where proposed"));
    }

    // One press of the key, as many subjects as clicks; all that are chosen are tracked.
    void severalSubjectsArePlacedAndTracked()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        document().setFrame(43);
        settle();
        auto& view = m_window->picture();
        QTest::keyClick(m_window.get(), Qt::Key_U);
        for (const QPoint at : {QPoint(331, 127), QPoint(205, 150), QPoint(440, 160)})
            QTest::mouseClick(&view, Qt::LeftButton, {}, view.viewPoint(at.x(), at.y()));
        QCOMPARE(project().subjects.size(), std::size_t(3));
        QTest::keyClick(&view, Qt::Key_Escape);
        auto* list = child<QListWidget>("subjects");
        seeable(list);
        const auto place = [list](int row) { return list->visualItemRect(list->item(row)).center(); };
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, place(0));
        QTest::mouseClick(list->viewport(), Qt::LeftButton, Qt::ControlModifier, place(2));
        QCOMPARE(list->selectedItems().size(), 2);
        press(child<QPushButton>("trackOn"));
        QTRY_VERIFY_WITH_TIMEOUT(m_window->isSettled() && project().subjects[0].tracked.size() > 0 &&
                                     project().subjects[2].tracked.size() > 0,
                                 60'000);
        QVERIFY(project().subjects[1].tracked.empty());
    }

    void aSubjectIsPlacedTrackedAndRiddenOn()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        document().setFrame(25);
        QTest::keyClick(m_window.get(), Qt::Key_X);
        settle();
        auto& view = m_window->picture();
        QTest::keyClick(m_window.get(), Qt::Key_U);
        QTest::mouseClick(&view, Qt::LeftButton, {}, view.viewPoint(331, 127));
        QTest::keyClick(&view, Qt::Key_Escape);
        QCOMPARE(view.tool(), PictureTool::focus);
        QCOMPARE(project().subjects.size(), std::size_t(1));
        nameInList("subjects", 0, "flower");
        QCOMPARE(project().subjects[0].name, std::string("flower"));
        press(child<QPushButton>("trackOn"));
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("flower is tracked on frames 25 to 48"), 60'000);
        settle();
        QCOMPARE(undoText(), QStringLiteral("track flower"));
        QCOMPARE(project().subjects[0].tracked.size(), std::size_t(23));
        press(child<QPushButton>("rideOnSubject"));
        for (const int frame : {25, 33, 48})
            QCOMPARE(project().focusDistanceAt(frame), *timeline::distanceAt(project().subjects[0], frame));
        QVERIFY(project().focusDistanceAt(48) < project().focusDistanceAt(25) - 0.1);
        // Dragged to another place on another frame: measured anew.
        document().setFrame(40);
        settle();
        const auto place = *placeAt(project().subjects[0], 40, {25, 48});
        const QPoint there = view.viewPoint(static_cast<int>(place.x), static_cast<int>(place.y));
        QTest::keyClick(m_window.get(), Qt::Key_U);
        drag(&view, there, there + QPoint(60, -20));
        QTest::keyClick(&view, Qt::Key_Escape);
        QCOMPARE(undoText(), QStringLiteral("place flower at 40"));
        QCOMPARE(project().subjects[0].places.size(), std::size_t(2));
        settle();
        // As few plain marks as follow it.
        QTimer::singleShot(200, this, [] {
            auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            if (!dialog) qFatal("no question");
            dialog->accept();
        });
        const double before = project().focusDistanceAt(30);
        choose(&desk(), desk().pointFor(30, 0.62), "Turn this shot into plain marks…");
        QVERIFY(!marks().front().isBound());
        QVERIFY(std::abs(project().focusDistanceAt(30) / before - 1.0) <= 0.002);
        QVERIFY(message().contains("is off by more than 0.2 % of itself"));
    }

    void anOutlineIsDrawnRoundASubject()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0030.exr")});
        auto& view = m_window->picture();
        QTest::keyClick(m_window.get(), Qt::Key_U);
        QTest::mouseClick(&view, Qt::LeftButton, {}, view.viewPoint(331, 127));
        settle();
        const double disc = *timeline::distanceAt(project().subjects[0], 30);
        press(child<QPushButton>("subjectOutline"));
        for (const QPoint corner : {QPoint(310, 110), QPoint(350, 105), QPoint(345, 150), QPoint(315, 150)})
            QTest::mouseClick(&view, Qt::LeftButton, {}, view.viewPoint(corner.x(), corner.y()));
        QTest::keyClick(&view, Qt::Key_Return);
        QCOMPARE(project().subjects[0].outline.size(), std::size_t(4));
        settle();
        QVERIFY(std::abs(*timeline::distanceAt(project().subjects[0], 30) / disc - 1.0) < 0.05);
    }

    // From (1, 2, 3) to (1, 2, -4): 7 units; looking along -z it is the same, along +x it is no distance.
    void twoPositionsGiveADistance()
    {
        openDemo();
        document().setFrame(5);
        QTimer::singleShot(200, this, [] {
            auto* dialog = QApplication::activeModalWidget();
            if (!dialog) qFatal("no dialog");
            QTest::keyClicks(dialog->findChild<QLineEdit*>("cameraPosition"), "(1, 2, 3)");
            QTest::keyClicks(dialog->findChild<QLineEdit*>("objectPosition"), "x: 2 y: 2 z: -4");
            auto* looks = dialog->findChild<QComboBox*>("cameraLooks");
            looks->setCurrentIndex(2); // along -x
            if (dialog->findChild<QPushButton*>("positionToFocus")->isEnabled()) qFatal("behind the camera");
            looks->setCurrentIndex(6); // along -z
            if (dialog->findChild<QLabel*>("positionResult")->text() != "7.00 m") qFatal("wrong distance");
            QTest::mouseClick(dialog->findChild<QPushButton*>("positionToMark"), Qt::LeftButton);
        });
        QTest::keyClick(m_window.get(), Qt::Key_2, Qt::ControlModifier);
        QCOMPARE(markOn(5)->value, 7.0);
        QCOMPARE(undoText(), QStringLiteral("set mark at 5"));
    }
    // Nine pictures, from the nearest to the farthest; the one clicked is adopted, as one step.
    void aBracketAdoptsTheOneThatIsClicked()
    {
        openDemo();
        document().setFrame(30);
        settle();
        const auto range = m_window->picture().picture().passes->range;
        const auto pick = [&](int index, int over, const QString& label) {
            QTimer::singleShot(200, this, [=] {
                auto* sheet = QApplication::activeModalWidget();
                if (!sheet || sheet->objectName() != "bracketSheet") qFatal("no bracket");
                auto* choice = sheet->findChild<QComboBox*>("bracketOver");
                choice->setCurrentIndex(over);
                emit choice->activated(over);
                auto* picture = sheet->findChild<QToolButton*>(QStringLiteral("bracket%1").arg(index));
                const qint64 empty = picture->icon().cacheKey();
                for (int i = 0; i < 300 && picture->icon().cacheKey() == empty; ++i)
                    QTest::qWait(20);
                if (picture->icon().cacheKey() == empty) qFatal("no picture came");
                if (!picture->text().contains(label)) qFatal("%s", qPrintable(picture->text()));
                QTest::mouseClick(picture, Qt::LeftButton);
            });
            QTest::keyClick(m_window.get(), Qt::Key_B);
        };
        isOneStep("set f-stop", [&] { pick(4, 1, QStringLiteral("f/4")); });
        QCOMPARE(document().values().fStop, 4.0);
        // Even in dioptres: the middle one of nine is the harmonic mean of the ends.
        isOneStep("set mark at 30", [&] { pick(4, 0, QStringLiteral(" m")); });
        const double middle = 2.0 / (1.0 / range.nearest + 1.0 / range.farthest);
        QVERIFY(std::abs(document().values().focusDistance / middle - 1.0) < 1e-9);
    }
};

QTEST_MAIN(TestWindowTime)
#include "test_window_time.moc"
