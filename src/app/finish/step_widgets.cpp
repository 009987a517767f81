#include "app/finish/step_widgets.h"

#include "app/fields/chooser.h"

#include <QLayout>
#include <QSettings>

namespace retinex::app {

void followDocument(Document& document, QObject* owner, const std::function<void()>& refresh)
{
    for (auto signal : {&Document::projectChanged, &Document::opened, &Document::betweenMarksChanged})
        QObject::connect(&document, signal, owner, refresh);
    QObject::connect(&document, &Document::frameChanged, owner, refresh);
    refresh();
}

Section* foldedSection(const QString& title, const char* key)
{
    auto* made = new Section(title, QLatin1String(key));
    made->layout()->setContentsMargins(10, 5, 0, 0); // its rows end where those around it do
    if (!QSettings().contains(QStringLiteral("folded/") + QLatin1String(key))) made->setFolded(true);
    return made;
}

QCheckBox* addSwitch(Document& document, Section& section, const QString& text, const SettingPath& path,
                     const QString& help)
{
    auto* box = new QCheckBox(text);
    box->setObjectName(QString::fromStdString(path.text()));
    box->setToolTip(help);
    section.form().addRow(box);
    const auto field = project::infoOf(path);
    QObject::connect(box, &QCheckBox::clicked, &section, [&document, field, title = field->title](bool on) {
        const QString name = QString::fromStdString(title);
        document.editSettings(on ? QObject::tr("switch on %1").arg(name)
                                 : QObject::tr("switch off %1").arg(name),
                              [&](project::Settings& settings) { field->set(settings, on ? 1.0 : 0.0); });
    });
    followDocument(document, box, [&document, box, field] {
        box->setChecked(field->get(document.values()) != 0.0);
        box->setEnabled(document.isOpen());
    });
    return box;
}

QComboBox* addWord(Document& document, Section& section, const QString& label, const SettingPath& path,
                   const QStringList& words, const QString& help)
{
    auto* box = new Chooser;
    box->setObjectName(QString::fromStdString(path.text()));
    box->addItems(words);
    section.addRow(label, box, help);
    const auto field = project::infoOf(path);
    QObject::connect(
        box, &QComboBox::activated, &section, [&document, field, title = field->title](int index) {
            document.editSettings(QObject::tr("choose %1").arg(QString::fromStdString(title)),
                                  [&](project::Settings& settings) { field->set(settings, index); });
        });
    followDocument(document, box, [&document, box, field] {
        box->setCurrentIndex(static_cast<int>(field->get(document.values())));
        box->setEnabled(document.isOpen());
    });
    return box;
}

} // namespace retinex::app
