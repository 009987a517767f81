#include "app/desk/desk_state.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr double kFewestFrames = 6.0;
constexpr double kLeastSpan = 1.02; ///< farthest over nearest of what is seen

} // namespace

DeskState::DeskState(Document& document, QObject* parent) : QObject(parent), m_document(document)
{
    connect(&document, &Document::opened, this, [this] {
        m_chosen.clear();
        m_distancesZoomed = m_framesZoomed = false;
        keepFrames();
        emit changed();
    });
    connect(&document, &Document::projectChanged, this, [this] {
        keepFrames();
        // What is chosen may have gone.
        std::erase_if(m_chosen, [this](int frame) {
            return !timeline::markOn(m_document.marks(m_chosenSetting), frame);
        });
        emit changed();
    });
    connect(&document, &Document::frameChanged, this, [this](int frame) {
        if (!m_framesZoomed || (frame >= m_left && frame + 1 <= m_right)) return;
        panFrames(frame < m_left ? frame - m_left : frame + 1 - m_right); // the present frame stays in sight
    });
}

void DeskState::keepFrames()
{
    const auto& project = m_document.project();
    const double first = project.firstFrame;
    const double end = project.lastFrame + 1.0;
    if (!m_framesZoomed) {
        m_left = first;
        m_right = end;
        return;
    }
    const double span = std::clamp(m_right - m_left, std::min(kFewestFrames, end - first), end - first);
    m_left = std::clamp(m_left, first, end - span);
    m_right = m_left + span;
    m_framesZoomed = span < end - first;
}

void DeskState::setWhole(double nearest, double farthest)
{
    m_wholeNearest = nearest;
    m_wholeFarthest = std::max(farthest, nearest * 1.5);
    if (m_distancesZoomed) return;
    if (m_axis.nearest == m_wholeNearest && m_axis.farthest == m_wholeFarthest) return;
    m_axis.nearest = m_wholeNearest;
    m_axis.farthest = m_wholeFarthest;
    emit changed();
}

void DeskState::setScale(AxisScale scale)
{
    m_axis.scale = scale;
    emit changed();
}

void DeskState::zoomDistances(double factor, double around)
{
    // On the axis as it is drawn, so that what is under the pointer stays there.
    constexpr double height = 1000.0;
    const DistanceAxis axis(m_axis.nearest, m_axis.farthest, height, m_axis.scale);
    const double y = axis.toY(around);
    const DistanceAxis whole(m_wholeNearest, m_wholeFarthest, height, m_axis.scale);
    const double top = whole.toY(axis.toDistance(y - y / factor));
    const double bottom = whole.toY(axis.toDistance(y + (height - y) / factor));
    double farthest = whole.toDistance(top);
    double nearest = whole.toDistance(bottom);
    if (factor < 1.0) { // beyond what is seen: on the whole axis
        const double seenTop = whole.toY(m_axis.farthest);
        const double seenBottom = whole.toY(m_axis.nearest);
        const double at = whole.toY(around);
        farthest = whole.toDistance(at - (at - seenTop) / factor);
        nearest = whole.toDistance(at + (seenBottom - at) / factor);
    }
    if (farthest < nearest * kLeastSpan) return;
    m_axis.nearest = nearest;
    m_axis.farthest = farthest;
    m_distancesZoomed = nearest > m_wholeNearest * 1.0001 || farthest < m_wholeFarthest * 0.9999;
    emit changed();
}

void DeskState::panDistances(double share)
{
    constexpr double height = 1000.0;
    const DistanceAxis whole(m_wholeNearest, m_wholeFarthest, height, m_axis.scale);
    const double top = whole.toY(m_axis.farthest);
    const double bottom = whole.toY(m_axis.nearest);
    const double by = std::clamp(-share * (bottom - top), -top, height - bottom);
    m_axis.farthest = whole.toDistance(top + by);
    m_axis.nearest = whole.toDistance(bottom + by);
    emit changed();
}

void DeskState::zoomFrames(double factor, double around)
{
    const auto& project = m_document.project();
    const double whole = project.lastFrame + 1.0 - project.firstFrame;
    const double span = std::clamp((m_right - m_left) / factor, std::min(kFewestFrames, whole), whole);
    const double share = (around + 0.5 - m_left) / (m_right - m_left);
    m_left = around + 0.5 - share * span;
    m_right = m_left + span;
    m_framesZoomed = span < whole;
    keepFrames();
    emit changed();
}

void DeskState::panFrames(double frames)
{
    m_left += frames;
    m_right += frames;
    keepFrames();
    emit changed();
}

void DeskState::fit()
{
    m_distancesZoomed = m_framesZoomed = false;
    m_axis.nearest = m_wholeNearest;
    m_axis.farthest = m_wholeFarthest;
    keepFrames();
    emit changed();
}

void DeskState::choose(const SettingPath& id, timeline::ChosenFrames frames)
{
    if (id == m_chosenSetting && frames == m_chosen) return;
    m_chosenSetting = id;
    m_chosen = std::move(frames);
    emit changed();
}

void DeskState::toggle(const SettingPath& id, int frame)
{
    timeline::ChosenFrames frames;
    if (id == m_chosenSetting) frames = m_chosen;
    if (frames.erase(frame) == 0) frames.insert(frame);
    choose(id, std::move(frames));
}

} // namespace retinex::app
