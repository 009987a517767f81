#include "demo/scene_writer.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <fstream>
#include <nlohmann/json.hpp>
#include <stdexcept>

namespace retinex::demo {

namespace {

using Json = nlohmann::ordered_json;
using reference::Camera;
using reference::Vec;
using Quaternion = std::array<float, 4>; ///< x, y, z, w

/// Of the rotation whose columns are right, up and backward (Shepperd 1978: by the largest of the four).
Quaternion rotationOf(const Camera& camera)
{
    const Vec forward = normalised(camera.target - camera.eye);
    const Vec right = normalised(cross(forward, Vec{0, 1, 0}));
    const Vec up = cross(right, forward);
    const Vec back = forward * -1.F;
    const std::array<double, 4> traces{1.0 + right.x - up.y - back.z, 1.0 - right.x + up.y - back.z,
                                       1.0 - right.x - up.y + back.z, 1.0 + right.x + up.y + back.z};
    const auto largest =
        static_cast<std::size_t>(std::max_element(traces.begin(), traces.end()) - traces.begin());
    const double root = 2.0 * std::sqrt(traces[largest]);
    std::array<double, 4> q{};
    q[largest] = 0.25 * root;
    if (largest == 3)
        q = {(up.z - back.y) / root, (back.x - right.z) / root, (right.y - up.x) / root, q[3]};
    else if (largest == 0)
        q = {q[0], (right.y + up.x) / root, (back.x + right.z) / root, (up.z - back.y) / root};
    else if (largest == 1)
        q = {(right.y + up.x) / root, q[1], (up.z + back.y) / root, (back.x - right.z) / root};
    else
        q = {(back.x + right.z) / root, (up.z + back.y) / root, q[2], (right.y - up.x) / root};
    return {static_cast<float>(q[0]), static_cast<float>(q[1]), static_cast<float>(q[2]),
            static_cast<float>(q[3])};
}

std::string base64(const std::vector<unsigned char>& bytes)
{
    static const char* digits = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string text;
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        const std::size_t left = std::min<std::size_t>(3, bytes.size() - i);
        unsigned word = bytes[i] << 16U;
        if (left > 1) word |= bytes[i + 1] << 8U;
        if (left > 2) word |= bytes[i + 2];
        for (unsigned k = 0; k < 4; ++k)
            text += k <= left ? digits[word >> (18U - 6U * k) & 63U] : '=';
    }
    return text;
}

/// Collects numbers in one buffer with its accessors.
class Buffer
{
public:
    int add(const std::vector<float>& numbers, const char* type, int components)
    {
        const std::size_t at = m_bytes.size();
        m_bytes.resize(at + numbers.size() * sizeof(float));
        std::memcpy(m_bytes.data() + at, numbers.data(), numbers.size() * sizeof(float));
        m_views.push_back(
            {{"buffer", 0}, {"byteOffset", at}, {"byteLength", numbers.size() * sizeof(float)}});
        Json accessor{{"bufferView", m_views.size() - 1},
                      {"componentType", 5126},
                      {"count", numbers.size() / static_cast<std::size_t>(components)},
                      {"type", type}};
        if (components == 1) { // key times need their range
            accessor["min"] = {numbers.front()};
            accessor["max"] = {numbers.back()};
        }
        m_accessors.push_back(std::move(accessor));
        return static_cast<int>(m_accessors.size()) - 1;
    }
    void writeTo(Json& scene) const
    {
        scene["accessors"] = m_accessors;
        scene["bufferViews"] = m_views;
        scene["buffers"] =
            Json::array({Json{{"byteLength", m_bytes.size()},
                              {"uri", "data:application/octet-stream;base64," + base64(m_bytes)}}});
    }

private:
    std::vector<unsigned char> m_bytes;
    Json m_views = Json::array();
    Json m_accessors = Json::array();
};

} // namespace

void writeScene(const std::filesystem::path& file, const std::vector<ShotCamera>& cameras, int frameAtZero,
                double framesPerSecond, const std::vector<ScenePoint>& points)
{
    Json scene{{"asset", {{"version", "2.0"}, {"generator", "retinex-make-demo"}}}, {"scene", 0}};
    Json nodes = Json::array();
    Json lenses = Json::array();
    Json channels = Json::array();
    Json samplers = Json::array();
    Buffer buffer;
    for (const ShotCamera& shot : cameras) {
        std::vector<float> times;
        std::vector<float> places;
        std::vector<float> turns;
        Quaternion last{0, 0, 0, 1};
        for (std::size_t i = 0; i < shot.frames.size(); ++i) {
            const Camera& camera = shot.frames[i];
            times.push_back(
                static_cast<float>((shot.firstFrame + static_cast<int>(i) - frameAtZero) / framesPerSecond));
            places.insert(places.end(), {camera.eye.x, camera.eye.y, camera.eye.z});
            Quaternion turn = rotationOf(camera);
            float along = 0.F;
            for (std::size_t k = 0; k < 4; ++k)
                along += turn[k] * last[k];
            if (along < 0.F) // the short way round between keys
                for (float& part : turn)
                    part = -part;
            last = turn;
            turns.insert(turns.end(), turn.begin(), turn.end());
        }
        const Camera& camera = shot.frames.front();
        const double tangent = 0.5 * camera.sensorWidthMm / camera.focalLengthMm;
        const double aspect = static_cast<double>(camera.width) / camera.height;
        lenses.push_back(
            {{"type", "perspective"},
             {"perspective",
              {{"yfov", 2.0 * std::atan(tangent / aspect)}, {"aspectRatio", aspect}, {"znear", 0.01}}}});
        nodes.push_back({{"name", shot.name}, {"camera", lenses.size() - 1}});
        const int input = buffer.add(times, "SCALAR", 1);
        for (const auto& [path, output] : {std::pair{"translation", buffer.add(places, "VEC3", 3)},
                                           std::pair{"rotation", buffer.add(turns, "VEC4", 4)}}) {
            channels.push_back(
                {{"sampler", samplers.size()}, {"target", {{"node", nodes.size() - 1}, {"path", path}}}});
            samplers.push_back({{"input", input}, {"output", output}, {"interpolation", "LINEAR"}});
        }
    }
    for (const ScenePoint& point : points)
        nodes.push_back(
            {{"name", point.name}, {"translation", {point.position.x, point.position.y, point.position.z}}});
    Json roots = Json::array();
    for (std::size_t i = 0; i < nodes.size(); ++i)
        roots.push_back(i);
    scene["scenes"] = Json::array({Json{{"nodes", roots}}});
    scene["nodes"] = nodes;
    scene["cameras"] = lenses;
    scene["animations"] = Json::array({Json{{"channels", channels}, {"samplers", samplers}}});
    buffer.writeTo(scene);
    std::ofstream stream(file);
    stream << scene.dump(1) << '\n';
    if (!stream.flush()) throw std::runtime_error(file.string() + ": cannot be written");
}

} // namespace retinex::demo
