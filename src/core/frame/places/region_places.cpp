#include "core/frame/places/region_places.h"

#include "core/frame/depends_on.h"
#include "core/frame/kept_frames.h"
#include "core/frame/places/subject_measure.h"
#include "core/image/crop.h"
#include "core/system/say.h"

#include <algorithm>
#include <iterator>

namespace retinex::frame {

namespace {

using regions::MatteCoverage;
using regions::PatchKind;
using regions::PlacedRegion;
using regions::Region;

bool needsScene(const Project& project, const Region& region)
{
    if (project.scene.file.empty()) return false;
    return std::ranges::any_of(placingSubjects(region), [&](const std::string& name) {
        const auto* subject = project.subjectNamed(name);
        return subject && !subject->scenePoint.empty();
    });
}

regions::Surroundings frameSurroundings(const passes::PassSource& source, const Project& project, int frame,
                                        const Plane<float>& distance, const Run& run)
{
    const PixelBox box = PixelBox::at(0, 0, distance.width(), distance.height());
    return {box, &distance, nullptr, matteCoverage(source, project, frame, box, run)};
}

/// Those of some titles that the project has.
std::vector<passes::MatteChoice> mattesThere(const Project& project, const std::vector<std::string>& titles)
{
    std::vector<passes::MatteChoice> mattes;
    for (const passes::MatteChoice* matte : project.mattesTitled(titles))
        if (matte) mattes.push_back(*matte);
    return mattes;
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
        coverageOf(there, frameSurroundings(source, project, r.heldFrame, passes->distance(), run), run);
    return regions::medianUnder(coverage, passes->distance(), passes->gaps());
}

} // namespace

bool countsHere(const Region& region)
{
    return region.isOn && (region.patch != PatchKind::none || region.changesBlur());
}

MatteCoverage matteCoverage(const passes::PassSource& source, const Project& project, int frame,
                            const PixelBox& box, const Run& run)
{
    return [&source, &project, frame, box, run](const std::vector<std::string>& titles) {
        const ObjectSharesPtr objects = source.loadObjects(frame, mattesThere(project, titles), run);
        if (!objects) return Plane<float>(box.width(), box.height());
        const PixelBox all = source.loadRaw(frame, run)->extent(); // what they are as large as
        return cropped(coverageOf(*objects),
                       PixelBox::at(box.minX - all.minX, box.minY - all.minY, box.width(), box.height()));
    };
}

std::set<std::string> placingSubjects(const Region& region)
{
    std::set<std::string> names;
    for (const std::string& name : followedSubjects(region))
        names.insert(name);
    for (const regions::Piece& piece : region.area.pieces())
        for (const auto& mark : piece.outline)
            for (const auto& point : mark.points)
                if (!point.subject.empty()) names.insert(point.subject);
    return names;
}

bool hasRegions(const Project& project, int frame)
{
    const auto& regions = project.shotAt(frame).settings.regions;
    if (regions.empty()) return false;
    const Settings values = project.valuesAt(frame);
    return std::ranges::any_of(values.regions, countsHere);
}

namespace {

regions::PlaceOf placesIn(const passes::PassSource& source, const Project& project, const Region& region)
{
    const auto scene =
        needsScene(project, region) ? KeptFrames::of(source).scene(project.scene.file) : nullptr;
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
                                    const Run& run, Purpose purpose)
{
    std::vector<PlacedRegion> result;
    for (const Region& region : project.valuesAt(frame).regions) {
        if (!countsHere(region)) continue;
        if (purpose == Purpose::subjects && region.patch == PatchKind::subject) continue;
        PlacedRegion placed = placedRegion(source, project, region, frame);
        placed.distance = knownDistance(source, project, placed, frame, run, placed.problems);
        for (const regions::Piece& piece : region.area.pieces())
            for (const std::string& title : titlesNotIn(project, piece.mattes))
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
    return coverageOf(region, frameSurroundings(source, project, frame, passes->distance(), run), run);
}

std::string placesOf(DependsOn& on, const Region& region, int frame)
{
    const Project& project = on.project();
    std::string text;
    for (const std::string& name : placingSubjects(region)) {
        const auto* subject = project.subjectNamed(name);
        text += name;
        if (!subject) continue;
        if (!subject->scenePoint.empty()) {
            text += subject->scenePoint + project.cameraAt(frame) + project.cameraAt(region.followsFrom) +
                    project.scene.file.string() +
                    fmt::format(" {} {}", project.scene.framesPerSecond, project.scene.frameAtZero);
            on.file(project.scene.file);
            continue;
        }
        for (const int at : {frame, region.followsFrom})
            if (const auto place = placeAt(*subject, at, project.framesOf(project.shotIndexAt(at))))
                text += fmt::format(" {} {}", place->x, place->y);
    }
    return text;
}

std::vector<passes::MatteChoice> mattesOf(const Project& project, const Region& region)
{
    std::vector<passes::MatteChoice> mattes;
    for (const regions::Piece& piece : region.area.pieces())
        std::ranges::move(mattesThere(project, piece.mattes), std::back_inserter(mattes));
    return mattes;
}

std::vector<std::string> titlesNotIn(const Project& project, const std::vector<std::string>& titles)
{
    std::vector<std::string> lost;
    const auto mattes = project.mattesTitled(titles);
    for (std::size_t i = 0; i < titles.size(); ++i)
        if (!mattes[i]) lost.push_back(titles[i]);
    return lost;
}

void addArea(DependsOn& on, const Region& region)
{
    on.text(region.area.fingerprint());
    on.text(placesOf(on, region, on.frame()));
    for (const auto& matte : mattesOf(on.project(), region))
        on.matte(matte, on.frame());
}

} // namespace retinex::frame
