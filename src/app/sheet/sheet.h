#pragma once

#include "app/delivery/delivery_panel.h"
#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/finish/finish_panel.h"
#include "app/layout/section.h"
#include "app/pictures/picture_maker.h"
#include "app/sheet/blur_panel.h"
#include "app/sheet/depth_panel.h"
#include "app/sheet/inserts_panel.h"
#include "app/sheet/iris_panel.h"
#include "app/sheet/navigation/section_index.h"
#include "app/sheet/navigation/setting_search.h"
#include "app/sheet/passes/passes_panel.h"
#include "app/sheet/regions_panel.h"
#include "app/sheet/subject_panel.h"
#include "app/sheet/takes_panel.h"

#include <QComboBox>
#include <QPointer>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>

namespace retinex::app {

/// The settings, in working order.
class Sheet : public QWidget
{
    Q_OBJECT

public:
    Sheet(Document& document, AnalysisService& analysis, const SubjectService& subjects,
          QWidget* parent = nullptr);

    /// What is known of the frame once its passes are read.
    void setPasses(const passes::FramePassesPtr& passes);

    /// Where sections are gone to and folded.
    [[nodiscard]] SectionIndex& index() noexcept { return *m_index; }
    /// Asks for a setting and goes to it.
    void findSetting() { m_search->begin(); }
    /// Scrolls to a section whose list is not in sight.
    void showRegions() { bringIntoSight(*m_regionsSection); }
    void showInserts() { bringIntoSight(*m_insertsSection); }
    /// The part that scrolls, below what is pinned.
    [[nodiscard]] QScrollArea& area() noexcept { return *m_area; }
    [[nodiscard]] PassesPanel& passes() noexcept { return *m_passesPanel; }
    [[nodiscard]] DepthPanel& depth() noexcept { return *m_depthPanel; }
    [[nodiscard]] FieldList& fields() noexcept { return *m_fields; }
    [[nodiscard]] IrisPanel& iris() noexcept { return *m_irisPanel; }
    [[nodiscard]] BlurPanel& blur() noexcept { return *m_blurPanel; }
    [[nodiscard]] RegionsPanel& regions() noexcept { return *m_regionsPanel; }
    [[nodiscard]] InsertsPanel& inserts() noexcept { return *m_insertsPanel; }
    [[nodiscard]] FinishPanel& finish() noexcept { return *m_finishPanel; }
    [[nodiscard]] DeliveryPanel& delivery() noexcept { return *m_deliveryPanel; }
    [[nodiscard]] TakesPanel& takes() noexcept { return *m_takesPanel; }
    [[nodiscard]] SubjectPanel& subjects() noexcept { return *m_subjectPanel; }

signals:
    void exportFrameAsked();
    void exportSequenceAsked();
    /// Text typed into a field that is not a number.
    void notANumber(const QString& message);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void bringIntoSight(const Section& section);
    void showSetting(QWidget* control, Section* section);
    void widenToContent();
    void settle();
    void buildPinned();
    void buildFocus();
    void buildLens();
    NumberField* addNumber(Section& section, const QString& label, const char* name, NumberFormat format,
                           const QString& help, void (Sheet::*apply)(double, int));

    void refresh();
    [[nodiscard]] double focusDefault() const;
    void refreshSummaries();
    void applyScale(double value, int gesture);

    Document& m_document;
    QWidget* m_pinned; ///< above what scrolls
    QScrollArea* m_area;
    SectionIndex* m_index;
    SettingSearch* m_search = nullptr;
    QPointer<QWidget> m_pressed; ///< last, and where it was in the viewport
    int m_pressedY = 0;
    QTimer m_settle;
    passes::FramePassesPtr m_passes;
    PassesPanel* m_passesPanel;
    DepthPanel* m_depthPanel;
    Section* m_passesSection;
    Section* m_depthSection;
    Section* m_focusSection;
    Section* m_lensSection;
    Section* m_irisSection;
    Section* m_repairSection;
    Section* m_regionsSection;
    Section* m_insertsSection;
    Section* m_finishSection;
    Section* m_takesSection;
    Section* m_deliverySection;
    FieldList* m_fields;
    IrisPanel* m_irisPanel;
    BlurPanel* m_blurPanel;
    SubjectPanel* m_subjectPanel;
    RegionsPanel* m_regionsPanel;
    InsertsPanel* m_insertsPanel;
    FinishPanel* m_finishPanel;
    DeliveryPanel* m_deliveryPanel;
    TakesPanel* m_takesPanel;
    NumberField* m_focus;
    QComboBox* m_unit;
    QComboBox* m_framing;
    QComboBox* m_opening;
    NumberField* m_acceptedCoc;
    QLabel* m_sharpZone;
    NumberField* m_fStop;
    NumberField* m_focalLength;
    NumberField* m_sensorWidth;
    NumberField* m_scale;
    QLabel* m_cocAtInfinity;
};

} // namespace retinex::app
