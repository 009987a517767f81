#pragma once

#include "core/passes/exr/exr_file.h"

#include <optional>

/// Movies as passes: read by the programs ffprobe and ffmpeg, whatever codec they know. A frame of a movie is
/// named like a file: "clip.mov#12", of which 1 is the first.
namespace retinex::passes {

/// By the name's ending.
[[nodiscard]] bool isMovie(const std::filesystem::path& file);
/// ".mov", ".mp4", ...
[[nodiscard]] const std::vector<std::string>& movieEndings();

struct MovieFrame
{
    std::filesystem::path movie;
    int frame = 1;
};
/// What "clip.mov#12" names; nothing for a name of any other kind, or where a file of that very name is
/// there.
[[nodiscard]] std::optional<MovieFrame> movieFrame(const std::filesystem::path& file);
[[nodiscard]] std::filesystem::path frameOfMovie(const std::filesystem::path& movie, int frame);

/// How many frames it has. Throws Error naming the file, and saying so where ffmpeg is not there.
[[nodiscard]] int movieFrameCount(const std::filesystem::path& movie);

/// As inspectExr, of a movie or a frame of it: channels R, G, B and, where its pixels have it, A. Throws
/// Error likewise.
[[nodiscard]] FileInfo inspectMovie(const std::filesystem::path& file);

/// As readExrChannels, of a frame. Frames that follow each other are decoded once. Throws Error likewise.
[[nodiscard]] ChannelPlanes readMovieChannels(const std::filesystem::path& file,
                                              const std::vector<std::string>& channels,
                                              const ReadOptions& options);

} // namespace retinex::passes
