#include "cli/reading_options.h"

#include "cli/console.h"
#include "core/base/error.h"
#include "core/passes/pass_check.h"

#include <charconv>
#include <fmt/format.h>

namespace retinex::cli {

namespace {

void setGaps(const std::string& text, depth::GapRules& gaps)
{
    using Place = depth::GapRules::Place;
    if (text == "far" || text == "neighbours") {
        gaps.place = text == "far" ? Place::far : Place::neighbours;
        return;
    }
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), gaps.distance);
    if (error != std::errc{} || end != text.data() + text.size() || !(gaps.distance > 0.0))
        throw Error(fmt::format("\"{}\" is no place for gaps. Write far, neighbours or a distance.", text));
    gaps.place = Place::distance;
}

/// "2:2,10:6": pairs of distances.
std::vector<std::pair<double, double>> parseRemap(const std::string& text)
{
    std::vector<std::pair<double, double>> points;
    const char* at = text.data();
    const char* const end = at + text.size();
    while (at != end) {
        std::pair<double, double> point;
        auto first = std::from_chars(at, end, point.first);
        const bool colon = first.ec == std::errc{} && first.ptr != end && *first.ptr == ':';
        const auto second = colon ? std::from_chars(first.ptr + 1, end, point.second) : first;
        if (!colon || second.ec != std::errc{} || (second.ptr != end && *second.ptr != ','))
            throw Error(fmt::format("\"{}\" is no curve. Write pairs of distances: 2:2,10:6.", text));
        points.push_back(point);
        at = second.ptr == end ? end : second.ptr + 1;
    }
    return points;
}

} // namespace

void addReadingOptions(CLI::App& command, ReadingOptions& options)
{
    depth::ReadingSettings& s = options.settings;
    command.add_option("--reading", options.reading, "How stored numbers become distance; auto: as proposed")
        ->check(CLI::IsMember({"auto", "distance", "ray", "reciprocal", "near-bright", "near-dark", "clip"}))
        ->capture_default_str();
    command.add_option("--nearest", s.nearest, "Distance of the near end of a grey; near clip plane");
    command.add_option("--farthest", s.farthest, "Distance of the far end of a grey; far clip plane");
    command.add_option("--spacing", options.spacing, "What a grey is even in: distance or reciprocal")
        ->check(CLI::IsMember({"distance", "reciprocal"}));
    command.add_option("--encoding", options.encoding, "How a picture wrote its numbers: linear or srgb")
        ->check(CLI::IsMember({"linear", "srgb"}));
    command
        .add_option("--clip-range", options.clipRange,
                    "Clip space runs from near to far: 0..1, -1..1 or 1..0")
        ->check(CLI::IsMember({"0..1", "-1..1", "1..0"}));
    command.add_option("--stored-low", s.storedLow, "Stored number of the dark end");
    command.add_option("--stored-high", s.storedHigh, "Stored number of the bright end");
    command.add_flag("--reversed", s.reversed, "The numbers run the other way");
    command.add_flag("--clamp", s.clamp, "Hold distances between --nearest and --farthest");
    command.add_option("--field-of-view", s.fieldOfViewDeg,
                       "Degrees across the width, for distances along the ray");
    command.add_option("--gaps", options.gaps, "Where gaps lie: far, neighbours or a distance")
        ->capture_default_str();
    command.add_flag("--zero-is-depth", options.zeroIsDepth, "0 is a number like others, not a gap");
    command.add_flag("--gaps-outside-alpha", s.gaps.outsideAlpha, "Pixels with alpha 0 are gaps");
    command.add_option("--gaps-from", s.gaps.from, "Stored numbers from this one on are gaps");
    command.add_flag("--snap-edges", s.conditioning.snapEdges,
                     "Give anti-aliased edge values to one surface");
    command.add_option("--smooth-levels", s.conditioning.smoothLevels,
                       "Smooth the steps of this many levels (255)");
    command.add_option("--soften", s.conditioning.softenPx, "Edge-keeping softening of noisy depth, px");
    command.add_option("--offset", s.conditioning.offset, "Added to every distance");
    command.add_option("--remap", options.remap, "Curve of distances, FROM:TO,FROM:TO");
    command.add_option("--alpha", options.alpha, "FILE[:CHANNEL]: alpha from a file of its own");
    command.add_option("--input-space", options.inputSpace,
                       "Colour space of the colour pass; by the file otherwise");
    command.add_option("--missing", options.missing, "Missing frames: stop, hold or black")
        ->check(CLI::IsMember({"stop", "hold", "black"}))
        ->capture_default_str();
    command.add_option("--size-fit", options.sizeFit, "Depth of another size: scale or centre")
        ->check(CLI::IsMember({"scale", "centre"}))
        ->capture_default_str();
}

passes::PassOptions passOptions(const ReadingOptions& options)
{
    passes::PassOptions pass;
    if (!options.alpha.empty()) pass.alpha = parsePassChoice(options.alpha);
    pass.inputSpace = options.inputSpace;
    pass.missing = *passes::missingFromName(options.missing);
    pass.sizeFit = *passes::sizeFitFromName(options.sizeFit);
    return pass;
}

depth::ReadingSettings readingSettings(const ReadingOptions& options, const passes::PassSource& source,
                                       int frame)
{
    depth::ReadingSettings settings = options.settings;
    if (options.reading == "auto") {
        settings = passes::analysePasses(source, frame, std::nullopt).proposal.settings;
        // What was said besides counts; what was not said stays as proposed.
        const depth::ReadingSettings& given = options.settings;
        const depth::ReadingSettings untouched;
        const auto lay = [&](auto member) {
            if (given.*member != untouched.*member) settings.*member = given.*member;
        };
        lay(&depth::ReadingSettings::nearest);
        lay(&depth::ReadingSettings::farthest);
        lay(&depth::ReadingSettings::storedLow);
        lay(&depth::ReadingSettings::storedHigh);
        lay(&depth::ReadingSettings::reversed);
        lay(&depth::ReadingSettings::clamp);
        lay(&depth::ReadingSettings::fieldOfViewDeg);
        if (given.conditioning != untouched.conditioning) settings.conditioning = given.conditioning;
        if (given.gaps != untouched.gaps) settings.gaps = given.gaps;
    } else {
        settings.reading = *depth::readingFromName(options.reading);
        // Black is a grey's end, not a gap.
        settings.gaps.zero = !depth::isGrey(settings.reading);
    }
    if (!options.spacing.empty()) settings.spacing = *depth::spacingFromName(options.spacing);
    if (!options.encoding.empty()) settings.encoding = *depth::encodingFromName(options.encoding);
    if (!options.clipRange.empty()) settings.clipRange = *depth::clipRangeFromName(options.clipRange);
    if (options.zeroIsDepth) settings.gaps.zero = false;
    setGaps(options.gaps, settings.gaps);
    if (!options.remap.empty()) settings.conditioning.remap = parseRemap(options.remap);
    settings.check();
    return settings;
}

} // namespace retinex::cli
