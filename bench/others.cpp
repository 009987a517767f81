#include "bench/others.h"

#include "core/passes/exr/exr_file.h"
#include "core/passes/exr/exr_write.h"
#include "core/system/error.h"
#include "core/system/program.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <fstream>
#include <half.h>
#include <iterator>
#include <numbers>
#include <regex>

namespace retinex::bench {

namespace {

namespace fs = std::filesystem;

constexpr const char* kExamples = "/usr/share/doc/povray/examples";
/// Fogs of several distances and three brightnesses each: halves round every one of them elsewhere, and where
/// their answers overlap is the distance, ten times as exact as one of them tells.
constexpr std::array<double, 5> kFogReach{0.7, 1.3, 2.9, 18.0, 31.0};
constexpr std::array<double, 3> kFogLight{60000.0, 47000.0, 37000.0};

/// `angle` in degrees as given to a camera, or by its `direction`'s length.
double byDirection(double length)
{
    return 2.0 * std::atan(0.5 * 16.0 / 9.0 / length) * 180.0 / std::numbers::pi;
}

std::string textOf(const fs::path& file)
{
    std::ifstream in(file);
    return {std::istreambuf_iterator<char>(in), {}};
}

/// A folder of the scene's own, with all that it includes.
fs::path workFolder(const OtherScene& scene, const fs::path& folder)
{
    if (!fs::exists(fs::path(kExamples) / scene.folder))
        throw Error("POV-Ray's example scenes are not there. Install the package povray-examples.");
    fs::create_directories(folder.parent_path());
    fs::remove_all(folder);
    fs::copy(fs::path(kExamples) / scene.folder, folder, fs::copy_options::recursive);
    return folder / scene.file;
}

std::vector<Plane<float>> readColour(const fs::path& file)
{
    return passes::readExrChannels(file, 0, {"R", "G", "B"}).planes;
}

RgbaImage pictureOf(std::vector<Plane<float>> colour)
{
    RgbaImage image(colour[0].width(), colour[0].height());
    for (int c = 0; c < 3; ++c)
        image.plane(c) = std::move(colour[static_cast<std::size_t>(c)]);
    return image;
}

void render(const fs::path& folder, const std::string& text, const std::string& more, const fs::path& out,
            int width, bool antiAliased)
{
    const fs::path copy = folder / "retinex-scene.pov";
    // The first one that is said counts, and light is to be what fog makes of it.
    std::ofstream(copy) << std::regex_replace(text, std::regex("assumed_gamma\\s+[0-9.]+"), " ")
                        << "\nglobal_settings { assumed_gamma 1.0 " << more;
    const ProgramEnd end =
        runProgram({"povray", "+I" + copy.string(), "+O" + out.string(), "+FE", fmt::format("+W{}", width),
                    fmt::format("+H{}", width * 9 / 16), antiAliased ? "+A0.2" : "-A", "-D", "-GA", "-V",
                    "+L" + folder.string()});
    if (end.code != 0 || !fs::exists(out))
        throw Error(fmt::format("{}: POV-Ray ended with {}: {}", copy.string(), end.code, end.err));
}

/// Light that is gathered by chance differs between two pictures by more than what is compared.
std::string withDirectLight(std::string text)
{
    for (const char* block : {"radiosity", "photons"})
        text = std::regex_replace(text, std::regex(fmt::format("\\b{}\\s*\\{{[^}}]*\\}}", block)), " ");
    return std::regex_replace(text, std::regex("#declare (Radiosity|Photons|AreaLight) *= *on"),
                              "#declare $1=off");
}

std::string throughLens(const std::string& text, const OtherLens& lens, int samples)
{
    std::array<double, 3> towards{};
    double length = 0.0;
    for (std::size_t i = 0; i < 3; ++i) {
        towards[i] = lens.lookAt[i] - lens.location[i];
        length += towards[i] * towards[i];
    }
    std::array<double, 3> sharp{};
    for (std::size_t i = 0; i < 3; ++i)
        sharp[i] = lens.location[i] + towards[i] * lens.focus / std::sqrt(length);
    constexpr double kAperturePerDiameter = 2.04;
    const std::string more =
        fmt::format("  focal_point <{}, {}, {}> aperture {} blur_samples {} confidence 0.999 "
                    "variance 0 }}",
                    sharp[0], sharp[1], sharp[2], kAperturePerDiameter * lens.diameter, samples);
    std::smatch camera;
    if (!std::regex_search(text, camera, std::regex("\\bcamera\\s*\\{[^}]*")))
        throw Error("the scene has no camera");
    return camera.prefix().str() + camera.str() + more + camera.suffix().str().substr(1);
}

/// Where the answers of all fogs overlap; the middle of it.
float distanceOf(const std::vector<std::array<float, 3>>& seen, const std::array<float, 3>& plain,
                 double reach)
{
    double low = 0.0;
    double high = std::numeric_limits<double>::infinity();
    for (std::size_t fog = 0; fog < seen.size(); ++fog)
        for (std::size_t c = 0; c < 3; ++c) {
            const double light = static_cast<double>(seen[fog][c]);
            const double ulp = std::ldexp(1.0, std::ilogb(std::max(light, 1e-3)) - 11);
            const double most = kFogLight[c];
            const auto distance = [&](double g) {
                const double kept = (most - g) / (most - static_cast<double>(plain[c]));
                return kept > 0.0 ? -kFogReach[fog] * reach * std::log(kept)
                                  : std::numeric_limits<double>::infinity();
            };
            // The colour is a half too, and that of a fogged surface not always quite the same.
            const double room = 0.5 * ulp + 0.002 * static_cast<double>(plain[c]) + 1e-3;
            const double from = distance(light - room);
            const double to = distance(light + room);
            if (from > high || to < low) continue; // a contradiction: what was there first holds
            low = std::max(low, from);
            high = std::min(high, to);
        }
    if (!std::isfinite(high) || high > 200.0 * reach) return 0.0F;
    return static_cast<float>(0.5 * (low + high));
}

} // namespace

const std::vector<OtherScene>& otherScenes()
{
    static const std::vector<OtherScene> scenes{
        {"biscuit", "advanced", "biscuit.pov", 40.0, 60.0, false,
         OtherLens{{20, 40, 28}, {0, 2, 0}, 47.5, 6.0}, true},
        {"desk", "advanced/desk", "desk.pov", 65.0, 200.0, false,
         OtherLens{{0, 40, -150}, {0, 0, 0}, 190.0, 24.0}},
        {"isocacti", "advanced", "isocacti.pov", 45.0, 20.0, false},
        {"ntreal", "advanced/ntreal", "ntreal.pov", 55.0, 80.0, false,
         OtherLens{{-15, 5, 120}, {10, 12, 55}, 22.0, 1.2}},
        {"pawns", "advanced", "pawns.pov", 40.0, 16.0, false, OtherLens{{-8, 4, -14}, {-2, 0, -4}, 12.7, 0.8},
         true},
        {"teapot", "advanced/teapot", "teapot.pov", 55.0, 20.0, false},
        {"landscape", "advanced", "landscape.pov", 32.0, 5.0, false},
        {"shapes", "incdemo", "shapes.pov", 45.0, 15.0, false,
         OtherLens{{-2, 3.5, -8.5}, {0, 0.7, 0}, 10.0, 0.7}, true},
        {"balcony", "advanced/balcony", "balcony.pov", 36.0, 8.0, true,
         OtherLens{{0.5, 0.5, 1.2}, {5, 4.3, 0.9}, 12.0, 0.22}},
        {"chess", "objects", "chesmsh.pov", 46.0, 30.0, true},
        {"drums", "advanced/drums2", "drums.pov", byDirection(2.0), 110.0, true,
         OtherLens{{0, 3, -90}, {0, 8, 0}, 76.0, 4.0}, true},
        {"lamppost", "advanced", "lamppost.pov", 50.0, 600.0, true},
        {"lathe", "objects", "lathe2.pov", 26.0, 110.0, true},
        {"box", "advanced", "woodbox.pov", 45.0, 20.0, true},
        {"pattern", "advanced", "object_pattern.pov", 36.0, 10.0, true,
         OtherLens{{6, 3, 6}, {0, 0.5, 0}, 14.0, 0.6}},
        {"crater", "advanced/crater", "crater.pov", byDirection(5.0), 25.0, true},
    };
    return scenes;
}

OtherPasses otherPasses(const OtherScene& scene, int width, const fs::path& cache)
{
    const fs::path stem = cache / fmt::format("{}-{}", scene.name, width);
    const fs::path colourFile = stem.string() + "-colour.exr";
    const fs::path depthFile = stem.string() + "-depth.exr";
    OtherPasses passes;
    passes.fieldOfViewDeg = scene.fieldOfViewDeg;
    if (!fs::exists(colourFile) || !fs::exists(depthFile)) {
        const fs::path folder = stem.string() + "-work";
        const std::string source = textOf(workFolder(scene, folder));
        const int fine = width * OtherPasses::fineness;
        render(folder, source, "}\n", folder / "colour.exr", width, true);
        const std::string direct = withDirectLight(source);
        render(folder, direct, "max_trace_level 1 }\n", folder / "plain.exr", fine, false);
        const auto plain = readColour(folder / "plain.exr");
        std::vector<std::vector<Plane<float>>> fogs;
        for (const double reach : kFogReach) {
            render(folder, direct,
                   fmt::format("max_trace_level 1 }}\nfog {{ fog_type 1 distance {} rgb <{}, {}, {}> }}\n",
                               reach * scene.reach, kFogLight[0], kFogLight[1], kFogLight[2]),
                   folder / "fog.exr", fine, false);
            fogs.push_back(readColour(folder / "fog.exr"));
        }
        Plane<float> distance(plain[0].width(), plain[0].height());
        for (std::size_t i = 0; i < distance.size(); ++i) {
            const auto at = [&](const std::vector<Plane<float>>& planes) {
                return std::array{planes[0].pixels()[i], planes[1].pixels()[i], planes[2].pixels()[i]};
            };
            std::vector<std::array<float, 3>> seen;
            for (const auto& fog : fogs)
                seen.push_back(at(fog));
            distance.pixels()[i] = distanceOf(seen, at(plain), scene.reach);
        }
        // A scene whose surfaces take no fog (mirrors, glass) tells no distances.
        const auto near = std::ranges::count_if(distance.pixels(), [&](float d) {
            return d > 0.0F && static_cast<double>(d) < 0.01 * scene.reach;
        });
        if (10 * static_cast<std::size_t>(near) > distance.size())
            throw Error(fmt::format("{}: its surfaces take no fog. Choose another scene.", scene.name));
        const RgbaImage image = pictureOf(readColour(folder / "colour.exr"));
        passes::writeExr(colourFile, {&image, passes::SampleType::half, nullptr, 0, 0});
        passes::ExrOutput depth;
        depth.type = passes::SampleType::float32;
        depth.channels = {{"Z", &distance}};
        passes::writeExr(depthFile, depth);
        fs::remove_all(folder);
    }
    passes.fine = std::move(passes::readExrChannels(depthFile, 0, {"Z"}).planes[0]);
    passes.colour = pictureOf(readColour(colourFile));
    return passes;
}

OtherLensPictures otherLensPictures(const OtherScene& scene, int width, int samples, const fs::path& cache)
{
    const fs::path stem = cache / fmt::format("{}-{}", scene.name, width);
    const fs::path sharpFile = stem.string() + "-direct.exr";
    const fs::path blurredFile = fmt::format("{}-lens-{}.exr", stem.string(), samples);
    if (!fs::exists(sharpFile) || !fs::exists(blurredFile)) {
        const fs::path folder = stem.string() + "-work";
        const std::string source = withDirectLight(textOf(workFolder(scene, folder)));
        render(folder, source, "}\n", folder / "sharp.exr", width, true);
        render(folder, throughLens(source, *scene.lens, samples), "}\n", folder / "blurred.exr", width,
               false);
        fs::rename(folder / "sharp.exr", sharpFile);
        fs::rename(folder / "blurred.exr", blurredFile);
        fs::remove_all(folder);
    }
    return {pictureOf(readColour(sharpFile)), pictureOf(readColour(blurredFile))};
}

} // namespace retinex::bench
