#pragma once

#include "core/project/project.h"

#include <CLI/CLI.hpp>
#include <string>
#include <vector>

/// Backdrop and inserts from the command line.
namespace retinex::cli {

struct InsertOptions
{
    std::string backdrop;             ///< FILE|COLOUR[@DISTANCE]
    std::string fit = "fill";         ///< of the backdrop
    std::vector<std::string> inserts; ///< FILE@X,Y,WIDTH@DISTANCE
    std::vector<std::string> corners; ///< FILE@X1,Y1,X2,Y2,X3,Y3,X4,Y4@DISTANCE
};

void addInsertOptions(CLI::App& command, InsertOptions& options);
/// Adds them to the project, the first on top. Throws Error naming the option.
void addInserts(const InsertOptions& options, project::Project& project);

} // namespace retinex::cli
