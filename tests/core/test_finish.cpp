// Finish: each step against its formula, a published one where there is one; the whole in parts and with bad
// light.
#include "core/finish/colour_steps.h"
#include "core/finish/finish.h"
#include "core/finish/glow.h"
#include "core/finish/grain.h"
#include "core/finish/grain_plate.h"
#include "core/finish/ocio_grade.h"
#include "core/finish/optics_steps.h"
#include "core/finish/white_balance.h"
#include "core/project/settings/settings.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <OpenColorIO/OpenColorIO.h>
#include <QFile>
#include <QTest>
#include <cmath>
#include <fmt/format.h>
#include <random>

using namespace retinex;
using namespace retinex::finish;
namespace ocio = OCIO_NAMESPACE;

namespace {

RgbaImage filled(int width, int height, float red, float green, float blue, float alpha = 1.0F)
{
    RgbaImage image(width, height);
    const float values[] = {red, green, blue, alpha};
    for (int c = 0; c < 4; ++c)
        std::ranges::fill(image.plane(c).pixels(), values[c]);
    return image;
}

Canvas canvasOf(RgbaImage image)
{
    const int width = image.width();
    const int height = image.height();
    return {std::move(image), PixelBox::at(0, 0, width, height), width, height, 1};
}

double sumOf(const Plane<float>& plane)
{
    double sum = 0.0;
    for (const float value : plane.pixels())
        sum += static_cast<double>(value);
    return sum;
}

/// Light of many tones, between 1/1000 and 30, with a few half transparent pixels.
RgbaImage anyPicture(int width, int height)
{
    std::mt19937 random(7);
    std::uniform_real_distribution<float> stops(-10.0F, 5.0F);
    RgbaImage image(width, height);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const float alpha = (x + y) % 11 == 0 ? 0.5F : 1.0F;
            for (int c = 0; c < 3; ++c)
                image.plane(c).at(x, y) = alpha * std::exp2(stops(random));
            image.plane(3).at(x, y) = alpha;
        }
    return image;
}

Steps everyStep()
{
    Steps steps;
    steps.glows.resize(2);
    for (Glow& glow : steps.glows)
        glow.level = 0.8;
    steps.glows[0].radius = 0.2;
    steps.glows[1].radius = 0.02;
    steps.glows[1].tail = 0.2;
    steps.finish.fringing.cornerPx = 2.0;
    steps.finish.vignette.stops = 0.7;
    steps.finish.grade.exposureStops = 0.3;
    steps.finish.grade.white.temperatureK = 5200.0;
    steps.finish.grade.contrast = 1.1;
    steps.finish.grade.saturation = 0.9;
    steps.finish.grade.shadows[3] = 1.1;
    steps.finish.grade.curve = {{-7.0, -6.5}, {0.0, 0.0}, {7.0, 6.5}};
    steps.finish.grade.cdl.slope = {1.05, 1.0, 0.95};
    steps.finish.grain.amount = 0.02;
    return steps;
}

Look lookOf(const std::string& file)
{
    Look look;
    look.file = file;
    return look;
}

Sources sourcesOf(int frame, Quality quality = Quality::exact)
{
    Sources sources;
    sources.frame = frame;
    sources.quality = quality;
    return sources;
}

bool isSame(const RgbaImage& a, const RgbaImage& b)
{
    for (int c = 0; c < 4; ++c)
        if (!std::ranges::equal(a.plane(c).pixels(), b.plane(c).pixels())) return false;
    return a.width() == b.width() && a.height() == b.height();
}

/// Through the grade alone.
std::array<float, 3> graded(const Grade& grade, const std::array<float, 3>& rgb,
                            Quality quality = Quality::exact)
{
    Steps steps;
    steps.finish.grade = grade;
    return ColourSteps::make(steps, quality)->applied(rgb);
}

double lumaOf(const std::array<double, 3>& rgb)
{
    return 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2];
}

struct Spread
{
    double mean = 0.0;
    double deviation = 0.0;
};

Spread spreadOf(const Plane<float>& plane)
{
    Spread spread;
    const auto count = static_cast<double>(plane.size());
    spread.mean = sumOf(plane) / count;
    for (const float value : plane.pixels())
        spread.deviation += std::pow(static_cast<double>(value) - spread.mean, 2.0);
    spread.deviation = std::sqrt(spread.deviation / count);
    return spread;
}

double correlation(const Plane<float>& a, const Plane<float>& b, int dx = 0, int dy = 0)
{
    double ab = 0.0;
    double aa = 0.0;
    double bb = 0.0;
    for (int y = 0; y < a.height() - dy; ++y)
        for (int x = 0; x < a.width() - dx; ++x) {
            const double p = static_cast<double>(a.at(x, y));
            const double q = static_cast<double>(b.at(x + dx, y + dy));
            ab += p * q;
            aa += p * p;
            bb += q * q;
        }
    return ab / std::sqrt(aa * bb);
}

} // namespace

class TestFinish : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const char* name) const { return m_dir.filePath(QLatin1String(name)).toStdString(); }
    void write(const char* name, const QByteArray& text) const
    {
        QFile file(m_dir.filePath(QLatin1String(name)));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(text);
    }

private slots:
    void glowAddsTheLightThatItSays_data()
    {
        QTest::addColumn<double>("radius");
        QTest::newRow("tight") << 0.004;
        QTest::newRow("middling") << 0.05;
        QTest::newRow("wide") << 0.3;
    }
    void glowAddsTheLightThatItSays()
    {
        QFETCH(double, radius);
        Canvas canvas = canvasOf(filled(640, 400, 0.1F, 0.1F, 0.1F));
        for (int y = 198; y < 203; ++y)
            for (int x = 317; x < 323; ++x) {
                canvas.image.plane(0).at(x, y) = 20.0F;
                canvas.image.plane(1).at(x, y) = 10.0F;
            }
        Glow glow;
        glow.radius = radius;
        glow.amount = 0.4;
        glow.tint = {1.0, 0.5, 2.0};
        const RgbaImage before = canvas.image;
        addGlow(canvas, glowOf(canvas, glow, {}, {}), glow, {});
        // 30 pixels of 20, 10 and 0.1, far above the level.
        const double expected[] = {0.4 * 30 * 20.0 * 1.0, 0.4 * 30 * 10.0 * 0.5, 0.4 * 30 * 0.1 * 2.0};
        for (int c = 0; c < 3; ++c) {
            const double added = sumOf(canvas.image.plane(c)) - sumOf(before.plane(c));
            QVERIFY2(std::abs(added / expected[c] - 1.0) < 0.005,
                     qPrintable(QStringLiteral("%1: %2 of %3").arg(c).arg(added).arg(expected[c])));
        }
        QVERIFY(isSame(canvas.image, canvas.image));
        QCOMPARE(canvas.image.plane(3).at(320, 200), 1.0F);
    }

    // The mean square distance of a Gaussian's light is twice its variance.
    void aGlowIsAsWideAsItSays_data()
    {
        QTest::addColumn<double>("radiusPx");
        QTest::addColumn<double>("tail");
        for (const double radius : {16.0, 48.0, 120.0})
            for (const double tail : {0.0, 0.5, 1.0})
                QTest::addRow("%g px, tail %g", radius, tail) << radius << tail;
    }
    void aGlowIsAsWideAsItSays()
    {
        QFETCH(double, radiusPx);
        QFETCH(double, tail);
        RgbaImage light(801, 801);
        light.plane(0).at(400, 400) = 1000.0F;
        scatter(light, radiusPx, tail, {});
        double sum = 0.0;
        double square = 0.0;
        for (int y = 0; y < 801; ++y)
            for (int x = 0; x < 801; ++x) {
                const auto value = static_cast<double>(light.plane(0).at(x, y));
                sum += value;
                square += value * ((x - 400) * (x - 400) + (y - 400) * (y - 400));
                if (std::hypot(x - 400, y - 400) > 3.0 * radiusPx + 4.0) QCOMPARE(value, 0.0);
            }
        const double s[] = {radiusPx / 8.0, radiusPx / 4.0, radiusPx / 2.0};
        const double w[] = {(1.0 - tail) * (1.0 - tail), 2.0 * tail * (1.0 - tail), tail * tail};
        double expected = 0.0;
        for (int i = 0; i < 3; ++i)
            expected += w[i] * 2.0 * s[i] * s[i];
        QVERIFY(std::abs(sum - 1000.0) < 1.0);
        // A Gaussian that ends at 3 standard deviations has 97 % of its variance.
        const double ratio = square / sum / expected;
        QVERIFY2(ratio > 0.93 && ratio < 1.02, qPrintable(QString::number(ratio)));
    }

    void aGlowLimitedToAMatteAddsNothingFarFromIt()
    {
        Canvas canvas = canvasOf(filled(400, 300, 0.0F, 0.0F, 0.0F));
        canvas.image.plane(1).at(60, 150) = 50.0F;
        canvas.image.plane(1).at(340, 150) = 50.0F; // as bright, beyond the matte
        Plane<float> matte(400, 300);
        for (int y = 0; y < 300; ++y)
            for (int x = 0; x < 120; ++x)
                matte.at(x, y) = 1.0F;
        Glow glow;
        glow.radius = 0.1; // 40 px
        const RgbaImage before = canvas.image;
        addGlow(canvas, glowOf(canvas, glow, matte, {}), glow, {});
        QVERIFY(canvas.image.plane(1).at(70, 150) > before.plane(1).at(70, 150));
        for (int y = 0; y < 300; ++y)
            for (int x = 190; x < 400; ++x)
                QCOMPARE(canvas.image.plane(1).at(x, y), before.plane(1).at(x, y));
    }

    void levelAndSoftnessSetIn()
    {
        Glow glow;
        glow.level = 2.0;
        glow.softnessStops = 2.0;
        const auto lightOf = [&](float value) {
            return static_cast<double>(
                glowingLight(filled(1, 1, value, value, value), glow, {}, false, {}).plane(0).at(0, 0));
        };
        QCOMPARE(lightOf(1.0F), 0.0);                        // a stop below: the beginning
        QVERIFY(std::abs(lightOf(2.0F) - 0.5 * 2.0) < 1e-6); // at the level: half
        QVERIFY(std::abs(lightOf(4.0F) - 4.0) < 1e-6);       // a stop above: all
        const double t = 0.75;                               // half a stop above
        QVERIFY(std::abs(lightOf(std::exp2(1.5F)) - (3 * t * t - 2 * t * t * t) * std::exp2(1.5)) < 1e-4);
        glow.softnessStops = 0.0;
        QCOMPARE(lightOf(1.99F), 0.0);
        QVERIFY(lightOf(2.01F) > 2.0);
    }

    void glowsBlendByTheirFormulas()
    {
        for (const GlowBlend blend : {GlowBlend::add, GlowBlend::screen, GlowBlend::lighten}) {
            Canvas canvas = canvasOf(filled(64, 64, 0.5F, 0.5F, 0.5F));
            Glow glow;
            glow.level = 0.1;
            glow.amount = 0.6; // evenly lit: a glow of 0.3 everywhere
            glow.blend = blend;
            const RgbaImage before = canvas.image;
            addGlow(canvas, glowOf(canvas, glow, {}, {}), glow, {});
            const float expected = blend == GlowBlend::add      ? 0.8F
                                   : blend == GlowBlend::screen ? 0.5F + 0.3F - 0.15F
                                                                : 0.5F;
            QVERIFY(std::abs(canvas.image.plane(0).at(32, 32) - expected) < 1e-4F);
        }
    }

    // Lines of light: where the middle of each colour has gone.
    void fringingMovesLinesByItsFormula_data()
    {
        QTest::addColumn<double>("cornerPx");
        QTest::addColumn<int>("growth");
        for (const double px : {0.7, 3.0, -4.0})
            for (const int growth : {0, 1})
                QTest::addRow("%g px, %s", px, growth == 0 ? "even" : "square") << px << growth;
    }
    void fringingMovesLinesByItsFormula()
    {
        QFETCH(double, cornerPx);
        QFETCH(int, growth);
        constexpr int width = 640;
        constexpr int height = 9; // along the middle row what moves outwards moves sideways
        Canvas canvas = canvasOf(filled(width, height, 0.0F, 0.0F, 0.0F));
        for (int x = 20; x < width; x += 40)
            for (int y = 0; y < height; ++y)
                for (int c = 0; c < 3; ++c)
                    canvas.image.plane(c).at(x, y) = 1.0F;
        Fringing fringing;
        fringing.cornerPx = cornerPx;
        fringing.growth = static_cast<FringeGrowth>(growth);
        addFringing(canvas, fringing, {});
        for (int x = 20; x < width; x += 40) {
            // The formula holds where the light comes out.
            const double side = x + 0.5 < 0.5 * width ? -1.0 : 1.0;
            const auto out = [&](double sign) {
                double moved = 0.0;
                for (int i = 0; i < 50; ++i)
                    moved = sign * side * fringePx(fringing, x + 0.5 + moved, 4.5, width, height);
                return moved;
            };
            for (int c = 0; c < 3; ++c) {
                double sum = 0.0;
                double place = 0.0;
                for (int i = std::max(0, x - 15); i <= std::min(width - 1, x + 15); ++i) {
                    const auto value = static_cast<double>(canvas.image.plane(c).at(i, 4));
                    sum += value;
                    place += value * i;
                }
                const double moved = place / sum - x;
                const double own = c == 1 ? 0.0 : out(1.0 - c);
                QVERIFY2(
                    std::abs(moved - own) < 0.05,
                    qPrintable(QStringLiteral("%1, colour %2: %3 for %4").arg(x).arg(c).arg(moved).arg(own)));
            }
        }
    }

    // No hard copies: red light of a line is one hump.
    void fringesAreSmooth()
    {
        Canvas canvas = canvasOf(filled(400, 9, 0.0F, 0.0F, 0.0F));
        for (int y = 0; y < 9; ++y)
            for (int c = 0; c < 3; ++c)
                canvas.image.plane(c).at(380, y) = 1.0F;
        Fringing fringing;
        fringing.cornerPx = 6.0;
        addFringing(canvas, fringing, {});
        for (int c = 0; c < 3; ++c) {
            int turns = 0;
            for (int x = 361; x < 399; ++x) {
                const float left = canvas.image.plane(c).at(x, 4) - canvas.image.plane(c).at(x - 1, 4);
                const float right = canvas.image.plane(c).at(x + 1, 4) - canvas.image.plane(c).at(x, 4);
                if (left > 0.01F && right < -0.01F) ++turns;
            }
            QVERIFY2(turns <= 2, qPrintable(QString::number(turns)));
        }
    }

    void vignetteIsDarkerByItsStopsAtTheCorner()
    {
        Vignette vignette;
        vignette.stops = 2.0;
        QCOMPARE(vignetteFactor(vignette, 320.0, 180.0, 640.0, 360.0), 1.0);
        QVERIFY(std::abs(vignetteFactor(vignette, 0.0, 0.0, 640.0, 360.0) - 0.25) < 1e-12);
        // As the frame: the same at the middle of each side. A circle: less above than beside.
        const double side = vignetteFactor(vignette, 640.0, 180.0, 640.0, 360.0);
        QVERIFY(std::abs(side - vignetteFactor(vignette, 320.0, 0.0, 640.0, 360.0)) < 1e-12);
        vignette.roundness = 1.0;
        QVERIFY(vignetteFactor(vignette, 320.0, 0.0, 640.0, 360.0) >
                vignetteFactor(vignette, 640.0, 180.0, 640.0, 360.0));
        Canvas canvas = canvasOf(filled(64, 36, 1.0F, 1.0F, 1.0F));
        addVignette(canvas, vignette, {});
        QVERIFY(std::abs(static_cast<double>(canvas.image.plane(0).at(3, 5)) -
                         vignetteFactor(vignette, 3.5, 5.5, 64.0, 36.0)) < 1e-6);
        QCOMPARE(canvas.image.plane(3).at(3, 5), 1.0F);
    }

    void exposureContrastAndSaturation()
    {
        Grade grade;
        grade.exposureStops = 1.0;
        QVERIFY(std::abs(graded(grade, {0.3F, 0.2F, 0.1F})[0] - 0.6F) < 1e-5F);
        grade = {};
        grade.contrast = 1.5;
        for (const double pivot : {0.18, 0.5}) {
            grade.pivot = pivot;
            const auto p = static_cast<float>(pivot);
            QVERIFY(std::abs(graded(grade, {p, p, p})[1] - p) < 1e-4F); // stays
            QVERIFY(std::abs(graded(grade, {2.0F * p, p, p})[0] - p * std::exp2(1.5F)) < 1e-3F);
        }
        grade = {};
        grade.saturation = 0.0;
        const auto grey = graded(grade, {0.4F, 0.2F, 0.6F});
        QVERIFY(std::abs(static_cast<double>(grey[0]) - lumaOf({0.4, 0.2, 0.6})) < 1e-5);
        QVERIFY2(std::abs(grey[0] - grey[1]) < 1e-5F && std::abs(grey[1] - grey[2]) < 1e-5F,
                 qPrintable(QStringLiteral("%1 %2 %3")
                                .arg(static_cast<double>(grey[0]))
                                .arg(static_cast<double>(grey[1]))
                                .arg(static_cast<double>(grey[2]))));
    }

    // ASC CDL 1.2: out = (in * slope + offset) ^ power, then saturation with the weights of Rec. 709.
    void cdlIsTheFormula()
    {
        Grade grade;
        grade.cdl.scale = Cdl::Scale::linear;
        grade.cdl.slope = {1.2, 0.9, 1.1};
        grade.cdl.offset = {0.02, -0.03, 0.05};
        grade.cdl.power = {0.9, 1.1, 1.3};
        grade.cdl.saturation = 1.2;
        for (const std::array<float, 3>& in :
             {std::array<float, 3>{0.18F, 0.18F, 0.18F}, std::array<float, 3>{0.9F, 0.4F, 0.1F},
              std::array<float, 3>{3.0F, 1.5F, 0.7F}}) {
            std::array<double, 3> out{};
            for (std::size_t i = 0; i < 3; ++i)
                out[i] = std::pow(static_cast<double>(in[i]) * grade.cdl.slope[i] + grade.cdl.offset[i],
                                  grade.cdl.power[i]);
            const double luma = lumaOf(out);
            const auto found = graded(grade, in);
            for (std::size_t i = 0; i < 3; ++i) {
                const double expected = luma + 1.2 * (out[i] - luma);
                QVERIFY2(
                    std::abs(static_cast<double>(found[i]) - expected) < 1e-5 * std::max(1.0, expected),
                    qPrintable(QStringLiteral("%1 for %2").arg(static_cast<double>(found[i])).arg(expected)));
            }
        }
    }

    // The same on the scale of ACEScct (S-2016-001): 0.18 is 0.4135884 there.
    void cdlOnTheLogScale()
    {
        QVERIFY(std::abs(toTone(0.18F) - 0.4135884F) < 1e-6F);
        QVERIFY(std::abs(toTone(0.0F) - 0.0729055F) < 1e-6F);
        Grade grade;
        grade.cdl.slope = {1.1, 1.0, 1.0};
        grade.cdl.offset = {0.0, 0.03, 0.0};
        const auto found = graded(grade, {0.18F, 0.18F, 0.18F});
        QVERIFY(std::abs(found[0] - fromTone(1.1F * toTone(0.18F))) < 1e-5F);
        QVERIFY(std::abs(found[1] - fromTone(toTone(0.18F) + 0.03F)) < 1e-5F);
        QVERIFY(std::abs(found[2] - 0.18F) < 1e-6F);
    }

    void cdlFilesGoInAndOut()
    {
        Cdl cdl;
        cdl.slope = {1.25, 0.875, 1.0625};
        cdl.offset = {0.015625, -0.03125, 0.0};
        cdl.power = {0.75, 1.5, 1.0};
        cdl.saturation = 0.8125;
        for (const char* name : {"a.cc", "a.ccc", "a.cdl"}) {
            writeCdl(path(name), cdl, "greenhouse & co");
            QVERIFY(readCdl(path(name)) == cdl);
            // Another reader of the same standard.
            auto file = ocio::FileTransform::Create();
            file->setSrc(path(name).c_str());
            file->setCCCId("0");
            const auto processor = ocio::Config::CreateRaw()->getProcessor(file)->getDefaultCPUProcessor();
            float rgb[] = {0.5F, 0.5F, 0.5F};
            processor->applyRGB(rgb);
            QVERIFY(rgb[0] != 0.5F);
        }
        QVERIFY_EXCEPTION_THROWN(writeCdl(path("a.txt"), cdl, "a"), Error);
        write("bad.cc", "<ColorCorrection><SOPNode><Slope>1 2");
        for (const char* name : {"bad.cc", "none.cc"})
            try {
                (void)readCdl(path(name));
                QFAIL("read nothing");
            } catch (const Error& error) {
                QVERIFY2(QString::fromUtf8(error.what()).contains(QLatin1String(name)), error.what());
            }
    }

    // Stops in, stops out; against OpenColorIO's curve with its log left out, made on another way.
    void curvesAreThoseOfOpenColorIo()
    {
        Grade grade;
        grade.curve = {{-6.0, -5.0}, {-1.0, -1.5}, {0.0, 0.2}, {3.0, 3.5}, {6.0, 5.0}};
        auto curve = ocio::GradingBSplineCurve::Create(
            {{-6.0F, -5.0F}, {-1.0F, -1.5F}, {0.0F, 0.2F}, {3.0F, 3.5F}, {6.0F, 5.0F}});
        auto plain = ocio::GradingBSplineCurve::Create({{-7.0F, -7.0F}, {0.0F, 0.0F}, {7.0F, 7.0F}});
        auto transform = ocio::GradingRGBCurveTransform::Create(ocio::GRADING_LIN);
        transform->setBypassLinToLog(true);
        transform->setValue(ocio::GradingRGBCurve::Create(plain, plain, plain, curve));
        const auto processor = ocio::Config::CreateRaw()->getProcessor(transform)->getOptimizedCPUProcessor(
            ocio::OPTIMIZATION_NONE);
        for (double stops = -5.0; stops <= 5.0; stops += 0.5) {
            float s[] = {static_cast<float>(stops), 0.0F, 0.0F};
            processor->applyRGB(s);
            const auto light = static_cast<float>(0.18 * std::exp2(stops));
            const float found = graded(grade, {light, light, light})[0];
            const double expected = 0.18 * std::exp2(static_cast<double>(s[0]));
            QVERIFY2(std::abs(static_cast<double>(found) / expected - 1.0) < 0.01,
                     qPrintable(QStringLiteral("%1 stops: %2 for %3")
                                    .arg(stops)
                                    .arg(static_cast<double>(found))
                                    .arg(expected)));
        }
        // A point is met.
        QVERIFY(std::abs(graded(grade, {0.18F, 0.18F, 0.18F})[0] / (0.18F * std::exp2(0.2F)) - 1.0F) < 0.01F);
    }

    // The tables against the processor that they stand for, colours of their own.
    void theTablesOfAGradeAreItsProcessor()
    {
        Grade grade = everyStep().finish.grade;
        grade.midtones = {1.1, 0.9, 1.0, 1.05};
        grade.highlights = {0.9, 1.0, 1.1, 0.95};
        grade.redCurve = {{-6.0, -6.5}, {0.0, 0.3}, {6.0, 6.0}};
        grade.cdl.power = {1.1, 0.9, 1.0};
        grade.cdl.saturation = 1.2;
        for (const Cdl::Scale scale : {Cdl::Scale::linear, Cdl::Scale::log}) {
            grade.cdl.scale = scale;
            const auto processor = ocio::Config::CreateRaw()
                                       ->getProcessor(gradeTransform(grade))
                                       ->getOptimizedCPUProcessor(ocio::BIT_DEPTH_F32, ocio::BIT_DEPTH_F32,
                                                                  ocio::OPTIMIZATION_LOSSLESS);
            const RgbaImage picture = anyPicture(200, 100);
            std::vector<double> apart;
            for (std::size_t i = 0; i < picture.plane(0).size(); ++i) {
                const std::array<float, 3> in{picture.plane(0).pixels()[i], picture.plane(1).pixels()[i],
                                              picture.plane(2).pixels()[i]};
                std::array<float, 3> exact = in;
                processor->applyRGB(exact.data());
                const auto found = graded(grade, in);
                for (std::size_t c = 0; c < 3; ++c)
                    apart.push_back(static_cast<double>(std::abs(found[c] - exact[c])) /
                                    std::max(0.18, static_cast<double>(std::abs(exact[c]))));
            }
            std::ranges::sort(apart);
            QVERIFY2(apart.back() < 5e-4, qPrintable(QString::number(apart.back()))); // at a bend
            const double nearly = apart[apart.size() * 99 / 100];
            QVERIFY2(nearly < 5e-5, qPrintable(QString::number(nearly)));
        }
    }

    void curvesThatFoldBackAreRefused()
    {
        for (const Curve& curve : {Curve{{0.0, 0.0}, {0.0, 1.0}}, Curve{{0.0, 0.0}, {1.0, -1.0}},
                                   Curve{{1.0, 0.0}, {0.0, 1.0}}, Curve{{0.0, std::nan("")}, {1.0, 1.0}}}) {
            Grade grade;
            grade.greenCurve = curve;
            try {
                checkCurves(grade);
                QFAIL("taken");
            } catch (const Error& error) {
                QVERIFY2(QString::fromUtf8(error.what()).contains("green"), error.what());
            }
        }
        Grade flat; // an even stretch is none
        flat.curve = {{0.0, 0.0}, {1.0, 0.0}};
        checkCurves(flat);
    }

    // CIE 15:2004: D65 and D50 (at 6504 and 5003 K), and the Planckian radiator of illuminant A (2856 K).
    void lightsHaveTheirPublishedChromaticities()
    {
        const auto near = [](const Chromaticity& c, double x, double y, double within) {
            return std::abs(c.x - x) < within && std::abs(c.y - y) < within;
        };
        QVERIFY(near(whiteOf({6504.0, 0.0}), 0.3127, 0.3290, 2e-4));
        QVERIFY(near(whiteOf({5003.0, 0.0}), 0.3457, 0.3585, 3e-4));
        QVERIFY(near(whiteOf({2856.0, 0.0}), 0.4476, 0.4074, 1e-3));
        QVERIFY(whiteOf({5000.0, 10.0}).y > whiteOf({5000.0, 0.0}).y); // greener
    }

    void whatIsPickedComesOutGrey()
    {
        for (const std::array<double, 3>& rgb :
             {std::array<double, 3>{0.5, 0.35, 0.2}, std::array<double, 3>{0.2, 0.25, 0.4},
              std::array<double, 3>{0.3, 0.33, 0.25}}) {
            Grade grade;
            grade.white = balanceFor(rgb);
            const auto grey = graded(
                grade, {static_cast<float>(rgb[0]), static_cast<float>(rgb[1]), static_cast<float>(rgb[2])});
            QVERIFY2(std::abs(grey[0] / grey[1] - 1.0F) < 2e-3F && std::abs(grey[2] / grey[1] - 1.0F) < 2e-3F,
                     qPrintable(QStringLiteral("%1 %2 %3")
                                    .arg(static_cast<double>(grey[0]))
                                    .arg(static_cast<double>(grey[1]))
                                    .arg(static_cast<double>(grey[2]))));
        }
        QVERIFY(balanceFor({0.5, 0.35, 0.2}).temperatureK < 4500.0); // lamp light
        QVERIFY(balanceFor({0.2, 0.25, 0.4}).temperatureK > 8000.0);
        QVERIFY(balanceFor({0.0, 0.0, 0.0}).isNeutral());
        const auto neutral = balanceFor({1.0, 1.0, 1.0});
        QVERIFY(std::abs(neutral.temperatureK - 6504.0) < 30.0 && std::abs(neutral.tint) < 0.5);
    }

    // Adobe's Cube LUT Specification 1.0: red runs fastest; between the points of a table linear along its
    // edges.
    void aCubeIsReadByItsSpecification()
    {
        QByteArray text = "TITLE \"negative\"\nLUT_3D_SIZE 2\n";
        for (int b = 0; b < 2; ++b)
            for (int g = 0; g < 2; ++g)
                for (int r = 0; r < 2; ++r)
                    text += QByteArray::number(1 - r) + " " + QByteArray::number(0.5 * g) + " " +
                            QByteArray::number(b) + "\n";
        write("negative.cube", text);
        Steps steps;
        steps.looks = {lookOf(path("negative.cube"))};
        const auto found = ColourSteps::make(steps, Quality::exact)->applied({0.25F, 0.5F, 0.75F});
        QVERIFY(std::abs(found[0] - 0.75F) < 1e-5F);
        QVERIFY(std::abs(found[1] - 0.25F) < 1e-5F);
        QVERIFY(std::abs(found[2] - 0.75F) < 1e-5F);
        steps.looks[0].strength = 0.5;
        const auto half = ColourSteps::make(steps, Quality::exact)->applied({0.25F, 0.5F, 0.75F});
        QVERIFY(std::abs(half[0] - 0.5F) < 1e-5F);
        QVERIFY(std::abs(half[1] - 0.375F) < 1e-5F);
        // In a space of its own: the numbers it sees are that space's (0.5 on the sRGB scale, IEC 61966-2-1).
        steps.looks[0].strength = 1.0;
        write("half.cube", "LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n");
        Steps halved;
        halved.looks = {lookOf(path("half.cube"))};
        halved.looks[0].space = "sRGB";
        const auto light = [](float number) { return std::pow((number + 0.055F) / 1.055F, 2.4F); };
        const auto seen =
            ColourSteps::make(halved, Quality::exact)->applied({light(0.5F), light(0.5F), light(0.5F)});
        QVERIFY(std::abs(seen[0] - light(0.25F)) < 1e-4F);
        // Two in a row, each with its switch.
        steps.looks.push_back(steps.looks.front());
        const auto twice = ColourSteps::make(steps, Quality::exact)->applied({0.1F, 0.2F, 0.3F});
        QVERIFY(std::abs(twice[0] - 0.1F) < 1e-3F);
        steps.looks[1].isOn = false;
        QVERIFY(std::abs(ColourSteps::make(steps, Quality::exact)->applied({0.1F, 0.2F, 0.3F})[0] - 0.1F) >
                0.05F);
    }

    // A file that is written again is read again.
    void aLookThatChangesIsTakenUp()
    {
        const auto gain = [](double by) {
            return "LUT_1D_SIZE 2\n0 0 0\n" + QByteArray::number(by) + " " + QByteArray::number(by) + " " +
                   QByteArray::number(by) + "\n";
        };
        Steps steps;
        steps.looks = {lookOf(path("gain.cube"))};
        write("gain.cube", gain(0.5));
        QVERIFY(std::abs(ColourSteps::make(steps, Quality::exact)->applied({1.0F, 1.0F, 1.0F})[0] - 0.5F) <
                1e-4F);
        write("gain.cube", gain(0.25) + "# longer\n");
        QVERIFY(std::abs(ColourSteps::make(steps, Quality::exact)->applied({1.0F, 1.0F, 1.0F})[0] - 0.25F) <
                1e-4F);
    }

    void looksThatCannotBeReadAreNamed()
    {
        write("broken.cube", "LUT_3D_SIZE 33\n0 0 0\n1 1");
        write("none.cube", "not a table\n");
        write("monster.cube", "LUT_3D_SIZE 100000\n0 0 0\n");
        for (const char* name : {"broken.cube", "none.cube", "monster.cube", "absent.cube"}) {
            Steps steps;
            steps.looks = {lookOf(path(name))};
            try {
                (void)ColourSteps::make(steps, Quality::exact);
                QFAIL(name);
            } catch (const Error& error) {
                QVERIFY2(QString::fromUtf8(error.what()).contains(QLatin1String(name)), error.what());
            }
        }
        Steps steps;
        steps.looks = {Look()};
        steps.looks[0].look = "no such look";
        QVERIFY_EXCEPTION_THROWN((void)ColourSteps::make(steps, Quality::exact), Error);
        write("fine.cube", "LUT_1D_SIZE 2\n0 0 0\n1 1 1\n");
        steps.looks = {lookOf(path("fine.cube"))};
        steps.looks[0].space = "no such space";
        QVERIFY_EXCEPTION_THROWN((void)ColourSteps::make(steps, Quality::exact), Error);
    }

    void grainHasItsMeanAndItsSpread_data()
    {
        QTest::addColumn<float>("light");
        QTest::addColumn<double>("amount");
        QTest::addColumn<int>("kind");
        for (const float light : {0.02F, 0.18F, 1.5F})
            for (const double amount : {0.01, 0.04})
                for (const int kind : {0, 1})
                    QTest::addRow("%g, %g, %s", static_cast<double>(light), amount,
                                  kind == 0 ? "gaussian" : "uniform")
                        << light << amount << kind;
    }
    void grainHasItsMeanAndItsSpread()
    {
        QFETCH(float, light);
        QFETCH(double, amount);
        QFETCH(int, kind);
        Grain grain;
        grain.amount = amount;
        grain.sizePx = 1.2;
        grain.kind = static_cast<GrainKind>(kind);
        Canvas canvas = canvasOf(filled(1600, 1200, light, light, light));
        addGrain(canvas, grain, 5, {});
        const Plane<float>& green = canvas.image.plane(1);
        const double expected = grainAmount(grain, static_cast<double>(toTone(light)));
        // What chance leaves of the mean of so many grains.
        const double chance = 3.0 * expected * 17.52 * std::log(2.0) * 3.0 / std::sqrt(1600.0 * 1200.0);
        QVERIFY2(std::abs(spreadOf(green).mean / static_cast<double>(light) - 1.0) < 0.001 + chance,
                 qPrintable(QString::number(spreadOf(green).mean / static_cast<double>(light) - 1.0)));
        Plane<float> tones(1600, 1200);
        for (std::size_t i = 0; i < tones.size(); ++i)
            tones.pixels()[i] = toTone(green.pixels()[i]);
        QVERIFY2(std::abs(spreadOf(tones).deviation / expected - 1.0) < 0.02,
                 qPrintable(QString::number(spreadOf(tones).deviation / expected)));
        const auto noise = grainNoise(grain, 5, PixelBox::at(0, 0, 1600, 1200), {});
        QVERIFY(std::abs(spreadOf(noise[1]).deviation - 1.0) < 0.02);
        QVERIFY(std::abs(spreadOf(noise[1]).mean) < 0.005);
        if (kind == 1)
            for (const float value : noise[1].pixels())
                QVERIFY(std::abs(value) < 1.7321F);
    }

    // Half of a disc lies over itself moved by 0.404 of its diameter (the lens between two circles).
    void grainsAreAsLargeAsTheySay()
    {
        for (const double size : {4.0, 7.0, 12.0}) {
            Grain grain;
            grain.sizePx = size;
            grain.softness = 0.0;
            grain.colour = 1.0;
            const auto noise = grainNoise(grain, 1, PixelBox::at(0, 0, 900, 900), {})[0];
            double before = 1.0;
            double half = 0.0;
            for (int d = 1; d < 30 && half == 0.0; ++d) {
                const double now = 0.5 * (correlation(noise, noise, d, 0) + correlation(noise, noise, 0, d));
                if (now <= 0.5) half = d - 1 + (before - 0.5) / (before - now);
                before = now;
            }
            QVERIFY2(std::abs(half / (0.404 * size) - 1.0) < 0.1,
                     qPrintable(QStringLiteral("%1 px: half at %2").arg(size).arg(half)));
        }
    }

    void grainDiffersFromFrameToFrame()
    {
        Grain grain;
        grain.colour = 0.3;
        const PixelBox box = PixelBox::at(0, 0, 500, 400);
        const auto one = grainNoise(grain, 1, box, {});
        const auto next = grainNoise(grain, 2, box, {});
        QVERIFY(std::abs(correlation(one[0], next[0])) < 0.01);
        QVERIFY(std::abs(correlation(one[0], one[0], 250, 0)) < 0.015); // not tiled
        QVERIFY(std::abs(correlation(one[0], one[1]) - (1.0 - 0.09)) < 0.02);
        Grain other = grain;
        other.seed = 2;
        QVERIFY(std::abs(correlation(one[0], grainNoise(other, 1, box, {})[0])) < 0.01);
        // A still of itself is the same.
        QVERIFY(std::ranges::equal(one[2].pixels(), grainNoise(grain, 1, box, {})[2].pixels()));
    }

    void grainFollowsTheTones()
    {
        Grain grain;
        grain.amount = 0.02;
        grain.shadows = 2.0;
        grain.highlights = 0.0;
        QVERIFY(std::abs(grainAmount(grain, static_cast<double>(toTone(0.18F))) - 0.02) < 1e-6);
        QVERIFY(std::abs(grainAmount(grain, static_cast<double>(toTone(0.18F / 32.0F))) - 0.04) < 1e-3);
        QVERIFY(std::abs(grainAmount(grain, static_cast<double>(toTone(0.18F * std::exp2(3.5F))))) < 1e-6);
        // Nothing grows where nothing is.
        Canvas canvas = canvasOf(filled(32, 32, 0.0F, 0.0F, 0.0F, 0.0F));
        addGrain(canvas, grain, 1, {});
        QVERIFY(isSame(canvas.image, filled(32, 32, 0.0F, 0.0F, 0.0F, 0.0F)));
    }

    void platesGoThereAndBack()
    {
        GrainPlate plate;
        std::vector<int> shown;
        for (int frame = 1; frame <= 9; ++frame)
            shown.push_back(plateFrame(plate, frame, 1, 4));
        QCOMPARE(shown, (std::vector<int>{1, 2, 3, 4, 3, 2, 1, 2, 3}));
        plate.offset = 2;
        QCOMPARE(plateFrame(plate, 3, 1, 4), 1);
        QCOMPARE(plateFrame(plate, -100, 7, 7), 7);
        // Mid grey of the screen changes nothing; brighter is brighter.
        const float grey = std::pow((0.5F + 0.055F) / 1.055F, 2.4F);
        for (const inserts::Blend blend :
             {inserts::Blend::overlay, inserts::Blend::softLight, inserts::Blend::add}) {
            plate.blend = blend;
            Canvas canvas = canvasOf(filled(4, 4, 0.3F, 0.3F, 0.3F));
            addPlate(canvas, plate, filled(4, 4, grey, grey, grey), {});
            QVERIFY(std::abs(canvas.image.plane(0).at(1, 1) - 0.3F) < 1e-4F);
            addPlate(canvas, plate, filled(4, 4, 0.4F, 0.4F, 0.4F), {});
            QVERIFY(canvas.image.plane(0).at(1, 1) > 0.3F);
        }
    }

    void theWholeIsTheSameInParts()
    {
        const RgbaImage picture = anyPicture(211, 133);
        const Steps steps = everyStep();
        const PixelBox all = PixelBox::at(0, 0, 211, 133);
        const RgbaImage whole = finished(canvasOf(picture), all, steps, sourcesOf(3));
        for (const int threads : {1, 3})
            QVERIFY(isSame(whole, finished(canvasOf(picture), all, steps, sourcesOf(3), {threads, {}, {}})));
        const PixelBox part{40, 25, 120, 90};
        QVERIFY(neededFor(steps, part, 211, 133).contains(all)); // with a glow
        const RgbaImage cut = finished(canvasOf(picture), part, steps, sourcesOf(3));
        for (int c = 0; c < 4; ++c)
            for (int y = part.minY; y <= part.maxY; ++y)
                for (int x = part.minX; x <= part.maxX; ++x)
                    QCOMPARE(cut.plane(c).at(x - part.minX, y - part.minY), whole.plane(c).at(x, y));
        // Without one a part needs little more than itself.
        Steps near = steps;
        near.glows.clear();
        const PixelBox needed = neededFor(near, part, 211, 133);
        QVERIFY(needed.contains(part) && needed.width() < part.width() + 20);
        RgbaImage around(needed.width(), needed.height());
        for (int c = 0; c < 4; ++c)
            for (int y = 0; y < around.height(); ++y)
                for (int x = 0; x < around.width(); ++x)
                    around.plane(c).at(x, y) = picture.plane(c).at(x + needed.minX, y + needed.minY);
        const RgbaImage alone = finished({std::move(around), needed, 211, 133, 1}, part, near, sourcesOf(3));
        const RgbaImage ofAll = finished(canvasOf(picture), all, near, sourcesOf(3));
        for (int c = 0; c < 4; ++c)
            for (int y = part.minY; y <= part.maxY; ++y)
                for (int x = part.minX; x <= part.maxX; ++x)
                    QVERIFY(
                        std::abs(alone.plane(c).at(x - part.minX, y - part.minY) - ofAll.plane(c).at(x, y)) <=
                        1e-5F * std::max(1.0F, ofAll.plane(c).at(x, y)));
    }

    void switchesAndMix()
    {
        const RgbaImage picture = anyPicture(80, 60);
        const PixelBox all = PixelBox::at(0, 0, 80, 60);
        Steps steps = everyStep();
        steps.finish.isOn = false;
        QVERIFY(!steps.any());
        QVERIFY(isSame(finished(canvasOf(picture), all, steps, {}), picture));
        steps.finish.isOn = true;
        const RgbaImage whole = finished(canvasOf(picture), all, steps, {});
        steps.finish.mix = 0.25;
        const RgbaImage quarter = finished(canvasOf(picture), all, steps, {});
        for (std::size_t i = 0; i < whole.plane(1).size(); ++i) {
            const float expected = 0.75F * picture.plane(1).pixels()[i] + 0.25F * whole.plane(1).pixels()[i];
            QVERIFY(std::abs(quarter.plane(1).pixels()[i] - expected) < 1e-4F * std::max(1.0F, expected));
        }
        steps.finish.mix = 1.0;
        steps.finish.glowIsOn = steps.finish.fringing.isOn = steps.finish.vignette.isOn = false;
        steps.finish.grade.isOn = steps.finish.grain.isOn = false;
        QVERIFY(!steps.any());
        QVERIFY(!Steps().any()); // as it comes
        // Alpha is never touched.
        QVERIFY(std::ranges::equal(whole.plane(3).pixels(), picture.plane(3).pixels()));
    }

    // What is half transparent has the colour that it would have alone.
    void colourOfHalfTransparentPixelsIsGradedAsItIs()
    {
        Steps steps;
        steps.finish.grade.contrast = 1.6;
        steps.finish.grade.cdl.offset = {0.02, 0.0, 0.0};
        RgbaImage image = filled(3, 1, 0.5F, 0.4F, 0.3F);
        for (int c = 0; c < 3; ++c) {
            image.plane(c).at(1, 0) *= 0.5F;
            image.plane(c).at(2, 0) = 0.0F;
        }
        image.plane(3).at(1, 0) = 0.5F;
        image.plane(3).at(2, 0) = 0.0F;
        const RgbaImage out = finished(canvasOf(image), PixelBox::at(0, 0, 3, 1), steps, {});
        for (int c = 0; c < 3; ++c) {
            QVERIFY(std::abs(2.0F * out.plane(c).at(1, 0) - out.plane(c).at(0, 0)) < 1e-5F);
            QVERIFY(std::abs(out.plane(c).at(2, 0)) < 1e-6F); // what is open stays dark
        }
    }

    void badLightEndsInNumbers()
    {
        RgbaImage image = filled(40, 30, 0.5F, -0.5F, 0.2F);
        image.plane(0).at(3, 3) = std::numeric_limits<float>::infinity();
        image.plane(1).at(4, 3) = -std::numeric_limits<float>::infinity();
        image.plane(2).at(5, 3) = std::numeric_limits<float>::quiet_NaN();
        image.plane(0).at(6, 3) = 1e30F;
        image.plane(3).at(7, 3) = 0.0F;
        image.plane(3).at(8, 3) = 1e-9F;
        for (int which = 0; which < 2; ++which) {
            Steps steps = everyStep();
            if (which == 1) steps.finish.grade.cdl.power = {0.1, 5.0, 1.0};
            const RgbaImage out = finished(canvasOf(image), PixelBox::at(0, 0, 40, 30), steps, {});
            for (int c = 0; c < 4; ++c)
                for (const float value : out.plane(c).pixels())
                    QVERIFY(std::isfinite(value));
        }
    }

    // On the screen: 8 bits of the sRGB scale.
    void theQuickFormIsNearTheExactOne()
    {
        const RgbaImage picture = anyPicture(400, 300);
        const PixelBox all = PixelBox::at(0, 0, 400, 300);
        const Steps steps = everyStep();
        const RgbaImage exact = finished(canvasOf(picture), all, steps, sourcesOf(1));
        const RgbaImage quick = finished(canvasOf(picture), all, steps, sourcesOf(1, Quality::screen));
        const auto shown = [](float light) {
            const float v = std::clamp(light, 0.0F, 1.0F);
            return 255.0F * (v <= 0.0031308F ? 12.92F * v : 1.055F * std::pow(v, 1.0F / 2.4F) - 0.055F);
        };
        int off = 0;
        float most = 0.0F;
        for (int c = 0; c < 3; ++c)
            for (std::size_t i = 0; i < exact.plane(c).size(); ++i) {
                const float apart =
                    std::abs(shown(exact.plane(c).pixels()[i]) - shown(quick.plane(c).pixels()[i]));
                most = std::max(most, apart);
                if (apart > 1.0F) ++off;
            }
        QVERIFY2(off <= 0.001 * 3 * 400 * 300,
                 qPrintable(QStringLiteral("%1 off, at most by %2").arg(off).arg(static_cast<double>(most))));
    }

    void ofACoarsePictureGrainEvensOut()
    {
        Grain grain;
        grain.amount = 0.03;
        grain.sizePx = 2.0;
        Canvas full = canvasOf(filled(800, 800, 0.18F, 0.18F, 0.18F));
        addGrain(full, grain, 1, {});
        double fine = 0.0;
        Plane<float> means(200, 200);
        for (int y = 0; y < 200; ++y)
            for (int x = 0; x < 200; ++x) {
                float sum = 0.0F;
                for (int j = 0; j < 4; ++j)
                    for (int i = 0; i < 4; ++i)
                        sum += full.image.plane(0).at(4 * x + i, 4 * y + j);
                means.at(x, y) = sum / 16.0F;
            }
        fine = spreadOf(means).deviation;
        grain.sizePx = 0.5; // at a quarter of the size
        Canvas small{filled(200, 200, 0.18F, 0.18F, 0.18F), PixelBox::at(0, 0, 200, 200), 200, 200, 4};
        addGrain(small, grain, 1, {});
        const double coarse = spreadOf(small.image.plane(0)).deviation;
        QVERIFY2(coarse > 0.6 * fine && coarse < 1.6 * fine,
                 qPrintable(QStringLiteral("%1 for %2").arg(coarse).arg(fine)));
    }

    // What is described may be set: OpenColorIO takes all of the range.
    void everyToneInItsRangeIsTaken()
    {
        int seen = 0;
        for (const auto& field : project::shotSettings().fields()) {
            if (!field.isNumber() || !field.path.starts_with("finish/grade/") ||
                std::isinf(field.range.maximum))
                continue;
            for (const double value : {field.range.minimum, field.range.maximum}) {
                project::Settings settings;
                field.set(settings, value);
                try {
                    (void)ColourSteps::make({settings.finish, {}, {}}, Quality::exact);
                } catch (const Error& error) {
                    QFAIL(qPrintable(QString::fromStdString(field.path) + QString(" %1: ").arg(value) +
                                     error.what()));
                }
                ++seen;
            }
        }
        QVERIFY(seen > 40);
    }

    // Adobe, "Cube LUT Specification", version 1.0 (2013): rows of three numbers with points, sizes from 2,
    // DOMAIN_MIN below DOMAIN_MAX; common practice: a curve and a cube in one file.
    void tablesThatWouldMakeWrongColoursAreRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("words");
        const QByteArray cube = "0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n";
        QTest::newRow("right") << QByteArray("TITLE \"x\"\n# a note\nLUT_3D_SIZE 2\n" + cube) << QString();
        QTest::newRow("a curve") << QByteArray("LUT_1D_SIZE 2\n0 0 0\n+1 1e0 1.0\n") << QString();
        QTest::newRow("nan") << QByteArray("LUT_1D_SIZE 2\n0 0 0\nnan 1 1\n") << "line 3";
        QTest::newRow("infinite") << QByteArray("LUT_1D_SIZE 2\n0 0 0\n1 inf 1\n") << "line 3";
        QTest::newRow("decimal comma") << QByteArray("LUT_1D_SIZE 2\n0 0 0\n0,5 1 1\n") << "line 3";
        QTest::newRow("two numbers") << QByteArray("LUT_1D_SIZE 2\n0 0\n1 1 1\n") << "line 2";
        QTest::newRow("size 1") << QByteArray("LUT_1D_SIZE 1\n0 0 0\n") << "from 2 up";
        QTest::newRow("a row short") << QByteArray("LUT_3D_SIZE 2\n" + cube.left(cube.size() - 6))
                                     << "7 rows";
        QTest::newRow("equal ends") << QByteArray("DOMAIN_MIN 0 0 0\nDOMAIN_MAX 1 0 1\nLUT_3D_SIZE 2\n" +
                                                  cube)
                                    << "no range";
        QTest::newRow("no end") << QByteArray("CSPLUTV100\n1D\n\nBEGIN METADATA\nEND  METADATA\n\n2\n")
                                << "END METADATA"; // for which the library would look without end
    }
    void tablesThatWouldMakeWrongColoursAreRefused()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, words);
        const std::string name = text.startsWith("CSP") ? "t.csp" : "t.cube";
        write(name.c_str(), text);
        Look look;
        look.id = look.name = "1";
        look.file = path(name.c_str());
        Steps steps;
        steps.looks = {look};
        QString said;
        try {
            (void)ColourSteps::make(steps, Quality::exact);
        } catch (const Error& error) {
            said = error.what();
        }
        QVERIFY2(words.isEmpty() ? said.isEmpty() : said.contains(words) && said.contains(name.c_str()),
                 qPrintable(said));
    }
};

QTEST_GUILESS_MAIN(TestFinish)
#include "test_finish.moc"
