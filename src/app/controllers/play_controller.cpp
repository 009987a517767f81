#include "app/controllers/play_controller.h"

#include "app/dialogs/preferences_dialog.h"
#include "app/picture/legends/zones_overlay.h"
#include "app/play/cache_bar.h"

#include <QPainter>

namespace retinex::app {

namespace {

constexpr int kChangedMs = 200; ///< after a change, until what is to be played is looked at anew
constexpr int kIdleMs = 1200;   ///< without work for the window, until frames are made ready

/// What the Zones view lays over its picture, at the size that is played.
void drawZones(QImage& image, const Picture& picture, const project::Project& project)
{
    if (picture.mode != ViewMode::zones) return;
    const Plane<float>& distance = picture.passes->distance();
    ImageViewMap map;
    map.setImageSize(QSizeF(distance.width(), distance.height()));
    map.setViewSize(QSizeF(image.size()));
    map.fit();
    QPainter painter(&image);
    painter.drawImage(
        0, 0, zonesOverlay(distance, picture.passes->blur(), project, picture.frame, map, image.size(), 1.0));
}

} // namespace

PlayController::PlayController(Workbench& bench, PictureController& picture, std::function<bool()> isBusy)
    : QObject(&bench.window), m_bench(bench), m_picture(picture), m_isBusy(std::move(isBusy))
{
    new CacheBar(m_bench.document, m_bench.deskState, m_bench.filler, *m_bench.desk);
    m_bench.filler.setOverlay(drawZones);
    m_bench.filler.setFillsWhenIdle(m_bench.playMenu->fillsWhenIdle());
    applyCacheLimits();
    m_playedChanged.setSingleShot(true);
    connect(&m_playedChanged, &QTimer::timeout, this, &PlayController::updatePlayed);
    m_idle.setSingleShot(true);
    m_idle.setInterval(kIdleMs);
    connect(&m_idle, &QTimer::timeout, this, [this] {
        const bool isNeeded = m_isBusy();
        m_bench.filler.setYielding(isNeeded);
        if (isNeeded) m_idle.start();
    });
    connect(&m_bench.filler, &FrameFiller::failed, this, [this](int, const QString& message) {
        if (m_bench.playback.isPlaying()) m_bench.message->show(MessageBar::Kind::trouble, message);
    });
    connect(m_bench.playMenu, &PlayMenu::sizeChanged, this, &PlayController::playedChanged);
    connect(m_bench.playMenu, &PlayMenu::fillsChanged, &m_bench.filler, &FrameFiller::setFillsWhenIdle);
    connect(&m_bench.playback, &Playback::shown, this, [this](int frame, const QImage& shown) {
        m_bench.picture->showPlayed(frame, m_bench.strip->mode(), shown);
    });
    connect(&m_bench.playback, &Playback::stateChanged, this, &PlayController::playStateChanged);
    connect(m_bench.picture, &PictureView::spaceTapped, this, [this] { m_bench.playback.toggle(); });
    connect(m_bench.picture, &PictureView::playedPressed, &m_bench.playback, &Playback::stop);
    connect(&m_picture, &PictureController::machineNeeded, this, &PlayController::needMachine);
    connect(&m_picture, &PictureController::shownOtherwise, this, &PlayController::playedChanged);
    connect(&m_bench.document, &Document::projectChanged, this, [this] {
        if (m_bench.document.isOpen()) playedChanged();
    });
}

/// Something else is to be done: no frames are made ready until that is over.
void PlayController::needMachine()
{
    m_bench.filler.setYielding(true);
    m_idle.start();
}

void PlayController::applyCacheLimits()
{
    m_bench.store->setLimits(PreferencesDialog::cacheLimits());
}

/// While frames are played they are others at once; otherwise after a rest, since a drag changes them all the
/// time.
void PlayController::playedChanged()
{
    if (m_bench.playback.isPlaying())
        updatePlayed();
    else
        m_playedChanged.start(kChangedMs);
}

void PlayController::updatePlayed()
{
    m_playedChanged.stop();
    if (!m_bench.document.isOpen() || !m_bench.document.isSequence()) return;
    PictureRequest request = m_picture.wholeRequest();
    request.lensPictures = nullptr; // each frame is made once
    const int divisor = m_bench.playMenu->divisorFor(request.source->width());
    m_bench.filler.setSubjectMatter(std::move(request), divisor);
}

void PlayController::playStateChanged()
{
    if (m_bench.playback.isPlaying()) {
        m_bench.passing->hide();
        if (m_playedChanged.isActive()) updatePlayed();
        m_bench.compare->setMode(Comparison::Mode::off);
        m_bench.strip->setQuality(Quality::playing);
    } else {
        m_picture.request();
    }
}

void PlayController::showPreferences()
{
    PreferencesDialog dialog(*m_bench.store, &m_bench.window);
    if (dialog.exec() == QDialog::Accepted) applyCacheLimits();
    updatePlayed(); // frames may be gone
}

} // namespace retinex::app
