#include "core/bars/laid_bars.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <tuple>

#include "core/base/polygons.h"
#include "core/base/turned_box.h"
#include "core/base/units.h"
#include "core/codes/code.h"
#include "core/model/columns_by_id.h"
#include "core/model/levels.h"
#include "core/steel/bar_regions.h"
#include "core/steel/depths.h"

namespace mossbed {

const char* name_of(BarKind k) {
    switch (k) {
        case BarKind::base:
            return "base";
        case BarKind::extra:
            return "extra";
        case BarKind::at_rim:
            return "U-bar at rim";
        case BarKind::trimmer:
            return "trimmer";
        case BarKind::link:
            return "link";
        case BarKind::chair:
            return "chair";
    }
    return "";
}

double BarMark::kg() const { return number * (length / 1000) * area_of_bar(diameter) * 1e-6 * steel_density; }
double LaidBars::kg() const {
    return std::accumulate(marks.begin(), marks.end(), 0.0, [](double s, const BarMark& m) { return s + m.kg(); });
}
double LaidBars::kg(BarKind kind) const {
    return std::accumulate(marks.begin(), marks.end(), 0.0,
                           [&](double s, const BarMark& m) { return s + (m.kind == kind ? m.kg() : 0); });
}

// BS 8666:2020, Table 5: 00 A; 11 A + B − r/2 − d; 21 A + B + C − r − 2d; 51 2 (A + B + C) − 2.5 r − 5 d;
// 98 A + 2 B + C + D − 2 r − 4 d.
double length_of_shape(const std::string& shape, const std::array<double, 5>& s, double d, double r) {
    const auto [A, B, C, D, E] = s;
    if (shape == "11") return A + B - 0.5 * r - d;
    if (shape == "21") return A + B + C - r - 2 * d;
    if (shape == "51") return 2 * (A + B + C) - 2.5 * r - 5 * d;
    if (shape == "98") return A + 2 * B + C + D - 2 * r - 4 * d;
    return A;
}

namespace {

constexpr double least_bar = 0.3;  // m: shorter pieces are left out

struct Stretch {
    double from = 0, to = 0;
    bool rim_at_from = true, rim_at_to = true;
};

class Laying {
  public:
    Laying(const Fields& fields, const Judgement& judged, const DesignCode& code)
        : judged_(judged), m_(*fields.model), code_(code) {
        rim_ = outer_rim(m_.slab.outline, 0.1);
        if (auto in = inner_rim(m_.slab.outline, 0.1)) holes_.push_back({"", *in});
        for (const Opening& o : m_.slab.openings) holes_.push_back({o.id, o.outline});
        fy_ = steel_of(m_).fyk;
    }

    LaidBars lay() {
        for (Face f : {Face::bottom, Face::top})
            for (Direction d : {Direction::x, Direction::y})
                for (const BarRegion& r : regions_of(m_, judged_.steel))
                    if (r.face == f && r.direction == d) lay_region(r);
        trim_openings();
        lay_links();
        lay_chairs();
        number();
        return std::move(out_);
    }

  private:
    double cover(Face f) const { return (f == Face::top ? m_.steel.cover_top : m_.steel.cover_bottom) / 1000; }
    double side_cover() const { return std::max(cover(Face::top), cover(Face::bottom)); }
    double anchorage(Face f, double diameter) const {
        return code_.anchorage_length(diameter, concrete_of(m_, m_.slab.concrete).fck, fy_, f == Face::bottom) / 1000;
    }
    double lap(Face f, double diameter) const {
        return code_.lap_length(diameter, concrete_of(m_, m_.slab.concrete).fck, fy_, f == Face::bottom) / 1000;
    }
    double radius(double diameter) const { return code_.least_bend(diameter) / 2; }
    const SlabPatch* patch_at(Point p) const {
        for (const SlabPatch& t : m_.slab.patches)
            if (contains(t.outline, p)) return &t;
        return nullptr;
    }
    double level(Face f, const SlabPatch* p) const {
        const Levels l = slab_levels(m_, p);
        return f == Face::top ? -l.high : l.low;  // deeper is less
    }

    void add(BarKind kind, double diameter, const std::string& shape, std::array<double, 5> sides, Face f,
             const char* direction, const std::string& where, Point from, Point to) {
        for (double& s : sides) s = std::round(s);
        const bool has_face = kind != BarKind::link && kind != BarKind::chair && kind != BarKind::at_rim;
        const auto key =
            std::make_tuple(kind, diameter, shape, sides, has_face ? f : Face::bottom, std::string(direction), where);
        auto [it, is_new] = known_.try_emplace(key, int(out_.marks.size()));
        if (is_new) {
            BarMark k;
            k.kind = kind, k.diameter = diameter, k.shape = shape, k.sides = sides;
            k.length = std::round(length_of_shape(shape, sides, diameter, radius(diameter)));
            k.face = has_face ? name_of(f) : "", k.direction = direction, k.where = where;
            out_.marks.push_back(std::move(k));
        }
        ++out_.marks[size_t(it->second)].number;
        out_.bars.push_back({it->second, from, to});
    }

    // Where a line from p along u lies on the slab and on an area.
    std::vector<Stretch> stretches(Point p, Point u, const Polygon* area) const {
        struct Crossing {
            double t;
            bool rim;
        };
        std::vector<Crossing> at;
        auto cross_with = [&](const Polygon& ring, bool rim) {
            for (size_t i = 0; i < ring.size(); ++i) {
                const Point a = ring[i], d = ring[(i + 1) % ring.size()] - a;
                const double den = cross(u, d);
                if (std::abs(den) < 1e-12) continue;
                const double s = cross(a - p, u) / den;
                if (s >= 0 && s < 1) at.push_back({cross(a - p, d) / den, rim});
            }
        };
        cross_with(rim_, true);
        for (const auto& h : holes_) cross_with(h.second, true);
        if (area) cross_with(*area, false);
        std::sort(at.begin(), at.end(), [](const Crossing& x, const Crossing& y) { return x.t < y.t; });
        std::vector<Stretch> out;
        for (size_t i = 0; i + 1 < at.size(); ++i) {
            const Point middle = p + 0.5 * (at[i].t + at[i + 1].t) * u;
            if (at[i + 1].t - at[i].t < 1e-9 || !is_slab(middle) || (area && !contains(*area, middle))) continue;
            if (!out.empty() && out.back().to == at[i].t)
                out.back().to = at[i + 1].t, out.back().rim_at_to = at[i + 1].rim;
            else
                out.push_back({at[i].t, at[i + 1].t, at[i].rim, at[i + 1].rim});
        }
        return out;
    }
    bool is_slab(Point q) const {
        return contains(rim_, q) &&
               std::none_of(holes_.begin(), holes_.end(), [&](const auto& h) { return contains(h.second, q); });
    }

    // One line of bars, cut at steps of its face: the deeper ones are bent to the other face at the step, the others go
    // on by their anchorage.
    struct Piece {
        double from, to;
        bool leg_at_from = false, leg_at_to = false;
        double leg = 0;
    };
    std::vector<Piece> pieces_of(const Stretch& s, Point p, Point u, const BarRegion& r) const {
        std::vector<double> cuts{s.from, s.to};
        for (const SlabPatch& t : m_.slab.patches)
            for (size_t i = 0; i < t.outline.size(); ++i) {
                const Point a = t.outline[i], d = t.outline[(i + 1) % t.outline.size()] - a;
                const double den = cross(u, d);
                if (std::abs(den) < 1e-12) continue;
                const double along = cross(a - p, d) / den, share = cross(a - p, u) / den;
                if (share >= 0 && share < 1 && along > s.from + 1e-6 && along < s.to - 1e-6) cuts.push_back(along);
            }
        std::sort(cuts.begin(), cuts.end());
        std::vector<Piece> out;
        double last = 0;
        for (size_t i = 0; i + 1 < cuts.size(); ++i) {
            if (cuts[i + 1] - cuts[i] < 1e-6) continue;
            const SlabPatch* on = patch_at(p + 0.5 * (cuts[i] + cuts[i + 1]) * u);
            const double here = level(r.face, on);
            if (!out.empty() && std::abs(here - last) < 1e-6) {
                out.back().to = cuts[i + 1];
                continue;
            }
            Piece piece{cuts[i], cuts[i + 1]};
            piece.leg = (on ? on->thickness : m_.slab.thickness) - cover(Face::top) - cover(Face::bottom);
            if (!out.empty()) {
                const double on_by = anchorage(r.face, r.diameter);
                if (here < last)
                    piece.leg_at_from = true, out.back().to = std::min(out.back().to + on_by, cuts[i + 1]);
                else
                    out.back().leg_at_to = true, piece.from = std::max(piece.from - on_by, out.back().from);
            }
            out.push_back(piece);
            last = here;
        }
        return out;
    }

    struct End {  // where a U-bar holds a bar
        Point at;
        double sense = 1, room = 0;  // along the bars, into the slab; m of slab before it
    };
    void lay_region(const BarRegion& r) {
        const Point u = along_bars(m_.steel, r.direction), v = left_of(u);
        const Polygon& over = r.outline.empty() ? rim_ : r.outline;
        const Box span = box_along(over, u);
        const double low = span.low.y, high = span.high.y;
        // Base bars stand from the rim by cover; extra bars in the gaps of base bars where they have their spacing.
        const ChosenBars& base = judged_.steel.base(r.face, r.direction);
        const double rim_low = box_along(rim_, u).low.y;
        const double spacing = r.spacing / 1000;
        double first = rim_low + side_cover() + base.diameter / 2000;
        if (!r.id.empty()) first += std::min(spacing, base.spacing / 1000) / 2;
        const int k0 = int(std::ceil((low - first) / spacing - 1e-9));
        std::vector<std::pair<Piece, Point>> pieces;
        std::vector<End> ends;
        const double edge = side_cover() + r.diameter / 2000;
        for (int k = std::max(k0, 0); first + k * spacing < high - (r.id.empty() ? edge : 0) + 1e-9; ++k) {
            const Point p = (first + k * spacing) * v;
            for (Stretch s : stretches(p, u, r.outline.empty() ? nullptr : &r.outline)) {
                if (s.rim_at_from) s.from += side_cover();
                if (s.rim_at_to) s.to -= side_cover();
                if (s.to - s.from < least_bar) continue;
                if (is_held(r)) {
                    if (s.rim_at_from) ends.push_back({p + s.from * u, 1, s.to - s.from});
                    if (s.rim_at_to) ends.push_back({p + s.to * u, -1, s.to - s.from});
                }
                for (const Piece& piece : pieces_of(s, p, u, r))
                    if (piece.to - piece.from >= least_bar) pieces.push_back({piece, p});
            }
        }
        const double step = rounding_of(pieces);
        for (const auto& [piece, p] : pieces) lay_piece(r, piece, p, u, step);
        lay_u_bars(r, ends, u, step);
    }
    bool is_held(const BarRegion& r) const {
        if (r.id.empty()) return r.face == Face::bottom;  // one U-bar holds both faces
        const ExtraBars* e = find_id(m_.steel.extra, r.id);
        return e && e->held_at_rims;
    }
    // Lengths are rounded down so that bars of many lengths become few marks.
    static double rounding_of(const std::vector<std::pair<Piece, Point>>& pieces) {
        constexpr size_t few = 26;
        for (double step : {0.025, 0.1, 0.25}) {
            std::vector<long> lengths;
            for (const auto& [p, at] : pieces)
                lengths.push_back(std::lround(std::floor((p.to - p.from) / step + 1e-6)));
            std::sort(lengths.begin(), lengths.end());
            if (size_t(std::unique(lengths.begin(), lengths.end()) - lengths.begin()) <= few) return step;
        }
        return 0.5;
    }

    void lay_piece(const BarRegion& r, const Piece& piece, Point p, Point u, double step) {
        const BarKind kind = r.id.empty() ? BarKind::base : BarKind::extra;
        const std::string where = r.id.empty() ? "all over" : r.id;
        const double whole = step * std::floor((piece.to - piece.from) / step + 1e-6);
        const double from = piece.from + (piece.to - piece.from - whole) / 2, to = from + whole;
        const double legs = piece.leg * ((piece.leg_at_from ? 1 : 0) + (piece.leg_at_to ? 1 : 0));
        const double stock = m_.steel.stock_length, l0 = lap(r.face, r.diameter);
        std::vector<std::pair<double, double>> parts;
        if (whole + legs <= stock + 1e-9 || stock <= 1.05 * l0) {  // shorter stock cannot be lapped: its row is over
            parts.push_back({from, to});
        } else {  // full lengths and one that is left over, in every second bar the other way round
            const int n = int(std::ceil((whole + legs - l0) / (stock - l0) - 1e-9));
            auto rounded = [](double length) { return 0.025 * std::ceil(length / 0.025 - 1e-6); };
            std::vector<double> lengths(size_t(n), stock);
            const double rest = whole + legs + (n - 1) * l0 - (n - 1) * stock;
            lengths.back() = std::min(stock, rounded(std::max(rest, 2 * l0 + piece.leg)));
            if (turn_ = !turn_; turn_) std::reverse(lengths.begin(), lengths.end());
            double at = from;
            for (int i = 0; i < n; ++i) {
                double length = lengths[size_t(i)];
                if (i == 0 && piece.leg_at_from) length -= piece.leg;
                if (i + 1 == n && piece.leg_at_to) length -= piece.leg;
                if (i + 1 == n) at = to - length;  // what is over makes the last lap longer
                parts.push_back({at, at + length});
                at += length - l0;
            }
        }
        for (size_t i = 0; i < parts.size(); ++i) {
            const auto [a, b] = parts[i];
            const bool leg_a = i == 0 && piece.leg_at_from, leg_b = i + 1 == parts.size() && piece.leg_at_to;
            const double straight = 1000 * (b - a), leg = 1000 * piece.leg;
            const char* shape = leg_a && leg_b ? "21" : leg_a || leg_b ? "11" : "00";
            std::array<double, 5> sides{straight, 0, 0, 0, 0};
            if (leg_a && leg_b)
                sides = {leg, straight, leg, 0, 0};
            else if (leg_a || leg_b)
                sides = {leg, straight, 0, 0, 0};
            add(kind, r.diameter, shape, sides, r.face, name_of(r.direction), where, p + a * u, p + b * u);
        }
    }

    void lay_u_bars(const BarRegion& r, const std::vector<End>& ends, Point u, double step) {
        for (const auto& [at, sense, room] : ends) {
            const SlabPatch* on = patch_at(at + 0.05 * sense * u);
            const double h = on ? on->thickness : m_.slab.thickness;
            const double leg = std::max(code_.least_leg_at_rim(1000 * h), 1000 * lap(r.face, r.diameter)) +
                               (step > 0.03 ? 500 * step : 0);
            const double back = 1000 * (h - cover(Face::top) - cover(Face::bottom));
            const double whole = std::min(25 * std::ceil(leg / 25 - 1e-9), 25 * std::floor(1000 * room / 25 + 1e-9));
            add(BarKind::at_rim, r.diameter, "21", {whole, back, whole, 0, 0}, r.face, name_of(r.direction),
                r.id.empty() ? "rim" : "rim, " + r.id, at, at + sense * (whole / 1000) * u);
        }
    }

    // Half of the base bars that an opening cuts lies on each side of it, in each face and direction.
    void trim_openings() {
        for (const auto& [id, outline] : holes_) {
            if (id.empty()) continue;
            for (Face f : {Face::bottom, Face::top})
                for (Direction d : {Direction::x, Direction::y}) {
                    const ChosenBars& base = judged_.steel.base(f, d);
                    if (base.diameter <= 0) continue;
                    const Point u = along_bars(m_.steel, d), v = left_of(u);
                    const Box b = box_along(outline, u);
                    const double u0 = b.low.x, u1 = b.high.x, v0 = b.low.y, v1 = b.high.y;
                    const int n = std::max(2, int(std::ceil((v1 - v0) / (base.spacing / 1000) / 2 - 1e-9)));
                    const double past = lap(f, base.diameter);
                    for (double side : {-1.0, 1.0})
                        for (int i = 0; i < n; ++i) {
                            const double pitch = std::max(0.05, 3 * base.diameter / 1000);
                            const Point p = ((side < 0 ? v0 : v1) + side * (side_cover() + i * pitch)) * v;
                            for (Stretch s : stretches(p, u, nullptr)) {
                                const double from = std::max(s.from + side_cover(), u0 - past),
                                             to = std::min(s.to - side_cover(), u1 + past);
                                const double whole = 0.025 * std::floor((to - from) / 0.025 + 1e-6);
                                if (whole >= least_bar)
                                    add(BarKind::trimmer, base.diameter, "00", {1000 * whole, 0, 0, 0, 0}, f,
                                        name_of(d), "opening " + id, p + from * u, p + (from + whole) * u);
                            }
                        }
                }
        }
    }

    // Closed links, two legs each.
    void lay_links() {
        auto link = [&](double diameter, double between, const std::string& where, Point at) {
            const SlabPatch* on = patch_at(at);
            const double h = 1000 * ((on ? on->thickness : m_.slab.thickness) - cover(Face::top) - cover(Face::bottom));
            const double hook =
                std::max(10 * diameter, 70.0) + radius(diameter) + diameter;  // 8.5(1): 10 ϕ beyond the bend
            add(BarKind::link, diameter, "51", {h, std::max(between, 2 * radius(diameter) + 2 * diameter), hook, 0, 0},
                Face::bottom, "", where, at, at);
        };
        const ColumnsById columns(m_.columns);
        for (const PunchingAnswer& p : judged_.punching) {
            if (p.link_legs.size() < 2) continue;
            const Column* c = columns.find(p.id);
            if (!c) continue;
            for (size_t k = 0; k < p.link_legs.size(); k += 2) {
                const Point at = p.link_legs[k], next = p.link_legs[std::min(k + 1, p.link_legs.size() - 1)];
                const double apart = 1000 * distance(at, next);
                link(c->links.diameter.value_or(10), std::min(25 * std::round(apart / 25), 400.0), c->id,
                     0.5 * (at + next));
            }
        }
        for (const ShearLinks& l : m_.steel.links) {
            const double s = l.spacing / 1000;
            const Box box = box_of(l.outline);
            for (double x = box.low.x + s; x <= box.high.x + 1e-9; x += 2 * s)
                for (double y = box.low.y + s / 2; y <= box.high.y + 1e-9; y += s)
                    if (const Point q{x, y}; contains(l.outline, q) && is_slab(q)) link(l.diameter, l.spacing, l.id, q);
        }
    }

    // Of practice: one a square metre below the top bars.
    void lay_chairs() {
        const ChosenBars &x = judged_.steel.top_x, &y = judged_.steel.top_y;
        const ChosenBars &bx = judged_.steel.bottom_x, &by = judged_.steel.bottom_y;
        if (x.diameter <= 0 || y.diameter <= 0) return;
        const Box box = box_of(rim_);
        for (double px = box.low.x + 0.5; px < box.high.x; px += 1)
            for (double py = box.low.y + 0.5; py < box.high.y; py += 1) {
                const Point q{px, py};
                if (!is_slab(q)) continue;
                const SlabPatch* on = patch_at(q);
                const double h = 1000 * (on ? on->thickness : m_.slab.thickness);
                const double diameter = h <= 500 ? 12 : h <= 1000 ? 16 : 20;
                const double high = h - m_.steel.cover_top - m_.steel.cover_bottom - x.diameter - y.diameter -
                                    bx.diameter - by.diameter;
                if (high < 60) continue;
                add(BarKind::chair, diameter, "98", {300, high, 300, 300, 0}, Face::top, "", "all over", q, q);
            }
    }

    // Marks in order: kind, face, direction, place, longest first.
    void number() {
        std::vector<int> order(out_.marks.size()), place(out_.marks.size());
        std::iota(order.begin(), order.end(), 0);
        std::stable_sort(order.begin(), order.end(), [&](int a, int b) {
            const BarMark &p = out_.marks[size_t(a)], &q = out_.marks[size_t(b)];
            return std::tie(p.kind, p.face, p.direction, p.where) < std::tie(q.kind, q.face, q.direction, q.where) ||
                   (std::tie(p.kind, p.face, p.direction, p.where) == std::tie(q.kind, q.face, q.direction, q.where) &&
                    p.length > q.length);
        });
        std::vector<BarMark> sorted;
        for (int k : order) {
            place[size_t(k)] = int(sorted.size());
            sorted.push_back(std::move(out_.marks[size_t(k)]));
            sorted.back().mark = fmt::format("{:02}", sorted.size());
        }
        out_.marks = std::move(sorted);
        for (LaidBar& b : out_.bars) b.mark = place[size_t(b.mark)];
        std::stable_sort(out_.bars.begin(), out_.bars.end(),
                         [](const LaidBar& p, const LaidBar& q) { return p.mark < q.mark; });
    }

    const Judgement& judged_;
    const Model& m_;
    const DesignCode& code_;
    double fy_ = 500;
    Polygon rim_;
    std::vector<std::pair<std::string, Polygon>> holes_;
    LaidBars out_;
    bool turn_ = false;
    std::map<std::tuple<BarKind, double, std::string, std::array<double, 5>, Face, std::string, std::string>, int>
        known_;
};

}  // namespace

LaidBars list_bars(const Fields& fields, const Judgement& judged) {
    const auto code = make_code(fields.model->settings);
    return code ? Laying(fields, judged, *code).lay() : LaidBars{};
}

}  // namespace mossbed
