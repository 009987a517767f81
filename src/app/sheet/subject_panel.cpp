#include "app/sheet/subject_panel.h"

#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/fields/setting_formats.h"
#include "app/look/style.h"

#include "core/project/names.h"

#include <QHBoxLayout>
#include <algorithm>

namespace retinex::app {

namespace {

QWidget* rowOf(std::initializer_list<QWidget*> widgets, int stretched)
{
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    int index = 0;
    for (QWidget* widget : widgets)
        layout->addWidget(widget, index++ == stretched || stretched < 0 ? 1 : 0);
    return row;
}

QPushButton* button(const QString& text, const char* name, const QString& help)
{
    auto* made = new QPushButton(text);
    made->setObjectName(QLatin1String(name));
    made->setToolTip(help);
    made->setMinimumWidth(40);
    return made;
}

QString frames(const std::vector<timeline::Place>& places)
{
    QStringList words;
    for (std::size_t i = 0; i < places.size(); ++i) {
        if (i == 4) {
            words << QStringLiteral("…");
            break;
        }
        words << QString::number(places[i].frame);
    }
    return words.join(QStringLiteral(", "));
}

} // namespace

SubjectPanel::SubjectPanel(Document& document, const SubjectService& service, Section& section,
                           QObject* parent)
    : QObject(parent), m_document(document), m_service(service), m_section(section),
      m_list(new MemberList(tr("List of subjects"), nullptr, MemberList::Choice::several))
{
    m_list->setObjectName(QStringLiteral("subjects"));
    m_list->setToolTip(tr("Several can be chosen, with Ctrl or Shift. Double click or F2 names one."));
    m_new = button(tr("New"), "newSubject",
                   tr("Then click in the picture what focus is to be held on (U), as many as are wanted"));
    m_remove =
        button(tr("Delete"), "deleteSubject", tr("Delete the subject; marks bound to it keep its distance"));
    section.addRow(tr("Subjects"), rowOf({m_new, m_remove}, -1), tr("Named points to hold focus on."));
    section.addWide(m_list);
    m_distance = valueLabel("subjectDistance");
    section.addRow(tr("Its distance"), m_distance, tr("On this frame."));
    m_place = wordsLabel("subjectPlace");
    section.addRow(tr("Placed"), m_place);
    m_trackBack = button(tr("Track back"), "trackBack", tr("Follow it to the first frame of the shot"));
    m_trackOn = button(tr("Track on"), "trackOn", tr("Follow it to the last frame of the shot"));
    m_cancel = button(tr("Cancel"), "cancelTracking", tr("Stop tracking"));
    m_trackRow = rowOf({m_trackBack, m_trackOn, m_cancel}, -1);
    section.addWide(m_trackRow);
    NumberFormat px = plainFormat({}, tr("px"), 0.0, 500.0, 6.0, 4);
    px.geometric = false;
    px.step = 0.5;
    m_radius = new NumberField(px);
    m_radius->setObjectName(QStringLiteral("subjectRadius"));
    m_outline =
        button(tr("Draw…"), "subjectOutline", tr("Draw round it: a click for each corner, then Enter"));
    section.addRow(tr("Measured over"), rowOf({m_radius, m_outline}, 0),
                   tr("Radius of the disc whose surface is measured; gaps and other surfaces are left out."));
    m_region = new Chooser;
    m_region->setObjectName(QStringLiteral("subjectRegion"));
    section.addRow(tr("Over a region"), m_region,
                   tr("In place of the disc: the distance under a region's area, after its patch, on every "
                      "frame. In other shots the region of the same name."));
    m_hidden = new Chooser;
    m_hidden->setObjectName(QStringLiteral("subjectHidden"));
    m_hidden->addItems({tr("bridge"), tr("report")});
    section.addRow(tr("When hidden"), m_hidden,
                   tr("Bridge: from before to after. Report: the last distance stands, and it is said."));
    m_ride = button(tr("Focus rides on it from here"), "rideOnSubject",
                    tr("Sets a mark that is bound to it on this frame"));
    section.addWide(m_ride);
    auto* scene = button(tr("Subject from the scene file…"), "sceneSubject",
                         tr("A named point of the glTF scene: its distance is exact"));
    section.addWide(scene);
    m_rows = {m_distance, m_place, m_trackRow, m_radius->parentWidget(), m_region, m_hidden, m_ride};

    connect(m_list, &MemberList::chosenByHand, this, &SubjectPanel::choose);
    connect(m_list, &MemberList::named, this, &SubjectPanel::rename);
    connect(m_list, &MemberList::refused, this, &SubjectPanel::refresh);
    connect(m_list, &MemberList::reordered, this, &SubjectPanel::reorder);
    connect(m_new, &QPushButton::clicked, this, &SubjectPanel::placeAsked);
    connect(m_remove, &QPushButton::clicked, this, &SubjectPanel::remove);
    connect(m_trackBack, &QPushButton::clicked, this, [this] { emit trackAsked(true); });
    connect(m_trackOn, &QPushButton::clicked, this, [this] { emit trackAsked(false); });
    connect(m_cancel, &QPushButton::clicked, this, &SubjectPanel::cancelAsked);
    connect(m_outline, &QPushButton::clicked, this, &SubjectPanel::outlineAsked);
    connect(m_ride, &QPushButton::clicked, this, &SubjectPanel::rideAsked);
    connect(scene, &QPushButton::clicked, this, &SubjectPanel::scenePointAsked);
    connect(m_radius, &NumberField::edited, this, [this](double value, int gesture) {
        edit(
            tr("measure %1 over a disc").arg(QString::fromStdString(m_chosen)),
            [value](timeline::Subject& subject) {
                subject.radiusPx = value;
                subject.outline.clear();
            },
            gesture);
    });
    connect(m_region, &QComboBox::activated, this, [this](int index) {
        const std::string name = m_region->itemData(index).toString().toStdString();
        edit(name.empty() ? tr("measure %1 where it is seen").arg(QString::fromStdString(m_chosen))
                          : tr("measure %1 over %2")
                                .arg(QString::fromStdString(m_chosen), QString::fromStdString(name)),
             [name](timeline::Subject& subject) { subject.region = name; });
    });
    connect(m_hidden, &QComboBox::activated, this, [this](int index) {
        edit(index == 0 ? tr("bridge hidden frames") : tr("report hidden frames"),
             [index](timeline::Subject& subject) { subject.bridgesHidden = index == 0; });
    });
    connect(&document, &Document::projectChanged, this, &SubjectPanel::refresh);
    connect(&document, &Document::frameChanged, this, &SubjectPanel::refresh);
    connect(&document, &Document::opened, this, &SubjectPanel::refresh);
    refresh();
}

std::vector<std::string> SubjectPanel::allChosen() const
{
    std::vector<std::string> names = m_list->chosenIds();
    if (std::ranges::find(names, m_chosen) == names.end()) return {m_chosen};
    return names;
}

void SubjectPanel::choose(const std::string& name)
{
    m_chosen = name;
    refresh();
    emit chosenChanged();
}

std::string SubjectPanel::add(QPointF at)
{
    project::Project changed = m_document.project();
    int number = static_cast<int>(changed.subjects.size());
    std::string name;
    do
        name = tr("subject %1").arg(++number).toStdString();
    while (changed.subjectNamed(name));
    timeline::Subject subject{name};
    timeline::setPlace(subject, {m_document.frame(), at.x(), at.y()});
    changed.subjects.push_back(std::move(subject));
    m_document.edit(tr("add %1").arg(QString::fromStdString(name)), changed);
    choose(name);
    return name;
}

void SubjectPanel::moveTo(const std::string& name, QPointF at, int gesture)
{
    if (name != m_chosen) choose(name);
    edit(
        tr("place %1 at %2").arg(QString::fromStdString(name)).arg(m_document.frame()),
        [&](timeline::Subject& subject) {
            timeline::setPlace(subject, {m_document.frame(), at.x(), at.y()});
        },
        gesture);
}

void SubjectPanel::setOutline(const QPolygonF& outline)
{
    const auto* subject = m_document.project().subjectNamed(m_chosen);
    const auto& project = m_document.project();
    if (!subject || outline.size() < 3) return;
    const auto place =
        placeAt(*subject, m_document.frame(), project.framesOf(project.shotIndexAt(m_document.frame())));
    if (!place) return;
    edit(tr("draw round %1").arg(QString::fromStdString(m_chosen)), [&](timeline::Subject& changed) {
        changed.outline.clear();
        for (const QPointF& corner : outline)
            changed.outline.push_back({corner.x() - place->x, corner.y() - place->y});
    });
}

void SubjectPanel::edit(const QString& what, const std::function<void(timeline::Subject&)>& change,
                        int gesture)
{
    project::Project changed = m_document.project();
    timeline::Subject* subject = changed.subjectNamed(m_chosen);
    if (!subject) return;
    change(*subject);
    m_document.edit(what, changed, gesture);
}

void SubjectPanel::reorder(const std::vector<std::string>& names)
{
    project::Project changed = m_document.project();
    std::ranges::sort(changed.subjects, {}, [&](const timeline::Subject& subject) {
        return std::ranges::find(names, subject.name) - names.begin();
    });
    m_document.edit(tr("reorder subjects"), changed);
}

void SubjectPanel::rename(const std::string& from, const std::string& name)
{
    const bool hasComma = name.find(", ") != std::string::npos; // parts the names in a list
    if (hasComma || m_document.project().subjectNamed(name)) {
        emit refused(hasComma
                         ? tr("A subject's name has no comma. Choose another name; nothing was changed.")
                         : tr("There is a subject named \"%1\" already. Choose another name; nothing was "
                              "changed.")
                               .arg(QString::fromStdString(name)));
        refresh(); // a name of its own, or the old one
        return;
    }
    project::Project changed = m_document.project();
    renameSubject(changed, from, name);
    const QString what = tr("name %1").arg(QString::fromStdString(name));
    if (m_chosen == from) m_chosen = name;
    m_document.edit(what, changed);
    emit chosenChanged();
}

void SubjectPanel::remove()
{
    project::Project changed = m_document.project();
    const project::Project& before = m_document.project();
    for (project::Shot& shot : changed.shots)
        if (const auto track = shot.tracks.find(setting::focusDistance); track != shot.tracks.end())
            for (timeline::Mark& mark : track->second)
                if (mark.subject == m_chosen) {
                    mark.value = before.focusDistanceAt(mark.frame);
                    mark.subject.clear();
                }
    std::erase_if(changed.subjects,
                  [this](const timeline::Subject& subject) { return subject.name == m_chosen; });
    m_document.edit(tr("delete %1").arg(QString::fromStdString(m_chosen)), changed);
}

void SubjectPanel::setProgress(const QString& words)
{
    if (!words.isEmpty()) m_place->setText(words);
    refresh();
    if (!words.isEmpty()) m_place->setText(words);
}

void SubjectPanel::refreshPlace(const timeline::Subject& subject)
{
    if (!subject.scenePoint.empty()) {
        m_place->setText(tr("point %1 of the scene").arg(QString::fromStdString(subject.scenePoint)));
        return;
    }
    if (subject.places.empty()) {
        m_place->setText(tr("nowhere"));
        return;
    }
    QString words = tr("by hand at %1").arg(frames(subject.places));
    if (!subject.tracked.empty()) {
        const auto& tracked = subject.tracked.items();
        const auto least = std::min_element(tracked.begin(), tracked.end(), [](const auto& a, const auto& b) {
            return a.confidence < b.confidence;
        });
        words += tr("; tracked %1–%2, confidence %3 % at least")
                     .arg(tracked.front().frame)
                     .arg(tracked.back().frame)
                     .arg(100.0 * least->confidence, 0, 'f', 0);
    }
    m_place->setText(words);
}

/// The shot's regions by name, and the chosen one where another shot has it.
void SubjectPanel::refreshRegions(const timeline::Subject& subject)
{
    const auto& regions = m_document.project().shotAt(m_document.frame()).settings.regions;
    m_section.setRowVisible(m_region,
                            subject.scenePoint.empty() && (!regions.empty() || !subject.region.empty()));
    const QSignalBlocker blocker(m_region);
    m_region->clear();
    m_region->addItem(tr("none"), QString());
    for (const auto& region : regions)
        m_region->addItem(QString::fromStdString(region.name), QString::fromStdString(region.name));
    const QString name = QString::fromStdString(subject.region);
    if (m_region->findData(name) < 0) m_region->addItem(name, name);
    m_region->setCurrentIndex(m_region->findData(name));
}

/// Its distance on this frame, as the list tells it.
QString SubjectPanel::wordsOn(const timeline::Subject& subject) const
{
    const timeline::Sample* sample = timeline::sampleOn(subject, m_document.frame());
    if (!sample) return m_service.isMeasuring() ? tr("measuring…") : tr("not known on this frame");
    const QString distance = shownDistance(m_document.project(), sample->distance);
    return sample->sight == timeline::Sight::measured
               ? distance
               : tr("%1 (%2)").arg(distance, QString::fromUtf8(wordOf(sample->sight).data()));
}

void SubjectPanel::refresh()
{
    const auto& project = m_document.project();
    if (!project.subjectNamed(m_chosen)) {
        const std::string before =
            std::exchange(m_chosen, project.subjects.empty() ? std::string() : project.subjects.front().name);
        if (before != m_chosen) emit chosenChanged();
    }
    std::vector<MemberList::Row> rows;
    for (const auto& subject : project.subjects)
        rows.push_back({subject.name, subject.name, wordsOn(subject), true});
    m_list->setRows(rows, m_chosen);
    const auto* subject = project.subjectNamed(m_chosen);
    m_remove->setEnabled(subject != nullptr);
    for (QWidget* row : m_rows)
        m_section.setRowVisible(row, subject != nullptr);
    if (!subject) return;
    const bool isSeen = subject->scenePoint.empty();
    const bool tracking = m_service.isTracking();
    m_trackBack->setVisible(!tracking);
    m_trackOn->setVisible(!tracking);
    m_cancel->setVisible(tracking);
    m_section.setRowVisible(m_place, subject->region.empty());
    m_section.setRowVisible(m_trackRow, isSeen && !subject->places.empty() && subject->region.empty() &&
                                            m_document.isSequence());
    m_section.setRowVisible(m_radius->parentWidget(), isSeen && subject->region.empty());
    refreshRegions(*subject);
    m_section.setRowVisible(m_hidden, isSeen && m_document.isSequence());
    m_ride->setVisible(m_document.isSequence());
    m_radius->setValue(subject->radiusPx);
    m_outline->setText(subject->outline.empty() ? tr("Draw…") : tr("Drawn…"));
    m_hidden->setCurrentIndex(subject->bridgesHidden ? 0 : 1);
    m_distance->setText(wordsOn(*subject));
    if (!tracking) refreshPlace(*subject);
}

} // namespace retinex::app
