#include "core/frame/apply_regions.h"

#include "core/frame/depends_on.h"
#include "core/frame/kept_frames.h"
#include "core/frame/to_distances.h"

#include <algorithm>
#include <fmt/format.h>

namespace retinex::frame {

namespace {

using regions::PatchKind;
using regions::Region;

/// What the held median of another frame is taken from.
void addHeldFrame(DependsOn& on, const Region& region)
{
    on.frameUpTo(region.heldFrame, Stage::distances);
    const Settings there = on.project().valuesAt(region.heldFrame);
    for (const Region& other : there.regions)
        if (other.id == region.id)
            on.text(fmt::format("{} {} {} {} {} {}", other.growPx, other.featherPx, other.moveX, other.moveY,
                                other.turnDeg, other.size));
    on.text(placesOf(on, region, region.heldFrame));
    for (const auto& matte : mattesOf(on.project(), region))
        on.matte(matte, region.heldFrame);
}

void addRegions(DependsOn& on)
{
    for (const Region& region : on.values().regions) {
        if (!countsHere(region)) continue;
        addArea(on, region);
        if (region.patch == PatchKind::subject)
            if (const auto* subject = on.project().subjectNamed(region.subject))
                if (const auto distance = timeline::distanceAt(*subject, on.frame()))
                    on.text(fmt::format("{}", *distance));
        if (region.patch == PatchKind::median && region.holdsFrame && region.heldFrame != on.frame())
            addHeldFrame(on, region);
    }
}

passes::FramePassesPtr withRegions(const passes::PassSource& source, const Project& project, int frame,
                                   const passes::FramePassesPtr& passes, const Run& run)
{
    const auto regions = regionsAt(source, project, frame, run);
    if (regions.empty()) return passes;
    const Run quiet{run.threads, {}, run.stop};
    const PixelBox box = passes->raw->extent();
    regions::Changed changed{passes->allDistance, passes->allGaps};
    changed.deep = passes->deep;
    apply(regions,
          {box, &passes->allDistance, &passes->allGaps, matteCoverage(source, project, frame, box, quiet)},
          changed, quiet);
    auto result = std::make_shared<passes::FramePasses>();
    result->raw = passes->raw;
    result->allDistance = std::move(changed.distance);
    result->allGaps = std::move(changed.gaps);
    result->allBlur = std::move(changed.blur);
    result->deep = std::move(changed.deep);
    result->findRange();
    return result;
}

passes::FramePassesPtr withRegionsReduced(const passes::PassSource& source, const Project& project, int frame,
                                          const passes::FramePassesPtr& full, int divisor, const Run& run)
{
    const passes::FramePassesPtr small = KeptFrames::of(source).reduced(full, divisor);
    const auto regions = regionsAt(source, project, frame, run);
    if (regions.empty()) return small;
    const Run quiet{run.threads, {}, run.stop};
    auto result = std::make_shared<passes::FramePasses>(*small);
    regions::Changed changed{small->allDistance, small->allGaps};
    const PixelBox box = PixelBox::at(0, 0, full->distance().width(), full->distance().height());
    apply(regions, {box, &full->distance(), &full->gaps(), matteCoverage(source, project, frame, box, quiet)},
          changed, quiet, divisor);
    result->allDistance = std::move(changed.distance);
    result->allGaps = std::move(changed.gaps);
    if (changed.blur) {
        for (float& added : changed.blur->addedPx.pixels())
            added /= static_cast<float>(divisor);
        result->allBlur = std::move(changed.blur);
    }
    return result;
}

} // namespace

const StageInfo kApplyRegions{Stage::regions, 1, addRegions,
                              [](const DependsOn& on) { return hasRegions(on.project(), on.frame()); }};

passes::FramePassesPtr afterRegions(const passes::PassSource& source, const Project& project, int frame,
                                    const Run& run)
{
    const auto before = withDistances(source, project, frame, run);
    if (!hasRegions(project, frame)) return before;
    return KeptFrames::of(source).stage(
        fmt::format("{} {}", frame, fingerprint(source, project, frame, Stage::regions)),
        [&] { return withRegions(source, project, frame, before, run); });
}

passes::FramePassesPtr reducedAfterRegions(const passes::PassSource& source, const Project& project,
                                           int frame, int divisor, const Run& run)
{
    const auto before = withDistances(source, project, frame, run);
    if (!hasRegions(project, frame)) return KeptFrames::of(source).reduced(before, divisor);
    return KeptFrames::of(source).stage(
        fmt::format("{} 1/{} {}", frame, divisor, fingerprint(source, project, frame, Stage::regions)),
        [&] { return withRegionsReduced(source, project, frame, before, divisor, run); });
}

depth::DistanceResult distancesAfterRegions(const passes::PassSource& source, const Project& project,
                                            int frame, const Run& run, Purpose purpose)
{
    depth::DistanceResult distances = distancesAlone(source, project, frame, run);
    const auto regions = regionsAt(source, project, frame, run, purpose);
    if (regions.empty()) return distances;
    regions::Changed changed{distances.distance, distances.gaps};
    const PixelBox box = PixelBox::at(0, 0, changed.distance.width(), changed.distance.height());
    apply(regions,
          {box, &distances.distance, &distances.gaps, matteCoverage(source, project, frame, box, run)},
          changed, run);
    distances.distance = std::move(changed.distance);
    distances.gaps = std::move(changed.gaps);
    return distances;
}

} // namespace retinex::frame
