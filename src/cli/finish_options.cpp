#include "cli/finish_options.h"

#include "cli/given_settings.h"
#include "core/colour/input_space.h"
#include "core/project/settings/finish_settings.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <filesystem>
#include <tuple>

namespace retinex::cli {

namespace {

/// FILE=0.5: a number after the last "=", where a file of the whole name is not there.
finish::Look lookFrom(const std::string& text, const FinishOptions& options)
{
    finish::Look look;
    look.file = text;
    const std::size_t at = text.rfind('=');
    std::error_code code;
    if (at != std::string::npos && !std::filesystem::exists(text, code)) {
        const std::string number = text.substr(at + 1);
        char* end = nullptr;
        look.strength = std::strtod(number.c_str(), &end);
        if (number.empty() || *end != '\0' || !(look.strength >= 0.0 && look.strength <= 1.0))
            throw Error(say("--look {}: the strength is a number from 0 to 1.", text));
        look.file = text.substr(0, at);
    }
    look.name = std::filesystem::path(look.file).stem().string();
    look.space = options.lookSpace.empty() ? colour::screenSpace() : options.lookSpace;
    return look;
}

} // namespace

void addFinishOptions(CLI::App& command, FinishOptions& options)
{
    command.add_option("--glow", options.glow, "A glow: share of the light that glows, 0.2");
    command.add_option("--glow-level", options.glowLevel,
                       "Brighter than this glows: the largest of R, G and B, scene-linear (1)");
    command.add_option("--glow-radius", options.glowRadius,
                       "Its reach, share of the frame's width: 0.001 to 0.5 (0.05)");
    command.add_option("--glow-tail", options.glowTail, "0: nearly all in the core, 1: far out (0.5)");
    command
        .add_option(
            "--look", options.looks,
            "FILE[=STRENGTH]: a look-up table (.cube, .3dl, .clf, .csp, ...), 0 to 1; several in their order")
        ->allow_extra_args(false);
    command.add_option("--look-space", options.lookSpace,
                       "Colour space that looks work in; sRGB where there is one");
}

void addFinish(const FinishOptions& options, project::Project& project)
{
    project::Settings& settings = project.base();
    if (options.glow || options.glowLevel || options.glowRadius || options.glowTail) {
        finish::Glow glow;
        glow.id = "1";
        glow.name = "glow";
        for (const auto& [option, path, given] : {std::tuple{"--glow", "amount", options.glow},
                                                  {"--glow-level", "level", options.glowLevel},
                                                  {"--glow-radius", "radius", options.glowRadius},
                                                  {"--glow-tail", "tail", options.glowTail}}) {
            if (!given) continue;
            const auto field = project::glowSettings().find(path);
            requireFits(*field, option, *given);
            field->set(glow, *given);
        }
        settings.glows.push_back(glow);
    }
    for (const std::string& text : options.looks) {
        settings.looks.push_back(lookFrom(text, options));
        settings.looks.back().id = std::to_string(settings.looks.size());
    }
    project::checkRanges(settings);
}

} // namespace retinex::cli
