#pragma once

#include "app/document/insert_edits.h"
#include "app/fields/field_list.h"
#include "app/fields/member_list.h"
#include "app/fields/number_field.h"
#include "app/layout/section.h"
#include "app/picture/tools/placing_tool.h"
#include "app/sheet/follows_button.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>

namespace retinex::app {

/// The section of the backdrop and the inserts: the list, and of the chosen one what it shows, where it lies,
/// how far away, and how it meets what is there.
class InsertsPanel : public QObject
{
    Q_OBJECT

public:
    InsertsPanel(Document& document, Section& section, QObject* parent = nullptr);

    /// The handles over the picture; must be called once.
    void setTools(PlacingTool& tools);
    [[nodiscard]] QString summary() const;

signals:
    void maskPaintingAsked();
    void refused(const QString& message);
    void pictureAsked(bool isBackdrop);
    void fileAsked(const std::string& id);
    void depthAsked(const std::string& id); ///< a backdrop's own depth pass

private:
    void buildList();
    void buildContent();
    void buildPlace();
    void buildDistance();
    void buildMixing();
    void buildOpening();
    QToolButton* addMenu(const QString& label, const char* name, const QString& help,
                         void (InsertsPanel::*fill)());
    void fillHeldOut();
    void fillDepthFile();
    void fillMask();
    void fillOpenMattes();
    void change(const QString& what, const std::function<void(inserts::Insert&)>& change);
    void refresh();
    [[nodiscard]] int wholeOf(std::string_view key) const;
    void refreshFields(const inserts::Insert& insert);
    [[nodiscard]] bool isShown(const inserts::Insert& insert, std::string_view key) const;
    [[nodiscard]] bool isSequence(const inserts::Insert& insert) const;
    [[nodiscard]] const inserts::Insert* chosen() const
    {
        return m_tools ? insertWith(m_document, m_tools->chosen()) : nullptr;
    }

    Document& m_document;
    Section& m_section;
    PlacingTool* m_tools = nullptr;
    MemberList* m_list;
    QToolButton* m_add;
    QPushButton* m_place;
    QPushButton* m_delete;
    FieldList* m_fields; ///< rows of the chosen one
    FollowsButton* m_follows;
    QToolButton* m_heldOut;
    QToolButton* m_mask;
    QComboBox* m_openBy;
    QToolButton* m_openMattes;
    QToolButton* m_depthFile = nullptr;
    QLabel* m_fault = new QLabel; ///< why it is not seen
    std::vector<QWidget*> m_rows; ///< of the chosen one, besides
};

} // namespace retinex::app
