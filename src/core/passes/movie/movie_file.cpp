#include "core/passes/movie/movie_file.h"

#include "core/passes/file_state.h"
#include "core/passes/movie/movie_decoder.h"
#include "core/system/error.h"
#include "core/system/lower.h"
#include "core/system/readable_file.h"
#include "core/system/say.h"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>
#include <list>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

/// A movie that was opened. The last few stay, each with a decoder that waits for the next frame.
struct OpenMovie
{
    std::string name; ///< with the state of its file
    MovieStream stream;
    std::shared_ptr<MovieDecoder> decoder;
};

OpenMovie openMovie(const fs::path& movie)
{
    static std::mutex mutex;
    static std::list<OpenMovie> open;
    constexpr std::size_t kMost = 4;
    requireReadable(movie);
    const std::string name = movie.string() + '\n' + fileState(movie);
    const std::lock_guard lock(mutex);
    const auto found = std::ranges::find(open, name, &OpenMovie::name);
    if (found != open.end()) {
        open.splice(open.begin(), open, found);
    } else {
        const MovieStream stream = probeMovie(movie);
        open.push_front({name, stream, std::make_shared<MovieDecoder>(movie, stream)});
        if (open.size() > kMost) open.pop_back();
    }
    return open.front();
}

} // namespace

const std::vector<std::string>& movieEndings()
{
    static const std::vector<std::string> endings{".mov",  ".mp4", ".m4v", ".mkv",
                                                  ".webm", ".avi", ".mxf", ".mpg"};
    return endings;
}

bool isMovie(const fs::path& file)
{
    return std::ranges::find(movieEndings(), lower(file.extension().string())) != movieEndings().end();
}

std::optional<MovieFrame> movieFrame(const fs::path& file)
{
    const std::string text = file.string();
    const std::size_t mark = text.rfind('#');
    if (mark == std::string::npos || mark + 1 == text.size()) return std::nullopt;
    MovieFrame found{text.substr(0, mark), 0};
    const char* const end = text.data() + text.size();
    const auto [last, error] = std::from_chars(text.data() + mark + 1, end, found.frame);
    std::error_code code;
    if (error != std::errc{} || last != end || found.frame < 1 || !isMovie(found.movie) ||
        fs::exists(file, code))
        return std::nullopt;
    return found;
}

fs::path frameOfMovie(const fs::path& movie, int frame)
{
    return movie.string() + '#' + std::to_string(frame);
}

int movieFrameCount(const fs::path& movie)
{
    return openMovie(movie).stream.frames;
}

FileInfo inspectMovie(const fs::path& file)
{
    const auto frame = movieFrame(file);
    const MovieStream stream = openMovie(frame ? frame->movie : file).stream;
    FileInfo info;
    info.file = file;
    info.format = "movie";
    info.unassociatedAlpha = stream.hasAlpha;
    info.framesPerSecond = stream.framesPerSecond;
    PartInfo part;
    part.displayWindow = part.dataWindow = PixelBox::at(0, 0, stream.width, stream.height);
    part.pixelAspect = stream.pixelAspect;
    part.compression = "movie";
    const SampleType type = stream.bits > 8 ? SampleType::uint16 : SampleType::uint8;
    for (const char* name : {"R", "G", "B", "A"})
        if (*name != 'A' || stream.hasAlpha) part.channels.push_back({name, type, {}});
    info.parts = {std::move(part)};
    return info;
}

ChannelPlanes readMovieChannels(const fs::path& file, const std::vector<std::string>& channels,
                                const ReadOptions& options)
{
    const MovieFrame place = movieFrame(file).value_or(MovieFrame{file, 1});
    const OpenMovie movie = openMovie(place.movie);
    if (place.frame > movie.stream.frames)
        throw Error(
            say("{}: the movie has {} frames. Choose one of these.", file.string(), movie.stream.frames));
    options.run.throwIfStopped();
    const auto pixels = movie.decoder->frame(place.frame);
    ChannelPlanes result;
    result.window = result.dataWindow = PixelBox::at(0, 0, movie.stream.width, movie.stream.height);
    for (const std::string& channel : channels) {
        const std::size_t index = std::string_view("RGBA").find(channel);
        if (channel.size() != 1 || index == std::string_view::npos)
            throw Error(
                say("{}: a movie has no channel \"{}\"; it has R, G, B and A.", file.string(), channel));
        Plane<float> plane(movie.stream.width, movie.stream.height);
        for (std::size_t i = 0; i < plane.size(); ++i)
            plane.pixels()[i] = static_cast<float>((*pixels)[4 * i + index]) / 65535.0F;
        result.planes.push_back(std::move(plane));
    }
    return result;
}

} // namespace retinex::passes
