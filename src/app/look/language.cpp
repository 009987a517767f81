#include "app/look/language.h"

#include "core/system/say.h"

#include <QCoreApplication>
#include <QLocale>
#include <QTranslator>

namespace retinex::app {

void loadLanguage(QCoreApplication& application)
{
    // The core's sentences are found by what they are, the window's by class and sentence.
    for (const char* part : {"retinex", "core"}) {
        auto* translator = new QTranslator(&application);
        const QString folder = QStringLiteral(":/translations");
        const QString name = QLatin1String(part);
        if (translator->load(QLocale(), name, QStringLiteral("_"), folder) ||
            translator->load(name + QStringLiteral("_en"), folder))
            QCoreApplication::installTranslator(translator);
        else
            delete translator;
    }
    setTranslator([](const char* sentence) { return qtTrId(sentence).toStdString(); });
}

} // namespace retinex::app
