#include "core/passes/scene/scene_file.h"
#include "core/system/error.h"
#include "support/gltf_scene.h"

#include <QByteArray>
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace retinex;
using namespace retinex::passes;

/// glTF 2.0 scenes written here as text, checked by hand-computed places.
class TestSceneFile : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;

    std::string write(const char* name, QByteArray text) const
    {
        QFile file(m_dir.filePath(QLatin1String(name)));
        if (!file.open(QIODevice::WriteOnly)) qFatal("cannot write");
        file.write(text);
        return file.fileName().toStdString();
    }

private slots:
    void camerasAndPointsAreFoundWithTheirDistance()
    {
        const auto loaded = SceneFile::load(write("a.gltf", test::gltfScene()));
        QCOMPARE(loaded.cameras().size(), std::size_t(1));
        QCOMPARE(loaded.points().size(), std::size_t(2));
        const int camera = loaded.cameraNamed("main");
        const int can = loaded.pointNamed("can");
        // The camera stands at (0, 1, 5) in the world and looks along -x: the distance is minus the point's
        // x.
        QVERIFY(std::abs(loaded.position(camera, 0.0)[2] - 5.0) < 1e-6);
        for (const auto& [seconds, distance] :
             {std::pair{-1.0, 6.0}, std::pair{0.0, 6.0}, std::pair{0.5, 7.0}, std::pair{1.5, 9.0},
              std::pair{9.0, 10.0}})
            QVERIFY(std::abs(loaded.planarDistance(camera, can, seconds) - distance) < 1e-5);
        QCOMPARE(loaded.duration(), 2.0);
        // tan(h/2) = aspect tan(v/2)
        QVERIFY(std::abs(loaded.fieldOfViewDeg(camera, 1.0) -
                         2.0 * std::atan(1.5 * std::tan(0.3)) * 180.0 / M_PI) < 1e-9);
    }

    // glTF 2.0, appendix C: step holds; a cubic with zero tangents is 3 t^2 - 2 t^3.
    void interpolationFollowsTheSpecification()
    {
        const auto step = SceneFile::load(write("step.gltf", test::gltfScene("STEP")));
        QVERIFY(std::abs(step.position(2, 1.9)[0] + 6.0) < 1e-6);
        const auto cubic = SceneFile::load(write("cubic.gltf", test::gltfScene("CUBICSPLINE")));
        const double t = 0.25;
        QVERIFY(std::abs(cubic.position(2, 0.5)[0] + 6.0 + 4.0 * (3 * t * t - 2 * t * t * t)) < 1e-5);
    }

    void whatIsWrongIsNamed_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("matter");
        const auto changed = [](const char* from, const char* to) {
            QByteArray text = test::gltfScene();
            if (!text.contains(from)) qFatal("%s is not there", from);
            return text.replace(from, to);
        };
        QTest::newRow("no JSON") << QByteArray("lamps") << "not a readable glTF";
        QTest::newRow("camera that is not there") << changed("\"camera\":0", "\"camera\":7") << "camera 7";
        QTest::newRow("child that is not there")
            << changed("\"children\":[1]", "\"children\":[55]") << "node 55";
        QTest::newRow("a node under itself") << changed("\"children\":[1]", "\"children\":[0]") << "";
        QTest::newRow("count beyond the buffer")
            << changed("\"count\":2", "\"count\":99999999") << "beyond its buffer";
        QTest::newRow("view beyond the buffer")
            << changed("\"byteOffset\":8", "\"byteOffset\":80000") << "beyond";
        QTest::newRow("values of another kind") << changed("\"VEC3\"", "\"VEC4\"") << "";
        QTest::newRow("field of view of nothing") << changed("\"yfov\":0.6", "\"yfov\":0") << "field of view";
    }
    void whatIsWrongIsNamed()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, matter);
        const std::string file = write("wrong.gltf", text);
        try {
            (void)SceneFile::load(file);
            QFAIL("it was taken");
        } catch (const Error& error) {
            const QString message = QString::fromUtf8(error.what());
            QVERIFY2(message.contains("wrong.gltf") && message.contains(matter), qPrintable(message));
        }
    }

    // glTF 2.0, 3.6.1.1: a buffer lies in the file, or in one that a relative URI names.
    void buffersLieInTheFolderOfTheScene()
    {
        const QByteArray text = test::gltfScene();
        const qsizetype begin = text.indexOf("data:application/octet-stream;base64,");
        const qsizetype end = text.indexOf('"', begin);
        const QByteArray data = QByteArray::fromBase64(text.mid(begin + 37, end - begin - 37));
        QVERIFY(QDir(m_dir.path()).mkpath("scene/below"));
        const auto save = [&](const QString& name, const QByteArray& bytes) {
            QFile file(m_dir.filePath(name));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(bytes);
        };
        for (const char* name : {"outside.bin", "scene/beside.bin", "scene/below/deep.bin"})
            save(name, data);
        const auto messageWith = [&](const char* uri) {
            QByteArray with = text;
            with.replace(begin, end - begin, uri);
            save("scene/s.gltf", with);
            try {
                (void)SceneFile::load(m_dir.filePath("scene/s.gltf").toStdString());
                return QString();
            } catch (const Error& error) {
                return QString::fromUtf8(error.what());
            }
        };
        QCOMPARE(messageWith("beside.bin"), QString());
        QCOMPARE(messageWith("below/deep.bin"), QString());
        QCOMPARE(messageWith("below/../beside.bin"), QString());
        for (const char* uri : {"../outside.bin", "below/../../outside.bin", "gone.bin", "/dev/zero"}) {
            const QString message = messageWith(uri);
            QVERIFY2(message.contains("its buffer") && message.contains(QString(uri).section('/', -1)),
                     qPrintable(message));
        }
    }

    void unknownNamesListWhatThereIs()
    {
        const auto loaded = SceneFile::load(write("names.gltf", test::gltfScene()));
        try {
            (void)loaded.pointNamed("vase");
            QFAIL("there is no vase");
        } catch (const Error& error) {
            QVERIFY(QString::fromUtf8(error.what()).contains("can"));
        }
        QVERIFY_EXCEPTION_THROWN((void)SceneFile::load("/nowhere/x.gltf"), Error);
    }
};

QTEST_GUILESS_MAIN(TestSceneFile)
#include "test_scene_file.moc"
