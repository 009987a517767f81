#include "core/defocus/defocus.h"
#include "core/passes/image_file.h"
#include "support/test_files.h"

#include <QFile>
#include <QTest>
#include <cmath>
#include <numbers>

using namespace retinex;

/// Our discs beside those of a renderer that is not ours: POV-Ray's focal blur (Debian's povray 3.7, camera
/// keyword `aperture`; "POV-Ray 3.7 Reference", 3.4.2.1.7). Its opening has a unit of its own and is
/// calibrated at one focus distance; at the others, down to half a metre, ours must follow.
class TestOtherRenderer : public QObject
{
    Q_OBJECT

    static constexpr int kSize = 200;
    static constexpr double kFocalLengthMm = 85.0;
    static constexpr double kSensorMm = 36.0;
    static constexpr double kDistance = 4.0; ///< of the lamp, metres
    QTemporaryDir m_dir;

    /// Twice the scatter of light across, px: the radius of an even disc.
    static double radiusOf(const Plane<float>& light)
    {
        double sum = 0.0;
        double x1 = 0.0;
        double x2 = 0.0;
        double y1 = 0.0;
        double y2 = 0.0;
        for (int y = 0; y < light.height(); ++y)
            for (int x = 0; x < light.width(); ++x) {
                const double v = static_cast<double>(light.at(x, y));
                sum += v;
                x1 += v * x;
                y1 += v * y;
                x2 += v * x * x;
                y2 += v * y * y;
            }
        const double scatter = (x2 + y2) / sum - (x1 * x1 + y1 * y1) / (sum * sum);
        return 2.0 * std::sqrt(0.5 * scatter);
    }

    /// A small lamp through POV-Ray's opening, without the lamp's own size.
    double povRadius(double focus)
    {
        const double lampMetres = 0.012;
        const QString scene = m_dir.filePath("lamp.pov");
        QFile file(scene);
        if (!file.open(QIODevice::WriteOnly)) return 0.0;
        const double angle = 2.0 * std::atan(0.5 * kSensorMm / kFocalLengthMm) * 180.0 / std::numbers::pi;
        file.write(
            QStringLiteral("#version 3.7; global_settings { assumed_gamma 1 }\n"
                           "camera { perspective location 0 direction z up y right -x look_at z angle %1\n"
                           "  aperture 0.23 blur_samples 600 confidence 0.9999 variance 0 focal_point "
                           "<0, 0, %2> }\n"
                           "sphere { <0, 0, %3>, %4 pigment { rgb 1 } finish { ambient 0 diffuse 0 "
                           "emission 200 } }\n")
                .arg(angle, 0, 'g', 12)
                .arg(focus)
                .arg(kDistance)
                .arg(lampMetres)
                .toUtf8());
        file.close();
        const QString out = m_dir.filePath("lamp.exr");
        const auto outcome =
            test::runProgram("povray", {"+I" + scene, "+O" + out, "+FE", QStringLiteral("+W%1").arg(kSize),
                                        QStringLiteral("+H%1").arg(kSize), "-D", "-A", "-GA"});
        if (outcome.exitCode != 0) return 0.0;
        const auto planes = passes::readChannels(out.toStdString(), 0, {"R"}, {}).planes;
        const double pxPerMetre = kFocalLengthMm / kSensorMm * kSize / kDistance;
        const double lampPx = lampMetres * pxPerMetre;
        const double all = radiusOf(planes[0]);
        return std::sqrt(all * all - lampPx * lampPx); // scatters add
    }

    static defocus::LensSettings lensAt(double focus, double fStop, optics::Framing framing)
    {
        defocus::LensSettings settings;
        settings.lens = {kFocalLengthMm, fStop, 1000.0 * focus, framing};
        settings.sensorWidthMm = kSensorMm;
        return settings;
    }

    /// The same lamp as one pixel through our engine.
    static double ourRadius(double focus, double fStop, optics::Framing framing)
    {
        RgbaImage image(kSize, kSize);
        for (float& alpha : image.plane(3).pixels())
            alpha = 1.0F;
        image.plane(0).at(kSize / 2, kSize / 2) = 1000.0F;
        const Plane<float> distance(kSize, kSize, static_cast<float>(kDistance));
        const RgbaImage blurred = defocus::defocus({image, distance}, lensAt(focus, fStop, framing));
        return radiusOf(blurred.plane(0));
    }

private slots:
    void discsFollowARenderersAtOtherFocusDistances()
    {
        if (test::runProgram("povray", {"--version"}).exitCode < 0) QSKIP("povray is not installed");
        const double calibrated = povRadius(2.0);
        QVERIFY2(calibrated > 5.0, qPrintable(QString::number(calibrated)));
        const double atOne = 0.5 * kFocalLengthMm * kFocalLengthMm / 2000.0 * 0.5 / kSensorMm * kSize;
        const double fStop = atOne / calibrated; // as rendered: r = A f / s (z - s) / z / 2
        for (const double focus : {1.0, 0.5}) {
            const double theirs = povRadius(focus);
            const double ours = ourRadius(focus, fStop, optics::Framing::rendered);
            const double physical = ourRadius(focus, fStop, optics::Framing::physical);
            qInfo("focus %.1f m: theirs %.3f px, ours %.3f px (%+.2f %%), as a physical lens %.3f px (%+.1f "
                  "%%)",
                  focus, theirs, ours, 100.0 * (ours / theirs - 1.0), physical,
                  100.0 * (physical / theirs - 1.0));
            QVERIFY(std::abs(ours / theirs - 1.0) < 0.01);
            // The two framings part by s / (s - f): 9 % at a metre, 20 % at half a metre.
            const double parting = focus / (focus - 0.001 * kFocalLengthMm);
            QVERIFY(std::abs(physical / ours / parting - 1.0) < 0.01);
        }
    }

    // A ball before a wall, both of one colour, as another renderer anti-aliases them, adaptively
    // (POV-Ray 3.7 Reference, 3.2.8.1: +AM2), and depth sampled in the pixel's middle or off it: no dark,
    // bright or dotted line around the ball, whose picture hangs on the distance from its middle alone.
    void ballsKeepCleanRims_data()
    {
        QTest::addColumn<double>("radiusPx");
        QTest::addColumn<double>("off");
        for (const double radius : {0.5, 1.0, 2.0, 4.0})
            for (const double off : {0.0, 0.25, 0.5})
                QTest::addRow("%g px, depth off by %g px", radius, off) << radius << off;
    }
    void ballsKeepCleanRims()
    {
        if (test::runProgram("povray", {"--version"}).exitCode < 0) QSKIP("povray is not installed");
        QFETCH(double, radiusPx);
        QFETCH(double, off);
        constexpr double ballZ = 2.0;
        constexpr double ballSize = 0.25;
        const double slope = 0.5 * kSensorMm / kFocalLengthMm; // of the frame's edge
        const QString out = m_dir.filePath("ball.exr");
        if (!QFile::exists(out)) {
            QFile file(m_dir.filePath("ball.pov"));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(QStringLiteral(
                           "#version 3.7; global_settings { assumed_gamma 1 }\n"
                           "camera { perspective location 0 direction z up y right -x look_at z angle %1 }\n"
                           "sphere { <0, 0, %2>, %3 pigment { rgb <0.05, 0.1, 0.2> } finish { ambient 0 "
                           "diffuse 0 emission 1 } }\n"
                           "plane { z, %4 pigment { rgb <0.6, 0.5, 0.4> } finish { ambient 0 diffuse 0 "
                           "emission 1 } }\n")
                           .arg(2.0 * std::atan(slope) * 180.0 / std::numbers::pi, 0, 'g', 12)
                           .arg(ballZ)
                           .arg(ballSize)
                           .arg(kDistance)
                           .toUtf8());
            file.close();
            QCOMPARE(test::runProgram("povray",
                                      {"+I" + file.fileName(), "+O" + out, "+FE",
                                       QStringLiteral("+W%1").arg(kSize), QStringLiteral("+H%1").arg(kSize),
                                       "-D", "+A0.1", "+AM2", "+R3", "-J", "-GA"})
                         .exitCode,
                     0);
        }
        RgbaImage colour(kSize, kSize);
        auto planes = passes::readChannels(out.toStdString(), 0, {"R", "G", "B"}, {}).planes;
        for (int c = 0; c < 3; ++c)
            colour.plane(c) = std::move(planes[static_cast<std::size_t>(c)]);
        colour.plane(3) = Plane<float>(kSize, kSize, 1.0F);
        Plane<float> distance(kSize, kSize, static_cast<float>(kDistance));
        for (int y = 0; y < kSize; ++y)
            for (int x = 0; x < kSize; ++x) {
                // The ray (u, v, 1) t meets the ball where t^2 (1 + u^2 + v^2) - 2 t z + z^2 - r^2 = 0.
                const double u = ((x + 0.5 + off) / kSize * 2.0 - 1.0) * slope;
                const double v = ((y + 0.5 + off) / kSize * 2.0 - 1.0) * slope;
                const double a = 1.0 + u * u + v * v;
                const double root = ballZ * ballZ - a * (ballZ * ballZ - ballSize * ballSize);
                if (root >= 0.0) distance.at(x, y) = static_cast<float>((ballZ - std::sqrt(root)) / a);
            }
        auto settings = lensAt(kDistance, 1.0, optics::Framing::rendered);
        settings.lens.fStop = std::abs(settings.blurModel(kSize).radiusPx(1.9)) / radiusPx;
        const RgbaImage blurred = defocus::defocus({colour, distance}, settings);
        const Plane<float>& red = blurred.plane(0);
        std::vector<double> sum(4 * kSize);
        std::vector<int> count(sum.size());
        const auto ring = [](int x, int y) { // a quarter of a pixel wide
            return static_cast<std::size_t>(4.0 * std::hypot(x + 0.5 - 0.5 * kSize, y + 0.5 - 0.5 * kSize));
        };
        for (int y = 0; y < kSize; ++y)
            for (int x = 0; x < kSize; ++x) {
                const auto value = static_cast<double>(red.at(x, y));
                QVERIFY2(value > 0.05 - 0.005 && value < 0.6 + 0.005, qPrintable(QString::number(value)));
                sum[ring(x, y)] += value;
                ++count[ring(x, y)];
            }
        double most = 0.0;
        for (int y = 0; y < kSize; ++y)
            for (int x = 0; x < kSize; ++x) {
                const std::size_t at = ring(x, y);
                most = std::max(most, std::abs(static_cast<double>(red.at(x, y)) - sum[at] / count[at]));
            }
        double back = 0.0;
        double before = 0.0;
        for (std::size_t i = 0; i < sum.size(); ++i) {
            if (count[i] < 8) continue;
            const double mean = sum[i] / count[i];
            back = std::max(back, before - mean);
            before = mean;
        }
        qInfo("a pixel differs from its ring by %.3f at most, rings fall back by %.4f", most, back);
        // A ring is a quarter of a pixel wide and lies across the rim; a dot or a dash would be as strong as
        // the edge.
        QVERIFY(most < 0.14);
        QVERIFY(back < 0.001);
    }

    // Against the formula, to 1 %: c = A f / s |z - s| / z.
    void discsHaveTheSizeOfTheFormula()
    {
        for (const double focus : {0.5, 1.0, 2.0, 100.0}) {
            const double mm = kFocalLengthMm / 0.6 * kFocalLengthMm / (1000.0 * focus) *
                              std::abs(kDistance - focus) / kDistance;
            const double px = 0.5 * mm / kSensorMm * kSize;
            QVERIFY(std::abs(ourRadius(focus, 0.6, optics::Framing::rendered) / px - 1.0) < 0.01);
        }
    }

    // What the f-stop means: by area a blade's opening spreads light as a circle of that f-stop does, by the
    // blades' circle its corners lie on that circle.
    void theOpeningIsCountedByAreaOrByTheBladesCircle()
    {
        optics::Iris iris;
        for (const int blades : {3, 5, 8}) {
            iris.blades = blades;
            iris.opening = optics::Opening::blades;
            double corner = 0.0;
            for (const optics::Point& p : optics::irisOutline(iris, false))
                corner = std::max(corner, std::hypot(p.x, p.y));
            QVERIFY(std::abs(corner - 1.0) < 1e-9 && std::abs(optics::irisReach(iris) - 1.0) < 1e-9);
            // Area of a regular polygon in a circle of radius 1: n / 2 sin(2 pi / n) (any book on geometry).
            const double area = 0.5 * blades * std::sin(2.0 * std::numbers::pi / blades);
            iris.opening = optics::Opening::area;
            QVERIFY(std::abs(optics::irisReach(iris) - std::sqrt(std::numbers::pi / area)) < 1e-9);
        }
    }

    // Light stays what it is with either.
    void aPointKeepsItsLightWithEitherOpening()
    {
        for (const auto opening : {optics::Opening::area, optics::Opening::blades}) {
            RgbaImage image(120, 120);
            for (float& alpha : image.plane(3).pixels())
                alpha = 1.0F;
            image.plane(0).at(60, 60) = 100.0F;
            auto settings = lensAt(2.0, 1.0, optics::Framing::rendered);
            settings.iris.blades = 5;
            settings.iris.opening = opening;
            const RgbaImage blurred = defocus::defocus({image, Plane<float>(120, 120, 4.0F)}, settings);
            double sum = 0.0;
            for (const float v : blurred.plane(0).pixels())
                sum += static_cast<double>(v);
            QVERIFY2(std::abs(sum - 100.0) < 0.5, qPrintable(QString::number(sum)));
        }
    }

    // The share that a pixel gets: none is sharp, half has half the radius.
    void aPixelsShareOfBlurCounts()
    {
        RgbaImage image(120, 120);
        for (float& alpha : image.plane(3).pixels())
            alpha = 1.0F;
        image.plane(0).at(60, 60) = 100.0F;
        const Plane<float> distance(120, 120, 4.0F);
        const auto settings = lensAt(2.0, 1.0, optics::Framing::rendered);
        const double whole = radiusOf(defocus::defocus({image, distance}, settings).plane(0));
        for (const float share : {0.0F, 0.5F, 1.0F}) {
            defocus::LensInput input(image, distance);
            auto blur = std::make_shared<BlurShare>(120, 120);
            blur->share = Plane<float>(120, 120, share);
            input.setBlurShare(blur);
            const RgbaImage blurred = defocus::defocus(input, settings);
            if (share == 0.0F)
                QVERIFY(std::abs(blurred.plane(0).at(60, 60) - 100.0F) < 1e-3F);
            else
                QVERIFY(std::abs(radiusOf(blurred.plane(0)) / whole / static_cast<double>(share) - 1.0) <
                        0.02);
        }
    }
};

QTEST_GUILESS_MAIN(TestOtherRenderer)
#include "test_other_renderer.moc"
