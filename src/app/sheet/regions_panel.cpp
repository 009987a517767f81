#include "app/sheet/regions_panel.h"

#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/fields/setting_formats.h"
#include "app/look/style.h"
#include "core/project/names.h"

#include <QHBoxLayout>
#include <QMenu>
#include <algorithm>

namespace retinex::app {

namespace {

using regions::Joining;
using regions::PatchKind;
using regions::Piece;
using regions::PieceKind;
using regions::Region;

QString effectWords(const project::Project& project, const Region& region)
{
    QStringList words;
    if (region.share != 1.0) words << RegionsPanel::tr("%1 % blur").arg(100.0 * region.share, 0, 'f', 0);
    if (region.addedPx > 0.0) words << RegionsPanel::tr("+%1 px").arg(region.addedPx, 0, 'g', 3);
    switch (region.patch) {
    case PatchKind::none:
        break;
    case PatchKind::number:
        words << RegionsPanel::tr("at %1").arg(shownDistance(project, region.distance));
        break;
    case PatchKind::subject:
        words << RegionsPanel::tr("at %1").arg(QString::fromStdString(region.subject));
        break;
    case PatchKind::median:
        words << RegionsPanel::tr("flat");
        break;
    case PatchKind::ramp:
        words << RegionsPanel::tr("ramp");
        break;
    case PatchKind::offset:
    case PatchKind::factor:
        words << RegionsPanel::tr("moved in depth");
        break;
    }
    return words.isEmpty() ? RegionsPanel::tr("no effect yet") : words.join(QStringLiteral(", "));
}

Piece pieceOf(PieceKind kind)
{
    Piece piece;
    piece.kind = kind;
    return piece;
}

} // namespace

RegionsPanel::RegionsPanel(Document& document, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_section(section),
      m_list(new MemberList(tr("List of regions"))), m_add(new QToolButton), m_joining(new Chooser),
      m_edit(new QPushButton(tr("Edit"))), m_delete(new QPushButton(tr("Delete"))), m_brushRow(new QWidget),
      m_erases(new QCheckBox(tr("erase"))), m_patch(new Chooser),
      m_fields(new FieldList(
          document,
          std::make_unique<ShotPlace>(document, "regions",
                                      [this] { return m_tools ? m_tools->chosen() : std::string(); }),
          this)),
      m_follows(new FollowsButton(document)), m_outlineMark(new QPushButton)
{
    buildList();
    buildAdding();
    buildEffects();
    buildArea();
    buildMovement();
    m_fields->showWhere([this](const std::string& key) { return isShown(*chosen(), key); });
    connect(m_fields, &FieldList::notANumber, this, &RegionsPanel::refused);
    connect(&document, &Document::projectChanged, this, &RegionsPanel::refresh);
    connect(&document, &Document::frameChanged, this, &RegionsPanel::refresh);
    connect(&document, &Document::opened, this, &RegionsPanel::refresh);
    connect(&document, &Document::betweenMarksChanged, this, &RegionsPanel::refresh);
    refresh();
}

void RegionsPanel::setTools(RegionTools& tools)
{
    m_tools = &tools;
    connect(&tools, &RegionTools::chosenChanged, this, [this] {
        if (!m_tools->chosen().empty()) m_section.setFolded(false);
        refresh();
    });
    connect(&tools, &RegionTools::toolChanged, this, &RegionsPanel::refresh);
    connect(&tools, &RegionTools::brushChanged, this, &RegionsPanel::refresh);
    refresh();
}

void RegionsPanel::buildList()
{
    m_list->setObjectName(QStringLiteral("regions"));
    m_list->setToolTip(
        tr("They apply from the top down; drag to reorder (Alt+Up, Alt+Down), double click to name."));
    m_section.addWide(m_list);
    connect(m_list, &MemberList::chosenByHand, this, [this](const std::string& id) {
        if (m_tools) m_tools->choose(id);
    });
    connect(m_list, &MemberList::switched, this, [this](const std::string& id, bool on) {
        const Region* region = regionWith(m_document, id);
        if (!region) return;
        changeRegion(m_document,
                     on ? tr("switch on %1").arg(QString::fromStdString(region->name))
                        : tr("switch off %1").arg(QString::fromStdString(region->name)),
                     id, [on](Region& r) { r.isOn = on; });
    });
    connect(m_list, &MemberList::named, this, [this](const std::string& id, const std::string& name) {
        project::Project changed = m_document.project();
        renameRegion(changed, m_document.project().shotIndexAt(m_document.frame()), id, name);
        m_document.edit(tr("name %1").arg(QString::fromStdString(name)), changed);
    });
    connect(m_list, &MemberList::refused, this, &RegionsPanel::refresh);
    connect(m_list, &MemberList::reordered, this,
            [this](const std::vector<std::string>& ids) { orderRegions(m_document, ids); });
}

void RegionsPanel::buildAdding()
{
    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    m_add->setText(tr("Add"));
    m_add->setObjectName(QStringLiteral("addRegion"));
    m_add->setToolTip(tr("A new region, or one more part of the chosen one."));
    m_add->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(m_add);
    m_add->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, &RegionsPanel::fillAddMenu);
    m_joining->setObjectName(QStringLiteral("regionJoining"));
    m_joining->setAccessibleName(tr("Added as"));
    m_joining->addItems(
        {tr("a new region"), tr("added to it"), tr("taken from it"), tr("kept where both are")});
    m_joining->setToolTip(tr("What is drawn next: a region of its own, or a part of the chosen one."));
    m_joining->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    m_edit->setObjectName(QStringLiteral("editRegion"));
    m_edit->setToolTip(tr("Move its points, or the whole of it, in the picture."));
    m_edit->setCheckable(true);
    m_delete->setObjectName(QStringLiteral("deleteRegion"));
    m_delete->setToolTip(tr("Deletes the region with its marks."));
    row->addWidget(m_add);
    row->addWidget(m_joining, 1);
    row->addStretch(0);
    row->addWidget(m_edit);
    row->addWidget(m_delete);
    buttons->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    m_section.addWide(buttons);
    connect(m_edit, &QPushButton::clicked, this, [this](bool on) {
        if (on)
            m_tools->edit();
        else
            m_tools->leave();
    });
    connect(m_delete, &QPushButton::clicked, this, [this] { removeRegion(m_document, m_tools->chosen()); });

    // The brush, while it is held.
    auto* brush = new QHBoxLayout(m_brushRow);
    brush->setContentsMargins(0, 0, 0, 0);
    brush->setSpacing(4);
    const auto number = [&](const char* name, const QString& label, NumberFormat format) {
        auto* field = new NumberField(std::move(format));
        field->setObjectName(QLatin1String(name));
        field->setAccessibleName(label);
        field->setToolTip(label);
        field->setMinimumWidth(52);
        field->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        brush->addWidget(field, 1);
        connect(field, &NumberField::edited, this, [this] {
            m_tools->setBrush(m_brushSize->value(), m_brushSoftness->value(), m_brushStrength->value());
        });
        connect(field, &NumberField::rejected, this,
                [this, field, label](const QString& text) { emit refused(field->refusal(label, text)); });
        return field;
    };
    m_brushSize = number("brushSize", tr("Brush radius"), steppedFormat(tr("px"), 1.0, 2000.0, 40.0, 1.0, 4));
    m_brushSoftness = number("brushSoftness", tr("Brush softness"), percentFormat(0.0, 1.0, 0.6));
    m_brushStrength = number("brushStrength", tr("Brush strength"), percentFormat(0.01, 1.0, 1.0));
    m_erases->setObjectName(QStringLiteral("brushErases"));
    m_erases->setToolTip(tr("Takes paint away."));
    connect(m_erases, &QCheckBox::clicked, this, [this](bool on) { m_tools->setErases(on); });
    m_section.addRow(tr("Brush"), m_brushRow, tr("Radius, softness, strength. [ and ] change the radius."));
    m_section.addWide(m_erases);
}

void RegionsPanel::draw(RegionTool tool)
{
    const int joining = m_joining->currentIndex();
    if (joining == 0 || !chosen())
        m_tools->begin(tool, RegionStart::plain);
    else
        m_tools->addTo(tool, static_cast<Joining>(joining - 1));
}

void RegionsPanel::addPiece(Piece piece)
{
    const int joining = m_joining->currentIndex();
    if (joining == 0 || !chosen()) {
        m_tools->choose(addRegion(m_document, RegionStart::plain, std::move(piece)));
        return;
    }
    piece.joining = static_cast<Joining>(joining - 1);
    changePieces(m_document, tr("add to region"), m_tools->chosen(),
                 [&](std::vector<Piece>& pieces) { pieces.push_back(piece); });
}

void RegionsPanel::fillAddMenu()
{
    QMenu* menu = m_add->menu();
    menu->clear();
    const auto tool = [&](const QString& text, RegionTool what) {
        menu->addAction(text, this, [this, what] { draw(what); });
    };
    tool(tr("Outline"), RegionTool::outline);
    tool(tr("Ellipse"), RegionTool::ellipse);
    tool(tr("Box"), RegionTool::box);
    tool(tr("Brush"), RegionTool::brush);
    menu->addSeparator();
    QMenu* mattes = menu->addMenu(tr("Matte"));
    for (const passes::MatteChoice& matte : m_document.project().mattes)
        mattes->addAction(QString::fromStdString(matte.title()), this, [this, title = matte.title()] {
            Piece piece = pieceOf(PieceKind::mattes);
            piece.mattes = {title};
            addPiece(std::move(piece));
        });
    if (m_document.project().mattes.empty())
        mattes->addAction(tr("There is none; see Passes"))->setEnabled(false);
    menu->addAction(tr("Span of distance"), this, [this] {
        Piece piece = pieceOf(PieceKind::span);
        const double focus = m_document.values().focusDistance;
        piece.nearest = 0.8 * focus;
        piece.farthest = 1.25 * focus;
        piece.softEnds = 0.1;
        addPiece(std::move(piece));
    });
    menu->addAction(tr("Whole picture"), this, [this] { addPiece(pieceOf(PieceKind::whole)); });
}

void RegionsPanel::buildEffects()
{
    m_fields->number(m_section, tr("Blur inside"), "share",
                     tr("Share of the lens's blur: 0 % is kept sharp, 100 % is unchanged, up to 300 %."));
    m_fields->number(m_section, tr("Added blur"), "addedPx",
                     tr("Radius of a blur besides the lens's, also where that leaves all sharp."));
    m_patch->setObjectName(QStringLiteral("regionPatch"));
    m_patch->addItems({tr("as it is"), tr("a distance"), tr("a subject's"), tr("of the surface under it"),
                       tr("a ramp"), tr("moved by"), tr("times")});
    m_section.addRow(tr("Distance"), m_patch, tr("What distance everything inside has."));
    connect(m_patch, &QComboBox::activated, this, [this](int index) {
        const auto picture = m_document.source();
        changeRegion(m_document, tr("distance of region"), m_tools->chosen(), [&](Region& region) {
            region.patch = static_cast<PatchKind>(index);
            const bool unset = region.rampX1 == 0.0 && region.rampY1 == 0.0 && region.rampX2 == 100.0;
            if (region.patch == PatchKind::ramp && unset && picture) { // from the lower edge up
                region.rampX1 = region.rampX2 = 0.5 * picture->width();
                region.rampY1 = picture->height();
                region.rampY2 = 0.35 * picture->height();
                region.rampDistance1 = 0.5 * m_document.values().focusDistance;
                region.rampDistance2 = 4.0 * m_document.values().focusDistance;
            }
            if (region.patch == PatchKind::subject && region.subject.empty()) {
                const auto& subjects = m_document.project().subjects;
                const auto seen = std::ranges::find_if(subjects, [&](const timeline::Subject& subject) {
                    return timeline::distanceAt(subject, m_document.frame()).has_value();
                });
                if (!subjects.empty())
                    region.subject = (seen == subjects.end() ? subjects.front() : *seen).name;
            }
            if (region.patch == PatchKind::number) region.distance = m_document.values().focusDistance;
        });
    });
    m_fields->number(m_section, tr("Lies at"), "distance", tr("The distance of everything inside."));
    m_fields->name(
        m_section, tr("Subject"), "subject", [this] { return subjectNames(m_document.project()); }, {},
        tr("Everything inside has its distance, frame by frame."));
    m_fields->toggle(m_section, tr("that of one frame"), "holdsFrame",
                     tr("The median of one frame counts on all."));
    m_fields->number(m_section, tr("Frame"), "heldFrame", tr("Whose surface is measured."));
    m_fields->word(m_section, tr("Ramp"), "ramp/kind", {tr("a plane in space"), tr("even in distance")},
                   tr("A plane in space is even in 1/distance."));
    m_fields->number(m_section, tr("From across"), "ramp/x1",
                     tr("The ramp's first place, px from the left."));
    m_fields->number(m_section, tr("From down"), "ramp/y1", tr("The ramp's first place, px from the top."));
    m_fields->number(m_section, tr("Lies there at"), "ramp/distance1", tr("Distance at the first place."));
    m_fields->number(m_section, tr("To across"), "ramp/x2", tr("The ramp's second place, px from the left."));
    m_fields->number(m_section, tr("To down"), "ramp/y2", tr("The ramp's second place, px from the top."));
    m_fields->number(m_section, tr("And there at"), "ramp/distance2", tr("Distance at the second place."));
    m_fields->number(m_section, tr("Moved by"), "offset", tr("Added to the distance, scene units."));
    m_fields->number(m_section, tr("Times"), "factor", tr("The distance is multiplied by it."));
    m_fields->toggle(m_section, tr("Fill gaps only"), "gapsOnly", tr("What has a distance keeps it."));
}

void RegionsPanel::buildArea()
{
    m_fields->number(m_section, tr("Grow"), "growPx",
                     tr("Moves the edge outward, or inward where it is below 0."));
    m_fields->number(m_section, tr("Feather"), "featherPx",
                     tr("Width over which the edge fades, half of it to each side."));
    m_fields->toggle(m_section, tr("Follow edges"), "followsEdges",
                     tr("Pulls the faded edge onto the depth edge next to it."));
    m_fields->toggle(m_section, tr("Inverted"), "inverted", tr("All but what is drawn."));
}

void RegionsPanel::buildMovement()
{
    m_follows->setObjectName(QStringLiteral("regionFollows"));
    connect(m_follows, &FollowsButton::chosen, this,
            [this](const std::string& names, bool isFirst, const QString& what) {
                changeRegion(m_document, what, m_tools->chosen(), [&](Region& region) {
                    if (isFirst) region.followsFrom = m_document.frame();
                    region.follows = names;
                });
            });
    m_section.addRow(tr("Follows"), m_follows,
                     tr("One subject shifts it, two turn and resize it, four lay it on in perspective."));
    m_fields->number(m_section, tr("As drawn at"), "followsFrom",
                     tr("The frame on which it lies as it is drawn."));
    m_fields->number(m_section, tr("Move across"), "moveX", tr("To the right."));
    m_fields->number(m_section, tr("Move down"), "moveY", tr("Downward."));
    m_fields->number(m_section, tr("Turn"), "turnDeg", tr("Counter-clockwise, about its middle."));
    m_fields->number(m_section, tr("Size"), "size", tr("About its middle."));
    m_outlineMark->setObjectName(QStringLiteral("outlineMark"));
    m_outlineMark->setToolTip(tr("With marks an outline changes its form from one to the next."));
    m_section.addWide(m_outlineMark);
    connect(m_outlineMark, &QPushButton::clicked, this,
            [this] { toggleOutlineMark(m_document, m_tools->chosen()); });
}

QString RegionsPanel::summary() const
{
    const auto& regions = m_document.values().regions;
    if (regions.empty()) return tr("none");
    QStringList names;
    for (const Region& region : regions)
        names << QString::fromStdString(region.name) + (region.isOn ? QString() : tr(" off"));
    return names.join(QStringLiteral(", "));
}

void RegionsPanel::refreshList()
{
    std::vector<MemberList::Row> rows;
    for (const Region& region : m_document.values().regions)
        rows.push_back({region.id, region.name, effectWords(m_document.project(), region), region.isOn});
    m_list->setRows(rows, m_tools ? m_tools->chosen() : std::string());
}

bool RegionsPanel::isShown(const Region& region, std::string_view key) const
{
    if (key == "distance") return region.patch == PatchKind::number;
    if (key == "holdsFrame") return region.patch == PatchKind::median && m_document.isSequence();
    if (key == "heldFrame")
        return region.patch == PatchKind::median && region.holdsFrame && m_document.isSequence();
    if (key.starts_with("ramp/")) return region.patch == PatchKind::ramp;
    if (key == "offset") return region.patch == PatchKind::offset;
    if (key == "factor") return region.patch == PatchKind::factor;
    if (key == "followsFrom") return !region.follows.empty();
    if (key == "subject") return region.patch == PatchKind::subject;
    if (key == "gapsOnly") return region.patch != PatchKind::none;
    return true;
}

void RegionsPanel::refreshFields(const Region& region)
{
    m_patch->setCurrentIndex(static_cast<int>(region.patch));
    m_follows->setFollowed(region.follows);
    m_section.setRowVisible(m_follows, true);
    bool hasOutline = false;
    bool isMarked = false;
    std::size_t marks = 0;
    for (const Piece& piece : region.area.pieces()) {
        hasOutline |= !piece.outline.empty();
        marks = std::max(marks, piece.outline.size());
        for (const auto& mark : piece.outline)
            isMarked |= mark.frame == m_document.frame();
    }
    m_outlineMark->setVisible(hasOutline && m_document.isSequence());
    m_outlineMark->setText(isMarked && marks > 1 ? tr("Delete the outline's mark here")
                                                 : tr("Mark the outline's form here"));
    m_outlineMark->setEnabled(!isMarked || marks > 1);
}

void RegionsPanel::refresh()
{
    m_section.setSummary(m_document.isOpen() ? summary() : tr("nothing is open"));
    refreshList();
    const bool open = m_document.isOpen() && m_tools;
    const Region* region = chosen();
    m_add->setEnabled(open);
    m_joining->setVisible(region != nullptr);
    for (QPushButton* button : {m_edit, m_delete})
        button->setVisible(region != nullptr);
    m_edit->setChecked(m_tools && m_tools->tool() == RegionTool::edit);
    const bool paints = m_tools && m_tools->tool() == RegionTool::brush;
    m_section.setRowVisible(m_brushRow, paints);
    m_erases->setVisible(paints);
    if (m_tools) {
        m_brushSize->setValue(m_tools->brush().radiusPx);
        m_brushSoftness->setValue(m_tools->brush().softness);
        m_brushStrength->setValue(m_tools->brush().strength);
        m_erases->setChecked(m_tools->brush().erases);
    }
    m_fields->refresh();
    if (region) {
        m_section.setRowVisible(m_patch, true);
        refreshFields(*region);
        return;
    }
    for (QWidget* field : {static_cast<QWidget*>(m_patch), static_cast<QWidget*>(m_follows)})
        m_section.setRowVisible(field, false);
    m_outlineMark->setVisible(false);
}

} // namespace retinex::app
