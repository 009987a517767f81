#include "reference/unseen_scenes.h"

#include "reference/shapes.h"

#include <cmath>
#include <numbers>

namespace retinex::reference {

Trial pier()
{
    Trial trial;
    trial.name = "pier";
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int railing = scene.addObject("railing");
    const int lantern = scene.addObject("lantern");
    const int paint = scene.addMaterial({{0.12F, 0.2F, 0.26F}, {}, Pattern::plain, 1.F, {}});
    const int rope =
        scene.addMaterial({{0.5F, 0.42F, 0.28F}, {0.36F, 0.29F, 0.18F}, Pattern::stripes, 60.F, {}});
    const int boards =
        scene.addMaterial({{0.4F, 0.36F, 0.31F}, {0.3F, 0.27F, 0.23F}, Pattern::planks, 7.F, {}});
    const int iron = scene.addMaterial({{0.2F, 0.2F, 0.21F}, {}, Pattern::plain, 1.F, {}});
    const int brass =
        scene.addMaterial({{0.55F, 0.42F, 0.16F}, {0.4F, 0.3F, 0.1F}, Pattern::stripes, 40.F, {}});
    const int hull =
        scene.addMaterial({{0.62F, 0.6F, 0.56F}, {0.46F, 0.12F, 0.1F}, Pattern::stripes, 2.5F, {}});
    const int sail =
        scene.addMaterial({{0.66F, 0.62F, 0.54F}, {0.58F, 0.54F, 0.46F}, Pattern::stripes, 3.F, {}});
    const int water =
        scene.addMaterial({{0.12F, 0.2F, 0.24F}, {0.2F, 0.28F, 0.31F}, Pattern::speckle, 1.5F, {}});
    const int flame = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {9.F, 6.F, 2.4F}});
    for (int i = 0; i < 4; ++i) {
        const float x = -0.5F + 0.36F * static_cast<float>(i);
        scene.add(beam({x, -0.7F, -0.95F}, {x + 0.02F, 0.26F, -0.95F}, 0.026F, {paint, railing}));
    }
    for (const float y : {-0.2F, 0.03F, 0.26F})
        scene.add(beam({-0.8F, y, -0.95F}, {0.9F, y + 0.03F, -0.95F}, 0.018F, {paint, railing}));
    scene.add(tube(
        [](float t) {
            const float turn = 4.F * std::numbers::pi_v<float> * t;
            return Vec{0.24F + 0.05F * std::cos(turn), 0.22F - 0.3F * t, -0.95F + 0.05F * std::sin(turn)};
        },
        [](float) { return 0.011F; }, {rope, railing}, 60));
    scene.add(lathe({-0.05F, -0.7F, -2.1F}, {{0.1F, 0.F}, {0.09F, 0.4F}, {0.12F, 0.45F}, {0.F, 0.47F}},
                    {iron, lantern}));
    scene.add(box({-0.11F, -0.23F, -2.16F}, {0.01F, -0.21F, -2.04F}, {brass, lantern}));
    for (const float x : {-0.105F, 0.005F})
        for (const float z : {-2.155F, -2.045F})
            scene.add(beam({x, -0.21F, z}, {x, -0.03F, z}, 0.008F, {brass, lantern}));
    scene.add(lathe({-0.05F, -0.03F, -2.1F}, {{0.09F, 0.F}, {0.03F, 0.06F}, {0.F, 0.07F}}, {brass, lantern}));
    scene.add(sphere({-0.05F, -0.14F, -2.1F}, 0.022F, {flame, lantern}));
    for (int i = 0; i < 4; ++i) {
        const float x = -2.4F + 1.7F * static_cast<float>(i);
        const float z = -6.F - 0.8F * static_cast<float>(i % 3);
        scene.add(box({x, -1.F, z - 0.6F}, {x + 1.3F, -0.55F, z}, {hull, scenery}));
        scene.add(beam({x + 0.6F, -0.6F, z - 0.3F}, {x + 0.6F, 1.9F, z - 0.3F}, 0.05F, {boards, scenery}));
        if (i % 2)
            scene.add(leaf({x + 0.66F, -0.4F, z - 0.28F}, {x + 0.66F, 1.7F, z - 0.28F}, {0.3F, 0.F, 0.F},
                           0.7F, {sail, scenery}));
        for (const float to : {-0.05F, 1.35F})
            scene.add(beam({x + 0.6F, 1.85F, z - 0.3F}, {x + to, -0.55F, z - 0.3F}, 0.012F, {rope, scenery}));
    }
    scene.add(box({-4.F, -0.8F, -2.7F}, {4.F, -0.7F, 1.F}, {boards, scenery}));
    scene.add(box({-30.F, -1.2F, -50.F}, {30.F, -1.F, -2.7F}, {water, scenery}));
    scene.addLight({{3.F, 3.F, 0.F}, {13.F, 12.F, 10.F}, true});
    scene.addLight({{-5.F, 4.F, -4.F}, {20.F, 20.F, 21.F}, true});
    scene.setAmbient({0.05F, 0.06F, 0.07F}, {0.2F, 0.25F, 0.33F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, -0.06F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 2.08;
    return trial;
}

Trial library()
{
    Trial trial;
    trial.name = "library";
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int ladder = scene.addObject("ladder");
    const int globe = scene.addObject("globe");
    const int ash =
        scene.addMaterial({{0.5F, 0.4F, 0.26F}, {0.42F, 0.33F, 0.21F}, Pattern::planks, 14.F, {}});
    const int walnut =
        scene.addMaterial({{0.24F, 0.15F, 0.09F}, {0.18F, 0.11F, 0.06F}, Pattern::planks, 8.F, {}});
    const int map =
        scene.addMaterial({{0.2F, 0.34F, 0.44F}, {0.5F, 0.44F, 0.26F}, Pattern::checker, 16.F, {}});
    const int brass = scene.addMaterial({{0.56F, 0.42F, 0.15F}, {}, Pattern::plain, 1.F, {}});
    const int covers[4] = {
        scene.addMaterial({{0.4F, 0.1F, 0.08F}, {0.5F, 0.4F, 0.16F}, Pattern::stripes, 9.F, {}}),
        scene.addMaterial({{0.1F, 0.22F, 0.16F}, {}, Pattern::plain, 1.F, {}}),
        scene.addMaterial({{0.14F, 0.16F, 0.3F}, {0.46F, 0.4F, 0.24F}, Pattern::stripes, 6.F, {}}),
        scene.addMaterial({{0.5F, 0.46F, 0.38F}, {}, Pattern::plain, 1.F, {}})};
    const int shade = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {1.6F, 1.9F, 1.1F}});
    for (const float x : {-0.34F, 0.02F})
        scene.add(beam({x - 0.05F, -0.6F, -0.8F}, {x + 0.06F, 0.6F, -0.95F}, 0.028F, {ash, ladder}));
    for (int i = 0; i < 6; ++i) {
        const float t = 0.08F + 0.17F * static_cast<float>(i);
        const float x = -0.39F + 0.11F * t;
        const float y = -0.6F + 1.2F * t;
        scene.add(beam({x, y, -0.8F - 0.15F * t}, {x + 0.36F, y, -0.8F - 0.15F * t}, 0.02F, {ash, ladder}));
    }
    scene.add(sphere({0.1F, 0.F, -2.1F}, 0.2F, {map, globe}));
    scene.add(lathe({0.1F, -0.4F, -2.1F}, {{0.13F, 0.F}, {0.12F, 0.03F}, {0.02F, 0.06F}, {0.02F, 0.2F}},
                    {brass, globe}));
    scene.add(tube(
        [](float t) {
            const float turn = std::numbers::pi_v<float> * (t - 0.5F);
            return Vec{0.1F + 0.23F * std::cos(turn), 0.23F * std::sin(turn), -2.1F};
        },
        [](float) { return 0.009F; }, {brass, globe}, 40));
    scene.add(box({-1.3F, -0.46F, -2.6F}, {1.4F, -0.4F, -1.8F}, {walnut, scenery}));
    for (int i = 0; i < 4; ++i)
        scene.add(
            box({-0.6F, -0.4F + 0.045F * static_cast<float>(i), -2.35F},
                {-0.3F + 0.02F * static_cast<float>(i % 2), -0.36F + 0.045F * static_cast<float>(i), -2.1F},
                {covers[i], scenery}));
    Dice dice(3307);
    for (int row = 0; row < 5; ++row) {
        const float y = -0.9F + 0.48F * static_cast<float>(row);
        scene.add(box({-3.2F, y - 0.04F, -4.6F}, {3.2F, y, -4.2F}, {walnut, scenery}));
        float x = -3.1F;
        for (int i = 0; x < 3.F; ++i) {
            const float wide = dice(0.05F, 0.11F);
            const float high = dice(0.26F, 0.4F);
            if (i % 9 != 5)
                scene.add(box({x, y, -4.5F}, {x + wide - 0.008F, y + high, -4.24F + dice(-0.04F, 0.02F)},
                              {covers[static_cast<int>(dice(0.F, 3.99F))], scenery}));
            x += wide;
        }
    }
    for (const float x : {-1.6F, 0.F, 1.6F})
        scene.add(box({x - 0.05F, -1.F, -4.6F}, {x + 0.05F, 1.6F, -4.18F}, {walnut, scenery}));
    scene.add(box({-5.F, -1.F, -4.8F}, {5.F, 3.F, -4.6F}, {walnut, scenery}));
    scene.add(beam({0.75F, -0.4F, -2.9F}, {0.75F, 0.12F, -2.9F}, 0.02F, {brass, scenery}));
    scene.add(lathe({0.75F, 0.1F, -2.9F}, {{0.17F, 0.F}, {0.08F, 0.14F}, {0.F, 0.15F}}, {shade, scenery}));
    scene.addLight({{-1.F, 1.5F, -0.3F}, {4.F, 3.7F, 3.2F}, true});
    scene.addLight({{0.8F, 1.2F, -3.3F}, {3.2F, 3.F, 2.2F}, true});
    scene.setAmbient({0.05F, 0.04F, 0.04F}, {0.1F, 0.09F, 0.08F});
    scene.commit();
    trial.camera = {{0.F, 0.05F, 0.F}, {0.F, 0.F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 1.8;
    trial.lens.focusDistance = 1.95;
    return trial;
}

Trial bakery()
{
    Trial trial;
    trial.name = "bakery";
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
