#include "bench/crops.h"

#include "bench/measure.h"
#include "core/base/error.h"

#include <OpenImageIO/imageio.h>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace retinex::bench {

namespace {

constexpr int kWidth = 96;
constexpr int kHeight = 64;
constexpr int kStep = 8;
constexpr int kZoom = 3;
constexpr int kGap = 6;

double toned(float value)
{
    const double v = std::max(0.0, static_cast<double>(value));
    return std::pow(v / (1.0 + v), 1.0 / 2.2);
}

double falseIn(const Plane<float>& detail, int x0, int y0)
{
    double sum = 0.0;
    for (int y = y0; y < y0 + kHeight; ++y)
        for (int x = x0; x < x0 + kWidth; ++x)
            sum += static_cast<double>(detail.at(x, y));
    return sum;
}

double errorIn(const RgbaImage& a, const RgbaImage& b, int x0, int y0)
{
    double sum = 0.0;
    for (int c = 0; c < 3; ++c) {
        for (int y = y0; y < y0 + kHeight; ++y) {
            for (int x = x0; x < x0 + kWidth; ++x) {
                const double d = toned(a.plane(c).at(x, y)) - toned(b.plane(c).at(x, y));
                sum += d * d;
            }
        }
    }
    return sum;
}

} // namespace

void writeWorstCrop(const std::filesystem::path& file, const RgbaImage& picture, const RgbaImage& truth,
                    const RgbaImage& probed)
{
    const Plane<float> detail = falseDetail(picture, truth);
    int worstX = 0;
    int worstY = 0;
    double worst = -1.0;
    for (int y = 0; y + kHeight <= picture.height(); y += kStep) {
        for (int x = 0; x + kWidth <= picture.width(); x += kStep) {
            const double error = 1e3 * falseIn(detail, x, y) + errorIn(picture, truth, x, y);
            if (error <= worst) continue;
            worst = error;
            worstX = x;
            worstY = y;
        }
    }
    const int width = 3 * kWidth * kZoom + 2 * kGap;
    const int height = kHeight * kZoom;
    std::vector<unsigned char> pixels(static_cast<std::size_t>(width * height * 3), 56);
    for (int side = 0; side < 3; ++side) {
        const RgbaImage& image = side == 0 ? picture : side == 1 ? truth : probed;
        for (int y = 0; y < height; ++y) {
            for (int x = 0; x < kWidth * kZoom; ++x) {
                for (int c = 0; c < 3; ++c) {
                    const float value = image.plane(c).at(worstX + x / kZoom, worstY + y / kZoom);
                    const double shown =
                        std::pow(std::clamp(static_cast<double>(value), 0.0, 1.0), 1.0 / 2.2);
                    const int at = (y * width + side * (kWidth * kZoom + kGap) + x) * 3 + c;
                    pixels[static_cast<std::size_t>(at)] =
                        static_cast<unsigned char>(std::lround(255.0 * shown));
                }
            }
        }
    }
    const auto out = OIIO::ImageOutput::create(file.string());
    if (!out || !out->open(file.string(), OIIO::ImageSpec(width, height, 3, OIIO::TypeDesc::UINT8)) ||
        !out->write_image(OIIO::TypeDesc::UINT8, pixels.data()) || !out->close())
        throw Error(fmt::format("{}: this picture cannot be written.", file.string()));
}

} // namespace retinex::bench
