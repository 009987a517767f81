#pragma once

#include "app/layout/section.h"

#include <QScrollArea>
#include <QToolButton>
#include <vector>

namespace retinex::app {

/// Beside the sheet: a small button for each section, in their order. A click goes to its section, the one
/// that is at the top of the sheet is marked; the right button folds.
class SectionIndex : public QWidget
{
    Q_OBJECT

public:
    explicit SectionIndex(QScrollArea& area, QWidget* parent = nullptr);

    void add(Section& section, const char* icon);
    /// What may be searched for is not a section: a button of its own, above them.
    QToolButton& addAbove(const char* icon, const QString& name, const char* objectName);
    /// To the section after the one at the top of the sheet, or with -1 the one before it.
    void step(int by);
    /// Unfolds it and scrolls it to the top of the sheet.
    void goTo(Section& section);
    /// Folds all but this one; null: but the one at the top.
    void foldOthers(Section* kept);
    void unfoldAll();

signals:
    void went(); ///< the sheet stands elsewhere, as was asked for

private:
    struct Entry
    {
        Section* section;
        QToolButton* button;
    };
    [[nodiscard]] int present() const;
    void mark();
    void showMenu(Section& section, QPoint at);

    QScrollArea& m_area;
    std::vector<Entry> m_entries;
    int m_asked = -1; ///< gone to last, where the sheet ends too early to have it at the top
};

} // namespace retinex::app
