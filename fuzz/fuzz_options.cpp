// Any words as the options of retinex-cli, a line each, in a folder with a small frame. No word leads out of
// it.
#include "cli/run.h"
#include "core/passes/exr/exr_write.h"

#include <cstdlib>
#include <filesystem>
#include <string>
#include <unistd.h>
#include <vector>

namespace {

void enterFolder()
{
    static const bool entered = [] {
        const auto path =
            std::filesystem::temp_directory_path() / ("retinex-options-" + std::to_string(::getpid()));
        std::filesystem::create_directories(path);
        std::filesystem::current_path(path);
        retinex::RgbaImage image(12, 9);
        retinex::passes::ExrOutput output;
        output.image = &image;
        retinex::passes::writeExr("in.exr", output);
        std::freopen("/dev/null", "w", stdout);
        std::freopen("/dev/null", "w", stderr);
        return true;
    }();
    (void)entered;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    enterFolder();
    std::vector<std::string> words{"retinex-cli", ""};
    for (std::size_t i = 0; i < size && words.size() < 40; ++i) {
        const char c = static_cast<char>(data[i]);
        if (c == '\n')
            words.emplace_back();
        else if (c != '/' && c != '\0')
            words.back() += c;
    }
    std::vector<const char*> arguments;
    for (const std::string& word : words)
        arguments.push_back(word.c_str());
    const int code = retinex::cli::run(static_cast<int>(arguments.size()), arguments.data());
    if (code < 0 || code > 2) std::abort();
    return 0;
}
