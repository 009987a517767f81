#include "cli/commands.h"
#include "cli/console.h"
#include "cli/reading_options.h"
#include "core/base/error.h"
#include "core/delivery/sequence_export.h"
#include "core/passes/iris_picture.h"
#include "core/project/project_file.h"
#include "core/project/subject_measure.h"

#include <fmt/format.h>
#include <map>

namespace retinex::cli {

namespace {

namespace fs = std::filesystem;

struct WorkOptions
{
    std::string frames;
    int threads = 0;
    ProgressKind progress = ProgressKind::automatic;
};

void addWorkOptions(CLI::App& command, WorkOptions& options)
{
    static const std::map<std::string, ProgressKind> kinds{{"auto", ProgressKind::automatic},
                                                           {"plain", ProgressKind::plain},
                                                           {"json", ProgressKind::json},
                                                           {"none", ProgressKind::none}};
    command.add_option("--frames", options.frames, "A-B, or one frame; all by default");
    command.add_option("--threads", options.threads, "0: all cores")->check(CLI::Range(0, 1024));
    command.add_option("--progress", options.progress, "auto, plain, json or none")
        ->transform(CLI::CheckedTransformer(kinds));
}

std::vector<int> framesToDo(const WorkOptions& options, const project::Project& project)
{
    const FrameRange range = options.frames.empty() ? FrameRange{project.firstFrame, project.lastFrame}
                                                    : parseFrames(options.frames);
    return range.frames();
}

int runExport(const passes::PassSource& source, const delivery::ExportJob& job, const WorkOptions& options)
{
    ProgressPrinter printer(options.progress, job.frames.size());
    Run run{options.threads, [&](double share) { printer.share(share); }, interruptToken()};
    const auto report = delivery::exportFrames(
        source, job, run, [&](int frame, const fs::path& file, const std::string& failure) {
            printer.frame(frame, file.string(), failure);
        });
    return report.failed.empty() ? 0 : 1;
}

struct DefocusOptions
{
    std::string colour;
    std::string depth;
    std::string out;
    std::string unit = "m";
    ReadingOptions reading;
    std::string frameEdge = "continue";
    std::string irisPicture;
    std::vector<std::string> mattes;
    bool noMattes = false;
    double held = 0.0;
    project::Project project;
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
    project::Project& project = options.project;
    project.unit = *optics::unitFromSymbol(options.unit);
    project.metresPerUnit = optics::metresPer(project.unit);
    project.base().frameEdge = *project::frameEdgeFromWord(options.frameEdge);
    project.base().blur.heldNear = project.base().blur.heldFar = options.held;
    if (!options.irisPicture.empty()) {
        project.base().irisPicture = options.irisPicture;
        project.base().iris.picture = passes::readIrisPicture(options.irisPicture);
    }
    project.colour = parsePassChoice(options.colour);
    project.depth = parsePassChoice(options.depth);
    project.lensSettingsAt(0).check();
    project.passOptions = passOptions(options.reading);
    const passes::PassSource source(project.colour, project.depth, project.passOptions);
    // As when the files are opened in the window: the colour pass's own mattes count too.
    project.mattes = passes::mattesIn(source.colourInfo().file);
    for (const std::string& file : options.mattes)
        for (auto& matte : passes::mattesIn(file, true))
            project.mattes.push_back(std::move(matte));
    project.base().mattesAtEdges = !options.noMattes;
    project.firstFrame = source.firstFrame();
    project.lastFrame = source.lastFrame();
    narrowToNamedFrame(options, source);
    const std::vector<int> frames = framesToDo(options.work, project);
    source.requireFrames(frames);
    project.base().reading = readingSettings(options.reading, source, frames.front());
    if (const std::string notice = source.sizeNotice(); !notice.empty()) fmt::print(stderr, "{}\n", notice);
    delivery::ExportJob job{std::make_shared<project::Project>(project), frames, options.out};
    return runExport(source, job, options.work);
}

struct RenderOptions
{
    std::string projectFile;
    std::string out;
    WorkOptions work;
};

int runRender(const RenderOptions& options)
{
    const auto loaded = project::loadProject(options.projectFile);
    const passes::PassSource source(loaded.project.colour, loaded.project.depth, loaded.project.passOptions);
    project::Project project = loaded.project;
    {
        ProgressPrinter printer(options.work.progress,
                                static_cast<std::size_t>(project.lastFrame - project.firstFrame + 1));
        project::measureSubjects(project, source, true,
                                 {options.work.threads,
                                  [&](double share) { printer.stage("measuring subjects", share); },
                                  interruptToken()});
    }
    const std::string name = fs::path(options.projectFile).stem().string();
    const fs::path folder = project::framesFolder(options.projectFile, options.out);
    delivery::ExportJob job{std::make_shared<project::Project>(project),
                            framesToDo(options.work, loaded.project), folder / (name + ".####.exr")};
    return runExport(source, job, options.work);
}

void addIrisOptions(CLI::App& command, DefocusOptions& options)
{
    optics::Iris& iris = options.project.base().iris;
    command.add_option("--blades", iris.blades, "Iris blades: 0 for a circle, or 3 to 16");
    command.add_option("--turn", iris.turnDeg, "Turn of the iris, degrees");
    command.add_option("--rounding", iris.rounding, "Of the blades: 0 straight to 1 circle");
    command.add_option("--squeeze", iris.squeeze, "Height of the disc over its width: 0.5 to 2");
    command.add_option("--rim", iris.rim, "-1 dark edge to 1 bright edge");
    command.add_option("--centre-stop", iris.centreStop,
                       "Share of the radius covered in the middle: 0 to 0.95");
    command.add_option("--cats-eye", iris.catsEye, "Clip towards the corners: 0 to 1");
    command.add_option("--iris-picture", options.irisPicture, "An image file as the iris");
    command.add_option("--glint-level", options.project.base().glint.level, "Brighter than this is a glint");
    command.add_option("--glint-lift", options.project.base().glint.liftStops,
                       "Stops that glints are raised by");
}

void addBlurOptions(CLI::App& command, DefocusOptions& options)
{
    defocus::BlurControls& blur = options.project.base().blur;
    command.add_option("--strength", blur.strength, "Share of the lens's blur: 0 to 2");
    command.add_option("--held", options.held,
                       "Held zone: kept sharp so far on each side of the focal plane, in --unit");
    command.add_option("--limit-near", blur.limitNearPx, "Largest radius in front of the focal plane, px");
    command.add_option("--limit-far", blur.limitFarPx, "Largest radius behind the focal plane, px");
}

} // namespace

void addDefocus(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("defocus", "Put lens focus into a frame or a sequence");
    auto options = std::make_shared<DefocusOptions>();
    command->add_option("--colour", options->colour, "FILE[:LAYER]: colour pass")->required();
    command->add_option("--depth", options->depth, "FILE[:CHANNEL]: depth pass")->required();
    command->add_option("--out", options->out, "EXR file to write; name.####.exr for a sequence")->required();
    command->add_option("--focus", options->project.base().focusDistance, "Focus distance, in --unit")
        ->required();
    command->add_option("--fstop", options->project.base().fStop, "f-stop")->required();
    command->add_option("--focal-length", options->project.base().focalLengthMm, "mm")->required();
    command->add_option("--sensor-width", options->project.base().sensorWidthMm, "mm")->required();
    command->add_option("--unit", options->unit, "What one scene unit is: m, cm, mm, ft or in")
        ->check(CLI::IsMember({"m", "cm", "mm", "ft", "in"}))
        ->capture_default_str();
    addReadingOptions(*command, options->reading);
    addIrisOptions(*command, *options);
    addBlurOptions(*command, *options);
    command
        ->add_option("--mattes", options->mattes,
                     "A file whose mattes tell whose light edge pixels hold, beside those of the colour pass")
        ->allow_extra_args(false);
    command->add_flag("--no-mattes", options->noMattes, "Use no mattes at edges");
    command->add_option("--frame-edge", options->frameEdge, "Beyond the picture: continue, mirror or open")
        ->check(CLI::IsMember({"continue", "mirror", "open"}))
        ->capture_default_str();
    addWorkOptions(*command, options->work);
    command->callback([=, &action] { action = [=] { return runDefocus(*options); }; });
}

void addRender(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("render", "Render the frames of a project");
    auto options = std::make_shared<RenderOptions>();
    command->add_option("PROJECT", options->projectFile, "A .retinex file")->required();
    command->add_option("--out", options->out, "Folder; PROJECT-frames beside the project by default");
    addWorkOptions(*command, options->work);
    command->callback([=, &action] { action = [=] { return runRender(*options); }; });
}

} // namespace retinex::cli
