#include "app/document/document.h"

#include "app/commands/project_command.h"
#include "core/project/project_file.h"

#include <QFileInfo>
#include <algorithm>

namespace retinex::app {

Document::Document(QObject* parent) : QObject(parent)
{
    connect(&m_undo, &QUndoStack::cleanChanged, this, &Document::titleChanged);
}

QString Document::title() const
{
    if (!m_file.isEmpty()) return QFileInfo(m_file).fileName();
    if (m_source) return QString::fromStdString(m_project.colour.file.filename().string());
    return {};
}

void Document::open(project::Project project, SourcePtr source, const QString& file,
                    nlohmann::ordered_json kept)
{
    m_project = std::move(project);
    m_source = std::move(source);
    m_file = file;
    m_kept = std::move(kept);
    m_frame = m_project.firstFrame;
    m_choices = {{m_project.colour, m_project.depth, m_project.passOptions, m_source}};
    m_undo.clear();
    emit opened();
    emit projectChanged();
    emit frameChanged(m_frame);
    emit titleChanged();
}

void Document::save(const QString& file)
{
    project::saveProject(file.toStdString(), m_project, m_kept);
    m_file = file;
    m_undo.setClean();
    emit titleChanged();
}

void Document::setFrame(int frame)
{
    frame = std::clamp(frame, m_project.firstFrame, m_project.lastFrame);
    if (frame == m_frame) return;
    m_frame = frame;
    emit frameChanged(frame);
}

void Document::edit(const QString& what, const project::Project& changed, int gesture)
{
    if (changed == m_project) return;
    m_undo.push(new ProjectCommand(*this, what, m_project, changed, gesture));
}

double Document::heldDistance(double distance) const
{
    return std::max(distance, m_project.fromMillimetres(1.05 * m_project.focalLengthMm));
}

void Document::setFocusDistance(double distance, int gesture)
{
    project::Project changed = m_project;
    const double held = heldDistance(distance);
    if (changed.marks.empty()) {
        changed.focusDistance = held;
        edit(tr("set focus distance"), changed, gesture);
        return;
    }
    const timeline::Mark* present = timeline::markOn(changed.marks, m_frame);
    timeline::setMark(changed.marks, {m_frame, held, present ? present->ease : timeline::Ease::smooth});
    edit(tr("set mark at %1").arg(m_frame), changed, gesture);
}

void Document::setFStop(double fStop, int gesture)
{
    project::Project changed = m_project;
    changed.fStop = std::clamp(fStop, 0.1, 128.0);
    edit(tr("set f-stop"), changed, gesture);
}

void Document::setMark(const timeline::Mark& mark, int gesture)
{
    project::Project changed = m_project;
    timeline::setMark(changed.marks, {mark.frame, heldDistance(mark.distance), mark.ease});
    edit(tr("set mark at %1").arg(mark.frame), changed, gesture);
}

void Document::removeMark(int frame)
{
    project::Project changed = m_project;
    const timeline::Mark* mark = timeline::markOn(changed.marks, frame);
    if (!mark) return;
    if (changed.marks.size() == 1) // the last one leaves its distance behind
        changed.focusDistance = mark->distance;
    timeline::removeMark(changed.marks, frame);
    edit(tr("delete mark at %1").arg(frame), changed);
}

void Document::moveMark(int from, const timeline::Mark& to, int gesture)
{
    project::Project changed = m_project;
    if (!timeline::removeMark(changed.marks, from)) return;
    timeline::setMark(changed.marks, {to.frame, heldDistance(to.distance), to.ease});
    edit(tr("move mark at %1").arg(to.frame), changed, gesture);
}

SourcePtr Document::sourceFor(const project::Project& project) const
{
    for (const Choice& choice : m_choices)
        if (choice.colour == project.colour && choice.depth == project.depth &&
            choice.options == project.passOptions)
            return choice.source;
    return m_source;
}

void Document::choosePasses(const QString& what, const project::Project& changed, SourcePtr source)
{
    m_choices.push_back({changed.colour, changed.depth, changed.passOptions, std::move(source)});
    edit(what, changed);
}

void Document::refreshPasses(SourcePtr source)
{
    for (Choice& choice : m_choices)
        if (choice.source == m_source) choice.source = source;
    m_source = std::move(source);
    // Frames that joined at an end are worked on too; this is no change of the artist's.
    m_project.firstFrame = std::min(m_project.firstFrame, m_source->firstFrame());
    m_project.lastFrame = std::max(m_project.lastFrame, m_source->lastFrame());
    emit sourceChanged();
    emit projectChanged();
}

void Document::replaceProject(const project::Project& project)
{
    const SourcePtr before = m_source;
    m_project = project;
    m_source = sourceFor(project);
    m_frame = std::clamp(m_frame, m_project.firstFrame, m_project.lastFrame);
    if (m_source != before) emit sourceChanged();
    emit projectChanged();
}

} // namespace retinex::app
