#pragma once

#include "core/image/image.h"
#include "core/project/delivery.h"
#include "core/system/run.h"

#include <filesystem>
#include <memory>

namespace retinex::delivery {

/// A movie written by the program `ffmpeg` as a process: FFV1 in Matroska (lossless, 16 bit), ProRes in
/// QuickTime, H.264 in MP4, VP9 in WebM. The file is whole or as it was before: it is written beside and
/// renamed once every frame is in it. An odd edge is cut for those that take even sizes alone.
class MovieWriter
{
public:
    /// Throws Error where ffmpeg is not there.
    MovieWriter(const std::filesystem::path& file, project::FileKind kind, int width, int height,
                double framesPerSecond);
    /// What was not finished is taken away.
    ~MovieWriter();
    MovieWriter(const MovieWriter&) = delete;
    MovieWriter& operator=(const MovieWriter&) = delete;

    /// The next frame: R, G, B from 0 to 1, as they are to be seen. Throws Error with ffmpeg's last words.
    void add(const Plane<float>& red, const Plane<float>& green, const Plane<float>& blue);
    /// Ends it: waits for ffmpeg, counts the frames, gives the file its name. Throws Error with ffmpeg's last
    /// words.
    void finish();

private:
    struct Process;
    std::unique_ptr<Process> m_process;
};

/// "" or why no movie can be written: ffmpeg is not there, or lacks the codec.
[[nodiscard]] std::string movieProblem(project::FileKind kind);

/// Writes text into the lower left corner: light on dark, a fortieth of the height.
void burnIn(Plane<float>& red, Plane<float>& green, Plane<float>& blue, const std::string& text);

} // namespace retinex::delivery
