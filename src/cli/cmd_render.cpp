#include "cli/commands.h"
#include "cli/console.h"
#include "cli/finish_options.h"
#include "cli/given_settings.h"
#include "cli/insert_options.h"
#include "cli/reading_options.h"
#include "cli/region_options.h"
#include "core/delivery/deliver.h"
#include "core/frame/finish_frame.h"
#include "core/frame/others/other_frames.h"
#include "core/frame/places/insert_checks.h"
#include "core/frame/places/region_places.h"
#include "core/frame/places/subject_measure.h"
#include "core/passes/iris_picture.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>

namespace retinex::cli {

namespace {

namespace fs = std::filesystem;

struct WorkOptions
{
    std::string frames;
    int threads = 0;
    ProgressKind progress = ProgressKind::automatic;
    bool overwrite = false;
};

void addWorkOptions(CLI::App& command, WorkOptions& options)
{
    static const std::map<std::string, ProgressKind> kinds{{"auto", ProgressKind::automatic},
                                                           {"plain", ProgressKind::plain},
                                                           {"json", ProgressKind::json},
                                                           {"none", ProgressKind::none}};
    command.add_option(
        "--frames", options.frames,
        "A-B, one frame, or a list (1-24,30,40-48x2, shot NAME, in-out, marks); all by default");
    command.add_option("--threads", options.threads, "0: all cores")->check(CLI::Range(0, 1024));
    command.add_flag("--overwrite", options.overwrite, "Write over frames that are there already");
    command.add_option("--progress", options.progress, "auto, plain, json or none")
        ->transform(CLI::CheckedTransformer(kinds).description(""));
}

delivery::Existing existingOf(const WorkOptions& options)
{
    return options.overwrite ? delivery::Existing::overwrite : delivery::Existing::refuse;
}

void tellUnreadable(const std::vector<int>& frames)
{
    if (const std::string words = frame::unreadableInWords(frames); !words.empty()) tell("{}\n", words);
}

/// 0, or 1 where a frame failed.
int runJob(const passes::PassSource& source, const delivery::DeliveryJob& job, const WorkOptions& options)
{
    ProgressPrinter printer(options.progress, delivery::framesOf(job).size());
    Run run{options.threads, [&](double share) { printer.share(share); }, interruptToken()};
    const auto report =
        delivery::deliver(source, job, run, [&](int frame, const fs::path& file, const std::string& failure) {
            printer.frame(frame, file.string(), failure);
        });
    tellUnreadable(report.unreadable);
    return report.failed.empty() ? 0 : 1;
}

struct DefocusOptions
{
    std::string colour;
    std::string depth;
    std::string out;
    std::string unit = "m";
    ReadingOptions reading;
    RegionOptions regions;
    InsertOptions inserts;
    FinishOptions finish;
    GivenSettings<project::Settings> given;
    std::vector<std::string> mattes;
    std::optional<double> held;
    std::optional<double> blurLimit;
    WorkOptions work;
};

/// "one frame" given by its file means that frame only; a pattern means all.
void narrowToNamedFrame(DefocusOptions& options, const passes::PassSource& source)
{
    if (!options.work.frames.empty() || passes::isPattern(options.out)) return;
    if (const auto frame = namedFrame(source.colourFiles(), parsePassChoice(options.colour).file))
        options.work.frames = fmt::format("{}", *frame);
}

int runDefocus(DefocusOptions options)
{
    project::Project project;
    project.unit = *optics::unitFromSymbol(options.unit);
    project.metresPerUnit = optics::metresPer(project.unit);
    project::Settings& settings = project.base();
    const auto onBothSides = [&](const char* option, const std::optional<double>& given, const char* near,
                                 const char* far) {
        for (const char* path : {near, far}) {
            if (!given) continue;
            const auto field = project::shotSettings().find(path);
            requireFits(*field, option, *given);
            field->set(settings, *given);
        }
    };
    onBothSides("--held", options.held, "blur/heldNear", "blur/heldFar");
    onBothSides("--blur-limit", options.blurLimit, "blur/limitNearPx", "blur/limitFarPx");
    options.given.apply(settings);
    // A picture that cannot be read is left out by the description; here it stops.
    if (!settings.irisPicture.empty()) settings.iris.picture = passes::readIrisPicture(settings.irisPicture);
    project::checkRanges(settings);
    project.lensSettingsAt(0).check();
    project.colour = parsePassChoice(options.colour);
    project.depth = parsePassChoice(options.depth);
    project.passOptions = passOptions(options.reading);
    if (options.depth.empty()) {
        if (options.regions.ramp.empty())
            throw Error("There is no depth. Give a depth pass (--depth), or make it by hand (--ramp).");
        project.passOptions.handMadeDepth = true;
    }
    auto read = std::make_unique<passes::PassSource>(project.colour, project.depth, project.passOptions,
                                                     passes::Keeping::oneByOne());
    if (read->isStill() && !options.work.frames.empty()) { // a still is held for what is asked for
        project::Project any;
        any.firstFrame = -project::kMostFrames;
        any.lastFrame = project::kMostFrames;
        const std::vector<int> held = framesGiven(options.work.frames, any);
        project.passOptions.stillFirst = held.front();
        project.passOptions.stillLast = held.back();
        read = std::make_unique<passes::PassSource>(project.colour, project.depth, project.passOptions,
                                                    passes::Keeping::oneByOne());
    }
    const passes::PassSource& source = *read;
    // As when the files are opened in the window: the colour pass's own mattes count too.
    project.mattes = passes::mattesIn(source.colourInfo().file);
    for (const std::string& file : options.mattes)
        for (auto& matte : mattesGiven(file))
            project.mattes.push_back(std::move(matte));
    project.firstFrame = source.firstFrame();
    project.lastFrame = source.lastFrame();
    narrowToNamedFrame(options, source);
    const std::vector<int> frames = framesGiven(options.work.frames, project);
    source.requireFrames(frames);
    settings.reading = readingSettings(options.reading, source, frames.front());
    addRegions(options.regions, project);
    addInserts(options.inserts, project);
    addFinish(options.finish, project);
    frame::checkRegions(source, project, frames.front());
    frame::checkInserts(source, project, frames.front());
    frame::checkFinish(source, project, frames.front());
    for (const std::string& notice :
         {source.sizeNotice(), frame::backdropNotice(source, project, frames.front())})
        if (!notice.empty()) tell("{}\n", notice);
    auto job = delivery::usualJob(source, std::make_shared<project::Project>(project), frames, options.out,
                                  existingOf(options.work));
    job.isNoted = false; // one run, and files of any name among others
    return runJob(source, job, options.work);
}

struct RenderOptions
{
    std::string projectFile;
    std::string out;
    bool isUnfinished = false;
    std::vector<std::string> deliveries;
    bool resumes = false;
    WorkOptions work;
};

/// Those that are asked for, or else all that are on.
std::vector<project::Delivery> deliveriesOf(const project::Project& project,
                                            const std::vector<std::string>& names)
{
    std::vector<project::Delivery> found;
    for (const project::Delivery& delivery : project.deliveries)
        if (names.empty() ? delivery.isOn : std::ranges::find(names, delivery.name) != names.end())
            found.push_back(delivery);
    for (const std::string& name : names)
        if (std::ranges::find(found, name, &project::Delivery::name) == found.end()) {
            std::vector<std::string> there;
            for (const project::Delivery& delivery : project.deliveries)
                there.push_back(delivery.name);
            throw Error(
                there.empty()
                    ? say("The project has no delivery \"{}\"; it has none at all. Leave --delivery "
                          "out for plain EXR frames.",
                          name)
                    : say("The project has no delivery \"{}\"; it has {}.", name, fmt::join(there, ", ")));
        }
    return found;
}

int runDeliveries(const passes::PassSource& source, const project::Project& project,
                  const std::vector<project::Delivery>& deliveries, const RenderOptions& options)
{
    int failed = 0;
    const auto shared = std::make_shared<project::Project>(project);
    auto jobs = delivery::jobsOf(shared, options.projectFile, deliveries, options.out);
    for (delivery::DeliveryJob& job : jobs) {
        job.existing = existingOf(options.work);
        job.resumes = options.resumes;
        if (!options.work.frames.empty()) {
            job.frames = framesGiven(options.work.frames, project);
            job.part = fmt::format("-{}-{}", job.frames->front(),
                                   job.frames->back()); // chunks write no file together
        }
    }
    if (const std::string shares = delivery::sharedTarget(jobs); !shares.empty()) throw Error(shares);
    for (const delivery::DeliveryJob& job : jobs) {
        try {
            failed += runJob(source, job, options.work);
        } catch (const Error& error) { // the other deliveries go on
            tell("{}\n", error.what());
            ++failed;
        }
    }
    return failed == 0 ? 0 : 1;
}

int runRender(RenderOptions options)
{
    project::Project project = loadTelling(options.projectFile);
    const passes::PassSource source(project.colour, project.depth, project.passOptions,
                                    passes::Keeping::oneByOne());
    {
        ProgressPrinter printer(options.work.progress,
                                static_cast<std::size_t>(project.lastFrame - project.firstFrame + 1));
        frame::measureSubjects(project, source, true,
                               {options.work.threads,
                                [&](double share) { printer.stage("measuring subjects", share); },
                                interruptToken()});
    }
    if (options.isUnfinished)
        for (project::Shot& shot : project.shots)
            shot.settings.finish.isOn = false;
    auto deliveries = deliveriesOf(project, options.deliveries);
    if (deliveries.empty() && !project.deliveries.empty()) {
        tell("All deliveries of the project are off: nothing is made. Switch one on, or name it with "
             "--delivery.\n");
        return 1;
    }
    if (deliveries.empty()) { // frames in the usual form
        deliveries.push_back(delivery::usualForm(source));
        options.out = project::framesFolder(options.projectFile, options.out).string();
    }
    return runDeliveries(source, project, deliveries, options);
}

} // namespace

void addDefocus(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("defocus", "Put lens focus into a frame or a sequence");
    auto options = std::make_shared<DefocusOptions>();
    command->add_option("--colour", options->colour, "FILE[:LAYER]: colour pass")->required();
    command->add_option("--depth", options->depth, "FILE[:CHANNEL]: depth pass; may be absent with --ramp");
    command
        ->add_option("--out", options->out,
                     "File to write, EXR, PNG, TIFF or JPEG by its ending; name.####.exr for a sequence")
        ->required();
    options->given.addOptions(*command, project::shotSettings(),
                              [](const auto& field) { return field.group != project::Group::reading; },
                              {"--focus", "--fstop", "--focal-length", "--sensor-width"});
    underHeading(*command, headingOf(project::Group::focus), [&] {
        command->add_option("--held", options->held,
                            "Held zone: kept sharp so far on each side of the focal plane, in --unit");
        command->add_option("--blur-limit", options->blurLimit,
                            "Largest radius on both sides of the focal plane, px");
    });
    command->add_option("--unit", options->unit, "What one scene unit is: m, cm, mm, ft or in")
        ->check(CLI::IsMember({"m", "cm", "mm", "ft", "in"}))
        ->capture_default_str();
    underHeading(*command, headingOf(project::Group::reading),
                 [&] { addReadingOptions(*command, options->reading); });
    underHeading(*command, headingOf(project::Group::regions),
                 [&] { addRegionOptions(*command, options->regions); });
    underHeading(*command, headingOf(project::Group::inserts),
                 [&] { addInsertOptions(*command, options->inserts); });
    underHeading(*command, headingOf(project::Group::finish),
                 [&] { addFinishOptions(*command, options->finish); });
    command
        ->add_option("--mattes", options->mattes,
                     "FILE[:CHANNEL]: mattes that tell whose light edge pixels hold, beside those of the "
                     "colour pass")
        ->allow_extra_args(false)
        ->group(headingOf(project::Group::repair));
    underHeading(*command, "Frames and work", [&] { addWorkOptions(*command, options->work); });
    command->callback([=, &action] { action = [=] { return runDefocus(*options); }; });
}

void addRender(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("render", "Render the frames of a project");
    auto options = std::make_shared<RenderOptions>();
    command->add_option("PROJECT", options->projectFile, "A .retinex file")->required();
    command->add_option(
        "--out", options->out,
        "Folder in place of the deliveries' own; without deliveries PROJECT-frames beside it");
    command
        ->add_option("--delivery", options->deliveries,
                     "Name of a delivery of the project; may be given again; all that are on by default")
        ->allow_extra_args(false);
    command->add_flag("--resume", options->resumes,
                      "Leave frames whose files are whole and made from the same settings and inputs");
    command->add_flag("--no-finish", options->isUnfinished,
                      "Leave the pictures as they come through the lens");
    addWorkOptions(*command, options->work);
    command->callback([=, &action] { action = [=] { return runRender(*options); }; });
}

} // namespace retinex::cli
