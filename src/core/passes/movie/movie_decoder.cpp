#include "core/passes/movie/movie_decoder.h"

#include "core/system/error.h"
#include "core/system/program.h"
#include "core/system/say.h"

#include <algorithm>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <unistd.h>
#include <utility>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;
using Json = nlohmann::json;

/// Frames that are passed over rather than looked for anew.
constexpr int kPassedOver = 48;

[[noreturn]] void lacksFfmpeg(const fs::path& movie)
{
    throw Error(
        say("{}: movies are read by the program ffmpeg, which is not there. Install the package ffmpeg, "
            "or convert the movie to single pictures.",
            movie.string()));
}

[[noreturn]] void cannotRead(const fs::path& movie, const std::string& words)
{
    throw Error(
        say("{}: ffmpeg cannot read this movie. Convert it, or bring single pictures.", movie.string()),
        words);
}

/// "25/1"; 0 for anything else.
double ratio(const std::string& text, char between)
{
    double a = 0.0;
    double b = 0.0;
    const std::string form = std::string("%lf") + between + "%lf";
    return std::sscanf(text.c_str(), form.c_str(), &a, &b) == 2 && b > 0.0 ? a / b : 0.0;
}

int bitsOf(const std::string& format)
{
    for (const int bits : {16, 14, 12, 10, 9})
        if (format.find(std::to_string(bits)) != std::string::npos) return bits;
    return format.find("48") != std::string::npos || format.find("64") != std::string::npos ? 16 : 8;
}

bool hasAlpha(const std::string& format)
{
    for (const char* word : {"yuva", "rgba", "argb", "bgra", "abgr", "gbrap", "ya8", "ya16", "pal8"})
        if (format.starts_with(word)) return true;
    return false;
}

} // namespace

MovieStream probeMovie(const fs::path& movie)
{
    const auto ask = [&](const std::vector<std::string>& more) {
        std::vector<std::string> words{"ffprobe", "-v", "error", "-select_streams", "v:0"};
        words.insert(words.end(), more.begin(), more.end());
        words.insert(words.end(), {"-of", "json", "-i", movie.string()});
        const ProgramEnd end = runProgram(words);
        if (end.code == -1 || end.code == 127) lacksFfmpeg(movie);
        const Json json = Json::parse(end.out, nullptr, false);
        if (end.code != 0 || !json.is_object() || !json.contains("streams") || json["streams"].empty())
            cannotRead(movie, end.err);
        return json["streams"][0];
    };
    const Json said =
        ask({"-show_entries", "stream=width,height,r_frame_rate,avg_frame_rate,nb_frames,pix_fmt,"
                              "color_space,sample_aspect_ratio"});
    MovieStream stream;
    stream.width = said.value("width", 0);
    stream.height = said.value("height", 0);
    if (stream.width < 1 || stream.height < 1) cannotRead(movie, said.dump());
    const double rate = ratio(said.value("avg_frame_rate", std::string()), '/');
    stream.framesPerSecond = rate > 0.0 ? rate : ratio(said.value("r_frame_rate", std::string()), '/');
    if (!(stream.framesPerSecond > 0.0)) stream.framesPerSecond = 24.0;
    if (const double aspect = ratio(said.value("sample_aspect_ratio", std::string()), ':'); aspect > 0.0)
        stream.pixelAspect = aspect;
    const std::string format = said.value("pix_fmt", std::string());
    stream.bits = bitsOf(format);
    stream.hasAlpha = hasAlpha(format);
    stream.saysMatrix = said.value("color_space", std::string("unknown")) != "unknown";
    stream.frames = std::atoi(said.value("nb_frames", std::string("0")).c_str());
    if (stream.frames < 1)
        stream.frames = std::atoi(ask({"-count_packets", "-show_entries", "stream=nb_read_packets"})
                                      .value("nb_read_packets", std::string("0"))
                                      .c_str());
    if (stream.frames < 1) cannotRead(movie, "no frames");
    return stream;
}

MovieDecoder::MovieDecoder(fs::path movie, const MovieStream& stream)
    : m_movie(std::move(movie)), m_stream(stream)
{
}

MovieDecoder::~MovieDecoder()
{
    stop();
}

void MovieDecoder::stop()
{
    if (m_pipe >= 0) ::close(std::exchange(m_pipe, -1));
    if (m_process > 0) {
        ::kill(m_process, SIGKILL);
        (void)endOfProgram(std::exchange(m_process, -1));
    }
    if (m_errors >= 0) ::close(std::exchange(m_errors, -1));
}

void MovieDecoder::start(int frame)
{
    stop();
    std::vector<std::string> words{"ffmpeg", "-hide_banner", "-loglevel",
                                   "error",  "-nostdin",     "-noautorotate"};
    if (frame > 1) // a little before it, so that rounding does not skip it
        words.insert(words.end(), {"-ss", fmt::format("{:.6f}", (frame - 1.25) / m_stream.framesPerSecond)});
    words.insert(words.end(), {"-i", m_movie.string(), "-map", "0:v:0"});
    // What does not say its matrix is taken as players take it: Rec. 709 from HD on, Rec. 601 below.
    words.insert(words.end(), {"-vf", m_stream.saysMatrix || m_stream.height < 720
                                          ? "scale=flags=accurate_rnd+full_chroma_int+full_chroma_inp"
                                          : "scale=in_color_matrix=bt709:"
                                            "flags=accurate_rnd+full_chroma_int+full_chroma_inp"});
    words.insert(words.end(), {"-vsync", "0", "-f", "rawvideo", "-pix_fmt",
                               m_stream.bits > 8 ? "rgba64le" : "rgba", "pipe:1"});
    int ends[2] = {-1, -1};
    m_errors = hiddenFile();
    const int nothing = ::open("/dev/null", O_RDONLY | O_CLOEXEC);
    if (m_errors < 0 || nothing < 0 || ::pipe2(ends, O_CLOEXEC) != 0)
        cannotRead(m_movie, std::strerror(errno));
    m_pipe = ends[0];
    m_process = startProgram(words, nothing, ends[1], m_errors);
    ::close(ends[1]);
    ::close(nothing);
    if (m_process < 0) lacksFfmpeg(m_movie);
    m_next = frame;
}

void MovieDecoder::readNext(std::vector<std::uint16_t>& pixels)
{
    // Bytes stay bytes on the way: ffmpeg's own step from 8 to 16 bits is up to one of 255 off.
    const bool areBytes = m_stream.bits <= 8;
    std::vector<unsigned char> bytes(areBytes ? pixels.size() : 0);
    char* at = areBytes ? reinterpret_cast<char*>(bytes.data()) : reinterpret_cast<char*>(pixels.data());
    std::size_t left = areBytes ? bytes.size() : pixels.size() * sizeof(std::uint16_t);
    while (left > 0) {
        const ssize_t count = ::read(m_pipe, at, left);
        if (count < 0 && errno == EINTR) continue;
        if (count <= 0) {
            const std::string words = lastWords(m_errors);
            stop();
            cannotRead(m_movie, fmt::format("frame {}: {}", m_next, words));
        }
        at += count;
        left -= static_cast<std::size_t>(count);
    }
    std::ranges::transform(bytes, pixels.begin(),
                           [](unsigned char v) { return static_cast<std::uint16_t>(257 * v); });
    ++m_next;
}

std::shared_ptr<const std::vector<std::uint16_t>> MovieDecoder::frame(int frame)
{
    const std::lock_guard lock(m_mutex);
    if (m_last && m_lastFrame == frame) return m_last;
    if (m_process < 0 || frame < m_next || frame > m_next + kPassedOver) start(frame);
    auto pixels = std::make_shared<std::vector<std::uint16_t>>(4 * static_cast<std::size_t>(m_stream.width) *
                                                               static_cast<std::size_t>(m_stream.height));
    while (m_next <= frame)
        readNext(*pixels);
    m_last = pixels;
    m_lastFrame = frame;
    return m_last;
}

} // namespace retinex::passes
