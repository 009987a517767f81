#include "app/controllers/picture_controller.h"

#include <QApplication>
#include <QClipboard>
#include <QMenu>
#include <QSettings>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kViewRestsMs = 80; ///< after the picture was zoomed or moved

QString subjectsKey()
{
    return QStringLiteral("window/subjects");
}

} // namespace

PictureController::PictureController(Workbench& bench)
    : QObject(&bench.window), m_bench(bench),
      m_transform(std::make_shared<colour::ViewTransform>(bench.strip->view()))
{
    connect(&m_bench.document, &Document::frameChanged, this, &PictureController::request);
    connect(&m_bench.survey, &DepthSurvey::changed, this, &PictureController::updateAxis);
    connect(&m_renderer, &RenderService::pictureReady, this, &PictureController::show);
    connect(&m_renderer, &RenderService::failed, this, [this](quint64, const QString& message) {
        m_renderFailed = true;
        m_bench.picture->clear();
        m_bench.probe->setPicture({});
        m_bench.strip->setQuality(Quality::absent);
        if (!m_bench.document.source()->absentBecause().empty()) { // said when it was opened, with a way out
            m_bench.picture->setIdleText(tr("The passes are not there: File, Find missing files"));
            return;
        }
        m_bench.message->show(MessageBar::Kind::trouble, message);
    });
    connect(&m_renderer, &RenderService::busyChanged, this, [this](bool busy) {
        if (busy) emit machineNeeded();
    });
    connect(m_bench.strip, &ViewStrip::modeChosen, this, [this](ViewMode mode) {
        m_bench.toolRow->setMode(mode);
        if (mode != ViewMode::result && m_bench.compare->mode() != Comparison::Mode::off)
            m_bench.compare->setMode(Comparison::Mode::off); // results are compared
        viewChanged();
    });
    connect(m_bench.strip, &ViewStrip::viewChosen, this, [this] {
        m_transform = std::make_shared<colour::ViewTransform>(m_bench.strip->view());
        viewChanged();
    });
    connect(m_bench.depthStrip, &DepthStrip::scaleChosen, this, &PictureController::viewChanged);
    connect(m_bench.strip, &ViewStrip::lookingChanged, this, &PictureController::viewChanged);
    connect(m_bench.picture, &PictureView::menuAsked, this, &PictureController::showMenu);
    connect(m_bench.strip, &ViewStrip::fitAsked, m_bench.picture, &PictureView::fit);
    connect(m_bench.strip, &ViewStrip::oneToOneAsked, m_bench.picture, &PictureView::oneToOne);
    connect(m_bench.picture, &PictureView::zoomChanged, m_bench.strip, &ViewStrip::setZoom);
    m_viewMoved.setSingleShot(true);
    m_viewMoved.setInterval(kViewRestsMs);
    connect(m_bench.picture, &PictureView::zoomChanged, &m_viewMoved, qOverload<>(&QTimer::start));
    connect(&m_viewMoved, &QTimer::timeout, this, &PictureController::requestVisible);
    connect(m_bench.picture, &PictureView::pointed, m_bench.probe, &ProbeLine::setPoint);
    connect(m_bench.picture, &PictureView::focusPicked, this, [this](double distance, QPoint pixel) {
        m_bench.message->hide();
        m_bench.document.focusOn({pixel.x(), pixel.y()}, distance);
    });
    connect(m_bench.picture, &PictureView::gapPicked, this, [this](int x, int y) {
        m_bench.message->show(
            MessageBar::Kind::notice,
            tr("There is no surface at %1, %2: the depth pass has a gap there. Click on something.")
                .arg(x)
                .arg(y));
    });
    connect(&m_bench.sheet->fields(), &FieldList::edited, this, [this](const QString& path, double value) {
        if (path.toStdString() == setting::glintLevel) m_bench.picture->showGlintLevel(value);
    });
    connect(&m_bench.sheet->blur(), &BlurPanel::repairViewAsked, this, [this] { setMode(ViewMode::repair); });
    m_bench.toolRow->setMode(m_bench.strip->mode());
}

void PictureController::addActions(QMenu& menu)
{
    Actions& actions = m_bench.actions;
    menu.addActions(m_bench.strip->modeActions());
    actions.list(m_bench.strip->modeActions());
    menu.addSeparator();
    actions.add(
        menu, tr("&Fit"), QKeySequence(Qt::Key_F2), [this] { m_bench.picture->fit(); }, When::open);
    actions.add(
        menu, tr("&One to one"), QKeySequence(Qt::Key_F3), [this] { m_bench.picture->oneToOne(); },
        When::open);
    actions.add(
        menu, tr("Zoom &in"), QKeySequence::ZoomIn, [this] { m_bench.picture->zoomStep(1.25); }, When::open);
    actions.add(
        menu, tr("Zoom o&ut"), QKeySequence::ZoomOut, [this] { m_bench.picture->zoomStep(0.8); }, When::open);
    menu.addSeparator();
    const auto look = [this](double by) {
        Looking looking = m_bench.strip->looking();
        looking.stops = by == 0.0 ? 0.0 : looking.stops + by;
        if (by == 0.0) looking.channel = Looking::Channel::all;
        m_bench.strip->setLooking(looking);
    };
    actions.add(
        menu, tr("Look bri&ghter"), QKeySequence(tr("Ctrl+Up")), [look] { look(0.5); }, When::open);
    actions.add(
        menu, tr("Look dar&ker"), QKeySequence(tr("Ctrl+Down")), [look] { look(-0.5); }, When::open);
    actions.add(
        menu, tr("Look &as it is"), QKeySequence(tr("Ctrl+0")), [look] { look(0.0); }, When::open);
    menu.addSeparator();
    actions.add(
        menu, tr("Focus &tool"), QKeySequence(Qt::Key_F),
        [this] {
            m_bench.depthStrip->setTool(PictureTool::focus);
            m_bench.picture->setTool(PictureTool::focus);
        },
        When::open);
    actions.add(
        menu, tr("Sub&ject tool"), QKeySequence(Qt::Key_U),
        [this] { m_bench.picture->setTool(PictureTool::subject); }, When::open);
    QAction* subjects = m_subjectsShown =
        actions.add(menu, tr("Su&bjects in the picture"), QKeySequence(tr("Shift+U")), [] {});
    subjects->setCheckable(true);
    subjects->setChecked(QSettings().value(subjectsKey(), true).toBool());
    m_bench.picture->showSubjects(subjects->isChecked());
    connect(subjects, &QAction::toggled, this, [this](bool shown) {
        QSettings().setValue(subjectsKey(), shown);
        m_bench.picture->showSubjects(shown);
    });
}

/// What can be done with the place under the pointer.
void PictureController::showMenu(QPoint pixel, QPointF place, QPoint at)
{
    const Picture& picture = m_bench.picture->picture();
    if (!picture.passes) return;
    QMenu menu(m_bench.picture);
    menu.setObjectName(QStringLiteral("pictureMenu"));
    const bool inside = picture.passes->distance().contains(pixel.x(), pixel.y());
    menu.addAction(tr("Focus here"), this, [this, at] { m_bench.picture->focusAt(at); })->setEnabled(inside);
    menu.addAction(tr("New subject here"), this,
                   [this, place] { emit m_bench.picture->subjectPlaced(place); })
        ->setEnabled(inside);
    menu.addAction(tr("Copy the numbers under the pointer"), this,
                   [this] { QApplication::clipboard()->setText(m_bench.probe->text()); })
        ->setEnabled(inside);
    menu.addSeparator();
    menu.addAction(tr("Fit"), m_bench.picture, &PictureView::fit);
    menu.addAction(tr("One to one"), m_bench.picture, &PictureView::oneToOne);
    menu.addSeparator();
    menu.addAction(m_subjectsShown);
    menu.exec(m_bench.picture->mapToGlobal(at));
}

void PictureController::forget()
{
    m_renderer.drop();
    m_viewMoved.stop();
    m_bench.picture->setIdleText({});
    m_bench.picture->clear();
}

void PictureController::setMode(ViewMode mode)
{
    m_bench.strip->modeAction(mode)->trigger();
}

/// After the picture was zoomed or moved: what has come into sight.
void PictureController::requestVisible()
{
    if (!m_bench.document.isOpen() || m_bench.strip->mode() != ViewMode::result) return;
    const auto& source = *m_bench.document.source();
    if (m_asked.holds(m_bench.picture->visibleOf({source.width(), source.height()}))) return;
    ask(m_bench.picture->picture().number == m_renderer.newest());
}

void PictureController::request()
{
    if (m_bench.document.isOpen() && !m_bench.playback.isPlaying()) ask(false);
}

/// What every frame is shown as: the picture is another, and so are all that are played.
void PictureController::viewChanged()
{
    emit shownOtherwise();
    request();
}

PictureRequest PictureController::wholeRequest() const
{
    PictureRequest request;
    request.source = m_bench.document.source();
    request.project = std::make_shared<project::Project>(m_bench.document.project());
    request.view = m_transform;
    request.frame = m_bench.document.frame();
    request.mode = m_bench.strip->mode();
    request.toneScale = static_cast<ToneScale>(m_bench.depthStrip->scale());
    request.matte = m_bench.sheet->passes().shownMatte();
    request.looking = m_bench.strip->looking();
    request.lensPictures = m_bench.lensPictures;
    return request;
}

void PictureController::ask(bool onlyViewMoved)
{
    m_viewMoved.stop();
    PictureRequest request = wholeRequest();
    if (m_prepare) m_prepare(request);
    request.visible = m_bench.picture->visibleOf({request.source->width(), request.source->height()});
    request.onlyViewMoved = onlyViewMoved;
    m_asked = request.visible;
    m_bench.strip->setQuality(Quality::rendering);
    if (m_companion) m_companion(request.visible);
    m_renderer.request(std::move(request));
}

void PictureController::show(const Picture& picture)
{
    if (m_bench.playback.isPlaying()) return; // it was asked for before
    if (m_renderFailed) {
        m_renderFailed = false;
        m_bench.message->hide();
    }
    m_bench.picture->setIdleText({});
    m_bench.picture->show(picture);
    if (picture.mode == ViewMode::result) m_bench.sheet->finish().scope().setPicture(picture.image);
    m_bench.probe->setPicture(picture);
    m_bench.sheet->setPasses(picture.passes);
    if (!picture.isFinal)
        m_bench.strip->setQuality(Quality::coarse);
    else if (picture.detail.divisor > 1)
        m_bench.strip->setQuality(Quality::view);
    else
        m_bench.strip->setQuality(Quality::full);
    if (picture.passes->raw->badColourCount > 0)
        m_bench.probe->setStatus(tr("%1 px without a usable colour, mended from those around them")
                                     .arg(picture.passes->raw->badColourCount));
    else
        m_bench.probe->setStatus({});
    updateAxis();
}

void PictureController::updateAxis()
{
    if (!m_bench.document.isOpen()) return;
    double low = std::numeric_limits<double>::infinity();
    double high = 0.0;
    const auto include = [&](double distance) {
        if (distance > 0.0 && std::isfinite(distance)) {
            low = std::min(low, distance);
            high = std::max(high, distance);
        }
    };
    for (const depth::DepthRange& range :
         {m_bench.survey.range(), m_bench.picture->picture().passes ? m_bench.picture->picture().passes->range
                                                                    : depth::DepthRange{}}) {
        if (range.hasSurface()) {
            include(range.nearest / 1.2);
            include(range.farthest * 1.2);
        }
    }
    const auto& project = m_bench.document.project();
    include(project.focusDistanceAt(m_bench.document.frame()));
    for (const project::Shot& shot : project.shots)
        for (const timeline::Mark& mark : shot.marks(setting::focusDistance))
            include(mark.value);
    if (high > 0.0)
        m_bench.deskState.setWhole(
            std::max(low, project.fromMillimetres(m_bench.document.values().focalLengthMm * 1.05)), high);
}

} // namespace retinex::app
