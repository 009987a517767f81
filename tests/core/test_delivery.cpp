#include "core/delivery/deliver.h"
#include "core/frame/render_frame.h"
#include "core/system/atomic_file.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfStandardAttributes.h>
#include <ImfStringAttribute.h>
#include <QDir>
#include <QFile>
#include <QTest>
#include <cmath>
#include <numeric>
#include <unistd.h>

using namespace retinex;
using namespace retinex::delivery;

/// A small memory disk, where the rights allow it.
class MemoryDisk
{
public:
    explicit MemoryDisk(const QString& folder) : m_folder(folder)
    {
        QDir().mkpath(folder);
        m_mounted =
            test::runProgram("mount", {"-t", "tmpfs", "-o", "size=64k", "tmpfs", folder}).exitCode == 0;
    }
    ~MemoryDisk()
    {
        if (m_mounted) (void)test::runProgram("umount", {m_folder});
    }
    [[nodiscard]] bool isMounted() const { return m_mounted; }

private:
    QString m_folder;
    bool m_mounted = false;
};

class TestDelivery : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const QString& name) const { return m_dir.filePath(name).toStdString(); }
    std::unique_ptr<passes::PassSource> m_source;
    std::shared_ptr<project::Project> m_project;

    static QStringList filesIn(const QString& folder)
    {
        return QDir(folder).entryList(QDir::Files | QDir::Hidden, QDir::Name);
    }

private slots:
    void initTestCase()
    {
        for (const int frame : {1, 2, 3, 5})
            test::writeScene(path(QStringLiteral("in.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))));
        // Frame 4 is there but cut short.
        QFile cut(m_dir.filePath("in.0004.exr"));
        QVERIFY(cut.open(QIODevice::WriteOnly));
        const QByteArray whole = test::bytesOf(m_dir.filePath("in.0001.exr"));
        cut.write(whole.left(whole.size() * 2 / 3));
        cut.close();
        const passes::PassChoice choice{path("in.####.exr"), {}};
        m_source = std::make_unique<passes::PassSource>(choice, passes::PassChoice{});
        m_project = std::make_shared<project::Project>(project::projectFor(choice, {}, *m_source));
        m_project->base().fStop = 0.5;
        m_project->base().focusDistance = 2.0;
    }

    void framesAreWrittenWithAttributesAndADamagedOneIsNamed()
    {
        const auto job = usualJob(*m_source, m_project, {1, 2, 3, 4, 5}, path("out/can.####.exr"));
        std::vector<double> shares;
        int calls = 0;
        const Run run{0, [&](double share) { shares.push_back(share); }, {}};
        const auto report =
            deliver(*m_source, job, run, [&](int, const auto&, const std::string&) { ++calls; });
        QCOMPARE(report.written, (std::vector<int>{1, 2, 3, 5}));
        QCOMPARE(report.failed.size(), std::size_t(1));
        QVERIFY(QString::fromStdString(report.failed[0].message).contains("in.0004.exr"));
        QCOMPARE(calls, 5);
        QVERIFY(std::is_sorted(shares.begin(), shares.end()) && shares.back() <= 1.0);
        QCOMPARE(filesIn(m_dir.filePath("out")),
                 (QStringList{"can.0001.exr", "can.0002.exr", "can.0003.exr", "can.0005.exr"}));
        Imf::InputFile file(path("out/can.0002.exr").c_str());
        QCOMPARE(Imf::focus(file.header()), 2.0F); // metres, as the OpenEXR standard attributes say
        QCOMPARE(Imf::aperture(file.header()), 0.5F);
        QCOMPARE(QString::fromStdString(file.header().typedAttribute<Imf::StringAttribute>("scene").value()),
                 QStringLiteral("test"));
    }

    // The exrheader program (package openexr) reads what was written.
    void otherProgramsReadTheOutput()
    {
        const auto outcome = test::runProgram("exrheader", {m_dir.filePath("out/can.0001.exr")});
        QCOMPARE(outcome.exitCode, 0);
        QVERIFY(outcome.out.contains("focus (type float): 2") &&
                outcome.out.contains("aperture (type float): 0.5"));
        QVERIFY(outcome.out.contains("R, 16-bit floating-point"));
    }

    // Missing frames: stop with the list before any work, hold the frame before, or leave black.
    void missingFramesStopHoldOrStayBlack()
    {
        QDir().mkpath(m_dir.filePath("holes"));
        for (const int frame : {1, 2, 5})
            QVERIFY(QFile::copy(m_dir.filePath("in.0001.exr"),
                                m_dir.filePath(QStringLiteral("holes/h.%1.exr").arg(frame))));
        const passes::PassChoice choice{path("holes/h.#.exr"), {}};
        const auto exported = [&](passes::MissingFrames missing, const char* out) {
            passes::PassOptions options;
            options.missing = missing;
            const passes::PassSource source(choice, {}, options);
            auto job = usualJob(source, m_project, {1, 2, 3, 4, 5}, path(out));
            job.isNoted = false; // held frames are alike to the byte
            return deliver(source, job);
        };
        try {
            (void)exported(passes::MissingFrames::stop, "stopped-at/h.####.exr");
            QFAIL("missing frames were passed over");
        } catch (const Error& error) {
            const QString message = QString::fromUtf8(error.what());
            QVERIFY2(message.contains("3-4") && message.contains("1-2, 5"), qPrintable(message));
        }
        QVERIFY(!QDir(m_dir.filePath("stopped-at")).exists());
        QCOMPARE(exported(passes::MissingFrames::hold, "hold/h.####.exr").written.size(), std::size_t(5));
        QCOMPARE(test::bytesOf(m_dir.filePath("hold/h.0004.exr")),
                 test::bytesOf(m_dir.filePath("hold/h.0002.exr")));
        QCOMPARE(exported(passes::MissingFrames::black, "black/h.####.exr").written.size(), std::size_t(5));
        const auto planes = passes::readExrChannels(path("black/h.0003.exr"), 0, {"R", "A"}).planes;
        for (const auto& plane : planes)
            QVERIFY(
                std::all_of(plane.pixels().begin(), plane.pixels().end(), [](float v) { return v == 0.0F; }));
    }

    // What lies beyond the frame is real picture: a lamp in the overscan throws its disc into the frame, and
    // the result is the middle of what the whole picture would give.
    void overscanIsUsedBeyondTheFrameEdge()
    {
        const QString folder = m_dir.path();
        const auto tool = [&](const QStringList& arguments) {
            return test::runProgram("oiiotool", arguments, folder).exitCode;
        };
        // 96 x 80 px of data about a frame of 64 x 48 px; a bright bar just left of the frame.
        QCOMPARE(tool({"--pattern", "constant:color=0.1,0.1,0.1,1,5", "96x80-16-16", "5", "--chnames",
                       "R,G,B,A,Z", "--fill:color=9,9,9,1,5", "4x80-8-16", "--fullsize", "64x48+0+0", "-d",
                       "float", "-o", "over.exr"}),
                 0);
        QCOMPARE(tool({"over.exr", "--fullpixels", "-o", "whole.exr"}), 0);
        auto project = std::make_shared<project::Project>(*m_project);
        project->base().focusDistance = 2.0;
        project->base().fStop = 0.25;
        project->base().focalLengthMm = 120.0;
        project->base().frameEdge = defocus::FrameEdge::open;
        const auto over =
            frame::renderFrame(passes::PassSource({path("over.exr"), {}}, {}), {project, 1, 1, {}});
        QCOMPARE(over.image.width(), 64);
        QVERIFY(over.passes->raw->hasOverscan());
        QVERIFY(over.image.plane(0).at(2, 24) > 0.5F); // light of the bar, which lies outside
        auto wide = std::make_shared<project::Project>(*project);
        wide->base().sensorWidthMm *= 96.0 / 64.0; // the same px per mm
        const auto whole =
            frame::renderFrame(passes::PassSource({path("whole.exr"), {}}, {}), {wide, 1, 1, {}});
        for (const auto& [x, y] : {std::pair{0, 24}, std::pair{10, 3}, std::pair{63, 47}})
            QVERIFY(std::abs(over.image.plane(0).at(x, y) - whole.image.plane(0).at(x + 16, y + 16)) < 1e-5F);
        // What is shown of edge repair is what happens in all that the file holds.
        const frame::RepairedFrame repaired =
            frame::repairFrame(passes::PassSource({path("over.exr"), {}}, {}), *project, 1);
        QCOMPARE(repaired.surfaces.visible.coverage.width(), 96);
        QCOMPARE((std::pair{repaired.left, repaired.top}), (std::pair{16, 16}));
        QCOMPARE(repaired.passes->colour().width(), 64);
    }

    // A project's mattes count at edges unless they are switched off, and one that is gone is named with ways
    // out.
    void mattesOfTheProjectCount()
    {
        const QString folder = m_dir.path();
        const auto tool = [&](const QStringList& arguments) {
            return test::runProgram("oiiotool", arguments, folder).exitCode;
        };
        // A board in front of a wall, neither plain; the column where they meet holds a quarter of the board
        // by the matte, more by its colour.
        QCOMPARE(tool({"--pattern", "checker:width=4:height=4:color1=0.2,0.3,0.2,1,9:color2=0.5,0.3,0.6,1,9",
                       "64x48", "5", "--chnames", "R,G,B,A,Z", "--fill:color=0.8,0.6,0.2,1,1", "24x48+0+0",
                       "--fill:color=0.6,0.5,0.3,1,1", "1x48+24+0", "-d", "float", "-o", "edge.exr"}),
                 0);
        QCOMPARE(tool({"--pattern", "constant:color=0", "64x48", "1", "--fill:color=1", "24x48+0+0",
                       "--fill:color=0.25", "1x48+24+0", "-d", "float", "-o", "edge_matte.exr"}),
                 0);
        const passes::PassSource source({path("edge.exr"), {}}, {});
        auto project = std::make_shared<project::Project>(*m_project);
        project->base().focusDistance = 9.0;
        project->base().fStop = 4.0;
        project->base().focalLengthMm = 100.0; // the board's radius is 2 px
        const RgbaImage without = frame::renderFrame(source, {project, 1, 1, {}}).image;
        project->mattes = passes::requireMattes(path("edge_matte.exr"));
        QCOMPARE(project->mattes.size(), std::size_t(1));
        const RgbaImage with = frame::renderFrame(source, {project, 1, 1, {}}).image;
        QVERIFY(std::abs(with.plane(0).at(26, 20) - without.plane(0).at(26, 20)) > 1e-3F);
        // The matte says a quarter, give or take what noise is thought to be in it.
        const auto shareIn = [&] {
            return frame::repairFrame(source, *project, 1).surfaces.visible.coverage.at(24, 20);
        };
        QVERIFY2(std::abs(shareIn() - 0.25F) < 0.05F, qPrintable(QString::number(shareIn())));
        project->base().mattesAtEdges = false;
        QVERIFY2(shareIn() > 0.4F, qPrintable(QString::number(shareIn())));
        const RgbaImage off = frame::renderFrame(source, {project, 1, 1, {}}).image;
        QVERIFY(std::ranges::equal(off.plane(0).pixels(), without.plane(0).pixels()));
        project->base().mattesAtEdges = true;
        project->mattes[0].file = path("gone_matte.exr");
        QString message;
        try {
            (void)frame::renderFrame(source, {project, 1, 1, {}});
        } catch (const Error& error) {
            message = QString::fromStdString(error.what());
        }
        QVERIFY2(message.contains("gone_matte.exr") && message.contains("Repair"), qPrintable(message));
    }

    void theSameFrameComesOutTheSame()
    {
        const auto a = frame::renderFrame(*m_source, {m_project, 2, 1, {}}, {1, {}, {}});
        const auto b = frame::renderFrame(*m_source, {m_project, 2, 1, {}}, {3, {}, {}});
        QVERIFY(std::equal(a.image.plane(0).pixels().begin(), a.image.plane(0).pixels().end(),
                           b.image.plane(0).pixels().begin()));
        const auto coarse = frame::renderFrame(*m_source, {m_project, 2, 2, {}});
        QCOMPARE(coarse.image.width(), 32);
    }

    void inputsAreNeverWritten()
    {
        const QByteArray before = test::bytesOf(m_dir.filePath("in.0001.exr"));
        QDir().mkpath(m_dir.filePath("sub"));
        for (const QString& out : {QStringLiteral("in.0001.exr"), QStringLiteral("sub/../in.####.exr")})
            QVERIFY_EXCEPTION_THROWN((void)deliver(*m_source, usualJob(*m_source, m_project, {1}, path(out))),
                                     Error);
        QCOMPARE(test::bytesOf(m_dir.filePath("in.0001.exr")), before);
        QVERIFY_EXCEPTION_THROWN(
            (void)deliver(*m_source, usualJob(*m_source, m_project, {1, 2}, path("one.exr"))), Error);
    }

    void aFullDiskLeavesNothingHalfWritten()
    {
        const QString folder = m_dir.filePath("full");
        const MemoryDisk disk(folder);
        if (!disk.isMounted()) QSKIP("a small tmpfs can only be mounted by root");
        writeFileAtomically(path("full/kept.txt"), "as it was");
        const std::string large(200'000, 'x');
        try {
            writeFileAtomically(path("full/kept.txt"), large);
            QFAIL("200 kB fitted on a disk of 64 kB");
        } catch (const Error& error) {
            const QString message = QString::fromUtf8(error.what());
            QVERIFY2(message.contains("kept.txt") && message.contains("is full"), qPrintable(message));
        }
        QCOMPARE(test::bytesOf(m_dir.filePath("full/kept.txt")), QByteArray("as it was"));
        QCOMPARE(filesIn(folder), QStringList{"kept.txt"});

        QFile filler(folder + "/filler");
        QVERIFY(filler.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
        while (filler.write(QByteArray(4096, 'f')) > 0) {
        }
        filler.close();
        try { // found out before anything is rendered
            (void)deliver(*m_source, usualJob(*m_source, m_project, {1, 2}, path("full/can.####.exr")));
            QFAIL("a full disk was passed over");
        } catch (const Error& error) {
            QVERIFY2(QString(error.what()).contains("is full"), error.what());
        }
        QCOMPARE(filesIn(folder), (QStringList{"filler", "kept.txt"}));
    }

    void foldersThatMayNotBeWrittenAreNamed()
    {
        // A folder that cannot exist because a file bears its name: true for root as well.
        test::writeScene(path("afile"));
        QVERIFY_EXCEPTION_THROWN(
            (void)deliver(*m_source, usualJob(*m_source, m_project, {1}, path("afile/can.exr"))), Error);
        try {
            writeFileAtomically("/proc/retinex.exr", "x");
            QFAIL("/proc was written to");
        } catch (const Error& error) {
            const QString message = QString::fromUtf8(error.what());
            QVERIFY2(message.contains("/proc/retinex.exr") &&
                         (message.contains("may not be written") || message.contains("there is no folder")),
                     qPrintable(message));
        }
        if (geteuid() == 0) return; // root may write anywhere
        QDir().mkpath(m_dir.filePath("locked"));
        QFile::setPermissions(m_dir.filePath("locked"), QFile::ReadOwner | QFile::ExeOwner);
        const auto report = deliver(*m_source, usualJob(*m_source, m_project, {1}, path("locked/can.exr")));
        QVERIFY(report.failed.at(0).message.find("may not be written") != std::string::npos);
    }

    void stoppingLeavesWholeFramesOnly()
    {
        std::vector<int> frames(24);
        std::iota(frames.begin(), frames.end(), 1);
        for (const int frame : frames)
            QVERIFY(QFile::copy(m_dir.filePath("in.0001.exr"),
                                m_dir.filePath(QStringLiteral("long.%1.exr").arg(frame))));
        passes::PassSource source({path("long.#.exr"), {}}, {});
        std::stop_source stop;
        const Run run{0, {}, stop.get_token()};
        QVERIFY_EXCEPTION_THROWN(
            (void)deliver(source, usualJob(source, m_project, frames, path("stopped/can.#.exr")), run,
                          [&](int, const auto&, const std::string&) { stop.request_stop(); }),
            Cancelled);
        // Those that were being written when the first one was done were finished; no others.
        const QStringList files = filesIn(m_dir.filePath("stopped"));
        QVERIFY2(!files.isEmpty() && files.size() <= 5, qPrintable(files.join(' ')));
        (void)deliver(source, usualJob(source, m_project, frames, path("whole/can.#.exr")));
        for (const QString& file : files)
            QCOMPARE(test::bytesOf(m_dir.filePath("stopped/" + file)),
                     test::bytesOf(m_dir.filePath("whole/" + file)));
    }
};

QTEST_GUILESS_MAIN(TestDelivery)
#include "test_delivery.moc"
