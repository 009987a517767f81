#pragma once

#include "app/document/document.h"
#include "app/pictures/picture_maker.h"

#include <QWidget>
#include <vector>

namespace retinex::app {

/// Numbers under the pointer: place, colour, stored depth, distance and CoC.
class ProbeLine : public QWidget
{
    Q_OBJECT

public:
    explicit ProbeLine(Document& document, QWidget* parent = nullptr);

    void setPicture(const Picture& picture);
    void setPoint(int x, int y); ///< (-1, -1): nothing under the pointer
    void setStatus(const QString& status);
    /// What a click does, while nothing is pointed at; "": it puts the focal plane there.
    void setHint(const QString& hint);
    /// All that is written, for copying.
    [[nodiscard]] QString text() const;

    [[nodiscard]] QSize sizeHint() const override { return {400, 32}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Cell
    {
        QString name;
        QString value;
        int width;
    };
    [[nodiscard]] std::vector<Cell> cells() const;

    Document& m_document;
    Picture m_picture;
    int m_x = -1;
    int m_y = -1;
    QString m_status;
    QString m_hint;
};

} // namespace retinex::app
