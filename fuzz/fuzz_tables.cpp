// Any bytes as a look-up table or a colour decision: the first says which ending the file has. What is taken
// makes finite numbers of finite ones.
#include "core/finish/colour_steps.h"
#include "core/system/error.h"
#include "fuzz/input_file.h"

#include <array>
#include <cmath>
#include <cstdlib>
#include <string>

namespace {

using namespace retinex;

void applyTable(const std::filesystem::path& path)
{
    finish::Steps steps;
    finish::Look look;
    look.id = "1";
    look.name = "look";
    look.file = path.string();
    steps.looks.push_back(look);
    const auto made = finish::ColourSteps::make(steps, finish::Quality::exact);
    for (const float level : {0.0F, 0.18F, 0.5F, 1.0F})
        for (const float value : made->applied({level, level, level}))
            if (!std::isfinite(value)) std::abort();
    (void)made->applied({-1.0F, 1e4F, 65504.0F});
}

/// What is read is written and read again as the same.
void applyDecision(const std::filesystem::path& path)
{
    const finish::Cdl cdl = finish::readCdl(path);
    const std::filesystem::path copy = path.string() + "-copy.cc";
    finish::writeCdl(copy, cdl, "fuzz");
    const finish::Cdl again = finish::readCdl(copy);
    std::filesystem::remove(copy);
    for (std::size_t i = 0; i < 3; ++i)
        if (!std::isfinite(again.slope[i]) || !std::isfinite(again.offset[i]) ||
            !std::isfinite(again.power[i]))
            std::abort();
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    static constexpr std::array<const char*, 8> kEndings{".cube",  ".3dl", ".csp", ".clf",
                                                         ".spi1d", ".cc",  ".ccc", ".cdl"};
    if (size == 0) return 0;
    const std::size_t ending = data[0] % kEndings.size();
    const fuzz::InputFile input(data + 1, size - 1, kEndings[ending]);
    try {
        if (ending < 5)
            applyTable(input.path());
        else
            applyDecision(input.path());
    } catch (const Error&) {
    }
    return 0;
}
