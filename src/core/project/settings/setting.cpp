#include "core/project/settings/setting.h"

#include "core/system/say.h"

#include <fmt/format.h>

namespace retinex::project {

std::string Range::words() const
{
    if (std::isinf(maximum) && std::isinf(minimum)) return "any number";
    if (std::isinf(maximum)) return say("{:g} or more", minimum);
    if (std::isinf(minimum)) return say("up to {:g}", maximum);
    return say("{:g} to {:g}", minimum, maximum);
}

std::string SettingInfo::allowed() const
{
    if (kind == Kind::blades) return say("0 (a circle) or 3 to {:g}", range.maximum);
    return isWhole() ? "a whole number, " + range.words() : range.words();
}

} // namespace retinex::project
