#include "app/delivery/delivery_panel.h"

#include "app/fields/chooser.h"
#include "app/fields/name_button.h"
#include "app/fields/number_formats.h"
#include "app/fields/setting_formats.h"
#include "core/colour/output_space.h"
#include "core/delivery/file_name.h"
#include "core/delivery/frame_contents.h"
#include "core/delivery/frame_list.h"
#include "core/project/settings/delivery_settings.h"
#include "core/regions/name_list.h"
#include "core/system/error.h"

#include <QDir>
#include <QHBoxLayout>
#include <QMenu>
#include <QStandardItemModel>
#include <algorithm>

namespace retinex::app {

namespace {

using project::Delivery;
using project::FileKind;

struct ContentWord
{
    const char* word;
    QString title;
};

std::vector<ContentWord> contentWords()
{
    return {{"finished", DeliveryPanel::tr("finished picture")},
            {"unfinished", DeliveryPanel::tr("without finish")},
            {"source", DeliveryPanel::tr("source")},
            {"distance", DeliveryPanel::tr("distance")},
            {"coc", DeliveryPanel::tr("CoC in px")},
            {"depthmap", DeliveryPanel::tr("depth map")},
            {"areas", DeliveryPanel::tr("regions and mattes")}};
}

QString contentTitle(const Delivery& delivery)
{
    QStringList titles;
    for (const std::string& word : regions::namesIn(delivery.what))
        for (const ContentWord& each : contentWords())
            if (word == each.word) titles << each.title;
    return titles.join(QStringLiteral(", "));
}

QString fileTitle(FileKind file)
{
    static const std::array<const char*, 8> kTitles{"EXR",  "PNG",    "TIFF",  "JPEG",
                                                    "FFV1", "ProRes", "H.264", "VP9"};
    return QLatin1String(kTitles[static_cast<std::size_t>(file)]);
}

project::FieldPtr<Delivery> fieldOf(std::string_view key)
{
    return project::deliverySettings().find(key);
}

constexpr const char* kSamples = "samples";

using TextAccess = project::Field<Delivery>::Access<std::string>;

} // namespace

/// The settings of the chosen delivery.
class DeliveryPlace final : public FieldPlace
{
public:
    explicit DeliveryPlace(DeliveryPanel& panel) : m_panel(panel) {}
    [[nodiscard]] std::string prefix() const override { return "delivery/"; }
    [[nodiscard]] bool isThere() const override { return m_panel.chosen() != nullptr; }
    [[nodiscard]] project::SettingInfo info(const std::string& key) const override { return *fieldOf(key); }
    [[nodiscard]] double defaultOf(const std::string& key) const override
    {
        return fieldOf(key)->defaultValue();
    }
    [[nodiscard]] double number(const std::string& key) const override
    {
        const Delivery& delivery = *m_panel.chosen();
        if (key == kSamples) return static_cast<double>(project::samplesIn(delivery.file, delivery.samples));
        return fieldOf(key)->get(delivery);
    }
    [[nodiscard]] std::string text(const std::string& key) const override
    {
        return std::get<TextAccess>(fieldOf(key)->access).get(*m_panel.chosen());
    }
    void setNumber(const QString& what, const std::string& key, double value, int gesture) override
    {
        m_panel.change(
            what, [&](Delivery& d) { fieldOf(key)->set(d, value); }, gesture);
    }
    void setText(const QString& what, const std::string& key, const std::string& text) override
    {
        m_panel.change(what, [&](Delivery& d) { std::get<TextAccess>(fieldOf(key)->access).set(d, text); });
    }
    [[nodiscard]] SettingPath path(const std::string&) const override { return {}; } // they have no marks

private:
    DeliveryPanel& m_panel;
};

DeliveryPanel::DeliveryPanel(Document& document, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_section(section),
      m_list(new MemberList(tr("List of deliveries"))), m_add(new QToolButton),
      m_delete(new QPushButton(tr("Delete"))), m_deliver(new QPushButton(tr("Deliver"))),
      m_what(new NameMenuButton), m_folder(new NameButton),
      m_fields(new FieldList(document, std::make_unique<DeliveryPlace>(*this), this)), m_example(new QLabel),
      m_exportFrame(new QPushButton(tr("Export this frame…"))),
      m_exportSequence(new QPushButton(tr("Export the sequence…")))
{
    buildList();
    buildForm();
    buildMap();
    m_fields->showWhere([this](const std::string& key) { return isShown(*chosen(), key); });
    m_fields->formatBy([](const std::string& key, const NumberFormat& format) {
        if (key == "widthPx") return plainFormat({}, tr("px"), format.minimum, format.maximum, 1920.0, 6);
        if (key == "framesPerSecond")
            return plainFormat({}, tr("fps"), format.minimum, format.maximum, 0.0, 5);
        return plainFormat({}, {}, 0.0, 1e12, 0.0, 5);
    });
    connect(m_fields, &FieldList::notANumber, this, &DeliveryPanel::refused);
    m_exportFrame->setObjectName(QStringLiteral("exportFrame"));
    m_exportSequence->setObjectName(QStringLiteral("exportSequence"));
    m_exportFrame->setToolTip(tr("Now, as EXR, PNG, TIFF or JPEG."));
    m_exportSequence->setToolTip(tr("As EXR, now."));
    m_section.addWide(m_exportFrame);
    m_section.addWide(m_exportSequence);
    connect(m_exportFrame, &QPushButton::clicked, this, &DeliveryPanel::exportFrameAsked);
    connect(m_exportSequence, &QPushButton::clicked, this, &DeliveryPanel::exportSequenceAsked);
    connect(&document, &Document::projectChanged, this, &DeliveryPanel::refresh);
    connect(&document, &Document::opened, this, &DeliveryPanel::refresh);
    connect(&document, &Document::titleChanged, this, &DeliveryPanel::refresh); // files are named after it
    refresh();
}

const Delivery* DeliveryPanel::chosen() const
{
    const auto& all = m_document.project().deliveries;
    const auto it = std::ranges::find(all, m_chosen, &Delivery::id);
    return it == all.end() ? nullptr : &*it;
}

void DeliveryPanel::change(const QString& what, const std::function<void(Delivery&)>& change, int gesture)
{
    project::Project changed = m_document.project();
    for (Delivery& delivery : changed.deliveries)
        if (delivery.id == m_chosen) change(delivery);
    m_document.edit(what, changed, gesture);
}

void DeliveryPanel::arrange(const QString& what, const std::vector<std::string>& ids)
{
    project::Project changed = m_document.project();
    changed.deliveries.clear();
    for (const std::string& id : ids)
        for (const Delivery& delivery : m_document.project().deliveries)
            if (delivery.id == id) changed.deliveries.push_back(delivery);
    m_document.edit(what, changed);
}

void DeliveryPanel::buildList()
{
    m_list->setObjectName(QStringLiteral("deliveries"));
    m_list->setToolTip(tr("In the order they are made in. Double click to name."));
    m_section.addWide(m_list);
    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    m_add->setText(tr("Add"));
    m_add->setObjectName(QStringLiteral("addDelivery"));
    m_add->setPopupMode(QToolButton::InstantPopup);
    m_add->setMenu(new QMenu(m_add));
    fillAdd();
    auto* queue = new QPushButton(tr("Queue…"));
    queue->setObjectName(QStringLiteral("openQueue"));
    m_deliver->setObjectName(QStringLiteral("deliver"));
    m_deliver->setToolTip(tr("All that are checked, one after the other; the work goes on beside yours."));
    m_delete->setObjectName(QStringLiteral("deleteDelivery"));
    row->addWidget(m_add);
    row->addWidget(m_delete);
    row->addStretch(1);
    row->addWidget(queue);
    row->addWidget(m_deliver);
    m_section.addWide(buttons);
    connect(queue, &QPushButton::clicked, this, &DeliveryPanel::queueAsked);
    connect(m_deliver, &QPushButton::clicked, this, [this] { emit deliverAsked(false); });
    connect(m_delete, &QPushButton::clicked, this, [this] {
        std::vector<std::string> kept;
        for (const Delivery& delivery : m_document.project().deliveries)
            if (delivery.id != m_chosen) kept.push_back(delivery.id);
        arrange(tr("delete delivery"), kept);
    });
    connect(m_list, &MemberList::chosenByHand, this, [this](const std::string& id) {
        m_chosen = id;
        refresh();
    });
    connect(m_list, &MemberList::switched, this, [this](const std::string& id, bool on) {
        m_chosen = id;
        change(on ? tr("switch on delivery") : tr("switch off delivery"), [on](Delivery& d) { d.isOn = on; });
    });
    connect(m_list, &MemberList::named, this, [this](const std::string& id, const std::string& name) {
        const auto& all = m_document.project().deliveries;
        if (std::ranges::find(all, name, &Delivery::name) != all.end()) {
            emit refused(tr("Another delivery is called \"%1\" already.").arg(QString::fromStdString(name)));
            refresh();
            return;
        }
        m_chosen = id;
        change(tr("name delivery"), [&](Delivery& d) { d.name = name; });
    });
    connect(m_list, &MemberList::refused, this, &DeliveryPanel::refresh);
    connect(m_list, &MemberList::reordered, this,
            [this](const std::vector<std::string>& ids) { arrange(tr("reorder deliveries"), ids); });
}

/// What is asked for most, ready made.
void DeliveryPanel::fillAdd()
{
    QMenu* menu = m_add->menu();
    menu->addAction(tr("EXR frames"), this, [this] { add(tr("frames"), [](Delivery&) {}); });
    menu->addAction(tr("Review movie"), this, [this] {
        add(tr("review"), [](Delivery& d) {
            d.file = FileKind::h264;
            d.samples = project::Samples::bits8;
            d.burnsIn = true;
            d.fileName = "{project}_{delivery}";
        });
    });
    menu->addAction(tr("Depth map"), this, [this] {
        add(tr("depth map"), [](Delivery& d) {
            d.what = "depthmap";
            d.file = FileKind::png;
            d.samples = project::Samples::bits16;
        });
    });
    menu->addAction(tr("Regions and mattes"), this,
                    [this] { add(tr("mattes"), [](Delivery& d) { d.what = "areas"; }); });
    menu->addAction(tr("Contact prints"), this, [this] {
        add(tr("prints"), [](Delivery& d) {
            d.file = FileKind::jpeg;
            d.samples = project::Samples::bits8;
            d.size = project::DeliveredSize::half;
        });
    });
}

void DeliveryPanel::add(const QString& name, const std::function<void(Delivery&)>& form)
{
    project::Project changed = m_document.project();
    Delivery delivery;
    int last = 0;
    for (const Delivery& each : changed.deliveries)
        last = std::max(last, QString::fromStdString(each.id).toInt());
    delivery.id = std::to_string(last + 1);
    QString free = name;
    const auto isTaken = [&] {
        return std::ranges::find(changed.deliveries, free.toStdString(), &Delivery::name) !=
               changed.deliveries.end();
    };
    for (int i = 2; isTaken(); ++i)
        free = QStringLiteral("%1 %2").arg(name).arg(i);
    delivery.name = free.toStdString();
    form(delivery);
    changed.deliveries.push_back(delivery);
    m_chosen = delivery.id;
    m_document.edit(tr("add delivery"), changed);
}

void DeliveryPanel::buildForm()
{
    m_what->setObjectName(QStringLiteral("delivery/what"));
    m_what->setMenu(new QMenu(m_what));
    connect(m_what->menu(), &QMenu::aboutToShow, this, &DeliveryPanel::fillWhat);
    m_section.addRow(tr("What"), m_what, tr("Several become layers of one EXR."));
    m_fields->word(m_section, tr("As"), "file",
                   {tr("EXR"), tr("PNG"), tr("TIFF"), tr("JPEG"), tr("FFV1 movie"), tr("ProRes movie"),
                    tr("H.264 movie"), tr("VP9 movie")},
                   tr("Movies are made by the program ffmpeg."));
    m_samples = m_fields->word(m_section, tr("Numbers"), kSamples,
                               {tr("8 bit"), tr("16 bit"), tr("half"), tr("float")},
                               tr("Those that the format takes."));
    m_fields->word(m_section, tr("Compression"), "compression",
                   {tr("ZIP"), tr("ZIP by lines"), tr("PIZ"), tr("DWAA, with loss"), tr("none")},
                   tr("Of EXR."));
    m_fields->name(m_section, tr("Colour space"), "colourSpace", colour::outputSpaces,
                   tr("usual for its kind"),
                   tr("Scene-linear is usual for EXR and float, sRGB for the rest."));
    m_fields->word(m_section, tr("Size"), "size", {tr("full"), tr("half"), tr("a width")},
                   tr("Of the pictures."));
    m_fields->number(m_section, tr("Width"), "widthPx", tr("The height follows."));
    m_fields->toggle(m_section, tr("Keep overscan"), "keepsOverscan",
                     tr("What the files hold beyond the frame, at full size."));
    m_fields->text(m_section, tr("Frames"), "frames", tr("all"),
                   tr("1-24, 30, 40-48x2, shot NAME, in-out or marks."));
    m_fields->text(
        m_section, tr("File name"), "fileName", QStringLiteral("{project}.{frame:4}"),
        tr("{project}, {shot}, {delivery}, {eye}, {frame:4} and {date} are filled in; the ending follows."));
    m_folder->setObjectName(QStringLiteral("delivery/folder"));
    m_section.addRow(tr("Folder"), m_folder, tr("Beside the project where nothing is chosen."));
    connect(m_folder, &QPushButton::clicked, this, &DeliveryPanel::folderAsked);
    m_fields->number(m_section, tr("Rate"), "framesPerSecond", tr("0: as it is played."));
    m_fields->toggle(m_section, tr("Both eyes"), "bothEyes",
                     tr("A file for each eye of the stereo render: put {eye} in the name."));
    m_fields->toggle(m_section, tr("Burn in frame, shot, focus and f-stop"), "burnsIn",
                     tr("In the lower left corner."));
}

void DeliveryPanel::buildMap()
{
    m_fields->toggle(m_section, tr("Near is bright"), "nearIsBright", tr("Off: near is dark."));
    m_fields->word(m_section, tr("Even in"), "spacing", {tr("distance"), tr("1/distance")},
                   tr("What the greys are even in."));
    m_fields->number(m_section, tr("Nearest"), "mapNearest", tr("Scene units; 0: as found."));
    m_fields->number(m_section, tr("Farthest"), "mapFarthest", tr("Scene units; 0: as found."));
    m_example->setObjectName(QStringLiteral("deliveryExample"));
    m_example->setWordWrap(true);
    m_section.addWide(m_example);
}

void DeliveryPanel::fillWhat()
{
    QMenu* menu = m_what->menu();
    menu->clear();
    const Delivery* delivery = chosen();
    if (!delivery) return;
    const auto listed = regions::namesIn(delivery->what);
    const bool mayBeSeveral = delivery->file == FileKind::exr;
    for (const ContentWord& each : contentWords()) {
        QAction* action = menu->addAction(each.title);
        action->setCheckable(true);
        action->setChecked(std::ranges::find(listed, each.word) != listed.end());
        connect(action, &QAction::triggered, this,
                [this, listed, mayBeSeveral, word = std::string(each.word)](bool on) {
                    std::vector<std::string> words = mayBeSeveral ? listed : std::vector<std::string>();
                    std::erase(words, word);
                    if (on || words.empty()) words.push_back(word);
                    change(tr("choose what to deliver"),
                           [&](Delivery& d) { d.what = regions::listOf(words); });
                });
    }
}

bool DeliveryPanel::isShown(const Delivery& delivery, std::string_view key) const
{
    const bool isExr = delivery.file == FileKind::exr;
    const bool isMap = delivery.what.find("depthmap") != std::string::npos;
    if (key == kSamples) return !delivery.isMovie() && delivery.file != FileKind::jpeg;
    if (key == "compression" || key == "keepsOverscan") return isExr;
    if (key == "bothEyes") return m_document.source() && !m_document.source()->eyes().empty();
    if (key == "widthPx") return delivery.size == project::DeliveredSize::width;
    if (key == "framesPerSecond" || key == "burnsIn") return delivery.isMovie();
    if (key == "nearIsBright" || key == "spacing" || key == "mapNearest" || key == "mapFarthest")
        return isMap;
    return true;
}

QString DeliveryPanel::example(const Delivery& delivery) const
{
    try {
        (void)delivery::contentsOf(delivery);
        const auto frames = delivery::framesIn(delivery.frames, m_document.project());
        const delivery::FileNames names(m_document.project(), m_document.file().toStdString(), delivery);
        const QString file = QString::fromStdString(names.of(frames.front()).filename().string());
        const QString folder = QDir::toNativeSeparators(QString::fromStdString(names.folder().string()));
        return delivery.isMovie()
                   ? tr("%1, of %n frame(s), in %2", nullptr, static_cast<int>(frames.size()))
                         .arg(file, folder)
                   : tr("%1 and so on, %n frame(s), in %2", nullptr, static_cast<int>(frames.size()))
                         .arg(file, folder);
    } catch (const Error& error) {
        return QString::fromStdString(error.what());
    }
}

void DeliveryPanel::refresh()
{
    const bool isOpen = m_document.isOpen();
    m_exportFrame->setEnabled(isOpen);
    m_exportSequence->setEnabled(isOpen && m_document.isSequence());
    m_add->setEnabled(isOpen);
    std::vector<MemberList::Row> rows;
    QStringList names;
    bool anyOn = false;
    for (const Delivery& delivery : m_document.project().deliveries) {
        rows.push_back({delivery.id, delivery.name,
                        contentTitle(delivery) + QStringLiteral(", ") + fileTitle(delivery.file),
                        delivery.isOn});
        if (delivery.isOn) names << QString::fromStdString(delivery.name);
        anyOn = anyOn || delivery.isOn;
    }
    if (!chosen()) m_chosen = rows.empty() ? std::string() : rows.front().id;
    m_list->setRows(rows, m_chosen);
    m_list->setVisible(!rows.empty());
    m_deliver->setEnabled(anyOn);
    m_section.setSummary(!isOpen           ? tr("nothing is open")
                         : names.isEmpty() ? tr("nothing")
                                           : names.join(QStringLiteral(", ")));
    const Delivery* delivery = chosen();
    m_delete->setVisible(delivery != nullptr);
    for (QWidget* widget : {static_cast<QWidget*>(m_what), static_cast<QWidget*>(m_folder)})
        m_section.setRowVisible(widget, delivery != nullptr);
    m_example->setVisible(delivery != nullptr);
    m_fields->refresh();
    if (!delivery) return;
    auto* samples = qobject_cast<QStandardItemModel*>(m_samples->model());
    for (int i = 0; samples && i < samples->rowCount(); ++i) {
        const auto each = static_cast<project::Samples>(i);
        samples->item(i)->setEnabled(project::samplesIn(delivery->file, each) == each);
    }
    const QString all = contentTitle(*delivery);
    const auto more = static_cast<int>(all.count(QStringLiteral(", ")));
    m_what->setText(more == 0 ? all
                              : tr("%1 and %2 more").arg(all.section(QStringLiteral(", "), 0, 0)).arg(more));
    m_what->setToolTip(all);
    m_folder->setText(delivery->folder.empty() ? tr("beside the project")
                                               : QDir(QString::fromStdString(delivery->folder)).dirName());
    m_folder->setToolTip(QString::fromStdString(delivery->folder));
    m_example->setText(example(*delivery));
}

} // namespace retinex::app
