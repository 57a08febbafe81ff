#include "core/ground/bed.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "core/base/problem.h"

namespace mossbed {

namespace {

// The modulus of the cell integrated over each node's share: K_i = ∫ k N_i, and the spring half way to the centroid of
// that share weighted by k, so that a base that stays plane gets the exact force and moment (see contact.h).
void lay_patches(Bed& bed, const Model& model, const Mesh& mesh) {
    const int n = int(mesh.elements.size());
    bed.element_modulus.assign(size_t(n), model.ground.modulus);
    std::vector<double> stiffness(mesh.nodes.size(), 0);
    for (int e = 0; e < n; ++e) {
        if (const int patch = mesh.ground_patch[size_t(e)]; patch >= 0)
            bed.element_modulus[size_t(e)] = model.ground.patches[size_t(patch)].modulus;
        integrate(mesh.polygon(e), [&](Point q, double w) {
            const auto N = weights_at(mesh, e, q);
            for (int k = 0; k < corners(mesh.elements[e]); ++k)
                stiffness[size_t(mesh.elements[e][k])] += w * N[k] * bed.element_modulus[size_t(e)];
        });
    }
    bed.offset.assign(mesh.nodes.size(), {});
    for (int e = 0; e < n; ++e)
        integrate(mesh.polygon(e), [&](Point q, double w) {
            const auto N = weights_at(mesh, e, q);
            for (int k = 0; k < corners(mesh.elements[e]); ++k) {
                const size_t i = size_t(mesh.elements[e][k]);
                bed.offset[i] = bed.offset[i] +
                                (w * N[k] * bed.element_modulus[size_t(e)] / (2 * stiffness[i])) * (q - mesh.nodes[i]);
            }
        });
    for (size_t i = 0; i < mesh.nodes.size(); ++i) bed.modulus[i] = stiffness[i] / bed.area[i];
}

}  // namespace

Bed make_bed(const Model& model, const Mesh& mesh, const Plate& plate, const LayeredGround* ground, double pressure) {
    Bed bed;
    bed.area = plate.tributary;
    bed.offset = plate.spring_offset;
    bed.modulus.assign(mesh.nodes.size(), model.ground.modulus);
    bed.tension = model.ground.tension;
    bed.yield = model.ground.yield_pressure;
    if (model.ground.model == "patches") lay_patches(bed, model, mesh);
    if (model.ground.model == "profile" && ground)
        tbb::parallel_for(size_t(0), mesh.nodes.size(), [&](size_t i) {
            double s = 0;
            for (const LayerShare& l : ground->settle_evenly(mesh.nodes[i], pressure)) s += l.settlement;
            bed.modulus[i] = s > 0 ? pressure / s : 0;
        });
    if (model.ground.model == "profile" && ground)
        for (size_t i = 0; i < mesh.nodes.size(); ++i)
            if (!(bed.modulus[i] > 0))
                throw Trouble(
                    {fmt::format("below ({:.2f}, {:.2f}) the strata do not settle under {:.0f} kPa, so that no "
                                 "spring follows from them",
                                 mesh.nodes[i].x, mesh.nodes[i].y, pressure),
                     "ground.model", "check the layers there, or take the model \"coupled\" or \"uniform\"",
                     Severity::error, mesh.nodes[i]});
    return bed;
}

double modulus_from_settlement(double allowable, double settlement) { return allowable / settlement; }

double modulus_from_bearing(double allowable, double safety) { return 40 * safety * allowable; }

double modulus_from_plate(double k_plate, double plate, double B, double L, PlateSoil soil) {
    constexpr double foot = 0.3;
    if (soil == PlateSoil::sand) {
        const double k_foot = k_plate / std::pow((plate + foot) / (2 * plate), 2);
        return k_foot * std::pow((B + foot) / (2 * B), 2);
    }
    const double square = k_plate * plate / B;
    return square * (L + B / 2) / (1.5 * L);
}

}  // namespace mossbed
