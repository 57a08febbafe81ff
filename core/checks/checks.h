// Every check that a model asks for, as rows of the Ledger, worst first. What cannot be checked yet stands there too.
#pragma once
#include "core/base/progress.h"
#include "core/loads/nodal_loads.h"
#include "core/solve/answer.h"

namespace mossbed {

// Fills steel, punching and checks of the answer. `design`: false leaves out concrete and steel (for the moving hand).
void make_checks(Answer& answer, const std::vector<CaseLoads>& cases, const Finder& finder, bool design,
                 const Progress& progress);

// The parts, each with its own file.
void check_bearing(Answer& answer);
void check_contact(Answer& answer);
void check_settlement(Answer& answer);   // largest, distortion between neighbouring columns, tilt
void check_equilibrium(Answer& answer);  // combinations without equilibrium
void check_stability(Answer& answer);    // sliding, overturning, flotation, cracks: what is not worked out, and why
void check_model(Answer& answer);        // slips: load on nothing, no self-weight, problems that are warnings
void check_punching(Answer& answer, const std::vector<CaseLoads>& cases, const Finder& finder);
void check_strips(Answer& answer, const std::vector<CaseLoads>& cases, const Progress& progress);

// Factor of a case in a combination, 0 where it is not in it.
double factor_in(const CombinationAnswer& combination, const std::string& load_case);
// Plan shape of the straight piece of a wall that starts at its path's point `piece`.
Polygon body_of(const Wall& wall, size_t piece);

// The order of the Ledger: worst first.
void rank_rows(std::vector<Row>& rows);

// Edges of the Delaunay triangulation of the columns that stay on the slab, as pairs of indices.
std::vector<std::pair<int, int>> neighbouring_columns(const Model& model);

}  // namespace mossbed
