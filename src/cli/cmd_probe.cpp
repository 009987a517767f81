#include "cli/commands.h"
#include "cli/console.h"
#include "core/base/error.h"

#include <cmath>
#include <cstdio>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace retinex::cli {

namespace {

int probe(const std::string& fileName, const std::string& at, bool asJson)
{
    int x = 0;
    int y = 0;
    int used = 0;
    if (std::sscanf(at.c_str(), "%d,%d%n", &x, &y, &used) != 2 || static_cast<std::size_t>(used) != at.size())
        throw Error(fmt::format(
            "\"{}\" is not a place in the picture. Write it as X,Y, in px from the upper left.", at));
    const passes::PassChoice file = parsePassChoice(fileName);
    const passes::PassSource source({file.file, {}}, {{}, file.name});
    const auto passes =
        source.load(namedFrame(source.colourFiles(), file.file).value_or(source.firstFrame()));
    if (!passes->stored.contains(x, y))
        throw Error(fmt::format("{}: {},{} lies outside the picture of {} x {} px.", file.file.string(), x, y,
                                passes->stored.width(), passes->stored.height()));
    const float distance = passes->distance.at(x, y);
    const auto value = [&](int c) { return passes->colour.plane(c).at(x, y); };
    if (asJson) {
        nlohmann::ordered_json json{{"x", x}, {"y", y}, {"rgba", {value(0), value(1), value(2), value(3)}}};
        const float stored = passes->stored.at(x, y);
        json["stored"] =
            std::isfinite(stored) ? nlohmann::ordered_json(stored) : nlohmann::ordered_json(nullptr);
        json["gap"] = !std::isfinite(distance);
        if (std::isfinite(distance)) json["distance"] = distance;
        fmt::print("{}\n", json.dump(2));
        return 0;
    }
    fmt::print("{},{}  R {:.5g}  G {:.5g}  B {:.5g}  A {:.5g}  stored {:.6g}  distance {}\n", x, y, value(0),
               value(1), value(2), value(3), passes->stored.at(x, y),
               std::isfinite(distance) ? fmt::format("{:.6g}", distance) : std::string("none (gap)"));
    return 0;
}

} // namespace

void addProbe(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("probe", "Read the values at one place of a frame");
    auto file = std::make_shared<std::string>();
    auto at = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    command->add_option("FILE", *file, "EXR file, FILE[:CHANNEL] for another depth channel")->required();
    command->add_option("--at", *at, "X,Y in px from the upper left")->required();
    command->add_flag("--json", *json, "One JSON document on stdout");
    command->callback([=, &action] { action = [=] { return probe(*file, *at, *json); }; });
}

} // namespace retinex::cli
