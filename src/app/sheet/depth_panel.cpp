#include "app/sheet/depth_panel.h"

#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/look/style.h"
#include "core/depth/measure.h"
#include "core/system/error.h"

#include <QHBoxLayout>
#include <QSignalBlocker>
#include <cmath>

namespace retinex::app {

namespace {

constexpr const char* kOffset = "reading/offset";
constexpr const char* kSmoothLevels = "reading/smoothLevels";

/// Shown as `word` where it is `value`.
NumberFormat withWord(NumberFormat format, double value, const QString& word)
{
    format.toText = [plain = format.toText, value, word](double v) { return v == value ? word : plain(v); };
    format.fromText = [plain = format.fromText, value, word](const QString& text) {
        return text.trimmed() == word ? std::optional(value) : plain(text);
    };
    return format;
}

NumberFormat storedFormat(double defaultValue)
{
    NumberFormat format = plainFormat({}, {}, -1e9, 1e9, defaultValue, 6);
    format.geometric = false;
    format.step = 0.002;
    return format;
}

/// What is added to distances, in the project's unit; it may be below 0.
NumberFormat offsetFormat(const project::Project& project)
{
    NumberFormat offset = distanceFormat(project, -1e6, 0.0);
    offset.geometric = false;
    offset.fromText = [unit = project.unit, scale = project.metresPerUnit](const QString& text) {
        const bool minus = text.trimmed().startsWith(QLatin1Char('-'));
        const auto metres =
            optics::parseDistanceMetres(text.trimmed().mid(minus ? 1 : 0).toStdString(), unit);
        return metres ? std::optional((minus ? -1.0 : 1.0) * *metres / scale) : std::nullopt;
    };
    return offset;
}

QString remapText(const project::Project& project, const depth::Conditioning& conditioning)
{
    QStringList points;
    for (const auto& [from, to] : conditioning.remap)
        points.append(
            QStringLiteral("%1 > %2").arg(shownDistance(project, from), shownDistance(project, to)));
    return points.join(QStringLiteral(", "));
}

} // namespace

/// How depth is read: every change goes by editReading(), and ends keep their order.
class ReadingPlace final : public ShotPlace
{
public:
    ReadingPlace(Document& document, DepthPanel& panel) : ShotPlace(document), m_panel(panel) {}
    void setNumber(const QString& what, const std::string& key, double value, int gesture) override
    {
        m_panel.edit(
            what,
            [&](depth::ReadingSettings& r) {
                if (key == setting::nearest) return depth::setNearest(r, value);
                if (key == setting::farthest) return depth::setFarthest(r, value);
                if (key == setting::storedLow) value = std::min(value, r.storedHigh - 1e-6);
                if (key == setting::storedHigh) value = std::max(value, r.storedLow + 1e-6);
                if (key == kSmoothLevels) value *= 255.0;
                project::Settings settings;
                settings.reading = r;
                project::infoOf(key)->set(settings, value);
                r = settings.reading;
            },
            gesture);
        m_panel.refresh(); // a value that was held back shows as what it became
    }

private:
    DepthPanel& m_panel;
};

DepthPanel::DepthPanel(Document& document, AnalysisService& analysis, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_analysis(analysis), m_section(section),
      m_fields(new FieldList(document, std::make_unique<ReadingPlace>(document, *this), this))
{
    m_fields->formatBy([&document](const std::string& key, NumberFormat format) {
        if (key == setting::storedLow || key == setting::storedHigh)
            return storedFormat(key == setting::storedLow ? 0.0 : 1.0);
        if (key == "reading/gaps/from")
            return withWord(std::move(format), std::numeric_limits<double>::infinity(), tr("none"));
        if (key == "reading/fieldOfViewDeg") return withWord(std::move(format), 0.0, tr("by the lens"));
        return key == kOffset ? offsetFormat(document.project()) : format;
    });
    m_fields->showWhere([&document](const std::string& key) {
        const depth::ReadingSettings& r = document.values().reading;
        const bool isGrey = depth::isGrey(r.reading);
        if (key == "reading/spacing" || key == "reading/encoding") return isGrey;
        if (key == "reading/clipRange") return r.reading == depth::Reading::clipSpace;
        if (key == "reading/fieldOfViewDeg") return r.reading == depth::Reading::distanceAlongRay;
        if (key == setting::storedLow || key == setting::storedHigh) return isGrey || r.reversed;
        return key != "reading/gaps/distance" || r.gaps.place == depth::GapRules::Place::distance;
    });
    buildReading();
    buildEnds();
    buildGaps();
    buildMending();
    connect(m_fields, &FieldList::notANumber, this, &DepthPanel::notANumber);
    connect(&document, &Document::projectChanged, this, &DepthPanel::refresh);
    connect(&document, &Document::frameChanged, this, &DepthPanel::refresh);
    connect(&document, &Document::opened, this, [this] {
        m_passes = nullptr;
        refresh();
    });
    connect(&analysis, &AnalysisService::changed, this, &DepthPanel::refreshProposal);
    refresh();
    refreshProposal();
}

void DepthPanel::edit(const QString& what, const Change& change, int gesture)
{
    m_document.editReading(what, m_passes, change, gesture);
}

void DepthPanel::buildReading()
{
    m_proposal = wordsLabel("proposal");
    m_section.addWide(m_proposal);
    m_use = new QPushButton(tr("Use this reading"));
    m_use->setObjectName(QStringLiteral("useProposal"));
    m_section.addWide(m_use);
    connect(m_use, &QPushButton::clicked, this, &DepthPanel::useProposal);
    QStringList readings;
    for (int i = 0; i < depth::kReadingCount; ++i)
        readings.append(shownWords(depth::title(static_cast<depth::Reading>(i))));
    m_fields->word(m_section, tr("Reading"), "reading/kind", readings,
                   tr("How stored numbers become distance."));
    m_reverse = new QPushButton(tr("Turn near and far round"));
    m_reverse->setObjectName(QStringLiteral("reverse"));
    m_reverse->setToolTip(tr("For depth that was written, or is read, the wrong way round."));
    m_section.addWide(m_reverse);
    connect(m_reverse, &QPushButton::clicked, this, &DepthPanel::reverse);
    m_fields->word(m_section, tr("Grey steps"), "reading/spacing",
                   {tr("even in distance"), tr("even in 1/distance")},
                   tr("What a step of grey is the same amount of."));
    m_fields->word(m_section, tr("Encoding"), "reading/encoding", {tr("linear"), tr("for display (sRGB)")},
                   tr("Greys that were prepared for display are washed out until they are made linear."));
    m_fields->word(m_section, tr("Clip range"), "reading/clipRange",
                   {tr("0 near to 1 far"), tr("−1 near to 1 far"), tr("1 near to 0 far")},
                   tr("The numbers of the near and the far clip plane."));
    m_fields->number(
        m_section, tr("Field of view"), "reading/fieldOfViewDeg",
        tr("Of the camera that rendered, across the width; 0: by focal length and sensor width."));
}

void DepthPanel::reverse()
{
    edit(tr("turn near and far round"), [this](depth::ReadingSettings& r) {
        const bool wasReversed = r.reversed;
        depth::reverse(r);
        // The numbers are turned round between the ends of this pass.
        if (r.reversed && !wasReversed && m_analysis.analysis()) {
            r.storedLow = m_analysis.analysis()->statistics.least;
            r.storedHigh = std::max(m_analysis.analysis()->statistics.most, r.storedLow + 1e-6);
        }
    });
}

void DepthPanel::buildEnds()
{
    m_fields->number(m_section, tr("Nearest"), setting::nearest,
                     tr("Near end of the Depth view; of a grey: the distance its near end stands for."));
    m_fields->number(m_section, tr("Farthest"), setting::farthest,
                     tr("Far end of the Depth view; of a grey: the distance its far end stands for."));
    m_fields->number(m_section, tr("Dark end"), setting::storedLow, tr("The stored number of the dark end."));
    m_fields->number(m_section, tr("Bright end"), setting::storedHigh,
                     tr("The stored number of the bright end."));
    m_percentiles = new QPushButton(tr("Ends from 1 to 99 % of this frame"));
    m_percentiles->setObjectName(QStringLiteral("percentiles"));
    m_section.addWide(m_percentiles);
    connect(m_percentiles, &QPushButton::clicked, this, &DepthPanel::endsFromPercentiles);
    m_fields->toggle(m_section, tr("Hold distances between the ends"), "reading/clamp",
                     tr("What lies nearer or farther is moved to the end."));
    m_section.addRow(tr("This frame"), m_range = valueLabel("range"), tr("Nearest and farthest distance."));
}

void DepthPanel::buildGaps()
{
    m_section.addRow(tr("Gaps"), m_gaps = valueLabel("gaps"),
                     tr("Pixels with no depth. Infinite numbers and NaN are gaps always."));
    m_fields->toggle(m_section, tr("0 is a gap"), "reading/gaps/zero",
                     tr("Many renderers write 0 where nothing is."));
    m_fields->toggle(m_section, tr("Outside alpha is a gap"), "reading/gaps/outsideAlpha",
                     tr("Where alpha is 0, nothing is."));
    m_fields->number(m_section, tr("Gaps above"), "reading/gaps/from",
                     tr("Stored numbers from this one on stand for nothing (1e10, 65504, …)."));
    m_gapPlace = m_fields->word(m_section, tr("Gaps go"), "reading/gaps/place",
                                {tr("to the far end"), tr("to a distance"), tr("where neighbours are")},
                                tr("The distance that gaps are given."));
    m_fields->number(m_section, tr("Gap distance"), "reading/gaps/distance", tr("The distance of gaps."));
}

void DepthPanel::buildMending()
{
    m_fields->toggle(m_section, tr("Snap anti-aliased edges"), "reading/snapEdges",
                     tr("Edge values between two surfaces are given to one of them."));
    m_fields->toggle(m_section, tr("Smooth 8-bit steps"), kSmoothLevels,
                     tr("Within surfaces; edges stay where they are."));
    m_fields->number(m_section, tr("Soften"), "reading/softenPx", tr("For noisy depth; keeps edges."));
    m_fields->number(m_section, tr("Offset"), kOffset, tr("Added to every distance."));
    m_remap = new QLineEdit;
    m_remap->setObjectName(QStringLiteral("remap"));
    m_remap->setPlaceholderText(tr("2m > 2m, 10m > 6m"));
    m_section.addRow(
        tr("Remap"), m_remap,
        tr("A curve of distances: pairs of before > after, rising. Straight between, shifted beyond."));
    connect(m_remap, &QLineEdit::editingFinished, this, &DepthPanel::applyRemap);
}

void DepthPanel::applyRemap()
{
    const auto& project = m_document.project();
    std::vector<std::pair<double, double>> points;
    const QStringList pairs = m_remap->text().split(QLatin1Char(','), Qt::SkipEmptyParts);
    for (const QString& pair : pairs) {
        const QStringList ends = pair.split(QLatin1Char('>'));
        const auto metres = [&](int i) {
            return optics::parseDistanceMetres(ends.value(i).toStdString(), project.unit);
        };
        const auto from = metres(0);
        const auto to = metres(1);
        if (ends.size() != 2 || !from || !to) {
            emit notANumber(
                tr("\"%1\" is no pair of distances. Write 2m > 2m, 10m > 6m.").arg(pair.trimmed()));
            return;
        }
        points.emplace_back(*from / project.metresPerUnit, *to / project.metresPerUnit);
    }
    depth::ReadingSettings trial = m_document.values().reading;
    trial.conditioning.remap = points;
    try {
        trial.check();
    } catch (const Error& error) {
        emit notANumber(QString::fromStdString(error.what()));
        return;
    }
    edit(tr("remap depth"), [&](depth::ReadingSettings& r) { r.conditioning.remap = points; });
}

void DepthPanel::useProposal()
{
    if (!m_analysis.analysis()) return;
    take(m_analysis.analysis()->proposal.settings, tr("use the proposed reading"));
}

void DepthPanel::take(depth::ReadingSettings reading, const QString& what)
{
    edit(what, [&](depth::ReadingSettings& r) {
        if (!depth::needsEnds(reading.reading)) { // the Depth view's ends, unless they were proposed
            reading.nearest = r.nearest;
            reading.farthest = r.farthest;
        }
        r = reading;
    });
}

void DepthPanel::endsFromPercentiles()
{
    if (!m_passes) return;
    const auto& reading = m_document.values().reading;
    const bool grey = depth::isGrey(reading.reading);
    const Plane<float>& numbers = grey ? m_passes->stored() : m_passes->distance();
    const auto ends = depth::percentilesIn(numbers, m_passes->gaps(),
                                           {0, 0, numbers.width(), numbers.height()}, 0.01, 0.99);
    if (!ends || !(ends->second > ends->first)) return;
    edit(tr("set ends from percentiles"), [&](depth::ReadingSettings& r) {
        if (grey) {
            r.storedLow = ends->first;
            r.storedHigh = ends->second;
        } else {
            r.nearest = ends->first;
            depth::setFarthest(r, ends->second);
        }
    });
}

void DepthPanel::setPasses(const passes::FramePassesPtr& passes)
{
    m_passes = passes;
    refresh();
}

void DepthPanel::refreshProposal()
{
    const auto& analysis = m_analysis.analysis();
    m_proposal->setText(analysis && m_document.isOpen()
                            ? tr("%1, proposed: %2.")
                                  .arg(QString::fromStdString(
                                           m_document.source()->depthFiles().pattern().filename().string()),
                                       QString::fromStdString(analysis->proposal.inWords()))
                            : QString());
    m_proposal->setVisible(analysis != nullptr);
    // It stays in its place.
    m_use->setEnabled(analysis && !analysis->proposal.isTakenBy(m_document.values().reading));
}

void DepthPanel::refresh()
{
    m_fields->refresh();
    const project::Project& project = m_document.project();
    const depth::ReadingSettings& r = m_document.values().reading;
    if (!m_remap->hasFocus()) m_remap->setText(remapText(project, r.conditioning));
    const QString title = project.passOptions.handMadeDepth ? tr("made by hand")
                                                            : shownWords(depth::title(r.reading)) +
                                                                  (r.reversed ? tr(", reversed") : QString());
    if (m_passes) {
        const auto& range = m_passes->range;
        m_range->setText(range.hasSurface() ? tr("%1 to %2")
                                                  .arg(shownDistance(project, range.nearest),
                                                       shownDistance(project, range.farthest))
                                            : tr("nothing but gaps"));
        m_gaps->setText(tr("%1 %, %2")
                            .arg(100.0 * static_cast<double>(range.gapCount) /
                                     static_cast<double>(std::max<std::size_t>(1, range.pixelCount)),
                                 0, 'f', 1)
                            .arg(m_gapPlace->currentText()));
        m_section.setSummary(tr("%1, %2, gaps %3").arg(title, m_range->text(), m_gapPlace->currentText()));
    } else {
        m_range->clear();
        m_gaps->clear();
        m_section.setSummary(title);
    }
    refreshProposal();
}

} // namespace retinex::app
