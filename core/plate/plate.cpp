#include "core/plate/plate.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>

namespace mossbed {

Eigen::MatrixXd SparseLower::times(const Eigen::MatrixXd& x) const {
    Eigen::MatrixXd y = Eigen::MatrixXd::Zero(x.rows(), x.cols());
    tbb::parallel_for(long(0), long(x.cols()), [&](long c) {
        for (int j = 0; j < size(); ++j) {
            double sum = value[start[j]] * x(j, c);
            const double xj = x(j, c);
            for (int k = start[j] + 1; k < start[j + 1]; ++k) {
                sum += value[k] * x(row[k], c);
                y(row[k], c) += value[k] * xj;
            }
            y(j, c) += sum;
        }
    });
    return y;
}

Plate make_plate(const Model& model, const Mesh& mesh, Family family) {
    Plate p;
    p.family = family;
    p.section.resize(mesh.elements.size());
    p.tributary.assign(mesh.nodes.size(), 0.0);
    p.spring_offset.assign(mesh.nodes.size(), {});
    for (int e = 0; e < int(mesh.elements.size()); ++e) {
        const int patch = mesh.patch[e];
        const Concrete& c = concrete_of(model, patch < 0 ? model.slab.concrete : model.slab.patches[patch].concrete);
        double h = patch < 0 ? model.slab.thickness : model.slab.patches[patch].thickness;
        if (const int f = mesh.footprint[e]; f >= 0 && model.columns[f].stiff_footprint)
            h += std::max(model.columns[f].pedestal_height, model.columns[f].smaller_size());
        p.section[e] = {c.E * 1000, c.nu, h};
        integrate(mesh.polygon(e), [&](Point q, double w) {
            const auto N = weights_at(mesh, e, q);
            for (int k = 0; k < corners(mesh.elements[e]); ++k) p.tributary[mesh.elements[e][k]] += w * N[k];
        });
    }
    // Half way to the centroid of the node's share: ∫ of two linear fields f g is Σ A f(x_i) g(c_i), and symmetric in both.
    for (int e = 0; e < int(mesh.elements.size()); ++e)
        integrate(mesh.polygon(e), [&](Point q, double w) {
            const auto N = weights_at(mesh, e, q);
            for (int k = 0; k < corners(mesh.elements[e]); ++k) {
                const int i = mesh.elements[e][k];
                p.spring_offset[i] = p.spring_offset[i] + (w * N[k] / (2 * p.tributary[i])) * (q - mesh.nodes[i]);
            }
        });
    return p;
}

namespace {

// Positions of the element matrices' blocks in the lower triangle.
struct Pattern {
    SparseLower lower;
    std::vector<std::array<int, 16>> place;  // per element and pair (i, j) of corners with node i > node j: rank of i below j
};

Pattern make_pattern(const Mesh& mesh) {
    const int n = int(mesh.nodes.size());
    std::vector<std::vector<int>> below(n);  // higher-numbered neighbours
    for (const Element& e : mesh.elements)
        for (int i = 0; i < corners(e); ++i)
            for (int j = 0; j < corners(e); ++j)
                if (e[i] > e[j]) below[e[j]].push_back(e[i]);
    Pattern p;
    p.lower.start.reserve(3 * n + 1);
    p.lower.start.push_back(0);
    for (int j = 0; j < n; ++j) {
        std::sort(below[j].begin(), below[j].end());
        below[j].erase(std::unique(below[j].begin(), below[j].end()), below[j].end());
        for (int c = 0; c < 3; ++c) {
            for (int r = c; r < 3; ++r) p.lower.row.push_back(3 * j + r);
            for (int i : below[j])
                for (int r = 0; r < 3; ++r) p.lower.row.push_back(3 * i + r);
            p.lower.start.push_back(int(p.lower.row.size()));
        }
    }
    p.lower.value.assign(p.lower.row.size(), 0.0);
    p.place.resize(mesh.elements.size());
    for (size_t k = 0; k < mesh.elements.size(); ++k) {
        const Element& e = mesh.elements[k];
        for (int i = 0; i < corners(e); ++i)
            for (int j = 0; j < corners(e); ++j)
                if (e[i] > e[j]) p.place[k][4 * i + j] = int(std::lower_bound(below[e[j]].begin(), below[e[j]].end(), e[i]) - below[e[j]].begin());
    }
    return p;
}

PlateElement element_of(const Plate& plate, const Mesh& mesh, int e) {
    Point p[4];
    const int n = corners(mesh.elements[e]);
    for (int k = 0; k < n; ++k) p[k] = mesh.nodes[mesh.elements[e][k]];
    return PlateElement(plate.family, p, n, plate.section[e]);
}

}  // namespace

SparseLower assemble(const Plate& plate, const Mesh& mesh, const Progress& progress) {
    Pattern pattern = make_pattern(mesh);
    SparseLower& K = pattern.lower;
    const int n = int(mesh.elements.size());
    constexpr int batch = 4096;  // element matrices are made in parallel, then added in order: the sum is always the same
    std::vector<ElementMatrix> matrices(std::min(n, batch));
    for (int from = 0; from < n; from += batch) {
        if (progress.stopped()) throw Stopped{};
        const int to = std::min(n, from + batch);
        tbb::parallel_for(tbb::blocked_range<int>(from, to, 64), [&](const tbb::blocked_range<int>& range) {
            for (int e = range.begin(); e < range.end(); ++e) matrices[e - from] = element_of(plate, mesh, e).stiffness();
        });
        for (int e = from; e < to; ++e) {
            const Element& nodes = mesh.elements[e];
            const ElementMatrix& M = matrices[e - from];
            for (int i = 0; i < corners(nodes); ++i)
                for (int j = 0; j < corners(nodes); ++j) {
                    if (nodes[i] < nodes[j]) continue;
                    for (int c = 0; c < 3; ++c) {
                        double* column = &K.value[K.start[3 * nodes[j] + c]];
                        if (i == j)
                            for (int r = c; r < 3; ++r) column[r - c] += M(3 * i + r, 3 * j + c);
                        else
                            for (int r = 0; r < 3; ++r) column[3 - c + 3 * pattern.place[e][4 * i + j] + r] += M(3 * i + r, 3 * j + c);
                    }
                }
        }
    }
    return std::move(K);
}

Slots make_slots(const Plate& plate, const Mesh& mesh) {
    Slots s;
    s.of_corner.resize(mesh.elements.size());
    s.of_node.resize(mesh.nodes.size());
    std::map<std::pair<int, std::array<double, 3>>, int> id;
    for (size_t e = 0; e < mesh.elements.size(); ++e)
        for (int k = 0; k < corners(mesh.elements[e]); ++k) {
            const int node = mesh.elements[e][k];
            const PlateSection& p = plate.section[e];
            auto [it, fresh] = id.try_emplace({node, {p.h, p.E, p.nu}}, int(s.node.size()));
            if (fresh) {
                s.node.push_back(node);
                s.of_node[node].push_back(it->second);
            }
            s.of_corner[e][k] = it->second;
        }
    return s;
}

Eigen::MatrixXd slot_forces(const Plate& plate, const Mesh& mesh, const Slots& slots, const Eigen::MatrixXd& unknowns) {
    const long n_columns = unknowns.cols();
    const int n = int(mesh.elements.size());
    Eigen::MatrixXd sum = Eigen::MatrixXd::Zero(5 * long(slots.node.size()), n_columns);
    std::vector<double> weight(slots.node.size(), 0.0);
    constexpr int batch = 1024;
    std::vector<Eigen::MatrixXd> at_corners(std::min(n, batch));
    for (int from = 0; from < n; from += batch) {
        const int to = std::min(n, from + batch);
        tbb::parallel_for(tbb::blocked_range<int>(from, to, 32), [&](const tbb::blocked_range<int>& range) {
            for (int e = range.begin(); e < range.end(); ++e) {
                Eigen::Matrix<double, 12, Eigen::Dynamic> u(12, n_columns);
                u.setZero();
                for (int k = 0; k < corners(mesh.elements[e]); ++k) u.middleRows<3>(3 * k) = unknowns.middleRows<3>(3 * long(mesh.elements[e][k]));
                at_corners[e - from].noalias() = element_of(plate, mesh, e).corner_forces() * u;
            }
        });
        for (int e = from; e < to; ++e) {
            const double area = mesh.area(e);
            for (int k = 0; k < corners(mesh.elements[e]); ++k) {
                const long slot = slots.of_corner[e][k];
                sum.middleRows<5>(5 * slot) += area * at_corners[e - from].middleRows<5>(5 * k);
                weight[slot] += area;
            }
        }
    }
    for (size_t i = 0; i < weight.size(); ++i) sum.middleRows<5>(5 * long(i)) /= weight[i];
    return sum;
}

}  // namespace mossbed
