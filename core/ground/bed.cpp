#include "core/ground/bed.h"

#include <tbb/parallel_for.h>

namespace mossbed {

Bed make_bed(const Model& model, const Mesh& mesh, const Plate& plate, const LayeredGround* ground, double pressure) {
    Bed bed;
    bed.area = plate.tributary;
    bed.offset = plate.spring_offset;
    bed.modulus.assign(mesh.nodes.size(), model.ground.modulus);
    bed.tension = model.ground.tension;
    bed.yield = model.ground.yield_pressure;
    if (model.ground.model == "patches")
        for (size_t i = 0; i < mesh.nodes.size(); ++i)
            for (const GroundPatch& p : model.ground.patches)
                if (contains(p.outline, mesh.nodes[i])) bed.modulus[i] = p.modulus;
    if (model.ground.model == "profile" && ground)
        tbb::parallel_for(size_t(0), mesh.nodes.size(), [&](size_t i) {
            double s = 0;
            for (const LayerShare& l : ground->settle_evenly(mesh.nodes[i], pressure)) s += l.settlement;
            if (s > 0) bed.modulus[i] = pressure / s;
        });
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
