#pragma once

#include "core/passes/pass_check.h"
#include "core/project/project.h"
#include "core/system/run.h"

namespace retinex::delivery {

struct ProjectCheck
{
    std::vector<std::string> stops;        ///< each a sentence: what would stop a render
    std::vector<passes::Finding> findings; ///< of the first frame
};

/// What a project says that cannot be done, whatever its files hold: marks that are bound to a subject that
/// is gone, an iris picture that cannot be read. Each a sentence.
[[nodiscard]] std::vector<std::string> contradictions(const project::Project& project);

/// Looks at everything a render of all frames would read and write, without rendering: files, their headers
/// and sizes, missing frames, mattes, the scene file, and that the folder `out` can be written to (it is not
/// made). Throws Cancelled.
[[nodiscard]] ProjectCheck checkProject(const project::Project& project, const std::filesystem::path& out,
                                        const Run& run = {});

} // namespace retinex::delivery
