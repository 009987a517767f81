// The first minute with passes of other habits: what is read, what is asked, what is on the screen.
#include "app/picture/strips/reading_strip.h"
#include "app/sheet/passes/roles_list.h"
#include "app/window_driver.h"
#include "core/passes/image_file.h"
#include "core/project/file/project_file.h"

#include <QComboBox>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <cmath>

using namespace retinex;
using namespace retinex::app;

class TestWindowFirstSight : public test::WindowDriver
{
    Q_OBJECT

    QString path(const char* name) const { return m_dir.filePath(QLatin1String(name)); }
    void tool(const QStringList& arguments)
    {
        const auto outcome = test::runProgram("oiiotool", arguments, m_dir.path());
        if (outcome.exitCode != 0) qFatal("oiiotool: %s", qPrintable(outcome.err + outcome.out));
    }
    /// The middle of a frame of the demo: a quarter of the pixels is enough.
    QString demo()
    {
        const QString small = path("small.exr");
        if (!QFile::exists(small))
            tool({QStringLiteral(RETINEX_DEMO "/greenhouse.0010.exr"), "--cut", "320x180+160+90", "-o",
                  small});
        return small;
    }
    const depth::ReadingSettings& reading() { return document().values().reading; }
    const passes::FramePasses& shown() { return *m_window->picture().picture().passes; }

    void press(QAbstractButton* button)
    {
        WindowDriver::press(button);
        settle();
    }
    /// Opens the list and takes a line of it by the keys.
    void choose(QComboBox* box, const QString& text)
    {
        QVERIFY2(test::isInSight(*box), qPrintable(box->objectName()));
        const int index = box->findText(text);
        QVERIFY2(index >= 0, qPrintable(text));
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Home);
        while (box->currentIndex() < index)
            QTest::keyClick(box, Qt::Key_Down);
        settle();
    }
    /// A pass in grey of the demo's frame, near bright, and its colour without alpha.
    void writeGreys()
    {
        tool({demo(), "--ch", "R,G,B", "--colorconvert", "linear", "sRGB", "-d", "uint8", "-o", "shot.png"});
        tool({demo(), "--ch", "Z", "--mulc", "-0.1", "--addc", "1", "-d", "uint8", "-o", "shot_Z.png"});
    }

private slots:
    void everyRowOfAGreyPassIsInSight()
    {
        writeGreys();
        drop({path("shot.png"), path("shot_Z.png")});
        QVERIFY(depth::isGrey(reading().reading));
        for (const char* name :
             {"reading/kind", "reverse", "reading/spacing", "reading/encoding", "reading/nearest",
              "reading/farthest", "alphaChoice", "mattes", "inputSpace", "heldFrames", "role1", "role2"})
            QVERIFY2(test::isInSight(*child<QWidget>(name)), name);
        m_window->resize(1024, 700);
        QApplication::processEvents();
        for (const char* name : {"reading/kind", "alphaChoice", "role1"})
            QVERIFY2(test::isInSight(*child<QWidget>(name)), name);
    }

    void distancesBelowZeroAreReadAndTheirProjectOpensAgain_data()
    {
        QTest::addColumn<float>("nothing");
        QTest::newRow("0") << 0.0F;
        QTest::newRow("-1e10") << -1e10F;
    }
    void distancesBelowZeroAreReadAndTheirProjectOpensAgain()
    {
        QFETCH(float, nothing);
        const auto planes = passes::readChannels(demo().toStdString(), 0, {"R", "G", "B", "A", "Z"}).planes;
        std::vector<test::Channel> channels;
        for (std::size_t c = 0; c < 4; ++c)
            channels.push_back(
                {std::string(1, "RGBA"[c]), true, [&, c](int x, int y) { return planes[c].at(x, y); }});
        channels.push_back({"Z", false, [&](int x, int y) {
                                const float z = planes[4].at(x, y);
                                return z > 0.0F ? -z : nothing;
                            }});
        test::writeChannels(path("below.exr").toStdString(), planes[0].width(), planes[0].height(), channels);
        drop({path("below.exr")});
        QCOMPARE(reading().reading, depth::Reading::distanceBelowZero);
        QVERIFY(shown().range.nearest > 0.1 && shown().range.farthest < 100.0);
        QVERIFY(shown().range.gapCount < shown().range.pixelCount / 2);
        document().save(path("below.retinex"));
        const project::Project saved = project();
        QVERIFY(project::loadProject(path("below.retinex").toStdString()) == saved);
    }

    void focusAndEndsFollowACorrectedReading()
    {
        writeGreys();
        drop({path("shot.png"), path("shot_Z.png")});
        auto& picture = m_window->picture();
        // A click on what is nearest, so that the other way round it is farthest.
        QPoint nearest;
        float least = 1e9F;
        for (int y = 20; y < shown().distance().height() - 20; ++y)
            for (int x = 20; x < shown().distance().width() - 20; ++x)
                if (shown().gaps().at(x, y) == 0 && shown().distance().at(x, y) < least) {
                    least = shown().distance().at(x, y);
                    nearest = {x, y};
                }
        QTest::mouseClick(&picture, Qt::LeftButton, {}, picture.viewPoint(nearest.x(), nearest.y()));
        settle();
        QVERIFY(document().focusedPixel());
        const project::Pixel pixel = *document().focusedPixel();
        press(child<QPushButton>("reverse"));
        const double there = static_cast<double>(shown().distance().at(pixel.x, pixel.y));
        QVERIFY2(std::abs(document().values().focusDistance / there - 1.0) < 0.05,
                 qPrintable(QString::number(document().values().focusDistance)));
        // Read as plain distances: ends that nobody set are those of what is seen.
        choose(child<QComboBox>("reading/kind"), "distance from camera plane");
        QVERIFY(std::abs(reading().farthest / shown().range.farthest - 1.0) < 0.02);
        // And an end that a person has set stays.
        typeInto(field("reading/farthest"), QStringLiteral("0.5m"));
        press(child<QPushButton>("reverse"));
        QCOMPARE(reading().farthest, 0.5);
        QTest::keyClick(m_window.get(), Qt::Key_R); // the same by a key
        settle();
        QVERIFY(!reading().reversed);
    }

    void unsureReadingsAreAskedForAndOneClickTakesOne()
    {
        // Bumps alone: nothing flat to tell by, nothing empty, no ground.
        test::writeChannels(
            path("bumps.exr").toStdString(), 320, 180,
            {{"R", true, [](int x, int y) { return 0.2F + 0.001F * static_cast<float>(x ^ y); }},
             {"G", true, [](int, int) { return 0.3F; }},
             {"B", true, [](int, int) { return 0.4F; }},
             {"Z", false, [](int x, int y) {
                  return 4.0F + std::sin(0.13F * static_cast<float>(x)) +
                         std::cos(0.17F * static_cast<float>(y) + 0.05F * static_cast<float>(x));
              }}});
        drop({path("bumps.exr")});
        auto* strip = child<ReadingStrip>("readingStrip");
        QTRY_VERIFY(strip->isVisible());
        QVERIFY(test::isInSight(*child<QToolButton>("reading1")) &&
                test::isInSight(*child<QToolButton>("reading2")));
        const depth::ReadingSettings first = reading();
        press(child<QToolButton>("reading2"));
        QVERIFY(!strip->isVisible());
        QVERIFY(reading() != first);
        QVERIFY(document().undoStack().undoText().startsWith("read depth as"));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        settle();
        QVERIFY(!strip->isVisible()); // it was answered
    }

    void firstPicturesAreNoSmear_data()
    {
        QTest::addColumn<double>("unit");
        QTest::newRow("metres") << 1.0;
        QTest::newRow("kilometres") << 0.001;
        QTest::newRow("millimetres") << 1000.0;
    }
    void firstPicturesAreNoSmear()
    {
        QFETCH(double, unit);
        tool({demo(), "--ch", "R,G,B,A", demo(), "--ch", "Z", "--mulc", QString::number(unit), "--chappend",
              "-d", "float", "-o", "unit.exr"});
        drop({path("unit.exr")});
        const auto model =
            project().lensSettingsAt(project().firstFrame).blurModel(shown().distance().width());
        std::vector<double> cocs;
        for (std::size_t i = 0; i < shown().distance().size(); ++i)
            if (shown().gaps().pixels()[i] == 0)
                cocs.push_back(2.0 *
                               std::abs(model.radiusPx(static_cast<double>(shown().distance().pixels()[i]))));
        std::nth_element(cocs.begin(), cocs.begin() + static_cast<std::ptrdiff_t>(cocs.size() / 2),
                         cocs.end());
        QVERIFY2(cocs[cocs.size() / 2] <= project::kCalmCocPx,
                 qPrintable(QString::number(cocs[cocs.size() / 2])));
    }

    void numberedMattesBesideAStillAreDifferentFiles()
    {
        writeGreys();
        for (int i = 1; i <= 3; ++i)
            tool({"--pattern", QStringLiteral("fill:color=%1").arg(0.25 * i), "320x180", "1", "-d", "uint8",
                  "-o", QStringLiteral("mask_post%1.png").arg(i)});
        drop({path("shot.png"), path("shot_Z.png"), path("mask_post1.png"), path("mask_post2.png"),
              path("mask_post3.png")});
        QCOMPARE(project().mattes.size(), std::size_t(3));
        for (std::size_t i = 0; i < 3; ++i) {
            const auto objects = document().source()->loadObjects(1, {project().mattes[i]});
            QVERIFY(std::abs(objects->samples.front().coverage - 0.25F * static_cast<float>(i + 1)) < 0.01F);
        }
    }

    void aFileIsTakenForWhatAPersonSays()
    {
        writeGreys();
        drop({path("shot.png"), path("shot_Z.png")});
        auto* list = child<RolesList>("roles");
        QVERIFY(list->isVisible());
        choose(child<QComboBox>("role2"), "colour pass"); // they change places
        QCOMPARE(project().colour.file.filename().string(), std::string("shot_Z.png"));
        QCOMPARE(project().depth.file.filename().string(), std::string("shot.png"));
        QCOMPARE(child<QComboBox>("role1")->currentText(), QStringLiteral("depth pass"));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        settle();
        QCOMPARE(project().colour.file.filename().string(), std::string("shot.png"));
    }

    void aStillIsHeldForFramesAndAnotherColourPassKeepsThem()
    {
        writeGreys();
        tool({path("shot.png"), "--mulc", "0.5", "-o", "darker.png"});
        drop({path("shot.png"), path("shot_Z.png")});
        QVERIFY(test::isInSight(field("heldFrames")));
        typeInto(field("heldFrames"), QStringLiteral("48"));
        settle();
        QCOMPARE(project().lastFrame, 48);
        QVERIFY(m_window->findChild<QWidget*>("focusDesk") == nullptr || document().isSequence());
        auto* file = child<QPushButton>("colourFile");
        QVERIFY(test::isInSight(*file));
        answerFileDialog(path("darker.png"));
        press(file);
        settle();
        QCOMPARE(project().colour.file.filename().string(), std::string("darker.png"));
        QCOMPARE(project().lastFrame, 48);
    }

    void theReadOutsFollowTheSimpleLens()
    {
        drop({demo()});
        const QString before = child<QLabel>("sharpZone")->text();
        document().editSettings("simple lens", [](project::Settings& settings) {
            settings.simpleLens = defocus::SimpleLens{28.0, 0.5, 20.0};
        });
        settle();
        const QString after = child<QLabel>("sharpZone")->text();
        QVERIFY(after != before);
        // Beyond the far limit that is shown the Blur view has more than the accepted CoC, before it less.
        const int width = document().source()->width();
        const auto zone = optics::sharpZone(project().lensAt(1, width), document().values().acceptedCocMm);
        const auto model = project().lensSettingsAt(1).blurModel(width);
        const double accepted = document().values().acceptedCocMm * model.pxPerMm;
        QVERIFY(std::abs(2.0 * model.radiusPx(project().fromMillimetres(zone.farMm)) - accepted) <
                1e-6 * accepted);
    }
};

QTEST_MAIN(TestWindowFirstSight)
#include "test_window_first_sight.moc"
