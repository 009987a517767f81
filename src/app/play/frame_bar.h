#pragma once

#include "app/desk/desk_state.h"
#include "app/document/document.h"
#include "app/play/play_menu.h"

#include <QComboBox>
#include <QLabel>
#include <QSpinBox>
#include <QToolButton>
#include <QWidget>
#include <tuple>

namespace retinex::app {

/// Over profile and desk: frame stepping and playing, the frame's number, marks, and the scale of the
/// distance axis.
class FrameBar : public QWidget
{
    Q_OBJECT

public:
    FrameBar(Document& document, const DeskState& state, Playback& playback, PlayMenu& playMenu,
             QWidget* parent = nullptr);

    /// The frame number is ready to be typed over.
    void typeFrame();

signals:
    void scaleChosen(AxisScale scale);
    void setMarkAsked();
    void deleteMarkAsked();
    void fitAsked(); ///< all frames and distances

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void fit();
    void refresh();
    void refreshPlaying();

    Document& m_document;
    const DeskState& m_state;
    Playback& m_playback;
    QSpinBox* m_frame;
    QLabel* m_of;
    QWidget* m_stepping;
    QComboBox* m_between;
    QToolButton* m_fit;
    QToolButton* m_first = nullptr;
    QToolButton* m_last = nullptr;
    QToolButton* m_playBack = nullptr;
    QToolButton* m_play = nullptr;
    QToolButton* m_rate = nullptr;
    QToolButton* m_mark = nullptr;
    QToolButton* m_remove = nullptr;
    bool m_isFitting = false;
    std::tuple<int, QString, bool, bool, bool> m_fittedTo; ///< width, and what is shown
    QLabel* m_scaleName = nullptr;
};

} // namespace retinex::app
