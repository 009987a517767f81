#include "reference/tracer.h"

#include "reference/even_points.h"

#include <algorithm>
#include <array>

namespace retinex::reference {

namespace {

/// Camera axes; a pixel's point on the plane at distance 1.
struct Frame
{
    Vec right, up, forward;
    float pixel; ///< width of a pixel at distance 1

    explicit Frame(const Camera& camera)
    {
        forward = normalised(camera.target - camera.eye);
        right = normalised(cross(forward, Vec{0, 1, 0}));
        up = cross(right, forward);
        pixel = camera.sensorWidthMm / camera.focalLengthMm / static_cast<float>(camera.width);
    }
    /// Through image point (x, y), reaching planar distance 1.
    [[nodiscard]] Vec ray(const Camera& camera, float x, float y) const
    {
        const float dx = (x - 0.5F * static_cast<float>(camera.width)) * pixel;
        const float dy = (0.5F * static_cast<float>(camera.height) - y) * pixel;
        return forward + right * dx + up * dy;
    }
};

/// Even points, shifted by pixel.
class Samples
{
public:
    Samples(int x, int y)
    {
        auto state = static_cast<std::uint32_t>(x) * 1973U + static_cast<std::uint32_t>(y) * 9277U + 26699U;
        for (double& shift : m_shift) {
            state ^= state << 13U;
            state ^= state >> 17U;
            state ^= state << 5U;
            shift = static_cast<double>(state) / 4294967296.0;
        }
    }
    [[nodiscard]] std::array<float, 4> at(int index) const
    {
        const EvenPoint point = evenPoint(index, m_shift);
        return {static_cast<float>(point[0]), static_cast<float>(point[1]), static_cast<float>(point[2]),
                static_cast<float>(point[3])};
    }

private:
    EvenPoint m_shift{};
};

/// The opening of the lens: points on it and how much light passes there. Written apart from the engine's
/// kernels; it shares only the outline and the formulas of optics/iris.h.
class Opening
{
public:
    explicit Opening(const optics::Iris& iris) : m_iris(iris)
    {
        if (iris.picture) return;
        m_outline = optics::irisOutline(iris, false);
        double area = 0.0;
        for (std::size_t i = 0; i < m_outline.size(); ++i) {
            const optics::Point& a = m_outline[i];
            const optics::Point& b = m_outline[(i + 1) % m_outline.size()];
            area += std::abs(a.x * b.y - b.x * a.y);
            m_areaTo.push_back(area);
        }
    }

    struct Sample
    {
        optics::Point at;
        float weight = 1.F;
    };
    /// Uniform in area, from two numbers in 0..1. `place` of the pixel as optics::catsEyeClip takes it.
    [[nodiscard]] Sample sample(float u, float v, optics::Point place) const
    {
        Sample made = m_iris.picture ? onPicture(u, v) : onOutline(u, v);
        if (m_iris.catsEye > 0.0) {
            const auto clip = optics::catsEyeClip(m_iris.catsEye, place, false);
            const double dx = made.at.x * m_iris.squeeze - clip.centre.x;
            const double dy = made.at.y - clip.centre.y;
            if (dx * dx + dy * dy > clip.radius * clip.radius) made.weight = 0.F;
        }
        return made;
    }

private:
    /// The outline is a fan of triangles about the centre.
    [[nodiscard]] Sample onOutline(float u, float v) const
    {
        const double wanted = static_cast<double>(u) * m_areaTo.back();
        const auto found = std::upper_bound(m_areaTo.begin(), m_areaTo.end() - 1, wanted);
        const auto index = static_cast<std::size_t>(found - m_areaTo.begin());
        const double before = index > 0 ? m_areaTo[index - 1] : 0.0;
        const double along = (wanted - before) / (m_areaTo[index] - before);
        const optics::Point& a = m_outline[index];
        const optics::Point& b = m_outline[(index + 1) % m_outline.size()];
        const double out = std::sqrt(static_cast<double>(v));
        Sample made;
        made.at = {out * (a.x + along * (b.x - a.x)), out * (a.y + along * (b.y - a.y))};
        made.weight = out < m_iris.centreStop ? 0.F : static_cast<float>(optics::rimWeight(m_iris.rim, out));
        return made;
    }
    [[nodiscard]] Sample onPicture(float u, float v) const
    {
        const Plane<float>& picture = *m_iris.picture;
        const double half = 0.5 * std::min(picture.width(), picture.height());
        const double x = static_cast<double>(u) * picture.width();
        const double y = static_cast<double>(v) * picture.height();
        Sample made;
        made.at = {(x - 0.5 * picture.width()) / half / m_iris.squeeze, (y - 0.5 * picture.height()) / half};
        made.weight = picture.at(std::min(static_cast<int>(x), picture.width() - 1),
                                 std::min(static_cast<int>(y), picture.height() - 1));
        return made;
    }

    optics::Iris m_iris;
    std::vector<optics::Point> m_outline;
    std::vector<double> m_areaTo; ///< running sums
};

/// What one ray of a pixel meets.
struct RayLight
{
    float distance = 0.F;
    int object = 0;
    Vec light;
};

/// Joins a pixel's rays into samples. Rays of one object join when their distances, in order, are close.
void addSamples(std::vector<RayLight>& lights, int rays, std::vector<DeepPicture::Sample>& out)
{
    std::sort(lights.begin(), lights.end(),
              [](const RayLight& a, const RayLight& b) { return a.distance < b.distance; });
    float open = 1.F;
    for (std::size_t i = 0; i < lights.size();) {
        Vec sum{};
        double distance = 0.0;
        std::size_t end = i;
        while (end < lights.size() && lights[end].object == lights[i].object &&
               lights[end].distance <= 1.02F * lights[i].distance) {
            sum = sum + lights[end].light;
            distance += static_cast<double>(lights[end].distance);
            ++end;
        }
        const auto count = static_cast<float>(end - i);
        // Of the pixel it covers count / rays; of what is left open, so much:
        const float alpha = std::min(1.F, count / static_cast<float>(rays) / open);
        const float scale = alpha / count;
        out.push_back({{sum.x * scale, sum.y * scale, sum.z * scale, alpha},
                       static_cast<float>(distance / static_cast<double>(count))});
        open = std::max(1e-6F, open - count / static_cast<float>(rays));
        i = end;
    }
}

/// How unsure a pixel still is, as seen: on x / (1 + x), from the spread of its packets.
class Noise
{
public:
    void add(const Vec& light, float weight)
    {
        const double v =
            weight > 0.F ? static_cast<double>(std::max({light.x, light.y, light.z}) / weight) : 0.0;
        ++m_count;
        m_sum += v;
        m_squares += v * v;
    }
    [[nodiscard]] double standardError() const
    {
        const double mean = m_sum / m_count;
        const double variance = std::max(0.0, m_squares / m_count - mean * mean);
        return std::sqrt(variance / m_count) / ((1.0 + mean) * (1.0 + mean));
    }

private:
    int m_count = 0;
    double m_sum = 0.0;
    double m_squares = 0.0;
};

constexpr double kLeastNoise = 0.002;

/// All rays of a pixel through the pinhole.
class Pinhole
{
public:
    Pinhole(const Scene& scene, const Camera& camera, int samples)
        : m_scene(scene), m_camera(camera), m_frame(camera),
          m_packets((samples + Scene::packet - 1) / Scene::packet)
    {
        std::fill(std::begin(m_origins), std::end(m_origins), camera.eye);
    }

    [[nodiscard]] int rays() const { return m_packets * Scene::packet; }
    /// Calls visit(hit) for each ray of pixel (x, y) that meets something.
    template <class Visit>
    void look(int x, int y, Visit visit) const
    {
        Vec directions[Scene::packet];
        Hit hits[Scene::packet];
        const Samples points(x, y);
        for (int p = 0; p < m_packets; ++p) {
            for (int i = 0; i < Scene::packet; ++i) {
                const auto s = points.at(p * Scene::packet + i);
                directions[i] =
                    m_frame.ray(m_camera, static_cast<float>(x) + s[0], static_cast<float>(y) + s[1]);
            }
            m_scene.trace(m_origins, directions, hits);
            for (const Hit& hit : hits)
                if (hit.object >= 0) visit(hit);
        }
    }
    /// Distance through the middle of the pixels of row y, 0 where nothing is; the ray's parameter is planar.
    void depthRow(int y, float* depth) const
    {
        Vec directions[Scene::packet];
        Hit hits[Scene::packet];
        for (int x0 = 0; x0 < m_camera.width; x0 += Scene::packet) {
            for (int i = 0; i < Scene::packet; ++i)
                directions[i] =
                    m_frame.ray(m_camera, static_cast<float>(x0 + i) + 0.5F, static_cast<float>(y) + 0.5F);
            m_scene.trace(m_origins, directions, hits);
            for (int i = 0; i < Scene::packet && x0 + i < m_camera.width; ++i)
                depth[x0 + i] = hits[i].object >= 0 ? hits[i].distance : 0.F;
        }
    }

private:
    const Scene& m_scene;
    const Camera& m_camera;
    Frame m_frame;
    int m_packets;
    Vec m_origins[Scene::packet];
};

} // namespace

Passes renderPasses(const Scene& scene, const Camera& camera, int samples, const Run& run)
{
    Passes passes{RgbaImage(camera.width, camera.height), Plane<float>(camera.width, camera.height), {}};
    std::vector<int> matteOf(scene.objects().size(), -1);
    for (std::size_t i = 0; i < scene.objects().size(); ++i) {
        if (scene.objects()[i].empty()) continue;
        matteOf[i] = static_cast<int>(passes.mattes.size());
        passes.mattes.emplace_back(scene.objects()[i], Plane<float>(camera.width, camera.height));
    }
    const Pinhole pinhole(scene, camera, samples);
    const float share = 1.F / static_cast<float>(pinhole.rays());
    parallelFor(camera.height, run, [&](int y) {
        for (int x = 0; x < camera.width; ++x) {
            pinhole.look(x, y, [&](const Hit& hit) {
                const Vec light = scene.shade(hit);
                passes.colour.plane(0).at(x, y) += light.x * share;
                passes.colour.plane(1).at(x, y) += light.y * share;
                passes.colour.plane(2).at(x, y) += light.z * share;
                passes.colour.plane(3).at(x, y) += share;
                if (const int matte = matteOf[static_cast<std::size_t>(hit.object)]; matte >= 0)
                    passes.mattes[static_cast<std::size_t>(matte)].second.at(x, y) += share;
            });
        }
        pinhole.depthRow(y, passes.depth.row(y));
    });
    return passes;
}

ObjectShares objectsOf(const Passes& passes)
{
    std::vector<ObjectCoverage> coverages;
    for (std::size_t i = 0; i < passes.mattes.size(); ++i)
        coverages.push_back({passes.mattes[i].second, static_cast<std::uint32_t>(i + 1)});
    return objectSharesOf(coverages);
}

DeepPicture renderDeep(const Scene& scene, const Camera& camera, int samples, const Run& run)
{
    const Pinhole pinhole(scene, camera, samples);
    std::vector<std::vector<DeepPicture::Sample>> rows(static_cast<std::size_t>(camera.height));
    std::vector<std::vector<std::size_t>> counts(rows.size());
    parallelFor(camera.height, run, [&](int y) {
        std::vector<RayLight> lights;
        for (int x = 0; x < camera.width; ++x) {
            lights.clear();
            pinhole.look(x, y, [&](const Hit& hit) {
                lights.push_back({hit.distance, hit.object, scene.shade(hit)});
            });
            auto& row = rows[static_cast<std::size_t>(y)];
            const std::size_t before = row.size();
            addSamples(lights, pinhole.rays(), row);
            counts[static_cast<std::size_t>(y)].push_back(row.size() - before);
        }
    });
    DeepPicture deep;
    deep.width = camera.width;
    deep.height = camera.height;
    deep.first.push_back(0);
    for (std::size_t y = 0; y < rows.size(); ++y) {
        for (const std::size_t count : counts[y])
            deep.first.push_back(deep.first.back() + count);
        deep.samples.insert(deep.samples.end(), rows[y].begin(), rows[y].end());
    }
    return deep;
}

RgbaImage renderLens(const Scene& scene, const Camera& camera, const LensSampling& sampling, const Run& run)
{
    const Frame frame(camera);
    const Opening opening(sampling.iris);
    const double halfDiagonal = 0.5 * std::hypot(camera.width, camera.height);
    const auto focus = static_cast<float>(sampling.focusDistance);
    const float focalLength = 0.001F * camera.focalLengthMm;
    // A renderer's camera keeps its framing: the opening is f / N, whatever it is focused at.
    const float lensRadius = 0.5F * focalLength / static_cast<float>(sampling.fStop);
    RgbaImage image(camera.width, camera.height);
    const int packets = (sampling.samples + Scene::packet - 1) / Scene::packet;
    parallelFor(camera.height, run, [&](int y) {
        Vec origins[Scene::packet];
        Vec directions[Scene::packet];
        Hit hits[Scene::packet];
        float weights[Scene::packet];
        for (int x = 0; x < camera.width; ++x) {
            const Samples points(x, y);
            const optics::Point place{(x + 0.5 - 0.5 * camera.width) / halfDiagonal,
                                      (y + 0.5 - 0.5 * camera.height) / halfDiagonal};
            Vec sum{};
            float all = 0.F;
            float alpha = 0.F;
            Noise noise;
            for (int p = 0; p < sampling.mostRounds * packets; ++p) {
                if (p > 0 && p % packets == 0 && noise.standardError() < kLeastNoise) break;
                const Vec before = sum;
                const float allBefore = all;
                for (int i = 0; i < Scene::packet; ++i) {
                    const auto s = points.at(p * Scene::packet + i);
                    const Vec onFocus =
                        camera.eye +
                        frame.ray(camera, static_cast<float>(x) + s[0], static_cast<float>(y) + s[1]) * focus;
                    const auto [lens, weight] = opening.sample(s[2], s[3], place);
                    weights[i] = weight;
                    all += weight;
                    origins[i] = camera.eye + frame.right * (lensRadius * static_cast<float>(lens.x)) -
                                 frame.up * (lensRadius * static_cast<float>(lens.y));
                    directions[i] = onFocus - origins[i];
                }
                scene.trace(origins, directions, hits);
                for (int i = 0; i < Scene::packet; ++i) {
                    if (hits[i].object < 0 || weights[i] <= 0.F) continue;
                    sum = sum + scene.shade(hits[i]) * weights[i];
                    alpha += weights[i];
                }
                noise.add(sum - before, all - allBefore);
            }
            const float share = all > 0.F ? 1.F / all : 0.F;
            image.plane(0).at(x, y) = sum.x * share;
            image.plane(1).at(x, y) = sum.y * share;
            image.plane(2).at(x, y) = sum.z * share;
            image.plane(3).at(x, y) = alpha * share;
        }
    });
    return image;
}

} // namespace retinex::reference
