// Passes of other habits on the command line.
#include "core/passes/image_file.h"
#include "support/cli_folder.h"

#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTest>
#include <cmath>

using namespace retinex;
using retinex::test::Outcome;

class TestCliOtherHabits : public QObject, test::CliFolder
{
    Q_OBJECT

    QString path(const char* name) const { return m_dir.filePath(QLatin1String(name)); }
    void tool(const QStringList& arguments)
    {
        const Outcome outcome = test::runProgram("oiiotool", arguments, m_dir.path());
        if (outcome.exitCode != 0) qFatal("oiiotool: %s", qPrintable(outcome.err + outcome.out));
    }
    float at(const char* name, const char* channel, int x, int y) const
    {
        return passes::readChannels(path(name).toStdString(), 0, {channel}).planes[0].at(x, y);
    }
    Outcome defocus(const QStringList& more)
    {
        return cli(QStringList{"defocus"} + more + QStringList(lens()));
    }

private slots:
    void initTestCase() { writeFrames(); }

    void distancesBelowZeroAreARead()
    {
        tool({"in.0001.exr", "--ch", "R,G,B,A", "in.0001.exr", "--ch", "Z", "--mulc", "-1", "--chappend",
              "-d", "float", "-o", "below.exr"});
        for (const char* reading : {"below-zero", "auto"}) {
            const Outcome outcome = defocus({"--colour", "below.exr", "--depth", "below.exr", "--reading",
                                             reading, "--out", "blurred.exr", "--overwrite"});
            QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        }
        const Outcome plain = defocus(
            {"--colour", "in.0001.exr", "--depth", "in.0001.exr", "--out", "plain.exr", "--overwrite"});
        QCOMPARE(plain.exitCode, 0);
        QVERIFY(std::abs(at("blurred.exr", "R", 12, 30) - at("plain.exr", "R", 12, 30)) < 1e-3F);
    }

    void aDepthPassAloneCanBeLookedAt()
    {
        tool({"in.0001.exr", "--ch", "Z", "-d", "float", "-o", "alone.exr"});
        const Outcome probed = cli({"probe", "alone.exr", "--at", "32,24", "--json"});
        QVERIFY2(probed.exitCode == 0, qPrintable(probed.err));
        QCOMPARE(QJsonDocument::fromJson(probed.out.toUtf8()).object()["distance"].toDouble(), 2.0);
        const Outcome map = cli({"depthmap", "alone.exr", "--out", "alone.png"});
        QVERIFY2(map.exitCode == 0, qPrintable(map.err));
    }

    void aGreyRgbPassIsDepth()
    {
        tool({"--pattern", "fill:top=0.1:bottom=0.9", "64x48", "1", "--ch", "0,0,0", "--chnames", "R,G,B",
              "-d", "uint8", "-o", "grey.png"});
        tool({"--pattern", "noise:type=uniform:mono=0", "64x48", "3", "-d", "uint8", "-o", "colour.png"});
        const Outcome inspected = cli({"inspect", "grey.png"});
        QVERIFY2(inspected.out.contains("proposed reading: grey, near is"), qPrintable(inspected.out));
        const Outcome map = cli({"depthmap", "grey.png", "--reading", "near-bright", "--out", "map.png"});
        QVERIFY2(map.exitCode == 0, qPrintable(map.err));
        const Outcome probed =
            cli({"probe", "grey.png", "--at", "32,24", "--reading", "near-bright", "--json"});
        QVERIFY2(probed.exitCode == 0, qPrintable(probed.err));
        QVERIFY(QJsonDocument::fromJson(probed.out.toUtf8()).object()["distance"].toDouble() > 0.0);
        const Outcome blurred = defocus({"--colour", "colour.png", "--depth", "grey.png", "--reading",
                                         "near-bright", "--out", "from-grey.exr"});
        QVERIFY2(blurred.exitCode == 0, qPrintable(blurred.err));
        // Several files are looked at together, as the window does.
        const Outcome together = cli({"inspect", "colour.png", "grey.png", "--json"});
        const QJsonObject last = QJsonDocument::fromJson(together.out.toUtf8()).array().last().toObject();
        QCOMPARE(last["together"].toArray().size(), 2);
        QCOMPARE(last["together"].toArray()[1].toObject()["role"].toString(), QStringLiteral("depth pass"));
        QVERIFY(last["proposal"].toObject()["reading"].toString().startsWith("near-"));
    }

    void aStillIsHeldForFrames()
    {
        tool({"in.0001.exr", "-o", "still.exr"});
        const Outcome outcome = defocus(
            {"--colour", "still.exr", "--depth", "still.exr", "--frames", "1-3", "--out", "held.####.exr"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(QFile::exists(path("held.0003.exr")));
    }

    void mattesAreNamedForABackdrop()
    {
        tool({"in.0001.exr", "--ch", "R,G,B,Z", "-o", "opaque.exr"});
        const QStringList passes{"--colour", "opaque.exr", "--depth", "opaque.exr", "--backdrop", "0,0,5"};
        const Outcome unseen = defocus(passes + QStringList{"--out", "unseen.exr"});
        QVERIFY2(unseen.exitCode == 0 && unseen.err.contains("The backdrop is seen nowhere"),
                 qPrintable(unseen.err));
        for (const char* name : {"left", "right"})
            tool({"--pattern",
                  QStringLiteral("fill:left=%1:right=%2")
                      .arg(name[0] == 'l' ? 1 : 0)
                      .arg(name[0] == 'l' ? 0 : 1),
                  "64x48", "1", "-d", "half", "--chnames", "Y", "-o", QStringLiteral("%1.exr").arg(name)});
        const QStringList two =
            passes + QStringList{"--mattes", "left.exr", "--mattes", "right.exr", "--open-by", "mattes"};
        const Outcome none = defocus(two + QStringList{"--out", "none.exr"});
        QVERIFY2(none.err.contains("no matte is chosen"), qPrintable(none.err));
        const Outcome chosen = defocus(two + QStringList{"--open-mattes", "left", "--out", "chosen.exr"});
        QVERIFY2(chosen.exitCode == 0 && !chosen.err.contains("nowhere"), qPrintable(chosen.err));
        QVERIFY(at("chosen.exr", "B", 60, 24) > at("chosen.exr", "B", 4, 24) + 1.0F);
    }

    // OpenColorIO's configurations, file rules: the studio says what its renders are in.
    void theStudiosFileRulesSayTheColourSpace()
    {
        tool({"--pattern", "noise:type=uniform:mono=0", "32x16", "3", "-d", "half", "-o", "render.exr"});
        QVERIFY(cli({"inspect", "render.exr"}).out.contains("taken as Linear Rec.709"));
        QFile shipped(QStringLiteral(RETINEX_RESOURCES "/config.ocio"));
        QVERIFY(shipped.open(QIODevice::ReadOnly));
        QByteArray text = shipped.readAll();
        QVERIFY(text.contains("file_rules:\n"));
        text.replace(
            "file_rules:\n",
            "file_rules:\n  - !<Rule> {name: Renders, colorspace: ACES2065-1, pattern: \"*render*\", "
            "extension: exr}\n");
        QFile studio(path("studio.ocio"));
        QVERIFY(studio.open(QIODevice::WriteOnly));
        studio.write(text);
        studio.close();
        qputenv("OCIO", path("studio.ocio").toUtf8());
        const Outcome inspected = cli({"inspect", "render.exr"});
        qunsetenv("OCIO");
        QVERIFY2(inspected.out.contains("taken as ACES2065-1"), qPrintable(inspected.out + inspected.err));
    }

    void aProjectOutOfRangeRendersAndIsTold()
    {
        QFile file(path("odd.retinex"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(
            R"({"format": 3, "passes": {"colour": {"file": "in.0001.exr"}}, "frames": {"first": 1, "last": 2},
                   "shots": [{"reading": {"storedLow": 0, "storedHigh": -1, "reversed": false},
                              "lens": {"fStop": 9000}, "focus": {"distance": 2}}]})");
        file.close();
        const Outcome outcome = cli({"render", "odd.retinex", "--frames", "1"});
        QVERIFY2(outcome.exitCode == 0 && outcome.err.contains("f-stop"), qPrintable(outcome.err));
    }
};

QTEST_GUILESS_MAIN(TestCliOtherHabits)
#include "test_cli_other_habits.moc"
