#pragma once

#include "app/jobs/picture_maker.h"

#include <QObject>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

namespace retinex::app {

/// Renders pictures on a thread of its own. The newest request wins: an older one under way is stopped. A
/// coarse picture comes first where the full one takes long, then the full one.
class RenderService : public QObject
{
    Q_OBJECT

public:
    explicit RenderService(QObject* parent = nullptr);
    ~RenderService() override;

    /// Numbers the request and takes it up; returns the number.
    quint64 request(PictureRequest request);
    /// True until the full picture of the newest request has been delivered (or has failed).
    [[nodiscard]] bool isBusy() const noexcept { return m_delivered != m_number; }

signals:
    /// On the interface thread; never for a request that a newer one has replaced.
    void pictureReady(const retinex::app::Picture& picture);
    void failed(quint64 number, const QString& message);
    void busyChanged(bool busy);

private:
    void work();
    void renderOne(const PictureRequest& request, const std::stop_token& stop);
    void deliver(const Picture& picture);

    std::mutex m_mutex;
    std::condition_variable m_wake;
    std::optional<PictureRequest> m_next;
    std::stop_source m_current;
    bool m_ending = false;
    std::thread m_thread;

    // Interface thread only.
    quint64 m_number = 0;
    quint64 m_delivered = 0;
};

} // namespace retinex::app
