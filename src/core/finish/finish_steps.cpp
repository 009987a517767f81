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

bool Steps::hasGrade() const
{
    return finish.grade.isOn && !finish.grade.isNeutral();
}

bool Steps::hasLook() const
{
    return finish.lookIsOn && std::ranges::any_of(looks, [](const Look& l) { return isUsed(l); });
}

bool Steps::hasPlate() const
{
    return finish.plate.isOn && !finish.plate.file.empty() && finish.plate.amount > 0.0;
}

} // namespace retinex::finish
