#include "core/contact/bed.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "core/base/problem.h"
#include "core/mesh/shape_integrals.h"

namespace mossbed {

namespace {

// The modulus of the cell integrated over each node's share: K_i = ∫ k N_i, and the spring half way to the centroid of
// that share weighted by k, so that a base that stays plane gets the exact force and moment (bed.h).
void lay_patches(Bed& bed, const Model& model, const Mesh& mesh, const NodeShares& shares) {
    const int n = int(mesh.elements.size());
    bed.element_modulus.assign(size_t(n), model.ground.modulus);
    std::vector<double> stiffness(mesh.nodes.size(), 0);
    for (int e = 0; e < n; ++e) {
        if (const int patch = mesh.ground_patch[size_t(e)]; patch >= 0)
            bed.element_modulus[size_t(e)] = model.ground.patches[size_t(patch)].modulus;
        integrate_shapes(mesh, e, [&](Point q, double w, const ShapeValues& N) {
            for (int k = 0; k < corners(mesh.elements[e]); ++k)
                stiffness[size_t(mesh.elements[e][k])] += w * N[k] * bed.element_modulus[size_t(e)];
        });
    }
    bed.offset.assign(mesh.nodes.size(), {});
    for (int e = 0; e < n; ++e)
        integrate_shapes(mesh, e, [&](Point q, double w, const ShapeValues& N) {
            for (int k = 0; k < corners(mesh.elements[e]); ++k) {
                const size_t i = size_t(mesh.elements[e][k]);
                bed.offset[i] = bed.offset[i] +
                                (w * N[k] * bed.element_modulus[size_t(e)] / (2 * stiffness[i])) * (q - mesh.nodes[i]);
            }
        });
    for (size_t i = 0; i < mesh.nodes.size(); ++i) bed.modulus[i] = stiffness[i] / shares.area[i];
}

// The modulus below each node from the settlement of the strata there under even pressure.
void lay_profile(Bed& bed, const Mesh& mesh, const LayeredGround& ground, double pressure) {
    tbb::parallel_for(size_t(0), mesh.nodes.size(), [&](size_t i) {
        double s = 0;
        for (const LayerShare& l : ground.settle_evenly(mesh.nodes[i], pressure)) s += l.settlement;
        bed.modulus[i] = s > 0 ? pressure / s : 0;
    });
    for (size_t i = 0; i < mesh.nodes.size(); ++i)
        if (!(bed.modulus[i] > 0))
            throw Trouble({fmt::format("below ({:.2f}, {:.2f}) the strata do not settle under {:.0f} kPa, so that no "
                                       "spring follows from them",
                                       mesh.nodes[i].x, mesh.nodes[i].y, pressure),
                           "ground.model", "check the layers there, or take the model \"coupled\" or \"uniform\"",
                           Severity::error, mesh.nodes[i]});
}

// What ground may carry on an area, kN: no pull unless it is bonded, no more than what it yields at.
void bound(Support& s, const Ground& ground) {
    if (ground.tension) s.lowest = -std::numeric_limits<double>::infinity();
    if (ground.yield_pressure) s.highest = *ground.yield_pressure * s.area;
}

}  // namespace

Bed bed_of_springs(const Model& model, const Mesh& mesh, const NodeShares& shares, const Unknowns& of,
                   const LayeredGround* ground, double pressure) {
    Bed bed;
    bed.offset = shares.offset;
    bed.modulus.assign(mesh.nodes.size(), model.ground.modulus);
    if (model.ground.model == GroundModel::patches) lay_patches(bed, model, mesh, shares);
    if (model.ground.model == GroundModel::profile && ground) lay_profile(bed, mesh, *ground, pressure);
    bed.supports = Supports(of);
    for (int i = 0; i < int(mesh.nodes.size()); ++i) {
        Support s;
        s.sees = {{i, 1, bed.offset[size_t(i)]}};
        s.area = shares.area[size_t(i)];
        s.stiffness = s.area * bed.modulus[size_t(i)];
        bound(s, model.ground);
        bed.supports.add(s);
        bed.of_node.push_back(i);
    }
    return bed;
}

Bed bed_of_patches(const Model& model, const ContactPatches& patches, const Unknowns& of) {
    Bed bed;
    bed.of_node = patches.of_node;
    bed.offset = patches.node_offset;
    bed.supports = Supports(of);
    for (int j = 0; j < patches.count(); ++j) {
        Support p;
        for (auto [node, w] : patches.nodes[size_t(j)]) p.sees.push_back({node, w, patches.node_offset[size_t(node)]});
        for (auto [node, w] : patches.spread_to[size_t(j)]) p.presses.push_back({node, w, {}});
        p.area = patches.area[size_t(j)];
        p.stiffness = 1;
        bound(p, model.ground);
        bed.supports.add(p);
    }
    return bed;
}

void size_springs(Bed& bed, const ContactPatches& patches, const Flexibility& flexibility, double pressure) {
    const long n = patches.count();
    const Eigen::MatrixXd even = pressure * Eigen::Map<const Eigen::VectorXd>(patches.area.data(), n),
                          s = flexibility.settlements(even);
    const double mean = s.col(0).mean();
    for (long j = 0; j < n; ++j)
        bed.supports.stiffness[size_t(j)] = even(j, 0) / std::max(s(j, 0), 1e-3 * std::max(mean, 1e-12));
}

}  // namespace mossbed
