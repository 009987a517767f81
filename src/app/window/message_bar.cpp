#include "app/window/message_bar.h"

#include "app/look/style.h"

#include <QHBoxLayout>
#include <QToolButton>

namespace retinex::app {

MessageBar::MessageBar(QWidget* parent)
    : QWidget(parent), m_mark(new QLabel), m_text(new QLabel), m_action(new QToolButton)
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
    layout->addWidget(m_action);
    layout->addWidget(close);
    m_action->setObjectName(QStringLiteral("messageAction"));
    connect(m_action, &QToolButton::clicked, this, [this] {
        const auto work = m_work; // it may show another message
        hide();
        if (work) work();
    });
    m_text->setContentsMargins(0, 6, 0, 6);
    hide();
}

void MessageBar::show(Kind kind, const QString& text)
{
    show(kind, text, {}, {});
}

void MessageBar::show(Kind kind, const QString& text, const QString& action, std::function<void()> work)
{
    m_work = std::move(work);
    m_action->setText(action);
    m_action->setVisible(!action.isEmpty());
    m_mark->setStyleSheet(QStringLiteral("background: %1;")
                              .arg(kind == Kind::trouble ? style::trouble.name() : style::dimText.name()));
    m_text->setText(text);
    setVisible(true);
}

} // namespace retinex::app
