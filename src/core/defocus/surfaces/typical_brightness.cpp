#include "core/defocus/surfaces/typical_brightness.h"

namespace retinex::defocus {

TypicalBrightness::TypicalBrightness(const RgbaImage& colour, const Plane<float>& radius, const Run& run)
    : m_log((colour.width() + kBlock - 1) / kBlock, (colour.height() + kBlock - 1) / kBlock),
      m_radius(m_log.width(), m_log.height())
{
    parallelFor(m_log.height(), run, [&](int by) {
        for (int bx = 0; bx < m_log.width(); ++bx)
            measure(colour, radius, bx, by);
    });
}

void TypicalBrightness::measure(const RgbaImage& colour, const Plane<float>& radius, int bx, int by)
{
    const auto everyOther = [&](auto visit) { // a quarter of the pixels is enough
        for (int y = by * kBlock; y < std::min((by + 1) * kBlock, colour.height()); y += 2)
            for (int x = bx * kBlock; x < std::min((bx + 1) * kBlock, colour.width()); x += 2)
                visit(x, y);
    };
    float sum = 0.0F;
    int count = 0;
    everyOther([&](int x, int y) {
        sum += radius.at(x, y);
        ++count;
    });
    const float middle = sum / static_cast<float>(count) - 1e-3F;
    float logSum = 0.0F;
    float radiusSum = 0.0F;
    int far = 0;
    everyOther([&](int x, int y) {
        if (radius.at(x, y) < middle) return;
        logSum += std::log2(brightnessOf(colourAt(colour, x, y)) + kFloor);
        radiusSum += radius.at(x, y);
        ++far;
    });
    m_log.at(bx, by) = logSum / static_cast<float>(std::max(far, 1));
    m_radius.at(bx, by) = radiusSum / static_cast<float>(std::max(far, 1));
}

void TypicalBrightness::hold(Colour& guess, float radius, int x, int y) const
{
    float sum = 0.0F;
    int count = 0;
    around(m_log, x / kBlock, y / kBlock, 1, [&](int bx, int by) {
        if (m_radius.at(bx, by) < radius - std::max(1.0F, 0.25F * std::abs(radius))) return;
        sum += m_log.at(bx, by);
        ++count;
    });
    if (count == 0) return;
    const float most = kMost * std::exp2(sum / static_cast<float>(count));
    const float brightness = brightnessOf(guess);
    if (brightness > most)
        for (std::size_t c = 0; c < 3; ++c)
            guess[c] *= most / brightness;
}

} // namespace retinex::defocus
