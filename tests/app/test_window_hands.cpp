// The window in a person's hands: where the keys are, that nothing moves under the pointer, and the first
// minutes. Mouse and keys only.
#include "app/window_driver.h"

#include <QAccessible>
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QDir>
#include <QListWidget>
#include <QMenu>
#include <QMenuBar>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSet>
#include <QSpinBox>
#include <QTextBrowser>
#include <QToolButton>

using namespace retinex;
using namespace retinex::app;

class TestWindowHands : public test::WindowDriver
{
    Q_OBJECT

    QString demoFile(int frame) const
    {
        return QStringLiteral(RETINEX_DEMO "/greenhouse.%1.exr").arg(frame, 4, 10, QLatin1Char('0'));
    }
    void openDemo() { drop({QStringLiteral(RETINEX_DEMO "/greenhouse.retinex")}); }
    bool pictureHasKeys() { return m_window->focusWidget() == &m_window->picture(); }
    /// To whatever has the keys.
    using WindowDriver::press;
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        QTest::keyClick(QApplication::focusWidget(), key, modifiers);
    }
    void type(const QString& text) { QTest::keyClicks(QApplication::focusWidget(), text); }
    /// Space plays and arrows step, wherever the keys were.
    void keysAreTheWindows()
    {
        const int before = document().frame();
        press(Qt::Key_Right);
        QCOMPARE(document().frame(), before + 1);
        press(Qt::Key_Space);
        QVERIFY(m_window->playback().isPlaying());
        press(Qt::Key_Space);
        QVERIFY(!m_window->playback().isPlaying());
        document().setFrame(before);
        settle();
    }

private slots:
    void aFieldGivesTheKeysBackAfterReturnAndEscape()
    {
        openDemo();
        NumberField& fStop = field("lens/fStop");
        QTest::mouseClick(&fStop, Qt::LeftButton);
        QVERIFY(fStop.isTyping());
        type(QStringLiteral("5.6"));
        press(Qt::Key_Return);
        QCOMPARE(document().values().fStop, 5.6);
        QVERIFY(pictureHasKeys());
        keysAreTheWindows();
        QTest::mouseClick(&fStop, Qt::LeftButton);
        type(QStringLiteral("11"));
        press(Qt::Key_Escape);
        QCOMPARE(document().values().fStop, 5.6);
        QVERIFY(pictureHasKeys());
        press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(document().values().fStop, 1.4);
    }

    void theFrameBoxDoesTheSame()
    {
        openDemo();
        press(Qt::Key_G, Qt::ControlModifier);
        auto* box = child<QSpinBox>("frameNumber");
        QVERIFY(box->hasFocus());
        type(QStringLiteral("23"));
        QVERIFY(document().frame() != 23); // not at 2 on the way there
        QVERIFY(document().frame() != 2);
        press(Qt::Key_Return);
        QCOMPARE(document().frame(), 23);
        QVERIFY(pictureHasKeys());
        settle();
        press(Qt::Key_G, Qt::ControlModifier);
        type(QStringLiteral("7"));
        press(Qt::Key_Escape);
        QCOMPARE(document().frame(), 23);
        QCOMPARE(box->text(), QStringLiteral("23"));
        QVERIFY(pictureHasKeys());
        press(Qt::Key_Right, Qt::ShiftModifier);
        QCOMPARE(document().frame(), 33);
        press(Qt::Key_Left, Qt::ShiftModifier);
        press(Qt::Key_Left, Qt::ShiftModifier);
        QCOMPARE(document().frame(), 13);
        settle();
    }

    void aClickInThePictureEndsTheTypingAndNoMore()
    {
        openDemo();
        const double focus = document().values().focusDistance;
        NumberField& fStop = field("lens/fStop");
        QTest::mouseClick(&fStop, Qt::LeftButton);
        type(QStringLiteral("8"));
        QTest::mouseClick(&m_window->picture(), Qt::LeftButton, {}, m_window->picture().viewPoint(330, 280));
        QCOMPARE(document().values().fStop, 8.0);
        QCOMPARE(document().values().focusDistance, focus);
        QVERIFY(pictureHasKeys());
        settle();
        QTest::mouseClick(&m_window->picture(), Qt::LeftButton, {}, m_window->picture().viewPoint(330, 280));
        QVERIFY(document().values().focusDistance != focus);
        settle();
    }

    void whileAFieldIsChosenButNotTypedInKeysAreTheWindows()
    {
        openDemo();
        NumberField& fStop = field("lens/fStop");
        drag(&fStop, QPoint(30, 10), QPoint(60, 10)); // scrubbed
        QVERIFY(fStop.hasFocus() && !fStop.isTyping());
        keysAreTheWindows();
        const std::size_t marks = document().marks().size();
        document().setFrame(12);
        fStop.setFocus();
        press(Qt::Key_M);
        QCOMPARE(document().marks().size(), marks + 1);
        type(QStringLiteral("4")); // a digit begins a number
        QVERIFY(fStop.isTyping());
        press(Qt::Key_Return);
        QCOMPARE(document().values().fStop, 4.0);
    }

    void aChoiceFromAListGivesTheKeysBack()
    {
        openDemo();
        auto* unit = child<QComboBox>("unit");
        press(unit);
        QTRY_VERIFY(unit->view()->isVisible());
        QTest::keyClick(unit->view(), Qt::Key_Down);
        QTest::keyClick(unit->view(), Qt::Key_Return);
        QCOMPARE(project().unit, optics::Unit::centimetre);
        QTRY_VERIFY(pictureHasKeys());
        keysAreTheWindows();
    }

    void aClickOnAButtonTakesNoKeys()
    {
        openDemo();
        press(child<QToolButton>("nextFrame"));
        press(child<QToolButton>("setMark"));
        QVERIFY(pictureHasKeys());
        press(child<QCheckBox>("mattesAtEdges"), QPoint(8, 8));
        QVERIFY(pictureHasKeys());
        settle();
    }

    void tabGoesThroughTheSheetInTheOrderOfTheEye()
    {
        openDemo();
        QCoreApplication::processEvents(); // rows that have just come
        field("focus/distance").setFocus(Qt::TabFocusReason);
        QWidget* sheet = m_window->findChild<QWidget*>(QStringLiteral("sheet"));
        int last = -1;
        int steps = 0;
        QWidget* row = nullptr;
        for (; steps < 200; ++steps) {
            QWidget* now = QApplication::focusWidget();
            if (!sheet->isAncestorOf(now)) break;
            auto* content = sheet->findChild<QScrollArea*>()->widget();
            const bool isPinned = !content->isAncestorOf(now);
            const int y = isPinned ? -1 : now->mapTo(content, QPoint(0, now->height() / 2)).y();
            QVERIFY2(y >= last - 16, qPrintable(now->objectName() + QStringLiteral(" after ") +
                                                (row ? row->objectName() : QString())));
            last = std::max(last, y);
            row = now;
            press(Qt::Key_Tab);
        }
        QVERIFY(steps > 15);
    }

    void profileDeskAndLanesAreWorkedByKeys()
    {
        openDemo();
        document().setFrame(10);
        auto* profile = child<DepthProfile>("depthProfile");
        profile->setFocus(Qt::TabFocusReason);
        const double focus = document().values().focusDistance;
        press(Qt::Key_Up);
        QVERIFY(std::abs(project().focusDistanceAt(10) - focus * std::exp(0.01)) < 1e-9);
        press(Qt::Key_PageUp, Qt::ShiftModifier);
        QVERIFY(std::abs(document().values().fStop - 1.4 * std::exp(0.1)) < 1e-6);
        auto* desk = child<FocusDesk>("focusDesk");
        desk->setFocus(Qt::TabFocusReason);
        const double before = project().focusDistanceAt(10);
        press(Qt::Key_Down);
        QVERIFY(std::abs(project().focusDistanceAt(10) - before / 1.01) < 1e-9);
        const std::size_t marks = document().marks().size();
        document().setFrame(14);
        press(Qt::Key_Return); // sets one
        QCOMPARE(document().marks().size(), marks + 1);
        press(Qt::Key_Return); // and opens it
        QTRY_VERIFY(child<QWidget>("markCard")->isVisible());
        child<QWidget>("markCard")->hide();
        document().setMarkHere(setting::fStop);
        auto* lanes = child<MarkLanes>("markLanes");
        QTRY_VERIFY(lanes->isVisible());
        lanes->setFocus(Qt::TabFocusReason);
        document().setFrame(16);
        press(Qt::Key_Return);
        QCOMPARE(document().marks(setting::fStop).size(), std::size_t(2));
        press(Qt::Key_Delete);
        QCOMPARE(document().marks(setting::fStop).size(), std::size_t(1));
        settle();
    }

    void nothingMovesWhenMessagesAndBarsComeAndGo()
    {
        openDemo();
        const QRect picture = inWindow(m_window->picture());
        m_window->tell(QStringLiteral("Something went wrong, and here is a long sentence that says what."));
        QVERIFY(child<MessageBar>("messageBar")->isVisible());
        QCOMPARE(inWindow(m_window->picture()), picture);
        QVERIFY(picture.contains(inWindow(*child<QWidget>("messageBar"))));
        for (const Qt::Key view : {Qt::Key_3, Qt::Key_4, Qt::Key_5, Qt::Key_7, Qt::Key_2, Qt::Key_1}) {
            press(view);
            settle();
            QCOMPARE(inWindow(m_window->picture()), picture);
        }
        press(Qt::Key_W);
        settle();
        QCOMPARE(inWindow(m_window->picture()), picture);
        press(Qt::Key_W);
        answerFileDialog(m_dir.filePath("one.exr"));
        press(Qt::Key_E, Qt::ControlModifier);
        QCOMPARE(inWindow(m_window->picture()), picture);
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("one.exr"), 30'000);
        QCOMPARE(inWindow(m_window->picture()), picture);
    }

    void reversingTwiceAtTheSamePlaceIsBack()
    {
        openDemo();
        auto* reversed = m_window->findChild<QAbstractButton*>(QStringLiteral("reverse"));
        QVERIFY(reversed);
        auto* sheet = m_window->findChild<QWidget*>(QStringLiteral("sheet"))->findChild<QScrollArea*>();
        sheet->ensureWidgetVisible(reversed);
        const QPoint at = reversed->mapTo(m_window.get(), reversed->rect().center());
        for (const bool expected : {true, false}) {
            QWidget* under = m_window->childAt(at);
            QTest::mouseClick(under, Qt::LeftButton, {}, under->mapFrom(m_window.get(), at));
            QCOMPARE(document().values().reading.reversed, expected);
            settle();
        }
    }

    void whatCannotBeIsRefusedWithWhatFits()
    {
        openDemo();
        const project::Settings before = document().values();
        for (const auto& [name, text] : {std::pair{"lens/fStop", "0"},
                                         {"lens/fStop", "inf"},
                                         {"lens/fStop", "soft"},
                                         {"focus/distance", "0"},
                                         {"focus/distance", "inf"},
                                         {"focus/distance", "-2 m"},
                                         {"lens/focalLengthMm", "1e9"}}) {
            QTest::mouseClick(&field(name), Qt::LeftButton);
            QTest::keyClick(&field(name), Qt::Key_A, Qt::ControlModifier);
            type(QLatin1String(text));
            press(Qt::Key_Return);
            QVERIFY2(document().values() == before, name);
            QVERIFY2(message().contains(QLatin1String(text)) && message().contains("Nothing was changed"),
                     qPrintable(message()));
            QVERIFY(pictureHasKeys());
        }
        QVERIFY(message().contains("it takes"));
    }

    void limitsSayThatTheyAreRadiiAndTakeAnyWayOfWritingIt()
    {
        openDemo();
        NumberField& limit = field("blur/limitFarPx");
        for (const auto& [text, px] : {std::pair{"20", 20.0}, {"30 px", 30.0}, {"40px radius", 40.0}}) {
            typeInto(limit, QLatin1String(text));
            QCOMPARE(document().values().blur.limitFarPx, px);
        }
        QCOMPARE(limit.text(), QStringLiteral("40 px radius"));
        typeInto(field("lens/focalLengthMm"), QStringLiteral("85m")); // metres are no millimetres
        QVERIFY2(message().contains("85m"), qPrintable(message()));
        QCOMPARE(document().values().focalLengthMm, 40.0);
    }

    void aDoubleClickSelectsAndAKeyGoesBackToTheDefault()
    {
        openDemo();
        NumberField& accepted = field("lens/acceptedCocMm");
        typeInto(accepted, QStringLiteral("0.05"));
        QCOMPARE(document().values().acceptedCocMm, 0.05);
        QTest::mouseDClick(&accepted, Qt::LeftButton);
        QVERIFY(accepted.isTyping());
        QCOMPARE(accepted.selectedText(), accepted.text());
        QCOMPARE(document().values().acceptedCocMm, 0.05);
        press(Qt::Key_Backspace, Qt::ControlModifier);
        QCOMPARE(document().values().acceptedCocMm, project::Settings{}.acceptedCocMm);
    }

    void withNothingOpenThereIsAWayToBegin()
    {
        QVERIFY(child<QWidget>("startPage")->isVisible());
        m_window->setDemo(QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"));
        press(child<QPushButton>("startDemo"));
        settle();
        QVERIFY(document().isOpen());
        QVERIFY(!child<QWidget>("startPage")->isVisible());
        drop({demoFile(9)});
        // The next window offers what was open.
        document().setUnmodified();
        m_window = std::make_unique<MainWindow>();
        m_window->resize(1280, 800);
        m_window->show();
        const auto recent = m_window->findChildren<QToolButton*>(QStringLiteral("startRecent"));
        QVERIFY(!recent.isEmpty());
        QVERIFY(recent.front()->text().contains("greenhouse.0001.exr"));
        QTest::mouseClick(recent.front(), Qt::LeftButton);
        settle();
        QVERIFY(document().isOpen());
    }

    void theFrameThatWasChosenIsShown()
    {
        drop({demoFile(31)});
        QCOMPARE(document().frame(), 31);
        QCOMPARE(m_window->picture().picture().frame, 31);
    }

    void aProjectIsNamedAfterItsPassesAndASlipIsSaid()
    {
        QVERIFY(QFile::copy(demoFile(3), m_dir.filePath("plant.exr")));
        drop({m_dir.filePath("plant.exr")});
        QString offered;
        QTimer::singleShot(300, this, [&] {
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            auto* name = dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
            offered = name->text();
            name->setText(m_dir.filePath("first.png"));
            QTest::keyClick(name, Qt::Key_Return);
        });
        press(Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(offered, QStringLiteral("plant.retinex"));
        QVERIFY(QFile::exists(m_dir.filePath("first.retinex")));
        QVERIFY(!QFile::exists(m_dir.filePath("first.png.retinex")));
        QVERIFY2(message().contains("first.retinex"), qPrintable(message()));
    }

    void whatIsLeftAsideIsSaid()
    {
        for (const char* name : {"still1a.exr", "still2b.exr"})
            QVERIFY(QFile::copy(demoFile(7), m_dir.filePath(QLatin1String(name))));
        drop({m_dir.filePath("still1a.exr"), m_dir.filePath("still2b.exr")});
        QVERIFY(QString::fromStdString(project().colour.file.string()).endsWith("still1a.exr"));
        QVERIFY2(message().contains("left aside: still2b.exr"), qPrintable(message()));
        QCOMPARE(project().mattes.size(), std::size_t(4)); // of the one that was taken
        document().setUnmodified();
        QDir().mkpath(m_dir.filePath("projects"));
        for (const char* name : {"projects/a.retinex", "projects/b.retinex"})
            document().save(m_dir.filePath(QLatin1String(name)));
        drop({m_dir.filePath("projects")});
        QVERIFY(document().file().endsWith("a.retinex"));
        QVERIFY2(message().contains("also has b.retinex"), qPrintable(message()));
    }

    void aColourPassWithoutDepthAsksForIt()
    {
        const auto grey = [](int x, int) { return 0.01F * static_cast<float>(x); };
        test::writeChannels(m_dir.filePath("colour.exr").toStdString(), 32, 24,
                            {{"R", true, grey},
                             {"G", true, [](int, int y) { return 0.02F * static_cast<float>(y); }},
                             {"B", true, [](int, int) { return 0.3F; }}});
        test::writeChannels(m_dir.filePath("far.exr").toStdString(), 32, 24,
                            {{"Z", false, [](int x, int) { return 1.0F + static_cast<float>(x); }}});
        drop({m_dir.filePath("colour.exr")});
        QVERIFY(document().isOpen()); // with a distance for everything
        QVERIFY2(message().contains("colour.exr has no depth"), qPrintable(message()));
        answerFileDialog(m_dir.filePath("far.exr"));
        press(child<QToolButton>("messageAction"));
        settle();
        QVERIFY(document().isOpen());
        QVERIFY(QString::fromStdString(project().depth.file.string()).endsWith("far.exr"));
    }

    void whatWasSaidCanBeReadAgain()
    {
        m_window->tell(QStringLiteral("the first thing"));
        m_window->tell(QStringLiteral("the second thing"));
        press(child<QToolButton>("messageClose"));
        QString text;
        QTimer::singleShot(200, this, [&] {
            QWidget* log = QApplication::activeModalWidget();
            text = log->findChild<QPlainTextEdit*>(QStringLiteral("messageLogText"))->toPlainText();
            log->close();
        });
        for (QAction* action : m_window->findChildren<QAction*>())
            if (action->text().contains("essages")) action->trigger();
        QVERIFY2(text.indexOf("second") < text.indexOf("first") && text.contains("first"), qPrintable(text));
    }

    void exposureAndChannelAreForLookingOnly()
    {
        openDemo();
        document().setFrame(10);
        settle();
        const QImage plain = m_window->picture().picture().image;
        const float value = m_window->picture().picture().values->plane(0).at(300, 200);
        press(Qt::Key_Up, Qt::ControlModifier);
        press(Qt::Key_Up, Qt::ControlModifier);
        settle();
        const Picture bright = m_window->picture().picture();
        QCOMPARE(bright.looking.stops, 1.0);
        QVERIFY(bright.image != plain);
        QCOMPARE(bright.values->plane(0).at(300, 200), value); // the numbers are the picture's
        // The view is plain sRGB: twice the light is what the brighter picture shows (IEC 61966-2-1).
        const auto shown = [](double v) {
            v = std::min(1.0, std::max(0.0, v));
            return v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1.0 / 2.4) - 0.055;
        };
        const auto linear = [](double v) {
            return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
        };
        const double before = linear(qGreen(plain.pixel(420, 330)) / 255.0);
        QVERIFY(std::abs(qGreen(bright.image.pixel(420, 330)) - 255.0 * shown(2.0 * before)) < 3.0);
        auto* channel = child<QComboBox>("lookChannel");
        channel->setFocus();
        press(Qt::Key_Down); // red
        settle();
        const QRgb red = m_window->picture().picture().image.pixel(420, 330);
        QCOMPARE(qRed(red), qGreen(red));
        QCOMPARE(qRed(red), qBlue(red));
        QVERIFY(!document().isModified());
        press(Qt::Key_0, Qt::ControlModifier);
        settle();
        QCOMPARE(m_window->picture().picture().image, plain);
        QVERIFY(m_window->picture().picture().looking.isPlain());
    }

    void menusAreGreyWhereNothingCanBeDoneAndEachLetterIsThereOnce()
    {
        const auto actionNamed = [&](const QString& words) -> QAction* {
            for (QAction* action : m_window->findChildren<QAction*>())
                if (action->text().remove(QLatin1Char('&')) == words) return action;
            return nullptr;
        };
        for (const char* words :
             {"Save", "Export this frame…", "Set mark", "Ten frames on", "Compare by a wipe"}) {
            QVERIFY2(actionNamed(QString::fromUtf8(words)), words);
            QVERIFY2(!actionNamed(QString::fromUtf8(words))->isEnabled(), words);
        }
        QVERIFY(actionNamed(QStringLiteral("Open…"))->isEnabled());
        for (const QAction* top : m_window->menuBar()->actions()) {
            QSet<QChar> letters;
            for (const QAction* action : top->menu()->actions()) {
                const int at = action->text().indexOf(QLatin1Char('&'));
                if (at < 0) continue;
                const QChar letter = action->text().at(at + 1).toLower();
                QVERIFY2(!letters.contains(letter),
                         qPrintable(top->text() + QStringLiteral(": ") + action->text()));
                letters.insert(letter);
            }
        }
        QVERIFY(QFile::copy(demoFile(3), m_dir.filePath("still.exr")));
        drop({m_dir.filePath("still.exr")});
        QVERIFY(actionNamed(QStringLiteral("Save"))->isEnabled());
        QVERIFY(!actionNamed(QStringLiteral("Set mark"))->isEnabled()); // a still has no time
        openDemo();
        QVERIFY(actionNamed(QStringLiteral("Set mark"))->isEnabled());
    }

    void thePictureHasAMenuOfWhatIsUnderThePointer()
    {
        openDemo();
        const double focus = document().values().focusDistance;
        const QPoint at = m_window->picture().viewPoint(330, 280);
        QTimer::singleShot(200, this, [&] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            QVERIFY(menu);
            QCOMPARE(menu->objectName(), QStringLiteral("pictureMenu"));
            QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(menu->actions()[0]).center());
        });
        QContextMenuEvent event(QContextMenuEvent::Mouse, at, m_window->picture().mapToGlobal(at));
        QApplication::sendEvent(&m_window->picture(), &event);
        QVERIFY(document().values().focusDistance != focus);
        settle();
    }

    void aNameThatIsTakenIsSaid()
    {
        openDemo();
        press(Qt::Key_T);
        press(Qt::Key_T);
        settle();
        auto* list = child<QListWidget>("takes");
        QCOMPARE(list->count(), 2);
        const QString other = list->item(0)->text();
        list->setCurrentRow(1);
        list->editItem(list->item(1));
        auto* editor = list->findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, other);
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_VERIFY2(message().contains(other) && message().contains("already"), qPrintable(message()));
        QVERIFY(list->item(1)->text() != other);
    }

    void theManualBeginsWithTenMinutesAndIsSearched()
    {
        m_window->showManual();
        auto* manual = m_window->findChild<QDialog*>(QStringLiteral("manual"));
        auto* text = manual->findChild<QTextBrowser*>(QStringLiteral("manualText"));
        QVERIFY(text->toPlainText().startsWith(QStringLiteral("The first ten minutes")));
        auto* search = manual->findChild<QLineEdit*>(QStringLiteral("manualSearch"));
        search->setFocus();
        QTest::keyClicks(search, QStringLiteral("cryptomatte"));
        auto* chapters = manual->findChild<QListWidget*>(QStringLiteral("manualChapters"));
        QVERIFY(chapters->item(0)->isHidden());
        QVERIFY(text->toPlainText().contains(QStringLiteral("Cryptomatte")));
        QVERIFY(!text->extraSelections().isEmpty());
        QTest::keyClick(search, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClick(search, Qt::Key_Delete);
        QVERIFY(!chapters->item(0)->isHidden());
        manual->close();
    }

    void whatTakesTheKeysHasANameAndValuesAreOnTheControl()
    {
        openDemo();
        const auto access = [](QWidget* widget) { return QAccessible::queryAccessibleInterface(widget); };
        for (QWidget* widget : m_window->findChildren<QWidget*>()) {
            if (!widget->isVisible() || (widget->focusPolicy() & Qt::TabFocus) == 0) continue;
            if (qobject_cast<QScrollArea*>(widget) || widget->inherits("QMenuBar")) continue;
            if (widget->parentWidget()->inherits("QComboBox")) continue;
            if (widget->objectName().startsWith(QStringLiteral("qt_"))) continue;
            QVERIFY2(!access(widget)->text(QAccessible::Name).isEmpty(),
                     qPrintable(QString::fromLatin1(widget->metaObject()->className()) + QLatin1Char(' ') +
                                widget->objectName()));
        }
        const auto value = [&](const char* name) {
            QWidget* widget = child<QWidget>(name);
            const QString called = access(widget)->text(QAccessible::Name);
            const QString text = access(widget)->text(QAccessible::Value);
            return called.contains(text) ? called : called + QStringLiteral(": ") + text;
        };
        QVERIFY2(value("sharpZone").startsWith("Sharp zone: 0.") && value("sharpZone").contains(" to "),
                 qPrintable(value("sharpZone")));
        QVERIFY2(value("cocAtInfinity").startsWith("CoC at infinity: ") &&
                     value("cocAtInfinity").contains("px"),
                 qPrintable(value("cocAtInfinity")));
        QVERIFY2(value("subjectDistance").contains(" m"), qPrintable(value("subjectDistance")));
        QCOMPARE(value("lens/fStop"), QStringLiteral("f-stop: f/1.4"));
        QCOMPARE(value("reading/kind"), QStringLiteral("Reading: distance from camera plane"));
    }

    // 1920 x 1200 at twice the scale is 960 x 600.
    void everythingFitsASmallWindow()
    {
        openDemo();
        m_window->resize(940, 560);
        settle();
        QCOMPARE(m_window->size(), QSize(940, 560));
        for (QWidget* widget : m_window->findChildren<QWidget*>()) {
            const bool isControl =
                qobject_cast<QAbstractButton*>(widget) || qobject_cast<NumberField*>(widget);
            if (!isControl || !widget->isVisible()) continue;
            QWidget* sheet = m_window->findChild<QWidget*>(QStringLiteral("sheet"));
            if (sheet->isAncestorOf(widget)) continue; // it scrolls
            QVERIFY2(m_window->rect().contains(inWindow(*widget)), qPrintable(widget->objectName()));
            for (QWidget* other : widget->parentWidget()->findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
                if (other != widget && other->isVisible() && qobject_cast<QAbstractButton*>(other))
                    QVERIFY2(!widget->geometry().intersects(other->geometry()),
                             qPrintable(widget->objectName() + QStringLiteral(" lies over ") +
                                        other->objectName()));
            if (auto* button = qobject_cast<QToolButton*>(widget);
                button && !button->text().isEmpty() && button->toolButtonStyle() != Qt::ToolButtonIconOnly)
                QVERIFY2(button->fontMetrics().horizontalAdvance(button->text()) <= button->width() - 4,
                         qPrintable(button->text()));
        }
        QVERIFY(field("focus/distance").visibleRegion().boundingRect().height() > 10);
        QVERIFY(m_window->picture().height() >= 160);
    }
};

QTEST_MAIN(TestWindowHands)
#include "test_window_hands.moc"
