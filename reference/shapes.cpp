#include "reference/shapes.h"

#include <numbers>

namespace retinex::reference {

namespace {

constexpr float kTwoPi = 2.F * std::numbers::pi_v<float>;

/// Joins a grid of (rows x columns) vertices with triangles.
void joinGrid(Mesh& mesh, int rows, int columns)
{
    for (int r = 0; r + 1 < rows; ++r) {
        for (int c = 0; c + 1 < columns; ++c) {
            const auto i = static_cast<std::uint32_t>(r * columns + c);
            const auto below = i + static_cast<std::uint32_t>(columns);
            mesh.indices.insert(mesh.indices.end(), {i, i + 1, below, i + 1, below + 1, below});
        }
    }
}

Mesh empty(Tag tag)
{
    Mesh mesh;
    mesh.material = tag.material;
    mesh.object = tag.object;
    return mesh;
}

/// Two directions across `along`.
std::pair<Vec, Vec> across(Vec along)
{
    const Vec helper = std::abs(along.y) < 0.9F ? Vec{0, 1, 0} : Vec{1, 0, 0};
    const Vec u = normalised(cross(along, helper));
    return {u, cross(along, u)};
}

void addHexahedron(Mesh& mesh, const Vec (&corner)[8])
{
    static constexpr std::uint32_t quads[6][4] = {{0, 1, 3, 2}, {4, 6, 7, 5}, {0, 4, 5, 1},
                                                  {2, 3, 7, 6}, {0, 2, 6, 4}, {1, 5, 7, 3}};
    mesh.vertices.assign(std::begin(corner), std::end(corner));
    for (const auto& q : quads)
        mesh.indices.insert(mesh.indices.end(), {q[0], q[1], q[2], q[0], q[2], q[3]});
}

} // namespace

Mesh box(Vec low, Vec high, Tag tag)
{
    Mesh mesh = empty(tag);
    Vec corner[8];
    for (int i = 0; i < 8; ++i)
        corner[i] = {i & 1 ? high.x : low.x, i & 2 ? high.y : low.y, i & 4 ? high.z : low.z};
    addHexahedron(mesh, corner);
    return mesh;
}

Mesh beam(Vec a, Vec b, float width, Tag tag)
{
    Mesh mesh = empty(tag);
    const auto [u, v] = across(normalised(b - a));
    Vec corner[8];
    for (int i = 0; i < 8; ++i)
        corner[i] =
            (i & 4 ? b : a) + u * (i & 1 ? width / 2 : -width / 2) + v * (i & 2 ? width / 2 : -width / 2);
    addHexahedron(mesh, corner);
    return mesh;
}

Mesh sphere(Vec centre, float radius, Tag tag, int segments)
{
    Mesh mesh = empty(tag);
    const int rows = segments / 2 + 1;
    for (int r = 0; r < rows; ++r) {
        const float polar = std::numbers::pi_v<float> * static_cast<float>(r) / static_cast<float>(rows - 1);
        for (int c = 0; c <= segments; ++c) {
            const float turn = kTwoPi * static_cast<float>(c) / static_cast<float>(segments);
            mesh.vertices.push_back(centre + Vec{std::sin(polar) * std::cos(turn), std::cos(polar),
                                                 std::sin(polar) * std::sin(turn)} *
                                                 radius);
        }
    }
    joinGrid(mesh, rows, segments + 1);
    return mesh;
}

Mesh lathe(Vec base, const std::vector<std::pair<float, float>>& outline, Tag tag, int segments)
{
    Mesh mesh = empty(tag);
    for (const auto& [radius, height] : outline) {
        for (int c = 0; c <= segments; ++c) {
            const float turn = kTwoPi * static_cast<float>(c) / static_cast<float>(segments);
            mesh.vertices.push_back(base + Vec{radius * std::cos(turn), height, radius * std::sin(turn)});
        }
    }
    joinGrid(mesh, static_cast<int>(outline.size()), segments + 1);
    return mesh;
}

Mesh tube(const std::function<Vec(float)>& path, const std::function<float(float)>& radius, Tag tag,
          int steps, int segments)
{
    Mesh mesh = empty(tag);
    for (int s = 0; s <= steps; ++s) {
        const float t = static_cast<float>(s) / static_cast<float>(steps);
        const Vec along = normalised(path(t + 1e-3F) - path(t - 1e-3F));
        const auto [u, v] = across(along);
        for (int c = 0; c <= segments; ++c) {
            const float turn = kTwoPi * static_cast<float>(c) / static_cast<float>(segments);
            mesh.vertices.push_back(path(t) + (u * std::cos(turn) + v * std::sin(turn)) * radius(t));
        }
    }
    joinGrid(mesh, steps + 1, segments + 1);
    return mesh;
}

Mesh leaf(Vec root, Vec tip, Vec bend, float width, Tag tag)
{
    Mesh mesh = empty(tag);
    constexpr int steps = 12;
    const Vec side = normalised(cross(tip - root, bend + Vec{0.01F, 0.02F, 0.03F}));
    for (int s = 0; s <= steps; ++s) {
        const float t = static_cast<float>(s) / steps;
        const float half = 0.5F * width * std::sin(std::numbers::pi_v<float> * std::pow(t, 0.8F));
        const Vec middle = mix(root, tip, t) + bend * (4.F * t * (1.F - t));
        mesh.vertices.push_back(middle - side * half);
        mesh.vertices.push_back(middle + bend * (0.12F * half / width));
        mesh.vertices.push_back(middle + side * half);
    }
    joinGrid(mesh, steps + 1, 3);
    return mesh;
}

} // namespace retinex::reference
