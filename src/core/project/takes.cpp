#include "core/project/takes.h"

#include "core/system/say.h"

#include <algorithm>
#include <fmt/format.h>

namespace retinex::project {

Take takeOf(const Project& project, std::string name, int frame)
{
    return {std::move(name), frame, {}, project.metresPerUnit, project.subjects, project.shots};
}

Project withTake(const Project& project, const Take& take)
{
    Project changed = project;
    changed.metresPerUnit = take.metresPerUnit;
    changed.subjects = take.subjects;
    changed.shots = take.shots;
    return changed;
}

std::string nameForTake(const Project& project)
{
    for (std::size_t number = 1;; ++number) {
        std::string name = say("Take {}", number);
        if (std::ranges::none_of(project.takes, [&](const Take& take) { return take.name == name; }))
            return name;
    }
}

} // namespace retinex::project
