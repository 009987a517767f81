#pragma once

#include "core/base/run.h"
#include "core/passes/pass_check.h"
#include "core/project/project.h"

namespace retinex::delivery {

struct ProjectCheck
{
    std::vector<std::string> stops;        ///< each a sentence: what would stop a render
    std::vector<passes::Finding> findings; ///< of the first frame
};

/// Looks at everything a render of all frames would read and write, without rendering: files, their headers
/// and sizes, missing frames, mattes, the scene file, and that the folder `out` can be written to (it is not
/// made). Throws Cancelled.
[[nodiscard]] ProjectCheck checkProject(const project::Project& project, const std::filesystem::path& out,
                                        const Run& run = {});

} // namespace retinex::delivery
