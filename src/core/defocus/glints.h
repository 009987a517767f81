#pragma once

#include "core/base/run.h"
#include "core/defocus/edge_repair.h"
#include "core/defocus/iris_kernel.h"
#include "core/defocus/slice_grid.h"

#include <vector>

namespace retinex::defocus {

/// Light of one pixel above what is usual around it. It is spread on its own, at the pixel's exact radius and
/// at full size: its disc keeps its sharp rim, and its light is counted as it is, where all else is a mean of
/// what is seen.
struct Glint
{
    int x = 0;
    int y = 0;
    std::array<float, 3> light{}; ///< R, G, B
    int kernel = 0;               ///< of GlintList::kernels
};

class GlintList
{
public:
    GlintList() = default;
    /// Takes the glints out of `layer`, whose colour is darkened by as much.
    GlintList(SurfaceLayer& layer, const SliceGrid& grid, const Run& run);

    /// Makes the kernels that the glints need.
    void makeKernels(const IrisOpenings& openings, double widthScale, const Run& run);

    /// The glints of one slice, in a fixed order.
    [[nodiscard]] std::span<const Glint> ofSlice(int slice) const noexcept;
    [[nodiscard]] const IrisKernel& kernel(const Glint& glint) const noexcept
    {
        return m_kernels[static_cast<std::size_t>(glint.kernel)];
    }
    [[nodiscard]] bool empty() const noexcept { return m_glints.empty(); }

private:
    std::vector<Glint> m_glints;
    std::vector<std::size_t> m_firstOfSlice; ///< and the end
    std::vector<double> m_radii;             ///< of the kernels
    std::vector<IrisKernel> m_kernels;
};

/// How bright a picture is as a rule around each place: geometric means of blocks, smoothed.
class UsualBrightness
{
public:
    UsualBrightness(const SurfaceLayer& layer, const Run& run);
    [[nodiscard]] float at(int x, int y) const noexcept;

private:
    static constexpr int kBlock = 16;
    Plane<float> m_log; ///< log2
};

} // namespace retinex::defocus
