#include "core/plate/plate.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/plate/assembly.h"

namespace mossbed {

Plate make_plate(const Model& model, const Mesh& mesh, Family family) {
    Plate p;
    p.family = family;
    p.of = Unknowns(long(mesh.nodes.size()));
    p.section.resize(mesh.elements.size());
    for (int e = 0; e < int(mesh.elements.size()); ++e) {
        const int patch = mesh.patch[e];
        const SlabPatch* t = patch < 0 ? nullptr : &model.slab.patches[patch];
        const Concrete& c = concrete_of(model, t ? t->concrete : model.slab.concrete);
        double h = t ? t->thickness : model.slab.thickness;
        const double middle = underside_of(model, t) + h / 2;
        if (const int f = mesh.footprint[e]; f >= 0 && model.columns[f].stiff_footprint)
            h += std::max(model.columns[f].pedestal_height, model.columns[f].smaller_size());
        p.section[e] = {c.E * 1000 * model.slab.stiffness_factor, c.nu, h, middle};
    }
    return p;
}

namespace {

PlateElement element_of(const Plate& plate, const Mesh& mesh, int e) {
    Point p[4];
    const int n = corners(mesh.elements[e]);
    for (int k = 0; k < n; ++k) p[k] = mesh.nodes[mesh.elements[e][k]];
    return PlateElement(plate.family, p, n, plate.section[e]);
}

}  // namespace

SparseLower assemble(const Plate& plate, const Mesh& mesh, const Progress& progress) {
    static constexpr std::array bending{Unknown::s, Unknown::bx, Unknown::by};
    Assembly sum(plate.of, mesh.elements);
    const int n = int(mesh.elements.size());
    // Element matrices are made in parallel, then added in order: the sum is always the same.
    constexpr int batch = 512;  // of matrices, some of a core's cache
    std::vector<ElementMatrix> matrices(size_t(std::min(n, batch)));
    for (int from = 0; from < n; from += batch) {
        progress.end_if_stopped();
        const int to = std::min(n, from + batch);
        tbb::parallel_for(tbb::blocked_range<int>(from, to, 64), [&](const tbb::blocked_range<int>& range) {
            for (int e = range.begin(); e < range.end(); ++e)
                matrices[size_t(e - from)] = element_of(plate, mesh, e).stiffness();
        });
        for (int e = from; e < to; ++e) sum.add(e, matrices[size_t(e - from)], bending);
    }
    return sum.take();
}

namespace {

// Weights of the middles that give the value at `at` of a polynomial fitted to them by least squares; empty when the
// points do not carry it.
std::vector<double> fit_weights(Point at, const std::vector<Point>& middles, double size, int terms) {
    const int n = int(middles.size());
    if (n < terms + (terms > 3 ? 2 : 0)) return {};
    // Terms in x along the cloud's longer axis come first: a narrow strip of cells carries x² but not y².
    Point mean;
    for (Point p : middles) mean = mean + (1.0 / n) * p;
    double xx = 0, xy = 0, yy = 0;
    for (Point p : middles) {
        const Point d = p - mean;
        xx += d.x * d.x, xy += d.x * d.y, yy += d.y * d.y;
    }
    const double turn = xx == yy && xy == 0 ? 0 : 0.5 * std::atan2(2 * xy, xx - yy);
    const Point e1{std::cos(turn), std::sin(turn)}, e2 = left_of(e1);
    Eigen::MatrixXd P(n, terms);
    Eigen::VectorXd w(n);
    for (int i = 0; i < n; ++i) {
        const Point r = (1 / size) * (middles[i] - at), d{dot(r, e1), dot(r, e2)};
        const double row[6] = {1, d.x, d.y, d.x * d.x, d.x * d.y, d.y * d.y};
        for (int t = 0; t < terms; ++t) P(i, t) = row[t];
        w[i] = 1 / (0.25 + dot(d, d));
    }
    const Eigen::MatrixXd N = P.transpose() * w.asDiagonal() * P;
    const Eigen::LDLT<Eigen::MatrixXd> ldlt(N);
    if (ldlt.info() != Eigen::Success || ldlt.vectorD().minCoeff() < 1e-6 * ldlt.vectorD().maxCoeff()) return {};
    const Eigen::VectorXd c = w.asDiagonal() * (P * ldlt.solve(Eigen::VectorXd::Unit(terms, 0)));
    if (c.cwiseAbs().sum() > 2.6) return {};  // it would magnify noise
    return {c.data(), c.data() + n};
}

}  // namespace

Slots make_slots(const Plate& plate, const Mesh& mesh, const Progress& progress) {
    Slots s;
    const int n_elements = int(mesh.elements.size());
    s.of_corner.resize(mesh.elements.size());
    s.of_node.resize(mesh.nodes.size());
    auto same = [&](int a, int b) {
        const PlateSection &p = plate.section[a], &q = plate.section[b];
        return p.h == q.h && p.E == q.E && p.nu == q.nu && p.level == q.level;
    };
    std::vector<int> first;  // an element of each slot
    std::vector<std::vector<int>> round(mesh.nodes.size());
    std::vector<Point> middle(mesh.elements.size());
    for (int e = 0; e < n_elements; ++e) {
        middle[e] = centroid(mesh.polygon(e));
        for (int k = 0; k < corners(mesh.elements[e]); ++k) {
            const int node = mesh.elements[e][k];
            round[node].push_back(e);
            int slot = -1;
            for (int candidate : s.of_node[node])
                if (same(first[candidate], e)) slot = candidate;
            if (slot < 0) {
                slot = int(s.node.size());
                s.node.push_back(node);
                first.push_back(e);
                s.of_node[node].push_back(slot);
            }
            s.of_corner[e][k] = slot;
        }
    }
    s.fit.resize(s.node.size());
    tbb::parallel_for(tbb::blocked_range<int>(0, int(s.node.size()), 128), [&](const tbb::blocked_range<int>& range) {
        progress.end_if_stopped();
        for (int slot = range.begin(); slot < range.end(); ++slot) {
            const int node = s.node[slot];
            std::vector<int> ring, rings;  // one ring and two, of the group
            for (int e : round[node])
                if (same(first[slot], e)) ring.push_back(e);
            for (int e : ring)
                for (int k = 0; k < corners(mesh.elements[e]); ++k)
                    for (int f : round[mesh.elements[e][k]])
                        if (same(first[slot], f)) rings.push_back(f);
            std::sort(rings.begin(), rings.end());
            rings.erase(std::unique(rings.begin(), rings.end()), rings.end());
            double size = 0;
            for (int e : ring) size += std::sqrt(mesh.area(e)) / double(ring.size());
            auto middles = [&](const std::vector<int>& elements) {
                std::vector<Point> p;
                p.reserve(elements.size());
                for (int e : elements) p.push_back(middle[e]);
                return p;
            };
            std::vector<double> w;
            for (int terms : {6, 5, 4, 3})
                if (w.empty()) w = fit_weights(mesh.nodes[node], middles(rings), size, terms);
            if (!w.empty()) {
                for (size_t i = 0; i < rings.size(); ++i) s.fit[slot].push_back({rings[i], w[i]});
            } else {
                double area = 0;
                for (int e : ring) area += mesh.area(e);
                for (int e : ring) s.fit[slot].push_back({e, mesh.area(e) / area});
            }
        }
    });
    return s;
}

std::vector<PlateForceField> slot_forces(const Plate& plate, const Mesh& mesh, const Slots& slots,
                                         const std::vector<const Eigen::VectorXd*>& unknowns,
                                         const Progress& progress) {
    using Field = PlateForceField;
    const long n_columns = long(unknowns.size());
    Eigen::MatrixXd middle(Field::components * long(mesh.elements.size()), n_columns),
        out = Eigen::MatrixXd::Zero(Field::components * long(slots.node.size()), n_columns);
    tbb::parallel_for(tbb::blocked_range<int>(0, int(mesh.elements.size()), 64),
                      [&](const tbb::blocked_range<int>& range) {
                          progress.end_if_stopped();
                          Eigen::Matrix<double, 12, Eigen::Dynamic> u(12, n_columns);
                          for (int e = range.begin(); e < range.end(); ++e) {
                              u.setZero();
                              for (int k = 0; k < corners(mesh.elements[e]); ++k)
                                  for (long c = 0; c < n_columns; ++c)
                                      Unknowns(4).bending_rows(u, k).col(c) =
                                          plate.of.bending_rows(*unknowns[size_t(c)], mesh.elements[e][k]);
                              Field::rows_of(middle, e).noalias() = element_of(plate, mesh, e).middle_forces() * u;
                          }
                      });
    tbb::parallel_for(tbb::blocked_range<int>(0, int(slots.node.size()), 128),
                      [&](const tbb::blocked_range<int>& range) {
                          progress.end_if_stopped();
                          for (int slot = range.begin(); slot < range.end(); ++slot)
                              for (auto [e, w] : slots.fit[slot])
                                  Field::rows_of(out, slot) += w * Field::rows_of(middle, e);
                      });
    std::vector<Field> fields;
    for (long c = 0; c < n_columns; ++c) fields.emplace_back(out.col(c));
    return fields;
}

}  // namespace mossbed
