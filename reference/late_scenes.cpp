#include "reference/late_scenes.h"

#include "reference/shapes.h"

namespace retinex::reference {

Trial fence()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int wires = scene.addObject("fence");
    const int figure = scene.addObject("figure");
    const int steel = scene.addMaterial({{0.5F, 0.5F, 0.52F}, {}, Pattern::plain, 1.F, {}});
    const int lawn =
        scene.addMaterial({{0.2F, 0.32F, 0.1F}, {0.14F, 0.24F, 0.08F}, Pattern::speckle, 6.F, {}});
    const int coat =
        scene.addMaterial({{0.7F, 0.3F, 0.15F}, {0.5F, 0.2F, 0.12F}, Pattern::stripes, 14.F, {}});
    const int bark = scene.addMaterial({{0.25F, 0.18F, 0.12F}, {}, Pattern::plain, 1.F, {}});
    const int crown =
        scene.addMaterial({{0.12F, 0.3F, 0.1F}, {0.2F, 0.4F, 0.12F}, Pattern::speckle, 5.F, {}});
    for (int i = -7; i <= 7; ++i) {
        const float x = 0.09F * static_cast<float>(i);
        for (const float lean : {-0.35F, 0.35F})
            scene.add(beam({x - lean, -0.45F, -0.8F}, {x + lean, 0.45F, -0.8F}, 0.006F, {steel, wires}));
    }
    scene.add(box({-20.F, -1.1F, -30.F}, {20.F, -1.F, 1.F}, {lawn, scenery}));
    scene.add(box({-0.25F, -1.F, -3.1F}, {0.25F, 0.F, -2.9F}, {coat, figure}));
    scene.add(box({-0.5F, -0.35F, -3.05F}, {0.5F, -0.15F, -2.95F}, {coat, figure}));
    scene.add(sphere({0.F, 0.2F, -3.F}, 0.17F, {bark, figure}, 48));
    Dice dice(71);
    for (int i = 0; i < 9; ++i) {
        const Vec foot{dice(-6.F, 6.F), -1.F, dice(-16.F, -7.F)};
        const float tall = dice(1.2F, 2.4F);
        scene.add(beam(foot, foot + Vec{0.1F, tall, 0.F}, 0.16F, {bark, scenery}));
        for (int k = 0; k < 4; ++k)
            scene.add(sphere(foot + Vec{dice(-0.6F, 0.6F), tall + dice(-0.2F, 0.7F), dice(-0.5F, 0.5F)},
                             dice(0.4F, 0.8F), {crown, scenery}, 24));
    }
    scene.addLight({{6.F, 12.F, 6.F}, {130.F, 126.F, 115.F}, true});
    scene.setAmbient({0.05F, 0.06F, 0.04F}, {0.24F, 0.28F, 0.34F});
    scene.commit();
    trial.camera = {{0.02F, 0.F, 0.F}, {0.F, -0.1F, -3.F}, 45.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 2.9;
    return trial;
}

Trial arcade()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int columns = scene.addObject("columns");
    const int tiles =
        scene.addMaterial({{0.55F, 0.5F, 0.42F}, {0.18F, 0.14F, 0.12F}, Pattern::checker, 1.6F, {}});
    const int wall =
        scene.addMaterial({{0.3F, 0.22F, 0.2F}, {0.24F, 0.18F, 0.16F}, Pattern::planks, 2.F, {}});
    const int stone =
        scene.addMaterial({{0.5F, 0.48F, 0.44F}, {0.42F, 0.4F, 0.37F}, Pattern::speckle, 8.F, {}});
    const int rope = scene.addMaterial({{0.45F, 0.1F, 0.12F}, {}, Pattern::plain, 1.F, {}});
    scene.add(box({-6.F, -1.5F, -24.F}, {6.F, -1.4F, 2.F}, {tiles, scenery}));
    scene.add(box({2.6F, -1.4F, -24.F}, {2.8F, 3.F, 2.F}, {wall, scenery}));
    scene.add(box({-6.F, -1.4F, -24.2F}, {6.F, 4.F, -24.F}, {wall, scenery}));
    for (int i = 0; i < 8; ++i) {
        const float z = -1.6F - 2.4F * static_cast<float>(i);
        scene.add(lathe({-1.1F, -1.4F, z},
                        {{0.F, 0.F}, {0.22F, 0.F}, {0.2F, 0.15F}, {0.14F, 0.2F}, {0.12F, 2.6F}, {0.2F, 2.8F}},
                        {stone, columns}));
        if (i == 0) continue;
        const Vec glow[2] = {{26.F, 20.F, 12.F}, {14.F, 18.F, 24.F}};
        const int lamp = scene.addMaterial({{}, {}, Pattern::plain, 1.F, glow[i % 2]});
        scene.add(
            sphere({0.4F + 0.25F * static_cast<float>(i % 3), 0.9F, z - 0.6F}, 0.045F, {lamp, scenery}, 24));
    }
    scene.add(tube(
        [](float t) {
            return Vec{-1.0F + 1.7F * t, -0.35F - 0.5F * t * (1.F - t), -1.5F - 0.8F * t};
        },
        [](float) { return 0.018F; }, {rope, columns}));
    scene.add(beam({0.7F, -1.4F, -2.3F}, {0.7F, -0.33F, -2.3F}, 0.04F, {stone, columns}));
    scene.addLight({{1.5F, 2.6F, -3.F}, {7.F, 6.6F, 6.F}, true});
    scene.addLight({{0.F, 2.4F, -12.F}, {9.F, 8.F, 6.F}, false});
    scene.setAmbient({0.03F, 0.03F, 0.03F}, {0.08F, 0.08F, 0.1F});
    scene.commit();
    trial.camera = {{0.5F, 0.F, 0.6F}, {-0.1F, -0.1F, -6.F}, 40.F, 36.F, 960, 540};
    trial.lens.fStop = 1.4;
    trial.lens.focusDistance = 2.6;
    return trial;
}

Trial workbench()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int tools = scene.addObject("tools");
    const int marbles = scene.addObject("marbles");
    const int board =
        scene.addMaterial({{0.5F, 0.42F, 0.3F}, {0.44F, 0.36F, 0.25F}, Pattern::speckle, 40.F, {}});
    const int bench =
        scene.addMaterial({{0.42F, 0.28F, 0.16F}, {0.34F, 0.22F, 0.12F}, Pattern::planks, 7.F, {}});
    const int metal = scene.addMaterial({{0.6F, 0.62F, 0.65F}, {}, Pattern::plain, 1.F, {}});
    const int grip = scene.addMaterial({{0.15F, 0.3F, 0.6F}, {}, Pattern::plain, 1.F, {}});
    scene.add(box({-2.F, -0.5F, -1.92F}, {2.F, 1.2F, -1.9F}, {board, scenery}));
    scene.add(box({-2.F, -0.36F, -1.9F}, {2.F, -0.3F, -0.35F}, {bench, scenery}));
    Dice dice(83);
    for (int i = 0; i < 9; ++i) {
        const float x = -0.72F + 0.18F * static_cast<float>(i);
        const float low = dice(-0.12F, 0.05F);
        const float z = -1.8F + dice(0.F, 0.12F);
        scene.add(
            beam({x, low, z}, {x + dice(-0.02F, 0.02F), 0.34F, z}, dice(0.008F, 0.02F), {metal, tools}));
        scene.add(beam({x, low - 0.12F, z}, {x, low, z}, 0.03F, {grip, tools}));
    }
    for (int i = 0; i < 26; ++i) {
        const int glass = scene.addMaterial(
            {{dice(0.05F, 0.8F), dice(0.05F, 0.8F), dice(0.05F, 0.8F)}, {}, Pattern::plain, 1.F, {}});
        const float r = dice(0.012F, 0.03F);
        scene.add(sphere({dice(-0.4F, 0.4F), -0.3F + r, dice(-1.3F, -0.55F)}, r, {glass, marbles}, 32));
    }
    scene.addLight({{-0.6F, 1.F, -0.2F}, {2.4F, 2.3F, 2.1F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.05F}, {0.12F, 0.12F, 0.13F});
    scene.commit();
    trial.camera = {{0.05F, 0.05F, 0.F}, {0.F, -0.1F, -1.F}, 55.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 0.85;
    return trial;
}

} // namespace retinex::reference
