#include "app/sheet/inserts_panel.h"

#include "app/fields/chooser.h"
#include "app/fields/insert_place.h"
#include "app/fields/number_formats.h"
#include "app/fields/setting_formats.h"
#include "core/colour/input_space.h"
#include "core/frame/places/insert_checks.h"
#include "core/inserts/placing.h"
#include "core/passes/sequence.h"
#include "core/project/names.h"
#include "core/regions/name_list.h"
#include "core/system/error.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenu>
#include <algorithm>

namespace retinex::app {

namespace {

using inserts::DistanceFrom;
using inserts::Insert;
using inserts::Placing;

QString insertWords(const project::Project& project, const Insert& insert)
{
    QStringList words;
    switch (insert.distanceFrom) {
    case DistanceFrom::infinity:
        words << InsertsPanel::tr("infinitely far");
        break;
    case DistanceFrom::number:
        words << InsertsPanel::tr("at %1").arg(shownDistance(project, insert.distance));
        break;
    case DistanceFrom::corners:
        words << InsertsPanel::tr("aslant");
        break;
    case DistanceFrom::subject:
        words << InsertsPanel::tr("at %1").arg(QString::fromStdString(insert.subject));
        break;
    case DistanceFrom::surface:
        words << InsertsPanel::tr("on what is below");
        break;
    }
    if (insert.opacity < 1.0) words << InsertsPanel::tr("%1 %").arg(100.0 * insert.opacity, 0, 'f', 0);
    return words.join(QStringLiteral(", "));
}

/// A check box for each matte, which puts its title into a list or takes it out.
void fillMattes(QMenu& menu, const Document& document, const std::string& list,
                const std::function<void(const std::string&)>& set)
{
    menu.clear();
    const auto listed = regions::namesIn(list);
    for (const passes::MatteChoice& matte : document.project().mattes) {
        QAction* action = menu.addAction(QString::fromStdString(matte.title()));
        action->setCheckable(true);
        action->setChecked(std::ranges::find(listed, matte.title()) != listed.end());
        QObject::connect(action, &QAction::triggered, &menu, [listed, title = matte.title(), set](bool on) {
            std::vector<std::string> titles = listed;
            std::erase(titles, title);
            if (on) titles.push_back(title);
            set(regions::listOf(titles));
        });
    }
    if (menu.isEmpty()) menu.addAction(InsertsPanel::tr("There is no matte; see Passes"))->setEnabled(false);
}

} // namespace

InsertsPanel::InsertsPanel(Document& document, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_section(section),
      m_list(new MemberList(tr("List of inserts"))), m_add(new QToolButton),
      m_place(new QPushButton(tr("Place"))), m_delete(new QPushButton(tr("Delete"))),
      m_fields(new FieldList(document,
                             std::make_unique<InsertPlace>(
                                 document, [this] { return m_tools ? m_tools->chosen() : std::string(); }),
                             this)),
      m_follows(new FollowsButton(document)), m_openBy(new Chooser)
{
    buildList();
    buildContent();
    buildPlace();
    buildDistance();
    buildMixing();
    buildOpening();
    m_fields->showWhere([this](const std::string& key) { return isShown(*chosen(), key); });
    m_fields->formatBy([this](const std::string& key, NumberFormat format) {
        const int whole = wholeOf(key);
        return whole > 0 ? takingShares(std::move(format), whole) : format;
    });
    connect(m_fields, &FieldList::notANumber, this, &InsertsPanel::refused);
    connect(&document, &Document::projectChanged, this, &InsertsPanel::refresh);
    connect(&document, &Document::frameChanged, this, &InsertsPanel::refresh);
    connect(&document, &Document::opened, this, &InsertsPanel::refresh);
    connect(&document, &Document::betweenMarksChanged, this, &InsertsPanel::refresh);
    refresh();
}

void InsertsPanel::setTools(PlacingTool& tools)
{
    m_tools = &tools;
    connect(&tools, &PlacingTool::chosenChanged, this, [this] {
        if (!m_tools->chosen().empty()) m_section.setFolded(false);
        refresh();
    });
    connect(&tools, &PlacingTool::placingChanged, this, &InsertsPanel::refresh);
    refresh();
}

void InsertsPanel::change(const QString& what, const std::function<void(Insert&)>& change)
{
    changeInsert(m_document, what, m_tools->chosen(), change);
}

void InsertsPanel::buildList()
{
    m_list->setObjectName(QStringLiteral("inserts"));
    m_list->setToolTip(
        tr("Of two at one distance the upper one is in front; drag to reorder (Alt+Up, Alt+Down), "
           "double click to name."));
    m_section.addWide(m_list);
    connect(m_list, &MemberList::chosenByHand, this, [this](const std::string& id) {
        if (m_tools) m_tools->choose(id);
    });
    connect(m_list, &MemberList::switched, this, [this](const std::string& id, bool on) {
        const Insert* insert = insertWith(m_document, id);
        if (!insert) return;
        const QString name = QString::fromStdString(insert->name);
        changeInsert(m_document, on ? tr("switch on %1").arg(name) : tr("switch off %1").arg(name), id,
                     [on](Insert& i) { i.isOn = on; });
    });
    connect(m_list, &MemberList::named, this, [this](const std::string& id, const std::string& name) {
        changeInsert(m_document, tr("name %1").arg(QString::fromStdString(name)), id,
                     [&](Insert& insert) { insert.name = name; });
    });
    connect(m_list, &MemberList::refused, this, &InsertsPanel::refresh);
    connect(m_list, &MemberList::reordered, this,
            [this](const std::vector<std::string>& ids) { orderInserts(m_document, ids); });

    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    m_add->setText(tr("Add"));
    m_add->setObjectName(QStringLiteral("addInsert"));
    m_add->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(m_add);
    menu->addAction(tr("Picture…"), this, [this] { emit pictureAsked(false); });
    menu->addAction(tr("Backdrop…"), this, [this] { emit pictureAsked(true); });
    menu->addAction(tr("Backdrop of one colour"), this,
                    [this] { m_tools->choose(addInsert(m_document, newBackdrop({}))); });
    m_add->setMenu(menu);
    m_place->setObjectName(QStringLiteral("placeInsert"));
    m_place->setCheckable(true);
    m_place->setToolTip(tr("Handles in the picture (H)."));
    m_delete->setObjectName(QStringLiteral("deleteInsert"));
    m_delete->setToolTip(tr("Deletes it with its marks."));
    row->addWidget(m_add);
    row->addStretch(1);
    row->addWidget(m_place);
    row->addWidget(m_delete);
    m_section.addWide(buttons);
    m_fault->setObjectName(QStringLiteral("insertFault"));
    m_fault->setWordWrap(true);
    m_section.addWide(m_fault);
    connect(m_place, &QPushButton::clicked, this, [this](bool on) { m_tools->setPlacing(on); });
    connect(m_delete, &QPushButton::clicked, this, [this] { removeInsert(m_document, m_tools->chosen()); });
}

QToolButton* InsertsPanel::addMenu(const QString& label, const char* name, const QString& help,
                                   void (InsertsPanel::*fill)())
{
    auto* button = new NameMenuButton;
    button->setObjectName(QLatin1String(name));
    button->setMenu(new QMenu(button));
    connect(button->menu(), &QMenu::aboutToShow, this, fill);
    m_section.addRow(label, button, help);
    return button;
}

void InsertsPanel::buildContent()
{
    m_fields->file(m_section, tr("Picture"), "file", tr("A still, a sequence or any one frame of it."));
    connect(m_fields, &FieldList::fileAsked, this, [this] { emit fileAsked(m_tools->chosen()); });
    m_fields->number(m_section, tr("Red"), "red", tr("Light of the even colour; 1 is white on the screen."));
    m_fields->number(m_section, tr("Green"), "green", tr("Light of the even colour."));
    m_fields->number(m_section, tr("Blue"), "blue", tr("Light of the even colour."));
    m_fields->name(m_section, tr("Colour space"), "inputSpace", colour::inputSpaces, tr("by the file"),
                   tr("Which colour space the picture is in."));
    m_fields->word(m_section, tr("Alpha"), "alpha",
                   {tr("as found"), tr("multiplied"), tr("not multiplied"), tr("left aside")},
                   tr("Whether its colour is multiplied by its alpha already."));
    m_fields->number(m_section, tr("Begins at"), "startFrame", tr("The frame on which the sequence begins."));
    m_fields->word(m_section, tr("Beyond its ends"), "ending", {tr("hold"), tr("loop"), tr("leave")},
                   tr("What a sequence does before its first and after its last frame."));
}

void InsertsPanel::buildPlace()
{
    m_fields->word(m_section, tr("Laid in"), "placing", {tr("as backdrop"), tr("upright"), tr("by corners")},
                   tr("Behind everything, upright in the scene, or by four corners in perspective."));
    m_fields->word(m_section, tr("Fit"), "fit", {tr("fill the frame"), tr("all of it"), tr("pixel by pixel")},
                   tr("How it meets the frame."));
    m_fields->number(
        m_section, tr("Across"), "moveX",
        tr("Its middle from the left, in px or % of the frame's width; of a backdrop the shift."));
    m_fields->number(
        m_section, tr("Down"), "moveY",
        tr("Its middle from the top, in px or % of the frame's height; of a backdrop the shift."));
    m_fields->number(m_section, tr("Width"), "widthPx", tr("In px, or % of the frame's width."));
    m_fields->number(m_section, tr("Size"), "size", tr("About the frame's middle."));
    m_fields->number(m_section, tr("Turn"), "turnDeg", tr("Counter-clockwise, about its middle."));
    static constexpr std::array<const char*, 8> kCorners{"corners/x1", "corners/y1", "corners/x2",
                                                         "corners/y2", "corners/x3", "corners/y3",
                                                         "corners/x4", "corners/y4"};
    const QStringList which{tr("Top left"), tr("Top right"), tr("Bottom right"), tr("Bottom left")};
    for (std::size_t i = 0; i < kCorners.size(); ++i)
        m_fields->number(m_section, which[static_cast<int>(i / 2)] + (i % 2 == 0 ? tr(", x") : tr(", y")),
                         kCorners[i], tr("In px, or % of the frame."));
    m_fields->toggle(m_section, tr("Mirrored"), "mirrored", tr("Left is right."));
    m_follows->setObjectName(QStringLiteral("insertFollows"));
    m_section.addRow(tr("Follows"), m_follows,
                     tr("One subject shifts it, two turn and resize it, four lay it on in perspective."));
    m_rows.push_back(m_follows);
    connect(m_follows, &FollowsButton::chosen, this,
            [this](const std::string& names, bool isFirst, const QString& what) {
                change(what, [&](Insert& insert) {
                    if (isFirst) insert.followsFrom = m_document.frame();
                    insert.follows = names;
                });
            });
    m_fields->number(m_section, tr("As placed at"), "followsFrom",
                     tr("The frame on which it lies as it is placed."));
}

void InsertsPanel::buildDistance()
{
    m_fields->word(m_section, tr("Distance"), "distanceFrom",
                   {tr("infinitely far"), tr("a distance"), tr("one at each corner"), tr("a subject's"),
                    tr("of what is below")},
                   tr("Where its distance comes from; it goes through the lens there."));
    m_fields->number(m_section, tr("Lies at"), "distance", tr("Its distance."));
    m_fields->number(m_section, tr("Top left at"), "cornerDistance1",
                     tr("Distance of this corner; the four make a plane."));
    m_fields->number(m_section, tr("Top right at"), "cornerDistance2", tr("Distance of this corner."));
    m_fields->number(m_section, tr("Bottom right at"), "cornerDistance3", tr("Distance of this corner."));
    m_fields->number(m_section, tr("Bottom left at"), "cornerDistance4", tr("Distance of this corner."));
    m_depthFile =
        addMenu(tr("Its depth pass"), "insertDepthFile",
                tr("Read as the shot's depth is; the backdrop then stands among the scene's things."),
                &InsertsPanel::fillDepthFile);
    m_fields->name(
        m_section, tr("Subject"), "subject", [this] { return subjectNames(m_document.project()); }, {},
        tr("It has its distance, frame by frame."));
    m_fields->number(m_section, tr("Off it by"), "offset", tr("Scene units; below 0 towards the camera."));
    m_fields->number(m_section, tr("Blur of its own"), "addedPx", tr("Radius, on top of the lens's."));
}

void InsertsPanel::buildMixing()
{
    m_fields->number(m_section, tr("Opacity"), "opacity", tr("0 % is not there."));
    m_fields->number(m_section, tr("Exposure"), "exposureStops", tr("Brighter or darker, in stops."));
    m_fields->number(m_section, tr("Saturation"), "saturation", tr("0 % is grey."));
    m_fields->word(m_section, tr("Blend"), "blend",
                   {tr("normal"), tr("multiply"), tr("screen"), tr("overlay"), tr("soft light"), tr("darken"),
                    tr("lighten"), tr("add"), tr("dodge"), tr("burn"), tr("linear burn"), tr("hard light"),
                    tr("colour"), tr("luminosity")},
                   tr("How it meets what is below. All but normal lie on that and have its distance."));
    m_fields->word(m_section, tr("Blended in"), "blendScale", {tr("linear light"), tr("screen scale")},
                   tr("The numbers that are blended: of light, or as a screen shows them (sRGB)."));
    m_fields->toggle(m_section, tr("Behind what is nearer"), "hiddenByNearer",
                     tr("Off: it replaces what stands before it."));
    m_heldOut = addMenu(tr("Held out by"), "insertHeldOut", tr("Mattes of what stands in front of it."),
                        &InsertsPanel::fillHeldOut);
    m_mask = addMenu(tr("Mask"), "insertMask",
                     tr("Seen only where it is painted, or in the area of a region as that is now."),
                     &InsertsPanel::fillMask);
    m_rows.push_back(m_mask);
    m_fields->number(m_section, tr("Mask's feather"), "maskFeatherPx",
                     tr("Width over which the mask's edge fades."));
    m_fields->toggle(m_section, tr("Mask inverted"), "maskInverted", tr("Seen outside of it."));
}

/// Of the scene, shown with a backdrop.
void InsertsPanel::buildOpening()
{
    m_openBy->setObjectName(QStringLiteral("openBy"));
    m_openBy->addItems({tr("open in alpha"), tr("gaps of depth"), tr("outside mattes")});
    m_section.addRow(tr("Seen where"), m_openBy, tr("Where the scene is open for the backdrop."));
    connect(m_openBy, &QComboBox::activated, this, [this](int index) {
        m_document.editShot(tr("where the scene is open"), [&](project::Shot& shot) {
            shot.settings.openBy = static_cast<inserts::OpenBy>(index);
        });
    });
    m_openMattes = addMenu(tr("Mattes"), "openMattes", tr("What stands before the backdrop."),
                           &InsertsPanel::fillOpenMattes);
}

void InsertsPanel::fillHeldOut()
{
    const Insert* insert = chosen();
    fillMattes(*m_heldOut->menu(), m_document, insert ? insert->heldOutBy : std::string(),
               [this](const std::string& titles) {
                   change(tr("hold out insert"), [&](Insert& i) { i.heldOutBy = titles; });
               });
}

void InsertsPanel::fillDepthFile()
{
    QMenu* menu = m_depthFile->menu();
    menu->clear();
    menu->addAction(tr("none: one distance"), this, [this] {
        change(tr("no depth pass of backdrop"), [](Insert& i) { i.depthFile = i.depthChannel = {}; });
    });
    menu->addAction(tr("in its own file"), this, [this] {
        change(tr("depth pass of backdrop"), [](Insert& i) { i.depthFile = i.file; });
    });
    menu->addAction(tr("another file…"), this, [this] { emit depthAsked(m_tools->chosen()); });
}

void InsertsPanel::fillOpenMattes()
{
    fillMattes(*m_openMattes->menu(), m_document, m_document.values().openMattes,
               [this](const std::string& titles) {
                   m_document.editShot(tr("mattes before the backdrop"),
                                       [&](project::Shot& shot) { shot.settings.openMattes = titles; });
               });
}

void InsertsPanel::fillMask()
{
    QMenu* menu = m_mask->menu();
    menu->clear();
    menu->addAction(tr("none"), this, [this] { change(tr("no mask"), [](Insert& i) { i.mask = {}; }); });
    menu->addAction(tr("Paint it"), this, &InsertsPanel::maskPaintingAsked);
    for (const regions::Region& region : m_document.values().regions)
        menu->addAction(QString::fromStdString(region.name), this, [this, area = region.area] {
            change(tr("mask of insert"), [&](Insert& i) { i.mask = area; });
        });
}

QString InsertsPanel::summary() const
{
    const auto& inserts = m_document.values().inserts;
    if (inserts.empty()) return tr("none");
    QStringList names;
    for (const Insert& insert : inserts)
        names << QString::fromStdString(insert.name) + (insert.isOn ? QString() : tr(" off"));
    return names.join(QStringLiteral(", "));
}

bool InsertsPanel::isSequence(const Insert& insert) const
{
    if (insert.content == inserts::Content::colour || insert.file.empty()) return false;
    try {
        return !passes::Sequence::find(insert.file).isStill();
    } catch (const Error&) {
        return false;
    }
}

bool InsertsPanel::isShown(const Insert& insert, std::string_view key) const
{
    const bool isColour = insert.content == inserts::Content::colour;
    const bool byCorners = insert.placing == Placing::corners;
    if (key == "red" || key == "green" || key == "blue") return isColour;
    if (key == "alpha" || key == "file" || key == "inputSpace") return !isColour;
    if (key == "subject") return insert.distanceFrom == DistanceFrom::subject;
    if (key == "hiddenByNearer") return !insert.isBackdrop() && !insert.isOnSurface();
    if (key == "startFrame" || key == "ending") return isSequence(insert);
    if (key == "fit") return insert.isBackdrop() && !isColour;
    if (key == "moveX" || key == "moveY" || key == "turnDeg")
        return !byCorners && !(isColour && insert.isBackdrop());
    if (key == "widthPx") return insert.placing == Placing::upright;
    if (key == "size") return insert.isBackdrop() && !isColour;
    if (key.starts_with("corners/")) return byCorners;
    if (key == "followsFrom") return !insert.follows.empty();
    if (key == "distanceFrom" && insert.isBackdrop() && !insert.depthFile.empty()) return false;
    if (key == "distanceFrom") return insert.blend == inserts::Blend::normal || insert.isBackdrop();
    if (insert.blend != inserts::Blend::normal && !insert.isBackdrop() &&
        (key == "distance" || key.starts_with("cornerDistance") || key == "offset"))
        return false;
    if (key == "distance" && insert.isBackdrop() && !insert.depthFile.empty()) return false;
    if (key == "distance") return insert.distanceFrom == DistanceFrom::number;
    if (key.starts_with("cornerDistance")) return insert.distanceFrom == DistanceFrom::corners;
    if (key == "offset") return insert.distanceFrom == DistanceFrom::surface;
    if (key == "blend") return !insert.isBackdrop();
    if (key == "blendScale") return !insert.isBackdrop() && insert.blend != inserts::Blend::normal;
    if (key == "maskFeatherPx" || key == "maskInverted") return !insert.mask.pieces().empty();
    return true;
}

/// What "50 %" of a place is a share of, px; 0: it is no place.
int InsertsPanel::wholeOf(std::string_view key) const
{
    const auto& source = m_document.source();
    if (!source) return 0;
    if (key == "moveX" || key == "widthPx" || key.starts_with("corners/x")) return source->width();
    return key == "moveY" || key.starts_with("corners/y") ? source->height() : 0;
}

void InsertsPanel::refreshFields(const Insert& insert)
{
    const bool isColour = insert.content == inserts::Content::colour;
    const bool isPictured = insert.isBackdrop() && !isColour;
    m_depthFile->setText(insert.depthFile.empty() ? tr("none")
                         : insert.depthFile == insert.file
                             ? tr("in its own file")
                             : QFileInfo(QString::fromStdString(insert.depthFile)).fileName());
    m_depthFile->setToolTip(QString::fromStdString(insert.depthFile));
    m_section.setRowVisible(m_depthFile, isPictured);
    m_follows->setFollowed(insert.follows);
    m_heldOut->setText(insert.heldOutBy.empty() ? tr("nothing") : QString::fromStdString(insert.heldOutBy));
    m_heldOut->setToolTip(insert.heldOutBy.empty() ? tr("Mattes of what stands in front of it.")
                                                   : m_heldOut->text());
    m_section.setRowVisible(m_heldOut, !insert.isBackdrop());
    m_mask->setText(insert.mask.pieces().empty() ? tr("none") : tr("drawn"));
    const std::string fault =
        insert.placing == Placing::corners ? inserts::faultOf(insert.corners) : std::string();
    m_fault->setText(fault.empty() ? QString()
                                   : tr("It %1, so it is not seen.").arg(QString::fromStdString(fault)));
    m_fault->setVisible(!fault.empty());
    for (QWidget* row : m_rows)
        m_section.setRowVisible(row, true);
    m_openBy->setCurrentIndex(static_cast<int>(m_document.values().openBy));
    m_section.setRowVisible(m_openBy, insert.isBackdrop());
    const std::string& mattes = m_document.values().openMattes;
    const auto& listed = m_document.project().mattes;
    m_openMattes->setText(!mattes.empty()      ? QString::fromStdString(mattes)
                          : listed.size() == 1 ? QString::fromStdString(listed.front().title())
                                               : tr("none"));
    if (insert.isBackdrop() && fault.empty()) {
        const std::string notice =
            frame::backdropNotice(*m_document.source(), m_document.project(), m_document.frame());
        m_fault->setText(QString::fromStdString(notice));
        m_fault->setVisible(!notice.empty());
    }
    m_section.setRowVisible(m_openMattes,
                            insert.isBackdrop() && m_document.values().openBy == inserts::OpenBy::mattes);
}

void InsertsPanel::refresh()
{
    m_section.setSummary(m_document.isOpen() ? summary() : tr("nothing is open"));
    std::vector<MemberList::Row> rows;
    for (const Insert& insert : m_document.values().inserts)
        rows.push_back({insert.id, insert.name, insertWords(m_document.project(), insert), insert.isOn});
    m_list->setRows(rows, m_tools ? m_tools->chosen() : std::string());
    m_add->setEnabled(m_document.isOpen() && m_tools);
    const Insert* insert = chosen();
    for (QPushButton* button : {m_place, m_delete})
        button->setVisible(insert != nullptr);
    m_place->setChecked(m_tools && m_tools->isPlacing());
    m_fields->refresh();
    if (insert) {
        refreshFields(*insert);
        return;
    }
    m_fault->setVisible(false);
    for (QWidget* row : m_rows)
        m_section.setRowVisible(row, false);
    for (QWidget* field : {static_cast<QWidget*>(m_heldOut), static_cast<QWidget*>(m_openBy),
                           static_cast<QWidget*>(m_openMattes), static_cast<QWidget*>(m_depthFile)})
        m_section.setRowVisible(field, false);
}

} // namespace retinex::app
