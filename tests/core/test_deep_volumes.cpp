// Deep samples with a length (Z to ZBack): held against light marched through them in small steps, the law of
// Beer and Lambert, and against the same fog in many thin layers.
#include "core/defocus/defocus.h"
#include "core/defocus/repair/deep_surfaces.h"
#include "core/frame/render_frame.h"
#include "core/image/volume_share.h"
#include "core/passes/exr/deep_tidy.h"
#include "core/passes/pass_source.h"
#include "support/deep_pictures.h"
#include "support/lenses.h"

#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <cmath>

using namespace retinex;
using test::lensWithRadius;
using test::sample;
using test::stack;

namespace {

struct Volume
{
    double from, to, alpha, light; ///< to: from for a surface
};

/// One pixel of them, in the order given.
passes::DeepSamples pixelOf(const std::vector<Volume>& volumes)
{
    passes::DeepSamples samples;
    samples.width = samples.height = 1;
    samples.channels = {"R", "A", "Z", "ZBack"};
    samples.values.resize(4);
    for (const Volume& v : volumes) {
        const double values[] = {v.light, v.alpha, v.from, v.to};
        for (std::size_t c = 0; c < 4; ++c)
            samples.values[c].push_back(static_cast<float>(values[c]));
    }
    samples.first = {0, volumes.size()};
    return samples;
}

struct Seen
{
    double light = 0.0;
    double open = 1.0;
};

/// Light that comes out in front, marched in steps: each dims what lies behind it.
Seen marched(const std::vector<Volume>& volumes)
{
    constexpr int steps = 40000;
    constexpr double far = 8.0;
    Seen seen;
    for (int i = 0; i < steps; ++i) {
        const double from = far * i / steps;
        const double to = far * (i + 1) / steps;
        double density = 0.0;
        double glow = 0.0;
        for (const Volume& v : volumes) {
            const double covered = std::min(to, v.to) - std::max(from, v.from);
            if (v.to > v.from && covered > 0.0) {
                const double depth = -std::log1p(-v.alpha) * covered / (v.to - v.from);
                density += depth;
                glow += v.alpha > 0.0 ? v.light / v.alpha * depth : v.light * covered / (v.to - v.from);
            }
            if (v.to == v.from && v.from >= from && v.from < to) {
                seen.light += seen.open * v.light;
                seen.open *= 1.0 - v.alpha;
            }
        }
        seen.light += seen.open * glow;
        seen.open *= std::exp(-density);
    }
    return seen;
}

/// Fog of even density in front of a black wall, over a square in the middle.
constexpr int kSize = 96;
constexpr int kLow = 44;
constexpr int kHigh = 53;

DeepPicture patchOf(const std::vector<DeepPicture::Sample>& fog)
{
    DeepPicture deep;
    deep.width = deep.height = kSize;
    deep.first.push_back(0);
    for (int y = 0; y < kSize; ++y) {
        for (int x = 0; x < kSize; ++x) {
            if (x >= kLow && x < kHigh && y >= kLow && y < kHigh)
                deep.samples.insert(deep.samples.end(), fog.begin(), fog.end());
            deep.samples.push_back(sample(0.0F, 1.0F, 20.0F));
            deep.first.push_back(deep.samples.size());
        }
    }
    return deep;
}

/// Of the light along x: its sum over the picture, and its variance in px squared.
struct Moments
{
    double sum = 0.0;
    double variance = 0.0;
};

Moments momentsOf(const RgbaImage& image)
{
    Moments moments;
    const double middle = 0.5 * (kLow + kHigh - 1);
    for (int y = 0; y < kSize; ++y) {
        for (int x = 0; x < kSize; ++x) {
            const double value = image.plane(0).at(x, y);
            moments.sum += value;
            moments.variance += value * (x - middle) * (x - middle);
        }
    }
    moments.variance /= moments.sum;
    return moments;
}

DeepPicture::Sample fogFrom(float from, float to)
{
    DeepPicture::Sample fog = sample(0.4F, 0.6F, from);
    fog.back = to;
    return fog;
}

} // namespace

class TestDeepVolumes : public QObject
{
    Q_OBJECT

private slots:
    void aPartOfAVolumeLetsItsShareThrough()
    {
        // (1 - 0.75)^(1/2) = 0.5
        QVERIFY(std::abs(volumeShare(0.75, 0.5).alpha - 0.5) < 1e-12);
        QVERIFY(std::abs(volumeShare(0.75, 0.5).light - 0.5 / 0.75) < 1e-12);
        const VolumeShare glow = volumeShare(0.0, 0.25);
        QCOMPARE(glow.alpha, 0.0);
        QCOMPARE(glow.light, 0.25);
        QCOMPARE(volumeShare(1.0, 0.25).alpha, 1.0);
    }

    void overlappingVolumesAreSeenAsLightPassesThem_data()
    {
        QTest::addColumn<std::vector<Volume>>("volumes");
        QTest::newRow("one through another") << std::vector<Volume>{{1, 3, 0.6, 0.3}, {2, 5, 0.7, 0.1}};
        QTest::newRow("one within another") << std::vector<Volume>{{1, 6, 0.5, 0.2}, {2, 3, 0.9, 0.5}};
        QTest::newRow("of one extent") << std::vector<Volume>{{1, 2, 0.3, 0.3}, {1, 2, 0.8, 0.05}};
        QTest::newRow("a pane within") << std::vector<Volume>{{1, 4, 0.6, 0.3}, {2.5, 2.5, 0.5, 0.4}};
        QTest::newRow("a glow within") << std::vector<Volume>{{1, 4, 0.6, 0.1}, {2, 3, 0.0, 0.7}};
        QTest::newRow("a wall within") << std::vector<Volume>{{4, 7, 0.2, 0.1}, {5, 5, 1.0, 0.8}};
        QTest::newRow("hardly there") << std::vector<Volume>{{1, 3, 1e-5, 1e-5}, {2, 4, 1e-4, 3e-5}};
    }
    void overlappingVolumesAreSeenAsLightPassesThem()
    {
        QFETCH(std::vector<Volume>, volumes);
        const Seen expected = marched(volumes);
        passes::DeepSamples samples = pixelOf(volumes);
        passes::makeTidy(samples);
        Seen seen;
        float last = 0.0F;
        for (std::size_t i = samples.first[0]; i < samples.first[1]; ++i) {
            QVERIFY((*samples.find("Z"))[i] >= last);
            last = (*samples.find("ZBack"))[i];
            QVERIFY(last >= (*samples.find("Z"))[i]);
            seen.light += seen.open * static_cast<double>((*samples.find("R"))[i]);
            seen.open *= 1.0 - static_cast<double>((*samples.find("A"))[i]);
        }
        const QByteArray told = QByteArray::number(seen.light) + " for " + QByteArray::number(expected.light);
        QVERIFY2(std::abs(seen.light - expected.light) < 2e-3 * expected.light, told.constData());
        QVERIFY(std::abs(seen.open - expected.open) < 1e-4);
        // A flat picture of them shows the same.
        QVERIFY(std::abs(static_cast<double>(passes::flattened(samples, {"R"})[0].at(0, 0)) - seen.light) <
                1e-5);
    }

    void whatDoesNotOverlapStaysAsItIs()
    {
        const std::vector<Volume> apart{{3, 5, 0.6, 0.3}, {1, 3, 0.7, 0.1}, {6, 6, 1.0, 0.2}};
        passes::DeepSamples samples = pixelOf(apart);
        const auto before = samples.values;
        passes::makeTidy(samples);
        QVERIFY(samples.values == before);
        // Nor is anything told from numbers that are none: they are reported elsewhere.
        samples = pixelOf({{1, 3, 0.6, std::nan("")}, {2, 5, 0.7, 0.1}});
        passes::makeTidy(samples);
        QCOMPARE(samples.first[1], std::size_t{2});
    }

    // Of evenly growing blur each part has the variance of its own disc, r^2 / 4: a bank of fog is spread as
    // many thin layers of it are, not as its front is.
    void fogIsBlurredAlongItsLength()
    {
        const auto settings = lensWithRadius(kSize, 14.0);
        const auto model = settings.blurModel(kSize);
        const RgbaImage result = defocus::defocus(patchOf({fogFrom(1.1F, 2.0F)}), settings);
        constexpr int layers = 2000;
        const double depth = -std::log1p(-0.6);
        double seen = 0.0;
        double variance = 0.0;
        for (int i = 0; i < layers; ++i) {
            const double share = (i + 0.5) / layers;
            const double weight = std::exp(-depth * share) * depth / layers;
            const double radius = model.radiusPx(1.1 + 0.9 * share);
            seen += weight;
            variance += weight * 0.25 * radius * radius;
        }
        constexpr double side = kHigh - kLow;
        const double expected = variance / seen + (side * side - 1.0) / 12.0;
        const Moments moments = momentsOf(result);
        QVERIFY2(std::abs(moments.sum / (side * side * 0.4) - 1.0) < 0.01,
                 qPrintable(QString::number(moments.sum)));
        const QByteArray told = QByteArray::number(moments.variance) + " for " + QByteArray::number(expected);
        QVERIFY2(std::abs(moments.variance / expected - 1.0) < 0.06, told.constData());
        const double front = model.radiusPx(1.1);
        QVERIFY(expected < 0.6 * (0.25 * front * front + (side * side - 1.0) / 12.0));
    }

    void fogOverAWholePictureStaysEven()
    {
        const RgbaImage result = defocus::defocus(
            stack(kSize, {fogFrom(1.2F, 9.0F), sample(0.5F, 1.0F, 20.0F)}), lensWithRadius(kSize, 12.0));
        for (const float v : result.plane(0).pixels())
            QVERIFY2(std::abs(v - (0.4F + 0.4F * 0.5F)) < 2e-4F, qPrintable(QString::number(v)));
    }

    void volumesAreReadFromAFile()
    {
        QTemporaryDir folder;
        const std::string file = folder.filePath("fog.exr").toStdString();
        // Overlapping, and back to front.
        test::writeDeep(file,
                        stack(16, {sample(0.5F, 1.0F, 20.0F), fogFrom(3.0F, 6.0F), fogFrom(2.0F, 4.0F)}));
        const passes::PassSource source({file, {}}, {});
        const auto loaded = source.load(1);
        QVERIFY(loaded->deep);
        QCOMPARE(loaded->deep->endOf(3, 3) - loaded->deep->firstOf(3, 3), std::size_t{4});
        const std::size_t first = loaded->deep->firstOf(3, 3);
        const auto& samples = loaded->deep->samples;
        for (const auto& [index, from, to] :
             {std::tuple{0, 2.0F, 3.0F}, {1, 3.0F, 4.0F}, {2, 4.0F, 6.0F}, {3, 20.0F, 20.0F}}) {
            QCOMPARE(samples[first + static_cast<std::size_t>(index)].depth, from);
            QCOMPARE(samples[first + static_cast<std::size_t>(index)].back, to);
        }
        // 1 - 0.4^(1/2) of the nearer one's first half
        QVERIFY(std::abs(samples[first].colour[3] - (1.0F - std::sqrt(0.4F))) < 1e-5F);
        const Seen expected = marched({{3, 6, 0.6, 0.4}, {2, 4, 0.6, 0.4}});
        const double flat = static_cast<double>(loaded->colour().plane(1).at(8, 8));
        QVERIFY(std::abs(flat - (expected.light + expected.open * 0.5)) < 2e-3);
    }
};

QTEST_APPLESS_MAIN(TestDeepVolumes)
#include "test_deep_volumes.moc"
