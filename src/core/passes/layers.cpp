#include "core/passes/layers.h"

#include "core/system/error.h"
#include "core/system/lower.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>

namespace retinex::passes {

namespace {

bool speaksOfDepth(const std::string& layer)
{
    return layer == "z" || layer == "zdepth" || layer.ends_with("depth") || layer.starts_with("depth");
}

/// 0 for a name that does not speak of depth; larger is better.
int depthScore(const ChannelPlace& place)
{
    const std::string component = lower(place.component);
    const std::string layer = lower(place.layer);
    const bool layerSaysDepth = speaksOfDepth(layer);
    if (component == "z") return place.layer.empty() ? 5 : layerSaysDepth ? 6 : 4;
    if (component == "depth" || component == "zdepth") return 4;
    if (layerSaysDepth && (component == "r" || component == "y" || component == "v" || component == "red"))
        return 3;
    return 0;
}

DepthChannel toDepth(const ChannelPlace& place)
{
    return {place.part, place.channel, {place.channel}, place.type};
}

DepthChannel luminanceOf(const ColourLayer& layer)
{
    if (layer.red == layer.green) return {layer.part, layer.red, {layer.red}, layer.type};
    return {layer.part, luminanceName(layer.layer), {layer.red, layer.green, layer.blue}, layer.type};
}

std::vector<std::string> allNames(const FileInfo& info)
{
    std::vector<std::string> names;
    for (const ChannelPlace& place : channelPlaces(info))
        names.push_back(place.channel);
    return names;
}

/// "depth00.R": the ranks of an ID matte are floats by the dozen, not pictures.
bool isRank(const ChannelPlace& place)
{
    const std::string layer = lower(place.layer);
    return layer.size() > 2 && std::isdigit(static_cast<unsigned char>(layer.back())) &&
           std::isdigit(static_cast<unsigned char>(layer[layer.size() - 2])) &&
           layer.find("crypto") != std::string::npos;
}

} // namespace

std::string luminanceName(const std::string& layer)
{
    return layer.empty() ? "luminance" : layer + ".luminance";
}

std::vector<ChannelPlace> channelPlaces(const FileInfo& info)
{
    std::vector<ChannelPlace> all;
    for (int i = 0; i < static_cast<int>(info.parts.size()); ++i) {
        const PartInfo& part = info.part(i);
        for (const ChannelInfo& channel : part.channels) {
            const auto dot = channel.name.rfind('.');
            if (dot != std::string::npos)
                all.push_back({i, channel.name.substr(0, dot), channel.name.substr(dot + 1), channel.name,
                               channel.type});
            else
                all.push_back({i, info.parts.size() > 1 ? part.name : std::string{}, channel.name,
                               channel.name, channel.type});
        }
    }
    return all;
}

std::vector<ColourLayer> colourLayers(const FileInfo& info)
{
    std::map<std::pair<int, std::string>, ColourLayer> found;
    for (const ChannelPlace& place : channelPlaces(info)) {
        if (isRank(place)) continue;
        ColourLayer& layer = found[{place.part, place.layer}];
        const std::string component = lower(place.component);
        layer.part = place.part;
        layer.layer = place.layer;
        if (component == "r" || component == "red") {
            layer.red = place.channel;
            layer.type = place.type;
        } else if (component == "g" || component == "green") {
            layer.green = place.channel;
        } else if (component == "b" || component == "blue") {
            layer.blue = place.channel;
        } else if (component == "a" || component == "alpha") {
            layer.alpha = place.channel;
        } else if (component == "y" && layer.red.empty()) {
            layer.red = layer.green = layer.blue = place.channel;
            layer.type = place.type;
        }
    }
    std::vector<ColourLayer> layers;
    for (const auto& [key, layer] : found)
        if (!layer.red.empty() && !layer.green.empty() && !layer.blue.empty()) layers.push_back(layer);
    std::stable_sort(layers.begin(), layers.end(), [](const ColourLayer& a, const ColourLayer& b) {
        return a.layer.empty() && !b.layer.empty();
    });
    return layers;
}

std::vector<DepthChannel> depthChannels(const FileInfo& info)
{
    std::vector<std::pair<int, DepthChannel>> scored;
    const auto places = channelPlaces(info);
    for (const ChannelPlace& place : places) {
        if (isRank(place)) continue;
        int score = depthScore(place);
        // The one channel of a layer that speaks of depth is that, whatever its name.
        const auto isBeside = [&](const ChannelPlace& other) {
            return other.part == place.part && other.layer == place.layer;
        };
        if (score == 0 && speaksOfDepth(lower(place.layer)) &&
            std::count_if(places.begin(), places.end(), isBeside) == 1)
            score = 2;
        if (score > 0) scored.emplace_back(score, toDepth(place));
    }
    std::stable_sort(scored.begin(), scored.end(),
                     [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<DepthChannel> channels;
    for (auto& [score, channel] : scored)
        channels.push_back(std::move(channel));
    return channels;
}

std::vector<ChannelPlace> matteChannels(const FileInfo& info)
{
    static constexpr std::array<std::string_view, 4> words{"matte", "mask", "holdout", "objectid"};
    std::vector<ChannelPlace> found;
    for (const ChannelPlace& place : channelPlaces(info)) {
        const std::string name = lower(place.channel);
        if (!isRank(place) && std::any_of(words.begin(), words.end(), [&](std::string_view word) {
                return name.find(word) != std::string::npos;
            }))
            found.push_back(place);
    }
    return found;
}

namespace {

bool speaksOfMotion(const std::string& layer)
{
    static constexpr std::array<std::string_view, 4> words{"motion", "velocity", "vector", "flow"};
    return layer == "mv" ||
           std::ranges::any_of(words, [&](auto word) { return layer.find(word) != std::string::npos; });
}

/// Every layer with a pair of channels that may be across and down.
std::vector<MotionChannels> channelPairs(const FileInfo& info)
{
    static constexpr std::array<std::array<std::string_view, 2>, 4> pairs{
        {{"x", "y"}, {"u", "v"}, {"r", "g"}, {"red", "green"}}};
    std::vector<MotionChannels> found;
    const auto places = channelPlaces(info);
    for (const ChannelPlace& first : places)
        for (const auto& [across, down] : pairs)
            if (lower(first.component) == across)
                for (const ChannelPlace& second : places)
                    if (second.part == first.part && second.layer == first.layer &&
                        lower(second.component) == down)
                        found.push_back({first.part, first.layer, {first.channel, second.channel}});
    return found;
}

} // namespace

std::vector<MotionChannels> motionChannels(const FileInfo& info)
{
    std::vector<MotionChannels> found = channelPairs(info);
    std::erase_if(found, [](const MotionChannels& each) { return !speaksOfMotion(lower(each.layer)); });
    return found;
}

MotionChannels chooseMotion(const FileInfo& info, const std::string& layer)
{
    const std::vector<MotionChannels> all = channelPairs(info);
    for (const MotionChannels& each : layer.empty() ? motionChannels(info) : all)
        if (layer.empty() || each.layer == layer) return each;
    // A file of its own holds nothing else.
    if (layer.empty() && all.size() == 1) return all.front();
    throw Error(say("{}: no motion vectors{}; it has the channels {}. Name the layer that holds them, two "
                    "channels x and y.",
                    info.file.string(), layer.empty() ? std::string() : say(" in a layer \"{}\"", layer),
                    fmt::join(allNames(info), ", ")));
}

colour::InputSpace inputSpaceOf(const FileInfo& info, const ColourLayer& layer)
{
    return colour::inputSpaceOf(info.file, isInteger(layer.type), info.part(layer.part).primaries);
}

ColourLayer chooseColour(const FileInfo& info, const std::string& layer)
{
    const auto layers = colourLayers(info);
    // A channel can be asked for by its name, as a grey picture.
    if (!layer.empty())
        for (const ChannelPlace& place : channelPlaces(info))
            if (place.channel == layer)
                return {place.part, layer, layer, layer, layer, std::nullopt, place.type};
    if (layers.empty())
        throw Error(say("{}: no layer with red, green and blue; it has the channels {}. Give a file with "
                        "a colour pass.",
                        info.file.string(), fmt::join(allNames(info), ", ")));
    if (layer.empty()) return layers.front();
    const auto it =
        std::find_if(layers.begin(), layers.end(), [&](const ColourLayer& l) { return l.layer == layer; });
    if (it != layers.end()) return *it;
    std::vector<std::string> names;
    for (const ColourLayer& l : layers)
        names.push_back(l.layer.empty() ? "(nameless)" : l.layer);
    throw Error(
        say("{}: no colour layer \"{}\"; it has {}.", info.file.string(), layer, fmt::join(names, ", ")));
}

DepthChannel chooseDepth(const FileInfo& info, const std::string& channel, bool alone)
{
    const auto all = channelPlaces(info);
    const auto layers = colourLayers(info);
    if (!channel.empty()) {
        for (const ChannelPlace& place : all)
            if (place.channel == channel) return toDepth(place);
        for (const ColourLayer& layer : layers)
            if (luminanceName(layer.layer) == channel) return luminanceOf(layer);
        const auto inLayer = [&](const ChannelPlace& place) { return place.layer == channel; };
        if (std::count_if(all.begin(), all.end(), inLayer) == 1)
            return toDepth(*std::find_if(all.begin(), all.end(), inLayer));
        throw Error(say("{}: no channel \"{}\"; it has {}.", info.file.string(), channel,
                        fmt::join(allNames(info), ", ")));
    }
    const auto candidates = depthChannels(info);
    if (!candidates.empty()) return candidates.front();
    if (all.size() == 1) return toDepth(all.front());
    if (alone && layers.size() == 1) return luminanceOf(layers.front());
    throw DepthMissing(
        say("{}: no depth pass found; it has the channels {}. Name the channel that holds depth, "
            "or give the depth pass as a file of its own.",
            info.file.string(), fmt::join(allNames(info), ", ")));
}

} // namespace retinex::passes
