#include "app/dialogs/bracket_sheet.h"
#include "app/dialogs/missing_files_dialog.h"
#include "app/dialogs/position_dialog.h"
#include "app/document/opening.h"
#include "app/fields/setting_formats.h"
#include "app/look/language.h"
#include "app/look/style.h"
#include "app/sheet/takes_panel.h"
#include "support/test_files.h"

#include <QApplication>
#include <QListWidget>
#include <QTest>
#include <QToolButton>

using namespace retinex;
using namespace retinex::app;

class TestDialogs : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::unique_ptr<Document> m_document;

private slots:
    void initTestCase()
    {
        loadLanguage(*qApp);
        style::apply(*qApp);
        for (const int frame : {1, 2, 3})
            test::writeScene(m_dir.filePath(QStringLiteral("s.%1.exr").arg(frame)).toStdString());
    }
    void init()
    {
        const Opened opened = openFiles({m_dir.filePath("s.1.exr")});
        m_document = std::make_unique<Document>();
        m_document->open(opened.project, opened.source, {});
    }

    // An object at 500 before a camera at -300 is in focus at 800 (common practice).
    void twoPositionsGiveTheFocusDistance()
    {
        PositionDialog dialog(*m_document);
        dialog.show();
        auto* camera = dialog.findChild<QLineEdit*>("cameraPosition");
        auto* object = dialog.findChild<QLineEdit*>("objectPosition");
        auto* result = dialog.findChild<QLabel*>("positionResult");
        auto* set = dialog.findChild<QPushButton*>("positionToFocus");
        QVERIFY(!set->isEnabled());
        QTest::keyClicks(camera, "0, 0, -300");
        QTest::keyClicks(object, "0 0");
        QVERIFY(!set->isEnabled() && result->text().contains("three numbers"));
        QTest::keyClicks(object, " 500");
        QVERIFY(set->isEnabled());
        QVERIFY2(result->text().contains("800"), qPrintable(result->text()));
        QTest::mouseClick(set, Qt::LeftButton);
        QCOMPARE(dialog.result(), int(QDialog::Accepted));
        QCOMPARE(m_document->values().focusDistance, 800.0);
        QCOMPARE(m_document->undoStack().count(), 1);
    }

    // Along the view axis it is less than the way between the two; behind the camera there is nothing.
    void theViewAxisCounts()
    {
        PositionDialog dialog(*m_document);
        dialog.show();
        QTest::keyClicks(dialog.findChild<QLineEdit*>("cameraPosition"), "0, 0, 0");
        QTest::keyClicks(dialog.findChild<QLineEdit*>("objectPosition"), "3, 0, 4");
        auto* result = dialog.findChild<QLabel*>("positionResult");
        auto* looks = dialog.findChild<QComboBox*>("cameraLooks");
        QVERIFY(result->text().contains("5.00"));
        looks->setCurrentIndex(5); // along +z
        QVERIFY2(result->text().contains("4.00"), qPrintable(result->text()));
        looks->setCurrentIndex(6); // along -z
        QVERIFY(result->text().contains("not in front"));
        looks->setCurrentIndex(7); // at another point
        QVERIFY(!dialog.findChild<QPushButton*>("positionToFocus")->isEnabled());
        QTest::keyClicks(dialog.findChild<QLineEdit*>("targetPosition"), "9 0 0");
        QVERIFY2(result->text().contains("3.00"), qPrintable(result->text()));
        auto* mark = dialog.findChild<QPushButton*>("positionToMark");
        QVERIFY(mark->isEnabled());
        QTest::mouseClick(mark, Qt::LeftButton);
        QCOMPARE(m_document->marks().size(), std::size_t(1));
        QCOMPARE(m_document->marks().front().value, 3.0);
    }

    void theBracketIsRenderedAndOneIsTaken()
    {
        depth::DepthRange range;
        range.nearest = 2.0;
        range.farthest = 6.0;
        BracketSheet sheet(*m_document,
                           std::make_shared<colour::ViewTransform>(colour::availableViews().front()), range);
        sheet.show();
        const auto buttons = sheet.findChildren<QToolButton*>();
        QVERIFY(buttons.size() >= BracketSheet::count);
        QTRY_VERIFY_WITH_TIMEOUT(!buttons[BracketSheet::count - 1]->icon().isNull(), 20'000);
        QTest::mouseClick(buttons[0], Qt::LeftButton);
        QCOMPARE(sheet.result(), int(QDialog::Accepted));
        QVERIFY(m_document->values().focusDistance >= 1.0 && m_document->values().focusDistance <= 2.5);
        QCOMPARE(m_document->undoStack().count(), 1);
    }

    void takesAreKeptRestoredRenamedAndRemoved()
    {
        QWidget content;
        auto& section = *new Section("Takes", "takesSection", &content);
        TakesPanel panel(*m_document, section);
        m_document->changeSetting(setting::fStop, 2.0);
        QImage picture(32, 18, QImage::Format_RGB32);
        picture.fill(Qt::gray);
        panel.keep(picture);
        m_document->changeSetting(setting::fStop, 11.0);
        panel.keep(picture);
        auto* list = section.findChild<QListWidget*>();
        QVERIFY(list);
        QCOMPARE(list->count(), 2);
        QCOMPARE(m_document->project().takes.items()[0].name, std::string("Take 1"));
        QVERIFY(!m_document->project().takes.items()[0].picture.empty());
        QVERIFY(panel.summary().contains("2"));
        const int row = list->item(0)->text().contains("Take 1") ? 0 : 1;
        list->setCurrentRow(row);
        content.show();
        list->editItem(list->item(row));
        auto* editor = list->findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, "wide open");
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_COMPARE(m_document->project().takes.items()[0].name, std::string("wide open"));
        m_document->undoStack().undo();
        QCOMPARE(m_document->project().takes.items()[0].name, std::string("Take 1"));
    }

    // One format for each kind of number, with the limits of its description.
    void formatsFollowTheDescriptions()
    {
        const project::Project& project = m_document->project();
        for (const auto& field : project::shotSettings().fields()) {
            if (!field.isNumber() || field.kind == project::Kind::onOff || field.kind == project::Kind::word)
                continue;
            const NumberFormat format = settingFormat(field.path, project);
            const double usual = std::isinf(field.defaultValue()) ? 5.0 : field.defaultValue();
            const QString text = format.toText(usual);
            QVERIFY2(!text.isEmpty(), field.path.c_str());
            const auto back = format.fromText(text);
            QVERIFY2(back && std::abs(*back - usual) <= 1e-3 * std::max(1.0, std::abs(usual)),
                     field.path.c_str());
            QVERIFY2(format.minimum <= field.range.maximum, field.path.c_str());
        }
        QCOMPARE(settingFormat(setting::glintLift, project).maximum, 16.0);
        QCOMPARE(settingFormat(setting::fStop, project).toText(2.8), QStringLiteral("f/2.8"));
        QCOMPARE(settingFormat(setting::blades, project).toText(0.0), QStringLiteral("circle"));
        QVERIFY(!settingFormat(setting::blades, project).fromText("2"));
    }

    void theMissingFilesDialogFindsWhatIsThereAndSaysWhatIsNot()
    {
        project::Project project = m_document->project();
        project.colour.file = "/nowhere/s.#.exr";
        project.mattes = {{"/nowhere/absent.exr", "R"}};
        MissingFilesDialog dialog(project, m_dir.path());
        dialog.show();
        auto* list = dialog.findChild<QTreeWidget*>("missingList");
        auto* state = dialog.findChild<QLabel*>("missingState");
        QCOMPARE(list->topLevelItemCount(), 2);
        dialog.lookIn(m_dir.path());
        QTRY_COMPARE(list->topLevelItemCount(), 1);
        QVERIFY(state->text().contains("1 are still missing"));
        QCOMPARE(QString::fromStdString(dialog.project().colour.file.parent_path().string()), m_dir.path());
        dialog.lookIn(m_dir.path());
        QTRY_VERIFY(state->text().contains("None of them is in"));
        dialog.reject();
    }
};

QTEST_MAIN(TestDialogs)
#include "test_dialogs.moc"
