#pragma once

#include "app/fields/field_list.h"
#include "app/sheet/iris_drawing.h"

#include <QPushButton>

namespace retinex::app {

/// The rows of the Iris section: shape, drawing, an iris from a picture, and glints.
class IrisPanel : public QObject
{
    Q_OBJECT

public:
    IrisPanel(Document& document, FieldList& fields, Section& section, QObject* parent);

    /// What the folded section says.
    [[nodiscard]] static QString summary(const project::Settings& values);
    /// Takes the picture as the iris; on failure the error is told and nothing changes.
    void usePicture(const QString& file);

signals:
    void failed(const QString& message);

private:
    void buildPicture();
    void choosePicture();
    void refresh();

    Document& m_document;
    FieldList& m_fields;
    Section& m_section;
    IrisDrawing* m_drawing;
    QPushButton* m_choose;
    QPushButton* m_clear;
    std::vector<NumberField*> m_outlineFields; ///< of no meaning while a picture is the iris
};

} // namespace retinex::app
