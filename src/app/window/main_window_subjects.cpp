// What the window does about subjects: placing, measuring, tracking, and focus that rides on them.
#include "app/window/main_window.h"

#include "core/base/error.h"
#include "core/project/fingerprint.h"

#include <QInputDialog>

namespace retinex::app {

void MainWindow::connectSubjects()
{
    SubjectPanel& panel = m_sheet->subjects();
    connect(&m_document, &Document::projectChanged, this, &MainWindow::updateSubjects);
    connect(&m_subjects, &SubjectService::measured, &m_document, &Document::setSamples);
    connect(&m_subjects, &SubjectService::measureFailed, this,
            [this](const QString& message) { m_message->show(MessageBar::Kind::trouble, message); });
    connect(&m_subjects, &SubjectService::trackProgress, this, [this, &panel](int frame, int last) {
        panel.setProgress(tr("tracking: frame %1, to %2").arg(frame).arg(last));
    });
    connect(&m_subjects, &SubjectService::tracked, this, &MainWindow::showTracked);
    connect(&m_subjects, &SubjectService::trackFailed, this, [this, &panel](const QString& message) {
        panel.setProgress({});
        m_message->show(MessageBar::Kind::notice, message);
    });
    connect(&panel, &SubjectPanel::placeAsked, this, [this] { m_picture->setTool(PictureTool::subject); });
    connect(&panel, &SubjectPanel::outlineAsked, this, [this] { m_picture->setTool(PictureTool::outline); });
    connect(&panel, &SubjectPanel::trackAsked, this, &MainWindow::track);
    connect(&panel, &SubjectPanel::cancelAsked, &m_subjects, &SubjectService::cancelTracking);
    connect(&panel, &SubjectPanel::rideAsked, this, &MainWindow::rideOnSubject);
    connect(&panel, &SubjectPanel::scenePointAsked, this, &MainWindow::addScenePoint);
    connect(&panel, &SubjectPanel::chosenChanged, this, [this, &panel] {
        m_picture->subjects().setChosen(panel.chosen());
        m_picture->update();
    });
    connect(m_picture, &PictureView::subjectPlaced, this, [this, &panel](QPointF at) {
        panel.add(at);
        m_picture->setTool(PictureTool::focus); // one click, one subject
    });
    connect(m_picture, &PictureView::subjectDragged, &panel, &SubjectPanel::moveTo);
    connect(m_picture, &PictureView::outlineDrawn, this, [this, &panel](const QPolygonF& corners) {
        panel.setOutline(corners);
        m_picture->setTool(PictureTool::focus);
    });
}

void MainWindow::updateSubjects()
{
    if (!m_document.isOpen()) return;
    const auto& project = m_document.project();
    if (project.scene.file != m_sceneFile) {
        m_sceneFile = project.scene.file;
        std::shared_ptr<const passes::SceneFile> scene;
        try {
            if (!m_sceneFile.empty())
                scene = std::make_shared<passes::SceneFile>(passes::SceneFile::load(m_sceneFile));
        } catch (const Error&) {
            // The Passes section says what is wrong with it.
        }
        m_picture->subjects().setScene(std::move(scene));
    }
    if (!project.subjects.empty())
        m_subjects.update(m_document.source(), std::make_shared<project::Project>(project));
}

void MainWindow::track(bool back)
{
    needMachine();
    const std::string name = m_sheet->subjects().chosen();
    if (!m_subjects.track(m_document.source(), std::make_shared<project::Project>(m_document.project()), name,
                          m_document.frame(), back))
        m_message->show(MessageBar::Kind::notice,
                        tr("%1 has no place in this shot. Place it first: press U and drag or click.")
                            .arg(QString::fromStdString(name)));
    m_sheet->subjects().setProgress(tr("tracking…"));
}

void MainWindow::showTracked(const std::string& name, const timeline::FrameRange& range,
                             const tracking::Track& track)
{
    const QString title = QString::fromStdString(name);
    project::Project changed = m_document.project();
    if (timeline::Subject* subject = changed.subjectNamed(name)) {
        timeline::replaceTracked(*subject, range, track.places);
        m_document.edit(tr("track %1").arg(title), changed);
    }
    m_sheet->subjects().setProgress({});
    if (track.end == tracking::TrackEnd::done) {
        m_message->show(MessageBar::Kind::notice, tr("%1 is tracked on frames %2 to %3.")
                                                      .arg(title)
                                                      .arg(range.first)
                                                      .arg(range.last));
        return;
    }
    m_document.setFrame(track.endFrame);
    m_message->show(MessageBar::Kind::trouble,
                    track.end == tracking::TrackEnd::lost
                        ? tr("%1 is lost at %2: nothing there looks like it. Put it there by hand (U, drag), and "
                             "track on.")
                              .arg(title)
                              .arg(track.endFrame)
                        : tr("%1 leaves the picture at %2.").arg(title).arg(track.endFrame));
}

/// A mark that is bound to it, and holds until the next mark.
void MainWindow::rideOnSubject()
{
    const std::string name = m_sheet->subjects().chosen();
    const int frame = m_document.frame();
    const auto* subject = m_document.project().subjectNamed(name);
    if (!subject) return;
    const auto distance = timeline::distanceAt(*subject, frame);
    if (!distance) {
        m_message->show(MessageBar::Kind::notice,
                        tr("The distance of %1 is not known on frame %2.")
                            .arg(QString::fromStdString(name))
                            .arg(frame));
        return;
    }
    m_document.editMarks(tr("ride on %1 from %2").arg(QString::fromStdString(name)).arg(frame),
                         setting::focusDistance, frame, [&](timeline::Marks& marks) {
                             timeline::Mark mark{frame, *distance};
                             if (const auto* present = timeline::markOn(marks, frame)) mark = *present;
                             mark.value = *distance;
                             mark.subject = name;
                             mark.leaving = timeline::Ease::hold;
                             timeline::setMark(marks, mark);
                         });
    m_deskState.choose(setting::focusDistance, {frame});
}

void MainWindow::addScenePoint()
{
    const auto& scene = m_document.project().scene;
    if (scene.file.empty()) {
        m_message->show(MessageBar::Kind::notice,
                        tr("There is no scene file. Choose a glTF file in the Passes section first."));
        return;
    }
    try {
        QStringList names;
        for (const auto& point : passes::SceneFile::load(scene.file).points())
            names << QString::fromStdString(point.name);
        bool accepted = false;
        const QString name = QInputDialog::getItem(this, tr("Subject from the scene"), tr("Point"), names, 0,
                                                   false, &accepted);
        if (!accepted || name.isEmpty()) return;
        project::Project changed = m_document.project();
        timeline::Subject subject{name.toStdString(), name.toStdString()};
        for (int i = 2; changed.subjectNamed(subject.name); ++i)
            subject.name = QStringLiteral("%1 %2").arg(name).arg(i).toStdString();
        changed.subjects.push_back(subject);
        m_document.edit(tr("add %1").arg(name), changed);
        m_sheet->subjects().choose(subject.name);
    } catch (const Error& error) {
        m_message->show(MessageBar::Kind::trouble, QString::fromStdString(error.what()));
    }
}

} // namespace retinex::app
