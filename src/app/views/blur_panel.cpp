#include "app/views/blur_panel.h"

#include "app/views/number_formats.h"

#include <QPushButton>

namespace retinex::app {

namespace {

FieldList::Setting setting(const QString& label, const char* name, NumberFormat format, const QString& help,
                           double defocus::BlurControls::*member)
{
    return {label,
            name,
            std::move(format),
            help,
            [member](const project::Project& p) { return p.blur.*member; },
            [member](project::Project& p, double value) { p.blur.*member = value; }};
}

FieldList::Setting simpleSetting(const QString& label, const char* name, NumberFormat format,
                                 const QString& help, double defocus::SimpleLens::*member)
{
    return {
        label,
        name,
        std::move(format),
        help,
        [member](const project::Project& p) { return p.simpleLens.value_or(defocus::SimpleLens{}).*member; },
        [member](project::Project& p, double value) {
            if (!p.simpleLens) return;
            defocus::SimpleLens changed = *p.simpleLens;
            changed.*member = value;
            if (changed.farthest > changed.nearest) p.simpleLens = changed;
        }};
}

} // namespace

BlurPanel::BlurPanel(Document& document, FieldList& fields, const Sections& sections, QObject* parent)
    : QObject(parent), m_document(document), m_fields(fields), m_sections(sections)
{
    m_fields.addLength(sections.focus,
                       setting(tr("Held in front"), "heldNear", {},
                               tr("Held zone: kept fully sharp so far in front of the focal plane."),
                               &defocus::BlurControls::heldNear));
    m_fields.addLength(sections.focus,
                       setting(tr("Held behind"), "heldFar", {},
                               tr("Held zone: kept fully sharp so far behind the focal plane."),
                               &defocus::BlurControls::heldFar));
    buildLens();
    buildRepair();
    connect(&document, &Document::projectChanged, this, &BlurPanel::refresh);
    connect(&document, &Document::opened, this, &BlurPanel::refresh);
    refresh();
}

void BlurPanel::buildLens()
{
    Section& section = m_sections.lens;
    m_fields.add(section, setting(tr("Strength"), "strength", percentFormat(0.0, 2.0, 1.0),
                                  tr("Share of the lens's blur: 0 % none, 200 % twice as much, for judging."),
                                  &defocus::BlurControls::strength));
    m_fields.add(section, setting(tr("Blur limit, near"), "limitNear",
                                  plainFormat({}, tr("px"), 0.0, 2000.0, 500.0, 4),
                                  tr("The largest radius in front of the focal plane."),
                                  &defocus::BlurControls::limitNearPx));
    m_fields.add(section,
                 setting(tr("Blur limit, far"), "limitFar", plainFormat({}, tr("px"), 0.0, 2000.0, 500.0, 4),
                         tr("The largest radius behind the focal plane."),
                         &defocus::BlurControls::limitFarPx));
    m_simple = new QCheckBox(tr("for depth without scale"));
    m_simple->setObjectName(QStringLiteral("simpleLens"));
    section.addRow(tr("Simple lens"), m_simple,
                   tr("Blur from a radius in px in place of f-stop, focal length and sensor width."));
    connect(m_simple, &QCheckBox::clicked, this, &BlurPanel::switchSimpleLens);
    m_simpleFields = {
        m_fields.add(section, simpleSetting(tr("Radius"), "simpleRadius",
                                            plainFormat({}, tr("px"), 0.0, 2000.0, 20.0, 4),
                                            tr("Of the far end, with the focus at the near end."),
                                            &defocus::SimpleLens::radiusPx)),
        m_fields.addLength(section,
                           simpleSetting(tr("Near end"), "simpleNear", {}, tr("Distance of the near end."),
                                         &defocus::SimpleLens::nearest)),
        m_fields.addLength(section,
                           simpleSetting(tr("Far end"), "simpleFar", {}, tr("Distance of the far end."),
                                         &defocus::SimpleLens::farthest))};
}

void BlurPanel::buildRepair()
{
    m_frameEdge = new QComboBox;
    m_frameEdge->setObjectName(QStringLiteral("frameEdge"));
    m_frameEdge->addItems({tr("continue"), tr("mirror"), tr("open")}); // in the order of FrameEdge
    m_sections.repair.addRow(
        tr("Frame edge"), m_frameEdge,
        tr("What lies beyond the picture: more of its edge, the picture turned over, or nothing."));
    connect(m_frameEdge, &QComboBox::activated, this, [this](int index) {
        project::Project changed = m_document.project();
        changed.frameEdge = static_cast<defocus::FrameEdge>(index);
        m_document.edit(tr("set frame edge to %1").arg(m_frameEdge->currentText()), changed);
    });
    auto* show = new QPushButton(tr("Show edge repair"));
    show->setObjectName(QStringLiteral("showRepair"));
    show->setToolTip(
        tr("The Repair view (7): mixed pixels that are taken apart, and what is filled behind."));
    m_sections.repair.form().addRow(show);
    connect(show, &QPushButton::clicked, this, &BlurPanel::repairViewAsked);
}

void BlurPanel::switchSimpleLens(bool on)
{
    project::Project changed = m_document.project();
    changed.simpleLens.reset();
    if (on) {
        // The ends of the reading are those of the frame, or what the artist has set.
        changed.simpleLens = defocus::SimpleLens{20.0, changed.reading.nearest, changed.reading.farthest};
        if (!(changed.simpleLens->nearest > 0.0 &&
              changed.simpleLens->farthest > changed.simpleLens->nearest))
            changed.simpleLens = defocus::SimpleLens{};
    }
    m_document.edit(on ? tr("use the simple lens") : tr("use the thin lens"), changed);
}

void BlurPanel::refresh()
{
    const auto& project = m_document.project();
    m_simple->setChecked(project.simpleLens.has_value());
    for (NumberField* field : m_simpleFields)
        m_sections.lens.setRowVisible(field, project.simpleLens.has_value());
    m_frameEdge->setCurrentIndex(static_cast<int>(project.frameEdge));
}

} // namespace retinex::app
