#pragma once

#include "core/delivery/sequence_export.h"

/// What may be written: never an input, nothing that is no plain file, and nothing unasked that is there.
namespace retinex::delivery {

/// Looks at every file that `job` would write, and makes their folder. Throws Error naming the first matter:
/// one name for several frames; an input of any kind (pass, alpha, matte, iris picture, scene, by link or
/// otherwise, or a name that would join an input's sequence); something that is no plain file; frames that
/// are there already, where they are not to be written over; a folder that cannot be written to.
void checkTarget(const passes::PassSource& source, const ExportJob& job);

/// The same for files that are named one by one; `frames` are those that they are of.
void checkFiles(const passes::PassSource& source, const project::Project& project,
                const std::vector<std::filesystem::path>& files, const std::vector<int>& frames,
                Existing existing);

/// The frames of a job whose files are there already.
[[nodiscard]] std::vector<int> existingFrames(const ExportJob& job);

/// Throws Error when a file cannot be made in the folder, or in the nearest one above it that there is.
void requireWritableFolder(const std::filesystem::path& folder);

} // namespace retinex::delivery
