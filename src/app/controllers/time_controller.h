#pragma once

#include "app/controllers/picture_controller.h"
#include "app/jobs/cut_finder.h"

namespace retinex::app {

/// Frames, marks, cuts and shots.
class TimeController : public QObject
{
    Q_OBJECT

public:
    TimeController(Workbench& bench, PictureController& picture);

    void addActions(QMenu& menu);
    /// Another document: nothing of the present one is heard of any more.
    void forget() { m_cutFinder.cancel(); }

signals:
    void takeAsked();

private:
    void cut(int frame);
    void removeCut(int frame);
    void proposeCuts();
    void showProposedCuts(const std::vector<int>& cuts);
    void renameShot();
    void copyShotSettings();
    void focusFromPositions();
    void showBracket();
    void bindChosen(const std::string& subject);
    void bakeShot();
    void tellOfMark(const SettingPath& id, int frame);

    Workbench& m_bench;
    PictureController& m_picture;
    CutFinder m_cutFinder;
};

} // namespace retinex::app
