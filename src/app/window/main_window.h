#pragma once

#include "app/document/document.h"
#include "app/jobs/analysis_service.h"
#include "app/jobs/cut_finder.h"
#include "app/jobs/depth_survey.h"
#include "app/jobs/frame_watch.h"
#include "app/jobs/opener.h"
#include "app/store/playback.h"
#include "app/pictures/render_service.h"
#include "app/jobs/subject_service.h"
#include "app/play/cache_bar.h"
#include "app/picture/compare_bar.h"
#include "app/desk/depth_profile.h"
#include "app/picture/depth_strip.h"
#include "app/window/export_bar.h"
#include "app/desk/focus_desk.h"
#include "app/play/frame_bar.h"
#include "app/desk/mark_card.h"
#include "app/desk/mark_lanes.h"
#include "app/window/message_bar.h"
#include "app/picture/picture_view.h"
#include "app/play/play_menu.h"
#include "app/picture/probe_line.h"
#include "app/sheet/sheet.h"
#include "app/picture/view_strip.h"

#include <QMainWindow>
#include <QTimer>

class QSplitter;

namespace retinex::app {

/// The one window.
class MainWindow : public QMainWindow
{
    Q_OBJECT

public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    /// Opens in the background; see openFiles. Asks first when changes would be lost.
    void open(const QStringList& files);
    /// Opens a project as a copy that has no file yet, so that saving asks for a name.
    void openAsCopy(const QString& project);
    void setMode(ViewMode mode);
    void showManual(int chapter = 0); ///< from 0 on

    [[nodiscard]] Document& document() noexcept { return m_document; }
    [[nodiscard]] Playback& playback() noexcept { return m_playback; }
    [[nodiscard]] const FrameFiller& filler() const noexcept { return m_filler; }
    [[nodiscard]] FrameStore& frameStore() noexcept { return m_store; }
    [[nodiscard]] PictureView& picture() noexcept { return *m_picture; }
    /// Nothing is being opened, rendered or surveyed.
    [[nodiscard]] bool isSettled() const;

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void changeEvent(QEvent* event) override;

private:
    void buildLayout();
    void buildMenus();
    void buildFileMenu();
    void buildFrameMenu();
    void buildHelpMenu();
    void connectParts();
    QAction* addAction(QMenu* menu, const QString& text, const QKeySequence& keys,
                       std::function<void()> work);

    void chooseFiles();
    bool save();
    bool saveAs();
    /// False when the artist wants to stay with the present document.
    bool mayDiscard();
    void exportFrame();
    void exportSequence();
    void startExport(const QString& out, std::vector<int> frames);
    void takeOver(const Opened& opened);
    void rememberRecent(const QString& file);
    void fillRecent(QMenu* menu);
    void showShortcuts();
    void showAbout();

    void connectPasses();
    void connectDepth();
    void connectDesk();
    void connectSubjects();
    void updateSubjects();
    void track(bool back);
    void showTracked(const std::string& name, const timeline::FrameRange& range,
                     const tracking::Track& track);
    void rideOnSubject();
    void addScenePoint();
    void alignLanes();
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
    void connectPlayback();
    void applyCacheLimits();
    void updatePlayed();
    void needMachine();
    void playedChanged();
    void playStateChanged();
    void showPreferences();
    void connectCompare();
    void keepTake();
    void compareChanged();
    void hold(bool held);
    void askOther(const PictureDetail& visible);
    void putSide(PictureRequest& request, const CompareSide& side) const;
    void startSurvey();
    void startAnalysis();
    void passesChosen(const Opened& chosen, const QString& what);
    void analysisChanged();
    void depthPicked(PictureTool tool, QPoint from, QPoint to);
    void pickEnd(PictureTool tool, QPoint at);
    void pickRange(QPoint from, QPoint to);
    void measureSpan(QPoint from, QPoint to);
    void modeChanged();

    void requestPicture();
    void requestVisible();
    void viewChanged();
    void ask(bool onlyViewMoved);
    /// Of the present frame in the present view; all of it.
    [[nodiscard]] PictureRequest wholeRequest() const;
    void showPicture(const Picture& picture);
    void updateTitle();
    void updateAxis();
    void updateArrangement();
    [[nodiscard]] QString startFolder() const;

    Document m_document;
    DeskState m_deskState;
    DepthSurvey m_survey;
    RenderService m_renderer{this};
    RenderService m_otherRenderer{this}; ///< of what the picture is compared with
    FrameStore m_store;
    FrameFiller m_filler{m_store};
    Playback m_playback{m_document, m_filler};
    QTimer m_playedChanged; ///< runs until what is played is told to the filler
    QTimer m_idle;          ///< runs until nothing has happened for a while
    PictureDetail m_asked;  ///< of the newest request
    QTimer m_viewMoved;     ///< runs while the picture is zoomed and moved
    AnalysisService m_analysis;
    SubjectService m_subjects;
    CutFinder m_cutFinder;
    std::filesystem::path m_sceneFile; ///< that the picture shows points of
    FrameWatch m_watch;
    Opener m_opener;
    std::shared_ptr<const colour::ViewTransform> m_transform;
    bool m_opening = false;
    bool m_openAsCopy = false;
    bool m_renderFailed = false;
    bool m_exchangedTold = false; ///< the warning has been shown for the present reading
    std::shared_ptr<const project::Project> m_surveyed; ///< as survey and analysis read depth

    PlayMenu* m_playMenu;
    ViewStrip* m_strip;
    CompareBar* m_compare;
    DepthStrip* m_depthStrip;
    MessageBar* m_message;
    PictureView* m_picture;
    ProbeLine* m_probe;
    ExportBar* m_export;
    FrameBar* m_frameBar;
    DepthProfile* m_profile;
    FocusDesk* m_desk;
    MarkLanes* m_lanes;
    MarkCard* m_card;
    Sheet* m_sheet;
    QSplitter* m_columns;
    QSplitter* m_rows;
    QSplitter* m_deskSplit;
    QList<QAction*> m_actions; ///< all with shortcuts, for the list
};

} // namespace retinex::app
