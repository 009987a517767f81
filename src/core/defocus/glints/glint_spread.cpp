#include "core/defocus/glints/glint_spread.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

bool GlintSpread::spread(const GlintList& list, const CatsEye& catsEye, const Box& tile,
                         const std::stop_token& stop)
{
    const int height = tile.y1 - tile.y0;
    m_width = tile.x1 - tile.x0;
    m_stride = m_width + 2;
    m_touched.assign(static_cast<std::size_t>(height), 0);
    m_steps.resize(static_cast<std::size_t>(height * 3 * m_stride));
    bool any = false;
    for (const Glint& glint : list.all()) {
        throwIfStopped(stop); // there may be many, and a large disc takes its time
        const IrisKernel& kernel = list.kernel(glint);
        if (glint.x + kernel.reachX() < tile.x0 || glint.x - kernel.reachX() >= tile.x1 ||
            glint.y + kernel.reachY() < tile.y0 || glint.y - kernel.reachY() >= tile.y1)
            continue;
        any = true;
        if (glint.cut >= 0) {
            addDisc(glint, list.cutSpans(glint), tile);
        } else if (catsEye.isOn()) {
            catsEye.clipFrom(kernel, glint.turnedOver, glint.x, glint.y, m_clipped);
            addDisc(glint, m_clipped, tile);
        } else {
            addDisc(glint, kernel.rows(), tile);
        }
    }
    return any;
}

void GlintSpread::addDisc(const Glint& glint, const std::vector<IrisKernel::RowSpan>& spans, const Box& tile)
{
    for (const auto& span : spans) {
        const int row = glint.y + span.dy - tile.y0;
        if (row < 0 || row >= tile.y1 - tile.y0) continue;
        const double centre = glint.x + 0.5 - tile.x0;
        const double from = std::clamp(centre + span.lo, 0.0, static_cast<double>(m_width));
        const double to = std::clamp(centre + span.hi, 0.0, static_cast<double>(m_width));
        if (from >= to) continue;
        if (!hasRow(row)) {
            m_touched[static_cast<std::size_t>(row)] = 1;
            std::fill_n(steps(row, 0), 3 * m_stride, 0.0);
        }
        const auto first = static_cast<int>(from);
        const auto last = static_cast<int>(to);
        const double firstPart = from - first;
        const double lastPart = to - last;
        for (int c = 0; c < 3; ++c) {
            const double light = span.weight * static_cast<double>(glint.light[static_cast<std::size_t>(c)]);
            double* at = steps(row, c);
            at[first] += light * (1.0 - firstPart);
            at[first + 1] += light * firstPart;
            at[last] -= light * (1.0 - lastPart);
            at[last + 1] -= light * lastPart;
        }
    }
}

void GlintSpread::addRow(int y, const std::array<float*, 3>& to)
{
    for (int c = 0; c < 3; ++c) {
        const double* at = steps(y, c);
        float* out = to[static_cast<std::size_t>(c)];
        double sum = 0.0;
        for (int x = 0; x < m_width; ++x) {
            sum += at[x];
            // Rounding leaves less than nothing here and there.
            if (sum > 0.0) out[x] += static_cast<float>(sum);
        }
    }
}

} // namespace retinex::defocus
