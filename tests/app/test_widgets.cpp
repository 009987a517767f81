#include "app/desk/depth_profile.h"
#include "app/desk/focus_desk.h"
#include "app/dialogs/shortcut_list.h"
#include "app/document/opening.h"
#include "app/fields/chooser.h"
#include "app/fields/number_field.h"
#include "app/jobs/depth_survey.h"
#include "app/jobs/export_job.h"
#include "app/layout/section.h"
#include "app/look/language.h"
#include "app/look/style.h"
#include "app/picture/strips/probe_line.h"
#include "app/picture/strips/view_strip.h"
#include "app/pictures/blur_picture.h"
#include "app/pictures/picture_maker.h"
#include "app/sheet/iris_drawing.h"
#include "app/sheet/sheet.h"
#include "app/window/message_bar.h"
#include "support/test_files.h"

#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QDir>
#include <QFileDialog>
#include <QHelpEvent>
#include <QKeySequenceEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QSettings>
#include <QSignalSpy>
#include <QTest>
#include <QTimer>
#include <QToolTip>
#include <QTranslator>
#include <QTreeWidget>
#include <cmath>
#include <set>

using namespace retinex;
using namespace retinex::app;

namespace {

NumberFormat plainNumbers()
{
    NumberFormat format;
    format.minimum = 1.0;
    format.maximum = 100.0;
    format.defaultValue = 10.0;
    format.geometric = false;
    format.step = 1.0;
    format.toText = [](double v) { return QString::number(v); };
    format.fromText = [](const QString& text) -> std::optional<double> {
        bool ok = false;
        const double v = text.toDouble(&ok);
        return ok ? std::optional(v) : std::nullopt;
    };
    return format;
}

} // namespace

class TestWidgets : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::unique_ptr<Document> m_document;

private slots:
    void initTestCase()
    {
        QSettings().clear();
        for (int frame = 1; frame <= 4; ++frame)
            test::writeScene(m_dir.filePath(QStringLiteral("in.%1.exr").arg(frame)).toStdString());
    }
    void init()
    {
        m_document = std::make_unique<Document>();
        const Opened opened = openFiles({m_dir.filePath("in.1.exr")});
        m_document->open(opened.project, opened.source, opened.file);
    }

    void theProbesCocKnowsPixelAspectStrengthAndLimits()
    {
        const auto cocAt = [&](int x, int y) {
            PictureRequest request;
            request.project = std::make_shared<project::Project>(m_document->project());
            request.source = m_document->source();
            request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
            request.mode = ViewMode::source;
            ProbeLine probe(*m_document);
            probe.setPicture(makePicture(request, {}, {}));
            probe.setPoint(x, y);
            static const QRegularExpression number(QStringLiteral("CoC ([0-9.]+) px"));
            return number.match(probe.text()).captured(1).toDouble();
        };
        m_document->editSettings(QStringLiteral("lens"), [](project::Settings& s) {
            s.focusDistance = 2.0;
            s.fStop = 1.4;
            s.focalLengthMm = 85.0;
            s.blur.limitFarPx = 1000.0;
        });
        // The wall at 6 m. As rendered c = f / N f / s |z - s| / z, on 36 mm over 64 px (the engine's model).
        const double expected = 85.0 / 1.4 * 85.0 / 2000.0 * (4.0 / 6.0) / 36.0 * 64.0;
        QVERIFY2(std::abs(cocAt(5, 40) - expected) < 0.06, qPrintable(QString::number(cocAt(5, 40))));
        m_document->editSettings(QStringLiteral("half"), [](project::Settings& s) { s.blur.strength = 0.5; });
        QVERIFY(std::abs(cocAt(5, 40) - 0.5 * expected) < 0.06);
        m_document->editSettings(QStringLiteral("limit"),
                                 [](project::Settings& s) { s.blur.limitFarPx = 0.25; });
        QVERIFY(std::abs(cocAt(5, 40) - 0.5) < 0.06); // a radius of 0.25 px
    }

    void theFilterForIrisPicturesMatchesPictures()
    {
        DepthSurvey survey;
        AnalysisService analysis;
        SubjectService subjects;
        Sheet sheet(*m_document, analysis, subjects);
        sheet.resize(380, 900);
        sheet.show();
        auto* choose = sheet.findChild<QPushButton*>(QStringLiteral("chooseIrisPicture"));
        QVERIFY(choose);
        QStringList filters;
        QTimer::singleShot(0, &sheet, [&] {
            for (QWidget* widget : QApplication::topLevelWidgets())
                if (auto* dialog = qobject_cast<QFileDialog*>(widget); dialog && dialog->isVisible()) {
                    filters = dialog->nameFilters();
                    dialog->reject();
                }
        });
        choose->click();
        QCOMPARE(filters.size(), 1);
        for (const char* name : {"heart.png", "opening.exr", "star.tif", "LAMP.jpg"}) {
            bool matches = false;
            for (const QString& pattern :
                 filters[0].section(QLatin1Char('('), 1).chopped(1).split(QLatin1Char(' ')))
                matches |= QRegularExpression::fromWildcard(pattern, Qt::CaseInsensitive)
                               .match(QLatin1String(name))
                               .hasMatch();
            QVERIFY2(matches, name);
        }
    }

    void arrowKeysStepCoarserAndFiner()
    {
        NumberField field(plainNumbers());
        field.show();
        field.setFocus();
        QTest::keyClick(&field, Qt::Key_Up);
        QCOMPARE(field.value(), 11.0);
        QTest::keyClick(&field, Qt::Key_Up, Qt::ShiftModifier);
        QCOMPARE(field.value(), 21.0);
        QTest::keyClick(&field, Qt::Key_Down, Qt::ControlModifier);
        QVERIFY(std::abs(field.value() - 20.9) < 1e-9);
    }

    // Else two of them would be one step to undo.
    void noGestureHasTheNumberOfAnother()
    {
        std::set<int> numbers;
        for (int i = 0; i < 2; ++i) {
            NumberField field(plainNumbers());
            field.show();
            QSignalSpy edited(&field, &NumberField::edited);
            QTest::mouseClick(&field, Qt::LeftButton);
            QTest::keyClicks(&field, "42");
            QTest::keyClick(&field, Qt::Key_Return);
            QCOMPARE(edited.count(), 1);
            numbers.insert(edited[0][1].toInt());
            numbers.insert(newGesture()); // of the desk, say
        }
        QCOMPARE(numbers.size(), std::size_t(4));
    }

    void whatDoesNotFitIsRefusedAndEscapeTakesTypingBack()
    {
        NumberField field(plainNumbers());
        field.show();
        QSignalSpy edited(&field, &NumberField::edited);
        QSignalSpy rejected(&field, &NumberField::rejected);
        QTest::mouseClick(&field, Qt::LeftButton);
        QTest::keyClicks(&field, "5000");
        QTest::keyClick(&field, Qt::Key_Return);
        QCOMPARE(field.value(), 10.0); // not 100: what was typed is not bent into what fits
        QCOMPARE(rejected.count(), 1);
        QCOMPARE(rejected[0][0].toString(), QStringLiteral("5000"));
        QCOMPARE(field.refusal(QStringLiteral("Weight"), QStringLiteral(" 5000")),
                 QStringLiteral("Weight cannot be \"5000\": it takes 1 to 100. Nothing was changed."));
        QTest::keyClick(&field, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(&field, "100");
        QTest::keyClick(&field, Qt::Key_Return);
        QCOMPARE(field.value(), 100.0);
        QCOMPARE(edited.count(), 1);
        QTest::keyClicks(&field, "7");
        QTest::keyClick(&field, Qt::Key_Escape);
        QCOMPARE(field.value(), 100.0);
        QCOMPARE(field.text(), QStringLiteral("100"));
        QTest::mouseClick(&field, Qt::LeftButton);
        QTest::keyClicks(&field, "much");
        QTest::keyClick(&field, Qt::Key_Return);
        QCOMPARE(rejected.count(), 2);
        QCOMPARE(edited.count(), 1);
    }

    void aDragIsOneGestureAndAClickNone()
    {
        NumberField field(plainNumbers());
        field.resize(150, 26);
        field.show();
        QSignalSpy edited(&field, &NumberField::edited);
        QTest::mousePress(&field, Qt::LeftButton, {}, QPoint(40, 10));
        for (const int x : {50, 60, 70})
            QTest::mouseMove(&field, QPoint(x, 10));
        QTest::mouseRelease(&field, Qt::LeftButton, {}, QPoint(70, 10));
        QVERIFY(edited.count() >= 2);
        for (const auto& call : edited)
            QCOMPARE(call[1], edited.front()[1]);
        QVERIFY(field.value() > 10.0);
        edited.clear();
        QTest::mouseClick(&field, Qt::LeftButton, {}, QPoint(40, 10));
        QCOMPARE(edited.count(), 0);
    }

    void sectionsFoldToTheirSummary()
    {
        Section section("Lens", "aSection");
        section.setSummary("f/2, 85 mm");
        section.addRow("f-stop", new QLabel("f/2"));
        section.show();
        QVERIFY(!section.isFolded());
        QTest::mouseClick(section.findChild<QToolButton*>("aSectionHeader"), Qt::LeftButton);
        QVERIFY(section.isFolded());
    }

    void theSheetSaysItsSettingsInWordsAndUnits()
    {
        AnalysisService analysis;
        SubjectService subjects;
        Sheet sheet(*m_document, analysis, subjects);
        sheet.setPasses(m_document->source()->load(1));
        project::Project project = m_document->project();
        project.base().focusDistance = 3.0;
        project.base().fStop = 2.0;
        project.unit = optics::Unit::foot;
        m_document->edit("test", project);
        QCOMPARE(sheet.findChild<NumberField*>("focus/distance")->text(),
                 QStringLiteral("9.84 ft")); // 3 m / 0.3048
        QVERIFY(sheet.findChild<QLabel*>("sharpZone")->text().contains(" ft to "));
        QVERIFY(sheet.findChild<QLabel*>("gaps")->text().startsWith("25.0 %"));
        QCOMPARE(sheet.findChild<QLabel*>("passSize")->text(), QStringLiteral("64 × 48 px, 1–4"));
        // A scene in centimetres: the same numbers mean a hundredth.
        project.unit = optics::Unit::metre;
        project.metresPerUnit = 0.01;
        project.base().focusDistance = 300.0;
        m_document->edit("test", project);
        QCOMPARE(sheet.findChild<NumberField*>("focus/distance")->text(), QStringLiteral("3.00 m"));
        // Blades step over one and two, which are no polygon.
        auto* blades = sheet.findChild<NumberField*>("iris/blades");
        blades->setFocus();
        QTest::keyClick(blades, Qt::Key_Up);
        QCOMPARE(m_document->project().base().iris.blades, 3);
        QTest::keyClick(blades, Qt::Key_Down);
        QCOMPARE(m_document->project().base().iris.blades, 0);
        QCOMPARE(blades->text(), QStringLiteral("circle"));
    }

    void profileHandlesStandAtTheirDistances()
    {
        DepthSurvey survey;
        DeskState state(*m_document);
        DepthProfile profile(*m_document, survey, state);
        profile.resize(260, 220);
        m_document->setFocusDistance(3.0);
        state.setWhole(1.0, 10.0);
        const auto axis = state.axis().axis(220);
        const int focusY = profile.handlePoint(DepthProfile::Handle::focus).y() - SharedAxis::topMargin;
        QVERIFY(std::abs(focusY - axis.toY(3.0)) <= 1.0);
        QVERIFY(profile.handlePoint(DepthProfile::Handle::nearLimit).y() >
                profile.handlePoint(DepthProfile::Handle::focus).y());
        QVERIFY(profile.handlePoint(DepthProfile::Handle::farLimit).y() <
                profile.handlePoint(DepthProfile::Handle::focus).y());
    }

    void aDoubleClickOnTheDeskSetsAMark()
    {
        DepthSurvey survey;
        DeskState state(*m_document);
        FocusDesk desk(*m_document, survey, state);
        desk.resize(500, 220);
        state.setWhole(1.0, 10.0);
        desk.show();
        QTest::mouseClick(&desk, Qt::LeftButton, {},
                          desk.pointFor(3, 5.0)); // a double click begins with a click
        QTest::mouseDClick(&desk, Qt::LeftButton, {}, desk.pointFor(3, 5.0));
        const auto* mark = timeline::markOn(m_document->marks(), 3);
        QVERIFY(mark && std::abs(mark->value / 5.0 - 1.0) < 0.03);
        desk.goToMark(-1); // none before the first
        QCOMPARE(m_document->frame(), 3);
        m_document->setFrame(1);
        desk.goToMark(1);
        QCOMPARE(m_document->frame(), 3);
    }

    void theSurveySeesEveryFrame()
    {
        DepthSurvey survey;
        survey.start(m_document->source(), std::make_shared<project::Project>(m_document->project()));
        QTRY_COMPARE(survey.columns().size(), std::size_t(4));
        QCOMPARE(survey.range().nearest, 2.0);
        QCOMPARE(survey.range().farthest, 6.0);
        double counted = 0.0;
        for (const float count : survey.columns().at(2).bins)
            counted += static_cast<double>(count);
        QCOMPARE(counted, 64.0 * 36.0); // all but the quarter of gaps
    }

    void exportsTellProgressAndTheirEnd()
    {
        const auto job = delivery::usualJob(*m_document->source(),
                                            std::make_shared<project::Project>(m_document->project()), {1, 2},
                                            m_dir.filePath("out/f.####.exr").toStdString());
        ExportWork work(m_document->source(), job);
        QSignalSpy progressed(&work, &ExportWork::progressed);
        QSignalSpy finished(&work, &ExportWork::finished);
        QVERIFY(work.secondsLeft(0.0) < 0.0); // not known yet
        work.start();
        QVERIFY(finished.wait(20'000));
        QCOMPARE(finished[0][0].toBool(), false);
        QCOMPARE(finished[0][1].toInt(), 2);
        QVERIFY(progressed.count() > 1 && std::abs(progressed.back()[0].toDouble() - 1.0) < 1e-9);
        QCOMPARE(QDir(m_dir.filePath("out")).entryList(QDir::Files).size(), 2);
    }

    void depthPicturesAreGreyNearBrightAndGapsWoven()
    {
        PictureRequest request;
        request.source = m_document->source();
        request.project = std::make_shared<project::Project>(m_document->project());
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        request.mode = ViewMode::depth;
        const Picture picture = makePicture(request, {}, {});
        const QRgb near = picture.image.pixel(32, 24);
        const QRgb far = picture.image.pixel(2, 40);
        QVERIFY(qRed(near) > qRed(far) + 100);
        QVERIFY(qRed(near) == qGreen(near) && qGreen(near) == qBlue(near));
        QSet<QRgb> gaps;
        for (int x = 0; x < 16; ++x)
            gaps.insert(picture.image.pixel(x, 3));
        QCOMPARE(gaps.size(), 2);
        QVERIFY(!gaps.contains(far));
        request.mode = ViewMode::result;
        const Picture coarse = makePicture(request, {4, {}}, {});
        QCOMPARE(coarse.image.width(), 16);
        QCOMPARE(coarse.detail.divisor, 4);
    }

    void viewsMessagesAndShortcuts()
    {
        ViewStrip strip;
        QSignalSpy chosen(&strip, &ViewStrip::modeChosen);
        strip.modeAction(ViewMode::zones)->trigger();
        QCOMPARE(strip.mode(), ViewMode::zones);
        QCOMPARE(chosen.count(), 1);
        QCOMPARE(QString::fromStdString(strip.view().view), QStringLiteral("Plain"));
        QWidget picture;
        MessageBar bar(&picture);
        bar.show(MessageBar::Kind::trouble, "can.exr: it is gone.");
        QVERIFY(!bar.isHidden());
        QTest::mouseClick(bar.findChild<QToolButton*>("messageClose"), Qt::LeftButton);
        QVERIFY(bar.isHidden());
        QAction action("&Open…");
        action.setShortcut(QKeySequence::Open);
        const ShortcutList list({&action});
        const auto* tree = list.findChild<QTreeWidget*>();
        QCOMPARE(tree->topLevelItem(0)->text(0), QStringLiteral("Open"));
        QCOMPARE(tree->topLevelItem(0)->text(1), QStringLiteral("Ctrl+O"));
    }

    // Keys are changed, refused where another has them, kept, and set back.
    void shortcutsAreChanged()
    {
        QSettings().remove(QStringLiteral("shortcuts"));
        QAction open("&Open…");
        open.setShortcut(QKeySequence(Qt::CTRL | Qt::Key_O));
        QAction save("&Save");
        save.setShortcut(QKeySequence(Qt::CTRL | Qt::Key_S));
        QAction held("While &held");
        held.setShortcut(QKeySequence(Qt::Key_V));
        held.setShortcutContext(Qt::WidgetShortcut);
        const QList<QAction*> all{&open, &save, &held};
        restoreShortcuts(all);
        ShortcutList list(all);
        list.show();
        auto* tree = list.findChild<QTreeWidget*>();
        auto* keys = list.findChild<QKeySequenceEdit*>();
        auto* words = list.findChild<QLabel*>("shortcutWords");
        const auto press = [&](const char* button) {
            QTest::mouseClick(list.findChild<QPushButton*>(QLatin1String(button)), Qt::LeftButton);
        };
        tree->setCurrentItem(tree->topLevelItem(0));
        keys->setKeySequence(QKeySequence(Qt::CTRL | Qt::Key_S));
        press("setShortcut");
        QVERIFY2(words->text().contains("Save"), qPrintable(words->text()));
        QCOMPARE(open.shortcut(), QKeySequence(Qt::CTRL | Qt::Key_O));
        keys->setKeySequence(QKeySequence(Qt::CTRL | Qt::Key_L));
        press("setShortcut");
        QCOMPARE(open.shortcut(), QKeySequence(Qt::CTRL | Qt::Key_L));
        QCOMPARE(tree->topLevelItem(0)->text(1), QStringLiteral("Ctrl+L"));
        // In the next program it is so too.
        QAction again("&Open…");
        again.setShortcut(QKeySequence(Qt::CTRL | Qt::Key_O));
        restoreShortcuts({&again});
        QCOMPARE(again.shortcut(), QKeySequence(Qt::CTRL | Qt::Key_L));
        press("noShortcut");
        QVERIFY(open.shortcut().isEmpty());
        press("usualShortcut");
        QCOMPARE(open.shortcut(), QKeySequence(Qt::CTRL | Qt::Key_O));
        QVERIFY(!QSettings().contains(QStringLiteral("shortcuts/Open")));
        tree->setCurrentItem(tree->topLevelItem(2));
        QVERIFY(!list.findChild<QPushButton*>("setShortcut")->isEnabled());
        tree->setCurrentItem(tree->topLevelItem(1));
        press("noShortcut");
        press("allUsualShortcuts");
        QCOMPARE(save.shortcut(), QKeySequence(Qt::CTRL | Qt::Key_S));
    }

    void aLongTextIsShortenedInTheMiddle()
    {
        Chooser chooser;
        chooser.addItems(
            {QStringLiteral("can"), QStringLiteral("seedlings beside the lattice, left of the door")});
        chooser.resize(150, 24);
        chooser.show();
        QVERIFY(QTest::qWaitForWindowExposed(&chooser));
        QCOMPARE(chooser.shownText(), QStringLiteral("can"));
        chooser.setCurrentIndex(1);
        const QString shown = chooser.shownText();
        QVERIFY2(shown.startsWith(QStringLiteral("se")) && shown.endsWith(QStringLiteral("or")),
                 qPrintable(shown));
        QVERIFY(chooser.fontMetrics().horizontalAdvance(shown) < 150);
        QHelpEvent hover(QEvent::ToolTip, QPoint(20, 10), chooser.mapToGlobal(QPoint(20, 10)));
        QApplication::sendEvent(&chooser, &hover);
        QCOMPARE(QToolTip::text(), chooser.currentText());
        chooser.resize(600, 24);
        QCOMPARE(chooser.shownText(), chooser.currentText());
    }

    void tipsComeBelowWhatTheySpeakOf()
    {
        style::apply(*qApp);
        QPushButton button(QStringLiteral("Keep"));
        button.setToolTip(QStringLiteral("Keep the present settings as a take"));
        button.resize(120, 26);
        button.show();
        QVERIFY(QTest::qWaitForWindowExposed(&button));
        const QPoint at(60, 20);
        QHelpEvent hover(QEvent::ToolTip, at, button.mapToGlobal(at));
        QApplication::sendEvent(&button, &hover);
        QCOMPARE(QToolTip::text(), button.toolTip());
        for (QWidget* widget : QApplication::topLevelWidgets())
            if (widget->isVisible() && widget->inherits("QTipLabel"))
                QVERIFY(
                    !widget->geometry().intersects(QRect(button.mapToGlobal(QPoint(0, 0)), button.size())));
        QToolTip::hideText();
    }

    void irisDrawingsThatAreAlikeAreDrawnOnce()
    {
        IrisDrawing drawing;
        optics::Iris iris;
        drawing.setIris(iris); // a circle
        QCOMPARE(drawing.words(), QStringList{QStringLiteral("the same everywhere")});
        iris.blades = 7; // turned over in front of the focal plane
        drawing.setIris(iris);
        QCOMPARE(drawing.words(), (QStringList{QStringLiteral("in front"), QStringLiteral("behind")}));
        iris.blades = 6;
        drawing.setIris(iris);
        QCOMPARE(drawing.words().size(), 1);
        iris.catsEye = 0.8;
        drawing.setIris(iris);
        QCOMPARE(drawing.words(),
                 (QStringList{QStringLiteral("in front and behind"), QStringLiteral("behind, corner")}));
    }

    void blurTonesEndAtTheLargest()
    {
        Plane<float> radius(4, 1);
        radius.at(1, 0) = -8.65F;
        radius.at(2, 0) = 3.0F;
        QCOMPARE(blurTones(radius, 40.0).largestPx, 2.0 * static_cast<double>(8.65F));
        QCOMPARE(blurTones(radius, 40.0).tone(17.3), 255);
    }

    // The words for one and for many come through Qt's translator, and the core speaks through it as well.
    void pluralsAndTheCoreAreTranslated()
    {
        struct Loud : QTranslator
        {
            QString translate(const char* context, const char* source, const char*, int) const override
            {
                const bool fromCore = !context || !*context;
                return fromCore && QByteArray(source).contains("no such file")
                           ? QStringLiteral("{}: GIBT ES NICHT")
                           : QString();
            }
            bool isEmpty() const override { return false; }
        };
        loadLanguage(*qApp);
        QCOMPARE(QCoreApplication::translate("retinex::app::ExportBar", "%n frame(s)", nullptr, 1),
                 QStringLiteral("1 frame"));
        QCOMPARE(QCoreApplication::translate("retinex::app::ExportBar", "%n frame(s)", nullptr, 12),
                 QStringLiteral("12 frames"));
        const auto told = [] {
            try {
                (void)openFiles({QStringLiteral("/nowhere/a.exr")}, {});
            } catch (const Error& error) {
                return QString::fromUtf8(error.what());
            }
            return QString();
        };
        QVERIFY2(told().startsWith(QStringLiteral("/nowhere/a.exr: there is no such file")),
                 qPrintable(told()));
        Loud loud;
        QCoreApplication::installTranslator(&loud);
        QCOMPARE(told(), QStringLiteral("/nowhere/a.exr: GIBT ES NICHT"));
        QCoreApplication::removeTranslator(&loud);
    }
};

QTEST_MAIN(TestWidgets)
#include "test_widgets.moc"
