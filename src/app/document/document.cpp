#include "app/document/document.h"

#include "app/commands/project_command.h"
#include "core/passes/file_state.h"
#include "core/project/file/project_file.h"

#include <QFileInfo>
#include <algorithm>
#include <utility>

namespace retinex::app {

QString settingTitle(const SettingPath& id, const project::Settings& of)
{
    const QString title = QString::fromStdString(project::infoOf(id)->title);
    for (const regions::Region& region : of.regions)
        if (id.text().starts_with("regions/" + region.id + '/'))
            return QStringLiteral("%1: %2").arg(QString::fromStdString(region.name), title);
    for (const inserts::Insert& insert : of.inserts)
        if (id.text().starts_with("inserts/" + insert.id + '/'))
            return QStringLiteral("%1: %2").arg(QString::fromStdString(insert.name), title);
    return title;
}

Document::Document(QObject* parent) : QObject(parent)
{
    connect(&m_undo, &QUndoStack::cleanChanged, this, &Document::titleChanged);
}

QString Document::title() const
{
    if (!m_file.isEmpty()) return QFileInfo(m_file).fileName();
    if (m_source)
        return m_project.colour.file.empty()
                   ? tr("untitled")
                   : QString::fromStdString(m_project.colour.file.filename().string());
    return {};
}

void Document::open(project::Project project, SourcePtr source, const QString& file, bool isUnsaved)
{
    m_project = std::move(project);
    m_source = std::move(source);
    m_file = file;
    m_fileState = passes::fileState(file.toStdString());
    m_isUnsaved = isUnsaved;
    m_frame = m_project.firstFrame;
    valuesChanged();
    m_focused.reset();
    m_choices = {{m_project.colour, m_project.depth, m_project.passOptions, m_source}};
    m_undo.clear();
    emit opened();
    emit projectChanged();
    emit frameChanged(m_frame);
    emit titleChanged();
}

void Document::save(const QString& file)
{
    project::saveProject(file.toStdString(), m_project);
    m_file = file;
    m_fileState = passes::fileState(file.toStdString());
    m_isUnsaved = false;
    m_undo.setClean();
    emit titleChanged();
}

void Document::setUnmodified()
{
    m_isUnsaved = false;
    m_undo.setClean();
    emit titleChanged();
}

bool Document::fileWasChanged() const
{
    return !m_file.isEmpty() && passes::fileState(m_file.toStdString()) != m_fileState;
}

void Document::setFrame(int frame)
{
    frame = std::clamp(frame, m_project.firstFrame, m_project.lastFrame);
    if (frame == m_frame) return;
    m_frame = frame;
    valuesChanged();
    emit frameChanged(frame);
}

void Document::edit(const QString& what, const project::Project& changed, int gesture)
{
    if (changed == m_project) return;
    m_undo.push(new ProjectCommand(*this, what, m_project, changed, gesture));
}

void Document::editShot(const QString& what, const std::function<void(project::Shot&)>& change, int gesture)
{
    project::Project changed = m_project;
    change(changed.shotAt(m_frame));
    edit(what, changed, gesture);
}

void Document::editSettings(const QString& what, const std::function<void(project::Settings&)>& change,
                            int gesture)
{
    project::Settings after = m_values;
    change(after);
    std::vector<SettingPath> added;
    editShot(
        what,
        [&](project::Shot& shot) {
            const project::Settings plain = std::exchange(shot.settings, after);
            for (auto& [id, marks] : shot.tracks) { // these have no plain value: the change is for the marks
                const auto info = project::infoOf(id);
                info->set(shot.settings, info->get(plain));
                if (info->get(after) == info->get(m_values)) continue;
                if (changeMarks(marks, id, held(id, info->get(after), m_values))) added.push_back(id);
            }
        },
        gesture);
    for (const SettingPath& id : added)
        emit markAdded(id, m_frame);
}

bool Document::changeMarks(timeline::Marks& marks, const SettingPath& id, double value) const
{
    const auto info = project::infoOf(id);
    const auto* present = timeline::markOn(marks, m_frame);
    if (!present && m_betweenMarks == BetweenMarks::shiftAll) {
        const double before = info->get(m_values);
        for (timeline::Mark& mark : marks) {
            if (mark.isBound()) continue;
            const double moved = info->blend == timeline::Blend::ratio ? mark.value * (value / before)
                                                                       : mark.value + (value - before);
            mark.value = held(id, moved, m_values);
        }
        return false;
    }
    timeline::Mark mark{m_frame, value};
    if (present) mark = *present;
    mark.value = value;
    mark.subject.clear();
    const bool isNew = !present; // setMark may move what it points to
    timeline::setMark(marks, mark);
    return isNew;
}

double Document::held(const SettingPath& id, double value, const project::Settings& settings) const
{
    const auto info = project::infoOf(id);
    if (id == setting::focusDistance) return std::max(value, m_project.nearestFocus(settings.focalLengthMm));
    return info->held(value);
}

void Document::changeSetting(const SettingPath& id, double value, int gesture)
{
    const auto info = project::infoOf(id);
    const QString title = settingTitle(id, m_values);
    const auto& marks = this->marks(id);
    const bool onMark = timeline::markOn(marks, m_frame) != nullptr;
    const QString what = marks.empty() ? tr("set %1").arg(title)
                         : !onMark && m_betweenMarks == BetweenMarks::shiftAll
                             ? tr("shift all marks of %1").arg(title)
                             : tr("set mark at %1").arg(m_frame);
    editSettings(
        what, [&](project::Settings& settings) { info->set(settings, held(id, value, m_values)); }, gesture);
}

void Document::focusOn(project::Pixel pixel, double distance)
{
    setFocusDistance(distance);
    m_focused = {m_frame, pixel, m_values.focusDistance};
}

std::optional<project::Pixel> Document::focusedPixel() const noexcept
{
    if (!m_focused || m_focused->frame != m_frame || m_focused->distance != m_values.focusDistance)
        return std::nullopt;
    return m_focused->pixel;
}

void Document::editReading(const QString& what, const passes::FramePassesPtr& passes,
                           const std::function<void(depth::ReadingSettings&)>& change, int gesture)
{
    const auto pixel = focusedPixel();
    editSettings(
        what,
        [&](project::Settings& settings) {
            const depth::ReadingSettings before = settings.reading;
            change(settings.reading);
            if (!passes || depth::essential(before) == depth::essential(settings.reading)) return;
            project::followReading(settings, before, passes->range, *passes->raw, m_project.metresPerUnit,
                                   pixel, marks().empty());
        },
        gesture);
    if (pixel) m_focused = {m_frame, *pixel, m_values.focusDistance};
}

void Document::setBetweenMarks(BetweenMarks choice)
{
    if (choice == m_betweenMarks) return;
    m_betweenMarks = choice;
    emit betweenMarksChanged();
}

void Document::editMarks(const QString& what, const SettingPath& id, int frame,
                         const std::function<void(timeline::Marks&)>& change, int gesture)
{
    project::Project changed = m_project;
    project::Shot& shot = changed.shotAt(frame);
    timeline::Marks& marks = shot.tracks[id];
    const timeline::Marks before = marks;
    change(marks);
    for (timeline::Mark& mark : marks)
        mark.value = held(id, mark.value, shot.settings);
    if (marks.empty()) {
        if (!before.empty()) project::infoOf(id)->set(shot.settings, before.back().value);
        shot.tracks.erase(id);
    }
    edit(what, changed, gesture);
}

void Document::setMarkHere(const SettingPath& id)
{
    editMarks(tr("set mark at %1").arg(m_frame), id, m_frame, [&](timeline::Marks& marks) {
        if (timeline::markOn(marks, m_frame)) return;
        timeline::insertMark(marks, m_frame, project::infoOf(id)->get(m_values));
        // A ride that is ended by a mark goes over into a pull to the next one.
        for (timeline::Mark& mark : marks)
            if (mark.frame == m_frame && mark.isBound() && mark.leaving.ease == timeline::Ease::hold)
                mark.leaving = timeline::Ease::smooth;
    });
}

void Document::removeMark(const SettingPath& id, int frame)
{
    editMarks(tr("delete mark at %1").arg(frame), id, frame,
              [&](timeline::Marks& marks) { timeline::removeMark(marks, frame); });
}

void Document::valuesChanged()
{
    m_values = m_project.valuesAt(m_frame);
}

void Document::setSamples(const std::string& subject, SharedList<timeline::Sample> samples,
                          const std::string& measuredAs)
{
    timeline::Subject* found = m_project.subjectNamed(subject);
    if (!found || found->measuredAs == measuredAs) return;
    found->samples = std::move(samples);
    found->measuredAs = measuredAs;
    valuesChanged();
    emit projectChanged();
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
    if (m_source && m_source != source) m_source->forgetFrames();
    m_source = std::move(source);
    // Frames that joined at an end are worked on too; this is no change of the artist's.
    m_project.firstFrame = std::min(m_project.firstFrame, m_source->firstFrame());
    m_project.lastFrame = std::max(m_project.lastFrame, m_source->lastFrame());
    m_project.readFilesAgain();
    valuesChanged();
    emit sourceChanged();
    emit projectChanged();
}

void Document::replaceProject(const project::Project& project)
{
    const SourcePtr before = m_source;
    m_project = project;
    m_source = sourceFor(project);
    if (before && m_source != before) before->forgetFrames(); // undo finds it, and reads again
    m_frame = std::clamp(m_frame, m_project.firstFrame, m_project.lastFrame);
    valuesChanged();
    if (m_source != before) emit sourceChanged();
    emit projectChanged();
}

} // namespace retinex::app
