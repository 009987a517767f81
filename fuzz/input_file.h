#pragma once

#include <cstdint>
#include <cstdio>
#include <filesystem>
#include <string>
#include <unistd.h>

namespace retinex::fuzz {

/// The readers take files: the bytes of one run, as a file in memory.
class InputFile
{
public:
    InputFile(const std::uint8_t* data, std::size_t size, const char* ending)
        : m_path("/dev/shm/retinex-fuzz-" + std::to_string(getpid()) + ending)
    {
        if (std::FILE* file = std::fopen(m_path.c_str(), "wb")) {
            std::fwrite(data, 1, size, file);
            std::fclose(file);
        }
    }
    ~InputFile() { std::remove(m_path.c_str()); }
    InputFile(const InputFile&) = delete;
    InputFile& operator=(const InputFile&) = delete;
    [[nodiscard]] const std::filesystem::path& path() const noexcept { return m_path; }

private:
    std::filesystem::path m_path;
};

} // namespace retinex::fuzz
