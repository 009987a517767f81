#pragma once

#include "app/desk/distance_axis.h"
#include "app/picture/strips/strip.h"

#include <QComboBox>

class QActionGroup;
class QToolButton;

namespace retinex::app {

/// What a click or a drag in the picture does.
enum class PictureTool {
    focus,    ///< a click puts the focal plane there
    nearest,  ///< a click makes what is there the near end of the depth scale
    farthest, ///< ... the far end
    range,    ///< a rectangle gives both ends
    span,     ///< a line whose true length is then typed: sets the scene scale
    subject,  ///< a click places a subject, a drag moves one; in every view, as the next
    outline,  ///< a click for each corner draws round a subject
    white     ///< a click says what is to come out grey
};

/// Above the picture in the Depth view: the tools that measure depth, and the tone scale.
class DepthStrip : public Strip
{
    Q_OBJECT

public:
    explicit DepthStrip(QWidget* parent = nullptr);

    [[nodiscard]] PictureTool tool() const;
    void setTool(PictureTool tool);
    [[nodiscard]] AxisScale scale() const;
    [[nodiscard]] bool showsEvidence() const;
    void setEvidence(bool shown);
    void setEvidenceAvailable(bool available);

signals:
    void toolChosen(retinex::app::PictureTool tool);
    void scaleChosen();
    void evidenceToggled(bool shown);

private:
    QActionGroup* m_tools;
    QComboBox* m_scale;
    QToolButton* m_evidence;
};

} // namespace retinex::app
