#pragma once

#include <QComboBox>

namespace retinex::app {

/// A chooser whose text, where it does not fit, is shortened in the middle: names differ at their ends. A tip
/// tells the whole of it.
class Chooser : public QComboBox
{
    Q_OBJECT

public:
    explicit Chooser(QWidget* parent = nullptr);
    /// What is shown of the chosen text.
    [[nodiscard]] QString shownText() const;
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent*) override;
};

/// One for the sheet, which is narrow: names are cut, the sheet stays as wide as it is.
[[nodiscard]] Chooser* sheetChooser(const QString& name);

} // namespace retinex::app
