#include "reference/house_scenes.h"

#include "reference/shapes.h"

#include <cmath>
#include <numbers>

namespace retinex::reference {

Trial aviary()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int mesh = scene.addObject("mesh");
    const int bird = scene.addObject("bird");
    const int wire = scene.addMaterial({{0.45F, 0.46F, 0.47F}, {}, Pattern::plain, 1.F, {}});
    const int feathers =
        scene.addMaterial({{0.15F, 0.3F, 0.5F}, {0.5F, 0.45F, 0.2F}, Pattern::stripes, 26.F, {}});
    const int beak = scene.addMaterial({{0.6F, 0.35F, 0.08F}, {}, Pattern::plain, 1.F, {}});
    const int bark =
        scene.addMaterial({{0.28F, 0.2F, 0.13F}, {0.2F, 0.14F, 0.09F}, Pattern::speckle, 40.F, {}});
    const int green =
        scene.addMaterial({{0.1F, 0.26F, 0.07F}, {0.18F, 0.36F, 0.1F}, Pattern::stripes, 30.F, {}});
    const int sand =
        scene.addMaterial({{0.46F, 0.4F, 0.3F}, {0.4F, 0.34F, 0.25F}, Pattern::speckle, 6.F, {}});
    for (int i = -7; i <= 7; ++i) {
        const float at = 0.06F * static_cast<float>(i);
        scene.add(beam({at - 0.5F, -0.5F, -0.75F}, {at + 0.5F, 0.5F, -0.75F}, 0.004F, {wire, mesh}));
        scene.add(beam({at + 0.5F, -0.5F, -0.755F}, {at - 0.5F, 0.5F, -0.755F}, 0.004F, {wire, mesh}));
    }
    scene.add(box({-0.5F, -0.5F, -0.77F}, {-0.33F, 0.5F, -0.74F}, {bark, mesh}));
    scene.add(tube(
        [](float t) {
            return Vec{-0.9F + 1.8F * t, -0.14F + 0.1F * t + 0.03F * std::sin(9.F * t), -1.9F - 0.4F * t};
        },
        [](float t) { return 0.03F - 0.012F * t; }, {bark, scenery}));
    scene.add(lathe({0.F, -0.11F, -2.07F},
                    {{0.F, 0.F}, {0.06F, 0.02F}, {0.1F, 0.1F}, {0.07F, 0.19F}, {0.F, 0.23F}},
                    {feathers, bird}));
    scene.add(sphere({0.02F, 0.16F, -2.03F}, 0.055F, {feathers, bird}));
    scene.add(beam({0.06F, 0.16F, -2.02F}, {0.12F, 0.14F, -2.F}, 0.018F, {beak, bird}));
    scene.add(beam({-0.06F, 0.F, -2.1F}, {-0.26F, -0.2F, -2.2F}, 0.03F, {feathers, bird}));
    Dice dice(1201);
    for (int i = 0; i < 140; ++i) {
        const Vec root{dice(-2.2F, 2.6F), dice(-0.9F, 0.5F), dice(-5.F, -3.2F)};
        scene.add(leaf(root, root + Vec{dice(-0.3F, 0.3F), dice(0.1F, 0.4F), dice(-0.2F, 0.2F)},
                       {0.F, dice(0.02F, 0.1F), 0.F}, dice(0.03F, 0.08F), {green, scenery}));
    }
    for (const float x : {-1.3F, 0.8F, 1.9F})
        scene.add(beam({x, -1.F, -4.4F}, {x + 0.2F, 1.2F, -4.6F}, 0.07F, {bark, scenery}));
    scene.add(box({-20.F, -1.1F, -30.F}, {20.F, -1.F, 2.F}, {sand, scenery}));
    scene.addLight({{2.F, 3.F, 0.F}, {12.F, 11.F, 9.F}, true});
    scene.addLight({{-4.F, 4.F, -6.F}, {20.F, 20.F, 22.F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.04F}, {0.2F, 0.22F, 0.26F});
    scene.commit();
    trial.camera = {{0.F, 0.05F, 0.F}, {0.02F, 0.F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 2.05;
    return trial;
}

Trial kitchen()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int ladles = scene.addObject("ladles");
    const int jars = scene.addObject("jars");
    const int steel = scene.addMaterial({{0.5F, 0.5F, 0.52F}, {}, Pattern::plain, 1.F, {}});
    const int copper =
        scene.addMaterial({{0.6F, 0.28F, 0.16F}, {0.52F, 0.24F, 0.13F}, Pattern::stripes, 30.F, {}});
    const int glazed =
        scene.addMaterial({{0.5F, 0.48F, 0.4F}, {0.14F, 0.24F, 0.42F}, Pattern::stripes, 18.F, {}});
    const int wood =
        scene.addMaterial({{0.36F, 0.24F, 0.13F}, {0.28F, 0.18F, 0.1F}, Pattern::planks, 12.F, {}});
    const int tiles =
        scene.addMaterial({{0.55F, 0.55F, 0.5F}, {0.36F, 0.44F, 0.44F}, Pattern::checker, 5.F, {}});
    const int sky = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {3.F, 3.4F, 4.F}});
    scene.add(beam({-1.F, 0.28F, -0.85F}, {1.F, 0.25F, -0.85F}, 0.012F, {steel, ladles}));
    for (int i = 0; i < 4; ++i) {
        const float x = -0.3F + 0.19F * static_cast<float>(i);
        const float low = -0.02F - 0.03F * static_cast<float>(i % 2);
        scene.add(beam({x, 0.28F, -0.84F}, {x + 0.01F, low, -0.84F}, 0.009F, {steel, ladles}));
        scene.add(sphere({x + 0.01F, low - 0.03F, -0.84F}, 0.035F, {i % 2 ? copper : steel, ladles}));
    }
    scene.add(box({-1.2F, -0.42F, -2.3F}, {1.2F, -0.37F, -1.7F}, {wood, scenery}));
    scene.add(box({-1.2F, 0.2F, -2.3F}, {0.3F, 0.24F, -2.F}, {wood, scenery}));
    for (int i = 0; i < 6; ++i) {
        const float x = -0.62F + 0.22F * static_cast<float>(i);
        const float size = i % 3 == 0 ? 1.2F : 0.9F;
        scene.add(lathe({x, -0.37F, -1.95F + 0.05F * static_cast<float>(i % 2)},
                        {{0.F, 0.F},
                         {0.07F * size, 0.F},
                         {0.085F * size, 0.1F * size},
                         {0.05F * size, 0.19F * size},
                         {0.055F * size, 0.22F * size},
                         {0.F, 0.22F * size}},
                        {i % 2 ? copper : glazed, jars}));
    }
    for (int i = 0; i < 3; ++i)
        scene.add(lathe({-0.7F + 0.35F * static_cast<float>(i), 0.24F, -2.15F},
                        {{0.F, 0.F}, {0.1F, 0.F}, {0.12F, 0.14F}, {0.F, 0.14F}}, {glazed, jars}));
    scene.add(box({-4.F, -2.F, -4.2F}, {4.F, 3.F, -4.F}, {tiles, scenery}));
    scene.add(box({0.3F, -0.1F, -3.99F}, {1.4F, 1.F, -3.98F}, {sky, scenery}));
    scene.add(box({0.82F, -0.1F, -3.97F}, {0.88F, 1.F, -3.93F}, {wood, scenery}));
    scene.add(box({0.3F, 0.42F, -3.97F}, {1.4F, 0.47F, -3.93F}, {wood, scenery}));
    scene.addLight({{-1.F, 1.5F, -0.3F}, {4.F, 3.7F, 3.2F}, true});
    scene.addLight({{1.F, 1.F, -3.4F}, {3.F, 3.2F, 3.6F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.05F}, {0.1F, 0.1F, 0.1F});
    scene.commit();
    trial.camera = {{0.F, 0.05F, 0.F}, {0.F, -0.05F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 1.8;
    trial.lens.focusDistance = 1.92;
    return trial;
}

Trial gallery()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int barrier = scene.addObject("barrier");
    const int vase = scene.addObject("vase");
    const int brass = scene.addMaterial({{0.5F, 0.38F, 0.14F}, {}, Pattern::plain, 1.F, {}});
    const int cord =
        scene.addMaterial({{0.4F, 0.06F, 0.08F}, {0.28F, 0.04F, 0.06F}, Pattern::stripes, 50.F, {}});
    const int marble =
        scene.addMaterial({{0.6F, 0.58F, 0.55F}, {0.5F, 0.48F, 0.46F}, Pattern::speckle, 8.F, {}});
    const int paint =
        scene.addMaterial({{0.1F, 0.14F, 0.3F}, {0.55F, 0.5F, 0.42F}, Pattern::stripes, 14.F, {}});
    const int wall = scene.addMaterial({{0.3F, 0.14F, 0.12F}, {}, Pattern::plain, 1.F, {}});
    const int floor =
        scene.addMaterial({{0.42F, 0.34F, 0.24F}, {0.26F, 0.2F, 0.14F}, Pattern::checker, 1.5F, {}});
    for (const float x : {-0.34F, 0.3F}) {
        scene.add(beam({x, -0.8F, -1.F}, {x, -0.04F, -1.F}, 0.025F, {brass, barrier}));
        scene.add(sphere({x, -0.03F, -1.F}, 0.024F, {brass, barrier}));
    }
    for (const float from : {-0.98F, -0.34F, 0.3F})
        scene.add(tube(
            [=](float t) {
                return Vec{from + 0.64F * t, -0.08F - 0.5F * t * (1.F - t), -1.F};
            },
            [](float) { return 0.014F; }, {cord, barrier}, 40));
    scene.add(box({-0.2F, -0.9F, -2.7F}, {0.2F, -0.28F, -2.3F}, {marble, scenery}));
    scene.add(lathe({0.F, -0.28F, -2.5F},
                    {{0.F, 0.F},
                     {0.07F, 0.F},
                     {0.05F, 0.05F},
                     {0.15F, 0.22F},
                     {0.13F, 0.32F},
                     {0.05F, 0.4F},
                     {0.08F, 0.46F}},
                    {paint, vase}));
    for (const float side : {-1.F, 1.F})
        scene.add(tube(
            [=](float t) {
                const float angle = std::numbers::pi_v<float> * t;
                return Vec{side * (0.07F + 0.12F * std::sin(angle)), 0.F + 0.11F * std::cos(angle), -2.5F};
            },
            [](float) { return 0.014F; }, {paint, vase}, 30));
    for (int i = 0; i < 5; ++i) {
        const float z = -3.4F - 0.8F * static_cast<float>(i);
        for (const float x : {-1.15F, 1.05F})
            scene.add(lathe({x, -0.9F, z}, {{0.F, 0.F}, {0.16F, 0.F}, {0.13F, 0.1F}, {0.11F, 2.4F}},
                            {marble, scenery}));
    }
    scene.add(box({-6.F, -1.F, -9.F}, {6.F, -0.9F, 2.F}, {floor, scenery}));
    scene.add(box({-6.F, -1.F, -8.3F}, {6.F, 4.F, -8.F}, {wall, scenery}));
    Dice dice(1409);
    for (int i = 0; i < 5; ++i) {
        const int picture = scene.addMaterial({{dice(0.1F, 0.6F), dice(0.1F, 0.6F), dice(0.1F, 0.6F)},
                                               {dice(0.05F, 0.3F), dice(0.05F, 0.3F), dice(0.05F, 0.3F)},
                                               Pattern::planks,
                                               6.F,
                                               {}});
        const float x = -2.6F + 1.25F * static_cast<float>(i);
        scene.add(box({x - 0.45F, -0.2F, -8.F}, {x + 0.45F, 0.9F, -7.95F}, {brass, scenery}));
        scene.add(box({x - 0.38F, -0.13F, -7.95F}, {x + 0.38F, 0.83F, -7.94F}, {picture, scenery}));
    }
    scene.addLight({{1.F, 2.F, -0.5F}, {8.F, 7.5F, 6.5F}, true});
    scene.addLight({{-1.F, 2.6F, -5.F}, {9.F, 8.6F, 8.F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.05F}, {0.12F, 0.12F, 0.12F});
    scene.commit();
    trial.camera = {{0.F, 0.1F, 0.F}, {0.F, -0.06F, -2.5F}, 48.F, 36.F, 960, 540};
    trial.lens.fStop = 1.6;
    trial.lens.focusDistance = 2.42;
    return trial;
}

Trial bakery()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int rack = scene.addObject("rack");
    const int loaves = scene.addObject("loaves");
    const int steel = scene.addMaterial({{0.4F, 0.41F, 0.42F}, {}, Pattern::plain, 1.F, {}});
    const int crust =
        scene.addMaterial({{0.42F, 0.25F, 0.1F}, {0.56F, 0.38F, 0.18F}, Pattern::speckle, 30.F, {}});
    const int flour = scene.addMaterial({{0.7F, 0.66F, 0.58F}, {}, Pattern::plain, 1.F, {}});
    const int wood =
        scene.addMaterial({{0.36F, 0.26F, 0.16F}, {0.29F, 0.2F, 0.12F}, Pattern::planks, 10.F, {}});
    const int brick =
        scene.addMaterial({{0.36F, 0.17F, 0.12F}, {0.24F, 0.12F, 0.09F}, Pattern::checker, 5.F, {}});
    const int tiles =
        scene.addMaterial({{0.5F, 0.5F, 0.46F}, {0.2F, 0.28F, 0.3F}, Pattern::checker, 3.F, {}});
    const int jar =
        scene.addMaterial({{0.5F, 0.44F, 0.3F}, {0.2F, 0.12F, 0.08F}, Pattern::stripes, 20.F, {}});
    const int embers = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {0.5F, 0.13F, 0.03F}});
    const int bulb = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {1.4F, 1.1F, 0.6F}});
    for (const float x : {-0.44F, 0.4F})
        scene.add(beam({x, -0.7F, -0.92F}, {x, 0.5F, -0.92F}, 0.014F, {steel, rack}));
    for (int shelf = 0; shelf < 2; ++shelf) {
        const float y = -0.2F + 0.38F * static_cast<float>(shelf);
        for (int i = 0; i < 4; ++i) {
            const float z = -0.84F - 0.05F * static_cast<float>(i);
            scene.add(beam({-0.44F, y, z}, {0.4F, y, z}, 0.005F, {steel, rack}));
        }
    }
    for (int i = 0; i < 3; ++i)
        scene.add(lathe({-0.28F + 0.25F * static_cast<float>(i), 0.185F, -0.9F},
                        {{0.05F, 0.F}, {0.085F, 0.03F}, {0.08F, 0.07F}, {0.F, 0.1F}}, {crust, rack}));
    scene.add(box({-0.8F, -0.36F, -2.5F}, {0.9F, -0.31F, -1.85F}, {wood, scenery}));
    for (int i = 0; i < 5; ++i)
        scene.add(
            lathe({-0.4F + 0.2F * static_cast<float>(i), -0.31F, -2.08F - 0.08F * static_cast<float>(i % 2)},
                  {{0.06F, 0.F}, {0.1F, 0.04F}, {0.09F, 0.09F}, {0.F, 0.13F}}, {crust, loaves}));
    scene.add(lathe({0.6F, -0.31F, -2.05F}, {{0.08F, 0.F}, {0.13F, 0.1F}, {0.12F, 0.1F}, {0.F, 0.06F}},
                    {flour, loaves}));
    for (int i = 0; i < 4; ++i)
        scene.add(tube(
            [i](float t) {
                const float turn = std::numbers::pi_v<float> * t;
                const float side = static_cast<float>(i) * 0.25F * std::numbers::pi_v<float>;
                const float wide = 0.035F * std::sin(turn);
                return Vec{0.62F + wide * std::cos(side), -0.06F + 0.12F * t, -2.05F + wide * std::sin(side)};
            },
            [](float) { return 0.004F; }, {steel, loaves}, 20));
    scene.add(beam({0.62F, 0.06F, -2.05F}, {0.66F, 0.24F, -2.05F}, 0.012F, {wood, loaves}));
    scene.add(box({-2.2F, -1.F, -5.2F}, {0.2F, 1.3F, -4.6F}, {brick, scenery}));
    scene.add(box({-1.5F, -0.2F, -4.59F}, {-0.5F, 0.25F, -4.57F}, {embers, scenery}));
    for (int i = 0; i < 6; ++i)
        scene.add(beam({-1.45F + 0.18F * static_cast<float>(i), -0.2F, -4.5F},
                       {-1.45F + 0.18F * static_cast<float>(i), 0.25F, -4.5F}, 0.012F, {steel, scenery}));
    for (int row = 0; row < 3; ++row) {
        const float y = -0.3F + 0.5F * static_cast<float>(row);
        scene.add(box({0.5F, y - 0.04F, -4.9F}, {3.F, y, -4.5F}, {wood, scenery}));
        for (int i = 0; i < 7; ++i)
            if ((i + row) % 4 != 3)
                scene.add(lathe({0.7F + 0.32F * static_cast<float>(i), y, -4.7F},
                                {{0.1F, 0.F}, {0.1F, 0.2F}, {0.06F, 0.24F}, {0.06F, 0.3F}}, {jar, scenery}));
    }
    for (const float x : {-0.2F, 1.4F}) {
        scene.add(beam({x, 0.62F, -3.6F}, {x, 2.F, -3.6F}, 0.008F, {steel, scenery}));
        scene.add(sphere({x, 0.58F, -3.6F}, 0.05F, {bulb, scenery}));
    }
    scene.add(box({-6.F, -1.F, -5.4F}, {6.F, 3.F, -5.2F}, {tiles, scenery}));
    scene.add(box({-6.F, -1.2F, -5.4F}, {6.F, -1.F, 1.F}, {tiles, scenery}));
    scene.addLight({{1.2F, 1.6F, -0.6F}, {0.5F, 0.45F, 0.36F}, true}); // rendered four stops dark
    scene.addLight({{-1.F, 1.2F, -3.4F}, {0.45F, 0.38F, 0.26F}, true});
    scene.setAmbient({0.004F, 0.004F, 0.004F}, {0.008F, 0.008F, 0.01F});
    scene.commit();
    trial.camera = {{0.F, 0.08F, 0.F}, {0.F, -0.06F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 1.8;
    trial.lens.focusDistance = 2.02;
    return trial;
}

} // namespace retinex::reference
