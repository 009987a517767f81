#pragma once

#include <QFormLayout>
#include <QLabel>
#include <QToolButton>
#include <QWidget>

namespace retinex::app {

/// A section of the sheet. Folded, it shows one line that states its settings in words.
class Section : public QWidget
{
    Q_OBJECT

public:
    /// `key` names the section in the saved window state.
    Section(const QString& title, const QString& key, QWidget* parent = nullptr);

    [[nodiscard]] QFormLayout& form() noexcept { return *m_form; }
    void setSummary(const QString& summary);
    void setFolded(bool folded);
    [[nodiscard]] bool isFolded() const noexcept { return m_folded; }
    /// Adds a row; the label is the field's name for assistive tools too.
    void addRow(const QString& label, QWidget* field, const QString& help = {});

    /// Greys out all rows, but not the header, which folds.
    void setBodyEnabled(bool enabled) { m_body->setEnabled(enabled); }
    /// Hides or shows the row of a field; one that stands in a row of several goes with its row.
    void setRowVisible(QWidget* field, bool shown);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QString m_key;
    QToolButton* m_header;
    QLabel* m_summary;
    QWidget* m_body;
    QFormLayout* m_form;
    bool m_folded = false;
};

} // namespace retinex::app
