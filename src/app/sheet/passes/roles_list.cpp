#include "app/sheet/passes/roles_list.h"

#include "app/fields/chooser.h"
#include "app/look/style.h"

#include <QLabel>
#include <algorithm>

namespace retinex::app {

namespace {

using passes::Role;

QString titleOf(Role role)
{
    const auto words = passes::title(role);
    return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size()));
}

/// A name that is shortened in the middle, where it is too long.
class FileName : public QLabel
{
public:
    explicit FileName(const QString& name) : m_name(name)
    {
        setMinimumWidth(60);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    }

protected:
    void resizeEvent(QResizeEvent*) override
    {
        setText(fontMetrics().elidedText(m_name, Qt::ElideMiddle, width()));
    }

private:
    QString m_name;
};

std::vector<Role> rolesFor(const passes::RoleProposal& proposal)
{
    if (proposal.role == Role::sceneFile) return {Role::sceneFile, Role::none};
    std::vector<Role> roles{Role::colour, Role::depth,         Role::matte,
                            Role::alpha,  Role::motionVectors, Role::none};
    if (proposal.role == Role::colourAndDepth) roles.insert(roles.begin(), Role::colourAndDepth);
    return roles;
}

bool isAlike(const passes::RoleProposal& a, const passes::RoleProposal& b)
{
    return a.file == b.file && a.role == b.role && a.reason == b.reason;
}

} // namespace

RolesList::RolesList(QWidget* parent) : QWidget(parent), m_grid(new QGridLayout(this))
{
    setObjectName(QStringLiteral("roles"));
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setHorizontalSpacing(6);
    m_grid->setVerticalSpacing(3);
    m_grid->setColumnStretch(0, 1);
    m_grid->setColumnStretch(1, 1);
}

void RolesList::setRoles(const std::vector<passes::RoleProposal>& roles)
{
    if (std::ranges::equal(roles, m_shown, isAlike)) return;
    m_shown = roles;
    qDeleteAll(findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    for (int i = 0; i < static_cast<int>(roles.size()); ++i) {
        const passes::RoleProposal& role = roles[static_cast<std::size_t>(i)];
        const QString name = QString::fromStdString(role.file.filename().string());
        auto* file = new FileName(name);
        const QString help = tr("%1\n%2").arg(QString::fromStdString(role.file.string()),
                                              tr("it has: %1").arg(QString::fromStdString(role.reason)));
        file->setToolTip(help);
        auto* box = new Chooser;
        box->setObjectName(QStringLiteral("role%1").arg(i + 1));
        box->setAccessibleName(tr("What %1 is").arg(name));
        box->setToolTip(help);
        box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        box->setMinimumWidth(90);
        const std::vector<Role> choices = rolesFor(role);
        for (const Role choice : choices)
            box->addItem(titleOf(choice), static_cast<int>(choice));
        box->setCurrentIndex(box->findData(static_cast<int>(role.role)));
        connect(box, &QComboBox::activated, this,
                [this, i, box] { emit roleChosen(i, static_cast<Role>(box->currentData().toInt())); });
        m_grid->addWidget(file, i, 0);
        m_grid->addWidget(box, i, 1);
    }
    updateGeometry();
}

} // namespace retinex::app
