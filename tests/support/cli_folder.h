#pragma once

#include "support/test_files.h"

#include <QDir>
#include <QTemporaryDir>

namespace retinex::test {

/// A folder that the command line program runs in: with frames 1, 2 and 4 of a small scene, in.0001.exr and
/// so on.
class CliFolder
{
public:
    [[nodiscard]] Outcome cli(const QStringList& arguments) const
    {
        return runProgram(RETINEX_CLI, arguments, m_dir.path());
    }
    [[nodiscard]] static QStringList lens()
    {
        return {"--focus", "2", "--fstop", "0.7", "--focal-length", "50", "--sensor-width", "36"};
    }
    [[nodiscard]] QStringList files(const QString& folder) const
    {
        return QDir(m_dir.filePath(folder)).entryList(QDir::Files | QDir::Hidden, QDir::Name);
    }

protected:
    void writeFrames() const
    {
        for (const int frame : {1, 2, 4})
            writeScene(m_dir.filePath(QStringLiteral("in.%1.exr").arg(frame, 4, 10, QLatin1Char('0')))
                           .toStdString());
    }

    QTemporaryDir m_dir;
};

} // namespace retinex::test
