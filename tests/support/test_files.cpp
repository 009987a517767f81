#include "support/test_files.h"

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfOutputFile.h>
#include <ImfStandardAttributes.h>
#include <ImfStringAttribute.h>
#include <QFile>
#include <QProcess>
#include <half.h>
#include <list>

namespace retinex::test {

void writeChannels(const std::string& file, int width, int height, const std::vector<Channel>& channels)
{
    Imf::Header header(width, height);
    header.insert("scene", Imf::StringAttribute("test"));
    // Of the scene-linear space of the configuration that comes with the program (ACEScg: S-2014-004), so
    // that numbers are read as they are.
    Imf::addChromaticities(header,
                           {{0.713F, 0.293F}, {0.165F, 0.830F}, {0.128F, 0.044F}, {0.32168F, 0.33767F}});
    Imf::FrameBuffer buffer;
    std::list<Plane<float>> floats;
    std::list<Plane<half>> halves;
    for (const Channel& channel : channels) {
        header.channels().insert(channel.name, Imf::Channel(channel.asHalf ? Imf::HALF : Imf::FLOAT));
        floats.emplace_back(width, height);
        halves.emplace_back(width, height);
        for (int y = 0; y < height; ++y) {
            for (int x = 0; x < width; ++x) {
                floats.back().at(x, y) = channel.value(x, y);
                halves.back().at(x, y) = half(channel.value(x, y));
            }
        }
        const auto window = header.dataWindow();
        buffer.insert(channel.name, channel.asHalf
                                        ? Imf::Slice::Make(Imf::HALF, halves.back().row(0), window)
                                        : Imf::Slice::Make(Imf::FLOAT, floats.back().row(0), window));
    }
    Imf::OutputFile out(file.c_str(), header);
    out.setFrameBuffer(buffer);
    out.writePixels(height);
}

void writeScene(const std::string& file, int width, int height)
{
    const auto inSquare = [=](int x, int y) {
        return x > width / 3 && x < 2 * width / 3 && y > height / 3 && y < 2 * height / 3;
    };
    const auto isGap = [=](int, int y) { return y < height / 4; };
    std::vector<Channel> channels;
    for (const char* name : {"R", "G", "B"})
        channels.push_back(
            {name, true, [=](int x, int y) {
                 return isGap(x, y) ? 0.0F : inSquare(x, y) ? 0.9F : 0.1F + 0.002F * static_cast<float>(x);
             }});
    channels.push_back({"A", true, [=](int x, int y) { return isGap(x, y) ? 0.0F : 1.0F; }});
    channels.push_back({"Z", false, [=](int x, int y) {
                            return isGap(x, y) ? 0.0F : inSquare(x, y) ? 2.0F : 6.0F;
                        }});
    writeChannels(file, width, height, channels);
}

Outcome runProgram(const QString& program, const QStringList& arguments, const QString& folder)
{
    QProcess process;
    if (!folder.isEmpty()) process.setWorkingDirectory(folder);
    process.start(program, arguments);
    if (!process.waitForStarted() || !process.waitForFinished(120'000)) return {};
    return {process.exitCode(), QString::fromUtf8(process.readAllStandardOutput()),
            QString::fromUtf8(process.readAllStandardError())};
}

QByteArray bytesOf(const QString& file)
{
    QFile in(file);
    return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray();
}

} // namespace retinex::test
