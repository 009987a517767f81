#include "core/colour/output_space.h"

#include "core/colour/input_space.h"
#include "core/colour/ocio_config.h"
#include "core/colour/own_primaries.h"
#include "core/colour/view_transform.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace retinex::colour {

namespace {

constexpr std::string_view kViewWord = "view ";

OCIO_NAMESPACE::ConstProcessorRcPtr processorTo(const std::string& space)
{
    const auto config = loadConfig();
    if (space.starts_with(kViewWord)) {
        const std::string name = space.substr(kViewWord.size());
        for (const View& view : availableViews())
            if (view.view == name) {
                auto transform = OCIO_NAMESPACE::DisplayViewTransform::Create();
                transform->setSrc(OCIO_NAMESPACE::ROLE_SCENE_LINEAR);
                transform->setDisplay(view.display.c_str());
                transform->setView(view.view.c_str());
                return config->getProcessor(transform);
            }
    } else if (const auto own = ownPrimaries(space)) {
        return config->getProcessor(fromOwnPrimaries(*own), OCIO_NAMESPACE::TRANSFORM_DIR_INVERSE);
    } else if (config->getColorSpace(space.c_str())) {
        return config->getProcessor(OCIO_NAMESPACE::ROLE_SCENE_LINEAR, space.c_str());
    }
    throw Error(say("The colour configuration has no space \"{}\"; it has {}. Choose one of these.", space,
                    fmt::join(outputSpaces(), ", ")));
}

} // namespace

std::vector<std::string> outputSpaces()
{
    std::vector<std::string> spaces = inputSpaces();
    for (const View& view : availableViews())
        spaces.push_back(std::string(kViewWord) + view.view);
    return spaces;
}

void fromSceneLinear(RgbaImage& image, const std::string& space, const Run& run)
{
    if (space.empty() || (!space.starts_with(kViewWord) && isSceneLinear(space))) return;
    try {
        const auto processor =
            processorTo(space)->getOptimizedCPUProcessor(OCIO_NAMESPACE::OPTIMIZATION_LOSSLESS);
        // Other primaries alone do not care for alpha.
        const auto primaries = primariesOf(space);
        const bool isLinear = primaries && linearSpaceWith(*primaries) == space;
        parallelFor(image.height(), {run.threads, {}, run.stop}, [&](int y) {
            float* const rows[3] = {image.plane(0).row(y), image.plane(1).row(y), image.plane(2).row(y)};
            const float* alpha = image.plane(3).row(y);
            const auto times = [&](auto factor) {
                for (int x = 0; x < image.width(); ++x)
                    if (alpha[x] > 1e-4F && alpha[x] != 1.0F)
                        for (float* row : rows)
                            row[x] *= factor(alpha[x]);
            };
            if (!isLinear) times([](float a) { return 1.0F / a; });
            OCIO_NAMESPACE::PlanarImageDesc pixels(rows[0], rows[1], rows[2], nullptr, image.width(), 1);
            processor->apply(pixels);
            if (!isLinear) times([](float a) { return a; });
        });
    } catch (const OCIO_NAMESPACE::Exception& cause) {
        throw Error(say("Colour cannot be brought to \"{}\". Choose another space.", space), cause.what());
    }
}

} // namespace retinex::colour
