#include "app/finish/grade_step.h"

#include "app/fields/chooser.h"
#include "app/finish/step_widgets.h"
#include "app/look/style.h"

#include <QHBoxLayout>

namespace retinex::app {

namespace {

const std::array<QColor, 4> kLines{style::text, QColor(0xd8, 0x6a, 0x5c), QColor(0x7c, 0xb8, 0x6c),
                                   QColor(0x6c, 0x94, 0xd8)};

Section* partOf(Section& in, const QString& title, const char* key)
{
    Section* made = foldedSection(title, key);
    in.addWide(made);
    return made;
}

} // namespace

GradeStep::GradeStep(Document& document, FieldList& fields, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_section(section), m_pick(new QPushButton(tr("Pick grey"))),
      m_which(new Chooser), m_curve(new CurveEditor)
{
    for (const auto& path : {SettingPath("finish/grade/exposureStops"), SettingPath(setting::temperature),
                             SettingPath(setting::tint)})
        fields.add(section, path);
    m_pick->setObjectName(QStringLiteral("pickWhite"));
    m_pick->setCheckable(true);
    m_pick->setToolTip(tr("Click on something in the picture that is to be grey."));
    section.addWide(m_pick);
    connect(m_pick, &QPushButton::clicked, this, &GradeStep::pickAsked);
    for (const char* key : {"contrast", "pivot", "saturation"})
        fields.add(section, std::string("finish/grade/") + key);
    m_tones = partOf(section, tr("Tones"), "tonesStep");
    for (const char* tones : {"shadows", "midtones", "highlights"}) {
        fields.add(*m_tones, std::string("finish/grade/") + tones + "/all");
        fields.colour(*m_tones, std::string("finish/grade/") + tones);
    }
    m_curves = partOf(section, tr("Curves"), "curvesStep");
    buildCurve();
    m_cdl = partOf(section, tr("CDL"), "cdlStep");
    buildCdl(fields);
    followDocument(document, this, [this] { refresh(); });
}

void GradeStep::setPicking(bool on)
{
    m_pick->setChecked(on);
}

void GradeStep::buildCurve()
{
    m_which->setObjectName(QStringLiteral("whichCurve"));
    m_which->addItems({tr("all colours"), tr("red"), tr("green"), tr("blue")});
    m_curves->addRow(tr("Curve of"), m_which, tr("Which one is drawn below."));
    connect(m_which, &QComboBox::currentIndexChanged, this, [this] { refresh(); });
    m_curve->setObjectName(QStringLiteral("curve"));
    m_curves->addWide(m_curve);
    connect(m_curve, &CurveEditor::edited, this, [this](const project::Pairs& curve, int gesture) {
        m_document.editSettings(
            tr("change curve"), [&](project::Settings& settings) { curveOf(settings) = curve; }, gesture);
    });
    auto* straight = new QPushButton(tr("Straight"));
    straight->setObjectName(QStringLiteral("straightCurve"));
    straight->setToolTip(tr("Takes all points of this curve away."));
    m_curves->addWide(straight);
    connect(straight, &QPushButton::clicked, this, [this] {
        m_document.editSettings(tr("straighten curve"),
                                [this](project::Settings& settings) { curveOf(settings).clear(); });
    });
}

void GradeStep::buildCdl(FieldList& fields)
{
    fields.add(*m_cdl, "finish/grade/cdl/scale");
    for (const char* part : {"slope", "offset", "power"})
        fields.colour(*m_cdl, std::string("finish/grade/cdl/") + part);
    fields.add(*m_cdl, "finish/grade/cdl/saturation");
    auto* files = new QWidget;
    auto* row = new QHBoxLayout(files);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    for (const bool isSaved : {false, true}) {
        auto* button = new QPushButton(isSaved ? tr("Save…") : tr("Load…"));
        button->setObjectName(isSaved ? QStringLiteral("saveCdl") : QStringLiteral("loadCdl"));
        button->setToolTip(tr("A .cc, .ccc or .cdl file."));
        row->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, isSaved] { emit cdlFileAsked(isSaved); });
    }
    row->addStretch(1);
    m_cdl->addWide(files);
}

finish::Curve& GradeStep::curveOf(project::Settings& settings) const
{
    finish::Grade& grade = settings.finish.grade;
    switch (m_which->currentIndex()) {
    case 1:
        return grade.redCurve;
    case 2:
        return grade.greenCurve;
    case 3:
        return grade.blueCurve;
    default:
        return grade.curve;
    }
}

void GradeStep::refresh()
{
    project::Settings values = m_document.values();
    const finish::Grade& grade = values.finish.grade;
    m_curve->setCurve(curveOf(values),
                      kLines[static_cast<std::size_t>(std::max(0, m_which->currentIndex()))]);
    m_curve->setEnabled(m_document.isOpen());
    m_pick->setEnabled(m_document.isOpen());
    const finish::Tones none{1.0, 1.0, 1.0, 1.0};
    QStringList tones;
    if (grade.shadows != none) tones << tr("shadows");
    if (grade.midtones != none) tones << tr("midtones");
    if (grade.highlights != none) tones << tr("highlights");
    m_tones->setSummary(tones.isEmpty() ? tr("as they are") : tones.join(QStringLiteral(", ")));
    QStringList curves;
    for (const auto& [curve, name] :
         {std::pair{&grade.curve, tr("all")}, std::pair{&grade.redCurve, tr("red")},
          std::pair{&grade.greenCurve, tr("green")}, std::pair{&grade.blueCurve, tr("blue")}})
        if (isCurved(*curve)) curves << name;
    m_curves->setSummary(curves.isEmpty() ? tr("straight") : curves.join(QStringLiteral(", ")));
    m_cdl->setSummary(grade.cdl.isNeutral() ? tr("none") : tr("set"));
    QStringList words;
    if (grade.exposureStops != 0.0)
        words << tr("%1%2 stops")
                     .arg(grade.exposureStops > 0.0 ? QStringLiteral("+") : QStringLiteral("−"))
                     .arg(std::abs(grade.exposureStops), 0, 'g', 3);
    if (!grade.white.isNeutral()) words << tr("%1 K").arg(grade.white.temperatureK, 0, 'f', 0);
    if (grade.contrast != 1.0) words << tr("contrast %1").arg(grade.contrast, 0, 'g', 3);
    if (grade.saturation != 1.0) words << tr("saturation %1 %").arg(100.0 * grade.saturation, 0, 'f', 0);
    if (!tones.isEmpty()) words << tr("tones");
    if (!curves.isEmpty()) words << tr("curves");
    if (!grade.cdl.isNeutral()) words << tr("CDL");
    m_section.setSummary(!grade.isOn       ? tr("off")
                         : words.isEmpty() ? tr("none")
                                           : words.join(QStringLiteral(", ")));
}

} // namespace retinex::app
