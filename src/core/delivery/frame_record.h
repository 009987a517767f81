#pragma once

#include "core/passes/pass_source.h"
#include "core/project/delivery.h"
#include "core/project/project.h"

#include <filesystem>

/// What each file of a delivery was made from, beside it: a frame that is there and made from the same is not
/// made again.
namespace retinex::delivery {

/// Of all that a file's content depends on: settings of the frame, what the inputs' files are now, the
/// delivery's form, the engine. 16 hexadecimal digits.
[[nodiscard]] std::string deliveryFingerprint(const passes::PassSource& source,
                                              const project::Project& project,
                                              const project::Delivery& delivery, int frame);

/// Where these notes lie, beside the files of a folder.
[[nodiscard]] std::filesystem::path noteFolder(const std::filesystem::path& folder);
/// Throws Error where no notes can be written beside files of a folder: something else has their name.
void checkNotes(const std::filesystem::path& folder);

/// Notes what a file that has just been written was made from, in a folder ".retinex" beside it. Throws
/// Error.
void noteFile(const std::filesystem::path& file, const std::string& fingerprint);
/// Whether it is there, as large as it was noted, and made from that.
[[nodiscard]] bool isMadeFrom(const std::filesystem::path& file, const std::string& fingerprint);

} // namespace retinex::delivery
