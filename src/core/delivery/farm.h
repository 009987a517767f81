#pragma once

#include "core/delivery/deliver.h"

#include <functional>
#include <stop_token>

/// A delivery on a farm of machines that share their files, by Slurm: an array of chunks, each of which goes
/// on where an earlier run of it ended, and a job after them that makes what is missing, and movies.
namespace retinex::delivery {

struct FarmJob
{
    DeliveryJob delivery;          ///< its project has a file, which the machines see under the same name
    int chunk = 10;                ///< frames of each
    std::string partition;         ///< "": the farm's usual one
    std::filesystem::path program; ///< retinex-cli, as the machines see it
    int mostChunks = 1000;         ///< of an array (MaxArraySize is 1001 as usual): chunks grow beyond that
};

/// What is written for it: scripts, and each chunk's frames, in ".retinex/farm" of the delivery's folder.
struct FarmScripts
{
    std::filesystem::path folder;
    std::filesystem::path array;
    std::filesystem::path finishing;
    std::vector<std::string> chunks; ///< as lists of frames; empty for a movie, which the finishing job makes
};
/// Throws Error where the delivery cannot be right (see deliveryProblems), or nothing can be written.
[[nodiscard]] FarmScripts writeFarmScripts(const passes::PassSource& source, const FarmJob& job);

/// The commands that submit it; "$ARRAY" stands for the array's number in the second one.
[[nodiscard]] std::vector<std::vector<std::string>> farmCommands(const FarmScripts& scripts,
                                                                 const FarmJob& job);

struct Submitted
{
    std::string array; ///< the jobs' numbers; "" without an array
    std::string finishing;
};
/// Throws Error with the farm's words where it refuses; what was accepted already is taken back.
[[nodiscard]] Submitted submitToFarm(const FarmScripts& scripts, const FarmJob& job);

/// Waits until both have ended; `tell` hears of changes ("3 of 8 chunks done"). False when stopped.
bool waitForFarm(const Submitted& submitted, const std::function<void(const std::string& words)>& tell,
                 const std::stop_token& stop);

/// Frames whose files are not there, or not made from what the project says now.
[[nodiscard]] std::vector<int> missingFrames(const passes::PassSource& source, const DeliveryJob& job);

} // namespace retinex::delivery
