#include "core/base/json_text.h"

#include "core/base/error.h"
#include "core/base/say.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fmt/format.h>
#include <fstream>
#include <iterator>

namespace retinex {

int depthOfJson(std::string_view text) noexcept
{
    int depth = 0;
    int deepest = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            if (c == '\\') ++i;
            if (c == '"') quoted = false;
        } else if (c == '"') {
            quoted = true;
        } else if (c == '[' || c == '{') {
            deepest = std::max(deepest, ++depth);
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    return deepest;
}

std::string readJsonText(const std::filesystem::path& file)
{
    std::error_code code;
    if (std::filesystem::exists(file, code) && !std::filesystem::is_regular_file(file, code))
        throw Error(say("{}: this is not a file that can be read. Choose another.", file.string()));
    std::ifstream stream(file, std::ios::binary);
    if (!stream)
        throw Error(say("{}: cannot be opened ({}). Check the name and that it may be read.", file.string(),
                        std::strerror(errno)));
    std::string text{std::istreambuf_iterator<char>(stream), {}};
    if (stream.bad())
        throw Error(say("{}: cannot be read to its end. Check the disk it is on.", file.string()));
    if (depthOfJson(text) > kDeepestJson)
        throw Error(say("{}: this is no usable file: it has more than {} lists within each other.",
                        file.string(), kDeepestJson));
    return text;
}

} // namespace retinex
