#include "app/picture/strips/reading_strip.h"

#include "app/look/style.h"
#include "app/picture/legends/small_zones.h"

#include <QEvent>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPixmap>

namespace retinex::app {

namespace {

constexpr int kEdge = 10; ///< px to the edges of what it lies over

} // namespace

ReadingStrip::ReadingStrip(QWidget* over) : QWidget(over), m_title(new QLabel)
{
    setObjectName(QStringLiteral("readingStrip"));
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(QStringLiteral("#readingStrip { background: #1c1c1c; border: 1px solid %1; }")
                      .arg(style::line.name()));
    m_title->setWordWrap(true);
    auto* later = new QToolButton;
    later->setText(tr("Keep it so"));
    later->setToolTip(tr("Reads depth as the first picture shows, and does not ask again."));
    later->setObjectName(QStringLiteral("readingKeep"));
    connect(later, &QToolButton::clicked, this, [this] {
        hide();
        emit dismissed();
    });
    auto* layout = new QGridLayout(this);
    layout->setContentsMargins(10, 8, 10, 8);
    layout->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->addWidget(m_title, 1);
    head->addWidget(later, 0, Qt::AlignTop);
    layout->addLayout(head, 0, 0, 1, kMost);
    for (int i = 0; i < kMost; ++i) {
        auto* card = m_cards[i] = new QToolButton;
        card->setObjectName(QStringLiteral("reading%1").arg(i + 1));
        card->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        card->setIconSize(kSmallZonesSize);
        card->setSizePolicy(QSizePolicy::Preferred,
                            QSizePolicy::Expanding); // words of one line or two, cards of one height
        connect(card, &QToolButton::clicked, this, [this, i] {
            const ReadingChoice choice = m_choices[static_cast<std::size_t>(i)];
            hide();
            emit chosen(choice.settings, choice.words);
        });
        layout->addWidget(card, 1, i);
    }
    over->installEventFilter(this);
    hide();
}

void ReadingStrip::show(const QString& file, const std::vector<ReadingChoice>& choices)
{
    m_choices = choices;
    m_choices.resize(std::min<std::size_t>(m_choices.size(), kMost));
    m_title->setText(tr("%1 can be read in more than one way. Which is right?").arg(file));
    for (int i = 0; i < kMost; ++i) {
        const bool there = i < static_cast<int>(m_choices.size());
        m_cards[i]->setVisible(there);
        if (!there) continue;
        const ReadingChoice& choice = m_choices[static_cast<std::size_t>(i)];
        m_cards[i]->setIcon(QPixmap::fromImage(choice.picture));
        const QString words = choice.words;
        const QString likely = tr("%1 % likely").arg(std::lround(100.0 * choice.likelihood));
        // The longest readings take two lines.
        QString broken = words;
        const qsizetype comma = words.indexOf(QStringLiteral(", even"));
        if (comma > 0) broken.replace(comma, 2, QStringLiteral(",\n"));
        m_cards[i]->setText(broken + QLatin1Char('\n') + likely);
        m_cards[i]->setToolTip(tr("Read depth as %1").arg(words));
        m_cards[i]->setAccessibleName(tr("Read depth as %1, %2").arg(words, likely));
    }
    setVisible(true);
    place();
    raise();
}

void ReadingStrip::place()
{
    const int widest = parentWidget()->width() - 2 * kEdge;
    // Where there is little room the pictures shrink, not the words.
    const int columns = static_cast<int>(m_choices.size());
    const int room = columns > 0 ? (widest - 20 - 8 * (columns - 1)) / columns - 16 : kSmallZonesSize.width();
    const int width = std::clamp(room, 96, kSmallZonesSize.width());
    for (QToolButton* card : m_cards)
        card->setIconSize(QSize(width, width * kSmallZonesSize.height() / kSmallZonesSize.width()));
    const QSize hint = layout()->totalSizeHint();
    const int own = std::min(widest, std::max(hint.width(), 400));
    const int height = layout()->hasHeightForWidth() ? layout()->totalHeightForWidth(own) : hint.height();
    // Below a message that lies there already.
    const auto* message = parentWidget()->findChild<QWidget*>(QStringLiteral("messageBar"));
    const int top = message && message->isVisible() ? message->geometry().bottom() + kEdge : kEdge;
    setGeometry((parentWidget()->width() - own) / 2, top, own, height);
}

bool ReadingStrip::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == parent() && event->type() == QEvent::Resize && isVisible()) place();
    return QWidget::eventFilter(watched, event);
}

} // namespace retinex::app
