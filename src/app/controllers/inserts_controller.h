#pragma once

#include "app/controllers/workbench.h"

namespace retinex::app {

/// Backdrop and inserts: their menu and keys, and what the handles in the picture and the section have in
/// common.
class InsertsController : public QObject
{
    Q_OBJECT

public:
    explicit InsertsController(Workbench& bench);

    void addActions(QMenu& menu);

private:
    void add(bool isBackdrop);
    void paintMask();
    void replaceFile(const std::string& id);
    [[nodiscard]] QString askForPicture(const QString& title) const;

    Workbench& m_bench;
};

} // namespace retinex::app
