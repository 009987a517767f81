#include "reference/scene.h"

#include <algorithm>
#include <embree3/rtcore.h>
#include <limits>

namespace retinex::reference {

namespace {

constexpr float kInfinity = std::numeric_limits<float>::infinity();

/// A repeatable number in 0..1 from a cell.
float hashed(int x, int y, int z)
{
    auto h = static_cast<std::uint32_t>(x) * 0x8da6b343U ^ static_cast<std::uint32_t>(y) * 0xd8163841U ^
             static_cast<std::uint32_t>(z) * 0xcb1ab31fU;
    h ^= h >> 15U;
    h *= 0x2c1b3c6dU;
    h ^= h >> 12U;
    h *= 0x297a2d39U;
    h ^= h >> 15U;
    return static_cast<float>(h >> 8U) / 16777216.F;
}

int cell(float v)
{
    return static_cast<int>(std::floor(v));
}

} // namespace

struct Scene::Device
{
    RTCDevice device = rtcNewDevice(nullptr);
    RTCScene scene = rtcNewScene(device);
    Device() = default;
    Device(const Device&) = delete;
    Device& operator=(const Device&) = delete;
    ~Device()
    {
        rtcReleaseScene(scene);
        rtcReleaseDevice(device);
    }
};

Scene::Scene() : m_device(std::make_unique<Device>()) {}
Scene::~Scene() = default;
Scene::Scene(Scene&&) noexcept = default;

int Scene::addMaterial(const Material& material)
{
    m_materials.push_back(material);
    return static_cast<int>(m_materials.size()) - 1;
}

int Scene::addObject(const std::string& name)
{
    m_objects.push_back(name);
    return static_cast<int>(m_objects.size()) - 1;
}

void Scene::add(Mesh mesh)
{
    RTCGeometry geometry = rtcNewGeometry(m_device->device, RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* vertices = static_cast<Vec*>(rtcSetNewGeometryBuffer(
        geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(Vec), mesh.vertices.size()));
    std::copy(mesh.vertices.begin(), mesh.vertices.end(), vertices);
    auto* indices = static_cast<std::uint32_t*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                                3 * sizeof(std::uint32_t), mesh.indices.size() / 3));
    std::copy(mesh.indices.begin(), mesh.indices.end(), indices);
    rtcCommitGeometry(geometry);
    rtcAttachGeometryByID(m_device->scene, geometry, static_cast<unsigned>(m_meshes.size()));
    rtcReleaseGeometry(geometry);
    m_meshes.push_back(std::move(mesh));
}

void Scene::commit()
{
    rtcCommitScene(m_device->scene);
}

void Scene::trace(const Vec* origins, const Vec* directions, Hit* hits) const
{
    alignas(64) RTCRayHit16 rays{};
    alignas(64) int valid[packet];
    for (int i = 0; i < packet; ++i) {
        valid[i] = -1;
        rays.ray.org_x[i] = origins[i].x;
        rays.ray.org_y[i] = origins[i].y;
        rays.ray.org_z[i] = origins[i].z;
        rays.ray.dir_x[i] = directions[i].x;
        rays.ray.dir_y[i] = directions[i].y;
        rays.ray.dir_z[i] = directions[i].z;
        rays.ray.tnear[i] = 0.F;
        rays.ray.tfar[i] = kInfinity;
        rays.ray.mask[i] = 0xffffffffU;
        rays.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
        rays.hit.instID[0][i] = RTC_INVALID_GEOMETRY_ID;
    }
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    rtcIntersect16(valid, m_device->scene, &context, &rays);
    for (int i = 0; i < packet; ++i) {
        Hit& hit = hits[i];
        hit.object = -1;
        if (rays.hit.geomID[i] == RTC_INVALID_GEOMETRY_ID) continue;
        const Mesh& mesh = m_meshes[rays.hit.geomID[i]];
        hit.distance = rays.ray.tfar[i];
        hit.position = origins[i] + directions[i] * hit.distance;
        hit.normal = normalised({rays.hit.Ng_x[i], rays.hit.Ng_y[i], rays.hit.Ng_z[i]});
        if (dot(hit.normal, directions[i]) > 0.F) hit.normal = hit.normal * -1.F;
        hit.object = mesh.object;
        hit.material = mesh.material;
    }
}

bool Scene::inShadow(Vec from, Vec to) const
{
    RTCRay ray{};
    const Vec way = to - from;
    ray.org_x = from.x;
    ray.org_y = from.y;
    ray.org_z = from.z;
    ray.dir_x = way.x;
    ray.dir_y = way.y;
    ray.dir_z = way.z;
    ray.tnear = 1e-3F;
    ray.tfar = 0.98F;
    ray.mask = 0xffffffffU;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcOccluded1(m_device->scene, &context, &ray);
    return ray.tfar < 0.F;
}

Vec Scene::albedo(const Material& material, Vec at, Vec normal) const
{
    const Vec p = at * material.scale;
    // Project along the axis the surface faces most, so that patterns do not smear.
    const float ax = std::abs(normal.x);
    const float ay = std::abs(normal.y);
    const float az = std::abs(normal.z);
    const float u = ax > ay && ax > az ? p.z : p.x;
    const float v = ay > ax && ay > az ? p.z : p.y;
    switch (material.pattern) {
    case Pattern::plain:
        return material.colour;
    case Pattern::checker:
        return (cell(u) + cell(v)) % 2 == 0 ? material.colour : material.second;
    case Pattern::stripes:
        return mix(material.colour, material.second, 0.5F + 0.5F * std::sin(6.2831853F * (u + 0.35F * v)));
    case Pattern::planks: {
        const float grain = hashed(cell(u), cell(v * 0.13F), 3);
        const float joint = std::abs(u - std::round(u)) < 0.03F ? 0.25F : 1.F;
        return mix(material.colour, material.second, grain) * joint;
    }
    case Pattern::speckle:
        return mix(material.colour, material.second, hashed(cell(p.x), cell(p.y), cell(p.z)));
    }
    return material.colour;
}

Vec Scene::shade(const Hit& hit) const
{
    const Material& material = m_materials[static_cast<std::size_t>(hit.material)];
    Vec light = mix(m_ambientBelow, m_ambientAbove, 0.5F + 0.5F * hit.normal.y);
    for (const PointLight& lamp : m_lights) {
        const Vec way = lamp.position - hit.position;
        const float squared = dot(way, way);
        const float cosine = dot(hit.normal, way) / std::sqrt(squared);
        if (cosine > 0.F && !(lamp.shadows && inShadow(hit.position + hit.normal * 1e-3F, lamp.position)))
            light = light + lamp.power * (cosine / squared);
    }
    return albedo(material, hit.position, hit.normal) * light + material.emission;
}

} // namespace retinex::reference
