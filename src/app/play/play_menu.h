#pragma once

#include "app/store/playback.h"

#include <QActionGroup>
#include <QMenu>

namespace retinex::app {

/// All about playing: transport, in and out, rate, what comes after the last frame, pace, size. What is the
/// artist's habit is remembered; rate, in and out belong to the project.
class PlayMenu : public QMenu
{
    Q_OBJECT

public:
    PlayMenu(Document& document, Playback& playback, QWidget* parent = nullptr);

    /// For playing a picture so wide: N is 1/N of the size.
    [[nodiscard]] int divisorFor(int width) const;
    [[nodiscard]] bool fillsWhenIdle() const { return m_fills->isChecked(); }
    /// Those with shortcuts.
    [[nodiscard]] const QList<QAction*>& shortcuts() const noexcept { return m_shortcuts; }

signals:
    void sizeChanged();
    void fillsChanged(bool fills);

private:
    QAction* add(const QString& text, const QKeySequence& keys, const std::function<void()>& work);
    /// Entries of which one is chosen; `chosen` is what was chosen the last time, under `key` in the
    /// settings.
    QActionGroup* addChoice(const QString& title, const QStringList& names, const char* key, int usual,
                            const std::function<void(int)>& work);
    void setEnd(bool isIn);
    void chooseOwnRate();
    void setRate(double framesPerSecond);
    void refresh();

    Document& m_document;
    Playback& m_playback;
    QAction* m_play;
    QAction* m_whole;
    QAction* m_fills;
    QMenu* m_rates;
    QActionGroup* m_rateChoice;
    QActionGroup* m_size;
    QList<QAction*> m_shortcuts;
};

} // namespace retinex::app
