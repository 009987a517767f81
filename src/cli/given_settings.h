#pragma once

#include "core/project/settings/setting.h"
#include "core/system/error.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <map>
#include <memory>
#include <set>

/// Command-line options that follow from the descriptions of settings.
namespace retinex::cli {

/// What `add` adds to a command stands under a heading of its own in its help.
template <class Add>
void underHeading(CLI::App& command, const std::string& heading, Add add)
{
    const std::size_t before = command.get_options().size();
    add();
    const auto all = command.get_options();
    for (std::size_t i = before; i < all.size(); ++i)
        all[i]->group(heading);
}

/// The heading that options of a group of settings stand under.
inline std::string headingOf(project::Group group)
{
    return group == project::Group::none ? "Options" : project::titleOf(group);
}

/// Throws Error naming the option whose value its setting does not take.
template <class Owner>
void requireFits(const project::Field<Owner>& field, const std::string& option, double value)
{
    if (!field.fits(value)) throw Error(fmt::format("{} {:g}: must be {}.", option, value, field.allowed()));
}

/// Settings that were given on the command line. Copies share what was parsed.
template <class Owner>
class GivenSettings
{
public:
    /// An option for each setting that has one and that `wanted` says yes to. `required`: their options must
    /// be given.
    template <class Wanted>
    void addOptions(CLI::App& command, const project::Description<Owner>& description, Wanted wanted,
                    const std::set<std::string>& required = {})
    {
        for (const project::Field<Owner>& field : description.fields()) {
            if (field.option.empty() || !wanted(field)) continue;
            CLI::Option* option = add(command, field);
            option->group(headingOf(field.group));
            if (required.contains(field.option)) option->required();
        }
    }
    /// Lays what was given on `owner`. Throws Error naming the option whose value does not fit.
    void apply(Owner& owner) const
    {
        for (const auto& [path, set] : *m_given)
            set(owner);
    }

private:
    using Set = std::function<void(Owner&)>;

    CLI::Option* add(CLI::App& command, const project::Field<Owner>& field)
    {
        const auto give = [given = m_given, path = field.path](Set set) { (*given)[path] = std::move(set); };
        if (field.kind == project::Kind::onOff) {
            const bool turnsOff = field.option.starts_with('!');
            return command.add_flag_callback(
                field.option.substr(turnsOff ? 1 : 0),
                [=, &field] { give([=, &field](Owner& o) { field.set(o, turnsOff ? 0.0 : 1.0); }); },
                field.help);
        }
        if (field.kind == project::Kind::word) {
            std::vector<std::string> choices(field.choices.begin(), field.choices.end());
            return command
                .add_option_function<std::string>(
                    field.option,
                    [=, &field](const std::string& word) {
                        const auto found = std::find(choices.begin(), choices.end(), word);
                        const double value = static_cast<double>(found - choices.begin());
                        give([=, &field](Owner& o) { field.set(o, value); });
                    },
                    field.help)
                ->check(CLI::IsMember(choices))
                ->default_str(choices.at(static_cast<std::size_t>(field.defaultValue())));
        }
        if (!field.isNumber())
            return command.add_option_function<std::string>(
                field.option,
                [=, &field](const std::string& text) {
                    give([=, &field](Owner& o) {
                        std::get<typename project::Field<Owner>::template Access<std::string>>(field.access)
                            .set(o, text);
                    });
                },
                field.help);
        const auto take = [=, &field](double value) {
            give([=, &field](Owner& o) {
                requireFits(field, field.option, value);
                field.set(o, value);
            });
        };
        return command.add_option_function<double>(field.option, take, field.help);
    }

    std::shared_ptr<std::map<std::string, Set>> m_given = std::make_shared<std::map<std::string, Set>>();
};

} // namespace retinex::cli
