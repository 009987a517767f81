// Any bytes as a project file; what loads is saved and must load again as the same.
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "fuzz/input_file.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    using namespace retinex;
    const fuzz::InputFile input(data, size, ".retinex");
    try {
        const auto loaded = project::loadProject(input.path());
        project::saveProject(input.path(), loaded);
        if (!(project::loadProject(input.path()) == loaded)) std::abort();
    } catch (const Error&) {
    }
    return 0;
}
