#pragma once

#include "app/document/document.h"

#include <QCheckBox>
#include <QDialog>

namespace retinex::app {

/// What of the present shot goes to which other shots.
class CopySettingsDialog : public QDialog
{
    Q_OBJECT

public:
    explicit CopySettingsDialog(Document& document, QWidget* parent = nullptr);

private:
    void copy();

    Document& m_document;
    QCheckBox* m_parts[8];
    QList<QCheckBox*> m_shots; ///< null for the present one
};

} // namespace retinex::app
