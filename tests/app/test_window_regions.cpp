// Regions by mouse and keys in the real window: drawn, painted, edited, bound, undone; depth made by hand.
#include "app/sheet/regions_panel.h"
#include "core/frame/kept_frames.h"
#include "core/frame/lay_in.h"
#include "core/frame/places/region_places.h"
#include "core/frame/places/subject_measure.h"
#include "window_driver.h"

#include <QMenu>
#include <QToolButton>

using namespace retinex;
using namespace retinex::app;

class TestWindowRegions : public test::WindowDriver
{
    Q_OBJECT

    PictureView& view() { return m_window->picture(); }
    RegionTools& tools() { return view().regions(); }
    const std::vector<regions::Region>& regionList() { return document().values().regions; }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = {}) { QTest::keyClick(&view(), key, modifiers); }
    void click(int x, int y, Qt::KeyboardModifiers modifiers = {})
    {
        QTest::mouseMove(&view(), view().viewPoint(x, y));
        QTest::mouseClick(&view(), Qt::LeftButton, modifiers, view().viewPoint(x, y));
    }
    void stroke(QPoint from, QPoint to)
    {
        drag(&view(), view().viewPoint(from.x(), from.y()), view().viewPoint(to.x(), to.y()));
    }
    /// In the second shot, where little moves: frame 40.
    void openDemo()
    {
        m_window->openAsCopy(QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"));
        settle();
        document().setFrame(40);
        settle();
        view().setFocus();
    }
    void drawGuard(int left = 280, int top = 60, int right = 380, int bottom = 200)
    {
        key(Qt::Key_G);
        QCOMPARE(tools().tool(), RegionTool::outline);
        for (const auto& [x, y] : {std::pair{left, top}, {right, top}, {right, bottom}, {left, bottom}})
            click(x, y, Qt::ControlModifier);
        key(Qt::Key_Return);
        settle();
    }
    QAction* addEntry(const QString& text)
    {
        QMenu* menu = child<QToolButton>("addRegion")->menu();
        emit menu->aboutToShow();
        for (QAction* action : menu->actions())
            if (action->text() == text) return action;
        qFatal("no such entry");
        return nullptr;
    }
    float shown(int x, int y) { return view().picture().values->plane(1).at(x, y); }
    float source(int x, int y) { return view().picture().passes->colour().plane(1).at(x, y); }

private slots:
    void aGuardIsDrawnAndKeepsWhatIsInsideSharp()
    {
        openDemo();
        const float before = shown(345, 110);
        QVERIFY(std::abs(before - source(345, 110)) > 0.003F); // blurred
        drawGuard();
        QCOMPARE(regionList().size(), std::size_t(1));
        QCOMPARE(regionList().front().name, std::string("guard"));
        QCOMPARE(regionList().front().share, 0.0);
        QCOMPARE(tools().tool(), RegionTool::edit);
        QVERIFY(std::abs(shown(345, 110) - source(345, 110)) < 1e-4F);
        QVERIFY(tools().area().at(330, 120) == 1.0F && tools().area().at(200, 120) == 0.0F);
        // The section has it, with its effect; the number is that of the region.
        auto* list = child<QListWidget>("regions");
        QVERIFY2(list->item(0)->text().contains("guard") && list->item(0)->text().contains("0 % blur"),
                 qPrintable(list->item(0)->text()));
        typeInto(field("regions/share"), QStringLiteral("100"));
        settle();
        QCOMPARE(shown(345, 110), before); // 100 % is no region, bit for bit
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("set guard: share of blur"));
        key(Qt::Key_Z, Qt::ControlModifier);
        key(Qt::Key_Z, Qt::ControlModifier);
        settle();
        QVERIFY(regionList().empty());
        QCOMPARE(shown(345, 110), before);
        QVERIFY(!list->isVisible());
        key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(regionList().size(), std::size_t(1));
    }

    void addedBlurIsPainted()
    {
        openDemo();
        const float before = shown(345, 110);
        key(Qt::Key_B, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(tools().tool(), RegionTool::brush);
        stroke({300, 90}, {390, 130});
        settle();
        QCOMPARE(regionList().size(), std::size_t(1));
        QCOMPARE(regionList().front().name, std::string("added blur"));
        QCOMPARE(regionList().front().addedPx, 10.0);
        QCOMPARE(regionList().front().share, 1.0);
        QVERIFY(std::abs(shown(345, 110) - before) > 0.002F);
    }

    // By Alt and the arrows a region goes before another; one step to undo.
    void regionsAreReordered()
    {
        openDemo();
        drawGuard();
        drawGuard(400, 60, 500, 200);
        const auto order = [this] { return regionList()[0].name + ' ' + regionList()[1].name; };
        QCOMPARE(order(), std::string("guard guard 2"));
        auto* list = child<QListWidget>("regions");
        list->setFocus();
        list->setCurrentRow(1);
        QTest::keyClick(list, Qt::Key_Up, Qt::AltModifier);
        settle();
        QCOMPARE(order(), std::string("guard 2 guard"));
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("reorder regions"));
        QTest::keyClick(list, Qt::Key_Up, Qt::AltModifier); // it is the first already
        QCOMPARE(order(), std::string("guard 2 guard"));
        list->setFocus();
        list->setCurrentRow(0);
        QTest::keyClick(list, Qt::Key_Down, Qt::AltModifier);
        settle();
        QCOMPARE(order(), std::string("guard guard 2"));
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(order(), std::string("guard 2 guard"));
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(order(), std::string("guard guard 2"));
    }

    // A subject is measured over a region: it has its patch's distance, and goes with its new name.
    void aSubjectIsMeasuredOverARegion()
    {
        openDemo();
        key(Qt::Key_P);
        for (const auto& [x, y] : {std::pair{280, 60}, {380, 60}, {380, 200}, {280, 200}})
            click(x, y, Qt::ControlModifier);
        key(Qt::Key_Return);
        settle();
        key(Qt::Key_U);
        click(330, 100);
        settle();
        auto* over = child<QComboBox>("subjectRegion");
        QVERIFY(over->isVisibleTo(m_window.get()));
        QCOMPARE(over->currentText(), QStringLiteral("none"));
        over->setCurrentIndex(over->findText("patch"));
        emit over->activated(over->currentIndex());
        settle();
        const auto& subject = project().subjects.back();
        QCOMPARE(subject.region, std::string("patch"));
        QTRY_VERIFY(sampleOn(project().subjects.back(), 40));
        const auto flat = frame::frameDistance(*document().source(), project(), 40).distance.at(330, 150);
        QVERIFY(std::abs(sampleOn(project().subjects.back(), 40)->distance - static_cast<double>(flat)) <
                1e-5);
        auto* list = child<QListWidget>("regions");
        list->item(0)->setText(QStringLiteral("petals"));
        QTRY_COMPARE(regionList().front().name, std::string("petals"));
        QCOMPARE(project().subjects.back().region, std::string("petals"));
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(project().subjects.back().region, std::string("patch"));
    }

    void whatIsBegunCanBeLeft()
    {
        openDemo();
        key(Qt::Key_G);
        click(300, 80);
        click(340, 90);
        key(Qt::Key_Return); // two points have no area: the tool is left
        QVERIFY(regionList().empty());
        key(Qt::Key_G);
        click(300, 80);
        click(340, 90);
        click(340, 150);
        key(Qt::Key_Escape);
        QCOMPARE(tools().tool(), RegionTool::outline);
        key(Qt::Key_Escape);
        QCOMPARE(tools().tool(), RegionTool::none);
        QVERIFY(regionList().empty());
        const double focus = project().focusDistanceAt(40);
        click(340, 150); // and the focus tool is back
        QVERIFY(project().focusDistanceAt(40) != focus);
    }

    void pointsAreDraggedAddedTurnedAndDeleted()
    {
        openDemo();
        drawGuard();
        const auto points = [&] { return regionList().front().area.pieces().front().outline.front().points; };
        QCOMPARE(points().size(), std::size_t(4));
        stroke({280, 60}, {250, 40});
        QVERIFY(std::abs(points()[0].at.x - 250.5) < 1.5 && std::abs(points()[0].at.y - 40.5) < 1.5);
        const int steps = document().undoStack().count();
        stroke({380, 60}, {400, 50});
        QCOMPARE(document().undoStack().count(), steps + 1); // one drag, one step
        // A double click on a side adds a point, on a point makes it smooth.
        QTest::mouseDClick(&view(), Qt::LeftButton, {}, view().viewPoint(330, 200));
        QCOMPARE(points().size(), std::size_t(5));
        QTest::mouseDClick(&view(), Qt::LeftButton, {}, view().viewPoint(280, 200));
        QCOMPARE(points().back().turn, regions::Turn::smooth);
        click(330, 200);
        key(Qt::Key_Delete);
        QCOMPARE(points().size(), std::size_t(4));
        // Inside, all of it moves.
        settle();
        stroke({330, 120}, {350, 130});
        QVERIFY(std::abs(regionList().front().moveX - 20.0) < 2.0 &&
                std::abs(regionList().front().moveY - 10.0) < 2.0);
        key(Qt::Key_Return);
        QCOMPARE(tools().tool(), RegionTool::none);
    }

    void aGuardIsPaintedStrokeByStroke()
    {
        openDemo();
        const double radius = tools().brush().radiusPx;
        key(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(tools().tool(), RegionTool::brush);
        key(Qt::Key_BracketLeft);
        QVERIFY(tools().brush().radiusPx < radius);
        QVERIFY(field("brushSize").isVisible());
        typeInto(field("brushSize"), QStringLiteral("30 px"));
        typeInto(field("brushSoftness"), QStringLiteral("50 %"));
        QCOMPARE(tools().brush().radiusPx, 30.0);
        stroke({320, 80}, {340, 180});
        settle();
        QCOMPARE(regionList().size(), std::size_t(1));
        stroke({420, 80}, {420, 180});
        settle();
        const auto strokes = [&] { return regionList().front().area.pieces().front().strokes; };
        QCOMPARE(strokes().size(), std::size_t(2));
        QCOMPARE(strokes()[1].radiusPx, 30.0);
        QVERIFY(tools().area().at(420, 120) > 0.99F && tools().area().at(380, 120) < 0.5F);
        QVERIFY(std::abs(shown(420, 120) - source(420, 120)) < 1e-4F);
        press(child<QCheckBox>("brushErases"), QPoint(8, 8));
        stroke({420, 60}, {420, 200});
        settle();
        QVERIFY(tools().area().at(420, 120) < 0.01F);
        key(Qt::Key_Z, Qt::ControlModifier); // one stroke, one step
        settle();
        QCOMPARE(strokes().size(), std::size_t(2));
        press(child<QCheckBox>("brushErases"), QPoint(8, 8));
    }

    void aPatchFlattensWhatIsUnderItInEveryView()
    {
        openDemo();
        key(Qt::Key_P);
        for (const auto& [x, y] : {std::pair{60, 230}, {240, 230}, {240, 340}, {60, 340}})
            click(x, y, Qt::ControlModifier);
        key(Qt::Key_Return);
        settle();
        const auto at = [&](int x, int y) { return view().picture().passes->distance().at(x, y); };
        QVERIFY2(view().picture().passes, qPrintable(message()));
        QCOMPARE(at(80, 250), at(220, 330));
        QVERIFY(at(300, 330) != at(220, 330));
        QTest::mouseMove(&view(), view().viewPoint(100, 300));
        auto* probe = child<ProbeLine>("probeLine");
        QTRY_VERIFY2(probe->text().startsWith("x y 100 300"), qPrintable(probe->text()));
        QVERIFY2(probe->text().contains(QString::fromStdString(optics::formatDistance(
                     project().metres(static_cast<double>(at(80, 250))), project().unit))),
                 qPrintable(probe->text()));
        // A number in its place, and a subject's.
        auto* patch = child<QComboBox>("regionPatch");
        QCOMPARE(patch->currentIndex(), static_cast<int>(regions::PatchKind::median));
        patch->setFocus();
        QTest::keyClick(patch, Qt::Key_Up);
        QTest::keyClick(patch, Qt::Key_Up);
        settle();
        QCOMPARE(regionList().front().patch, regions::PatchKind::number);
        typeInto(field("regions/distance"), QStringLiteral("1.5 m"));
        settle();
        QCOMPARE(at(80, 250), 1.5F);
        QTest::keyClick(patch, Qt::Key_Down);
        settle();
        QCOMPARE(regionList().front().patch, regions::PatchKind::subject);
        const auto* subject = project().subjectNamed(regionList().front().subject);
        QVERIFY(subject && timeline::distanceAt(*subject, 40));
        QCOMPARE(static_cast<double>(at(80, 250)),
                 static_cast<double>(static_cast<float>(*timeline::distanceAt(*subject, 40))));
    }

    void aRegionFollowsASubjectAndHasMarks()
    {
        openDemo();
        drawGuard();
        // By the menu of the section.
        QMenu* menu = child<QToolButton>("regionFollows")->menu();
        emit menu->aboutToShow();
        QVERIFY(!menu->actions().isEmpty());
        QAction* first = menu->actions().front();
        first->trigger();
        QCOMPARE(QString::fromStdString(regionList().front().follows), first->text());
        QCOMPARE(regionList().front().followsFrom, 40);
        settle();
        const float inside = tools().area().at(330, 120);
        document().setFrame(26);
        settle();
        const auto placedNow = [&](int frame) {
            return frame::regionPlacement(*document().source(), project(), regionList().front(),
                                          frame)({0, 0});
        };
        QCOMPARE(inside, 1.0F);
        QVERIFY(std::hypot(placedNow(26).x, placedNow(26).y) > 1.0); // the camera has moved
        QVERIFY(std::hypot(placedNow(40).x, placedNow(40).y) < 1e-6);
        // Marks: a change between them adds one, and the desk's lanes have a row.
        document().setMarkHere(regionPath(regionList().front().id, "share"));
        document().setFrame(30);
        typeInto(field("regions/share"), QStringLiteral("50 %"));
        const auto path = regionPath(regionList().front().id, "share");
        QCOMPARE(document().marks(path).size(), std::size_t(2));
        document().setFrame(28);
        QVERIFY(std::abs(regionList().front().share - 0.25) < 1e-6);
        QVERIFY(child<QWidget>("markLanes")->isVisible());
        // Deleted with its marks, and both come back.
        press(child<QPushButton>("deleteRegion"));
        QVERIFY(regionList().empty());
        QVERIFY(document().shot().tracks.find(path) == document().shot().tracks.end());
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(document().marks(path).size(), std::size_t(2));
    }

    void aPointIsBoundToASubjectByItsMenu()
    {
        openDemo();
        drawGuard();
        const std::string subject = project().subjects.front().name;
        QTimer::singleShot(200, this, [&] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (!menu) qFatal("no menu");
            for (QAction* action : menu->actions())
                if (action->menu())
                    for (QAction* each : action->menu()->actions())
                        if (each->text().toStdString() == subject) each->trigger();
            menu->close();
        });
        const QPoint at = view().viewPoint(380, 200);
        QContextMenuEvent event(QContextMenuEvent::Mouse, at, view().mapToGlobal(at));
        QApplication::sendEvent(&view(), &event);
        const auto& points = regionList().front().area.pieces().front().outline.front().points;
        QCOMPARE(points[2].subject, subject);
        const auto scene = frame::KeptFrames::of(*document().source()).scene(project().scene.file);
        const auto place = frame::seenPlace(project(), project().subjects.front(), 40, scene.get(), 640, 360);
        QVERIFY(place);
        const auto polygon = frame::placedRegion(*document().source(), project(), regionList().front(), 40)
                                 .pieces.front()
                                 .polygon;
        QVERIFY(std::ranges::any_of(
            polygon, [&](const auto& p) { return std::hypot(p.x - place->x, p.y - place->y) < 1e-6; }));
    }

    void aRampIsDraggedByItsEnds()
    {
        openDemo();
        addEntry(QStringLiteral("Whole picture"))->trigger();
        auto* patch = child<QComboBox>("regionPatch");
        for (int i = 0; i < static_cast<int>(regions::PatchKind::ramp); ++i)
            QTest::keyClick(patch, Qt::Key_Down);
        settle();
        key(Qt::Key_E);
        const regions::Region before = regionList().front();
        stroke({static_cast<int>(before.rampX2), static_cast<int>(before.rampY2)}, {400, 60});
        QVERIFY(std::abs(regionList().front().rampX2 - 400.0) < 2.0);
        QVERIFY(std::abs(regionList().front().rampY2 - 60.0) < 2.0);
        QCOMPARE(regionList().front().rampX1, before.rampX1);
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(regionList().front().rampX2, before.rampX2);
    }

    void regionsAreListedSwitchedNamedAndShownAlone()
    {
        openDemo();
        drawGuard();
        key(Qt::Key_Return);
        addEntry(QStringLiteral("Whole picture"))->trigger();
        settle();
        QCOMPARE(regionList().size(), std::size_t(2));
        typeInto(field("regions/addedPx"), QStringLiteral("6"));
        settle();
        auto* list = child<QListWidget>("regions");
        QCOMPARE(list->count(), 2);
        QVERIFY(std::abs(shown(345, 110) - source(345, 110)) > 1e-3F); // order: blurred after it was guarded
        list->item(1)->setCheckState(Qt::Unchecked);
        QTRY_VERIFY(!regionList()[1].isOn);
        settle();
        QVERIFY(std::abs(shown(345, 110) - source(345, 110)) < 1e-4F);
        list->setCurrentRow(0);
        QCOMPARE(tools().chosen(), regionList()[0].id);
        list->editItem(list->item(0));
        auto* editor = list->findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, QStringLiteral("petals"));
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_COMPARE(regionList()[0].name, std::string("petals"));
        view().setFocus();
        QTest::keyPress(&view(), Qt::Key_A);
        settle();
        QVERIFY(tools().isAlone());
        const QImage alone = view().grab().toImage();
        QCOMPARE(alone.pixelColor(view().viewPoint(330, 120)), QColor(255, 255, 255));
        QCOMPARE(alone.pixelColor(view().viewPoint(100, 120)), QColor(0, 0, 0));
        QTest::keyRelease(&view(), Qt::Key_A);
        QVERIFY(!tools().isAlone());
    }

    void aMatteIsAddedAndTakenAway()
    {
        openDemo();
        QMenu* mattes = addEntry(QStringLiteral("Matte"))->menu();
        QVERIFY(mattes);
        for (QAction* action : mattes->actions())
            if (action->text() == "orchids") action->trigger();
        settle();
        QCOMPARE(regionList().size(), std::size_t(1));
        const Plane<float> all = tools().area();
        QVERIFY(!all.empty() || !tools().isShown());
        key(Qt::Key_G, Qt::ShiftModifier); // regions in the picture
        settle();
        double sum = 0.0;
        for (const float c : tools().area().pixels())
            sum += static_cast<double>(c);
        QVERIFY(sum > 500.0);
        child<QComboBox>("regionJoining")->setCurrentIndex(2); // taken from it
        addEntry(QStringLiteral("Box"))->trigger();
        stroke({20, 20}, {620, 340});
        settle();
        QCOMPARE(regionList().front().area.pieces().size(), std::size_t(2));
        double left = 0.0;
        for (const float c : tools().area().pixels())
            left += static_cast<double>(c);
        QVERIFY(left < 0.2 * sum);
        key(Qt::Key_G, Qt::ShiftModifier);
    }

    void depthIsMadeByHand()
    {
        const auto grey = [](int x, int) { return 0.01F * static_cast<float>(x % 64); };
        test::writeChannels(m_dir.filePath("colour.exr").toStdString(), 320, 240,
                            {{"R", true, grey},
                             {"G", true, [](int, int y) { return 0.003F * static_cast<float>(y); }},
                             {"B", true, [](int, int) { return 0.3F; }}});
        drop({m_dir.filePath("colour.exr")});
        QVERIFY(document().isOpen());
        QVERIFY2(message().contains("colour.exr") && message().contains("everything lies at 10.00 m"),
                 qPrintable(message()));
        const auto at = [&](int x, int y) { return view().picture().passes->distance().at(x, y); };
        QCOMPARE(at(5, 5), 10.0F);
        addEntry(QStringLiteral("Whole picture"))->trigger();
        auto* patch = child<QComboBox>("regionPatch");
        patch->setFocus();
        for (int i = 0; i < static_cast<int>(regions::PatchKind::ramp); ++i)
            QTest::keyClick(patch, Qt::Key_Down);
        settle();
        QCOMPARE(regionList().front().patch, regions::PatchKind::ramp);
        typeInto(field("regions/ramp/distance1"), QStringLiteral("1 m"));
        typeInto(field("regions/ramp/distance2"), QStringLiteral("20 m"));
        settle();
        QVERIFY(at(160, 235) < 1.1F && at(160, 90) > 10.0F && std::isfinite(at(160, 90)));
        // Saved and opened again it is still made by hand.
        answerFileDialog(m_dir.filePath("byhand.retinex"));
        key(Qt::Key_S, Qt::ControlModifier);
        const float before = at(160, 200);
        drop({m_dir.filePath("byhand.retinex")});
        QCOMPARE(at(160, 200), before);
    }
};

QTEST_MAIN(TestWindowRegions)
#include "test_window_regions.moc"
