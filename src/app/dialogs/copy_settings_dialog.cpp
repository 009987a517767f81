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
    const struct
    {
        QString title;
        const char* name;
        bool isOn;
    } parts[] = {{tr("Depth reading"), "copyReading", true},
                 {tr("Lens and strength"), "copyLens", true},
                 {tr("Focus and held zone"), "copyFocus", false},
                 {tr("Iris and glints"), "copyIris", true},
                 {tr("Repair"), "copyRepair", true},
                 {tr("Regions, in place of theirs"), "copyRegions", false},
                 {tr("Backdrop and inserts, in place of theirs"), "copyInserts", false},
                 {tr("Finish"), "copyFinish", false}};
    int row = 1;
    for (const auto& part : parts) {
        auto* box = new QCheckBox(part.title);
        box->setObjectName(QLatin1String(part.name));
        box->setChecked(part.isOn);
        m_parts[row - 1] = box;
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
    grid->addWidget(buttons, std::max(row, 8) + 1, 0, 1, 2);
}

void CopySettingsDialog::copy()
{
    project::Project changed = m_document.project();
    const std::size_t from = changed.shotIndexAt(m_document.frame());
    const project::ShotParts parts{m_parts[0]->isChecked(), m_parts[1]->isChecked(), m_parts[2]->isChecked(),
                                   m_parts[3]->isChecked(), m_parts[4]->isChecked(), m_parts[5]->isChecked(),
                                   m_parts[6]->isChecked(), m_parts[7]->isChecked()};
    for (int i = 0; i < m_shots.size(); ++i)
        if (m_shots[i] && m_shots[i]->isChecked())
            project::copySettings(changed, from, static_cast<std::size_t>(i), parts);
    m_document.edit(tr("copy settings to other shots"), changed);
    accept();
}

} // namespace retinex::app
