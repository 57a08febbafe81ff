#include "app/plan_menu.h"

#include "app/tools/tool.h"
#include "core/arrange/choice.h"
#include "core/arrange/make.h"
#include "core/model/edit.h"
#include "drawing/plan.h"

namespace mossbed {
namespace {

QString line_of(const Row& r) {
    return "Working: " + QString::fromStdString(r.title) +
           (r.utilisation ? " " + look::number(*r.utilisation, 2) : " – " + QString(name_of(r.status)));
}

class Menu {
  public:
    Menu(Desk& desk, Point at, const std::function<void(const std::string&)>& working)
        : desk_(desk), m_(desk.now()), at_(at), working_(working) {}
    std::vector<PlanDeed> all;

    void add(const QString& text, std::function<void()> deed) { all.push_back({text, std::move(deed)}); }
    void group() {
        if (!all.empty() && all.back().deed) all.push_back({});
    }
    void rows(const std::vector<const Row*>& which) {
        constexpr size_t most = 4;
        for (size_t k = 0; k < std::min(which.size(), most); ++k)
            add(line_of(*which[k]), [key = which[k]->key(), open = working_] { open(key); });
    }
    void of_outline(const Thing& t) {
        const auto* ring = std::get_if<Polygon>(&m_.slab.outline);
        if (!ring) return;
        if (t.kind == ThingKind::slab_side) {
            add("Add a corner here", [this_ = &desk_, t, at = at_] {
                Model m = this_->now();
                Polygon& p = std::get<Polygon>(m.slab.outline);
                p = with_corner(p, t.part, at);
                this_->document()->apply("Add a corner", std::move(m));
            });
            add(QString("Push rim %1 out …").arg(t.part + 1), [this_ = &desk_, t] { this_->choose({t}); });
        }
        if (t.kind == ThingKind::slab_corner)
            add(QString("Remove corner %1").arg(t.part + 1), [this_ = &desk_, t] {
                Model m = this_->now();
                const std::string why = remove_corner(std::get<Polygon>(m.slab.outline), t.part);
                if (!why.empty())
                    return this_->say(QString("The corner stays: %1.").arg(QString::fromStdString(why)), true);
                this_->document()->apply("Remove a corner", std::move(m));
            });
    }
    void of_thing(const Thing& t) {
        if (t.kind == ThingKind::slab_side || t.kind == ThingKind::slab_corner) return of_outline(t);
        const QString name = name_of(t);
        if (name.isEmpty()) return;
        add("Take " + name + " in hand", [this_ = &desk_, t] { this_->choose({Thing{t.kind, t.id}}); });
        rows(rows_about(desk_, t));
        if (const Things like = all_like(m_, {t.kind, t.id}); like.size() > 1)
            add(QString("Choose all %1 like it").arg(like.size()), [this_ = &desk_, like] { this_->choose(like); });
        corners_of_thing(t);
        add_deletion({Thing{t.kind, t.id}});
    }
    void edit_corner(const QString& deed, const std::function<std::string(Model&)>& change) {
        add(deed, [this_ = &desk_, deed, change] {
            Model m = this_->now();
            const std::string why = change(m);
            if (!why.empty())
                return this_->say(QString("%1: not done, %2.").arg(deed, QString::fromStdString(why)), true);
            this_->apply_sound(deed, std::move(m));
        });
    }
    void corners_of_thing(const Thing& t) {
        if (t.kind == ThingKind::strip) return;  // it has sides to drag, no corners
        const size_t n = corners_of(m_, t).size();
        if (n < 2 || n > 60) return;
        const Thing whole{t.kind, t.id};
        edit_corner("Add a corner to " + name_of(t), [whole, at = at_](Model& m) { return add_corner(m, whole, at); });
        if (t.part >= 0)
            edit_corner(QString("Remove corner %1 of %2").arg(t.part + 1).arg(name_of(t)),
                        [whole, part = t.part](Model& m) { return remove_corner(m, whole, part); });
    }
    void add_deletion(const Things& gone) {
        const std::string with = hanging_on(m_, gone);
        add(words_of_deletion(gone) + (with.empty() ? QString() : " and its " + QString::fromStdString(with)),
            [this_ = &desk_, gone] { this_->document()->apply(words_of_deletion(gone), without(this_->now(), gone)); });
    }
    void of_place() {
        if (!on_slab(m_, at_)) return;
        group();
        rows(rows_of_map(desk_, at_));
        group();
        for (const bool along_x : {true, false})
            add(along_x ? "Cut along x through here" : "Cut along y through here", [this_ = &desk_, at = at_, along_x] {
                Box b = box_of(outer_rim(this_->now().slab.outline, 0.5));
                const double over = 0.035 * std::max(b.width(), b.height());
                along_x ? this_->set_cut({b.low.x - over, at.y}, {b.high.x + over, at.y})
                        : this_->set_cut({at.x, b.low.y - over}, {at.x, b.high.y + over});
            });
        if (desk_.stop == Stop::contact)
            add("Settlement here in the curve", [this_ = &desk_, at = at_] { this_->pick_for_curve(at); });
        if (desk_.stop == Stop::ground && desk_.answer() && desk_.answer()->ground)
            add("Pin the depth chart here", [this_ = &desk_, at = at_] {
                this_->pin = at;
                this_->tell(Desk::choice | Desk::view);
            });
    }
    void of_choice() {
        Things gone = desk_.chosen;
        std::erase_if(
            gone, [](const Thing& t) { return t.kind == ThingKind::slab_side || t.kind == ThingKind::slab_corner; });
        if (gone.size() < 2) return;
        group();
        add_deletion(gone);
    }

  private:
    Desk& desk_;
    const Model& m_;
    Point at_;
    const std::function<void(const std::string&)>& working_;
};

}  // namespace

std::vector<const Row*> rows_about(const Desk& desk, const Thing& t) {
    std::vector<const Row*> out;
    for (const Row& r : desk.rows()) {
        const bool of_column = t.kind == ThingKind::column && r.item == t.id;
        const bool of_wall = t.kind == ThingKind::wall && r.item.find(t.id) != std::string::npos && r.id == "punching";
        const bool of_member = (t.kind == ThingKind::rib && r.id == "rib" && r.item == t.id) ||
                               (t.kind == ThingKind::wall && r.id == "wall" && r.item == t.id);
        const bool of_strip = t.kind == ThingKind::strip && (r.item == t.id || r.item.rfind(t.id + " ", 0) == 0);
        const bool of_bars = (t.kind == ThingKind::extra_bars || t.kind == ThingKind::links) && r.item == t.id;
        if (of_column || of_wall || of_member || of_strip || of_bars) out.push_back(&r);
    }
    return out;
}

std::vector<const Row*> rows_of_map(const Desk& desk, Point at) {
    std::vector<const Row*> out;
    const auto those = [&](std::initializer_list<const char*> ids) {
        for (const Row& r : desk.rows())
            if (std::any_of(ids.begin(), ids.end(), [&](const char* id) { return r.id == id; })) out.push_back(&r);
    };
    switch (desk.quantity) {
        case Quantity::pressure:
            those({"bearing", "contact"});
            break;
        case Quantity::settlement:
        case Quantity::modulus:
            those({"settlement", "distortion", "tilt"});
            break;
        default:
            if (!desk.answer()) break;
            for (const StripAnswer& s : desk.answer()->steel.strips)
                if (contains(area_of(s.strip), at))
                    for (const Row* r : rows_about(desk, {ThingKind::strip, s.strip.id})) out.push_back(r);
    }
    return out;
}

std::vector<PlanDeed> deeds_at(Desk& desk, const std::vector<Thing>& under, Point at,
                               const std::function<void(const std::string&)>& working) {
    Menu menu(desk, at, working);
    if (!under.empty()) menu.of_thing(under.front());
    menu.of_place();
    menu.of_choice();
    while (!menu.all.empty() && !menu.all.back().deed) menu.all.pop_back();
    return menu.all;
}

}  // namespace mossbed
