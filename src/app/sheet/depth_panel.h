#pragma once

#include "app/document/document.h"
#include "app/fields/field_list.h"
#include "app/fields/section.h"
#include "app/jobs/analysis_service.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <functional>

namespace retinex::app {

/// The rows of the Depth section: the proposed reading with its reasons, the reading and its ends, gaps and
/// mending.
class DepthPanel : public QObject
{
    Q_OBJECT

public:
    DepthPanel(Document& document, AnalysisService& analysis, FieldList& fields, Section& section,
               QObject* parent);

    /// What is known of the frame once its passes are read.
    void setPasses(const passes::FramePassesPtr& passes);
    /// Turns near and far round, as the button does.
    void reverse();
    /// One step: reads depth so.
    void take(depth::ReadingSettings reading, const QString& what);

signals:
    void notANumber(const QString& message);

private:
    using Change = std::function<void(depth::ReadingSettings&)>;

    void buildReading();
    void buildEnds();
    void buildGaps();
    void buildMending();
    NumberField* addNumber(const QString& label, const char* name, const NumberFormat& format,
                           const QString& help, const QString& what,
                           std::function<void(depth::ReadingSettings&, double)> apply);
    QComboBox* addChoice(const QString& label, const char* name, const QString& help, const QString& what,
                         const QStringList& choices, std::function<void(depth::ReadingSettings&, int)> apply);
    QCheckBox* addCheck(const QString& text, const char* name, const QString& help, const QString& what,
                        std::function<void(depth::ReadingSettings&, bool)> apply);
    void edit(const QString& what, const Change& change, int gesture = 0);
    void useProposal();
    void endsFromPercentiles();
    void applyRemap();
    void refresh();
    void refreshProposal();

    Document& m_document;
    AnalysisService& m_analysis;
    Section& m_section;
    passes::FramePassesPtr m_passes;
    QLabel* m_proposal;
    QPushButton* m_use;
    QComboBox* m_reading;
    QPushButton* m_reverse;
    QComboBox* m_spacing;
    QComboBox* m_encoding;
    QComboBox* m_clipRange;
    NumberField* m_fieldOfView;
    NumberField* m_nearest;
    NumberField* m_farthest;
    NumberField* m_storedLow;
    NumberField* m_storedHigh;
    QPushButton* m_percentiles;
    QCheckBox* m_clamp;
    QLabel* m_range;
    QLabel* m_gaps;
    QCheckBox* m_zeroGap;
    QCheckBox* m_alphaGap;
    NumberField* m_gapFrom;
    QComboBox* m_gapPlace;
    NumberField* m_gapDistance;
    QCheckBox* m_snap;
    QCheckBox* m_smooth;
    NumberField* m_soften;
    NumberField* m_offset;
    QLineEdit* m_remap;
};

} // namespace retinex::app
