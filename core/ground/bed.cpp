#include "core/ground/bed.h"

namespace mossbed {

Bed make_bed(const Model& model, const Mesh& mesh, const Plate& plate) {
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
    return bed;
}

}  // namespace mossbed
