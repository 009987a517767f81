#include "cli/commands.h"
#include "cli/console.h"
#include "core/base/error.h"
#include "core/passes/layers.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

namespace retinex::cli {

namespace {

using Json = nlohmann::ordered_json;

/// What the depth channel of one frame holds.
struct DepthSummary
{
    std::string channel;
    depth::DepthRange range;
};

struct FileReport
{
    passes::Sequence files;
    passes::ExrInfo info;
    std::vector<passes::ColourLayer> layers;
    std::vector<DepthSummary> depths;
};

FileReport examine(const std::string& name)
{
    FileReport report{passes::Sequence::find(name), {}, {}, {}};
    const auto file = report.files.isStill() || passes::isPattern(name)
                          ? report.files.file(report.files.isStill() ? 1 : report.files.frames().front())
                          : std::filesystem::path(name);
    report.info = passes::inspectExr(file);
    report.layers = passes::colourLayers(report.info);
    for (const auto& channel : passes::depthChannels(report.info)) {
        const auto stored = passes::readExrChannels(file, channel.part, {channel.channel}).planes[0];
        const auto reading = depth::toDistance(stored, depth::Reading::distanceFromCameraPlane);
        report.depths.push_back({channel.channel, depth::depthRange(reading.distance)});
    }
    return report;
}

Json boxJson(const passes::PixelBox& box)
{
    return {box.minX, box.minY, box.maxX, box.maxY};
}

Json toJson(const FileReport& report)
{
    Json json{{"file", report.info.file.string()}};
    if (!report.files.isStill())
        json["sequence"] = {{"pattern", report.files.pattern().string()},
                            {"first", report.files.frames().front()},
                            {"last", report.files.frames().back()},
                            {"missing", report.files.missing()}};
    json["parts"] = Json::array();
    for (const auto& part : report.info.parts) {
        Json channels = Json::array();
        for (const auto& channel : part.channels)
            channels.push_back({{"name", channel.name}, {"type", passes::name(channel.type)}});
        json["parts"].push_back({{"name", part.name},
                                 {"displayWindow", boxJson(part.displayWindow)},
                                 {"dataWindow", boxJson(part.dataWindow)},
                                 {"pixelAspect", part.pixelAspect},
                                 {"compression", part.compression},
                                 {"tiled", part.tiled},
                                 {"deep", part.deep},
                                 {"channels", channels}});
    }
    json["colourLayers"] = Json::array();
    for (const auto& layer : report.layers)
        json["colourLayers"].push_back({{"layer", layer.layer}, {"alpha", layer.alpha.has_value()}});
    json["depth"] = Json::array();
    for (const auto& depth : report.depths) {
        Json entry{
            {"channel", depth.channel}, {"gaps", depth.range.gapCount}, {"pixels", depth.range.pixelCount}};
        if (depth.range.hasSurface()) {
            entry["nearest"] = depth.range.nearest;
            entry["farthest"] = depth.range.farthest;
        }
        json["depth"].push_back(entry);
    }
    return json;
}

void printPart(const passes::PartInfo& part)
{
    fmt::print("  part {}: {} x {} px, {}{}{}\n", part.name.empty() ? "(nameless)" : part.name,
               part.displayWindow.width(), part.displayWindow.height(), part.compression,
               part.tiled ? ", tiled" : "", part.deep ? ", deep" : "");
    if (!(part.dataWindow == part.displayWindow))
        fmt::print("    data window {} x {} px at {}, {}\n", part.dataWindow.width(),
                   part.dataWindow.height(), part.dataWindow.minX, part.dataWindow.minY);
    std::vector<std::string> channels;
    for (const auto& channel : part.channels)
        channels.push_back(fmt::format("{} ({})", channel.name, passes::name(channel.type)));
    fmt::print("    channels: {}\n", fmt::join(channels, ", "));
}

void print(const FileReport& report)
{
    fmt::print("{}\n", report.info.file.string());
    if (!report.files.isStill()) {
        fmt::print("  sequence {}: frames {}\n", report.files.pattern().filename().string(),
                   passes::describeFrames(report.files.frames()));
        if (const auto missing = report.files.missing(); !missing.empty())
            fmt::print("  missing frames: {}\n", passes::describeFrames(missing));
    }
    for (const auto& part : report.info.parts)
        printPart(part);
    for (const auto& layer : report.layers)
        fmt::print("  colour layer {}: {}\n", layer.layer.empty() ? "(nameless)" : layer.layer,
                   layer.alpha ? "with alpha" : "opaque");
    for (const auto& depth : report.depths) {
        const double gaps =
            100.0 * static_cast<double>(depth.range.gapCount) / static_cast<double>(depth.range.pixelCount);
        if (depth.range.hasSurface())
            fmt::print(
                "  depth {}: values {:.4g} to {:.4g}, gaps {:.1f} %, read as distance from camera plane\n",
                depth.channel, depth.range.nearest, depth.range.farthest, gaps);
        else
            fmt::print("  depth {}: nothing but gaps\n", depth.channel);
    }
    if (report.depths.empty()) fmt::print("  no channel whose name speaks of depth\n");
}

} // namespace

void addInspect(CLI::App& app, Action& action)
{
    auto* command =
        app.add_subcommand("inspect", "Tell what files hold: parts, layers, channels, windows, depth");
    auto files = std::make_shared<std::vector<std::string>>();
    auto json = std::make_shared<bool>(false);
    command->add_option("FILE", *files, "EXR files, or frames or patterns of sequences")->required();
    command->add_flag("--json", *json, "One JSON document on stdout");
    command->callback([=, &action] {
        action = [=] {
            int failures = 0;
            Json document = Json::array();
            for (const std::string& file : *files) {
                try {
                    const FileReport report = examine(file);
                    if (*json)
                        document.push_back(toJson(report));
                    else
                        print(report);
                } catch (const Error& error) {
                    fmt::print(stderr, "{}\n", error.what());
                    ++failures;
                }
            }
            if (*json) fmt::print("{}\n", document.dump(2));
            return failures ? 1 : 0;
        };
    });
}

} // namespace retinex::cli
