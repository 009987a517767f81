#pragma once

#include "app/document/document.h"

#include <QUndoCommand>

namespace retinex::app {

/// A change of settings: the project before and after. Commands of one gesture merge into one step.
class ProjectCommand : public QUndoCommand
{
public:
    ProjectCommand(Document& document, const QString& text, project::Project before, project::Project after,
                   int gesture);

    void undo() override;
    void redo() override;
    [[nodiscard]] int id() const override { return m_gesture == 0 ? -1 : m_gesture; }
    bool mergeWith(const QUndoCommand* next) override;

private:
    Document& m_document;
    project::Project m_before;
    project::Project m_after;
    int m_gesture;
};

} // namespace retinex::app
