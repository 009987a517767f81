#pragma once

#include "app/document/document.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace retinex::app {

/// Two positions to focus distance: camera and object in scene units, and where the camera looks; the result
/// goes into the focus distance or a mark of the present frame.
class PositionDialog : public QDialog
{
    Q_OBJECT

public:
    explicit PositionDialog(Document& document, QWidget* parent = nullptr);

private:
    void refresh();
    [[nodiscard]] std::optional<double> distance() const;

    Document& m_document;
    QLineEdit* m_camera;
    QLineEdit* m_object;
    QComboBox* m_looks;
    QLineEdit* m_target;
    QLabel* m_targetName;
    QLabel* m_result;
    QPushButton* m_setFocus;
    QPushButton* m_setMark;
};

} // namespace retinex::app
