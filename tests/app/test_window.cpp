// The real window, driven by mouse and keys.
#include "app/window_driver.h"
#include "core/colour/input_space.h"
#include "core/passes/exr/exr_file.h"
#include "core/project/file/project_file.h"
#include "support/test_files.h"

#include <QClipboard>
#include <QDir>
#include <QImage>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>
#include <cmath>

using namespace retinex;
using namespace retinex::app;

class TestWindow : public test::WindowDriver
{
    Q_OBJECT

private slots:
    // The main job from end to end: drop the demo, click on the can, read the distance, export, compare with
    // the CLI.
    void clickingTheCanFocusesOnItAndExportEqualsTheCli()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0010.exr")});
        QCOMPARE(project().firstFrame, 1);
        QCOMPARE(project().lastFrame, 48);
        child<QSpinBox>("frameNumber")->setValue(10);
        settle();
        // The can's middle, from its matte.
        const auto matte =
            passes::readExrChannels(RETINEX_DEMO "/greenhouse.0010.exr", 0, {"matte.can", "Z"}).planes;
        double sx = 0;
        double sy = 0;
        double count = 0;
        for (int y = 0; y < 360; ++y) {
            for (int x = 0; x < 640; ++x) {
                if (matte[0].at(x, y) > 0.99F && matte[1].at(x, y) < 2.6F) {
                    sx += x;
                    sy += y;
                    ++count;
                }
            }
        }
        QVERIFY(count > 500);
        int x = 0;
        int y = 0;
        double best = 1e9; // the pixel of the can nearest to its centre
        for (int py = 0; py < 360; ++py) {
            for (int px = 0; px < 640; ++px) {
                const double away = std::hypot(px - sx / count, py - sy / count);
                if (matte[0].at(px, py) > 0.999F && away < best) {
                    best = away;
                    x = px;
                    y = py;
                }
            }
        }
        const double truth = matte[1].at(x, y);
        QTest::mouseClick(&m_window->picture(), Qt::LeftButton, {}, m_window->picture().viewPoint(x, y));
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("set focus distance"));
        QVERIFY(std::abs(project().base().focusDistance - truth) < 0.01);
        QCOMPARE(field("focus/distance").text(), QStringLiteral("%1 m").arg(truth, 0, 'f', 2));

        typeInto(field("lens/fStop"), QStringLiteral("f/1.4"));
        typeInto(field("lens/focalLengthMm"), QStringLiteral("40 mm"));
        typeInto(field("iris/blades"), QStringLiteral("7"));
        QCOMPARE(project().base().iris.blades, 7);
        settle();
        const QString saved = m_dir.filePath("window.exr");
        answerFileDialog(saved);
        press(child<QPushButton>("exportFrame"));
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("window.exr"), 30'000);
        const QString png = m_dir.filePath("window.png");
        answerFileDialog(png);
        press(child<QPushButton>("exportFrame"));
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("window.png"), 30'000);
        QCOMPARE(QImage(png).size(), QSize(document().source()->width(), document().source()->height()));
        answerFileDialog(m_dir.filePath("window.0010")); // a number is no ending
        press(child<QPushButton>("exportFrame"));
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("window.0010.exr"), 30'000);
        const auto cli = test::runProgram(
            RETINEX_CLI, {"defocus", "--colour", RETINEX_DEMO "/greenhouse.0010.exr", "--depth",
                          RETINEX_DEMO "/greenhouse.0010.exr", "--out", m_dir.filePath("cli.exr"), "--focus",
                          QString::number(project().base().focusDistance, 'g', 17), "--fstop", "1.4",
                          "--focal-length", "40", "--sensor-width", "36", "--blades", "7", "--threads", "1"});
        QCOMPARE(cli.exitCode, 0);
        const auto a = passes::readExrChannels(saved.toStdString(), 0, {"R", "G", "B", "A"}).planes;
        const auto b =
            passes::readExrChannels(m_dir.filePath("cli.exr").toStdString(), 0, {"R", "G", "B", "A"}).planes;
        for (std::size_t c = 0; c < 4; ++c)
            QVERIFY(std::equal(a[c].pixels().begin(), a[c].pixels().end(), b[c].pixels().begin()));
        QCOMPARE(test::bytesOf(saved), test::bytesOf(m_dir.filePath("cli.exr")));
        // And what the window shows is that picture, which went out with the primaries that came in.
        RgbaImage shown(a[0].width(), a[0].height());
        for (int c = 0; c < RgbaImage::channels; ++c)
            shown.plane(c) = a[static_cast<std::size_t>(c)];
        colour::toSceneLinear(shown, document().source()->nativeSpace(), false);
        QVERIFY(std::abs(m_window->picture().picture().values->plane(0).at(x, y) - shown.plane(0).at(x, y)) <
                0.002F);
    }

    void theDemoRacksFromTheStemsToTheDoor()
    {
        m_window->openAsCopy(QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"));
        settle();
        QVERIFY(document().file().isEmpty()); // a copy: saving asks for a name
        QVERIFY(document().marks().size() >= 2);
        QTest::keyClick(m_window.get(), Qt::Key_Home);
        QCOMPARE(document().frame(), 1);
        const double first = project().focusDistanceAt(1);
        QVERIFY(first < 1.0);
        for (int i = 0; i < 21; ++i)
            QTest::keyClick(m_window.get(), Qt::Key_Right);
        QCOMPARE(document().frame(), 22);
        QVERIFY(project().focusDistanceAt(22) > 8.0);
        settle();
        QCOMPARE(m_window->picture().picture().frame, 22);
        QTest::keyClick(m_window.get(), Qt::Key_Left, Qt::ControlModifier);
        QCOMPARE(document().frame(), 20); // the mark before
        QTest::keyClick(m_window.get(), Qt::Key_End);
        QCOMPARE(document().frame(), 48);
    }

    void marksAreSetDraggedAndDeletedOnTheDesk()
    {
        m_window->openAsCopy(QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"));
        settle();
        auto* desk = child<FocusDesk>("focusDesk");
        document().setFrame(12);
        const double before = project().focusDistanceAt(12);
        QTest::keyClick(m_window.get(), Qt::Key_M);
        QVERIFY(timeline::markOn(document().marks(), 12));
        QVERIFY(std::abs(project().focusDistanceAt(12) - before) < 1e-9); // the line stays where it was
        drag(desk, desk->pointFor(12, before), desk->pointFor(14, 4.5));
        QVERIFY(!timeline::markOn(document().marks(), 12));
        const auto* moved = timeline::markOn(document().marks(), 14);
        QVERIFY(moved && std::abs(moved->value / 4.5 - 1.0) < 0.05);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("move mark at 14"));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(timeline::markOn(document().marks(), 12)); // a drag is one step
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(timeline::markOn(document().marks(), 14));
        QTest::mouseClick(desk, Qt::LeftButton, {}, desk->pointFor(14, moved->value));
        QTest::qWait(0);
        QTest::keyClick(desk, Qt::Key_Delete);
        QVERIFY(!timeline::markOn(document().marks(), 14));
        QTest::mouseClick(desk, Qt::LeftButton, {}, desk->pointFor(31, 1.0));
        QCOMPARE(document().frame(), 31); // a click on the empty desk goes to the frame
    }

    void profileHandlesMoveFocusAndFStop()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse_still.exr")});
        QVERIFY(!child<FocusDesk>("focusDesk")->isVisible()); // a still: the profile turns wide
        auto* profile = child<DepthProfile>("depthProfile");
        const double before = project().base().focusDistance;
        const QPoint focus = profile->handlePoint(DepthProfile::Handle::focus);
        drag(profile, focus, focus - QPoint(0, 25));
        QVERIFY(project().base().focusDistance > before * 1.1);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("set focus distance"));
        const double stop = project().base().fStop;
        const QPoint farLimit = profile->handlePoint(DepthProfile::Handle::farLimit);
        drag(profile, farLimit, farLimit - QPoint(0, 15));
        QVERIFY(project().base().fStop > stop); // a wider sharp zone closes the lens
        const auto zone = optics::sharpZone(project().lensAt(1, document().source()->width()),
                                            project().base().acceptedCocMm);
        QCOMPARE(child<QLabel>("sharpZone")
                     ->text()
                     .contains(
                         QString::fromStdString(optics::formatDistance(zone.farMm / 1000.0, project().unit))),
                 true);
        document().undoStack().undo();
        QCOMPARE(project().base().fStop, stop);
        const QPoint nearLimit = profile->handlePoint(DepthProfile::Handle::nearLimit);
        drag(profile, nearLimit, nearLimit + QPoint(0, 12)); // down is nearer
        QVERIFY(project().base().fStop > stop);
        const double closed = project().base().fStop;
        document().undoStack().undo();
        QCOMPARE(project().base().fStop, stop);
        document().undoStack().redo();
        QCOMPARE(project().base().fStop, closed);
    }

    void viewsZoomPanAndProbe()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        for (const auto& [key, mode] :
             {std::pair{Qt::Key_3, ViewMode::depth}, std::pair{Qt::Key_4, ViewMode::zones},
              std::pair{Qt::Key_2, ViewMode::source}, std::pair{Qt::Key_1, ViewMode::result}}) {
            QTest::keyClick(m_window.get(), key);
            settle();
            QCOMPARE(m_window->picture().picture().mode, mode);
            QCOMPARE(m_window->picture().picture().detail.divisor, 1);
        }
        auto& picture = m_window->picture();
        auto* probe = child<ProbeLine>("probeLine");
        QTest::mouseMove(&picture, picture.viewPoint(100, 100));
        QTest::mouseMove(&picture, picture.viewPoint(320, 200));
        const auto passes = picture.picture().passes;
        QTRY_VERIFY2(probe->text().startsWith("x y 320 200"), qPrintable(probe->text()));
        QVERIFY(probe->text().contains(
            QStringLiteral("stored %1").arg(passes->stored().at(320, 200), 0, 'g', 5)));
        QVERIFY(probe->text().contains("CoC") && probe->text().contains(" px ") &&
                probe->text().contains(" mm"));
        const double fitted = picture.map().scale();
        QTest::keyClick(m_window.get(), Qt::Key_F3);
        QCOMPARE(picture.map().scale(), 1.0);
        const QPointF corner = picture.map().imageRect().topLeft();
        QTest::mousePress(&picture, Qt::MiddleButton, {}, QPoint(300, 200));
        QTest::mouseMove(&picture, QPoint(340, 230));
        QTest::mouseRelease(&picture, Qt::MiddleButton, {}, QPoint(340, 230));
        QCOMPARE(picture.map().imageRect().topLeft(), corner + QPointF(40, 30));
        QTest::keyClick(m_window.get(), Qt::Key_F2);
        QCOMPARE(picture.map().scale(), fitted);
    }

    void aClickOnAGapSaysSo()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        const auto passes = m_window->picture().picture().passes;
        int gap = 0;
        while (std::isfinite(passes->distance().at(gap, 90)))
            ++gap;
        QTest::mouseClick(&m_window->picture(), Qt::LeftButton, {}, m_window->picture().viewPoint(gap, 90));
        QVERIFY(message().contains("gap"));
        QVERIFY(document().undoStack().isClean());
    }

    void fieldsTakeUnitsDragsAndRefuseNonsense()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        NumberField& focus = field("focus/distance");
        typeInto(focus, QStringLiteral("340cm"));
        QVERIFY(std::abs(project().base().focusDistance - 3.4) < 1e-9);
        typeInto(focus, QStringLiteral("11ft 2in"));
        QVERIFY(std::abs(project().base().focusDistance - (11 * 0.3048 + 2 * 0.0254)) < 1e-9);
        typeInto(focus, QStringLiteral("far away"));
        QVERIFY(message().contains("far away"));
        QVERIFY(std::abs(project().base().focusDistance - 3.4036) < 1e-9);
        const double stop = project().base().fStop;
        NumberField& fStop = field("lens/fStop");
        drag(&fStop, QPoint(60, 10), QPoint(90, 10));
        QVERIFY(project().base().fStop > stop);
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(project().base().fStop, stop); // one drag, one step
        QTest::mouseDClick(&fStop, Qt::LeftButton);
        QCOMPARE(project().base().fStop, 2.8); // the default
    }

    void savedProjectsOpenAgain()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        typeInto(field("lens/fStop"), QStringLiteral("1.7"));
        const QString file = m_dir.filePath("my shot.retinex");
        answerFileDialog(file);
        QTest::keyClick(m_window.get(), Qt::Key_S, Qt::ControlModifier);
        QTRY_VERIFY(QFile::exists(file));
        QVERIFY(document().undoStack().isClean());
        QVERIFY(m_window->windowTitle().contains("my shot.retinex"));
        const project::Project saved = project();
        drop({file});
        QVERIFY(project() == saved);
        QVERIFY(QSettings().value("recent").toStringList().contains(file));
    }

    void unsavedChangesAreAskedAbout()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        document().changeSetting(setting::fStop, 1.1);
        const auto answer = [](QMessageBox::StandardButton button) {
            QTimer::singleShot(200, [button] {
                auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
                if (!box) qFatal("no question was asked");
                QTest::mouseClick(box->button(button), Qt::LeftButton);
            });
        };
        answer(QMessageBox::Cancel);
        QVERIFY(!m_window->close());
        answer(QMessageBox::Discard);
        QVERIFY(m_window->close());
    }

    void aSequenceExportCanBeCancelled()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        typeInto(field("lens/fStop"), QStringLiteral("0.5")); // slow enough to be stopped
        const QString folder = m_dir.filePath("export");
        QDir().mkpath(folder);
        answerFileDialog(folder);
        press(child<QPushButton>("exportSequence"));
        auto* bar = child<ExportBar>("exportBar");
        QTRY_VERIFY(bar->isVisible());
        QTRY_VERIFY_WITH_TIMEOUT(!QDir(folder).entryList({"*.exr"}, QDir::Files).isEmpty(), 30'000);
        press(child<QPushButton>("cancelExport"));
        QTRY_VERIFY_WITH_TIMEOUT(!bar->isVisible(), 10'000);
        QVERIFY(message().contains("cancelled"));
        const QStringList left = QDir(folder).entryList(QDir::Files | QDir::Hidden);
        QVERIFY(left.size() >= 1 && left.size() < 48);
        for (const QString& name : left) // whole frames only
            QCOMPARE(passes::readExrChannels((folder + "/" + name).toStdString(), 0, {"R"}).planes[0].width(),
                     640);
    }

    void whatIsWrongIsSaidInTheWindow()
    {
        drop({m_dir.filePath("nothing.exr")});
        QVERIFY(message().contains("nothing.exr") && message().contains("no such file"));
        const QByteArray whole = test::bytesOf(QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr"));
        QFile cut(m_dir.filePath("cut.exr"));
        QVERIFY(cut.open(QIODevice::WriteOnly));
        cut.write(whole.left(whole.size() / 2));
        cut.close();
        drop({cut.fileName()});
        QVERIFY2(message().contains("cut.exr") && message().contains("rows are missing"),
                 qPrintable(message()));
        const auto one = [](int, int) { return 1.0F; };
        test::writeChannels(m_dir.filePath("flat.exr").toStdString(), 8, 8,
                            {{"R", true, one}, {"G", true, one}, {"B", true, one}});
        drop({m_dir.filePath("flat.exr")});
        QVERIFY(message().contains("flat.exr has no depth"));
        test::writeChannels(m_dir.filePath("z.exr").toStdString(), 9, 8, {{"Z", false, one}});
        drop({m_dir.filePath("flat.exr"), m_dir.filePath("z.exr")});
        QVERIFY(message().contains("9 x 8") && message().contains("8 x 8"));
        // A gap in the numbering: said on opening, and again by name on the frame itself.
        QDir().mkpath(m_dir.filePath("gap"));
        for (const int frame : {1, 2, 4})
            test::writeScene(m_dir.filePath(QStringLiteral("gap/g.%1.exr").arg(frame)).toStdString());
        drop({m_dir.filePath("gap/g.1.exr")});
        QVERIFY(message().contains("frames 3 are missing"));
        document().setFrame(3);
        settle();
        QVERIFY(message().contains("g.3.exr"));
        document().setFrame(4);
        settle();
        QVERIFY(child<MessageBar>("messageBar")->isHidden()); // all is well again
        answerFileDialog(m_dir.filePath("out.bmp"));
        press(child<QPushButton>("exportFrame"));
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("End the name in .exr, .png"), 10'000);
        answerFileDialog(QStringLiteral("/proc/out.exr"));
        press(child<QPushButton>("exportFrame"));
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("/proc: nothing can be written"), 10'000);
    }
};

QTEST_MAIN(TestWindow)
#include "test_window.moc"
