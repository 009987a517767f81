#include "core/passes/exr/exr_file.h"
#include "core/passes/image_file.h"
#include "support/cli_folder.h"
#include "support/gltf_scene.h"

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QRegularExpression>
#include <QTest>
#include <cmath>

using namespace retinex;
using retinex::test::Outcome;

class TestCli : public QObject, test::CliFolder
{
    Q_OBJECT

private slots:
    void initTestCase() { writeFrames(); }

    void opticsPrintsTheHandbookNumbers()
    {
        const Outcome outcome = cli({"optics", "--focal-length", "50", "--fstop", "8", "--focus", "3",
                                     "--framing", "physical", "--json"});
        QCOMPARE(outcome.exitCode, 0);
        const QJsonObject json = QJsonDocument::fromJson(outcome.out.toUtf8()).object();
        QVERIFY(std::abs(json["hyperfocal"].toDouble() - 10.467) < 0.001); // see test_optics
        // near = s (H - f) / (H + s - 2 f), far = s (H - f) / (H - s), by hand with H = 10.46667 m.
        QVERIFY(std::abs(json["nearLimit"].toDouble() - 3 * 10.41667 / 13.36667) < 1e-4);
        QVERIFY(std::abs(json["farLimit"].toDouble() - 3 * 10.41667 / 7.46667) < 1e-4);
        QVERIFY(cli({"optics", "--focal-length", "50", "--fstop", "8", "--focus", "10", "--unit", "ft"})
                    .out.contains("ft"));
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

    void inspectProposesAReadingWithReasonsAndFindings()
    {
        const Outcome outcome =
            cli({"inspect", QStringLiteral(RETINEX_DEMO "/greenhouse.0010.exr"), "--json"});
        QCOMPARE(outcome.exitCode, 0);
        const QJsonObject file = QJsonDocument::fromJson(outcome.out.toUtf8()).array()[0].toObject();
        const QJsonObject proposal = file["depth"].toArray()[0].toObject()["proposal"].toObject();
        QCOMPARE(proposal["reading"].toString(), QStringLiteral("distance"));
        QVERIFY(proposal["sure"].toBool() && proposal["reasons"].toArray().size() >= 2);
        QVERIFY(proposal["gaps"].toObject()["zero"].toBool());
        QCOMPARE(file["mattes"].toArray().size(), 4);
        QCOMPARE(file["camera"].toObject()["framesPerSecond"].toDouble(), 24.0);
        QStringList keys;
        for (const auto& finding : file["findings"].toArray())
            keys.append(finding.toObject()["key"].toString());
        QVERIFY2(keys.contains("zero-gaps") && !keys.contains("exchanged"), qPrintable(keys.join(' ')));
        QVERIFY(cli({"inspect", QStringLiteral(RETINEX_DEMO "/greenhouse.0010.exr")})
                    .out.contains("plane, sure: "));
    }

    // A guard keeps the source where its matte is, a patch in focus too; a ramp alone is all the depth there
    // is.
    void insertsWorkOnTheCommandLine()
    {
        const QString frame = QStringLiteral(RETINEX_DEMO "/greenhouse.0040.exr");
        const auto defocus = [&](const QString& out, QStringList more) {
            return cli(QStringList{"defocus", "--colour", frame, "--depth", frame + ":Z", "--out",
                                   m_dir.filePath(out), "--focus", "2.1", "--fstop", "2.8", "--focal-length",
                                   "55", "--sensor-width", "36"} +
                       more);
        };
        const auto plane = [&](const QString& out, const char* channel) {
            return passes::readExrChannels(m_dir.filePath(out).toStdString(), 0, {channel}).planes.front();
        };
        QCOMPARE(defocus("bare.exr", {}).exitCode, 0);
        QVERIFY(plane("bare.exr", "A").at(300, 20) < 0.5F); // open
        Outcome outcome = defocus("sky.exr", {"--backdrop", "#ff0000@40"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(plane("sky.exr", "A").at(300, 20) > 0.999F);
        QVERIFY(plane("sky.exr", "R").at(300, 20) > 0.5F && plane("sky.exr", "G").at(300, 20) < 0.2F);
        const QString soil = QStringLiteral(RETINEX_DEMO "/soil.exr");
        outcome =
            defocus("soil.exr", {"--insert", soil + "@320,180,300@1.5", "--backdrop",
                                 QStringLiteral(RETINEX_DEMO "/night_sky.exr"), "--backdrop-fit", "whole"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(plane("soil.exr", "R").at(320, 180) < 0.2F);
        outcome =
            defocus("flat.exr", {"--insert-corners", soil + "@300,250,420,250,440,300,280,300@surface"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        // What is wrong is said, with what fits.
        for (const auto& [option, value, word] :
             {std::tuple{"--insert", soil + "@1,2@3", "X,Y,WIDTH"},
              {"--insert", soil + "@1,2,30@-1", "above 0"},
              {"--insert-corners", soil + "@0,0,10,10,10,0,0,10@2", "cross"},
              {"--backdrop", QStringLiteral("nowhere.exr"), "nowhere.exr"}}) {
            outcome = defocus("none.exr", {QLatin1String(option), value});
            QVERIFY2(outcome.exitCode == 1 && outcome.err.contains(word), qPrintable(outcome.err));
            QVERIFY(!QFile::exists(m_dir.filePath("none.exr")));
        }
        outcome =
            cli({"check", QStringLiteral(RETINEX_DEMO "/greenhouse_night.retinex"), "--out", m_dir.path()});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err + outcome.out));
    }

    void finishWorksOnTheCommandLine()
    {
        const QString frame = QStringLiteral(RETINEX_DEMO "/greenhouse.0040.exr");
        const auto defocus = [&](const QString& out, QStringList more) {
            return cli(QStringList{"defocus", "--colour", frame, "--depth", frame + ":Z", "--out",
                                   m_dir.filePath(out), "--focus", "2.1", "--fstop", "8", "--focal-length",
                                   "55", "--sensor-width", "36"} +
                       more);
        };
        const auto plane = [&](const QString& out, const char* channel) {
            return passes::readExrChannels(m_dir.filePath(out).toStdString(), 0, {channel}).planes.front();
        };
        const auto sum = [&](const QString& out, const char* channel) {
            const Plane<float> values = plane(out, channel);
            double all = 0.0;
            for (const float value : values.pixels())
                all += static_cast<double>(value);
            return all;
        };
        QCOMPARE(defocus("fin_plain.exr", {}).exitCode, 0);
        Outcome outcome = defocus("fin_brighter.exr", {"--exposure", "1"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(std::abs(sum("fin_brighter.exr", "G") / sum("fin_plain.exr", "G") - 2.0) < 0.01);
        QVERIFY(std::abs(sum("fin_brighter.exr", "A") / sum("fin_plain.exr", "A") - 1.0) < 1e-6);
        outcome = defocus("fin_glow.exr", {"--glow", "0.5", "--glow-level", "1", "--glow-radius", "0.1"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(sum("fin_glow.exr", "R") > 1.02 * sum("fin_plain.exr", "R"));
        QFile cube(m_dir.filePath("half.cube"));
        QVERIFY(cube.open(QIODevice::WriteOnly));
        cube.write("LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n");
        cube.close();
        const auto withLook = [&](const QString& strength) {
            return defocus("fin_look.exr", {"--look", cube.fileName() + strength, "--look-space",
                                            "scene_linear", "--overwrite"});
        };
        outcome = withLook("=1");
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        // Half the light, up to the table's end.
        QVERIFY(std::abs(plane("fin_look.exr", "G").at(320, 330) -
                         0.5F * plane("fin_plain.exr", "G").at(320, 330)) < 1e-3F);
        QCOMPARE(withLook("=0").exitCode, 0);
        QVERIFY(std::abs(sum("fin_look.exr", "G") / sum("fin_plain.exr", "G") - 1.0) < 1e-6);
        // The same grain again, and another one with another seed.
        for (const char* out : {"fin_one.exr", "fin_same.exr"})
            QCOMPARE(defocus(out, {"--grain", "0.02", "--grain-size", "1.5"}).exitCode, 0);
        QCOMPARE(defocus("fin_other.exr", {"--grain", "0.02", "--grain-size", "1.5", "--grain-seed", "2"})
                     .exitCode,
                 0);
        QCOMPARE(sum("fin_one.exr", "G"), sum("fin_same.exr", "G"));
        QVERIFY(plane("fin_one.exr", "G").at(320, 330) != plane("fin_other.exr", "G").at(320, 330));
        QVERIFY(std::abs(sum("fin_one.exr", "G") / sum("fin_plain.exr", "G") - 1.0) < 2e-3);
        QCOMPARE(defocus("fin_off.exr", {"--exposure", "1", "--no-finish"}).exitCode, 0);
        QCOMPARE(sum("fin_off.exr", "G"), sum("fin_plain.exr", "G"));
        // What is wrong is said, before anything is written.
        for (const auto& [option, value, word] :
             {std::tuple{"--look", QStringLiteral("nowhere.cube"), "nowhere.cube"},
              {"--look", cube.fileName() + "=3", "from 0 to 1"},
              {"--glow-radius", QStringLiteral("7"), "0.001 to 0.5"},
              {"--contrast", QStringLiteral("0"), "0.05 to 4"}}) {
            outcome = defocus("fin_none.exr", {QLatin1String(option), value});
            QVERIFY2(outcome.exitCode != 0 && outcome.err.contains(word),
                     qPrintable(QLatin1String(option) + outcome.err + outcome.out));
            QVERIFY(!QFile::exists(m_dir.filePath("fin_none.exr")));
        }
        const QString evening = QStringLiteral(RETINEX_DEMO "/greenhouse_evening.retinex");
        outcome = cli({"check", evening, "--out", m_dir.path()});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err + outcome.out));
        for (const char* folder : {"finished", "unfinished"}) {
            QStringList arguments{"render",   evening, "--delivery", "frames",
                                  "--frames", "30-30", "--out",      m_dir.filePath(folder)};
            if (QByteArray(folder) == "unfinished") arguments << "--no-finish";
            outcome = cli(arguments);
            QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        }
        QVERIFY(sum("finished/greenhouse_evening.0030.exr", "R") !=
                sum("unfinished/greenhouse_evening.0030.exr", "R"));
    }

    // t = (d - n) / (f - n) and the like, read back by another library; pairs; what is wrong is said.
    void depthMapsAndThumbnails()
    {
        const QString frame = QStringLiteral(RETINEX_DEMO "/greenhouse.0040.exr");
        const auto plane = [&](const QString& file, const char* channel) {
            return passes::readChannels(m_dir.filePath(file).toStdString(), 0, {channel}).planes.front();
        };
        const auto map = [&](const QString& out, QStringList more) {
            return cli(QStringList{"depthmap", frame + ":Z", "--out", m_dir.filePath(out)} + more);
        };
        const float z = passes::readExrChannels(frame.toStdString(), 0, {"Z"}).planes.front().at(330, 320);
        QVERIFY(z > 0.5F && z < 10.0F);
        Outcome outcome =
            map("map.png", {"--near", "dark", "--spacing", "distance", "--ends", "0.5,10", "--bits", "16"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(std::abs(plane("map.png", "Y").at(330, 320) - (z - 0.5F) / 9.5F) <= 0.5F / 65535.0F + 1e-6F);
        QVERIFY(map("map.png", {}).err.contains("--overwrite"));
        outcome = map("map.exr", {"--bits", "float", "--ends", "0.5,inf"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(std::abs(plane("map.exr", "Y").at(330, 320) - (1.0F - (2.0F - 1.0F / z) / 2.0F)) < 1e-6F);
        outcome = map("pair.png", {"--pair", "side"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        const Plane<float> red = plane("pair.png", "R");
        QCOMPARE(red.width(), 1280);
        QVERIFY(red.at(330, 320) > plane("pair.png", "B").at(330, 320));             // terracotta on the left
        QCOMPARE(red.at(640 + 330, 320), plane("pair.png", "B").at(640 + 330, 320)); // a grey on the right
        QCOMPARE(map("two.png", {"--pair", "separate"}).exitCode, 0);
        QVERIFY(QFile::exists(m_dir.filePath("two_colour.png")));
        for (const auto& [more, word] : {std::pair{QStringList{"--ends", "5,2"}, "before"},
                                         {QStringList{"--ends", "x"}, "A,B"},
                                         {QStringList{"--bits", "half"}, "PNG"}}) {
            outcome = map("none.png", more);
            QVERIFY2(outcome.exitCode == 1 && outcome.err.contains(word), qPrintable(outcome.err));
            QVERIFY(!QFile::exists(m_dir.filePath("none.png")));
        }
        outcome = cli({"thumbnail", QStringLiteral(RETINEX_DEMO "/greenhouse_can.retinex"),
                       m_dir.filePath("small"), "--size", "128"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(QFile::copy(m_dir.filePath("small"), m_dir.filePath("small.png")));
        const Plane<float> small = plane("small.png", "G");
        QVERIFY(small.width() <= 128 && small.width() >= 64 && small.height() < small.width());
    }

    void deliveriesOnTheCommandLine()
    {
        const QString evening = QStringLiteral(RETINEX_DEMO "/greenhouse_evening.retinex");
        const auto render = [&](QStringList more) {
            return cli(QStringList{"render", evening, "--progress", "json"} + more);
        };
        Outcome outcome =
            render({"--delivery", "contact prints", "--frames", "5,20", "--out", m_dir.filePath("prints")});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY(QFile::exists(m_dir.filePath("prints/greenhouse_evening.0005.jpg")));
        QVERIFY(QFile::exists(m_dir.filePath("prints/greenhouse_evening.0020.jpg")));
        // Each line is JSON, as documented.
        int frames = 0;
        for (const QString& line : outcome.err.split(QLatin1Char('\n'), Qt::SkipEmptyParts)) {
            const QJsonObject object = QJsonDocument::fromJson(line.toUtf8()).object();
            QVERIFY2(!object.isEmpty(), qPrintable(line));
            if (!object.contains("frame")) continue;
            ++frames;
            QCOMPARE(object["of"].toInt(), 2);
            QVERIFY(object["file"].toString().endsWith(".jpg"));
        }
        QCOMPARE(frames, 2);
        outcome =
            render({"--delivery", "contact prints", "--frames", "5,20", "--out", m_dir.filePath("prints")});
        QVERIFY2(outcome.exitCode == 1 && outcome.err.contains("--resume"), qPrintable(outcome.err));
        QCOMPARE(render({"--delivery", "contact prints", "--frames", "5,20", "--out",
                         m_dir.filePath("prints"), "--resume"})
                     .exitCode,
                 0);
        outcome = render({"--delivery", "plates"});
        QVERIFY2(outcome.exitCode == 1 && outcome.err.contains("review"), qPrintable(outcome.err));
        outcome = cli({"render", QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"), "--delivery", "plates"});
        QVERIFY2(outcome.exitCode == 1 && outcome.err.contains("none at all"), qPrintable(outcome.err));
        // Without a farm it is said; a dry run needs none.
        outcome = cli({"submit", evening, "--delivery", "frames", "--chunk", "10", "--out",
                       m_dir.filePath("farm"), "--dry-run"});
        QVERIFY2(outcome.exitCode == 0 && outcome.out.contains("--array=0-2"),
                 qPrintable(outcome.out + outcome.err));
        QVERIFY(QFile::exists(m_dir.filePath("farm/.retinex/farm/chunks.sh")));
    }

    void regionsWorkOnTheCommandLine()
    {
        const QString frame = QStringLiteral(RETINEX_DEMO "/greenhouse.0040.exr");
        const auto defocus = [&](const QString& out, QStringList more) {
            return cli(QStringList{"defocus", "--colour", frame, "--out", m_dir.filePath(out), "--focus",
                                   "1.1", "--fstop", "1.4", "--focal-length", "60", "--sensor-width", "36"} +
                       more);
        };
        const auto green = [&](const QString& file, const char* channel = "G") {
            return passes::readExrChannels(file.toStdString(), 0, {channel}).planes.front();
        };
        const Plane<float> source = green(frame);
        const Plane<float> matte = green(frame, "matte.orchids");
        const auto offInside =
            [&](const QString& out) { // the largest, where the matte is whole for 6 px around
                const Plane<float> made = green(m_dir.filePath(out));
                float most = 0.0F;
                for (int y = 6; y < made.height() - 6; ++y)
                    for (int x = 6; x < made.width() - 6; ++x) {
                        bool whole = true;
                        for (int dy = -6; dy <= 6 && whole; dy += 3)
                            for (int dx = -6; dx <= 6 && whole; dx += 3)
                                whole = matte.at(x + dx, y + dy) >= 1.0F;
                        if (whole) most = std::max(most, std::abs(made.at(x, y) - source.at(x, y)));
                    }
                return most;
            };
        const QStringList depth{"--depth", frame + ":Z"};
        QCOMPARE(defocus("plain.exr", depth).exitCode, 0);
        QVERIFY(offInside("plain.exr") > 0.05F);
        Outcome outcome = defocus("guard.exr", depth + QStringList{"--guard", frame + ":matte.orchids"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        QVERIFY2(offInside("guard.exr") < 0.5F * offInside("plain.exr"),
                 qPrintable(QString::number(offInside("guard.exr"))));
        QCOMPARE(defocus("patch.exr", depth + QStringList{"--patch", frame + ":matte.orchids=1.1"}).exitCode,
                 0);
        QVERIFY(offInside("patch.exr") < 0.5F * offInside("plain.exr"));
        // By hand: without --depth.
        outcome = defocus("ramp.exr", {"--ramp", "320,360=1.1,320,60=20"});
        QVERIFY2(outcome.exitCode == 0, qPrintable(outcome.err));
        const Plane<float> ramp = green(m_dir.filePath("ramp.exr"));
        float lower = 0.0F;
        float upper = 0.0F;
        for (int x = 100; x < 540; ++x) {
            lower = std::max(lower, std::abs(ramp.at(x, 357) - source.at(x, 357)));
            upper = std::max(upper, std::abs(ramp.at(x, 100) - source.at(x, 100)));
        }
        QVERIFY2(upper > 3.0F * lower, qPrintable(QStringLiteral("%1 %2").arg(upper).arg(lower)));
        // What does not fit is said, with the option or the file.
        outcome = defocus("no.exr", {});
        QVERIFY(outcome.exitCode == 1 && outcome.err.contains("--ramp"));
        outcome = defocus("no.exr", {"--ramp", "1,2=3"});
        QVERIFY(outcome.exitCode == 1 && outcome.err.contains("X1,Y1=D1,X2,Y2=D2"));
        outcome = defocus("no.exr", depth + QStringList{"--patch", frame + "=-2"});
        QVERIFY(outcome.exitCode == 1 && outcome.err.contains("above 0"));
        outcome = defocus("no.exr", depth + QStringList{"--guard", "/nowhere/m.exr"});
        QVERIFY(outcome.exitCode == 1 && outcome.err.contains("/nowhere/m.exr"));
        outcome = defocus("no.exr", depth + QStringList{"--guard-share", "0.5"});
        QVERIFY(outcome.exitCode == 1 && outcome.err.contains("--guard FILE"));
        QCOMPARE(defocus("no.exr", depth + QStringList{"--guard", frame, "--guard-share", "7"}).exitCode, 2);
        QVERIFY(!QFile::exists(m_dir.filePath("no.exr")));
    }

    // 8-bit grey written by oiiotool from known distances: 6 m is 0.5 between 2 and 10.
    void readingsWorkOnTheCommandLine()
    {
        QCOMPARE(test::runProgram(
                     "oiiotool",
                     {"--pattern", "constant:color=0.5", "8x8", "1", "-d", "uint16", "-o", "grey.png"},
                     m_dir.path())
                     .exitCode,
                 0);
        const auto distance = [&](const QStringList& options) {
            const Outcome outcome = cli(QStringList{"probe", "grey.png", "--at", "3,3", "--json"} + options);
            return QJsonDocument::fromJson(outcome.out.toUtf8()).object()["distance"].toDouble();
        };
        const QStringList ends{"--nearest", "2", "--farthest", "10"};
        QVERIFY(std::abs(distance(QStringList{"--reading", "near-bright"} + ends) - 6.0) < 0.01);
        QVERIFY(std::abs(distance(QStringList{"--reading", "near-dark", "--spacing", "reciprocal"} + ends) -
                         1.0 / (0.5 / 2 + 0.5 / 10)) < 0.01);
        QVERIFY(std::abs(distance({"--reading", "reciprocal"}) - 2.0) < 0.001);
        QVERIFY(std::abs(distance({"--reading", "distance", "--offset", "1", "--remap", "1:1,2:5"}) - 3.0) <
                0.01);
        QCOMPARE(distance({"--reading", "distance", "--gaps-from", "0.4", "--gaps", "7"}), 7.0);
        QCOMPARE(cli({"probe", "grey.png", "--at", "3,3", "--reading", "clip", "--nearest", "5", "--farthest",
                      "2"})
                     .exitCode,
                 1);
        QCOMPARE(cli({"probe", "grey.png", "--at", "3,3", "--remap", "2:3:4"}).exitCode, 1);
        QCOMPARE(cli({"probe", "grey.png", "--at", "3,3", "--reading", "guess"}).exitCode, 2);
    }

    void scenesAreInspectedAndProbed()
    {
        QFile scene(m_dir.filePath("move.gltf"));
        QVERIFY(scene.open(QIODevice::WriteOnly));
        scene.write(test::gltfScene());
        scene.close();
        const Outcome inspected = cli({"inspect", "move.gltf", "--json"});
        const QJsonObject json = QJsonDocument::fromJson(inspected.out.toUtf8()).array()[0].toObject();
        QCOMPARE(json["cameras"].toArray()[0].toString(), QStringLiteral("main"));
        const Outcome probed =
            cli({"probe", "move.gltf", "--point", "can", "--frame", "12", "--fps", "24", "--json"});
        // Half a second of 2: from 6 to 10 along the axis.
        QVERIFY(std::abs(QJsonDocument::fromJson(probed.out.toUtf8()).object()["distance"].toDouble() - 7.0) <
                1e-4);
        QCOMPARE(cli({"probe", "move.gltf", "--point", "vase"}).exitCode, 1);
        QCOMPARE(cli({"probe", "move.gltf"}).exitCode, 2);
    }

    void checkTellsWhatWouldStopARender()
    {
        QVERIFY(cli({"check", QStringLiteral(RETINEX_DEMO "/greenhouse.retinex"), "--out", m_dir.path()})
                    .exitCode == 0);
        QDir().mkpath(m_dir.filePath("check"));
        for (const int frame : {1, 2, 4})
            QVERIFY(QFile::copy(m_dir.filePath("in.0001.exr"),
                                m_dir.filePath(QStringLiteral("check/c.%1.exr").arg(frame))));
        test::writeScene(m_dir.filePath("check/c.5.exr").toStdString(), 32, 24); // another size
        QFile project(m_dir.filePath("check/p.retinex"));
        QVERIFY(project.open(QIODevice::WriteOnly));
        project.write("{\"format\": 1, \"passes\": {\"colour\": {\"file\": \"c.#.exr\"}, \"depth\": "
                      "{\"channel\": \"Z\"}, "
                      "\"mattes\": [{\"file\": \"c.#.exr\", \"name\": \"matte.vase\"}]}, "
                      "\"frames\": {\"first\": 1, \"last\": 5}}");
        project.close();
        const Outcome outcome = cli({"check", "check/p.retinex", "--json"});
        QCOMPARE(outcome.exitCode, 1);
        for (const char* matter : {"frames 3 are missing", "c.5.exr: is 32 x 24 px", "matte.vase"})
            QVERIFY2(outcome.err.contains(QLatin1String(matter)), qPrintable(outcome.err));
        const QJsonObject json = QJsonDocument::fromJson(outcome.out.toUtf8()).object();
        QCOMPARE(json["stops"].toArray().size(), 3);
        QVERIFY(!QDir(m_dir.filePath("check/p-frames")).exists()); // nothing was made
        QCOMPARE(cli({"check", "none.retinex"}).exitCode, 1);
    }

    void defocusWritesAStillAndASequence()
    {
        QCOMPARE(cli(QStringList{"defocus", "--colour", "in.0001.exr", "--depth", "in.0001.exr:Z", "--out",
                                 "one.exr"} +
                     lens())
                     .exitCode,
                 0);
        const auto planes = passes::readExrChannels(m_dir.filePath("one.exr").toStdString(), 0, {"R"}).planes;
        QVERIFY(std::abs(planes[0].at(32, 24) - 0.9F) < 0.01F); // the square is in focus
        const Outcome sequence =
            cli(QStringList{"defocus", "--colour", "in.####.exr", "--depth", "in.%04d.exr", "--out",
                            "seq/f.####.exr", "--progress", "json"} +
                lens());
        QCOMPARE(sequence.exitCode, 1); // frame 3 is missing: nothing is begun
        QVERIFY(sequence.err.contains("frames 3 are missing") && files("seq").isEmpty());
        QCOMPARE(cli(QStringList{"defocus", "--colour", "in.####.exr", "--depth", "in.%04d.exr", "--out",
                                 "seq/f.####.exr", "--missing", "hold"} +
                     lens())
                     .exitCode,
                 0);
        QCOMPARE(files("seq"), (QStringList{"f.0001.exr", "f.0002.exr", "f.0003.exr", "f.0004.exr"}));
        QCOMPARE(test::bytesOf(m_dir.filePath("seq/f.0003.exr")),
                 test::bytesOf(m_dir.filePath("seq/f.0002.exr")));
        // A frame that is there but damaged is reported, and the others go on.
        QDir().mkpath(m_dir.filePath("bad"));
        for (const int frame : {1, 2, 3})
            QVERIFY(QFile::copy(m_dir.filePath("in.0001.exr"),
                                m_dir.filePath(QStringLiteral("bad/b.%1.exr").arg(frame))));
        QVERIFY(QFile::resize(m_dir.filePath("bad/b.2.exr"),
                              QFileInfo(m_dir.filePath("bad/b.2.exr")).size() * 2 / 3));
        const Outcome damaged =
            cli(QStringList{"defocus", "--colour", "bad/b.#.exr", "--depth", "bad/b.#.exr", "--out",
                            "bad-out/f.#.exr", "--progress", "json"} +
                lens());
        QCOMPARE(damaged.exitCode, 1);
        QCOMPARE(files("bad-out"), (QStringList{"f.1.exr", "f.3.exr"}));
        QVERIFY(damaged.err.contains("\"frame\":2") && damaged.err.contains("b.2.exr"));
        QCOMPARE(cli(QStringList{"defocus", "--colour", "in.####.exr", "--depth", "in.####.exr", "--out",
                                 "part/f.####.exr", "--frames", "1-2", "--threads", "1"} +
                     lens())
                     .exitCode,
                 0);
        QCOMPARE(test::bytesOf(m_dir.filePath("part/f.0001.exr")),
                 test::bytesOf(m_dir.filePath("seq/f.0001.exr")));
        QCOMPARE(test::bytesOf(m_dir.filePath("one.exr")), test::bytesOf(m_dir.filePath("seq/f.0001.exr")));
    }

    // Mattes come from a file of their own or from the colour pass, unless they are not wanted.
    void defocusUsesMattes()
    {
        const auto tool = [&](const QStringList& arguments) {
            QCOMPARE(test::runProgram("oiiotool", arguments, m_dir.path()).exitCode, 0);
        };
        tool({"--pattern", "checker:width=4:height=4:color1=0.2,0.3,0.2,1,9:color2=0.5,0.3,0.6,1,9", "64x48",
              "5", "--chnames", "R,G,B,A,Z", "--fill:color=0.8,0.6,0.2,1,1", "24x48+0+0",
              "--fill:color=0.6,0.5,0.3,1,1", "1x48+24+0", "-d", "float", "-o", "edge.exr"});
        tool({"--pattern", "constant:color=0", "64x48", "1", "--chnames", "matte.board", "--fill:color=1",
              "24x48+0+0", "--fill:color=0.25", "1x48+24+0", "-d", "float", "-o", "board.exr"});
        tool({"edge.exr", "board.exr", "--chappend", "-o", "both.exr"});
        const auto edgeOf = [&](const QString& colour, const QStringList& more) {
            QStringList arguments{"defocus", "--colour",  colour,           "--depth", "edge.exr:Z",
                                  "--out",   "out.exr",   "--overwrite",    "--focus", "9",
                                  "--fstop", "4",         "--focal-length", "100",     "--sensor-width",
                                  "36",      "--reading", "distance"};
            const Outcome outcome = cli(arguments + more);
            if (outcome.exitCode != 0) qWarning("%s", qPrintable(outcome.err));
            return passes::readExrChannels(m_dir.filePath("out.exr").toStdString(), 0, {"R"})
                .planes[0]
                .at(26, 20);
        };
        const float without = edgeOf("edge.exr", {});
        const float with = edgeOf("edge.exr", {"--mattes", "board.exr"});
        QVERIFY(std::abs(with - without) > 1e-3F);
        QCOMPARE(edgeOf("both.exr", {}), with);
        QCOMPARE(edgeOf("both.exr", {"--no-mattes"}), without);
        const Outcome wrong =
            cli({"defocus", "--colour", "edge.exr", "--depth", "edge.exr:Z", "--out", "o.exr", "--focus", "9",
                 "--fstop", "4", "--focal-length", "100", "--sensor-width", "36", "--mattes", "none.exr"});
        QCOMPARE(wrong.exitCode, 1);
        QVERIFY(wrong.err.contains("none.exr"));
    }

    // 32-bit input gives 32-bit output, with values beyond the range of half kept.
    void floatStaysFloat()
    {
        const auto bright = [](int x, int) { return x == 4 ? 200'000.0F : 0.25F; };
        test::writeChannels(
            m_dir.filePath("hdr.exr").toStdString(), 16, 16,
            {{"R", false, bright}, {"G", false, bright}, {"B", false, bright}, {"Z", false, [](int, int) {
                                                                                    return 2.0F;
                                                                                }}});
        QCOMPARE(
            cli(QStringList{"defocus", "--colour", "hdr.exr", "--depth", "hdr.exr", "--out", "hdr_out.exr"} +
                lens())
                .exitCode,
            0);
        const auto info = passes::inspectExr(m_dir.filePath("hdr_out.exr").toStdString());
        QCOMPARE(info.parts[0].find("R")->type, passes::SampleType::float32);
        const auto planes =
            passes::readExrChannels(m_dir.filePath("hdr_out.exr").toStdString(), 0, {"R"}).planes;
        QCOMPARE(planes[0].at(4, 8), 200'000.0F); // in focus: exactly as it was
        QCOMPARE(planes[0].at(9, 8), 0.25F);
    }

    void unitsAndIrisAreUnderstood()
    {
        // The scene in centimetres with its focus in centimetres is the scene in metres.
        test::writeChannels(m_dir.filePath("cm.exr").toStdString(), 64, 48,
                            {{"R", true, [](int x, int) { return 0.01F * static_cast<float>(x); }},
                             {"G", true, [](int, int) { return 0.5F; }},
                             {"B", true, [](int, int y) { return y % 7 ? 0.1F : 0.9F; }},
                             {"Z", false, [](int, int) { return 500.0F; }}});
        test::writeChannels(m_dir.filePath("m.exr").toStdString(), 64, 48,
                            {{"R", true, [](int x, int) { return 0.01F * static_cast<float>(x); }},
                             {"G", true, [](int, int) { return 0.5F; }},
                             {"B", true, [](int, int y) { return y % 7 ? 0.1F : 0.9F; }},
                             {"Z", false, [](int, int) { return 5.0F; }}});
        const auto run = [&](const QString& name, const QString& focus, const QString& unit,
                             const QStringList& more) {
            return cli(QStringList{"defocus", "--colour", name + ".exr", "--depth", name + ".exr", "--out",
                                   name + "_out.exr", "--focus", focus, "--unit", unit, "--fstop", "0.5",
                                   "--focal-length", "50", "--sensor-width", "36", "--overwrite"} +
                       more)
                .exitCode;
        };
        QCOMPARE(run("cm", "200", "cm", {}), 0);
        QCOMPARE(run("m", "2", "m", {}), 0);
        const auto red = [&](const char* name) {
            return passes::readExrChannels(m_dir.filePath(QLatin1String(name)).toStdString(), 0, {"B"})
                .planes[0];
        };
        const auto a = red("cm_out.exr");
        const auto b = red("m_out.exr");
        QVERIFY(std::equal(a.pixels().begin(), a.pixels().end(), b.pixels().begin()));
        QVERIFY(std::abs(a.at(30, 21) - 0.9F) > 0.1F); // it is blurred
        QCOMPARE(run("m", "2", "m", {"--blades", "3", "--turn", "30", "--frame-edge", "open"}), 0);
        const auto c = red("m_out.exr");
        QVERIFY(!std::equal(b.pixels().begin(), b.pixels().end(), c.pixels().begin()));
        QVERIFY(c.at(32, 0) < b.at(32, 0)); // light left through the open edge
        QCOMPARE(run("m", "2", "m", {"--blades", "2"}), 1);
        QCOMPARE(run("m", "2", "m", {"--frame-edge", "torn"}), 2);
    }

    void renderDoesAProject()
    {
        QFile file(m_dir.filePath("shot.retinex"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(
            R"({"format": 3, "passes": {"colour": {"file": "in.####.exr", "layer": ""}}, "frames": {"first": 1, "last": 2},
                       "shots": [{"lens": {"fStop": 0.7, "focalLengthMm": 50, "sensorWidthMm": 36}, "focus": {"distance": 2}}]})");
        file.close();
        QCOMPARE(cli({"render", "shot.retinex", "--out", "frames"}).exitCode, 0);
        QCOMPARE(files("frames"), (QStringList{"shot.0001.exr", "shot.0002.exr"}));
        QCOMPARE(test::runProgram("oiiotool", {"--diff", "frames/shot.0001.exr", "one.exr"}, m_dir.path())
                     .exitCode,
                 0);
        // There is no delivery to go on with, and it goes on: what is there is left, what is asked for is a
        // list.
        QVERIFY(QFile::remove(m_dir.filePath("frames/shot.0002.exr")));
        const QByteArray before = test::bytesOf(m_dir.filePath("frames/shot.0001.exr"));
        const QDateTime written = QFileInfo(m_dir.filePath("frames/shot.0001.exr")).lastModified();
        QCOMPARE(cli({"render", "shot.retinex", "--out", "frames", "--resume", "--frames", "1,2"}).exitCode,
                 0);
        QCOMPARE(files("frames"), (QStringList{"shot.0001.exr", "shot.0002.exr"}));
        QCOMPARE(QFileInfo(m_dir.filePath("frames/shot.0001.exr")).lastModified(), written);
        QCOMPARE(test::bytesOf(m_dir.filePath("frames/shot.0001.exr")), before);
        QCOMPARE(cli({"render", "absent.retinex"}).exitCode, 1);
    }

    // Focus that rides on a subject: it is measured for the render, and the frames' headers tell the
    // distance. The square lies at 2 m in every frame.
    void renderMeasuresTheSubjectsThatFocusRidesOn()
    {
        const auto write = [this](const char* name, const char* subject) {
            QFile file(m_dir.filePath(QLatin1String(name)));
            QVERIFY(file.open(QIODevice::WriteOnly));
            QByteArray text = "{'format': 2, 'passes': {'colour': {'file': 'in.####.exr'}}, "
                              "'frames': {'first': 1, 'last': 2}, 'subjects': [{'name': 'square', "
                              "'places': {'frames': [1], 'x': [32.5], 'y': [24.5]}}], "
                              "'shots': [{'marks': {'focusDistance': [{'frame': 1, 'value': 5, "
                              "'subject': 'NAME'}]}}]}";
            file.write(text.replace('\'', '"').replace("NAME", subject));
        };
        write("ride.retinex", "square");
        QCOMPARE(cli({"render", "ride.retinex", "--out", "ride"}).exitCode, 0);
        const Outcome told =
            cli({"render", "ride.retinex", "--out", "ride", "--overwrite", "--progress", "plain"});
        QVERIFY2(told.err.startsWith("measuring subjects\n"), qPrintable(told.err));
        const Outcome lines =
            cli({"render", "ride.retinex", "--out", "ride", "--overwrite", "--progress", "json"});
        const auto first = QJsonDocument::fromJson(lines.err.section('\n', 0, 0).toUtf8()).object();
        QCOMPARE(first["stage"].toString(), QStringLiteral("measuring subjects"));
        const auto headers = test::runProgram("exrheader", {m_dir.filePath("ride/ride.0002.exr")});
        QVERIFY2(headers.out.contains(QRegularExpression("focus[^\n]*: 2\\b")), qPrintable(headers.out));
        write("nobody.retinex", "circle");
        const Outcome outcome = cli({"check", "nobody.retinex"});
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY(outcome.err.contains("bound to \"circle\", and there is no such subject"));
    }
};

QTEST_GUILESS_MAIN(TestCli)
#include "test_cli.moc"
