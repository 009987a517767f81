#pragma once

#include "app/document/document.h"
#include "app/layout/section.h"

#include <QListWidget>
#include <QPushButton>

namespace retinex::app {

/// The section of the takes: kept versions of the settings with their pictures.
class TakesPanel : public QObject
{
    Q_OBJECT

public:
    TakesPanel(Document& document, Section& section, QObject* parent = nullptr);

    [[nodiscard]] QString summary() const;
    /// A take of the present settings; `picture` is small. The section unfolds to show it.
    void keep(const QImage& picture);

signals:
    void refused(const QString& message);
    void keepAsked();
    void compareAsked(const std::string& take);

private:
    void refresh();
    void restore();
    void remove();
    void rename(int row, const QString& text);
    [[nodiscard]] const project::Take* chosen() const;

    Document& m_document;
    Section& m_section;
    QListWidget* m_list;
    QPushButton* m_restore;
    QPushButton* m_compare;
    QPushButton* m_remove;
    SharedList<project::Take> m_shown;
};

} // namespace retinex::app
