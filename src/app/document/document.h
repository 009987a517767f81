#pragma once

#include "app/document/gesture.h"
#include "core/project/first_look.h"

#include <QObject>
#include <QString>
#include <QUndoStack>
#include <functional>
#include <memory>

namespace retinex::app {

using project::SettingPath;
namespace setting = project::setting;

/// As in a sentence: "f-stop"; of a region with its name: "logo: feather".
[[nodiscard]] QString settingTitle(const SettingPath& id, const project::Settings& of = {});

/// What a change of a setting does on a frame between its marks.
enum class BetweenMarks { addMark, shiftAll };

using SourcePtr = std::shared_ptr<const passes::PassSource>;

/// What is being worked on: the project, its passes, the frame that is looked at, and the history of changes.
/// Views read it and change it through the edit functions only, each of which is one step to undo.
class Document : public QObject
{
    Q_OBJECT

public:
    explicit Document(QObject* parent = nullptr);

    [[nodiscard]] bool isOpen() const noexcept { return m_source != nullptr; }
    [[nodiscard]] const project::Project& project() const noexcept { return m_project; }
    [[nodiscard]] const SourcePtr& source() const noexcept { return m_source; }
    [[nodiscard]] int frame() const noexcept { return m_frame; }
    [[nodiscard]] QString file() const { return m_file; } ///< "" until saved
    [[nodiscard]] QString title() const;                  ///< for the window: file or passes
    [[nodiscard]] bool isSequence() const noexcept { return m_project.lastFrame > m_project.firstFrame; }
    [[nodiscard]] QUndoStack& undoStack() noexcept { return m_undo; }

    /// Something would be lost by closing it.
    [[nodiscard]] bool isModified() const noexcept { return m_source && (!m_undo.isClean() || m_isUnsaved); }

    /// What is not saved is not wanted: there is nothing to keep or to ask for.
    void setUnmodified();

    /// Replaces everything; clears the history. `file` may be empty (never saved). `isUnsaved`: it is not
    /// what its file holds (work that was recovered).
    void open(project::Project project, SourcePtr source, const QString& file, bool isUnsaved = false);
    /// Throws Error; afterwards the document is unmodified and bears the file's name.
    void save(const QString& file);
    /// Another window or program has written the file since it was opened or saved here.
    [[nodiscard]] bool fileWasChanged() const;

    void setFrame(int frame);

    /// One step: the project as changed by the caller. Steps with the same non-zero `gesture` that follow
    /// each other become one (a drag). Nothing happens when `changed` equals the present project.
    void edit(const QString& what, const project::Project& changed, int gesture = 0);
    /// A number for edit() that no other gesture has.

    /// The shot of the present frame, and its settings with those that have marks at their value there.
    [[nodiscard]] const project::Shot& shot() const noexcept { return m_project.shotAt(m_frame); }
    [[nodiscard]] const project::Settings& values() const noexcept { return m_values; }
    /// Marks of a setting in the present shot; empty where it has none.
    [[nodiscard]] const timeline::Marks& marks(const SettingPath& id = setting::focusDistance) const noexcept
    {
        return shot().marks(id);
    }

    /// One step: a change of the present shot.
    void editShot(const QString& what, const std::function<void(project::Shot&)>& change, int gesture = 0);
    /// One step: a change of the values of the present frame. What has no marks is set for the whole shot.
    /// What has marks is set on the mark of this frame; between marks one is added, or all of them are
    /// shifted, as chosen by betweenMarks: by the same difference, of an f-stop by as many stops; marks that
    /// are bound to a subject stay then.
    void editSettings(const QString& what, const std::function<void(project::Settings&)>& change,
                      int gesture = 0);
    /// The same for one setting, held to what the engine takes: distances inside the lens are held just
    /// beyond the focal length.
    void changeSetting(const SettingPath& id, double value, int gesture = 0);
    void setFocusDistance(double distance, int gesture = 0)
    {
        changeSetting(setting::focusDistance, distance, gesture);
    }
    /// The same for a click on something: focus keeps to that where the depth pass is read otherwise later.
    void focusOn(project::Pixel pixel, double distance);
    /// What focus is on; nothing where it was set by a number.
    [[nodiscard]] std::optional<project::Pixel> focusedPixel() const noexcept;

    /// One step: a change of how depth is read, on the present frame's passes. Ends that were proposed, and
    /// focus where it has no marks, follow (project::followReading).
    void editReading(const QString& what, const passes::FramePassesPtr& passes,
                     const std::function<void(depth::ReadingSettings&)>& change, int gesture = 0);
    [[nodiscard]] BetweenMarks betweenMarks() const noexcept { return m_betweenMarks; }
    void setBetweenMarks(BetweenMarks choice);

    /// One step: a change of a setting's marks in the shot of `frame`. With the last mark gone its value
    /// stays as the plain setting. Values are held to what the engine takes.
    void editMarks(const QString& what, const SettingPath& id, int frame,
                   const std::function<void(timeline::Marks&)>& change, int gesture = 0);
    /// A mark of the present value on the present frame; where focus rides on a subject, bound to it.
    void setMarkHere(const SettingPath& id);
    void removeMark(const SettingPath& id, int frame);

    /// One step: other passes, with the source that reads them.
    void choosePasses(const QString& what, const project::Project& changed, SourcePtr source);
    /// Frames came or went: the same passes with their present frames. No step to undo.
    void refreshPasses(SourcePtr source);

    /// What was measured anew (subjects' distances); no step to undo and no change to save.
    void setSamples(const std::string& subject, SharedList<timeline::Sample> samples,
                    const std::string& measuredAs);
    /// For commands only: puts a project in place.
    void replaceProject(const project::Project& project);

signals:
    void opened();
    void projectChanged();
    void frameChanged(int frame);
    void titleChanged();
    /// Another source reads the passes now.
    void sourceChanged();
    /// A mark was added since a setting was changed between its marks.
    void markAdded(const retinex::project::SettingPath& id, int frame);
    void betweenMarksChanged();

private:
    [[nodiscard]] SourcePtr sourceFor(const project::Project& project) const;

    /// A click, and the focus distance that came of it.
    struct Focused
    {
        int frame;
        project::Pixel pixel;
        double distance;
    };
    std::optional<Focused> m_focused;

    [[nodiscard]] double held(const SettingPath& id, double value, const project::Settings& settings) const;
    /// True where a mark was added.
    bool changeMarks(timeline::Marks& marks, const SettingPath& id, double value) const;
    void valuesChanged();

    project::Project m_project;
    project::Settings m_values; ///< of the present frame
    BetweenMarks m_betweenMarks = BetweenMarks::addMark;
    SourcePtr m_source;
    /// Every source of this session's choices, so that undo finds the earlier one.
    struct Choice
    {
        passes::PassChoice colour;
        passes::PassChoice depth;
        passes::PassOptions options;
        SourcePtr source;
    };
    std::vector<Choice> m_choices;
    QString m_file;
    std::string m_fileState; ///< when it was opened or saved here
    bool m_isUnsaved = false;
    int m_frame = 1;
    QUndoStack m_undo;
};

} // namespace retinex::app
