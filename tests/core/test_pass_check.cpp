#include "core/delivery/project_check.h"
#include "core/passes/pass_check.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <QDir>
#include <QFile>
#include <QTest>
#include <cmath>
#include <random>

using namespace retinex;
using namespace retinex::passes;

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 96;

/// A floor in perspective with a row of posts before it, and nothing above: what a clean pass looks like.
float cleanDistance(int x, int y)
{
    if (y < 20) return 0.0F;
    if (x % 24 < 6 && y < 80) return 2.0F + 0.01F * static_cast<float>(x / 24);
    return 1.0F / (0.02F + 0.5F * static_cast<float>(y - 19) / static_cast<float>(kHeight));
}

} // namespace

/// Each finding of the pass check appears for a pass that has its fault, and for no clean one.
class TestPassCheck : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;

    using Number = std::function<float(int x, int y)>;

    /// Writes colour and depth; absent functions are those of a clean pass.
    std::string write(const char* name, const Number& depth = cleanDistance, const Number& colour = {},
                      bool withAlpha = true, bool halfDepth = false) const
    {
        const auto isOpen = [](int, int y) { return y < 20; };
        const Number red = colour ? colour : [isOpen](int x, int y) {
            return isOpen(x, y) ? 0.0F : 0.2F + 0.01F * static_cast<float>(x % 7);
        };
        std::vector<test::Channel> channels{{"R", false, red}, {"G", false, red}, {"B", false, red}};
        if (withAlpha)
            channels.push_back({"A", false, [isOpen](int x, int y) { return isOpen(x, y) ? 0.0F : 1.0F; }});
        channels.push_back({"Z", halfDepth, depth});
        const std::string file = m_dir.filePath(QLatin1String(name)).toStdString();
        test::writeChannels(file, kWidth, kHeight, channels);
        return file;
    }

    static PassAnalysis analyse(const std::string& file,
                                const std::optional<depth::ReadingSettings>& reading = {})
    {
        return analysePasses(PassSource({file, {}}, {}), 1, reading);
    }

    static const Finding* find(const PassAnalysis& analysis, const std::string& key)
    {
        for (const Finding& finding : analysis.findings)
            if (finding.key == key) return &finding;
        return nullptr;
    }

    /// The finding is there, says something in each field, and is not there for the clean pass.
    void verifyFound(const PassAnalysis& analysis, const char* key)
    {
        const Finding* finding = find(analysis, key);
        QVERIFY2(finding, key);
        QVERIFY(!finding->matter.empty() && !finding->meaning.empty() && !finding->advice.empty());
        QVERIFY2(!find(analyse(write("clean.exr")), key), key);
    }

private slots:
    void aCleanPassHasNothingButItsGaps()
    {
        const auto analysis = analyse(write("clean.exr"));
        QStringList keys;
        for (const Finding& finding : analysis.findings)
            keys.append(QString::fromStdString(finding.key));
        QCOMPARE(keys, QStringList{"zero-gaps"});
        QVERIFY(analysis.proposal.isSure());
        QVERIFY(!analysis.direction.seemsExchanged());
    }

    void antiAliasedDepth()
    {
        const auto mixed = [](int x, int y) {
            // The posts' first and last column are half floor.
            const float here = cleanDistance(x, y);
            if (y < 20 || y >= 80 || (x % 24 != 0 && x % 24 != 5)) return here;
            return 0.5F * (here + cleanDistance(7, y));
        };
        auto analysis = analyse(write("aa.exr", mixed));
        verifyFound(analysis, "anti-aliased-depth");
        QVERIFY(analysis.proposal.settings.conditioning.snapEdges);
        // Once snapped it is no trouble any more.
        QCOMPARE(find(analysis, "anti-aliased-depth")->weight, Finding::Weight::note);
        depth::ReadingSettings untouched;
        analysis = analyse(write("aa.exr", mixed), untouched);
        QCOMPARE(find(analysis, "anti-aliased-depth")->weight, Finding::Weight::trouble);
        QCOMPARE(analysis.findings.front().weight, Finding::Weight::trouble); // troubles first
    }

    void numbersOfFewBits()
    {
        const auto levels = [](int steps) {
            return [steps](int x, int y) {
                const float d = cleanDistance(x, y);
                return d <= 0.0F ? 0.0F
                                 : std::round((1.0F - d / 40.0F) * static_cast<float>(steps)) /
                                       static_cast<float>(steps);
            };
        };
        verifyFound(analyse(write("eight.exr", levels(255))), "eight-bit-depth");
        verifyFound(analyse(write("sixteen.exr", levels(65535))), "integer-depth");
        verifyFound(analyse(write("half.exr", cleanDistance, {}, true, true)), "half-depth");
    }

    void noiseClampAndNumbersThatAreNone()
    {
        std::mt19937 dice(5);
        std::uniform_real_distribution<float> shake(-0.02F, 0.02F);
        verifyFound(analyse(write("noise.exr",
                                  [&](int x, int y) { return cleanDistance(x, y) * (1.0F + shake(dice)); })),
                    "noisy-depth");
        verifyFound(
            analyse(write("clamp.exr", [](int x, int y) { return std::min(cleanDistance(x, y), 6.0F); })),
            "far-clamp");
        verifyFound(analyse(write(
                        "nan.exr",
                        [](int x, int y) { return x == 3 && y > 50 ? std::nanf("") : cleanDistance(x, y); })),
                    "not-finite-depth");
        verifyFound(
            analyse(write("glass.exr",
                          [](int x, int y) { return x > 100 && y > 60 ? 0.0F : cleanDistance(x, y); })),
            "colour-without-depth");
    }

    void theWrongWayRound()
    {
        const auto turned = [](int x, int y) {
            const float d = cleanDistance(x, y);
            return d > 0.0F ? 45.0F - d : 0.0F;
        };
        depth::ReadingSettings plain;
        const auto analysis = analyse(write("turned.exr", turned), plain);
        verifyFound(analysis, "exchanged");
        QVERIFY(!analysis.direction.reasonsForExchange().empty());
        // The proposal turns it back, and the distances are the true ones up to a share.
        const auto proposed = analyse(write("turned.exr", turned));
        QVERIFY(!find(proposed, "exchanged"));
        QVERIFY(proposed.proposal.settings.reversed);
        const auto passes =
            PassSource({write("turned.exr", turned), {}}, {}).load(1, proposed.proposal.settings);
        QVERIFY2(std::abs(passes->distance().at(80, 90) - cleanDistance(80, 90)) < 0.5F,
                 qPrintable(QString::number(passes->distance().at(80, 90))));
    }

    void coloursThatBlurBadly()
    {
        verifyFound(analyse(write("clipped.exr", cleanDistance,
                                  [](int x, int y) {
                                      return y < 20 ? 0.0F : std::min(1.0F, 0.02F * static_cast<float>(x));
                                  })),
                    "clipped-colour");
        verifyFound(analyse(write("bad.exr", cleanDistance,
                                  [](int x, int y) { return x == 9 && y == 50 ? std::nanf("") : 0.3F; })),
                    "bad-colour");
        verifyFound(analyse(write("loose.exr", cleanDistance, [](int, int) { return 0.5F; })),
                    "colour-outside-alpha");
        verifyFound(analyse(write("opaque.exr", cleanDistance, {}, false)), "no-alpha");
    }

    void filesThatDoNotFit()
    {
        const QString folder = m_dir.path();
        write("shot.exr");
        QCOMPARE(test::runProgram(
                     "oiiotool",
                     {"shot.exr", "--ch", "Z", "--resample", "80x48", "-d", "float", "-o", "z.exr"}, folder)
                     .exitCode,
                 0);
        const PassSource sizes({m_dir.filePath("shot.exr").toStdString(), {}},
                               {m_dir.filePath("z.exr").toStdString(), {}});
        QVERIFY(find(analysePasses(sizes, 1, std::nullopt), "other-size"));
        QCOMPARE(test::runProgram("oiiotool",
                                  {"shot.exr", "--compression", "b44", "-d", "half", "-o", "b44.exr"}, folder)
                     .exitCode,
                 0);
        QVERIFY(find(analyse(m_dir.filePath("b44.exr").toStdString()), "lossy-depth"));
        QCOMPARE(
            test::runProgram("oiiotool", {"shot.exr", "--fullsize", "120x72+10+10", "-o", "over.exr"}, folder)
                .exitCode,
            0);
        QVERIFY(find(analyse(m_dir.filePath("over.exr").toStdString()), "overscan"));
        QCOMPARE(test::runProgram("oiiotool", {"shot.exr", "--ch", "R,G,B", "-d", "uint8", "-o", "shot.png"},
                                  folder)
                     .exitCode,
                 0);
        const PassSource eight({m_dir.filePath("shot.png").toStdString(), {}},
                               {m_dir.filePath("shot.exr").toStdString(), {}});
        QVERIFY(find(analysePasses(eight, 1, std::nullopt), "integer-colour"));
        QDir().mkpath(m_dir.filePath("holes"));
        for (const int frame : {1, 2, 4})
            QVERIFY(QFile::copy(m_dir.filePath("shot.exr"),
                                m_dir.filePath(QStringLiteral("holes/h.%1.exr").arg(frame))));
        const auto holes = analyse(m_dir.filePath("holes/h.#.exr").toStdString());
        QVERIFY(find(holes, "missing-frames") &&
                find(holes, "missing-frames")->matter.find('3') != std::string::npos);
    }

    void whatIsNotKnownIsSaid()
    {
        // A wall of one distance and a ball before it: no flat surface tells anything of a grey.
        const auto wall = [](int x, int y) {
            const double dx = (x - 80) / 30.0;
            const double dy = (y - 48) / 30.0;
            const double r = dx * dx + dy * dy;
            return r < 1.0 ? static_cast<float>(0.8 - 0.1 * (1.0 - std::sqrt(1.0 - r))) : 0.1F;
        };
        const auto analysis = analyse(write("ball.exr", wall));
        verifyFound(analysis, "unsure-reading");
        depth::ReadingSettings grey;
        grey.reading = depth::Reading::greyNearBright;
        verifyFound(analyse(write("ball.exr", wall), grey), "unknown-ends");
    }

    // Cut off at a far plane: many hold the largest number. A wall seen flat on before an infinite sky holds
    // one number too, and is no such thing.
    void aFlatWallBeforeAnInfiniteSkyIsNoFarPlane()
    {
        const auto grey = [](int x, int y) { return 0.1F + 0.01F * static_cast<float>((x + y) % 7); };
        const auto written = [&](const char* name, bool hasSky) {
            const std::string file = m_dir.filePath(QLatin1String(name)).toStdString();
            test::writeChannels(file, 96, 72,
                                {{"R", true, grey},
                                 {"G", true, grey},
                                 {"B", true, grey},
                                 {"Z", false, [=](int x, int y) {
                                      if (hasSky && y < 20) return std::numeric_limits<float>::infinity();
                                      return y < 40 ? 9.0F
                                                    : 8.9F - 0.05F * static_cast<float>(y) - 0.001F * x;
                                  }}});
            const PassSource source({file, {}}, {});
            return analysePasses(source, 1,
                                 source.load(1) ? std::optional(depth::ReadingSettings{}) : std::nullopt)
                .findings;
        };
        const auto isFarPlane = [](const Finding& finding) { return finding.key == "far-clamp"; };
        QVERIFY(std::ranges::any_of(written("plane.exr", false), isFarPlane));
        QVERIFY(std::ranges::none_of(written("sky.exr", true), isFarPlane));
    }

    void stoppedWorkIsNoAnswer()
    {
        std::stop_source stop;
        stop.request_stop();
        const PassSource source({write("clean.exr"), {}}, {});
        bool stopped = false;
        try {
            (void)analysePasses(source, 1, std::nullopt, stop.get_token());
        } catch (const Cancelled&) {
            stopped = true;
        }
        QVERIFY(stopped);
    }

    void aProjectThatCannotRenderSaysWhyAtOnce()
    {
        project::Project project;
        project.colour.file = write("clean.exr");
        QVERIFY(delivery::checkProject(project, m_dir.filePath("new/folder").toStdString()).stops.empty());
        QVERIFY(!QDir(m_dir.filePath("new")).exists());
        project.scene.file = m_dir.filePath("no.gltf").toStdString();
        project.mattes = {{project.colour.file, "matte.none"}};
        const auto check = delivery::checkProject(project, project.colour.file / "frames");
        QCOMPARE(check.stops.size(), std::size_t(3));
        project.colour.file = m_dir.filePath("gone.exr").toStdString();
        const auto gone = delivery::checkProject(project, m_dir.path().toStdString()).stops;
        QVERIFY(std::ranges::any_of(gone, [](const std::string& stop) {
            return stop.find("gone.exr: the colour pass is not there") != std::string::npos;
        }));
    }
};

QTEST_GUILESS_MAIN(TestPassCheck)
#include "test_pass_check.moc"
