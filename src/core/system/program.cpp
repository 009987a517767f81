#include "core/system/program.h"

#include <algorithm>
#include <cerrno>
#include <csignal>
#include <fcntl.h>
#include <filesystem>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

extern char** environ;

namespace retinex {

pid_t startProgram(const std::vector<std::string>& words, int input, int output, int errors)
{
    std::vector<char*> arguments;
    for (const std::string& word : words)
        arguments.push_back(const_cast<char*>(word.c_str()));
    arguments.push_back(nullptr);
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_adddup2(&actions, input, 0);
    posix_spawn_file_actions_adddup2(&actions, output, 1);
    posix_spawn_file_actions_adddup2(&actions, errors, 2);
    pid_t process = -1;
    const int failed =
        ::posix_spawnp(&process, arguments.front(), &actions, nullptr, arguments.data(), environ);
    posix_spawn_file_actions_destroy(&actions);
    errno = failed;
    return failed == 0 ? process : -1;
}

int endOfProgram(pid_t process)
{
    int status = 0;
    while (::waitpid(process, &status, 0) < 0 && errno == EINTR) {
    }
    return WIFEXITED(status) ? WEXITSTATUS(status) : 128 + (WIFSIGNALED(status) ? WTERMSIG(status) : 0);
}

std::string lastWords(int descriptor)
{
    constexpr off_t kMost = 1500;
    const off_t size = ::lseek(descriptor, 0, SEEK_END);
    std::string text(static_cast<std::size_t>(std::min(std::max<off_t>(size, 0), kMost)), ' ');
    const ssize_t count = ::pread(descriptor, text.data(), text.size(), std::max<off_t>(0, size - kMost));
    text.resize(static_cast<std::size_t>(std::max<ssize_t>(count, 0)));
    while (!text.empty() && (text.back() == '\n' || text.back() == ' '))
        text.pop_back();
    return text;
}

int hiddenFile()
{
    std::string name = (std::filesystem::temp_directory_path() / "retinex-XXXXXX").string();
    const int descriptor = ::mkostemp(name.data(), O_CLOEXEC);
    if (descriptor >= 0) ::unlink(name.c_str());
    return descriptor;
}

ProgramEnd runProgram(const std::vector<std::string>& words)
{
    const int out = hiddenFile();
    const int err = hiddenFile();
    const int nothing = ::open("/dev/null", O_RDONLY | O_CLOEXEC);
    ProgramEnd end;
    const pid_t process = startProgram(words, nothing, out, err);
    if (process > 0) {
        end.code = endOfProgram(process);
        end.out = lastWords(out);
        end.err = lastWords(err);
    }
    for (const int descriptor : {out, err, nothing})
        if (descriptor >= 0) ::close(descriptor);
    return end;
}

} // namespace retinex
