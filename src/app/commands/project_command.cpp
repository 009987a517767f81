#include "app/commands/project_command.h"

namespace retinex::app {

ProjectCommand::ProjectCommand(Document& document, const QString& text, project::Project before,
                               project::Project after, int gesture)
    : QUndoCommand(text), m_document(document), m_before(std::move(before)), m_after(std::move(after)),
      m_gesture(gesture)
{
}

void ProjectCommand::undo()
{
    m_document.replaceProject(m_before);
}

void ProjectCommand::redo()
{
    m_document.replaceProject(m_after);
}

bool ProjectCommand::mergeWith(const QUndoCommand* next)
{
    const auto* other = static_cast<const ProjectCommand*>(next); // same id: same class, same gesture
    m_after = other->m_after;
    setText(other->text());
    if (m_after == m_before) setObsolete(true);
    return true;
}

} // namespace retinex::app
