#pragma once

#include "app/controllers/picture_controller.h"

namespace retinex::app {

/// Playing, and the frames that are made ready for it.
class PlayController : public QObject
{
    Q_OBJECT

public:
    /// `isBusy`: whether the machine is needed for something else.
    PlayController(Workbench& bench, PictureController& picture, std::function<bool()> isBusy);

    /// Something else is to be done: no frames are made ready until that is over.
    void needMachine();
    void showPreferences();

private:
    void applyCacheLimits();
    void playedChanged();
    void updatePlayed();
    void playStateChanged();

    Workbench& m_bench;
    PictureController& m_picture;
    std::function<bool()> m_isBusy;
    QTimer m_playedChanged; ///< runs until what is played is told to the filler
    QTimer m_idle;          ///< runs until nothing has happened for a while
};

} // namespace retinex::app
