#include "core/passes/sequence.h"

#include "core/passes/movie/movie_file.h"
#include "core/system/error.h"
#include "core/system/readable_file.h"
#include "core/system/say.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <numeric>
#include <optional>
#include <tuple>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

/// A file name cut at its number: "can.0007.exr" is {"can.", 4 digits, ".exr"}.
struct NameParts
{
    std::string prefix;
    std::string digits; ///< the number as written; empty for a pattern
    int width = 0;
    std::string suffix;
};

bool isDigit(char c)
{
    return std::isdigit(static_cast<unsigned char>(c)) != 0;
}

/// Whether name[from..to) stands within a word: "take#b", "100%done".
bool isWithinWord(const std::string& name, std::size_t from, std::size_t to)
{
    const auto isOfWord = [&](std::size_t at) {
        return at < name.size() && std::isalnum(static_cast<unsigned char>(name[at])) != 0;
    };
    return from > 0 && isOfWord(from - 1) && isOfWord(to);
}

/// "####" or "%04d" / "%d" in a name. A lone "#" or "%d" within a word is a part of the name.
std::optional<NameParts> splitPattern(const std::string& name)
{
    if (const auto first = name.find('#'); first != std::string::npos) {
        auto last = first;
        while (last < name.size() && name[last] == '#')
            ++last;
        if (last == first + 1 && isWithinWord(name, first, last)) return std::nullopt;
        return NameParts{name.substr(0, first), {}, static_cast<int>(last - first), name.substr(last)};
    }
    const auto percent = name.find('%');
    if (percent == std::string::npos) return std::nullopt;
    auto end = percent + 1;
    while (end < name.size() && isDigit(name[end]))
        ++end;
    if (end >= name.size() || name[end] != 'd') return std::nullopt;
    if (end == percent + 1 && isWithinWord(name, percent, end + 1)) return std::nullopt;
    int width = 1;
    std::from_chars(name.data() + percent + 1, name.data() + end, width);
    return NameParts{name.substr(0, percent), {}, std::max(width, 1), name.substr(end + 1)};
}

/// A minus before the number is a sign after a separator ("can.-0012.exr") and a dash otherwise
/// ("can-0012.exr").
bool isSign(const std::string& name, std::size_t at)
{
    return name[at] == '-' && (at == 0 || name[at - 1] == '.' || name[at - 1] == '_');
}

/// The last run of digits before the extension, with its sign.
std::optional<NameParts> splitNumbered(const std::string& name)
{
    const auto dot = name.rfind('.');
    auto end = dot == std::string::npos ? name.size() : dot;
    while (end > 0 && !isDigit(name[end - 1]))
        --end;
    auto start = end;
    while (start > 0 && isDigit(name[start - 1]))
        --start;
    if (start == end || end - start > 9) return std::nullopt;
    const auto width = static_cast<int>(end - start);
    if (start > 0 && isSign(name, start - 1)) --start;
    return NameParts{name.substr(0, start), name.substr(start, end - start), width, name.substr(end)};
}

std::string number(int frame, int digits)
{
    return fmt::format("{:0{}}", frame, digits);
}

/// A frame and the name of its file.
struct Found
{
    int frame;
    std::string name;
};

/// The number that `text` writes when padded to `width`; a sign may count as one of the digits (as printf has
/// it) or not.
std::optional<int> frameOf(const std::string& text, int width)
{
    const bool negative = text.starts_with('-');
    const std::string digits = text.substr(negative ? 1 : 0);
    if (digits.empty() || digits.size() > 9 || !std::all_of(digits.begin(), digits.end(), isDigit))
        return std::nullopt;
    int frame = 0;
    std::from_chars(digits.data(), digits.data() + digits.size(), frame);
    const bool fits = number(frame, width) == digits || (negative && number(frame, width - 1) == digits);
    if (!fits || (negative && frame == 0)) return std::nullopt;
    return negative ? -frame : frame;
}

/// The files in `folder` that fit; unpadded numbers may be longer than `width`.
std::vector<Found> framesIn(const fs::path& folder, const NameParts& parts)
{
    std::vector<Found> frames;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(folder.empty() ? fs::path(".") : folder, code)) {
        std::string name = entry.path().filename().string();
        if (name.size() <= parts.prefix.size() + parts.suffix.size() || !name.starts_with(parts.prefix) ||
            !name.ends_with(parts.suffix))
            continue;
        const auto frame =
            frameOf(name.substr(parts.prefix.size(), name.size() - parts.prefix.size() - parts.suffix.size()),
                    parts.width);
        if (frame) frames.push_back({*frame, std::move(name)});
    }
    std::sort(frames.begin(), frames.end(), [](const Found& a, const Found& b) {
        return std::tie(a.frame, a.name) < std::tie(b.frame, b.name);
    });
    const auto same = [](const Found& a, const Found& b) { return a.frame == b.frame; };
    frames.erase(std::unique(frames.begin(), frames.end(), same), frames.end());
    return frames;
}

} // namespace

Sequence Sequence::find(const fs::path& path)
{
    Sequence sequence;
    sequence.m_folder = path.parent_path();
    const std::string name = path.filename().string();
    if (passes::isMovie(path)) {
        sequence.m_isMovie = true;
        sequence.m_prefix = name;
        sequence.m_frames.resize(static_cast<std::size_t>(movieFrameCount(path)));
        std::iota(sequence.m_frames.begin(), sequence.m_frames.end(), 1);
        return sequence;
    }
    const auto pattern = splitPattern(name);
    // A file may bear that very name.
    std::error_code code;
    if (pattern && fs::is_regular_file(path, code) && framesIn(sequence.m_folder, *pattern).empty()) {
        sequence.m_prefix = name;
        return sequence;
    }
    if (!pattern) requireReadable(path);
    auto parts = pattern ? pattern : splitNumbered(name);
    const auto firstDigit = [](const std::string& digits) { return digits[digits.front() == '-' ? 1 : 0]; };
    if (parts && !pattern && parts->width > 1 && firstDigit(parts->digits) != '0')
        parts->width = 1; // "101" may belong to 99, 100, 101: not padded
    if (parts) {
        auto frames = framesIn(sequence.m_folder, *parts);
        if (!pattern && parts->digits.starts_with('-')) {
            // "-012" may be padded to three digits, or to four with its sign: the neighbours tell.
            NameParts wider = *parts;
            ++wider.width;
            if (auto more = framesIn(sequence.m_folder, wider); more.size() > frames.size()) {
                frames = std::move(more);
                parts = wider;
            }
        }
        if (pattern && frames.empty())
            throw Error(say("{}: no file fits this pattern. Check the name and the folder.", path.string()));
        if (pattern || frames.size() > 1) {
            sequence.m_prefix = parts->prefix;
            sequence.m_suffix = parts->suffix;
            sequence.m_digits = parts->width;
            for (Found& found : frames) {
                sequence.m_frames.push_back(found.frame);
                sequence.m_names.push_back(std::move(found.name));
            }
            return sequence;
        }
    }
    sequence.m_prefix = name;
    return sequence;
}

Sequence Sequence::findBeside(const Sequence& colour, const fs::path& path)
{
    Sequence found = find(path);
    if (found.isStill() || found.isMovie() || isPattern(path)) return found;
    const auto shared = std::ranges::count_if(colour.m_frames, [&](int frame) { return found.has(frame); });
    if (!colour.isStill() && 2 * static_cast<std::size_t>(shared) > colour.m_frames.size()) return found;
    return absent(path);
}

std::vector<int> Sequence::missing() const
{
    std::vector<int> absent;
    for (std::size_t i = 1; i < m_frames.size(); ++i)
        for (int frame = m_frames[i - 1] + 1; frame < m_frames[i]; ++frame)
            absent.push_back(frame);
    return absent;
}

fs::path Sequence::file(int frame) const
{
    if (isStill()) return m_folder / m_prefix;
    if (m_isMovie) return frameOfMovie(m_folder / m_prefix, frame);
    const auto it = std::lower_bound(m_frames.begin(), m_frames.end(), frame);
    if (it != m_frames.end() && *it == frame)
        return m_folder / m_names[static_cast<std::size_t>(it - m_frames.begin())];
    return m_folder / (m_prefix + number(frame, m_digits) + m_suffix);
}

Sequence Sequence::absent(const fs::path& path)
{
    Sequence still;
    still.m_folder = path.parent_path();
    still.m_prefix = path.filename().string();
    return still;
}

bool Sequence::has(int frame) const
{
    return isStill() || std::binary_search(m_frames.begin(), m_frames.end(), frame);
}

int Sequence::nearestTo(int frame) const
{
    if (isStill()) return frame;
    const auto after = std::upper_bound(m_frames.begin(), m_frames.end(), frame);
    return after == m_frames.begin() ? m_frames.front() : *(after - 1);
}

fs::path Sequence::pattern() const
{
    if (isStill() || m_isMovie) return m_folder / m_prefix;
    return m_folder / (m_prefix + std::string(static_cast<std::size_t>(m_digits), '#') + m_suffix);
}

fs::path Sequence::requireFile(int frame) const
{
    if (!has(frame))
        throw Error(say("{}: frame {} is missing; the sequence has {}. Render the missing frame, or choose "
                        "frames that are there.",
                        file(frame).string(), frame, describeFrames(m_frames)));
    return file(frame);
}

fs::path withFrame(const fs::path& pattern, int frame)
{
    const auto parts = splitPattern(pattern.filename().string());
    if (!parts) return pattern;
    return pattern.parent_path() / (parts->prefix + number(frame, parts->width) + parts->suffix);
}

bool isPattern(const fs::path& path)
{
    return splitPattern(path.filename().string()).has_value();
}

fs::path anyFrame(const fs::path& file)
{
    if (!isPattern(file)) return file;
    const Sequence found = Sequence::find(file);
    return found.file(found.isStill() ? 1 : found.frames().front());
}

std::string describeFrames(const std::vector<int>& frames)
{
    std::vector<std::string> ranges;
    for (std::size_t i = 0; i < frames.size();) {
        std::size_t end = i + 1;
        while (end < frames.size() && frames[end] == frames[end - 1] + 1)
            ++end;
        ranges.push_back(end - i == 1 ? fmt::format("{}", frames[i])
                                      : fmt::format("{}-{}", frames[i], frames[end - 1]));
        i = end;
    }
    return fmt::format("{}", fmt::join(ranges, ", "));
}

} // namespace retinex::passes
