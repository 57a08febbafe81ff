#include "core/plate/plate.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>

#include "core/mesh/elements_round.h"
#include "core/model/levels.h"
#include "core/plate/assembly.h"
#include "core/plate/membrane.h"

namespace mossbed {

Plate make_plate(const Model& model, const Mesh& mesh, Family family) {
    Plate p;
    p.family = family;
    p.reference = slab_levels(model, nullptr).middle();
    p.section.resize(mesh.elements.size());
    bool has_plane = false;
    for (int e = 0; e < int(mesh.elements.size()); ++e) {
        const int patch = mesh.patch[e];
        const SlabPatch* t = patch < 0 ? nullptr : &model.slab.patches[patch];
        const Concrete& c = concrete_of(model, t ? t->concrete : model.slab.concrete);
        const Levels own = slab_levels(model, t);
        double h = own.height();
        if (const int f = mesh.footprint[e]; f >= 0 && model.columns[f].stiff_footprint)
            h += std::max(model.columns[f].pedestal_height, model.columns[f].smaller_size());
        p.section[e] = {c.E * 1000 * model.slab.stiffness_factor, c.nu, h, own.middle()};
        has_plane |= p.e(e) != 0;
    }
    p.members = make_members(model, mesh, p.reference);
    has_plane |= !p.members.none();
    p.of = Unknowns(long(mesh.nodes.size()), has_plane ? Unknowns::with_plane : Unknowns::bending);
    return p;
}

namespace {

PlateElement element_of(const Plate& plate, const Mesh& mesh, int e) {
    const CellOutline c = mesh.polygon(e);
    return PlateElement(plate.family, c.data(), int(c.size()), plate.section[e]);
}

MembraneElement membrane_of(const Plate& plate, const Mesh& mesh, int e) {
    const CellOutline c = mesh.polygon(e);
    return MembraneElement(c.data(), int(c.size()), plate.section[e]);
}

constexpr std::array bending{Unknown::s, Unknown::bx, Unknown::by};
constexpr std::array with_plane{Unknown::s, Unknown::bx, Unknown::by, Unknown::u, Unknown::v};
using PlaneMatrix = Eigen::Matrix<double, 20, 20>;

// Displacements of an element's own mid-plane from its unknowns: U = u + e bx, V = v + e by.
Eigen::Matrix<double, 8, 20> to_mid_plane(double e) {
    Eigen::Matrix<double, 8, 20> t = Eigen::Matrix<double, 8, 20>::Zero();
    for (int k = 0; k < 4; ++k)
        for (int d : {0, 1}) t(2 * k + d, 5 * k + 1 + d) = e, t(2 * k + d, 5 * k + 3 + d) = 1;
    return t;
}

PlaneMatrix stiffness_with_plane(const Plate& plate, const Mesh& mesh, int e) {
    const ElementMatrix bent = element_of(plate, mesh, e).stiffness();
    const Eigen::Matrix<double, 8, 8> stretched = membrane_of(plate, mesh, e).stiffness();
    PlaneMatrix K = PlaneMatrix::Zero();
    const double at = plate.e(e);
    for (long i = 0; i < 4; ++i)
        for (long j = 0; j < 4; ++j) {
            K.block<3, 3>(5 * i, 5 * j) = bent.block<3, 3>(3 * i, 3 * j);
            const Eigen::Matrix2d k = stretched.block<2, 2>(2 * i, 2 * j);
            K.block<2, 2>(5 * i + 3, 5 * j + 3) = k;
            K.block<2, 2>(5 * i + 1, 5 * j + 3) = at * k, K.block<2, 2>(5 * i + 3, 5 * j + 1) = at * k;
            K.block<2, 2>(5 * i + 1, 5 * j + 1) += at * at * k;
        }
    return K;
}

// Two nodes far apart, and the direction across the line between them: what is held in the plane.
struct PlaneHold {
    int first = 0, second = 0;
    Point across;
    double stiffness = 0;  // kN/m
};
PlaneHold hold_in_plane(const Plate& plate, const Mesh& mesh) {
    PlaneHold h;
    for (int i = 0; i < int(mesh.nodes.size()); ++i)
        if (distance(mesh.nodes[size_t(i)], mesh.nodes[0]) > distance(mesh.nodes[size_t(h.second)], mesh.nodes[0]))
            h.second = i;
    h.across = left_of(unit(mesh.nodes[size_t(h.second)] - mesh.nodes[0]));
    h.stiffness = plate.section[0].membrane();
    return h;
}

template <class Matrix, class Make>
void add_elements(Assembly& sum, int n, std::span<const Unknown> which, const Progress& progress, Make make) {
    // Element matrices are made in parallel, then added in order: the sum is always the same.
    constexpr int batch = 512;  // of matrices, some of a core's cache
    std::vector<Matrix> matrices(size_t(std::min(n, batch)));
    for (int from = 0; from < n; from += batch) {
        progress.end_if_stopped();
        const int to = std::min(n, from + batch);
        tbb::parallel_for(tbb::blocked_range<int>(from, to, 64), [&](const tbb::blocked_range<int>& range) {
            for (int e = range.begin(); e < range.end(); ++e) matrices[size_t(e - from)] = make(e);
        });
        for (int e = from; e < to; ++e) sum.add(e, matrices[size_t(e - from)], which);
    }
}

}  // namespace

SparseLower assemble(const Plate& plate, const Mesh& mesh, const Progress& progress) {
    const int n = int(mesh.elements.size());
    if (!plate.of.has_plane()) {
        Assembly sum(plate.of, mesh.elements);
        add_elements<ElementMatrix>(sum, n, bending, progress,
                                    [&](int e) { return element_of(plate, mesh, e).stiffness(); });
        return sum.take();
    }
    std::vector<Assembly::Nodes> elements = mesh.elements;
    for (const MemberPiece& p : plate.members.pieces) elements.push_back({p.a, p.b, -1, -1});
    const PlaneHold hold = hold_in_plane(plate, mesh);
    elements.push_back({hold.first, -1, -1, -1}), elements.push_back({hold.second, -1, -1, -1});
    Assembly sum(plate.of, std::move(elements));
    add_elements<PlaneMatrix>(sum, n, with_plane, progress,
                              [&](int e) { return stiffness_with_plane(plate, mesh, e); });
    int at = n;
    for (const MemberPiece& p : plate.members.pieces) sum.add(at++, member_stiffness(p), with_plane);
    static constexpr std::array in_plane{Unknown::u, Unknown::v};
    const Eigen::Vector2d across(hold.across.x, hold.across.y);
    sum.add(at++, Eigen::Matrix2d(hold.stiffness * Eigen::Matrix2d::Identity()), in_plane);
    sum.add(at++, Eigen::Matrix2d(hold.stiffness * across * across.transpose()), in_plane);
    return without_zeros(sum.take());  // away from ribs, walls and eccentric patches, plane and bending do not meet
}

namespace {

// A polynomial fitted to the middles of elements by least squares: the weights of their values in its value at a node.
class Fit {
  public:
    // Middles from the node, over the size of the elements there.
    std::vector<Point> middles;
    // Of a polynomial that the middles carry, of the second degree as far as they do; none where they carry none.
    const std::vector<double>& find() {
        // Terms in x along the cloud's longer axis come first: a narrow strip of cells carries x² but not y².
        const double n = double(middles.size());
        Point mean;
        for (Point p : middles) mean = mean + (1 / n) * p;
        double xx = 0, xy = 0, yy = 0;
        for (Point p : middles) {
            const Point d = p - mean;
            xx += d.x * d.x, xy += d.x * d.y, yy += d.y * d.y;
        }
        const double turn = xx == yy && xy == 0 ? 0 : 0.5 * std::atan2(2 * xy, xx - yy);
        const Point e1{std::cos(turn), std::sin(turn)}, e2 = left_of(e1);
        along_.clear();
        for (Point p : middles) along_.push_back({dot(p, e1), dot(p, e2)});
        if (!(fit<6>() || fit<5>() || fit<4>() || fit<3>())) weights_.clear();
        return weights_;
    }

  private:
    template <int terms>
    bool fit() {
        if (int(along_.size()) < terms + (terms > 3 ? 2 : 0)) return false;
        using Terms = Eigen::Matrix<double, terms, 1>;
        auto terms_at = [](Point d) {
            const double all[6] = {1, d.x, d.y, d.x * d.x, d.x * d.y, d.y * d.y};
            return Terms(Eigen::Map<const Terms>(all));
        };
        auto weight = [](Point d) { return 1 / (0.25 + dot(d, d)); };
        Eigen::Matrix<double, terms, terms> N = Eigen::Matrix<double, terms, terms>::Zero();
        for (Point d : along_) {
            const Terms P = terms_at(d);
            N.noalias() += weight(d) * P * P.transpose();
        }
        const Eigen::LDLT<Eigen::Matrix<double, terms, terms>> ldlt(N);
        if (ldlt.info() != Eigen::Success || ldlt.vectorD().minCoeff() < 1e-6 * ldlt.vectorD().maxCoeff()) return false;
        const Terms at_node = ldlt.solve(Terms::Unit(0));
        weights_.clear();
        double sizes = 0;
        for (Point d : along_) {
            weights_.push_back(weight(d) * terms_at(d).dot(at_node));
            sizes += std::abs(weights_.back());
        }
        return sizes <= 2.6;  // else it would magnify noise
    }
    std::vector<Point> along_;
    std::vector<double> weights_;
};

}  // namespace

Slots make_slots(const Plate& plate, const Mesh& mesh, const Progress& progress) {
    Slots s;
    const int n_elements = int(mesh.elements.size());
    s.of_corner.resize(mesh.elements.size());
    s.of_node.resize(mesh.nodes.size());
    std::vector<int> group;  // of each element
    std::map<std::array<double, 4>, int> groups;
    auto of_last = groups.end();
    for (const PlateSection& p : plate.section) {
        const std::array<double, 4> kind{p.h, p.E, p.nu, p.level};
        if (group.empty() || of_last->first != kind) of_last = groups.try_emplace(kind, int(groups.size())).first;
        group.push_back(of_last->second);
    }
    std::vector<int> group_of;  // of each slot
    std::vector<Point> middle(mesh.elements.size());
    std::vector<double> area(mesh.elements.size());
    for (int e = 0; e < n_elements; ++e) {
        middle[e] = centroid(mesh.polygon(e)), area[e] = mesh.area(e);
        for (int k = 0; k < corners(mesh.elements[e]); ++k) {
            const int node = mesh.elements[e][k];
            int slot = -1;
            for (int candidate : s.of_node[node])
                if (group_of[candidate] == group[e]) slot = candidate;
            if (slot < 0) {
                slot = int(s.node.size());
                s.node.push_back(node);
                group_of.push_back(group[e]);
                s.of_node[node].push_back(slot);
            }
            s.of_corner[e][k] = slot;
        }
    }
    const ElementsRound round(mesh);
    s.fit.resize(s.node.size());
    tbb::parallel_for(tbb::blocked_range<int>(0, int(s.node.size()), 128), [&](const tbb::blocked_range<int>& range) {
        progress.end_if_stopped();
        std::vector<int> ring, rings;  // one ring and two, of the group
        Fit fit;
        for (int slot = range.begin(); slot < range.end(); ++slot) {
            const int node = s.node[slot];
            ring.clear(), rings.clear(), fit.middles.clear();
            for (auto [e, corner] : round.of(node))
                if (group[e] == group_of[slot]) ring.push_back(e);
            for (int e : ring)
                for (int k = 0; k < corners(mesh.elements[e]); ++k)
                    for (auto [f, corner] : round.of(mesh.elements[e][k]))
                        if (group[f] == group_of[slot] && std::find(rings.begin(), rings.end(), f) == rings.end())
                            rings.push_back(f);
            std::sort(rings.begin(), rings.end());
            double size = 0, whole = 0;
            for (int e : ring) size += std::sqrt(area[e]) / double(ring.size()), whole += area[e];
            for (int e : rings) fit.middles.push_back((1 / size) * (middle[e] - mesh.nodes[node]));
            auto& to = s.fit[slot];
            if (const std::vector<double>& w = fit.find(); !w.empty()) {
                to.reserve(rings.size());
                for (size_t i = 0; i < rings.size(); ++i) to.push_back({rings[i], w[i]});
            } else {
                for (int e : ring) to.push_back({e, area[e] / whole});
            }
        }
    });
    return s;
}

std::vector<PlateForceField> slot_forces(const Plate& plate, const Mesh& mesh, const Slots& slots,
                                         const std::vector<const Eigen::VectorXd*>& unknowns,
                                         const Progress& progress) {
    using Field = PlateForceField;
    const long n_columns = long(unknowns.size()), n_elements = long(mesh.elements.size()),
               n_slots = long(slots.node.size());
    const bool has_plane = plate.of.has_plane();
    Eigen::MatrixXd middle(Field::components * n_elements, n_columns),
        out = Eigen::MatrixXd::Zero(Field::components * n_slots, n_columns);
    Eigen::MatrixXd middle_plane, out_plane;
    if (has_plane) {
        middle_plane.resize(Field::in_plane * n_elements, n_columns);
        out_plane = Eigen::MatrixXd::Zero(Field::in_plane * n_slots, n_columns);
    }
    tbb::parallel_for(tbb::blocked_range<int>(0, int(mesh.elements.size()), 64), [&](const auto& range) {
        progress.end_if_stopped();
        Eigen::Matrix<double, 12, Eigen::Dynamic> u(12, n_columns);
        Eigen::Matrix<double, 20, Eigen::Dynamic> all(20, n_columns);
        for (int e = range.begin(); e < range.end(); ++e) {
            u.setZero(), all.setZero();
            for (int k = 0; k < corners(mesh.elements[e]); ++k)
                for (long c = 0; c < n_columns; ++c) {
                    const Eigen::VectorXd& x = *unknowns[size_t(c)];
                    Unknowns(4).bending_rows(u, k).col(c) = plate.of.bending_rows(x, mesh.elements[e][k]);
                    if (has_plane)
                        all.col(c).template segment<5>(5L * k) =
                            x.template segment<5>(plate.of.row(mesh.elements[e][k], Unknown::s));
                }
            Field::rows_of(middle, e).noalias() = element_of(plate, mesh, e).middle_forces() * u;
            if (has_plane)
                Field::plane_rows_of(middle_plane, e).noalias() =
                    membrane_of(plate, mesh, e).middle_forces() * (to_mid_plane(plate.e(e)) * all);
        }
    });
    tbb::parallel_for(tbb::blocked_range<int>(0, int(n_slots), 128), [&](const tbb::blocked_range<int>& range) {
        progress.end_if_stopped();
        for (int slot = range.begin(); slot < range.end(); ++slot)
            for (auto [e, w] : slots.fit[slot]) {
                Field::rows_of(out, slot) += w * Field::rows_of(middle, e);
                if (has_plane) Field::plane_rows_of(out_plane, slot) += w * Field::plane_rows_of(middle_plane, e);
            }
    });
    std::vector<Field> fields;
    for (long c = 0; c < n_columns; ++c)
        fields.emplace_back(out.col(c), has_plane ? Eigen::VectorXd(out_plane.col(c)) : Eigen::VectorXd());
    return fields;
}

}  // namespace mossbed
