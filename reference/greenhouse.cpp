#include "reference/greenhouse.h"

#include "reference/shapes.h"

namespace retinex::reference {

namespace {

/// Floor of the house and its glazing bars; what is between the bars is open to the night.
void addHouse(Scene& scene)
{
    const int scenery = scene.addObject("");
    const int tiles =
        scene.addMaterial({{0.20F, 0.13F, 0.10F}, {0.10F, 0.09F, 0.09F}, Pattern::checker, 3.3F, {}});
    const int iron = scene.addMaterial({{0.10F, 0.13F, 0.12F}, {}, Pattern::plain, 1.F, {}});
    const int plinth =
        scene.addMaterial({{0.30F, 0.20F, 0.15F}, {0.20F, 0.12F, 0.09F}, Pattern::planks, 6.F, {}});
    scene.add(box({-2.2F, -1.02F, -8.6F}, {2.2F, -1.F, 1.F}, {tiles, scenery}));
    for (const float side : {-2.2F, 2.2F}) {
        scene.add(box({side - 0.06F, -1.F, -8.6F}, {side + 0.06F, -0.35F, 1.F}, {plinth, scenery}));
        for (int i = 0; i < 10; ++i) {
            const float z = -8.5F + static_cast<float>(i);
            scene.add(beam({side, -0.35F, z}, {side, 1.35F, z}, 0.05F, {iron, scenery}));
            scene.add(beam({side, 1.35F, z}, {0.F, 2.15F, z}, 0.05F, {iron, scenery}));
        }
        scene.add(beam({side, 1.35F, -8.6F}, {side, 1.35F, 1.F}, 0.06F, {iron, scenery}));
        scene.add(beam({side, 0.5F, -8.6F}, {side, 0.5F, 1.F}, 0.035F, {iron, scenery}));
    }
    scene.add(beam({0.F, 2.15F, -8.6F}, {0.F, 2.15F, 1.F}, 0.07F, {iron, scenery}));
}

/// The far gable with its lit glass door.
void addDoor(Scene& scene)
{
    const int scenery = scene.addObject("door");
    const int frameMaterial = scene.addMaterial({{0.16F, 0.18F, 0.15F}, {}, Pattern::plain, 1.F, {}});
    const int brick =
        scene.addMaterial({{0.26F, 0.15F, 0.11F}, {0.17F, 0.10F, 0.08F}, Pattern::planks, 8.F, {}});
    for (const float side : {-1.F, 1.F})
        scene.add(box({side > 0 ? 0.62F : -2.2F, -1.F, -8.7F}, {side > 0 ? 2.2F : -0.62F, 0.1F, -8.6F},
                      {brick, scenery}));
    for (int column = 0; column < 3; ++column) {
        for (int row = 0; row < 5; ++row) {
            const float warm = 0.7F + 0.1F * static_cast<float>((column * 3 + row * 5) % 7);
            const int pane = scene.addMaterial({{}, {}, Pattern::plain, 1.F, Vec{1.9F, 1.25F, 0.55F} * warm});
            const float x = -0.48F + 0.33F * static_cast<float>(column);
            const float y = -0.86F + 0.4F * static_cast<float>(row);
            scene.add(box({x, y, -8.66F}, {x + 0.3F, y + 0.36F, -8.65F}, {pane, scenery}));
        }
    }
    for (const float x : {-0.52F, -0.165F, 0.165F, 0.52F})
        scene.add(box({x - 0.025F, -1.F, -8.68F}, {x + 0.025F, 1.15F, -8.6F}, {frameMaterial, scenery}));
    for (int row = 0; row < 6; ++row) {
        const float y = -0.88F + 0.4F * static_cast<float>(row);
        scene.add(box({-0.52F, y - 0.02F, -8.675F}, {0.52F, y + 0.02F, -8.61F}, {frameMaterial, scenery}));
    }
    scene.addLight({{0.F, 0.3F, -8.3F}, {3.2F, 2.1F, 0.9F}, false});
}

/// Strings of small lamps, hung from side to side in curves.
void addLamps(Scene& scene)
{
    const int scenery = scene.addObject("");
    const int cord = scene.addMaterial({{0.03F, 0.03F, 0.03F}, {}, Pattern::plain, 1.F, {}});
    const Vec tints[4] = {{34.F, 19.F, 7.F}, {30.F, 22.F, 12.F}, {12.F, 20.F, 30.F}, {34.F, 9.F, 8.F}};
    int glows[4];
    for (int i = 0; i < 4; ++i)
        glows[i] = scene.addMaterial({{}, {}, Pattern::plain, 1.F, tints[i]});
    constexpr int lamps = 15;
    for (int line = 0; line < 5; ++line) {
        const auto number = static_cast<float>(line);
        const float z = -3.5F - 1.05F * number;
        const auto hang = [=](float t) {
            const float sag =
                0.17F * std::abs(std::sin((2.F + 0.5F * number) * 3.1415927F * t + 0.4F * number));
            return Vec{-2.1F + 4.2F * t, 0.80F + 0.12F * number - sag,
                       z + 0.15F * std::sin(5.F * t + number)};
        };
        scene.add(tube(
            hang, [](float) { return 0.004F; }, {cord, scenery}, 60, 5));
        for (int i = 0; i < lamps; ++i) {
            const Vec at = hang((static_cast<float>(i) + 0.5F) / lamps);
            scene.add(sphere(at - Vec{0.F, 0.022F, 0.F}, 0.014F, {glows[(i + line) % 4], scenery}, 16));
        }
    }
    // A string along the wall that the second shot looks at.
    const auto wall = [](float t) {
        return Vec{-2.1F, 0.42F - 0.09F * std::abs(std::sin(15.7F * t)), -2.6F - 5.6F * t};
    };
    for (int i = 0; i < 26; ++i)
        scene.add(
            sphere(wall((static_cast<float>(i) + 0.5F) / 26.F), 0.013F, {glows[(3 * i) % 4], scenery}, 16));
    scene.add(tube(
        wall, [](float) { return 0.004F; }, {cord, scenery}, 90, 5));
    scene.addLight({{-1.2F, 1.0F, -4.6F}, {1.1F, 0.75F, 0.4F}, true});
    scene.addLight({{1.2F, 1.0F, -5.6F}, {1.1F, 0.75F, 0.45F}, true});
}

void addBenches(Scene& scene)
{
    const int scenery = scene.addObject("");
    const int wood =
        scene.addMaterial({{0.34F, 0.22F, 0.12F}, {0.22F, 0.14F, 0.08F}, Pattern::planks, 9.F, {}});
    const int clay =
        scene.addMaterial({{0.45F, 0.20F, 0.11F}, {0.38F, 0.16F, 0.09F}, Pattern::stripes, 14.F, {}});
    const int green =
        scene.addMaterial({{0.10F, 0.25F, 0.08F}, {0.16F, 0.33F, 0.10F}, Pattern::speckle, 40.F, {}});
    Dice dice(31);
    for (const float side : {-1.F, 1.F}) {
        const float x0 = side > 0 ? 0.85F : -1.95F;
        scene.add(box({x0, -0.42F, -7.8F}, {x0 + 1.1F, -0.37F, -3.1F}, {wood, scenery}));
        for (int i = 0; i < 5; ++i)
            scene.add(beam(
                {x0 + 0.1F + 0.9F * static_cast<float>(i % 2), -1.F, -7.6F + 1.05F * static_cast<float>(i)},
                {x0 + 0.1F + 0.9F * static_cast<float>(i % 2), -0.4F, -7.6F + 1.05F * static_cast<float>(i)},
                0.07F, {wood, scenery}));
        for (int i = 0; i < 12; ++i) {
            const Vec base{x0 + dice(0.15F, 0.95F), -0.37F, -3.3F - 0.38F * static_cast<float>(i)};
            const float r = dice(0.07F, 0.11F);
            scene.add(lathe(base,
                            {{r * 0.7F, 0.F}, {r, 0.14F}, {r * 1.1F, 0.14F}, {r * 1.1F, 0.17F}, {0.F, 0.16F}},
                            {clay, scenery}, 24));
            for (int k = 0; k < 7; ++k) {
                const Vec way{dice(-0.16F, 0.16F), dice(0.12F, 0.34F), dice(-0.16F, 0.16F)};
                scene.add(leaf(base + Vec{0.F, 0.16F, 0.F}, base + Vec{0.F, 0.16F, 0.F} + way,
                               Vec{way.x, 0.F, way.z} * 0.3F + Vec{0.01F, 0.02F, 0.F}, 0.06F,
                               {green, scenery}));
            }
        }
    }
}

/// A brass watering can on a stool.
void addCan(Scene& scene)
{
    const int scenery = scene.addObject("");
    const int can = scene.addObject("can");
    const int brass =
        scene.addMaterial({{0.62F, 0.42F, 0.13F}, {0.52F, 0.33F, 0.09F}, Pattern::stripes, 28.F, {}});
    const int wood =
        scene.addMaterial({{0.30F, 0.20F, 0.12F}, {0.18F, 0.12F, 0.07F}, Pattern::planks, 12.F, {}});
    const Vec base{0.12F, -0.45F, -2.4F};
    scene.add(box(base + Vec{-0.3F, -0.05F, -0.25F}, base + Vec{0.34F, 0.F, 0.25F}, {wood, scenery}));
    for (const float sx : {-0.26F, 0.3F})
        for (const float sz : {-0.2F, 0.2F})
            scene.add(beam(base + Vec{sx, -0.55F, sz}, base + Vec{sx, -0.05F, sz}, 0.05F, {wood, scenery}));
    scene.add(lathe(base,
                    {{0.F, 0.F},
                     {0.15F, 0.F},
                     {0.16F, 0.02F},
                     {0.15F, 0.05F},
                     {0.135F, 0.22F},
                     {0.15F, 0.24F},
                     {0.145F, 0.26F},
                     {0.05F, 0.265F},
                     {0.F, 0.27F}},
                    {brass, can}, 64));
    const auto spout = [=](float t) {
        return base + Vec{-0.13F - 0.27F * t, 0.07F + 0.28F * t * (0.6F + 0.4F * t), 0.03F};
    };
    scene.add(tube(
        spout, [](float t) { return 0.03F - 0.014F * t; }, {brass, can}, 24, 20));
    scene.add(lathe(spout(1.F) + Vec{-0.01F, -0.01F, 0.F},
                    {{0.F, 0.F}, {0.045F, 0.03F}, {0.05F, 0.04F}, {0.F, 0.045F}}, {brass, can}, 32));
    scene.add(tube(
        [=](float t) {
            const float a = 3.1415927F * (1.05F * t - 0.1F);
            return base + Vec{0.13F + 0.14F * std::sin(a), 0.14F + 0.15F * -std::cos(a), 0.F};
        },
        [](float) { return 0.012F; }, {brass, can}, 30, 14));
    scene.addLight({{-1.1F, 1.3F, -0.9F}, {2.1F, 1.75F, 1.35F}, true});
    scene.addLight({{1.5F, 0.9F, -1.4F}, {0.35F, 0.55F, 0.95F}, true});
}

void addOrchids(Scene& scene)
{
    const int orchids = scene.addObject("orchids");
    const int clay =
        scene.addMaterial({{0.50F, 0.24F, 0.14F}, {0.42F, 0.19F, 0.11F}, Pattern::stripes, 20.F, {}});
    const int stem = scene.addMaterial({{0.22F, 0.34F, 0.10F}, {}, Pattern::plain, 1.F, {}});
    const int leafGreen =
        scene.addMaterial({{0.12F, 0.30F, 0.12F}, {0.08F, 0.2F, 0.08F}, Pattern::stripes, 60.F, {}});
    const int petals[2] = {
        scene.addMaterial({{0.75F, 0.42F, 0.68F}, {0.6F, 0.2F, 0.5F}, Pattern::stripes, 90.F, {}}),
        scene.addMaterial({{0.86F, 0.82F, 0.72F}, {0.8F, 0.7F, 0.5F}, Pattern::stripes, 80.F, {}})};
    const int heart = scene.addMaterial({{0.75F, 0.6F, 0.1F}, {}, Pattern::plain, 1.F, {}});
    const int bench =
        scene.addMaterial({{0.32F, 0.2F, 0.12F}, {0.2F, 0.13F, 0.08F}, Pattern::planks, 10.F, {}});
    scene.add(box({-1.35F, -0.5F, -3.15F}, {-0.35F, -0.45F, -2.5F}, {bench, scene.addObject("")}));
    Dice dice(7);
    for (int plant = 0; plant < 3; ++plant) {
        const Vec base{-1.15F + 0.3F * static_cast<float>(plant), -0.45F,
                       -2.95F + 0.15F * static_cast<float>(plant)};
        scene.add(lathe(base, {{0.07F, 0.F}, {0.1F, 0.15F}, {0.11F, 0.15F}, {0.11F, 0.18F}, {0.F, 0.17F}},
                        {clay, orchids}, 40));
        const Vec top = base + Vec{0.F, 0.17F, 0.F};
        for (int k = 0; k < 5; ++k) {
            const Vec way{dice(-0.2F, 0.2F), dice(0.05F, 0.15F), dice(-0.15F, 0.15F)};
            scene.add(leaf(top, top + way, Vec{0.F, 0.05F, 0.01F}, 0.07F, {leafGreen, orchids}));
        }
        const float lean = dice(0.1F, 0.25F);
        const auto arch = [=](float t) {
            return top + Vec{lean * t * t, 0.55F * t - 0.12F * t * t * t, 0.05F * t};
        };
        scene.add(tube(
            arch, [](float t) { return 0.007F - 0.004F * t; }, {stem, orchids}, 24, 8));
        for (int flower = 0; flower < 4; ++flower) {
            const Vec at = arch(0.55F + 0.14F * static_cast<float>(flower)) + Vec{0.F, 0.F, 0.02F};
            for (int p = 0; p < 5; ++p) {
                const float a = 6.2831853F * static_cast<float>(p) / 5.F + dice(0.F, 0.3F);
                const Vec out{0.062F * std::sin(a), 0.062F * std::cos(a), 0.018F};
                scene.add(leaf(at, at + out, Vec{0.F, 0.F, 0.016F}, 0.05F, {petals[plant % 2], orchids}));
            }
            scene.add(sphere(at + Vec{0.F, 0.F, 0.02F}, 0.012F, {heart, orchids}, 16));
        }
    }
}

/// Stems and a lattice panel close to the lens of the first shot.
void addForeground(Scene& scene)
{
    const int stems = scene.addObject("");
    const int lattice = scene.addObject("lattice");
    const int green =
        scene.addMaterial({{0.30F, 0.46F, 0.16F}, {0.24F, 0.4F, 0.14F}, Pattern::stripes, 120.F, {}});
    const int lath =
        scene.addMaterial({{0.42F, 0.33F, 0.24F}, {0.33F, 0.25F, 0.17F}, Pattern::planks, 40.F, {}});
    Dice dice(17);
    for (int i = 0; i < 9; ++i) {
        const Vec foot{-0.42F + 0.075F * static_cast<float>(i) + dice(-0.02F, 0.02F), -0.5F,
                       -0.75F + dice(-0.07F, 0.07F)};
        const float tall = dice(0.38F, 0.62F);
        const float lean = dice(-0.06F, 0.06F);
        const auto path = [=](float t) {
            return foot + Vec{lean * t * t, tall * t, 0.02F * std::sin(3.F * t)};
        };
        scene.add(tube(
            path, [](float t) { return 0.0036F - 0.0018F * t; }, {green, stems}, 20, 8));
        for (const float side : {-1.F, 1.F})
            scene.add(leaf(path(0.98F),
                           path(0.98F) + Vec{side * dice(0.03F, 0.055F), dice(0.005F, 0.03F), 0.01F},
                           Vec{0.F, 0.012F, 0.004F}, 0.02F, {green, stems}));
    }
    for (int i = 0; i < 6; ++i) {
        const float s = 0.09F * static_cast<float>(i);
        scene.add(
            beam({0.36F + s, -0.55F, -0.98F}, {0.36F + s - 0.12F, 0.6F, -0.98F}, 0.014F, {lath, lattice}));
        scene.add(beam({0.22F, -0.42F + 1.7F * s, -0.965F}, {0.95F, -0.36F + 1.7F * s, -0.965F}, 0.012F,
                       {lath, lattice}));
    }
    scene.addLight({{0.2F, 0.8F, 0.1F}, {0.42F, 0.40F, 0.38F}, false});
}

/// The lattice panel close to the lens of the second shot, on the left of its view; its laths stay clear of
/// the flowers while the camera drifts, because what a near thing hides of them no frame shows.
void addSecondLattice(Scene& scene)
{
    const int lattice = scene.addObject("lattice");
    const int lath =
        scene.addMaterial({{0.42F, 0.33F, 0.24F}, {0.33F, 0.25F, 0.17F}, Pattern::planks, 40.F, {}});
    const Vec right{0.77F, 0.F, -0.64F};
    const Vec centre = Vec{0.21F, 0.F, -1.72F} - right * 0.135F;
    for (int i = 0; i < 4; ++i) {
        const float s = -0.36F + 0.085F * static_cast<float>(i);
        const Vec foot = centre + right * s + Vec{0.F, -0.5F, 0.F};
        scene.add(beam(foot, foot + right * 0.09F + Vec{0.F, 1.2F, 0.F}, 0.011F, {lath, lattice}));
        const float y = -0.2F + 0.13F * static_cast<float>(i);
        scene.add(beam(centre + right * -0.45F + Vec{0.F, y, 0.012F},
                       centre + right * -0.02F + Vec{0.F, y + 0.03F, 0.012F}, 0.010F, {lath, lattice}));
    }
    scene.addLight({{0.5F, 0.7F, -1.2F}, {0.14F, 0.13F, 0.12F}, false});
}

/// What the sign is nailed to.
void addStake(Scene& scene)
{
    const int lath =
        scene.addMaterial({{0.42F, 0.33F, 0.24F}, {0.33F, 0.25F, 0.17F}, Pattern::planks, 40.F, {}});
    const auto corners = signCorners();
    const Vec top = (corners[0] + corners[1]) * 0.5F + Vec{-0.022F, 0.02F, -0.027F};
    scene.add(beam({top.x, -0.45F, top.z}, top, 0.012F, {lath, scene.addObject("")}));
}

} // namespace

GreenhouseFrame makeGreenhouse(int frame, SignPose sign)
{
    GreenhouseFrame result;
    Camera& camera = result.camera;
    camera.width = 640;
    camera.height = 360;
    if (frame < GreenhouseFrame::cutFrame) {
        const float t = static_cast<float>(frame - GreenhouseFrame::firstFrame) / 23.F;
        camera.eye = {-0.10F + 0.14F * t, 0.02F + 0.02F * t, 0.04F - 0.06F * t};
        camera.target = {0.02F + 0.05F * t, -0.08F, -2.6F};
        camera.focalLengthMm = 40.F;
    } else {
        const float t = static_cast<float>(frame - GreenhouseFrame::cutFrame) / 23.F;
        camera.eye = {0.72F - 0.16F * t, 0.12F, -1.15F - 0.08F * t};
        camera.target = {-0.78F, -0.08F, -2.95F};
        camera.focalLengthMm = 55.F;
    }
    Scene& scene = result.scene;
    addHouse(scene);
    addDoor(scene);
    addLamps(scene);
    addBenches(scene);
    addCan(scene);
    addOrchids(scene);
    if (frame < GreenhouseFrame::cutFrame) {
        addForeground(scene);
        scene.addObject("sign"); // every frame of a sequence has the same mattes
    } else {
        addSecondLattice(scene);
        addStake(scene);
        addSign(scene, sign, camera, static_cast<float>(GreenhouseFrame::signDistance));
    }
    scene.setAmbient({0.012F, 0.012F, 0.015F}, {0.035F, 0.045F, 0.065F});
    scene.commit();
    return result;
}

} // namespace retinex::reference
