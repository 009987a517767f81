// What the window does about playing frames.
#include "app/window/main_window.h"

#include "app/dialogs/preferences_dialog.h"
#include "app/picture/zones_overlay.h"

#include <QKeyEvent>
#include <QPainter>

namespace retinex::app {

namespace {

constexpr int kChangedMs = 200; ///< after a change, until what is to be played is looked at anew
constexpr int kIdleMs = 1200;   ///< without work for the window, until frames are made ready

/// What the Zones view lays over its picture, at the size that is played.
void drawZones(QImage& image, const Picture& picture, const project::Project& project)
{
    if (picture.mode != ViewMode::zones) return;
    const Plane<float>& distance = picture.passes->distance;
    ImageViewMap map;
    map.setImageSize(QSizeF(distance.width(), distance.height()));
    map.setViewSize(QSizeF(image.size()));
    map.fit();
    QPainter painter(&image);
    painter.drawImage(0, 0, zonesOverlay(distance, project, picture.frame, map, image.size(), 1.0));
}

} // namespace

void MainWindow::connectPlayback()
{
    new CacheBar(m_document, m_deskState, m_filler, *m_desk);
    m_filler.setOverlay(drawZones);
    m_filler.setFillsWhenIdle(m_playMenu->fillsWhenIdle());
    applyCacheLimits();
    m_playedChanged.setSingleShot(true);
    connect(&m_playedChanged, &QTimer::timeout, this, &MainWindow::updatePlayed);
    m_idle.setSingleShot(true);
    m_idle.setInterval(kIdleMs);
    connect(&m_idle, &QTimer::timeout, this, [this] {
        const bool isNeeded = !isSettled() || m_export->isRunning();
        m_filler.setYielding(isNeeded);
        if (isNeeded) m_idle.start();
    });
    connect(&m_renderer, &RenderService::busyChanged, this, [this](bool busy) {
        if (busy) needMachine();
    });
    connect(&m_filler, &FrameFiller::failed, this, [this](int, const QString& message) {
        if (m_playback.isPlaying()) m_message->show(MessageBar::Kind::trouble, message);
    });
    connect(m_playMenu, &PlayMenu::sizeChanged, this, &MainWindow::playedChanged);
    connect(m_playMenu, &PlayMenu::fillsChanged, &m_filler, &FrameFiller::setFillsWhenIdle);
    connect(&m_playback, &Playback::shown, this, [this](int frame, const QImage& picture) {
        m_picture->showPlayed(frame, m_strip->mode(), picture);
    });
    connect(&m_playback, &Playback::stateChanged, this, &MainWindow::playStateChanged);
    connect(m_picture, &PictureView::spaceTapped, this, [this] { m_playback.toggle(); });
    connect(m_picture, &PictureView::playedPressed, &m_playback, &Playback::stop);
}

/// Something else is to be done: no frames are made ready until that is over.
void MainWindow::needMachine()
{
    m_filler.setYielding(true);
    m_idle.start();
}

void MainWindow::applyCacheLimits()
{
    m_store.setLimits(PreferencesDialog::cacheLimits());
}

/// While frames are played they are others at once; otherwise after a rest, since a drag changes them all the
/// time.
void MainWindow::playedChanged()
{
    if (m_playback.isPlaying())
        updatePlayed();
    else
        m_playedChanged.start(kChangedMs);
}

void MainWindow::updatePlayed()
{
    m_playedChanged.stop();
    if (!m_document.isOpen() || !m_document.isSequence()) return;
    PictureRequest request = wholeRequest();
    const int divisor = m_playMenu->divisorFor(request.source->width());
    m_filler.setSubjectMatter(std::move(request), divisor);
}

void MainWindow::playStateChanged()
{
    if (m_playback.isPlaying()) {
        if (m_playedChanged.isActive()) updatePlayed();
        m_compare->setMode(Comparison::Mode::off);
        m_strip->setQuality(tr("playing"), tr("Frames at the size chosen in the Play menu."));
    } else {
        requestPicture();
    }
}

void MainWindow::showPreferences()
{
    PreferencesDialog dialog(m_store, this);
    if (dialog.exec() == QDialog::Accepted) applyCacheLimits();
    updatePlayed(); // frames may be gone
}

/// Keys that no field or button has taken: those that have to be held, or press buttons elsewhere.
void MainWindow::keyPressEvent(QKeyEvent* event)
{
    if (event->modifiers() == Qt::NoModifier && event->key() == Qt::Key_V) {
        if (!event->isAutoRepeat()) hold(true);
    } else if (event->modifiers() == Qt::NoModifier && event->key() == Qt::Key_Space) {
        if (!event->isAutoRepeat()) m_playback.toggle();
    } else {
        QMainWindow::keyPressEvent(event);
    }
}

void MainWindow::keyReleaseEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_V) {
        if (!event->isAutoRepeat()) hold(false);
    } else {
        QMainWindow::keyReleaseEvent(event);
    }
}

/// A key that was held when the window lost the keyboard is not held any more.
void MainWindow::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::ActivationChange && !isActiveWindow()) hold(false);
    QMainWindow::changeEvent(event);
}

} // namespace retinex::app
