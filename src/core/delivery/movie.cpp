#include "core/delivery/movie.h"

#include "core/system/atomic_file.h"
#include "core/system/error.h"
#include "core/system/failure.h"
#include "core/system/program.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <opencv2/imgproc.hpp>
#include <poll.h>
#include <unistd.h>
#include <vector>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;
using project::FileKind;

const char* codecOf(FileKind kind)
{
    return kind == FileKind::ffv1     ? "ffv1"
           : kind == FileKind::prores ? "prores_ks"
           : kind == FileKind::h264   ? "libx264"
                                      : "libvpx-vp9";
}

/// How each is encoded: from numbers as they are seen on an sRGB screen to Rec. ITU-R BT.709-6, limited
/// range, but for FFV1, which keeps them.
std::vector<std::string> encoding(FileKind kind)
{
    const std::vector<std::string> seen{
        "-vf",
        "crop=trunc(iw/2)*2:trunc(ih/2)*2,scale=out_color_matrix=bt709:out_range=tv:"
        "flags=accurate_rnd+full_chroma_int,"
        // ProRes takes its tags from the pictures alone.
        "setparams=color_primaries=bt709:color_trc=iec61966-2-1:colorspace=bt709",
        "-colorspace",
        "bt709",
        "-color_range",
        "tv"};
    std::vector<std::string> all{"-c:v", codecOf(kind)};
    const auto add = [&](const std::vector<std::string>& more) {
        all.insert(all.end(), more.begin(), more.end());
    };
    switch (kind) {
    case FileKind::ffv1:
        add({"-level", "3", "-coder", "1", "-context", "1", "-g", "1", "-slices", "16", "-slicecrc", "1",
             "-pix_fmt", "gbrp16le", "-color_range", "pc"});
        break;
    case FileKind::prores:
        add(seen);
        add({"-profile:v", "3", "-pix_fmt", "yuv422p10le", "-vendor", "apl0"});
        break;
    case FileKind::h264:
        add(seen);
        add({"-pix_fmt", "yuv420p", "-crf", "15", "-preset", "medium", "-movflags", "+faststart"});
        break;
    default:
        add(seen);
        add({"-pix_fmt", "yuv420p", "-b:v", "0", "-crf", "18", "-row-mt", "1", "-deadline", "good",
             "-cpu-used", "4"});
        break;
    }
    add({"-color_primaries", "bt709", "-color_trc", "iec61966-2-1"});
    return all;
}

constexpr int kPatienceMs = 120'000;  ///< an encoder of large frames may be busy for long
constexpr std::size_t kAtOnce = 4096; ///< PIPE_BUF: what a pipe that is ready takes without waiting

const char* const kNoFfmpeg = "Install the package ffmpeg, or choose single pictures.";

} // namespace

struct MovieWriter::Process
{
    explicit Process(const fs::path& name) : file(name), part(name) {}

    fs::path file;
    PartFile part;
    int width;
    int height;
    pid_t process = -1;
    int pipe = -1;
    int errors = -1;
    long long frames = 0;
    std::vector<std::uint16_t> row;

    void closePipe()
    {
        if (pipe >= 0) ::close(std::exchange(pipe, -1));
    }
    [[noreturn]] void fail(const std::string& what)
    {
        throw Error(say("{}: the movie was not written: {}", file.string(), what), lastWords(errors));
    }
    [[noreturn]] void failWithLastWords()
    {
        closePipe();
        const int code = process > 0 ? endOfProgram(std::exchange(process, -1)) : -1;
        std::string words = lastWords(errors);
        const std::string own = part.path().string(); // which nobody has chosen
        for (std::size_t at = 0; (at = words.find(own, at)) != std::string::npos;)
            words.replace(at, own.size(), file.string());
        fail(words.empty() ? say("ffmpeg ended with {}. Choose another folder or kind of movie.", code)
                           : say("ffmpeg said: {}", words));
    }
};

MovieWriter::MovieWriter(const fs::path& file, FileKind kind, int width, int height, double framesPerSecond)
    : m_process(std::make_unique<Process>(file))
{
    Process& p = *m_process;
    p.width = width;
    p.height = height;
    p.errors = hiddenFile();
    std::array<int, 2> ends{};
    if (p.errors < 0 || ::pipe2(ends.data(), O_CLOEXEC) != 0) p.fail(std::strerror(errno));
    p.pipe = ends[1];
    std::vector<std::string> words{"ffmpeg",
                                   "-hide_banner",
                                   "-loglevel",
                                   "error",
                                   "-y",
                                   "-f",
                                   "rawvideo",
                                   "-pix_fmt",
                                   "rgb48le",
                                   "-s",
                                   fmt::format("{}x{}", width, height),
                                   "-r",
                                   fmt::format("{}", framesPerSecond),
                                   "-i",
                                   "pipe:0"};
    for (std::string& word : encoding(kind))
        words.push_back(std::move(word));
    words.insert(words.end(), {"-fflags", "+bitexact"}); // the same frames make the same file
    words.push_back(p.part.path().string());
    const int nothing = ::open("/dev/null", O_WRONLY | O_CLOEXEC);
    p.process = startProgram(words, ends[0], nothing, p.errors);
    const int code = errno;
    ::close(ends[0]);
    ::close(nothing);
    if (p.process < 0) p.fail(say("ffmpeg cannot be started ({}). {}", std::strerror(code), kNoFfmpeg));
    letWritesFail();
}

MovieWriter::~MovieWriter()
{
    Process& p = *m_process;
    if (p.process > 0) ::kill(p.process, SIGKILL);
    p.closePipe();
    if (p.process > 0) (void)endOfProgram(p.process);
    if (p.errors >= 0) ::close(p.errors);
}

void MovieWriter::add(const Plane<float>& red, const Plane<float>& green, const Plane<float>& blue)
{
    Process& p = *m_process;
    p.row.resize(3 * static_cast<std::size_t>(p.width) * static_cast<std::size_t>(p.height));
    std::size_t at = 0;
    for (std::size_t i = 0; i < red.size(); ++i)
        for (const Plane<float>* plane : {&red, &green, &blue}) {
            const float value = plane->pixels()[i];
            p.row[at++] =
                static_cast<std::uint16_t>((value > 0.0F ? std::min(value, 1.0F) : 0.0F) * 65535.0F + 0.5F);
        }
    const char* bytes = reinterpret_cast<const char*>(p.row.data());
    std::size_t left = p.row.size() * sizeof(std::uint16_t);
    while (left > 0) {
        pollfd ready{p.pipe, POLLOUT, 0};
        if (const int there = ::poll(&ready, 1, kPatienceMs); there == 0)
            p.fail(say("ffmpeg has taken nothing for {} s. Try again, or choose another kind of movie.",
                       kPatienceMs / 1000));
        else if (there < 0 && errno == EINTR)
            continue;
        const ssize_t count = ::write(p.pipe, bytes, std::min(left, kAtOnce));
        if (count < 0 && errno == EINTR) continue;
        if (count <= 0) p.failWithLastWords();
        bytes += count;
        left -= static_cast<std::size_t>(count);
    }
    ++p.frames;
}

void MovieWriter::finish()
{
    Process& p = *m_process;
    p.closePipe();
    if (endOfProgram(std::exchange(p.process, -1)) != 0) p.failWithLastWords();
    const ProgramEnd counted =
        runProgram({"ffprobe", "-v", "error", "-count_packets", "-select_streams", "v:0", "-show_entries",
                    "stream=nb_read_packets", "-of", "csv=p=0", p.part.path().string()});
    if (counted.code >= 0 && (counted.code != 0 || std::atoll(counted.out.c_str()) != p.frames))
        p.fail(say(
            "ffmpeg said that all is well, and the file has {} frames of {}. Try again, or choose another "
            "kind of movie.",
            counted.code == 0 ? std::atoll(counted.out.c_str()) : 0, p.frames));
    p.part.finish();
}

std::string movieProblem(FileKind kind)
{
    const ProgramEnd ended =
        runProgram({"ffmpeg", "-hide_banner", "-h", fmt::format("encoder={}", codecOf(kind))});
    if (ended.code < 0) return say("The program ffmpeg is not there. {}", kNoFfmpeg);
    if (ended.out.find("is not recognized") != std::string::npos || ended.out.empty())
        return say("ffmpeg is there, and has no encoder {}. Choose another kind of movie.", codecOf(kind));
    return {};
}

void burnIn(Plane<float>& red, Plane<float>& green, Plane<float>& blue, const std::string& text)
{
    const int height = red.height();
    const double scale = std::max(0.35, height / 40.0 / 22.0); // letters of this face are 22 px high
    const int thick = std::max(1, static_cast<int>(std::lround(1.4 * scale)));
    int below = 0;
    const cv::Size size = cv::getTextSize(text, cv::FONT_HERSHEY_SIMPLEX, scale, thick, &below);
    const cv::Point at(height / 40, height - height / 40 - below);
    cv::Mat mask = cv::Mat::zeros(height, red.width(), CV_8U);
    cv::putText(mask, text, at, cv::FONT_HERSHEY_SIMPLEX, scale, cv::Scalar(255), thick, cv::LINE_AA);
    const int pad = height / 160 + 2;
    const cv::Rect box =
        cv::Rect(at.x - pad, at.y - size.height - pad, size.width + 2 * pad, size.height + below + 2 * pad) &
        cv::Rect(0, 0, red.width(), height);
    for (Plane<float>* plane : {&red, &green, &blue})
        for (int y = box.y; y < box.y + box.height; ++y)
            for (int x = box.x; x < box.x + box.width; ++x) {
                const float share = static_cast<float>(mask.at<unsigned char>(y, x)) / 255.0F;
                float& value = plane->at(x, y);
                value = 0.35F * std::min(value, 1.0F) * (1.0F - share) + 0.92F * share;
            }
}

} // namespace retinex::delivery
