#pragma once

#include "core/image/image.h"

#include <algorithm>
#include <vector>

namespace retinex::defocus {

/// Of each pixel of a row, the smallest and the largest of the 3 x 3 around it. Plain loops without branches,
/// so that the compiler makes vectors of them.
class EndsAround
{
public:
    explicit EndsAround(const Plane<float>& plane)
        : m_plane(plane), m_width(static_cast<std::size_t>(plane.width()))
    {
        for (auto* ends : {&m_column, &m_square}) {
            ends->nearest.resize(m_width);
            ends->farthest.resize(m_width);
        }
    }

    /// Makes row y the one that nearest() and farthest() tell of.
    void look(int y)
    {
        const float* above = m_plane.row(std::max(y - 1, 0));
        const float* here = m_plane.row(y);
        const float* below = m_plane.row(std::min(y + 1, m_plane.height() - 1));
        for (std::size_t x = 0; x < m_width; ++x) {
            m_column.nearest[x] = std::min(std::min(above[x], below[x]), here[x]);
            m_column.farthest[x] = std::max(std::max(above[x], below[x]), here[x]);
        }
        const auto join = [&](const std::vector<float>& column, std::vector<float>& square, auto end) {
            square[0] = end(column[0], column[std::min<std::size_t>(1, m_width - 1)]);
            for (std::size_t x = 1; x + 1 < m_width; ++x)
                square[x] = end(end(column[x - 1], column[x + 1]), column[x]);
            square[m_width - 1] = end(column[m_width - 1], column[m_width > 1 ? m_width - 2 : 0]);
        };
        join(m_column.nearest, m_square.nearest, [](float a, float b) { return std::min(a, b); });
        join(m_column.farthest, m_square.farthest, [](float a, float b) { return std::max(a, b); });
    }
    [[nodiscard]] const float* nearest() const noexcept { return m_square.nearest.data(); }
    [[nodiscard]] const float* farthest() const noexcept { return m_square.farthest.data(); }

private:
    struct Ends
    {
        std::vector<float> nearest, farthest;
    };
    const Plane<float>& m_plane;
    std::size_t m_width;
    Ends m_column, m_square;
};

} // namespace retinex::defocus
