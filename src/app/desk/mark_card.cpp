#include "app/desk/mark_card.h"

#include "app/fields/chooser.h"
#include "app/fields/setting_formats.h"
#include "app/look/style.h"

#include <QScreen>

namespace retinex::app {

namespace {

using timeline::Blend;
using timeline::Ease;

/// In the order they are offered in.
constexpr Ease kEases[] = {Ease::smooth, Ease::linear, Ease::curve, Ease::hold};
constexpr Blend kBlends[] = {Blend::evenBlur, Blend::dioptre, Blend::distance};

int indexOf(Ease ease)
{
    return static_cast<int>(std::find(std::begin(kEases), std::end(kEases), ease) - std::begin(kEases));
}

} // namespace

MarkCard::MarkCard(Document& document, DeskState& state, QWidget* parent)
    : QFrame(parent, Qt::Popup), m_document(document), m_state(state), m_form(new QFormLayout(this)),
      m_title(new QLabel), m_frame(new QSpinBox),
      m_value(new NumberField(settingFormat(setting::focusDistance, document.project()))),
      m_subject(new Chooser), m_blend(new Chooser), m_overshoot(new QCheckBox(tr("may overshoot")))
{
    setObjectName(QStringLiteral("markCard"));
    setFrameShape(QFrame::Box);
    setStyleSheet(QStringLiteral("QFrame#markCard { background: %1; border: 1px solid %2; }")
                      .arg(style::panel.name(), style::line.name()));
    m_form->setContentsMargins(12, 10, 12, 12);
    m_form->setHorizontalSpacing(14);
    m_form->addRow(m_title);
    m_frame->setObjectName(QStringLiteral("markFrame"));
    m_frame->setFont(style::numberFont());
    m_frame->setKeyboardTracking(false);
    m_frame->setButtonSymbols(QAbstractSpinBox::NoButtons);
    m_frame->setAlignment(Qt::AlignRight);
    m_form->addRow(tr("Frame"), m_frame);
    m_value->setObjectName(QStringLiteral("markValue"));
    m_form->addRow(tr("Value"), m_value);
    m_subject->setObjectName(QStringLiteral("markSubject"));
    m_form->addRow(tr("Bound to"), m_subject);
    m_arriving = addEase(tr("Arrive"), "markArriving", false);
    m_leaving = addEase(tr("Leave"), "markLeaving", true);
    m_overshoot->setObjectName(QStringLiteral("markOvershoot"));
    m_overshoot->setToolTip(tr("Lets a curve go beyond the values of its two marks."));
    m_form->addRow(QString(), m_overshoot);
    m_blend->setObjectName(QStringLiteral("markBlend"));
    m_blend->addItems({tr("blur"), tr("dioptres"), tr("distance")});
    m_blend->setToolTip(tr("What changes evenly in the pull that starts here: the blur of what stands still, "
                           "1/distance, or the distance."));
    m_form->addRow(tr("Pull evenly in"), m_blend);

    connect(m_frame, &QSpinBox::valueChanged, this, &MarkCard::moveTo);
    connect(m_value, &NumberField::edited, this, [this](double value, int gesture) {
        change(
            tr("set mark at %1").arg(m_markFrame), [value](timeline::Mark& mark) { mark.value = value; },
            gesture);
    });
    connect(m_subject, &QComboBox::activated, this, [this](int index) {
        const std::string name = index > 0 ? m_subject->itemText(index).toStdString() : std::string();
        const project::Project& project = m_document.project();
        m_document.editMarks(
            name.empty() ? tr("unbind mark at %1").arg(m_markFrame) : tr("bind mark at %1").arg(m_markFrame),
            m_id, m_markFrame, [&](timeline::Marks& marks) {
                timeline::bindMarks(marks, {m_markFrame}, name,
                                    [&](int frame) { return project.focusDistanceAt(frame); });
            });
    });
    connect(m_blend, &QComboBox::activated, this, [this](int index) {
        change(tr("change pull"), [index](timeline::Mark& mark) { mark.blend = kBlends[index]; });
    });
    connect(m_overshoot, &QCheckBox::clicked, this, [this](bool on) {
        change(tr("change ease"),
               [on](timeline::Mark& mark) { mark.arriving.mayOvershoot = mark.leaving.mayOvershoot = on; });
    });
    connect(&document, &Document::projectChanged, this, [this] {
        if (isVisible()) refresh();
    });
}

QComboBox* MarkCard::addEase(const QString& label, const char* name, bool leaving)
{
    auto* box = new Chooser;
    box->setObjectName(QLatin1String(name));
    box->addItems({tr("smooth"), tr("linear"), tr("curve")});
    if (leaving) box->addItem(tr("hold"));
    m_form->addRow(label, box);
    connect(box, &QComboBox::activated, this, [this, leaving](int index) {
        change(tr("change ease"), [&](timeline::Mark& mark) {
            timeline::Side& side = leaving ? mark.leaving : mark.arriving;
            side.ease = kEases[index];
            if (side.ease == Ease::curve && side.rise == 0.0) side.reach = 0.5;
        });
    });
    return box;
}

const timeline::Mark* MarkCard::mark() const
{
    return timeline::markOn(m_document.marks(m_id), m_markFrame);
}

void MarkCard::openFor(const SettingPath& id, int frame, QPoint at)
{
    m_id = id;
    m_markFrame = frame;
    m_document.setFrame(frame);
    m_state.choose(id, {frame});
    if (!mark()) return;
    refresh();
    adjustSize();
    const QRect room = screen()->availableGeometry();
    move(std::clamp(at.x() + 12, room.left(), std::max(room.left(), room.right() - width())),
         std::clamp(at.y() - height() / 2, room.top(), std::max(room.top(), room.bottom() - height())));
    show();
    m_value->setFocus();
}

void MarkCard::showRow(QWidget* field, bool visible)
{
    field->setVisible(visible);
    if (QWidget* label = m_form->labelForField(field)) label->setVisible(visible);
}

void MarkCard::refresh()
{
    const timeline::Mark* present = mark();
    if (!present) { // gone, by undo
        hide();
        return;
    }
    const auto& project = m_document.project();
    const bool focus = m_id == setting::focusDistance;
    m_title->setText(tr("Mark of %1").arg(settingTitle(m_id, m_document.values())));
    const timeline::FrameRange range = project.framesOf(project.shotIndexAt(m_document.frame()));
    const QSignalBlocker blocker(m_frame);
    m_frame->setRange(range.first, range.last);
    m_frame->setValue(m_markFrame);
    m_value->setFormat(settingFormat(m_id, project));
    m_value->setValue(present->isBound() ? project.valuesAt(m_markFrame).focusDistance : present->value);
    m_value->setEnabled(!present->isBound());
    m_subject->clear();
    m_subject->addItem(tr("a plain distance"));
    for (const auto& subject : project.subjects)
        m_subject->addItem(QString::fromStdString(subject.name));
    m_subject->setCurrentIndex(std::max(0, m_subject->findText(QString::fromStdString(present->subject))));
    m_arriving->setCurrentIndex(std::min(2, indexOf(present->arriving.ease)));
    m_leaving->setCurrentIndex(indexOf(present->leaving.ease));
    m_blend->setCurrentIndex(present->blend == Blend::distance  ? 2
                             : present->blend == Blend::dioptre ? 1
                                                                : 0);
    const bool curved = present->arriving.ease == Ease::curve || present->leaving.ease == Ease::curve;
    m_overshoot->setChecked(present->arriving.mayOvershoot || present->leaving.mayOvershoot);
    showRow(m_overshoot, curved);
    showRow(m_subject, focus);
    showRow(m_blend, focus);
}

void MarkCard::change(const QString& what, const std::function<void(timeline::Mark&)>& change, int gesture)
{
    m_document.editMarks(
        what, m_id, m_markFrame,
        [&](timeline::Marks& marks) {
            for (timeline::Mark& mark : marks)
                if (mark.frame == m_markFrame) change(mark);
        },
        gesture);
}

void MarkCard::moveTo(int frame)
{
    const auto& project = m_document.project();
    timeline::ChosenFrames chosen{m_markFrame};
    const int by = timeline::allowedShift(m_document.marks(m_id), chosen, frame - m_markFrame,
                                          project.framesOf(project.shotIndexAt(m_markFrame)));
    const int to = m_markFrame + by;
    const int from = std::exchange(m_markFrame, to);
    m_document.editMarks(tr("move mark at %1").arg(to), m_id, from, [&](timeline::Marks& marks) {
        timeline::moveMarks(marks, chosen, by, [](double value) { return value; });
    });
    m_state.choose(m_id, {to});
    m_document.setFrame(to);
    refresh();
}

} // namespace retinex::app
