#include "core/model/edit.h"

#include <algorithm>
#include <utility>

namespace mossbed {

Polygon push_rim(const Polygon& outline, int side, double by) {
    const int n = int(outline.size());
    if (n < 3 || side < 0 || side >= n) return outline;
    const double way = signed_area(outline) >= 0 ? -1 : 1;  // outward of an anticlockwise ring is to the right
    const Point a = outline[side], b = outline[(side + 1) % n], out = way * left_of(unit(b - a));
    auto moved = [&](Point corner, Point far_end) {
        const Point along = unit(corner - far_end);
        const double gain = dot(along, out);
        return std::abs(gain) < 0.05 ? corner + by * out : corner + (by / gain) * along;
    };
    Polygon p = outline;
    p[side] = moved(a, outline[(side + n - 1) % n]);
    p[(side + 1) % n] = moved(b, outline[(side + 2) % n]);
    return p;
}

Polygon with_corner(const Polygon& outline, int side, Point near) {
    const int n = int(outline.size());
    if (n < 3 || side < 0 || side >= n) return outline;
    const Point a = outline[size_t(side)], b = outline[size_t((side + 1) % n)];
    const double L = distance(a, b), t = dot(near - a, unit(b - a));
    if (t < 0.01 || t > L - 0.01) return outline;
    Polygon p = outline;
    p.insert(p.begin() + side + 1, a + t * unit(b - a));
    return p;
}

std::string remove_corner(Polygon& outline, int corner) {
    if (corner < 0 || corner >= int(outline.size())) return "there is no such corner";
    if (outline.size() <= 3) return "an outline needs three corners";
    Polygon p = outline;
    p.erase(p.begin() + corner);
    if (self_crossing(p)) return "without it two sides would cross";
    if (std::abs(signed_area(p)) < 1e-6) return "without it no area is left";
    outline = std::move(p);
    return {};
}

std::vector<double> column_lines(const Model& m, bool along_x) {
    constexpr double tolerance = 0.02;  // m, columns this near stand in one line
    std::vector<double> v;
    for (const Column& c : m.columns) v.push_back(along_x ? c.at.y : c.at.x);
    std::sort(v.begin(), v.end());
    std::vector<double> lines;
    for (size_t i = 0; i + 1 < v.size(); ++i)
        if (v[i + 1] - v[i] < tolerance && (lines.empty() || v[i] - lines.back() >= tolerance)) lines.push_back(v[i]);
    return lines;
}

void set_out_columns(Model& m) {
    Box b = has_slab(m) ? box_of(outer_rim(m.slab.outline, 0.5)) : Box{};
    for (const Column& c : m.columns) b.add(c.at);
    std::vector<std::string> taken;
    for (const SettingOutLine& l : m.setting_out) taken.push_back(l.id);
    for (const bool along_x : {false, true})
        for (double v : column_lines(m, along_x)) {
            const bool there = std::any_of(m.setting_out.begin(), m.setting_out.end(), [&](const SettingOutLine& l) {
                return std::all_of(l.path.begin(), l.path.end(),
                                   [&](Point p) { return std::abs((along_x ? p.y : p.x) - v) < 0.02; });
            });
            if (there) continue;
            SettingOutLine l;
            l.id = fresh_id(along_x ? "y" : "x", taken);
            l.path = along_x ? std::vector<Point>{{b.low.x, v}, {b.high.x, v}}
                             : std::vector<Point>{{v, b.low.y}, {v, b.high.y}};
            taken.push_back(l.id);
            m.setting_out.push_back(std::move(l));
        }
}

Model without(Model m, const Things& things) {
    auto drop = [&](auto& list, ThingKind kind) {
        std::erase_if(list, [&](const auto& t) { return things.count({kind, t.id}) > 0; });
    };
    drop(m.columns, ThingKind::column), drop(m.walls, ThingKind::wall), drop(m.ribs, ThingKind::rib);
    drop(m.slab.openings, ThingKind::opening), drop(m.slab.patches, ThingKind::patch);
    drop(m.ground.patches, ThingKind::ground_patch), drop(m.ground.boreholes, ThingKind::borehole);
    drop(m.steel.extra, ThingKind::extra_bars), drop(m.steel.links, ThingKind::links);
    drop(m.setting_out, ThingKind::setting_out);
    if (m.steel.strips) drop(*m.steel.strips, ThingKind::strip);
    for (LoadCase& c : m.loads.cases) {
        size_t index = 0;
        std::erase_if(c.items, [&](const LoadItem& i) {
            if (things.count(load_thing(c.id, index++))) return true;
            if (auto* l = std::get_if<ColumnLoad>(&i.load)) return things.count({ThingKind::column, l->column}) > 0;
            if (auto* l = std::get_if<WallLoad>(&i.load)) return things.count({ThingKind::wall, l->wall}) > 0;
            if (auto* l = std::get_if<RibLoad>(&i.load)) return things.count({ThingKind::rib, l->rib}) > 0;
            return false;
        });
    }
    return m;
}

std::string stem_of(const std::string& id) {
    std::string stem = id;
    while (!stem.empty() && std::isdigit(static_cast<unsigned char>(stem.back()))) stem.pop_back();
    return stem;
}

void rename_in_loads(Model& m, ThingKind kind, const std::map<std::string, std::string>& now) {
    auto rename = [&](ThingKind of, std::string& id) {
        if (const auto it = now.find(id); of == kind && it != now.end()) id = it->second;
    };
    for (LoadCase& c : m.loads.cases)
        for (LoadItem& i : c.items) {
            if (auto* l = std::get_if<ColumnLoad>(&i.load)) rename(ThingKind::column, l->column);
            if (auto* l = std::get_if<WallLoad>(&i.load)) rename(ThingKind::wall, l->wall);
            if (auto* l = std::get_if<RibLoad>(&i.load)) rename(ThingKind::rib, l->rib);
        }
}

std::string rename_case(Model& m, const std::string& from, const std::string& to) {
    LoadCase* c = find_id(m.loads.cases, from);
    if (!c) return "there is no case \"" + from + "\"";
    if (from == to) return {};
    if (to.empty()) return "a case needs a name";
    if (find_id(m.loads.cases, to)) return "there is a case \"" + to + "\" already";
    c->id = to;
    if (m.loads.combinations)
        for (Combination& k : *m.loads.combinations)
            if (auto node = k.factors.extract(from)) {
                node.key() = to;
                k.factors.insert(std::move(node));
            }
    return {};
}

void set_column_load(Model& m, const std::string& load_case, const std::string& column, double ColumnLoad::*component,
                     double value) {
    LoadCase* c = find_id(m.loads.cases, load_case);
    if (!c) return;
    ColumnLoad sum = column_load(std::as_const(m), load_case, column);
    sum.*component = value;
    bool is_first = true;
    std::erase_if(c->items, [&](const LoadItem& i) {
        auto* l = std::get_if<ColumnLoad>(&i.load);
        return l && l->column == column && !std::exchange(is_first, false);
    });
    column_load(m, load_case, column) = sum;
}

ColumnLoad& column_load(Model& m, const std::string& load_case, const std::string& column) {
    LoadCase* c = find_id(m.loads.cases, load_case);
    for (LoadItem& i : c->items)
        if (auto* l = std::get_if<ColumnLoad>(&i.load); l && l->column == column) return *l;
    ColumnLoad l;
    l.column = column;
    c->items.push_back({l, {}});
    return std::get<ColumnLoad>(c->items.back().load);
}

ColumnLoad column_load(const Model& m, const std::string& load_case, const std::string& column) {
    ColumnLoad sum;
    sum.column = column;
    if (const LoadCase* c = find_id(m.loads.cases, load_case))
        for (const LoadItem& i : c->items)
            if (auto* l = std::get_if<ColumnLoad>(&i.load); l && l->column == column)
                sum.N += l->N, sum.Mx += l->Mx, sum.My += l->My, sum.Hx += l->Hx, sum.Hy += l->Hy;
    return sum;
}

namespace {
const double* load_on(const LoadItem& i, const Thing& member) {
    if (const auto* w = std::get_if<WallLoad>(&i.load))
        if (member.kind == ThingKind::wall && w->wall == member.id) return &w->q;
    if (const auto* r = std::get_if<RibLoad>(&i.load))
        if (member.kind == ThingKind::rib && r->rib == member.id) return &r->q;
    return nullptr;
}
}  // namespace

double member_load(const Model& m, const std::string& load_case, const Thing& member) {
    double sum = 0;
    if (const LoadCase* c = find_id(m.loads.cases, load_case))
        for (const LoadItem& i : c->items)
            if (const double* q = load_on(i, member)) sum += *q;
    return sum;
}

void set_member_load(Model& m, const std::string& load_case, const Thing& member, double q) {
    LoadCase* c = find_id(m.loads.cases, load_case);
    if (!c) return;
    std::erase_if(c->items, [&](const LoadItem& i) { return load_on(i, member) != nullptr; });
    if (q == 0) return;
    if (member.kind == ThingKind::wall) c->items.push_back({WallLoad{member.id, q}, {}});
    if (member.kind == ThingKind::rib) c->items.push_back({RibLoad{member.id, q}, {}});
}

std::optional<double> uplift_level(const Model& m, const std::string& load_case) {
    if (const LoadCase* c = find_id(m.loads.cases, load_case))
        for (const LoadItem& i : c->items)
            if (const auto* u = std::get_if<Uplift>(&i.load)) return u->to_level;
    return {};
}

void set_uplift_level(Model& m, const std::string& load_case, double level) {
    LoadCase* c = find_id(m.loads.cases, load_case);
    if (!c) return;
    for (LoadItem& i : c->items)
        if (auto* u = std::get_if<Uplift>(&i.load)) return void(u->to_level = level);
    c->items.push_back({Uplift{level}, {}});
}

}  // namespace mossbed
