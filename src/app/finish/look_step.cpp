#include "app/finish/look_step.h"

#include "app/finish/step_widgets.h"
#include "core/colour/input_space.h"
#include "core/finish/colour_steps.h"

#include <QFileInfo>
#include <QMenu>

namespace retinex::app {

namespace {

QString lookWords(const project::Settings& settings, const std::string& id)
{
    for (const finish::Look& look : settings.looks)
        if (look.id == id) return LookStep::tr("%1 %").arg(100.0 * look.strength, 0, 'f', 0);
    return {};
}

} // namespace

LookStep::LookStep(Document& document, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_section(section),
      m_members(new MemberSection(
          document, section,
          {"looks", tr("Looks"), tr("look"), tr("Add"),
           [](project::Settings& s, const std::vector<std::string>& ids) { arrangeMembers(s.looks, ids); },
           lookWords},
          this))
{
    MemberSection& m = *m_members;
    connect(&m, &MemberSection::refused, this, &LookStep::refused);
    m.addButton().setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(&m.addButton());
    m.addButton().setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, &LookStep::fillAdd);
    FieldList& fields = m.fields();
    fields.add(section, "file");
    fields.name(section, tr("Works in"), "space", colour::inputSpaces, tr("scene-linear"),
                tr("The colour space that the table's numbers are in, before and after."));
    fields.add(section, "strength");
    fields.showWhere([this](const std::string& key) {
        return (key != "file" && key != "space") || m_members->text("look").empty();
    });
    connect(&fields, &FieldList::fileAsked, this, [this] { emit fileAsked(false); });
    connect(&m, &MemberSection::chosenChanged, this, &LookStep::refresh);
    followDocument(document, this, [this] { refresh(); });
}

void LookStep::fillAdd()
{
    QMenu* menu = m_members->addButton().menu();
    menu->clear();
    menu->addAction(tr("From a file…"), this, [this] { emit fileAsked(true); });
    for (const std::string& look : finish::namedLooks())
        menu->addAction(QString::fromStdString(look), this, [this, look] {
            m_members->add(QString::fromStdString(look), {{"look", look}});
        });
}

void LookStep::addFile(const QString& file)
{
    // Most tables are for pictures as a screen has them.
    m_members->add(QFileInfo(file).completeBaseName(),
                   {{"file", file.toStdString()}, {"space", colour::screenSpace()}});
}

void LookStep::refresh()
{
    const project::Settings& values = m_document.values();
    QStringList words;
    for (const finish::Look& look : values.looks)
        if (finish::isUsed(look)) words << QString::fromStdString(look.name);
    m_section.setSummary(!values.finish.lookIsOn ? tr("off")
                         : words.isEmpty()       ? tr("none")
                                                 : words.join(QStringLiteral(", ")));
}

} // namespace retinex::app
