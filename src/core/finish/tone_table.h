#pragma once

#include <bit>
#include <cstdint>
#include <functional>
#include <span>
#include <vector>

namespace retinex::finish {

/// A function of one number as a table: 2^bits places in each octave from 2^-20 to 2^17, both signs, and 0;
/// linear in between. Of 7 bits what is smooth over an octave is met to 1e-5 of itself. Beyond the ends it
/// goes on evenly.
class ToneTable
{
public:
    /// `fill` gets the places and puts the function's values in their stead.
    explicit ToneTable(const std::function<void(std::span<float>)>& fill, unsigned bits = 7)
        : m_shift(23U - bits), m_first((127U - 20U) << bits), m_count((37U << bits) + 2U),
          m_perFirst(1.0F / std::bit_cast<float>((m_first + 1U) << m_shift)), m_values(2 * m_count)
    {
        for (std::uint32_t i = 0; i < m_count; ++i) {
            const float place = i == 0 ? 0.0F : std::bit_cast<float>((m_first + i) << m_shift);
            m_values[i] = place;
            m_values[m_count + i] = -place;
        }
        fill(m_values);
    }

    [[nodiscard]] float operator()(float x) const noexcept
    {
        const auto bits = std::bit_cast<std::uint32_t>(x);
        const std::uint32_t size = bits & 0x7fffffffU;
        const float* values = m_values.data() + (bits >> 31U) * m_count;
        const std::uint32_t place = size >> m_shift;
        if (place <= m_first) // between 0 and the first place
            return values[0] + std::bit_cast<float>(size) * m_perFirst * (values[1] - values[0]);
        const std::uint32_t i = place - m_first < m_count - 2 ? place - m_first : m_count - 2;
        const float left = std::bit_cast<float>((m_first + i) << m_shift);
        const float right = std::bit_cast<float>((m_first + i + 1) << m_shift);
        const float share = (std::bit_cast<float>(size) - left) / (right - left);
        return values[i] + share * (values[i + 1] - values[i]);
    }

private:
    std::uint32_t m_shift; ///< of a float's bits: what stays is the place
    std::uint32_t m_first;
    std::uint32_t m_count;
    float m_perFirst;
    std::vector<float> m_values;
};

} // namespace retinex::finish
