#include "app/pictures/render_service.h"

#include "core/base/error.h"
#include "core/passes/reduction.h"

#include <algorithm>
#include <utility>

namespace retinex::app {

namespace {

using Clock = std::chrono::steady_clock;

/// What a coarse picture should take, and how many pixels it has at least and at most.
constexpr double kCoarseMs = 11.0;
constexpr double kFarOff = 1.4; ///< a size is kept while its time is within this factor of that

/// Refining begins when no newer request has come for so long: it would only take time from the next coarse
/// picture.
constexpr std::chrono::milliseconds kRest{40};

constexpr std::size_t kDropsKept = 1000;

constexpr double kFewestPixels = 10'000.0;
constexpr double kMostPixels = 400'000.0;

double msSince(Clock::time_point start)
{
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
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
        m_all.request_stop();
    }
    m_wake.notify_all();
    m_thread.join();
}

std::vector<double> RenderService::takeDropTimesMs()
{
    const std::lock_guard lock(m_mutex);
    return std::exchange(m_dropTimesMs, {});
}

quint64 RenderService::request(PictureRequest request)
{
    const bool wasBusy = isBusy();
    request.number = ++m_number;
    m_newestFrame = request.frame;
    m_newestMode = request.mode;
    m_newestSource = request.source;
    {
        const std::lock_guard lock(m_mutex);
        m_next = std::move(request);
        if (!m_current.stop_requested()) m_dropAsked = Clock::now();
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
    std::optional<Clock::time_point> refining; // since when
    try {
        const int coarse = coarseDivisor(request.source->width(), request.source->height());
        const auto passes = request.source->load(request.frame, request.project->readingAt(request.frame));
        PictureDetail detail = request.visible;
        if (!canBeReduced(*passes)) detail.divisor = 1;
        if (coarse <= detail.divisor) detail.part = {}; // all of it is quick work
        if (request.mode == ViewMode::result && !request.onlyViewMoved && coarse > detail.divisor) {
            const auto start = Clock::now();
            Picture picture = makePicture(request, {coarse, {}}, {0, {}, m_all.get_token()});
            picture.isFinal = false;
            noteCoarse(picture.image.width() * picture.image.height(), msSince(start));
            deliver(picture, request);
            if (hasNewerWithin(kRest)) return;
        }
        refining = Clock::now();
        deliver(makePicture(request, detail, {0, {}, stop}), request);
        return;
    } catch (const Cancelled&) {
        const std::lock_guard lock(m_mutex);
        if (refining && *refining <= m_dropAsked && !m_ending && m_dropTimesMs.size() < kDropsKept)
            m_dropTimesMs.push_back(msSince(m_dropAsked));
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

int RenderService::coarseDivisor(int width, int height) const
{
    const int step = passes::reductionStep(width, height);
    int divisor = 1;
    while (static_cast<double>(width / divisor) * (height / divisor) > m_coarsePixels)
        divisor += divisor < step ? 1 : step;
    return divisor;
}

bool RenderService::hasNewerWithin(std::chrono::milliseconds time)
{
    std::unique_lock lock(m_mutex);
    return m_wake.wait_for(lock, time, [this] { return m_ending || m_next; });
}

/// Coarse pictures get as many pixels as the machine and the settings have time for. Each other size costs
/// passes of that size.
void RenderService::noteCoarse(int pixels, double ms)
{
    if (ms < kFarOff * kCoarseMs && ms > kCoarseMs / kFarOff) return;
    const double fitting = pixels * kCoarseMs / std::max(ms, 1.0);
    // Too slow is mended at once; too quick with care.
    const double next = fitting < m_coarsePixels ? fitting : 0.5 * (m_coarsePixels + fitting);
    m_coarsePixels = std::clamp(next, kFewestPixels, kMostPixels);
}

void RenderService::deliver(const Picture& picture, const PictureRequest& request)
{
    QMetaObject::invokeMethod(this, [this, picture, source = request.source] {
        if (picture.number != m_number) { // a newer request came while this one was on its way
            const bool isAlike = !picture.isFinal && picture.number > m_shown &&
                                 picture.frame == m_newestFrame && picture.mode == m_newestMode &&
                                 source == m_newestSource;
            if (!isAlike) return;
        }
        m_shown = picture.number;
        if (picture.isFinal) m_delivered = picture.number;
        emit pictureReady(picture);
        if (picture.isFinal) emit busyChanged(false);
    });
}

} // namespace retinex::app
