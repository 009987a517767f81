#include "core/frame/make_lens_input.h"

#include "core/frame/depends_on.h"
#include "core/frame/lay_in.h"
#include "core/frame/others/other_frames.h"

#include <algorithm>

namespace retinex::frame {

namespace {

/// What the project's mattes say of it; null where a deep pass says more.
ObjectSharesPtr objectsOf(const passes::PassSource& source, const passes::FramePasses& passes,
                          const project::Project& project, int frame, const Run& run)
{
    return passes.deep ? nullptr : source.loadObjects(frame, project.edgeMattesAt(frame), run);
}

/// What goes through the lens at full size: all that the files hold, overscan too.
defocus::LensInput inputOf(const passes::FramePassesPtr& passes, ObjectSharesPtr objects)
{
    if (passes->laidIn) {
        defocus::LensInput input = inputOf(passes->laidIn->scene, std::move(objects));
        input.setLayers({passes->laidIn, &passes->laidIn->layers});
        return input;
    }
    defocus::LensInput input;
    if (passes->deep)
        input = defocus::LensInput(passes->deep);
    else
        input = {std::shared_ptr<const RgbaImage>(passes->raw, &passes->raw->allColour),
                 std::shared_ptr<const Plane<float>>(passes, &passes->allDistance), std::move(objects)};
    input.setBlurShare(passes->allBlur);
    return input;
}

/// Without what is laid in.
const passes::FramePasses& sceneOf(const passes::FramePasses& passes)
{
    return passes.laidIn ? *passes.laidIn->scene : passes;
}

double brightnessOf(const passes::FramePasses& passes)
{
    return passes.laidIn ? passes.laidIn->brightness : passes.raw->brightness;
}

void addLensInput(DependsOn& on)
{
    for (const passes::MatteChoice& matte : on.project().edgeMattesAt(on.frame()))
        on.matte(matte, on.frame());
    addOtherFrames(on);
}

} // namespace

const StageInfo kMakeLensInput{Stage::lensInput, 1, addLensInput};

LensReady makeLensInput(const passes::PassSource& source, const Project& project, int frame,
                        const passes::FramePassesPtr& passes, const Run& run, std::vector<int>* unreadable)
{
    LensReady ready{inputOf(passes, objectsOf(source, *passes, project, frame, run)),
                    project.lensSettingsAt(frame, passes->raw->pixelAspect)};
    run.throwIfStopped();
    ready.input.setSeenBehind(seenBehind(source, project, frame, sceneOf(*passes), run, unreadable));
    ready.settings.brightness = brightnessOf(*passes);
    if (const passes::RawPasses& raw = *passes->raw; raw.hasOverscan())
        ready.settings.frame = {raw.frame.minX, raw.frame.minY, raw.frame.width(), raw.frame.height()};
    return ready;
}

LensReady makeReducedLensInput(const passes::PassSource& source, const Project& project, int frame,
                               int divisor, const passes::FramePassesPtr& full, const Run& run)
{
    const auto small = reducedFramePasses(source, project, frame, divisor, run);
    LensReady ready{inputOf(small, nullptr), project.lensSettingsAt(frame, full->raw->pixelAspect, divisor)};
    ready.settings.brightness = brightnessOf(small->laidIn ? *small : *full);
    ready.settings.isCoarse = true;
    return ready;
}

} // namespace retinex::frame
