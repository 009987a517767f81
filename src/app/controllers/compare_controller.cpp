#include "app/controllers/compare_controller.h"

#include "core/project/takes.h"

#include <QMenu>

namespace retinex::app {

namespace {

constexpr int kTakeWidth = 320; ///< px of a take's picture

} // namespace

CompareController::CompareController(Workbench& bench, PictureController& picture)
    : QObject(&bench.window), m_bench(bench), m_picture(picture)
{
    connect(m_bench.compare, &CompareBar::changed, this, &CompareController::compareChanged);
    connect(&m_otherRenderer, &RenderService::pictureReady, m_bench.picture, &PictureView::showOther);
    connect(&m_otherRenderer, &RenderService::failed, this, [this](quint64, const QString& message) {
        m_bench.message->show(MessageBar::Kind::trouble, message);
    });
    connect(&m_bench.sheet->takes(), &TakesPanel::keepAsked, this, &CompareController::keepTake);
    connect(&m_bench.sheet->takes(), &TakesPanel::compareAsked, this, [this](const std::string& take) {
        m_bench.compare->setSide(0, {CompareSide::Kind::present});
        m_bench.compare->setSide(1, {CompareSide::Kind::take, take});
        m_bench.compare->setMode(m_bench.compare->mode() == Comparison::Mode::off ? Comparison::Mode::wipe
                                                                                  : m_bench.compare->mode());
    });
    m_picture.accompany(
        [this](PictureRequest& request) {
            if (m_bench.compare->mode() != Comparison::Mode::off) putSide(request, m_bench.compare->side(0));
        },
        [this](const PictureDetail& visible) { askOther(visible); });
}

void CompareController::addActions(QMenu& menu)
{
    Actions& actions = m_bench.actions;
    CompareBar* compare = m_bench.compare;
    actions.add(
        menu, tr("Compare by a &wipe"), QKeySequence(Qt::Key_W),
        [compare] {
            compare->setMode(compare->mode() == Comparison::Mode::wipe ? Comparison::Mode::off
                                                                       : Comparison::Mode::wipe);
        },
        When::open);
    actions.add(
        menu, tr("Compare si&de by side"), {}, [compare] { compare->setMode(Comparison::Mode::sideBySide); },
        When::open);
    actions.add(
        menu, tr("Diffe&rence"), {}, [compare] { compare->setMode(Comparison::Mode::difference); },
        When::open);
    // Acts while it is held down, which an action cannot; it is here to be found.
    QAction* held =
        actions.add(menu, tr("Source, or what is compared with, while &held"), QKeySequence(Qt::Key_V),
                    [this] { hold(!m_bench.picture->comparison().isHeld); });
    held->setShortcutContext(Qt::WidgetShortcut);
}

/// Its picture is what is seen, made small; where that is not the result, it is made.
void CompareController::keepTake()
{
    if (!m_bench.document.isOpen()) return;
    const Picture& seen = m_bench.picture->picture();
    QImage picture;
    if (seen.mode == ViewMode::result && seen.isFinal && seen.detail.part.empty() &&
        seen.frame == m_bench.document.frame() && !m_picture.isRendering() &&
        m_bench.compare->mode() == Comparison::Mode::off) {
        picture = seen.image.scaledToWidth(kTakeWidth, Qt::SmoothTransformation);
    } else {
        PictureRequest request = m_picture.wholeRequest();
        request.mode = ViewMode::result;
        try {
            picture = makePicture(request, {std::max(1, request.source->width() / kTakeWidth), {}}, {}).image;
        } catch (...) { // the settings are kept all the same
            m_bench.tellFailure(tr("Making the take's picture"));
        }
    }
    m_bench.sheet->takes().keep(picture);
}

/// The request as a side of a comparison wants it.
void CompareController::putSide(PictureRequest& request, const CompareSide& side) const
{
    request.mode = side.kind == CompareSide::Kind::source ? ViewMode::source : ViewMode::result;
    if (side.kind == CompareSide::Kind::unfinished) request.looking.isUnfinished = true;
    if (side.kind != CompareSide::Kind::take) return;
    for (const project::Take& take : request.project->takes) {
        if (take.name != side.take) continue;
        request.project = std::make_shared<project::Project>(project::withTake(*request.project, take));
        return;
    }
}

void CompareController::compareChanged()
{
    Comparison& comparison = m_bench.picture->comparison();
    const bool on = m_bench.compare->mode() != Comparison::Mode::off;
    const bool began = on && comparison.mode == Comparison::Mode::off;
    for (int which = 0; which < 2; ++which)
        comparison.names[which] = CompareBar::nameOf(m_bench.compare->side(which));
    comparison.gain = m_bench.compare->gain();
    m_bench.picture->setComparison(m_bench.compare->mode());
    if (!m_bench.document.isOpen()) return;
    if (on) m_bench.playback.stop();
    if (began) comparison.other = {};
    if (began && m_bench.strip->mode() != ViewMode::result)
        m_picture.setMode(ViewMode::result); // asks for the pictures
    else
        m_picture.request();
}

/// While it is held the second picture is seen alone; the source where nothing is compared.
void CompareController::hold(bool held)
{
    Comparison& comparison = m_bench.picture->comparison();
    if (held == comparison.isHeld || !m_bench.document.isOpen() || (held && m_bench.playback.isPlaying()))
        return;
    comparison.isHeld = held;
    const bool compares = m_bench.compare->mode() != Comparison::Mode::off;
    comparison.names[1] = compares ? CompareBar::nameOf(m_bench.compare->side(1))
                                   : CompareBar::nameOf({CompareSide::Kind::source});
    m_bench.picture->setComparison(m_bench.compare->mode());
    if (held && !compares) {
        comparison.other = {};
        askOther(m_bench.picture->visibleOf(
            {m_bench.document.source()->width(), m_bench.document.source()->height()}));
    }
    m_bench.picture->update();
}

void CompareController::askOther(const PictureDetail& visible)
{
    const bool compares = m_bench.compare->mode() != Comparison::Mode::off;
    if (!compares && !m_bench.picture->comparison().isHeld) return;
    PictureRequest request = m_picture.wholeRequest();
    putSide(request, compares ? m_bench.compare->side(1) : CompareSide{CompareSide::Kind::source});
    request.visible = visible;
    m_otherRenderer.request(std::move(request));
}

} // namespace retinex::app
