#include "core/judge/concentrated_loads.h"

#include <fmt/format.h>

#include <set>

namespace mossbed {
namespace {

// Loads without a column under which they punch: points, ends and corners of lines, areas so small that they act as
// one.
struct Spot {
    Point at;
    std::string item;  // "G item 3"
    const char* what;  // "point load"
};

std::vector<Spot> concentrated_loads(const Model& m, const BaseBars& bars) {
    std::vector<Spot> spots;
    std::set<std::pair<long, long>> seen;  // one a place, to 50 mm
    for (const LoadCase& c : m.loads.cases) {
        int n = 0;
        for (const LoadItem& item : c.items) {
            const std::string name = fmt::format("{} item {}", c.id, ++n);
            auto add = [&](Point at, const char* what) {
                if (seen.insert({std::lround(at.x / 0.05), std::lround(at.y / 0.05)}).second)
                    spots.push_back({at, name, what});
            };
            if (const auto* p = std::get_if<PointLoad>(&item.load)) add(p->at, "point load");
            if (const auto* l = std::get_if<LineLoad>(&item.load))
                for (Point q : l->path) add(q, "line load");
            if (const auto* l = std::get_if<AreaLoad>(&item.load)) {
                const Box b = box_of(l->outline);
                if (std::max(b.width(), b.height()) <
                    4 * mean_depth(m, bars, Face::bottom, thickness_at(m, b.middle())) / 1000)
                    add(centroid(l->outline), "area load");
            }
        }
    }
    return spots;
}

class Look {
  public:
    Look(const Fields& a, const PunchedSlab& slab, std::vector<PunchedItem>& items)
        : a_(a), m_(*a.model), slab_(slab), code_(slab.code), steel_(slab.steel), items_(items), loads_(a) {}
    std::vector<Row> all(const Progress& progress) {
        std::set<std::string> told;
        for (const Spot& s : concentrated_loads(m_, steel_.bars())) {
            progress.end_if_stopped();
            if (!told.count(s.item) && !stands_below_something(s.at) && may_punch(s)) told.insert(s.item);
        }
        return std::move(rows_);
    }

  private:
    void open(std::string item, std::string title, std::string note, Point at) {
        Row row = row_of("punching", std::move(title), std::move(item));
        row.note = std::move(note), row.at = at, row.clause = code_.punching_clause();
        rows_.push_back(std::move(row));
    }
    // What stands on a column or in a wall comes down with it.
    bool stands_below_something(Point at) const {
        for (const Column& c : m_.columns)
            if (contains(footprint(c), at)) return true;
        for (const Wall& w : m_.walls)
            for (size_t i = 0; i + 1 < w.path.size(); ++i)
                if (distance_to_segment(at, w.path[i], w.path[i + 1]) <= w.thickness / 2) return true;
        return false;
    }
    bool may_punch(const Spot& s) {
        const double h = thickness_at(m_, s.at),
                     d = std::max(0.0, mean_depth(m_, steel_.bars(), Face::bottom, h) / 1000);
        const double reach = std::max(code_.furthest_perimeter(d), 1e-3);
        std::vector<std::pair<double, double>> near;
        for (size_t k = 0; k < a_.case_loads.size(); ++k) near.push_back(loads_.near(s.at, reach, k));
        double most = 0, moment = 0;
        std::string in;
        for (const CombinationAnswer& c : a_.combinations) {
            if (!is_design(c)) continue;
            double N = 0, M = 0;
            for (size_t k = 0; k < near.size(); ++k) {
                const double f = std::abs(factor_in(c, a_.cases[k].id));
                N += f * near[k].first, M += f * near[k].second;
            }
            if (N > most) most = N, in = c.combination.id;
            moment = std::max(moment, M);
        }
        const Section metre{1000,          1000 * h, 1000 * d, concrete_of(m_, m_.slab.concrete).fck, steel_of(m_).fyk,
                            steel_of(m_).E};
        if (most <= (d > 0 ? code_.harmless_force(metre) : 0) && moment == 0) return false;
        const std::string title = fmt::format("Punching at {} {}", s.what, s.item);
        if (s.what == std::string("point load")) {
            items_.push_back(punched_point(slab_, s.at, s.item, title));
            return true;
        }
        open(s.item, title,
             fmt::format("{:.0f} kN{} within {:.2f} m of ({:.2f}, {:.2f}) in {}: a load without a column is not worked "
                         "out in this version; give a column there.",
                         most, moment > 0 ? " and moments" : "", reach, s.at.x, s.at.y, in),
             s.at);
        return true;
    }

    const Fields& a_;
    const Model& m_;
    const PunchedSlab& slab_;
    const DesignCode& code_;
    const Provision& steel_;
    std::vector<PunchedItem>& items_;
    LoadsByPlace loads_;
    std::vector<Row> rows_;
};

}  // namespace

bool has_concentrated_loads(const Model& m) { return !concentrated_loads(m, stated_bars(m)).empty(); }

std::vector<Row> look_at_concentrated_loads(const Fields& a, const PunchedSlab& slab, std::vector<PunchedItem>& items,
                                            const Progress& progress) {
    if (std::none_of(a.combinations.begin(), a.combinations.end(), is_design)) return {};
    return Look(a, slab, items).all(progress);
}

}  // namespace mossbed
