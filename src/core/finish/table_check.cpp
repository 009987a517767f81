#include "core/finish/table_check.h"

#include "core/system/error.h"
#include "core/system/lower.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <fstream>
#include <optional>
#include <vector>

namespace retinex::finish {

namespace {

std::vector<std::string> wordsIn(const std::string& line)
{
    std::vector<std::string> words;
    std::size_t at = 0;
    while ((at = line.find_first_not_of(" \t\r", at)) != std::string::npos) {
        const std::size_t end = std::min(line.find_first_of(" \t\r", at), line.size());
        words.push_back(line.substr(at, end - at));
        at = end;
    }
    return words;
}

/// Finite, with a point; nothing else.
std::optional<double> numberIn(const std::string& word)
{
    double value = 0.0;
    const char* begin = word.data() + (word.starts_with('+') ? 1 : 0);
    const auto [end, error] = std::from_chars(begin, word.data() + word.size(), value);
    if (error != std::errc() || end != word.data() + word.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

class Cube
{
public:
    explicit Cube(const std::filesystem::path& file) : m_file(file) {}

    void read()
    {
        std::ifstream in(m_file);
        std::string line;
        while (std::getline(in, line)) {
            ++m_line;
            const auto words = wordsIn(line);
            if (words.empty() || words.front().starts_with('#') || words.front() == "TITLE") continue;
            if (words.front() == "LUT_1D_SIZE")
                m_curve = sizeIn(words);
            else if (words.front() == "LUT_3D_SIZE")
                m_cube = sizeIn(words);
            else if (words.front() == "DOMAIN_MIN")
                m_low = numbersIn<3>(words, 1);
            else if (words.front() == "DOMAIN_MAX")
                m_high = numbersIn<3>(words, 1);
            else if (words.front() == "LUT_1D_INPUT_RANGE" || words.front() == "LUT_3D_INPUT_RANGE")
                checkEnds(numbersIn<2>(words, 1));
            else if (std::isalpha(static_cast<unsigned char>(words.front().front())) == 0 ||
                     words.front().starts_with("nan") || words.front().starts_with("inf")) {
                (void)numbersIn<3>(words, 0);
                ++m_rows;
            }
        }
        for (std::size_t i = 0; i < 3; ++i)
            checkEnds({m_low[i], m_high[i]});
        const long wanted = m_curve + m_cube * m_cube * m_cube;
        if (m_rows != wanted)
            throw Error(
                say("The look file {} has {} rows of numbers, and its size asks for {}. Write it again, or "
                    "choose another one in Finish.",
                    m_file.string(), m_rows, wanted));
    }

private:
    [[noreturn]] void complain(const std::string& what) const
    {
        throw Error(say("The look file {}, line {}: {} Write it again, or choose another one in Finish.",
                        m_file.string(), m_line, what));
    }
    template <std::size_t N>
    std::array<double, N> numbersIn(const std::vector<std::string>& words, std::size_t from) const
    {
        std::array<double, N> numbers{};
        bool isRow = words.size() == from + N;
        for (std::size_t i = 0; i < N && isRow; ++i) {
            const auto number = numberIn(words[from + i]);
            isRow = number.has_value();
            numbers[i] = number.value_or(0.0);
        }
        if (!isRow) complain(say("there are to be {} finite numbers here, written with points.", N));
        return numbers;
    }
    long sizeIn(const std::vector<std::string>& words) const
    {
        const auto size = words.size() == 2 ? numberIn(words[1]) : std::nullopt;
        if (!size || *size < 2.0 || *size > 65'536.0 || *size != std::floor(*size))
            complain(say("the size is to be a whole number from 2 up."));
        return static_cast<long>(*size);
    }
    void checkEnds(const std::array<double, 2>& ends) const
    {
        if (!(ends[0] < ends[1]))
            throw Error(
                say("The look file {}: its domain runs from {:g} to {:g}, which is no range. Write it again, "
                    "or choose another one in Finish.",
                    m_file.string(), ends[0], ends[1]));
    }

    const std::filesystem::path& m_file;
    long m_line = 0;
    long m_curve = 0;
    long m_cube = 0;
    long m_rows = 0;
    std::array<double, 3> m_low{0.0, 0.0, 0.0};
    std::array<double, 3> m_high{1.0, 1.0, 1.0};
};

/// OpenColorIO makes room for what a size asks for before it reads the rows, and looks for the end of
/// metadata without end.
void requireAnEnd(const std::filesystem::path& file)
{
    std::error_code code;
    const auto bytes = static_cast<double>(std::filesystem::file_size(file, code));
    std::ifstream in(file);
    std::string line;
    bool isOpen = false; // metadata
    while (std::getline(in, line)) {
        if (line.ends_with('\r')) line.pop_back();
        if (lower(line).find("begin metadata") != std::string::npos) isOpen = true;
        if (line == "END METADATA") isOpen = false; // letter by letter
        const auto words = wordsIn(line);
        if (words.size() < 2) continue;
        const std::string name = lower(words[0]);
        const bool isCube = name == "lut_3d_size";
        if (!isCube && name != "lut_1d_size" && name != "length") continue;
        const double size = std::strtod(words[1].c_str(), nullptr);
        const double rows = isCube ? size * size * size : size;
        if (rows * 2.0 > bytes) // a digit and the end of its line
            throw Error(say("The look file {} has no room for the {:g} rows that its size asks for. Write it "
                            "again, or choose another one in Finish.",
                            file.string(), rows));
    }
    if (isOpen)
        throw Error(say("The look file {}: there is no line \"END METADATA\" after \"BEGIN METADATA\". Write "
                        "it again, or choose another one in Finish.",
                        file.string()));
}

} // namespace

void checkTable(const std::filesystem::path& file)
{
    if (lower(file.extension().string()) == ".cube") Cube(file).read();
    // Formats are told by what files hold, whatever they are called.
    requireAnEnd(file);
}

} // namespace retinex::finish
