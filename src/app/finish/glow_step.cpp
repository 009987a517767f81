#include "app/finish/glow_step.h"

#include "app/finish/step_widgets.h"
#include "core/regions/name_list.h"

#include <QMenu>

namespace retinex::app {

namespace {

QString glowWords(const project::Settings& settings, const std::string& id)
{
    for (const finish::Glow& glow : settings.glows)
        if (glow.id == id)
            return GlowStep::tr("%1 % wide, %2 %")
                .arg(100.0 * glow.radius, 0, 'g', 3)
                .arg(100.0 * glow.amount, 0, 'f', 0);
    return {};
}

} // namespace

GlowStep::GlowStep(Document& document, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_section(section),
      m_members(new MemberSection(
          document, section,
          {"glows", tr("Glows"), tr("glow"), tr("Add"),
           [](project::Settings& s, const std::vector<std::string>& ids) { arrangeMembers(s.glows, ids); },
           glowWords},
          this))
{
    MemberSection& m = *m_members;
    connect(&m, &MemberSection::refused, this, &GlowStep::refused);
    connect(&m.addButton(), &QToolButton::clicked, this, [this] {
        // The second one is often the other kind; of more nothing is known.
        const auto& glows = m_document.values().glows;
        const bool isTight = glows.size() == 1;
        m_members->add(glows.empty() ? tr("wide")
                       : isTight     ? tr("tight")
                                     : tr("glow %1").arg(glows.size() + 1),
                       {}, {{"radius", isTight ? 0.01 : 0.08}, {"amount", isTight ? 0.3 : 0.15}});
    });
    for (const char* key : {"level", "softnessStops", "radius", "tail", "amount", "blend", "saturation"})
        m.fields().add(section, key);
    m.fields().colour(section, "tint");
    m_mattes = addLimit(tr("Only mattes"), "mattes", tr("Only what these cover glows."));
    m_regions =
        addLimit(tr("Only regions"), "regions", tr("Only what these cover glows; a region may be off."));
    connect(&m.fields(), &FieldList::edited, this, [this](const QString& key, double value) {
        if (key == QLatin1String("level")) emit levelDragged(value);
    });
    connect(&m, &MemberSection::chosenChanged, this, &GlowStep::refresh);
    followDocument(document, this, [this] { refresh(); });
}

QToolButton* GlowStep::addLimit(const QString& label, const char* key, const QString& help)
{
    auto* button = new QToolButton;
    button->setObjectName(QStringLiteral("glow/") + QLatin1String(key));
    button->setPopupMode(QToolButton::InstantPopup);
    button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    auto* menu = new QMenu(button);
    button->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this,
            [this, button, key = std::string(key)] { fillLimit(*button, key, key == "regions"); });
    m_members->addRow(label, button, help);
    return button;
}

void GlowStep::fillLimit(QToolButton& button, std::string_view key, bool isRegions)
{
    QMenu* menu = button.menu();
    menu->clear();
    const auto listed = regions::namesIn(m_members->text(key));
    std::vector<std::string> names;
    if (isRegions)
        for (const regions::Region& region : m_document.values().regions)
            names.push_back(region.name);
    else
        for (const passes::MatteChoice& matte : m_document.project().mattes)
            names.push_back(matte.title());
    for (const std::string& name : names) {
        QAction* action = menu->addAction(QString::fromStdString(name));
        action->setCheckable(true);
        action->setChecked(std::ranges::find(listed, name) != listed.end());
        connect(action, &QAction::triggered, this, [this, listed, name, key = std::string(key)](bool on) {
            std::vector<std::string> changed = listed;
            std::erase(changed, name);
            if (on) changed.push_back(name);
            m_members->setText(tr("limit glow"), key, regions::listOf(changed));
        });
    }
    if (names.empty())
        menu->addAction(isRegions ? tr("There is no region; draw one first")
                                  : tr("There is no matte; see Passes"))
            ->setEnabled(false);
}

void GlowStep::refresh()
{
    const project::Settings& values = m_document.values();
    QStringList words;
    for (const finish::Glow& glow : values.glows)
        if (finish::isUsed(glow)) words << QString::fromStdString(glow.name);
    m_section.setSummary(!values.finish.glowIsOn ? tr("off")
                         : words.isEmpty()       ? tr("none")
                                                 : words.join(QStringLiteral(", ")));
    if (m_members->chosen().empty()) return;
    for (auto [button, key] : {std::pair{m_mattes, "mattes"}, std::pair{m_regions, "regions"}}) {
        if (!button) continue;
        const std::string text = m_members->text(key);
        button->setText(text.empty() ? tr("everything") : QString::fromStdString(text));
    }
}

} // namespace retinex::app
