#include "app/window/message_bar.h"

#include "app/look/style.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QToolButton>

namespace retinex::app {

namespace {

constexpr int kEdge = 10;          ///< px to the edges of what it lies over
constexpr int kWidest = 760;       ///< longer lines are hard to read
constexpr int kLeavesMs = 8000;    ///< long enough to read it and to reach its button
constexpr std::size_t kMost = 200; ///< messages that are remembered

} // namespace

MessageBar::MessageBar(QWidget* over, Place place, MessageBar* log)
    : QWidget(over), m_place(place), m_leaves(this), m_mark(new QLabel), m_text(new QLabel),
      m_action(new QToolButton), m_log(log ? log->m_said : m_said)
{
    const bool isLine = place == Place::insteadOf;
    setObjectName(isLine ? QStringLiteral("passingMessage") : QStringLiteral("messageBar"));
    const QString name = isLine ? QStringLiteral("passing") : QStringLiteral("message");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(
        QStringLiteral("#messageBar, #passingMessage { background: #1c1c1c; border: 1px solid %1; }")
            .arg(style::line.name()));
    m_text->setWordWrap(!isLine);
    m_text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_text->setObjectName(name + QStringLiteral("Text"));
    m_mark->setFixedWidth(4);
    auto* close = new QToolButton;
    close->setText(tr("Close"));
    close->setObjectName(name + QStringLiteral("Close"));
    connect(close, &QToolButton::clicked, this, &QWidget::hide);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(1, 1, 8, 1);
    layout->setSpacing(10);
    layout->addWidget(m_mark);
    layout->addWidget(m_text, 1);
    layout->addWidget(m_action);
    layout->addWidget(close);
    m_action->setObjectName(name + QStringLiteral("Action"));
    connect(m_action, &QToolButton::clicked, this, [this] {
        const auto work = m_work; // it may show another message
        hide();
        if (work) work();
    });
    if (isLine)
        layout->setContentsMargins(1, 0, 8, 0);
    else
        m_text->setContentsMargins(0, 5, 0, 5);
    m_leaves.setObjectName(name + QStringLiteral("Leaves"));
    m_leaves.setSingleShot(true);
    m_leaves.setInterval(kLeavesMs);
    connect(&m_leaves, &QTimer::timeout, this, [this] {
        if (underMouse())
            m_leaves.start();
        else
            hide();
    });
    over->installEventFilter(this);
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
    if (m_log.empty() || m_log.back().text != text || !isVisible())
        m_log.push_back({QTime::currentTime(), kind, text});
    if (m_log.size() > kMost) m_log.erase(m_log.begin());
    setVisible(true);
    place();
    raise();
    if (m_place == Place::insteadOf) m_leaves.start();
}

void MessageBar::place()
{
    if (m_place == Place::insteadOf) {
        setGeometry(parentWidget()->rect());
        return;
    }
    const int width = std::min(kWidest, parentWidget()->width() - 2 * kEdge);
    const int height = layout()->hasHeightForWidth() ? layout()->totalHeightForWidth(width)
                                                     : layout()->totalSizeHint().height();
    const int top = std::clamp(parentWidget()->height() - height, 0, kEdge); // where there is room
    setGeometry((parentWidget()->width() - width) / 2, top, width, height);
}

bool MessageBar::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == parent() && event->type() == QEvent::Resize && isVisible()) place();
    return QWidget::eventFilter(watched, event);
}

} // namespace retinex::app
