#pragma once

#include "core/passes/picture_write.h"

/// Every format but EXR is read by OpenImageIO, in a module that is loaded when the first such file is
/// opened: linking it would cost every start 0.4 s and 130 MB.
namespace retinex::passes {

class FormatModule
{
public:
    virtual ~FormatModule() = default;
    /// As inspectExr. Throws Error.
    [[nodiscard]] virtual FileInfo inspect(const std::filesystem::path& file) const = 0;
    /// As readExrChannels; integers become 0..1. Alpha is left as the file has it. Throws Error.
    [[nodiscard]] virtual ChannelPlanes read(const std::filesystem::path& file, int part,
                                             const std::vector<std::string>& channels,
                                             const ReadOptions& options) const = 0;
    /// The whole file in memory, in the format of its name's ending: where libraries write files themselves,
    /// a full disk ends the program (libjpeg) or is not noticed (libpng). Throws Error naming `file`.
    [[nodiscard]] virtual std::string encoded(const std::filesystem::path& file,
                                              const PictureOutput& output) const = 0;
};

/// Name of the function a module exports: `const FormatModule* retinexFormatModule()`.
constexpr const char* kFormatModuleEntry = "retinexFormatModule";
constexpr const char* kFormatModuleFile = "retinex_formats.so";

/// The module, loaded on the first call; thread-safe. Looked for beside the program, then in
/// ../lib/retinex. Throws Error when it is not there.
[[nodiscard]] const FormatModule& formatModule();

} // namespace retinex::passes
