#pragma once

#include "app/document/region_edits.h"
#include "app/fields/field_list.h"
#include "app/fields/member_list.h"
#include "app/fields/number_field.h"
#include "app/layout/section.h"
#include "app/picture/region_tools.h"
#include "app/sheet/follows_button.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <QToolButton>

namespace retinex::app {

/// The section of the regions: the list, and of the chosen one its effects, its area and its movement. It
/// draws nothing itself: tools are those of the picture.
class RegionsPanel : public QObject
{
    Q_OBJECT

public:
    RegionsPanel(Document& document, Section& section, QObject* parent = nullptr);

    /// The tools over the picture; must be called once.
    void setTools(RegionTools& tools);
    [[nodiscard]] QString summary() const;

signals:
    void refused(const QString& message);

private:
    void buildList();
    void buildAdding();
    void buildEffects();
    void buildArea();
    void buildMovement();
    void fillAddMenu();
    void addPiece(regions::Piece piece);
    void draw(RegionTool tool);
    void refresh();
    void refreshList();
    void refreshFields(const regions::Region& region);
    [[nodiscard]] bool isShown(const regions::Region& region, std::string_view key) const;
    [[nodiscard]] const regions::Region* chosen() const
    {
        return m_tools ? regionWith(m_document, m_tools->chosen()) : nullptr;
    }

    Document& m_document;
    Section& m_section;
    RegionTools* m_tools = nullptr;
    MemberList* m_list;
    QToolButton* m_add;
    QComboBox* m_joining;
    QPushButton* m_edit;
    QPushButton* m_delete;
    QWidget* m_brushRow;
    NumberField* m_brushSize;
    NumberField* m_brushSoftness;
    NumberField* m_brushStrength;
    QCheckBox* m_erases;
    QComboBox* m_patch;
    FieldList* m_fields; ///< rows of the chosen one
    FollowsButton* m_follows;
    QPushButton* m_outlineMark;
};

} // namespace retinex::app
