#pragma once

#include "app/document/document.h"
#include "app/jobs/picture_maker.h"
#include "app/views/number_field.h"
#include "app/views/section.h"

#include <QComboBox>
#include <QPushButton>
#include <QScrollArea>

namespace retinex::app {

/// The settings, in working order.
class Sheet : public QScrollArea
{
    Q_OBJECT

public:
    explicit Sheet(Document& document, QWidget* parent = nullptr);

    /// What is known of the frame once its passes are read.
    void setPasses(const passes::FramePassesPtr& passes);

signals:
    void exportFrameAsked();
    void exportSequenceAsked();
    /// Text typed into a field that is not a number.
    void notANumber(const QString& message);

private:
    void buildPasses();
    void buildDepth();
    void buildFocus();
    void buildLens();
    void buildIris();
    void buildDelivery();
    NumberField* addNumber(Section& section, const QString& label, const char* name, NumberFormat format,
                           const QString& help, void (Sheet::*apply)(double, int));
    NumberFormat distanceFormat(double minimum) const;

    void refresh();
    void refreshSummaries();
    void change(const QString& what, int gesture, double project::Project::*setting, double value);
    void applyFocus(double value, int gesture);
    void applyAcceptedCoc(double value, int gesture);
    void applyFStop(double value, int gesture);
    void applyFocalLength(double value, int gesture);
    void applySensorWidth(double value, int gesture);
    void applyScale(double value, int gesture);
    void applyBlades(double value, int gesture);
    void applyTurn(double value, int gesture);

    Document& m_document;
    passes::FramePassesPtr m_passes;
    Section* m_passesSection;
    Section* m_depthSection;
    Section* m_focusSection;
    Section* m_lensSection;
    Section* m_irisSection;
    Section* m_deliverySection;
    QLabel* m_colourName;
    QLabel* m_depthName;
    QLabel* m_size;
    QLabel* m_reading;
    QLabel* m_range;
    QLabel* m_gaps;
    NumberField* m_focus;
    QComboBox* m_unit;
    NumberField* m_acceptedCoc;
    QLabel* m_sharpZone;
    NumberField* m_fStop;
    NumberField* m_focalLength;
    NumberField* m_sensorWidth;
    NumberField* m_scale;
    QLabel* m_cocAtInfinity;
    NumberField* m_blades;
    NumberField* m_turn;
    QPushButton* m_exportFrame;
    QPushButton* m_exportSequence;
};

} // namespace retinex::app
