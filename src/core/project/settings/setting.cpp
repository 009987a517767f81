#include "core/project/settings/setting.h"

#include <fmt/format.h>

namespace retinex::project {

std::string Range::words() const
{
    if (std::isinf(maximum) && std::isinf(minimum)) return "any number";
    if (std::isinf(maximum)) return fmt::format("{:g} or more", minimum);
    if (std::isinf(minimum)) return fmt::format("up to {:g}", maximum);
    return fmt::format("{:g} to {:g}", minimum, maximum);
}

std::string SettingInfo::whatFits() const
{
    if (kind == Kind::blades) return fmt::format("0 (a circle) or 3 to {:g}", range.maximum);
    return isWhole() ? "a whole number, " + range.words() : range.words();
}

} // namespace retinex::project
