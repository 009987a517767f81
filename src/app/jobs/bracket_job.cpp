#include "app/jobs/bracket_job.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

/// The frame with one value in place of the setting's own, marks or not.
project::Project withValue(const project::Project& project, int frame, const project::SettingPath& id,
                           double value)
{
    project::Project changed = project;
    project::Shot& shot = changed.shotAt(frame);
    shot.settings = changed.valuesAt(frame);
    shot.tracks.clear();
    project::infoOf(id)->set(shot.settings, value);
    return changed;
}

} // namespace

void BracketJob::start(Request request)
{
    const auto work = [this, request = std::move(request)](const Background::Task& task) {
        const int divisor = std::max(1, request.source->width() / std::max(1, request.width));
        for (std::size_t i = 0; i < request.values.size(); ++i) {
            const auto project = std::make_shared<project::Project>(
                withValue(request.project, request.frame, request.setting, request.values[i]));
            const auto result = frame::renderFrame(*request.source, {project, request.frame, divisor, {}},
                                                   {0, {}, task.stop()});
            QImage picture(result.image.width(), result.image.height(), QImage::Format_RGB32);
            request.view->apply(result.image, reinterpret_cast<std::uint32_t*>(picture.bits()),
                                {0, {}, task.stop()});
            task.post([this, i, picture] { emit pictureReady(static_cast<int>(i), picture); });
        }
    };
    m_work.start(tr("Rendering the bracket"), work,
                 {[this](const QString& message) { emit failed(message); }});
}

std::vector<double> bracketDistances(double nearest, double farthest, int count)
{
    std::vector<double> distances;
    for (int i = 0; i < count; ++i) {
        const double t = count > 1 ? static_cast<double>(i) / (count - 1) : 0.0;
        distances.push_back(1.0 / ((1.0 - t) / nearest + t / farthest));
    }
    return distances;
}

std::vector<double> bracketStops(int count)
{
    constexpr double stops[] = {1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0, 32.0, 45.0};
    return {std::begin(stops), std::begin(stops) + std::clamp<int>(count, 1, std::size(stops))};
}

} // namespace retinex::app
