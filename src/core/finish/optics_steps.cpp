#include "core/finish/optics_steps.h"

#include <algorithm>
#include <cmath>

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
        // About a sample a pixel; an odd number has one in the middle.
        const int half = std::clamp(static_cast<int>(std::ceil(std::abs(cornerPx))), 0, 8);
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
    const float fx = std::floor(x);
    const float fy = std::floor(y);
    const float tx = x - fx;
    const float ty = y - fy;
    const int right = plane.width() - 1;
    const int bottom = plane.height() - 1;
    const int x0 = std::clamp(static_cast<int>(fx) - left, 0, right);
    const int x1 = std::clamp(static_cast<int>(fx) + 1 - left, 0, right);
    const float* above = plane.row(std::clamp(static_cast<int>(fy) - top, 0, bottom));
    const float* below = plane.row(std::clamp(static_cast<int>(fy) + 1 - top, 0, bottom));
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
    RgbaImage from(width, height);
    for (int c = 0; c < 3; ++c)
        std::swap(from.plane(c), canvas.image.plane(c));
    parallelFor(height, run, [&](int y) {
        const auto dy = static_cast<float>(canvas.box.minY + y + 0.5 - centre.y);
        for (int x = 0; x < width; ++x) {
            const auto dx = static_cast<float>(canvas.box.minX + x + 0.5 - centre.x);
            const float r = std::sqrt(dx * dx + dy * dy);
            const float s = r / static_cast<float>(centre.corner);
            // Moved outwards by so much, light comes from so much farther in: as a share of the way out.
            const float per =
                r > 0.0F ? static_cast<float>(fringing.cornerPx) * (isSquare ? s * s : s) / r : 0.0F;
            for (int c = 0; c < 3; ++c) {
                const auto own = static_cast<float>(1 - c); // red 1, green 0, blue -1
                float sum = 0.0F;
                for (std::size_t i = 0; i < spectrum.places.size(); ++i) {
                    const float scale = (own + spectrum.places[i]) * per;
                    sum += spectrum.weights[i] * sampled(from.plane(c),
                                                         static_cast<float>(canvas.box.minX + x) - dx * scale,
                                                         static_cast<float>(canvas.box.minY + y) - dy * scale,
                                                         canvas.box.minX, canvas.box.minY);
                }
                canvas.image.plane(c).at(x, y) = sum;
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
    parallelFor(canvas.image.height(), run, [&](int y) {
        for (int x = 0; x < canvas.image.width(); ++x) {
            const auto factor = static_cast<float>(vignetteFactor(vignette, canvas.box.minX + x + 0.5,
                                                                  canvas.box.minY + y + 0.5,
                                                                  canvas.frameWidth, canvas.frameHeight));
            for (int c = 0; c < 3; ++c)
                canvas.image.plane(c).at(x, y) *= factor;
        }
    });
}

} // namespace retinex::finish
