// Every command of the manual and the README is run, with every option that they show.
#include "cli/documented_commands.h"
#include "support/cli_folder.h"
#include "support/gltf_scene.h"

#include <QProcess>
#include <QTest>

using namespace retinex;

class TestCliManual : public QObject, public test::CliFolder
{
    Q_OBJECT

    /// What the words in capitals stand for, and "..." after *defocus*.
    static QString filledIn(QString command)
    {
        const std::pair<const char*, const char*> stand[] = {
            {"PROJECT.retinex", "PROJECT"},
            {"PROJECT", "shot.retinex"},
            {"FILE[:CHANNEL]", "can.exr:matte.can"},
            {"FILE:CHANNEL", "can.exr:matte.can"},
            {"--mattes FILE", "--mattes can.exr"},
            {"FILE.png", "small.png"},
            {"FILE...", "can.0001.exr"},
            {"FILE", "can.0001.exr"},
            {"SCENE.gltf", "scene.gltf"},
            {"--point NAME", "--point can"},
            {"--camera NAME", "--camera main"},
            {"--delivery NAME", "--delivery frames"},
            {"--frame N --fps F", "--frame 2 --fps 24"},
            {"--at X,Y", "--at 10,30"},
            {"--nearest D --farthest D", "--nearest 1 --farthest 9"},
            {"--chunk N", "--chunk 10"},
            {"--threads N", "--threads 1"},
            {"--partition P", "--partition render"},
            {"--frames LIST", "--frames 1-2"},
            {"--out DIR", "--out elsewhere"},
            {"--gaps D", "--gaps 30"},
            {"--ends A,B", "--ends 0.5,20"},
            {"PX", "20"}};
        for (const auto& [word, what] : stand)
            command.replace(QLatin1String(word), QLatin1String(what));
        if (command.contains(QStringLiteral(" defocus ")) && !command.contains(QStringLiteral("--colour")))
            command +=
                QStringLiteral(" --colour can.0001.exr --depth can.0001.exr:Z --out out/can.exr --focus 2 "
                               "--fstop 1.4 --focal-length 40 --sensor-width 36");
        else if (command.contains(QStringLiteral("photo.png")))
            command += QStringLiteral(" --focus 2 --fstop 1.4 --focal-length 40 --sensor-width 36");
        if (command.contains(QStringLiteral(" submit "))) command += QStringLiteral(" --dry-run");
        if (command.contains(QStringLiteral(" submit "))) command.remove(QStringLiteral("--wait"));
        return command.simplified();
    }
    void clear()
    {
        for (const char* folder : {"out", "elsewhere", "shot-frames", "shot-review",
                                   "greenhouse_evening-frames", "greenhouse_evening-review"})
            QDir(m_dir.filePath(QLatin1String(folder))).removeRecursively();
        for (const char* file : {"map.png", "pair.png", "small.png", "pair_depth.png", "out.exr"})
            QFile::remove(m_dir.filePath(QLatin1String(file)));
    }

private slots:
    void initTestCase()
    {
        const auto tool = [&](const QStringList& arguments) {
            const auto made = test::runProgram("oiiotool", arguments, m_dir.path());
            QVERIFY2(made.exitCode == 0, qPrintable(made.err + made.out));
        };
        test::writeScene(m_dir.filePath("can.0001.exr").toStdString());
        for (int frame = 2; frame <= 48; ++frame)
            QVERIFY(QFile::copy(m_dir.filePath("can.0001.exr"),
                                m_dir.filePath(QString("can.%1.exr").arg(frame, 4, 10, QChar('0')))));
        QVERIFY(QFile::copy(m_dir.filePath("can.0001.exr"), m_dir.filePath("in.exr")));
        tool({"--pattern", "constant:color=1", "64x48", "1", "--chnames", "matte.can", "-o", "can.exr"});
        tool({"--pattern", "constant:color=1", "64x48", "1", "-o", "sign.exr"});
        tool({"--pattern", "constant:color=0.2,0.3,0.5", "96x64", "3", "-o", "sky.exr"});
        tool({"--pattern", "constant:color=0.3,0.2,0.1", "32x32", "3", "-o", "soil.exr"});
        tool({"--pattern", "constant:color=0.5,0.5,0.5,1", "32x32", "4", "-d", "uint8", "-o", "card.png"});
        tool({"--pattern", "noise", "1920x1080", "3", "-d", "uint8", "-o", "photo.png"});
        QFile cube(m_dir.filePath("evening.cube"));
        QVERIFY(cube.open(QIODevice::WriteOnly));
        cube.write("LUT_3D_SIZE 2\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n");
        for (const char* name : {"shot.retinex", "greenhouse_evening.retinex"}) {
            QFile project(m_dir.filePath(QLatin1String(name)));
            QVERIFY(project.open(QIODevice::WriteOnly));
            project.write(R"({"format": 3, "passes": {"colour": {"file": "can.####.exr"}},
                "frames": {"first": 1, "last": 48},
                "deliveries": [{"id": "1", "name": "frames", "frames": "1-3"},
                               {"id": "2", "name": "review", "file": "png", "samples": "8"}]})");
        }
        QFile scene(m_dir.filePath("scene.gltf"));
        QVERIFY(scene.open(QIODevice::WriteOnly));
        scene.write(test::gltfScene());
    }
    void everyCommandRuns_data()
    {
        QTest::addColumn<QString>("command");
        const QDir manual(QStringLiteral(RETINEX_DOCS "/manual"));
        QStringList pages{QStringLiteral(RETINEX_DOCS "/../README.md")};
        for (const QString& page : manual.entryList({"*.md"}, QDir::Files, QDir::Name))
            pages << manual.filePath(page);
        int count = 0;
        for (const QString& page : pages)
            for (const auto& [name, text] : test::commandsIn(page, QStringLiteral("retinex-cli")))
                for (const QString& reading : test::readingsOf(text)) {
                    const QString command = filledIn(reading);
                    QTest::newRow(qPrintable(name + QStringLiteral(": ") + command)) << command;
                    ++count;
                }
        QVERIFY(count > 50);
    }
    void everyCommandRuns()
    {
        QFETCH(QString, command);
        clear();
        const QRegularExpression placeholder(
            "(^|[ =,])(FILE|PROJECT|SCENE|NAME|LIST|DIR|[A-Z])(?=[ .,]|$)|CHANNEL|[|\\[\\]]");
        QVERIFY2(!command.contains(placeholder), qPrintable("not filled in: " + command));
        QStringList arguments = QProcess::splitCommand(command.replace(QLatin1Char('\''), QLatin1Char('"')));
        arguments.removeFirst();
        const auto run = cli(arguments);
        QVERIFY2(run.exitCode == 0, qPrintable(command + QLatin1Char('\n') + run.err));
    }
};

QTEST_MAIN(TestCliManual)
#include "test_cli_manual.moc"
