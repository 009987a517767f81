#pragma once

#include "app/fields/field_list.h"
#include "app/fields/member_list.h"

#include <QPushButton>
#include <QToolButton>

namespace retinex::app {

/// A list of members of one kind (glows, looks) and the rows of the chosen one, by their descriptions.
class MemberSection : public QObject
{
    Q_OBJECT

public:
    /// What a kind of member is called, and what cannot be said by descriptions.
    struct KindOf
    {
        std::string list; ///< "glows"
        QString title;    ///< of the list
        QString one;      ///< "glow"
        QString addText;  ///< on the button
        /// Leaves those with these ids, in this order.
        std::function<void(project::Settings&, const std::vector<std::string>& ids)> arrange;
        std::function<QString(const project::Settings&, const std::string& id)> words; ///< behind a name
    };
    MemberSection(Document& document, Section& section, KindOf kind, QObject* parent);

    [[nodiscard]] const std::string& chosen() const noexcept { return m_chosen; }
    void choose(const std::string& id);
    [[nodiscard]] std::vector<std::string> ids() const;
    /// Adds one, named so that no other is, and chooses it. `values` are set by key.
    void add(const QString& name, const std::vector<std::pair<std::string, std::string>>& texts,
             const std::vector<std::pair<std::string, double>>& numbers = {});
    [[nodiscard]] QToolButton& addButton() noexcept { return *m_add; }
    /// The rows of the chosen one.
    [[nodiscard]] FieldList& fields() noexcept { return *m_fields; }
    /// A row that is there while one is chosen.
    void addRow(const QString& label, QWidget* row, const QString& help);
    [[nodiscard]] std::string text(std::string_view key) const;
    void setText(const QString& what, std::string_view key, const std::string& text);

signals:
    void refused(const QString& message);
    void chosenChanged();

private:
    void change(const QString& what, const std::string& id, std::string_view key,
                const std::function<void(const project::Field<project::Settings>&, project::Settings&)>& set);
    void remove();
    void refresh();

    Document& m_document;
    Section& m_section;
    KindOf m_kind;
    std::string m_chosen;
    MemberList* m_list;
    QToolButton* m_add;
    QPushButton* m_delete;
    FieldList* m_fields;
    std::vector<QWidget*> m_rows;
};

/// `members` with these ids, in this order.
template <class Member>
void arrangeMembers(std::vector<Member>& members, const std::vector<std::string>& ids)
{
    std::vector<Member> arranged;
    for (const std::string& id : ids)
        for (const Member& member : members)
            if (member.id == id) arranged.push_back(member);
    members = std::move(arranged);
}

} // namespace retinex::app
