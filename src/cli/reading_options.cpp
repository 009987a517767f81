#include "cli/reading_options.h"

#include "cli/console.h"
#include "core/passes/pass_check.h"
#include "core/project/settings/project_settings.h"
#include "core/system/error.h"

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
        throw Error(fmt::format("--gaps {}: write far, neighbours or a distance.", text));
    gaps.place = Place::distance;
}

/// "auto" and the readings' own words.
std::vector<std::string> readingWords()
{
    std::vector<std::string> words{"auto"};
    words.insert(words.end(), kWords<depth::Reading>.begin(), kWords<depth::Reading>.end());
    return words;
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
            throw Error(fmt::format("--remap {}: write pairs of distances: 2:2,10:6.", text));
        points.push_back(point);
        at = second.ptr == end ? end : second.ptr + 1;
    }
    return points;
}

} // namespace

void addReadingOptions(CLI::App& command, ReadingOptions& options, const std::set<std::string>& without)
{
    command.add_option("--reading", options.reading, "How stored numbers become distance; auto: as proposed")
        ->check(CLI::IsMember(readingWords()))
        ->capture_default_str();
    options.given.addOptions(command, project::shotSettings(), [&](const auto& field) {
        return field.group == project::Group::reading && !without.contains(field.option);
    });
    command.add_option("--gaps", options.gaps, "Where gaps lie: far, neighbours or a distance")
        ->capture_default_str();
    command.add_option("--remap", options.remap, "Curve of distances, FROM:TO,FROM:TO");
    command.add_option("--alpha", options.alpha, "FILE[:CHANNEL]: alpha from a file of its own");
    command.add_option("--motion", options.motion,
                       "FILE[:LAYER]: motion vectors (x, y) from a file of their own");
    options.givenPasses.addOptions(command, project::projectSettings(),
                                   [](const auto& field) { return field.stage == project::Stage::passes; });
}

passes::PassOptions passOptions(const ReadingOptions& options)
{
    project::Project project;
    options.givenPasses.apply(project);
    if (!options.alpha.empty()) project.passOptions.alpha = parsePassChoice(options.alpha);
    if (!options.motion.empty()) project.passOptions.motion = parsePassChoice(options.motion);
    return project.passOptions;
}

depth::ReadingSettings readingSettings(const ReadingOptions& options, const passes::PassSource& source,
                                       int frame)
{
    project::Settings settings;
    if (options.reading == "auto") {
        settings.reading = passes::analysePasses(source, frame, std::nullopt).proposal.settings;
    } else {
        settings.reading.reading = *fromWord<depth::Reading>(options.reading);
        // Black is a grey's end, not a gap.
        settings.reading.gaps.zero = !depth::isGrey(settings.reading.reading);
    }
    // What was said besides counts; what was not said stays as proposed.
    options.given.apply(settings);
    setGaps(options.gaps, settings.reading.gaps);
    settings.reading.check();
    if (options.remap.empty()) return settings.reading;
    settings.reading.conditioning.remap = parseRemap(options.remap);
    namingOption("--remap " + options.remap, [&] { settings.reading.check(); });
    return settings.reading;
}

} // namespace retinex::cli
