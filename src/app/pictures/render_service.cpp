#include "app/pictures/render_service.h"

#include "core/frame/lay_in.h"
#include "core/passes/frames/reduction.h"
#include "core/system/error.h"

#include <algorithm>
#include <optional>
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

int coarseDivisor(int width, int height, double coarsePixels)
{
    const int step = passes::reductionStep(width, height);
    int divisor = 1;
    while (static_cast<double>(width / divisor) * (height / divisor) > coarsePixels)
        divisor += divisor < step ? 1 : step;
    return divisor;
}

/// Coarse pictures get as many pixels as the machine and the settings have time for. Each other size costs
/// passes of that size.
double coarsePixelsAfter(double coarsePixels, int pixels, double ms)
{
    if (ms < kFarOff * kCoarseMs && ms > kCoarseMs / kFarOff) return coarsePixels;
    const double fitting = pixels * kCoarseMs / std::max(ms, 1.0);
    // Too slow is mended at once; too quick with care.
    const double next = fitting < coarsePixels ? fitting : 0.5 * (coarsePixels + fitting);
    return std::clamp(next, kFewestPixels, kMostPixels);
}

} // namespace

RenderService::RenderService(QObject* parent) : QObject(parent)
{
    m_work.onBusyChanged([this](bool busy) { emit busyChanged(busy); });
}

std::vector<double> RenderService::takeDropTimesMs()
{
    const std::lock_guard lock(m_pace->mutex);
    return std::exchange(m_pace->dropTimesMs, {});
}

quint64 RenderService::request(PictureRequest request)
{
    request.number = ++m_number;
    m_newestFrame = request.frame;
    m_newestMode = request.mode;
    m_newestSource = request.source;
    {
        const std::lock_guard lock(m_pace->mutex);
        if (!std::exchange(m_pace->isDropAsked, true)) m_pace->dropAsked = Clock::now();
    }
    m_work.start(tr("Rendering the picture"),
                 [this, request = std::move(request), pace = m_pace](const Background::Task& task) {
                     render(request, task, *pace);
                 },
                 {[this, number = m_number](const QString& message) { emit failed(number, message); }});
    return m_number;
}

/// On the work's thread: of this object only what is posted is touched.
void RenderService::render(const PictureRequest& request, const Background::Task& task, Pace& pace)
{
    std::optional<Clock::time_point> refining; // since when
    {
        const std::lock_guard lock(pace.mutex);
        pace.isDropAsked = false;
    }
    try {
        int coarse = coarseDivisor(request.source->width(), request.source->height(), pace.coarsePixels);
        const auto passes = request.source->load(request.frame, request.project->readingAt(request.frame),
                                                 {0, {}, pace.all.get_token()});
        PictureDetail detail = request.visible;
        if (!canBeReduced(*passes)) detail.divisor = 1;
        // Made from what is refined, where that is kept: a coarser picture is a part of its size.
        if (coarse > detail.divisor) coarse += (detail.divisor - coarse % detail.divisor) % detail.divisor;
        if (coarse <= detail.divisor) detail.part = {}; // all of it is quick work
        if (request.mode == ViewMode::result && !request.onlyViewMoved && coarse > detail.divisor) {
            const auto start = Clock::now();
            Picture picture = makePicture(request, {coarse, {}, true}, {0, {}, pace.all.get_token()});
            picture.isFinal = false;
            pace.coarsePixels = coarsePixelsAfter(
                pace.coarsePixels, picture.image.width() * picture.image.height(), msSince(start));
            deliver(picture, request, task);
            if (task.hasNewerWithin(kRest)) return;
        }
        refining = Clock::now();
        deliver(makePicture(request, detail, {0, {}, task.stop()}), request, task);
    } catch (const Cancelled&) {
        const std::lock_guard lock(pace.mutex);
        if (refining && *refining <= pace.dropAsked && pace.dropTimesMs.size() < kDropsKept)
            pace.dropTimesMs.push_back(msSince(pace.dropAsked));
        throw;
    }
}

void RenderService::deliver(const Picture& picture, const PictureRequest& request,
                            const Background::Task& task)
{
    task.postEvenIfOld([this, picture, source = request.source] {
        if (picture.number != m_number) { // a newer request came while this one was on its way
            const bool isAlike = !picture.isFinal && picture.number > m_shown &&
                                 picture.frame == m_newestFrame && picture.mode == m_newestMode &&
                                 source == m_newestSource;
            if (!isAlike) return;
        }
        m_shown = picture.number;
        emit pictureReady(picture);
    });
}

} // namespace retinex::app
