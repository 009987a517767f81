#pragma once

#include "app/fields/field_list.h"
#include "app/finish/glow_step.h"
#include "app/finish/grade_step.h"
#include "app/finish/look_step.h"
#include "app/finish/scope.h"

namespace retinex::finish {
struct Step;
}

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

private:
    /// A step whose rows are those described.
    struct Plain
    {
        const finish::Step* step;
        Section* section;
        std::vector<project::FieldPtr<project::Settings>> fields;
    };
    void build(const finish::Step& step);
    void refresh();

    Document& m_document;
    FieldList& m_fields;
    Section& m_section;
    Scope* m_scope;
    QWidget* m_steps = new QWidget; ///< one below the other
    GlowStep* m_glow = nullptr;
    GradeStep* m_grade = nullptr;
    LookStep* m_look = nullptr;
    std::vector<Plain> m_plain;
};

/// "f, g and h" of the steps that change something; "nothing" of none.
[[nodiscard]] QString finishWords(const project::Settings& settings);

} // namespace retinex::app
