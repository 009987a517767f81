#include "core/regions/coverage.h"

#include "core/regions/brush.h"
#include "core/regions/outline_path.h"
#include "core/regions/soften.h"

#include <algorithm>
#include <cmath>

namespace retinex::regions {

namespace {

constexpr double kLeastReach = 4.0; ///< px that edges are followed over where nothing is feathered

/// 1 from nearest to farthest, fading beyond both over a share of their distance.
void addSpan(const Part& part, const Plane<float>& distance, Plane<float>& coverage, const Run& run)
{
    const auto fading = [&](double beyond, double end) {
        const double width = part.softEnds * end;
        if (beyond <= 0.0) return 1.0;
        if (!(beyond < width)) return 0.0;
        const double s = beyond / width;
        return 1.0 - s * s * (3.0 - 2.0 * s);
    };
    parallelFor(coverage.height(), run, [&](int y) {
        for (int x = 0; x < coverage.width(); ++x) {
            const auto d = static_cast<double>(distance.at(x, y));
            coverage.at(x, y) = static_cast<float>(
                std::min(fading(part.nearest - d, part.nearest), fading(d - part.farthest, part.farthest)));
        }
    });
}

Plane<float> partCoverage(const PlacedPart& placed, const Surroundings& around, const Run& run)
{
    const Part& part = *placed.part;
    Plane<float> coverage(around.box.width(), around.box.height());
    switch (part.kind) {
    case PartKind::outline:
        addPolygon(placed.polygon, around.box.minX, around.box.minY, coverage);
        break;
    case PartKind::paint:
        addStrokes(part.strokes, placed.placement, around.box.minX, around.box.minY, coverage);
        break;
    case PartKind::mattes:
        for (const std::string& title : part.mattes) {
            const Plane<float> matte = around.matte ? around.matte(title) : Plane<float>();
            if (matte.size() != coverage.size()) continue;
            for (std::size_t i = 0; i < coverage.size(); ++i) {
                float& out = coverage.pixels()[i];
                out = std::min(1.0F, out + matte.pixels()[i]); // objects share a pixel
            }
        }
        break;
    case PartKind::span:
        addSpan(part, *around.distance, coverage, run);
        break;
    case PartKind::whole:
        std::fill(coverage.pixels().begin(), coverage.pixels().end(), 1.0F);
        break;
    }
    return coverage;
}

} // namespace

Plane<float> coverageOf(const PlacedRegion& region, const Surroundings& around, const Run& run)
{
    Plane<float> coverage(around.box.width(), around.box.height());
    for (const PlacedPart& placed : region.parts) {
        run.throwIfStopped();
        // Strokes that are alone are painted where they count.
        if (&placed == &region.parts.front() && placed.part->joining == Joining::add) {
            coverage = partCoverage(placed, around, run);
            continue;
        }
        const Plane<float> part = partCoverage(placed, around, run);
        const Joining joining = placed.part->joining;
        parallelFor(coverage.height(), run, [&](int y) {
            float* out = coverage.row(y);
            const float* in = part.row(y);
            for (int x = 0; x < coverage.width(); ++x)
                out[x] = joining == Joining::add        ? out[x] + (1.0F - out[x]) * in[x]
                         : joining == Joining::takeAway ? out[x] * (1.0F - in[x])
                                                        : out[x] * in[x];
        });
    }
    const Region& r = region.region;
    if (r.inverted)
        for (float& c : coverage.pixels())
            c = 1.0F - c;
    grow(coverage, r.growPx, run);
    feather(coverage, r.featherPx, run);
    if (r.followsEdges) followEdges(coverage, *around.distance, std::max(kLeastReach, r.featherPx), run);
    return coverage;
}

} // namespace retinex::regions
