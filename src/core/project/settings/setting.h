#pragma once

#include "core/timeline/marks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <compare>
#include <functional>
#include <initializer_list>
#include <limits>
#include <memory>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

/// Settings are described once: reading and writing the project, ranges and their messages, marks, field
/// formats, copying, fingerprints, command-line options and the table in docs/project-file.md follow from the
/// descriptions. A description belongs to the struct whose members it names (`Owner`).
namespace retinex::project {

/// Where a setting is found: "lens/fStop", of a member of a list "glows/<id>/amount".
class SettingPath
{
public:
    SettingPath() = default;
    SettingPath(std::string text) : m_text(std::move(text)) {} // NOLINT: a path is its text
    SettingPath(std::string_view text) : m_text(text) {}       // NOLINT
    SettingPath(const char* text) : m_text(text) {}            // NOLINT
    [[nodiscard]] const std::string& text() const noexcept { return m_text; }
    friend auto operator<=>(const SettingPath&, const SettingPath&) = default;
    friend bool operator==(const SettingPath&, const SettingPath&) = default;

private:
    std::string m_text;
};

/// What a value is: how it is written, typed and stepped.
enum class Kind {
    distance, ///< scene units, > 0; +inf allowed where the range says so
    length,   ///< scene units, from 0: a difference of distances
    millimetres,
    metres,
    pixels,    ///< of the full frame
    share,     ///< 0..1 and the like; shown in per cent
    fineShare, ///< the same for small ones, shown in tenths of a per cent
    kelvin,
    degrees,
    stops,
    fStop,
    factor,
    plain,
    levels, ///< a whole number
    blades, ///< a whole number; 0 is a circle
    frame,  ///< a whole number
    onOff,
    word, ///< one of a list
    text,
    file,
    pairs, ///< a list of pairs of numbers
    area   ///< of a region: JSON as text, which the owner reads and checks
};

/// What is copied together from shot to shot, and stands under one heading.
enum class Group { none, reading, lens, focus, iris, repair, regions, inserts, finish };
using Groups = std::set<Group>;
/// All but none, in the order they are listed in.
inline constexpr std::array kGroups{Group::reading, Group::lens,    Group::focus,   Group::iris,
                                    Group::repair,  Group::regions, Group::inserts, Group::finish};
/// "Focus and held zone": what it is called on screen.
[[nodiscard]] std::string titleOf(Group group);

/// The stage that takes it; none: it changes no picture. See core/frame/stages.h.
enum class Stage { none, passes, distances, regions, inserts, lensInput, throughLens, finish };

struct Range
{
    double minimum = -std::numeric_limits<double>::infinity();
    double maximum = std::numeric_limits<double>::infinity();
    [[nodiscard]] bool contains(double value) const noexcept { return value >= minimum && value <= maximum; }
    /// "0.1 to 128", "from 0": what fits, for messages.
    [[nodiscard]] std::string words() const;
};

/// What does not depend on the owner.
struct SettingInfo
{
    std::string path;
    std::string title; ///< on screen, in a sentence: "f-stop"
    Kind kind = Kind::plain;
    Range range{};
    std::vector<std::string_view> choices{}; ///< of a word, in the order of its numbers
    std::optional<timeline::Blend> blend{};  ///< may have marks, and how values between them come about
    Group group = Group::none;
    Stage stage = Stage::none;
    bool followsSize = false; ///< px: a picture of half the size has half of it
    std::string option{};     ///< "--fstop"; of a switch "!--no-mattes" turns it off; "": none
    std::string help{};       ///< one sentence, for the command line and the table
    /// Of its row on screen, where the description makes one: "Amount", what the pointer is told there, and
    /// of a word its choices as they are said.
    std::string label{};
    std::string tip{};
    std::vector<std::string_view> saidChoices{};
    std::vector<std::string> (*names)() = nullptr; ///< of a text, those that it may be; "" may be too

    [[nodiscard]] bool mayHaveMarks() const noexcept { return blend.has_value(); }
    [[nodiscard]] bool isWhole() const noexcept
    {
        return kind == Kind::levels || kind == Kind::blades || kind == Kind::frame;
    }
    [[nodiscard]] bool fits(double value) const noexcept
    {
        // There is no polygon of one or two blades.
        return range.contains(value) && (!isWhole() || value == std::floor(value)) &&
               (kind != Kind::blades || value == 0.0 || value >= 3.0);
    }
    [[nodiscard]] std::string allowed() const;
};

using Pairs = std::vector<std::pair<double, double>>;

/// One setting of an owner. Numbers, switches (0, 1) and words (their place in the list) are read and set as
/// numbers.
template <class Owner>
struct Field : SettingInfo
{
    template <class V>
    struct Access
    {
        using Value = V;
        std::function<V(const Owner&)> get;
        std::function<void(Owner&, V)> set;
    };
    std::variant<Access<double>, Access<std::string>, Access<Pairs>> access;
    std::function<void(const Owner&, Owner&)> copier; ///< null: by get and set
    std::function<bool(const Owner&)> isThere; ///< null: always; else it is not written where it is not

    [[nodiscard]] bool isNumber() const noexcept { return std::holds_alternative<Access<double>>(access); }
    [[nodiscard]] double get(const Owner& owner) const { return std::get<Access<double>>(access).get(owner); }
    /// As it is; the caller holds it to the range.
    void set(Owner& owner, double value) const { std::get<Access<double>>(access).set(owner, value); }
    /// Held to what fits.
    [[nodiscard]] double held(double value) const
    {
        if (isWhole()) value = std::round(value);
        value = std::min(std::max(value, range.minimum), range.maximum);
        return fits(value) ? value : defaultValue(); // one or two blades
    }
    [[nodiscard]] double defaultValue() const { return get(Owner{}); }

    void copy(const Owner& from, Owner& to) const
    {
        if (copier)
            copier(from, to);
        else
            std::visit([&](const auto& a) { a.set(to, a.get(from)); }, access);
    }

    // For lists of descriptions: each adds a property and passes the whole on.
    Field&& marks(timeline::Blend how) &&
    {
        blend = how;
        return std::move(*this);
    }
    Field&& in(Group copiedWith, Stage takenBy) &&
    {
        group = copiedWith;
        stage = takenBy;
        return std::move(*this);
    }
    Field&& cli(std::string name, std::string words) &&
    {
        option = std::move(name);
        help = std::move(words);
        return std::move(*this);
    }
    Field&& says(std::string words) &&
    {
        help = std::move(words);
        return std::move(*this);
    }
    /// Its row on screen.
    Field&& row(std::string words, std::string meaning, std::vector<std::string_view> choicesSaid = {}) &&
    {
        label = std::move(words);
        tip = std::move(meaning);
        saidChoices = std::move(choicesSaid);
        return std::move(*this);
    }
    Field&& oneOf(std::vector<std::string> (*allowedNames)()) &&
    {
        names = allowedNames;
        return std::move(*this);
    }
    Field&& where(std::function<bool(const Owner&)> there) &&
    {
        isThere = std::move(there);
        return std::move(*this);
    }
    Field&& copied(std::function<void(const Owner&, Owner&)> how) &&
    {
        copier = std::move(how);
        return std::move(*this);
    }
    Field&& scaled() &&
    {
        followsSize = true;
        return std::move(*this);
    }
};

/// Shared, since those of members are made when asked for.
template <class Owner>
using FieldPtr = std::shared_ptr<const Field<Owner>>;

/// The fields of a struct and its lists of members. A member has an `id` that no other one of its list has.
template <class Owner>
class Description
{
public:
    /// A list of members, without their type.
    struct List
    {
        std::string name; ///< "glows"
        Group group = Group::none;
        std::function<void(const Owner& from, Owner& to)> copy; ///< all members, in place of the other's
        std::function<std::vector<std::string>(const Owner&)> ids;
        std::function<void(Owner&, const std::string& id)> add;
        /// A member's fields as fields of the owner, under their whole path. Of a member that is not there
        /// the default is got, and what is set is lost.
        std::function<std::vector<Field<Owner>>(const std::string& id)> fields;
        /// One of them, by what comes after the id; null where none is described.
        std::function<FieldPtr<Owner>(const std::string& id, std::string_view key)> field;
        /// What its file held besides; null where members keep none.
        std::function<std::string*(Owner&, const std::string& id)> unknown;
    };

    explicit Description(std::vector<Field<Owner>> fields) : m_fields(std::move(fields)) {}

    /// `description` must live as long as this one.
    template <class Member>
    Description& list(const std::string& name, std::vector<Member> Owner::*members,
                      const Description<Member>& description, Group group = Group::none)
    {
        m_lists.push_back(
            {name, group, [members](const Owner& from, Owner& to) { to.*members = from.*members; },
             [members](const Owner& owner) {
                 std::vector<std::string> ids;
                 for (const Member& member : owner.*members)
                     ids.push_back(member.id);
                 return ids;
             },
             [members](Owner& owner, const std::string& id) {
                 (owner.*members).emplace_back();
                 (owner.*members).back().id = id;
             },
             [name, members, &description](const std::string& id) {
                 std::vector<Field<Owner>> fields;
                 for (const Field<Member>& field : description.fields())
                     fields.push_back(bound(name, members, id, field));
                 return fields;
             },
             [name, members, &description](const std::string& id, std::string_view key) -> FieldPtr<Owner> {
                 const auto field = description.find(key);
                 return field ? std::make_shared<const Field<Owner>>(bound(name, members, id, *field))
                              : nullptr;
             },
             [members](Owner& owner, const std::string& id) -> std::string* {
                 if constexpr (requires(Member m) { m.unknown; })
                     for (Member& member : owner.*members)
                         if (member.id == id) return &member.unknown;
                 return nullptr;
             }});
        return *this;
    }

    [[nodiscard]] std::span<const Field<Owner>> fields() const noexcept { return m_fields; }
    [[nodiscard]] std::span<const List> lists() const noexcept { return m_lists; }

    /// The field under a path; null where none is described.
    [[nodiscard]] FieldPtr<Owner> find(std::string_view path) const
    {
        for (const Field<Owner>& field : m_fields)
            if (field.path == path) return {std::shared_ptr<void>(), &field};
        for (const List& list : m_lists) {
            if (!path.starts_with(list.name + '/')) continue;
            const std::string_view rest = path.substr(list.name.size() + 1);
            const std::size_t slash = rest.find('/');
            if (slash == std::string_view::npos) continue;
            if (auto found = list.field(std::string(rest.substr(0, slash)), rest.substr(slash + 1)))
                return found;
        }
        return nullptr;
    }
    /// Plain fields and those of the members that `owner` has.
    [[nodiscard]] std::vector<Field<Owner>> allOf(const Owner& owner) const
    {
        std::vector<Field<Owner>> all(m_fields);
        for (const List& list : m_lists)
            for (const std::string& id : list.ids(owner))
                for (Field<Owner>& field : list.fields(id))
                    all.push_back(std::move(field));
        return all;
    }
    /// Place of a path in the order of descriptions, for lists on screen; those of members come last.
    [[nodiscard]] std::size_t order(std::string_view path) const noexcept
    {
        std::size_t i = 0;
        while (i < m_fields.size() && m_fields[i].path != path)
            ++i;
        return i;
    }

private:
    template <class Member>
    static Field<Owner> bound(const std::string& name, std::vector<Member> Owner::*members,
                              const std::string& id, const Field<Member>& field)
    {
        const auto find = [members, id](auto& owner) {
            auto& list = owner.*members;
            const auto it =
                std::find_if(list.begin(), list.end(), [&](const Member& m) { return m.id == id; });
            return it == list.end() ? nullptr : &*it;
        };
        Field<Owner> result;
        static_cast<SettingInfo&>(result) = field;
        result.path = name + '/' + id + '/' + field.path;
        std::visit(
            [&](const auto& access) {
                using Value = typename std::decay_t<decltype(access)>::Value;
                typename Field<Owner>::template Access<Value> own;
                own.get = [find, get = access.get](const Owner& owner) {
                    const Member* member = find(owner);
                    return get(member ? *member : Member{});
                };
                own.set = [find, set = access.set](Owner& owner, Value value) {
                    if (Member* member = find(owner)) set(*member, std::move(value));
                };
                result.access = std::move(own);
            },
            field.access);
        if (field.isThere)
            result.isThere = [find, there = field.isThere](const Owner& owner) {
                const Member* member = find(owner);
                return member && there(*member);
            };
        return result;
    }

    std::vector<Field<Owner>> m_fields;
    std::vector<List> m_lists;
};

} // namespace retinex::project
