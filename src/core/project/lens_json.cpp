#include "core/project/lens_json.h"

#include "core/passes/iris_picture.h"

namespace retinex::project {

namespace {

using defocus::FrameEdge;

constexpr std::pair<FrameEdge, const char*> kFrameEdges[] = {
    {FrameEdge::continuePicture, "continue"}, {FrameEdge::mirror, "mirror"}, {FrameEdge::open, "open"}};

void readSimpleLens(const Reader& reader, Project& project)
{
    defocus::SimpleLens simple;
    bool on = false;
    reader.read("/lens/simple/on", on);
    reader.read("/lens/simple/radiusPx", simple.radiusPx);
    reader.readNumber("/lens/simple/nearest", simple.nearest);
    reader.readNumber("/lens/simple/farthest", simple.farthest);
    if (on) project.simpleLens = simple;
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

void readLens(const Reader& reader, Project& project)
{
    reader.read("/iris/blades", project.iris.blades);
    reader.read("/iris/turnDeg", project.iris.turnDeg);
    reader.read("/iris/rounding", project.iris.rounding);
    reader.read("/iris/squeeze", project.iris.squeeze);
    reader.read("/iris/rim", project.iris.rim);
    reader.read("/iris/centreStop", project.iris.centreStop);
    reader.read("/iris/catsEye", project.iris.catsEye);
    reader.readPath("/iris/picture", project.irisPicture);
    if (!project.irisPicture.empty()) {
        try {
            project.iris.picture = passes::readIrisPicture(project.irisPicture);
        } catch (const Error& error) {
            reader.fail("/iris/picture",
                        std::string("names a picture that cannot be read (") + error.what() + ")");
        }
    }
    reader.read("/glint/level", project.glint.level);
    reader.read("/glint/liftStops", project.glint.liftStops);
    reader.read("/blur/strength", project.blur.strength);
    reader.read("/blur/heldNear", project.blur.heldNear);
    reader.read("/blur/heldFar", project.blur.heldFar);
    reader.read("/blur/limitNearPx", project.blur.limitNearPx);
    reader.read("/blur/limitFarPx", project.blur.limitFarPx);
    readSimpleLens(reader, project);
    reader.readWord("/repair/frameEdge", project.frameEdge, frameEdgeFromWord, "continue, mirror or open");
}

void writeLens(const fs::path& file, const Project& project, Json& json)
{
    Json& iris = json["iris"];
    iris["blades"] = project.iris.blades;
    iris["turnDeg"] = project.iris.turnDeg;
    iris["rounding"] = project.iris.rounding;
    iris["squeeze"] = project.iris.squeeze;
    iris["rim"] = project.iris.rim;
    iris["centreStop"] = project.iris.centreStop;
    iris["catsEye"] = project.iris.catsEye;
    iris["picture"] = relativePath(project.irisPicture, file);
    json["glint"]["level"] = project.glint.level;
    json["glint"]["liftStops"] = project.glint.liftStops;
    Json& blur = json["blur"];
    blur["strength"] = project.blur.strength;
    blur["heldNear"] = project.blur.heldNear;
    blur["heldFar"] = project.blur.heldFar;
    blur["limitNearPx"] = project.blur.limitNearPx;
    blur["limitFarPx"] = project.blur.limitFarPx;
    Json& simple = json["lens"]["simple"];
    simple["on"] = project.simpleLens.has_value();
    if (project.simpleLens) {
        simple["radiusPx"] = project.simpleLens->radiusPx;
        simple["nearest"] = number(project.simpleLens->nearest);
        simple["farthest"] = number(project.simpleLens->farthest);
    }
    json["repair"]["frameEdge"] = wordFor(project.frameEdge);
}

} // namespace retinex::project
