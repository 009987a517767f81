#pragma once

#include "core/base/error.h"

#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <limits>
#include <nlohmann/json.hpp>

/// Reading and writing fields of the project file. For this folder.
namespace retinex::project {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

/// One place that knows where in the document a field lies and what to say when it is wrong.
class Reader
{
public:
    Reader(const fs::path& file, const Json& document) : m_file(file), m_document(document) {}

    template <class T>
    void read(const char* pointer, T& value) const
    {
        const Json::json_pointer at(pointer);
        if (!m_document.contains(at)) return;
        try {
            value = m_document.at(at).get<T>();
        } catch (const Json::exception& cause) {
            fail(pointer, "is of the wrong kind", cause.what());
        }
    }
    /// JSON has no infinity: it is written as "inf".
    static double number(const Json& json)
    {
        return json.is_string() && json.get<std::string>() == "inf" ? std::numeric_limits<double>::infinity()
                                                                    : json.get<double>();
    }
    /// As read() for a number that may be "inf".
    void readNumber(const char* pointer, double& value) const
    {
        const Json::json_pointer at(pointer);
        if (!m_document.contains(at)) return;
        try {
            value = number(m_document.at(at));
        } catch (const Json::exception& cause) {
            fail(pointer, "is of the wrong kind", cause.what());
        }
    }
    /// A word that `fromWord` turns into a value; `choices` says what there is.
    template <class T, class FromWord>
    void readWord(const char* pointer, T& value, FromWord fromWord, const char* choices) const
    {
        std::string word;
        read(pointer, word);
        if (word.empty()) return;
        const auto found = fromWord(word);
        if (!found) fail(pointer, std::string("is not ") + choices);
        value = *found;
    }
    void readPath(const char* pointer, fs::path& path) const
    {
        std::string text;
        read(pointer, text);
        if (!text.empty()) path = resolved(text);
    }
    [[nodiscard]] fs::path resolved(const std::string& text) const
    {
        return (fs::absolute(m_file).parent_path() / text).lexically_normal();
    }
    [[nodiscard]] const Json& document() const noexcept { return m_document; }
    [[noreturn]] void fail(const std::string& field, const std::string& matter,
                           const std::string& cause = {}) const
    {
        throw Error(fmt::format("{}: the field {} {}. Correct it in a text editor, or make the project anew.",
                                m_file.string(), field, matter),
                    cause);
    }

private:
    const fs::path& m_file;
    const Json& m_document;
};

inline Json number(double value)
{
    return std::isinf(value) ? Json("inf") : Json(value);
}

inline std::string relativePath(const fs::path& path, const fs::path& file)
{
    if (path.empty()) return {};
    const fs::path folder = fs::absolute(file).parent_path();
    const fs::path relative =
        fs::absolute(path).lexically_normal().lexically_relative(folder.lexically_normal());
    return relative.empty() ? path.string() : relative.string();
}

} // namespace retinex::project
