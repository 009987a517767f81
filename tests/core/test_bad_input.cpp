#include "core/delivery/project_check.h"
#include "core/delivery/target_check.h"
#include "core/frame/render_frame.h"
#include "core/passes/exr/exr_write.h"
#include "core/passes/frames/mend_colour.h"
#include "core/passes/image_file.h"
#include "core/passes/pass_check.h"
#include "core/passes/scene/scene_file.h"
#include "core/system/error.h"
#include "core/system/failure.h"
#include "core/system/json_text.h"
#include "support/test_files.h"

#include <ImfChannelList.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfStandardAttributes.h>
#include <ImfStringAttribute.h>
#include <QDir>
#include <QFile>
#include <QTest>
#include <filesystem>
#include <sys/resource.h>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>

using namespace retinex;

/// What nobody should give, and somebody will: it is named, or it does no harm.
class TestBadInput : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const QString& name) const { return m_dir.filePath(name).toStdString(); }

    using Value = std::function<float(int, int)>;
    void write(const QString& name, int width, int height, const Value& red, const Value& alpha,
               const Value& depth) const
    {
        const auto grey = [](int, int) { return 0.25F; };
        test::writeChannels(path(name), width, height,
                            {{"R", false, red},
                             {"G", false, grey},
                             {"B", false, grey},
                             {"A", false, alpha},
                             {"Z", false, depth}});
    }
    static float opaque(int, int) { return 1.0F; }
    static float steps(int x, int) { return x < 16 ? 1.0F : 6.0F; }

    std::shared_ptr<project::Project> projectFor(const QString& name) const
    {
        auto project = std::make_shared<project::Project>();
        project->colour = {path(name), {}};
        project->base().focusDistance = 1.0;
        project->base().fStop = 1.0;
        return project;
    }
    RgbaImage rendered(const QString& name) const
    {
        const auto project = projectFor(name);
        const passes::PassSource source(project->colour, {});
        return frame::renderFrame(source, {project, 1, 1, {}}).image;
    }
    static RgbaImage filled(int width, int height, float value)
    {
        RgbaImage image(width, height);
        for (int c = 0; c < RgbaImage::channels; ++c)
            std::fill(image.plane(c).pixels().begin(), image.plane(c).pixels().end(), value);
        return image;
    }
    static bool isFinite(const RgbaImage& image)
    {
        for (int c = 0; c < RgbaImage::channels; ++c)
            for (const float value : image.plane(c).pixels())
                if (!std::isfinite(value)) return false;
        return true;
    }
    static QString refusal(const std::function<void()>& work)
    {
        try {
            work();
        } catch (const Error& error) {
            return QString::fromStdString(error.what());
        }
        return {};
    }

private slots:
    void lightWithoutMeasureLeavesThePictureFinite_data()
    {
        QTest::addColumn<float>("light");
        QTest::addColumn<float>("alpha");
        const float inf = std::numeric_limits<float>::infinity();
        const float nan = std::nanf("");
        QTest::newRow("1e20") << 1e20F << 1.0F;
        QTest::newRow("1e38") << 1e38F << 1.0F;
        QTest::newRow("minus 1e38") << -1e38F << 1.0F;
        QTest::newRow("infinite") << inf << 1.0F;
        QTest::newRow("NaN") << nan << 1.0F;
        QTest::newRow("alpha NaN") << 0.5F << nan;
        QTest::newRow("alpha 1e38") << 0.5F << 1e38F;
        QTest::newRow("alpha a little below 0") << 0.5F << -0.001F;
        QTest::newRow("both") << 1e38F << inf;
    }
    void lightWithoutMeasureLeavesThePictureFinite()
    {
        QFETCH(float, light);
        QFETCH(float, alpha);
        const auto isBad = [](int x, int y) { return (x * 7 + y * 13) % 11 == 0 || (x > 13 && x < 18); };
        write(
            "wild.exr", 48, 40, [&](int x, int y) { return isBad(x, y) ? light : 0.5F; },
            [&](int x, int y) { return isBad(x, y) ? alpha : 1.0F; }, steps);
        QVERIFY(isFinite(rendered("wild.exr")));
    }

    void aLonePixelWithoutColourIsMendedFromThoseAroundIt()
    {
        write(
            "lone.exr", 48, 40, [](int x, int y) { return x == 30 && y == 20 ? std::nanf("") : 0.5F; },
            opaque, [](int, int) { return 6.0F; });
        write(
            "whole.exr", 48, 40, [](int, int) { return 0.5F; }, opaque, [](int, int) { return 6.0F; });
        const RgbaImage lone = rendered("lone.exr");
        const RgbaImage whole = rendered("whole.exr");
        for (int c = 0; c < RgbaImage::channels; ++c)
            for (std::size_t i = 0; i < lone.plane(c).size(); ++i)
                QVERIFY(std::abs(lone.plane(c).pixels()[i] - whole.plane(c).pixels()[i]) < 1e-4F);
    }

    void whatIsMendedAndHeldIsCounted()
    {
        RgbaImage image(6, 5);
        for (int c = 0; c < RgbaImage::channels; ++c)
            for (float& value : image.plane(c).pixels())
                value = 0.5F;
        image.plane(0).at(2, 2) = std::nanf("");
        image.plane(1).at(3, 2) = std::numeric_limits<float>::infinity();
        image.plane(2).at(0, 0) = 1e20F;
        image.plane(3).at(5, 4) = 1.5F;
        const passes::MendedColour mended = passes::mendColour(image);
        QCOMPARE(mended.bad, std::size_t(2));
        QCOMPARE(mended.held, std::size_t(1));
        QCOMPARE(image.plane(0).at(2, 2), 0.5F);
        QCOMPARE(image.plane(2).at(0, 0), passes::kMostLight);
        QCOMPARE(image.plane(3).at(5, 4), 1.0F);
        RgbaImage none = filled(3, 3, std::nanf(""));
        QCOMPARE(passes::mendColour(none).bad, std::size_t(9));
        QCOMPARE(none.plane(0).at(1, 1), 0.0F);
    }

    // Wider than the root of the largest int: squares of places are counted wide enough (seen by the
    // sanitizer).
    void aVeryWidePictureIsRepairedToItsEnd()
    {
        const int width = 47'000;
        RgbaImage image(width, 6);
        Plane<float> distance(width, 6);
        for (int y = 0; y < 6; ++y)
            for (int x = 0; x < width; ++x) {
                const bool isNear = x > width - 40 && x < width - 20;
                for (int c = 0; c < 3; ++c)
                    image.plane(c).at(x, y) = isNear ? 0.8F : 0.2F + 0.1F * static_cast<float>(x % 7);
                image.plane(3).at(x, y) = 1.0F;
                distance.at(x, y) = isNear ? 1.0F : 6.0F;
            }
        defocus::LensSettings settings;
        settings.lens = {50.0, 2.0, 6000.0};
        settings.sensorWidthMm = 36.0;
        settings.blur.limitNearPx = 12.0;
        const RgbaImage blurred = defocus::defocus({image, distance}, settings);
        QVERIFY(isFinite(blurred));
        QVERIFY(std::abs(blurred.plane(0).at(100, 3) - image.plane(0).at(100, 3)) < 1e-3F); // in focus
        QVERIFY(blurred.plane(0).at(width - 30, 3) > 0.5F);
    }

    void thePassCheckSaysIt()
    {
        write(
            "sun.exr", 32, 32, [](int x, int y) { return x == 3 && y == 3 ? 1e20F : 0.5F; }, opaque, steps);
        const passes::PassSource source({path("sun.exr"), {}}, {});
        const auto findings = passes::analysePasses(source, 1, std::nullopt).findings;
        QVERIFY(std::any_of(findings.begin(), findings.end(),
                            [](const auto& finding) { return finding.key == "held-colour"; }));
    }

    // A first frame that is larger than the others, with overscan and mattes.
    void framesOfDifferentSizesAreRefusedByName()
    {
        QDir().mkpath(m_dir.filePath("sizes"));
        write(
            "sizes/a.0001.exr", 64, 48, [](int, int) { return 0.5F; }, opaque, steps);
        write(
            "sizes/a.0002.exr", 20, 16, [](int, int) { return 0.5F; }, opaque, steps);
        const passes::PassSource source({path("sizes/a.####.exr"), {}}, {});
        (void)source.loadRaw(1);
        const QString message = refusal([&] { (void)source.loadRaw(2); });
        QVERIFY2(message.contains("a.0002.exr: is 20 x 16 px") && message.contains("64 x 48"),
                 qPrintable(message));
    }

    void eachFrameIsWhatItIsWhateverItsNeighboursAre()
    {
        QDir().mkpath(m_dir.filePath("kinds"));
        const auto grey = [](int, int) { return 0.5F; };
        test::writeChannels(path("kinds/v_1.exr"), 16, 16,
                            {{"R", true, grey}, {"G", true, grey}, {"B", true, grey}, {"Z", false, grey}});
        test::writeChannels(path("kinds/v_2.exr"), 16, 16,
                            {{"R", false, grey}, {"G", false, grey}, {"B", false, grey}, {"Z", false, grey}});
        const passes::PassSource source({path("kinds/v_2.exr"), {}}, {});
        QCOMPARE(source.loadRaw(2)->colourType, passes::SampleType::float32);
        QCOMPARE(source.loadRaw(1)->colourType, passes::SampleType::half);
        QFile broken(m_dir.filePath("kinds/v_1.exr"));
        QVERIFY(broken.open(QIODevice::WriteOnly)); // empty: a neighbour that says nothing
        broken.close();
        QCOMPARE(passes::PassSource({path("kinds/v_2.exr"), {}}, {}).loadRaw(2)->colour().width(), 16);
    }

    void listsWithinListsAreRefusedBeforeTheyAreParsed()
    {
        QCOMPARE(depthOfJson("{\"a\": [1, {\"b\": \"[[[{\\\"[\"}]}"), 3);
        QFile scene(m_dir.filePath("nest.gltf"));
        QVERIFY(scene.open(QIODevice::WriteOnly));
        scene.write(R"({"asset": {"version": "2.0"}, "extras": )" + QByteArray(100'000, '[') +
                    QByteArray(100'000, ']') + "}");
        scene.close();
        const QString message = refusal([&] { (void)passes::SceneFile::load(path("nest.gltf")); });
        QVERIFY2(message.contains("nest.gltf") && message.contains("within each other"), qPrintable(message));
    }

    void picturesThatAreCutShortAreRefused_data()
    {
        QTest::addColumn<QString>("name");
        QTest::newRow("TIFF") << "whole.tif";
        QTest::newRow("JPEG") << "whole.jpg";
    }
    void picturesThatAreCutShortAreRefused()
    {
        QFETCH(QString, name);
        const QString whole = m_dir.filePath(name);
        QCOMPARE(test::runProgram("oiiotool",
                                  {"--pattern", "noise:type=uniform", "256x256", "3", "-d", "uint8",
                                   "--compression", name.endsWith("tif") ? "none" : "jpeg:90", "-o", whole})
                     .exitCode,
                 0);
        (void)passes::readChannels(whole.toStdString(), 0, {"R"}, {});
        QFile file(whole);
        QVERIFY(file.open(QIODevice::ReadWrite));
        QVERIFY(file.resize(file.size() / 2));
        file.close();
        const QString message =
            refusal([&] { (void)passes::readChannels(whole.toStdString(), 0, {"R"}, {}); });
        QVERIFY2(message.contains(name), qPrintable(message));
    }

    // Every kind of input, by its own name, by a link, and by a name that would join its sequence.
    void noInputIsEverWrittenOver()
    {
        QDir().mkpath(m_dir.filePath("in"));
        for (const char* frame : {"in/c.0001.exr", "in/c.0002.exr", "in/alpha.exr", "in/m.exr"})
            write(
                frame, 32, 32, [](int, int) { return 0.5F; }, opaque, steps);
        QFile scene(m_dir.filePath("in/scene.gltf"));
        QVERIFY(scene.open(QIODevice::WriteOnly));
        scene.write(R"({"asset": {"version": "2.0"}})");
        scene.close();
        auto project = projectFor("in/c.####.exr");
        project->mattes = {{path("in/m.exr"), "R"}};
        project->scene.file = path("in/scene.gltf");
        project->lastFrame = 2;
        passes::PassOptions options;
        options.alpha = {path("in/alpha.exr"), "A"};
        const passes::PassSource source(project->colour, {}, options);
        QVERIFY(QFile::link(m_dir.filePath("in/m.exr"), m_dir.filePath("link.exr")));
        std::filesystem::create_hard_link(path("in/alpha.exr"), path("hard.exr"));
        for (const char* out : {"in/c.0001.exr", "in/c.0002.exr", "in/alpha.exr", "in/m.exr", "in/scene.gltf",
                                "link.exr", "hard.exr", "in/../in/m.exr"}) {
            const auto job =
                delivery::usualJob(source, project, {1}, path(out), delivery::Existing::overwrite);
            const QString message = refusal([&] { (void)delivery::deliver(source, job); });
            QVERIFY2(message.contains("never written"), out);
        }
        // A frame that is not there, in the place of an input sequence.
        QVERIFY(refusal([&] {
                    delivery::checkFiles(source, *project, {path("in/c.0003.exr")}, {3},
                                         {delivery::Existing::overwrite});
                }).contains("never written"));
        QCOMPARE(::mkfifo(path("pipe.exr").c_str(), 0600), 0);
        const auto pipe =
            delivery::usualJob(source, project, {1}, path("pipe.exr"), delivery::Existing::overwrite);
        QVERIFY(refusal([&] { (void)delivery::deliver(source, pipe); }).contains("not a regular file"));
    }

    void framesThatAreThereAreKeptOrAskedFor()
    {
        write(
            "take.0001.exr", 32, 32, [](int, int) { return 0.5F; }, opaque, steps);
        write(
            "take.0002.exr", 32, 32, [](int, int) { return 0.5F; }, opaque, steps);
        auto project = projectFor("take.####.exr");
        project->lastFrame = 2;
        const passes::PassSource source(project->colour, {});
        auto job = delivery::usualJob(source, project, {1, 2}, path("out/t.####.exr"));
        QCOMPARE(delivery::deliver(source, job).written.size(), std::size_t(2));
        const QString message = refusal([&] { (void)delivery::deliver(source, job); });
        QVERIFY2(message.contains("frames 1-2 are there already") && message.contains("--overwrite"),
                 qPrintable(message));
        QVERIFY(QFile::remove(m_dir.filePath("out/t.0002.exr")));
        job.existing = delivery::Existing::keep;
        QCOMPARE(delivery::deliver(source, job).written, std::vector<int>{2});
        job.existing = delivery::Existing::overwrite;
        QCOMPARE(delivery::deliver(source, job).written.size(), std::size_t(2));
    }

    void aMarkWithoutItsSubjectStopsTheRender()
    {
        write(
            "bound.exr", 32, 32, [](int, int) { return 0.5F; }, opaque, steps);
        auto project = projectFor("bound.exr");
        timeline::Mark mark{1, 2.0};
        mark.subject = "nobody";
        project->shots.front().tracks[project::setting::focusDistance] = {mark};
        const passes::PassSource source(project->colour, {});
        const QString message = refusal([&] {
            (void)delivery::deliver(source, delivery::usualJob(source, project, {1}, path("bound_out.exr")));
        });
        QVERIFY2(message.contains("nobody") && message.contains("no such subject"), qPrintable(message));
        project->shots.front().tracks.clear();
        project->base().irisPicture = path("no-such.png");
        QCOMPARE(delivery::contradictions(*project).size(), std::size_t(1));
    }

    // `focus` of another type in the input; chromaticities of another colour space.
    void attributesOfTheOutputAreItsOwn()
    {
        const RgbaImage image = filled(8, 8, 0.5F);
        Imf::Header header(8, 8);
        header.insert("focus", Imf::StringAttribute("sharp"));
        header.insert("artist", Imf::StringAttribute("nobody"));
        Imf::addChromaticities(header, Imf::Chromaticities());
        passes::ExrOutput output;
        output.image = &image;
        output.keep = std::make_shared<const Imf::Header>(header);
        output.focusMetres = 2.5;
        output.fStop = 4.0;
        passes::writeExr(path("kept.exr"), output);
        output.isConverted = true;
        output.focusMetres = std::numeric_limits<double>::infinity();
        passes::writeExr(path("converted.exr"), output);
        output.chromaticities = colourOf();
        passes::writeExr(path("named.exr"), output);
        Imf::InputFile kept(path("kept.exr").c_str());
        QCOMPARE(Imf::focus(kept.header()), 2.5F);
        QVERIFY(Imf::hasChromaticities(kept.header()));
        Imf::InputFile converted(path("converted.exr").c_str());
        QVERIFY(!Imf::hasChromaticities(converted.header()) && !Imf::hasFocus(converted.header()));
        Imf::InputFile named(path("named.exr").c_str());
        QVERIFY(std::abs(Imf::chromaticities(named.header()).green.y - 0.83F) < 1e-3F);
    }

    // Whatever is thrown becomes a sentence.
    void tooManyOpenFilesAreNamed()
    {
        const std::string file = path("in.exr");
        test::writeScene(file);
        rlimit before{};
        getrlimit(RLIMIT_NOFILE, &before);
        const int next = dup(0);
        close(next);
        rlimit none = before;
        none.rlim_cur = static_cast<rlim_t>(next);
        setrlimit(RLIMIT_NOFILE, &none);
        QString message;
        try {
            (void)passes::inspectExr(file);
        } catch (const Error& error) {
            message = error.what();
        }
        setrlimit(RLIMIT_NOFILE, &before);
        QVERIFY2(message.contains("in.exr: too many files are open"), qPrintable(message));
    }

    void everyFailureHasWords()
    {
        const auto words = [](const std::function<void()>& thrower) {
            try {
                thrower();
            } catch (...) {
                return QString::fromStdString(failureText(std::current_exception(), "Rendering frame 3"));
            }
            return QString();
        };
        QCOMPARE(words([] { throw Error("The lens is open."); }), "The lens is open.");
        QVERIFY(words([] { throw std::bad_alloc(); }).contains("Rendering frame 3 needs more memory"));
        QVERIFY(words([] {
                    throw std::runtime_error("odd");
                }).contains("Rendering frame 3 failed unexpectedly (odd)"));
        QVERIFY(words([] {
                    throw std::system_error(std::make_error_code(std::errc::resource_unavailable_try_again));
                }).contains("Rendering frame 3 needs more threads or memory"));
        QVERIFY(words([] { throw 7; }).contains("Rendering frame 3 failed"));
        QVERIFY(words([] { (void)std::filesystem::file_size("/no/such/file"); }).startsWith("/no/such/file"));
    }

private:
    /// ACEScg's primaries: Academy S-2014-004, table 1.
    static std::array<float, 8> colourOf()
    {
        return {0.713F, 0.293F, 0.165F, 0.830F, 0.128F, 0.044F, 0.32168F, 0.33767F};
    }
};

QTEST_GUILESS_MAIN(TestBadInput)
#include "test_bad_input.moc"
