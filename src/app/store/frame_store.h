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
class FrameStore final : public MemoryBudget::Shelf
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
    ~FrameStore() override;
    FrameStore(const FrameStore&) = delete;
    FrameStore& operator=(const FrameStore&) = delete;
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

    [[nodiscard]] std::size_t bytes() const override { return static_cast<std::size_t>(bytesInMemory()); }
    [[nodiscard]] std::uint64_t oldestUse() const override;
    void dropOldest() override;

private:
    /// Least recently used first.
    struct Entry
    {
        qint64 bytes = 0;
        QImage picture; ///< null of those on disk
        std::list<QByteArray>::iterator use;
        std::uint64_t time = 0; ///< of the last use, by the budget's clock
    };
    struct Shelf
    {
        QHash<QByteArray, Entry> entries;
        std::list<QByteArray> order;
        qint64 bytes = 0;

        void touch(Entry& entry) { order.splice(order.end(), order, entry.use); }
        void add(const QByteArray& key, qint64 size, QImage picture = {});
        void remove(const QByteArray& key);
    };

    void keepInMemory(const QByteArray& key, const QImage& picture);
    void write(const QByteArray& key, const QImage& picture);
    [[nodiscard]] QImage read(const QByteArray& key) const;
    [[nodiscard]] QString fileOf(const QByteArray& key) const;
    void trimDisk(); ///< to its limit

    MemoryBudgetPtr m_budget = std::make_shared<MemoryBudget>();
    QString m_folder;
    mutable std::mutex m_mutex;
    Limits m_limits;
    Shelf m_memory;
    Shelf m_disk;
};

} // namespace retinex::app
