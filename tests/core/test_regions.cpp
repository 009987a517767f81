// Regions: areas, where they lie, and what they do to distance and blur. Against formulas, OpenCV and the
// engine without them.
#include "core/defocus/defocus.h"
#include "core/frame/depends_on.h"
#include "core/frame/lay_in.h"
#include "core/frame/places/region_places.h"
#include "core/frame/places/subject_measure.h"
#include "core/frame/render_frame.h"
#include "core/project/file/project_file.h"
#include "core/project/shots.h"
#include "core/regions/area_text.h"
#include "core/regions/brush.h"
#include "core/regions/outline_path.h"
#include "core/regions/soften.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <QFile>
#include <QTest>
#include <numbers>
#include <numeric>
#include <opencv2/imgproc.hpp>

using namespace retinex;
using namespace retinex::regions;

namespace {

double sumOf(const Plane<float>& plane)
{
    return std::accumulate(plane.pixels().begin(), plane.pixels().end(), 0.0);
}

/// Gauss's area formula.
double areaOf(const std::vector<Point>& polygon)
{
    double twice = 0.0;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const Point& a = polygon[i];
        const Point& b = polygon[(i + 1) % polygon.size()];
        twice += a.x * b.y - b.x * a.y;
    }
    return 0.5 * std::abs(twice);
}

Plane<float> covered(const std::vector<Point>& polygon, const PixelBox& box)
{
    Plane<float> coverage(box.width(), box.height());
    addPolygon(polygon, box.minX, box.minY, coverage);
    return coverage;
}

Area drawn(std::vector<OutlinePoint> points, Joining joining = Joining::add)
{
    Piece piece;
    piece.joining = joining;
    piece.outline = {{1, std::move(points)}};
    return Area({piece});
}

Area whole()
{
    Piece piece;
    piece.kind = PieceKind::whole;
    return Area({piece});
}

std::optional<Point> nowhere(const std::string&, int)
{
    return std::nullopt;
}

Plane<float> areaCoverage(const Region& region, const Plane<float>& distance)
{
    return coverageOf(placed(region, 1, nowhere),
                      {PixelBox::at(0, 0, distance.width(), distance.height()), &distance, nullptr, {}}, {});
}

Region named(const char* id)
{
    Region region;
    region.id = region.name = id;
    return region;
}

} // namespace

class TestRegions : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;

    std::string path(const char* name) const { return m_dir.filePath(name).toStdString(); }

    /// A picture with a texture, everything at 4 units but a thing at 2 in the middle.
    struct Scene
    {
        std::shared_ptr<passes::PassSource> source;
        std::shared_ptr<project::Project> project;
    };
    Scene scene() const
    {
        Scene made;
        made.source = std::make_shared<passes::PassSource>(passes::PassChoice{path("scene.exr"), {}},
                                                           passes::PassChoice{});
        made.project = std::make_shared<project::Project>();
        made.project->colour.file = path("scene.exr");
        made.project->firstFrame = made.project->lastFrame = 1;
        project::Settings& settings = made.project->base();
        settings.focusDistance = 2.0;
        settings.fStop = 1.4;
        settings.focalLengthMm = 85.0;
        return made;
    }
    static RgbaImage rendered(const Scene& scene)
    {
        return frame::renderFrame(*scene.source, {scene.project, 1, 1, {}, false}).image;
    }

private slots:
    void initTestCase()
    {
        RgbaImage colour(160, 120);
        Plane<float> depth(160, 120, 4.0F);
        for (int y = 0; y < 120; ++y)
            for (int x = 0; x < 160; ++x) {
                for (int c = 0; c < 3; ++c)
                    colour.plane(c).at(x, y) =
                        0.1F + 0.8F * static_cast<float>((x * 7 + y * 13 + c * 5) % 17) / 17.0F;
                colour.plane(3).at(x, y) = 1.0F;
                if (x >= 60 && x < 100 && y >= 40 && y < 80) depth.at(x, y) = 2.0F;
            }
        Plane<float> matte(160, 120);
        for (int y = 40; y < 80; ++y)
            for (int x = 60; x < 100; ++x)
                matte.at(x, y) = 1.0F;
        const auto channel = [](const char* name, const Plane<float>& plane) {
            return test::Channel{name, false, [&plane](int x, int y) { return plane.at(x, y); }};
        };
        test::writeChannels(path("scene.exr"), 160, 120,
                            {channel("R", colour.plane(0)), channel("G", colour.plane(1)),
                             channel("B", colour.plane(2)), channel("A", colour.plane(3)),
                             channel("Z", depth), channel("matte.thing", matte)});
    }

    void aPolygonsCoverageIsItsArea_data()
    {
        QTest::addColumn<std::vector<Point>>("polygon");
        QTest::newRow("triangle") << std::vector<Point>{{3.3, 2.1}, {40.7, 9.9}, {12.2, 55.5}};
        QTest::newRow("turned square") << std::vector<Point>{{30, 10.5}, {50.5, 30}, {30, 49.5}, {9.5, 30}};
        QTest::newRow("thin") << std::vector<Point>{{2, 30.2}, {62, 30.4}, {62, 30.7}, {2, 30.5}};
        QTest::newRow("upright sides")
            << std::vector<Point>{{5.25, 4.5}, {20.5, 4.5}, {20.5, 40.75}, {5.25, 40.75}};
        QTest::newRow("the other way round") << std::vector<Point>{{12.2, 55.5}, {40.7, 9.9}, {3.3, 2.1}};
    }
    void aPolygonsCoverageIsItsArea()
    {
        QFETCH(std::vector<Point>, polygon);
        const Plane<float> coverage = covered(polygon, PixelBox::at(0, 0, 64, 64));
        QVERIFY(std::abs(sumOf(coverage) / areaOf(polygon) - 1.0) < 1e-4);
        // A piece of the picture has what the whole has there.
        const PixelBox box = PixelBox::at(9, 13, 30, 22);
        const Plane<float> piece = covered(polygon, box);
        for (int y = 0; y < box.height(); ++y)
            for (int x = 0; x < box.width(); ++x)
                QVERIFY(std::abs(piece.at(x, y) - coverage.at(x + box.minX, y + box.minY)) < 1e-5F);
    }

    void outlinesBeyondThePictureAndCrossingOnesAreDefined()
    {
        const PixelBox box = PixelBox::at(0, 0, 40, 40);
        QVERIFY(std::abs(sumOf(covered({{-500, -500}, {500, -500}, {500, 500}, {-500, 500}}, box)) - 1600.0) <
                0.01);
        QCOMPARE(sumOf(covered({{50, 5}, {90, 5}, {70, 30}}, box)), 0.0);
        QCOMPARE(sumOf(covered({{-90, 5}, {-50, 5}, {-70, 30}}, box)), 0.0);
        // Half of it inside, by a line through the middle.
        QVERIFY(std::abs(sumOf(covered({{-20, -20}, {20, -20}, {20, 60}, {-20, 60}}, box)) - 800.0) < 0.01);
        // An eight: both loops count.
        const Plane<float> eight = covered({{5, 5}, {35, 35}, {35, 5}, {5, 35}}, box);
        QVERIFY(std::abs(sumOf(eight) - 450.0) < 1.0);
        QVERIFY(covered({{5, 5}, {10, 10}}, box).at(7, 7) == 0.0F); // no area
    }

    void anEllipseHasItsArea()
    {
        const auto curve = outlineCurve(ellipse({10.2, 20.7}, {150.9, 90.1}));
        const double area = std::numbers::pi * 0.5 * 140.7 * 0.5 * 69.4; // pi a b
        QVERIFY(std::abs(sumOf(covered(curve, PixelBox::at(0, 0, 160, 120))) / area - 1.0) < 1e-3);
        const auto square = outlineCurve(rectangle({10, 10}, {30, 40}));
        QCOMPARE(sumOf(covered(square, PixelBox::at(0, 0, 160, 120))), 600.0);
    }

    // A smooth outline goes through its points, a corner's sides are straight.
    void outlinesRunThroughTheirPoints()
    {
        std::vector<OutlinePoint> points{{{20, 20}}, {{90, 30}}, {{80, 90}}, {{30, 80}, Turn::corner}};
        const auto curve = outlineCurve(points);
        for (const OutlinePoint& point : points)
            QVERIFY(std::ranges::any_of(curve, [&](const Point& p) { return p == point.at; }));
        QVERIFY(areaOf(curve) > 1.05 * areaOf({{20, 20}, {90, 30}, {80, 90}, {30, 80}}));
        for (OutlinePoint& point : points)
            point.turn = Turn::corner;
        QCOMPARE(outlineCurve(points).size(), std::size_t(4));
    }

    void fourPlacesMoveAsOpenCvMovesThem()
    {
        const std::array<Point, 4> from{{{10, 12}, {200, 30}, {190, 170}, {25, 150}}};
        const std::array<Point, 4> to{{{40, 20}, {180, 55}, {160, 140}, {60, 190}}};
        std::vector<cv::Point2f> before;
        std::vector<cv::Point2f> after;
        for (std::size_t i = 0; i < 4; ++i) {
            before.emplace_back(static_cast<float>(from[i].x), static_cast<float>(from[i].y));
            after.emplace_back(static_cast<float>(to[i].x), static_cast<float>(to[i].y));
        }
        const cv::Mat theirs = cv::getPerspectiveTransform(before, after);
        const auto ours = Homography::ofFour(from, to);
        QVERIFY(ours);
        for (int row = 0; row < 3; ++row)
            for (int column = 0; column < 3; ++column)
                QVERIFY(std::abs(ours->rows()[static_cast<std::size_t>(3 * row + column)] -
                                 theirs.at<double>(row, column)) < 1e-6);
        for (std::size_t i = 0; i < 4; ++i)
            QVERIFY(std::hypot((*ours)(from[i]).x - to[i].x, (*ours)(from[i]).y - to[i].y) < 1e-6);
        QVERIFY(!Homography::ofFour({{{0, 0}, {1, 1}, {2, 2}, {5, 0}}}, to)); // three in one line
    }

    void twoPlacesShiftTurnAndSize()
    {
        const auto move = Homography::ofTwo({{{0, 0}, {10, 0}}}, {{{5, 5}, {5, 25}}});
        const Point end = move({10, 0});
        QVERIFY(std::hypot(end.x - 5, end.y - 25) < 1e-9);
        const Point side = move({0, 1}); // twice the size, turned by a quarter
        QVERIFY(std::hypot(side.x - 3, side.y - 5) < 1e-9);
        QVERIFY(std::abs(move.sizeAt({3, 3}) - 2.0) < 1e-9);
        const auto turned = Homography::about({10, 10}, 90.0, 1.0)({20, 10}); // counter-clockwise as seen
        QVERIFY(std::hypot(turned.x - 10, turned.y - 0) < 1e-9);
    }

    void aRegionFollowsItsSubjectsAndItsMarks()
    {
        Region region = named("a");
        region.area = drawn(rectangle({10, 10}, {30, 30}));
        region.follows = "one";
        region.followsFrom = 1;
        const auto places = [](const std::string& name, int frame) -> std::optional<Point> {
            if (name == "one") return Point{10.0 + frame, 20.0 + 2 * frame};
            if (name == "two") return Point{110.0 + frame, 20.0 + 2 * frame};
            return std::nullopt;
        };
        QCOMPARE(placed(region, 6, places).pieces.front().polygon.front(), (Point{15, 20}));
        region.moveX = 100.0;
        QCOMPARE(placed(region, 6, places).pieces.front().polygon.front(), (Point{115, 20}));
        region.follows = "one, two";
        QVERIFY(std::hypot(placed(region, 6, places).pieces.front().polygon.front().x - 115, 0) < 1e-9);
        region.follows = "gone";
        const PlacedRegion lost = placed(region, 6, places);
        QCOMPARE(lost.pieces.front().polygon.front(), (Point{110, 10})); // stays where it is drawn
        QVERIFY(lost.problems.front().find("\"gone\"") != std::string::npos);
        // A single corner on a subject, and an outline with marks.
        Piece piece;
        piece.outline = {{1, rectangle({0, 0}, {10, 10})}, {11, rectangle({20, 0}, {30, 10})}};
        piece.outline[0].points[2].subject = piece.outline[1].points[2].subject = "two";
        Region own = named("b");
        own.area = Area({piece});
        const auto polygon = placed(own, 6, places).pieces.front().polygon;
        QCOMPARE(polygon[0], (Point{10, 0})); // half-way
        QCOMPARE(polygon[2], (Point{116, 32}));
    }

    void theBrushHasItsProfile()
    {
        for (const double softness : {0.25, 0.5, 1.0}) {
            Plane<float> coverage(120, 120);
            addStrokes({{40.0, softness, 0.8, false, {{{60.5, 60.5}}}}}, {}, 0, 0, coverage);
            for (int x = 61; x < 110; ++x) {
                const double rho = (x - 60) / 40.0; // the formula in brush.h
                const double s = std::clamp((rho - (1.0 - softness)) / softness, 0.0, 1.0);
                const double expected = 0.8 * (1.0 - s * s * (3.0 - 2.0 * s));
                QVERIFY(std::abs(static_cast<double>(coverage.at(x, 60)) - expected) < 1e-6);
            }
        }
        // Two strokes add up as paint does; an eraser takes away; pressure makes it smaller and weaker.
        Plane<float> coverage(60, 60);
        const Stroke half{20.0, 0.0, 0.5, false, {{{30, 30}}}};
        addStrokes({half, half}, {}, 0, 0, coverage);
        QVERIFY(std::abs(coverage.at(30, 30) - 0.75F) < 1e-6F);
        addStrokes({{20.0, 0.0, 1.0, true, {{{30, 30}}}}}, {}, 0, 0, coverage);
        QCOMPARE(coverage.at(30, 30), 0.0F);
        addStrokes({{20.0, 0.0, 1.0, false, {{{30, 30}, 0.5F}}}}, {}, 0, 0, coverage);
        QCOMPARE(coverage.at(30, 30), 0.5F);
        QCOMPARE(coverage.at(45, 30), 0.0F);
        // A way covers what a moved brush would: a bar with round ends.
        Plane<float> way(120, 60);
        addStrokes({{10.0, 0.0, 1.0, false, {{{30, 30}}, {{90, 30}}}}}, {}, 0, 0, way);
        QVERIFY(std::abs(sumOf(way) / (1200.0 + std::numbers::pi * 100.0) - 1.0) < 5e-3);
    }

    void growingMovesTheEdgeAndFeatheringKeepsTheArea()
    {
        const auto disc = [](double radius) {
            return covered(outlineCurve(ellipse({100 - radius, 100 - radius}, {100 + radius, 100 + radius})),
                           PixelBox::at(0, 0, 200, 200));
        };
        for (const double by : {-12.0, 7.5, 20.0}) {
            Plane<float> grown = disc(40.0);
            grow(grown, by, {});
            const double radius = std::sqrt(sumOf(grown) / std::numbers::pi);
            QVERIFY2(std::abs(radius - 40.0 - by) < 0.35, qPrintable(QString::number(radius)));
        }
        Plane<float> soft = disc(40.0);
        const double before = sumOf(soft);
        feather(soft, 20.0, {});
        QVERIFY(std::abs(sumOf(soft) / before - 1.0) < 1e-5);
        QVERIFY(std::abs(soft.at(60, 100) - 0.5F) < 0.03F); // half of it to each side
        QVERIFY(soft.at(77, 100) > 0.99F && soft.at(43, 100) < 0.01F);
        Plane<float> full(50, 50, 1.0F);
        feather(full, 30.0, {});
        for (const float c : full.pixels())
            QVERIFY(std::abs(c - 1.0F) < 1e-5F); // the frame's edge is no edge
    }

    void aSoftEdgeFollowsTheDepthEdge()
    {
        Plane<float> distance(160, 80, 8.0F);
        for (int y = 0; y < 80; ++y)
            for (int x = 0; x < 80; ++x)
                distance.at(x, y) = 2.0F;
        Region region = named("a");
        region.area = drawn(rectangle({0, 0}, {86, 80})); // 6 px too far
        region.featherPx = 16.0;
        const Plane<float> loose = areaCoverage(region, distance);
        region.followsEdges = true;
        const Plane<float> pulled = areaCoverage(region, distance);
        QVERIFY(loose.at(82, 40) > 0.6F);
        QVERIFY2(pulled.at(82, 40) < 0.3F, qPrintable(QString::number(pulled.at(82, 40))));
        QVERIFY(pulled.at(77, 40) > 0.8F);
    }

    void partsAreJoinedInTheirOrder()
    {
        const Plane<float> distance(60, 60, 3.0F);
        Piece a;
        a.outline = {{1, rectangle({10, 10}, {40, 40})}};
        Piece b = a;
        b.outline = {{1, rectangle({20, 20}, {50, 50})}};
        Region region = named("a");
        region.area = Area({a, b});
        QCOMPARE(sumOf(areaCoverage(region, distance)), 900.0 + 900.0 - 400.0);
        b.joining = Joining::takeAway;
        region.area = Area({a, b});
        QCOMPARE(sumOf(areaCoverage(region, distance)), 500.0);
        b.joining = Joining::intersect;
        region.area = Area({a, b});
        QCOMPARE(sumOf(areaCoverage(region, distance)), 400.0);
        region.inverted = true;
        QCOMPARE(sumOf(areaCoverage(region, distance)), 3200.0);
        Piece span;
        span.kind = PieceKind::span;
        span.nearest = 2.5;
        span.farthest = 3.5;
        region = named("b");
        region.area = Area({span});
        QCOMPARE(sumOf(areaCoverage(region, distance)), 3600.0);
        span.nearest = 3.3;
        span.softEnds = 0.2; // 3.0 is half-way through 3.3 less 20 %: 1 - s^2 (3 - 2 s), s = 0.3 / 0.66
        region.area = Area({span});
        QVERIFY(std::abs(areaCoverage(region, distance).at(5, 5) - 0.5679F) < 1e-3F);
    }

    // A plane in space seen by a pinhole camera has a distance whose reciprocal is linear in the picture.
    void aRampIsAPlane()
    {
        const double f = 500.0;                        // px
        const auto planeAt = [&](double x, double y) { // n . p = 6, p = d (x/f, y/f, 1)
            return 6.0 / (0.3 * (x - 200) / f + 0.8 * (y - 150) / f + 1.0);
        };
        Region region = named("a");
        region.area = whole();
        region.patch = PatchKind::ramp;
        // Along its steepest line.
        region.rampX1 = 200;
        region.rampY1 = 150;
        region.rampX2 = 200 + 30;
        region.rampY2 = 150 + 80;
        region.rampDistance1 = planeAt(region.rampX1, region.rampY1);
        region.rampDistance2 = planeAt(region.rampX2, region.rampY2);
        const PlacedRegion ramp = placed(region, 1, nowhere);
        for (const auto& [x, y] : {std::pair{10.0, 20.0}, {399.5, 299.5}, {200.5, 150.5}, {120.0, 280.0}})
            QVERIFY(std::abs(rampDistance(ramp, x, y) / planeAt(x, y) - 1.0) < 1e-6);
        region.ramp = RampKind::distance;
        const PlacedRegion even = placed(region, 1, nowhere);
        QVERIFY(std::abs(rampDistance(even, 215, 190) - 0.5 * (region.rampDistance1 + region.rampDistance2)) <
                1e-9);
        region.ramp = RampKind::reciprocal;
        region.rampDistance2 = 60.0;
        QVERIFY(std::isinf(rampDistance(placed(region, 1, nowhere), 300, 420))); // beyond its horizon
    }

    void shareOneIsNoRegionBitForBitAndZeroIsTheSource()
    {
        Scene with = scene();
        const RgbaImage plain = rendered(with);
        Region region = named("a");
        region.area = drawn(ellipse({20, 20}, {140, 110}));
        region.share = 1.0;
        with.project->base().regions = {region};
        const RgbaImage same = rendered(with);
        for (int c = 0; c < 4; ++c)
            QVERIFY(std::ranges::equal(plain.plane(c).pixels(), same.plane(c).pixels()));
        // Kept as planes, share 1 and nothing added change nothing either.
        const auto passes = frame::framePasses(*with.source, *with.project, 1);
        defocus::LensInput input(passes->colour(), passes->distance());
        auto blur = std::make_shared<BlurShare>(160, 120);
        const auto settings = with.project->lensSettingsAt(1);
        const RgbaImage without = defocus::defocus(input, settings);
        input.setBlurShare(blur);
        const RgbaImage ones = defocus::defocus(input, settings);
        for (int c = 0; c < 4; ++c)
            QVERIFY(std::ranges::equal(without.plane(c).pixels(), ones.plane(c).pixels()));

        with.project->base().regions[0].area = whole();
        with.project->base().regions[0].share = 0.0;
        const RgbaImage sharp = rendered(with);
        const RgbaImage& source = with.source->load(1)->colour();
        for (int c = 0; c < 3; ++c)
            for (std::size_t i = 0; i < sharp.plane(c).size(); ++i)
                QVERIFY(std::abs(sharp.plane(c).pixels()[i] - source.plane(c).pixels()[i]) < 1e-5F);
    }

    void addedBlurIsThatOfItsRadius()
    {
        Scene with = scene();
        with.project->base().focusDistance = 2.0;
        Region region = named("a");
        region.area = whole();
        region.patch = PatchKind::number;
        region.distance = 2.0; // all of it in focus
        region.addedPx = 5.0;
        with.project->base().regions = {region};
        const auto passes = frame::framePasses(*with.source, *with.project, 1);
        const auto settings = with.project->lensSettingsAt(1);
        const Plane<float> radius = defocus::blurRadiusPx(passes->distance(), passes->blur(), settings);
        for (const float r : radius.pixels())
            QVERIFY(std::abs(r - 5.0F) < 1e-3F);
        with.project->base().regions[0].patch = PatchKind::none;
        const auto both = frame::framePasses(*with.source, *with.project, 1);
        const Plane<float> lens = defocus::blurRadiusPx(both->distance(), settings);
        const Plane<float> sum = defocus::blurRadiusPx(both->distance(), both->blur(), settings);
        QVERIFY(std::abs(sum.at(5, 5) - std::hypot(lens.at(5, 5), 5.0F)) < 1e-4F);
        QVERIFY(rendered(with).plane(0).at(80, 60) != with.source->load(1)->colour().plane(0).at(80, 60));
    }

    void patchesPutTheirDistanceInPlace()
    {
        Scene with = scene();
        with.project->mattes = passes::mattesIn(path("scene.exr"));
        Region region = named("a");
        Piece piece;
        piece.kind = PieceKind::mattes;
        piece.mattes = {"thing"};
        region.area = Area({piece});
        region.patch = PatchKind::offset;
        region.offset = 0.5;
        auto& regions = with.project->base().regions;
        regions = {region};
        const auto at = [&](int x, int y) {
            return frame::framePasses(*with.source, *with.project, 1)->distance().at(x, y);
        };
        QCOMPARE(at(80, 60), 2.5F);
        QCOMPARE(at(20, 60), 4.0F);
        regions[0].patch = PatchKind::factor;
        regions[0].factor = 1.5;
        QCOMPARE(at(80, 60), 3.0F);
        // The median is that of what lies under it before: the thing's.
        regions[0].patch = PatchKind::median;
        regions[0].area = drawn(rectangle({55, 40}, {100, 80}));
        QCOMPARE(at(57, 60), 2.0F);
        // A rim no wider than a pixel is one thing or the other; where the edge fades, distances lie between,
        // even in 1/distance.
        regions[0].area = drawn(rectangle({0, 0}, {20.5, 120}));
        regions[0].patch = PatchKind::number;
        regions[0].distance = 1.0;
        QCOMPARE(at(20, 60), 1.0F);
        QCOMPARE(at(21, 60), 4.0F);
        regions[0].featherPx = 9.0;
        QVERIFY(std::abs(1.0F / at(20, 60) - 0.5F * (1.0F / 1.0F + 1.0F / 4.0F)) < 0.02F);
        QVERIFY(at(22, 60) > at(18, 60) + 0.3F);
        regions[0].featherPx = 0.0;
        // Order counts: the last one that covers it wholly has it.
        Region second = regions[0];
        second.id = "b";
        second.distance = 9.0;
        regions.push_back(second);
        QCOMPARE(at(5, 60), 9.0F);
        std::swap(regions[0], regions[1]);
        QCOMPARE(at(5, 60), 1.0F);
        regions[1].isOn = false;
        QCOMPARE(at(5, 60), 9.0F);
        // Every view looks at what regions made of it, and so does whoever asks for the distances alone.
        QCOMPARE(frame::frameDistance(*with.source, *with.project, 1).distance.at(5, 60), 9.0F);
    }

    // At a fraction of the size a picture has what the whole one has there, bit for bit.
    void reducedIsTheWholeWhereItWasPicked()
    {
        Scene with = scene();
        with.project->mattes = passes::mattesIn(path("scene.exr"));
        Region soft = named("a");
        soft.area = drawn(ellipse({13.3, 20.1}, {91.7, 100.9}));
        soft.featherPx = 17.0;
        soft.share = 0.3;
        soft.addedPx = 4.0;
        soft.patch = PatchKind::median;
        Region ramp = named("b");
        ramp.area = drawn(rectangle({70.5, 30.5}, {158.0, 119.0}));
        ramp.followsEdges = true;
        ramp.patch = PatchKind::ramp;
        ramp.rampX2 = 160;
        ramp.rampY2 = 120;
        with.project->base().regions = {soft, ramp};
        const auto full = frame::framePasses(*with.source, *with.project, 1);
        for (const int divisor : {2, 3, 4}) {
            const auto small = frame::reducedFramePasses(*with.source, *with.project, 1, divisor);
            const auto picked = passes::reduced(*full, divisor);
            QVERIFY(std::ranges::equal(small->distance().pixels(), picked->distance().pixels()));
            QVERIFY(std::ranges::equal(small->gaps().pixels(), picked->gaps().pixels()));
            QVERIFY(std::ranges::equal(small->blur()->share.pixels(), picked->blur()->share.pixels()));
            QVERIFY(std::ranges::equal(small->blur()->addedPx.pixels(), picked->blur()->addedPx.pixels()));
        }
    }

    void aSubjectsPatchAndASubjectOnAPatch()
    {
        Scene with = scene();
        with.project->subjects.push_back({"thing", "", {{1, 80.0, 60.0}}});
        Region region = named("a");
        region.area = drawn(rectangle({0, 0}, {30, 120}));
        region.patch = PatchKind::subject;
        region.subject = "thing";
        with.project->base().regions = {region};
        // Without a distance yet it says so and changes nothing.
        auto placedRegions = frame::regionsAt(*with.source, *with.project, 1, {});
        QVERIFY(placedRegions.front().problems.front().find("\"thing\"") != std::string::npos);
        QCOMPARE(frame::measureSubjects(*with.project, *with.source, true),
                 std::vector<std::string>{"thing"});
        QCOMPARE(frame::framePasses(*with.source, *with.project, 1)->distance().at(5, 5), 2.0F);
        // A subject that lies on a patch of another kind is measured on it.
        Region flat = named("b");
        flat.area = whole();
        flat.patch = PatchKind::number;
        flat.distance = 3.0;
        with.project->base().regions.push_back(flat);
        QCOMPARE(frame::measureSubjects(*with.project, *with.source, true).size(), std::size_t(1));
        QCOMPARE(*timeline::distanceAt(with.project->subjects.front(), 1), 3.0);
    }

    void depthIsMadeByHand()
    {
        passes::PassOptions options;
        options.handMadeDepth = true;
        const auto grey = [](const char* name) {
            return test::Channel{name, true, [](int, int) { return 0.2F; }};
        };
        test::writeChannels(path("colour.exr"), 80, 60, {grey("R"), grey("G"), grey("B")});
        const passes::PassSource source({path("colour.exr"), {}}, {}, options);
        project::Project project;
        project.base().reading = depth::handMadeReading();
        project.passOptions = options;
        QCOMPARE(frame::framePasses(source, project, 1)->distance().at(5, 5), 10.0F);
        Region region = named("a");
        region.area = whole();
        region.patch = PatchKind::ramp;
        region.rampX1 = region.rampX2 = 40;
        region.rampY1 = 60;
        region.rampY2 = 0;
        region.rampDistance1 = 1.0;
        region.rampDistance2 = 5.0;
        project.base().regions = {region};
        const auto passes = frame::framePasses(source, project, 1);
        QVERIFY(std::abs(1.0F / passes->distance().at(10, 29) - (1.0F - 0.8F * 30.5F / 60.0F)) < 1e-4F);
        QCOMPARE(passes->gaps().at(10, 29), std::uint8_t(0));
        QVERIFY(passes->range.hasSurface());
        // Two things alone: what is no gap stays.
        project.base().regions[0].gapsOnly = true;
        QVERIFY(frame::framePasses(source, project, 1)->distance().at(10, 29) < 5.0F);
    }

    void regionsAreSavedAndReadAgain()
    {
        Scene with = scene();
        Region region = named("1");
        region.name = "logo";
        Piece outline;
        outline.outline = {{1, ellipse({10, 10}, {60, 40})}, {12, ellipse({20, 10}, {70, 40})}};
        outline.outline[0].points[1].subject = outline.outline[1].points[1].subject = "can";
        Piece paint;
        paint.kind = PieceKind::paint;
        paint.joining = Joining::takeAway;
        paint.strokes = {{12.5, 0.25, 0.5, true, {{{1.5, 2.25}}, {{3.0, 4.0}, 0.5F}}}};
        Piece span;
        span.kind = PieceKind::span;
        span.softEnds = 0.1;
        Piece mattes;
        mattes.kind = PieceKind::mattes;
        mattes.mattes = {"thing"};
        mattes.joining = Joining::intersect;
        mattes.unknown = R"({"later":{"a":1}})"; // of a version to come
        region.area = Area({outline, paint, span, mattes});
        region.share = 0.25;
        region.patch = PatchKind::ramp;
        region.follows = "can, orchid";
        region.featherPx = 30.0;
        with.project->base().regions = {region};
        const project::SettingPath share = "regions/1/share";
        with.project->shots.front().tracks[share] = {{1, 0.0}, {1 + 10, 1.0}};
        project::saveProject(path("regions.retinex"), *with.project);
        const project::Project again = project::loadProject(path("regions.retinex"));
        QCOMPARE(again.base().regions.size(), std::size_t(1));
        Region read = again.base().regions.front();
        const Piece& readOutline = read.area.pieces().front();
        QVERIFY(std::abs(readOutline.outline[1].points[0].leaving.y -
                         outline.outline[1].points[0].leaving.y) < 1e-12);
        QCOMPARE(readOutline.outline[1].points[1].subject, std::string("can"));
        QVERIFY(read.area.pieces()[1] == paint);
        QVERIFY(read.area.pieces()[2] == span);
        QVERIFY(read.area.pieces()[3] == mattes);
        read.area = region.area;
        QVERIFY(read == region);
        QCOMPARE(again.shots.front().marks(share).size(), std::size_t(2));
        // Written again it is the same, to the letter.
        project::saveProject(path("again.retinex"), again);
        project::saveProject(path("third.retinex"), project::loadProject(path("again.retinex")));
        QFile second(m_dir.filePath("again.retinex"));
        QFile third(m_dir.filePath("third.retinex"));
        QVERIFY(second.open(QIODevice::ReadOnly) && third.open(QIODevice::ReadOnly));
        QCOMPARE(second.readAll(), third.readAll());
        // Marks make the guard come on, and the fingerprint changes with it and with nothing else.
        project::Project playing = again;
        playing.lastFrame = 12;
        playing.base().regions.front().patch = PatchKind::none;
        QVERIFY(std::abs(playing.valuesAt(6).regions.front().share - 0.5) < 1e-9);
        passes::PassOptions empty;
        empty.emptyWidth = empty.emptyHeight = 8;
        const passes::PassSource source({}, {}, empty);
        const auto upTo = [&](const project::Project& project, int frame) {
            return frame::fingerprint(source, project, frame, project::Stage::regions);
        };
        QVERIFY(upTo(playing, 2) != upTo(playing, 6));
        project::Project renamed = playing;
        renamed.base().regions.front().name = "sign";
        QCOMPARE(upTo(renamed, 6), upTo(playing, 6));
    }

    void aShotsRegionsAreCopiedWithTheirMarks()
    {
        project::Project project;
        project.firstFrame = 1;
        project.lastFrame = 40;
        QVERIFY(project::cutAt(project, 21));
        project.shots[0].settings.regions = {named("1")};
        project.shots[0].settings.regions[0].share = 0.0;
        project.shots[0].tracks["regions/1/share"] = {{1, 0.0}, {5, 1.0}};
        project.shots[1].settings.regions = {named("9")};
        project.shots[1].tracks["regions/9/share"] = {{30, 0.5}};
        project::copySettings(project, 0, 1, {project::Group::regions});
        QCOMPARE(project.shots[1].settings.regions.size(), std::size_t(1));
        QCOMPARE(project.shots[1].settings.regions[0].id, std::string("1"));
        QCOMPARE(project.shots[1].marks("regions/1/share").back().frame, 25);
        QVERIFY(project.shots[1].marks("regions/9/share").empty());
    }

    void wrongAreasAreRefusedWithWhatIsWrong_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("matter");
        QTest::newRow("no list") << "{}"
                                 << "list of parts";
        QTest::newRow("kind") << R"([{"kind":"star"}])"
                              << "outline, paint";
        QTest::newRow("place") << R"([{"kind":"outline","outline":[{"points":[{"at":[1]}]}]}])"
                               << "two numbers";
        QTest::newRow("far") << R"([{"kind":"outline","outline":[{"points":[{"at":[1,1e30]}]}]}])"
                             << "no number from";
        QTest::newRow("counts")
            << R"([{"outline":[{"frame":1,"points":[{"at":[1,2]}]},{"frame":2,"points":[]}]}])"
            << "number of points";
        QTest::newRow("order") << R"([{"outline":[{"frame":5,"points":[]},{"frame":2,"points":[]}]}])"
                               << "order";
        QTest::newRow("stroke") << R"([{"kind":"paint","strokes":[{"points":"1,2 x"}]}])"
                                << "no number";
        QTest::newRow("nan") << R"([{"kind":"paint","strokes":[{"points":"nan,2"}]}])"
                             << "no number";
        QTest::newRow("radius") << R"([{"kind":"paint","strokes":[{"radius":-3}]}])"
                                << "radius";
        QTest::newRow("strength") << R"([{"kind":"paint","strokes":[{"strength":"much"}]}])"
                                  << "strength";
    }
    void wrongAreasAreRefusedWithWhatIsWrong()
    {
        QFETCH(QString, text);
        QFETCH(QString, matter);
        try {
            (void)areaFromText(text.toStdString());
            QFAIL("taken");
        } catch (const Error& error) {
            QVERIFY2(QString::fromUtf8(error.what()).contains(matter), error.what());
        }
    }

    void aWrongShareInAFileIsNamed()
    {
        Scene with = scene();
        with.project->base().regions = {named("1")};
        project::saveProject(path("bad.retinex"), *with.project);
        QFile file(m_dir.filePath("bad.retinex"));
        QVERIFY(file.open(QIODevice::ReadWrite));
        QByteArray text = file.readAll();
        QVERIFY(text.contains("\"share\": 1.0"));
        text.replace("\"share\": 1.0", "\"share\": \"inf\"");
        file.resize(0);
        file.write(text);
        file.close();
        std::vector<std::string> putRight;
        const auto project = project::loadProject(path("bad.retinex"), &putRight);
        QCOMPARE(project.base().regions.front().share, 3.0); // the largest there is
        const QString words = QString::fromStdString(project::putRightNotice(path("bad.retinex"), putRight));
        QVERIFY2(words.contains("bad.retinex") && words.contains("/regions/0/share") &&
                     words.contains("0 to 3"),
                 qPrintable(words));
    }
};

QTEST_GUILESS_MAIN(TestRegions)
#include "test_regions.moc"
