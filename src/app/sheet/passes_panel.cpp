#include "app/sheet/passes_panel.h"

#include "app/document/opening.h"
#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/look/style.h"
#include "core/colour/input_space.h"
#include "core/passes/image_file.h"
#include "core/system/error.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QStandardItemModel>
#include <cmath>

namespace retinex::app {

namespace {

/// A heading inside a chooser, which cannot be chosen.
void addHeading(QComboBox& box, const QString& text)
{
    box.addItem(text);
    auto* model = qobject_cast<QStandardItemModel*>(box.model());
    QStandardItem* item = model->item(box.count() - 1);
    item->setFlags(Qt::NoItemFlags);
    QFont font = box.font();
    font.setBold(true);
    item->setFont(font);
}

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

QComboBox* chooser(const char* name)
{
    auto* box = new Chooser;
    box->setObjectName(QLatin1String(name));
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(4);
    box->setSizePolicy(QSizePolicy::Ignored,
                       QSizePolicy::Fixed); // the sheet is narrow: names are cut, not the sheet
    box->setMinimumWidth(64);               // the beginning of a name
    box->setMaxVisibleItems(24);
    return box;
}

void select(QComboBox& box, const QString& data)
{
    const int index = box.findData(data);
    if (index >= 0) box.setCurrentIndex(index);
}

} // namespace

PassesPanel::PassesPanel(Document& document, AnalysisService& analysis, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_analysis(analysis), m_section(section),
      m_colour(chooser("colourLayer")), m_depth(chooser("depthChannel")), m_alpha(chooser("alphaChoice")),
      m_motion(chooser("motionChoice")), m_mattes(chooser("mattes")), m_space(chooser("inputSpace")),
      m_missing(chooser("missingFrames")), m_eye(chooser("eye")), m_frames(new NumberField(framesFormat())),
      m_fit(chooser("sizeFit")), m_camera(chooser("sceneCamera")), m_point(chooser("scenePoint")),
      m_files(new RolesList), m_size(valueLabel("passSize")), m_sizeNotice(wordsLabel("sizeNotice")),
      m_cameraData(wordsLabel("cameraData")), m_sceneLabel(wordsLabel("sceneFile")),
      m_exchange(new QPushButton(tr("Exchange colour and depth"))),
      m_useCamera(new QPushButton(tr("Use for the lens"))), m_takePoint(new QPushButton(tr("Focus on it"))),
      m_checkTitle(new QLabel(tr("Pass check"))), m_findings(new FindingsList),
      m_check(new QPushButton(tr("Check this frame")))
{
    buildRows();
    buildScene();
    buildCheck();
    connect(&document, &Document::projectChanged, this, &PassesPanel::refreshIfOther);
    connect(&document, &Document::frameChanged, this, &PassesPanel::fillPoints);
    connect(&document, &Document::sourceChanged, this, &PassesPanel::refresh);
    connect(&document, &Document::opened, this, &PassesPanel::refresh);
    connect(&analysis, &AnalysisService::changed, this, &PassesPanel::refresh);
    connect(&analysis, &AnalysisService::viewsChanged, this, &PassesPanel::refresh);
    refresh();
}

QWidget* PassesPanel::withButton(QWidget* field, const QString& text, const char* name, const QString& help,
                                 void (PassesPanel::*work)())
{
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    auto* button = new QPushButton(text);
    button->setFixedWidth(text.size() == 1 ? 24 : 54);
    button->setObjectName(QLatin1String(name));
    button->setToolTip(help);
    button->setAccessibleName(help);
    layout->addWidget(field, 1);
    layout->addWidget(button);
    connect(button, &QPushButton::clicked, this, work);
    return row;
}

void PassesPanel::buildRows()
{
    m_section.form().addRow(m_files);
    m_section.form().addRow(m_exchange);
    m_exchange->setObjectName(QStringLiteral("exchangePasses"));
    m_section.addRow(tr("Colour pass"),
                     withButton(m_colour, tr("File…"), "colourFile", tr("Another file for colour"),
                                &PassesPanel::chooseColourFile),
                     tr("The layer that is focused."));
    m_section.addRow(tr("Depth pass"),
                     withButton(m_depth, tr("File…"), "depthFile", tr("Another file for depth"),
                                &PassesPanel::chooseDepthFile),
                     tr("Any channel, or the luminance of a layer."));
    m_section.addRow(
        tr("Alpha"),
        withButton(m_alpha, tr("File…"), "alphaFile", tr("A file for alpha"), &PassesPanel::chooseAlphaFile),
        tr("Where the picture is empty."));
    m_section.addRow(tr("Motion vectors"),
                     withButton(m_motion, tr("File…"), "motionFile", tr("A file for motion vectors"),
                                &PassesPanel::chooseMotionFile),
                     tr("Where each pixel moves from frame to frame. They tell the camera, so that other "
                        "frames can show what one hides (Repair)."));
    m_section.addRow(tr("Matte passes"),
                     withButton(withButton(m_mattes, tr("×"), "removeMatte",
                                           tr("Take this matte out of the list"), &PassesPanel::removeMatte),
                                tr("+"), "addMatte", tr("Add a file of mattes"), &PassesPanel::addMatte),
                     tr("Coverage of one object; shown in the Mattes view (6), used at edges (Repair)."));
    m_section.addRow(tr("Colour space"), m_space,
                     tr("What the numbers of the colour pass are in; they are made "
                        "scene-linear as they are read."));
    m_section.addRow(tr("Eye"), m_eye, tr("Of a stereo render. Colour and depth are of one eye."));
    m_section.addRow(tr("Size, frames"), m_size);
    m_frames->setObjectName(QStringLiteral("heldFrames"));
    m_section.addRow(tr("Frames"), m_frames,
                     tr("How many frames the still is held for, to pull focus over it."));
    m_section.form().addRow(m_sizeNotice);
    m_section.addRow(tr("Other size"), m_fit,
                     tr("How depth of another size is laid over colour. Never blended."));
    m_section.addRow(tr("Missing frames"), m_missing, tr("What a frame that is not there becomes."));
    m_section.form().addRow(m_cameraData);
    m_section.form().addRow(m_useCamera);
    m_useCamera->setObjectName(QStringLiteral("useCamera"));
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
    connect(m_mattes, &QComboBox::activated, this, &PassesPanel::matteChosen);
    connect(m_exchange, &QPushButton::clicked, this, &PassesPanel::exchange);
    connect(m_useCamera, &QPushButton::clicked, this, &PassesPanel::applyCamera);
}

void PassesPanel::buildScene()
{
    m_section.addRow(tr("Scene file"),
                     withButton(m_sceneLabel, tr("File…"), "chooseScene", tr("A glTF scene"),
                                &PassesPanel::chooseSceneFile),
                     tr("Cameras and points with their animation, from glTF 2.0."));
    m_section.addRow(tr("Its camera"), m_camera);
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(m_point, 1);
    layout->addWidget(m_takePoint);
    m_takePoint->setObjectName(QStringLiteral("takePoint"));
    m_section.addRow(tr("Its points"), row, tr("Distance of a point from the camera's plane at this frame."));
    connect(m_camera, &QComboBox::activated, this, [this] {
        project::Project changed = m_document.project();
        // Each shot of several has the camera that it was rendered with.
        if (changed.shots.size() > 1)
            changed.shotAt(m_document.frame()).camera = m_camera->currentText().toStdString();
        else
            changed.scene.camera = m_camera->currentText().toStdString();
        m_document.edit(tr("choose the scene's camera"), changed);
    });
    connect(m_takePoint, &QPushButton::clicked, this, &PassesPanel::takePoint);
    connect(&m_document, &Document::frameChanged, this, &PassesPanel::fillScene);
}

void PassesPanel::buildCheck()
{
    m_section.form().addRow(m_checkTitle);
    m_section.form().addRow(m_findings);
    m_check->setObjectName(QStringLiteral("checkFrame"));
    m_check->setToolTip(tr("Look at the present frame's passes again."));
    m_section.form().addRow(m_check);
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
    project::Project shown;
    shown.colour = project.colour;
    shown.depth = project.depth;
    shown.passOptions = project.passOptions;
    shown.mattes = project.mattes;
    shown.scene = project.scene;
    shown.firstFrame = project.firstFrame;
    shown.lastFrame = project.lastFrame;
    shown.metresPerUnit = project.metresPerUnit;
    shown.unit = project.unit;
    shown.shots.front().camera = m_document.isOpen() ? project.cameraAt(m_document.frame()) : std::string();
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
          static_cast<QWidget*>(m_motion), static_cast<QWidget*>(m_mattes), static_cast<QWidget*>(m_space),
          static_cast<QWidget*>(m_missing), static_cast<QWidget*>(m_eye), static_cast<QWidget*>(m_frames)})
        widget->setEnabled(open);
    const auto showRow = [this](QWidget* field, bool shown) { m_section.setRowVisible(field, shown); };
    const bool checked = open && m_analysis.analysis();
    if (checked) m_findings->setFindings(m_analysis.findings());
    for (QWidget* widget : {static_cast<QWidget*>(m_checkTitle), static_cast<QWidget*>(m_findings),
                            static_cast<QWidget*>(m_check)})
        showRow(widget, checked);
    if (!open) {
        for (QWidget* widget : {static_cast<QWidget*>(m_files), static_cast<QWidget*>(m_exchange),
                                static_cast<QWidget*>(m_sizeNotice), static_cast<QWidget*>(m_fit),
                                static_cast<QWidget*>(m_cameraData), static_cast<QWidget*>(m_useCamera),
                                static_cast<QWidget*>(m_missing), static_cast<QWidget*>(m_eye),
                                static_cast<QWidget*>(m_frames)})
            showRow(widget, false);
        fillScene();
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
    const int matte = std::max(0, m_mattes->currentIndex());
    m_mattes->clear();
    for (const auto& choice : project.mattes) {
        m_mattes->addItem(QString::fromStdString(choice.title()));
        m_mattes->setItemData(m_mattes->count() - 1,
                              QString::fromStdString(choice.file.filename().string() + ": " + choice.name),
                              Qt::ToolTipRole);
    }
    if (project.mattes.empty()) addHeading(*m_mattes, tr("none"));
    m_mattes->setCurrentIndex(matte < m_mattes->count() ? matte : 0);
    if (auto* remove = m_section.findChild<QPushButton*>(QStringLiteral("removeMatte")))
        remove->setEnabled(!project.mattes.empty());
    select(*m_space, QString::fromStdString(source.inputSpace()));
    select(*m_missing, QString::fromStdString(std::string(wordOf(project.passOptions.missing))));
    select(*m_fit, QString::fromStdString(std::string(wordOf(project.passOptions.sizeFit))));

    const auto roles = presentRoles();
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
    const auto& analysis = m_analysis.analysis();
    const bool camera = analysis && !analysis->camera.isEmpty();
    const bool forLens =
        camera && (analysis->camera.focusMetres || analysis->camera.fStop || analysis->camera.fieldOfViewDeg);
    if (camera)
        m_cameraData->setText(
            tr("The file's header says: %1.").arg(QString::fromStdString(analysis->camera.inWords())));
    showRow(m_cameraData, camera);
    showRow(m_useCamera, forLens);
    const QString colourName = QString::fromStdString(project.colour.file.filename().string());
    const QString channel = QString::fromStdString(source.depthChannel().channel);
    m_section.setSummary(
        source.options().isEmptyFrame()  ? tr("none: an empty frame for inserts")
        : source.options().handMadeDepth ? tr("%1, depth made by hand").arg(colourName)
        : project.depth.file.empty()
            ? tr("%1, depth in %2").arg(colourName, channel)
            : tr("%1, depth in %2 of %3")
                  .arg(colourName, channel, QString::fromStdString(project.depth.file.filename().string())));
    fillScene();
}

void PassesPanel::fillScene()
{
    const auto& scene = m_document.project().scene;
    if (scene.file != m_sceneName) {
        m_sceneName = scene.file;
        m_scene.reset();
        m_sceneReading.drop();
        if (!scene.file.empty())
            m_sceneReading.start(tr("Reading the scene"),
                                 [this, file = scene.file](const Background::Task& task) {
                                     const auto read = std::make_shared<const passes::SceneFile>(
                                         passes::SceneFile::load(file));
                                     task.post([this, read] {
                                         m_scene = read;
                                         fillScene();
                                     });
                                 },
                                 {[this](const QString& message) { emit failed(message); }});
    }
    m_sceneLabel->setText(scene.file.empty() ? tr("none")
                                             : QString::fromStdString(scene.file.filename().string()));
    const QString point = m_point->currentData().toString();
    m_camera->clear();
    m_point->clear();
    m_section.setRowVisible(m_camera, m_scene != nullptr);
    m_section.setRowVisible(m_point->parentWidget(), m_scene != nullptr);
    if (!m_scene) return;
    for (const auto& camera : m_scene->cameras())
        m_camera->addItem(QString::fromStdString(camera.name), QString::fromStdString(camera.name));
    for (const auto& named : m_scene->points())
        m_point->addItem(QString(), QString::fromStdString(named.name));
    select(*m_point, point);
    fillPoints();
    m_takePoint->setEnabled(m_point->count() > 0 && m_camera->count() > 0);
}

/// The camera of the present frame's shot, and how far the points are from it there.
void PassesPanel::fillPoints()
{
    if (!m_scene) return;
    const auto& project = m_document.project();
    select(*m_camera, QString::fromStdString(project.cameraAt(m_document.frame())));
    const double seconds = project.scene.secondsAt(m_document.frame());
    int index = 0;
    for (const auto& named : m_scene->points()) {
        QString text = QString::fromStdString(named.name);
        if (m_camera->count() > 0) {
            const int camera =
                m_scene->cameras()[static_cast<std::size_t>(std::max(0, m_camera->currentIndex()))].node;
            const double distance = m_scene->planarDistance(camera, named.node, seconds);
            text +=
                distance > 0.0 ? tr(", %1").arg(shownDistance(project, distance)) : tr(", behind the camera");
        }
        m_point->setItemText(index++, text);
    }
}

QString PassesPanel::askForPicture(const QString& title) const
{
    const auto& file = m_document.project().colour.file;
    return QFileDialog::getOpenFileName(m_colour->window(), title,
                                        QString::fromStdString(file.parent_path().string()), pictureFilter());
}

void PassesPanel::choosePass(const QString& title, const QString& what,
                             const std::function<passes::PassChoice&(project::Project&)>& pass)
{
    const QString file = askForPicture(title);
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

std::vector<passes::RoleProposal> PassesPanel::presentRoles() const
{
    using passes::Role;
    const project::Project& project = m_document.project();
    std::vector<passes::RoleProposal> roles = m_roleList;
    const auto roleOf = [&](const std::filesystem::path& file) {
        const auto& options = project.passOptions;
        if (file == project.colour.file)
            return project.depth.file.empty() && !options.handMadeDepth ? Role::colourAndDepth : Role::colour;
        if (file == project.depth.file) return Role::depth;
        if (file == options.alpha.file) return Role::alpha;
        if (file == options.motion.file) return Role::motionVectors;
        if (file == project.scene.file) return Role::sceneFile;
        const bool isMatte =
            std::ranges::any_of(project.mattes, [&](const auto& m) { return m.file == file; });
        return isMatte ? Role::matte : Role::none;
    };
    const auto add = [&](const std::filesystem::path& file) {
        if (!file.empty() && std::ranges::none_of(roles, [&](const auto& role) { return role.file == file; }))
            roles.push_back({file, Role::none, tr("was chosen").toStdString()});
    };
    add(project.colour.file);
    add(project.depth.file);
    add(project.passOptions.alpha.file);
    add(project.passOptions.motion.file);
    for (const auto& matte : project.mattes)
        add(matte.file);
    for (passes::RoleProposal& role : roles)
        role.role = roleOf(role.file);
    return roles;
}

/// What one file was, another one may become: there is one colour and one depth pass.
void PassesPanel::takeAs(int index, passes::Role role)
{
    using passes::Role;
    std::vector<passes::RoleProposal> roles = presentRoles();
    passes::RoleProposal& taken = roles[static_cast<std::size_t>(index)];
    for (passes::RoleProposal& other : roles) {
        other.isChosen = true;
        if (&other == &taken) continue;
        if (role == Role::colour && other.role == Role::colourAndDepth)
            other.role = Role::depth;
        else if (role == Role::depth && other.role == Role::colourAndDepth)
            other.role = Role::colour;
        else if (other.role == role && (role == Role::colour || role == Role::depth || role == Role::alpha))
            other.role = taken.role == Role::colourAndDepth ? Role::none : taken.role;
    }
    taken.role = role;
    const QString title = QString::fromStdString(std::string(passes::title(role)));
    const QString what =
        tr("take %1 as %2").arg(QString::fromStdString(taken.file.filename().string()), title);
    try {
        const passes::SortedPasses sorted = passes::sortIntoRoles(roles);
        project::Project wanted = m_document.project();
        const auto put = [](passes::PassChoice& choice, const passes::PassChoice& chosen) {
            if (choice.file != chosen.file) choice = chosen;
        };
        put(wanted.colour, sorted.colour);
        put(wanted.depth, sorted.depth);
        put(wanted.passOptions.alpha, sorted.alpha);
        put(wanted.passOptions.motion, {sorted.motion, {}});
        wanted.mattes = sorted.mattes;
        wanted.scene.file = sorted.sceneFile;
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

void PassesPanel::addMatte()
{
    const QString file = askForPicture(tr("Mattes: a picture, or an EXR with mattes in it"));
    if (file.isEmpty()) return;
    m_reading.start(tr("Reading mattes"),
                    [this, file = file.toStdString()](const Background::Task& task) {
                        task.post([this, found = passes::mattesIn(file, true)] {
                            project::Project changed = m_document.project();
                            for (const auto& matte : found)
                                if (std::ranges::find(changed.mattes, matte) == changed.mattes.end())
                                    changed.mattes.push_back(matte);
                            m_document.edit(tr("add mattes"), changed);
                        });
                    },
                    {[this](const QString& message) { emit failed(message); }});
}

void PassesPanel::removeMatte()
{
    project::Project changed = m_document.project();
    const auto shown = static_cast<std::size_t>(std::max(0, m_mattes->currentIndex()));
    if (shown >= changed.mattes.size()) return;
    const QString title = QString::fromStdString(changed.mattes[shown].title());
    changed.mattes.erase(changed.mattes.begin() + static_cast<std::ptrdiff_t>(shown));
    m_document.edit(tr("take out matte %1").arg(title), changed);
}

void PassesPanel::chooseSceneFile()
{
    const QString file = QFileDialog::getOpenFileName(
        m_colour->window(), tr("A glTF scene with the camera"),
        QString::fromStdString(m_document.project().colour.file.parent_path().string()),
        tr("glTF (*.gltf *.glb)"));
    if (file.isEmpty()) return;
    project::Project changed = m_document.project();
    changed.scene.file = file.toStdString();
    changed.scene.camera.clear();
    m_document.edit(tr("choose scene file"), changed);
}

void PassesPanel::exchange()
{
    project::Project wanted = m_document.project();
    std::swap(wanted.colour, wanted.depth);
    wanted.colour.name.clear();
    wanted.depth.name.clear();
    emit choiceMade(wanted, tr("exchange colour and depth"));
}

void PassesPanel::applyCamera()
{
    const auto& analysis = m_analysis.analysis();
    if (!analysis) return;
    const passes::CameraData& camera = analysis->camera;
    const int gesture = newGesture(); // one step
    const QString what = tr("use the file's camera");
    if (camera.framesPerSecond) {
        project::Project changed = m_document.project();
        changed.scene.framesPerSecond = *camera.framesPerSecond;
        m_document.edit(what, changed, gesture);
    }
    const bool hasMarks = !m_document.marks().empty();
    const auto& project = m_document.project();
    m_document.editSettings(
        what,
        [&](project::Settings& settings) {
            if (camera.fStop) settings.fStop = *camera.fStop;
            if (camera.fieldOfViewDeg) {
                settings.focalLengthMm =
                    passes::focalLengthFor(*camera.fieldOfViewDeg, settings.sensorWidthMm);
                if (settings.reading.reading == depth::Reading::distanceAlongRay)
                    settings.reading.fieldOfViewDeg = *camera.fieldOfViewDeg;
            }
            if (camera.focusMetres && !hasMarks)
                settings.focusDistance = std::max(*camera.focusMetres / project.metresPerUnit,
                                                  project.fromMillimetres(1.05 * settings.focalLengthMm));
        },
        gesture);
}

void PassesPanel::takePoint()
{
    if (!m_scene || m_scene->cameras().empty()) return;
    const int camera =
        m_scene->cameras()[static_cast<std::size_t>(std::max(0, m_camera->currentIndex()))].node;
    const std::string name = m_point->currentData().toString().toStdString();
    const double distance = m_scene->planarDistance(camera, m_scene->pointNamed(name),
                                                    m_document.project().scene.secondsAt(m_document.frame()));
    if (distance > 0.0)
        m_document.setFocusDistance(distance);
    else
        emit failed(tr("\"%1\" lies behind the camera at this frame. Choose another point or frame.")
                        .arg(QString::fromStdString(name)));
}

} // namespace retinex::app
