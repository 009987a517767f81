#include "core/passes/scene/scene_file.h"

#include "core/system/error.h"
#include "core/system/json_text.h"
#include "core/system/readable_file.h"
#include "core/system/say.h"

#include <ImathMatrix.h>
#include <ImathQuat.h>
#include <algorithm>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <fstream>
#include <iterator>
#include <map>
#include <numbers>
#include <tiny_gltf.h>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;
using Matrix = Imath::M44d; // row vectors: p * m, so that the translation is the last row
using Values = std::vector<std::array<double, 4>>;

constexpr std::uintmax_t kMostBytes = 1ULL << 30U;
constexpr int kDeepest = 256; ///< nodes below each other

/// Keys of one property of one node.
struct Track
{
    enum class Way { step, linear, cubic } way = Way::linear;
    std::vector<double> times; ///< rising
    Values values;             ///< one per time; three (in-tangent, value, out-tangent) for cubic
};

struct Node
{
    std::array<double, 4> translation{0, 0, 0, 0};
    std::array<double, 4> rotation{0, 0, 0, 1}; ///< x, y, z, w
    std::array<double, 4> scale{1, 1, 1, 0};
    std::optional<Matrix> matrix;
    int parent = -1;
    std::map<std::string, Track> tracks; ///< "translation", "rotation", "scale"
};

[[noreturn]] void fail(const fs::path& file, const std::string& matter)
{
    throw Error(say("{}: {}. Export the scene again as glTF 2.0.", file.string(), matter));
}

/// tinygltf checks nothing: every index and length is checked here before it is used.
class Accessors
{
public:
    Accessors(const fs::path& file, const tinygltf::Model& model) : m_file(file), m_model(model) {}

    [[nodiscard]] Values read(int index, int components) const
    {
        const auto& accessor = element(m_model.accessors, index, "accessor");
        const auto& view = element(m_model.bufferViews, accessor.bufferView, "buffer view");
        const auto& bytes = element(m_model.buffers, view.buffer, "buffer").data;
        if (accessor.sparse.isSparse) fail(m_file, "it has sparse accessors, which are not read");
        if (tinygltf::GetNumComponentsInType(static_cast<std::uint32_t>(accessor.type)) != components)
            fail(m_file, "an animation has values of the wrong kind");
        const int size =
            tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(accessor.componentType));
        const int packed = components * size;
        const std::size_t stride = view.byteStride > 0 ? view.byteStride : static_cast<std::size_t>(packed);
        const std::size_t start = view.byteOffset + accessor.byteOffset;
        if (size <= 0 || stride < static_cast<std::size_t>(packed) || view.byteOffset > bytes.size() ||
            accessor.byteOffset > bytes.size() || accessor.count > bytes.size() ||
            (accessor.count > 0 &&
             start + stride * (accessor.count - 1) + static_cast<std::size_t>(packed) > bytes.size()))
            fail(m_file, "an accessor reaches beyond its buffer");
        Values values(accessor.count);
        for (std::size_t i = 0; i < accessor.count; ++i)
            for (int c = 0; c < components; ++c)
                values[i][static_cast<std::size_t>(c)] =
                    number(bytes.data() + start + i * stride + static_cast<std::size_t>(c * size),
                           accessor.componentType);
        return values;
    }

    template <class T>
    [[nodiscard]] const T& element(const std::vector<T>& list, int index, const char* what) const
    {
        if (index < 0 || static_cast<std::size_t>(index) >= list.size())
            fail(m_file, say("it names {} {}, which it does not have", what, index));
        return list[static_cast<std::size_t>(index)];
    }

private:
    /// Integers are normalised, as the specification has it for animation.
    [[nodiscard]] double number(const unsigned char* at, int type) const
    {
        const auto as = [at]<class T>(T value) {
            std::memcpy(&value, at, sizeof(T));
            return value;
        };
        double value = 0.0;
        switch (type) {
        case TINYGLTF_COMPONENT_TYPE_FLOAT:
            value = static_cast<double>(as(float{}));
            break;
        case TINYGLTF_COMPONENT_TYPE_BYTE:
            value = std::max(as(std::int8_t{}) / 127.0, -1.0);
            break;
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE:
            value = as(std::uint8_t{}) / 255.0;
            break;
        case TINYGLTF_COMPONENT_TYPE_SHORT:
            value = std::max(as(std::int16_t{}) / 32767.0, -1.0);
            break;
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT:
            value = as(std::uint16_t{}) / 65535.0;
            break;
        default:
            fail(m_file, "an animation has values of the wrong kind");
        }
        if (!std::isfinite(value)) fail(m_file, "it holds a number that is not finite");
        return value;
    }

    const fs::path& m_file;
    const tinygltf::Model& m_model;
};

/// `values` of a node property from JSON, when it has as many as it should.
void take(const fs::path& file, const std::vector<double>& from, std::array<double, 4>& to, std::size_t count)
{
    if (from.empty()) return;
    if (from.size() != count ||
        !std::all_of(from.begin(), from.end(), [](double v) { return std::isfinite(v); }))
        fail(file, "a node has a place of the wrong kind");
    std::copy(from.begin(), from.end(), to.begin());
}

std::array<double, 4> normalised(std::array<double, 4> q)
{
    const double length = std::sqrt(q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3]);
    if (length > 1e-12)
        for (double& v : q)
            v /= length;
    return q;
}

std::array<double, 4> spherical(const std::array<double, 4>& a, std::array<double, 4> b, double t)
{
    double dot = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
    if (dot < 0.0) { // the shorter way round
        dot = -dot;
        for (double& v : b)
            v = -v;
    }
    const double angle = std::acos(std::min(dot, 1.0));
    const double wa = angle < 1e-6 ? 1.0 - t : std::sin((1.0 - t) * angle) / std::sin(angle);
    const double wb = angle < 1e-6 ? t : std::sin(t * angle) / std::sin(angle);
    std::array<double, 4> result{};
    for (std::size_t i = 0; i < 4; ++i)
        result[i] = wa * a[i] + wb * b[i];
    return normalised(result);
}

/// glTF 2.0, appendix C, "Interpolation".
std::array<double, 4> valueAt(const Track& track, double seconds, bool rotation)
{
    const bool cubic = track.way == Track::Way::cubic;
    const auto key = [&](std::size_t i) { return track.values[cubic ? 3 * i + 1 : i]; };
    const auto next = std::upper_bound(track.times.begin(), track.times.end(), seconds);
    if (next == track.times.begin()) return key(0);
    if (next == track.times.end()) return key(track.times.size() - 1);
    const auto b = static_cast<std::size_t>(next - track.times.begin());
    const std::size_t a = b - 1;
    if (track.way == Track::Way::step) return key(a);
    const double length = track.times[b] - track.times[a];
    const double t = (seconds - track.times[a]) / length;
    if (!cubic && rotation) return spherical(key(a), key(b), t);
    std::array<double, 4> result{};
    for (std::size_t i = 0; i < 4; ++i) {
        if (!cubic) {
            result[i] = key(a)[i] + t * (key(b)[i] - key(a)[i]);
            continue;
        }
        const double t2 = t * t;
        const double t3 = t2 * t;
        result[i] = (2 * t3 - 3 * t2 + 1) * key(a)[i] +
                    length * (t3 - 2 * t2 + t) * track.values[3 * a + 2][i] + (-2 * t3 + 3 * t2) * key(b)[i] +
                    length * (t3 - t2) * track.values[3 * b][i];
    }
    return rotation ? normalised(result) : result;
}

} // namespace

struct SceneFile::Data
{
    fs::path file;
    std::vector<Node> nodes;
    std::vector<Named> cameras;
    std::vector<Named> points;
    struct View
    {
        double yfov = 0.0;
        double aspect = 0.0; ///< 0: the picture's
    };
    std::map<int, View> views; ///< by node
    double duration = 0.0;

    [[nodiscard]] Matrix local(const Node& node, double seconds) const
    {
        if (node.matrix) return *node.matrix;
        const auto property = [&](const char* name, const std::array<double, 4>& fixed) {
            const auto it = node.tracks.find(name);
            return it == node.tracks.end() ? fixed
                                           : valueAt(it->second, seconds, std::strcmp(name, "rotation") == 0);
        };
        const auto t = property("translation", node.translation);
        const auto r = normalised(property("rotation", node.rotation));
        const auto s = property("scale", node.scale);
        Matrix scale;
        scale.setScale(Imath::V3d(s[0], s[1], s[2]));
        Matrix move;
        move.setTranslation(Imath::V3d(t[0], t[1], t[2]));
        return scale * Imath::Quatd(r[3], r[0], r[1], r[2]).toMatrix44() * move;
    }

    [[nodiscard]] Matrix world(int index, double seconds) const
    {
        Matrix result;
        for (int depth = 0; index >= 0 && depth < kDeepest; ++depth) {
            const Node& node = nodes[static_cast<std::size_t>(index)];
            result = result * local(node, seconds);
            index = node.parent;
        }
        return result;
    }

    void readNodes(const tinygltf::Model& model);
    void readAnimations(const tinygltf::Model& model);
};

void SceneFile::Data::readNodes(const tinygltf::Model& model)
{
    const Accessors check(file, model);
    nodes.resize(model.nodes.size());
    for (std::size_t i = 0; i < model.nodes.size(); ++i) {
        const tinygltf::Node& from = model.nodes[i];
        Node& node = nodes[i];
        take(file, from.translation, node.translation, 3);
        take(file, from.rotation, node.rotation, 4);
        take(file, from.scale, node.scale, 3);
        if (!from.matrix.empty()) {
            if (from.matrix.size() != 16) fail(file, "a node has a matrix of the wrong size");
            // Column after column there; that is row after row here.
            Matrix matrix;
            for (int r = 0; r < 4; ++r)
                for (int c = 0; c < 4; ++c)
                    matrix[r][c] = from.matrix[static_cast<std::size_t>(4 * r + c)];
            node.matrix = matrix;
        }
        for (const int child : from.children) {
            (void)check.element(model.nodes, child, "node");
            Node& below = nodes[static_cast<std::size_t>(child)];
            if (below.parent >= 0) fail(file, "a node has two parents");
            below.parent = static_cast<int>(i);
        }
        const std::string name = from.name.empty() ? say("node {}", i) : from.name;
        if (from.camera < 0) {
            points.push_back({name, static_cast<int>(i)});
            continue;
        }
        const tinygltf::Camera& camera = check.element(model.cameras, from.camera, "camera");
        if (camera.type != "perspective") continue;
        const double yfov = camera.perspective.yfov;
        if (!(yfov > 0.0 && yfov < std::numbers::pi))
            fail(file, "a camera has a field of view that cannot be");
        cameras.push_back({name, static_cast<int>(i)});
        views[static_cast<int>(i)] = {yfov, std::max(0.0, camera.perspective.aspectRatio)};
    }
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        int depth = 0;
        for (int up = static_cast<int>(i); up >= 0; up = nodes[static_cast<std::size_t>(up)].parent)
            if (++depth > kDeepest) fail(file, "its nodes hang below each other without end");
    }
}

void SceneFile::Data::readAnimations(const tinygltf::Model& model)
{
    const Accessors accessors(file, model);
    for (const tinygltf::Animation& animation : model.animations) {
        for (const tinygltf::AnimationChannel& channel : animation.channels) {
            if (channel.target_node < 0 || channel.target_path == "weights") continue;
            (void)accessors.element(model.nodes, channel.target_node, "node");
            const auto& sampler = accessors.element(animation.samplers, channel.sampler, "sampler");
            Track track;
            track.way = sampler.interpolation == "STEP"          ? Track::Way::step
                        : sampler.interpolation == "CUBICSPLINE" ? Track::Way::cubic
                                                                 : Track::Way::linear;
            for (const auto& time : accessors.read(sampler.input, 1))
                track.times.push_back(time[0]);
            track.values = accessors.read(sampler.output, channel.target_path == "rotation" ? 4 : 3);
            const std::size_t each = track.way == Track::Way::cubic ? 3 : 1;
            if (track.times.empty() || track.values.size() != each * track.times.size() ||
                std::adjacent_find(track.times.begin(), track.times.end(), std::greater_equal<>()) !=
                    track.times.end())
                fail(file, "an animation's times and values do not fit each other");
            duration = std::max(duration, track.times.back());
            nodes[static_cast<std::size_t>(channel.target_node)].tracks[channel.target_path] =
                std::move(track);
        }
    }
}

namespace {

/// The parser and what is done with its result call themselves for each level.
void requireShallow(const fs::path& file)
{
    std::ifstream stream(file, std::ios::binary);
    std::string text{std::istreambuf_iterator<char>(stream), {}};
    if (file.extension() == ".glb") { // glTF 2.0, 4.4: a header of 12 bytes, then the JSON chunk
        std::uint32_t length = 0;
        if (text.size() < 20) return; // said by the parser
        std::memcpy(&length, text.data() + 12, sizeof length);
        text = text.substr(20, length);
    }
    if (depthOfJson(text) > kDeepestJson)
        throw Error(say("{}: this is not a readable glTF 2.0 file: it has more than {} lists within each "
                        "other. Export the scene again as glTF 2.0.",
                        file.string(), kDeepestJson));
}

/// What a scene asks for besides itself.
struct Buffers
{
    fs::path folder; ///< of the scene, absolute
    std::string refused;
};

/// Buffers in the scene's folder and below may be read; what lies elsewhere, devices and endless files may
/// not.
bool isUsable(const std::string& name, void* user)
{
    Buffers& buffers = *static_cast<Buffers*>(user);
    std::error_code failure;
    const fs::path file = fs::absolute(name, failure).lexically_normal();
    const auto [end, rest] =
        std::mismatch(buffers.folder.begin(), buffers.folder.end(), file.begin(), file.end());
    if (end == buffers.folder.end() && fs::is_regular_file(file, failure) &&
        fs::file_size(file, failure) <= kMostBytes)
        return true;
    buffers.refused = name;
    return false;
}

} // namespace

SceneFile SceneFile::load(const fs::path& file)
{
    requireReadable(file);
    std::error_code code;
    if (fs::file_size(file, code) > kMostBytes) fail(file, "it is larger than this program takes");
    requireShallow(file);
    tinygltf::TinyGLTF loader;
    // Pictures are not wanted; without a loader of them they are not looked at.
    loader.SetImageLoader([](tinygltf::Image*, int, std::string*, std::string*, int, int,
                             const unsigned char*, int, void*) { return true; },
                          nullptr);
    Buffers buffers{fs::absolute(file, code).parent_path().lexically_normal(), {}};
    loader.SetFsCallbacks({isUsable, tinygltf::ExpandFilePath, tinygltf::ReadWholeFile, nullptr, &buffers});
    tinygltf::Model model;
    std::string trouble;
    std::string warning;
    const bool binary = file.extension() == ".glb";
    bool loaded = false;
    try {
        loaded = binary ? loader.LoadBinaryFromFile(&model, &trouble, &warning, file.string())
                        : loader.LoadASCIIFromFile(&model, &trouble, &warning, file.string());
    } catch (const std::exception& cause) {
        trouble = cause.what();
    }
    if (!loaded && !buffers.refused.empty())
        throw Error(
            say("{}: its buffer {} is not there, is no file, or lies outside the scene's folder. Put it "
                "there, or export the scene again as one file (.glb).",
                file.string(), buffers.refused),
            trouble);
    if (!loaded)
        throw Error(say("{}: this is not a readable glTF 2.0 file. Export the scene again as glTF 2.0.",
                        file.string()),
                    trouble);
    auto data = std::make_shared<Data>();
    data->file = file;
    data->readNodes(model);
    data->readAnimations(model);
    SceneFile scene;
    scene.m_data = std::move(data);
    return scene;
}

const std::vector<SceneFile::Named>& SceneFile::cameras() const noexcept
{
    return m_data->cameras;
}
const std::vector<SceneFile::Named>& SceneFile::points() const noexcept
{
    return m_data->points;
}
double SceneFile::duration() const noexcept
{
    return m_data->duration;
}

namespace {

int nodeNamed(const fs::path& file, const std::vector<SceneFile::Named>& list, const std::string& name,
              const char* what)
{
    std::vector<std::string> names;
    for (const auto& entry : list) {
        if (entry.name == name) return entry.node;
        names.push_back(entry.name);
    }
    throw Error(say("{}: has no {} \"{}\"; it has {}.", file.string(), what, name,
                    names.empty() ? std::string("none") : fmt::format("{}", fmt::join(names, ", "))));
}

} // namespace

int SceneFile::cameraNamed(const std::string& name) const
{
    return nodeNamed(m_data->file, m_data->cameras, name, "camera");
}

int SceneFile::pointNamed(const std::string& name) const
{
    return nodeNamed(m_data->file, m_data->points, name, "point");
}

std::array<double, 3> SceneFile::position(int node, double seconds) const
{
    const Matrix m = m_data->world(node, seconds);
    return {m[3][0], m[3][1], m[3][2]};
}

double SceneFile::planarDistance(int cameraNode, int pointNode, double seconds) const
{
    // The view axis keeps its direction under any scale of the camera's parents; its length must not count.
    const Matrix camera = m_data->world(cameraNode, seconds);
    const Imath::V3d axis = Imath::V3d(-camera[2][0], -camera[2][1], -camera[2][2]).normalized();
    const Imath::V3d eye(camera[3][0], camera[3][1], camera[3][2]);
    const auto p = position(pointNode, seconds);
    return (Imath::V3d(p[0], p[1], p[2]) - eye).dot(axis);
}

std::optional<std::array<double, 2>> SceneFile::seenAt(int cameraNode, int pointNode, double seconds,
                                                       double aspect) const
{
    const Matrix camera = m_data->world(cameraNode, seconds);
    const auto axis = [&](int row) {
        return Imath::V3d(camera[row][0], camera[row][1], camera[row][2]).normalized();
    };
    const auto p = position(pointNode, seconds);
    const Imath::V3d to(p[0] - camera[3][0], p[1] - camera[3][1], p[2] - camera[3][2]);
    const double along = -to.dot(axis(2));
    const double wide = std::tan(0.5 * fieldOfViewDeg(cameraNode, aspect) * std::numbers::pi / 180.0);
    if (!(along > 0.0) || !(wide > 0.0)) return std::nullopt;
    const double x = to.dot(axis(0)) / (along * wide);
    const double y = to.dot(axis(1)) / (along * wide) * aspect;
    return std::array{0.5 + 0.5 * x, 0.5 - 0.5 * y};
}

Imath::M44d SceneFile::worldToCamera(int cameraNode, double seconds) const
{
    const Matrix m = m_data->world(cameraNode, seconds);
    Matrix toWorld;
    for (int row = 0; row < 3; ++row) {
        const Imath::V3d axis =
            Imath::V3d(m[row][0], m[row][1], m[row][2]).normalized() * (row == 2 ? -1.0 : 1.0);
        for (int c = 0; c < 3; ++c)
            toWorld[row][c] = axis[c];
    }
    for (int c = 0; c < 3; ++c)
        toWorld[3][c] = m[3][c];
    return toWorld.inverse();
}

double SceneFile::fieldOfViewDeg(int cameraNode, double aspect) const
{
    const auto it = m_data->views.find(cameraNode);
    if (it == m_data->views.end()) return 0.0;
    const double wide = it->second.aspect > 0.0 ? it->second.aspect : aspect;
    return 2.0 * std::atan(wide * std::tan(0.5 * it->second.yfov)) * 180.0 / std::numbers::pi;
}

} // namespace retinex::passes
