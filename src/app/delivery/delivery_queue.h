#pragma once

#include "app/jobs/background.h"
#include "core/delivery/deliver.h"

#include <QElapsedTimer>
#include <QObject>
#include <QString>
#include <QStringList>
#include <vector>

namespace retinex::app {

/// Deliveries that are being rendered and waiting. One at a time, in the background, with half of the cores
/// so that the window stays quick; each goes on where an earlier run ended. What waits is kept on disk: after
/// a crash it is there again, paused.
class DeliveryQueue : public QObject
{
    Q_OBJECT

public:
    enum class State { waiting, running, done, failed, cancelled };
    struct Entry
    {
        int id = 0;
        QString title; ///< of the project, and of its delivery
        QString projectFile;
        delivery::DeliveryJob job;
        State state = State::waiting;
        double share = 0.0;
        int written = 0;
        int kept = 0;
        int frames = 0;
        QStringList failures;
        QString lastFile; ///< that was written
    };

    /// Keeps what waits in `folder`; "" keeps nothing.
    explicit DeliveryQueue(const QString& folder, QObject* parent = nullptr);

    [[nodiscard]] const std::vector<Entry>& entries() const noexcept { return m_entries; }
    [[nodiscard]] bool isRunning() const noexcept { return m_work.isBusy(); }
    [[nodiscard]] bool isPaused() const noexcept { return m_isPaused; }
    [[nodiscard]] int waiting() const; ///< how many do
    /// Seconds left of the one that runs; below 0 when unknown. And frames a second.
    [[nodiscard]] double secondsLeft() const;
    [[nodiscard]] double framesPerSecond() const;

    void add(delivery::DeliveryJob job);
    /// What to tell where two of these, or one of them and one that waits or runs, write one file; "" else.
    [[nodiscard]] QString sharedTarget(std::vector<delivery::DeliveryJob> added) const;
    /// The one that runs stops after what it has under way, and goes on from there.
    void setPaused(bool paused);
    void cancel(int id);
    /// Waiting again: only what is missing or failed is made.
    void retry(int id);
    void remove(int id);
    /// Up (-1) or down (1).
    void move(int id, int by);

signals:
    void changed();
    /// Nothing waits any more: `failed` of `count` did.
    void emptied(int count, int failed);

private:
    [[nodiscard]] Entry* find(int id);
    void startNext();
    void begin(Entry& entry);
    void end(int id, State state, const QString& message);
    void keep() const;
    void readKept();

    QString m_folder;
    std::vector<Entry> m_entries;
    int m_last = 0;
    int m_running = 0; ///< id; 0: none
    bool m_isPaused = false;
    int m_count = 0; ///< ended since the queue was empty
    int m_failed = 0;
    double m_shareAtStart = -1.0;
    int m_writtenAtStart = 0;
    QElapsedTimer m_clock;
    Background m_work;
};

} // namespace retinex::app
