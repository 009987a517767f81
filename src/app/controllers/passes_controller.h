#pragma once

#include "app/controllers/picture_controller.h"
#include "app/jobs/frame_watch.h"
#include "app/jobs/opener.h"
#include "app/picture/strips/reading_choices.h"

#include <QTimer>

namespace retinex::app {

/// Passes and how depth is read: other passes, frames that come, the survey and the analysis, and measuring
/// in the Depth view.
class PassesController : public QObject
{
    Q_OBJECT

public:
    PassesController(Workbench& bench, PictureController& picture);

    /// Before another document is opened.
    void forget(const project::Project& next);
    /// After that: its files are watched, its frames surveyed.
    void begin(const Opened& opened);
    /// Reads the passes that a changed project names; one step, called `what`.
    void choose(const project::Project& wanted, const QString& what);
    [[nodiscard]] bool isReading() const noexcept { return m_choosing || m_choices.isBusy(); }
    void addActions(QMenu& menu);

signals:
    void machineNeeded();

private:
    void projectChanged();
    void watchFiles();
    void passesChosen(const Opened& chosen, const QString& what);
    void askForReading();
    void startSurvey();
    void startAnalysis();
    void startViews();
    void analysisChanged();
    void depthPicked(PictureTool tool, QPoint from, QPoint to);
    void pickEnd(PictureTool tool, QPoint at);
    void pickRange(QPoint from, QPoint to);
    void measureSpan(QPoint from, QPoint to);

    Workbench& m_bench;
    PictureController& m_picture;
    FrameWatch m_watch;
    std::vector<std::filesystem::path> m_watched; ///< that are watched
    Opener m_opener{m_bench.keeping()};
    bool m_choosing = false;
    bool m_otherDepth = false;   ///< what is being chosen has another depth pass
    bool m_isFresh = false;      ///< nobody has been asked how this depth pass is read
    bool m_askedReading = false; ///< the likeliest readings are shown, or will be
    ReadingChoices m_choices;
    bool m_exchangedTold = false; ///< the warning has been shown for the present reading
    /// What other frames were looked at by.
    struct Views
    {
        project::SceneCamera scene;
        others::OtherFrames choice = others::OtherFrames::nearFrames;
        bool operator==(const Views&) const = default;
    };
    Views m_views;
    QTimer m_viewsSoon;                                 ///< until the frame has stayed for a moment
    std::shared_ptr<const project::Project> m_surveyed; ///< as survey and analysis read depth
};

} // namespace retinex::app
