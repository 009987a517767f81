#pragma once

#include "cli/given_settings.h"
#include "core/project/project.h"

#include <CLI/CLI.hpp>
#include <string>

/// Options that say what passes are read and how, shared by the commands that read frames.
namespace retinex::cli {

struct ReadingOptions
{
    std::string reading = "distance"; ///< a reading's name, or "auto": as proposed
    std::string gaps = "far";
    std::string remap;
    std::string alpha;
    std::string motion;
    GivenSettings<project::Settings> given;      ///< how depth is read
    GivenSettings<project::Project> givenPasses; ///< and what passes are
};

/// `without`: options that mean something else to the command.
void addReadingOptions(CLI::App& command, ReadingOptions& options, const std::set<std::string>& without = {});
/// The parts that need no file. Throws Error.
[[nodiscard]] passes::PassOptions passOptions(const ReadingOptions& options);
/// The reading; for "auto" the one proposed for `frame`, on which options given besides are laid. Throws
/// Error.
[[nodiscard]] depth::ReadingSettings readingSettings(const ReadingOptions& options,
                                                     const passes::PassSource& source, int frame);

} // namespace retinex::cli
