// Deliveries: what is asked for, in the form it is asked for; read back by other programs (OpenImageIO's
// oiiotool, ffmpeg and ffprobe), gone on with, and refused where they cannot be right.
#include "core/delivery/deliver.h"
#include "core/delivery/depth_map.h"
#include "core/delivery/file_name.h"
#include "core/delivery/frame_contents.h"
#include "core/delivery/frame_list.h"
#include "core/delivery/movie.h"
#include "core/passes/image_file.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <ImfFloatAttribute.h>
#include <ImfHeader.h>
#include <ImfStringAttribute.h>
#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTest>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <half.h>

using namespace retinex;
using namespace retinex::delivery;
using project::Delivery;
using project::FileKind;
using project::Samples;

class TestDeliveries : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::unique_ptr<passes::PassSource> m_source;
    project::Project m_project;

    QString at(const QString& name) const { return m_dir.filePath(name); }
    std::string path(const QString& name) const { return at(name).toStdString(); }

    DeliveryJob job(const Delivery& delivery, const QString& folder) const
    {
        DeliveryJob job;
        job.project = std::make_shared<project::Project>(m_project);
        job.projectFile = path("shots.retinex");
        job.delivery = delivery;
        job.folder = path(folder);
        return job;
    }
    static Delivery named(const char* name, FileKind file = FileKind::exr, Samples samples = Samples::half)
    {
        Delivery delivery;
        delivery.id = "1";
        delivery.name = name;
        delivery.file = file;
        delivery.samples = samples;
        return delivery;
    }
    std::string errorOf(const DeliveryJob& wanted) const
    {
        try {
            (void)deliver(*m_source, wanted);
        } catch (const Error& error) {
            return error.what();
        }
        return {};
    }
    Plane<float> plane(const QString& file, const char* channel) const
    {
        return passes::readChannels(path(file), 0, {channel}).planes.front();
    }
    RgbaImage rendered(int frame) const
    {
        return frame::renderFrame(*m_source, {std::make_shared<project::Project>(m_project), frame, 1, {}})
            .image;
    }
    static float toSrgb(float light) // IEC 61966-2-1
    {
        const float v = std::clamp(light, 0.0F, 1.0F);
        return v <= 0.0031308F ? 12.92F * v : 1.055F * std::pow(v, 1.0F / 2.4F) - 0.055F;
    }
    static QStringList filesIn(const QString& folder)
    {
        return QDir(folder).entryList(QDir::Files, QDir::Name);
    }

private slots:
    void initTestCase()
    {
        for (int frame = 1; frame <= 6; ++frame)
            test::writeScene(path(QStringLiteral("in.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))));
        const passes::PassChoice choice{path("in.####.exr"), {}};
        m_source = std::make_unique<passes::PassSource>(choice, passes::PassChoice{});
        m_project = project::projectFor(choice, {}, *m_source);
        m_project.base().fStop = 1.0;
        m_project.base().focusDistance = 2.0;
        m_project.shots.front().name = "first";
        project::Shot second = m_project.shots.front();
        second.name = "second/half";
        second.firstFrame = 4;
        m_project.shots.push_back(second);
        timeline::setMark(m_project.shots[0].tracks[project::setting::focusDistance], {2, 2.0});
        timeline::setMark(m_project.shots[1].tracks[project::setting::focusDistance], {5, 3.0});
        m_project.playing.in = 3;
        m_project.playing.out = 4;
    }

    void framesAreListed_data()
    {
        QTest::addColumn<QString>("list");
        QTest::addColumn<QList<int>>("frames");
        QTest::newRow("all") << "" << QList<int>{1, 2, 3, 4, 5, 6};
        QTest::newRow("one") << "3" << QList<int>{3};
        QTest::newRow("several") << " 5 , 1-2,2" << QList<int>{1, 2, 5};
        QTest::newRow("every second") << "1-6x2" << QList<int>{1, 3, 5};
        QTest::newRow("a shot") << "shot first" << QList<int>{1, 2, 3};
        QTest::newRow("a shot by its number") << "shot 2" << QList<int>{4, 5, 6};
        QTest::newRow("played") << "in-out" << QList<int>{3, 4};
        QTest::newRow("marks") << "marks" << QList<int>{2, 5};
    }
    void framesAreListed()
    {
        QFETCH(QString, list);
        QFETCH(QList<int>, frames);
        const auto found = framesIn(list.toStdString(), m_project);
        QCOMPARE(QList<int>(found.begin(), found.end()), frames);
    }
    void wrongListsAreNamed()
    {
        for (const char* list :
             {"a", "1-", "3-1", "1-2x0", "0-3", "9", "shot nobody", "1--2", "1,,2", "1-99999999999"}) {
            try {
                (void)framesIn(list, m_project);
                QFAIL(list);
            } catch (const Error& error) {
                QVERIFY2(!QString::fromUtf8(error.what()).isEmpty(), list);
            }
        }
    }

    void filesAreNamedByTheirTemplate()
    {
        Delivery delivery = named("plates");
        delivery.fileName = "{project}_{shot}_{delivery}.{frame:4}";
        const FileNames names(m_project, path("shots.retinex"), delivery);
        QCOMPARE(names.of(7).filename().string(), std::string("shots_second_half_plates.0007.exr"));
        QCOMPARE(names.of(-7).filename().string(), std::string("shots_first_plates.-0007.exr"));
        QCOMPARE(names.folder(), std::filesystem::path(path("shots-plates")));
        delivery.folder = "out/here";
        QCOMPARE(FileNames(m_project, path("shots.retinex"), delivery).folder(),
                 std::filesystem::path(path("out/here")));
        delivery.file = FileKind::h264;
        delivery.fileName = "{project}.{frame:4}";
        QCOMPARE(FileNames(m_project, path("shots.retinex"), delivery).movie().filename().string(),
                 std::string("shots.mp4"));
        delivery.file = FileKind::png;
        for (const char* wrong : {"{nothing}.{frame}", "always the same", "{frame:x}"}) {
            delivery.fileName = wrong;
            QVERIFY_EXCEPTION_THROWN(FileNames(m_project, path("shots.retinex"), delivery), Error);
        }
    }

    void exrFramesHoldWhatWasRendered()
    {
        const auto report = deliver(*m_source, job(named("frames"), "exr"));
        QCOMPARE(report.written, (std::vector<int>{1, 2, 3, 4, 5, 6}));
        QVERIFY(report.failed.empty());
        const RgbaImage expected = rendered(2);
        for (int c = 0; c < 4; ++c) {
            const char* const names[] = {"R", "G", "B", "A"};
            const Plane<float> found = plane("exr/shots.0002.exr", names[c]);
            for (std::size_t i = 0; i < found.size(); ++i)
                QCOMPARE(found.pixels()[i], static_cast<float>(half(expected.plane(c).pixels()[i])));
        }
        const auto header = passes::readExrHeader(path("exr/shots.0002.exr"), 0);
        QVERIFY(header->findTypedAttribute<Imf::FloatAttribute>("focus") != nullptr);
        QVERIFY(header->findTypedAttribute<Imf::StringAttribute>("retinexFingerprint") != nullptr);
        // What the run did.
        const auto record =
            QJsonDocument::fromJson(test::bytesOf(QString::fromStdString(report.record.string())));
        QCOMPARE(record.object()["written"].toArray().size(), 6);
        QCOMPARE(record.object()["delivery"].toString(), QStringLiteral("frames"));
    }

    void severalContentsAreLayersOfOneFile()
    {
        Delivery delivery = named("layers", FileKind::exr, Samples::float32);
        delivery.what = "finished, source, distance, coc";
        delivery.frames = "3";
        (void)deliver(*m_source, job(delivery, "layers"));
        const auto info = passes::inspectFile(path("layers/shots.0003.exr"));
        QStringList names;
        for (const auto& channel : info.part(0).channels)
            names << QString::fromStdString(channel.name);
        for (const char* name : {"R", "A", "source.R", "source.A", "distance.Z", "coc.px"})
            QVERIFY2(names.contains(QLatin1String(name)), name);
        QCOMPARE(plane("layers/shots.0003.exr", "distance.Z").at(32, 24), 2.0F);
        // The CoC of the wall, by the lens's own formula.
        const auto settings = m_project.lensSettingsAt(3);
        const auto passes = m_source->load(3, m_project.readingAt(3));
        const Plane<float> radius = defocus::blurRadiusPx(passes->distance(), settings);
        QVERIFY(std::abs(plane("layers/shots.0003.exr", "coc.px").at(2, 40) - 2.0F * radius.at(2, 40)) <
                1e-4F);
    }

    void plainFormatsAreInTheirSpace_data()
    {
        QTest::addColumn<int>("file");
        QTest::addColumn<int>("samples");
        QTest::addColumn<double>("step");
        QTest::newRow("png 8") << static_cast<int>(FileKind::png) << static_cast<int>(Samples::bits8)
                               << 1.0 / 255;
        QTest::newRow("png 16") << static_cast<int>(FileKind::png) << static_cast<int>(Samples::bits16)
                                << 1.0 / 65535;
        QTest::newRow("tiff 8") << static_cast<int>(FileKind::tiff) << static_cast<int>(Samples::bits8)
                                << 1.0 / 255;
        QTest::newRow("tiff 16") << static_cast<int>(FileKind::tiff) << static_cast<int>(Samples::bits16)
                                 << 1.0 / 65535;
        QTest::newRow("tiff float") << static_cast<int>(FileKind::tiff) << static_cast<int>(Samples::float32)
                                    << 0.0;
    }
    void plainFormatsAreInTheirSpace()
    {
        QFETCH(int, file);
        QFETCH(int, samples);
        QFETCH(double, step);
        Delivery delivery = named("plain", static_cast<FileKind>(file), static_cast<Samples>(samples));
        delivery.frames = "1";
        const QString folder = QStringLiteral("plain%1%2").arg(file).arg(samples);
        (void)deliver(*m_source, job(delivery, folder));
        const QString name =
            folder + QStringLiteral("/shots.0001") + QString::fromStdString(endingOf(delivery.file));
        const auto outcome = test::runProgram("oiiotool", {"--info", "-v", at(name)});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        const bool isFloat = step == 0.0;
        QVERIFY2(outcome.out.contains(samples == 0 ? "uint8"
                                      : isFloat    ? "float"
                                                   : "uint16"),
                 qPrintable(outcome.out));
        if (!isFloat) QVERIFY2(outcome.out.contains("sRGB"), qPrintable(outcome.out));
        const RgbaImage expected = rendered(1);
        const Plane<float> green = plane(name, "G");
        const Plane<float> alpha = plane(name, "A");
        for (int y = 0; y < green.height(); y += 3)
            for (int x = 0; x < green.width(); x += 3) {
                const float a = expected.plane(3).at(x, y);
                const float straight = a > 1e-4F ? expected.plane(1).at(x, y) / a : 0.0F;
                const float value = isFloat ? straight : toSrgb(straight);
                QVERIFY2(std::abs(static_cast<double>(green.at(x, y) - value)) <= 0.51 * step + 2e-4,
                         qPrintable(QStringLiteral("%1 for %2")
                                        .arg(static_cast<double>(green.at(x, y)))
                                        .arg(static_cast<double>(value))));
                QVERIFY(std::abs(static_cast<double>(alpha.at(x, y) - a)) <= 0.51 * step + 1e-5);
            }
    }

    void picturesAreSized()
    {
        Delivery delivery = named("small", FileKind::jpeg, Samples::bits8);
        delivery.size = project::DeliveredSize::width;
        delivery.widthPx = 20.0;
        delivery.frames = "1";
        (void)deliver(*m_source, job(delivery, "small"));
        const auto info = passes::inspectFile(path("small/shots.0001.jpg"));
        QCOMPARE(info.part(0).displayWindow.width(), 20);
        QCOMPARE(info.part(0).displayWindow.height(), 15);
        QCOMPARE(info.part(0).channels.size(), std::size_t(3));
        delivery = named("half");
        delivery.size = project::DeliveredSize::half;
        delivery.what = "source";
        delivery.frames = "1";
        (void)deliver(*m_source, job(delivery, "half"));
        // A mean of four.
        const auto whole = m_source->loadRaw(1);
        float sum = 0.0F;
        for (int y = 0; y < 2; ++y)
            for (int x = 0; x < 2; ++x)
                sum += whole->colour().plane(0).at(30 + x, 20 + y);
        QVERIFY(std::abs(plane("half/shots.0001.exr", "R").at(15, 10) - 0.25F * sum) < 2e-3F);
    }

    // t = (1/n - 1/d) / (1/n - 1/f) and the like, to half a step of the format.
    void depthMapsAreTheFormula_data()
    {
        QTest::addColumn<bool>("bright");
        QTest::addColumn<bool>("reciprocal");
        QTest::addColumn<int>("samples");
        for (const bool bright : {true, false})
            for (const bool reciprocal : {true, false})
                for (const Samples samples :
                     {Samples::bits8, Samples::bits16, Samples::half, Samples::float32})
                    QTest::addRow("%s, %s, %d", bright ? "near bright" : "near dark",
                                  reciprocal ? "1/distance" : "distance", static_cast<int>(samples))
                        << bright << reciprocal << static_cast<int>(samples);
    }
    void depthMapsAreTheFormula()
    {
        QFETCH(bool, bright);
        QFETCH(bool, reciprocal);
        QFETCH(int, samples);
        const bool isExr = samples >= 2;
        Delivery delivery =
            named("map", isExr ? FileKind::exr : FileKind::png, static_cast<Samples>(samples));
        delivery.what = "depthmap";
        delivery.nearIsBright = bright;
        delivery.spacing = reciprocal ? project::MapSpacing::reciprocal : project::MapSpacing::distance;
        delivery.mapNearest = 1.0;
        delivery.mapFarthest = 11.0;
        delivery.frames = "1";
        const QString folder = QStringLiteral("map%1%2%3").arg(bright).arg(reciprocal).arg(samples);
        (void)deliver(*m_source, job(delivery, folder));
        const Plane<float> found = plane(folder + (isExr ? "/shots.0001.exr" : "/shots.0001.png"), "Y");
        const auto expected = [&](double d) {
            const double t = reciprocal ? (1.0 - 1.0 / d) / (1.0 - 1.0 / 11.0) : (d - 1.0) / 10.0;
            return bright ? 1.0 - t : t;
        };
        const double step = samples == 0   ? 1.0 / 255
                            : samples == 1 ? 1.0 / 65535
                            : samples == 2 ? 1.0 / 2048
                                           : 1e-6;
        QVERIFY(std::abs(static_cast<double>(found.at(32, 24)) - expected(2.0)) <= 0.5 * step + 1e-7);
        QVERIFY(std::abs(static_cast<double>(found.at(2, 40)) - expected(6.0)) <= 0.5 * step + 1e-7);
        QVERIFY(std::abs(static_cast<double>(found.at(2, 2)) - (bright ? 0.0 : 1.0)) < 1e-6); // a gap is far
    }
    void endsOfADepthMapAreFound()
    {
        Delivery delivery = named("found", FileKind::png, Samples::bits16);
        delivery.what = "depthmap";
        delivery.frames = "1-2";
        (void)deliver(*m_source, job(delivery, "found"));
        const Plane<float> found = plane("found/shots.0001.png", "Y");
        QCOMPARE(found.at(32, 24), 1.0F); // the nearest there is
        QVERIFY(found.at(2, 40) < 1e-4F);
        DepthMap wrong;
        wrong.nearest = 3.0;
        wrong.farthest = 2.0;
        QVERIFY_EXCEPTION_THROWN((void)depthMap(Plane<float>(2, 2), Plane<std::uint8_t>(2, 2), wrong), Error);
    }

    // A frame that is there and made from the same is left; after an edit only what it touches is made anew.
    void onlyWhatIsMissingOrOtherIsMade()
    {
        DeliveryJob wanted = job(named("again"), "again");
        (void)deliver(*m_source, wanted);
        const QByteArray third = test::bytesOf(at("again/shots.0003.exr"));
        QFile::remove(at("again/shots.0003.exr"));
        QFile cut(at("again/shots.0005.exr"));
        QVERIFY(cut.open(QIODevice::ReadWrite));
        QVERIFY(cut.resize(cut.size() / 2));
        cut.close();
        wanted.resumes = true;
        auto report = deliver(*m_source, wanted);
        QCOMPARE(report.written, (std::vector<int>{3, 5}));
        QCOMPARE(report.kept, (std::vector<int>{1, 2, 4, 6}));
        QCOMPARE(test::bytesOf(at("again/shots.0003.exr")), third);
        // An edit of the second shot.
        project::Project changed = m_project;
        changed.shots[1].settings.fStop = 4.0;
        wanted.project = std::make_shared<project::Project>(changed);
        report = deliver(*m_source, wanted);
        QCOMPARE(report.written, (std::vector<int>{4, 5, 6}));
        // Another form of the same.
        wanted.delivery.compression = project::Compression::piz;
        report = deliver(*m_source, wanted);
        QCOMPARE(report.written.size(), std::size_t(6));
        // Not asked to go on, it does not write over.
        wanted.resumes = false;
        QVERIFY(errorOf(wanted).find("are there already") != std::string::npos);
    }

    void whatCannotBeRightIsSaidBeforeAnyWork()
    {
        Delivery delivery = named("wrong");
        const auto says = [&](const char* word) {
            const std::string error = errorOf(job(delivery, "wrong"));
            return error.find(word) != std::string::npos;
        };
        delivery.what = "sketch";
        QVERIFY(says("sketch"));
        delivery.what = "finished, distance";
        delivery.file = FileKind::png;
        QVERIFY(says("EXR"));
        delivery.what = "distance";
        QVERIFY(says("depth map"));
        delivery.what = "areas";
        delivery.file = FileKind::exr;
        (void)deliver(*m_source, job(named("none"), "none"));
        delivery.what = "finished";
        delivery.colourSpace = "no such space";
        const auto report = deliver(*m_source, job(delivery, "space"));
        QCOMPARE(report.failed.size(), std::size_t(6));
        QVERIFY(report.failed.front().message.find("no such space") != std::string::npos);
        QVERIFY(!deliveryProblems(*m_source, job(delivery, "space")).empty());
        delivery.colourSpace.clear();
        // Over the input.
        DeliveryJob over = job(delivery, ".");
        over.delivery.fileName = "in.{frame:4}";
        over.existing = Existing::overwrite;
        QVERIFY(errorOf(over).find("input") != std::string::npos);
        QVERIFY(filesIn(at("wrong")).isEmpty());
    }

    void aFrameThatFailsDoesNotStopTheOthers()
    {
        m_project.shots[1].settings.otherFrames =
            others::OtherFrames::off; // frames that look at it would be made again as well
        QVERIFY(QFile::copy(at("in.0004.exr"), at("kept.exr")));
        QFile::remove(at("in.0004.exr"));
        QFile bad(at("in.0004.exr"));
        QVERIFY(bad.open(QIODevice::WriteOnly));
        bad.write("nothing");
        bad.close();
        m_source->forgetFrames();
        const auto report = deliver(*m_source, job(named("most"), "most"));
        QCOMPARE(report.written, (std::vector<int>{1, 2, 3, 5, 6}));
        QCOMPARE(report.failed.size(), std::size_t(1));
        QCOMPARE(report.failed.front().frame, 4);
        QFile::remove(at("in.0004.exr"));
        QVERIFY(QFile::rename(at("kept.exr"), at("in.0004.exr")));
        DeliveryJob again = job(named("most"), "most");
        again.resumes = true;
        QCOMPARE(deliver(*m_source, again).written, (std::vector<int>{4})); // retry of what failed
    }

    void stoppedNothingIsHalfWritten()
    {
        std::stop_source stop;
        const Run run{0, {}, stop.get_token()};
        int done = 0;
        try {
            (void)deliver(*m_source, job(named("stopped"), "stopped"), run,
                          [&](int, const auto&, const std::string&) {
                              if (++done == 2) stop.request_stop();
                          });
            QFAIL("not stopped");
        } catch (const Cancelled&) {
        }
        const QStringList files = QDir(at("stopped")).entryList(QDir::Files | QDir::Hidden);
        for (const QString& file : files) {
            QVERIFY2(file.endsWith(".exr") && !file.startsWith('.'), qPrintable(file));
            (void)plane("stopped/" + file, "R"); // whole
        }
        QVERIFY(files.size() < 6);
    }

    void moviesHaveAllFrames_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("codec");
        QTest::addColumn<double>("decibels"); // at least; 0: bit for bit
        QTest::newRow("FFV1") << static_cast<int>(FileKind::ffv1) << "ffv1" << 0.0;
        QTest::newRow("ProRes") << static_cast<int>(FileKind::prores) << "prores" << 35.0;
        QTest::newRow("H.264") << static_cast<int>(FileKind::h264) << "h264" << 35.0;
        QTest::newRow("VP9") << static_cast<int>(FileKind::vp9) << "vp9" << 35.0;
    }
    void moviesHaveAllFrames()
    {
        if (test::runProgram("ffmpeg", {"-version"}).exitCode != 0) QSKIP("ffmpeg is not there");
        QFETCH(int, kind);
        QFETCH(QString, codec);
        QFETCH(double, decibels);
        Delivery delivery = named("movie", static_cast<FileKind>(kind), Samples::bits16);
        delivery.framesPerSecond = 25.0;
        delivery.fileName = "{project}_" + codec.toStdString();
        const auto report = deliver(*m_source, job(delivery, "movies"));
        QCOMPARE(report.written.size(), std::size_t(6));
        const QString file = at("movies/shots_" + codec + QString::fromStdString(endingOf(delivery.file)));
        const auto probe = test::runProgram(
            "ffprobe",
            {"-v", "error", "-count_packets", "-select_streams", "v:0", "-show_entries",
             "stream=codec_name,width,height,r_frame_rate,nb_read_packets", "-of", "csv=p=0", file});
        QVERIFY2(probe.out.startsWith(codec) && probe.out.contains("64,48") && probe.out.contains("25/1") &&
                     probe.out.trimmed().endsWith("6"),
                 qPrintable(probe.out + probe.err));
        // Rec. ITU-T H.273: BT.709 primaries and the transfer of sRGB.
        const auto tags =
            test::runProgram("ffprobe", {"-v", "error", "-select_streams", "v:0", "-show_entries",
                                         "stream=color_transfer,color_primaries", "-of", "csv=p=0", file});
        QCOMPARE(tags.out.trimmed(), QStringLiteral("iec61966-2-1,bt709"));
        const QString raw = at("decoded.raw");
        const auto decoded = test::runProgram(
            "ffmpeg", {"-v", "error", "-y", "-i", file, "-f", "rawvideo", "-pix_fmt", "rgb48le", raw});
        QVERIFY2(decoded.exitCode == 0, qPrintable(decoded.err));
        const QByteArray bytes = test::bytesOf(raw);
        QCOMPARE(bytes.size(), qsizetype(6) * 64 * 48 * 6);
        const auto* numbers = reinterpret_cast<const std::uint16_t*>(bytes.constData());
        // Frame 5 of what was to be seen.
        const auto contents =
            frameContents(*m_source, std::make_shared<project::Project>(m_project), delivery, 5, {});
        double square = 0.0;
        for (std::size_t i = 0; i < std::size_t(64) * 48; ++i)
            for (std::size_t c = 0; c < 3; ++c) {
                const float value = std::clamp(contents.channels[c].values.pixels()[i], 0.0F, 1.0F);
                const auto expected = static_cast<std::uint16_t>(value * 65535.0F + 0.5F);
                const std::uint16_t found = numbers[4 * 64 * 48 * 3 + i * 3 + c];
                if (decibels == 0.0) QCOMPARE(found, expected);
                square += std::pow((static_cast<double>(found) - expected) / 65535.0, 2.0);
            }
        if (decibels > 0.0) {
            const double psnr = -10.0 * std::log10(square / (64.0 * 48 * 3));
            QVERIFY2(psnr > decibels, qPrintable(QString::number(psnr)));
        }
        // Asked again it is left; nothing else lies there.
        DeliveryJob again = job(delivery, "movies");
        again.resumes = true;
        QCOMPARE(deliver(*m_source, again).kept.size(), std::size_t(6));
        QVERIFY(QDir(at("movies")).entryList({"*.part*"}, QDir::Files | QDir::Hidden).isEmpty());
    }

    void burntInTextIsSeen()
    {
        std::array<Plane<float>, 3> planes{Plane<float>(320, 180), Plane<float>(320, 180),
                                           Plane<float>(320, 180)};
        burnIn(planes[0], planes[1], planes[2], "12  f/2.8");
        int bright = 0;
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x)
                if (planes[1].at(x, y) > 0.5F) {
                    ++bright;
                    QVERIFY(y > 140 && x < 160);
                }
        QVERIFY(bright > 40);
    }

    void aMissingFfmpegIsSaid()
    {
        const QByteArray before = qgetenv("PATH");
        qputenv("PATH", at("nowhere").toLocal8Bit());
        const std::string problem = movieProblem(FileKind::h264);
        Delivery delivery = named("movie", FileKind::h264);
        const std::string error = errorOf(job(delivery, "none2"));
        qputenv("PATH", before);
        QVERIFY2(problem.find("ffmpeg") != std::string::npos, problem.c_str());
        QVERIFY2(error.find("ffmpeg") != std::string::npos, error.c_str());
        QVERIFY(filesIn(at("none2")).isEmpty());
    }
    void aFailingFfmpegIsQuoted()
    {
        QDir().mkpath(at("bin"));
        QFile fake(at("bin/ffmpeg"));
        QVERIFY(fake.open(QIODevice::WriteOnly));
        fake.write("#!/bin/sh\ncase \"$*\" in *encoder=*) echo Encoder; exit 0;; esac\necho the lamp went "
                   "out >&2\nexit 3\n");
        fake.close();
        fake.setPermissions(QFile::ReadOwner | QFile::ExeOwner);
        const QByteArray before = qgetenv("PATH");
        qputenv("PATH", at("bin").toLocal8Bit() + ":" + before);
        const std::string error = errorOf(job(named("movie", FileKind::ffv1), "none3"));
        qputenv("PATH", before);
        QVERIFY2(error.find("the lamp went out") != std::string::npos, error.c_str());
        QVERIFY(QDir(at("none3")).entryList(QDir::Files | QDir::Hidden).isEmpty());
    }

    void deliveriesAreKeptInTheProject()
    {
        project::Project project = m_project;
        Delivery delivery = named("kept", FileKind::tiff, Samples::float32);
        delivery.what = "finished, coc";
        delivery.frames = "1-3x2, marks";
        delivery.folder = "elsewhere";
        delivery.mapFarthest = 12.5;
        delivery.burnsIn = true;
        project.deliveries.push_back(delivery);
        project::saveProject(path("kept.retinex"), project);
        QVERIFY(project::loadProject(path("kept.retinex")).deliveries == project.deliveries);
    }
};

QTEST_GUILESS_MAIN(TestDeliveries)
#include "test_deliveries.moc"
