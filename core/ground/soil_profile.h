// The subsoil between boreholes: strata boundaries linear over the boreholes' triangulation (Delaunay); outside it
// those of the nearest point of its rim; with boreholes on one line linear along it and constant across; with one
// level. Layers are matched in order, by stratum and occurrence; a layer that a borehole lacks pinches out to zero
// thickness there. The last layer ends with the deepest borehole, or goes on to a deeper rigid base. Levels in m, z up.
#pragma once
#include <limits>
#include <optional>
#include <string>
#include <vector>

#include "core/model/model.h"

namespace mossbed {

constexpr double no_water = -std::numeric_limits<double>::infinity();

struct SoilLayer {
    int stratum = -1;  // index into ground.strata
    int place = 0;     // in the order of all layers, the same from point to point
    double top = 0, bottom = 0;
    double thickness() const { return top - bottom; }
};

// Below one plan point: layers from the ground down, contiguous, none without thickness.
struct SoilColumn {
    double ground_level = 0;
    double water_level = no_water;
    std::vector<SoilLayer> layers;

    // Vertical stresses of the ground as it was before excavation, kPa; below the last layer it is taken to go on.
    double total_stress(double level, const std::vector<Stratum>& strata) const;
    double effective_stress(double level, const std::vector<Stratum>& strata) const;
};

struct LayerKey {
    int stratum = -1, occurrence = 0;
    bool operator==(const LayerKey&) const = default;
};
struct LayerOrder {
    std::vector<LayerKey> layers;              // from the top
    std::optional<std::string> contradiction;  // which boreholes list what in contradicting order
};
// Layers of all boreholes in one order. Strata that no borehole puts in order go by their mean top level.
LayerOrder order_of_layers(const Ground& ground);

// Boreholes that count: those with layers and not at the place of an earlier one (within 10 mm).
std::vector<int> boreholes_that_count(const Ground& ground);

class SoilProfile {
  public:
    // For a ground without errors (validate.h), with at least one borehole that counts.
    explicit SoilProfile(const Ground& ground);
    SoilColumn at(Point p) const;
    double distance_outside(Point p) const;      // m from the nearest point of the boreholes' hull; 0 inside
    double deepest() const { return deepest_; }  // level of the last layer's bottom
    double deepest_borehole() const { return deepest_borehole_; }
    double lowest_top() const { return lowest_top_; }            // of the last layer, at any borehole
    std::vector<std::pair<int, double>> weights(Point p) const;  // boreholes and their shares; sum to 1

  private:
    struct Hole {
        Point at;
        double ground = 0, water = no_water;
        std::vector<double> bottom;  // of each layer in order
    };
    std::vector<LayerKey> order_;
    std::vector<Hole> holes_;
    std::vector<int> ids_;  // index into ground.boreholes
    std::vector<std::array<int, 3>> triangles_;
    std::vector<std::array<int, 2>> rim_;  // edges of the hull; for boreholes on one line the stretches between them
    double deepest_ = 0, deepest_borehole_ = 0, lowest_top_ = 0;
};

// None where no borehole counts, or where they do not make up one sequence of known strata: no error then while nothing
// rests on it.
std::optional<SoilProfile> profile_of(const Ground& ground);

// Where a borehole without its own ground level starts: ground.ground_level, the mean of the others, else the founding
// level. Water likewise, or none.
double ground_level_of(const Model& model, const Borehole& b);

// A borehole to begin with: beside the others along the slab, with what `known` (may be null) says there, else one
// layer of the first stratum; of a placeholder where the model has none.
Borehole new_borehole(const Model& model, const SoilProfile* known);
Stratum placeholder_stratum(const std::string& id);

}  // namespace mossbed
