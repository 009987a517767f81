#include "app/window/start_page.h"

#include "app/look/style.h"

#include <QDir>
#include <QEvent>
#include <QFileInfo>
#include <QFontMetrics>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace retinex::app {

namespace {

constexpr int kWidth = 520;
constexpr int kRecentShown = 5;

QLabel* words(const QString& text, double points, bool isDim)
{
    auto* label = new QLabel(text);
    label->setFont(style::textFont(points));
    label->setWordWrap(true);
    label->setAlignment(Qt::AlignHCenter);
    if (isDim) label->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    return label;
}

} // namespace

StartPage::StartPage(QWidget& over) : QWidget(&over), m_recent(new QVBoxLayout), m_recentPart(new QWidget)
{
    setObjectName(QStringLiteral("startPage"));
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(10);
    layout->addStretch();
    layout->addWidget(words(tr("Drop a rendered frame with its depth pass here"), 13, false));
    layout->addWidget(words(
        tr("One EXR with both or a file of each, a frame of a sequence, a folder, a project"), 9.5, true));
    layout->addSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    row->addStretch();
    const auto button = [&](const QString& text, const char* name, auto signal) {
        auto* made = new QPushButton(text);
        made->setObjectName(QLatin1String(name));
        made->setFocusPolicy(Qt::TabFocus);
        made->setMinimumWidth(140);
        connect(made, &QPushButton::clicked, this, signal);
        row->addWidget(made);
    };
    button(tr("Open…"), "startOpen", &StartPage::openAsked);
    button(tr("Open the demo"), "startDemo", &StartPage::demoAsked);
    row->addStretch();
    layout->addLayout(row);
    auto* recent = new QVBoxLayout(m_recentPart);
    recent->setContentsMargins(0, 14, 0, 0);
    recent->setSpacing(2);
    recent->addWidget(words(tr("Open again"), 9.5, true));
    m_recent->setSpacing(2);
    recent->addLayout(m_recent);
    layout->addWidget(m_recentPart);
    layout->addStretch();
    over.installEventFilter(this);
    place();
}

void StartPage::setRecent(const QStringList& files)
{
    while (QLayoutItem* item = m_recent->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const QFontMetrics metrics(style::textFont());
    for (const QString& file : files) {
        if (m_recent->count() == kRecentShown) break;
        if (!QFileInfo::exists(file)) continue;
        const QFileInfo info(file);
        auto* entry = new QToolButton;
        entry->setObjectName(QStringLiteral("startRecent"));
        entry->setFocusPolicy(Qt::TabFocus);
        entry->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        const QString folder = QDir::toNativeSeparators(info.absolutePath());
        entry->setText(tr("%1   in %2")
                           .arg(metrics.elidedText(info.fileName(), Qt::ElideMiddle, kWidth / 2),
                                metrics.elidedText(folder, Qt::ElideMiddle, kWidth / 2 - 60)));
        entry->setToolTip(QDir::toNativeSeparators(file));
        connect(entry, &QToolButton::clicked, this, [this, file] { emit recentAsked(file); });
        m_recent->addWidget(entry);
    }
    m_recentPart->setVisible(m_recent->count() > 0);
}

void StartPage::place()
{
    const int width = std::min(kWidth, parentWidget()->width() - 20);
    setGeometry((parentWidget()->width() - width) / 2, 0, width, parentWidget()->height());
}

bool StartPage::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == parent() && event->type() == QEvent::Resize) place();
    return QWidget::eventFilter(watched, event);
}

} // namespace retinex::app
