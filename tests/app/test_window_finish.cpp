// Finish by mouse and keys in the real window: steps, a curve that is dragged, grey that is picked, undo; and
// that no lens runs for it.
#include "app/finish/finish_panel.h"
#include "core/project/file/preset_file.h"
#include "core/project/shots.h"
#include "core/system/error.h"
#include "window_driver.h"

#include <QMenu>
#include <QScrollArea>

using namespace retinex;
using namespace retinex::app;

class TestWindowFinish : public test::WindowDriver
{
    Q_OBJECT

    PictureView& view() { return m_window->picture(); }
    const finish::Finish& finish() { return document().values().finish; }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = {}) { QTest::keyClick(&view(), key, modifiers); }
    float shown(int x, int y, int channel = 1)
    {
        const auto place = view().picture().placeOf(x, y);
        return view().picture().values->plane(channel).at(place->x(), place->y());
    }
    int lensRuns() { return m_window->lensPictures().runs(); }
    void openDemo()
    {
        m_window->openAsCopy(QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"));
        settle();
        document().setFrame(40);
        settle();
        view().setFocus();
    }
    void unfoldAll()
    {
        for (const char* step : {"finishSection", "glowStep", "fringingStep", "vignetteStep", "gradeStep",
                                 "curvesStep", "tonesStep", "cdlStep", "lookStep", "grainStep", "plateStep"})
            for (auto* section : m_window->findChildren<Section*>())
                if (section->objectName() == QLatin1String(step)) section->setFolded(false);
        QTest::qWait(80); // laid out
    }

private slots:
    // Any of them changes the picture and runs no lens; the lens's own changes run it.
    void noStepRunsTheLens()
    {
        openDemo();
        unfoldAll();
        const float before = shown(320, 300);
        const int runs = lensRuns();
        QVERIFY(runs > 0);
        typeInto(field("finish/grade/exposureStops"), QStringLiteral("1"));
        settle();
        QVERIFY(std::abs(shown(320, 300) / before - 2.0F) < 0.01F);
        typeInto(field("finish/fringing/cornerPx"), QStringLiteral("2"));
        settle();
        typeInto(field("finish/vignette/stops"), QStringLiteral("1"));
        settle();
        typeInto(field("finish/grain/amount"), QStringLiteral("2"));
        settle();
        QCOMPARE(finish().grain.amount, 0.02);
        QCOMPARE(finish().fringing.cornerPx, 2.0);
        // One more at the most, for more of the picture than is seen: fringing takes from around it.
        QVERIFY2(lensRuns() - runs <= 2, qPrintable(QString::number(lensRuns() - runs)));
        const int all = lensRuns();
        for (int i = 0; i < 4; ++i)
            key(Qt::Key_Z, Qt::ControlModifier);
        settle();
        QCOMPARE(shown(320, 300), before);
        QCOMPARE(lensRuns(), all);
        typeInto(field("lens/fStop"), QStringLiteral("8"));
        settle();
        QVERIFY(lensRuns() > all);
    }

    void theWholeIsSwitchedAndLookedPast()
    {
        openDemo();
        unfoldAll();
        const float plain = shown(320, 300);
        typeInto(field("finish/grade/exposureStops"), QStringLiteral("2"));
        settle();
        const float graded = shown(320, 300);
        // Q: to look at only; the project stays as it is.
        view().setFocus();
        key(Qt::Key_Q);
        settle();
        QCOMPARE(shown(320, 300), plain);
        QCOMPARE(finish().grade.exposureStops, 2.0);
        key(Qt::Key_Q);
        settle();
        QCOMPARE(shown(320, 300), graded);
        auto* whole = child<QCheckBox>("finish/on");
        press(whole, QPoint(8, whole->height() / 2));
        settle();
        QVERIFY(!finish().isOn);
        QCOMPARE(shown(320, 300), plain);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("switch off finish"));
        document().undoStack().undo();
        auto* grade = child<QCheckBox>("finish/grade/on");
        press(grade, QPoint(8, grade->height() / 2));
        settle();
        QCOMPARE(shown(320, 300), plain);
        document().undoStack().undo();
        typeInto(field("finish/mix"), QStringLiteral("50"));
        settle();
        QVERIFY(std::abs(shown(320, 300) - 0.5F * (plain + graded)) < 1e-4F);
        // A side of a comparison.
        auto* second = child<QComboBox>("compareSecond");
        QCOMPARE(second->itemText(2), QStringLiteral("Without finish"));
        second->setCurrentIndex(2);
        emit second->activated(2);
        press(child<QToolButton>("compareWipe"));
        settle();
        QTRY_VERIFY(!view().comparison().other.image.isNull());
        QVERIFY(view().comparison().other.image != view().picture().image);
    }

    void aCurveIsDragged()
    {
        openDemo();
        unfoldAll();
        auto& curve = *child<CurveEditor>("curve");
        curve.ensurePolished();
        child<QScrollArea>("sheetArea")->ensureWidgetVisible(&curve);
        QTest::qWait(20);
        const float before = shown(320, 300);
        // A press on the line and a drag upwards: brighter.
        drag(&curve, curve.placeOf(0.0, 0.0).toPoint(), curve.placeOf(0.0, 2.0).toPoint());
        settle();
        QCOMPARE(finish().grade.curve.size(), std::size_t(3)); // its ends and the point
        QVERIFY2(std::abs(finish().grade.curve[1].second - 2.0) < 0.2,
                 qPrintable(QString::number(finish().grade.curve[1].second)));
        QVERIFY(shown(320, 300) > 1.2F * before);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("change curve"));
        // It cannot pass its neighbours.
        drag(&curve, curve.placeOf(finish().grade.curve[1].first, finish().grade.curve[1].second).toPoint(),
             curve.placeOf(7.9, -7.9).toPoint());
        settle();
        QVERIFY(finish().grade.curve[1].first < finish().grade.curve[2].first);
        QVERIFY(finish().grade.curve[1].second >= finish().grade.curve[0].second);
        document().undoStack().undo();
        settle();
        QVERIFY(std::abs(finish().grade.curve[1].second - 2.0) < 0.2);
        // Keys, and away again.
        QTest::mouseClick(
            &curve, Qt::LeftButton, {},
            curve.placeOf(finish().grade.curve[1].first, finish().grade.curve[1].second).toPoint());
        const double was = finish().grade.curve[1].second;
        QTest::keyClick(&curve, Qt::Key_Down);
        QVERIFY(std::abs(finish().grade.curve[1].second - was + 0.1) < 1e-9);
        QTest::keyClick(&curve, Qt::Key_Delete);
        QCOMPARE(finish().grade.curve.size(), std::size_t(2));
        press(child<QPushButton>("straightCurve"));
        settle();
        QVERIFY(finish().grade.curve.empty());
        QCOMPARE(shown(320, 300), before);
        // The other curves are their own.
        auto* which = child<QComboBox>("whichCurve");
        which->setCurrentIndex(3);
        drag(&curve, curve.placeOf(0.0, 0.0).toPoint(), curve.placeOf(0.0, 2.0).toPoint());
        QCOMPARE(finish().grade.blueCurve.size(), std::size_t(3));
        QVERIFY(finish().grade.curve.empty());
        settle();
    }

    void greyIsPicked()
    {
        openDemo();
        unfoldAll();
        auto* pick = child<QPushButton>("pickWhite");
        child<QScrollArea>("sheetArea")->ensureWidgetVisible(pick);
        press(pick);
        QCOMPARE(view().tool(), PictureTool::white);
        const double focus = document().values().focusDistance;
        const int x = 330;
        const int y = 320; // terracotta
        QVERIFY(shown(x, y, 0) > 1.2F * shown(x, y, 2));
        QTest::mouseClick(&view(), Qt::LeftButton, {}, view().viewPoint(x, y));
        settle();
        QCOMPARE(document().values().focusDistance, focus);
        QCOMPARE(view().tool(), PictureTool::focus);
        QVERIFY(!pick->isChecked());
        QVERIFY(finish().grade.white.temperatureK < 5000.0);
        float sum[3] = {};
        for (int dy = -2; dy <= 2; ++dy)
            for (int dx = -2; dx <= 2; ++dx)
                for (int c = 0; c < 3; ++c)
                    sum[c] += shown(x + dx, y + dy, c);
        QVERIFY2(std::abs(sum[0] / sum[1] - 1.0F) < 0.02F && std::abs(sum[2] / sum[1] - 1.0F) < 0.02F,
                 qPrintable(QStringLiteral("%1 %2 %3")
                                .arg(static_cast<double>(sum[0]))
                                .arg(static_cast<double>(sum[1]))
                                .arg(static_cast<double>(sum[2]))));
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("pick grey"));
        document().undoStack().undo();
        QVERIFY(finish().grade.white.isNeutral());
        // Escape leaves it.
        press(pick);
        view().setFocus();
        key(Qt::Key_Escape);
        QCOMPARE(view().tool(), PictureTool::focus);
        QVERIFY(!pick->isChecked());
    }

    void furtherGlowsHaveNamesOfTheirOwn()
    {
        openDemo();
        unfoldAll();
        for (int i = 0; i < 4; ++i) {
            press(child<QToolButton>("add/glows"));
            settle();
        }
        std::vector<std::string> names;
        for (const auto& glow : document().values().glows)
            names.push_back(glow.name);
        QVERIFY((names == std::vector<std::string>{"wide", "tight", "glow 3", "glow 4"}));
    }

    void glowsAreAddedLimitedAndDeleted()
    {
        openDemo();
        unfoldAll();
        auto* add = child<QToolButton>("add/glows");
        press(add);
        settle();
        QCOMPARE(document().values().glows.size(), std::size_t(1));
        QCOMPARE(document().values().glows[0].name, std::string("wide"));
        typeInto(field("glows/amount"), QStringLiteral("300"));
        settle();
        QCOMPARE(document().values().glows[0].amount, 3.0);
        const float glowing = shown(320, 60);
        // Its level is shown in the picture.
        typeInto(field("glows/level"), QStringLiteral("0.5"));
        QVERIFY(view().brighter().isShown());
        QTRY_VERIFY(view().brighter().count() > 0);
        settle();
        QVERIFY(shown(320, 60) > glowing);
        // A mark.
        document().setMarkHere("glows/1/amount");
        QCOMPARE(document().marks("glows/1/amount").size(), std::size_t(1));
        // Only what a matte covers.
        auto* mattes = child<QToolButton>("glow/mattes");
        QCOMPARE(mattes->text(), QStringLiteral("everything"));
        emit mattes->menu()->aboutToShow();
        for (QAction* action : mattes->menu()->actions())
            if (action->text() == "orchids") action->trigger();
        settle();
        QCOMPARE(document().values().glows[0].mattes, std::string("orchids"));
        QVERIFY(shown(320, 60) < glowing);
        press(add);
        QCOMPARE(document().values().glows.size(), std::size_t(2));
        QCOMPARE(document().values().glows[1].name, std::string("tight"));
        settle();
        auto* list = child<QListWidget>("glows");
        list->setCurrentRow(0);
        press(child<QPushButton>("delete/glows"));
        QCOMPARE(document().values().glows.size(), std::size_t(1));
        QVERIFY(document().marks("glows/1/amount").empty());
        document().undoStack().undo();
        QCOMPARE(document().values().glows.size(), std::size_t(2));
        QCOMPARE(document().marks("glows/1/amount").size(), std::size_t(1));
        settle();
    }

    void looksComeFromFiles()
    {
        openDemo();
        unfoldAll();
        const QString file = m_dir.filePath(QStringLiteral("half.cube"));
        QFile cube(file);
        QVERIFY(cube.open(QIODevice::WriteOnly));
        cube.write("LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n");
        cube.close();
        const float before = shown(320, 300);
        answerFileDialog(file);
        auto* menu = child<QToolButton>("add/looks")->menu();
        emit menu->aboutToShow();
        menu->actions().front()->trigger();
        settle();
        QCOMPARE(document().values().looks.size(), std::size_t(1));
        QVERIFY(shown(320, 300) < 0.6F * before);
        typeInto(field("looks/strength"), QStringLiteral("0"));
        settle();
        QCOMPARE(shown(320, 300), before);
        // One that goes away is said; the picture comes back with it.
        typeInto(field("looks/strength"), QStringLiteral("100"));
        settle();
        QVERIFY(QFile::remove(file));
        typeInto(field("looks/strength"), QStringLiteral("90"));
        settle();
        QVERIFY2(message().contains("half.cube"), qPrintable(message()));
        typeInto(field("looks/strength"), QStringLiteral("0"));
        settle();
        QCOMPARE(shown(320, 300), before);
    }

    void cdlsGoInAndOut()
    {
        openDemo();
        unfoldAll();
        typeInto(field("finish/grade/cdl/slope/red"), QStringLiteral("1.25"));
        settle();
        const QString file = m_dir.filePath(QStringLiteral("warm.cc"));
        answerFileDialog(file);
        press(child<QPushButton>("saveCdl"));
        QTRY_VERIFY(QFile::exists(file));
        document().undoStack().undo();
        QVERIFY(finish().grade.cdl.isNeutral());
        m_window->activateWindow();
        answerFileDialog(file);
        press(child<QPushButton>("loadCdl"));
        QCOMPARE(finish().grade.cdl.slope[0], 1.25);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("load CDL"));
        settle();
    }

    // The scope holds what is on the screen.
    void theScopeFollowsThePicture()
    {
        openDemo();
        unfoldAll();
        auto& scope = *child<Scope>("scope");
        child<QScrollArea>("sheetArea")->ensureWidgetVisible(&scope);
        (void)scope.grab();
        const auto mean = [&] {
            double sum = 0.0;
            for (int i = 0; i < 256; ++i)
                sum += i * scope.histogram(1)[static_cast<std::size_t>(i)];
            return sum;
        };
        const double before = mean();
        QVERIFY(before > 5.0);
        typeInto(field("finish/grade/exposureStops"), QStringLiteral("2"));
        settle();
        (void)scope.grab();
        QVERIFY(mean() > 1.3 * before);
        QTest::mouseClick(&scope, Qt::LeftButton);
        QCOMPARE(scope.kind(), Scope::Kind::waveform);
        QVERIFY(!scope.grab().isNull());
    }

    // Kept in a file by one project, used by another; another kind is refused.
    void presetsGoFromProjectToProject()
    {
        openDemo();
        unfoldAll();
        typeInto(field("finish/grade/saturation"), QStringLiteral("20"));
        press(child<QToolButton>("add/glows"));
        settle();
        const auto trigger = [&](const char* text) {
            for (QAction* action : m_window->findChildren<QAction*>())
                if (action->text().remove(QLatin1Char('&')) == QString::fromUtf8(text)) {
                    action->trigger();
                    m_window->activateWindow();
                    settle();
                    return;
                }
            QFAIL(text);
        };
        const QString finishFile = m_dir.filePath(QStringLiteral("grey"));
        answerFileDialog(finishFile);
        trigger("Keep this finish…");
        QVERIFY(QFile::exists(finishFile + ".finish.json"));
        const QString lensFile = m_dir.filePath(QStringLiteral("portrait.lens.json"));
        answerFileDialog(lensFile);
        trigger("Keep as lens kit…");
        QVERIFY(QFile::exists(lensFile));
        const auto kept = document().values();
        document().undoStack().setIndex(0);
        settle();
        typeInto(field("lens/fStop"), QStringLiteral("16"));
        settle();
        QVERIFY(document().values().glows.empty());
        answerFileDialog(finishFile + ".finish.json");
        trigger("Use a kept finish…");
        QVERIFY(document().values().finish == kept.finish);
        QVERIFY(document().values().glows == kept.glows);
        QCOMPARE(document().values().fStop, 16.0);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("use kept finish"));
        answerFileDialog(lensFile);
        trigger("Use a lens kit…");
        QCOMPARE(document().values().fStop, kept.fStop);
        QCOMPARE(document().values().focusDistance, kept.focusDistance);
        project::Settings other;
        QVERIFY_EXCEPTION_THROWN(
            project::loadPreset(lensFile.toStdString(), project::PresetKind::finish, other), Error);
    }

    void itIsCopiedKeptAndSaved()
    {
        openDemo();
        unfoldAll();
        typeInto(field("finish/grade/saturation"), QStringLiteral("20"));
        press(child<QToolButton>("add/glows"));
        settle();
        project::Project copied = project();
        project::copySettings(copied, 1, 0, {project::Group::finish});
        QVERIFY(copied.shots[0].settings.finish == copied.shots[1].settings.finish);
        QVERIFY(copied.shots[0].settings.glows == copied.shots[1].settings.glows);
        const QString file = m_dir.filePath(QStringLiteral("kept.retinex"));
        document().save(file);
        const auto settings = project().shots[1].settings;
        m_window->open({file});
        settle();
        QVERIFY(project().shots[1].settings == settings);
    }
};

QTEST_MAIN(TestWindowFinish)
#include "test_window_finish.moc"
