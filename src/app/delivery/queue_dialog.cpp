#include "app/delivery/queue_dialog.h"

#include "app/look/style.h"
#include "core/colour/view_transform.h"
#include "core/image/reduced.h"
#include "core/passes/image_file.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QImageReader>
#include <QVBoxLayout>

namespace retinex::app {

namespace {

QString timeWords(double seconds)
{
    if (seconds < 0.0) return {};
    const int whole = static_cast<int>(seconds + 0.5);
    if (whole < 60) return QueueDialog::tr("%1 s left").arg(whole);
    if (whole < 3600) return QueueDialog::tr("%1 min %2 s left").arg(whole / 60).arg(whole % 60);
    return QueueDialog::tr("%1 h %2 min left").arg(whole / 3600).arg(whole / 60 % 60);
}

QString stateWords(const DeliveryQueue& queue, const DeliveryQueue::Entry& entry)
{
    using State = DeliveryQueue::State;
    switch (entry.state) {
    case State::waiting:
        return queue.isPaused() ? QueueDialog::tr("paused") : QueueDialog::tr("waiting");
    case State::running:
        return QueueDialog::tr("%1 %").arg(100.0 * entry.share, 0, 'f', 0);
    case State::done:
        return QueueDialog::tr("done");
    case State::failed:
        return QueueDialog::tr("failed");
    case State::cancelled:
        return QueueDialog::tr("cancelled");
    }
    return {};
}

/// Of a file that was written, as it looks on a screen; null where it is no picture.
QImage smallPicture(const QString& file, QSize size)
{
    QImageReader reader(file);
    if (reader.canRead()) return reader.read().scaled(size, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    if (!file.endsWith(QLatin1String(".exr"))) return {};
    try {
        auto read = passes::readChannels(file.toStdString(), 0, {"R", "G", "B"});
        const int divisor = std::max(1, read.planes.front().width() / size.width());
        RgbaImage small;
        for (int c = 0; c < 3; ++c)
            small.plane(c) = averaged(read.planes[static_cast<std::size_t>(c)], divisor);
        small.plane(3) = Plane<float>(small.width(), small.height(), 1.0F);
        QImage image(small.width(), small.height(), QImage::Format_RGB32);
        colour::ViewTransform(colour::availableViews().front())
            .apply(small, reinterpret_cast<std::uint32_t*>(image.bits()));
        return image.scaled(size, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    } catch (const std::exception&) { // a distance, or gone already
        return {};
    }
}

QString frameWords(const DeliveryQueue::Entry& entry)
{
    if (entry.kept > 0)
        return QueueDialog::tr("%1 of %2, %3 were there")
            .arg(entry.written)
            .arg(entry.frames)
            .arg(entry.kept);
    return QueueDialog::tr("%1 of %2").arg(entry.written).arg(entry.frames);
}

} // namespace

QueueDialog::QueueDialog(DeliveryQueue& queue, QWidget* parent)
    : QDialog(parent), m_queue(queue), m_list(new QTreeWidget), m_picture(new QLabel), m_details(new QLabel),
      m_pause(new QPushButton), m_cancel(new QPushButton(tr("Cancel"))),
      m_retry(new QPushButton(tr("Again"))), m_remove(new QPushButton(tr("Remove"))),
      m_up(new QPushButton(tr("Up"))), m_down(new QPushButton(tr("Down")))
{
    setObjectName(QStringLiteral("queueDialog"));
    setWindowTitle(tr("Queue"));
    resize(720, 380);
    m_list->setAccessibleName(tr("Deliveries in the queue"));
    m_list->setObjectName(QStringLiteral("queue"));
    m_list->setColumnCount(4);
    m_list->setHeaderLabels({tr("Delivery"), tr("State"), tr("Frames"), tr("Time")});
    m_list->setRootIsDecorated(false);
    m_list->setUniformRowHeights(true);
    m_list->header()->setStretchLastSection(true);
    m_list->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_picture->setFixedSize(160, 100);
    m_picture->setAlignment(Qt::AlignCenter);
    m_picture->setStyleSheet(QStringLiteral("background: #1c1c1c; color: %1;").arg(style::dimText.name()));
    m_details->setObjectName(QStringLiteral("queueDetails"));
    m_details->setWordWrap(true);
    m_details->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    m_details->setTextInteractionFlags(Qt::TextSelectableByMouse);
    const struct
    {
        QPushButton* button;
        const char* name;
        QString help;
    } buttons[] = {{m_pause, "queuePause", tr("What is under way goes on from where it was.")},
                   {m_cancel, "queueCancel", tr("Files that are written are whole and stay.")},
                   {m_retry, "queueRetry", tr("Only what is missing or failed is made.")},
                   {m_up, "queueUp", tr("Sooner.")},
                   {m_down, "queueDown", tr("Later.")},
                   {m_remove, "queueRemove", tr("Out of the list; files stay.")}};
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    for (const auto& [button, name, help] : buttons) {
        button->setObjectName(QLatin1String(name));
        button->setToolTip(help);
        button->setAutoDefault(false);
        row->addWidget(button);
        if (button == m_pause) row->addSpacing(18);
    }
    row->addStretch(1);
    auto* below = new QHBoxLayout;
    below->setSpacing(12);
    below->addWidget(m_picture, 0, Qt::AlignTop);
    below->addWidget(m_details, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(10);
    layout->addWidget(m_list, 1);
    layout->addLayout(row);
    layout->addLayout(below);
    connect(m_pause, &QPushButton::clicked, this, [this] { m_queue.setPaused(!m_queue.isPaused()); });
    const auto act = [this](QPushButton* button, auto what) {
        connect(button, &QPushButton::clicked, this, [this, what] {
            if (const auto* entry = chosen()) what(entry->id);
        });
    };
    act(m_cancel, [this](int id) { m_queue.cancel(id); });
    act(m_retry, [this](int id) { m_queue.retry(id); });
    act(m_remove, [this](int id) { m_queue.remove(id); });
    act(m_up, [this](int id) { m_queue.move(id, -1); });
    act(m_down, [this](int id) { m_queue.move(id, 1); });
    connect(&m_queue, &DeliveryQueue::changed, this, &QueueDialog::refresh);
    connect(m_list, &QTreeWidget::currentItemChanged, this, &QueueDialog::showDetails);
    refresh();
}

const DeliveryQueue::Entry* QueueDialog::chosen() const
{
    const QTreeWidgetItem* item = m_list->currentItem();
    if (!item) return nullptr;
    for (const auto& entry : m_queue.entries())
        if (entry.id == item->data(0, Qt::UserRole).toInt()) return &entry;
    return nullptr;
}

/// The rows stay, so that what is chosen does.
void QueueDialog::refresh()
{
    const auto& entries = m_queue.entries();
    const int was = chosen() ? chosen()->id : 0;
    while (m_list->topLevelItemCount() > static_cast<int>(entries.size()))
        delete m_list->takeTopLevelItem(m_list->topLevelItemCount() - 1);
    for (std::size_t i = 0; i < entries.size(); ++i) {
        const auto& entry = entries[i];
        QTreeWidgetItem* item = m_list->topLevelItem(static_cast<int>(i));
        if (!item) {
            item = new QTreeWidgetItem;
            m_list->addTopLevelItem(item);
        }
        item->setData(0, Qt::UserRole, entry.id);
        item->setText(0, entry.title);
        item->setToolTip(0, entry.title);
        item->setText(1, stateWords(m_queue, entry));
        item->setText(2, frameWords(entry));
        const bool isRunning = entry.state == DeliveryQueue::State::running;
        QString time = isRunning ? timeWords(m_queue.secondsLeft()) : QString();
        if (const double rate = m_queue.framesPerSecond(); isRunning && rate > 0.0)
            time += rate < 1.0 ? tr(", %1 s a frame").arg(1.0 / rate, 0, 'g', 2)
                               : tr(", %1 frames/s").arg(rate, 0, 'g', 2);
        item->setText(3, time);
        if (entry.id == was || (was == 0 && isRunning)) m_list->setCurrentItem(item);
    }
    if (!m_list->currentItem() && m_list->topLevelItemCount() > 0)
        m_list->setCurrentItem(m_list->topLevelItem(0));
    for (const int column : {1, 2}) {
        m_list->resizeColumnToContents(column);
        m_list->setColumnWidth(column, m_list->columnWidth(column) + 18);
    }
    m_pause->setText(m_queue.isPaused() ? tr("Go on") : tr("Pause"));
    showDetails();
}

void QueueDialog::showDetails()
{
    using State = DeliveryQueue::State;
    const auto* entry = chosen();
    const bool isRunning = entry && entry->state == State::running;
    m_cancel->setEnabled(entry && (isRunning || entry->state == State::waiting));
    m_retry->setEnabled(entry && (entry->state == State::failed || entry->state == State::cancelled ||
                                  entry->state == State::done));
    m_remove->setEnabled(entry && !isRunning);
    m_up->setEnabled(entry != nullptr);
    m_down->setEnabled(entry != nullptr);
    if (!entry) {
        m_details->setText(tr("Nothing waits. Add deliveries in the Delivery section."));
        m_picture->clear();
        m_picture->setVisible(false);
        return;
    }
    m_picture->setVisible(true);
    QString text =
        entry->lastFile.isEmpty() ? tr("No file written yet.") : tr("Last: %1").arg(entry->lastFile);
    constexpr int kShown = 6;
    for (int i = 0; i < std::min(kShown, static_cast<int>(entry->failures.size())); ++i)
        text += QLatin1Char('\n') + entry->failures[i];
    if (entry->failures.size() > kShown) text += tr("\n… and %1 more").arg(entry->failures.size() - kShown);
    m_details->setText(text);
    if (entry->lastFile == m_shownFile) return;
    m_shownFile = entry->lastFile;
    m_picture->setText(QFileInfo(m_shownFile).suffix().toUpper());
    if (m_shownFile.isEmpty()) return;
    m_work.start(tr("Looking at a file"),
                 [this, file = m_shownFile, size = m_picture->size()](const Background::Task& task) {
                     const QImage image = smallPicture(file, size);
                     task.post([this, image] {
                         if (!image.isNull()) m_picture->setPixmap(QPixmap::fromImage(image));
                     });
                 });
}

} // namespace retinex::app
