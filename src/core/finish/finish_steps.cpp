#include "core/finish/finish_steps.h"

#include <algorithm>

namespace retinex::finish {

bool isUsed(const Glow& glow)
{
    return glow.isOn && glow.amount > 0.0;
}

bool isUsed(const Look& look)
{
    return look.isOn && look.strength > 0.0 && (!look.file.empty() || !look.look.empty());
}

bool Steps::hasGlow() const
{
    return finish.glowIsOn && std::ranges::any_of(glows, [](const Glow& g) { return isUsed(g); });
}

bool Steps::hasFringing() const
{
    return finish.fringing.isOn && finish.fringing.cornerPx != 0.0;
}

bool Steps::hasVignette() const
{
    return finish.vignette.isOn && finish.vignette.stops != 0.0;
}

bool Steps::hasGrade() const
{
    return finish.grade.isOn && !finish.grade.isNeutral();
}

bool Steps::hasLook() const
{
    return finish.lookIsOn && std::ranges::any_of(looks, [](const Look& l) { return isUsed(l); });
}

bool Steps::hasGrain() const
{
    return finish.grain.isOn && finish.grain.amount > 0.0;
}

bool Steps::hasPlate() const
{
    return finish.plate.isOn && !finish.plate.file.empty() && finish.plate.amount > 0.0;
}

bool Steps::any() const
{
    return finish.isOn && finish.mix > 0.0 &&
           (hasGlow() || hasFringing() || hasVignette() || hasGrade() || hasLook() || hasGrain() ||
            hasPlate());
}

} // namespace retinex::finish
