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

void render(const fs::path& folder, const fs::path& scene, const std::string& more, const fs::path& out,
            int width, bool antiAliased)
{
    const fs::path copy = folder / "retinex-scene.pov";
    std::ifstream in(scene);
    const std::string text{std::istreambuf_iterator<char>(in), {}};
    // The first one that is said counts, and light is to be what fog makes of it.
    std::ofstream(copy) << std::regex_replace(text, std::regex("assumed_gamma\\s+[0-9.]+"), " ")
                        << "\nglobal_settings { assumed_gamma 1.0 " << more;
    const ProgramEnd end =
        runProgram({"povray", "+I" + copy.string(), "+O" + out.string(), "+FE", fmt::format("+W{}", width),
                    fmt::format("+H{}", width * 9 / 16), antiAliased ? "+A0.2" : "-A", "-D", "-GA", "-V",
                    "+L" + folder.string()});
    if (end.code != 0 || !fs::exists(out))
        throw Error(fmt::format("{}: POV-Ray ended with {}: {}", scene.string(), end.code, end.err));
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
        {"biscuit", "advanced", "biscuit.pov", 40.0, 60.0, false},
        {"desk", "advanced/desk", "desk.pov", 65.0, 200.0, false},
        {"isocacti", "advanced", "isocacti.pov", 45.0, 20.0, false},
        {"ntreal", "advanced/ntreal", "ntreal.pov", 55.0, 80.0, false},
        {"pawns", "advanced", "pawns.pov", 40.0, 16.0, false},
        {"teapot", "advanced/teapot", "teapot.pov", 55.0, 20.0, false},
        {"landscape", "advanced", "landscape.pov", 32.0, 5.0, false},
        {"shapes", "incdemo", "shapes.pov", 45.0, 15.0, false},
        {"balcony", "advanced/balcony", "balcony.pov", 36.0, 8.0, true},
        {"chess", "objects", "chesmsh.pov", 46.0, 30.0, true},
        {"drums", "advanced/drums2", "drums.pov", byDirection(2.0), 110.0, true},
        {"lamppost", "advanced", "lamppost.pov", 50.0, 600.0, true},
        {"lathe", "objects", "lathe2.pov", 26.0, 110.0, true},
        {"box", "advanced", "woodbox.pov", 45.0, 20.0, true},
        {"pattern", "advanced", "object_pattern.pov", 36.0, 10.0, true},
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
        fs::create_directories(cache);
        const fs::path folder = stem.string() + "-work";
        if (!fs::exists(fs::path(kExamples) / scene.folder))
            throw Error("POV-Ray's example scenes are not there. Install the package povray-examples.");
        fs::remove_all(folder);
        fs::copy(fs::path(kExamples) / scene.folder, folder, fs::copy_options::recursive);
        const fs::path source = folder / scene.file;
        const int fine = width * OtherPasses::fineness;
        const auto read = [](const fs::path& file) {
            return passes::readExrChannels(file, 0, {"R", "G", "B"}).planes;
        };
        render(folder, source, "}\n", folder / "colour.exr", width, true);
        render(folder, source, "max_trace_level 1 }\n", folder / "plain.exr", fine, false);
        const auto plain = read(folder / "plain.exr");
        std::vector<std::vector<Plane<float>>> fogs;
        for (const double reach : kFogReach) {
            render(folder, source,
                   fmt::format("max_trace_level 1 }}\nfog {{ fog_type 1 distance {} rgb <{}, {}, {}> }}\n",
                               reach * scene.reach, kFogLight[0], kFogLight[1], kFogLight[2]),
                   folder / "fog.exr", fine, false);
            fogs.push_back(read(folder / "fog.exr"));
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
        const auto colour = read(folder / "colour.exr");
        RgbaImage image(width, width * 9 / 16);
        for (int c = 0; c < 3; ++c)
            image.plane(c) = colour[static_cast<std::size_t>(c)];
        passes::writeExr(colourFile, {&image, passes::SampleType::half, nullptr, 0, 0});
        passes::ExrOutput depth;
        depth.type = passes::SampleType::float32;
        depth.channels = {{"Z", &distance}};
        passes::writeExr(depthFile, depth);
        fs::remove_all(folder);
    }
    passes.fine = std::move(passes::readExrChannels(depthFile, 0, {"Z"}).planes[0]);
    auto colour = passes::readExrChannels(colourFile, 0, {"R", "G", "B"}).planes;
    passes.colour = RgbaImage(colour[0].width(), colour[0].height());
    for (int c = 0; c < 3; ++c)
        passes.colour.plane(c) = std::move(colour[static_cast<std::size_t>(c)]);
    return passes;
}

} // namespace retinex::bench
