#include "core/passes/mattes/matte_objects.h"

#include "core/passes/mattes/cryptomatte.h"

#include <bit>
#include <map>
#include <unordered_map>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

/// The mattes of one set of ID mattes: which object an id is.
using ObjectOfId = std::unordered_map<std::uint32_t, std::uint32_t>;

void addIdMattes(const fs::path& file, const IdMatteSet& set, const ObjectOfId& objectOfId,
                 const std::function<Plane<float>(const Plane<float>&)>& fit,
                 std::vector<ObjectCoverage>& coverages)
{
    const ChannelPlanes ranks = readExrChannels(file, set.part, set.channels);
    for (std::size_t pair = 0; pair + 1 < ranks.planes.size(); pair += 2) {
        const Plane<float> ids = fit(ranks.planes[pair]);
        Plane<std::uint32_t> objects(ids.width(), ids.height());
        for (std::size_t i = 0; i < ids.size(); ++i) {
            const auto it = objectOfId.find(std::bit_cast<std::uint32_t>(ids.pixels()[i]));
            if (it != objectOfId.end()) objects.pixels()[i] = it->second;
        }
        coverages.push_back({fit(ranks.planes[pair + 1]), 0, std::move(objects)});
    }
}

} // namespace

ObjectShares readMatteObjects(const std::vector<MatteChoice>& mattes, int frame, bool isHeld, int width,
                              int height, SizeFit sizeFit, const Sequence& colour)
{
    const auto fit = [&](const Plane<float>& plane) {
        return plane.width() == width && plane.height() == height
                   ? plane
                   : fitted(plane, width, height, sizeFit, 0.0F);
    };
    std::map<fs::path, fs::path> fileOf; // of the frame, by the file chosen
    using NamedObjects = std::vector<std::pair<std::string, std::uint32_t>>;
    std::map<std::pair<fs::path, std::string>, NamedObjects> sets; // of ID mattes
    std::map<fs::path, NamedObjects> channels;
    std::vector<ObjectCoverage> coverages;
    for (std::size_t i = 0; i < mattes.size(); ++i) {
        const auto [file, isNew] = fileOf.try_emplace(mattes[i].file);
        if (isNew) {
            const Sequence files = Sequence::findBeside(colour, mattes[i].file);
            file->second = files.requireFile(isHeld && !files.has(frame) ? files.nearestTo(frame) : frame);
        }
        const auto object = static_cast<std::uint32_t>(i + 1);
        if (const auto id = idMatteName(mattes[i]))
            sets[{file->second, id->set}].emplace_back(id->object, object);
        else
            channels[file->second].emplace_back(mattes[i].name, object);
    }
    for (const auto& [file, objects] : channels) {
        std::vector<std::string> names;
        for (const auto& [name, object] : objects)
            names.push_back(name);
        const auto planes = readChannelMattes(file, names);
        for (std::size_t i = 0; i < planes.size(); ++i)
            coverages.push_back({fit(planes[i]), objects[i].second});
    }
    for (const auto& [place, objects] : sets) {
        const IdMatteSet set = idMatteSet(place.first, place.second);
        ObjectOfId objectOfId;
        for (const auto& [name, object] : objects)
            objectOfId.emplace(set.idOf(name), object);
        addIdMattes(place.first, set, objectOfId, fit, coverages);
    }
    return objectSharesOf(coverages);
}

} // namespace retinex::passes
