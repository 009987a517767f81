#pragma once

#include "core/defocus/lens/iris_kernel.h"
#include "core/defocus/surfaces/surfaces.h"

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

    /// Glints of one radius side by side: half open, in pixels of the picture.
    struct Group
    {
        int x0 = 0, y0 = 0, x1 = 0, y1 = 0;
        float radius = 0.0F; ///< signed
    };
    class Shade;
    /// Works out what the surfaces cut out of the discs of a group, which reach so far beyond it. False when
    /// nothing stands in their way. Throws Cancelled. The shade is that of the group's middle, as it falls
    /// onto the picture: for the others it is off by their distance times 1 - r / (r - s), nothing for what
    /// is in focus.
    bool look(const Group& group, int reachX, int reachY, Shade& shade) const;

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
    static void summarise(Layer& layer, const Run& run);
    static void addBlock(const Layer& layer, int bx, int by, Shade& shade);
    static void addRow(const Layer& layer, int x0, int x1, int y, Shade& shade);

    std::vector<Layer> m_layers;
    std::stop_token m_stop; ///< look() looks at it: large discs take their time
    float m_nearest = 0.0F; ///< smallest radius of all
};

/// How much of each pixel is cut out of a group's discs. Keeps its memory from group to group.
class GlintSight::Shade
{
public:
    /// Cuts the spans of the disc of the glint at (x, y), one of the group, down to what reaches the picture.
    void cut(int x, int y, std::vector<IrisKernel::RowSpan>& spans) const;

private:
    friend class GlintSight;

    void begin(const Group& group, int reachX, int reachY);
    [[nodiscard]] bool isBehind(float surfaceRadius) const { return surfaceRadius < m_radius - m_own; }
    [[nodiscard]] bool areAlike(float nearest, float farthest) const;
    [[nodiscard]] float reach(int size, float nearest) const;
    [[nodiscard]] bool isOutside(int x0, int y0, int x1, int y1, float nearest) const;
    void add(int x0, int y0, int x1, int y1, float surfaceRadius, float alpha);
    [[nodiscard]] float seen(int x, int y) const;

    float m_radius = 0.0F;
    float m_own = 0.0F; ///< surfaces nearer to the radius than this are the glint's own
    float m_centreX = 0.0F;
    float m_centreY = 0.0F;
    int m_x0 = 0; ///< of the box
    int m_y0 = 0;
    int m_width = 0;
    int m_height = 0;
    bool m_any = false;
    std::vector<float> m_blocked;
};

} // namespace retinex::defocus
