#pragma once

#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/jobs/analysis_service.h"
#include "app/layout/section.h"
#include "app/sheet/passes/findings_list.h"
#include "app/sheet/passes/header_camera_rows.h"
#include "app/sheet/passes/matte_row.h"
#include "app/sheet/passes/roles_list.h"
#include "app/sheet/passes/scene_rows.h"
#include "core/passes/pass_roles.h"

#include <QComboBox>
#include <QPushButton>
#include <memory>

namespace retinex::app {

/// The rows of the Passes section: which layer is colour, which channel is depth, mattes, colour space, what
/// to do about missing frames and other sizes, camera data, the scene file, and the pass check.
class PassesPanel : public QObject
{
    Q_OBJECT

public:
    PassesPanel(Document& document, AnalysisService& analysis, Section& section, QObject* parent);

    /// The files that were brought in, beside those that the project names.
    void setRoles(std::vector<passes::RoleProposal> roles);
    /// Shows what is, whatever was chosen last.
    void refresh();
    [[nodiscard]] int shownMatte() const { return m_mattes->shown(); }
    [[nodiscard]] bool isReading() const noexcept { return m_mattes->isReading() || m_scene->isReading(); }

signals:
    /// The artist wants other passes: the project as it would be, and the words for undo.
    void choiceMade(const retinex::project::Project& wanted, const QString& what);
    void matteChosen();
    void checkAsked(); ///< look at the present frame again
    void failed(const QString& message);

private:
    void buildRows();
    void buildCheck();
    void refreshIfOther();
    void fillLayers();
    void takeAs(int index, passes::Role role);
    /// A file for one of the project's passes.
    void choosePass(const QString& title, const QString& what,
                    const std::function<passes::PassChoice&(project::Project&)>& pass);
    void chooseColourFile();
    void chooseDepthFile();
    void chooseAlphaFile();
    void chooseMotionFile();
    void exchange();

    Document& m_document;
    AnalysisService& m_analysis;
    Section& m_section;
    std::vector<passes::RoleProposal> m_roleList;
    project::Project m_shown; ///< what of the project is shown here, and nothing else
    SourcePtr m_shownSource;
    QComboBox* m_colour;
    QComboBox* m_depth;
    QComboBox* m_alpha;
    QComboBox* m_motion;
    QComboBox* m_space;
    QComboBox* m_missing;
    QComboBox* m_eye;
    NumberField* m_frames;
    QComboBox* m_fit;
    MatteRow* m_mattes = nullptr;
    HeaderCameraRows* m_camera = nullptr;
    SceneRows* m_scene = nullptr;
    RolesList* m_files;
    QLabel* m_size;
    QLabel* m_sizeNotice;
    QPushButton* m_exchange;
    QLabel* m_checkTitle;
    FindingsList* m_findings;
    QPushButton* m_check;
};

} // namespace retinex::app
