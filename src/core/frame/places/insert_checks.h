#pragma once

#include "core/frame/purpose.h"
#include "core/passes/pass_source.h"

/// What hinders backdrop and inserts.
namespace retinex::frame {

struct InsertProblem
{
    std::string id;
    std::string name;
    std::string what; ///< the end of a sentence that begins with its name
};
/// What hinders those of a frame: files, subjects, mattes, corners. Reads no more than headers.
[[nodiscard]] std::vector<InsertProblem> insertProblems(const passes::PassSource& source,
                                                        const Project& project, int frame);

/// "" or why the backdrop of a frame is seen nowhere, and where that is put right.
[[nodiscard]] std::string backdropNotice(const passes::PassSource& source, const Project& project, int frame);

/// Throws Error naming the first of those.
void checkInserts(const passes::PassSource& source, const Project& project, int frame);

} // namespace retinex::frame
