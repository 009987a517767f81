#pragma once

#include "app/document/document.h"
#include "app/fields/field_list.h"
#include "app/jobs/analysis_service.h"
#include "app/layout/section.h"

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
    DepthPanel(Document& document, AnalysisService& analysis, Section& section, QObject* parent);

    /// What is known of the frame once its passes are read.
    void setPasses(const passes::FramePassesPtr& passes);
    /// Turns near and far round, as the button does.
    void reverse();
    /// One step: reads depth so.
    void take(depth::ReadingSettings reading, const QString& what);

signals:
    void notANumber(const QString& message);

private:
    friend class ReadingPlace;
    using Change = std::function<void(depth::ReadingSettings&)>;

    void buildReading();
    void buildEnds();
    void buildGaps();
    void buildMending();
    void edit(const QString& what, const Change& change, int gesture = 0);
    void useProposal();
    void endsFromPercentiles();
    void applyRemap();
    void refresh();
    void refreshProposal();

    Document& m_document;
    AnalysisService& m_analysis;
    Section& m_section;
    FieldList* m_fields;
    passes::FramePassesPtr m_passes;
    QLabel* m_proposal;
    QPushButton* m_use;
    QPushButton* m_reverse;
    QPushButton* m_percentiles;
    QLabel* m_range;
    QLabel* m_gaps;
    QComboBox* m_gapPlace;
    QLineEdit* m_remap;
};

} // namespace retinex::app
