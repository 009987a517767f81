// A picture rendered darker or brighter must be defocused as well: twice the light in, twice the light out.
#include "core/defocus/part.h"
#include "core/defocus/repair/edge_repair.h"
#include "core/image/scene_brightness.h"
#include "support/lenses.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <random>

using namespace retinex;

namespace {

constexpr int kWidth = 320;
constexpr int kHeight = 192;

/// A chequered wall with a lamp behind bars whose edges are anti-aliased; the left half lies in the dark.
struct Scene
{
    RgbaImage colour{kWidth, kHeight};
    Plane<float> distance{kWidth, kHeight, 6.0F};
    defocus::LensSettings settings = test::lensWithRadius(kWidth, 9.0);

    explicit Scene(float exposure = 1.0F)
    {
        std::mt19937 random(11);
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const float share =
                    std::clamp(4.5F - std::abs(static_cast<float>(x % 40) - 19.7F), 0.0F, 1.0F);
                const float noise = 0.02F * static_cast<float>(random() % 100) / 100.0F;
                const float wall = (x / 6 + y / 9) % 2 == 0 ? 0.3F : 0.12F;
                const bool isLamp = std::hypot(x - 240.0, y - 90.0) < 2.0;
                const float light = x < kWidth / 2 ? 0.1F : 1.0F;
                const float behind = isLamp ? 30.0F : light * (wall + noise);
                if (share > 0.5F) distance.at(x, y) = 0.9F;
                for (int c = 0; c < 3; ++c)
                    colour.plane(c).at(x, y) = exposure * (share * light * 0.05F * static_cast<float>(c + 1) +
                                                           (1.0F - share) * behind);
                colour.plane(3).at(x, y) = 1.0F;
            }
    }
    /// Bars half transparent before all of the picture.
    [[nodiscard]] DeepPicture deep() const
    {
        DeepPicture picture;
        picture.width = kWidth;
        picture.height = kHeight;
        picture.first.push_back(0);
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const float r = colour.plane(0).at(x, y);
                const float g = colour.plane(1).at(x, y);
                const float b = colour.plane(2).at(x, y);
                if (y % 60 < 8) picture.samples.push_back({{0.5F * g, 0.5F * b, 0.5F * r, 0.5F}, 1.2F});
                picture.samples.push_back({{r, g, b, 1.0F}, distance.at(x, y)});
                picture.first.push_back(picture.samples.size());
            }
        return picture;
    }
};

/// Whether the light of `bright` is so many times that of `usual`, to the last bit, and its alpha the same.
bool isTimes(const RgbaImage& bright, const RgbaImage& usual, float exposure)
{
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (std::size_t i = 0; i < usual.plane(c).size(); ++i)
            if (bright.plane(c).pixels()[i] != (c < 3 ? exposure : 1.0F) * usual.plane(c).pixels()[i])
                return false;
    return true;
}

RgbaImage plain(float value)
{
    RgbaImage image(40, 40);
    for (int c = 0; c < 3; ++c)
        std::ranges::fill(image.plane(c).pixels(), value);
    std::ranges::fill(image.plane(3).pixels(), 1.0F);
    return image;
}

} // namespace

class TestExposure : public QObject
{
    Q_OBJECT

private slots:
    void exposureChangesNothingElse_data()
    {
        QTest::addColumn<float>("exposure");
        // Powers of two, which round nothing.
        QTest::newRow("eight stops darker") << 1.0F / 256.0F;
        QTest::newRow("a stop darker") << 0.5F;
        QTest::newRow("ten stops brighter") << 1024.0F;
    }
    void exposureChangesNothingElse()
    {
        QFETCH(float, exposure);
        const Scene usual;
        const Scene other(exposure);
        QVERIFY(isTimes(defocus::defocus({other.colour, other.distance}, other.settings),
                        defocus::defocus({usual.colour, usual.distance}, usual.settings), exposure));
        QVERIFY(isTimes(defocus::defocus(other.deep(), other.settings),
                        defocus::defocus(usual.deep(), usual.settings), exposure));
    }

    // The glint level is scene-linear light: it goes with the exposure.
    void glintsLikewise()
    {
        constexpr float exposure = 1.0F / 64.0F;
        Scene usual;
        Scene other(exposure);
        usual.settings.glint = {4.0, 3.0};
        other.settings.glint = {4.0 * static_cast<double>(exposure), 3.0};
        QVERIFY(isTimes(defocus::defocus({other.colour, other.distance}, other.settings),
                        defocus::defocus({usual.colour, usual.distance}, usual.settings), exposure));
    }

    // The dark half alone is repaired as it is in the whole, by the whole's brightness.
    void aPartGoesByTheWholeFrame()
    {
        const Scene scene;
        const PixelBox box = PixelBox::at(40, 32, 64, 64);
        const RgbaImage whole = defocus::defocus({scene.colour, scene.distance}, scene.settings);
        const RgbaImage part = defocus::defocusPart({scene.colour, scene.distance}, scene.settings, box);
        auto told = scene.settings;
        told.brightness = sceneBrightness(scene.colour);
        const RgbaImage toldPart = defocus::defocusPart({scene.colour, scene.distance}, told, box);
        float worst = 0.0F;
        for (int y = 0; y < box.height(); ++y)
            for (int x = 0; x < box.width(); ++x) {
                QCOMPARE(part.plane(1).at(x, y), toldPart.plane(1).at(x, y));
                worst = std::max(
                    worst, std::abs(part.plane(1).at(x, y) - whole.plane(1).at(box.minX + x, box.minY + y)));
            }
        QVERIFY2(worst < 1e-4F, qPrintable(QString::number(worst)));
    }

    // What is taken apart for the Repair view has the picture's own light.
    void surfacesAreNotScaled()
    {
        const Scene dark(1.0F / 256.0F);
        const auto surfaces = defocus::takeApart({dark.colour, dark.distance}, dark.settings);
        for (const int x : {3, 160, 200}) // within a surface
            for (int c = 0; c < 3; ++c)
                QVERIFY(std::abs(surfaces.visible.colour.plane(c).at(x, 20) -
                                 dark.colour.plane(c).at(x, 20)) <= 1e-6F * dark.colour.plane(c).at(x, 20));
        float hidden = 0.0F;
        for (const float v : surfaces.hidden.colour.plane(0).pixels())
            hidden = std::max(hidden, v);
        QVERIFY(hidden > 0.0F && hidden < 30.0F / 256.0F);
    }

    void theKeyOfAPlainPictureIsItsBrightness()
    {
        QVERIFY(std::abs(sceneBrightness(plain(0.18F)) - 0.18) < 1e-6);
        QCOMPARE(sceneBrightness(plain(0.0F)), 0.0);
        QCOMPARE(sceneBrightness(RgbaImage()), 0.0);
        const double usual = sceneBrightness(Scene().colour);
        QVERIFY(std::abs(sceneBrightness(Scene(64.0F).colour) - 64.0 * usual) < 1e-9);
    }

    // 4 of 5 pixels black, or nearly so, and a lamp of a hundred pixels: well under a stop each.
    void blackGroundsAndLampsCountForLittle()
    {
        for (const float ground : {0.0F, 1e-5F}) {
            RgbaImage image = plain(0.2F);
            for (int c = 0; c < 3; ++c)
                for (int y = 8; y < 40; ++y)
                    for (int x = 0; x < 40; ++x)
                        image.plane(c).at(x, y) = ground;
            QVERIFY(std::abs(std::log2(sceneBrightness(image) / 0.2)) < 1.0);
        }
        RgbaImage image = plain(0.2F);
        for (int c = 0; c < 3; ++c)
            for (int y = 10; y < 14; ++y)
                for (int x = 10; x < 14; ++x)
                    image.plane(c).at(x, y) = 20.0F;
        QVERIFY(std::log2(sceneBrightness(image) / 0.2) < 1.0);
    }

    // As it is flattened: what is covered does not count.
    void theKeyOfADeepPictureIsThatOfWhatItShows()
    {
        DeepPicture deep;
        deep.width = deep.height = 8;
        deep.first.push_back(0);
        for (int i = 0; i < 64; ++i) {
            deep.samples.push_back({{0.1F, 0.1F, 0.1F, 0.5F}, 1.0F});
            deep.samples.push_back({{0.4F, 0.4F, 0.4F, 1.0F}, 2.0F});
            deep.samples.push_back({{90.0F, 90.0F, 90.0F, 1.0F}, 3.0F});
            deep.first.push_back(deep.samples.size());
        }
        QVERIFY(std::abs(sceneBrightness(deep) - 0.3) < 1e-6); // 0.1 + 0.5 x 0.4
    }
};

QTEST_APPLESS_MAIN(TestExposure)
#include "test_exposure.moc"
