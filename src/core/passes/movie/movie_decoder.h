#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <mutex>
#include <vector>

/// For this folder.
namespace retinex::passes {

/// What ffprobe says of a movie's first picture stream.
struct MovieStream
{
    int width = 0;
    int height = 0;
    int frames = 0;
    double framesPerSecond = 24.0;
    double pixelAspect = 1.0;
    int bits = 8;
    bool hasAlpha = false;
    bool saysMatrix = false; ///< how its luma and colour differences were made
};

/// Throws Error naming the file.
[[nodiscard]] MovieStream probeMovie(const std::filesystem::path& movie);

/// One ffmpeg that hands out a movie's frames in order. Thread-safe.
class MovieDecoder
{
public:
    MovieDecoder(std::filesystem::path movie, const MovieStream& stream);
    ~MovieDecoder();
    MovieDecoder(const MovieDecoder&) = delete;
    MovieDecoder& operator=(const MovieDecoder&) = delete;

    /// R, G, B, A of each pixel, 16 bits. Throws Error naming the file.
    [[nodiscard]] std::shared_ptr<const std::vector<std::uint16_t>> frame(int frame);

private:
    void start(int frame);
    void stop();
    void readNext(std::vector<std::uint16_t>& pixels);

    std::mutex m_mutex;
    std::filesystem::path m_movie;
    MovieStream m_stream;
    int m_process = -1;
    int m_pipe = -1;
    int m_errors = -1;
    int m_next = 0; ///< the frame that comes out next
    int m_lastFrame = 0;
    std::shared_ptr<const std::vector<std::uint16_t>> m_last; ///< colour and alpha are asked for apart
};

} // namespace retinex::passes
