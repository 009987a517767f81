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

QString words(std::string_view text)
{
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

/// "∞" where nothing is set.
NumberFormat limitFormat()
{
    NumberFormat format = plainFormat({}, {}, -1e12, std::numeric_limits<double>::infinity(),
                                      std::numeric_limits<double>::infinity(), 6);
    const auto plain = format;
    format.toText = [plain](double v) { return std::isinf(v) ? QObject::tr("none") : plain.toText(v); };
    format.fromText = [plain](const QString& text) -> std::optional<double> {
        if (text.trimmed() == QObject::tr("none")) return std::numeric_limits<double>::infinity();
        return plain.fromText(text);
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

QString remapText(const project::Project& project, const depth::Conditioning& conditioning)
{
    QStringList points;
    for (const auto& [from, to] : conditioning.remap)
        points.append(
            QStringLiteral("%1 > %2").arg(shownDistance(project, from), shownDistance(project, to)));
    return points.join(QStringLiteral(", "));
}

} // namespace

DepthPanel::DepthPanel(Document& document, AnalysisService& analysis, FieldList& fields, Section& section,
                       QObject* parent)
    : QObject(parent), m_document(document), m_analysis(analysis), m_section(section)
{
    buildReading();
    buildEnds();
    fields.followMarks(m_nearest, setting::nearest, tr("nearest"));
    fields.followMarks(m_farthest, setting::farthest, tr("farthest"));
    fields.followMarks(m_storedLow, setting::storedLow, tr("dark end"));
    fields.followMarks(m_storedHigh, setting::storedHigh, tr("bright end"));
    buildGaps();
    buildMending();
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

NumberField* DepthPanel::addNumber(const QString& label, const char* name, const NumberFormat& format,
                                   const QString& help, const QString& what,
                                   std::function<void(depth::ReadingSettings&, double)> apply)
{
    auto* field = new NumberField(format);
    field->setObjectName(QLatin1String(name));
    m_section.addRow(label, field, help);
    connect(field, &NumberField::edited, this, [this, field, what, apply](double value, int gesture) {
        edit(
            what, [&](depth::ReadingSettings& reading) { apply(reading, value); }, gesture);
        refresh(); // a value that was held back shows as what it became
    });
    connect(field, &NumberField::rejected, this,
            [this, field, label](const QString& text) { emit notANumber(field->refusal(label, text)); });
    return field;
}

QComboBox* DepthPanel::addChoice(const QString& label, const char* name, const QString& help,
                                 const QString& what, const QStringList& choices,
                                 std::function<void(depth::ReadingSettings&, int)> apply)
{
    auto* box = new Chooser;
    box->setObjectName(QLatin1String(name));
    box->addItems(choices);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(4);
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    m_section.addRow(label, box, help);
    connect(box, &QComboBox::activated, this, [this, what, apply](int index) {
        edit(what, [&](depth::ReadingSettings& reading) { apply(reading, index); });
    });
    return box;
}

QCheckBox* DepthPanel::addCheck(const QString& text, const char* name, const QString& help,
                                const QString& what, std::function<void(depth::ReadingSettings&, bool)> apply)
{
    auto* box = new QCheckBox(text);
    box->setObjectName(QLatin1String(name));
    box->setToolTip(help);
    m_section.form().addRow(box);
    connect(box, &QCheckBox::clicked, this, [this, what, apply](bool on) {
        edit(what, [&](depth::ReadingSettings& reading) { apply(reading, on); });
    });
    return box;
}

void DepthPanel::edit(const QString& what, const Change& change, int gesture)
{
    m_document.editReading(what, m_passes, change, gesture);
}

void DepthPanel::buildReading()
{
    m_proposal = wordsLabel("proposal");
    m_section.form().addRow(m_proposal);
    m_use = new QPushButton(tr("Use this reading"));
    m_use->setObjectName(QStringLiteral("useProposal"));
    m_section.form().addRow(m_use);
    connect(m_use, &QPushButton::clicked, this, &DepthPanel::useProposal);
    QStringList readings;
    for (int i = 0; i < depth::kReadingCount; ++i)
        readings.append(words(depth::title(static_cast<depth::Reading>(i))));
    m_reading = addChoice(tr("Reading"), "reading", tr("How stored numbers become distance."),
                          tr("set depth reading"), readings, [](depth::ReadingSettings& r, int index) {
                              r.reading = static_cast<depth::Reading>(index);
                          });
    m_reverse = new QPushButton(tr("Turn near and far round"));
    m_reverse->setObjectName(QStringLiteral("reverse"));
    m_reverse->setToolTip(tr("For depth that was written, or is read, the wrong way round."));
    m_section.form().addRow(m_reverse);
    connect(m_reverse, &QPushButton::clicked, this, &DepthPanel::reverse);
    m_spacing =
        addChoice(tr("Grey steps"), "spacing", tr("What a step of grey is the same amount of."),
                  tr("set spacing of greys"), {tr("even in distance"), tr("even in 1/distance")},
                  [](depth::ReadingSettings& r, int i) { r.spacing = static_cast<depth::Spacing>(i); });
    m_encoding =
        addChoice(tr("Encoding"), "encoding",
                  tr("Greys that were prepared for display are washed out until they are made linear."),
                  tr("set encoding of greys"), {tr("linear"), tr("for display (sRGB)")},
                  [](depth::ReadingSettings& r, int i) { r.encoding = static_cast<depth::Encoding>(i); });
    m_clipRange = addChoice(
        tr("Clip range"), "clipRange", tr("The numbers of the near and the far clip plane."),
        tr("set range of clip space"), {tr("0 near to 1 far"), tr("−1 near to 1 far"), tr("1 near to 0 far")},
        [](depth::ReadingSettings& r, int i) { r.clipRange = static_cast<depth::ClipRange>(i); });
    NumberFormat degrees = plainFormat({}, QStringLiteral("°"), 0.0, 179.0, 0.0, 4);
    degrees.geometric = false;
    degrees.step = 0.2;
    const auto plain = degrees;
    degrees.toText = [plain](double v) { return v <= 0.0 ? tr("by the lens") : plain.toText(v); };
    degrees.fromText = [plain](const QString& t) -> std::optional<double> {
        return t.trimmed() == tr("by the lens") ? std::optional(0.0) : plain.fromText(t);
    };
    m_fieldOfView =
        addNumber(tr("Field of view"), "fieldOfView", degrees,
                  tr("Of the camera that rendered, across the width; 0: by focal length and sensor width."),
                  tr("set field of view"), [](depth::ReadingSettings& r, double v) { r.fieldOfViewDeg = v; });
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
    const auto distance = distanceFormat(m_document.project(), 1e-6, 1.0);
    m_nearest =
        addNumber(tr("Nearest"), "nearest", distance,
                  tr("Near end of the Depth view; of a grey: the distance its near end stands for."),
                  tr("set nearest"), [](depth::ReadingSettings& r, double v) { depth::setNearest(r, v); });
    m_farthest =
        addNumber(tr("Farthest"), "farthest", distance,
                  tr("Far end of the Depth view; of a grey: the distance its far end stands for."),
                  tr("set farthest"), [](depth::ReadingSettings& r, double v) { depth::setFarthest(r, v); });
    m_storedLow =
        addNumber(tr("Dark end"), "storedLow", storedFormat(0.0), tr("The stored number of the dark end."),
                  tr("set dark end"), [](depth::ReadingSettings& r, double v) {
                      r.storedLow = std::min(v, r.storedHigh - 1e-6);
                  });
    m_storedHigh = addNumber(
        tr("Bright end"), "storedHigh", storedFormat(1.0), tr("The stored number of the bright end."),
        tr("set bright end"),
        [](depth::ReadingSettings& r, double v) { r.storedHigh = std::max(v, r.storedLow + 1e-6); });
    m_percentiles = new QPushButton(tr("Ends from 1 to 99 % of this frame"));
    m_percentiles->setObjectName(QStringLiteral("percentiles"));
    m_section.form().addRow(m_percentiles);
    connect(m_percentiles, &QPushButton::clicked, this, &DepthPanel::endsFromPercentiles);
    m_clamp = addCheck(tr("Hold distances between the ends"), "clamp",
                       tr("What lies nearer or farther is moved to the end."),
                       tr("hold distances between the ends"),
                       [](depth::ReadingSettings& r, bool on) { r.clamp = on; });
    m_section.addRow(tr("This frame"), m_range = valueLabel("range"), tr("Nearest and farthest distance."));
}

void DepthPanel::buildGaps()
{
    m_section.addRow(tr("Gaps"), m_gaps = valueLabel("gaps"),
                     tr("Pixels with no depth. Infinite numbers and NaN are gaps always."));
    m_zeroGap =
        addCheck(tr("0 is a gap"), "zeroGap", tr("Many renderers write 0 where nothing is."),
                 tr("set what gaps are"), [](depth::ReadingSettings& r, bool on) { r.gaps.zero = on; });
    m_alphaGap = addCheck(tr("Outside alpha is a gap"), "alphaGap", tr("Where alpha is 0, nothing is."),
                          tr("set what gaps are"),
                          [](depth::ReadingSettings& r, bool on) { r.gaps.outsideAlpha = on; });
    m_gapFrom =
        addNumber(tr("Gaps above"), "gapFrom", limitFormat(),
                  tr("Stored numbers from this one on stand for nothing (1e10, 65504, …)."),
                  tr("set what gaps are"), [](depth::ReadingSettings& r, double v) { r.gaps.from = v; });
    m_gapPlace = addChoice(
        tr("Gaps go"), "gapPlace", tr("The distance that gaps are given."), tr("place gaps"),
        {tr("to the far end"), tr("to a distance"), tr("where neighbours are")},
        [](depth::ReadingSettings& r, int i) { r.gaps.place = static_cast<depth::GapRules::Place>(i); });
    m_gapDistance =
        addNumber(tr("Gap distance"), "gapDistance", distanceFormat(m_document.project(), 1e-6, 100.0),
                  tr("The distance of gaps."), tr("place gaps"),
                  [](depth::ReadingSettings& r, double v) { r.gaps.distance = v; });
}

void DepthPanel::buildMending()
{
    m_snap = addCheck(tr("Snap anti-aliased edges"), "snapEdges",
                      tr("Edge values between two surfaces are given to one of them."), tr("snap edges"),
                      [](depth::ReadingSettings& r, bool on) { r.conditioning.snapEdges = on; });
    m_smooth =
        addCheck(tr("Smooth 8-bit steps"), "smoothSteps", tr("Within surfaces; edges stay where they are."),
                 tr("smooth steps"),
                 [](depth::ReadingSettings& r, bool on) { r.conditioning.smoothLevels = on ? 255 : 0; });
    NumberFormat px = plainFormat({}, tr("px"), 0.0, 64.0, 0.0, 3);
    px.geometric = false;
    px.step = 0.2;
    m_soften = addNumber(tr("Soften"), "soften", px, tr("For noisy depth; keeps edges."), tr("soften depth"),
                         [](depth::ReadingSettings& r, double v) { r.conditioning.softenPx = v; });
    NumberFormat offset = distanceFormat(m_document.project(), -1e6, 0.0);
    m_offset = addNumber(tr("Offset"), "offset", offset, tr("Added to every distance."), tr("offset depth"),
                         [](depth::ReadingSettings& r, double v) { r.conditioning.offset = v; });
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
    const Plane<float>& numbers = grey ? m_passes->stored() : m_passes->distance;
    const auto ends =
        depth::percentilesIn(numbers, m_passes->gaps, {0, 0, numbers.width(), numbers.height()}, 0.01, 0.99);
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
    const project::Project& project = m_document.project();
    const depth::ReadingSettings& r = m_document.values().reading;
    const bool grey = depth::isGrey(r.reading);
    const bool clip = r.reading == depth::Reading::clipSpace;
    m_reading->setCurrentIndex(static_cast<int>(r.reading));
    m_spacing->setCurrentIndex(static_cast<int>(r.spacing));
    m_encoding->setCurrentIndex(static_cast<int>(r.encoding));
    m_clipRange->setCurrentIndex(static_cast<int>(r.clipRange));
    m_fieldOfView->setValue(r.fieldOfViewDeg);
    for (NumberField* field : {m_nearest, m_farthest, m_gapDistance})
        field->setFormat(distanceFormat(project, 1e-6, field->value()));
    m_nearest->setValue(r.nearest);
    m_farthest->setValue(r.farthest);
    m_storedLow->setValue(r.storedLow);
    m_storedHigh->setValue(r.storedHigh);
    m_clamp->setChecked(r.clamp);
    m_zeroGap->setChecked(r.gaps.zero);
    m_alphaGap->setChecked(r.gaps.outsideAlpha);
    m_gapFrom->setValue(r.gaps.from);
    m_gapPlace->setCurrentIndex(static_cast<int>(r.gaps.place));
    m_gapDistance->setValue(r.gaps.distance);
    m_snap->setChecked(r.conditioning.snapEdges);
    m_smooth->setChecked(r.conditioning.smoothLevels > 0);
    m_soften->setValue(r.conditioning.softenPx);
    NumberFormat offset = distanceFormat(project, -1e6, 0.0);
    offset.geometric = false;
    offset.fromText = [unit = project.unit, scale = project.metresPerUnit](const QString& text) {
        const bool minus = text.trimmed().startsWith(QLatin1Char('-'));
        const auto metres =
            optics::parseDistanceMetres(text.trimmed().mid(minus ? 1 : 0).toStdString(), unit);
        return metres ? std::optional((minus ? -1.0 : 1.0) * *metres / scale) : std::nullopt;
    };
    m_offset->setFormat(offset);
    m_offset->setValue(r.conditioning.offset);
    if (!m_remap->hasFocus()) m_remap->setText(remapText(project, r.conditioning));
    m_section.setRowVisible(m_spacing, grey);
    m_section.setRowVisible(m_encoding, grey);
    m_section.setRowVisible(m_clipRange, clip);
    m_section.setRowVisible(m_fieldOfView, r.reading == depth::Reading::distanceAlongRay);
    m_section.setRowVisible(m_storedLow, grey || r.reversed);
    m_section.setRowVisible(m_storedHigh, grey || r.reversed);
    m_section.setRowVisible(m_gapDistance, r.gaps.place == depth::GapRules::Place::distance);
    const QString title = project.passOptions.handMadeDepth
                              ? tr("made by hand")
                              : words(depth::title(r.reading)) + (r.reversed ? tr(", reversed") : QString());
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
