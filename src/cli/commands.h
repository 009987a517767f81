#pragma once

#include <CLI/CLI.hpp>
#include <functional>

/// The commands of retinex-cli. Each adds its options to the application and, when chosen, sets `action` to
/// the work to do; the work returns the exit code (0 done, 1 something failed) and may throw Error.
namespace retinex::cli {

using Action = std::function<int()>;

void addCheck(CLI::App& app, Action& action);
void addInspect(CLI::App& app, Action& action);
void addProbe(CLI::App& app, Action& action);
void addOptics(CLI::App& app, Action& action);
void addDefocus(CLI::App& app, Action& action);
void addRender(CLI::App& app, Action& action);
void addDepthmap(CLI::App& app, Action& action);
void addThumbnail(CLI::App& app, Action& action);
void addSubmit(CLI::App& app, Action& action);

} // namespace retinex::cli
