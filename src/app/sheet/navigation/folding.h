#pragma once

#include "app/document/document.h"
#include "app/layout/section.h"

namespace retinex::app {

/// Which sections below `sheet` are folded: kept with each project's file, for who works here; a project that
/// was never open here begins as the last one was left.
class Folding : public QObject
{
    Q_OBJECT

public:
    /// Once all sections are there.
    Folding(QWidget& sheet, Document& document, QObject* parent);

private:
    void keep();
    void restore();

    QWidget& m_sheet;
    Document& m_document;
    bool m_isRestoring = false;
};

} // namespace retinex::app
