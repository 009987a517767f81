#include "app/sheet/blur_panel.h"

#include "app/fields/chooser.h"
#include "core/frame/others/other_frames.h"

#include <QPushButton>

namespace retinex::app {

BlurPanel::BlurPanel(Document& document, const AnalysisService& analysis, FieldList& fields,
                     const Sections& sections, QObject* parent)
    : QObject(parent), m_document(document), m_analysis(analysis), m_fields(fields), m_sections(sections)
{
    m_fields.number(sections.focus, tr("Held in front"), setting::heldNear,
                    tr("Held zone: kept fully sharp so far in front of the focal plane."));
    m_fields.number(sections.focus, tr("Held behind"), setting::heldFar,
                    tr("Held zone: kept fully sharp so far behind the focal plane."));
    buildLens();
    buildRepair();
    connect(&document, &Document::projectChanged, this, &BlurPanel::refresh);
    connect(&document, &Document::frameChanged, this, &BlurPanel::refresh);
    connect(&document, &Document::opened, this, &BlurPanel::refresh);
    connect(&analysis, &AnalysisService::viewsChanged, this, &BlurPanel::refreshViews);
    refresh();
}

void BlurPanel::buildLens()
{
    Section& section = m_sections.lens;
    m_fields.number(section, tr("Strength"), setting::strength,
                    tr("Share of the lens's blur: 0 % none, 200 % twice as much, for judging."));
    m_fields.number(section, tr("Blur limit, near"), setting::limitNear,
                    tr("The largest radius of blur in front of the focal plane; the CoC is twice as wide."));
    m_fields.number(section, tr("Blur limit, far"), setting::limitFar,
                    tr("The largest radius of blur behind the focal plane; the CoC is twice as wide."));
    m_simple = new QCheckBox(tr("for depth without scale"));
    m_simple->setObjectName(QStringLiteral("simpleLens"));
    section.addRow(tr("Simple lens"), m_simple,
                   tr("Blur from a radius in px in place of f-stop, focal length and sensor width."));
    connect(m_simple, &QCheckBox::clicked, this, &BlurPanel::switchSimpleLens);
    m_simpleFields = {
        m_fields.number(section, tr("Radius"), setting::simpleRadius,
                        tr("Of the far end, with the focus at the near end.")),
        m_fields.number(section, tr("Near end"), setting::simpleNearest, tr("Distance of the near end.")),
        m_fields.number(section, tr("Far end"), setting::simpleFarthest, tr("Distance of the far end."))};
}

void BlurPanel::buildRepair()
{
    m_fields.word(m_sections.repair, tr("Frame edge"), "repair/frameEdge",
                  {tr("continue"), tr("mirror"), tr("open")},
                  tr("What lies beyond the picture: more of its edge, the picture turned over, or nothing."));
    m_views = new Chooser;
    m_views->setObjectName(QStringLiteral("views"));
    m_views->addItems({tr("off"), tr("near ones"), tr("near and far")}); // in the order of Views
    m_sections.repair.addRow(
        tr("Other frames"), m_views,
        tr("Where the camera moves, other frames show what this one hides. Takes longer; the coarse "
           "picture does without."));
    m_viewsWords = new QLabel;
    m_viewsWords->setObjectName(QStringLiteral("viewsWords"));
    m_viewsWords->setWordWrap(true);
    m_sections.repair.addWide(m_viewsWords);
    connect(m_views, &QComboBox::activated, this, [this](int index) {
        m_document.editSettings(tr("set other frames to %1").arg(m_views->currentText()),
                                [&](project::Settings& settings) {
                                    settings.otherFrames = static_cast<others::OtherFrames>(index);
                                });
    });
    m_mattes = new QCheckBox(tr("used at edges"));
    m_mattes->setObjectName(QStringLiteral("mattesAtEdges"));
    m_sections.repair.addRow(
        tr("Matte passes"), m_mattes,
        tr("Edge pixels are divided between surfaces by the mattes. Without them, by their colour."));
    connect(m_mattes, &QCheckBox::clicked, this, [this](bool on) {
        m_document.editSettings(on ? tr("use mattes at edges") : tr("use no mattes at edges"),
                                [on](project::Settings& settings) { settings.mattesAtEdges = on; });
    });
    auto* show = new QPushButton(tr("Show edge repair"));
    show->setObjectName(QStringLiteral("showRepair"));
    show->setToolTip(
        tr("The Repair view (7): mixed pixels that are taken apart, and what is filled behind."));
    m_sections.repair.addWide(show);
    connect(show, &QPushButton::clicked, this, &BlurPanel::repairViewAsked);
}

void BlurPanel::switchSimpleLens(bool on)
{
    m_document.editSettings(on ? tr("use the simple lens") : tr("use the thin lens"),
                            [on](project::Settings& settings) {
                                settings.simpleLens.reset();
                                if (!on) return;
                                // The ends of the reading are those of the frame, or what the artist has set.
                                const auto& reading = settings.reading;
                                settings.simpleLens = defocus::SimpleLens{};
                                if (reading.nearest > 0.0 && reading.farthest > reading.nearest)
                                    settings.simpleLens = {20.0, reading.nearest, reading.farthest};
                            });
}

void BlurPanel::refresh()
{
    const auto& values = m_document.values();
    m_simple->setChecked(values.simpleLens.has_value());
    for (NumberField* field : m_simpleFields)
        m_sections.lens.setRowVisible(field, values.simpleLens.has_value());
    refreshViews();
    m_mattes->setChecked(values.mattesAtEdges);
    m_mattes->setEnabled(!m_document.project().mattes.empty());
}

/// Off and said so where there is nothing to look at; else where the camera comes from, once that is known.
void BlurPanel::refreshViews()
{
    const auto& source = m_document.source();
    const bool isSequence = source && m_document.isSequence() && !source->options().handMadeDepth;
    m_views->setEnabled(isSequence);
    m_views->setItemText(0, isSequence ? tr("off") : tr("only in a sequence"));
    const auto chosen = isSequence ? m_document.values().otherFrames : others::OtherFrames::off;
    m_views->setCurrentIndex(static_cast<int>(chosen));
    const auto& report = m_analysis.views();
    const bool isTold = report && chosen != others::OtherFrames::off;
    if (isTold) m_viewsWords->setText(QString::fromStdString(report->inWords()));
    m_sections.repair.setRowVisible(m_viewsWords, isTold);
}

} // namespace retinex::app
