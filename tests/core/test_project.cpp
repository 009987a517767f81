#include "core/project/file/project_file.h"
#include "core/project/shots.h"
#include "core/project/takes.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <QDir>
#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTest>
#include <array>

using namespace retinex;
using namespace retinex::project;

class TestProject : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const char* name) const { return m_dir.filePath(QLatin1String(name)).toStdString(); }

    Project sample() const
    {
        Project project;
        project.colour = {path("passes/shot.####.exr"), "beauty"};
        project.depth = {path("passes/depth.####.exr"), "Z"};
        project.firstFrame = 5;
        project.lastFrame = 40;
        project.metresPerUnit = 0.01;
        project.unit = optics::Unit::foot;
        project.base().fStop = 1.8;
        project.base().focalLengthMm = 85;
        project.base().focusDistance = 310.25;
        project.base().iris.blades = 9;
        project.base().iris.turnDeg = 12.5;
        project.base().iris.rounding = 0.25;
        project.base().iris.squeeze = 1.5;
        project.base().iris.rim = -0.5;
        project.base().iris.centreStop = 0.3;
        project.base().iris.catsEye = 0.6;
        project.base().glint = {0.5, 3.0};
        project.base().blur = {1.5, 2.0, 3.0, 40.0, 60.0};
        project.base().simpleLens = {12.0, 100.0, std::numeric_limits<double>::infinity()};
        project::Shot& shot = project.shots.front();
        shot.name = "greenhouse, in";
        shot.tracks[setting::focusDistance] = {
            {8, 210.0, timeline::Side{0.4, 0.9}, timeline::Ease::linear, timeline::Blend::distance, "can"},
            {30, std::numeric_limits<double>::infinity(), timeline::Ease::smooth, timeline::Ease::hold}};
        shot.tracks[setting::fStop] = {{5, 1.8}, {12, 5.6, timeline::Ease::smooth, {0.2, 1.5, true}}};
        timeline::Subject can{"can"};
        can.places = {{8, 320.5, 200.25}};
        can.tracked = std::vector<timeline::Place>{{8, 320.5, 200.25, 1.0}, {9, 321.75, 200.5, 0.75}};
        can.outline = {{-3.0, -4.0}, {3.0, -4.0}, {0.0, 5.5}};
        can.radiusPx = 9.0;
        can.bridgesHidden = false;
        can.samples =
            std::vector<timeline::Sample>{{8, 210.0}, {9, 211.5, timeline::Sight::hidden}, {11, 212.0}};
        project.subjects = {can, {"orchid", "orchid.centre"}};
        project.base().frameEdge = defocus::FrameEdge::mirror;
        project.base().mattesAtEdges = false;
        project.passOptions = {{path("passes/alpha.####.png"), "Y"},
                               {path("passes/motion.####.exr"), "vectors"},
                               "sRGB",
                               passes::MissingFrames::hold,
                               passes::SizeFit::centre,
                               false,
                               0,
                               0,
                               1,
                               1,
                               "left"};
        project.mattes = {{path("passes/shot.####.exr"), "matte.can"}, {path("ids.exr"), "Objects/door"}};
        project.scene = {path("passes/camera.gltf"), "main", 25.0, 101.0};
        depth::ReadingSettings& reading = project.base().reading;
        reading.reading = depth::Reading::clipSpace;
        reading.reversed = true;
        reading.spacing = depth::Spacing::reciprocal;
        reading.encoding = depth::Encoding::sRgb;
        reading.clipRange = depth::ClipRange::minusOneToOne;
        reading.storedLow = 0.1;
        reading.storedHigh = 0.9;
        reading.nearest = 0.25;
        reading.farthest = std::numeric_limits<double>::infinity();
        reading.clamp = true;
        reading.fieldOfViewDeg = 44.5;
        reading.gaps = {false, true, 1e9, depth::GapRules::Place::neighbours, 33.0};
        reading.conditioning = {true, 255, 3.5, -0.25, {{1.0, 1.0}, {9.0, 5.0}}};
        project::Shot second = shot;
        second.name.clear();
        second.firstFrame = 22;
        second.tracks.clear();
        second.settings.fStop = 4.0;
        project.shots.push_back(second);
        project.playing = {25.0, 8, 30};
        Take take = takeOf(project, "before the cut", 12);
        take.picture = "aGVsbG8=";
        take.shots[1].settings.fStop = 11.0;
        project.takes = std::vector<Take>{take, takeOf(project, "wide open", 30)};
        return project;
    }

    QString writeText(const char* name, const QByteArray& text)
    {
        QFile file(m_dir.filePath(QLatin1String(name)));
        if (file.open(QIODevice::WriteOnly)) file.write(text);
        return file.fileName();
    }

    /// Why a file is refused, or else what of it was put right.
    static QString refusal(const QString& file)
    {
        try {
            std::vector<std::string> putRight;
            (void)loadProject(file.toStdString(), &putRight);
            return QString::fromStdString(putRightNotice(file.toStdString(), putRight));
        } catch (const Error& error) {
            return QString::fromStdString(error.what());
        }
        return {};
    }

private slots:
    void whatIsSavedIsLoaded()
    {
        saveProject(path("a.retinex"), sample());
        QCOMPARE(loadProject(path("a.retinex")) == sample(), true);
        const QByteArray text = test::bytesOf(m_dir.filePath("a.retinex"));
        QVERIFY(text.contains("\"passes/shot.####.exr\"")); // relative
        QVERIFY(!text.contains(m_dir.path().toUtf8()));
        QVERIFY(QDir(m_dir.path()).entryList({"*.part"}, QDir::Files | QDir::Hidden).isEmpty());
    }

    void aTakeBringsItsSettingsBackAndNothingElse()
    {
        const Project kept = sample();
        Project changed = kept;
        changed.shots.resize(1);
        changed.subjects.clear();
        changed.metresPerUnit = 2.0;
        changed.lastFrame = 50;
        changed.takes = std::vector<Take>{takeOf(kept, "Take 1", 8)};
        const Project restored = withTake(changed, *changed.takes.begin());
        QVERIFY(restored.shots == kept.shots && restored.subjects == kept.subjects);
        QCOMPARE(restored.metresPerUnit, kept.metresPerUnit);
        QCOMPARE(restored.lastFrame, 50);
        QVERIFY(restored.takes == changed.takes);
        QCOMPARE(nameForTake(restored), std::string("Take 2"));
    }

    void inAndOutAreHeldToTheFrames()
    {
        Project project;
        project.firstFrame = 5;
        project.lastFrame = 40;
        QCOMPARE(project.playedFrames(), (timeline::FrameRange{5, 40}));
        project.playing = {24.0, 1, 12};
        QCOMPARE(project.playedFrames(), (timeline::FrameRange{5, 12}));
        project.playing = {24.0, 60, 2};
        QCOMPARE(project.playedFrames(), (timeline::FrameRange{40, 40}));
        saveProject(path("in.retinex"), sample());
        Project loaded = loadProject(path("in.retinex"));
        loaded.playing.in.reset(); // a mark that is taken away does not stay in the file
        saveProject(path("in.retinex"), loaded);
        QVERIFY(!loadProject(path("in.retinex")).playing.in);
    }

    // Keys of a newer version, at every level: they survive, and follow their item where it goes.
    void unknownKeysFollowTheirItem()
    {
        const QString file = writeText("new.retinex", R"({"format": 3, "aura": {"x": [1, 2]},
            "passes": {"colour": {"file": "a.exr", "gamut": "wide"},
                       "mattes": [{"file": "a.exr", "name": "one"}, {"file": "a.exr", "name": "two", "soft": 7}]},
            "frames": {"first": 1, "last": 20},
            "subjects": [{"name": "can"}, {"name": "orchid", "colour": "red",
                          "places": {"frames": [1], "x": [2], "y": [3], "z": [4]}}],
            "shots": [{"name": "first", "lens": {"fStop": 2, "hood": true}},
                      {"name": "second", "firstFrame": 9, "mood": "calm",
                       "marks": {"lens/fStop": [{"frame": 10, "value": 2, "hint": "a"}, {"frame": 12, "value": 4,
                                 "leaving": {"reach": 0.5, "rise": 0.1, "twist": 1}}],
                                 "lens/tilt": [{"frame": 9, "value": 1}]}}],
            "takes": [{"name": "kept", "note": "warm", "shots": [{"lens": {"coat": "x"}}]}]})");
        Project project = loadProject(file.toStdString());
        project.mattes.erase(project.mattes.begin());
        project.subjects.erase(project.subjects.begin());
        QVERIFY(cutAt(project, 5));
        timeline::removeMark(project.shots[2].tracks[setting::fStop], 12);
        timeline::setMark(project.shots[2].tracks[setting::fStop], {8, 3.0});
        saveProject(file.toStdString(), project);
        const auto json = QJsonDocument::fromJson(test::bytesOf(file)).object();
        QCOMPARE(json["aura"]["x"][1].toInt(), 2);
        QCOMPARE(json["passes"]["colour"]["gamut"].toString(), "wide");
        QCOMPARE(json["passes"]["mattes"][0]["soft"].toInt(), 7);
        QCOMPARE(json["subjects"][0]["colour"].toString(), "red");
        QCOMPARE(json["subjects"][0]["places"]["z"][0].toInt(), 4);
        QCOMPARE(json["shots"][0]["lens"]["hood"].toBool(), true);
        QCOMPARE(json["shots"][1]["lens"]["hood"].toBool(), true); // it was part of the first
        QCOMPARE(json["shots"][2]["mood"].toString(), "calm");
        QVERIFY(json["shots"][0]["mood"].isUndefined());
        const QJsonValue marks = json["shots"][2]["marks"];
        QCOMPARE(marks["lens/fStop"][0]["frame"].toInt(), 8);
        QVERIFY(marks["lens/fStop"][0]["hint"].isUndefined());
        QCOMPARE(marks["lens/fStop"][1]["hint"].toString(), "a");
        QVERIFY(!QString(test::bytesOf(file)).contains("twist")); // its mark is gone
        QCOMPARE(marks["lens/tilt"][0]["frame"].toInt(), 9);
        QCOMPARE(json["takes"][0]["note"].toString(), "warm");
        QCOMPARE(json["takes"][0]["shots"][0]["lens"]["coat"].toString(), "x");
        const QByteArray once = test::bytesOf(file);
        saveProject(file.toStdString(), loadProject(file.toStdString()));
        QCOMPARE(test::bytesOf(file), once);
        QVERIFY(once.indexOf("\"format\"") < once.indexOf("\"aura\""));
    }

    void wrongFilesAreRefusedOrPutRightByName_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("matter");
        QTest::newRow("not JSON") << QByteArray("{\"format\": 1,") << "damaged";
        QTest::newRow("no format") << QByteArray("{}") << "no format number";
        QTest::newRow("array") << QByteArray("[1]") << "no format number";
        QTest::newRow("newer") << QByteArray("{\"format\": 99}") << "newer version";
        QTest::newRow("no colour") << QByteArray("{\"format\": 1}") << "/passes/colour/file";
        QTest::newRow("a number for a section")
            << QByteArray("{\"format\": 1, \"passes\": {\"colour\": {\"file\": \"a.exr\"}, \"depth\": 35}}")
            << "/passes/depth";
        QTest::newRow("a list for the reading")
            << QByteArray("{\"format\": 1, \"passes\": {\"colour\": {\"file\": \"a.exr\"}}, \"reading\": []}")
            << "/reading";
        QTest::newRow("ends that cross")
            << QByteArray("{\"format\": 1, \"passes\": {\"colour\": {\"file\": \"a.exr\"}}, \"reading\": "
                          "{\"nearest\": 9, \"farthest\": 2}}")
            << "farthest";
        QTest::newRow("wrong kind")
            << QByteArray(
                   R"({"format": 1, "passes": {"colour": {"file": "a.exr"}}, "lens": {"fStop": "wide"}})")
            << "/lens/fStop";
        QTest::newRow("impossible lens")
            << QByteArray(R"({"format": 1, "passes": {"colour": {"file": "a.exr"}}, "lens": {"fStop": -2}})")
            << "f-stop";
        QTest::newRow("mark ease")
            << QByteArray(
                   R"({"format": 1, "passes": {"colour": {"file": "a.exr"}}, "focus": {"marks": [{"frame": 1, "distance": 2, "ease": "x"}]}})")
            << "/focus/marks/0/ease";
        QTest::newRow("mark value")
            << QByteArray(
                   R"({"format": 2, "passes": {"colour": {"file": "a.exr"}}, "shots": [{}, {"firstFrame": 3, "marks": {"fStop": [{"frame": 4, "value": -1}]}}]})")
            << "/shots/1/marks/lens/fStop/0/value";
        QTest::newRow("shots out of order")
            << QByteArray(
                   R"({"format": 2, "passes": {"colour": {"file": "a.exr"}}, "shots": [{}, {"firstFrame": 9}, {"firstFrame": 4}]})")
            << "/shots/2/firstFrame";
        QTest::newRow("two of one name")
            << QByteArray(
                   R"({"format": 2, "passes": {"colour": {"file": "a.exr"}}, "subjects": [{"name": "can"}, {"name": "can"}]})")
            << "/subjects/1/name";
        QTest::newRow("places that do not fit")
            << QByteArray(
                   R"({"format": 2, "passes": {"colour": {"file": "a.exr"}}, "subjects": [{"name": "can", "places": {"frames": [1, 2], "x": [1], "y": [1, 2]}}]})")
            << "/subjects/0/places/x";
        QTest::newRow("two takes of one name")
            << QByteArray(
                   R"({"format": 2, "passes": {"colour": {"file": "a.exr"}}, "takes": [{"name": "a"}, {"name": "a"}]})")
            << "/takes/1/name";
        QTest::newRow("a mark in a take")
            << QByteArray(
                   R"({"format": 2, "passes": {"colour": {"file": "a.exr"}}, "takes": [{"name": "a", "shots": [{"marks": {"fStop": [{"frame": 4, "value": -1}]}}]}]})")
            << "/takes/0/shots/0/marks/lens/fStop/0/value";
        QTest::newRow("an impossible lens in a take")
            << QByteArray(
                   R"({"format": 2, "passes": {"colour": {"file": "a.exr"}}, "takes": [{"name": "a", "shots": [{"lens": {"fStop": -2}}]}]})")
            << "f-stop";
        QTest::newRow("a frame beyond an int")
            << QByteArray(
                   R"({"format": 3, "passes": {"colour": {"file": "a.exr"}}, "frames": {"first": 4294967297}})")
            << "/frames/first";
        QTest::newRow("a frame with a fraction")
            << QByteArray(
                   R"({"format": 3, "passes": {"colour": {"file": "a.exr"}}, "frames": {"first": 1.5}})")
            << "a whole number";
        QTest::newRow("a format below 1") << QByteArray("{\"format\": -5}") << "no format number";
        QTest::newRow("a format far above")
            << QByteArray("{\"format\": 18446744073709551615}") << "newer version";
        QTest::newRow("a mark with a fraction")
            << QByteArray(
                   R"({"format": 3, "passes": {"colour": {"file": "a.exr"}}, "shots": [{"marks": {"lens/fStop": [{"frame": 1.5, "value": 2}]}}]})")
            << "/shots/0/marks/lens/fStop/0/frame";
        QTest::newRow("blades with a fraction")
            << QByteArray(
                   R"({"format": 3, "passes": {"colour": {"file": "a.exr"}}, "shots": [{"iris": {"blades": 5.5}}]})")
            << "/shots/0/iris/blades";
        QTest::newRow("out of range, with what fits")
            << QByteArray(
                   R"({"format": 3, "passes": {"colour": {"file": "a.exr"}}, "shots": [{"glint": {"liftStops": 17}}]})")
            << "(glint lift) is 17 and must be 0 to 16";
        QTest::newRow("a word there is not")
            << QByteArray(
                   R"({"format": 3, "passes": {"colour": {"file": "a.exr"}}, "shots": [{"lens": {"framing": "loose"}}]})")
            << "is not rendered, physical";
        QTest::newRow("more frames than anybody has")
            << QByteArray(
                   R"({"format": 3, "passes": {"colour": {"file": "a.exr"}}, "frames": {"first": 1, "last": 99999999}})")
            << "more than 1000000 frames";
        QTest::newRow("lists within lists")
            << QByteArray(R"({"format": 1, "passes": {"colour": {"file": "a.exr"}}, "blur": {"x": )") +
                   QByteArray(100'000, '[') + QByteArray(100'000, ']') + "}}"
            << "lists within each other";
        QTest::newRow("rate")
            << QByteArray(
                   R"({"format": 2, "passes": {"colour": {"file": "a.exr"}}, "frames": {"perSecond": 0}})")
            << "/frames/perSecond";
        QTest::newRow("frames")
            << QByteArray(
                   R"({"format": 1, "passes": {"colour": {"file": "a.exr"}}, "frames": {"first": 9, "last": 2}})")
            << "first frame after its last";
    }
    void wrongFilesAreRefusedOrPutRightByName()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, matter);
        const QString message = refusal(writeText("wrong.retinex", text));
        QVERIFY2(message.contains("wrong.retinex") && message.contains(matter), qPrintable(message));
    }

    void focusFollowsMarksAndLensKnowsTheScale()
    {
        Project project = sample();
        QCOMPARE(project.focusDistanceAt(5), 210.0);
        QCOMPARE(project.lensAt(5, 1920).focusDistanceMm, 2100.0); // 210 units of 1 cm
        project.shots.front().tracks.clear();
        QCOMPARE(project.focusDistanceAt(5), 310.25);
    }

    // A file of format 1, with its marks: they become those of the focus distance of one shot.
    void theEarlierFormatIsBroughtUp()
    {
        const QString file = writeText(
            "old.retinex",
            R"({"format": 1, "passes": {"colour": {"file": "a.exr"}}, "lens": {"fStop": 1.4, "hood": true},
                "focus": {"distance": 2, "marks": [{"frame": 5, "distance": 2, "ease": "linear"},
                {"frame": 15, "distance": 8, "ease": "hold"}, {"frame": 20, "distance": 3}]}})");
        const Project loaded = loadProject(file.toStdString());
        QCOMPARE(loaded.shots.size(), std::size_t(1));
        QCOMPARE(loaded.base().fStop, 1.4);
        QCOMPARE(loaded.focusDistanceAt(10), 3.2); // half of the way in dioptres
        QCOMPARE(loaded.focusDistanceAt(19), 8.0);
        saveProject(file.toStdString(), loaded);
        QVERIFY(loadProject(file.toStdString()) == loaded);
        const QByteArray text = test::bytesOf(file);
        QVERIFY(text.contains("\"format\": 3") && text.contains("\"hood\": true"));
    }

    // Files as earlier versions wrote them. What was a physical lens then stays one.
    void filesOfEarlierFormatsAreKept()
    {
        const Project first = loadProject(RETINEX_TEST_DATA "/format1.retinex");
        QCOMPARE(first.base().fStop, 1.4);
        QCOMPARE(first.base().framing, optics::Framing::physical);
        QCOMPARE(first.shots.front().marks(setting::focusDistance).size(), std::size_t(3));
        QCOMPARE(first.focusDistanceAt(10), 3.2);
        const Project second = loadProject(RETINEX_TEST_DATA "/format2.retinex");
        QCOMPARE(second.shots.size(), std::size_t(2));
        QCOMPARE(second.shots[1].marks(setting::glintLift).front().value, 3.0);
        QCOMPARE(second.shots[1].marks(setting::simpleRadius).front().value, 12.0);
        QCOMPARE(second.shots[0].settings.framing, optics::Framing::physical);
        QCOMPARE(second.takes.begin()->shots.front().settings.framing, optics::Framing::physical);
        QCOMPARE(second.takes.begin()->shots.front().marks(setting::fStop).front().value, 5.6);
        QCOMPARE(second.subjects.front().measuredAs, std::string("0123456789abcdef"));
        saveProject(path("now.retinex"), second);
        QVERIFY(test::bytesOf(m_dir.filePath("now.retinex")).contains("\"format\": 3"));
    }

    // The picture of no frame changes by a cut; without it again, the marks are there and the earlier shot
    // rules.
    void cutsChangeNoFrameAndMarksDoNotReachAcross()
    {
        Project project = sample();
        project.shots.resize(1);
        auto& tracks = project.shots.front().tracks;
        tracks.clear();
        tracks[setting::focusDistance] = {{8, 210.0}, {30, 900.0, timeline::Side{0.5, 0.2}}};
        tracks[setting::fStop] = {{25, 2.0}, {35, 8.0}};
        tracks[setting::blades] = {{6, 5.0}};
        const Project before = project;
        QVERIFY(cutAt(project, 20) && !cutAt(project, 20) && !cutAt(project, 5) && !cutAt(project, 99));
        QCOMPARE(project.shots.size(), std::size_t(2));
        QCOMPARE(project.framesOf(0).last, 19);
        for (int frame = 5; frame <= 40; ++frame) {
            const Settings was = before.valuesAt(frame);
            const Settings is = project.valuesAt(frame);
            QVERIFY(std::abs(is.focusDistance / was.focusDistance - 1.0) < 1e-9);
            QVERIFY(std::abs(is.fStop - was.fStop) < 1e-9);
            QCOMPARE(is.iris.blades, was.iris.blades);
        }
        // What is changed in one shot does not show in the other.
        timeline::setMark(project.shots[1].tracks[setting::focusDistance], {20, 50.0});
        QVERIFY(std::abs(project.focusDistanceAt(19) / before.focusDistanceAt(19) - 1.0) < 1e-9);
        copySettings(project, 0, 1, {Group::lens});
        QVERIFY(project.shots[1].tracks.contains(setting::focusDistance)); // focus is not part of it
        QCOMPARE(project.valuesAt(35).fStop, 2.0);
        QVERIFY(removeCut(project, 20) && !removeCut(project, 20));
        QCOMPARE(project.shots.size(), std::size_t(1));
    }

    void longSequencesAreKept()
    {
        Project project = sample();
        project.firstFrame = 1;
        project.lastFrame = 2000;
        project.subjects.clear();
        for (std::size_t i = 0; i < 6; ++i) {
            timeline::Subject subject{"subject " + std::to_string(i)};
            std::vector<timeline::Place> tracked;
            std::vector<timeline::Sample> samples;
            for (int frame = 1; frame <= 2000; ++frame) {
                tracked.push_back({frame, 0.25 * frame, 100.5, 0.5});
                samples.push_back({frame, 2.0 + 1.0 / frame});
            }
            subject.tracked = std::move(tracked);
            subject.samples = std::move(samples);
            project.subjects.push_back(std::move(subject));
            const SettingPath path =
                std::array{setting::focusDistance, setting::fStop,    setting::focalLength,
                           setting::strength,      setting::heldNear, setting::limitNear}[i];
            for (int frame = 1; frame < 2000; frame += 10)
                timeline::setMark(project.shots.front().tracks[path], {frame, 2.0 - 0.0005 * frame});
        }
        project.shots.resize(1);
        saveProject(path("long.retinex"), project);
        QVERIFY(loadProject(path("long.retinex")) == project);
    }
};

QTEST_GUILESS_MAIN(TestProject)
#include "test_project.moc"
