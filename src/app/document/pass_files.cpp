#include "app/document/pass_files.h"

#include <QCoreApplication>
#include <algorithm>

namespace retinex::app {

std::vector<passes::RoleProposal> presentRoles(const project::Project& project,
                                               std::vector<passes::RoleProposal> known)
{
    using passes::Role;
    std::vector<passes::RoleProposal> roles = std::move(known);
    const auto roleOf = [&](const std::filesystem::path& file) {
        const auto& options = project.passOptions;
        if (file == project.colour.file)
            return project.depth.file.empty() && !options.handMadeDepth ? Role::colourAndDepth : Role::colour;
        if (file == project.depth.file) return Role::depth;
        if (file == options.alpha.file) return Role::alpha;
        if (file == options.motion.file) return Role::motionVectors;
        if (file == project.scene.file) return Role::sceneFile;
        const bool isMatte =
            std::ranges::any_of(project.mattes, [&](const auto& m) { return m.file == file; });
        return isMatte ? Role::matte : Role::none;
    };
    const auto add = [&](const std::filesystem::path& file) {
        if (!file.empty() && std::ranges::none_of(roles, [&](const auto& role) { return role.file == file; }))
            roles.push_back(
                {file, Role::none, QCoreApplication::translate("PassesPanel", "was chosen").toStdString()});
    };
    add(project.colour.file);
    add(project.depth.file);
    add(project.passOptions.alpha.file);
    add(project.passOptions.motion.file);
    for (const auto& matte : project.mattes)
        add(matte.file);
    for (passes::RoleProposal& role : roles)
        role.role = roleOf(role.file);
    return roles;
}

project::Project withFileAs(const project::Project& project, std::vector<passes::RoleProposal> roles,
                            std::size_t index, passes::Role role)
{
    using passes::Role;
    passes::RoleProposal& taken = roles[index];
    for (passes::RoleProposal& other : roles) {
        other.isChosen = true;
        if (&other == &taken) continue;
        if (role == Role::colour && other.role == Role::colourAndDepth)
            other.role = Role::depth;
        else if (role == Role::depth && other.role == Role::colourAndDepth)
            other.role = Role::colour;
        else if (other.role == role && (role == Role::colour || role == Role::depth || role == Role::alpha))
            other.role = taken.role == Role::colourAndDepth ? Role::none : taken.role;
    }
    taken.role = role;
    const passes::SortedPasses sorted = passes::sortIntoRoles(roles);
    project::Project wanted = project;
    const auto put = [](passes::PassChoice& choice, const passes::PassChoice& chosen) {
        if (choice.file != chosen.file) choice = chosen;
    };
    put(wanted.colour, sorted.colour);
    put(wanted.depth, sorted.depth);
    put(wanted.passOptions.alpha, sorted.alpha);
    put(wanted.passOptions.motion, {sorted.motion, {}});
    wanted.mattes = sorted.mattes;
    wanted.scene.file = sorted.sceneFile;
    return wanted;
}

} // namespace retinex::app
