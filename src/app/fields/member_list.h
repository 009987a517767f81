#pragma once

#include "app/fields/named_list.h"

#include <string>
#include <vector>

namespace retinex::app {

/// The members of a list of settings (regions, inserts): each can be switched, named by a double click or F2,
/// dragged to another place or moved there by Alt and the arrows.
class MemberList : public NamedList
{
    Q_OBJECT

public:
    struct Row
    {
        std::string id;
        std::string name;
        QString words; ///< on what it does, behind its name
        bool isOn = true;
    };
    /// Whether one is chosen or several can be; several have no switches.
    enum class Choice { one, several };
    explicit MemberList(const QString& name, QWidget* parent = nullptr, Choice choice = Choice::one);

    /// What is being typed stays.
    void setRows(const std::vector<Row>& rows, const std::string& chosen);
    /// All that are chosen, from the top down.
    [[nodiscard]] std::vector<std::string> chosenIds() const;

signals:
    void chosenByHand(const std::string& id);
    void switched(const std::string& id, bool on);
    void named(const std::string& id, const std::string& name);
    void refused(); ///< what was typed changes nothing: show the rows again
    void reordered(const std::vector<std::string>& ids);

private:
    void itemTouched(const QListWidgetItem& item);
    void moveCurrent(int way);

    std::vector<Row> m_rows;
    Choice m_choice;
};

} // namespace retinex::app
