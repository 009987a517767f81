#pragma once

#include "reference/scene.h"

#include <functional>
#include <random>

/// Meshes from a few numbers. Lengths in metres.
namespace retinex::reference {

/// What a mesh is made of and belongs to.
struct Tag
{
    int material = 0;
    int object = 0;
};

[[nodiscard]] Mesh box(Vec low, Vec high, Tag tag);
/// Box around the segment a to b, `width` across.
[[nodiscard]] Mesh beam(Vec a, Vec b, float width, Tag tag);
[[nodiscard]] Mesh sphere(Vec centre, float radius, Tag tag, int segments = 32);
/// Surface of revolution about the vertical through `base`: pairs of (radius, height), low to high.
[[nodiscard]] Mesh lathe(Vec base, const std::vector<std::pair<float, float>>& outline, Tag tag,
                         int segments = 48);
/// Tube along `path(t)`, t in 0..1, of radius `radius(t)`.
[[nodiscard]] Mesh tube(const std::function<Vec(float)>& path, const std::function<float(float)>& radius,
                        Tag tag, int steps = 24, int segments = 10);
/// Leaf from `root` to `tip`, bent by `bend` in the middle, `width` at the widest.
[[nodiscard]] Mesh leaf(Vec root, Vec tip, Vec bend, float width, Tag tag);

/// Repeatable numbers for scattering things.
class Dice
{
public:
    explicit Dice(unsigned seed) : m_engine(seed) {}
    float operator()(float low, float high)
    {
        return low + (high - low) * static_cast<float>(m_engine() >> 8U) / 16777216.F;
    }

private:
    std::mt19937 m_engine; // its sequence is fixed by the C++ standard
};

} // namespace retinex::reference
