// Small models and independent roads, shared by the tests.
#pragma once
#include <gtest/gtest.h>

#include <Eigen/Sparse>
#include <fstream>

#include "core/answer/solve.h"
#include "core/contact/contact.h"
#include "core/file/model_file.h"
#include "core/mesh/mesh.h"
#include "core/plate/plate.h"

namespace mossbed::testing {

inline Concrete concrete(double E, double nu) {  // MPa
    Concrete c;
    c.id = "K", c.E = E, c.nu = nu;
    return c;
}

// A weightless slab on one modulus with one permanent case "G" and a service combination "S" of it.
inline Model raft(Polygon outline, double thickness, double modulus, double E = 33000, double nu = 0.2) {
    Model m;
    m.concretes = {concrete(E, nu)};
    m.slab.outline = std::move(outline);
    m.slab.concrete = "K";
    m.slab.thickness = thickness;
    m.slab.self_weight = false;
    m.ground.modulus = modulus;
    LoadCase g;
    g.id = "G";
    m.loads.cases = {g};
    Combination s;
    s.id = "S", s.factors = {{"G", 1.0}};
    m.loads.combinations = std::vector<Combination>{s};
    return m;
}
inline Polygon box(double x0, double y0, double x1, double y1) { return {{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}; }
inline void load(Model& m, LoadItem item) { m.loads.cases[0].items.push_back(std::move(item)); }
// The first stratum a clay that strains by compression index, stiff up to its preconsolidation.
inline void strain_by_index(Model& m) {
    m.ground.settlement_method = SettlementMethod::one_dimensional;
    Stratum& clay = m.ground.strata.at(0);
    clay.compression_index = 0.25, clay.recompression_index = 0.04, clay.void_ratio = 1.0, clay.preconsolidation = 60;
}
inline Column column(const std::string& id, double x, double y, double size = 0.5) {
    Column c;
    c.id = id, c.at = {x, y}, c.size = {size, size};
    return c;
}
inline const CombinationAnswer& only(const Answer& a) { return a.combinations.at(0); }

inline double nodal(const Answer& a, Point p, const std::function<double(int)>& value) {
    const Finder finder(a.mesh);
    const Finder::Hit h = finder.nearest(p);
    double v = 0;
    for (int k = 0; k < corners(a.mesh.elements[h.element]); ++k)
        v += h.weight[k] * value(a.mesh.elements[h.element][k]);
    return v;
}
inline double settlement(const Answer& a, Point p) {
    return nodal(a, p, [&](int i) { return only(a).settlement(i); });
}
inline double pressure(const Answer& a, Point p) {
    return nodal(a, p, [&](int i) { return only(a).pressure[i]; });
}
inline double moment(const Answer& a, Point p, double PlateForces::*component) {
    return nodal(a, p, [&](int i) { return a.force_at_node(only(a), i, component); });
}

// A slab on springs, taken apart.
struct System {
    explicit System(const Model& model, double size = 0) : System(model, build_mesh(model, size, {}, size == 0)) {}
    System(Model model, Mesh meshed)
        : m(std::move(model)),
          mesh(std::move(meshed)),
          shares(node_shares(mesh)),
          plate(make_plate(m, mesh)),
          K(assemble(plate, mesh)),
          bed(bed_of_springs(m, mesh, shares, plate.of)),
          full(bed.supports.with_springs(K)),
          factor(full, mesh.nodes) {
        if (!factor.factorize(full)) throw std::runtime_error("the slab is not held");
    }
    Model m;
    Mesh mesh;
    NodeShares shares;
    Plate plate;
    SparseLower K;
    Bed bed;
    SparseLower full;
    Factor factor;
    ContactSystem contact() const { return {plate.of, K, factor, bed.supports, mesh.nodes}; }
    long row(long node, Unknown u = Unknown::s) const { return plate.of.row(node, u); }
    Eigen::MatrixXd even(double p) const {  // nodal loads of an even pressure, kPa
        Eigen::MatrixXd f = Eigen::MatrixXd::Zero(plate.of.count(), 1);
        for (size_t i = 0; i < mesh.nodes.size(); ++i) f(row(long(i)), 0) = p * shares.area[i];
        return f;
    }
    Eigen::MatrixXd of_cases() const {
        std::vector<Problem> lost;
        return nodal_loads(plate.of, mesh, case_loads(m, mesh, Finder(mesh), lost));
    }
};

// Plates with supports, by another solver than the program's: the assembled matrix less the held unknowns, Eigen's
// LDLᵀ.
inline Eigen::VectorXd solve_supported(const SparseLower& K, const Eigen::VectorXd& f, const std::vector<int>& held) {
    std::vector<int> free(K.size(), 0);
    for (int i : held) free[i] = -1;
    int n = 0;
    for (int& i : free)
        if (i == 0)
            i = n++;
        else
            i = -1;
    std::vector<Eigen::Triplet<double>> t;
    for (int j = 0; j < K.size(); ++j)
        for (int k = K.start[j]; k < K.start[j + 1]; ++k)
            if (free[j] >= 0 && free[K.row[k]] >= 0) {
                t.emplace_back(free[K.row[k]], free[j], K.value[k]);
                if (K.row[k] != j) t.emplace_back(free[j], free[K.row[k]], K.value[k]);
            }
    Eigen::SparseMatrix<double> A(n, n);
    A.setFromTriplets(t.begin(), t.end());
    Eigen::VectorXd b(n);
    for (int i = 0; i < K.size(); ++i)
        if (free[i] >= 0) b[free[i]] = f[i];
    const Eigen::VectorXd y = Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>>(A).solve(b);
    Eigen::VectorXd x = Eigen::VectorXd::Zero(K.size());
    for (int i = 0; i < K.size(); ++i)
        if (free[i] >= 0) x[i] = y[free[i]];
    return x;
}

// A page of docs/verification: rows of source, reference and the program's values. Written when it goes.
class Page {
  public:
    Page(std::string file, const std::string& title, const std::vector<std::string>& heads)
        : file_(std::move(file)), text_("# " + title + "\n\n") {
        row(heads, true);
    }
    ~Page();
    void words(const std::string& s) { words_ += s + "\n\n"; }
    void row(const std::vector<std::string>& cells, bool head = false) {
        for (const std::string& c : cells) rows_ += "| " + c + " ";
        rows_ += "|\n";
        if (head) {
            for (size_t i = 0; i < cells.size(); ++i) rows_ += "|---";
            rows_ += "|\n";
        }
    }

  private:
    std::string file_, text_, words_, rows_;
};

}  // namespace mossbed::testing
