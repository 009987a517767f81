#include "app/finish/step_widgets.h"

#include <QLayout>

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
    made->setFolded(true);
    return made;
}

} // namespace retinex::app
