#include "app/jobs/background.h"

#include "core/system/error.h"
#include "core/system/failure.h"

#include <QThreadPool>
#include <condition_variable>
#include <mutex>
#include <optional>

namespace retinex::app {

namespace {

/// Pieces of different kinds run beside each other, never behind one another.
QThreadPool& pool()
{
    static QThreadPool threads;
    threads.setMaxThreadCount(64);
    return threads;
}

} // namespace

/// What work and object have in common. The object's fields are read on the interface thread only; `context`
/// is null once it is gone.
struct Background::Task::Shared
{
    std::mutex mutex;
    std::condition_variable wake;
    QObject* context = nullptr;
    Background* owner = nullptr;
    std::function<void(std::stop_token)> next;
    bool isRunning = false;
    std::stop_source current;
    quint64 newest = 0;

    void post(std::function<void()> what)
    {
        const std::lock_guard lock(mutex);
        if (context) QMetaObject::invokeMethod(context, std::move(what), Qt::QueuedConnection);
    }

    static void runAll(const std::shared_ptr<Shared>& shared)
    {
        for (;;) {
            std::function<void(std::stop_token)> work;
            std::stop_token stop;
            {
                const std::lock_guard lock(shared->mutex);
                if (!shared->next) {
                    shared->isRunning = false;
                    return;
                }
                work = std::exchange(shared->next, nullptr);
                shared->current = std::stop_source();
                stop = shared->current.get_token();
            }
            work(stop);
        }
    }
};

void Background::Task::post(std::function<void()> what) const
{
    m_shared->post([shared = m_shared, number = m_number, era = m_era, what = std::move(what)] {
        if (shared->owner && shared->owner->m_era == era && shared->owner->m_number == number) what();
    });
}

void Background::Task::postEvenIfOld(std::function<void()> what) const
{
    m_shared->post([shared = m_shared, era = m_era, what = std::move(what)] {
        if (shared->owner && shared->owner->m_era == era) what();
    });
}

bool Background::Task::hasNewerWithin(std::chrono::milliseconds time) const
{
    std::unique_lock lock(m_shared->mutex);
    return m_shared->wake.wait_for(lock, time,
                                   [this] { return m_shared->newest != m_number || !m_shared->context; });
}

Background::Background() : m_shared(std::make_shared<Task::Shared>()), m_context(std::make_unique<QObject>())
{
    m_shared->context = m_context.get();
    m_shared->owner = this;
}

Background::~Background()
{
    {
        const std::lock_guard lock(m_shared->mutex);
        m_shared->context = nullptr;
        m_shared->owner = nullptr;
        m_shared->next = nullptr;
        m_shared->current.request_stop();
    }
    m_shared->wake.notify_all();
}

void Background::start(const QString& doing, Work work, Ends ends)
{
    const bool wasBusy = isBusy();
    ++m_number;
    Task task(m_shared, m_number, m_era);
    auto piece = [task, doing = doing.toStdString(), work = std::move(work),
                  ends = std::move(ends)](std::stop_token stop) mutable {
        task.m_stop = std::move(stop);
        std::function<void()> told;
        try {
            work(task);
        } catch (const Cancelled&) {
            told = ends.cancelled;
        } catch (...) {
            if (ends.failed)
                told = [failed = ends.failed,
                        words = QString::fromStdString(failureText(std::current_exception(), doing))] {
                    failed(words);
                };
        }
        work = nullptr; // what it held goes here, not on the interface thread
        task.post([shared = task.m_shared, number = task.m_number, told = std::move(told)] {
            shared->owner->setEnded(number);
            if (told) told();
        });
    };
    {
        const std::lock_guard lock(m_shared->mutex);
        m_shared->next = std::move(piece);
        m_shared->newest = m_number;
        m_shared->current.request_stop();
        if (!m_shared->isRunning) {
            m_shared->isRunning = true;
            pool().start([shared = m_shared] { Task::Shared::runAll(shared); });
        }
    }
    m_shared->wake.notify_all();
    if (!wasBusy && m_busyListener) m_busyListener(true);
}

void Background::requestStop()
{
    const std::lock_guard lock(m_shared->mutex);
    m_shared->current.request_stop();
}

void Background::drop()
{
    ++m_era;
    {
        const std::lock_guard lock(m_shared->mutex);
        m_shared->next = nullptr;
        m_shared->newest = 0;
        m_shared->current.request_stop();
    }
    m_shared->wake.notify_all();
    setEnded(m_number);
}

void Background::setEnded(quint64 number)
{
    const bool wasBusy = isBusy();
    m_ended = number;
    if (wasBusy && !isBusy() && m_busyListener) m_busyListener(false);
}

void Background::waitForAll()
{
    pool().waitForDone();
}

} // namespace retinex::app
