#include "app/fields/section.h"

#include "app/look/style.h"

#include <QAbstractButton>
#include <QPainter>
#include <QSettings>
#include <QVBoxLayout>

namespace retinex::app {

Section::Section(const QString& title, const QString& key, QWidget* parent)
    : QWidget(parent), m_key(key), m_header(new QToolButton(this)), m_summary(new QLabel(this)),
      m_body(new QWidget(this)), m_form(new QFormLayout(m_body))
{
    setObjectName(key);
    m_header->setText(title);
    m_header->setObjectName(key + QStringLiteral("Header"));
    m_header->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    m_header->setStyleSheet(
        QStringLiteral("QToolButton { border: none; background: transparent; padding: 2px; "
                       "font-weight: bold; } QToolButton:focus { border: 1px solid #b0aaa0; }"));
    m_header->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    m_summary->setWordWrap(true);
    m_summary->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    m_summary->setContentsMargins(22, 0, 0, 4);
    m_form->setContentsMargins(22, 2, 0, 8);
    m_form->setHorizontalSpacing(8);
    m_form->setVerticalSpacing(5);
    m_form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 5, 12, 0);
    layout->setSpacing(0);
    layout->addWidget(m_header);
    layout->addWidget(m_summary);
    layout->addWidget(m_body);
    connect(m_header, &QToolButton::clicked, this, [this] {
        setFolded(!m_folded);
        QSettings().setValue(QStringLiteral("folded/") + m_key, m_folded);
    });
    setFolded(QSettings().value(QStringLiteral("folded/") + m_key, false).toBool());
}

void Section::setSummary(const QString& summary)
{
    m_summary->setText(summary);
}

void Section::setFolded(bool folded)
{
    m_folded = folded;
    m_header->setArrowType(folded ? Qt::RightArrow : Qt::DownArrow);
    m_summary->setVisible(folded);
    m_body->setVisible(!folded);
}

void Section::addRow(const QString& label, QWidget* field, const QString& help)
{
    auto* name = new QLabel(label, m_body);
    name->setBuddy(field);
    name->setFixedWidth(100);
    name->setToolTip(help);
    field->setToolTip(help);
    field->setAccessibleName(label);
    // The row's name is that of its first field too, where several stand in it.
    for (QWidget* part : field->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) {
        if (part->focusPolicy() == Qt::NoFocus || qobject_cast<QAbstractButton*>(part)) continue;
        if (part->accessibleName().isEmpty()) part->setAccessibleName(label);
        break;
    }
    m_form->addRow(name, field);
}

void Section::setRowVisible(QWidget* field, bool shown)
{
    // By the layout: widgets that are hidden behind its back leave rows that lie on each other.
    if (m_form->indexOf(field) >= 0) m_form->setRowVisible(field, shown);
}

void Section::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setPen(style::line);
    painter.drawLine(0, height() - 1, width(), height() - 1);
}

} // namespace retinex::app
