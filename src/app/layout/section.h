#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QToolButton>
#include <QWidget>

namespace retinex::app {

/// A section of the sheet. Folded, it shows one line that states its settings in words.
class Section : public QWidget
{
    Q_OBJECT

public:
    /// `key` is its object name.
    Section(const QString& title, const QString& key, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const { return m_header->text(); }
    void setSummary(const QString& summary);
    void setFolded(bool folded);
    [[nodiscard]] bool isFolded() const noexcept { return m_folded; }
    /// Adds a row; the label is the field's name for assistive tools too.
    void addRow(const QString& label, QWidget* field, const QString& help = {});
    /// Adds one as wide as the section, without a label.
    void addWide(QWidget* widget);

    /// Greys out all rows, but not the header, which folds.
    void setBodyEnabled(bool enabled) { m_body->setEnabled(enabled); }
    /// Hides or shows the row of a field; one that stands in a row of several goes with its row.
    void setRowVisible(QWidget* field, bool shown);

signals:
    void foldedChanged();
    void menuAsked(QPoint at); ///< with the right button on its header; of the screen

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QToolButton* m_header;
    QLabel* m_summary;
    QWidget* m_body;
    QGridLayout* m_rows; ///< labels and fields
    bool m_folded = false;
};

} // namespace retinex::app
