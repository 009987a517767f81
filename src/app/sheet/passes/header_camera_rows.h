#pragma once

#include "app/document/document.h"
#include "app/jobs/analysis_service.h"
#include "app/layout/section.h"

#include <QPushButton>

namespace retinex::app {

/// What the colour pass's header says of its camera, in the Passes section; its numbers can be taken.
class HeaderCameraRows : public QObject
{
    Q_OBJECT

public:
    HeaderCameraRows(Document& document, const AnalysisService& analysis, Section& section, QObject* parent);

    void refresh();

private:
    void apply();

    Document& m_document;
    const AnalysisService& m_analysis;
    Section& m_section;
    QLabel* m_words;
    QPushButton* m_use;
};

} // namespace retinex::app
