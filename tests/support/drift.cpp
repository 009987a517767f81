#include "support/drift.h"

#include "core/depth/depth_reading.h"

namespace retinex::test {

others::View Frame::view(const std::optional<others::FrameCamera>& other) const
{
    return {&colour, &distance,
            other ? *other
                  : *others::FrameCamera::of(reference::headerOf(camera), kDriftWidth, kDriftHeight, 0.0)};
}

Frame frameOf(const reference::Scene& scene, reference::Camera camera, int frame)
{
    camera.width = kDriftWidth;
    camera.height = kDriftHeight;
    camera.eye.x += kDrift * static_cast<float>(frame);
    camera.target.x += kDrift * static_cast<float>(frame);
    auto passes = reference::renderPasses(scene, camera, 64);
    auto distance = depth::toDistance(passes.depth).distance;
    return {camera, std::move(passes.colour), std::move(distance)};
}

void writeFrame(const std::filesystem::path& file, const Frame& frame, const passes::HeaderPtr& header,
                const MotionVectors* vectors)
{
    passes::ExrOutput output;
    static constexpr std::array<const char*, 4> kNames{"R", "G", "B", "A"};
    for (int c = 0; c < RgbaImage::channels; ++c)
        output.channels.push_back({kNames[static_cast<std::size_t>(c)], &frame.colour.plane(c)});
    output.channels.push_back({"Z", &frame.distance});
    if (vectors) {
        output.channels.push_back({"motion.X", &(*vectors)[0]});
        output.channels.push_back({"motion.Y", &(*vectors)[1]});
    }
    output.type = passes::SampleType::float32;
    output.keep = header;
    passes::writeExr(file, output);
}

MotionVectors vectorsTo(const Frame& frame, const Frame& other)
{
    const auto from = frame.view().camera;
    const auto to = other.view().camera;
    MotionVectors vectors{Plane<float>(kDriftWidth, kDriftHeight), Plane<float>(kDriftWidth, kDriftHeight)};
    for (int y = 0; y < kDriftHeight; ++y)
        for (int x = 0; x < kDriftWidth; ++x) {
            const auto distance = static_cast<double>(frame.distance.at(x, y));
            const auto seen = to.see(from.pointAt(x + 0.5, y + 0.5, distance));
            vectors[0].at(x, y) = static_cast<float>(seen.x - x - 0.5);
            vectors[1].at(x, y) = static_cast<float>(seen.y - y - 0.5);
        }
    return vectors;
}

std::shared_ptr<project::Project> projectOf(const passes::PassSource& source, const reference::Trial& trial)
{
    auto project = std::make_shared<project::Project>(
        project::projectFor({source.colourFiles().pattern(), {}}, {}, source));
    project->base().fStop = trial.lens.fStop;
    project->base().focalLengthMm = static_cast<double>(trial.camera.focalLengthMm);
    project->base().focusDistance = trial.lens.focusDistance;
    return project;
}

} // namespace retinex::test
