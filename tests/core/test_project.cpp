#include "core/base/error.h"
#include "core/project/project_file.h"
#include "support/test_files.h"

#include <QDir>
#include <QFile>
#include <QTest>

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
        project.fStop = 1.8;
        project.focalLengthMm = 85;
        project.focusDistance = 310.25;
        project.iris.blades = 9;
        project.iris.turnDeg = 12.5;
        project.iris.rounding = 0.25;
        project.iris.squeeze = 1.5;
        project.iris.rim = -0.5;
        project.iris.centreStop = 0.3;
        project.iris.catsEye = 0.6;
        project.glint = {0.5, 3.0};
        project.blur = {1.5, 2.0, 3.0, 40.0, 60.0};
        project.simpleLens = {12.0, 100.0, std::numeric_limits<double>::infinity()};
        project.marks = {{8, 210.0, timeline::Ease::linear},
                         {30, std::numeric_limits<double>::infinity(), timeline::Ease::hold}};
        project.frameEdge = defocus::FrameEdge::mirror;
        project.passOptions = {{path("passes/alpha.####.png"), "Y"},
                               "sRGB",
                               passes::MissingFrames::hold,
                               passes::SizeFit::centre};
        project.mattes = {{path("passes/shot.####.exr"), "matte.can"}, {path("ids.exr"), "Objects/door"}};
        project.scene = {path("passes/camera.gltf"), "main", 25.0, 101.0};
        depth::ReadingSettings& reading = project.reading;
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
        return project;
    }

    QString writeText(const char* name, const QByteArray& text)
    {
        QFile file(m_dir.filePath(QLatin1String(name)));
        if (file.open(QIODevice::WriteOnly)) file.write(text);
        return file.fileName();
    }

    static QString refusal(const QString& file)
    {
        try {
            (void)loadProject(file.toStdString());
        } catch (const Error& error) {
            return QString::fromStdString(error.what());
        }
        return {};
    }

private slots:
    void whatIsSavedIsLoaded()
    {
        saveProject(path("a.retinex"), sample());
        QCOMPARE(loadProject(path("a.retinex")).project == sample(), true);
        const QByteArray text = test::bytesOf(m_dir.filePath("a.retinex"));
        QVERIFY(text.contains("\"passes/shot.####.exr\"")); // relative
        QVERIFY(!text.contains(m_dir.path().toUtf8()));
        QVERIFY(QDir(m_dir.path()).entryList({"*.part"}, QDir::Files | QDir::Hidden).isEmpty());
    }

    void unknownKeysSurvive()
    {
        const QString file = writeText(
            "new.retinex",
            R"({"format": 1, "passes": {"colour": {"file": "a.exr", "gamut": "wide"}}, "aura": {"x": [1, 2]}})");
        const LoadedProject loaded = loadProject(file.toStdString());
        saveProject(file.toStdString(), loaded.project, loaded.document);
        const QByteArray text = test::bytesOf(file);
        QVERIFY(text.contains("\"aura\"") && text.contains("\"gamut\": \"wide\""));
        QCOMPARE(test::bytesOf(file).indexOf("\"format\"") < text.indexOf("\"aura\""), true);
    }

    void wrongFilesAreRefusedByName_data()
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
        QTest::newRow("frames")
            << QByteArray(
                   R"({"format": 1, "passes": {"colour": {"file": "a.exr"}}, "frames": {"first": 9, "last": 2}})")
            << "first frame after its last";
    }
    void wrongFilesAreRefusedByName()
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
        QCOMPARE(project.lensAt(5).focusDistanceMm, 2100.0); // 210 units of 1 cm
        project.marks.clear();
        QCOMPARE(project.focusDistanceAt(5), 310.25);
    }
};

QTEST_GUILESS_MAIN(TestProject)
#include "test_project.moc"
