// Passes and depth in the real window: choosers, readings, the Depth view's tools, warnings, the manual.
#include "app/sheet/passes/findings_list.h"
#include "app/window_driver.h"
#include "support/gltf_scene.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QInputDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTextBrowser>
#include <QToolButton>
#include <cmath>

using namespace retinex;
using namespace retinex::app;

class TestWindowPasses : public test::WindowDriver
{
    Q_OBJECT

    using WindowDriver::press;
    void press(const char* name)
    {
        auto* button = child<QAbstractButton>(name);
        QVERIFY2(button->isEnabled(), name);
        child<Sheet>("sheet")->area().ensureWidgetVisible(button);
        const bool box = qobject_cast<QCheckBox*>(button) != nullptr; // only its box and words take a click
        QTest::mouseClick(button, Qt::LeftButton, {}, box ? QPoint(8, button->height() / 2) : QPoint());
    }
    void choose(const char* name, const QString& text)
    {
        auto* box = child<QComboBox>(name);
        const int index = box->findText(text, Qt::MatchContains);
        QVERIFY2(index >= 0, qPrintable(text));
        box->setCurrentIndex(index);
        emit box->activated(index);
        settle();
    }
    const depth::ReadingSettings& reading() { return project().base().reading; }
    const passes::FramePasses& shown() { return *m_window->picture().picture().passes; }
    QString demo(int frame = 1) const
    {
        return QStringLiteral(RETINEX_DEMO "/greenhouse.%1.exr").arg(frame, 4, 10, QLatin1Char('0'));
    }
    void tool(const QStringList& arguments)
    {
        const auto outcome = test::runProgram("oiiotool", arguments, m_dir.path());
        if (outcome.exitCode != 0) qFatal("oiiotool: %s", qPrintable(outcome.err + outcome.out));
    }
    /// The middle of a place where the matte of the can is whole.
    QPoint onTheCan()
    {
        const auto matte = passes::readMatte({demo(10).toStdString(), "matte.can"});
        for (int y = matte.height() - 1; y > 0; --y)
            for (int x = 0; x < matte.width(); ++x)
                if (matte.at(x, y) == 1.0F) return {x, y};
        qFatal("no can");
    }

private slots:
    void theProposalIsTakenAndSaid()
    {
        drop({demo()});
        QCOMPARE(reading().reading, depth::Reading::distanceFromCameraPlane);
        QVERIFY2(child<QLabel>("proposal")->text().contains("distance from camera plane, sure"),
                 qPrintable(child<QLabel>("proposal")->text()));
        QVERIFY(!child<QPushButton>("useProposal")->isEnabled());
        QVERIFY(child<FindingsList>("findings")
                    ->matters()
                    .join(QLatin1Char('\n'))
                    .contains("Empty space holds 0"));
        // Nearest and farthest of the Depth view are those of the frame.
        QVERIFY(std::abs(reading().nearest / shown().range.nearest - 1.0) < 1e-6);
    }

    void aGreyPassOfItsOwnFileIsReadAndItsEndsPicked()
    {
        tool({demo(10), "--ch", "R,G,B,A", "-d", "half", "-o", "shot.exr"});
        tool({demo(10), "--ch", "Z", "--mulc", "-0.1", "--addc", "1", "-d", "uint8", "-o", "shot_depth.png"});
        drop({m_dir.filePath("shot_depth.png"), m_dir.filePath("shot.exr")});
        QCOMPARE(child<QComboBox>("role1")->currentText(), QStringLiteral("depth pass"));
        QVERIFY(child<QComboBox>("role1")->toolTip().contains("shot_depth.png"));
        QCOMPARE(reading().reading, depth::Reading::greyNearBright);
        QCOMPARE(reading().conditioning.smoothLevels, 255);
        QTest::keyClick(m_window.get(), Qt::Key_3);
        settle();
        // Picking ends of a grey says which stored number an end has.
        press("toolNearest");
        const QPoint can = onTheCan();
        const float stored = shown().stored().at(can.x(), can.y());
        QTest::mouseClick(&m_window->picture(), Qt::LeftButton, {},
                          m_window->picture().viewPoint(can.x(), can.y()));
        QCOMPARE(static_cast<float>(reading().storedHigh), stored);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("pick nearest"));
        typeInto(field("reading/nearest"), QStringLiteral("2.2m"));
        settle();
        QVERIFY(std::abs(shown().distance().at(can.x(), can.y()) - 2.2F) < 0.05F);
    }

    void channelsAreChosenAndUndone()
    {
        drop({demo()});
        const auto before = document().source();
        choose("depthChannel", "matte.can");
        QCOMPARE(QString::fromStdString(project().depth.name), QStringLiteral("matte.can"));
        QVERIFY(document().source() != before);
        QVERIFY(shown().stored().at(0, 0) <= 1.0F);
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        settle();
        QCOMPARE(document().source(), before);
        QVERIFY(project().depth.name.empty());
        choose("depthChannel", "   greenhouse.0001.exr"); // the heading cannot be chosen, its luminance can
        QCOMPARE(QString::fromStdString(project().depth.name), QStringLiteral("luminance"));
    }

    void theReadingReversesAndTheWrongWayIsSaid()
    {
        drop({demo(10)});
        QVERIFY(child<MessageBar>("messageBar")->isHidden());
        press("reverse");
        QVERIFY(reading().reversed);
        settle();
        QTRY_VERIFY(message().contains("Near and far seem exchanged"));
        press(child<QToolButton>("messageAction")); // Show evidence
        settle();
        QCOMPARE(m_window->picture().picture().mode, ViewMode::depth);
        QVERIFY(child<QToolButton>("evidence")->isChecked());
        press("reverse");
        settle();
        QVERIFY(!reading().reversed);
    }

    void toolsOfTheDepthViewPickEndsThatNeverCross()
    {
        drop({demo(10)});
        QTest::keyClick(m_window.get(), Qt::Key_3);
        settle();
        auto& picture = m_window->picture();
        const QPoint can = onTheCan();
        const double distance = shown().distance().at(can.x(), can.y());
        press("toolFarthest");
        QTest::mouseClick(&picture, Qt::LeftButton, {}, picture.viewPoint(can.x(), can.y()));
        QVERIFY(std::abs(reading().farthest - distance) < 1e-6);
        // Something farther as the near end is held back, and said.
        press("toolNearest");
        int x = 0;
        int y = 0;
        for (int i = 0; i < shown().distance().width() * shown().distance().height(); ++i) {
            x = i % shown().distance().width();
            y = i / shown().distance().width();
            if (shown().gaps().at(x, y) == 0 && shown().distance().at(x, y) > 6.0F) break;
        }
        QTest::mouseClick(&picture, Qt::LeftButton, {}, picture.viewPoint(x, y));
        QVERIFY(reading().nearest < reading().farthest);
        QVERIFY2(message().contains("do not cross"), qPrintable(message()));
        press("toolRange");
        settle();
        drag(&picture, picture.viewPoint(250, 150), picture.viewPoint(430, 330));
        QVERIFY(reading().nearest < 2.5 && reading().farthest > 2.3 && reading().farthest < 8.8);
        press("percentiles");
        QVERIFY(reading().farthest > 7.0);
        press("toolFocus");
        QTest::mouseClick(&picture, Qt::LeftButton, {}, picture.viewPoint(can.x(), can.y()));
        QVERIFY(std::abs(project().focusDistanceAt(document().frame()) / distance - 1.0) < 0.02);
    }

    void measuringSetsTheSceneScale()
    {
        drop({demo(10)});
        QTest::keyClick(m_window.get(), Qt::Key_3);
        settle();
        press("toolSpan");
        const QPoint can = onTheCan();
        auto& picture = m_window->picture();
        QTimer::singleShot(300, this, [] {
            auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            if (!dialog) qFatal("nothing was asked");
            auto* edit = dialog->findChild<QLineEdit*>();
            edit->selectAll();
            QTest::keyClicks(edit, QStringLiteral("2m"));
            QTest::keyClick(edit, Qt::Key_Return);
        });
        drag(&picture, picture.viewPoint(can.x(), can.y()), picture.viewPoint(can.x() + 60, can.y()));
        QVERIFY(project().metresPerUnit != 1.0);
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("measure the scene scale"));
    }

    void gapsAndMendingAreSetInTheSheet()
    {
        drop({demo(10)});
        const depth::ReadingSettings before = reading();
        const auto gapCount = shown().range.gapCount;
        press("reading/gaps/zero"); // 0 as a distance is none: still gaps
        settle();
        QVERIFY(!reading().gaps.zero && shown().range.gapCount == gapCount);
        choose("reading/gaps/place", "to a distance");
        typeInto(field("reading/gaps/distance"), QStringLiteral("30"));
        settle();
        QVERIFY(std::any_of(shown().distance().pixels().begin(), shown().distance().pixels().end(),
                            [](float d) { return d == 30.0F; }));
        press("reading/snapEdges");
        press("reading/clamp");
        typeInto(field("reading/softenPx"), QStringLiteral("4px"));
        typeInto(field("reading/offset"), QStringLiteral("-10cm"));
        auto* remap = child<QLineEdit>("remap");
        remap->setFocus();
        QTest::keyClicks(remap, QStringLiteral("2m > 2m, 8m > 5m"));
        QTest::keyClick(remap, Qt::Key_Return);
        settle();
        QVERIFY(reading().conditioning.snapEdges && reading().clamp);
        QCOMPARE(reading().conditioning.softenPx, 4.0);
        QVERIFY(std::abs(reading().conditioning.offset + 0.1) < 1e-9);
        QCOMPARE(reading().conditioning.remap.size(), std::size_t(2));
        remap->clear();
        QTest::keyClicks(remap, QStringLiteral("8 > 2, 2 > 9"));
        QTest::keyClick(remap, Qt::Key_Return);
        QVERIFY(message().contains("rise"));
        while (document().undoStack().canUndo())
            document().undoStack().undo();
        QVERIFY(reading() == before); // every step is undone
    }

    void mattesAreShownByTheirNames()
    {
        drop({demo(10)});
        auto* mattes = child<QComboBox>("mattes");
        QVERIFY(mattes->findText("can") >= 0 && mattes->findText("orchids") >= 0);
        choose("mattes", "can");
        QCOMPARE(m_window->picture().picture().mode, ViewMode::mattes);
        const QPoint can = onTheCan();
        document().setFrame(10);
        settle();
        QCOMPARE(qGray(m_window->picture().picture().image.pixel(can)), 255);
        QTest::keyClick(m_window.get(), Qt::Key_1);
        settle();
        QTest::keyClick(m_window.get(), Qt::Key_6);
        settle();
        QCOMPARE(m_window->picture().picture().mode, ViewMode::mattes);
        const std::size_t before = project().mattes.size();
        press(child<QPushButton>("removeMatte"));
        settle();
        QCOMPARE(project().mattes.size(), before - 1);
        QVERIFY(mattes->findText("can") < 0 && mattes->findText("orchids") >= 0);
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(project().mattes.size(), before);
    }

    void headersAndScenesOfferWhatTheyKnow()
    {
        tool({demo(10), "--attrib:type=float", "focus", "2.35", "-o", "attributes.exr"});
        QFile scene(m_dir.filePath("move.gltf"));
        QVERIFY(scene.open(QIODevice::WriteOnly));
        scene.write(test::gltfScene());
        scene.close();
        drop({m_dir.filePath("attributes.exr"), m_dir.filePath("move.gltf")});
        QVERIFY(child<QLabel>("cameraData")->text().contains("focus 2.35 m"));
        press("useCamera");
        QVERIFY(std::abs(project().base().focusDistance - 2.35) < 1e-6);
        QVERIFY(child<QComboBox>("scenePoint")->findText("can, 6.08 m") >=
                0); // frame 1 at 24 a second: 6 + 2 / 24
        choose("scenePoint", "can");
        press("takePoint");
        QVERIFY(std::abs(project().base().focusDistance - (6.0 + 2.0 / 24.0)) < 1e-4);
    }

    void pointsOfTheSceneAreAsFarAsTheyAreOnEachFrame()
    {
        drop({demo(1)});
        for (const int frame : {2, 3, 4, 5, 6, 7}) // the sequence is found by any one frame
            QVERIFY(QFile::exists(demo(frame)));
        QFile scene(m_dir.filePath("moving.gltf"));
        QVERIFY(scene.open(QIODevice::WriteOnly));
        scene.write(test::gltfScene());
        scene.close();
        project::Project changed = project();
        changed.scene.file = m_dir.filePath("moving.gltf").toStdString();
        document().edit(QStringLiteral("scene"), changed);
        auto* points = child<QComboBox>("scenePoint");
        QTRY_VERIFY(points->findText("can, 6.08 m") >= 0); // frame 1 at 24 a second: 6 + 2 / 24
        document().setFrame(7);
        settle();
        QVERIFY2(points->findText("can, 6.58 m") >= 0, qPrintable(points->itemText(0))); // 6 + 14 / 24
        settle();
    }

    void aChoiceThatCannotBeReadGoesBack()
    {
        QVERIFY(QFile::copy(demo(1), m_dir.filePath("goes.exr")));
        drop({m_dir.filePath("goes.exr")});
        auto* depth = child<QComboBox>("depthChannel");
        const QString before = depth->currentText();
        QFile broken(m_dir.filePath("goes.exr"));
        QVERIFY(broken.resize(200));
        const int index = depth->findText("matte.can", Qt::MatchContains);
        QVERIFY(index >= 0);
        depth->setCurrentIndex(index);
        emit depth->activated(index);
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("goes.exr"), 20'000);
        QTRY_COMPARE(depth->currentText(), before); // as it is, not as it was chosen
        QVERIFY(document().undoStack().isClean());
    }

    void framesThatARenderAddsAreTakenUp()
    {
        QDir().mkpath(m_dir.filePath("live"));
        for (const int frame : {1, 2})
            QVERIFY(QFile::copy(demo(frame), m_dir.filePath(QStringLiteral("live/s.%1.exr").arg(frame))));
        drop({m_dir.filePath("live/s.1.exr")});
        QCOMPARE(project().lastFrame, 2);
        QVERIFY(QFile::copy(demo(3), m_dir.filePath(QStringLiteral("live/s.3.exr"))));
        QTRY_COMPARE_WITH_TIMEOUT(project().lastFrame, 3, 10'000);
        QVERIFY(message().contains("1 to 3"));
        document().setFrame(3);
        settle();
        QCOMPARE(m_window->picture().picture().frame, 3);
        QVERIFY(document().undoStack().isClean()); // nothing that the artist did
        // A frame that is still being written is named, and taken up when it is whole.
        const QByteArray whole = test::bytesOf(demo(4));
        QFile growing(m_dir.filePath("live/s.4.exr"));
        QVERIFY(growing.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
        growing.write(whole.left(whole.size() / 2));
        QTRY_COMPARE_WITH_TIMEOUT(project().lastFrame, 4, 10'000);
        document().setFrame(4);
        QTRY_VERIFY_WITH_TIMEOUT(message().contains("s.4.exr") && message().contains("still be writing"),
                                 10'000);
        growing.write(whole.mid(whole.size() / 2));
        growing.close();
        QTRY_VERIFY_WITH_TIMEOUT(child<MessageBar>("messageBar")->isHidden(), 20'000);
        settle();
        QCOMPARE(m_window->picture().picture().frame, 4);
    }

    // Dropped with the passes or chosen; what they cannot be is said by the check.
    void motionVectorsAreTakenUp()
    {
        for (int frame = 1; frame <= 3; ++frame) {
            QVERIFY(QFile::copy(demo(frame), m_dir.filePath(QStringLiteral("shot.%1.exr").arg(frame))));
            tool({"--pattern", "constant:color=31,-17", "640x360", "2", "--chnames", "motion.X,motion.Y",
                  "-d", "float", "-o", QStringLiteral("mv.%1.exr").arg(frame)});
        }
        drop({m_dir.filePath("shot.1.exr"), m_dir.filePath("mv.1.exr")});
        auto* box = child<QComboBox>("motionChoice");
        QCOMPARE(box->currentText(), QStringLiteral("mv.#.exr"));
        QCOMPARE(project().passOptions.motion.file.filename().string(), std::string("mv.#.exr"));
        auto* findings = m_window->findChild<FindingsList*>();
        QTRY_VERIFY2(findings->matters().join(' ').contains("Motion vectors do not fit the pictures"),
                     qPrintable(findings->matters().join('\n')));
        choose("motionChoice", "none");
        QVERIFY(project().passOptions.motion.file.empty());
        QTRY_VERIFY(!findings->matters().join(' ').contains("otion vectors"));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(box->currentText(), QStringLiteral("mv.#.exr"));
        choose("motionChoice", "none");
        answerFileDialog(m_dir.filePath("mv.2.exr"));
        press("motionFile");
        QTRY_VERIFY(project().passOptions.motion.file.filename().string().starts_with("mv."));
    }

    void sizesThatDifferAreSaidAndCanBeCentred()
    {
        tool({demo(10), "--ch", "R,G,B,A", "-d", "half", "-o", "big.exr"});
        tool({demo(10), "--ch", "Z", "--resize:filter=box", "320x180", "-d", "float", "-o",
              "little_depth.exr"});
        drop({m_dir.filePath("big.exr"), m_dir.filePath("little_depth.exr")});
        QVERIFY2(message().contains("320 x 180") && message().contains("640 x 360"), qPrintable(message()));
        choose("sizeFit", "centre");
        QVERIFY(shown().gaps().at(0, 0) == 1 && message().contains("middle"));
    }

    void theManualOpensOffline()
    {
        QTest::keyClick(m_window.get(), Qt::Key_F1);
        auto* manual = child<QDialog>("manual");
        QTRY_VERIFY(manual->isVisible());
        auto* text = manual->findChild<QTextBrowser*>("manualText");
        auto* chapters = manual->findChild<QListWidget*>("manualChapters");
        chapters->setCurrentRow(1);
        QVERIFY(text->toPlainText().contains("Matte passes"));
        chapters->setCurrentRow(2);
        for (int i = 0; i < depth::kReadingCount; ++i) { // each reading with its name
            const auto title = depth::title(static_cast<depth::Reading>(i));
            QVERIFY2(text->toPlainText().contains(
                         QString::fromUtf8(title.data(), static_cast<qsizetype>(title.size())),
                         Qt::CaseInsensitive),
                     title.data());
        }
        manual->close();
    }
};

QTEST_MAIN(TestWindowPasses)
#include "test_window_passes.moc"
