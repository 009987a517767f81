#include "core/passes/mattes/mattes.h"

#include "core/passes/frames/luminance.h"
#include "core/passes/image_file.h"
#include "core/passes/layers.h"
#include "core/passes/mattes/cryptomatte.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <map>

namespace retinex::passes {

std::string MatteChoice::title() const
{
    const auto cut = name.find_last_of("./");
    const std::string last = cut == std::string::npos ? name : name.substr(cut + 1);
    // A file of its own says what it is by its name, not by its channel.
    if (name.find('/') == std::string::npos && (last.size() <= 1 || last == "luminance"))
        return file.stem().string();
    return last;
}

std::optional<IdMatteName> idMatteName(const MatteChoice& matte)
{
    const auto slash = matte.name.find('/');
    if (slash == std::string::npos) return std::nullopt;
    return IdMatteName{matte.name.substr(0, slash), matte.name.substr(slash + 1)};
}

namespace {

/// A single channel, or red, green and blue with or without alpha.
bool holdsOneThing(const FileInfo& info)
{
    const auto channels = channelPlaces(info);
    if (channels.size() == 1) return true;
    const auto layers = colourLayers(info);
    return layers.size() == 1 && depthChannels(info).empty() &&
           channels.size() == (layers.front().alpha ? 4U : 3U);
}

/// Those that a file's channels and ID mattes name, as mattes of `file`: it, or the pattern that it is of.
std::vector<MatteChoice> namedMattes(const std::filesystem::path& file, const FileInfo& info)
{
    std::vector<MatteChoice> found;
    for (const ChannelPlace& place : matteChannels(info))
        found.push_back({file, place.channel});
    if (info.format == "openexr")
        for (const IdMatteSet& set : idMatteSets(info.file))
            for (const auto& [name, id] : set.manifest)
                found.push_back({file, set.layer + "/" + name});
    return found;
}

} // namespace

std::vector<MatteChoice> mattesIn(const std::filesystem::path& file)
{
    return namedMattes(file, inspectFile(anyFrame(file)));
}

std::vector<MatteChoice> requireMattes(const std::filesystem::path& file)
{
    const FileInfo info = inspectFile(anyFrame(file));
    std::vector<MatteChoice> found = namedMattes(file, info);
    if (!found.empty()) return found;
    if (!holdsOneThing(info))
        throw Error(say("{}: there is no matte in it. Give a file with one, or name one of its channels.",
                        file.string()));
    return {{file, chooseDepth(info, {}, true).channel}};
}

std::vector<Plane<float>> readChannelMattes(const std::filesystem::path& file,
                                            const std::vector<std::string>& names)
{
    const FileInfo info = inspectFile(file);
    std::vector<DepthChannel> channels;
    std::map<int, std::vector<std::string>> wanted; // of each part, each channel once
    for (const std::string& name : names) {
        channels.push_back(chooseDepth(info, name, true));
        auto& ofPart = wanted[channels.back().part];
        for (const std::string& part : channels.back().parts)
            if (std::find(ofPart.begin(), ofPart.end(), part) == ofPart.end()) ofPart.push_back(part);
    }
    std::map<int, ChannelPlanes> read;
    for (const auto& [part, ofPart] : wanted)
        read[part] = readChannels(file, part, ofPart);
    std::vector<Plane<float>> mattes;
    for (const DepthChannel& channel : channels) {
        const auto plane = [&](std::size_t i) -> const Plane<float>& {
            const auto& ofPart = wanted[channel.part];
            const auto at = std::find(ofPart.begin(), ofPart.end(), channel.parts[i]) - ofPart.begin();
            return read[channel.part].planes[static_cast<std::size_t>(at)];
        };
        mattes.push_back(channel.isLuminance() ? luminanceOf(plane(0), plane(1), plane(2)) : plane(0));
        for (float& value : mattes.back().pixels())
            value = value > 0.0F ? std::min(value, 1.0F) : 0.0F;
    }
    return mattes;
}

Plane<float> readMatte(const MatteChoice& matte)
{
    if (const auto id = idMatteName(matte)) {
        const IdMatteSet set = idMatteSet(matte.file, id->set);
        return idMatte(matte.file, set, set.idOf(id->object));
    }
    return std::move(readChannelMattes(matte.file, {matte.name}).front());
}

} // namespace retinex::passes
