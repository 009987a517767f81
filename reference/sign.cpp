#include "reference/sign.h"

#include "reference/shapes.h"

#include <functional>
#include <numbers>

namespace retinex::reference {

namespace {

constexpr Vec kMiddle{-0.431F, -0.085F, -3.06F};
constexpr float kHalfWidth = 0.17F;
constexpr float kHalfHeight = 0.12F;

/// To its right, farther from the second shot's camera by 50 degrees.
Vec acrossFace()
{
    const Vec forward = normalised(Vec{-0.6255F, 0.F, -0.7753F});
    const Vec right{-forward.z, 0.F, forward.x};
    constexpr float turn = 50.F / 180.F * std::numbers::pi_v<float>;
    return right * std::cos(turn) + forward * std::sin(turn);
}

/// A place on the face: u to the right, v upward, -1 to 1.
Vec onFace(float u, float v)
{
    return kMiddle + acrossFace() * (u * kHalfWidth) + Vec{0.F, v * kHalfHeight, 0.F};
}

/// Paints on the face; what has a higher level lies a little in front. The fewer levels, the less they shift
/// against each other where the face is seen aslant.
class Painter
{
public:
    Painter(Scene& scene, std::function<Vec(Vec, int)> place)
        : m_scene(scene), m_place(std::move(place)), m_object(scene.addObject("sign"))
    {
    }

    void rectangle(int level, float u0, float v0, float u1, float v1, Vec colour)
    {
        polygon({onFace(u0, v0), onFace(u1, v0), onFace(u1, v1), onFace(u0, v1)}, level, colour);
    }
    void ellipse(int level, float u, float v, float along, float across, float turn, Vec colour)
    {
        std::vector<Vec> rim;
        for (int i = 0; i < 28; ++i) {
            const float a = 2.F * std::numbers::pi_v<float> * static_cast<float>(i) / 28.F;
            const float x = along * std::cos(a);
            const float y = across * std::sin(a);
            // The face is wider than high: round things stay round.
            rim.push_back(onFace(u + (x * std::cos(turn) - y * std::sin(turn)) * kHalfHeight / kHalfWidth,
                                 v + x * std::sin(turn) + y * std::cos(turn)));
        }
        polygon(rim, level, colour);
    }

private:
    void polygon(const std::vector<Vec>& rim, int level, Vec colour)
    {
        Mesh mesh;
        mesh.material = m_scene.addMaterial({{}, {}, Pattern::plain, 1.F, colour});
        mesh.object = m_object;
        for (const Vec& point : rim)
            mesh.vertices.push_back(m_place(point, level));
        for (std::uint32_t i = 2; i < rim.size(); ++i)
            mesh.indices.insert(mesh.indices.end(), {0, i - 1, i});
        m_scene.add(std::move(mesh));
    }

    Scene& m_scene;
    std::function<Vec(Vec, int)> m_place;
    int m_object;
};

void paint(Painter& painter)
{
    const Vec paper{0.42F, 0.36F, 0.24F};
    const Vec ink{0.03F, 0.05F, 0.03F};
    const Vec petal{0.50F, 0.10F, 0.05F};
    painter.rectangle(0, -1.F, -1.F, 1.F, 1.F, paper);
    painter.rectangle(1, -0.94F, 0.60F, 0.94F, 0.92F, {0.05F, 0.15F, 0.08F});
    painter.rectangle(1, -0.94F, -0.92F, -0.10F, 0.54F, {0.16F, 0.26F, 0.30F});
    painter.rectangle(2, -0.53F, -0.92F, -0.49F, -0.2F, {0.07F, 0.20F, 0.05F});
    for (int i = 0; i < 8; ++i) {
        const float a = 2.F * std::numbers::pi_v<float> * static_cast<float>(i) / 8.F;
        painter.ellipse(3 + i, -0.51F + 0.2F * std::cos(a), -0.05F + 0.29F * std::sin(a), 0.2F, 0.085F, a,
                        petal);
    }
    painter.ellipse(11, -0.51F, -0.05F, 0.14F, 0.14F, 0.F, {0.55F, 0.40F, 0.05F});
    // Letters too small to read, and a title of bars.
    Dice dice(5);
    for (float u = -0.84F; u < 0.8F; u += 0.13F)
        painter.rectangle(2, u, 0.67F, u + dice(0.04F, 0.10F), 0.85F, paper);
    for (int line = 0; line < 7; ++line) {
        const float v = 0.42F - 0.19F * static_cast<float>(line);
        for (float u = 0.02F; u < (line == 6 ? 0.4F : 0.8F);) {
            const float wide = dice(0.05F, 0.18F);
            painter.rectangle(1, u, v - 0.075F, u + wide, v, ink);
            u += wide + 0.05F;
        }
    }
}

} // namespace

std::array<Vec, 4> signCorners()
{
    return {onFace(-1.F, 1.F), onFace(1.F, 1.F), onFace(1.F, -1.F), onFace(-1.F, -1.F)};
}

void addSign(Scene& scene, SignPose pose, const Camera& camera, float distance)
{
    constexpr float apart = 1e-4F; // metres between levels
    const Vec forward = normalised(camera.target - camera.eye);
    const Vec towards = normalised(cross(acrossFace(), Vec{0.F, 1.F, 0.F}));
    const auto place = [=](Vec point, int level) {
        if (pose == SignPose::slanted) return point + towards * (apart * static_cast<float>(level));
        const Vec ray = point - camera.eye;
        return camera.eye + ray * ((distance - apart * static_cast<float>(level)) / dot(ray, forward));
    };
    Painter painter(scene, place);
    paint(painter);
}

} // namespace retinex::reference
