#include "bench/view_trials.h"

#include "bench/crops.h"
#include "bench/lens_rays.h"
#include "bench/timing.h"
#include "core/defocus/defocus.h"
#include "core/defocus/repair/edge_repair.h"
#include "core/depth/depth_reading.h"
#include "core/others/look_behind.h"
#include "core/others/steps_away.h"
#include "reference/camera_header.h"
#include "reference/greenhouse.h"
#include "reference/scenes.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace retinex::bench {

namespace {

struct Frame
{
    RgbaImage colour;
    Plane<float> distance;
    std::optional<others::FrameCamera> camera;

    [[nodiscard]] others::View view() const { return {&colour, &distance, *camera}; }
};

/// The frames of a scene, made as they are asked for.
class Frames
{
    /// What `make` makes of the scene as it is in a frame.
    template <class Make>
    auto withScene(int frame, Make make) const
    {
        if (!m_scene.demoFrame) return make(m_trial.scene);
        return make(reference::makeGreenhouse(m_scene.demoFrame + frame).scene);
    }

public:
    Frames(const ViewScene& scene, const ViewsAsked& asked)
        : m_scene(scene), m_trial(reference::makeTrial(scene.name)), m_width(asked.width)
    {
        m_trial.lens.samples = asked.samples;
        m_trial.lens.mostRounds = 16;
        m_trial.camera = cameraAt(0);
    }
    [[nodiscard]] const Frame& at(int frame)
    {
        const auto it = m_frames.find(frame);
        if (it != m_frames.end()) return it->second;
        const auto camera = cameraAt(frame);
        auto passes = withScene(frame, [&](const reference::Scene& scene) {
            return reference::renderPasses(scene, camera, 256);
        });
        auto distance = depth::toDistance(passes.depth).distance;
        return m_frames[frame] = {
                   std::move(passes.colour), std::move(distance),
                   others::FrameCamera::of(reference::headerOf(camera), camera.width, camera.height, 0.0)};
    }
    [[nodiscard]] RgbaImage traced(int frame) const
    {
        const auto camera = cameraAt(frame);
        return withScene(frame, [&](const reference::Scene& scene) {
            return reference::renderLens(scene, camera, m_trial.lens);
        });
    }
    [[nodiscard]] std::vector<others::View> neighbours(int frame)
    {
        std::vector<others::View> views;
        for (const int step : steps())
            for (const int side : {-1, 1})
                views.push_back(at(frame + side * step).view());
        return views;
    }
    /// As a delivery chooses them.
    [[nodiscard]] const std::vector<int>& steps()
    {
        if (!m_steps.empty()) return m_steps;
        const Frame& own = at(0);
        const double nearest = static_cast<double>(*std::ranges::min_element(own.distance.pixels()));
        const double farther = std::max(1.5 * nearest, m_trial.lens.focusDistance);
        const double radius = std::abs(settings().blurModel(m_width).radiusPx(nearest));
        const double each =
            others::parallax(*own.camera, *at(1).camera, m_width, m_width * 9 / 16, nearest, farther);
        const int longest = m_scene.demoFrame ? 8 : 16; // the demo's shot is no longer
        m_steps = others::stepsAway(others::OtherFrames::nearFrames, radius, each, longest);
        return m_steps;
    }
    [[nodiscard]] defocus::LensSettings settings() const
    {
        return reference::engineSettings(m_trial.camera, m_trial.lens);
    }

private:
    [[nodiscard]] reference::Camera cameraAt(int frame) const
    {
        reference::Camera camera =
            m_scene.demoFrame ? reference::makeGreenhouse(m_scene.demoFrame + frame).camera : m_trial.camera;
        camera.width = m_width;
        camera.height = m_width * 9 / 16;
        if (m_scene.demoFrame) return camera;
        camera.eye.x += m_scene.drift * static_cast<float>(frame);
        camera.target.x += m_scene.drift * static_cast<float>(frame);
        return camera;
    }
    ViewScene m_scene;
    reference::Trial m_trial;
    int m_width;
    std::map<int, Frame> m_frames;
    std::vector<int> m_steps;
};

struct Pictures
{
    RgbaImage truth;
    RgbaImage single;
    RgbaImage more;
    SeenBehindPtr seen;
};

double shareSeen(const Frame& frame, const SeenBehind& seen, const defocus::LensSettings& settings)
{
    const auto apart = defocus::takeApart({frame.colour, frame.distance}, settings);
    double guessed = 0.0;
    double found = 0.0;
    for (std::size_t i = 0; i < seen.weight.size(); ++i) {
        if (apart.hidden.coverage.pixels()[i] <= 0.0F || apart.visible.coverage.pixels()[i] < 1.0F) continue;
        guessed += 1.0;
        if (seen.weight.pixels()[i] >= 0.5F) found += 1.0;
    }
    return guessed > 0.0 ? found / guessed : 0.0;
}

Quality rays(const Frame& frame, const SeenBehindPtr& seen, const defocus::LensSettings& settings,
             const RgbaImage& truth)
{
    constexpr int points = 512; // of the lens
    defocus::LensInput input(frame.colour, frame.distance);
    input.setSeenBehind(seen);
    return compare(throughLens(defocus::takeApart(input, settings), settings.iris, points), truth,
                   edgeBand(frame.distance));
}

void writePictures(const std::filesystem::path& folder, const std::string& scene,
                   const std::map<int, Pictures>& frames)
{
    std::filesystem::create_directories(folder);
    std::string name = scene;
    for (char& c : name)
        if (c == ' ' || c == ',') c = c == ' ' ? '-' : '_';
    const Pictures& first = frames.at(0);
    const CropPlace place = worstPlace(first.single, first.truth);
    writeCrops(folder / (name + "-views.png"), {{&first.single, &first.more, &first.truth}}, place);
    std::vector<std::vector<const RgbaImage*>> strip(3);
    for (const auto& [frame, pictures] : frames) {
        strip[0].push_back(&pictures.single);
        strip[1].push_back(&pictures.more);
        strip[2].push_back(&pictures.truth);
    }
    writeCrops(folder / (name + "-strip.png"), strip, place);
}

} // namespace

const std::vector<ViewScene>& viewScenes()
{
    static const std::vector<ViewScene> scenes{
        {"wire before books, 60 px"},         {"wire before books, 15 px"},
        {"chain before letters, 60 px"},      {"ball behind a bar, 60 px"},
        {"stalks before an edge, 60 px"},     {"bars, focus at the wall"},
        {"greenhouse, can", false, 0, 10},    {"net before fruit, 60 px", true},
        {"railing before tiles, 60 px", true}};
    return scenes;
}

ViewsResult moreViews(const ViewScene& scene, const ViewsAsked& asked)
{
    Frames frames(scene, asked);
    const auto settings = frames.settings();
    const auto model = settings.blurModel(asked.width);
    ViewsResult result;
    std::map<int, Pictures> made;
    for (int frame = 0; frame < (asked.crops.empty() ? 2 : 4); ++frame) {
        Pictures& pictures = made[frame];
        const auto neighbours = frames.neighbours(frame);
        const Frame& self = frames.at(frame);
        pictures.truth = frames.traced(frame);
        result.seconds =
            secondsOf([&] { pictures.seen = others::lookBehind(self.view(), neighbours, model); });
        defocus::LensInput input(self.colour, self.distance);
        result.lensSeconds = secondsOf([&] { pictures.single = defocus::defocus(input, settings); });
        input.setSeenBehind(pictures.seen);
        pictures.more = defocus::defocus(input, settings);
    }
    result.steps = frames.steps();
    const Frame& self = frames.at(0);
    const Pictures& first = made.at(0);
    const Pictures& second = made.at(1);
    const auto band = edgeBand(self.distance);
    result.single = compare(first.single, first.truth, band);
    result.views = compare(first.more, first.truth, band);
    if (first.seen) result.seen = shareSeen(self, *first.seen, settings);
    if (asked.limits) {
        result.singleRays = rays(self, nullptr, settings, first.truth);
        result.viewsRays = rays(self, first.seen, settings, first.truth);
    }
    if (!asked.crops.empty()) writePictures(asked.crops, scene.name, made);
    result.traced = changeDifference(first.truth, second.truth, nullptr, nullptr);
    result.singleDeparts = changeDifference(first.single, second.single, &first.truth, &second.truth);
    result.viewsDeparts = changeDifference(first.more, second.more, &first.truth, &second.truth);
    return result;
}

} // namespace retinex::bench
