// Every value of a model replaced by nonsense, one at a time: each is solved or explained, nothing crashes.
#include <nlohmann/json.hpp>

#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using nlohmann::json;

// A small model that uses every part of the format.
json everything() {
    return json::parse(
        R"({"format":"mossbed","version":1,"title":"t","notes":"n","settings":{"design_code":"EN 1992-1-1","combination_rules":"EN 1990","national":{},"display_units":"metric"},
 "concretes":[{"id":"K","fck":30,"E":33000,"nu":0.2,"unit_weight":25}],"steels":[{"id":"S","fyk":500,"E":200000}],
 "ground":{"model":"patches","modulus":20000,"tension":false,"allowable_pressure":200,"yield_pressure":900,"friction_angle_base":25,"adhesion_base":0,"ground_level":0,"founding_level":-1,"water_level":-2,
  "settlement_method":"elastic","rigid_base_level":null,"depth_limit_ratio":0.2,"excavation_relief":true,"combination_for_springs":null,
  "strata":[{"id":"clay","E":6,"nu":0.3}],"boreholes":[{"id":"B","at":[1,1],"ground_level":0,"layers":[{"stratum":"clay","bottom":-8}]}],
  "patches":[{"id":"G1","outline":[[0,0],[2,0],[2,2],[0,2]],"modulus":12000}]},
 "slab":{"outline":[[0,0],[6,0],[6,5],[0,5]],"openings":[{"id":"O","outline":[[4,3],[5,3],[5,4],[4,4]]}],"thickness":0.5,"top_level":-0.5,"concrete":"K","self_weight":true,
  "patches":[{"id":"T","outline":[[1,1],[3,1],[3,3],[1,3]],"thickness":0.8,"flush":"top","concrete":"K"}]},
 "columns":[{"id":"C1","at":[2,2],"shape":"rectangle","size":[0.4,0.4],"angle":10,"pedestal_height":0.3,"stiff_footprint":true},{"id":"C2","at":[4.5,1.5],"shape":"circle","size":[0.5]}],
 "walls":[{"id":"W","path":[[0.5,4.5],[3,4.5]],"thickness":0.25,"height":3,"stiffens":false}],
 "loads":{"cases":[{"id":"G","title":"g","action":"permanent","reversible":false,"items":[{"column":"C1","N":600,"Mx":10,"My":5,"Hx":3,"Hy":2},{"column":"C2","N":400},{"point":[1,4],"N":20,"Mx":1,"My":1},
   {"line":[[0,0.5],[6,0.5]],"q":[10,12]},{"wall":"W","q":40},{"area":[[0,0],[2,0],[2,2],[0,2]],"p":5},{"slab":true,"p":2},{"uplift_to_level":-0.9}]}],
  "combinations":[{"id":"S1","purpose":"service","factors":{"G":1},"frequency":"characteristic","safety":"global","active":true,"generated_by":null},{"id":"U1","purpose":"strength","factors":{"G":1.35}}]},
 "mesh":{"size":0.5},
 "steel":{"steel":"S","cover_top":40,"cover_bottom":50,"outer_top":"x","outer_bottom":"x","base":{"top_x":{"diameter":16,"spacing":200},"top_y":{},"bottom_x":{},"bottom_y":{}},
  "extra":[{"id":"E","outline":[[0,0],[3,0],[3,3],[0,3]],"face":"bottom","direction":"x","diameter":16,"spacing":200}],"strips":[{"id":"X1","direction":"x","axis":[[0,2.5],[6,2.5]],"reach":[2.5,2.5]}],
  "minimum_on_both_faces":true,"sizes":[12,16,20],"spacings":[100,200]},
 "checks":{"settlement_limit":0.05,"distortion_limit":0.002,"tilt_limit":0.002,"contact_ratio_limit":0.8,"crack_width_limit":0.3,"sliding_factor":1.5,"overturning_factor":1.5,"flotation_factor":1.1}})");
}

void each_place(const json& j, const json::json_pointer& at, std::vector<json::json_pointer>& out) {
    if (!at.empty()) out.push_back(at);
    if (j.is_object())
        for (auto it = j.begin(); it != j.end(); ++it) each_place(*it, at / it.key(), out);
    if (j.is_array())
        for (size_t i = 0; i < j.size(); ++i) each_place(j[i], at / i, out);
}

// Solves or gives reasons; anything else (an exception of another kind, a crash, a number that is not one) fails.
void expect_answer_or_reason(const std::string& text, const std::string& what) {
    const Loaded l = read_model(text);
    if (!l.model) {
        ASSERT_FALSE(l.problems.empty()) << what;
        for (const Problem& p : l.problems) EXPECT_FALSE(p.what.empty()) << what;
        return;
    }
    const auto problems = problems_of(*l.model);
    try {
        const auto a = solve(*l.model);
        EXPECT_FALSE(has_errors(problems)) << what;
        for (const CombinationAnswer& c : a->combinations) {
            EXPECT_NE(c.ending, Ending::not_solved) << what;
            if (!c.is_solved())
                EXPECT_FALSE(c.explanation.empty()) << what;
            else
                EXPECT_TRUE(std::isfinite(c.max_pressure)) << what;
        }
        for (const Row& r : a->checks)
            EXPECT_TRUE(!r.utilisation || !std::isnan(*r.utilisation)) << what << ": " << r.title;
    } catch (const Trouble& t) {
        EXPECT_FALSE(t.problem.what.empty()) << what;
        EXPECT_FALSE(t.problem.mend.empty()) << what << ": " << t.problem.what;
    }
}

TEST(Abuse, TheModelItselfIsSolved) {
    const auto a = solve(*read_model(everything().dump()).model);
    for (const CombinationAnswer& c : a->combinations) EXPECT_TRUE(c.is_solved()) << c.explanation;
}

TEST(Abuse, EveryValueReplacedByNonsenseIsSolvedOrExplained) {
    std::vector<json::json_pointer> places;
    each_place(everything(), json::json_pointer(), places);
    ASSERT_GT(places.size(), 200u);
    for (const auto& at : places)
        for (const json& v : {json(nullptr), json(0), json(-1), json(1e-9), json(1e9), json("x"), json(""),
                              json::array(), json::object(), json(true)}) {
            json j = everything();
            j[at] = v;
            expect_answer_or_reason(j.dump(), at.to_string() + " = " + v.dump());
        }
}

TEST(Abuse, EveryKeyTakenAwayIsSolvedOrExplained) {
    std::vector<json::json_pointer> places;
    each_place(everything(), json::json_pointer(), places);
    for (const auto& at : places) {
        json j = everything();
        json& parent = j[at.parent_pointer()];
        if (parent.is_object())
            parent.erase(at.back());
        else
            parent.erase(size_t(std::stoi(at.back())));
        expect_answer_or_reason(j.dump(), "without " + at.to_string());
    }
}

}  // namespace
}  // namespace mossbed
