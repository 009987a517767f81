#pragma once

#include "app/document/autosave.h"

#include <QDialog>
#include <QListWidget>
#include <optional>

namespace retinex::app {

/// Offers unsaved work of programs that are gone, each with its time and a picture.
class RecoveryDialog : public QDialog
{
    Q_OBJECT

public:
    explicit RecoveryDialog(std::vector<Recovered> found, QWidget* parent = nullptr);
    /// What is to be opened.
    [[nodiscard]] const std::optional<Recovered>& chosen() const noexcept { return m_chosen; }

private:
    void fill();
    void throwAway();

    std::vector<Recovered> m_found;
    std::optional<Recovered> m_chosen;
    QListWidget* m_list;
};

} // namespace retinex::app
