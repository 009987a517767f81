#include "reference/yard_scenes.h"

#include "reference/shapes.h"

#include <cmath>
#include <numbers>

namespace retinex::reference {

Trial blind()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int slats = scene.addObject("slats");
    const int plant = scene.addObject("plant");
    const int cream = scene.addMaterial({{0.6F, 0.57F, 0.5F}, {}, Pattern::plain, 1.F, {}});
    const int clay =
        scene.addMaterial({{0.5F, 0.24F, 0.15F}, {0.44F, 0.2F, 0.12F}, Pattern::stripes, 30.F, {}});
    const int green =
        scene.addMaterial({{0.12F, 0.3F, 0.1F}, {0.2F, 0.4F, 0.15F}, Pattern::stripes, 60.F, {}});
    const int sill =
        scene.addMaterial({{0.42F, 0.4F, 0.38F}, {0.36F, 0.34F, 0.32F}, Pattern::speckle, 40.F, {}});
    const int brick =
        scene.addMaterial({{0.38F, 0.18F, 0.13F}, {0.3F, 0.27F, 0.25F}, Pattern::checker, 4.F, {}});
    const int glow = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {30.F, 21.F, 10.F}});
    for (int i = 0; i < 9; ++i) {
        const float y = -0.28F + 0.075F * static_cast<float>(i);
        scene.add(box({-0.6F, y, -0.62F}, {0.12F, y + 0.012F, -0.58F}, {cream, slats}));
    }
    for (const float x : {-0.3F, 0.06F})
        scene.add(beam({x, -0.4F, -0.57F}, {x, 0.5F, -0.57F}, 0.004F, {cream, slats}));
    scene.add(box({-1.5F, -0.42F, -2.4F}, {1.5F, -0.36F, -1.6F}, {sill, scenery}));
    scene.add(lathe({0.12F, -0.36F, -2.F},
                    {{0.F, 0.F}, {0.1F, 0.F}, {0.15F, 0.2F}, {0.16F, 0.22F}, {0.14F, 0.22F}}, {clay, plant}));
    Dice dice(311);
    for (int i = 0; i < 22; ++i) {
        const Vec root{0.12F + dice(-0.06F, 0.06F), -0.15F, -2.F + dice(-0.06F, 0.06F)};
        scene.add(leaf(root, root + Vec{dice(-0.3F, 0.3F), dice(0.15F, 0.5F), dice(-0.2F, 0.2F)},
                       {0.F, dice(0.02F, 0.1F), 0.F}, dice(0.02F, 0.05F), {green, plant}));
    }
    scene.add(sphere({-0.3F, -0.3F, -1.9F}, 0.06F, {clay, plant}));
    scene.add(box({-7.F, -4.F, -7.2F}, {7.F, 4.F, -7.F}, {brick, scenery}));
    for (int i = 0; i < 9; ++i)
        scene.add(
            sphere({dice(-2.6F, 2.6F), dice(-0.9F, 1.4F), dice(-6.8F, -4.5F)}, 0.025F, {glow, scenery}, 24));
    scene.addLight({{1.5F, 2.F, -0.2F}, {5.F, 4.6F, 4.F}, true});
    scene.addLight({{-2.F, 3.F, -4.F}, {9.F, 9.F, 10.F}, true});
    scene.setAmbient({0.04F, 0.04F, 0.04F}, {0.12F, 0.12F, 0.13F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.05F, -0.08F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 2.0;
    return trial;
}

Trial wheel()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int ropes = scene.addObject("ropes");
    const int turned = scene.addObject("wheel");
    const int hemp =
        scene.addMaterial({{0.46F, 0.38F, 0.24F}, {0.34F, 0.27F, 0.16F}, Pattern::stripes, 90.F, {}});
    const int oak =
        scene.addMaterial({{0.4F, 0.26F, 0.14F}, {0.32F, 0.2F, 0.11F}, Pattern::planks, 20.F, {}});
    const int iron = scene.addMaterial({{0.16F, 0.16F, 0.17F}, {}, Pattern::plain, 1.F, {}});
    const int wall =
        scene.addMaterial({{0.5F, 0.46F, 0.4F}, {0.36F, 0.32F, 0.27F}, Pattern::planks, 5.F, {}});
    const int straw =
        scene.addMaterial({{0.5F, 0.44F, 0.22F}, {0.42F, 0.36F, 0.16F}, Pattern::speckle, 14.F, {}});
    for (int i = 0; i < 3; ++i) {
        const float x = -0.26F + 0.24F * static_cast<float>(i);
        scene.add(tube(
            [=](float t) {
                return Vec{x + 0.05F * std::sin(5.F * t), 0.5F - t, -0.8F - 0.1F * x};
            },
            [](float) { return 0.007F; }, {hemp, ropes}, 60));
    }
    const Vec hub{0.08F, -0.05F, -2.2F};
    const auto rim = [&](float angle, float radius) {
        return hub +
               Vec{radius * std::cos(angle), radius * std::sin(angle), 0.25F * radius * std::cos(angle)};
    };
    constexpr float turn = 2.F * std::numbers::pi_v<float>;
    scene.add(
        tube([&](float t) { return rim(turn * t, 0.42F); }, [](float) { return 0.03F; }, {oak, turned}, 64));
    scene.add(tube([&](float t) { return rim(turn * t, 0.46F); }, [](float) { return 0.014F; },
                   {iron, turned}, 64));
    for (int i = 0; i < 12; ++i) {
        const float angle = turn * static_cast<float>(i) / 12.F + 0.1F;
        scene.add(beam(hub, rim(angle, 0.42F), 0.024F, {oak, turned}));
    }
    scene.add(sphere(hub, 0.07F, {oak, turned}));
    scene.add(box({-6.F, -0.6F, -6.F}, {6.F, -0.55F, 0.5F}, {straw, scenery}));
    scene.add(box({-6.F, -1.F, -5.2F}, {6.F, 4.F, -5.F}, {wall, scenery}));
    for (const float x : {-1.4F, -0.7F, 0.9F, 1.6F})
        scene.add(lathe({x, -0.55F, -3.9F - 0.2F * x},
                        {{0.F, 0.F}, {0.24F, 0.F}, {0.3F, 0.35F}, {0.24F, 0.7F}, {0.F, 0.7F}},
                        {oak, scenery}));
    scene.add(beam({-1.1F, -0.5F, -3.F}, {-0.5F, 0.9F, -3.2F}, 0.04F, {oak, scenery}));
    scene.addLight({{-1.5F, 2.5F, 0.F}, {11.F, 10.F, 8.F}, true});
    scene.addLight({{2.5F, 2.F, -3.F}, {4.F, 4.F, 5.F}, true});
    scene.setAmbient({0.04F, 0.04F, 0.04F}, {0.12F, 0.12F, 0.12F});
    scene.commit();
    trial.camera = {{0.F, 0.08F, 0.F}, {0.04F, -0.04F, -2.2F}, 48.F, 36.F, 960, 540};
    trial.lens.fStop = 1.6;
    trial.lens.focusDistance = 2.2;
    return trial;
}

Trial harbour()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int rigging = scene.addObject("rigging");
    const int buoys = scene.addObject("buoys");
    const int water =
        scene.addMaterial({{0.08F, 0.13F, 0.17F}, {0.11F, 0.17F, 0.21F}, Pattern::stripes, 2.F, {}});
    const int hull = scene.addMaterial({{0.5F, 0.5F, 0.48F}, {0.2F, 0.28F, 0.4F}, Pattern::planks, 3.F, {}});
    const int pole =
        scene.addMaterial({{0.44F, 0.33F, 0.2F}, {0.38F, 0.28F, 0.16F}, Pattern::planks, 9.F, {}});
    const int line = scene.addMaterial({{0.5F, 0.48F, 0.42F}, {}, Pattern::plain, 1.F, {}});
    const int red =
        scene.addMaterial({{0.55F, 0.13F, 0.08F}, {0.6F, 0.58F, 0.54F}, Pattern::stripes, 12.F, {}});
    const int quay =
        scene.addMaterial({{0.3F, 0.28F, 0.26F}, {0.24F, 0.22F, 0.2F}, Pattern::checker, 1.F, {}});
    scene.add(box({-40.F, -1.6F, -60.F}, {40.F, -1.5F, 3.F}, {water, scenery}));
    Dice dice(727);
    for (int i = 0; i < 7; ++i) {
        const float z = -2.6F - 1.7F * static_cast<float>(i);
        const Vec foot{dice(-0.32F, 0.32F) * -z, -1.2F, z};
        const Vec top = foot + Vec{dice(-0.05F, 0.05F), 2.6F, 0.F};
        scene.add(box(foot + Vec{-0.35F, -0.3F, -0.5F}, foot + Vec{0.35F, 0.F, 0.5F}, {hull, scenery}));
        scene.add(beam(foot, top, 0.05F, {pole, rigging}));
        scene.add(
            beam(foot + Vec{-0.05F, 0.35F, 0.F}, foot + Vec{0.7F, 0.4F, 0.1F}, 0.035F, {pole, rigging}));
        for (const Vec& end :
             {Vec{-0.35F, 0.F, 0.4F}, Vec{0.35F, 0.F, 0.4F}, Vec{0.F, 0.F, -0.5F}, Vec{0.7F, 0.4F, 0.1F}})
            scene.add(beam(top, foot + end, 0.008F, {line, rigging}));
    }
    scene.add(tube(
        [](float t) {
            return Vec{-0.5F + t, 0.25F - 0.35F * t + 0.2F * t * t, -0.9F};
        },
        [](float) { return 0.006F; }, {line, rigging}));
    for (const float x : {-0.28F, 0.3F})
        scene.add(sphere({x, -0.2F - 0.1F * x, -0.95F}, 0.06F, {red, buoys}));
    scene.add(box({-20.F, -1.6F, -22.F}, {20.F, -0.7F, -20.F}, {quay, scenery}));
    for (int i = 0; i < 12; ++i) {
        const int lit =
            scene.addMaterial({{}, {}, Pattern::plain, 1.F, Vec{14.F, 9.F, 4.F} * dice(0.5F, 2.F)});
        const Vec at{-8.5F + 1.5F * static_cast<float>(i), dice(-0.3F, 0.6F), -20.F};
        scene.add(beam({at.x, -0.8F, at.z}, at, 0.05F, {quay, scenery}));
        scene.add(sphere(at, 0.07F, {lit, scenery}, 24));
    }
    scene.addLight({{-9.F, 10.F, 4.F}, {90.F, 80.F, 62.F}, true});
    scene.setAmbient({0.04F, 0.04F, 0.05F}, {0.16F, 0.18F, 0.24F});
    scene.commit();
    trial.camera = {{0.F, 0.1F, 0.F}, {0.F, -0.1F, -4.F}, 48.F, 36.F, 960, 540};
    trial.lens.fStop = 1.4;
    trial.lens.focusDistance = 4.3;
    return trial;
}

} // namespace retinex::reference
