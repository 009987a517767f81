#pragma once

#include "core/image/deep_picture.h"

#include <ImfChannelList.h>
#include <ImfDeepFrameBuffer.h>
#include <ImfDeepScanLineOutputFile.h>
#include <ImfHeader.h>
#include <ImfPartType.h>
#include <algorithm>
#include <string>
#include <vector>

namespace retinex::test {

/// Every pixel with the same samples.
inline DeepPicture stack(int size, const std::vector<DeepPicture::Sample>& samples)
{
    DeepPicture deep;
    deep.width = deep.height = size;
    deep.first.push_back(0);
    for (int i = 0; i < size * size; ++i) {
        deep.samples.insert(deep.samples.end(), samples.begin(), samples.end());
        deep.first.push_back(deep.samples.size());
    }
    return deep;
}

/// Colour in all channels alike.
inline DeepPicture::Sample sample(float value, float alpha, float depth)
{
    return {{value, value, value, alpha}, depth};
}

/// Scanlines, with ZBack where there are volumes.
inline void writeDeep(const std::string& file, const DeepPicture& deep)
{
    Imf::Header header(deep.width, deep.height);
    const bool hasVolumes = std::any_of(deep.samples.begin(), deep.samples.end(),
                                        [](const DeepSample& s) { return s.isVolume(); });
    std::vector<std::string> names{"R", "G", "B", "A", "Z"};
    if (hasVolumes) names.emplace_back("ZBack");
    for (const std::string& name : names)
        header.channels().insert(name, Imf::Channel(Imf::FLOAT));
    header.setType(Imf::DEEPSCANLINE);
    header.compression() = Imf::ZIPS_COMPRESSION;
    Imf::DeepScanLineOutputFile out(file.c_str(), header);
    const auto pixels = static_cast<std::size_t>(deep.width) * static_cast<std::size_t>(deep.height);
    std::vector<unsigned int> counts(pixels);
    std::vector<std::vector<float>> values(names.size());
    std::vector<std::vector<float*>> pointers(names.size(), std::vector<float*>(pixels));
    for (const auto& s : deep.samples)
        for (std::size_t c = 0; c < names.size(); ++c)
            values[c].push_back(c < 4 ? s.colour[c] : c == 4 ? s.depth : std::max(s.depth, s.back));
    for (std::size_t i = 0; i < pixels; ++i) {
        counts[i] = static_cast<unsigned int>(deep.first[i + 1] - deep.first[i]);
        for (std::size_t c = 0; c < names.size(); ++c)
            pointers[c][i] = values[c].data() + deep.first[i];
    }
    const auto row = [&](std::size_t size) { return size * static_cast<std::size_t>(deep.width); };
    Imf::DeepFrameBuffer buffer;
    buffer.insertSampleCountSlice(Imf::Slice(Imf::UINT, reinterpret_cast<char*>(counts.data()),
                                             sizeof(unsigned int), row(sizeof(unsigned int))));
    for (std::size_t c = 0; c < names.size(); ++c)
        buffer.insert(names[c], Imf::DeepSlice(Imf::FLOAT, reinterpret_cast<char*>(pointers[c].data()),
                                               sizeof(float*), row(sizeof(float*)), sizeof(float)));
    out.setFrameBuffer(buffer);
    out.writePixels(deep.height);
}

} // namespace retinex::test
