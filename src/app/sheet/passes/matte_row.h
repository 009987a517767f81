#pragma once

#include "app/document/document.h"
#include "app/jobs/background.h"
#include "app/layout/section.h"

#include <QComboBox>

namespace retinex::app {

/// The project's mattes in the Passes section: which one the Mattes view shows, files that come and go.
class MatteRow : public QObject
{
    Q_OBJECT

public:
    MatteRow(Document& document, Section& section, QObject* parent);

    [[nodiscard]] int shown() const { return m_mattes->currentIndex(); }
    [[nodiscard]] bool isReading() const noexcept { return m_reading.isBusy(); }
    void refresh();

signals:
    void chosen();
    void failed(const QString& message);

private:
    void add();
    void remove();

    Document& m_document;
    Background m_reading;
    QComboBox* m_mattes;
    QWidget* m_row;
};

} // namespace retinex::app
