#include "core/project/frame_stages.h"

#include "core/project/fingerprint.h"
#include "core/project/insert_pictures.h"
#include "core/project/region_places.h"

#include <fmt/format.h>

namespace retinex::project {

namespace {

passes::FramePassesPtr afterRegions(const passes::PassSource& source, const Project& project, int frame,
                                    const Run& run)
{
    if (!hasRegions(project, frame)) return source.load(frame, project.readingAt(frame), run);
    return source.made(std::to_string(frame) + regionsFingerprint(project, frame), [&] {
        return withRegions(source, project, frame, source.load(frame, project.readingAt(frame), run), run);
    });
}

passes::FramePassesPtr reducedAfterRegions(const passes::PassSource& source, const Project& project,
                                           int frame, int divisor, const passes::FramePassesPtr& full,
                                           const Run& run)
{
    if (!hasRegions(project, frame)) return source.reducedOf(full, divisor);
    return source.made(fmt::format("{} 1/{} {}", frame, divisor, regionsFingerprint(project, frame)),
                       [&] { return withRegionsReduced(source, project, frame, full, divisor, run); });
}

} // namespace

passes::FramePassesPtr framePasses(const passes::PassSource& source, const Project& project, int frame,
                                   const Run& run)
{
    if (!hasInserts(project, frame)) return afterRegions(source, project, frame, run);
    return source.made(std::to_string(frame) + layersFingerprint(project, frame), [&] {
        const auto scene = afterRegions(source, project, frame, run);
        return withInserts(source, project, frame, scene, 1, run);
    });
}

passes::FramePassesPtr reducedFramePasses(const passes::PassSource& source, const Project& project, int frame,
                                          int divisor, const Run& run)
{
    const auto full = source.load(frame, project.readingAt(frame), run);
    const auto scene = reducedAfterRegions(source, project, frame, divisor, full, run);
    if (!hasInserts(project, frame)) return scene;
    return source.made(fmt::format("{} 1/{} {}", frame, divisor, layersFingerprint(project, frame)),
                       [&] { return withInserts(source, project, frame, scene, divisor, run); });
}

depth::DistanceResult frameDistance(const passes::PassSource& source, const Project& project, int frame,
                                    const Run& run, LookedAtFor what)
{
    auto distances = source.loadDistance(frame, project.readingAt(frame), run);
    if (hasRegions(project, frame)) applyRegions(source, project, frame, distances, run, what);
    if (!hasInserts(project, frame)) return distances;
    auto scene = std::make_shared<passes::FramePasses>(*source.load(frame, project.readingAt(frame), run));
    scene->distance = std::move(distances.distance);
    scene->gaps = std::move(distances.gaps);
    const auto with = withInserts(source, project, frame, scene, 1, run, what);
    return {with->distance, with->gaps, distances.gapCount};
}

} // namespace retinex::project
