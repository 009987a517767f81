#include "core/passes/pass_roles.h"

#include "core/passes/image_file.h"
#include "core/passes/layers.h"
#include "core/passes/movie/movie_file.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <iterator>
#include <map>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

/// Words that artists and renderers put into the names of files.
constexpr std::array<std::string_view, 7> kDepthWords{"depth",    "zdepth",  "z",  "dist",
                                                      "distance", "zbuffer", "dpt"};
constexpr std::array<std::string_view, 6> kMatteWords{"matte", "mask", "holdout", "roto", "objid", "id"};

constexpr std::array<std::string_view, 1> kAlphaWords{"alpha"};
/// Words that say nothing of what is seen.
constexpr std::array<std::string_view, 9> kColourWords{"beauty", "rgb",     "rgba",     "colour", "color",
                                                       "comp",   "diffuse", "combined", "render"};
constexpr std::array<std::string_view, 6> kMotionWords{"motion",   "motionvector", "motionvectors",
                                                       "velocity", "vectors",      "mv"};

/// Of a file's name, in small letters.
std::vector<std::string> wordsIn(const fs::path& file)
{
    std::vector<std::string> words(1);
    for (const char c : file.stem().string()) {
        if (std::isalpha(static_cast<unsigned char>(c)))
            words.back() += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (!words.back().empty())
            words.emplace_back();
    }
    if (words.back().empty()) words.pop_back();
    return words;
}

bool isAmong(const std::string& word, const auto& words)
{
    return std::find(words.begin(), words.end(), word) != words.end();
}

bool hasWord(const fs::path& file, const auto& words)
{
    return std::ranges::any_of(wordsIn(file), [&](const std::string& word) { return isAmong(word, words); });
}

/// What is left of a name without the words of roles: what passes of one picture share.
std::vector<std::string> subjectOf(const fs::path& file)
{
    std::vector<std::string> words = wordsIn(file);
    std::erase_if(words,
                  [](const std::string& w) { return isAmong(w, kDepthWords) || isAmong(w, kColourWords); });
    return words;
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

RoleProposal proposeFor(const fs::path& file, const FileInfo& info)
{
    const bool depth = !depthChannels(info).empty();
    const bool colour = !colourLayers(info).empty();
    if (hasWord(file, kAlphaWords) && !depth) return {file, Role::alpha, "a name that speaks of alpha"};
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

RoleProposal propose(const fs::path& file)
{
    const std::string ending = file.extension().string();
    if (ending == ".gltf" || ending == ".glb") return {file, Role::sceneFile, "cameras and points"};
    const FileInfo info = inspectFile(file);
    RoleProposal proposal = proposeFor(file, info);
    if (!info.parts.empty()) {
        proposal.width = info.parts.front().displayWindow.width();
        proposal.height = info.parts.front().displayWindow.height();
    }
    return proposal;
}

bool holds(const RoleProposal& proposal, Role role)
{
    return proposal.role == role ||
           (proposal.role == Role::colourAndDepth && (role == Role::colour || role == Role::depth));
}

bool isOneSize(const RoleProposal& a, const RoleProposal& b)
{
    return a.width == b.width && a.height == b.height;
}

/// How well a depth pass goes with a colour pass: name and size weigh more than the alphabet.
int likeness(const RoleProposal& colour, const RoleProposal& depth)
{
    if (&colour == &depth) return 11;
    return (subjectOf(colour.file) == subjectOf(depth.file) ? 8 : 0) + (isOneSize(colour, depth) ? 4 : 0) +
           (depth.role == Role::depth ? 3 : 0);
}

/// The best of all by `score`; the first of equals; null without any above 0.
RoleProposal* bestOf(std::vector<RoleProposal>& roles, const std::function<int(const RoleProposal&)>& score)
{
    RoleProposal* best = nullptr;
    int most = 0;
    for (RoleProposal& role : roles)
        if (const int points = score(role); points > most) {
            most = points;
            best = &role;
        }
    return best;
}

RoleProposal* colourAmong(std::vector<RoleProposal>& roles)
{
    RoleProposal* colour = bestOf(roles, [&](const RoleProposal& c) {
        if (!holds(c, Role::colour)) return 0;
        int best = 0;
        for (const RoleProposal& d : roles)
            if (holds(d, Role::depth)) best = std::max(best, likeness(c, d));
        if (isMovie(c.file)) best -= 6; // likelier a review of the picture than the picture
        return 1 + std::max(best, 0) + (c.role == Role::colour ? 1 : 0) + (c.isChosen ? 100 : 0);
    });
    if (!colour && roles.size() > 1)
        colour = bestOf(roles, [](const RoleProposal& p) {
            return p.role == Role::matte && !p.isChosen && !hasWord(p.file, kMatteWords) ? 1 : 0;
        });
    // A lone picture is taken for the colour pass, however grey: what it lacks is then said by its name.
    if (!colour && roles.size() == 1 && roles.front().role != Role::sceneFile) colour = &roles.front();
    if (colour && !holds(*colour, Role::colour)) colour->role = Role::colour;
    return colour;
}

RoleProposal* depthAmong(std::vector<RoleProposal>& roles, const RoleProposal& colour)
{
    RoleProposal* depth = bestOf(roles, [&](const RoleProposal& d) {
        if (!holds(d, Role::depth)) return 0;
        return (&d == &colour ? 6 : 1 + likeness(colour, d)) + (d.isChosen && &d != &colour ? 100 : 0);
    });
    if (depth) return depth;
    // Of several pictures with colour: the one whose name speaks of depth, or else the next of that size.
    depth = bestOf(roles, [&](const RoleProposal& p) {
        if (&p == &colour || p.role != Role::colour || p.isChosen) return 0;
        if (hasWord(p.file, kDepthWords)) return 2;
        return isOneSize(p, colour) ? 1 : 0;
    });
    if (depth) {
        depth->role = Role::depth;
        depth->reason = "no depth channel but comes second: its luminance";
    }
    return depth;
}

} // namespace

std::string_view title(Role role) noexcept
{
    static constexpr std::array<std::string_view, kRoleCount> titles{
        "colour pass", "depth pass",     "colour and depth", "matte pass",
        "alpha",       "motion vectors", "scene file",       "not used"};
    return titles[static_cast<std::size_t>(role)];
}

std::vector<fs::path> SortedPasses::leftAside() const
{
    std::vector<fs::path> aside;
    for (const RoleProposal& proposal : roles)
        if (proposal.role != Role::matte && proposal.role != Role::sceneFile && proposal.role != Role::none &&
            proposal.file != motion && proposal.file != colour.file && proposal.file != depth.file &&
            proposal.file != alpha.file)
            aside.push_back(proposal.file);
    return aside;
}

std::vector<RoleProposal> proposeRoles(const std::vector<fs::path>& files)
{
    std::map<fs::path, std::size_t> place; // in `found`, of each file that a sequence has
    std::vector<Sequence> found;
    std::vector<RoleProposal> proposals; // of the first file of each
    std::vector<std::pair<fs::path, std::size_t>> given;
    bool hasStill = false;
    bool hasSequence = false;
    for (const fs::path& file : files) {
        if (const auto at = place.find(file); at != place.end()) {
            given.emplace_back(file, at->second);
            continue;
        }
        const Sequence sequence = Sequence::find(file);
        given.emplace_back(file, found.size());
        for (const int frame : sequence.frames())
            place.emplace(sequence.file(frame), found.size());
        proposals.push_back(propose(sequence.isStill() ? file : sequence.file(sequence.frames().front())));
        if (holds(proposals.back(), Role::colour)) (sequence.isStill() ? hasStill : hasSequence) = true;
        found.push_back(sequence);
    }
    // With a still, numbered files are different files.
    const bool apart = hasStill && !hasSequence;
    std::vector<RoleProposal> roles;
    for (const auto& [file, at] : given) {
        const bool alone = found[at].isStill() || (apart && !isPattern(file));
        const fs::path name = alone ? file : found[at].pattern();
        if (std::ranges::any_of(roles, [&](const RoleProposal& p) { return p.file == name; })) continue;
        roles.push_back(alone && !found[at].isStill() ? propose(file) : proposals[at]);
        roles.back().file = name;
    }
    return roles;
}

SortedPasses sortIntoRoles(const std::vector<fs::path>& files)
{
    return sortIntoRoles(proposeRoles(files));
}

SortedPasses sortIntoRoles(std::vector<RoleProposal> given)
{
    SortedPasses sorted;
    sorted.roles = std::move(given);
    auto& roles = sorted.roles;
    RoleProposal* const colour = colourAmong(roles);
    if (!colour)
        throw Error(say("{}: there is no colour pass among these files. Give one with it.",
                        roles.front().file.string()));
    RoleProposal* const depth = depthAmong(roles, *colour);
    sorted.colour.file = colour->file;
    if (depth && depth != colour) sorted.depth.file = depth->file;
    if (const auto* motion =
            bestOf(roles, [](const RoleProposal& p) { return p.role == Role::motionVectors ? 1 : 0; }))
        sorted.motion = motion->file;
    const auto layers = colourLayers(inspectFile(anyFrame(colour->file)));
    const bool ownAlpha = !layers.empty() && layers.front().alpha.has_value();
    for (RoleProposal& proposal : roles) {
        if (proposal.role != Role::alpha) continue;
        if (sorted.alpha.file.empty() && (!ownAlpha || proposal.isChosen)) {
            sorted.alpha.file = proposal.file;
        } else if (!proposal.isChosen) { // there is one: coverage of something
            proposal.role = Role::matte;
            proposal.reason = "a name that speaks of alpha, and the colour pass has its own";
        }
    }
    const std::vector<fs::path> aside = sorted.leftAside();
    for (const RoleProposal& proposal : roles) {
        if (std::find(aside.begin(), aside.end(), proposal.file) != aside.end()) continue;
        if (proposal.role == Role::sceneFile) sorted.sceneFile = proposal.file;
        if (proposal.role == Role::matte || holds(proposal, Role::colour))
            std::ranges::move(proposal.role == Role::matte ? requireMattes(proposal.file)
                                                           : mattesIn(proposal.file),
                              std::back_inserter(sorted.mattes));
    }
    return sorted;
}

} // namespace retinex::passes
