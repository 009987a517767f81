#include "core/finish/optics_steps.h"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace retinex::finish {

namespace {

/// Where the centre is, px of the frame, and how far the farthest corner is from it.
struct Centre
{
    Centre(const Fringing& fringing, double width, double height)
        : x(fringing.centreX * width), y(fringing.centreY * height),
          corner(std::hypot(std::max(x, width - x), std::max(y, height - y)))
    {
    }
    double x;
    double y;
    double corner;
};

/// Wavelengths of a colour: places from -1 to 1 around its own, and their weights. A triangle.
struct Spectrum
{
    explicit Spectrum(double cornerPx)
    {
        // A sample a pixel at the corner; an odd number has one in the middle.
        const int half = std::clamp(static_cast<int>(std::ceil(std::abs(cornerPx))) - 1, 1, 8);
        float sum = 0.0F;
        for (int i = -half; i <= half; ++i) {
            const float at = static_cast<float>(i) / static_cast<float>(half + 1);
            places.push_back(at);
            weights.push_back(1.0F - std::abs(at));
            sum += weights.back();
        }
        for (float& weight : weights)
            weight /= sum;
    }
    std::vector<float> places;
    std::vector<float> weights;
};

/// At a place of the frame, whose pixels lie at `left`, `top`; between pixels linear: the wavelengths of a
/// colour are more apart than that softens. The same for any part of the frame.
float sampled(const Plane<float>& plane, float x, float y, int left, int top)
{
    constexpr float kAbove0 = 4096.0F; // of what is cut off to a whole number
    const int ix = static_cast<int>(x + kAbove0) - static_cast<int>(kAbove0);
    const int iy = static_cast<int>(y + kAbove0) - static_cast<int>(kAbove0);
    const float tx = x - static_cast<float>(ix);
    const float ty = y - static_cast<float>(iy);
    const auto px = static_cast<unsigned>(ix - left);
    const auto py = static_cast<unsigned>(iy - top);
    const auto right = static_cast<unsigned>(plane.width() - 1);
    const auto bottom = static_cast<unsigned>(plane.height() - 1);
    if (px < right && py < bottom) {
        const float* above = plane.row(static_cast<int>(py)) + px;
        const float* below = above + plane.width();
        const float a = above[0] + tx * (above[1] - above[0]);
        const float b = below[0] + tx * (below[1] - below[0]);
        return a + ty * (b - a);
    }
    const int x0 = std::clamp(ix - left, 0, plane.width() - 1);
    const int x1 = std::clamp(ix + 1 - left, 0, plane.width() - 1);
    const float* above = plane.row(std::clamp(iy - top, 0, plane.height() - 1));
    const float* below = plane.row(std::clamp(iy + 1 - top, 0, plane.height() - 1));
    const float a = above[x0] + tx * (above[x1] - above[x0]);
    const float b = below[x0] + tx * (below[x1] - below[x0]);
    return a + ty * (b - a);
}

} // namespace

double fringePx(const Fringing& fringing, double x, double y, double frameWidth, double frameHeight)
{
    const Centre centre(fringing, frameWidth, frameHeight);
    const double s = std::hypot(x - centre.x, y - centre.y) / centre.corner;
    return fringing.cornerPx * (fringing.growth == FringeGrowth::square ? s * s : s);
}

int fringeReach(const Fringing& fringing) noexcept
{
    return static_cast<int>(std::ceil(2.0 * std::abs(fringing.cornerPx))) + 2;
}

void addFringing(Canvas& canvas, const Fringing& fringing, const Run& run)
{
    const Centre centre(fringing, canvas.frameWidth, canvas.frameHeight);
    const Spectrum spectrum(fringing.cornerPx);
    const int width = canvas.image.width();
    const int height = canvas.image.height();
    const bool isSquare = fringing.growth == FringeGrowth::square;
    RgbaImage from;
    for (int c = 0; c < 3; ++c)
        from.plane(c) = std::exchange(canvas.image.plane(c), Plane<float>(width, height));
    // Green's own place is where it is.
    const std::size_t middle = spectrum.places.size() / 2;
    parallelFor(height, run, [&](int y) {
        const auto dy = static_cast<float>(canvas.box.minY + y + 0.5 - centre.y);
        const auto fy = static_cast<float>(canvas.box.minY + y);
        // Moved outwards by so much, light comes from so much farther in: as a share of the way out.
        std::vector<float> per(static_cast<std::size_t>(width));
        for (int x = 0; x < width; ++x) {
            const auto dx = static_cast<float>(canvas.box.minX + x + 0.5 - centre.x);
            const float r = std::sqrt(dx * dx + dy * dy);
            const auto corner = static_cast<float>(centre.corner);
            per[static_cast<std::size_t>(x)] =
                static_cast<float>(fringing.cornerPx) * (isSquare ? r / (corner * corner) : 1.0F / corner);
        }
        for (int c = 0; c < 3; ++c) {
            const Plane<float>& plane = from.plane(c);
            float* out = canvas.image.plane(c).row(y);
            for (std::size_t i = 0; i < spectrum.places.size(); ++i) {
                const float weight = spectrum.weights[i];
                if (c == 1 && i == middle) {
                    for (int x = 0; x < width; ++x)
                        out[x] += weight * plane.at(x, y);
                    continue;
                }
                const float place = static_cast<float>(1 - c) + spectrum.places[i]; // red 1, green 0, blue -1
                for (int x = 0; x < width; ++x) {
                    const auto fx = static_cast<float>(canvas.box.minX + x);
                    const auto dx = static_cast<float>(canvas.box.minX + x + 0.5 - centre.x);
                    const float scale = place * per[static_cast<std::size_t>(x)];
                    out[x] += weight * sampled(plane, fx - dx * scale, fy - dy * scale, canvas.box.minX,
                                               canvas.box.minY);
                }
            }
        }
    });
}

double vignetteFactor(const Vignette& vignette, double x, double y, double frameWidth, double frameHeight)
{
    const double halfWidth = 0.5 * frameWidth;
    const double halfHeight = 0.5 * frameHeight;
    const double dx = x - halfWidth;
    const double dy = y - halfHeight;
    const double ellipse = std::hypot(dx / halfWidth, dy / halfHeight) / std::sqrt(2.0);
    const double circle = std::hypot(dx, dy) / std::hypot(halfWidth, halfHeight);
    const double r = ellipse + vignette.roundness * (circle - ellipse);
    const double softness = std::max(vignette.softness, 1e-3);
    const double t = std::clamp((r - (1.0 - softness)) / softness, 0.0, 1.0);
    return std::exp2(-vignette.stops * t * t * (3.0 - 2.0 * t));
}

void addVignette(Canvas& canvas, const Vignette& vignette, const Run& run)
{
    // By the square of the distance, of which the factor is smooth.
    constexpr int kSteps = 4096;
    std::vector<float> factors(kSteps + 2);
    const double softness = std::max(vignette.softness, 1e-3);
    for (int i = 0; i < kSteps + 2; ++i) {
        const double t =
            std::clamp((std::sqrt(static_cast<double>(i) / kSteps) - (1.0 - softness)) / softness, 0.0, 1.0);
        factors[static_cast<std::size_t>(i)] =
            static_cast<float>(std::exp2(-vignette.stops * t * t * (3.0 - 2.0 * t)));
    }
    const double halfWidth = 0.5 * canvas.frameWidth;
    const double halfHeight = 0.5 * canvas.frameHeight;
    const auto roundness = static_cast<float>(vignette.roundness);
    const auto perEllipse = static_cast<float>(0.5 / (halfWidth * halfWidth));
    const auto perCircle = static_cast<float>(1.0 / (halfWidth * halfWidth + halfHeight * halfHeight));
    const auto aspect = static_cast<float>(halfWidth * halfWidth / (halfHeight * halfHeight));
    parallelFor(canvas.image.height(), run, [&](int y) {
        const auto dy = static_cast<float>(canvas.box.minY + y + 0.5 - halfHeight);
        std::vector<float> row(static_cast<std::size_t>(canvas.image.width()));
        for (int x = 0; x < canvas.image.width(); ++x) {
            const auto dx = static_cast<float>(canvas.box.minX + x + 0.5 - halfWidth);
            const float ellipse = std::sqrt((dx * dx + aspect * dy * dy) * perEllipse);
            const float circle = std::sqrt((dx * dx + dy * dy) * perCircle);
            const float r = ellipse + roundness * (circle - ellipse);
            const float at = std::min(r * r, 1.0F) * kSteps;
            const int i = static_cast<int>(at);
            const float* pair = factors.data() + i;
            row[static_cast<std::size_t>(x)] = pair[0] + (at - static_cast<float>(i)) * (pair[1] - pair[0]);
        }
        for (int c = 0; c < 3; ++c) {
            float* to = canvas.image.plane(c).row(y);
            for (int x = 0; x < canvas.image.width(); ++x)
                to[x] *= row[static_cast<std::size_t>(x)];
        }
    });
}

const Step kFringing{
    "fringing",
    "Fringing",
    "Red and blue set apart towards the corners, as lenses do.",
    [](const Steps& steps) { return steps.finish.fringing.isOn && steps.finish.fringing.cornerPx != 0.0; },
    [](Canvas& canvas, const Steps& steps, const Sources&, const Run& run) {
        addFringing(canvas, steps.finish.fringing, run);
    },
    [](const Steps& steps, const PixelBox& wanted, int, int) -> PixelBox {
        const int reach = fringeReach(steps.finish.fringing);
        return {wanted.minX - reach, wanted.minY - reach, wanted.maxX + reach, wanted.maxY + reach};
    }};

const Step kVignette{
    "vignette", "Vignette", "Darker towards the corners.",
    [](const Steps& steps) { return steps.finish.vignette.isOn && steps.finish.vignette.stops != 0.0; },
    [](Canvas& canvas, const Steps& steps, const Sources&, const Run& run) {
        addVignette(canvas, steps.finish.vignette, run);
    }};

} // namespace retinex::finish
