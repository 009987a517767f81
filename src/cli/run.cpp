#include "cli/run.h"

#include "cli/commands.h"
#include "cli/console.h"
#include "core/system/error.h"
#include "core/system/failure.h"

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fmt/format.h>
#include <iostream>
#include <regex>

namespace retinex::cli {

namespace {

/// `code`, or 1 where what was said did not all arrive.
int afterWriting(int code)
{
    std::cout.flush();
    if (std::cout.good() && std::fflush(stdout) == 0 && std::ferror(stdout) == 0) return code;
    tell("What was asked for could not be written to standard output: {}.\n", std::strerror(errno));
    return 1;
}

/// An option whose value is empty is a slip (an unset variable of a script), not a wish; "" or its name.
std::string emptyOption(int argc, const char* const* argv)
{
    for (int i = 1; i < argc; ++i) {
        const std::string_view word = argv[i];
        if (!word.starts_with("--")) continue;
        if (word.ends_with('=')) return std::string(word.substr(0, word.size() - 1));
        if (i + 1 < argc && std::string_view(argv[i + 1]).empty()) return std::string(word);
    }
    return {};
}

/// "1, 2 or 3" from "1,2,3".
std::string anyOf(const std::string& list)
{
    std::string words;
    for (std::size_t at = 0; at < list.size(); ++at)
        if (list[at] == ',')
            words += list.find(',', at + 1) == std::string::npos ? " or " : ", ";
        else
            words += list[at];
    return words;
}

/// What the parser of options says, as the rest of the program would: option, what was given, what may be.
std::string parseFailure(const std::string& said)
{
    const auto bare = [](const std::string& number) {
        return fmt::format("{:g}", std::strtod(number.c_str(), nullptr));
    };
    std::smatch part;
    if (std::regex_match(said, part, std::regex("Could not convert: (--[^ ]+) = (.*)")))
        return fmt::format("{} {}: give a number.", part.str(1), part.str(2));
    if (std::regex_match(said, part, std::regex("(--[^ ]+): Value ([^ ]+) not in range ([^ ]+) to ([^ ]+)")))
        return fmt::format("{} {}: must be {} to {}.", part.str(1), part.str(2), bare(part.str(3)),
                           bare(part.str(4)));
    if (std::regex_match(said, part, std::regex("(--[^ ]+): (.*) not in \\{(.*)\\}")))
        return fmt::format("{} {}: must be {}.", part.str(1), part.str(2), anyOf(part.str(3)));
    if (std::regex_match(said, part, std::regex("(--[^ ]+): At Most 1 required but received [0-9]+")))
        return fmt::format("{} is given more than once. Give it once.", part.str(1));
    return said;
}

} // namespace

int run(int argc, const char* const* argv)
{
    letWritesFail();
    CLI::App app("Depth of field for rendered pictures, from their depth passes.", "retinex-cli");
    app.set_version_flag("--version", RETINEX_VERSION);
    app.require_subcommand(1);
    bool verbose = false;
    app.add_flag("--verbose", verbose, "Tell the technical cause of a failure too");
    Action action;
    addInspect(app, action);
    addProbe(app, action);
    addOptics(app, action);
    addDefocus(app, action);
    addRender(app, action);
    addCheck(app, action);
    addDepthmap(app, action);
    addThumbnail(app, action);
    addSubmit(app, action);
    if (const std::string name = emptyOption(argc, argv); !name.empty()) {
        tell("{}: its value is empty. Give one, or leave the option out.\n", name);
        return 2;
    }
    app.failure_message([](const CLI::App*, const CLI::Error& error) {
        return parseFailure(error.what()) + "\nRun with --help for more information.\n";
    });
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? afterWriting(0) : 2;
    }
    try {
        return afterWriting(action());
    } catch (const Error& error) {
        tell("{}\n", error.what());
        if (verbose && !error.cause().empty()) tell("cause: {}\n", error.cause());
    } catch (const Cancelled&) {
        tell("Stopped. Frames written so far are whole.\n");
    } catch (...) {
        tell("{}\n", failureText(std::current_exception(), "What was asked for"));
    }
    return 1;
}

} // namespace retinex::cli
