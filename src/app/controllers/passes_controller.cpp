#include "app/controllers/passes_controller.h"

#include "core/depth/measure.h"
#include "core/frame/depends_on.h"
#include "core/optics/units.h"

#include <QInputDialog>
#include <QMenu>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

depth::ViewGeometry geometryOf(const passes::FramePasses& passes, const project::Settings& values)
{
    depth::ViewGeometry view{static_cast<double>(passes.distance().width()),
                             static_cast<double>(passes.distance().height())};
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

PassesController::PassesController(Workbench& bench, PictureController& picture)
    : QObject(&bench.window), m_bench(bench), m_picture(picture)
{
    PassesPanel& panel = m_bench.sheet->passes();
    connect(&panel, &PassesPanel::choiceMade, this,
            [this](const project::Project& wanted, const QString& what) { choose(wanted, what); });
    connect(&panel, &PassesPanel::failed, this,
            [this](const QString& message) { m_bench.message->show(MessageBar::Kind::trouble, message); });
    connect(&panel, &PassesPanel::matteChosen, this, [this] {
        if (m_bench.strip->mode() == ViewMode::mattes)
            m_picture.viewChanged();
        else
            m_picture.setMode(ViewMode::mattes);
    });
    connect(&m_opener, &Opener::chosen, this,
            [this](const std::shared_ptr<Opened>& chosen, const QString& what) {
                m_choosing = false;
                passesChosen(*chosen, what);
            });
    connect(&m_opener, &Opener::choiceFailed, this, [this](const QString& message) {
        m_choosing = false;
        m_bench.strip->setQuality(Quality::none);
        m_bench.message->show(MessageBar::Kind::trouble, message);
        m_bench.sheet->passes().refresh(); // choosers go back to what is
    });
    connect(&m_bench.document, &Document::sourceChanged, this, [this] {
        watchFiles();
        startSurvey();
        startAnalysis();
        m_picture.viewChanged();
    });
    connect(&m_watch, &FrameWatch::changed, this, [this] {
        if (!m_bench.document.isOpen() || m_choosing) return;
        m_opener.choose(m_bench.document.project(), {});
    });
    m_viewsSoon.setSingleShot(true);
    m_viewsSoon.setInterval(400);
    connect(&m_viewsSoon, &QTimer::timeout, this, &PassesController::startViews);
    connect(&m_bench.document, &Document::frameChanged, this, [this] {
        if (m_views.choice != others::OtherFrames::off) m_viewsSoon.start();
    });
    connect(m_bench.depthStrip, &DepthStrip::toolChosen, m_bench.picture, &PictureView::setTool);
    connect(m_bench.depthStrip, &DepthStrip::evidenceToggled, this, &PassesController::analysisChanged);
    connect(m_bench.picture, &PictureView::depthPicked, this, &PassesController::depthPicked);
    connect(&m_bench.analysis, &AnalysisService::changed, this, &PassesController::analysisChanged);
    connect(&m_bench.sheet->passes(), &PassesPanel::checkAsked, this, &PassesController::startAnalysis);
    connect(&m_bench.document, &Document::projectChanged, this, &PassesController::projectChanged);
    connect(m_bench.readingStrip, &ReadingStrip::chosen, this,
            [this](const depth::ReadingSettings& reading, const QString& words) {
                m_askedReading = false;
                m_bench.sheet->depth().take(reading, tr("read depth as %1").arg(words));
            });
    connect(m_bench.readingStrip, &ReadingStrip::dismissed, this, [this] { m_askedReading = false; });
    connect(&m_choices, &ReadingChoices::ready, this, [this](const std::vector<ReadingChoice>& choices) {
        if (!m_askedReading || choices.size() < 2) return;
        m_bench.readingStrip->show(
            QString::fromStdString(m_bench.document.source()->depthFiles().pattern().filename().string()),
            choices);
    });
    connect(&m_bench.survey, &DepthSurvey::failed, this,
            [this](const QString& message) { m_bench.message->show(MessageBar::Kind::trouble, message); });
}

/// What is read otherwise is surveyed and looked at anew; a picture that depends on settings is asked for.
void PassesController::projectChanged()
{
    m_picture.updateAxis();
    if (!m_bench.document.isOpen()) return;
    if (m_askedReading) askForReading();
    if (frame::filesNamed(m_bench.document.project()) != m_watched) watchFiles();
    const bool readingChanged = !m_surveyed || !m_surveyed->readsDepthLike(m_bench.document.project());
    if (readingChanged) {
        const int frame = m_bench.document.frame();
        const bool isRead =
            m_surveyed && m_surveyed->readingAt(frame) == m_bench.document.project().readingAt(frame);
        startSurvey();
        if (!isRead) startAnalysis(); // else it is regions that changed
    }
    if (m_views != Views{m_bench.document.project().scene, m_bench.document.values().otherFrames})
        startViews();
    const ViewMode mode = m_bench.strip->mode();
    const bool zonesChange = mode == ViewMode::zones && !m_bench.document.values().regions.empty();
    if (readingChanged || zonesChange || mode == ViewMode::result || mode == ViewMode::depth ||
        mode == ViewMode::blur || mode == ViewMode::repair)
        m_picture.request();
}

void PassesController::addActions(QMenu& menu)
{
    m_bench.actions.add(
        menu, tr("Tur&n near and far round"), QKeySequence(Qt::Key_R),
        [this] { m_bench.sheet->depth().reverse(); }, When::open);
}

void PassesController::forget(const project::Project& next)
{
    m_opener.drop();
    m_exchangedTold = false;
    m_askedReading = false;
    m_choices.drop();
    m_bench.readingStrip->hide();
    m_surveyed = std::make_shared<project::Project>(next);
}

void PassesController::begin(const Opened& opened)
{
    watchFiles();
    m_isFresh = opened.file.isEmpty(); // of what was saved the reading was chosen
    m_bench.sheet->passes().setRoles(opened.roles);
    startSurvey();
    if (opened.analysis) {
        m_bench.analysis.set(opened.analysis);
        startViews();
    } else {
        startAnalysis();
    }
}

void PassesController::watchFiles()
{
    m_watched = frame::filesNamed(m_bench.document.project());
    m_watch.watch(m_bench.document.source(), m_watched);
}

void PassesController::choose(const project::Project& wanted, const QString& what)
{
    m_choosing = true;
    m_bench.strip->setQuality(Quality::reading);
    project::Project read = wanted;
    // A depth pass that is chosen is there to be read.
    const project::Project& before = m_bench.document.project();
    if (!(wanted.depth == before.depth)) read.passOptions.handMadeDepth = false;
    const bool otherDepth = !(wanted.depth == before.depth) ||
                            wanted.passOptions.eye != before.passOptions.eye ||
                            (wanted.depth.file.empty() && !(wanted.colour == before.colour));
    const auto& seen = m_bench.picture->picture().passes;
    const auto& analysis = m_bench.analysis.analysis();
    std::optional<Rereading> rereading;
    m_otherDepth = otherDepth;
    if (otherDepth && seen && !before.passOptions.handMadeDepth) {
        const depth::ReadingSettings& reading = m_bench.document.shot().settings.reading;
        rereading = Rereading{m_bench.document.frame(), reading, seen->range, m_bench.document.focusedPixel(),
                              analysis && analysis->proposal.isTakenBy(reading)};
    }
    m_opener.choose(read, what, rereading);
}

void PassesController::passesChosen(const Opened& chosen, const QString& what)
{
    if (what.isEmpty()) { // frames came or were written again
        const int before = m_bench.document.project().lastFrame - m_bench.document.project().firstFrame;
        m_bench.document.refreshPasses(chosen.source);
        const auto& project = m_bench.document.project();
        if (project.lastFrame - project.firstFrame != before)
            m_bench.message->show(MessageBar::Kind::notice,
                                  tr("New frames were found: there are %1 to %2 now.")
                                      .arg(project.firstFrame)
                                      .arg(project.lastFrame));
        return;
    }
    m_bench.message->hide();
    m_isFresh = m_isFresh || m_otherDepth;
    m_bench.document.choosePasses(what, chosen.project, chosen.source);
    const QString notice = QString::fromStdString(chosen.source->sizeNotice());
    if (!notice.isEmpty())
        m_bench.message->show(MessageBar::Kind::notice, notice);
    else if (!chosen.notice.isEmpty())
        m_bench.message->show(MessageBar::Kind::notice, chosen.notice);
}

/// Unsure looks unsure: the likeliest readings are shown until one is chosen, once for each depth pass.
void PassesController::askForReading()
{
    const auto& analysis = m_bench.analysis.analysis();
    const auto& source = m_bench.document.source();
    const bool isTaken = analysis && analysis->proposal.isTakenBy(m_bench.document.values().reading);
    if (m_askedReading && !isTaken) { // chosen elsewhere
        m_askedReading = false;
        m_choices.drop();
        m_bench.readingStrip->hide();
    }
    if (!analysis || !m_isFresh) return;
    m_isFresh = false;
    m_askedReading = !analysis->proposal.isSure() && isTaken && analysis->proposal.likely.size() > 1;
    if (!m_askedReading) return;
    m_choices.start(source, std::make_shared<const project::Project>(m_bench.document.project()),
                    m_bench.document.frame(), analysis->proposal.likely, m_picture.wholeRequest().view);
}

void PassesController::startSurvey()
{
    emit machineNeeded();
    m_surveyed = std::make_shared<project::Project>(m_bench.document.project());
    m_bench.survey.start(m_bench.document.source(), m_surveyed);
}

void PassesController::startAnalysis()
{
    if (!m_bench.document.isOpen()) return;
    emit machineNeeded();
    m_exchangedTold = false;
    m_bench.analysis.start(m_bench.document.source(), m_bench.document.frame(),
                           m_bench.document.project().readingAt(m_bench.document.frame()));
    startViews();
}

void PassesController::startViews()
{
    if (!m_bench.document.isOpen()) return;
    const auto project = std::make_shared<const project::Project>(m_bench.document.project());
    m_views = {project->scene, m_bench.document.values().otherFrames};
    m_bench.analysis.startViews(m_bench.document.source(), project, m_bench.document.frame());
}

void PassesController::analysisChanged()
{
    const auto& analysis = m_bench.analysis.analysis();
    const bool any = analysis && !analysis->direction.signs.empty();
    m_bench.depthStrip->setEvidenceAvailable(any);
    m_bench.picture->setEvidence(
        any && m_bench.depthStrip->showsEvidence()
            ? std::shared_ptr<const depth::DirectionEvidence>(analysis, &analysis->direction)
            : nullptr);
    if (!analysis || m_bench.analysis.isBusy()) return;
    askForReading();
    if (m_askedReading || !analysis->direction.seemsExchanged()) return;
    if (m_exchangedTold) return;
    m_exchangedTold = true;
    m_bench.depthStrip->setEvidence(true); // seen in the Depth view
    QString reasons;
    for (const auto& reason : analysis->direction.reasonsForExchange())
        reasons += (reasons.isEmpty() ? QString() : QStringLiteral("; ")) + QString::fromStdString(reason);
    const QString text = tr("Near and far seem exchanged: %1.").arg(reasons);
    if (m_bench.strip->mode() == ViewMode::depth)
        m_bench.message->show(MessageBar::Kind::trouble, text, tr("Turn round"),
                              [this] { m_bench.sheet->depth().reverse(); });
    else
        m_bench.message->show(MessageBar::Kind::trouble, text, tr("Show evidence"), [this, text] {
            m_picture.setMode(ViewMode::depth);
            m_bench.message->show(MessageBar::Kind::trouble, text, tr("Turn round"),
                                  [this] { m_bench.sheet->depth().reverse(); });
        });
}

void PassesController::depthPicked(PictureTool tool, QPoint from, QPoint to)
{
    if (tool == PictureTool::range)
        pickRange(from, to);
    else if (tool == PictureTool::span)
        measureSpan(from, to);
    else
        pickEnd(tool, from);
}

void PassesController::pickEnd(PictureTool tool, QPoint at)
{
    const auto& passes = *m_bench.picture->picture().passes;
    if (passes.gaps().at(at.x(), at.y()) != 0) {
        m_bench.message->show(
            MessageBar::Kind::notice,
            tr("There is no surface at %1, %2: the depth pass has a gap there.").arg(at.x()).arg(at.y()));
        return;
    }
    const bool nearest = tool == PictureTool::nearest;
    depth::ReadingSettings reading = m_bench.document.values().reading;
    const double wanted = passes.distance().at(at.x(), at.y());
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
        m_bench.message->show(
            MessageBar::Kind::notice,
            tr("Nearest and farthest do not cross. To exchange near and far, press \"Turn near "
               "and far round\" in the Depth section."));
        if (depth::isGrey(reading.reading)) return;
    }
    m_bench.document.editSettings(nearest ? tr("pick nearest") : tr("pick farthest"),
                                  [&](project::Settings& settings) { settings.reading = reading; });
}

void PassesController::pickRange(QPoint from, QPoint to)
{
    const auto& passes = *m_bench.picture->picture().passes;
    const bool grey = depth::isGrey(m_bench.document.values().reading.reading);
    const auto ends = depth::percentilesIn(grey ? passes.stored() : passes.distance(), passes.gaps(),
                                           rectBetween(from, to), 0.02, 0.98);
    if (!ends || !(ends->second > ends->first)) {
        m_bench.message->show(
            MessageBar::Kind::notice,
            tr("There are no two different distances in this rectangle. Drag over more of the picture."));
        return;
    }
    m_bench.document.editSettings(tr("pick both ends"), [&](project::Settings& settings) {
        if (grey) {
            settings.reading.storedLow = ends->first;
            settings.reading.storedHigh = ends->second;
        } else {
            settings.reading.nearest = ends->first;
            depth::setFarthest(settings.reading, ends->second);
        }
    });
}

void PassesController::measureSpan(QPoint from, QPoint to)
{
    const auto& passes = *m_bench.picture->picture().passes;
    const auto seen = [&](QPoint p) -> std::optional<depth::SeenPoint> {
        if (!passes.distance().contains(p.x(), p.y()) || passes.gaps().at(p.x(), p.y()) != 0)
            return std::nullopt;
        return depth::SeenPoint{p.x() + 0.5, p.y() + 0.5, passes.distance().at(p.x(), p.y())};
    };
    const auto a = seen(from);
    const auto b = seen(to);
    const double span =
        a && b ? depth::spanBetween(*a, *b, geometryOf(passes, m_bench.document.values())) : 0.0;
    if (!(span > 0.0)) {
        m_bench.message->show(
            MessageBar::Kind::notice,
            tr("Both ends of the line must lie on a surface. Drag along something of known length."));
        return;
    }
    const auto& project = m_bench.document.project();
    bool accepted = false;
    const QString text = QInputDialog::getText(
        &m_bench.window, tr("Measure"), tr("This span is"), QLineEdit::Normal,
        QString::fromStdString(optics::formatDistance(project.metres(span), project.unit)), &accepted);
    if (!accepted) return;
    const auto metres = optics::parseDistanceMetres(text.toStdString(), project.unit);
    if (!metres || !(*metres > 0.0) || std::isinf(*metres)) {
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("\"%1\" is not a length. Write 2m, 85cm or 6ft 2in.").arg(text));
        return;
    }
    project::Project changed = project;
    changed.metresPerUnit = *metres / span;
    m_bench.document.edit(tr("measure the scene scale"), changed);
}

} // namespace retinex::app
