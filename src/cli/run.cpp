#include "cli/run.h"

#include "cli/commands.h"
#include "cli/console.h"
#include "core/system/error.h"
#include "core/system/failure.h"

#include <cerrno>
#include <cstring>
#include <iostream>

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

} // namespace

int run(int argc, const char* const* argv)
{
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
