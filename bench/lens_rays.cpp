#include "bench/lens_rays.h"

#include "core/defocus/slices/slice_map.h"
#include "core/optics/outline.h"
#include "reference/even_points.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace retinex::bench {

namespace {

/// A pixel of a layer, sorted onto the ladder: no part of it before `rung`, none behind the next one.
struct Sorted
{
    int rung = 0;
    float here = 0.F; ///< what it hides of the rung `rung`
    float next = 0.F; ///< what it hides of the next one of what passes the first
    std::array<float, 4> colour{};
};

/// A point of the lens, in units of the iris, and one of the pixel.
struct LensPoint
{
    double u = 0.0, v = 0.0;
    double x = 0.0, y = 0.0;
};

std::vector<LensPoint> lensPoints(const optics::Iris& iris, int count)
{
    const auto outline = optics::irisOutline(iris, false);
    double reach = 0.0;
    for (const auto& point : outline)
        reach = std::max({reach, std::abs(point.x), std::abs(point.y)});
    std::vector<LensPoint> points;
    for (int i = 0; static_cast<int>(points.size()) < count; ++i) {
        const auto at = reference::evenPoint(i);
        const double u = (2.0 * at[0] - 1.0) * reach;
        const double v = (2.0 * at[1] - 1.0) * reach;
        if (optics::isInside(outline, u, v)) points.push_back({u, v, at[2], at[3]});
    }
    return points;
}

Plane<Sorted> sorted(const defocus::SurfaceLayer& layer, const defocus::SliceGrid& grid)
{
    Plane<Sorted> pixels(layer.coverage.width(), layer.coverage.height());
    for (int y = 0; y < pixels.height(); ++y) {
        for (int x = 0; x < pixels.width(); ++x) {
            const float coverage = layer.coverage.at(x, y);
            if (coverage <= 0.F) continue;
            const auto place = grid.place(layer.radiusPx.at(x, y));
            Sorted& pixel = pixels.at(x, y);
            pixel.rung = place.slice;
            pixel.here = coverage * (1.F - place.behind);
            pixel.next = std::min(1.F, coverage * place.behind / std::max(1e-6F, 1.F - pixel.here));
            for (int c = 0; c < RgbaImage::channels; ++c)
                pixel.colour[static_cast<std::size_t>(c)] =
                    layer.colour.plane(c).at(x, y) / layer.evidence.at(x, y);
        }
    }
    return pixels;
}

struct Light
{
    std::array<double, 4> colour{};
    double coverage = 0.0;

    void add(const std::array<float, 4>& its, double share)
    {
        for (std::size_t c = 0; c < colour.size(); ++c)
            colour[c] += share * static_cast<double>(its[c]);
        coverage += share;
    }
};

} // namespace

RgbaImage throughLens(const defocus::Surfaces& surfaces, const optics::Iris& iris, int samples)
{
    const int width = surfaces.visible.coverage.width();
    const int height = surfaces.visible.coverage.height();
    const defocus::SliceGrid grid = defocus::gridFor(surfaces);
    std::vector<Plane<Sorted>> pixels;
    for (const auto* layer : defocus::layersOf(surfaces))
        pixels.push_back(sorted(*layer, grid));
    const auto points = lensPoints(iris, samples);
    RgbaImage out(width, height);
    parallelFor(height, {}, [&](int y) {
        for (int x = 0; x < width; ++x) {
            Light front;
            Light back;
            for (const LensPoint& point : points) {
                double open = 1.0;
                for (int slice = 0; slice < grid.count() && open > 1e-4; ++slice) {
                    const double r = grid.radius(slice);
                    const int fromX =
                        std::clamp(static_cast<int>(std::floor(x + point.x - point.u * r)), 0, width - 1);
                    const int fromY =
                        std::clamp(static_cast<int>(std::floor(y + point.y - point.v * r)), 0, height - 1);
                    for (const auto& layer : pixels) {
                        const Sorted& pixel = layer.at(fromX, fromY);
                        const float hides = pixel.rung == slice       ? pixel.here
                                            : pixel.rung + 1 == slice ? pixel.next
                                                                      : 0.F;
                        if (hides <= 0.F) continue;
                        const double taken = open * static_cast<double>(hides);
                        (slice < grid.focalSlice() ? front : back).add(pixel.colour, taken);
                        open -= taken;
                    }
                }
            }
            // As in the engine: what lies behind fills what the front leaves open.
            const double before = front.coverage / samples;
            for (int c = 0; c < RgbaImage::channels; ++c) {
                const auto i = static_cast<std::size_t>(c);
                const double behind = back.coverage > 1e-6 * samples ? back.colour[i] / back.coverage
                                      : before > 0.0                 ? front.colour[i] / front.coverage
                                                                     : 0.0;
                out.plane(c).at(x, y) =
                    static_cast<float>(front.colour[i] / samples + (1.0 - before) * behind);
            }
        }
    });
    return out;
}

} // namespace retinex::bench
