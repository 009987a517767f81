// Rows for described settings: one for every kind, of the shot and of a member of a list, with keys and
// mouse.
#include "app/document/opening.h"
#include "app/document/region_edits.h"
#include "app/fields/chooser.h"
#include "app/fields/field_list.h"
#include "app/look/style.h"
#include "core/colour/input_space.h"
#include "support/test_files.h"

#include <QApplication>
#include <QSignalSpy>
#include <QTest>

using namespace retinex;
using namespace retinex::app;

class TestFieldList : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::unique_ptr<Document> m_document;
    std::unique_ptr<Section> m_section;

    void show()
    {
        m_section->resize(300, 700);
        m_section->show();
        QVERIFY(QTest::qWaitForWindowExposed(m_section.get()));
    }
    static void type(NumberField& field, const QString& text)
    {
        QTest::mouseDClick(&field, Qt::LeftButton);
        QTest::keyClicks(&field, text);
        QTest::keyClick(&field, Qt::Key_Return);
    }
    static void choose(QComboBox& box, int index)
    {
        box.setFocus();
        while (box.currentIndex() > index)
            QTest::keyClick(&box, Qt::Key_Up);
        while (box.currentIndex() < index)
            QTest::keyClick(&box, Qt::Key_Down);
    }
    static bool isSeen(const QWidget* widget)
    {
        return widget->isVisible() && !widget->visibleRegion().isEmpty();
    }

private slots:
    void initTestCase()
    {
        style::apply(*qApp);
        for (const int frame : {1, 2, 3})
            test::writeScene(m_dir.filePath(QStringLiteral("s.%1.exr").arg(frame)).toStdString());
    }
    void init()
    {
        const Opened opened = openFiles({m_dir.filePath("s.1.exr")});
        m_document = std::make_unique<Document>();
        m_document->open(opened.project, opened.source, {});
        m_section = std::make_unique<Section>(QStringLiteral("rows"), QStringLiteral("rows"));
    }
    void cleanup() { m_section.reset(); }

    void aRowIsWhatItsDescriptionSays()
    {
        FieldList fields(*m_document, nullptr);
        for (const auto& [path, kind] : {std::pair{"finish/grain/amount", "NumberField"},
                                         {"finish/grain/on", "QCheckBox"},
                                         {"finish/grain/kind", "Chooser"},
                                         {"finish/plate/file", "NameButton"},
                                         {"finish/plate/inputSpace", "Chooser"}}) {
            QWidget* row = fields.add(*m_section, path);
            QVERIFY2(QLatin1String(row->metaObject()->className()).endsWith(QLatin1String(kind)), path);
            QCOMPARE(row->objectName(), QLatin1String(path));
        }
        fields.colour(*m_section, "finish/grade/cdl/slope");
        show();
        for (const char* path : {"finish/grade/cdl/slope/red", "finish/grade/cdl/slope/blue"})
            QVERIFY(isSeen(m_section->findChild<NumberField*>(path)));
        auto* kind = m_section->findChild<QComboBox*>("finish/grain/kind");
        QCOMPARE(kind->itemText(0), QStringLiteral("Gaussian"));
        QCOMPARE(kind->count(), 2);
        auto* space = m_section->findChild<QComboBox*>("finish/plate/inputSpace");
        QCOMPARE(space->count(), int(colour::inputSpaces().size()) + 1);
        QCOMPARE(space->currentIndex(), 0); // by the file
    }

    void everyKindEditsItsSettingAsOneStep()
    {
        FieldList fields(*m_document, nullptr);
        auto* amount = fields.number(*m_section, "Amount", "finish/grain/amount", {});
        auto* isOn = fields.toggle(*m_section, "On", "finish/grain/on", {});
        auto* kind = fields.word(*m_section, "Spread", "finish/grain/kind", {"Gaussian", "uniform"}, {});
        auto* space = fields.name(*m_section, "Space", "finish/plate/inputSpace", colour::inputSpaces,
                                  "by the file", {});
        auto* mattes = fields.text(*m_section, "Mattes", "open/mattes", "none", {});
        show();
        type(*amount, "5 %");
        QCOMPARE(m_document->values().finish.grain.amount, 0.05);
        QTest::mouseClick(isOn, Qt::LeftButton, {}, QPoint(8, isOn->height() / 2));
        QVERIFY(!m_document->values().finish.grain.isOn);
        QCOMPARE(m_document->undoStack().undoText(), QStringLiteral("switch off grain"));
        choose(*kind, 1);
        QCOMPARE(m_document->values().finish.grain.kind, finish::GrainKind::uniform);
        QCOMPARE(m_document->undoStack().undoText(), QStringLiteral("choose kind of grain"));
        choose(*space, 1);
        QCOMPARE(m_document->values().finish.plate.inputSpace, colour::inputSpaces().front());
        mattes->setFocus();
        QTest::keyClicks(mattes, "door, can");
        QTest::keyClick(mattes, Qt::Key_Return);
        QCOMPARE(m_document->values().openMattes, std::string("door, can"));
        QCOMPARE(m_document->undoStack().count(), 5);
        // And back, step by step; the rows follow.
        for (int i = 0; i < 5; ++i)
            m_document->undoStack().undo();
        QVERIFY(isOn->isChecked());
        QCOMPARE(kind->currentIndex(), 0);
        QCOMPARE(space->currentIndex(), 0);
        QCOMPARE(amount->value(), finish::Grain().amount);
    }

    void whatIsNoNumberIsSaidAndChangesNothing()
    {
        FieldList fields(*m_document, nullptr);
        auto* amount = fields.number(*m_section, "Amount", "finish/grain/amount", {});
        show();
        QSignalSpy said(&fields, &FieldList::notANumber);
        type(*amount, "much");
        QCOMPARE(said.count(), 1);
        QVERIFY(said.front().front().toString().contains("Amount"));
        type(*amount, "60 %"); // beyond what fits
        QCOMPARE(said.count(), 2);
        QCOMPARE(m_document->undoStack().count(), 0);
    }

    void aFileIsAskedForAndShownByItsName()
    {
        FieldList fields(*m_document, nullptr);
        auto* file = fields.file(*m_section, "Picture", "finish/plate/file", "A still or a sequence.");
        show();
        QCOMPARE(file->text(), QStringLiteral("Choose…"));
        QSignalSpy asked(&fields, &FieldList::fileAsked);
        QTest::mouseClick(file, Qt::LeftButton);
        QCOMPARE(asked.front().front().toString(), QStringLiteral("finish/plate/file"));
        m_document->editSettings("plate",
                                 [](project::Settings& s) { s.finish.plate.file = "/some/plate.exr"; });
        QCOMPARE(file->text(), QStringLiteral("plate.exr"));
        QCOMPARE(file->toolTip(), QStringLiteral("/some/plate.exr"));
    }

    void rowsOfAMemberAreThereWhileOneIsChosen()
    {
        std::string chosen;
        FieldList fields(*m_document,
                         std::make_unique<ShotPlace>(*m_document, "regions", [&] { return chosen; }),
                         nullptr);
        auto* share = fields.number(*m_section, "Blur inside", "share", {});
        auto* inverted = fields.toggle(*m_section, "Inverted", "inverted", {});
        auto* ramp = fields.word(*m_section, "Ramp", "ramp/kind", {"plane", "even"}, {});
        fields.showWhere([](const std::string& key) { return key != "ramp/kind"; });
        QCOMPARE(share->objectName(), QStringLiteral("regions/share"));
        show();
        for (const QWidget* row : {static_cast<QWidget*>(share), static_cast<QWidget*>(inverted)})
            QVERIFY(!row->isVisible());
        project::Project changed = m_document->project();
        for (const char* id : {"1", "2"}) {
            regions::Region region;
            region.id = region.name = id;
            changed.base().regions.push_back(region);
        }
        m_document->edit("add regions", changed);
        chosen = "2";
        fields.refresh();
        QVERIFY(isSeen(share) && isSeen(inverted) && !ramp->isVisible());
        type(*share, "40 %");
        QTest::mouseClick(inverted, Qt::LeftButton, {}, QPoint(8, inverted->height() / 2));
        const auto& regions = m_document->values().regions;
        QCOMPARE(regions[1].share, 0.4);
        QVERIFY(regions[1].inverted);
        QCOMPARE(regions[0].share, 1.0);
        chosen = "1";
        fields.refresh();
        QCOMPARE(share->value(), 1.0);
        QVERIFY(!inverted->isChecked());
        chosen = "gone";
        fields.refresh();
        QVERIFY(!share->isVisible());
    }

    void marksOfAMemberAreSetAndTakenAway()
    {
        std::string chosen = "1";
        project::Project changed = m_document->project();
        regions::Region region;
        region.id = region.name = "1";
        changed.base().regions.push_back(region);
        m_document->edit("add region", changed);
        FieldList fields(*m_document,
                         std::make_unique<ShotPlace>(*m_document, "regions", [&] { return chosen; }),
                         nullptr);
        auto* share = fields.number(*m_section, "Blur inside", "share", "Share of blur.");
        fields.refresh();
        show();
        QCOMPARE(share->marks(), NumberField::Marks::none);
        emit share->markAsked();
        QCOMPARE(share->marks(), NumberField::Marks::here);
        QVERIFY(share->toolTip().contains("mark on frame 1"));
        m_document->setFrame(2);
        QCOMPARE(share->marks(), NumberField::Marks::elsewhere);
        type(*share, "50 %"); // a second mark
        QCOMPARE(m_document->marks(regionPath("1", "share")).size(), std::size_t(2));
        emit share->clearAllMarksAsked();
        QVERIFY(m_document->marks(regionPath("1", "share")).empty());
        QCOMPARE(m_document->values().regions.front().share, 0.5);
    }

    void namesFollowWhatThereIs()
    {
        FieldList fields(*m_document, nullptr);
        std::vector<std::string> there{"a", "b"};
        auto* box = fields.name(*m_section, "Mattes", "open/mattes", [&] { return there; }, {}, {});
        show();
        QCOMPARE(box->count(), 2);
        QCOMPARE(box->currentIndex(), -1); // nothing is chosen
        m_document->editSettings("choose", [](project::Settings& s) { s.openMattes = "b"; });
        QCOMPARE(box->currentIndex(), 1);
        there = {"b"};
        fields.refresh();
        QCOMPARE(box->count(), 1);
        QCOMPARE(box->currentText(), QStringLiteral("b"));
        there = {"c"};
        fields.refresh();
        QCOMPARE(box->currentIndex(), -1); // it is gone, and nothing else stands for it
        QCOMPARE(m_document->values().openMattes, std::string("b"));
    }

    void numbersAreWrittenInTheUnitOfTheProject()
    {
        FieldList fields(*m_document, nullptr);
        auto* gap = fields.number(*m_section, "Gap distance", "reading/gaps/distance", {});
        show();
        const QString before = gap->text();
        project::Project changed = m_document->project();
        changed.unit = optics::Unit::centimetre;
        m_document->edit("unit", changed);
        QVERIFY2(gap->text() != before && gap->text().contains("cm"), qPrintable(gap->text()));
        type(*gap, "250cm");
        QVERIFY(std::abs(m_document->values().reading.gaps.distance * m_document->project().metresPerUnit -
                         2.5) < 1e-9);
    }
};

QTEST_MAIN(TestFieldList)
#include "test_field_list.moc"
