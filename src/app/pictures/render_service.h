#pragma once

#include "app/jobs/background.h"
#include "app/pictures/picture_maker.h"

#include <QObject>
#include <chrono>
#include <mutex>

namespace retinex::app {

/// Renders pictures in the background. The newest request wins: refining an older one is stopped. A
/// coarse picture comes first where the full one takes long, then what the view shows in full. A coarse
/// picture is short work and is finished even when a newer request has come, so that the picture keeps moving
/// while a control is dragged.
class RenderService : public QObject
{
    Q_OBJECT

public:
    explicit RenderService(QObject* parent = nullptr);

    /// Numbers the request and takes it up; returns the number.
    quint64 request(PictureRequest request);
    [[nodiscard]] quint64 newest() const noexcept { return m_number; }
    /// How long dropping a refinement took, ms, each time since this was last asked; for measuring.
    [[nodiscard]] std::vector<double> takeDropTimesMs();
    /// Another document: what was asked for is not heard of any more.
    void drop() { m_work.drop(); }
    /// True until the final picture of the newest request has been delivered (or has failed).
    [[nodiscard]] bool isBusy() const noexcept { return m_work.isBusy(); }

signals:
    /// On the interface thread, numbers rising. Where a newer request has come already, only coarse pictures
    /// of the same frame and view.
    void pictureReady(const retinex::app::Picture& picture);
    void failed(quint64 number, const QString& message);
    void busyChanged(bool busy);

private:
    /// What the work needs to know from one picture to the next; it may outlive this object.
    struct Pace
    {
        std::mutex mutex;
        std::chrono::steady_clock::time_point dropAsked;
        bool isDropAsked = false;
        std::vector<double> dropTimesMs; ///< the first of them since they were taken
        double coarsePixels = 60'000.0;  ///< what a coarse picture may have; one piece of work at a time
        std::stop_source all;
    };
    void render(const PictureRequest& request, const Background::Task& task, Pace& pace);
    void deliver(const Picture& picture, const PictureRequest& request, const Background::Task& task);

    std::shared_ptr<Pace> m_pace = std::make_shared<Pace>();
    quint64 m_number = 0;
    quint64 m_shown = 0;
    int m_newestFrame = 0;
    ViewMode m_newestMode = ViewMode::result;
    std::shared_ptr<const passes::PassSource> m_newestSource;
    Background m_work;
};

} // namespace retinex::app
