// What may be written, and that `check` tells before what `render` would stop at: the same sentences, by the
// same code.
#include "support/cli_folder.h"

#include <QDir>
#include <QFile>
#include <QTest>
#include <algorithm>
#include <sys/stat.h>

using namespace retinex;
using retinex::test::Outcome;

class TestCliTargets : public QObject, test::CliFolder
{
    Q_OBJECT

    void write(const QString& name, const QByteArray& text) const
    {
        QFile file(m_dir.filePath(name));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(text);
    }
    /// Two frames, and deliveries as JSON with single quotes.
    void writeProject(const QString& name, const QByteArray& deliveries) const
    {
        QByteArray text = "{'format': 3, 'passes': {'colour': {'file': 'in.####.exr'}, 'depth': {'file': '', "
                          "'channel': 'Z'}}, "
                          "'frames': {'first': 1, 'last': 2}, 'shots': [{'name': 'one', 'firstFrame': 1, "
                          "'reading': {'kind': 'distance'}, 'lens': {'fStop': 2, 'focalLengthMm': 50, "
                          "'sensorWidthMm': 36}, "
                          "'focus': {'distance': 2}}], 'deliveries': [" +
                          deliveries + "]}";
        write(name, text.replace('\'', '"'));
    }
    Outcome shell(const QString& line) const
    {
        return test::runProgram("bash", {"-c", QString(line).replace("CLI", RETINEX_CLI)}, m_dir.path());
    }
    /// What check says is what render says; "" where both succeed.
    QString stopOf(const QString& project) const
    {
        const Outcome check = cli({"check", project});
        const Outcome render = cli({"render", project, "--progress", "none"});
        if (check.exitCode != render.exitCode) return "check and render differ: " + check.err + render.err;
        if (check.exitCode == 0) return {};
        const QString said = check.err.trimmed();
        return render.err.contains(said) ? said : "check says: " + said + "; render says: " + render.err;
    }

private slots:
    void initTestCase() { writeFrames(); }

    void thumbnailsWriteOverNothing()
    {
        writeProject("p.retinex", {});
        const QByteArray project = test::bytesOf(m_dir.filePath("p.retinex"));
        const QByteArray input = test::bytesOf(m_dir.filePath("in.0001.exr"));
        write("there.png", "mine");
        for (const auto& [file, words] : {std::pair{"p.retinex", "input files"},
                                          {"in.0001.exr", "input files"},
                                          {"there.png", "is there already"},
                                          {"/dev/full", "not a regular file"}}) {
            const Outcome outcome = cli({"thumbnail", "p.retinex", file});
            QCOMPARE(outcome.exitCode, 1);
            QVERIFY2(outcome.err.contains(words) && outcome.err.count('\n') == 1, qPrintable(outcome.err));
        }
        QCOMPARE(test::bytesOf(m_dir.filePath("p.retinex")), project);
        QCOMPARE(test::bytesOf(m_dir.filePath("in.0001.exr")), input);
        QCOMPARE(test::bytesOf(m_dir.filePath("there.png")), QByteArray("mine"));
        // A file that a thumbnailer has made is empty; over one that is not it is asked for.
        write("made.tmp", {});
        QCOMPARE(cli({"thumbnail", "p.retinex", "made.tmp"}).exitCode, 0);
        QVERIFY(test::bytesOf(m_dir.filePath("made.tmp")).startsWith("\x89PNG"));
        QCOMPARE(cli({"thumbnail", "p.retinex", "there.png", "--overwrite"}).exitCode, 0);
        QVERIFY(test::bytesOf(m_dir.filePath("there.png")).startsWith("\x89PNG"));
    }

    // A name's ending says what is written, in the window as here; what cannot be is said before any work.
    void theEndingSaysTheFormat_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QByteArray>("begins"); // the format's own first bytes
        QTest::newRow("EXR") << "ending.exr" << QByteArray("\x76\x2f\x31\x01");
        QTest::newRow("PNG") << "ending.png" << QByteArray("\x89PNG\r\n\x1a\n");
        QTest::newRow("PNG, in capitals") << "ENDING.PNG" << QByteArray("\x89PNG\r\n\x1a\n");
        QTest::newRow("TIFF") << "ending.tif" << QByteArray("II*");
        QTest::newRow("JPEG") << "ending.jpeg" << QByteArray("\xff\xd8\xff");
        QTest::newRow("no ending") << "plain" << QByteArray("\x76\x2f\x31\x01");
        QTest::newRow("BMP") << "ending.bmp" << QByteArray();
        QTest::newRow("movie") << "ending.mov" << QByteArray();
    }
    void theEndingSaysTheFormat()
    {
        QFETCH(QString, name);
        QFETCH(QByteArray, begins);
        const Outcome outcome = cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth",
                                                "in.0001.exr:Z", "--out", name, "--progress", "none"} +
                                    lens());
        if (begins.isEmpty()) {
            QCOMPARE(outcome.exitCode, 1);
            QVERIFY2(outcome.err.contains(name) && outcome.err.contains(".png"), qPrintable(outcome.err));
            QVERIFY(!QFile::exists(m_dir.filePath(name)));
            return;
        }
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(test::bytesOf(m_dir.filePath(name)).startsWith(begins));
    }

    void depthMapsGoByTheSameRules()
    {
        QCOMPARE(::mkfifo(qPrintable(m_dir.filePath("pipe")), 0600), 0);
        const Outcome pipe = cli({"depthmap", "in.0001.exr", "--out", "pipe", "--overwrite"});
        QCOMPARE(pipe.exitCode, 1);
        QVERIFY2(pipe.err.contains("not a regular file"), qPrintable(pipe.err));
        QVERIFY(cli({"depthmap", "in.0001.exr", "--out", "in.0001.exr", "--overwrite"})
                    .err.contains("input files"));
        write("m_colour.png", "mine");
        const Outcome pair = cli({"depthmap", "in.0001.exr", "--out", "m.png", "--pair", "separate"});
        QVERIFY2(pair.exitCode == 1 && pair.err.contains("m_colour.png"), qPrintable(pair.err));
        QVERIFY(!QFile::exists(m_dir.filePath("m.png")));
        QCOMPARE(
            cli({"depthmap", "in.0001.exr", "--out", "m.png", "--pair", "separate", "--overwrite"}).exitCode,
            0);
    }

    void aLookIsFoundFromWhereOneStands()
    {
        write("dark.cube",
              "LUT_3D_SIZE 2\n0 0 0\n.5 0 0\n0 .5 0\n.5 .5 0\n0 0 .5\n.5 0 .5\n0 .5 .5\n.5 .5 .5\n");
        const QStringList all =
            QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "in.0001.exr"} + lens();
        const Outcome outcome = cli(all + QStringList{"--look", "dark.cube", "--out", "look.exr"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QCOMPARE(cli(all + QStringList{"--out", "plain.exr"}).exitCode, 0);
        QVERIFY(test::bytesOf(m_dir.filePath("look.exr")) != test::bytesOf(m_dir.filePath("copy.exr")));
    }

    void checkSaysWhatRenderWouldStopAt_data()
    {
        QTest::addColumn<QByteArray>("deliveries");
        QTest::addColumn<QString>("words");
        QTest::newRow("nothing") << QByteArray("{'id': 'fine', 'name': 'fine', 'folder': 'fine'}")
                                 << QString();
        QTest::newRow("one target for two")
            << QByteArray("{'id': 'a', 'name': 'a', 'folder': 'o', 'fileName': 'x.{frame}'}, {'id': 'b', "
                          "'name': 'b', 'folder': "
                          "'o', 'fileName': 'x.{frame}'}")
            << "\"a\" and \"b\" would both write";
        QTest::newRow("areas of nothing")
            << QByteArray("{'id': 'areas', 'name': 'areas', 'what': 'areas'}") << "asks for areas";
        QTest::newRow("an input")
            << QByteArray("{'id': 'in', 'name': 'in', 'folder': '.', 'fileName': 'in.{frame:4}'}")
            << "input files";
        QTest::newRow("a long name") << QByteArray("{'id': 'long', 'name': 'long', 'fileName': '") +
                                            QByteArray(240, 'x') + "{frame}'}"
                                     << "bytes, and";
        QTest::newRow("a folder as target")
            << QByteArray("{'id': 'f', 'name': 'f', 'folder': 'g', 'fileName': 'd.{frame}'}")
            << "not a regular file";
        QTest::newRow("notes are a file")
            << QByteArray("{'id': 'n', 'name': 'n', 'folder': 'notes'}") << "notes on the frames";
        QTest::newRow("a large JPEG") << QByteArray("{'id': 'wide', 'name': 'wide', 'file': 'jpeg', "
                                                    "'samples': '8', 'size': 'width', 'widthPx': 70000}")
                                      << "JPEG holds 65500";
    }
    void checkSaysWhatRenderWouldStopAt()
    {
        QFETCH(QByteArray, deliveries);
        QFETCH(QString, words);
        QVERIFY(QDir(m_dir.path()).mkpath("g/d.1.exr"));
        QVERIFY(QDir(m_dir.path()).mkpath("notes"));
        write("notes/.retinex", "mine");
        writeProject("c.retinex", deliveries);
        const QString stop = stopOf("c.retinex");
        if (words.isEmpty())
            QCOMPARE(stop, QString());
        else
            QVERIFY2(stop.contains(words) && !stop.startsWith("check"), qPrintable(stop));
        QCOMPARE(test::bytesOf(m_dir.filePath("notes/.retinex")), QByteArray("mine"));
        for (const QString& folder : {QStringLiteral("o"), QStringLiteral("notes"), QStringLiteral("g")})
            for (const QString& file : files(folder))
                QVERIFY2(!file.contains(".part") && !file.endsWith(".exr"), qPrintable(file));
    }

    void checkMakesNoFolder()
    {
        writeProject("c.retinex", "{'id': 'far', 'name': 'far', 'folder': 'not/yet/there'}");
        QCOMPARE(cli({"check", "c.retinex"}).exitCode, 0);
        QVERIFY(!QFile::exists(m_dir.filePath("not")));
    }

    void deliveriesThatAreAllOffMakeNothingAndSayIt()
    {
        writeProject("off.retinex", "{'id': 'a', 'name': 'a', 'on': false, 'folder': 'offs'}");
        const Outcome outcome = cli({"render", "off.retinex"});
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY2(outcome.err.contains("All deliveries of the project are off"), qPrintable(outcome.err));
        QVERIFY(!QFile::exists(m_dir.filePath("off-frames")) && !QFile::exists(m_dir.filePath("offs")));
        QCOMPARE(cli({"render", "off.retinex", "--delivery", "a"}).exitCode, 0);
        QVERIFY(files("offs").size() >= 2);
    }

    void emptyValuesAreRefused()
    {
        for (const QString& option :
             {QStringLiteral("--look"), QStringLiteral("--backdrop"), QStringLiteral("--exposure"),
              QStringLiteral("--alpha"), QStringLiteral("--ramp")}) {
            for (const QStringList& given : {QStringList{option, ""}, QStringList{option + "="}}) {
                const Outcome outcome = cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth",
                                                        "in.0001.exr", "--out", "e.exr"} +
                                            lens() + given);
                QCOMPARE(outcome.exitCode, 2);
                QVERIFY2(outcome.err.startsWith(option + ": its value is empty"), qPrintable(outcome.err));
            }
        }
        QVERIFY(!QFile::exists(m_dir.filePath("e.exr")));
        const Outcome ramp =
            cli(QStringList{"defocus", "--colour", "in.0001.exr", "--ramp", "5,5=1,5,5=2", "--out", "e.exr"} +
                lens());
        QVERIFY2(ramp.exitCode != 0 && ramp.err.contains("two places are one"), qPrintable(ramp.err));
    }

    void namesThatAreNoUtf8DoNotEndTheJson()
    {
        QVERIFY(QFile::copy(m_dir.filePath("in.0001.exr"), m_dir.filePath("copy.exr")));
        const Outcome outcome = shell("mv copy.exr $'bad\\xff.exr' && CLI inspect --json $'bad\\xff.exr'");
        QVERIFY2(outcome.exitCode == 0 && outcome.out.contains("\"parts\""), qPrintable(outcome.err));
    }

    // An encoder that says all is well and has written nothing; stands in for a full pipe, a broken build.
    void aMovieThatIsEmptyIsAFailure()
    {
        QVERIFY(QDir(m_dir.path()).mkpath("fake"));
        write("fake/ffmpeg",
              "#!/bin/sh\ncase \"$*\" in *encoder=*) echo Encoder;; *) cat >/dev/null;; esac\n");
        QVERIFY(QFile(m_dir.filePath("fake/ffmpeg"))
                    .setPermissions(QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner));
        writeProject("movie.retinex",
                     "{'id': 'm', 'name': 'm', 'file': 'ffv1', 'samples': '16', 'folder': 'film'}");
        const Outcome outcome = shell("PATH=$PWD/fake:$PATH CLI render movie.retinex --progress none");
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY2(outcome.err.contains("0 frames of 2"), qPrintable(outcome.err));
        for (const QString& file : files("film"))
            QVERIFY2(!file.endsWith(".mkv"), qPrintable(file));
    }

    // As a full disk: what does not fit under the limit of a file's size is said, frame by frame, under the
    // name that was asked for, and nothing of it stays.
    void whatDoesNotFitIsSaidAndLeavesNothing_data()
    {
        QTest::addColumn<QByteArray>("form");
        QTest::newRow("EXR") << QByteArray("'file': 'exr', 'samples': 'float', 'compression': 'none'");
        QTest::newRow("PNG") << QByteArray("'file': 'png', 'samples': '16'");
        QTest::newRow("TIFF") << QByteArray("'file': 'tiff', 'samples': 'float'");
        QTest::newRow("JPEG") << QByteArray("'file': 'jpeg', 'samples': '8'");
        QTest::newRow("movie") << QByteArray("'file': 'ffv1', 'samples': '16'");
    }
    void whatDoesNotFitIsSaidAndLeavesNothing()
    {
        QFETCH(QByteArray, form);
        const QString name = QString::fromLatin1(QTest::currentDataTag());
        writeProject("full.retinex", "{'id': '1', 'name': '1', 'folder': 'full/" + name.toLatin1() + "', " +
                                         form + "}, {'id': '2', 'name': '2', 'folder': 'full2'}");
        const Outcome outcome = shell("ulimit -f 1; CLI render full.retinex --progress none");
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY2(outcome.err.contains("full/" + name) && !outcome.err.contains(".part"),
                 qPrintable(outcome.err));
        for (const QString& file : files("full/" + name))
            QVERIFY2(!file.contains(".part") && !file.endsWith(form.mid(9, 3)), qPrintable(file));
    }

    void aFolderThatVanishesIsNotMadeAnew()
    {
        writeProject("gone.retinex", "{'id': 'g', 'name': 'g', 'folder': 'gone'}");
        const Outcome outcome =
            shell("CLI render gone.retinex --progress plain 2>&1 | while read -r line; do "
                  "mv gone elsewhere 2>/dev/null; done; ls -d gone; true");
        QVERIFY2(QFile::exists(m_dir.filePath("elsewhere")), qPrintable(outcome.out + outcome.err));
        QVERIFY(!QFile::exists(m_dir.filePath("elsewhere/gone"))); // nor a second time
        QVERIFY2(!QFile::exists(m_dir.filePath("gone")), qPrintable(outcome.out + outcome.err));
    }

    void aFileWithoutMattesIsNamed()
    {
        const QStringList depth{"--depth", "in.0001.exr", "--reading", "distance"};
        for (const QStringList& option : {QStringList{"--guard", "in.0001.exr"},
                                          {"--patch", "in.0001.exr=2"},
                                          {"--mattes", "in.0001.exr"}}) {
            const Outcome outcome = cli(QStringList{"defocus", "--colour", "in.0001.exr", "--out", "m.exr"} +
                                        depth + lens() + option);
            QCOMPARE(outcome.exitCode, 1);
            QVERIFY2(outcome.err.contains("in.0001.exr: there is no matte in it"), qPrintable(outcome.err));
        }
        const Outcome named = cli(QStringList{"defocus", "--colour", "in.0001.exr", "--out", "m.exr",
                                              "--mattes", "in.0001.exr:A", "--guard", "in.0001.exr:A"} +
                                  depth + lens());
        QVERIFY2(named.exitCode == 0, qPrintable(named.err));
    }

    // A colon or a lone # within a word is a part of the name.
    void namesWithColonsAndHashesAreTaken()
    {
        QVERIFY(QFile::copy(m_dir.filePath("in.0001.exr"), m_dir.filePath("a:b.exr")));
        for (const int frame : {1, 2})
            QVERIFY(QFile::copy(m_dir.filePath(QStringLiteral("in.%1.exr").arg(frame, 4, 10, QChar('0'))),
                                m_dir.filePath(QStringLiteral("c:d.%1.exr").arg(frame))));
        const QStringList how = QStringList{"--reading", "distance", "--progress", "none"} + lens();
        const Outcome still = cli(
            QStringList{"defocus", "--colour", "a:b.exr", "--depth", "a:b.exr:Z", "--out", "named/a#b.exr"} +
            how);
        QVERIFY2(still.exitCode == 0, qPrintable(still.err));
        const Outcome sequence = cli(QStringList{"defocus", "--colour", "c:d.#.exr", "--depth", "c:d.#.exr:Z",
                                                 "--out", "named/e.#.exr"} +
                                     how);
        QVERIFY2(sequence.exitCode == 0, qPrintable(sequence.err));
        QCOMPARE(files("named"), QStringList({"a#b.exr", "e.1.exr", "e.2.exr"}));
    }

    void whatHangsOnItselfIsTold()
    {
        writeProject("circle.retinex", {});
        QByteArray text = test::bytesOf(m_dir.filePath("circle.retinex"));
        text.replace("\"shots\": [{",
                     "\"subjects\": [{\"name\": \"face\", \"region\": \"head\"}, "
                     "{\"name\": \"lost\", \"region\": \"nowhere\"}], \"shots\": [{"
                     "\"regions\": [{\"id\": \"1\", \"name\": \"head\", \"follows\": \"face\", "
                     "\"area\": [{\"kind\": \"whole\", \"joining\": \"add\"}]}], ");
        write("circle.retinex", text);
        const Outcome outcome = cli({"check", "circle.retinex"});
        QVERIFY2(outcome.out.contains("which is measured over the region \"head\". Each is taken") ||
                     outcome.out.contains("which follows \"face\". Each is taken"),
                 qPrintable(outcome.out));
        QVERIFY2(outcome.out.contains("region \"nowhere\", which no shot has"), qPrintable(outcome.out));
    }

    // Thousands of names in one file: all of them together cover the frame, and each is delivered by itself.
    void manyIdMattesAreOneArea()
    {
        QByteArray manifest = "{";
        QByteArray names;
        QByteArray mattes;
        for (int i = 0; i < 300; ++i) {
            const QByteArray name = "o" + QByteArray::number(i);
            const QByteArray between = i > 0 ? ", " : "";
            manifest +=
                between + '"' + name + "\": \"3f0" + QByteArray::number(i).rightJustified(5, '0') + '"';
            names += between + '\'' + name + '\'';
            mattes += between + "{'file': 'ids.exr', 'name': 'CryptoObject/" + name + "'}";
        }
        write("ids.json", manifest + "}");
        // 0.5 is 3f000000, the id of the first.
        test::runProgram("oiiotool",
                         {"--create", "16x8", "6", "--chnames", "R,G,B,Z,CryptoObject00.R,CryptoObject00.G",
                          "--addc", "0.2,0.2,0.2,3,0.5,1", "-d", "float", "--attrib:type=string",
                          "cryptomatte/1a2b3c4/name", "CryptoObject", "--attrib:type=string",
                          "cryptomatte/1a2b3c4/manif_file", "ids.json", "-o", "ids.exr"},
                         m_dir.path());
        writeProject("ids.retinex", "{'id': 'd', 'name': 'd', 'folder': 'ids', 'what': 'areas', "
                                    "'samples': 'float'}");
        QByteArray text = test::bytesOf(m_dir.filePath("ids.retinex"));
        text.replace("in.####.exr", "ids.exr").replace("\"last\": 2", "\"last\": 1");
        text.replace("\"channel\": \"Z\"}",
                     QByteArray("'channel': 'Z'}, 'mattes': [" + mattes + "]").replace('\'', '"'));
        text.replace("\"shots\": [{",
                     QByteArray("'shots': [{'regions': [{'id': '1', 'name': 'all', 'share': 0, "
                                "'area': [{'kind': 'mattes', 'joining': 'add', 'mattes': [" +
                                names + "]}]}], ")
                         .replace('\'', '"'));
        write("ids.retinex", text);
        const Outcome check = cli({"check", "ids.retinex"});
        QVERIFY2(check.exitCode == 0, qPrintable(check.err));
        const Outcome outcome = cli({"render", "ids.retinex", "--progress", "none"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        const QString made = files("ids").value(0);
        const QString header =
            test::runProgram("oiiotool", {"--stats", "-v", "ids/" + made}, m_dir.path()).out;
        QVERIFY2(header.contains("region.all") && header.contains("matte.o299"),
                 qPrintable(header.left(4000)));
        const auto most =
            header.section("Stats Max:", 1, 1).section('(', 0, 0).split(' ', Qt::SkipEmptyParts);
        QCOMPARE(std::ranges::count_if(most, [](const QString& v) { return v.toDouble() == 1.0; }),
                 std::ptrdiff_t(2)); // the region and the first
    }
};

QTEST_GUILESS_MAIN(TestCliTargets)
#include "test_cli_targets.moc"
