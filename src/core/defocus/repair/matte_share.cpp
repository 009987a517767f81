#include "core/defocus/repair/matte_share.h"

#include <algorithm>
#include <array>

namespace retinex::defocus {

namespace {

constexpr int kReach = 2;
constexpr std::size_t kMost = 8; ///< objects that count around a pixel
/// Squared difference of the objects on the two sides, from which on mattes tell them apart.
constexpr float kTold = 0.25F;

constexpr float kMuch = 0.5F;

/// Coverage of one object as the pixels of a side have it.
struct Seen
{
    float sum = 0.0F;
    float most = 0.0F;
    float least = 1.0F;
    int pixels = 0; ///< that have the object at all

    void add(float coverage)
    {
        sum += coverage;
        most = std::max(most, coverage);
        least = std::min(least, coverage);
        ++pixels;
    }
};

/// A side's pixels: the clean ones, and all.
struct SideOfObject
{
    Seen clean;
    Seen all;
};

struct Object
{
    std::uint32_t id = 0;
    std::array<SideOfObject, 2> sides; ///< near, far
};

/// Coverage of an object where a side is not mixed. Where all of its pixels are, its main object would fill
/// one alone, and of the others the pixel that shows the most, or the least, comes closest: an object of the
/// other side is not there, unless no pixel is without much of it.
float pure(const SideOfObject& side, int clean, int all, bool isItsOwn, bool isMain)
{
    if (clean > 0) return side.clean.sum / static_cast<float>(clean);
    if (isItsOwn) return isMain ? 1.0F : side.all.most;
    return side.all.pixels < all || side.all.least < kMuch ? 0.0F : side.all.least;
}

float coverageOf(const ObjectShares& objects, std::uint32_t object, int x, int y)
{
    for (std::size_t i = objects.firstOf(x, y); i < objects.endOf(x, y); ++i)
        if (objects.samples[i].object == object) return objects.samples[i].coverage;
    return 0.0F;
}

} // namespace

std::optional<float> shareByMattes(const ObjectShares& objects, const Plane<float>& radius,
                                   const Plane<std::uint8_t>& rim, const TwoSurfaces& surfaces, int x, int y)
{
    std::array<Object, kMost> found;
    std::size_t count = 0;
    std::array<int, 2> clean{};
    std::array<int, 2> all{};
    around(radius, x, y, kReach, [&](int nx, int ny) {
        const auto side = surfaces.sideOf(radius.at(nx, ny));
        if (side == TwoSurfaces::Side::other) return;
        const std::size_t s = side == TwoSurfaces::Side::near ? 0 : 1;
        const bool isClean = rim.at(nx, ny) == 0;
        ++all[s];
        if (isClean) ++clean[s];
        for (std::size_t i = objects.firstOf(nx, ny); i < objects.endOf(nx, ny); ++i) {
            const ObjectShare& share = objects.samples[i];
            const auto end = found.begin() + static_cast<std::ptrdiff_t>(count);
            auto it = std::find_if(found.begin(), end, [&](const Object& o) { return o.id == share.object; });
            if (it == end) {
                if (count == kMost) continue;
                it->id = share.object;
                ++count;
            }
            it->sides[s].all.add(share.coverage);
            if (isClean) it->sides[s].clean.add(share.coverage);
        }
    });
    if (all[0] == 0 || all[1] == 0) return std::nullopt;
    // Which side an object is on more, and of each side the one that is there most.
    std::array<bool, kMost> isNear{};
    std::array<std::size_t, 2> main{};
    std::array<float, 2> mostThere{};
    for (std::size_t i = 0; i < count; ++i) {
        const auto& sides = found[i].sides;
        const std::array<float, 2> mean{sides[0].all.sum / static_cast<float>(all[0]),
                                        sides[1].all.sum / static_cast<float>(all[1])};
        isNear[i] = mean[0] > mean[1];
        const std::size_t own = isNear[i] ? 0 : 1;
        if (mean[own] <= mostThere[own]) continue;
        mostThere[own] = mean[own];
        main[own] = i;
    }
    // The place on the line between what the two sides show that comes nearest to the pixel.
    float along = 0.0F;
    float size = 0.0F;
    for (std::size_t i = 0; i < count; ++i) {
        const auto& [near, far] = found[i].sides;
        const float farCoverage = pure(far, clean[1], all[1], !isNear[i], main[1] == i);
        const float across = pure(near, clean[0], all[0], isNear[i], main[0] == i) - farCoverage;
        along += across * (coverageOf(objects, found[i].id, x, y) - farCoverage);
        size += across * across;
    }
    if (size < kTold) return std::nullopt;
    return std::clamp(along / size, 0.0F, 1.0F);
}

} // namespace retinex::defocus
