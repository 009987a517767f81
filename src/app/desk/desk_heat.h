#pragma once

#include "app/desk/desk_state.h"
#include "app/jobs/depth_survey.h"

#include <QImage>

namespace retinex::app {

/// The heat image behind the desk: every frame's depth histogram as a column of greys, drawn column by column
/// as the survey brings them.
class DeskHeat
{
public:
    explicit DeskHeat(const DepthSurvey& survey) : m_survey(survey) {}

    void clear() { m_image = {}; }
    /// These frames have columns now.
    void add(const std::vector<int>& frames);
    /// Frames `first` to `last`, one px each across; the axis downward.
    [[nodiscard]] const QImage& image(int first, int last, const DistanceAxis& axis);

private:
    void drawColumn(int frame, const DepthColumn& column);

    const DepthSurvey& m_survey;
    QImage m_image;
    DistanceAxis m_axis;
    std::vector<int> m_bins; ///< of each row
    int m_first = 0;
    int m_last = 0;
};

} // namespace retinex::app
