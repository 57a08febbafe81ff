// What happens below one plan point: overburden, added stress, the limit depth, and what each layer adds to the
// settlement, with its course in time. All of one combination.
#pragma once
#include "core/fields/fields.h"

namespace mossbed {

// How the water leaves a slow layer. Layers with a cv that lie on each other drain together, out of their top and, if a
// layer without a cv follows, out of their bottom; thicknesses of another cv count as H √(cv/cv') (theory.md).
struct Drainage {
    double path = 0;  // m, longest way out, in terms of the layer's own cv
    bool up = false, down = false;
    bool stated = false;  // the path is the stratum's own
};
std::vector<Drainage> drainage_of(const std::vector<SoilLayer>& column, double founding,
                                  const std::vector<Stratum>& strata);  // one entry a layer of the column

struct DepthChart {
    Point at;
    std::string combination;
    double ground_level = 0, founding = 0, water_level = no_water, limit = 0;  // levels, m
    double removed = 0;                                                        // kPa: effective overburden taken off
    double contact = 0;     // kPa at the point, nearest node; 0 off the slab
    double settlement = 0;  // m, of the ground at the point: the sum of the layers
    struct Station {
        double level = 0, overburden = 0, added = 0;  // m, kPa: effective before excavation, Δσz
    };
    std::vector<Station> stations;  // from the ground down, past the limit
    struct Layer {
        std::string stratum;
        double top = 0, bottom = 0;         // levels, m; the part that counts
        double settlement = 0, share = 0;   // m; of the sum
        std::optional<double> years_to_90;  // of consolidation, where cv is given
        Drainage drainage;                  // likewise
    };
    std::vector<Layer> layers;
    struct Time {
        double years = 0, settlement = 0;  // m
    };
    std::vector<Time> times;        // empty where no layer has cv
    std::vector<SoilLayer> column;  // all layers, for drawing
};

// None when the answer has no boreholes or the combination is not solved.
std::optional<DepthChart> depth_chart(const Fields& fields, const std::string& combination, Point at);

// Settlement of these layers after some years: those with cv by their degree of consolidation, the others at once.
// `column`: all layers at the point from the ground down; `founding`: level of the base, m.
double settlement_after(const std::vector<LayerShare>& layers, const std::vector<Stratum>& strata,
                        const std::vector<SoilLayer>& column, double founding, double years);

}  // namespace mossbed
