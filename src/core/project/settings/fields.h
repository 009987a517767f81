#pragma once

#include "core/project/settings/setting.h"

#include <array>

/// Short ways to describe a field. For the descriptions alone.
namespace retinex::project {

/// Get and set of a plain member, named from the owner on. Plain functions, by the +: they compile quickly.
#define RETINEX_MEMBER(Owner, member)                                                                        \
    +[](const Owner& o) { return static_cast<double>(o.member); },                                           \
        +[](Owner& o, double value) { o.member = static_cast<decltype(o.member)>(value); }

template <class Owner>
Field<Owner> numberField(std::string path, std::string title, Kind kind, Range range,
                         std::function<double(const Owner&)> get, std::function<void(Owner&, double)> set)
{
    Field<Owner> field;
    field.path = std::move(path);
    field.title = std::move(title);
    field.kind = kind;
    field.range = range;
    field.access = typename Field<Owner>::template Access<double>{std::move(get), std::move(set)};
    return field;
}

template <class Owner>
Field<Owner> switchField(std::string path, std::string title, std::function<double(const Owner&)> get,
                         std::function<void(Owner&, double)> set)
{
    return numberField<Owner>(std::move(path), std::move(title), Kind::onOff, {0.0, 1.0}, std::move(get),
                              std::move(set));
}

template <class Owner>
Field<Owner> wordField(std::string path, std::string title, std::vector<std::string_view> choices,
                       std::function<double(const Owner&)> get, std::function<void(Owner&, double)> set)
{
    auto field =
        numberField<Owner>(std::move(path), std::move(title), Kind::word,
                           {0.0, static_cast<double>(choices.size()) - 1.0}, std::move(get), std::move(set));
    field.choices = std::move(choices);
    return field;
}

template <class Owner>
Field<Owner> textField(std::string path, std::string title, Kind kind,
                       std::function<std::string(const Owner&)> get,
                       std::function<void(Owner&, std::string)> set)
{
    Field<Owner> field;
    field.path = std::move(path);
    field.title = std::move(title);
    field.kind = kind;
    field.access = typename Field<Owner>::template Access<std::string>{std::move(get), std::move(set)};
    return field;
}

/// A text or a path of files, named from the owner on.
#define RETINEX_TEXT(Owner, member)                                                                          \
    +[](const Owner& o) { return std::string(o.member); },                                                   \
        +[](Owner& o, std::string text) { o.member = text; }

} // namespace retinex::project
