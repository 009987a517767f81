#include "core/colour/view_transform.h"

#include "core/colour/ocio_config.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <OpenColorIO/OpenColorIO.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace retinex::colour {

namespace {

namespace ocio = OCIO_NAMESPACE;

using Rgb = std::array<float, 3>;

std::uint8_t toByte(float value)
{
    return static_cast<std::uint8_t>(std::clamp(value, 0.0F, 1.0F) * 255.0F + 0.5F);
}

/// Curve samples are spread as the square root of the value, which is dense in the dark parts.
constexpr int kCurveSize = 8192;

} // namespace

struct ViewTransform::Impl
{
    ocio::ConstCPUProcessorRcPtr exact;
    bool fast = false;
    std::array<Rgb, 3> matrix{};                      ///< rows; applied before the curve
    std::array<std::uint8_t, kCurveSize + 1> curve{}; ///< of values 0..1

    Rgb evaluate(Rgb rgb) const
    {
        exact->applyRGB(rgb.data());
        return rgb;
    }

    std::uint8_t curveAt(float linear) const
    {
        if (!(linear > 0.0F)) return curve.front();
        return curve[static_cast<std::size_t>(std::sqrt(std::min(linear, 1.0F)) * kCurveSize + 0.5F)];
    }

    std::array<std::uint8_t, 3> fastApply(const Rgb& rgb) const
    {
        std::array<std::uint8_t, 3> out{};
        for (std::size_t i = 0; i < 3; ++i)
            out[i] = curveAt(matrix[i][0] * rgb[0] + matrix[i][1] * rgb[1] + matrix[i][2] * rgb[2]);
        return out;
    }

    /// Inverse of the grey curve by bisection: the grey that gives the output level.
    float greyFor(float level) const
    {
        float low = 0.0F;
        float high = 1.0F;
        for (int i = 0; i < 40; ++i) {
            const float middle = 0.5F * (low + high);
            (evaluate({middle, middle, middle})[0] < level ? low : high) = middle;
        }
        return 0.5F * (low + high);
    }

    void fit()
    {
        for (std::size_t i = 0; i <= kCurveSize; ++i) {
            const float root = static_cast<float>(i) / kCurveSize;
            curve[i] = toByte(evaluate({root * root, root * root, root * root})[0]);
        }
        // With out = curve(M rgb), a grey plus a little of one channel shows that channel's column.
        const float base = 0.3F;
        const float step = 0.1F;
        for (std::size_t channel = 0; channel < 3; ++channel) {
            Rgb probe{base, base, base};
            probe[channel] += step;
            const Rgb out = evaluate(probe);
            for (std::size_t row = 0; row < 3; ++row)
                matrix[row][channel] = (greyFor(out[row]) - base) / step;
        }
        fast = true;
        for (int i = 0; i < 1000 && fast; ++i) { // a fixed low-discrepancy set, dark to over-bright
            const auto coordinate = [i](double ratio) {
                return static_cast<float>(std::fmod(0.5 + i * ratio, 1.0));
            };
            const float gain = i % 2 ? 1.5F : 0.2F;
            const Rgb probe{gain * coordinate(0.8191725), gain * coordinate(0.6710436),
                            gain * coordinate(0.5497005)};
            const Rgb truth = evaluate(probe);
            const auto mine = fastApply(probe);
            for (std::size_t c = 0; c < 3; ++c)
                fast = fast && std::abs(int(toByte(truth[c])) - int(mine[c])) <= 1;
        }
    }
};

std::vector<View> availableViews()
{
    const auto config = loadConfig();
    const std::string display = config->getDefaultDisplay();
    const std::string preferred = config->getDefaultView(display.c_str());
    std::vector<View> views;
    for (int i = 0; i < config->getNumViews(display.c_str()); ++i) {
        const View view{display, config->getView(display.c_str(), i)};
        views.insert(view.view == preferred ? views.begin() : views.end(), view);
    }
    return views;
}

ViewTransform::ViewTransform(const View& view, const std::string& inputSpace)
{
    auto impl = std::make_unique<Impl>();
    try {
        const auto config = loadConfig();
        const auto transform = ocio::DisplayViewTransform::Create();
        transform->setSrc(inputSpace.c_str());
        transform->setDisplay(view.display.c_str());
        transform->setView(view.view.c_str());
        impl->exact = config->getProcessor(transform)->getDefaultCPUProcessor();
    } catch (const ocio::Exception& cause) {
        throw Error(say("The view \"{}\" on \"{}\" cannot be used with this colour configuration. Choose "
                        "another view.",
                        view.view, view.display),
                    cause.what());
    }
    impl->fit();
    m_impl = std::move(impl);
}

ViewTransform::~ViewTransform() = default;
ViewTransform::ViewTransform(ViewTransform&&) noexcept = default;

std::string ViewTransform::id() const
{
    return m_impl->exact->getCacheID();
}

bool ViewTransform::isFast() const noexcept
{
    return m_impl->fast;
}

void ViewTransform::apply(const RgbaImage& image, std::uint32_t* pixels, const Run& run) const
{
    const int width = image.width();
    parallelFor(image.height(), run, [&](int y) {
        std::uint32_t* out = pixels + static_cast<std::size_t>(y) * static_cast<std::size_t>(width);
        const float* red = image.plane(0).row(y);
        const float* green = image.plane(1).row(y);
        const float* blue = image.plane(2).row(y);
        const auto packed = [](std::uint8_t r, std::uint8_t g, std::uint8_t b) {
            return 0xff000000U | std::uint32_t{r} << 16U | std::uint32_t{g} << 8U | b;
        };
        if (m_impl->fast) {
            for (int x = 0; x < width; ++x) {
                const auto rgb = m_impl->fastApply({red[x], green[x], blue[x]});
                out[x] = packed(rgb[0], rgb[1], rgb[2]);
            }
            return;
        }
        std::vector<float> line(static_cast<std::size_t>(width) * 3);
        for (int x = 0; x < width; ++x) {
            line[static_cast<std::size_t>(x) * 3] = red[x];
            line[static_cast<std::size_t>(x) * 3 + 1] = green[x];
            line[static_cast<std::size_t>(x) * 3 + 2] = blue[x];
        }
        ocio::PackedImageDesc desc(line.data(), width, 1, 3);
        m_impl->exact->apply(desc);
        for (int x = 0; x < width; ++x) {
            const float* p = line.data() + static_cast<std::size_t>(x) * 3;
            out[x] = packed(toByte(p[0]), toByte(p[1]), toByte(p[2]));
        }
    });
}

} // namespace retinex::colour
