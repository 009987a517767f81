#include "core/project/settings/setting.h"

#include "core/system/say.h"

#include <fmt/format.h>

namespace retinex::project {

std::string titleOf(Group group)
{
    switch (group) {
    case Group::none:
        break;
    case Group::reading:
        return say("Depth reading");
    case Group::lens:
        return say("Lens and strength");
    case Group::focus:
        return say("Focus and held zone");
    case Group::iris:
        return say("Iris and glints");
    case Group::repair:
        return say("Repair");
    case Group::regions:
        return say("Regions");
    case Group::inserts:
        return say("Backdrop and inserts");
    case Group::finish:
        return say("Finish");
    }
    return {};
}

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
