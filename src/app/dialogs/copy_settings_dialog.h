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
    QList<std::pair<QCheckBox*, project::Group>> m_groups;
    QList<QCheckBox*> m_shots; ///< null for the present one
};

} // namespace retinex::app
