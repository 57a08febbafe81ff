// Beginnings, the slab, one side of its outline, things that stand on it.
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QSlider>
#include <set>

#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/arrange/choice.h"
#include "core/arrange/rims.h"
#include "core/base/paths.h"
#include "core/codes/materials.h"
#include "core/model/edit.h"
#include "core/model/levels.h"

namespace mossbed {

void BeginningsPage::build() {
    heading("A new raft");
    words("Nothing is drawn yet. Begin with one of these; every number can be changed afterwards.");
    button("Draw the slab's outline", "begin-outline", [this] { Q_EMIT tool_wanted(ToolKind::slab); });
    button("Start from a rectangle 12 × 8 m", "begin-rectangle", [this] {
        edit("Start from a rectangle", [](Model& m) { m.slab.outline = Polygon{{0, 0}, {12, 0}, {12, 8}, {0, 8}}; });
        desk_->go_to(Stop::slab);
    });
    button("Begin with a table of columns …", "begin-table", [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Columns and reactions from a table", {},
                                                          "Tables (*.csv *.txt *.tsv *.xlsx *.ods);;All files (*)");
        if (!path.isEmpty()) desk_->read_table(path);
    });
    button("Begin with a drawing (DXF) …", "begin-drawing", [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Outline, columns and walls from a drawing", {},
                                                          "Drawings (*.dxf);;All files (*)");
        if (!path.isEmpty()) desk_->read_drawing_file(path);
    });
    button("Begin with a ground report …", "begin-report", [this] { read_report_asked(desk_, this); });
    button("Look at the demo, Tern Quay", "begin-demo", [this] { Q_EMIT example_wanted("tern-quay.mossbed"); });
    button("Sandpiper Row, a loop of strips with ribs", "begin-sandpiper",
           [this] { Q_EMIT example_wanted("sandpiper-row.mossbed"); });
    button("Lapwing Cistern, a tank that floats when empty", "begin-lapwing",
           [this] { Q_EMIT example_wanted("lapwing-cistern.mossbed"); });
    button("Heron Mast, a round raft that lifts", "begin-heron",
           [this] { Q_EMIT example_wanted("heron-mast.mossbed"); });
    if (!now().columns.empty() || !now().walls.empty()) fit_rim_round();
    underlays();
    box_->addStretch(1);
}

namespace {

QString table_of(const MeshQuality& q) {
    auto line = [](const QString& name, const QString& value) {
        return "<tr><td style='padding-right:14px'>" + name + "</td><td align='right'>" + value + "</td></tr>";
    };
    auto share = [&](int cells) {
        const double percent = q.elements ? 100.0 * cells / q.elements : 0;
        return cells == 0 ? QString("none") : percent < 0.1 ? "below 0.1 %" : look::number(percent, 1) + " %";
    };
    const auto& bound = q.shape_bounds;
    QString t = "<table cellspacing='0' cellpadding='1'>";
    t += line("nodes", QString::number(q.nodes));
    t += line("cells", QString::number(q.elements));
    t += line("of them quadrilaterals", look::number(100 * q.quad_share, 1) + " %");
    t += line("smallest angle", look::number(q.smallest_angle, 0) + "°");
    t += line("longest side over shortest", look::number(q.worst_aspect, 1));
    t += line("shape (1 is square), least, marked", look::number(q.worst_shape, 2));
    t += line(QString("shape %1 and above").arg(bound[0]), share(q.by_shape[0]));
    for (size_t k = 1; k < bound.size(); ++k)
        t += line(QString("%1 to %2").arg(bound[k]).arg(bound[k - 1]), share(q.by_shape[k]));
    t += line(QString("below %1").arg(bound.back()), share(q.by_shape.back()));
    return t + "</table>";
}

}  // namespace

void SlabPage::build() {
    heading("Slab");
    field("slab/thickness");
    field("slab/stiffness_factor");
    field("slab/top_level", {.deed = "Set the top level"});
    const std::string concrete = path("concretes", now().slab.concrete);
    tick("slab/self_weight", {.deed = "Switch the self-weight"});
    heading("Concrete", q(now().settings.design_code));
    concrete_class();
    const auto strength = find_field(now(), concrete + "/fck");
    if (strength)
        number(
            "Strength fck", Unit::megapascal, "fck", "Set the concrete's strength",
            [](const Model& m) { return std::optional(concrete_of(m, m.slab.concrete).fck); },
            [](Model& m, double v) { set_strength(m, m.slab.concrete, v); }, range_of(strength->facts));
    field(concrete + "/E", {.name = "concrete-E", .label = "Modulus E", .deed = "Set the concrete's E"});
    field(concrete + "/unit_weight", {.name = "concrete-weight", .deed = "Set the concrete's weight"});
    words("E in grey follows the strength and the weight by the code; once typed it is yours.");
    heading("Mesh");
    field("mesh/size", {.name = "mesh-size"});
    fineness();
    result([this] { return answer() ? table_of(answer()->quality) : QString(); }, "mesh-quality", 11);
    live([this] { return desk_->mesh_report; }, "mesh-report");
    button("Check the mesh", "check-mesh", [this] { desk_->check_mesh(); });
    fit_rim_round();
    button("Draw a new outline", "draw-outline", [this] { Q_EMIT tool_wanted(ToolKind::slab); });
    button("Setting-out lines through the columns", "set-out",
           [this] { edit("Set out the columns", [](Model& m) { set_out_columns(m); }); });
    button("Add columns", "add-columns", [this] { Q_EMIT tool_wanted(ToolKind::column); });
    underlays();
    box_->addStretch(1);
}

namespace {

// From some 150 cells to some 20,000, by ratio; the size is rounded to the centimetre.
constexpr double fewest_cells = 150, most_cells = 20000;
constexpr int fineness_steps = 60;
double size_at(const Model& m, int step) {
    const double cells = fewest_cells * std::pow(most_cells / fewest_cells, double(step) / fineness_steps);
    return std::max(0.05, std::round(100 * std::sqrt(net_area(m) / cells)) / 100);
}
int step_of(const Model& m) {
    const double cells = net_area(m) / (m.mesh_size * m.mesh_size);
    return int(
        std::lround(std::clamp(fineness_steps * std::log(cells / fewest_cells) / std::log(most_cells / fewest_cells),
                               0.0, double(fineness_steps))));
}

}  // namespace

// While it is moved it says what it would make; the mesh is made anew when it is let go, as one edit.
void SlabPage::fineness() {
    auto* row = new QHBoxLayout;
    auto* slider = new QSlider(Qt::Horizontal);
    slider->setObjectName("mesh-fineness");
    slider->setRange(0, fineness_steps);
    slider->setTracking(false);
    slider->setAccessibleName("Mesh from coarse to fine");
    auto* makes = new QLabel;
    makes->setObjectName("mesh-makes");
    row->addWidget(new QLabel("coarse"));
    row->addWidget(slider, 1);
    row->addWidget(new QLabel("fine"));
    box_->addLayout(row);
    box_->addWidget(makes);
    const auto say = [this, makes](double size) {
        const double cells = net_area(now()) / (size * size);
        makes->setText(QString("%1 m: some %2 cells and those round columns")
                           .arg(look::number(size, 2), look::number(std::round(cells / 10) * 10, 0)));
    };
    connect(slider, &QSlider::sliderMoved, this, [this, say](int step) { say(size_at(now(), step)); });
    connect(slider, &QSlider::valueChanged, this, [this](int step) {
        if (filling_ || step == step_of(now())) return;
        edit("Set the mesh size", [step](Model& m) { m.mesh_size = size_at(m, step); });
    });
    refreshers_.push_back([this, slider, say] {
        if (!has_slab(now())) return;
        if (!slider->isSliderDown()) slider->setValue(step_of(now()));
        say(now().mesh_size);
    });
}

void SlabPage::concrete_class() {
    const auto code = make_code(now().settings);
    if (!code) return;
    auto* row = new QHBoxLayout;
    auto* c = new QComboBox;
    c->setObjectName("concrete-class");
    c->setFixedWidth(154);
    const std::vector<Concrete> classes = code->concrete_classes();
    for (const Concrete& k : classes) c->addItem(q(k.id));
    row->addWidget(new QLabel("Class"), 1);
    row->addWidget(c);
    box_->addLayout(row);
    refreshers_.push_back([this, c, classes] {
        const Concrete& now_in = concrete_of(now(), now().slab.concrete);
        int at = -1;
        for (size_t k = 0; k < classes.size(); ++k)
            if (classes[k].fck == now_in.fck) at = int(k);
        c->setCurrentIndex(at);
        c->setPlaceholderText(q(now_in.id));
    });
    connect(c, &QComboBox::activated, this, [this, classes](int i) {
        edit("Choose " + q(classes[size_t(i)].id),
             [&](Model& m) { choose_concrete(m, m.slab.concrete, classes[size_t(i)]); });
    });
}

std::string RimPage::key() const {
    std::string k = "rim";
    for (int s : sides_) k += " " + std::to_string(s);
    return k;
}

QString RimPage::facts() const {
    if (const auto* c = std::get_if<Circle>(&now().slab.outline))
        return QString("a circle of %1 m radius").arg(look::number(c->radius, 2));
    if (const auto* r = std::get_if<Ring>(&now().slab.outline))
        return QString("a ring from %1 to %2 m radius").arg(look::number(r->inner, 2), look::number(r->outer, 2));
    const auto* ring = std::get_if<Polygon>(&now().slab.outline);
    const int side = *sides_.begin();
    if (!ring || side >= int(ring->size())) return {};
    if (sides_.size() > 1) {
        double l = 0;
        for (int s : sides_) l += distance((*ring)[size_t(s) % ring->size()], (*ring)[size_t(s + 1) % ring->size()]);
        return QString("%1 m long together").arg(look::number(l, 2));
    }
    const Point a = (*ring)[size_t(side)], b = (*ring)[(size_t(side) + 1) % ring->size()];
    return QString("%1 m long, from (%2, %3) to (%4, %5)")
        .arg(look::number(distance(a, b), 2), look::number(a.x, 2), look::number(a.y, 2), look::number(b.x, 2),
             look::number(b.y, 2));
}

void RimPage::push() {
    auto* f = new Field("Push out by", Unit::metre, "push");
    f->set_range({-100, 100});
    box_->addWidget(f);
    refreshers_.push_back([f] { f->show_value(0, false); });
    connect(f, &Field::entered, this, [this](std::optional<double> v) {
        if (!v) return;
        Model m = now();
        if (const std::string why = push_rims(m, sides_, *v); !why.empty())
            return refuse("The rim stays: " + q(why) + ".");
        desk_->document()->apply(sides_.size() > 1 ? QString("Push %1 rims").arg(sides_.size())
                                                   : QString("Push rim %1").arg(*sides_.begin() + 1),
                                 std::move(m));
    });
    words(
        "A negative number pulls it in. The neighbouring rims keep their direction; what lies on the rim goes along.");
    buttons({{"All rims", "all-rims", [this] {
                  Things all;
                  for (int s : all_sides(now().slab.outline)) all.insert({ThingKind::slab_side, "", s});
                  desk_->choose(std::move(all));
              }}});
}

// Of a round slab.
void RimPage::middle_and_radii() {
    auto part = [&](const QString& label, const QString& name, auto of, double low) {
        number(
            label, Unit::metre, name, "Set the outline",
            [of](const Model& m) {
                Model copy_of_outline;
                copy_of_outline.slab.outline = m.slab.outline;
                double* v = of(copy_of_outline.slab.outline);
                return v ? std::optional(*v) : std::nullopt;
            },
            [of](Model& m, double v) {
                if (double* at = of(m.slab.outline)) *at = v;
            },
            {low, 1e6});
    };
    const bool is_ring = std::holds_alternative<Ring>(now().slab.outline);
    part(
        "Radius", "slab-radius",
        [](Outline& o) -> double* {
            if (auto* c = std::get_if<Circle>(&o)) return &c->radius;
            auto* r = std::get_if<Ring>(&o);
            return r ? &r->outer : nullptr;
        },
        0.01);
    if (is_ring)
        part(
            "Radius of the hole", "slab-inner-radius",
            [](Outline& o) -> double* {
                auto* r = std::get_if<Ring>(&o);
                return r ? &r->inner : nullptr;
            },
            0.01);
    for (double Point::*along : {&Point::x, &Point::y})
        part(
            along == &Point::x ? "Middle x" : "Middle y", along == &Point::x ? "slab-middle-x" : "slab-middle-y",
            [along](Outline& o) -> double* {
                if (auto* c = std::get_if<Circle>(&o)) return &(c->centre.*along);
                auto* r = std::get_if<Ring>(&o);
                return r ? &(r->centre.*along) : nullptr;
            },
            -1e6);
}

void RimPage::build() {
    const bool round = !std::holds_alternative<Polygon>(now().slab.outline);
    heading(sides_.size() > 1 ? QString("%1 rims").arg(sides_.size())
            : round           ? QString(*sides_.begin() ? "Rim of the hole" : "Rim")
                              : QString("Rim %1").arg(*sides_.begin() + 1));
    live([this] { return facts(); }, "rim-facts");
    push();
    if (round) middle_and_radii();
    if (!round && sides_.size() == 1) corners();
    box_->addStretch(1);
}

void RimPage::corners() {
    auto* corners = new QLabel("Corners");
    corners->setFont(look::font(look::Size::normal, true));
    box_->addWidget(corners);
    for (int end : {0, 1}) corner(end);
    button("Add a corner in the middle of this rim", "add-corner", [this] {
        edit("Add a corner", [side = *sides_.begin()](Model& m) {
            auto* p = std::get_if<Polygon>(&m.slab.outline);
            if (!p || side >= int(p->size())) return;
            *p = with_corner(*p, side, 0.5 * ((*p)[size_t(side)] + (*p)[size_t(side + 1) % p->size()]));
        });
    });
    button("Remove its first corner", "remove-corner", [this] {
        Model m = now();
        auto* p = std::get_if<Polygon>(&m.slab.outline);
        const std::string why = p ? remove_corner(*p, *sides_.begin()) : "the outline has no corners";
        if (!why.empty()) return refuse("The corner stays: " + q(why) + ".");
        desk_->document()->apply("Remove a corner", std::move(m));
    });
}

void RimPage::corner(int end) {
    const auto* ring = std::get_if<Polygon>(&now().slab.outline);
    if (!ring) return;
    const size_t i = (size_t(*sides_.begin()) + size_t(end)) % ring->size();
    for (double Point::*along : {&Point::x, &Point::y}) {
        const QString axis = along == &Point::x ? "x" : "y";
        number(
            QString("%1 of corner %2").arg(axis).arg(i + 1), Unit::metre, QString("corner-%1-%2").arg(end).arg(axis),
            "Move a corner",
            [i, along](const Model& m) {
                const auto* p = std::get_if<Polygon>(&m.slab.outline);
                return p && i < p->size() ? std::optional((*p)[i].*along) : std::nullopt;
            },
            [i, along](Model& m, double v) {
                if (auto* p = std::get_if<Polygon>(&m.slab.outline); p && i < p->size()) (*p)[i].*along = v;
            });
    }
}

namespace {

struct KindWords {
    const char *one, *many, *list;
    std::vector<const char*> fields;  // of numbers
};
const KindWords& words_of(ThingKind kind) {
    static const KindWords wall{"Wall", "walls", "walls", {"thickness", "height", "stiffness_factor"}},
        rib{"Rib", "ribs", "ribs", {"width", "depth", "stiffness_factor"}},
        patch{"Thickness patch", "patches", "slab/patches", {"thickness"}},
        opening{"Opening", "openings", "slab/openings", {}},
        ground{"Ground patch", "ground patches", "ground/patches", {"modulus"}},
        bars{"Extra bars", "extra bars", "steel/extra", {"diameter", "spacing"}},
        links{"Links", "areas of links", "steel/links", {"diameter", "spacing"}},
        line{"Setting-out line", "setting-out lines", "setting_out", {}};
    if (kind == ThingKind::setting_out) return line;
    if (kind == ThingKind::extra_bars) return bars;
    if (kind == ThingKind::links) return links;
    if (kind == ThingKind::rib) return rib;
    return kind == ThingKind::wall      ? wall
           : kind == ThingKind::patch   ? patch
           : kind == ThingKind::opening ? opening
                                        : ground;
}

}  // namespace

// The slab's, one that the model has, or a class of the code.
void ThingsPage::concrete_of_its_own(ThingKind kind) {
    Things those = things_;
    std::erase_if(those, [kind](const Thing& t) { return t.kind != kind; });
    std::vector<Concrete> all = now().concretes;
    if (const auto code = make_code(now().settings))
        for (const Concrete& c : code->concrete_classes())
            if (!find_id(all, c.id)) all.push_back(c);
    auto* row = new QHBoxLayout;
    auto* choose = new QComboBox;
    choose->setObjectName("thing-concrete");
    choose->setFixedWidth(154);
    choose->addItem("the slab's");
    for (const Concrete& c : all) choose->addItem(q(c.id));
    choose->setPlaceholderText("several");
    row->addWidget(new QLabel("Concrete"), 1);
    row->addWidget(choose);
    box_->addLayout(row);
    refreshers_.push_back([this, choose, those, all] {
        std::set<std::string> ids;
        for (const Thing& t : those)
            if (const auto* p = find_id(now().slab.patches, t.id); p && t.kind == ThingKind::patch)
                ids.insert(p->concrete);
            else if (const auto* r = find_id(now().ribs, t.id); r && t.kind == ThingKind::rib)
                ids.insert(r->concrete);
        int at = ids.size() == 1 && ids.begin()->empty() ? 0 : -1;
        for (size_t k = 0; k < all.size() && ids.size() == 1; ++k)
            if (all[k].id == *ids.begin()) at = int(k) + 1;
        choose->setCurrentIndex(at);
    });
    connect(choose, &QComboBox::activated, this, [this, those, all](int i) {
        edit("Choose a concrete",
             [&](Model& m) { give_concrete(m, those, i == 0 ? std::nullopt : std::optional(all[size_t(i - 1)])); });
    });
}

namespace {

const Shape* shape_of_thing(const Model& m, const Thing& t) {
    if (const Opening* o = find_id(m.slab.openings, t.id); o && t.kind == ThingKind::opening) return &o->outline;
    if (const SlabPatch* p = find_id(m.slab.patches, t.id); p && t.kind == ThingKind::patch) return &p->outline;
    return nullptr;
}

}  // namespace

// Middle and radius of an opening or patch that was given as a circle.
void ThingsPage::circle_of_its_own(const Thing& t) {
    const Shape* shape = shape_of_thing(now(), t);
    if (!shape || !shape->circle()) return;
    auto part = [&](const QString& label, const QString& name, double low, auto of) {
        number(
            label, Unit::metre, name, "Set the circle",
            [t, of](const Model& m) -> std::optional<double> {
                const Shape* s = shape_of_thing(m, t);
                auto c = s ? s->circle() : std::nullopt;
                return c ? std::optional(of(*c)) : std::nullopt;
            },
            [t, of](Model& m, double v) {
                auto* s = const_cast<Shape*>(shape_of_thing(m, t));
                if (auto c = s ? s->circle() : std::nullopt) of(*c) = v, *s = Shape(*c);
            },
            {low, 1e6});
    };
    part(
        "Radius", "circle-radius", 0.01, [](auto& c) -> auto& { return c.radius; });
    part(
        "Middle x", "circle-x", -1e6, [](auto& c) -> auto& { return c.centre.x; });
    part(
        "Middle y", "circle-y", -1e6, [](auto& c) -> auto& { return c.centre.y; });
}

// Where it stands, how long it is, and what it carries most.
QString ThingsPage::facts_of_rib(const std::string& id) const {
    const Rib* r = find_id(now().ribs, id);
    if (!r) return {};
    const Levels own = levels_of(now(), *r);
    const char* where = r->flush == Flush::bottom ? "stands on the slab"
                        : r->flush == Flush::top  ? "hangs below the slab"
                                                  : "reaches out of both faces";
    QString text = QString("%1: %2 m long, from %3 to %4 m, %5")
                       .arg(q(id), look::number(length_of(r->path), 2), look::number(own.low, 2),
                            look::number(own.high, 2), where);
    for (const Row& row : desk_->rows())
        if (row.id == "rib" && row.item == id && row.value)
            text += QString("; largest M %1 kN·m in %2").arg(look::number(*row.value, 0), q(row.combination));
    return text;
}

std::string ThingsPage::key() const {
    std::string k = "things";
    for (const Thing& t : things_) k += " " + std::to_string(int(t.kind)) + t.id;
    return k + " | " + desk_->load_case;
}

// In the case in hand, along all of them.
void ThingsPage::load_on_them(ThingKind kind, const std::vector<std::string>& ids) {
    number(
        "Load on it in case " + q(desk_->load_case), Unit::kilonewton_per_metre, "thing-load",
        "Load " + words_of(things_),
        [this, kind, ids](const Model& m) -> std::optional<double> {
            const double first = member_load(m, desk_->load_case, {kind, ids[0]});
            for (const std::string& id : ids)
                if (member_load(m, desk_->load_case, {kind, id}) != first) return {};  // several
            return first;
        },
        [this, kind, ids](Model& m, double v) {
            for (const std::string& id : ids) set_member_load(m, desk_->load_case, {kind, id}, v);
        },
        {-1e5, 1e5});
}

void ThingsPage::build() {
    std::map<ThingKind, std::vector<std::string>> by_kind;
    for (const Thing& t : things_) by_kind[t.kind].push_back(t.id);
    for (const auto& [kind, ids] : by_kind) {
        const KindWords& w = words_of(kind);
        heading(ids.size() == 1 ? QString("%1 %2").arg(w.one, q(ids[0])) : QString("%1 %2").arg(ids.size()).arg(w.many),
                ids.size() > 1 ? "edited together" : "");
        if (things_.size() == 1) name_of_one(*things_.begin());
        auto paths = [&, &ids = ids](const char* key) {
            std::vector<std::string> all;
            all.reserve(ids.size());
            for (const std::string& id : ids) all.push_back(path(w.list, id, key));
            return all;
        };
        for (const char* f : w.fields) field(paths(f), {.name = QString("thing-%1").arg(f)});
        if (kind == ThingKind::patch)
            choice(paths("flush"), {.name = "thing-flush", .deed = "Set where a patch is flush"});
        if (kind == ThingKind::patch || kind == ThingKind::rib) concrete_of_its_own(kind);
        if (kind == ThingKind::rib) {
            choice(paths("flush"), {.name = "thing-flush", .deed = "Set where a rib is flush"});
            choice(paths("over_openings"), {.name = "thing-over-openings", .deed = "Stop or carry a rib at openings"});
            for (const std::string& id : ids) live([this, id] { return facts_of_rib(id); }, "rib-facts", 3);
        }
        if (kind == ThingKind::extra_bars) {
            choice(paths("face"), {.name = "thing-face", .label = "Face", .deed = "Set the face of extra bars"});
            choice(paths("direction"), {.name = "thing-direction", .label = "Along", .deed = "Turn extra bars"});
            tick(paths("held_at_rims"), {.name = "thing-held", .label = "U-bars hold them at rims", .deed = "U-bars"});
        }
        if (kind == ThingKind::wall) tick(paths("stiffens"), {.name = "thing-stiffens"});
        if (kind == ThingKind::wall || kind == ThingKind::rib) load_on_them(kind, ids);
        if (kind == ThingKind::opening && ids.size() == 1)
            live(
                [this, id = ids[0]] {
                    const Opening* o = find_id(now().slab.openings, id);
                    if (!o) return QString();
                    const mossbed::Box b = box_of(o->outline);
                    if (const auto c = o->outline.circle())
                        return QString("a circle of %1 m radius about (%2, %3)")
                            .arg(look::number(c->radius, 2), look::number(c->centre.x, 2),
                                 look::number(c->centre.y, 2));
                    return QString("%1 corners, %2 by %3 m over all, %4 m²")
                        .arg(o->outline.size())
                        .arg(look::number(b.width(), 2), look::number(b.height(), 2),
                             look::number(std::abs(signed_area(o->outline)), 2));
                },
                "opening-facts");
    }
    if (things_.size() == 1) circle_of_its_own(*things_.begin());
    arranging(things_);
    box_->addStretch(1);
}

}  // namespace mossbed
