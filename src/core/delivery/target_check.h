#pragma once

#include "core/delivery/deliver.h"

/// What may be written: never an input, nothing that is not a regular file, and nothing unasked that is
/// there.
namespace retinex::delivery {

struct MayWrite
{
    Existing existing = Existing::refuse;
    bool isResumable = false; ///< it is worth saying that there is --resume
    /// What is read besides the project's inputs, such as its own file; not written over either.
    std::vector<std::filesystem::path> alsoRead{};
};

/// Looks at files that would be written, one for each of `frames`. Throws Error naming the first matter: one
/// name for several frames; a name that no file can have; an input of any kind that the project names, by
/// link or otherwise, or a name that would join an input's sequence; something that is not a regular file;
/// frames that are there already, where they are not to be written over; a folder that cannot be written to.
void checkTargets(const passes::PassSource& source, const project::Project& project,
                  const std::vector<std::filesystem::path>& files, const std::vector<int>& frames,
                  const MayWrite& may);

/// The same, and makes their folder where it is not there yet.
void checkFiles(const passes::PassSource& source, const project::Project& project,
                const std::vector<std::filesystem::path>& files, const std::vector<int>& frames,
                const MayWrite& may);

/// Throws Error when a file cannot be made in the folder, or in the nearest one above it that there is.
void requireWritableFolder(const std::filesystem::path& folder);

} // namespace retinex::delivery
