#include "core/perimeter/perimeter.h"

#include <algorithm>
#include <array>
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/linestring.hpp>
#include <boost/geometry/geometries/multi_linestring.hpp>
#include <boost/geometry/geometries/multi_polygon.hpp>
#include <boost/geometry/geometries/point_xy.hpp>
#include <boost/geometry/geometries/polygon.hpp>
#include <numbers>

#include "core/base/polygons.h"

namespace mossbed {
namespace bg = boost::geometry;
namespace {

constexpr double pi = std::numbers::pi;

using Xy = bg::model::d2::point_xy<double>;
using Face = bg::model::polygon<Xy, false, false>;  // anticlockwise, open
using Faces = bg::model::multi_polygon<Face>;
using Line = bg::model::linestring<Xy>;
using Lines = bg::model::multi_linestring<Line>;

Face face_of(const Polygon& outer, const std::optional<Polygon>& hole = {}) {
    Face f;
    for (Point p : outer) f.outer().push_back({p.x, p.y});
    if (hole) {
        f.inners().resize(1);
        for (Point p : *hole) f.inners()[0].push_back({p.x, p.y});
    }
    bg::correct(f);
    return f;
}

// The corner of a convex ring and the outward normals of the sides before and after it.
struct Corner {
    Point at, before, after;
    double turn() const { return std::atan2(cross(before, after), dot(before, after)); }
    // Normals at `parts` + 1 places of the turn, evenly.
    std::vector<Point> normals(int parts) const {
        const double by = turn() / parts;
        const Point step{std::cos(by), std::sin(by)};
        std::vector<Point> out{before};
        for (int k = 1; k < parts; ++k) {
            const Point n = out.back();
            out.push_back({step.x * n.x - step.y * n.y, step.x * n.y + step.y * n.x});
        }
        out.push_back(after);
        return out;
    }
};
Corner corner_of(const Polygon& p, size_t i) {
    const Point last = p[i > 0 ? i - 1 : p.size() - 1], b = p[i], next = p[i + 1 < p.size() ? i + 1 : 0];
    return {b, unit(left_of(last - b)), unit(left_of(b - next))};
}

// Appends the stretches of a line within a convex polygon, its rim included.
void add_within(const Line& line, const Polygon& convex, Lines& out) {
    bool goes_on = false;
    for (size_t i = 0; i + 1 < line.size(); ++i) {
        const Point a{line[i].x(), line[i].y()}, b{line[i + 1].x(), line[i + 1].y()};
        double t0 = 0, t1 = 1;  // of the way from a to b
        for (size_t k = 0; k < convex.size(); ++k) {
            const Point p = convex[k], inward = left_of(convex[k + 1 < convex.size() ? k + 1 : 0] - p);
            const double da = dot(a - p, inward), db = dot(b - p, inward);
            if (da < 0) t0 = db > 0 ? std::max(t0, da / (da - db)) : 1;
            if (da >= 0 && db < 0) t1 = std::min(t1, da / (da - db));
        }
        const bool went_on = goes_on && t0 == 0;
        goes_on = t0 < t1 && t1 == 1;
        if (t0 >= t1) continue;
        const Point from = t0 > 0 ? a + t0 * (b - a) : a, to = t1 < 1 ? a + t1 * (b - a) : b;
        if (!went_on) out.push_back({{from.x, from.y}});
        out.back().push_back({to.x, to.y});
    }
}

// How far the point where the two sides at a corner meet moves when both move outward by one.
Point prolonged(const Corner& c) {
    const Point sum = c.before + c.after;
    return (2 / std::max(1e-12, dot(sum, sum))) * sum;
}

// The points of two convex outlines, of a polygon and of a segment, that are nearest to each other.
std::pair<Point, Point> nearest_points(const Polygon& p, Point a, Point b) {
    std::pair<Point, Point> best{p[0], a};
    double least = 1e300;
    auto look = [&](Point q, Point on) {
        if (const double d = distance(q, on); d < least) least = d, best = {q, on};
    };
    for (size_t i = 0; i < p.size(); ++i) {
        look(p[i], nearest_on_segment(p[i], a, b));
        for (Point end : {a, b}) look(nearest_on_segment(end, p[i], p[(i + 1) % p.size()]), end);
    }
    return best;
}

struct FacedRim {
    Point outward;
    double gap;
};
// The rims that an area faces: the nearest point of each lies square across from it.
std::vector<FacedRim> faced_rims(const PunchedArea& area, const SlabAround& slab, double furthest) {
    constexpr double square = 0.94;  // cosine of 20°: rims are polygons, their true normal is not the chord's
    std::vector<FacedRim> found;
    auto look = [&](const Polygon& ring, double sense) {
        for (size_t i = 0; i < ring.size(); ++i) {
            const Point a = ring[i], b = ring[(i + 1) % ring.size()];
            const Point outward = sense * unit(Point{(b - a).y, -(b - a).x});
            const auto [from, to] = nearest_points(area.outline, a, b);
            const double gap = distance(from, to);
            if (gap > furthest || distance(a, b) < 1e-9) continue;
            if (gap > 1e-9) {
                if (dot(unit(to - from), outward) < square) continue;
            } else {  // it stands at the rim: along a stretch of it, not only at its end
                double low = 1e300, high = -1e300;
                for (Point q : area.outline)
                    if (distance_to_segment(q, a, b) < 1e-6)
                        low = std::min(low, dot(q, b - a)), high = std::max(high, dot(q, b - a));
                const bool within = area.round || high > low + 1e-6 || distance_to_segment(from, a, b) < 1e-6;
                if (!within || dot(from - area.centre, outward) <= 0) continue;
            }
            found.push_back({outward, gap});
        }
    };
    look(slab.rim, 1);
    if (slab.hole) look(anticlockwise(*slab.hole), -1);
    std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.gap < b.gap; });
    std::vector<FacedRim> apart;  // sides of one bent rim count once
    for (const FacedRim& f : found)
        if (std::none_of(apart.begin(), apart.end(), [&](const auto& o) { return dot(o.outward, f.outward) > 0.77; }))
            apart.push_back(f);
    if (apart.size() > 4) apart.resize(4);
    return apart;
}

bool is_on_slab(const Polygon& region, const SlabAround& slab) {
    return lies_within(region, slab.rim) && !(slab.hole && touch(region, *slab.hole));
}

// Share of the way from a to b that lies between low and high.
double share_between(double a, double b, double low, double high) {
    if (high <= low) return 0;
    if (std::abs(b - a) < 1e-12) return a > low && a < high ? 1 : 0;
    return std::max(0.0, std::min(std::max(a, b), high) - std::max(std::min(a, b), low)) / std::abs(b - a);
}

// The means of |e| and of e² while e goes evenly from a to b.
double mean_size(double a, double b) {
    return a * b >= 0 ? std::abs(a + b) / 2 : (a * a + b * b) / (2 * std::abs(a - b));
}
double mean_square(double a, double b) { return (a * a + a * b + b * b) / 3; }

// Of an arc of radius `a` over `angle` ≤ π from the normal `from` to `to`, along a unit vector `axis` on which its
// corner lies at w: ∫ e dl, ∫ |e| dl and ∫ e² dl.
struct ArcMoments {
    double sum, size, square;
    ArcMoments(double w, double a, Point from, Point to, double angle, Point axis) {
        const double s0 = dot(axis, from), s1 = dot(axis, to);  // e = w + a sin t
        const double c0 = -cross(axis, from), c1 = -cross(axis, to);
        sum = a * (w * angle + a * (c0 - c1));
        square = a * (w * w * angle + 2 * w * a * (c0 - c1) + a * a * (angle - s1 * c1 + s0 * c0) / 2);
        size = std::abs(sum);
        if (std::abs(w) >= a) return;
        if (angle > 0 && angle < 3 && c0 * c1 >= 0) {  // e grows or falls all the way
            const double e0 = w + a * s0, e1 = w + a * s1;
            if (e0 * e1 >= 0) return;
            const double s = -w / a, c = std::copysign(std::sqrt(1 - s * s), c0 + c1);
            const double to = std::atan2(s * c0 - c * s0, c * c0 + s * s0);  // the way to where it is nought
            size = a * (std::abs(w * to + a * (c0 - c)) + std::abs(w * (angle - to) + a * (c - c1)));
            return;
        }
        // where e changes sides on the way
        const double t0 = std::atan2(s0, c0), t1 = t0 + angle, up = std::asin(-w / a);
        double last = t0, zeros[2] = {up, pi - up};
        for (double& t : zeros) t += 2 * pi * std::ceil((t0 - t) / (2 * pi));
        size = 0;
        for (const double t : {std::min(zeros[0], zeros[1]), std::max(zeros[0], zeros[1]), t1}) {
            const double here = std::min(t, t1);
            size += a * std::abs(w * (here - last) + a * (std::cos(last) - std::cos(here)));
            last = here;
        }
    }
};

double extent(const Polygon& p, Point axis) {
    double low = 1e300, high = -1e300;
    for (Point q : p) low = std::min(low, dot(q, axis)), high = std::max(high, dot(q, axis));
    return high - low;
}

}  // namespace

std::vector<PerimeterCourse> perimeter_courses(const PunchedArea& area, const SlabAround& slab, double furthest) {
    const Box box = box_of(area.outline).grown(furthest + 1e-6);
    Polygon surely = rectangle(box.middle(), box.width(), box.height());
    PerimeterCourse closed;
    if (is_on_slab(surely, slab) || is_on_slab(spread_out(area.outline, furthest), slab)) return {closed};
    closed.leaves_slab = true;
    const std::vector<FacedRim> rims = faced_rims(area, slab, furthest);
    std::vector<PerimeterCourse> out{closed};
    for (const FacedRim& r : rims) out.push_back({Position::edge, {r.outward}, {r.gap}, true});
    for (size_t i = 0; i < rims.size(); ++i)
        for (size_t j = i + 1; j < rims.size(); ++j) {
            const bool opposite = dot(rims[i].outward, rims[j].outward) < -0.77;
            out.push_back({opposite ? Position::edge : Position::corner,
                           {rims[i].outward, rims[j].outward},
                           {rims[i].gap, rims[j].gap},
                           true});
        }
    return out;
}

Polygon swept_to_rims(const PunchedArea& area, const PerimeterCourse& course) {
    Polygon swept = area.outline;
    for (size_t i = 0; i < course.outward.size(); ++i) {
        // just past the rim, so that it does not reach slab beyond; at a sharp corner past its tip
        const double gap = course.to_rims[i], tip = course.position == Position::corner ? 1 : 0;
        const double by = gap + tip * (gap + extent(area.outline, course.outward[i])) + 0.01;
        Polygon both = swept;
        for (Point q : swept) both.push_back(q + by * course.outward[i]);
        swept = convex_hull(both);
    }
    return swept;
}

std::vector<OutwardRay> outward_rays(const Polygon& p) {
    std::vector<OutwardRay> out;
    for (size_t i = 0; i < p.size(); ++i) {
        const Corner c = corner_of(p, i);
        const double turn = c.turn();
        const int chords = std::max(1, int(std::ceil(std::abs(turn) / 0.2)));
        // Chords bulge out between the sides, which they meet square: as far that the area is that of the arc,
        // turn = sin(turn / n) (2 b + (n − 2) b²). One chord alone cuts off turn² / 6 of it.
        const double per = turn / std::sin(turn / chords);
        const double bulge = chords > 2 ? (std::sqrt(1 + (chords - 2) * per) - 1) / (chords - 2) : per / 2;
        const std::vector<Point> normals = c.normals(chords);
        for (size_t k = 0; k < normals.size(); ++k)
            out.push_back({c.at, (k == 0 || k + 1 == normals.size() ? 1 : bulge) * normals[k]});
    }
    return out;
}

Polygon spread_out(const Polygon& p, double a) {
    Polygon out;
    for (const OutwardRay& r : outward_rays(p)) out.push_back(r.from + a * r.way);
    return without_repeats(out, 1e-9);
}

Polygon kept_part(Polygon p, const std::vector<HalfPlane>& kept) {
    for (const HalfPlane& k : kept) p = clip_to_half_plane(p, k.on_line, k.inward);
    return p;
}

struct Perimeters::Kept {
    Faces lit, slab;  // without and with what is shaded
    Polygon convex;   // what is lit, where it is convex and has few corners; else none
    void find_convex() {
        constexpr size_t few = 16;
        if (lit.size() != 1 || !lit[0].inners().empty() || lit[0].outer().size() > few) return;
        for (const Xy& q : lit[0].outer()) convex.push_back({q.x(), q.y()});
        if (!is_convex(convex)) convex.clear();
    }
    void add_lit(const Line& line, Lines& out) const {
        if (convex.empty())
            bg::intersection(line, lit, out);
        else
            add_within(line, convex, out);
    }
};

Perimeters::~Perimeters() = default;
Perimeters::Perimeters(Perimeters&&) noexcept = default;

Perimeters::Perimeters(PunchedArea area, const PerimeterRule& rule, const std::vector<Polygon>& openings)
    : Perimeters(std::move(area), rule, SlabAround{{}, {}, openings, {}}, PerimeterCourse{}) {}

Perimeters::Perimeters(PunchedArea area, const PerimeterRule& rule, const SlabAround& slab, PerimeterCourse course)
    : area_(std::move(area)),
      rule_(rule),
      course_(std::move(course)),
      swept_(swept_to_rims(area_, course_)),
      thinner_(slab.thinner) {
    for (size_t i = 0; i < swept_.size(); ++i) {
        const Corner c = corner_of(swept_, i);
        if (!rule_.round_corners) {
            rays_.push_back({c.at, prolonged(c)});
            continue;
        }
        const int arcs = std::max(1, int(std::ceil(std::abs(c.turn()) / (pi / 60))));
        for (Point normal : c.normals(arcs)) rays_.push_back({c.at, normal});
    }
    for (const Polygon& o : slab.openings) add_wedge(o, rule.shade_within);
    if (area_.one_column && !area_.round && area_.kept.empty()) {
        const double b = std::min(area_.c1, area_.c2), a = std::max(area_.c1, area_.c2);
        const double b1 = std::min(b, rule.short_side), a1 = std::min({a, rule.side_ratio * b, rule.sides - b1});
        idle1_ = area_.c1 - (area_.c1 >= area_.c2 ? a1 : b1), idle2_ = area_.c2 - (area_.c1 >= area_.c2 ? b1 : a1);
    }
    const bool nothing_taken = shade_.empty() && area_.kept.empty() && course_.outward.empty();
    if (nothing_taken && rule_.round_corners && !area_.round && !thinner_ && idle1_ <= 0 && idle2_ <= 0)
        for (size_t i = 0; i < swept_.size(); ++i) {
            const Corner c = corner_of(swept_, i);
            turns_.push_back({c.at, c.before, c.after, c.turn()});
        }
    if (nothing_taken && !course_.leaves_slab) return;
    if (nothing_taken) {
        double gap = gap_between_rims(swept_, slab.rim);
        if (slab.hole) gap = std::min(gap, gap_between_rims(swept_, *slab.hole));
        double furthest = 1e-12;  // a way goes further than the perimeter where sides are prolonged
        for (const OutwardRay& ray : rays_) furthest = std::max(furthest, length(ray.way));
        whole_before_ = gap / furthest;
    }
    kept_ = std::make_unique<Kept>();
    const double far = 1000;  // m: beyond any perimeter, in proportion to what is looked at
    if (course_.leaves_slab)
        kept_->slab.push_back(face_of(slab.rim, slab.hole));
    else
        kept_->slab.push_back(face_of(rectangle(area_.centre, 2 * far, 2 * far)));
    for (const HalfPlane& k : area_.kept) {
        const Point along = left_of(unit(k.inward)), o = k.on_line;
        const Polygon beyond = anticlockwise({o + far * along, o - far * along, o - far * along - far * unit(k.inward),
                                              o + far * along - far * unit(k.inward)});
        Faces left;
        bg::difference(kept_->slab, face_of(beyond), left);
        kept_->slab = std::move(left);
    }
    kept_->lit = kept_->slab;
    for (const Wedge& w : shade_) {
        Polygon fan{area_.centre};
        const int arcs = std::max(1, int(std::ceil(w.half / 0.2)));
        for (int k = 0; k <= arcs; ++k) {
            const double t = w.middle - w.half + 2 * w.half * k / arcs;
            fan.push_back(area_.centre + far * Point{std::cos(t), std::sin(t)});
        }
        Faces left;
        if (w.half < pi) bg::difference(kept_->lit, face_of(fan), left);
        kept_->lit = std::move(left);
    }
    kept_->find_convex();
}

void Perimeters::add_wedge(const Polygon& o, double within) {
    if (gap_between(o, area_.outline) > within) return;
    const Point to = centroid(o) - area_.centre;
    const double middle = std::atan2(to.y, to.x);
    double low = 0, high = 0, near = 1e300, far = 0, side = 0;
    for (Point q : o) {
        const Point r = q - area_.centre;
        const double t = std::remainder(std::atan2(r.y, r.x) - middle, 2 * pi);
        low = std::min(low, t), high = std::max(high, t);
        const double along = dot(r, unit(to));
        near = std::min(near, along), far = std::max(far, along);
        side = std::max(side, std::abs(cross(r, unit(to))));
    }
    const double l1 = far - near, l2 = 2 * side;
    const double wider = l1 > l2 && l2 > 0 ? std::sqrt(l1 / l2) : 1;  // l2 becomes √(l1 l2)
    shade_.push_back({middle + (low + high) / 2, (high - low) / 2 * wider});
}

// Circles, and convex areas with round corners, of which nothing is taken and that lie in one thickness.
bool Perimeters::closed_form(Perimeter& p) const {
    const double a = p.a;
    if (area_.round && !thinner_ && idle1_ <= 0 && idle2_ <= 0) {
        const double D = area_.c1 + 2 * a;
        p.length = pi * D, p.first1 = p.first2 = D * D, p.second1 = p.second2 = pi * D * D * D / 8;
        return true;
    }
    if (turns_.empty()) return false;
    double sum1 = 0, sum2 = 0;  // ∫ e dl
    for (size_t i = 0; i < turns_.size(); ++i) {
        const Turn &t = turns_[i], &next = turns_[i + 1 < turns_.size() ? i + 1 : 0];
        const double side = distance(t.at, next.at);
        p.length += side + a * t.angle;
        auto add = [&](Point axis, double& sum, double& first, double& second) {
            const double w = dot(t.at - area_.centre, axis);
            const ArcMoments arc(w, a, t.before, t.after, t.angle, axis);
            const double from = w + a * dot(t.after, axis), to = from + dot(next.at - t.at, axis);
            sum += arc.sum + side * (from + to) / 2;
            first += arc.size + side * mean_size(from, to);
            second += arc.square + side * mean_square(from, to);
        };
        add(p.axis1, sum1, p.first1, p.second1), add(p.axis2, sum2, p.first2, p.second2);
    }
    p.centroid = {sum1 / p.length, sum2 / p.length};
    p.second1 -= sum1 * p.centroid.x, p.second2 -= sum2 * p.centroid.y;
    return true;
}

// The closed line a round the swept area.
std::vector<Point> Perimeters::line(double a) const {
    std::vector<Point> out;
    out.reserve(rays_.size() + 1);
    for (const OutwardRay& r : rays_)
        if (const Point q = r.from + a * r.way; out.empty() || !(q == out.back())) out.push_back(q);
    out.push_back(out.front());
    return out;
}

// Of a piece of line, from the area's centre: all of it but what lies along the idle middles of long sides.
double Perimeters::share_that_counts(Point from, Point to) const {
    if (idle1_ <= 0 && idle2_ <= 0) return 1;
    const Point a = turned(from, -area_.angle), b = turned(to, -area_.angle);
    return 1 - std::min(1.0, share_between(a.x, b.x, -idle1_ / 2, idle1_ / 2) +
                                 share_between(a.y, b.y, -idle2_ / 2, idle2_ / 2));
}

double Perimeter::first_along(Point axis) const {
    double sum = 0;
    for (const Piece& l : pieces) {
        const double a = dot(l.from - origin, axis), b = dot(l.to - origin, axis);
        sum += l.length * mean_size(a, b);
    }
    return sum;
}

Perimeter Perimeters::at(double a) const {
    Perimeter p;
    p.a = a, p.shaded = !shade_.empty(), p.position = course_.position;
    p.axis1 = turned({1, 0}, area_.angle), p.axis2 = turned({0, 1}, area_.angle), p.c1 = area_.c1, p.c2 = area_.c2;
    const bool open = !course_.outward.empty();
    if (open) {
        p.axis1 = course_.outward[0], p.axis2 = left_of(p.axis1);
        if (course_.position == Position::corner && dot(p.axis2, course_.outward[1]) < 0) p.axis2 = -1.0 * p.axis2;
        p.c1 = extent(area_.outline, p.axis1), p.c2 = extent(area_.outline, p.axis2);
        p.one_sided = course_.position == Position::corner || course_.outward.size() == 1;
    } else if (!area_.kept.empty()) {
        p.position = area_.kept.size() == 1 ? Position::wall_end : Position::wall_corner;
    }
    const bool whole = !kept_ || a < whole_before_;
    if (whole && closed_form(p)) return p.reduced = p.unshaded = p.length, p;

    const std::vector<Point> all = line(a);
    Lines lines;
    Line closed;
    for (Point q : all) closed.push_back({q.x, q.y});
    if (whole)
        lines.push_back(closed);
    else
        kept_->add_lit(closed, lines);
    if (!whole) {
        // A fiftieth of it counts as nothing; where no slab is either, it is no perimeter.
        Lines with_shade = lines;
        if (p.shaded) with_shade.clear(), bg::intersection(closed, kept_->slab, with_shade);
        p.unshaded = bg::length(with_shade);
        if (p.unshaded < 1e-9) p.a = -1;
        if (bg::length(lines) < 1e-9 + (p.shaded ? 0.02 * p.unshaded : 0)) return p;
    }
    // Whole, where nothing changes along a straight piece but by formula.
    const bool finely = thinner_ || idle1_ > 0 || idle2_ > 0 || course_.outward.size() > 1;
    const double longest = finely ? std::max(1e-9, double(bg::length(lines)) / 240) : 1e300;
    // how far from the area's inner faces sides towards rims count in the reduced length
    std::array<double, 2> limit{1e300, 1e300};
    for (size_t i = 0; i < course_.outward.size(); ++i) {
        double inner = 1e300;
        for (Point q : area_.outline) inner = std::min(inner, dot(q - area_.centre, course_.outward[i]));
        limit[i] =
            inner + std::min(rule_.reduced_within, rule_.reduced_share * extent(area_.outline, course_.outward[i]));
    }
    p.pieces.reserve(all.size());
    Point sum;
    for (const Line& l : lines)
        for (size_t i = 0; i + 1 < l.size(); ++i) {
            const Point start = Point{l[i].x(), l[i].y()} - area_.centre,
                        end = Point{l[i + 1].x(), l[i + 1].y()} - area_.centre;
            if (start == end) continue;
            const int n = std::max(1, int(std::ceil(distance(start, end) / longest)));
            for (int k = 0; k < n; ++k) {
                const Point from = start + (double(k) / n) * (end - start),
                            to = start + ((k + 1.0) / n) * (end - start);
                const Point middle = 0.5 * (from + to);
                const double share = share_that_counts(from, to), length = share * distance(from, to);
                p.shortened |= share < 1;
                if (length == 0) continue;
                p.pieces.push_back({from, to, length});
                if (thinner_)
                    if (const auto t = thinner_(middle + area_.centre))
                        p.thin.push_back({length, t->thickness, t->beyond});
                p.length += length;
                sum = sum + length * middle;
                double counts = 1;
                for (size_t j = 0; j < course_.outward.size(); ++j)
                    counts = std::min(counts, share_between(dot(from, course_.outward[j]), dot(to, course_.outward[j]),
                                                            -1e300, limit[j]));
                p.reduced += counts * length;
            }
        }
    const Point middle = (1 / p.length) * sum;
    if (open) p.origin = middle;
    p.centroid = {dot(middle, p.axis1), dot(middle, p.axis2)};
    for (const Perimeter::Piece& l : p.pieces) {
        auto square = [&](Point axis, double middle) {
            return mean_square(dot(l.from, axis) - middle, dot(l.to, axis) - middle);
        };
        p.second1 += l.length * square(p.axis1, p.centroid.x), p.second2 += l.length * square(p.axis2, p.centroid.y);
    }
    // The figure shows columns square to the rim, where half of the line counts at least; others are not worse off.
    p.reduced = area_.one_column ? std::max(p.reduced, p.length / 2) : p.length;
    if (!p.shaded) p.unshaded = p.length;
    p.first1 = p.first_along(p.axis1), p.first2 = p.first_along(p.axis2);
    return p;
}

std::vector<std::vector<Point>> Perimeters::lines(double a) const {
    const std::vector<Point> all = line(a);
    std::vector<std::vector<Point>> lit{all};
    if (kept_) {
        Line whole;
        for (Point q : all) whole.push_back({q.x, q.y});
        Lines parts;
        bg::intersection(whole, kept_->lit, parts);
        lit.clear();
        for (const Line& l : parts) {
            lit.emplace_back();
            for (const Xy& q : l) lit.back().push_back({q.x(), q.y()});
        }
    }
    if (idle1_ <= 0 && idle2_ <= 0) return lit;
    std::vector<std::vector<Point>> out;  // without the idle middles of long sides
    for (const auto& l : lit) {
        bool goes_on = false;
        for (size_t i = 0; i + 1 < l.size(); ++i) {
            constexpr int parts = 60;
            for (int k = 0; k < parts; ++k) {
                const Point from = l[i] + (double(k) / parts) * (l[i + 1] - l[i]),
                            to = l[i] + ((k + 1.0) / parts) * (l[i + 1] - l[i]);
                const bool counts = share_that_counts(from - area_.centre, to - area_.centre) > 0.5;
                if (counts && !goes_on) out.push_back({from});
                if (counts) out.back().push_back(to);
                goes_on = counts;
            }
        }
    }
    return out;
}

Polygon Perimeters::region(double a) const {
    Polygon out;
    if (rule_.round_corners)
        out = spread_out(swept_, a);
    else
        for (const OutwardRay& r : rays_) out.push_back(r.from + a * r.way);
    return kept_part(std::move(out), area_.kept);
}

Polygon Perimeters::outline(double a) const {
    const Polygon all = region(a);
    if (!course_.leaves_slab || !kept_ || all.size() < 3) return all;
    Faces parts;
    bg::intersection(face_of(all), kept_->slab, parts);
    const Face* largest = nullptr;
    for (const Face& f : parts)
        if (!largest || bg::area(f) > bg::area(*largest)) largest = &f;
    Polygon out;
    if (largest)
        for (const Xy& q : largest->outer()) out.push_back({q.x(), q.y()});
    return out;
}

}  // namespace mossbed
