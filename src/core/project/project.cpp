#include "core/project/project.h"

#include <algorithm>
#include <cmath>

namespace retinex::project {

double Project::focusDistanceAt(double frame) const
{
    return timeline::distanceAt(marks, frame).value_or(focusDistance);
}

optics::ThinLens Project::lensAt(double frame) const
{
    return {focalLengthMm, fStop, millimetres(focusDistanceAt(frame))};
}

defocus::LensSettings Project::settingsAt(double frame, double pixelAspect) const
{
    defocus::LensSettings settings;
    settings.lens = lensAt(frame);
    settings.sensorWidthMm = sensorWidthMm;
    settings.millimetresPerUnit = 1000.0 * metresPerUnit;
    settings.iris = iris;
    settings.blur = blur;
    settings.simpleLens = simpleLens;
    settings.glint = glint;
    settings.frameEdge = frameEdge;
    settings.pixelAspect = pixelAspect;
    return settings;
}

depth::ReadingSettings Project::readingForRender() const
{
    depth::ReadingSettings complete = reading;
    if (complete.reading == depth::Reading::distanceAlongRay && complete.fieldOfViewDeg <= 0.0)
        complete.fieldOfViewDeg = passes::fieldOfViewFor(focalLengthMm, sensorWidthMm);
    return complete;
}

Project projectFor(const passes::PassChoice& colour, const passes::PassChoice& depth,
                   const passes::PassSource& source, const depth::ReadingSettings& reading)
{
    Project project;
    project.reading = reading;
    project.colour = {source.colourFiles().pattern(), colour.name};
    project.depth = depth;
    if (!depth.file.empty()) project.depth.file = source.depthFiles().pattern();
    project.firstFrame = source.firstFrame();
    project.lastFrame = source.lastFrame();
    const auto range = source.load(project.firstFrame, project.readingForRender())->range;
    if (range.hasSurface()) {
        if (!depth::needsEnds(project.reading.reading)) { // the ends of the Depth view's scale
            project.reading.nearest = range.nearest;
            project.reading.farthest = std::max(range.farthest, range.nearest * 1.001);
        }
        // The geometric mean lies where a reader of a logarithmic scale sees the middle; never inside the
        // lens.
        const double middle = std::sqrt(range.nearest * range.farthest);
        project.focusDistance = std::max(middle, project.fromMillimetres(2.0 * project.focalLengthMm));
    }
    return project;
}

} // namespace retinex::project
