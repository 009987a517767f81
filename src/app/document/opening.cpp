#include "app/document/opening.h"

#include "core/passes/image_file.h"
#include "core/passes/movie/movie_file.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"

#include <QDir>
#include <QFileInfo>
#include <algorithm>
#include <fmt/format.h>

namespace retinex::app {

namespace {

/// What a folder stands for: its project, or else its pictures and scene file, once for each sequence.
QStringList filesInFolder(const QString& folder)
{
    const QDir dir(folder);
    const QStringList projects = dir.entryList({QStringLiteral("*.retinex")}, QDir::Files, QDir::Name);
    if (!projects.isEmpty()) return {dir.filePath(projects.front())};
    QStringList found;
    QStringList filters{QStringLiteral("*.gltf"), QStringLiteral("*.glb")};
    filters += picturePatterns();
    for (const QString& name : dir.entryList(filters, QDir::Files, QDir::Name))
        found.append(dir.filePath(name));
    if (found.isEmpty())
        throw Error(
            fmt::format("{}: no project and no picture in this folder. Choose a folder that holds passes.",
                        folder.toStdString()));
    return found;
}

QString noticeOf(const passes::PassSource& source)
{
    const auto missing = source.missingFrames();
    if (missing.empty()) return QString::fromStdString(source.sizeNotice());
    return QObject::tr("%1: frames %2 are missing. The others can be worked on; render the missing ones.")
        .arg(QString::fromStdString(source.colourFiles().pattern().filename().string()),
             QString::fromStdString(passes::describeFrames(missing)));
}

/// The frame that was chosen by its file: that is what the artist wants to see.
std::optional<int> chosenFrame(const passes::PassSource& source,
                               const std::vector<std::filesystem::path>& files)
{
    for (const passes::Sequence* sequence : {&source.colourFiles(), &source.depthFiles()}) {
        if (sequence->isStill()) continue;
        for (const int frame : sequence->frames())
            for (const auto& file : files)
                if (sequence->file(frame).filename() == file.filename()) return frame;
    }
    return std::nullopt;
}

Opened openPasses(const QStringList& files, const passes::Keeping& keeping)
{
    std::vector<std::filesystem::path> paths;
    for (const QString& file : files)
        paths.emplace_back(file.toStdString());
    auto sorted = passes::sortIntoRoles(paths);
    Opened opened;
    const auto read = [&](const passes::PassOptions& options) {
        opened.source = std::make_shared<passes::PassSource>(sorted.colour, sorted.depth, options, keeping);
        opened.project.passOptions = options;
    };
    passes::PassOptions usual;
    usual.motion.file = sorted.motion;
    usual.alpha = sorted.alpha;
    try {
        read(usual);
    } catch (const passes::DepthMissing&) { // regions make it
        passes::PassOptions byHand = usual;
        byHand.handMadeDepth = opened.lacksDepth = true;
        read(byHand);
    }
    const passes::PassOptions options = opened.project.passOptions;
    const int first = opened.source->firstFrame();
    auto analysis = passes::analysePasses(*opened.source, first, std::nullopt);
    opened.project =
        project::projectFor(sorted.colour, sorted.depth, *opened.source, analysis.proposal.settings);
    opened.project.passOptions = options;
    QStringList aside;
    for (const auto& file : sorted.leftAside())
        aside << QString::fromStdString(file.filename().string());
    opened.project.mattes = std::move(sorted.mattes);
    opened.project.scene.file = std::move(sorted.sceneFile);
    if (analysis.camera.framesPerSecond) {
        opened.project.scene.framesPerSecond = *analysis.camera.framesPerSecond;
        opened.project.playing.framesPerSecond = std::clamp(*analysis.camera.framesPerSecond, 1.0, 240.0);
    }
    opened.analysis = std::make_shared<passes::PassAnalysis>(std::move(analysis));
    opened.roles = std::move(sorted.roles);
    opened.frame = chosenFrame(*opened.source, paths);
    opened.notice = noticeOf(*opened.source);
    if (!aside.isEmpty()) {
        if (!opened.notice.isEmpty()) opened.notice += QLatin1Char('\n');
        opened.notice +=
            QObject::tr("%1 was opened; left aside: %2. One picture or sequence is worked on at a time.")
                .arg(QString::fromStdString(opened.project.colour.file.filename().string()),
                     aside.join(QStringLiteral(", ")));
    }
    return opened;
}

/// Another project of the folder that was opened is not lost from sight.
QString otherProjectsNotice(const QString& folder, const QString& taken)
{
    QStringList others = QDir(folder).entryList({QStringLiteral("*.retinex")}, QDir::Files, QDir::Name);
    others.removeAll(QFileInfo(taken).fileName());
    if (others.isEmpty()) return {};
    return QObject::tr("%1 was opened. The folder also has %2.")
        .arg(QFileInfo(taken).fileName(), others.join(QStringLiteral(", ")));
}

} // namespace

QStringList picturePatterns()
{
    QStringList patterns;
    for (const auto* endings : {&passes::pictureEndings(), &passes::movieEndings()})
        for (const std::string& ending : *endings)
            patterns.append(QStringLiteral("*") + QString::fromStdString(ending));
    return patterns;
}

QString pictureFilter()
{
    return QObject::tr("Pictures and movies (%1)").arg(picturePatterns().join(QLatin1Char(' ')));
}

Opened openLoaded(project::Project project, const QString& file, const passes::Keeping& keeping)
{
    Opened opened;
    opened.missing = project::missingFiles(project);
    try {
        opened.source =
            std::make_shared<passes::PassSource>(project.colour, project.depth, project.passOptions, keeping);
        opened.notice = noticeOf(*opened.source);
    } catch (const Error& error) { // the rest can be worked on meanwhile
        opened.source = passes::PassSource::standIn(project.colour, project.depth, project.passOptions,
                                                    project.firstFrame, project.lastFrame, error.what());
    }
    opened.project = std::move(project);
    opened.file = file;
    return opened;
}

Opened openFiles(const QStringList& files, const passes::Keeping& keeping)
{
    if (files.isEmpty()) throw Error("No file was given. Choose an EXR file, a sequence or a project.");
    QStringList resolved;
    for (const QString& file : files)
        resolved += QFileInfo(file).isDir() ? filesInFolder(file) : QStringList{file};
    if (resolved.front().endsWith(QLatin1String(".retinex"))) {
        const std::string file = resolved.front().toStdString();
        std::vector<std::string> putRight;
        Opened opened = openLoaded(project::loadProject(file, &putRight), resolved.front(), keeping);
        if (!putRight.empty())
            opened.notice = QString::fromStdString(project::putRightNotice(file, putRight));
        if (QFileInfo(files.front()).isDir() && opened.notice.isEmpty())
            opened.notice = otherProjectsNotice(files.front(), resolved.front());
        return opened;
    }
    return openPasses(resolved, keeping);
}

Opened openPictures(const QStringList& pictures, const passes::PassOptions& emptyFrame,
                    const passes::Keeping& keeping)
{
    std::vector<std::filesystem::path> files;
    for (const QString& picture : pictures)
        files.emplace_back(picture.toStdString());
    return openLoaded(project::projectOfPictures(files, emptyFrame), {}, keeping);
}

namespace {

/// Shots that were read like the one that was looked at are read anew.
void readAnew(project::Project& project, const passes::PassSource& source, const Rereading& before)
{
    const int frame = std::clamp(before.frame, project.firstFrame, project.lastFrame);
    std::optional<depth::ReadingSettings> proposed;
    if (before.wasProposed) proposed = passes::analysePasses(source, frame, std::nullopt).proposal.settings;
    const auto raw = source.loadRaw(frame);
    for (project::Shot& shot : project.shots) {
        if (shot.settings.reading != before.reading) continue;
        if (proposed) {
            depth::ReadingSettings reading = *proposed;
            if (!depth::needsEnds(reading.reading)) {
                reading.nearest = before.reading.nearest;
                reading.farthest = before.reading.farthest;
            }
            shot.settings.reading = reading;
        }
        project::followReading(shot.settings, before.reading, before.range, *raw, project.metresPerUnit,
                               before.focused, shot.marks(setting::focusDistance).empty());
    }
}

} // namespace

Opened openChoice(project::Project project, const passes::Keeping& keeping,
                  const std::optional<Rereading>& rereading)
{
    Opened opened;
    if (!project.colour.file.empty()) project.passOptions.emptyWidth = project.passOptions.emptyHeight = 0;
    opened.source =
        std::make_shared<passes::PassSource>(project.colour, project.depth, project.passOptions, keeping);
    project.firstFrame = opened.source->firstFrame();
    project.lastFrame = opened.source->lastFrame();
    if (rereading && !opened.source->options().handMadeDepth) readAnew(project, *opened.source, *rereading);
    opened.project = std::move(project);
    opened.notice = noticeOf(*opened.source);
    return opened;
}

} // namespace retinex::app
