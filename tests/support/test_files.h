#pragma once

#include "core/image/image.h"

#include <QString>
#include <QTemporaryDir>
#include <functional>
#include <string>
#include <vector>

/// Small pictures and files for tests, made in code.
namespace retinex::test {

/// A channel of a test file.
struct Channel
{
    std::string name;
    bool asHalf = false;
    std::function<float(int x, int y)> value;
};

/// Writes a one-part scanline EXR with the OpenEXR library.
void writeChannels(const std::string& file, int width, int height, const std::vector<Channel>& channels);

/// Colour R, G, B, A (half) and depth Z (float): a bright square at distance 2 before a wall at distance 6, a
/// gap along the top quarter.
void writeScene(const std::string& file, int width = 64, int height = 48);

/// Runs a program of the system; returns its exit code, or -1 when it could not be started.
struct Outcome
{
    int exitCode = -1;
    QString out;
    QString err;
};
Outcome runProgram(const QString& program, const QStringList& arguments, const QString& folder = {});

/// Bytes of a file, for "was not changed".
QByteArray bytesOf(const QString& file);

} // namespace retinex::test
