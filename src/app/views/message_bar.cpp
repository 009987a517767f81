#include "app/views/message_bar.h"

#include "app/views/style.h"

#include <QHBoxLayout>
#include <QToolButton>

namespace retinex::app {

MessageBar::MessageBar(QWidget* parent) : QWidget(parent), m_mark(new QLabel), m_text(new QLabel)
{
    setObjectName(QStringLiteral("messageBar"));
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(QStringLiteral("#messageBar { background: #1c1c1c; }"));
    m_text->setWordWrap(true);
    m_text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_text->setObjectName(QStringLiteral("messageText"));
    m_mark->setFixedWidth(4);
    auto* close = new QToolButton;
    close->setText(tr("Close"));
    close->setObjectName(QStringLiteral("messageClose"));
    connect(close, &QToolButton::clicked, this, &QWidget::hide);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 8, 0);
    layout->setSpacing(10);
    layout->addWidget(m_mark);
    layout->addWidget(m_text, 1);
    layout->addWidget(close);
    m_text->setContentsMargins(0, 6, 0, 6);
    hide();
}

void MessageBar::show(Kind kind, const QString& text)
{
    m_mark->setStyleSheet(QStringLiteral("background: %1;")
                              .arg(kind == Kind::trouble ? style::trouble.name() : style::dimText.name()));
    m_text->setText(text);
    setVisible(true);
}

} // namespace retinex::app
