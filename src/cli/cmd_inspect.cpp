#include "cli/commands.h"
#include "cli/console.h"
#include "cli/reports.h"
#include "core/system/error.h"

#include <fmt/format.h>

namespace retinex::cli {

namespace {

void inspectOne(const std::string& file, bool asJson, Json& document)
{
    if (isSceneName(file)) {
        const auto scene = passes::SceneFile::load(file);
        if (asJson)
            document.push_back(toJson(file, scene));
        else
            print(file, scene);
        return;
    }
    const FileReport report = examine(file);
    if (asJson)
        document.push_back(toJson(report));
    else
        print(report);
}

} // namespace

void addInspect(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand(
        "inspect", "Tell what files hold: parts, layers, channels, windows, depth, findings");
    auto files = std::make_shared<std::vector<std::string>>();
    auto json = std::make_shared<bool>(false);
    command->add_option("FILE", *files, "Pictures, frames or patterns of sequences, glTF scenes")->required();
    command->add_flag("--json", *json, "One JSON document on stdout");
    command->callback([=, &action] {
        action = [=] {
            int failures = 0;
            Json document = Json::array();
            for (const std::string& file : *files) {
                try {
                    inspectOne(file, *json, document);
                } catch (const Error& error) {
                    tell("{}\n", error.what());
                    ++failures;
                }
            }
            if (files->size() > 1 && failures == 0) {
                try {
                    const Together together = examineTogether(*files);
                    if (*json)
                        document.push_back(toJson(together));
                    else
                        print(together);
                } catch (const Error&) { // nothing to open together: each was told of
                }
            }
            if (*json) printJson(document);
            return failures ? 1 : 0;
        };
    });
}

} // namespace retinex::cli
