#pragma once

#include "core/depth/histogram.h"
#include "core/passes/pass_source.h"

#include <QObject>
#include <map>
#include <memory>
#include <thread>
#include <vector>

namespace retinex::app {

/// The depth of one frame in short.
struct DepthColumn
{
    depth::DepthRange range;
    std::vector<float> bins; ///< counts in equal steps of log distance, kSurveyNearest to kSurveyFarthest
};

/// Reads the depth of every frame in the background, frame after frame, for the focus desk and for the range
/// of the distance axis. Frames that cannot be read are left out.
class DepthSurvey : public QObject
{
    Q_OBJECT

public:
    static constexpr double nearest = 1e-3; ///< scene units at the first bin
    static constexpr double farthest = 1e6; ///< scene units at the last bin
    static constexpr int binCount = 1536;   ///< 1.4 % of distance a bin

    /// Where a distance lies among the bins, as a fraction: 2.5 is the middle of the third.
    [[nodiscard]] static double binPosition(double distance);

    explicit DepthSurvey(QObject* parent = nullptr) : QObject(parent) {}
    ~DepthSurvey() override;

    /// Forgets what it has and begins anew.
    void start(std::shared_ptr<const passes::PassSource> source, const depth::ReadingSettings& reading,
               int firstFrame, int lastFrame);

    [[nodiscard]] const std::map<int, DepthColumn>& columns() const noexcept { return m_columns; }
    /// Nearest and farthest of all frames seen so far.
    [[nodiscard]] depth::DepthRange range() const noexcept { return m_range; }

signals:
    void changed();

private:
    void stop();
    void add(int frame, const DepthColumn& column);

    std::map<int, DepthColumn> m_columns;
    depth::DepthRange m_range;
    std::stop_source m_stop;
    std::thread m_thread;
    quint64 m_round = 0;
};

} // namespace retinex::app
