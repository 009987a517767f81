#pragma once

#include "core/optics/units.h"
#include "core/passes/pass_source.h"
#include "core/project/project.h"
#include "core/system/error.h"
#include "core/system/run.h"

#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <optional>
#include <string>
#include <vector>

/// Parsing and printing shared by the commands.
namespace retinex::cli {

/// On stderr. One that cannot be written to is no reason to stop: the exit code still tells.
template <class... Args>
void tell(fmt::format_string<Args...> words, Args&&... args) noexcept
{
    try {
        (void)std::fputs(fmt::format(words, std::forward<Args>(args)...).c_str(), stderr);
    } catch (...) { // no memory for words
    }
}

/// "FILE[:NAME]"; a name never holds a slash, so that "C:/x" or a colon in a folder's name does no harm.
[[nodiscard]] passes::PassChoice parsePassChoice(const std::string& text);

/// The same for a depth pass: of a picture that has no channel of depth the luminance is meant. Throws Error
/// when the file cannot be read.
[[nodiscard]] passes::PassChoice depthChoice(const std::string& text);

/// What stands for the colour pass where a depth pass is looked at alone: its file's own, or else the numbers
/// themselves. Throws Error likewise.
[[nodiscard]] passes::PassChoice colourBeside(const passes::PassChoice& depth);

/// Runs a step; an Error of it names the option: "--remap 1:2,1:3: The remap curve must rise ...".
template <class Step>
auto namingOption(const std::string& option, Step step)
{
    try {
        return step();
    } catch (const Error& error) {
        throw Error(option + ": " + error.what(), error.cause());
    }
}

/// The frames of --frames. Throws Error naming the option.
[[nodiscard]] std::vector<int> framesGiven(const std::string& list, const project::Project& project);

/// Loads a project and tells what of it was put right. Throws Error.
[[nodiscard]] project::Project loadTelling(const std::filesystem::path& file);

/// The frame whose file is exactly `file`; nothing for a still, a pattern, or a file that is not of the
/// sequence.
[[nodiscard]] std::optional<int> namedFrame(const passes::Sequence& files, const std::filesystem::path& file);

enum class ProgressKind { automatic, plain, json, none };

/// Prints progress on stderr: a line that rewrites itself on a terminal, a line per frame, or JSON lines.
class ProgressPrinter
{
public:
    ProgressPrinter(ProgressKind kind, std::size_t frames);
    ~ProgressPrinter();
    ProgressPrinter(const ProgressPrinter&) = delete;
    ProgressPrinter& operator=(const ProgressPrinter&) = delete;

    /// Of work that comes before the frames: "measuring subjects".
    void stage(const std::string& words, double done);
    void share(double done);
    void frame(int frame, const std::string& file, const std::string& failure);

private:
    void clearLine();
    ProgressKind m_kind;
    bool m_terminal = false;
    std::size_t m_frames;
    std::size_t m_done = 0;
    int m_percent = -1;
    std::string m_stage;
};

/// A stop request that Ctrl+C and SIGTERM make.
[[nodiscard]] std::stop_token interruptToken();

} // namespace retinex::cli
