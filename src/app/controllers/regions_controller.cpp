#include "app/controllers/regions_controller.h"

#include <QMenu>
#include <QSettings>

namespace retinex::app {

namespace {

constexpr double kBrushStep = 1.15;

QString shownKey()
{
    return QStringLiteral("regions/shown");
}

} // namespace

RegionsController::RegionsController(Workbench& bench) : QObject(&bench.window), m_bench(bench)
{
    RegionTools& tools = m_bench.picture->regions();
    m_bench.sheet->regions().setTools(tools);
    // What has just been drawn is looked after next.
    connect(&tools, &RegionTools::chosenChanged, m_bench.sheet, [this, &tools] {
        if (!tools.chosen().empty()) m_bench.sheet->showRegions();
    });
}

void RegionsController::begin(RegionTool tool, RegionStart start)
{
    m_bench.picture->regions().begin(tool, start);
}

void RegionsController::addActions(QMenu& menu)
{
    Actions& actions = m_bench.actions;
    RegionTools& tools = m_bench.picture->regions();
    actions.add(
        menu, tr("Draw a &guard"), QKeySequence(Qt::Key_G),
        [this] { begin(RegionTool::outline, RegionStart::guard); }, When::open);
    actions.add(
        menu, tr("&Paint a guard"), QKeySequence(tr("Ctrl+Shift+G")),
        [this] { begin(RegionTool::brush, RegionStart::guard); }, When::open);
    actions.add(
        menu, tr("Paint added &blur"), QKeySequence(tr("Ctrl+Shift+B")),
        [this] { begin(RegionTool::brush, RegionStart::blur); }, When::open);
    actions.add(
        menu, tr("Draw a &depth patch"), QKeySequence(Qt::Key_P),
        [this] { begin(RegionTool::outline, RegionStart::patch); }, When::open);
    menu.addSeparator();
    actions.add(
        menu, tr("&Edit the chosen region"), QKeySequence(Qt::Key_E), [&tools] { tools.edit(); }, When::open);
    actions.add(
        menu, tr("Brush &larger"), QKeySequence(Qt::Key_BracketRight),
        [&tools] { tools.growBrush(kBrushStep); }, When::open);
    actions.add(
        menu, tr("Brush &smaller"), QKeySequence(Qt::Key_BracketLeft),
        [&tools] { tools.growBrush(1.0 / kBrushStep); }, When::open);
    menu.addSeparator();
    m_shown = actions.add(menu, tr("&Regions in the picture"), QKeySequence(tr("Shift+G")), [] {});
    m_shown->setCheckable(true);
    m_shown->setChecked(QSettings().value(shownKey(), false).toBool());
    tools.setShown(m_shown->isChecked());
    connect(m_shown, &QAction::toggled, this, [&tools](bool shown) {
        QSettings().setValue(shownKey(), shown);
        tools.setShown(shown);
    });
}

} // namespace retinex::app
