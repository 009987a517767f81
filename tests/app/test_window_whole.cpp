// The whole window as a person sees it: every state at every size, in English and in longer words.
#include "app/dialogs/recovery_dialog.h"
#include "app/longer_words.h"
#include "app/window_audit.h"
#include "app/window_driver.h"
#include "support/deep_pictures.h"

#include <QDialog>
#include <QMap>
#include <QPushButton>
#include <QToolButton>

using namespace retinex;
using namespace retinex::app;

class TestWindowWhole : public test::WindowDriver
{
    Q_OBJECT

    static constexpr QSize kSizes[] = {{900, 520}, {1024, 700}, {1280, 800}, {1920, 1080}};
    test::LongerWords m_longer;
    QMap<QString, QStringList> m_flaws; ///< with the states that they were seen in

    void look(QWidget& root, const QString& state)
    {
        for (const QString& flaw : test::flawsOf(root))
            m_flaws[flaw] << state;
    }
    void lookAt(const QString& state)
    {
        for (const QSize size : kSizes) {
            m_window->resize(size);
            for (int i = 0; i < 3; ++i)
                QApplication::processEvents();
            settle();
            look(*m_window, QStringLiteral("%1 at %2x%3").arg(state).arg(size.width()).arg(size.height()));
        }
        for (const QString& flaw : test::outOfTabsReach(*m_window))
            m_flaws[flaw] << state;
    }
    /// Triggers what is found by its English words, and looks at the dialog that opens.
    void lookAtDialog(const char* context, const char* words)
    {
        QAction* action = nullptr;
        const QString text = QCoreApplication::translate(context, words);
        for (QAction* each : m_window->findChildren<QAction*>())
            if (each->text() == text && each->isEnabled()) action = each;
        if (!action) qFatal("no action %s", qPrintable(text));
        bool seen = false;
        QTimer timer;
        connect(&timer, &QTimer::timeout, this, [&] {
            QWidget* dialog = QApplication::activeModalWidget();
            for (QWidget* widget : QApplication::topLevelWidgets()) // or one that work goes on beside
                if (qobject_cast<QDialog*>(widget) && widget->isVisible()) dialog = widget;
            if (!dialog) return;
            timer.stop();
            QTest::qWait(300);
            look(*dialog, QLatin1String(words));
            for (const QString& flaw : test::outOfTabsReach(*dialog))
                m_flaws[flaw] << QLatin1String(words);
            seen = true;
            dialog->close();
        });
        timer.start(100);
        action->trigger();
        QTRY_VERIFY2(seen, words);
    }
    void verify()
    {
        for (auto i = m_flaws.cbegin(); i != m_flaws.cend(); ++i)
            qInfo().noquote() << i.key()
                              << QStringLiteral("(%1 times, first: %2)").arg(i->size()).arg(i->front());
        const auto count = m_flaws.size();
        m_flaws.clear();
        QCOMPARE(count, 0);
    }
    QString path(const char* name) const { return m_dir.filePath(QLatin1String(name)); }
    void openDemo(const char* name = "greenhouse.retinex")
    {
        m_window->openAsCopy(QStringLiteral(RETINEX_DEMO "/") + QLatin1String(name));
        settle();
    }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        m_window->picture().setFocus();
        QTest::keyClick(&m_window->picture(), key, modifiers);
        settle();
    }
    void rename(const std::function<void(project::Project&)>& change)
    {
        project::Project changed = project();
        change(changed);
        document().edit(QStringLiteral("rename"), changed);
        settle();
    }

private slots:
    void initTestCase_data()
    {
        QTest::addColumn<bool>("longer");
        QTest::newRow("English") << false;
        QTest::newRow("longer words") << true;
    }
    void init()
    {
        QFETCH_GLOBAL(bool, longer);
        QSettings().clear();
        if (longer) QCoreApplication::installTranslator(&m_longer);
        WindowDriver::init();
    }
    void cleanup()
    {
        WindowDriver::cleanup();
        QCoreApplication::removeTranslator(&m_longer);
        m_flaws.clear();
    }

    void nothingIsOpen()
    {
        lookAt(QStringLiteral("nothing open"));
        verify();
    }
    void somethingIsBeingOpened()
    {
        // Large enough to take a while.
        QCOMPARE(test::runProgram("oiiotool",
                                  {"--pattern", "noise", "4096x4096", "5", "--chnames", "R,G,B,A,Z", "-d",
                                   "half", "--compression", "zip", "-o", "large.exr"},
                                  m_dir.path())
                     .exitCode,
                 0);
        m_window->open({path("large.exr")});
        for (int i = 0; i < 12; ++i)
            QApplication::processEvents();
        QVERIFY(!document().isOpen());
        look(*m_window, QStringLiteral("opening"));
        settle();
        verify();
    }
    void viewsOfASequence()
    {
        openDemo();
        for (int mode = 0; mode < 7; ++mode) {
            m_window->setMode(static_cast<ViewMode>(mode));
            settle();
            lookAt(QStringLiteral("view %1").arg(mode + 1));
        }
        verify();
    }
    void aSequenceWithoutMarks()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        lookAt(QStringLiteral("sequence without marks"));
        verify();
    }
    void aStill()
    {
        openDemo("greenhouse_can.retinex");
        lookAt(QStringLiteral("still"));
        verify();
    }
    void greyPassesWithoutAlpha()
    {
        const QString frame = QStringLiteral(RETINEX_DEMO "/greenhouse.0010.exr");
        const auto tool = [&](const QStringList& arguments) {
            QCOMPARE(test::runProgram("oiiotool", arguments, m_dir.path()).exitCode, 0);
        };
        tool({frame, "--ch", "R,G,B", "-d", "uint8", "-o", "grey_shot.png"});
        tool({frame, "--ch", "Z", "--mulc", "0.1", "-d", "uint8", "-o", "grey_shot_Z.png"});
        drop({path("grey_shot.png"), path("grey_shot_Z.png")});
        lookAt(QStringLiteral("grey passes"));
        verify();
    }
    void aDeepFile()
    {
        test::writeDeep(path("cloud.exr").toStdString(), test::stack(64, {test::sample(0.5F, 1.0F, 2.0F)}));
        drop({path("cloud.exr")});
        lookAt(QStringLiteral("deep"));
        verify();
    }
    void allThatCanBeChosen()
    {
        openDemo("greenhouse_night.retinex");
        key(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier); // a painted guard
        key(Qt::Key_Return);
        rename([](project::Project& changed) {
            auto& settings = changed.shots.front().settings;
            settings.glows.resize(2);
            settings.glows[0].id = settings.glows[0].name = "g1";
            settings.glows[1].id = settings.glows[1].name = "g2";
        });
        lookAt(QStringLiteral("regions, inserts, glows"));
        for (const char* list : {"inserts", "regions", "glows"})
            if (auto* found = m_window->findChild<QListWidget*>(QLatin1String(list))) found->setCurrentRow(0);
        settle();
        lookAt(QStringLiteral("chosen"));
        verify();
    }
    void manySubjectsAtOneDistance()
    {
        openDemo("greenhouse_sign.retinex");
        lookAt(QStringLiteral("subjects on a sign"));
        verify();
    }
    void longNames()
    {
        openDemo("greenhouse_evening.retinex");
        const std::string name =
            "the reflection of the second lamp in the window behind the orchids, upper half";
        rename([&](project::Project& changed) {
            changed.shots.front().name = name;
            changed.subjects.front().name = name;
            for (auto& delivery : changed.deliveries)
                delivery.name = name;
            changed.mattes.front().name = name;
        });
        lookAt(QStringLiteral("long names"));
        verify();
    }
    void comparisonsAndTools()
    {
        openDemo();
        key(Qt::Key_W);
        lookAt(QStringLiteral("wipe"));
        key(Qt::Key_W);
        key(Qt::Key_G);
        lookAt(QStringLiteral("drawing a guard"));
        key(Qt::Key_Escape);
        key(Qt::Key_U);
        lookAt(QStringLiteral("subjects"));
        key(Qt::Key_F);
        m_window->tell(QStringLiteral(
            "The file greenhouse.0013.exr is not there any more. Look for it under another name, "
            "or take the frames before and after it."));
        lookAt(QStringLiteral("message"));
        verify();
    }
    void dialogs()
    {
        openDemo();
        lookAtDialog("retinex::app::MainWindow", "&Preferences…");
        lookAtDialog("retinex::app::MainWindow", "&Manual");
        lookAtDialog("retinex::app::MainWindow", "&Shortcuts");
        lookAtDialog("retinex::app::MainWindow", "M&essages…");
        lookAtDialog("retinex::app::TimeController", "Cop&y settings to other shots…");
        lookAtDialog("retinex::app::DeliveryController", "De&livery queue…");
        lookAtDialog("retinex::app::TimeController", "Brac&ket…");
        lookAtDialog("retinex::app::TimeController", "Focus from t&wo positions…");
        verify();
    }
};

QTEST_MAIN(TestWindowWhole)
#include "test_window_whole.moc"
