#pragma once

#include <QtGlobal>
#include <random>

namespace retinex::test {

/// Chance for tests that kill and interrupt: another one each run, and told, so that a run can be repeated
/// with RETINEX_SEED.
class Dice
{
public:
    Dice()
        : m_seed(qEnvironmentVariableIsSet("RETINEX_SEED")
                     ? static_cast<unsigned>(qEnvironmentVariableIntValue("RETINEX_SEED"))
                     : std::random_device()() % 1'000'000U),
          m_random(m_seed)
    {
        qInfo("RETINEX_SEED=%u", m_seed);
    }
    /// From `low` to `high`, both included.
    [[nodiscard]] int between(int low, int high)
    {
        return std::uniform_int_distribution<int>(low, high)(m_random);
    }

private:
    unsigned m_seed;
    std::mt19937 m_random;
};

} // namespace retinex::test
