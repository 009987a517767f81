#include "app/dialogs/copy_settings_dialog.h"

#include "core/project/shots.h"

#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>

namespace retinex::app {

CopySettingsDialog::CopySettingsDialog(Document& document, QWidget* parent)
    : QDialog(parent), m_document(document)
{
    setObjectName(QStringLiteral("copySettings"));
    setWindowTitle(tr("Copy settings to other shots"));
    auto* grid = new QGridLayout(this);
    grid->setHorizontalSpacing(40);
    grid->setVerticalSpacing(8);
    grid->addWidget(new QLabel(tr("What, with its marks")), 0, 0);
    grid->addWidget(new QLabel(tr("To")), 0, 1);
    // What makes a shot itself is left to each.
    const project::Groups own{project::Group::focus, project::Group::regions, project::Group::inserts,
                              project::Group::finish};
    int row = 1;
    for (const project::Group group : project::kGroups) {
        const QString title = QString::fromStdString(project::titleOf(group));
        const bool isList = group == project::Group::regions || group == project::Group::inserts;
        auto* box = new QCheckBox(isList ? tr("%1, in place of theirs").arg(title) : title);
        box->setChecked(!own.contains(group));
        m_groups.append({box, group});
        grid->addWidget(box, row++, 0);
    }
    const auto& project = document.project();
    row = 1;
    for (std::size_t i = 0; i < project.shots.size(); ++i) {
        if (i == project.shotIndexAt(document.frame())) {
            m_shots.append(nullptr);
            continue;
        }
        const timeline::FrameRange range = project.framesOf(i);
        const QString name = project.shots[i].name.empty() ? tr("Shot %1").arg(i + 1)
                                                           : QString::fromStdString(project.shots[i].name);
        auto* box = new QCheckBox(tr("%1, frames %2–%3").arg(name).arg(range.first).arg(range.last));
        box->setObjectName(QStringLiteral("copyTo%1").arg(i));
        box->setChecked(true);
        m_shots.append(box);
        grid->addWidget(box, row++, 1);
    }
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    auto* copyButton = buttons->addButton(tr("Copy"), QDialogButtonBox::AcceptRole);
    copyButton->setObjectName(QStringLiteral("copyNow"));
    connect(copyButton, &QPushButton::clicked, this, &CopySettingsDialog::copy);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    grid->addWidget(buttons, std::max(row, static_cast<int>(project::kGroups.size())) + 1, 0, 1, 2);
}

void CopySettingsDialog::copy()
{
    project::Project changed = m_document.project();
    const std::size_t from = changed.shotIndexAt(m_document.frame());
    project::Groups groups;
    for (const auto& [box, group] : m_groups)
        if (box->isChecked()) groups.insert(group);
    for (int i = 0; i < m_shots.size(); ++i)
        if (m_shots[i] && m_shots[i]->isChecked())
            project::copySettings(changed, from, static_cast<std::size_t>(i), groups);
    m_document.edit(tr("copy settings to other shots"), changed);
    accept();
}

} // namespace retinex::app
