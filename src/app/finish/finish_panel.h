#pragma once

#include "app/fields/field_list.h"
#include "app/finish/glow_step.h"
#include "app/finish/grade_step.h"
#include "app/finish/look_step.h"
#include "app/finish/scope.h"

namespace retinex::app {

/// The section of finish: its steps in their order, each folding to a line of words, and a scope to judge by.
class FinishPanel : public QObject
{
    Q_OBJECT

public:
    FinishPanel(Document& document, FieldList& fields, Section& section, QObject* parent);

    [[nodiscard]] GlowStep& glow() noexcept { return *m_glow; }
    [[nodiscard]] GradeStep& grade() noexcept { return *m_grade; }
    [[nodiscard]] LookStep& look() noexcept { return *m_look; }
    [[nodiscard]] Scope& scope() noexcept { return *m_scope; }

signals:
    void refused(const QString& message);
    void plateAsked();

private:
    Section& step(const QString& title, const char* key, const char* switchPath, const QString& help);
    void buildLensLike();
    void buildGrain();
    void refresh();

    Document& m_document;
    FieldList& m_fields;
    Section& m_section;
    Scope* m_scope;
    QWidget* m_steps = new QWidget; ///< one below the other
    GlowStep* m_glow = nullptr;
    GradeStep* m_grade = nullptr;
    LookStep* m_look = nullptr;
    NumberField* m_fringe = nullptr;
    Section* m_fringing = nullptr;
    Section* m_vignette = nullptr;
    Section* m_grain = nullptr;
    Section* m_plate = nullptr;
    QPushButton* m_plateFile = nullptr;
};

/// "f, g and h" of the steps that change something; "nothing" of none.
[[nodiscard]] QString finishWords(const project::Settings& settings);

} // namespace retinex::app
