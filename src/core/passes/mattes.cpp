#include "core/passes/mattes.h"

#include "core/passes/cryptomatte.h"
#include "core/passes/image_file.h"
#include "core/passes/layers.h"
#include "core/passes/luminance.h"

#include <algorithm>
#include <cmath>

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

std::vector<MatteChoice> mattesIn(const std::filesystem::path& file, bool alone)
{
    const FileInfo info = inspectFile(file);
    std::vector<MatteChoice> found;
    for (const ChannelPlace& place : matteChannels(info))
        found.push_back({file, place.channel});
    if (info.format == "openexr")
        for (const IdMatteSet& set : idMatteSets(file))
            for (const auto& [name, id] : set.manifest)
                found.push_back({file, set.layer + "/" + name});
    if (found.empty() && alone) found.push_back({file, chooseDepth(info, {}, true).channel});
    return found;
}

Plane<float> readMatte(const MatteChoice& matte)
{
    if (const auto id = idMatteName(matte)) {
        const IdMatteSet set = idMatteSet(matte.file, id->set);
        return idMatte(matte.file, set, set.idOf(id->object));
    }
    const DepthChannel channel = chooseDepth(inspectFile(matte.file), matte.name, true);
    Plane<float> plane = readNumbers(matte.file, channel, {}).planes.front();
    for (float& value : plane.pixels())
        value = value > 0.0F ? std::min(value, 1.0F) : 0.0F;
    return plane;
}

} // namespace retinex::passes
