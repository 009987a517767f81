// What regions and inserts cost: eight of them, paint among them, on a frame beside the frame's own time, and
// a project of many strokes beside one of none.
#include "bench/timing.h"
#include "core/defocus/defocus.h"
#include "core/depth/depth_reading.h"
#include "core/inserts/placing.h"
#include "core/inserts/resample.h"
#include "core/project/file/project_file.h"
#include "core/regions/apply.h"
#include "core/regions/outline_path.h"
#include "reference/scenes.h"

#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>

namespace {

using namespace retinex;
using bench::quickest;
using namespace retinex::regions;

Piece painted(int strokes, int width, int height)
{
    Piece piece;
    piece.kind = PieceKind::paint;
    for (int i = 0; i < strokes; ++i) {
        Stroke stroke;
        stroke.radiusPx = 20.0 + i % 40;
        for (int k = 0; k < 40; ++k)
            stroke.points.push_back({{std::fmod(37.0 * i + 6.0 * k, width),
                                      std::fmod(53.0 * i + 4.0 * std::sin(0.3 * k), height)}});
        piece.strokes.push_back(std::move(stroke));
    }
    return piece;
}

/// Guards and patches as they are used: outlines, most of them feathered, paint, a ramp, a span.
std::vector<PlacedRegion> eight(int width, int height)
{
    std::vector<PlacedRegion> placedRegions;
    const auto add = [&](Region region) {
        placedRegions.push_back(placed(region, 1, [](const std::string&, int) { return std::nullopt; }));
    };
    const double w = width;
    const double h = height;
    for (int i = 0; i < 4; ++i) {
        Region region;
        Piece piece;
        piece.outline = {{1, ellipse({0.1 * w + 0.2 * w * i, 0.2 * h}, {0.3 * w + 0.2 * w * i, 0.7 * h})}};
        region.area = Area({piece});
        region.featherPx = i % 2 == 0 ? 0.03 * w : 0.0;
        region.share = 0.25 * i;
        if (i == 3) region.patch = PatchKind::median;
        add(region);
    }
    for (int i = 0; i < 2; ++i) {
        Region region;
        region.area = Area({painted(6, width, height)});
        region.addedPx = 3.0 * i;
        region.share = 0.5;
        add(region);
    }
    Region ramp;
    Piece whole;
    whole.kind = PieceKind::whole;
    ramp.area = Area({whole});
    ramp.patch = PatchKind::ramp;
    ramp.gapsOnly = true;
    add(ramp);
    Region span;
    Piece far;
    far.kind = PieceKind::span;
    far.nearest = 3.0;
    far.farthest = 6.0;
    far.softEnds = 0.2;
    span.area = Area({far});
    span.share = 1.5;
    add(span);
    return placedRegions;
}

void printCost(int width, int threads)
{
    auto trial = reference::makeTrial("greenhouse, can");
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    const auto passes = reference::renderPasses(trial.scene, trial.camera, 4);
    const auto read = depth::toDistance(passes.depth);
    defocus::LensSettings settings;
    settings.lens = {trial.camera.focalLengthMm, 1.4, 1000.0 * trial.lens.focusDistance};
    const Run run{threads, {}, {}};
    const double frame = quickest(3, [&] {
        (void)defocus::defocus({passes.colour, read.distance}, settings, run);
    });
    const auto regions = eight(width, trial.camera.height);
    const PixelBox box = PixelBox::at(0, 0, width, trial.camera.height);
    const double own = quickest(3, [&] {
        Changed changed{read.distance, read.gaps};
        apply(regions, {box, &read.distance, &read.gaps, {}}, changed, run);
    });
    fmt::print("{} x {}: the frame {:.0f} ms, eight regions {:.0f} ms: {:.1f} % of it\n", width,
               trial.camera.height, 1e3 * frame, 1e3 * own, 100.0 * own / frame);
}

/// Four inserts at distances of their own and a backdrop, as the window lays them in at every change.
void printInserts(int width, int threads)
{
    auto trial = reference::makeTrial("greenhouse, can");
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    const auto passes = reference::renderPasses(trial.scene, trial.camera, 4);
    const Run run{threads, {}, {}};
    const auto read = depth::toDistance(passes.depth);
    defocus::LensSettings settings;
    settings.lens = {trial.camera.focalLengthMm, 1.4, 1000.0 * trial.lens.focusDistance};
    settings.brightness = 0.12;
    const double frame = quickest(3, [&] {
        (void)defocus::defocus({passes.colour, read.distance}, settings, run);
    });
    RgbaImage card(1024, 1024);
    for (int c = 0; c < 4; ++c)
        for (int y = 0; y < 1024; ++y)
            for (int x = 0; x < 1024; ++x)
                card.plane(c).at(x, y) =
                    c == 3 ? 1.0F : 0.2F + 0.3F * static_cast<float>((x / 16 + y / 16 + c) % 2);
    const double w = width;
    const double h = trial.camera.height;
    const PixelBox box = PixelBox::at(0, 0, width, trial.camera.height);
    double laying = 0.0;
    const double with = quickest(3, [&] {
        const auto start = std::chrono::steady_clock::now();
        auto all = std::make_shared<std::vector<LensLayer>>();
        const auto add = [&](const std::array<Point, 4>& corners, float distance, bool isBackdrop) {
            const auto placement = inserts::placementTo(corners, 1024, 1024);
            const inserts::Laid laid = inserts::laidInto(card, *placement, box, run);
            LensLayer layer;
            layer.colour = RgbaImage(box.width(), box.height());
            for (int c = 0; c < 4; ++c)
                for (int y = 0; y < laid.box.height(); ++y)
                    std::copy_n(laid.colour.plane(c).row(y), laid.box.width(),
                                layer.colour.plane(c).row(y + laid.box.minY) + laid.box.minX);
            layer.distance = Plane<float>(box.width(), box.height());
            layer.box = laid.box;
            for (int y = laid.box.minY; y <= laid.box.maxY; ++y)
                std::fill_n(layer.distance.row(y) + laid.box.minX, laid.box.width(), distance);
            layer.isBehindAll = isBackdrop;
            all->push_back(std::move(layer));
        };
        for (int i = 0; i < 4; ++i) {
            const double x = (0.05 + 0.24 * i) * w;
            add({Point{x, 0.3 * h}, {x + 0.2 * w, 0.25 * h}, {x + 0.2 * w, 0.7 * h}, {x, 0.6 * h}},
                1.0F + static_cast<float>(i), false);
        }
        add({Point{0, 0}, {w, 0}, {w, h}, {0, h}}, 30.0F, true);
        laying = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        defocus::LensInput input(passes.colour, read.distance);
        input.setLayers(std::move(all));
        (void)defocus::defocus(input, settings, run);
    });
    fmt::print("{} x {}: with four inserts and a backdrop {:.0f} ms ({:.0f} ms of it to lay them in): {:.0f} "
               "% on top\n",
               width, trial.camera.height, 1e3 * with, 1e3 * laying, 100.0 * (with / frame - 1.0));
}

void printLoading(int strokes)
{
    const auto file = std::filesystem::temp_directory_path() / "retinex-bench-regions.retinex";
    project::Project project;
    project.colour.file = "none.exr";
    const auto load = [&] { return quickest(3, [&] { (void)project::loadProject(file); }); };
    project::saveProject(file, project);
    const double none = load();
    Region region;
    region.id = "1";
    region.area = Area({painted(strokes, 1920, 1080)});
    project.base().regions = {region};
    project::saveProject(file, project);
    fmt::print("a project loads in {:.1f} ms, with {} strokes of 40 places ({:.1f} MB) in {:.0f} ms\n",
               1e3 * none, strokes, 1e-6 * static_cast<double>(std::filesystem::file_size(file)),
               1e3 * load());
    std::filesystem::remove(file);
}

} // namespace

int main(int argc, char** argv)
{
    CLI::App app{"What regions cost"};
    int width = 1920;
    int threads = 0;
    int strokes = 2000;
    app.add_option("--width", width, "px");
    app.add_option("--threads", threads, "0: all cores");
    app.add_option("--strokes", strokes, "of the project that is loaded");
    CLI11_PARSE(app, argc, argv);
    printCost(width, threads);
    printInserts(width, threads);
    printLoading(strokes);
    return 0;
}
