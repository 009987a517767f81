#include "app/views/field_list.h"

#include "app/views/number_formats.h"

namespace retinex::app {

namespace {

NumberFormat lengthFormat(const project::Project& project)
{
    NumberFormat format = distanceFormat(project, 0.0, 0.0);
    const double scale = project.metresPerUnit;
    const auto unit = project.unit;
    format.geometric = false;
    format.step = 0.01 / scale;
    format.fromText = [=](const QString& text) -> std::optional<double> {
        const auto metres = optics::parseDistanceMetres(text.toStdString(), unit);
        return metres && *metres >= 0.0 && std::isfinite(*metres) ? std::optional(*metres / scale)
                                                                  : std::nullopt;
    };
    return format;
}

} // namespace

FieldList::FieldList(Document& document, QObject* parent) : QObject(parent), m_document(document)
{
    connect(&document, &Document::projectChanged, this, &FieldList::refresh);
    connect(&document, &Document::opened, this, &FieldList::refresh);
}

NumberField* FieldList::add(Section& section, const Setting& setting)
{
    auto* field = new NumberField(setting.format);
    field->setObjectName(QLatin1String(setting.name));
    section.addRow(setting.label, field, setting.help);
    const QString label = setting.label.toLower();
    const QString name = QLatin1String(setting.name);
    connect(field, &NumberField::edited, this,
            [this, set = setting.set, label, name](double value, int gesture) {
                project::Project changed = m_document.project();
                set(changed, value);
                m_document.edit(tr("set %1").arg(label), changed, gesture);
                emit edited(name);
            });
    connect(field, &NumberField::rejected, this, [this, label](const QString& text) {
        emit notANumber(tr("\"%1\" is not a value for %2. The earlier value stays.").arg(text, label));
    });
    field->setValue(setting.get(m_document.project()));
    m_bound.push_back({field, setting.get, false});
    return field;
}

NumberField* FieldList::addLength(Section& section, const Setting& setting)
{
    Setting complete = setting;
    complete.format = lengthFormat(m_document.project());
    NumberField* field = add(section, complete);
    m_bound.back().isLength = true;
    return field;
}

void FieldList::refresh()
{
    for (const Bound& bound : m_bound) {
        if (bound.isLength) bound.field->setFormat(lengthFormat(m_document.project()));
        bound.field->setValue(bound.get(m_document.project()));
    }
}

NumberFormat steppedFormat(const QString& suffix, double minimum, double maximum, double defaultValue,
                           double step, int digits)
{
    NumberFormat format = plainFormat({}, suffix, minimum, maximum, defaultValue, digits);
    format.geometric = false;
    format.step = step;
    return format;
}

NumberFormat percentFormat(double minimum, double maximum, double defaultValue)
{
    NumberFormat format = steppedFormat(QStringLiteral("%"), minimum, maximum, defaultValue, 0.01);
    format.toText = [](double value) { return QStringLiteral("%1 %").arg(100.0 * value, 0, 'f', 0); };
    format.fromText = [](const QString& text) -> std::optional<double> {
        QString plain = text.trimmed();
        if (plain.endsWith(QLatin1Char('%'))) plain.chop(1);
        bool ok = false;
        const double value = plain.trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&ok);
        return ok && std::isfinite(value) ? std::optional(value / 100.0) : std::nullopt;
    };
    return format;
}

} // namespace retinex::app
