#include "core/project/frame_stages.h"

#include "core/project/fingerprint.h"
#include "core/project/region_places.h"

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
    return source.reducedOf(framePasses(source, project, frame, run), divisor);
}

depth::DistanceResult frameDistance(const passes::PassSource& source, const Project& project, int frame,
                                    const Run& run, LookedAtFor what)
{
    auto distances = source.loadDistance(frame, project.readingAt(frame), run);
    if (hasRegions(project, frame)) applyRegions(source, project, frame, distances, run, what);
    return distances;
}

} // namespace retinex::project
