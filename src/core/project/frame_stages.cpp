#include "core/project/frame_stages.h"

namespace retinex::project {

passes::FramePassesPtr framePasses(const passes::PassSource& source, const Project& project, int frame,
                                   const Run& run)
{
    return source.load(frame, project.readingAt(frame), run);
}

passes::FramePassesPtr reducedFramePasses(const passes::PassSource& source, const Project& project, int frame,
                                          int divisor, const Run& run)
{
    return source.loadReduced(frame, project.readingAt(frame), divisor, run);
}

depth::DistanceResult frameDistance(const passes::PassSource& source, const Project& project, int frame,
                                    const Run& run)
{
    return source.loadDistance(frame, project.readingAt(frame), run);
}

} // namespace retinex::project
