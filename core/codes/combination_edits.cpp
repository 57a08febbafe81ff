#include "core/codes/combination_edits.h"

#include <fmt/format.h>

#include <algorithm>

namespace mossbed {
namespace {

std::vector<Combination>& listed(Model& m) {
    if (!m.loads.combinations) m.loads.combinations = combinations_in(m);
    return *m.loads.combinations;
}
Combination* find_row(Model& m, const std::string& id) { return find_id(listed(m), id); }
std::string no_row(const std::string& id) { return "there is no combination \"" + id + "\""; }

}  // namespace

std::string set_factor(Model& m, const std::string& row, const std::string& load_case, double factor) {
    if (!find_id(m.loads.cases, load_case)) return "there is no case \"" + load_case + "\"";
    Combination* c = find_row(m, row);
    if (!c) return no_row(row);
    const auto it = c->factors.find(load_case);
    if ((it == c->factors.end() ? 0 : it->second) == factor) return {};
    if (factor == 0)
        c->factors.erase(load_case);
    else
        c->factors[load_case] = factor;
    c->generated_by.reset();
    return {};
}

std::string set_purpose(Model& m, const std::string& row, Purpose purpose) {
    Combination* c = find_row(m, row);
    if (!c) return no_row(row);
    if (c->purpose == purpose) return {};
    c->purpose = purpose;
    if (purpose != Purpose::service) c->frequency.reset();
    c->generated_by.reset();
    return {};
}

std::string rename_combination(Model& m, const std::string& from, const std::string& to) {
    Combination* c = find_row(m, from);
    if (!c) return no_row(from);
    if (to == from) return {};
    if (to.empty()) return "a combination needs a name";
    if (find_row(m, to)) return "there is a combination \"" + to + "\" already";
    c->id = to;
    if (m.ground.combination_for_springs == from) m.ground.combination_for_springs = to;
    return {};
}

void set_note(Model& m, const std::string& row, const std::string& note) {
    if (Combination* c = find_row(m, row)) c->title = note;
}

void set_active(Model& m, const std::set<std::string>& rows, bool active) {
    for (Combination& c : listed(m))
        if (rows.count(c.id)) c.active = active;
}

Dropped drop_combinations(Model& m, const std::set<std::string>& rows) {
    Dropped d;
    for (Combination& c : listed(m))
        if (rows.count(c.id) && c.generated_by) d.off += c.active, c.active = false;
    d.gone = int(std::erase_if(*m.loads.combinations,
                               [&](const Combination& c) { return rows.count(c.id) && !c.generated_by; }));
    return d;
}

std::string add_combination(Model& m, const std::string& like) {
    std::vector<Combination>& all = listed(m);
    std::vector<std::string> taken;
    for (const Combination& c : all) taken.push_back(c.id);
    Combination c;
    size_t at = all.size();
    for (size_t i = 0; i < all.size(); ++i)
        if (all[i].id == like) c = all[i], at = i + 1;
    c.generated_by.reset(), c.title.clear(), c.active = true, c.keys.clear();
    c.id = fresh_id(c.purpose == Purpose::strength ? "U" : c.purpose == Purpose::stability ? "T" : "S", taken);
    all.insert(all.begin() + long(at), c);
    return c.id;
}

void write_combinations_by_rule(Model& m) {
    if (!m.loads.combinations) return;
    remake_combinations(m, true);
}

std::string put_water_in(Model& m, double level) {
    auto lifts = [](const LoadCase& c) {
        return std::any_of(c.items.begin(), c.items.end(),
                           [](const LoadItem& i) { return std::holds_alternative<Uplift>(i.load); });
    };
    std::string id;
    for (const LoadCase& c : m.loads.cases)
        if (id.empty() && lifts(c)) id = c.id;
    if (id.empty()) {
        LoadCase water;
        water.id = "GW";
        for (int n = 2; find_id(m.loads.cases, water.id); ++n) water.id = "GW" + std::to_string(n);
        water.title = "Groundwater", water.action = Action::groundwater, water.items = {{Uplift{level}, {}}};
        id = water.id;
        m.loads.cases.push_back(std::move(water));
    }
    if (!m.loads.combinations) return id;
    std::set<Purpose> wet;
    for (const Combination& c : *m.loads.combinations)
        for (const auto& [of, factor] : c.factors)
            if (const LoadCase* k = find_id(m.loads.cases, of); k && factor != 0 && lifts(*k)) wet.insert(c.purpose);
    for (Combination& c : *m.loads.combinations)
        if (!c.generated_by && !wet.count(c.purpose) && c.purpose != Purpose::trace) c.factors[id] = 1;
    return id;
}

std::string copy_case(Model& m, const std::string& load_case) {
    std::vector<std::string> taken;
    for (const LoadCase& c : m.loads.cases) taken.push_back(c.id);
    for (size_t i = 0; i < m.loads.cases.size(); ++i)
        if (m.loads.cases[i].id == load_case) {
            LoadCase c = m.loads.cases[i];
            c.id = fresh_id(load_case + "-", taken);
            if (!c.title.empty()) c.title += ", copy";
            m.loads.cases.insert(m.loads.cases.begin() + long(i) + 1, c);
            return c.id;
        }
    return {};
}

void scale_case(Model& m, const std::string& load_case, double f) {
    auto times = [f](auto&... v) { ((v *= f), ...); };
    for (LoadCase& c : m.loads.cases)
        if (c.id == load_case)
            for (LoadItem& i : c.items) {
                if (auto* l = std::get_if<ColumnLoad>(&i.load)) times(l->N, l->Mx, l->My, l->Hx, l->Hy);
                if (auto* l = std::get_if<PointLoad>(&i.load)) times(l->N, l->Mx, l->My);
                if (auto* l = std::get_if<LineLoad>(&i.load)) times(l->q[0], l->q[1]);
                if (auto* l = std::get_if<WallLoad>(&i.load)) times(l->q);
                if (auto* l = std::get_if<RibLoad>(&i.load)) times(l->q);
                if (auto* l = std::get_if<PileLoad>(&i.load)) times(l->N);
                auto press = [&](auto* l) {  // what fills it keeps its depth: its weight is scaled
                    if (l) l->fill ? times(l->fill->unit_weight) : times(l->p);
                };
                press(std::get_if<AreaLoad>(&i.load)), press(std::get_if<SlabLoad>(&i.load));
            }
}

bool move_case(Model& m, const std::string& load_case, int by) {
    auto& all = m.loads.cases;
    const auto it = std::find_if(all.begin(), all.end(), [&](const LoadCase& c) { return c.id == load_case; });
    const long from = it - all.begin(), to = from + by;
    if (it == all.end() || to < 0 || to >= long(all.size())) return false;
    std::swap(all[size_t(from)], all[size_t(to)]);
    return true;
}

void drop_case(Model& m, const std::string& load_case) {
    std::erase_if(m.loads.cases, [&](const LoadCase& c) { return c.id == load_case; });
    if (!m.loads.combinations) return;
    for (Combination& k : *m.loads.combinations) k.factors.erase(load_case);
}

}  // namespace mossbed
