#include "core/colour/input_space.h"

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/colour/ocio_config.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace retinex::colour {

namespace {

namespace ocio = OCIO_NAMESPACE;

void multiplyByAlpha(RgbaImage& image)
{
    for (int c = 0; c < 3; ++c)
        std::transform(image.plane(c).pixels().begin(), image.plane(c).pixels().end(),
                       image.plane(3).pixels().begin(), image.plane(c).pixels().begin(), std::multiplies<>());
}

/// The name behind a role or an alias; "" where there is none.
std::string resolved(const ocio::ConstConfigRcPtr& config, const std::string& name)
{
    const auto space = config->getColorSpace(name.c_str());
    return space ? space->getName() : std::string{};
}

} // namespace

std::vector<std::string> inputSpaces()
{
    const auto config = loadConfig();
    std::vector<std::string> names;
    const std::string linear = resolved(config, ocio::ROLE_SCENE_LINEAR);
    if (!linear.empty()) names.push_back(linear);
    for (int i = 0; i < config->getNumColorSpaces(); ++i)
        if (const std::string name = config->getColorSpaceNameByIndex(i); name != linear)
            names.push_back(name);
    return names;
}

std::string defaultInputSpace(bool integerSamples)
{
    const auto config = loadConfig();
    const std::string linear = resolved(config, ocio::ROLE_SCENE_LINEAR);
    if (!integerSamples) return linear;
    for (const char* role : {ocio::ROLE_TEXTURE_PAINT, ocio::ROLE_COLOR_PICKING})
        if (const std::string name = resolved(config, role); !name.empty()) return name;
    return linear;
}

bool isSceneLinear(const std::string& space)
{
    if (space.empty()) return true;
    const auto config = loadConfig();
    return resolved(config, space) == resolved(config, ocio::ROLE_SCENE_LINEAR);
}

void toSceneLinear(RgbaImage& image, const std::string& space, bool unassociated, const Run& run)
{
    const auto config = loadConfig();
    const std::string linear = resolved(config, ocio::ROLE_SCENE_LINEAR);
    if (!space.empty() && resolved(config, space).empty())
        throw Error(say("The colour configuration has no space \"{}\"; it has {}. Choose one of these.",
                        space, fmt::join(inputSpaces(), ", ")));
    if (!space.empty() && resolved(config, space) != linear) {
        try {
            const auto processor =
                config->getProcessor(space.c_str(), ocio::ROLE_SCENE_LINEAR)->getDefaultCPUProcessor();
            parallelFor(image.height(), {run.threads, {}, run.stop}, [&](int y) {
                ocio::PlanarImageDesc row(image.plane(0).row(y), image.plane(1).row(y), image.plane(2).row(y),
                                          nullptr, image.width(), 1);
                processor->apply(row);
            });
        } catch (const ocio::Exception& cause) {
            throw Error(
                say("Colour cannot be brought from \"{}\" to scene-linear. Choose another space.", space),
                cause.what());
        }
    }
    if (unassociated) multiplyByAlpha(image);
}

std::optional<std::array<float, 8>> sceneLinearChromaticities()
{
    const auto config = loadConfig();
    if (!config->hasRole("aces_interchange")) return std::nullopt;
    // RGB to XYZ of ACES2065-1 (SMPTE ST 2065-1, 4.1.2; the matrix as in Academy TB-2014-004).
    constexpr double toXyz[3][3] = {{0.9525523959, 0.0000000000, 0.0000936786},
                                    {0.3439664498, 0.7281660966, -0.0721325464},
                                    {0.0000000000, 0.0000000000, 1.0088251844}};
    try {
        const auto processor =
            config->getProcessor(ocio::ROLE_SCENE_LINEAR, "aces_interchange")->getDefaultCPUProcessor();
        std::array<float, 8> found{};
        constexpr float colours[4][3] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {1, 1, 1}};
        for (std::size_t i = 0; i < 4; ++i) {
            float rgb[3] = {colours[i][0], colours[i][1], colours[i][2]};
            processor->applyRGB(rgb);
            double xyz[3] = {};
            for (int row = 0; row < 3; ++row)
                for (int column = 0; column < 3; ++column)
                    xyz[row] += toXyz[row][column] * static_cast<double>(rgb[column]);
            const double sum = xyz[0] + xyz[1] + xyz[2];
            if (!(sum > 0.0)) return std::nullopt;
            found[2 * i] = static_cast<float>(xyz[0] / sum);
            found[2 * i + 1] = static_cast<float>(xyz[1] / sum);
        }
        return found;
    } catch (const ocio::Exception&) {
        return std::nullopt;
    }
}

} // namespace retinex::colour
