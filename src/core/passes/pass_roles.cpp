#include "core/passes/pass_roles.h"

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/passes/image_file.h"
#include "core/passes/layers.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <fmt/format.h>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

/// Words that artists and renderers put into the names of files.
constexpr std::array<std::string_view, 7> kDepthWords{"depth",    "zdepth",  "z",  "dist",
                                                      "distance", "zbuffer", "dpt"};
constexpr std::array<std::string_view, 6> kMatteWords{"matte", "mask", "holdout", "roto", "objid", "id"};

constexpr std::array<std::string_view, 6> kMotionWords{"motion",   "motionvector", "motionvectors",
                                                       "velocity", "vectors",      "mv"};

bool hasWord(const fs::path& file, const auto& words)
{
    std::string word;
    for (const char c : file.stem().string() + ".") {
        if (std::isalpha(static_cast<unsigned char>(c))) {
            word += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
            continue;
        }
        if (std::find(words.begin(), words.end(), word) != words.end()) return true;
        word.clear();
    }
    return false;
}

/// What the numbers of a file without telling names look like.
struct PictureLook
{
    bool grey = false;       ///< one channel, or three alike
    bool blackWhite = false; ///< little but 0 and 1
};

PictureLook lookAt(const fs::path& file, const FileInfo& info)
{
    const auto layers = colourLayers(info);
    if (layers.empty()) return {channelPlaces(info).size() == 1, false};
    const ColourLayer& layer = layers.front();
    const auto planes = readChannels(file, layer.part, {layer.red, layer.green, layer.blue}).planes;
    std::size_t alike = 0;
    std::size_t extreme = 0;
    std::size_t seen = 0;
    for (std::size_t i = 0; i < planes[0].size(); i += 7, ++seen) {
        const float r = planes[0].pixels()[i];
        const float spread = std::abs(r - planes[1].pixels()[i]) + std::abs(r - planes[2].pixels()[i]);
        if (!(spread > 1e-4F * std::abs(r))) ++alike;
        if (std::abs(r) < 0.004F || std::abs(r - 1.0F) < 0.004F) ++extreme;
    }
    return {alike == seen, extreme * 10 > seen * 9};
}

RoleProposal propose(const fs::path& file)
{
    const std::string ending = file.extension().string();
    if (ending == ".gltf" || ending == ".glb") return {file, Role::sceneFile, "cameras and points"};
    const FileInfo info = inspectFile(file);
    const bool depth = !depthChannels(info).empty();
    const bool colour = !colourLayers(info).empty();
    const std::string name = file.filename().string();
    if (depth && colour)
        return {file, Role::colourAndDepth,
                say("colour and a channel \"{}\"", depthChannels(info).front().channel)};
    if (depth) return {file, Role::depth, say("a channel \"{}\"", depthChannels(info).front().channel)};
    if (!depth && !colour && !motionChannels(info).empty())
        return {file, Role::motionVectors, "channels named like motion vectors"};
    if (!depth && hasWord(file, kMotionWords))
        return {file, Role::motionVectors, "a name that speaks of motion"};
    const bool matteNames = !matteChannels(info).empty() || hasWord(file, kMatteWords);
    if (!colour && matteNames) return {file, Role::matte, "channels named like mattes"};
    const PictureLook look = lookAt(file, info);
    if (hasWord(file, kDepthWords) && (look.grey || !colour))
        return {file, Role::depth, "one grey and a name that speaks of depth"};
    if (hasWord(file, kMatteWords) && look.grey)
        return {file, Role::matte, "one grey and a name that speaks of a matte"};
    if (look.grey && look.blackWhite) return {file, Role::matte, "little but black and white"};
    if (look.grey) return {file, Role::depth, "one grey"};
    if (!colour) return {file, Role::matte, "neither colour nor depth"};
    return {file, Role::colour, "three different channels"};
}

bool holds(const RoleProposal& proposal, Role role)
{
    return proposal.role == role ||
           (proposal.role == Role::colourAndDepth && (role == Role::colour || role == Role::depth));
}

} // namespace

std::string_view title(Role role) noexcept
{
    static constexpr std::array<std::string_view, 6> titles{"colour pass", "depth pass", "colour and depth",
                                                            "matte pass",  "scene file", "motion vectors"};
    return titles[static_cast<std::size_t>(role)];
}

std::vector<fs::path> SortedPasses::leftAside() const
{
    std::vector<fs::path> aside;
    for (const RoleProposal& proposal : roles)
        if (proposal.role != Role::matte && proposal.role != Role::sceneFile && proposal.file != motion &&
            proposal.file != colour.file && proposal.file != depth.file)
            aside.push_back(proposal.file);
    return aside;
}

SortedPasses sortIntoRoles(const std::vector<fs::path>& files)
{
    SortedPasses sorted;
    for (const fs::path& file : files) {
        const Sequence found = Sequence::find(file);
        const fs::path first = found.file(found.isStill() ? 1 : found.frames().front());
        RoleProposal proposal = propose(first);
        proposal.file = found.isStill() ? first : found.pattern();
        sorted.roles.push_back(std::move(proposal));
    }
    auto& roles = sorted.roles;
    const auto first = [&](auto matches) { return std::find_if(roles.begin(), roles.end(), matches); };
    // Colour: a file of colour alone before one that holds depth too, and any grey one before none.
    auto colour = first([](const RoleProposal& p) { return p.role == Role::colour; });
    if (colour == roles.end()) colour = first([](const RoleProposal& p) { return holds(p, Role::colour); });
    if (colour == roles.end() && roles.size() > 1)
        colour = first(
            [](const RoleProposal& p) { return p.role == Role::matte && !hasWord(p.file, kMatteWords); });
    // A lone picture is taken for the colour pass, however grey: what it lacks is then said by its name.
    if (colour == roles.end() && roles.size() == 1 && roles.front().role != Role::sceneFile)
        colour = roles.begin();
    if (colour == roles.end())
        throw Error(
            say("{}: there is no colour pass among these files. Give one with it.", files.front().string()));
    if (!holds(*colour, Role::colour)) colour->role = Role::colour;
    auto depth = first([](const RoleProposal& p) { return p.role == Role::depth; });
    if (depth == roles.end()) depth = first([](const RoleProposal& p) { return holds(p, Role::depth); });
    // Two pictures with colour: the one whose name speaks of depth, or else the second.
    if (depth == roles.end()) {
        depth = first([&](const RoleProposal& p) {
            return &p != &*colour && p.role == Role::colour && hasWord(p.file, kDepthWords);
        });
        if (depth == roles.end())
            depth = first([&](const RoleProposal& p) { return &p != &*colour && p.role == Role::colour; });
        if (depth != roles.end()) {
            depth->role = Role::depth;
            depth->reason = "no depth channel but comes second: its luminance";
        }
    }
    sorted.colour.file = colour->file;
    if (depth != roles.end() && depth != colour) sorted.depth.file = depth->file;
    if (const auto motion = first([](const RoleProposal& p) { return p.role == Role::motionVectors; });
        motion != roles.end())
        sorted.motion = motion->file;
    const std::vector<fs::path> aside = sorted.leftAside();
    for (const RoleProposal& proposal : roles) {
        if (std::find(aside.begin(), aside.end(), proposal.file) != aside.end()) continue;
        if (proposal.role == Role::sceneFile) sorted.sceneFile = proposal.file;
        if (proposal.role == Role::matte || holds(proposal, Role::colour)) {
            const Sequence found = Sequence::find(proposal.file);
            const fs::path file = found.file(found.isStill() ? 1 : found.frames().front());
            for (MatteChoice matte : mattesIn(file, proposal.role == Role::matte)) {
                matte.file = proposal.file;
                sorted.mattes.push_back(std::move(matte));
            }
        }
    }
    return sorted;
}

} // namespace retinex::passes
