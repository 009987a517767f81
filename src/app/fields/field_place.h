#pragma once

#include "app/document/document.h"

#include <functional>

namespace retinex::app {

/// Where the rows of a FieldList have their settings, by keys.
class FieldPlace
{
public:
    FieldPlace() = default;
    virtual ~FieldPlace() = default;
    FieldPlace(const FieldPlace&) = delete;
    FieldPlace& operator=(const FieldPlace&) = delete;

    /// What the names of the fields begin with: "glows/"; "" for none.
    [[nodiscard]] virtual std::string prefix() const { return {}; }
    /// False: nothing that has them is chosen, and their rows are hidden.
    [[nodiscard]] virtual bool isThere() const { return true; }
    /// As described, whether it is there or not.
    [[nodiscard]] virtual project::SettingInfo info(const std::string& key) const = 0;
    [[nodiscard]] virtual double defaultOf(const std::string& key) const = 0;
    [[nodiscard]] virtual double number(const std::string& key) const = 0;
    [[nodiscard]] virtual std::string text(const std::string& key) const = 0;
    /// One step to undo; `what` names it, but for numbers that have a name of their own.
    virtual void setNumber(const QString& what, const std::string& key, double value, int gesture) = 0;
    virtual void setText(const QString& what, const std::string& key, const std::string& text) = 0;
    /// In the present shot, of what may have marks.
    [[nodiscard]] virtual SettingPath path(const std::string& key) const = 0;
};

/// The settings of the present shot; or of the chosen one of a list in it, whose keys are those of a member.
class ShotPlace : public FieldPlace
{
public:
    explicit ShotPlace(Document& document) : m_document(document) {}
    /// `chosen` gives an id; "" for none.
    ShotPlace(Document& document, std::string list, std::function<std::string()> chosen)
        : m_document(document), m_list(std::move(list)), m_chosen(std::move(chosen))
    {
    }

    [[nodiscard]] std::string prefix() const override { return m_list.empty() ? m_list : m_list + '/'; }
    [[nodiscard]] bool isThere() const override;
    [[nodiscard]] project::SettingInfo info(const std::string& key) const override;
    [[nodiscard]] double defaultOf(const std::string& key) const override;
    [[nodiscard]] double number(const std::string& key) const override;
    [[nodiscard]] std::string text(const std::string& key) const override;
    void setNumber(const QString& what, const std::string& key, double value, int gesture) override;
    void setText(const QString& what, const std::string& key, const std::string& text) override;
    [[nodiscard]] SettingPath path(const std::string& key) const override;

protected:
    Document& m_document;
    std::function<std::string()> m_chosen; ///< empty where there is no list

private:
    std::string m_list;
};

} // namespace retinex::app
