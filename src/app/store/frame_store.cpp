#include "app/store/frame_store.h"

#include <QDataStream>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QStandardPaths>
#include <QStorageInfo>
#include <algorithm>
#include <unistd.h>

namespace retinex::app {

namespace {

constexpr quint32 kFrameMagic = 0x52465231;
constexpr qint64 kHeader = 12;
constexpr qint64 kLeftFree = qint64(1) << 29; ///< on the disk, for others

} // namespace

void FrameStore::OnDisk::add(const QByteArray& key, qint64 size)
{
    remove(key);
    order.push_back(key);
    entries.insert(key, {size, std::prev(order.end())});
    bytes += size;
}

void FrameStore::OnDisk::remove(const QByteArray& key)
{
    const auto it = entries.find(key);
    if (it == entries.end()) return;
    bytes -= it->bytes;
    order.erase(it->use);
    entries.erase(it);
}

QString FrameStore::standardFolder()
{
    return QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) +
           QStringLiteral("/retinex/frames");
}

FrameStore::FrameStore(QString folder) : m_folder(std::move(folder))
{
    const auto files =
        QDir(m_folder).entryInfoList({QStringLiteral("*.frame"), QStringLiteral("*.part")}, QDir::Files,
                                     QDir::Time | QDir::Reversed); // longest ago first
    const QDateTime longAgo = QDateTime::currentDateTime().addSecs(-3600);
    for (const QFileInfo& file : files) {
        if (file.suffix() == QLatin1String("frame"))
            m_disk.add(file.completeBaseName().toLatin1(), file.size());
        else if (file.lastModified() < longAgo) // of a program that ended while writing
            QFile::remove(file.filePath());
    }
}

void FrameStore::setLimits(Limits limits)
{
    {
        const std::lock_guard lock(m_mutex);
        m_limits = limits;
        trimDisk();
    }
    m_budget->setLimit(static_cast<std::size_t>(limits.memory));
}

FrameStore::Limits FrameStore::limits() const
{
    const std::lock_guard lock(m_mutex);
    return m_limits;
}

FrameStore::Place FrameStore::placeOf(const QByteArray& key) const
{
    if (m_memory.contains(key)) return Place::memory;
    const std::lock_guard lock(m_mutex);
    return m_disk.entries.contains(key) ? Place::disk : Place::nowhere;
}

QImage FrameStore::find(const QByteArray& key)
{
    const auto picture = m_memory.find(key);
    if (!picture) return {};
    const std::lock_guard lock(m_mutex);
    if (const auto file = m_disk.entries.find(key); file != m_disk.entries.end()) m_disk.touch(*file);
    return *picture;
}

QImage FrameStore::fetch(const QByteArray& key)
{
    if (QImage picture = find(key); !picture.isNull()) return picture;
    QImage picture = read(key);
    if (picture.isNull()) {
        const std::lock_guard lock(m_mutex);
        m_disk.remove(key); // it was deleted, or is damaged
        return {};
    }
    keepInMemory(key, picture);
    return picture;
}

void FrameStore::put(const QByteArray& key, const QImage& picture, bool inMemory)
{
    if (inMemory) keepInMemory(key, picture);
    write(key, picture);
}

void FrameStore::keepInMemory(const QByteArray& key, const QImage& picture)
{
    m_memory.put(key, std::make_shared<const QImage>(picture),
                 static_cast<std::size_t>(picture.sizeInBytes()));
}

qint64 FrameStore::roomInMemory() const
{
    const qint64 others = static_cast<qint64>(m_budget->bytes()) - bytesInMemory();
    return std::max<qint64>(0, limits().memory - std::max<qint64>(0, others));
}

QString FrameStore::fileOf(const QByteArray& key) const
{
    return m_folder + QLatin1Char('/') + QString::fromLatin1(key) + QStringLiteral(".frame");
}

void FrameStore::write(const QByteArray& key, const QImage& picture)
{
    const qint64 bytes = kHeader + picture.sizeInBytes();
    if (bytes > limits().disk) return;
    QDir().mkpath(m_folder);
    if (QStorageInfo(m_folder).bytesAvailable() < bytes + kLeftFree) return;
    // Under another name until it is whole; each program its own.
    const QString part =
        fileOf(key) + QLatin1Char('.') + QString::number(::getpid()) + QStringLiteral(".part");
    QFile file(part);
    if (!file.open(QIODevice::WriteOnly)) return;
    QDataStream stream(&file);
    stream << kFrameMagic << quint32(picture.width()) << quint32(picture.height());
    const bool whole = file.write(reinterpret_cast<const char*>(picture.constBits()),
                                  picture.sizeInBytes()) == picture.sizeInBytes() &&
                       file.flush();
    file.close();
    if (!whole || ::rename(part.toLocal8Bit().constData(), fileOf(key).toLocal8Bit().constData()) != 0) {
        QFile::remove(part);
        return;
    }
    const std::lock_guard lock(m_mutex);
    m_disk.add(key, bytes);
    trimDisk();
}

QImage FrameStore::read(const QByteArray& key) const
{
    QFile file(fileOf(key));
    if (!file.open(QIODevice::ReadOnly)) return {};
    QDataStream stream(&file);
    quint32 magic = 0;
    quint32 width = 0;
    quint32 height = 0;
    stream >> magic >> width >> height;
    if (magic != kFrameMagic || width == 0 || height == 0 ||
        file.size() != kHeader + qint64(4) * qint64(width) * qint64(height))
        return {};
    QImage picture(static_cast<int>(width), static_cast<int>(height), QImage::Format_RGB32);
    if (picture.isNull() ||
        file.read(reinterpret_cast<char*>(picture.bits()), picture.sizeInBytes()) != picture.sizeInBytes())
        return {};
    file.setFileTime(QDateTime::currentDateTime(), QFileDevice::FileModificationTime); // used just now
    return picture;
}

void FrameStore::trimDisk()
{
    while (m_disk.bytes > m_limits.disk && !m_disk.order.empty()) {
        const QByteArray oldest = m_disk.order.front();
        QFile::remove(fileOf(oldest));
        m_disk.remove(oldest);
    }
}

void FrameStore::clear()
{
    const std::lock_guard lock(m_mutex);
    for (const QByteArray& key : m_disk.order)
        QFile::remove(fileOf(key));
    m_memory.clear();
    m_disk = {};
}

qint64 FrameStore::bytesInMemory() const
{
    return static_cast<qint64>(m_memory.bytes());
}

qint64 FrameStore::bytesOnDisk() const
{
    const std::lock_guard lock(m_mutex);
    return m_disk.bytes;
}

} // namespace retinex::app
