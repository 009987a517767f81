#include "core/project/frame_stages.h"

#include "core/project/fingerprint.h"
#include "core/project/region_places.h"

#include <fmt/format.h>

namespace retinex::project {

passes::FramePassesPtr framePasses(const passes::PassSource& source, const Project& project, int frame,
                                   const Run& run)
{
    if (!hasRegions(project, frame)) return source.load(frame, project.readingAt(frame), run);
    return source.made(std::to_string(frame) + regionsFingerprint(project, frame), [&] {
        return withRegions(source, project, frame, source.load(frame, project.readingAt(frame), run), run);
    });
}

passes::FramePassesPtr reducedFramePasses(const passes::PassSource& source, const Project& project, int frame,
                                          int divisor, const Run& run)
{
    const auto full = source.load(frame, project.readingAt(frame), run);
    if (!hasRegions(project, frame)) return source.reducedOf(full, divisor);
    return source.made(fmt::format("{} 1/{} {}", frame, divisor, regionsFingerprint(project, frame)),
                       [&] { return withRegionsReduced(source, project, frame, full, divisor, run); });
}

depth::DistanceResult frameDistance(const passes::PassSource& source, const Project& project, int frame,
                                    const Run& run, LookedAtFor what)
{
    auto distances = source.loadDistance(frame, project.readingAt(frame), run);
    if (hasRegions(project, frame)) applyRegions(source, project, frame, distances, run, what);
    return distances;
}

} // namespace retinex::project
