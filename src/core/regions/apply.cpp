#include "core/regions/apply.h"

#include "core/image/crop.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace retinex::regions {

namespace {

constexpr float kInfinity = std::numeric_limits<float>::infinity();
constexpr double kNearest = 1e-6; ///< scene units: distances stay above 0

/// The distance that a patch puts in place of `d`.
class Patch
{
public:
    Patch(const PlacedRegion& region, std::optional<double> fixed) : m_region(region), m_fixed(fixed) {}
    /// Whether it changes any distance.
    [[nodiscard]] bool isThere() const noexcept
    {
        const PatchKind kind = m_region.region.patch;
        if (kind == PatchKind::subject || kind == PatchKind::median) return m_fixed.has_value();
        return kind != PatchKind::none;
    }
    [[nodiscard]] float operator()(float d, double x, double y) const noexcept
    {
        const Region& r = m_region.region;
        double result = static_cast<double>(d);
        switch (r.patch) {
        case PatchKind::none:
            break;
        case PatchKind::number:
            result = r.distance;
            break;
        case PatchKind::subject:
        case PatchKind::median:
            result = m_fixed.value_or(result);
            break;
        case PatchKind::ramp:
            result = rampDistance(m_region, x, y);
            break;
        case PatchKind::offset:
            result += r.offset;
            break;
        case PatchKind::factor:
            result *= r.factor;
            break;
        }
        return static_cast<float>(std::max(kNearest, result));
    }

private:
    const PlacedRegion& m_region;
    std::optional<double> m_fixed;
};

/// Even in 1/distance.
float between(float from, float to, float share) noexcept
{
    if (share >= 1.0F) return to;
    const float reciprocal = (1.0F - share) / from + share / to;
    return reciprocal > 0.0F ? 1.0F / reciprocal : kInfinity;
}

/// Pixels of a plane at 1/divisor of the size, and the places of the full one that they were picked at.
struct Picking
{
    PixelBox box; ///< of the full plane
    int divisor = 1;

    [[nodiscard]] int placeX(int x) const noexcept
    {
        return box.minX + std::min(x * divisor + divisor / 2, box.width() - 1);
    }
    [[nodiscard]] int placeY(int y) const noexcept
    {
        return box.minY + std::min(y * divisor + divisor / 2, box.height() - 1);
    }
};

/// Calls visit(x, y, coverage) for what an area covers; x and y in the planes picked.
template <class Visit>
void eachCovered(const Coverage& area, const Picking& picking, const Run& run, Visit visit)
{
    const int d = picking.divisor;
    const int firstY = (area.box.minY - picking.box.minY) / d;
    const int lastY = (area.box.maxY - picking.box.minY) / d;
    const int firstX = (area.box.minX - picking.box.minX) / d;
    const int lastX = (area.box.maxX - picking.box.minX) / d;
    parallelFor(lastY - firstY + 1, run, [&](int row) {
        const int y = firstY + row;
        const int placeY = picking.placeY(y) - area.box.minY;
        if (placeY < 0 || placeY >= area.values.height()) return;
        const float* values = area.values.row(placeY);
        for (int x = firstX; x <= lastX; ++x) {
            const int placeX = picking.placeX(x) - area.box.minX;
            if (placeX >= 0 && placeX < area.values.width() && values[placeX] > 0.0F)
                visit(x, y, values[placeX]);
        }
    });
}

void patchFlat(const Region& region, const Patch& patch, const Coverage& area, const Picking& picking,
               Changed& picture, const Run& run)
{
    const bool placesAnew = region.patch != PatchKind::offset && region.patch != PatchKind::factor;
    eachCovered(area, picking, run, [&](int x, int y, float share) {
        std::uint8_t& gap = picture.gaps.at(x, y);
        if (region.gapsOnly && gap == 0) return;
        float& d = picture.distance.at(x, y);
        d = between(d, patch(d, picking.placeX(x) + 0.5, picking.placeY(y) + 0.5), share);
        if (share > 0.5F && placesAnew) gap = 0;
    });
}

std::shared_ptr<const DeepPicture> patchedDeep(const DeepPicture& deep, const Patch& patch,
                                               const Coverage& area, const Picking& picking, const Run& run)
{
    auto result = std::make_shared<DeepPicture>(deep);
    eachCovered(area, picking, run, [&](int x, int y, float share) {
        const auto first = result->samples.begin() + static_cast<std::ptrdiff_t>(deep.firstOf(x, y));
        const auto end = result->samples.begin() + static_cast<std::ptrdiff_t>(deep.endOf(x, y));
        const auto moved = [&](float d) {
            return between(d, patch(d, picking.placeX(x) + 0.5, picking.placeY(y) + 0.5), share);
        };
        for (auto sample = first; sample != end; ++sample) {
            const float front = moved(sample->depth);
            const float back = sample->isVolume() ? moved(sample->back) : front;
            sample->depth = std::min(front, back);
            sample->back = std::max(front, back);
        }
        std::stable_sort(first, end, [](const auto& a, const auto& b) { return a.depth < b.depth; });
    });
    return result;
}

void changeBlur(const Region& region, const Coverage& area, const Picking& picking, BlurShare& blur,
                const Run& run)
{
    const auto share = static_cast<float>(region.share);
    const auto square = static_cast<float>(region.addedPx * region.addedPx);
    eachCovered(area, picking, run, [&](int x, int y, float c) {
        float& s = blur.share.at(x, y);
        s += c * (share - s);
        if (square <= 0.0F) return;
        float& a = blur.addedPx.at(x, y);
        a = std::sqrt(a * a + c * square);
    });
}

/// At an edge there are two surfaces and none between: a rim no wider than a pixel is given to one side, to
/// the one whose distance it has. Wider fades are meant.
Coverage withHardRims(const Coverage& area, const Surroundings& around, const Run& run)
{
    constexpr float kFull = 0.99F;
    constexpr float kNone = 0.01F;
    constexpr float kAlike = 0.02F; // of the distance
    Coverage result = area;
    const Plane<float>& soft = area.values;
    const auto reciprocal = [&](int x, int y) {
        return 1.0F /
               around.distance->at(x + area.box.minX - around.box.minX, y + area.box.minY - around.box.minY);
    };
    parallelFor(soft.height(), run, [&](int y) {
        for (int x = 0; x < soft.width(); ++x) {
            const float c = soft.at(x, y);
            if (c <= 0.0F || c >= 1.0F) continue;
            int inside = 0;
            int outside = 0;
            float within = 0.0F;
            float without = 0.0F;
            bool hasNone = false; // beyond the area's box
            for (int v = y - 1; v <= y + 1; ++v)
                for (int u = x - 1; u <= x + 1; ++u) {
                    if (!soft.contains(u, v)) {
                        hasNone = true;
                    } else if (soft.at(u, v) >= kFull) {
                        within += reciprocal(u, v);
                        ++inside;
                    } else if (soft.at(u, v) <= kNone) {
                        without += reciprocal(u, v);
                        ++outside;
                    }
                }
            if (inside == 0 || (outside == 0 && !hasNone)) continue;
            bool isIn = c >= 0.5F;
            if (outside > 0) {
                within /= static_cast<float>(inside);
                without /= static_cast<float>(outside);
                if (std::abs(within - without) > kAlike * std::max(within, without)) {
                    const float own = reciprocal(x, y);
                    isIn = std::abs(own - within) < std::abs(own - without);
                }
            }
            result.values.at(x, y) = isIn ? 1.0F : 0.0F;
        }
    });
    return result;
}

/// The pixels of a plane that begins at the corner of `box` which an area lies in.
template <class T>
Plane<T> under(const Plane<T>& plane, const Coverage& area, const PixelBox& box)
{
    return cropped(plane, PixelBox::at(area.box.minX - box.minX, area.box.minY - box.minY, area.box.width(),
                                       area.box.height()));
}

} // namespace

std::optional<double> medianUnder(const Plane<float>& coverage, const Plane<float>& distance,
                                  const Plane<std::uint8_t>& gaps)
{
    // As many values as say it; of large areas every second or third pixel of each line.
    constexpr std::size_t kEnough = 100'000;
    const std::size_t step = std::max<std::size_t>(1, coverage.size() / kEnough) | 1U; // odd: columns differ
    std::vector<std::pair<float, float>> found;
    double total = 0.0;
    for (std::size_t i = 0; i < coverage.size(); i += step) {
        const float c = coverage.pixels()[i];
        const float d = distance.pixels()[i];
        if (c <= 0.5F || gaps.pixels()[i] != 0 || !std::isfinite(d)) continue;
        found.emplace_back(d, c);
        total += static_cast<double>(c);
    }
    if (found.empty()) return std::nullopt;
    std::sort(found.begin(), found.end());
    double sum = 0.0;
    for (const auto& [d, c] : found) {
        sum += static_cast<double>(c);
        if (sum >= 0.5 * total) return static_cast<double>(d);
    }
    return static_cast<double>(found.back().first);
}

double rampDistance(const PlacedRegion& region, double x, double y) noexcept
{
    const auto& [from, to] = region.ramp;
    const Region& r = region.region;
    const double dx = to.x - from.x;
    const double dy = to.y - from.y;
    const double square = dx * dx + dy * dy;
    const double t = square > 1e-12 ? ((x - from.x) * dx + (y - from.y) * dy) / square : 0.0;
    if (r.ramp == RampKind::distance)
        return std::max(kNearest, (1.0 - t) * r.rampDistance1 + t * r.rampDistance2);
    const double reciprocal = (1.0 - t) / r.rampDistance1 + t / r.rampDistance2;
    return reciprocal > 0.0 ? std::max(kNearest, 1.0 / reciprocal) : std::numeric_limits<double>::infinity();
}

void apply(const std::vector<PlacedRegion>& regions, const Surroundings& around, Changed& picture,
           const Run& run, int divisor)
{
    const Picking picking{around.box, divisor};
    for (const PlacedRegion& region : regions) {
        if (!region.region.isOn) continue;
        const bool patches = region.region.patch != PatchKind::none;
        if (!patches && !region.region.changesBlur()) continue;
        const Coverage area = withHardRims(coverageWithin(region, around, run), around, run);
        if (area.box.empty()) continue;
        if (patches) {
            auto fixed = region.distance;
            if (!fixed && region.region.patch == PatchKind::median && around.gaps)
                fixed = medianUnder(area.values, under(*around.distance, area, around.box),
                                    under(*around.gaps, area, around.box));
            const Patch patch(region, fixed);
            if (patch.isThere()) {
                if (picture.deep) picture.deep = patchedDeep(*picture.deep, patch, area, picking, run);
                patchFlat(region.region, patch, area, picking, picture, run);
            }
        }
        if (region.region.changesBlur()) {
            if (!picture.blur)
                picture.blur =
                    std::make_shared<BlurShare>(picture.distance.width(), picture.distance.height());
            changeBlur(region.region, area, picking, *picture.blur, run);
        }
    }
}

} // namespace retinex::regions
