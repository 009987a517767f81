#include "app/picture/strips/view_strip.h"

#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/look/style.h"

#include <QAction>
#include <QActionGroup>
#include <QToolButton>
#include <algorithm>

namespace retinex::app {

namespace {

NumberFormat stopsFormat()
{
    NumberFormat format = plainFormat({}, ViewStrip::tr("stops"), -10.0, 10.0, 0.0, 3);
    format.geometric = false;
    format.step = 0.1;
    return format;
}

/// In words, and what that means.
std::pair<QString, QString> wordsOf(Quality quality)
{
    switch (quality) {
    case Quality::reading:
        return {ViewStrip::tr("reading…"), {}};
    case Quality::rendering:
        return {ViewStrip::tr("rendering…"), {}};
    case Quality::coarse:
        return {ViewStrip::tr("refining…"), {}};
    case Quality::view:
        return {ViewStrip::tr("view quality"),
                ViewStrip::tr(
                    "As fine as this zoom shows. Zoom in to see every pixel; what is saved has them all.")};
    case Quality::full:
        return {ViewStrip::tr("full quality"), ViewStrip::tr("Every pixel in sight is computed.")};
    case Quality::absent:
        return {ViewStrip::tr("no picture"), {}};
    case Quality::playing:
        return {ViewStrip::tr("playing"), ViewStrip::tr("Frames at the size chosen in the Play menu.")};
    default:
        return {};
    }
}

/// All that may be said of the picture.
QStringList qualities()
{
    QStringList all;
    for (const auto quality : {Quality::none, Quality::reading, Quality::rendering, Quality::coarse,
                               Quality::view, Quality::full, Quality::absent, Quality::playing})
        all << wordsOf(quality).first;
    return all;
}

} // namespace

ViewStrip::ViewStrip(QWidget* parent)
    : Strip(parent), m_group(new QActionGroup(this)), m_viewList(colour::availableViews()),
      m_stops(new NumberField(stopsFormat())), m_channel(new Chooser), m_views(new Chooser),
      m_zoom(new QLabel), m_quality(new QLabel)
{
    FlowRow* layout = &row();
    layout->setSpacing(2);
    const struct
    {
        QString name;
        QString help;
        const char* object;
    } rows[] = {{tr("Result"), tr("The picture through the lens (1)"), "viewResult"},
                {tr("Source"), tr("The colour pass as it came (2)"), "viewSource"},
                {tr("Depth"), tr("Distances: near is bright (3)"), "viewDepth"},
                {tr("Zones"), tr("What is sharp, as on a map (4)"), "viewZones"},
                {tr("Blur"), tr("The circle of confusion of each pixel (5)"), "viewBlur"},
                {tr("Mattes"), tr("The chosen matte pass (6)"), "viewMattes"},
                {tr("Repair"), tr("What edge repair takes apart and fills (7)"), "viewRepair"}};
    for (const auto& row : rows) {
        auto* action = new QAction(row.name, this);
        action->setCheckable(true);
        action->setShortcut(QKeySequence(Qt::Key_1 + static_cast<int>(m_modes.size())));
        action->setToolTip(row.help);
        m_group->addAction(action);
        m_modes.append(action);
        auto* button = new QToolButton;
        button->setDefaultAction(action);
        button->setObjectName(QLatin1String(row.object));
        button->setFocusPolicy(Qt::TabFocus);
        layout->addWidget(button);
        const auto mode = static_cast<ViewMode>(m_modes.size() - 1);
        connect(action, &QAction::triggered, this, [this, mode] { emit modeChosen(mode); });
    }
    m_modes.front()->setChecked(true);
    layout->addGap(8, false);
    const auto sizing = [&](const QString& name, const QString& help, auto signal) {
        auto* button = new QToolButton;
        button->setText(name);
        button->setToolTip(help);
        button->setFocusPolicy(Qt::TabFocus);
        connect(button, &QToolButton::clicked, this, signal);
        layout->addWidget(button);
    };
    sizing(tr("Fit"), tr("Fit the picture into the view (F2)"), &ViewStrip::fitAsked);
    sizing(tr("1:1"), tr("One pixel of the picture on one of the screen (F3)"), &ViewStrip::oneToOneAsked);
    m_zoom->setFont(style::numberFont(8.5));
    m_zoom->setMinimumWidth(m_zoom->fontMetrics().horizontalAdvance(tr("%1 %").arg(1000)) + 4);
    m_zoom->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    layout->addWidget(m_zoom);
    m_quality->setObjectName(QStringLiteral("quality"));
    m_quality->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    // As wide as its longest words, so that nothing moves when they change.
    for (const QString& words : qualities())
        m_quality->setMinimumWidth(
            std::max(m_quality->minimumWidth(), m_quality->fontMetrics().horizontalAdvance(words) + 2));
    layout->addGap(4, false);
    layout->addWidget(m_quality);
    layout->addGap();
    m_stops->setObjectName(QStringLiteral("lookStops"));
    m_stops->setAccessibleName(tr("Exposure, to look at"));
    m_stops->setToolTip(
        tr("Brighter or darker to look at; what is saved stays as it is (Ctrl+Up, Ctrl+Down)"));
    m_stops->setFixedWidth(84);
    layout->addWidget(m_stops);
    m_channel->setObjectName(QStringLiteral("lookChannel"));
    m_channel->setAccessibleName(tr("Channel, to look at"));
    m_channel->setToolTip(tr("One channel alone, to look at; what is saved stays as it is"));
    m_channel->setFocusPolicy(Qt::TabFocus);
    m_channel->addItems({tr("RGB"), tr("R"), tr("G"), tr("B"), tr("A")}); // in the order of Looking::Channel
    layout->addWidget(m_channel);
    connect(m_stops, &NumberField::edited, this, [this](double stops, int) {
        m_looking.stops = stops;
        emit lookingChanged();
    });
    connect(m_stops, &NumberField::rejected, m_stops, [this] { m_stops->setValue(m_looking.stops); });
    connect(m_channel, &QComboBox::activated, this, [this](int index) {
        m_looking.channel = static_cast<Looking::Channel>(index);
        emit lookingChanged();
    });
    m_views->setObjectName(QStringLiteral("viewTransform"));
    m_views->setAccessibleName(tr("View transform"));
    m_views->setToolTip(tr("View transform: from scene-linear colour to the screen"));
    m_views->setFocusPolicy(Qt::TabFocus);
    for (const auto& view : m_viewList)
        m_views->addItem(QString::fromStdString(view.view));
    connect(m_views, &QComboBox::activated, this, &ViewStrip::viewChosen);
    layout->addWidget(m_views);
}

Looking ViewStrip::looking() const
{
    return m_looking;
}

void ViewStrip::setLooking(const Looking& looking)
{
    m_looking = looking;
    m_looking.stops = std::clamp(looking.stops, -10.0, 10.0);
    m_stops->setValue(m_looking.stops);
    m_channel->setCurrentIndex(static_cast<int>(m_looking.channel));
    emit lookingChanged();
}

QAction* ViewStrip::modeAction(ViewMode mode) const
{
    return m_modes[static_cast<int>(mode)];
}

ViewMode ViewStrip::mode() const
{
    return static_cast<ViewMode>(m_modes.indexOf(m_group->checkedAction()));
}

colour::View ViewStrip::view() const
{
    return m_viewList.at(static_cast<std::size_t>(std::max(0, m_views->currentIndex())));
}

void ViewStrip::setZoom(double scale)
{
    m_zoom->setText(scale <= 0.0 ? QString() : tr("%1 %").arg(100.0 * scale, 0, 'f', scale < 0.1 ? 1 : 0));
}

void ViewStrip::setQuality(Quality quality)
{
    const auto [words, meaning] = wordsOf(quality);
    m_quality->setText(words);
    m_quality->setToolTip(meaning);
}

} // namespace retinex::app
