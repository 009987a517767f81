// Passes made by other habits: negative distances, cut-outs, primaries, stereo, movies, stills, names.
#include "core/colour/input_space.h"
#include "core/colour/primaries.h"
#include "core/delivery/deliver.h"
#include "core/depth/reading_proposal.h"
#include "core/frame/lay_in.h"
#include "core/frame/places/insert_checks.h"
#include "core/passes/exr/exr_write.h"
#include "core/passes/image_file.h"
#include "core/passes/movie/movie_file.h"
#include "core/passes/pass_check.h"
#include "core/passes/pass_roles.h"
#include "core/project/file/project_file.h"
#include "core/project/first_look.h"
#include "core/system/error.h"
#include "support/message_of.h"
#include "support/test_files.h"

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfMultiView.h>
#include <ImfOutputFile.h>
#include <ImfStandardAttributes.h>
#include <QFile>
#include <QTest>
#include <algorithm>
#include <cmath>
#include <half.h>

using namespace retinex;

class TestOtherHabits : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const std::string& name) const
    {
        return m_dir.filePath(QString::fromStdString(name)).toStdString();
    }
    void tool(const char* program, const QStringList& arguments)
    {
        const auto outcome = test::runProgram(QLatin1String(program), arguments, m_dir.path());
        if (outcome.exitCode != 0) qFatal("%s: %s", program, qPrintable(outcome.err + outcome.out));
    }
    /// A floor that goes away from the camera and a post on it.
    static float floorWithPost(int x, int y, int height)
    {
        const float floor = 1.0F / (0.04F + 0.5F * static_cast<float>(y) / static_cast<float>(height));
        return x > 40 && x < 60 && y < height - 30 ? std::min(floor, 4.0F) : floor;
    }

private slots:
    void distancesBelowZeroAreOneReadingLikeAnyOther()
    {
        const float nothings[] = {0.0F, -1e10F, -300.0F};
        for (const float nothing : nothings) {
            Plane<float> stored(160, 120);
            for (int y = 0; y < 120; ++y)
                for (int x = 0; x < 160; ++x)
                    stored.at(x, y) = y < 20 ? nothing : -floorWithPost(x, y, 120);
            const auto proposal =
                depth::proposeReading(stored, nullptr, depth::statisticsOf(stored, nullptr));
            QCOMPARE(proposal.settings.reading, depth::Reading::distanceBelowZero);
            QVERIFY(proposal.isSure());
            proposal.settings.check();
            const auto read = depth::toDistance(stored, nullptr, proposal.settings, {160.0, 120.0});
            QCOMPARE(read.distance.at(100, 80), floorWithPost(100, 80, 120));
            QVERIFY(read.gaps.at(100, 5) == 1 || read.distance.at(100, 5) == 300.0F);
            // The inverse, and the other way round twice is nothing.
            QCOMPARE(depth::storedOf(2.5, proposal.settings), -2.5);
            depth::ReadingSettings twice = proposal.settings;
            depth::reverse(twice);
            depth::reverse(twice);
            QVERIFY(twice == proposal.settings);
        }
        // What is above 0 lies behind the camera: a gap.
        depth::ReadingSettings below;
        below.reading = depth::Reading::distanceBelowZero;
        const Plane<float> behind(4, 4, 3.0F);
        QCOMPARE(depth::toDistance(behind, nullptr, below, {4.0, 4.0}).gapCount, std::size_t(16));
    }

    void numbersInTheHundredsAreNoReciprocals()
    {
        // One rounded object over nothing.
        Plane<float> stored(320, 180);
        Plane<float> alpha(320, 180);
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x) {
                const float r = std::hypot(static_cast<float>(x - 160), static_cast<float>(y - 90)) / 40.0F;
                if (r >= 1.0F) continue;
                stored.at(x, y) = 2000.0F - 700.0F * std::sqrt(1.0F - r * r);
                alpha.at(x, y) = 1.0F;
            }
        const auto proposal = depth::proposeReading(stored, &alpha, depth::statisticsOf(stored, &alpha));
        QCOMPARE(proposal.settings.reading, depth::Reading::distanceFromCameraPlane);
        QVERIFY(!proposal.settings.reversed);
        QVERIFY(!proposal.isSure()); // few pixels, nothing flat: along the ray it may be
        QVERIFY(proposal.likely.size() > 1);
    }

    void aWireFenceBeforeAWallIsNotTurnedRound()
    {
        Plane<float> stored(480, 270);
        for (int y = 0; y < 270; ++y)
            for (int x = 0; x < 480; ++x) {
                const bool wire = x % 12 < 3 || y % 12 < 3;
                const auto across = static_cast<float>(x);
                stored.at(x, y) = 1.0F / (wire ? 1.05F - 0.0004F * across : 0.165F + 0.0003F * across);
            }
        const auto proposal = depth::proposeReading(stored, nullptr, depth::statisticsOf(stored, nullptr));
        QVERIFY2(proposal.settings.reading == depth::Reading::distanceFromCameraPlane ||
                     proposal.settings.reading == depth::Reading::distanceAlongRay || !proposal.isSure(),
                 proposal.inWords().c_str());
    }

    void aWhiteVoidIsFar()
    {
        Plane<float> stored(320, 180, 1.0F);
        for (int y = 60; y < 180; ++y)
            for (int x = 60; x < 260; ++x)
                stored.at(x, y) = std::round(255.0F * (0.9F - 0.7F * static_cast<float>(y - 60) / 120.0F +
                                                       0.02F * std::sin(0.2F * static_cast<float>(x)))) /
                                  255.0F;
        const auto proposal = depth::proposeReading(stored, nullptr, depth::statisticsOf(stored, nullptr));
        QCOMPARE(proposal.settings.reading, depth::Reading::greyNearDark);
        for (float& v : stored.pixels())
            v = std::round(255.0F * (1.0F - v)) / 255.0F;
        const auto black = depth::proposeReading(stored, nullptr, depth::statisticsOf(stored, nullptr));
        QCOMPARE(black.settings.reading, depth::Reading::greyNearBright);
    }

    // A value out of range is put right and said; the rest of the work is there.
    void projectsOpenWithWhatDoesNotFitPutRight()
    {
        QFile file(m_dir.filePath("odd.retinex"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(R"({"format": 3, "passes": {"colour": {"file": "a.exr"}}, "shots": [{
            "reading": {"storedLow": 0, "storedHigh": -0.0038, "nearest": 9, "farthest": 2, "reversed": true},
            "lens": {"fStop": 9000, "framing": "loose"}, "focus": {"distance": 0.001},
            "iris": {"blades": 2}, "glint": {"liftStops": 17}}]})");
        file.close();
        std::vector<std::string> putRight;
        const auto project = project::loadProject(path("odd.retinex"), &putRight);
        QVERIFY(putRight.size() >= 6);
        const std::string notice = project::putRightNotice(path("odd.retinex"), putRight);
        for (const char* word : {"odd.retinex", "f-stop", "framing", "stored numbers", "farthest", "focus"})
            QVERIFY2(notice.find(word) != std::string::npos, (word + (": " + notice)).c_str());
        QCOMPARE(project.base().reading.storedLow, -0.0038);
        QCOMPARE(project.base().reading.nearest, 2.0);
        QVERIFY(project.base().reading.reversed);
        project.base().reading.check();
        project.lensSettingsAt(1).check();
        project::saveProject(path("again.retinex"), project);
        putRight.clear();
        QVERIFY(project::loadProject(path("again.retinex"), &putRight) == project);
        QVERIFY(putRight.empty());
    }

    /// Whatever the window can hold opens again: every described number at odd values.
    void oddValuesOfEverySettingOpenAgain()
    {
        project::Project project;
        project.colour.file = path("a.exr");
        project::Settings& settings = project.base();
        settings.simpleLens = defocus::SimpleLens{};
        settings.regions.emplace_back().id = "1";
        settings.inserts.emplace_back().id = "1";
        settings.glows.emplace_back().id = "1";
        settings.looks.emplace_back().id = "1";
        for (const bool high : {false, true})
            for (const auto& field : project::shotSettings().allOf(settings)) {
                if (!field.isNumber() || field.kind == project::Kind::word ||
                    field.kind == project::Kind::onOff)
                    continue;
                project::Project odd = project;
                const double end = high ? field.range.maximum : field.range.minimum;
                field.set(odd.base(), field.held(std::isfinite(end) ? end : (high ? 1e9 : -1e9)));
                project::saveProject(path("ends.retinex"), odd);
                const std::string message =
                    test::messageOf([&] { (void)project::loadProject(path("ends.retinex")); });
                QVERIFY2(message.empty(), (field.path + ": " + message).c_str());
            }
    }

    void nameAndSizeWeighMoreThanTheAlphabet()
    {
        tool("oiiotool",
             {"--pattern", "noise:type=uniform:mono=0", "512x512", "3", "-d", "uint8", "-o", "bark.jpg"});
        tool("oiiotool",
             {"--pattern", "noise:type=uniform:mono=0", "320x180", "3", "-d", "uint8", "-o", "quay.png"});
        tool("oiiotool", {"--pattern", "fill:top=0.2:bottom=0.9", "320x180", "1", "-d", "uint8", "-o",
                          "quay_zdepth.png"});
        const auto sorted = passes::sortIntoRoles(
            std::vector<std::filesystem::path>{path("bark.jpg"), path("quay.png"), path("quay_zdepth.png")});
        QCOMPARE(sorted.colour.file.filename().string(), std::string("quay.png"));
        QCOMPARE(sorted.depth.file.filename().string(), std::string("quay_zdepth.png"));
        QCOMPARE(sorted.leftAside().size(), std::size_t(1));
        // A file that is named alpha is that, where the colour pass has none.
        tool("oiiotool",
             {"--pattern", "fill:top=0:bottom=1", "320x180", "1", "-d", "uint8", "-o", "quay_alpha.png"});
        const auto with = passes::sortIntoRoles(std::vector<std::filesystem::path>{
            path("quay.png"), path("quay_alpha.png"), path("quay_zdepth.png")});
        QCOMPARE(with.alpha.file.filename().string(), std::string("quay_alpha.png"));
        passes::PassOptions options;
        options.alpha = with.alpha;
        const passes::PassSource source(with.colour, with.depth, options);
        const auto raw = source.loadRaw(1);
        QVERIFY(raw->hasAlpha && raw->colour().plane(3).at(5, 2) < 0.1F &&
                raw->colour().plane(3).at(5, 177) > 0.9F);
        // Unless a person says otherwise.
        std::vector<passes::RoleProposal> roles = with.roles;
        for (auto& role : roles)
            if (role.role == passes::Role::alpha) {
                role.role = passes::Role::none;
                role.isChosen = true;
            }
        QVERIFY(passes::sortIntoRoles(roles).alpha.file.empty());
    }

    void numberedFilesBesideASequenceAreASequenceOnlyWhereTheirNumbersFit()
    {
        for (int frame = 1; frame <= 4; ++frame) {
            const QString number = QStringLiteral("%1").arg(frame, 4, 10, QLatin1Char('0'));
            test::writeScene(path("can." + number.toStdString() + ".exr"));
            tool("oiiotool", {"--pattern", QStringLiteral("fill:color=%1").arg(0.2 * frame), "64x48", "1",
                              "-d", "uint8", "-o", QStringLiteral("matte.%1.png").arg(number)});
        }
        for (int i = 7; i <= 9; ++i)
            tool("oiiotool", {"--pattern", QStringLiteral("fill:color=%1").arg(0.1 * i), "64x48", "1", "-d",
                              "uint8", "-o", QStringLiteral("spot%1.png").arg(i)});
        const auto colour = passes::Sequence::find(path("can.0001.exr"));
        const auto still = passes::Sequence::absent(path("one.exr"));
        QVERIFY(!passes::Sequence::findBeside(colour, path("matte.0002.png")).isStill());
        QVERIFY(passes::Sequence::findBeside(colour, path("spot8.png")).isStill());
        QVERIFY(passes::Sequence::findBeside(still, path("matte.0002.png")).isStill());
        QVERIFY(!passes::Sequence::findBeside(still, path("matte.####.png")).isStill());
        const passes::PassSource source({path("can.0001.exr"), {}}, {});
        const auto shareOf = [&](const std::string& file, int frame) {
            return source.loadObjects(frame, {{path(file), {}}})->samples.front().coverage;
        };
        QVERIFY(std::abs(shareOf("matte.0001.png", 3) - 0.6F) < 0.01F);
        QVERIFY(std::abs(shareOf("spot8.png", 3) - 0.8F) < 0.01F);
    }

    // Technical Introduction to OpenEXR: without the attribute the primaries are those of Rec. 709.
    void primariesComeOutAsTheyCameIn_data()
    {
        QTest::addColumn<QString>("attribute");
        QTest::newRow("none") << QString();
        QTest::newRow("Rec. 709") << "0.64,0.33,0.30,0.60,0.15,0.06,0.3127,0.3290";
        QTest::newRow("ACEScg") << "0.713,0.293,0.165,0.830,0.128,0.044,0.32168,0.33767";
        QTest::newRow("ACES2065-1") << "0.7347,0.2653,0.0,1.0,0.0001,-0.077,0.32168,0.33767";
        QTest::newRow("P3, D65") << "0.680,0.320,0.265,0.690,0.150,0.060,0.3127,0.3290";
        QTest::newRow("Rec. 2020") << "0.708,0.292,0.170,0.797,0.131,0.046,0.3127,0.3290";
        QTest::newRow("nobody's") << "0.66,0.31,0.28,0.64,0.14,0.05,0.3127,0.3290";
    }
    void primariesComeOutAsTheyCameIn()
    {
        QFETCH(QString, attribute);
        tool("oiiotool", {"--pattern", "noise:type=uniform:min=0.02:max=0.9:mono=0", "64x48", "3",
                          "--pattern", "constant:color=5", "64x48", "1", "--chnames", "Z", "--chappend", "-d",
                          "float", "-o", "in.exr"});
        if (!attribute.isEmpty())
            tool("oiiotool", {"in.exr", "--attrib:type=float[8]", "chromaticities", attribute, "-d", "float",
                              "-o", "in.exr"});
        const auto before = passes::inspectFile(path("in.exr")).parts[0].primaries;
        QCOMPARE(before.has_value(), !attribute.isEmpty());
        auto project = std::make_shared<project::Project>();
        project->colour.file = path("in.exr");
        project->base().fStop = 128.0;
        project->base().focusDistance = 5.0;
        const passes::PassSource source(project->colour, {});
        QCOMPARE(source.isSpaceAssumed(), attribute.isEmpty());
        project::Delivery delivery;
        delivery.id = delivery.name = "sharp";
        delivery.samples = project::Samples::float32;
        delivery.fileName = "sharp.{frame:4}";
        delivery.folder = m_dir.path().toStdString();
        (void)delivery::deliver(source,
                                {project, {}, delivery, {}, std::nullopt, delivery::Existing::overwrite});
        const auto after = passes::inspectFile(path("sharp.0001.exr")).parts[0].primaries;
        QVERIFY(after);
        const colour::Primaries expected = before.value_or(colour::kRec709);
        for (std::size_t i = 0; i < expected.size(); ++i)
            QVERIFY(std::abs((*after)[i] - expected[i]) < 5e-4F);
        const auto in = passes::readChannels(path("in.exr"), 0, {"R", "G", "B"}).planes;
        const auto out = passes::readChannels(path("sharp.0001.exr"), 0, {"R", "G", "B"}).planes;
        for (std::size_t c = 0; c < 3; ++c)
            for (std::size_t i = 0; i < in[c].size(); ++i)
                QVERIFY(std::abs(in[c].pixels()[i] - out[c].pixels()[i]) < 2e-5F);
    }

    void anAssumedColourSpaceIsSaid()
    {
        tool("oiiotool", {"--pattern", "noise:type=uniform:min=0.02:max=0.9:mono=0", "64x48", "3",
                          "--pattern", "fill:top=2:bottom=9", "64x48", "1", "--chnames", "Z", "--chappend",
                          "-d", "float", "-o", "untold.exr"});
        const auto has = [](const passes::PassSource& source) {
            const auto findings = passes::analysePasses(source, 1, std::nullopt).findings;
            return std::ranges::any_of(findings, [](const auto& f) { return f.key == "assumed-colour"; });
        };
        QVERIFY(has(passes::PassSource({path("untold.exr"), {}}, {})));
        test::writeScene(path("told.exr"));
        QVERIFY(!has(passes::PassSource({path("told.exr"), {}}, {})));
    }

    void eyesAreToldApart()
    {
        // "Storing Multi-View Images in OpenEXR Files": the first view's channels have no layer.
        constexpr int width = 32;
        constexpr int height = 16;
        Imf::Header header(width, height);
        Imf::addMultiView(header, {"left", "right"});
        std::list<Plane<float>> planes;
        Imf::FrameBuffer buffer;
        const auto add = [&](const char* name, float value) {
            header.channels().insert(name, Imf::Channel(Imf::FLOAT));
            planes.emplace_back(width, height, value);
            buffer.insert(name, Imf::Slice::Make(Imf::FLOAT, planes.back().row(0), header.dataWindow()));
        };
        Imf::addChromaticities(header,
                               {{0.713F, 0.293F}, {0.165F, 0.83F}, {0.128F, 0.044F}, {0.32168F, 0.33767F}});
        for (const char* name : {"R", "G", "B"})
            add(name, 0.25F);
        add("Z", 2.0F);
        for (const char* name : {"right.R", "right.G", "right.B"})
            add(name, 0.5F);
        add("right.Z", 3.0F);
        {
            Imf::OutputFile out(path("stereo.exr").c_str(), header);
            out.setFrameBuffer(buffer);
            out.writePixels(height);
        }
        const auto look = [&](const std::string& eye) {
            passes::PassOptions options;
            options.eye = eye;
            const passes::PassSource source({path("stereo.exr"), {}}, {}, options);
            const auto raw = source.loadRaw(1);
            return std::pair(raw->colour().plane(0).at(3, 3), raw->stored().at(3, 3));
        };
        QCOMPARE(look(""), std::pair(0.25F, 2.0F));
        QCOMPARE(look("left"), std::pair(0.25F, 2.0F));
        QCOMPARE(look("right"), std::pair(0.5F, 3.0F));
        QVERIFY(test::messageOf([&] { (void)look("middle"); }).find("left, right") != std::string::npos);
        // A delivery makes both.
        auto project = std::make_shared<project::Project>();
        project->colour.file = path("stereo.exr");
        project->base().fStop = 64.0;
        const passes::PassSource source(project->colour, {});
        project::Delivery delivery;
        delivery.id = delivery.name = "eyes";
        delivery.bothEyes = true;
        delivery.fileName = "{eye}.{frame:4}";
        delivery.folder = m_dir.path().toStdString();
        const auto report = delivery::deliver(source, {project, {}, delivery, {}});
        QCOMPARE(report.written.size(), std::size_t(2));
        QCOMPARE(passes::readChannels(path("left.0001.exr"), 0, {"R"}).planes[0].at(5, 5), 0.25F);
        QCOMPARE(passes::readChannels(path("right.0001.exr"), 0, {"R"}).planes[0].at(5, 5), 0.5F);
        delivery.fileName = "both.{frame:4}";
        QVERIFY(test::messageOf([&] {
                    (void)delivery::deliver(source, {project, {}, delivery, {}});
                }).find("{eye}") != std::string::npos);
    }

    void moviesAreReadFrameByFrame()
    {
        // Colours that rise from frame to frame, without loss: FFV1 of 8 and of 16 bits.
        for (const bool deep : {false, true}) {
            const QString format = deep ? "gbrp16le" : "gbrp";
            const QString name = deep ? "clip16.mkv" : "clip8.mkv";
            QByteArray pixels;
            for (int frame = 0; frame < 24; ++frame)
                for (const int plane : {1, 2, 0}) // green, blue, red
                    for (int i = 0; i < 32 * 16; ++i) {
                        const int v = plane == 0 ? 10 * frame : plane == 1 ? 5 * frame : i % 32;
                        pixels.append(deep ? 2 : 1, static_cast<char>(v)); // v * 257 of 16 bits
                    }
            QFile raw(m_dir.filePath("pixels.raw"));
            QVERIFY(raw.open(QIODevice::WriteOnly));
            raw.write(pixels);
            raw.close();
            tool("ffmpeg",
                 {"-hide_banner", "-loglevel", "error", "-y", "-f", "rawvideo", "-pix_fmt", format, "-s",
                  "32x16", "-r", "24", "-i", "pixels.raw", "-c:v", "ffv1", "-pix_fmt", format, name});
            const auto movie = m_dir.filePath(name).toStdString();
            const auto files = passes::Sequence::find(movie);
            QVERIFY(files.isMovie() && !files.isStill());
            QCOMPARE(files.frames().size(), std::size_t(24));
            const auto info = passes::inspectFile(movie);
            QCOMPARE(info.framesPerSecond, 24.0);
            QCOMPARE(info.parts[0].channels[0].type,
                     deep ? passes::SampleType::uint16 : passes::SampleType::uint8);
            for (const int frame : {1, 2, 3, 20, 7, 24}) { // on, ahead and back
                const auto read = passes::readChannels(files.file(frame), 0, {"R", "G", "B"}).planes;
                QCOMPARE(std::lround(255.0F * read[0].at(4, 4)), long(10 * (frame - 1)));
                QCOMPARE(std::lround(255.0F * read[1].at(4, 4)), long(5 * (frame - 1)));
                QCOMPARE(std::lround(255.0F * read[2].at(9, 4)), 9L);
            }
            QVERIFY(test::messageOf([&] {
                        (void)passes::readChannels(files.file(25), 0, {"R"});
                    }).find("24 frames") != std::string::npos);
        }
        // As colour beside a depth pass that is a still.
        test::writeChannels(path("z.exr"), 32, 16, {{"Z", false, [](int, int) { return 3.0F; }}});
        const passes::PassSource source({m_dir.filePath("clip8.mkv").toStdString(), {}}, {path("z.exr"), {}});
        QCOMPARE(source.lastFrame(), 24);
        QVERIFY(source.load(9)->colour().plane(0).at(2, 2) > source.load(2)->colour().plane(0).at(2, 2));
        // A movie is never called damaged, and what is missing is said.
        QFile broken(m_dir.filePath("broken.mov"));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("no movie");
        broken.close();
        const std::string message = test::messageOf([&] { (void)passes::inspectFile(path("broken.mov")); });
        QVERIFY2(message.find("broken.mov") != std::string::npos &&
                     message.find("damaged") == std::string::npos,
                 message.c_str());
        const QByteArray before = qgetenv("PATH");
        qputenv("PATH", m_dir.path().toUtf8());
        const std::string without = test::messageOf([&] { (void)passes::inspectFile(path("broken.mov")); });
        qputenv("PATH", before);
        QVERIFY2(without.find("Install the package ffmpeg") != std::string::npos, without.c_str());
    }

    void aStillIsHeld()
    {
        test::writeScene(path("still.exr"));
        passes::PassOptions options;
        options.stillFirst = 1;
        options.stillLast = 48;
        const passes::PassSource source({path("still.exr"), {}}, {}, options);
        QCOMPARE(source.firstFrame(), 1);
        QCOMPARE(source.lastFrame(), 48);
        QVERIFY(source.missingFrames().empty());
        QCOMPARE(source.load(48)->distance().at(30, 20), source.load(1)->distance().at(30, 20));
    }

    void theSimpleLensHasALensThatGivesItsLimits()
    {
        project::Project project;
        project.base().simpleLens = defocus::SimpleLens{24.0, 1.0, 40.0};
        project.base().focusDistance = 3.0;
        const auto model = project.lensSettingsAt(1).blurModel(1920);
        const optics::ThinLens lens = project.lensAt(1, 1920);
        for (const double d : {1.2, 2.0, 3.0, 7.0, 39.0, 1e6})
            QVERIFY(std::abs(0.5 * model.pxPerMm * circleOfConfusionMm(lens, project.millimetres(d)) -
                             model.radiusPx(d)) < 1e-9 * std::max(1.0, std::abs(model.radiusPx(d))));
    }

    void aBackdropThatIsSeenNowhereIsSaid()
    {
        test::writeChannels(path("opaque.exr"), 32, 16,
                            {{"R", true, [](int, int) { return 0.5F; }},
                             {"G", true, [](int, int) { return 0.5F; }},
                             {"B", true, [](int, int) { return 0.5F; }},
                             {"Z", false, [](int, int) { return 2.0F; }}});
        test::writeChannels(path("mask.exr"), 32, 16,
                            {{"Y", true, [](int x, int) { return x < 16 ? 1.0F : 0.0F; }}});
        project::Project project;
        project.colour.file = path("opaque.exr");
        inserts::Insert& backdrop = project.base().inserts.emplace_back();
        backdrop.id = "1";
        backdrop.name = "sky";
        backdrop.placing = inserts::Placing::backdrop;
        backdrop.content = inserts::Content::colour;
        backdrop.blue = 4.0;
        const passes::PassSource source(project.colour, {});
        QVERIFY(frame::backdropNotice(source, project, 1).find("no alpha") != std::string::npos);
        project.base().openBy = inserts::OpenBy::mattes;
        QVERIFY(frame::backdropNotice(source, project, 1).find("no matte") != std::string::npos);
        const auto blueAt = [&](int x) {
            const auto with = frame::framePasses(source, project, 1);
            return with->laidIn->scene->colour().plane(2).at(x, 8);
        };
        QCOMPARE(blueAt(4), 0.5F); // the scene does not vanish
        QCOMPARE(blueAt(28), 0.5F);
        project.mattes = {{path("mask.exr"), "Y"}}; // a lone one is meant
        QVERIFY(frame::backdropNotice(source, project, 1).empty());
        QCOMPARE(blueAt(4), 0.5F);
        QCOMPARE(blueAt(28), 0.0F);
    }
};

QTEST_GUILESS_MAIN(TestOtherHabits)
#include "test_other_habits.moc"
