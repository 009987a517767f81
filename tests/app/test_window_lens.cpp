// Lens, iris, glints, blur and repair in the real window, by mouse and keys.
#include "app/window_driver.h"

#include "app/pictures/blur_picture.h"
#include "app/sheet/iris_drawing.h"
#include "core/passes/exr/exr_write.h"

#include <ImfHeader.h>
#include <ImfStandardAttributes.h>

#include <QCheckBox>
#include <QComboBox>
#include <QImage>
#include <QLabel>
#include <QPushButton>

using namespace retinex;
using namespace retinex::app;

class TestWindowLens : public test::WindowDriver
{
    Q_OBJECT

    void openDemo() { drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0010.exr")}); }
    const Picture& picture() { return m_window->picture().picture(); }

private slots:
    // The Blur view shows the CoC that the probe line tells, and follows the f-stop.
    void keyFiveShowsTheBlur()
    {
        openDemo();
        QTest::keyClick(m_window.get(), Qt::Key_5);
        settle();
        QCOMPARE(picture().mode, ViewMode::blur);
        const auto model = project().lensSettingsAt(document().frame()).blurModel(640);
        const int x = 330;
        const int y = 300;
        const double coc = 2.0 * model.radiusPx(picture().passes->distance().at(x, y));
        const QRgb shown = picture().image.pixel(x, y);
        const int tone = picture().blurTones.tone(std::abs(coc));
        QVERIFY(std::abs(std::max(qRed(shown), qBlue(shown)) - tone) <= 1 || coc < 0.0);
        QVERIFY((coc < 0.0) == (qRed(shown) > qBlue(shown))); // ochre in front, violet behind
        const double before = picture().blurTones.largestPx;
        typeInto(field("lens/fStop"), QStringLiteral("f/16"));
        settle();
        QVERIFY(picture().blurTones.largestPx < before);
    }

    void theRepairButtonShowsWhatIsFilled()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0001.exr")});
        // What other frames show may be as grey as what is as it came.
        document().editSettings({}, [](auto& settings) { settings.otherFrames = others::OtherFrames::off; });
        press(child<QPushButton>("showRepair"));
        settle();
        QCOMPARE(picture().mode, ViewMode::repair);
        // Somewhere a foreground was taken off, in colour; what is as it came is grey, and its numbers are
        // those of the source.
        const auto& source = picture().passes->colour();
        int filled = 0;
        int asItCame = 0;
        for (int y = 0; y < source.height(); ++y) {
            for (int x = 0; x < source.width(); ++x) {
                const QRgb shown = picture().image.pixel(x, y);
                const bool isGrey = qRed(shown) == qGreen(shown) && qGreen(shown) == qBlue(shown);
                const bool isSource = picture().values->plane(1).at(x, y) == source.plane(1).at(x, y);
                filled += !isGrey && !isSource;
                asItCame += isGrey && isSource;
                QVERIFY(isSource || !isGrey || qRed(shown) < 60);
            }
        }
        QVERIFY(filled > 500);
        QVERIFY(filled < source.width() * source.height() / 2);
        QVERIFY(asItCame > source.width() * source.height() / 4);
    }

    // What other frames show is spotted, and said where it comes from; not where they are not looked at.
    void whatOtherFramesShowIsSpotted()
    {
        drop({QStringLiteral(RETINEX_DEMO "/greenhouse.0008.exr")});
        QTRY_VERIFY(child<QLabel>("viewsWords")->text().contains(QStringLiteral("px off: looks at frames")));
        press(child<QPushButton>("showRepair"));
        settle();
        const auto marksOf = [&] {
            return repairPicture(frame::repairFrame(*document().source(), project(), document().frame()))
                .marks;
        };
        const auto spots = [&](const Plane<RepairMark>& marks) {
            int seen = 0;
            for (int y = 0; y < marks.height(); y += kSeenSpacing)
                for (int x = 0; x < marks.width(); x += kSeenSpacing) {
                    if (marks.at(x, y) != RepairMark::seen) continue;
                    ++seen;
                    if (picture().image.pixel(x, y) != kMixedLight) return -1;
                }
            return seen;
        };
        QVERIFY2(spots(marksOf()) > 20, qPrintable(QString::number(spots(marksOf()))));
        auto* box = child<QComboBox>("views");
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Up);
        emit box->activated(box->currentIndex());
        settle();
        QCOMPARE(spots(marksOf()), 0);
        QVERIFY(!child<QLabel>("viewsWords")->isVisibleTo(m_window.get()));
    }

    void theIrisIsDrawnAsItIsSet()
    {
        openDemo();
        auto* drawing = child<IrisDrawing>("irisDrawing");
        const QImage circle = drawing->grab().toImage();
        typeInto(field("iris/blades"), QStringLiteral("3"));
        QCOMPARE(project().base().iris.blades, 3);
        const QImage triangle = drawing->grab().toImage();
        QVERIFY(triangle != circle);
        // A corner up behind the focal plane, a corner down in front of it.
        const auto widthAt = [](const QImage& disc, double share) {
            int count = 0;
            const int y = static_cast<int>(share * disc.height());
            for (int x = 0; x < disc.width(); ++x)
                count += qAlpha(disc.pixel(x, y)) > 128;
            return count;
        };
        const QImage behind = IrisDrawing::disc(project().base().iris, false, false, 40.0);
        const QImage inFront = IrisDrawing::disc(project().base().iris, true, false, 40.0);
        QVERIFY(widthAt(behind, 0.2) < widthAt(behind, 0.6));
        QVERIFY(widthAt(inFront, 0.8) < widthAt(inFront, 0.4));
        typeInto(field("iris/squeeze"), QStringLiteral("2"));
        const QImage narrow = IrisDrawing::disc(project().base().iris, false, false, 40.0);
        QVERIFY(narrow.width() < behind.width() * 6 / 10 && narrow.height() == behind.height());
        document().undoStack().undo();
        QCOMPARE(document().undoStack().undoText(), QStringLiteral("set blades"));
        document().undoStack().undo();
        QCOMPARE(drawing->grab().toImage(), circle);
    }

    void anIrisComesFromAPicture()
    {
        openDemo();
        QImage bar(64, 64, QImage::Format_RGB32);
        bar.fill(Qt::black);
        for (int y = 0; y < 64; ++y)
            for (int x = 28; x < 36; ++x)
                bar.setPixel(x, y, qRgb(255, 255, 255));
        const QString file = m_dir.filePath("bar.png");
        QVERIFY(bar.save(file));
        answerFileDialog(file);
        press(child<QPushButton>("chooseIrisPicture"));
        QTRY_VERIFY(project().base().iris.picture != nullptr);
        QCOMPARE(child<QPushButton>("chooseIrisPicture")->text(), QStringLiteral("bar.png"));
        QVERIFY(!field("iris/blades").isEnabled());
        settle();
        // Dark all over: told, and the earlier iris stays.
        bar.fill(Qt::black);
        const QString dark = m_dir.filePath("dark.png");
        QVERIFY(bar.save(dark));
        const auto before = project().base().iris.picture;
        answerFileDialog(dark);
        press(child<QPushButton>("chooseIrisPicture"));
        QTRY_VERIFY(message().contains(QStringLiteral("dark.png")));
        QCOMPARE(project().base().iris.picture, before);
        press(child<QPushButton>("clearIrisPicture"));
        QVERIFY(!project().base().iris.picture && field("iris/blades").isEnabled());
    }

    void theGlintLevelShowsInThePictureWhileDragged()
    {
        openDemo();
        const RgbaImage& colour = picture().passes->colour();
        typeInto(field("glint/level"), QStringLiteral("0.9"));
        QVERIFY(m_window->picture().brighter().isShown());
        int above = 0;
        for (std::size_t i = 0; i < colour.plane(0).size(); ++i)
            above += std::max({colour.plane(0).pixels()[i], colour.plane(1).pixels()[i],
                               colour.plane(2).pixels()[i]}) > 0.9F;
        QVERIFY(above > 0);
        QTRY_COMPARE(m_window->picture().brighter().count(), above);
        const QImage shown = m_window->picture().grab().toImage();
        QTRY_VERIFY_WITH_TIMEOUT(!m_window->picture().brighter().isShown(), 20'000);
        settle();
        QVERIFY(m_window->picture().grab().toImage() != shown);
        // Lifted glints are brighter in the result; nothing else is.
        const auto lightOf = [&] {
            double sum = 0.0;
            for (const float v : picture().values->plane(0).pixels())
                sum += static_cast<double>(v);
            return sum;
        };
        const double before = lightOf();
        typeInto(field("glint/liftStops"), QStringLiteral("2"));
        settle();
        QVERIFY(lightOf() > 1.1 * before);
    }

    void strengthAndLimitsHoldTheBlur()
    {
        openDemo();
        typeInto(field("blur/strength"), QStringLiteral("0 %"));
        QCOMPARE(project().base().blur.strength, 0.0);
        settle();
        // No blur is left: the result is the source.
        const auto& source = picture().passes->colour();
        for (const auto& [x, y] : {std::pair{100, 50}, std::pair{320, 180}, std::pair{600, 340}})
            QVERIFY(std::abs(picture().values->plane(0).at(x, y) - source.plane(0).at(x, y)) < 1e-4F);
        typeInto(field("blur/strength"), QStringLiteral("200 %"));
        typeInto(field("blur/limitFarPx"), QStringLiteral("3 px"));
        const auto model = project().lensSettingsAt(document().frame()).blurModel(640);
        QCOMPARE(model.radiusPx(1e6), 3.0);
        typeInto(field("blur/heldFar"), QStringLiteral("50 cm"));
        QVERIFY(std::abs(project().base().blur.heldFar - 0.5) < 1e-9);
        typeInto(field("blur/strength"), QStringLiteral("plenty"));
        QVERIFY(message().contains(QStringLiteral("plenty")));
        QCOMPARE(project().base().blur.strength, 2.0);
    }

    void theSimpleLensTakesTheBlurFromARadius()
    {
        openDemo();
        auto* simple = child<QCheckBox>("simpleLens");
        QVERIFY(!field("lens/simple/radiusPx").isVisibleTo(m_window.get()));
        press(simple, QPoint(8, simple->height() / 2));
        QVERIFY(project().base().simpleLens.has_value());
        QVERIFY(field("lens/simple/radiusPx").isVisibleTo(m_window.get()) &&
                !field("lens/fStop").isEnabled());
        typeInto(field("lens/simple/radiusPx"), QStringLiteral("12 px"));
        auto settings = project().lensSettingsAt(document().frame());
        settings.lens.focusDistanceMm = 1000.0 * settings.simpleLens->nearest;
        QVERIFY(std::abs(settings.blurModel(640).radiusPx(settings.simpleLens->farthest) - 12.0) < 1e-9);
        press(simple, QPoint(8, simple->height() / 2));
        QVERIFY(!project().base().simpleLens && field("lens/fStop").isEnabled());
    }

    void theFrameEdgeIsChosen()
    {
        openDemo();
        auto* box = child<QComboBox>("repair/frameEdge");
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Down);
        emit box->activated(box->currentIndex());
        QCOMPARE(project().base().frameEdge, defocus::FrameEdge::mirror);
        settle();
        QCOMPARE(picture().values->width(), 640);
    }

    // In a sequence; where its camera comes from is said once that is known.
    void otherFramesAreChosen()
    {
        auto* box = child<QComboBox>("views");
        auto* words = child<QLabel>("viewsWords");
        for (int frame = 1; frame <= 3; ++frame) {
            auto header = std::make_shared<Imf::Header>(64, 48);
            Imf::addWorldToNDC(*header, {1.F, 0.F, 0.F, 0.F, 0.F, -1.3F, 0.F, 0.F, 0.5F, 0.5F, 1.F, 1.F,
                                         -0.01F * static_cast<float>(frame), 0.F, 0.F, 0.F});
            const RgbaImage colour(64, 48);
            const Plane<float> depth(64, 48, 2.0F);
            passes::ExrOutput output;
            for (int c = 0; c < RgbaImage::channels; ++c)
                output.channels.push_back({std::string(1, "RGBA"[c]), &colour.plane(c)});
            output.channels.push_back({"Z", &depth});
            output.keep = header;
            passes::writeExr(m_dir.filePath(QStringLiteral("seen.%1.exr").arg(frame)).toStdString(), output);
        }
        QVERIFY(QFile::copy(m_dir.filePath("seen.1.exr"), m_dir.filePath("alone.exr")));
        drop({m_dir.filePath("alone.exr")});
        QVERIFY(!box->isEnabled());
        QCOMPARE(box->currentText(), QStringLiteral("only in a sequence"));
        drop({m_dir.filePath("seen.1.exr")});
        QVERIFY(box->isEnabled());
        QTRY_VERIFY(words->text().contains(QStringLiteral("from the files' headers")));
        QCOMPARE(box->currentText(), QStringLiteral("near ones"));
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Up);
        emit box->activated(box->currentIndex());
        QCOMPARE(project().base().otherFrames, others::OtherFrames::off);
        QCOMPARE(box->currentText(), QStringLiteral("off"));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(project().base().otherFrames, others::OtherFrames::nearFrames);
        QCOMPARE(box->currentIndex(), 1);
    }

    // Switched off and on again the picture is another one, and the same as before.
    void mattesAtEdgesAreSwitched()
    {
        openDemo();
        auto* box = child<QCheckBox>("mattesAtEdges");
        QVERIFY(box->isEnabled() && box->isChecked());
        const RgbaImage with = *picture().values;
        const auto differs = [&] {
            int count = 0;
            for (std::size_t i = 0; i < with.plane(1).size(); ++i)
                count +=
                    std::abs(with.plane(1).pixels()[i] - picture().values->plane(1).pixels()[i]) > 0.002F;
            return count;
        };
        QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
        settle();
        QVERIFY(!project().base().mattesAtEdges);
        QVERIFY2(differs() > 100, qPrintable(QString::number(differs())));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        settle();
        QVERIFY(project().base().mattesAtEdges && box->isChecked());
        QCOMPARE(differs(), 0);
    }

    // A large frame: as fine as the view shows when all of it is in sight, every pixel of what is in sight at
    // 1:1, and what comes into sight when the picture is moved.
    void onlyWhatIsInSightIsRefined()
    {
        const QString file = m_dir.filePath("large.exr");
        test::writeScene(file.toStdString(), 2400, 1500);
        drop({file});
        settle();
        PictureView& view = m_window->picture();
        const auto* quality = child<QLabel>("quality");
        QVERIFY(picture().isFinal && picture().detail.part.empty() && picture().detail.divisor >= 2);
        QCOMPARE(quality->text(), QStringLiteral("view quality"));
        const auto inSight = [&] {
            const QPointF from = view.map().toImage({0.0, 0.0});
            const QPointF to = view.map().toImage(QPointF(view.width(), view.height()));
            const int x = static_cast<int>(std::max(from.x(), 0.0));
            const int y = static_cast<int>(std::max(from.y(), 0.0));
            return PixelBox::at(x, y, static_cast<int>(std::min(to.x(), 2400.0) - std::max(from.x(), 0.0)),
                                static_cast<int>(std::min(to.y(), 1500.0) - std::max(from.y(), 0.0)));
        };
        QTest::keyClick(m_window.get(), Qt::Key_F3);
        settle();
        const PixelBox first = picture().detail.part;
        QCOMPARE(picture().detail.divisor, 1);
        QCOMPARE(quality->text(), QStringLiteral("full quality"));
        QVERIFY(first.contains(inSight()) && first.width() * first.height() < 2400 * 1500 / 2);
        const QPoint middle = view.rect().center();
        QTest::mousePress(&view, Qt::MiddleButton, {}, middle);
        QTest::mouseMove(&view, middle + QPoint(300, 200));
        QTest::mouseRelease(&view, Qt::MiddleButton, {}, middle + QPoint(300, 200));
        settle();
        QVERIFY(picture().detail.part != first && picture().detail.part.contains(inSight()));
        // The probe line reads what is shown there.
        const PixelBox part = picture().detail.part;
        QVERIFY(picture().placeOf(part.minX, part.minY) == QPoint(0, 0));
        QVERIFY(!picture().placeOf(part.maxX + 1, part.minY));
    }
};

QTEST_MAIN(TestWindowLens)
#include "test_window_lens.moc"
