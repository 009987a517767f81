#include "bench/crops.h"

#include "bench/measure.h"
#include "core/system/error.h"

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

CropPlace worstPlace(const RgbaImage& picture, const RgbaImage& truth)
{
    const Plane<float> detail = falseDetail(picture, truth);
    CropPlace place;
    double worst = -1.0;
    for (int y = 0; y + kHeight <= picture.height(); y += kStep) {
        for (int x = 0; x + kWidth <= picture.width(); x += kStep) {
            const double error = 1e3 * falseIn(detail, x, y) + errorIn(picture, truth, x, y);
            if (error <= worst) continue;
            worst = error;
            place = {x, y};
        }
    }
    return place;
}

void writeCrops(const std::filesystem::path& file, const std::vector<std::vector<const RgbaImage*>>& rows,
                const CropPlace& place)
{
    const auto columns = static_cast<int>(rows.front().size());
    const int width = columns * (kWidth * kZoom + kGap) - kGap;
    const int height = static_cast<int>(rows.size()) * (kHeight * kZoom + kGap) - kGap;
    std::vector<unsigned char> pixels(static_cast<std::size_t>(width * height * 3), 56);
    const auto draw = [&](const RgbaImage& image, int left, int top) {
        for (int y = 0; y < kHeight * kZoom; ++y)
            for (int x = 0; x < kWidth * kZoom; ++x)
                for (int c = 0; c < 3; ++c) {
                    const float value = image.plane(c).at(place.x + x / kZoom, place.y + y / kZoom);
                    const double shown =
                        std::pow(std::clamp(static_cast<double>(value), 0.0, 1.0), 1.0 / 2.2);
                    pixels[static_cast<std::size_t>(((top + y) * width + left + x) * 3 + c)] =
                        static_cast<unsigned char>(std::lround(255.0 * shown));
                }
    };
    for (std::size_t row = 0; row < rows.size(); ++row)
        for (std::size_t column = 0; column < rows[row].size(); ++column)
            draw(*rows[row][column], static_cast<int>(column) * (kWidth * kZoom + kGap),
                 static_cast<int>(row) * (kHeight * kZoom + kGap));
    const auto out = OIIO::ImageOutput::create(file.string());
    if (!out || !out->open(file.string(), OIIO::ImageSpec(width, height, 3, OIIO::TypeDesc::UINT8)) ||
        !out->write_image(OIIO::TypeDesc::UINT8, pixels.data()) || !out->close())
        throw Error(fmt::format("{}: this picture cannot be written.", file.string()));
}

} // namespace retinex::bench
