#pragma once

#include "app/controllers/actions.h"
#include "app/desk/depth_profile.h"
#include "app/desk/focus_desk.h"
#include "app/desk/mark_card.h"
#include "app/desk/mark_lanes.h"
#include "app/document/document.h"
#include "app/jobs/analysis_service.h"
#include "app/jobs/depth_survey.h"
#include "app/jobs/subject_service.h"
#include "app/picture/picture_view.h"
#include "app/picture/strips/compare_bar.h"
#include "app/picture/strips/depth_strip.h"
#include "app/picture/strips/probe_line.h"
#include "app/picture/strips/reading_strip.h"
#include "app/picture/strips/view_strip.h"
#include "app/play/frame_bar.h"
#include "app/play/play_menu.h"
#include "app/sheet/sheet.h"
#include "app/store/playback.h"
#include "app/window/export_bar.h"
#include "app/window/message_bar.h"
#include "app/window/start_page.h"
#include "app/window/tool_row.h"

namespace retinex::app {

/// What the controllers work with: the document, the services and the views. The window owns it and lays the
/// views out; a controller answers for one part of the work and owns the actions of that.
struct Workbench
{
    explicit Workbench(QWidget& parent);

    /// How the frames of passes are kept: beside those that are rendered, in one budget.
    [[nodiscard]] passes::Keeping keeping() const { return {store->budget()}; }

    /// Tells what was thrown; within a catch block. `doing` begins the sentence: "Saving".
    void tellFailure(const QString& doing) const;

    QWidget& window; ///< parent of dialogs
    Actions actions;
    Document document;
    DeskState deskState{document};
    DepthSurvey survey;
    AnalysisService analysis;
    SubjectService subjects;
    std::shared_ptr<FrameStore> store = std::make_shared<FrameStore>(); ///< not null
    /// Between the lens and finish, for the picture in the window.
    std::shared_ptr<frame::LensPictures> lensPictures =
        std::make_shared<frame::LensPictures>(store->budget());
    FrameFiller filler{store};
    Playback playback{document, filler};

    // Children of the window once they are laid out.
    PlayMenu* playMenu;
    ViewStrip* strip;
    CompareBar* compare;
    DepthStrip* depthStrip;
    ToolRow* toolRow; ///< holds compare and depthStrip
    PictureView* picture;
    MessageBar* message;        ///< over the picture
    ReadingStrip* readingStrip; ///< likewise, while it is not sure how depth is read
    StartPage* start;           ///< likewise, while nothing is open
    ProbeLine* probe;
    MessageBar* passing; ///< in the place of the probe line, for a few seconds
    ExportBar* exportBar;
    FrameBar* frameBar;
    DepthProfile* profile;
    FocusDesk* desk;
    MarkLanes* lanes;
    MarkCard* card;
    Sheet* sheet;
};

} // namespace retinex::app
