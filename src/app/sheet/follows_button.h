#pragma once

#include "app/document/document.h"

#include "app/fields/name_button.h"

#include <functional>

namespace retinex::app {

/// A button with a menu of subjects, of which up to four can be followed.
class FollowsButton : public NameMenuButton
{
    Q_OBJECT

public:
    explicit FollowsButton(const Document& document);

    /// Names separated by ", ".
    void setFollowed(const std::string& names);

signals:
    /// Likewise; `isFirst`: none was before.
    void chosen(const std::string& names, bool isFirst, const QString& what);

private:
    void fillMenu();

    const Document& m_document;
    std::vector<std::string> m_names;
};

} // namespace retinex::app
