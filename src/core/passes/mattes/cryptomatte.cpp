#include "core/passes/mattes/cryptomatte.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <ImfHeader.h>
#include <ImfMultiPartInputFile.h>
#include <ImfStringAttribute.h>
#include <algorithm>
#include <bit>
#include <cctype>
#include <charconv>
#include <fmt/format.h>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

constexpr std::string_view kPrefix = "cryptomatte/";
constexpr std::size_t kMostManifestBytes = 64U << 20U;

std::map<std::string, std::uint32_t> parseManifest(const std::string& text)
{
    std::map<std::string, std::uint32_t> manifest;
    const auto json = nlohmann::json::parse(text, nullptr, false);
    if (!json.is_object()) return manifest;
    for (const auto& [name, value] : json.items()) {
        if (!value.is_string()) continue;
        const std::string hex = value.get<std::string>();
        std::uint32_t id = 0;
        const auto [end, error] = std::from_chars(hex.data(), hex.data() + hex.size(), id, 16);
        if (error == std::errc{} && end == hex.data() + hex.size()) manifest[name] = id;
    }
    return manifest;
}

/// A manifest file lies beside the picture; a path that leads elsewhere is not followed.
std::string readSidecar(const fs::path& file, const std::string& name)
{
    const fs::path path = file.parent_path() / fs::path(name).filename();
    std::error_code code;
    if (!fs::is_regular_file(path, code) || fs::file_size(path, code) > kMostManifestBytes) return {};
    std::ostringstream text;
    text << std::ifstream(path).rdbuf();
    return text.str();
}

/// "CryptoObject03.B" is rank channel 3 * 2 + 1 of "CryptoObject": R and G are one pair, B and A the next.
int rankOf(const std::string& channel, const std::string& layer)
{
    if (!channel.starts_with(layer) || channel.size() != layer.size() + 4 ||
        channel[channel.size() - 2] != '.')
        return -1;
    const char tens = channel[layer.size()];
    const char ones = channel[layer.size() + 1];
    if (!std::isdigit(static_cast<unsigned char>(tens)) || !std::isdigit(static_cast<unsigned char>(ones)))
        return -1;
    const auto component = std::string_view("RGBA").find(
        static_cast<char>(std::toupper(static_cast<unsigned char>(channel.back()))));
    if (component == std::string_view::npos) return -1;
    return ((tens - '0') * 10 + (ones - '0')) * 4 + static_cast<int>(component);
}

std::vector<std::string> rankChannels(const PartInfo& part, const std::string& layer)
{
    std::map<int, std::string> ranked;
    for (const ChannelInfo& channel : part.channels)
        if (const int rank = rankOf(channel.name, layer); rank >= 0) ranked[rank] = channel.name;
    std::vector<std::string> channels;
    for (int i = 0; ranked.contains(i) && ranked.contains(i + 1); i += 2) { // whole pairs without a hole
        channels.push_back(ranked[i]);
        channels.push_back(ranked[i + 1]);
    }
    return channels;
}

} // namespace

std::uint32_t murmurHash3(std::string_view bytes, std::uint32_t seed) noexcept
{
    const auto byte = [&](std::size_t i) {
        return static_cast<std::uint32_t>(static_cast<unsigned char>(bytes[i]));
    };
    const auto mixed = [](std::uint32_t k) { return std::rotl(k * 0xcc9e2d51U, 15) * 0x1b873593U; };
    std::uint32_t h = seed;
    const std::size_t blocks = bytes.size() / 4;
    for (std::size_t b = 0; b < blocks; ++b) {
        const std::uint32_t k =
            byte(4 * b) | byte(4 * b + 1) << 8U | byte(4 * b + 2) << 16U | byte(4 * b + 3) << 24U;
        h = std::rotl(h ^ mixed(k), 13) * 5U + 0xe6546b64U;
    }
    std::uint32_t tail = 0;
    for (std::size_t i = bytes.size(); i > 4 * blocks; --i)
        tail = tail << 8U | byte(i - 1);
    if (bytes.size() > 4 * blocks) h ^= mixed(tail);
    h ^= static_cast<std::uint32_t>(bytes.size());
    h = (h ^ h >> 16U) * 0x85ebca6bU;
    h = (h ^ h >> 13U) * 0xc2b2ae35U;
    return h ^ h >> 16U;
}

std::uint32_t idOfName(std::string_view name) noexcept
{
    const std::uint32_t hash = murmurHash3(name);
    const std::uint32_t exponent = hash >> 23U & 255U;
    // Exponents 0 and 255 are denormals, infinities and NaN.
    return exponent == 0U || exponent == 255U ? hash ^ 1U << 23U : hash;
}

std::vector<IdMatteSet> idMatteSets(const fs::path& file)
{
    const FileInfo info = inspectExr(file);
    std::vector<IdMatteSet> sets;
    const Imf::MultiPartInputFile input(file.c_str());
    for (int p = 0; p < input.parts(); ++p) {
        const Imf::Header& header = input.header(p);
        std::map<std::string, std::map<std::string, std::string>> found; // by the short key of the set
        for (auto it = header.begin(); it != header.end(); ++it) {
            const std::string name = it.name();
            const auto* text = dynamic_cast<const Imf::StringAttribute*>(&it.attribute());
            const auto slash = name.rfind('/');
            if (!text || !name.starts_with(kPrefix) || slash <= kPrefix.size()) continue;
            found[name.substr(kPrefix.size(), slash - kPrefix.size())][name.substr(slash + 1)] =
                text->value();
        }
        for (const auto& [key, fields] : found) {
            const auto layer = fields.find("name");
            if (layer == fields.end() || layer->second.empty()) continue;
            IdMatteSet set{p, layer->second, rankChannels(info.part(p), layer->second), {}};
            if (set.channels.empty()) continue;
            if (const auto text = fields.find("manifest"); text != fields.end())
                set.manifest = parseManifest(text->second);
            else if (const auto side = fields.find("manif_file"); side != fields.end())
                set.manifest = parseManifest(readSidecar(file, side->second));
            sets.push_back(std::move(set));
        }
    }
    return sets;
}

IdMatteSet idMatteSet(const fs::path& file, const std::string& layer)
{
    for (IdMatteSet& set : idMatteSets(file))
        if (set.layer == layer) return std::move(set);
    throw Error(say("{}: has no ID mattes \"{}\". Choose another matte, or render the file with them.",
                    file.string(), layer));
}

std::uint32_t IdMatteSet::idOf(const std::string& object) const
{
    const auto entry = manifest.find(object);
    return entry != manifest.end() ? entry->second : idOfName(object);
}

Plane<float> idMatte(const fs::path& file, const IdMatteSet& set, std::uint32_t id)
{
    const ChannelPlanes ranks = readExrChannels(file, set.part, set.channels);
    Plane<float> matte(ranks.window.width(), ranks.window.height());
    for (std::size_t pair = 0; pair + 1 < ranks.planes.size(); pair += 2) {
        const auto ids = ranks.planes[pair].pixels();
        const auto coverage = ranks.planes[pair + 1].pixels();
        for (std::size_t i = 0; i < ids.size(); ++i)
            if (std::bit_cast<std::uint32_t>(ids[i]) == id) matte.pixels()[i] += coverage[i];
    }
    for (float& value : matte.pixels())
        value = value > 0.0F ? std::min(value, 1.0F) : 0.0F; // NaN too
    return matte;
}

} // namespace retinex::passes
