#include "core/project/project.h"

#include "core/project/first_look.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <unordered_map>
#include <utility>

namespace retinex::project {

const timeline::Marks& Shot::marks(const SettingPath& path) const noexcept
{
    static const timeline::Marks none;
    const auto track = tracks.find(path);
    return track == tracks.end() ? none : track->second;
}

std::size_t Project::shotIndexAt(double frame) const noexcept
{
    std::size_t index = shots.size() - 1;
    while (index > 0 && shots[index].firstFrame > frame)
        --index;
    return index;
}

timeline::FrameRange Project::framesOf(std::size_t shot) const noexcept
{
    return {shot == 0 ? firstFrame : std::max(firstFrame, shots[shot].firstFrame),
            shot + 1 == shots.size() ? lastFrame : std::min(lastFrame, shots[shot + 1].firstFrame - 1)};
}

timeline::FrameRange Project::playedFrames() const noexcept
{
    const int in = std::clamp(playing.in.value_or(firstFrame), firstFrame, lastFrame);
    return {in, std::clamp(playing.out.value_or(lastFrame), in, lastFrame)};
}

const timeline::Subject* Project::subjectNamed(std::string_view name) const noexcept
{
    const auto it = std::find_if(subjects.begin(), subjects.end(),
                                 [&](const timeline::Subject& subject) { return subject.name == name; });
    return it == subjects.end() ? nullptr : &*it;
}

timeline::Subject* Project::subjectNamed(std::string_view name) noexcept
{
    return const_cast<timeline::Subject*>(std::as_const(*this).subjectNamed(name));
}

Settings Project::valuesAt(double frame) const
{
    const Shot& shot = shotAt(frame);
    return project::valuesAt(shot.settings, shot.tracks, frame, 1000.0 * metresPerUnit,
                             [this](const std::string& name, double at) -> std::optional<double> {
                                 const timeline::Subject* subject = subjectNamed(name);
                                 return subject ? timeline::distanceAt(*subject, at) : std::nullopt;
                             });
}

optics::ThinLens Project::lensAt(double frame, int width) const
{
    return lensSettingsAt(frame).blurModel(width).equivalentLens();
}

defocus::LensSettings Project::lensSettingsAt(double frame, double pixelAspect, int divisor) const
{
    Settings values = valuesAt(frame);
    if (divisor > 1) makeSmaller(values, divisor);
    defocus::LensSettings settings;
    settings.lens = values.lens(1000.0 * metresPerUnit);
    settings.sensorWidthMm = values.sensorWidthMm;
    settings.millimetresPerUnit = 1000.0 * metresPerUnit;
    settings.iris = values.iris;
    settings.blur = values.blur;
    settings.simpleLens = values.simpleLens;
    settings.glint = values.glint;
    settings.frameEdge = values.frameEdge;
    settings.pixelAspect = pixelAspect;
    return settings;
}

depth::ReadingSettings Project::readingAt(double frame) const
{
    const Settings values = valuesAt(frame);
    depth::ReadingSettings complete = values.reading;
    if (complete.reading == depth::Reading::distanceAlongRay && complete.fieldOfViewDeg <= 0.0)
        complete.fieldOfViewDeg = passes::fieldOfViewFor(values.focalLengthMm, values.sensorWidthMm);
    return depth::essential(complete);
}

void Project::readFilesAgain()
{
    const auto picture = shotSettings().find(setting::irisPicture);
    for (Shot& shot : shots)
        std::get<Field<Settings>::Access<std::string>>(picture->access)
            .set(shot.settings, shot.settings.irisPicture.string()); // it is read when it is set
}

std::vector<const passes::MatteChoice*> Project::mattesTitled(const std::vector<std::string>& titles) const
{
    std::vector<const passes::MatteChoice*> found;
    if (titles.empty()) return found;
    std::unordered_map<std::string, const passes::MatteChoice*> firstOf;
    for (const passes::MatteChoice& matte : mattes)
        firstOf.try_emplace(matte.title(), &matte);
    for (const std::string& title : titles) {
        const auto matte = firstOf.find(title);
        found.push_back(matte == firstOf.end() ? nullptr : matte->second);
    }
    return found;
}

std::vector<passes::MatteChoice> Project::edgeMattesAt(int frame) const
{
    std::vector<passes::MatteChoice> used;
    if (shotAt(frame).settings.mattesAtEdges)
        std::ranges::copy_if(mattes, std::back_inserter(used), &passes::MatteChoice::atEdges);
    return used;
}

namespace {

/// Whether regions of two shots put the same distances in place, as far as settings go.
bool patchAlike(const Shot& a, const Shot& b)
{
    const auto patches = [](const Shot& shot) {
        std::vector<regions::Region> found;
        for (regions::Region region : shot.settings.regions) {
            if (!region.isOn || region.patch == regions::PatchKind::none) continue;
            region.name.clear();
            region.share = 1.0;
            region.addedPx = 0.0;
            found.push_back(std::move(region));
        }
        return found;
    };
    const auto found = patches(a);
    if (found != patches(b)) return false;
    if (found.empty()) return true;
    const auto tracks = [](const Shot& shot) {
        Tracks kept;
        for (const auto& track : shot.tracks)
            if (track.first.text().starts_with("regions/") && !track.first.text().ends_with("/share"))
                kept.insert(track);
        return kept;
    };
    return tracks(a) == tracks(b);
}

} // namespace

bool Project::readsDepthLike(const Project& other) const
{
    if (firstFrame != other.firstFrame || lastFrame != other.lastFrame || shots.size() != other.shots.size())
        return false;
    const auto hasReadingMarks = [](const Shot& shot) {
        return std::ranges::any_of(shot.tracks, [](const auto& track) { return isForReading(track.first); });
    };
    for (std::size_t i = 0; i < shots.size(); ++i) {
        if (framesOf(i) != other.framesOf(i)) return false;
        const timeline::FrameRange frames = framesOf(i);
        const bool moves = hasReadingMarks(shots[i]) || hasReadingMarks(other.shots[i]);
        for (int frame = frames.first; frame <= (moves ? frames.last : frames.first); ++frame)
            if (readingAt(frame) != other.readingAt(frame)) return false;
        if (!patchAlike(shots[i], other.shots[i])) return false;
    }
    // Regions may hang on where subjects are and on what mattes hold.
    const bool hangs =
        std::ranges::any_of(shots, [](const Shot& shot) { return !shot.settings.regions.empty(); });
    return !hangs || (subjects == other.subjects && mattes == other.mattes && scene == other.scene);
}

Project projectFor(const passes::PassChoice& colour, const passes::PassChoice& depth,
                   const passes::PassSource& source, const depth::ReadingSettings& reading)
{
    Project project;
    project.base().reading = reading;
    project.colour = {source.colourFiles().pattern(), colour.name};
    project.depth = depth;
    if (!depth.file.empty()) project.depth.file = source.depthFiles().pattern();
    project.firstFrame = source.firstFrame();
    project.lastFrame = source.lastFrame();
    const auto passes = source.load(project.firstFrame, project.readingAt(project.firstFrame));
    const auto range = passes->range;
    if (range.hasSurface()) {
        if (!depth::needsEnds(project.base().reading.reading)) { // the ends of the Depth view's scale
            project.base().reading.nearest = range.nearest;
            project.base().reading.farthest = std::max(range.farthest, range.nearest * 1.001);
        }
        // The geometric mean lies where a reader of a logarithmic scale sees the middle; never inside the
        // lens.
        const double middle = std::sqrt(range.nearest * range.farthest);
        project.base().focusDistance =
            std::max(middle, project.fromMillimetres(2.0 * project.base().focalLengthMm));
        calmLens(project.base(), *passes, project.metresPerUnit);
    }
    return project;
}

Project projectOfPictures(const std::vector<std::filesystem::path>& pictures,
                          const passes::PassOptions& options)
{
    Project project;
    project.passOptions = options;
    const passes::PassSource source({}, {}, options);
    project.passOptions.handMadeDepth = true;
    project.base().reading = depth::handMadeReading();
    project.firstFrame = source.firstFrame();
    project.lastFrame = source.lastFrame();
    double distance = 2.0;
    project.base().focusDistance = distance;
    for (const auto& picture : pictures) {
        inserts::Insert insert;
        insert.id = std::to_string(project.base().inserts.size() + 1);
        insert.name = picture.stem().string();
        insert.file = passes::Sequence::find(picture).pattern().string();
        insert.distance = distance;
        insert.cornerDistances.fill(distance);
        insert.startFrame = insert.followsFrom = project.firstFrame;
        insert.moveX = 0.5 * source.width();
        insert.moveY = 0.5 * source.height();
        insert.widthPx = 0.5 * source.width();
        // Drawn from the last to the first: what is nearer covers what is farther where they cut.
        project.base().inserts.insert(project.base().inserts.begin(), insert);
        distance *= 2.0;
    }
    return project;
}

} // namespace retinex::project
