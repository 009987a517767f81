#include "app/sheet/sheet.h"

#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/layout/once_laid_out.h"
#include "app/layout/tab_order.h"
#include "app/look/style.h"
#include "app/sheet/navigation/folding.h"

#include <QApplication>
#include <QEvent>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QScrollBar>
#include <QVBoxLayout>
#include <cmath>

namespace retinex::app {

namespace {

QString lensSummary(const project::Settings& values)
{
    QString words = values.simpleLens
                        ? Sheet::tr("simple lens, %1 px").arg(values.simpleLens->radiusPx, 0, 'g', 4)
                        : Sheet::tr("f/%1, %2 mm, sensor %3 mm")
                              .arg(values.fStop, 0, 'g', 3)
                              .arg(values.focalLengthMm, 0, 'g', 4)
                              .arg(values.sensorWidthMm, 0, 'g', 4);
    if (values.blur.strength != 1.0)
        words += Sheet::tr(", %1 %").arg(100.0 * values.blur.strength, 0, 'f', 0);
    return words;
}

} // namespace

Sheet::Sheet(Document& document, AnalysisService& analysis, const SubjectService& subjects, QWidget* parent)
    : QWidget(parent), m_document(document), m_pinned(new QWidget), m_area(new QScrollArea),
      m_index(new SectionIndex(*m_area))
{
    setObjectName(QStringLiteral("sheet"));
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(0);
    whole->addWidget(m_index);
    auto* column = new QVBoxLayout;
    column->setSpacing(0);
    whole->addLayout(column, 1);
    column->addWidget(m_pinned);
    column->addWidget(m_area);
    m_area->setObjectName(QStringLiteral("sheetArea"));
    m_area->setWidgetResizable(true);
    m_area->setFocusPolicy(Qt::NoFocus); // a click on a button in it leaves the keys where they are
    m_area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* content = new QWidget;
    auto* layout = new QVBoxLayout(content);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    const auto section = [&](const QString& title, const char* key, const char* icon) {
        auto* made = new Section(title, QLatin1String(key), content);
        layout->addWidget(made);
        m_index->add(*made, icon);
        return made;
    };
    m_passesSection = section(tr("Passes"), "passesSection", "section-passes");
    m_depthSection = section(tr("Depth"), "depthSection", "section-depth");
    m_focusSection = section(tr("Focus"), "focusSection", "section-focus");
    m_lensSection = section(tr("Lens"), "lensSection", "section-lens");
    m_irisSection = section(tr("Iris"), "irisSection", "section-iris");
    m_repairSection = section(tr("Repair"), "repairSection", "section-repair");
    m_regionsSection = section(tr("Regions"), "regionsSection", "section-regions");
    m_insertsSection = section(tr("Backdrop and inserts"), "insertsSection", "section-inserts");
    m_finishSection = section(tr("Finish"), "finishSection", "section-finish");
    m_takesSection = section(tr("Takes"), "takesSection", "section-takes");
    m_deliverySection = section(tr("Delivery"), "deliverySection", "section-delivery");
    layout->addStretch();
    m_passesPanel = new PassesPanel(document, analysis, *m_passesSection, this);
    m_fields = new FieldList(document, this);
    m_depthPanel = new DepthPanel(document, analysis, *m_depthSection, this);
    connect(m_depthPanel, &DepthPanel::notANumber, this, &Sheet::notANumber);
    buildPinned();
    buildFocus();
    buildLens();
    m_irisPanel = new IrisPanel(document, *m_fields, *m_irisSection, this);
    m_blurPanel = new BlurPanel(document, analysis, *m_fields,
                                {*m_focusSection, *m_lensSection, *m_repairSection}, this);
    m_subjectPanel = new SubjectPanel(document, subjects, *m_focusSection, this);
    m_regionsPanel = new RegionsPanel(document, *m_regionsSection, this);
    connect(m_regionsPanel, &RegionsPanel::refused, this, &Sheet::notANumber);
    m_insertsPanel = new InsertsPanel(document, *m_insertsSection, this);
    connect(m_insertsPanel, &InsertsPanel::refused, this, &Sheet::notANumber);
    m_finishPanel = new FinishPanel(document, *m_fields, *m_finishSection, this);
    connect(m_finishPanel, &FinishPanel::refused, this, &Sheet::notANumber);
    m_takesPanel = new TakesPanel(document, *m_takesSection, this);
    connect(m_takesPanel, &TakesPanel::refused, this, &Sheet::notANumber);
    connect(m_subjectPanel, &SubjectPanel::refused, this, &Sheet::notANumber);
    connect(m_fields, &FieldList::notANumber, this, &Sheet::notANumber);
    m_deliveryPanel = new DeliveryPanel(document, *m_deliverySection, this);
    connect(m_deliveryPanel, &DeliveryPanel::refused, this, &Sheet::notANumber);
    connect(m_deliveryPanel, &DeliveryPanel::exportFrameAsked, this, &Sheet::exportFrameAsked);
    connect(m_deliveryPanel, &DeliveryPanel::exportSequenceAsked, this, &Sheet::exportSequenceAsked);
    m_area->setWidget(content);
    m_search = new SettingSearch(*this);
    column->insertWidget(1, m_search);
    connect(m_search, &SettingSearch::found, this, &Sheet::showSetting);
    connect(m_index, &SectionIndex::went, this, [this] { m_pressed = nullptr; });
    connect(&m_index->addAbove("search", tr("Find a setting (Ctrl+F)"), "findSetting"), &QToolButton::clicked,
            this, &Sheet::findSetting);
    new Folding(*content, document, this);
    widenToContent();
    content->installEventFilter(this); // sections unfold, and rows come and go
    qApp->installEventFilter(this);    // presses, wherever below
    m_settle.setSingleShot(true);
    m_settle.setInterval(0);
    connect(&m_settle, &QTimer::timeout, this, &Sheet::settle);
    // The wheel scrolls the sheet; it changes a chooser only when that has the focus.
    for (QComboBox* box : content->findChildren<QComboBox*>()) {
        box->setFocusPolicy(Qt::StrongFocus);
        box->installEventFilter(this);
    }
    connect(&document, &Document::projectChanged, this, &Sheet::refresh);
    connect(&document, &Document::frameChanged, this, &Sheet::refresh);
    connect(&document, &Document::opened, this, [this] { m_passes = nullptr; });
    refresh();
}

NumberField* Sheet::addNumber(Section& section, const QString& label, const char* name, NumberFormat format,
                              const QString& help, void (Sheet::*apply)(double, int))
{
    auto* field = new NumberField(std::move(format));
    field->setObjectName(QLatin1String(name));
    section.addRow(label, field, help);
    connect(field, &NumberField::edited, this, apply);
    connect(field, &NumberField::rejected, this,
            [this, field, label](const QString& text) { emit notANumber(field->refusal(label, text)); });
    return field;
}

double Sheet::focusDefault() const
{
    if (m_passes && m_passes->range.hasSurface())
        return std::sqrt(m_passes->range.nearest * m_passes->range.farthest);
    return m_document.values().focusDistance;
}

/// The two that everything turns on stay in sight, whatever is unfolded below.
void Sheet::buildPinned()
{
    m_pinned->setObjectName(QStringLiteral("pinned"));
    m_pinned->setAutoFillBackground(true);
    auto* grid = new QGridLayout(m_pinned);
    grid->setContentsMargins(12, 7, 12 + m_area->verticalScrollBar()->sizeHint().width(),
                             8); // in line with the rows below
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(2);
    m_focus = m_fields->makeNumber(
        tr("Focus distance"), setting::focusDistance,
        tr("From the lens to the focal plane. Click in the picture, or type: 3.4, 340cm, 11ft 2in."));
    m_fStop = m_fields->makeNumber(tr("f-stop"), setting::fStop,
                                   tr("A smaller number opens the lens: a shallower sharp zone."));
    int column = 0;
    for (NumberField* field : {m_focus, m_fStop}) {
        auto* name = new QLabel(field->accessibleName());
        name->setBuddy(field);
        name->setToolTip(field->toolTip());
        grid->addWidget(name, 0, column);
        grid->addWidget(field, 1, column);
        grid->setColumnStretch(column++, 1);
    }
    m_pinned->setStyleSheet(
        QStringLiteral("#pinned { border-bottom: 1px solid %1; }").arg(style::line.name()));
}

/// Goes to its section and gives it the keys; a row that is not there now leaves that to the section.
void Sheet::showSetting(QWidget* control, Section* section)
{
    for (QWidget* at = section; at; at = at->parentWidget())
        if (auto* around = qobject_cast<Section*>(at)) around->setFolded(false);
    m_pressed = nullptr;
    onceLaidOut(this, [this, control, section] {
        const bool isRow = control->isVisible() && section && control->parentWidget() != section;
        if (isRow)
            m_area->ensureWidgetVisible(control, 0, m_area->viewport()->height() / 3);
        else if (section)
            m_area->verticalScrollBar()->setValue(section->mapTo(m_area->widget(), QPoint(0, 0)).y());
        if (control->isVisible() && control->isEnabled() && control->focusPolicy() != Qt::NoFocus)
            control->setFocus(Qt::ShortcutFocusReason);
    });
}

void Sheet::bringIntoSight(const Section& section)
{
    onceLaidOut(this, [this, &section] {
        const int top = section.y();
        const int seen = m_area->verticalScrollBar()->value();
        if (top < seen || top + 160 > seen + m_area->viewport()->height())
            m_area->verticalScrollBar()->setValue(top);
    });
}

void Sheet::buildFocus()
{
    m_focusSection->addRow(tr("Sharp zone"), m_sharpZone = valueLabel("sharpZone"),
                           tr("From the near to the far limit."));
    m_acceptedCoc = m_fields->number(
        *m_focusSection, tr("Accepted CoC"), setting::acceptedCoc,
        tr("CoC is the circle of confusion: the diameter of the blur disc of a point. One as wide as this, "
           "on the sensor, still counts as sharp."));
    m_unit = new Chooser;
    m_unit->setObjectName(QStringLiteral("unit"));
    for (const auto unit : {optics::Unit::metre, optics::Unit::centimetre, optics::Unit::millimetre,
                            optics::Unit::foot, optics::Unit::inch})
        m_unit->addItem(QString::fromLatin1(optics::symbol(unit).data(),
                                            static_cast<qsizetype>(optics::symbol(unit).size())));
    m_focusSection->addRow(tr("Distances in"), m_unit);
    connect(m_unit, &QComboBox::activated, this, [this](int index) {
        project::Project changed = m_document.project();
        changed.unit = static_cast<optics::Unit>(index);
        m_document.edit(tr("show distances in %1").arg(m_unit->currentText()), changed);
    });
}

void Sheet::buildLens()
{
    m_focalLength = m_fields->number(*m_lensSection, tr("Focal length"), setting::focalLength,
                                     tr("As in the renderer's camera."));
    m_sensorWidth = m_fields->number(*m_lensSection, tr("Sensor width"), setting::sensorWidth,
                                     tr("The width of the frame on the sensor."));
    m_framing = new Chooser;
    m_framing->setObjectName(QStringLiteral("framing"));
    m_framing->addItems({tr("as rendered"), tr("as a physical lens")}); // in the order of Framing
    m_lensSection->addRow(tr("Framing"), m_framing,
                          tr("As rendered: the picture keeps its framing, as a renderer's camera does. "
                             "A physical lens moves out to focus and blurs more up close."));
    connect(m_framing, &QComboBox::activated, this, [this](int index) {
        m_document.editSettings(tr("set framing"), [index](project::Settings& settings) {
            settings.framing = static_cast<optics::Framing>(index);
        });
    });
    m_opening = new Chooser;
    m_opening->setObjectName(QStringLiteral("opening"));
    m_opening->addItems({tr("the area of the opening"), tr("the blades' circle")}); // in the order of Opening
    m_lensSection->addRow(tr("f-stop means"), m_opening,
                          tr("With blades: how much light comes through, or the circle that the blades "
                             "stand in, as many renderers have it."));
    connect(m_opening, &QComboBox::activated, this, [this](int index) {
        m_document.editSettings(tr("set what the f-stop means"), [index](project::Settings& settings) {
            settings.iris.opening = static_cast<optics::Opening>(index);
        });
    });
    m_scale = addNumber(*m_lensSection, tr("Scene scale"), "scale", scaleFormat(),
                        tr("How long one scene unit is; any unit may be typed: 1 mm."), &Sheet::applyScale);
    m_lensSection->addRow(
        tr("CoC at infinity"), m_cocAtInfinity = valueLabel("cocAtInfinity"),
        tr("The blur disc of a point infinitely far away, on the sensor and in the frame."));
}

void Sheet::setPasses(const passes::FramePassesPtr& passes)
{
    if (passes == m_passes) return;
    m_passes = passes;
    m_depthPanel->setPasses(passes);
    refresh();
}

void Sheet::refresh()
{
    const auto& project = m_document.project();
    const bool open = m_document.isOpen();
    for (QWidget* field : {static_cast<QWidget*>(m_focus), static_cast<QWidget*>(m_acceptedCoc),
                           static_cast<QWidget*>(m_fStop), static_cast<QWidget*>(m_focalLength),
                           static_cast<QWidget*>(m_sensorWidth), static_cast<QWidget*>(m_scale),
                           static_cast<QWidget*>(m_unit)})
        field->setEnabled(open);
    const auto& values = m_document.values();
    m_focus->setFormat(distanceFormat(project, project.nearestFocus(values.focalLengthMm), focusDefault()));
    m_unit->setCurrentIndex(static_cast<int>(project.unit));
    m_framing->setCurrentIndex(static_cast<int>(values.framing));
    m_opening->setCurrentIndex(static_cast<int>(values.iris.opening));
    m_scale->setValue(project.metresPerUnit);
    for (NumberField* field : {m_fStop, m_focalLength, m_sensorWidth})
        field->setEnabled(open && !values.simpleLens);
    m_framing->setEnabled(open && !values.simpleLens);
    m_opening->setEnabled(open && values.iris.blades > 0);
    refreshSummaries();
}

void Sheet::refreshSummaries()
{
    const auto& project = m_document.project();
    for (Section* s : {m_passesSection, m_depthSection, m_irisSection, m_lensSection, m_focusSection,
                       m_repairSection, m_takesSection})
        s->setBodyEnabled(m_document.isOpen());
    if (!m_document.isOpen()) {
        for (QLabel* label : {m_sharpZone, m_cocAtInfinity})
            label->setText(QStringLiteral("—"));
        for (Section* s : {m_passesSection, m_depthSection, m_focusSection, m_lensSection, m_irisSection,
                           m_repairSection, m_deliverySection})
            s->setSummary(tr("nothing is open"));
        return;
    }
    const auto& source = *m_document.source();
    const auto& values = m_document.values();
    const auto lens = project.lensAt(m_document.frame(), source.width());
    const auto zone = optics::sharpZone(lens, values.acceptedCocMm);
    const auto fromMm = [&](double mm) {
        return QString::fromStdString(optics::formatDistance(mm / 1000.0, project.unit));
    };
    const QString zoneText = tr("%1 to %2").arg(fromMm(zone.nearMm), fromMm(zone.farMm));
    m_sharpZone->setText(zoneText);
    const double coc = optics::circleOfConfusionAtInfinityMm(lens);
    m_cocAtInfinity->setText(
        tr("%1 mm, %2 px").arg(coc, 0, 'g', 3).arg(coc / values.sensorWidthMm * source.width(), 0, 'f', 1));
    m_focusSection->setSummary(
        tr("focus %1, sharp %2").arg(shownDistance(project, values.focusDistance), zoneText));
    m_lensSection->setSummary(lensSummary(values));
    m_irisSection->setSummary(IrisPanel::summary(values));
    const QString frameEdge = tr("frame edge: %1")
                                  .arg(values.frameEdge == defocus::FrameEdge::mirror ? tr("mirror")
                                       : values.frameEdge == defocus::FrameEdge::open ? tr("open")
                                                                                      : tr("continue"));
    m_repairSection->setSummary(project.mattes.empty() ? frameEdge
                                : values.mattesAtEdges ? tr("%1, mattes at edges").arg(frameEdge)
                                                       : tr("%1, without mattes").arg(frameEdge));
}

bool Sheet::eventFilter(QObject* watched, QEvent* event)
{
    auto* box = qobject_cast<QComboBox*>(watched);
    if (box && event->type() == QEvent::Wheel && !box->hasFocus()) {
        event->ignore();
        return true;
    }
    if (watched == m_area->widget() && event->type() == QEvent::LayoutRequest) {
        widenToContent();
        m_settle.start();
    }
    auto* pressed = qobject_cast<QWidget*>(watched);
    if (event->type() == QEvent::MouseButtonPress && pressed && m_area->widget()->isAncestorOf(pressed)) {
        m_pressed = pressed;
        m_pressedY = pressed->mapTo(m_area->viewport(), QPoint(0, 0)).y();
    } else if (event->type() == QEvent::Wheel) {
        m_pressed = nullptr;
    }
    return QWidget::eventFilter(watched, event);
}

/// Rows came or went: Tab knows them, and what was pressed stays under the pointer.
void Sheet::settle()
{
    orderTabs(*this);
    if (!m_pressed || !m_pressed->isVisible()) return;
    const int moved = m_pressed->mapTo(m_area->viewport(), QPoint(0, 0)).y() - m_pressedY;
    if (moved != 0) m_area->verticalScrollBar()->setValue(m_area->verticalScrollBar()->value() + moved);
}

/// Nothing is cut off at its right; it never grows narrower again, so that nothing jumps.
void Sheet::widenToContent()
{
    const int needed =
        m_index->sizeHint().width() + std::max(m_pinned->minimumSizeHint().width(),
                                               m_area->widget()->minimumSizeHint().width() +
                                                   m_area->verticalScrollBar()->sizeHint().width() + 4);
    if (needed > minimumWidth()) setMinimumWidth(needed);
}

void Sheet::applyScale(double value, int gesture)
{
    project::Project changed = m_document.project();
    changed.metresPerUnit = value;
    m_document.edit(tr("set scene scale"), changed, gesture);
}

} // namespace retinex::app
