#pragma once

#include "app/pictures/picture_maker.h"

#include <QObject>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

namespace retinex::app {

/// Renders pictures on a thread of its own. The newest request wins: refining an older one is stopped. A
/// coarse picture comes first where the full one takes long, then what the view shows in full. A coarse
/// picture is short work and is finished even when a newer request has come, so that the picture keeps moving
/// while a control is dragged.
class RenderService : public QObject
{
    Q_OBJECT

public:
    explicit RenderService(QObject* parent = nullptr);
    ~RenderService() override;

    /// Numbers the request and takes it up; returns the number.
    quint64 request(PictureRequest request);
    [[nodiscard]] quint64 newest() const noexcept { return m_number; }
    /// How long dropping a refinement took, ms, each time since this was last asked; for measuring.
    [[nodiscard]] std::vector<double> takeDropTimesMs();
    /// True until the final picture of the newest request has been delivered (or has failed).
    [[nodiscard]] bool isBusy() const noexcept { return m_delivered != m_number; }

signals:
    /// On the interface thread, numbers rising. Where a newer request has come already, only coarse pictures
    /// of the same frame and view.
    void pictureReady(const retinex::app::Picture& picture);
    void failed(quint64 number, const QString& message);
    void busyChanged(bool busy);

private:
    void work();
    void renderOne(const PictureRequest& request, const std::stop_token& stop);
    void deliver(const Picture& picture, const PictureRequest& request);
    [[nodiscard]] int coarseDivisor(int width, int height) const;
    void noteCoarse(int pixels, double ms);
    [[nodiscard]] bool hasNewerWithin(std::chrono::milliseconds time);

    std::mutex m_mutex;
    std::condition_variable m_wake;
    std::optional<PictureRequest> m_next;
    std::stop_source m_current; ///< of the refinement
    std::stop_source m_all;
    std::chrono::steady_clock::time_point m_dropAsked;
    std::vector<double> m_dropTimesMs; ///< the first kDropsKept since they were taken
    double m_coarsePixels = 60'000.0; ///< what a coarse picture may have; work thread only
    bool m_ending = false;
    std::thread m_thread;

    // Interface thread only.
    quint64 m_number = 0;
    quint64 m_delivered = 0;
    quint64 m_shown = 0;
    int m_newestFrame = 0;
    ViewMode m_newestMode = ViewMode::result;
    std::shared_ptr<const passes::PassSource> m_newestSource;
};

} // namespace retinex::app
