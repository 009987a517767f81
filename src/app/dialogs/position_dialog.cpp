#include "app/dialogs/position_dialog.h"

#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/look/style.h"
#include "core/optics/two_positions.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QVBoxLayout>

namespace retinex::app {

namespace {

/// Straight at the object, then along the axes, then at a point.
constexpr optics::Position kAxes[] = {{0, 0, 0},  {1, 0, 0}, {-1, 0, 0}, {0, 1, 0},
                                      {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
constexpr int kAtPoint = 7;

} // namespace

PositionDialog::PositionDialog(Document& document, QWidget* parent)
    : QDialog(parent), m_document(document), m_camera(new QLineEdit), m_object(new QLineEdit),
      m_looks(new Chooser), m_target(new QLineEdit), m_targetName(new QLabel(tr("The point"))),
      m_result(valueLabel("positionResult")), m_setFocus(new QPushButton(tr("Set focus distance"))),
      m_setMark(new QPushButton(tr("Set mark on this frame")))
{
    setObjectName(QStringLiteral("positionDialog"));
    setWindowTitle(tr("Focus distance from two positions"));
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(16);
    const auto position = [&](QLabel* name, QLineEdit* field, const char* object) {
        field->setAccessibleName(name->text());
        field->setObjectName(QLatin1String(object));
        field->setPlaceholderText(tr("x, y, z in scene units"));
        field->setMinimumWidth(260);
        field->setFont(style::numberFont());
        form->addRow(name, field);
        connect(field, &QLineEdit::textChanged, this, &PositionDialog::refresh);
    };
    position(new QLabel(tr("Camera")), m_camera, "cameraPosition");
    position(new QLabel(tr("Object")), m_object, "objectPosition");
    m_looks->setObjectName(QStringLiteral("cameraLooks"));
    m_looks->addItems({tr("at the object"), tr("along +x"), tr("along −x"), tr("along +y"), tr("along −y"),
                       tr("along +z"), tr("along −z"), tr("at another point")});
    form->addRow(tr("Camera looks"), m_looks);
    connect(m_looks, &QComboBox::currentIndexChanged, this, &PositionDialog::refresh);
    position(m_targetName, m_target, "targetPosition");
    form->addRow(tr("Along the view axis"), m_result);
    auto* buttons = new QDialogButtonBox;
    m_setFocus->setObjectName(QStringLiteral("positionToFocus"));
    m_setMark->setObjectName(QStringLiteral("positionToMark"));
    buttons->addButton(m_setFocus, QDialogButtonBox::AcceptRole);
    buttons->addButton(m_setMark, QDialogButtonBox::AcceptRole);
    buttons->addButton(QDialogButtonBox::Cancel);
    connect(m_setFocus, &QPushButton::clicked, this, [this] {
        m_document.setFocusDistance(*distance(), newGesture());
        accept();
    });
    connect(m_setMark, &QPushButton::clicked, this, [this] {
        const double value = *distance();
        m_document.editMarks(tr("set mark at %1").arg(m_document.frame()), setting::focusDistance,
                             m_document.frame(), [&](timeline::Marks& marks) {
                                 timeline::Mark mark{m_document.frame(), value};
                                 if (const auto* there = timeline::markOn(marks, mark.frame)) mark = *there;
                                 mark.value = value;
                                 mark.subject.clear();
                                 timeline::setMark(marks, mark);
                             });
        accept();
    });
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(14);
    layout->addLayout(form);
    layout->addWidget(buttons);
    refresh();
}

std::optional<double> PositionDialog::distance() const
{
    const auto camera = optics::parsePosition(m_camera->text().toStdString());
    const auto object = optics::parsePosition(m_object->text().toStdString());
    if (!camera || !object) return std::nullopt;
    const int looks = m_looks->currentIndex();
    optics::Position direction = kAxes[looks < kAtPoint ? looks : 0];
    if (looks == 0 || looks == kAtPoint) {
        const auto target = looks == 0 ? object : optics::parsePosition(m_target->text().toStdString());
        if (!target) return std::nullopt;
        for (std::size_t i = 0; i < 3; ++i)
            direction[i] = (*target)[i] - (*camera)[i];
    }
    const double distance = optics::distanceAlongAxis(*camera, *object, direction);
    if (std::isnan(distance)) return std::nullopt;
    return distance;
}

void PositionDialog::refresh()
{
    const bool atPoint = m_looks->currentIndex() == kAtPoint;
    m_target->setVisible(atPoint);
    m_targetName->setVisible(atPoint);
    const auto result = distance();
    m_result->setText(!result          ? tr("needs three numbers for each position")
                      : *result <= 0.0 ? tr("the object is not in front of the camera")
                                       : shownDistance(m_document.project(), *result));
    const bool usable = result && *result > 0.0;
    m_setFocus->setEnabled(usable);
    m_setMark->setEnabled(usable && m_document.isSequence());
}

} // namespace retinex::app
