#include "core/project/region_places.h"

#include "core/base/cut.h"
#include "core/base/say.h"
#include "core/passes/file_state.h"
#include "core/project/subject_measure.h"

#include <algorithm>

namespace retinex::project {

namespace {

using regions::PatchKind;
using regions::PlacedRegion;
using regions::Region;

bool counts(const Region& region)
{
    return region.isOn && (region.patch != PatchKind::none || region.changesBlur());
}

bool needsScene(const Project& project, const Region& region)
{
    if (project.scene.file.empty()) return false;
    return std::ranges::any_of(placingSubjects(region), [&](const std::string& name) {
        const auto* subject = project.subjectNamed(name);
        return subject && !subject->scenePoint.empty();
    });
}

/// Coverage of the project's mattes over a box that the frame lies in.
std::function<Plane<float>(const std::string&)> mattesOf(const passes::PassSource& source,
                                                         const Project& project, int frame,
                                                         const PixelBox& box, const Run& run)
{
    return [&source, &project, frame, box, run](const std::string& title) {
        for (const passes::MatteChoice& matte : project.mattes) {
            if (matte.title() != title) continue;
            const ObjectSharesPtr objects = source.loadObjects(frame, {matte}, run);
            Plane<float> coverage(box.width(), box.height());
            if (!objects) return coverage;
            // As large as all that the files hold, or as the frame.
            const int left = objects->width == box.width() ? 0 : -box.minX;
            const int top = objects->height == box.height() ? 0 : -box.minY;
            for (int y = 0; y < std::min(objects->height, box.height()); ++y)
                for (int x = 0; x < std::min(objects->width, box.width()); ++x)
                    for (std::size_t i = objects->firstOf(x, y); i < objects->endOf(x, y); ++i)
                        if (coverage.contains(x + left, y + top))
                            coverage.at(x + left, y + top) = objects->samples[i].coverage;
            return coverage;
        }
        return Plane<float>();
    };
}

regions::Surroundings frameSurroundings(const passes::PassSource& source, const Project& project, int frame,
                                        const Plane<float>& distance, const Run& run)
{
    const PixelBox box = PixelBox::at(0, 0, distance.width(), distance.height());
    return {box, &distance, nullptr, mattesOf(source, project, frame, box, run)};
}

/// The distance a patch puts in place, where it is known before those of the frame are.
std::optional<double> knownDistance(const passes::PassSource& source, const Project& project,
                                    const PlacedRegion& region, int frame, const Run& run,
                                    std::vector<std::string>& problems)
{
    const Region& r = region.region;
    if (r.patch == PatchKind::subject) {
        const auto* subject = project.subjectNamed(r.subject);
        const auto distance = subject ? timeline::distanceAt(*subject, frame) : std::nullopt;
        if (!subject)
            problems.push_back(
                say("takes its distance from \"{}\", which is no subject any more", r.subject));
        else if (!distance)
            problems.push_back(
                say("takes its distance from \"{}\", which has none on frame {}", r.subject, frame));
        return distance;
    }
    if (r.patch != PatchKind::median || !r.holdsFrame || r.heldFrame == frame) return std::nullopt;
    const auto passes = source.load(r.heldFrame, project.readingAt(r.heldFrame), run);
    Region values = r;
    for (const Region& other : project.valuesAt(r.heldFrame).regions)
        if (other.id == r.id) values = other;
    const PlacedRegion there = placedRegion(source, project, values, r.heldFrame);
    const Plane<float> coverage =
        coverageOf(there, frameSurroundings(source, project, r.heldFrame, passes->distance, run), run);
    return regions::medianUnder(coverage, passes->distance, passes->gaps);
}

} // namespace

std::set<std::string> placingSubjects(const Region& region)
{
    std::set<std::string> names;
    for (const std::string& name : followedSubjects(region))
        names.insert(name);
    for (const regions::Part& part : region.area.parts())
        for (const auto& mark : part.outline)
            for (const auto& point : mark.points)
                if (!point.subject.empty()) names.insert(point.subject);
    return names;
}

bool hasRegions(const Project& project, int frame)
{
    const auto& regions = project.shotAt(frame).settings.regions;
    if (regions.empty()) return false;
    const Settings values = project.valuesAt(frame);
    return std::ranges::any_of(values.regions, counts);
}

namespace {

regions::PlaceOf placesIn(const passes::PassSource& source, const Project& project, const Region& region)
{
    const auto scene = needsScene(project, region) ? source.loadScene(project.scene.file) : nullptr;
    return [&source, &project, scene](const std::string& name, int on) -> std::optional<regions::Point> {
        const auto* subject = project.subjectNamed(name);
        if (!subject) return std::nullopt;
        const auto place = seenPlace(project, *subject, on, scene.get(), source.width(), source.height());
        return place ? std::optional(regions::Point{place->x, place->y}) : std::nullopt;
    };
}

} // namespace

PlacedRegion placedRegion(const passes::PassSource& source, const Project& project, const Region& region,
                          int frame)
{
    return placed(region, frame, placesIn(source, project, region));
}

regions::Homography regionPlacement(const passes::PassSource& source, const Project& project,
                                    const Region& region, int frame)
{
    return placementOf(region, frame, placesIn(source, project, region));
}

std::vector<PlacedRegion> regionsAt(const passes::PassSource& source, const Project& project, int frame,
                                    const Run& run, LookedAtFor what)
{
    std::vector<PlacedRegion> result;
    for (const Region& region : project.valuesAt(frame).regions) {
        if (!counts(region)) continue;
        if (what == LookedAtFor::subjects && region.patch == PatchKind::subject) continue;
        PlacedRegion placed = placedRegion(source, project, region, frame);
        placed.distance = knownDistance(source, project, placed, frame, run, placed.problems);
        for (const regions::Part& part : region.area.parts())
            for (const std::string& title : part.mattes)
                if (std::ranges::none_of(project.mattes,
                                         [&](const auto& matte) { return matte.title() == title; }))
                    placed.problems.push_back(say("takes the matte \"{}\", which is not in the list", title));
        result.push_back(std::move(placed));
    }
    return result;
}

void checkRegions(const passes::PassSource& source, const Project& project, int frame)
{
    for (const PlacedRegion& placed : regionsAt(source, project, frame, {}))
        if (!placed.problems.empty())
            throw Error(say("The region \"{}\" {}. Choose another, or switch the region off.",
                            placed.region.name, placed.problems.front()));
}

Plane<float> regionCoverage(const passes::PassSource& source, const Project& project,
                            const PlacedRegion& region, int frame, const Run& run)
{
    const auto passes = source.load(frame, project.readingAt(frame), run);
    return coverageOf(region, frameSurroundings(source, project, frame, passes->distance, run), run);
}

void applyRegions(const passes::PassSource& source, const Project& project, int frame,
                  depth::DistanceResult& distances, const Run& run, LookedAtFor what)
{
    const auto regions = regionsAt(source, project, frame, run, what);
    if (regions.empty()) return;
    regions::Changed changed{distances.distance, distances.gaps};
    const PixelBox box = PixelBox::at(0, 0, changed.distance.width(), changed.distance.height());
    apply(regions, {box, &distances.distance, &distances.gaps, mattesOf(source, project, frame, box, run)},
          changed, run);
    distances.distance = std::move(changed.distance);
    distances.gaps = std::move(changed.gaps);
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
    apply(regions, {box, &distance, &gaps, mattesOf(source, project, frame, box, quiet)}, changed, quiet);
    auto result = std::make_shared<passes::FramePasses>();
    result->raw = passes->raw;
    if (overscan) {
        const PixelBox inside =
            PixelBox::at(overscan->left, overscan->top, passes->distance.width(), passes->distance.height());
        result->distance = cut(changed.distance, inside);
        result->gaps = cut(changed.gaps, inside);
        result->overscanDistance = std::move(changed.distance);
        if (changed.blur) {
            auto frameBlur = std::make_shared<BlurShare>();
            frameBlur->share = cut(changed.blur->share, inside);
            frameBlur->addedPx = cut(changed.blur->addedPx, inside);
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
    apply(regions, {box, &full->distance, &full->gaps, mattesOf(source, project, frame, box, quiet)}, changed,
          quiet, divisor);
    result->distance = std::move(changed.distance);
    result->gaps = std::move(changed.gaps);
    if (changed.blur) {
        for (float& added : changed.blur->addedPx.pixels())
            added /= static_cast<float>(divisor);
        result->blur = std::move(changed.blur);
    }
    return result;
}

std::string placesOf(const Project& project, const Region& region, int frame)
{
    std::string text;
    for (const std::string& name : placingSubjects(region)) {
        const auto* subject = project.subjectNamed(name);
        text += name;
        if (!subject) continue;
        if (!subject->scenePoint.empty()) {
            text += subject->scenePoint + project.cameraAt(frame) + project.cameraAt(region.followsFrom) +
                    project.scene.file.string() + passes::fileState(project.scene.file) +
                    fmt::format(" {} {}", project.scene.framesPerSecond, project.scene.frameAtZero);
            continue;
        }
        for (const int on : {frame, region.followsFrom})
            if (const auto place = placeAt(*subject, on, project.framesOf(project.shotIndexAt(on))))
                text += fmt::format(" {} {}", place->x, place->y);
    }
    return text;
}

std::string regionPlaces(const Project& project, int frame)
{
    std::string text;
    for (const Region& region : project.valuesAt(frame).regions) {
        if (!counts(region)) continue;
        text += region.area.fingerprint() + '\n';
        text += placesOf(project, region, frame);
        if (region.patch == PatchKind::subject)
            if (const auto* subject = project.subjectNamed(region.subject))
                if (const auto distance = timeline::distanceAt(*subject, frame))
                    text += fmt::format(" {}", *distance);
        if (region.patch == PatchKind::median && region.holdsFrame && region.heldFrame != frame) {
            // The values it has there count too.
            const Settings there = project.valuesAt(region.heldFrame);
            for (const Region& other : there.regions)
                if (other.id == region.id)
                    text += fmt::format(" {} {} {} {} {} {}", other.growPx, other.featherPx, other.moveX,
                                        other.moveY, other.turnDeg, other.size);
        }
        for (const regions::Part& part : region.area.parts())
            for (const std::string& title : part.mattes)
                for (const passes::MatteChoice& matte : project.mattes)
                    if (matte.title() == title) text += matte.file.string() + '/' + matte.name + '\n';
    }
    return text;
}

} // namespace retinex::project
