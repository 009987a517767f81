#include "app/window/main_window.h"

#include "app/look/style.h"
#include "core/base/error.h"

#include <QDragEnterEvent>
#include <QFileInfo>
#include <QMimeData>
#include <QSettings>
#include <QSplitter>
#include <QVBoxLayout>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kViewRestsMs = 80; ///< after the picture was zoomed or moved

} // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), m_deskState(m_document), m_playMenu(new PlayMenu(m_document, m_playback, this)),
      m_strip(new ViewStrip), m_compare(new CompareBar(m_document)), m_depthStrip(new DepthStrip),
      m_message(new MessageBar), m_picture(new PictureView(m_document)), m_probe(new ProbeLine(m_document)),
      m_export(new ExportBar), m_frameBar(new FrameBar(m_document, m_deskState, m_playback, *m_playMenu)),
      m_profile(new DepthProfile(m_document, m_survey, m_deskState)),
      m_desk(new FocusDesk(m_document, m_survey, m_deskState)),
      m_lanes(new MarkLanes(m_document, m_deskState)), m_card(new MarkCard(m_document, m_deskState, this)),
      m_sheet(new Sheet(m_document, m_analysis, m_subjects)), m_columns(new QSplitter(Qt::Horizontal)),
      m_rows(new QSplitter(Qt::Vertical)), m_deskSplit(new QSplitter(Qt::Horizontal))
{
    setAcceptDrops(true);
    buildLayout();
    buildMenus();
    connectParts();
    connectPasses();
    connectDepth();
    connectDesk();
    connectSubjects();
    connectCompare();
    modeChanged();
    m_transform = std::make_shared<colour::ViewTransform>(m_strip->view());
    connectPlayback();
    resize(1280, 800);
    setMinimumSize(1024, 640);
    const QSettings settings;
    restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
    m_columns->restoreState(settings.value(QStringLiteral("window/columns")).toByteArray());
    m_rows->restoreState(settings.value(QStringLiteral("window/rows")).toByteArray());
    m_deskSplit->restoreState(settings.value(QStringLiteral("window/desk")).toByteArray());
    updateTitle();
    updateArrangement();
    m_picture->setFocus();
}

MainWindow::~MainWindow() = default;

void MainWindow::buildLayout()
{
    auto* bottom = new QWidget;
    auto* bottomLayout = new QVBoxLayout(bottom);
    bottomLayout->setContentsMargins(0, 0, 0, 0);
    bottomLayout->setSpacing(0);
    m_deskSplit->addWidget(m_profile);
    m_deskSplit->addWidget(m_desk);
    m_deskSplit->setSizes({270, 680});
    m_deskSplit->setStretchFactor(1, 1);
    m_deskSplit->setChildrenCollapsible(false);
    bottomLayout->addWidget(m_frameBar);
    bottomLayout->addWidget(m_deskSplit, 1);
    bottomLayout->addWidget(m_lanes);

    auto* top = new QWidget;
    auto* topLayout = new QVBoxLayout(top);
    topLayout->setContentsMargins(0, 0, 0, 0);
    topLayout->setSpacing(0);
    for (QWidget* part : {static_cast<QWidget*>(m_strip), static_cast<QWidget*>(m_compare),
                          static_cast<QWidget*>(m_depthStrip), static_cast<QWidget*>(m_message)})
        topLayout->addWidget(part);
    topLayout->addWidget(m_picture, 1);
    topLayout->addWidget(m_probe);
    topLayout->addWidget(m_export);

    m_rows->addWidget(top);
    m_rows->addWidget(bottom);
    m_rows->setStretchFactor(0, 1);
    m_rows->setSizes({540, 230});
    m_rows->setChildrenCollapsible(false);
    m_columns->addWidget(m_rows);
    m_columns->addWidget(m_sheet);
    m_columns->setStretchFactor(0, 1);
    m_columns->setSizes({920, 360});
    m_columns->setChildrenCollapsible(false);
    for (QSplitter* splitter : {m_rows, m_columns, m_deskSplit}) {
        splitter->setHandleWidth(1);
        splitter->setStyleSheet(
            QStringLiteral("QSplitter::handle { background: %1; }").arg(style::line.name()));
    }
    setCentralWidget(m_columns);
}

void MainWindow::connectParts()
{
    connect(&m_document, &Document::projectChanged, this, [this] {
        updateAxis();
        if (!m_document.isOpen()) return;
        playedChanged();
        const bool readingChanged = !m_surveyed || !m_surveyed->readsDepthLike(m_document.project());
        if (readingChanged) {
            startSurvey();
            startAnalysis();
        }
        const ViewMode mode = m_strip->mode();
        if (readingChanged || mode == ViewMode::result || mode == ViewMode::blur || mode == ViewMode::repair)
            requestPicture();
    });
    connect(&m_document, &Document::frameChanged, this, &MainWindow::requestPicture);
    connect(&m_document, &Document::titleChanged, this, &MainWindow::updateTitle);
    connect(&m_survey, &DepthSurvey::changed, this, &MainWindow::updateAxis);
    connect(&m_opener, &Opener::opened, this, [this](const std::shared_ptr<Opened>& opened) {
        m_opening = false;
        takeOver(*opened);
    });
    connect(&m_opener, &Opener::failed, this, [this](const QString& message) {
        m_opening = false;
        m_picture->setIdleText({});
        m_message->show(MessageBar::Kind::trouble, message);
    });
    connect(&m_renderer, &RenderService::pictureReady, this, &MainWindow::showPicture);
    connect(&m_renderer, &RenderService::failed, this, [this](quint64, const QString& message) {
        m_renderFailed = true;
        m_picture->clear();
        m_probe->setPicture({});
        m_strip->setQuality(tr("no picture"));
        m_message->show(MessageBar::Kind::trouble, message);
    });
    connect(m_strip, &ViewStrip::modeChosen, this, [this](ViewMode mode) {
        modeChanged();
        if (mode != ViewMode::result && m_compare->mode() != Comparison::Mode::off)
            m_compare->setMode(Comparison::Mode::off); // results are compared
        viewChanged();
    });
    connect(m_strip, &ViewStrip::viewChosen, this, [this] {
        m_transform = std::make_shared<colour::ViewTransform>(m_strip->view());
        viewChanged();
    });
    connect(m_strip, &ViewStrip::fitAsked, m_picture, &PictureView::fit);
    connect(m_strip, &ViewStrip::oneToOneAsked, m_picture, &PictureView::oneToOne);
    connect(m_picture, &PictureView::zoomChanged, m_strip, &ViewStrip::setZoom);
    m_viewMoved.setSingleShot(true);
    m_viewMoved.setInterval(kViewRestsMs);
    connect(m_picture, &PictureView::zoomChanged, &m_viewMoved, qOverload<>(&QTimer::start));
    connect(&m_viewMoved, &QTimer::timeout, this, &MainWindow::requestVisible);
    connect(m_picture, &PictureView::pointed, m_probe, &ProbeLine::setPoint);
    connect(m_picture, &PictureView::focusPicked, this, [this](double distance) {
        m_message->hide();
        m_document.setFocusDistance(distance);
    });
    connect(m_picture, &PictureView::gapPicked, this, [this](int x, int y) {
        m_message->show(
            MessageBar::Kind::notice,
            tr("There is no surface at %1, %2: the depth pass has a gap there. Click on something.")
                .arg(x)
                .arg(y));
    });
    connect(m_sheet, &Sheet::notANumber, this,
            [this](const QString& message) { m_message->show(MessageBar::Kind::notice, message); });
    connect(&m_sheet->fields(), &FieldList::edited, this, [this](const QString& name) {
        if (name == QString::fromUtf8(setting::glintLevel.data(), setting::glintLevel.size())) m_picture->showGlintLevel(m_document.values().glint.level);
    });
    connect(&m_sheet->iris(), &IrisPanel::failed, this,
            [this](const QString& message) { m_message->show(MessageBar::Kind::trouble, message); });
    connect(&m_sheet->blur(), &BlurPanel::repairViewAsked, this, [this] { setMode(ViewMode::repair); });
    connect(m_sheet, &Sheet::exportFrameAsked, this, &MainWindow::exportFrame);
    connect(m_sheet, &Sheet::exportSequenceAsked, this, &MainWindow::exportSequence);
    connect(m_export, &ExportBar::ended, this, [this](const QString& summary, const QString& trouble) {
        m_message->show(trouble.isEmpty() ? MessageBar::Kind::notice : MessageBar::Kind::trouble,
                        trouble.isEmpty() ? summary : trouble);
    });
}

bool MainWindow::isSettled() const
{
    return !m_opening && !m_viewMoved.isActive() && !m_renderer.isBusy() && !m_otherRenderer.isBusy() &&
           !m_analysis.isBusy() && !m_survey.isBusy() && !m_subjects.isMeasuring() &&
           !m_subjects.isTracking();
}

void MainWindow::open(const QStringList& files)
{
    if (!mayDiscard()) return;
    m_openAsCopy = false;
    m_opening = true;
    m_picture->setIdleText(tr("Opening %1…").arg(QFileInfo(files.value(0)).fileName()));
    m_opener.open(files);
}

void MainWindow::openAsCopy(const QString& project)
{
    open({project});
    m_openAsCopy = true;
}

void MainWindow::takeOver(const Opened& opened)
{
    m_picture->setIdleText({});
    m_picture->clear();
    m_message->hide();
    m_exchangedTold = false;
    m_surveyed = std::make_shared<project::Project>(opened.project);
    m_document.open(opened.project, opened.source, m_openAsCopy ? QString() : opened.file);
    m_watch.watch(opened.source);
    m_sheet->passes().setRoles(opened.roles);
    startSurvey();
    if (opened.analysis)
        m_analysis.set(opened.analysis);
    else
        startAnalysis();
    if (!m_openAsCopy)
        rememberRecent(opened.file.isEmpty()
                           ? QString::fromStdString(
                                 opened.source->colourFiles().file(opened.project.firstFrame).string())
                           : opened.file);
    if (!opened.notice.isEmpty()) m_message->show(MessageBar::Kind::notice, opened.notice);
    updateArrangement();
}

void MainWindow::setMode(ViewMode mode)
{
    m_strip->modeAction(mode)->trigger();
}

/// After the picture was zoomed or moved: what has come into sight.
void MainWindow::requestVisible()
{
    if (!m_document.isOpen() || m_strip->mode() != ViewMode::result) return;
    const auto& source = *m_document.source();
    if (m_asked.holds(m_picture->visibleOf({source.width(), source.height()}))) return;
    ask(m_picture->picture().number == m_renderer.newest());
}

void MainWindow::requestPicture()
{
    if (m_document.isOpen() && !m_playback.isPlaying()) ask(false);
}

/// What every frame is shown as: the picture is another, and so are all that are played.
void MainWindow::viewChanged()
{
    playedChanged();
    requestPicture();
}

PictureRequest MainWindow::wholeRequest() const
{
    PictureRequest request;
    request.source = m_document.source();
    request.project = std::make_shared<project::Project>(m_document.project());
    request.view = m_transform;
    request.frame = m_document.frame();
    request.mode = m_strip->mode();
    request.toneScale = static_cast<ToneScale>(m_depthStrip->scale());
    request.matte = m_sheet->passes().shownMatte();
    return request;
}

void MainWindow::ask(bool onlyViewMoved)
{
    m_viewMoved.stop();
    PictureRequest request = wholeRequest();
    if (m_compare->mode() != Comparison::Mode::off) putSide(request, m_compare->side(0));
    request.visible = m_picture->visibleOf({request.source->width(), request.source->height()});
    request.onlyViewMoved = onlyViewMoved;
    m_asked = request.visible;
    m_strip->setQuality(tr("rendering…"));
    askOther(request.visible);
    m_renderer.request(std::move(request));
}

void MainWindow::showPicture(const Picture& picture)
{
    if (m_playback.isPlaying()) return; // it was asked for before
    if (m_renderFailed) {
        m_renderFailed = false;
        m_message->hide();
    }
    m_picture->show(picture);
    m_probe->setPicture(picture);
    m_sheet->setPasses(picture.passes);
    if (!picture.isFinal)
        m_strip->setQuality(tr("coarse, refining…"));
    else if (picture.detail.divisor > 1)
        m_strip->setQuality(
            tr("view quality"),
            tr("As fine as this zoom shows. Zoom in to see every pixel; what is saved has them all."));
    else
        m_strip->setQuality(tr("full quality"), tr("Every pixel in sight is computed."));
    if (picture.passes->raw->badColourCount > 0)
        m_probe->setStatus(
            tr("%1 px without a usable colour, shown black").arg(picture.passes->raw->badColourCount));
    else
        m_probe->setStatus({});
    updateAxis();
}

void MainWindow::updateAxis()
{
    if (!m_document.isOpen()) return;
    double low = std::numeric_limits<double>::infinity();
    double high = 0.0;
    const auto include = [&](double distance) {
        if (distance > 0.0 && std::isfinite(distance)) {
            low = std::min(low, distance);
            high = std::max(high, distance);
        }
    };
    for (const depth::DepthRange& range :
         {m_survey.range(),
          m_picture->picture().passes ? m_picture->picture().passes->range : depth::DepthRange{}}) {
        if (range.hasSurface()) {
            include(range.nearest / 1.2);
            include(range.farthest * 1.2);
        }
    }
    const auto& project = m_document.project();
    include(project.focusDistanceAt(m_document.frame()));
    for (const project::Shot& shot : project.shots)
        for (const timeline::Mark& mark : shot.marks(setting::focusDistance))
            include(mark.value);
    if (high > 0.0)
        m_deskState.setWhole(std::max(low, project.fromMillimetres(m_document.values().focalLengthMm * 1.05)),
                             high);
}

/// For a still the desk folds away and the profile turns wide.
void MainWindow::updateArrangement()
{
    m_desk->setVisible(!m_document.isOpen() || m_document.isSequence());
}

void MainWindow::updateTitle()
{
    const QString title = m_document.title();
    setWindowTitle(title.isEmpty() ? tr("Retinex") : tr("%1[*] - Retinex").arg(title));
    setWindowModified(!m_document.undoStack().isClean());
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    QStringList files;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) files.push_back(url.toLocalFile());
    if (files.isEmpty()) {
        m_message->show(
            MessageBar::Kind::trouble,
            tr("What was dropped is not a file on this machine. Drop an EXR file, a folder or a project."));
        return;
    }
    event->acceptProposedAction();
    open(files);
}

} // namespace retinex::app
