#include "bench/view_trials.h"

#include "bench/timing.h"
#include "core/defocus/defocus.h"
#include "core/defocus/repair/edge_repair.h"
#include "core/depth/depth_reading.h"
#include "core/views/look_behind.h"
#include "reference/camera_header.h"
#include "reference/scenes.h"

#include <cmath>
#include <map>

namespace retinex::bench {

namespace {

struct Frame
{
    RgbaImage colour;
    Plane<float> distance;
    std::optional<views::ViewCamera> camera;
};

} // namespace

ViewsResult moreViews(const std::string& scene, int width, int samples)
{
    reference::Trial trial = reference::makeTrial(scene);
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    trial.lens.samples = samples;
    trial.lens.mostRounds = 16;
    const auto settings = reference::engineSettings(trial.camera, trial.lens);
    const auto cameraAt = [&](int frame) {
        constexpr float drift = 0.008F; // metres a frame
        reference::Camera camera = trial.camera;
        camera.eye.x += drift * static_cast<float>(frame);
        camera.target.x += drift * static_cast<float>(frame);
        return camera;
    };
    std::map<int, Frame> frames;
    for (const int frame : {-5, -4, -2, -1, 0, 1, 2, 3, 5, 6}) {
        const auto camera = cameraAt(frame);
        auto passes = reference::renderPasses(trial.scene, camera, 256);
        auto distance = depth::toDistance(passes.depth).distance;
        frames[frame] = {
            std::move(passes.colour), std::move(distance),
            views::ViewCamera::of(reference::headerOf(camera), camera.width, camera.height, 0.0)};
    }
    const auto viewOf = [&](int frame) {
        const Frame& f = frames.at(frame);
        return views::View{&f.colour, &f.distance, *f.camera};
    };
    ViewsResult result;
    const auto model = settings.blurModel(width);
    std::array<RgbaImage, 2> truth;
    std::array<RgbaImage, 2> single;
    std::array<RgbaImage, 2> more;
    for (const int frame : {0, 1}) {
        const auto at = static_cast<std::size_t>(frame);
        truth[at] = reference::renderLens(trial.scene, cameraAt(frame), trial.lens);
        const views::View self = viewOf(frame);
        std::vector<views::View> neighbours;
        for (const int step : {-2, 2, -5, 5})
            neighbours.push_back(viewOf(frame + step));
        SeenBehindPtr seen;
        result.seconds = secondsOf([&] { seen = views::lookBehind(self, neighbours, model); });
        defocus::LensInput input(*self.colour, *self.distance);
        result.lensSeconds = secondsOf([&] { single[at] = defocus::defocus(input, settings); });
        input.setSeenBehind(seen);
        more[at] = defocus::defocus(input, settings);
        if (frame > 0) continue;
        const auto band = edgeBand(*self.distance);
        result.single = compare(single[0], truth[0], band);
        result.views = compare(more[0], truth[0], band);
        if (!seen) continue;
        const auto apart = defocus::takeApart({*self.colour, *self.distance}, settings);
        double guessed = 0.0;
        double found = 0.0;
        for (std::size_t i = 0; i < seen->weight.size(); ++i) {
            if (apart.hidden.coverage.pixels()[i] <= 0.0F || apart.visible.coverage.pixels()[i] < 1.0F)
                continue;
            guessed += 1.0;
            if (seen->weight.pixels()[i] >= 0.5F) found += 1.0;
        }
        result.seen = guessed > 0.0 ? found / guessed : 0.0;
    }
    result.traced = changeDifference(truth[0], truth[1], nullptr, nullptr);
    result.singleDeparts = changeDifference(single[0], single[1], &truth[0], &truth[1]);
    result.viewsDeparts = changeDifference(more[0], more[1], &truth[0], &truth[1]);
    return result;
}

} // namespace retinex::bench
