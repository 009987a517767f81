#include "app/picture/strips/strip.h"

namespace retinex::app {

namespace {

constexpr int kRoomy = 1000; ///< px: from here on there is room for more than is needed

} // namespace

Strip::Strip(QWidget* parent) : QWidget(parent), m_row(new FlowRow(this))
{
    m_row->setContentsMargins(8, 3, 8, 3);
}

void Strip::addSpare(QWidget* words)
{
    m_row->addWidget(words);
    m_spare << words;
}

void Strip::resizeEvent(QResizeEvent* event)
{
    fitTo(width());
    QWidget::resizeEvent(event);
}

void Strip::fitTo(int width)
{
    const bool isTight = width < kRoomy;
    const QString style = isTight ? QStringLiteral("QToolButton { padding: 3px 4px; }")
                                  : QStringLiteral("QToolButton { padding: 3px 9px; }");
    if (style == styleSheet()) return;
    setStyleSheet(style);
    for (QWidget* words : m_spare)
        words->setVisible(!isTight);
}

} // namespace retinex::app
