#include "reference/rooms.h"

#include "reference/shapes.h"

namespace retinex::reference {

Trial cornerRoom()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int things = scene.addObject("things");
    const int floor = scene.addMaterial({{0.4F, 0.3F, 0.2F}, {0.3F, 0.2F, 0.12F}, Pattern::planks, 4.F, {}});
    const int wall = scene.addMaterial({{0.6F, 0.6F, 0.55F}, {0.5F, 0.5F, 0.5F}, Pattern::stripes, 3.F, {}});
    const int wood = scene.addMaterial({{0.5F, 0.35F, 0.2F}, {0.4F, 0.25F, 0.15F}, Pattern::planks, 8.F, {}});
    const int red = scene.addMaterial({{0.7F, 0.15F, 0.1F}, {}, Pattern::plain, 1.F, {}});
    scene.add(box({-4.F, -1.1F, -6.F}, {4.F, -1.F, 1.F}, {floor, scenery}));
    scene.add(box({-4.F, -1.F, -6.1F}, {4.F, 3.F, -6.F}, {wall, scenery}));
    scene.add(box({2.4F, -1.F, -6.F}, {2.5F, 3.F, 1.F}, {wall, scenery}));
    scene.add(box({-1.1F, -0.3F, -3.6F}, {1.3F, -0.24F, -2.3F}, {wood, scenery}));
    for (const float x : {-1.05F, 1.2F})
        for (const float z : {-3.55F, -2.4F})
            scene.add(box({x, -1.F, z}, {x + 0.06F, -0.3F, z + 0.06F}, {wood, scenery}));
    Dice dice(31);
    for (int i = 0; i < 7; ++i) {
        const Vec at{dice(-0.9F, 1.0F), -0.24F, dice(-3.4F, -2.5F)};
        const float size = dice(0.08F, 0.22F);
        if (i % 2 == 0)
            scene.add(box(at, at + Vec{size, size, size}, {wood, things}));
        else
            scene.add(sphere(at + Vec{0.F, size * 0.5F, 0.F}, size * 0.5F, {red, things}));
    }
    scene.addLight({{-1.F, 2.5F, -1.F}, {8.F, 7.6F, 7.F}, true});
    scene.commit();
    trial.camera = {{-0.6F, 0.5F, 0.3F}, {0.5F, -0.3F, -3.F}, 35.F, 36.F, 960, 540};
    trial.lens.fStop = 2.0;
    trial.lens.focusDistance = 3.0;
    return trial;
}

Trial street()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int posts = scene.addObject("posts");
    const int road =
        scene.addMaterial({{0.2F, 0.2F, 0.21F}, {0.16F, 0.16F, 0.16F}, Pattern::speckle, 3.F, {}});
    const int brick =
        scene.addMaterial({{0.5F, 0.25F, 0.2F}, {0.4F, 0.2F, 0.15F}, Pattern::checker, 2.F, {}});
    const int iron = scene.addMaterial({{0.1F, 0.12F, 0.12F}, {}, Pattern::plain, 1.F, {}});
    scene.add(box({-30.F, -1.7F, -80.F}, {30.F, -1.6F, 2.F}, {road, scenery}));
    Dice dice(47);
    for (const float side : {-1.F, 1.F}) {
        for (float z = -4.F; z > -60.F;) {
            const float length = dice(4.F, 8.F);
            const float x = side * dice(4.F, 5.2F);
            scene.add(box({side > 0.F ? x : x - 6.F, -1.6F, z - length},
                          {side > 0.F ? x + 6.F : x, dice(3.F, 7.F), z}, {brick, scenery}));
            z -= length + dice(0.F, 1.5F);
        }
    }
    for (float z = -3.F; z > -40.F; z -= 6.F)
        for (const float x : {-2.8F, 2.8F})
            scene.add(beam({x, -1.6F, z}, {x, 2.2F, z}, 0.1F, {iron, posts}));
    scene.addLight({{10.F, 30.F, 10.F}, {900.F, 880.F, 800.F}, true});
    scene.commit();
    trial.camera = {{0.3F, 0.F, 0.F}, {0.F, -0.1F, -10.F}, 28.F, 36.F, 960, 540};
    trial.lens.fStop = 1.4;
    trial.lens.focusDistance = 6.0;
    return trial;
}

Trial steps()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int rail = scene.addObject("rail");
    const int stone =
        scene.addMaterial({{0.45F, 0.44F, 0.4F}, {0.35F, 0.34F, 0.32F}, Pattern::speckle, 9.F, {}});
    const int wall =
        scene.addMaterial({{0.5F, 0.42F, 0.3F}, {0.42F, 0.35F, 0.25F}, Pattern::checker, 3.F, {}});
    const int iron = scene.addMaterial({{0.08F, 0.08F, 0.09F}, {}, Pattern::plain, 1.F, {}});
    const int clay = scene.addMaterial({{0.6F, 0.32F, 0.2F}, {}, Pattern::plain, 1.F, {}});
    for (int i = 0; i < 14; ++i) {
        const auto n = static_cast<float>(i);
        scene.add(box({-2.F, -1.2F, -2.4F - 0.34F * n}, {1.4F, -1.03F + 0.17F * n, -2.06F - 0.34F * n},
                      {stone, scenery}));
    }
    scene.add(box({-6.F, -1.3F, -2.F}, {6.F, -1.2F, 2.F}, {stone, scenery}));
    scene.add(box({1.4F, -1.2F, -8.F}, {1.7F, 3.F, -1.6F}, {wall, scenery}));
    scene.add(box({-6.F, -1.2F, -7.5F}, {-2.F, 4.F, -7.F}, {wall, scenery}));
    for (int i = 0; i < 7; ++i) {
        const auto n = static_cast<float>(i);
        const Vec foot{-1.6F, -1.03F + 0.34F * n, -2.2F - 0.68F * n};
        scene.add(beam(foot, foot + Vec{0.F, 0.85F, 0.F}, 0.035F, {iron, rail}));
    }
    scene.add(beam({-1.6F, -0.2F, -2.1F}, {-1.6F, 1.95F, -6.4F}, 0.05F, {iron, rail}));
    for (int i = 0; i < 4; ++i) {
        const auto n = static_cast<float>(3 * i);
        scene.add(lathe({1.1F, -1.03F + 0.17F * n, -2.2F - 0.34F * n},
                        {{0.F, 0.F}, {0.1F, 0.F}, {0.15F, 0.2F}, {0.14F, 0.24F}}, {clay, scenery}));
    }
    scene.addLight({{-3.F, 6.F, 2.F}, {40.F, 39.F, 36.F}, true});
    scene.commit();
    trial.camera = {{0.2F, -0.2F, 0.4F}, {-0.1F, 0.2F, -4.F}, 32.F, 36.F, 960, 540};
    trial.lens.fStop = 1.8;
    trial.lens.focusDistance = 3.5;
    return trial;
}

Trial shelf()
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int jars = scene.addObject("jars");
    const int wood =
        scene.addMaterial({{0.55F, 0.4F, 0.25F}, {0.45F, 0.3F, 0.2F}, Pattern::planks, 12.F, {}});
    const int back =
        scene.addMaterial({{0.35F, 0.38F, 0.4F}, {0.3F, 0.3F, 0.33F}, Pattern::stripes, 20.F, {}});
    const int clay = scene.addMaterial({{0.6F, 0.3F, 0.2F}, {}, Pattern::plain, 1.F, {}});
    scene.add(box({-1.F, -0.8F, -1.32F}, {1.F, 1.F, -1.3F}, {back, scenery}));
    for (const float y : {-0.36F, 0.02F, 0.36F})
        scene.add(box({-1.F, y - 0.02F, -1.3F}, {1.F, y, -0.7F}, {wood, scenery}));
    Dice dice(53);
    for (const float y : {-0.36F, 0.02F})
        for (int i = 0; i < 6; ++i) {
            const Vec base{-0.55F + 0.2F * static_cast<float>(i) + dice(-0.04F, 0.04F), y,
                           dice(-1.2F, -0.8F)};
            const float r = dice(0.03F, 0.06F);
            scene.add(lathe(base,
                            {{0.F, 0.F}, {r, 0.F}, {r * 1.2F, 0.06F}, {r * 0.6F, 0.14F}, {r * 0.7F, 0.16F}},
                            {clay, jars}));
        }
    scene.addLight({{0.4F, 0.8F, 0.6F}, {1.6F, 1.5F, 1.4F}, true});
    scene.commit();
    trial.camera = {{-0.25F, 0.16F, 0.1F}, {0.05F, -0.05F, -1.F}, 50.F, 36.F, 960, 540};
    trial.lens.fStop = 2.8;
    trial.lens.focusDistance = 1.0;
    return trial;
}

} // namespace retinex::reference
