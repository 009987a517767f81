#include "cli/commands.h"
#include "cli/console.h"
#include "cli/reports.h"
#include "core/delivery/deliver.h"
#include "core/delivery/project_check.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"

#include <algorithm>
#include <fmt/format.h>

namespace retinex::cli {

namespace {

int check(const std::string& file, const std::string& out, bool asJson)
{
    const project::Project project = loadTelling(file);
    auto report =
        delivery::checkProject(project, project::framesFolder(file, out), {0, {}, interruptToken()});
    if (report.stops.empty()) {
        const passes::PassSource source(project.colour, project.depth, project.passOptions);
        const auto shared = std::make_shared<project::Project>(project);
        std::vector<project::Delivery> deliveries;
        std::ranges::copy_if(project.deliveries, std::back_inserter(deliveries), &project::Delivery::isOn);
        report.stops = delivery::deliveryProblems(source, delivery::jobsOf(shared, file, deliveries, out));
    }
    if (asJson) {
        Json json{{"project", file}, {"stops", report.stops}, {"findings", toJson(report.findings)}};
        printJson(json);
    } else {
        print(report.findings);
        if (report.stops.empty()) fmt::print("Nothing stops a render of {}.\n", file);
    }
    for (const std::string& stop : report.stops)
        tell("{}\n", stop);
    return report.stops.empty() ? 0 : 1;
}

} // namespace

void addCheck(CLI::App& app, Action& action)
{
    auto* command =
        app.add_subcommand("check", "Tell everything that would stop a render, without rendering");
    auto file = std::make_shared<std::string>();
    auto out = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    command->add_option("PROJECT", *file, "A .retinex file")->required();
    command->add_option("--out", *out, "Folder that a render would write to; as for render");
    command->add_flag("--json", *json, "One JSON document on stdout");
    command->callback([=, &action] { action = [=] { return check(*file, *out, *json); }; });
}

} // namespace retinex::cli
