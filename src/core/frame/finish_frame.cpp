#include "core/frame/finish_frame.h"

#include "core/finish/colour_steps.h"
#include "core/finish/finish_version.h"
#include "core/finish/grain_plate.h"
#include "core/frame/depends_on.h"
#include "core/frame/kept_frames.h"
#include "core/frame/places/region_places.h"
#include "core/image/reduced.h"
#include "core/inserts/placing.h"
#include "core/inserts/resample.h"
#include "core/regions/name_list.h"
#include "core/system/say.h"

#include <fmt/format.h>

namespace retinex::frame {

namespace {

using finish::Glow;

void checkMattes(const Project& project, const Glow& glow)
{
    for (const std::string& title : titlesNotIn(project, regions::namesIn(glow.mattes)))
        throw Error(say("The glow \"{}\" is limited to the matte \"{}\", which is not in the list. Choose "
                        "another one in Finish.",
                        glow.name, title));
}

regions::Region regionNamed(const Settings& values, const Glow& glow, const std::string& name)
{
    for (const regions::Region& region : values.regions)
        if (region.name == name) return region;
    throw Error(
        say("The glow \"{}\" is limited to the region \"{}\", which is not there. Choose another one in "
            "Finish.",
            glow.name, name));
}

/// Where it is limited to; empty: nowhere.
Plane<float> maskOf(const passes::PassSource& source, const Project& project, int frame, const Glow& glow,
                    int divisor, const Run& run)
{
    const Settings values = project.valuesAt(frame);
    Plane<float> mask;
    const auto narrowTo = [&](const Plane<float>& area) {
        if (mask.empty()) {
            mask = area;
            return;
        }
        for (std::size_t i = 0; i < mask.size(); ++i)
            mask.pixels()[i] *= area.pixels()[i];
    };
    const auto covered = [&](const regions::Region& region) {
        return regionCoverage(source, project, placedRegion(source, project, region, frame), frame, run);
    };
    if (!glow.mattes.empty()) {
        checkMattes(project, glow);
        regions::Region region;
        regions::Piece piece;
        piece.kind = regions::PieceKind::mattes;
        piece.mattes = regions::namesIn(glow.mattes);
        region.area = regions::Area({piece});
        narrowTo(covered(region));
    }
    if (!glow.regions.empty()) {
        Plane<float> together(source.width(), source.height());
        for (const std::string& name : regions::namesIn(glow.regions)) {
            const Plane<float> one = covered(regionNamed(values, glow, name));
            for (std::size_t i = 0; i < together.size(); ++i)
                together.pixels()[i] = std::max(together.pixels()[i], one.pixels()[i]);
        }
        narrowTo(together);
    }
    return divisor > 1 && !mask.empty() ? averaged(mask, divisor) : mask;
}

std::shared_ptr<const passes::PassSource> plateSource(const passes::PassSource& source,
                                                      const finish::GrainPlate& plate)
{
    passes::PassOptions options;
    options.inputSpace = plate.inputSpace;
    options.handMadeDepth = true;
    options.missing = passes::MissingFrames::hold;
    return KeptFrames::of(source).other({plate.file, {}}, {}, options);
}

/// Filled with it, at the size of the picture.
RgbaImage plateOn(const passes::PassSource& source, const finish::GrainPlate& plate, int frame, int width,
                  int height, const Run& run)
{
    const auto other = plateSource(source, plate);
    const int shown = finish::plateFrame(plate, frame, other->firstFrame(), other->lastFrame());
    const auto raw = other->loadRaw(shown, run);
    inserts::Insert backdrop;
    backdrop.placing = inserts::Placing::backdrop;
    const auto corners = inserts::cornersOnFrame(backdrop, other->width(), other->height(), width, height);
    const auto placement = inserts::placementTo(corners, raw->colour().width(), raw->colour().height());
    if (!placement) return {};
    return inserts::laidInto(raw->colour(), *placement, PixelBox::at(0, 0, width, height), run).colour;
}

void addGlow(DependsOn& on, const Glow& glow)
{
    if (!finish::isUsed(glow)) return;
    on.mattesTitled(glow.mattes);
    for (const std::string& name : regions::namesIn(glow.regions))
        for (const regions::Region& region : on.values().regions)
            if (region.name == name) addArea(on, region);
    if (glow.mattes.empty() && glow.regions.empty()) return;
    on.settingsOf(Stage::regions); // of areas that do nothing else too
}

void addPlate(DependsOn& on, const finish::GrainPlate& plate)
{
    try {
        const auto other = plateSource(on.source(), plate);
        const int shown = finish::plateFrame(plate, on.frame(), other->firstFrame(), other->lastFrame());
        on.text(std::to_string(shown));
        on.passesOf(*other, shown);
    } catch (const Error&) { // said where it is read
        on.text("missing");
    }
}

void addFinish(DependsOn& on)
{
    const finish::Steps steps = stepsOn(on.project(), on.frame());
    if (steps.hasGrade() || steps.hasLook()) on.colourConfiguration();
    if (steps.hasLook())
        for (const finish::Look& look : steps.looks)
            if (!look.file.empty()) on.file(look.file);
    if (steps.hasGlow())
        for (const Glow& glow : steps.glows)
            addGlow(on, glow);
    if (steps.hasPlate()) addPlate(on, steps.finish.plate);
    if (steps.finish.grain.amount > 0.0 || steps.hasPlate()) on.text(std::to_string(on.frame()));
}

} // namespace

const StageInfo kFinishFrame{Stage::finish, finish::kFinishVersion, addFinish,
                             [](const DependsOn& on) { return stepsOn(on.project(), on.frame()).any(); }};

finish::Steps stepsOn(const Project& project, double frame, int divisor)
{
    Settings values = project.valuesAt(frame);
    if (divisor > 1) makeSmaller(values, divisor);
    return {std::move(values.finish), std::move(values.glows), std::move(values.looks)};
}

finish::Sources finishSources(const passes::PassSource& source, const Project& project, int frame,
                              const finish::Steps& steps, int divisor, const Run& run)
{
    finish::Sources sources;
    sources.frame = frame;
    if (!steps.any()) return sources;
    if (steps.hasGlow())
        for (const Glow& glow : steps.glows)
            sources.glowMasks.push_back(
                finish::isUsed(glow) ? maskOf(source, project, frame, glow, divisor, run) : Plane<float>());
    if (steps.hasPlate())
        sources.plate = plateOn(source, steps.finish.plate, frame, (source.width() + divisor - 1) / divisor,
                                (source.height() + divisor - 1) / divisor, run);
    return sources;
}

void checkFinish(const passes::PassSource& source, const Project& project, int frame)
{
    const finish::Steps steps = stepsOn(project, frame);
    if (!steps.any()) return;
    finish::checkCurves(steps.finish.grade);
    if (steps.hasGrade() || steps.hasLook()) (void)finish::ColourSteps::make(steps, finish::Quality::exact);
    if (steps.hasPlate()) {
        try {
            (void)plateSource(source, steps.finish.plate);
        } catch (const Error& error) {
            throw Error(say("The grain plate cannot be read: {}", error.what()));
        }
    }
    const Settings values = project.valuesAt(frame);
    if (steps.hasGlow())
        for (const Glow& glow : steps.glows) {
            if (!finish::isUsed(glow)) continue;
            checkMattes(project, glow);
            for (const std::string& name : regions::namesIn(glow.regions))
                (void)regionNamed(values, glow, name);
        }
}

} // namespace retinex::frame
