#pragma once

#include "core/passes/exr/exr_file.h"

/// Image files of any format: EXR by its own reader, the rest (PNG, TIFF, PFM, Radiance HDR, ...) by the
/// format module. The format is told by the file's first bytes, not by its name.
namespace retinex::passes {

/// Headers only. Throws Error naming the file when it is missing, damaged or of no known format.
[[nodiscard]] FileInfo inspectFile(const std::filesystem::path& file);

/// Channels as float planes; see readExrChannels. 8- and 16-bit integers become 0..1.
[[nodiscard]] ChannelPlanes readChannels(const std::filesystem::path& file, int part,
                                         const std::vector<std::string>& channels,
                                         const ReadOptions& options = {});

/// True for names that end like a picture file (.exr, .png, .tif, ...) or a movie, for folders and dialogs.
[[nodiscard]] bool looksLikePicture(const std::filesystem::path& file);
/// "*.exr *.png ...": the same as patterns.
[[nodiscard]] const std::vector<std::string>& pictureEndings();

} // namespace retinex::passes
