#include "app/controllers/finish_controller.h"

#include "app/document/opening.h"
#include "core/finish/colour_steps.h"
#include "core/finish/white_balance.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>

namespace retinex::app {

FinishController::FinishController(Workbench& bench) : QObject(&bench.window), m_bench(bench)
{
    FinishPanel& panel = m_bench.sheet->finish();
    connect(&m_bench.sheet->fields(), &FieldList::fileAsked, this, &FinishController::choosePicture);
    connect(&panel.look(), &LookStep::fileAsked, this, &FinishController::chooseLook);
    connect(&panel.grade(), &GradeStep::cdlFileAsked, this, &FinishController::cdlFile);
    connect(&panel.glow(), &GlowStep::levelDragged, m_bench.picture, &PictureView::showGlowLevel);
    connect(&panel.grade(), &GradeStep::pickAsked, this,
            [this](bool on) { m_bench.picture->setTool(on ? PictureTool::white : PictureTool::focus); });
    connect(m_bench.picture, &PictureView::whitePicked, this, &FinishController::pickWhite);
    connect(m_bench.picture, &PictureView::toolChanged, this, [this] {
        const bool isPicking = m_bench.picture->tool() == PictureTool::white;
        m_bench.sheet->finish().grade().setPicking(isPicking);
        m_bench.probe->setHint(isPicking ? tr("Click on something that is to be grey; Escape leaves it")
                                         : QString());
    });
}

void FinishController::addActions(QMenu& menu)
{
    QAction* without = m_bench.actions.add(
        menu, tr("&Picture without finish"), QKeySequence(Qt::Key_Q),
        [this] {
            Looking looking = m_bench.strip->looking();
            looking.isUnfinished = !looking.isUnfinished;
            m_bench.strip->setLooking(looking);
        },
        When::open);
    without->setCheckable(true);
    connect(m_bench.strip, &ViewStrip::lookingChanged, without,
            [this, without] { without->setChecked(m_bench.strip->looking().isUnfinished); });
}

QString FinishController::ask(const QString& title, const QString& filter) const
{
    return QFileDialog::getOpenFileName(&m_bench.window, title, {}, filter);
}

void FinishController::chooseLook(bool isNew)
{
    QStringList endings;
    for (const std::string& ending : finish::lookEndings())
        endings << QStringLiteral("*") + QString::fromStdString(ending);
    const QString file = ask(tr("Choose a look"),
                             tr("Look-up tables (%1);;All files (*)").arg(endings.join(QLatin1Char(' '))));
    if (file.isEmpty()) return;
    LookStep& look = m_bench.sheet->finish().look();
    if (isNew)
        look.addFile(file);
    else
        look.members().setText(tr("choose another look"), "file", file.toStdString());
}

void FinishController::choosePicture(const QString& path)
{
    using TextAccess = project::Field<project::Settings>::Access<std::string>;
    const auto field = project::infoOf(path.toStdString());
    const QString title = shownWords(field->title);
    const QString file = ask(tr("Choose: %1").arg(title), pictureFilter());
    if (file.isEmpty()) return;
    const std::string step = field->path.substr(0, field->path.rfind('/'));
    m_bench.document.editSettings(tr("choose %1").arg(title), [&](project::Settings& settings) {
        std::get<TextAccess>(field->access).set(settings, file.toStdString());
        project::infoOf(step + "/on")->set(settings, 1.0);
    });
}

void FinishController::cdlFile(bool isSaved)
{
    const QString filter = tr("ASC CDL (*.cc *.ccc *.cdl)");
    const QString name = QFileInfo(m_bench.document.title()).completeBaseName();
    QString file = isSaved ? QFileDialog::getSaveFileName(&m_bench.window, tr("Save the CDL"),
                                                          name + QStringLiteral(".cc"), filter)
                           : ask(tr("Load a CDL"), filter);
    if (file.isEmpty()) return;
    try {
        if (isSaved) {
            if (QFileInfo(file).suffix().isEmpty()) file += QStringLiteral(".cc");
            finish::writeCdl(file.toStdString(), m_bench.document.values().finish.grade.cdl,
                             name.toStdString());
            return;
        }
        finish::Cdl read = finish::readCdl(file.toStdString());
        m_bench.document.editSettings(tr("load CDL"), [&](project::Settings& settings) {
            read.scale = settings.finish.grade.cdl.scale;
            settings.finish.grade.cdl = read;
            settings.finish.grade.isOn = true;
        });
    } catch (...) {
        m_bench.tellFailure(isSaved ? tr("Saving the CDL") : tr("Loading the CDL"));
    }
}

/// What is there before finish, over a few pixels, comes out grey.
void FinishController::pickWhite(int x, int y)
{
    constexpr int kReach = 2;
    const Picture& picture = m_bench.picture->picture();
    const auto& light = picture.unfinished ? picture.unfinished : picture.values;
    m_bench.picture->setTool(PictureTool::focus);
    if (!light) return;
    const int divisor = std::max(1, picture.detail.divisor);
    const int left = picture.unfinished ? picture.unfinishedBox.minX : picture.detail.part.minX / divisor;
    const int top = picture.unfinished ? picture.unfinishedBox.minY : picture.detail.part.minY / divisor;
    std::array<double, 3> sum{};
    for (int dy = -kReach; dy <= kReach; ++dy)
        for (int dx = -kReach; dx <= kReach; ++dx) {
            const int px = x / divisor - left + dx;
            const int py = y / divisor - top + dy;
            if (!light->plane(0).contains(px, py)) continue;
            for (int c = 0; c < 3; ++c)
                sum[static_cast<std::size_t>(c)] += static_cast<double>(light->plane(c).at(px, py));
        }
    const finish::WhiteBalance white = finish::balanceFor(sum);
    m_bench.document.editSettings(tr("pick grey"), [&](project::Settings& settings) {
        settings.finish.grade.white.temperatureK =
            project::infoOf(setting::temperature)->held(white.temperatureK);
        settings.finish.grade.white.tint = project::infoOf(setting::tint)->held(white.tint);
        settings.finish.grade.isOn = true;
    });
}

} // namespace retinex::app
