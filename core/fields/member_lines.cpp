#include "core/fields/member_lines.h"

#include <algorithm>

#include "core/base/paths.h"
#include "core/base/polygons.h"
#include "core/model/levels.h"

namespace mossbed {
namespace {

struct Stretch {  // along a path
    double from, to;
};

// Where a polygon lies over a path, as stretches of it.
std::vector<Stretch> stretches_in(const Polygon& ring, const std::vector<Point>& path) {
    std::vector<Stretch> out;
    double before = 0;
    for (size_t k = 0; k + 1 < path.size(); ++k) {
        const double l = distance(path[k], path[k + 1]);
        double from = 1e300, to = -1e300;
        auto add = [&](Point p) {
            const double t = std::clamp(dot(p - path[k], path[k + 1] - path[k]) / std::max(l, 1e-12), 0.0, l);
            from = std::min(from, t), to = std::max(to, t);
        };
        for (size_t i = 0; i < ring.size(); ++i)
            if (auto at = segment_crossing(path[k], path[k + 1], ring[i], ring[(i + 1) % ring.size()])) add(*at);
        if (contains(ring, path[k])) add(path[k]);
        if (contains(ring, path[k + 1])) add(path[k + 1]);
        if (to > from) out.push_back({before + from, before + to});
        before += l;
    }
    return out;
}

// Where a rib is held, m along it: columns on it, ribs and walls that cross it, its own corners.
std::vector<double> supports_of(const Model& m, const Rib& rib) {
    std::vector<double> all;
    auto each_piece = [&](auto look) {
        double before = 0;
        for (size_t k = 0; k + 1 < rib.path.size(); ++k) {
            look(rib.path[k], rib.path[k + 1], before);
            before += distance(rib.path[k], rib.path[k + 1]);
        }
    };
    for (const Column& c : m.columns) {
        if (stretches_in(footprint(c), rib.path).empty()) continue;
        each_piece([&](Point a, Point b, double before) {
            if (!stretches_in(footprint(c), {a, b}).empty())
                all.push_back(before + std::clamp(dot(c.at - a, unit(b - a)), 0.0, distance(a, b)));
        });
    }
    auto crossed_by = [&](const std::vector<Point>& path) {
        for (size_t i = 0; i + 1 < path.size(); ++i)
            each_piece([&](Point a, Point b, double before) {
                if (std::abs(cross(unit(b - a), unit(path[i + 1] - path[i]))) < 0.5) return;  // it runs along
                if (auto at = segment_crossing(a, b, path[i], path[i + 1])) all.push_back(before + distance(a, *at));
            });
    };
    for (const Rib& r : m.ribs) crossed_by(r.path);  // itself where it turns a corner
    for (const Wall& w : m.walls)
        if (w.stiffens) crossed_by(w.path);
    std::sort(all.begin(), all.end());
    constexpr double one_support = 0.3;  // m
    std::vector<double> apart;
    for (double s : all)
        if (apart.empty() || s > apart.back() + one_support) apart.push_back(s);
    return apart;
}

}  // namespace

std::vector<RibSpan> rib_spans(const Model& m, const Rib& rib) {
    const double whole = length_of(rib.path);
    const std::vector<double> stops = supports_of(m, rib);
    std::vector<RibSpan> out;
    if (stops.empty()) return {{0, whole, true, true, 0}};
    constexpr double short_end = 0.05;  // m
    if (stops.front() > short_end) out.push_back({0, stops.front(), true, false, 0});
    for (size_t k = 0; k + 1 < stops.size(); ++k) out.push_back({stops[k], stops[k + 1], false, false, 0});
    if (stops.back() < whole - short_end) out.push_back({stops.back(), whole, false, true, 0});
    if (out.empty()) return {{0, whole, true, true, 0}};
    for (size_t k = 0; k < out.size(); ++k) {
        if (out[k].begins_free && k + 1 < out.size()) out[k].next = out[k + 1].length();
        if (out[k].ends_free && k > 0) out[k].next = out[k - 1].length();
    }
    return out;
}

ClearWidths clear_beside(const Model& m, const Rib& rib, Point at, Point along) {
    std::vector<Polygon> rims{outer_rim(m.slab.outline, 0.1)};
    if (auto in = inner_rim(m.slab.outline, 0.1)) rims.push_back(*in);
    for (const Opening& o : m.slab.openings) rims.push_back(o.outline);
    auto to_side = [&](Point u) {
        double clear = 1e300;
        for (const Polygon& r : rims) clear = std::min(clear, distance_along(r, at, u) - rib.width / 2);
        auto next = [&](const std::vector<Point>& path, double width) {
            for (size_t k = 0; k + 1 < path.size(); ++k) {
                const Point t = unit(path[k + 1] - path[k]);
                if (std::abs(dot(t, along)) < 0.7) continue;
                const double d = distance_along({path[k], path[k + 1]}, at, u);
                if (d > rib.width / 2 && d < 1e299) clear = std::min(clear, (d - rib.width / 2 - width / 2) / 2);
            }
        };
        for (const Rib& r : m.ribs) next(r.path, r.width);
        for (const Wall& w : m.walls)
            if (w.stiffens) next(w.path, w.thickness);
        return std::max(0.0, clear);
    };
    return {to_side(left_of(along)), to_side(-1.0 * left_of(along))};
}

namespace {

struct Sample {  // of the slab across a rib
    Finder::Hit hit;
    double weight = 0;  // m
};

class LineMaker {
  public:
    LineMaker(const Fields& f, const Overhang& overhang) : f_(f), m_(*f.model), overhang_(overhang) {}

    MemberLine of(const Member& member) {
        MemberLine line;
        line.kind = member.kind, line.index = member.index;
        lay_stations(member, line);
        const long n = long(line.stations.size()), nc = long(f_.combinations.size());
        const Eigen::MatrixXd unknown = Eigen::MatrixXd::Constant(n, nc, not_a_number);
        line.M_alone = line.N_alone = line.V_alone = unknown;
        const bool is_rib = member.kind == Member::Kind::rib;
        if (is_rib) line.M = line.V = line.T = unknown;
        if (is_rib) find_flanges(m_.ribs[size_t(member.index)], line);
        for (long i = 0; i < n; ++i) read(line, i, is_rib && overhang_);
        for (const Reach& r : ends_) extrapolate(line, r);
        return line;
    }

  private:
    struct Reach {  // from a station at a middle to one at an end, which has no piece of its own
        long middle, end;
    };

    const MemberPiece& piece_of(int k) const { return f_.plate.members.pieces[size_t(k)]; }

    void lay_stations(const Member& member, MemberLine& line) {
        ends_.clear(), pieces_.clear();
        auto add = [&](double s, Point at, Point along, int piece) {
            line.stations.push_back({s, at, along, 0, false});
            pieces_.push_back(piece);
            return long(line.stations.size()) - 1;
        };
        for (size_t i = 0; i < member.pieces.size(); ++i) {
            const int k = member.pieces[i];
            const MemberPiece& p = piece_of(k);
            const Point a = f_.mesh.nodes[size_t(p.a)], b = f_.mesh.nodes[size_t(p.b)];
            const bool begins = i == 0 || !follows(piece_of(member.pieces[i - 1]), p);
            const bool ends = i + 1 == member.pieces.size() || !follows(p, piece_of(member.pieces[i + 1]));
            const long first = begins ? add(p.s0, a, p.along, k) : -1;
            const long middle = add(0.5 * (p.s0 + p.s1), 0.5 * (a + b), p.along, k);
            if (begins) ends_.push_back({middle, first});
            if (ends) ends_.push_back({middle, add(p.s1, b, p.along, k)});
        }
    }
    // Straight on, without a gap and alike.
    static bool follows(const MemberPiece& p, const MemberPiece& q) {
        return p.b == q.a && std::abs(q.s0 - p.s1) < 1e-6 && dot(p.along, q.along) > 0.999 &&
               p.section.A == q.section.A && p.section.e == q.section.e && p.spans_opening == q.spans_opening;
    }

    void find_flanges(const Rib& rib, MemberLine& line) {
        const std::vector<RibSpan> spans = rib_spans(m_, rib);
        std::vector<Stretch> supports;
        for (const Column& c : m_.columns)
            for (Stretch s : stretches_in(footprint(c), rib.path)) supports.push_back(s);
        samples_.assign(line.stations.size(), {});
        for (size_t i = 0; i < line.stations.size(); ++i) {
            MemberLine::Station& t = line.stations[i];
            t.in_support = std::any_of(supports.begin(), supports.end(),
                                       [&](Stretch s) { return t.s > s.from + 1e-6 && t.s < s.to - 1e-6; });
            if (!overhang_) continue;
            const auto span = std::find_if(spans.begin(), spans.end(), [&](const RibSpan& s) { return t.s <= s.to; });
            const RibSpan& in = span == spans.end() ? spans.back() : *span;
            const bool over = piece_of(pieces_[i]).spans_opening;
            const ClearWidths clear = over ? ClearWidths{} : clear_beside(m_, rib, inside(t, i), t.along);
            const double left = rib.width / 2 + overhang_(clear.left, in),
                         right = rib.width / 2 + overhang_(clear.right, in);
            t.flange = over ? 0 : left + right;
            if (!over) samples_[i] = across(inside(t, i), t.along, left, right);
        }
    }
    // A station at an end is looked at from the middle of its piece.
    Point inside(const MemberLine::Station& t, size_t i) const {
        const MemberPiece& p = piece_of(pieces_[i]);
        const Point middle = 0.5 * (f_.mesh.nodes[size_t(p.a)] + f_.mesh.nodes[size_t(p.b)]);
        return distance(middle, t.at) > 1e-9 ? middle : t.at;
    }

    // Two points of Gauss in steps of no more than half a cell.
    std::vector<Sample> across(Point at, Point along, double left, double right) const {
        std::vector<Sample> out;
        const Point n = left_of(along);
        const double g = 0.5 / std::sqrt(3.0);
        for (auto [side, width] : {std::pair{1.0, left}, {-1.0, right}}) {
            const int steps = std::max(1, int(std::ceil(width / (0.5 * f_.mesh.size))));
            const double w = width / steps;
            for (int k = 0; k < steps; ++k)
                for (double x : {0.5 - g, 0.5 + g})
                    if (const Finder::Hit hit = f_.finder.at(at + (side * w * (k + x)) * n); hit.element >= 0)
                        out.push_back({hit, w / 2});
        }
        return out;
    }

    void read(MemberLine& line, long i, bool with_flange) const {
        const MemberPiece& p = piece_of(pieces_[size_t(i)]);
        const MemberSection& own = p.section;
        double EA = own.E * own.A, EAz = EA * own.e;
        if (with_flange)
            for (const Sample& s : samples_[size_t(i)]) {
                const PlateSection& slab = f_.plate.section[size_t(s.hit.element)];
                EA += s.weight * slab.E * slab.h, EAz += s.weight * slab.E * slab.h * f_.plate.e(s.hit.element);
            }
        const double centroid = EAz / EA;
        for (long c = 0; c < long(f_.combinations.size()); ++c) {
            const CombinationAnswer& a = f_.combinations[size_t(c)];
            if (!a.has_field()) continue;
            const MemberForces r = member_forces(p, a.motion.of, a.motion.x);
            line.N_alone(i, c) = r.N, line.M_alone(i, c) = r.M, line.V_alone(i, c) = r.V;
            if (!with_flange) continue;
            double M = r.M - r.N * (own.e - centroid), V = r.V, T = r.T;
            for (const Sample& s : samples_[size_t(i)]) {
                PlateForces q;
                for (int k = 0; k < corners(f_.mesh.elements[size_t(s.hit.element)]); ++k)
                    q = q + s.hit.weight[size_t(k)] * a.forces[f_.slots.of_corner[size_t(s.hit.element)][size_t(k)]];
                q = turned(q, p.along);
                M += s.weight * (q.mx - q.nx * (f_.plate.e(s.hit.element) - centroid));
                V += s.weight * q.vx, T += s.weight * q.mxy;
            }
            line.M(i, c) = M, line.V(i, c) = V, line.T(i, c) = T;
        }
    }

    // Moments go on with the shear to the end of a piece.
    void extrapolate(MemberLine& line, const Reach& r) const {
        const double ds = line.stations[size_t(r.end)].s - line.stations[size_t(r.middle)].s;
        line.M_alone.row(r.end) = line.M_alone.row(r.middle);
        if (line.M.rows() > 0) line.M.row(r.end) = line.M.row(r.middle) + ds * line.V.row(r.middle);
        if (piece_of(pieces_[size_t(r.middle)]).spans_opening)
            line.M_alone.row(r.end) += ds * line.V_alone.row(r.middle);
    }

    const Fields& f_;
    const Model& m_;
    const Overhang& overhang_;
    std::vector<int> pieces_;  // per station
    std::vector<Reach> ends_;
    std::vector<std::vector<Sample>> samples_;
};

}  // namespace

std::vector<MemberLine> member_lines(const Fields& fields, const Overhang& overhang, const Progress& progress) {
    std::vector<MemberLine> out;
    LineMaker maker(fields, overhang);
    for (const Member& m : fields.plate.members.list) {
        progress.end_if_stopped();
        out.push_back(maker.of(m));
    }
    return out;
}

}  // namespace mossbed
