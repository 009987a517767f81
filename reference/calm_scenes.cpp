#include "reference/calm_scenes.h"

#include "reference/shapes.h"

#include <array>
#include <cmath>
#include <numbers>
#include <string_view>

namespace retinex::reference {

namespace {

constexpr float kTurn = 2.F * std::numbers::pi_v<float>;

/// Opens the lens until what is at `nearby` metres has a blur disc of `discPx` at 640 px (thin lens, in focus
/// at the trial's focus distance).
void openUntil(Trial& trial, double nearby, double discPx)
{
    const double f = trial.camera.focalLengthMm;
    const double focus = 1000.0 * trial.lens.focusDistance;
    const double near = 1000.0 * nearby;
    const double widest = f * f / (focus - f) * (focus - near) / near; // mm on the sensor at f/1
    trial.lens.fStop = widest * 640.0 / static_cast<double>(trial.camera.sensorWidthMm) / discPx;
}

int plain(Scene& scene, Vec colour)
{
    return scene.addMaterial({colour, {}, Pattern::plain, 1.F, {}});
}

} // namespace

Trial wireBeforeBooks(double foregroundPx)
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int wires = scene.addObject("wires");
    const int books = scene.addObject("books");
    const int steel = plain(scene, {0.42F, 0.44F, 0.46F});
    const int wood =
        scene.addMaterial({{0.36F, 0.22F, 0.12F}, {0.28F, 0.17F, 0.09F}, Pattern::planks, 5.F, {}});
    for (int i = -9; i <= 9; ++i)
        for (const float lean : {-0.2F, 0.2F}) {
            const float x = 0.055F * static_cast<float>(i);
            scene.add(beam({x - lean, -0.25F, -0.5F}, {x + lean, 0.25F, -0.5F}, 0.0035F, {steel, wires}));
        }
    scene.add(box({-3.F, -2.F, -2.9F}, {3.F, 2.F, -2.85F}, {wood, scenery}));
    Dice dice(17);
    for (int row = -2; row <= 1; ++row) {
        const float low = 0.42F * static_cast<float>(row) + 0.12F;
        scene.add(box({-3.F, low - 0.03F, -2.85F}, {3.F, low, -2.42F}, {wood, scenery}));
        for (float x = -1.3F; x < 1.3F;) {
            const float wide = dice(0.03F, 0.09F);
            const float tall = dice(0.24F, 0.34F);
            const float front = -2.44F - dice(0.F, 0.05F);
            const Vec colour{dice(0.04F, 0.75F), dice(0.04F, 0.6F), dice(0.04F, 0.55F)};
            scene.add(
                box({x, low, -2.8F}, {x + wide - 0.002F, low + tall, front}, {plain(scene, colour), books}));
            const int label = plain(scene, {dice(0.5F, 0.9F), dice(0.45F, 0.8F), dice(0.2F, 0.6F)});
            const float at = low + tall * dice(0.55F, 0.75F);
            scene.add(box({x + 0.006F, at, front}, {x + wide - 0.008F, at + 0.045F, front + 0.001F},
                          {label, books}));
            x += wide;
        }
    }
    scene.addLight({{1.2F, 1.6F, 0.4F}, {8.F, 7.6F, 6.8F}, true});
    scene.setAmbient({0.05F, 0.05F, 0.05F}, {0.16F, 0.17F, 0.2F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.02F, 0.02F, -2.F}, 50.F, 36.F, 960, 540};
    trial.lens.focusDistance = 2.45;
    openUntil(trial, 0.5, foregroundPx);
    return trial;
}

Trial stalksBeforeAnEdge(double foregroundPx)
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int plants = scene.addObject("stalks");
    const int wall = scene.addObject("wall");
    const int plaster =
        scene.addMaterial({{0.62F, 0.58F, 0.5F}, {0.56F, 0.52F, 0.45F}, Pattern::speckle, 30.F, {}});
    const int brick =
        scene.addMaterial({{0.32F, 0.12F, 0.09F}, {0.22F, 0.09F, 0.07F}, Pattern::checker, 6.F, {}});
    const int green = plain(scene, {0.12F, 0.3F, 0.08F});
    const int straw = plain(scene, {0.5F, 0.4F, 0.16F});
    scene.add(box({-1.6F, -1.5F, -2.4F}, {0.05F, 1.5F, -2.F}, {plaster, wall}));
    scene.add(box({-4.F, -3.F, -6.2F}, {4.F, 3.F, -6.F}, {brick, scenery}));
    scene.add(tube(
        [](float t) {
            return Vec{-0.06F + 0.13F * t, -0.2F + 0.4F * t, -0.45F};
        },
        [](float) { return 0.0022F; }, {green, plants}, 32, 12));
    scene.add(tube(
        [](float t) {
            return Vec{0.09F - 0.1F * t - 0.06F * t * t, -0.2F + 0.4F * t, -0.47F};
        },
        [](float t) { return 0.0026F - 0.001F * t; }, {straw, plants}, 32, 12));
    scene.addLight({{1.5F, 2.F, 0.5F}, {9.F, 8.6F, 7.8F}, true});
    scene.setAmbient({0.06F, 0.06F, 0.06F}, {0.2F, 0.22F, 0.26F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, 0.F, -2.F}, 50.F, 36.F, 960, 540};
    trial.lens.focusDistance = 2.0;
    openUntil(trial, 0.45, foregroundPx);
    return trial;
}

namespace {

/// Letters of 5 x 7 cells, rows from the top.
struct Letter
{
    char name;
    std::array<std::string_view, 7> rows;
};
constexpr std::array<Letter, 6> kLetters{
    {{'S', {" ####", "#    ", "#    ", " ### ", "    #", "    #", "#### "}},
     {'E', {"#####", "#    ", "#    ", "#### ", "#    ", "#    ", "#####"}},
     {'D', {"#### ", "#   #", "#   #", "#   #", "#   #", "#   #", "#### "}},
     {'R', {"#### ", "#   #", "#   #", "#### ", "# #  ", "#  # ", "#   #"}},
     {'O', {" ### ", "#   #", "#   #", "#   #", "#   #", "#   #", " ### "}},
     {'T', {"#####", "  #  ", "  #  ", "  #  ", "  #  ", "  #  ", "  #  "}}}};

/// Of flat boxes on a wall at `z`; `cell` metres wide and high.
void addWord(Scene& scene, std::string_view word, Vec at, float cell, Tag tag)
{
    for (const char name : word) {
        for (const Letter& letter : kLetters) {
            if (letter.name != name) continue;
            for (std::size_t row = 0; row < letter.rows.size(); ++row)
                for (std::size_t column = 0; column < 5; ++column)
                    if (letter.rows[row][column] == '#') {
                        const Vec low = at + Vec{cell * static_cast<float>(column),
                                                 cell * static_cast<float>(6 - row), 0.F};
                        scene.add(box(low, low + Vec{cell, cell, 0.002F}, tag));
                    }
        }
        at = at + Vec{6.F * cell, 0.F, 0.F};
    }
}

} // namespace

Trial chainBeforeLetters(double foregroundPx)
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int chain = scene.addObject("chain");
    const int board = plain(scene, {0.07F, 0.16F, 0.12F});
    const int paint = plain(scene, {0.78F, 0.74F, 0.6F});
    const int steel = plain(scene, {0.33F, 0.34F, 0.37F});
    scene.add(box({-3.F, -2.F, -2.1F}, {3.F, 2.F, -2.F}, {board, scenery}));
    addWord(scene, "ROSES", {-0.62F, 0.08F, -2.F}, 0.042F, {paint, scenery});
    addWord(scene, "TREES", {-0.6F, -0.34F, -2.F}, 0.04F, {paint, scenery});
    addWord(scene, "SEEDS", {-0.15F, -0.56F, -2.F}, 0.02F, {paint, scenery});
    addWord(scene, "DOORS", {-0.45F, 0.46F, -2.F}, 0.02F, {paint, scenery});
    // Links of wire, each turned a quarter against the one before, along a hanging line.
    constexpr int links = 34;
    for (int i = 0; i < links; ++i) {
        const float t = static_cast<float>(i) / (links - 1);
        const Vec at{-0.2F + 0.4F * t, 0.07F - 0.3F * t * (1.F - t) - 0.05F * t, -0.5F};
        const Vec along = normalised(Vec{0.4F, -0.3F + 0.6F * t - 0.05F, 0.F});
        const Vec across = i % 2 == 0 ? Vec{-along.y, along.x, 0.F} : Vec{0.F, 0.F, 1.F};
        scene.add(tube(
            [=](float s) {
                return at + along * (0.0095F * std::cos(kTurn * s)) + across * (0.006F * std::sin(kTurn * s));
            },
            [](float) { return 0.0013F; }, {steel, chain}, 28, 8));
    }
    scene.addLight({{-1.F, 1.5F, 0.5F}, {7.F, 6.8F, 6.2F}, true});
    scene.setAmbient({0.06F, 0.06F, 0.06F}, {0.2F, 0.21F, 0.24F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, 0.F, -2.F}, 50.F, 36.F, 960, 540};
    trial.lens.focusDistance = 2.0;
    openUntil(trial, 0.5, foregroundPx);
    return trial;
}

Trial ballBehindABar(double foregroundPx)
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int bars = scene.addObject("bars");
    const int ball = scene.addObject("ball");
    const int wall =
        scene.addMaterial({{0.2F, 0.26F, 0.34F}, {0.16F, 0.21F, 0.28F}, Pattern::planks, 3.F, {}});
    const int skin =
        scene.addMaterial({{0.75F, 0.5F, 0.12F}, {0.65F, 0.42F, 0.1F}, Pattern::stripes, 9.F, {}});
    const int dark = plain(scene, {0.05F, 0.05F, 0.06F});
    const int light = plain(scene, {0.6F, 0.6F, 0.58F});
    scene.add(box({-4.F, -3.F, -4.6F}, {4.F, 3.F, -4.5F}, {wall, scenery}));
    scene.add(sphere({0.03F, -0.02F, -2.2F}, 0.36F, {skin, ball}, 128));
    scene.add(sphere({-0.55F, 0.2F, -2.3F}, 0.13F, {skin, ball}, 96));
    scene.add(beam({-0.085F, -0.3F, -0.5F}, {-0.05F, 0.3F, -0.5F}, 0.009F, {dark, bars}));
    scene.add(beam({0.075F, -0.3F, -0.52F}, {0.09F, 0.3F, -0.52F}, 0.006F, {light, bars}));
    scene.add(beam({-0.4F, 0.055F, -0.55F}, {0.4F, 0.085F, -0.55F}, 0.006F, {dark, bars}));
    scene.addLight({{1.5F, 2.F, 0.8F}, {9.F, 8.4F, 7.4F}, true});
    scene.setAmbient({0.06F, 0.06F, 0.06F}, {0.2F, 0.22F, 0.26F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, 0.F, -2.F}, 50.F, 36.F, 960, 540};
    trial.lens.focusDistance = 1.95;
    openUntil(trial, 0.5, foregroundPx);
    return trial;
}

Trial netBeforeFruit(double foregroundPx)
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int net = scene.addObject("net");
    const int fruit = scene.addObject("fruit");
    const int cord = plain(scene, {0.7F, 0.68F, 0.6F});
    const int crate =
        scene.addMaterial({{0.34F, 0.22F, 0.12F}, {0.24F, 0.15F, 0.08F}, Pattern::planks, 9.F, {}});
    // Meshes of cord that sag.
    for (int i = -8; i <= 8; ++i) {
        const float at = 0.04F * static_cast<float>(i);
        scene.add(tube(
            [=](float t) {
                return Vec{-0.35F + 0.7F * t, at - 0.03F * t * (1.F - t), -0.5F};
            },
            [](float) { return 0.0011F; }, {cord, net}, 40, 8));
        scene.add(tube(
            [=](float t) {
                return Vec{at + 0.012F * t * t, -0.3F + 0.6F * t, -0.5F};
            },
            [](float) { return 0.0011F; }, {cord, net}, 40, 8));
    }
    scene.add(box({-3.F, -2.F, -2.6F}, {3.F, 2.F, -2.5F}, {crate, scenery}));
    Dice dice(29);
    for (int row = 0; row < 6; ++row)
        for (int i = 0; i < 11; ++i) {
            const bool isLemon = dice(0.F, 1.F) < 0.35F;
            const int skin = plain(scene, isLemon ? Vec{0.75F, 0.6F, 0.08F}
                                                  : Vec{dice(0.35F, 0.65F), dice(0.03F, 0.2F), 0.04F});
            const float size = dice(0.055F, 0.085F);
            scene.add(sphere({-0.9F + 0.18F * static_cast<float>(i) + dice(-0.03F, 0.03F),
                              -0.5F + 0.19F * static_cast<float>(row) + dice(-0.03F, 0.03F),
                              -2.42F + dice(0.F, 0.08F)},
                             size, {skin, fruit}, 48));
        }
    scene.addLight({{-1.2F, 1.8F, 0.4F}, {8.F, 7.6F, 7.F}, true});
    scene.setAmbient({0.06F, 0.06F, 0.06F}, {0.2F, 0.21F, 0.24F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, -0.02F, -2.F}, 50.F, 36.F, 960, 540};
    trial.lens.focusDistance = 2.4;
    openUntil(trial, 0.5, foregroundPx);
    return trial;
}

Trial railingBeforeTiles(double foregroundPx)
{
    Trial trial;
    Scene& scene = trial.scene;
    const int scenery = scene.addObject("");
    const int railing = scene.addObject("railing");
    const int pots = scene.addObject("pots");
    const int iron = plain(scene, {0.04F, 0.05F, 0.06F});
    const int tiles =
        scene.addMaterial({{0.6F, 0.58F, 0.52F}, {0.1F, 0.2F, 0.36F}, Pattern::checker, 7.F, {}});
    const int clay = plain(scene, {0.5F, 0.22F, 0.12F});
    for (int i = -4; i <= 4; ++i) {
        const float x = 0.065F * static_cast<float>(i) + 0.01F;
        scene.add(beam({x, -0.4F, -0.5F}, {x, 0.4F, -0.5F}, 0.005F, {iron, railing}));
        scene.add(tube(
            [=](float t) {
                return Vec{x + 0.022F * std::sin(kTurn * t), 0.05F + 0.022F * std::cos(kTurn * t), -0.5F};
            },
            [](float) { return 0.002F; }, {iron, railing}, 40, 8));
    }
    scene.add(beam({-0.5F, -0.09F, -0.5F}, {0.5F, -0.085F, -0.5F}, 0.006F, {iron, railing}));
    scene.add(box({-4.F, -3.F, -3.1F}, {4.F, 3.F, -3.F}, {tiles, scenery}));
    for (int i = 0; i < 5; ++i)
        scene.add(
            lathe({-0.8F + 0.42F * static_cast<float>(i), -0.55F, -2.5F},
                  {{0.F, 0.F}, {0.09F, 0.F}, {0.14F, 0.24F}, {0.15F, 0.25F}, {0.15F, 0.3F}, {0.F, 0.3F}},
                  {clay, pots}));
    scene.addLight({{1.4F, 1.8F, 0.6F}, {9.F, 8.6F, 7.6F}, true});
    scene.setAmbient({0.06F, 0.06F, 0.06F}, {0.2F, 0.22F, 0.25F});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.02F, -0.02F, -2.F}, 50.F, 36.F, 960, 540};
    trial.lens.focusDistance = 2.6;
    openUntil(trial, 0.5, foregroundPx);
    return trial;
}

} // namespace retinex::reference
