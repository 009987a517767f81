#pragma once

#include "core/defocus/edge_repair.h"
#include "core/defocus/iris_kernel.h"

#include <vector>

namespace retinex::defocus {

/// What stands between a glint and the lens. A disc that is cut by things before it shows their outlines,
/// sharp even where these are blurred themselves: each point of the disc is light through one point of the
/// lens.
///
/// Light that leaves pixel q (radius r) through the lens at u (in units of the iris) arrives at q + u r, and
/// passes a surface of radius s at pixel x = q + u (r - s). So the surface at x cuts out q + (x - q) r / (r -
/// s), with each of its pixels as large as r / (r - s).
class GlintSight
{
public:
    /// `surfaces` must outlive this.
    GlintSight(const Surfaces& surfaces, const Run& run);

    /// Buffers that are kept between calls; one per thread.
    struct Work
    {
        std::vector<float> blocked;
    };
    /// Cuts `spans` of the disc of the pixel (x, y), whose signed radius is `radius`, down to what reaches
    /// the picture. False, and nothing done, when nothing stands in its way.
    bool cut(int x, int y, float radius, const IrisKernel& kernel, Work& work,
             std::vector<IrisKernel::RowSpan>& spans) const;

private:
    static constexpr int kBlock = 16;

    /// A layer that stands in the way as far as its alpha says.
    struct Layer
    {
        const SurfaceLayer* surface = nullptr;
        float least = 0.0F;    ///< alpha up to this is a guess, and stands in nobody's way
        Plane<float> nearest;  ///< smallest radius of each block
        Plane<float> farthest; ///< largest radius of a block that is covered all over; else kNothing
    };
    class Disc;
    static void summarise(Layer& layer, const Run& run);
    static void addBlock(const Layer& layer, int bx, int by, Disc& disc);
    static void addRow(const Layer& layer, int x0, int x1, int y, Disc& disc);

    std::vector<Layer> m_layers;
    float m_nearest = 0.0F; ///< smallest radius of all
};

} // namespace retinex::defocus
