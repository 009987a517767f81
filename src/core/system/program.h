#pragma once

#include <string>
#include <sys/types.h>
#include <vector>

/// Other programs, as processes.
namespace retinex {

/// How one ended.
struct ProgramEnd
{
    int code = -1;   ///< its exit code, 128 and the signal that ended it, or -1: it could not be started
    std::string out; ///< the end of what it said on its output
    std::string err; ///< and on its errors
};

/// Runs a program (looked for in PATH) to its end. Its input is empty.
[[nodiscard]] ProgramEnd runProgram(const std::vector<std::string>& words);

/// For those that talk to one while it runs: begins it with these as its input, output and errors; -1 and
/// errno where it cannot be started.
[[nodiscard]] pid_t startProgram(const std::vector<std::string>& words, int input, int output, int errors);
/// Waits for its end; as ProgramEnd::code.
[[nodiscard]] int endOfProgram(pid_t process);

/// A file that nobody sees and that goes when it is closed; -1 where none can be made.
[[nodiscard]] int hiddenFile();
/// The end of what it holds, without empty lines.
[[nodiscard]] std::string lastWords(int descriptor);

} // namespace retinex
