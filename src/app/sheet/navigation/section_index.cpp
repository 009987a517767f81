#include "app/sheet/navigation/section_index.h"

#include "app/layout/icon_button.h"
#include "app/layout/once_laid_out.h"

#include <QMenu>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>

namespace retinex::app {

namespace {

constexpr int kSide = 28; ///< px

QToolButton* squareButton(const char* icon, const QString& help, const QString& name)
{
    QToolButton* button = iconButton(icon, help, name, 16);
    button->setFixedSize(kSide, kSide);
    return button;
}

} // namespace

SectionIndex::SectionIndex(QScrollArea& area, QWidget* parent) : QWidget(parent), m_area(area)
{
    setObjectName(QStringLiteral("sectionIndex"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(2, 6, 2, 6);
    column->setSpacing(2);
    column->addStretch();
    // The one in sight is told by a bar at its side: nothing else in the window is marked so.
    setStyleSheet(
        QStringLiteral("QToolButton { border: none; background: transparent; padding: 0; }"
                       "QToolButton:hover { background: #464646; }"
                       "QToolButton:checked { background: #4e4e4e; border-left: 2px solid #f0e9dc; }"
                       "QToolButton:focus { border: 1px solid #b0aaa0; }"));
    connect(area.verticalScrollBar(), &QScrollBar::valueChanged, this, &SectionIndex::mark);
    connect(area.verticalScrollBar(), &QScrollBar::rangeChanged, this, &SectionIndex::mark);
}

QToolButton& SectionIndex::addAbove(const char* icon, const QString& name, const char* objectName)
{
    QToolButton* button = squareButton(icon, name, QLatin1String(objectName));
    static_cast<QVBoxLayout*>(layout())->insertWidget(0, button);
    static_cast<QVBoxLayout*>(layout())->insertSpacing(1, 8);
    return *button;
}

void SectionIndex::add(Section& section, const char* icon)
{
    QToolButton* button = squareButton(icon, section.title(), section.objectName() + QStringLiteral("Index"));
    button->setAccessibleName(tr("Go to %1").arg(section.title()));
    button->setCheckable(true);
    button->setContextMenuPolicy(Qt::CustomContextMenu);
    auto* column = static_cast<QVBoxLayout*>(layout());
    column->insertWidget(column->count() - 1, button);
    m_entries.push_back({&section, button});
    connect(button, &QToolButton::clicked, this, [this, &section] { goTo(section); });
    connect(button, &QWidget::customContextMenuRequested, this,
            [this, &section, button](QPoint at) { showMenu(section, button->mapToGlobal(at)); });
    connect(&section, &Section::menuAsked, this, [this, &section](QPoint at) { showMenu(section, at); });
    mark();
}

int SectionIndex::present() const
{
    const int top = m_area.verticalScrollBar()->value();
    // What was gone to counts while it can be seen, where the sheet is too short to have it at the top.
    if (m_asked >= 0) {
        const QRect place = m_entries[static_cast<std::size_t>(m_asked)].section->geometry();
        if (place.top() >= top && place.top() < top + m_area.viewport()->height()) return m_asked;
    }
    int index = 0;
    for (int i = 0; i < static_cast<int>(m_entries.size()); ++i)
        if (m_entries[static_cast<std::size_t>(i)].section->y() <= top + 8) index = i;
    return index;
}

void SectionIndex::mark()
{
    const int index = present();
    for (int i = 0; i < static_cast<int>(m_entries.size()); ++i)
        m_entries[static_cast<std::size_t>(i)].button->setChecked(i == index);
}

void SectionIndex::step(int by)
{
    if (m_entries.empty()) return;
    const int index = std::clamp(present() + by, 0, static_cast<int>(m_entries.size()) - 1);
    goTo(*m_entries[static_cast<std::size_t>(index)].section);
}

void SectionIndex::goTo(Section& section)
{
    emit went();
    section.setFolded(false);
    const auto at = std::ranges::find(m_entries, &section, &Entry::section);
    onceLaidOut(this, [this, &section, index = static_cast<int>(at - m_entries.begin())] {
        m_asked = index;
        m_area.verticalScrollBar()->setValue(section.y());
        mark();
    });
}

void SectionIndex::foldOthers(Section* kept)
{
    if (m_entries.empty()) return;
    if (!kept) kept = m_entries[static_cast<std::size_t>(present())].section;
    for (const Entry& entry : m_entries)
        entry.section->setFolded(entry.section != kept);
    goTo(*kept);
}

void SectionIndex::unfoldAll()
{
    for (const Entry& entry : m_entries)
        entry.section->setFolded(false);
}

void SectionIndex::showMenu(Section& section, QPoint at)
{
    QMenu menu(this);
    menu.addAction(section.isFolded() ? tr("Unfold") : tr("Fold"), this,
                   [this, &section] { section.setFolded(!section.isFolded()); });
    menu.addAction(tr("Fold the others"), this, [this, &section] { foldOthers(&section); });
    menu.addAction(tr("Unfold all"), this, &SectionIndex::unfoldAll);
    menu.exec(at);
}

} // namespace retinex::app
