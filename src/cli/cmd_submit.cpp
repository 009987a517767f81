#include "cli/commands.h"
#include "cli/console.h"
#include "core/delivery/farm.h"
#include "core/frame/places/subject_measure.h"
#include "core/passes/sequence.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

/// A delivery for the farm.
namespace retinex::cli {

namespace {

namespace fs = std::filesystem;

struct SubmitOptions
{
    std::string project;
    std::string delivery;
    std::string out;
    std::string frames;
    std::string partition;
    int chunk = 10;
    bool isDry = false;
    bool waits = false;
};

/// The command that makes what is missing.
std::string retryCommand(const SubmitOptions& options, const std::vector<int>& missing)
{
    std::string command =
        fmt::format("retinex-cli submit '{}' --delivery '{}' --frames {} --chunk {}", options.project,
                    options.delivery, fmt::join(missing, ","), options.chunk);
    if (!options.out.empty()) command += fmt::format(" --out '{}'", options.out);
    if (!options.partition.empty()) command += " --partition " + options.partition;
    return command;
}

int submit(const SubmitOptions& options)
{
    auto project = std::make_shared<project::Project>(loadTelling(options.project));
    const auto found = std::ranges::find(project->deliveries, options.delivery, &project::Delivery::name);
    if (found == project->deliveries.end())
        throw Error(say("{}: has no delivery \"{}\". Add it in the Delivery section.", options.project,
                        options.delivery));
    const passes::PassSource source(project->colour, project->depth, project->passOptions);
    frame::measureSubjects(*project, source, true, {0, {}, interruptToken()});
    delivery::FarmJob job;
    job.delivery = {project, fs::absolute(options.project), *found, options.out};
    if (!options.frames.empty()) job.delivery.frames = framesGiven(options.frames, *project);
    job.chunk = options.chunk;
    job.partition = options.partition;
    std::error_code code;
    job.program = fs::read_symlink("/proc/self/exe", code);
    const delivery::FarmScripts scripts = delivery::writeFarmScripts(source, job);
    if (options.isDry) {
        for (const auto& words : delivery::farmCommands(scripts, job))
            fmt::print("{}\n", fmt::join(words, " "));
        fmt::print("{} chunks; scripts in {}\n", scripts.chunks.size(), scripts.folder.string());
        return 0;
    }
    const delivery::Submitted submitted = delivery::submitToFarm(scripts, job);
    fmt::print("submitted: {} chunks as {}, then {}; logs in {}\n", scripts.chunks.size(),
               submitted.array.empty() ? "none" : submitted.array, submitted.finishing,
               scripts.folder.string());
    std::fflush(stdout);
    if (!options.waits) return 0;
    if (!delivery::waitForFarm(
            submitted, [](const std::string& words) { tell("{}\n", words); }, interruptToken())) {
        tell("No longer waiting; the farm goes on. \"scancel {} {}\" stops it.\n", submitted.array,
             submitted.finishing);
        return 1;
    }
    const std::vector<int> missing = delivery::missingFrames(source, job.delivery);
    if (missing.empty()) {
        fmt::print("all frames are there\n");
        return 0;
    }
    tell("Frames {} are missing; the logs in {} say why. Again with:\n{}\n", passes::describeFrames(missing),
         scripts.folder.string(), retryCommand(options, missing));
    return 1;
}

} // namespace

void addSubmit(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("submit", "Render a delivery on a farm (Slurm)");
    auto options = std::make_shared<SubmitOptions>();
    command->add_option("PROJECT", options->project, "A .retinex file that the farm's machines see too")
        ->required();
    command->add_option("--delivery", options->delivery, "Name of a delivery of the project")->required();
    command->add_option("--chunk", options->chunk, "Frames of each job")
        ->check(CLI::Range(1, 1000000))
        ->capture_default_str();
    command->add_option("--frames", options->frames, "In place of the delivery's frames");
    command->add_option("--out", options->out, "Folder in place of the delivery's");
    command->add_option("--partition", options->partition, "Of the farm; its usual one by default");
    command->add_flag("--dry-run", options->isDry, "Write the scripts and tell what would be submitted");
    command->add_flag("--wait", options->waits, "Follow it to its end, and tell what failed");
    command->callback([=, &action] { action = [=] { return submit(*options); }; });
}

} // namespace retinex::cli
