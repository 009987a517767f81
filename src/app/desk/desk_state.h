#pragma once

#include "app/desk/distance_axis.h"
#include "app/desk/frame_scale.h"
#include "app/document/document.h"
#include "core/timeline/mark_edits.h"

#include <QObject>

namespace retinex::app {

/// The axis that profile and desk share, so that a height means the same distance in both.
struct SharedAxis
{
    double nearest = 0.1; ///< scene units
    double farthest = 100.0;
    AxisScale scale = AxisScale::log;
    static constexpr int topMargin = 26; ///< px above the axis in both widgets (title, frame numbers)
    static constexpr int bottomMargin = 8;

    [[nodiscard]] DistanceAxis axis(int widgetHeight) const
    {
        return {nearest, farthest, static_cast<double>(std::max(10, widgetHeight - topMargin - bottomMargin)),
                scale};
    }
};

/// What profile, desk and lanes show together: the distances and frames in sight, and which marks are chosen.
class DeskState : public QObject
{
    Q_OBJECT

public:
    explicit DeskState(Document& document, QObject* parent = nullptr);

    /// All distances there are; shown unless the artist has zoomed.
    void setWhole(double nearest, double farthest);
    void setScale(AxisScale scale);
    [[nodiscard]] const SharedAxis& axis() const noexcept { return m_axis; }
    [[nodiscard]] bool isZoomed() const noexcept { return m_distancesZoomed || m_framesZoomed; }
    /// Zooms around a distance; factor above 1 shows less.
    void zoomDistances(double factor, double around);
    /// By a share of what is seen, upward.
    void panDistances(double share);

    [[nodiscard]] double leftFrame() const noexcept { return m_left; } ///< FrameScale::left
    [[nodiscard]] double rightFrame() const noexcept { return m_right; }
    void zoomFrames(double factor, double around);
    void panFrames(double frames);
    /// All frames and all distances again.
    void fit();

    /// Chosen marks are of one setting, in the shot of the present frame.
    [[nodiscard]] SettingPath chosenSetting() const noexcept { return m_chosenSetting; }
    [[nodiscard]] const timeline::ChosenFrames& chosen() const noexcept { return m_chosen; }
    [[nodiscard]] bool isChosen(const SettingPath& id, int frame) const
    {
        return id == m_chosenSetting && m_chosen.contains(frame);
    }
    void choose(const SettingPath& id, timeline::ChosenFrames frames);
    void toggle(const SettingPath& id, int frame);

signals:
    void changed(); ///< axis, frames or choice

private:
    void keepFrames();

    Document& m_document;
    SharedAxis m_axis;
    double m_wholeNearest = 0.1;
    double m_wholeFarthest = 100.0;
    bool m_distancesZoomed = false;
    double m_left = 1.0;
    double m_right = 2.0;
    bool m_framesZoomed = false;
    SettingPath m_chosenSetting = setting::focusDistance;
    timeline::ChosenFrames m_chosen;
};

} // namespace retinex::app
