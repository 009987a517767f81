#pragma once

#include "app/jobs/background.h"
#include "app/store/survey_store.h"
#include "core/depth/histogram.h"
#include "core/project/project.h"

#include <QObject>
#include <map>
#include <memory>
#include <vector>

namespace retinex::app {

/// Reads the depth of every frame in the background, for the focus desk and for the range of the distance
/// axis: a few frames all over the sequence first, then those between. What was read is kept on disk, for the
/// next time. Frames that cannot be read are left out.
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

    /// Forgets what it has and begins anew, with the project's frames, read as it says.
    void start(std::shared_ptr<const passes::PassSource> source,
               std::shared_ptr<const project::Project> project);
    [[nodiscard]] bool isBusy() const noexcept { return m_work.isBusy(); }

    [[nodiscard]] const std::map<int, DepthColumn>& columns() const noexcept { return m_columns; }
    /// Nearest and farthest of all frames seen so far.
    [[nodiscard]] depth::DepthRange range() const noexcept { return m_range; }

signals:
    /// It has begun anew.
    void restarted();
    /// These frames have columns now; in batches.
    void changed(const std::vector<int>& frames);
    void failed(const QString& message);

private:
    void add(const std::vector<std::pair<int, DepthColumn>>& found);

    std::map<int, DepthColumn> m_columns;
    depth::DepthRange m_range;
    Background m_work;
};

/// The frames from `first` to `last`, spread widely at first: every 64th, then those in the middle between.
[[nodiscard]] std::vector<int> spreadOrder(int first, int last);

} // namespace retinex::app
