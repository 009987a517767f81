#include "app/play/frame_bar.h"

#include "app/fields/chooser.h"
#include "app/layout/flow_row.h"
#include "app/layout/icon_button.h"
#include "app/look/style.h"

#include <QHBoxLayout>
#include <QResizeEvent>

namespace retinex::app {

FrameBar::FrameBar(Document& document, const DeskState& state, Playback& playback, PlayMenu& playMenu,
                   QWidget* parent)
    : QWidget(parent), m_document(document), m_state(state), m_playback(playback), m_frame(new QSpinBox),
      m_of(new QLabel), m_stepping(new QWidget), m_between(new Chooser), m_fit(new QToolButton)
{
    auto* stepping = new QHBoxLayout(m_stepping);
    stepping->setContentsMargins(0, 0, 0, 0);
    stepping->setSpacing(3);
    const auto step = [&](const char* icon, const QString& help, const char* name, auto action) {
        QToolButton* button = iconButton(icon, help, QLatin1String(name));
        connect(button, &QToolButton::clicked, this, action);
        stepping->addWidget(button);
        return button;
    };
    m_first = step("first", tr("First frame (Home)"), "firstFrame",
                   [this] { m_document.setFrame(m_document.project().firstFrame); });
    step("back", tr("One frame back (Left)"), "previousFrame",
         [this] { m_document.setFrame(m_document.frame() - 1); });
    m_playBack = step("playback", tr("Play back (J)"), "playBack", [this] { m_playback.toggle(-1); });
    m_frame->setObjectName(QStringLiteral("frameNumber"));
    m_frame->setAccessibleName(tr("Frame"));
    m_frame->setFont(style::numberFont());
    m_frame->setButtonSymbols(QAbstractSpinBox::NoButtons);
    m_frame->setAlignment(Qt::AlignCenter);
    m_frame->setFixedWidth(64);
    m_frame->setFocusPolicy(Qt::StrongFocus);
    m_frame->setKeyboardTracking(false); // what is typed counts when it is done
    stepping->addWidget(m_frame);
    m_play = step("play", tr("Play (Space)"), "play", [this] { m_playback.toggle(1); });
    step("forward", tr("One frame on (Right)"), "nextFrame",
         [this] { m_document.setFrame(m_document.frame() + 1); });
    m_last = step("last", tr("Last frame (End)"), "lastFrame",
                  [this] { m_document.setFrame(m_document.project().lastFrame); });
    stepping->addWidget(m_of);
    m_rate = new QToolButton;
    m_rate->setObjectName(QStringLiteral("rate"));
    m_rate->setFont(style::numberFont(9));
    m_rate->setFocusPolicy(Qt::TabFocus);
    m_rate->setPopupMode(QToolButton::InstantPopup);
    m_rate->setMenu(&playMenu);
    m_rate->setFixedWidth(m_rate->fontMetrics().horizontalAdvance(tr("%1 fps").arg(23.976)) + 34);
    stepping->addWidget(m_rate);
    stepping->addSpacing(14);
    auto* mark = iconButton("mark", tr("Set a mark on this frame (M)"), QStringLiteral("setMark"));
    mark->setText(tr("Set mark"));
    mark->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    connect(mark, &QToolButton::clicked, this, &FrameBar::setMarkAsked);
    stepping->addWidget(mark);
    auto* remove = iconButton("unmark", tr("Delete the chosen mark, or the one on this frame (Delete)"),
                              QStringLiteral("deleteMark"));
    m_mark = mark;
    m_remove = remove;
    remove->setText(tr("Delete mark"));
    connect(remove, &QToolButton::clicked, this, &FrameBar::deleteMarkAsked);
    stepping->addWidget(remove);

    m_between->setObjectName(QStringLiteral("betweenMarks"));
    m_between->addItems({tr("between marks: add one"), tr("between marks: shift all")});
    m_between->setFocusPolicy(Qt::TabFocus);
    m_between->setAccessibleName(tr("Between marks"));
    m_between->setToolTip(tr("What changing a setting does on a frame between its marks"));
    connect(m_between, &QComboBox::activated, this,
            [this](int index) { m_document.setBetweenMarks(static_cast<BetweenMarks>(index)); });
    m_fit->setText(tr("All"));
    m_fit->setObjectName(QStringLiteral("fitDesk"));
    m_fit->setToolTip(tr("All frames and distances"));
    m_fit->setFocusPolicy(Qt::TabFocus);
    connect(m_fit, &QToolButton::clicked, this, &FrameBar::fitAsked);

    auto* scale = new Chooser;
    scale->setObjectName(QStringLiteral("axisScale"));
    scale->setAccessibleName(tr("Distance axis"));
    scale->addItems({tr("log"), tr("dioptre"), tr("linear")});
    scale->setFocusPolicy(Qt::TabFocus);
    scale->setToolTip(tr("How distances are spread over the axis of profile and desk"));
    connect(scale, &QComboBox::activated, this,
            [this](int index) { emit scaleChosen(static_cast<AxisScale>(index)); });
    auto* layout = new FlowRow(this);
    layout->setContentsMargins(10, 2, 8, 2);
    layout->addWidget(m_stepping);
    layout->addGap();
    const auto dimLabel = [](const QString& words) {
        auto* label = new QLabel(words);
        label->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
        return label;
    };
    layout->addWidget(m_between);
    layout->addGap();
    layout->addWidget(m_fit);
    m_scaleName = dimLabel(tr("Axis"));
    layout->addWidget(m_scaleName);
    layout->addWidget(scale);
    connect(&state, &DeskState::changed, this, &FrameBar::refresh);

    connect(m_frame, &QSpinBox::valueChanged, &m_document, &Document::setFrame);
    connect(&document, &Document::projectChanged, this, &FrameBar::refresh);
    connect(&document, &Document::frameChanged, this, &FrameBar::refresh);
    connect(&document, &Document::betweenMarksChanged, this, &FrameBar::refresh);
    connect(&playback, &Playback::stateChanged, this, &FrameBar::refreshPlaying);
    connect(&playback, &Playback::rateMeasured, this, &FrameBar::refreshPlaying);
    connect(&document, &Document::projectChanged, this, &FrameBar::refreshPlaying);
    refresh();
    refreshPlaying();
}

void FrameBar::typeFrame()
{
    m_frame->setFocus(Qt::ShortcutFocusReason);
    m_frame->selectAll();
}

void FrameBar::refreshPlaying()
{
    const auto show = [this](QToolButton* button, int direction) {
        const bool plays = m_playback.direction() == direction;
        if (button->property("plays") == plays) return; // making an icon takes time
        button->setProperty("plays", plays);
        button->setIcon(QIcon(style::iconPath(plays ? "stop" : direction > 0 ? "play" : "playback")));
        button->setToolTip(plays           ? tr("Pause (Space)")
                           : direction > 0 ? tr("Play (Space)")
                                           : tr("Play back (J)"));
    };
    show(m_playBack, -1);
    show(m_play, 1);
    const double rate = m_document.project().playing.framesPerSecond;
    const double shown = m_playback.shownPerSecond();
    if (!m_playback.isPlaying()) {
        m_rate->setText(tr("%1 fps").arg(rate, 0, 'g', 5));
        m_rate->setToolTip(tr("How frames are played"));
        return;
    }
    m_rate->setText(shown > 0.0 ? tr("%1 fps").arg(shown, 0, 'f', 1) : tr("waiting…"));
    if (shown <= 0.0) {
        m_rate->setToolTip(
            tr("The next frames are being made. Wait, or choose a smaller size in the Play menu."));
        return;
    }
    const QString meaning = m_playback.pace() == Playback::Pace::keepTime
                                ? tr("Shown of %1 fps; %2 frames were not ready in time and left out")
                                : tr("Shown of %1 fps; %2 frames were waited for");
    m_rate->setToolTip(meaning.arg(rate * m_playback.speed(), 0, 'g', 5).arg(m_playback.lateFrames()));
}

/// Where there is no room words give way, one after another; tips have them still.
void FrameBar::fit()
{
    const auto contents =
        std::tuple(width(), m_of->text(), m_between->isHidden(), m_fit->isHidden(), m_stepping->isHidden());
    if (m_isFitting || contents == m_fittedTo) return;
    m_isFitting = true; // what comes and goes makes the layout ask again
    m_fittedTo = contents;
    int step = 0;
    const auto mayTry = [&] {
        m_stepping->layout()->invalidate();
        m_stepping->updateGeometry(); // its size is known anew
        return layout()->sizeHint().width() > width();
    };
    const auto arrange = [&](int steps) {
        const auto isIcon = [](bool icon) {
            return icon ? Qt::ToolButtonIconOnly : Qt::ToolButtonTextBesideIcon;
        };
        m_remove->setToolButtonStyle(isIcon(steps > 0));
        m_mark->setToolButtonStyle(isIcon(steps > 1));
        m_scaleName->setVisible(steps < 3);
        m_between->setItemText(0, steps > 3 ? tr("add a mark") : tr("between marks: add one"));
        m_between->setItemText(1, steps > 3 ? tr("shift marks") : tr("between marks: shift all"));
        m_of->setVisible(steps < 5);
        for (QWidget* end : {m_first, m_last}) // Home and End do it
            end->setVisible(steps < 6);
    };
    do
        arrange(step++);
    while (mayTry() && step <= 6);
    m_isFitting = false;
}

void FrameBar::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    fit();
}

void FrameBar::refresh()
{
    const auto& project = m_document.project();
    const QSignalBlocker blocker(m_frame);
    m_frame->setRange(project.firstFrame, project.lastFrame);
    m_frame->setValue(m_document.frame());
    m_of->setText(m_document.isSequence() ? tr("of %1–%2").arg(project.firstFrame).arg(project.lastFrame)
                                          : QString());
    m_stepping->setVisible(m_document.isOpen() && m_document.isSequence());
    const bool hasMarks = m_document.isOpen() && !m_document.shot().tracks.empty();
    m_between->setCurrentIndex(static_cast<int>(m_document.betweenMarks()));
    m_between->setVisible(hasMarks);
    m_fit->setVisible(m_state.isZoomed());
    fit();
}

} // namespace retinex::app
