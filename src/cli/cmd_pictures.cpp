#include "cli/commands.h"
#include "cli/console.h"
#include "cli/reading_options.h"
#include "core/colour/input_space.h"
#include "core/colour/output_space.h"
#include "core/delivery/depth_map.h"
#include "core/delivery/target_check.h"
#include "core/frame/places/subject_measure.h"
#include "core/frame/render_frame.h"
#include "core/image/reduced.h"
#include "core/passes/exr/exr_write.h"
#include "core/passes/picture_write.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

/// Single pictures of other kinds: depth maps, thumbnails.
namespace retinex::cli {

namespace {

namespace fs = std::filesystem;

struct DepthmapOptions
{
    std::string file;
    std::string out;
    std::string near = "bright";
    std::string spacing = "reciprocal";
    std::string ends;
    std::string bits = "16";
    std::string pair;
    bool overwrite = false;
    ReadingOptions reading;
};

/// The picture as a screen shows it, for 8 bits.
RgbaImage shownColour(const passes::FramePasses& frame)
{
    RgbaImage colour = frame.colour();
    colour::fromSceneLinear(colour, colour::screenSpace());
    return colour;
}

void writeEightBit(const std::string& file, const std::array<const Plane<float>*, 3>& planes)
{
    passes::PictureOutput output;
    static constexpr std::array<const char*, 3> kNames{"R", "G", "B"};
    for (std::size_t c = 0; c < 3; ++c)
        output.channels.push_back({kNames[c], planes[c]});
    output.type = passes::SampleType::uint8;
    passes::writePicture(file, output);
}

/// Where the colour of a pair goes that is in files of its own.
fs::path colourOf(const fs::path& out)
{
    return out.parent_path() / (out.stem().string() + "_colour" + out.extension().string());
}

/// Pictures that are written one at a time go by the same rules as frames.
void checkSingle(const passes::PassSource& source, const project::Project& project,
                 const std::vector<fs::path>& files, bool overwrites,
                 const std::vector<fs::path>& alsoRead = {})
{
    const auto existing = overwrites ? delivery::Existing::overwrite : delivery::Existing::refuse;
    for (const fs::path& file : files)
        delivery::checkTargets(source, project, {file}, {source.firstFrame()}, {existing, false, alsoRead});
}

/// Picture and depth as one: picture left, depth right, or the picture in a file of its own, NAME_colour.
void writePair(const DepthmapOptions& options, const passes::FramePasses& frame, const Plane<float>& depth)
{
    const fs::path out = options.out;
    if (out.extension() == ".exr")
        throw Error(say("{}: a parallax pair has 8 bits. Choose PNG, TIFF or JPEG.", options.out));
    const RgbaImage colour = shownColour(frame);
    if (options.pair == "separate") {
        const fs::path other = colourOf(out);
        writeEightBit(other.string(), {&colour.plane(0), &colour.plane(1), &colour.plane(2)});
        writeEightBit(options.out, {&depth, &depth, &depth});
        return;
    }
    std::array<Plane<float>, 3> both;
    for (std::size_t c = 0; c < 3; ++c) {
        both[c] = Plane<float>(2 * depth.width(), depth.height());
        for (int y = 0; y < depth.height(); ++y) {
            std::copy_n(colour.plane(static_cast<int>(c)).row(y), depth.width(), both[c].row(y));
            std::copy_n(depth.row(y), depth.width(), both[c].row(y) + depth.width());
        }
    }
    writeEightBit(options.out, {&both[0], &both[1], &both[2]});
}

/// "A,B"; "" as found.
void takeEnds(const std::string& text, const depth::DepthRange& found, delivery::DepthMap& map)
{
    map.nearest = found.nearest;
    map.farthest = std::max(found.farthest, found.nearest * 1.001);
    if (text.empty()) return;
    char* end = nullptr;
    map.nearest = std::strtod(text.c_str(), &end);
    const char* second = *end == ',' ? end + 1 : end;
    map.farthest = std::strtod(second, &end);
    if (end == second || *end != '\0' || std::isnan(map.nearest) || std::isnan(map.farthest))
        throw Error(
            say("--ends {}: give the nearest and the farthest distance as A,B (0.5,20 or 0.5,inf).", text));
}

int depthmap(const DepthmapOptions& options)
{
    const passes::PassChoice file = depthChoice(options.file);
    // The depth's own file stands for the colour where there is none.
    passes::PassOptions passes = passOptions(options.reading);
    const passes::PassSource source(colourBeside(file), file, passes);
    const int frame = namedFrame(source.depthFiles(), file.file).value_or(source.firstFrame());
    const auto reading = readingSettings(options.reading, source, frame);
    const auto frames = source.load(frame, reading, {0, {}, interruptToken()});
    if (!frames->range.hasSurface())
        throw Error(say("{}: everything is a gap: there is no depth to map.", file.file.string()));
    delivery::DepthMap map;
    map.nearIsBright = options.near == "bright";
    map.spacing =
        options.spacing == "reciprocal" ? project::MapSpacing::reciprocal : project::MapSpacing::distance;
    takeEnds(options.ends, frames->range, map);
    const Plane<float> values = delivery::depthMap(frames->distance(), frames->gaps(), map);
    std::vector<fs::path> files{options.out};
    if (options.pair == "separate") files.push_back(colourOf(options.out));
    checkSingle(source, {}, files, options.overwrite);
    const bool isExr = fs::path(options.out).extension() == ".exr";
    if (!options.pair.empty()) {
        writePair(options, *frames, values);
    } else if (isExr) {
        if (options.bits == "8" || options.bits == "16")
            throw Error(
                say("{}: EXR has no integers of {} bits here. Choose --bits half or float, or PNG or TIFF.",
                    options.out, options.bits));
        passes::ExrOutput output;
        output.channels = {{"Y", &values}};
        output.type = options.bits == "half" ? passes::SampleType::half : passes::SampleType::float32;
        passes::writeExr(options.out, output);
    } else {
        passes::PictureOutput output;
        output.channels = {{"Y", &values}};
        output.type = options.bits == "8"      ? passes::SampleType::uint8
                      : options.bits == "16"   ? passes::SampleType::uint16
                      : options.bits == "half" ? passes::SampleType::half
                                               : passes::SampleType::float32;
        if (fs::path(options.out).extension() == ".png" &&
            (options.bits == "half" || options.bits == "float"))
            throw Error(say("{}: PNG has 8 or 16 bits. Choose TIFF or EXR for half and float.", options.out));
        passes::writePicture(options.out, output);
    }
    fmt::print("{}: near is {}, even in {}, from {:g} to {:g}\n", options.out, options.near,
               options.spacing == "reciprocal" ? "1/distance" : "distance", map.nearest, map.farthest);
    return 0;
}

struct ThumbnailOptions
{
    std::string project;
    std::string out;
    int size = 256;
    bool overwrite = false;
};

int thumbnail(const ThumbnailOptions& options)
{
    project::Project project = loadTelling(options.project);
    const passes::PassSource source(project.colour, project.depth, project.passOptions);
    // Thumbnailers name the file as they like, and may have made it, empty.
    fs::path file = options.out;
    std::error_code code;
    const bool isEmpty = fs::is_regular_file(file, code) && fs::file_size(file, code) == 0;
    checkSingle(source, project, {file}, options.overwrite || isEmpty, {options.project});
    if (file.extension() != ".png") {
        file += ".png";
        checkSingle(source, project, {file}, options.overwrite, {options.project});
    }
    const int frame = (project.firstFrame + project.lastFrame) / 2;
    const int longest = std::max(source.width(), source.height());
    // Coarse, then as small as asked for.
    const int divisor = std::max(1, longest / (2 * options.size));
    RgbaImage image =
        frame::renderFrame(source, {std::make_shared<project::Project>(project), frame, divisor, {}}).image;
    const int further =
        std::max(1, (std::max(image.width(), image.height()) + options.size - 1) / options.size);
    for (int c = 0; c < RgbaImage::channels; ++c)
        image.plane(c) = averaged(image.plane(c), further);
    colour::fromSceneLinear(image, colour::screenSpace());
    passes::PictureOutput output;
    static constexpr std::array<const char*, 3> kNames{"R", "G", "B"};
    for (int c = 0; c < 3; ++c)
        output.channels.push_back({kNames[static_cast<std::size_t>(c)], &image.plane(c)});
    output.type = passes::SampleType::uint8;
    passes::writePicture(file, output);
    if (file != options.out) fs::rename(file, options.out);
    return 0;
}

} // namespace

void addDepthmap(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("depthmap", "Write a depth pass as another program wants it");
    auto options = std::make_shared<DepthmapOptions>();
    command->add_option("FILE", options->file, "FILE[:CHANNEL]: depth pass")->required();
    command->add_option("--out", options->out, "PNG, TIFF or EXR file to write")->required();
    command->add_option("--near", options->near, "What is near is: bright or dark")
        ->check(CLI::IsMember({"bright", "dark"}))
        ->capture_default_str();
    command->add_option("--spacing", options->spacing, "Even in: distance or reciprocal")
        ->check(CLI::IsMember({"distance", "reciprocal"}))
        ->capture_default_str();
    command->add_option("--ends", options->ends, "A,B: nearest and farthest distance; as found by default");
    command->add_option("--bits", options->bits, "8, 16, half or float")
        ->check(CLI::IsMember({"8", "16", "half", "float"}))
        ->capture_default_str();
    command
        ->add_option("--pair", options->pair,
                     "A parallax pair of 8 bits, with the file's colour: side or separate")
        ->check(CLI::IsMember({"side", "separate"}));
    command->add_flag("--overwrite", options->overwrite, "Write over a file that is there already");
    addReadingOptions(*command, options->reading, {"--spacing"});
    command->callback([=, &action] { action = [=] { return depthmap(*options); }; });
}

void addThumbnail(CLI::App& app, Action& action)
{
    auto* command = app.add_subcommand("thumbnail", "Write a small picture of a project");
    auto options = std::make_shared<ThumbnailOptions>();
    command->add_option("PROJECT", options->project, "A .retinex file")->required();
    command->add_option("FILE", options->out, "PNG file to write")->required();
    command->add_option("--size", options->size, "Longest side, px")
        ->check(CLI::Range(16, 4096))
        ->capture_default_str();
    command->add_flag("--overwrite", options->overwrite, "Write over a file that is there already");
    command->callback([=, &action] { action = [=] { return thumbnail(*options); }; });
}

} // namespace retinex::cli
