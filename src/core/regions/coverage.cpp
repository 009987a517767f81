#include "core/regions/coverage.h"

#include "core/image/crop.h"
#include "core/regions/brush.h"
#include "core/regions/outline_path.h"
#include "core/regions/soften.h"

#include <algorithm>
#include <cmath>

namespace retinex::regions {

namespace {

constexpr double kLeastReach = 4.0; ///< px that edges are followed over where nothing is feathered

/// 1 from nearest to farthest, fading beyond both over a share of their distance.
void addSpan(const Piece& piece, const Surroundings& around, const PixelBox& box, Plane<float>& coverage,
             const Run& run)
{
    const auto fading = [&](double beyond, double end) {
        const double width = piece.softEnds * end;
        if (beyond <= 0.0) return 1.0;
        if (!(beyond < width)) return 0.0;
        const double s = beyond / width;
        return 1.0 - s * s * (3.0 - 2.0 * s);
    };
    parallelFor(coverage.height(), run, [&](int y) {
        const float* distance =
            around.distance->row(y + box.minY - around.box.minY) + box.minX - around.box.minX;
        for (int x = 0; x < coverage.width(); ++x) {
            const auto d = static_cast<double>(distance[x]);
            coverage.at(x, y) = static_cast<float>(std::min(fading(piece.nearest - d, piece.nearest),
                                                            fading(d - piece.farthest, piece.farthest)));
        }
    });
}

Plane<float> pieceCoverage(const PlacedPiece& placed, const Surroundings& around, const PixelBox& box,
                           const Run& run)
{
    const Piece& piece = *placed.piece;
    Plane<float> coverage(box.width(), box.height());
    switch (piece.kind) {
    case PieceKind::outline:
        addPolygon(placed.polygon, box.minX, box.minY, coverage);
        break;
    case PieceKind::paint:
        addStrokes(piece.strokes, placed.placement, box.minX, box.minY, coverage, run);
        break;
    case PieceKind::mattes:
        if (around.mattes)
            coverage = cropped(around.mattes(piece.mattes),
                               PixelBox::at(box.minX - around.box.minX, box.minY - around.box.minY,
                                            box.width(), box.height()));
        break;
    case PieceKind::span:
        addSpan(piece, around, box, coverage, run);
        break;
    case PieceKind::whole:
        std::fill(coverage.pixels().begin(), coverage.pixels().end(), 1.0F);
        break;
    }
    return coverage;
}

/// What an area can reach: all, unless everything that adds to it is drawn.
PixelBox reachOf(const PlacedRegion& region, const PixelBox& all)
{
    const Region& r = region.region;
    if (r.inverted) return all;
    constexpr double kNone = 1e9;
    double left = kNone, top = kNone, right = -kNone, bottom = -kNone;
    const auto add = [&](const Point& point, double reach) {
        left = std::min(left, point.x - reach);
        top = std::min(top, point.y - reach);
        right = std::max(right, point.x + reach);
        bottom = std::max(bottom, point.y + reach);
    };
    for (const PlacedPiece& placed : region.pieces) {
        if (placed.piece->joining != Joining::add) continue;
        if (placed.piece->kind != PieceKind::outline && placed.piece->kind != PieceKind::paint) return all;
        for (const Point& point : placed.polygon)
            add(point, 0.0);
        for (const Stroke& stroke : placed.piece->strokes)
            for (const StrokePoint& point : stroke.points)
                add(placed.placement(point.at),
                    1.0 + std::min(1e5, stroke.radiusPx * placed.placement.sizeAt(point.at)));
    }
    // Three boxes of half the feather's width reach three quarters of it.
    const double more = 3.0 + std::max(0.0, r.growPx) + 0.75 * r.featherPx +
                        (r.followsEdges ? 2.0 * std::max(kLeastReach, r.featherPx) + 2.0 : 0.0);
    if (!(left <= right)) return {};
    const auto held = [](double at, int least, int most) {
        return static_cast<int>(std::clamp(at, static_cast<double>(least), static_cast<double>(most)));
    };
    if (right + more < all.minX || left - more > all.maxX + 1.0 || bottom + more < all.minY ||
        top - more > all.maxY + 1.0)
        return {};
    return {held(std::floor(left - more), all.minX, all.maxX),
            held(std::floor(top - more), all.minY, all.maxY),
            held(std::ceil(right + more), all.minX, all.maxX),
            held(std::ceil(bottom + more), all.minY, all.maxY)};
}

} // namespace

Coverage coverageWithin(const PlacedRegion& region, const Surroundings& around, const Run& run)
{
    Coverage result{reachOf(region, around.box), {}};
    const PixelBox& box = result.box;
    if (box.empty()) return result;
    Plane<float>& coverage = result.values;
    for (const PlacedPiece& placed : region.pieces) {
        run.throwIfStopped();
        // What is alone, or the first, is made where it counts.
        if (&placed == &region.pieces.front() && placed.piece->joining == Joining::add) {
            coverage = pieceCoverage(placed, around, box, run);
            continue;
        }
        if (coverage.empty()) coverage = Plane<float>(box.width(), box.height());
        const Plane<float> piece = pieceCoverage(placed, around, box, run);
        const Joining joining = placed.piece->joining;
        parallelFor(coverage.height(), run, [&](int y) {
            float* out = coverage.row(y);
            const float* in = piece.row(y);
            for (int x = 0; x < coverage.width(); ++x)
                out[x] = joining == Joining::add        ? out[x] + (1.0F - out[x]) * in[x]
                         : joining == Joining::takeAway ? out[x] * (1.0F - in[x])
                                                        : out[x] * in[x];
        });
    }
    if (coverage.empty()) coverage = Plane<float>(box.width(), box.height());
    const Region& r = region.region;
    if (r.inverted)
        for (float& c : coverage.pixels())
            c = 1.0F - c;
    grow(coverage, r.growPx, run);
    feather(coverage, r.featherPx, run);
    if (r.followsEdges) {
        const Plane<float> distance =
            cropped(*around.distance, PixelBox::at(box.minX - around.box.minX, box.minY - around.box.minY,
                                                   box.width(), box.height()));
        followEdges(coverage, distance, std::max(kLeastReach, r.featherPx), run);
    }
    return result;
}

Plane<float> coverageOf(const PlacedRegion& region, const Surroundings& around, const Run& run)
{
    const Coverage within = coverageWithin(region, around, run);
    if (within.box == around.box) return within.values;
    Plane<float> coverage(around.box.width(), around.box.height());
    for (int y = 0; y < within.values.height(); ++y)
        std::copy_n(within.values.row(y), within.values.width(),
                    coverage.row(y + within.box.minY - around.box.minY) + within.box.minX - around.box.minX);
    return coverage;
}

} // namespace retinex::regions
