#include "cli/region_options.h"

#include "cli/console.h"
#include "core/system/error.h"

#include <cmath>
#include <cstdlib>

namespace retinex::cli {

namespace {

using regions::Area;
using regions::PatchKind;
using regions::Piece;
using regions::PieceKind;
using regions::Region;

/// The whole of a text as a number.
std::optional<double> numberIn(const std::string& text)
{
    char* end = nullptr;
    const double value = std::strtod(text.c_str(), &end);
    if (text.empty() || *end != '\0' || !std::isfinite(value)) return std::nullopt;
    return value;
}

/// A region over mattes of a file, which are for it alone.
Region overMattes(const std::string& text, project::Project& project)
{
    std::vector<passes::MatteChoice> mattes = mattesGiven(text);
    Piece piece;
    piece.kind = PieceKind::mattes;
    for (passes::MatteChoice& matte : mattes) {
        matte.atEdges = false;
        piece.mattes.push_back(matte.title());
        project.mattes.insert(project.mattes.begin(), matte); // the first of a name is the one that counts
    }
    Region region;
    region.id = std::to_string(project.base().regions.size() + 1);
    region.name = piece.mattes.front();
    region.area = Area({std::move(piece)});
    return region;
}

Region rampOf(const std::string& text)
{
    std::vector<std::string> words{""};
    for (const char c : text)
        if (c == ',' || c == '=')
            words.emplace_back();
        else
            words.back() += c;
    std::vector<double> numbers;
    for (const std::string& word : words)
        if (const auto number = numberIn(word)) numbers.push_back(*number);
    if (numbers.size() != 6 || words.size() != 6 || !(numbers[2] > 0.0) || !(numbers[5] > 0.0))
        throw Error(fmt::format("--ramp {}: write two places in px with a distance above 0 each: "
                                "X1,Y1=D1,X2,Y2=D2.",
                                text));
    if (numbers[0] == numbers[3] && numbers[1] == numbers[4])
        throw Error(fmt::format(
            "--ramp {}: its two places are one. Write two that differ: X1,Y1=D1,X2,Y2=D2.", text));
    Region region;
    region.id = "ramp";
    region.name = "ramp";
    Piece whole;
    whole.kind = PieceKind::whole;
    region.area = Area({std::move(whole)});
    region.patch = PatchKind::ramp;
    region.rampX1 = numbers[0];
    region.rampY1 = numbers[1];
    region.rampDistance1 = numbers[2];
    region.rampX2 = numbers[3];
    region.rampY2 = numbers[4];
    region.rampDistance2 = numbers[5];
    return region;
}

} // namespace

std::vector<passes::MatteChoice> mattesGiven(const std::string& text)
{
    const passes::PassChoice choice = parsePassChoice(text);
    if (!choice.name.empty()) return {{choice.file, choice.name}};
    return passes::requireMattes(choice.file);
}

void addRegionOptions(CLI::App& command, RegionOptions& options)
{
    command.add_option("--guard", options.guards, "FILE[:CHANNEL]: blur is held back where this matte is")
        ->allow_extra_args(false);
    command
        .add_option("--guard-share", options.guardShare,
                    "Share of blur that guards leave: 0 is kept sharp, 1 unchanged, 3 at most")
        ->check(CLI::Range(0.0, 3.0));
    command
        .add_option(
            "--patch", options.patches,
            "FILE[:CHANNEL]=DISTANCE: where this matte is, everything lies at that distance, in --unit")
        ->allow_extra_args(false);
    command.add_option(
        "--ramp", options.ramp,
        "X1,Y1=D1,X2,Y2=D2: distances by a plane through two places, px; without --depth it is "
        "all the depth there is");
}

void addRegions(const RegionOptions& options, project::Project& project)
{
    auto& regions = project.base().regions;
    if (!options.ramp.empty()) regions.push_back(rampOf(options.ramp));
    for (const std::string& text : options.patches) {
        const std::size_t at = text.rfind('=');
        const auto distance = at == std::string::npos ? std::nullopt : numberIn(text.substr(at + 1));
        if (!distance || !(*distance > 0.0))
            throw Error(
                fmt::format("--patch {}: write FILE=DISTANCE or FILE:CHANNEL=DISTANCE, with a distance "
                            "above 0.",
                            text));
        Region region = overMattes(text.substr(0, at), project);
        region.patch = PatchKind::number;
        region.distance = *distance;
        regions.push_back(std::move(region));
    }
    for (const std::string& text : options.guards) {
        Region region = overMattes(text, project);
        region.share = options.guardShare.value_or(0.0);
        regions.push_back(std::move(region));
    }
    if (options.guardShare && options.guards.empty())
        throw Error(
            "--guard-share says how much blur a guard leaves, and there is none. Give one: --guard FILE.");
}

} // namespace retinex::cli
