#include "cli/commands.h"
#include "cli/console.h"
#include "cli/reading_options.h"
#include "cli/reports.h"
#include "core/passes/scene/scene_file.h"
#include "core/system/error.h"

#include <cmath>
#include <cstdio>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace retinex::cli {

namespace {

struct ProbeOptions
{
    std::string file;
    std::string at;
    std::string point;
    project::SceneCamera scene;
    double frame = 0.0;
    ReadingOptions reading;
    bool json = false;
};

std::pair<int, int> parsePlace(const std::string& at)
{
    int x = 0;
    int y = 0;
    int used = 0;
    if (std::sscanf(at.c_str(), "%d,%d%n", &x, &y, &used) != 2 || static_cast<std::size_t>(used) != at.size())
        throw Error(fmt::format(
            "\"{}\" is not a place in the picture. Write it as X,Y, in px from the upper left.", at));
    return {x, y};
}

int probePicture(const ProbeOptions& options)
{
    const auto [x, y] = parsePlace(options.at);
    const passes::PassChoice file = depthChoice(options.file);
    const passes::PassSource source(colourBeside(file), {{}, file.name}, passOptions(options.reading));
    const int frame = namedFrame(source.colourFiles(), file.file).value_or(source.firstFrame());
    const auto passes = source.load(frame, readingSettings(options.reading, source, frame));
    if (!passes->stored().contains(x, y))
        throw Error(fmt::format("{}: {},{} lies outside the picture of {} x {} px.", file.file.string(), x, y,
                                passes->stored().width(), passes->stored().height()));
    const float distance = passes->distance().at(x, y);
    const float stored = passes->stored().at(x, y);
    const bool gap = passes->gaps().at(x, y) != 0;
    const auto value = [&, x = x, y = y](int c) { return passes->colour().plane(c).at(x, y); };
    if (options.json) {
        nlohmann::ordered_json json{{"x", x}, {"y", y}, {"rgba", {value(0), value(1), value(2), value(3)}}};
        json["stored"] =
            std::isfinite(stored) ? nlohmann::ordered_json(stored) : nlohmann::ordered_json(nullptr);
        json["gap"] = gap;
        if (std::isfinite(distance)) json["distance"] = distance;
        printJson(json);
        return 0;
    }
    const std::string words = !gap                      ? fmt::format("{:.6g} scene units", distance)
                              : std::isfinite(distance) ? fmt::format("{:.6g} scene units (gap)", distance)
                                                        : std::string("none (gap)");
    fmt::print("{},{}  R {:.5g}  G {:.5g}  B {:.5g}  A {:.5g}  stored {:.6g}  distance {}\n", x, y, value(0),
               value(1), value(2), value(3), stored, words);
    return 0;
}

int probeScene(const ProbeOptions& options)
{
    const auto scene = passes::SceneFile::load(options.file);
    if (scene.cameras().empty())
        throw Error(fmt::format("{}: has no camera. Export it with one.", options.file));
    const int camera =
        options.scene.camera.empty() ? scene.cameras().front().node : scene.cameraNamed(options.scene.camera);
    const double seconds = options.scene.secondsAt(options.frame);
    const double distance = scene.planarDistance(camera, scene.pointNamed(options.point), seconds);
    if (options.json)
        printJson(Json{{"point", options.point}, {"frame", options.frame}, {"distance", distance}});
    else
        fmt::print("{} at frame {:g}: distance {:.6g} scene units\n", options.point, options.frame, distance);
    return 0;
}

} // namespace

void addProbe(CLI::App& app, Action& action)
{
    auto* command =
        app.add_subcommand("probe", "Read the values at one place of a frame, or a point of a scene");
    auto options = std::make_shared<ProbeOptions>();
    command
        ->add_option("FILE", options->file,
                     "A picture, FILE[:CHANNEL] for another depth channel; or a glTF scene")
        ->required();
    auto* at = command->add_option("--at", options->at, "X,Y in px from the upper left");
    auto* point =
        command->add_option("--point", options->point, "A named point of a glTF scene")->excludes(at);
    command->add_option("--camera", options->scene.camera, "A camera of the scene; the first otherwise")
        ->needs(point);
    command->add_option("--frame", options->frame, "Frame of the scene")->needs(point);
    command->add_option("--fps", options->scene.framesPerSecond, "Frames a second of the scene")
        ->needs(point)
        ->check(CLI::PositiveNumber);
    command->require_option(1, 0);
    command->add_flag("--json", options->json, "One JSON document on stdout");
    addReadingOptions(*command, options->reading);
    command->callback([=, &action] {
        if (options->at.empty() == options->point.empty())
            throw CLI::RequiredError("--at X,Y for a picture, or --point NAME for a scene,");
        action = [=] { return options->point.empty() ? probePicture(*options) : probeScene(*options); };
    });
}

} // namespace retinex::cli
