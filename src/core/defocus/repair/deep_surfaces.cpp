#include "core/defocus/repair/deep_surfaces.h"

#include "core/defocus/repair/silhouette.h"
#include "core/defocus/surfaces/pixel_colour.h"
#include "core/image/volume_share.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace retinex::defocus {

namespace {

/// Samples whose radii differ by less are one surface: px, or share of the radius.
constexpr float kAlikePx = 0.25F;
constexpr float kAlikeShare = 0.04F;
/// And of a surface and nothing behind it: a silhouette shows at any radius.
constexpr float kSamePx = 0.02F;

/// Volumes are cut where their radius has changed by this, px, into so many pieces at most.
constexpr float kVolumeStep = 0.5F;
constexpr int kMostPieces = 32;

/// What is seen of one surface of a pixel.
struct Part
{
    Colour light{};
    float seen = 0.0F;   ///< share of the pixel
    float radius = 0.0F; ///< mean, by what is seen
};

bool isAlike(const Part& a, const Part& b)
{
    return !radiiDiffer(a.radius, b.radius, kAlikePx, kAlikeShare);
}

void join(Part& a, const Part& b)
{
    const float seen = a.seen + b.seen;
    if (seen > 0.0F) a.radius = (a.radius * a.seen + b.radius * b.seen) / seen;
    for (std::size_t c = 0; c < a.light.size(); ++c)
        a.light[c] += b.light[c];
    a.seen = seen;
}

/// Calls visit(colour, alpha, radius) for the pieces of a sample, front to back: of a volume as many as its
/// blur changes by a kVolumeStep, each as the blur grows evenly along it (1 / distance does).
template <class Visit>
void eachPiece(const DeepPicture::Sample& sample, const BlurModel& model, Visit visit)
{
    const auto radiusAt = [&](double distance) { return static_cast<float>(model.radiusPx(distance)); };
    const auto from = static_cast<double>(sample.depth);
    const auto to = static_cast<double>(sample.back);
    const float alpha = std::clamp(sample.colour[3], 0.0F, 1.0F);
    if (!sample.isVolume() || !std::isfinite(to)) {
        visit(sample.colour, alpha, radiusAt(from));
        return;
    }
    const float change = std::abs(radiusAt(to) - radiusAt(from));
    const int count = std::clamp(static_cast<int>(std::ceil(change / kVolumeStep)), 1, kMostPieces);
    if (count == 1) {
        visit(sample.colour, alpha, radiusAt(0.5 * (from + to)));
        return;
    }
    const auto distanceAt = [&](double share) {
        return 1.0 / (1.0 / from + share * (1.0 / to - 1.0 / from));
    };
    for (int i = 0; i < count; ++i) {
        const double begin = distanceAt(static_cast<double>(i) / count);
        const double end = distanceAt(static_cast<double>(i + 1) / count);
        const VolumeShare share = volumeShare(static_cast<double>(alpha), (end - begin) / (to - from));
        Colour colour = sample.colour;
        for (float& v : colour)
            v *= static_cast<float>(share.light);
        visit(colour, static_cast<float>(share.alpha), radiusAt(distanceAt((i + 0.5) / count)));
    }
}

/// Front to back, at most kMostDeepSurfaces. Reuses `parts`.
void partsOf(const DeepPicture& deep, const BlurModel& model, float gain, int x, int y,
             std::vector<Part>& parts)
{
    parts.clear();
    float open = 1.0F;
    for (std::size_t i = deep.firstOf(x, y); i < deep.endOf(x, y) && open > 1e-4F; ++i) {
        eachPiece(deep.samples[i], model, [&](const Colour& colour, float alpha, float radius) {
            Part part;
            for (std::size_t c = 0; c < part.light.size(); ++c)
                part.light[c] = open * (c < 3 ? gain : 1.0F) * colour[c];
            part.seen = open * alpha;
            part.radius = radius;
            open *= 1.0F - alpha;
            if (!parts.empty() && isAlike(parts.back(), part))
                join(parts.back(), part);
            else
                parts.push_back(part);
        });
    }
    // Light without alpha (a glow) goes with what is next to it.
    for (std::size_t i = 0; i < parts.size();) {
        if (parts[i].seen > 0.0F || parts.size() == 1) {
            ++i;
            continue;
        }
        join(parts[i > 0 ? i - 1 : 1], parts[i]);
        parts.erase(parts.begin() + static_cast<std::ptrdiff_t>(i));
    }
    while (parts.size() > kMostDeepSurfaces) {
        std::size_t closest = 0;
        for (std::size_t i = 1; i + 1 < parts.size(); ++i)
            if (parts[i + 1].radius - parts[i].radius < parts[closest + 1].radius - parts[closest].radius)
                closest = i;
        join(parts[closest], parts[closest + 1]);
        parts.erase(parts.begin() + static_cast<std::ptrdiff_t>(closest) + 1);
    }
    // What nothing covers lies at the far end and is empty: alpha 0 counts as a surface, as it does flat.
    if (open <= 1e-4F) return;
    Part rest;
    rest.seen = open;
    rest.radius = static_cast<float>(model.radiusPx(std::numeric_limits<double>::infinity()));
    if (!parts.empty() && !radiiDiffer(parts.back().radius, rest.radius, kSamePx, 0.0F))
        join(parts.back(), rest);
    else
        parts.push_back(rest);
}

void put(const Part& part, SurfaceLayer& layer, int x, int y)
{
    setColour(layer.colour, x, y, part.light);
    layer.coverage.at(x, y) = part.seen;
    layer.evidence.at(x, y) = part.seen;
    layer.radiusPx.at(x, y) = part.radius;
}

/// At edges of the first surface; what is seen of it within its own outline (smoke, glass) stays as it is.
void narrowRims(Surfaces& surfaces, const Plane<float>& first, const Run& run)
{
    parallelFor(first.height(), run, [&](int y) {
        for (int x = 0; x < first.width(); ++x) {
            const float share = surfaces.visible.coverage.at(x, y);
            const float own = first.at(x, y);
            if (share >= 1.0F) continue;
            bool ends = false;
            around(first, x, y, 1, [&](int nx, int ny) {
                const float beside = first.at(nx, ny);
                if (beside > own && radiiDiffer(beside, own, kSamePx, kAlikeShare)) ends = true;
            });
            if (ends) surfaces.visible.radiusPx.at(x, y) = rimRadius(own, share);
        }
    });
}

} // namespace

Surfaces surfacesOf(const DeepPicture& deep, const BlurModel& model, const Run& run, float gain,
                    const BlurShare* blur)
{
    std::vector<std::vector<Part>> rows(static_cast<std::size_t>(deep.height));
    std::vector<std::vector<int>> counts(rows.size());
    parallelFor(deep.height, run, [&](int y) {
        std::vector<Part> parts;
        for (int x = 0; x < deep.width; ++x) {
            partsOf(deep, model, gain, x, y, parts);
            if (blur)
                for (Part& part : parts)
                    part.radius = blur->radius(part.radius, x, y);
            counts[static_cast<std::size_t>(y)].push_back(static_cast<int>(parts.size()));
            rows[static_cast<std::size_t>(y)].insert(rows[static_cast<std::size_t>(y)].end(), parts.begin(),
                                                     parts.end());
        }
    });
    int most = 1;
    for (const auto& row : counts)
        most = std::max(most, *std::max_element(row.begin(), row.end()));
    Surfaces surfaces;
    surfaces.visible = SurfaceLayer(deep.width, deep.height);
    surfaces.hidden = SurfaceLayer(deep.width, deep.height);
    for (int i = 2; i < most; ++i)
        surfaces.between.emplace_back(deep.width, deep.height);
    RgbaImage flat(deep.width, deep.height);
    Plane<float> radius(deep.width, deep.height);
    parallelFor(deep.height, run, [&](int y) {
        const Part* part = rows[static_cast<std::size_t>(y)].data();
        for (int x = 0; x < deep.width; ++x) {
            const int count = counts[static_cast<std::size_t>(y)][static_cast<std::size_t>(x)];
            for (int i = 0; i < count; ++i) {
                SurfaceLayer& layer = i == 0           ? surfaces.visible
                                      : i + 1 == count ? surfaces.hidden
                                                       : surfaces.between[static_cast<std::size_t>(i - 1)];
                put(part[i], layer, x, y);
                for (int c = 0; c < RgbaImage::channels; ++c)
                    flat.plane(c).at(x, y) += part[i].light[static_cast<std::size_t>(c)];
            }
            const Part& last = part[count - 1];
            radius.at(x, y) = part[0].radius;
            part += count;
            if (count < 2) continue;
            // What lies behind one other surface goes on behind it, however little is seen of it. Of several
            // nothing of the kind is known.
            if (count == 2) surfaces.hidden.coverage.at(x, y) = 1.0F;
            // Not multiplied by evidence until it has been continued.
            for (int c = 0; c < RgbaImage::channels; ++c)
                surfaces.hidden.colour.plane(c).at(x, y) /= last.seen;
        }
    });
    narrowRims(surfaces, radius, run);
    continueHidden(surfaces, TypicalBrightness(flat, radius, run), run);
    return surfaces;
}

} // namespace retinex::defocus
