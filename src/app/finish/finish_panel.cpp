#include "app/finish/finish_panel.h"

#include "app/fields/setting_formats.h"
#include "app/finish/step_widgets.h"

#include <QFileInfo>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace retinex::app {

namespace {

finish::Steps stepsOf(const project::Settings& settings)
{
    return {settings.finish, settings.glows, settings.looks};
}

QString signedNumber(double value, int digits = 3)
{
    return (value > 0.0   ? QStringLiteral("+")
            : value < 0.0 ? QStringLiteral("−")
                          : QString()) +
           QString::number(std::abs(value), 'g', digits);
}

} // namespace

QString finishWords(const project::Settings& settings)
{
    const finish::Steps steps = stepsOf(settings);
    if (!steps.finish.isOn) return FinishPanel::tr("off");
    QStringList words;
    if (steps.hasGlow()) words << FinishPanel::tr("glow");
    if (steps.hasFringing()) words << FinishPanel::tr("fringing");
    if (steps.hasVignette()) words << FinishPanel::tr("vignette");
    if (steps.hasGrade()) words << FinishPanel::tr("grade");
    if (steps.hasLook()) words << FinishPanel::tr("look");
    if (steps.hasGrain()) words << FinishPanel::tr("grain");
    if (steps.hasPlate()) words << FinishPanel::tr("grain plate");
    return words.isEmpty() ? FinishPanel::tr("nothing") : words.join(QStringLiteral(", "));
}

FinishPanel::FinishPanel(Document& document, FieldList& fields, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_fields(fields), m_section(section), m_scope(new Scope)
{
    addSwitch(document, section, tr("On"), "finish/on",
              tr("All of it. Q shows the picture without, for a look."));
    fields.add(section, tr("Mix"), "finish/mix", tr("0 % is the picture as it comes through the lens."));
    section.form().addRow(m_scope);
    auto* layout = new QVBoxLayout(m_steps);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    section.form().addRow(m_steps);
    Section& glow =
        step(tr("Glow"), "glowStep", "finish/glow/on", tr("Light scattered around bright parts."));
    m_glow = new GlowStep(document, glow, this);
    connect(m_glow, &GlowStep::refused, this, &FinishPanel::refused);
    buildLensLike();
    Section& grade = step(tr("Grade"), "gradeStep", "finish/grade/on",
                          tr("Of the picture itself; the view above it is for this screen alone."));
    m_grade = new GradeStep(document, fields, grade, this);
    Section& look = step(tr("Look"), "lookStep", "finish/look/on", tr("Look-up tables from files."));
    m_look = new LookStep(document, look, this);
    connect(m_look, &LookStep::refused, this, &FinishPanel::refused);
    buildGrain();
    followDocument(document, this, [this] { refresh(); });
}

Section& FinishPanel::step(const QString& title, const char* key, const char* switchPath, const QString& help)
{
    Section* made = foldedSection(title, key);
    m_steps->layout()->addWidget(made);
    addSwitch(m_document, *made, tr("On"), switchPath, help);
    return *made;
}

void FinishPanel::buildLensLike()
{
    m_fringing = &step(tr("Fringing"), "fringingStep", "finish/fringing/on",
                       tr("Red and blue set apart towards the corners, as lenses do."));
    m_fringe = m_fields.add(
        *m_fringing, tr("At the corner"), "finish/fringing/cornerPx",
        tr("Red outwards and blue inwards by so much; ‰ is taken too, of the way to the corner."));
    addWord(m_document, *m_fringing, tr("Grows"), "finish/fringing/growth",
            {tr("evenly"), tr("with the square")}, tr("From the middle to the corner."));
    m_fields.add(*m_fringing, tr("Centre across"), "finish/fringing/centreX",
                 tr("Share of the frame's width."));
    m_fields.add(*m_fringing, tr("Centre down"), "finish/fringing/centreY",
                 tr("Share of the frame's height."));
    m_vignette =
        &step(tr("Vignette"), "vignetteStep", "finish/vignette/on", tr("Darker towards the corners."));
    m_fields.add(*m_vignette, tr("At the corner"), "finish/vignette/stops", tr("So many stops darker."));
    m_fields.add(*m_vignette, tr("Roundness"), "finish/vignette/roundness",
                 tr("0 %: as the frame is; 100 %: a circle."));
    m_fields.add(*m_vignette, tr("Softness"), "finish/vignette/softness", tr("100 %: from the middle on."));
}

void FinishPanel::buildGrain()
{
    m_grain =
        &step(tr("Grain"), "grainStep", "finish/grain/on", tr("Noise made here, another on every frame."));
    m_fields.add(*m_grain, tr("Amount"), "finish/grain/amount",
                 tr("Standard deviation on a log scale: 1 % is little, 5 % much."));
    m_fields.add(*m_grain, tr("Size"), "finish/grain/sizePx",
                 tr("Diameter of a grain, px of the full frame."));
    m_fields.add(*m_grain, tr("Softness"), "finish/grain/softness", tr("0 %: hard-edged grains."));
    m_fields.add(*m_grain, tr("Colour"), "finish/grain/colour",
                 tr("0 %: grey; 100 %: a noise for each colour."));
    addWord(m_document, *m_grain, tr("Spread"), "finish/grain/kind", {tr("Gaussian"), tr("uniform")},
            tr("How its numbers spread."));
    m_fields.add(*m_grain, tr("In shadows"), "finish/grain/shadows", tr("Share of the amount."));
    m_fields.add(*m_grain, tr("In midtones"), "finish/grain/midtones", tr("Share of the amount."));
    m_fields.add(*m_grain, tr("In highlights"), "finish/grain/highlights", tr("Share of the amount."));
    m_fields.add(*m_grain, tr("Seed"), "finish/grain/seed", tr("Another number, other noise."));
    m_plate =
        &step(tr("Grain plate"), "plateStep", "finish/plate/on", tr("A filmed grain picture laid over."));
    m_plateFile = new QPushButton;
    m_plateFile->setObjectName(QStringLiteral("plateFile"));
    m_plate->addRow(tr("Picture"), m_plateFile, tr("A still or a sequence; beyond its end it runs back."));
    connect(m_plateFile, &QPushButton::clicked, this, &FinishPanel::plateAsked);
    addWord(m_document, *m_plate, tr("Blend"), "finish/plate/blend",
            {tr("overlay"), tr("soft light"), tr("add")},
            tr("How it is laid over; mid grey changes nothing."));
    m_fields.add(*m_plate, tr("Amount"), "finish/plate/amount", tr("0 % is not there."));
    m_fields.add(*m_plate, tr("Exposure"), "finish/plate/exposureStops", tr("Brings its grey to mid grey."));
    m_fields.add(*m_plate, tr("Offset"), "finish/plate/offset", tr("Frames that it begins later at."));
}

void FinishPanel::refresh()
{
    const project::Settings& values = m_document.values();
    const finish::Steps steps = stepsOf(values);
    const auto& f = values.finish;
    m_section.setSummary(m_document.isOpen() ? finishWords(values) : tr("nothing is open"));
    const auto state = [](bool isOn, bool isUsed, const QString& words) {
        return !isOn ? tr("off") : isUsed ? words : tr("none");
    };
    m_fringing->setSummary(state(f.fringing.isOn, steps.hasFringing(),
                                 tr("%1 px at the corner").arg(signedNumber(f.fringing.cornerPx))));
    if (const auto& source = m_document.source())
        m_fringe->setFormat(takingPerMille(settingFormat("finish/fringing/cornerPx", m_document.project()),
                                           0.5 * std::hypot(source->width(), source->height())));
    m_vignette->setSummary(state(f.vignette.isOn, steps.hasVignette(),
                                 tr("%1 stops at the corner").arg(signedNumber(-f.vignette.stops))));
    m_grain->setSummary(
        state(f.grain.isOn, steps.hasGrain(),
              tr("%1 %, %2 px").arg(100.0 * f.grain.amount, 0, 'f', 1).arg(f.grain.sizePx, 0, 'g', 3)));
    const QString plate = QFileInfo(QString::fromStdString(f.plate.file)).fileName();
    m_plate->setSummary(state(f.plate.isOn, steps.hasPlate(), plate));
    m_plateFile->setText(plate.isEmpty() ? tr("Choose…") : plate);
    m_plateFile->setToolTip(QString::fromStdString(f.plate.file));
    m_plateFile->setEnabled(m_document.isOpen());
}

} // namespace retinex::app
