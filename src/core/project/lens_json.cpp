#include "core/project/shot_json.h"

#include "core/passes/iris_picture.h"

namespace retinex::project {

namespace {

using defocus::FrameEdge;

constexpr std::pair<FrameEdge, const char*> kFrameEdges[] = {
    {FrameEdge::continuePicture, "continue"}, {FrameEdge::mirror, "mirror"}, {FrameEdge::open, "open"}};

void readSimpleLens(const Reader& reader, Settings& settings)
{
    defocus::SimpleLens simple;
    bool on = false;
    reader.read("/lens/simple/on", on);
    reader.read("/lens/simple/radiusPx", simple.radiusPx);
    reader.readNumber("/lens/simple/nearest", simple.nearest);
    reader.readNumber("/lens/simple/farthest", simple.farthest);
    if (on) settings.simpleLens = simple;
}

} // namespace

std::optional<FrameEdge> frameEdgeFromWord(std::string_view word) noexcept
{
    for (const auto& [edge, name] : kFrameEdges)
        if (word == name) return edge;
    return std::nullopt;
}

std::string_view wordFor(FrameEdge edge) noexcept
{
    for (const auto& [its, name] : kFrameEdges)
        if (its == edge) return name;
    return kFrameEdges[0].second;
}

void readLens(const Reader& reader, Settings& settings)
{
    reader.read("/lens/fStop", settings.fStop);
    reader.read("/lens/focalLengthMm", settings.focalLengthMm);
    reader.read("/lens/sensorWidthMm", settings.sensorWidthMm);
    reader.read("/lens/acceptedCocMm", settings.acceptedCocMm);
    reader.readNumber("/focus/distance", settings.focusDistance);
    reader.read("/iris/blades", settings.iris.blades);
    reader.read("/iris/turnDeg", settings.iris.turnDeg);
    reader.read("/iris/rounding", settings.iris.rounding);
    reader.read("/iris/squeeze", settings.iris.squeeze);
    reader.read("/iris/rim", settings.iris.rim);
    reader.read("/iris/centreStop", settings.iris.centreStop);
    reader.read("/iris/catsEye", settings.iris.catsEye);
    reader.readPath("/iris/picture", settings.irisPicture);
    if (!settings.irisPicture.empty()) {
        try {
            settings.iris.picture = passes::readIrisPicture(settings.irisPicture);
        } catch (const Error& error) {
            reader.fail("/iris/picture",
                        std::string("names a picture that cannot be read (") + error.what() + ")");
        }
    }
    reader.read("/glint/level", settings.glint.level);
    reader.read("/glint/liftStops", settings.glint.liftStops);
    reader.read("/blur/strength", settings.blur.strength);
    reader.read("/blur/heldNear", settings.blur.heldNear);
    reader.read("/blur/heldFar", settings.blur.heldFar);
    reader.read("/blur/limitNearPx", settings.blur.limitNearPx);
    reader.read("/blur/limitFarPx", settings.blur.limitFarPx);
    readSimpleLens(reader, settings);
    reader.read("/repair/mattes", settings.mattesAtEdges);
    reader.readWord("/repair/frameEdge", settings.frameEdge, frameEdgeFromWord, "continue, mirror or open");
}

void writeLens(const fs::path& file, const Settings& settings, Json& json)
{
    Json& lens = section(json, "lens");
    lens["fStop"] = settings.fStop;
    lens["focalLengthMm"] = settings.focalLengthMm;
    lens["sensorWidthMm"] = settings.sensorWidthMm;
    lens["acceptedCocMm"] = settings.acceptedCocMm;
    Json& simple = section(lens, "simple");
    simple["on"] = settings.simpleLens.has_value();
    if (settings.simpleLens) {
        simple["radiusPx"] = settings.simpleLens->radiusPx;
        simple["nearest"] = number(settings.simpleLens->nearest);
        simple["farthest"] = number(settings.simpleLens->farthest);
    }
    section(json, "focus")["distance"] = number(settings.focusDistance);
    Json& iris = section(json, "iris");
    iris["blades"] = settings.iris.blades;
    iris["turnDeg"] = settings.iris.turnDeg;
    iris["rounding"] = settings.iris.rounding;
    iris["squeeze"] = settings.iris.squeeze;
    iris["rim"] = settings.iris.rim;
    iris["centreStop"] = settings.iris.centreStop;
    iris["catsEye"] = settings.iris.catsEye;
    iris["picture"] = relativePath(settings.irisPicture, file);
    section(json, "glint")["level"] = settings.glint.level;
    section(json, "glint")["liftStops"] = settings.glint.liftStops;
    Json& blur = section(json, "blur");
    blur["strength"] = settings.blur.strength;
    blur["heldNear"] = settings.blur.heldNear;
    blur["heldFar"] = settings.blur.heldFar;
    blur["limitNearPx"] = settings.blur.limitNearPx;
    blur["limitFarPx"] = settings.blur.limitFarPx;
    Json& repair = section(json, "repair");
    repair["frameEdge"] = wordFor(settings.frameEdge);
    repair["mattes"] = settings.mattesAtEdges;
}

} // namespace retinex::project
