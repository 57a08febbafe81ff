#include "app/tools/draw_tool.h"

#include "app/field.h"
#include "core/arrange/choice.h"
#include "core/arrange/make.h"

namespace mossbed {

DrawTool::DrawTool(ToolBench& bench, ToolKind kind) : Tool(bench), kind_(kind), draft_(bench.desk().figure_of(kind)) {}

QString DrawTool::hint() const {
    const QString next = QString("Click the %1").arg(draft_.next());
    if (draft_.kind() == FigureKind::point)
        return QString("Click where the %1 · type “x, y” · Esc leaves")
            .arg(kind_ == ToolKind::column        ? "column stands"
                 : kind_ == ToolKind::member_load ? "wall or rib is that carries it"
                                                  : "load acts");
    if (!draft_.begun()) return next + " · type “x, y” · Esc leaves";
    if (draft_.kind() == FigureKind::rectangle) return next + " · type “12 x 8” or “x, y” · Backspace takes back";
    if (!draft_.ends_by_hand()) return next + " · type a radius · Backspace takes back";
    return next + " · type a length, “4.5 at 30”, “by 3, 2” or “x, y” · " +
           (draft_.kind() == FigureKind::corners ? "click the first corner or press Enter to close"
                                                 : "click again or press Enter to end");
}

Snap DrawTool::snapped() const {
    SnapTo to;
    to.drawn = draft_.points();
    if (draft_.begun())
        to.from = draft_.kind() == FigureKind::ring || draft_.kind() == FigureKind::circle ? draft_.points().front()
                                                                                           : draft_.points().back();
    to.free = hand_.free;
    // What stands, without the figure itself that follows the hand.
    return snap(desk().document()->settled(), bench_.camera(), hand_.in_plan, to);
}

QString DrawTool::note() const {
    const Snap s = snapped();
    QString text = coordinates(s);
    if (!draft_.begun()) return text;
    const Point from = draft_.points().back(), d = s.at - from;
    switch (draft_.kind()) {
        case FigureKind::rectangle:
            return look::number(std::abs(d.x), 2) + " × " + metres(std::abs(d.y)) + " · " + text;
        case FigureKind::circle:
        case FigureKind::ring:
            return "radius " + metres(distance(draft_.points().front(), s.at)) + " · " + text;
        default:
            return metres(length(d)) +
                   (length(d) > 1e-6 ? " at " + look::number(std::atan2(d.y, d.x) * 180 / M_PI, 1) + "°" : QString()) +
                   " · " + text;
    }
}

void DrawTool::hover(const Hand& h) {
    hand_ = h, has_hand_ = true;
    follow();
}

void DrawTool::press(const Hand& h) {
    hand_ = h, has_hand_ = true;
    place(snapped().at);
}

bool DrawTool::double_click(const Hand&) {
    if (!draft_.ends_by_hand()) return false;
    end_by_hand();
    return true;
}

bool DrawTool::put_down() {
    desk().document()->cancel_preview();
    bench_.take(ToolKind::choose);
    return true;
}

void DrawTool::let_go() {
    if (!draft_.begun()) return;
    draft_.clear(), typed_.clear();
    bench_.hint_moved();
}

bool DrawTool::key(QKeyEvent* e) {
    const QString t = e->text();
    // Numbers, sums, other units and the few words between them: "24 in", "3*1.2", "4.5 at 30", "by 3, 2".
    const bool begins = !t.isEmpty() && QString("0123456789.-b").contains(t);
    const bool goes_on = !typed_.isEmpty() && !t.isEmpty() && (QString(",+*/() ×").contains(t) || t[0].isLetter());
    if (begins || goes_on) {
        typed_ += t;
        return true;
    }
    if (e->key() == Qt::Key_Backspace) {
        if (!typed_.isEmpty())
            typed_.chop(1);
        else
            draft_.take_back(), follow();
        bench_.hint_moved();
        return true;
    }
    if (e->key() != Qt::Key_Return && e->key() != Qt::Key_Enter) return false;
    if (!typed_.isEmpty())
        place_typed();
    else if (draft_.ends_by_hand())
        end_by_hand();
    return true;
}

void DrawTool::place_typed() {
    const QString said = std::exchange(typed_, QString());
    QString why;
    const auto parts = parts_of_typed(said.toStdString());
    std::vector<double> numbers;
    for (size_t k = 0; parts && k < parts->numbers.size(); ++k) {
        const bool is_angle = parts->way == TypedPlace::polar && k == 1;
        const auto v =
            read_number(QString::fromStdString(parts->numbers[k]), is_angle ? Unit::degrees : Unit::metre, &why);
        if (v) numbers.push_back(*v);
    }
    const bool one = parts && parts->way == TypedPlace::length;
    if (!parts || numbers.size() != (one ? 1U : 2U))
        return desk().say(QString("“%1” is no place: type “x, y”, “by 3, 2” from the last point, a length towards the "
                                  "pointer, or “4.5 at 30”%2.")
                              .arg(said, why.isEmpty() ? "" : " (" + why + ")"),
                          true);
    std::string no;
    // Where nobody has pointed, sizes go to the right and up.
    const Point towards = has_hand_ || !draft_.begun() ? snapped().at : draft_.points().back() + Point{1, 1};
    const auto p = draft_.point_of({parts->way, numbers[0], one ? 0 : numbers[1]}, towards, &no);
    if (!p) return desk().say(QString("“%1” is not taken: %2.").arg(said, QString::fromStdString(no)), true);
    place(*p);
}

bool DrawTool::is_on_a_point(Point p, size_t i) const {
    return QLineF(bench_.camera().at(p), bench_.camera().at(draft_.points()[i])).length() < 9;
}

void DrawTool::say_why_not(const std::string& why) {
    desk().say(QString("Not taken: %1. Backspace takes the last point back.").arg(QString::fromStdString(why)), true);
}

void DrawTool::place(Point p) {
    typed_.clear();
    const size_t n = draft_.points().size();
    if (draft_.kind() == FigureKind::corners && n >= 3 && is_on_a_point(p, 0)) return end_by_hand();
    if (draft_.kind() == FigureKind::path && n >= 2 && is_on_a_point(p, n - 1)) return end_by_hand();
    if (const std::string why = draft_.add(p); !why.empty()) return say_why_not(why);
    if (draft_.is_complete()) return finish();
    follow();
    bench_.hint_moved();
}

void DrawTool::end_by_hand() {
    if (const std::string why = draft_.fault(); !why.empty()) return say_why_not(why);
    finish();
}

std::string DrawTool::make(Model& m, const Figure& f, Thing* made) const {
    if (made_by(kind_) != ThingKind::load) return make_thing(m, made_by(kind_), f, desk().patterns, made);
    Model patterns = desk().patterns;  // into the case in hand
    if (!patterns.loads.cases.empty()) patterns.loads.cases[0].id = desk().load_case;
    if (kind_ == ToolKind::member_load) return load_member_at(m, f.points.front(), patterns, made);
    return make_thing(m, ThingKind::load, f, patterns, made);
}

void DrawTool::follow() {
    // The slab itself is drawn beside the one that stands; a column follows once it is set.
    if (!draft_.begun() || kind_ == ToolKind::slab || !has_slab(desk().now())) return;
    const Model& before = desk().document()->settled();
    Model m = before;
    const Figure f = draft_.with(snapped().at);
    if (f.none() || !make(m, f, nullptr).empty() || !fault_of_edit(before, m).empty())
        return desk().document()->cancel_preview();
    desk().document()->preview(std::move(m));
}

void DrawTool::finish() {
    const Figure f = draft_.figure();
    draft_.clear();
    Desk& on = desk();
    Model m = on.document()->settled();
    Thing made;
    if (const std::string why = make(m, f, &made); !why.empty()) {
        on.document()->cancel_preview();
        return say_why_not(why);
    }
    const bool is_slab = kind_ == ToolKind::slab;
    const QString deed = is_slab                          ? QString("Draw the slab")
                         : kind_ == ToolKind::member_load ? "Load " + name_of(made)
                                                          : "Draw " + name_of(made);
    if (is_slab) bench_.take(ToolKind::choose);  // this tool is gone from here on
    if (is_slab)
        on.document()->apply(deed, std::move(m));
    else if (on.apply_sound(deed, std::move(m)))
        on.choose({made});
    if (!is_slab) bench_.hint_moved();
}

// Walls, ribs and columns as wide as they will be.
void DrawTool::draw_true_size(QPainter& p, const Figure& f) const {
    const Camera& camera = bench_.camera();
    const Model& like = desk().patterns;
    p.setPen(QPen(look::moss, 1.4));
    p.setBrush(look::faded(look::moss, 60));
    if (kind_ == ToolKind::column && !f.points.empty() && !like.columns.empty()) {
        Column c = like.columns[0];
        c.at = f.points[0];
        p.drawPolygon(camera.on_paper(footprint(c)));
    }
    if (kind_ != ToolKind::wall && kind_ != ToolKind::rib) return;
    const double width = kind_ == ToolKind::wall ? like.walls[0].thickness : like.ribs[0].width;
    if (f.points.size() > 1)
        for (const Polygon& body : bodies_along(f.points, width)) p.drawPolygon(camera.on_paper(body));
}

void DrawTool::draw(QPainter& p) const {
    const bool points = bench_.has_pointer() && has_hand_;
    if (!points && typed_.isEmpty() && !draft_.begun()) return;
    const Camera& camera = bench_.camera();
    const Figure f = draft_.with(snapped().at);
    if (points || draft_.begun()) draw_true_size(p, f);
    p.setBrush(Qt::NoBrush);
    if (draft_.begun()) {
        const QPolygonF q = camera.on_paper(f.points);
        p.setPen(QPen(look::moss, 2));
        if (f.is_closed && !draft_.ends_by_hand())
            p.drawPolygon(q);
        else
            p.drawPolyline(camera.on_paper(draft_.points()));
        if (draft_.ends_by_hand()) {
            p.setPen(QPen(look::moss, 1.4, Qt::DashLine));
            p.drawLine(camera.at(draft_.points().back()), camera.at(snapped().at));
        }
        if (draft_.kind() == FigureKind::ring && draft_.points().size() == 2)
            p.drawEllipse(camera.at(draft_.points()[0]), camera.scale * distance(draft_.points()[0], snapped().at),
                          camera.scale * distance(draft_.points()[0], snapped().at));
        // Dimensions of the figure in hand.
        std::vector<Point> along = draft_.points();
        if (draft_.kind() == FigureKind::rectangle)
            along = f.points;
        else
            along.push_back(snapped().at);
        if (draft_.kind() == FigureKind::circle || draft_.kind() == FigureKind::ring)
            along.erase(along.begin() + 1, along.end() - 1);
        const size_t sides =
            draft_.kind() == FigureKind::rectangle ? std::min<size_t>(2, along.size()) : along.size() - 1;
        for (size_t i = 0; i < sides && along.size() > 1; ++i)
            if (const double l = distance(along[i], along[i + 1]); l > 1e-6)
                write_length(p, camera.at(along[i]), camera.at(along[i + 1]), metres(l));
        p.setBrush(look::sheet);
        p.setPen(QPen(look::moss, 1.6));
        for (Point c : draft_.points()) p.drawRect(QRectF(camera.at(c) - QPointF(3.5, 3.5), QSizeF(7, 7)));
    }
    if (points || !typed_.isEmpty()) bench_.tag(p, hand_.at, typed_.isEmpty() ? note() : typed_ + "▏");
}

}  // namespace mossbed
