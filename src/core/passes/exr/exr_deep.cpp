#include "core/passes/exr/exr_deep.h"

#include "core/passes/exr/deep_tidy.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <ImfDeepFrameBuffer.h>
#include <ImfDeepScanLineInputPart.h>
#include <ImfDeepTiledInputPart.h>
#include <ImfHeader.h>
#include <ImfMultiPartInputFile.h>
#include <ImfPartType.h>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <numeric>

namespace retinex::passes {

namespace {

/// Deep frame buffers are addressed from the origin of the image, not of the data window.
template <class T>
char* atOrigin(std::vector<T>& data, const Imath::Box2i& window)
{
    const auto width = static_cast<std::ptrdiff_t>(window.max.x) - window.min.x + 1;
    const auto offset = static_cast<std::ptrdiff_t>(window.min.x) + window.min.y * width;
    return reinterpret_cast<char*>(data.data()) - offset * static_cast<std::ptrdiff_t>(sizeof(T));
}

/// Scanline and tiled parts read alike but for the names of the calls. Counts come first; then `place` says
/// where the samples of each pixel go.
void readSamples(Imf::MultiPartInputFile& input, int part, bool tiled, const Imf::DeepFrameBuffer& buffer,
                 const Imath::Box2i& window, const std::function<void()>& place)
{
    if (tiled) {
        Imf::DeepTiledInputPart reader(input, part);
        const int lastX = reader.numXTiles(0) - 1;
        const int lastY = reader.numYTiles(0) - 1;
        reader.setFrameBuffer(buffer);
        reader.readPixelSampleCounts(0, lastX, 0, lastY);
        place();
        reader.readTiles(0, lastX, 0, lastY);
        return;
    }
    Imf::DeepScanLineInputPart reader(input, part);
    reader.setFrameBuffer(buffer);
    reader.readPixelSampleCounts(window.min.y, window.max.y);
    place();
    reader.readPixels(window.min.y, window.max.y);
}

float over(const std::vector<float>& values, const std::vector<float>* alpha,
           const std::vector<std::size_t>& order)
{
    float sum = 0.0F;
    float open = 1.0F;
    for (const std::size_t i : order) {
        sum += open * values[i];
        open *= 1.0F - (alpha ? std::clamp((*alpha)[i], 0.0F, 1.0F) : 1.0F);
    }
    return sum;
}

} // namespace

const std::vector<float>* DeepSamples::find(const std::string& channel) const noexcept
{
    const auto it = std::find(channels.begin(), channels.end(), channel);
    return it == channels.end() ? nullptr : &values[static_cast<std::size_t>(it - channels.begin())];
}

DeepSamples readDeepSamples(const std::filesystem::path& file, Imf::MultiPartInputFile& input, int part,
                            const PartInfo& info, const std::vector<std::string>& channels)
{
    DeepSamples samples;
    samples.width = info.dataWindow.width();
    samples.height = info.dataWindow.height();
    samples.channels = channels;
    for (const char* name : {"Z", "ZBack", "A"})
        if (info.find(name) && std::find(channels.begin(), channels.end(), name) == channels.end())
            samples.channels.emplace_back(name);
    const Imath::Box2i window = input.header(part).dataWindow();
    // Counts are packed by zip at best: 4 bytes a pixel, 1032 to one.
    checkPlausible(file, 4.0 * samples.width * samples.height, 1100.0);
    const auto pixels = static_cast<std::size_t>(samples.width) * static_cast<std::size_t>(samples.height);
    std::vector<unsigned int> counts(pixels, 0);
    std::vector<std::vector<float*>> pointers(samples.channels.size(), std::vector<float*>(pixels, nullptr));
    samples.values.resize(samples.channels.size());
    const auto rowOf = [&](std::size_t size) { return size * static_cast<std::size_t>(samples.width); };
    Imf::DeepFrameBuffer buffer;
    buffer.insertSampleCountSlice(
        Imf::Slice(Imf::UINT, atOrigin(counts, window), sizeof(unsigned int), rowOf(sizeof(unsigned int))));
    for (std::size_t c = 0; c < samples.channels.size(); ++c)
        buffer.insert(samples.channels[c],
                      Imf::DeepSlice(Imf::FLOAT, atOrigin(pointers[c], window), sizeof(float*),
                                     rowOf(sizeof(float*)), sizeof(float)));
    readSamples(input, part, info.tiled, buffer, window, [&] {
        samples.first.resize(pixels + 1, 0);
        long long total = 0;
        for (std::size_t i = 0; i < pixels; ++i) {
            total += counts[i];
            if (total > kMostDeepSamples)
                throw Error(say("{}: holds more than {} million deep samples, which is more than this "
                                "program takes. Render a flat EXR, or fewer samples.",
                                file.string(), kMostDeepSamples >> 20U));
            samples.first[i + 1] = static_cast<std::size_t>(total);
        }
        for (std::size_t c = 0; c < samples.channels.size(); ++c) {
            samples.values[c].resize(static_cast<std::size_t>(total));
            for (std::size_t i = 0; i < pixels; ++i)
                pointers[c][i] = samples.values[c].data() + samples.first[i];
        }
    });
    makeTidy(samples);
    return samples;
}

DeepPicture deepPicture(const DeepSamples& samples, const DeepChannels& channels, const PixelBox& dataWindow,
                        const PixelBox& window)
{
    const std::vector<float>* depth = samples.find(channels.depth);
    const std::vector<float>* back = channels.depth == "Z" ? samples.find("ZBack") : nullptr;
    const std::vector<float>* alpha = channels.alpha.empty() ? nullptr : samples.find(channels.alpha);
    DeepPicture deep;
    deep.width = window.width();
    deep.height = window.height();
    deep.first.push_back(0);
    for (int y = 0; y < deep.height; ++y) {
        for (int x = 0; x < deep.width; ++x) {
            const int fromX = x + window.minX - dataWindow.minX;
            const int fromY = y + window.minY - dataWindow.minY;
            const bool inside = fromX >= 0 && fromY >= 0 && fromX < samples.width && fromY < samples.height;
            const std::size_t pixel =
                inside ? static_cast<std::size_t>(fromY) * static_cast<std::size_t>(samples.width) +
                             static_cast<std::size_t>(fromX)
                       : 0;
            for (std::size_t i = inside ? samples.first[pixel] : 0;
                 i < (inside ? samples.first[pixel + 1] : 0); ++i) {
                DeepPicture::Sample sample;
                for (std::size_t c = 0; c < 3; ++c)
                    sample.colour[c] = (*samples.find(channels.colour[c]))[i];
                sample.colour[3] = alpha ? (*alpha)[i] : 1.0F;
                sample.depth = (*depth)[i];
                sample.back = back && std::isfinite((*back)[i]) ? (*back)[i] : sample.depth;
                if (std::all_of(sample.colour.begin(), sample.colour.end(),
                                [](float v) { return std::isfinite(v); }) &&
                    !std::isnan(sample.depth))
                    deep.samples.push_back(sample);
            }
            deep.first.push_back(deep.samples.size());
        }
    }
    return deep;
}

std::vector<Plane<float>> flattened(const DeepSamples& samples, const std::vector<std::string>& channels)
{
    const std::vector<float>* depth = samples.find("Z");
    const std::vector<float>* alpha = samples.find("A");
    std::vector<Plane<float>> planes(channels.size(), Plane<float>(samples.width, samples.height));
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i + 1 < samples.first.size(); ++i) {
        order.resize(samples.first[i + 1] - samples.first[i]);
        std::iota(order.begin(), order.end(), samples.first[i]);
        if (depth)
            std::stable_sort(order.begin(), order.end(),
                             [&](std::size_t a, std::size_t b) { return (*depth)[a] < (*depth)[b]; });
        for (std::size_t c = 0; c < channels.size(); ++c) {
            const std::vector<float>& values = *samples.find(channels[c]);
            float& out = planes[c].pixels()[i];
            if (channels[c] == "Z") {
                const auto seen = std::find_if(order.begin(), order.end(),
                                               [&](std::size_t s) { return !alpha || (*alpha)[s] > 0.0F; });
                out = seen == order.end() ? 0.0F : values[*seen];
            } else {
                out = over(values, alpha, order);
            }
        }
    }
    return planes;
}

} // namespace retinex::passes
