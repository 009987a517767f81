#include "core/system/json_text.h"

#include "core/system/error.h"
#include "core/system/readable_file.h"
#include "core/system/say.h"

#include <algorithm>
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
    requireReadable(file);
    std::ifstream stream(file, std::ios::binary);
    std::string text{std::istreambuf_iterator<char>(stream), {}};
    if (stream.bad())
        throw Error(say("{}: cannot be read to its end. Check the disk it is on.", file.string()));
    if (depthOfJson(text) > kDeepestJson)
        throw Error(say("{}: this is no usable file: it has more than {} lists within each other.",
                        file.string(), kDeepestJson));
    return text;
}

} // namespace retinex
