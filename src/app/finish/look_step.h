#pragma once

#include "app/finish/member_section.h"

namespace retinex::app {

/// Looks, a list, and the rows of the chosen one.
class LookStep : public QObject
{
    Q_OBJECT

public:
    LookStep(Document& document, Section& section, QObject* parent);

    [[nodiscard]] MemberSection& members() noexcept { return *m_members; }
    void addFile(const QString& file);

signals:
    void refused(const QString& message);
    void fileAsked(bool isNew); ///< for a new look, or for the chosen one

private:
    void fillAdd();
    void refresh();

    Document& m_document;
    Section& m_section;
    MemberSection* m_members;
};

} // namespace retinex::app
