#include "app/controllers/subjects_controller.h"

#include "core/system/error.h"

#include <QInputDialog>
#include <QTimer>
#include <algorithm>

namespace retinex::app {

SubjectsController::SubjectsController(Workbench& bench) : QObject(&bench.window), m_bench(bench)
{
    SubjectPanel& panel = m_bench.sheet->subjects();
    connect(&m_bench.document, &Document::projectChanged, this, &SubjectsController::update);
    connect(&m_bench.document, &Document::sourceChanged, this, &SubjectsController::update);
    connect(&m_bench.document, &Document::opened, this, [this] { m_toTrack.clear(); });
    connect(&m_bench.subjects, &SubjectService::measured, &m_bench.document, &Document::setSamples);
    connect(&m_bench.subjects, &SubjectService::measureFailed, this,
            [this](const QString& message) { m_bench.message->show(MessageBar::Kind::trouble, message); });
    connect(&m_bench.subjects, &SubjectService::trackProgress, this, [this, &panel](int frame, int last) {
        panel.setProgress(tr("tracking: frame %1, to %2").arg(frame).arg(last));
    });
    connect(&m_bench.subjects, &SubjectService::tracked, this, &SubjectsController::showTracked);
    connect(&m_bench.subjects, &SubjectService::trackFailed, this, [this, &panel](const QString& message) {
        m_toTrack.clear();
        panel.setProgress({});
        m_bench.message->show(MessageBar::Kind::notice, message);
    });
    connect(&panel, &SubjectPanel::placeAsked, this,
            [this] { m_bench.picture->setTool(PictureTool::subject); });
    connect(&panel, &SubjectPanel::outlineAsked, this,
            [this] { m_bench.picture->setTool(PictureTool::outline); });
    connect(&panel, &SubjectPanel::trackAsked, this, &SubjectsController::track);
    connect(&panel, &SubjectPanel::cancelAsked, this, [this] {
        m_toTrack.clear();
        m_bench.subjects.cancelTracking();
    });
    connect(&panel, &SubjectPanel::rideAsked, this, &SubjectsController::rideOnSubject);
    connect(&panel, &SubjectPanel::scenePointAsked, this, &SubjectsController::addScenePoint);
    connect(&panel, &SubjectPanel::chosenChanged, this, [this, &panel] {
        m_bench.picture->subjects().setChosen(panel.chosen());
        m_bench.picture->update();
    });
    connect(m_bench.picture, &PictureView::subjectPlaced, this, [&panel](QPointF at) { panel.add(at); });
    connect(m_bench.picture, &PictureView::subjectDragged, &panel, &SubjectPanel::moveTo);
    connect(m_bench.picture, &PictureView::outlineDrawn, this, [this, &panel](const QPolygonF& corners) {
        panel.setOutline(corners);
        m_bench.picture->setTool(PictureTool::focus);
    });
}

void SubjectsController::update()
{
    if (!m_bench.document.isOpen()) return;
    const auto& project = m_bench.document.project();
    if (project.scene.file != m_sceneFile) {
        m_sceneFile = project.scene.file;
        const auto set = [this](std::shared_ptr<const passes::SceneFile> scene) {
            m_scene = std::move(scene);
            m_bench.picture->subjects().setScene(m_scene);
            m_bench.picture->update();
        };
        set(nullptr);
        m_reading.drop();
        // Where it cannot be read the Passes section says what is wrong with it.
        if (!m_sceneFile.empty())
            m_reading.start(tr("Reading the scene"), [set, file = m_sceneFile](const Background::Task& task) {
                const auto read = std::make_shared<const passes::SceneFile>(passes::SceneFile::load(file));
                task.post([set, read] { set(read); });
            });
    }
    if (!project.subjects.empty())
        m_bench.subjects.update(m_bench.document.source(), std::make_shared<project::Project>(project));
}

/// All that are chosen, one after the other.
void SubjectsController::track(bool back)
{
    emit machineNeeded();
    m_toTrack = m_bench.sheet->subjects().allChosen();
    std::ranges::reverse(m_toTrack);
    m_tracksBack = back;
    m_trackedFrom = m_bench.document.frame();
    trackNext();
}

void SubjectsController::trackNext()
{
    while (!m_toTrack.empty()) {
        const std::string name = m_toTrack.back();
        m_toTrack.pop_back();
        m_bench.sheet->subjects().setProgress(tr("tracking %1…").arg(QString::fromStdString(name)));
        if (m_bench.subjects.track(m_bench.document.source(),
                                   std::make_shared<project::Project>(m_bench.document.project()), name,
                                   m_trackedFrom, m_tracksBack))
            return;
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("%1 has no place in this shot. Place it first: press U and drag or click.")
                                  .arg(QString::fromStdString(name)));
    }
    m_bench.sheet->subjects().setProgress({});
}

void SubjectsController::showTracked(const std::string& name, const timeline::FrameRange& range,
                                     const tracking::Track& track)
{
    const QString title = QString::fromStdString(name);
    project::Project changed = m_bench.document.project();
    if (timeline::Subject* subject = changed.subjectNamed(name)) {
        timeline::replaceTracked(*subject, range, track.places);
        m_bench.document.edit(tr("track %1").arg(title), changed);
    }
    QTimer::singleShot(0, this, &SubjectsController::trackNext); // the service is busy until this is heard
    if (track.end == tracking::TrackEnd::done) {
        m_bench.message->show(
            MessageBar::Kind::notice,
            tr("%1 is tracked on frames %2 to %3.").arg(title).arg(range.first).arg(range.last));
        return;
    }
    m_bench.document.setFrame(track.endFrame);
    m_bench.message->show(
        MessageBar::Kind::trouble,
        track.end == tracking::TrackEnd::lost
            ? tr("%1 is lost at %2: nothing there looks like it. Put it there by hand (U, drag), and "
                 "track on.")
                  .arg(title)
                  .arg(track.endFrame)
            : tr("%1 leaves the picture at %2.").arg(title).arg(track.endFrame));
}

/// A mark that is bound to it, and holds until the next mark.
void SubjectsController::rideOnSubject()
{
    const std::string name = m_bench.sheet->subjects().chosen();
    const int frame = m_bench.document.frame();
    const auto* subject = m_bench.document.project().subjectNamed(name);
    if (!subject) return;
    const auto distance = timeline::distanceAt(*subject, frame);
    if (!distance) {
        m_bench.message->show(
            MessageBar::Kind::notice,
            tr("The distance of %1 is not known on frame %2.").arg(QString::fromStdString(name)).arg(frame));
        return;
    }
    m_bench.document.editMarks(tr("ride on %1 from %2").arg(QString::fromStdString(name)).arg(frame),
                               setting::focusDistance, frame, [&](timeline::Marks& marks) {
                                   timeline::Mark mark{frame, *distance};
                                   if (const auto* present = timeline::markOn(marks, frame)) mark = *present;
                                   mark.value = *distance;
                                   mark.subject = name;
                                   mark.leaving = timeline::Ease::hold;
                                   timeline::setMark(marks, mark);
                               });
    m_bench.deskState.choose(setting::focusDistance, {frame});
}

void SubjectsController::addScenePoint()
{
    const auto& scene = m_bench.document.project().scene;
    if (scene.file.empty()) {
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("There is no scene file. Choose a glTF file in the Passes section first."));
        return;
    }
    if (!m_scene) {
        m_bench.message->show(
            MessageBar::Kind::notice,
            m_reading.isBusy()
                ? tr("The scene file is still being read.")
                : tr("The scene file cannot be read. Choose another one in the Passes section."));
        return;
    }
    try {
        QStringList names;
        for (const auto& point : m_scene->points())
            names << QString::fromStdString(point.name);
        bool accepted = false;
        const QString name = QInputDialog::getItem(&m_bench.window, tr("Subject from the scene"), tr("Point"),
                                                   names, 0, false, &accepted);
        if (!accepted || name.isEmpty()) return;
        project::Project changed = m_bench.document.project();
        // A comma would part the name where subjects are listed.
        timeline::Subject subject{
            QString(name).replace(QLatin1String(", "), QLatin1String(" ")).toStdString(), name.toStdString()};
        for (int i = 2; changed.subjectNamed(subject.name); ++i)
            subject.name = QStringLiteral("%1 %2")
                               .arg(QString(name).replace(QLatin1String(", "), QLatin1String(" ")))
                               .arg(i)
                               .toStdString();
        changed.subjects.push_back(subject);
        m_bench.document.edit(tr("add %1").arg(name), changed);
        m_bench.sheet->subjects().choose(subject.name);
    } catch (const Error& error) {
        m_bench.message->show(MessageBar::Kind::trouble, QString::fromStdString(error.what()));
    }
}

} // namespace retinex::app
