#pragma once

#include "app/document/document.h"
#include "app/fields/field_list.h"
#include "app/fields/member_list.h"
#include "app/fields/number_field.h"
#include "app/layout/section.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>

namespace retinex::app {

/// The section of delivery: what is to be delivered, a list, and the form of the chosen one.
class DeliveryPanel : public QObject
{
    Q_OBJECT

public:
    DeliveryPanel(Document& document, Section& section, QObject* parent);

    /// Null where none is chosen.
    [[nodiscard]] const project::Delivery* chosen() const;

signals:
    void refused(const QString& message);
    void exportFrameAsked();
    void exportSequenceAsked();
    void deliverAsked(bool onlyChosen); ///< or all that are on
    void queueAsked();
    void folderAsked();

private:
    friend class DeliveryPlace;
    void buildList();
    void buildForm();
    void buildMap();
    void add(const QString& name, const std::function<void(project::Delivery&)>& form);
    void fillAdd();
    void fillWhat();
    void change(const QString& what, const std::function<void(project::Delivery&)>& change, int gesture = 0);
    void arrange(const QString& what, const std::vector<std::string>& ids);
    [[nodiscard]] bool isShown(const project::Delivery& delivery, std::string_view key) const;
    void refresh();
    [[nodiscard]] QString example(const project::Delivery& delivery) const;

    Document& m_document;
    Section& m_section;
    std::string m_chosen;
    MemberList* m_list;
    QToolButton* m_add;
    QPushButton* m_delete;
    QPushButton* m_deliver;
    QToolButton* m_what;
    QPushButton* m_folder;
    FieldList* m_fields; ///< rows of the chosen one
    QLabel* m_example;
    QComboBox* m_samples = nullptr;
    QPushButton* m_exportFrame;
    QPushButton* m_exportSequence;
};

} // namespace retinex::app
