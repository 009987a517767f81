#include "core/delivery/farm.h"

#include "core/delivery/file_name.h"
#include "core/delivery/frame_list.h"
#include "core/delivery/frame_record.h"
#include "core/system/atomic_file.h"
#include "core/system/program.h"
#include "core/system/say.h"

#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <sstream>
#include <thread>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;

/// As one word for a shell.
std::string asWord(const std::string& text)
{
    std::string safe = "'";
    for (const char c : text)
        safe += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return safe + "'";
}

std::string renderCommand(const FarmJob& job)
{
    std::string command = fmt::format("exec {} render {} --delivery {} --resume --progress plain",
                                      asWord(fs::absolute(job.program).string()),
                                      asWord(fs::absolute(job.delivery.projectFile).string()),
                                      asWord(job.delivery.delivery.name));
    if (!job.delivery.folder.empty())
        command += " --out " + asWord(fs::absolute(job.delivery.folder).string());
    return command;
}

std::vector<std::string> chunksOf(const std::vector<int>& frames, const FarmJob& job)
{
    const std::size_t least = (frames.size() + static_cast<std::size_t>(job.mostChunks) - 1) /
                              static_cast<std::size_t>(job.mostChunks);
    const std::size_t size = std::max<std::size_t>(static_cast<std::size_t>(std::max(1, job.chunk)), least);
    std::vector<std::string> chunks;
    for (std::size_t i = 0; i < frames.size(); i += size) {
        const std::vector<int> part(frames.begin() + static_cast<std::ptrdiff_t>(i),
                                    frames.begin() +
                                        static_cast<std::ptrdiff_t>(std::min(i + size, frames.size())));
        const bool isEven = part.back() - part.front() + 1 == static_cast<int>(part.size());
        chunks.push_back(isEven ? fmt::format("{}-{}", part.front(), part.back())
                                : fmt::format("{}", fmt::join(part, ",")));
    }
    return chunks;
}

std::string submitted(std::vector<std::string> words, const std::string& array)
{
    for (std::string& word : words)
        if (const auto at = word.find("$ARRAY"); at != std::string::npos) word.replace(at, 6, array);
    const ProgramEnd end = runProgram(words);
    if (end.code < 0)
        throw Error(say(
            "The farm's program sbatch is not there. Install slurm-client on this machine, or render here."));
    if (end.code != 0)
        throw Error(say("The farm refuses: {}",
                        end.err.empty() ? fmt::format("sbatch ended with {}", end.code) : end.err));
    return end.out.substr(0, end.out.find(';')); // "NUMBER;CLUSTER"
}

/// Of a job and all of its tasks: how many there are, have ended, and have failed.
struct FarmState
{
    int tasks = 0;
    int ended = 0;
    int failed = 0;
};

FarmState stateOf(const std::string& number)
{
    FarmState state;
    const ProgramEnd end = runProgram({"squeue", "-h", "-r", "-t", "all", "-j", number, "-o", "%T"});
    std::istringstream lines(end.out);
    for (std::string word; lines >> word;) {
        ++state.tasks;
        const bool isUnderWay = word == "PENDING" || word == "RUNNING" || word == "CONFIGURING" ||
                                word == "COMPLETING" || word == "REQUEUED" || word == "SUSPENDED" ||
                                word == "REQUEUE_HOLD" || word == "REQUEUE_FED" || word == "SIGNALING" ||
                                word == "STAGE_OUT" || word == "RESIZING" || word == "STOPPED";
        if (isUnderWay) continue;
        ++state.ended;
        if (word != "COMPLETED") ++state.failed;
    }
    return state; // one that is forgotten has ended
}

} // namespace

FarmScripts writeFarmScripts(const passes::PassSource& source, const FarmJob& job)
{
    if (job.delivery.projectFile.empty())
        throw Error(say("The project has no file yet, and the farm reads it from one. Save it first."));
    if (const auto problems = deliveryProblems(source, job.delivery); !problems.empty())
        throw Error(problems.front());
    const FileNames names(*job.delivery.project, job.delivery.projectFile, job.delivery.delivery,
                          job.delivery.folder);
    FarmScripts scripts;
    scripts.folder = noteFolder(fs::absolute(names.folder())) / "farm";
    std::error_code code;
    fs::create_directories(scripts.folder, code); // Slurm fails a job whose output has no folder
    if (code)
        throw Error(say("{}: this folder cannot be made ({}). Choose another folder.",
                        scripts.folder.string(), code.message()));
    if (!job.delivery.delivery.isMovie()) scripts.chunks = chunksOf(framesOf(job.delivery), job);
    std::string text =
        "#!/bin/bash\n# Renders the chunk of this task; what is there already is left.\nset -eu\n"
        "case $SLURM_ARRAY_TASK_ID in\n";
    for (std::size_t i = 0; i < scripts.chunks.size(); ++i)
        text += fmt::format("{}) frames={} ;;\n", i, asWord(scripts.chunks[i]));
    text += "esac\n" + renderCommand(job) + " --frames \"$frames\"\n";
    scripts.array = scripts.folder / "chunks.sh";
    if (!scripts.chunks.empty()) writeFileAtomically(scripts.array, text);
    scripts.finishing = scripts.folder / "finish.sh";
    std::string frames;
    if (job.delivery.frames) frames = fmt::format(" --frames {}", fmt::join(*job.delivery.frames, ","));
    writeFileAtomically(
        scripts.finishing,
        "#!/bin/bash\n# Once the chunks have ended: makes what they left, and movies; fails where "
        "something is missing.\nset -eu\n" +
            renderCommand(job) + frames + '\n');
    return scripts;
}

std::vector<std::vector<std::string>> farmCommands(const FarmScripts& scripts, const FarmJob& job)
{
    std::vector<std::vector<std::string>> commands;
    const auto base = [&](const std::string& name) {
        std::vector<std::string> words{"sbatch", "--parsable", "--requeue", "--job-name", name};
        if (!job.partition.empty()) words.insert(words.end(), {"--partition", job.partition});
        return words;
    };
    std::string name = "retinex";
    for (const char c : job.delivery.delivery.name)
        name += name == "retinex" ? std::string("-") + c : std::string(1, c);
    if (!scripts.chunks.empty()) {
        auto words = base(name);
        words.insert(words.end(), {fmt::format("--array=0-{}", scripts.chunks.size() - 1), "-o",
                                   (scripts.folder / "%A_%a.log").string(), scripts.array.string()});
        commands.push_back(std::move(words));
    }
    auto words = base(name + "-end");
    if (!scripts.chunks.empty())
        words.insert(words.end(), {"--dependency=afterany:$ARRAY", "--kill-on-invalid-dep=yes"});
    words.insert(words.end(), {"-o", (scripts.folder / "%j_end.log").string(), scripts.finishing.string()});
    commands.push_back(std::move(words));
    return commands;
}

Submitted submitToFarm(const FarmScripts& scripts, const FarmJob& job)
{
    const auto commands = farmCommands(scripts, job);
    Submitted result;
    if (commands.size() > 1) result.array = submitted(commands.front(), {});
    try {
        result.finishing = submitted(commands.back(), result.array);
    } catch (const Error&) {
        if (!result.array.empty()) (void)runProgram({"scancel", result.array});
        throw;
    }
    return result;
}

bool waitForFarm(const Submitted& submitted, const std::function<void(const std::string& words)>& tell,
                 const std::stop_token& stop)
{
    std::string last;
    while (!stop.stop_requested()) {
        const FarmState chunks = submitted.array.empty() ? FarmState{} : stateOf(submitted.array);
        const FarmState end = stateOf(submitted.finishing);
        std::string words =
            chunks.tasks > 0 ? say("{} of {} chunks ended", chunks.ended, chunks.tasks) : std::string();
        if (chunks.failed > 0) words += say(", {} failed", chunks.failed);
        if (chunks.tasks == chunks.ended)
            words = end.tasks == end.ended ? say("ended") : say("the finishing job");
        if (words != last && tell) tell(words);
        last = words;
        if (chunks.tasks == chunks.ended && end.tasks == end.ended) return true;
        std::this_thread::sleep_for(std::chrono::milliseconds(500));
    }
    return false;
}

std::vector<int> missingFrames(const passes::PassSource& source, const DeliveryJob& job)
{
    const FileNames names(*job.project, job.projectFile, job.delivery, job.folder);
    std::vector<int> missing;
    for (const int frame : framesOf(job)) {
        std::error_code code;
        const bool isThere =
            job.delivery.isMovie()
                ? fs::is_regular_file(names.movie(), code)
                : isMadeFrom(names.of(frame), deliveryFingerprint(source, *job.project, job.delivery, frame));
        if (!isThere) missing.push_back(frame);
    }
    return missing;
}

} // namespace retinex::delivery
