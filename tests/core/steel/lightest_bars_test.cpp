// The least steel that passes: against a search of everything, against the best uniform mesh, and judged by the rows.
#include "core/steel/lightest_bars.h"

#include "core/answer/least_steel.h"
#include "core/base/units.h"
#include "core/codes/code.h"
#include "tests/core/judge/pad.h"

namespace mossbed {
namespace {

using testing::band_of;
using testing::box;
using testing::column;
using testing::designed_raft;
using testing::load;
using testing::pad_model;

Model bare(Model m) {
    m.steel.top_x = m.steel.top_y = m.steel.bottom_x = m.steel.bottom_y = {};
    m.steel.extra.clear();
    return m;
}

// Nine columns, the middle one heavy: base bars for it all over would be wasted.
Model heavy_middle() {
    Model m = bare(designed_raft(box(0, 0, 16, 16), 0.7));
    int k = 0;
    std::vector<ColumnLoad> loads;
    for (double y : {2.0, 8.0, 14.0})
        for (double x : {2.0, 8.0, 14.0}) {
            const std::string id = "C" + std::to_string(++k);
            m.columns.push_back(column(id.c_str(), x, y));
            load(m, {ColumnLoad{id, k == 5 ? 5200.0 : 1500.0, 0, 0, 0, 0}, {}});
        }
    return m;
}

bool is_of_bars(const Row& r) {
    return r.id == "bending" || r.id == "minimum-steel" || r.id == "spacing" || r.id == "punching" ||
           r.id == "one-way-shear";
}
std::set<std::string> over(const Answer& a) {
    std::set<std::string> out;
    for (const Row& r : a.checks)
        if (is_of_bars(r) && r.status == Status::over) out.insert(r.title);
    return out;
}

TEST(LeastSteel, PassesEveryRowThatTheBestUniformMeshPassesAndIsMuchLighter) {
    const Model m = heavy_middle();
    const auto uniform = solve(m);
    const LeastSteel found = least_steel(m, 0, uniform.get());
    const auto with = solve(*found.model, {}, uniform.get());
    const auto before = over(*uniform), after = over(*with);
    for (const std::string& title : after) EXPECT_TRUE(before.count(title)) << title;
    EXPECT_EQ(found.left.size(), after.size());
    ASSERT_TRUE(found.uniform_kg);
    EXPECT_LT(found.scheme().kg, 0.85 * *found.uniform_kg);
    EXPECT_LE(*found.uniform_kg, uniform->steel.steel_kg * (1 + 1e-6));  // the best of all uniform meshes
    EXPECT_NEAR(with->steel.steel_kg, found.scheme().kg, 1e-3 * found.scheme().kg);
    EXPECT_LE(found.scheme().groups(), usual_most_groups);
}

TEST(LeastSteel, MoreGroupsAreNeverHeavierAndTheLimitIsKept) {
    Model m = heavy_middle();
    m.steel.most_marks = 6;
    const LeastSteel six = least_steel(m, 0, nullptr);
    EXPECT_LE(six.scheme().groups(), 6);
    const LeastSteel twelve = least_steel(m, 12, nullptr);  // asked for once
    EXPECT_LE(twelve.scheme().kg, six.scheme().kg);
    for (size_t k = 1; k < twelve.schemes.size(); ++k) {
        EXPECT_LT(twelve.schemes[k].kg, twelve.schemes[k - 1].kg);
        EXPECT_GT(twelve.schemes[k].groups(), twelve.schemes[k - 1].groups());
    }
    EXPECT_EQ(least_steel(m, 4, nullptr).scheme().extra.size(), 0u);
}

TEST(LeastSteel, ItsBarsAreOfTheListsAnchoredAndHeldAtRims) {
    const Model m = heavy_middle();
    const LeastSteel found = least_steel(m, 0, nullptr);
    const auto& sizes = m.steel.sizes;
    const auto& spacings = m.steel.spacings;
    ASSERT_FALSE(found.scheme().extra.empty());
    for (const ExtraBars& e : found.scheme().extra) {
        EXPECT_TRUE(std::count(sizes.begin(), sizes.end(), e.diameter)) << e.diameter;
        const double base = found.scheme().base.base(e.face, e.direction).spacing;
        EXPECT_TRUE(e.spacing == base || std::count(spacings.begin(), spacings.end(), e.spacing)) << e.spacing;
        EXPECT_TRUE(e.held_at_rims);
        for (Point p : e.outline) EXPECT_TRUE(p.x > -1e-9 && p.x < 16 + 1e-9 && p.y > -1e-9 && p.y < 16 + 1e-9);
    }
}

TEST(LeastSteel, RefusesListsOfWhichNothingIsEnoughAndSaysWhere) {
    Model m = heavy_middle();
    m.steel.sizes = {10}, m.steel.spacings = {250};
    try {
        least_steel(m, 0, nullptr);
        FAIL();
    } catch (const Trouble& t) {
        EXPECT_NE(t.problem.sentence().find("enough"), std::string::npos) << t.problem.sentence();
        EXPECT_NE(t.problem.mend.find("larger bars"), std::string::npos);
    }
    m = heavy_middle();
    m.settings.design_code = "ACI 318-19";
    EXPECT_THROW(least_steel(m, 0, nullptr), Trouble);
    m = heavy_middle();
    (*m.loads.combinations)[0].purpose = Purpose::service;
    EXPECT_THROW(least_steel(m, 0, nullptr), Trouble);
}

TEST(LeastSteel, AThickPatchGetsItsMinimumFromExtraBarsWhereThatIsLighter) {
    Model m = heavy_middle();
    SlabPatch p;
    p.id = "P", p.outline = box(6, 6, 10, 10), p.thickness = 1.2, p.flush = Flush::top;
    m.slab.patches = {p};
    const auto uniform = solve(m);
    const LeastSteel found = least_steel(m, 0, uniform.get());
    const auto before = over(*uniform);
    for (const std::string& title : found.left) EXPECT_TRUE(before.count(title)) << title;
    const auto lightest = solve(*found.model, {}, uniform.get());
    for (const Row& r : lightest->checks)
        if (r.id == "minimum-steel" || r.id == "bending") EXPECT_NE(r.status, Status::over) << r.title;
    // 9.2.1.1: 0.26 fctm/fyk b d, d of the outer bars in the patch, more than the base bars bring
    const double least = 0.26 * 2.896 / 500 * 1000 * (1200 - 50 - 8);
    EXPECT_LT(found.scheme().base.bottom_x.area(), least);
}

TEST(LeastSteel, BarsThatPunchingNeedsAreLeft) {
    Model m = heavy_middle();
    const auto uniform = solve(m);
    // Thin the slab until the middle column just passes with the uniform mesh.
    const LeastSteel found = least_steel(m, 0, uniform.get());
    auto use = [](const Answer& a) {
        for (const PunchingAnswer& p : a.punching)
            if (p.id == "C5") return p.utilisation;
        return 0.0;
    };
    const auto with = solve(*found.model, {}, uniform.get());
    if (use(*uniform) <= 1) EXPECT_LE(use(*with), 1 + 1e-9);
}

// Everything is tried on a pad that has three strips: each base mat alone, and with one band of extra bars of every
// size, spacing and length, judged as strips are.
class Exhaustive {
  public:
    Exhaustive(const Model& m, const DesignCode& code, const StripDemand& demand)
        : m_(m), code_(code), demand_(demand) {}
    // The lightest of one mat, kg; `other`: mm, across.
    double least(Face f, Direction d, double other) {
        double best = 1e300;
        for (double size : m_.steel.sizes)
            for (double spacing : m_.steel.spacings) {
                if (spacing > code_.largest_spacing(1000 * m_.slab.thickness) || spacing - size < 25) continue;
                const double kg = weight(size, spacing, 16);
                if (kg >= best) continue;
                if (passes(f, d, {size, spacing}, other, nullptr)) {
                    best = kg;
                    continue;
                }
                with_band(f, d, {size, spacing}, other, kg, best);
            }
        return best;
    }

  private:
    static double weight(double size, double spacing, double area) {
        return ChosenBars{size, spacing}.area() * 1e-6 * steel_density * area;
    }
    void with_band(Face f, Direction d, ChosenBars base, double other, double kg, double& best) {
        std::vector<std::pair<double, double>> bands;  // across, of neighbouring strips
        std::vector<std::pair<double, double>> strips;
        for (const StripAnswer& s : demand_.strips)
            if (s.strip.direction == d) {
                const double at = d == Direction::x ? s.strip.axis[0].y : -s.strip.axis[0].x;
                strips.push_back({at - s.strip.reach[1], at + s.strip.reach[0]});
            }
        std::sort(strips.begin(), strips.end());
        for (size_t i = 0; i < strips.size(); ++i)
            for (size_t j = i; j < strips.size(); ++j) bands.push_back({strips[i].first, strips[j].second});
        for (const auto& [low, high] : bands)
            for (double size : m_.steel.sizes)
                for (double times : {2.0, 1.0, 0.5}) {
                    ExtraBars e;
                    e.face = f, e.direction = d, e.diameter = size, e.spacing = times * base.spacing;
                    e.held_at_rims = true;
                    if (times != 1 && !std::count(m_.steel.spacings.begin(), m_.steel.spacings.end(), e.spacing))
                        continue;
                    for (double half = 0.3; half <= 2 + 1e-9; half += 0.05) {
                        const double more = weight(size, e.spacing, 2 * half * (high - low));
                        if (kg + more >= best) break;
                        e.outline = d == Direction::x ? box(2 - half, low, 2 + half, high)
                                                      : box(-high, 2 - half, -low, 2 + half);
                        if (!passes(f, d, base, other, &e)) continue;
                        best = kg + more;
                        break;
                    }
                }
    }
    bool passes(Face f, Direction d, ChosenBars base, double other, const ExtraBars* e) {
        Model m = m_;
        if (e) m.steel.extra = {*e};
        BaseBars bars;
        bars.base(f, d) = base, bars.base(f, d == Direction::x ? Direction::y : Direction::x) = {other, 200};
        const Provision steel(m, &code_, bars);
        const StripProvision strips(demand_, steel, m);
        const RequiredSteel needs(m, code_, demand_, steel);
        if (code_.minimum_steel(needs.metre_of(parts_of(m)[0], f, d)) > base.area()) return false;
        bool all = true;
        for (int i = 0; i < int(demand_.strips.size()); ++i) {
            if (!strips.works_along(d, i)) continue;
            demand_.each_governing(f, i, [&](int k, long c, double M) {
                const SectionDemand& s = demand_.section(i, k);
                const auto As = needs.with_minimum(f, d, s, c, M, {});
                all = all && As && *As <= strips.provided(f, i, k, s.width()) + 1e-9;
            });
        }
        return all;
    }
    const Model& m_;
    const DesignCode& code_;
    const StripDemand& demand_;
};

TEST(LightestBars, IsWithinTwoPerCentOfASearchOfEverything) {
    for (double N : {2400.0, 3600.0, 5000.0}) {
        Model m = bare(pad_model());
        m.steel.strips.reset();
        std::get<ColumnLoad>(m.loads.cases[0].items[0].load).N = N;
        const auto a = solve(m);
        const auto code = make_code(m.settings);
        ASSERT_TRUE(a->demand && code);
        const LightestBars found = lightest_bars(m, *code, *a->demand, 8, {}, {}, {});
        ASSERT_FALSE(found.schemes.empty());
        const BarScheme& best = found.schemes.back();
        Exhaustive all(m, *code, *a->demand);
        double kg = 0;
        for (Face f : {Face::bottom, Face::top}) {
            const Direction outer = f == Face::top ? m.steel.outer_top : m.steel.outer_bottom;
            kg += all.least(f, outer, 16);
            kg += all.least(f, across(outer), best.base.base(f, outer).diameter);
        }
        EXPECT_LE(best.kg, 1.02 * kg) << N;
        EXPECT_GE(best.kg, 0.9 * kg) << N;  // it knows several bands; nothing is much lighter
    }
}

TEST(LightestBars, TurnedWithItsModelTheSameSteelIsFound) {
    Model m = heavy_middle();
    const double kg = least_steel(m, 8, nullptr).scheme().kg;
    for (Point& p : std::get<Polygon>(m.slab.outline)) p = turned(p, 30);
    for (Column& c : m.columns) c.at = turned(c.at, 30), c.angle += 30;
    m.steel.angle = 30;
    EXPECT_NEAR(least_steel(m, 8, nullptr).scheme().kg, kg, 0.02 * kg);
}

}  // namespace
}  // namespace mossbed
