#pragma once

#include "app/layout/flow_row.h"

#include <QWidget>

namespace retinex::app {

/// A row of tools above the picture. Where there is little room its buttons are as narrow as their words,
/// choosers get shorter, and what still has no room goes on in a line below.
class Strip : public QWidget
{
    Q_OBJECT

public:
    explicit Strip(QWidget* parent = nullptr);

    /// Stays away where there is little room: words that can be done without.
    void addSpare(QWidget* words);
    /// For a width that it is to have, also while it is hidden.
    void fitTo(int width);

protected:
    [[nodiscard]] FlowRow& row() noexcept { return *m_row; }
    void resizeEvent(QResizeEvent* event) override;

private:
    FlowRow* m_row;
    QList<QWidget*> m_spare;
};

} // namespace retinex::app
