#include "app/dialogs/recovery_dialog.h"

#include "app/look/style.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QMessageBox>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace retinex::app {

namespace {

constexpr QSize kKeptPicture(160, 90);

/// On a ground of one size, so that names stand in one line.
QIcon iconOf(const QImage& picture)
{
    QPixmap ground(kKeptPicture);
    ground.fill(style::panel);
    QPainter painter(&ground);
    if (!picture.isNull()) {
        const QSize size = picture.size().scaled(kKeptPicture, Qt::KeepAspectRatio);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(QRect(QPoint((kKeptPicture.width() - size.width()) / 2,
                                       (kKeptPicture.height() - size.height()) / 2),
                                size),
                          picture);
    } else {
        painter.setPen(style::dimText);
        painter.drawText(ground.rect(), Qt::AlignCenter, RecoveryDialog::tr("no picture"));
    }
    painter.setPen(style::line);
    painter.drawRect(ground.rect().adjusted(0, 0, -1, -1));
    return QIcon(ground);
}

} // namespace

RecoveryDialog::RecoveryDialog(std::vector<Recovered> found, QWidget* parent)
    : QDialog(parent), m_found(std::move(found)), m_list(new QListWidget)
{
    setObjectName(QStringLiteral("recovery"));
    setWindowTitle(tr("Unsaved work"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(18, 16, 18, 14);
    layout->setSpacing(10);
    auto* words = new QLabel(tr("Retinex ended before this was saved. It can be opened as it was."));
    words->setWordWrap(true);
    layout->addWidget(words);
    m_list->setObjectName(QStringLiteral("recoveryList"));
    m_list->setIconSize(kKeptPicture);
    m_list->setSpacing(3);
    layout->addWidget(m_list, 1);
    auto* buttons = new QHBoxLayout;
    auto* away = new QPushButton(tr("Throw away…"));
    away->setObjectName(QStringLiteral("recoveryThrowAway"));
    away->setAutoDefault(false);
    auto* later = new QPushButton(tr("Later"));
    later->setObjectName(QStringLiteral("recoveryLater"));
    later->setAutoDefault(false);
    auto* open = new QPushButton(tr("Open"));
    open->setObjectName(QStringLiteral("recoveryOpen"));
    open->setDefault(true);
    buttons->addWidget(away);
    buttons->addStretch();
    buttons->addWidget(later);
    buttons->addWidget(open);
    layout->addLayout(buttons);
    connect(away, &QPushButton::clicked, this, &RecoveryDialog::throwAway);
    connect(later, &QPushButton::clicked, this, &QDialog::reject);
    const auto take = [this] {
        if (m_list->currentRow() < 0) return;
        m_chosen = m_found[static_cast<std::size_t>(m_list->currentRow())];
        accept();
    };
    connect(open, &QPushButton::clicked, this, take);
    connect(m_list, &QListWidget::itemDoubleClicked, this, take);
    fill();
    resize(560, 380);
}

void RecoveryDialog::fill()
{
    m_list->clear();
    for (const Recovered& work : m_found) {
        const QString time = QLocale().toString(work.time.toLocalTime(), QLocale::ShortFormat);
        const QString where = work.original.isEmpty() ? tr("never saved") : work.original;
        auto* item =
            new QListWidgetItem(iconOf(work.picture),
                                tr("%1\n%2, frame %3\n%4").arg(work.title, time).arg(work.frame).arg(where));
        item->setToolTip(where);
        m_list->addItem(item);
    }
    m_list->setCurrentRow(0);
}

void RecoveryDialog::throwAway()
{
    const int row = m_list->currentRow();
    if (row < 0) return;
    const auto answer = QMessageBox::question(
        this, tr("Throw away"),
        tr("\"%1\" cannot be brought back after that.").arg(m_found[static_cast<std::size_t>(row)].title),
        QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Cancel);
    if (answer != QMessageBox::Discard) return;
    discard(m_found[static_cast<std::size_t>(row)]);
    m_found.erase(m_found.begin() + row);
    if (m_found.empty())
        reject();
    else
        fill();
}

} // namespace retinex::app
