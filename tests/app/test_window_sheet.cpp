// Getting about: from section to section, to a setting by what people call it, and back to what was open.
#include "app/sheet/navigation/section_index.h"
#include "app/window/recent_pictures.h"
#include "app/window_driver.h"

#include <QMenu>
#include <QScrollBar>
#include <QToolButton>

using namespace retinex;
using namespace retinex::app;

class TestWindowSheet : public test::WindowDriver
{
    Q_OBJECT

    QString demo(const char* name) { return QStringLiteral(RETINEX_DEMO "/") + QLatin1String(name); }
    /// Copies the demo's project to a place of its own, so that it can be saved and opened again.
    QString ownProject(const char* name)
    {
        m_window->openAsCopy(demo("greenhouse_can.retinex"));
        settle();
        const QString file = m_dir.filePath(QLatin1String(name));
        document().save(file);
        return file;
    }
    Section& section(const char* name) { return *child<Section>(name); }
    int topOf(const char* name)
    {
        auto* area = child<QScrollArea>("sheetArea");
        return section(name).mapTo(area->viewport(), QPoint(0, 0)).y();
    }
    void anew()
    {
        document().setUnmodified();
        m_window.reset();
        init();
    }
    /// Chooses from the next menu that opens, by its place in it.
    void chooseFromMenu(int index)
    {
        QTimer::singleShot(100, this, [index] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (!menu) qFatal("no menu");
            QTest::mouseClick(menu, Qt::LeftButton, {},
                              menu->actionGeometry(menu->actions()[index]).center());
        });
    }
    QStringList hits()
    {
        QStringList lines;
        auto* list = child<QListWidget>("searchHits");
        for (int row = 0; row < list->count(); ++row)
            lines << list->item(row)->text();
        return lines;
    }
    void find(const QString& text)
    {
        QTest::keyClick(m_window.get(), Qt::Key_F, Qt::ControlModifier);
        auto* field = child<QLineEdit>("searchText");
        QVERIFY(field->hasFocus());
        QTest::keyClicks(field, text);
    }

private slots:
    void theIndexGoesToSectionsAndMarksThePresentOne()
    {
        m_window->openAsCopy(demo("greenhouse.retinex"));
        settle();
        for (const char* name : {"lensSection", "finishSection", "passesSection"}) {
            const QByteArray button = QByteArray(name) + "Index";
            press(child<QToolButton>(button.constData()));
            QTRY_COMPARE(topOf(name), 0);
            QVERIFY(child<QToolButton>(button.constData())->isChecked());
        }
        // By keys: on, and back. At the end the last ones are marked though they cannot be at the top.
        QTest::keyClick(m_window.get(), Qt::Key_PageDown, Qt::ControlModifier);
        QTRY_VERIFY(child<QToolButton>("depthSectionIndex")->isChecked());
        QTRY_COMPARE(topOf("depthSection"), 0);
        QTest::keyClick(m_window.get(), Qt::Key_PageUp, Qt::ControlModifier);
        QTRY_VERIFY(child<QToolButton>("passesSectionIndex")->isChecked());
        for (int i = 0; i < 12; ++i) {
            QTest::keyClick(m_window.get(), Qt::Key_PageDown, Qt::ControlModifier);
            QTest::qWait(5);
        }
        QTRY_VERIFY(child<QToolButton>("deliverySectionIndex")->isChecked());
        // The wheel marks too.
        child<QScrollArea>("sheetArea")->verticalScrollBar()->setValue(0);
        QTRY_VERIFY(child<QToolButton>("passesSectionIndex")->isChecked());
    }

    void theOthersAreFoldedAndThatStaysWithTheProject()
    {
        const QString one = ownProject("one.retinex");
        const QString two = ownProject("two.retinex");
        drop({one});
        auto* header = child<QToolButton>("irisSectionHeader");
        seeable(header);
        chooseFromMenu(1); // Fold the others
        emit header->customContextMenuRequested(header->rect().center());
        QVERIFY(!section("irisSection").isFolded());
        for (const char* name : {"passesSection", "depthSection", "finishSection", "deliverySection"})
            QVERIFY2(section(name).isFolded(), name);
        drop({two});
        press(child<QToolButton>("irisSectionHeader"), QPoint(12, 10));
        press(child<QToolButton>("depthSectionIndex")); // unfolds it
        QTRY_VERIFY(!section("depthSection").isFolded());
        QVERIFY(section("irisSection").isFolded());
        anew();
        drop({one});
        QVERIFY(!section("irisSection").isFolded() && section("depthSection").isFolded());
        drop({two});
        QVERIFY(section("irisSection").isFolded() && !section("depthSection").isFolded());
        QTest::keyClick(m_window.get(), Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
        int open = 0;
        for (const char* name :
             {"passesSection", "depthSection", "focusSection", "lensSection", "irisSection", "repairSection",
              "finishSection", "takesSection", "deliverySection"})
            if (!section(name).isFolded()) ++open;
        QCOMPARE(open, 1);
    }

    void settingsAreFoundByWhatPeopleCallThem_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("control");
        QTest::newRow("its own name") << "focal len"
                                      << "lens/focalLengthMm";
        QTest::newRow("aperture") << "aperture"
                                  << "lens/fStop";
        QTest::newRow("film back") << "film back"
                                   << "lens/sensorWidthMm";
        QTest::newRow("bokeh shape") << "bokeh shape polygon"
                                     << "iris/blades";
        QTest::newRow("anamorphic") << "anamorphic"
                                    << "iris/squeeze";
        QTest::newRow("chromatic aberration") << "Chromatic"
                                              << "finish/fringing/on";
        QTest::newRow("noise") << "noise"
                               << "finish/grain/on";
        QTest::newRow("inpaint") << "inpaint"
                                 << "views";
    }
    void settingsAreFoundByWhatPeopleCallThem()
    {
        QFETCH(QString, typed);
        QFETCH(QString, control);
        m_window->openAsCopy(demo("greenhouse.retinex"));
        settle();
        QTest::keyClick(m_window.get(), Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier); // all is folded
        find(typed);
        QVERIFY2(!hits().isEmpty() && !hits().front().startsWith("Nothing"), qPrintable(typed));
        // Among the first; the arrow goes to it.
        auto* field = child<QLineEdit>("searchText");
        bool isFound = false;
        for (qsizetype row = 0; row < hits().size() && !isFound; ++row) {
            QTest::keyClick(field, Qt::Key_Return);
            QTest::qWait(20);
            QWidget* at = QApplication::focusWidget();
            QWidget* wanted = m_window->findChild<QWidget*>(control);
            isFound = wanted && (at == wanted || at->isAncestorOf(wanted) || wanted->isAncestorOf(at));
            if (isFound) {
                seeable(wanted);
                break;
            }
            find(typed);
            for (qsizetype i = 0; i <= row; ++i)
                QTest::keyClick(field, Qt::Key_Down);
        }
        QVERIFY2(isFound, qPrintable(hits().join('\n')));
    }

    void aSectionThatIsFoundStandsAtTheTopOfTheSheet()
    {
        m_window->openAsCopy(demo("greenhouse_evening.retinex"));
        settle();
        press(child<QToolButton>("passesSectionHeader"),
              QPoint(12, 10)); // what was pressed is left alone then
        find("curves");
        QCOMPARE(hits().front(), QStringLiteral("Curves: the section"));
        auto* text = child<QLineEdit>("searchText");
        const int below = text->mapTo(m_window.get(), QPoint(0, text->height())).y();
        const int list = child<QListWidget>("searchHits")->mapTo(m_window.get(), QPoint(0, 0)).y();
        QVERIFY2(list - below < 12, qPrintable(QString::number(list - below)));
        QTest::keyClick(text, Qt::Key_Return);
        auto* header = child<QToolButton>("curvesStepHeader");
        auto* area = child<QScrollArea>("sheetArea");
        QTRY_VERIFY(std::abs(header->mapTo(area->viewport(), QPoint(0, 0)).y()) < 30);
        settle();
        QVERIFY(std::abs(header->mapTo(area->viewport(), QPoint(0, 0)).y()) < 30);
    }

    void whatIsNotFoundIsSaidAndEscapeLeaves()
    {
        m_window->openAsCopy(demo("greenhouse_can.retinex"));
        settle();
        find("xyzzy");
        QCOMPARE(hits(), QStringList{"Nothing is called so"});
        QTest::keyClick(child<QLineEdit>("searchText"), Qt::Key_Return); // does nothing
        QTest::keyClick(child<QLineEdit>("searchText"), Qt::Key_Escape);
        QVERIFY(!child<QWidget>("settingSearch")->isVisible());
        QVERIFY(m_window->picture().hasFocus());
        press(child<QToolButton>("findSetting"));
        QVERIFY(child<QLineEdit>("searchText")->hasFocus() &&
                child<QLineEdit>("searchText")->text().isEmpty());
    }

    void theEmptyWindowOffersWhatWasOpen()
    {
        QVERIFY(child<QWidget>("startPage")->isVisible());
        for (const char* name : {"sheet", "toolRow", "compareBar"})
            QVERIFY2(!child<QWidget>(name)->isVisible(), name);
        const QString file = ownProject("kept.retinex");
        drop({file});
        m_window->close();
        QVERIFY(!recentPicture(file).isNull());
        anew();
        auto recent = m_window->findChildren<QToolButton*>(QStringLiteral("startRecent"));
        QVERIFY(!recent.isEmpty());
        QCOMPARE(recent.front()->text(), QStringLiteral("kept.retinex"));
        // Its picture: not the even field that stands for none.
        const QImage icon = recent.front()->icon().pixmap(kRecentPicture).toImage();
        QSet<QRgb> colours;
        for (int x = 0; x < icon.width(); x += 4)
            for (int y = 0; y < icon.height(); y += 4)
                colours.insert(icon.pixel(x, y));
        QVERIFY(colours.size() > 50);
        press(recent.front());
        settle();
        QCOMPARE(document().file(), file);
        QVERIFY(child<QWidget>("sheet")->isVisible() && !child<QWidget>("startPage")->isVisible());
    }
};

QTEST_MAIN(TestWindowSheet)
#include "test_window_sheet.moc"
