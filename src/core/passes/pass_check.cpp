#include "core/passes/pass_check.h"
#include "core/image/reduced.h"
#include "core/passes/frames/mend_colour.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace retinex::passes {

namespace {

using Weight = Finding::Weight;

/// What the findings are drawn from.
struct Look
{
    const PassSource& source;
    const FramePasses& passes;
    const depth::ReadingSettings& reading;
    const PassAnalysis& analysis;
    std::vector<Finding>& findings;

    void add(const char* key, Weight weight, std::string matter, std::string meaning,
             std::string advice) const
    {
        findings.push_back({key, weight, std::move(matter), std::move(meaning), std::move(advice)});
    }
    [[nodiscard]] const depth::DepthStatistics& numbers() const { return analysis.statistics; }
};

std::string percent(double share)
{
    return share < 0.0995 ? fmt::format("{:.1f} %", 100.0 * share) : fmt::format("{:.0f} %", 100.0 * share);
}

void checkDirection(const Look& look)
{
    if (!look.analysis.direction.seemsExchanged()) return;
    std::string evidence;
    for (const std::string& reason : look.analysis.direction.reasonsForExchange())
        evidence += (evidence.empty() ? "" : "; ") + reason;
    look.add("exchanged", Weight::trouble, say("Near and far seem exchanged"),
             say("What should be sharp in front blurs as if it lay behind, and rims blur on the wrong side. "
                 "Evidence: ") +
                 evidence + ".",
             say("Turn near and far round in Depth. Next time, write plain distances from the camera."));
}

void checkProposal(const Look& look)
{
    const auto& proposal = look.analysis.proposal;
    if (!proposal.isSure() && look.reading == proposal.settings)
        look.add(
            "unsure-reading", Weight::trouble, say("How to read this depth pass is not certain"),
            say("The best guess, {1:.0f} % likely, is \"{0}\". A wrong reading puts the sharp zone in the "
                "wrong "
                "place.",
                depth::inWords(proposal.settings), 100.0 * proposal.confidence),
            say("Choose among the likeliest over the picture, or the reading in Depth. Next time, write "
                "plain "
                "distances as 32-bit float."));
    if (depth::needsEnds(look.reading.reading))
        look.add("unknown-ends", Weight::note, say("The numbers stand between two ends"),
                 say("Distances are right only as far as nearest, {:g}, and farthest, {:g}, are.",
                     look.reading.nearest, look.reading.farthest),
                 say("Type the ends that the render used. Next time, write distances, not greys."));
}

void checkEdges(const Look& look)
{
    const auto& s = look.numbers();
    if (s.edges > 200 && s.betweenShare > 0.35)
        look.add(
            "anti-aliased-depth", look.reading.conditioning.snapEdges ? Weight::note : Weight::trouble,
            say("Depth is anti-aliased: {} of edges", percent(s.betweenShare)),
            say("At edges the numbers are mixtures: they lie on no surface, and rims take the blur of a "
                "place where nothing is."),
            look.reading.conditioning.snapEdges
                ? say("They are snapped. Next time, render depth unfiltered: one sample, no "
                      "anti-aliasing.")
                : say("Tick \"Snap anti-aliased edges\" in Depth. Next time, render depth unfiltered: one "
                      "sample, no anti-aliasing."));
    if (s.isNoisy())
        look.add(
            "noisy-depth", Weight::trouble, say("Depth is noisy: {} of the distance", percent(s.noise)),
            say("Blur changes from pixel to pixel: surfaces look grainy. Depth may have been rendered with "
                "lens or "
                "motion blur, or resized."),
            look.reading.conditioning.softenPx > 0.0
                ? say("It is softened, which helps a little. Next time, render depth without lens blur and "
                      "motion blur.")
                : say("Soften it a little in Depth. Next time, render depth without lens blur and motion "
                      "blur."));
}

void checkNumbers(const Look& look)
{
    const auto& s = look.numbers();
    if (s.levels == 255)
        look.add("eight-bit-depth", Weight::trouble, say("Depth has 8 bits: {} different values", s.distinct),
                 say("Distance comes in 256 steps: blur jumps along slanted surfaces."),
                 look.reading.conditioning.smoothLevels > 0
                     ? say("The steps are smoothed. Next time, write depth as 32-bit float.")
                     : say("Tick \"Smooth 8-bit steps\" in Depth. Next time, write depth as 32-bit float."));
    else if (s.levels == 65535)
        look.add("integer-depth", Weight::note, say("Depth has 16-bit whole numbers"),
                 say("65536 steps are enough between near ends; far distances come in coarse steps."),
                 say("Next time, write depth as 32-bit float."));
    else if (s.significantBits <= 11 && s.distinct > 50)
        look.add("half-depth", Weight::note, say("Depth has the precision of half"),
                 say("Steps are 0.05 to 0.1 % of the distance: fine for most shots, visible on long slanted "
                     "floors."),
                 look.source.depthChannel().type == SampleType::float32
                     ? say("The file is 32-bit float; its numbers were rounded before it was written. Next "
                           "time, keep "
                           "depth as 32-bit float from the render on, with lossless compression.")
                     : say("Next time, write depth as 32-bit float."));
    if (s.nans + s.infinites > 0)
        look.add("not-finite-depth", Weight::note,
                 say("{} depth values are infinite or not a number", s.nans + s.infinites),
                 say("They are taken as gaps and spread to no neighbour."),
                 say("Infinity for empty space is good; NaN points at a fault in the render."));
    const bool gapAtMost = std::isfinite(look.reading.gaps.from);
    // Only where larger is farther, and nothing is farther still: a wall seen flat on before an infinite sky
    // holds one number too.
    const bool largestIsFarthest = look.reading.reading != depth::Reading::reciprocalDistance &&
                                   !look.reading.reversed && s.infinites == 0;
    if (s.shareAtMost > 0.01 && !gapAtMost && s.levels == 0 && s.openAtMost < 0.5 && largestIsFarthest &&
        !depth::isGrey(look.reading.reading))
        look.add("far-clamp", Weight::note,
                 say("{} of the picture hold the largest value, {:.4g}", percent(s.shareAtMost), s.most),
                 say("Depth was cut off at a far plane: everything beyond blurs alike."),
                 say("Next time, do not clamp depth, or set the far plane behind everything that is seen."));
}

/// The share of the opaque pixels that are gaps as depth is read; 0 where nothing tells what is opaque.
double opaqueGaps(const FramePasses& passes)
{
    if (!passes.raw->hasAlpha) return 0.0;
    const Plane<float>& alpha = passes.colour().plane(3);
    std::size_t opaque = 0;
    std::size_t gaps = 0;
    for (std::size_t i = 0; i < alpha.size(); ++i) {
        if (alpha.pixels()[i] <= 0.99F) continue;
        ++opaque;
        gaps += passes.gaps().pixels()[i];
    }
    return static_cast<double>(gaps) / static_cast<double>(std::max<std::size_t>(1, opaque));
}

void checkGaps(const Look& look)
{
    const auto& s = look.numbers();
    if (s.zeros > 0 && look.reading.gaps.zero)
        look.add("zero-gaps", Weight::note,
                 say("Empty space holds 0: {} of the picture", percent(s.shareAtZero)),
                 say("Taken literally it would be nearer than anything. It is read as a gap and given a "
                     "distance."),
                 say("Next time, write a far value or infinity where nothing is."));
    if (const double share = opaqueGaps(look.passes); share > 0.002)
        look.add(
            "colour-without-depth", Weight::trouble,
            say("{} of the opaque picture have no depth", percent(share)),
            say("Something is seen there that depth does not know: glass, hair, a sky dome. It blurs as a "
                "gap does."),
            say("Give gaps the neighbours' distance, or render depth for these objects too."));
    if (!look.passes.raw->hasAlpha && look.passes.range.gapCount > 0)
        look.add("no-alpha", Weight::note, say("There is no alpha"),
                 say("Nothing but depth tells where the picture is empty."),
                 say("Next time, render alpha with the colour pass."));
}

void checkColour(const Look& look)
{
    const RawPasses& raw = *look.passes.raw;
    if (raw.badColourCount > 0)
        look.add("bad-colour", Weight::trouble,
                 say("{} pixels have a colour that is infinite or not a number", raw.badColourCount),
                 say("They are mended from the pixels around them, so that blur does not spread them."),
                 say("Mend them in the render."));
    if (raw.heldColourCount > 0)
        look.add("held-colour", Weight::trouble,
                 say("{} pixels have more light than {:g}", raw.heldColourCount, kMostLight),
                 say("They are held at that: brighter ones would drown the whole picture."),
                 say("Look for a fault in the render: no light is that bright."));
    if (look.source.isSpaceAssumed() && !isInteger(raw.colourType))
        look.add(
            "assumed-colour", Weight::note, say("Primaries assumed: the file names none"),
            say("It is taken as {}, as the OpenEXR standard says.", look.source.inputSpace()),
            say("Choose another colour space in Passes. Next time, write the attribute chromaticities."));
    if (isInteger(raw.colourType))
        look.add("integer-colour", Weight::trouble, say("Colour has whole numbers from 0 to 1"),
                 say("It is taken as {} and made linear, but lights are cut at 1: their bokeh will be dull.",
                     look.source.inputSpace()),
                 say("Next time, render scene-linear EXR."));
    else {
        std::size_t atOne = 0;
        float most = 0.0F;
        for (int c = 0; c < 3; ++c)
            for (const float v : raw.colour().plane(c).pixels()) {
                most = std::max(most, v);
                if (v == 1.0F) ++atOne;
            }
        if (most == 1.0F && atOne > raw.colour().plane(0).size() / 1000)
            look.add("clipped-colour", Weight::trouble, say("Lights are cut at 1"),
                     say("A light as bright as paper spreads into a dull grey disc."),
                     say("Next time, write the render before it is clipped or prepared for display."));
    }
    std::size_t loose = 0;
    for (std::size_t i = 0; i < raw.colour().plane(0).size(); ++i)
        if (raw.colour().plane(3).pixels()[i] == 0.0F && raw.colour().plane(0).pixels()[i] +
                                                                 raw.colour().plane(1).pixels()[i] +
                                                                 raw.colour().plane(2).pixels()[i] >
                                                             1e-4F)
            ++loose;
    if (raw.hasAlpha && loose > raw.colour().plane(0).size() / 500)
        look.add("colour-outside-alpha", Weight::note,
                 say("{} of the pixels with alpha 0 have colour",
                     percent(static_cast<double>(loose) / static_cast<double>(raw.colour().plane(0).size()))),
                 say("Colour may not be multiplied by alpha, or light without substance, like glow or fog, "
                     "lies there."),
                 say("Render colour multiplied by alpha."));
}

void checkFiles(const Look& look)
{
    const PartInfo& depth = look.source.depthInfo().part(look.source.depthChannel().part);
    if (depth.compression == "b44" || depth.compression == "b44a" || depth.compression == "pxr24" ||
        ((depth.compression == "dwaa" || depth.compression == "dwab") &&
         look.source.depthChannel().isLuminance()))
        look.add("lossy-depth", Weight::note, say("Depth is packed with loss: {}", depth.compression),
                 say("Distances are rounded; edges may ring."),
                 say("Next time, pack depth with zip or piz."));
    if (const std::string notice = look.source.sizeNotice(); !notice.empty())
        look.add("other-size", Weight::trouble, say("Depth and colour differ in size"), notice,
                 say("Next time, render both at one size."));
    if (const auto missing = look.source.missingFrames(); !missing.empty())
        look.add("missing-frames", Weight::trouble, say("Frames {} are missing", describeFrames(missing)),
                 say("Rendering will {}.",
                     look.source.options().missing == MissingFrames::stop   ? say("stop before it begins")
                     : look.source.options().missing == MissingFrames::hold ? say("hold the frame before")
                                                                            : say("leave them black")),
                 say("Render them; files that arrive are taken up at once."));
    if (look.passes.raw->hasOverscan())
        look.add("overscan", Weight::note, say("The files hold picture beyond the frame"),
                 say("It is used: blur at the frame's edge takes what really lies there."),
                 say("Keep it so."));
}

} // namespace

PassAnalysis analysePasses(const PassSource& source, int frame,
                           const std::optional<depth::ReadingSettings>& asked, const std::stop_token& stop)
{
    const Run run{0, {}, stop};
    const RawPassesPtr raw = source.loadRaw(frame, run);
    if (source.options().handMadeDepth) { // there is nothing to look at but the colour
        PassAnalysis analysis;
        analysis.frame = frame;
        analysis.camera = cameraData(raw->header);
        analysis.proposal.settings = asked.value_or(depth::handMadeReading());
        const FramePassesPtr passes = source.load(frame, analysis.proposal.settings, run);
        const Look look{source, *passes, analysis.proposal.settings, analysis, analysis.findings};
        if (!source.options().isEmptyFrame()) checkColour(look);
        return analysis;
    }
    const Plane<float>* alpha = raw->hasAlpha ? &raw->colour().plane(3) : nullptr;
    PassAnalysis analysis;
    analysis.frame = frame;
    analysis.camera = cameraData(raw->header);
    analysis.statistics = depth::statisticsOf(raw->stored(), alpha);
    run.throwIfStopped();
    depth::ProposalHints hints;
    hints.fieldOfViewDeg = analysis.camera.fieldOfViewDeg.value_or(0.0);
    hints.pixelAspect = raw->pixelAspect;
    analysis.proposal = depth::proposeReading(raw->stored(), alpha, analysis.statistics, hints);
    run.throwIfStopped();
    const depth::ReadingSettings reading = asked.value_or(analysis.proposal.settings);
    const FramePassesPtr passes = source.load(frame, reading, run);
    // A large picture says no more than one of HD size made of its pixels.
    const int divisor = depth::enoughDivisor(passes->distance().width());
    analysis.direction =
        divisor == 1 ? depth::directionOf(passes->distance(), passes->gaps(), analysis.statistics.quantum())
                     : depth::directionOf(picked(passes->distance(), divisor),
                                          picked(passes->gaps(), divisor), analysis.statistics.quantum());
    for (depth::DirectionSign& sign : analysis.direction.signs) {
        sign.x *= divisor;
        sign.y *= divisor;
    }
    run.throwIfStopped();
    const Look look{source, *passes, reading, analysis, analysis.findings};
    for (const auto& check :
         {checkDirection, checkProposal, checkEdges, checkNumbers, checkGaps, checkColour, checkFiles})
        check(look);
    std::stable_sort(analysis.findings.begin(), analysis.findings.end(),
                     [](const Finding& a, const Finding& b) {
                         return a.weight == Weight::trouble && b.weight == Weight::note;
                     });
    return analysis;
}

} // namespace retinex::passes
