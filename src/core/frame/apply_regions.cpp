#include "core/frame/apply_regions.h"

#include "core/frame/depends_on.h"
#include "core/frame/to_distances.h"
#include "core/image/crop.h"

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
    const auto& overscan = passes->raw->overscan;
    PixelBox box = PixelBox::at(0, 0, passes->distance.width(), passes->distance.height());
    Plane<std::uint8_t> allGaps; // of what lies beyond the frame none are known
    if (overscan) {
        box = PixelBox::at(-overscan->left, -overscan->top, passes->overscanDistance.width(),
                           passes->overscanDistance.height());
        allGaps = Plane<std::uint8_t>(box.width(), box.height());
        for (int y = 0; y < passes->gaps.height(); ++y)
            std::copy_n(passes->gaps.row(y), passes->gaps.width(),
                        allGaps.row(y + overscan->top) + overscan->left);
    }
    const Plane<float>& distance = overscan ? passes->overscanDistance : passes->distance;
    const Plane<std::uint8_t>& gaps = overscan ? allGaps : passes->gaps;
    regions::Changed changed{distance, gaps};
    changed.deep = passes->deep;
    apply(regions, {box, &distance, &gaps, matteCoverage(source, project, frame, box, quiet)}, changed,
          quiet);
    auto result = std::make_shared<passes::FramePasses>();
    result->raw = passes->raw;
    if (overscan) {
        const PixelBox inside =
            PixelBox::at(overscan->left, overscan->top, passes->distance.width(), passes->distance.height());
        result->distance = cropped(changed.distance, inside);
        result->gaps = cropped(changed.gaps, inside);
        result->overscanDistance = std::move(changed.distance);
        if (changed.blur) {
            auto frameBlur = std::make_shared<BlurShare>();
            frameBlur->share = cropped(changed.blur->share, inside);
            frameBlur->addedPx = cropped(changed.blur->addedPx, inside);
            result->blur = std::move(frameBlur);
            result->overscanBlur = changed.blur;
        }
    } else {
        result->distance = std::move(changed.distance);
        result->gaps = std::move(changed.gaps);
        result->blur = changed.blur;
    }
    result->deep = changed.deep;
    result->range = depth::depthRange(result->distance, result->gaps);
    return result;
}

passes::FramePassesPtr withRegionsReduced(const passes::PassSource& source, const Project& project, int frame,
                                          const passes::FramePassesPtr& full, int divisor, const Run& run)
{
    const passes::FramePassesPtr small = source.reducedOf(full, divisor);
    const auto regions = regionsAt(source, project, frame, run);
    if (regions.empty()) return small;
    const Run quiet{run.threads, {}, run.stop};
    auto result = std::make_shared<passes::FramePasses>(*small);
    regions::Changed changed{small->distance, small->gaps};
    const PixelBox box = PixelBox::at(0, 0, full->distance.width(), full->distance.height());
    apply(regions, {box, &full->distance, &full->gaps, matteCoverage(source, project, frame, box, quiet)},
          changed, quiet, divisor);
    result->distance = std::move(changed.distance);
    result->gaps = std::move(changed.gaps);
    if (changed.blur) {
        for (float& added : changed.blur->addedPx.pixels())
            added /= static_cast<float>(divisor);
        result->blur = std::move(changed.blur);
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
    return source.made(fmt::format("{} {}", frame, fingerprint(source, project, frame, Stage::regions)),
                       [&] { return withRegions(source, project, frame, before, run); });
}

passes::FramePassesPtr reducedAfterRegions(const passes::PassSource& source, const Project& project,
                                           int frame, int divisor, const Run& run)
{
    const auto before = withDistances(source, project, frame, run);
    if (!hasRegions(project, frame)) return source.reducedOf(before, divisor);
    return source.made(
        fmt::format("{} 1/{} {}", frame, divisor, fingerprint(source, project, frame, Stage::regions)),
        [&] { return withRegionsReduced(source, project, frame, before, divisor, run); });
}

depth::DistanceResult distancesAfterRegions(const passes::PassSource& source, const Project& project,
                                            int frame, const Run& run, LookedAtFor what)
{
    depth::DistanceResult distances = distancesAlone(source, project, frame, run);
    const auto regions = regionsAt(source, project, frame, run, what);
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
