#include "core/fields/cut_forces.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <span>

#include "core/base/clip.h"
#include "core/mesh/node_shares.h"
#include "core/mesh/shape_integrals.h"

namespace mossbed {
namespace {
// ∫ |v| over a width on which v runs linearly from a to b.
double size_between(double a, double b, double width) {
    if ((a < 0) == (b < 0)) return width * (std::abs(a) + std::abs(b)) / 2;
    return width * (a * a + b * b) / (2 * (std::abs(a) + std::abs(b)));
}
}  // namespace

CutForces::CutForces(const Fields& fields, std::vector<int> combinations, Point along, const Progress& progress,
                     std::shared_ptr<const Sums> known)
    : a_(fields),
      combinations_(std::move(combinations)),
      u_(along),
      n_(left_of(along)),
      n_c_(long(combinations_.size())),
      coupled_(fields.ground && fields.model->ground.model == GroundModel::coupled),
      sums_(std::move(known)) {
    for (int c : combinations_) has_plane_ |= a_.combinations[size_t(c)].forces.has_plane();
    if (sums_) return;
    auto made = std::make_shared<Sums>();
    sums_ = made;
    sum_up(*made, progress);
    Eigen::VectorXd V, M;
    totals(made->last_t + 1e-9, V, M);
    made->left_over = M;
}

void CutForces::sum_up(Sums& to, const Progress& progress) const {
    const Mesh& mesh = a_.mesh;
    const int n = int(mesh.elements.size());
    const std::vector<CaseLoads>& cases = a_.case_loads;
    Eigen::MatrixXd factor(long(cases.size()), n_c_);
    for (long c = 0; c < n_c_; ++c)
        for (size_t i = 0; i < cases.size(); ++i)
            factor(long(i), c) = factor_in(a_.combinations[combinations_[c]], a_.cases[i].id);
    to.element_load = Eigen::MatrixXd::Zero(n_c_, n);
    for (size_t i = 0; i < cases.size(); ++i) {
        const Eigen::VectorXd f = factor.row(long(i)).transpose();
        if (f.isZero(0)) continue;
        for (int e = 0; e < n; ++e)
            if (cases[i].pressure[e] != 0) to.element_load.col(e) += cases[i].pressure[e] * f;
        for (const AreaPiece& p : cases[i].areas) {
            double t0 = 1e300, t1 = -1e300;
            for (Point q : p.outline) t0 = std::min(t0, dot(q, u_)), t1 = std::max(t1, dot(q, u_));
            to.areas.push_back({p, f, t0, t1});
        }
        for (const LinePiece& p : cases[i].lines) {
            // A line that does not run along the cut is carried as twenty forces: its load before the cut is out by
            // half of one at most.
            const double along_u = std::abs(dot(p.to - p.from, u_));
            const int parts = along_u < 1e-9 ? 1 : 20;
            const double l = distance(p.from, p.to) / parts;
            for (int k = 0; k < parts; ++k) {
                const double t = (k + 0.5) / parts;
                to.points.push_back({dot(p.from + t * (p.to - p.from), u_), l * (p.q0 + t * (p.q1 - p.q0)), 0, f});
            }
        }
        for (const PointPiece& p : cases[i].points)
            to.points.push_back({dot(p.at, u_), p.N, p.My * u_.x - p.Mx * u_.y, f});
    }
    to.span.resize(n);
    to.by_end.resize(n);
    to.first_t = 1e300, to.last_t = -1e300;
    for (int e = 0; e < n; ++e) {
        double t0 = 1e300, t1 = -1e300;
        for (int k = 0; k < corners(mesh.elements[e]); ++k) {
            const double t = dot(mesh.nodes[mesh.elements[e][k]], u_);
            t0 = std::min(t0, t), t1 = std::max(t1, t);
        }
        to.span[e] = {t0, t1};
        to.longest_span = std::max(to.longest_span, t1 - t0);
        to.by_end[e] = e;
        to.first_t = std::min(to.first_t, t0), to.last_t = std::max(to.last_t, t1);
    }
    std::sort(to.by_end.begin(), to.by_end.end(), [&](int i, int j) { return to.span[i].second < to.span[j].second; });
    to.force_before = Eigen::MatrixXd::Zero(n_c_, n + 1);
    to.moment_before = to.force_before;
    tbb::parallel_for(0, n, [&](int i) {
        if (progress.stopped()) return;
        pressed(to.by_end[i], {}, to.force_before.col(i + 1).data(), to.moment_before.col(i + 1).data());
    });
    progress.end_if_stopped();
    for (int i = 0; i < n; ++i) {
        to.force_before.col(i + 1) += to.force_before.col(i);
        to.moment_before.col(i + 1) += to.moment_before.col(i);
    }
    for (const MeshLine& line : mesh.lines) {
        if (line.owner.kind != LineOwner::Kind::rim && line.owner.kind != LineOwner::Kind::opening) continue;
        const Point a = mesh.nodes[size_t(line.a)], b = mesh.nodes[size_t(line.b)];
        if (std::abs(dot(b - a, u_)) > 1e-6 * distance(a, b)) continue;
        const double n0 = dot(a, n_), n1 = dot(b, n_);
        to.rims.push_back({dot(a, u_), std::min(n0, n1), std::max(n0, n1)});
    }
    std::sort(to.rims.begin(), to.rims.end(), [](const auto& a, const auto& b) { return a.t < b.t; });
    sum_up_loads(to);
    to.left_over = Eigen::VectorXd::Zero(n_c_);
}

// Area, and its first moment about t = 0, of what of a quadrilateral lies before t, or of all of it.
std::pair<double, double> CutForces::before(const std::array<Point, 4>& q, std::optional<double> t) const {
    auto of = [&](const Point* part, size_t n) {
        double area = 0, first = 0;
        for (size_t i = 1; i + 1 < n; ++i) {
            const double third = cross(part[i] - part[0], part[i + 1] - part[0]) / 6;
            area += 3 * third, first += third * dot(part[0] + part[i] + part[i + 1], u_);
        }
        return std::pair{area, first};
    };
    if (!t) return of(q.data(), q.size());
    std::array<Point, 8> part;
    const size_t n = cut_into(
        q.data(), q.size(), [&](Point p) { return *t - dot(p, u_); }, part.data());
    return of(part.data(), n);
}

// Adds force (up) and first moment about t = 0 of pressure less slab load on an element, or on what of it lies before
// t. As the slab gets it: springs' pressure varies linearly over the element, that of a contact patch is even, on the
// part of the element that is nearest to each of its nodes.
void CutForces::pressed(int element, std::optional<double> t, double* F, double* S) const {
    const Element& nodes = a_.mesh.elements[element];
    const int n = corners(nodes);
    // Where pressure is looked up, how much of it is force, and its first moment.
    std::array<size_t, 4> at{};
    std::array<double, 4> w{}, wt{};
    double area = 0, area_t = 0;
    if (coupled_) {
        const auto pieces = nearest_to_corners(a_.mesh, element);
        for (int k = 0; k < n; ++k) {
            const auto [own, first] = before(pieces[size_t(k)], t);
            area += own, area_t += first;
            at[k] = size_t(a_.ground->patches->of_node[size_t(nodes[k])]);
            const double whole = a_.ground->patches->polygon_area[at[k]];
            w[k] = own / whole, wt[k] = first / whole;
        }
    } else {
        const CellOutline cell = a_.mesh.polygon(element);
        for (int k = 0; k < n; ++k) at[k] = size_t(nodes[k]);
        auto add = [&](Point q, double weight, const ShapeValues& N) {
            const double along = dot(q, u_);
            area += weight, area_t += weight * along;
            for (int k = 0; k < n; ++k) w[k] += weight * N[k], wt[k] += weight * N[k] * along;
        };
        if (t) {
            std::array<Point, 8> part;
            const size_t size = cut_into(
                cell.data(), cell.size(), [&](Point q) { return dot(*t * u_ - q, u_); }, part.data());
            integrate(std::span<const Point>(part.data(), size),
                      [&](Point q, double weight) { add(q, weight, weights_at(a_.mesh, element, q)); });
        } else {
            integrate_shapes(a_.mesh, element, add);
        }
        for (int k = 0; k < n; ++k) {
            const double beside = a_.pressure_beside(element, nodes[k]);
            w[k] *= beside, wt[k] *= beside;
        }
    }
    for (long c = 0; c < n_c_; ++c) {
        const CombinationAnswer& of = a_.combinations[size_t(combinations_[size_t(c)])];
        const std::vector<double>& pressing = coupled_ ? of.patch_force : of.spring;
        const double load = sums_->element_load(c, element);
        double f = -area * load, s = -area_t * load;
        for (int k = 0; k < n; ++k) f += w[k] * pressing[at[k]], s += wt[k] * pressing[at[k]];
        F[c] += f, S[c] += s;
    }
}

std::pair<double, double> CutForces::acting_before(const Sums::AreaLoadPiece& l, double t) const {
    const Polygon part = l.t1 <= t ? l.piece.outline : clip_to_half_plane(l.piece.outline, t * u_, -1.0 * u_);
    double f = 0, m = 0;
    integrate(part, [&](Point q, double w) {
        const double p = w * l.piece.at(q);
        f += p, m += p * (t - dot(q, u_)) - w * (l.piece.couple_y * u_.x - l.piece.couple_x * u_.y);
    });
    return {f, m};
}

// So that a cut costs what crosses it, not what there is.
void CutForces::sum_up_loads(Sums& to) const {
    std::stable_sort(to.areas.begin(), to.areas.end(), [](const auto& a, const auto& b) { return a.t1 < b.t1; });
    std::stable_sort(to.points.begin(), to.points.end(), [](const auto& a, const auto& b) { return a.t < b.t; });
    to.area_force_before = to.area_moment_before = Eigen::MatrixXd::Zero(n_c_, long(to.areas.size()) + 1);
    for (long i = 0; i < long(to.areas.size()); ++i) {
        const Sums::AreaLoadPiece& l = to.areas[size_t(i)];
        to.longest_area = std::max(to.longest_area, l.t1 - l.t0);
        const auto [f, m] = acting_before(l, l.t1);  // about its own end
        to.area_force_before.col(i + 1) = to.area_force_before.col(i) + f * l.factor;
        to.area_moment_before.col(i + 1) = to.area_moment_before.col(i) + (f * l.t1 - m) * l.factor;
    }
    to.point_force_before = to.point_moment_before = Eigen::MatrixXd::Zero(n_c_, long(to.points.size()) + 1);
    for (long i = 0; i < long(to.points.size()); ++i) {
        const Sums::Concentrated& l = to.points[size_t(i)];
        to.point_force_before.col(i + 1) = to.point_force_before.col(i) + l.N * l.factor;
        to.point_moment_before.col(i + 1) = to.point_moment_before.col(i) + (l.N * l.t + l.m) * l.factor;
    }
}

std::vector<int>::const_iterator CutForces::ends_after(double t) const {
    return std::upper_bound(sums_->by_end.begin(), sums_->by_end.end(), t,
                            [&](double v, int e) { return v < sums_->span[e].second; });
}

// V = Σ up, M = Σ up·(t − t_i) + moments, of all that acts before t.
void CutForces::totals(double t, Eigen::VectorXd& V, Eigen::VectorXd& M) const {
    const auto whole = ends_after(t);
    const long k = long(whole - sums_->by_end.begin());
    Eigen::VectorXd F = sums_->force_before.col(k), S = sums_->moment_before.col(k);
    for (auto it = whole; it != sums_->by_end.end() && sums_->span[*it].second <= t + sums_->longest_span; ++it) {
        if (sums_->span[*it].first >= t) continue;
        pressed(*it, t, F.data(), S.data());
    }
    V = F, M = t * F - S;
    const auto cut = std::upper_bound(sums_->areas.begin(), sums_->areas.end(), t,
                                      [](double v, const Sums::AreaLoadPiece& l) { return v < l.t1; });
    const long n_areas = long(cut - sums_->areas.begin());
    V -= sums_->area_force_before.col(n_areas);
    M -= t * sums_->area_force_before.col(n_areas) - sums_->area_moment_before.col(n_areas);
    for (auto l = cut; l != sums_->areas.end() && l->t1 <= t + sums_->longest_area; ++l) {
        if (l->t0 >= t) continue;
        const auto [f, m] = acting_before(*l, t);
        V -= f * l->factor, M -= m * l->factor;
    }
    const long n_points = long(std::lower_bound(sums_->points.begin(), sums_->points.end(), t,
                                                [](const Sums::Concentrated& l, double v) { return l.t < v; }) -
                               sums_->points.begin());
    V -= sums_->point_force_before.col(n_points);
    M -= t * sums_->point_force_before.col(n_points) - sums_->point_moment_before.col(n_points);
    M -= sums_->left_over * ((t - sums_->first_t) / (sums_->last_t - sums_->first_t));
}

// Height of an element's mid-plane over that of the slab, m.
double CutForces::e_of(int element) const {
    const Slab& s = a_.model->slab;
    return a_.plate.section[size_t(element)].level - (s.top_level - s.thickness / 2);
}

// Where the cut crosses a side of an element: false when it does not.
bool CutForces::add_end(Cut& cut, Piece& piece, int e, double t, int side, int end) const {
    const Element& nodes = a_.mesh.elements[e];
    const int next = (side + 1) % corners(nodes);
    const Point from = a_.mesh.nodes[nodes[side]], to = a_.mesh.nodes[nodes[next]];
    const double tp = dot(from, u_) - t, tq = dot(to, u_) - t;
    if ((tp < 0) == (tq < 0)) return false;
    const double f = tp / (tp - tq);
    (end == 0 ? piece.n0 : piece.n1) = dot(from + f * (to - from), n_);
    auto values = [&](Value v) { return cut.values.col(column(cut.pieces.size(), end, v)); };
    for (long c = 0; c < n_c_; ++c) {
        const PlateForceField& forces = a_.combinations[combinations_[c]].forces;
        const PlateForces p = forces[a_.slots.of_corner[e][side]], q = forces[a_.slots.of_corner[e][next]];
        const PlateForces here = turned(p + f * (q - p), u_);
        values(moment)[c] = here.mx, values(shear)[c] = here.vx, values(twisting_moment)[c] = here.mxy;
        if (has_plane_) values(plane_force)[c] = here.nx;
    }
    return true;
}

namespace {
constexpr double on_rim = 1e-5;  // m
}

// Where the slab ends, nothing is carried on: unless something stands or acts on its rim there.
bool CutForces::has_free_rim_at(double t) const {
    auto near = [t](double at) { return std::abs(at - t) < on_rim; };
    const auto it = std::lower_bound(sums_->rims.begin(), sums_->rims.end(), t - on_rim,
                                     [](const Sums::Rim& r, double v) { return r.t < v; });
    if (it == sums_->rims.end() || !near(it->t)) return false;
    for (const Sums::Concentrated& p : sums_->points)
        if (near(p.t)) return false;
    for (const MemberPiece& p : a_.plate.members.pieces)
        if (near(dot(a_.mesh.nodes[size_t(p.a)], u_)) || near(dot(a_.mesh.nodes[size_t(p.b)], u_))) return false;
    return true;
}

bool CutForces::lies_on_free_rim(const Piece& piece, double t) const {
    const double middle = (piece.n0 + piece.n1) / 2;
    auto it = std::lower_bound(sums_->rims.begin(), sums_->rims.end(), t - on_rim,
                               [](const Sums::Rim& r, double v) { return r.t < v; });
    for (; it != sums_->rims.end() && it->t < t + on_rim; ++it)
        if (middle > it->n0 && middle < it->n1) return true;
    return false;
}

CutForces::Cut CutForces::at(double t) const {
    Cut cut;
    totals(t, cut.V, cut.M);
    const double wanted = t;
    const bool ends_here = has_free_rim_at(t);
    // A cut along element sides has no element on it: the field is taken aside of it by a hair, inward.
    t += (t < (sums_->first_t + sums_->last_t) / 2 ? 1 : -1) * 1e-7 * (sums_->last_t - sums_->first_t);
    cut.field_M = cut.field_V = cut.size_M = cut.size_V = Eigen::VectorXd::Zero(n_c_);
    if (has_plane_) cut.N = Eigen::VectorXd::Zero(n_c_);
    std::vector<int> crossed;
    for (auto it = ends_after(t); it != sums_->by_end.end() && sums_->span[*it].second <= t + sums_->longest_span; ++it)
        if (sums_->span[*it].first < t) crossed.push_back(*it);
    std::sort(crossed.begin(), crossed.end());
    const int values = values_an_end();
    cut.pieces.reserve(crossed.size()), cut.values.resize(n_c_, 2 * values * long(crossed.size()));
    for (int e : crossed) {
        Piece piece;
        int ends = 0;
        for (int side = 0; side < corners(a_.mesh.elements[e]) && ends < 2; ++side)
            ends += add_end(cut, piece, e, t, side, ends);
        if (ends < 2) continue;
        const size_t number = cut.pieces.size();
        auto at = [&](int end, Value v) { return cut.values.col(column(number, end, v)); };
        if (piece.n0 > piece.n1) {
            std::swap(piece.n0, piece.n1);
            for (int v = 0; v < values; ++v) at(0, Value(v)).swap(at(1, Value(v)));
        }
        const int patch = a_.mesh.patch[e];
        piece.thickness = patch < 0 ? a_.model->slab.thickness : a_.model->slab.patches[patch].thickness;
        piece.fck = concrete_of(*a_.model, patch < 0 ? "" : a_.model->slab.patches[patch].concrete).fck;
        piece.e = e_of(e);
        if (ends_here && lies_on_free_rim(piece, wanted))
            for (int v = 0; v < values; ++v)
                if (v != twisting_moment) at(0, Value(v)).setZero(), at(1, Value(v)).setZero();
        const double w = piece.n1 - piece.n0;
        const auto m0 = at(0, moment), m1 = at(1, moment), v0 = at(0, shear), v1 = at(1, shear);
        cut.field_M += w / 2 * (m0 + m1), cut.field_V += w / 2 * (v0 + v1);
        for (long c = 0; c < n_c_; ++c)
            cut.size_M[c] += size_between(m0[c], m1[c], w), cut.size_V[c] += size_between(v0[c], v1[c], w);
        cut.by_n.push_back(int(number)), cut.widest = std::max(cut.widest, w), cut.width += w;
        cut.pieces.push_back(piece);
    }
    std::sort(cut.by_n.begin(), cut.by_n.end(),
              [&](int i, int k) { return cut.pieces[size_t(i)].n0 < cut.pieces[size_t(k)].n0; });
    add_members(cut, t);
    if (has_plane_) close_in_plane(cut);
    return cut;
}

// What the recovered forces in the plane leave over goes where they are large, so that their sum is nought; then what
// they add to the moment is counted.
void CutForces::close_in_plane(Cut& cut) const {
    auto width = [&](size_t p) { return cut.pieces[p].n1 - cut.pieces[p].n0; };
    auto at = [&](size_t p, int end) { return cut.values.col(column(p, end, plane_force)); };
    auto sum = [&](size_t p) -> Eigen::VectorXd { return width(p) / 2 * (at(p, 0) + at(p, 1)); };
    Eigen::VectorXd left = Eigen::VectorXd::Zero(n_c_), size = left;
    for (size_t p = 0; p < cut.pieces.size(); ++p) {
        left += sum(p);
        for (long c = 0; c < n_c_; ++c) size[c] += size_between(at(p, 0)[c], at(p, 1)[c], width(p));
    }
    for (const MemberPlace& m : cut.members) left += m.N, size += m.N.cwiseAbs();
    for (size_t p = 0; p < cut.pieces.size(); ++p) {
        for (long c = 0; c < n_c_; ++c)
            if (size[c] > 0) {
                const double more = -left[c] * size_between(at(p, 0)[c], at(p, 1)[c], width(p)) / (size[c] * width(p));
                at(p, 0)[c] += more, at(p, 1)[c] += more;
            }
        cut.N += sum(p), cut.field_M -= cut.pieces[p].e * sum(p);
    }
    for (MemberPlace& m : cut.members) {
        for (long c = 0; c < n_c_; ++c)
            if (size[c] > 0) m.N[c] -= left[c] * std::abs(m.N[c]) / size[c];
        cut.N += m.N, cut.field_M -= m.e * m.N;
        m.size_M = m.M.cwiseAbs() + (m.e * m.N).cwiseAbs();
        cut.size_M += m.size_M;
    }
}

// A member's section turns its moment M t + T n (as it works on the slopes) onto the cut; seen from the other side of
// it, moment and force keep their sign and the shear changes it.
void CutForces::add_members(Cut& cut, double t) const {
    for (const MemberPiece& p : a_.plate.members.pieces) {
        const Point from = a_.mesh.nodes[size_t(p.a)], to = a_.mesh.nodes[size_t(p.b)];
        const double ta = dot(from, u_), tb = dot(to, u_);
        if ((ta < t) == (tb < t)) continue;
        const double c = dot(p.along, u_), sense = c < 0 ? -1 : 1, across = dot(left_of(p.along), u_);
        MemberPlace m{dot(from + ((t - ta) / (tb - ta)) * (to - from), n_),
                      p.section.e,
                      Eigen::VectorXd(n_c_),
                      Eigen::VectorXd(n_c_),
                      Eigen::VectorXd(n_c_),
                      Eigen::VectorXd(n_c_),
                      Eigen::VectorXd(n_c_)};
        for (long k = 0; k < n_c_; ++k) {
            const NodalMotion& motion = a_.combinations[size_t(combinations_[size_t(k)])].motion;
            const MemberForces f = member_forces(p, motion.of, motion.x);
            m.M[k] = sense * (f.M * c + f.T * across), m.V[k] = sense * f.V, m.N[k] = std::abs(c) * f.N;
            m.size_V[k] = std::abs(m.V[k]);
        }
        cut.field_M += m.M, cut.field_V += m.V, cut.size_V += m.size_V;
        cut.members.push_back(std::move(m));
    }
}

MemberShare CutForces::members_between(const Cut& cut, double n0, double n1) const {
    MemberShare out;
    for (const MemberPlace& m : cut.members) {
        if (m.n < n0 || m.n >= n1) continue;
        if (out.none()) out.M = out.V = out.N = Eigen::VectorXd::Zero(n_c_);
        out.N += m.N;
        for (long c = 0; c < n_c_; ++c) {
            auto missed = [&](const Eigen::VectorXd& total, const Eigen::VectorXd& field, const Eigen::VectorXd& size,
                              double own) {
                return size[c] > 1e-9 * std::max(1.0, std::abs(total[c])) ? (total[c] - field[c]) * own / size[c] : 0;
            };
            out.M[c] += m.M[c] - m.e * m.N[c] + missed(cut.M, cut.field_M, cut.size_M, m.size_M[c]);
            out.V[c] += m.V[c] + missed(cut.V, cut.field_V, cut.size_V, m.size_V[c]);
        }
    }
    return out;
}

std::vector<CutShare> CutForces::share(const Cut& cut, double n0, double n1) const {
    std::vector<CutShare> out;
    const Eigen::VectorXd nothing = Eigen::VectorXd::Zero(n_c_), no_plane = has_plane_ ? nothing : Eigen::VectorXd();
    std::vector<int> there;
    auto it = std::lower_bound(cut.by_n.begin(), cut.by_n.end(), n0 - cut.widest - 1e-9,
                               [&](int p, double n) { return cut.pieces[size_t(p)].n0 < n; });
    for (; it != cut.by_n.end() && cut.pieces[size_t(*it)].n0 < n1; ++it) there.push_back(*it);
    std::sort(there.begin(), there.end());
    for (int number : there) {
        const Piece& p = cut.pieces[size_t(number)];
        const double from = std::max(p.n0, n0), to = std::min(p.n1, n1), w = to - from;
        if (w <= 1e-12) continue;
        auto to_add = std::find_if(out.begin(), out.end(), [&](const CutShare& s) {
            return s.thickness == p.thickness && s.fck == p.fck && (!has_plane_ || s.e == p.e);
        });
        if (to_add == out.end())
            to_add = out.insert(out.end(), CutShare{p.thickness, p.fck, 0, nothing, nothing, nothing, no_plane, p.e});
        const double f0 = (from - p.n0) / (p.n1 - p.n0), f1 = (to - p.n0) / (p.n1 - p.n0);
        auto each = [&](Value v, auto add) {  // with the value at both ends of what of the piece is there
            const auto v0 = cut.values.col(column(size_t(number), 0, v)),
                       v1 = cut.values.col(column(size_t(number), 1, v));
            for (long c = 0; c < n_c_; ++c) add(c, v0[c] + f0 * (v1[c] - v0[c]), v0[c] + f1 * (v1[c] - v0[c]));
        };
        auto add = [&](Value v, const Eigen::VectorXd& total, const Eigen::VectorXd& field, const Eigen::VectorXd& size,
                       Eigen::VectorXd& sum) {
            each(v, [&](long c, double a, double b) {
                const double part = size[c] > 1e-9 * std::max(1.0, std::abs(total[c])) ? size_between(a, b, w) / size[c]
                                                                                       : w / cut.width;
                sum[c] += w * (a + b) / 2 + (total[c] - field[c]) * part;
            });
        };
        add(moment, cut.M, cut.field_M, cut.size_M, to_add->M);
        add(shear, cut.V, cut.field_V, cut.size_V, to_add->V);
        each(twisting_moment, [&](long c, double a, double b) { to_add->T[c] += size_between(a, b, w); });
        if (has_plane_) each(plane_force, [&](long c, double a, double b) { to_add->N[c] += w * (a + b) / 2; });
        to_add->width += w;
    }
    return out;
}

}  // namespace mossbed
