#include "app/play/play_menu.h"

#include <QInputDialog>
#include <QSettings>

namespace retinex::app {

namespace {

/// Of film, television and screens: common practice.
constexpr double kRates[] = {12.0, 24000.0 / 1001.0, 24.0, 25.0, 30000.0 / 1001.0, 30.0, 48.0, 50.0, 60.0};
constexpr int kAutomaticWidth = 1280; ///< px; a window shows hardly more
enum Size { automatic, full, half, third, quarter };

} // namespace

PlayMenu::PlayMenu(Document& document, Playback& playback, QWidget* parent)
    : QMenu(tr("&Play"), parent), m_document(document), m_playback(playback)
{
    setObjectName(QStringLiteral("playMenu"));
    m_play = add(tr("&Play"), QKeySequence(Qt::Key_Space), [this] { m_playback.toggle(); });
    // Space presses a button that has the focus: the window takes what is left of it.
    m_play->setShortcutContext(Qt::WidgetShortcut);
    add(tr("Play &on, faster each time"), QKeySequence(Qt::Key_L), [this] { m_playback.shuttle(1); });
    add(tr("Play &back, faster each time"), QKeySequence(Qt::Key_J), [this] { m_playback.shuttle(-1); });
    add(tr("&Stop"), QKeySequence(Qt::Key_K), [this] { m_playback.stop(); });
    addSeparator();
    add(tr("Begin at this frame (&in)"), QKeySequence(Qt::Key_I), [this] { setEnd(true); });
    add(tr("End at this frame (ou&t)"), QKeySequence(Qt::Key_O), [this] { setEnd(false); });
    m_whole = add(tr("All &frames"), QKeySequence(tr("Shift+I")), [this] {
        project::Project changed = m_document.project();
        changed.playing.in.reset();
        changed.playing.out.reset();
        m_document.edit(tr("play all frames"), changed);
    });
    addSeparator();
    m_rates = addMenu(tr("&Rate"));
    m_rateChoice = new QActionGroup(this);
    for (const double rate : kRates) {
        QAction* action = m_rates->addAction(tr("%1 fps").arg(rate, 0, 'g', 5));
        action->setCheckable(true);
        action->setData(rate);
        m_rateChoice->addAction(action);
    }
    m_rates->addAction(tr("Another…"), this, &PlayMenu::chooseOwnRate);
    m_rateChoice->setExclusionPolicy(QActionGroup::ExclusionPolicy::ExclusiveOptional);
    connect(m_rateChoice, &QActionGroup::triggered, this,
            [this](QAction* action) { setRate(action->data().toDouble()); });
    addChoice(tr("At the &end"), {tr("stop"), tr("go round"), tr("back and forth")}, "play/loop", 1,
              [this](int index) { m_playback.setLoop(static_cast<timeline::Loop>(index)); });
    addChoice(tr("When a frame is &late"), {tr("leave it out and keep the time"), tr("wait for it")},
              "play/pace", 0, [this](int index) { m_playback.setPace(static_cast<Playback::Pace>(index)); });
    m_size = addChoice(tr("Si&ze"), {tr("automatic"), tr("full"), tr("half"), tr("a third"), tr("a quarter")},
                       "play/size", automatic, [this](int) { emit sizeChanged(); });
    m_fills = addAction(tr("Make frames read&y while nothing else is done"));
    m_fills->setObjectName(QStringLiteral("fillWhenIdle"));
    m_fills->setCheckable(true);
    m_fills->setChecked(QSettings().value(QStringLiteral("play/fill"), true).toBool());
    connect(m_fills, &QAction::toggled, this, [this](bool on) {
        QSettings().setValue(QStringLiteral("play/fill"), on);
        emit fillsChanged(on);
    });
    connect(&document, &Document::projectChanged, this, &PlayMenu::refresh);
    connect(&playback, &Playback::stateChanged, this, &PlayMenu::refresh);
    refresh();
}

QAction* PlayMenu::add(const QString& text, const QKeySequence& keys, const std::function<void()>& work)
{
    QAction* action = addAction(text);
    action->setShortcut(keys);
    connect(action, &QAction::triggered, this, work);
    m_shortcuts.append(action);
    return action;
}

QActionGroup* PlayMenu::addChoice(const QString& title, const QStringList& names, const char* key, int usual,
                                  const std::function<void(int)>& work)
{
    QMenu* menu = addMenu(title);
    auto* group = new QActionGroup(this);
    const QString name = QLatin1String(key);
    menu->setObjectName(name);
    for (const QString& words : names) {
        QAction* action = menu->addAction(words);
        action->setCheckable(true);
        group->addAction(action);
    }
    const int chosen =
        std::clamp(QSettings().value(name, usual).toInt(), 0, static_cast<int>(names.size()) - 1);
    group->actions()[chosen]->setChecked(true);
    work(chosen);
    connect(group, &QActionGroup::triggered, this, [group, name, work](QAction* action) {
        const auto index = static_cast<int>(group->actions().indexOf(action));
        QSettings().setValue(name, index);
        work(index);
    });
    return group;
}

int PlayMenu::divisorFor(int width) const
{
    const auto size = static_cast<int>(m_size->actions().indexOf(m_size->checkedAction()));
    return size == automatic ? std::max(1, (width + kAutomaticWidth - 1) / kAutomaticWidth) : size;
}

void PlayMenu::setEnd(bool isIn)
{
    if (!m_document.isOpen()) return;
    project::Project changed = m_document.project();
    project::Playing& playing = changed.playing;
    const int frame = m_document.frame();
    (isIn ? playing.in : playing.out) = frame;
    auto& other = isIn ? playing.out : playing.in; // never the wrong way round
    if (other && (isIn ? *other < frame : *other > frame)) other.reset();
    m_document.edit(isIn ? tr("play from %1").arg(frame) : tr("play to %1").arg(frame), changed);
}

void PlayMenu::chooseOwnRate()
{
    bool accepted = false;
    const double rate =
        QInputDialog::getDouble(parentWidget(), tr("Rate"), tr("Frames per second"),
                                m_document.project().playing.framesPerSecond, 1.0, 240.0, 3, &accepted);
    if (accepted) setRate(rate);
}

void PlayMenu::setRate(double framesPerSecond)
{
    project::Project changed = m_document.project();
    changed.playing.framesPerSecond = framesPerSecond;
    m_document.edit(tr("set the rate"), changed);
    refresh(); // the check mark stays where the rate was the same
}

void PlayMenu::refresh()
{
    const bool canPlay = m_document.isOpen() && m_document.isSequence();
    for (QAction* action : m_shortcuts)
        action->setEnabled(canPlay);
    const project::Playing& playing = m_document.project().playing;
    m_whole->setEnabled(canPlay && (playing.in || playing.out));
    m_play->setText(m_playback.isPlaying() ? tr("&Pause") : tr("&Play"));
    for (QAction* action : m_rateChoice->actions())
        action->setChecked(std::abs(action->data().toDouble() - playing.framesPerSecond) < 1e-6);
}

} // namespace retinex::app
