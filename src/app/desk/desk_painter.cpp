#include "app/desk/desk_painter.h"

#include "app/fields/number_formats.h"
#include "app/look/style.h"

#include <QPainterPath>
#include <cmath>
#include <set>

namespace retinex::app {

namespace {

const QColor kGrid{54, 54, 54};
const QColor kSubject{214, 208, 196};
/// Behind names, over whatever lines run there.
const QColor kNameGround{20, 20, 20, 210};

/// The dash of the n-th subject, so that lines can be told apart without colour.
QList<qreal> dashOf(std::size_t index)
{
    static const QList<qreal> dashes[] = {{6, 3}, {2, 2}, {9, 3, 2, 3}, {4, 6}};
    return dashes[index % 4];
}

/// A line along x in dashes of `on` px, one each `period` px. (The painter's own dashes take many times as
/// long on lines of so many points.)
void drawDashed(QPainter& painter, const QPolygonF& line, double on, double period)
{
    std::vector<QLineF> dashes;
    for (int i = 1; i < line.size(); ++i) {
        QLineF part(line[i - 1], line[i]);
        if (part.x2() < part.x1()) part = {part.p2(), part.p1()};
        if (part.dx() <= 0.0) continue;
        for (double at = std::floor(part.x1() / period) * period; at < part.x2(); at += period) {
            const double from = (std::max(at, part.x1()) - part.x1()) / part.dx();
            const double to = (std::min(at + on, part.x2()) - part.x1()) / part.dx();
            if (to > from) dashes.emplace_back(part.pointAt(from), part.pointAt(to));
        }
    }
    painter.drawLines(dashes.data(), static_cast<int>(dashes.size()));
}

/// A solid line that runs along x, in upright strips a px of the screen wide. (The painter's own pen takes
/// many times as long on lines of so many points.)
void drawWide(QPainter& painter, const QPolygonF& line, double width, const QColor& colour)
{
    if (line.size() < 2) return;
    const double strip = 1.0 / painter.device()->devicePixelRatioF();
    int next = 1; // the first point right of the strip's left edge
    const auto heightAt = [&](double x) {
        const QPointF& a = line[next - 1];
        const QPointF& b = line[next];
        return b.x() > a.x() ? a.y() + (b.y() - a.y()) * std::clamp((x - a.x()) / (b.x() - a.x()), 0.0, 1.0)
                             : b.y();
    };
    for (double x = std::floor(line.front().x() / strip) * strip; x < line.back().x(); x += strip) {
        const double left = heightAt(x);
        double low = left;
        double high = left;
        const auto include = [&](double y) {
            low = std::min(low, y);
            high = std::max(high, y);
        };
        while (next + 1 < line.size() && line[next].x() < x + strip)
            include(line[next++].y());
        const double right = heightAt(x + strip);
        include(right);
        const double slope = (right - left) / strip;
        // Where it is steep, the height of the strip's own piece is most of it.
        const double half = 0.5 * width * std::min(std::sqrt(1.0 + slope * slope), 1.6);
        painter.fillRect(QRectF(x, low - half, strip, high - low + 2.0 * half), colour);
    }
}

} // namespace

DeskPainter::DeskPainter(const Document& document, const DeskState& state, const QRectF& plot)
    : m_document(document), m_state(state),
      m_plot(plot), m_frames{state.leftFrame(), state.rightFrame(), plot.left(), plot.width()},
      m_axis(state.axis().nearest, state.axis().farthest, std::max(10.0, plot.height()), state.axis().scale)
{
}

QPointF DeskPainter::pointFor(double frame, double distance) const
{
    return {m_frames.toX(frame), m_plot.top() + m_axis.toY(distance)};
}

QPointF DeskPainter::pointFor(const timeline::Mark& mark) const
{
    // A bound mark lies on its subject.
    const auto* subject = m_document.project().subjectNamed(mark.subject);
    const auto distance = subject ? timeline::distanceAt(*subject, mark.frame) : std::nullopt;
    return pointFor(mark.frame, distance.value_or(mark.value));
}

std::optional<QPointF> DeskPainter::handleOf(const timeline::Mark& mark, bool leaving) const
{
    const timeline::Side& side = leaving ? mark.leaving : mark.arriving;
    if (side.ease != timeline::Ease::curve) return std::nullopt;
    const auto& marks = m_document.marks();
    const auto it = std::find_if(marks.begin(), marks.end(),
                                 [&](const timeline::Mark& other) { return other.frame == mark.frame; });
    if (it == marks.end() || (leaving ? it + 1 == marks.end() : it == marks.begin())) return std::nullopt;
    const timeline::Mark& other = leaving ? *(it + 1) : *(it - 1);
    const timeline::Mark& from = leaving ? *it : other; // the pull's blend is that of its start
    const timeline::Handle handle = timeline::handleOf(side);
    const double distance =
        timeline::blended(from.blend, mark.value, other.value, handle.rise,
                          m_document.project().fromMillimetres(m_document.values().focalLengthMm));
    return pointFor(mark.frame + handle.reach * (other.frame - mark.frame), distance);
}

void DeskPainter::paintRuler(QPainter& painter) const
{
    painter.setFont(style::numberFont(8));
    for (const int frame : rulerFrames()) {
        const double x = m_frames.toX(frame);
        painter.setPen(kGrid);
        painter.drawLine(QPointF(x, m_plot.top()), QPointF(x, m_plot.bottom()));
        painter.setPen(style::dimText);
        if (!isCrowded(frame)) painter.drawText(numberBox(x), Qt::AlignCenter, QString::number(frame));
    }
}

QRectF DeskPainter::numberBox(double x)
{
    return {x - 24, 4, 48, SharedAxis::topMargin - 6};
}

/// The first frame's number stands in the way of the next.
bool DeskPainter::isCrowded(int frame) const
{
    const int first = m_document.project().firstFrame;
    return frame != first && frame - first < rulerStep(m_frames.pxPerFrame()) / 2;
}

std::vector<int> DeskPainter::rulerFrames() const
{
    const auto& project = m_document.project();
    const int step = rulerStep(m_frames.pxPerFrame());
    std::vector<int> frames;
    const int last = std::min(project.lastFrame, static_cast<int>(std::ceil(m_frames.right)));
    for (int frame = std::max(project.firstFrame, static_cast<int>(std::floor(m_frames.left))); frame <= last;
         ++frame) {
        const double x = m_frames.toX(frame);
        const bool isShown = frame % step == 0 || frame == project.firstFrame;
        if (isShown && x >= m_plot.left() && x <= m_plot.right()) frames.push_back(frame);
    }
    return frames;
}

void DeskPainter::paintPresentFrame(QPainter& painter) const
{
    const double here = m_frames.toX(m_document.frame());
    for (const int frame : rulerFrames()) // numbers under or close beside the flag give way
        if (std::abs(m_frames.toX(frame) - here) < 38.0)
            painter.fillRect(numberBox(m_frames.toX(frame)), style::panel);
    if (here < m_plot.left() - 1 || here > m_plot.right() + 1) return;
    painter.setPen(QPen(style::text, 1));
    painter.drawLine(QPointF(here, SharedAxis::topMargin - 4), QPointF(here, m_plot.bottom()));
    painter.setFont(style::numberFont(8));
    const QRectF flag(std::clamp(here - 20, 0.0, m_plot.right() - 32.0), 5, 40, 17);
    painter.fillRect(flag, style::text);
    painter.setPen(style::well);
    painter.drawText(flag, Qt::AlignCenter, QString::number(m_document.frame()));
}

void DeskPainter::paintPlayedRange(QPainter& painter) const
{
    const auto& project = m_document.project();
    if (!project.playing.in && !project.playing.out) return;
    const timeline::FrameRange range = project.playedFrames();
    const double in = std::clamp(m_frames.toX(range.first - 0.5), m_plot.left(), m_plot.right());
    const double out = std::clamp(m_frames.toX(range.last + 0.5), m_plot.left(), m_plot.right());
    const QColor shade(20, 20, 20, 130);
    painter.fillRect(QRectF(m_plot.topLeft(), QPointF(in, m_plot.bottom())), shade);
    painter.fillRect(QRectF(QPointF(out, m_plot.top()), m_plot.bottomRight()), shade);
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(style::text, 1));
    const double top = m_plot.top() - 1;
    painter.drawLine(QPointF(in, top), QPointF(out, top)); // a bracket from in to out
    for (const auto& [x, inward] : {std::pair{in, 4.0}, std::pair{out, -4.0}}) {
        painter.drawLine(QPointF(x, top), QPointF(x, top + 8));
        painter.drawLine(QPointF(x, top + 8), QPointF(x + inward, top + 8));
    }
    painter.setRenderHint(QPainter::Antialiasing, true);
}

void DeskPainter::paintShots(QPainter& painter) const
{
    const auto& project = m_document.project();
    if (project.shots.size() < 2) return;
    painter.setFont(style::textFont(8));
    for (std::size_t i = 0; i < project.shots.size(); ++i) {
        const timeline::FrameRange range = project.framesOf(i);
        const double left = m_frames.toX(range.first - 0.5);
        const double right = m_frames.toX(range.last + 0.5);
        if (right < m_plot.left() || left > m_plot.right()) continue;
        if (i > 0) { // a break: nothing goes across
            painter.fillRect(QRectF(left - 2.0, m_plot.top(), 4.0, m_plot.height()), style::panel);
            painter.setPen(QPen(style::dimText, 1));
            for (const double x : {left - 2.0, left + 2.0})
                painter.drawLine(QPointF(x, m_plot.top()), QPointF(x, m_plot.bottom()));
        }
        const QString name = project.shots[i].name.empty() ? QObject::tr("Shot %1").arg(i + 1)
                                                           : QString::fromStdString(project.shots[i].name);
        const double from = std::max(left, m_plot.left()) + 7.0;
        const double room = std::min(right, m_plot.right()) - from - 4.0;
        if (room > 24.0) {
            const QString words =
                painter.fontMetrics().elidedText(name, Qt::ElideRight, static_cast<int>(room));
            const QRectF box(from, m_plot.top() + 2, painter.fontMetrics().horizontalAdvance(words), 16);
            painter.fillRect(box.adjusted(-3, 0, 3, 0), kNameGround);
            painter.setPen(style::dimText);
            painter.drawText(box, Qt::AlignVCenter | Qt::AlignLeft, words);
        }
    }
}

/// Above its line; where other names stand, below it, farther off, or to their right.
DeskPainter::Name DeskPainter::freePlace(QPointF wanted, const QString& words, const QFontMetrics& metrics,
                                         const std::vector<Name>& others) const
{
    const auto placed = [&](QPointF at) {
        return Name{at, words, QRectF(metrics.boundingRect(words)).translated(at).adjusted(-3, -1, 3, 1)};
    };
    double x = wanted.x();
    while (x < m_plot.right()) {
        double next = m_plot.right();
        for (const double away : {0.0, 18.0, -18.0, 36.0, -36.0, 54.0}) {
            const Name name = placed({x, wanted.y() + away});
            if (name.at.y() <= m_plot.top() + 26 || name.at.y() > m_plot.bottom()) continue;
            const auto other = std::find_if(others.begin(), others.end(), [&](const Name& its) {
                return its.ground.intersects(name.ground);
            });
            if (other == others.end()) return name;
            next = std::min(next, other->ground.right() + 7);
        }
        x = next;
    }
    return placed(wanted);
}

void DeskPainter::paintSubjects(QPainter& painter) const
{
    const auto& subjects = m_document.project().subjects;
    std::vector<Name> names;
    std::set<int> cuts;
    for (const project::Shot& shot : m_document.project().shots)
        cuts.insert(shot.firstFrame);
    const auto isCut = [&](int frame) { return cuts.contains(frame); };
    painter.setFont(style::textFont(8));
    for (std::size_t i = 0; i < subjects.size(); ++i) {
        QPolygonF seen;
        std::vector<QLineF> unseen;
        std::optional<QPointF> label;
        QPen pen(kSubject, 1.4);
        pen.setDashPattern(dashOf(i));
        painter.setBrush(Qt::NoBrush);
        const auto drawSeen = [&] {
            painter.setPen(pen);
            painter.drawPolyline(seen);
            seen.clear();
        };
        const timeline::Sample* before = nullptr;
        QPointF last;
        for (const timeline::Sample& sample : subjects[i].samples) {
            const double x = m_frames.toX(sample.frame);
            if (x < m_plot.left() - m_frames.pxPerFrame() || x > m_plot.right() + m_frames.pxPerFrame())
                continue;
            const bool joined = before && before->frame + 1 == sample.frame && !isCut(sample.frame);
            const bool isSeen = joined && sample.sight == timeline::Sight::measured &&
                                before->sight == timeline::Sight::measured;
            before = &sample;
            if (joined && isSeen && !seen.isEmpty() && x - last.x() < 1.0) continue; // not a px farther
            const QPointF at(x, m_plot.top() + m_axis.toY(sample.distance));
            if (!label && at.x() >= m_plot.left() + 2 && m_plot.contains(at)) label = at;
            if (isSeen) {
                if (seen.isEmpty()) seen.append(last);
                seen.append(at);
            } else {
                drawSeen();
                if (joined) unseen.emplace_back(last, at);
            }
            last = at;
        }
        drawSeen();
        painter.setPen(QPen(style::trouble, 1.2, Qt::DotLine)); // hidden: bridged, or to be looked at
        painter.drawLines(unseen.data(), static_cast<int>(unseen.size()));
        if (!label) continue;
        names.push_back(freePlace({label->x() + 4, label->y() - 4}, QString::fromStdString(subjects[i].name),
                                  painter.fontMetrics(), names));
    }
    // Over all lines, on a ground of their own.
    for (const Name& name : names) {
        painter.fillRect(name.ground, kNameGround);
        painter.setPen(kSubject);
        painter.drawText(name.at, name.words);
    }
}

void DeskPainter::paintFocus(QPainter& painter) const
{
    for (std::size_t shot = 0; shot < m_document.project().shots.size(); ++shot)
        paintFocusOf(painter, shot);
}

void DeskPainter::paintFocusOf(QPainter& painter, std::size_t shot) const
{
    const auto& project = m_document.project();
    const timeline::FrameRange range = project.framesOf(shot);
    const double first = std::max<double>(range.first, std::floor(m_frames.left - 1.0));
    const double last = std::min<double>(range.last, std::ceil(m_frames.right));
    if (first > last) return;
    QPolygonF focus;
    QPolygonF band;
    QPolygonF lower;
    const auto add = [&](double frame, double x) {
        const project::Settings values = project.valuesAt(frame);
        const optics::ThinLens lens =
            project.lensAt(frame, m_document.source() ? m_document.source()->width() : 1);
        const auto zone = optics::sharpZone(lens, values.acceptedCocMm);
        focus.append({x, m_plot.top() + m_axis.toY(values.focusDistance)});
        band.append({x, m_plot.top() + m_axis.toY(project.fromMillimetres(zone.farMm))});
        lower.prepend({x, m_plot.top() + m_axis.toY(project.fromMillimetres(zone.nearMm))});
    };
    // A point for each px, or eight for each frame where frames are wide.
    const double step = std::max(1.0 / 8.0, 1.0 / m_frames.pxPerFrame());
    add(first, m_frames.toX(first - 0.5));
    for (double frame = first; frame < last; frame += step)
        add(frame, m_frames.toX(frame));
    add(last, m_frames.toX(last));
    add(last, m_frames.toX(last + 0.5));
    painter.setBrush(Qt::NoBrush);
    // Thin lines and upright columns need no smoothing, which takes most of the time that a step of a drag
    // has.
    painter.setRenderHint(QPainter::Antialiasing, false);
    for (int i = 1; i < band.size(); ++i) {
        const QPointF& low = lower[lower.size() - 1 - i];
        painter.fillRect(QRectF(QPointF(band[i - 1].x(), band[i].y()), QPointF(band[i].x(), low.y())),
                         QColor(255, 255, 255, 34));
    }
    painter.setPen(QPen(style::farSide, 1.0));
    drawDashed(painter, band, 1.5, 4.0);
    painter.setPen(QPen(style::nearSide, 1.0));
    drawDashed(painter, lower, 5.0, 9.0);
    painter.setRenderHint(QPainter::Antialiasing, true);
    drawWide(painter, focus, 2.2, style::focal);
}

void DeskPainter::paintMarks(QPainter& painter) const
{
    const auto& project = m_document.project();
    const std::size_t present = project.shotIndexAt(m_document.frame());
    painter.setFont(style::numberFont(8));
    const timeline::Mark* only = nullptr;
    for (std::size_t shot = 0; shot < project.shots.size(); ++shot) {
        for (const auto& mark : project.shots[shot].marks(setting::focusDistance)) {
            const QPointF p = pointFor(mark);
            if (p.x() < m_plot.left() - 8 || p.x() > m_plot.right() + 8) continue;
            const bool chosen = shot == present && m_state.isChosen(setting::focusDistance, mark.frame);
            if (chosen) paintHandles(painter, mark);
            painter.setPen(QPen(chosen ? style::text : style::well, chosen ? 2.0 : 1.0));
            painter.setBrush(style::focal);
            if (mark.isBound()) { // rides on a subject: a ring
                painter.drawEllipse(p, 5.5, 5.5);
                painter.setBrush(style::well);
                painter.setPen(Qt::NoPen);
                painter.drawEllipse(p, 2.4, 2.4);
            } else {
                const QPointF diamond[4] = {p + QPointF(0, -6), p + QPointF(6, 0), p + QPointF(0, 6),
                                            p + QPointF(-6, 0)};
                painter.drawPolygon(diamond, 4);
            }
            if (chosen && m_state.chosen().size() == 1) only = &mark;
        }
    }
    if (!only) return;
    const auto* subject = project.subjectNamed(only->subject);
    const double distance =
        subject ? timeline::distanceAt(*subject, only->frame).value_or(only->value) : only->value;
    QString words = QStringLiteral("%1: %2").arg(only->frame).arg(shownDistance(project, distance));
    if (only->isBound())
        words += subject ? QObject::tr(", on %1").arg(QString::fromStdString(only->subject))
                         : QObject::tr(", %1 is gone").arg(QString::fromStdString(only->subject));
    paintLabel(painter, pointFor(*only), words);
}

void DeskPainter::paintHandles(QPainter& painter, const timeline::Mark& mark) const
{
    for (const bool leaving : {false, true}) {
        const auto handle = handleOf(mark, leaving);
        if (!handle) continue;
        painter.setPen(QPen(style::text, 1.0));
        painter.drawLine(pointFor(mark), *handle);
        painter.setBrush(style::text);
        painter.setPen(QPen(style::well, 1.0));
        painter.drawRect(QRectF(handle->x() - 3.5, handle->y() - 3.5, 7, 7));
    }
}

void DeskPainter::paintLabel(QPainter& painter, QPointF at, const QString& words) const
{
    const double width = painter.fontMetrics().horizontalAdvance(words) + 10;
    const double left =
        std::clamp(at.x() + 10, m_plot.left(), std::max(m_plot.left(), m_plot.right() - width));
    const double top = at.y() - 26 >= m_plot.top() ? at.y() - 26 : at.y() + 10;
    const QRectF box(left, std::min(top, m_plot.bottom() - 18), width, 18);
    painter.fillRect(box, kNameGround);
    painter.setPen(style::text);
    painter.drawText(box, Qt::AlignCenter, words);
}

} // namespace retinex::app
