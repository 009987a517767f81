#include "app/sheet/navigation/folding.h"

#include <QSettings>

namespace retinex::app {

namespace {

const QString kLast = QStringLiteral("folding/last");
const QString kProjects = QStringLiteral("folding/projects"); ///< pairs of a path and a state, newest first
constexpr qsizetype kMostProjects = 40;

QVariantList without(const QVariantList& projects, const QString& file)
{
    QVariantList left;
    for (const QVariant& each : projects)
        if (each.toList().value(0).toString() != file) left.append(each);
    return left;
}

} // namespace

Folding::Folding(QWidget& sheet, Document& document, QObject* parent)
    : QObject(parent), m_sheet(sheet), m_document(document)
{
    for (Section* section : sheet.findChildren<Section*>())
        connect(section, &Section::foldedChanged, this, &Folding::keep);
    connect(&document, &Document::opened, this, &Folding::restore);
    connect(&document, &Document::titleChanged, this, &Folding::keep); // saved under a name
    restore();
}

void Folding::keep()
{
    if (m_isRestoring) return;
    QVariantMap state;
    for (const Section* section : m_sheet.findChildren<Section*>())
        state.insert(section->objectName(), section->isFolded());
    QSettings settings;
    settings.setValue(kLast, state);
    const QString file = m_document.file();
    if (file.isEmpty()) return;
    QVariantList projects = without(settings.value(kProjects).toList(), file);
    projects.prepend(QVariant(QVariantList{file, state}));
    settings.setValue(kProjects, projects.mid(0, kMostProjects));
}

void Folding::restore()
{
    const QSettings settings;
    QVariantMap state = settings.value(kLast).toMap();
    for (const QVariant& each : settings.value(kProjects).toList())
        if (!m_document.file().isEmpty() && each.toList().value(0).toString() == m_document.file())
            state = each.toList().value(1).toMap();
    m_isRestoring = true;
    for (Section* section : m_sheet.findChildren<Section*>())
        if (const auto folded = state.constFind(section->objectName()); folded != state.cend())
            section->setFolded(folded->toBool());
    m_isRestoring = false;
}

} // namespace retinex::app
