#include "cli/commands.h"
#include "cli/console.h"
#include "cli/reports.h"
#include "core/optics/thin_lens.h"
#include "core/system/error.h"

#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace retinex::cli {

namespace {

struct OpticsOptions
{
    double focalLengthMm = 0.0;
    double fStop = 0.0;
    double focus = 0.0;
    std::string unit = "m";
    double cocMm = 0.03;
    std::string framing = "rendered";
    bool json = false;
};

int printOptics(const OpticsOptions& options)
{
    const optics::Unit unit = *optics::unitFromSymbol(options.unit);
    const double mmPerUnit = 1000.0 * optics::metresPer(unit);
    const optics::ThinLens lens{options.focalLengthMm, options.fStop, options.focus * mmPerUnit,
                                options.framing == "physical" ? optics::Framing::physical
                                                              : optics::Framing::rendered};
    lens.check();
    if (!(options.cocMm > 0.0)) throw Error("The accepted circle of confusion (--coc) must be above 0 mm.");
    const auto zone = optics::sharpZone(lens, options.cocMm);
    const double atInfinity = optics::circleOfConfusionAtInfinityMm(lens);
    const double hyperfocal = optics::hyperfocalMm(lens, options.cocMm);
    if (options.json) {
        nlohmann::ordered_json json{{"cocAtInfinityMm", atInfinity}, {"nearLimit", zone.nearMm / mmPerUnit}};
        if (std::isfinite(zone.farMm))
            json["farLimit"] = zone.farMm / mmPerUnit;
        else
            json["farLimit"] = "inf";
        json["hyperfocal"] = hyperfocal / mmPerUnit;
        json["framing"] = options.framing;
        json["unit"] = options.unit;
        json["cocMm"] = options.cocMm;
        printJson(json);
        return 0;
    }
    const auto distance = [&](double mm) { return optics::formatDistance(mm / 1000.0, unit); };
    fmt::print("CoC at infinity      {:.4g} mm\n", atInfinity);
    fmt::print("near limit           {}\n", distance(zone.nearMm));
    fmt::print("far limit            {}\n", distance(zone.farMm));
    fmt::print("hyperfocal distance  {}\n", distance(hyperfocal));
    fmt::print("for an accepted CoC of {:g} mm\n", options.cocMm);
    return 0;
}

} // namespace

void addOptics(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("optics", "CoC at infinity, near and far limit, hyperfocal distance");
    auto options = std::make_shared<OpticsOptions>();
    command->add_option("--focal-length", options->focalLengthMm, "Focal length, mm")->required();
    command->add_option("--fstop", options->fStop, "f-stop")->required();
    command->add_option("--focus", options->focus, "Focus distance, in --unit")->required();
    command->add_option("--unit", options->unit, "m, cm, mm, ft or in")
        ->check(CLI::IsMember({"m", "cm", "mm", "ft", "in"}))
        ->capture_default_str();
    command->add_option("--coc", options->cocMm, "Accepted CoC, mm")->capture_default_str();
    command
        ->add_option("--framing", options->framing,
                     "As rendered, or as a physical lens (handbook tables): rendered or physical")
        ->check(CLI::IsMember({"rendered", "physical"}))
        ->capture_default_str();
    command->add_flag("--json", options->json, "One JSON document on stdout");
    command->callback([=, &action] { action = [=] { return printOptics(*options); }; });
}

} // namespace retinex::cli
