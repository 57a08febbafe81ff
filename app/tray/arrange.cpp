// What the hand can do with things that are chosen: name, move, copy, turn, mirror, offset; choose all like it; delete.
// And with pictures that lie under the plan.
#include <QCheckBox>
#include <QPushButton>

#include "app/tray/page.h"
#include "app/tray/parts.h"
#include "core/arrange/choice.h"
#include "core/arrange/placement.h"
#include "core/arrange/rims.h"
#include "core/model/edit.h"

namespace mossbed {

namespace {

bool has_offset(ThingKind kind) {
    return kind == ThingKind::opening || kind == ThingKind::patch || kind == ThingKind::ground_patch ||
           kind == ThingKind::extra_bars || kind == ThingKind::links || kind == ThingKind::wall ||
           kind == ThingKind::rib || kind == ThingKind::setting_out;
}

Point middle_of_slab(const Model& m) { return has_slab(m) ? box_of(outer_rim(m.slab.outline, 0.5)).middle() : Point{}; }

}  // namespace

void Page::amounts_row(const std::vector<Amount>& all, const std::vector<Button>& deeds) {
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    for (const Amount& a : all) {
        auto* f = new Field(a.label, a.unit, a.name);
        const int least = &a == &all.front() ? 72 : 12;  // so that rows stand under each other
        f->make_short(std::max(least, fontMetrics().horizontalAdvance(a.label) + 2));
        f->set_range({a.low, a.high});
        row->addWidget(f);
        refreshers_.push_back([f, get = a.get] { f->show_value(get(), false); });
        connect(f, &Field::entered, this, [put = a.put](std::optional<double> v) {
            if (v) put(*v);
        });
    }
    row->addStretch(1);
    for (const Button& one : deeds) {
        auto* b = new QPushButton(one.text);
        b->setObjectName(one.name);
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, one.deed);
    }
    box_->addLayout(row);
}

// One step; the copies are chosen afterwards.
void Page::copy_to(const Things& things, const std::vector<Placement>& places, const QString& deed) {
    if (places.empty()) return desk_->say("There is nothing to copy to: give a number of copies.", true);
    if (places.size() * things.size() > 20000) return desk_->say("That would be more than 20000 things.", true);
    Things made;
    Model next = with_copies(now(), things, places, desk_->amounts.with_loads, &made);
    if (desk_->apply_sound(deed, std::move(next))) desk_->choose(std::move(made));
}

void Page::move_to(const Things& things, const Placement& by, const QString& deed) {
    desk_->apply_sound(deed, placed(now(), things, by));
}

void Page::arranging(const Things& things) {
    const QString what = words_of(things);
    const Thing first = *things.begin();
    heading("Move, copy, turn");
    auto amount = [this](const QString& label, Unit unit, const QString& name, double Amounts::*of, double low = -1e4,
                         double high = 1e4) {
        return Amount{label,
                      unit,
                      name,
                      low,
                      high,
                      [this, of] { return std::optional(desk_->amounts.*of); },
                      [this, of](double v) { desk_->amounts.*of = v; }};
    };
    amounts_row({amount("by x, m", Unit::metre, "by-x", &Amounts::dx), amount("y", Unit::metre, "by-y", &Amounts::dy)},
                {{"Move", "move-by", [this, things, what] {
                      move_to(things, Placement::moved({desk_->amounts.dx, desk_->amounts.dy}), "Move " + what);
                  }}});
    amounts_row({amount("copies in x", Unit::none, "copies-x", &Amounts::nx, 0, 500),
                 amount("y", Unit::none, "copies-y", &Amounts::ny, 0, 500)},
                {{"Copy", "copy-rows", [this, things, what] {
                      const Amounts& a = desk_->amounts;
                      copy_to(things,
                              rows_of(1 + int(std::lround(a.nx)), {a.dx, a.ny > 0 ? 0 : a.dy},
                                      1 + int(std::lround(a.ny)), {a.nx > 0 ? 0 : a.dx, a.dy}),
                              "Copy " + what);
                  }}});
    auto turning = [this, things] { return Placement::turned(*middle_of(now(), things), desk_->amounts.turn); };
    amounts_row(
        {amount("turn by, °", Unit::degrees, "turn-by", &Amounts::turn, -360, 360)},
        {{"Turn", "turn", [this, things, what, turning] { move_to(things, turning(), "Turn " + what); }},
         {"as copy", "turn-copy", [this, things, what, turning] { copy_to(things, {turning()}, "Copy " + what); }}});
    for (const bool in_x : {true, false}) {
        const QString axis = in_x ? "x" : "y";
        const auto of = in_x ? &Amounts::mirror_x : &Amounts::mirror_y;
        auto at = [this, in_x, of] {
            return (desk_->amounts.*of).value_or(in_x ? middle_of_slab(now()).x : middle_of_slab(now()).y);
        };
        auto mirror = [at, in_x] {
            return in_x ? Placement::mirrored({at(), 0}, {0, 1}) : Placement::mirrored({0, at()}, {1, 0});
        };
        amounts_row({{"mirror, " + axis + " =", Unit::metre, "mirror-at-" + axis, -1e7, 1e7,
                      [at] { return std::optional(at()); }, [this, of](double v) { desk_->amounts.*of = v; }}},
                    {{"Mirror", "mirror-" + axis,
                      [this, things, what, mirror] { move_to(things, mirror(), "Mirror " + what); }},
                     {"as copy", "mirror-copy-" + axis,
                      [this, things, what, mirror] { copy_to(things, {mirror()}, "Copy " + what); }}});
    }
    if (std::all_of(things.begin(), things.end(), [](const Thing& t) { return has_offset(t.kind); })) {
        auto offset_by = [this, things, what](bool as_copy) {
            Model m = now();
            Things made;
            if (const std::string why = offset(m, things, desk_->amounts.offset, as_copy, &made); !why.empty())
                return desk_->say(QString("Offset %1: not done, %2.").arg(what, q(why)), true);
            if (desk_->apply_sound("Offset " + what, std::move(m)) && as_copy) desk_->choose(std::move(made));
        };
        amounts_row({amount("offset by, m", Unit::metre, "offset-by", &Amounts::offset)},
                    {{"Offset", "offset", [offset_by] { offset_by(false); }},
                     {"as copy", "offset-copy", [offset_by] { offset_by(true); }}});
    }
    auto* loads = new QCheckBox("Copies carry the same loads");
    loads->setObjectName("copy-loads");
    box_->addWidget(loads);
    refreshers_.push_back([this, loads] { loads->setChecked(desk_->amounts.with_loads); });
    connect(loads, &QCheckBox::clicked, this, [this](bool on) { desk_->amounts.with_loads = on; });
    std::vector<Button> choosing{{"Choose all like this", "all-like", [this, things] {
                                      Things all;
                                      for (const Thing& t : things) all.merge(all_like(now(), t));
                                      desk_->choose(std::move(all));
                                  }}};
    const bool numbers = first.kind == ThingKind::column || first.kind == ThingKind::wall ||
                         first.kind == ThingKind::rib || first.kind == ThingKind::pile;
    if (numbers && things.size() > 1)
        choosing.push_back({"Number by place", "number-by-place", [this, things, first] {
                                edit("Number by place",
                                     [&](Model& m) { number_by_place(m, things, stem_of(first.id)); });
                            }});
    buttons(choosing);
    live(
        [this, things] {
            const std::string with = hanging_on(now(), things);
            return with.empty() ? QString() : "Deleting takes along " + q(with) + ".";
        },
        "delete-takes");
    button("Delete " + what, things.begin()->kind == ThingKind::column ? "delete-columns" : "delete-things",
           [this, things, what] { desk_->document()->apply("Delete " + what, without(now(), things)); });
}

// Where a picture lies and how large; its scale is had from a length that is known.
void Page::underlay(const std::string& id) {
    auto at = [&](const char* key) { return path("underlays", id, key); };
    const QString file = q(find_id(now().underlays, id)->file).section('/', -1);
    heading((file.endsWith(".dxf", Qt::CaseInsensitive) ? "Drawing " : "Picture ") + q(id), file);
    field(at("at/x"), {.name = "underlay-x", .label = "Left lower corner x", .deed = "Move the picture"});
    field(at("at/y"), {.name = "underlay-y", .label = "y", .deed = "Move the picture"});
    field(at("width"), {.name = "underlay-width", .deed = "Scale the picture"});
    field(at("angle"), {.name = "underlay-angle", .deed = "Turn the picture"});
    field(at("strength"), {.name = "underlay-strength", .deed = "Dim the picture"});
    auto known = std::make_shared<std::array<double, 2>>(std::array<double, 2>{1, 1});
    auto amount = [known](const QString& label, const QString& name, size_t k) {
        return Amount{label,
                      Unit::metre,
                      name,
                      1e-3,
                      1e5,
                      [known, k] { return std::optional((*known)[k]); },
                      [known, k](double v) { (*known)[k] = v; }};
    };
    amounts_row({amount("it reads", "underlay-reads", 0), amount("is", "underlay-is", 1)},
                {{"Scale", "underlay-scale", [this, id, known] {
                      edit("Scale the picture", [&](Model& m) {
                          if (Underlay* u = find_id(m.underlays, id)) u->width *= (*known)[1] / (*known)[0];
                      });
                  }}});
    button("Take it away", "underlay-away", [this, id] {
        edit("Take the picture away",
             [&](Model& m) { std::erase_if(m.underlays, [&](const Underlay& u) { return u.id == id; }); });
    });
}

void Page::underlays() {
    for (const Underlay& u : now().underlays) underlay(u.id);
}

// Round all columns and walls, with a clear distance.
void Page::fit_rim_round() {
    heading("Rim round all that stands");
    auto fit = [this](RimFit how) {
        Model m = now();
        if (const std::string why = fit_rim(m, how, desk_->amounts.overhang); !why.empty())
            return refuse("The rim stays: " + q(why) + ".");
        desk_->document()->apply("Fit the rim", std::move(m));
    };
    amounts_row(
        {{"overhang, m", Unit::metre, "overhang", -50, 50, [this] { return std::optional(desk_->amounts.overhang); },
          [this](double v) { desk_->amounts.overhang = v; }}},
        {});
    buttons({{"Rectangle", "fit-rectangle", [fit] { fit(RimFit::rectangle); }},
             {"Stepped", "fit-stepped", [fit] { fit(RimFit::following); }}});
    words("From the outer faces of columns and walls to the rim, at any angle.");
}

// The name of one thing; loads on it go with it.
void Page::name_of_one(const Thing& thing) {
    auto* row = new QHBoxLayout;
    auto* line = new Line;
    line->setObjectName("thing-name");
    line->setFixedWidth(154);
    row->addWidget(new QLabel("Name"), 1);
    row->addWidget(line);
    box_->addLayout(row);
    refreshers_.push_back([line, thing] { line->show_text(q(thing.id)); });
    line->on_take = [this, line, thing](bool leaving) {
        Model m = now();
        const std::string to = line->text().trimmed().toStdString();
        const std::string why = rename_thing(m, thing, to);
        if (!why.empty()) {
            const QString said = QString("“%1” is not taken: %2.").arg(line->text(), q(why));
            if (leaving) line->give_up();
            desk_->say(said, true);
            return said;
        }
        line->show_text(q(to));
        desk_->document()->apply("Rename " + name_of(thing), std::move(m));
        desk_->choose({Thing{thing.kind, to}});
        return QString();
    };
    connect(line, &QLineEdit::editingFinished, line, [line] { line->hasFocus() ? line->settle() : line->leave(); });
}

}  // namespace mossbed
