#include "bench/reading_scenes.h"

#include "core/depth/depth_reading.h"
#include "core/passes/scene/camera_data.h"
#include "reference/scenes.h"

#include <algorithm>
#include <cmath>

namespace retinex::bench {

namespace {

/// Ends of what is there.
void findEnds(ReadingScene& scene)
{
    scene.nearest = 1e30;
    scene.farthest = 0.0;
    for (const float d : scene.distance.pixels()) {
        if (d <= 0.0F) continue;
        scene.nearest = std::min<double>(scene.nearest, d);
        scene.farthest = std::max<double>(scene.farthest, d);
    }
}

/// The middle one of each pixel's rays.
Plane<float> middles(const Plane<float>& fine, int n)
{
    Plane<float> plane(fine.width() / n, fine.height() / n);
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x)
            plane.at(x, y) = fine.at(n * x + n / 2, n * y + n / 2);
    return plane;
}

/// The share of each pixel's rays that lie on something.
Plane<float> hits(const Plane<float>& fine, int n)
{
    Plane<float> share(fine.width() / n, fine.height() / n);
    for (int y = 0; y < n * share.height(); ++y)
        for (int x = 0; x < n * share.width(); ++x)
            share.at(x / n, y / n) += fine.at(x, y) > 0.0F ? 1.0F / static_cast<float>(n * n) : 0.0F;
    for (float& v : share.pixels())
        v = std::round(v * static_cast<float>(n * n)) / static_cast<float>(n * n);
    return share;
}

/// The largest part of `inside` that hangs together.
Plane<std::uint8_t> largestPart(const Plane<std::uint8_t>& inside)
{
    Plane<std::uint8_t> seen(inside.width(), inside.height());
    std::vector<std::pair<int, int>> largest;
    for (int y = 0; y < inside.height(); ++y)
        for (int x = 0; x < inside.width(); ++x) {
            if (inside.at(x, y) == 0 || seen.at(x, y) != 0) continue;
            std::vector<std::pair<int, int>> part{{x, y}};
            seen.at(x, y) = 1;
            for (std::size_t i = 0; i < part.size(); ++i)
                for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
                    const int nx = part[i].first + dx;
                    const int ny = part[i].second + dy;
                    if (!inside.contains(nx, ny) || inside.at(nx, ny) == 0 || seen.at(nx, ny) != 0) continue;
                    seen.at(nx, ny) = 1;
                    part.emplace_back(nx, ny);
                }
            if (part.size() > largest.size()) largest = std::move(part);
        }
    Plane<std::uint8_t> mask(inside.width(), inside.height());
    for (const auto& [x, y] : largest)
        mask.at(x, y) = 1;
    return mask;
}

} // namespace

const std::vector<std::string>& readingScenes(bool heldOut)
{
    static const std::vector<std::string> tuned{
        "bars, focus behind", "stalks", "lights", "grass", "greenhouse, can", "greenhouse, stems", "shelf"};
    static const std::vector<std::string> held{"corner of a room", "street", "steps"};
    return heldOut ? held : tuned;
}

ReadingScenePtr tracedScene(const std::string& name, bool heldOut, int width)
{
    reference::Trial trial = reference::makeTrial(name);
    auto scene = std::make_shared<ReadingScene>();
    scene->name = name;
    scene->heldOut = heldOut;
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    auto passes = reference::renderPasses(trial.scene, trial.camera, 16);
    scene->distance = std::move(passes.depth);

    scene->colour = std::move(passes.colour);
    scene->fineness = 4;
    trial.camera.width *= scene->fineness;
    trial.camera.height *= scene->fineness;
    scene->fine = reference::renderPasses(trial.scene, trial.camera, 0).depth;
    scene->fieldOfViewDeg = passes::fieldOfViewFor(trial.camera.focalLengthMm, trial.camera.sensorWidthMm);
    findEnds(*scene);
    return scene;
}

ReadingScenePtr othersScene(const OtherScene& other, int width, const std::filesystem::path& cache)
{
    OtherPasses passes = otherPasses(other, width, cache);
    auto scene = std::make_shared<ReadingScene>();
    scene->name = other.name;
    scene->isOthers = true;
    scene->heldOut = other.heldOut;
    scene->fineness = OtherPasses::fineness;
    scene->fieldOfViewDeg = other.fieldOfViewDeg;
    scene->fine = std::move(passes.fine);
    depth::ViewGeometry view{static_cast<double>(scene->fine.width()),
                             static_cast<double>(scene->fine.height())};
    view.fieldOfViewDeg = other.fieldOfViewDeg;
    const depth::PlanarShare share(view);
    for (int y = 0; y < scene->fine.height(); ++y)
        for (int x = 0; x < scene->fine.width(); ++x)
            // A sky that is an object a hundred times as far is none that a depth pass would have.
            scene->fine.at(x, y) = static_cast<double>(scene->fine.at(x, y)) > 6.0 * other.reach
                                       ? 0.0F
                                       : scene->fine.at(x, y) * static_cast<float>(share(x, y));
    scene->distance = middles(scene->fine, scene->fineness);
    scene->alpha = hits(scene->fine, scene->fineness);
    scene->colour = std::move(passes.colour);
    findEnds(*scene);
    return scene;
}

ReadingScenePtr cutOut(const ReadingScene& whole)
{
    std::vector<float> distances;
    for (const float d : whole.distance.pixels())
        if (d > 0.0F) distances.push_back(d);
    const auto middle = distances.begin() + static_cast<std::ptrdiff_t>(distances.size() / 2);
    std::nth_element(distances.begin(), middle, distances.end());
    const float farthest = *middle;
    Plane<std::uint8_t> inside(whole.distance.width(), whole.distance.height());
    for (std::size_t i = 0; i < inside.size(); ++i)
        inside.pixels()[i] =
            whole.distance.pixels()[i] > 0.0F && whole.distance.pixels()[i] <= farthest ? 1 : 0;
    inside = largestPart(inside);
    auto cut = std::make_shared<ReadingScene>(whole);
    cut->name += ", cut out";
    const int n = whole.fineness;
    const auto near = [&](int x, int y) {
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx)
                if (inside.contains(x + dx, y + dy) && inside.at(x + dx, y + dy) != 0) return true;
        return false;
    };
    for (int y = 0; y < cut->distance.height(); ++y)
        for (int x = 0; x < cut->distance.width(); ++x) {
            if (inside.at(x, y) == 0) cut->distance.at(x, y) = 0.0F;
            int hit = 0;
            const bool reached = near(x, y);
            for (int i = 0; i < n * n; ++i) {
                float& d = cut->fine.at(n * x + i % n, n * y + i / n);
                if (!reached || d > farthest) d = 0.0F;
                hit += d > 0.0F ? 1 : 0;
            }
            cut->alpha.at(x, y) = static_cast<float>(hit) / static_cast<float>(n * n);
            for (int c = 0; c < 3; ++c)
                cut->colour.plane(c).at(x, y) *= cut->alpha.at(x, y);
        }
    cut->colour.plane(3) = cut->alpha;
    findEnds(*cut);
    return cut;
}

} // namespace retinex::bench
