#include "app/layout/section.h"

#include "app/layout/wrapped_label.h"
#include "app/look/style.h"

#include <QAbstractButton>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

namespace retinex::app {

Section::Section(const QString& title, const QString& key, QWidget* parent)
    : QWidget(parent), m_header(new QToolButton(this)), m_summary(new QLabel(this)),
      m_body(new QWidget(this)), m_rows(new QGridLayout(m_body))
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
    m_summary->setContentsMargins(16, 0, 0, 4);
    m_rows->setContentsMargins(16, 2, 0, 8);
    m_rows->setHorizontalSpacing(8);
    m_rows->setVerticalSpacing(5);
    m_rows->setColumnStretch(1, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 5, 12, 0);
    layout->setSpacing(0);
    layout->addWidget(m_header);
    layout->addWidget(m_summary);
    layout->addWidget(m_body);
    connect(m_header, &QToolButton::clicked, this, [this] { setFolded(!m_folded); });
    m_header->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_header, &QWidget::customContextMenuRequested, this,
            [this](QPoint at) { emit menuAsked(m_header->mapToGlobal(at)); });
    setFolded(false);
}

void Section::setSummary(const QString& summary)
{
    m_summary->setText(summary);
}

void Section::setFolded(bool folded)
{
    const bool isOther = m_folded != folded;
    m_folded = folded;
    m_header->setArrowType(folded ? Qt::RightArrow : Qt::DownArrow);
    m_summary->setVisible(folded);
    m_body->setVisible(!folded);
    if (isOther) emit foldedChanged();
}

void Section::addRow(const QString& label, QWidget* field, const QString& help)
{
    auto* name = new QLabel(label, m_body);
    name->setBuddy(field);
    int wide = 100; // longer names go on in a line below, at a space
    for (const QString& word : label.split(QLatin1Char(' ')))
        wide = std::max(wide, name->fontMetrics().horizontalAdvance(word) + 4);
    name->setFixedWidth(wide);
    name->setWordWrap(true);
    name->setToolTip(help);
    field->setToolTip(help);
    field->setAccessibleName(label);
    // The row's name is that of its first field too, where several stand in it.
    for (QWidget* part : field->findChildren<QWidget*>()) {
        if (part->focusPolicy() == Qt::NoFocus || qobject_cast<QAbstractButton*>(part)) continue;
        if (part->accessibleName().isEmpty()) part->setAccessibleName(label);
        break;
    }
    const int row = m_rows->rowCount();
    const bool isHigh = qobject_cast<WrappedLabel*>(field) != nullptr;
    m_rows->addWidget(name, row, 0, isHigh ? Qt::AlignTop : Qt::Alignment());
    const bool isFixed = field->sizePolicy().horizontalPolicy() == QSizePolicy::Fixed;
    m_rows->addWidget(field, row, 1, isFixed ? Qt::AlignLeft : Qt::Alignment());
}

void Section::addWide(QWidget* widget)
{
    m_rows->addWidget(widget, m_rows->rowCount(), 0, 1, 2);
}

void Section::setRowVisible(QWidget* field, bool shown)
{
    const int index = m_rows->indexOf(field);
    if (index < 0) return;
    int row = 0;
    int column = 0;
    int spanned = 0;
    m_rows->getItemPosition(index, &row, &column, &spanned, &spanned);
    field->setVisible(shown);
    if (column == 1) m_rows->itemAtPosition(row, 0)->widget()->setVisible(shown);
}

void Section::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setPen(style::line);
    painter.drawLine(0, height() - 1, width(), height() - 1);
}

} // namespace retinex::app
