#pragma once

#include "app/jobs/background.h"
#include "core/project/missing_files.h"

#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>

namespace retinex::app {

/// Lists files that a project names and that are not there, and finds them again below a folder.
class MissingFilesDialog : public QDialog
{
    Q_OBJECT

public:
    MissingFilesDialog(project::Project project, QString startFolder, QWidget* parent = nullptr);
    /// With the files that were found; as it was given when none was, or when it was cancelled.
    [[nodiscard]] const project::Project& project() const noexcept { return m_project; }
    /// Looks in a folder and below.
    void lookIn(const QString& folder);

private:
    void chooseFolder();
    void list(const std::vector<project::MissingFile>& missing);

    project::Project m_project;
    project::Project m_before;
    QString m_folder;
    QTreeWidget* m_list;
    QLabel* m_state;
    QPushButton* m_look;
    Background m_work;
};

} // namespace retinex::app
