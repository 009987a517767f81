#pragma once

#include "core/frame/render_frame.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace retinex::delivery {

/// What becomes of frames that are there already.
enum class Existing {
    refuse,    ///< an error before any work that lists them
    overwrite, ///< they are written anew
    keep       ///< they stay: only those that are missing are made
};

struct ExportJob
{
    std::shared_ptr<const project::Project> project;
    std::vector<int> frames;
    std::filesystem::path
        out; ///< a pattern ("can.####.exr") for several frames; its folder is made if missing
    Existing existing = Existing::refuse;
    bool isUnfinished = false; ///< as the frames come through the lens
};

struct FrameFailure
{
    int frame = 0;
    std::string message;
};

struct ExportReport
{
    std::vector<int> written;
    std::vector<FrameFailure> failed;
    std::vector<int> doneWithout; ///< frames that others could not look at
};

/// Called when a frame has been written (`failure` empty) or has failed.
using FrameDone =
    std::function<void(int frame, const std::filesystem::path& file, const std::string& failure)>;

/// Renders and writes the frames as EXR (R, G, B, A in the colour pass's sample type) with the input's
/// attributes and the standard `focus` and `aperture`. A frame that fails, for whatever reason, is reported
/// and the others go on. Every file is whole or absent. Throws Error before any work when the target cannot
/// be right (export_target.h) or the project says what cannot be done (project_check.h), and Cancelled when
/// stopped.
[[nodiscard]] ExportReport exportFrames(const passes::PassSource& source, const ExportJob& job,
                                        const Run& run = {}, const FrameDone& done = {});

} // namespace retinex::delivery
