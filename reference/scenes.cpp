#include "reference/scenes.h"

#include "core/system/error.h"
#include "reference/calm_scenes.h"
#include "reference/greenhouse.h"
#include "reference/house_scenes.h"
#include "reference/late_scenes.h"
#include "reference/outside_scenes.h"
#include "reference/rooms.h"
#include "reference/shapes.h"
#include "reference/town_scenes.h"
#include "reference/unseen_scenes.h"
#include "reference/yard_scenes.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace retinex::reference {

namespace {

Vec gold{0.55F, 0.36F, 0.10F};

/// A patterned wall, floor and a few things in the middle distance.
void addRoom(Scene& scene, float wallZ)
{
    const int scenery = scene.addObject("");
    const int wall =
        scene.addMaterial({{0.62F, 0.55F, 0.45F}, {0.18F, 0.24F, 0.30F}, Pattern::checker, 2.2F, {}});
    const int floor =
        scene.addMaterial({{0.40F, 0.25F, 0.14F}, {0.22F, 0.13F, 0.07F}, Pattern::planks, 5.F, {}});
    const int stripes =
        scene.addMaterial({{0.7F, 0.15F, 0.1F}, {0.85F, 0.8F, 0.7F}, Pattern::stripes, 9.F, {}});
    const int speckle =
        scene.addMaterial({{0.1F, 0.35F, 0.3F}, {0.5F, 0.7F, 0.5F}, Pattern::speckle, 30.F, {}});
    scene.add(box({-6.F, -1.F, wallZ - 0.1F}, {6.F, 4.F, wallZ}, {wall, scenery}));
    scene.add(box({-6.F, -1.1F, wallZ}, {6.F, -0.8F, 0.3F}, {floor, scenery}));
    scene.add(sphere({0.55F, -0.35F, -2.6F}, 0.45F, {stripes, scenery}, 64));
    scene.add(box({-1.305F, -0.8F, -3.205F}, {-0.605F, 0.355F, -2.705F}, {speckle, scenery}));
    scene.addLight({{2.F, 3.F, 0.F}, {9.F, 8.5F, 7.5F}, true});
    scene.addLight({{-2.5F, 2.F, -1.F}, {2.F, 2.4F, 3.2F}, true});
    scene.setAmbient({0.06F, 0.05F, 0.05F}, {0.22F, 0.24F, 0.28F});
}

Trial bars(double focus)
{
    Trial trial;
    addRoom(trial.scene, -5.F);
    const int object = trial.scene.addObject("bars");
    const int paint = trial.scene.addMaterial({{0.75F, 0.74F, 0.70F}, {}, Pattern::plain, 1.F, {}});
    const int dark = trial.scene.addMaterial({{0.05F, 0.05F, 0.06F}, {}, Pattern::plain, 1.F, {}});
    for (int i = -3; i <= 3; ++i) {
        const float x = 0.12F * static_cast<float>(i) + 0.03F;
        trial.scene.add(beam({x - 0.03F, -0.6F, -0.75F}, {x + 0.05F, 0.6F, -0.72F}, 0.012F,
                             {i % 2 ? dark : paint, object}));
    }
    trial.scene.add(beam({-0.6F, -0.08F, -0.8F}, {0.6F, 0.02F, -0.78F}, 0.02F, {paint, object}));
    trial.scene.add(beam({-0.6F, 0.14F, -0.95F}, {0.6F, 0.10F, -0.95F}, 0.015F, {dark, object}));
    trial.scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, -0.05F, -3.F}, 50.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = focus;
    return trial;
}

/// Small bright lights far behind a round subject in focus.
Trial lights()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int subject = scene.addObject("subject");
    const int wall =
        scene.addMaterial({{0.05F, 0.06F, 0.09F}, {0.02F, 0.02F, 0.03F}, Pattern::stripes, 0.7F, {}});
    const int skin = scene.addMaterial({gold, {0.25F, 0.1F, 0.05F}, Pattern::checker, 18.F, {}});
    scene.add(box({-9.F, -5.F, -10.1F}, {9.F, 5.F, -10.F}, {wall, scenery}));
    scene.add(sphere({0.02F, -0.02F, -1.1F}, 0.14F, {skin, subject}, 96));
    Dice dice(11);
    for (int i = 0; i < 60; ++i) {
        const Vec colours[3] = {{60.F, 34.F, 12.F}, {18.F, 30.F, 55.F}, {50.F, 12.F, 10.F}};
        const int lamp = scene.addMaterial({{}, {}, Pattern::plain, 1.F, colours[i % 3] * dice(0.4F, 1.6F)});
        // Inside the frame with room for their discs, and not hidden by the subject: what the lens sees, the
        // passes hold.
        const float z = dice(-9.5F, -7.F);
        const Vec at{dice(-0.185F, 0.185F) * -z, dice(-0.095F, 0.095F) * -z, z};
        const float size = dice(0.012F, 0.03F);
        const bool isHidden = std::hypot(at.x / -z - 0.0182F, at.y / -z + 0.0182F) < 0.133F;
        if (!isHidden) scene.add(sphere(at, size, {lamp, scenery}, 16));
    }
    scene.addLight({{-1.F, 1.F, 0.5F}, {2.5F, 2.4F, 2.2F}, false});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, 0.F, -1.F}, 85.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 1.0;
    return trial;
}

/// Fine stalks at several distances before a ball, with nothing behind in the upper half.
Trial stalks()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int plants = scene.addObject("stalks");
    const int soil =
        scene.addMaterial({{0.25F, 0.17F, 0.1F}, {0.12F, 0.08F, 0.05F}, Pattern::speckle, 25.F, {}});
    const int ball = scene.addMaterial({{0.8F, 0.75F, 0.2F}, {0.2F, 0.2F, 0.6F}, Pattern::checker, 8.F, {}});
    scene.add(box({-5.F, -0.6F, -7.F}, {5.F, -0.5F, 0.F}, {soil, scenery}));
    scene.add(sphere({0.25F, -0.05F, -2.4F}, 0.42F, {ball, scenery}, 64));
    Dice dice(5);
    for (int i = 0; i < 46; ++i) {
        const float green = dice(0.3F, 0.7F);
        const int skin =
            scene.addMaterial({{green * 0.5F, green, green * 0.25F}, {}, Pattern::plain, 1.F, {}});
        const Vec foot{dice(-1.4F, 1.4F), -0.5F, dice(-4.F, -0.9F)};
        const Vec lean{dice(-0.25F, 0.25F), dice(0.5F, 1.0F), dice(-0.15F, 0.15F)};
        const float thick = dice(0.002F, 0.006F);
        scene.add(tube(
            [=](float t) {
                return foot + lean * t + Vec{0.1F * t * t, 0.F, 0.F};
            },
            [=](float t) { return thick * (1.F - 0.6F * t); }, {skin, plants}));
    }
    scene.addLight({{1.5F, 2.F, 0.F}, {6.F, 6.F, 5.5F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.04F}, {0.3F, 0.33F, 0.4F});
    scene.commit();
    trial.camera = {{0.F, 0.05F, 0.F}, {0.F, -0.02F, -2.F}, 50.F, 36.F, 960, 540};
    trial.lens.fStop = 1.8;
    trial.lens.focusDistance = 1.9;
    return trial;
}

/// A field of blades of grass, out to the open sky.
Trial grass()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int soil =
        scene.addMaterial({{0.16F, 0.14F, 0.08F}, {0.1F, 0.09F, 0.05F}, Pattern::speckle, 12.F, {}});
    scene.add(box({-12.F, -0.41F, -16.F}, {12.F, -0.4F, 0.F}, {soil, scenery}));
    std::vector<int> greens;
    Dice dice(23);
    for (int i = 0; i < 8; ++i) {
        const float g = dice(0.25F, 0.6F);
        greens.push_back(
            scene.addMaterial({{g * dice(0.4F, 0.8F), g, g * 0.3F}, {}, Pattern::plain, 1.F, {}}));
    }
    for (int i = 0; i < 2600; ++i) {
        const float z = -0.7F - 9.F * std::pow(dice(0.F, 1.F), 1.6F);
        const Vec root{dice(-0.55F, 0.55F) * -z, -0.4F, z};
        const Vec tip = root + Vec{dice(-0.12F, 0.12F), dice(0.25F, 0.5F), dice(-0.1F, 0.1F)};
        scene.add(leaf(root, tip, {dice(-0.05F, 0.05F), 0.F, dice(-0.05F, 0.05F)}, dice(0.008F, 0.018F),
                       {greens[static_cast<std::size_t>(i) % greens.size()], scenery}));
    }
    scene.addLight({{3.F, 5.F, -1.F}, {26.F, 25.F, 22.F}, false});
    scene.setAmbient({0.03F, 0.04F, 0.02F}, {0.25F, 0.28F, 0.33F});
    scene.commit();
    trial.camera = {{0.F, 0.02F, 0.F}, {0.F, -0.12F, -3.F}, 60.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 2.2;
    return trial;
}

Trial greenhouse(int frame, double focus)
{
    GreenhouseFrame built = makeGreenhouse(frame);
    LensSampling lens{1.4, focus, {}, 1024};
    lens.iris.blades = 7;
    return {{}, std::move(built.scene), built.camera, lens};
}

/// All scenes, in the order they are measured in.
struct NamedTrial
{
    std::string name;
    std::function<Trial()> make;
};

const std::vector<NamedTrial>& workedOn()
{
    static const std::vector<NamedTrial> trials{
        {"bars, focus behind", [] { return bars(2.4); }},
        {"bars, focus at the wall", [] { return bars(5.0); }},
        {"lights", lights},
        {"stalks", stalks},
        {"grass", grass},
        {"greenhouse, can", [] { return greenhouse(10, GreenhouseFrame::canDistance); }},
        {"greenhouse, stems", [] { return greenhouse(4, GreenhouseFrame::stemDistance); }},
        {"corner of a room", cornerRoom},
        {"street", street},
        {"steps", steps},
        {"shelf", shelf},
        {"fence", fence},
        {"arcade", arcade},
        {"workbench", workbench},
        {"balcony", balcony},
        {"table", table},
        {"reeds", reeds},
        {"blind", blind},
        {"wheel", wheel},
        {"harbour", harbour},
        {"aviary", aviary},
        {"kitchen", kitchen},
        {"gallery", gallery},
        {"stairwell", stairwell},
        {"orchard", orchard},
        {"market", market},
        {"station", station},
        {"bakery", bakery},
        {"wire before books, 15 px", [] { return wireBeforeBooks(15.0); }},
        {"wire before books, 60 px", [] { return wireBeforeBooks(60.0); }},
        {"stalks before an edge, 15 px", [] { return stalksBeforeAnEdge(15.0); }},
        {"stalks before an edge, 60 px", [] { return stalksBeforeAnEdge(60.0); }},
        {"chain before letters, 15 px", [] { return chainBeforeLetters(15.0); }},
        {"chain before letters, 60 px", [] { return chainBeforeLetters(60.0); }},
        {"ball behind a bar, 15 px", [] { return ballBehindABar(15.0); }},
        {"ball behind a bar, 60 px", [] { return ballBehindABar(60.0); }}};
    return trials;
}

const std::vector<NamedTrial>& keptOut()
{
    static const std::vector<NamedTrial> trials{
        {"pier", pier},
        {"library", library},
        {"laundry", laundry},
        {"net before fruit, 15 px", [] { return netBeforeFruit(15.0); }},
        {"net before fruit, 60 px", [] { return netBeforeFruit(60.0); }},
        {"railing before tiles, 15 px", [] { return railingBeforeTiles(15.0); }},
        {"railing before tiles, 60 px", [] { return railingBeforeTiles(60.0); }}};
    return trials;
}

std::vector<std::string> namesOf(const std::vector<NamedTrial>& trials)
{
    std::vector<std::string> names;
    for (const NamedTrial& trial : trials)
        names.push_back(trial.name);
    return names;
}

} // namespace

defocus::LensSettings engineSettings(const Camera& camera, const LensSampling& lens)
{
    defocus::LensSettings settings;
    settings.lens = {camera.focalLengthMm, lens.fStop, 1000.0 * lens.focusDistance};
    settings.sensorWidthMm = camera.sensorWidthMm;
    settings.iris = lens.iris;
    return settings;
}

const std::vector<std::string>& trialNames()
{
    static const std::vector<std::string> names = namesOf(workedOn());
    return names;
}

const std::vector<std::string>& keptOutTrialNames()
{
    static const std::vector<std::string> names = namesOf(keptOut());
    return names;
}

Trial makeTrial(const std::string& name)
{
    for (const auto* trials : {&workedOn(), &keptOut()})
        for (const NamedTrial& named : *trials) {
            if (named.name != name) continue;
            Trial trial = named.make();
            trial.name = name;
            return trial;
        }
    throw Error("There is no reference scene called \"" + name + "\".");
}

} // namespace retinex::reference
