#pragma once

#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/fields/section.h"
#include "app/jobs/analysis_service.h"
#include "app/jobs/background.h"
#include "app/sheet/findings_list.h"
#include "app/sheet/roles_list.h"
#include "core/passes/pass_roles.h"
#include "core/passes/scene/scene_file.h"

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
    [[nodiscard]] int shownMatte() const { return m_mattes->currentIndex(); }
    [[nodiscard]] bool isReading() const noexcept { return m_reading.isBusy() || m_sceneReading.isBusy(); }

signals:
    /// The artist wants other passes: the project as it would be, and the words for undo.
    void choiceMade(const retinex::project::Project& wanted, const QString& what);
    void matteChosen();
    void checkAsked(); ///< look at the present frame again
    void failed(const QString& message);

private:
    /// `work` is done at a click on the button beside the field; one sign makes it narrow.
    QWidget* withButton(QWidget* field, const QString& text, const char* name, const QString& help,
                        void (PassesPanel::*work)());
    void buildRows();
    void buildScene();
    void buildCheck();
    void refreshIfOther();
    void fillLayers();
    /// What each file is taken for now.
    [[nodiscard]] std::vector<passes::RoleProposal> presentRoles() const;
    void takeAs(int index, passes::Role role);
    void fillScene();
    void fillPoints();
    /// A file for one of the project's passes.
    void choosePass(const QString& title, const QString& what,
                    const std::function<passes::PassChoice&(project::Project&)>& pass);
    void chooseColourFile();
    void chooseDepthFile();
    void chooseAlphaFile();
    void chooseMotionFile();
    void addMatte();
    void removeMatte();
    void chooseSceneFile();
    void exchange();
    void applyCamera();
    void takePoint();
    [[nodiscard]] QString askForPicture(const QString& title) const;

    Document& m_document;
    AnalysisService& m_analysis;
    Section& m_section;
    std::vector<passes::RoleProposal> m_roleList;
    std::shared_ptr<const passes::SceneFile> m_scene;
    std::filesystem::path m_sceneName;
    Background m_reading; ///< mattes
    Background m_sceneReading;
    project::Project m_shown; ///< what of the project is shown here, and nothing else
    SourcePtr m_shownSource;
    QComboBox* m_colour;
    QComboBox* m_depth;
    QComboBox* m_alpha;
    QComboBox* m_motion;
    QComboBox* m_mattes;
    QComboBox* m_space;
    QComboBox* m_missing;
    QComboBox* m_eye;
    NumberField* m_frames;
    QComboBox* m_fit;
    QComboBox* m_camera;
    QComboBox* m_point;
    RolesList* m_files;
    QLabel* m_size;
    QLabel* m_sizeNotice;
    QLabel* m_cameraData;
    QLabel* m_sceneLabel;
    QPushButton* m_exchange;
    QPushButton* m_useCamera;
    QPushButton* m_takePoint;
    QLabel* m_checkTitle;
    FindingsList* m_findings;
    QPushButton* m_check;
};

} // namespace retinex::app
