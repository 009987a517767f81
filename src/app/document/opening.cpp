#include "app/document/opening.h"

#include "core/base/error.h"
#include "core/project/project_file.h"

#include <QDir>
#include <QFileInfo>
#include <algorithm>
#include <fmt/format.h>

namespace retinex::app {

namespace {

/// The file in a folder that stands for it: a project, or else the first EXR by name.
QString fileInFolder(const QString& folder)
{
    const QDir dir(folder);
    for (const QString& filter : {QStringLiteral("*.retinex"), QStringLiteral("*.exr")}) {
        const QStringList found = dir.entryList({filter}, QDir::Files, QDir::Name);
        if (!found.isEmpty()) return dir.filePath(found.front());
    }
    throw Error(
        fmt::format("{}: no project and no EXR file in this folder. Choose a folder that holds passes.",
                    folder.toStdString()));
}

QString missingNotice(const passes::PassSource& source)
{
    const auto missing = source.missingFrames();
    if (missing.empty()) return {};
    return QObject::tr("%1: frames %2 are missing. The others can be worked on; render the missing ones.")
        .arg(QString::fromStdString(source.colourFiles().pattern().filename().string()),
             QString::fromStdString(passes::describeFrames(missing)));
}

Opened openProject(const QString& file)
{
    Opened opened;
    auto loaded = project::loadProject(file.toStdString());
    opened.source = std::make_shared<passes::PassSource>(loaded.project.colour, loaded.project.depth);
    opened.project = std::move(loaded.project);
    opened.kept = std::move(loaded.document);
    opened.file = file;
    opened.notice = missingNotice(*opened.source);
    return opened;
}

/// The frames of one sequence count as one file.
QStringList withoutRepeats(const QStringList& files)
{
    QStringList kept;
    std::vector<std::filesystem::path> patterns;
    for (const QString& file : files) {
        const auto pattern = passes::Sequence::find(file.toStdString()).pattern();
        if (std::find(patterns.begin(), patterns.end(), pattern) != patterns.end()) continue;
        patterns.push_back(pattern);
        kept.push_back(file);
    }
    return kept;
}

bool holdsColour(const QString& file)
{
    return !passes::colourLayers(passes::inspectExr(file.toStdString())).empty();
}

bool holdsDepth(const QString& file)
{
    return !passes::depthChannels(passes::inspectExr(file.toStdString())).empty();
}

Opened openPasses(const QStringList& files)
{
    passes::PassChoice colour{files.front().toStdString(), {}};
    passes::PassChoice depth;
    if (files.size() > 2)
        throw Error(
            fmt::format("{} different files were given. Give one file with colour and depth, or one of each.",
                        files.size()));
    if (files.size() == 2) {
        // The one that speaks of depth is the depth pass; where both or none do, the one with colour is not.
        const bool firstIsDepth = holdsDepth(files[0]) != holdsDepth(files[1])
                                      ? holdsDepth(files[0])
                                      : !holdsColour(files[0]) && holdsColour(files[1]);
        colour.file = files[firstIsDepth ? 1 : 0].toStdString();
        depth.file = files[firstIsDepth ? 0 : 1].toStdString();
    }
    Opened opened;
    opened.source = std::make_shared<passes::PassSource>(colour, depth);
    opened.project = project::projectFor(colour, depth, *opened.source);
    opened.notice = missingNotice(*opened.source);
    return opened;
}

} // namespace

Opened openFiles(const QStringList& files)
{
    if (files.isEmpty()) throw Error("No file was given. Choose an EXR file, a sequence or a project.");
    QStringList resolved;
    for (const QString& file : files)
        resolved.push_back(QFileInfo(file).isDir() ? fileInFolder(file) : file);
    if (resolved.front().endsWith(QLatin1String(".retinex"))) return openProject(resolved.front());
    return openPasses(withoutRepeats(resolved));
}

} // namespace retinex::app
