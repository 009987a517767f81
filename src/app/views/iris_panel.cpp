#include "app/views/iris_panel.h"

#include "app/views/number_formats.h"
#include "core/passes/image_file.h"
#include "core/passes/iris_picture.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <cmath>

namespace retinex::app {

namespace {

NumberFormat bladesFormat()
{
    NumberFormat blades = steppedFormat({}, 0.0, 16.0, 0.0, 1.0);
    blades.toText = [](double value) {
        return value < 3.0 ? QObject::tr("circle") : QString::number(static_cast<int>(value));
    };
    blades.fromText = [](const QString& text) -> std::optional<double> {
        if (text.trimmed() == QObject::tr("circle")) return 0.0;
        bool ok = false;
        const int count = text.trimmed().toInt(&ok);
        return ok && (count == 0 || (count >= 3 && count <= 16)) ? std::optional<double>(count)
                                                                 : std::nullopt;
    };
    return blades;
}

/// A field for one number of the iris.
FieldList::Setting setting(const QString& label, const char* name, NumberFormat format, const QString& help,
                           double optics::Iris::*member)
{
    return {label,
            name,
            std::move(format),
            help,
            [member](const project::Project& p) { return p.iris.*member; },
            [member](project::Project& p, double value) { p.iris.*member = value; }};
}

} // namespace

IrisPanel::IrisPanel(Document& document, FieldList& fields, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_fields(fields), m_section(section), m_drawing(new IrisDrawing)
{
    section.form().addRow(m_drawing);
    m_outlineFields.push_back(fields.add(
        section, {tr("Blades"), "blades", bladesFormat(), tr("Corners of the opening: circle, or 3 to 16."),
                  [](const project::Project& p) { return static_cast<double>(p.iris.blades); },
                  [](project::Project& p, double value) {
                      // There is no polygon of one or two blades: stepping goes from the circle to three.
                      const int wanted = static_cast<int>(std::lround(value));
                      p.iris.blades = wanted >= 3 ? wanted : p.iris.blades == 0 && wanted > 0 ? 3 : 0;
                  }}));
    m_outlineFields.push_back(
        fields.add(section, setting(tr("Rounding"), "rounding", percentFormat(0.0, 1.0, 0.0),
                                    tr("How far the blades are curved: 100 % makes a circle."),
                                    &optics::Iris::rounding)));
    m_outlineFields.push_back(fields.add(
        section, setting(tr("Turn"), "turn", steppedFormat(QStringLiteral("°"), -360.0, 360.0, 0.0, 1.0, 5),
                         tr("Counter-clockwise, as seen behind the focal plane."), &optics::Iris::turnDeg)));
    fields.add(section,
               setting(tr("Squeeze"), "squeeze", plainFormat({}, QStringLiteral("×"), 0.5, 2.0, 1.0, 3),
                       tr("Height of the disc over its width: 2 as of a 2× anamorphic lens."),
                       &optics::Iris::squeeze));
    m_outlineFields.push_back(
        fields.add(section, setting(tr("Rim"), "rim", percentFormat(-1.0, 1.0, 0.0),
                                    tr("Above 0 the edge of the disc is bright, below it is dark."),
                                    &optics::Iris::rim)));
    m_outlineFields.push_back(fields.add(
        section, setting(tr("Centre stop"), "centreStop", percentFormat(0.0, 0.95, 0.0),
                         tr("Share of the radius covered in the middle, as by the mirror of a mirror lens."),
                         &optics::Iris::centreStop)));
    fields.add(section, setting(tr("Cat's eye"), "catsEye", percentFormat(0.0, 1.0, 0.0),
                                tr("How far the lens barrel clips discs towards the corners."),
                                &optics::Iris::catsEye));
    buildPicture();
    fields.add(section,
               {tr("Glint level"), "glintLevel", plainFormat({}, {}, 0.001, 1e5, 0.8, 4),
                tr("What is brighter, scene-linear, is a glint. Shown in the picture while you drag."),
                [](const project::Project& p) { return p.glint.level; },
                [](project::Project& p, double value) { p.glint.level = value; }});
    fields.add(section, {tr("Glint lift"), "glintLift", steppedFormat(tr("stops"), 0.0, 12.0, 0.0, 0.1),
                         tr("Raises glints before they are blurred, their colour kept."),
                         [](const project::Project& p) { return p.glint.liftStops; },
                         [](project::Project& p, double value) { p.glint.liftStops = value; }});
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
        project::Project changed = m_document.project();
        changed.irisPicture.clear();
        changed.iris.picture.reset();
        m_document.edit(tr("take the picture off the iris"), changed);
    });
}

void IrisPanel::choosePicture()
{
    QStringList endings;
    for (const auto& ending : passes::pictureEndings())
        endings << QString::fromStdString(ending);
    const QString file = QFileDialog::getOpenFileName(
        m_drawing, tr("Iris from a picture"), {}, tr("Pictures (%1)").arg(endings.join(QLatin1Char(' '))));
    if (!file.isEmpty()) usePicture(file);
}

void IrisPanel::usePicture(const QString& file)
{
    project::Project changed = m_document.project();
    changed.irisPicture = file.toStdString();
    try {
        changed.iris.picture = passes::readIrisPicture(changed.irisPicture);
    } catch (const Error& error) {
        emit failed(QString::fromUtf8(error.what()));
        return;
    }
    m_document.edit(tr("take the iris from a picture"), changed);
}

void IrisPanel::refresh()
{
    const auto& project = m_document.project();
    const bool hasPicture = project.iris.picture != nullptr;
    m_drawing->setIris(project.iris);
    m_choose->setText(hasPicture ? QString::fromStdString(project.irisPicture.filename().string())
                                 : tr("Choose…"));
    m_choose->setToolTip(hasPicture ? QString::fromStdString(project.irisPicture.string())
                                    : tr("An image file as the opening: bright is open."));
    m_clear->setVisible(hasPicture);
    for (NumberField* field : m_outlineFields)
        field->setEnabled(!hasPicture);
}

QString IrisPanel::summary(const project::Project& project)
{
    const optics::Iris& iris = project.iris;
    QStringList words;
    if (iris.picture)
        words << QString::fromStdString(project.irisPicture.filename().string());
    else if (iris.blades == 0)
        words << tr("circle");
    else
        words << tr("%1 blades, turned %2°").arg(iris.blades).arg(iris.turnDeg, 0, 'g', 4);
    if (iris.squeeze != 1.0) words << tr("squeeze %1×").arg(iris.squeeze, 0, 'g', 3);
    if (iris.catsEye > 0.0) words << tr("cat's eye %1 %").arg(100.0 * iris.catsEye, 0, 'f', 0);
    if (project.glint.liftStops > 0.0)
        words << tr("glints +%1 stops").arg(project.glint.liftStops, 0, 'g', 3);
    return words.join(QStringLiteral(", "));
}

} // namespace retinex::app
