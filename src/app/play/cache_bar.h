#pragma once

#include "app/desk/focus_desk.h"
#include "app/store/frame_filler.h"

#include <QWidget>
#include <vector>

namespace retinex::app {

/// Along the lower edge of the desk: which frames are ready to be played, from memory or from disk.
class CacheBar : public QWidget
{
    Q_OBJECT

public:
    CacheBar(const Document& document, const DeskState& state, const FrameFiller& filler, FocusDesk& desk);

    [[nodiscard]] int readyFrames() const; ///< of those that are played, in memory or on disk

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void place();
    void look();

    const Document& m_document;
    const FrameFiller& m_filler;
    const FocusDesk& m_desk;
    struct Stretch
    {
        int first;
        int last;
        FrameStore::Place place;
    };
    std::vector<Stretch> m_stretches; ///< of frames that are ready; looked up when they change
    bool m_isOld = true;
};

} // namespace retinex::app
