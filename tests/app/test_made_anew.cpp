// Every kind of file that a picture depends on: when one changes, exactly the frames that use it are made
// anew, in the window, by --resume and on the farm; when nothing changes, nothing is. A kind that is
// described and has no row here fails.
#include "app/store/frame_keys.h"
#include "core/delivery/deliver.h"
#include "core/delivery/farm.h"
#include "core/frame/depends_on.h"
#include "core/frame/render_frame.h"
#include "core/passes/exr/exr_write.h"
#include "core/passes/mattes/cryptomatte.h"
#include "core/project/settings/project_settings.h"
#include "support/gltf_scene.h"
#include "support/test_files.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTest>
#include <bit>
#include <cmath>
#include <set>

using namespace retinex;
using namespace retinex::app;

namespace {

using Frames = std::set<int>;
constexpr int kWidth = 32;
constexpr int kHeight = 24;
const Frames kFirstShot{1, 2, 3};
const Frames kAll{1, 2, 3, 4, 5, 6};

/// What a row works with: a project of six frames in two shots, in a folder of its own.
struct Work
{
    QString folder;
    project::Project project;

    [[nodiscard]] std::string path(const QString& name) const
    {
        return (folder + QLatin1Char('/') + name).toStdString();
    }
    [[nodiscard]] std::string frameOf(const QString& name, int frame) const
    {
        return path(QStringLiteral("%1.%2.exr").arg(name).arg(frame, 4, 10, QLatin1Char('0')));
    }
    [[nodiscard]] std::string pattern(const QString& name) const { return path(name + ".####.exr"); }
    [[nodiscard]] project::Settings& first() { return project.shots[0].settings; }
};

test::Channel channel(const char* name, std::function<float(int, int)> value)
{
    return {name, false, std::move(value)};
}

void writeColour(const std::string& file, float light, bool hasAlpha = true)
{
    const auto shade = [light](int x, int y) {
        return light * (0.2F + 0.01F * static_cast<float>((7 * x + 3 * y) % 40));
    };
    const auto cover = [](int x, int) { return x < kWidth / 2 ? 1.0F : 0.5F; };
    std::vector<test::Channel> channels{channel("R", shade), channel("G", shade), channel("B", shade)};
    if (hasAlpha) channels.push_back(channel("A", cover));
    test::writeChannels(file, kWidth, kHeight, channels);
}

void writeDepth(const std::string& file, float farther)
{
    test::writeChannels(file, kWidth, kHeight,
                        {channel("Z", [=](int x, int) { return x < kWidth / 2 ? 2.0F : farther; })});
}

/// A grey in the left part of the frame, up to `end`.
void writeGrey(const std::string& file, int end)
{
    test::writeChannels(file, kWidth, kHeight,
                        {channel("Y", [=](int x, int) { return x < end ? 1.0F : 0.0F; })});
}

void writeMotion(const std::string& file, float speed)
{
    test::writeChannels(file, kWidth, kHeight,
                        {channel("motion.X", [=](int, int) { return speed; }),
                         channel("motion.Y", [](int, int) { return 0.0F; })});
}

void writeIds(const std::string& file, int end)
{
    const std::uint32_t can = passes::idOfName("can");
    const auto plain = file + ".plain.exr";
    test::writeChannels(plain, kWidth, kHeight,
                        {channel("CryptoObject00.R", [=](int, int) { return std::bit_cast<float>(can); }),
                         channel("CryptoObject00.G", [=](int x, int) { return x < end ? 1.0F : 0.0F; }),
                         channel("CryptoObject00.B", [](int, int) { return 0.0F; }),
                         channel("CryptoObject00.A", [](int, int) { return 0.0F; })});
    const QString manifest = QStringLiteral("{\"can\":\"%1\"}").arg(can, 8, 16, QLatin1Char('0'));
    QCOMPARE(QProcess::execute(QStringLiteral("exrstdattr"),
                               {"-string", "cryptomatte/1a2b3c4/name", "CryptoObject", "-string",
                                "cryptomatte/1a2b3c4/hash", "MurmurHash3_32", "-string",
                                "cryptomatte/1a2b3c4/conversion", "uint32_to_float32", "-string",
                                "cryptomatte/1a2b3c4/manifest", manifest, QString::fromStdString(plain),
                                QString::fromStdString(file)}),
             0);
    QVERIFY(QFile::remove(QString::fromStdString(plain)));
}

void writeText(const std::string& file, const QByteArray& text)
{
    QFile out(QString::fromStdString(file));
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write(text);
}

/// A look of two points a side: light times `gain`.
QByteArray cube(double gain)
{
    QByteArray text = "LUT_1D_SIZE 2\n0 0 0\n";
    for (int c = 0; c < 3; ++c)
        text += QByteArray::number(gain) + ' ';
    return text + '\n';
}

regions::Area areaOf(const char* title)
{
    regions::Piece piece;
    piece.kind = regions::PieceKind::mattes;
    piece.mattes = {title};
    return regions::Area({piece});
}

inserts::Insert insertOf(const std::string& file)
{
    inserts::Insert insert;
    insert.id = "1";
    insert.name = "bird";
    insert.file = file;
    insert.moveX = kWidth / 2.0;
    insert.moveY = kHeight / 2.0;
    insert.widthPx = 16.0;
    return insert;
}

inserts::Insert backdropOf(const std::string& file)
{
    inserts::Insert sky = insertOf(file);
    sky.placing = inserts::Placing::backdrop;
    sky.moveX = sky.moveY = 0.0;
    return sky;
}

void addGuard(Work& work, const char* title)
{
    regions::Region guard;
    guard.id = "1";
    guard.name = "guard";
    guard.share = 0.0;
    guard.area = areaOf(title);
    work.first().regions = {guard};
}

/// One kind of input.
struct Row
{
    const char* name;
    const char* setting;               ///< that names it, members of lists as "inserts/*/file"; "": none does
    std::function<void(Work&)> use;    ///< writes the files and has the project use them
    std::function<void(Work&)> change; ///< one of them
    Frames anew;
    bool isSeen = true; ///< in every one of those frames
};

const std::vector<Row>& rows()
{
    const auto nothing = [](Work&) {};
    const auto frames = [](auto write) {
        return [write](Work& work) {
            for (const int frame : kAll)
                write(work, frame);
        };
    };
    static const std::vector<Row> all{
        {"colour",
         "passes/colour/file",
         nothing,
         [](Work& w) { writeColour(w.frameOf("colour", 2), 2.0F); },
         {2}},
        {"depth",
         "passes/depth/file",
         nothing,
         [](Work& w) { writeDepth(w.frameOf("depth", 2), 9.0F); },
         {2}},
        {"alpha",
         "passes/alpha/file",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeGrey(each.frameOf("alpha", frame), 20); })(w);
             w.project.passOptions.alpha = {w.pattern("alpha"), "Y"};
         },
         [](Work& w) { writeGrey(w.frameOf("alpha", 4), 9); },
         {4}},
        {"matte in files of its own",
         "",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeGrey(each.frameOf("matte", frame), 20); })(w);
             w.project.mattes = {{w.frameOf("matte", 1), "Y", false}};
             addGuard(w, w.project.mattes[0].title().c_str());
         },
         [](Work& w) { writeGrey(w.frameOf("matte", 2), 9); },
         {2}},
        {"ID matte",
         "",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeIds(each.frameOf("ids", frame), 20); })(w);
             w.project.mattes = {{w.frameOf("ids", 1), "CryptoObject/can", false}};
             addGuard(w, "can");
         },
         [](Work& w) { writeIds(w.frameOf("ids", 3), 9); },
         {3}},
        {"matte at edges",
         "",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeGrey(each.frameOf("matte", frame), 16); })(w);
             w.project.mattes = {{w.frameOf("matte", 1), "Y"}};
             w.project.shots[1].settings.mattesAtEdges = false;
         },
         [](Work& w) {
             for (const int frame : {2, 5})
                 writeGrey(w.frameOf("matte", frame), 9);
         },
         {2},
         false},
        {"matte that a glow is limited to",
         "",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeGrey(each.frameOf("matte", frame), 20); })(w);
             w.project.mattes = {{w.frameOf("matte", 1), "Y", false}};
             finish::Glow glow;
             glow.id = "1";
             glow.level = 0.1;
             glow.mattes = w.project.mattes[0].title();
             w.first().glows = {glow};
         },
         [](Work& w) { writeGrey(w.frameOf("matte", 1), 2); },
         {1}},
        {"motion vectors", "passes/motion/file",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeMotion(each.frameOf("motion", frame), 1.0F); })(w);
             w.project.passOptions.motion = {w.pattern("motion"), ""};
             w.first().otherFrames = others::OtherFrames::nearFrames;
         },
         [](Work& w) { writeMotion(w.frameOf("motion", 2), 3.0F); }, kFirstShot, false},
        {"scene file", "scene/file",
         [](Work& w) {
             writeText(w.path("scene.gltf"), test::gltfScene());
             w.project.scene.file = w.path("scene.gltf");
             timeline::Subject can;
             can.name = "can";
             can.scenePoint = "can";
             w.project.subjects = {can};
             writeGrey(w.path("patch.exr"), 20);
             w.project.mattes = {{w.path("patch.exr"), "Y", false}};
             addGuard(w, w.project.mattes[0].title().c_str());
             w.first().regions[0].follows = "can";
         },
         [](Work& w) { writeText(w.path("scene.gltf"), test::gltfScene("STEP")); }, kFirstShot, false},
        {"iris picture", "iris/picture",
         [](Work& w) {
             writeGrey(w.path("iris.exr"), kWidth);
             w.first().irisPicture = w.path("iris.exr");
             w.project.readFilesAgain();
         },
         [](Work& w) {
             writeGrey(w.path("iris.exr"), 9);
             w.project
                 .readFilesAgain(); // as the window does when files change, and the command line by opening
         },
         kFirstShot},
        {"backdrop", "inserts/*/file",
         [](Work& w) {
             writeColour(w.path("sky.exr"), 1.0F, false);
             inserts::Insert sky = backdropOf(w.path("sky.exr"));
             w.first().inserts = {sky};
         },
         [](Work& w) { writeColour(w.path("sky.exr"), 3.0F, false); }, kFirstShot},
        {"backdrop's depth pass",
         "inserts/*/depthFile",
         [=](Work& w) {
             frames([](Work& each, int frame) {
                 writeColour(each.frameOf("sky", frame), 1.0F, false);
                 writeDepth(each.frameOf("skydepth", frame), 20.0F);
             })(w);
             inserts::Insert sky = backdropOf(w.pattern("sky"));
             sky.depthFile = w.pattern("skydepth");
             w.first().inserts = {sky};
         },
         [](Work& w) { writeDepth(w.frameOf("skydepth", 3), 2.2F); },
         {3}},
        {"insert, a sequence",
         "inserts/*/file",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeColour(each.frameOf("bird", frame), 1.0F); })(w);
             w.first().inserts = {insertOf(w.frameOf("bird", 1))};
         },
         [](Work& w) { writeColour(w.frameOf("bird", 3), 4.0F); },
         {3}},
        {"insert, a pattern that begins later",
         "inserts/*/file",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeColour(each.frameOf("bird", frame), 1.0F); })(w);
             w.first().inserts = {insertOf(w.pattern("bird"))};
             w.first().inserts[0].startFrame = 2;
             w.first().inserts[0].ending = inserts::Ending::hold;
         },
         [](Work& w) { writeColour(w.frameOf("bird", 2), 4.0F); },
         {3}},
        {"grain plate",
         "finish/plate/file",
         [=](Work& w) {
             frames([](Work& each, int frame) { writeColour(each.frameOf("grain", frame), 1.0F, false); })(w);
             w.first().finish.plate.file = w.pattern("grain");
         },
         [](Work& w) { writeColour(w.frameOf("grain", 2), 2.0F, false); },
         {2}},
        {"look table", "looks/*/file",
         [](Work& w) {
             writeText(w.path("dusk.cube"), cube(0.5));
             finish::Look look;
             look.id = "1";
             look.file = w.path("dusk.cube");
             w.first().looks = {look};
         },
         [](Work& w) { writeText(w.path("dusk.cube"), cube(0.6)); }, kFirstShot},
        {"colour configuration", "",
         [](Work& w) {
             QFile shipped(QStringLiteral(RETINEX_RESOURCES "/config.ocio"));
             QVERIFY(shipped.copy(QString::fromStdString(w.path("config.ocio"))));
             qputenv("OCIO", w.path("config.ocio").c_str());
             w.first().finish.grade.exposureStops = 1.0;
         },
         [](Work& w) {
             QFile config(QString::fromStdString(w.path("config.ocio")));
             QVERIFY(config.open(QIODevice::ReadOnly));
             QByteArray text = config.readAll();
             config.close();
             QVERIFY(text.contains("name: "));
             text += "\n  - !<ColorSpace>\n    name: one more\n    isdata: true\n";
             writeText(w.path("config.ocio"), text);
         },
         kFirstShot, false},
        {"neighbours that other frames look at", "",
         [](Work& w) { w.first().otherFrames = others::OtherFrames::nearFrames; },
         [](Work& w) { writeColour(w.frameOf("colour", 2), 2.0F); }, kFirstShot, false},
    };
    return all;
}

} // namespace

class TestMadeAnew : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;

    Work workFor(const Row& row, int index) const
    {
        Work work;
        work.folder = m_dir.filePath(QString::number(index));
        QDir().mkpath(work.folder);
        for (const int frame : kAll) {
            writeColour(work.frameOf("colour", frame), 1.0F);
            writeDepth(work.frameOf("depth", frame), 6.0F);
        }
        project::Project& project = work.project;
        project.colour.file = work.pattern("colour");
        project.depth.file = work.pattern("depth");
        project.firstFrame = 1;
        project.lastFrame = 6;
        project.base().fStop = 0.7;
        project.base().focalLengthMm = 120.0;
        project.base().otherFrames = others::OtherFrames::off;
        project.shots.push_back(project.shots.front());
        project.shots.back().firstFrame = 4;
        row.use(work);
        return work;
    }

    static std::shared_ptr<const passes::PassSource> sourceFor(const project::Project& project)
    {
        return std::make_shared<passes::PassSource>(project.colour, project.depth, project.passOptions);
    }

    static std::vector<QByteArray> keysOf(const std::shared_ptr<const passes::PassSource>& source,
                                          const project::Project& project)
    {
        PictureRequest request;
        request.source = source;
        request.project = std::make_shared<project::Project>(project);
        request.view = std::make_shared<colour::ViewTransform>(colour::availableViews().front());
        request.mode = ViewMode::result;
        return frameKeys(request, 1);
    }

    static delivery::DeliveryJob jobFor(const Work& work)
    {
        delivery::DeliveryJob job;
        job.project = std::make_shared<project::Project>(work.project);
        job.folder = work.path("out");
        job.resumes = true;
        return job;
    }

    static Frames setOf(const std::vector<int>& frames) { return {frames.begin(), frames.end()}; }

private slots:
    void everyFileThatIsDescribedHasARow()
    {
        std::set<std::string> described;
        for (const auto& field : project::projectSettings().fields())
            if (field.kind == project::Kind::file) described.insert(field.path);
        for (const auto& field : project::shotSettings().fields())
            if (field.kind == project::Kind::file) described.insert(field.path);
        for (const auto& list : project::shotSettings().lists())
            for (const auto& field : list.fields("*"))
                if (field.kind == project::Kind::file) described.insert(field.path);
        QVERIFY(described.size() >= 9);
        for (const std::string& path : described)
            QVERIFY2(std::ranges::any_of(rows(), [&](const Row& row) { return path == row.setting; }),
                     path.c_str());
    }

    void exactlyTheFramesThatUseItAreMadeAnew_data()
    {
        QTest::addColumn<int>("row");
        for (std::size_t i = 0; i < rows().size(); ++i)
            QTest::newRow(rows()[i].name) << static_cast<int>(i);
    }
    void exactlyTheFramesThatUseItAreMadeAnew()
    {
        QFETCH(int, row);
        qunsetenv("OCIO");
        const Row& kind = rows()[static_cast<std::size_t>(row)];
        Work work = workFor(kind, row);

        // First all of them, then, with nothing touched, none.
        const auto before = sourceFor(work.project);
        delivery::DeliveryReport first = delivery::deliver(*before, jobFor(work));
        QVERIFY2(first.failed.empty(), first.failed.empty() ? "" : first.failed.front().message.c_str());
        QCOMPARE(setOf(first.written), kAll);
        QVERIFY(delivery::missingFrames(*before, jobFor(work)).empty());
        const auto again = delivery::deliver(*sourceFor(work.project), jobFor(work));
        QVERIFY(again.written.empty());
        const auto keys = keysOf(before, work.project);
        QCOMPARE(keysOf(sourceFor(work.project), work.project), keys);
        // The window goes on with the same source, and keeps pictures that came through the lens.
        const auto kept = std::make_shared<frame::LensPictures>();
        const auto pictures = [&] {
            std::vector<RgbaImage> all;
            const auto project = std::make_shared<project::Project>(work.project);
            for (const int frame : kAll) {
                frame::FrameRequest request{.project = project, .frame = frame};
                request.kept = kept;
                all.push_back(frame::renderFrame(*before, request).image);
            }
            return all;
        };
        const auto seen = pictures();

        kind.change(work);
        Frames otherKeys;
        Frames otherPictures;
        const auto keysNow = keysOf(before, work.project);
        const auto seenNow = pictures();
        for (std::size_t i = 0; i < kAll.size(); ++i) {
            if (keysNow[i] != keys[i]) otherKeys.insert(static_cast<int>(i) + 1);
            for (int c = 0; c < RgbaImage::channels; ++c)
                if (!std::ranges::equal(seen[i].plane(c).pixels(), seenNow[i].plane(c).pixels()))
                    otherPictures.insert(static_cast<int>(i) + 1);
        }
        QCOMPARE(otherKeys, kind.anew);
        if (kind.isSeen)
            QCOMPARE(otherPictures, kind.anew);
        else
            QVERIFY(std::ranges::includes(kind.anew, otherPictures));

        // The farm renders chunks with --resume, then looks for what is missing: here the first chunk alone.
        const auto after = sourceFor(work.project);
        QCOMPARE(setOf(delivery::missingFrames(*after, jobFor(work))), kind.anew);
        delivery::DeliveryJob chunk = jobFor(work);
        chunk.frames = {1, 2};
        Frames inChunk;
        for (const int frame : {1, 2})
            if (kind.anew.contains(frame)) inChunk.insert(frame);
        QCOMPARE(setOf(delivery::deliver(*after, chunk).written), inChunk);
        Frames rest = kind.anew;
        for (const int frame : inChunk)
            rest.erase(frame);
        QCOMPARE(setOf(delivery::deliver(*after, jobFor(work)).written), rest);
        QVERIFY(delivery::missingFrames(*sourceFor(work.project), jobFor(work)).empty());
    }
};

QTEST_GUILESS_MAIN(TestMadeAnew)
#include "test_made_anew.moc"
