// What the window does about passes and depth: other passes, the analysis, and measuring in the Depth view.
#include "app/window/main_window.h"

#include "app/dialogs/manual_window.h"
#include "core/depth/measure.h"
#include "core/optics/units.h"

#include <QInputDialog>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

depth::ViewGeometry geometryOf(const passes::FramePasses& passes, const project::Settings& values)
{
    depth::ViewGeometry view{static_cast<double>(passes.distance.width()),
                             static_cast<double>(passes.distance.height())};
    view.pixelAspect = passes.raw->pixelAspect;
    view.fieldOfViewDeg = values.reading.fieldOfViewDeg > 0.0
                              ? values.reading.fieldOfViewDeg
                              : passes::fieldOfViewFor(values.focalLengthMm, values.sensorWidthMm);
    return view;
}

depth::PixelRect rectBetween(QPoint from, QPoint to)
{
    return {std::min(from.x(), to.x()), std::min(from.y(), to.y()), std::abs(from.x() - to.x()) + 1,
            std::abs(from.y() - to.y()) + 1};
}

} // namespace

void MainWindow::connectPasses()
{
    PassesPanel& panel = m_sheet->passes();
    connect(&panel, &PassesPanel::choiceMade, this,
            [this](const project::Project& wanted, const QString& what) {
                m_opening = true;
                m_strip->setQuality(tr("reading…"));
                m_opener.choose(wanted, what);
            });
    connect(&panel, &PassesPanel::failed, this,
            [this](const QString& message) { m_message->show(MessageBar::Kind::trouble, message); });
    connect(&panel, &PassesPanel::matteChosen, this, [this] {
        if (m_strip->mode() == ViewMode::mattes)
            viewChanged();
        else
            setMode(ViewMode::mattes);
    });
    connect(&m_opener, &Opener::chosen, this,
            [this](const std::shared_ptr<Opened>& chosen, const QString& what) {
                m_opening = false;
                passesChosen(*chosen, what);
            });
    connect(&m_opener, &Opener::choiceFailed, this, [this](const QString& message) {
        m_opening = false;
        m_strip->setQuality({});
        m_message->show(MessageBar::Kind::trouble, message);
        m_sheet->passes().refresh(); // choosers go back to what is
    });
    connect(&m_document, &Document::sourceChanged, this, [this] {
        m_watch.watch(m_document.source());
        startSurvey();
        startAnalysis();
        updateArrangement();
        viewChanged();
    });
    connect(&m_watch, &FrameWatch::changed, this, [this] {
        if (!m_document.isOpen() || m_opening) return;
        m_opener.choose(m_document.project(), {});
    });
}

void MainWindow::passesChosen(const Opened& chosen, const QString& what)
{
    if (what.isEmpty()) { // frames came or were written again
        const int before = m_document.project().lastFrame - m_document.project().firstFrame;
        m_document.refreshPasses(chosen.source);
        const auto& project = m_document.project();
        if (project.lastFrame - project.firstFrame != before)
            m_message->show(
                MessageBar::Kind::notice,
                tr("Frames came: there are %1 to %2 now.").arg(project.firstFrame).arg(project.lastFrame));
        return;
    }
    m_message->hide();
    m_document.choosePasses(what, chosen.project, chosen.source);
    const QString notice = QString::fromStdString(chosen.source->sizeNotice());
    if (!notice.isEmpty())
        m_message->show(MessageBar::Kind::notice, notice);
    else if (!chosen.notice.isEmpty())
        m_message->show(MessageBar::Kind::notice, chosen.notice);
}

void MainWindow::connectDepth()
{
    connect(m_depthStrip, &DepthStrip::toolChosen, m_picture, &PictureView::setTool);
    connect(m_depthStrip, &DepthStrip::scaleChosen, this, &MainWindow::viewChanged);
    connect(m_depthStrip, &DepthStrip::evidenceToggled, this, &MainWindow::analysisChanged);
    connect(m_picture, &PictureView::depthPicked, this, &MainWindow::depthPicked);
    connect(&m_analysis, &AnalysisService::changed, this, &MainWindow::analysisChanged);
    connect(&m_sheet->passes(), &PassesPanel::checkAsked, this, &MainWindow::startAnalysis);
}

void MainWindow::modeChanged()
{
    m_depthStrip->setVisible(m_strip->mode() == ViewMode::depth);
}

void MainWindow::startSurvey()
{
    needMachine();
    m_surveyed = std::make_shared<project::Project>(m_document.project());
    m_survey.start(m_document.source(), m_surveyed);
}

void MainWindow::startAnalysis()
{
    if (!m_document.isOpen()) return;
    needMachine();
    m_exchangedTold = false;
    m_analysis.start(m_document.source(), m_document.frame(),
                     m_document.project().readingAt(m_document.frame()));
}

void MainWindow::analysisChanged()
{
    const auto& analysis = m_analysis.analysis();
    const bool any = analysis && !analysis->direction.signs.empty();
    m_depthStrip->setEvidenceAvailable(any);
    m_picture->setEvidence(
        any && m_depthStrip->showsEvidence()
            ? std::shared_ptr<const depth::DirectionEvidence>(analysis, &analysis->direction)
            : nullptr);
    if (!analysis || m_analysis.isBusy()) return;
    if (!analysis->direction.seemsExchanged()) return;
    if (m_exchangedTold) return;
    m_exchangedTold = true;
    m_depthStrip->setEvidence(true); // seen in the Depth view
    QString reasons;
    for (const auto& reason : analysis->direction.reasonsForExchange())
        reasons += (reasons.isEmpty() ? QString() : QStringLiteral("; ")) + QString::fromStdString(reason);
    const QString text = tr("Near and far seem exchanged: %1.").arg(reasons);
    if (m_strip->mode() == ViewMode::depth)
        m_message->show(MessageBar::Kind::trouble, text, tr("Reverse"),
                        [this] { m_sheet->depth().reverse(); });
    else
        m_message->show(MessageBar::Kind::trouble, text, tr("Show evidence"), [this, text] {
            setMode(ViewMode::depth);
            m_message->show(MessageBar::Kind::trouble, text, tr("Reverse"),
                            [this] { m_sheet->depth().reverse(); });
        });
}

void MainWindow::depthPicked(PictureTool tool, QPoint from, QPoint to)
{
    if (tool == PictureTool::range)
        pickRange(from, to);
    else if (tool == PictureTool::span)
        measureSpan(from, to);
    else
        pickEnd(tool, from);
}

void MainWindow::pickEnd(PictureTool tool, QPoint at)
{
    const auto& passes = *m_picture->picture().passes;
    if (passes.gaps.at(at.x(), at.y()) != 0) {
        m_message->show(
            MessageBar::Kind::notice,
            tr("There is no surface at %1, %2: the depth pass has a gap there.").arg(at.x()).arg(at.y()));
        return;
    }
    const bool nearest = tool == PictureTool::nearest;
    depth::ReadingSettings reading = m_document.values().reading;
    const double wanted = passes.distance.at(at.x(), at.y());
    bool held = false;
    if (depth::isGrey(reading.reading)) {
        // Which number stands for an end is what the picture can tell of a grey.
        const double stored = passes.stored().at(at.x(), at.y());
        const bool high = nearest == (reading.reading == depth::Reading::greyNearBright);
        held = high ? stored <= reading.storedLow : stored >= reading.storedHigh;
        if (!held) (high ? reading.storedHigh : reading.storedLow) = stored;
    } else if (nearest) {
        depth::setNearest(reading, wanted);
        held = reading.nearest < wanted;
    } else {
        depth::setFarthest(reading, wanted);
        held = reading.farthest > wanted;
    }
    if (held) {
        m_message->show(
            MessageBar::Kind::notice,
            tr("Nearest and farthest do not cross. To exchange them, use Reverse in the Depth section."));
        if (depth::isGrey(reading.reading)) return;
    }
    m_document.editSettings(nearest ? tr("pick nearest") : tr("pick farthest"),
                            [&](project::Settings& settings) { settings.reading = reading; });
}

void MainWindow::pickRange(QPoint from, QPoint to)
{
    const auto& passes = *m_picture->picture().passes;
    const bool grey = depth::isGrey(m_document.values().reading.reading);
    const auto ends = depth::percentilesIn(grey ? passes.stored() : passes.distance, passes.gaps,
                                           rectBetween(from, to), 0.02, 0.98);
    if (!ends || !(ends->second > ends->first)) {
        m_message->show(
            MessageBar::Kind::notice,
            tr("There are no two different distances in this rectangle. Drag over more of the picture."));
        return;
    }
    m_document.editSettings(tr("pick both ends"), [&](project::Settings& settings) {
        if (grey) {
            settings.reading.storedLow = ends->first;
            settings.reading.storedHigh = ends->second;
        } else {
            settings.reading.nearest = ends->first;
            depth::setFarthest(settings.reading, ends->second);
        }
    });
}

void MainWindow::measureSpan(QPoint from, QPoint to)
{
    const auto& passes = *m_picture->picture().passes;
    const auto seen = [&](QPoint p) -> std::optional<depth::SeenPoint> {
        if (!passes.distance.contains(p.x(), p.y()) || passes.gaps.at(p.x(), p.y()) != 0) return std::nullopt;
        return depth::SeenPoint{p.x() + 0.5, p.y() + 0.5, passes.distance.at(p.x(), p.y())};
    };
    const auto a = seen(from);
    const auto b = seen(to);
    const double span = a && b ? depth::spanBetween(*a, *b, geometryOf(passes, m_document.values())) : 0.0;
    if (!(span > 0.0)) {
        m_message->show(
            MessageBar::Kind::notice,
            tr("Both ends of the line must lie on a surface. Drag along something of known length."));
        return;
    }
    const auto& project = m_document.project();
    bool accepted = false;
    const QString text = QInputDialog::getText(
        this, tr("Measure"), tr("This span is"), QLineEdit::Normal,
        QString::fromStdString(optics::formatDistance(project.metres(span), project.unit)), &accepted);
    if (!accepted) return;
    const auto metres = optics::parseDistanceMetres(text.toStdString(), project.unit);
    if (!metres || !(*metres > 0.0) || std::isinf(*metres)) {
        m_message->show(MessageBar::Kind::notice,
                        tr("\"%1\" is not a length. Write 2m, 85cm or 6ft 2in.").arg(text));
        return;
    }
    project::Project changed = project;
    changed.metresPerUnit = *metres / span;
    m_document.edit(tr("measure the scene scale"), changed);
}

void MainWindow::showManual(int chapter)
{
    auto* manual = new ManualWindow(this);
    manual->choose(chapter);
    manual->setAttribute(Qt::WA_DeleteOnClose);
    manual->show();
}

} // namespace retinex::app
