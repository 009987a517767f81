#pragma once

#include "core/project/project.h"

#include <QObject>
#include <QString>
#include <QUndoStack>
#include <memory>
#include <nlohmann/json.hpp>

namespace retinex::app {

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

    /// Replaces everything; clears the history. `file` may be empty (never saved).
    void open(project::Project project, SourcePtr source, const QString& file, nlohmann::ordered_json kept);
    /// Throws Error; afterwards the document is unmodified and bears the file's name.
    void save(const QString& file);

    void setFrame(int frame);

    /// One step: the project as changed by the caller. Steps with the same non-zero `gesture` that follow
    /// each other become one (a drag). Nothing happens when `changed` equals the present project.
    void edit(const QString& what, const project::Project& changed, int gesture = 0);
    /// A number for edit() that no other gesture has.
    [[nodiscard]] int newGesture() noexcept { return ++m_gesture; }

    /// Sets the focus distance (scene units) at the present frame: its mark where there are marks, the plain
    /// setting otherwise. Distances inside the lens are held just beyond the focal length.
    void setFocusDistance(double distance, int gesture = 0);
    void setFStop(double fStop, int gesture = 0);
    /// Sets or removes a mark at a frame.
    void setMark(const timeline::Mark& mark, int gesture = 0);
    void removeMark(int frame);
    /// Moves the mark on `from` to `to` (replacing one there), with a new distance.
    void moveMark(int from, const timeline::Mark& to, int gesture);

    /// One step: other passes, with the source that reads them.
    void choosePasses(const QString& what, const project::Project& changed, SourcePtr source);
    /// Frames came or went: the same passes with their present frames. No step to undo.
    void refreshPasses(SourcePtr source);

    /// For commands only: puts a project in place.
    void replaceProject(const project::Project& project);

signals:
    void opened();
    void projectChanged();
    void frameChanged(int frame);
    void titleChanged();
    /// Another source reads the passes now.
    void sourceChanged();

private:
    [[nodiscard]] SourcePtr sourceFor(const project::Project& project) const;

    [[nodiscard]] double heldDistance(double distance) const;

    project::Project m_project;
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
    nlohmann::ordered_json m_kept; ///< unknown keys of the file
    QString m_file;
    int m_frame = 1;
    int m_gesture = 0;
    QUndoStack m_undo;
};

} // namespace retinex::app
