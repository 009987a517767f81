#include "app/sheet/passes/findings_list.h"

#include "app/fields/number_formats.h"
#include "app/look/style.h"

#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

namespace retinex::app {

FindingsList::FindingsList(QWidget* parent) : QWidget(parent), m_rows(new QVBoxLayout(this))
{
    setObjectName(QStringLiteral("findings"));
    m_rows->setContentsMargins(0, 0, 0, 0);
    m_rows->setSpacing(2);
}

QStringList FindingsList::matters() const
{
    return m_matters;
}

void FindingsList::setFindings(const std::vector<passes::Finding>& findings)
{
    if (m_rows->count() > 0 && findings == m_shown) return; // nothing below jumps
    m_shown = findings;
    while (QLayoutItem* item = m_rows->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    m_matters.clear();
    if (findings.empty()) {
        auto* none = wordsLabel("noFindings");
        none->setText(tr("Nothing to remark: these passes are as they should be."));
        m_rows->addWidget(none);
    }
    for (const auto& finding : findings)
        addRow(finding, std::find(m_unfolded.begin(), m_unfolded.end(), finding.key) != m_unfolded.end());
}

void FindingsList::addRow(const passes::Finding& finding, bool unfolded)
{
    const bool trouble = finding.weight == passes::Finding::Weight::trouble;
    auto* row = new QWidget;
    auto* layout = new QVBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(1);
    auto* header = new QToolButton;
    // The mark tells the weight by its shape, and by its colour.
    header->setText(QString::fromStdString(finding.matter));
    header->setObjectName(QStringLiteral("finding-") + QString::fromStdString(finding.key));
    header->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    header->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    header->setToolTip(QString::fromStdString(finding.matter));
    header->setStyleSheet(
        QStringLiteral("QToolButton { border: none; background: transparent; padding: 1px; "
                       "text-align: left; color: %1; } QToolButton:focus { border: 1px solid "
                       "#b0aaa0; }")
            .arg((trouble ? style::trouble : style::text).name()));
    auto* words = wordsLabel("findingWords");
    words->setText(
        tr("%1\n%2").arg(QString::fromStdString(finding.meaning), QString::fromStdString(finding.advice)));
    words->setContentsMargins(18, 0, 0, 4);
    layout->addWidget(header);
    layout->addWidget(words);
    const auto fold = [header, words](bool open) {
        header->setArrowType(open ? Qt::DownArrow : Qt::RightArrow);
        words->setVisible(open);
    };
    fold(unfolded || trouble);
    connect(header, &QToolButton::clicked, this, [this, words, fold, key = finding.key] {
        const bool open = words->isHidden();
        fold(open);
        std::erase(m_unfolded, key);
        if (open) m_unfolded.push_back(key);
    });
    m_rows->addWidget(row);
    m_matters.append(QString::fromStdString(finding.matter));
}

} // namespace retinex::app
