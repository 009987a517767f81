#include "app/sheet/iris_panel.h"

#include "app/document/opening.h"
#include "core/passes/image_file.h"
#include "core/passes/iris_picture.h"

#include <QFileDialog>
#include <QHBoxLayout>

namespace retinex::app {

IrisPanel::IrisPanel(Document& document, FieldList& fields, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_fields(fields), m_section(section), m_drawing(new IrisDrawing)
{
    section.addWide(m_drawing);
    const auto outline = [&](const QString& label, const SettingPath& id, const QString& help) {
        m_outlineFields.push_back(fields.number(section, label, id, help));
    };
    outline(tr("Blades"), setting::blades, tr("Corners of the opening: circle, or 3 to 16."));
    outline(tr("Rounding"), setting::rounding, tr("How far the blades are curved: 100 % makes a circle."));
    outline(tr("Turn"), setting::turn, tr("Counter-clockwise, as seen behind the focal plane."));
    fields.number(section, tr("Squeeze"), setting::squeeze,
                  tr("Height of the disc over its width: 2 as of a 2× anamorphic lens."));
    outline(tr("Rim"), setting::rim, tr("Above 0 the edge of the disc is bright, below it is dark."));
    outline(tr("Centre stop"), setting::centreStop,
            tr("Share of the radius covered in the middle, as by the mirror of a mirror lens."));
    fields.number(section, tr("Cat's eye"), setting::catsEye,
                  tr("How far the lens barrel clips discs towards the corners."));
    buildPicture();
    fields.number(section, tr("Glint level"), setting::glintLevel,
                  tr("What is brighter, scene-linear, is a glint. Shown in the picture while you drag."));
    fields.number(section, tr("Glint lift"), setting::glintLift,
                  tr("Raises glints before they are blurred, their colour kept."));
    connect(&document, &Document::frameChanged, this, &IrisPanel::refresh);
    connect(&document, &Document::projectChanged, this, &IrisPanel::refresh);
    connect(&document, &Document::opened, this, &IrisPanel::refresh);
    refresh();
}

void IrisPanel::buildPicture()
{
    m_choose = new QPushButton;
    m_choose->setObjectName(QStringLiteral("chooseIrisPicture"));
    m_choose->setMinimumWidth(60);
    m_choose->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    m_clear = new QPushButton(tr("Remove"));
    m_clear->setObjectName(QStringLiteral("clearIrisPicture"));
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_choose, 1);
    layout->addWidget(m_clear);
    m_section.addRow(tr("From a picture"), row, tr("An image file as the opening: bright is open."));
    connect(m_choose, &QPushButton::clicked, this, &IrisPanel::choosePicture);
    connect(m_clear, &QPushButton::clicked, this, [this] {
        m_document.editSettings(tr("take the picture off the iris"), [](project::Settings& settings) {
            settings.irisPicture.clear();
            settings.iris.picture.reset();
        });
    });
}

void IrisPanel::choosePicture()
{
    const QString file =
        QFileDialog::getOpenFileName(m_drawing, tr("Iris from a picture"), {}, pictureFilter());
    if (!file.isEmpty()) usePicture(file);
}

void IrisPanel::usePicture(const QString& file)
{
    try {
        const auto picture = passes::readIrisPicture(file.toStdString());
        m_document.editSettings(tr("take the iris from a picture"), [&](project::Settings& settings) {
            settings.irisPicture = file.toStdString();
            settings.iris.picture = picture;
        });
    } catch (const Error& error) {
        emit failed(QString::fromUtf8(error.what()));
    }
}

void IrisPanel::refresh()
{
    const auto& values = m_document.values();
    const bool hasPicture = values.iris.picture != nullptr;
    m_drawing->setIris(values.iris);
    m_choose->setText(hasPicture ? QString::fromStdString(values.irisPicture.filename().string())
                                 : tr("Choose…"));
    m_choose->setToolTip(hasPicture ? QString::fromStdString(values.irisPicture.string())
                                    : tr("An image file as the opening: bright is open."));
    m_clear->setVisible(hasPicture);
    for (NumberField* field : m_outlineFields)
        field->setEnabled(!hasPicture);
}

QString IrisPanel::summary(const project::Settings& values)
{
    const optics::Iris& iris = values.iris;
    QStringList words;
    if (iris.picture)
        words << QString::fromStdString(values.irisPicture.filename().string());
    else if (iris.blades == 0)
        words << tr("circle");
    else
        words << tr("%1 blades, turned %2°").arg(iris.blades).arg(iris.turnDeg, 0, 'g', 4);
    if (iris.squeeze != 1.0) words << tr("squeeze %1×").arg(iris.squeeze, 0, 'g', 3);
    if (iris.catsEye > 0.0) words << tr("cat's eye %1 %").arg(100.0 * iris.catsEye, 0, 'f', 0);
    if (values.glint.liftStops > 0.0) words << tr("glints +%1 stops").arg(values.glint.liftStops, 0, 'g', 3);
    return words.join(QStringLiteral(", "));
}

} // namespace retinex::app
