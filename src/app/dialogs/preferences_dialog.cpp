#include "app/dialogs/preferences_dialog.h"

#include "app/look/style.h"

#include <QDialogButtonBox>
#include <QDir>
#include <QFormLayout>
#include <QPushButton>
#include <QSettings>
#include <unistd.h>

namespace retinex::app {

namespace {

constexpr double kGigabyte = 1024.0 * 1024.0 * 1024.0;
constexpr double kUsualDisk = 8.0;
constexpr double kMostUsual = 4.0; ///< of memory, on machines with much of it

double physicalMemory()
{
    return static_cast<double>(::sysconf(_SC_PHYS_PAGES)) * static_cast<double>(::sysconf(_SC_PAGE_SIZE)) /
           kGigabyte;
}

double usualMemory()
{
    return std::clamp(0.125 * physicalMemory(), 0.25, kMostUsual);
}

QString memoryKey()
{
    return QStringLiteral("play/memoryGigabytes");
}
QString diskKey()
{
    return QStringLiteral("play/diskGigabytes");
}

QString gigabytes(qint64 bytes)
{
    return PreferencesDialog::tr("%1 GB").arg(static_cast<double>(bytes) / kGigabyte, 0, 'f', 2);
}

} // namespace

FrameStore::Limits PreferencesDialog::cacheLimits()
{
    const QSettings settings;
    return {static_cast<qint64>(settings.value(memoryKey(), usualMemory()).toDouble() * kGigabyte),
            static_cast<qint64>(settings.value(diskKey(), kUsualDisk).toDouble() * kGigabyte)};
}

PreferencesDialog::PreferencesDialog(FrameStore& store, QWidget* parent)
    : QDialog(parent), m_store(store), m_memory(new QDoubleSpinBox), m_disk(new QDoubleSpinBox),
      m_used(new QLabel)
{
    setObjectName(QStringLiteral("preferences"));
    setWindowTitle(tr("Preferences"));
    const FrameStore::Limits limits = cacheLimits();
    const auto prepare = [](QDoubleSpinBox* box, const char* name, double least, double most, double value) {
        box->setObjectName(QLatin1String(name));
        box->setRange(least, most);
        box->setDecimals(2);
        box->setSingleStep(0.25);
        box->setSuffix(tr(" GB"));
        box->setValue(value);
        box->setFixedWidth(110);
    };
    prepare(m_memory, "cacheMemory", 0.1, std::max(1.0, 0.8 * physicalMemory()),
            static_cast<double>(limits.memory) / kGigabyte);
    prepare(m_disk, "cacheDisk", 0.0, 2000.0, static_cast<double>(limits.disk) / kGigabyte);
    auto* form = new QFormLayout(this);
    form->setContentsMargins(18, 16, 18, 14);
    form->setVerticalSpacing(9);
    const auto words = [](const QString& text) {
        auto* label = new QLabel(text);
        label->setWordWrap(true);
        label->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
        return label;
    };
    auto* title = new QLabel(tr("Frames that were rendered for playing"));
    title->setFont(style::textFont(10.5));
    form->addRow(title);
    form->addRow(words(tr("They are kept until there is no room; then those that were shown longest ago go "
                          "first. On disk they are there the next time, too.")));
    form->addRow(tr("In memory, at most"), m_memory);
    form->addRow(tr("On disk, at most"), m_disk);
    m_used->setObjectName(QStringLiteral("cacheUsed"));
    auto* clear = new QPushButton(tr("Delete them all"));
    clear->setObjectName(QStringLiteral("cacheClear"));
    clear->setAutoDefault(false);
    connect(clear, &QPushButton::clicked, this, [this] {
        m_store.clear();
        refresh();
    });
    form->addRow(tr("There are now"), m_used);
    auto* folder = words(QDir::toNativeSeparators(store.folder()));
    folder->setTextInteractionFlags(Qt::TextSelectableByMouse);
    form->addRow(tr("Folder"), folder);
    form->addRow(QString(), clear);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    connect(buttons, &QDialogButtonBox::accepted, this, &PreferencesDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    form->addRow(buttons);
    setMinimumWidth(460);
    refresh();
}

void PreferencesDialog::refresh()
{
    m_used->setText(tr("%1 in memory, %2 on disk")
                        .arg(gigabytes(m_store.bytesInMemory()), gigabytes(m_store.bytesOnDisk())));
}

void PreferencesDialog::accept()
{
    QSettings settings;
    settings.setValue(memoryKey(), m_memory->value());
    settings.setValue(diskKey(), m_disk->value());
    QDialog::accept();
}

} // namespace retinex::app
