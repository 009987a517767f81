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

/// One place that knows where in the document a field lies and what to say when it is wrong. Pointers are
/// taken from `prefix` on ("/shots/2").
class Reader
{
public:
    Reader(const fs::path& file, const Json& document, std::string prefix = {})
        : m_file(file), m_document(document), m_prefix(std::move(prefix))
    {
    }
    /// For the fields below one.
    [[nodiscard]] Reader below(const std::string& pointer) const
    {
        return {m_file, m_document, m_prefix + pointer};
    }
    /// Null when it is not there.
    [[nodiscard]] const Json* find(const std::string& pointer) const
    {
        const Json::json_pointer at(m_prefix + pointer);
        return m_document.contains(at) ? &m_document.at(at) : nullptr;
    }
    /// The entries of a list, each with a reader for its fields; none when it is not there.
    template <class Work>
    void readEach(const std::string& pointer, Work work) const
    {
        const Json* list = find(pointer);
        if (!list) return;
        if (!list->is_array()) fail(pointer, "is not a list");
        for (std::size_t i = 0; i < list->size(); ++i) {
            const Reader entry = below(pointer + "/" + std::to_string(i));
            if (!list->at(i).is_object()) entry.fail("", "is of the wrong kind");
            work(entry);
        }
    }

    /// The name of an entry of a list: there must be one, and none of the entries before may have it. `kind`
    /// is what they are.
    template <class Entries>
    [[nodiscard]] std::string readOwnName(const Entries& before, const char* kind) const
    {
        std::string name;
        read("/name", name);
        if (name.empty()) fail("/name", "is missing");
        for (const auto& other : before)
            if (other.name == name) fail("/name", std::string("is that of another ") + kind);
        return name;
    }

    template <class T>
    void read(const char* pointer, T& value) const
    {
        const Json* at = find(pointer);
        if (!at) return;
        try {
            value = at->get<T>();
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
        const Json* at = find(pointer);
        if (!at) return;
        try {
            value = number(*at);
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
    /// Frames are counted within what arithmetic with them can stand.
    void requireFrame(const std::string& pointer, int frame) const
    {
        if (std::abs(static_cast<double>(frame)) > 1e8) fail(pointer, "is not a frame within ± 100,000,000");
    }
    [[noreturn]] void fail(const std::string& field, const std::string& matter,
                           const std::string& cause = {}) const
    {
        throw Error(fmt::format("{}: the field {} {}. Correct it in a text editor, or make the project anew.",
                                m_file.string(), m_prefix + field, matter),
                    cause);
    }

private:
    const fs::path& m_file;
    const Json& m_document;
    std::string m_prefix;
};

inline Json number(double value)
{
    return std::isinf(value) ? Json("inf") : Json(value);
}

/// A section to write fields into: what is there already and is no section gives way. The reference holds
/// until the next key is added to `json`.
inline Json& section(Json& json, const char* key)
{
    Json& found = json[key];
    if (!found.is_object()) found = Json::object();
    return found;
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
