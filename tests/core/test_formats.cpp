#include "core/colour/input_space.h"
#include "core/passes/frames/luminance.h"
#include "core/passes/image_file.h"
#include "core/passes/mattes/cryptomatte.h"
#include "core/passes/mattes/matte_objects.h"
#include "core/passes/mattes/mattes.h"
#include "core/passes/pass_roles.h"
#include "core/passes/pass_source.h"
#include "core/passes/scene/camera_data.h"
#include "core/system/error.h"
#include "support/as_written.h"
#include "support/message_of.h"
#include "support/test_files.h"

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfOutputFile.h>
#include <QDir>
#include <QFile>
#include <QTest>
#include <bit>
#include <cmath>

using namespace retinex;
using namespace retinex::passes;

/// Files made by tools that are not ours: oiiotool (OpenImageIO), exrmultipart, exrmaketiled, exrstdattr
/// (OpenEXR), pamtopfm, pfmtopam, pnmtopng, pamtotiff (netpbm).
class TestFormats : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;
    std::string path(const char* name) const { return m_dir.filePath(QLatin1String(name)).toStdString(); }

    void tool(const char* program, const QStringList& arguments) const
    {
        const auto outcome = test::runProgram(QLatin1String(program), arguments, m_dir.path());
        if (outcome.exitCode != 0) qFatal("%s: %s", program, qPrintable(outcome.err + outcome.out));
    }
    /// A program that writes to its standard output.
    void piped(const QString& command) const { tool("sh", {"-c", command}); }

    static QString messageOf(const std::function<void()>& work)
    {
        return QString::fromStdString(test::messageOf(work));
    }

    /// fill:top=1:bottom=100 over 54 rows, as oiiotool makes it.
    static bool isGradient(const Plane<float>& depth, float tolerance)
    {
        for (const int y : {0, 20, 53})
            if (std::abs(depth.at(40, y) - (1.0F + 99.0F * static_cast<float>(y) / 53.0F)) > tolerance)
                return false;
        return true;
    }

private slots:
    void initTestCase()
    {
        tool("oiiotool", {"--nosoftwareattrib",
                          "--pattern",
                          "fill:top=.1,.2,.5,1:bottom=.9,.6,.1,1",
                          "96x54",
                          "4",
                          "--chnames",
                          "R,G,B,A",
                          "--pattern",
                          "fill:top=1:bottom=100",
                          "96x54",
                          "1",
                          "--chnames",
                          "depth.Z",
                          "--chappend",
                          "-d",
                          "half",
                          "-d",
                          "depth.Z=float",
                          "-o",
                          "layers.exr"});
    }

    void everyCompressionReadsRight_data()
    {
        QTest::addColumn<QString>("compression");
        for (const char* name : {"none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"})
            QTest::newRow(name) << QString::fromLatin1(name);
    }
    void everyCompressionReadsRight()
    {
        QFETCH(QString, compression);
        const QString name = compression + ".exr";
        tool("oiiotool",
             {"layers.exr", "--compression", compression, "-d", "half", "-d", "depth.Z=float", "-o", name});
        const FileInfo info = inspectFile(m_dir.filePath(name).toStdString());
        QCOMPARE(QString::fromStdString(info.parts[0].compression), compression);
        // oiiotool says no primaries: the numbers are looked at as they are.
        const auto passes =
            PassSource({m_dir.filePath(name).toStdString(), {}}, {}, test::asWritten()).load(1);
        // pxr24 keeps 24 of 32 bits of a float: 2^-15 of the number (OpenEXR, technical introduction).
        QVERIFY(isGradient(passes->distance(), compression == "pxr24" ? 0.005F : 1e-4F));
        QVERIFY(std::abs(passes->colour().plane(2).at(40, 0) - 0.5F) < 0.02F); // b44 and dwa lose a little
    }

    void sampleTypesAreConvertedToFloat()
    {
        tool("oiiotool", {"layers.exr", "-d", "half", "-o", "half.exr"});
        QVERIFY(isGradient(PassSource({path("half.exr"), {}}, {}).load(1)->distance(), 0.05F));
        QCOMPARE(inspectFile(path("half.exr")).parts[0].find("depth.Z")->type, SampleType::half);
    }

    // Whole numbers in an EXR (uint), written with the OpenEXR library.
    void uintChannelsAreDepthToo()
    {
        Imf::Header header(6, 4);
        header.channels().insert("Z", Imf::Channel(Imf::UINT));
        std::vector<unsigned int> numbers(24);
        for (std::size_t i = 0; i < numbers.size(); ++i)
            numbers[i] = static_cast<unsigned int>(100 * i);
        Imf::FrameBuffer buffer;
        buffer.insert("Z", Imf::Slice::Make(Imf::UINT, numbers.data(), header.dataWindow()));
        {
            Imf::OutputFile out(path("uint.exr").c_str(), header);
            out.setFrameBuffer(buffer);
            out.writePixels(4);
        }
        const auto depth = readNumbers(path("uint.exr"), chooseDepth(inspectFile(path("uint.exr")), {}), {});
        QCOMPARE(depth.planes[0].at(5, 3), 2300.0F);
        QCOMPARE(inspectFile(path("uint.exr")).parts[0].channels[0].type, SampleType::uint32);
    }

    void mipMapsTilesAndPartsReadTheirFullSizePicture()
    {
        tool("exrmaketiled", {"-m", "-t", "32", "32", "layers.exr", "mip.exr"});
        tool("exrmaketiled", {"-r", "-t", "16", "16", "layers.exr", "rip.exr"});
        tool("oiiotool", {"layers.exr", "--ch", "R,G,B,A", "-d", "half", "-o", "beauty.exr"});
        tool("oiiotool", {"layers.exr", "--ch", "depth.Z", "-d", "float", "-o", "only_z.exr"});
        tool("exrmultipart",
             {"-combine", "-i", "beauty.exr:0::beauty", "only_z.exr:0::depth", "-o", "combined.exr"});
        for (const char* name : {"mip.exr", "rip.exr", "combined.exr"}) {
            const auto passes = PassSource({path(name), {}}, {}).load(1);
            QCOMPARE(passes->distance().width(), 96);
            QVERIFY2(isGradient(passes->distance(), 1e-3F), name);
        }
        QVERIFY(inspectFile(path("mip.exr")).parts[0].mipMapped &&
                inspectFile(path("mip.exr")).parts[0].tiled);
        QCOMPARE(inspectFile(path("combined.exr")).parts.size(), std::size_t(2));
    }

    // Two deep samples a pixel: half a veil at 3 over a wall at 5. Over (Porter and Duff): 0.4 + 0.5 * 0.8.
    void deepSamplesAreFlattened()
    {
        tool("oiiotool", {"--pattern",
                          "constant:color=0.8,0.8,0.8,1,5",
                          "20x10",
                          "5",
                          "--chnames",
                          "R,G,B,A,Z",
                          "-d",
                          "float",
                          "--deepen",
                          "--pattern",
                          "constant:color=0.4,0.4,0.4,0.5,3",
                          "20x10",
                          "5",
                          "--chnames",
                          "R,G,B,A,Z",
                          "-d",
                          "float",
                          "--deepen",
                          "--deepmerge",
                          "-o",
                          "deep.exr"});
        QVERIFY(inspectFile(path("deep.exr")).parts[0].deep);
        const auto passes = PassSource({path("deep.exr"), {}}, {}).load(1);
        QVERIFY(std::abs(passes->colour().plane(0).at(5, 5) - 0.8F) < 1e-5F);
        QVERIFY(std::abs(passes->colour().plane(3).at(5, 5) - 1.0F) < 1e-5F);
        QCOMPARE(passes->distance().at(5, 5), 3.0F);
    }

    void picturesOfOtherFormatsReadRight()
    {
        // The same grey ramp as PGM, and from it PNG, TIFF and PFM by netpbm's own writers.
        tool("oiiotool",
             {"--pattern", "fill:left=0:right=1", "256x16", "1", "-d", "uint8", "-o", "ramp.pgm"});
        piped("pnmtopng ramp.pgm > ramp.png 2>/dev/null && pamtotiff -truecolor ramp.pgm > ramp.tif "
              "2>/dev/null && "
              "pamtopfm ramp.pgm > ramp.pfm");
        tool("oiiotool",
             {"--pattern", "fill:left=0:right=1", "256x16", "1", "-d", "uint16", "-o", "ramp16.png"});
        tool("oiiotool",
             {"--pattern", "fill:left=0:right=100", "256x16", "1", "-d", "float", "-o", "ramp32.tif"});
        tool("oiiotool", {"--pattern", "fill:left=0,0,0:right=8,4,2", "256x16", "3", "-o", "ramp.hdr"});
        const auto read = [&](const char* name) {
            const FileInfo info = inspectFile(path(name));
            return readNumbers(path(name), chooseDepth(info, {}, true), {}).planes.front();
        };
        for (const char* name : {"ramp.pgm", "ramp.png", "ramp.tif", "ramp.pfm", "ramp16.png"})
            for (const int x : {0, 100, 255})
                QVERIFY2(std::abs(read(name).at(x, 8) - static_cast<float>(x) / 255.0F) < 0.003F, name);
        QVERIFY(std::abs(read("ramp32.tif").at(255, 3) - 100.0F) < 1e-3F);
        QVERIFY(std::abs(read("ramp.hdr").at(255, 3) - (0.2126F * 8 + 0.7152F * 4 + 0.0722F * 2)) < 0.05F);
        QCOMPARE(inspectFile(path("ramp.png")).parts[0].channels[0].type, SampleType::uint8);
        QCOMPARE(inspectFile(path("ramp16.png")).parts[0].channels[0].type, SampleType::uint16);
    }

    // PFM rows run upwards in the file; the picture must not stand on its head. Checked against pfmtopam.
    void pfmIsTheRightWayUp()
    {
        tool("oiiotool", {"--pattern", "fill:top=1:bottom=0", "32x20", "1", "-d", "uint8", "-o", "up.pgm"});
        piped("pamtopfm up.pgm > up.pfm && pfmtopam up.pfm > up_again.pam");
        const auto pfm = readChannels(path("up.pfm"), 0, {"Y"}).planes[0];
        QVERIFY(pfm.at(5, 0) > 0.99F && pfm.at(5, 19) < 0.01F);
        QFile pam(m_dir.filePath("up_again.pam"));
        QVERIFY(pam.open(QIODevice::ReadOnly));
        const QByteArray bytes = pam.readAll();
        QVERIFY(static_cast<unsigned char>(bytes.at(bytes.size() - 32 * 20)) >
                250); // its first row is bright too
    }

    // 8-bit colour is taken as sRGB and made linear, alpha multiplied in afterwards: (188/255) is 0.5029
    // linear by IEC 61966-2-1.
    void displayPicturesBecomeSceneLinearAndPremultiplied()
    {
        tool("oiiotool", {"--pattern", "constant:color=0.73725,0.73725,0.73725,0.50196", "8x8", "4", "-d",
                          "uint8", "--attrib", "oiio:UnassociatedAlpha", "1", "-o", "grey.png"});
        test::writeChannels(path("z8.exr"), 8, 8, {{"Z", false, [](int, int) { return 2.0F; }}});
        const PassSource source({path("grey.png"), {}}, {path("z8.exr"), {}});
        QCOMPARE(source.inputSpace(), std::string("sRGB"));
        const auto passes = source.load(1);
        const float alpha = passes->colour().plane(3).at(3, 3);
        QVERIFY(std::abs(alpha - 128.0F / 255.0F) < 0.003F);
        const float straight = passes->colour().plane(1).at(3, 3) / alpha;
        QVERIFY2(straight > 0.35F && straight < 0.75F, qPrintable(QString::number(straight)));
        PassOptions raw;
        raw.inputSpace = "Raw";
        const auto untouched = PassSource({path("grey.png"), {}}, {path("z8.exr"), {}}, raw).load(1);
        QVERIFY(untouched->colour().plane(1).at(3, 3) / alpha > straight);
        raw.inputSpace = "of my own";
        QVERIFY(messageOf([&] {
                    (void)PassSource({path("grey.png"), {}}, {path("z8.exr"), {}}, raw).load(1);
                }).contains("of my own"));
        RgbaImage image(1, 1);
        for (int c = 0; c < 4; ++c)
            image.plane(c).at(0, 0) = c == 3 ? 1.0F : 188.0F / 255.0F;
        colour::toSceneLinear(image, "sRGB", false);
        QVERIFY(std::abs(image.plane(0).at(0, 0) - 0.5029F) < 0.002F); // a grey stays one in any primaries
    }

    void alphaMayComeFromAFileOfItsOwn()
    {
        tool("oiiotool",
             {"--pattern", "fill:left=0:right=1", "96x54", "1", "-d", "uint8", "-o", "alpha.png"});
        PassOptions options;
        options.alpha = {path("alpha.png"), {}};
        const auto passes = PassSource({path("layers.exr"), {}}, {}, options).load(1);
        QVERIFY(passes->colour().plane(3).at(0, 5) < 0.01F && passes->colour().plane(3).at(95, 5) > 0.99F);
    }

    void depthMayBeTheLuminanceOfAnyLayer()
    {
        tool("oiiotool", {"layers.exr", "--pattern", "constant:color=2,4,6", "96x54", "3", "--chnames",
                          "fog.R,fog.G,fog.B", "--chappend", "-d", "float", "-o", "fog.exr"});
        const PassSource source({path("fog.exr"), {}}, {{}, "fog.luminance"});
        QVERIFY(source.depthChannel().isLuminance());
        QVERIFY(std::abs(source.load(1)->stored().at(9, 9) - (0.2126F * 2 + 0.7152F * 4 + 0.0722F * 6)) <
                1e-4F);
        const PassSource red({path("fog.exr"), {}}, {{}, "fog.R"});
        QCOMPARE(red.load(1)->stored().at(9, 9), 2.0F);
    }

    void filesAreSortedIntoTheirRoles()
    {
        tool("oiiotool", {"layers.exr", "--ch", "R,G,B", "-d", "uint8", "-o", "beauty.png"});
        tool("oiiotool",
             {"--pattern", "fill:left=0:right=1", "96x54", "1", "-d", "uint16", "-o", "shot_depth.png"});
        tool("oiiotool", {"--create", "96x54", "1", "--fill:color=1", "40x30+20+10", "-d", "uint8", "-o",
                          "can_mask.png"});
        tool("oiiotool",
             {"--create", "96x54", "1", "--fill:color=1", "40x30+20+10", "-d", "uint8", "-o", "unnamed.png"});
        const auto sorted = sortIntoRoles(
            {path("can_mask.png"), path("shot_depth.png"), path("beauty.png"), path("unnamed.png")});
        QCOMPARE(sorted.colour.file.filename().string(), std::string("beauty.png"));
        QCOMPARE(sorted.depth.file.filename().string(), std::string("shot_depth.png"));
        QCOMPARE(sorted.mattes.size(), std::size_t(2));
        QCOMPARE(sorted.mattes[0].title(), std::string("can_mask"));
        const auto one = sortIntoRoles({path("layers.exr")});
        QVERIFY(one.depth.file.empty() && one.roles[0].role == Role::colourAndDepth);
        QVERIFY(messageOf([&] {
                    (void)sortIntoRoles({path("shot_depth.png"), path("can_mask.png")});
                }).contains("no colour pass"));
        QVERIFY(messageOf([&] { (void)sortIntoRoles({path("nothing.png")}); }).contains("nothing.png"));
    }

    // exrstdattr writes standard attributes; worldToNDC by hand for a 40 degree wide frame.
    void cameraDataComesFromStandardAttributes()
    {
        tool("exrstdattr", {"-focus", "2.5", "-aperture", "1.8", "-framesPerSecond", "25", "1",
                            "-pixelAspectRatio", "2", "layers.exr", "attributes.exr"});
        const CameraData data = cameraData(readExrHeader(path("attributes.exr"), 0));
        QVERIFY(std::abs(data.focusMetres.value() - 2.5) < 1e-6 && std::abs(data.fStop.value() - 1.8) < 1e-6);
        QCOMPARE(data.framesPerSecond.value(), 25.0);
        QCOMPARE(data.pixelAspect.value(), 2.0);
        QVERIFY(!data.fieldOfViewDeg);
        QVERIFY(data.inWords().find("f/1.8") != std::string::npos);
        // Camera at (1, 2, 3) looking along +z: x_ndc = 0.5 + 0.5 (x - 1) / ((z - 3) tan 20).
        const double k = 0.5 / std::tan(20.0 * M_PI / 180.0);
        const auto matrix = [](double a, double b, double c, double d) { // columns x_ndc, y_ndc, 0, w
            return QStringLiteral("%1,0,0,0,0,%1,0,0,%2,%2,0,1,%3,%4,0,%5")
                .arg(a)
                .arg(b)
                .arg(c)
                .arg(d)
                .arg(-3.0);
        };
        for (const auto& [scale, centre] : {std::pair{k, 0.5}, std::pair{2.0 * k, 0.0}}) {
            const QString values =
                matrix(scale, centre, -scale * 1.0 - 3.0 * centre, -scale * 2.0 - 3.0 * centre);
            tool("oiiotool", {"layers.exr", "--attrib:type=matrix", "worldToNDC", values, "-o", "ndc.exr"});
            const auto found = cameraData(readExrHeader(path("ndc.exr"), 0)).fieldOfViewDeg;
            QVERIFY2(found && std::abs(*found - 40.0) < 0.01,
                     qPrintable(QString::number(found.value_or(0.0))));
        }
        QVERIFY(std::abs(focalLengthFor(39.5978, 36.0) - 50.0) < 0.001); // 2 atan(18 / 50)
        QVERIFY(std::abs(fieldOfViewFor(50.0, 36.0) - 39.5978) < 1e-3);
    }

    // The hash is MurmurHash3_x86_32; values from the algorithm's widely published test vectors (from
    // memory):
    // "" is 0 with seed 0 and 0x514e28b7 with seed 1; "hello" 0x248bfa47; "Hello, world!" (seed 1234)
    // 0xfaf6cdb3.
    void idsOfNamesFollowTheSpecification()
    {
        QCOMPARE(murmurHash3("", 0), 0U);
        QCOMPARE(murmurHash3("", 1), 0x514e28b7U);
        QCOMPARE(murmurHash3("hello", 0), 0x248bfa47U);
        QCOMPARE(murmurHash3("Hello, world!", 1234), 0xfaf6cdb3U);
        for (const char* name : {"can", "orchids", "lattice", "a", "bench_01"}) {
            const float id = std::bit_cast<float>(idOfName(name));
            QVERIFY(std::isnormal(id));
        }
    }

    void idMattesAreSummedOverTheirRanks()
    {
        const auto bits = [](std::uint32_t id) {
            return QString::number(static_cast<double>(std::bit_cast<float>(id)), 'g', 17);
        };
        const std::uint32_t can = idOfName("can");
        const std::uint32_t door = idOfName("door");
        // The manifest may lie in a file beside the picture.
        const QString manifest = QStringLiteral("{\"can\":\"%1\",\"door\":\"%2\"}")
                                     .arg(can, 8, 16, QLatin1Char('0'))
                                     .arg(door, 8, 16, QLatin1Char('0'));
        QFile side(m_dir.filePath("ids.json"));
        QVERIFY(side.open(QIODevice::WriteOnly));
        side.write(manifest.toUtf8());
        side.close();
        // Left half: can 0.7 over door 0.3; right half: door alone.
        tool("oiiotool", {"--pattern",
                          "constant:color=" + bits(can) + ",0.7," + bits(door) + ",0.3",
                          "20x10",
                          "4",
                          "--fill:color=" + bits(door) + ",1,0,0",
                          "10x10+10+0",
                          "--chnames",
                          "CryptoObject00.R,CryptoObject00.G,CryptoObject00.B,CryptoObject00.A",
                          "-d",
                          "float",
                          "--attrib",
                          "cryptomatte/1a2b3c4/name",
                          "CryptoObject",
                          "--attrib",
                          "cryptomatte/1a2b3c4/hash",
                          "MurmurHash3_32",
                          "--attrib",
                          "cryptomatte/1a2b3c4/conversion",
                          "uint32_to_float32",
                          "--attrib",
                          "cryptomatte/1a2b3c4/manif_file",
                          "ids.json",
                          "-o",
                          "side.exr"});
        tool("exrstdattr", {"-string", "cryptomatte/1a2b3c4/manifest", manifest, "side.exr", "ids.exr"});
        QCOMPARE(idMatteSets(path("side.exr")).at(0).manifest.at("door"), door);
        const auto sets = idMatteSets(path("ids.exr"));
        QCOMPARE(sets.size(), std::size_t(1));
        QCOMPARE(sets[0].manifest.at("can"), can);
        const auto mattes = mattesIn(path("ids.exr"));
        QCOMPARE(mattes.size(), std::size_t(2));
        QCOMPARE(mattes[0].title(), std::string("can"));
        const auto matte = readMatte({path("ids.exr"), "CryptoObject/can"});
        QVERIFY(std::abs(matte.at(3, 3) - 0.7F) < 1e-6F && matte.at(15, 3) == 0.0F);
        const auto other = readMatte({path("ids.exr"), "CryptoObject/door"});
        QVERIFY(std::abs(other.at(3, 3) - 0.3F) < 1e-6F && other.at(15, 3) == 1.0F);
        QVERIFY(messageOf([&] { (void)readMatte({path("ids.exr"), "CryptoFood/can"}); }).contains("ids.exr"));
        // All at once, as edge repair takes them: as each alone, and of those asked for only.
        const auto objects = readMatteObjects(mattes, 1, false, 20, 10, SizeFit::scale);
        QCOMPARE(objects.endOf(3, 3) - objects.firstOf(3, 3), std::size_t(2));
        for (std::size_t i = objects.firstOf(3, 3); i < objects.endOf(3, 3); ++i) {
            const auto& share = objects.samples[i];
            QCOMPARE(share.coverage, share.object == 1 ? matte.at(3, 3) : other.at(3, 3));
        }
        const auto one = readMatteObjects({mattes[1]}, 1, false, 40, 20, SizeFit::scale);
        QCOMPARE(one.width, 40);
        QCOMPARE(one.endOf(30, 6) - one.firstOf(30, 6), std::size_t(1));
        QCOMPARE(one.samples[one.firstOf(30, 6)].coverage, 1.0F);
        QCOMPARE(one.samples[one.firstOf(6, 6)].coverage, other.at(3, 3));
    }

    // Of one file all at once, each as it is alone; one that is named twice is two objects.
    void mattesOfOneFileAreReadTogether()
    {
        tool("oiiotool", {"--pattern", "constant:color=0.25,0.5,3", "16x8", "3", "--chnames",
                          "matte.can,matte.door,matte.lamp", "-d", "float", "-o", "three.exr"});
        const MatteChoice can{path("three.exr"), "matte.can"};
        const MatteChoice lamp{path("three.exr"), "matte.lamp"};
        QCOMPARE(readMatte(can).at(3, 3), 0.25F);
        QCOMPARE(readMatte(lamp).at(3, 3), 1.0F); // held to 1
        const auto planes = readChannelMattes(path("three.exr"), {"matte.lamp", "matte.can", "matte.lamp"});
        QCOMPARE(planes.size(), std::size_t(3));
        QCOMPARE(planes[0].at(3, 3), 1.0F);
        QCOMPARE(planes[1].at(3, 3), 0.25F);
        QCOMPARE(planes[2].at(3, 3), 1.0F);
        const auto objects = readMatteObjects({lamp, can, lamp}, 1, false, 16, 8, SizeFit::scale);
        QCOMPARE(objects.endOf(3, 3) - objects.firstOf(3, 3), std::size_t(3));
        for (std::size_t i = objects.firstOf(3, 3); i < objects.endOf(3, 3); ++i)
            QCOMPARE(objects.samples[i].coverage, objects.samples[i].object == 2 ? 0.25F : 1.0F);
    }

    void damagedPicturesAreNamed()
    {
        tool("oiiotool",
             {"--pattern", "fill:left=0:right=1", "96x54", "1", "-d", "uint8", "-o", "whole.png"});
        const QByteArray whole = test::bytesOf(m_dir.filePath("whole.png"));
        const auto put = [&](const char* name, const QByteArray& bytes) {
            QFile file(m_dir.filePath(QLatin1String(name)));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(bytes);
        };
        put("head.png", whole.left(20));
        put("text.tif", "this is no picture");
        put("empty.hdr", "");
        put("lie.pfm", "Pf\n99999999 99999999\n-1.0\n");
        for (const char* name : {"head.png", "text.tif", "empty.hdr", "lie.pfm"})
            QVERIFY2(messageOf([&] {
                         const FileInfo info = inspectFile(path(name));
                         (void)readChannels(path(name), 0, {info.parts.at(0).channels.at(0).name});
                     }).contains(QLatin1String(name)),
                     name);
    }
};

QTEST_GUILESS_MAIN(TestFormats)
#include "test_formats.moc"
