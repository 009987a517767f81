#pragma once

#include "core/defocus/lens/blur_radius.h"
#include "core/defocus/surfaces/surfaces.h"
#include "core/image/lens_layer.h"
#include "core/system/run.h"

#include <array>
#include <variant>
#include <vector>

/// What a picture is put together from, in one form: surfaces of the scene and pictures that are laid in.
namespace retinex::defocus {

/// Coverage and evidence by alpha. Colour stays: it is multiplied by evidence, and by alpha already.
void coverByAlpha(SurfaceLayer& layer, const Run& run);

/// What one source has at a pixel; as in a SurfaceLayer.
struct LayerPart
{
    std::size_t source = 0;
    std::array<float, 4> colour{};
    float coverage = 0.0F;
    float evidence = 0.0F;
    float radius = 0.0F;

    void scale(float by) noexcept
    {
        for (float& c : colour)
            c *= by;
        coverage *= by;
        evidence *= by;
    }
};

class LayerSource
{
public:
    static constexpr int kBlock = 16;
    /// What comes before what whatever the distance: the scene with its inserts, backdrops, nothing.
    enum class Rank { scene, behindAll, nothing };

    /// `layer` must outlive this.
    LayerSource(const SurfaceLayer& layer, Rank rank) : m_surface(&layer), m_rank(rank) {}
    LayerSource(SurfaceLayer&& layer, Rank rank)
        : m_own(std::make_shared<SurfaceLayer>(std::move(layer))), m_surface(m_own.get()), m_rank(rank)
    {
    }
    /// Likewise.
    LayerSource(const LensLayer& layer, const BlurModel& model, float gain, Rank rank, const Run& run);
    /// Alpha 0 all over, with one radius.
    [[nodiscard]] static LayerSource nothing(int width, int height, float radius);

    [[nodiscard]] Rank rank() const noexcept { return m_rank; }
    [[nodiscard]] float coverage(int x, int y) const noexcept
    {
        return m_surface ? m_surface->coverage.at(x, y) : m_layer ? covered(x, y) : 1.0F;
    }
    [[nodiscard]] float radius(int x, int y) const noexcept
    {
        return m_surface ? m_surface->radiusPx.at(x, y) : m_radii.empty() ? m_radius : m_radii.at(x, y);
    }
    [[nodiscard]] LayerPart part(std::size_t index, int x, int y) const noexcept;

    /// Surfaces of the scene that are nearer give way, as far as this one covers.
    void replaceNearer(const std::vector<SurfaceLayer*>& scene, float tolerancePx, const Run& run) const;

    /// Of one block: the least and the most that it covers, and its radii where it does.
    struct Block
    {
        float least = 0.0F;
        float most = 0.0F;
        float nearest = 0.0F;
        float farthest = 0.0F;
    };
    void summarise(const Run& run);
    [[nodiscard]] const Block& block(int bx, int by) const noexcept { return m_blocks.at(bx, by); }
    [[nodiscard]] float largestRadius() const noexcept { return m_largest; }
    [[nodiscard]] float usualRadius() const noexcept { return m_usual; }

private:
    LayerSource() = default;
    [[nodiscard]] float covered(int x, int y) const noexcept;

    std::shared_ptr<SurfaceLayer> m_own;
    const SurfaceLayer* m_surface = nullptr;
    const LensLayer* m_layer = nullptr;
    float m_gain = 1.0F;
    float m_radius = 0.0F;
    Plane<float> m_radii; ///< empty: m_radius all over
    int m_width = 0;
    int m_height = 0;
    PixelBox m_box; ///< nothing lies outside
    Rank m_rank = Rank::scene;
    Plane<Block> m_blocks;
    float m_largest = 0.0F;
    float m_usual = 0.0F;
};

} // namespace retinex::defocus
