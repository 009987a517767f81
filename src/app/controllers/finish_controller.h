#pragma once

#include "app/controllers/workbench.h"

class QMenu;

namespace retinex::app {

/// Finish in the window: files of looks, plates and CDLs, what is picked to be grey, the level of a glow
/// shown in the picture, the picture without finish.
class FinishController : public QObject
{
    Q_OBJECT

public:
    explicit FinishController(Workbench& bench);

    void addActions(QMenu& menu);

private:
    void chooseLook(bool isNew);
    void choosePicture(const QString& path); ///< of a step
    void cdlFile(bool isSaved);
    void pickWhite(int x, int y);
    [[nodiscard]] QString ask(const QString& title, const QString& filter) const;

    Workbench& m_bench;
};

} // namespace retinex::app
