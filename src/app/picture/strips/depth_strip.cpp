#include "app/picture/strips/depth_strip.h"

#include "app/fields/chooser.h"
#include "app/look/style.h"

#include <QAction>
#include <QActionGroup>
#include <QLabel>
#include <QToolButton>

namespace retinex::app {

DepthStrip::DepthStrip(QWidget* parent)
    : Strip(parent), m_tools(new QActionGroup(this)), m_scale(new Chooser), m_evidence(new QToolButton)
{
    setObjectName(QStringLiteral("depthStrip"));
    FlowRow* layout = &row();
    const struct
    {
        QString name;
        QString help;
        const char* object;
    } rows[] = {
        {tr("Focus"), tr("Click: the focal plane goes there (F)"), "toolFocus"},
        {tr("Nearest"), tr("Click on the nearest thing that matters: the near end of the scale"),
         "toolNearest"},
        {tr("Farthest"), tr("Click on the farthest thing that matters: the far end of the scale"),
         "toolFarthest"},
        {tr("Both ends"), tr("Drag a rectangle: its 2 to 98 % become the ends"), "toolRange"},
        {tr("Measure"), tr("Drag along something and say how long it is: sets the scene scale"), "toolSpan"}};
    for (const auto& row : rows) {
        auto* action = m_tools->addAction(row.name);
        action->setCheckable(true);
        action->setToolTip(row.help);
        auto* button = new QToolButton;
        button->setDefaultAction(action);
        button->setObjectName(QLatin1String(row.object));
        button->setFocusPolicy(Qt::TabFocus);
        layout->addWidget(button);
    }
    m_tools->actions().front()->setChecked(true);
    connect(m_tools, &QActionGroup::triggered, this, [this] { emit toolChosen(tool()); });
    layout->addGap(8, false);
    auto* label = new QLabel(tr("Tones by"));
    label->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    addSpare(label);
    m_scale->setObjectName(QStringLiteral("toneScale"));
    m_scale->setToolTip(tr("What equal steps of grey stand for"));
    m_scale->setFocusPolicy(Qt::TabFocus);
    m_scale->addItem(tr("log"));
    m_scale->addItem(tr("dioptres"));
    m_scale->addItem(tr("distance"));
    m_scale->setAccessibleName(tr("Tones by"));
    connect(m_scale, &QComboBox::activated, this, &DepthStrip::scaleChosen);
    layout->addWidget(m_scale);
    layout->addGap();
    m_evidence->setObjectName(QStringLiteral("evidence"));
    m_evidence->setText(tr("Evidence"));
    m_evidence->setToolTip(tr("Where the picture shows which way round depth runs"));
    m_evidence->setCheckable(true);
    m_evidence->setFocusPolicy(Qt::TabFocus);
    connect(m_evidence, &QToolButton::toggled, this, &DepthStrip::evidenceToggled);
    layout->addWidget(m_evidence);
}

PictureTool DepthStrip::tool() const
{
    return static_cast<PictureTool>(m_tools->actions().indexOf(m_tools->checkedAction()));
}

void DepthStrip::setTool(PictureTool tool)
{
    m_tools->actions()[static_cast<int>(tool)]->trigger();
}

AxisScale DepthStrip::scale() const
{
    return static_cast<AxisScale>(m_scale->currentIndex());
}

bool DepthStrip::showsEvidence() const
{
    return m_evidence->isChecked();
}

void DepthStrip::setEvidence(bool shown)
{
    m_evidence->setChecked(shown);
}

void DepthStrip::setEvidenceAvailable(bool available)
{
    m_evidence->setEnabled(available);
}

} // namespace retinex::app
