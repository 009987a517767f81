#include "cli/reports.h"

#include "core/colour/input_space.h"
#include "core/passes/frames/luminance.h"
#include "core/passes/image_file.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace retinex::cli {

namespace {

/// Alpha of the first colour layer, when it is as large as `like`.
std::optional<Plane<float>> alphaFor(const FileReport& report, const std::filesystem::path& file,
                                     const Plane<float>& like)
{
    if (report.layers.empty() || !report.layers.front().alpha) return std::nullopt;
    const auto& layer = report.layers.front();
    auto alpha = std::move(passes::readChannels(file, layer.part, {*layer.alpha}).planes[0]);
    if (alpha.width() != like.width() || alpha.height() != like.height()) return std::nullopt;
    return alpha;
}

DepthReport examineDepth(const FileReport& report, const std::filesystem::path& file,
                         const passes::DepthChannel& channel)
{
    const auto read = passes::readNumbers(file, channel, {std::nanf(""), passes::Extent::displayWindow});
    const Plane<float>& stored = read.planes.front();
    const auto alpha = alphaFor(report, file, stored);
    DepthReport depth;
    depth.channel = channel;
    depth.statistics = depth::statisticsOf(stored, alpha ? &*alpha : nullptr);
    depth::ProposalHints hints;
    hints.fieldOfViewDeg = passes::cameraData(read.header).fieldOfViewDeg.value_or(0.0);
    hints.pixelAspect = report.info.part(channel.part).pixelAspect;
    depth.proposal = depth::proposeReading(stored, alpha ? &*alpha : nullptr, depth.statistics, hints);
    depth::ViewGeometry view{static_cast<double>(stored.width()), static_cast<double>(stored.height())};
    view.pixelAspect = hints.pixelAspect;
    view.fieldOfViewDeg = hints.fieldOfViewDeg;
    if (depth.proposal.settings.fieldOfViewDeg > 0.0)
        view.fieldOfViewDeg = depth.proposal.settings.fieldOfViewDeg;
    const auto result = depth::toDistance(stored, alpha ? &*alpha : nullptr, depth.proposal.settings, view);
    depth.range = depth::depthRange(result.distance, result.gaps);
    return depth;
}

Json boxJson(const PixelBox& box)
{
    return {box.minX, box.minY, box.maxX, box.maxY};
}

Json finite(double value)
{
    return std::isfinite(value) ? Json(value) : Json("inf");
}

Json statisticsJson(const depth::DepthStatistics& s)
{
    return {{"least", s.least},
            {"most", s.most},
            {"percentiles", {{"1", s.p1}, {"5", s.p5}, {"50", s.p50}, {"95", s.p95}, {"99", s.p99}}},
            {"distinct", s.distinct},
            {"levels", s.levels},
            {"significantBits", s.significantBits},
            {"zeros", s.zeros},
            {"negatives", s.negatives},
            {"infinites", s.infinites},
            {"nans", s.nans},
            {"betweenSurfaces", s.betweenShare},
            {"noise", s.noise}};
}

Json proposalJson(const depth::ReadingProposal& proposal)
{
    const auto& settings = proposal.settings;
    Json json{{"reading", wordOf(settings.reading)},
              {"confidence", proposal.confidence},
              {"sure", proposal.isSure()},
              {"reversed", settings.reversed}};
    if (depth::isGrey(settings.reading)) json["spacing"] = wordOf(settings.spacing);
    if (depth::needsEnds(settings.reading)) {
        json["nearest"] = settings.nearest;
        json["farthest"] = finite(settings.farthest);
        json["endsRatio"] = proposal.endsRatio;
    }
    if (settings.fieldOfViewDeg > 0.0) json["fieldOfViewDeg"] = settings.fieldOfViewDeg;
    json["gaps"] = {{"zero", settings.gaps.zero},
                    {"outsideAlpha", settings.gaps.outsideAlpha},
                    {"from", finite(settings.gaps.from)}};
    json["snapEdges"] = settings.conditioning.snapEdges;
    json["smoothLevels"] = settings.conditioning.smoothLevels;
    json["reasons"] = proposal.reasons;
    json["likely"] = Json::array();
    for (const auto& likely : proposal.likely)
        json["likely"].push_back(
            {{"reading", depth::inWords(likely.settings)}, {"likelihood", likely.likelihood}});
    return json;
}

Json cameraJson(const passes::CameraData& camera)
{
    Json json = Json::object();
    if (camera.focusMetres) json["focusMetres"] = *camera.focusMetres;
    if (camera.fStop) json["fStop"] = *camera.fStop;
    if (camera.fieldOfViewDeg) json["fieldOfViewDeg"] = *camera.fieldOfViewDeg;
    if (camera.pixelAspect) json["pixelAspect"] = *camera.pixelAspect;
    if (camera.framesPerSecond) json["framesPerSecond"] = *camera.framesPerSecond;
    json["worldToCamera"] = camera.hasWorldToCamera;
    return json;
}

void printPart(const passes::PartInfo& part)
{
    fmt::print("  part {}: {} x {} px, {}{}{}{}\n", part.name.empty() ? "(nameless)" : part.name,
               part.displayWindow.width(), part.displayWindow.height(), part.compression,
               part.tiled ? ", tiled" : "", part.mipMapped ? ", mip-mapped" : "", part.deep ? ", deep" : "");
    if (!(part.dataWindow == part.displayWindow))
        fmt::print("    data window {} x {} px at {}, {}\n", part.dataWindow.width(),
                   part.dataWindow.height(), part.dataWindow.minX, part.dataWindow.minY);
    std::vector<std::string> channels;
    for (const auto& channel : part.channels)
        channels.push_back(fmt::format("{} ({})", channel.name, wordOf(channel.type)));
    fmt::print("    channels: {}\n", fmt::join(channels, ", "));
}

void printDepth(const DepthReport& depth)
{
    const double gaps =
        100.0 * static_cast<double>(depth.range.gapCount) / static_cast<double>(depth.range.pixelCount);
    if (depth.range.hasSurface())
        fmt::print("  depth {}: distances {:.4g} to {:.4g} scene units, gaps {:.1f} % of the pixels\n",
                   depth.channel.channel, depth.range.nearest, depth.range.farthest, gaps);
    else
        fmt::print("  depth {}: nothing but gaps\n", depth.channel.channel);
    fmt::print("    proposed reading: {}\n", depth.proposal.inWords());
}

} // namespace

bool isSceneName(const std::string& name)
{
    return name.ends_with(".gltf") || name.ends_with(".glb");
}

FileReport examine(const std::string& name)
{
    FileReport report{passes::Sequence::find(name), {}, {}, {}, {}, {}, {}, {}};
    const auto file = report.files.isStill() || passes::isPattern(name)
                          ? report.files.file(report.files.isStill() ? 1 : report.files.frames().front())
                          : std::filesystem::path(name);
    report.info = passes::inspectFile(file);
    report.layers = passes::colourLayers(report.info);
    report.mattes = passes::mattesIn(file);
    if (!report.info.parts.empty() && report.info.format == "openexr")
        report.camera = passes::cameraData(passes::readExrHeader(file, 0));
    if (!report.layers.empty())
        report.inputSpace = passes::inputSpaceOf(report.info, report.layers.front()).name;
    auto channels = passes::depthChannels(report.info);
    // A grey picture may be a depth pass whatever its channels are called.
    if (channels.empty() && passes::proposeRoles(std::vector{file}).front().role == passes::Role::depth)
        channels.push_back(passes::chooseDepth(report.info, {}, true));
    for (const auto& channel : channels)
        report.depths.push_back(examineDepth(report, file, channel));
    if (!report.layers.empty() && !report.depths.empty() && !report.depths.front().channel.isLuminance()) {
        const passes::PassSource source({file, {}}, {});
        const auto frame = source.colourFiles().isStill() ? 1 : source.colourFiles().frames().front();
        report.findings =
            passes::analysePasses(source, frame, report.depths.front().proposal.settings).findings;
    }
    return report;
}

Together examineTogether(const std::vector<std::string>& names)
{
    Together together;
    together.sorted = passes::sortIntoRoles(std::vector<std::filesystem::path>(names.begin(), names.end()));
    const passes::SortedPasses& sorted = together.sorted;
    passes::PassOptions options;
    options.alpha = sorted.alpha;
    options.motion.file = sorted.motion;
    try {
        const passes::PassSource source(sorted.colour, sorted.depth, options);
        together.analysis = passes::analysePasses(source, source.firstFrame(), std::nullopt);
    } catch (const passes::DepthMissing&) { // its roles are worth knowing all the same
    }
    return together;
}

Json toJson(const Together& together)
{
    Json roles = Json::array();
    for (const auto& role : together.sorted.roles)
        roles.push_back(
            {{"file", role.file.string()}, {"role", passes::title(role.role)}, {"has", role.reason}});
    Json json{{"together", std::move(roles)}};
    if (together.analysis) {
        json["proposal"] = proposalJson(together.analysis->proposal);
        json["findings"] = toJson(together.analysis->findings);
    }
    return json;
}

void print(const Together& together)
{
    fmt::print("together\n");
    for (const auto& role : together.sorted.roles)
        fmt::print("  {}: {} ({})\n", role.file.filename().string(), passes::title(role.role), role.reason);
    if (!together.analysis) return;
    fmt::print("  proposed reading: {}\n", together.analysis->proposal.inWords());
    print(together.analysis->findings);
}

Json toJson(const std::vector<passes::Finding>& findings)
{
    Json list = Json::array();
    for (const auto& finding : findings)
        list.push_back({{"key", finding.key},
                        {"weight", finding.weight == passes::Finding::Weight::trouble ? "trouble" : "note"},
                        {"matter", finding.matter},
                        {"meaning", finding.meaning},
                        {"advice", finding.advice}});
    return list;
}

Json toJson(const FileReport& report)
{
    Json json{{"file", report.info.file.string()}, {"format", report.info.format}};
    if (!report.files.isStill())
        json["sequence"] = {{"pattern", report.files.pattern().string()},
                            {"first", report.files.frames().front()},
                            {"last", report.files.frames().back()},
                            {"missing", report.files.missing()}};
    json["parts"] = Json::array();
    for (const auto& part : report.info.parts) {
        Json channels = Json::array();
        for (const auto& channel : part.channels)
            channels.push_back({{"name", channel.name}, {"type", wordOf(channel.type)}});
        json["parts"].push_back({{"name", part.name},
                                 {"displayWindow", boxJson(part.displayWindow)},
                                 {"dataWindow", boxJson(part.dataWindow)},
                                 {"pixelAspect", part.pixelAspect},
                                 {"compression", part.compression},
                                 {"tiled", part.tiled},
                                 {"mipMapped", part.mipMapped},
                                 {"deep", part.deep},
                                 {"channels", channels}});
    }
    json["colourLayers"] = Json::array();
    for (const auto& layer : report.layers)
        json["colourLayers"].push_back({{"layer", layer.layer}, {"alpha", layer.alpha.has_value()}});
    if (!report.inputSpace.empty()) json["inputSpace"] = report.inputSpace;
    json["depth"] = Json::array();
    for (const auto& depth : report.depths) {
        Json entry{{"channel", depth.channel.channel},
                   {"gaps", depth.range.gapCount},
                   {"pixels", depth.range.pixelCount}};
        if (depth.range.hasSurface()) {
            entry["nearest"] = depth.range.nearest;
            entry["farthest"] = depth.range.farthest;
        }
        entry["statistics"] = statisticsJson(depth.statistics);
        entry["proposal"] = proposalJson(depth.proposal);
        json["depth"].push_back(std::move(entry));
    }
    json["mattes"] = Json::array();
    for (const auto& matte : report.mattes)
        json["mattes"].push_back(matte.name);
    json["camera"] = cameraJson(report.camera);
    json["findings"] = toJson(report.findings);
    return json;
}

Json toJson(const std::string& file, const passes::SceneFile& scene)
{
    Json json{{"file", file}, {"format", "gltf"}, {"duration", scene.duration()}};
    for (const auto& [key, list] :
         {std::pair{"cameras", &scene.cameras()}, std::pair{"points", &scene.points()}}) {
        json[key] = Json::array();
        for (const auto& entry : *list)
            json[key].push_back(entry.name);
    }
    return json;
}

void print(const std::vector<passes::Finding>& findings)
{
    for (const auto& finding : findings)
        fmt::print("  {} {}. {} {}\n", finding.weight == passes::Finding::Weight::trouble ? "!" : "-",
                   finding.matter, finding.meaning, finding.advice);
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
    if (!report.inputSpace.empty()) fmt::print("  colour space: taken as {}\n", report.inputSpace);
    for (const auto& depth : report.depths)
        printDepth(depth);
    if (report.depths.empty()) fmt::print("  no channel whose name speaks of depth\n");
    if (!report.mattes.empty()) {
        std::vector<std::string> names;
        for (const auto& matte : report.mattes)
            names.push_back(matte.title());
        fmt::print("  mattes: {}\n", fmt::join(names, ", "));
    }
    if (!report.camera.isEmpty()) fmt::print("  camera: {}\n", report.camera.inWords());
    print(report.findings);
}

void print(const std::string& file, const passes::SceneFile& scene)
{
    fmt::print("{}\n  glTF scene, {:g} s\n", file, scene.duration());
    for (const auto& camera : scene.cameras())
        fmt::print("  camera {}\n", camera.name);
    for (const auto& point : scene.points())
        fmt::print("  point {}\n", point.name);
}

} // namespace retinex::cli
