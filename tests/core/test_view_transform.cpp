#include "core/colour/ocio_config.h"
#include "core/colour/view_transform.h"
#include "core/system/error.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <cstdlib>
#include <fstream>

using namespace retinex;
using namespace retinex::colour;

class TestViewTransform : public QObject
{
    Q_OBJECT

    static std::uint32_t shown(const ViewTransform& view, float r, float g, float b)
    {
        RgbaImage image(1, 1);
        image.plane(0).at(0, 0) = r;
        image.plane(1).at(0, 0) = g;
        image.plane(2).at(0, 0) = b;
        std::uint32_t pixel = 0;
        view.apply(image, &pixel);
        return pixel;
    }
    static int red(std::uint32_t pixel) { return static_cast<int>(pixel >> 16U & 255U); }

private slots:
    void initTestCase() { unsetenv("OCIO"); }

    void theConfigurationIsParsedOnceForEachName()
    {
        const auto first = loadConfig();
        QCOMPARE(loadConfig().get(), first.get());
        const QTemporaryDir dir;
        const QByteArray studio = dir.filePath("studio.ocio").toLocal8Bit();
        std::ofstream(studio.constData()) << "ocio_profile_version: 2\nroles: {default: raw}\ncolorspaces:\n"
                                             "  - !<ColorSpace>\n    name: raw\n";
        setenv("OCIO", studio.constData(), 1);
        const auto other = loadConfig();
        QVERIFY(other.get() != first.get());
        QCOMPARE(loadConfig().get(), other.get());
        setenv("OCIO", "/nowhere/config.ocio", 1);
        for (int i = 0; i < 2; ++i) // what fails is not kept
            QVERIFY_EXCEPTION_THROWN((void)loadConfig(), Error);
        unsetenv("OCIO");
        QCOMPARE(loadConfig().get(), first.get());
    }

    // sRGB (IEC 61966-2-1): v > 0.0031308 is shown as 1.055 v^(1/2.4) - 0.055. A grey keeps its value from
    // ACEScg to linear Rec.709.
    void greysFollowTheSrgbCurve()
    {
        const ViewTransform view({"sRGB - Display", "Plain"});
        QVERIFY(view.isFast());
        for (const float grey : {0.004F, 0.02F, 0.18F, 0.5F, 0.9F, 1.0F}) {
            const double expected = 255.0 * (1.055 * std::pow(static_cast<double>(grey), 1.0 / 2.4) - 0.055);
            QVERIFY(std::abs(red(shown(view, grey, grey, grey)) - expected) <= 1.0);
        }
        QCOMPARE(shown(view, 0.F, 0.F, 0.F), 0xff000000U);
        QCOMPARE(shown(view, 50.F, 50.F, 50.F), 0xffffffffU);
    }

    // A tone-mapped view is no matrix and curve: the exact processor is used. 0.18 is shown at 0.356, 1.0 at
    // 0.812.
    void otherViewsGoThroughTheExactProcessor()
    {
        const ViewTransform view({"sRGB - Display", "ACES SDR"});
        QVERIFY(!view.isFast());
        QVERIFY(std::abs(red(shown(view, 0.18F, 0.18F, 0.18F)) - 255.0 * 0.3560) <= 1.0);
        QVERIFY(std::abs(red(shown(view, 1.F, 1.F, 1.F)) - 255.0 * 0.8120) <= 1.0);
    }

    void viewsAreListedAndUnknownOnesRefused()
    {
        const auto views = availableViews();
        QCOMPARE(views.size(), std::size_t(3));
        QCOMPARE(QString::fromStdString(views[0].view), QStringLiteral("Plain"));
        QVERIFY_EXCEPTION_THROWN(ViewTransform({"sRGB - Display", "No such view"}), Error);
        setenv("OCIO", "/no/such/config.ocio", 1);
        QVERIFY_EXCEPTION_THROWN((void)availableViews(), Error);
        unsetenv("OCIO");
    }
};

QTEST_APPLESS_MAIN(TestViewTransform)
#include "test_view_transform.moc"
