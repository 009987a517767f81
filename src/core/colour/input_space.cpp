#include "core/colour/input_space.h"

#include "core/colour/ocio_config.h"
#include "core/colour/own_primaries.h"
#include "core/system/error.h"
#include "core/system/say.h"

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

std::string screenSpace()
{
    const auto config = loadConfig();
    for (const char* role : {ocio::ROLE_TEXTURE_PAINT, ocio::ROLE_COLOR_PICKING})
        if (const std::string name = resolved(config, role); !name.empty()) return name;
    return resolved(config, ocio::ROLE_SCENE_LINEAR);
}

InputSpace inputSpaceOf(const std::filesystem::path& file, bool integerSamples,
                        const std::optional<Primaries>& primaries)
{
    if (primaries && !integerSamples)
        if (std::string name = linearSpaceWith(*primaries); !name.empty())
            return {std::move(name), InputSpace::From::file};
    if (std::string name = spaceByFileRules(file); !name.empty())
        return {std::move(name), InputSpace::From::fileRules};
    if (integerSamples) return {screenSpace(), InputSpace::From::assumed};
    std::string name = linearSpaceWith(kRec709);
    if (name.empty()) name = resolved(loadConfig(), ocio::ROLE_SCENE_LINEAR);
    return {std::move(name), InputSpace::From::assumed};
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
    const auto own = ownPrimaries(space);
    if (!space.empty() && !own && resolved(config, space).empty())
        throw Error(say("The colour configuration has no space \"{}\"; it has {}. Choose one of these.",
                        space, fmt::join(inputSpaces(), ", ")));
    if (!space.empty() && resolved(config, space) != linear) {
        try {
            const auto processor = (own ? config->getProcessor(fromOwnPrimaries(*own))
                                        : config->getProcessor(space.c_str(), ocio::ROLE_SCENE_LINEAR))
                                       ->getOptimizedCPUProcessor(ocio::OPTIMIZATION_LOSSLESS);
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

} // namespace retinex::colour
