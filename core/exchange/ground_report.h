// Ground reports as boreholes: AGS4, the open text format of ground investigation data (groups PROJ, LOCA, GEOL and,
// where present, ISPT, WSTG, WSTD), and plain CSV. What could not be understood is told line by line. A hole with one
// damaged layer is left out whole: with the row dropped, the layer below would reach up over it and clay become sand.
#pragma once
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/problem.h"
#include "core/exchange/cells.h"
#include "core/model/model.h"

namespace mossbed {

struct ReportLayer {
    double top = 0, base = 0;  // depth below the ground, m
    std::string code, description;
};
struct ReportHole {
    std::string id;
    std::optional<Point> at;  // easting, northing, m
    std::optional<double> ground_level;
    std::optional<double> water_depth;             // m below the ground
    std::optional<double> final_depth;             // m, as the report states it
    std::vector<ReportLayer> layers;               // from the top; contiguous unless the hole is damaged
    std::vector<std::pair<double, double>> blows;  // depth, N
    std::string damage;                            // why its layers cannot be trusted, with the line; empty: sound
};
struct ReportCode {
    std::string code, description;  // the description of its thickest layer
    int layers = 0;
    int holes = 0;                      // in which it lies
    double thinnest = 0, thickest = 0;  // m, by hole
    std::optional<double> mean_blows;   // over its tests
};
struct GroundReport {
    std::string project;
    std::vector<ReportHole> holes;  // those with layers first
    std::vector<ReportCode> codes;  // by mean depth
    std::vector<Problem> problems;  // where: "line 12" or "hole BH1"; errors mean that something was left out
    bool anything_left_out() const { return has_errors(problems); }
};

// These never throw; a text that is not of its kind gives a report without holes and an error that says so.
GroundReport read_ags4(const std::string& text);
// Header row and one row a layer: borehole, x, y, ground_level, water_level, stratum, bottom_level or bottom_depth,
// description, or the words that people write for these; the order is free, units may stand in brackets.
GroundReport read_borehole_table(const CellTable& cells);
GroundReport read_borehole_csv(const std::string& bytes);
// Whichever it is, the first sheet of a spreadsheet too; throws Trouble where that cannot be unpacked.
GroundReport read_ground_report(const std::string& bytes);

struct Placing {
    Point origin;                                   // easting and northing of the building's origin, m
    double turn = 0;                                // degrees from east to the building's +x, anticlockwise
    std::map<std::string, std::string> stratum_of;  // code to stratum; a code that is not here keeps its own name
};

Point place_of(Point easting_northing, const Placing& placing);  // on the plan, m
// Shift that puts the middle of the holes on the middle of the slab, for reports in national grid coordinates.
Placing likely_placing(const GroundReport& report, const Model& model);

// A modulus from mean blow counts: clay and silt E_oed = 0.45·N MPa (Stroud and Butler 1975), sand and gravel E = 1.0·N
// MPa (Stroud 1989, lower bound). The stratum's E_basis says so, or that the number is a placeholder.
Stratum propose_stratum(const std::string& id, const ReportCode& code);

// Why a hole cannot be taken over into this model; empty when it can. Depths are no levels where neither the hole nor
// the model states a ground level.
std::string reason_left_out(const ReportHole& hole, const Model& model);
// What an engineer should know before taking it over, beside the report's own problems: holes that cannot be taken
// (errors), boreholes that are replaced, codes of `placing` that no layer has, strata that are new though the code was
// given another name.
std::vector<Problem> problems_of_taking(const GroundReport& report, const Placing& placing, const Model& model);

// The model with the report's boreholes (those of the same id replaced) and the strata they name (those that exist are
// left as they are). Neighbouring layers of one stratum become one.
Model with_report(Model model, const GroundReport& report, const Placing& placing);

}  // namespace mossbed
