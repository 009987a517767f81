#pragma once

#include "core/system/memory_budget.h"

#include <QByteArray>
#include <QHash>
#include <QImage>
#include <QString>
#include <list>
#include <mutex>

namespace retinex::app {

/// Rendered frames, ready to be shown: in memory, and on disk in the user's cache folder, where they outlive
/// the program. Both are bounded; what was used longest ago goes first. A key stands for all that a picture
/// depends on, so that nothing ever has to be declared out of date. What it has in memory counts in a budget
/// that it shares with the passes that are kept. Thread-safe.
class FrameStore
{
public:
    struct Limits
    {
        qint64 memory = qint64(1) << 30; ///< bytes; of the whole budget
        qint64 disk = qint64(8) << 30;   ///< 0: nothing on disk
        friend bool operator==(const Limits&, const Limits&) = default;
    };
    enum class Place { nowhere, disk, memory };

    /// `folder`: made when needed.
    explicit FrameStore(QString folder = standardFolder());
    [[nodiscard]] static QString standardFolder();

    void setLimits(Limits limits);
    [[nodiscard]] Limits limits() const;
    [[nodiscard]] const QString& folder() const noexcept { return m_folder; }

    [[nodiscard]] Place placeOf(const QByteArray& key) const;
    /// From memory only, at once; null when it is not there.
    [[nodiscard]] QImage find(const QByteArray& key);
    /// From memory, or from disk into memory; null when it is in neither. Reads a file.
    QImage fetch(const QByteArray& key);
    /// Format_RGB32. Writes a file, unless there is no room; a full disk is no error.
    void put(const QByteArray& key, const QImage& picture, bool inMemory = true);
    /// Everything goes.
    void clear();

    [[nodiscard]] qint64 bytesInMemory() const;
    [[nodiscard]] qint64 bytesOnDisk() const;
    /// What frames may take in memory beside what others keep there, bytes.
    [[nodiscard]] qint64 roomInMemory() const;
    [[nodiscard]] const MemoryBudgetPtr& budget() const noexcept { return m_budget; }

private:
    /// The files that are there, least recently used first.
    struct OnDisk
    {
        struct Entry
        {
            qint64 bytes = 0;
            std::list<QByteArray>::iterator use;
        };
        QHash<QByteArray, Entry> entries;
        std::list<QByteArray> order;
        qint64 bytes = 0;

        void touch(Entry& entry) { order.splice(order.end(), order, entry.use); }
        void add(const QByteArray& key, qint64 size);
        void remove(const QByteArray& key);
    };

    void keepInMemory(const QByteArray& key, const QImage& picture);
    void write(const QByteArray& key, const QImage& picture);
    [[nodiscard]] QImage read(const QByteArray& key) const;
    [[nodiscard]] QString fileOf(const QByteArray& key) const;
    void trimDisk(); ///< to its limit

    MemoryBudgetPtr m_budget = std::make_shared<MemoryBudget>();
    QString m_folder;
    KeptValues<QByteArray, QImage> m_memory{m_budget, 1.0, 1};
    mutable std::mutex m_mutex; ///< of what follows
    Limits m_limits;
    OnDisk m_disk;
};

} // namespace retinex::app
