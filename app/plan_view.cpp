#include "app/plan_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include "app/bars_switch.h"
#include "app/field.h"
#include "app/plan_menu.h"
#include "draw/render.h"

namespace mossbed {

PlanView::PlanView(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("plan");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(300, 200);
    switch_ = new BarsSwitch(desk, this);
    tool_ = make_tool(ToolKind::choose, *this);
    connect(desk, &Desk::changed, this, [this](int what) {
        if ((what & ~(Desk::state | Desk::pointer)) || desk_->in_step() != was_in_step_ || desk_->is_old() != was_old_)
            renew();
        else if (what & Desk::pointer)
            update();
    });
    connect(desk, &Desk::flew, this, [this] {
        if (!desk_->flag) return;
        // Brought into view, not thrown about: only when it is off the sheet or the sheet is far away.
        const QPointF at = camera_.at(*desk_->flag);
        if (!QRectF(rect()).adjusted(60, 60, -60, -60).contains(at))
            camera_.move_by(QPointF(width() / 2.0, height() / 2.0) - at), fitted_ = false;
        renew();
    });
    connect(desk->document(), &Document::renamed, this, [this] { renew(); });
    connect(desk->document(), &Document::let_go, this, &PlanView::let_go);
    connect(desk->document(), &Document::replaced, this, [this] { take(ToolKind::choose); });
}

void PlanView::show_all() {
    Box b;
    if (has_slab(desk_->now())) b = box_of(outer_rim(desk_->now().slab.outline, 0.5));
    for (const Column& c : desk_->now().columns) b.add(c.at);
    for (const Wall& w : desk_->now().walls)
        for (Point p : w.path) b.add(p);
    if (!has_slab(desk_->now()))
        for (const SettingOutLine& l : desk_->now().setting_out)
            for (Point p : l.path) b.add(p);
    if (desk_->stop == Stop::ground) {  // boreholes near by are a part of the picture
        for (const Borehole& h : desk_->now().ground.boreholes) b.add(h.at);
        const PlanScene s = scene();
        for (const auto& [id, at] : s.coming) b.add(at);
    }
    for (const auto& line : scene().coming_lines)
        for (Point p : line) b.add(p);
    for (const Underlay& u : desk_->now().underlays)
        if (b.empty()) b.add(u.at), b.add(u.at + Point{u.width, 0.7 * u.width});
    if (b.empty()) b.add({-2, -2}), b.add({22, 14});
    if (b.width() + b.height() < 1) b.add(b.low - Point{5, 5}), b.add(b.high + Point{5, 5});
    camera_.show(b, sheet_area().adjusted(74, 40, -44, desk_->stop == Stop::ground ? -40 : -14));
    fitted_ = true;
    renew();
}

void PlanView::take(ToolKind kind) {
    desk_->document()->cancel_preview();  // of the tool that is put away
    put_away_ = std::move(tool_);
    desk_->tool = kind;
    tool_ = make_tool(kind, *this);
    setCursor(tool_->cursor());
    Q_EMIT tool_changed();
    Q_EMIT hint_changed();
    if (kind == ToolKind::choose)
        desk_->tell(Desk::choice);
    else
        desk_->choose({});  // its page shows what will be drawn
    renew();
}

bool PlanView::has_handles() const {
    return tool() == ToolKind::choose &&
           (desk_->stop == Stop::slab || desk_->stop == Stop::contact || desk_->stop == Stop::ground);
}

// Where its columns come to stand, and the sense of one column's moment.
void PlanView::add_table(PlanScene& s) const {
    const TakingTable& t = *desk_->taking_table;
    for (const TableColumnRow& row : t.table.columns) {
        const Column* c = find_id(t.taken.model.columns, row.id);
        if (!c) continue;
        s.coming_lines.push_back(footprint(*c));
        s.coming_lines.back().push_back(s.coming_lines.back().front());
        if (!find_id(desk_->now().columns, row.id)) s.coming_names.push_back({c->id, c->at});
    }
    if (t.taken.made_slab)
        if (const auto* rim = std::get_if<Polygon>(&t.taken.model.slab.outline); rim && !rim->empty()) {
            s.coming_lines.push_back(*rim);
            s.coming_lines.back().push_back(rim->front());
        }
    const TableLoad* l = t.shown_moment();
    const Column* c = l ? find_id(t.taken.model.columns, l->load.column) : nullptr;
    if (!c) return;
    const Point towards = unit({l->load.My, -l->load.Mx});
    s.coming_moment = {c->at, towards, l->load_case + ": presses harder this way"};
}

namespace {

const PunchingAnswer* punched_at(const Answer& a, Point at) {
    const PunchingAnswer* found = nullptr;
    double least = 1e300;
    for (const PunchingAnswer& p : a.punching)
        if (contains(p.outline, at))
            if (const double area = std::abs(signed_area(p.outline)); area < least) least = area, found = &p;
    return found;
}

}  // namespace

PlanScene PlanView::scene() const {
    PlanScene s;
    s.model = &desk_->now();
    s.answer = desk_->answer().get();
    s.combination = desk_->combination();
    if (desk_->envelope() && s.answer) {
        s.envelope = desk_->name_of_view().toStdString();
        const std::vector<int> all = combinations_for(*s.answer, desk_->envelope()->purpose);
        s.combination = all.empty() ? nullptr : &s.answer->combinations[size_t(all.front())];
    }
    s.quantity = desk_->quantity;
    s.shapes = &desk_->shapes();
    s.lifted = desk_->lifted();
    s.over = desk_->over();
    s.chosen = desk_->chosen;
    s.handles = has_handles();
    if (desk_->tracing && desk_->curve)
        for (size_t k = 0; k < desk_->curve->points.size(); ++k)
            s.traced.emplace_back(desk_->curve->names[k], desk_->curve->points[k]);
    s.boreholes = desk_->stop == Stop::ground;
    if (s.boreholes) s.pin = desk_->pin;
    if (desk_->taking)
        for (const ReportHole& h : desk_->taking->report.holes)
            if (h.at && !h.layers.empty()) s.coming.push_back({h.id, place_of(*h.at, desk_->taking->placing)});
    if (desk_->taking_table && desk_->stop == Stop::slab) add_table(s);
    if (desk_->taking_drawing && desk_->stop == Stop::slab) {
        s.coming_lines = desk_->taking_drawing->plan.strokes;
        for (const Column& c : desk_->taking_drawing->plan.columns) s.coming_names.push_back({c.id, c.at});
    }
    s.uses = desk_->stop == Stop::shear;
    s.punched = desk_->punched();
    if (const StripAnswer* strip = desk_->stop == Stop::steel ? desk_->strip() : nullptr) s.strip = strip->strip.id;
    if (s.uses && s.answer && desk_->pointer_at)
        if (const PunchingAnswer* p = punched_at(*s.answer, *desk_->pointer_at)) s.hovered = p->id;
    s.mesh = desk_->stop == Stop::slab;
    s.strips = desk_->stop == Stop::steel;
    s.bars_face = desk_->bars_face, s.bars_direction = desk_->bars_direction;
    if (s.strips && s.quantity == Quantity::margin && s.answer) {
        s.bars = &desk_->bars();
        if (const auto& t = desk_->tightest()) {
            s.tightest = t->at;
            s.tightest_words =
                (t->use > 100 ? QString("no steel fits")
                              : "tightest " + look::number(t->use, 2) + " · " + QString::fromStdString(t->combination))
                    .toStdString();
        }
    }
    if (s.strips && s.quantity == Quantity::required && !desk_->map().corner.empty()) {
        s.tightest = desk_->map().most_at;
        s.tightest_words = ("most " + look::with_unit(desk_->map().most, "mm²/m")).toStdString();
    }
    s.load_case = desk_->stop == Stop::loads ? desk_->load_case : "";
    s.cut = desk_->cut;
    s.hair = desk_->hair;
    s.flag = desk_->flag;
    s.flag_text = desk_->flag_text.toStdString();
    s.flag_area = desk_->flag_area, s.is_flag_over = desk_->is_flag_over;
    s.stale = desk_->is_old();
    s.clipped = !desk_->in_step();
    s.moving = s.answer && s.answer->coarse;
    s.rows = &desk_->rows();
    s.invite = tool() != ToolKind::slab;
    // Contact shows where it presses most, unless the engineer flew somewhere else.
    if (!s.flag && !desk_->tracing && desk_->stop == Stop::contact && s.quantity == Quantity::pressure &&
        s.combination && !desk_->map().corner.empty()) {
        for (const Row& r : desk_->rows())  // what bearing is held against, where it is not that place
            if (r.id == "bearing" && s.envelope.empty() && r.combination == s.combination->combination.id)
                s.flag_area = r.area, s.is_flag_over = r.status == Status::over;
        s.flag = desk_->map().most_at;
        s.flag_text = (look::with_unit(desk_->map().most, "kPa") + " max").toStdString();
        if (const auto by = desk_->governing_at(*s.flag)) s.flag_text += " by " + *by;
        // On coupled ground pressures peak along rims, and what yields there, only on a fine mesh.
        if (s.moving && s.answer->model->ground.model == GroundModel::coupled)
            s.flag_text = "about " + s.flag_text + " · no peaks yet";
        else if (s.envelope.empty() && s.combination->yield_ratio > 0)
            s.flag_text += " · " + share_in_words(s.combination->yield_ratio) + " yields";
    }
    return s;
}

const Drawing& PlanView::drawing() const {
    if (!is_drawn_) drawn_ = plan_drawing(scene(), camera_, from_qt(sheet_area()));
    is_drawn_ = true;
    return drawn_;
}

void PlanView::renew() {
    is_drawn_ = is_painted_ = false;
    update();
}

void PlanView::paintEvent(QPaintEvent*) {
    const PlanScene s = scene();
    const QSize pixels = size() * devicePixelRatioF();
    if (!is_painted_ || sheet_.size() != pixels) {
        sheet_ = QPixmap(pixels);
        sheet_.setDevicePixelRatio(devicePixelRatioF());
        sheet_.fill(look::sheet);
        QPainter p(&sheet_);
        underlays_.paint(p, camera_, *s.model, desk_->document()->folder());
        paint_drawing(p, drawing(), camera_, rect());
        const PlanKey key = plan_key(s, from_qt(foot()));
        p.fillRect(foot(), look::sheet);
        paint_drawing(p, key.drawing, bare_paper(), rect());
        paint_drawing(p, plan_scale_bar(camera_, from_qt(foot())), bare_paper(), rect());
        if (s.uses && s.quantity == Quantity::none)
            paint_drawing(p, plan_key_of_uses(from_qt(foot())), bare_paper(), rect());
        key_ = to_qt(key.bar);
        is_painted_ = true, was_in_step_ = desk_->in_step(), was_old_ = desk_->is_old();
    }
    QPainter p(this);
    p.drawPixmap(0, 0, sheet_);
    p.setClipRect(sheet_area());
    paint_drawing(p, plan_hair(s), camera_, rect());
    p.setRenderHint(QPainter::Antialiasing);
    tool_->draw(p);
}

void PlanView::tag(QPainter& p, QPointF at, const QString& text) {
    if (text.isEmpty()) return;
    p.setFont(look::font(look::Size::small));
    QRectF box(at.x() + 14, at.y() + 12, QFontMetricsF(p.font()).horizontalAdvance(text) + 12, 18);
    if (box.right() > width() - 4) box.moveRight(at.x() - 12);
    p.setPen(QPen(look::line, 1));
    p.setBrush(look::white);
    p.drawRoundedRect(box, 3, 3);
    p.setPen(look::ink);
    p.drawText(box, Qt::AlignCenter, text);
}

QString PlanView::reading() const {
    const auto& a = desk_->answer();
    if (!desk_->pointer_at || !a) return "";
    if (desk_->stop == Stop::shear)  // what is punched there: the smallest of those that lie on each other
        if (const PunchingAnswer* p = punched_at(*a, *desk_->pointer_at))
            return QString("%1 %2 · %3")
                .arg(QString::fromStdString(p->id), look::number(p->utilisation, 2),
                     QString::fromStdString(p->combination));
    if (desk_->map().corner.empty()) return "";
    const Finder::Hit h = a->finder.at(*desk_->pointer_at);
    if (h.element < 0) return "";
    if (desk_->quantity == Quantity::margin) {
        const double v = desk_->map().at(h, a->mesh);
        return look::with_unit(std::abs(v), "%") + (v < 0 ? " short of steel" : " of the bars to spare");
    }
    if (desk_->quantity == Quantity::required)
        return look::with_unit(desk_->map().at(h, a->mesh), "mm²/m") + " required by points";
    const double s = desk_->settlement_map().at(h, a->mesh);
    QString text =
        desk_->quantity == Quantity::settlement
            ? ""
            : look::with_unit(desk_->map().at(h, a->mesh), QString::fromUtf8(info(desk_->quantity).unit)) + " · ";
    if (const auto by = desk_->governing_at(*desk_->pointer_at); by && desk_->quantity != Quantity::settlement)
        return text + QString::fromStdString(*by);
    return text + (s < 0 ? "lifts " + look::with_unit(-s, "mm") : "settles " + look::with_unit(s, "mm"));
}

Hand PlanView::hand(const QMouseEvent* e) const {
    return {e->position(), camera_.back(e->position()), bool(e->modifiers() & Qt::AltModifier),
            bool(e->modifiers() & Qt::ShiftModifier)};
}

void PlanView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    if (held_ != Qt::NoButton) return;  // in the middle of a drag
    // The band of the key is no place of the plan.
    if (foot().contains(e->position()) && tool() != ToolKind::choose && e->button() == Qt::LeftButton) return;
    held_ = e->button();
    pressed_ = e->position();
    moved_ = false;
    camera_before_ = camera_;
    desk_->pointer_at = in_plan(e->position());
    if (held_ == Qt::LeftButton) tool_->press(hand(e));
    renew();
}

// The reading in the Cut below the pointer.
void PlanView::follow_hair() {
    const auto& cut = desk_->cut;
    const double t = dot(*desk_->pointer_at - cut[0], unit(cut[1] - cut[0]));
    desk_->hair = t >= 0 && t <= distance(cut[0], cut[1]) ? std::optional(t) : std::nullopt;
}

void PlanView::mouseMoveEvent(QMouseEvent* e) {
    desk_->pointer_at = in_plan(e->position());
    if (held_ == Qt::NoButton) {
        tool_->hover(hand(e));
        setCursor(tool_->cursor());
        follow_hair();
    } else {
        moved_ |= QLineF(e->position(), pressed_).length() > 3;
        if (held_ != Qt::LeftButton)
            camera_.origin = camera_before_.origin + from_qt(e->position() - pressed_), fitted_ = false;
        else if (moved_)
            tool_->drag(hand(e));
    }
    desk_->tell(Desk::pointer);
    if (held_ == Qt::NoButton)
        update();  // the sheet stays as it is
    else
        renew();
}

void PlanView::mouseReleaseEvent(QMouseEvent* e) {
    if (e->button() != held_) return;
    held_ = Qt::NoButton;
    if (e->button() == Qt::LeftButton) tool_->release(hand(e), moved_);
    if (e->button() == Qt::RightButton && !moved_) show_menu(e->position());
    if (e->button() == Qt::LeftButton && !moved_ && key_.adjusted(12, -4, -12, 18).contains(e->position()))
        type_scale();
    moved_ = false;
    tool_->hover(hand(e));
    setCursor(tool_->cursor());
    renew();
}

void PlanView::type_scale() {
    if (key_.isEmpty()) return desk_->say("There is no map whose scale could be set.");
    delete scale_;
    scale_ = new QFrame(this);
    scale_->setObjectName("key-scale");
    auto* box = new QVBoxLayout(scale_);
    box->setContentsMargins(10, 8, 10, 8);
    const QString unit = QString::fromUtf8(info(desk_->quantity).unit);
    const Bands now = desk_->bands();
    auto field = [&](const QString& label, const QString& name, double value, auto put) {
        auto* f = new Field(label, Unit::none, name);
        f->show_value(value, false);
        box->addWidget(f);
        connect(f, &Field::entered, this, [this, put](std::optional<double> v) {
            Bands b = desk_->bands();
            if (v) put(b, *v);
            if (!(b.low < b.high)) return desk_->say("The scale must end above its beginning; it stays.", true);
            desk_->set_bands(b);
        });
        return f;
    };
    Field* low = field("From, " + unit, "scale-low", now.low, [](Bands& b, double v) { b.low = v; });
    field("To, " + unit, "scale-high", now.high, [](Bands& b, double v) { b.high = v; });
    field("Bands", "scale-bands", now.n, [](Bands& b, double v) {
        b.n = std::clamp(int(std::lround(v)), 2, 24);
    })->set_range({2, 24});
    auto* row = new QHBoxLayout;
    for (const auto& [text, name, natural] :
         {std::tuple{"Natural scale", "scale-natural", true}, std::tuple{"Done", "scale-done", false}}) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this, [this, natural = natural] {
            if (natural) desk_->set_bands(std::nullopt);
            scale_->hide();
        });
        row->addWidget(b);
    }
    box->addLayout(row);
    scale_->adjustSize();
    const int x = std::clamp(int(key_.left()), 4, std::max(4, width() - scale_->width() - 4));
    scale_->move(x, std::max(4, height() - int(plan_key_height) - scale_->height() - 4));
    scale_->show();
    scale_->raise();
    low->line()->setFocus();
}

void PlanView::show_menu(QPointF at) {
    if (!sheet_area().contains(at)) return;
    auto* menu = new QMenu(this);
    menu->setObjectName("plan-menu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const PlanDeed& d :
         deeds_at(*desk_, under(at), in_plan(at), [this](const std::string& key) { Q_EMIT working_wanted(key); }))
        if (d.deed)
            connect(menu->addAction(d.text), &QAction::triggered, this, d.deed);
        else
            menu->addSeparator();
    if (menu->isEmpty()) return delete menu;
    menu->popup(mapToGlobal(at.toPoint()));
}

void PlanView::mouseDoubleClickEvent(QMouseEvent* e) {
    if (e->button() == Qt::LeftButton && tool_->double_click(hand(e))) return renew();
    mousePressEvent(e);
}

void PlanView::wheelEvent(QWheelEvent* e) {
    const double turns = e->angleDelta().y() / 120.0;
    if (key_.adjusted(-10, -8, 10, 20).contains(e->position())) {
        Bands b = desk_->bands();
        b.n = std::clamp(b.n + (turns > 0 ? 1 : -1), 2, 24);
        return desk_->set_bands(b);
    }
    const double f = std::pow(1.2, turns), scale = std::clamp(camera_.scale * f, 1.0, 2000.0);
    const Point at = from_qt(e->position());
    camera_.origin = at + (scale / camera_.scale) * (camera_.origin - at);
    camera_.scale = scale;
    fitted_ = false;
    renew();
}

void PlanView::keyPressEvent(QKeyEvent* e) {
    if (tool_->key(e)) return renew();
    if (e->key() == Qt::Key_Delete) return delete_chosen();
    QWidget::keyPressEvent(e);
}

void PlanView::let_go() {
    if (held_ == Qt::LeftButton && tool() == ToolKind::choose)
        tool_->put_down();
    else
        tool_->let_go();
    held_ = Qt::NoButton;
    renew();
}

bool PlanView::put_down() {
    const bool something = is_dragging() || tool() != ToolKind::choose || !desk_->chosen.empty() || desk_->flag;
    if (something) {
        tool_->put_down();
        held_ = Qt::NoButton;  // the rest of a drag is not heard
        renew();
    }
    return something;
}

void PlanView::delete_chosen() { desk_->remove(desk_->chosen); }

void PlanView::leaveEvent(QEvent*) {
    desk_->pointer_at.reset();
    desk_->hair.reset();
    desk_->tell(Desk::pointer);
    update();
}

void PlanView::resizeEvent(QResizeEvent* e) {
    switch_->move(width() - switch_->width() - 10, 10);
    if (fitted_ || !e->oldSize().isValid()) return show_all();
    // what was in the middle stays there
    camera_.move_by(QPointF(e->size().width() - e->oldSize().width(), e->size().height() - e->oldSize().height()) / 2);
    renew();
}

}  // namespace mossbed
