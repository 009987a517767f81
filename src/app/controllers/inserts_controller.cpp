#include "app/controllers/inserts_controller.h"

#include "core/passes/image_file.h"

#include <QFileDialog>
#include <QMenu>

namespace retinex::app {

InsertsController::InsertsController(Workbench& bench) : QObject(&bench.window), m_bench(bench)
{
    PlacingTool& tools = m_bench.picture->inserts();
    InsertsPanel& panel = m_bench.sheet->inserts();
    panel.setTools(tools);
    connect(&panel, &InsertsPanel::maskPaintingAsked, this, &InsertsController::paintMask);
    connect(&panel, &InsertsPanel::pictureAsked, this, &InsertsController::add);
    connect(&panel, &InsertsPanel::fileAsked, this, &InsertsController::replaceFile);
    connect(&panel, &InsertsPanel::depthAsked, this, [this](const std::string& id) {
        const QString file = askForPicture(tr("The backdrop's depth pass"));
        if (!file.isEmpty())
            changeInsert(m_bench.document, tr("depth pass of backdrop"), id,
                         [&](inserts::Insert& insert) { insert.depthFile = file.toStdString(); });
    });
    connect(&tools, &PlacingTool::placingChanged, this, [this, &tools] {
        m_bench.probe->setHint(tools.isPlacing() ? tr("Drag the handles to place it; H ends placing")
                                                 : QString());
    });
    // What has just been added is looked after next.
    connect(&tools, &PlacingTool::chosenChanged, m_bench.sheet, [this, &tools] {
        if (!tools.chosen().empty()) m_bench.sheet->showInserts();
    });
}

QString InsertsController::askForPicture(const QString& title) const
{
    QStringList endings;
    for (const std::string& ending : passes::pictureEndings())
        endings << QString::fromStdString(ending);
    return QFileDialog::getOpenFileName(&m_bench.window, title, {},
                                        tr("Pictures (%1)").arg(endings.join(QLatin1Char(' '))));
}

void InsertsController::add(bool isBackdrop)
{
    const QString file = askForPicture(isBackdrop ? tr("Add a backdrop") : tr("Add a picture"));
    if (file.isEmpty()) return;
    PlacingTool& tools = m_bench.picture->inserts();
    const std::string path = file.toStdString();
    tools.choose(
        addInsert(m_bench.document, isBackdrop ? newBackdrop(path) : newInsert(m_bench.document, path)));
    if (!isBackdrop) tools.setPlacing(true);
}

void InsertsController::replaceFile(const std::string& id)
{
    const QString file = askForPicture(tr("Choose another picture"));
    if (file.isEmpty()) return;
    changeInsert(m_bench.document, tr("choose another picture"), id, [&](inserts::Insert& insert) {
        insert.file = file.toStdString();
        insert.content = inserts::Content::picture;
    });
}

/// Of the chosen one, or of the only one.
void InsertsController::paintMask()
{
    PlacingTool& tools = m_bench.picture->inserts();
    if (tools.chosen().empty() && m_bench.document.values().inserts.size() == 1)
        tools.choose(m_bench.document.values().inserts.front().id);
    if (tools.chosen().empty()) {
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("Choose an insert first, in the list of inserts, or add one (N)."));
        return;
    }
    tools.setPlacing(false);
    m_bench.picture->regions().paintMask(tools.chosen());
}

void InsertsController::addActions(QMenu& menu)
{
    Actions& actions = m_bench.actions;
    PlacingTool& tools = m_bench.picture->inserts();
    actions.add(
        menu, tr("Add a &picture…"), QKeySequence(Qt::Key_N), [this] { add(false); }, When::open);
    actions.add(
        menu, tr("Add a &backdrop…"), QKeySequence(tr("Shift+N")), [this] { add(true); }, When::open);
    actions.add(
        menu, tr("Add a backdrop of one &colour"), {},
        [this, &tools] { tools.choose(addInsert(m_bench.document, newBackdrop({}))); }, When::open);
    menu.addSeparator();
    actions.add(
        menu, tr("Paint its &mask"), QKeySequence(tr("Ctrl+Shift+M")), [this] { paintMask(); }, When::open);
    actions.add(
        menu, tr("P&lace the chosen one"), QKeySequence(Qt::Key_H),
        [&tools, this] {
            if (tools.chosen().empty() && !m_bench.document.values().inserts.empty())
                tools.choose(m_bench.document.values().inserts.front().id);
            tools.setPlacing(!tools.isPlacing());
        },
        When::open);
}

} // namespace retinex::app
