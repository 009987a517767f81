#include "cli/commands.h"
#include "core/base/error.h"

#include <fmt/format.h>
#include <new>

int main(int argc, char** argv)
{
    using namespace retinex;
    CLI::App app("Depth of field for rendered pictures, from their depth passes.", "retinex-cli");
    app.set_version_flag("--version", RETINEX_VERSION);
    app.require_subcommand(1);
    bool verbose = false;
    app.add_flag("--verbose", verbose, "Tell the technical cause of a failure too");
    cli::Action action;
    cli::addInspect(app, action);
    cli::addProbe(app, action);
    cli::addOptics(app, action);
    cli::addDefocus(app, action);
    cli::addRender(app, action);
    cli::addCheck(app, action);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? 0 : 2;
    }
    try {
        return action();
    } catch (const Error& error) {
        fmt::print(stderr, "{}\n", error.what());
        if (verbose && !error.cause().empty()) fmt::print(stderr, "cause: {}\n", error.cause());
    } catch (const Cancelled&) {
        fmt::print(stderr, "Stopped. Frames written so far are whole.\n");
    } catch (const std::bad_alloc&) {
        fmt::print(
            stderr,
            "There is not enough memory for this. Work on a smaller picture, or close other programs.\n");
    } catch (const std::exception& error) {
        fmt::print(stderr, "Something went wrong that should not have: {}\n", error.what());
    }
    return 1;
}
