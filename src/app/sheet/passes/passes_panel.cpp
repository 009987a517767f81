#include "app/sheet/passes/passes_panel.h"

#include "app/document/opening.h"
#include "app/document/pass_files.h"
#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/look/style.h"
#include "app/sheet/passes/pass_widgets.h"
#include "core/colour/input_space.h"
#include "core/passes/image_file.h"
#include "core/system/error.h"

#include <QSignalBlocker>
#include <cmath>

namespace retinex::app {

namespace {

/// A layer without a name is called after its file.
QString layerTitle(const std::string& layer, const std::filesystem::path& file)
{
    return QString::fromStdString(layer.empty() ? file.filename().string() : layer);
}

NumberFormat framesFormat()
{
    NumberFormat format = plainFormat({}, {}, 1.0, project::kMostFrames, 1.0, 7);
    format.geometric = false;
    format.step = 0.2;
    return format;
}

} // namespace

PassesPanel::PassesPanel(Document& document, AnalysisService& analysis, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_analysis(analysis), m_section(section),
      m_colour(sheetChooser(QStringLiteral("colourLayer"))),
      m_depth(sheetChooser(QStringLiteral("depthChannel"))),
      m_alpha(sheetChooser(QStringLiteral("alphaChoice"))),
      m_motion(sheetChooser(QStringLiteral("motionChoice"))),
      m_space(sheetChooser(QStringLiteral("inputSpace"))),
      m_missing(sheetChooser(QStringLiteral("missingFrames"))), m_eye(sheetChooser(QStringLiteral("eye"))),
      m_frames(new NumberField(framesFormat())), m_fit(sheetChooser(QStringLiteral("sizeFit"))),
      m_files(new RolesList), m_size(valueLabel("passSize")), m_sizeNotice(wordsLabel("sizeNotice")),
      m_exchange(new QPushButton(tr("Exchange colour and depth"))),
      m_checkTitle(new QLabel(tr("Pass check"))), m_findings(new FindingsList),
      m_check(new QPushButton(tr("Check this frame")))
{
    buildRows();
    m_scene = new SceneRows(document, section, this);
    buildCheck();
    connect(m_scene, &SceneRows::failed, this, &PassesPanel::failed);
    connect(&document, &Document::projectChanged, this, &PassesPanel::refreshIfOther);
    connect(&document, &Document::sourceChanged, this, &PassesPanel::refresh);
    connect(&document, &Document::opened, this, &PassesPanel::refresh);
    connect(&analysis, &AnalysisService::changed, this, &PassesPanel::refresh);
    connect(&analysis, &AnalysisService::viewsChanged, this, &PassesPanel::refresh);
    refresh();
}

void PassesPanel::buildRows()
{
    m_section.addWide(m_files);
    m_section.addWide(m_exchange);
    m_exchange->setObjectName(QStringLiteral("exchangePasses"));
    m_section.addRow(tr("Colour pass"),
                     withButton(m_colour, tr("File…"), "colourFile", tr("Another file for colour"),
                                [this] { chooseColourFile(); }),
                     tr("The layer that is focused."));
    m_section.addRow(tr("Depth pass"),
                     withButton(m_depth, tr("File…"), "depthFile", tr("Another file for depth"),
                                [this] { chooseDepthFile(); }),
                     tr("Any channel, or the luminance of a layer."));
    m_section.addRow(
        tr("Alpha"),
        withButton(m_alpha, tr("File…"), "alphaFile", tr("A file for alpha"), [this] { chooseAlphaFile(); }),
        tr("Where the picture is empty."));
    m_section.addRow(tr("Motion vectors"),
                     withButton(m_motion, tr("File…"), "motionFile", tr("A file for motion vectors"),
                                [this] { chooseMotionFile(); }),
                     tr("Where each pixel moves from frame to frame. They tell the camera, so that other "
                        "frames can show what one hides (Repair)."));
    m_mattes = new MatteRow(m_document, m_section, this);
    connect(m_mattes, &MatteRow::chosen, this, &PassesPanel::matteChosen);
    connect(m_mattes, &MatteRow::failed, this, &PassesPanel::failed);
    m_section.addRow(tr("Colour space"), m_space,
                     tr("What the numbers of the colour pass are in; they are made "
                        "scene-linear as they are read."));
    m_section.addRow(tr("Eye"), m_eye, tr("Of a stereo render. Colour and depth are of one eye."));
    m_section.addRow(tr("Size, frames"), m_size);
    m_frames->setObjectName(QStringLiteral("heldFrames"));
    m_section.addRow(tr("Frames"), m_frames,
                     tr("How many frames the still is held for, to pull focus over it."));
    m_section.addWide(m_sizeNotice);
    m_section.addRow(tr("Other size"), m_fit,
                     tr("How depth of another size is laid over colour. Never blended."));
    m_section.addRow(tr("Missing frames"), m_missing, tr("What a frame that is not there becomes."));
    m_camera = new HeaderCameraRows(m_document, m_analysis, m_section, this);
    m_fit->addItem(tr("scale depth to colour"), QStringLiteral("scale"));
    m_fit->addItem(tr("centre depth"), QStringLiteral("centre"));
    m_missing->addItem(tr("stop, with a list"), QStringLiteral("stop"));
    m_missing->addItem(tr("hold the frame before"), QStringLiteral("hold"));
    m_missing->addItem(tr("leave black"), QStringLiteral("black"));
    for (const auto& space : colour::inputSpaces())
        m_space->addItem(QString::fromStdString(space), QString::fromStdString(space));

    const auto choose = [this](QComboBox* box, const QString& what, auto apply) {
        connect(box, &QComboBox::activated, this, [this, box, what, apply] {
            project::Project wanted = m_document.project();
            apply(wanted, box->currentData().toString());
            if (wanted == m_document.project()) return;
            emit choiceMade(wanted, what);
        });
    };
    choose(m_colour, tr("choose colour layer"),
           [](project::Project& p, const QString& data) { p.colour.name = data.toStdString(); });
    choose(m_depth, tr("choose depth channel"),
           [](project::Project& p, const QString& data) { p.depth.name = data.toStdString(); });
    choose(m_alpha, tr("choose alpha"), [](project::Project& p, const QString& data) {
        if (data.isEmpty()) p.passOptions.alpha = {};
    });
    choose(m_motion, tr("choose motion vectors"), [](project::Project& p, const QString& data) {
        if (data.isEmpty()) p.passOptions.motion = {};
    });
    choose(m_space, tr("choose colour space"),
           [](project::Project& p, const QString& data) { p.passOptions.inputSpace = data.toStdString(); });
    choose(m_missing, tr("choose what missing frames become"), [](project::Project& p, const QString& data) {
        p.passOptions.missing = *fromWord<passes::MissingFrames>(data.toStdString());
    });
    choose(m_fit, tr("choose how sizes are brought together"), [](project::Project& p, const QString& data) {
        p.passOptions.sizeFit = *fromWord<passes::SizeFit>(data.toStdString());
    });
    choose(m_eye, tr("choose eye"), [](project::Project& p, const QString& data) {
        p.passOptions.eye = data.toStdString();
        p.colour.name.clear(); // layers are called otherwise in the other eye
        p.depth.name.clear();
    });
    connect(m_frames, &NumberField::edited, this, [this](double count, int) {
        project::Project wanted = m_document.project();
        wanted.passOptions.stillLast =
            wanted.passOptions.stillFirst + static_cast<int>(std::lround(count)) - 1;
        if (!(wanted == m_document.project())) emit choiceMade(wanted, tr("set frames of the still"));
    });
    connect(m_frames, &NumberField::rejected, this,
            [this](const QString& text) { emit failed(m_frames->refusal(tr("Frames"), text)); });
    connect(m_files, &RolesList::roleChosen, this, &PassesPanel::takeAs);
    connect(m_exchange, &QPushButton::clicked, this, &PassesPanel::exchange);
}

void PassesPanel::buildCheck()
{
    m_section.addWide(m_checkTitle);
    m_section.addWide(m_findings);
    m_check->setObjectName(QStringLiteral("checkFrame"));
    m_check->setToolTip(tr("Look at the present frame's passes again."));
    m_section.addWide(m_check);
    connect(m_check, &QPushButton::clicked, this, &PassesPanel::checkAsked);
}

void PassesPanel::setRoles(std::vector<passes::RoleProposal> roles)
{
    m_roleList = std::move(roles);
    refresh();
}

void PassesPanel::fillLayers()
{
    const auto& source = *m_document.source();
    const auto& project = m_document.project();
    m_colour->clear();
    for (const auto& layer : passes::colourLayers(source.colourInfo()))
        m_colour->addItem(layerTitle(layer.layer, source.colourInfo().file),
                          QString::fromStdString(layer.layer));
    select(*m_colour, QString::fromStdString(source.colourLayer().layer));
    m_colour->setToolTip(QString::fromStdString(project.colour.file.string()));

    m_depth->clear();
    std::string heading = "\n"; // no layer is called so
    for (const auto& place : passes::channelPlaces(source.depthInfo())) {
        if (place.layer != heading) {
            addHeading(*m_depth, layerTitle(place.layer, source.depthInfo().file));
            heading = place.layer;
        }
        m_depth->addItem(QStringLiteral("   %1").arg(QString::fromStdString(place.channel)),
                         QString::fromStdString(place.channel));
    }
    const auto layers = passes::colourLayers(source.depthInfo());
    if (!layers.empty()) addHeading(*m_depth, tr("luminance of a layer"));
    for (const auto& layer : layers)
        m_depth->addItem(QStringLiteral("   %1").arg(layerTitle(layer.layer, source.depthInfo().file)),
                         QString::fromStdString(passes::luminanceName(layer.layer)));
    select(*m_depth, QString::fromStdString(source.depthChannel().channel));
    if (source.options().handMadeDepth) m_depth->setCurrentIndex(-1);
    m_depth->setPlaceholderText(tr("none: made by hand"));
    m_depth->setToolTip(QString::fromStdString(
        (project.depth.file.empty() ? project.colour.file : project.depth.file).string()));
}

/// Filling the choosers lays the sheet out anew, which a drag has no time for.
void PassesPanel::refreshIfOther()
{
    const project::Project& project = m_document.project();
    project::Project shown = project; // but for what is dragged elsewhere
    shown.shots.assign(1, {});
    shown.shots.front().camera = m_document.isOpen() ? project.cameraAt(m_document.frame()) : std::string();
    shown.subjects = {};
    if (shown == m_shown && m_shownSource == m_document.source()) return;
    m_shown = std::move(shown);
    m_shownSource = m_document.source();
    refresh();
}

void PassesPanel::refresh()
{
    const bool open = m_document.isOpen();
    for (QWidget* widget :
         {static_cast<QWidget*>(m_colour), static_cast<QWidget*>(m_depth), static_cast<QWidget*>(m_alpha),
          static_cast<QWidget*>(m_motion), static_cast<QWidget*>(m_space), static_cast<QWidget*>(m_missing),
          static_cast<QWidget*>(m_eye), static_cast<QWidget*>(m_frames)})
        widget->setEnabled(open);
    const auto showRow = [this](QWidget* field, bool shown) { m_section.setRowVisible(field, shown); };
    m_mattes->refresh();
    m_camera->refresh();
    const bool checked = open && m_analysis.analysis();
    if (checked) m_findings->setFindings(m_analysis.findings());
    for (QWidget* widget : {static_cast<QWidget*>(m_checkTitle), static_cast<QWidget*>(m_findings),
                            static_cast<QWidget*>(m_check)})
        showRow(widget, checked);
    if (!open) {
        for (QWidget* widget : {static_cast<QWidget*>(m_files), static_cast<QWidget*>(m_exchange),
                                static_cast<QWidget*>(m_sizeNotice), static_cast<QWidget*>(m_fit),
                                static_cast<QWidget*>(m_missing), static_cast<QWidget*>(m_eye),
                                static_cast<QWidget*>(m_frames)})
            showRow(widget, false);
        m_scene->refresh();
        return;
    }
    const auto& project = m_document.project();
    const auto& source = *m_document.source();
    fillLayers();

    m_alpha->clear();
    m_alpha->addItem(source.colourLayer().alpha
                         ? tr("channel %1").arg(QString::fromStdString(*source.colourLayer().alpha))
                         : tr("none: opaque"),
                     QString());
    if (!project.passOptions.alpha.file.empty()) {
        m_alpha->addItem(QString::fromStdString(project.passOptions.alpha.file.filename().string()),
                         QStringLiteral("file"));
        m_alpha->setCurrentIndex(1);
    }
    m_motion->clear();
    const bool ownMotion = source.motionFiles() && project.passOptions.motion.file.empty();
    m_motion->addItem(ownMotion ? tr("layer %1").arg(QString::fromStdString(source.motionChannels().layer))
                                : tr("none"),
                      QString());
    if (!project.passOptions.motion.file.empty()) {
        m_motion->addItem(QString::fromStdString(project.passOptions.motion.file.filename().string()),
                          QStringLiteral("file"));
        m_motion->setCurrentIndex(1);
    }
    select(*m_space, QString::fromStdString(source.inputSpace()));
    select(*m_missing, QString::fromStdString(std::string(wordOf(project.passOptions.missing))));
    select(*m_fit, QString::fromStdString(std::string(wordOf(project.passOptions.sizeFit))));

    const auto roles = presentRoles(project, m_roleList);
    m_files->setRoles(roles);
    showRow(m_files, !roles.empty());
    m_eye->clear();
    for (const std::string& eye : source.eyes())
        m_eye->addItem(QString::fromStdString(eye), QString::fromStdString(eye));
    select(*m_eye, QString::fromStdString(source.eye()));
    showRow(m_eye, !source.eyes().empty());
    const bool isStill = source.isStill() && source.absentBecause().empty();
    m_frames->setValue(project.lastFrame - project.firstFrame + 1);
    showRow(m_frames, isStill);
    showRow(m_exchange, !project.depth.file.empty());
    const QString frames =
        m_document.isSequence() ? tr("%1–%2").arg(project.firstFrame).arg(project.lastFrame) : tr("still");
    m_size->setText(tr("%1 × %2 px, %3").arg(source.width()).arg(source.height()).arg(frames));
    const QString notice = QString::fromStdString(source.sizeNotice());
    m_sizeNotice->setText(notice);
    showRow(m_sizeNotice, !notice.isEmpty());
    showRow(m_fit, !notice.isEmpty());
    showRow(m_missing, m_document.isSequence() && !isStill);
    showRow(m_motion->parentWidget(), m_document.isSequence() && !isStill);
    const QString colourName = QString::fromStdString(project.colour.file.filename().string());
    const QString channel = QString::fromStdString(source.depthChannel().channel);
    m_section.setSummary(
        source.options().isEmptyFrame()  ? tr("none: an empty frame for inserts")
        : source.options().handMadeDepth ? tr("%1, depth made by hand").arg(colourName)
        : project.depth.file.empty()
            ? tr("%1, depth in %2").arg(colourName, channel)
            : tr("%1, depth in %2 of %3")
                  .arg(colourName, channel, QString::fromStdString(project.depth.file.filename().string())));
    m_scene->refresh();
}

void PassesPanel::choosePass(const QString& title, const QString& what,
                             const std::function<passes::PassChoice&(project::Project&)>& pass)
{
    const QString file =
        askForPicture(m_colour->window(), title,
                      QString::fromStdString(m_document.project().colour.file.parent_path().string()));
    if (file.isEmpty()) return;
    project::Project wanted = m_document.project();
    try { // a frame of a sequence stands for it, beside one
        const auto files =
            passes::Sequence::findBeside(m_document.source()->colourFiles(), file.toStdString());
        passes::PassChoice& chosen = pass(wanted);
        chosen = {&chosen == &wanted.colour ? std::filesystem::path(file.toStdString()) : files.pattern(),
                  {}};
    } catch (const Error& error) {
        emit failed(QString::fromStdString(error.what()));
        return;
    }
    emit choiceMade(wanted, what);
}

void PassesPanel::takeAs(int index, passes::Role role)
{
    const auto roles = presentRoles(m_document.project(), m_roleList);
    const auto at = static_cast<std::size_t>(index);
    const QString what = tr("take %1 as %2")
                             .arg(QString::fromStdString(roles[at].file.filename().string()),
                                  QString::fromStdString(std::string(passes::title(role))));
    try {
        const project::Project wanted = withFileAs(m_document.project(), roles, at, role);
        if (!(wanted == m_document.project())) emit choiceMade(wanted, what);
    } catch (const Error& error) {
        emit failed(QString::fromStdString(error.what()));
    }
    refresh();
}

void PassesPanel::chooseColourFile()
{
    choosePass(
        tr("The colour pass: any one frame"), tr("choose colour pass"),
        [](project::Project & wanted) -> auto& {
            if (wanted.depth.file.empty()) wanted.depth.file = wanted.colour.file;
            return wanted.colour;
        });
}

void PassesPanel::chooseDepthFile()
{
    choosePass(
        tr("The depth pass: any one frame"), tr("choose depth pass"),
        [](project::Project & wanted) -> auto& { return wanted.depth; });
}

void PassesPanel::chooseAlphaFile()
{
    choosePass(
        tr("Alpha: any one frame"), tr("choose alpha"),
        [](project::Project & wanted) -> auto& { return wanted.passOptions.alpha; });
}

void PassesPanel::chooseMotionFile()
{
    choosePass(
        tr("Motion vectors: any one frame"), tr("choose motion vectors"),
        [](project::Project & wanted) -> auto& { return wanted.passOptions.motion; });
}

void PassesPanel::exchange()
{
    project::Project wanted = m_document.project();
    std::swap(wanted.colour, wanted.depth);
    wanted.colour.name.clear();
    wanted.depth.name.clear();
    emit choiceMade(wanted, tr("exchange colour and depth"));
}

} // namespace retinex::app
