#pragma once

#include "app/controllers/passes_controller.h"
#include "app/document/autosave.h"

#include <QTimer>

namespace retinex::app {

/// Opening, saving and finding again; unsaved work is kept and offered after a crash.
class FilesController : public QObject
{
    Q_OBJECT

public:
    FilesController(Workbench& bench, PassesController& passes);

    void addActions(QMenu& menu);
    /// In the background; see openFiles. Asks first when changes would be lost.
    void open(const QStringList& files);
    /// Opens a project as a copy that has no file yet, so that saving asks for a name.
    void openAsCopy(const QString& project);
    bool save();
    /// False when the artist wants to stay with the present document.
    bool mayDiscard();
    /// Offers work of programs that ended without saving it, where there is some.
    void offerRecovered();
    /// The project that *Open the demo* opens, as a copy.
    void setDemo(const QString& project) { m_demo = project; }
    [[nodiscard]] QString startFolder() const;
    [[nodiscard]] bool isOpening() const noexcept { return m_opening; }
    /// A small picture of what is open, for when it is to be opened again.
    void keepPicture() const;

signals:
    /// Another document is about to be shown: whatever belongs to the present one is to be forgotten.
    void aboutToShow(const retinex::app::Opened& opened);
    void shown(const retinex::app::Opened& opened);
    void openingChanged();

private:
    void chooseFiles();
    void beginWithPictures();
    bool saveAs();
    bool saveTo(const QString& file);
    void revert();
    void openRecovered(const Recovered& recovered);
    void takeOver(const Opened& opened);
    void tellDepthIsMissing();
    void tellMissing(const std::vector<project::MissingFile>& missing);
    void findMissing();
    void rememberRecent(const QString& file);
    void beginOpening(const QStringList& files);
    void endOpening();
    [[nodiscard]] QString usualName() const;
    void tellOpening();
    void cancelOpening();
    void fillRecent(QMenu* menu);

    Workbench& m_bench;
    PassesController& m_passes;
    Opener m_opener{m_bench.keeping()};
    Autosave m_autosave;
    QString m_demo;
    bool m_opening = false;
    bool m_openAsCopy = false;
    QAction* m_revert = nullptr;
    QTimer m_openingTimer; ///< when it takes long, it is told, with a way out
    QString m_openingName;
    QString m_recentFile; ///< what is open, as it is remembered; "" where it is not
};

} // namespace retinex::app
