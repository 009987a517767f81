#include "app/picture/strips/compare_bar.h"

#include "app/fields/chooser.h"
#include "app/look/style.h"

#include <QAction>
#include <QActionGroup>
#include <QLabel>
#include <QToolButton>

namespace retinex::app {

namespace {

/// Entries before the takes: what is there now, the colour pass, what is there without its finish.
constexpr int kBeforeTakes = 3;

} // namespace

CompareBar::CompareBar(Document& document, QWidget* parent)
    : Strip(parent), m_document(document), m_sides{new Chooser, new Chooser}, m_modes(new QActionGroup(this)),
      m_gain(new Chooser)
{
    setObjectName(QStringLiteral("compareBar"));
    FlowRow* layout = &row();
    const auto words = [&](const QString& text) {
        auto* label = new QLabel(text);
        label->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
        return label;
    };
    addSpare(words(tr("Compare")));
    for (int which = 0; which < 2; ++which) {
        if (which == 1) layout->addWidget(words(tr("with")));
        QComboBox* box = m_sides[which];
        box->setAccessibleName(which == 0 ? tr("Compare") : tr("with"));
        box->setObjectName(which == 0 ? QStringLiteral("compareFirst") : QStringLiteral("compareSecond"));
        box->setFocusPolicy(Qt::TabFocus);
        box->setMaximumWidth(190);
        layout->addWidget(box);
        connect(box, &QComboBox::activated, this, &CompareBar::changed);
    }
    layout->addGap(8, false);
    const struct
    {
        QString name;
        QString help;
        const char* object;
        Comparison::Mode mode;
    } rows[] = {{tr("Wipe"), tr("One left of a line to drag, the other right of it (W)"), "compareWipe",
                 Comparison::Mode::wipe},
                {tr("Side by side"), tr("Both, at the same zoom and place"), "compareBeside",
                 Comparison::Mode::sideBySide},
                {tr("Difference"), tr("What the two differ by, as they are on the screen, made larger"),
                 "compareDifference", Comparison::Mode::difference}};
    for (const auto& row : rows) {
        auto* action = m_modes->addAction(row.name);
        action->setCheckable(true);
        action->setToolTip(row.help);
        action->setData(static_cast<int>(row.mode));
        auto* button = new QToolButton;
        button->setDefaultAction(action);
        button->setObjectName(QLatin1String(row.object));
        button->setFocusPolicy(Qt::TabFocus);
        layout->addWidget(button);
        connect(action, &QAction::triggered, this, [this, mode = row.mode] {
            setMode(mode == m_mode ? Comparison::Mode::off : mode); // pressed again, it lets go
        });
    }
    for (const int gain : Comparison::gains)
        m_gain->addItem(QStringLiteral("× %1").arg(gain), gain);
    m_gain->setCurrentIndex(2);
    m_gain->setObjectName(QStringLiteral("compareGain"));
    m_gain->setToolTip(tr("How many times larger the difference is shown"));
    m_gain->setFocusPolicy(Qt::TabFocus);
    layout->addWidget(m_gain);
    m_gain->setAccessibleName(tr("Difference shown"));
    connect(m_gain, &QComboBox::activated, this, &CompareBar::changed);
    layout->addGap();
    auto* close = m_close = new QToolButton;
    close->setText(tr("Close"));
    close->setObjectName(QStringLiteral("compareClose"));
    close->setFocusPolicy(Qt::TabFocus);
    close->setToolTip(tr("Show one picture again (W)"));
    layout->addWidget(close);
    QSizePolicy keeps = close->sizePolicy();
    keeps.setRetainSizeWhenHidden(true); // its neighbours stay where they are
    close->setSizePolicy(keeps);
    connect(close, &QToolButton::clicked, this, [this] { setMode(Comparison::Mode::off); });
    connect(&document, &Document::projectChanged, this, &CompareBar::refresh);
    refresh();
    setSide(1, {CompareSide::Kind::source});
    m_close->hide();
    m_gain->hide();
}

void CompareBar::setMode(Comparison::Mode mode)
{
    m_mode = mode;
    for (QAction* action : m_modes->actions())
        action->setChecked(action->data().toInt() == static_cast<int>(mode));
    m_gain->setVisible(mode == Comparison::Mode::difference);
    m_close->setVisible(mode != Comparison::Mode::off);
    emit changed();
}

CompareSide CompareBar::side(int which) const
{
    const QComboBox* box = m_sides[which];
    const int index = box->currentIndex();
    if (index >= kBeforeTakes) return {CompareSide::Kind::take, box->itemText(index).toStdString()};
    return {index == 1   ? CompareSide::Kind::source
            : index == 2 ? CompareSide::Kind::unfinished
                         : CompareSide::Kind::present};
}

void CompareBar::setSide(int which, const CompareSide& side)
{
    QComboBox* box = m_sides[which];
    int index = side.kind == CompareSide::Kind::source       ? 1
                : side.kind == CompareSide::Kind::unfinished ? 2
                                                             : 0;
    if (side.kind == CompareSide::Kind::take)
        for (int i = kBeforeTakes; i < box->count(); ++i)
            if (box->itemText(i).toStdString() == side.take) index = i;
    box->setCurrentIndex(index);
}

QString CompareBar::nameOf(const CompareSide& side)
{
    return side.kind == CompareSide::Kind::present      ? tr("Present")
           : side.kind == CompareSide::Kind::source     ? tr("Source")
           : side.kind == CompareSide::Kind::unfinished ? tr("Without finish")
                                                        : QString::fromStdString(side.take);
}

int CompareBar::gain() const
{
    return m_gain->currentData().toInt();
}

/// The takes may be others; a side that is not there any more becomes the present, or the source.
void CompareBar::refresh()
{
    QStringList names{nameOf({CompareSide::Kind::present}), nameOf({CompareSide::Kind::source}),
                      nameOf({CompareSide::Kind::unfinished})};
    for (const project::Take& take : m_document.project().takes)
        names << QString::fromStdString(take.name);
    for (int which = 0; which < 2; ++which) {
        QComboBox* box = m_sides[which];
        QStringList present;
        for (int i = 0; i < box->count(); ++i)
            present << box->itemText(i);
        if (present == names) continue;
        const CompareSide before = side(which);
        box->clear();
        box->addItems(names);
        setSide(which, before);
        if (side(which) != before && before.kind == CompareSide::Kind::take && which == 1)
            setSide(1, {CompareSide::Kind::source});
    }
}

} // namespace retinex::app
