#include "app/sheet/follows_button.h"

#include "core/regions/name_list.h"

#include <QMenu>
#include <algorithm>

namespace retinex::app {

namespace {
constexpr std::size_t kMostFollowed = 4;
}

FollowsButton::FollowsButton(const Document& document) : m_document(document)
{
    setMenu(new QMenu(this));
    connect(menu(), &QMenu::aboutToShow, this, &FollowsButton::fillMenu);
}

void FollowsButton::setFollowed(const std::string& names)
{
    m_names = regions::namesIn(names);
    setText(names.empty() ? tr("nothing") : QString::fromStdString(names));
    setToolTip(names.empty() ? tr("Subjects that it moves with") : text());
}

void FollowsButton::fillMenu()
{
    menu()->clear();
    for (const auto& subject : m_document.project().subjects) {
        QAction* action = menu()->addAction(QString::fromStdString(subject.name));
        action->setCheckable(true);
        action->setChecked(std::ranges::find(m_names, subject.name) != m_names.end());
        action->setEnabled(action->isChecked() || m_names.size() < kMostFollowed);
        connect(action, &QAction::triggered, this, [this, name = subject.name](bool on) {
            std::vector<std::string> names = m_names;
            std::erase(names, name);
            if (on) names.push_back(name);
            emit chosen(regions::listOf(names), m_names.empty(),
                        tr("follow %1").arg(QString::fromStdString(name)));
        });
    }
    if (menu()->isEmpty()) menu()->addAction(tr("There is no subject yet (U)"))->setEnabled(false);
}

} // namespace retinex::app
