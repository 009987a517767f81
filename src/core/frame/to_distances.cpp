#include "core/frame/to_distances.h"

#include "core/frame/depends_on.h"

namespace retinex::frame {

const StageInfo kToDistances{project::Stage::distances, 1, [](DependsOn&) {}};

passes::FramePassesPtr withDistances(const passes::PassSource& source, const project::Project& project,
                                     int frame, const Run& run)
{
    return source.load(frame, project.readingAt(frame), run);
}

depth::DistanceResult distancesAlone(const passes::PassSource& source, const project::Project& project,
                                     int frame, const Run& run)
{
    return source.loadDistance(frame, project.readingAt(frame), run);
}

} // namespace retinex::frame
