#pragma once

#include "core/project/project.h"

#include <CLI/CLI.hpp>
#include <optional>
#include <string>
#include <vector>

namespace retinex::cli {

/// A glow and looks on the command line; all else of finish follows from its descriptions.
struct FinishOptions
{
    std::optional<double> glow;
    std::optional<double> glowLevel;
    std::optional<double> glowRadius;
    std::optional<double> glowTail;
    std::vector<std::string> looks; ///< FILE[=STRENGTH]
    std::string lookSpace;
};

void addFinishOptions(CLI::App& command, FinishOptions& options);

/// Adds them to the first shot. Throws Error where something does not fit.
void addFinish(const FinishOptions& options, project::Project& project);

} // namespace retinex::cli
