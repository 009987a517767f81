// What goes wrong on the command line: said in one line, by the right name, with the right exit code.
#include "support/cli_folder.h"

#include <QDir>
#include <QFile>
#include <QTest>
#include <sys/stat.h>
#include <unistd.h>

using namespace retinex;
using retinex::test::Outcome;

class TestCliFailures : public QObject, test::CliFolder
{
    Q_OBJECT

    /// By a shell, which sets the limits and says where output goes.
    Outcome shell(const QString& line) const
    {
        return test::runProgram("bash", {"-c", QString(line).replace("CLI", RETINEX_CLI)}, m_dir.path());
    }
    QString still(const QString& file) const
    {
        return "CLI defocus --colour " + file + " --depth " + file + " --out x.exr --progress none " +
               lens().join(' ');
    }

private slots:
    void initTestCase() { writeFrames(); }

    void wrongUsageIsExitCodeTwo()
    {
        for (const QStringList& arguments :
             {QStringList{}, QStringList{"fly"}, QStringList{"optics", "--fstop", "2"},
              QStringList{"defocus", "--unit", "parsec"}}) {
            const Outcome outcome = cli(arguments);
            QCOMPARE(outcome.exitCode, 2);
            QVERIFY(!outcome.err.isEmpty() && outcome.out.isEmpty());
        }
        QCOMPARE(cli({"--help"}).exitCode, 0);
    }

    void defocusNamesWhatIsWrong()
    {
        const QByteArray before = test::bytesOf(m_dir.filePath("in.0001.exr"));
        const Outcome over = cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "in.0001.exr",
                                             "--out", "in.0001.exr"} +
                                 lens());
        QCOMPARE(over.exitCode, 1);
        QVERIFY(over.err.contains("input files") && over.err.count('\n') == 1);
        QCOMPARE(test::bytesOf(m_dir.filePath("in.0001.exr")), before);
        test::writeScene(m_dir.filePath("small.exr").toStdString(), 32, 24);
        QVERIFY(cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "small.exr", "--out",
                                "fit.exr"} +
                    lens())
                    .err.contains("32 x 24")); // said, and done: each depth value stands for 2 x 2 px
        QVERIFY(QFile::exists(m_dir.filePath("fit.exr")));
        QVERIFY(cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "in.0001.exr:fog", "--out",
                                "x.exr"} +
                    lens())
                    .err.contains("fog"));
        QVERIFY(!QFile::exists(m_dir.filePath("x.exr")));
    }

    void everyFailureIsOneLineThatNamesTheFile_data()
    {
        QTest::addColumn<QString>("colour");
        QTest::addColumn<QString>("out");
        QTest::addColumn<QString>("matter");
        QFile cut(m_dir.filePath("cut.exr"));
        QVERIFY(cut.open(QIODevice::WriteOnly));
        const QByteArray whole = test::bytesOf(m_dir.filePath("in.0001.exr"));
        cut.write(whole.left(whole.size() * 3 / 4));
        cut.close();
        QFile text(m_dir.filePath("notes.exr"));
        QVERIFY(text.open(QIODevice::WriteOnly));
        text.write("remember the lamps");
        text.close();
        const auto one = [](int, int) { return 1.0F; };
        test::writeChannels(m_dir.filePath("flat.exr").toStdString(), 8, 8,
                            {{"R", true, one}, {"G", true, one}, {"B", true, one}});
        QTest::newRow("missing file") << "gone.exr"
                                      << "x.exr"
                                      << "gone.exr: there is no such file";
        QTest::newRow("truncated") << "cut.exr"
                                   << "x.exr"
                                   << "rows are missing";
        QTest::newRow("not an EXR") << "notes.exr"
                                    << "x.exr"
                                    << "not a readable EXR file";
        QTest::newRow("without depth") << "flat.exr"
                                       << "x.exr"
                                       << "flat.exr: no depth pass found";
        QTest::newRow("no such folder") << "in.0001.exr"
                                        << "/proc/none/x.exr"
                                        << "/proc/none";
        QTest::newRow("folder not writable") << "in.0001.exr"
                                             << "/proc/x.exr"
                                             << "/proc: nothing can be written";
        QTest::newRow("frame missing") << "in.%04d.exr"
                                       << "y/x.####.exr"
                                       << "in.####.exr: frames 3 are missing";
    }
    void everyFailureIsOneLineThatNamesTheFile()
    {
        QFETCH(QString, colour);
        QFETCH(QString, out);
        QFETCH(QString, matter);
        const Outcome outcome = cli(QStringList{"defocus", "--colour", colour, "--depth", colour, "--out",
                                                out, "--progress", "none"} +
                                    lens());
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY2(outcome.err.contains(matter), qPrintable(outcome.err));
        QCOMPARE(outcome.err.count('\n'), 1);
        QVERIFY(outcome.out.isEmpty());
        QVERIFY(!QFile::exists(m_dir.filePath("x.exr")));
    }

    void aFullDiskIsNamedAndLeavesNothing()
    {
        const QString folder = m_dir.filePath("disk");
        QDir().mkpath(folder);
        if (test::runProgram("mount", {"-t", "tmpfs", "-o", "size=8k", "tmpfs", folder}).exitCode != 0)
            QSKIP("a small tmpfs can only be mounted by root");
        QFile filler(folder + "/filler");
        QVERIFY(filler.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
        while (filler.write(QByteArray(1024, 'f')) > 0) {
        }
        filler.close();
        const Outcome outcome =
            cli(QStringList{"defocus", "--colour", "in.####.exr", "--depth", "in.####.exr", "--out",
                            "disk/f.####.exr", "--frames", "1-2"} +
                lens());
        const QStringList left = files("disk");
        QCOMPARE(test::runProgram("umount", {folder}).exitCode, 0);
        QCOMPARE(outcome.exitCode, 1);
        // Found out before anything is rendered.
        QVERIFY2(outcome.err.contains("disk: nothing can be written") && outcome.err.contains("is full"),
                 qPrintable(outcome.err));
        QCOMPARE(left, QStringList{"filler"});
    }

    // A full disk at the other end of a pipe: help and version are output too.
    void whatCannotBeSaidIsAFailure()
    {
        for (const char* what : {"--help", "--version", "optics --help",
                                 "optics --focal-length 50 --fstop 8 --focus 3", "inspect in.0001.exr"}) {
            const Outcome outcome = shell(QStringLiteral("CLI %1 >/dev/full").arg(what));
            QCOMPARE(outcome.exitCode, 1);
            QVERIFY2(outcome.err.contains("could not be written to standard output"),
                     qPrintable(outcome.err));
        }
        QCOMPARE(shell("CLI fly 2>/dev/full").exitCode, 2);
        QCOMPARE(shell(still("gone.exr") + " 2>/dev/full").exitCode, 1);
        QCOMPARE(shell(still("in.0001.exr").replace("none", "json") + " 2>/dev/full").exitCode, 0);
        QFile::remove(m_dir.filePath("x.exr"));
    }

    void pipesAndDevicesAreNoInputs_data()
    {
        QTest::addColumn<QString>("line");
        QTest::newRow("inspect") << "CLI inspect PIPE";
        QTest::newRow("colour") << still("PIPE");
        QTest::newRow("one of a sequence") << still("pipe.####.exr") + " --frames 1";
        QTest::newRow("alpha") << still("in.0001.exr") + " --alpha PIPE";
        QTest::newRow("motion") << still("in.0001.exr") + " --motion PIPE";
        QTest::newRow("mattes") << still("in.0001.exr") + " --mattes PIPE";
        QTest::newRow("iris") << still("in.0001.exr") + " --iris-picture PIPE";
        QTest::newRow("backdrop") << still("in.0001.exr") + " --backdrop PIPE";
        QTest::newRow("look") << still("in.0001.exr") + " --look PIPE";
        QTest::newRow("project") << "CLI check PIPE";
        QTest::newRow("scene") << "CLI inspect pipe.gltf";
        QTest::newRow("device") << "CLI inspect /dev/zero";
    }
    void pipesAndDevicesAreNoInputs()
    {
        QFETCH(QString, line);
        for (const char* name : {"pipe.0001.exr", "pipe.gltf"})
            mkfifo(m_dir.filePath(name).toLocal8Bit().constData(), 0600);
        const Outcome outcome = shell("timeout 20 " + line.replace("PIPE", "pipe.0001.exr"));
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY2(outcome.err.contains("a pipe or a device") || outcome.err.contains("look file"),
                 qPrintable(outcome.err));
    }

    // What the machine or the rights lack is no fault of the file.
    void memoryThatIsLackingIsNamed()
    {
        test::writeScene(m_dir.filePath("large.exr").toStdString(), 6000, 4000);
        const Outcome outcome = shell("ulimit -v 500000; " + still("large.exr"));
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY2(outcome.err.contains("needs more memory") || outcome.err.contains("needs more threads"),
                 qPrintable(outcome.err));
        QVERIFY(!QFile::exists(m_dir.filePath("x.exr")));
    }

    void whatMayNotBeReadIsSaid()
    {
        test::writeScene(m_dir.filePath("secret.exr").toStdString());
        QFile::setPermissions(m_dir.filePath("secret.exr"), {});
        QFile::setPermissions(m_dir.path(), QFile::Permissions(0x7755));
        // Root may read everything.
        const QString somebody = geteuid() == 0 ? "setpriv --reuid 65534 --clear-groups " : QString();
        if (shell(somebody + "CLI --version").exitCode != 0)
            QSKIP("the program may be run by its owner alone");
        const Outcome outcome = shell(somebody + "CLI inspect secret.exr");
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY2(outcome.err.contains("you may not read this file"), qPrintable(outcome.err));
    }

    // Names that are written like patterns may be names.
    void namesWithMarksAreNames()
    {
        for (const char* name : {"h#1.exr", "p%d.exr", "q%02dx.exr", "with space #.exr"}) {
            QVERIFY(QFile::copy(m_dir.filePath("in.0001.exr"), m_dir.filePath(name)));
            const Outcome outcome = cli({"inspect", name});
            QVERIFY2(outcome.exitCode == 0 && outcome.out.contains("64"), qPrintable(outcome.err));
            const Outcome made =
                cli(QStringList{"defocus", "--colour", name, "--depth", name, "--out", "made.exr"} + lens());
            QVERIFY2(made.exitCode == 0, qPrintable(made.err));
            QVERIFY(QFile::remove(m_dir.filePath("made.exr")));
        }
    }
};

QTEST_GUILESS_MAIN(TestCliFailures)
#include "test_cli_failures.moc"
