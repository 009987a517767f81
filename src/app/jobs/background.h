#pragma once

#include <QObject>
#include <QString>
#include <chrono>
#include <functional>
#include <memory>
#include <stop_token>

namespace retinex::app {

/// Work in the background, one piece at a time, the newest wins: a new piece asks the one under way to stop
/// and begins when that has ended; a piece that waits is replaced. Whatever a piece throws becomes a message.
/// The interface thread never waits for it: an object that is destroyed, or told to drop its work, asks it to
/// stop and hears no more of it, so that nothing late reaches another document.
///
/// A piece owns what it works with (by value or shared), since it may outlive the object that began it.
class Background
{
public:
    /// What a piece of work knows of its place. Copies are alike.
    class Task
    {
    public:
        [[nodiscard]] const std::stop_token& stop() const noexcept { return m_stop; }
        /// Runs `what` on the interface thread, unless newer work was begun or this was dropped meanwhile.
        void post(std::function<void()> what) const;
        /// The same, also when newer work was begun: for a picture that is worth showing for a moment.
        void postEvenIfOld(std::function<void()> what) const;
        /// Waits up to `time` for newer work; true as soon as there is some.
        [[nodiscard]] bool hasNewerWithin(std::chrono::milliseconds time) const;

    private:
        friend class Background;
        struct Shared;
        Task(std::shared_ptr<Shared> shared, quint64 number, quint64 era)
            : m_shared(std::move(shared)), m_number(number), m_era(era)
        {
        }
        std::shared_ptr<Shared> m_shared;
        quint64 m_number;
        quint64 m_era;
        std::stop_token m_stop;
    };

    using Work = std::function<void(const Task&)>;
    /// How a piece may end besides having done its work; on the interface thread, as by post().
    struct Ends
    {
        std::function<void(const QString& message)> failed{};
        std::function<void()> cancelled{}; ///< it heard the request to stop, and no newer work was begun
    };

    Background();
    ~Background();
    Background(const Background&) = delete;
    Background& operator=(const Background&) = delete;

    /// `doing`: "Opening": begins the sentence for what nobody foresaw.
    void start(const QString& doing, Work work, Ends ends);
    void start(const QString& doing, Work work) { start(doing, std::move(work), Ends{}); }
    /// Asks what is under way to stop; its end is told.
    void requestStop();
    /// Asks to stop, and nothing of what was begun is heard of any more.
    void drop();
    /// From start() until the end of the newest piece has been heard of.
    [[nodiscard]] bool isBusy() const noexcept { return m_number != m_ended; }
    /// Called on the interface thread when isBusy() becomes true or false.
    void onBusyChanged(std::function<void(bool)> listener) { m_busyListener = std::move(listener); }

    /// Waits until no work is under way anywhere. For the end of the program, and for tests.
    static void waitForAll();

private:
    void setEnded(quint64 number);

    std::shared_ptr<Task::Shared> m_shared;
    std::unique_ptr<QObject> m_context; ///< receives what is posted
    std::function<void(bool)> m_busyListener;
    quint64 m_number = 0;
    quint64 m_ended = 0;
    quint64 m_era = 0; ///< grows with drop()
};

} // namespace retinex::app
