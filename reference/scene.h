#pragma once

#include "reference/vector.h"

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace retinex::reference {

enum class Pattern { plain, checker, stripes, planks, speckle };

/// Diffuse only: what a surface looks like does not depend on where it is seen from, so the pinhole picture
/// and the lens picture differ by the lens alone.
struct Material
{
    Vec colour{0.5F, 0.5F, 0.5F};
    Vec second{0.3F, 0.3F, 0.3F}; ///< of a pattern
    Pattern pattern = Pattern::plain;
    float scale = 10.F; ///< pattern cells per metre
    Vec emission{};
};

struct PointLight
{
    Vec position;
    Vec power; ///< radiance = albedo * power * cos / distance^2
    bool shadows = true;
};

/// A triangle mesh of one material, part of a named object.
struct Mesh
{
    std::vector<Vec> vertices;
    std::vector<std::uint32_t> indices; ///< three a triangle
    int material = 0;
    int object = 0;
};

struct Hit
{
    float distance = 0.F; ///< along the ray, in units of its direction's length
    Vec position;
    Vec normal; ///< unit, facing the ray
    int object = -1;
    int material = 0;
};

/// Geometry, materials and lights. Build, then commit(), then trace from any thread.
class Scene
{
public:
    Scene();
    ~Scene();
    Scene(Scene&&) noexcept;
    Scene& operator=(Scene&&) = delete;

    int addMaterial(const Material& material);
    /// Objects with a name get a matte; "" is for scenery.
    int addObject(const std::string& name);
    void add(Mesh mesh);
    void addLight(const PointLight& light) { m_lights.push_back(light); }
    void setAmbient(Vec below, Vec above) { m_ambientBelow = below, m_ambientAbove = above; }
    void commit();

    [[nodiscard]] const std::vector<std::string>& objects() const noexcept { return m_objects; }

    static constexpr int packet = 16;
    /// Traces `packet` rays from `origins` along `directions`; hits[i].object is -1 for a miss.
    void trace(const Vec* origins, const Vec* directions, Hit* hits) const;
    /// Scene-linear radiance leaving the hit.
    [[nodiscard]] Vec shade(const Hit& hit) const;

private:
    [[nodiscard]] bool inShadow(Vec from, Vec to) const;
    [[nodiscard]] Vec albedo(const Material& material, Vec at, Vec normal) const;

    struct Device;
    std::unique_ptr<Device> m_device;
    std::vector<Mesh> m_meshes;
    std::vector<Material> m_materials;
    std::vector<std::string> m_objects;
    std::vector<PointLight> m_lights;
    Vec m_ambientBelow{0.05F, 0.05F, 0.05F};
    Vec m_ambientAbove{0.15F, 0.15F, 0.15F};
};

} // namespace retinex::reference
