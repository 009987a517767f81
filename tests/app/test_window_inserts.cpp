// Backdrop and inserts by mouse and keys in the real window: added, placed by handles, set, ordered, undone.
#include "app/sheet/inserts_panel.h"
#include "window_driver.h"

using namespace retinex;
using namespace retinex::app;

class TestWindowInserts : public test::WindowDriver
{
    Q_OBJECT

    PictureView& view() { return m_window->picture(); }
    PlacingTool& tools() { return view().inserts(); }
    const std::vector<inserts::Insert>& inserts() { return document().values().inserts; }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = {}) { QTest::keyClick(&view(), key, modifiers); }
    QPoint seen(const inserts::Point& at)
    {
        return view().viewPoint(static_cast<int>(std::lround(at.x)), static_cast<int>(std::lround(at.y)));
    }
    float shown(int x, int y, int channel = 2) { return view().picture().values->plane(channel).at(x, y); }
    void openDemo()
    {
        m_window->openAsCopy(QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"));
        settle();
        document().setFrame(40);
        settle();
        view().setFocus();
    }
    void addPicture(const char* file, Qt::KeyboardModifiers modifiers = {})
    {
        answerFileDialog(QStringLiteral(RETINEX_DEMO) + QLatin1Char('/') + QLatin1String(file));
        key(Qt::Key_N, modifiers);
        backToTheWindow();
    }
    /// No window manager is there to do it once a dialog is closed.
    void backToTheWindow()
    {
        m_window->activateWindow();
        view().setFocus();
        settle();
    }
    void choose(const char* box, int index)
    {
        auto* chooser = child<QComboBox>(box);
        QVERIFY2(chooser->isVisibleTo(m_window.get()), box);
        chooser->setCurrentIndex(index);
        emit chooser->activated(index);
        settle();
    }

private slots:
    // A backdrop goes where the scene is open, and is undone.
    void aBackdropIsAddedBehindTheScene()
    {
        openDemo();
        const float open = shown(300, 20);
        const float pot = shown(330, 320);
        addPicture("night_sky.exr", Qt::ShiftModifier);
        QCOMPARE(inserts().size(), std::size_t(1));
        QVERIFY(inserts().front().isBackdrop());
        QVERIFY(shown(300, 20) > open + 0.02F);
        QVERIFY(std::abs(shown(330, 320) - pot) < 1e-3F);
        auto* list = child<QListWidget>("inserts");
        QVERIFY2(list->item(0)->text() == "backdrop  infinitely far", qPrintable(list->item(0)->text()));
        QVERIFY(!field("inserts/widthPx").isVisibleTo(m_window.get()));
        QVERIFY(field("inserts/size").isVisibleTo(m_window.get()));
        const float before = shown(300, 20);
        typeInto(field("inserts/exposureStops"), QStringLiteral("2"));
        settle();
        QVERIFY(shown(300, 20) > 2.0F * before);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("set backdrop: exposure"));
        list->item(0)->setCheckState(Qt::Unchecked);
        QTRY_VERIFY(!inserts().front().isOn);
        settle();
        QCOMPARE(shown(300, 20), open);
        for (int i = 0; i < 3; ++i)
            key(Qt::Key_Z, Qt::ControlModifier);
        settle();
        QVERIFY(inserts().empty());
        QCOMPARE(shown(300, 20), open);
        QVERIFY(!list->isVisible());
    }

    // Upright: handles resize about the opposite corner, the inside moves, the knob turns.
    void anInsertIsPlacedByItsHandles()
    {
        openDemo();
        addPicture("soil.exr");
        QVERIFY(tools().isPlacing());
        QCOMPARE(inserts().front().moveX, 320.0);
        QCOMPARE(inserts().front().widthPx, 320.0);
        QCOMPARE(inserts().front().distance, document().values().focusDistance);
        const auto before = *tools().corners();
        drag(&view(), seen(before[2]), seen({before[2].x - 80.0, before[2].y - 80.0}));
        settle();
        QVERIFY(std::abs(inserts().front().widthPx - 240.0) < 3.0);
        const auto smaller = *tools().corners();
        QVERIFY(std::hypot(smaller[0].x - before[0].x, smaller[0].y - before[0].y) < 1.0); // stays
        const double focus = document().values().focusDistance;
        drag(&view(), seen({inserts().front().moveX, inserts().front().moveY}),
             seen({inserts().front().moveX + 60.0, inserts().front().moveY}));
        settle();
        QVERIFY(std::abs((*tools().corners())[0].x - smaller[0].x - 60.0) < 3.0);
        QCOMPARE(document().values().focusDistance, focus); // the click was for the handles
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("place soil"));
        key(Qt::Key_Z, Qt::ControlModifier);
        key(Qt::Key_Z, Qt::ControlModifier);
        settle();
        QCOMPARE((*tools().corners())[2].x, before[2].x);
        // Beside it nothing happens; Escape leaves, and the mouse is for focus again.
        QTest::mouseClick(&view(), Qt::LeftButton, {}, seen({20, 340}));
        QCOMPARE(document().values().focusDistance, focus);
        key(Qt::Key_Escape);
        QVERIFY(!tools().isPlacing());
        QTest::mouseClick(&view(), Qt::LeftButton, {}, seen({320, 330}));
        settle();
        QVERIFY(document().values().focusDistance != focus);
    }

    // A mask is painted onto it, without a region; it is seen only there.
    void aMaskIsPaintedDirectly()
    {
        openDemo();
        addPicture("soil.exr");
        const auto at = [&](double x, double y) {
            const auto corners = *tools().corners();
            return inserts::Point{corners[0].x + x * (corners[2].x - corners[0].x),
                                  corners[0].y + y * (corners[2].y - corners[0].y)};
        };
        const auto shown = [&](const inserts::Point& p) {
            return view().picture().values->plane(1).at(static_cast<int>(p.x), static_cast<int>(p.y));
        };
        settle();
        const inserts::Point left = at(0.25, 0.5);
        const inserts::Point right = at(0.85, 0.5);
        const float before = shown(left);
        const float beforeRight = shown(right);
        key(Qt::Key_M, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(view().regions().tool(), RegionTool::brush);
        drag(&view(), seen(at(0.15, 0.5)), seen(at(0.35, 0.5)));
        settle();
        QVERIFY(document().values().regions.empty());
        QCOMPARE(inserts().front().mask.pieces().size(), std::size_t(1));
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("paint mask"));
        QVERIFY(std::abs(shown(left) - before) < 0.02F);
        QVERIFY(std::abs(shown(right) - beforeRight) > 0.005F); // it is not there any more
        drag(&view(), seen(at(0.7, 0.4)), seen(at(0.95, 0.6)));
        settle();
        QCOMPARE(inserts().front().mask.pieces().front().strokes.size(), std::size_t(2));
        QVERIFY(std::abs(shown(right) - beforeRight) < 0.02F);
        key(Qt::Key_Return);
        QCOMPARE(view().regions().tool(), RegionTool::none);
        key(Qt::Key_Z, Qt::ControlModifier);
        key(Qt::Key_Z, Qt::ControlModifier);
        settle();
        QVERIFY(inserts().front().mask.pieces().empty());
    }

    // Laid in another way it stays where it was; and handles that lie outside come into the view.
    void itStaysWhereItWasHoweverItIsLaidIn()
    {
        openDemo();
        addPicture("soil.exr");
        typeInto(field("inserts/turnDeg"), QStringLiteral("17"));
        settle();
        const auto upright = *tools().corners();
        const auto isThere = [&] {
            const auto now = *tools().corners();
            for (std::size_t i = 0; i < 4; ++i)
                if (std::hypot(now[i].x - upright[i].x, now[i].y - upright[i].y) > 0.01) return false;
            return true;
        };
        const int steps = document().undoStack().count();
        choose("inserts/placing", 2);
        QVERIFY(isThere());
        QCOMPARE(document().undoStack().count(), steps + 1);
        choose("inserts/placing", 1);
        QVERIFY(isThere());
        choose("inserts/placing", 2);
        QTest::keyClick(&view(), Qt::Key_Escape);
        view().oneToOne();
        typeInto(field("inserts/corners/x1"), QStringLiteral("-500"));
        settle();
        QVERIFY(!view().rect().contains(seen((*tools().corners())[0])));
        view().setFocus();
        key(Qt::Key_H);
        QVERIFY(tools().isPlacing());
        for (const auto& corner : *tools().corners())
            QVERIFY(view().rect().contains(seen(corner)));
    }

    // By corners: each is dragged by itself, snaps to the frame, and has marks.
    void cornersAreDraggedOneByOne()
    {
        openDemo();
        addPicture("soil.exr");
        choose("inserts/placing", 2);
        QVERIFY(field("inserts/corners/x1").isVisibleTo(m_window.get()));
        const auto before = *tools().corners();
        drag(&view(), seen(before[1]), seen({before[1].x + 30.0, before[1].y - 40.0}));
        settle();
        const auto after = *tools().corners();
        QVERIFY(std::abs(after[1].x - before[1].x - 30.0) < 2.0 &&
                std::abs(after[1].y - before[1].y + 40.0) < 2.0);
        QCOMPARE(after[0].x, before[0].x);
        QCOMPARE(after[2].y, before[2].y);
        drag(&view(), seen(after[0]), seen({2.0, 1.0})); // near the frame's corner
        settle();
        QCOMPARE((*tools().corners())[0].x, 0.0);
        QCOMPARE((*tools().corners())[0].y, 0.0);
        // A mark here, another place there: it moves in between.
        document().setMarkHere("inserts/1/corners/x3");
        document().setFrame(30);
        settle();
        drag(&view(), seen((*tools().corners())[2]), seen({360.0, 300.0}));
        settle();
        QCOMPARE(document().marks("inserts/1/corners/x3").size(), std::size_t(2));
        document().setFrame(35);
        settle();
        const double between = inserts().front().corners[2].x;
        QVERIFY(between > std::min(360.0, before[2].x) - 2.0 && between < std::max(360.0, before[2].x) + 2.0);
        // Corners that cross are said, with its name, and undone nothing is lost.
        document().setFrame(40);
        settle();
        const auto whole = *tools().corners();
        drag(&view(), seen(whole[1]), seen({whole[3].x - 60.0, whole[3].y + 40.0}));
        settle();
        auto* fault = child<QLabel>("insertFault");
        QVERIFY2(fault->isVisible() && fault->text().contains("corners that cross"),
                 qPrintable(fault->text()));
        view().setFocus();
        key(Qt::Key_Z, Qt::ControlModifier);
        settle();
        QCOMPARE((*tools().corners())[1].x, whole[1].x);
        QVERIFY(!fault->isVisible());
        key(Qt::Key_Escape);
    }

    void placesAreTypedInPixelsOrShares()
    {
        openDemo();
        addPicture("soil.exr");
        typeInto(field("inserts/widthPx"), QStringLiteral("25%"));
        QCOMPARE(inserts().front().widthPx, 0.25 * document().source()->width());
        typeInto(field("inserts/moveY"), QStringLiteral("75 %"));
        QCOMPARE(inserts().front().moveY, 0.75 * document().source()->height());
        typeInto(field("inserts/moveX"), QStringLiteral("100"));
        QCOMPARE(inserts().front().moveX, 100.0);
        settle();
    }

    // A backdrop that is a render itself stands among the scene's things.
    void aBackdropHasItsOwnDepth()
    {
        openDemo();
        addPicture("greenhouse.0001.exr", Qt::ShiftModifier);
        auto* depth = child<QToolButton>("insertDepthFile");
        QCOMPARE(depth->text(), QStringLiteral("none"));
        emit depth->menu()->aboutToShow();
        depth->menu()->actions().at(1)->trigger();
        settle();
        QCOMPARE(inserts().front().depthFile, inserts().front().file);
        QCOMPARE(depth->text(), QStringLiteral("in its own file"));
        QVERIFY(!child<QComboBox>("inserts/distanceFrom")->isVisibleTo(m_window.get()));
        QVERIFY2(!child<QWidget>("messageText")->isVisible(), qPrintable(message()));
        key(Qt::Key_Z, Qt::ControlModifier);
        settle();
        QVERIFY(inserts().front().depthFile.empty());
    }

    // No colour pass: pictures before a camera.
    void picturesAloneAreAProject()
    {
        answerFileDialog(QStringLiteral("\"" RETINEX_DEMO "/soil.exr\" \"" RETINEX_DEMO "/night_sky.exr\""));
        QTimer::singleShot(1200, this, [] {
            auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
            if (!dialog || dialog->objectName() != "emptyFrameDialog") qFatal("no dialog for the frame");
            dialog->findChild<QSpinBox*>(QStringLiteral("emptyWidth"))->setValue(320);
            dialog->findChild<QSpinBox*>(QStringLiteral("emptyHeight"))->setValue(200);
            dialog->findChild<QSpinBox*>(QStringLiteral("emptyLast"))->setValue(12);
            dialog->accept();
        });
        QTest::keyClick(m_window.get(), Qt::Key_N, Qt::ControlModifier);
        backToTheWindow();
        QCOMPARE(inserts().size(), std::size_t(2));
        QCOMPARE(project().lastFrame, 12);
        QCOMPARE(document().source()->width(), 320);
        QCOMPARE(document().title(), QStringLiteral("untitled"));
        QCOMPARE(view().picture().passes->distance().at(160, 100), 2.0F);
        QVERIFY(shown(160, 100, 3) > 0.0F);
        QCOMPARE(shown(2, 2, 3), 0.0F);
        // Saved and opened again it is the same.
        const QString file = m_dir.filePath(QStringLiteral("hung.retinex"));
        answerFileDialog(file);
        key(Qt::Key_S, Qt::ControlModifier);
        backToTheWindow();
        const auto before = project();
        m_window->open({file});
        settle();
        QVERIFY(project().base() == before.base());
        QCOMPARE(project().lastFrame, 12);
    }

    void distanceBlendAndHoldingOut()
    {
        openDemo();
        addPicture("soil.exr");
        key(Qt::Key_Escape);
        const auto& passes = [this]() -> const passes::FramePasses& { return *view().picture().passes; };
        const float flat = passes().distance().at(320, 200);
        QCOMPARE(flat, static_cast<float>(inserts().front().distance));
        typeInto(field("inserts/distance"), QStringLiteral("1.2"));
        settle();
        QCOMPARE(passes().distance().at(320, 200), 1.2F);
        choose("inserts/distanceFrom", 4);
        QVERIFY(!field("inserts/distance").isVisibleTo(m_window.get()));
        QVERIFY(passes().distance().at(320, 200) != 1.2F); // that of what is below
        choose("inserts/blend", 1);
        QVERIFY(!child<QComboBox>("inserts/distanceFrom")->isVisibleTo(m_window.get()));
        QVERIFY(child<QComboBox>("inserts/blendScale")->isVisibleTo(m_window.get()));
        const float multiplied = shown(320, 230, 0);
        typeInto(field("inserts/opacity"), QStringLiteral("0"));
        settle();
        QVERIFY(shown(320, 230, 0) != multiplied);
        // Held out by a matte.
        typeInto(field("inserts/opacity"), QStringLiteral("100"));
        auto* heldOut = child<QToolButton>("insertHeldOut");
        emit heldOut->menu()->aboutToShow();
        for (QAction* action : heldOut->menu()->actions())
            if (action->text() == "orchids") action->trigger();
        settle();
        QCOMPARE(inserts().front().heldOutBy, std::string("orchids"));
        QCOMPARE(heldOut->text(), QStringLiteral("orchids"));
    }

    void insertsAreOrderedNamedAndDeleted()
    {
        openDemo();
        addPicture("soil.exr");
        addPicture("night_sky.exr");
        key(Qt::Key_Escape);
        QCOMPARE(inserts()[0].name, std::string("night_sky")); // the last is on top
        auto* list = child<QListWidget>("inserts");
        list->setFocus();
        list->setCurrentRow(0);
        QTest::keyClick(list, Qt::Key_Down, Qt::AltModifier);
        settle();
        QCOMPARE(inserts()[0].name, std::string("soil"));
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("reorder inserts"));
        list->setCurrentRow(0);
        list->editItem(list->item(0));
        auto* editor = list->findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, QStringLiteral("earth"));
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_COMPARE(inserts()[0].name, std::string("earth"));
        press(child<QPushButton>("deleteInsert"));
        settle();
        QCOMPARE(inserts().size(), std::size_t(1));
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(inserts().size(), std::size_t(2));
    }

    // A file that is gone is said, with its name; the picture before stays.
    void aMissingFileIsSaid()
    {
        openDemo();
        const QString file = m_dir.filePath("gone.exr");
        QVERIFY(QFile::copy(QStringLiteral(RETINEX_DEMO "/soil.exr"), file));
        answerFileDialog(file);
        key(Qt::Key_N);
        backToTheWindow();
        QVERIFY(QFile::remove(file));
        document().source()->forgetFrames();
        typeInto(field("inserts/opacity"), QStringLiteral("90"));
        QTRY_VERIFY2(message().contains("gone.exr"), qPrintable(message()));
    }
};

QTEST_MAIN(TestWindowInserts)
#include "test_window_inserts.moc"
