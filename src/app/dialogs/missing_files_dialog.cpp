#include "app/dialogs/missing_files_dialog.h"

#include "app/look/style.h"

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

namespace retinex::app {

MissingFilesDialog::MissingFilesDialog(project::Project project, QString startFolder, QWidget* parent)
    : QDialog(parent), m_project(std::move(project)), m_before(m_project), m_folder(std::move(startFolder)),
      m_list(new QTreeWidget), m_state(new QLabel), m_look(new QPushButton(tr("Look in a folder…")))
{
    setObjectName(QStringLiteral("missingFiles"));
    setWindowTitle(tr("Missing files"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(18, 16, 18, 14);
    layout->setSpacing(10);
    m_state->setObjectName(QStringLiteral("missingState"));
    m_state->setWordWrap(true);
    layout->addWidget(m_state);
    m_list->setObjectName(QStringLiteral("missingList"));
    m_list->setHeaderLabels({tr("What"), tr("Where it was")});
    m_list->setRootIsDecorated(false);
    m_list->setTextElideMode(Qt::ElideMiddle);
    m_list->header()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    m_list->setStyleSheet(
        QStringLiteral(
            "QHeaderView::section { background: %1; color: %2; border: 0; border-bottom: 1px solid %3;"
            " padding: 4px 6px; } QTreeWidget::item { padding: 3px 4px; }")
            .arg(style::panel.name(), style::dimText.name(), style::line.name()));
    layout->addWidget(m_list, 1);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    m_look->setObjectName(QStringLiteral("missingLook"));
    m_look->setAutoDefault(false);
    auto* row = new QHBoxLayout;
    row->addWidget(m_look);
    row->addStretch();
    row->addWidget(buttons);
    layout->addLayout(row);
    connect(m_look, &QPushButton::clicked, this, &MissingFilesDialog::chooseFolder);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, [this] {
        m_project = m_before;
        reject();
    });
    list(project::missingFiles(m_project));
    resize(640, 320);
}

void MissingFilesDialog::list(const std::vector<project::MissingFile>& missing)
{
    m_list->clear();
    for (const project::MissingFile& file : missing) {
        const QString path = QString::fromStdString(file.file.string());
        auto* item = new QTreeWidgetItem(m_list, {QString::fromStdString(file.what), path});
        item->setToolTip(1, path);
    }
    const bool found = !(m_project == m_before);
    m_state->setText(
        missing.empty() ? found ? tr("Everything was found.") : tr("Nothing is missing.")
        : found
            ? tr("Some were found; %1 are still missing. They may be in another folder.").arg(missing.size())
            : tr("These are not where the project has them. Choose a folder: it and those below "
                 "are looked through for files of the same names."));
    m_look->setEnabled(!missing.empty());
}

void MissingFilesDialog::chooseFolder()
{
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("Folder to look for missing files"), m_folder);
    if (!folder.isEmpty()) lookIn(folder);
}

void MissingFilesDialog::lookIn(const QString& folder)
{
    m_folder = folder;
    m_look->setEnabled(false);
    m_state->setText(tr("Looking in %1…").arg(folder));
    m_work.start(
        tr("Looking for files"),
        [this, folder = folder.toStdString(), project = m_project](const Background::Task& task) mutable {
            auto missing = project::findAgain(project, folder);
            task.post([this, project = std::move(project), missing = std::move(missing)] {
                const bool none = project == m_project;
                m_project = project;
                list(missing);
                if (none) m_state->setText(tr("None of them is in %1 or below it.").arg(m_folder));
            });
        },
        {[this](const QString& message) {
            m_state->setText(message);
            m_look->setEnabled(true);
        }});
}

} // namespace retinex::app
