#pragma once

#include "app/document/document.h"
#include "app/fields/member_list.h"
#include "app/fields/number_field.h"
#include "app/jobs/subject_service.h"
#include "app/layout/section.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>

namespace retinex::app {

/// The subjects, in the Focus section: which there are, where the chosen one is, how it is measured, and what
/// focus does with it.
class SubjectPanel : public QObject
{
    Q_OBJECT

public:
    SubjectPanel(Document& document, const SubjectService& service, Section& section, QObject* parent);

    /// "" where there is none.
    [[nodiscard]] const std::string& chosen() const noexcept { return m_chosen; }
    /// The chosen one, or several that are chosen in the list.
    [[nodiscard]] std::vector<std::string> allChosen() const;
    void choose(const std::string& name);
    /// Adds one at a place of the present frame, px; returns its name.
    std::string add(QPointF at);
    void moveTo(const std::string& name, QPointF at, int gesture);
    void setOutline(const QPolygonF& outline);
    /// What is under way; "" for nothing.
    void setProgress(const QString& words);

signals:
    void refused(const QString& message);
    void chosenChanged();
    void placeAsked();   ///< the tool that places subjects
    void outlineAsked(); ///< the tool that draws round one
    void trackAsked(bool back);
    void cancelAsked();
    void rideAsked();       ///< focus is to ride on it from the present frame on
    void scenePointAsked(); ///< a subject from the scene file

private:
    void edit(const QString& what, const std::function<void(timeline::Subject&)>& change, int gesture = 0);
    void rename(const std::string& from, const std::string& name);
    void reorder(const std::vector<std::string>& names);
    void remove();
    void refresh();
    void refreshRegions(const timeline::Subject& subject);
    [[nodiscard]] QString wordsOn(const timeline::Subject& subject) const;
    void refreshPlace(const timeline::Subject& subject);

    Document& m_document;
    const SubjectService& m_service;
    Section& m_section;
    std::string m_chosen;
    MemberList* m_list;
    QPushButton* m_new;
    QPushButton* m_remove;
    QLabel* m_distance;
    QLabel* m_place;
    QWidget* m_trackRow;
    QPushButton* m_trackBack;
    QPushButton* m_trackOn;
    QPushButton* m_cancel;
    NumberField* m_radius;
    QPushButton* m_outline;
    QComboBox* m_region;
    QComboBox* m_hidden;
    QPushButton* m_ride;
    QList<QWidget*> m_rows; ///< shown when there is a subject
};

} // namespace retinex::app
