#pragma once

#include "app/document/document.h"
#include "app/views/desk_state.h"

#include <QComboBox>
#include <QLabel>
#include <QSpinBox>
#include <QToolButton>
#include <QWidget>

namespace retinex::app {

/// Over profile and desk: frame stepping, the frame's number, marks, and the scale of the distance axis.
class FrameBar : public QWidget
{
    Q_OBJECT

public:
    FrameBar(Document& document, const DeskState& state, QWidget* parent = nullptr);

signals:
    void scaleChosen(AxisScale scale);
    void setMarkAsked();
    void deleteMarkAsked();
    void fitAsked(); ///< all frames and distances

private:
    void refresh();

    Document& m_document;
    const DeskState& m_state;
    QSpinBox* m_frame;
    QLabel* m_of;
    QWidget* m_stepping;
    QComboBox* m_between;
    QLabel* m_betweenName = nullptr;
    QToolButton* m_fit;
};

} // namespace retinex::app
