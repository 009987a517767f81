#pragma once

#include "app/controllers/picture_controller.h"

namespace retinex::app {

/// Takes, and comparing two pictures.
class CompareController : public QObject
{
    Q_OBJECT

public:
    CompareController(Workbench& bench, PictureController& picture);

    void addActions(QMenu& menu);
    void keepTake();
    /// While it is held the second picture is seen alone; the source where nothing is compared.
    void hold(bool held);
    void forget() { m_otherRenderer.drop(); }
    [[nodiscard]] bool isSettled() const { return !m_otherRenderer.isBusy(); }

private:
    void putSide(PictureRequest& request, const CompareSide& side) const;
    void compareChanged();
    void askOther(const PictureDetail& visible);

    Workbench& m_bench;
    PictureController& m_picture;
    RenderService m_otherRenderer{this}; ///< of what the picture is compared with
};

} // namespace retinex::app
