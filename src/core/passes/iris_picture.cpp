#include "core/passes/iris_picture.h"

#include "core/passes/frames/luminance.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace retinex::passes {

namespace {

constexpr int kLargest = 128;

/// Means of whole blocks, so that the longer side fits.
Plane<float> reducedToFit(const Plane<float>& picture)
{
    const int longer = std::max(picture.width(), picture.height());
    const int block = (longer + kLargest - 1) / kLargest;
    Plane<float> small(std::max(1, picture.width() / block), std::max(1, picture.height() / block));
    for (int y = 0; y < small.height(); ++y)
        for (int x = 0; x < small.width(); ++x)
            for (int j = 0; j < block; ++j)
                for (int i = 0; i < block; ++i) {
                    const float value = picture.at(std::min(x * block + i, picture.width() - 1),
                                                   std::min(y * block + j, picture.height() - 1));
                    if (std::isfinite(value)) small.at(x, y) += std::max(value, 0.0F);
                }
    return small;
}

} // namespace

optics::IrisPicture readIrisPicture(const std::filesystem::path& file)
{
    const FileInfo info = inspectFile(file);
    const PartInfo& part = info.part(0);
    std::vector<std::string> channels{"R", "G", "B"};
    const bool hasColour = std::all_of(channels.begin(), channels.end(),
                                       [&](const std::string& name) { return part.find(name) != nullptr; });
    if (!hasColour) {
        if (part.channels.empty())
            throw Error(
                say("{}: there is no channel in it to take an iris from. Choose a picture of an opening.",
                    file.string()));
        channels = {part.find("Y") ? "Y" : part.channels.front().name};
    }
    const auto planes = readChannels(file, 0, channels).planes;
    auto picture = std::make_shared<Plane<float>>(
        reducedToFit(hasColour ? luminanceOf(planes[0], planes[1], planes[2]) : planes[0]));
    const auto pixels = picture->pixels();
    if (std::none_of(pixels.begin(), pixels.end(), [](float v) { return v > 0.0F; }))
        throw Error(say("{}: the picture is dark all over; an iris needs a bright opening.", file.string()));
    return picture;
}

} // namespace retinex::passes
