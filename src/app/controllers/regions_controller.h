#pragma once

#include "app/controllers/workbench.h"

namespace retinex::app {

/// Regions: their menu and keys, and what the tools in the picture and the section have in common.
class RegionsController : public QObject
{
    Q_OBJECT

public:
    explicit RegionsController(Workbench& bench);

    void addActions(QMenu& menu);

private:
    void begin(RegionTool tool, RegionStart start);

    Workbench& m_bench;
    QAction* m_shown = nullptr;
};

} // namespace retinex::app
