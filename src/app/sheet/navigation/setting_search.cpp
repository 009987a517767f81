#include "app/sheet/navigation/setting_search.h"

#include "app/fields/value_label.h"

#include <QAbstractButton>
#include <QApplication>
#include <QKeyEvent>
#include <QSet>
#include <QVBoxLayout>
#include <algorithm>

namespace retinex::app {

namespace {

constexpr int kMostShown = 9;

struct OtherName
{
    QLatin1String control; ///< what its object name begins with
    QString words;
};

/// What people call things, where the sheet says something else (common practice).
const std::vector<OtherName>& otherNames()
{
    static const std::vector<OtherName> names{
        {QLatin1String("lens/fStop"), SettingSearch::tr("aperture f-number depth of field dof blur amount")},
        {QLatin1String("focus/distance"), SettingSearch::tr("focal plane focal distance depth of focus")},
        {QLatin1String("lens/sensorWidthMm"), SettingSearch::tr("film back gate width camera")},
        {QLatin1String("lens/acceptedCocMm"), SettingSearch::tr("circle of confusion sharpness tolerance")},
        {QLatin1String("blur/strength"), SettingSearch::tr("defocus amount multiplier bokeh size")},
        {QLatin1String("blur/limit"), SettingSearch::tr("maximum blur clamp")},
        {QLatin1String("lens/simple"), SettingSearch::tr("radius without a camera pixels")},
        {QLatin1String("scale"), SettingSearch::tr("units world scale centimetres")},
        {QLatin1String("iris/blades"), SettingSearch::tr("bokeh shape polygon hexagon sides")},
        {QLatin1String("iris/rounding"), SettingSearch::tr("bokeh curvature roundness")},
        {QLatin1String("iris/turnDeg"), SettingSearch::tr("bokeh rotation angle")},
        {QLatin1String("iris/squeeze"), SettingSearch::tr("anamorphic oval bokeh ratio aspect")},
        {QLatin1String("iris/catsEye"), SettingSearch::tr("optical vignetting mechanical swirl bokeh")},
        {QLatin1String("iris/rim"), SettingSearch::tr("spherical aberration soap bubble ring bokeh edge")},
        {QLatin1String("iris/picture"), SettingSearch::tr("custom bokeh kernel shape image")},
        {QLatin1String("chooseIrisPicture"), SettingSearch::tr("custom bokeh kernel shape image")},
        {QLatin1String("glint"), SettingSearch::tr("highlights boost bokeh bloom threshold gain")},
        {QLatin1String("finish/fringing"), SettingSearch::tr("chromatic aberration colour fringe lateral")},
        {QLatin1String("finish/glow"), SettingSearch::tr("bloom halation diffusion glare")},
        {QLatin1String("add/glows"), SettingSearch::tr("bloom halation diffusion glare")},
        {QLatin1String("finish/vignette"), SettingSearch::tr("vignetting dark corners falloff")},
        {QLatin1String("finish/grain"), SettingSearch::tr("noise film")},
        {QLatin1String("finish/grade"), SettingSearch::tr("colour correction balance lift gamma gain cdl")},
        {QLatin1String("finish/look"), SettingSearch::tr("lut 3d cube")},
        {QLatin1String("finish/plate"), SettingSearch::tr("texture dirt lens overlay")},
        {QLatin1String("reading"), SettingSearch::tr("z depth pass zdepth invert normalise normalize")},
        {QLatin1String("reverse"), SettingSearch::tr("invert depth flip white black")},
        {QLatin1String("reading/softenPx"), SettingSearch::tr("blur depth antialias")},
        {QLatin1String("addRegion"), SettingSearch::tr("mask roto garbage matte holdout patch guard")},
        {QLatin1String("addInsert"), SettingSearch::tr("background sky layer card image plane backdrop")},
        {QLatin1String("newSubject"), SettingSearch::tr("tracker track point target follow focus pull")},
        {QLatin1String("mattes"), SettingSearch::tr("mask id cryptomatte object")},
        {QLatin1String("inputSpace"), SettingSearch::tr("colour space srgb aces linear gamma")},
        {QLatin1String("deliver"), SettingSearch::tr("export render output write movie codec save")},
        {QLatin1String("exportFrame"), SettingSearch::tr("save picture still png jpeg render")},
        {QLatin1String("alphaChoice"), SettingSearch::tr("transparency opacity")},
        {QLatin1String("repair/frameEdge"), SettingSearch::tr("border mirror overscan")},
        {QLatin1String("views"), SettingSearch::tr("inpaint holes fill clean plate other frames")},
        {QLatin1String("motionChoice"), SettingSearch::tr("motion vectors velocity")},
    };
    return names;
}

QString plain(const QString& text)
{
    QString words = text;
    return words.remove(QLatin1Char('&')).remove(QChar(0x2026)).trimmed();
}

QString nameOf(const QWidget& control)
{
    if (auto* button = qobject_cast<const QAbstractButton*>(&control))
        if (!button->text().isEmpty() && button->text().size() > 1 && control.accessibleName().isEmpty())
            return plain(button->text());
    return plain(control.accessibleName());
}

Section* sectionOf(QWidget& control)
{
    for (QWidget* at = control.parentWidget(); at; at = at->parentWidget())
        if (auto* section = qobject_cast<Section*>(at)) return section;
    return nullptr;
}

/// Whether a word of `text` begins with `part`.
bool hasWord(const QString& text, const QString& part)
{
    for (qsizetype at = text.indexOf(part, 0, Qt::CaseInsensitive); at >= 0;
         at = text.indexOf(part, at + 1, Qt::CaseInsensitive))
        if (at == 0 || !text[at - 1].isLetterOrNumber()) return true;
    return false;
}

/// How well all of `words` are found, lower is better; negative: they are not.
int rankOf(const QStringList& words, const QWidget& control, const QString& name, const QString& section)
{
    QString others;
    for (const OtherName& other : otherNames())
        if (control.objectName().startsWith(other.control)) others += other.words + QLatin1Char(' ');
    int worst = 0;
    for (const QString& word : words) {
        const int rank = name.startsWith(word, Qt::CaseInsensitive) ? 0
                         : hasWord(name, word)                      ? 1
                         : hasWord(others, word)                    ? 2
                         : hasWord(section, word)                   ? 3
                         : hasWord(control.toolTip(), word)         ? 4
                                                                    : -1;
        if (rank < 0) return -1;
        worst = std::max(worst, rank);
    }
    return worst;
}

} // namespace

SettingSearch::SettingSearch(QWidget& sheet, QWidget* parent)
    : QWidget(parent), m_sheet(sheet), m_text(new QLineEdit), m_list(new QListWidget)
{
    setObjectName(QStringLiteral("settingSearch"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 6, 12, 6);
    column->setSpacing(4);
    m_text->setObjectName(QStringLiteral("searchText"));
    m_text->setAccessibleName(tr("Find a setting"));
    m_text->setPlaceholderText(tr("Find a setting: bokeh, aperture, noise…"));
    m_text->setClearButtonEnabled(true);
    m_text->installEventFilter(this);
    column->addWidget(m_text);
    m_list->setObjectName(QStringLiteral("searchHits"));
    m_list->setAccessibleName(tr("Settings found"));
    m_list->setFocusPolicy(Qt::NoFocus);
    m_list->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->hide();
    column->addWidget(m_list);
    connect(m_text, &QLineEdit::textChanged, this, &SettingSearch::search);
    connect(m_text, &QLineEdit::returnPressed, this, [this] { take(m_list->currentRow()); });
    connect(m_list, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { take(m_list->row(item)); });
    hide();
}

void SettingSearch::begin()
{
    if (!m_text->hasFocus()) m_before = QApplication::focusWidget();
    show();
    m_text->setFocus(Qt::ShortcutFocusReason);
    m_text->selectAll();
    search(m_text->text());
}

void SettingSearch::leave()
{
    m_text->clear();
    hide();
}

void SettingSearch::search(const QString& text)
{
    const QStringList words = text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    m_hits.clear();
    m_list->clear();
    QSet<QString> seen;
    if (!words.isEmpty())
        for (QWidget* control : m_sheet.findChildren<QWidget*>()) {
            if (control->focusPolicy() == Qt::NoFocus && !qobject_cast<ValueLabel*>(control)) continue;
            Section* section = sectionOf(*control);
            if (!section && !control->objectName().contains(QLatin1Char('/'))) continue; // no setting
            const QString name = nameOf(*control);
            if (name.isEmpty()) continue;
            const QString title = section ? section->title() : tr("above");
            const int rank = rankOf(words, *control, name, title);
            const QString key = title + QLatin1Char('/') + name;
            if (rank < 0 || seen.contains(key)) continue;
            seen.insert(key);
            m_hits.push_back({control, section, name, rank});
        }
    std::ranges::stable_sort(m_hits, {}, &Hit::rank);
    if (m_hits.size() > kMostShown) m_hits.resize(kMostShown);
    for (const Hit& hit : m_hits) {
        // A row that is not shown belongs to something that is not there, or not chosen, yet.
        const bool isThere = !hit.section || hit.control->isVisibleTo(hit.section) || hit.section->isFolded();
        const bool isHeader = hit.section && hit.name == hit.section->title();
        QString line = isHeader      ? tr("%1: the section").arg(hit.name)
                       : hit.section ? QStringLiteral("%1   %2").arg(hit.name, hit.section->title())
                                     : tr("%1   at the top").arg(hit.name);
        if (!isThere) line += tr(" (not now)");
        m_list->addItem(line);
    }
    if (!words.isEmpty() && m_hits.empty()) {
        m_list->addItem(tr("Nothing is called so"));
        m_list->item(0)->setFlags(Qt::NoItemFlags);
    }
    m_list->setCurrentRow(m_hits.empty() ? -1 : 0);
    m_list->setVisible(m_list->count() > 0);
    m_list->setFixedHeight(m_list->count() * std::max(18, m_list->sizeHintForRow(0)) + 4);
}

void SettingSearch::take(int row)
{
    if (row < 0 || row >= static_cast<int>(m_hits.size())) return;
    const Hit hit = m_hits[static_cast<std::size_t>(row)];
    leave();
    emit found(hit.control, hit.section);
}

bool SettingSearch::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == m_text && event->type() == QEvent::ShortcutOverride &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    if (watched == m_text && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Escape) {
            leave();
            if (m_before) m_before->setFocus(); // the keys go back to where they were
            return true;
        }
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int count = static_cast<int>(m_hits.size());
            if (count > 0)
                m_list->setCurrentRow((m_list->currentRow() + (key == Qt::Key_Down ? 1 : count - 1)) % count);
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace retinex::app
