#pragma once

#include "core/project/settings/setting.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <map>
#include <memory>
#include <nlohmann/json.hpp>

/// Reading and writing fields of the project file. For this folder.
namespace retinex::project {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

/// Reads the fields of one item (the project, a shot, a mark, ...), knows where in the file it lies and what
/// to say when a field is wrong, and remembers which keys were asked for: the others are kept (unknown()).
class Reader
{
public:
    /// `item`: where it lies, "/shots/2"; "" is the document. `putRight` hears of values that did not fit.
    Reader(const fs::path& file, const Json& json, std::vector<std::string>& putRight, std::string item = {})
        : m_file(file), m_json(&json), m_item(std::move(item)), m_putRight(putRight),
          m_known(std::make_shared<Known>())
    {
        if (!json.is_object()) fail("", "is of the wrong kind");
    }

    /// "/lens/fStop"; null when it is not there.
    [[nodiscard]] const Json* find(std::string_view pointer) const
    {
        const Json* json = m_json;
        Known* known = m_known.get();
        for (std::size_t at = 0; at < pointer.size();) {
            if (!json->is_object()) fail(pointer.substr(0, at), "is of the wrong kind");
            const std::size_t end = std::min(pointer.find('/', at + 1), pointer.size());
            const std::string key(pointer.substr(at + 1, end - at - 1));
            known = &known->keys[key];
            const auto found = json->find(key);
            if (found == json->end()) return nullptr;
            json = &*found;
            at = end;
        }
        return json;
    }
    /// For an item that was found by other means.
    [[nodiscard]] Reader itemOf(const Json& json, const std::string& pointer) const
    {
        return Reader(m_file, json, m_putRight, m_item + pointer);
    }
    /// Says that a key is known, whatever it holds.
    void know(const std::string& section, const std::string& key) const
    {
        (void)find(section);
        m_known->keys[section.substr(1)].keys[key];
    }
    /// The items of a list; none when it is not there.
    template <class Work>
    void readEach(const std::string& pointer, Work work) const
    {
        const Json* list = find(pointer);
        if (!list) return;
        if (!list->is_array()) fail(pointer, "is not a list");
        for (std::size_t i = 0; i < list->size(); ++i)
            work(Reader(m_file, (*list)[i], m_putRight, m_item + pointer + "/" + std::to_string(i)));
    }
    /// The name (or id) of an item of a list: there must be one, and none before may have it. `kind` is what
    /// they are.
    template <class Items>
    [[nodiscard]] std::string readOwnName(const Items& before, const char* kind) const
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
        if (const Json* at = find(pointer)) value = as<T>(*at, pointer);
    }
    void readFrame(const char* pointer, int& frame) const
    {
        if (const Json* at = find(pointer)) frame = frameOf(*at, pointer);
    }
    [[nodiscard]] int frameOf(const Json& json, std::string_view pointer) const
    {
        const double frame = wholeNumber(json, pointer);
        // Frames are counted within what arithmetic with them can stand.
        if (std::abs(frame) > 1e8) fail(pointer, "is not a frame within ± 100,000,000");
        return static_cast<int>(frame);
    }
    /// JSON has no infinity: it is written as "inf".
    [[nodiscard]] double numberOf(const Json& json, std::string_view pointer) const
    {
        if (json == "inf") return std::numeric_limits<double>::infinity();
        return as<double>(json, pointer);
    }
    [[nodiscard]] double wholeNumber(const Json& json, std::string_view pointer) const
    {
        const double value = as<double>(json, pointer);
        if (value != std::floor(value)) fail(pointer, "is not a whole number");
        return value;
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
    template <class T>
    [[nodiscard]] T as(const Json& json, std::string_view pointer) const
    {
        // A list of whole numbers would cut fractions off in silence.
        if constexpr (std::is_same_v<T, std::vector<int>>) {
            if (!json.is_array()) fail(pointer, "is not a list");
            std::vector<int> frames;
            for (const Json& entry : json)
                frames.push_back(frameOf(entry, pointer));
            return frames;
        } else {
            try {
                if (std::is_same_v<T, double> && !json.is_number()) fail(pointer, "is not a number");
                return json.get<T>();
            } catch (const Json::exception& cause) {
                fail(pointer, "is of the wrong kind", cause.what());
            }
        }
    }
    [[nodiscard]] fs::path resolved(const std::string& text) const
    {
        return (fs::absolute(m_file).parent_path() / text).lexically_normal();
    }
    /// A value that does not fit is no reason to refuse a piece of work: another one takes its place, and
    /// that is said.
    void putRight(std::string_view field, const std::string& matter) const
    {
        m_putRight.push_back(say("{}{} {}", m_item, field, matter));
    }
    [[noreturn]] void fail(std::string_view field, const std::string& matter,
                           const std::string& cause = {}) const
    {
        throw Error(say("{}: the field {}{} {}. Correct it in a text editor, or make the project anew.",
                        m_file.string(), m_item, field, matter),
                    cause);
    }
    /// What of the item was not asked for, as JSON; "" is nothing.
    [[nodiscard]] std::string unknown() const
    {
        const Json rest = rest_(*m_json, *m_known);
        // In the order of names: that of the file changes with what is known.
        return rest.empty() ? std::string() : nlohmann::json::parse(rest.dump()).dump();
    }

private:
    /// Keys that were asked for. One without keys below was taken as a whole.
    struct Known
    {
        std::map<std::string, Known> keys;
    };
    static Json rest_(const Json& json, const Known& known)
    {
        Json rest = Json::object();
        for (const auto& [key, value] : json.items()) {
            const auto found = known.keys.find(key);
            if (found == known.keys.end()) {
                rest[key] = value;
            } else if (!found->second.keys.empty() && value.is_object()) {
                Json below = rest_(value, found->second);
                if (!below.empty()) rest[key] = std::move(below);
            }
        }
        return rest;
    }

    const fs::path& m_file;
    const Json* m_json;
    std::string m_item;
    std::vector<std::string>& m_putRight;
    std::shared_ptr<Known> m_known;
};

inline Json number(double value)
{
    return std::isinf(value) ? Json("inf") : Json(value);
}

/// Puts a value under a pointer ("/lens/fStop"), with the sections on the way there.
inline Json& place(Json& json, std::string_view pointer)
{
    Json* at = &json;
    for (std::size_t i = 0; i < pointer.size();) {
        const std::size_t end = std::min(pointer.find('/', i + 1), pointer.size());
        at = &(*at)[std::string(pointer.substr(i + 1, end - i - 1))];
        i = end;
    }
    return *at;
}

/// Adds what Reader::unknown() kept of an item; what is there already stays.
void addUnknown(Json& json, const std::string& unknown);

/// Without a file the path as it is.
[[nodiscard]] std::string relativePath(const fs::path& path, const fs::path& file);

/// Reads what is described, held to ranges and choices. Fields that are absent keep their value.
template <class Owner>
void readField(const Reader& reader, const Field<Owner>& field, const std::string& pointer, Owner& owner)
{
    const Json* json = reader.find(pointer);
    if (!json) return;
    if (field.kind == Kind::pairs) {
        Pairs pairs;
        if (!json->is_array()) reader.fail(pointer, "is not a list of pairs of numbers");
        for (const Json& pair : *json) {
            if (!pair.is_array() || pair.size() != 2 || !pair[0].is_number() || !pair[1].is_number())
                reader.fail(pointer, "is not a list of pairs of numbers");
            pairs.emplace_back(pair[0].get<double>(), pair[1].get<double>());
        }
        std::get<typename Field<Owner>::template Access<Pairs>>(field.access).set(owner, std::move(pairs));
        return;
    }
    if (field.kind == Kind::area) {
        try {
            std::get<typename Field<Owner>::template Access<std::string>>(field.access)
                .set(owner, json->dump());
        } catch (const Error& error) {
            reader.fail(pointer, error.what(), error.cause());
        }
        return;
    }
    if (field.kind == Kind::text || field.kind == Kind::file) {
        std::string text = reader.as<std::string>(*json, pointer);
        if (field.kind == Kind::file && !text.empty()) text = reader.resolved(text).string();
        std::get<typename Field<Owner>::template Access<std::string>>(field.access)
            .set(owner, std::move(text));
        return;
    }
    double value = 0.0;
    if (field.kind == Kind::onOff) {
        value = reader.as<bool>(*json, pointer) ? 1.0 : 0.0;
    } else if (field.kind == Kind::word) {
        const auto word = reader.as<std::string>(*json, pointer);
        const auto found = std::find(field.choices.begin(), field.choices.end(), word);
        if (found == field.choices.end()) {
            const auto kept = static_cast<std::size_t>(field.get(owner));
            reader.putRight(pointer, say("is not {}: {} is taken", fmt::join(field.choices, ", "),
                                         field.choices.at(kept)));
            return;
        }
        value = static_cast<double>(found - field.choices.begin());
    } else {
        value = reader.numberOf(*json, pointer);
        if (!field.fits(value)) {
            const double held = std::isnan(value) ? field.get(owner) : field.held(value);
            reader.putRight(pointer, say("({}) is {:g} and must be {}: {:g} is taken", field.title, value,
                                         field.allowed(), held));
            value = held;
        }
    }
    field.set(owner, value);
}

template <class Owner>
void readDescribed(const Reader& reader, const Description<Owner>& description, Owner& owner)
{
    for (const Field<Owner>& field : description.fields())
        readField(reader, field, '/' + field.path, owner);
    for (const auto& list : description.lists())
        reader.readEach('/' + list.name, [&](const Reader& entry) {
            std::string id;
            entry.read("/id", id);
            if (id.empty() || id.find('/') != std::string::npos)
                entry.fail("/id", "is missing or has a slash");
            const auto ids = list.ids(owner);
            if (std::find(ids.begin(), ids.end(), id) != ids.end())
                entry.fail("/id", "is that of another one");
            list.add(owner, id);
            for (const Field<Owner>& field : list.fields(id))
                readField(entry, field, field.path.substr(list.name.size() + 1 + id.size()), owner);
            if (std::string* unknown = list.unknown(owner, id)) *unknown = entry.unknown();
        });
}

template <class Owner>
[[nodiscard]] Json toJson(const Field<Owner>& field, const Owner& owner, const fs::path& file)
{
    if (field.kind == Kind::pairs) {
        Json list = Json::array();
        for (const auto& [a, b] :
             std::get<typename Field<Owner>::template Access<Pairs>>(field.access).get(owner))
            list.push_back({a, b});
        return list;
    }
    if (field.kind == Kind::area)
        return Json::parse(
            std::get<typename Field<Owner>::template Access<std::string>>(field.access).get(owner));
    if (field.kind == Kind::text || field.kind == Kind::file) {
        const std::string text =
            std::get<typename Field<Owner>::template Access<std::string>>(field.access).get(owner);
        return field.kind == Kind::file ? relativePath(text, file) : text;
    }
    const double value = field.get(owner);
    if (field.kind == Kind::onOff) return value != 0.0;
    if (field.kind == Kind::word) return field.choices.at(static_cast<std::size_t>(value));
    if (field.isWhole()) return static_cast<int>(value);
    return number(value);
}

/// `file` is where it will be, for relative paths.
template <class Owner>
void writeDescribed(const fs::path& file, const Description<Owner>& description, const Owner& owner,
                    Json& json)
{
    for (const Field<Owner>& field : description.fields())
        if (!field.isThere || field.isThere(owner))
            place(json, '/' + field.path) = toJson(field, owner, file);
    for (const auto& list : description.lists()) {
        Json& entries = place(json, '/' + list.name) = Json::array();
        for (const std::string& id : list.ids(owner)) {
            Json entry{{"id", id}};
            for (const Field<Owner>& field : list.fields(id))
                if (!field.isThere || field.isThere(owner))
                    place(entry, field.path.substr(list.name.size() + 1 + id.size())) =
                        toJson(field, owner, file);
            if (const std::string* unknown = list.unknown(const_cast<Owner&>(owner), id))
                addUnknown(entry, *unknown);
            entries.push_back(std::move(entry));
        }
    }
}

} // namespace retinex::project
