#include "core/passes/exr_file.h"
#include "support/test_files.h"

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTest>
#include <cmath>

using namespace retinex;
using retinex::test::Outcome;

class TestCli : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;

    Outcome cli(const QStringList& arguments) const { return test::runProgram(RETINEX_CLI, arguments, m_dir.path()); }
    static QStringList lens() { return {"--focus", "2", "--fstop", "0.7", "--focal-length", "50", "--sensor-width", "36"}; }
    QStringList files(const QString& folder) const { return QDir(m_dir.filePath(folder)).entryList(QDir::Files | QDir::Hidden, QDir::Name); }

private slots:
    void initTestCase()
    {
        for (const int frame : {1, 2, 4})
            test::writeScene(m_dir.filePath(QStringLiteral("in.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))).toStdString());
    }

    void wrongUsageIsExitCodeTwo()
    {
        for (const QStringList& arguments : {QStringList{}, QStringList{"fly"}, QStringList{"optics", "--fstop", "2"}, QStringList{"defocus", "--unit", "parsec"}}) {
            const Outcome outcome = cli(arguments);
            QCOMPARE(outcome.exitCode, 2);
            QVERIFY(!outcome.err.isEmpty() && outcome.out.isEmpty());
        }
        QCOMPARE(cli({"--help"}).exitCode, 0);
    }

    void opticsPrintsTheHandbookNumbers()
    {
        const Outcome outcome = cli({"optics", "--focal-length", "50", "--fstop", "8", "--focus", "3", "--json"});
        QCOMPARE(outcome.exitCode, 0);
        const QJsonObject json = QJsonDocument::fromJson(outcome.out.toUtf8()).object();
        QVERIFY(std::abs(json["hyperfocal"].toDouble() - 10.467) < 0.001); // see test_optics
        // near = s (H - f) / (H + s - 2 f), far = s (H - f) / (H - s), by hand with H = 10.46667 m.
        QVERIFY(std::abs(json["nearLimit"].toDouble() - 3 * 10.41667 / 13.36667) < 1e-4);
        QVERIFY(std::abs(json["farLimit"].toDouble() - 3 * 10.41667 / 7.46667) < 1e-4);
        QVERIFY(cli({"optics", "--focal-length", "50", "--fstop", "8", "--focus", "10", "--unit", "ft"}).out.contains("ft"));
        const Outcome wrong = cli({"optics", "--focal-length", "50", "--fstop", "8", "--focus", "0.01"});
        QCOMPARE(wrong.exitCode, 1);
        QVERIFY(wrong.err.contains("focus distance"));
    }

    void inspectTellsWhatIsThere()
    {
        const Outcome outcome = cli({"inspect", "in.0001.exr", "--json"});
        QCOMPARE(outcome.exitCode, 0);
        const QJsonObject file = QJsonDocument::fromJson(outcome.out.toUtf8()).array()[0].toObject();
        QCOMPARE(file["sequence"].toObject()["missing"].toArray()[0].toInt(), 3);
        const QJsonObject depth = file["depth"].toArray()[0].toObject();
        QCOMPARE(depth["nearest"].toDouble(), 2.0);
        QCOMPARE(depth["farthest"].toDouble(), 6.0);
        QCOMPARE(depth["gaps"].toInt(), 64 * 12);
        QCOMPARE(file["parts"].toArray()[0].toObject()["channels"].toArray().size(), 5);
        const Outcome missing = cli({"inspect", "none.exr", "in.0002.exr"});
        QCOMPARE(missing.exitCode, 1);
        QVERIFY(missing.err.contains("none.exr") && missing.out.contains("in.0002.exr"));
    }

    void probeReadsAPixel()
    {
        const Outcome outcome = cli({"probe", "in.0002.exr", "--at", "32,24", "--json"});
        QCOMPARE(outcome.exitCode, 0);
        const QJsonObject json = QJsonDocument::fromJson(outcome.out.toUtf8()).object();
        QCOMPARE(json["distance"].toDouble(), 2.0);
        QVERIFY(std::abs(json["rgba"].toArray()[0].toDouble() - 0.9) < 1e-3);
        QVERIFY(cli({"probe", "in.0002.exr", "--at", "3,3"}).out.contains("gap"));
        QCOMPARE(cli({"probe", "in.0002.exr", "--at", "900,3"}).exitCode, 1);
        QCOMPARE(cli({"probe", "in.0002.exr", "--at", "left"}).exitCode, 1);
    }

    void defocusWritesAStillAndASequence()
    {
        QCOMPARE(cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "in.0001.exr:Z", "--out", "one.exr"} + lens()).exitCode, 0);
        const auto planes = passes::readExrChannels(m_dir.filePath("one.exr").toStdString(), 0, {"R"}).planes;
        QVERIFY(std::abs(planes[0].at(32, 24) - 0.9F) < 0.01F); // the square is in focus
        const Outcome sequence = cli(QStringList{"defocus", "--colour", "in.####.exr", "--depth", "in.%04d.exr", "--out", "seq/f.####.exr", "--progress", "json"} + lens());
        QCOMPARE(sequence.exitCode, 1); // frame 3 is missing; the others go on
        QCOMPARE(files("seq"), (QStringList{"f.0001.exr", "f.0002.exr", "f.0004.exr"}));
        QVERIFY(sequence.err.contains("\"frame\":3") && sequence.err.contains("in.0003.exr"));
        QCOMPARE(cli(QStringList{"defocus", "--colour", "in.####.exr", "--depth", "in.####.exr", "--out", "part/f.####.exr", "--frames", "1-2", "--threads", "1"} + lens()).exitCode, 0);
        QCOMPARE(test::bytesOf(m_dir.filePath("part/f.0001.exr")), test::bytesOf(m_dir.filePath("seq/f.0001.exr")));
        QCOMPARE(test::bytesOf(m_dir.filePath("one.exr")), test::bytesOf(m_dir.filePath("seq/f.0001.exr")));
    }

    void defocusNamesWhatIsWrong()
    {
        const QByteArray before = test::bytesOf(m_dir.filePath("in.0001.exr"));
        const Outcome over = cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "in.0001.exr", "--out", "in.0001.exr"} + lens());
        QCOMPARE(over.exitCode, 1);
        QVERIFY(over.err.contains("input files") && over.err.count('\n') == 1);
        QCOMPARE(test::bytesOf(m_dir.filePath("in.0001.exr")), before);
        test::writeScene(m_dir.filePath("small.exr").toStdString(), 32, 24);
        QVERIFY(cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "small.exr", "--out", "x.exr"} + lens()).err.contains("32 x 24"));
        QVERIFY(cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "in.0001.exr:fog", "--out", "x.exr"} + lens()).err.contains("fog"));
        QVERIFY(!QFile::exists(m_dir.filePath("x.exr")));
    }

    void renderDoesAProject()
    {
        QFile file(m_dir.filePath("shot.retinex"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(R"({"format": 1, "passes": {"colour": {"file": "in.####.exr", "layer": ""}}, "frames": {"first": 1, "last": 2},
                       "lens": {"fStop": 0.7, "focalLengthMm": 50, "sensorWidthMm": 36}, "focus": {"distance": 2}})");
        file.close();
        QCOMPARE(cli({"render", "shot.retinex", "--out", "frames"}).exitCode, 0);
        QCOMPARE(files("frames"), (QStringList{"shot.0001.exr", "shot.0002.exr"}));
        QCOMPARE(test::bytesOf(m_dir.filePath("frames/shot.0001.exr")), test::bytesOf(m_dir.filePath("one.exr")));
        QCOMPARE(cli({"render", "absent.retinex"}).exitCode, 1);
    }
};

QTEST_GUILESS_MAIN(TestCli)
#include "test_cli.moc"
