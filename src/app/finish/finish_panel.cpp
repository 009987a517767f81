#include "app/finish/finish_panel.h"

#include "app/fields/setting_formats.h"
#include "app/finish/step_widgets.h"
#include "core/finish/step.h"

#include <QFileInfo>
#include <QVBoxLayout>

namespace retinex::app {

namespace {

finish::Steps stepsOf(const project::Settings& settings)
{
    return {settings.finish, settings.glows, settings.looks};
}

std::string pathIn(const finish::Step& step, std::string_view key)
{
    return "finish/" + std::string(step.key) + '/' + std::string(key);
}

} // namespace

QString finishWords(const project::Settings& settings)
{
    const finish::Steps steps = stepsOf(settings);
    if (!steps.finish.isOn) return FinishPanel::tr("off");
    QStringList words;
    for (const finish::Step* step : finish::allSteps())
        if (step->isUsed(steps)) words << shownWords(step->title).toLower();
    return words.isEmpty() ? FinishPanel::tr("nothing") : words.join(QStringLiteral(", "));
}

FinishPanel::FinishPanel(Document& document, FieldList& fields, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_fields(fields), m_section(section), m_scope(new Scope)
{
    fields.add(section, "finish/on");
    fields.add(section, "finish/mix");
    section.addWide(m_scope);
    auto* layout = new QVBoxLayout(m_steps);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    section.addWide(m_steps);
    for (const finish::Step* step : finish::allSteps())
        build(*step);
    connect(m_glow, &GlowStep::refused, this, &FinishPanel::refused);
    connect(m_look, &LookStep::refused, this, &FinishPanel::refused);
    followDocument(document, this, [this] { refresh(); });
}

void FinishPanel::build(const finish::Step& step)
{
    const std::string key = std::string(step.key) + "Step";
    Section* made = foldedSection(shownWords(step.title), key.c_str());
    m_steps->layout()->addWidget(made);
    m_fields.add(*made, pathIn(step, "on"))->setToolTip(shownWords(step.help));
    if (&step == &finish::kGlow) {
        m_glow = new GlowStep(m_document, *made, this);
    } else if (&step == &finish::kGrade) {
        m_grade = new GradeStep(m_document, m_fields, *made, this);
    } else if (&step == &finish::kLook) {
        m_look = new LookStep(m_document, *made, this);
    } else {
        m_plain.push_back({&step, made, {}});
        const std::string prefix = pathIn(step, {});
        for (const auto& field : project::shotSettings().fields()) {
            if (!field.path.starts_with(prefix) || field.path == prefix + "on") continue;
            m_fields.add(*made, field.path);
            m_plain.back().fields.push_back(project::infoOf(field.path));
        }
    }
}

void FinishPanel::refresh()
{
    const project::Settings& values = m_document.values();
    const finish::Steps steps = stepsOf(values);
    m_section.setSummary(m_document.isOpen() ? finishWords(values) : tr("nothing is open"));
    for (const Plain& plain : m_plain) {
        if (project::infoOf(pathIn(*plain.step, "on"))->get(values) == 0.0) {
            plain.section->setSummary(tr("off"));
            continue;
        }
        if (!plain.step->isUsed(steps)) {
            plain.section->setSummary(tr("none"));
            continue;
        }
        // What it is made with says most: its file, or else its first number.
        const auto& first = *plain.fields.front();
        if (first.isNumber())
            plain.section->setSummary(QStringLiteral("%1 %2").arg(
                shownWords(first.label).toLower(),
                settingFormat(first, first.defaultValue(), m_document.project()).toText(first.get(values))));
        else
            plain.section->setSummary(
                QFileInfo(QString::fromStdString(
                              std::get<project::Field<project::Settings>::Access<std::string>>(first.access)
                                  .get(values)))
                    .fileName());
    }
}

} // namespace retinex::app
