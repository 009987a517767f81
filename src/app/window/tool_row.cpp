#include "app/window/tool_row.h"

#include "app/look/style.h"

namespace retinex::app {

ToolRow::ToolRow(CompareBar& compare, DepthStrip& depth, QWidget* parent)
    : QStackedWidget(parent), m_compare(compare), m_depth(depth), m_words(new QLabel)
{
    setObjectName(QStringLiteral("toolRow"));
    m_words->setObjectName(QStringLiteral("viewWords"));
    m_words->setIndent(10);
    m_words->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    m_words->setWordWrap(true);
    addWidget(&compare);
    addWidget(&depth);
    addWidget(m_words);
}

/// It is as high as the highest of its pages needs, those that are hidden too.
void ToolRow::resizeEvent(QResizeEvent* event)
{
    m_compare.fitTo(width());
    m_depth.fitTo(width());
    QStackedWidget::resizeEvent(event);
    updateGeometry(); // pages that are hidden do not tell by themselves that they need another height
}

void ToolRow::setMode(ViewMode mode)
{
    switch (mode) {
    case ViewMode::result:
        setCurrentWidget(&m_compare);
        return;
    case ViewMode::depth:
        setCurrentWidget(&m_depth);
        return;
    case ViewMode::source:
        m_words->setText(tr("The colour pass as it came, without the lens."));
        break;
    case ViewMode::zones:
        m_words->setText(tr("Clear is sharp. Hatched is beyond the far limit or before the near limit."));
        break;
    case ViewMode::blur:
        m_words->setText(tr("How large each pixel's blur disc is, in front of and behind the focal plane."));
        break;
    case ViewMode::mattes:
        m_words->setText(tr("The matte that is chosen in Passes."));
        break;
    case ViewMode::repair:
        m_words->setText(tr("Where pixels are taken apart at edges, and what is filled in behind."));
        break;
    }
    m_words->setToolTip(m_words->text());
    setCurrentWidget(m_words);
}

} // namespace retinex::app
