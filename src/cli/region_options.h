#pragma once

#include "core/project/project.h"

#include <CLI/CLI.hpp>
#include <optional>
#include <string>
#include <vector>

/// Regions from the command line: guards and patches by mattes, a ramp over the whole picture.
namespace retinex::cli {

struct RegionOptions
{
    std::vector<std::string> guards;  ///< FILE[:CHANNEL]
    std::optional<double> guardShare; ///< share of blur inside; 0 otherwise
    std::vector<std::string> patches; ///< FILE[:CHANNEL]=DISTANCE
    std::string ramp;                 ///< X1,Y1=D1,X2,Y2=D2
};

/// The mattes of FILE[:CHANNEL]. Throws Error naming a file that holds none.
[[nodiscard]] std::vector<passes::MatteChoice> mattesGiven(const std::string& text);

void addRegionOptions(CLI::App& command, RegionOptions& options);
/// Adds their regions and mattes to the project, the ramp first. Throws Error naming the option or the file.
void addRegions(const RegionOptions& options, project::Project& project);

} // namespace retinex::cli
