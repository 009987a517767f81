#include "reference/town_scenes.h"

#include "reference/shapes.h"

#include <cmath>
#include <numbers>

namespace retinex::reference {

Trial stairwell()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int banister = scene.addObject("banister");
    const int clock = scene.addObject("clock");
    const int white = scene.addMaterial({{0.62F, 0.6F, 0.55F}, {}, Pattern::plain, 1.F, {}});
    const int oak =
        scene.addMaterial({{0.34F, 0.21F, 0.1F}, {0.27F, 0.16F, 0.08F}, Pattern::planks, 9.F, {}});
    const int brass = scene.addMaterial({{0.56F, 0.4F, 0.13F}, {}, Pattern::plain, 1.F, {}});
    const int face =
        scene.addMaterial({{0.7F, 0.68F, 0.6F}, {0.2F, 0.18F, 0.16F}, Pattern::stripes, 34.F, {}});
    const int paper =
        scene.addMaterial({{0.3F, 0.38F, 0.33F}, {0.42F, 0.47F, 0.4F}, Pattern::stripes, 7.F, {}});
    const int carpet =
        scene.addMaterial({{0.42F, 0.1F, 0.09F}, {0.3F, 0.06F, 0.07F}, Pattern::checker, 14.F, {}});
    const int daylight = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {2.2F, 2.5F, 3.F}});
    for (int i = 0; i < 6; ++i) {
        const float x = -0.42F + 0.15F * static_cast<float>(i);
        const float foot = -0.5F + 0.05F * static_cast<float>(i);
        scene.add(lathe({x, foot, -0.85F},
                        {{0.014F, 0.F},
                         {0.014F, 0.12F},
                         {0.024F, 0.17F},
                         {0.011F, 0.26F},
                         {0.019F, 0.36F},
                         {0.012F, 0.42F},
                         {0.012F, 0.5F}},
                        {white, banister}));
    }
    scene.add(beam({-0.7F, -0.08F, -0.85F}, {0.7F, 0.39F, -0.85F}, 0.04F, {oak, banister}));
    scene.add(box({-0.13F, -0.5F, -2.25F}, {0.13F, 0.02F, -2.05F}, {oak, clock}));
    scene.add(box({-0.16F, 0.02F, -2.28F}, {0.16F, 0.34F, -2.02F}, {oak, clock}));
    scene.add(sphere({0.F, 0.18F, -2.02F}, 0.09F, {face, clock}));
    scene.add(beam({0.F, 0.18F, -1.92F}, {0.05F, 0.23F, -1.92F}, 0.008F, {brass, clock}));
    scene.add(sphere({-0.13F, 0.37F, -2.05F}, 0.025F, {brass, clock}));
    scene.add(sphere({0.13F, 0.37F, -2.05F}, 0.025F, {brass, clock}));
    for (int i = 0; i < 9; ++i) {
        const float low = -0.6F + 0.15F * static_cast<float>(i);
        const float from = -2.9F - 0.22F * static_cast<float>(i);
        scene.add(box({-1.9F, -1.F, from - 0.22F}, {-0.35F, low, from}, {white, scenery}));
        scene.add(box({-1.5F, low, from - 0.22F}, {-0.7F, low + 0.008F, from + 0.006F}, {carpet, scenery}));
    }
    scene.add(box({-4.F, -1.F, -5.2F}, {4.F, 3.F, -5.F}, {paper, scenery}));
    scene.add(box({0.5F, -0.1F, -4.99F}, {1.4F, 1.2F, -4.97F}, {daylight, scenery}));
    for (const float x : {0.5F, 0.95F, 1.4F})
        scene.add(box({x - 0.025F, -0.13F, -4.96F}, {x + 0.025F, 1.23F, -4.92F}, {white, scenery}));
    for (const float y : {-0.1F, 0.33F, 0.76F, 1.2F})
        scene.add(box({0.48F, y - 0.02F, -4.96F}, {1.42F, y + 0.02F, -4.92F}, {white, scenery}));
    scene.add(box({-4.F, -1.2F, -6.F}, {4.F, -0.5F, -1.F}, {oak, scenery}));
    scene.addLight({{1.F, 1.6F, -0.2F}, {3.6F, 3.3F, 2.8F}, true});
    scene.addLight({{-1.F, 1.5F, -3.F}, {4.F, 3.8F, 3.4F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.05F}, {0.11F, 0.11F, 0.12F});
    scene.commit();
    trial.camera = {{0.F, 0.08F, 0.F}, {0.F, 0.F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 1.98;
    return trial;
}

Trial orchard()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int branch = scene.addObject("branch");
    const int ladder = scene.addObject("ladder");
    const int bark =
        scene.addMaterial({{0.3F, 0.23F, 0.16F}, {0.2F, 0.15F, 0.1F}, Pattern::speckle, 30.F, {}});
    const int green =
        scene.addMaterial({{0.13F, 0.3F, 0.06F}, {0.08F, 0.2F, 0.04F}, Pattern::stripes, 40.F, {}});
    const int red =
        scene.addMaterial({{0.58F, 0.1F, 0.06F}, {0.62F, 0.42F, 0.1F}, Pattern::speckle, 22.F, {}});
    const int pale =
        scene.addMaterial({{0.55F, 0.44F, 0.28F}, {0.45F, 0.35F, 0.2F}, Pattern::planks, 16.F, {}});
    const int meadow =
        scene.addMaterial({{0.2F, 0.33F, 0.1F}, {0.28F, 0.38F, 0.13F}, Pattern::speckle, 5.F, {}});
    const int paint = scene.addMaterial({{0.6F, 0.6F, 0.62F}, {}, Pattern::plain, 1.F, {}});
    Dice dice(2311);
    scene.add(tube(
        [](float t) {
            return Vec{0.62F - 0.9F * t, 0.3F - 0.1F * t - 0.05F * t * t, -0.9F - 0.05F * t};
        },
        [](float t) { return 0.016F - 0.01F * t; }, {bark, branch}));
    for (int i = 0; i < 13; ++i) {
        const float t = static_cast<float>(i) / 13.F;
        const Vec root{0.6F - 0.86F * t, 0.3F - 0.1F * t - 0.05F * t * t, -0.9F - 0.05F * t};
        const float side = i % 2 ? 1.F : -1.F;
        scene.add(leaf(root, root + Vec{dice(-0.09F, 0.02F), side * dice(0.07F, 0.13F), dice(-0.05F, 0.05F)},
                       {0.02F, 0.F, 0.02F}, dice(0.035F, 0.05F), {green, branch}));
    }
    for (const float t : {0.25F, 0.55F, 0.9F}) {
        const Vec at{0.6F - 0.86F * t, 0.22F - 0.1F * t - 0.05F * t * t, -0.9F - 0.05F * t};
        scene.add(sphere(at, 0.038F, {red, branch}));
    }
    for (const float x : {-0.14F, 0.16F})
        scene.add(beam({x, -0.9F, -2.F}, {0.6F * x, 0.8F, -2.3F}, 0.035F, {pale, ladder}));
    for (int i = 0; i < 7; ++i) {
        const float t = 0.1F + 0.13F * static_cast<float>(i);
        const float y = -0.9F + 1.7F * t;
        const float z = -2.F - 0.3F * t;
        const float half = 0.15F - 0.06F * t;
        scene.add(beam({-half, y, z}, {half + 0.02F, y, z}, 0.022F, {pale, ladder}));
    }
    scene.add(tube(
        [](float t) {
            return Vec{0.3F - 0.25F * t, -0.9F + 1.9F * t, -2.6F + 0.1F * std::sin(4.F * t)};
        },
        [](float t) { return 0.1F - 0.04F * t; }, {bark, scenery}));
    for (int i = 0; i < 90; ++i) {
        const Vec root{dice(-0.9F, 1.3F), dice(0.25F, 1.1F), dice(-3.1F, -2.3F)};
        scene.add(leaf(root, root + Vec{dice(-0.12F, 0.12F), dice(-0.12F, 0.06F), dice(-0.08F, 0.08F)},
                       {0.F, 0.02F, 0.F}, dice(0.04F, 0.06F), {green, scenery}));
    }
    for (int i = 0; i < 5; ++i) {
        const float x = -4.F + 1.9F * static_cast<float>(i);
        scene.add(beam({x, -1.F, -7.F}, {x + 0.15F, 0.4F, -7.1F}, 0.16F, {bark, scenery}));
        scene.add(sphere({x + 0.15F, 0.95F, -7.1F}, 0.75F, {green, scenery}));
    }
    for (int i = -16; i <= 16; ++i) {
        const float x = 0.24F * static_cast<float>(i);
        scene.add(box({x - 0.05F, -0.9F, -5.02F}, {x + 0.05F, -0.25F, -5.F}, {paint, scenery}));
    }
    for (const float y : {-0.7F, -0.4F})
        scene.add(box({-4.2F, y - 0.04F, -5.06F}, {4.2F, y + 0.04F, -5.03F}, {paint, scenery}));
    scene.add(box({-30.F, -1.F, -40.F}, {30.F, -0.9F, 2.F}, {meadow, scenery}));
    scene.addLight({{2.F, 3.F, 0.5F}, {14.F, 13.F, 10.F}, true});
    scene.addLight({{-5.F, 5.F, -3.F}, {26.F, 25.F, 24.F}, true});
    scene.setAmbient({0.06F, 0.07F, 0.04F}, {0.24F, 0.28F, 0.36F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, -0.02F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 2.15;
    return trial;
}

Trial market()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int bunting = scene.addObject("bunting");
    const int crates = scene.addObject("crates");
    const int cord = scene.addMaterial({{0.5F, 0.48F, 0.42F}, {}, Pattern::plain, 1.F, {}});
    const int flags[3] = {
        scene.addMaterial({{0.6F, 0.14F, 0.1F}, {0.64F, 0.6F, 0.5F}, Pattern::stripes, 24.F, {}}),
        scene.addMaterial({{0.1F, 0.3F, 0.5F}, {}, Pattern::plain, 1.F, {}}),
        scene.addMaterial({{0.62F, 0.5F, 0.12F}, {0.5F, 0.38F, 0.1F}, Pattern::checker, 30.F, {}})};
    const int slats =
        scene.addMaterial({{0.48F, 0.36F, 0.22F}, {0.36F, 0.26F, 0.15F}, Pattern::planks, 10.F, {}});
    const int lemon = scene.addMaterial({{0.66F, 0.55F, 0.1F}, {}, Pattern::plain, 1.F, {}});
    const int plum =
        scene.addMaterial({{0.22F, 0.08F, 0.2F}, {0.3F, 0.14F, 0.28F}, Pattern::speckle, 20.F, {}});
    const int canvas =
        scene.addMaterial({{0.6F, 0.58F, 0.52F}, {0.12F, 0.36F, 0.24F}, Pattern::stripes, 5.F, {}});
    const int brick =
        scene.addMaterial({{0.3F, 0.15F, 0.1F}, {0.24F, 0.12F, 0.09F}, Pattern::planks, 6.F, {}});
    const int cobbles =
        scene.addMaterial({{0.24F, 0.23F, 0.22F}, {0.16F, 0.16F, 0.16F}, Pattern::checker, 8.F, {}});
    const int lit = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {5.F, 3.6F, 1.9F}});
    scene.add(tube(
        [](float t) {
            return Vec{-0.6F + 1.2F * t, 0.3F - 0.3F * t * (1.F - t), -0.9F};
        },
        [](float) { return 0.004F; }, {cord, bunting}));
    for (int i = 0; i < 8; ++i) {
        const float t = 0.06F + 0.125F * static_cast<float>(i);
        const Vec top{-0.6F + 1.2F * t, 0.3F - 0.3F * t * (1.F - t), -0.9F};
        for (int k = 0; k < 6; ++k) {
            const float from = 0.015F * static_cast<float>(k);
            const float half = 0.04F * (1.F - static_cast<float>(k) / 6.F);
            scene.add(box(top - Vec{half, from + 0.015F, 0.F}, top + Vec{half, -from, 0.003F},
                          {flags[i % 3], bunting}));
        }
    }
    scene.add(beam({-0.36F, -0.7F, -0.95F}, {-0.35F, 0.6F, -0.95F}, 0.03F, {slats, bunting}));
    for (int c = 0; c < 3; ++c) {
        const float x = -0.62F + 0.46F * static_cast<float>(c);
        const float z = -2.1F - 0.12F * static_cast<float>(c % 2);
        for (int i = 0; i < 3; ++i) {
            const float y = -0.42F + 0.075F * static_cast<float>(i);
            scene.add(box({x, y, z}, {x + 0.4F, y + 0.055F, z + 0.012F}, {slats, crates}));
            scene.add(box({x, y, z - 0.3F}, {x + 0.012F, y + 0.055F, z}, {slats, crates}));
        }
        scene.add(box({x, -0.44F, z - 0.3F}, {x + 0.4F, -0.42F, z}, {slats, crates}));
        for (int i = 0; i < 14; ++i) {
            const float along = static_cast<float>(i % 5) * 0.075F;
            const float back = static_cast<float>(i / 5) * 0.09F;
            scene.add(sphere(
                {x + 0.05F + along, -0.19F + 0.02F * static_cast<float>((i * 7) % 3), z - 0.05F - back},
                0.042F, {c % 2 ? plum : lemon, crates}));
        }
    }
    scene.add(box({-1.4F, -0.5F, -2.6F}, {1.4F, -0.44F, -1.95F}, {slats, scenery}));
    for (int s = 0; s < 3; ++s) {
        const float x = -2.6F + 1.8F * static_cast<float>(s);
        const float z = -4.6F - 0.4F * static_cast<float>(s % 2);
        for (const float side : {0.F, 1.2F})
            scene.add(beam({x + side, -1.F, z}, {x + side, 0.55F, z}, 0.04F, {cord, scenery}));
        scene.add(box({x - 0.1F, 0.5F, z - 0.8F}, {x + 1.3F, 0.75F, z + 0.1F}, {canvas, scenery}));
        scene.add(sphere({x + 0.6F, 0.42F, z}, 0.03F, {lit, scenery}));
    }
    scene.add(box({-9.F, -1.F, -9.2F}, {9.F, 5.F, -9.F}, {brick, scenery}));
    for (int i = 0; i < 5; ++i) {
        const float x = -4.F + 1.7F * static_cast<float>(i);
        scene.add(box({x, 0.7F, -8.99F}, {x + 0.7F, 1.8F, -8.97F}, {i % 2 ? canvas : lit, scenery}));
        scene.add(box({x + 0.32F, 0.7F, -8.96F}, {x + 0.38F, 1.8F, -8.93F}, {slats, scenery}));
    }
    scene.add(box({-20.F, -1.2F, -20.F}, {20.F, -1.F, 2.F}, {cobbles, scenery}));
    scene.addLight({{-1.5F, 2.F, 0.F}, {7.F, 6.5F, 6.F}, true});
    scene.addLight({{2.F, 3.F, -4.F}, {9.F, 8.F, 6.5F}, true});
    scene.setAmbient({0.04F, 0.04F, 0.04F}, {0.1F, 0.11F, 0.14F});
    scene.commit();
    trial.camera = {{0.F, 0.05F, 0.F}, {0.F, -0.1F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 1.8;
    trial.lens.focusDistance = 2.1;
    return trial;
}

Trial station()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int cart = scene.addObject("cart");
    const int luggage = scene.addObject("luggage");
    const int chrome = scene.addMaterial({{0.56F, 0.57F, 0.58F}, {}, Pattern::plain, 1.F, {}});
    const int leather =
        scene.addMaterial({{0.38F, 0.22F, 0.1F}, {0.3F, 0.17F, 0.08F}, Pattern::stripes, 12.F, {}});
    const int cloth =
        scene.addMaterial({{0.18F, 0.26F, 0.3F}, {0.3F, 0.36F, 0.34F}, Pattern::checker, 24.F, {}});
    const int green = scene.addMaterial({{0.1F, 0.24F, 0.16F}, {}, Pattern::plain, 1.F, {}});
    const int tiles =
        scene.addMaterial({{0.42F, 0.4F, 0.36F}, {0.32F, 0.3F, 0.28F}, Pattern::checker, 3.F, {}});
    const int cream =
        scene.addMaterial({{0.6F, 0.55F, 0.42F}, {0.5F, 0.14F, 0.1F}, Pattern::stripes, 1.6F, {}});
    const int glass = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {1.3F, 1.2F, 0.9F}});
    const int red = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {14.F, 1.2F, 0.6F}});
    const int brick =
        scene.addMaterial({{0.32F, 0.17F, 0.12F}, {0.26F, 0.14F, 0.1F}, Pattern::planks, 7.F, {}});
    scene.add(tube(
        [](float t) {
            return Vec{-0.55F + 0.75F * t, 0.06F + 0.12F * std::sin(3.1F * t), -0.9F};
        },
        [](float) { return 0.013F; }, {chrome, cart}, 40));
    for (int i = 0; i < 5; ++i) {
        const float x = -0.46F + 0.13F * static_cast<float>(i);
        scene.add(beam({x, -0.6F, -0.93F}, {x + 0.03F, 0.12F, -0.9F}, 0.01F, {chrome, cart}));
    }
    scene.add(beam({-0.6F, -0.16F, -0.92F}, {0.22F, -0.16F, -0.92F}, 0.012F, {chrome, cart}));
    for (int i = 0; i < 4; ++i) {
        const float y = -0.34F + 0.13F * static_cast<float>(i);
        const float z = i == 0 ? -2.1F : -2.5F;
        scene.add(box({-0.9F, y, z - 0.04F}, {1.F, y + 0.08F, z}, {green, scenery}));
    }
    for (const float x : {-0.85F, 0.95F})
        scene.add(beam({x, -0.8F, -2.3F}, {x, 0.15F, -2.55F}, 0.05F, {green, scenery}));
    scene.add(box({-0.35F, -0.26F, -2.35F}, {0.1F, 0.06F, -2.12F}, {leather, luggage}));
    scene.add(box({0.16F, -0.26F, -2.3F}, {0.44F, 0.2F, -2.1F}, {cloth, luggage}));
    scene.add(tube(
        [](float t) {
            return Vec{-0.2F + 0.16F * t, 0.06F + 0.05F * std::sin(3.14F * t), -2.2F};
        },
        [](float) { return 0.01F; }, {leather, luggage}));
    scene.add(beam({0.22F, 0.2F, -2.15F}, {0.22F, 0.4F, -2.15F}, 0.012F, {chrome, luggage}));
    scene.add(beam({0.38F, 0.2F, -2.15F}, {0.38F, 0.4F, -2.15F}, 0.012F, {chrome, luggage}));
    scene.add(beam({0.2F, 0.4F, -2.15F}, {0.4F, 0.4F, -2.15F}, 0.02F, {chrome, luggage}));
    for (int i = 0; i < 4; ++i) {
        const float x = -2.7F + 1.6F * static_cast<float>(i);
        scene.add(lathe({x, -0.8F, -4.2F},
                        {{0.12F, 0.F}, {0.08F, 0.15F}, {0.06F, 0.3F}, {0.06F, 1.9F}, {0.16F, 2.1F}},
                        {green, scenery}));
    }
    scene.add(box({-6.F, -0.9F, -6.6F}, {6.F, 0.9F, -6.F}, {cream, scenery}));
    for (int i = 0; i < 8; ++i) {
        const float x = -3.8F + 0.95F * static_cast<float>(i);
        scene.add(box({x, 0.05F, -5.99F}, {x + 0.65F, 0.6F, -5.97F}, {glass, scenery}));
    }
    scene.add(beam({1.5F, -0.8F, -5.2F}, {1.5F, 1.1F, -5.2F}, 0.05F, {brick, scenery}));
    scene.add(sphere({1.5F, 0.95F, -5.16F}, 0.045F, {red, scenery}));
    scene.add(box({-12.F, -1.F, -11.F}, {12.F, 5.F, -10.8F}, {brick, scenery}));
    scene.add(box({-12.F, -1.F, -11.F}, {12.F, -0.8F, 1.F}, {tiles, scenery}));
    scene.addLight({{-1.5F, 2.2F, 0.F}, {7.F, 6.6F, 6.F}, true});
    scene.addLight({{2.F, 3.F, -5.F}, {12.F, 11.5F, 11.F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.05F}, {0.13F, 0.14F, 0.16F});
    scene.commit();
    trial.camera = {{0.F, 0.05F, 0.F}, {0.F, -0.05F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 2.12;
    return trial;
}

} // namespace retinex::reference
