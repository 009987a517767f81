#pragma once

#include "app/controllers/compare_controller.h"
#include "app/controllers/delivery_controller.h"
#include "app/controllers/export_controller.h"
#include "app/controllers/finish_controller.h"
#include "app/controllers/inserts_controller.h"
#include "app/controllers/play_controller.h"
#include "app/controllers/presets_controller.h"
#include "app/controllers/regions_controller.h"
#include "app/controllers/subjects_controller.h"
#include "app/controllers/time_controller.h"

#include <QMainWindow>

class QSplitter;

namespace retinex::app {

/// The one window: lays the views out, makes the menus, and hands keys, drops and closing to the controllers.
class MainWindow : public QMainWindow
{
    Q_OBJECT

public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    /// Opens in the background; see openFiles. Asks first when changes would be lost.
    void open(const QStringList& files) { m_files.open(files); }
    /// Opens a project as a copy that has no file yet, so that saving asks for a name.
    void openAsCopy(const QString& project) { m_files.openAsCopy(project); }
    void setDemo(const QString& project) { m_files.setDemo(project); }
    /// Offers work that was not saved when a program ended, where there is some.
    void offerRecovered() { m_files.offerRecovered(); }
    void setMode(ViewMode mode) { m_picture.setMode(mode); }
    void showManual(int chapter = 0); ///< from 0 on
    /// Trouble that has no other place.
    void tell(const QString& message) { m_bench.message->show(MessageBar::Kind::trouble, message); }

    [[nodiscard]] Document& document() noexcept { return m_bench.document; }
    [[nodiscard]] Playback& playback() noexcept { return m_bench.playback; }
    [[nodiscard]] const FrameFiller& filler() const noexcept { return m_bench.filler; }
    [[nodiscard]] FrameStore& frameStore() noexcept { return *m_bench.store; }
    [[nodiscard]] DeliveryQueue& queue() noexcept { return m_delivery.queue(); }
    [[nodiscard]] const frame::LensPictures& lensPictures() const noexcept { return *m_bench.lensPictures; }
    [[nodiscard]] PictureView& picture() noexcept { return *m_bench.picture; }
    /// Nothing is being opened, rendered or surveyed.
    [[nodiscard]] bool isSettled() const;

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void changeEvent(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void buildLayout();
    void buildMenus();
    void connectParts();
    void alignLanes();
    void updateTitle();
    void updateArrangement();
    void showShortcuts();
    void showAbout();

    Workbench m_bench;
    PictureController m_picture;
    PassesController m_passes;
    FilesController m_files;
    ExportController m_export;
    DeliveryController m_delivery;
    SubjectsController m_subjects;
    RegionsController m_regions;
    InsertsController m_inserts;
    FinishController m_finish;
    PresetsController m_presets;
    TimeController m_time;
    PlayController m_play;
    CompareController m_compare;

    QSplitter* m_columns;
    QSplitter* m_rows;
    QSplitter* m_deskSplit;
    bool m_rowsAreSet = false;   ///< by hand
    QWidget* m_status = nullptr; ///< the row below the picture
};

} // namespace retinex::app
