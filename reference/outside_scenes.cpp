#include "reference/outside_scenes.h"

#include "reference/shapes.h"

#include <cmath>

namespace retinex::reference {

Trial balcony()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int railing = scene.addObject("railing");
    const int still = scene.addObject("still life");
    const int plaster = scene.addMaterial({{0.66F, 0.62F, 0.55F}, {}, Pattern::plain, 1.F, {}});
    const int floor =
        scene.addMaterial({{0.4F, 0.3F, 0.24F}, {0.3F, 0.22F, 0.18F}, Pattern::checker, 6.F, {}});
    const int wood =
        scene.addMaterial({{0.36F, 0.22F, 0.12F}, {0.27F, 0.16F, 0.09F}, Pattern::planks, 9.F, {}});
    const int glaze =
        scene.addMaterial({{0.12F, 0.24F, 0.42F}, {0.5F, 0.52F, 0.5F}, Pattern::stripes, 26.F, {}});
    const int roof =
        scene.addMaterial({{0.34F, 0.16F, 0.11F}, {0.26F, 0.12F, 0.09F}, Pattern::planks, 3.F, {}});
    const int house =
        scene.addMaterial({{0.45F, 0.4F, 0.34F}, {0.38F, 0.33F, 0.28F}, Pattern::speckle, 2.F, {}});
    const int hill =
        scene.addMaterial({{0.16F, 0.24F, 0.12F}, {0.1F, 0.17F, 0.09F}, Pattern::speckle, 0.4F, {}});
    for (int i = -4; i <= 4; ++i)
        scene.add(lathe(
            {0.15F * static_cast<float>(i) + 0.04F, -0.5F, -0.9F},
            {{0.F, 0.F}, {0.03F, 0.F}, {0.012F, 0.08F}, {0.032F, 0.2F}, {0.01F, 0.38F}, {0.022F, 0.46F}},
            {plaster, railing}, 32));
    scene.add(beam({-1.2F, -0.02F, -0.92F}, {1.2F, -0.01F, -0.88F}, 0.05F, {plaster, railing}));
    scene.add(box({-3.F, -0.62F, -4.2F}, {3.F, -0.55F, 0.4F}, {floor, scenery}));
    scene.add(box({-0.5F, 0.F, -2.7F}, {0.5F, 0.03F, -2.1F}, {wood, still}));
    for (const float x : {-0.45F, 0.45F})
        scene.add(beam({x, -0.55F, -2.4F}, {x, 0.F, -2.4F}, 0.05F, {wood, still}));
    scene.add(lathe({0.05F, 0.03F, -2.4F},
                    {{0.F, 0.F}, {0.07F, 0.F}, {0.11F, 0.1F}, {0.05F, 0.22F}, {0.06F, 0.27F}},
                    {glaze, still}));
    scene.add(sphere({-0.2F, 0.07F, -2.3F}, 0.04F, {roof, still}));
    Dice dice(97);
    for (int i = 0; i < 26; ++i) {
        const Vec low{dice(-9.F, 9.F), -4.F, dice(-26.F, -11.F)};
        const float wide = dice(0.8F, 1.8F);
        const float tall = dice(2.2F, 4.4F);
        scene.add(box(low, low + Vec{wide, tall, wide}, {house, scenery}));
        scene.add(box(low + Vec{-0.1F, tall, -0.1F}, low + Vec{wide + 0.1F, tall + 0.3F, wide + 0.1F},
                      {roof, scenery}));
        const int lit =
            scene.addMaterial({{}, {}, Pattern::plain, 1.F, Vec{9.F, 6.F, 2.6F} * dice(0.4F, 1.5F)});
        for (int k = 0; k < 2; ++k) {
            const Vec at = low + Vec{wide * dice(0.15F, 0.75F), tall * dice(0.5F, 0.9F), wide};
            scene.add(box(at, at + Vec{0.14F, 0.18F, 0.02F}, {lit, scenery}));
        }
    }
    scene.add(sphere({-8.F, -14.F, -48.F}, 17.F, {hill, scenery}, 64));
    scene.add(sphere({14.F, -16.F, -52.F}, 18.F, {hill, scenery}, 64));
    scene.addLight({{-3.F, 5.F, 2.F}, {22.F, 20.F, 17.F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.06F}, {0.16F, 0.17F, 0.24F});
    scene.commit();
    trial.camera = {{0.F, 0.12F, 0.F}, {0.05F, 0.F, -2.4F}, 42.F, 36.F, 960, 540};
    trial.lens.fStop = 1.8;
    trial.lens.focusDistance = 2.4;
    return trial;
}

Trial table()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int laid = scene.addObject("laid");
    const int branch = scene.addObject("branch");
    const int cloth =
        scene.addMaterial({{0.7F, 0.68F, 0.62F}, {0.55F, 0.16F, 0.14F}, Pattern::checker, 11.F, {}});
    const int wall =
        scene.addMaterial({{0.22F, 0.26F, 0.3F}, {0.17F, 0.2F, 0.24F}, Pattern::stripes, 5.F, {}});
    const int bottle = scene.addMaterial({{0.06F, 0.2F, 0.1F}, {}, Pattern::plain, 1.F, {}});
    const int steel = scene.addMaterial({{0.6F, 0.6F, 0.62F}, {}, Pattern::plain, 1.F, {}});
    const int china =
        scene.addMaterial({{0.74F, 0.73F, 0.7F}, {0.3F, 0.38F, 0.6F}, Pattern::stripes, 40.F, {}});
    const int bark = scene.addMaterial({{0.2F, 0.14F, 0.1F}, {}, Pattern::plain, 1.F, {}});
    const int green =
        scene.addMaterial({{0.16F, 0.34F, 0.1F}, {0.22F, 0.42F, 0.14F}, Pattern::speckle, 60.F, {}});
    const int flame = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {70.F, 42.F, 14.F}});
    scene.add(box({-0.8F, -0.36F, -4.5F}, {0.8F, -0.33F, -0.3F}, {cloth, scenery}));
    scene.add(box({-6.F, -2.F, -6.1F}, {6.F, 4.F, -6.F}, {wall, scenery}));
    Dice dice(59);
    for (int i = 0; i < 7; ++i) {
        const float z = -0.85F - 0.5F * static_cast<float>(i);
        const float side = i % 2 ? 0.28F : -0.3F;
        scene.add(lathe({side, -0.33F, z}, {{0.F, 0.F}, {0.06F, 0.F}, {0.1F, 0.018F}}, {china, laid}));
        for (int k = 0; k < 3; ++k)
            scene.add(beam({side + 0.13F + 0.012F * static_cast<float>(k), -0.32F, z - 0.08F},
                           {side + 0.13F + 0.012F * static_cast<float>(k), -0.315F, z + 0.08F}, 0.005F,
                           {steel, laid}));
        const Vec foot{dice(-0.1F, 0.1F), -0.33F, z - 0.2F};
        if (i % 3 == 1) {
            scene.add(lathe(foot,
                            {{0.F, 0.F}, {0.035F, 0.F}, {0.035F, 0.2F}, {0.012F, 0.26F}, {0.012F, 0.33F}},
                            {bottle, laid}));
        } else {
            scene.add(
                lathe(foot, {{0.F, 0.F}, {0.02F, 0.F}, {0.012F, 0.02F}, {0.012F, 0.22F}}, {china, laid}));
            scene.add(sphere(foot + Vec{0.F, 0.245F, 0.F}, 0.012F, {flame, laid}, 24));
        }
    }
    scene.add(tube(
        [](float t) {
            return Vec{-0.42F + 0.5F * t, 0.3F - 0.42F * t * t, -0.5F - 0.12F * t};
        },
        [](float t) { return 0.008F - 0.005F * t; }, {bark, branch}));
    for (int i = 0; i < 9; ++i) {
        const float t = 0.1F + 0.1F * static_cast<float>(i);
        const Vec root{-0.42F + 0.5F * t, 0.3F - 0.42F * t * t, -0.5F - 0.12F * t};
        scene.add(leaf(root, root + Vec{dice(-0.03F, 0.08F), dice(-0.12F, -0.03F), dice(-0.04F, 0.04F)},
                       {0.F, 0.02F, 0.01F}, dice(0.02F, 0.04F), {green, branch}));
    }
    scene.addLight({{1.F, 1.8F, -0.5F}, {3.6F, 3.3F, 2.8F}, true});
    scene.addLight({{-2.F, 2.F, -4.F}, {4.F, 3.6F, 3.F}, true});
    scene.setAmbient({0.03F, 0.03F, 0.03F}, {0.1F, 0.1F, 0.11F});
    scene.commit();
    trial.camera = {{0.F, 0.14F, 0.1F}, {0.F, -0.22F, -1.8F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 1.4;
    trial.lens.focusDistance = 1.7;
    return trial;
}

Trial reeds()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int plants = scene.addObject("reeds");
    const int post = scene.addObject("post");
    const int water =
        scene.addMaterial({{0.2F, 0.26F, 0.28F}, {0.16F, 0.21F, 0.24F}, Pattern::stripes, 1.5F, {}});
    const int stem =
        scene.addMaterial({{0.42F, 0.4F, 0.18F}, {0.36F, 0.36F, 0.14F}, Pattern::speckle, 30.F, {}});
    const int head = scene.addMaterial({{0.26F, 0.15F, 0.08F}, {}, Pattern::plain, 1.F, {}});
    const int wood =
        scene.addMaterial({{0.38F, 0.32F, 0.26F}, {0.28F, 0.23F, 0.18F}, Pattern::planks, 24.F, {}});
    const int bush =
        scene.addMaterial({{0.14F, 0.26F, 0.1F}, {0.2F, 0.34F, 0.12F}, Pattern::speckle, 4.F, {}});
    scene.add(box({-30.F, -1.1F, -40.F}, {30.F, -1.F, 2.F}, {water, scenery}));
    scene.add(beam({0.25F, -1.F, -3.F}, {0.2F, 0.35F, -3.F}, 0.22F, {wood, post}));
    scene.add(beam({-0.7F, 0.12F, -3.05F}, {0.9F, 0.2F, -3.05F}, 0.07F, {wood, post}));
    Dice dice(43);
    for (int i = 0; i < 38; ++i) {
        const float z = i < 12 ? dice(-1.4F, -0.7F) : dice(-9.F, -3.3F);
        const float wide = -0.42F * z;
        const Vec foot{dice(-wide, wide), -1.F, z};
        const Vec lean{dice(-0.15F, 0.15F), dice(0.9F, 1.5F), dice(-0.1F, 0.1F)};
        scene.add(tube(
            [=](float t) {
                return foot + Vec{lean.x * t * t, lean.y * t, lean.z * t};
            },
            [](float t) { return 0.007F - 0.003F * t; }, {stem, plants}));
        if (i % 2 == 0)
            scene.add(tube(
                [=](float t) {
                    return foot + lean + Vec{0.F, -0.16F + 0.14F * t, 0.F};
                },
                [](float t) {
                    return 0.016F * std::sqrt(std::max(0.F, 1.F - (2.F * t - 1.F) * (2.F * t - 1.F)));
                },
                {head, plants}));
        for (int k = 0; k < 2; ++k) {
            const Vec root = foot + Vec{0.F, lean.y * dice(0.2F, 0.5F), 0.F};
            scene.add(leaf(root, root + Vec{dice(-0.3F, 0.3F), dice(0.2F, 0.5F), dice(-0.1F, 0.1F)},
                           {0.F, 0.08F, 0.F}, 0.022F, {stem, plants}));
        }
    }
    for (int i = 0; i < 14; ++i)
        scene.add(sphere({dice(-14.F, 14.F), dice(-1.2F, -0.4F), dice(-24.F, -16.F)}, dice(0.9F, 1.8F),
                         {bush, scenery}, 32));
    scene.addLight({{-8.F, 12.F, 6.F}, {120.F, 112.F, 96.F}, true});
    scene.setAmbient({0.06F, 0.06F, 0.05F}, {0.24F, 0.27F, 0.32F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.05F, -0.05F, -3.F}, 50.F, 36.F, 960, 540};
    trial.lens.fStop = 1.8;
    trial.lens.focusDistance = 2.9;
    return trial;
}

} // namespace retinex::reference
