#include "app/jobs/render_service.h"

#include "core/base/error.h"

#include <algorithm>

namespace retinex::app {

namespace {

/// Sized so that the coarse picture has about 100,000 pixels, which take a few milliseconds.
int coarseDivisor(int width, int height)
{
    int divisor = 1;
    while (static_cast<long long>(width / divisor) * (height / divisor) > 110'000)
        ++divisor;
    return divisor;
}

} // namespace

RenderService::RenderService(QObject* parent) : QObject(parent)
{
    m_thread = std::thread([this] { work(); });
}

RenderService::~RenderService()
{
    {
        const std::lock_guard lock(m_mutex);
        m_ending = true;
        m_current.request_stop();
    }
    m_wake.notify_all();
    m_thread.join();
}

quint64 RenderService::request(PictureRequest request)
{
    const bool wasBusy = isBusy();
    request.number = ++m_number;
    {
        const std::lock_guard lock(m_mutex);
        m_next = std::move(request);
        m_current.request_stop();
    }
    m_wake.notify_all();
    if (!wasBusy) emit busyChanged(true);
    return m_number;
}

void RenderService::work()
{
    for (;;) {
        PictureRequest request;
        std::stop_token stop;
        {
            std::unique_lock lock(m_mutex);
            m_wake.wait(lock, [this] { return m_ending || m_next; });
            if (m_ending) return;
            request = std::move(*m_next);
            m_next.reset();
            m_current = std::stop_source();
            stop = m_current.get_token();
        }
        renderOne(request, stop);
    }
}

void RenderService::renderOne(const PictureRequest& request, const std::stop_token& stop)
{
    QString failure;
    try {
        const Run run{0, {}, stop};
        const int coarse = coarseDivisor(request.source->width(), request.source->height());
        if (request.mode == ViewMode::result && coarse > 1) deliver(makePicture(request, coarse, run));
        deliver(makePicture(request, 1, run));
        return;
    } catch (const Cancelled&) {
        return;
    } catch (const Error& error) {
        failure = QString::fromStdString(error.what());
    } catch (const std::bad_alloc&) {
        failure = tr(
            "There is not enough memory for this picture. Close other programs, or work on a smaller one.");
    }
    const quint64 number = request.number;
    QMetaObject::invokeMethod(this, [this, number, failure] {
        if (number != m_number) return;
        m_delivered = number;
        emit failed(number, failure);
        emit busyChanged(false);
    });
}

void RenderService::deliver(const Picture& picture)
{
    QMetaObject::invokeMethod(this, [this, picture] {
        if (picture.number != m_number) return; // a newer request came while this one was on its way
        if (picture.divisor == 1) m_delivered = picture.number;
        emit pictureReady(picture);
        if (picture.divisor == 1) emit busyChanged(false);
    });
}

} // namespace retinex::app
