#pragma once

#include "app/controllers/workbench.h"
#include "core/project/file/preset_file.h"

class QMenu;

namespace retinex::app {

/// Lens kits and finishes kept as files, to be shared and used again.
class PresetsController : public QObject
{
    Q_OBJECT

public:
    explicit PresetsController(Workbench& bench) : QObject(&bench.window), m_bench(bench) {}

    void addActions(QMenu& menu);

private:
    void keep(project::PresetKind kind);
    void use(project::PresetKind kind);

    Workbench& m_bench;
};

} // namespace retinex::app
