#include "reference/unseen_scenes.h"

#include "reference/shapes.h"

#include <cmath>
#include <numbers>

namespace retinex::reference {

Trial pier()
{
    Trial trial;
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

Trial laundry()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int line = scene.addObject("line");
    const int tub = scene.addObject("tub");
    const int cord =
        scene.addMaterial({{0.6F, 0.57F, 0.5F}, {0.4F, 0.38F, 0.33F}, Pattern::stripes, 80.F, {}});
    const int peg = scene.addMaterial({{0.55F, 0.4F, 0.2F}, {}, Pattern::plain, 1.F, {}});
    const int linen =
        scene.addMaterial({{0.66F, 0.64F, 0.6F}, {0.3F, 0.36F, 0.5F}, Pattern::stripes, 14.F, {}});
    const int zinc =
        scene.addMaterial({{0.42F, 0.44F, 0.45F}, {0.34F, 0.36F, 0.37F}, Pattern::stripes, 24.F, {}});
    const int wool = scene.addMaterial({{0.52F, 0.16F, 0.14F}, {}, Pattern::plain, 1.F, {}});
    const int grass =
        scene.addMaterial({{0.14F, 0.26F, 0.08F}, {0.2F, 0.32F, 0.12F}, Pattern::speckle, 8.F, {}});
    const int plaster =
        scene.addMaterial({{0.58F, 0.5F, 0.38F}, {0.5F, 0.42F, 0.31F}, Pattern::planks, 2.F, {}});
    const int shutter =
        scene.addMaterial({{0.12F, 0.24F, 0.34F}, {0.09F, 0.18F, 0.27F}, Pattern::stripes, 30.F, {}});
    const int pane = scene.addMaterial({{}, {}, Pattern::plain, 1.F, {0.7F, 0.8F, 0.95F}});
    const int post =
        scene.addMaterial({{0.3F, 0.23F, 0.16F}, {0.24F, 0.18F, 0.12F}, Pattern::planks, 9.F, {}});
    for (int i = 0; i < 2; ++i) {
        const float y = 0.2F - 0.1F * static_cast<float>(i);
        const float z = -0.95F - 0.12F * static_cast<float>(i);
        scene.add(tube(
            [y, z](float t) {
                return Vec{-0.8F + 1.6F * t, y - 0.16F * t * (1.F - t), z};
            },
            [](float) { return 0.005F; }, {cord, line}, 40));
        for (int k = 0; k < 5; ++k) {
            const float t = 0.17F + 0.16F * static_cast<float>(k);
            const float x = -0.8F + 1.6F * t;
            const float at = y - 0.16F * t * (1.F - t);
            scene.add(
                beam({x, at + 0.02F, z + 0.008F}, {x + 0.006F, at - 0.06F, z + 0.008F}, 0.012F, {peg, line}));
        }
    }
    scene.add(leaf({-0.3F, 0.16F, -0.95F}, {-0.34F, -0.16F, -0.93F}, {0.F, 0.F, 0.05F}, 0.16F, {wool, line}));
    scene.add(leaf({0.22F, 0.15F, -0.95F}, {0.25F, -0.2F, -0.96F}, {0.03F, 0.F, 0.F}, 0.13F, {linen, line}));
    scene.add(lathe({0.02F, -0.55F, -2.1F}, {{0.24F, 0.F}, {0.3F, 0.26F}, {0.31F, 0.28F}, {0.27F, 0.27F}},
                    {zinc, tub}));
    for (int i = 0; i < 4; ++i)
        scene.add(sphere(
            {-0.14F + 0.1F * static_cast<float>(i), -0.27F + 0.02F * static_cast<float>(i % 2), -2.08F},
            0.08F, {i % 2 ? linen : wool, tub}));
    for (const float x : {-0.3F, 0.34F})
        scene.add(tube(
            [x](float t) {
                const float turn = std::numbers::pi_v<float> * t;
                return Vec{x + 0.03F * std::sin(turn), -0.34F + 0.06F * std::cos(turn), -2.1F};
            },
            [](float) { return 0.008F; }, {zinc, tub}, 20));
    for (const float x : {-1.5F, 0.9F}) {
        scene.add(beam({x, -0.8F, -3.4F}, {x, 0.9F, -3.4F}, 0.06F, {post, scenery}));
        scene.add(beam({x - 0.35F, 0.8F, -3.4F}, {x + 0.35F, 0.8F, -3.4F}, 0.05F, {post, scenery}));
    }
    for (int i = 0; i < 3; ++i)
        scene.add(leaf({-1.1F + 0.7F * static_cast<float>(i), 0.72F, -3.4F},
                       {-1.05F + 0.7F * static_cast<float>(i), -0.1F, -3.35F}, {0.F, 0.F, 0.12F}, 0.5F,
                       {i == 1 ? wool : linen, scenery}));
    for (int i = 0; i < 3; ++i) {
        const float x = -4.4F + 3.F * static_cast<float>(i);
        const float z = -7.F - 0.7F * static_cast<float>(i % 2);
        scene.add(box({x, -0.8F, z - 1.F}, {x + 2.5F, 1.5F + 0.5F * static_cast<float>(i % 2), z},
                      {plaster, scenery}));
        for (int k = 0; k < 2; ++k) {
            const float left = x + 0.4F + 1.1F * static_cast<float>(k);
            scene.add(box({left, 0.F, z}, {left + 0.45F, 0.7F, z + 0.02F}, {pane, scenery}));
            scene.add(box({left + 0.2F, 0.F, z}, {left + 0.24F, 0.7F, z + 0.04F}, {post, scenery}));
            for (const float side : {-0.24F, 0.47F})
                scene.add(box({left + side, -0.02F, z}, {left + side + 0.22F, 0.72F, z + 0.05F},
                              {shutter, scenery}));
        }
    }
    scene.add(box({-20.F, -1.F, -30.F}, {20.F, -0.8F, 2.F}, {grass, scenery}));
    scene.addLight({{2.5F, 3.F, 0.5F}, {14.F, 13.F, 11.5F}, true});
    scene.addLight({{-4.F, 4.F, -3.F}, {18.F, 18.F, 18.F}, true});
    scene.setAmbient({0.06F, 0.06F, 0.07F}, {0.24F, 0.32F, 0.45F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, -0.06F, -2.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 1.95;
    return trial;
}

} // namespace retinex::reference
