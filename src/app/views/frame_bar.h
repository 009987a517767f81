#pragma once

#include "app/document/document.h"
#include "app/views/distance_axis.h"

#include <QComboBox>
#include <QLabel>
#include <QSpinBox>
#include <QWidget>

namespace retinex::app {

/// Over profile and desk: frame stepping, the frame's number, marks, and the scale of the distance axis.
class FrameBar : public QWidget
{
    Q_OBJECT

public:
    explicit FrameBar(Document& document, QWidget* parent = nullptr);

signals:
    void scaleChosen(AxisScale scale);
    void setMarkAsked();
    void deleteMarkAsked();

private:
    void refresh();

    Document& m_document;
    QSpinBox* m_frame;
    QLabel* m_of;
    QWidget* m_stepping;
};

} // namespace retinex::app
