#pragma once

#include "core/passes/pass_roles.h"

#include <QGridLayout>
#include <QWidget>
#include <vector>

namespace retinex::app {

/// The files that were brought in, each with what it is taken for, which can be changed.
class RolesList : public QWidget
{
    Q_OBJECT

public:
    explicit RolesList(QWidget* parent = nullptr);

    void setRoles(const std::vector<passes::RoleProposal>& roles);

signals:
    void roleChosen(int index, retinex::passes::Role role);

private:
    QGridLayout* m_grid;
    std::vector<passes::RoleProposal> m_shown;
};

} // namespace retinex::app
