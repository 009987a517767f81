#include "app/window/start_page.h"

#include "app/look/style.h"
#include "app/window/recent_pictures.h"

#include <QDir>
#include <QEvent>
#include <QFileInfo>
#include <QFontMetrics>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace retinex::app {

namespace {

constexpr int kRecentShown = 6;
constexpr int kColumns = 3;
constexpr int kWidth = kColumns * (kRecentPicture.width() + 24) + 2 * 12;

QLabel* words(const QString& text, double points, bool isDim)
{
    auto* label = new QLabel(text);
    label->setFont(style::textFont(points));
    label->setWordWrap(true);
    label->setAlignment(Qt::AlignHCenter);
    if (isDim) label->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    return label;
}

/// In the middle of a dark field of that size, which alone it is where there is no picture.
QPixmap framed(const QImage& picture, double ratio)
{
    QPixmap field(kRecentPicture * ratio);
    field.setDevicePixelRatio(ratio);
    field.fill(style::well);
    QPainter painter(&field);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    if (picture.isNull()) {
        painter.setPen(style::dimText);
        painter.setFont(style::textFont(8.5));
        painter.drawText(QRect(QPoint(0, 0), kRecentPicture), Qt::AlignCenter,
                         StartPage::tr("no picture yet"));
    } else {
        const QSize size = picture.size().scaled(kRecentPicture, Qt::KeepAspectRatio);
        painter.drawImage(QRect(QPoint((kRecentPicture.width() - size.width()) / 2,
                                       (kRecentPicture.height() - size.height()) / 2),
                                size),
                          picture);
    }
    return field;
}

} // namespace

StartPage::StartPage(QWidget& over) : QWidget(&over), m_recent(new QGridLayout), m_recentPart(new QWidget)
{
    setObjectName(QStringLiteral("startPage"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 8, 0, 8);
    layout->setSpacing(10);
    layout->addStretch();
    layout->addWidget(words(tr("Drop a rendered frame with its depth pass here"), 13, false));
    layout->addWidget(words(
        tr("One EXR with both or a file of each, a frame of a sequence, a folder, a project"), 9.5, true));
    layout->addSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    row->addStretch();
    const auto button = [&](const QString& text, const QString& help, const char* name, auto signal) {
        auto* made = new QPushButton(text);
        made->setObjectName(QLatin1String(name));
        made->setToolTip(help);
        made->setFocusPolicy(Qt::TabFocus);
        made->setMinimumWidth(140);
        connect(made, &QPushButton::clicked, this, signal);
        row->addWidget(made);
    };
    button(tr("Open…"), tr("A project, a rendered frame, or colour and depth (Ctrl+O)"), "startOpen",
           &StartPage::openAsked);
    button(tr("Open the demo"), tr("A copy to try things on"), "startDemo", &StartPage::demoAsked);
    button(tr("From pictures…"), tr("Pictures without passes, hung before a camera (Ctrl+N)"),
           "startPictures", &StartPage::picturesAsked);
    row->addStretch();
    layout->addLayout(row);
    auto* recent = new QVBoxLayout(m_recentPart);
    recent->setContentsMargins(0, 14, 0, 0);
    recent->setSpacing(6);
    recent->addWidget(words(tr("Open again"), 9.5, true));
    m_recent->setSpacing(12);
    auto* middle = new QHBoxLayout;
    middle->addStretch();
    middle->addLayout(m_recent);
    middle->addStretch();
    recent->addLayout(middle);
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
        const int index = m_recent->count();
        if (index == kRecentShown) break;
        const QFileInfo info(file);
        if (!info.exists()) continue;
        auto* entry = new QToolButton;
        entry->setObjectName(QStringLiteral("startRecent"));
        entry->setFocusPolicy(Qt::TabFocus);
        entry->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        entry->setIcon(framed(recentPicture(file), devicePixelRatioF()));
        entry->setIconSize(kRecentPicture);
        entry->setText(metrics.elidedText(info.fileName(), Qt::ElideMiddle, kRecentPicture.width()));
        entry->setToolTip(QDir::toNativeSeparators(file));
        entry->setAccessibleName(file);
        connect(entry, &QToolButton::clicked, this, [this, file] { emit recentAsked(file); });
        m_recent->addWidget(entry, index / kColumns, index % kColumns);
    }
    place();
}

/// In the middle of what it lies over; rows of pictures that have no room there stay away.
void StartPage::place()
{
    const int width = std::min(kWidth, parentWidget()->width() - 20);
    setGeometry((parentWidget()->width() - width) / 2, 0, width, parentWidget()->height());
    const int rowHeight = kRecentPicture.height() + 44;
    const int rows = std::max(0, parentWidget()->height() - 190) / rowHeight;
    for (int i = 0; i < m_recent->count(); ++i)
        m_recent->itemAt(i)->widget()->setVisible(i / kColumns < rows);
    m_recentPart->setVisible(m_recent->count() > 0 && rows > 0);
}

bool StartPage::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == parent() && event->type() == QEvent::Resize) place();
    return QWidget::eventFilter(watched, event);
}

} // namespace retinex::app
