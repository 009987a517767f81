#pragma once

#include "core/passes/image_file.h"
#include "core/passes/layers.h"

namespace retinex::passes {

/// One plane of numbers: a channel as it is, or the luminance 0.2126 R + 0.7152 G + 0.0722 B of three (ITU-R
/// BT.709-6, of the numbers as stored).
[[nodiscard]] ChannelPlanes readNumbers(const std::filesystem::path& file, const DepthChannel& channel,
                                        const ReadOptions& options);
/// The same from planes already read.
[[nodiscard]] Plane<float> luminanceOf(const Plane<float>& red, const Plane<float>& green,
                                       const Plane<float>& blue);

} // namespace retinex::passes
