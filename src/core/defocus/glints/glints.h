#pragma once

#include "core/defocus/glints/glint_sight.h"
#include "core/defocus/lens/cats_eye.h"
#include "core/defocus/surfaces/surfaces.h"
#include "core/system/run.h"

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
    int kernel = 0;               ///< of GlintList
    bool turnedOver = false;      ///< in front of the focal plane
    int cut = -1;                 ///< its own spans, where something stands in its way
};

class GlintList
{
public:
    /// Takes the glints out of layers, whose colour is darkened by as much.
    GlintList(const std::vector<SurfaceLayer*>& layers, const Run& run);

    /// Makes their discs: the kernels that they need, cut where other surfaces stand in their way.
    void makeDiscs(const IrisOpenings& openings, double widthScale, const CatsEye& catsEye,
                   const GlintSight& sight, const Run& run);

    /// Row after row.
    [[nodiscard]] std::span<const Glint> all() const noexcept { return m_glints; }
    [[nodiscard]] const IrisKernel& kernel(const Glint& glint) const noexcept
    {
        return m_kernels[static_cast<std::size_t>(glint.kernel)];
    }
    /// The spans of a glint with `cut`; the cat's eye has clipped them already.
    [[nodiscard]] const std::vector<IrisKernel::RowSpan>& cutSpans(const Glint& glint) const noexcept
    {
        return m_cut[static_cast<std::size_t>(glint.cut)];
    }

private:
    std::vector<Glint> m_glints;
    std::vector<double> m_radii; ///< of the kernels
    std::vector<IrisKernel> m_kernels;
    std::vector<std::vector<IrisKernel::RowSpan>> m_cut;
};

/// How bright a picture is as a rule around each place: geometric means of blocks, smoothed.
class UsualBrightness
{
public:
    /// Of several layers, each of which may be there in parts only, the brightest counts.
    UsualBrightness(const std::vector<SurfaceLayer*>& layers, const Run& run);
    [[nodiscard]] float at(int x, int y) const noexcept;
    /// Not more than at(x, y), and quicker to tell.
    [[nodiscard]] float least(int x, int y) const noexcept { return m_least.at(x / kBlock, y / kBlock); }

private:
    static constexpr int kBlock = 16;
    Plane<float> m_log;   ///< log2
    Plane<float> m_least; ///< of each block
};

} // namespace retinex::defocus
