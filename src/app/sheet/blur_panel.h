#pragma once

#include "app/fields/field_list.h"
#include "app/jobs/analysis_service.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>

namespace retinex::app {

/// What an artist may do to the lens's blur: held zone (in Focus), strength, limits and the simple lens (in
/// Lens), the edge of the frame and the use of mattes (in Repair).
class BlurPanel : public QObject
{
    Q_OBJECT

public:
    struct Sections
    {
        Section& focus;
        Section& lens;
        Section& repair;
    };
    BlurPanel(Document& document, const AnalysisService& analysis, FieldList& fields,
              const Sections& sections, QObject* parent);

signals:
    void repairViewAsked();

private:
    void buildLens();
    void buildRepair();
    void switchSimpleLens(bool on);
    void refresh();

    void refreshViews();

    Document& m_document;
    const AnalysisService& m_analysis;
    FieldList& m_fields;
    Sections m_sections;
    QCheckBox* m_simple;
    QComboBox* m_views;
    QLabel* m_viewsWords;
    QCheckBox* m_mattes;
    std::vector<NumberField*> m_simpleFields;
};

} // namespace retinex::app
