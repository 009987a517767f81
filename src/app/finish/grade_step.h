#pragma once

#include "app/fields/field_list.h"
#include "app/finish/curve_editor.h"

#include <QComboBox>
#include <QPushButton>

namespace retinex::app {

/// The grade: white balance with a picker, exposure, contrast, tones, curves, and a CDL that goes in and out.
class GradeStep : public QObject
{
    Q_OBJECT

public:
    GradeStep(Document& document, FieldList& fields, Section& section, QObject* parent);

    [[nodiscard]] CurveEditor& curve() noexcept { return *m_curve; }
    void setPicking(bool on);

signals:
    void pickAsked(bool on); ///< a click in the picture is to be what comes out grey
    void cdlFileAsked(bool isSaved);

private:
    void buildCurve();
    void buildCdl(FieldList& fields);
    void refresh();
    [[nodiscard]] finish::Curve& curveOf(project::Settings& settings) const;

    Document& m_document;
    Section& m_section;
    QPushButton* m_pick;
    QComboBox* m_which;
    CurveEditor* m_curve;
    Section* m_tones = nullptr;
    Section* m_curves = nullptr;
    Section* m_cdl = nullptr;
};

} // namespace retinex::app
