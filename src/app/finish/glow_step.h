#pragma once

#include "app/finish/member_section.h"

namespace retinex::app {

/// Glows, a list, and the rows of the chosen one.
class GlowStep : public QObject
{
    Q_OBJECT

public:
    GlowStep(Document& document, Section& section, QObject* parent);

    [[nodiscard]] MemberSection& members() noexcept { return *m_members; }

signals:
    void refused(const QString& message);
    void levelDragged(double level); ///< by the artist, now

private:
    QToolButton* addLimit(const QString& label, const char* key, const QString& help);
    void fillLimit(QToolButton& button, std::string_view key, bool isRegions);
    void refresh();

    Document& m_document;
    Section& m_section;
    MemberSection* m_members;
    QToolButton* m_mattes = nullptr;
    QToolButton* m_regions = nullptr;
};

} // namespace retinex::app
