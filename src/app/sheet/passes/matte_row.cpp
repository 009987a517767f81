#include "app/sheet/passes/matte_row.h"

#include "app/fields/chooser.h"
#include "app/sheet/passes/pass_widgets.h"
#include "core/passes/mattes/mattes.h"

#include <QPushButton>
#include <algorithm>

namespace retinex::app {

MatteRow::MatteRow(Document& document, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_mattes(sheetChooser(QStringLiteral("mattes"))),
      m_row(withButton(m_mattes, tr("×"), "removeMatte", tr("Take this matte out of the list"),
                       [this] { remove(); }))
{
    section.addRow(tr("Matte passes"),
                   withButton(m_row, tr("+"), "addMatte", tr("Add a file of mattes"), [this] { add(); }),
                   tr("Coverage of one object; shown in the Mattes view (6), used at edges (Repair)."));
    connect(m_mattes, &QComboBox::activated, this, &MatteRow::chosen);
}

void MatteRow::refresh()
{
    m_mattes->setEnabled(m_document.isOpen());
    if (!m_document.isOpen()) return;
    const project::Project& project = m_document.project();
    const int matte = std::max(0, m_mattes->currentIndex());
    m_mattes->clear();
    for (const auto& choice : project.mattes) {
        m_mattes->addItem(QString::fromStdString(choice.title()));
        m_mattes->setItemData(m_mattes->count() - 1,
                              QString::fromStdString(choice.file.filename().string() + ": " + choice.name),
                              Qt::ToolTipRole);
    }
    if (project.mattes.empty()) addHeading(*m_mattes, tr("none"));
    m_mattes->setCurrentIndex(matte < m_mattes->count() ? matte : 0);
    if (auto* remove = m_row->findChild<QPushButton*>(QStringLiteral("removeMatte")))
        remove->setEnabled(!project.mattes.empty());
}

void MatteRow::add()
{
    const QString file =
        askForPicture(m_mattes->window(), tr("Mattes: a picture, or an EXR with mattes in it"),
                      QString::fromStdString(m_document.project().colour.file.parent_path().string()));
    if (file.isEmpty()) return;
    m_reading.start(tr("Reading mattes"),
                    [this, file = file.toStdString()](const Background::Task& task) {
                        task.post([this, found = passes::requireMattes(file)] {
                            project::Project changed = m_document.project();
                            for (const auto& matte : found)
                                if (std::ranges::find(changed.mattes, matte) == changed.mattes.end())
                                    changed.mattes.push_back(matte);
                            m_document.edit(tr("add mattes"), changed);
                        });
                    },
                    {[this](const QString& message) { emit failed(message); }});
}

void MatteRow::remove()
{
    project::Project changed = m_document.project();
    const auto shown = static_cast<std::size_t>(std::max(0, m_mattes->currentIndex()));
    if (shown >= changed.mattes.size()) return;
    const QString title = QString::fromStdString(changed.mattes[shown].title());
    changed.mattes.erase(changed.mattes.begin() + static_cast<std::ptrdiff_t>(shown));
    m_document.edit(tr("take out matte %1").arg(title), changed);
}

} // namespace retinex::app
