#pragma once

#include "core/passes/pass_check.h"

#include <QWidget>
#include <vector>

class QVBoxLayout;

namespace retinex::app {

/// The pass check: a line for each finding; a click unfolds what it means and how to render better next time.
class FindingsList : public QWidget
{
    Q_OBJECT

public:
    explicit FindingsList(QWidget* parent = nullptr);
    void setFindings(const std::vector<passes::Finding>& findings);
    [[nodiscard]] QStringList matters() const; ///< as shown, for tests

private:
    void addRow(const passes::Finding& finding, bool unfolded);

    QVBoxLayout* m_rows;
    QStringList m_matters;
    std::vector<passes::Finding> m_shown;
    std::vector<std::string> m_unfolded; ///< keys, kept over new findings
};

} // namespace retinex::app
