#pragma once

#include "app/desk/desk_state.h"
#include "app/document/document.h"
#include "app/fields/number_field.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QFrame>
#include <QLabel>
#include <QSpinBox>

namespace retinex::app {

/// A small card that opens over a mark, to type what it holds: frame, value, how it is arrived at and left,
/// and of a focus distance what runs evenly in the pull and the subject it is bound to.
class MarkCard : public QFrame
{
    Q_OBJECT

public:
    MarkCard(Document& document, DeskState& state, QWidget* parent);

    /// For the mark of a setting in the shot of the present frame; `at` on the screen.
    void openFor(const SettingPath& id, int frame, QPoint at);

private:
    [[nodiscard]] const timeline::Mark* mark() const;
    void refresh();
    void change(const QString& what, const std::function<void(timeline::Mark&)>& change, int gesture = 0);
    void moveTo(int frame);
    QComboBox* addEase(const QString& label, const char* name, bool leaving);
    void showRow(QWidget* field, bool visible);

    Document& m_document;
    DeskState& m_state;
    SettingPath m_id = setting::focusDistance;
    int m_markFrame = 0;
    QFormLayout* m_form;
    QLabel* m_title;
    QSpinBox* m_frame;
    NumberField* m_value;
    QComboBox* m_subject;
    QComboBox* m_arriving;
    QComboBox* m_leaving;
    QComboBox* m_blend;
    QCheckBox* m_overshoot;
};

} // namespace retinex::app
